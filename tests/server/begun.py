"""A workshop that was begun before: its database made ready once, and copied to wherever a server begins on one."""

import os
import shutil
import subprocess
import sys
import tempfile
from functools import cache
from pathlib import Path

TOP = Path(__file__).parents[2]
DATABASE = "toadbell.sqlite3"


def begun(folder: Path) -> Path:
    """The folder, with an empty workshop's database in it where there was none."""
    if not (folder / DATABASE).exists():
        folder.mkdir(parents=True, exist_ok=True)
        shutil.copyfile(_empty(), folder / DATABASE)
    return folder


@cache
def _empty() -> Path:
    folder = Path(tempfile.mkdtemp(prefix="toadbell-begun-"))
    told = {**os.environ, "TOADBELL_DATA": str(folder)}
    subprocess.run([sys.executable, "manage.py", "migrate", "--verbosity", "0"], cwd=TOP, env=told, check=True)
    return folder / DATABASE

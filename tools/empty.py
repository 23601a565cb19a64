"""Write the database that a workshop begins with, as every migration leaves it: toadbell/records/empty.sql.

    make empty

Made anew when a migration is added; a test holds it against the migrations.
"""

import os
import re
import sqlite3
import subprocess
import sys
import tempfile
from contextlib import closing
from pathlib import Path

TOP = Path(__file__).parents[1]
sys.path.insert(0, str(TOP))
EMPTY = TOP / "toadbell" / "records" / "empty.sql"
_WHEN = re.compile(r"(INSERT INTO \"django_migrations\" .*)'[-0-9]+ [0-9:.]+'\)")


def migrated() -> str:
    """What the migrations make of nothing, as SQL; when each was applied is left out."""
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "manage.py", "migrate", "--verbosity", "0"]
        subprocess.run(command, cwd=TOP, env={**os.environ, "TOADBELL_DATA": folder}, check=True)
        with closing(sqlite3.connect(Path(folder) / "toadbell.sqlite3")) as database:
            return "".join(_WHEN.sub(r"\1CURRENT_TIMESTAMP)", line) + "\n" for line in database.iterdump())


if __name__ == "__main__":
    EMPTY.write_text(migrated(), encoding="utf-8")
    print(f"{EMPTY.relative_to(TOP)}: {EMPTY.stat().st_size / 1000:.0f} kB")

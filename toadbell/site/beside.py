"""The process beside the door: begun with it, begun again where it ends, ended with it."""

import contextlib
import os
import subprocess
import sys
import tempfile
import threading
from collections.abc import Iterator
from pathlib import Path

from django.conf import settings

AGAIN_AFTER = 0.5


@contextlib.contextmanager
def beside() -> Iterator[str]:
    """Run it as long as the block lasts; gives where it listens."""
    folder = Path(
        tempfile.mkdtemp(prefix="toadbell-")
    )  # a socket's path may be a hundred letters long, a data folder's more
    path = folder / "beside"
    ending = threading.Event()
    first = _begin(path)
    keeper = threading.Thread(target=_keep, args=(path, first, ending), daemon=True)
    keeper.start()
    try:
        yield str(path)
    finally:
        ending.set()
        keeper.join(5)
        for found in (path, folder):
            with contextlib.suppress(OSError):
                found.unlink() if found is path else found.rmdir()


def _begin(path: Path) -> subprocess.Popen[bytes]:
    env = {**os.environ, "TOADBELL_BESIDE": "1", "TOADBELL_DATA": str(settings.DATA_DIR), "OPENBLAS_NUM_THREADS": "1"}
    env["TOADBELL_OPEN"] = "1" if settings.OPEN_TO_ALL_HERE else "0"
    env.pop("TOADBELL_BESIDE_AT", None)
    command = [sys.executable, str(settings.BASE_DIR / "manage.py"), "beside", str(path)]
    # a session of its own: Ctrl-C is for the door, which ends it
    return subprocess.Popen(command, env=env, stdin=subprocess.PIPE, start_new_session=True)


def _keep(path: Path, process: subprocess.Popen[bytes], ending: threading.Event) -> None:
    """Begin it again whenever it ends, until told to end."""
    while not ending.wait(AGAIN_AFTER):
        if process.poll() is not None:
            print("Toad Bell's second process ended, and is begun again.", file=sys.stderr)
            process = _begin(path)
    process.terminate()
    try:
        process.wait(3)
    except subprocess.TimeoutExpired:
        process.kill()

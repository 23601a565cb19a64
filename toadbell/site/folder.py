"""The data folder: its owner's alone, with the key that signs sessions in it.

Imported by the settings, so it knows nothing of Django.
"""

import contextlib
import fcntl
import os
import re
import secrets
import shutil
import sys
from pathlib import Path
from typing import IO

SHORTEST = 32
_LEFT_BEHIND = re.compile(r".*\.part|coming-.*|tmp\w{8}(\.upload.*)?")
"""What a job that was killed leaves: halves of files, copies that were being made ready, folders for the while."""


def own(folder: Path) -> Path:
    """The folder, made where it is not there, readable and writable by its owner alone; ends the program in words where
    it cannot be used.
    """
    os.umask(0o077)
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        if folder.stat().st_uid == os.getuid():
            folder.chmod(0o700)
    except OSError as problem:
        raise SystemExit(
            f"The data folder {folder} cannot be used: {problem.strerror}. Choose another: TOADBELL_DATA=…"
        ) from None
    return folder


def secret_key(folder: Path) -> str:
    """The key that signs sessions: made at the first start, and anew where its file was emptied; then whoever came by a
    link comes again.
    """
    path = folder / "secret-key"
    try:
        kept = path.read_text().strip() if path.exists() else ""
        if len(kept) >= SHORTEST:
            return kept
        made = secrets.token_urlsafe(48)
        part = folder / f"secret-key-{os.getpid()}.part"
        part.write_text(made)
        if kept or (path.exists() and not path.stat().st_size):
            part.replace(path)
            return made
        with contextlib.suppress(FileExistsError):
            os.link(part, path)  # whoever of two starts is first has made it
        part.unlink()
        return path.read_text().strip()
    except (OSError, UnicodeDecodeError) as problem:
        why = getattr(problem, "strerror", None) or "it is not text"
        raise SystemExit(
            f"{path} cannot be read or written: {why}. Let its owner read and write the folder, or move that file away."
        ) from None


def make_private(folder: Path) -> None:
    """Whatever lies in the folder is its owner's alone, also what an older Toad Bell wrote for everybody to read."""
    for path in (folder, *folder.rglob("*")):
        try:
            if not path.is_symlink() and path.stat().st_uid == os.getuid():
                path.chmod(0o700 if path.is_dir() else 0o600)
        except OSError as problem:
            print(f"{path} cannot be made private: {problem.strerror}", file=sys.stderr)


def hold(folder: Path) -> IO[str]:
    """Keep the folder for this process alone while it serves, until the file that is given is closed.

    Ends the program where another has it.
    """
    lock = (folder / "in-use").open("w")
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        raise SystemExit(
            f"Toad Bell runs on {folder} already. Use that one, stop it first, or choose another folder: "
            "TOADBELL_DATA=…"
        ) from None
    return lock


def sweep(folder: Path) -> None:
    """Clear away what killed jobs left behind, in the folder and in those of backups and pictures."""
    for path in (*folder.glob("*"), *folder.glob("backups/*"), *folder.glob("attachments/*")):
        if _LEFT_BEHIND.fullmatch(path.name):
            if path.is_dir():
                shutil.rmtree(path, ignore_errors=True)
            else:
                path.unlink(missing_ok=True)

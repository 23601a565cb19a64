"""Long jobs, done beside: each in a process of its own, with how far it is, and a way to stop it.

Nothing waits for them.
"""

import contextlib
import json
import os
import signal
import subprocess
import sys
import tempfile
import threading
import time
import uuid
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Literal

from django.conf import settings
from django.utils import timezone

from toadbell.core.sheets import SheetError
from toadbell.records import backup, package
from toadbell.records.backup import Tell
from toadbell.records.package_import import take_in
from toadbell.shed.errors import NotNow
from toadbell.trials import database_stamp

KEPT_FOR = 6 * 3600.0
"""Files that a job made are kept so many s, then cleared away."""
SAYS_EVERY = 0.2
WHOLE = "A job is done whole or not at all: look whether it was, before you begin it anew."
"""What is said where nobody heard how a job ended: that nothing was changed would be a guess."""
What = Literal["export", "backup", "preview", "import", "restore"]


@dataclass
class Job:
    """A job: how far it is (0 to 1, None where that is not known), what it does now, what came of it, and the file that
    it made.
    """

    what: What
    id: uuid.UUID = field(default_factory=uuid.uuid4)
    state: Literal["running", "done", "failed", "stopped"] = "running"
    part: float | None = None
    says: str = "beginning"
    status: int = 200
    result: dict[str, Any] | None = None
    upload: Path | None = None
    made: Path | None = None
    process: subprocess.Popen[str] | None = None
    stopping: bool = False
    begun: float = field(default_factory=time.monotonic)


_jobs: dict[uuid.UUID, Job] = {}


def begin(what: What, *, upload: Path | None = None, name: str = "") -> Job:
    """Begin a job, and give it. upload  a file that came with it, which goes away with it; name  the backup to put
    back.
    """
    _clear_away()
    job = Job(what, upload=upload)
    if what == "export":
        job.made = settings.DATA_DIR / f"coming-{job.id}.zip"
    _jobs[job.id] = job
    words = [what, str(upload or name or job.made or "")]
    if settings.JOBS_BESIDE:
        command = [sys.executable, str(settings.BASE_DIR / "manage.py"), "job", *words]
        env = {**os.environ, "TOADBELL_DATA": str(settings.DATA_DIR)}
        job.process = subprocess.Popen(
            command, env=env, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
        )
        threading.Thread(target=_follow, args=(job,), daemon=True).start()
    else:
        for line in in_words(words):
            _heard(job, line)
    return job


def find(job_id: uuid.UUID) -> Job:
    """A job; raises NotNow where there is none, or it went away when Toad Bell was started again."""
    if job_id not in _jobs:
        raise NotNow("There is no such job any more: Toad Bell was started again meanwhile. " + WHOLE)
    return _jobs[job_id]


def stop(job: Job) -> None:
    """Stop a job: what it did is taken back. Where it was done before it heard of it, it is done."""
    if job.state == "running" and job.process:
        job.says, job.stopping = "stopping", True
        job.process.send_signal(signal.SIGTERM)


def _follow(job: Job) -> None:
    """Hear what a job says until it ends."""
    assert job.process is not None
    assert job.process.stdout is not None
    for line in job.process.stdout:
        with contextlib.suppress(ValueError, TypeError):
            _heard(job, json.loads(line))
    job.process.wait()
    if job.what == "restore" and job.state == "running":
        database_stamp.another_database()  # it may be in place, and whoever put it there was killed before saying so
    if job.state == "running" and job.stopping:
        job.state, job.says = "stopped", "stopped; nothing was changed"
    elif job.state == "running":
        job.state, job.says, job.status = "failed", "It ended without a word, perhaps for want of memory. " + WHOLE, 500
    if job.upload:
        job.upload.unlink(missing_ok=True)


def _heard(job: Job, line: dict[str, Any]) -> None:
    if job.state != "running":
        return
    if "part" in line:
        job.part, job.says = line["part"], line["says"]
    elif "result" in line:
        job.state, job.part, job.says, job.result = "done", 1.0, "done", line["result"]
    else:
        job.state, job.says, job.status = "failed", line["says"], line["status"]


def _clear_away() -> None:
    for job in list(_jobs.values()):
        if job.state != "running" and time.monotonic() - job.begun > KEPT_FOR:
            if job.made:
                job.made.unlink(missing_ok=True)
            _jobs.pop(job.id, None)


# -- what a job does, in a process of its own ---------------------------------------------


def in_words(words: list[str]) -> list[dict[str, Any]]:
    """Do a job and give all that it says."""
    said: list[dict[str, Any]] = []
    do(words, said.append)
    return said


def do(words: list[str], say: Callable[[dict[str, Any]], object]) -> None:
    """Do a job: its kind and its file or name; says how far it is, and then its result, or why there is none."""
    last = 0.0

    def tell(part: float | None, says: str) -> None:
        nonlocal last
        if says == backup.IN_PLACE and settings.JOBS_BESIDE:
            signal.signal(signal.SIGTERM, signal.SIG_IGN)
        if part is None or time.monotonic() - last >= SAYS_EVERY:
            last = time.monotonic()
            say({"part": part, "says": says})

    try:
        say({"result": _DO[words[0]](words[1], tell)})
    except SheetError as wrong:
        say(
            {"says": wrong.says[:1].upper() + wrong.says[1:] + ("" if wrong.says.endswith(".") else "."), "status": 422}
        )
    except NotNow as wrong:
        say({"says": str(wrong), "status": 409})


def _export(path: str, tell: Tell) -> dict[str, Any]:
    now = timezone.now()
    with Path(path).open("wb") as out:
        package.write(out, None, now, tell)
    return {"name": f"toad-bell-{timezone.localdate(now).isoformat()}.zip"}


def _backup(_: str, tell: Tell) -> dict[str, Any]:
    return {"name": backup.make(tell=tell).name}


def _restore(path: str, tell: Tell) -> dict[str, Any]:
    given = Path(path) if "/" in path else backup.by_name(path)
    return {"before": backup.restore_from(given, tell).name}


def _import(path: str, tell: Tell) -> dict[str, Any]:
    backup.nothing_on_the_bench("taken in")
    with Path(path).open("rb") as file:
        return take_in(file, dry=False, tell=tell).told(kept=True)


def _preview(path: str, tell: Tell) -> dict[str, Any]:
    """On a copy of the database, so that nobody who writes meanwhile waits for it."""
    if not settings.JOBS_BESIDE:
        with Path(path).open("rb") as file:
            return take_in(file, dry=True, tell=tell).told(kept=False)
    with tempfile.TemporaryDirectory(dir=settings.DATA_DIR, prefix="coming-") as folder:
        copy = Path(folder) / backup.DATABASE
        tell(None, "laying a copy beside")
        backup.copy_of_the_database(copy)
        env = {**os.environ, "TOADBELL_DATABASE": str(copy), "TOADBELL_ATTACHMENTS": folder}
        command = [sys.executable, str(settings.BASE_DIR / "manage.py"), "job", "look", path]
        with subprocess.Popen(
            command, env=env, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
        ) as looking:
            assert looking.stdout is not None
            try:
                return _looked(looking.stdout, tell)
            finally:
                looking.kill()


def _looked(lines: Any, tell: Tell) -> dict[str, Any]:
    for line in lines:
        said = json.loads(line)
        if "result" in said:
            return dict(said["result"])
        if "part" not in said:
            raise SheetError(said["says"], "file")
        tell(said["part"], said["says"])
    raise SheetError("it could not be looked at: it ended without a word. Nothing was taken in", "file")


def _look(path: str, tell: Tell) -> dict[str, Any]:
    with Path(path).open("rb") as file:
        return take_in(file, dry=True, tell=tell).told(kept=False)


_DO: dict[str, Callable[[str, Tell], dict[str, Any]]] = {
    "export": _export,
    "backup": _backup,
    "restore": _restore,
    "import": _import,
    "preview": _preview,
    "look": _look,
}

"""Properties are tried without a stop-watch: speeds are measured by `make bench`, on a machine that does nothing else."""

import os
from pathlib import Path
from typing import Any

os.environ["OPENBLAS_NUM_THREADS"] = (
    "1"  # two workers share two cores; set before numpy is loaded, and handed on to every server
)

import hypothesis
import pytest

hypothesis.settings.register_profile("house", deadline=None, derandomize=True)
hypothesis.settings.load_profile("house")


@pytest.fixture(autouse=True)
def _house_of_its_own(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, settings: Any) -> None:
    """Pictures, papers and backups of a test lie in a folder of its own; a call in this process is the owner's; jobs are done in it."""
    settings.OPEN_TO_ALL_HERE, settings.JOBS_BESIDE = True, False
    from toadbell.records import backup
    from toadbell.records.models import Attachment

    monkeypatch.setattr(Attachment, "FOLDER", tmp_path / "attachments")
    monkeypatch.setattr(backup, "FOLDER", tmp_path / "backups")

"""Properties are tried without a stop-watch: speeds are measured by `make bench`, on a machine that does nothing else."""

from pathlib import Path

import pytest
from hypothesis import settings

settings.register_profile("house", deadline=None, derandomize=True)
settings.load_profile("house")


@pytest.fixture(autouse=True)
def _files_of_its_own(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Pictures, papers and backups of a test lie in a folder of its own."""
    from toadbell.records import backup
    from toadbell.records.models import Attachment

    monkeypatch.setattr(Attachment, "FOLDER", tmp_path / "attachments")
    monkeypatch.setattr(backup, "FOLDER", tmp_path / "backups")

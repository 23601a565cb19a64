"""Properties are tried without a stop-watch: speeds are measured by `make bench`, on a machine that does nothing
else.
"""

import os
from pathlib import Path
from typing import Any

os.environ["OPENBLAS_NUM_THREADS"] = (
    "1"  # two workers share two cores; set before numpy is loaded, and handed on to every server
)

import hypothesis
import pytest
from _pytest.nodeid import coerce_node_id

hypothesis.settings.register_profile("house", deadline=None, derandomize=True)
hypothesis.settings.load_profile("house")


@pytest.fixture(autouse=True)
def _house_of_its_own(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, settings: Any) -> None:
    """Pictures, papers and backups of a test lie in a folder of its own; a call in this process is the owner's; jobs
    are done in it.
    """
    settings.OPEN_TO_ALL_HERE, settings.JOBS_BESIDE = True, False
    from toadbell.records import backup
    from toadbell.records.models import Attachment

    monkeypatch.setattr(Attachment, "FOLDER", tmp_path / "attachments")
    monkeypatch.setattr(backup, "FOLDER", tmp_path / "backups")


@pytest.fixture(scope="session")
def django_db_modify_db_settings(django_db_modify_db_settings: None) -> None:
    """The database of the tests begins as a new workshop's does, with nothing left to migrate."""
    from django.db import connection

    from toadbell.records.database import begin

    make = connection.creation._create_test_db

    def made(*how: Any, **more: Any) -> str:
        path = make(*how, **more)
        begin(Path(path))
        return path

    connection.creation._create_test_db = made


@pytest.hookimpl(trylast=True)
def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Tests of one group go to one worker.

    The plugin writes the group where this pytest (9.2) no longer looks for it, so it is said here.
    """
    if not getattr(config.option, "loadgroup", False):
        return
    for item in items:
        groups = [str(mark.args[0]) for mark in item.iter_markers("xdist_group")]
        if groups and "@" not in item.nodeid.rpartition("]")[2]:
            item._id = coerce_node_id(f"{item.nodeid}@{groups[0]}")

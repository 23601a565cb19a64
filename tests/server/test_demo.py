"""The demo workshop: loaded from open-format files, twice without doubling anything."""

import json
from pathlib import Path

import pytest
from django.conf import settings

from tests.server.conftest import Workshop
from toadbell.core.plan.derive import derive
from toadbell.core.sheets import read_vessel_sheet
from toadbell.records import demo
from toadbell.shed.models import Kit, Maker, Vessel
from toadbell.trials.models import Decision, Event, Reading, Trial, Verdict

FOLDER = settings.BASE_DIR / "demo"
TABLES = (Vessel, Kit, Trial, Reading, Event, Verdict, Decision, Maker)


def test_loading_twice_doubles_nothing(workshop: Workshop) -> None:
    assert demo.load(FOLDER) == 10
    before = [table.objects.count() for table in TABLES]
    assert demo.load(FOLDER) == 0
    assert [table.objects.count() for table in TABLES] == before


def test_a_vessel_of_ones_own_stays_when_the_demo_is_loaded(workshop: Workshop) -> None:
    own = workshop.vessel("My own")
    demo.load(FOLDER)
    assert workshop.get(f"/vessels/{own['id']}")["name"] == "My own"


def test_the_receivers_story_is_there(workshop: Workshop) -> None:
    demo.load(FOLDER)
    first, second, third = Trial.objects.filter(vessel__name="Wharf receiver").order_by("number")
    assert first.decision.fitness == "not proven"
    assert "Drain bush" in first.decision.reason
    assert second.verdict.answer["verdict"] == "tight"
    explained = second.verdict.answer["drop_from_temperature"]
    assert explained > 0.6 * second.verdict.answer["drop"]
    assert second.decision.fitness == "fit"
    assert second.decision.less_cautious is False
    assert third.state == "planned"


def test_the_shelf_and_every_record_can_be_opened(workshop: Workshop) -> None:
    demo.load(FOLDER)
    assert len(workshop.get("/vessels")) == 10
    assert len(workshop.get("/kit")) == 15
    for row in workshop.get("/trials"):
        workshop.get(f"/trials/{row['id']}/plan")
        if row["started_at"]:
            workshop.get(f"/records/{row['id']}")


def test_a_vessel_past_its_year_is_stopped(workshop: Workshop) -> None:
    demo.load(FOLDER)
    bottle = next(v for v in workshop.get("/vessels") if v["name"] == "Paint-shop bottle")
    assert "past-retirement" in [stop["code"] for stop in bottle["answer"]["stops"]]


@pytest.mark.parametrize("path", sorted(FOLDER.glob("*/vessel.json")), ids=lambda p: p.parent.name)
def test_each_file_is_a_sheet_that_derives(path: Path) -> None:
    sheet = json.loads(path.read_text())["sheet"]
    assert derive(read_vessel_sheet(sheet)).test_pressure > 0
    for trial in path.parent.glob("trial-*.json"):
        plan = {**sheet, **json.loads(trial.read_text())["plan"]}
        assert derive(read_vessel_sheet(plan)).volume

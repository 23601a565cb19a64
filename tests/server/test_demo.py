"""The demo workshop: loaded from open-format files, twice without doubling anything."""

import io
import json
from pathlib import Path

import pytest
from django.conf import settings
from pypdf import PdfReader

from tests.server.conftest import Workshop
from tests.wharf import hang_up_the_wharf
from toadbell.core.derive import derive
from toadbell.core.sheets import read_vessel_sheet
from toadbell.records import demo
from toadbell.records.models import Attachment
from toadbell.shed.models import Kit, Maker, Vessel
from toadbell.trials.models import Decision, Event, Reading, Trial, Verdict

FOLDER = settings.BASE_DIR / "demo"
TABLES = (Vessel, Kit, Trial, Reading, Event, Verdict, Decision, Maker, Attachment)


def test_loading_twice_doubles_nothing_and_a_vessel_of_ones_own_stays(workshop: Workshop) -> None:
    own = workshop.vessel("My own")
    assert demo.load(FOLDER) == 17
    before = [table.objects.count() for table in TABLES]
    assert demo.load(FOLDER) == 0
    assert [table.objects.count() for table in TABLES] == before
    assert workshop.get(f"/vessels/{own['id']}")["name"] == "My own"


@pytest.fixture
def wharf(workshop: Workshop) -> Workshop:
    """The demo workshop."""
    hang_up_the_wharf()
    return workshop


def test_the_receivers_story_is_there(wharf: Workshop) -> None:
    old, second, third, fourth = Trial.objects.filter(vessel__name="Wharf receiver").order_by("number")
    assert (old.decision.fitness, old.started_at.year) == ("fit", 2023)
    assert second.decision.fitness == "not proven"
    assert "Drain bush" in second.decision.reason
    assert third.verdict.answer["verdict"] == "tight"
    explained = third.verdict.answer["drop_from_temperature"]
    assert explained > 0.6 * third.verdict.answer["drop"]
    assert (third.decision.fitness, third.decision.less_cautious) == ("limited", False)
    ledger = wharf.get(f"/vessels/{third.vessel_id}/ledger")
    assert (ledger["answer"], "done since" in ledger["why"]) == ("fit", True)  # its valve was tried again
    assert fourth.state == "planned"


def test_every_vessel_but_the_new_boiler_has_its_history_and_ends_as_its_story_says(wharf: Workshop) -> None:
    shown = {row["vessel"]: row["decision"]["fitness"] for row in wharf.get("/trials") if row["stands"]}
    assert shown == {
        "Wharf receiver": "limited",
        "Coot's pot boiler": "limited",
        "Perry tank": "fit",
        "Paint-shop bottle": "fit",
        "Cider keg": "not proven",
        "Skylark": "not fit",
        "Orchard digester": "not fit",
        "Lamp-oil tank": "tight",
        "Glasshouse loop": "fit",
        "Vinegar cask": "tight",
        "Launch cooler": "tight",
        "Heron lamp": "tight",
        "Ginger keg": "tight",
        "Moorhen bottle": "limited",
        "Sluice joint": "fit",
        "Plover article": "not fit",
    }
    leaks = [event.data["where"] for event in Event.objects.filter(kind="leak")]
    assert len(leaks) == 9
    pictured = set(Attachment.objects.filter(event__kind="leak").values_list("event__data__where", flat=True))
    assert len(pictured) == 6
    assert all(attachment.path.exists() for attachment in Attachment.objects.all())


def test_the_shelf_and_every_record_can_be_opened(wharf: Workshop) -> None:
    assert len(wharf.get("/vessels")) == 17
    assert len(wharf.get("/kit")) == 17
    for row in wharf.get("/trials"):
        wharf.get(f"/trials/{row['id']}/plan")
        if row["started_at"]:
            assert wharf.get(f"/records/{row['id']}")["readings"] > 5
            assert (
                len(PdfReader(io.BytesIO(wharf.client.get(f"/api/records/{row['id']}/report.pdf").content)).pages) == 2
            )


def test_what_is_due_is_what_the_stories_left_open(wharf: Workshop) -> None:
    items = wharf.get("/due")["items"]
    assert [(one["vessel"], one["what"]) for one in items if one["overdue"]] == [
        ("Paint-shop bottle", "out of service")
    ]
    perry = next(one for one in items if one["vessel"] == "Perry tank" and one["what"] == "proof")
    assert 15 <= perry["days"] <= 25
    assert ("Perry tank", "relief valve") in [(one["vessel"], one["what"]) for one in items if one["on"] is None]


def test_a_vessel_past_its_year_is_stopped(wharf: Workshop) -> None:
    listed = next(v for v in wharf.get("/vessels") if v["name"] == "Paint-shop bottle")
    bottle = wharf.get(f"/vessels/{listed['id']}")
    assert "past-retirement" in [stop["code"] for stop in bottle["answer"]["stops"]]


@pytest.mark.parametrize("path", sorted(FOLDER.glob("*/vessel.json")), ids=lambda p: p.parent.name)
def test_each_file_is_a_sheet_that_derives(path: Path) -> None:
    sheet = json.loads(path.read_text())["sheet"]
    assert derive(read_vessel_sheet(sheet)).test_pressure > 0
    for trial in path.parent.glob("trial-*.json"):
        plan = {**sheet, **json.loads(trial.read_text())["plan"]}
        assert derive(read_vessel_sheet(plan)).volume

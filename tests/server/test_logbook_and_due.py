"""The logbook found again by what is remembered of it, two trials held against each other, and what is due, in a
calendar too.
"""

import datetime
import uuid
from typing import Any

import icalendar
import pytest
from django.test import Client
from django.utils import timezone

from tests.once import once
from tests.server.conftest import VESSEL, Workshop, held, run, running
from toadbell.records import due, kept_answers
from toadbell.records.models import CalendarLink
from toadbell.shed.models import Care
from toadbell.trials.models import Event, Trial


def decided(
    workshop: Workshop, trial: str, fitness: str = "fit", pressure: str | None = "8.5 bar", reason: str = ""
) -> str:
    workshop.post(f"/trials/{trial}/judge")
    workshop.post(f"/trials/{trial}/decision", {"fitness": fitness, "pressure": pressure, "reason": reason})
    return trial


def _shelf(workshop: Workshop) -> None:
    first = decided(workshop, held(workshop), reason="Dry all round")
    Trial.objects.filter(pk=first).update(started_at=datetime.datetime(2024, 3, 1, 10, tzinfo=datetime.UTC))
    vessel = workshop.get(f"/trials/{first}/judge")["vessel_id"]
    workshop.put(f"/vessels/{vessel}", {"name": "Wharf tank", "sheet": VESSEL, "notes": "By the slipway", "version": 1})
    dumped = running(workshop)
    workshop.step(dumped, "leak", owner="boundary", where="LOWER séam, by the foot", shows="weep")
    workshop.step(dumped, "note", text="Maren heard it hiss")
    workshop.step(dumped, "dumped")
    workshop.ready()


@pytest.fixture
def shelf(workshop: Workshop) -> Workshop:
    """A fit receiver of this year, a dumped run of it, and one that is judged only."""
    once("shelf", lambda: _shelf(workshop))
    return workshop


@pytest.mark.parametrize(
    ("sought", "wanted"),
    [
        ({}, ["Tank", "Wharf tank"]),
        ({"year": 2024}, ["Wharf tank"]),
        ({"kind": "receiver"}, ["Tank", "Wharf tank"]),
        ({"kind": "boiler"}, []),
        ({"tag": "fit"}, ["Wharf tank"]),
        ({"tag": "undecided"}, ["Tank"]),
        ({"text": "lower SÉAM"}, ["Tank"]),
        ({"text": "slipway"}, ["Wharf tank"]),
        ({"text": "hiss maren"}, ["Tank"]),
        ({"text": "hiss slipway"}, []),
        ({"text": "dry", "tag": "fit", "year": 2024}, ["Wharf tank"]),
    ],
)
def test_a_trial_is_found_by_what_is_remembered_of_it(
    shelf: Workshop, sought: dict[str, Any], wanted: list[str]
) -> None:
    found = shelf.client.get("/api/logbook", sought).json()
    assert [row["trial"]["vessel"] for row in found["rows"]] == wanted
    assert found["in_all"] == 2


def test_the_line_that_holds_the_words_is_shown_and_the_choices_are_counted(shelf: Workshop) -> None:
    found = shelf.client.get("/api/logbook", {"text": "hiss"}).json()
    assert found["rows"][0]["line"] == "Maren heard it hiss"
    assert {one["name"]: one["count"] for one in found["tags"]} == {"fit": 1, "undecided": 1}
    assert [one["name"] for one in found["years"]] == [str(timezone.now().year), "2024"]
    vessel = next(one["id"] for one in found["vessels"] if one["name"] == "Tank")
    assert [row["trial"]["vessel"] for row in shelf.client.get("/api/logbook", {"vessel": vessel}).json()["rows"]] == [
        "Tank"
    ]


# -- two trials --------------------------------------------------------------------------------


def second_trial(workshop: Workshop, first: str, drop: float, wall: str) -> str:
    """Another hold of the same vessel, with another wall reading since."""
    vessel = workshop.get(f"/vessels/{workshop.get(f'/trials/{first}/judge')['vessel_id']}")
    shell = {
        **VESSEL["shell"],
        "wall_readings": [
            {"wall": "3.0 mm", "along": "400 mm", "date": "2020-01-01"},
            {"wall": wall, "along": "400 mm", "date": "2026-01-01"},
        ],
    }
    workshop.put(
        f"/vessels/{vessel['id']}",
        {"name": vessel["name"], "sheet": {**VESSEL, "shell": shell}, "version": vessel["version"]},
    )
    plan = workshop.post(f"/vessels/{vessel['id']}/trials")
    workshop.post(f"/trials/{plan['id']}/freeze")
    trial = run(workshop, plan["id"], drop)
    workshop.post(f"/trials/{trial}/judge")
    return trial


def test_a_leak_that_grew_and_a_wall_that_thinned_are_getting_worse(workshop: Workshop) -> None:
    shell = {**VESSEL["shell"], "wall_readings": [{"wall": "3.0 mm", "along": "400 mm", "date": "2020-01-01"}]}
    first = decided(workshop, held(workshop, drop=0.02, shell=shell))
    other = second_trial(workshop, first, drop=1.2, wall="2.6 mm")
    for pair in ((first, other), (other, first)):  # whichever way round they are named
        told = workshop.client.get("/api/compare", {"one": pair[0], "other": pair[1]}).json()
        assert (told["before"]["number"], told["after"]["number"]) == (1, 2)
        assert told["trend"]["went"] == "worse"
        went = {change["what"]: change["went"] for change in told["trend"]["changes"]}
        assert (went["leak"], went["wall"]) == ("worse", "worse")
        assert [wall["wall"] for wall in told["after"]["walls"]] == [pytest.approx(2.6e-3)]
        assert told["laid"]["number"] == 1
        assert len(told["laid"]["times"]) == len(told["laid"]["drops"]) > 5


def test_a_trial_is_not_held_against_itself_or_another_vessels(workshop: Workshop) -> None:
    one, other = running(workshop), running(workshop)
    for pair in ((one, one), (one, other)):
        answer = workshop.client.get("/api/compare", {"one": pair[0], "other": pair[1]})
        assert (answer.status_code, "one vessel" in answer.json()["says"]) == (409, True)
    assert workshop.client.get("/api/compare", {"one": one, "other": str(uuid.uuid4())}).status_code == 404


# -- due --------------------------------------------------------------------------------


def whats_due(workshop: Workshop) -> dict[str, Any]:
    return {one["what"]: one for one in workshop.get("/due")["items"]}


def test_dates_come_from_the_decision_and_a_care_done_moves_the_next(workshop: Workshop) -> None:
    decided(workshop, held(workshop))
    found, today = whats_due(workshop), timezone.localdate()
    assert set(found) == {"look inside", "relief valve", "proof"}
    assert [one["what"] for one in found.values() if one["by_hand"]] == ["look inside"]
    day = timezone.localdate(Event.objects.get(kind="hold-ended").at)  # the run is ahead of the wall by its hold
    assert found["proof"]["on"] == day.replace(year=day.year + 3).isoformat()
    vessel = found["proof"]["vessel_id"]
    Care.objects.filter(what="look inside").update(on=today - datetime.timedelta(days=400))
    due.forget()
    kept_answers.forget()
    assert whats_due(workshop)["look inside"]["overdue"] is True
    (row,) = workshop.get("/shed")["rows"]
    assert row["stands"]["tag"]["fitness"] == "limited"
    assert "Looked inside: lapsed" in row["stands"]["tag"]["says"]
    workshop.post(
        f"/vessels/{vessel}/cares", {"what": "look inside", "on": today.isoformat(), "text": "a skin of rust"}
    )
    moved = whats_due(workshop)["look inside"]
    assert (moved["overdue"], moved["done"], moved["on"]) == (
        False,
        today.isoformat(),
        today.replace(year=today.year + 1).isoformat(),
    )


def test_a_proof_is_not_ticked_off_by_hand_nor_a_day_to_come(workshop: Workshop) -> None:
    vessel, tomorrow = workshop.vessel()["id"], timezone.localdate() + datetime.timedelta(days=1)
    assert (
        "done by a trial"
        in workshop.post(f"/vessels/{vessel}/cares", {"what": "proof", "on": "2026-01-01"}, 409)["says"]
    )
    assert (
        "to come"
        in workshop.post(f"/vessels/{vessel}/cares", {"what": "look inside", "on": tomorrow.isoformat()}, 409)["says"]
    )


def test_what_may_not_be_used_has_no_dates_and_a_year_gone_by_is_overdue(workshop: Workshop) -> None:
    decided(workshop, held(workshop), "not fit", None, "Hung it on the wall")
    workshop.vessel("Old bottle", retire=2020)
    items = workshop.get("/due")["items"]
    assert [(one["vessel"], one["what"], one["overdue"]) for one in items] == [("Old bottle", "out of service", True)]


def test_a_wall_that_wears_has_its_day(workshop: Workshop) -> None:
    readings = [
        {"wall": "3.0 mm", "along": "400 mm", "date": "2020-01-01"},
        {"wall": "2.6 mm", "along": "400 mm", "date": "2026-01-01"},
    ]
    workshop.vessel(shell={**VESSEL["shell"], "wall_readings": readings})
    (one,) = workshop.get("/due")["items"]
    assert one["what"] == "wall at its least"
    assert "2026" < one["on"][:4] < "2045"


def test_the_calendar_holds_each_date_once_with_a_reminder(workshop: Workshop) -> None:
    decided(workshop, held(workshop))
    found = icalendar.Calendar.from_ical(workshop.client.get("/api/due.ics").content)
    entries = found.walk("VEVENT")
    assert {str(entry["SUMMARY"]) for entry in entries} == {
        f"Tank: {what}" for what in ("look inside", "relief valve", "proof")
    }
    assert {entry["DTSTART"].dt.isoformat() for entry in entries} == {
        one["on"] for one in workshop.get("/due")["items"]
    }
    assert len({entry["UID"] for entry in entries}) == 3
    assert all(entry.walk("VALARM")[0]["TRIGGER"].dt == datetime.timedelta(days=-14) for entry in entries)
    assert workshop.client.get("/api/due.ics").content == workshop.client.get("/api/due.ics").content


def test_a_calendar_subscribes_with_the_secret_alone_and_a_new_one_ends_the_old(workshop: Workshop) -> None:
    decided(workshop, held(workshop))
    address = workshop.get("/due")["calendar"]
    path = address.removeprefix("http://testserver")
    stranger = Client(REMOTE_ADDR="192.0.2.7")
    answer = stranger.get(path)
    assert (answer.status_code, b"Tank: proof" in answer.content) == (200, True)
    assert "Set-Cookie" not in answer.headers
    assert stranger.get("/api/calendar/guessed.ics").status_code == 404
    assert workshop.post("/calendar")["calendar"] != address
    assert stranger.get(path).status_code == 404
    assert CalendarLink.objects.count() == 1

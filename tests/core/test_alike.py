"""How alike a hold is to its baseline: what differs is named, what nobody said is never taken for alike."""

import dataclasses
import datetime

import pytest

from tests.core.sheets import codes
from toadbell.core.judge.alike import Conditions, alike
from toadbell.core.procedures import PROCEDURES
from toadbell.core.sheets import SheetError, read_kit, read_vessel_sheet
from toadbell.core.sheets.kit import Baseline

NIGHT = {
    "trial": "0b3c",
    "on": "2026-05-04",
    "hour": 20.75,
    "rig": "Blue hose rig",
    "place": "Glasshouse",
    "known_tight": "blanked and soaped",
    "medium": "water",
    "pressure": "3 bar",
    "volume": "9.9 L",
    "step": "0.02 bar",
    "coldest": "13 degC",
    "warmest": "14 degC",
    "hold": "90 min",
    "leak": "0.02 mL/h",
    "leak_most": "0.05 mL/h",
}
NOW = Conditions(
    medium="water",
    pressure=3e5,
    volume=9.9e-3,
    rig="blue hose rig",
    place="Glasshouse",
    gauge=2e3,
    temperature=286.65,
    hour=21.0,
    on=datetime.date(2026, 6, 1),
)


def night(**changes: object) -> Baseline:
    read = read_kit("baseline", {**NIGHT, **changes})
    assert isinstance(read, Baseline)
    return read


def test_the_same_rig_and_place_at_the_same_hour_are_alike() -> None:
    told = alike(night(), NOW)
    assert told.fits
    assert all(one.state == "met" for one in told.checks)
    assert "may be held against it" in told.says


@pytest.mark.parametrize(
    ("what", "changes"),
    [
        ("rig", {"rig": "Red hose rig"}),
        ("place", {"place": "Yard"}),
        ("medium", {"medium": "air"}),
        ("pressure", {"pressure": 4.5e5}),
        ("volume", {"volume": 97e-3}),
        ("gauge", {"gauge": 1e4}),
        ("warmth", {"temperature": 296.0}),
        ("hour", {"hour": 13.0}),
        ("age", {"on": datetime.date(2027, 8, 1)}),
    ],
)
def test_what_differs_is_named(what: str, changes: dict) -> None:
    told = alike(night(), dataclasses.replace(NOW, **changes))
    assert not told.fits
    assert [one.code for one in told.checks if one.state == "not met"] == [what]
    assert str(next(one.name for one in told.checks if one.code == what)).lower() in told.says


def test_the_hours_meet_over_midnight() -> None:
    told = alike(night(hour=23.5), dataclasses.replace(NOW, hour=1.0))
    assert next(one.state for one in told.checks if one.code == "hour") == "met"


def test_what_nobody_said_is_not_known_and_never_alike() -> None:
    told = alike(night(rig=None, coldest=None), dataclasses.replace(NOW, place=None, hour=None))
    assert {one.code for one in told.checks if one.state == "not known"} == {"rig", "place", "warmth", "hour"}
    assert "Not known of both" in told.says
    assert not told.fits


@pytest.mark.parametrize(
    ("changes", "field"), [({"leak": "-1 mL/h"}, "leak"), ({"hour": 30}, "hour"), ({"pressure": "3"}, "pressure")]
)
def test_a_baseline_that_cannot_be_is_refused(changes: dict, field: str) -> None:
    with pytest.raises(SheetError) as refused:
        night(**changes)
    assert refused.value.field == field


def test_a_baseline_is_planned_only_of_a_rig_that_is_known_to_be_tight() -> None:
    sheet = {"kind": "pipework", "working_pressure": "3 bar", "volume": "9.9 L", "procedure": "baseline"}
    unknown = PROCEDURES["baseline"].plan(read_vessel_sheet(sheet))
    assert "baseline-unknown" in codes(unknown.stops)
    told = PROCEDURES["baseline"].plan(read_vessel_sheet({**sheet, "known_tight": "soaped", "tight_at": "2 bar"}))
    assert "baseline-unknown" not in codes(told.stops)
    assert told.test_pressure == 2e5

"""A kind's own defaults pass its own rules: nobody is stopped by what was offered."""

from typing import Any

import pytest

from tests.core.sheets import codes
from toadbell.core.derive import derive
from toadbell.core.sheets import read_vessel_sheet
from toadbell.core.vessel.parts import THIN_SHEET

CASK = {"kind": "cask", "cask": {"bilge": "690 mm", "head": "580 mm", "length": "880 mm"}}
TANK = {"kind": "sheet-tank", "box": {"length": "600 mm", "width": "400 mm", "height": "300 mm"}}


def planned(**sheet: Any) -> Any:
    """A plan with a gauge that suits it."""
    first = derive(read_vessel_sheet(sheet))
    gauge = {"range": f"{2 * first.gauge_target} Pa", "resolution": "10 Pa", "class": 1.0}
    return derive(read_vessel_sheet({**sheet, "gauge": gauge}))


@pytest.mark.parametrize(
    "sheet",
    [
        {**CASK, "working_pressure": "0.5 bar"},
        {**TANK, "working_pressure": "0.15 bar"},
        {"kind": "cooler", "working_pressure": "1.5 bar", "volume": "12 L"},
        {"kind": "enclosure", "working_pressure": "10 mbar", "volume": "30 L"},
        {"kind": "digester", "working_pressure": "30 mbar", "volume": "1000 L", "procedure": "gas-head"},
        {
            "kind": "receiver",
            "working_pressure": "8.5 bar",
            "relief_set": "8.5 bar",
            "volume": "97 L",
            "procedure": "relief",
            "medium": "air",
            "relief_pot": "1 L",
        },
    ],
    ids=lambda sheet: f"{sheet['kind']} {sheet.get('procedure', '')}",
)
def test_a_kind_at_its_own_default_pressure_is_not_stopped(sheet: dict[str, Any]) -> None:
    assert planned(**sheet).stops == []


def test_a_large_cask_is_tried_at_what_its_air_may_store() -> None:
    """297 L at 0.25 bar would store 5.7 kJ; at 0.19 bar the atmosphere takes back all but P² V / 2 P_atm = 0.53 kJ."""
    found = planned(**CASK, working_pressure="0.5 bar")
    assert 1.8e4 <= found.test_pressure < 2e4


def test_a_tank_of_unknown_wall_is_planned_and_stopped_as_one_of_thin_sheet() -> None:
    thin = {**TANK["box"], "wall": f"{THIN_SHEET} m", "material": "carbon-steel"}
    unknown = planned(**TANK, working_pressure="0.15 bar")
    known = planned(**{**TANK, "box": thin}, working_pressure="0.15 bar")
    assert unknown.test_pressure == pytest.approx(known.test_pressure)
    over = {"working_pressure": "0.15 bar", "tight_at": "0.1 bar"}
    assert "flat-sides" in codes(planned(**TANK, **over).stops)
    assert "above-ceiling" in codes(planned(**{**TANK, "box": thin}, **over).stops)


def test_a_receivers_relief_under_its_own_air_is_offered_the_small_pot() -> None:
    sheet = {"kind": "receiver", "working_pressure": "8.5 bar", "relief_set": "8.5 bar", "volume": "97 L"}
    found = planned(**sheet, procedure="relief", medium="air")
    stop = next(one for one in found.stops if one.code == "air-energy")
    assert "small pot: 1 L stores 1120 J" in stop.says  # 109 kJ of 97 L, by its volume

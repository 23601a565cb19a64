"""A reader with a calculator who puts in the numbers printed on a line gets the value printed beside it."""

import pytest

from tests.core.recompute import recompute
from tests.core.sheets import derived, shell
from tests.core.test_bases import FULL

STATED = {
    "wall.least",
    "vent.height",
    "vent.air",
    "openings.outlet.height",
    "openings.drain.height",
    "volume",
    "height",
    "offer",
    "water.inside_area",
    "water.empty_mass",
    "water.drain_time",
    "hold.smallest_leak",
    "hold.low.smallest_leak",
    "hold.needed",
    "energy.steam_at_working",
    "working_temperature",
    "warming_to_ceiling",
}
"""Integrals, geometry and searches: their own tests work them out by a second method."""

VESSELS = {
    "everything said": FULL,
    "flat end": {"ends": [{"form": "flat", "wall": "12 mm"}] * 2},
    "stayed, with tubes": {
        "kind": "boiler",
        "ends": [{"form": "stayed", "wall": "4 mm", "pitch": "40 mm", "stay_diameter": "6 mm"}] * 2,
        "tubes": [{"count": 7, "outside_diameter": "19 mm", "wall": "1.2 mm"}],
    },
    "torispherical": {"ends": [{"form": "torispherical", "wall": "4 mm", "crown": "366 mm", "knuckle": "37 mm"}] * 2},
    "thick": {"kind": "chamber", "shell": shell(inside_diameter="54 mm", wall="6 mm"), "ends": None},
    "sphere": {"shell": shell(form="sphere"), "ends": None},
    "hot": {
        "kind": "pipework",
        "basis": "piping-150",
        "design_temperature": "150 degC",
        "shell": shell(material="copper"),
    },
    "openings and wear": {
        "made": 2010,
        "shell": shell(wall_readings=["2.9 mm"]),
        "fittings": [
            {"name": "outlet", "for_test": "vent", "place": {"on": "end 1", "out": "100 mm"}},
            {"name": "drain", "for_test": "gauge", "place": {"on": "shell", "along": "400 mm", "round": "180 deg"}},
        ],
    },
    "gauge above the top": {"gauge": {"range": "25 bar", "height_above_top": "1.2 m"}},
    "in psi": {"working_pressure": "120 psi", "water_temperature": "60 degF"},
    "under air": {"medium": "air", "basis": "tight"},
    "proved before": {"proven_before": "9 bar"},
}


@pytest.mark.parametrize("vessel", VESSELS)
def test_every_line_recomputes_to_its_value(vessel: str) -> None:
    answer = derived(**VESSELS[vessel])
    sums = [
        line for line in answer.lines if line.figure not in STATED and "from outside" not in line.figure
    ]  # a curve, not a sum
    assert len(sums) > 10
    for line in sums:
        again = recompute(line)
        assert again is not None, f"{line.figure} is neither a sum nor listed as stated: {line.numbers}"
        assert again == pytest.approx(line.value, rel=5e-3), f"{line.figure}: {line.formula}, {line.numbers}"

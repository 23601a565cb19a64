"""What a drawing is given: an outline, openings, levels, for every shape; and the vessel turned."""

import math
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.sheets import derived, receiver, shell
from toadbell.core.sheets import read_vessel_sheet
from toadbell.core.vessel.drawing import Drawing, drawing_of

BARE = {"shell": None, "ends": None, "gauge": None, "trapped_air": None}


def drawn(**changes: Any) -> Drawing:
    return drawing_of(read_vessel_sheet(receiver(**changes)))


@pytest.mark.parametrize(
    ("changes", "form", "tall", "wide"),
    [
        ({}, "cylinder", 0.366, 0.183),
        ({"position": "standing"}, "cylinder", 0.8 + 0.183, 0.183),
        ({"shell": shell(form="sphere", length=None), "ends": None}, "sphere", 0.366, 0.183),
        ({**BARE, "box": {"diameter": "570 mm", "height": "820 mm"}}, "drum", 0.82, 0.285),
        ({**BARE, "box": {"length": "1 m", "width": "0.5 m", "height": "0.4 m"}}, "box", 0.4, 0.5),
        ({**BARE, "cask": {"bilge": "320 mm", "head": "270 mm", "length": "400 mm"}}, "cask", 0.32, 0.16),
        ({"shell": shell(inside_diameter="20 mm", length="31 m", wall="1 mm"), "ends": None}, "loop", 0.02, 0.01),
    ],
)
def test_each_shape_is_drawn_as_tall_and_wide_as_it_is(changes: dict, form: str, tall: float, wide: float) -> None:
    drawing = drawn(**changes)
    assert drawing.form == form
    assert drawing.tall == pytest.approx(tall, rel=1e-3)
    assert max(point.r for point in drawing.outline) == pytest.approx(wide, rel=1e-3)


def test_a_shape_that_is_not_known_is_not_made_up() -> None:
    drawing = drawn(**BARE, volume="24 L")
    assert (drawing.form, drawing.outline, drawing.openings, drawing.filling) == ("unknown", [], [], [])


@pytest.mark.parametrize("form", ["ellipsoidal", "torispherical", "hemispherical", "flat"])
def test_the_outline_runs_from_pole_to_pole_and_holds_the_volume(form: str) -> None:
    drawing = drawn(ends=[{"form": form}] * 2)
    xs = [point.x for point in drawing.outline]
    assert xs == sorted(xs)
    depth = drawing.ends[0].depth
    assert (xs[0], xs[-1]) == pytest.approx((-depth, 0.8 + depth))
    slices = zip(drawing.outline, drawing.outline[1:], strict=False)
    frustums = sum(math.pi * (b.x - a.x) * (a.r**2 + a.r * b.r + b.r**2) / 3 for a, b in slices)
    assert frustums == pytest.approx(derived(ends=[{"form": form}] * 2).volume, rel=0.01)


def test_tubes_and_their_number_are_drawn_through_the_shell() -> None:
    (tubes,) = drawn(tubes=[{"count": 19, "outside_diameter": "12.7 mm", "wall": "1.2 mm"}]).tubes
    assert (tubes.count, tubes.diameter, tubes.length) == (19, pytest.approx(0.0127), pytest.approx(0.8))


def test_filling_it_the_water_rises_and_ends_at_the_volume() -> None:
    filling = drawn(tilt="12 deg").filling
    volumes = [point.volume for point in filling]
    assert volumes == sorted(volumes)
    assert volumes[0] == pytest.approx(0, abs=1e-5)
    assert volumes[-1] == pytest.approx(derived().volume, rel=1e-3)


def test_rolled_over_an_opening_comes_to_the_other_side() -> None:
    top = {"name": "bung", "place": {"along": "300 mm"}}
    upright, turned = drawn(fittings=[top]).openings[0], drawn(fittings=[top], roll="180 deg").openings[0]
    assert (upright.v, turned.v) == (pytest.approx(0.183), pytest.approx(-0.183))
    assert (upright.dv, turned.dv) == (1, -1)
    assert drawn(fittings=[top], roll="90 deg").openings[0].facing == pytest.approx(1)


@settings(max_examples=40)
@given(st.floats(-89, 89), st.floats(-180, 180))
def test_turning_a_vessel_changes_neither_what_it_holds_nor_where_its_openings_are_on_it(
    tilt: float, roll: float
) -> None:
    place = [{"name": "port", "place": {"on": "end 2", "out": "100 mm"}}]
    turned = drawn(fittings=place, tilt=f"{tilt} deg", roll=f"{roll} deg")
    level = drawn(fittings=place)
    assert turned.filling[-1].volume == pytest.approx(level.filling[-1].volume, rel=1e-6)
    assert turned.openings[0].x == level.openings[0].x
    assert turned.outline == level.outline


@settings(max_examples=40, deadline=None)
@given(st.sampled_from(["shell", "end 1", "end 2"]), st.floats(0, 800), st.floats(0, 180), st.floats(0, 360))
def test_a_turn_that_is_offered_always_leaves_less_air(on: str, along: float, out: float, degrees: float) -> None:
    place = {"on": on, "along": f"{along} mm", "out": f"{out} mm", "round": f"{degrees} deg"}
    port = [{"name": "port", "for_test": "vent", "place": place}]
    lying = derived(fittings=port, trapped_air=None, gauge=None)
    assert 0 <= lying.vent.air <= lying.volume
    turn = lying.vent.remedy
    if turn is None:
        return
    assert turn.air < lying.vent.air
    turned = derived(fittings=port, trapped_air=None, gauge=None, tilt=f"{turn.tilt} rad", roll=f"{turn.roll} rad")
    assert turned.vent.air == pytest.approx(turn.air, rel=1e-6, abs=1e-9)

"""What a vessel holds: against closed forms and against fluids' own geometry."""

import math

import pytest
from fluids.geometry import TANK
from hypothesis import given
from hypothesis import strategies as st

from tests.core.sheets import derived, receiver, shell
from toadbell.core.sheets import read_vessel_sheet
from toadbell.core.sheets.vessel import End
from toadbell.core.vessel import shape


@pytest.mark.parametrize(
    ("form", "volume"),
    [("hemispherical", math.pi / 12), ("ellipsoidal", math.pi / 24), ("flat", 0.0)],
)
def test_an_end_of_one_metre_holds_what_the_book_says(form: str, volume: float) -> None:
    assert shape.end_volume(End(form=form), 1.0) == pytest.approx(volume)


@pytest.mark.parametrize(("crown", "knuckle"), [(1.0, 0.06), (1.0, 0.1), (0.8, 0.154), (0.9, 0.08)])
def test_a_dished_end_holds_what_fluids_works_out_for_it(crown: float, knuckle: float) -> None:
    end = End(form="torispherical", crown=f"{crown} m", knuckle=f"{knuckle} m")
    tank = TANK(D=1.0, L=1.0, horizontal=False, sideA="torispherical", sideA_f=crown, sideA_k=knuckle, sideB=None)
    assert shape.end_depth(end, 1.0) == pytest.approx(tank.sideA_a, rel=1e-6)
    assert shape.end_volume(end, 1.0) == pytest.approx(tank.V_total - math.pi / 4, rel=2e-4)


def test_a_dished_end_without_figures_is_the_common_flanged_and_dished_one() -> None:
    assert shape.torispherical_radii(End(form="torispherical"), 0.4) == (0.4, pytest.approx(0.024))


def test_a_cylinder_with_ends_holds_the_sum() -> None:
    assert derived().volume == pytest.approx(math.pi / 4 * 0.366**2 * 0.8 + 2 * math.pi * 0.366**3 / 24)


def test_a_sphere_needs_no_length() -> None:
    answer = derived(shell=shell(form="sphere", length=None), ends=None)
    assert answer.volume == pytest.approx(math.pi * 0.366**3 / 6)
    assert answer.height == pytest.approx(0.366)


def test_a_stated_volume_goes_before_the_shape() -> None:
    assert derived(volume="100 L").volume == pytest.approx(0.1)


def test_without_a_shell_or_a_volume_nothing_is_made_up() -> None:
    answer = derived(shell=None, ends=None, fittings=None)
    assert answer.volume is None
    assert answer.compliance is None
    assert answer.energy.water is None
    assert answer.pump.strokes is None
    assert answer.ceiling.known is False
    assert answer.highest_provable is None


def test_standing_it_is_higher_than_lying() -> None:
    assert derived(position="standing").height == pytest.approx(0.8 + 0.366 / 2)
    assert derived(position="lying").height == pytest.approx(0.366)


@pytest.mark.parametrize(
    ("position", "along", "angle", "height"),
    [
        ("lying", 0.1, 0.0, 0.366),
        ("lying", 0.7, math.pi, 0.0),
        ("lying", 0.4, math.pi / 2, 0.183),
        ("standing", 0.0, 0.0, 0.0915),
        ("standing", 0.8, 1.0, 0.8915),
    ],
)
def test_a_point_of_the_shell_is_as_high_as_it_is(position: str, along: float, angle: float, height: float) -> None:
    sheet = read_vessel_sheet(receiver(position=position))
    assert shape.solid_of(sheet).height(along, 0.183, angle) == pytest.approx(height)


def test_a_point_of_a_sphere_is_as_high_as_it_is() -> None:
    ball = read_vessel_sheet(receiver(shell=shell(form="sphere", length=None), ends=None))
    assert shape.solid_of(ball).height(0.183, 0.183, 0.0) == pytest.approx(0.366)
    assert shape.solid_of(ball).height(0.0, 0.0, 0.0) == pytest.approx(0.183)


@given(
    form=st.sampled_from(["hemispherical", "ellipsoidal", "torispherical", "flat"]),
    crown=st.floats(0.8, 1.2),
    knuckle=st.floats(0.06, 0.2),
)
def test_an_end_is_wetted_over_the_area_that_fluids_works_out_for_it(form: str, crown: float, knuckle: float) -> None:
    D = 0.366
    drawn = {
        "hemispherical": {"sideA": "spherical", "sideA_a": D / 2},
        "ellipsoidal": {"sideA": "ellipsoidal", "sideA_a": D / 4},
        "torispherical": {"sideA": "torispherical", "sideA_f": crown, "sideA_k": knuckle},
        "flat": {},
    }[form]
    end = End(form=form, crown=f"{crown * D} m", knuckle=f"{knuckle * D} m")
    assert shape.end_area(end, D) == pytest.approx(TANK(D=D, L=0.8, horizontal=True, **drawn).A_sideA, rel=1e-6)

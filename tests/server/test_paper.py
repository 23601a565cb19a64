"""What is drawn on paper: the vessel to scale with its pins where they were put, and charts that show what the core
answered.
"""

import math
import uuid
from typing import Any

import pytest
from django.utils import timezone
from reportlab.graphics.shapes import Circle, Drawing, Polygon, PolyLine, Rect, String
from reportlab.lib.colors import Color

from tests.core.sheets import RECEIVER, receiver
from tests.core.test_judge import hold, sheet
from toadbell.core.derive import derive
from toadbell.core.judge.hold import judge_with_points
from toadbell.core.sheets import read_vessel_sheet
from toadbell.core.vessel.drawing import drawing_of
from toadbell.records.paper.charts import Axes, course_chart, hold_chart, svg
from toadbell.records.paper.elevation import ROOM, elevation
from toadbell.records.paper.style import BRASS, VERMILION, VERMILION_SOFT, WATER
from toadbell.trials.bench.shapes import LeakOut, PinOut

WIDE, TALL = 300.0, 160.0


def leak(owner: str = "boundary", pin: dict[str, float] | None = None, view: str = "front") -> LeakOut:
    return LeakOut(
        id=uuid.uuid4(),
        at=timezone.now(),
        owner=owner,
        whose="of the vessel itself",
        where="a seam",
        shows="weep",
        pin=pin and PinOut(**pin, view=view, seen=f"seen from the {view}"),
        mend=None,
    )


def drawn(leaks: list[LeakOut] | None = None, **changes: Any) -> Drawing:
    found = read_vessel_sheet(receiver(**changes))
    return elevation(drawing_of(found), [opening.name for opening in found.fittings], leaks or [], WIDE, TALL)


def shapes(drawing: Drawing, kind: type, colour: Color | None = None) -> list[Any]:
    return [one for one in drawing.contents if isinstance(one, kind) and (colour is None or one.fillColor == colour)]


def texts(drawing: Drawing) -> list[str]:
    return [one.text for one in shapes(drawing, String)]


def outline(drawing: Drawing) -> list[tuple[float, float]]:
    (body,) = shapes(drawing, Polygon)
    return list(zip(body.points[::2], body.points[1::2], strict=True))


# -- the vessel --------------------------------------------------------------------------------


@pytest.mark.parametrize("changes", [{}, {"position": "standing"}, {"tilt": "8 deg"}])
def test_the_vessel_stays_within_its_space_and_keeps_its_proportions(changes: dict[str, str]) -> None:
    shape = drawing_of(read_vessel_sheet(receiver(**changes)))
    points = outline(drawn(**changes))
    wide, tall = (max(p[i] for p in points) - min(p[i] for p in points) for i in (0, 1))
    assert min(p[0] for p in points) >= ROOM - 0.1
    assert max(p[0] for p in points) <= WIDE - ROOM + 0.1
    assert 0 < min(p[1] for p in points) < max(p[1] for p in points) < TALL
    turned = [
        (p.x * math.cos(shape.tilt) - v * math.sin(shape.tilt), p.x * math.sin(shape.tilt) + v * math.cos(shape.tilt))
        for p in shape.outline
        for v in (p.r, -p.r)
    ]
    true = [max(t[i] for t in turned) - min(t[i] for t in turned) for i in (0, 1)]
    assert wide / tall == pytest.approx(true[0] / true[1], rel=1e-6)


def test_a_pin_stands_where_it_was_put_square_for_the_vessel_and_round_for_the_rig() -> None:
    found = drawn([leak(pin={"x": 0.0, "v": 0.0}), leak("rig", {"x": 0.8, "v": 0.183}), leak()])
    left, right = (pick(p[0] for p in outline(found)) for pick in (min, max))
    (square,), heads = shapes(found, Rect, VERMILION), shapes(found, Circle, BRASS)
    scale = (right - left) / (0.8 + 2 * 0.0915)
    assert square.x + square.width / 2 == pytest.approx(left + 0.0915 * scale, abs=1.0)
    assert {round(head.cx) for head in heads} == {round(left + (0.8 + 0.0915) * scale)}
    assert texts(found) == ["1", "2"]  # the third has no place


def test_openings_are_numbered_in_their_order_outside_the_wall() -> None:
    openings = [
        {"name": "Vent", "place": {"along": "100 mm"}},
        {"name": "Somewhere"},
        {"name": "Drain", "place": {"along": "700 mm", "round": "180 deg"}},
    ]
    found = drawn(fittings=openings)
    low, high = (pick(p[1] for p in outline(found)) for pick in (min, max))
    spots = {one.text: one for one in shapes(found, String)}
    assert spots["1"].y > high
    assert spots["3"].y < low
    assert spots["1"].x < spots["3"].x
    assert "2" not in spots  # it has no place to be drawn at, and keeps its number


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        (
            {
                "kind": "pipework",
                "plate_pressure": None,
                "shell": {**RECEIVER["shell"], "inside_diameter": "20 mm", "length": "31 m"},
                "ends": None,
            },
            "drawn folded, not to scale",
        ),
        ({"shell": None, "ends": None, "volume": "97 L"}, "its shape is not on record"),
    ],
)
def test_what_cannot_be_drawn_to_scale_says_so(changes: dict[str, Any], says: str) -> None:
    assert says in texts(drawn(**changes))


# -- charts --------------------------------------------------------------------------------


def test_a_chart_s_scales_put_ends_at_the_ends_and_nothing_outside() -> None:
    axes = Axes(Drawing(200, 100), (40, 20, 190, 90), (0, 10), (5, 15))
    assert (axes.x(0), axes.x(10), axes.y(5), axes.y(15)) == (40, 190, 20, 90)
    assert (axes.y(-3), axes.y(99)) == (20, 90)


def test_the_run_is_drawn_over_the_plan_in_the_persons_unit() -> None:
    answer = derive(read_vessel_sheet(RECEIVER))
    trace = [(0.0, 0.0), (600.0, 8.5e5), (1800.0, 12.75e5)]
    found = course_chart(answer, trace, 120.0, "psi", 500, 200)
    plan, read = shapes(found, PolyLine)
    assert (plan.strokeColor, read.strokeColor) == (BRASS, WATER)
    assert len(plan.points) == 2 * len(answer.profile)
    assert read.points[5] == pytest.approx(max(read.points[1::2]))
    assert {"psi", "minutes since the start", "nobody near", "100"} <= set(texts(found))


def held(leak_ml_h: float) -> tuple[Any, Any]:
    judged = judge_with_points(hold(leak_ml_h, cooling=0.2), sheet({"max_leak": "2 mL/h"}))
    return judged.answer, judged.points


def test_the_hold_shows_the_limit_as_a_wedge_and_names_what_is_what() -> None:
    verdict, points = held(0.5)
    found = hold_chart(points, verdict, "bar", 500, 240)
    wedge = next(one for one in shapes(found, Polygon) if one.fillColor == VERMILION_SOFT)
    assert len(wedge.points) == 6
    assert wedge.points[1] == wedge.points[3] > wedge.points[5]
    said = " ".join(texts(found))
    assert "the limit" in said
    assert "minutes since shut-in" in said


def test_an_exported_chart_speaks_of_no_other_machine_and_names_the_applications_type() -> None:
    verdict, points = held(0.0)
    text = svg(hold_chart(points, verdict, "bar", 500, 240))
    assert "Atkinson Hyperlegible Next" in text
    assert "<!DOCTYPE" not in text
    assert "<script" not in text
    assert "href" not in text

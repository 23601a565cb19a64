"""The stop rules of a run: frozen with the plan, and watched on every reading. Pressures Pa gauge, volumes m³, times s."""

from collections.abc import Callable

from toadbell.core.answers import Guard
from toadbell.core.bench.stroke_answers import StrokesAnswer
from toadbell.core.plan.pumping import STROKE_RATIO, air_let_pass

WARNED_AHEAD = 900.0
"""Warming is called when the ceiling would be reached within so long, s…"""
WARNED_AT = 0.5
"""…or when so much of the way from the test to the ceiling is gone."""


def guards_of(
    target: float, band_top: float, ceiling: float | None, volume: float | None, energy: float | None, show: Callable[[float], str]
) -> list[Guard]:
    """The guards of a plan.

    target, band_top  on the gauge, Pa
    ceiling           Pa; None where not known
    volume            m³ of a test under water; None under air or where not known: strokes and air cannot be watched then
    energy            stored at the test in water, wall and air, J
    show              writes a pressure in the person's unit
    Source: handbook of the job, abort rules frozen with the plan, and the stop rules of the stroke log.
    """
    found = [
        Guard(code="overshoot", watches=f"over {show(band_top)}, the end of the test band", does="stop", limit=band_top,
              says=f"Overshoot: past {show(band_top)}. Stop the pump, let a little out, and look before going on."),
    ]  # fmt: skip
    if ceiling is not None:
        found.insert(0, Guard(code="ceiling", watches=f"over {show(ceiling)}, the ceiling", does="dump", limit=ceiling,
            says=f"Above the ceiling of {show(ceiling)}. Dump. The vessel is suspect until it was examined."))  # fmt: skip
    # Without a known ceiling, shut-in warming is called at a tenth above the test.
    warm = ceiling if ceiling is not None else 1.1 * target
    found.append(Guard(code="warming", watches=f"shut in and warming towards {show(warm)}", does="stop", limit=warm,
                       says=f"Shut in and warming: the pressure nears {show(warm)}. Let a little out now, and keep it out of the sun."))  # fmt: skip
    found.append(Guard(code="falling", watches="the pressure falls while the pump goes", does="dump", limit=None,
                       says="The pressure falls while the pump goes: something gives way or leaks badly. Dump."))  # fmt: skip
    if volume is not None:
        air = air_let_pass(volume, energy)
        found.append(Guard(code="air", watches=f"air left in over {air / volume:.1%} of the volume, {air * 1e6:.3g} mL", does="vent",
                           limit=air, says="Too much air is left in: it stores energy and hides leaks. Let the pressure go and vent again."))  # fmt: skip
        found.append(Guard(code="strokes", watches=f"strokes a bar over {STROKE_RATIO:g} × the straight part's, or a curve that bends over",
                           does="dump", limit=STROKE_RATIO, says="The strokes no longer raise the pressure as they did: it is yielding. Stop, dump."))  # fmt: skip
    return [*found, *_SEEN_AND_HEARD]


_SEEN_AND_HEARD = [
    Guard(code="noise", watches="a noise", does="dump", limit=None, says="A noise under pressure. Stop, dump, and only then approach."),
    Guard(code="movement", watches="a bulge, or anything that moves", does="dump", limit=None,
          says="Something moves or bulges. Stop, dump, and only then approach."),
    Guard(code="boundary-leak", watches="a leak of the vessel's own", does="dump", limit=None,
          says="The vessel's own boundary leaks: that fails the trial. Let the pressure go before anybody goes near."),
]  # fmt: skip


def over_limit(guards: list[Guard], pressure: float) -> Guard | None:
    """The guard that a pressure on the gauge trips by its height, Pa: the ceiling before the overshoot."""
    over = [g for g in guards if g.code in ("ceiling", "overshoot") and g.limit is not None and pressure > g.limit]
    return max(over, key=lambda g: g.limit or 0.0, default=None)


def falls_while_pumping(pressures: list[float], strokes: list[int], step: float) -> bool:
    """Did the pressure fall from one reading to the next, by more than two steps of the gauge, while strokes were made?

    pressures Pa and strokes so far at the last readings, oldest first; step of the gauge, Pa
    """
    steps = zip(zip(pressures, strokes, strict=True), zip(pressures[1:], strokes[1:], strict=True), strict=False)
    return any(after < before - 2 * step for (before, made), (after, more) in steps if more >= made + 2)


def warms_to(limit: float, target: float, times: list[float], pressures: list[float], step: float) -> bool:
    """Does a shut-in pressure near its limit: half of the way there gone, or the rest within a quarter of an hour at this rate?

    times s and pressures Pa since shut-in, oldest first; step of the gauge, Pa
    """
    if len(times) < 2 or pressures[-1] <= target:
        return False
    if pressures[-1] >= target + WARNED_AT * (limit - target):
        return True
    since = next((i for i, t in enumerate(times) if t >= times[-1] - 600), 0)
    rise, over = pressures[-1] - pressures[since], times[-1] - times[since]
    return over >= 60 and rise > 3 * step and pressures[-1] + rise / over * WARNED_AHEAD >= limit


def by_strokes(guards: list[Guard], answer: StrokesAnswer) -> Guard | None:
    """The guard that the stroke log trips: yielding before air."""
    code = {"yielding": "strokes", "air": "air"}.get(answer.state)
    return next((g for g in guards if g.code == code), None)

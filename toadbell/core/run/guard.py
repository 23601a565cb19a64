"""The stop rules of a run: frozen with the plan, and watched on every reading.

Pressures Pa gauge, volumes m³, times s.
"""

from collections.abc import Sequence
from typing import Literal

from toadbell.core.answers import Guard, GuardCode
from toadbell.core.bench.stroke_answers import StrokesAnswer
from toadbell.core.phrases import say
from toadbell.core.plan.pumping import STROKE_RATIO, air_let_pass

WARNED_AHEAD = 900.0
"""Warming is called when the ceiling would be reached within so long, s…"""
WARNED_AT = 0.5
"""…or when so much of the way from the test to the ceiling is gone."""


def guards_of(
    target: float,
    band_top: float,
    ceiling: float | None,
    volume: float | None,
    energy: float | None,
    no_lift: float | None = None,
) -> list[Guard]:
    """The guards of a plan.

    target, band_top  on the gauge, Pa
    ceiling           Pa; None where not known
    volume            m³ of a test under water; None under air or where not known: strokes and air cannot be watched
                      then
    energy            stored at the test in water, wall and air, J
    no_lift           where a raising ends that saw no lift, Pa on the gauge, where a valve is tried
    Source: handbook of the job, abort rules frozen with the plan, and the stop rules of the stroke log.
    """
    # Without a known ceiling, shut-in warming is called at a tenth above the test.
    found = [
        *([] if ceiling is None else [_guard("ceiling", "dump", ceiling)]),
        _guard("overshoot", "stop", band_top) if no_lift is None else _guard("no-lift", "dump", no_lift),
        _guard("warming", "stop", ceiling if ceiling is not None else 1.1 * target),
        *([_guard("falling", "dump")] if no_lift is None else []),  # a valve that lifts lets it fall
    ]
    if volume is not None:
        air = air_let_pass(volume, energy)
        found += [_guard("air", "vent", air, part=air / volume), _guard("strokes", "dump", STROKE_RATIO)]
    return [*found, _guard("noise", "dump"), _guard("movement", "dump"), _guard("boundary-leak", "dump")]


def steam_guards(working: float, lifts_by: float, with_thermometer: bool) -> list[Guard]:
    """The guards of a boiler under steam: each of them has the fire out first, and nobody opens anything.

    working   pressure, Pa
    lifts_by  the highest at which its valve may still come, Pa
    Source: procedures, steam; handbook, steam.
    """
    over = 1.1 * working
    found = [_guard("over-steam", "fire", over), _guard("late-valve", "fire", min(lifts_by, over))]
    found += [_guard("witnesses", "fire")] if with_thermometer else []
    return [
        *found,
        _guard("gauge-stuck", "fire"),
        _guard("low-water", "fire"),
        _guard("priming", "stop"),
        _guard("noise", "fire"),
        _guard("movement", "fire"),
        _guard("boundary-leak", "fire"),
    ]


def _guard(
    code: GuardCode, does: Literal["dump", "stop", "vent", "fire"], limit: float | None = None, **facts: float
) -> Guard:
    form = "-steam" if does == "fire" and code in ("noise", "movement", "boundary-leak") else ""
    watches, says = say(f"guard.{code}-watches", limit=limit, **facts), say(f"guard.{code}{form}", limit=limit, **facts)
    return Guard(code=code, watches=watches, does=does, limit=limit, says=says)


BY_HEIGHT = ("ceiling", "overshoot", "no-lift", "over-steam", "late-valve")
"""Guards that a pressure trips by its height alone."""


def over_limit(guards: list[Guard], pressure: float) -> Guard | None:
    """The guard that a pressure on the gauge trips by its height, Pa: the ceiling before the overshoot."""
    over = [
        g
        for g in guards
        if g.code in ("ceiling", "overshoot", "no-lift", "over-steam", "late-valve")
        and g.limit is not None
        and pressure > g.limit
    ]
    return max(over, key=lambda g: g.limit or 0.0, default=None)


def falls_while_pumping(pressures: list[float], strokes: list[int], step: float) -> bool:
    """Did the pressure fall from one reading to the next, by more than two steps of the gauge, while strokes were made?

    pressures Pa and strokes so far at the last readings, oldest first; step of the gauge, Pa
    """
    steps = zip(zip(pressures, strokes, strict=True), zip(pressures[1:], strokes[1:], strict=True), strict=False)
    return any(after < before - 2 * step for (before, made), (after, more) in steps if more >= made + 2)


def warms_to(limit: float, target: float, times: list[float], pressures: list[float], step: float) -> bool:
    """Does a shut-in pressure near its limit: half of the way there gone, or the rest within a quarter of an hour at
    this rate?

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


WARMS_BY = 5.0
"""A gauge that stands while the steam warms by so much does not move, K…"""
STANDS_FOR = 600.0
"""…nor does one that stands for so long on a fire, s."""
STEAMS_FROM = 378.0
"""From here on there is pressure that a gauge has to show, K."""


def gauge_stuck(
    times: Sequence[float], pressures: Sequence[float], temperatures: Sequence[float | None], step: float
) -> bool:
    """Does the gauge stand while it ought to rise: the steam warms, or a fire burns under it?

    times s, pressures Pa and temperatures K (None where there was none) at the last readings on the way up, oldest
    first; step of the gauge, Pa
    """
    if len(pressures) < 3:
        return False
    since = len(pressures) - 1
    while since > 0 and abs(pressures[since - 1] - pressures[-1]) <= 1.5 * step:
        since -= 1
    warm = [t for t in temperatures[since:] if t is not None and t >= STEAMS_FROM]
    if len(warm) >= 2:
        return warm[-1] - warm[0] >= WARMS_BY
    return not warm and len(pressures) - since >= 3 and times[-1] - times[since] >= STANDS_FOR

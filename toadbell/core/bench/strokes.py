"""The stroke log as an instrument: pumped volume against pressure tells the air left in, the real compliance, and
yielding.

What was pumped to stand at a pressure is V_0 + S P + V_a P/(P + P_atm), with what leaked and what warmed; the fit is by
generalised least squares, for one stroke's scatter stays in all that follow. Pressures Pa gauge, volumes m³, times s.
Source: handbook of the job, the compliance C(P); Aitken's generalised least squares.
"""

import math
from dataclasses import dataclass

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.bench.stroke_answers import Estimate, Onset, Pumped, StrokesAnswer
from toadbell.core.bench.stroke_words import lines_of, says
from toadbell.core.phrases import of_scale, say
from toadbell.core.physics.content import Content
from toadbell.core.physics.water import ROOM
from toadbell.core.plan.energy import water_energy
from toadbell.core.plan.pumping import STROKE_RATIO, air_let_pass
from toadbell.core.plan.target import asked_pressure, gauge_head
from toadbell.core.sheets import SheetError, VesselSheet
from toadbell.core.units import ATMOSPHERE
from toadbell.core.vessel import shape
from toadbell.core.vessel.content import content_of, trapped_air
from toadbell.core.vessel.openings import vent_of

BAND = 1.96
STROKE_SCATTER = 0.03
"""How one stroke differs from the next, 1 σ."""
STROKE_KNOWN = 0.015
"""How well a pump's displacement is known, 1 σ."""
MOST_POINTS = 160
RIG_LEAK = 100e-6 / 3600
"""A leak while raising that is nothing out of the way, at the highest pressure, m³/s, 1 σ."""
FEWEST = 4
"""Readings at different strokes before anything is said."""
CALLED_AT = 5.0
"""Standard deviations by which a bend must stand out before it is called yielding: it is looked for at many places,
many times.
"""
SOFTER = 1.1
"""…and the least softening at the top that is called so."""
KNOTS = 14


@dataclass(frozen=True)
class StrokeLog:
    """Readings while raising, in the order they were made. pressure Pa; pumped so far, m³; time s and temperature K
    where they were kept.
    """

    pressure: Array
    pumped: Array
    time: Array | None = None
    temperature: Array | None = None


@dataclass(frozen=True)
class _Setup:
    """What the sheet says of vessel and kit. stroke m³; step of the gauge, Pa."""

    content: Content
    stroke: float
    step: float


@dataclass(frozen=True)
class _Fit:
    """Volumes fitted: offset, S (m³/Pa), air (m³) and what else was asked, their covariance, and the weighted
    misfit.
    """

    values: Array
    covariance: Array
    misfit: float
    degrees: int

    def estimate(self, which: int, systematic: float = 0.0) -> Estimate:
        """A figure with its band, not below zero. systematic: as a part of it."""
        value = max(0.0, float(self.values[which]))
        sd = math.hypot(math.sqrt(self.covariance[which, which]), systematic * value)
        return Estimate(estimate=value, low=max(0.0, value - BAND * sd), high=value + BAND * sd)


OFFSET, STIFF, AIR = 0, 1, 2


def judge_strokes(log: StrokeLog, sheet: VesselSheet) -> StrokesAnswer:
    """What a raising tells of air left in, compliance and yielding.

    Raises SheetError where the sheet lacks the volume or the pump's stroke, or the test is under air.
    """
    pressure = asked_pressure(sheet)[1]
    with of_scale(pressure):
        return _judged(log, sheet, pressure)


def _judged(log: StrokeLog, sheet: VesselSheet, pressure: float) -> StrokesAnswer:
    setup = _setup(log, sheet)
    log = _steps(log)
    to = np.linspace(0, pressure + gauge_head(sheet), 25)
    expected = [Pumped(pumped=setup.content.pumped(float(p)), pressure=float(p)) for p in to]
    volume = setup.content.volume
    limit = air_let_pass(volume, water_energy(setup.content.stiff_part(pressure), setup.content.trapped_air, pressure))
    if len(np.unique(log.pumped)) < FEWEST or log.pressure.max() < 4 * setup.step:
        return _too_few(log, setup, expected, limit)
    basis = _basis(log, setup, log.pressure)
    root = _whitening(log, setup)
    plain = _solve(log, setup, basis, root)
    onset, bent = _onset(log, setup, basis, root, plain)
    fit = bent or plain
    air = fit.estimate(AIR, STROKE_KNOWN)
    ratio, sure = _ratio(log, setup, _pumped(log, setup) - basis[:, AIR + 1 :] @ plain.values[AIR + 1 :])
    called = onset is not None or (sure and ratio is not None and ratio > STROKE_RATIO)
    state = "yielding" if called else "air" if limit is not None and air.low > limit else "straight"
    answer = StrokesAnswer(
        state=state,  # type: ignore[arg-type]
        air=air,
        air_part=air.estimate / volume,
        air_limit=limit,
        compliance=fit.estimate(STIFF, STROKE_KNOWN),
        expected_air=setup.content.trapped_air,
        expected_compliance=setup.content.stiff_part(float(log.pressure.max()) / 2),
        ratio=ratio,
        ratio_sure=sure,
        onset=onset,
        points=[Pumped(pumped=float(v), pressure=float(p)) for v, p in zip(log.pumped, log.pressure, strict=True)],
        fit=_curve(fit, float(log.pressure.max())),
        expected=expected,
        says="",
        settle_it=[],
        lines=[],
    )
    words, settle = says(answer)
    return answer.model_copy(
        update={"says": words, "settle_it": settle, "lines": lines_of(answer, volume, len(log.pressure))}
    )


def _setup(log: StrokeLog, sheet: VesselSheet) -> _Setup:
    volume = shape.volume(sheet)
    if sheet.medium == "air":
        raise SheetError("strokes tell of air left in under water; this sheet is of a test under air", "medium")
    if volume is None:
        raise SheetError("the volume of the vessel is needed: give its sizes, or the volume itself", "volume")
    stroke = sheet.pump.stroke if sheet.pump else None
    if stroke is None:
        raise SheetError("the pump's displacement is needed: give its stroke, such as “12 mL”", "pump.stroke")
    air = trapped_air(sheet, vent_of(sheet)) or 0.0
    content = content_of(volume, sheet.shell, air, sheet.water_temperature or ROOM)
    step = (sheet.gauge.readable if sheet.gauge else None) or _seen_step(log.pressure)
    return _Setup(content, stroke, step)


def _seen_step(pressure: Array) -> float:
    steps = np.diff(np.unique(pressure))
    return float(steps.min()) if len(steps) else 1e4


def _steps(log: StrokeLog) -> StrokeLog:
    """The first and the last reading at each count of strokes, thinned where there are very many."""
    keep = np.ones(len(log.pumped), dtype=bool)
    keep[1:-1] = (np.diff(log.pumped)[:-1] > 0) | (np.diff(log.pumped)[1:] > 0)
    which = np.flatnonzero(keep)
    if len(which) > MOST_POINTS:
        which = which[np.unique(np.linspace(0, len(which) - 1, MOST_POINTS).round().astype(int))]
    picked = [None if column is None else column[which] for column in (log.time, log.temperature)]
    return StrokeLog(log.pressure[which], log.pumped[which], *picked)


# -- the fit --------------------------------------------------------------------------------


def _basis(log: StrokeLog, setup: _Setup, pressure: Array) -> Array:
    """Columns of the fit: offset, water and wall, air, a leak in proportion to the pressure, and warming that nobody
    read.
    """
    columns = [np.ones_like(pressure), pressure, pressure / (pressure + ATMOSPHERE)]
    if log.time is not None:
        since = log.time - log.time[0]
        area = np.concatenate([[0.0], np.cumsum((pressure[1:] + pressure[:-1]) / 2 * np.diff(since))])
        columns += [area, -setup.content.swelling(float(pressure.max()) / 2) * since]
    return np.column_stack(columns)


def _known(log: StrokeLog, setup: _Setup) -> tuple[Array, Array]:
    """What is known before a stroke is made: means and standard deviations of the columns."""
    stiff = setup.content.stiff_part(float(log.pressure.max()) / 2)
    means, sds = [0.0, stiff, 0.0], [0.7 * setup.stroke, 0.6 * stiff, 0.2 * setup.content.volume]
    if log.time is not None:
        seen = _warmed(log)
        means, sds = [*means, 0.0, 0.0], [*sds, RIG_LEAK / float(log.pressure.max()), (0.15 if seen else 1.0) / 3600]
    return np.array(means), np.array(sds)


def _pumped(log: StrokeLog, setup: _Setup) -> Array:
    """What was pumped, with what the warming that was read has added to it."""
    if not _warmed(log):
        return log.pumped
    assert log.time is not None
    assert log.temperature is not None
    order = 1 if log.time[-1] < 1200 or len(log.time) < 12 else 2
    smooth = np.polynomial.Polynomial.fit(
        log.time, log.temperature, order
    )  # a thermometer goes in steps, the water does not
    return np.asarray(
        log.pumped + setup.content.swelling(float(log.pressure.max()) / 2) * (smooth(log.time) - smooth(log.time[0]))
    )


def _warmed(log: StrokeLog) -> bool:
    """Is the water's temperature known along the log?"""
    return log.temperature is not None and log.time is not None and bool(np.isfinite(log.temperature).all())


def _whitening(log: StrokeLog, setup: _Setup) -> Array:
    """What makes the readings' errors alike and independent: strokes that differ add up, readings on the gauge do
    not.
    """
    rough = np.maximum(
        _compliance(np.array([0.0, setup.content.stiff_part(0.0), _rough_air(log, setup)]), log.pressure), 0.0
    )
    reading = rough * setup.step * 0.45
    strokes = np.minimum.outer(log.pumped, log.pumped) * setup.stroke * STROKE_SCATTER**2
    return np.asarray(np.linalg.inv(np.linalg.cholesky(strokes + np.diag(reading**2 + (0.02 * setup.stroke) ** 2))))


def _rough_air(log: StrokeLog, setup: _Setup) -> float:
    """Air that would explain the last reading by itself, m³."""
    last = float(log.pressure[-1])
    left = float(log.pumped[-1]) - setup.content.stiff_part(last / 2) * last
    return max(setup.content.trapped_air, left * (1 + ATMOSPHERE / max(last, 1.0)), 0.0)


def _compliance(values: Array, pressure: Array) -> Array:
    """Compliance fitted at pressures, m³/Pa, before any yielding."""
    return np.asarray(values[STIFF] + values[AIR] * ATMOSPHERE / (pressure + ATMOSPHERE) ** 2)


def _solve(log: StrokeLog, setup: _Setup, basis: Array, root: Array) -> _Fit:
    """The fit with what is known before; no air below none."""
    means, sds = _known(log, setup)
    more = basis.shape[1] - len(means)
    means, sds = np.append(means, np.zeros(more)), np.append(sds, np.full(more, 10 * abs(means[STIFF])))
    left, right = root @ basis, root @ _pumped(log, setup)
    free = np.ones(len(means), dtype=bool)
    values = means.copy()
    for _ in range(2):
        a = np.vstack([left[:, free], np.diag(1 / sds[free])])
        b = np.concatenate([right - left[:, ~free] @ values[~free], means[free] / sds[free]])
        normal = a.T @ a
        values[free] = np.linalg.solve(normal, a.T @ b)
        if values[AIR] >= 0:
            break
        values[AIR], free[AIR] = 0.0, False
    a = np.vstack([left, np.diag(1 / sds)])
    covariance = np.linalg.inv(a.T @ a)
    misfit = float(((right - left @ values) ** 2).sum() + (((values - means) / sds) ** 2).sum())
    degrees = max(1, len(right) - 2)
    return _Fit(values, np.asarray(covariance * max(1.0, misfit / degrees)), misfit, degrees)


# -- where it bends over --------------------------------------------------------------------------------


def _onset(log: StrokeLog, setup: _Setup, basis: Array, root: Array, plain: _Fit) -> tuple[Onset | None, _Fit | None]:
    """The likeliest place from which the curve bends over beyond what air, leak and warming do; none where it does not
    stand out.
    """
    top = float(log.pressure.max())
    inside = np.unique(log.pressure[(log.pressure > 0.25 * top) & (log.pressure < top)])
    if len(inside) < 3:
        return None, None
    knots = np.unique(np.quantile(inside, np.linspace(0, 1, KNOTS)))
    fits = [(knot, _solve(log, setup, np.column_stack([basis, _beyond(log.pressure, knot)]), root)) for knot in knots]
    misfits = np.array([fit.misfit for _, fit in fits])
    best = int(np.argmin(misfits))
    knot, fit = fits[best]
    give = float(fit.values[-1])
    noise = max(1.0, fit.misfit / fit.degrees)
    strength = math.sqrt(max(0.0, plain.misfit - fit.misfit) / noise)
    softer = 1 + give * (top - knot) / knot / float(_compliance(fit.values, np.array(top)))
    if give <= 0 or strength < CALLED_AT or softer < SOFTER:
        return None, None
    near = knots[misfits - misfits[best] < BAND**2 * noise]
    return Onset(pressure=float(knot), low=float(near.min()), high=float(near.max()), softer=softer), fit


def _beyond(pressure: Array, knot: float) -> Array:
    """Volume beyond the elastic at each pressure where yielding spreads from a knot, (P − P_y)²/2P_y."""
    return np.asarray(np.maximum(pressure - knot, 0.0) ** 2 / (2 * knot))


def _ratio(log: StrokeLog, setup: _Setup, pumped: Array) -> tuple[float | None, bool]:
    """Strokes per bar at the top over what the part below says of there, and whether the gauge is fine enough to be
    sure of it.

    pumped  without what leaked and warmed, m³
    """
    top = float(log.pressure.max())
    low, high = log.pressure <= 0.65 * top, int(np.argmax(log.pressure))
    if np.count_nonzero(low) < FEWEST:
        return None, False
    wide = max(6 * setup.step, 0.1 * top)
    before = np.flatnonzero(log.pressure[:high] <= top - wide)
    if len(before) == 0:
        return None, False
    start = int(before[-1])
    part = StrokeLog(log.pressure[low], pumped[low])
    basis = _basis(part, setup, part.pressure)
    straight = _solve(part, setup, basis, _whitening(part, setup)).values
    foreseen = float(basis_at(straight, top) - basis_at(straight, float(log.pressure[start])))
    made = float(pumped[high] - pumped[start])
    unsure = math.hypot(setup.step / (top - float(log.pressure[start])), 0.5 * setup.stroke / made if made > 0 else 1.0)
    return (made / foreseen, unsure < 0.25) if foreseen > 0 else (None, False)


def basis_at(values: Array, pressure: float) -> float:
    """Volume fitted at a pressure, m³, without leak and warming."""
    return float(values[OFFSET] + values[STIFF] * pressure + values[AIR] * pressure / (pressure + ATMOSPHERE))


# -- to draw --------------------------------------------------------------------------------


def _curve(fit: _Fit, top: float) -> list[Pumped]:
    return [Pumped(pumped=max(0.0, basis_at(fit.values, p)), pressure=float(p)) for p in np.linspace(0, top, 25)]


def _too_few(log: StrokeLog, setup: _Setup, expected: list[Pumped], limit: float | None) -> StrokesAnswer:
    top = float(log.pressure.max()) if len(log.pressure) else 0.0
    return StrokesAnswer(
        state="too-few",
        air=None,
        air_part=None,
        air_limit=limit,
        compliance=None,
        expected_air=setup.content.trapped_air,
        expected_compliance=setup.content.stiff_part(top / 2),
        ratio=None,
        onset=None,
        points=[Pumped(pumped=float(v), pressure=float(p)) for v, p in zip(log.pumped, log.pressure, strict=True)],
        fit=[],
        expected=expected,
        says=say("strokes.too-few"),
        settle_it=[say("strokes.too-few-do", count=FEWEST, above=4 * setup.step)],
        lines=[],
    )

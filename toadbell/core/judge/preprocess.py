"""How a log is taken: which readings are kept, what is cut out of it, and the volumes at each reading."""

from dataclasses import dataclass

import numpy as np

from toadbell.core.arrays import Array, Places
from toadbell.core.judge import observations as hd
from toadbell.core.judge.log import Log
from toadbell.core.judge.observed import Observed
from toadbell.core.judge.outliers import Found, find_steps, settled_after
from toadbell.core.judge.possible import past_the_end
from toadbell.core.judge.unknowns import ERROR
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.physics.outer_air import outer_air
from toadbell.core.physics.water import ROOM, mean_compressibility
from toadbell.core.sheets import HoldSheet, SheetError
from toadbell.core.sheets.gas import LEVEL_STEP
from toadbell.core.units import ATMOSPHERE
from toadbell.core.vessel.content import content_of, gas_in

PROBE = 0.1
"""Resolution taken for a thermometer of which nothing is stated, K."""
EMPTY = 0.2
"""Below this part of the first pressure the vessel is as good as empty, and the rest of the log tells nothing."""
UNSEEN_TURN, SEEN_TURN = 3.0 / 3600, 0.6 / 3600
"""How fast the water may begin to warm or to cool between two readings, K/s: unseen, and beyond what a thermometer
shows.
"""
FAR_APART = 120.0


@dataclass(frozen=True)
class Asked:
    """How a log is to be read. None of it changes the log.

    ignore       s at the beginning that are left out
    thermometer  False: judge as if there had been none
    put_back     times of steps, s, that are judged with the rest
    so_far       the hold still runs: a quick answer, surer before it says anything
    offer_low    low holds are told as a way to an answer, though the sheet names no stretches
    baseline     leak of a hold of the same rig known to be tight, m³/s, in place of a file's
    """

    ignore: float = 0.0
    thermometer: bool = True
    put_back: tuple[float, ...] = ()
    so_far: bool = False
    quick: bool = False
    baseline: float | None = None
    offer_low: bool = False


@dataclass(frozen=True)
class Readings:
    """The log as the model reads it: kept readings (indexes), its water, and volumes at each; drips: falls that are a
    leak's own.

    pressure  that tells what is in it, Pa: with the outer air as it was at first; of a drum or a bag the one that its
              level would be in a stiff container
    head      over the outer air, that it leaks by, Pa
    """

    log: Log
    content: Content | AirContent
    kept: Places
    steps: list[Found]
    put_back: list[Found]
    drips: list[Found]
    settled: float
    pressure: Array
    head: Array
    held: Array
    warm: Array | None
    temperature: Array | None
    start: float
    gauge: float
    probe: float


def read(log: Log, sheet: HoldSheet, asked: Asked) -> Readings:
    """The log as the sheet and the person want it taken; raises SheetError where it cannot be."""
    content = _content(log, sheet)
    gauge = _gauge_step(log, sheet)
    head = log.pressure
    pressure = head if log.barometer is None else head + log.barometer - log.barometer[0]
    begun = np.flatnonzero((log.time >= asked.ignore) & ~past_the_end(log, sheet))
    if len(begun) < 2 or log.time[begun[-1]] <= log.time[begun[0]]:
        raise SheetError("fewer than two readings are left after the minutes that are to be ignored", "ignore")
    kept = begun
    start = float(np.median(pressure[kept[: max(1, min(len(kept) // 10, 30))]]))
    if start <= 0:
        raise SheetError("the hold begins without pressure: is it the right part of the log?", "pressure")
    held = _gas_at(content, log, sheet) if isinstance(content, AirContent) else _content_at(content, pressure)
    if sheet.holder is not None and sheet.holder.level_tells:
        told = float(np.median(log.pressure))
        head = np.full_like(head, told)
        pressure = told + (held - held[begun[0]]) / content.compliance(start)
        gauge = _level_step(log, sheet) * (ATMOSPHERE + told) / ATMOSPHERE / content.compliance(start)
    low = np.flatnonzero(head[kept] < EMPTY * start)
    if len(low) and low[0] >= 2:
        kept = kept[: low[0]]
    temperature, warm = _warmth(log, sheet, content, start, asked)
    steps = _steps(log, sheet, kept, pressure, warm, content, start, gauge)
    steps = [Found(s.kind, int(kept[s.index]), s.time, s.by) for s in steps]
    drips = _drips(steps)
    steps = [s for s in steps if s not in drips]
    put_back = [s for s in steps if any(abs(s.time - time) < 0.5 for time in asked.put_back)]
    steps = [s for s in steps if s not in put_back]
    lone = [s.index for s in steps if s.kind == "reading"]
    kept = np.setdiff1d(kept, lone)
    settled = _settled(log, kept, steps, held, warm, content.compliance(start), gauge, pressure)
    probe = sheet.thermometer.resolution if sheet.thermometer else PROBE
    return Readings(
        log,
        content,
        kept,
        steps,
        put_back,
        drips,
        settled,
        pressure,
        head,
        held,
        warm,
        temperature,
        start,
        gauge,
        probe,
    )


AGAIN, ALIKE = 3, 3.0
"""Falls like each other, so many of them, the largest no more than so many times the smallest but one, are a leak that
spurts.
"""


def _drips(steps: list[Found]) -> list[Found]:
    """Falls that come again and again: a leak that spurts or drips, and no slips to be cut out."""
    falls = sorted((s for s in steps if s.kind == "jump" and s.by < 0), key=lambda s: s.by)
    if len(falls) < AGAIN:
        return []
    middle = falls[len(falls) // 2].by
    alike = [s for s in falls if 1 / ALIKE <= s.by / middle <= ALIKE]
    return alike if len(alike) >= AGAIN else []


def _content(log: Log, sheet: HoldSheet) -> Content | AirContent:
    temperature = sheet.water_temperature
    if temperature is None and log.water_temperature is not None:
        temperature = float(np.nanmedian(log.water_temperature))
    if sheet.medium == "air":
        if sheet.volume is None:
            raise SheetError("an air hold needs the volume of the vessel", "volume")
        outer = outer_air(None if log.barometer is None else float(log.barometer[0]), sheet.altitude).pressure
        return gas_in(sheet.volume, temperature or ROOM, sheet.holder, outer, _gives(log, sheet, outer))
    volume = (
        sheet.volume
        if sheet.volume is not None
        else (sheet.compliance or 0.0) / (mean_compressibility(temperature or ROOM, 0.0))
    )
    return content_of(volume, sheet.shell, sheet.trapped_air, temperature or ROOM, sheet.compliance)


def _gives(log: Log, sheet: HoldSheet, outer: float) -> float:
    """By how much its sides give where the whole compliance was measured, m³/Pa; raises SheetError where that is less
    than the air alone takes up.
    """
    if sheet.compliance is None or sheet.volume is None:
        return 0.0
    pressure = float(np.median(log.pressure))
    own = (0.0 if sheet.holder is None else sheet.holder.pushes) * (outer + 2 * pressure)
    left = sheet.compliance * ATMOSPHERE - sheet.volume - own
    if left < -LESS_THAN_AIR * sheet.volume:
        raise SheetError(
            f"the air in {sheet.volume * 1e3:.4g} L alone takes up {sheet.volume / ATMOSPHERE * 1e8:.4g} mL/mbar, and "
            "less is given: check the volume, the syringe and the unit",
            "compliance",
        )
    return max(0.0, left) / (outer + 2 * pressure)


LESS_THAN_AIR = 0.15
"""A compliance measured so far under the air's own, as a part of it, is a slip: syringe and gauge tell no better."""


def _gauge_step(log: Log, sheet: HoldSheet) -> float:
    """Smallest step told apart, Pa: stated, else the smallest step seen in the log, else 0.5 % of the pressure."""
    stated = sheet.gauge.readable if sheet.gauge else None
    if stated:
        return stated
    steps = np.diff(np.unique(log.pressure))
    return float(steps.min()) if len(steps) else 0.005 * float(np.abs(log.pressure).max() or 1.0)


def _level_step(log: Log, sheet: HoldSheet) -> float:
    """What can be told apart of a level, as volume, m³; raises SheetError where nothing was read of it."""
    area = sheet.holder.area if sheet.holder else None
    if log.level is None or area is None:
        lacks = "a drum or a bag that keeps its pressure is judged by its level"
        if log.level is None:
            raise SheetError(f"{lacks}: read the level along, in a column “level [mm]”", "level")
        raise SheetError(f"{lacks}: give its diameter, or its width and length", "holder")
    steps = np.diff(np.unique(log.level))
    seen = float(steps.min()) if len(steps) else LEVEL_STEP
    return area * ((sheet.holder.level if sheet.holder else None) or min(seen, LEVEL_STEP))


def _gas_at(content: AirContent, log: Log, sheet: HoldSheet) -> Array:
    """Free air in it at each reading, less what is in it without pressure, m³. Boyle, with the outer air's pressure as
    it was read, and the volume as water that was pushed up, or a level, tells it.
    """
    outer = np.zeros_like(log.pressure) if log.barometer is None else log.barometer - log.barometer[0]
    volume = content.volume + content.pushes * log.pressure
    if sheet.holder is not None and sheet.holder.level_tells:
        _level_step(log, sheet)
        assert log.level is not None
        volume = volume + (sheet.holder.area or 0.0) * (log.level - log.level[0])
        if float(volume.min()) <= 0:
            raise SheetError("the level fell by more than the gas there was: check the volume and the area", "level")
    return np.asarray(((content.outer + log.pressure + outer) * volume - content.outer * content.volume) / ATMOSPHERE)


def _content_at(content: Content | AirContent, pressure: Array) -> Array:
    """Volume pumped in to stand at each pressure, m³, by interpolation between exact points."""
    low, high = max(0.0, float(pressure.min())), max(1.0, float(pressure.max()))
    grid = np.linspace(low, high * (1 + 1e-12), 33) if high > low else np.array([low, low + 1.0])
    return np.interp(pressure, grid, [content.pumped(p) for p in grid])


def _warmth(
    log: Log, sheet: HoldSheet, content: Content | AirContent, pressure: float, asked: Asked
) -> tuple[Array | None, Array | None]:
    """The temperature at each reading, K, and the volume by which what is in the vessel has grown with it, m³; None
    without one.

    Of air the temperature of the room stands for it where its own was not read.
    """
    logged = log.water_temperature
    if isinstance(content, AirContent) and (logged is None or np.isfinite(logged).sum() < 2):
        logged = log.air_temperature
    if not asked.thermometer or logged is None or np.isfinite(logged).sum() < 2:
        return None, None
    known = np.isfinite(logged)
    temperature = np.interp(log.time, log.time[known], logged[known])
    if isinstance(content, Content) and not (temperature.min() >= hd.LIQUID - 0.5 and temperature.max() <= 372.0):
        raise SheetError(
            "water is liquid between 0 and 99 °C only: is the column in another unit, or a cell mistyped?",
            "water_temperature",
        )
    if isinstance(content, Content):
        return temperature, hd.grown(content, temperature, pressure)
    return temperature, content.grows(pressure, temperature)


def _steps(
    log: Log,
    sheet: HoldSheet,
    kept: Places,
    pressure: Array,
    warm: Array | None,
    content: Content | AirContent,
    start: float,
    gauge: float,
) -> list[Found]:
    """Steps among the kept readings.

    Between readings minutes apart the warmth moves the pressure: it is taken out first, if seen.
    """
    per_kelvin = abs(content.pressure_per_kelvin(start))
    time, turn = log.time[kept], UNSEEN_TURN
    if warm is not None and np.median(np.diff(time)) > FAR_APART:
        pressure, turn = pressure - warm / content.compliance(start), SEEN_TURN
        gauge += per_kelvin * (sheet.thermometer.resolution if sheet.thermometer else PROBE) / 2
    return find_steps(time, pressure[kept], gauge, turn * per_kelvin)


def _settled(
    log: Log, kept: Places, steps: list[Found], held: Array, warm: Array | None, C: float, gauge: float, pressure: Array
) -> float:
    """How long the first minutes' flattening went on, s: only where no step is near it."""
    points = hd.points_of(log.time[kept])
    if any(s.kind == "jump" and s.time < log.time[kept[0]] + 1200 for s in steps):
        return 0.0
    corrected = held[kept] if warm is None else (held - warm)[kept]
    error = C * hd.reading_error(pressure[kept], gauge)
    return settled_after(points.time, hd.averaged(corrected, points.edges), error)


def observed(r: Readings, medium: hd.Medium, most: int) -> Observed:
    """What the model weighs: kept readings, averaged to at most so many points, steps as offsets."""
    time, pressure, head = r.log.time[r.kept], r.pressure[r.kept], r.head[r.kept]
    jumps = [s.index for s in r.steps if s.kind == "jump" and r.kept[0] < s.index <= r.kept[-1]]
    points = hd.points_of(time, [int(np.searchsorted(r.kept, index)) for index in jumps], most)
    after = np.array([r.kept >= index for index in jumps], dtype=float).reshape(len(jumps), len(r.kept))
    offsets = np.array([hd.averaged(column, points.edges) for column in after]).T.reshape(len(points.time), len(jumps))
    lifted = pressure - np.array([s.by for s in r.steps if s.index in jumps]) @ after if jumps else pressure
    news = hd.free_of_each_other(pressure, points.edges)
    error = medium.compliance * hd.reading_error(lifted, r.gauge) / ERROR / np.sqrt(news)
    warm_error = None
    if r.temperature is not None:
        felt = r.temperature[r.kept]
        warm_error = (
            medium.swelling
            * hd.reading_error(felt, r.probe)
            / ERROR
            / np.sqrt(hd.free_of_each_other(felt, points.edges))
        )
    warm = None if r.warm is None else r.warm[r.kept]
    return hd.observed(points, head, r.held[r.kept], warm, (error, warm_error), medium, offsets)

"""What a vessel gave under pressure and what it kept: permanent against total, elastic against computed, the mean wall
that would give so much, girths.

Volumes m³. Each reading's error is taken as the judge of holds takes it. Sources: 49 CFR 180.205 and CGA C-1 (permanent
up to a tenth of the total); handbook of the job, volumetric expansion and compliance; thin-shell membrane theory.
"""

import math
from dataclasses import dataclass, replace
from typing import Literal

from toadbell.core.answers import Answer
from toadbell.core.judge.checks import Check, between, state_of
from toadbell.core.judge.unknowns import ERROR
from toadbell.core.lines import Line
from toadbell.core.phrases import Said, Sentence, amount, joined, of_scale, say
from toadbell.core.physics.content import Content
from toadbell.core.physics.materials import NOT_METAL, figures_of
from toadbell.core.physics.wall import DEFAULT_EXPANSION, wall_give
from toadbell.core.physics.water import ROOM, water_expansion
from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.expansion import ExpansionSheet, GirthRead
from toadbell.core.vessel import shape

METAL_KEEPS, FIBRE_KEEPS = 0.10, 0.05
"""Of what it gives a vessel may keep so much: metal, 49 CFR 180.205 and CGA C-1; anything else the half of it."""
GIRTH_KEEPS = 0.001
"""A girth that stays so much larger stayed, whatever it grew; as of a volume, of what it grew a tenth may stay."""
SURE = 1.96
STROKE_KNOWN = 0.02
"""1 σ of a pump's stroke as a part of it: it is known by its maker, not measured, and slips."""
AIR_KNOWN, AIR_FLOOR = 0.3, 5e-5
"""1 σ of stated air as a part of it, and of the volume, for nobody gets the last bubble out."""
MILL = 0.0625
"""1 σ of a wall that nobody measured as a part of it: a mill delivers down to an eighth less than it says; EN 10216."""
AT = 0.98
"""Measured at so much of what was to be proven, it was measured at it."""
UNREAD, UNREAD_JACKET = 0.3, 0.1
"""1 σ of what the water may have warmed or cooled by between two readings where nobody read it, K; of a jacket's, which
stands open in the room with the vessel in it."""
MODEL = 0.06
"""1 σ of the wall that a give stands for as a part of it: ends, modulus; more where the wall is thick."""


EXPANDING = frozenset({"boiler", "receiver", "fermenter", "chamber"})
"""Kinds of vessel whose expansion is worth measuring: a shell that is filled with water and stressed."""


def expands(sheet: VesselSheet) -> bool:
    """Can what it gives be measured: a vessel of such a kind, under water?"""
    return sheet.kind in EXPANDING and sheet.medium == "water"


class Figure(Answer):
    """A figure and between what it lies, 95 %; the ends are not known where nothing bounds them."""

    estimate: float
    low: float | None
    high: float | None


class Girth(Answer):
    """A marked place: strain at the test pressure, as reckoned, and what stayed, all as parts of the girth."""

    place: str
    strain: float | None
    computed: float | None
    permanent: float | None


class ExpansionAnswer(Answer):
    """What an expansion trial shows; volumes m³, walls m.

    answer     met: it came back; not met; or cannot-tell
    total      by which it grew; `permanent` of it stayed; `ratio` of both; `elastic` went back
    limit      of the ratio
    computed   the elastic growth by its figures; `mean_wall` that would give what was measured
    thinnest   that was measured anywhere
    """

    answer: Literal["met", "not met", "cannot-tell"]
    total: Figure | None
    permanent: Figure | None
    ratio: Figure | None
    elastic: Figure | None
    limit: float
    computed: float | None
    mean_wall: Figure | None
    thinnest: float | None
    girths: list[Girth]
    says: Sentence
    settle_it: list[Sentence]
    checks: list[Check]
    lines: list[Line]


@dataclass(frozen=True)
class _Grown:
    """Total and permanent growth with 1 σ of each, m³; the total may be less by `at_most_less` for air not known.

    warm      what of the permanent's σ is temperature
    too_much  by how much more went in than the wall can give: air took it, or it yields
    between   what it can have been, by what its wall gives; None where that was not reckoned
    """

    total: float
    total_sd: float
    permanent: float | None
    permanent_sd: float
    at_most_less: float = 0.0
    warm: float = 0.0
    too_much: float = 0.0
    between: tuple[float, float] | None = None

    @property
    def least(self) -> float:
        """The least that the total may be, m³."""
        return self.between[0] if self.between else self.total - SURE * self.total_sd - self.at_most_less

    @property
    def most(self) -> float:
        """The most that the total may be, m³."""
        return self.between[1] if self.between else self.total + SURE * self.total_sd

    @property
    def likeliest(self) -> float:
        """The total by what was read, within what its wall leaves, m³."""
        return min(max(self.total, self.least), self.most) if self.between else self.total

    @property
    def contradicts(self) -> bool:
        """Did more come back than went in, by more than the readings' errors?"""
        return self.permanent is not None and self.permanent < -SURE * self.permanent_sd


def judge_expansion(sheet: ExpansionSheet) -> ExpansionAnswer:
    """Did it come back, and how thick is its wall by what it gave?"""
    with of_scale(sheet.pressure):
        return _judged(sheet)


def _judged(sheet: ExpansionSheet) -> ExpansionAnswer:
    limit = FIBRE_KEEPS if sheet.vessel.materials & NOT_METAL else METAL_KEEPS
    volume = shape.volume(sheet.vessel)
    grown = _by_jacket(sheet, volume) or _by_water(sheet, volume)
    ratio = _ratio(grown)
    elastic = _elastic(grown)
    wall = _mean_wall(sheet, volume, elastic)
    thinnest = _thinnest(sheet)
    girths = [_girth(sheet, one) for one in sheet.girths]
    checks = [
        _kept(grown, ratio, limit, volume),
        *_reach(sheet),
        *_air(grown, ratio, limit),
        *_girths(sheet, girths, limit),
        *_wall(wall, thinnest),
    ]
    answer = _answer(checks, measured=grown is not None and grown.permanent is not None)
    return ExpansionAnswer(
        answer=answer,
        total=_figure(grown.total, grown.total_sd, grown.at_most_less) if grown else None,
        permanent=_figure(grown.permanent, grown.permanent_sd) if grown and grown.permanent is not None else None,
        ratio=ratio,
        elastic=elastic,
        limit=limit,
        computed=_computed(sheet, volume),
        mean_wall=wall,
        thinnest=thinnest,
        girths=girths,
        says=_says(answer, checks, ratio, limit, sheet.pressure),
        settle_it=_settle(sheet, grown, ratio, limit) if answer == "cannot-tell" else [],
        checks=checks,
        lines=_lines(sheet, volume, grown, ratio, wall),
    )


# -- what it grew by ---------------------------------------------------------------------------


def _by_jacket(sheet: ExpansionSheet, volume: float | None) -> _Grown | None:
    """By a jacket's burette or a tank's level: the growth itself, nothing to take out."""
    if sheet.levels is not None:
        area = math.pi / 4 * sheet.levels.tank**2
        read, step = sheet.levels, sheet.levels.step * area
        before, at, after = (None if one is None else one * area for one in (read.before, read.at, read.after))
        water = sheet.levels.water
    elif sheet.jacket is not None:
        before, at, after = sheet.jacket.before, sheet.jacket.at, sheet.jacket.after
        step, water = sheet.jacket.step, sheet.jacket.water
    else:
        return None
    if at is None or before is None:
        return None
    temperature = _temperature(sheet)
    warm = UNREAD_JACKET * abs(water_expansion(temperature)) * (water or volume or 0.0)
    sd = math.hypot(math.sqrt(2) * ERROR * step, warm)
    return _Grown(at - before, sd, None if after is None else after - before, sd, warm=warm)


def _by_water(sheet: ExpansionSheet, volume: float | None) -> _Grown | None:
    """By water in and water back: less what water, hose and air took up, and the warmth between taken out; and held
    against what the wall can give, for what more went in air took.
    """
    water = sheet.water
    if water is None or volume is None:
        return None
    vessel, pressure = sheet.vessel, sheet.pressure
    air, temperature = vessel.trapped_air, _temperature(sheet)
    taken_up = Content(volume, 0.0, 0.0, air or 0.0, temperature).pumped(pressure)
    if water.hose:
        taken_up += Content(water.hose, 0.0, 0.0, 0.0, temperature).pumped(pressure)
    (up, up_sd), (over, over_sd) = _warmed(sheet, "at"), _warmed(sheet, "after")
    per_kelvin = _per_kelvin(sheet, volume, temperature)
    into_sd = ERROR * water.step
    if water.by == "strokes" and water.stroke is not None:
        into_sd = math.hypot(ERROR * water.stroke, STROKE_KNOWN * water.into)
    total = water.into - taken_up + _per_kelvin(sheet, volume, temperature + up / 2) * up
    air_sd = AIR_KNOWN * (air or 0.0) if sheet.air_doubt is None else sheet.air_doubt
    total_sd = math.hypot(into_sd, air_sd, AIR_FLOOR * volume, per_kelvin * up_sd)
    warmed = _per_kelvin(sheet, volume, temperature + over / 2) * over
    kept = None if water.back is None else water.into - water.back + warmed
    warm = abs(per_kelvin) * over_sd
    grown = _Grown(total, total_sd, kept, math.hypot(into_sd, ERROR * water.step, warm), 0.0, warm)
    return _against_the_wall(sheet, grown, volume)


def _per_kelvin(sheet: ExpansionSheet, volume: float, temperature: float) -> float:
    """By how much water outgrows the vessel per kelvin at a temperature, V (β − 3α), m³/K."""
    return volume * (water_expansion(temperature) - 3 * _expansion(sheet))


def _temperature(sheet: ExpansionSheet) -> float:
    """Of the water as it was read, else as the sheet says, K."""
    return sheet.temperatures.before if sheet.temperatures else sheet.vessel.water_temperature or ROOM


def _against_the_wall(sheet: ExpansionSheet, grown: _Grown, volume: float) -> _Grown:
    """Total growth against what wall and set can have taken: it lies in what both leave. What went in beyond that is
    air's, whatever was said of it; where nobody said how much air there is, the wall alone bounds it, and where that
    cannot be reckoned either, nothing does.
    """
    if sheet.vessel.trapped_air is None:
        grown = replace(grown, at_most_less=max(0.0, grown.total))
    computed = _computed(sheet, volume)
    if computed is None:
        return grown
    kept, out = max(0.0, grown.permanent or 0.0), _wall_out(sheet)
    least, most = computed * (1 - out) + kept, computed * (1 + out) + kept
    if grown.least > most:
        return replace(grown, between=(least, most), too_much=grown.total - most)
    if grown.most < least:
        return grown
    return replace(grown, between=(max(least, grown.least), min(most, grown.most)))


def _wall_out(sheet: ExpansionSheet) -> float:
    """How far what the wall gives may be from what is reckoned, 95 %: ends and modulus, and a wall nobody measured."""
    shell = sheet.vessel.shell
    if shell is None or shell.usual is None:
        return 0.9
    mill = 0.0 if shell.measured else MILL
    return min(0.9, SURE * math.hypot(MODEL + shell.usual / shell.inside_diameter, mill))


def _warmed(sheet: ExpansionSheet, when: Literal["at", "after"]) -> tuple[float, float]:
    """By what the water had warmed since before it was pumped up, K, and 1 σ of it."""
    told = sheet.temperatures
    then = None if told is None else getattr(told, when)
    if told is None or then is None:
        return 0.0, UNREAD
    step = sheet.vessel.thermometer.resolution if sheet.vessel.thermometer else 0.1
    return then - told.before, math.sqrt(2) * ERROR * (step or 0.1)


def _expansion(sheet: ExpansionSheet) -> float:
    shell = sheet.vessel.shell
    found = figures_of(shell.material, shell).expansion if shell else None
    return DEFAULT_EXPANSION if found is None else found


def _figure(estimate: float, sd: float, less: float = 0.0) -> Figure:
    return Figure(estimate=estimate, low=estimate - SURE * sd - less, high=estimate + SURE * sd)


def _ratio(grown: _Grown | None) -> Figure | None:
    """Permanent over total, and between what: both ends of both, for what stayed is a part of what it gave."""
    if grown is None or grown.permanent is None or grown.total <= 0 or grown.contradicts:
        return None
    least, most = grown.least, grown.most
    low, high = grown.permanent - SURE * grown.permanent_sd, grown.permanent + SURE * grown.permanent_sd
    lowest = low / (most if low >= 0 else max(least, 1e-3 * grown.total))
    return Figure(estimate=grown.permanent / grown.likeliest, low=lowest, high=high / least if least > 0 else None)


def _elastic(grown: _Grown | None) -> Figure | None:
    if grown is None or grown.permanent is None or grown.total <= 0 or grown.contradicts:
        return None
    sd = math.hypot(grown.total_sd, grown.permanent_sd)
    return _figure(grown.total - grown.permanent, sd, grown.at_most_less)


# -- the wall ------------------------------------------------------------------------------------


def _per_wall(sheet: ExpansionSheet, volume: float | None) -> float | None:
    """Elastic growth times wall, m⁴, of a plain shell between dished ends: flat ones bulge, and tubes hold it. It gives
    as one over its wall. None where modulus or shape is not known.
    """
    shell = sheet.vessel.shell
    if shell is None or volume is None or sheet.vessel.tubes:
        return None
    if any(end.form in ("flat", "stayed") for end in sheet.vessel.ends):
        return None
    metal = figures_of(shell.material, shell)
    give = wall_give(shell.form, shell.inside_diameter, 1.0, metal.youngs_modulus, metal.poisson)
    return give * volume * sheet.pressure if give > 0 and metal.youngs_modulus else None


def _computed(sheet: ExpansionSheet, volume: float | None) -> float | None:
    shell, per_wall = sheet.vessel.shell, _per_wall(sheet, volume)
    return None if per_wall is None or shell is None or shell.usual is None else per_wall / shell.usual


def _mean_wall(sheet: ExpansionSheet, volume: float | None, elastic: Figure | None) -> Figure | None:
    """The wall that would give what was measured."""
    per_wall, shell = _per_wall(sheet, volume), sheet.vessel.shell
    if per_wall is None or shell is None or elastic is None or elastic.estimate <= 0:
        return None
    wall = per_wall / elastic.estimate
    thick = SURE * (MODEL + wall / shell.inside_diameter)
    low = None if elastic.high is None else per_wall / elastic.high * (1 - min(thick, 0.9))
    high = None if elastic.low is None or elastic.low <= 0 else per_wall / elastic.low * (1 + thick)
    return Figure(estimate=wall, low=low, high=high)


def _thinnest(sheet: ExpansionSheet) -> float | None:
    """The thinnest that was measured anywhere on the shell, m."""
    shell = sheet.vessel.shell
    if shell is None or not (shell.wall_measured or shell.wall_readings):
        return None
    return shell.thinnest if shell.wall_measured else min(reading.wall for reading in shell.wall_readings)


# -- girths --------------------------------------------------------------------------------------


def _girth(sheet: ExpansionSheet, read: GirthRead) -> Girth:
    """Strains of a marked place; as reckoned, the hoop's of a thin shell, P R (1 − ν/2) / t E."""
    shell = sheet.vessel.shell
    computed = None
    if shell is not None and shell.usual is not None:
        metal = figures_of(shell.material, shell)
        if metal.youngs_modulus:
            share = 1 - metal.poisson / 2 if shell.form == "cylinder" else (1 - metal.poisson) / 2
            computed = sheet.pressure * shell.inside_diameter / 2 * share / (shell.usual * metal.youngs_modulus)
    return Girth(
        place=read.place,
        strain=None if read.at is None else read.at / read.before - 1,
        computed=computed,
        permanent=None if read.after is None else read.after / read.before - 1,
    )


def _girths(sheet: ExpansionSheet, girths: list[Girth], limit: float) -> list[Check]:
    """Of what a girth grew as much may stay as of a volume; the tape's own doubt decides whether that can be told."""
    if not girths or sheet.tape is None:
        return []
    told = [_girth_told(one, sheet.tape / read.before, limit) for one, read in zip(girths, sheet.girths, strict=True)]
    order: dict[bool | None, int] = {False: 0, None: 1, True: 2}
    return [_check("girth", *min(told, key=lambda one: order[one[0]]))]


def _girth_told(girth: Girth, step: float, limit: float) -> tuple[bool | None, Said]:
    """Whether one girth came back: what stayed of what it grew, by a tape that tells so much of it apart."""
    doubt = SURE * math.sqrt(2) * ERROR * step
    if girth.permanent is None:
        return None, say("expansion.girth-open", place=girth.place)
    if girth.permanent < -doubt:
        return None, say("expansion.girth-shrunk", place=girth.place)  # it cannot have: the tape slipped
    grew = girth.strain if girth.strain is not None else girth.computed
    facts = {"place": girth.place, "kept": girth.permanent * 100}
    if girth.permanent - doubt > GIRTH_KEEPS:
        return False, say("expansion.girth-says", **facts, limit=GIRTH_KEEPS * 100)
    if grew is None or grew <= 0:
        return None, say("expansion.girth-ungrown", place=girth.place)
    least = max(0.0, grew - doubt)
    met = between(girth.permanent - doubt, girth.permanent + doubt, -math.inf, limit * least)
    if girth.permanent - doubt <= limit * (grew + doubt) and met is False:
        met = None
    if met is None:
        return None, say("expansion.girth-coarse", **facts, grew=grew * 100, tape=doubt * 100)
    return met, say("expansion.girth-says", **facts, limit=limit * grew * 100)


# -- the answer ----------------------------------------------------------------------------------


def _check(code: str, met: bool | None, says: Said) -> Check:
    return Check(code=code, name=say(f"expansion.{code}"), state=state_of(met), says=says)


def _kept(grown: _Grown | None, ratio: Figure | None, limit: float, volume: float | None) -> Check:
    if grown is None:
        return _check("kept", None, say("expansion.kept-unmeasured" if volume else "expansion.kept-no-volume"))
    if grown.total <= 0:
        return _check("kept", None, say("expansion.kept-nothing"))
    if grown.permanent is not None and grown.contradicts:
        return _check("kept", None, say("expansion.kept-more-back", more=-grown.permanent))
    if ratio is None:
        return _check("kept", None, say("expansion.kept-no-back"))
    low, high = ratio.low if ratio.low is not None else -math.inf, math.inf if ratio.high is None else ratio.high
    facts = {
        "ratio": ratio.estimate * 100,
        "limit": limit * 100,
        "permanent": grown.permanent,
        "total": grown.likeliest,
    }
    form = "expansion.kept-says" if ratio.high is not None else "expansion.kept-open"
    most = None if ratio.high is None else ratio.high * 100
    met = between(low, high, -math.inf, limit)
    return _check("kept", met, say(form, **facts, low=max(0.0, low * 100), high=most))


def _reach(sheet: ExpansionSheet) -> list[Check]:
    """Measured at less than what was to be proven, it says nothing of that."""
    if sheet.asked is None:
        return []
    met = True if sheet.pressure >= AT * sheet.asked else None
    return [_check("reach", met, say("expansion.reach-says", pressure=sheet.pressure, asked=sheet.asked))]


def _air(grown: _Grown | None, ratio: Figure | None, limit: float) -> list[Check]:
    """More went in than the wall can give: air took it, or the wall is another; told, unless by the wall alone it is
    met.
    """
    if grown is None or grown.too_much <= 0:
        return []
    surely = ratio is not None and ratio.high is not None and ratio.high <= limit
    return [_check("air", True if surely else None, say("expansion.air-says", more=grown.too_much))]


def _wall(wall: Figure | None, thinnest: float | None) -> list[Check]:
    """Is the mean wall thinner than the thinnest that was measured? Where nothing was measured it is only told."""
    if wall is None or thinnest is None:
        return []
    high = math.inf if wall.high is None else wall.high
    bounded = wall.low is not None and wall.high is not None
    thick_enough = bounded and wall.estimate >= thinnest * (1 - MODEL)
    met = False if high < thinnest else True if thick_enough else None
    facts = {"wall": wall.estimate, "low": wall.low, "high": wall.high, "thinnest": thinnest}
    form = "thinner" if met is False else "says" if wall.high is not None and wall.low is not None else "open"
    return [_check("wall", met, say(f"expansion.wall-{form}", **facts))]


def _answer(checks: list[Check], *, measured: bool) -> Literal["met", "not met", "cannot-tell"]:
    """Girths stand in for volumes where those were not measured; whatever is not met is never outvoted."""
    state = {one.code: one.state for one in checks}
    if "not met" in state.values():
        return "not met"
    if "not known" in (state.get("reach"), state.get("air")):
        return "cannot-tell"
    by_girth = state.get("girth") == "met" and not measured
    return "met" if state["kept"] == "met" or by_girth else "cannot-tell"


def _says(answer: str, checks: list[Check], ratio: Figure | None, limit: float, pressure: float) -> Said:
    failed = [say("expansion.but", name=one.name, says=one.says) for one in checks if one.state == "not met"]
    if answer == "not met":
        return say("expansion.failed", why=failed)
    if answer == "cannot-tell":
        order = [*checks[1:3], checks[0]] if checks[0].state == "met" else checks
        return say("expansion.cannot-tell", why=next(one.says for one in order if one.state == "not known"))
    if checks[0].state == "met" and ratio is not None:
        return say("expansion.passed", ratio=ratio.estimate * 100, limit=limit * 100, pressure=pressure)
    return say("expansion.passed-girth", why=next(one.says for one in checks if one.code == "girth"))


def _settle(sheet: ExpansionSheet, grown: _Grown | None, ratio: Figure | None, limit: float) -> list[Sentence]:
    """What would settle what is open, with figures."""
    if grown is None or grown.permanent is None or ratio is None:
        return [say("expansion.settle-measure")]
    found: list[Sentence] = []
    if sheet.asked is not None and sheet.pressure < AT * sheet.asked:
        found.append(say("expansion.settle-up", asked=sheet.asked))
    away = abs(limit - ratio.estimate) * grown.total
    if sheet.water is not None and sheet.jacket is None and sheet.levels is None:
        if sheet.vessel.trapped_air is None or grown.too_much > 0:
            found.append(say("expansion.settle-air"))
        if sheet.water.by == "strokes":
            found.append(say("expansion.settle-strokes"))
    if grown.warm > away / (2 * SURE):
        found.append(say("expansion.settle-warmth"))
    step = away / (SURE * 2 * math.sqrt(2) * ERROR)
    read = sheet.jacket.step if sheet.jacket else sheet.water.step if sheet.water else None
    if read is not None and step < read:
        found.append(say("expansion.settle-step", step=step))
    return found or [say("expansion.settle-pressure")]


def _lines(
    sheet: ExpansionSheet, volume: float | None, grown: _Grown | None, ratio: Figure | None, wall: Figure | None
) -> list[Line]:
    found: list[Line] = []
    if grown is None:
        return found
    water = sheet.water if sheet.jacket is None and sheet.levels is None else None
    if water is not None and volume is not None:
        temperature = _temperature(sheet)
        took = Content(volume, 0.0, 0.0, 0.0, temperature).pumped(sheet.pressure)
        found.append(_line("compressed", "V_c", "∫ V κ(T, P) dP", amount(volume, "volume"), took, "IAPWS-95"))
        numbers = joined(amount(water.into, "volume", "mL"), " − ", amount(took, "volume", "mL"), " − …")
        formula = "V_in − V_c − V_hose − V_air P/(P + P_atm) + V (β − 3α) ΔT"
        found.append(_line("total", "ΔV_t", formula, numbers, grown.total, "handbook, compliance"))
    else:
        found.append(
            _line("total", "ΔV_t", "at − before", amount(grown.total, "volume", "mL"), grown.total, "the jacket")
        )
    if grown.permanent is not None:
        formula = "after − before" if water is None else "V_in − V_back + V (β − 3α) ΔT"
        kept = amount(grown.permanent, "volume", "mL", figures=2)
        found.append(_line("permanent", "ΔV_p", formula, kept, grown.permanent, "what stayed"))
    if ratio is not None and grown.permanent is not None:
        numbers = joined(amount(grown.permanent, "volume", "mL", figures=2), " / ", amount(grown.total, "volume", "mL"))
        found.append(
            Line(
                figure="ratio",
                symbol="ΔV_p/ΔV_t",
                formula="permanent / total",
                numbers=numbers,
                value=ratio.estimate,
                unit="",
                shown=f"{ratio.estimate * 100:.2g} %",
                source="49 CFR 180.205, CGA C-1",
            )
        )
    if wall is not None:
        found.append(
            Line(
                figure="mean_wall",
                symbol="t_mean",
                formula="P V R (5/2 − 2ν) / (E (ΔV_t − ΔV_p)), a sphere 3 P V R (1 − ν) / 2 E …",
                numbers=joined(
                    "for ",
                    amount(grown.total - (grown.permanent or 0.0), "volume", "mL"),
                    " at ",
                    amount(sheet.pressure, "pressure"),
                ),
                value=wall.estimate,
                unit="m",
                shown=amount(wall.estimate, "length"),
                source="thin-shell membrane theory",
            )
        )
    return found


def _line(figure: str, symbol: str, formula: str, numbers: Said | str, value: float, source: str) -> Line:
    return Line(
        figure=figure,
        symbol=symbol,
        formula=formula,
        numbers=numbers,
        value=value,
        unit="m³",
        shown=amount(value, "volume", "mL"),
        source=source,
    )

"""The judgement on a hold: tight, leaking, or cannot tell, and by how much."""

from dataclasses import dataclass, field
from pathlib import Path
from typing import Literal

import numpy as np

from toadbell.core.judge import detectability, verdict
from toadbell.core.judge import level as lv
from toadbell.core.judge import observations as hd
from toadbell.core.judge.answers import AcceptanceCheck, HoldPoint, JudgeAnswer, LeakEstimate, StepFound
from toadbell.core.judge.baseline import no_baseline
from toadbell.core.judge.log import Log, read_log
from toadbell.core.judge.model import VAPOUR_RISES
from toadbell.core.judge.observed import Observed
from toadbell.core.judge.outliers import Found
from toadbell.core.judge.possible import must_be_possible, past_the_end
from toadbell.core.judge.posterior import Posterior, posterior
from toadbell.core.judge.preprocess import EMPTY, Asked, Readings, observed, read
from toadbell.core.judge.remedies import SoFar, settle_it
from toadbell.core.judge.stretches import Low, cut, low_told, lows_held, lows_of, points_for, together
from toadbell.core.judge.unknowns import scaled
from toadbell.core.phrases import Said, amount, joined, of_scale, say
from toadbell.core.physics.air import vapour
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.physics.materials import figures_of
from toadbell.core.sheets import AgainstBaseline, HoldSheet, MaxDrop, MaxLeak, NoVisibleDrop, SheetError
from toadbell.core.units import ATMOSPHERE
from toadbell.core.vessel.sides import UNKNOWN, sides_of

STATED, COMPUTED = 0.02, 0.03
"""1 σ of a compliance as a part of it: measured by the strokes, or worked out from the vessel's figures."""
DRAWN = 240


@dataclass(frozen=True)
class Judged:
    """A judgement and what is needed to draw it."""

    answer: JudgeAnswer
    points: list[HoldPoint]


@dataclass(frozen=True)
class Weighed:
    """A log as it was read, and the leak by it: to be judged by one acceptance or another.

    lows   the low holds that were read along with it
    alone  1 σ of the leak by the test hold alone, m³/s; None where it is alone
    """

    readings: Readings
    medium: hd.Medium
    seen: Observed
    found: Posterior
    lows: list[Low] = field(default_factory=list)
    alone: float | None = None


def judge(
    log: Log, sheet: HoldSheet, *, baseline_folder: Path | None = None, asked: Asked | None = None
) -> JudgeAnswer:
    """What the log of a hold proves against the sheet's acceptance.

    baseline_folder  where a baseline log named in the sheet is looked for
    Raises SheetError where the log or the sheet cannot be used.
    """
    return judge_with_points(log, sheet, baseline_folder=baseline_folder, asked=asked).answer


def judge_with_points(
    log: Log, sheet: HoldSheet, *, baseline_folder: Path | None = None, asked: Asked | None = None
) -> Judged:
    """The same, with the corrected pressure and the fit at each reading."""
    asked = asked or Asked()
    return judged_by(weighed_hold(log, sheet, asked), sheet, asked, baseline_folder=baseline_folder)


def weighed_hold(log: Log, sheet: HoldSheet, asked: Asked, *, part: bool = False) -> Weighed:
    """What the log says of the leak, whatever would be accepted; raises SheetError where it cannot be used.

    part  it is of a part of the vessel alone, whose volume is not that of the shell
    """
    must_be_possible(log, sheet.model_copy(update={"shell": None}) if part else sheet)
    log, low = cut(log, sheet)
    r = read(log, sheet, asked)
    across = sheet.shell.inside_diameter if sheet.shell else None
    medium = hd.medium_of(r.content, r.start, across, barometer=log.barometer is not None, unsaid=unsaid_of(sheet, r))
    quick = asked.quick or asked.so_far
    lows = lows_of(low, sheet, asked)
    alone = observed(r, medium, hd.FEW_POINTS if quick else points_for(r, lows))
    seen = together(alone, r, lows, medium, quick=quick)
    known = STATED if sheet.compliance else COMPUTED
    without = posterior(alone, known, quick=True).sd if lows else None
    return Weighed(r, medium, seen, posterior(seen, known, quick=quick), lows, without)


def unsaid_of(sheet: HoldSheet, r: Readings | None = None) -> hd.Unsaid:
    """What a sheet leaves out that the compliance depends on; of a vessel under air by its readings."""
    if sheet.medium == "air":
        sides = None if r is None else sides_of(sheet, r.start)
        vapour = 0.0 if r is None else _vapour(sheet, r)
        return hd.Unsaid(sides=None if sides is None else (sides.give, sides.spread), vapour=vapour)
    metal = figures_of(sheet.shell.material, sheet.shell) if sheet.shell else None
    reckoned = sheet.compliance is None
    unknown = metal is None or metal.youngs_modulus is None or (sheet.shell is not None and sheet.shell.usual is None)
    return hd.Unsaid(
        air=reckoned and sheet.trapped_air is None,
        give=reckoned and unknown,
        modulus=metal.youngs_modulus if metal else None,
        creeps=metal is None or metal.creeps,
    )


WET, MAYBE_WET = 0.5, 0.03
"""How much damper air becomes over walls that were wet as it was closed, as a part of all it can hold, 1 σ: the room's
own was half of it; and of walls of which nobody said.
"""


def _vapour(sheet: HoldSheet, r: Readings) -> float:
    """Free air that the vapour from wet walls looks like, m³, 1 σ; gas over water is as damp as it can be already."""
    if sheet.wet is False or isinstance(r.content, Content) or r.content.damp:
        return 0.0
    waited = float(np.exp(-r.log.time[r.kept[0]] / VAPOUR_RISES))
    part = WET if sheet.wet else MAYBE_WET
    return part * waited * vapour(r.content.temperature) * r.content.volume / ATMOSPHERE


def judged_by(weighed: Weighed, sheet: HoldSheet, asked: Asked, *, baseline_folder: Path | None = None) -> Judged:
    """The judgement on what was weighed by the sheet's acceptance, which may be another than it was weighed with."""
    with of_scale(weighed.readings.start if sheet.test_pressure is None else sheet.test_pressure):
        return _answer(weighed, sheet, asked, baseline_folder)


# -- the answer --------------------------------------------------------------------------------


def _answer(weighed: Weighed, sheet: HoldSheet, asked: Asked, folder: Path | None) -> Judged:
    r, medium, seen, found = weighed.readings, weighed.medium, weighed.seen, weighed.found
    span = float(r.log.time[r.kept[-1]] - r.log.time[r.kept[0]])
    C = medium.compliance
    drop = float(r.pressure[r.kept[0]] - r.pressure[r.kept[-1]]) + sum(s.by for s in r.steps if s.kind == "jump")
    limit, limit_from = _limit(sheet, r, C, span, folder, asked)
    by_gauge = not isinstance(sheet.acceptance, MaxLeak)
    band = found.band(by_gauge=by_gauge)
    below = found.below(limit, by_gauge=by_gauge)
    leak = LeakEstimate(**band, from_none=verdict.told_as_none(band["low"], limit))
    level = lv.level_of(r, medium, leak.estimate, sheet, weighed.lows)
    doubted = found.wanders > verdict.CONTRADICTS
    said = verdict.decide(below, verdict.SO_FAR if asked.so_far else verdict.DOUBTED if doubted else verdict.CONFIDENCE)
    near = bool(weighed.lows) and r.warm is None and band["high"] > limit / 2
    leans = said == "tight" and near and found.readings_say(limit) < verdict.READINGS_SAY
    if leans:
        said = "cannot-tell"  # that small leaks are usual carried it, more than what was read
    against = lv.against(level, limit)
    if said == "tight" and sheet.holder is not None and sheet.holder.unsaid:
        against = against or say("hold.pipe-unsaid")  # it may lose more than is told
    if said == "tight" and sheet.holder is not None and sheet.holder.fed is not False:
        against = against or say("hold.makes-gas" if sheet.holder.fed else "hold.fed-unsaid")
    if against and (said == "tight" or (level.risen and level.rose)):
        said = "cannot-tell"
    guess = dict(zip(found.names, found.likeliest.tolist(), strict=True))
    every = span / max(1, len(r.kept) - 1)
    kit = detectability.Kit(r.gauge, r.probe if r.warm is not None else None, medium)
    held = lows_held(r, weighed.lows)
    so_far = SoFar(found.sd, every, kit, guess, held)
    more = (
        0.0
        if said != "cannot-tell"
        else detectability.more_hold(abs(limit - leak.estimate), found.sd, span, every, kit, guess, held)
    )
    if against:
        more = None if level.least is None else float(level.least - span)
    elif said == "cannot-tell" and more == 0.0:
        more = 60.0 * np.ceil(max(60.0, span * 0.15) / 60)
    warm_drop = None if r.warm is None else -float((r.warm[r.kept[-1]] - r.warm[r.kept[0]]) / C)
    swelling = r.content.swelling(r.start)
    scale = _level_scale(r, sheet, C)
    answer = JudgeAnswer(
        verdict=said,
        leak=leak,
        limit=limit,
        confidence=below,
        school=AcceptanceCheck(
            acceptance=next(iter(type(sheet.acceptance).model_fields)),
            met=_school_met(sheet, drop, span, C, r.gauge, limit),
        ),
        drop=drop,
        drop_from_temperature=warm_drop,
        hold=span,
        smallest_leak_to_tell=detectability.TELL * found.sd,
        more_hold_needed=more,
        signature=_signature(r, leak, drop, warm_drop),
        steps=[_step(s, False, scale) for s in r.steps] + [_step(s, True, scale) for s in r.put_back],
        excluded_until=asked.ignore,
        compliance=C,
        compliance_from="measured" if sheet.compliance else "computed",
        pressure_rate=verdict.as_said(said, leak) / C,
        drops_a_minute=verdict.as_said(said, leak) * 20e6 * 60,
        kelvin_to_explain=drop * C / swelling if abs(swelling) > 1e-3 * medium.swelling else None,
        readings=len(r.log.time),
        by_day=sheet.holder is not None,
        outer_air=_outer_air(r, sheet),
        level_scale=scale,
        of_make=band["high"] / sheet.holder.makes if sheet.holder and sheet.holder.makes else None,
        held_at=level.held_at,
        laws={str(law): share for law, share in found.laws.items()},
        says=verdict.sentence(
            said,
            leak,
            limit,
            level.held_at if said == "tight" else seen.start,
            against,
            by_day=sheet.holder is not None,
        ),
        school_says=None,
        settle_it=[],
        notes=[*_notes(r, sheet), *([say("hold.note-leans", part=verdict.READINGS_SAY)] if leans else [])],
        lines=[],
        low_holds=[low_told(low, C) for low in weighed.lows],
        smallest_alone=None if weighed.alone is None else detectability.TELL * weighed.alone,
    )
    answer = answer.model_copy(
        update={
            "seen_says": verdict.seen_sentence(answer),
            "notes": [
                *answer.notes,
                *verdict.low_notes(answer),
                *verdict.made_notes(answer),
                *verdict.beyond_notes(answer),
            ],
            "school_says": verdict.school_sentence(answer, r.warm is not None),
            "settle_it": [
                *_syringe(said, r.content, medium),
                *settle_it(answer, so_far, offer_low=_may_be_low(sheet, asked)),
            ]
            if against is None
            else [],
            "lines": verdict.lines(answer, limit_from),
        }
    )
    return Judged(answer, _points(r, seen, found, answer))


def _syringe(said: str, content: Content | AirContent, medium: hd.Medium) -> list[Said]:
    """A syringe of air tells what sides give that nobody knows: the first thing to do where they leave it open."""
    give = medium.vessel.unknown_give
    told = said != "cannot-tell" or give is None or give[1] < UNKNOWN[1]
    return [] if told or not isinstance(content, AirContent) else [say("hold.settle-syringe")]


def _may_be_low(sheet: HoldSheet, asked: Asked) -> bool:
    """May low holds be told as a way? Not under air, where they are not reckoned; and a sheet that names no stretches
    answers as before there were any, but where it is asked for.
    """
    return sheet.medium != "air" and (asked.offer_low or bool(sheet.holds))


def _limit(
    sheet: HoldSheet, r: Readings, C: float, span: float, folder: Path | None, asked: Asked
) -> tuple[float, tuple[str, str]]:
    """The acceptance as a leak, m³/s; formula and numbers of it."""
    wanted, content = sheet.acceptance, r.content
    least = sheet.hold.minimum if sheet.hold else lv.LEAST_HOLD
    one_step = C * r.gauge / (max(span, least) if isinstance(wanted, NoVisibleDrop) else span)
    if isinstance(wanted, MaxLeak):
        return wanted.max_leak, ("as asked", verdict.show_leak(wanted.max_leak))
    if isinstance(wanted, MaxDrop):
        if wanted.max_drop >= r.start:
            raise SheetError(
                "a drop of that size would empty the vessel: allow less than the pressure held", "acceptance.max_drop"
            )
        lost = content.pumped(r.start) - content.pumped(r.start - wanted.max_drop)
        numbers = joined(amount(wanted.max_drop, "pressure"), " over ", amount(wanted.over, "time"))
        return lost / wanted.over, ("∫C dP / t", numbers)
    if isinstance(wanted, AgainstBaseline):
        known = asked.baseline if asked.baseline is not None else _baseline(sheet, wanted, folder)
        limit = max(wanted.times * known, one_step)
        return limit, (
            "k × q_baseline, one step of the gauge at the least",
            joined(f"{wanted.times:g} × ", verdict.show_leak(known)),
        )
    return one_step, (
        "C × one step of the gauge / t",
        joined(amount(r.gauge, "pressure"), " in ", amount(max(span, least), "time")),
    )


def _baseline(sheet: HoldSheet, wanted: AgainstBaseline, folder: Path | None) -> float:
    if folder is None or Path(wanted.baseline).name != wanted.baseline:
        raise SheetError("the baseline must be a file beside the sheet", "acceptance.baseline")
    plain = sheet.model_copy(update={"acceptance": MaxLeak.model_construct(max_leak=1.0)})
    log = read_log(folder / wanted.baseline)
    told = judge(log, plain)
    against = no_baseline(told, sheet.gauge.readable if sheet.gauge else None)
    if against is not None:
        raise SheetError(against, "acceptance.baseline")
    return told.leak.estimate


def _school_met(sheet: HoldSheet, drop: float, span: float, C: float, step: float, limit: float) -> bool | None:
    """The school's own plain answer: what a person would say who looks at the drop alone."""
    if isinstance(sheet.acceptance, MaxDrop):
        return bool(drop / span * sheet.acceptance.over <= sheet.acceptance.max_drop * (1 + 1e-9)) if span else None
    if isinstance(sheet.acceptance, MaxLeak | AgainstBaseline):
        return bool(C * drop / span <= limit) if span else None
    return bool(drop < step)


def _signature(
    r: Readings, leak: LeakEstimate, drop: float, warm_drop: float | None
) -> Literal["steady", "settling", "thermal", "step", "none"]:
    if r.steps:
        return "step"
    if warm_drop is not None and abs(warm_drop) > max(r.gauge, abs(drop) / 2):
        return "thermal"
    if drop < -2 * r.gauge:
        return "thermal"
    if leak.low > 0:
        return "steady"
    return "settling" if r.settled else "none"


def _outer_air(r: Readings, sheet: HoldSheet) -> float | None:
    """By how much the outer air rose over a hold of gas, Pa; None where it was not read."""
    outer = r.log.barometer
    if sheet.holder is None or outer is None:
        return None
    return float(outer[r.kept[-1]] - outer[r.kept[0]])


def _level_scale(r: Readings, sheet: HoldSheet, C: float) -> float | None:
    """Metres of level that a pascal stands for; None where it is not judged by a level."""
    holder = sheet.holder
    if holder is None or not holder.level_tells or holder.area is None:
        return None
    return C * ATMOSPHERE / (ATMOSPHERE + r.start) / holder.area


def _step(step: Found, put_back: bool, level: float | None = None) -> StepFound:
    """A step as it is told; level: metres that a pascal of it stands for, where it is one of a level."""
    way = "above" if step.by > 0 else "below"
    form = (
        f"hold.step-reading-{way}" if step.kind == "reading" else "hold.step-rose" if step.by > 0 else "hold.step-fell"
    )
    if level is not None:
        form = "hold.step-level-apart" if step.kind == "reading" else f"hold.step-level-{way}"
    says = say(form, at=step.time, by=abs(step.by) * (1.0 if level is None else level))
    return StepFound(kind=step.kind, time=step.time, by=step.by, says=says, put_back=put_back)


def _notes(r: Readings, sheet: HoldSheet) -> list[str]:
    """What a reader has to know of how the log was taken."""
    notes: list[str] = []
    if r.steps:
        notes.append(say("hold.note-steps", count=len(r.steps)))
    if r.drips:
        notes.append(say("hold.note-drips", by=abs(r.drips[len(r.drips) // 2].by)))
    if r.settled:
        notes.append(say("hold.note-settled", over=r.settled))
    if r.kept[-1] < len(r.log.time) - 1 and r.pressure[-1] < EMPTY * r.start:
        notes.append(say("hold.note-emptied"))
    if past := int(past_the_end(r.log, sheet).sum()):
        notes.append(say("hold.note-past-end", count=past))
    if sheet.compliance:
        notes.append(say("hold.note-compliance"))
    if sheet.medium == "air" and r.log.barometer is None and r.start < 20e3 and (r.warm is None or sheet.holder):
        notes.append(say("hold.note-barometer"))
    if sheet.holder is not None and sheet.holder.unsaid:
        notes.append(say("hold.note-pipe"))
    return notes


def _points(r: Readings, seen: Observed, found: Posterior, answer: JudgeAnswer) -> list[HoldPoint]:
    """At most DRAWN points of the whole log."""
    n = len(r.log.time)
    edges = np.arange(n) if n <= DRAWN else np.unique(np.linspace(0, n, DRAWN + 1).astype(int)[:-1])
    time, pressure = hd.averaged(r.log.time, edges), hd.averaged(r.pressure, edges)
    felt = None if r.temperature is None else hd.averaged(r.temperature, edges)
    cut = hd.averaged(~np.isin(np.arange(n), r.kept), edges) > 0.5
    corrected = None
    if r.warm is not None:
        told = scaled(found.likeliest[None, :], found.names, seen.following, seen.vessel)
        share = max(0.5, 1 - float((told.probe - told.lag / told.following).item()))
        jumped = np.array([sum(s.by for s in r.steps if s.kind == "jump" and time_ >= s.time) for time_ in time])
        corrected = pressure - jumped - hd.averaged(r.warm - r.warm[r.kept[0]], edges) / share / answer.compliance
    begun = float(r.log.time[r.kept[0]])
    start = float((pressure if corrected is None else corrected)[~cut][: max(1, len(time) // 20)].mean())

    def lost(leak: float, at: float) -> float:
        return start - leak * (at - begun) / answer.compliance

    return [
        HoldPoint(
            time=float(time[i]),
            pressure=float(pressure[i]),
            corrected=None if corrected is None else float(corrected[i]),
            fit=lost(answer.leak.estimate, time[i]),
            low=lost(answer.leak.high, time[i]),
            high=lost(answer.leak.low, time[i]),
            limit=lost(answer.limit, time[i]),
            temperature=None if felt is None else float(felt[i]),
            cut=bool(cut[i]),
        )
        for i in range(len(time))
    ]

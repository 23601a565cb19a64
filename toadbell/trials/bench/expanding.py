"""What is measured beside a proof: a vessel's expansion, with the run's own pressure, strokes, air and warmth; and a
joint's turns.
"""

import datetime

from django.db.models import Exists, Max, OuterRef, QuerySet

from toadbell.core.judge.again import Proof, beside, surely_kept
from toadbell.core.judge.expansion import SURE, ExpansionAnswer, expands
from toadbell.core.judge.tightening import TighteningAnswer
from toadbell.core.procedures import PROCEDURES, expansion, tightening
from toadbell.core.procedures.expansion import INSTRUMENTS_OF_IT, Raised, marks_of
from toadbell.core.run.observed import observed
from toadbell.core.run.phases import RunState
from toadbell.trials.bench.run_state import run_state
from toadbell.trials.bench.shapes import ExpansionOut
from toadbell.trials.bench.stroke_analysis import strokes_answer, strokes_made
from toadbell.trials.models import Event, Reading, Source, Trial
from toadbell.trials.plan.frozen import Plan, plan_of

Seen = expansion.Seen


def measured(events: list[Event]) -> Seen:
    """What was measured so far, by instrument and place: what was read before there was pressure stands through every
    raising, all else is of the last.
    """
    down = max(
        (n for n, event in enumerate(events) if event.kind == "gone-back" and not event.data.get("to")), default=-1
    )
    last = events[down + 1 :]
    return {
        what: {
            **{place: one for place, one in observed(events, what).items() if place.endswith("before")},
            **observed(last, what),
        }
        for what in INSTRUMENTS_OF_IT
    }


def may_measure(plan: Plan) -> bool:
    """Can what this vessel gives be measured in this trial?"""
    panels = PROCEDURES[plan.answer.procedure].panels
    return "expansion" in panels and expands(plan.sheet)


def expansion_of(trial: Trial, plan: Plan, events: list[Event], stands: RunState) -> ExpansionAnswer | None:
    """What its expansion proves so far, beside what the last trial before it kept; None where none was measured, and
    the trial is none of expansion.
    """
    alone = _alone(trial, plan, events, stands)
    if alone is None or surely_kept(alone.grown) is None:
        return None if alone is None else alone.grown
    before = _before(trial)
    return alone.grown if before is None else beside(alone, before)


def _before(trial: Trial) -> Proof | None:
    """The last trial before it that was decided and measured what stayed; None where none did."""
    measured = Exists(Event.objects.filter(trial=OuterRef("pk"), kind="observed", data__what__in=INSTRUMENTS_OF_IT))
    earlier = Trial.objects.filter(measured, vessel=trial.vessel_id, number__lt=trial.number, decision__isnull=False)
    for one in earlier.exclude(source=Source.RIG).order_by("-number"):
        events = one.effective_events()
        found = _alone(one, plan_of(one), events, run_state(one, events))
        if found is not None and found.grown.permanent is not None:
            return found
    return None


def _alone(trial: Trial, plan: Plan, events: list[Event], stands: RunState) -> Proof | None:
    """What its expansion proves by itself."""
    if not may_measure(plan):
        return None
    seen = measured(events)
    if plan.answer.procedure != "expansion" and not any(seen.values()):
        return None
    told = raised(trial, plan, events, stands)
    grown = expansion.judged(plan.sheet, plan.answer, seen, told)
    return None if grown is None else Proof(trial.number, told.pressure or plan.answer.test_pressure, grown)


def raised(trial: Trial, plan: Plan, events: list[Event], stands: RunState) -> Raised:
    """What the run tells of it: how high it was, by how many strokes, with how much air, how warm."""
    head = plan.answer.gauge_target - plan.answer.test_pressure
    since = stands.counted[0] if stands.counted else trial.started_at
    rows = trial.readings.filter(imported=None)
    under = rows.filter(at__gte=since) if since else rows
    highest = under.aggregate(high=Max("pressure"))["high"]
    before, at = _warm_at(rows, since), _warm_at(rows, stands.hold[0]) if stands.hold else None
    told = strokes_answer(trial, stands)
    return Raised(
        pressure=None if highest is None else highest - head,
        strokes=strokes_made(trial, stands, events) or None,
        air=(max(0.0, told.air.estimate), (told.air.high - told.air.low) / (2 * SURE))
        if told is not None and told.air is not None
        else None,
        before=before,
        at=at,
    )


WARM_FOR = datetime.timedelta(minutes=10)
"""A temperature that was read longer ago, or later, than that says nothing of the moment."""


def _warm_at(rows: QuerySet[Reading], moment: datetime.datetime | None) -> float | None:
    """The water's temperature as it was read last before a moment, or else first after it, K; None where it was not."""
    if moment is None:
        return None
    warm = rows.filter(temperature__isnull=False).order_by("at")
    last = warm.filter(at__gte=moment - WARM_FOR, at__lte=moment).last()
    found = last or warm.filter(at__gt=moment, at__lte=moment + WARM_FOR).first()
    return found.temperature if found else None


def expansion_out(trial: Trial, events: list[Event], stands: RunState) -> ExpansionOut | None:
    """What is measured of its expansion: where, what the strokes offer as water in, and what it proves so far."""
    plan = plan_of(trial)
    if not may_measure(plan):
        return None
    strokes, stroke = strokes_made(trial, stands, events), plan.sheet.pump.stroke if plan.sheet.pump else None
    kit = plan.sheet.expansion
    return ExpansionOut(
        judged=expansion_of(trial, plan, events, stands) if trial.started_at else None,
        strokes=strokes or None,
        counted=strokes * stroke if strokes and stroke else None,
        marks=marks_of(kit),
        jacket="level" if kit and kit.tank else "burette" if kit and kit.burette else None,
    )


def joint_of(trial: Trial, plan: Plan, events: list[Event]) -> TighteningAnswer | None:
    """What a joint's turns show so far; None for any other trial."""
    return tightening.judged(plan.sheet, plan.answer, events) if plan.answer.procedure == "tightening" else None

"""The now card: what is to be done now, and the step that comes next."""

import datetime
import math
from collections.abc import Sequence

from toadbell.core.answers import Answer, DeriveAnswer, StageAnswer
from toadbell.core.phrases import Said, Sentence, of_scale, say
from toadbell.core.run.headline import Seen, headline
from toadbell.core.run.low import LowStands
from toadbell.core.run.phases import Phase, RunState
from toadbell.core.run.steps import STEPS

JUDGE = "judge"
"""What comes next where no step of the run does: the judge's room."""


class Now(Answer):
    """One line, a detail, the step that comes next and what stands on its key, the zone, and whole strokes to the next
    stage.
    """

    says: Sentence
    detail: Sentence
    step: str | None
    label: Sentence | None
    zone: str
    to_go: int | None = None


_NEXT: dict[Phase, tuple[str, str]] = {
    "filling": ("vent-shut", "near"),
    "at test": ("shut-in", "line"),
    "holding": ("hold-ended", "line"),
    "held": ("came-down", "line"),
    "looking": ("looked", "near"),
    "looked": ("released", "near"),
    "released": ("vent-open", "near"),
    "vented": ("emptied", "near"),
    "emptied": ("dried", "near"),
    "dried": (JUDGE, "near"),
    "dumped": (JUDGE, "near"),
    "over": (JUDGE, "near"),
}
"""The step that comes next in each phase, and the zone."""


def now_card(
    stands: RunState,
    answer: DeriveAnswer,
    *,
    dial: bool,
    now: datetime.datetime,
    strokes: int,
    needs: Sequence[str] = (),
    cures: str = "",
    low: LowStands | None = None,
    seen: Seen | None = None,
) -> Now:
    """What is to be done now: the worst that is open, or what comes next by the log and the last reading.

    dial     readings are typed from a dial; else a logger reads
    now      the trial's time
    strokes  made so far
    needs    steps that are to be written down before anything is closed up
    cures    what a leak was sealed with and till when it cures, in words
    low      where the low holds stand
    seen     what was read last, and what is open; None: nothing was read
    """
    seen = seen or Seen()
    with of_scale(answer.test_pressure):
        card = _card_now(stands, answer, seen, dial=dial, now=now, strokes=strokes, needs=needs, cures=cures, low=low)
        return card.model_copy(update={"zone": _zone(card.zone, stands, answer, seen)})


def _card_now(
    stands: RunState,
    answer: DeriveAnswer,
    seen: Seen,
    *,
    dial: bool,
    now: datetime.datetime,
    strokes: int,
    needs: Sequence[str],
    cures: str,
    low: LowStands | None,
) -> Now:
    first = headline(stands, answer, seen)
    if first is not None:
        label = None if first.step is None else _label(first.step, answer.medium, answer.procedure)
        return Now(says=first.says, detail=first.detail, step=first.step, label=label, zone=first.zone)
    waits = stands.phase == "filling" or (stands.phase == "raising" and stands.reached == 0)
    if needs and waits:
        before = needs[0]
        says, detail = say(f"now.{before}"), say(f"now.{before}-detail", cures=cures)
        return Now(says=says, detail=detail, step=before, label=STEPS[before].label, zone="near")
    held_low = _held_low(stands, answer, low, now)
    if held_low is not None:
        return held_low
    if dial and stands.phase == "raising" and stands.reached == 0 and stands.round > 0 and seen.read is None:
        says, detail = say("now.zero-first"), say("now.zero-first-detail")
        return Now(says=says, detail=detail, step=None, label=None, zone="line")
    if stands.phase in ("raising", "pausing"):
        to_its_set = not stands.has_hold and stands.phase == "raising" and stands.reached >= len(answer.stages) - 1
        if stands.reached < len(answer.stages) and not to_its_set:
            return _raising(stands, answer, strokes, seen)
        return _at_test(stands, answer, dial, seen)
    if stands.phase == "at test":
        return _at_test(stands, answer, dial, seen)
    if stands.phase == "dumped":
        return _dumped(answer, seen)
    if answer.procedure == STEAMED and stands.phase in _SAID_OF_STEAM:
        return _of_steam(stands.phase)
    if stands.phase == "looking" and seen.above(1.1 * answer.hold.look_pressure):
        facts = {"read": seen.read, "look": answer.hold.look_pressure}
        says, detail = say("now.too-high-to-look", **facts), say("now.too-high-to-look-detail", **facts)
        return Now(says=says, detail=detail, step="came-down", label=STEPS["came-down"].label, zone="line")
    over = stands.phase == "holding" and stands.until is not None and now >= stands.until
    said = (say("now.over"), say("now.over-detail")) if over else _said(stands.phase, answer, dial)
    if stands.phase == "released" and seen.above(0.0):
        said = say("now.not-zero", read=seen.read), say("now.not-zero-detail")
    return _card(stands.phase, *said, answer.medium)


def near_up_to(answer: DeriveAnswer) -> float:
    """The highest pressure of the plan at which somebody may be near, Pa gauge; 0 where there is none."""
    return max((stage.target for stage in answer.stages if stage.zone == "near"), default=0.0)


def _zone(zone: str, stands: RunState, answer: DeriveAnswer, seen: Seen) -> str:
    """Near only where what was read last allows it; after a dump where zero was read."""
    if stands.phase == "dumped":
        return "near" if seen.zero else "line"
    if stands.phase == "released" and (stands.guards or seen.leaks or seen.failed):
        return "line" if seen.read is None or seen.above(0.0) else zone
    pressed = stands.phase in ("raising", "pausing", "at test", "holding", "held")
    near = near_up_to(answer)
    return "line" if answer.procedure != STEAMED and pressed and seen.above(NEAR_BAND * near) else zone


NEAR_BAND = 1.05
"""Somebody who may be near at a pressure may be so at a twentieth more."""


def _dumped(answer: DeriveAnswer, seen: Seen) -> Now:
    if answer.procedure == STEAMED:
        return _of_steam("dumped")
    form = "dumped-zero" if seen.zero else "dumped-not-zero"
    says, detail = say(f"now.{form}"), say(f"now.{form}-detail")
    return Now(says=says, detail=detail, step=JUDGE, label=say("now.to-the-judge"), zone="line")


def _held_low(stands: RunState, answer: DeriveAnswer, low: LowStands | None, now: datetime.datetime) -> Now | None:
    """The low hold that goes on, or that the plan asks for now; None where the run goes on as ever."""
    planned = answer.hold.low
    if low is None or planned is None:
        return None
    zone = answer.stages[0].zone
    facts = {"long": planned.long, "at": planned.pressure}
    first = stands.phase in ("raising", "pausing")
    if low.going is not None and (now - low.going).total_seconds() < planned.long:
        after = "stage-reached" if first else "released"
        says, detail = say("now.low-going"), say("now.low-going-detail", **facts)
        return Now(says=says, detail=detail, step=after, label=STEPS[after].label, zone=zone)
    begins = first and stands.reached == 1 and not low.before and not low.pumped
    if planned.chosen and (begins or (stands.phase == "looked" and not low.after)):
        form = "begin" if first else "after"
        says, detail = say(f"now.low-{form}", **facts), say(f"now.low-{form}-detail", **facts)
        return Now(says=says, detail=detail, step="low-hold", label=STEPS["low-hold"].label, zone=zone)
    return None


def _at_test(stands: RunState, answer: DeriveAnswer, dial: bool, seen: Seen) -> Now:
    """At the test pressure: shut in and hold; a relief valve is raised till it lifts."""
    if stands.has_hold and seen.short_of(answer.target_band[0]):
        facts = {"target": answer.gauge_target, "read": seen.read, "near": _near("line")}
        says, detail = say("now.low-again", target=answer.gauge_target), say("now.low-again-detail", **facts)
        return Now(says=says, detail=detail, step=None, label=None, zone="line")
    if stands.has_hold:
        return _card("at test", *_said("at test", answer, dial), answer.medium)
    steamed = answer.procedure == STEAMED
    form = f"-{answer.procedure}" if answer.procedure in (STEAMED, BURSTS) else ""
    label = say(f"step.tried-label{form}")
    says, detail = say(f"now.lift{form}"), say(f"now.lift-detail{form}")
    return Now(says=says, detail=detail, step="tried", label=label, zone="near" if steamed else "line")


def _label(step: str, medium: str, procedure: str = "") -> Said:
    """What stands on a step's key, in the words of what the vessel is filled with, and of its kind of trial."""
    if step == "tried" and procedure in (STEAMED, BURSTS):
        return say(f"step.tried-label-{procedure}")
    air = medium != "water" and step == "vent-shut"
    return say("step.vent-shut-label-air") if air else STEPS[step].label


def _card(phase: Phase, says: Said, detail: Said, medium: str) -> Now:
    let_go = medium != "water" and phase in _LET_GO
    step, zone = (JUDGE, "near") if let_go else _NEXT[phase]
    label = say("now.to-the-judge") if step == JUDGE else _label(step, medium)
    return Now(says=says, detail=detail, step=step, label=label, zone=zone)


def _near(zone: str) -> Said:
    return say("now.behind" if zone == "line" else "now.near")


PASSED = 1.05
"""A stage is passed where the gauge shows a twentieth more than was to be reached."""


def _passed(stands: RunState, answer: DeriveAnswer, of: Said, seen: Seen) -> Now | None:
    """What is read has reached the stage that comes next, or is over it; None where it is still to be raised."""
    stage, label = answer.stages[stands.reached], STEPS["stage-reached"].label
    if seen.read is None or seen.short_of(stage.target):
        return None
    zone = _zone(stage.zone, stands, answer, seen)
    form = "passed" if seen.above(PASSED * stage.target) else "reached"
    if form == "reached" and stands.phase == "pausing":
        form = "passed"  # it was pumped on before the pause was over
    facts = {"read": seen.read, "of": of, "target": stage.target, "near": _near(zone)}
    says, detail = say(f"now.{form}", read=seen.read), say(f"now.{form}-detail", **facts)
    return Now(says=says, detail=detail, step="stage-reached", label=label, zone=zone, to_go=0)


def _raising(stands: RunState, answer: DeriveAnswer, strokes: int, seen: Seen) -> Now:
    stage = answer.stages[stands.reached]
    left = None if stage.strokes is None else max(0, math.floor(stage.strokes) - strokes)
    of = say("now.of", number=stands.reached + 1, count=len(answer.stages))
    label = STEPS["stage-reached"].label
    if answer.procedure == STEAMED:
        return _heating(stands, stage, of, at_work=stands.reached >= len(answer.stages) - 1)
    passed = _passed(stands, answer, of, seen)
    if passed is not None:
        return passed
    if stands.phase == "pausing":
        before = answer.stages[stands.reached - 1]
        says = say("now.wait-line" if before.zone == "line" else "now.wait")
        detail = say("now.wait-detail", look_at=before.look_at, of=of, target=stage.target)
        return Now(says=says, detail=detail, step="stage-reached", label=label, zone=before.zone, to_go=left)
    parts = [
        of,
        *([] if left is None else [say("now.to-go", strokes=left)]),
        _near(_zone(stage.zone, stands, answer, seen)),
    ]
    says, detail = say("now.raise", target=stage.target), say("now.dotted", parts=parts)
    return Now(says=says, detail=detail, step="stage-reached", label=label, zone=stage.zone, to_go=left)


BURSTS = "burst"
"""The kind of trial that ends in failure."""
STEAMED = "steam"
"""The kind of trial that is raised by fire, and not by a pump."""
_SAID_OF_STEAM: dict[Phase, tuple[str, str]] = {
    "filling": ("fill", "vent-shut"),
    "looked": ("looked", "released"),
    "released": ("released", "vent-open"),
    "dumped": ("dumped", JUDGE),
}
"""What is said of a boiler on its fire in each phase, and the step that comes next."""


def _of_steam(phase: Phase) -> Now:
    name, step = _SAID_OF_STEAM[phase]
    own = {"vent-shut", "released"}
    label = say("now.to-the-judge") if step == JUDGE else say(f"step.{step}-label{'-steam' if step in own else ''}")
    says, detail = say(f"now.{name}-steam"), say(f"now.{name}-detail-steam")
    return Now(says=says, detail=detail, step=step, label=label, zone="near")


def _heating(stands: RunState, stage: StageAnswer, of: Said, *, at_work: bool) -> Now:
    """On the way up on its fire; at the last stage under the valve's set feeds and glass are tried."""
    label = STEPS["stage-reached"].label
    if stands.phase == "pausing":
        says = say("now.wait-steam")
        detail = say(f"now.wait-detail-{'feeds' if at_work else 'steam'}", of=of, target=stage.target)
    else:
        says, detail = say("now.raise-steam", target=stage.target), say("now.dotted", parts=[of, say("now.stay")])
    return Now(says=says, detail=detail, step="stage-reached", label=label, zone="near")


def _said(phase: Phase, answer: DeriveAnswer, dial: bool) -> tuple[Said, Said]:
    """The line and its detail of a phase other than raising."""
    if phase == "at test" and answer.hold.settle is not None:
        return say("now.settles", settle=answer.hold.settle), say("now.settles-detail", target=answer.gauge_target)
    if phase == "at test":
        return say("now.at-test"), say("now.at-test-detail", hold=answer.hold.minimum)
    if phase == "holding":
        every = answer.hold.every
        form = "dial" if dial else "logger"
        return say("now.holding"), say(f"now.holding-detail-{form}", every=every)
    if phase == "held":
        return say("now.held", look=answer.hold.look_pressure), say("now.held-detail")
    if answer.medium != "water" and phase in _LET_GO:
        return say("now.released-air"), say("now.released-detail-air")
    if phase == "vented":
        drain = answer.water.drain_time
        return say("now.vented"), say("now.vented-detail") if drain is None else say(
            "now.vented-detail-time", time=drain
        )
    name = {"filling": "fill", "over": "run-over"}.get(phase, phase)
    if answer.medium != "water" and phase in _SAID_UNDER_AIR:
        return say(f"now.{name}-air"), say(f"now.{name}-detail-air")
    return say(f"now.{name}"), say(f"now.{name}-detail")


_SAID_UNDER_AIR: frozenset[Phase] = frozenset({"filling", "looking"})
"""Phases in which air asks for something else than water."""
_LET_GO: frozenset[Phase] = frozenset({"released", "vented", "emptied"})
"""Phases after which nothing is left to do under air, where a run of an older release came so far."""

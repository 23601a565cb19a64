"""The steps of a run: what may be done when, and what is logged of it."""

import datetime
import functools
import uuid
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django.db.models import Max

from toadbell.core import units
from toadbell.core.answers import DeriveAnswer, StageAnswer
from toadbell.core.bench import rig as simulated
from toadbell.core.sheets import VesselSheet
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.trials.bench.guards import guard_of, trip
from toadbell.trials.bench.readings import NOT_ON, ON_THE_BENCH, latest
from toadbell.trials.bench.rig import change_rig
from toadbell.trials.bench.run_state import AFTER, RunState, run_state
from toadbell.trials.bench.stroke_analysis import strokes_in_all
from toadbell.trials.models import Event, Source, State, Trial
from toadbell.trials.plan.frozen import plan_of

SHOWS = ("dry", "damp", "weep", "drip", "stream", "bubbles")
"""How a leak shows; dry where one was heard or suspected and none is seen."""
LONGEST_HOLD = 7 * 86_400.0


@dataclass(frozen=True)
class Step:
    """A step that somebody takes: on which trial, by whom, with what, and when where it could not be sent at once."""

    trial: Trial
    maker: Maker
    id: uuid.UUID
    data: dict[str, Any]
    at: datetime.datetime | None

    def log(self, kind: str, **data: Any) -> Event:
        """Log it."""
        return self.trial.log(kind, self.maker, event_id=self.id, at=self.at, **data)

    def enter(self, state: State, kind: str, **data: Any) -> Event:
        """Change the trial's state and log it."""
        return self.trial.enter(state, kind, self.maker, event_id=self.id, at=self.at, **data)

    def text(self, key: str, most: int = 500) -> str:
        """A text that came with it, trimmed."""
        return str(self.data.get(key) or "").strip()[:most]


# -- raising -----------------------------------------------------------------------------------------------------------


def _vent_shut(step: Step) -> Event:
    step.trial.must_be(State.RUNNING, NOT_ON)
    if run_state(step.trial).phase != "filling":
        raise NotNow("The vent is shut already.")
    change_rig(step.trial, lambda rig, state: simulated.close_vent(state))
    return step.log("vent-shut", strokes=strokes_in_all(step.trial))


def _stage_reached(step: Step) -> Event:
    trial = step.trial
    trial.must_be(State.RUNNING, NOT_ON)
    sheet, answer = plan_of(trial)
    stands, seen = run_state(trial), latest(trial)
    if stands.phase not in ("raising", "pausing") or stands.reached >= len(answer.stages):
        raise NotNow("There is no stage to reach now.")
    _no_guard(stands)
    stage = answer.stages[stands.reached]
    short = reading_error(sheet, answer)
    best = trial.readings.filter(at__gte=stands.since, imported=None).aggregate(best=Max("pressure"))["best"]
    highest = 0.0 if seen is None else max(best or 0.0, seen.pressure)
    if seen is None or highest < stage.target - short:
        last = "nothing was read yet" if seen is None else f"the last reading is {show(seen.pressure, step.maker)}"
        raise NotNow(f"{show(stage.target, step.maker)} is to be reached and {last}. Pump on and read again.")
    change_rig(trial, lambda rig, state: simulated.pump(state, 0))
    early = (stands.until - (step.at or trial.now())).total_seconds() if stands.phase == "pausing" and stands.until else 0.0
    skipped = {"early": early} if early > 0 else {}
    return step.log("stage-reached", stage=stands.reached, name=stage.name, pressure=highest, **skipped)


def _no_guard(stands: RunState) -> None:
    """Nothing goes on while a guard stands."""
    if stands.guards:
        raise NotNow(f"{stands.guards[-1].data['says']} Answer that first.")


def reading_error(sheet: VesselSheet, answer: DeriveAnswer) -> float:
    """How far short of a target a reading may be and still be it, Pa: what the gauge can tell, else half a per cent."""
    return (sheet.gauge.readable if sheet.gauge else None) or 0.005 * answer.test_pressure


def _gone_back(step: Step) -> Event:
    trial, to, vent = step.trial, step.data.get("to"), step.data.get("vent", False)
    trial.must_be(ON_THE_BENCH, NOT_ON)
    _, answer = plan_of(trial)
    stands = run_state(trial)
    if stands.phase in ("filling", *_LET_GO):
        raise NotNow("There is no pressure to come down from.")
    if not isinstance(to, int) or isinstance(to, bool) or not 0 <= to <= max(0, stands.reached) or not isinstance(vent, bool):
        raise NotNow(f"Go back to a stage that was reached, 0 for no pressure at all, not beyond {stands.reached}.")
    if vent and to:
        raise NotNow("To vent again the pressure has to be let go first: go back to nothing.")
    down_to = answer.stages[to - 1].target if to else 0.0

    def back(rig: simulated.Rig, state: simulated.RigState) -> simulated.RigState:
        return simulated.dump(rig, state) if vent else simulated.set_shut_off(simulated.bleed_to(rig, state, down_to), False)

    change_rig(trial, back)
    return step.enter(State.RUNNING, "gone-back", to=to, vent=vent, why=step.text("why"), pressure=down_to, strokes=strokes_in_all(trial))


_LET_GO = ("released", "vented", "emptied", "dried", "dumped", "over")


# -- the hold ----------------------------------------------------------------------------------------------------------


def _shut_in(step: Step) -> Event:
    step.trial.must_be(State.RUNNING, NOT_ON)
    seen, stands = latest(step.trial), run_state(step.trial)
    if stands.phase in ("filling", "holding"):
        raise NotNow("The vent is still open." if stands.phase == "filling" else "It is shut in already.")
    if seen is None or seen.pressure <= 0:
        raise NotNow("There is no pressure to hold: log a reading first.")
    _no_guard(stands)
    change_rig(step.trial, lambda rig, state: simulated.set_shut_off(state, True))
    return step.log("shut-in", pressure=seen.pressure)


def _hold_set(step: Step) -> Event:
    step.trial.must_be(State.RUNNING, NOT_ON)
    seconds, stands = step.data.get("seconds"), run_state(step.trial)
    if stands.phase != "holding":
        raise NotNow("No hold is running.")
    if not isinstance(seconds, int | float) or isinstance(seconds, bool) or not 0 < seconds <= LONGEST_HOLD:
        raise NotNow("Say how long the hold is to be, up to a week.")
    if seconds < stands.hold_for:
        raise NotNow("A hold is lengthened here. To make it shorter, end it, with the reason.")
    return step.log("hold-set", seconds=float(seconds))


def _end_hold(step: Step) -> Event:
    step.trial.must_be(State.RUNNING, NOT_ON)
    stands = run_state(step.trial)
    if stands.phase != "holding":
        raise NotNow("No hold is running.")
    reason = step.text("reason")
    if stands.until and (step.at or step.trial.now()) < stands.until and not reason:
        raise NotNow("The hold is not over. To end it early, say why: the reason stays on the record.")
    return step.enter(State.HELD, "hold-ended", reason=reason)


# -- after the hold ----------------------------------------------------------------------------------------------------


def _after(kind: str, step: Step) -> Event:
    trial = step.trial
    trial.must_be((State.HELD, State.JUDGED), "That comes after the hold; to let go now, dump.")
    stands = run_state(trial)
    done = {event.kind for event in trial.effective_events()}
    if kind in done and stands.phase != "held":
        raise NotNow("That was done already.")
    order = ["held", "looking", "looked", "released", "vented", "emptied", "dried"]
    turn = AFTER.index(kind)
    if order.index(stands.phase) < turn and kind in ("vent-open", "emptied", "dried"):
        raise NotNow(_BEFORE[kind])
    if kind == "came-down":
        look = plan_of(trial)[1].hold.look_pressure
        change_rig(trial, lambda rig, state: simulated.bleed_to(rig, state, look))
        return step.log(kind, pressure=look)
    if kind == "released":
        change_rig(trial, lambda rig, state: simulated.bleed_to(rig, state, 0.0))
    if kind == "vent-open":
        change_rig(trial, simulated.dump)
    return step.log(kind)


_BEFORE = {
    "vent-open": "Release comes before the vent is opened.",
    "emptied": "Open the vent before the drain, or the vessel draws a vacuum and folds.",
    "dried": "Empty it first.",
}


# -- at any time -------------------------------------------------------------------------------------------------------


def _note(step: Step) -> Event:
    text = step.text("text", 4000)
    if not text:
        raise NotNow("An empty note says nothing: write a word or two.")
    return step.log("note", text=text)


def _leak(step: Step) -> Event:
    owner, where, shows = step.data.get("owner"), step.text("where", 200), step.data.get("shows", "weep")
    if owner not in ("boundary", "rig") or not where:
        raise NotNow("Say where it leaks, and whether that is the vessel's own or the rig's.")
    if shows not in SHOWS:
        raise NotNow(f"A leak shows as one of {', '.join(SHOWS)}.")
    pin = step.data.get("pin")
    if pin is not None and not (isinstance(pin, dict) and all(_finite(pin.get(axis)) for axis in ("x", "v"))):
        raise NotNow("A pin needs its two places on the drawing.")
    event = step.log("leak", owner=owner, where=where, shows=shows, pin=pin and {"x": pin["x"], "v": pin["v"]})
    found = guard_of(plan_of(step.trial)[1], "boundary-leak")
    if owner == "boundary" and found and step.trial.state in ON_THE_BENCH:
        trip(step.trial, found, latest(step.trial), step.maker)
    return event


def _finite(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and abs(value) < 1e3


def _mended(step: Step) -> Event:
    did, which = step.text("did"), str(step.data.get("leak"))
    leak = next((e for e in step.trial.effective_events() if e.kind == "leak" and str(e.id) == which), None)
    if leak is None or not did:
        raise NotNow("Say which leak, and what was done about it.")
    return step.log("mended", leak=which, did=did, where=leak.data["where"])


def _odd(step: Step) -> Event:
    """Something seen or heard that no gauge shows: the guard that watches for it trips."""
    step.trial.must_be(ON_THE_BENCH, NOT_ON)
    found = guard_of(plan_of(step.trial)[1], str(step.data.get("what")))
    if found is None or found.code not in ("noise", "movement"):
        raise NotNow("Say what it was: noise, or movement.")
    change_rig(step.trial, lambda rig, state: simulated.pump(state, 0))
    trip(step.trial, found, latest(step.trial), step.maker)
    text = step.text("text")
    return step.log("note", text=f"{found.watches}{': ' + text if text else ''}")


def _guard_answered(step: Step) -> Event:
    which, reason = str(step.data.get("guard")), step.text("reason")
    found = next((g for g in run_state(step.trial).guards if str(g.id) == which), None)
    if found is None:
        raise NotNow("That guard was answered already.")
    if not reason:
        raise NotNow("Say what was seen, and why it is safe to go on: it stays on the record.")
    return step.log("guard-answered", guard=which, code=found.data["code"], reason=reason)


def _strokes(step: Step) -> Event:
    count = step.data.get("count")
    if not isinstance(count, int) or isinstance(count, bool) or not 1 <= count <= 5000:
        raise NotNow("Say how many strokes, 1 to 5000.")
    return step.log("strokes", count=count)


def _dump(step: Step) -> Event:
    trial = step.trial
    trial.must_be(ON_THE_BENCH, "There is nothing to dump: this trial is not on the bench.")
    change_rig(trial, simulated.dump)
    if trial.state == State.HELD:
        return step.log("released", dumped=True)
    return step.enter(State.ABORTED, "dumped")


def _take_back(step: Step) -> Event:
    """A dump key pressed by mistake: the record is put right, what water ran out is not."""
    trial = step.trial
    dumped = trial.events.filter(kind="dumped").order_by("-at").first()
    if trial.state != State.ABORTED or dumped is None or trial.source == Source.RIG:
        raise NotNow("There is no dump on record that can be taken back. On the simulated rig the water is gone: plan the next trial.")
    return step.enter(State.RUNNING, "corrected", corrects=str(dumped.id), says="it was not dumped")


@dataclass(frozen=True)
class Ticked:
    """An opening on the bench: what to do with it, whether it is done, and whether it is undone again after."""

    name: str
    do: str
    ready: bool
    undone: bool


def ticked(answer: DeriveAnswer, events: list[Event]) -> list[Ticked]:
    """The openings of a frozen plan as they were ticked off since."""
    now = {(opening.name, "ready"): opening.ready for opening in answer.openings}
    now |= {(event.data["name"], event.data["what"]): event.data["done"] for event in events if event.kind == "opening"}
    return [Ticked(o.name, o.do, now[(o.name, "ready")], now.get((o.name, "undone"), False)) for o in answer.openings]


def _opening(step: Step) -> Event:
    step.trial.must_be(
        (State.READY, State.RUNNING, State.HELD, State.JUDGED, State.ABORTED),
        "Openings are ticked off from the frozen plan to the decision.",
    )
    _, answer = plan_of(step.trial)
    name, what, done = step.data.get("name"), step.data.get("what"), step.data.get("done")
    if not isinstance(name, str) or name not in {opening.name for opening in answer.openings}:
        raise NotNow(f"There is no opening “{name}” in this plan.")
    if what not in ("ready", "undone") or not isinstance(done, bool):
        raise NotNow("An opening is ticked as “ready” or “undone”, and is done or is not.")
    return step.log("opening", name=name, what=what, done=done)


STEPS: dict[str, Callable[[Step], Event]] = {
    "vent-shut": _vent_shut,
    "opening": _opening,
    "stage-reached": _stage_reached,
    "gone-back": _gone_back,
    "shut-in": _shut_in,
    "hold-set": _hold_set,
    "hold-ended": _end_hold,
    **{kind: functools.partial(_after, kind) for kind in AFTER},
    "note": _note,
    "leak": _leak,
    "mended": _mended,
    "odd": _odd,
    "guard-answered": _guard_answered,
    "strokes": _strokes,
    "dumped": _dump,
    "not-dumped": _take_back,
}
BY_THE_HAND = {"vent-shut", "stage-reached", "gone-back", "shut-in", "hold-set", "hold-ended", *AFTER, "guard-answered", "not-dumped"}
"""Steps that move the run on: one hand holds it. Notes, strokes, leaks and a dump are anybody's."""


def show(pressure: float, maker: Maker, figures: int = 4) -> str:
    """A pressure in the person's unit."""
    return units.write(pressure, "pressure", maker.pressure_unit, figures=figures)


def next_stage(answer: DeriveAnswer, stands: RunState) -> StageAnswer | None:
    """The stage that is to be reached next."""
    return answer.stages[stands.reached] if stands.reached < len(answer.stages) else None

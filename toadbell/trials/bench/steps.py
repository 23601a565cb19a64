"""What each step of a run does: to the trial, its log and the simulated rig. What a step is, the core's table says."""

import datetime
import functools
import uuid
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

from django.db.models import Max
from django.utils import timezone
from pydantic import ValidationError

from toadbell.core import units
from toadbell.core.answers import DeriveAnswer
from toadbell.core.bench import either
from toadbell.core.bench.either import Either, EitherState
from toadbell.core.hunt.acts import ACTS, Act
from toadbell.core.judge.steam import LOWEST_GLASS
from toadbell.core.phrases import Said, of_scale, say
from toadbell.core.plan.detect import LOW_ENOUGH
from toadbell.core.procedures import PROCEDURES, burst, expansion, gas_head, relief, steam, tightening
from toadbell.core.run import carried
from toadbell.core.run.observed import INSTRUMENTS, STEAM_FIGURES, Instrument, leaks_unmended, observed
from toadbell.core.run.phases import AFTER, ON_THE_BENCH, RunState
from toadbell.core.run.steps import STEPS, refused
from toadbell.core.sheets import SheetError
from toadbell.core.vessel.sections import sections_of
from toadbell.core.vessel.soap import LEAKS
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.trials.bench.expanding import may_measure, measured
from toadbell.trials.bench.guards import guard_of, trip
from toadbell.trials.bench.hunt import asks, cures_till, curing, under_pressure, way_of, zero_unread
from toadbell.trials.bench.readings import latest
from toadbell.trials.bench.rig import change_rig
from toadbell.trials.bench.run_state import run_state
from toadbell.trials.bench.sections import shut_now
from toadbell.trials.bench.seen import reading_error
from toadbell.trials.bench.stroke_analysis import strokes_in_all
from toadbell.trials.models import Event, Finding, Reading, Source, State, Trial
from toadbell.trials.plan.frozen import Plan, plan_of

Carried = TypeVar("Carried", bound=carried.Carried)


@dataclass(frozen=True)
class Taken:
    """A step that somebody takes: on which trial, by whom, with what, and when where it could not be sent at once.

    stands  where the run stood before
    """

    trial: Trial
    maker: Maker
    id: uuid.UUID
    carries: carried.Carried
    at: datetime.datetime | None
    plan: Plan
    stands: RunState

    def log(self, kind: str, **data: Any) -> Event:
        """Log it."""
        return self.trial.log(kind, self.maker, event_id=self.id, at=self.at, **data)

    def enter(self, state: State, kind: str, **data: Any) -> Event:
        """Change the trial's state and log it."""
        return self.trial.enter(state, kind, self.maker, event_id=self.id, at=self.at, **data)

    def with_it(self, shape: type[Carried]) -> Carried:
        """What came with it, in its own shape."""
        assert isinstance(self.carries, shape)
        return self.carries


def refuse(code: str, **facts: Any) -> NotNow:
    """That something cannot be done now, in a sentence of the steps."""
    return NotNow(say(f"step.{code}", **facts))


def read_carried(kind: str, data: Any) -> carried.Carried:
    """What came with a step in its own shape; raises NotNow for a step that is none, SheetError for what does not go
    with it.
    """
    step = STEPS.get(kind)
    if step is None:
        raise refuse("unknown", kind=kind[:40], steps=list(STEPS))
    try:
        return step.carries.model_validate(data)
    except ValidationError as problem:
        first = problem.errors(include_url=False)[0]
        cause = first.get("ctx", {}).get("error")
        field = ".".join(str(part) for part in first["loc"]) or None
        raise SheetError(
            str(cause) if cause else "this is needed and was not given", field if not cause else None
        ) from None


def take(
    trial: Trial, maker: Maker, kind: str, event_id: uuid.UUID, carries: carried.Carried, at: datetime.datetime | None
) -> Event:
    """Do a step and log it; raises NotNow with what stands in the way. The trial is locked."""
    plan, stands = plan_of(trial), run_state(trial)
    with of_scale(plan.answer.test_pressure):
        against = refused(STEPS[kind], trial.state, stands, plan.answer.stages)  # type: ignore[arg-type]
        if against is not None:
            raise NotNow(against)
        return _DO[kind](Taken(trial, maker, event_id, carries, at, plan, stands))


# -- raising --------------------------------------------------------------------------------


def _vent_shut(step: Taken) -> Event:
    needed = still_needed(step.trial, step.plan, step.trial.effective_events())
    if needed:
        raise refuse(f"{needed[0]}-first")
    change_rig(step.trial, either.close_vent)
    return step.log("vent-shut", strokes=strokes_in_all(step.trial), **_under(step))


def _all_open(step: Taken) -> None:
    """What is behind a shut valve is neither raised nor held nor let go with the rest."""
    shut = shut_now(step.trial.effective_events())
    if shut:
        raise refuse("valves-shut", names=shut)


def _stage_reached(step: Taken) -> Event:
    _all_open(step)
    trial, stands, answer = step.trial, step.stands, step.plan.answer
    if stands.reached == 0 and "tried-sooner" in still_needed(trial, step.plan, trial.effective_events()):
        raise refuse("tried-sooner-first")
    stage = answer.stages[stands.reached]
    seen = latest(trial)
    best = trial.readings.filter(at__gte=stands.since, imported=None).aggregate(best=Max("pressure"))["best"]
    if seen is None:
        raise refuse("stage-reached-nothing-read", target=stage.target)
    highest = max(best or 0.0, seen.pressure)
    if highest < stage.target - reading_error(step.plan):
        raise refuse("stage-reached-short", target=stage.target, last=seen.pressure)
    change_rig(trial, either.stop)
    early = (
        (stands.until - (step.at or trial.now())).total_seconds() if stands.phase == "pausing" and stands.until else 0.0
    )
    skipped = {"early": early} if early > 0 else {}
    return step.log("stage-reached", stage=stands.reached, id=stage.id, name=stage.name, pressure=highest, **skipped)


def _gone_back(step: Taken) -> Event:
    trial, back = step.trial, step.with_it(carried.GoneBack)
    _all_open(step)
    if _steamed(step):
        raise refuse("gone-back-steam")
    if back.to > max(0, step.stands.reached):
        raise refuse("gone-back-beyond", reached=step.stands.reached)
    if back.vent and back.to:
        raise refuse("gone-back-vent")
    down_to = step.plan.answer.stages[back.to - 1].target if back.to else 0.0

    def lower(rig: Either, state: EitherState) -> EitherState:
        if back.vent:
            return either.dump(rig, state)
        return either.shut_off(rig, either.come_down(rig, state, down_to), False)

    change_rig(trial, lower)
    made = strokes_in_all(trial)
    return step.enter(
        State.RUNNING, "gone-back", to=back.to, vent=back.vent, why=back.why, pressure=down_to, strokes=made
    )


# -- the hold --------------------------------------------------------------------------------


def _shut_in(step: Taken) -> Event:
    _all_open(step)
    seen = latest(step.trial)
    if seen is None or seen.pressure <= 0:
        raise refuse("shut-in-nothing-read")
    if "tried-sooner" in still_needed(step.trial, step.plan, step.trial.effective_events()):
        raise refuse("tried-sooner-first")
    reason, answer = step.with_it(carried.ShutIn).reason, step.plan.answer
    low = seen.pressure < answer.target_band[0] - reading_error(step.plan)
    if low and not reason:
        raise refuse("shut-in-low", read=seen.pressure, target=answer.gauge_target)
    change_rig(step.trial, lambda rig, state: either.shut_off(rig, state, True))
    return step.log("shut-in", pressure=seen.pressure, **({"reason": reason} if low else {}))


def _low_hold(step: Taken) -> Event:
    """Shut in low, before the test hold or after it, to see how the water drifts."""
    _all_open(step)
    answer, seen = step.plan.answer, latest(step.trial)
    if answer.medium != "water":
        raise refuse("low-hold-water")
    low = answer.hold.low.pressure if answer.hold.low else answer.stages[0].target
    if step.stands.phase == "looked" and step.trial.source == Source.RIG:
        change_rig(step.trial, lambda rig, state: either.come_down(rig, state, low))
        seen = latest(step.trial)
    if seen is None or seen.pressure <= 0:
        raise refuse("low-hold-nothing")
    if step.trial.source != Source.RIG and seen.pressure > LOW_ENOUGH * answer.test_pressure:
        raise refuse("low-hold-high", at=seen.pressure, test=answer.test_pressure, low=low)
    if step.stands.hold is not None:  # before it the pump goes on afterwards
        change_rig(step.trial, lambda rig, state: either.shut_off(rig, state, True))
    return step.log("low-hold", pressure=min(seen.pressure, low) if step.trial.source == Source.RIG else seen.pressure)


def _hold_set(step: Taken) -> Event:
    seconds = step.with_it(carried.HoldSet).seconds
    if seconds < step.stands.hold_for:
        raise refuse("hold-set-shorter")
    return step.log("hold-set", seconds=float(seconds))


def _hold_ended(step: Taken) -> Event:
    reason, over_from = step.with_it(carried.HoldEnded).reason, step.stands.over_from
    if over_from and (step.at or step.trial.now()) < over_from and not reason:
        raise refuse("hold-ended-early")
    return step.enter(State.HELD, "hold-ended", reason=reason)


# -- after the hold --------------------------------------------------------------------------------


def _steamed(step: Taken) -> bool:
    return step.plan.answer.procedure == "steam"


def _after(kind: str, step: Taken) -> Event:
    _all_open(step)
    if _steamed(step) and kind in ("released", "vent-open"):
        _must_be_down(step)
    if kind == "came-down":
        look = step.plan.answer.hold.look_pressure
        change_rig(step.trial, lambda rig, state: either.come_down(rig, state, look))
        return step.log(kind, pressure=look)
    if kind == "released":
        change_rig(step.trial, lambda rig, state: either.come_down(rig, state, 0.0))
    if kind == "vent-open":
        change_rig(step.trial, either.open_vent)
    return step.log(kind, **_under(step)) if kind in ("looked", "released") else step.log(kind)


def _must_be_down(step: Taken) -> None:
    """Nobody opens anything on hot water: what is read since the fire went out has to have come down to nothing."""
    since = step.trial.events.filter(kind="tried").order_by("-at").first()
    seen = latest(step.trial)
    fresh = seen is not None and (since is None or seen.at >= since.at)
    last = seen.pressure if seen is not None else None
    if not fresh or last is None or last > reading_error(step.plan):
        raise refuse("still-steam", last=last)


def _under(step: Taken) -> dict[str, str]:
    """What the vessel is filled with, where it is not water: the log speaks of it."""
    medium = "steam" if _steamed(step) else step.plan.answer.medium
    return {} if medium == "water" else {"medium": medium}


# -- at any time --------------------------------------------------------------------------------


def _note(step: Taken) -> Event:
    return step.log("note", text=step.with_it(carried.Noted).text)


def _leak(step: Taken) -> Event:
    leak = step.with_it(carried.Leak)
    seen = latest(step.trial) if step.trial.state in ON_THE_BENCH else None
    more = {key: value for key, value in leak.model_dump().items() if value not in (None, "")}
    event = step.log("leak", **{"pin": None, **more}, pressure=seen.pressure if seen else None)
    Finding.from_event(event)
    found = guard_of(step.plan.answer, "boundary-leak")
    if leak.owner == "boundary" and found and step.trial.state in ON_THE_BENCH:
        trip(step.trial, found, latest(step.trial), step.maker)
    return event


def still_needed(trial: Trial, plan: Plan, events: list[Event]) -> list[str]:
    """Steps that are to be written down before anything is closed up, and were not; while a seal cures, why it is tried
    sooner.
    """
    done = {event.kind for event in events}
    before = PROCEDURES[plan.answer.procedure].before.get(plan.sheet.kind, ())
    found = [kind for kind in before if kind not in done]
    return [*found, "tried-sooner"] if curing(trial, events) is not None else found


def _figure(step: Taken, seen: carried.ObservedAt, instrument: Instrument) -> float | None:
    """The figure as it was written, SI; raises SheetError where it is none of its kind."""
    if not seen.text or instrument.kind is None:
        return seen.value
    try:
        return units.read(seen.text, instrument.kind, default_unit=step.maker.pressure_unit).value
    except units.QuantityError as problem:
        raise SheetError(str(problem), "text") from None


def _tried(step: Taken) -> Event:
    """A relief valve's rounds are over, a boiler's fire is out; what was not seen stays not known."""
    change_rig(step.trial, lambda rig, state: either.come_down(rig, state, 0.0) if _steamed(step) else state)
    fails = {"fails": True} if step.plan.answer.procedure == "burst" else {}
    return step.enter(State.HELD, "tried", **_under(step), **fails)


def _before(kind: str, step: Taken) -> Event:
    return step.log(kind, **step.carries.model_dump())


READ_WITHIN = 120.0
"""A temperature that was read so long before belongs to what is seen now, s."""


def _read_then(step: Taken, found: Reading | None) -> dict[str, float | None]:
    """What gauge and thermometer showed last, that something was seen at."""
    if found is None:
        return {"pressure": None}
    at = step.at or step.trial.now()
    warm = found.temperature if abs((at - found.at).total_seconds()) <= READ_WITHIN else None
    return {"pressure": found.pressure} if warm is None else {"pressure": found.pressure, "temperature": warm}


def _since_let_go(step: Taken, found: Reading | None) -> float | None:
    """The pressure that was read last, where that was since the pressure was last let go; None where it was not."""
    gone = [e.at for e in step.trial.effective_events() if e.kind == "gone-back" and not e.data.get("to")]
    return None if found is None or (gone and found.at < gone[-1]) else found.pressure


def _against(step: Taken, seen: carried.ObservedAt, value: float) -> Said | None:
    """Why a pressure cannot be, beside what was written before."""
    events = step.trial.effective_events()
    if INSTRUMENTS[seen.what].panel == "steam":
        return steam.contradicts({what: observed(events, what) for what in STEAM_FIGURES}, seen.what, value)
    known = {what: observed(events, what) for what in ("lift", "reseat")}
    return relief.contradicts(known, seen.what, seen.place, value)


def _observed(step: Taken) -> Event:
    """What an instrument showed at a place of the vessel; it stands with the pressure that was read last."""
    seen, found = step.with_it(carried.ObservedAt), latest(step.trial)
    instrument = INSTRUMENTS[seen.what]
    if seen.what not in PROCEDURES[step.plan.answer.procedure].instruments:
        raise refuse("observed-what")
    if instrument.places is not None:
        if seen.place not in instrument.places:
            raise refuse("observed-round")
        value = _figure(step, seen, instrument)
        if seen.what == "turn":
            read = found.at if found else None
            sooner = tightening.contradicts(step.trial.effective_events(), seen.place, read)
            if sooner is not None:
                raise NotNow(sooner)
        if instrument.panel == "burst":
            highest = step.trial.readings.filter(at__gte=step.trial.started_at).aggregate(high=Max("pressure"))["high"]
            wrong = burst.contradicts(seen.what, value, highest, step.plan.answer.gauge_target)
            if wrong is not None:
                raise NotNow(wrong)
            value = value or (highest if seen.what == "failure" else None)
        elif instrument.panel == "gas":
            wrong = gas_head.contradicts(seen.what, value)
            if wrong is not None:
                raise NotNow(wrong)
        elif value is not None and instrument.kind == "pressure":
            against = _against(step, seen, value)
            if against is not None:
                raise NotNow(against)
        told = seen.model_copy(update={"value": value}).model_dump(exclude={"text", "why"})
        event = step.log("observed", **told, **_read_then(step, found))
        if seen.what == "glass" and value is not None and value < LOWEST_GLASS:
            low = guard_of(step.plan.answer, "low-water")
            if low is not None:
                trip(step.trial, low, found, step.maker)
        return event
    section = next((one for one in sections_of(step.plan.sheet) if one.id == seen.place), None)
    if section is None:
        raise refuse("observed-place")
    name = section.name.kept() if isinstance(section.name, Said) else section.name
    marked: dict[str, Any] = {**seen.model_dump(exclude={"text", "why"}), "name": name}
    before = None if seen.word in LEAKS else leaks_unmended(step.trial.effective_events()).get(seen.place)
    if before is not None:
        if not seen.why:
            raise refuse("observed-instead", name=section.name, word=before.word, at=before.pressure)
        marked |= {"why": seen.why, "instead": before.word}
    return step.log("observed", **marked, pressure=_since_let_go(step, found))


def _measured(step: Taken) -> Event:
    """What went in and came back, a jacket's burette or level, a girth: before, at and after the pressure."""
    seen = step.with_it(carried.ObservedAt)
    instrument = INSTRUMENTS[seen.what]
    if instrument.panel != "expansion" or not may_measure(step.plan):
        raise refuse("observed-what")
    if instrument.places is None or seen.place not in instrument.places:
        raise refuse("measured-where")
    value = _figure(step, seen, instrument)
    if value is None:
        raise refuse("measured-figure")
    against = expansion.contradicts(measured(step.trial.effective_events()), seen.what, seen.place, value)
    if against is not None:
        raise NotNow(against)
    told = seen.model_copy(update={"value": value}).model_dump(exclude={"text", "why"})
    if seen.what == "girth":
        mark, when = seen.place.split(" ")
        marks = expansion.marks_of(step.plan.sheet.expansion)
        if int(mark) > len(marks):
            raise refuse("measured-where")
        told |= {"name": f"{marks[int(mark) - 1]}, {when}"}
    return step.log("observed", **told, **_read_then(step, latest(step.trial)))


def _valves(step: Taken) -> Event:
    """The valves between sections, set for the next hold of them."""
    circuit, shut = step.plan.sheet.circuit, step.with_it(carried.ValvesSet).shut
    if circuit is None:
        raise refuse("valves-none")
    known = [valve.name for valve in circuit.valves]
    for name in shut:
        if name not in known:
            raise refuse("valves-unknown", name=name[:60])
    kept = [name for name in known if name in shut]
    change_rig(step.trial, lambda rig, state: either.set_valves(rig, state, circuit.groups(kept)))
    return step.log("valves", shut=kept, open=list(circuit.open_with(kept)))


UNNAMED = "?"
"""A compound that nobody named: it waits as long as the slowest."""
OF_ITSELF = {"soldered": "solder", "pegged": "wood", "wedged": "wood"}
"""Ways of mending that say with what."""


def _with(mend: carried.Mended) -> str:
    """With what a mend was sealed; "" where nothing was."""
    if mend.compound or mend.act not in ACTS or not ACTS[mend.act].seals:
        return mend.compound
    return OF_ITSELF.get(mend.act, UNNAMED)


def _mended(step: Taken) -> Event:
    mend = step.with_it(carried.Mended)
    leak = Finding.of(step.trial).filter(id__iexact=mend.leak).first() if _is_id(mend.leak) else None
    if leak is None:
        raise refuse("mended-which")
    act = way_of(mend.act, mend.did)
    if act is not None:
        _may_be_mended(step, act)
    until = cures_till(step.trial, _with(mend), step.at or step.trial.now()) if _with(mend) else None
    asked = asks(leak.owner, act, leak).kept() if act else None  # type: ignore[arg-type]
    did = mend.did or (str(act.name) if act else "")
    event = step.log(
        "mended",
        leak=str(leak.pk),
        did=did if not mend.act or mend.did else "",
        where=leak.where,
        **({"act": mend.act} if mend.act else {}),
        **({"compound": mend.compound} if mend.compound else {}),
        **({"until": until.isoformat()} if until else {}),
        **({"asks": asked} if asked else {}),
    )
    leak.mended(event)
    if (
        act is not None and act.id != "tightened" and step.trial.started_at is not None
    ):  # tightening is a hand of its own
        cured = ((until or event.at) - step.trial.started_at).total_seconds()
        change_rig(step.trial, lambda rig, state: either.seal(rig, state, leak.where, cured))
    if act is not None and act.structural and leak.owner == "boundary" and not step.trial.practice:
        on = min(timezone.localdate(event.at), timezone.localdate())  # the run's own clock may be ahead
        step.trial.vessel.note(step.maker, "mended", on, f"{leak.where}, {did}; trial {step.trial.number}")
    return event


def _may_be_mended(step: Taken, act: Act) -> None:
    """Nothing is mended under pressure, and no flame comes near what holds vapour."""
    if under_pressure(step.trial, step.stands):
        raise NotNow(say("hunt.under-pressure", act=act.name))
    if zero_unread(step.trial):
        raise NotNow(say("hunt.zero-unread", act=act.name))
    aired = any(event.kind == "gas-free" for event in step.trial.events.all())
    if act.hot and step.plan.sheet.kind == "sheet-tank" and not aired:
        raise NotNow(say("hunt.vapour", act=act.name))


def _is_id(text: str) -> bool:
    try:
        uuid.UUID(text)
    except ValueError:
        return False
    return True


def _odd(step: Taken) -> Event:
    """Something seen or heard that no gauge shows: the guard that watches for it trips."""
    odd = step.with_it(carried.Odd)
    found = guard_of(step.plan.answer, odd.what)
    if found is None:
        raise refuse("odd-what")
    change_rig(step.trial, either.stop)
    trip(step.trial, found, latest(step.trial), step.maker)
    watched = found.watches.kept() if isinstance(found.watches, Said) else found.watches
    return step.log("note", watched=watched, text=odd.text)


def _stop_called(step: Taken) -> Event:
    """Somebody calls stop: a guard that stands until the hand on the run dumps, or answers it; each caller's once."""
    standing = next((one for one in step.stands.guards if one.data.get("called_by") == str(step.maker.uid)), None)
    if standing is not None:
        return Event.objects.get(pk=standing.id)
    change_rig(step.trial, either.stop)
    text = step.with_it(carried.Called).text.rstrip(".")
    steam = step.plan.answer.procedure == "steam"
    code = f"guard.called{'-text' if text else ''}{'-steam' if steam else ''}"
    read = latest(step.trial)
    return step.log(
        "guard",
        code="called",
        does="fire" if steam else "dump",
        says=say(code, name=step.maker.shown_name, text=text).kept(),
        limit=None,
        pressure=read.pressure if read else None,
        called_by=str(step.maker.uid),
    )


def _guard_answered(step: Taken) -> Event:
    answered = step.with_it(carried.GuardAnswered)
    found = next((guard for guard in step.stands.guards if str(guard.id) == answered.guard), None)
    if found is None:
        raise refuse("guard-answered-gone")
    return step.log("guard-answered", guard=answered.guard, code=found.data["code"], reason=answered.reason)


def _strokes(step: Taken) -> Event:
    return step.log("strokes", count=step.with_it(carried.Strokes).count)


def _dumped(step: Taken) -> Event:
    change_rig(step.trial, either.dump)
    shut = shut_now(step.trial.effective_events())
    behind = {"behind": shut} if shut else {}
    if step.trial.state == State.HELD:
        return step.log("released", dumped=True, **behind)
    return step.enter(State.ABORTED, "dumped", **_under(step), **behind)


def _not_dumped(step: Taken) -> Event:
    """A dump key pressed by mistake: the record is put right, what water ran out is not."""
    dumped = step.trial.events.filter(kind="dumped").order_by("-at").first()
    if dumped is None or step.trial.source == Source.RIG:
        raise refuse("not-dumped-state")
    return step.enter(State.RUNNING, "corrected", corrects=str(dumped.id), says=say("log.not-dumped").kept())


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


def _opening(step: Taken) -> Event:
    tick = step.with_it(carried.OpeningTicked)
    if tick.name not in {opening.name for opening in step.plan.answer.openings}:
        raise refuse("opening-name", name=tick.name)
    return step.log("opening", **tick.model_dump())


_DO: dict[str, Callable[[Taken], Event]] = {
    "vent-shut": _vent_shut,
    "stage-reached": _stage_reached,
    "gone-back": _gone_back,
    "shut-in": _shut_in,
    "low-hold": _low_hold,
    "hold-set": _hold_set,
    "hold-ended": _hold_ended,
    **{kind: functools.partial(_after, kind) for kind in AFTER},
    "guard-answered": _guard_answered,
    "not-dumped": _not_dumped,
    "dumped": _dumped,
    "odd": _odd,
    "stop-called": _stop_called,
    "opening": _opening,
    "strokes": _strokes,
    **{kind: functools.partial(_before, kind) for kind in ("gas-free", "swelled", "ready-to-steam", "tried-sooner")},
    "observed": _observed,
    "measured": _measured,
    "tried": _tried,
    "valves": _valves,
    "leak": _leak,
    "mended": _mended,
    "note": _note,
}
assert _DO.keys() == STEPS.keys()

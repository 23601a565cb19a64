"""What the log and the bench say, in the person's units."""

import math

from pydantic import BaseModel

from toadbell.core import units
from toadbell.core.answers import DeriveAnswer
from toadbell.shed.models import Maker
from toadbell.trials.bench.run_state import RunState
from toadbell.trials.bench.steps import next_stage, show
from toadbell.trials.models import Event, Source, Trial


class Now(BaseModel):
    """The now card: one line, a detail, the step that comes next (its kind and its name on the key), whole strokes to the next stage."""

    says: str
    detail: str
    step: str | None
    label: str | None
    zone: str
    to_go: int | None = None


def log_lines(events: list[Event], maker: Maker) -> list[tuple[Event, str]]:
    """The events as lines of the log, oldest first; strokes made one after another are one line."""
    lines: list[tuple[Event, str]] = []
    count = 0
    for event in events:
        count = count + event.data["count"] if event.kind == "strokes" else 0
        if count > event.data.get("count", 0) and event.kind == "strokes":
            lines.pop()
        lines.append((event, strokes_in_words(count) if count else event_in_words(event, maker)))
    return lines


def strokes_in_words(count: int) -> str:
    """1 stroke, 6 strokes."""
    return f"{count} stroke{'' if count == 1 else 's'}"


def put_in_words(by: float) -> str:
    """That the machine's clock was put forward or back, by so many s."""
    seconds = float(round(abs(by)))
    span = units.write(seconds, "time", "h" if seconds >= 7200 else "min" if seconds >= 120 else "s", figures=3)
    return f"this machine's clock was put {'forward' if by > 0 else 'back'} by {span}; the run keeps its own time, which nothing was added to or taken from"


def event_in_words(event: Event, maker: Maker) -> str:
    """An event as a line of the log."""
    data = event.data

    def at(key: str = "pressure") -> str:
        return show(data[key], maker) if data.get(key) is not None else "?"

    def back() -> str:
        to = f"to the stage at {at()}" if data["to"] else "to no pressure, vent open" if data["vent"] else "to no pressure"
        return f"gone back {to}" + (f": {data['why']}" if data.get("why") else "")

    def early() -> str:
        left = data.get("early")
        return f", the pause before it cut short by {units.write(left, 'time', 'min' if left >= 60 else 's', figures=2)}" if left else ""

    return {
        "clock": lambda: put_in_words(data["by"]),
        "frozen": lambda: "plan frozen",
        "thawed": lambda: "plan opened again",
        "started": lambda: f"run begun, readings {Source(data['source']).label}",
        "taken-over": lambda: f"the run is in another hand now: {data['name'] or 'another window'}",
        "opening": lambda: f"{data['name']}: {'' if data['done'] else 'not '}{_TICKS[data['what']]}",
        "vent-shut": lambda: "vent shut, water without bubbles",
        "strokes": lambda: strokes_in_words(data["count"]),
        "stage-reached": lambda: f"stage {data['stage'] + 1} reached ({data['name']}) at {at()}" + early(),
        "gone-back": back,
        "shut-in": lambda: f"shut in at {at()}, hold begun",
        "hold-set": lambda: f"hold lengthened to {units.write(data['seconds'], 'time', 'min')}",
        "hold-ended": lambda: "hold ended" + (f" early: {data['reason']}" if data.get("reason") else ""),
        "came-down": lambda: f"down to {at()} for the close look",
        "looked": lambda: "looked closely all round",
        "released": lambda: "dumped after the hold" if data.get("dumped") else "released, no pressure",
        "vent-open": lambda: "vent open",
        "emptied": lambda: "drained, empty",
        "dried": lambda: "dried inside",
        "dumped": lambda: "dumped",
        "note": lambda: data["text"],
        "photo": lambda: "photo" + (f": {data['text']}" if data.get("text") else ""),
        "leak": lambda: f"leak, {_OWNERS[data['owner']]}, {data.get('shows', 'seen')}: {data['where']}",
        "mended": lambda: f"{data['where']}: {data['did']}",
        "guard": lambda: data["says"] + (f" Read {at()}." if data.get("pressure") is not None else ""),
        "guard-answered": lambda: f"gone on after the guard ({data['code']}): {data['reason']}",
        "imported": lambda: f"file taken in: {data['name']}, {data['rows']} readings",
        "listening": lambda: f"{data['name']} {'reads for this run' if data['on'] else 'no longer reads for this run'}",
        "corrected": lambda: f"correction: {data['says']}",
        "judged": lambda: "judged anew, with steps put back" if data.get("put_back") else "judged",
        "decided": lambda: f"decided: {data['fitness']}",
    }.get(event.kind, lambda: event.kind)()


_TICKS = {"ready": "ready for the test", "undone": "as it was before"}
_OWNERS = {"boundary": "the vessel's own", "rig": "the rig's"}


def now_card(trial: Trial, stands: RunState, answer: DeriveAnswer, maker: Maker, pressure: float | None, strokes: int) -> Now:
    """What is to be done now. pressure: the last reading, Pa; strokes made so far."""
    stage = next_stage(answer, stands)
    if stands.phase == "filling":
        return Now(
            says="Fill, and shut the vent.",
            detail="Water runs from the vent without bubbles? Then shut it. Bubbles still? Then there is air to come.",
            step="vent-shut", label="Vent shut", zone="near",
        )  # fmt: skip
    if stands.phase in ("raising", "pausing") and stage is not None:
        return _raising(stands, answer, maker, strokes)
    return _after(trial, stands, answer, maker)


def _raising(stands: RunState, answer: DeriveAnswer, maker: Maker, strokes: int) -> Now:
    stage = answer.stages[stands.reached]
    target, line = show(stage.target, maker, 3), stage.zone == "line"
    left = None if stage.strokes is None else max(0, math.floor(stage.strokes) - strokes)
    to_go = "" if left is None else f"{left} strokes to go"
    where = "Everybody behind the line." if line else "Near is allowed."
    of = f"stage {stands.reached + 1} of {len(answer.stages)}"
    if stands.phase == "pausing":
        seen = answer.stages[stands.reached - 1]
        return Now(
            says="Wait here, look from the line." if seen.zone == "line" else "Wait here, look and listen.",
            detail=f"{seen.look_at} Then {of}: {target}.",
            step="stage-reached", label="Reached", zone=seen.zone, to_go=left,
        )  # fmt: skip
    return Now(
        says=f"Raise to {target}.",
        detail=" · ".join(part for part in (of, to_go, where) if part),
        step="stage-reached",
        label="Reached",
        zone=stage.zone,
        to_go=left,
    )


def _after(trial: Trial, stands: RunState, answer: DeriveAnswer, maker: Maker) -> Now:
    hold = units.write(answer.hold.minimum, "time", "min")
    look = show(answer.hold.look_pressure, maker, 3)
    every = units.write(answer.hold.every, "time", "min" if answer.hold.every >= 60 else "s", figures=2)
    typed = f"Read the dial every {every}." if trial.source == Source.DIAL else "The logger reads by itself."
    over = stands.phase == "holding" and stands.until is not None and trial.now() >= stands.until
    cards = {
        "at test": Now(says="Shut in, and hold.", detail=f"Shut the valve to the pump, then {hold} of quiet. Everybody behind the line.",
                       step="shut-in", label="Shut in, hold", zone="line"),
        "holding": Now(says="Hands off.", detail=f"{typed} Nobody goes near.", step="hold-ended", label="End hold", zone="line"),
        "held": Now(says=f"Come down to {look}.", detail="Slowly, from behind the line. There it may be looked at closely.", step="came-down",
                    label="At the look", zone="line"),
        "looking": Now(says="Look closely, all round.", detail="Seams and fittings, dry cloth in hand. Pin each leak where it is (L).", step="looked",
                       label="Looked", zone="near"),
        "looked": Now(says="Release.", detail="Let the rest of the pressure go, down to nothing on the gauge.", step="released", label="Released",
                      zone="near"),
        "released": Now(says="Open the vent.", detail="The vent before the drain: a vessel that drains shut is drawn flat.", step="vent-open",
                        label="Vent open", zone="near"),
        "vented": Now(says="Open the drain, and empty it.", detail=_drain_time(answer), step="emptied", label="Empty", zone="near"),
        "emptied": Now(says="Dry it inside.", detail="Warm air through it, or a cloth as far as an arm goes. Put back what was changed.", step="dried",
                       label="Dry", zone="near"),
        "dried": Now(says="Done. Now judge it.", detail="Everything is kept.", step="judge", label="To the judge", zone="near"),
        "dumped": Now(says="Dumped.", detail="The run is over and on record. Approach only at zero.", step="judge", label="To the judge", zone="near"),
        "over": Now(says="This run is over.", detail="It is judged and on record.", step="judge", label="To the judge", zone="near"),
    }  # fmt: skip
    if over:
        return Now(says="The hold is over.", detail="Last reading, then end the hold.", step="hold-ended", label="End hold", zone="line")
    return cards[stands.phase]


def _drain_time(answer: DeriveAnswer) -> str:
    drain = answer.water.drain_time
    return (
        "Keep the vent open meanwhile."
        if drain is None
        else f"About {units.write(drain, 'time', 'min', figures=2)} through its drain, the vent open."
    )

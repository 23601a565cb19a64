"""What the log and the bench say, in the person's units."""

from pydantic import BaseModel

from toadbell.core import units
from toadbell.core.answers import DeriveAnswer
from toadbell.shed.models import Maker
from toadbell.trials.bench import Standing, next_stage, show
from toadbell.trials.models import Event, Source, Trial


class Now(BaseModel):
    """The now card: one line, a detail, and the step that comes next (its kind and its name on the key)."""

    says: str
    detail: str
    step: str | None
    label: str | None
    zone: str


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


def event_in_words(event: Event, maker: Maker) -> str:
    """An event as a line of the log."""
    data = event.data

    def at(key: str = "pressure") -> str:
        return show(data[key], maker) if data.get(key) is not None else "?"

    return {
        "frozen": lambda: "plan frozen",
        "thawed": lambda: "plan opened again",
        "started": lambda: f"run begun, readings {Source(data['source']).label}",
        "opening": lambda: f"{data['name']}: {'' if data['done'] else 'not '}{_TICKS[data['what']]}",
        "vent-shut": lambda: "vent shut, water without bubbles",
        "strokes": lambda: strokes_in_words(data["count"]),
        "stage-reached": lambda: f"stage {data['stage'] + 1} reached ({data['name']}) at {at()}",
        "shut-in": lambda: f"shut in at {at()}, hold begun",
        "hold-ended": lambda: "hold ended" + (f" early: {data['reason']}" if data.get("reason") else ""),
        "released": lambda: "dumped after the hold" if data.get("dumped") else "released, vent before drain",
        "dumped": lambda: "dumped",
        "note": lambda: data["text"],
        "leak": lambda: f"leak, {_OWNERS[data['owner']]}: {data['where']}",
        "overshoot": lambda: f"overshoot: {at()}, the band ends at {at('limit')}",
        "over-ceiling": lambda: f"above the ceiling: {at()} of {at('limit')}. The vessel is suspect until examined",
        "corrected": lambda: f"correction: {data['says']}",
        "judged": lambda: "judged",
        "decided": lambda: f"decided: {data['fitness']}",
    }.get(event.kind, lambda: event.kind)()


_TICKS = {"ready": "ready for the test", "undone": "as it was before"}
_OWNERS = {"boundary": "the vessel's own", "rig": "the rig's"}


def now_card(trial: Trial, stands: Standing, answer: DeriveAnswer, maker: Maker, pressure: float | None, strokes: int) -> Now:
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


def _raising(stands: Standing, answer: DeriveAnswer, maker: Maker, strokes: int) -> Now:
    stage = answer.stages[stands.reached]
    target, line = show(stage.target, maker, 3), stage.zone == "line"
    to_go = "" if stage.strokes is None else f"{max(0, round(stage.strokes) - strokes)} strokes to go"
    where = "Everybody behind the line." if line else "Near is allowed."
    of = f"stage {stands.reached + 1} of {len(answer.stages)}"
    if stands.phase == "pausing":
        seen = answer.stages[stands.reached - 1]
        return Now(
            says="Wait here, look from the line." if seen.zone == "line" else "Wait here, look and listen.",
            detail=f"{seen.look_at} Then {of}: {target}.",
            step="stage-reached", label="Reached", zone=seen.zone,
        )  # fmt: skip
    return Now(
        says=f"Raise to {target}.",
        detail=" · ".join(part for part in (of, to_go, where) if part),
        step="stage-reached",
        label="Reached",
        zone=stage.zone,
    )


def _after(trial: Trial, stands: Standing, answer: DeriveAnswer, maker: Maker) -> Now:
    hold = units.write(answer.hold.minimum, "time", "min")
    look = show(answer.hold.look_pressure, maker, 3)
    every = units.write(answer.hold.every, "time", "min" if answer.hold.every >= 60 else "s", figures=2)
    typed = f"Read the dial every {every}." if trial.source == Source.DIAL else "The logger reads by itself."
    over = stands.phase == "holding" and stands.until is not None and trial.now() >= stands.until
    cards = {
        "at test": Now(says="Shut in, and hold.", detail=f"Shut the valve to the pump, then {hold} of quiet. Everybody behind the line.",
                       step="shut-in", label="Shut in, hold", zone="line"),
        "holding": Now(says="Hands off.", detail=f"{typed} Nobody goes near.", step="hold-ended", label="End hold", zone="line"),
        "held": Now(says=f"Come down to {look}, look closely.",
                    detail="Seams and fittings, dry cloth in hand. Then release: vent first, then the drain.", step="released", label="Released",
                    zone="near"),
        "released": Now(says="Empty. Now judge it.", detail="Vent open before the drain, then dry it inside.", step="judge", label="To the judge",
                        zone="near"),
        "dumped": Now(says="Dumped.", detail="The run is over and on record. Approach only at zero.", step="judge", label="To the judge", zone="near"),
        "over": Now(says="This run is over.", detail="It is judged and on record.", step="judge", label="To the judge", zone="near"),
    }  # fmt: skip
    if over:
        return Now(says="The hold is over.", detail="Last reading, then end the hold.", step="hold-ended", label="End hold", zone="line")
    return cards[stands.phase]

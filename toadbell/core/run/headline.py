"""What the bench says first: the worst thing that is open on a run, before whatever would come next.

One table in one order: stop was called, an alarm, over the band, the vessel itself leaks, it failed. Where none of
them is open the run goes on as its log and the last reading say.

Pressures Pa gauge.
"""

from collections.abc import Callable
from dataclasses import dataclass

from toadbell.core.answers import DeriveAnswer
from toadbell.core.phrases import Said, say
from toadbell.core.run.guard import over_limit
from toadbell.core.run.phases import Entry, RunState

RANK = {"fire": 3, "dump": 3, "vent": 2, "stop": 1}
"""How grave it is what an alarm asks for."""
CALLED = "called"
"""The code of the alarm that somebody calls."""


@dataclass(frozen=True)
class Seen:
    """What is known of a run beside where its log says that it stands.

    read      last on the gauge since it is of what the run does now, Pa; None where nothing was
    error     so far off a pressure a reading may be and still be it, Pa
    leaks     places where the vessel itself leaks, and nothing was done about them
    failed    it was written down that it failed
    zero      since it was dumped, or failed, it was read at zero
    may_rise  how far over its band it may rise by itself now, as a multiple
    """

    read: float | None = None
    error: float = 0.0
    leaks: tuple[str, ...] = ()
    failed: bool = False
    zero: bool = False
    may_rise: float = 1.0

    def above(self, pressure: float) -> bool:
        """Does the gauge show clearly more?"""
        return self.read is not None and self.read > pressure + self.error

    def short_of(self, pressure: float) -> bool:
        """Does it show clearly less?"""
        return self.read is not None and self.read < pressure - self.error


@dataclass(frozen=True)
class Headline:
    """What is said first, its detail, the step that may come next all the same (None: none), and the zone."""

    code: str
    says: Said
    detail: Said
    step: str | None = None
    zone: str = "line"


def worst_last(guards: tuple[Entry, ...]) -> list[Entry]:
    """Alarms that stand, the gravest last, of equal ones the latest; stop that was called is the gravest."""
    return sorted(guards, key=lambda guard: (guard.data["code"] == CALLED, RANK.get(str(guard.data["does"]), 0)))


def headline(stands: RunState, answer: DeriveAnswer, seen: Seen) -> Headline | None:
    """The worst that is open; None where nothing is."""
    if stands.phase in _NOTHING_OPEN:
        return None
    return next((found for rule in ORDER.values() if (found := rule(stands, answer, seen)) is not None), None)


_NOTHING_OPEN = frozenset({"released", "vented", "emptied", "dried", "dumped", "over"})
"""Phases of a run from which nothing is raised, held or let go any more."""


DOWN = {"holding": "hold-ended", "held": "released", "looking": "released", "looked": "released"}
"""What may be done all the same where something is open: whatever ends the hold, or releases the pressure."""


def _way_down(stands: RunState, answer: DeriveAnswer) -> str | None:
    if answer.procedure == "steam":
        return "tried" if stands.phase in ("raising", "pausing", "at test") else None
    return DOWN.get(stands.phase)


def _called(stands: RunState, answer: DeriveAnswer, seen: Seen) -> Headline | None:
    called = next((guard for guard in stands.guards if guard.data["code"] == CALLED), None)
    return None if called is None else _alarm(CALLED, called, stands, answer)


def _alarmed(stands: RunState, answer: DeriveAnswer, seen: Seen) -> Headline | None:
    return _alarm("alarm", worst_last(stands.guards)[-1], stands, answer) if stands.guards else None


def _alarm(code: str, guard: Entry, stands: RunState, answer: DeriveAnswer) -> Headline:
    does = str(guard.data["does"])
    form = "let-out" if does == "stop" and stands.phase == "holding" else does
    return Headline(code, say(f"now.{code}-{form}"), say("now.alarm-detail"), _way_down(stands, answer))


def _over(stands: RunState, answer: DeriveAnswer, seen: Seen) -> Headline | None:
    found = None if seen.read is None else over_limit(answer.guards, seen.read / seen.may_rise)
    if found is None:
        return None
    detail = say("now.over-band-detail", read=seen.read, limit=(found.limit or 0.0) * seen.may_rise)
    down = _way_down(stands, answer)
    step = "came-down" if down == "released" and stands.has_hold and stands.phase in ("held", "looking") else down
    return Headline("over", say(f"now.over-band-{found.does}"), detail, step)


def _leaks(stands: RunState, answer: DeriveAnswer, seen: Seen) -> Headline | None:
    if not seen.leaks:
        return None
    form = _leak_form(stands, answer, seen)
    detail = say(f"now.leaks-detail{form}", places=list(seen.leaks))
    zone = "near" if form == "-zero" else "line"  # zero was read: whoever mends it may come
    return Headline("leaks", say(f"now.leaks{form}"), detail, _way_down(stands, answer), zone)


def _leak_form(stands: RunState, answer: DeriveAnswer, seen: Seen) -> str:
    if answer.procedure == "steam":
        return "-steam"
    let_go = stands.phase == "raising" and stands.reached == 0 and stands.round > 0
    if not let_go or seen.above(0.0):
        return ""
    return "-unread" if seen.read is None else "-zero"


def _failed(stands: RunState, answer: DeriveAnswer, seen: Seen) -> Headline | None:
    if not seen.failed:
        return None
    form = "zero" if seen.zero else "not-zero"
    step = "released" if stands.phase == "looked" else "tried"
    return Headline("failed", say(f"now.failed-{form}"), say(f"now.failed-{form}-detail"), step)


Rule = Callable[[RunState, DeriveAnswer, Seen], Headline | None]
ORDER: dict[str, Rule] = {
    CALLED: _called,
    "alarm": _alarmed,
    "over": _over,
    "leaks": _leaks,
    "failed": _failed,
}
"""What may be open, the worst first."""

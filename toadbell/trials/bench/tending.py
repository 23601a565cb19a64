"""The run: its beginning, whose hand is on it, and the step that is taken next."""

import datetime
import uuid
from typing import Any

from django.db import transaction

from toadbell.core.bench.situations import Situation
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.trials import clock
from toadbell.trials.bench.readings import ON_THE_BENCH
from toadbell.trials.bench.rig import catch_up, set_up
from toadbell.trials.bench.steps import BY_THE_HAND, STEPS, Step
from toadbell.trials.models import TAKEN, Event, Source, State, Trial


def start(trial: Trial, maker: Maker, source: str, speed: float, situation: Situation, hand: str = "", hand_name: str = "") -> None:
    """Begin the run: the clock starts, and with it the rig where it is simulated. Whoever begins has the run in hand."""
    trial.must_be(State.READY, "This trial was started already." if trial.frozen else "Freeze the plan first.")
    trial.source = Source(source)
    if not Trial.objects.filter(state__in=ON_THE_BENCH).exists():
        clock.follow_the_wall()
    trial.started_at = trial.wall_anchor = trial.trial_anchor = clock.now()
    trial.speed = 1.0
    trial.hand, trial.hand_name = hand, hand_name
    if trial.source == Source.RIG:
        set_up(trial, situation, speed)
    trial.enter(State.RUNNING, "started", maker, source=trial.source)


def act(
    trial: Trial, maker: Maker, kind: str, event_id: uuid.UUID, data: dict[str, Any], at: datetime.datetime | None = None, hand: str = ""
) -> Event:
    """Take a step of the run and log it. The same event sent twice is done once.

    at    when it was done, where it could not be sent at once
    hand  the browser that sends it
    """
    existing = Event.objects.filter(pk=event_id).first()
    if existing:
        same = existing.trial_id == trial.pk and existing.kind in (kind, *_LOGGED_AS.get(kind, ()))
        if not same and kind == "dumped":
            event_id = uuid.uuid4()  # whoever lets go is not asked for another id first
        elif not same:
            raise NotNow(TAKEN)
        else:
            return existing
    with transaction.atomic():
        trial = catch_up(Trial.objects.select_for_update().get(pk=trial.pk))
        if kind not in STEPS:
            raise NotNow(f"“{kind}” is no step of a run: one of {', '.join(STEPS)}.")
        if kind in BY_THE_HAND:
            must_hold(trial, hand)
        done_at = None if at is None or trial.rig else min(max(at, trial.started_at or at), trial.now())
        return STEPS[kind](Step(trial, maker, event_id, data, done_at))


_LOGGED_AS = {"odd": ("note",), "not-dumped": ("corrected",), "dumped": ("released",)}
"""Steps that stand in the log under another name."""


def must_hold(trial: Trial, hand: str) -> None:
    """Raise NotNow where another hand holds the run."""
    if trial.hand and hand != trial.hand:
        raise NotNow(f"The run is in another hand ({trial.hand_name or 'another window'}). Take it over first.")


def take_over(trial: Trial, maker: Maker, hand: str, name: str) -> None:
    """Take the run into another hand; it is logged."""
    trial.must_be((State.READY, *ON_THE_BENCH, State.JUDGED), "There is no run to take over.")
    if trial.hand == hand:
        return
    trial.hand, trial.hand_name = hand[:40], name.strip()[:60]
    trial.save(update_fields=["hand", "hand_name"])
    trial.log("taken-over", maker, name=trial.hand_name)

"""The run: its beginning, whose hand is on it, and the step that is taken next."""

import datetime
import uuid
from typing import Any

from django.db import transaction

from toadbell.core.bench.situations import Situation
from toadbell.core.run.carried import Carried
from toadbell.core.run.phases import ON_THE_BENCH
from toadbell.core.run.steps import STEPS
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.trials import clock
from toadbell.trials.bench.rig import catch_up, set_up
from toadbell.trials.bench.steaming import barred
from toadbell.trials.bench.steps import read_carried, take
from toadbell.trials.models import TAKEN, Event, Source, State, Trial
from toadbell.trials.models.sealing import must_be_open


def start(
    trial: Trial, maker: Maker, source: str, speed: float, situation: Situation, hand: str = "", hand_name: str = ""
) -> None:
    """Begin the run: the clock starts, and with it the rig where it is simulated.

    Whoever begins has the run in hand.
    """
    trial.must_be(State.READY, "This trial was started already." if trial.frozen else "Freeze the plan first.")
    trial.vessel.must_be_in_use()
    trial.source = Source(source)
    against = barred(trial) if trial.source != Source.RIG else None
    if against is not None:
        raise NotNow(against)
    if not Trial.objects.filter(state__in=ON_THE_BENCH).exists():
        clock.follow_the_wall()
    trial.started_at = trial.wall_anchor = trial.trial_anchor = clock.now()
    trial.speed = 1.0
    trial.hand, trial.hand_name = hand, hand_name
    if trial.source == Source.RIG:
        set_up(trial, situation, speed)
    trial.enter(State.RUNNING, "started", maker, source=trial.source)


def act(
    trial: Trial,
    maker: Maker,
    kind: str,
    event_id: uuid.UUID,
    data: Any,
    at: datetime.datetime | None = None,
    hand: str = "",
) -> Event:
    """Take a step of the run and log it. The same event sent twice is done once.

    data  what comes with it, as it was sent or in its own shape
    at    when it was done, where it could not be sent at once
    hand  the browser that sends it

    Raises NotNow with what stands in the way, SheetError for what does not go with the step.
    """
    carries = data if isinstance(data, Carried) else read_carried(kind, data)
    step = STEPS[kind]
    existing = Event.objects.filter(pk=event_id).first()
    if existing:
        same = existing.trial_id == trial.pk and existing.kind in (kind, *step.logged_as)
        if same:
            return existing
        if kind != "dumped":
            raise NotNow(TAKEN)
        event_id = uuid.uuid4()  # whoever lets go is not asked for another id first
    must_be_open([trial.pk])  # that it was signed is said before all that else stands in the way
    with transaction.atomic():
        trial = catch_up(Trial.objects.select_for_update().get(pk=trial.pk))
        if step.hand:
            must_hold(trial, hand)
        done_at = None if at is None or trial.rig else min(max(at, trial.started_at or at), trial.now())
        return take(trial, maker, kind, event_id, carries, done_at)


def must_hold(trial: Trial, hand: str) -> None:
    """Raise NotNow where another hand holds the run."""
    if trial.hand and hand != trial.hand:
        raise NotNow(f"The run is in another hand ({trial.hand_name or 'another window'}). Take it over first.")


NOTHING_TO_HOLD = "There is no run to take over."
_TO_HOLD = (State.READY, *ON_THE_BENCH, State.JUDGED)


def take_over(trial: Trial, maker: Maker, hand: str, name: str) -> None:
    """Take the run into another hand; it is logged."""
    trial.must_be(_TO_HOLD, NOTHING_TO_HOLD)
    if trial.hand != hand:
        _hold(trial, hand, name)
        trial.log("taken-over", maker, name=trial.hand_name)


def ask_for(trial: Trial, maker: Maker, hand: str, name: str) -> None:
    """Ask whoever holds the run for it; a run that nobody holds is taken."""
    trial.must_be(_TO_HOLD, NOTHING_TO_HOLD)
    if not trial.hand:
        take_over(trial, maker, hand, name)
    elif hand not in (trial.hand, trial.asked_hand):
        trial.asked_hand, trial.asked_name = hand[:40], name.strip()[:60]
        trial.save(update_fields=["asked_hand", "asked_name"])
        trial.log("asked-for", maker, name=trial.asked_name)


def answer_asked(trial: Trial, maker: Maker, hand: str, *, give: bool) -> None:
    """Hand the run over to whoever asks for it, or keep it. Raises NotNow where it is not in this hand."""
    must_hold(trial, hand)
    if not trial.asked_hand:
        raise NotNow("Nobody asks for the run any more.")
    if give:
        _hold(trial, trial.asked_hand, trial.asked_name)
        trial.log("handed-over", maker, name=trial.hand_name)
    else:
        trial.asked_hand = trial.asked_name = ""
        trial.save(update_fields=["asked_hand", "asked_name"])


def _hold(trial: Trial, hand: str, name: str) -> None:
    trial.hand, trial.hand_name = hand[:40], name.strip()[:60]
    trial.asked_hand = trial.asked_name = ""
    trial.save(update_fields=["hand", "hand_name", "asked_hand", "asked_name"])

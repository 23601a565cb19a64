"""Which relief valve sits on a vessel, by the plans of its trials: what was tried of one says nothing of another."""

import datetime
from collections.abc import Sequence
from dataclasses import dataclass

from toadbell.core.ledger.voiding import Happened
from toadbell.core.phrases import Said, say
from toadbell.core.sheets.kit import FittedValve

BORE, SET = 0.05, 0.02
"""Bores and set pressures that are no further apart, as a part of them, are of one valve as it was measured twice."""


@dataclass(frozen=True)
class Seat:
    """A relief valve that a trial's plan told of: the trial's number, the day it was begun and its moment."""

    number: int
    on: datetime.date
    at: datetime.datetime
    valve: FittedValve


def another_since(seats: Sequence[Seat], tried: Happened) -> Said | None:
    """Why what was tried of a valve does not speak for the one that sits there now; None where both may be one, by all
    that is known of both.

    seats  of all plans that tell of a valve, in any order
    """
    told = sorted(seats, key=lambda seat: (seat.on, seat.at))
    was = next((seat for seat in reversed(told) if (seat.on, seat.at) <= (tried.on, tried.at)), None)
    later = [seat for seat in told if (seat.on, seat.at) > (tried.on, tried.at)]
    if was is None or not later:
        return None
    differs = _differs(was.valve, later[-1].valve)
    if differs is None:
        return None
    return say("ledger.another-valve", on=tried.on, number=later[-1].number, was=differs[0], now=differs[1])


def _differs(one: FittedValve, other: FittedValve) -> tuple[Said, Said] | None:
    """In what two valves are not one: both in words; None where nothing that is known of both tells them apart.

    A number tells a valve from all others of its maker; a name may be given anew.
    """
    words = [(getattr(one, what), getattr(other, what)) for what in ("number", "maker", "name")]
    same = [a.strip().casefold() == b.strip().casefold() if a and b else None for a, b in words]
    if same[0] is True and same[1] is not False:
        same[2] = None
    for what, known in zip(("number", "maker", "name"), same, strict=True):
        if known is False:
            return tuple(say(f"ledger.valve-{what}", x=getattr(valve, what)) for valve in (one, other))  # type: ignore[return-value]
    for what, apart in (("bore", BORE), ("set_pressure", SET)):
        a, b = getattr(one, what), getattr(other, what)
        if a is not None and b is not None and abs(a - b) > apart * max(a, b):
            word = what.replace("_pressure", "")
            return say(f"ledger.valve-{word}", x=a), say(f"ledger.valve-{word}", x=b)
    return None

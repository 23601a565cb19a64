"""What still stands of a valve's trial, a steam trial, and a proof after a yield, by what happened since: the same for
the evidence of one trial and for the vessel's ledger.
"""

import datetime
from collections.abc import Iterable, Sequence

from toadbell.core.ledger.valves import Seat, another_since
from toadbell.core.ledger.voiding import EXAMINED, HAPPENINGS, UNSOUND, Happened, Voids, last_of, lift_of
from toadbell.core.phrases import Said, say

STEAMED = 0.9
"""Steamed till its valve lifted at so much of the wanted pressure, it was steamed at it."""


def since(happened: Iterable[Happened], last: Happened, voids: tuple[Voids, ...]) -> Happened | None:
    """The last thing that happened after another, and voids such."""
    found = [
        one
        for one in happened
        if one.what in HAPPENINGS
        and HAPPENINGS[one.what].voids in voids
        and (one.on > last.on or (one.on == last.on and one.at > last.at))
    ]
    return found[-1] if found else None


def asks(one: Happened, what: Said | None = None) -> Said:
    """What happened, and what it asks for."""
    return say("fitness.tag-asks", happened=one.says, asks=what or HAPPENINGS[one.what].asks)


def valve_void(happened: Sequence[Happened], last: Happened, seats: Sequence[Seat] = ()) -> Said | None:
    """Why what was tried of the valve does not stand any more: a trial found it bad, and no other has put that right;
    the vessel was hurt since; a fitting was out that may have been it; or another sits there. None where it stands.
    """
    failed = last_of([one for one in happened if one.by_trial], "relief-reset")
    if failed is not None and not last.by_trial and (failed.on, failed.at) < (last.on, last.at):
        return say("ledger.only-a-trial", happened=failed.says)
    hurt = since(happened, last, ("all", "proof", "relief"))
    if hurt is not None:
        return asks(hurt)
    out = _refitted(happened, last)
    return another_since(seats, last) if out is None else asks(out, say("ledger.refitted-asks"))


def steam_failed(happened: Sequence[Happened]) -> Happened | None:
    """The steam trial that was not passed and stands: a note does not put right what a trial found; None where none."""
    last, failed = last_of(happened, "steam trial", "steam failed"), last_of(happened, "steam failed")
    stands = failed is not None and (last is failed or (failed.by_trial and last is not None and not last.by_trial))
    return failed if stands else None


def steam_void(happened: Sequence[Happened], last: Happened, seats: Sequence[Seat] = ()) -> Said | None:
    """Why a steam trial that was passed does not stand any more: hurt since, or with another valve; None where it
    does.
    """
    hurt = since(happened, last, ("all", "proof"))
    if hurt is not None:
        return asks(hurt)
    valve = since(happened, last, ("relief",)) or _refitted(happened, last)
    return another_since(seats, last) if valve is None else asks(valve, say("ledger.steam-valve"))


def steam_short(last: Happened, wanted: float | None) -> Said | None:
    """Why a steam trial shows less than is wanted (Pa): at what its valve lifted; None where it was steamed at that."""
    at = lift_of(last)
    if at is None:
        return say("ledger.steam-unread", on=last.on)
    if wanted is not None and at < wanted * STEAMED:
        return say("ledger.steam-less", at=at, wanted=wanted, on=last.on)
    return None


def yielded_unseen(happened: Sequence[Happened], on: datetime.date, at: datetime.datetime) -> Said | None:
    """That a vessel yielded before a proof of a day and a moment, and nobody looked at it, measured or mended it in
    between; None where not.
    """
    yielded = last_of([one for one in happened if (one.on, one.at) < (on, at)], "yielded")
    if yielded is None:
        return None
    looked = [
        one for one in happened if one.what in EXAMINED and (yielded.on, yielded.at) < (one.on, one.at) <= (on, at)
    ]
    return None if any(one.found != UNSOUND for one in looked) else asks(yielded)


def _refitted(happened: Iterable[Happened], last: Happened) -> Happened | None:
    """The last fitting that was out after something, and may have been the valve."""
    out = [one for one in happened if one.what == "refitted" and (one.on, one.at) > (last.on, last.at)]
    return next((one for one in reversed(out) if one.of_the_valve), None)

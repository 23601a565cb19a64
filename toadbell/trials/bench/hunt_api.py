"""The leaks of a vessel over the wire: each once, with its whole story."""

import dataclasses
import datetime
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema

from toadbell.core.phrases import say
from toadbell.core.sheets import read_vessel_sheet
from toadbell.shed.models import Vessel
from toadbell.trials import clock
from toadbell.trials.bench.hunt import cures_says, dry_since, mends_of, story_of, threads, told_of
from toadbell.trials.bench.leaks import pin_out
from toadbell.trials.bench.shapes import PinOut, ToldOut

router = Router()


class VesselLeak(Schema):
    """A leak of a vessel, as it was found last: whose, where, in which trial, at what pressure it first showed, Pa, and
    everything that was tried on it.

    open   nothing was done about it since it was found last
    dry    it was mended, and held tight since at what it leaked at
    cures  what it was sealed with, and till when it cures, in words; None where nothing does
    """

    id: UUID
    where: str
    owner: str
    whose: str
    shows: str
    trial: UUID
    number: int
    at: datetime.datetime
    pressure: float | None
    open: bool
    dry: bool
    cures: str | None
    pin: PinOut | None
    mend: str | None
    story: list[ToldOut]


@router.get("/vessels/{vessel_id}/leaks", response=list[VesselLeak])
def leaks(request: HttpRequest, vessel_id: UUID) -> list[VesselLeak]:
    """The leaks of a vessel over all its trials, the latest first; one that came again is told once."""
    vessel = Vessel.objects.get(pk=vessel_id)
    found, sheet = threads(vessel), read_vessel_sheet(vessel.sheet)
    told, now = told_of(found), clock.now()
    return [
        VesselLeak(
            id=leak.pk,
            where=leak.where,
            owner=leak.owner,
            whose=say(f"leak.{leak.owner}"),
            shows=leak.shows,
            trial=leak.trial_id,
            number=leak.trial.number,
            at=leak.at,
            pressure=leak.pressure,
            open=leak.mended_at is None and not mends_of(leak, told),
            pin=pin_out(leak, sheet),
            mend=leak.mend or None,
            dry=bool(dry_since(leak, told)),
            cures=cures_says(leak, now) if leak.until and leak.until > now else None,
            story=[ToldOut(**dataclasses.asdict(one)) for one in story_of(leak, told)],
        )
        for leak in found
    ]

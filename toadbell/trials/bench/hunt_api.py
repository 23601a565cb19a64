"""The leaks of a vessel over the wire: each once, with its whole story."""

import datetime
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema

from toadbell.core.phrases import say
from toadbell.shed.models import Vessel
from toadbell.trials import clock
from toadbell.trials.bench.hunt import cures_says, mends_of, story_of, threads, told_of
from toadbell.trials.bench.shapes import ToldOut

router = Router()


class VesselLeak(Schema):
    """A leak of a vessel, as it was found last: whose, where, in which trial, at what pressure it first showed, Pa, and
    everything that was tried on it.

    open   nothing was done about it since it was found last
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
    cures: str | None
    story: list[ToldOut]


@router.get("/vessels/{vessel_id}/leaks", response=list[VesselLeak])
def leaks(request: HttpRequest, vessel_id: UUID) -> list[VesselLeak]:
    """The leaks of a vessel over all its trials, the latest first; one that came again is told once."""
    found = threads(Vessel.objects.get(pk=vessel_id))
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
            cures=cures_says(leak, now) if leak.until and leak.until > now else None,
            story=[ToldOut(trial=one.trial, at=one.at, says=one.says) for one in story_of(leak, told)],
        )
        for leak in found
    ]

"""The door to the workshop's own network over the wire: opened, told of, closed; and words for the next phone."""

import datetime
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema, Status

from toadbell.people.api import InvitationIn, InvitationOut, invite
from toadbell.shed.errors import NotNow
from toadbell.site.share.addresses import addresses
from toadbell.site.share.listener import SECOND_DOOR
from toadbell.trials.models import Trial
from toadbell.trials.plan.api import maker_of

router = Router()


class AddressOut(Schema):
    """An address of this machine on a network of people's own."""

    address: str
    card: str


class ShareOut(Schema):
    """The door to the network: where it stands open and until when; and the addresses it may be opened at.

    fingerprint: of its certificate, for whoever compares it on the phone.
    """

    url: str | None
    until: datetime.datetime | None
    with_run: bool
    fingerprint: str | None
    addresses: list[AddressOut]


class ShareIn(Schema):
    """Open it at an address, for so many minutes; `trial` closes it with that run."""

    address: str = Field(max_length=64)
    minutes: int = Field(default=240, ge=1, le=1440)
    trial: UUID | None = None


def _out() -> ShareOut:
    now = SECOND_DOOR.opened
    return ShareOut(
        url=now.url if now else None,
        until=now.until if now else None,
        with_run=bool(now and now.trial),
        fingerprint=now.certificate.fingerprint if now else None,
        addresses=[AddressOut(address=one.address, card=one.card) for one in addresses()],
    )


@router.get("/share", response=ShareOut)
def share(request: HttpRequest) -> ShareOut:
    """How the door to the network stands."""
    return _out()


@router.post("/share", response=ShareOut)
def open_it(request: HttpRequest, data: ShareIn) -> ShareOut:
    """Open it."""
    if data.trial is not None:
        Trial.objects.get(pk=data.trial)
    SECOND_DOOR.open(data.address, data.minutes, data.trial)
    return _out()


@router.delete("/share", response=ShareOut)
def close_it(request: HttpRequest) -> ShareOut:
    """Close it."""
    SECOND_DOOR.close()
    return _out()


@router.post("/invitations", response={201: InvitationOut})
def new_words(request: HttpRequest, data: InvitationIn) -> Status[InvitationOut]:
    """Words for the next phone, while the door is open."""
    now = SECOND_DOOR.opened
    if now is None:
        raise NotNow("Open the door to the network first, else no phone can come.")
    return Status(201, invite(maker_of(request), data, now.url))


def workshop_certificate(request: HttpRequest) -> HttpResponse:
    """The workshop's own certificate, for a phone to take in once; it holds nothing secret."""
    now = SECOND_DOOR.opened
    if now is None:
        return HttpResponse("The door to the network is closed.", status=404, content_type="text/plain")
    answer = HttpResponse(now.certificate.workshop.read_bytes(), content_type="application/x-x509-ca-cert")
    answer["Content-Disposition"] = 'attachment; filename="toad-bell-workshop.crt"'
    answer["Cache-Control"] = "no-store"
    return answer

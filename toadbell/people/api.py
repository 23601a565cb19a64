"""People and their browsers over the wire: who there is, who is at this one, who is let in, and who no longer."""

import datetime
import time
from typing import Any
from uuid import UUID

from django.contrib.auth import logout, update_session_auth_hash
from django.contrib.auth.models import AnonymousUser
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Field, Router, Schema, Status
from ninja.errors import HttpError
from ninja.utils import check_csrf

from toadbell.people.models import Invitation, SignedIn, line_of
from toadbell.shed.errors import NotNow
from toadbell.shed.people import COLOURS, Maker, Role
from toadbell.trials.models import Trial
from toadbell.trials.plan.api import maker_of

router = Router()
KNOWN = "known"
"""Whose secret was given at this browser, and when, s: they are switched to without it for a while."""
KNOWN_FOR = 1800.0
NO_TOKEN = "CSRF check Failed"
"""What the API's library says of a write without the page's token, or with another's."""


class PersonOut(Schema):
    """Somebody of the workshop.

    asks        is their secret asked for before this browser is theirs?
    asked_here  is the owner asked on the workshop's own machine too?
    """

    id: UUID
    name: str
    role: Role
    says: str
    initials: str
    colour: str
    has_secret: bool
    asks: bool
    asked_here: bool
    here: bool
    active: bool


class PeopleOut(Schema):
    """Everybody of the workshop, the owner first, and whoever signs records from elsewhere or left."""

    people: list[PersonOut]
    colours: list[str]


class PersonIn(Schema):
    """What somebody is called, and may do."""

    name: str = Field(max_length=150)
    role: str = Field(max_length=10)
    initials: str = Field(default="", max_length=3)
    colour: str = Field(default="", max_length=10)
    asked_here: bool = False


class SecretIn(Schema):
    """A new PIN or password, with the one before where there is one; "" takes it away."""

    secret: str = Field(max_length=128)
    before: str = Field(default="", max_length=128)


class LeftIn(Schema):
    """Are they of this workshop no longer?"""

    left: bool


class SwitchIn(Schema):
    """Who is at this browser now, and their secret where it is asked for."""

    person: UUID
    secret: str = Field(default="", max_length=128)


class WhoOut(Schema):
    """Who may sign in at this browser, and how: by name here, by words from elsewhere."""

    here: bool
    people: list[PersonOut]


class SignedInOut(Schema):
    """A browser or a phone that is let in. `mine` is the one that asks."""

    id: UUID
    person: str
    role: str
    initials: str
    colour: str
    name: str
    phone: bool
    run: str | None
    address: str
    since: datetime.datetime
    seen: datetime.datetime
    mine: bool


class InvitationIn(Schema):
    """Whom the next phone is for: somebody who is of the workshop, or a new name and role; for one run or for good."""

    person: UUID | None = None
    name: str = Field(default="", max_length=150)
    role: str = Field(default="watcher", max_length=10)
    trial: UUID | None = None


class InvitationOut(Schema):
    """The words, once, and what to scan: the phone's way in. qr: a picture as a data address."""

    id: UUID
    words: str
    until: datetime.datetime
    url: str
    qr: str
    person: str


class AnsweredOut(Schema):
    """Did a phone bring the words?"""

    used: bool
    says: str


class JoinIn(Schema):
    """The words, and what the phone is called."""

    words: str = Field(max_length=300)
    device: str = Field(default="", max_length=60)


class Joined(Schema):
    """Who the phone is let in as, and the run it goes to."""

    name: str
    role: str
    trial: UUID | None


def with_token(request: HttpRequest) -> bool:
    """Whoever comes, let in or not, with the token of a page of ours: no other site's page can send it."""
    if check_csrf(request) is not None:
        raise HttpError(403, NO_TOKEN)
    return True


def person_out(maker: Maker, request: HttpRequest) -> PersonOut:
    """Somebody as others see them."""
    return PersonOut(
        id=maker.uid,
        name=maker.shown_name,
        role=Role(maker.role),
        says=maker.get_role_display(),
        initials=maker.initials or maker.shown_name[:1].upper(),
        colour=maker.colour,
        has_secret=maker.has_secret,
        asks=maker.has_secret and not _known(request, maker),
        asked_here=maker.asked_here,
        here=request.user.is_authenticated and maker.pk == request.user.pk,
        active=maker.is_active,
    )


def _people(request: HttpRequest) -> PeopleOut:
    gone = Maker.objects.filter(is_active=False).exclude(role=Role.ELSEWHERE)
    return PeopleOut(
        people=[person_out(one, request) for one in (*Maker.of_the_workshop(), *gone)], colours=list(COLOURS)
    )


@router.get("/people", response=PeopleOut)
def people(request: HttpRequest) -> PeopleOut:
    """Everybody of the workshop."""
    return _people(request)


@router.post("/people", response={201: PeopleOut})
def take_in(request: HttpRequest, data: PersonIn) -> Status[PeopleOut]:
    """Somebody new."""
    Maker.take_in(data.name, data.role, data.initials, data.colour)
    return Status(201, _people(request))


@router.put("/people/{uuid:person_id}", response=PeopleOut)
def describe(request: HttpRequest, person_id: UUID, data: PersonIn) -> PeopleOut:
    """Change what somebody is called, or may do."""
    maker = Maker.objects.get(uid=person_id)
    role = maker.role
    if data.asked_here and not maker.has_secret:
        raise NotNow("Give the owner a PIN or password first, else nobody could sign in here.")
    maker.describe(data.name, data.role, data.initials, data.colour)
    if maker.role != role:
        SignedIn.end_all_of(maker, SignedIn.of(request))
        Invitation.objects.filter(maker=maker, used_by=None).delete()
    if data.asked_here != maker.asked_here:
        maker.asked_here = data.asked_here
        maker.save(update_fields=["asked_here"])
    return _people(request)


@router.post("/people/{uuid:person_id}/left", response=PeopleOut)
def leave(request: HttpRequest, person_id: UUID, data: LeftIn) -> PeopleOut:
    """They are of this workshop no longer, or again; their phones are shut out at once."""
    Maker.objects.get(uid=person_id).leave(data.left)
    return _people(request)


@router.post("/people/{uuid:person_id}/secret", response=PeopleOut)
def keep_secret(request: HttpRequest, person_id: UUID, data: SecretIn) -> PeopleOut:
    """Give somebody a PIN or password: their own with the one before, an owner anybody's who lost theirs."""
    maker, asking = Maker.objects.get(uid=person_id), maker_of(request)
    if maker.pk == asking.pk:
        if maker.has_secret:
            maker.must_know(data.before, line_of(request))
    elif asking.role != Role.OWNER:
        raise NotNow("Only they themselves, or the owner of the workshop, give somebody a PIN or password.")
    maker.keep_secret(data.secret)
    at = SignedIn.of(request)
    SignedIn.end_all_of(maker, at)  # whoever got in by the secret before is out
    if at is not None and at.maker_id == maker.pk:
        update_session_auth_hash(request, maker)
    return _people(request)


# -- at this browser ------------------------------------------------------------------------


def _known(request: HttpRequest, maker: Maker) -> bool:
    """Was their secret, the one that they have now, given at this browser a while ago?"""
    kept = request.session.get(KNOWN, {}).get(str(maker.uid))
    since, mark = kept if isinstance(kept, list) and len(kept) == 2 else (0.0, "")
    return time.time() - float(since) < KNOWN_FOR and mark == maker.mark_of_secret


@router.get("/who", response=WhoOut, auth=None)
def who(request: HttpRequest) -> WhoOut:
    """Who may sign in at this browser: names are told on the workshop's own machine alone. Hands out the token, too."""
    get_token(request)
    here: bool = request.sits_here  # type: ignore[attr-defined]
    return WhoOut(here=here, people=[person_out(one, request) for one in Maker.of_the_workshop()] if here else [])


@router.post("/switch", response=PeopleOut, auth=with_token)
def switch(request: HttpRequest, data: SwitchIn) -> PeopleOut:
    """Somebody else is at this browser now.

    On the workshop's own machine whoever has no secret needs none; from elsewhere everybody does.
    """
    here: bool = request.sits_here  # type: ignore[attr-defined]
    if not here and not request.user.is_authenticated:
        raise NotNow("A phone is let in by the words that stand on the workshop's own screen.")
    maker = Maker.of_the_workshop().filter(uid=data.person).first()
    if maker is None:
        raise NotNow("Nobody of that name is of this workshop.")
    if maker.has_secret:
        if data.secret or not _known(request, maker):
            maker.must_know(data.secret, line_of(request))
    elif not here:
        raise NotNow(f"{maker.shown_name} has no PIN or password yet: from a phone one is needed.")
    before = SignedIn.of(request)
    known = dict(request.session.get(KNOWN, {}))
    SignedIn.begin(
        request,
        maker,
        before.name if before else "the workshop's own machine",
        phone=not here,
        trial=before.trial if before else None,
    )
    request.session[KNOWN] = {
        **known,
        **({str(maker.uid): [time.time(), maker.mark_of_secret]} if maker.has_secret else {}),
    }
    return _people(request)


@router.post("/sign-out", response=WhoOut)
def sign_out(request: HttpRequest) -> WhoOut:
    """Nobody is at this browser any more: on the workshop's own machine that is the owner, unless they are asked."""
    before = SignedIn.of(request)
    if before is not None:
        before.end()
    logout(request)
    request.signs_out = True  # type: ignore[attr-defined]
    return who(request)


@router.post("/forget", response=WhoOut, auth=with_token)
def forget(request: HttpRequest, response: HttpResponse) -> WhoOut:
    """Have the browser take away what it kept of the workshop.

    It is asked by one that was shut out, once it told what was not taken from it.
    """
    request.session.flush()
    request.user = AnonymousUser()
    request.signs_out = True  # type: ignore[attr-defined]
    response["Clear-Site-Data"] = '"cache", "storage"'
    return who(request)


@router.get("/signed-in", response=list[SignedInOut])
def signed_in(request: HttpRequest) -> list[SignedInOut]:
    """Browsers and phones that are let in: an owner sees all, everybody else their own."""
    asking = maker_of(request)
    rows = SignedIn.objects.filter(ended=None).select_related("maker", "trial__vessel")
    if asking.role != Role.OWNER:
        rows = rows.filter(maker=asking)
    mine = request.session.get("signed_in")
    return [
        SignedInOut(
            id=one.id,
            person=one.maker.shown_name,
            role=one.maker.get_role_display(),
            initials=one.maker.initials,
            colour=one.maker.colour,
            name=one.name,
            phone=one.phone,
            run=f"{one.trial.vessel.name}, trial {one.trial.number}" if one.trial else None,
            address=one.address,
            since=one.since,
            seen=one.seen,
            mine=str(one.pk) == mine,
        )
        for one in rows
        if one.over is None
    ]


@router.post("/signed-in/{uuid:one_id}/end", response=list[SignedInOut])
def shut_out(request: HttpRequest, one_id: UUID) -> list[SignedInOut]:
    """Shut a browser or a phone out: an owner any, everybody else their own."""
    asking, one = maker_of(request), SignedIn.objects.get(pk=one_id)
    if asking.role != Role.OWNER and one.maker_id != asking.pk:
        raise NotNow("Only its own person, or the owner of the workshop, shuts a phone out.")
    one.end()
    return signed_in(request)


# -- phones ---------------------------------------------------------------------------------


def invite(by: Maker, data: InvitationIn, base: str) -> InvitationOut:
    """Words for the next phone. base: the address that it comes to"""
    import segno  # asked for when a phone is brought

    trial = Trial.objects.get(pk=data.trial) if data.trial else None
    maker = Maker.objects.get(uid=data.person) if data.person else Maker.take_in(data.name, data.role)
    made, words = Invitation.make(by, maker, trial)
    url = f"{base}/join#{'-'.join(words.split())}"
    return InvitationOut(
        id=made.id,
        words=words,
        until=made.until,
        url=url,
        qr=segno.make(url, error="m", micro=False).svg_data_uri(scale=8, border=3, dark="#16302b", light="#ffffff"),
        person=maker.shown_name,
    )


@router.get("/invitations/{uuid:invitation_id}", response=AnsweredOut)
def answered(request: HttpRequest, invitation_id: UUID) -> AnsweredOut:
    """Whether a phone brought the words."""
    one = Invitation.objects.select_related("used_by__maker").filter(pk=invitation_id).first()
    used: Any = one.used_by if one else None
    return AnsweredOut(
        used=used is not None,
        says=f"{used.maker.shown_name} is let in, on {used.name}." if used else "No phone has come yet.",
    )


@router.post("/join", response={201: Joined}, auth=with_token)
def join(request: HttpRequest, data: JoinIn) -> Status[Joined]:
    """Let the phone in that brings the words."""
    one = Invitation.answered(request, data.words, data.device or "a phone")
    return Status(201, Joined(name=one.maker.shown_name, role=one.maker.role, trial=one.trial_id))

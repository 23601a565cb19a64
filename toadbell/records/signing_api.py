"""Second signatures over the wire: asked for, given, written down from paper; and what is written beside."""

import datetime
from typing import Any
from uuid import UUID

from django.http import HttpRequest
from django.http.response import HttpResponseBase
from ninja import Field, Router, Schema, Status

from toadbell.people.models import SignedIn, line_of
from toadbell.records import signing, workshop_key
from toadbell.records.doctor import found_last
from toadbell.records.files import sent_from
from toadbell.records.holding import compared_here, who_vouches, why_not
from toadbell.records.package_api import file_name
from toadbell.records.sealed import sealed_path
from toadbell.shed.errors import NotNow
from toadbell.shed.people import Maker, Role
from toadbell.trials.models import Signature, Trial
from toadbell.trials.plan.api import maker_of

router = Router()


class SeenStage(Schema):
    """What may have been seen of a trial, and how it is called."""

    id: str
    name: str


class SignatureOut(Schema):
    """A signature that was asked for, and what came of it.

    mine     is it asked of whoever looks?
    vouched  who vouches for it, in words
    """

    id: UUID
    role: str
    name: str
    asked_by: str
    asked_at: datetime.datetime
    mine: bool
    person: UUID | None
    on_paper: bool
    signed_at: datetime.datetime | None
    how: str
    saw: list[str]
    remarks: str
    approved: bool | None
    vouched: str


class BesideOut(Schema):
    """What was written beside a sealed record."""

    text: str
    by: str
    at: datetime.datetime


class SigningOut(Schema):
    """Everything about second signatures of a record.

    not_now  why it cannot be signed yet
    seal     SHA-256 of the sealed package; `holds`: does the record stand as it was signed, None where the package is
             gone, and why it does not in `holds_not`
    compared are its rows held against the package here, and not by the doctor alone
    people   who may be asked
    asks     is a secret asked for before whoever looks signs?
    """

    signatures: list[SignatureOut]
    stages: list[SeenStage]
    not_now: str | None
    seal: str | None
    holds: bool | None
    holds_not: str | None
    compared: bool
    beside: list[BesideOut]
    people: list[SeenStage]
    asks: bool
    may_ask: bool


class AskIn(Schema):
    """Whom a record asks to sign: somebody of the workshop, or a name that signs on paper."""

    role: str = Field(max_length=10)
    person: UUID | None = None
    name: str = Field(default="", max_length=150)


class SignIn(Schema):
    """What was seen, said and approved; by whose hand, with their secret where it is asked for."""

    id: UUID
    saw: list[str] = Field(default=[], max_length=60)
    remarks: str = Field(default="", max_length=2000)
    approved: bool | None = None
    person: UUID | None = None
    secret: str = Field(default="", max_length=128)


class PaperIn(Schema):
    """What stands on the paper that somebody signed."""

    saw: list[str] = Field(default=[], max_length=60)
    remarks: str = Field(default="", max_length=2000)
    approved: bool | None = None


class BesideIn(Schema):
    """What came after a record was sealed."""

    text: str = Field(max_length=2000)


class KeyOut(Schema):
    """This workshop's public key, and how two people read it to each other."""

    public: str
    read: str


@router.get("/signing-key", response=KeyOut)
def signing_key(request: HttpRequest) -> KeyOut:
    """The key by which this workshop vouches for the signatures given in it."""
    public = workshop_key.own_public()
    return KeyOut(public=public, read=workshop_key.fingerprint(public))


@router.get("/looked-over", response=list[str])
def looked_over(request: HttpRequest) -> list[str]:
    """What was wrong when the workshop was looked over last: chains that are broken, seals that do not hold."""
    return found_last()


def signing_of(trial: Trial, request: HttpRequest) -> SigningOut:
    """Second signatures of a trial, as whoever asks sees them."""
    asking = maker_of(request)
    stages = signing.stages_to_see(trial)
    names = dict(stages)
    found = list(trial.signatures.select_related("asked_by", "of"))
    seal = next((one.seal for one in found if one.seal), None)
    against = why_not(trial, seal) if seal else None
    return SigningOut(
        signatures=[
            SignatureOut(
                id=one.id,
                role=one.role,
                name=one.name,
                asked_by=one.asked_by.shown_name,
                asked_at=one.asked_at,
                mine=one.of_id == asking.pk,
                person=one.of.uid if one.of else None,
                on_paper=one.of_id is None,
                signed_at=one.signed_at,
                how=one.get_how_display() if one.how else "",
                saw=[names.get(stage, stage) for stage in one.saw],
                remarks=one.remarks,
                approved=one.approved,
                vouched=who_vouches(one),
            )
            for one in found
        ],
        stages=[SeenStage(id=key, name=name) for key, name in stages],
        not_now=signing.why_not_now(trial),
        seal=seal,
        holds=None if seal is None or not sealed_path(seal).exists() else against is None,
        holds_not=against,
        compared=compared_here(trial),
        beside=[BesideOut(text=one.text, by=one.by.shown_name, at=one.at) for one in trial.beside.select_related("by")],
        people=[
            SeenStage(id=str(one.uid), name=f"{one.shown_name}, {one.get_role_display()}") for one in _others(trial)
        ],
        asks=asking.has_secret,
        may_ask=asking.works and not trial.practice,
    )


def _others(trial: Trial) -> list[Maker]:
    hands = set(trial.events.values_list("by", flat=True)) | {trial.planned_by_id}
    return [one for one in Maker.of_the_workshop() if one.pk not in hands or one.role == Role.INSPECTOR]


def _found(trial_id: UUID, signature_id: UUID) -> Signature:
    return Signature.objects.select_related("trial__vessel", "asked_by", "of").get(pk=signature_id, trial=trial_id)


@router.get("/trials/{trial_id}/signatures", response=SigningOut)
def signatures(request: HttpRequest, trial_id: UUID) -> SigningOut:
    """Who was asked to sign a record, and who did."""
    return signing_of(Trial.objects.get(pk=trial_id), request)


@router.post("/trials/{trial_id}/signatures", response={201: SigningOut})
def ask(request: HttpRequest, trial_id: UUID, data: AskIn) -> Status[SigningOut]:
    """Ask somebody to sign."""
    with Trial.locked(trial_id) as trial:
        of = Maker.of_the_workshop().get(uid=data.person) if data.person else None
        Signature.ask(trial, maker_of(request), data.role, of, data.name)
    return Status(201, signing_of(trial, request))


@router.delete("/trials/{trial_id}/signatures/{uuid:signature_id}", response=SigningOut)
def withdraw(request: HttpRequest, trial_id: UUID, signature_id: UUID) -> SigningOut:
    """Ask no longer."""
    asked = _found(trial_id, signature_id)
    asked.withdraw()
    return signing_of(asked.trial, request)


@router.post("/trials/{trial_id}/signature", response={201: SigningOut})
def sign(request: HttpRequest, trial_id: UUID, data: SignIn) -> Status[SigningOut]:
    """Sign by one's own hand: on one's own phone, or here with one's secret."""
    asked, asking, at = _found(trial_id, data.id), maker_of(request), SignedIn.of(request)
    signer: Any = Maker.of_the_workshop().filter(uid=data.person).first() if data.person else asking
    if signer is None:
        raise NotNow("Nobody of that name is of this workshop.")
    own_phone = at is not None and at.phone and at.maker_id == signer.pk
    if signer.has_secret:
        signer.must_know(data.secret, line_of(request))
    elif not own_phone:
        raise NotNow(
            f"{signer.shown_name} has no PIN or password: anybody could sign as them here. Give them one at People, "
            "let their own phone in, or have it signed on paper."
        )
    how = Signature.How.OWN if own_phone else Signature.How.HERE
    signing.sign(asked, signer, how=how, saw=data.saw, remarks=data.remarks, approved=data.approved, written_by=signer)
    return Status(201, signing_of(asked.trial, request))


@router.post("/trials/{trial_id}/signatures/{uuid:signature_id}/paper", response={201: SigningOut})
def from_paper(request: HttpRequest, trial_id: UUID, signature_id: UUID, data: PaperIn) -> Status[SigningOut]:
    """Write down what somebody signed on paper."""
    asked = _found(trial_id, signature_id)
    signing.sign(
        asked,
        None,
        how=Signature.How.PAPER,
        saw=data.saw,
        remarks=data.remarks,
        approved=data.approved,
        written_by=maker_of(request),
    )
    return Status(201, signing_of(asked.trial, request))


@router.post("/trials/{trial_id}/beside", response={201: SigningOut})
def write_beside(request: HttpRequest, trial_id: UUID, data: BesideIn) -> Status[SigningOut]:
    """Write what came after a record was sealed."""
    trial = Trial.objects.get(pk=trial_id)
    signing.write_beside(trial, maker_of(request), data.text)
    return Status(201, signing_of(trial, request))


@router.get("/trials/{trial_id}/sealed.zip", include_in_schema=False)
def sealed(request: HttpRequest, trial_id: UUID) -> HttpResponseBase:
    """The package that was signed, byte for byte: whoever keeps it can hold it against the seal."""
    trial = Trial.objects.select_related("vessel").get(pk=trial_id)
    seal = trial.signatures.exclude(seal="").values_list("seal", flat=True).first()
    if not seal or not sealed_path(seal).exists():
        raise NotNow("There is no sealed package of this record here.")
    return sent_from(request, sealed_path(seal), "application/zip", f"{file_name(trial)}-sealed.zip")

"""The shed over the wire."""

import datetime
from typing import Literal
from uuid import UUID

from django.http import HttpRequest
from ninja import Field, Query, Router, Schema, Status

from toadbell.core.answers import DeriveAnswer
from toadbell.core.ledger.voiding import HAPPENINGS
from toadbell.core.vessel.drawing import Drawing
from toadbell.core.vessel.facts import Fact
from toadbell.shed.drawn import not_drawn, worked_out
from toadbell.shed.errors import Stale
from toadbell.shed.models import Care, Vessel
from toadbell.shed.wire import Day, Gone, Hung, Name, WrittenSheet

router = Router()


class VesselOut(Schema):
    """A vessel as it hangs in the shed."""

    id: UUID
    name: str
    kind: str
    notes: str
    sheet: WrittenSheet
    version: int
    shape: Drawing
    facts: list[Fact]
    answer: DeriveAnswer | None
    problem: str | None
    retired_on: datetime.date | None


class VesselIn(Schema):
    """A vessel as a person enters it; the sheet is in the open format."""

    name: Name = Field(max_length=120)
    sheet: WrittenSheet
    notes: str = Field(default="", max_length=20_000)
    version: int = 1
    happened: str | None = Field(
        default=None, max_length=40, description="what happened to it, where a decision rests on what is changed"
    )
    happened_text: str = Field(default="", max_length=500)
    id: UUID | None = Field(
        default=None, description="of one that was just taken off the shelf, to have it back as it was"
    )


class HappenedIn(Schema):
    """Something that happened to a vessel, or was done with it: what, on which day, and what there is to say of it."""

    what: str = Field(max_length=40)
    on: Day
    text: str = Field(default="", max_length=500)
    found: Literal["", "sound", "watch", "unsound", "valve", "other"] = Field(
        default="", description="by a look inside; of a fitting that was out, whether it was the relief valve"
    )
    until: Day | None = Field(default=None, description="a paper is good")


class HappenedOut(Schema):
    """The same as it was written down, what it voids of the evidence, and whether it was taken back.

    withdrawn  who took it back, "" where it stands
    """

    id: UUID
    what: str
    name: str
    on: datetime.date
    text: str
    found: str
    until: datetime.date | None
    by: str
    voids: str
    asks: str
    withdrawn: str


class SheetIn(Schema):
    """A sheet in the open format."""

    sheet: WrittenSheet


class Looked(Schema):
    """What a sheet would give, or what is wrong with it."""

    shape: Drawing | None
    answer: DeriveAnswer | None
    says: str | None
    field: str | None


class VesselRow(Schema):
    """A vessel in a list."""

    id: UUID
    name: str
    kind: str
    notes: str
    version: int


def vessel_out(vessel: Vessel, request: HttpRequest) -> VesselOut:
    """A vessel with what the core makes of it, in the asking person's units."""
    found = worked_out(vessel.sheet)
    return VesselOut(
        id=vessel.id,
        name=vessel.name,
        kind=vessel.kind,
        notes=vessel.notes,
        sheet=vessel.sheet,
        version=vessel.version,
        shape=found.shape or not_drawn(vessel.kind),
        facts=list(found.facts),
        answer=found.answer,
        problem=str(found.problem) if found.problem else None,
        retired_on=vessel.retired_on,
    )


@router.get("/vessels", response=list[VesselRow])
def vessels(request: HttpRequest, page: int = Query(1, ge=1, le=100_000)) -> list[VesselRow]:
    """Vessels in the shed, a page at a time; what the core makes of each is asked for one by one."""
    found = Vessel.objects.defer("sheet")[PAGE * (page - 1) : PAGE * page]
    return [VesselRow(id=one.id, name=one.name, kind=one.kind, notes=one.notes, version=one.version) for one in found]


PAGE = 60
"""Vessels on a page."""


@router.post("/vessels", response={201: VesselOut})
def hang_up(request: HttpRequest, data: VesselIn) -> Status[VesselOut]:
    """Hang up a vessel."""
    hung = Vessel.hang_up(request.user, data.name, data.sheet, data.notes, data.id)  # type: ignore[arg-type]
    return Status(201, vessel_out(hung, request))


@router.post("/vessels/look", response=Looked)
def look(request: HttpRequest, data: SheetIn) -> Looked:
    """What a sheet would give, before it is kept."""
    found = worked_out(data.sheet)
    if found.problem:
        return Looked(shape=None, answer=None, says=found.problem.says, field=found.problem.field)
    return Looked(shape=found.shape, answer=found.answer, says=None, field=None)


@router.get("/vessels/{vessel_id}", response=VesselOut)
def vessel(request: HttpRequest, vessel_id: UUID) -> VesselOut:
    """One vessel."""
    return vessel_out(Vessel.objects.get(pk=vessel_id), request)


@router.delete("/vessels/{vessel_id}", response=Gone)
def take_away(request: HttpRequest, vessel_id: UUID) -> Gone:
    """Take a vessel off the shelf of which nothing is on record."""
    vessel = Vessel.objects.get(pk=vessel_id)
    vessel.take_away()
    return Gone(says=f"{vessel.name} was taken off the shelf.")


@router.put("/vessels/{vessel_id}/hung", response=VesselOut)
def hang_again(request: HttpRequest, vessel_id: UUID, data: Hung) -> VesselOut:
    """Retire a vessel, or hang it up again; its records stay."""
    found = Vessel.objects.get(pk=vessel_id)
    found.retire(data.taken_down)
    return vessel_out(found, request)


@router.put("/vessels/{vessel_id}", response=VesselOut)
def change(request: HttpRequest, vessel_id: UUID, data: VesselIn) -> VesselOut:
    """Change what is known of a vessel; past trials keep the sheet they were run on."""
    found = Vessel.objects.get(pk=vessel_id)
    maker = request.user
    if not found.change(maker, data.name, data.sheet, data.notes, data.version, data.happened, data.happened_text):  # type: ignore[arg-type]
        raise Stale(
            "This vessel was changed in another window since you opened it. Load it again; what you typed is still "
            "here."
        )
    return vessel_out(found, request)


@router.get("/vessels/{vessel_id}/happened", response=list[HappenedOut])
def happened(request: HttpRequest, vessel_id: UUID) -> list[HappenedOut]:
    """What happened to a vessel and was done with it, the latest first."""
    cares = Vessel.objects.get(pk=vessel_id).cares.select_related("by", "withdrawn_by").order_by("-on", "-at")
    return [_happened_out(care) for care in cares]


@router.post("/vessels/{vessel_id}/happened", response={201: HappenedOut})
def something_happened(request: HttpRequest, vessel_id: UUID, data: HappenedIn) -> Status[HappenedOut]:
    """Write down that something happened to a vessel; its tag falls to what still stands."""
    care = Vessel.objects.get(pk=vessel_id).note(
        request.user,  # type: ignore[arg-type]
        data.what,
        data.on,
        data.text,
        data.found,
        data.until,
    )
    return Status(201, _happened_out(care))


@router.post("/vessels/{vessel_id}/happened/{care_id}/withdrawn", response=HappenedOut)
def take_back(request: HttpRequest, vessel_id: UUID, care_id: UUID) -> HappenedOut:
    """Take back what was written by mistake; it stays on record as taken back."""
    care = Care.objects.select_related("by").get(pk=care_id, vessel=vessel_id)
    care.take_back(request.user)  # type: ignore[arg-type]
    return _happened_out(care)


def _happened_out(care: Care) -> HappenedOut:
    known = HAPPENINGS.get(care.what)
    return HappenedOut(
        id=care.id,
        what=care.what,
        name=known.name if known else care.what,
        on=care.on,
        text=care.text,
        found=care.found,
        until=care.until,
        by=care.by.shown_name,
        voids=known.voids if known else "nothing",
        asks=known.asks if known else "",
        withdrawn=care.withdrawn_by.shown_name if care.withdrawn_by else "",
    )

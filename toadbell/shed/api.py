"""The shed over the wire."""

from typing import Any, Literal
from uuid import UUID

from django.http import HttpRequest
from ninja import Field, Router, Schema, Status

from toadbell.core.answers import DeriveAnswer
from toadbell.core.plan.derive import derive
from toadbell.core.sheets import SheetError, read_vessel_sheet
from toadbell.core.vessel import shape
from toadbell.shed.errors import Stale
from toadbell.shed.models import Vessel

router = Router()


class EndShape(Schema):
    """An end as it is drawn, m."""

    form: str
    depth: float


class VesselShape(Schema):
    """What a drawing needs, m; null is not known."""

    form: Literal["cylinder", "sphere", "unknown"]
    diameter: float | None
    length: float | None
    wall: float | None
    thinnest: float | None
    ends: list[EndShape]
    position: str


class VesselOut(Schema):
    """A vessel as it hangs in the shed."""

    id: UUID
    name: str
    kind: str
    notes: str
    sheet: dict[str, Any]
    version: int
    shape: VesselShape
    answer: DeriveAnswer | None
    problem: str | None


class VesselIn(Schema):
    """A vessel as a person enters it; the sheet is in the open format."""

    name: str = Field(min_length=1, max_length=120)
    sheet: dict[str, Any]
    notes: str = Field(default="", max_length=20_000)
    version: int = 1


class SheetIn(Schema):
    """A sheet in the open format."""

    sheet: dict[str, Any]


class Looked(Schema):
    """What a sheet would give, or what is wrong with it."""

    shape: VesselShape | None
    answer: DeriveAnswer | None
    says: str | None
    field: str | None


def shape_of(data: dict[str, Any]) -> VesselShape:
    """The drawing's figures from a sheet in the open format."""
    sheet = read_vessel_sheet(data)
    shell = sheet.shell
    if shell is None:
        return VesselShape(form="unknown", diameter=None, length=None, wall=None, thinnest=None, ends=[], position=sheet.position)
    ends = [EndShape(form=end.form, depth=shape.end_depth(end, shell.inside_diameter)) for end in sheet.ends]
    return VesselShape(
        form=shell.form,
        diameter=shell.inside_diameter,
        length=shell.length,
        wall=shell.wall,
        thinnest=shell.thinnest,
        ends=ends,
        position=sheet.position,
    )


def vessel_out(vessel: Vessel, request: HttpRequest) -> VesselOut:
    """A vessel with what the core makes of it, in the asking person's units."""
    answer, problem = None, None
    try:
        answer = derive(vessel.read(), request.user.pressure_unit, request.user.length_unit)  # type: ignore[union-attr]
    except SheetError as wrong:
        problem = str(wrong)
    return VesselOut(
        id=vessel.id,
        name=vessel.name,
        kind=vessel.sheet["kind"],
        notes=vessel.notes,
        sheet=vessel.sheet,
        version=vessel.version,
        shape=shape_of(vessel.sheet),
        answer=answer,
        problem=problem,
    )


@router.get("/vessels", response=list[VesselOut])
def vessels(request: HttpRequest) -> list[VesselOut]:
    """Every vessel in the shed."""
    return [vessel_out(vessel, request) for vessel in Vessel.objects.all()]


@router.post("/vessels", response={201: VesselOut})
def hang_up(request: HttpRequest, data: VesselIn) -> Status[VesselOut]:
    """Hang up a vessel."""
    return Status(201, vessel_out(Vessel.hang_up(request.user, data.name, data.sheet, data.notes), request))  # type: ignore[arg-type]


@router.post("/vessels/look", response=Looked)
def look(request: HttpRequest, data: SheetIn) -> Looked:
    """What a sheet would give, before it is kept."""
    try:
        answer = derive(read_vessel_sheet(data.sheet), request.user.pressure_unit, request.user.length_unit)  # type: ignore[union-attr]
    except SheetError as wrong:
        return Looked(shape=None, answer=None, says=wrong.says, field=wrong.field)
    return Looked(shape=shape_of(data.sheet), answer=answer, says=None, field=None)


@router.get("/vessels/{vessel_id}", response=VesselOut)
def vessel(request: HttpRequest, vessel_id: UUID) -> VesselOut:
    """One vessel."""
    return vessel_out(Vessel.objects.get(pk=vessel_id), request)


@router.put("/vessels/{vessel_id}", response=VesselOut)
def change(request: HttpRequest, vessel_id: UUID, data: VesselIn) -> VesselOut:
    """Change what is known of a vessel; past trials keep the sheet they were run on."""
    found = Vessel.objects.get(pk=vessel_id)
    if not found.change(data.name, data.sheet, data.notes, data.version):
        raise Stale("This vessel was changed in another window since you opened it. Load it again; what you typed is still here.")
    return vessel_out(found, request)

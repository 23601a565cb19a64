"""The kit board over the wire."""

import datetime
from uuid import UUID

from django.http import HttpRequest
from django.utils import timezone
from ninja import Field, Router, Schema, Status

from toadbell.core.plan.kit import CALIBRATION
from toadbell.core.sheets import SheetError, read_kit
from toadbell.shed.errors import Stale
from toadbell.shed.models import Kit
from toadbell.shed.wire import Hung, Name, WrittenKit

router = Router()


class KitOut(Schema):
    """A piece of kit: its particulars in the open format; until when its calibration holds, where it has one; what
    cannot be read of it.
    """

    id: UUID
    kind: str
    name: str
    sheet: WrittenKit
    notes: str
    version: int
    taken_down: bool
    calibrated_until: datetime.date | None
    out_of_date: bool
    problem: str | None


class KitIn(Schema):
    """A piece of kit as a person enters it."""

    kind: str = Field(max_length=40)
    name: Name = Field(max_length=80)
    sheet: WrittenKit
    notes: str = Field(default="", max_length=2000)
    version: int = 1


def kit_out(kit: Kit) -> KitOut:
    """A piece of kit with how its calibration stands today."""
    try:
        told = getattr(read_kit(kit.kind, kit.sheet), "calibrated", None)
        problem = None
    except SheetError as wrong:
        told, problem = None, str(wrong)
    until = told + CALIBRATION if told else None
    return KitOut(
        id=kit.id,
        kind=kit.kind,
        name=kit.name,
        sheet=kit.sheet,
        notes=kit.notes,
        version=kit.version,
        taken_down=kit.taken_down,
        calibrated_until=until,
        out_of_date=kit.kind == "gauge" and (until is None or until < timezone.localdate()),
        problem=problem,
    )


@router.get("/kit", response=list[KitOut])
def kit(request: HttpRequest) -> list[KitOut]:
    """What hangs on the board."""
    return [kit_out(one) for one in Kit.on_the_board()]


@router.post("/kit", response={201: KitOut})
def hang_up_kit(request: HttpRequest, data: KitIn) -> Status[KitOut]:
    """Hang up a piece of kit."""
    return Status(201, kit_out(Kit.hang_up(data.kind, data.name, data.sheet, data.notes)))


@router.put("/kit/{kit_id}", response=KitOut)
def change_kit(request: HttpRequest, kit_id: UUID, data: KitIn) -> KitOut:
    """Change what is known of a piece of kit; its kind stays."""
    found = Kit.objects.get(pk=kit_id)
    if not found.change(data.name, data.sheet, data.notes, data.version):
        raise Stale(
            "This was changed in another window since you opened it. Load it again; what you typed is still here."
        )
    return kit_out(found)


@router.put("/kit/{kit_id}/hung", response=KitOut)
def hang_kit(request: HttpRequest, kit_id: UUID, data: Hung) -> KitOut:
    """Take a piece of kit down, or hang it up again."""
    found = Kit.objects.get(pk=kit_id)
    found.hang(data.taken_down)
    return kit_out(found)

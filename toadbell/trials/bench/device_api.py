"""Loggers over the wire: made and taken away by people, and their own door."""

import dataclasses
import datetime
from uuid import UUID

from django.http import HttpRequest
from ninja import Field, Router, Schema, Status
from ninja.security import HttpBearer

from toadbell.trials.bench.devices import Sent, Taken, hand_in, listen
from toadbell.trials.models import Trial
from toadbell.trials.models.sources import Device
from toadbell.trials.plan.api import maker_of

router = Router()


class DeviceOut(Schema):
    """A logger. Its last reading Pa, wherever it was sent to."""

    id: UUID
    name: str
    trial: UUID | None
    seen_at: datetime.datetime | None
    seen_pressure: float | None


class NewDevice(DeviceOut):
    """A logger that was just made; the token is shown this once."""

    token: str


class DeviceIn(Schema):
    """What a new logger is called."""

    name: str = Field(max_length=80)


class ListenIn(Schema):
    """Read for this run, or no longer."""

    on: bool


class SentIn(Schema):
    """A reading of a device; quantities with their units, as everywhere.

    `id` is any text that the device never uses twice.
    """

    id: str = Field(min_length=1, max_length=80)
    pressure: str = Field(max_length=40)
    temperature: str | None = Field(default=None, max_length=40)
    at: datetime.datetime | None = None
    ago: str | None = Field(default=None, max_length=40, description="such as “2.5 s”, for a device without a clock")
    strokes: int | None = Field(default=None, ge=0, le=10_000_000)


class BatchIn(Schema):
    """A batch; `sent` is the device's own time, by which a clock that is off is put right."""

    readings: list[SentIn]
    sent: datetime.datetime | None = None


class TakenOut(Schema):
    """Ids stored by this call, ids that were stored before, and by how many s the clock was put right.

    differs  ids under which another reading was stored before: that one was kept; `says` it in words
    """

    stored: list[str]
    known: list[str]
    clock_off: float
    differs: list[str] = []
    says: str | None = None


class Token(HttpBearer):
    """A device's token: Authorization: Bearer tb_…"""

    def authenticate(self, request: HttpRequest, token: str) -> Device | None:
        """The device, or nobody."""
        return Device.with_token(token)


def _out(device: Device) -> dict[str, object]:
    return {
        "id": device.id,
        "name": device.name,
        "trial": device.trial_id,
        "seen_at": device.seen_at,
        "seen_pressure": device.seen_pressure,
    }


@router.get("/devices", response=list[DeviceOut])
def devices(request: HttpRequest) -> list[dict[str, object]]:
    """The loggers of the workshop."""
    return [_out(device) for device in Device.objects.filter(taken_away_at=None)]


@router.post("/devices", response={201: NewDevice})
def new_device(request: HttpRequest, data: DeviceIn) -> Status[dict[str, object]]:
    """A new logger with a token of its own."""
    device, token = Device.hang_up(data.name, maker_of(request))
    return Status(201, {**_out(device), "token": token})


@router.delete("/devices/{uuid:device_id}", response=list[DeviceOut])
def take_device_away(request: HttpRequest, device_id: UUID) -> list[dict[str, object]]:
    """Its token is worth nothing from now on."""
    Device.objects.get(pk=device_id, taken_away_at=None).take_away()
    return devices(request)


@router.post("/trials/{trial_id}/devices/{device_id}", response=list[DeviceOut])
def choose_device(request: HttpRequest, trial_id: UUID, device_id: UUID, data: ListenIn) -> list[dict[str, object]]:
    """Let a logger read for this run, or no longer."""
    with Trial.locked(trial_id) as trial:
        listen(trial, Device.objects.get(pk=device_id, taken_away_at=None), data.on, maker_of(request))
    return devices(request)


@router.post("/devices/readings", auth=Token(), response={201: TakenOut})
def take_in(request: HttpRequest, data: BatchIn) -> Status[TakenOut]:
    """Store a batch once. What is acknowledged is on the disk; send again whatever was not."""
    device: Device = request.auth  # type: ignore[attr-defined]
    taken = hand_in(device, [Sent(**one.dict()) for one in data.readings], data.sent)
    return Status(201, taken_out(taken))


def taken_out(taken: Taken) -> TakenOut:
    """What became of a batch, as it goes over the wire."""
    return TakenOut(**dataclasses.asdict(taken))

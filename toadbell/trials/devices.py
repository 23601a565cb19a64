"""The door through which loggers hand in their readings: each stored once, on the disk before it is acknowledged."""

import datetime
import uuid
from dataclasses import dataclass

from django.db import transaction
from django.utils import timezone

from toadbell.core import units
from toadbell.core.sheets import SheetError
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.shed.wire import in_reach
from toadbell.trials.models import Reading, Source, Trial
from toadbell.trials.pumped import strokes_by
from toadbell.trials.readings import ON_THE_BENCH, take
from toadbell.trials.sources import Device

MOST = 5000
CLOCK_OFF = 2.0
"""A device's clock may differ by so many s before its readings' times are put right by the difference."""
AHEAD = 60.0
"""A reading without the device's own time beside it may lie so many s in the future."""


@dataclass(frozen=True)
class Sent:
    """A reading as a device sent it: its own id, quantities as text, and when: a moment, or so long ago; neither means now."""

    id: str
    pressure: str
    temperature: str | None = None
    at: datetime.datetime | None = None
    ago: str | None = None
    strokes: int | None = None


@dataclass(frozen=True)
class Taken:
    """What became of a batch: ids now on the disk by this call, ids that were there before, and by how much the clock was put right, s."""

    stored: list[str]
    known: list[str]
    clock_off: float


def hand_in(device: Device, batch: list[Sent], sent: datetime.datetime | None) -> Taken:
    """Store a device's batch on the run that listens to it: all of it or nothing.

    sent  the device's own time as it sent the batch; with it a clock that is off is put right

    Raises NotNow where no run listens or the batch is too long, SheetError naming the reading that cannot be used.
    """
    if len(batch) > MOST:
        raise NotNow(f"{len(batch)} readings at a time are too many: send at most {MOST}, the oldest first, then the next.")
    now = timezone.now()
    off = 0.0 if sent is None else (now - _aware(sent)).total_seconds()
    put_right = off if abs(off) > CLOCK_OFF else 0.0
    moments = [_moment(n, one, now, put_right, sent is not None) for n, one in enumerate(batch, 1)]
    pressures = [_quantity(n, "pressure", one.pressure, "pressure") for n, one in enumerate(batch, 1)]
    warm = [
        None if one.temperature is None else _quantity(n, "temperature", one.temperature, "temperature") for n, one in enumerate(batch, 1)
    ]
    last = pressures[max(range(len(batch)), key=lambda i: moments[i])] if batch else None
    if device.trial_id is None:
        _seen(device, now, last)
        raise NotNow(f"No run listens to “{device.name}”. Choose it on the bench; keep these readings and send them again.")
    with transaction.atomic():
        trial = Trial.objects.select_related("planned_by").defer("sheet", "frozen", "rig").get(pk=device.trial_id)
        if trial.state not in ON_THE_BENCH or trial.source == Source.RIG:
            raise NotNow(f"The run that listens to “{device.name}” is not on the bench: nothing was stored.")
        begun = trial.started_at or now
        early = next((n for n, at in enumerate(moments, 1) if at < begun - datetime.timedelta(seconds=AHEAD)), None)
        if early:
            raise SheetError(
                f"{_age(begun - moments[early - 1])} before the run began. Leave out what is older, or set the device's clock",
                f"readings.{early}.at",
            )
        _seen(device, now, last)
        ids = [_id(device, one.id) for one in batch]
        _count_strokes(trial, device, list(zip(ids, moments, batch, strict=True)))
        strokes = strokes_by(trial)
        known = take(
            trial,
            [
                Reading(id=i, trial=trial, at=at, pressure=p, temperature=t, strokes=strokes(at), source=Source.DEVICE, device=device)
                for i, at, p, t in zip(ids, moments, pressures, warm, strict=True)
            ],
        )
    return Taken(
        stored=[one.id for i, one in zip(ids, batch, strict=True) if i not in known],
        known=[one.id for i, one in zip(ids, batch, strict=True) if i in known],
        clock_off=round(put_right, 1),
    )


def _seen(device: Device, now: datetime.datetime, pressure: float | None) -> None:
    """The bench shows that a logger is alive, and what it reads, whoever listens."""
    Device.objects.filter(pk=device.pk).update(seen_at=now, seen_pressure=pressure)


def _count_strokes(trial: Trial, device: Device, batch: list[tuple[uuid.UUID, datetime.datetime, Sent]]) -> None:
    """What a device's own counter went on by is logged as strokes, as if somebody had counted them; a counter begun anew counts from nothing."""
    stood = device.seen_strokes
    for reading, at, one in sorted(batch, key=lambda row: row[1]):
        if one.strokes is None:
            continue
        made = 0 if stood is None else one.strokes - stood if one.strokes >= stood else one.strokes
        if made and not Reading.objects.filter(pk=reading).exists():
            trial.log("strokes", trial.planned_by, at=at, event_id=uuid.uuid5(reading, "strokes"), count=made)
        stood = one.strokes
    if stood != device.seen_strokes:
        Device.objects.filter(pk=device.pk).update(seen_strokes=stood)


def _id(device: Device, text: str) -> uuid.UUID:
    """A device's own id as ours: any text that it never uses twice."""
    return uuid.uuid5(device.id, text)


def _aware(moment: datetime.datetime) -> datetime.datetime:
    try:
        return in_reach(moment if moment.tzinfo else moment.replace(tzinfo=datetime.UTC))
    except ValueError as wrong:
        raise SheetError(str(wrong), "at") from None


def _moment(number: int, one: Sent, now: datetime.datetime, put_right: float, sent: bool) -> datetime.datetime:
    if one.at is None:
        ago = 0.0 if one.ago is None else _quantity(number, "ago", one.ago, "time")
        return now - datetime.timedelta(seconds=max(0.0, ago))
    at = _aware(one.at) + datetime.timedelta(seconds=put_right)
    if (at - now).total_seconds() > AHEAD:
        how = (
            "The times of this batch contradict each other"
            if sent
            else "Set the device's clock, or send “sent” with its own time and the difference is taken out"
        )
        raise SheetError(f"{_age(at - now)} ahead of this clock. {how}", f"readings.{number}.at")
    return min(at, now)


def _age(span: datetime.timedelta) -> str:
    return units.write(span.total_seconds(), "time", "min" if span.total_seconds() < 7200 else "h", figures=2)


def _quantity(number: int, field: str, text: str, kind: str) -> float:
    try:
        value = units.read(text, kind).value
    except units.QuantityError as problem:
        raise SheetError(str(problem), f"readings.{number}.{field}") from None
    if kind == "pressure" and value < -50_000:
        raise SheetError(
            f"“{text}” is far below nothing on a gauge: send gauge pressure, not the sensor's raw value", f"readings.{number}.{field}"
        )
    return max(0.0, value) if kind == "pressure" else value


def listen(trial: Trial, device: Device, on: bool, maker: Maker) -> None:
    """Let a device read for this run, or no longer."""
    if on and (trial.state not in ON_THE_BENCH or trial.rig):
        raise NotNow("Begin a run on the real rig first; then choose who reads for it.")
    if on and device.trial_id not in (None, trial.pk) and Trial.objects.filter(pk=device.trial_id, state__in=ON_THE_BENCH).exists():
        raise NotNow(f"“{device.name}” reads for another run. Let it go there first.")
    device.trial = trial if on else None
    device.save(update_fields=["trial"])
    trial.log("listening", maker, name=device.name, on=on)

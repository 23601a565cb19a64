"""The door through which loggers hand in their readings: each stored once, on the disk before it is acknowledged.

What arrived together is stored with one commit.
"""

import datetime
import uuid
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass

from django.db import transaction

from toadbell.core import units
from toadbell.core.run.phases import ON_THE_BENCH
from toadbell.core.sheets import SheetError
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.shed.wire import in_reach
from toadbell.trials import clock
from toadbell.trials.bench.readings import kept_otherwise, may_be_read, take
from toadbell.trials.bench.stroke_analysis import strokes_by, strokes_logged
from toadbell.trials.database_stamp import of_this_database
from toadbell.trials.models import Reading, Source, Stored, Trial
from toadbell.trials.models.sources import Device

MOST = 5000
CLOCK_OFF = 2.0
"""A device's clock may differ by so many s before its readings' times are put right by the difference."""
AHEAD = 60.0
"""A reading without the device's own time beside it may lie so many s in the future."""
SEEN_EVERY = datetime.timedelta(seconds=1)
MOST_COUNTS = 1000
LOGGED_EVERY = datetime.timedelta(seconds=5)
"""Strokes that a device counts stand in the log so often at the most; each reading carries its own count."""


@dataclass(frozen=True)
class Sent:
    """A reading as a device sent it: its own id, quantities as text, and when: a moment, or so long ago; neither means
    now.
    """

    id: str
    pressure: str
    temperature: str | None = None
    at: datetime.datetime | None = None
    ago: str | None = None
    strokes: int | None = None


@dataclass(frozen=True)
class Taken:
    """What became of a batch: ids now on the disk by this call, ids that were there before, and by how much the clock
    was put right, s.

    differs  ids that stood for another reading before, which was kept; `says` what was kept
    """

    stored: list[str]
    known: list[str]
    clock_off: float
    differs: list[str]
    says: str | None


@dataclass(frozen=True)
class Batch:
    """What a device handed in. sent  its own time as it sent it; with it a clock that is off is put right."""

    device: Device
    readings: list[Sent]
    sent: datetime.datetime | None = None


@dataclass(frozen=True)
class _Read:
    """A batch as it was understood: ids of ours, moments, Pa, K; and by how many s the clock was put right."""

    batch: Batch
    ids: list[uuid.UUID]
    moments: list[datetime.datetime]
    pressures: list[float]
    warm: list[float | None]
    put_right: float

    @property
    def last(self) -> float | None:
        """The latest pressure in it, Pa."""
        return self.pressures[max(range(len(self.moments)), key=lambda i: self.moments[i])] if self.moments else None


Answered = Taken | NotNow | SheetError


def hand_in(device: Device, batch: list[Sent], sent: datetime.datetime | None) -> Taken:
    """Store a device's batch on the run that listens to it: all of it or nothing.

    Raises NotNow where no run listens or the batch is too long, SheetError naming the reading that cannot be used.
    """
    (answer,) = hand_in_together([Batch(device, batch, sent)])
    if isinstance(answer, Taken):
        return answer
    raise answer


def hand_in_together(batches: Sequence[Batch]) -> list[Answered]:
    """Store what arrived together with one commit; each batch is taken or refused by itself, whatever is wrong with
    another.
    """
    now = clock.now()
    answers: list[Answered | None] = [None] * len(batches)
    read: dict[int, _Read] = {}
    for n, batch in enumerate(batches):
        try:
            read[n] = _understood(batch, now)
        except (NotNow, SheetError) as wrong:
            answers[n] = wrong
    try:
        with transaction.atomic():
            _store(read, answers, now)
    except BaseException:
        _counts.clear()  # what was not kept was not counted
        raise
    return [answer for answer in answers if answer is not None]


def _store(read: dict[int, _Read], answers: list[Answered | None], now: datetime.datetime) -> None:
    """Store what was understood, and write into `answers` what became of each."""
    if read:
        _seen(read.values(), now)
        for trial_id in dict.fromkeys(one.batch.device.trial_id for one in read.values()):
            together = {n: one for n, one in read.items() if one.batch.device.trial_id == trial_id}
            try:
                with transaction.atomic():
                    taken = _take(trial_id, list(together.values()), now)
            except (NotNow, SheetError) as wrong:
                _counts.clear()
                taken = [wrong] if len(together) == 1 else [_alone(trial_id, one, now) for one in together.values()]
            for n, answer in zip(together, taken, strict=True):
                answers[n] = answer


def _alone(trial_id: uuid.UUID | None, one: _Read, now: datetime.datetime) -> Answered:
    """One batch by itself, after something was wrong with one of several."""
    try:
        with transaction.atomic():
            return _take(trial_id, [one], now)[0]
    except (NotNow, SheetError) as wrong:
        return wrong


def _understood(batch: Batch, now: datetime.datetime) -> _Read:
    sent, rows = batch.sent, batch.readings
    if len(rows) > MOST:
        raise NotNow(
            f"{len(rows)} readings at a time are too many: send at most {MOST}, the oldest first, then the next."
        )
    off = 0.0 if sent is None else (now - _aware(sent, "sent")).total_seconds()
    put_right = off if abs(off) > CLOCK_OFF else 0.0
    return _Read(
        batch,
        [_id(batch.device, one.id) for one in rows],
        [_moment(n, one, now, put_right, sent is not None) for n, one in enumerate(rows, 1)],
        [_quantity(n, "pressure", one.pressure, "pressure") for n, one in enumerate(rows, 1)],
        [
            None if one.temperature is None else _quantity(n, "temperature", one.temperature, "temperature")
            for n, one in enumerate(rows, 1)
        ],
        put_right,
    )


def _take(trial_id: uuid.UUID | None, together: list[_Read], now: datetime.datetime) -> list[Answered]:
    """Store batches that are for one run. Raises NotNow, SheetError with nothing stored of any."""
    name = together[0].batch.device.name
    if trial_id is None:
        raise NotNow(f"No run listens to “{name}”. Choose it on the bench; keep these readings and send them again.")
    trial = Trial.objects.select_related("planned_by").defer("sheet", "vessel_sheet", "frozen", "rig").get(pk=trial_id)
    if trial.source == Source.RIG or not may_be_read(trial):
        raise NotNow(f"The run that listens to “{name}” is not on the bench: nothing was stored.")
    begun = trial.started_at or now
    for one in together:
        early = next((n for n, at in enumerate(one.moments, 1) if at < begun - datetime.timedelta(seconds=AHEAD)), None)
        if early:
            raise SheetError(
                f"{_age(begun - one.moments[early - 1])} before the run began. Leave out what is older, or set the "
                "device's clock",
                f"readings.{early}.at",
            )
    made = _readings(trial, together)
    stored = take(trial, made)
    fresh = {reading.id for reading in stored.fresh}
    _log_strokes(trial, together, fresh, {reading.id: reading for reading in stored.fresh})
    return [_told(one, stored, fresh) for one in together]


def _told(one: _Read, stored: Stored, fresh: set[uuid.UUID]) -> Taken:
    ids = dict(zip(one.ids, (sent.id for sent in one.batch.readings), strict=True))
    mine = Stored([], set(), {i: kept for i, kept in stored.differs.items() if i in ids})
    return Taken(
        stored=[text for i, text in ids.items() if i in fresh],
        known=[text for i, text in ids.items() if i in stored.known],
        clock_off=round(one.put_right, 1),
        differs=[ids[i] for i in mine.differs],
        says=kept_otherwise(mine),
    )


def _seen(read: Collection[_Read], now: datetime.datetime) -> None:
    """The bench shows that a logger is alive, and what it reads, whoever listens: once a second is enough for that."""
    changed = []
    for one in read:
        device = one.batch.device
        if device.seen_at is None or not datetime.timedelta(0) <= now - device.seen_at < SEEN_EVERY:
            device.seen_at, device.seen_pressure = now, one.last
            changed.append(device)
    if changed:
        Device.objects.bulk_update(changed, ["seen_at", "seen_pressure"])


@dataclass(frozen=True)
class _Counted:
    """Where a device's count stood: its last reading's moment, and the strokes in the run by then."""

    at: datetime.datetime
    total: int


_counts: dict[tuple[object, ...], _Counted] = {}
"""Where the counts of devices stood last, by trial and device. Only this process stores what devices send."""


def _count_key(trial: Trial, device: Device) -> tuple[object, ...]:
    return of_this_database(), trial.pk, device.pk


def _last_count(trial: Trial, device: Device) -> _Counted | None:
    key = _count_key(trial, device)
    if key not in _counts:
        row = Reading.objects.filter(trial=trial, device=device).order_by("-at").values_list("at", "strokes").first()
        if row is None:
            return None
        if len(_counts) >= MOST_COUNTS:
            _counts.clear()
        _counts[key] = _Counted(row[0], row[1] or 0)
    return _counts[key]


def _readings(trial: Trial, together: list[_Read]) -> list[Reading]:
    """Batches as readings, each with the strokes made so far: as its device counted on from before, else as they were
    logged.
    """
    logged = strokes_by(trial, [at for one in together for at in one.moments])
    found, counting = [], []
    for one in together:
        counts: dict[int, int] = {}
        if any(row.strokes is not None for row in one.batch.readings):
            counts = _counted(trial, one, logged)
            counting.append(one.batch.device)
        found += [
            Reading(
                id=i,
                trial=trial,
                at=at,
                pressure=p,
                temperature=t,
                strokes=counts[n] if counts else logged(at),
                source=Source.DEVICE,
                device=one.batch.device,
            )
            for n, (i, at, p, t) in enumerate(zip(one.ids, one.moments, one.pressures, one.warm, strict=True))
        ]
    if counting:
        Device.objects.bulk_update(counting, ["seen_strokes"])
    return found


def _counted(trial: Trial, one: _Read, logged: Callable[[datetime.datetime], int]) -> dict[int, int]:
    """Strokes in the run at each reading of a device with a counter, by its place; a counter begun anew counts on from
    nothing.

    What comes late, older than what the device sent before, counts nothing again.
    """
    device, rows = one.batch.device, one.batch.readings
    before = _last_count(trial, device)
    total = max(before.total if before else 0, logged(max(one.moments)))
    stood, found = device.seen_strokes, {}
    for n in sorted(range(len(rows)), key=lambda i: one.moments[i]):
        count = rows[n].strokes
        if count is None:
            found[n] = total
            continue
        if before and one.moments[n] <= before.at:
            found[n] = max(0, total - max(0, (stood or 0) - count))
            continue
        total += 0 if stood is None else count - stood if count >= stood else count
        found[n], stood = total, count
    device.seen_strokes = stood
    return found


def _log_strokes(trial: Trial, together: list[_Read], fresh: set[uuid.UUID], made: dict[uuid.UUID, Reading]) -> None:
    """Write what devices counted into the log, not oftener than every few seconds, as if somebody had counted it."""
    for one in together:
        key = _count_key(trial, one.batch.device)
        for reading in (made[i] for i in one.ids if i in fresh):
            if key not in _counts or reading.at >= _counts[key].at:
                _counts[key] = _Counted(reading.at, reading.strokes or 0)
    counting = [
        made[i]
        for one in together
        for i, row in zip(one.ids, one.batch.readings, strict=True)
        if row.strokes is not None and i in fresh
    ]
    if not counting:
        return
    at, most = max(reading.at for reading in counting), max(reading.strokes or 0 for reading in counting)
    before = trial.events.filter(kind="strokes").order_by("-at").values_list("at", flat=True).first()
    if before is not None and at - before < LOGGED_EVERY:
        return
    counted = most - strokes_logged(trial)
    if counted > 0:
        trial.log("strokes", trial.planned_by, at=at, count=counted)


def _id(device: Device, text: str) -> uuid.UUID:
    """A device's own id as ours: any text that it never uses twice."""
    return uuid.uuid5(device.id, text)


def _aware(moment: datetime.datetime, field: str) -> datetime.datetime:
    try:
        return in_reach(moment if moment.tzinfo else moment.replace(tzinfo=datetime.UTC))
    except ValueError as wrong:
        raise SheetError(str(wrong), field) from None


def _moment(number: int, one: Sent, now: datetime.datetime, put_right: float, sent: bool) -> datetime.datetime:
    if one.at is None:
        ago = 0.0 if one.ago is None else _quantity(number, "ago", one.ago, "time")
        return now - datetime.timedelta(seconds=max(0.0, ago))
    at = _aware(one.at, f"readings.{number}.at") + datetime.timedelta(seconds=put_right)
    if (at - now).total_seconds() > AHEAD:
        how = (
            "The times of this batch contradict each other"
            if sent
            else "Set the device's clock, or send “sent” with its own time and the difference is taken out"
        )
        raise SheetError(f"{_age(at - now)} ahead of this clock. {how}", f"readings.{number}.at")
    return min(at, now)


def _age(span: datetime.timedelta) -> str:
    return units.span(span.total_seconds())


def _quantity(number: int, field: str, text: str, kind: str) -> float:
    try:
        value = units.read(text, kind).value
    except units.QuantityError as problem:
        raise SheetError(str(problem), f"readings.{number}.{field}") from None
    if kind == "pressure" and value < -50_000:
        raise SheetError(
            f"“{text}” is far below nothing on a gauge: send gauge pressure, not the sensor's raw value",
            f"readings.{number}.{field}",
        )
    return max(0.0, value) if kind == "pressure" else value


def listen(trial: Trial, device: Device, on: bool, maker: Maker) -> None:
    """Let a device read for this run, or no longer."""
    if on and (trial.state not in ON_THE_BENCH or trial.rig):
        raise NotNow("Begin a run on the real rig first; then choose who reads for it.")
    if (
        on
        and device.trial_id not in (None, trial.pk)
        and Trial.objects.filter(pk=device.trial_id, state__in=ON_THE_BENCH).exists()
    ):
        raise NotNow(f"“{device.name}” reads for another run. Let it go there first.")
    device.trial = trial if on else None
    device.save(update_fields=["trial"])
    trial.log("listening", maker, name=device.name, on=on)

"""Records carried away: a zip that is a Data Package, which other programs read and this one takes in again.

See docs/formats.md.
"""

import csv
import datetime
import hashlib
import io
import itertools
import json
import zipfile
from collections import defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import IO, Any
from uuid import UUID

from django.db.models import Prefetch, QuerySet, TextField
from django.db.models.functions import Cast

from toadbell.core.phrases import Habit, speaking
from toadbell.core.run.log_text import in_words
from toadbell.records.backup import Tell, silent
from toadbell.records.cells import plain_cell
from toadbell.records.models import Attachment
from toadbell.records.package_shapes import (
    FORMAT,
    TABLES,
    DecisionPart,
    DevicePart,
    FrozenPart,
    KitFile,
    LoggedPart,
    PackageList,
    Resource,
    TrialFile,
    VerdictPart,
    VesselFile,
    as_json,
)
from toadbell.records.sealed import as_sealed, beside_row, sealed_path, signature_row
from toadbell.records.zip_files import PIECE, pieces_of
from toadbell.shed.models import Care, Kit, Maker, Vessel
from toadbell.trials.bench.run_state import run_state
from toadbell.trials.judge.hold import BASELINE_FILE, baseline_of, hold_csv, hold_readings, hold_sheet
from toadbell.trials.models import Beside, Event, Reading, Signature, Source, State, Trial
from toadbell.trials.models.sources import Device, ImportedFile
from toadbell.trials.models.trial import uncorrected

LIST = "datapackage.json"
MISSING = "missing.json"
"""Pictures and papers whose files were gone when it was made."""
MEDIA = {
    "json": "application/json",
    "csv": "text/csv",
    "jpg": "image/jpeg",
    "pdf": "application/pdf",
    "zip": "application/zip",
}
_TABLES_OF_A_TRIAL = {"readings.csv": "readings", "events.csv": "events"}
_EPOCH = (1980, 1, 1, 0, 0, 0)


@dataclass(frozen=True)
class Part:
    """A file of the package: where, what (a piece at a time, so that no size is too large), and by which columns where
    it is a table.
    """

    path: str
    pieces: Iterable[bytes]
    table: str | None = None

    def listed(self, size: int, sha: str) -> Resource:
        """How the package's list names it, after it was written. size  bytes"""
        ending = self.path.rpartition(".")[2]
        text = ending in ("json", "csv")
        return Resource(
            name=self.path,
            path=self.path,
            format=ending,  # type: ignore[arg-type]
            mediatype=MEDIA[ending],
            bytes=size,
            hash=sha,
            type="table" if self.table else None,
            encoding="utf-8" if text else None,
            schema={"fields": TABLES[self.table], "missingValues": [""]} if self.table else None,
        )


def write(
    to: IO[bytes], trial: Trial | None, at: datetime.datetime, tell: Tell = silent, *, signatures: bool = True
) -> None:
    """Write the whole workshop, or one trial with its vessel and the hold it is held against.

    at          the time of the export
    signatures  with who signed, and what was written beside; without for what is signed
    """
    title = "All records" if trial is None else f"{trial.vessel.name}, trial {trial.number}"
    listed, whole, done = [], max(1, Trial.objects.count()) if trial is None else 1, 0
    with zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as out:
        for part in _of_all() if trial is None else _of_one(trial, signatures):
            listed.append(part.listed(*_put(out, part.path, part.pieces)))
            if part.path.endswith("/events.csv"):
                done += 1
                tell(min(1.0, done / whole), "packing trials")
        found = PackageList(title=title, created=at, toadbell={"format": FORMAT}, resources=listed)
        _put(out, LIST, [as_json(found.model_dump(mode="json", by_alias=True, exclude_none=True))])


def _put(out: zipfile.ZipFile, path: str, pieces: Iterable[bytes]) -> tuple[int, str]:
    """The same bytes at every writing: no time of its own, no owner. Gives how many there were, and their checksum."""
    entry = zipfile.ZipInfo(path, _EPOCH)
    entry.compress_type = zipfile.ZIP_STORED if path.endswith(("jpg", "pdf", "zip")) else zipfile.ZIP_DEFLATED
    entry.create_system, entry.external_attr = 3, 0o644 << 16
    size, sha = 0, hashlib.sha256()
    with out.open(entry, "w", force_zip64=path.endswith("readings.csv")) as file:
        for piece in pieces:
            file.write(piece)
            sha.update(piece)
            size += len(piece)
    return size, f"sha256:{sha.hexdigest()}"


def _of_all() -> Iterator[Part]:
    yield from _parts(
        Vessel.objects.order_by("hung_up", "id"),
        Trial.objects.all(),
        Attachment.objects.all(),
        Care.objects.all(),
        Kit.objects.all(),
    )


def _of_one(trial: Trial, signatures: bool) -> Iterator[Part]:
    known = baseline_of(trial) if trial.frozen else None
    wanted = [trial.pk, *([known.pk] if known else [])]
    pictures = Attachment.objects.filter(vessel=trial.vessel, taken_down=False)
    yield from _parts(
        Vessel.objects.filter(pk=trial.vessel_id),
        Trial.objects.filter(pk__in=wanted),
        pictures.filter(trial=None) | pictures.filter(trial__in=wanted),
        Care.objects.filter(vessel=trial.vessel),
        Kit.objects.none(),
        signatures,
    )


def parts_of(trial: Trial) -> Iterator[Part]:
    """The files of one trial as it stands in the database, sealed or not."""
    return _of_one(trial, signatures=False)


def _parts(
    vessels: QuerySet[Vessel],
    trials: QuerySet[Trial],
    attachments: QuerySet[Attachment],
    cares: QuerySet[Care],
    kit: QuerySet[Kit],
    signatures: bool = True,
) -> Iterator[Part]:
    people: set[Maker] = set()
    signed = Signature.objects.filter(trial__in=trials) if signatures else Signature.objects.none()
    signed = signed.select_related("of", "asked_by", "written_by")
    seals = {one.trial_id: one.seal for one in signed if one.seal}
    carried = set(trials.values_list("pk", flat=True))
    if kit:
        yield Part(
            "kit.json", [as_json([kit_file(one).model_dump(mode="json") for one in kit.order_by("hung_up", "id")])]
        )
    for vessel in vessels.select_related("hung_up_by"):
        people.add(vessel.hung_up_by)
        yield Part(f"vessels/{vessel.id}/vessel.json", [vessel_file(vessel).as_bytes()])
    by_trial = _devices_by_trial(trials)
    for trial in _read_at_once(trials):
        events, devices = list(trial.events.all()), by_trial.get(trial.pk, [])
        people |= {trial.planned_by, *(event.by for event in events), *_others(trial, devices)}
        folder = f"trials/{trial.id}"
        sealed = as_sealed(seals[trial.pk], folder) if trial.pk in seals else []
        if sealed:
            yield Part(f"sealed/{seals[trial.pk]}.zip", pieces_of(sealed_path(seals[trial.pk])))
            for path, pieces in sealed:
                yield Part(path, pieces, _TABLES_OF_A_TRIAL.get(path.rpartition("/")[2]))
            continue
        yield Part(f"{folder}/trial.json", [trial_file(trial, carried, devices).as_bytes()])
        yield Part(f"{folder}/readings.csv", readings_csv(trial), "readings")
        yield Part(f"{folder}/events.csv", events_csv(events), "events")
        yield from _hold(trial, folder, uncorrected(events))
    kept = list(attachments.select_related("by", "vessel", "trial", "event").order_by("at", "id"))
    shown = [one for one in kept if one.path.exists()]
    lost = [
        {"id": str(one.id), "kind": one.kind, "name": one.name, "text": one.text}
        for one in kept
        if not one.path.exists()
    ]
    if lost:
        yield Part(MISSING, [as_json(lost)])
    held = list(cares.select_related("by", "withdrawn_by", "vessel").order_by("on", "at", "id"))
    people |= {one.by for one in shown} | {care.by for care in held}
    people |= {care.withdrawn_by for care in held if care.withdrawn_by is not None}
    notes = list(Beside.objects.filter(trial__in=trials).select_related("by")) if signatures else []
    people |= {who for one in signed for who in (one.of, one.asked_by, one.written_by) if who is not None}
    people |= {one.by for one in notes}
    if signed:
        yield Part("signatures.csv", table("signatures", (signature_row(one) for one in signed)), "signatures")
    if notes:
        yield Part("beside.csv", table("beside", (beside_row(one) for one in notes)), "beside")
    if held:
        yield Part(
            "cares.csv",
            table("cares", (_care_row(one) for one in held)),
            "cares",
        )
    if shown:
        yield Part("attachments.csv", table("attachments", (_attachment_row(one) for one in shown)), "attachments")
    for one in shown:
        yield Part(f"attachments/{one.file_name}", pieces_of(one.path))
    yield Part("people.csv", table("people", sorted([str(p.uid), p.shown_name] for p in people)), "people")


def _care_row(care: Care) -> list[Any]:
    back = [_z(care.withdrawn), care.withdrawn_by.uid] if care.withdrawn and care.withdrawn_by else ["", ""]
    told = [care.id, care.vessel_id, care.what, care.on, care.text, care.by.uid, _z(care.at)]
    return [*told, care.found, care.until or "", *back]


def _read_at_once(trials: QuerySet[Trial]) -> Iterator[Trial]:
    """The trials with their logs and their files, some at a time: none of them asks the database by itself."""
    events = Event.objects.select_related("by").order_by("at", "stored_at", "id")
    files = ImportedFile.objects.select_related("by").order_by("at", "id")
    yield from (
        trials.select_related("vessel", "planned_by", "verdict", "decision__by")
        .prefetch_related(Prefetch("events", events), Prefetch("files", files))
        .order_by("planned_at", "id")
        .iterator(20)
    )


def _devices_by_trial(trials: QuerySet[Trial]) -> dict[UUID, list[Device]]:
    """The loggers that read in each of them, oldest first."""
    read = Reading.objects.filter(trial__in=trials, device__isnull=False).order_by().values_list("trial", "device")
    devices, found = {d.pk: d for d in Device.objects.select_related("made_by")}, defaultdict[UUID, list[Device]](list)
    for trial, device in read.distinct():
        found[trial].append(devices[device])
    return {trial: sorted(own, key=lambda d: (d.made_at, d.id)) for trial, own in found.items()}


def devices_of(trial: Trial) -> list[Device]:
    """The loggers that read in a trial, oldest first."""
    return _devices_by_trial(Trial.objects.filter(pk=trial.pk)).get(trial.pk, [])


def _others(trial: Trial, devices: list[Device]) -> set[Maker]:
    """Who decided, who made the loggers that read, who took files in."""
    found = {device.made_by for device in devices} | {file.by for file in trial.files.all()}
    return found | ({trial.decision.by} if hasattr(trial, "decision") else set())


def vessel_file(vessel: Vessel) -> VesselFile:
    """A vessel as it lies in a package."""
    return VesselFile(
        id=vessel.id,
        name=vessel.name,
        notes=vessel.notes,
        sheet=vessel.sheet,
        version=vessel.version,
        hung_up=vessel.hung_up,
        by=vessel.hung_up_by.uid,
        retired_on=vessel.retired_on,
    )


def kit_file(kit: Kit) -> KitFile:
    """A piece of kit as it lies in a package."""
    return KitFile(
        id=kit.id,
        kind=kit.kind,
        name=kit.name,
        notes=kit.notes,
        sheet=kit.sheet,
        version=kit.version,
        taken_down=kit.taken_down,
        hung_up=kit.hung_up,
    )


def trial_file(trial: Trial, carried: set[UUID], devices: list[Device]) -> TrialFile:
    """A trial as it lies in a package. carried  the trials that lie there too; devices  the loggers that read in it."""
    verdict, decision = getattr(trial, "verdict", None), getattr(trial, "decision", None)
    return TrialFile(
        id=trial.id,
        vessel=trial.vessel_id,
        number=trial.number,
        state=State(trial.state),
        planned_at=trial.planned_at,
        planned_by=trial.planned_by.uid,
        copied_from=trial.copied_from_id if trial.copied_from_id in carried else None,
        version=trial.version,
        sheet=trial.sheet,
        frozen=FrozenPart(**trial.frozen) if trial.frozen else None,
        source=Source(trial.source),
        practice=trial.practice,
        started_at=trial.started_at,
        wall_anchor=trial.wall_anchor,
        trial_anchor=trial.trial_anchor,
        speed=trial.speed,
        rig=trial.rig,
        devices=[DevicePart(id=d.id, name=d.name, made_at=d.made_at, by=d.made_by.uid) for d in devices],
        files=[
            LoggedPart(
                id=f.id,
                name=f.name,
                sha256=f.sha256,
                recipe=f.recipe,
                rows=f.rows,
                refused=f.refused,
                at=f.at,
                by=f.by.uid,
            )
            for f in trial.files.all()
        ],
        verdict=VerdictPart(
            sheet=verdict.sheet,
            asked=verdict.asked,
            answer=verdict.answer,
            points=verdict.points,
            core=verdict.core,
            at=verdict.at,
        )
        if verdict
        else None,
        decision=DecisionPart(
            fitness=decision.fitness,
            pressure=decision.pressure,
            reason=decision.reason,
            valve=decision.valve,
            less_cautious=decision.less_cautious,
            overruled=decision.overruled,
            advice=decision.advice,
            next_proof=decision.next_proof,
            by=decision.by.uid,
            at=decision.at,
        )
        if decision
        else None,
    )


def readings_csv(trial: Trial) -> Iterator[bytes]:
    """Every reading of a trial, as `toadbell judge` reads them too.

    Ids and times are taken as the text they are stored as: there may be millions, and none of them is reckoned with.
    """
    stored = [Cast(name, TextField()) for name in ("id", "at", "device_id", "imported_id", "stored_at")]
    rows = (
        Reading.objects.filter(trial=trial)
        .order_by("at", "id")
        .values_list(*stored, "pressure", "temperature", "strokes", "source")
    )
    yield (",".join(field["name"] for field in TABLES["readings"]) + "\r\n").encode()
    found = rows.iterator(5000)
    while some := list(itertools.islice(found, 5000)):
        yield "".join(_reading_line(*row) for row in some).encode()


def _reading_line(
    reading: str,
    at: str,
    device: str | None,
    file: str | None,
    stored: str,
    pressure: float,
    warm: float | None,
    strokes: int | None,
    source: str,
) -> str:
    warm_text, strokes_text = "" if warm is None else warm, "" if strokes is None else strokes
    read = f"{_dashed(reading)},{_utc(at)},{pressure},{warm_text},{strokes_text}"
    return f"{read},{source},{_dashed(device)},{_dashed(file)},{_utc(stored)}\r\n"


def _dashed(stored: str | None) -> str:
    """An id as it is stored, as it is written."""
    return f"{stored[:8]}-{stored[8:12]}-{stored[12:16]}-{stored[16:20]}-{stored[20:]}" if stored else ""


def _utc(stored: str) -> str:
    """A time as it is stored (UTC, microseconds where there are any), as it is written."""
    return f"{stored[:10]}T{stored[11:]}{'' if len(stored) > 19 else '.000000'}Z"


def _words(event: Event) -> str:
    """A line of the log as a package tells it: in bar and millimetres, whoever carries it away."""
    with speaking(Habit()):
        return in_words(event.kind, event.data)


def events_csv(events: Iterable[Event]) -> Iterator[bytes]:
    """Everything that happened in a trial, in order."""
    rows = (
        [
            e.id,
            _z(e.at),
            e.kind,
            e.by.uid,
            _words(e),
            json.dumps(e.data, ensure_ascii=False, allow_nan=False),
            _z(e.stored_at),
        ]
        for e in events
    )
    return table("events", rows)


def _hold(trial: Trial, folder: str, events: list[Event]) -> Iterator[Part]:
    """The hold's two files, as `toadbell judge` reads them, and the hold it is held against.

    events  what happened, without what was taken back
    """
    if not trial.frozen or trial.state == State.READY or not any(event.kind == "shut-in" for event in events):
        return
    stands = run_state(trial, events)
    if len(hold_readings(trial, stands)) < 2:
        return
    yield Part(f"{folder}/hold.csv", [hold_csv(trial, stands).encode()])
    judged = trial.verdict.sheet if hasattr(trial, "verdict") else hold_sheet(trial, stands)
    yield Part(f"{folder}/hold.json", [as_json(judged)])
    known = baseline_of(trial)
    if known:
        yield Part(f"{folder}/{BASELINE_FILE}", [hold_csv(known).encode()])


def _attachment_row(one: Attachment) -> list[Any]:
    return [
        one.id,
        one.kind,
        one.vessel_id,
        one.opening,
        one.trial_id,
        one.event_id,
        one.text,
        one.name,
        _z(one.at),
        one.by.uid,
        "true" if one.taken_down else "false",
    ]


def table(name: str, rows: Iterable[Iterable[Any]]) -> Iterator[bytes]:
    """A table of the package as CSV: RFC 4180, floats to the last digit, nothing where nothing is known; texts that a
    sheet would run are kept from it.
    """
    out = io.StringIO()
    write = csv.writer(out)
    write.writerow([field["name"] for field in TABLES[name]])
    for row in rows:
        write.writerow([plain_cell(value) if isinstance(value, str) else value for value in row])
        if out.tell() > PIECE:
            yield out.getvalue().encode()
            out.seek(0)
            out.truncate()
    yield out.getvalue().encode()


def _z(at: datetime.datetime) -> str:
    return at.astimezone(datetime.UTC).isoformat(timespec="microseconds").replace("+00:00", "Z")

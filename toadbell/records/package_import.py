"""Records brought back: a package taken into an empty or a used workshop, whole or not at all, once.

A preview is the very same work, taken back at its end. What is here already stays as it is.
"""

import datetime
import itertools
import json
import secrets
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import IO, Any, Literal, TypeVar
from uuid import UUID

from django.db import transaction
from pydantic import BaseModel, TypeAdapter, ValidationError

from toadbell.core.documents import read_advice, read_plan, read_points, read_verdict
from toadbell.core.ledger.voiding import FOUND
from toadbell.core.sheets import read_kit, read_vessel_sheet
from toadbell.records import attachments, package, signatures_import
from toadbell.records.backup import IN_PLACE, Tell, silent
from toadbell.records.import_checks import can_be_hung, can_be_shown
from toadbell.records.models import Attachment
from toadbell.records.package_reader import PackageReader, count, first, maybe, moment, number, of, uuid_of, wrong
from toadbell.records.package_shapes import DecisionPart, KitFile, TrialFile, VerdictPart, VesselFile
from toadbell.records.pictures import cleaned
from toadbell.records.zip_files import digest, digest_of
from toadbell.shed.models import Care, Kit, Maker, Vessel
from toadbell.shed.people import Role
from toadbell.trials.models import Decision, Event, Finding, Reading, Source, State, Trial, Verdict
from toadbell.trials.models.sources import Device, ImportedFile

Shape = TypeVar("Shape", bound=BaseModel)
Mark = Literal["new", "here", "differs"]


@dataclass
class Item:
    """A vessel or a trial of the package, whether it is new here, and a word to it."""

    what: Literal["vessel", "trial", "kit"]
    id: UUID
    name: str
    mark: Mark
    says: str = ""


@dataclass
class Taken:
    """What a package holds, and what of it is new."""

    title: str
    created: datetime.datetime
    items: list[Item] = field(default_factory=list)
    readings: int = 0
    events: int = 0
    attachments: int = 0
    cares: int = 0
    signatures: int = 0
    notes: list[str] = field(default_factory=list)

    @property
    def changes(self) -> bool:
        """Is there anything in it that is not here?"""
        return any(item.mark == "new" for item in self.items) or self.attachments + self.cares + self.signatures > 0

    def told(self, kept: bool) -> dict[str, Any]:
        """As JSON. kept  was it taken in?"""
        return TypeAdapter(Taken).dump_python(self, mode="json") | {"changes": self.changes, "kept": kept}


class _Unpack:
    """One package on its way in."""

    def __init__(self, found: PackageReader) -> None:
        self.package = found
        self.taken = Taken(found.listed.title, found.listed.created)
        self.people: dict[UUID, Maker] = {}
        self.written: list[Attachment] = []
        self.signed = signatures_import.Kept()

    def person(self, uid: UUID) -> Maker:
        """Somebody of the package; made here where they are not yet."""
        if uid not in self.people:
            raise wrong(f"somebody is named by {uid}, and is not among its people")
        maker = self.people[uid]
        if maker.pk is None:
            maker.set_unusable_password()
            maker.save()
        return maker

    def all(self, tell: Tell = silent) -> None:
        """Everything of it that is not here yet."""
        self.tell = tell
        here = {maker.uid: maker for maker in Maker.objects.all()}
        for row in self.package.rows("people.csv", "people") if "people.csv" in self.package.known else ():
            uid = uuid_of(row["id"], "people.csv")
            self.people[uid] = here.get(uid) or Maker(
                uid=uid, username=f"from-{uid}", first_name=row["name"][:150], role=Role.ELSEWHERE
            )
        if "kit.json" in self.package.known:
            self._kit()
        self._each("vessels/", "vessel.json", self._vessel)
        new = self._each("trials/", "trial.json", self._trial)
        for trial, copied_from in new:
            if copied_from and Trial.objects.filter(pk=copied_from).exists():
                Trial.objects.filter(pk=trial).update(copied_from=copied_from)
        if "cares.csv" in self.package.known:
            self._cares()
        if "attachments.csv" in self.package.known:
            self._attachments()
        same = {item.id for item in self.taken.items if item.what == "trial" and item.mark != "differs"}
        signatures_import.take_in(self.package, self.person, same, self.signed)
        self.taken.signatures = self.signed.count
        self.taken.notes += self.signed.left
        if package.MISSING in self.package.known:
            lost = json.loads(self.package.data(package.MISSING))
            self.taken.notes.append(
                f"Files of {len(lost)} pictures and papers were gone where it was made, and are not in it."
            )
        for trial, _ in new:
            can_be_shown(Trial.objects.select_related("vessel", "planned_by").get(pk=trial))

    def _each(self, folder: str, name: str, take: Callable[[str], Any]) -> list[Any]:
        paths = [path for path in self.package.known if path.startswith(folder) and path.endswith(f"/{name}")]
        taken = []
        for done, path in enumerate(paths):
            self.tell(done / len(paths), f"looking at {folder.rstrip('/')}")
            found = take(path)
            if found is not None:
                taken.append(found)
        return taken

    def _kit(self) -> None:
        try:
            found = TypeAdapter(list[KitFile]).validate_json(self.package.data("kit.json"))
        except ValidationError as bad:
            raise wrong(first(bad, "kit.json")) from None
        for one in found:
            here = Kit.objects.filter(pk=one.id).first()
            if here is None:
                with of(f"the {one.kind} “{one.name}”"):
                    read_kit(one.kind, one.sheet)
                    Kit.objects.create(**one.model_dump())
            mark: Mark = "new" if here is None else "here" if package.kit_file(here) == one else "differs"
            self.taken.items.append(Item("kit", one.id, one.name, mark))

    def _vessel(self, path: str) -> None:
        one = self.package.shape(path, VesselFile)
        here = Vessel.objects.select_related("hung_up_by").filter(pk=one.id).first()
        if here is None:
            can_be_hung(one.name, one.sheet)
            Vessel.objects.create(
                id=one.id,
                name=one.name,
                notes=one.notes,
                sheet=one.sheet,
                version=one.version,
                hung_up=one.hung_up,
                hung_up_by=self.person(one.by),
                retired_on=one.retired_on,
            )
        mark: Mark = "new" if here is None else "here" if package.vessel_file(here) == one else "differs"
        self.taken.items.append(Item("vessel", one.id, one.name, mark))

    def _trial(self, path: str) -> tuple[UUID, UUID | None] | None:
        """A trial that is new here, by its id, and the one that it was copied from: none is kept at hand, there may be
        thousands.
        """
        one = self.package.shape(path, TrialFile)
        vessel = Vessel.objects.filter(pk=one.vessel).first()
        if vessel is None:
            raise wrong(f"“{path}” is of a vessel that is neither in it nor here")
        name, folder = f"{vessel.name}, trial {one.number}", path.removesuffix("trial.json")
        here = Trial.objects.select_related("vessel", "planned_by", "verdict", "decision__by").filter(pk=one.id).first()
        if here is not None:
            self.taken.items.append(Item("trial", one.id, name, "here" if self._same(here, one, folder) else "differs"))
            return None
        number = one.number
        if Trial.objects.filter(vessel=vessel, number=number).exists():
            number = 1 + max(Trial.objects.filter(vessel=vessel).values_list("number", flat=True))
        says = "" if number == one.number else f"becomes trial {number} here: number {one.number} is taken by another"
        if one.state in (State.RUNNING, State.HELD):
            says = f"{says}. It was on the bench when it was carried away".lstrip(". ")
        self.taken.items.append(Item("trial", one.id, name, "new", says))
        with of(name):
            trial = self._trial_itself(one, vessel, number)
            self._sources(one, trial)
            self._readings(trial, folder + "readings.csv")
            self._events(trial, folder + "events.csv")
            Finding.from_log(trial)
            self._judged(trial, one.verdict, one.decision)
        return trial.pk, one.copied_from

    def _same(self, here: Trial, one: TrialFile, folder: str) -> bool:
        events = here.events.select_related("by").order_by("at", "stored_at", "id")
        itself = package.trial_file(here, set(), package.devices_of(here)).model_copy(update={"number": one.number})
        return (
            itself == one.model_copy(update={"copied_from": None})
            and digest_of(package.readings_csv(here)) == self.package.known[folder + "readings.csv"].hash
            and digest_of(package.events_csv(events)) == self.package.known[folder + "events.csv"].hash
        )

    def _trial_itself(self, one: TrialFile, vessel: Vessel, number: int) -> Trial:
        read_vessel_sheet(one.sheet)
        if one.frozen:
            read_vessel_sheet(one.frozen.sheet)
            read_plan(one.frozen.model_dump(mode="json", by_alias=True))
        elif one.state != State.PLANNED:
            raise wrong("it is past planning and has no frozen plan")
        return Trial.objects.create(
            id=one.id,
            vessel=vessel,
            number=number,
            state=one.state,
            planned_at=one.planned_at,
            planned_by=self.person(one.planned_by),
            version=one.version,
            sheet=one.sheet,
            frozen=one.frozen.model_dump(mode="json", by_alias=True) if one.frozen else None,
            source=one.source,
            started_at=one.started_at,
            wall_anchor=one.wall_anchor,
            trial_anchor=one.trial_anchor,
            speed=one.speed,
            rig=one.rig,
        )

    def _sources(self, one: TrialFile, trial: Trial) -> None:
        """Loggers come without their tokens, which are worth nothing here; files that were taken in come as what they
        were.
        """
        for device in one.devices:
            Device.objects.get_or_create(
                id=device.id,
                defaults={
                    "name": device.name,
                    "made_at": device.made_at,
                    "made_by": self.person(device.by),
                    "token_hash": secrets.token_hex(32),
                    "taken_away_at": device.made_at,
                },
            )
        ImportedFile.objects.bulk_create(
            ImportedFile(
                id=f.id,
                trial=trial,
                name=f.name,
                sha256=f.sha256,
                recipe=f.recipe,
                rows=f.rows,
                refused=f.refused,
                at=f.at,
                by=self.person(f.by),
            )
            for f in one.files
        )

    def _readings(self, trial: Trial, path: str) -> None:
        devices = set(Device.objects.values_list("pk", flat=True))
        files = set(trial.files.values_list("pk", flat=True))

        def made() -> Iterator[Reading]:
            for row in self.package.rows(path, "readings"):
                device, file = maybe(row["device"], UUID), maybe(row["file"], UUID)
                if (device and device not in devices) or (file and file not in files):
                    raise wrong(f"“{path}” names a logger or a file that is not in it")
                yield Reading(
                    id=UUID(row["id"]),
                    trial=trial,
                    at=moment(row["time"]),
                    pressure=number(row["pressure [Pa]"]),
                    temperature=maybe(row["water_temperature [K]"], number),
                    strokes=maybe(row["strokes"], count),
                    source=Source(row["source"]),
                    device_id=device,
                    imported_id=file,
                    stored_at=moment(row["stored_at"]),
                )

        self.taken.readings += _stored(Reading, made(), path)

    def _events(self, trial: Trial, path: str) -> None:
        def made() -> Iterator[Event]:
            for row in self.package.rows(path, "events"):
                data = json.loads(row["data"])
                if not isinstance(data, dict) or not row["kind"] or len(row["kind"]) > 20:
                    raise wrong(f"“{path}” holds something that is no event")
                yield Event(
                    id=UUID(row["id"]),
                    trial=trial,
                    at=moment(row["time"]),
                    kind=row["kind"],
                    by=self.person(UUID(row["by"])),
                    data=data,
                    stored_at=moment(row["stored_at"]),
                )

        self.taken.events += _stored(Event, made(), path)

    def _judged(self, trial: Trial, verdict: VerdictPart | None, decision: DecisionPart | None) -> None:
        if verdict:
            read_verdict(verdict.answer)
            read_points(verdict.points)
            Verdict.objects.create(trial=trial, **{key: getattr(verdict, key) for key in VerdictPart.model_fields})
        if decision:
            read_advice(decision.advice)
            rest = {key: getattr(decision, key) for key in DecisionPart.model_fields if key != "by"}
            Decision.objects.create(trial=trial, by=self.person(decision.by), **rest)

    def _cares(self) -> None:
        here = set(Care.objects.values_list("pk", flat=True))
        with of("cares.csv"):
            for row in self.package.rows("cares.csv", "cares"):
                back = {
                    "withdrawn": moment(row["withdrawn"]) if row["withdrawn"] else None,
                    "withdrawn_by": self.person(UUID(row["withdrawn_by"])) if row["withdrawn_by"] else None,
                }
                if UUID(row["id"]) in here:
                    if row["withdrawn"]:
                        Care.objects.filter(pk=row["id"], withdrawn__isnull=True).update(**back)
                    continue
                Care.objects.create(
                    id=UUID(row["id"]),
                    vessel=Vessel.objects.get(pk=row["vessel"]),
                    what=row["what"][:40],
                    on=datetime.date.fromisoformat(row["on"]),
                    text=row["text"][:500],
                    by=self.person(UUID(row["by"])),
                    at=moment(row["time"]),
                    found=row["found"] if row["found"] in FOUND else "",
                    until=datetime.date.fromisoformat(row["until"]) if row["until"] else None,
                    **back,
                )
                self.taken.cares += 1

    def _attachments(self) -> None:
        here = set(Attachment.objects.values_list("pk", flat=True))
        with of("attachments.csv"):
            for row in self.package.rows("attachments.csv", "attachments"):
                if UUID(row["id"]) not in here:
                    self._attachment(row)

    def _attachment(self, row: dict[str, str]) -> None:
        path = f"attachments/{UUID(row['id'])}.{'jpg' if row['kind'] == 'photo' else 'pdf'}"
        if path not in self.package.known:
            raise wrong(f"“{path}” is named in attachments.csv and is not in it")
        data = self.package.data(path)
        clean = cleaned(data, kept_before=True)
        if clean.kind != row["kind"]:
            raise wrong(f"“{path}” is no {row['kind']}")
        if clean.data != data:
            self.taken.notes.append(f"“{path}” held more than is seen, and is made anew.")
        trial, event = maybe(row["trial"], UUID), maybe(row["event"], UUID)
        vessel = Vessel.objects.get(pk=row["vessel"])
        if (trial and not vessel.trials.filter(pk=trial).exists()) or (
            event and not Event.objects.filter(pk=event, trial=trial).exists()
        ):
            raise wrong(f"“{path}” belongs to something that is neither in it nor here")
        found = Attachment(
            id=UUID(row["id"]),
            kind=clean.kind,
            vessel=vessel,
            opening=row["opening"][:120],
            trial_id=trial,
            event_id=event,
            text=row["text"][:500],
            name=attachments.safe_name(row["name"]),
            size=len(clean.data),
            sha256=digest(clean.data).removeprefix("sha256:"),
            wide=clean.wide,
            tall=clean.tall,
            pages=clean.pages,
            at=moment(row["time"]),
            by=self.person(UUID(row["by"])),
            taken_down=row["taken_down"] == "true",
        )
        self.written.append(found)
        attachments.lay_down(found, clean)
        found.save(force_insert=True)
        self.taken.attachments += 1


def take_in(file: IO[bytes], dry: bool, tell: Tell = silent) -> Taken:
    """Take a package in, or with `dry` only say what it would change. Raises SheetError, the database as before."""
    unpack = _Unpack(PackageReader(file))
    tell(None, "checking it")
    unpack.package.check()
    signatures_import.check_seals(unpack.package)
    try:
        with transaction.atomic():
            unpack.all(tell)
            tell(None, IN_PLACE)
            transaction.set_rollback(dry)
    except BaseException:
        _take_back(unpack)
        raise
    if dry:
        _take_back(unpack)
    return unpack.taken


def _take_back(unpack: _Unpack) -> None:
    unpack.signed.take_back()
    for attachment in unpack.written:
        attachment.path.unlink(missing_ok=True)
        attachment.thumb.unlink(missing_ok=True)


def _stored(model: Any, made: Iterator[Any], path: str) -> int:
    """Store rows some at a time, and give how many; an id that is there already is refused."""
    count = 0
    while rows := list(itertools.islice(made, SOME)):
        ids = {row.pk for row in rows}
        if len(ids) != len(rows) or model.objects.filter(pk__in=ids).exists():
            raise wrong(f"“{path}” names an id that is taken by something else")
        model.objects.bulk_create(rows)
        count += len(rows)
    return count


SOME = 2000

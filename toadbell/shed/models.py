"""The vessels of a workshop, what happened to them, and the kit board."""

from __future__ import annotations

import datetime
import uuid
from typing import Any

from django.db import models, transaction
from django.utils import timezone

from toadbell.core.ledger.voiding import FITTED, FOUND, HAPPENINGS, UNSOUND, Happened, tells_of_harm
from toadbell.core.run.phases import ON_THE_BENCH
from toadbell.core.sheets import SheetError, VesselSheet, boundary_of, read_altitude, read_kit, read_vessel_sheet
from toadbell.core.sheets.kit import KIT
from toadbell.shed.drawn import must_work_out
from toadbell.shed.errors import NotNow
from toadbell.shed.people import Maker, Units, system_zone

__all__ = ["Care", "Kit", "Maker", "Units", "Vessel", "Workshop", "system_zone"]


class Workshop(models.Model):
    """What is said once of the workshop itself: how high it stands, for the outer air hangs on that. One row."""

    altitude = models.CharField(max_length=40, blank=True, default="", help_text="above the sea, with its unit")

    @classmethod
    def here(cls) -> Workshop:
        """The one there is; nothing is said of it before somebody does."""
        return cls.objects.first() or cls()

    @classmethod
    def stands(cls, altitude: str) -> Workshop:
        """Say how high it stands ("" takes that back); raises SheetError where nobody works there."""
        if altitude:
            read_altitude(altitude)
        here = cls.here()
        here.altitude = altitude
        here.save()
        return here


class Vessel(models.Model):
    """A vessel in the shed. Its sheet is kept in the open format, in the words and units the person used."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=120)
    sheet = models.JSONField()
    notes = models.TextField(blank=True)
    version = models.PositiveIntegerField(default=1)
    hung_up = models.DateTimeField(default=timezone.now)
    hung_up_by = models.ForeignKey(Maker, on_delete=models.PROTECT, related_name="vessels")
    retired_on = models.DateField(null=True, help_text="out of use since; its records stay")

    class Meta:
        ordering = ["hung_up"]

    @classmethod
    def hang_up(
        cls, maker: Maker, name: str, sheet: dict[str, Any], notes: str = "", vessel_id: uuid.UUID | None = None
    ) -> Vessel:
        """A new vessel on the shelf, or one that was just taken off it; raises SheetError where its sheet is wrong, or
        cannot be shown, NotNow where it hangs there already.
        """
        must_work_out(sheet)
        if vessel_id is not None and cls.objects.filter(pk=vessel_id).exists():
            raise NotNow("It hangs on the shelf already.")
        kept = vessel_id or uuid.uuid4()
        return cls.objects.create(id=kept, name=name.strip(), sheet=sheet, notes=notes, hung_up_by=maker)

    def change(
        self,
        maker: Maker,
        name: str,
        sheet: dict[str, Any],
        notes: str,
        version: int,
        happened: str | None = None,
        text: str = "",
    ) -> bool:
        """Change what is known of it; gives False where somebody else changed it since `version`.

        happened, text  what happened to it, where its boundary is another than the one a decision rests on, or its
                        notes tell of harm
        Raises NotNow where that is not said, SheetError where the sheet is wrong.
        """
        must_work_out(sheet)
        after = read_vessel_sheet(sheet)
        if happened is None and self.decided_on and (self._boundary_changed(after) or tells_of_harm(self.notes, notes)):
            raise NotNow("A decision rests on what you change. What happened to it?")
        with transaction.atomic():
            found = Vessel.objects.filter(pk=self.pk, version=version)
            changed = found.update(name=name.strip(), sheet=sheet, notes=notes, version=version + 1)
            if changed and happened is not None:
                self.note(maker, happened, timezone.localdate(), text)
        self.refresh_from_db()
        return bool(changed)

    def _boundary_changed(self, after: VesselSheet) -> bool:
        """Is wall, size, end or material another? New wall readings are no change: they are read again each time."""
        try:
            before = self.read()
        except SheetError:
            return True
        return boundary_of(before) != boundary_of(after)

    @property
    def kind(self) -> str:
        """What kind of vessel it is."""
        return str(self.sheet.get("kind", "")) if isinstance(self.sheet, dict) else ""

    def read(self) -> VesselSheet:
        """The sheet as the core reads it."""
        return read_vessel_sheet(self.sheet)

    @property
    def decided_on(self) -> bool:
        """Does a decision rest on what is known of it?"""
        return bool(self.trials.filter(decision__isnull=False).exists())

    def take_away(self) -> None:
        """Take a vessel off the shelf of which nothing is on record. Raises NotNow where anything is."""
        if self.trials.exists() or self.cares.exists() or self.attachments.exists():
            raise NotNow(
                "There are records of this vessel, and they stay with it: it can be retired. A plan that was never run "
                "can be thrown away on its board."
            )
        self.delete()

    @classmethod
    def on_the_shelf(cls) -> models.QuerySet[Vessel]:
        """Vessels in use."""
        return cls.objects.filter(retired_on__isnull=True)

    def retire(self, retired: bool) -> None:
        """Take it out of use, or hang it up again; its records stay. Raises NotNow while it is on the bench."""
        if retired and self.trials.filter(state__in=ON_THE_BENCH).exists():
            raise NotNow("It is on the bench. End the run first, then retire it.")
        if retired != (self.retired_on is not None):
            self.retired_on = timezone.localdate() if retired else None
            self.version += 1
            self.save(update_fields=["retired_on", "version"])

    def must_be_in_use(self) -> None:
        """Raises NotNow where it is retired."""
        if self.retired_on is not None:
            raise NotNow(f"{self.name} is retired. Hang it up again first, on its page.")

    def happened(self) -> list[Happened]:
        """What happened to it and was done with it, oldest first."""
        told = [care for care in self.cares.all() if care.withdrawn is None]
        return [care.told for care in sorted(told, key=lambda care: (care.on, care.at))]

    def note(
        self,
        maker: Maker,
        what: str,
        on: datetime.date,
        text: str,
        found: str = "",
        until: datetime.date | None = None,
    ) -> Care:
        """Write down that something happened to it, or was done.

        found, until  what a look inside found, and how long a paper is good
        Raises NotNow where it is not known, or still to come.
        """
        if what not in HAPPENINGS:
            raise NotNow(f"“{what[:40]}” is none of what may happen to a vessel: one of {', '.join(HAPPENINGS)}.")
        if on > timezone.localdate():
            raise NotNow("That day is still to come.")
        words = {"look inside": FOUND, "refitted": FITTED}.get(what, ())
        if found and found not in words:
            raise NotNow(f"A look inside finds it one of {', '.join(FOUND)}; nothing else does.")
        if found == UNSOUND and not text.strip():
            raise NotNow("Write what is not sound about it.")
        if until is not None and (what != "certificate" or until < on):
            raise NotNow("Only a paper is good until a day, and that is after its own.")
        return Care.objects.create(
            vessel=self, what=what, on=on, text=text.strip()[:500], by=maker, found=found, until=until
        )


class Care(models.Model):
    """Something that happened to a vessel between its trials, or was done with it: a look inside, a knock, a mend."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    vessel = models.ForeignKey(Vessel, on_delete=models.PROTECT, related_name="cares")
    what = models.CharField(max_length=40)
    on = models.DateField()
    text = models.CharField(max_length=500, blank=True, default="")
    by = models.ForeignKey(Maker, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=timezone.now)
    found = models.CharField(
        max_length=10, blank=True, default="", help_text="by a look inside: sound, watch or unsound"
    )
    until = models.DateField(null=True, help_text="a paper is good")
    withdrawn = models.DateTimeField(null=True, help_text="taken back as written by mistake; it stays on record")
    withdrawn_by = models.ForeignKey(Maker, on_delete=models.PROTECT, null=True, related_name="+")

    class Meta:
        ordering = ["on", "at", "id"]
        db_table = "records_care"

    @property
    def told(self) -> Happened:
        """It, as the core weighs it."""
        return Happened(self.what, self.on, self.at, self.text, self.found, self.until)

    def take_back(self, maker: Maker) -> None:
        """It was written by mistake: what it voided stands again. Raises NotNow where it was taken back before."""
        if self.withdrawn is not None:
            raise NotNow("That was taken back already.")
        self.withdrawn, self.withdrawn_by = timezone.now(), maker
        self.save(update_fields=["withdrawn", "withdrawn_by"])


class Kit(models.Model):
    """A gauge, a pump, a hose: something on the kit board.

    Its particulars are kept in the open format, as they were entered.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    kind = models.CharField(max_length=20, choices=[(kind, kind) for kind in KIT])
    name = models.CharField(max_length=80)
    sheet = models.JSONField()
    notes = models.TextField(blank=True)
    version = models.PositiveIntegerField(default=1)
    taken_down = models.BooleanField(default=False)
    hung_up = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["kind", "hung_up"]

    @classmethod
    def hang_up(cls, kind: str, name: str, sheet: dict[str, Any], notes: str = "") -> Kit:
        """A new piece of kit on the board; raises SheetError where its particulars are wrong."""
        read_kit(kind, sheet)
        return cls.objects.create(kind=kind, name=name.strip(), sheet=sheet, notes=notes)

    @classmethod
    def on_the_board(cls) -> models.QuerySet[Kit]:
        """What hangs there now."""
        return cls.objects.filter(taken_down=False)

    @classmethod
    def gauges(cls) -> list[dict[str, Any]]:
        """Every gauge on the board as a sheet names it, for choosing the one that serves best."""
        return [{**kit.sheet, "name": kit.name} for kit in cls.on_the_board().filter(kind="gauge") if kit.readable]

    @property
    def readable(self) -> bool:
        """Can its particulars be read?

        What an older Toad Bell took and this one does not stays on the board, to be mended.
        """
        try:
            read_kit(self.kind, self.sheet)
        except SheetError:
            return False
        return True

    def change(self, name: str, sheet: dict[str, Any], notes: str, version: int) -> bool:
        """Change what is known of it; gives False where somebody else changed it since `version`."""
        read_kit(self.kind, sheet)
        own = {key: value for key, value in self.sheet.items() if key != "burst"}
        if self.sheet.get("burst") and (
            name.strip() != self.name or own != {k: sheet[k] for k in sheet if k != "burst"}
        ):
            raise SheetError(
                "articles of this design were burst, and what they bore is its alone: hang up the changed one as a "
                "new version, under a name of its own",
                "name",
            )
        if self.sheet.get("burst"):
            sheet = {**sheet, "burst": self.sheet["burst"]}
        changed = Kit.objects.filter(pk=self.pk, version=version).update(
            name=name.strip(), sheet=sheet, notes=notes, version=version + 1
        )
        self.refresh_from_db()
        return bool(changed)

    @classmethod
    def lifted(cls, name: str, on: datetime.date) -> None:
        """A relief valve on the board was seen to lift as it has to, on a day; a later day than that stays."""
        for valve in cls.on_the_board().filter(kind="relief-valve", name=name):
            if str(valve.sheet.get("proven") or "") < on.isoformat():
                valve.sheet = {**valve.sheet, "proven": on.isoformat()}
                valve.version += 1
                valve.save(update_fields=["sheet", "version"])

    @classmethod
    def was_burst(cls, name: str, on: datetime.date) -> None:
        """An article of a design was burst: from then on the design stays as it is."""
        for design in cls.objects.filter(kind="design", name=name):
            if not design.sheet.get("burst"):
                design.sheet = {**design.sheet, "burst": on.isoformat()}
                design.save(update_fields=["sheet"])

    def hang(self, taken_down: bool) -> None:
        """Take it down, or hang it up again; past plans keep what they were frozen with."""
        self.taken_down = taken_down
        self.save(update_fields=["taken_down"])

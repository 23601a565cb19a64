"""A trial from plan to decision. Readings and events are only ever added; a correction is a new event."""

from __future__ import annotations

import datetime
import uuid
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from django.db import models, transaction
from django.utils import timezone

import toadbell
from toadbell.core.answers import DeriveAnswer
from toadbell.core.derive import derive
from toadbell.core.documents import FrozenPlan, keep_plan, read_plan
from toadbell.core.hunt.low import low_pressure
from toadbell.core.kinds import KINDS
from toadbell.core.plan.bases import BASES, TIGHT, chosen_basis
from toadbell.core.plan.compare import differences, told
from toadbell.core.procedures import PROCEDURES
from toadbell.core.sheets import SheetError, read_vessel_sheet
from toadbell.shed.drawn import must_work_out, worked_out
from toadbell.shed.errors import NotNow, Stale
from toadbell.shed.models import Kit, Maker, Vessel, Workshop
from toadbell.trials import clock
from toadbell.trials.models.log import Event, Reading
from toadbell.trials.models.sealing import must_be_open
from toadbell.trials.models.states import Source, State
from toadbell.trials.plan.beginning import CARRIED_OVER, NEEDED, of_basis, offered_with, with_choices


def summed_up(sheet: dict[str, Any], frozen: dict[str, Any] | None) -> tuple[str, str, float | None]:
    """Kind, basis and test pressure (Pa) of a trial, for lists: from its frozen plan where there is one."""
    answer = (frozen or {}).get("answer") or {}
    kind = str(sheet.get("kind", ""))
    own = TIGHT if sheet.get("procedure") == "tightness" else KINDS[kind].basis if kind in KINDS else ""
    return kind, str(answer.get("basis") or sheet.get("basis") or own), answer.get("test_pressure")


TAKEN = "Its id is that of something else that was done before: it was not done. Send it again with an id of its own."


PREPARING = ("frozen", "thawed", "opening")
"""Entries of a log that are of the plan alone: they go when it is thrown away."""


def _last_on(trials: models.QuerySet[Trial], vessel: Vessel, basis: str) -> Trial | None:
    """The last trial of a vessel that was on the same basis; "" any that a kind's own proof may be like."""
    if basis and (basis not in BASES or vessel.kind not in BASES[basis].kinds):
        raise NotNow(f"“{basis[:40]}” is no kind of trial for this vessel.")
    own = {basis} if basis else {one.id for one in BASES.values() if one.strength}
    if not basis and not BASES[KINDS[vessel.kind].basis].strength:
        own = {KINDS[vessel.kind].basis}
    return trials.filter(basis__in=own).first()


class Trial(models.Model):
    """One trial of one vessel. Its clock runs at `speed` times the wall's, faster only on the simulated rig."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    vessel = models.ForeignKey(Vessel, on_delete=models.PROTECT, related_name="trials")
    number = models.PositiveIntegerField()
    state = models.CharField(max_length=10, choices=State.choices, default=State.PLANNED)
    sheet = models.JSONField()
    vessel_sheet = models.JSONField(
        null=True, editable=False, help_text="of the vessel as it was when it was last taken into the plan, or left"
    )
    kind = models.CharField(max_length=40, default="", editable=False, help_text="of the vessel, as its sheet says")
    basis = models.CharField(
        max_length=40, blank=True, default="", editable=False, help_text="of the frozen plan, else as its sheet says"
    )
    test_pressure = models.FloatField(null=True, editable=False, help_text="of the frozen plan, Pa gauge")
    version = models.PositiveIntegerField(default=1)
    frozen = models.JSONField(null=True)
    planned_at = models.DateTimeField(default=timezone.now)
    planned_by = models.ForeignKey(Maker, on_delete=models.PROTECT, related_name="trials")
    copied_from = models.ForeignKey("self", on_delete=models.PROTECT, null=True, related_name="+")
    source = models.CharField(max_length=10, choices=Source.choices, default=Source.DIAL)
    started_at = models.DateTimeField(null=True)
    wall_anchor = models.DateTimeField(null=True)
    trial_anchor = models.DateTimeField(null=True)
    speed = models.FloatField(default=1.0)
    rig = models.JSONField(null=True)
    hand = models.CharField(max_length=40, blank=True, default="")
    hand_name = models.CharField(max_length=60, blank=True, default="")
    asked_hand = models.CharField(max_length=40, blank=True, default="", help_text="the browser that asks for the run")
    asked_name = models.CharField(max_length=60, blank=True, default="")
    _read: tuple[int, list[Event]] | None = None

    class Meta:
        ordering = ["-planned_at"]
        constraints = [models.UniqueConstraint(fields=["vessel", "number"], name="one_number_per_vessel")]

    def save(self, *args: Any, **options: Any) -> None:
        """Keep it, and beside its sheets what lists ask of them."""
        if options.get("update_fields") is None:
            self.kind, self.basis, self.test_pressure = summed_up(self.sheet, self.frozen)
        super().save(*args, **options)

    @property
    def practice(self) -> bool:
        """Was it run on the simulated rig? Then it proves nothing: no tag, no date, no history of proofs."""
        return self.source == Source.RIG and self.started_at is not None

    @property
    def sealed(self) -> str | None:
        """In a sentence, that it was signed and no longer changes; None where it does."""
        first = self.signatures.exclude(seal="").order_by("signed_at").first()
        if first is None or first.signed_at is None:
            return None
        day = timezone.localtime(first.signed_at)
        return (
            f"This record was signed by {first.name} on {day.day} {day:%B %Y}, and is sealed. What came later is "
            "written beside it, on its page."
        )

    def hands(self) -> set[int]:
        """Whoever planned it, or laid hands on its run: to look, to write a note or to pin a leak is none."""
        ran = self.events.exclude(kind__in=("guard", "note", "leak", "frozen"))
        return {self.planned_by_id, *ran.values_list("by", flat=True)}

    def hands_by_name(self) -> list[str]:
        """What they are called."""
        return [one.shown_name for one in Maker.objects.filter(pk__in=self.hands())]

    # -- plan --------------------------------------------------------------------------------

    @classmethod
    @transaction.atomic
    def plan_for(cls, vessel: Vessel, maker: Maker, copy: uuid.UUID | None = None, basis: str | None = None) -> Trial:
        """A new plan for a vessel, with the kit, stages and hold of its last trial, or of the trial `copy`, where there
        was one; of the last on the same basis, where one is named ("" the vessel's own).

        Raises NotNow where the vessel is retired, or there is no such basis for it.
        """
        vessel.must_be_in_use()
        trials = cls.objects.filter(vessel=vessel).order_by("-number")
        last = trials.first()
        like = trials.get(pk=copy) if copy else last if basis is None else _last_on(trials, vessel, basis)
        kept = {key: like.sheet[key] for key in CARRIED_OVER if key in like.sheet} if like else {}
        kept |= of_basis(basis) if basis and not like else {}
        sheet = {**offered_with({**kept, **vessel.sheet}), **kept, **vessel.sheet}
        if like and "fittings" in sheet:
            sheet["fittings"] = with_choices(sheet["fittings"], like.sheet.get("fittings", []))
        if (
            worked_out(cls.with_board(sheet)).answer is None
        ):  # what was carried over does not go with the vessel as it is now
            chosen = {**of_basis(basis or ""), **vessel.sheet}
            sheet = {**offered_with(chosen), **chosen}
            must_work_out(cls.with_board(sheet))
        number = last.number + 1 if last else 1
        return cls.objects.create(
            vessel=vessel, number=number, sheet=sheet, planned_by=maker, copied_from=like, vessel_sheet=vessel.sheet
        )

    @classmethod
    def plan_low(cls, vessel: Vessel, maker: Maker) -> Trial:
        """A plan that looks for a leak low and slow: with a little air and soap, at what that may be in this vessel.

        Raises NotNow where no pressure would do.
        """
        trial = cls.plan_for(vessel, maker, basis=TIGHT)
        pressure = low_pressure(read_vessel_sheet(trial.sheet))
        if pressure is None:
            trial.delete()
            raise NotNow("Even a little air would store too much in it, or how much is not known: look under water.")
        anew = ("stages", "hold", "acceptance", "basis")
        kept = {key: value for key, value in trial.sheet.items() if key not in anew}
        asked = {**kept, "procedure": "tightness", "medium": "air", "tight_at": f"{pressure / 1e5:g} bar"}
        trial.change_plan({**offered_with(asked), **asked}, trial.version)
        return trial

    @classmethod
    def plan_again(cls, vessel: Vessel, maker: Maker) -> Trial:
        """The next round of a trial that leaked: to the same pressure, from the stage below where it leaked; from the
        bottom where the vessel itself was mended.

        Raises NotNow where no trial of it leaked.
        """
        leaked = cls.objects.filter(vessel=vessel, findings__isnull=False).order_by("-number")
        last = leaked.exclude(frozen=None).first()
        if last is None or last.frozen is None:
            raise NotNow("No leak was found in any trial of it: plan one as usual.")
        trial = cls.plan_for(vessel, maker, copy=last.pk)
        pressures = [leak.pressure for leak in last.findings.all() if leak.pressure is not None]
        bottom = any(leak.owner == "boundary" for leak in last.findings.all())
        stages = read_plan(last.frozen).answer.stages
        low = max((n for n, stage in enumerate(stages) if pressures and stage.target < min(pressures)), default=0)
        if low and not bottom:
            kept = [
                {"target": f"{stage.target / 1e5:.8g} bar", "pause": f"{stage.pause:g} s", "name": stage.name}
                for stage in stages[low:]
            ]
            trial.change_plan({**trial.sheet, "stages": kept}, trial.version)
        return trial

    def throw_away(self) -> None:
        """Take a plan away that was never run. Raises NotNow where it was, or where anything was written down with it:
        a leak that was seen stays seen.
        """
        if self.state not in (State.PLANNED, State.READY) or self.started_at is not None:
            raise NotNow("This trial was run: its record stays. Only a plan that never was run can be thrown away.")
        if self.attachments.exists():
            raise NotNow("A picture or a paper hangs on this plan, and stays with it: leave the plan as it is.")
        if self.findings.exists() or self.events.exclude(kind__in=PREPARING).exists():
            raise NotNow("Something was written down with this plan, and stays: leave the plan as it is.")
        with transaction.atomic():
            Trial.objects.filter(copied_from=self).update(copied_from=None)
            self.events.all().delete()
            self.delete()

    def changed_since(self) -> list[str]:
        """What differs from the plan this one was begun from."""
        return [*told(differences(self.copied_from.sheet, self.sheet))] if self.copied_from else []

    def vessel_changes(self) -> list[str]:
        """What of the vessel was changed since it was last taken into the plan, or left, as long as that is open."""
        if self.state != State.PLANNED or self.vessel_sheet is None:
            return []
        return [*told(differences(self.vessel_sheet, self.vessel.sheet))]

    def follow_the_vessel(self, version: int, *, take: bool) -> None:
        """Take what was changed of the vessel into the plan, or leave it; raises what `change_plan` raises."""
        was, now = self.vessel_sheet or {}, self.vessel.sheet
        if take:
            sheet = dict(self.sheet)
            for key in {*was, *now}:
                if was.get(key) == now.get(key):
                    continue
                if key not in now:
                    sheet.pop(key, None)
                elif key == "fittings":
                    sheet[key] = with_choices(now[key], self.sheet.get(key, []))
                else:
                    sheet[key] = now[key]
            self.change_plan(sheet, version)
        self.must_be(State.PLANNED, "The plan is frozen: a past or running trial keeps the plan it was started on.")
        self.vessel_sheet = now
        self.save(update_fields=["vessel_sheet"])

    @classmethod
    @contextmanager
    def locked(cls, trial_id: uuid.UUID) -> Iterator[Trial]:
        """The trial with nobody else's hands on it until the block ends: SQLite lets one writer in at a time."""
        with transaction.atomic():
            yield cls.objects.select_for_update().select_related("vessel", "planned_by").get(pk=trial_id)

    def change_plan(self, sheet: dict[str, Any], version: int) -> None:
        """Replace the plan's sheet; raises SheetError, NotNow when frozen, Stale when changed elsewhere since
        `version`.
        """
        self.must_be(State.PLANNED, "The plan is frozen: a past or running trial keeps the plan it was started on.")
        must_work_out(self.with_board(sheet))
        if not Trial.objects.filter(pk=self.pk, version=version, state=State.PLANNED).update(
            sheet=sheet, version=version + 1, kind=sheet["kind"], basis=summed_up(sheet, None)[1]
        ):
            raise Stale("This plan was changed in another window since you opened it. Load it again to see it.")
        self.refresh_from_db()

    @property
    def frozen_sheet(self) -> dict[str, Any]:
        """The sheet as frozen; raises NotNow before that."""
        if not self.frozen:
            raise NotNow("Freeze the plan first: the bench runs on a plan that no longer changes.")
        sheet: dict[str, Any] = self.frozen["sheet"]
        return sheet

    def derived(self) -> DeriveAnswer:
        """The plan's answer: as frozen when it is, else worked out from the sheet as it stands."""
        if self.frozen:
            return read_plan(self.frozen).answer
        found = worked_out(self.with_board(self.sheet))
        if found.answer is None:
            raise NotNow(
                f"This plan cannot be worked out any more: {found.problem}. Mend the vessel on its page, and begin a "
                "plan from there."
            )
        return found.answer

    @staticmethod
    def with_board(sheet: dict[str, Any]) -> dict[str, Any]:
        """A sheet with the gauges on the kit board to choose from, and how high the workshop stands."""
        gauges, altitude = Kit.gauges(), Workshop.here().altitude
        whole = {**sheet, "gauges": gauges} if gauges else sheet
        return {"altitude": altitude, **whole} if altitude else whole

    def missing(self) -> list[dict[str, str]]:
        """What is still to be entered before the plan can be frozen: field and sentence."""
        read = read_vessel_sheet(self.sheet)
        needless = {"water_temperature"} if read.medium == "air" else set()
        try:
            held = PROCEDURES[BASES[chosen_basis(read)].procedure].has_hold
        except SheetError:  # a basis that contradicts the kind of trial is said where it is worked out
            held = True
        if not held:
            needless.add("acceptance")  # nothing is shut in and held
        shaped = any(self.sheet.get(field) for field in ("shell", "box", "cask", "volume"))
        needed = [(field, says) for field, says in NEEDED if field not in needless]
        return [
            {"field": field, "says": says}
            for field, says in needed
            if not (shaped if field == "shell" else self.sheet.get(field))
        ]

    def freeze(self, maker: Maker, on: datetime.date | None = None) -> None:
        """Fix the plan with the kit as it is, on the day of the test (today); raises NotNow with what still stands in
        the way.
        """
        self.must_be(State.PLANNED, "This plan is frozen already.")
        missing = self.missing()
        if missing:
            raise NotNow(missing[0]["says"])
        if self.vessel_changes():
            raise NotNow("The vessel was changed since this plan was begun: take that into the plan, or leave it.")
        sheet = {**self.with_board(self.sheet), "date": (on or timezone.localdate()).isoformat()}
        must_work_out(sheet)
        answer = derive(read_vessel_sheet(sheet))
        if answer.stops:
            raise NotNow(answer.stops[0].says)
        self.sheet = sheet
        self.frozen = keep_plan(FrozenPlan(sheet, answer, toadbell.__version__))
        self.enter(State.READY, "frozen", maker)

    def thaw(self, maker: Maker) -> None:
        """Back to planning, as long as nothing was run."""
        self.must_be(State.READY, "Only a plan that was not started can be opened again.")
        self.frozen, self.version = None, self.version + 1
        self.enter(State.PLANNED, "thawed", maker)

    # -- clock --------------------------------------------------------------------------------

    def now(self) -> datetime.datetime:
        """The trial's own time."""
        if self.wall_anchor is None or self.trial_anchor is None:
            return clock.now()
        return self.trial_anchor + (clock.now() - self.wall_anchor) * self.speed

    def set_speed(self, speed: float) -> None:
        """Run the simulated rig's time faster or slower from now on, 1 to 600 times."""
        if self.source != Source.RIG:
            raise NotNow("Only the simulated rig's time can be hurried.")
        if not 1 <= speed <= 600:
            raise NotNow("The simulated rig runs at 1 to 600 times the clock.")
        self.trial_anchor, self.wall_anchor, self.speed = self.now(), clock.now(), speed
        self.save(update_fields=["trial_anchor", "wall_anchor", "speed"])

    def notice_the_clock(self) -> None:
        """Log that the wall's clock was put forward or back since this run began, or since that was last logged; the
        run goes on steadily.
        """
        off, noted = clock.off(), self._noted()
        if self.started_at is None or abs(off - noted) <= clock.STEP:
            return
        self.log("clock", self.planned_by, by=off - noted, off=off)

    def _noted(self) -> float:
        last = self.events.filter(kind="clock").order_by("-at", "-stored_at").first()
        return float(last.data["off"]) if last else 0.0

    # -- log --------------------------------------------------------------------------------

    def must_be(self, state: str | tuple[str, ...], otherwise: str) -> None:
        """Raise NotNow with `otherwise` unless the trial is in (one of) the state(s)."""
        if self.state not in (state if isinstance(state, tuple) else (state,)):
            raise NotNow(otherwise)

    def enter(
        self,
        state: State,
        kind: str,
        maker: Maker,
        *,
        at: datetime.datetime | None = None,
        event_id: uuid.UUID | None = None,
        **data: Any,
    ) -> Event:
        """Change state and say so in the log, both or neither. Raises NotNow where the record was signed."""
        with transaction.atomic():
            must_be_open([self.pk])
            self.state = state
            self.save()
            return self.log(kind, maker, at=at, event_id=event_id, **data)

    def log(
        self,
        kind: str,
        maker: Maker,
        *,
        at: datetime.datetime | None = None,
        event_id: uuid.UUID | None = None,
        **data: Any,
    ) -> Event:
        """Add an event; the same one sent twice is added once. Raises NotNow where its id is another one's."""
        event, made = Event.objects.get_or_create(
            id=event_id or uuid.uuid4(),
            defaults={"trial": self, "at": at or self.now(), "kind": kind, "by": maker, "data": data},
        )
        if not made and (event.trial_id != self.pk or event.kind != kind):
            raise NotNow(TAKEN)
        return event

    def take(self, batch: Iterable[Reading]) -> Stored:
        """Store readings, each id once, and say of each what became of it. Nothing is acknowledged unwritten.

        Raises NotNow, with nothing stored, where an id is another trial's.
        """
        first: dict[uuid.UUID, Reading] = {}
        differs: dict[uuid.UUID, Reading] = {}
        readings = list(batch)
        with transaction.atomic(savepoint=False):
            before = Reading.objects.in_bulk([reading.id for reading in readings])
            if any(reading.trial_id != self.pk for reading in before.values()):
                raise NotNow(
                    "A reading in this batch carries an id that another trial's has: nothing was stored. Give each "
                    "reading its own."
                )
            for reading in readings:
                kept = before.get(reading.id) or first.setdefault(reading.id, reading)
                if not kept.reads_as(reading):
                    differs[reading.id] = kept
            fresh = [reading for reading in first.values() if reading.id not in before]
            Reading.objects.bulk_create(fresh, ignore_conflicts=True)
        return Stored(fresh, set(before), differs)

    def effective_events(self) -> list[Event]:
        """The events in order, without those a later correction took back; read again where any came, for none goes."""
        count = self.events.count()
        if self._read is None or self._read[0] != count:
            self._read = count, uncorrected(list(self.events.prefetch_related("by")))
        return list(self._read[1])


def uncorrected(events: list[Event]) -> list[Event]:
    """Events without those that a later correction took back, in the order they came in."""
    corrected = {e.data.get("corrects") for e in events if e.kind == "corrected"}
    return [e for e in events if str(e.id) not in corrected]


@dataclass(frozen=True)
class Stored:
    """What became of readings: stored now, ids stored before, and what was kept under an id where what was sent reads
    otherwise.
    """

    fresh: list[Reading]
    known: set[uuid.UUID]
    differs: dict[uuid.UUID, Reading]

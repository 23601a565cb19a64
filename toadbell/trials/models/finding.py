"""A leak that was found: whose, where, how it shows, and what was done about it.

Its story stands in the log; this is how it stands now.
"""

from __future__ import annotations

import datetime
import uuid
from typing import TYPE_CHECKING

from django.db import models

from toadbell.core.run import carried
from toadbell.trials.models.log import Event
from toadbell.trials.models.sealing import PartOfARecord

if TYPE_CHECKING:
    from toadbell.trials.models.trial import Trial


class Finding(PartOfARecord):
    """A leak. It bears the id of the entry that told of it; a pin is m along and across on the drawing."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    trial = models.ForeignKey("trials.Trial", on_delete=models.PROTECT, related_name="findings")
    at = models.DateTimeField()
    owner = models.CharField(max_length=10, help_text="boundary, fitting or rig")
    where = models.CharField(max_length=200)
    shows = models.CharField(max_length=20, default="weep")
    pin_x = models.FloatField(null=True, help_text="m")
    pin_v = models.FloatField(null=True, help_text="m")
    pin_view = models.CharField(max_length=10, default="front", help_text="from where it is looked at")
    mend = models.CharField(max_length=500, blank=True, default="", help_text="what was done about it")
    mended_at = models.DateTimeField(null=True)
    found = models.CharField(max_length=20, blank=True, default="", help_text="how it was found")
    pressure = models.FloatField(null=True, help_text="it first showed at, Pa")
    count = models.PositiveIntegerField(null=True, help_text="drops or bubbles that were counted")
    over = models.FloatField(null=True, help_text="s, over which they were")
    until = models.DateTimeField(null=True, help_text="what it was sealed with cures till then")
    same = models.ForeignKey(
        "self",
        on_delete=models.SET_NULL,
        null=True,
        related_name="again",
        help_text="the leak of an earlier trial that it is",
    )

    class Meta:
        ordering = ["at", "id"]

    @property
    def pin(self) -> carried.Pin | None:
        """Where it is on the drawing, m."""
        if self.pin_x is None or self.pin_v is None:
            return None
        return carried.Pin(x=self.pin_x, v=self.pin_v, view=self.pin_view)

    @classmethod
    def of(cls, trial: Trial) -> models.QuerySet[Finding]:
        """The leaks of a trial, oldest first."""
        return cls.objects.filter(trial=trial)

    @classmethod
    def real(cls) -> models.QuerySet[Finding]:
        """Leaks of real runs: what was practised on the simulated rig is no leak of a vessel."""
        return cls.objects.exclude(trial__source="rig")

    @classmethod
    def from_event(cls, event: Event) -> Finding:
        """What an entry of the log tells of."""
        pin = event.data.get("pin") or {}
        return cls.objects.create(
            id=event.pk,
            trial_id=event.trial_id,
            at=event.at,
            owner=event.data["owner"],
            where=event.data["where"][:200],
            shows=event.data.get("shows", "weep"),
            pin_x=pin.get("x"),
            pin_v=pin.get("v"),
            pin_view=pin.get("view", "front"),
            found=str(event.data.get("found", ""))[:20],
            pressure=event.data.get("pressure"),
            count=event.data.get("count"),
            over=event.data.get("seconds"),
            same=cls._earlier(event),
        )

    def mended(self, event: Event) -> None:
        """What was done about it, as an entry of the log tells."""
        self.mend, self.mended_at = event.data["did"][:500], event.at
        until = event.data.get("until")
        self.until = datetime.datetime.fromisoformat(until) if until else None
        self.save(update_fields=["mend", "mended_at", "until"])

    @classmethod
    def _earlier(cls, event: Event) -> Finding | None:
        """The leak of an earlier trial that an entry says it is, by its id; None where it says none that is known."""
        try:
            told = uuid.UUID(str(event.data.get("same") or ""))
        except ValueError:
            return None
        return cls.objects.filter(pk=told, trial__vessel_id=event.trial.vessel_id).exclude(trial=event.trial_id).first()

    @classmethod
    def from_log(cls, trial: Trial) -> None:
        """The leaks of a log that was brought in."""
        events = trial.effective_events()
        found = {str(event.pk): cls.from_event(event) for event in events if event.kind == "leak"}
        for event in events:
            if event.kind == "mended" and str(event.data.get("leak")) in found:
                found[str(event.data["leak"])].mended(event)

"""What a run leaves: readings and events. They are only ever added; a correction is a new event."""

from __future__ import annotations

import uuid

from django.db import models

from toadbell.shed.models import Maker
from toadbell.trials import clock
from toadbell.trials.models.chain import as_text
from toadbell.trials.models.sealing import PartOfARecord
from toadbell.trials.models.sources import Device, ImportedFile
from toadbell.trials.models.states import Source


class Reading(PartOfARecord):
    """A pressure as read, with the water's temperature and the strokes so far where they were.

    The id comes from whoever read it.
    """

    id = models.UUIDField(primary_key=True)
    trial = models.ForeignKey("trials.Trial", on_delete=models.PROTECT, related_name="readings")
    at = models.DateTimeField()
    pressure = models.FloatField(help_text="Pa gauge")
    temperature = models.FloatField(null=True, help_text="of the water, K")
    strokes = models.PositiveIntegerField(null=True, help_text="made so far in the run")
    source = models.CharField(max_length=10, choices=Source.choices)
    device = models.ForeignKey(Device, on_delete=models.PROTECT, null=True, related_name="readings")
    imported = models.ForeignKey(ImportedFile, on_delete=models.PROTECT, null=True, related_name="readings")
    stored_at = models.DateTimeField(default=clock.now)

    class Meta:
        ordering = ["at"]
        indexes = [models.Index(fields=["trial", "at"]), models.Index(fields=["trial", "stored_at"])]

    @property
    def bound(self) -> str:
        """What of it is bound into the chain of its trial."""
        warm = None if self.temperature is None else float(self.temperature)
        return as_text(self.id, self.at, float(self.pressure), warm, self.strokes, self.source, self.imported_id)

    def reads_as(self, other: Reading) -> bool:
        """Do both say the same? When it was is not asked: a device without a clock says how long ago."""
        return self.pressure == other.pressure and self.temperature == other.temperature


class Event(PartOfARecord):
    """Something that happened, and who said so."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    trial = models.ForeignKey("trials.Trial", on_delete=models.PROTECT, related_name="events")
    at = models.DateTimeField()
    kind = models.CharField(max_length=20)
    by = models.ForeignKey(Maker, on_delete=models.PROTECT, related_name="+")
    data = models.JSONField(default=dict)
    stored_at = models.DateTimeField(default=clock.now)

    class Meta:
        ordering = ["at", "stored_at"]
        indexes = [
            models.Index(fields=["trial", "at"]),
            models.Index(fields=["stored_at"], name="trials_event_stored_idx"),
        ]

    @property
    def bound(self) -> str:
        """What of it is bound into the chain of its trial."""
        return as_text(self.id, self.at, self.kind, self.by_id, self.data)

"""What came of a run: the judge's verdict, and a person's decision."""

from __future__ import annotations

from typing import Any

from django.db import models
from django.utils import timezone

from toadbell.core.documents import read_advice, read_points, read_verdict
from toadbell.core.judge.answers import FitnessAnswer, HoldPoint, JudgeAnswer
from toadbell.shed.models import Maker
from toadbell.trials.models.sealing import PartOfARecord
from toadbell.trials.models.trial import Trial


class Verdict(PartOfARecord):
    """The judge's answer as computed, with what it was computed from and by which core."""

    trial = models.OneToOneField(Trial, on_delete=models.PROTECT, related_name="verdict")
    sheet = models.JSONField()
    asked = models.JSONField(default=dict, help_text="how the log was read: ignore, s; put_back, s")
    answer = models.JSONField()
    called = models.CharField(
        max_length=20, default="", editable=False, help_text="tight, leaking or cannot-tell, as the answer says"
    )
    points = models.JSONField()
    core = models.CharField(max_length=20)
    at = models.DateTimeField(default=timezone.now)

    def save(self, *args: Any, **options: Any) -> None:
        """Keep it, and beside its answer what lists ask of it."""
        self.called = str(self.answer.get("verdict", ""))
        if options.get("update_fields") is not None:
            options["update_fields"] = {*options["update_fields"], "called"}
        super().save(*args, **options)

    def read(self) -> JudgeAnswer:
        """The answer, said to whoever listens now; raises Unreadable."""
        return read_verdict(self.answer)

    def hold_points(self) -> list[HoldPoint]:
        """The points of the hold, to draw; raises Unreadable."""
        return read_points(self.points)


class Decision(PartOfARecord):
    """What a person decided the vessel is fit for, beside what the tool would have said."""

    trial = models.OneToOneField(Trial, on_delete=models.PROTECT, related_name="decision")
    fitness = models.CharField(max_length=10)
    pressure = models.FloatField(null=True, help_text="Pa gauge")
    reason = models.TextField(blank=True)
    valve = models.CharField(
        max_length=12, default="", blank=True, help_text="what a relief valve's own trial was decided to show of it"
    )
    less_cautious = models.BooleanField(default=False)
    overruled = models.JSONField(
        default=dict, help_text="lines of the evidence that were gone beyond, by their codes, each with its reason"
    )
    advice = models.JSONField()
    next_proof = models.DateField(null=True)
    by = models.ForeignKey(Maker, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    def read_advice(self) -> FitnessAnswer:
        """What the tool would have said, to whoever listens now; raises Unreadable."""
        return read_advice(self.advice)

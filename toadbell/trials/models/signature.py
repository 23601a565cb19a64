"""Second signatures: who saw what of a trial, and whether they approve; and what was written beside a sealed record."""

from __future__ import annotations

import uuid

from django.db import models
from django.utils import timezone

from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.shed.people import alike, tidy
from toadbell.trials.models.trial import Trial


class Signature(models.Model):
    """A signature that a record asks for, and what came of it.

    role  as what somebody signs: a witness saw it, an inspector approves of it or not
    of    whom it is asked of; None where a name alone stands for them, who sign on paper
    saw   the stages they saw, by their ids, and "hold"
    seal  SHA-256 of the sealed package that they signed
    """

    class Role(models.TextChoices):
        """As what."""

        WITNESS = "witness", "witness"
        INSPECTOR = "inspector", "inspector"

    class How(models.TextChoices):
        """By which hand."""

        OWN = "own", "by their own hand, on their own phone"
        HERE = "here", "by their own hand, on the workshop's machine"
        PAPER = "paper", "on paper"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    trial = models.ForeignKey(Trial, on_delete=models.PROTECT, related_name="signatures")
    role = models.CharField(max_length=10, choices=Role.choices)
    asked_by = models.ForeignKey(Maker, on_delete=models.PROTECT, related_name="+")
    asked_at = models.DateTimeField(default=timezone.now)
    of = models.ForeignKey(Maker, on_delete=models.PROTECT, null=True, related_name="+")
    name = models.CharField(max_length=150, help_text="as it stands on the record")
    how = models.CharField(max_length=10, choices=How.choices, blank=True, default="")
    saw = models.JSONField(default=list)
    remarks = models.TextField(blank=True, default="")
    approved = models.BooleanField(null=True)
    signed_at = models.DateTimeField(null=True)
    written_by = models.ForeignKey(Maker, on_delete=models.PROTECT, null=True, related_name="+")
    seal = models.CharField(max_length=64, blank=True, default="")
    key = models.CharField(max_length=64, blank=True, default="", help_text="that vouches for it, Ed25519, hexadecimal")
    vouched = models.CharField(max_length=128, blank=True, default="", help_text="the key's signature over the row")

    class Meta:
        ordering = ["asked_at", "id"]

    @classmethod
    def ask(cls, trial: Trial, by: Maker, role: str, of: Maker | None, name: str) -> Signature:
        """Ask somebody to sign: of the workshop, or by name on paper. Raises NotNow where it makes no sense."""
        if role not in cls.Role.values:
            raise NotNow("A record is signed by a witness or by an inspector.")
        if not trial.frozen:
            raise NotNow("Freeze the plan first: before that there is nothing to sign.")
        if trial.practice:
            raise NotNow("Practice on the simulated rig proves nothing, and is not signed.")
        name = of.shown_name if of else tidy(name)
        if not name:
            raise NotNow("Whom do you ask? Choose somebody, or write the name of who signs on paper.")
        if of is None and Maker.called(name) is not None:
            raise NotNow(f"{name} is of this workshop, and signs by their own hand: choose them, not a name on paper.")
        if any(alike(hand, name) for hand in trial.hands_by_name()) and of is None:
            raise NotNow(f"{name} planned or ran this trial: a second pair of eyes is somebody else's.")
        if any(alike(one, name) for one in trial.signatures.filter(role=role).values_list("name", flat=True)):
            raise NotNow(f"{name} was asked as {role} already.")
        return cls.objects.create(trial=trial, role=role, asked_by=by, of=of, name=name)

    @property
    def signed(self) -> bool:
        """Did they sign?"""
        return self.signed_at is not None

    def withdraw(self) -> None:
        """Ask no longer. Raises NotNow where it was signed: that stays."""
        if self.signed:
            raise NotNow(f"{self.name} signed: that stays with the record.")
        self.delete()


class Beside(models.Model):
    """What was written beside a sealed record, which itself no longer changes."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    trial = models.ForeignKey(Trial, on_delete=models.PROTECT, related_name="beside")
    text = models.CharField(max_length=2000)
    by = models.ForeignKey(Maker, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=timezone.now)
    key = models.CharField(max_length=64, blank=True, default="", help_text="that vouches for it, as for a signature")
    vouched = models.CharField(max_length=128, blank=True, default="")

    class Meta:
        ordering = ["at", "id"]

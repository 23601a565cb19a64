"""What is kept beside the trials: pictures and papers, and the link a calendar subscribes to."""

from __future__ import annotations

import secrets
from pathlib import Path

from django.conf import settings
from django.db import models
from django.utils import timezone

from toadbell.shed.models import Maker, Vessel
from toadbell.trials.models import Event, Trial
from toadbell.trials.models.sealing import PartOfARecord


class Attachment(PartOfARecord):
    """A picture or a paper on a vessel, on one of its openings, or on what happened in a trial.

    The file lies beside the database.
    """

    class Kind(models.TextChoices):
        """What it is."""

        PHOTO = "photo"
        PAPER = "paper"

    id = models.UUIDField(primary_key=True)
    kind = models.CharField(max_length=10, choices=Kind.choices)
    vessel = models.ForeignKey(Vessel, on_delete=models.PROTECT, related_name="attachments")
    opening = models.CharField(max_length=120, blank=True, default="")
    trial = models.ForeignKey(Trial, on_delete=models.PROTECT, null=True, related_name="attachments")
    event = models.ForeignKey(Event, on_delete=models.PROTECT, null=True, related_name="attachments")
    text = models.CharField(max_length=500, blank=True, default="")
    name = models.CharField(max_length=120, blank=True, default="", help_text="what the file was called")
    size = models.PositiveIntegerField()
    sha256 = models.CharField(max_length=64)
    wide = models.PositiveIntegerField(null=True)
    tall = models.PositiveIntegerField(null=True)
    pages = models.PositiveIntegerField(null=True)
    at = models.DateTimeField()
    by = models.ForeignKey(Maker, on_delete=models.PROTECT, related_name="+")
    taken_down = models.BooleanField(default=False)

    FOLDER = settings.ATTACHMENTS

    class Meta:
        ordering = ["at", "id"]

    @property
    def file_name(self) -> str:
        """The file's own name: its id and what it is."""
        return f"{self.id}.{'jpg' if self.kind == self.Kind.PHOTO else 'pdf'}"

    @property
    def path(self) -> Path:
        """Where the file lies."""
        return Path(self.FOLDER / self.file_name)

    @property
    def thumb(self) -> Path:
        """Where a picture's small copy lies."""
        return Path(self.FOLDER / f"{self.id}.small.jpg")


class KnownKey(models.Model):
    """A workshop's public key that vouched for a signature: this one's own, or another's, from the first meeting on."""

    public = models.CharField(max_length=64, unique=True, help_text="Ed25519, hexadecimal")
    own = models.BooleanField(default=False)
    title = models.CharField(max_length=200, blank=True, default="", help_text="of the package it first came with")
    met_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["met_at"]


class CalendarLink(models.Model):
    """The secret in the address that a calendar subscribes to: whoever has it may read what is due, and nothing
    else.
    """

    maker = models.OneToOneField(Maker, on_delete=models.CASCADE, related_name="calendar_link")
    secret = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField(default=timezone.now)

    @classmethod
    def of(cls, maker: Maker) -> CalendarLink:
        """A person's link, made at the first asking."""
        link, _ = cls.objects.get_or_create(maker=maker, defaults={"secret": secrets.token_urlsafe(24)})
        return link

    def renew(self) -> None:
        """A new secret; the old address is worth nothing from now on."""
        self.secret, self.made_at = secrets.token_urlsafe(24), timezone.now()
        self.save(update_fields=["secret", "made_at"])

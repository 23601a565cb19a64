"""Where readings come from beside the dial: loggers with a token, and files of loggers."""

from __future__ import annotations

import hashlib
import secrets
import uuid
from collections.abc import Collection

from django.db import models
from django.utils import timezone

from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.trials.models.sealing import PartOfARecord


class Device(models.Model):
    """A logger that posts readings with a token of its own. The token is shown once; what is kept is its hash."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=80)
    token_hash = models.CharField(max_length=64, unique=True)
    trial = models.ForeignKey("trials.Trial", on_delete=models.SET_NULL, null=True, related_name="devices")
    made_at = models.DateTimeField(default=timezone.now)
    made_by = models.ForeignKey(Maker, on_delete=models.PROTECT, related_name="+")
    taken_away_at = models.DateTimeField(null=True)
    seen_at = models.DateTimeField(null=True)
    seen_pressure = models.FloatField(null=True, help_text="Pa gauge")
    seen_strokes = models.PositiveIntegerField(null=True, help_text="where its own counter stood")

    class Meta:
        ordering = ["made_at"]

    @classmethod
    def hang_up(cls, name: str, maker: Maker) -> tuple[Device, str]:
        """A new device, and its token."""
        name = name.strip()[:80]
        if not name:
            raise NotNow("Give the logger a name, such as “tank logger”.")
        token = f"tb_{secrets.token_urlsafe(24)}"
        return cls.objects.create(name=name, token_hash=_hash(token), made_by=maker), token

    @classmethod
    def with_token(cls, token: str) -> Device | None:
        """The device whose token this is; None where there is none or it was taken away."""
        return cls.objects.filter(token_hash=_hash(token), taken_away_at=None).first()

    @classmethod
    def with_tokens(cls, tokens: Collection[str]) -> dict[str, Device]:
        """Devices by their tokens, of those that are known and were not taken away."""
        hashes = {_hash(token): token for token in tokens}
        return {hashes[one.token_hash]: one for one in cls.objects.filter(token_hash__in=hashes, taken_away_at=None)}

    def take_away(self) -> None:
        """From now on its token is worth nothing; what it read stays."""
        self.taken_away_at, self.trial = timezone.now(), None
        self.save(update_fields=["taken_away_at", "trial"])


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


class ImportedFile(PartOfARecord):
    """A logger's file that was taken into a trial: how it was read, and what was left out."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    trial = models.ForeignKey("trials.Trial", on_delete=models.PROTECT, related_name="files")
    name = models.CharField(max_length=200)
    sha256 = models.CharField(max_length=64)
    recipe = models.JSONField()
    rows = models.PositiveIntegerField()
    refused = models.JSONField()
    at = models.DateTimeField(default=timezone.now)
    by = models.ForeignKey(Maker, on_delete=models.PROTECT, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["trial", "sha256"], name="a_file_once_a_trial")]

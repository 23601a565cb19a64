"""One check that a signed record no longer changes: its parts pass here, in the transaction that writes them."""

from __future__ import annotations

import uuid
from collections.abc import Collection, Iterable
from typing import Any

from django.apps import apps
from django.db import models, transaction

from toadbell.shed.errors import NotNow
from toadbell.trials.models.chain import CHAINED, Chain


def must_be_open(trials: Collection[uuid.UUID | None]) -> None:
    """Raises NotNow where the record of one of these trials was signed, and no longer changes."""
    signatures = apps.get_model("trials", "Signature").objects
    signed = signatures.filter(trial_id__in=[one for one in trials if one]).exclude(seal="").first()
    if signed is not None:
        raise NotNow(str(signed.trial.sealed))


class OfRecords(models.QuerySet[Any]):
    """Rows that are parts of records, many at a time."""

    def bulk_create(self, objs: Iterable[Any], *args: Any, **options: Any) -> list[Any]:
        """Add them, where no record that they are part of was signed."""
        rows = list(objs)
        with transaction.atomic(savepoint=False):
            must_be_open({row.trial_id for row in rows})
            made = super().bulk_create(rows, *args, **options)
            if self.model.__name__ in CHAINED:
                Chain.add(rows)
            return made


class PartOfARecord(models.Model):
    """A row that is part of a trial's record, and is added or changed only as long as nobody signed that."""

    objects = OfRecords.as_manager()

    class Meta:
        abstract = True

    def save(self, *args: Any, **options: Any) -> None:
        """Keep it. Raises NotNow, with nothing kept, where its record was signed."""
        with transaction.atomic(savepoint=False):
            must_be_open([getattr(self, "trial_id", None)])
            fresh = self._state.adding
            super().save(*args, **options)
            if fresh and type(self).__name__ in CHAINED:
                Chain.add([self])

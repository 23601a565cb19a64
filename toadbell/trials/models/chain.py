"""A chain of hashes over the entries and readings of each trial: every one is bound to all that were written before it.

A row that is changed, taken away or slipped in outside the application breaks it. It is no secret: who can write the
whole database can make it anew; a seal and a workshop's key stand against that.
"""

from __future__ import annotations

import datetime
import hashlib
import json
import uuid
from collections import defaultdict
from collections.abc import Iterable
from typing import TYPE_CHECKING, Any

from django.apps import apps
from django.db import connection, models
from django.db.models.expressions import RawSQL

if TYPE_CHECKING:
    from toadbell.trials.models.log import Event, Reading

CHAINED = {"Event": "events", "Reading": "readings"}
"""Models whose rows are only ever added, and where the end of their chain is kept."""


class Chain(models.Model):
    """The ends of a trial's chains, SHA-256; "" where nothing is in it yet."""

    trial = models.OneToOneField("trials.Trial", on_delete=models.CASCADE, related_name="chain", primary_key=True)
    events = models.CharField(max_length=64, blank=True, default="")
    readings = models.CharField(max_length=64, blank=True, default="")

    @classmethod
    def add(cls, rows: Iterable[Any]) -> None:
        """Bind rows of one model to their trials' chains, in the order in which they were written; in the transaction
        that writes them.
        """
        of_trial: dict[uuid.UUID, list[Any]] = defaultdict(list)
        for row in rows:
            row.id = uuid.UUID(str(row.id))
            of_trial[row.trial_id].append(row)
        for trial, found in of_trial.items():
            kept = CHAINED[type(found[0]).__name__]
            chain, _ = cls.objects.get_or_create(trial_id=trial)
            cls.objects.filter(pk=chain.pk).update(**{kept: end_of(getattr(chain, kept), found)})

    def broken(self) -> str | None:
        """Which of its chains is broken, in words; None where neither is. Whoever writes meanwhile does not matter: the
        end and how far it reaches are read at one moment.
        """
        for model, kept in CHAINED.items():
            rows = apps.get_model("trials", model).objects
            end, upto = self._reaches(kept, rows.model._meta.db_table)
            nth = RawSQL(f"{rows.model._meta.db_table}.rowid", [], output_field=models.BigIntegerField())
            bound = rows.filter(trial=self.pk).annotate(nth=nth).filter(nth__lte=upto).order_by("nth")
            if end_of("", bound.iterator(5000)) != end:
                what = "An entry of its log" if kept == "events" else "A reading"
                return f"{what} was changed, added or taken away otherwise than through Toad Bell."
        return None

    def _reaches(self, kept: str, table: str) -> tuple[str, int]:
        """The end of a chain as it is now, and the last row that it binds, in the order in which they were written."""
        last = f"(SELECT COALESCE(MAX(rowid), 0) FROM {table} WHERE trial_id = %s)"
        with connection.cursor() as cursor:  # one statement sees one moment
            trial = self.pk.hex
            cursor.execute(f"SELECT {kept}, {last} FROM trials_chain WHERE trial_id = %s", [trial, trial])
            end, upto = cursor.fetchone()
        return str(end), int(upto)


def end_of(before: str, rows: Iterable[Event | Reading]) -> str:
    """The end of a chain after some more rows."""
    end = before
    for row in rows:
        end = hashlib.sha256(f"{end}|{row.bound}".encode()).hexdigest()
    return end


def as_text(*values: Any) -> str:
    """Values of a row as they are bound: the same before it is written and after it is read."""
    return "\x1f".join(map(_plain, values))


def _plain(value: Any) -> str:
    if isinstance(value, datetime.datetime):
        return repr(value.timestamp())
    if isinstance(value, dict):
        return json.dumps(value, sort_keys=True, separators=(",", ":"), default=str)
    return "" if value is None else str(value)

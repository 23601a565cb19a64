"""What differs between two sheets in the open format, field by field, and as a person is told of it."""

import uuid
from collections.abc import Iterable
from typing import Any

from pydantic import BaseModel, ConfigDict

from toadbell.core.phrases import Said, say
from toadbell.core.physics.materials import MATERIALS
from toadbell.core.plan.bases import BASES
from toadbell.core.vessel.facts import field_name, leaves

PASSED_OVER = frozenset({"date", "gauges", "ready"})
OFFERED = {"hold", "acceptance", "pause", "raising", "basis", "medium", "position"}
"""What a new plan is offered where nothing was said: that it was not there before is no news."""
BY_NAME = ("fittings", "stages", "ends", "tubes")
"""Lists whose parts are told each in a line of its own."""


class Difference(BaseModel):
    """A field, what stood there and what stands there now; null where nothing did."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    field: str
    was: str | None
    now: str | None


def differences(old: dict[str, Any], new: dict[str, Any]) -> list[Difference]:
    """Every field that differs, in the order of the new sheet; ready ticks and the day are passed over."""
    was, now = dict(leaves(old, PASSED_OVER)), dict(leaves(new, PASSED_OVER))
    fields = [*now, *(field for field in was if field not in now)]
    return [
        Difference(field=field, was=was.get(field), now=now.get(field))
        for field in fields
        if was.get(field) != now.get(field)
    ]


def told(found: Iterable[Difference]) -> list[Said]:
    """What differs and matters, a line for each thing: an opening with all that is new of it, a figure with both its
    values.
    """
    lines: dict[str, list[Difference]] = {}
    for one in found:
        root, _, rest = one.field.partition(".")
        if root in OFFERED and one.was is None:
            continue
        key = ".".join([root, rest.partition(".")[0]]) if root in BY_NAME else one.field
        lines.setdefault(key, []).append(one)
    return [_line(key, each) for key, each in lines.items()]


def _line(key: str, found: list[Difference]) -> Said:
    root, _, name = key.partition(".")
    if root == "stages":
        return say("differs.stages")
    subject = name if root in BY_NAME and root == "fittings" else field_name(root if root in BY_NAME else key)
    if root in BY_NAME:
        if all(one.was is None for one in found):
            return say("differs.new", what=subject)
        if all(one.now is None for one in found):
            return say("differs.gone", what=subject)
        parts = [_change(field_name(one.field.rpartition(".")[2]), one) for one in found]
        return say("differs.of", what=subject, changes=parts)
    return _change(subject, found[0])


def _change(what: str, one: Difference) -> Said:
    if one.was is None:
        return say("differs.said", what=what, now=_worded(one.now))
    if one.now is None:
        return say("differs.unsaid", what=what, was=_worded(one.was))
    return say("differs.changed", what=what, was=_worded(one.was), now=_worded(one.now))


def _worded(value: str | None) -> str:
    """A value without a machine's words."""
    if value in MATERIALS:
        return say(f"material.{value}")
    if value in BASES:
        return say(f"basis.{value}")
    if value in ("True", "False"):
        return say("differs.yes" if value == "True" else "differs.no")
    try:
        uuid.UUID(value)
    except (ValueError, AttributeError, TypeError):
        return value or ""
    return say("differs.another")

"""What differs between two sheets in the open format, field by field."""

from typing import Any

from pydantic import BaseModel, ConfigDict

PASSED_OVER = {"date", "gauges"}


class Difference(BaseModel):
    """A field, what stood there and what stands there now; null where nothing did."""

    model_config = ConfigDict(frozen=True)

    field: str
    was: str | None
    now: str | None


def differences(old: dict[str, Any], new: dict[str, Any]) -> list[Difference]:
    """Every field that differs, in the order of the new sheet; ready ticks and the day are passed over."""
    was, now = dict(_leaves(old)), dict(_leaves(new))
    fields = [*now, *(field for field in was if field not in now)]
    return [
        Difference(field=field, was=was.get(field), now=now.get(field))
        for field in fields
        if was.get(field) != now.get(field)
    ]


def _leaves(part: Any, path: str = "") -> list[tuple[str, str]]:
    if isinstance(part, dict):
        pairs = [(key, value) for key, value in part.items() if key not in PASSED_OVER and key != "ready"]
        return [leaf for key, value in pairs for leaf in _leaves(value, f"{path}.{key}" if path else key)]
    if isinstance(part, list):
        named = [one.get("name", str(i)) if isinstance(one, dict) else str(i) for i, one in enumerate(part, 1)]
        return [leaf for name, one in zip(named, part, strict=True) for leaf in _leaves(one, f"{path}.{name}")]
    return [] if part is None else [(path, str(part))]

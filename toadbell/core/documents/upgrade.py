"""Older documents brought up to today's schema, a step for each number.

A step is never changed once it was released.
"""

from collections.abc import Callable
from typing import Any, Literal

from toadbell.core.sheets import SheetError

Kind = Literal["plan", "verdict", "advice"]
Document = dict[str, Any]
NAMES: dict[Kind, str] = {"plan": "frozen plan", "verdict": "verdict", "advice": "advice"}


class Unreadable(SheetError):
    """A stored document cannot be opened; the message says what it is and what to do."""


def upgraded(kind: Kind, stored: Document) -> Document:
    """A document of any schema up to today's in today's; raises Unreadable where it is of a later one, or is none.

    A document without a number is of the first schema.
    """
    number = stored.get("schema", 1) if isinstance(stored, dict) else None
    if not isinstance(number, int) or isinstance(number, bool) or number < 1:
        raise Unreadable(f"the {NAMES[kind]} that was kept here is no document of Toad Bell's")
    if number > SCHEMAS[kind]:
        raise Unreadable(
            f"the {NAMES[kind]} that was kept here was written by a newer Toad Bell (schema {number}; this one reads "
            f"up to {SCHEMAS[kind]}): "
            "open it with that one"
        )
    for step in _STEPS[kind][number - 1 :]:
        stored = step(stored)
    return {**stored, "schema": SCHEMAS[kind]}


# -- the steps --------------------------------------------------------------------------------

_STAGE_IDS = {
    "look": "look",
    "wanted": "wanted",
    "half": "half",
    "three quarters": "three-quarters",
    "60%": "60",
    "70%": "70",
    "80%": "80",
    "90%": "90",
}
_EVIDENCE_CODES = {
    "Within the plate": "plate",
    "Wall bears the wanted pressure": "wall",
    "Looked inside": "looked",
    "Not past its year": "year",
    "Kit suited and calibrated": "kit",
    "Air out": "air",
    "Warm enough, not too warm": "temperature",
    "Paused at each stage": "pauses",
    "Reached": "reached",
    "Not overshot": "overshot",
    "Inside the ceiling": "ceiling",
    "Held long enough": "held",
    "Hold judged tight": "tight",
    "No leak of the vessel's own": "leak",
    "No permanent set": "set",
    "No open mend": "mend",
    "Relief proven, set within": "relief",
    "Steam trial": "steam",
}


def _plan_to_2(stored: Document) -> Document:
    """Stages got ids: until then the last was the test, and the others were known by their names."""
    answer = stored.get("answer") or {}
    stages = answer.get("stages") or []
    own = bool((stored.get("sheet") or {}).get("stages"))

    def identified(number: int, stage: Document) -> Document:
        if number == len(stages):
            return {**stage, "id": "test"}
        known = None if own else _STAGE_IDS.get(str(stage.get("name")))
        return {**stage, "id": known or f"own-{number}"}

    return {
        **stored,
        "answer": {**answer, "stages": [identified(number, stage) for number, stage in enumerate(stages, 1)]},
    }


def _plan_to_3(stored: Document) -> Document:
    """Where stages, look and line stand on the course was worked out from its corners by whoever drew it."""
    answer = stored.get("answer") or {}
    corners = [(float(p["time"]), float(p["pressure"])) for p in answer.get("profile") or []]
    stages = answer.get("stages") or []
    if len(corners) < 2 * len(stages) + 2:
        return stored
    levels = [_stretch(corners[2 * n + 1][0], corners[2 * n + 2][0]) for n in range(len(stages))]
    looked = corners[2 * len(stages) + 1 : -1]
    near = [level["ends"] for level, stage in zip(levels, stages, strict=True) if stage.get("zone") == "near"]
    hold = answer.get("hold") or {}
    placed = {
        "stages": [{**stage, "level": level} for level, stage in zip(levels, stages, strict=True)],
        "hold": {**hold, "look": _stretch(looked[0][0], looked[1][0]) if len(looked) == 2 else None},
        "behind_the_line": _stretch(max(near, default=0.0), levels[-1]["ends"]) if levels else None,
    }
    return {**stored, "answer": {**answer, **placed}}


def _stretch(begins: float, ends: float) -> Document:
    return {"begins": begins, "ends": ends}


def _verdict_to_3(stored: Document) -> Document:
    """That a band begins at none was worked out by whoever told it: under a fiftieth of the limit."""
    leak, limit = stored.get("leak"), stored.get("limit")
    if not isinstance(leak, dict) or not isinstance(limit, int | float):
        return stored
    return {**stored, "leak": {**leak, "from_none": leak.get("low", 0.0) < limit / 50}}


def _advice_to_2(stored: Document) -> Document:
    """Lines of the evidence got codes: until then they were known by their names."""
    lines = stored.get("evidence") or []
    return {**stored, "evidence": [{**line, "code": _EVIDENCE_CODES.get(str(line.get("name")), "")} for line in lines]}


def _the_same(stored: Document) -> Document:
    """Nothing but the number, and sentences that are kept as code and facts from now on."""
    return stored


_STEPS: dict[Kind, tuple[Callable[[Document], Document], ...]] = {
    "plan": (_plan_to_2, _plan_to_3),
    "verdict": (_the_same, _verdict_to_3),
    "advice": (_advice_to_2,),
}
SCHEMAS: dict[Kind, int] = {kind: len(steps) + 1 for kind, steps in _STEPS.items()}
"""The schema that each kind of document is written in today."""

"""The log in words: an entry's kind and what came with it, said to whoever listens."""

from collections.abc import Callable, Iterable
from typing import Any, TypeVar

from toadbell.core.judge.tightening import fraction
from toadbell.core.phrases import Said, read_kept, say
from toadbell.core.run.observed import EIGHTHS
from toadbell.core.run.phases import Entry

Data = dict[str, Any]
Logged = TypeVar("Logged", bound=Entry)


def log_lines(entries: Iterable[Logged]) -> list[tuple[Logged, Said]]:
    """The entries with their words, in order; strokes made one after another are one line."""
    lines: list[tuple[Logged, Said]] = []
    count = 0
    for entry in entries:
        strokes = entry.kind == "strokes"
        count = count + entry.data["count"] if strokes else 0
        if strokes and count > entry.data["count"]:
            lines.pop()
        lines.append((entry, say("log.strokes", count=count) if strokes else in_words(entry.kind, entry.data)))
    return lines


def in_words(kind: str, data: Data) -> Said:
    """An entry as a line of the log."""
    form = _FORMS.get(kind)
    if form is not None:
        return form(data)
    return say(f"log.{kind}", **data) if kind in PLAIN else say("log.other", kind=kind)


PLAIN = (
    "frozen",
    "thawed",
    "strokes",
    "low-hold",
    "hold-set",
    "came-down",
    "vent-open",
    "emptied",
    "dried",
    "gas-free",
    "swelled",
    "ready-to-steam",
    "tried-sooner",
    "imported",
)
"""Kinds that have one sentence, whose facts are what came with them."""


def _turn(data: dict[str, Any]) -> dict[str, str]:
    """The part of a turn that a joint was seen at, as people say it."""
    if data["what"] not in ("turn", "torque"):
        return {}
    part = int(data["place"])
    return {"turn": f"{fraction(part / EIGHTHS)} of a turn" if part else "finger-tight"}


def _decided(data: Data) -> Said:
    valve = data.get("valve")
    return say("log.decided", fitness=say(f"fitness.valve-{valve}") if valve else data["fitness"])


def _way(data: Data, *ways: str) -> str:
    """How a line differs by what the vessel is filled with, or by its fire."""
    medium = data.get("medium")
    return f"-{medium}" if medium in (ways or ("air", "steam")) else ""


def _clock(data: Data) -> Said:
    return say("log.clock-forward" if data["by"] > 0 else "log.clock-back", by=abs(data["by"]))


def _stage_reached(data: Data) -> Said:
    left = data.get("early")
    early = say("log.early", by=left) if left else say("log.nothing")
    return say(
        "log.stage-reached", number=data["stage"] + 1, name=data["name"], pressure=data.get("pressure"), early=early
    )


def _gone_back(data: Data) -> Said:
    why = say("log.because", why=data["why"]) if data.get("why") else say("log.nothing")
    return say(
        f"log.gone-back-{'stage' if data['to'] else 'vent' if data['vent'] else 'none'}",
        pressure=data.get("pressure"),
        why=why,
    )


def _opening(data: Data) -> Said:
    return say(f"log.opening-{data['what']}{'' if data['done'] else '-not'}", name=data["name"])


def _guard(data: Data) -> Said:
    says = read_kept(data["says"])
    return (
        say("log.guard", says=says)
        if data.get("pressure") is None
        else say("log.guard-read", says=says, pressure=data["pressure"])
    )


def _mended(data: Data) -> Said:
    """What was done: the way of mending and the compound by their names, and the words that were written."""
    act = data.get("act")
    if not act:
        return say("log.mended", where=data["where"], did=data["did"])
    compound = say(f"hunt.{data['compound']}") if data.get("compound") else None
    form = "log.mended-with" if compound else "log.mended-act"
    told = say(form, where=data["where"], act=say(f"hunt.{act}"), compound=compound)
    return say("log.mended-told", told=told, did=data["did"]) if data.get("did") else told


def _dumped(data: Data) -> Said:
    if data.get("behind"):
        return say("log.dumped-behind", names=data["behind"])
    return say("log.dumped-steam" if data.get("medium") == "steam" else "log.dumped")


def _tried(data: Data) -> str:
    """What of: a boiler, an article that failed, or a valve."""
    return "-steam" if data.get("medium") == "steam" else "-burst" if data.get("fails") else ""


def _note(data: Data) -> Said:
    if "watched" not in data:
        return say("log.note", text=data["text"])
    watched = read_kept(data["watched"])
    return (
        say("log.note-odd-text", watched=watched, text=data["text"])
        if data.get("text")
        else say("log.note-odd", watched=watched)
    )


_FORMS: dict[str, Callable[[Data], Said]] = {
    "decided": _decided,
    "clock": _clock,
    "started": lambda data: say(f"log.started-{data['source']}"),
    "asked-for": lambda data: say("log.asked-for", name=data["name"] or say("log.another-window")),
    "handed-over": lambda data: say("log.handed-over", name=data["name"] or say("log.another-window")),
    "taken-over": lambda data: say("log.taken-over", name=data["name"] or say("log.another-window")),
    "opening": _opening,
    "valves": lambda data: say(f"log.valves-{'shut' if data['shut'] else 'open'}", **data),
    "vent-shut": lambda data: say(f"log.vent-shut{_way(data)}"),
    "tried": lambda data: say(f"log.tried{_tried(data)}"),
    "dumped": lambda data: _dumped(data),
    "looked": lambda data: say("log.looked-air" if data.get("medium") == "air" else "log.looked"),
    "stage-reached": _stage_reached,
    "shut-in": lambda data: say("log.shut-in-low" if data.get("reason") else "log.shut-in", **data),
    "gone-back": _gone_back,
    "hold-ended": lambda data: (
        say("log.hold-ended-early", reason=data["reason"]) if data.get("reason") else say("log.hold-ended")
    ),
    "released": lambda data: (
        _dumped(data)
        if data.get("behind")
        else say("log.released-dumped" if data.get("dumped") else f"log.released{_way(data, 'steam')}")
    ),
    "note": _note,
    "photo": lambda data: say("log.photo-text", text=data["text"]) if data.get("text") else say("log.photo"),
    "leak": lambda data: say(f"log.leak-{data['owner']}", shows=data.get("shows", "seen"), where=data["where"]),
    "observed": lambda data: say(
        f"log.observed-{data['what']}{'-instead' if data.get('instead') else ''}",
        **{**data, "name": read_kept(data.get("name", "")), "value": data.get("value"), **_turn(data)},
    ),
    "mended": _mended,
    "guard": _guard,
    "guard-answered": lambda data: say("log.guard-answered", code=data["code"], reason=data["reason"]),
    "listening": lambda data: say("log.listening" if data["on"] else "log.listening-not", name=data["name"]),
    "corrected": lambda data: say("log.corrected", says=read_kept(data["says"])),
    "judged": lambda data: say("log.judged-put-back" if data.get("put_back") else "log.judged"),
}


def ended_says(dumped: bool, under_steam: bool, zero: bool) -> Said:
    """How a run ended that was dumped, or failed; and whether the zero was read after that."""
    how = "failed" if not dumped else "dumped-steam" if under_steam else "dumped"
    return say(f"log.ended-{how}", zero=say("log.ended-zero" if zero else "log.ended-no-zero"))

"""What is known of a vessel, in words and in the reader's units: the same on its page, on the record and on paper."""

from typing import Any

from toadbell.core.answers import Answer
from toadbell.core.phrases import Said, Sentence, amount, is_known, put, say
from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.vessel import End, Shell
from toadbell.core.vessel import shape


class Fact(Answer):
    """Something that is known, or not: its code, its name, and what it is."""

    code: str
    name: Sentence
    value: Sentence


def facts_of(sheet: VesselSheet) -> list[Fact]:
    """What is known of a vessel, one fact a line; what is not known says so."""
    found: dict[str, Said] = {
        "kind": say(f"kind.{sheet.kind}"),
        "wanted": amount(sheet.working_pressure, "pressure"),
        "plate": _pressure(sheet.plate_pressure, "fact.no-plate"),
        "relief": _pressure(sheet.relief_set, "fact.not-said"),
        "made": _year(sheet.made, "fact.not-said"),
        "retire": _year(sheet.retire, "fact.no-year"),
        "inside": _inside(sheet),
        "material": _material(sheet),
        "wall": _wall(sheet),
        "ends": _ends(sheet),
        "volume": _volume(sheet),
    }
    return [Fact(code=code, name=say(f"fact.{code}"), value=value) for code, value in found.items()]


def as_entered(sheet: Any) -> list[Fact]:
    """What stands in a sheet that cannot be read, field by field, in the words it was entered in."""
    return [
        Fact(code=path, name=field_name(path), value=value)
        for path, value in leaves(sheet)
        if value not in ("", "False")
    ]


def field_name(path: str) -> str:
    """A field of a sheet as people call it."""
    last = path.rpartition(".")[2]
    for key in (path.replace(".", "-").replace("_", "-"), last.replace("_", "-")):
        if is_known(f"field.{key}"):
            return say(f"field.{key}")
    return last.replace("_", " ")


def leaves(part: Any, but: frozenset[str] = frozenset(), path: str = "") -> list[tuple[str, str]]:
    """Every field of a sheet by its path with what stands there, parts of a list by their names; `but`: passed over."""
    if isinstance(part, dict):
        pairs = [(key, value) for key, value in part.items() if key not in but]
        return [leaf for key, value in pairs for leaf in leaves(value, but, f"{path}.{key}" if path else key)]
    if isinstance(part, list):
        named = [one.get("name", str(i)) if isinstance(one, dict) else str(i) for i, one in enumerate(part, 1)]
        return [leaf for name, one in zip(named, part, strict=True) for leaf in leaves(one, but, f"{path}.{name}")]
    return [] if part is None else [(path, str(part))]


def _pressure(value: float | None, unknown: str) -> Said:
    return say(unknown) if value is None else amount(value, "pressure")


def _year(value: int | None, unknown: str) -> Said:
    return say(unknown) if value is None else say("fact.year", year=value)


def _times(*lengths: float | None) -> Said:
    known = [amount(length, "length") for length in lengths if length is not None]
    return say("fact.not-said") if not known else say("fact.times", sizes=known)


def _inside(sheet: VesselSheet) -> Said:
    if sheet.shell is not None:
        return _times(sheet.shell.inside_diameter, sheet.shell.length)
    if sheet.box is not None:
        box = sheet.box
        return _times(*((box.diameter,) if box.diameter else (box.length, box.width)), box.height)
    return _times(sheet.cask.bilge, sheet.cask.length) if sheet.cask else say("fact.not-said")


def _material(sheet: VesselSheet) -> Said:
    part = sheet.shell or sheet.box
    return say("fact.not-said") if part is None or part.material is None else say(f"material.{part.material}")


def _wall(sheet: VesselSheet) -> Said:
    """The wall as it was stated or measured; the thinnest reading where readings were taken."""
    shell = sheet.shell
    if shell is None:
        box = sheet.box
        return say("fact.wall-assumed", wall=box.wall) if box and box.wall else say("fact.not-said")
    readings = [reading.wall for reading in shell.wall_readings]
    if readings:
        if shell.wall is None:
            return say("fact.wall-thinnest", thinnest=min(readings))
        return say("fact.wall-readings", wall=shell.wall, thinnest=min(readings))
    return _stated(shell)


def _stated(shell: Shell) -> Said:
    if shell.wall is None:
        return say("fact.wall-unknown")
    return say("fact.wall-measured" if shell.wall_measured else "fact.wall-assumed", wall=shell.wall)


def _ends(sheet: VesselSheet) -> Said:
    if sheet.shell is None or sheet.shell.form == "sphere":
        return say("fact.none-needed")
    ends = [_end(end) for end in sheet.ends]
    if not ends:
        return say("fact.not-said")
    if len(ends) == 2 and ends[0] == ends[1]:
        return say("fact.ends-alike", end=ends[0])
    return say("fact.ends-both", ends=ends)


def _end(end: End) -> Said:
    form = say(f"fact.end-{end.form}")
    return form if end.thinnest is None else put("{form}, {wall:length}", form=form, wall=end.thinnest)


def _volume(sheet: VesselSheet) -> Said:
    volume = shape.volume(sheet)
    return say("fact.not-said") if volume is None else amount(volume, "volume", "L", figures=3)

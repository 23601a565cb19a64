"""Does a vessel inherit what its design proved, or by how much does it depart from it?

Source: procedures, burst: a vessel that departs in diameter, wall, lay-up or closure does not inherit.
"""

from toadbell.core.answers import Answer
from toadbell.core.judge.checks import Check, state_of
from toadbell.core.phrases import Said, Sentence, say
from toadbell.core.physics.materials import COLD, LAY_UPS
from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.kit import Design
from toadbell.core.vessel.parts import working_temperature

SAME = 0.02
"""Sizes that differ by no more than such a part are the same."""
STRESS = 0.03
"""Its hoop stress may be so much more, as a part of the design's: less than what anybody measures a wall to."""
WARM = 5.0
"""So many kelvin warmer than the design is for is as warm."""


class Inherits(Answer):
    """What a vessel has of its design, line by line.

    inherits   true, false where it departs, null where something is not known
    stress     hoop stress at its wanted pressure over the design's, less one; null where not known
    """

    inherits: bool | None
    stress: float | None
    says: Sentence
    checks: list[Check]


def inherits(design: Design, name: str, sheet: VesselSheet) -> Inherits:
    """A vessel's sheet against the design that it is said to be of."""
    shell = sheet.shell
    diameter, wall = (shell.inside_diameter, shell.thinnest) if shell else (None, None)
    if shell is not None and wall is not None:
        wall -= shell.corrosion  # what rust is to take of it, it does not have
    each = [
        _size("diameter", design.inside_diameter, diameter, thinner=False),
        _size("wall", design.wall, wall, thinner=True),
        _word("material", design.material, shell.material if shell else None),
        _word("layup", design.layup, sheet.layup, needed=design.material in LAY_UPS),
        _word("closure", design.closure, sheet.closure, needed=True),
        _wanted(design, sheet),
        *_otherwise(design, sheet),
    ]
    stress = None
    if diameter is not None and wall is not None and wall > 0:
        was = design.wanted * design.inside_diameter / design.wall
        stress = sheet.working_pressure * diameter / wall / was - 1
        if stress > STRESS:
            each.append(_check("stress", False, say("design.stress-more", stress=stress)))
    checks = [one for one in each if one is not None]
    unlike = [one.name for one in checks if one.state == "not met"]
    open_ = [one.name for one in checks if one.state == "not known"]
    if unlike:
        says = say(
            "design.departs" if stress is not None else "design.departs-plain", name=name, names=unlike, stress=stress
        )
    elif open_:
        says = say("design.open", name=name, names=open_)
    else:
        says = say("design.inherits", name=name)
    return Inherits(inherits=False if unlike else None if open_ else True, stress=stress, says=says, checks=checks)


def _check(code: str, met: bool | None, says: Said) -> Check:
    return Check(code=code, name=say(f"design.{code}"), state=state_of(met), says=says)


def _otherwise(design: Design, sheet: VesselSheet) -> list[Check | None]:
    """What else is another vessel: another form, a wall nobody measured, hotter, welded, a thinner end."""
    shell = sheet.shell
    if shell is None:
        return []
    found: list[Check | None] = []
    if shell.form != "cylinder":
        found.append(_check("form", False, say("design.form-other")))
    if not shell.measured:
        found.append(_check("measured", None, say("design.unmeasured")))
    hot, most = working_temperature(sheet), design.temperature or COLD
    if hot > most + WARM:
        found.append(_check("temperature", False, say("design.hotter", was=most, now=hot)))
    if shell.welded and not design.welded:
        found.append(_check("welded", False, say("design.weld")))
    ends = [end.thinnest for end in sheet.ends if end.thinnest is not None]
    least = design.end_wall or design.wall
    if ends and min(ends) < least * (1 - SAME):
        found.append(_check("ends", False, say("design.size", was=least, now=min(ends))))
    return found


def _size(code: str, was: float, now: float | None, *, thinner: bool) -> Check:
    """A diameter may not be another; a wall may not be thinner."""
    if now is None:
        return _check(code, None, say("design.size", was=was, now=None))
    met = now >= was * (1 - SAME) if thinner else abs(now / was - 1) <= SAME
    return _check(code, met, say("design.size", was=was, now=now))


def _word(code: str, was: str | None, now: str | None, *, needed: bool = False) -> Check | None:
    """What a design says of lay-up, material and closure is asked of its vessels; what it needs and does not say is not
    known.
    """
    if not was:
        unsaid = say("design.word", was=say("alike.unsaid"), now=now or say("alike.unsaid"))
        return _check(code, None, unsaid) if needed else None
    met = None if not now else was.strip().casefold() == now.strip().casefold()
    return _check(code, met, say("design.word", was=was, now=now or say("alike.unsaid")))


def _wanted(design: Design, sheet: VesselSheet) -> Check:
    met = sheet.working_pressure <= design.wanted * (1 + 1e-6)
    return _check("wanted", met, say("design.pressure", was=design.wanted, now=sheet.working_pressure))

"""Getting the openings ready: what to do with each, what is missing, what to gather from the shelf."""

from toadbell.core.answers import Gather, OpeningAnswer
from toadbell.core.plan.context import TOLERANCE, PlanContext
from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.vessel import Fitting
from toadbell.core.vessel.openings import height_of

DO = {
    "keep": "stays on",
    "take-off": "take off, plug",
    "blank": "blank off",
    "vent": "vent valve",
    "drain": "drain valve",
    "pump": "pump and shut-off",
    "gauge": "test gauge",
}
"""What each choice asks for, in words."""
SUGGESTED = {
    "relief-valve": "take-off", "pressure-switch": "take-off", "gauge": "gauge", "sight-glass": "take-off", "regulator": "take-off",
    "outlet": "vent", "feed": "pump", "check-valve": "take-off", "drain": "drain", "plug": "keep", "hand-hole": "keep", "breather": "blank",
}  # fmt: skip
"""What is usually done with an opening by what sits in it."""
MUST_NOT_SEE = frozenset({"relief-valve", "pressure-switch", "sight-glass", "regulator", "gauge", "check-valve"})
"""What is set or broken by a test that it sees."""
ROLES = {"vent": "the vent", "pump": "the pump", "gauge": "the gauge"}


def in_use(sheet: VesselSheet) -> bool:
    """Are the openings being prepared one by one, and not only listed for their ratings?"""
    return any(opening.for_test or opening.place or opening.fitted for opening in sheet.fittings)


def openings_of(sheet: VesselSheet) -> list[OpeningAnswer]:
    """Each opening with what to do with it and how high it is."""
    found = []
    for opening in sheet.fittings:
        suggested = SUGGESTED.get(opening.fitted or "", "keep")
        choice = opening.for_test or suggested
        found.append(
            OpeningAnswer(
                name=opening.name,
                height=height_of(sheet, opening),
                choice=opening.for_test,
                suggested=suggested,
                do=DO[choice],
                ready=opening.ready,
            )
        )
    return found


def missing_roles(sheet: VesselSheet) -> list[str]:
    """What no opening is given to: vent, pump or gauge; as words."""
    given = {opening.for_test for opening in sheet.fittings}
    return [words for role, words in ROLES.items() if role not in given and not (role == "vent" and sheet.medium == "air")]


def undecided(sheet: VesselSheet) -> list[str]:
    """Names of the openings nobody decided about."""
    return [opening.name for opening in sheet.fittings if opening.for_test is None]


def wrongly_kept(sheet: VesselSheet) -> list[str]:
    """Names of the openings whose fitting stays on though it must not see the test."""
    return [opening.name for opening in sheet.fittings if opening.for_test == "keep" and opening.fitted in MUST_NOT_SEE]


def gather(sheet: VesselSheet, w: PlanContext) -> list[Gather]:
    """What to bring to the bench, opening by opening, then what the whole rig needs; empty where no opening is prepared."""
    if not in_use(sheet):
        return []
    rated = f"rated {w.show(w.target * TOLERANCE, 3)} or more"
    found = [Gather(what=what, use=opening.name) for opening in sheet.fittings for what in _for_one(opening, rated)]
    if not found:
        return []
    shared = ["thread tape or paste", "paper towels, and chalk for the seams"]
    if sheet.medium == "water":
        shared += ["a hose for filling, a bucket", "a cloth to dry it outside"]
    return [*found, *(Gather(what=what, use="the rig") for what in shared)]


def _for_one(opening: Fitting, rated: str) -> list[str]:
    thread = opening.thread or "its thread"
    return {
        "take-off": [f"plug {thread}, {rated}", "a tag for what comes off"],
        "blank": [f"blank {thread}, {rated}", "its seal"],
        "vent": [f"valve {thread}, {rated}"],
        "drain": [f"valve {thread}, {rated}"],
        "pump": [f"adaptor {thread} to the pump's hose, {rated}", "shut-off valve and a way to dump"],
        "gauge": [f"adaptor {thread} to the test gauge, {rated}"],
    }.get(opening.for_test or "", [])

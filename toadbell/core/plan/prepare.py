"""Getting the openings ready: what to do with each, what is missing, what to gather from the shelf."""

from toadbell.core.answers import Gather, OpeningAnswer
from toadbell.core.phrases import LOW_HEAD, Said, say
from toadbell.core.plan.context import TOLERANCE, PlanContext
from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.vessel import Fitting
from toadbell.core.vessel.openings import height_of

DO = ("keep", "take-off", "blank", "vent", "drain", "pump", "gauge")
"""What may be done with an opening for the test."""
SUGGESTED = {
    "relief-valve": "take-off",
    "pressure-switch": "take-off",
    "gauge": "gauge",
    "sight-glass": "take-off",
    "regulator": "take-off",
    "outlet": "vent",
    "feed": "pump",
    "check-valve": "take-off",
    "drain": "drain",
    "plug": "keep",
    "hand-hole": "keep",
    "breather": "blank",
}
"""What is usually done with an opening by what sits in it."""
MUST_NOT_SEE = frozenset({"relief-valve", "pressure-switch", "sight-glass", "regulator", "gauge", "check-valve"})
"""What is set or broken by a test that it sees."""
ROLES = ("vent", "pump", "gauge")


def steams(sheet: VesselSheet) -> bool:
    """Is it to be steamed: with everything on it that it works with?"""
    return "steam" in (sheet.procedure, sheet.basis)


def in_use(sheet: VesselSheet) -> bool:
    """Are the openings being prepared one by one, and not only listed for their ratings?"""
    return any(opening.for_test or opening.place or opening.fitted for opening in sheet.fittings)


def valve_stays(sheet: VesselSheet) -> bool:
    """Does the relief valve stay on for the test: where it is tried, and under gas, where it guards from the supply?"""
    rests = (sheet.procedure, sheet.basis)
    return "relief" in rests or (sheet.medium == "air" and ("tightness" in rests or "tight" in rests))


def before_beginning(sheet: VesselSheet, procedure: str, pressure: float) -> list[Said]:
    """What is seen to with one's hands before a run begins, by its kind and by what is filled in.

    procedure  the kind of the trial
    pressure   of the test, Pa: a low head stores next to nothing, and asks for less
    """
    if procedure == "steam":
        found = ["works", "fire", "full", "people-steam"]
    elif sheet.medium == "air":
        valve = "valve-tried" if procedure == "relief" else "valve-stays" if valve_stays(sheet) else "off"
        low = "-low" if pressure < LOW_HEAD else ""
        found = [*([] if in_use(sheet) else [valve]), *(f"{one}{low}" for one in ("supply", "stands", "people-gas"))]
    else:
        own = ["off-but-valve" if procedure == "relief" else "off", "vent"]
        found = [*([] if in_use(sheet) else own), "full", "people"]
    return [say(f"plan.begin-{one}") for one in found]


def openings_of(sheet: VesselSheet) -> list[OpeningAnswer]:
    """Each opening with what to do with it and how high it is."""
    found = []
    for opening in sheet.fittings:
        stays = steams(sheet) or (opening.fitted == "relief-valve" and valve_stays(sheet))
        suggested = "keep" if stays else SUGGESTED.get(opening.fitted or "", "keep")
        choice = suggested if steams(sheet) else opening.for_test or suggested
        found.append(
            OpeningAnswer(
                name=opening.name,
                height=height_of(sheet, opening),
                choice=opening.for_test,
                suggested=suggested,
                do=say(f"plan.do-{choice}"),
                ready=opening.ready,
            )
        )
    return found


def missing_roles(sheet: VesselSheet) -> list[Said]:
    """What no opening is given to: vent, pump or gauge; as words."""
    if steams(sheet):
        return []
    return [
        say(f"plan.role-{role}")
        for role in ROLES
        if not any(opening.serves(role) for opening in sheet.fittings)
        and not (role == "vent" and sheet.medium == "air")
    ]


def undecided(sheet: VesselSheet) -> list[str]:
    """Names of the openings nobody decided about."""
    return [opening.name for opening in sheet.fittings if opening.for_test is None]


def wrongly_kept(sheet: VesselSheet) -> list[str]:
    """Names of the openings whose fitting stays on though it must not see the test; a relief valve sees its own trial,
    and gas that it guards.
    """
    if steams(sheet):
        return []
    spoilt = MUST_NOT_SEE - ({"relief-valve"} if valve_stays(sheet) else set())
    return [opening.name for opening in sheet.fittings if opening.for_test == "keep" and opening.fitted in spoilt]


def gather(sheet: VesselSheet, w: PlanContext) -> list[Gather]:
    """What to bring to the bench, opening by opening, then what the whole rig needs; empty where no opening is
    prepared.
    """
    if not in_use(sheet) or steams(sheet):
        return []
    rated = w.target * TOLERANCE
    found = [Gather(what=what, use=opening.name) for opening in sheet.fittings for what in _for_one(opening, rated)]
    if not found:
        return []
    shared = ("tape", "towels", "hose", "cloth") if sheet.medium == "water" else ("tape", "soap", "bleed")
    return [*found, *(Gather(what=say(f"plan.gather-{what}"), use=say("plan.the-rig")) for what in shared)]


NEEDS = {
    "take-off": ("plug", "tag"),
    "blank": ("blank", "seal"),
    "vent": ("valve",),
    "drain": ("valve",),
    "pump": ("pump", "shut-off"),
    "gauge": ("gauge",),
    "tee": ("tee", "valve", "pump", "shut-off", "gauge"),
}
"""What to bring for an opening by what is done with it."""


def _for_one(opening: Fitting, rated: float) -> list[Said]:
    thread = opening.thread or say("plan.its-thread")
    return [say(f"plan.gather-{what}", thread=thread, rated=rated) for what in NEEDS.get(opening.for_test or "", ())]

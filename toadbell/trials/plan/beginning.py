"""What a new plan begins with: what its kind asks for, what an earlier trial was planned with, and what is still to be
entered.
"""

from typing import Any

from toadbell.core.derive import derive
from toadbell.core.plan.acceptance import offered, offered_hold
from toadbell.core.plan.bases import BASES, RELIEF_LIFT
from toadbell.core.plan.stops import SMALL_POT
from toadbell.core.sheets import SheetError, read_vessel_sheet


def with_choices(openings: list[dict[str, Any]], before: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Openings with what was done with each for an earlier test, by their names; nothing is ready yet."""
    found = []
    for one in openings:
        like: dict[str, Any] = next((other for other in before if other.get("name") == one.get("name")), {})
        chosen: dict[str, Any] = {key: like[key] for key in ("for_test", "rating") if key in like}
        found.append({**chosen, **{key: value for key, value in one.items() if key != "ready"}})
    return found


CARRIED_OVER = (
    "procedure",
    "basis",
    "tight_at",
    "factor",
    "base",
    "reason",
    "gauge",
    "pump",
    "thermometer",
    "burner",
    "relief_valve",
    "relief_pot",
    "pause",
    "hold",
    "acceptance",
    "water_temperature",
    "medium",
    "raising",
    "stages",
    "tilt",
    "roll",
    "shield",
    "stand_off",
    "torque_wrench",
    "circuit",
    "expansion",
    "holder",
    "barometer",
    "rig",
    "place",
    "low_holds",
    "raising_by",
)


def of_basis(basis: str) -> dict[str, Any]:
    """What a sheet says that asks for a trial on some basis; nothing for the kind's own."""
    if basis in BASES and BASES[basis].procedure == "tightness":
        return {"procedure": "tightness"}
    if basis == RELIEF_LIFT:  # as in service, and with next to nothing stored
        return {"basis": basis, "medium": "air", "relief_pot": f"{SMALL_POT * 1000:g} L"}
    return {"basis": basis} if basis else {}


def offered_with(sheet: dict[str, Any]) -> dict[str, Any]:
    """Pause, hold and acceptance as the kind and its pressure ask for them, where nothing else was said."""
    read = read_vessel_sheet(
        {key: value for key, value in sheet.items() if key not in ("hold", "acceptance", "stages")}
    )
    try:
        plan = derive(read)
    except SheetError:
        return {"pause": "3 min"}
    hold = offered_hold(read, plan.hold.minimum)
    return {
        "pause": "3 min",
        "hold": {"minimum": f"{hold / 60:g} min"},
        "acceptance": offered(read, plan.test_pressure, hold),
    }


NEEDED = (
    ("shell", "How big the vessel is is not known: give its sizes, or its volume, on the vessel's page."),
    ("gauge", "Which gauge will be read? Give its range and its smallest division."),
    ("water_temperature", "How warm is the water? Cold metal is brittle, and the water's stiffness depends on it."),
    ("acceptance", "Say what drop would still be accepted, over what time."),
)

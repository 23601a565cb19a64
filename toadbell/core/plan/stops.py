"""What forbids a test until it is answered: a stable code, and a sentence that says what to do."""

import datetime

from toadbell.core import units
from toadbell.core.answers import Stop
from toadbell.core.bench.compliance import water_density
from toadbell.core.plan import energy, kit
from toadbell.core.plan.bases import BASES
from toadbell.core.plan.working import ROOM, TOLERANCE, Working
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel import shape
from toadbell.core.vessel.kinds import KINDS

COLDEST = 280.15
"""No test with water below 7 °C."""
ABOVE_MINIMUM = 17.0
"""The metal is kept this much above its minimum design temperature, K (ASME BPVC VIII-1, UG-99(h))."""


def stops(sheet: VesselSheet, w: Working) -> list[Stop]:
    """Every stop of a plan."""
    return [
        *_pressure_stops(sheet, w),
        *_weak_fittings(sheet, w),
        *_stage_stops(sheet, w),
        *kit.gauge_stops(sheet, w.target, w.pressure_unit),
        *_temperature_stops(sheet),
        *_air_stops(sheet, w),
        *_retirement_stops(sheet),
    ]


def static_head(sheet: VesselSheet) -> float:
    """What the lowest point of the vessel sees above the highest, Pa."""
    if sheet.medium == "air":
        return 0.0
    return water_density(sheet.water_temperature or ROOM) * units.GRAVITY * (shape.height(sheet) or 0.0)


def _provable(sheet: VesselSheet, w: Working) -> float | None:
    """The highest wanted pressure whose test, with the water's own weight at the bottom, stays under the ceiling, Pa; rounded down."""
    if not w.top.known or w.top.pressure is None or not w.factor or sheet.base != "wanted":
        return None
    return w.at_most(max(0.0, (w.top.pressure - static_head(sheet)) / w.factor)) or None


def highest_to_ask(sheet: VesselSheet, w: Working) -> float | None:
    """The highest wanted pressure that this basis can prove here and that plate and walls allow, Pa; rounded down to what a person types.

    None where the ceiling is not known, or another pressure than the wanted one is being proved.
    """
    limits = [_provable(sheet, w), sheet.plate_pressure, w.may_work.pressure]
    if limits[0] is None:
        return None
    return w.at_most(min(limit for limit in limits if limit is not None)) or None


def _lower(sheet: VesselSheet, w: Working) -> str:
    """What may be asked for instead, as a sentence."""
    provable, offer = _provable(sheet, w), highest_to_ask(sheet, w)
    if provable is None or offer is None:
        return "Prove a lower pressure."
    less = "" if offer == provable else f", and plate and walls allow {w.show(offer, 3)}"
    return f"The highest wanted pressure that can be proven is {w.show(provable, 3)}{less}."


def _pressure_stops(sheet: VesselSheet, w: Working) -> list[Stop]:
    found = []
    bottom = w.pressure + static_head(sheet)
    if w.top.pressure is not None and bottom > w.top.pressure:
        found.append(
            Stop(
                code="above-ceiling",
                says=f"The test would reach {w.show(bottom)}, above the ceiling of {w.show(w.top.pressure)} set by {w.top.set_by}. {_lower(sheet, w)}",
            )
        )
    reached = w.pressure if w.basis == "relief" else w.base
    if sheet.plate_pressure is not None and reached > sheet.plate_pressure:
        plate = w.show(sheet.plate_pressure)
        says = f"{w.show(w.base)} is wanted, but the plate says {plate}. Ask for no more than the plate."
        if w.base <= sheet.plate_pressure or sheet.base == "relief":
            says = f"The relief valve lifts at {w.show(reached)}, but the plate says {plate}. Set it at or under the plate."
        found.append(Stop(code="above-plate", says=says))
    if w.above_allowable and sheet.shell and sheet.shell.measured:
        found.append(Stop(code="above-allowable", says=w.allowable_sentence()))
    return found


def _weak_fittings(sheet: VesselSheet, w: Working) -> list[Stop]:
    least = w.target * TOLERANCE
    return [
        Stop(
            code="fitting-too-weak",
            says=f"{f.name} is rated {w.show(f.rating)}; it must bear {w.show(least)}. Take it off and blank the opening, or fit a stronger one.",
        )
        for f in sheet.fittings
        if f.stays_on and f.rating is not None and f.rating < least
    ]


def _stage_stops(sheet: VesselSheet, w: Working) -> list[Stop]:
    if not sheet.stages or sheet.stages[-1].target <= w.target * TOLERANCE:
        return []
    last = w.show(sheet.stages[-1].target)
    return [Stop(code="stage-above-test", says=f"The last stage, {last}, is above the test band. End the stages at the test pressure.")]


def _temperature_stops(sheet: VesselSheet) -> list[Stop]:
    if sheet.medium == "air" or sheet.water_temperature is None:
        return []
    least = max(COLDEST, sheet.minimum_temperature + ABOVE_MINIMUM if sheet.minimum_temperature else COLDEST)
    if sheet.water_temperature >= least:
        return []
    at, wanted = units.write(sheet.water_temperature, "temperature"), units.write(least, "temperature")
    return [Stop(code="too-cold", says=f"The water is at {at}. Warm it to {wanted} or more: cold metal is brittle.")]


def _air_stops(sheet: VesselSheet, w: Working) -> list[Stop]:
    if sheet.medium != "air":
        return []
    found = []
    if BASES[w.basis].medium == "water":
        found.append(
            Stop(
                code="strength-under-air",
                says=f"{BASES[w.basis].name} proves strength, and that is done with water. Fill it with water, or take a tightness trial.",
            )
        )
    if w.volume is None:
        return found
    stored, cap = energy.air_energy(w.volume, w.pressure), KINDS[sheet.kind].air_energy_cap
    missing = _missing_under_air(sheet, w, energy.stand_off(energy.tnt_equivalent(stored)))
    if stored > cap and missing:
        risked = f"Air would store {stored / 1000:.3g} kJ, over the {cap / 1000:g} kJ that may be risked. Use water."
        found.append(Stop(code="air-energy", says=f"{risked} {missing}"))
    return found


def _missing_under_air(sheet: VesselSheet, w: Working, away: float) -> str:
    """What a test under air still lacks before its energy may be risked, as a sentence; `away`: the stand-off, m."""
    if w.basis != "air-110":
        return "Where water cannot be used, only the basis air-110 may go further."
    lacking = [] if sheet.reason else ["the reason why water cannot be used"]
    lacking += [] if sheet.shield else ["a shield"]
    far = sheet.stand_off is not None and sheet.stand_off >= away
    lacking += [] if far else [f"everybody {w.distance(away)} away or more"]
    return f"Where water cannot be used, air-110 needs {', '.join(lacking)}." if lacking else ""


def _retirement_stops(sheet: VesselSheet) -> list[Stop]:
    year = (sheet.date or datetime.date.today()).year
    if sheet.retire is None or year <= sheet.retire:
        return []
    return [
        Stop(
            code="past-retirement",
            says=f"It was to be taken out of service by {sheet.retire}. Scrap it: drill a hole so that nobody fills it again.",
        )
    ]

"""What forbids a test until it is answered: a stable code, and a sentence that says what to do."""

import datetime

from toadbell.core import units
from toadbell.core.answers import Stop
from toadbell.core.kinds import KINDS
from toadbell.core.physics import air
from toadbell.core.physics.materials import PLASTICS
from toadbell.core.physics.water import ROOM, water_density
from toadbell.core.plan import energy, kit
from toadbell.core.plan.acceptance import acceptance_stops
from toadbell.core.plan.bases import BASES
from toadbell.core.plan.context import LOW_HEAD, TOLERANCE, PlanContext
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel import shape

HOTTEST = 321.15
"""No test above 48 °C (ASME BPVC VIII-1, UG-99(h))."""
LEAST_FACTOR = 1.1
"""Under this factor no school counts a test as a proof of strength, not even under air (ASME BPVC VIII-1, UG-100)."""
PLASTIC_UNDER_AIR = 10_000.0
"""Up to here air in a plastic vessel is a low head, Pa: its seals are tried, and it stores next to nothing."""
FLAT_SIDES = 20_000.0
"""Flat sides of which no wall is known are not pressed further than this, Pa."""
COLDEST = 280.15
"""No test with water below 7 °C."""
ABOVE_MINIMUM = 17.0
"""The metal is kept this much above its minimum design temperature, K (ASME BPVC VIII-1, UG-99(h))."""


def stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    """Every stop of a plan."""
    return [
        *_pressure_stops(sheet, w),
        *_weak_fittings(sheet, w),
        *_stage_stops(sheet, w),
        *kit.gauge_stops(sheet, w.target, w.pressure_unit),
        *_temperature_stops(sheet),
        *_factor_stops(sheet, w),
        *_flat_side_stops(sheet, w),
        *_air_stops(sheet, w),
        *_retirement_stops(sheet),
        *acceptance_stops(sheet, w),
    ]


def static_head(sheet: VesselSheet) -> float:
    """What the lowest point of the vessel sees above the highest, Pa."""
    if sheet.medium == "air":
        return 0.0
    return water_density(sheet.water_temperature or ROOM) * units.GRAVITY * (shape.height(sheet) or 0.0)


def _provable(sheet: VesselSheet, w: PlanContext) -> float | None:
    """The highest wanted pressure whose test, with the water's own weight at the bottom, stays under the ceiling, Pa; rounded down."""
    if not w.top.known or w.top.pressure is None or not w.factor or sheet.base != "wanted":
        return None
    return w.at_most(max(0.0, (w.top.pressure - static_head(sheet)) / w.factor)) or None


def highest_to_ask(sheet: VesselSheet, w: PlanContext) -> float | None:
    """The highest wanted pressure that this basis can prove here and that plate and walls allow, Pa; rounded down to what a person types.

    None where the ceiling is not known, or another pressure than the wanted one is being proved.
    """
    limits = [_provable(sheet, w), sheet.plate_pressure, w.may_work.pressure]
    if limits[0] is None:
        return None
    return w.at_most(min(limit for limit in limits if limit is not None)) or None


def _lower(sheet: VesselSheet, w: PlanContext) -> str:
    """What may be asked for instead, as a sentence."""
    provable, offer = _provable(sheet, w), highest_to_ask(sheet, w)
    if provable is None or offer is None:
        return "Prove a lower pressure, or use water." if sheet.medium == "air" else "Prove a lower pressure."
    less = "" if offer == provable else f", and plate and walls allow {w.show(offer, 3)}"
    return f"The highest wanted pressure that can be proven is {w.show(provable, 3)}{less}. Ask for no more."


def _pressure_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    found = []
    bottom = w.pressure + static_head(sheet)
    if w.top.pressure is not None and bottom > w.top.pressure:
        found.append(
            Stop(
                code="above-ceiling",
                says=f"The test would reach {w.show(bottom)}, above the ceiling of {w.show(w.top.pressure)} set by {w.top.set_by}. {_lower(sheet, w)}",
            )
        )
    found += _plate_stops(sheet, w)
    if w.above_allowable and ((sheet.shell and sheet.shell.measured) or sheet.box):
        found.append(Stop(code="above-allowable", says=w.allowable_sentence()))
    return found


def _plate_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    """The plate is the most that is wanted, whatever is taken as the base; and the most at which the relief valve may lift."""
    if sheet.plate_pressure is None:
        return []
    plate, wanted = w.show(sheet.plate_pressure), sheet.working_pressure
    if wanted > sheet.plate_pressure:
        return [Stop(code="above-plate", says=f"{w.show(wanted)} is wanted, but the plate says {plate}. Ask for no more than the plate.")]
    if w.served > sheet.plate_pressure:
        says = f"The relief valve lifts at {w.show(w.served)}, but the plate says {plate}. Set it at or under the plate."
        return [Stop(code="above-plate", says=says)]
    return []


def _factor_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    """A factor of one's own too small to prove any strength."""
    if w.basis != "own" or w.factor is None or w.factor >= LEAST_FACTOR * (1 - 1e-9):
        return []
    says = f"{w.factor:g} × the wanted pressure proves no strength. Take 1.25 at the least, or plan a tightness trial."
    return [Stop(code="factor-too-low", says=says)]


def _flat_side_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    """Flat sides bend long before a round shell would feel anything."""
    if sheet.box is None or sheet.box.diameter is not None or w.top.known or w.pressure <= FLAT_SIDES:
        return []
    says = (
        f"Flat sides fold at a little pressure, and how thick they are and of what is not known. Stay under {w.show(FLAT_SIDES, 2)}, "
        "or give their wall and material."
    )
    return [Stop(code="flat-sides", says=says)]


def _weak_fittings(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    least = w.target * TOLERANCE
    return [
        Stop(
            code="fitting-too-weak",
            says=f"{f.name} is rated {w.show(f.rating)}; it must bear {w.show(least)}. Take it off and blank the opening, or fit a stronger one.",
        )
        for f in sheet.fittings
        if f.stays_on and f.rating is not None and f.rating < least
    ]


def _stage_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    if not sheet.stages or sheet.stages[-1].target <= w.band_top * (1 + 1e-9):
        return []
    last = w.show(sheet.stages[-1].target)
    return [Stop(code="stage-above-test", says=f"The last stage, {last}, is above the test band. End the stages at the test pressure.")]


def _temperature_stops(sheet: VesselSheet) -> list[Stop]:
    at = sheet.water_temperature
    if at is None:
        return []
    what, shown = ("water" if sheet.medium == "water" else "air"), units.write(at, "temperature")
    margin = sheet.minimum_temperature + ABOVE_MINIMUM if sheet.minimum_temperature else None
    least = max((t for t in (COLDEST if sheet.medium == "water" else None, margin) if t is not None), default=None)
    if least is not None and at < least:
        wanted = units.write(least, "temperature")
        brittle = (
            "cold metal is brittle"
            if margin == least or "carbon-steel" in sheet.materials
            else "near freezing, and ice splits what it fills"
        )
        return [Stop(code="too-cold", says=f"The {what} is at {shown}. Warm it, and the vessel, to {wanted} or more: {brittle}.")]
    if sheet.medium == "water" and at > HOTTEST:
        return [Stop(code="too-hot", says=f"The water is at {shown}. Let it cool to 48 °C or less: it scalds, and the wall is weaker.")]
    return []


def _air_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
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
    return [*found, *_plastic_stops(sheet, w), *_energy_stops(sheet, w)]


def _plastic_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    """Plastic bursts into pieces under air. Its maker's own rating, in a tightness trial, is the one exception, and pipework has none."""
    plastics = [material for material in sheet.materials if material in PLASTICS]
    unknown = sheet.shell is not None and sheet.shell.material == "other"
    if not (plastics or unknown) or w.pressure <= PLASTIC_UNDER_AIR or plastic_let_pass(sheet, w):
        return []
    if not plastics:
        return [
            Stop(
                code="plastic-under-air",
                says="What it is made of is not known, and plastic shatters under air. Say what it is, or use water.",
            )
        ]
    says = "Plastic shatters under air, and its pieces fly. Use water"
    if sheet.kind == "pipework":
        return [Stop(code="plastic-under-air", says=f"{says}: no plastic pipe under compressed air.")]
    return [Stop(code="plastic-under-air", says=f"{says}, or state the maker's own limit for air and stay under it in a tightness trial.")]


def plastic_let_pass(sheet: VesselSheet, w: PlanContext) -> bool:
    """Does the maker's own limit let a plastic vessel be tried with air for tightness?"""
    rated = sheet.maker_test_limit is not None and w.pressure <= sheet.maker_test_limit
    return rated and not BASES[w.basis].strength and sheet.kind != "pipework"


def _energy_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    """What the air would store; at low heads, what the atmosphere leaves of it."""
    cap = KINDS[sheet.kind].air_energy_cap
    if w.volume is None:
        says = "How much it holds is not known, so nobody knows what the air in it would store. Give its sizes or its volume, or use water."
        return [Stop(code="air-energy", says=says)]
    low = w.pressure < LOW_HEAD
    stored = air.available_work(w.volume, w.pressure) if low else air.air_energy(w.volume, w.pressure)
    missing = _missing_under_air(sheet, w, energy.stand_off_under_air(stored))
    if stored <= cap or not missing:
        return []
    risked = f"Air would store {stored / 1000:.3g} kJ, over the {cap / 1000:g} kJ that may be risked. Use water."
    return [Stop(code="air-energy", says=f"{risked} {missing}")]


def _missing_under_air(sheet: VesselSheet, w: PlanContext, away: float) -> str:
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

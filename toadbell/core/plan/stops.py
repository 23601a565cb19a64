"""What forbids a test until it is answered: a stable code, and a sentence that says what to do."""

import datetime

from toadbell.core import units
from toadbell.core.answers import Stop
from toadbell.core.kinds import KINDS
from toadbell.core.phrases import Said, say
from toadbell.core.physics.materials import PLASTICS
from toadbell.core.physics.water import ROOM, water_density
from toadbell.core.plan import energy, kit
from toadbell.core.plan.acceptance import acceptance_stops
from toadbell.core.plan.bases import BASES
from toadbell.core.plan.context import TOLERANCE, PlanContext, stop
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel import shape
from toadbell.core.vessel.parts import sides_bear, working_temperature

HOTTEST = 321.15
"""No test above 48 °C (ASME BPVC VIII-1, UG-99(h))."""
SMALL_POT = 1e-3
"""A relief valve is tried with air on a pot of so much, m³."""
LEAST_FACTOR = 1.1
"""Under this factor no school counts a test as a proof of strength, not even under air (ASME BPVC VIII-1, UG-100)."""
PLASTIC_UNDER_AIR = 10_000.0
"""Up to here air in a plastic vessel is a low head, Pa: its seals are tried, and it stores next to nothing."""
COLDEST = 280.15
"""No test with water below 7 °C."""
ABOVE_MINIMUM = 17.0
"""The metal is kept this much above its minimum design temperature, K (ASME BPVC VIII-1, UG-99(h))."""


def stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    """Every stop of a plan; a boiler that is steamed is neither cold nor shut in."""
    if BASES[w.basis].by == "steam":
        at_set = [*_pressure_stops(sheet, w), *_weak_fittings(sheet, w), *kit.gauge_stops(sheet, w.target)]
        return [*at_set, *_retirement_stops(sheet)]
    if BASES[w.basis].by == "burst":  # it is to fail: nothing of its own walls forbids it
        return [
            *_weak_fittings(sheet, w),
            *kit.gauge_stops(sheet, w.target),
            *_temperature_stops(sheet),
            *_air_stops(sheet, w),
        ]
    return [
        *_pressure_stops(sheet, w),
        *_weak_fittings(sheet, w),
        *_stage_stops(sheet, w),
        *kit.gauge_stops(sheet, w.target),
        *kit.relief_stops(sheet, w),
        *_temperature_stops(sheet),
        *_factor_stops(sheet, w),
        *_flat_side_stops(sheet, w),
        *_air_stops(sheet, w),
        *_retirement_stops(sheet),
        *acceptance_stops(sheet, w),
        *_baseline_stops(sheet, w),
    ]


def _baseline_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    """A baseline of a rig that nobody knows to be tight would hide the leaks of all that is held against it."""
    known = BASES[w.basis].by != "baseline" or (sheet.known_tight or "").strip()
    return [] if known else [stop("baseline-unknown")]


def static_head(sheet: VesselSheet) -> float:
    """What the lowest point of the vessel sees above the highest, Pa."""
    if sheet.medium == "air":
        return 0.0
    return water_density(sheet.water_temperature or ROOM) * units.GRAVITY * (shape.height(sheet) or 0.0)


def _lower(sheet: VesselSheet, w: PlanContext) -> Said:
    """What may be asked for instead, as a sentence."""
    provable, offer = w.provable, w.offer
    if provable is None or offer is None:
        return say("plan.lower-or-water" if sheet.medium == "air" else "plan.lower")
    if offer == provable:
        return say("plan.lower-provable", provable=provable)
    return say("plan.lower-offer", provable=provable, offer=offer)


def _pressure_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    found = []
    bottom = w.pressure + static_head(sheet)
    if w.top.pressure is not None and bottom > w.top.pressure:
        found.append(
            stop("above-ceiling", bottom=bottom, ceiling=w.top.pressure, set_by=w.top.set_by, instead=_lower(sheet, w))
        )
    found += _plate_stops(sheet, w)
    if w.above_allowable and ((sheet.shell and sheet.shell.measured) or sheet.box):
        found.append(Stop(code="above-allowable", says=w.allowable_sentence()))
    return found


def _plate_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    """The plate is the most that is wanted, whatever is taken as the base; and the most at which the relief valve may
    lift.
    """
    plate, wanted = sheet.plate_pressure, sheet.working_pressure
    if plate is None:
        return []
    if wanted > plate:
        return [stop("above-plate", wanted=wanted, plate=plate, most=w.most_to_ask)]
    return [stop("above-plate", "relief", lifts=w.served, plate=plate)] if w.served > plate else []


def _factor_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    """A factor of one's own too small to prove any strength."""
    if BASES[w.basis].by != "own" or w.factor is None or w.factor >= LEAST_FACTOR * (1 - 1e-9):
        return []
    return [stop("factor-too-low", factor=w.factor)]


def _flat_side_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    """Flat sides bend long before a round shell would feel anything: of which no wall is known, as thin sheet would."""
    if sheet.box is None or w.top.known:
        return []
    most = sides_bear(sheet.box, sheet.medium, working_temperature(sheet))
    return [] if most is None or w.pressure <= most else [stop("flat-sides", most=most)]


def _weak_fittings(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    least = w.target * TOLERANCE
    return [
        stop("fitting-too-weak", name=f.name, rating=f.rating, least=least)
        for f in sheet.fittings
        if f.stays_on and f.rating is not None and f.rating < least
    ]


def _stage_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    if not sheet.stages or sheet.stages[-1].target <= w.band_top * (1 + 1e-9):
        return []
    return [stop("stage-above-test", last=sheet.stages[-1].target)]


def _temperature_stops(sheet: VesselSheet) -> list[Stop]:
    at = sheet.water_temperature
    if at is None:
        return []
    margin = sheet.minimum_temperature + ABOVE_MINIMUM if sheet.minimum_temperature else None
    least = max((t for t in (COLDEST if sheet.medium == "water" else None, margin) if t is not None), default=None)
    if least is not None and at < least:
        brittle = margin == least or "carbon-steel" in sheet.materials
        why = say("stop.too-cold-brittle" if brittle else "stop.too-cold-ice")
        return [stop("too-cold", medium=sheet.medium, at=at, least=least, why=why)]
    return [stop("too-hot", at=at, most=HOTTEST)] if sheet.medium == "water" and at > HOTTEST else []


def _air_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    if sheet.medium != "air":
        return []
    wet = BASES[w.basis].medium == "water"
    found = [stop("strength-under-air", basis=BASES[w.basis].name)] if wet else []
    return [*found, *_plastic_stops(sheet, w), *_energy_stops(sheet, w)]


def _plastic_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    """Plastic bursts into pieces under air.

    Its maker's own rating, in a tightness trial, is the one exception, and pipework has none.
    """
    plastics = [material for material in sheet.materials if material in PLASTICS]
    unknown = sheet.shell is not None and sheet.shell.material == "other"
    if not (plastics or unknown) or w.pressure <= PLASTIC_UNDER_AIR or plastic_let_pass(sheet, w):
        return []
    return [stop("plastic-under-air", "unknown" if not plastics else "pipe" if sheet.kind == "pipework" else "")]


def plastic_let_pass(sheet: VesselSheet, w: PlanContext) -> bool:
    """Does the maker's own limit let a plastic vessel be tried with air for tightness?"""
    rated = sheet.maker_test_limit is not None and w.pressure <= sheet.maker_test_limit
    return rated and not BASES[w.basis].strength and sheet.kind != "pipework"


def _energy_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    """What the air would store; at low heads, what the atmosphere leaves of it."""
    cap = KINDS[sheet.kind].air_energy_cap
    if w.volume is None:
        return [stop("air-energy", "unknown")]
    stored = energy.stored_under_air(w.volume, w.pressure)
    if BASES[w.basis].by == "relief" and stored > cap:
        pot = energy.stored_under_air(SMALL_POT, w.pressure)
        return [stop("air-energy", "pot", stored=stored, most=cap, volume=SMALL_POT, pot=pot)]
    missing = _missing_under_air(sheet, w, energy.stand_off_under_air(stored))
    return [] if stored <= cap or missing is None else [stop("air-energy", stored=stored, most=cap, missing=missing)]


def _missing_under_air(sheet: VesselSheet, w: PlanContext, away: float) -> Said | None:
    """What a test under air still lacks before its energy may be risked, None where nothing; `away`: the stand-off,
    m.
    """
    if not BASES[w.basis].under_air:
        return say("stop.air-energy-basis")
    lacking = [] if sheet.reason else [say("stop.lacking-reason")]
    lacking += [] if sheet.shield else [say("stop.lacking-shield")]
    far = sheet.stand_off is not None and sheet.stand_off >= away
    lacking += [] if far else [say("stop.lacking-distance", away=away)]
    return say("stop.air-energy-lacking", lacking=lacking) if lacking else None


def _retirement_stops(sheet: VesselSheet) -> list[Stop]:
    year = (sheet.date or datetime.date.today()).year
    return [] if sheet.retire is None or year <= sheet.retire else [stop("past-retirement", year=sheet.retire)]

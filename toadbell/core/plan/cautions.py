"""What stops a test and what to be careful of: a stable code, and a sentence that says what to do."""

import datetime
import math

from toadbell.core import units
from toadbell.core.answers import Says
from toadbell.core.bench.compliance import water_density
from toadbell.core.plan import energy, kit
from toadbell.core.plan.working import Working
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel import shape
from toadbell.core.vessel.kinds import KINDS
from toadbell.core.vessel.materials import MATERIALS
from toadbell.core.vessel.strength import hoop_growth

TOLERANCE = 1.05
"""The target may be passed by 5 % and never be missed."""
ROOM = 293.15
COLDEST = 280.15
"""No test with water below 7 °C."""
ABOVE_MINIMUM = 17.0
"""The metal is kept this much above its minimum design temperature, K (ASME BPVC VIII-1, UG-99(h))."""
AIR_LIMIT = 0.001
"""Air left in that calls for venting again, as a part of the volume."""


def _lowest_point(sheet: VesselSheet, pressure: float) -> float:
    """Pressure at the lowest point when the highest sees `pressure`, Pa."""
    if sheet.medium == "air":
        return pressure
    density = water_density(sheet.water_temperature or ROOM)
    return pressure + density * units.GRAVITY * (shape.height(sheet) or 0.0)


def stops(sheet: VesselSheet, w: Working) -> list[Says]:
    """What forbids the test until it is answered, each with what to do."""
    found = []
    bottom = _lowest_point(sheet, w.pressure)
    if w.top.pressure is not None and bottom > w.top.pressure:
        provable = w.top.pressure / w.factor if w.top.known and w.factor else None
        offer = f" The highest wanted pressure that can be proven is {w.show(provable, figures=3)}." if provable else ""
        found.append(
            Says(
                code="above-ceiling",
                says=f"The test would reach {w.show(bottom)}, above the ceiling of {w.show(w.top.pressure)} set by {w.top.set_by}.{offer}",
            )
        )
    if sheet.plate_pressure is not None and w.base > sheet.plate_pressure:
        found.append(
            Says(
                code="above-plate",
                says=f"{w.show(w.base)} is wanted, but the plate says {w.show(sheet.plate_pressure)}. Ask for no more than the plate.",
            )
        )
    if _above_allowable(w) and sheet.shell and sheet.shell.wall_measured:
        found.append(Says(code="above-allowable", says=_allowable_sentence(w)))
    found += _weak_fittings(sheet, w)
    if sheet.stages and sheet.stages[-1].target > w.target * TOLERANCE:
        last = w.show(sheet.stages[-1].target)
        found.append(
            Says(code="stage-above-test", says=f"The last stage, {last}, is above the test band. End the stages at the test pressure.")
        )
    found += kit.gauge_stops(sheet, w.target, w.pressure_unit)
    found += _temperature_stops(sheet)
    if sheet.medium == "air" and w.volume is not None:
        stored, cap = energy.air_energy(w.volume, w.pressure), KINDS[sheet.kind].air_energy_cap
        missing = _missing_under_air(sheet, w, energy.stand_off(energy.tnt_equivalent(stored)))
        if stored > cap and missing:
            risked = f"Air would store {stored / 1000:.3g} kJ, over the {cap / 1000:g} kJ that may be risked. Use water."
            found.append(Says(code="air-energy", says=f"{risked} {missing}"))
    year = (sheet.date or datetime.date.today()).year
    if sheet.retire is not None and year > sheet.retire:
        found.append(
            Says(
                code="past-retirement",
                says=f"It was to be taken out of service by {sheet.retire}. Scrap it: drill a hole so that nobody fills it again.",
            )
        )
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


def _temperature_stops(sheet: VesselSheet) -> list[Says]:
    if sheet.medium == "air" or sheet.water_temperature is None:
        return []
    least = max(COLDEST, sheet.minimum_temperature + ABOVE_MINIMUM if sheet.minimum_temperature else COLDEST)
    if sheet.water_temperature >= least:
        return []
    return [
        Says(
            code="too-cold",
            says=f"The water is at {units.write(sheet.water_temperature, 'temperature')}. Warm it to {units.write(least, 'temperature')} or more: cold metal is brittle.",
        )
    ]


def _above_allowable(w: Working) -> bool:
    return w.may_work.pressure is not None and w.sheet.working_pressure > w.may_work.pressure


def _allowable_sentence(w: Working) -> str:
    assert w.may_work.pressure is not None
    return f"{w.show(w.sheet.working_pressure)} is wanted, but {w.may_work.set_by} may work at no more than {w.show(w.may_work.pressure, figures=3)}."


def cautions(sheet: VesselSheet, w: Working, strength: bool) -> list[Says]:
    """What must be read before the test; `strength`: the basis proves strength."""
    found = []
    measured = sheet.shell is not None and (sheet.shell.wall_measured or bool(sheet.shell.wall_readings))
    if not measured:
        found.append(Says(code="wall-assumed", says="The wall is not measured. Measure it where water stands, or the ceiling is a guess."))
    if not w.top.known:
        found.append(
            Says(
                code="ceiling-unknown",
                says="The ceiling is not known: a wall, an end or a strength is missing. Ask the maker or your inspector for a limit.",
            )
        )
    elif sheet.shell and not sheet.ends and sheet.shell.form == "cylinder":
        found.append(
            Says(code="ends-unknown", says="No ends are given, so the ceiling is the shell's alone. A flat end may be far weaker.")
        )
    if sheet.shell and MATERIALS[sheet.shell.material].brittle_or_creeping:
        found.append(
            Says(code="brittle", says="This material gives no warning before it breaks. Only the maker's or a stated limit holds.")
        )
    if _above_allowable(w) and not (sheet.shell and sheet.shell.wall_measured):
        found.append(Says(code="above-allowable", says=_allowable_sentence(w)))
    if sheet.tubes:
        found.append(
            Says(
                code="outside-pressure",
                says="Tubes and flues are pressed from outside: a dented or thin one collapses long before it would burst. Look into each.",
            )
        )
    if sheet.relief_set is not None and sheet.relief_set > sheet.working_pressure:
        found.append(
            Says(
                code="relief-above-wanted",
                says=f"The relief valve lifts at {w.show(sheet.relief_set)}, so the vessel can see that. Set it lower, or prove that pressure.",
            )
        )
    if not strength:
        found.append(Says(code="no-strength-proof", says="This trial shows leaks. It proves no strength."))
    found += kit.gauge_cautions(sheet, w.target, w.pressure_unit)
    found += kit.wrench_cautions(sheet)
    found += _design_cautions(sheet, w)
    found += kit.pump_cautions(sheet, w.top.pressure, w.pressure_unit)
    if sheet.trapped_air and w.volume and sheet.trapped_air > AIR_LIMIT * w.volume * (1 + 1e-9):
        found.append(
            Says(
                code="trapped-air",
                says=f"Air left in is {sheet.trapped_air / w.volume:.1%} of the volume. Vent again at the highest point.",
            )
        )
    found += _water_cautions(sheet, w)
    return found


def _design_cautions(sheet: VesselSheet, w: Working) -> list[Says]:
    """What a departure from a proven design, stages of one's own, and brass or unseen limits ask for."""
    found = []
    change = hoop_growth(sheet)
    if change is not None and sheet.proven is not None and sheet.shell is not None:
        same = (sheet.shell.inside_diameter, sheet.shell.thinnest) == (sheet.proven.inside_diameter, sheet.proven.wall)
        if not same or change > 0:
            found.append(
                Says(
                    code="requalify",
                    says=f"It departs from the design that was proven: the hoop stress changes by {change:+.0%}. Prove it anew.",
                )
            )
    wanted = sheet.working_pressure + w.head
    if sheet.stages and not any(abs(stage.target - wanted) <= 0.05 * w.target for stage in sheet.stages):
        found.append(Says(code="no-pause-at-wanted", says=f"None of the stages pauses at the wanted {w.show(wanted)}. Put one there."))
    if sheet.stages and sheet.stages[0].target > 0.25 * w.target * (1 + 1e-9):
        found.append(
            Says(
                code="no-early-look", says="The first stage is above a quarter of the test. Look for the rig's own leaks lower down first."
            )
        )
    if sheet.shell and sheet.shell.material == "brass" and sheet.kind == "boiler":
        found.append(Says(code="dezincification", says="Brass loses its zinc in a boiler and goes to sponge. Bronze or copper instead."))
    return found


HOTTEST = 321.15
"""No test above 48 °C (ASME BPVC VIII-1, UG-99(h))."""
WARM_STEEL = 288.15
"""Carbon steel of unknown toughness is tested with water of 15 °C or more."""


def _temperature_cautions(sheet: VesselSheet) -> list[Says]:
    if sheet.water_temperature is None:
        return [
            Says(code="temperature-unknown", says="How warm the water is was not said; it is reckoned at 20 °C. Measure it on the day.")
        ]
    found, at = [], units.write(sheet.water_temperature, "temperature")
    if sheet.water_temperature > HOTTEST:
        found.append(
            Says(code="too-hot", says=f"The water is at {at}. Let it come down to 48 °C or less: it scalds, and the wall is weaker.")
        )
    steel = sheet.shell is not None and sheet.shell.material == "carbon-steel" and sheet.minimum_temperature is None
    if steel and sheet.water_temperature < WARM_STEEL:
        found.append(
            Says(code="cool-steel", says=f"Steel of unknown grade and water at {at}: warm it to 15 °C or more, cold steel is brittle.")
        )
    return found


def _water_cautions(sheet: VesselSheet, w: Working) -> list[Says]:
    if sheet.medium == "air" or w.content is None:
        return []
    found = []
    rise = w.content.pressure_per_kelvin(w.pressure)
    if math.isfinite(rise) and rise > 0.02 * w.pressure:
        per = w.show(rise, figures=2)
        found.append(
            Says(code="blocked-in-heating", says=f"Shut in and warming, it gains {per} per °C. Keep it out of the sun, and watched.")
        )
    found += _temperature_cautions(sheet)
    if sheet.acceptance is not None:
        found += kit.thermometer_cautions(sheet, rise, w.pressure_unit)
    if sheet.shell and sheet.shell.material.startswith("stainless"):
        found.append(Says(code="chloride", says="Stainless: fill with water of 50 ppm chloride or less, and drain it after."))
    return found


def _weak_fittings(sheet: VesselSheet, w: Working) -> list[Says]:
    least = w.target * TOLERANCE
    weak = [f for f in sheet.fittings if f.stays_on and f.rating is not None and f.rating < least]
    return [
        Says(
            code="fitting-too-weak",
            says=f"{f.name} is rated {w.show(f.rating)}; it must bear {w.show(least)}. Take it off and blank the opening, or fit a stronger one.",
        )
        for f in weak
        if f.rating is not None
    ]

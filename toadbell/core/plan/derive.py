"""From a vessel sheet to everything a plan needs."""

import datetime
import math

from toadbell.core import units
from toadbell.core.answers import DeriveAnswer, EndForce, Energies, HoldAnswer, Limit, PartLimit, Pumping, Says
from toadbell.core.bench.compliance import Content, content_of, water_density
from toadbell.core.plan import bases, energy, kit, stages
from toadbell.core.plan.ceiling import allowable, ceiling
from toadbell.core.plan.working import Working, lines_of
from toadbell.core.sheets import SheetError, VesselSheet
from toadbell.core.vessel import shape
from toadbell.core.vessel.kinds import KINDS
from toadbell.core.vessel.materials import MATERIALS
from toadbell.core.vessel.strength import end_force, part_limits

TOLERANCE = 1.05
"""The target may be passed by 5 % and never be missed."""
ROOM = 293.15
COLDEST = 280.15
"""No test with water below 7 °C."""
ABOVE_MINIMUM = 17.0
"""The metal is kept this much above its minimum design temperature, K (ASME BPVC VIII-1, UG-99(h))."""
AIR_LIMIT = 0.001
"""Air left in that calls for venting again, as a part of the volume."""


def derive(sheet: VesselSheet, pressure_unit: str = "bar", length_unit: str = "mm") -> DeriveAnswer:
    """Test pressure, limits, energy, stages, hold, stops, cautions and the lines of working.

    pressure_unit, length_unit  in which the sentences and the working speak

    Raises SheetError where the sheet contradicts itself.
    """
    basis = bases.chosen_basis(sheet)
    pressure = bases.test_pressure(basis, sheet)
    if pressure is None:
        why = next(b.why for b in bases.side_by_side(sheet) if b.id == basis)
        raise SheetError(f"“{basis}” cannot be worked out. {why}", "basis")
    rule, base = bases.BASES[basis], bases.base_pressure(sheet)
    temperature = sheet.water_temperature or ROOM
    head = _gauge_head(sheet, temperature)
    target = pressure + head
    parts = part_limits(sheet)
    top, may_work = ceiling(sheet, parts), allowable(parts)
    volume = shape.volume(sheet)
    content = None if volume is None else content_of(volume, sheet.shell, sheet.trapped_air, temperature)
    stroke = sheet.pump.stroke if sheet.pump else None
    approach = pressure * 0.25
    steps = stages.stage_targets(rule.raising, target, sheet.working_pressure + head, KINDS[sheet.kind].look_fraction)
    plan = stages.plan_stages(steps, content, stroke, stages.DEFAULT_PAUSE if sheet.pause is None else sheet.pause, approach + head)
    hold = _hold(sheet, rule, pressure, head)
    factor = pressure / base if rule.factor is not None or basis == "own" else None
    look_up = Working(sheet, basis, base, pressure, head, target, top, may_work, volume, content, factor, pressure_unit, length_unit)
    stops = _stops(sheet, look_up, rule.strength)
    return DeriveAnswer(
        kind=sheet.kind,
        basis=basis,
        factor=factor,
        base_pressure=base,
        working_pressure=sheet.working_pressure,
        plate_pressure=sheet.plate_pressure,
        relief_set=sheet.relief_set,
        gauge_range=sheet.gauge.range if sheet.gauge else None,
        test_pressure=pressure,
        gauge_target=target,
        target_band=(target, target * TOLERANCE),
        bases=bases.side_by_side(sheet),
        ceiling=top,
        allowable=may_work,
        parts=parts,
        highest_provable=_highest_provable(top, factor),
        volume=volume,
        height=shape.height(sheet),
        filled_mass_of_water=None if volume is None else volume * water_density(temperature),
        compliance=None if content is None or sheet.medium == "air" else content.compliance(pressure),
        pressure_per_kelvin=None if content is None or sheet.medium == "air" else content.pressure_per_kelvin(pressure),
        energy=_energies(sheet, volume, content, pressure),
        end_forces=[EndForce(name=f.name, force=end_force(pressure, f.sealed_diameter)) for f in sheet.fittings if f.sealed_diameter],
        pump=_pumping(content, pressure, stroke),
        approach_pressure=approach,
        stages=plan,
        profile=stages.course(plan, hold.minimum, hold.look_pressure),
        hold=hold,
        stops=stops,
        cautions=_cautions(sheet, look_up, parts, rule.strength),
        lines=lines_of(look_up),
    )


def _gauge_head(sheet: VesselSheet, temperature: float) -> float:
    """What the gauge must read above the pressure at the highest point, Pa: ρ g (z_top − z_gauge)."""
    if sheet.gauge is None or sheet.medium == "air":
        return 0.0
    return -water_density(temperature) * units.GRAVITY * sheet.gauge.height_above_top


def _hold(sheet: VesselSheet, rule: bases.Basis, pressure: float, head: float) -> HoldAnswer:
    minimum = sheet.hold.minimum if sheet.hold else rule.hold
    every = (sheet.hold.every if sheet.hold else None) or max(10.0, min(300.0, minimum / 15))
    look = pressure / rule.look_divisor if rule.look_divisor else min(sheet.working_pressure, pressure)
    return HoldAnswer(minimum=minimum, every=every, look_pressure=look + head)


def _highest_provable(top: Limit, factor: float | None) -> float | None:
    return top.pressure / factor if top.known and top.pressure is not None and factor else None


def _energies(sheet: VesselSheet, volume: float | None, content: Content | None, pressure: float) -> Energies:
    if volume is None or content is None:
        return Energies(water=None, air_at_working=None, air_at_test=None, tnt_kg=None, stand_off=None)
    at_test = energy.air_energy(volume, pressure)
    tnt = energy.tnt_equivalent(at_test)
    return Energies(
        water=energy.water_energy(content.stiff_part(pressure), content.trapped_air, pressure),
        air_at_working=energy.air_energy(volume, sheet.working_pressure),
        air_at_test=at_test,
        tnt_kg=tnt,
        stand_off=energy.stand_off(tnt),
    )


def _pumping(content: Content | None, pressure: float, stroke: float | None) -> Pumping:
    if content is None:
        return Pumping(volume=None, strokes=None)
    pumped = content.pumped(pressure)
    return Pumping(volume=pumped, strokes=pumped / stroke if stroke else None)


def _lowest_point(sheet: VesselSheet, pressure: float) -> float:
    """Pressure at the lowest point when the highest sees `pressure`, Pa."""
    if sheet.medium == "air":
        return pressure
    density = water_density(sheet.water_temperature or ROOM)
    return pressure + density * units.GRAVITY * (shape.height(sheet) or 0.0)


def _stops(sheet: VesselSheet, w: Working, strength: bool) -> list[Says]:
    found = []
    bottom = _lowest_point(sheet, w.pressure)
    if w.top.pressure is not None and bottom > w.top.pressure:
        provable = _highest_provable(w.top, w.factor)
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
    for fitting in sheet.fittings:
        if fitting.stays_on and fitting.rating is not None and fitting.rating < w.target * TOLERANCE:
            found.append(
                Says(
                    code="fitting-too-weak",
                    says=f"{fitting.name} is rated {w.show(fitting.rating)}; it must bear {w.show(w.target * TOLERANCE)}. Take it off and blank the opening, or fit a stronger one.",
                )
            )
    found += kit.gauge_stops(sheet, w.target, w.pressure_unit)
    found += _temperature_stops(sheet)
    if sheet.medium == "air" and w.volume is not None:
        stored, cap = energy.air_energy(w.volume, w.pressure), KINDS[sheet.kind].air_energy_cap
        if stored > cap and not (w.basis == "air-110" and sheet.reason):
            found.append(
                Says(
                    code="air-energy",
                    says=f"Air would store {stored / 1000:.3g} kJ, over the {cap / 1000:g} kJ that may be risked. Use water.",
                )
            )
    year = (sheet.date or datetime.date.today()).year
    if sheet.retire is not None and year > sheet.retire:
        found.append(
            Says(
                code="past-retirement",
                says=f"It was to be taken out of service by {sheet.retire}. Scrap it: drill a hole so that nobody fills it again.",
            )
        )
    return found


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


def _cautions(sheet: VesselSheet, w: Working, parts: list[PartLimit], strength: bool) -> list[Says]:
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
    if sheet.shell and sheet.shell.material.startswith("stainless"):
        found.append(Says(code="chloride", says="Stainless: fill with water of 50 ppm chloride or less, and drain it after."))
    return found

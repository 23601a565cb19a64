"""The lines of working behind the figures that follow from a test pressure: parts, forces, water, energy, hold."""

from toadbell.core import units
from toadbell.core.answers import DeriveAnswer
from toadbell.core.bench.compliance import water_density
from toadbell.core.lines import Line
from toadbell.core.plan.cautions import ROOM
from toadbell.core.plan.working import Working, numbers_of
from toadbell.core.vessel.filling import DISCHARGE


def figure_lines(w: Working, answer: DeriveAnswer) -> list[Line]:
    """A line for each of these figures that is known."""
    return [
        *_base_lines(w, answer),
        *_part_lines(w),
        *_force_lines(w, answer),
        *_energy_lines(w, answer),
        *_water_lines(w, answer),
        *_hold_lines(w, answer),
    ]


def _line(figure: str, symbol: str, formula: str, numbers: str, value: float | None, unit: str, shown: str, source: str) -> list[Line]:
    """One line, or none where the figure is not known."""
    if value is None:
        return []
    return [Line(figure=figure, symbol=symbol, formula=formula, numbers=numbers, value=value, unit=unit, shown=shown, source=source)]


def _base_lines(w: Working, a: DeriveAnswer) -> list[Line]:
    base = {"wanted": "the pressure wanted", "plate": "what the plate says", "relief": "what the relief valve is set at"}[w.sheet.base]
    approach, proved = w.show(a.approach_pressure), w.sheet.proven_before is not None and a.approach_pressure > 0.25 * w.pressure
    return [
        *_line("base_pressure", "P_b", base, w.show(w.base), w.base, "Pa", w.show(w.base), "the sheet"),
        *_line("approach_pressure", "P_near", "wanted, proved before" if proved else "0.25 × P_t",
               approach if proved else f"0.25 × {w.show(w.pressure)}", a.approach_pressure, "Pa", approach, "zones of a proof test"),
    ]  # fmt: skip


def _part_lines(w: Working) -> list[Line]:
    """A line for each part's limit at test that is known; its figure is the part's name under `parts`."""
    return [
        Line(figure=f"parts.{part.name}", symbol="P_max", formula=part.form.written, numbers=numbers_of(w, part.at_test), value=part.test_limit,
             unit="Pa", shown=w.show(part.test_limit), source=part.form.source)
        for part in w.parts if part.test_limit is not None
    ]  # fmt: skip


def _force_lines(w: Working, a: DeriveAnswer) -> list[Line]:
    sizes = {f.name: f.sealed_diameter for f in w.sheet.fittings}
    across = w.sheet.shell.inside_diameter if w.sheet.shell else 0.0
    found = []
    for f in a.end_forces:
        d = across if f.closure else sizes[f.name] or 0.0
        shown = f"{f.force:.4g} N ({f.force / units.GRAVITY:.3g} kgf)"
        numbers = f"P = {w.show(w.pressure)}, d = {w.long(d)}"
        found += _line(f"end_forces.{f.name}", "F", "P π d²/4", numbers, f.force, "N", shown, "pressure on the sealed area")
    return found


def _joule(value: float | None) -> str:
    if value is None:
        return ""
    return f"{value / 1000:.4g} kJ" if value >= 10_000 else f"{value:.3g} J"


def _energy_lines(w: Working, a: DeriveAnswer) -> list[Line]:
    e, asme = a.energy, "ASME PCC-2, Article 501"
    if e.air_at_test is None or e.tnt_kg is None or w.content is None:
        return []
    air = "P_abs V/(k − 1) · [1 − (P_atm/P_abs)^((k−1)/k)]"
    litres = units.write(a.volume or 0.0, "volume", "L")
    trapped = units.write(w.content.trapped_air, "volume", "mL")
    return [
        *_line("energy.air_at_working", "E_work", air, f"{w.absolute(a.working_pressure)}, V = {litres}, k = 1.4", e.air_at_working, "J",
               _joule(e.air_at_working), asme),
        *_line("energy.tnt_kg", "m_TNT", "E / h_TNT", f"E = {_joule(e.air_at_test)}, h_TNT = 4.27 MJ/kg", e.tnt_kg, "kg", f"{e.tnt_kg * 1000:.3g} g", asme),
        *_line("energy.trapped_air", "E_trapped", air, f"{w.absolute(w.pressure)}, V = V_a P_atm/P_abs, V_a = {trapped}, k = 1.4", e.trapped_air, "J",
               _joule(e.trapped_air), asme),
        *_line("energy.steam_at_working", "E_steam", "ρ V (u_1 − u_2) at the same entropy", f"saturated at {w.show(a.working_pressure)}, V = {litres}",
               e.steam_at_working, "J", _joule(e.steam_at_working), "IAPWS-95 through CoolProp"),
    ]  # fmt: skip


def _water_lines(w: Working, a: DeriveAnswer) -> list[Line]:
    water, sheet = a.water, w.sheet
    litres = units.write(a.volume or 0.0, "volume", "L")

    def kilos(mass: float | None) -> str:
        return "" if mass is None else units.write(mass, "mass", "kg", figures=3)

    def minutes(time: float | None) -> str:
        return "" if time is None else units.write(time, "time", "min", figures=3)

    empty = "as stated" if sheet.empty_mass else "A_inside t ρ_wall, fittings and legs not counted"
    rate = "" if sheet.fill_rate is None else f"V = {litres}, q = {units.write(sheet.fill_rate, 'leak', 'L/h')}"
    bore = "" if sheet.drain is None else f"bore {w.long(sheet.drain.bore)}, C_d = {DISCHARGE:g}"
    area = "" if water.inside_area is None else f"{water.inside_area:.3g} m²"
    return [
        *_line("height", "h", "lowest to highest point", f"{sheet.position}", a.height, "m", w.long(a.height or 0.0), "the shape"),
        *_line("water.mass", "m_w", "ρ V", f"ρ = {water_density(sheet.water_temperature or ROOM):.5g} kg/m³, V = {litres}", water.mass, "kg", kilos(water.mass), "IAPWS-95 through CoolProp"),
        *_line("water.inside_area", "A", "inside of shell and ends", area, water.inside_area, "m²", area, "solids of revolution, fluids.geometry"),
        *_line("water.empty_mass", "m_0", empty, area, water.empty_mass, "kg", kilos(water.empty_mass), "the sheet" if sheet.empty_mass else "an estimate"),
        *_line("water.full_mass", "m", "m_0 + m_w", f"{kilos(water.empty_mass)} + {kilos(water.mass)}", water.full_mass, "kg",
               kilos(water.full_mass), "floor, legs and lifting plan must bear it"),
        *_line("water.fill_time", "t_fill", "V / q", rate, water.fill_time, "s", minutes(water.fill_time), "the tap's rate"),
        *_line("water.drain_time", "t_drain", "∫ dV / (C_d a √(2 g h))", bore, water.drain_time, "s", minutes(water.drain_time), "Torricelli, vent open"),
    ]  # fmt: skip


def _growth_numbers(w: Working) -> str:
    shell, was = w.sheet.shell, w.sheet.proven
    if shell is None or was is None or shell.thinnest is None:
        return ""
    now = f"P = {w.show(w.sheet.working_pressure)}, D = {w.long(shell.inside_diameter)}, t = {w.long(shell.thinnest)}"
    return f"{now}, P_0 = {w.show(was.pressure)}, D_0 = {w.long(was.inside_diameter)}, t_0 = {w.long(was.wall)}"


def _hold_lines(w: Working, a: DeriveAnswer) -> list[Line]:
    hold = a.hold

    def leak(q: float | None) -> str:
        return "" if q is None else units.write(q, "leak", "mL/h", figures=2)

    long = units.write(hold.minimum, "time", "min", figures=3)
    needed = "" if hold.needed is None else units.write(hold.needed, "time", "min", figures=3)
    growth = a.growth.hoop_stress if a.growth else None
    return [
        *_line("hold.minimum", "t_hold", "as asked" if w.sheet.hold else "the basis's own", long, hold.minimum, "s", long, "the plan"),
        *_line("hold.look_pressure", "P_look", "where the close look is taken", w.show(hold.look_pressure), hold.look_pressure, "Pa",
               w.show(hold.look_pressure), "the basis"),
        *_line("hold.accepted_leak", "q_limit", "the acceptance as a leak, ΔV(P_t, ΔP)/Δt", leak(hold.accepted_leak), hold.accepted_leak, "m³/s",
               leak(hold.accepted_leak), "the plan, and C"),
        *_line("hold.smallest_leak", "q_tell", "2.8 σ_q of a straight line through the hold", f"{long}, a reading every {hold.every:.0f} s",
               hold.smallest_leak, "m³/s", leak(hold.smallest_leak), "generalised least squares: gauge, thermometer, what nobody saw"),
        *_line("hold.needed", "t_needed", "shortest hold with q_tell ≤ q_limit", leak(hold.accepted_leak), hold.needed, "s", needed, "the same"),
        *_line("growth.hoop_stress", "Δσ/σ", "P D/t / (P_0 D_0/t_0) − 1", _growth_numbers(w), growth, "1",
               "" if growth is None else f"{growth:+.0%}", "thin-shell hoop stress"),
    ]  # fmt: skip

"""What is in the vessel: volume, weight, water, air, and the energy of each."""

from toadbell.core import units
from toadbell.core.answers import DeriveAnswer
from toadbell.core.lines import Line, line_of
from toadbell.core.phrases import amount, joined
from toadbell.core.physics.content import Content
from toadbell.core.physics.water import (
    ROOM,
    mean_compressibility,
    water_compressibility,
    water_density,
    water_expansion,
)
from toadbell.core.plan.context import PlanContext
from toadbell.core.plan.lines.energy import IAPWS, energy_lines
from toadbell.core.vessel.filling import DISCHARGE, drain_bore


def content_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    """Volume and height, weights and times, compliance, energies."""
    stated = w.sheet.volume is not None
    litres = amount(a.volume or 0.0, "volume", "L")
    return [
        *line_of(
            "volume",
            "V",
            "as stated" if stated else "π/4 D² L + ends",
            litres,
            a.volume,
            "m³",
            litres,
            "the sheet" if stated else "solids of revolution",
        ),
        *line_of(
            "height",
            "h",
            "lowest to highest point",
            w.sheet.position,
            a.height,
            "m",
            w.long(a.height or 0.0),
            "the shape",
        ),
        *_vent_lines(w, a),
        *_weight_lines(w, a),
        *_compliance_lines(w, a),
        *energy_lines(w, a),
    ]


def _vent_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    found = []
    for opening in a.openings:
        if opening.height is not None:
            found += line_of(
                f"openings.{opening.name}.height",
                "z",
                "x sin θ + r cos φ cos θ, above the lowest point",
                w.sheet.position,
                opening.height,
                "m",
                w.long(opening.height),
                "the shape and the place",
            )
    if a.vent is None:
        return found
    vent, above = a.vent, joined("above ", a.vent.name, " at ", w.long(a.vent.height))
    found += line_of(
        "vent.height",
        "z_vent",
        "the height of the vent",
        above,
        vent.height,
        "m",
        w.long(vent.height),
        "the shape and the place",
    )
    return found + line_of(
        "vent.air",
        "V_a",
        "V − V(z_vent)",
        above,
        vent.air,
        "m³",
        amount(vent.air, "volume", "mL", figures=3),
        "the shape",
    )


def _weight_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    water, sheet = a.water, w.sheet
    litres = amount(a.volume or 0.0, "volume", "L")

    def kilos(mass: float | None) -> str:
        return "" if mass is None else amount(mass, "mass", "kg", figures=3)

    def minutes(time: float | None) -> str:
        return "" if time is None else amount(time, "time")

    empty = "as stated" if sheet.empty_mass else "Σ A t ρ of the walls and tubes, fittings and legs not counted"
    rate = "" if sheet.fill_rate is None else joined("V = ", litres, ", q = ", amount(sheet.fill_rate, "leak", "L/h"))
    through = drain_bore(sheet)
    bore = "" if through is None else joined("bore ", w.long(through), f", C_d = {DISCHARGE:g}")
    area = "" if water.inside_area is None else f"{water.inside_area:.3g} m²"
    density = joined(f"ρ = {water_density(sheet.water_temperature or ROOM):.5g} kg/m³, V = ", litres)
    return [
        *line_of("water.mass", "m_w", "ρ V", density, water.mass, "kg", kilos(water.mass), IAPWS),
        *line_of(
            "water.inside_area",
            "A",
            "inside of shell and ends",
            area,
            water.inside_area,
            "m²",
            area,
            "solids of revolution, fluids.geometry",
        ),
        *line_of(
            "water.empty_mass",
            "m_0",
            empty,
            area,
            water.empty_mass,
            "kg",
            kilos(water.empty_mass),
            "the sheet" if sheet.empty_mass else "an estimate",
        ),
        *line_of(
            "water.full_mass",
            "m",
            "m_0 + m_w",
            joined(kilos(water.empty_mass), " + ", kilos(water.mass)),
            water.full_mass,
            "kg",
            kilos(water.full_mass),
            "floor, legs and lifting plan must bear it",
        ),
        *line_of(
            "water.fill_time", "t_fill", "V / q", rate, water.fill_time, "s", minutes(water.fill_time), "the tap's rate"
        ),
        *line_of(
            "water.drain_time",
            "t_drain",
            "∫ dV / (C_d a √(2 g h))",
            bore,
            water.drain_time,
            "s",
            minutes(water.drain_time),
            "Torricelli, vent open",
        ),
    ]


def pumped_line(w: PlanContext, figure: str, pressure: float, pumped: float | None) -> list[Line]:
    """Volume pumped in (m³) from zero to a pressure (Pa)."""
    if w.content is None or pumped is None or w.volume is None:
        return []
    litres, P = amount(w.volume, "volume", "L", figures=5), w.show(pressure, 5)
    atm = joined("P_atm = ", w.show(units.ATMOSPHERE, 5))
    shown = amount(pumped, "volume", "L" if pumped >= 0.001 else "mL")
    if not isinstance(w.content, Content):
        return line_of(
            figure,
            "V_p",
            "V P / P_atm",
            joined("V = ", litres, ", P = ", P, ", ", atm),
            pumped,
            "m³",
            joined(shown, " of free air"),
            "Boyle",
        )
    inside = w.content
    mean = mean_compressibility(inside.temperature, pressure)
    numbers = joined(
        "V = ",
        litres,
        f", κ̄_w = {mean:.4g} 1/Pa, ε = {inside.give:.4g} 1/Pa, V_a = ",
        amount(inside.trapped_air, "volume", "mL"),
        ", P = ",
        P,
        ", ",
        atm,
    )
    return line_of(
        figure, "V_p", "V (κ̄_w + ε) P + V_a P/(P_atm + P)", numbers, pumped, "m³", shown, "integral of C from zero"
    )


def _compliance_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    C, rise = a.compliance, a.pressure_per_kelvin
    if C is None or rise is None or w.content is None or w.volume is None:
        return []
    gains = joined(w.show(rise, 3), " per °C")
    per_bar = amount(C, "compliance", "mL/bar")
    litres, atm = amount(w.volume, "volume", "L", figures=5), joined("P_atm = ", w.show(units.ATMOSPHERE, 5))
    found = pumped_line(w, "pump.volume", w.pressure, a.pump.volume)
    if isinstance(w.content, Content):
        inside, at = w.content, amount(w.content.temperature, "temperature")
        air, kappa = amount(inside.trapped_air, "volume", "mL"), water_compressibility(inside.temperature, w.pressure)
        beta = water_expansion(inside.temperature, w.pressure)
        found += line_of(
            "compliance",
            "C",
            "V (κ_w + ε) + V_a P_atm / (P_atm + P)²",
            joined(
                "V = ",
                litres,
                f", κ_w = {kappa:.4g} 1/Pa, ε = {inside.give:.4g} 1/Pa, V_a = ",
                air,
                ", P = ",
                w.show(w.pressure),
                ", ",
                atm,
            ),
            C,
            "m³/Pa",
            per_bar,
            joined("κ_w: ", IAPWS, ", at ", at, "; ε: thin-shell membrane"),
        )
        found += line_of(
            "pressure_per_kelvin",
            "dP/dT",
            "V (β_w − 3α) / C",
            joined("V = ", litres, f", β_w = {beta:.4g} 1/K, α = {inside.expansion:.4g} 1/K, C = ", per_bar),
            rise,
            "Pa/K",
            gains,
            joined("β_w: ", IAPWS, ", at ", at),
        )
    else:
        temperature = f"T = {w.content.temperature:.4g} kelvin"
        found += line_of(
            "compliance",
            "C",
            "V / P_atm",
            joined("V = ", litres, ", ", atm),
            C,
            "m³/Pa",
            joined(per_bar, " of free air"),
            "Boyle",
        )
        found += line_of(
            "pressure_per_kelvin",
            "dP/dT",
            "P_abs / T",
            joined(w.absolute(w.pressure), ", ", temperature),
            rise,
            "Pa/K",
            gains,
            "Gay-Lussac",
        )
    if a.warming_to_ceiling is not None and w.top.pressure is not None:
        kelvins = amount(a.warming_to_ceiling, "temperature_difference", figures=2)
        found += line_of(
            "warming_to_ceiling",
            "ΔT",
            "∫ dP / (dP/dT) from the test pressure to the ceiling, mass staying",
            joined(
                "from ", w.show(w.pressure, 5), " to ", w.show(w.top.pressure - w.static, 5), " at the highest point"
            ),
            a.warming_to_ceiling,
            "K",
            kelvins,
            joined("shut in at the test pressure; density by ", IAPWS)
            if isinstance(w.content, Content)
            else "shut in at the test pressure; Gay-Lussac",
        )
    return found

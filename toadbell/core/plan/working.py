"""The lines of working behind a plan's figures."""

import math
from dataclasses import dataclass

from toadbell.core import units
from toadbell.core.answers import Limit
from toadbell.core.bench.compliance import Content, mean_compressibility, water_compressibility, water_expansion
from toadbell.core.lines import Line
from toadbell.core.plan import bases, energy
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel.strength import TEST_FRACTION, Part


@dataclass(frozen=True)
class Working:
    """What has been worked out on the way, SI, and the units the person reads."""

    sheet: VesselSheet
    parts: list[Part]
    basis: str
    base: float
    pressure: float
    head: float
    target: float
    top: Limit
    may_work: Limit
    volume: float | None
    content: Content | None
    factor: float | None
    pressure_unit: str
    length_unit: str

    def show(self, pressure: float, figures: int = 4) -> str:
        """A pressure (Pa) in the person's unit."""
        return units.write(pressure, "pressure", self.pressure_unit, figures=figures)

    def absolute(self, pressure: float) -> str:
        """P_abs at a gauge pressure (Pa) and P_atm, for a line's numbers."""
        return f"P_abs = {self.show(pressure + units.ATMOSPHERE, 5)}, P_atm = {self.show(units.ATMOSPHERE, 5)}"

    def distance(self, length: float) -> str:
        """A distance on the ground (m), rounded up, in metres or feet after the person's habit."""
        metric = self.length_unit in ("mm", "cm", "m")
        return f"{math.ceil(length)} m" if metric else f"{math.ceil(length / 0.3048)} ft"

    def long(self, length: float) -> str:
        """A length (m) in the person's unit."""
        return units.write(length, "length", self.length_unit)


def lines_of(w: Working) -> list[Line]:
    """Every line that can be written, in the order a person would work them out."""
    return [*_target_lines(w), *_limit_lines(w), *_content_lines(w)]


def _target_lines(w: Working) -> list[Line]:
    rule = bases.BASES[w.basis]
    numbers = f"{w.factor:g} × {w.show(w.base)}" if w.factor else w.show(w.pressure)
    found = [
        Line(figure="test_pressure", symbol="P_t", formula=rule.rule, numbers=numbers, value=w.pressure, unit="Pa",
             shown=w.show(w.pressure), source=rule.source),
    ]  # fmt: skip
    if w.head:
        found.append(
            Line(figure="gauge_target", symbol="P_gauge", formula="P_t + ρ g (z_top − z_gauge)",
                 numbers=f"{w.show(w.pressure)} + {w.show(w.head, 2)}", value=w.target, unit="Pa", shown=w.show(w.target, 5),
                 source="hydrostatics: the highest point must see P_t"))  # fmt: skip
    top, t = w.target * 1.05, w.show(w.target, 5)
    found.append(
        Line(figure="target_band", symbol="P_max", formula="1.05 × P_gauge", numbers=f"1.05 × {t}", value=top, unit="Pa",
             shown=w.show(top), source="tolerance −0 / +5 %"))  # fmt: skip
    return found


def _limit_lines(w: Working) -> list[Line]:
    found = []
    governing = _part_named(w, w.top.set_by)
    if w.top.pressure is not None:
        found.append(
            Line(figure="ceiling", symbol="P_ceiling", formula=governing.form.written if governing else "the lowest limit that is known",
                 numbers=f"{governing.name}: {numbers_of(w, governing.at_test)}" if governing else w.top.set_by,
                 value=w.top.pressure, unit="Pa", shown=w.show(w.top.pressure),
                 source=f"{governing.form.source}; S = {TEST_FRACTION[w.sheet.medium]:.2f} × yield, E = 1" if governing else w.top.set_by))  # fmt: skip
        if w.factor and w.top.known:
            value = w.top.pressure / w.factor
            found.append(
                Line(figure="highest_provable", symbol="P_provable", formula="P_ceiling / factor",
                     numbers=f"{w.show(w.top.pressure)} / {w.factor:g}", value=value, unit="Pa", shown=w.show(value),
                     source="the highest wanted pressure that this basis can prove here"))  # fmt: skip
    weakest = _part_named(w, w.may_work.set_by)
    if w.may_work.pressure is not None and weakest:
        found.append(
            Line(figure="allowable", symbol="P_allowable", formula=weakest.form.written, numbers=f"{weakest.name}: {numbers_of(w, weakest.in_service)}",
                 value=w.may_work.pressure, unit="Pa", shown=w.show(w.may_work.pressure), source=f"{weakest.form.source}; t less corrosion"))  # fmt: skip
    return found


def _part_named(w: Working, set_by: str) -> Part | None:
    """The part a limit is set by, if it is a part and not a fitting's rating or the maker's limit."""
    return next((part for part in w.parts if set_by in (part.name, f"{part.name}, {TEST_FRACTION[w.sheet.medium]:.2f} yield")), None)


def numbers_of(w: Working, inputs: tuple[tuple[str, float, str], ...]) -> str:
    """What went into a form, in the person's units."""

    def shown(value: float, kind: str) -> str:
        if kind == "length":
            return w.long(value)
        return f"{value / 1e6:.4g} MPa" if kind == "stress" else f"{value:g}"

    return ", ".join(f"{symbol} = {shown(value, kind)}" for symbol, value, kind in inputs)


def _content_lines(w: Working) -> list[Line]:
    if w.volume is None or w.content is None:
        return []
    litres = units.write(w.volume, "volume", "L")
    stored = energy.air_energy(w.volume, w.pressure)
    found = [
        Line(figure="volume", symbol="V", formula="π/4 D² L + ends" if w.sheet.volume is None else "as stated", numbers=litres, value=w.volume,
             unit="m³", shown=litres, source="solids of revolution" if w.sheet.volume is None else "the sheet"),
        Line(figure="energy.air_at_test", symbol="E_air", formula="P_abs V/(k − 1) · [1 − (P_atm/P_abs)^((k−1)/k)]",
             numbers=f"{w.absolute(w.pressure)}, V = {litres}, k = 1.4", value=stored, unit="J",
             shown=f"{stored / 1000:.4g} kJ", source="ASME PCC-2, Article 501"),
    ]  # fmt: skip
    tnt = energy.tnt_equivalent(stored)
    away = energy.stand_off(tnt)
    found.append(
        Line(figure="energy.stand_off", symbol="R", formula="20 (2 · TNT)^(1/3)", numbers=f"TNT = {tnt:.4g} kg", value=away, unit="m",
             shown=f"{away:.2g} m", source="ASME PCC-2, Article 501: no harm from the blast; fragments go further"))  # fmt: skip
    return found if w.sheet.medium == "air" else [*found, *_water_lines(w, w.content)]


def _water_lines(w: Working, content: Content) -> list[Line]:
    C, per_kelvin, pumped = content.compliance(w.pressure), content.pressure_per_kelvin(w.pressure), content.pumped(w.pressure)
    stored = energy.water_energy(content.stiff_part(w.pressure), content.trapped_air, w.pressure)
    air = units.write(content.trapped_air, "volume", "mL")
    per_bar = units.write(C, "compliance", "mL/bar")
    rise = f"{w.show(per_kelvin, 3)} per °C"
    at = units.write(content.temperature, "temperature")
    air_and_pressure = f"V_a = {air}, P = {w.show(w.pressure)}, P_atm = {w.show(units.ATMOSPHERE, 5)}"
    litres = units.write(content.volume, "volume", "L", figures=5)
    kappa, mean = (f(content.temperature, w.pressure) for f in (water_compressibility, mean_compressibility))
    stiff = units.write(content.stiff_part(w.pressure), "compliance", "mL/bar")
    beta = water_expansion(content.temperature, w.pressure)
    return [
        Line(figure="compliance", symbol="C", formula="V (κ_w + ε) + V_a P_atm / (P_atm + P)²",
             numbers=f"V = {litres}, κ_w = {kappa:.4g} 1/Pa, ε = {content.give:.4g} 1/Pa, {air_and_pressure}",
             value=C, unit="m³/Pa", shown=per_bar, source=f"κ_w: IAPWS-95 through CoolProp, at {at}; ε: thin-shell membrane"),
        Line(figure="pump.volume", symbol="V_p", formula="V (κ̄_w + ε) P + V_a P/(P_atm + P)", 
             numbers=f"V = {litres}, κ̄_w = {mean:.4g} 1/Pa, ε = {content.give:.4g} 1/Pa, {air_and_pressure}",
             value=pumped, unit="m³", shown=units.write(pumped, "volume", "mL"), source="integral of C from zero"),
        Line(figure="energy.water", symbol="E_water", formula="½ C P² + E_trapped",
             numbers=f"C = {stiff}, P = {w.show(w.pressure)}, E_trapped = {energy.trapped_air_energy(content.trapped_air, w.pressure):.4g} J",
             value=stored, unit="J", shown=f"{stored:.3g} J", source="elastic work; ASME PCC-2, Article 501 for the air"),
        Line(figure="pressure_per_kelvin", symbol="dP/dT", formula="V (β_w − 3α) / C", 
             numbers=f"V = {litres}, β_w = {beta:.4g} 1/K, α = {content.expansion:.4g} 1/K, C = {per_bar}", value=per_kelvin, unit="Pa/K", shown=rise, source=f"β_w: IAPWS-95 through CoolProp, at {at}"),
    ]  # fmt: skip

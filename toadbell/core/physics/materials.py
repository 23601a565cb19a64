"""Materials: room-temperature figures for an unknown grade, each of them a default that a sheet may override.

Design stresses follow ASME BPVC Section II Part D in order of size, rounded down to the commonest weak grade;
yield and ultimate are the specified minima of those grades.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Protocol


class Stated(Protocol):
    """What a person may state of a metal in place of the table's: Pa, 1/K, kg/m³; None where nothing is said."""

    @property
    def yield_strength(self) -> float | None: ...
    @property
    def design_stress(self) -> float | None: ...
    @property
    def youngs_modulus(self) -> float | None: ...
    @property
    def poisson(self) -> float | None: ...
    @property
    def expansion(self) -> float | None: ...
    @property
    def density(self) -> float | None: ...
    @property
    def welded(self) -> bool | None: ...


@dataclass(frozen=True)
class Material:
    """Figures of a material, SI; None is not known.

    yield_strength, ultimate, design_stress, youngs_modulus   Pa
    poisson                                                   -
    expansion                                                 linear, 1/K
    density                                                   kg/m³
    brittle_or_creeping                                       no yield rule may be used for a test
    creeps                                                    it goes on giving under a load that stays
    """

    id: str
    yield_strength: float | None
    ultimate: float | None
    design_stress: float | None
    youngs_modulus: float | None
    poisson: float
    expansion: float | None
    density: float | None
    brittle_or_creeping: bool = False
    creeps: bool = False


SPECIFIC_HEAT = {
    "carbon-steel": 480.0,
    "stainless-304": 500.0,
    "stainless-316": 500.0,
    "copper": 385.0,
    "brass": 380.0,
    "aluminium-6061": 896.0,
    "cast-iron": 460.0,
}
"""What a kilogramme of a metal takes up for each degree, J/(kg K), at 20 °C; handbooks of the trade."""


def _mpa(value: float | None) -> float | None:
    return None if value is None else value * 1e6


def _row(
    id_: str,
    yield_: float | None,
    ultimate: float | None,
    design: float | None,
    young: float | None,
    poisson: float,
    expansion: float | None,
    density: float | None,
    weak: bool = False,
    creeps: bool = False,
) -> Material:
    return Material(
        id_,
        _mpa(yield_),
        _mpa(ultimate),
        _mpa(design),
        None if young is None else young * 1e9,
        poisson,
        None if expansion is None else expansion * 1e-6,
        density,
        weak,
        creeps,
    )


MATERIALS: dict[str, Material] = {
    each.id: each
    for each in (
        _row("carbon-steel", 205, 380, 108, 200, 0.30, 12.0, 7850),
        _row("stainless-304", 205, 515, 138, 195, 0.30, 16.0, 8000),
        _row("stainless-316", 205, 515, 138, 193, 0.30, 16.0, 8000),
        _row("copper", 62, 207, 41, 117, 0.34, 16.8, 8940),
        _row("brass", 125, 325, 62, 105, 0.34, 19.0, 8500),
        _row("aluminium-6061", 240, 290, 83, 69, 0.33, 23.4, 2700),
        _row("cast-iron", None, 150, 15, 100, 0.26, 10.5, 7200, True),
        _row("pet", None, None, None, 2.8, 0.40, 70, 1380, True, True),
        _row("pp", None, None, None, 1.4, 0.42, 150, 905, True, True),
        _row("hdpe", None, None, None, 0.9, 0.45, 180, 950, True, True),
        _row("glass-fibre", None, None, None, None, 0.30, None, 1900, True, True),
        _row("carbon-fibre", None, None, None, None, 0.30, None, 1600, True, True),
        _row("wood", None, None, None, None, 0.30, None, 600, True, True),
        _row("other", None, None, None, None, 0.30, None, None, True, True),
    )
}


PLASTICS = frozenset({"pet", "pp", "hdpe", "glass-fibre", "carbon-fibre"})
"""What breaks into pieces that fly."""
LAY_UPS = frozenset({"glass-fibre", "carbon-fibre"})
"""Fibres in resin: where a leak shows is not where it starts."""
BRITTLE = frozenset({"cast-iron", "glass-fibre", "carbon-fibre"})
"""What gives no warning before it breaks."""
WELDED: dict[str, Material] = {
    "aluminium-6061": _row("Aluminium 6061, beside a weld", 105, 165, 41, 69, 0.33, 23.4, 2700),
}
"""Materials that a weld softens: the heat-affected zone's figures (Aluminum Design Manual; ASME BPVC II-D for 6061-T6
welded, 24 ksi).
"""


def figures_of(material: str, *own: Stated) -> Material:
    """A material's figures with those a person stated in place of the table's, the first that states one first.

    material  a key of MATERIALS; one that a weld softens is taken as welded unless a part says that nothing there is
    own       parts of the sheet that are made of it
    """
    said = next((part.welded for part in own if part.welded is not None), None)
    known = WELDED[material] if material in WELDED and said is not False else MATERIALS[material]
    for part in reversed(own):
        stated = ("yield_strength", "ultimate", "design_stress", "youngs_modulus", "poisson", "expansion", "density")
        known = replace(known, **{name: value for name in stated if (value := getattr(part, name)) is not None})
    return known


# Design stress by metal temperature, degC: MPa. After ASME BPVC Section II Part D, Tables 1A and 1B:
# SA-106 B (flat to 343 °C), SA-240 304 and 316 (the lower line, without permanent-strain allowance),
# SB-75 C12200 annealed, SB-209 6061-T6. Between the points a straight line; beyond the last, not known.
# Only ratios of them are used. An edition that applies to a vessel may differ by a few per cent: its print comes first.
_DESIGN_STRESS_BY_TEMPERATURE: dict[str, list[tuple[float, float]]] = {
    "carbon-steel": [(38, 118), (343, 118)],
    "stainless-304": [(38, 138), (93, 115), (149, 103), (204, 95), (260, 89), (316, 85)],
    "stainless-316": [(38, 138), (93, 119), (149, 107), (204, 99), (260, 92), (316, 87)],
    "copper": [(38, 41.4), (66, 35.2), (93, 33.8), (121, 33.1), (149, 32.4), (177, 27.6), (204, 20.7)],
    "aluminium-6061": [(38, 83), (93, 83), (121, 80), (149, 70), (177, 52), (204, 39)],
}


# The same under the European rule: f = min(Rp0.2,T / 1.5, Rm / 2.4) of P235GH to 16 mm, EN 10028-2;
# at room temperature Rm decides.
_EUROPEAN: dict[str, list[tuple[float, float]]] = {
    "carbon-steel": [
        (20, 150),
        (100, 142.7),
        (150, 132),
        (200, 121.3),
        (250, 111.3),
        (300, 102),
        (350, 94.7),
        (400, 88.7),
    ],
}
NOT_METAL = frozenset({"pet", "pp", "hdpe", "glass-fibre", "carbon-fibre", "wood"})
"""What no rule for metal vessels is made for."""
COLD = 311.15
"""Up to here the tables give a metal's cold strength, K."""


def design_stress_at(material: str, temperature: float, *, european: bool = False) -> float | None:
    """Design stress of the tabled grade at a metal temperature (K), Pa; None where the table does not reach.

    european  by the European rule's own table, where there is one
    """
    table = (_EUROPEAN if european else {}).get(material) or _DESIGN_STRESS_BY_TEMPERATURE.get(material)
    celsius = temperature - 273.15
    if table is None or celsius > table[-1][0]:
        return None
    below = [point for point in table if point[0] <= celsius]
    if not below:
        return table[0][1] * 1e6
    (t0, s0), (t1, s1) = below[-1], table[min(len(below), len(table) - 1)]
    return 1e6 * (s0 if t1 == t0 else s0 + (s1 - s0) * (celsius - t0) / (t1 - t0))


def weakening(material: str, temperature: float) -> float | None:
    """Design stress at a metal temperature (K) over the cold one, at most 1; None where no table reaches.

    Cold, every material has its own strength, table or not.
    """
    if temperature <= COLD:
        return 1.0
    hot, cold = design_stress_at(material, temperature), design_stress_at(material, COLD)
    return None if hot is None or cold is None else min(1.0, hot / cold)

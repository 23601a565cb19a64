"""Write the tables that the core begins with, from the libraries that have them: units, water, steam, and the judge's
points.

    make tables

They are kept with the code, so that a command answers at once. A test holds them against the libraries.
"""

import json
import math
import sys
from collections.abc import Callable
from pathlib import Path

import numpy as np
from scipy.stats import qmc

sys.path.insert(0, str(Path(__file__).parent.parent))

from toadbell.core import units
from toadbell.core.judge import normal
from toadbell.core.units import ATMOSPHERE

CORE = Path(__file__).parent.parent / "toadbell" / "core"
MORE_UNITS = """
    Pa hPa kPa MPa GPa bar mbar psi ksi atm torr mmHg inHg mmH2O cmH2O inH2O kgf/cm**2 N/mm**2
    m dm cm mm um in ft yd
    m**3 dm**3 cm**3 mm**3 L hL dL cL mL uL gallon quart pint imperial_gallon in**3 ft**3
    degC degF kelvin delta_degC delta_degF
    s min h day week year
    m**3/s m**3/h L/h L/min L/s mL/h mL/min mL/s uL/min drop/min drop/s gallon/min ft**3/min cm**3/min
    m**3/Pa mL/bar uL/bar L/bar mL/psi mL/kPa mL/mbar L/mbar cm**3/bar
    N*m N*cm kgf*m ft*lbf in*lbf
    deg rad
    W kW hp
    kg/m**3 g/cm**3 kg/L lb/ft**3 lb/in**3
    g kg lb oz
"""
"""Units that people write, beside those of the kinds and the aliases."""


def unit_table() -> dict[str, dict[str, tuple[float, float]]]:
    """By name and kind, what one of a unit is in SI and where its nought lies."""
    names = {
        *MORE_UNITS.split(),
        *units._ALIASES.values(),
        *(u for kind in units.KINDS.values() for u in (kind.si, kind.metric, kind.imperial)),
    }
    found: dict[str, dict[str, tuple[float, float]]] = {}
    for name in sorted(names):
        for kind in units.KINDS:
            if name in ("degC", "degF") and kind == "temperature_difference":
                continue  # read as delta_degC
            try:
                found.setdefault(name, {})[kind] = units.measured_by_library(name, kind)
            except ValueError:
                continue
    return {name: kinds for name, kinds in found.items() if kinds}


def fitted(
    of: Callable[[float, float], float], x: tuple[float, float, int], y: tuple[float, float, int]
) -> list[list[float]]:
    """Chebyshev coefficients of a function of two; each is given by its ends and how many coefficients."""
    (x0, x1, n), (y0, y1, m) = x, y
    across, along = (math.pi * (np.arange(count) + 0.5) / count for count in (n, m))
    values = [
        [of(x0 + (a + 1) / 2 * (x1 - x0), y0 + (b + 1) / 2 * (y1 - y0)) for b in np.cos(along)] for a in np.cos(across)
    ]
    found = (
        4
        / (n * m)
        * np.cos(np.outer(np.arange(n), across))
        @ np.array(values)
        @ np.cos(np.outer(np.arange(m), along)).T
    )
    found[0] /= 2
    found[:, 0] /= 2
    return [[float(f"{c:.17g}") for c in row] for row in found]


def water() -> dict[str, object]:
    """The logarithm of water's density, 0 to 99 °C and to 400 bar."""
    import CoolProp

    state = CoolProp.AbstractState("HEOS", "Water")

    def of(temperature: float, pressure: float) -> float:
        state.update(CoolProp.PT_INPUTS, pressure + ATMOSPHERE, temperature)
        return math.log(state.rhomass())

    temperature, pressure = (273.15, 372.5), (0.0, 4e7)
    return {
        "temperature": temperature,
        "pressure": pressure,
        "ln_density": fitted(of, (*temperature, 20), (*pressure, 10)),
    }


def steam() -> dict[str, object]:
    """Saturation temperature (K) and energy of flashing (J/m³) along the logarithm of the absolute pressure, to 100
    bar; and along the temperature the pressure, and internal energy and density of water and steam, SI.
    """
    from CoolProp.CoolProp import PropsSI

    def flash(absolute: float) -> float:
        entropy, before, density = (PropsSI(what, "P", absolute, "Q", 0, "Water") for what in "SUD")
        return float(density * (before - PropsSI("U", "P", ATMOSPHERE, "S", entropy, "Water")))

    ends = (ATMOSPHERE, 1e7)
    along = tuple(math.log(end) for end in ends)

    def curve(of: Callable[[float], float]) -> list[float]:
        return [row[0] for row in fitted(lambda x, _: of(math.exp(x)), (along[0], along[1], 40), (0.0, 1.0, 1))]

    saturation = curve(lambda p: float(PropsSI("T", "P", p, "Q", 0, "Water")))
    warm = (273.16, 584.0)

    def rising(what: str, quality: int, of: Callable[[float], float] = float) -> list[float]:
        table = fitted(
            lambda t, _: of(PropsSI(what, "T", min(max(t, warm[0]), warm[1]), "Q", quality, "Water")),
            (*warm, 30),
            (0.0, 1.0, 1),
        )
        return [row[0] for row in table]

    return {
        "absolute_pressure": ends,
        "saturation": saturation,
        "flash_energy": curve(flash),
        "temperature": warm,
        "ln_pressure": rising("P", 0, math.log),
        "water_energy": rising("U", 0),
        "steam_energy": rising("U", 1),
        "water_ln_density": rising("D", 0, math.log),
        "steam_ln_density": rising("D", 1, math.log),
    }


def points() -> dict[str, np.ndarray]:
    """The judge's points by the number of unknowns, as whole numbers of 30 bits."""
    found = {}
    for dimensions in normal.DIMENSIONS:
        sobol = qmc.Sobol(dimensions, scramble=True, bits=30, rng=np.random.default_rng(normal.SEED))
        even = sobol.random_base2(math.ceil(math.log2(normal.MOST_POINTS)))[: normal.MOST_POINTS]
        found[str(dimensions)] = (even * 2.0**30).astype(np.uint32)
    return found


def main() -> None:
    """Write every table."""
    for path, table in (
        (CORE / "units.json", unit_table()),
        (CORE / "physics/water.json", water()),
        (CORE / "physics/steam.json", steam()),
    ):
        path.write_text(json.dumps(table, ensure_ascii=False, indent=None) + "\n", encoding="utf-8")
        print(f"{path.relative_to(CORE.parent.parent)}: {path.stat().st_size / 1000:.0f} kB")
    np.savez(CORE / "judge/points.npz", **points())
    print(f"toadbell/core/judge/points.npz: {(CORE / 'judge/points.npz').stat().st_size / 1000:.0f} kB")


if __name__ == "__main__":
    main()

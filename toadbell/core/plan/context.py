"""What has been worked out of a plan so far, and how it is written in a person's units."""

import math
from dataclasses import dataclass

from toadbell.core import units
from toadbell.core.answers import Limit
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel.openings import Vent
from toadbell.core.vessel.parts import Part
from toadbell.core.vessel.wear import Wear

TOLERANCE = 1.05
"""The target may be passed by 5 % and never be missed."""
LOW_HEAD = 20_000.0
"""Test pressure under which a person who reads bar reads millibar, Pa."""


def unit_for(pressure: float, unit: str) -> str:
    """The unit in which a person whose pressure unit this is reads a plan of some test pressure (Pa)."""
    return "mbar" if unit == "bar" and pressure < LOW_HEAD else unit


@dataclass(frozen=True)
class PlanContext:
    """What has been worked out on the way, SI, and the units the person reads.

    static  what the lowest point sees above the highest, Pa; 0 where it is not known, which is said
    """

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
    hold: float
    vent: Vent | None
    wear: Wear | None
    content: Content | AirContent | None
    wet: Content | None
    factor: float | None
    static: float
    pressure_unit: str
    length_unit: str

    @property
    def served(self) -> float:
        """The pressure that the vessel is proved for, or can really see: the wanted one, the base, the lift of its relief valve, Pa."""
        lift = self.pressure if self.basis == "relief" else 0.0
        return max(self.sheet.working_pressure, lift, self.base if self.sheet.base == "relief" else 0.0)

    @property
    def above_allowable(self) -> bool:
        """Is more to be proved than the walls may work at?"""
        return self.may_work.pressure is not None and self.served > self.may_work.pressure

    def allowable_sentence(self) -> str:
        """What is wanted against what the weakest part may work at, and what to do."""
        most = self.may_work.pressure or 0.0
        wanted = (
            f"{self.show(self.served)} is wanted" if self.served == self.sheet.working_pressure else f"It can see {self.show(self.served)}"
        )
        do = (
            f"Ask for no more than {self.show(self.at_most(most), 3)}, and set the relief by that."
            if self.at_most(most)
            else "Do not use it."
        )
        return f"{wanted}, but {self.may_work.set_by} may work at no more than {self.show(most, figures=3)}. {do}"

    @property
    def top_on_gauge(self) -> float | None:
        """The ceiling as the gauge reads it, Pa: the vessel's lowest point sees the water's weight on top of what its highest does."""
        return None if self.top.pressure is None else self.top.pressure - self.static + self.head

    @property
    def band_top(self) -> float:
        """The upper end of the test band on the gauge, Pa: 5 % over the target, and never above the ceiling."""
        most = TOLERANCE * self.target
        return most if self.top_on_gauge is None else max(self.target, min(most, self.top_on_gauge))

    @property
    def warming_to_ceiling(self) -> float | None:
        """Kelvins of warming that take the shut-in vessel from the test pressure to the ceiling; None where not known or none would."""
        if self.content is None or self.top.pressure is None or self.top.pressure <= self.pressure:
            return None
        return self.content.warming(self.pressure, self.top.pressure - self.static)

    def show(self, pressure: float, figures: int = 4) -> str:
        """A pressure (Pa) in the person's unit."""
        return units.write(pressure, "pressure", self.pressure_unit, figures=figures)

    def at_most(self, pressure: float, figures: int = 3) -> float:
        """A pressure (Pa) rounded down to so many figures of the person's unit, Pa: what may be asked for, and not a hair more."""
        number = units.from_si(pressure, self.pressure_unit, "pressure")
        if number <= 0:
            return 0.0
        step = 10.0 ** (math.floor(math.log10(number)) + 1 - figures)
        return units.to_si(math.floor(number / step * (1 + 1e-9)) * step, self.pressure_unit, "pressure")

    def absolute(self, pressure: float) -> str:
        """P_abs at a gauge pressure (Pa) and P_atm, for a line's numbers."""
        return f"P_abs = {self.show(pressure + units.ATMOSPHERE, 5)}, P_atm = {self.show(units.ATMOSPHERE, 5)}"

    def distance(self, length: float) -> str:
        """A distance on the ground (m), rounded up, in metres or feet after the person's habit."""
        metric = self.length_unit in ("mm", "cm", "m")
        return f"{math.ceil(length)} m" if metric else f"{math.ceil(length / 0.3048)} ft"

    def long(self, length: float, figures: int = 4) -> str:
        """A length (m) in the person's unit."""
        return units.write(length, "length", self.length_unit, figures=figures)


def numbers_of(w: PlanContext, inputs: tuple[tuple[str, float, str], ...]) -> str:
    """What went into a form, in the person's units."""

    def shown(value: float, kind: str) -> str:
        if kind == "length":
            return w.long(value)
        return f"{value / 1e6:.4g} MPa" if kind == "stress" else f"{value:g}"

    return ", ".join(f"{symbol} = {shown(value, kind)}" for symbol, value, kind in inputs)

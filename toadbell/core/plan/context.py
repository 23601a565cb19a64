"""What has been worked out of a plan so far, and how it is written in a person's units."""

import math
from dataclasses import dataclass
from typing import Any

from toadbell.core import units
from toadbell.core.answers import Caution, CautionCode, Limit, Stop, StopCode
from toadbell.core.phrases import Said, amount, joined, pressure_unit, say
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.plan.bases import BASES
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel.openings import Vent
from toadbell.core.vessel.parts import Part
from toadbell.core.vessel.wear import Wear

TOLERANCE = 1.05
"""The target may be passed by 5 % and never be missed."""


def stop(code: StopCode, form: str = "", /, **facts: Any) -> Stop:
    """A stop with its sentence; `form` tells apart the sentences of one code."""
    return Stop(code=code, says=say(f"stop.{code}{form and '-'}{form}", **facts))


def caution(code: CautionCode, form: str = "", /, **facts: Any) -> Caution:
    """A caution with its sentence; `form` tells apart the sentences of one code."""
    return Caution(code=code, says=say(f"caution.{code}{form and '-'}{form}", **facts))


@dataclass(frozen=True)
class PlanContext:
    """What has been worked out on the way, SI, and what the sheet asks for.

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

    @property
    def served(self) -> float:
        """The pressure that the vessel is proved for, or can really see: the wanted one, the base, the lift of its
        relief valve, Pa.
        """
        lift = self.pressure if BASES[self.basis].by in ("relief", "steam") else 0.0
        return max(self.sheet.working_pressure, lift, self.base if self.sheet.base == "relief" else 0.0)

    @property
    def above_allowable(self) -> bool:
        """Is more to be proved than the walls may work at?"""
        return self.may_work.pressure is not None and self.served > self.may_work.pressure

    @property
    def provable(self) -> float | None:
        """The highest wanted pressure whose test, with the water's own weight at the bottom, stays under the ceiling,
        Pa; rounded down. None where the ceiling is not known, or another pressure than the wanted one is being proved.
        """
        if not self.top.known or self.top.pressure is None or not self.factor or self.sheet.base != "wanted":
            return None
        return self.at_most(max(0.0, (self.top.pressure - self.static) / self.factor)) or None

    @property
    def offer(self) -> float | None:
        """The highest wanted pressure that this basis can prove here and that plate and walls allow, Pa; rounded down
        to what a person types. None where no pressure is known to be provable.
        """
        return None if self.provable is None else self.most_to_ask or None

    @property
    def most_to_ask(self) -> float:
        """The most that plate, walls and, where it is known, the ceiling allow to be asked for, Pa; rounded down."""
        limits = (self.provable, self.sheet.plate_pressure, self.may_work.pressure)
        return self.at_most(min((limit for limit in limits if limit is not None), default=0.0))

    def allowable_sentence(self) -> Said:
        """What is wanted against what the weakest part may work at, and what may be asked for instead: never more than
        can be proven here, or than plate and walls allow.
        """
        most = self.may_work.pressure or 0.0
        ask = self.most_to_ask if most else 0.0
        do = say("plan.allowable-ask", most=ask) if ask else say("plan.allowable-scrap")
        form = "plan.allowable" if self.served == self.sheet.working_pressure else "plan.allowable-seen"
        return say(form, wanted=self.served, set_by=self.may_work.set_by, most=most, do=do)

    @property
    def top_on_gauge(self) -> float | None:
        """The ceiling as the gauge reads it, Pa: the vessel's lowest point sees the water's weight on top of what its
        highest does.
        """
        return None if self.top.pressure is None else self.top.pressure - self.static + self.head

    @property
    def band_top(self) -> float:
        """The upper end of the test band on the gauge, Pa: 5 % over the target, and never above the ceiling."""
        most = TOLERANCE * self.target
        return most if self.top_on_gauge is None else max(self.target, min(most, self.top_on_gauge))

    @property
    def warming_to_ceiling(self) -> float | None:
        """Kelvins of warming that take the shut-in vessel from the test pressure to the ceiling; None where not known
        or none would.
        """
        if self.content is None or self.top.pressure is None or self.top.pressure <= self.pressure:
            return None
        return self.content.warming(self.pressure, self.top.pressure - self.static)

    def show(self, pressure: float, figures: int = 4) -> Said:
        """A pressure (Pa) in the person's unit."""
        return amount(pressure, "pressure", figures=figures)

    def at_most(self, pressure: float, figures: int = 3) -> float:
        """A pressure (Pa) rounded down to so many figures of the person's unit, Pa: what may be asked for, and not a
        hair more.
        """
        unit = pressure_unit()
        number = units.from_si(pressure, unit, "pressure")
        if number <= 0:
            return 0.0
        step = 10.0 ** (math.floor(math.log10(number)) + 1 - figures)
        return units.to_si(math.floor(number / step * (1 + 1e-9)) * step, unit, "pressure")

    def absolute(self, pressure: float) -> str:
        """P_abs at a gauge pressure (Pa) and P_atm, for a line's numbers."""
        return joined(
            "P_abs = ", self.show(pressure + units.ATMOSPHERE, 5), ", P_atm = ", self.show(units.ATMOSPHERE, 5)
        )

    def numbers_of_shell(self) -> str:
        """The shell's inside radius and wall, for a line's numbers."""
        shell = self.sheet.shell
        if shell is None or shell.usual is None:
            return ""
        return joined("R_i = ", self.long(shell.inside_diameter / 2), ", t = ", self.long(shell.usual))

    def long(self, length: float, figures: int = 4) -> Said:
        """A length (m) in the person's unit."""
        return amount(length, "length", figures=figures)


def numbers_of(w: PlanContext, inputs: tuple[tuple[str, float, str], ...]) -> str:
    """What went into a form, in the person's units."""

    def shown(value: float, kind: str) -> str:
        if kind == "length":
            return w.long(value)
        return amount(value, "stress", "MPa") if kind == "stress" else f"{value:g}"

    return ", ".join(joined(symbol, " = ", shown(value, kind)) for symbol, value, kind in inputs)

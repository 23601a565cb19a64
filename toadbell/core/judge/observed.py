"""What was read of a hold, averaged to a few dozen points, and what sets the scale of all that is not known."""

from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.judge.unknowns import Vessel, asked_of

DAY = 0.8
"""How far a workshop goes up and down with the day, K, 1 σ."""


@dataclass(frozen=True)
class Stretch:
    """A stretch that was shut in: its points, from the first to before the last.

    settles  how far what settles in it goes, as a part of what it does in a test hold from no pressure
    uneven   what each of its points may be out, as a part of what one of a test hold alone is: fewer points are more
             readings each
    creeps, dissolves  the same of a wall that creeps, against its sense after coming down, and of air that dissolves
    """

    first: int
    last: int
    role: Literal["low", "test"] = "test"
    settles: float = 1.0
    creeps: float = 1.0
    dissolves: float = 1.0
    uneven: float = 1.0


@dataclass(frozen=True)
class Observed:
    """The readings, averaged to a few dozen points, and what sets the scale of the rest.

    time        s since shut in
    content     m³, at each point
    error       1 σ of each point of the content where a reading's error is the gauge's step, m³
    swelling    by which the water outgrows the wall, m³/K, without its sign
    following   time in which the water follows the room that such a size suggests, s
    inside      what was pumped in to stand there, m³
    creep       slow creeping that nothing explains, m³/√s; `drift` what goes steadily one way and is no leak, m³/s, 1 σ
    day         how far the room goes up and down with the day, K, 1 σ; `weather` what the outer air does to the content
                unread, m³, 1 σ
    vapour      that rises from wet walls, as free air, m³, 1 σ
    uneven      how far a reading may be from all this, m³, 1 σ; `together`: that of a point which stands for several,
                as a part of it
    pressure    at each point, Pa; `told`: 1 σ of it; `start`: the one the leak is reckoned at
    vessel      what its figures say, and do not
    warmth, warmth_error  the same as content and its error by the thermometer, m³; None without one
    astray      the thermometer goes its own way
    offsets     (points, steps): one column of 0 and 1 for each step cut out
    stretches   the test hold and the low holds, on one clock; none where it is a test hold alone
    softer      compliance at each point over that at the pressure of the test hold; none where it is alone
    """

    time: Array
    content: Array
    error: Array
    swelling: float
    following: float
    inside: float
    creep: float
    uneven: float
    together: float = 1.0
    drift: float = 0.0
    day: float = DAY
    weather: float = 0.0
    vapour: float = 0.0
    pressure: Array = field(default_factory=lambda: np.empty(0))
    told: float = 0.0
    start: float = 1.0
    vessel: Vessel = field(default_factory=Vessel)
    warmth: Array | None = None
    warmth_error: Array | None = None
    astray: bool = False
    offsets: Array = field(default_factory=lambda: np.empty((0, 0)))
    stretches: tuple[Stretch, ...] = ()
    softer: Array = field(default_factory=lambda: np.empty(0))

    @property
    def parts(self) -> tuple[Stretch, ...]:
        """Its stretches; all of it where it is a test hold alone."""
        return self.stretches or (Stretch(0, len(self.time)),)

    @property
    def test(self) -> Stretch:
        """The test hold among them."""
        return next(part for part in self.parts if part.role == "test")

    @property
    def span(self) -> float:
        """How long the test hold is, s."""
        return float(self.time[self.test.last - 1] - (self.time[self.test.first] if self.stretches else 0.0))

    @property
    def unknown(self) -> tuple[str, ...]:
        """Names of what is not known."""
        return asked_of(self.vessel, self.warmth is not None, self.astray)

"""The kit as a sheet tells of it: what pressure is read from and made with."""

from __future__ import annotations

import datetime

from pydantic import Field

from toadbell.core.fields import Height, Part, Pressure, Step, Torque, Volume


class Gauge(Part):
    """What pressure is read from. `class` is the error in per cent of full scale."""

    range: Pressure
    division: Pressure | None = None
    resolution: Pressure | None = None
    accuracy_class: float | None = Field(default=None, alias="class", ge=0, le=10)
    height_above_top: Height | None = None
    calibrated: datetime.date | None = None

    @property
    def readable(self) -> float | None:
        """Smallest step told apart when reading, Pa: stated, or half of a division."""
        return self.resolution or (self.division / 2 if self.division else None)


class NamedGauge(Gauge):
    """One of several gauges to choose from."""

    name: str = Field(max_length=80)


class Thermometer(Part):
    """What the water or wall temperature is read from."""

    resolution: Step


class Pump(Part):
    """The source of pressure."""

    stroke: Volume | None = None
    maximum: Pressure | None = None


class TorqueWrench(Part):
    """A wrench and the torque wanted of it."""

    wanted: Torque
    range: Torque

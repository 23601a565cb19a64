"""The log of a relief valve's trial: what it is set to, what it guards, and what three rounds showed."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from toadbell.core.sheets.fields import Part, Pressure
from toadbell.core.sheets.kit import Gauge, tolerance_told


class Round(Part):
    """One raising: where it first wept, where it lifted, and where it shut again; what was not seen is left out.

    highest  the highest pressure there was, where it did not lift
    """

    weep: Pressure | None = None
    lift: Pressure | None = None
    reseat: Pressure | None = None
    highest: Pressure | None = None

    @model_validator(mode="after")
    def _in_order(self) -> Round:
        if self.lift is not None and self.reseat is not None and self.reseat > self.lift:
            raise ValueError("reseat: it shuts under the pressure at which it lifts; they may be the wrong way round")
        if self.lift is not None and self.weep is not None and self.weep > self.lift:
            raise ValueError("weep: it weeps before it lifts; they may be the wrong way round")
        return self


class ReliefSheet(Part):
    """What a relief trial is judged by.

    set_pressure  that the valve is to lift at; `tolerance` of its maker, where that is known
    rating        the highest that the vessel may see
    tolerance_paper  of the maker, that allows more than a tenth of the set
    used_at       the pressure that the vessel works at
    set_for       what the valve was set on: gas or a liquid; not said, a trial on a liquid does not tell of gas
    by_hand       lifted by hand, it moved freely or stuck; `after`: it was dry again, or wept
    """

    procedure: Literal["relief"]
    medium: Literal["water", "air", "steam"] = "air"
    set_pressure: Pressure | None = None
    tolerance: Pressure | None = None
    tolerance_paper: str | None = Field(default=None, max_length=200)
    set_for: Literal["gas", "liquid"] | None = None
    rating: Pressure
    used_at: Pressure | None = None
    gauge: Gauge
    rounds: list[Round] = Field(default=[], max_length=20)
    by_hand: Literal["free", "stuck"] | None = None
    after: Literal["dry", "weeps"] | None = None

    @model_validator(mode="after")
    def _let(self) -> ReliefSheet:
        tolerance_told(self.set_pressure, self.tolerance, self.tolerance_paper)
        return self

"""What a hold may lose and still be accepted."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from toadbell.core.sheets.fields import Duration, LeakRate, Part, Pressure


class MaxLeak(Part):
    """The leak may be no more than this."""

    max_leak: LeakRate


class MaxDrop(Part):
    """The gauge may fall no more than this over that time."""

    max_drop: Pressure
    over: Duration


class NoVisibleDrop(Part):
    """Nothing may be seen to move on the gauge."""

    no_visible_drop: Literal[True]


class AgainstBaseline(Part):
    """No more than so many times the leak of a hold of the same rig known to be tight."""

    baseline: str = Field(max_length=300)
    times: float = Field(default=2, gt=0, le=10)


Acceptance = MaxLeak | MaxDrop | NoVisibleDrop | AgainstBaseline

"""What the strokes tell, as it leaves the core: SI numbers under keys that name no unit; not known is null."""

from typing import Literal

from pydantic import BaseModel, ConfigDict

from toadbell.core.lines import Line
from toadbell.core.phrases import Sentence


class _Answer(BaseModel):
    model_config = ConfigDict(frozen=True, defer_build=True)


class Estimate(_Answer):
    """An estimate and its 95 % band."""

    estimate: float
    low: float
    high: float


class Pumped(_Answer):
    """A point of the curve: volume pumped in, m³, and the pressure it stands at, Pa."""

    pumped: float
    pressure: float


class Onset(_Answer):
    """Where the curve bends over: Pa; how much softer it is at the top than the straight part says."""

    pressure: float
    low: float
    high: float
    softer: float


class StrokesAnswer(_Answer):
    """What pumped volume against pressure tells.

    Volumes m³, compliances m³/Pa; null where too little was pumped to tell.

    air         left in, at atmosphere; `air_part` of the vessel's volume, `air_limit` what is let pass
    compliance  of water and wall, without the air; `expected_compliance` as computed from the sheet
    ratio       strokes per bar at the top over what the straight part says of there
    onset       of yielding
    """

    state: Literal["too-few", "straight", "air", "yielding"]
    air: Estimate | None
    air_part: float | None
    air_limit: float | None
    compliance: Estimate | None
    expected_air: float | None
    expected_compliance: float | None
    ratio: float | None
    ratio_sure: bool = False
    onset: Onset | None
    points: list[Pumped]
    fit: list[Pumped]
    expected: list[Pumped]
    says: Sentence
    settle_it: list[Sentence]
    lines: list[Line]

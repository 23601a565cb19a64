"""The log of a tightening trial: a joint's nut turned on by parts of a turn, and how it leaked at each."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from toadbell.core.sheets.fields import Part, Pressure, Torque
from toadbell.core.sheets.kit import TorqueWrench

Grade = Literal["blown off", "stream", "bubbles", "weeps", "dry"]
GRADES: tuple[Grade, ...] = ("blown off", "stream", "bubbles", "weeps", "dry")
"""How a joint leaks, from the worst to none."""
JointKind = Literal["ferrule", "flare", "taper", "gasket"]
"""Kinds of joint: a ferrule or an olive on the tube, a flared tube, a taper thread, a flat or a ring seal."""
MOST_TURNS = 4.0


class Turned(Part):
    """What was seen at a turn past finger-tight.

    turn      of the nut, as a part of a turn
    pressure  at which it was seen
    bubbles   a minute, where they were counted
    """

    turn: Annotated[float, Field(ge=0, le=MOST_TURNS)]
    shows: Grade
    pressure: Pressure
    bubbles: Annotated[float, Field(ge=0, le=10_000)] | None = None
    torque: Torque | None = None


class TighteningSheet(Part):
    """What a tightening trial is judged by: the pressure it has to be dry at, and what was seen, in order.

    joint  of what kind it is: how far it has to be turned to grip at all
    """

    procedure: Literal["tightening"]
    joint: JointKind | None = None
    target: Pressure
    turns: list[Turned] = Field(default=[], max_length=500)
    torque_wrench: TorqueWrench | None = None

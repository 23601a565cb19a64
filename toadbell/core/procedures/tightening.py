"""The tightening trial: a joint raised at each part of a turn till it is dry, then held as a proof is.

Below the first grip its cap is a shot: the first stage is half a bar. It is let go before it is turned on.
"""

import datetime
from collections.abc import Sequence
from dataclasses import replace

from toadbell.core.answers import DeriveAnswer
from toadbell.core.judge.tightening import TighteningAnswer, judge_tightening
from toadbell.core.phrases import Said, say
from toadbell.core.procedures.procedure import Observation
from toadbell.core.procedures.proof import PROOF
from toadbell.core.run.observed import EIGHTHS
from toadbell.core.run.phases import Entry
from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.tightening import TighteningSheet, Turned

TIGHTENING = replace(
    PROOF,
    id="tightening",
    kinds=frozenset({"joint", "pipework"}),
    observes=(
        Observation("pressure", "pressure"),
        Observation("turn", "words", instrument="turn"),
        Observation("torque", "torque", instrument="torque"),
    ),
)
LET_GO = frozenset({"vent-shut", "gone-back", "released"})
"""Entries after which there was no pressure on it."""


def turns_of(entries: Sequence[Entry]) -> list[Turned]:
    """What was seen at each part of a turn, in order; without a pressure it was seen at none."""
    torques = {
        str(entry.data["place"]): entry.data.get("value")
        for entry in entries
        if entry.kind == "observed" and entry.data.get("what") == "torque"
    }
    return [
        Turned.model_construct(
            turn=int(entry.data["place"]) / EIGHTHS,
            shows=entry.data["word"],
            pressure=max(0.0, entry.data.get("pressure") or 0.0),
            bubbles=entry.data.get("value"),
            torque=torques.get(str(entry.data["place"])),
        )
        for entry in entries
        if entry.kind == "observed" and entry.data.get("what") == "turn"
    ]


def judged(sheet: VesselSheet, answer: DeriveAnswer, entries: Sequence[Entry]) -> TighteningAnswer:
    """What its turns show so far; pressures are the gauge's."""
    return judge_tightening(
        TighteningSheet.model_construct(
            procedure="tightening",
            target=answer.gauge_target,
            joint=sheet.joint,
            turns=turns_of(entries),
            torque_wrench=sheet.torque_wrench,
        )
    )


def contradicts(entries: Sequence[Entry], place: str, read: datetime.datetime | None) -> Said | None:
    """Why a turn cannot be, after what was written: it is let go before it is turned on, and the gauge is read again
    before it is looked at; None where it can.

    read  when the gauge was read last; None where it never was
    """
    last, let_go = None, None
    for entry in entries:
        if entry.kind in LET_GO and not entry.data.get("to"):
            last, let_go = None, entry.at
        elif entry.kind == "observed" and entry.data.get("what") == "turn":
            last = int(entry.data["place"])
    if last is not None and int(place) > last:
        return say("step.turn-release")
    return say("step.turn-unread") if read is None or (let_go is not None and read < let_go) else None

"""Whether steam or gas may be let into a vessel: its cold proof has to stand today, for the pressure that is wanted."""

from toadbell.core.judge.answers import LedgerAnswer
from toadbell.core.phrases import Said, say


def may_steam(found: LedgerAnswer, wanted: float) -> Said | None:
    """Why it may not: its proof is not on record, not met, lapsed or voided, or was for less. None where it may.

    found   the vessel's ledger; a steam trial that was not passed does not stand in the way of another
    wanted  that it is to be steamed at, Pa
    Source: procedures, steam: proof passed since the last structural mend.
    """
    return _unproven(found, wanted, "")


GAS_UNPROVEN = 0.5
"""Before its strength is shown cold, gas is let in up to so much of what is wanted of it, to look for leaks."""


def may_take_gas(found: LedgerAnswer, pressure: float, wanted: float) -> Said | None:
    """Why gas may not be let in: at this pressure it stores what a wall that was never proven would let go at once.

    None where it may, and for kinds of which no proof is asked.

    found     the vessel's ledger
    pressure  of the trial under gas, Pa
    wanted    of the vessel in service, Pa
    Source: procedures, tightness; a proof under water comes before gas at the full pressure.
    """
    asked = any(line.code == "proof" and line.asked for line in found.lines)
    if not asked or pressure <= GAS_UNPROVEN * wanted * (1 + 1e-6):
        return None
    return _unproven(found, pressure, "-gas", most=GAS_UNPROVEN * wanted)


def _unproven(found: LedgerAnswer, wanted: float, form: str, **facts: float) -> Said | None:
    """That the cold proof does not stand for a pressure, Pa; None where it does."""
    proof = next((line for line in found.lines if line.code == "proof"), None)
    if proof is not None and proof.state != "met" and not proof.overruled:
        state = say(f"ledger.is-{proof.state.replace(' ', '-')}")
        return say(
            f"step.not-proven-cold{form}",
            says=say("ledger.but", line=proof.name, state=state, says=proof.says),
            **facts,
        )
    if found.cold is None:
        return say(f"step.not-proven-cold{form}", says=found.cold_why or say("ledger.no-trial"), **facts)
    if found.cold < wanted * (1 - 1e-6):
        return say(f"step.not-proven-so-far{form}", proven=found.cold, wanted=wanted, **facts)
    return None

"""Whether a boiler may be steamed: its cold proof has to stand today, for the pressure that is wanted."""

from toadbell.core.judge.answers import LedgerAnswer
from toadbell.core.phrases import Said, say


def may_steam(found: LedgerAnswer, wanted: float) -> Said | None:
    """Why it may not: its proof is not on record, not met, lapsed or voided, or was for less. None where it may.

    found   the vessel's ledger; a steam trial that was not passed does not stand in the way of another
    wanted  that it is to be steamed at, Pa
    Source: procedures, steam: proof passed since the last structural mend.
    """
    proof = next((line for line in found.lines if line.code == "proof"), None)
    if proof is not None and proof.state != "met" and not proof.overruled:
        state = say(f"ledger.is-{proof.state.replace(' ', '-')}")
        return say("step.not-proven-cold", says=say("ledger.but", line=proof.name, state=state, says=proof.says))
    if found.cold is None:
        return say("step.not-proven-cold", says=found.cold_why or say("ledger.no-trial"))
    if found.cold < wanted * (1 - 1e-6):
        return say("step.not-proven-so-far", proven=found.cold, wanted=wanted)
    return None

"""Whether a boiler may be steamed: its cold proof has to stand today, for the pressure that is wanted."""

from toadbell.core.judge.answers import LedgerAnswer
from toadbell.core.phrases import Said, say


def may_steam(found: LedgerAnswer, wanted: float) -> Said | None:
    """Why it may not: its proof is not on record, not met, lapsed or voided, or was for less. None where it may.

    found   the vessel's ledger
    wanted  that it is to be steamed at, Pa
    Source: procedures, steam: proof passed since the last structural mend.
    """
    if found.answer == "not fit":
        return say("step.not-proven-cold", says=found.why or found.says)
    proof = next((line for line in found.lines if line.code == "proof"), None)
    if proof is None:
        return say("step.not-proven-cold", says=say("ledger.no-trial"))
    if proof.state != "met" and not proof.overruled:
        state = say(f"ledger.is-{proof.state.replace(' ', '-')}")
        return say("step.not-proven-cold", says=say("ledger.but", line=proof.name, state=state, says=proof.says))
    if found.pressure is None or found.pressure < wanted * (1 - 1e-6):
        return say("step.not-proven-so-far", proven=found.pressure, wanted=wanted)
    return None

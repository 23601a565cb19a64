"""The kinds of trial, the only list of them: each a module of its own that says what it asks for, plans, observes and
proves.
"""

from toadbell.core.procedures.baseline import BASELINE
from toadbell.core.procedures.burst import BURST
from toadbell.core.procedures.expansion import EXPANSION
from toadbell.core.procedures.gas_head import GAS_HEAD
from toadbell.core.procedures.procedure import Observation, Procedure
from toadbell.core.procedures.proof import PROOF
from toadbell.core.procedures.relief import RELIEF
from toadbell.core.procedures.steam import STEAM
from toadbell.core.procedures.tightening import TIGHTENING
from toadbell.core.procedures.tightness import TIGHTNESS

PROCEDURES: dict[str, Procedure] = {
    procedure.id: procedure
    for procedure in (PROOF, TIGHTNESS, RELIEF, STEAM, EXPANSION, TIGHTENING, GAS_HEAD, BASELINE, BURST)
}
"""Every kind of trial by its id."""

__all__ = ["PROCEDURES", "Observation", "Procedure"]

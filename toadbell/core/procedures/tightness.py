"""The tightness trial: a pressure up to the wanted one, under air or water, soaped and held.

It shows that a vessel is tight at that pressure on that day, and claims no strength.
"""

from toadbell.core.judge.hold import judge
from toadbell.core.kinds import KINDS
from toadbell.core.ledger.evidence import ledger
from toadbell.core.procedures.derive import derive
from toadbell.core.procedures.procedure import Observation, Procedure
from toadbell.core.run.steps import STEPS

TIGHTNESS = Procedure(
    id="tightness",
    proves="tightness",
    kinds=frozenset(KINDS),
    plan=derive,
    steps=tuple(STEPS.values()),
    observes=(Observation("pressure", "pressure"), Observation("temperature", "temperature")),
    judge=judge,
    evidence=ledger,
)

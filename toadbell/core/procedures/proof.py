"""The proof: raised in stages over the working pressure, held, and judged by what leaked.

Strength where its basis proves it.
"""

from toadbell.core.derive import derive
from toadbell.core.judge.hold import judge
from toadbell.core.kinds import KINDS
from toadbell.core.ledger.evidence import ledger
from toadbell.core.procedures.procedure import Observation, Procedure
from toadbell.core.run.steps import STEPS

PROOF = Procedure(
    id="proof",
    proves="strength",
    kinds=frozenset(KINDS),
    plan=derive,
    steps=tuple(STEPS.values()),
    observes=(
        Observation("pressure", "pressure"),
        Observation("water temperature", "temperature"),
        Observation("strokes", "count"),
        *(Observation(what, "volume", instrument=what) for what in ("water-in", "water-back", "burette")),
        *(Observation(what, "length", instrument=what) for what in ("level", "girth")),
    ),
    judge=judge,
    evidence=ledger,
    before={"sheet-tank": ("gas-free",)},
)

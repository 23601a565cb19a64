"""The tightness trial: a pressure up to the wanted one, under air or water, soaped and held.

It shows that a vessel is tight at that pressure on that day, and claims no strength. It is planned, run and judged as a
proof is.
"""

from dataclasses import replace

from toadbell.core.procedures.procedure import Observation
from toadbell.core.procedures.proof import PROOF

TIGHTNESS = replace(
    PROOF,
    id="tightness",
    proves="tightness",
    observes=(
        Observation("pressure", "pressure"),
        Observation("temperature", "temperature"),
        Observation("soap map", "words", instrument="soap"),
    ),
    before={"sheet-tank": ("gas-free",), "cask": ("swelled",)},
)

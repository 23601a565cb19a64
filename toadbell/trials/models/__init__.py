"""A trial and what it leaves behind."""

from toadbell.trials.models.chain import Chain
from toadbell.trials.models.finding import Finding
from toadbell.trials.models.log import Event, Reading
from toadbell.trials.models.signature import Beside, Signature
from toadbell.trials.models.sources import Device, ImportedFile
from toadbell.trials.models.states import Source, State
from toadbell.trials.models.trial import TAKEN, Stored, Trial
from toadbell.trials.models.verdict import Decision, Verdict

__all__ = [
    "TAKEN",
    "Beside",
    "Chain",
    "Decision",
    "Device",
    "Event",
    "Finding",
    "ImportedFile",
    "Reading",
    "Signature",
    "Source",
    "State",
    "Stored",
    "Trial",
    "Verdict",
]

"""What is stored of plans, verdicts and advice: documents with the number of their schema, which every later release
opens.

A document is written in one form and read from any: `upgrade` brings an older one up, a step for each number. One of a
schema
that is not known yet is refused in words, as is one that lacks what it should have.
"""

from toadbell.core.documents.records import (
    FrozenPlan,
    keep_advice,
    keep_plan,
    keep_points,
    keep_verdict,
    read_advice,
    read_plan,
    read_points,
    read_verdict,
)
from toadbell.core.documents.upgrade import SCHEMAS, Unreadable, upgraded

__all__ = [
    "SCHEMAS",
    "FrozenPlan",
    "Unreadable",
    "keep_advice",
    "keep_plan",
    "keep_points",
    "keep_verdict",
    "read_advice",
    "read_plan",
    "read_points",
    "read_verdict",
    "upgraded",
]

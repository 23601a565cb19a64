"""Which decision stands for a vessel: the last one, but for trials that were never to prove strength and found nothing against it."""

import uuid
from collections.abc import Iterable

from toadbell.core.plan.bases import BASES
from toadbell.trials.models import Decision


def standing_decisions(decisions: Iterable[Decision]) -> dict[uuid.UUID, Decision]:
    """By vessel, the decision that stands. A relief or tightness trial that proves nothing takes nothing away from an earlier proof."""
    found: dict[uuid.UUID, Decision] = {}
    for decision in sorted(decisions, key=lambda one: one.trial.number):
        vessel = decision.trial.vessel_id
        proven = vessel in found and found[vessel].fitness in ("fit", "limited")
        if not (proven and proves_nothing(decision)):
            found[vessel] = decision
    return found


def proves_nothing(decision: Decision) -> bool:
    """Was it a tight trial on a basis that proves no strength, and left at “not proven”?"""
    basis = BASES.get(((decision.trial.frozen or {}).get("answer") or {}).get("basis", ""))
    verdict = getattr(decision.trial, "verdict", None)
    tight = verdict is not None and verdict.answer["verdict"] == "tight"
    return decision.fitness == "not proven" and basis is not None and not basis.strength and tight

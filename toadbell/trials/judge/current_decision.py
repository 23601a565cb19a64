"""Which decision stands for a vessel: the last one, but for trials that were never to prove strength and found nothing
against it.
"""

import uuid
from collections.abc import Iterable

from django.db.models import QuerySet
from django.utils import timezone

from toadbell.core.judge.answers import TagNow
from toadbell.core.ledger.voiding import Decided, tag_now
from toadbell.core.plan.bases import BASES
from toadbell.shed.drawn import shelved
from toadbell.shed.models import Vessel
from toadbell.trials.models import Decision


def decisions() -> QuerySet[Decision]:
    """Every decision with as much of its trial as tells which of them stands; what is long is left where it lies."""
    long = (
        "advice",
        "trial__sheet",
        "trial__frozen",
        "trial__rig",
        "trial__verdict__answer",
        "trial__verdict__sheet",
        "trial__verdict__points",
    )
    return Decision.objects.select_related("trial__verdict").defer(*long)


def standing_decisions(decisions: Iterable[Decision]) -> dict[uuid.UUID, Decision]:
    """By vessel, the decision that stands.

    A relief or tightness trial that proves no strength takes nothing away from an earlier proof, nor does it lift a
    “not fit” that a trial of strength ended in.

    Practice on the simulated rig neither proves nor takes away.
    """
    found: dict[uuid.UUID, Decision] = {}
    for decision in sorted(decisions, key=lambda one: one.trial.number):
        if decision.trial.practice:
            continue
        vessel = decision.trial.vessel_id
        if not (vessel in found and outweighs(found[vessel]) and proves_nothing(decision)):
            found[vessel] = decision
    return found


def outweighs(decision: Decision) -> bool:
    """Does it stand against any trial that claims no strength: a proof, or a “not fit” of a trial of strength?"""
    basis = BASES.get(decision.trial.basis)
    failed = decision.fitness == "not fit" and (basis is None or basis.strength)
    return decision.fitness in ("fit", "limited") or failed


def proves_nothing(decision: Decision) -> bool:
    """Was it a tight trial on a basis that proves no strength, and left at “not proven” or “tight”?"""
    basis = BASES.get(decision.trial.basis)
    verdict = getattr(decision.trial, "verdict", None)
    tight = verdict is not None and verdict.called == "tight"
    return decision.fitness in ("not proven", "tight") and basis is not None and not basis.strength and tight


def tag_of(vessel: Vessel, decision: Decision) -> TagNow:
    """What of the decision that stands for a vessel still stands today, by what happened since and by its figures as
    they are now.
    """
    decided = Decided(decision.fitness, decision.pressure, timezone.localtime(decision.at))  # type: ignore[arg-type]
    found = shelved(vessel.kind, vessel.sheet)
    if found.problem:
        says = f"Its figures cannot be worked out: {found.problem}. Mend them on its page."
        return TagNow(fitness="not proven", pressure=None, says=says)
    limits = [found.limit, ("the plate", found.plate)]
    known = [(name, limit) for name, limit in limits if limit is not None]
    return tag_now(decided, vessel.happened(), known, found.retire, timezone.localdate())

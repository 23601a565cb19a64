"""What a vessel kept in one proof beside what it kept in another.

A wall that has settled in a first proof keeps nothing in a second at the same pressure.
"""

from dataclasses import dataclass

from toadbell.core.judge.checks import Check, state_of
from toadbell.core.judge.expansion import ExpansionAnswer, Figure
from toadbell.core.phrases import Said, say

SETTLES = 0.5
"""Kept so much of what it kept before, at no more pressure, it did not settle."""
AS_HIGH = 1.02
"""So much over what it saw before is no more pressure."""


@dataclass(frozen=True)
class Proof:
    """What was measured of a vessel's expansion in a trial by its number, at a pressure, Pa."""

    number: int
    pressure: float
    grown: ExpansionAnswer


def surely_kept(grown: ExpansionAnswer) -> Figure | None:
    """What stayed, where surely something did."""
    kept = grown.permanent
    return kept if kept is not None and kept.low is not None and kept.low > 0 else None


def beside(now: Proof, before: Proof) -> ExpansionAnswer:
    """What a trial shows of its expansion, with what the last before it adds to that: worse together, it is not met."""
    found = kept_again(now, before)
    if found is None:
        return now.grown
    surely, says = found
    again = Check(code="again", name=say("expansion.again"), state=state_of(False if surely else None), says=says)
    checks = [*now.grown.checks, again]
    failed = [say("expansion.but", name=one.name, says=one.says) for one in checks if one.state == "not met"]
    if failed:
        changes = {"answer": "not met", "says": say("expansion.failed", why=failed), "settle_it": []}
    elif now.grown.answer == "met":
        settle = [say("expansion.settle-again", pressure=now.pressure)]
        changes = {"answer": "cannot-tell", "says": say("expansion.cannot-tell", why=says), "settle_it": settle}
    else:
        changes = {}
    return now.grown.model_copy(update={**changes, "checks": checks})


def kept_again(now: Proof, before: Proof) -> tuple[bool, Said] | None:
    """Why two proofs together are worse than each by itself, and whether that is sure; None where they are not, or one
    of them cannot tell.

    It kept at no more pressure as much as half of what it kept before: what yields goes on yielding. Or both together
    are over what one is let keep.
    """
    kept, kept_before, total = surely_kept(now.grown), surely_kept(before.grown), now.grown.total
    if kept is None or kept_before is None or total is None:
        return None
    facts = {"number": before.number, "kept": kept.estimate, "before": kept_before.estimate}
    if now.pressure <= before.pressure * AS_HIGH and kept.estimate > SETTLES * kept_before.estimate:
        return True, say("expansion.again-unsettled", pressure=now.pressure, was_at=before.pressure, **facts)
    both, least = kept.estimate + kept_before.estimate, (kept.low or 0.0) + (kept_before.low or 0.0)
    most = total.high if total.high is not None else total.estimate
    if both <= now.grown.limit * total.estimate:
        return None
    ratio, limit = 100 * both / total.estimate, 100 * now.grown.limit
    return least > now.grown.limit * most, say("expansion.again-both", ratio=ratio, limit=limit, **facts)

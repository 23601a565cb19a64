"""The lines of working behind a plan's figures, in the order a person would work them out."""

from toadbell.core.answers import DeriveAnswer
from toadbell.core.lines import Line
from toadbell.core.plan.context import PlanContext
from toadbell.core.plan.lines.content import content_lines
from toadbell.core.plan.lines.guards import guard_lines
from toadbell.core.plan.lines.hold import hold_lines
from toadbell.core.plan.lines.limits import limit_lines
from toadbell.core.plan.lines.target import stage_lines, target_lines


def lines_of(w: PlanContext, answer: DeriveAnswer) -> list[Line]:
    """A line for each figure of the answer that is known."""
    return [
        *target_lines(w, answer),
        *limit_lines(w, answer),
        *content_lines(w, answer),
        *hold_lines(w, answer),
        *guard_lines(w, answer),
        *stage_lines(w, answer),
    ]

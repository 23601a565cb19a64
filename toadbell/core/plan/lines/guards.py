"""The lines of the guards: from where each takes its limit."""

from toadbell.core.answers import DeriveAnswer
from toadbell.core.lines import Line, line_of
from toadbell.core.phrases import amount, joined
from toadbell.core.plan.context import PlanContext

SOURCE = "handbook of the job, abort rules"


def guard_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    """A line for each guard that has a limit."""
    found: list[Line] = []
    for guard in a.guards:
        if guard.limit is None:
            continue
        at = guard.limit
        if guard.code == "air":
            litres, part = amount(a.volume or 0.0, "volume", "L"), at / (a.volume or 1.0)
            shown = amount(at, "volume", "mL", figures=3)
            found += line_of(
                "guards.air",
                "V_a,max",
                f"{part:g} V",
                joined(f"{part:g} × ", litres),
                at,
                "m³",
                shown,
                joined(SOURCE, ": 0.1 %, 0.5 % at low energy"),
            )
        elif guard.code == "strokes":
            found += line_of(
                "guards.strokes",
                "r_max",
                "stop over",
                f"{at:g}",
                at,
                "1",
                f"{at:g} ×",
                joined(SOURCE, ": 1.5 ×, failed over 2 ×"),
            )
        else:
            where = {
                "ceiling": "the ceiling, as the gauge reads it",
                "overshoot": "the end of the test band",
                "no-lift": "P_set + its tolerance + what the gauge may be out, within 1.1 × what the vessel may see",
                "over-steam": "1.1 × P_w",
                "late-valve": "P_set + its tolerance, at most 1.1 × P_w",
            }.get(
                guard.code,
                "the ceiling, as the gauge reads it" if a.ceiling.known else "1.1 P_target, where no ceiling is known",
            )
            found += line_of(f"guards.{guard.code}", "P_guard", where, w.show(at), at, "Pa", w.show(at), SOURCE)
    return found

"""How long to hold, where to look afterwards, and what the hold can tell."""

from toadbell.core.answers import DeriveAnswer, LowHoldsAnswer
from toadbell.core.lines import Line, line_of
from toadbell.core.phrases import amount, joined
from toadbell.core.plan.context import PlanContext


def hold_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    """A line for each figure of the hold that is known."""
    hold = a.hold
    long, every = _minutes(hold.minimum), f"{hold.every:.0f} s"
    own = w.sheet.hold.every if w.sheet.hold else None
    look = w.show(hold.look_pressure)
    return [
        *line_of(
            "hold.minimum",
            "t_hold",
            "as asked" if w.sheet.hold else "the basis's own",
            long,
            hold.minimum,
            "s",
            long,
            "the plan",
        ),
        *line_of(
            "hold.every",
            "t_read",
            "as asked" if own else "max(10, min(300, t_hold/15))",
            every if own else f"t_hold = {hold.minimum:.0f}",
            hold.every,
            "s",
            every,
            "some fifteen readings, in seconds",
        ),
        *line_of(
            "hold.look_pressure",
            "P_look",
            "where the close look is taken",
            look,
            hold.look_pressure,
            "Pa",
            look,
            "the basis",
        ),
        *line_of(
            "hold.accepted_leak",
            "q_limit",
            "the acceptance as a leak, ΔV(P_t, ΔP)/Δt",
            _leak(hold.accepted_leak),
            hold.accepted_leak,
            "m³/s",
            _leak(hold.accepted_leak),
            "the plan, and C",
        ),
        *line_of(
            "hold.smallest_leak",
            "q_tell",
            "2.8 σ_q of a straight line through the hold",
            joined(long, ", a reading every ", every),
            hold.smallest_leak,
            "m³/s",
            _leak(hold.smallest_leak),
            "generalised least squares: gauge, thermometer, what nobody saw",
        ),
        *line_of(
            "hold.needed",
            "t_needed",
            "shortest hold with q_tell ≤ q_limit",
            _leak(hold.accepted_leak),
            hold.needed,
            "s",
            _minutes(hold.needed),
            "the same",
        ),
        *line_of(
            "hold.settle",
            "t_settle",
            "30 min, more as ∛V beyond 0.2 m³",
            "" if w.volume is None else joined("V = ", amount(w.volume, "volume", figures=3)),
            hold.settle,
            "s",
            _minutes(hold.settle),
            "procedures, gas-head",
        ),
        *_low(w, hold.low),
    ]


def _low(w: PlanContext, low: LowHoldsAnswer | None) -> list[Line]:
    """The low holds beside it: how long, how high, and what the hold tells with them."""
    if low is None:
        return []
    long, at = _minutes(low.long), w.show(low.pressure)
    formula = "as asked" if low.chosen else "ten minutes"
    numbers = joined("two of ", long, " at ", at)
    both = "the same, one drift v(t) through all three stretches"
    tells = _leak(low.smallest_leak)
    return [
        *line_of("hold.low.long", "t_low", formula, long, low.long, "s", long, "the plan"),
        *line_of("hold.low.pressure", "P_low", "the first stage", at, low.pressure, "Pa", at, "the stages"),
        *line_of(
            "hold.low.smallest_leak", "q_tell", both, numbers, low.smallest_leak, "m³/s", tells, "procedures, low holds"
        ),
    ]


def _leak(q: float | None) -> str:
    return "" if q is None else amount(q, "leak", "mL/h", figures=3)


def _minutes(time: float | None) -> str:
    return "" if time is None else amount(time, "time")

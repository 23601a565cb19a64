"""What the vessel can bear, what it may work at, and what each part and plug sees."""

from toadbell.core import units
from toadbell.core.answers import DeriveAnswer
from toadbell.core.lines import Line, line_of
from toadbell.core.phrases import joined
from toadbell.core.plan.context import PlanContext, numbers_of
from toadbell.core.vessel.burst import expected_burst
from toadbell.core.vessel.parts import TEST_FRACTION, Part
from toadbell.core.vessel.wear import YEAR


def _expected(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    """Where the shell is expected to burst."""
    found = expected_burst(w.sheet)
    if found is None or a.expected_burst is None:
        return []
    at = w.show(found.pressure, 3)
    return line_of("expected_burst", "P_b", found.formula, w.numbers_of_shell(), found.pressure, "Pa", at, found.source)


def limit_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    """Ceiling, allowable, the highest pressure that can be proven, and a line for each part and each end force."""
    fraction = TEST_FRACTION[w.sheet.medium]
    at_test = f"; S = {fraction:.2f} × yield, E = 1"
    return [
        *_expected(w, a),
        *_governing("ceiling", "P_ceiling", w, w.top.pressure, w.top.set_by, at_test),
        *_governing("allowable", "P_allowable", w, w.may_work.pressure, w.may_work.set_by, "; t less corrosion"),
        *_provable_lines(w, a),
        *(line for part in w.parts for line in _part_lines(w, part, at_test)),
        *_force_lines(w, a),
        *_growth_lines(w, a),
        *_wear_lines(w),
    ]


def _governing(figure: str, symbol: str, w: PlanContext, pressure: float | None, set_by: str, note: str) -> list[Line]:
    """The limit by the part that sets it, or as a fitting or the maker states it."""
    named = {
        name: part
        for part in w.parts
        for name in (part.name, joined(part.name, f", {TEST_FRACTION[w.sheet.medium]:.2f} yield"))
    }
    part, shown = named.get(set_by), w.show(pressure or 0.0)
    if part is None:
        return line_of(figure, symbol, joined("the lowest limit: ", set_by), shown, pressure, "Pa", shown, set_by)
    inputs = part.at_test if figure == "ceiling" else part.in_service
    return line_of(
        figure,
        symbol,
        part.form.written,
        joined(part.name, ": ", numbers_of(w, inputs)),
        pressure,
        "Pa",
        shown,
        part.form.source + note,
    )


def _provable_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    if w.top.pressure is None or not w.factor:
        return []
    numbers = joined(w.show(w.top.pressure), f" / {w.factor:g}")
    plate = "" if w.sheet.plate_pressure is None else joined(", plate ", w.show(w.sheet.plate_pressure))
    may = "" if w.may_work.pressure is None else joined(", allowable ", w.show(w.may_work.pressure))
    return [
        *line_of(
            "highest_provable",
            "P_provable",
            "P_ceiling / factor",
            numbers,
            a.highest_provable,
            "Pa",
            w.show(a.highest_provable or 0.0),
            "what this basis can prove here",
        ),
        *line_of(
            "offer",
            "P_offer",
            "least of (P_ceiling − ρ g h) / factor, plate, allowable; rounded down",
            joined("ceiling ", w.show(w.top.pressure), f", factor {w.factor:g}", plate, may),
            a.offer,
            "Pa",
            w.show(a.offer or 0.0),
            "the highest pressure that may be asked for on this basis",
        ),
    ]


def _part_lines(w: PlanContext, part: Part, at_test: str) -> list[Line]:
    """A part's limit at test and what it may work at; the figure is the part's name under `parts`."""
    tested, working = w.show(part.test_limit or 0.0), w.show(part.allowable or 0.0)
    figure, form = f"parts.{part.name}", part.form
    return [
        *line_of(
            f"{figure}.test_limit",
            "P_max",
            form.written,
            numbers_of(w, part.at_test),
            part.test_limit,
            "Pa",
            tested,
            form.source + at_test,
        ),
        *line_of(
            f"{figure}.allowable",
            "P_may",
            form.written,
            numbers_of(w, part.in_service),
            part.allowable,
            "Pa",
            working,
            form.source,
        ),
    ]


def _force_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    sizes = {f.name: f.sealed_diameter for f in w.sheet.fittings}
    across = w.sheet.shell.inside_diameter if w.sheet.shell else 0.0
    found = []
    for f in a.end_forces:
        d = across if f.closure else sizes[f.name] or 0.0
        shown = f"{f.force:.4g} N ({f.force / units.GRAVITY:.3g} kgf)"
        numbers = joined("P = ", w.show(w.pressure), ", d = ", w.long(d))
        found += line_of(
            f"end_forces.{f.name}", "F", "P π d²/4", numbers, f.force, "N", shown, "pressure on the sealed area"
        )
    return found


def _growth_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    shell, was = w.sheet.shell, w.sheet.proven
    growth = a.growth.hoop_stress if a.growth else None
    if shell is None or was is None or shell.thinnest is None or growth is None:
        return []
    now = joined(
        "P = ",
        w.show(w.sheet.working_pressure),
        ", D = ",
        w.long(shell.inside_diameter),
        ", t = ",
        w.long(shell.thinnest),
    )
    then = joined("P_0 = ", w.show(was.pressure), ", D_0 = ", w.long(was.inside_diameter), ", t_0 = ", w.long(was.wall))
    return line_of(
        "growth.hoop_stress",
        "Δσ/σ",
        "P D/t / (P_0 D_0/t_0) − 1",
        joined(now, ", ", then),
        growth,
        "1",
        f"{growth:+.0%}",
        "thin-shell hoop stress",
    )


def _wear_lines(w: PlanContext) -> list[Line]:
    wear = w.wear
    if wear is None:
        return []
    thinnest, rate = w.long(wear.thinnest), "" if wear.loss is None else f"{wear.loss * YEAR * 1000:.4g} mm/year"
    least = "" if wear.least is None else w.long(wear.least)
    years = "" if wear.left is None else f"{wear.left / YEAR:.3g} years"
    return [
        *line_of(
            "wall.thinnest",
            "t",
            "thinnest of the nominal wall and the readings",
            thinnest,
            wear.thinnest,
            "m",
            thinnest,
            "the sheet",
        ),
        *line_of(
            "wall.least",
            "t_least",
            "the wall at which P_may is the wanted pressure",
            w.show(w.sheet.working_pressure),
            wear.least,
            "m",
            least,
            "the shell's form, solved for t",
        ),
        *line_of("wall.loss", "r", wear.seen_since, rate, wear.loss, "m/s", rate, "wall readings"),
        *line_of(
            "wall.left",
            "t_left",
            "(t − t_least) / r",
            joined("t = ", thinnest, ", t_least = ", least, ", r = ", rate),
            wear.left,
            "s",
            years,
            "as fast as it went so far",
        ),
    ]

"""How the base pressure becomes the test pressure, and the test its stages."""

from toadbell.core import units
from toadbell.core.answers import DeriveAnswer, StageAnswer
from toadbell.core.lines import Line, line_of
from toadbell.core.phrases import amount, joined
from toadbell.core.physics.water import ROOM, water_density
from toadbell.core.plan import bases
from toadbell.core.plan.context import TOLERANCE, PlanContext
from toadbell.core.plan.lines.content import pumped_line
from toadbell.core.vessel.parts import working_temperature


def target_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    """Base, λ, test pressure and what the gauge must read."""
    base = {
        "wanted": "the pressure wanted",
        "plate": "what the plate says",
        "relief": "what the relief valve is set at",
        "steam": "what the relief valve is set at",
    }[w.sheet.base]
    t = w.show(w.target, 5)
    test: str = w.show(w.pressure)
    if bases.BASES[w.basis].column:
        test = joined(test, " (", amount(w.pressure, "pressure", "mmH2O"), ")")
    return [
        *line_of("test_pressure", "P_t", *_rule(w, w.basis), w.pressure, "Pa", test, bases.BASES[w.basis].source),
        *line_of("base_pressure", "P_b", base, w.show(w.base), w.base, "Pa", w.show(w.base), "the sheet"),
        *_ratio_lines(w, a),
        *line_of(
            "gauge_target",
            "P_gauge",
            "P_t + ρ g (z_top − z_gauge)" if w.head else "P_t",
            _with_head(w, w.pressure),
            w.target,
            "Pa",
            t,
            "hydrostatics: the highest point must see P_t",
        ),
        *line_of(
            "target_band",
            "P_max",
            *_band_rule(w, t),
            w.band_top,
            "Pa",
            w.show(w.band_top),
            "tolerance −0 / +5 %, never above the ceiling",
        ),
        *_gauge_lines(w, a),
        *_working_temperature_lines(w),
        *line_of(
            "gauge_head",
            "ΔP_head",
            "ρ g Δz",
            _head_numbers(w),
            a.gauge_head,
            "Pa",
            w.show(a.gauge_head or 0.0, 3),
            "the gauge hangs Δz below the highest point",
        ),
        *(
            line
            for basis in a.bases
            for line in line_of(
                f"bases.{basis.id}",
                "P_t",
                *_rule(w, basis.id),
                basis.test_pressure,
                "Pa",
                w.show(basis.test_pressure or 0.0),
                basis.source,
            )
        ),
    ]


def _band_rule(w: PlanContext, target: str) -> tuple[str, str]:
    if w.band_top < TOLERANCE * w.target * (1 - 1e-9):
        return "the ceiling, as the gauge reads it", w.show(w.band_top)
    return "1.05 × P_gauge", joined("1.05 × ", target)


def _working_temperature_lines(w: PlanContext) -> list[Line]:
    """How warm the metal is at work; of a boiler at least its steam's temperature."""
    at, sheet = working_temperature(w.sheet), w.sheet
    shown = amount(at, "temperature", figures=3)
    steam = sheet.kind == "boiler" and at > (sheet.design_temperature or 0.0)
    rule, numbers = (
        ("T_sat(P)", joined("steam at ", w.show(sheet.working_pressure)))
        if steam
        else ("as stated, at least room temperature", joined("metal at ", shown))
    )
    source = "saturation, IAPWS-95 through CoolProp" if steam else "the sheet"
    return line_of("working_temperature", "T_w", rule, numbers, at, "K", shown, source)


def _with_head(w: PlanContext, pressure: float) -> str:
    """A pressure (Pa) with what the gauge reads more or less for where it hangs."""
    if not w.head:
        return w.show(pressure)
    return joined(w.show(pressure), " ", "+" if w.head > 0 else "−", " ", w.show(abs(w.head), 2))


def _head_numbers(w: PlanContext) -> str:
    density = water_density(w.sheet.water_temperature or ROOM)
    below = w.head / density / units.GRAVITY
    return joined(f"ρ = {density:.5g} kg/m³, g = {units.GRAVITY:g} m/s², Δz = ", w.long(below) if below else "0 mm")


def _rule(w: PlanContext, basis: str) -> tuple[str, str]:
    """A basis's rule in symbols, and with its numbers."""
    rule, factor, base = bases.BASES[basis], bases.total_factor(basis, w.sheet), w.show(w.base)
    if rule.by == "relief":
        return rule.rule, w.show(w.sheet.relief_set or 0.0)
    if factor is None:
        return rule.rule, w.show(bases.test_pressure(basis, w.sheet) or 0.0)
    if rule.uses_lambda:
        return rule.rule, joined(
            "P_b = ", base, f", λ = {bases.lowest_stress_ratio(w.sheet, european=rule.european):.5g}"
        )
    return rule.rule, joined(f"{factor:g} × ", base)


def _ratio_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    european = bases.BASES[w.basis].european
    stresses = bases.governing_stresses(w.sheet, european=european)
    if a.stress_ratio is None or stresses is None:
        return []
    cold, hot = (amount(stress, "stress", "MPa") for stress in stresses)
    return line_of(
        "stress_ratio",
        "λ",
        "max(1, S_cold / S_hot)",
        joined("S_cold = ", cold, ", S_hot = ", hot),
        a.stress_ratio,
        "1",
        f"{a.stress_ratio:.3g}",
        "EN 13445-5; f of EN 10028-2" if european else "ASME BPVC VIII-1, UG-99(b); stresses of Section II Part D",
    )


def _gauge_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    gauge = w.sheet.gauge
    if gauge is None or gauge.accuracy_class is None or a.gauge_error is None:
        return []
    return line_of(
        "gauge_error",
        "ΔP_class",
        "class × full scale",
        joined(f"{gauge.accuracy_class / 100:g} × ", w.show(gauge.range)),
        a.gauge_error,
        "Pa",
        w.show(a.gauge_error, 2),
        "the gauge's class",
    )


def stage_lines(w: PlanContext, a: DeriveAnswer) -> list[Line]:
    """Each stage's target, what is pumped for it, and its strokes; under `stages` and its number from 1."""
    approach, proved = (
        w.show(a.approach_pressure),
        w.sheet.proven_before is not None and a.approach_pressure > 0.25 * w.pressure,
    )
    steamed = a.procedure == "steam"
    found = line_of(
        "approach_pressure",
        "P_near",
        "the whole of it: a fire is never left" if steamed else "wanted, proved before" if proved else "0.25 × P_t",
        approach if proved or steamed else joined("0.25 × ", w.show(w.pressure)),
        a.approach_pressure,
        "Pa",
        approach,
        "zones of a proof test",
    )
    for number, stage in enumerate(a.stages, 1):
        figure, shown = f"stages.{number}", w.show(stage.target, 5)
        found += line_of(
            f"{figure}.target", "P_stage", *_stage_rule(w, stage), stage.target, "Pa", shown, "stages of a proof test"
        )
        found += pumped_line(w, f"{figure}.pumped", stage.target, stage.pumped)
        found += strokes_line(w, f"{figure}.strokes", stage.pumped, stage.strokes)
    return [*found, *strokes_line(w, "pump.strokes", a.pump.volume, a.pump.strokes)]


def _stage_rule(w: PlanContext, stage: StageAnswer) -> tuple[str, str]:
    if w.sheet.stages and stage.id != "test":
        return "as set", w.show(stage.target, 5)
    if abs(stage.target - w.sheet.working_pressure - w.head) < 1.0:
        wanted = w.show(w.sheet.working_pressure)
        return (
            ("P_wanted + ρ g (z_top − z_gauge)", _with_head(w, w.sheet.working_pressure))
            if w.head
            else ("P_wanted", wanted)
        )
    part = stage.target / w.target
    return f"{part:.3g} × P_gauge", joined(f"{part:.3g} × ", w.show(w.target, 5))


def strokes_line(w: PlanContext, figure: str, pumped: float | None, strokes: float | None) -> list[Line]:
    """Strokes for a pumped volume (m³)."""
    if pumped is None or strokes is None or w.sheet.pump is None or w.sheet.pump.stroke is None:
        return []
    numbers = joined(
        "V_p = ", amount(pumped, "volume", "mL"), ", V_stroke = ", amount(w.sheet.pump.stroke, "volume", "mL")
    )
    return line_of(figure, "n", "V_p / V_stroke", numbers, strokes, "1", f"{strokes:.3g}", "the pump's displacement")

"""The verdict, and the sentences a person would say."""

from typing import Literal

from toadbell.core.judge.answers import JudgeAnswer, LeakEstimate
from toadbell.core.lines import Line
from toadbell.core.phrases import Said, amount, joined, say

CONFIDENCE = 0.975
"""The handbook of the job asks for 97.5 %."""
DOUBTED = 0.995
"""So much is asked where gauge and thermometer contradict each other: one of them is wrong, and nobody knows by how
much.
"""
CONTRADICTS = 0.8
"""Probability that the thermometer went its own way from where they do."""
READINGS_SAY = 0.7
"""With low holds and no thermometer, so much of “tight” has to come from the readings alone: low holds bring a dial
near enough to its limit that how usual small leaks are would carry the rest (measured: docs/judge-study-low-holds.md).
"""
SO_FAR = 0.995
"""While the hold runs, anyone may look again and again and stop at the first answer he likes: it has to be surer then.
"""

Verdict = Literal["tight", "leaking", "cannot-tell"]


def decide(below: float, confidence: float = CONFIDENCE) -> Verdict:
    """Tight or leaking when the leak is below the limit, or above, with such a probability, else cannot tell.

    below  probability that the leak is no more than the limit
    """
    if below >= confidence:
        return "tight"
    return "leaking" if below <= 1 - confidence else "cannot-tell"


def show_leak(q: float) -> Said:
    """A leak as a person says it: in litres an hour from one on, which is air's way."""
    return amount(q, "leak", figures=2)


NONE = 0.02
"""A leak under this part of the limit is told as none."""


def told_as_none(leak: float, limit: float) -> bool:
    """Is a leak so far under the limit (both m³/s) that it is told as none?"""
    return leak < NONE * limit


def as_said(verdict: Verdict, leak: LeakEstimate) -> float:
    """The leak that its equivalents are given for, m³/s: what it is where it leaks, else the most that it may be."""
    return leak.estimate if verdict == "leaking" else leak.high


def sentence(
    verdict: Verdict, leak: LeakEstimate, limit: float, at: float, against: Said | None, *, by_day: bool = False
) -> Said:
    """The verdict in a sentence.

    leak, limit  m³/s
    at           the pressure that it speaks for, Pa
    against      why the hold says nothing of being tight, where something does
    by_day       leaks are told by the day
    """
    day = "-day" if by_day else ""
    if verdict == "tight":
        if told_as_none(leak.high, limit):
            return say(f"hold.tight-none{day}", at=at, limit=limit)
        return say(f"hold.tight{day}", at=at, most=min(leak.high, limit), limit=limit)
    if verdict == "leaking":
        return say(f"hold.leaking{day}", at=at, leak=leak.estimate, least=max(leak.low, limit), limit=limit)
    form = f"hold.between-none{day}" if leak.from_none else f"hold.between{day}"
    return say("hold.cannot-tell", why=against or say(form, at=at, least=leak.low, most=leak.high, limit=limit))


FELT = 0.005
"""Degrees that a person would not say, K."""


def seen_sentence(a: JudgeAnswer) -> Said:
    """What the needle did and what the temperature explains of it, from the figures."""
    still = abs(a.drop) < 1e-9
    if a.level_scale is not None:
        return _level_seen(a, still, a.level_scale)
    way = "still" if still else "fell" if a.drop > 0 else "rose"
    moved = say(f"hold.needle-{way}", by=abs(a.drop), over=a.hold)
    if a.outer_air is not None:
        rose = "rose" if a.outer_air >= 0 else "fell"
        outer = say(f"hold.outer-{rose}", by=abs(a.outer_air))
        moved = say(f"hold.column-{way}", outer=outer, by=abs(a.drop), over=a.hold)
    return say("hold.seen", moved=moved, explained=_explained(a, still))


def _level_seen(a: JudgeAnswer, still: bool, scale: float) -> Said:
    """The same of a level; scale  metres of it that a pascal stands for."""
    way = "still" if still else "fell" if a.drop > 0 else "rose"
    warm = a.drop_from_temperature
    if warm is None:
        explained = say("hold.warmth-unread")
    else:
        form = "hold.level-cooling" if warm > 0 else "hold.level-warming"
        explained = say(form, by=abs(warm) * scale)
    moved = say(f"hold.level-{way}", by=abs(a.drop) * scale, over=a.hold)
    return say("hold.seen", moved=moved, explained=explained)


def made_notes(a: JudgeAnswer) -> list[Said]:
    """What of the gas that a digester makes is lost at the most."""
    return [] if a.of_make is None else [say("hold.note-make", part=a.of_make)]


def beyond_notes(a: JudgeAnswer) -> list[Said]:
    """Why it is called tight though such a hold shows a leak as small as the limit in fewer than four of five."""
    if a.verdict != "tight" or a.smallest_leak_to_tell <= a.limit:
        return []
    return [say(f"hold.note-beyond{'-day' if a.by_day else ''}", told=a.smallest_leak_to_tell, limit=a.limit)]


def _explained(a: JudgeAnswer, still: bool) -> Said:
    """What the temperature explains of what the needle did."""
    warm = a.drop_from_temperature
    if warm is None:
        return say("hold.warmth-unread")
    if abs(warm) < 0.02 * max(abs(a.drop), abs(a.limit / a.compliance * a.hold)):
        return say("hold.warmth-none")
    went = "cooling" if warm > 0 else "warming"
    if still or warm * a.drop < 0:
        return say("hold.cooling-lowered" if warm > 0 else "hold.warming-raised", by=abs(warm))
    if abs(abs(warm) - abs(a.drop)) < 0.15 * abs(a.drop):
        return say(f"hold.{went}-all")
    return say(f"hold.{went}-{'more' if abs(warm) > abs(a.drop) else 'part'}", by=abs(warm))


def school_sentence(answer: JudgeAnswer, thermometer: bool) -> Said | None:
    """Why the school's plain answer is not the tool's, in a sentence; None where both agree or the school has none."""
    met = answer.school.met
    if (
        met is None
        or answer.level_scale is not None
        or (met and answer.verdict == "tight")
        or (not met and answer.verdict == "leaking")
    ):
        return None
    drop, K, warm = abs(answer.drop), answer.kelvin_to_explain, answer.drop_from_temperature
    degrees = None if K is None or abs(K) < FELT else abs(K)
    went, moved = "cooling" if (K or 0) > 0 else "warming", "rose" if answer.drop < 0 else "fell"
    if not met and answer.verdict == "tight":
        if warm is not None and warm * answer.drop > 0 and abs(warm) >= abs(answer.drop) / 2 and degrees:
            return say(f"hold.school-{moved}-{went}", drop=drop, degrees=degrees)
        return say(f"hold.school-{moved}-settled", drop=drop)
    if met and answer.verdict == "leaking":
        hid, lost = warm is not None and warm < 0, answer.leak.estimate * answer.hold
        form = "held-up" if hid and answer.drop <= 0 else "hidden" if hid else "passes"
        return say(f"hold.school-{form}", drop=drop, lost=lost)
    by_gauge = say("hold.by-gauge-pass" if met else "hold.by-gauge-not")
    if thermometer:
        return say("hold.school-open", by_gauge=by_gauge)
    if degrees is None:
        return say("hold.school-unmeasured", by_gauge=by_gauge)
    return say(f"hold.school-unmeasured-{moved}-{went}", by_gauge=by_gauge, drop=drop, degrees=degrees)


def low_notes(a: JudgeAnswer) -> list[Said]:
    """What each low hold showed, and what they told together."""
    found: list[Said] = []
    for low in a.low_holds:
        when = say("hold.low-before" if low.began < 0 else "hold.low-after")
        moved = "fell" if low.fell > 0 else "rose" if low.fell < 0 else "stood"
        over, by = low.ended - low.began, abs(low.fell)
        found.append(say(f"hold.low-{moved}", when=when, at=low.pressure, by=by, over=over))
    if found and a.smallest_alone is not None:
        found.append(say("hold.low-told", told=a.smallest_leak_to_tell, alone=a.smallest_alone))
    return found


def lines(a: JudgeAnswer, limit_from: tuple[str, str]) -> list[Line]:
    """The lines of working. limit_from: formula and numbers of the limit."""
    drop, warm = amount(a.drop, "pressure", figures=3), a.drop_from_temperature
    minutes = amount(a.hold, "time")
    found = [_line("drop", "ΔP", "P_first − P_last", joined("over ", minutes), a.drop, "Pa", drop, "the readings")]
    if warm is not None:
        found.append(
            _line(
                "drop_from_temperature",
                "ΔP_T",
                "−∫ V (β_w − 3α) dT / C",
                "along the logged temperatures",
                warm,
                "Pa",
                amount(warm, "pressure", figures=3),
                "β_w: IAPWS-95 through CoolProp",
            )
        )
    C = amount(a.compliance, "compliance", figures=3)
    found.append(
        _line(
            "compliance",
            "C",
            "V (κ_w + ε) + V_a P_atm/(P_atm + P)²" if a.compliance_from == "computed" else "measured",
            a.compliance_from,
            a.compliance,
            "m³/Pa",
            C,
            "handbook of the job, water, wall and air",
        )
    )
    if a.low_holds and a.smallest_alone is not None:
        told: list[str] = ["low holds fell "]
        for n, low in enumerate(a.low_holds):
            over = amount(low.ended - low.began, "time")
            told += ["; "] * bool(n) + [amount(low.fell, "pressure", figures=2), " in ", over]
        found.append(
            _line(
                "low_holds",
                "2.8 σ",
                "one drift v(t) through all stretches",
                joined(*told),
                a.smallest_leak_to_tell,
                "m³/s",
                joined(show_leak(a.smallest_leak_to_tell), ", by the test hold alone ", show_leak(a.smallest_alone)),
                "procedures, low holds",
            )
        )
    found.append(
        _line(
            "leak",
            "q",
            "C · (−dP/dt) at shut-in, temperature taken out",
            joined("C = ", C, "; 95 % from ", show_leak(a.leak.low), " to ", show_leak(a.leak.high)),
            a.leak.estimate,
            "m³/s",
            show_leak(a.leak.estimate),
            "Gaussian-process model of leak, warmth, settling and reading; Population Monte Carlo",
        )
    )
    if a.held_at is not None:
        found.append(
            _line(
                "held_at",
                "P_held",
                "lowest of the stretch that is judged",
                joined("over ", minutes),
                a.held_at,
                "Pa",
                amount(a.held_at, "pressure"),
                "the readings",
            )
        )
    found.append(_line("limit", "q_limit", *limit_from, a.limit, "m³/s", show_leak(a.limit), "the acceptance chosen"))
    found.append(
        _line(
            "confidence",
            "p",
            "probability that the leak at shut-in is no more than the limit",
            joined(
                f"{a.confidence:.1%} of the probability is below ",
                show_leak(a.limit),
                "; 97.5 % is asked on either side",
            ),
            a.confidence,
            "",
            f"{a.confidence:.1%}",
            "handbook of the job, the hold",
        )
    )
    if a.smallest_leak_to_tell is not None:
        found.append(
            _line(
                "smallest_leak_to_tell",
                "q_tell",
                "2.8 σ_q",
                joined("after ", minutes),
                a.smallest_leak_to_tell,
                "m³/s",
                show_leak(a.smallest_leak_to_tell),
                "told from none four times in five",
            )
        )
    said = show_leak(as_said(a.verdict, a.leak))
    found += [
        _line(
            "drops_a_minute",
            "n",
            "20 drops/mL · q",
            said,
            a.drops_a_minute,
            "1/min",
            f"{a.drops_a_minute:.2g} drops/min",
            "handbook of the job: 1 mL is 20 drops",
        ),
        _line(
            "pressure_rate",
            "dP/dt",
            "q / C",
            joined(said, " / ", C),
            a.pressure_rate,
            "Pa/s",
            joined(amount(a.pressure_rate * 3600, "pressure", figures=2), "/h"),
            "handbook of the job, water, wall and air",
        ),
    ]
    if a.kelvin_to_explain is not None:
        found.append(
            _line(
                "kelvin_to_explain",
                "ΔT",
                "C ΔP / (V (β_w − 3α))",
                joined(C, " × ", drop),
                a.kelvin_to_explain,
                "K",
                amount(a.kelvin_to_explain, "temperature_difference", "delta_degC", figures=2),
                "handbook of the job, temperature at constant mass",
            )
        )
    return found


def _line(
    figure: str, symbol: str, formula: str, numbers: str, value: float, unit: str, shown: str, source: str
) -> Line:
    return Line(
        figure=figure,
        symbol=symbol,
        formula=formula,
        numbers=numbers,
        value=value,
        unit=unit,
        shown=shown,
        source=source,
    )

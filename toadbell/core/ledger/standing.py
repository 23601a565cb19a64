"""What a vessel may be used at today: its programme, each line by the evidence that stands, and what to do next.

Evidence is voided by what happens after it, lapses by its date, and is overruled by a person alone, with a reason.
Source: procedures, the ledger.
"""

import datetime

from toadbell.core.judge.answers import Fitness, LedgerAnswer, LedgerLine, TagNow, TrialOffer
from toadbell.core.ledger.lines import line_of, proof_line, touched, trial_line, unsound_look
from toadbell.core.ledger.programme import PROGRAMMES, Asked, offered
from toadbell.core.ledger.record import VESSELS_OWN, Ended, OnRecord, standing
from toadbell.core.phrases import Said, of_scale, say


def ledger_of(vessel: OnRecord) -> LedgerAnswer:
    """The vessel's programme and what it adds up to today.

    Never “fit” with an asked line that is not met, not known, lapsed or voided, unless a person overruled that line
    with a reason; never with any line that is not met.
    """
    with of_scale(vessel.wanted):
        return _ledger(vessel)


def _ledger(vessel: OnRecord) -> LedgerAnswer:
    stands = standing(vessel.trials)
    lines = [line_of(vessel, asked, stands) for asked in PROGRAMMES.get(vessel.kind, ())]
    lines += touched(vessel, lines, stands)
    cold = _answer(vessel, stands, lines)
    answer, pressure, why = _steamed(lines, cold)
    ahead = _next(lines)
    return LedgerAnswer(
        answer=answer,
        pressure=pressure,
        says=_use(answer, pressure, why),
        why=why,
        next_says=_next_says(ahead, lines),
        next=ahead.code if ahead else None,
        plan=next((line.basis for line in open_lines(lines) if line.basis is not None), None),
        lines=lines,
        offers=[
            TrialOffer(basis=basis, name=say(f"ledger.{code}-trial"), proves=say(f"ledger.{code}-proves"))
            for basis, code in offered(vessel.kind)
        ],
        trial=stands.id if stands else None,
        cold=cold[1] if cold[0] in ("fit", "limited") else None,
        cold_why=cold[2],
    )


def tag_now(found: LedgerAnswer, stands: Ended | None) -> TagNow:
    """The tag that hangs on the vessel: the ledger's answer, and why it is another than was decided ("" where not)."""
    same = stands is not None and stands.fitness == found.answer
    lower = same and found.pressure is not None and stands and (stands.pressure or 0) > found.pressure * (1 + 1e-6)
    return TagNow(fitness=found.answer, pressure=found.pressure, says="" if same and not lower else _less(found))


def _less(found: LedgerAnswer) -> str:
    return found.says if found.answer == "not fit" or not found.why else found.why


_Use = tuple[Fitness, float | None, str]


def _steamed(lines: list[LedgerLine], cold: _Use) -> _Use:
    """What it may be used at where its steam trial was not passed: at nothing, till it is."""
    steam = next((line for line in lines if line.code == "steam"), None)
    if steam is None or steam.state != "not met" or steam.overruled or cold[0] == "not fit":
        return cold
    return "not fit", None, say("ledger.steam-unfit", says=steam.says)


def _answer(vessel: OnRecord, stands: Ended | None, lines: list[LedgerLine]) -> tuple[Fitness, float | None, str]:
    """The tag, its pressure (Pa), and why it is less than was decided ("" where it is as it was)."""
    if vessel.retire is not None and vessel.today.year > vessel.retire:
        return "not fit", None, say("fitness.tag-past-year", year=vessel.retire)
    unsound = unsound_look(vessel)
    if unsound is not None and not any(line.code == "looked" and line.overruled for line in lines):
        return "not fit", None, say("ledger.look-unfit", on=unsound.on, text=unsound.text or "–")
    if stands is None:
        return "not proven", None, say("ledger.nothing")
    if vessel.problem is not None:
        return "not proven", None, say("ledger.problem", problem=vessel.problem)
    if stands.fitness in ("not fit", "not proven"):
        form = "ledger.decided-unfit" if stands.fitness == "not fit" else "ledger.decided-open"
        return stands.fitness, None, say(form, number=stands.number, on=stands.on)
    if stands.fitness != "tight":
        rests = _rests_on(vessel, stands)
        if rests.state == "met" or rests.overruled:
            return _strong(vessel, stands, lines)
        fallen = rests.says if rests.state != "lapsed" else say("ledger.proof-lapsed", until=rests.until)
        return _only_tight(vessel, fallen)
    return _only_tight(vessel, "")


def _rests_on(vessel: OnRecord, stands: Ended) -> LedgerLine:
    """The line of what a decision for use rests on: its proof, or the tight trial that a person went further than."""
    if stands.proves == "strength":
        return proof_line(vessel, _PROOF_OF.get(vessel.kind, _ANY_PROOF))
    asked = _TIGHT_OF.get(vessel.kind, Asked("tightness"))
    return trial_line(vessel, asked, [stands], ("all", "proof", "tightness"))


_ANY_PROOF = Asked("proof")
_PROOF_OF = {kind: one for kind, asked in PROGRAMMES.items() for one in asked if one.code == "proof"}
_TIGHT_OF = {kind: one for kind, asked in PROGRAMMES.items() for one in asked if one.code in ("tightness", "gas-head")}


def _only_tight(vessel: OnRecord, fallen: str) -> tuple[Fitness, float | None, str]:
    """What is left where no proof stands: tight at its pressure by the last trial that claims no strength, or nothing.

    fallen  why the proof does not stand any more, "" where none was claimed
    """
    since = [one for one in vessel.trials if one.proves in ("tightness", "gas-head")]
    asked = _TIGHT_OF.get(vessel.kind, Asked("tightness", months=None))
    line = trial_line(vessel, asked, since, ("all", "proof", "tightness"))
    last = max(since, key=lambda one: one.number, default=None)
    if last is None or last.fitness != "tight" or line.state != "met":
        if fallen:
            return "not proven", None, fallen
        lapsed = line.state == "lapsed"
        return "not proven", None, say("ledger.tight-lapsed", until=line.until) if lapsed else line.says
    least, name = _least(vessel, last.pressure)
    if least is not None and least <= 0:
        return "not fit", None, say("fitness.tag-no-pressure", name=name)
    why = fallen or (say("fitness.tag-least", name=name, most=least) if name else "")
    return "tight", least, why


def _least(vessel: OnRecord, decided: float | None) -> tuple[float | None, str]:
    """The least of what was decided and what it may work at as it is known now, Pa; and what limits it, if anything."""
    name, least = min(vessel.limits, key=lambda one: one[1], default=("", None))
    if least is None or decided is None or least >= decided * (1 - 1e-6):
        return decided, ""
    return least, name


def _strong(vessel: OnRecord, stands: Ended, lines: list[LedgerLine]) -> tuple[Fitness, float | None, str]:
    """What a proof that stands is good for, with the other lines as they are today."""
    pressure, limits = _least(vessel, stands.pressure)
    if limits:
        if pressure is not None and pressure <= 0:
            return "not fit", None, say("fitness.tag-no-pressure", name=limits)
        return "limited", pressure, say("fitness.tag-least", name=limits, most=pressure)
    against = [line for line in lines if not line.overruled and _speaks_against(line)]
    if against:
        first = against[0]
        if first.state == "voided":
            return "limited", pressure, first.says
        return "limited", pressure, say("ledger.limited", lines=[_briefly(line) for line in against])
    if stands.fitness == "fit":
        short = vessel.wanted is not None and pressure is not None and pressure < vessel.wanted * (1 - 1e-6)
        if short and not stands.further:
            return "limited", pressure, say("ledger.below", proven=pressure, wanted=vessel.wanted)
        return "fit", pressure, ""
    return (
        ("fit", pressure, say("ledger.done-since", on=stands.on))
        if _answered(vessel, stands)
        else (
            "limited",
            pressure,
            "",
        )
    )


def _answered(vessel: OnRecord, stands: Ended) -> bool:
    """Was it limited only for what was still to be done then, and has been since?"""
    whole = vessel.wanted is not None and stands.pressure is not None and stands.pressure >= vessel.wanted * (1 - 1e-6)
    return whole and stands.advised == "limited" and not stands.further and not stands.against - VESSELS_OWN


def _speaks_against(line: LedgerLine) -> bool:
    return line.state == "not met" or (line.asked and line.state != "met")


def _briefly(line: LedgerLine) -> Said:
    return say("ledger.but", line=line.name, state=say(f"ledger.is-{line.state.replace(' ', '-')}"), says=line.says)


def _use(answer: Fitness, pressure: float | None, why: str) -> Said:
    if answer in ("fit", "limited", "tight"):
        form = f"ledger.use-{answer}" if why else f"ledger.use-{answer}-plain"
        return say(form, pressure=pressure, why=why)
    return say(f"ledger.use-{answer.replace(' ', '-')}", why=why)


def open_lines(lines: list[LedgerLine]) -> list[LedgerLine]:
    """What is to be seen to: what is asked and does not stand, then what speaks against it."""
    open_ = [line for line in lines if line.asked and line.state != "met" and not line.overruled]
    open_ += [line for line in lines if not line.asked and line.state == "not met"]
    return sorted(open_, key=lambda line: line.code != "year")


def _next(lines: list[LedgerLine]) -> LedgerLine | None:
    """What is to be done first; where nothing is open, what is due soonest."""
    open_ = open_lines(lines)
    if open_:
        return open_[0]
    dated = [line for line in lines if line.until is not None and line.state == "met" and line.code != "year"]
    return min(dated, key=lambda line: line.until or datetime.date.max, default=None)


def _next_says(ahead: LedgerLine | None, lines: list[LedgerLine]) -> str:
    before = [_due_name(line) for line in lines if line.before_use and line.state == "met"]
    if ahead is None:
        return say("ledger.before-use-plain", lines=before) if before else ""
    if ahead.state == "met":
        then = say("ledger.next-due", line=_due_name(ahead), until=ahead.until)
    else:
        then = say("ledger.next-do", ask=say(f"ledger.{ahead.code}-do"))
    return say("ledger.before-use", next=then, lines=before) if before else then


def _due_name(line: LedgerLine) -> Said:
    return say(f"ledger.{line.code}-due" if line.code in ("looked", "relief") else f"ledger.{line.code}")

"""What a vessel may be used at today: its programme, each line by the evidence that stands, and what to do next.

Evidence is voided by what happens after it, lapses by its date, and is overruled by a person alone, with a reason.
Source: procedures, the ledger.
"""

import datetime
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from toadbell.core.judge.answers import Fitness, LedgerAnswer, LedgerLine, LineState, TagNow, TrialOffer
from toadbell.core.judge.relief import lifts_in_time
from toadbell.core.ledger.dates import add_months
from toadbell.core.ledger.programme import FIRINGS, PROGRAMMES, Asked, offered
from toadbell.core.ledger.voiding import HAPPENINGS, UNSOUND, Happened, Voids, last_of, lift_of
from toadbell.core.phrases import Said, of_scale, say

Proves = Literal["strength", "tightness", "gas-head", "relief"]
VESSELS_OWN = frozenset({"plate", "wall", "looked", "year", "relief", "steam"})
"""Lines of a trial's evidence that are the vessel's own, and are weighed anew each day."""


@dataclass(frozen=True)
class Ended:
    """A trial that ended in a person's decision.

    on        the day it was begun; decided, when it was decided
    tight     its hold was judged tight; leaking, that it leaks
    pressure  that was decided, Pa
    further   the decision went further than the evidence, for its `reason`; overruled, line by line by their codes
    advised   what the tool would have decided; against, unknown: codes of its lines that were not met, not known
    proof_by  the next proof, as it was decided
    """

    id: str
    number: int
    on: datetime.date
    decided: datetime.datetime
    proves: Proves
    fitness: Fitness
    pressure: float | None
    tight: bool = True
    leaking: bool = False
    further: bool = False
    reason: str = ""
    overruled: Mapping[str, str] = field(default_factory=dict)
    advised: Fitness | None = None
    against: frozenset[str] = frozenset()
    unknown: frozenset[str] = frozenset()
    proof_by: datetime.date | None = None

    def void_by(self, happened: Iterable[Happened], voids: tuple[Voids, ...]) -> Happened | None:
        """The last thing that happened since it was begun, was not known when it was decided, and voids it."""
        since = [
            one
            for one in happened
            if one.what in HAPPENINGS
            and HAPPENINGS[one.what].voids in voids
            and one.at > self.decided
            and one.on >= self.on
        ]
        return since[-1] if since else None


@dataclass(frozen=True)
class OnRecord:
    """All that is known of a vessel. Pressures Pa, days by the workshop's calendar.

    limits    what it may work at as it is known now, each by its name
    wall      the day its wall was measured last; `wall_measured` where it was, on whatever day
    problem   why its figures cannot be worked out
    happened  to it and done with it, oldest first
    """

    kind: str
    wanted: float | None
    today: datetime.date
    trials: Sequence[Ended] = ()
    happened: Sequence[Happened] = ()
    limits: Sequence[tuple[str, float]] = ()
    plate: float | None = None
    retire: int | None = None
    relief_set: float | None = None
    wall_measured: bool = False
    wall: datetime.date | None = None
    allowable: float | None = None
    problem: str | None = None


def standing(trials: Iterable[Ended]) -> Ended | None:
    """The trial whose decision counts: the last, but for one that claims no strength and found nothing, after a proof
    or after a trial of strength that ended in “not fit”.
    """
    found: Ended | None = None
    for trial in sorted(trials, key=lambda one: one.number):
        if trial.proves == "relief" and trial.fitness != "not fit":
            continue  # it is of the valve alone
        if not (found is not None and _outweighs(found) and _proves_nothing(trial)):
            found = trial
    return found


def _outweighs(trial: Ended) -> bool:
    return trial.fitness in ("fit", "limited") or (trial.fitness == "not fit" and trial.proves == "strength")


def _proves_nothing(trial: Ended) -> bool:
    return trial.fitness in ("not proven", "tight") and trial.proves != "strength" and trial.tight


def ledger_of(vessel: OnRecord) -> LedgerAnswer:
    """The vessel's programme and what it adds up to today.

    Never “fit” with an asked line that is not met, not known, lapsed or voided, unless a person overruled that line
    with a reason; never with any line that is not met.
    """
    with of_scale(vessel.wanted):
        return _ledger(vessel)


def _ledger(vessel: OnRecord) -> LedgerAnswer:
    stands = standing(vessel.trials)
    lines = [_line(vessel, asked, stands) for asked in PROGRAMMES.get(vessel.kind, ())]
    lines += _touched(vessel, lines, stands)
    answer, pressure, why = _answer(vessel, stands, lines)
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
    )


def tag_now(found: LedgerAnswer, stands: Ended | None) -> TagNow:
    """The tag that hangs on the vessel: the ledger's answer, and why it is another than was decided ("" where not)."""
    same = stands is not None and stands.fitness == found.answer
    lower = same and found.pressure is not None and stands and (stands.pressure or 0) > found.pressure * (1 + 1e-6)
    return TagNow(fitness=found.answer, pressure=found.pressure, says="" if same and not lower else _less(found))


def _less(found: LedgerAnswer) -> str:
    return found.says if found.answer == "not fit" or not found.why else found.why


# -- the lines -----------------------------------------------------------------------------------------------


def _line(vessel: OnRecord, asked: Asked, stands: Ended | None) -> LedgerLine:
    find = {
        "proof": _proof_line,
        "tightness": _tightness_line,
        "gas-head": _tightness_line,
        "relief": _relief_line,
        "steam": _done_line,
        "looked": _looked_line,
        "papers": _papers_line,
        "year": _year_line,
        "firings": _firings_line,
        "plate": _plate_line,
        "wall": _wall_line,
    }[asked.code]
    line = find(vessel, asked)
    state = line.state
    over = (
        stands is not None
        and stands.further
        and (
            (state == "not met" and asked.code in stands.against)
            or (state == "not known" and asked.code in stands.unknown)
        )
    )
    if not over or stands is None:
        return line
    return line.model_copy(update={"overruled": stands.overruled.get(asked.code) or stands.reason})


def _made(asked: Asked, state: LineState, says: str, **more: object) -> LedgerLine:
    return LedgerLine(
        code=asked.code,
        name=asked.name,
        asked=asked.asked,
        before_use=asked.before,
        state=state,
        says=says,
        basis=asked.basis,
        write=asked.write,
        **more,  # type: ignore[arg-type]
    )


def _dated(asked: Asked, vessel: OnRecord, says: str, on: datetime.date, until: datetime.date | None) -> LedgerLine:
    lapsed = until is not None and until < vessel.today
    return _made(asked, "lapsed" if lapsed else "met", says, on=on, until=until)


def _until(asked: Asked, on: datetime.date) -> datetime.date | None:
    return None if asked.months is None else add_months(on, asked.months)


def _ended(vessel: OnRecord, asked: Asked, tried: list[Ended], voids: tuple[Voids, ...]) -> LedgerLine:
    """A line that a trial answers: the last that tried it, by its decision, its date, and what happened since."""
    trial = max(tried, key=lambda one: one.number, default=None)
    if trial is None:
        return _made(asked, "not known", say("ledger.no-trial"))
    facts = {"number": trial.number, "on": trial.on, "pressure": trial.pressure}
    if trial.fitness == "not fit" or (trial.leaking and trial.fitness == "not proven"):
        form = "ledger.trial-unfit" if trial.fitness == "not fit" else "ledger.trial-leaks"
        return _made(asked, "not met", say(form, **facts), on=trial.on, trial=trial.id)
    if trial.fitness == "not proven" or (asked.code == "proof" and trial.fitness == "tight"):
        return _made(asked, "not known", say("ledger.trial-open", **facts), on=trial.on, trial=trial.id)
    void = trial.void_by(vessel.happened, voids)
    if void is not None:
        says = say("fitness.tag-asks", happened=void.says, asks=HAPPENINGS[void.what].asks)
        return _made(asked, "voided", says, on=trial.on, trial=trial.id)
    until = trial.proof_by or _until(asked, trial.on) if trial.proves == "strength" else _until(asked, trial.on)
    if vessel.retire is not None and until is not None:
        until = min(until, datetime.date(vessel.retire, 12, 31))
    form = "ledger.proven" if trial.proves == "strength" else "ledger.tight"
    return _dated(asked, vessel, say(form, **facts), trial.on, until).model_copy(update={"trial": trial.id})


def _proof_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    return _ended(vessel, asked, [one for one in vessel.trials if one.proves == "strength"], ("all", "proof"))


def _tightness_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    """The last hold of any that tried whether the vessel is tight; a proof holds tight as long as it is one."""
    gas = asked.code == "gas-head"
    tried = [one for one in vessel.trials if one.proves != "relief" and (one.proves == "gas-head" or not gas)]
    return _ended(vessel, asked, tried, ("all", "proof", "tightness"))


def _latest(vessel: OnRecord, *what: str) -> Happened | None:
    return last_of(vessel.happened, *what)


def _relief_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    if vessel.relief_set is not None and vessel.wanted is not None and vessel.relief_set > vessel.wanted * (1 + 1e-6):
        return _made(asked, "not met", say("evidence.relief-over", set=vessel.relief_set, wanted=vessel.wanted))
    last = _latest(vessel, "relief tried", "relief-reset")
    if last is None:
        return _made(asked, "not known", say("ledger.relief-unrecorded"))
    if last.what == "relief-reset":
        says = say("fitness.tag-asks", happened=last.says, asks=HAPPENINGS[last.what].asks)
        return _made(asked, "voided", says, on=last.on)
    lifts = lift_of(last)
    if lifts is None or vessel.wanted is None:
        return _made(asked, "not known", say("ledger.relief-unread", on=last.on), on=last.on)
    says = say("ledger.relief-lifts", lifts=lifts, on=last.on)
    if not lifts_in_time(lifts, vessel.wanted, [limit for _, limit in vessel.limits]):
        return _made(asked, "not met", say("ledger.relief-late", lifts=lifts, wanted=vessel.wanted), on=last.on)
    return _dated(asked, vessel, says, last.on, _until(asked, last.on))


def _done_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    last = _latest(vessel, asked.write or "")
    if last is None:
        return _made(asked, "not known", say("evidence.unrecorded"))
    void = _since(vessel, last, ("all", "proof"))
    if void is not None:
        says = say("fitness.tag-asks", happened=void.says, asks=HAPPENINGS[void.what].asks)
        return _made(asked, "voided", says, on=last.on)
    return _dated(asked, vessel, _seen(last), last.on, _until(asked, last.on))


def _since(vessel: OnRecord, last: Happened, voids: tuple[Voids, ...]) -> Happened | None:
    found = [
        one
        for one in vessel.happened
        if one.what in HAPPENINGS
        and HAPPENINGS[one.what].voids in voids
        and (one.on > last.on or (one.on == last.on and one.at > last.at))
    ]
    return found[-1] if found else None


def _seen(last: Happened) -> Said:
    return say("ledger.done-text" if last.text else "ledger.done", on=last.on, text=last.text)


def _looked_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    """A look inside; of a receiver a survey of its wall does in its place."""
    last = _latest(vessel, "look inside")
    surveyed = vessel.kind == "receiver" and vessel.wall is not None
    if last is not None and last.found == UNSOUND:
        return _made(asked, "not met", say("ledger.look-unsound", on=last.on, text=last.text or "–"), on=last.on)
    if vessel.kind == "receiver" and vessel.wall_measured and vessel.wall is None and last is None:
        return _made(asked, "not known", say("ledger.survey-undated"))
    days = [
        (last.on, _seen(last)) if last is not None else None,
        (vessel.wall, say("ledger.survey", on=vessel.wall)) if surveyed and vessel.wall is not None else None,
    ]
    on, says = max((one for one in days if one is not None), default=(None, None), key=lambda one: one[0])
    if on is None or says is None:
        return _made(asked, "not known", say("evidence.unrecorded"))
    if last is not None and on == last.on:
        void = _since(vessel, last, ("all",))
        if void is not None:
            says = say("fitness.tag-asks", happened=void.says, asks=HAPPENINGS[void.what].asks)
            return _made(asked, "voided", says, on=on)
    return _dated(asked, vessel, says, on, _until(asked, on))


def _unsound(vessel: OnRecord) -> Happened | None:
    last = _latest(vessel, "look inside")
    return last if last is not None and last.found == UNSOUND else None


def _papers_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    last = _latest(vessel, "certificate")
    if last is None:
        return _made(asked, "not known", say("ledger.no-papers"))
    void = _since(vessel, last, ("all", "proof"))
    if void is not None:
        says = say("fitness.tag-asks", happened=void.says, asks=HAPPENINGS[void.what].asks)
        return _made(asked, "voided", says, on=last.on)
    return _dated(asked, vessel, _seen(last), last.on, last.until)


def _year_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    if vessel.retire is None:
        return _made(asked, "not known", say("evidence.year-unknown"))
    past = vessel.today.year > vessel.retire
    until = datetime.date(vessel.retire, 12, 31)
    return _made(asked, "not met" if past else "met", say("evidence.year-says", year=vessel.retire), until=until)


def _firings_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    proofs = [one for one in vessel.trials if one.proves == "strength" and one.fitness in ("fit", "limited")]
    since = max((one.on for one in proofs), default=None)
    fired = sum(one.what == "fired" and (since is None or one.on >= since) for one in vessel.happened)
    says = say("ledger.fired", count=fired, most=FIRINGS)
    return _made(asked, "met" if fired <= FIRINGS else "lapsed", says)


def _plate_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    if vessel.plate is None or vessel.wanted is None:
        return _made(asked, "not known", say("ledger.no-plate"))
    met = vessel.wanted <= vessel.plate * (1 + 1e-9)
    says = say("evidence.plate-says", wanted=vessel.wanted, plate=vessel.plate)
    return _made(asked, "met" if met else "not met", says)


def _wall_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    if vessel.allowable is None or vessel.wanted is None or not vessel.wall_measured:
        says = "evidence.wall-says" if vessel.wall_measured else "evidence.wall-says-unmeasured"
        return _made(asked, "not known", say(says, allowable=vessel.allowable))
    met = vessel.wanted <= vessel.allowable * (1 + 1e-9)
    says = say("evidence.wall-says", allowable=vessel.allowable)
    return _made(asked, "met" if met else "not met", says, on=vessel.wall)


def _touched(vessel: OnRecord, lines: list[LedgerLine], stands: Ended | None) -> list[LedgerLine]:
    """Lines that the programme does not ask for, and what happened does: a fitting sealed anew, a valve reset."""
    known = {line.code for line in lines}
    found = []
    tight = Asked("tightness", basis="tight")
    if "tightness" not in known and stands is not None:
        line = _line(vessel, tight, stands)
        if line.state == "voided" and stands.void_by(vessel.happened, ("all", "proof")) is None:
            found.append(line)
    if "relief" not in known and _latest(vessel, "relief-reset"):
        line = _line(vessel, Asked("relief", write="relief tried"), stands)
        found += [line] if line.state in ("voided", "not met") else []
    return found


# -- what they add up to -------------------------------------------------------------------------------------


def _answer(vessel: OnRecord, stands: Ended | None, lines: list[LedgerLine]) -> tuple[Fitness, float | None, str]:
    """The tag, its pressure (Pa), and why it is less than was decided ("" where it is as it was)."""
    if vessel.retire is not None and vessel.today.year > vessel.retire:
        return "not fit", None, say("fitness.tag-past-year", year=vessel.retire)
    unsound = _unsound(vessel)
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
        proof = _proof_line(vessel, _PROOF_OF.get(vessel.kind, _ANY_PROOF)) if stands.proves == "strength" else None
        if proof is None or proof.state == "met":
            return _strong(vessel, stands, lines)
        fallen = proof.says if proof.state == "voided" else say("ledger.proof-lapsed", until=proof.until)
        return _only_tight(vessel, fallen)
    return _only_tight(vessel, "")


_ANY_PROOF = Asked("proof")
_PROOF_OF = {kind: one for kind, asked in PROGRAMMES.items() for one in asked if one.code == "proof"}
_TIGHT_OF = {kind: one for kind, asked in PROGRAMMES.items() for one in asked if one.code in ("tightness", "gas-head")}


def _only_tight(vessel: OnRecord, fallen: str) -> tuple[Fitness, float | None, str]:
    """What is left where no proof stands: tight at its pressure by the last trial that claims no strength, or nothing.

    fallen  why the proof does not stand any more, "" where none was claimed
    """
    since = [one for one in vessel.trials if one.proves in ("tightness", "gas-head")]
    asked = _TIGHT_OF.get(vessel.kind, Asked("tightness", months=None))
    line = _ended(vessel, asked, since, ("all", "proof", "tightness"))
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

"""Each line of a vessel's programme by the evidence that stands for it today."""

import datetime

from toadbell.core.judge.answers import LedgerLine, LineState
from toadbell.core.judge.relief import lifts_in_time, may_lift_at
from toadbell.core.ledger.dates import add_months
from toadbell.core.ledger.programme import FIRINGS, Asked
from toadbell.core.ledger.record import NO_HOLD, Ended, OnRecord, standing
from toadbell.core.ledger.since import since, steam_failed, steam_short, steam_void, valve_void, yielded_unseen
from toadbell.core.ledger.voiding import (
    HAPPENINGS,
    UNSOUND,
    WATCH,
    WATCH_MONTHS,
    Happened,
    Voids,
    last_of,
    lift_of,
)
from toadbell.core.phrases import Said, say


def line_of(vessel: OnRecord, asked: Asked, stands: Ended | None) -> LedgerLine:
    """A line of the programme as it stands today; with the reason for which a person went further, where one did."""
    find = {
        "proof": proof_line,
        "tightness": _tightness_line,
        "gas-head": _tightness_line,
        "tightening": _tightening_line,
        "baseline": _baseline_line,
        "design": _design_line,
        "relief": _relief_line,
        "steam": _steam_line,
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


def trial_line(vessel: OnRecord, asked: Asked, tried: list[Ended], voids: tuple[Voids, ...]) -> LedgerLine:
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
    line = _dated(asked, vessel, say(form, **facts), trial.on, until).model_copy(update={"trial": trial.id})
    if line.state == "met" and trial.further and not trial.tight:  # a person went further than its hold showed
        says = say("ledger.trial-further", **facts)
        return line.model_copy(update={"state": "not known", "says": says, "overruled": trial.reason or "–"})
    return line


SERVES = 0.98
"""Tried at so much of what is needed, it was tried at it."""


def _serving(vessel: OnRecord, line: LedgerLine, tried: list[Ended]) -> LedgerLine:
    """The line where its trial was at the pressure that is needed; at less it is not known, and says what it serves."""
    trial = next((one for one in tried if one.id == line.trial), None)
    tight = line.code == "tightness" and vessel.tight_at is not None
    needs = vessel.tight_at if tight else vessel.wanted
    if line.state != "met" or trial is None or needs is None:
        return line
    if trial.pressure is not None and trial.pressure >= needs * SERVES:
        return line
    says = say("ledger.serves-less", number=trial.number, on=trial.on, pressure=trial.pressure, needs=needs)
    return line.model_copy(update={"state": "not known", "says": says, "until": None})


def proof_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    """The last trial of strength; after it yielded none shows anything before it was looked at, measured or mended."""
    proofs = [one for one in vessel.trials if one.proves == "strength"]
    last = max(proofs, key=lambda one: one.number, default=None)
    unseen = None if last is None else yielded_unseen(vessel.happened, last.on, last.decided)
    if last is not None and unseen is not None:
        return _made(asked, "not met", unseen, on=last.on, trial=last.id)
    return trial_line(vessel, asked, proofs, ("all", "proof"))


def _tightness_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    """The last hold of any that tried whether the vessel is tight; a proof holds tight as long as it is one."""
    gas = asked.code == "gas-head"
    held = [one for one in vessel.trials if one.proves not in NO_HOLD]
    tried = [one for one in held if one.proves == "gas-head" or not gas]
    return _serving(vessel, trial_line(vessel, asked, tried, ("all", "proof", "tightness")), tried)


def _tightening_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    """The last trial at which the joint was turned on till it was dry; loosened since, it is to be done again."""
    tried = [one for one in vessel.trials if one.turned]
    return _serving(vessel, trial_line(vessel, asked, tried, ("all", "proof", "tightness")), tried)


def _baseline_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    """The last trial that was a baseline of its rig."""
    tried = [one for one in vessel.trials if one.baseline and one.fitness != "not fit"]
    last = max(tried, key=lambda one: one.number, default=None)
    if last is None:
        return _made(asked, "not known", say("ledger.no-baseline"))
    says = say("ledger.baseline-stands", number=last.number, on=last.on)
    return _dated(asked, vessel, says, last.on, _until(asked, last.on))


def _design_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    """What articles of its design bore; a vessel that departs from it inherits nothing."""
    if vessel.design is None:
        return _made(asked, "not known", say("ledger.no-design"))
    met, departs, says = vessel.design
    state: LineState = "voided" if departs else "not known" if met is None else "met" if met else "not met"
    return _made(asked, state, says)


def _latest(vessel: OnRecord, *what: str) -> Happened | None:
    return last_of(vessel.happened, *what)


def _relief_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    most = None if vessel.wanted is None else may_lift_at(vessel.kind, vessel.wanted)
    if vessel.relief_set is not None and most is not None and vessel.relief_set > most * (1 + 1e-6):
        return _made(asked, "not met", say("evidence.relief-over", set=vessel.relief_set, wanted=most))
    last = _latest(vessel, "relief tried", "relief-reset", "relief off")
    if last is None:
        return _made(asked, "not known", say("ledger.relief-unrecorded"))
    if last.what in ("relief-reset", "relief off"):
        says = say("fitness.tag-asks", happened=last.says, asks=HAPPENINGS[last.what].asks)
        return _made(asked, "voided", says, on=last.on)
    void = valve_void(vessel.happened, last, vessel.seats)
    if void is not None:
        return _made(asked, "voided", void, on=last.on)
    lifts = lift_of(last)
    if lifts is None or most is None:
        return _made(asked, "not known", say("ledger.relief-unread", on=last.on), on=last.on)
    says = say("ledger.relief-lifts", lifts=lifts, on=last.on)
    most = min([most, *_proven_for(vessel)])
    if not lifts_in_time(lifts, most, [limit for _, limit in vessel.limits]):
        return _made(asked, "not met", say("ledger.relief-late", lifts=lifts, wanted=most), on=last.on)
    return _dated(asked, vessel, says, last.on, _until(asked, last.on))


def _proven_for(vessel: OnRecord) -> list[float]:
    """The pressure that the decision which stands is for, Pa; none where it is for none."""
    stands = standing(vessel.trials)
    strong = stands is not None and stands.fitness in ("fit", "limited") and stands.pressure
    return [stands.pressure] if strong and stands is not None and stands.pressure is not None else []


def _steam_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    """The last first steam: passed, in its year, at the pressure wanted and with the valve it had; or not passed, by
    what it found, till a trial passes.
    """
    failed = steam_failed(vessel.happened)
    if failed is not None:
        return _made(asked, "not met", say("ledger.steam-failed", on=failed.on, text=failed.text or "–"), on=failed.on)
    last = _latest(vessel, "steam trial")
    if last is None:
        return _made(asked, "not known", say("evidence.unrecorded"))
    void = steam_void(vessel.happened, last, vessel.seats)
    if void is not None:
        return _made(asked, "voided", void, on=last.on)
    short = steam_short(last, vessel.wanted)
    if short is not None:
        return _made(asked, "not known", short, on=last.on)
    return _dated(asked, vessel, _seen(last), last.on, _until(asked, last.on))


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
        void = since(vessel.happened, last, ("all", "proof"))
        if void is not None:
            says = say("fitness.tag-asks", happened=void.says, asks=HAPPENINGS[void.what].asks)
            return _made(asked, "voided", says, on=on)
    if last is not None and on == last.on and last.found == WATCH:
        says = say("ledger.look-watch", on=on, text=last.text or "–", months=WATCH_MONTHS)
        return _dated(asked, vessel, says, on, add_months(on, WATCH_MONTHS))
    return _dated(asked, vessel, says, on, _until(asked, on))


def unsound_look(vessel: OnRecord) -> Happened | None:
    """The last look inside, where it found the vessel not sound."""
    last = _latest(vessel, "look inside")
    return last if last is not None and last.found == UNSOUND else None


def _papers_line(vessel: OnRecord, asked: Asked) -> LedgerLine:
    last = _latest(vessel, "certificate")
    if last is None:
        return _made(asked, "not known", say("ledger.no-papers"))
    void = since(vessel.happened, last, ("all", "proof"))
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


def touched(vessel: OnRecord, lines: list[LedgerLine], stands: Ended | None) -> list[LedgerLine]:
    """Lines that the programme does not ask for, and what happened does: a fitting sealed anew, a valve reset."""
    known = {line.code for line in lines}
    found = []
    tight = Asked("tightness", basis="tight")
    if "tightness" not in known and stands is not None:
        line = line_of(vessel, tight, stands)
        if line.state == "voided" and stands.void_by(vessel.happened, ("all", "proof")) is None:
            found.append(line)
    if "relief" not in known and _latest(vessel, "relief-reset", "relief off"):
        line = line_of(vessel, Asked("relief", write="relief tried"), stands)
        found += [line] if line.state in ("voided", "not met") else []
    return found

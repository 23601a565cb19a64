"""Sections of a rig on the bench: which valves are shut now, what was held with which sections open, and the leak of
each by difference.
"""

import datetime
import itertools
from dataclasses import dataclass

from toadbell.core.hunt.differences import SectionLeak, contradict, leak_of_each
from toadbell.core.hunt.sectioning import next_to_shut
from toadbell.core.phrases import Said, say
from toadbell.core.run.phases import RunState
from toadbell.core.sheets import Circuit
from toadbell.trials.bench.shapes import CircuitOut, CircuitSectionOut, CircuitValveOut, SectionHoldOut
from toadbell.trials.bench.stretches import weighed
from toadbell.trials.models import Event, Trial
from toadbell.trials.plan.frozen import plan_of

ENDS = frozenset(
    {"valves", "strokes", "stage-reached", "gone-back", "shut-in", "came-down", "released", "vent-open", "dumped"}
)
"""Entries that end a hold of sections: from then on something else was done to them."""


def shut_now(events: list[Event]) -> list[str]:
    """The valves between sections that are shut; none once it was vented, for then everything was opened."""
    for event in reversed(events):
        if event.kind == "valves":
            return list(event.data["shut"])
        if event.kind in ("vent-shut", "vent-open"):
            return []
    return []


@dataclass(frozen=True)
class Stretch:
    """A hold with some valves shut: from when to when, None while it goes on."""

    shut: tuple[str, ...]
    began: datetime.datetime
    ended: datetime.datetime | None


def stretches(events: list[Event]) -> list[Stretch]:
    """The holds of sections of the last round, oldest first: from each setting of the valves to what was done next, and
    the hold itself with all of them open.
    """
    back = max((n for n, event in enumerate(events) if event.kind == "gone-back"), default=-1)
    found = []
    for n, event in enumerate(events[back + 1 :], back + 1):
        if event.kind not in ("valves", "shut-in"):
            continue
        ends = ENDS if event.kind == "valves" else ENDS | {"hold-ended"}
        ended = next((later.at for later in itertools.islice(events, n + 1, None) if later.kind in ends), None)
        found.append(Stretch(tuple(event.data.get("shut", ())), event.at, ended))
    return found


def circuit_out(trial: Trial, stands: RunState, events: list[Event]) -> CircuitOut | None:
    """The sections of a trial as they stand; None where its plan names none."""
    circuit = plan_of(trial).sheet.circuit
    if circuit is None:
        return None
    shut = shut_now(events)
    held = [
        (one, *weighed(trial, stands, one.began, one.ended, (circuit, circuit.open_with(one.shut))))
        for one in stretches(events)
    ]
    known = [one for _, one, _ in held if one is not None]
    each = {one.section: one for one in leak_of_each(known)}
    against = contradict(known)
    tried = [circuit.open_with(one.shut) for one, _, why in held if why is None]
    return CircuitOut(
        sections=[_section(circuit, name, each.get(name), shut) for name in circuit.names],
        valves=[
            CircuitValveOut(name=valve.name, between=list(valve.between), shut=valve.name in shut)
            for valve in circuit.valves
        ],
        holds=[
            SectionHoldOut(
                began=one.began,
                ended=one.ended,
                shut=list(one.shut),
                open=list(circuit.open_with(one.shut)),
                leak=part.leak if part else None,
                low=part.low if part else None,
                high=part.high if part else None,
                why_not=why,
            )
            for one, part, why in held
        ],
        next_shut=None if (found := next_to_shut(circuit, tried)) is None else list(found),
        says=_says(list(each.values()), against),
    )


def _section(circuit: Circuit, name: str, leak: SectionLeak | None, shut: list[str]) -> CircuitSectionOut:
    return CircuitSectionOut(
        name=name,
        gauged=name == circuit.gauged,
        open=name in circuit.open_with(shut),
        leak=leak.leak if leak else None,
        low=leak.low if leak else None,
        high=leak.high if leak else None,
        told=bool(leak and leak.told),
    )


def _says(each: list[SectionLeak], against: bool) -> Said | None:
    """What the holds tell so far: the sections that leak for certain; None before there is anything."""
    if not each:
        return None
    if against:
        return say("hunt.sections-contradict")
    surely = [one.section for one in each if one.low > 0]
    if surely:
        return say("hunt.sections-leak", names=surely)
    if all(one.told for one in each):
        return say("hunt.sections-none", high=max(one.high for one in each))
    return say("hunt.sections-more")

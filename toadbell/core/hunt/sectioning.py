"""A rig parted by its valves: which to shut next, and the leak of each hold with some sections open, by the judge's own
model.

Source: procedures, the hunt: sections shut one by one, the leak of each by difference.
"""

from collections.abc import Sequence

from toadbell.core.hunt.differences import SectionHold
from toadbell.core.judge.hold import Asked, unsaid_of, weighed_hold
from toadbell.core.judge.log import Log
from toadbell.core.physics.water import ROOM, water_compressibility
from toadbell.core.sheets import Circuit, HoldSheet, SheetError
from toadbell.core.vessel.content import content_of


def next_to_shut(circuit: Circuit, held: Sequence[tuple[str, ...]]) -> tuple[str, ...] | None:
    """The valves to shut for the next hold: none of them first, then the farthest section off, then one more each time.

    held  what was open in the holds so far
    None once every section can be told apart.
    """
    order = _outward(circuit)
    held = [tuple(one) for one in held]
    for count in range(len(order), 0, -1):
        kept = order[:count]
        shut = tuple(v.name for v in circuit.valves if sum(name in kept for name in v.between) == 1)
        if circuit.open_with(shut) not in held:
            return shut
    return None


def _outward(circuit: Circuit) -> list[str]:
    """The sections, those nearest to the gauge first."""
    order = [circuit.gauged]
    for one in order:
        for valve in circuit.valves:
            if one in valve.between:
                order += [other for other in valve.between if other not in order]
    return order


def section_hold(
    log: Log, whole: HoldSheet, circuit: Circuit | None = None, open_: tuple[str, ...] = ()
) -> SectionHold:
    """The leak of a hold with some sections open, and between what it lies.

    log    its readings
    whole  the sheet of a hold with every section open, which is all there is without a circuit
    Where the compliance of the whole is known, a part has at least that of its water, and at most what the water of the
    rest leaves of the whole's: which of its walls give more, and where the air is, nobody knows. The band says so.
    Raises SheetError where the volume of a section is not known, or the log cannot be used.
    """
    everything = circuit is None or set(open_) == set(circuit.names)
    share = 1.0 if circuit is None or everything else circuit.share_of(open_)
    if share is None:
        raise SheetError("its leak needs the volume of every section: give them in the plan", "circuit")
    unsaid = unsaid_of(whole)
    known = whole.compliance is not None or whole.medium == "air" or not (unsaid.air or unsaid.give)
    sheet, less, more = whole, 1.0, 1.0
    if share < 1 and known:
        sheet, less, more = _with_bounds(log, whole, share)
    elif share < 1:
        parts = {"volume": share * (whole.volume or 0.0), "trapped_air": None}
        sheet = whole.model_copy(update=parts)
    band = weighed_hold(log, sheet, Asked(quick=True)).found.band(by_gauge=False)
    return SectionHold(open_, band["estimate"], less * max(0.0, band["low"]), more * max(0.0, band["high"]))


def _with_bounds(log: Log, whole: HoldSheet, part: float) -> tuple[HoldSheet, float, float]:
    """The sheet of a part by its share of the whole's compliance, and how much less and more that may be."""
    volume = part * (whole.volume or 0.0)
    if whole.medium == "air":  # of air the volume is all there is to know
        return whole.model_copy(update={"volume": volume}), 1.0, 1.0
    pressure, warm = float(log.pressure[0]), whole.water_temperature or ROOM
    content = content_of(whole.volume or 0.0, whole.shell, whole.trapped_air or 0.0, warm, whole.compliance)
    all_of_it, water = content.compliance(pressure), water_compressibility(warm, pressure)
    shared = part * all_of_it
    rest = water * ((whole.volume or 0.0) - volume)
    sheet = whole.model_copy(update={"volume": volume, "compliance": shared, "trapped_air": 0.0})
    return sheet, min(1.0, water * volume / shared), max(1.0, (all_of_it - rest) / shared)

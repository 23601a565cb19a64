"""The relief valve's trial: raised slowly till it lifts, three times, then lifted by hand.

It proves the valve, and no strength. There is no hold: what it ends in is judged by `toadbell.core.judge.relief`.
"""

from collections.abc import Mapping
from dataclasses import replace

from toadbell.core.answers import DeriveAnswer
from toadbell.core.judge.relief import ReliefAnswer, judge_relief
from toadbell.core.phrases import Said, say
from toadbell.core.procedures.procedure import Observation
from toadbell.core.procedures.proof import PROOF
from toadbell.core.run.observed import Observed
from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.kit import Gauge
from toadbell.core.sheets.relief import ReliefSheet, Round

ROUND_PLACES = ("1", "2", "3")

RELIEF = replace(
    PROOF,
    id="relief",
    proves="valve",
    kinds=frozenset({"boiler", "receiver", "fermenter", "digester"}),
    observes=(
        Observation("pressure", "pressure"),
        *(Observation(what, "pressure", instrument=what) for what in ("weep", "lift", "reseat", "highest")),
        *(Observation(what, "words", instrument=what) for what in ("hand", "after")),
    ),
    has_hold=False,
    before={},
)


def rating_of(answer: DeriveAnswer) -> float:
    """The highest that the vessel may see, Pa: the least of plate and allowable pressure, else what is wanted of it."""
    known = [p for p in (answer.plate_pressure, answer.allowable.pressure if answer.allowable.known else None) if p]
    return min(known, default=answer.working_pressure)


def relief_sheet(
    sheet: VesselSheet,
    answer: DeriveAnswer,
    seen: Mapping[str, Mapping[str, Observed]],
    highest: float | None = None,
) -> ReliefSheet:
    """What was observed at a relief trial, as its judge reads it.

    seen     by instrument, and by the number of the round
    highest  pressure that was read, Pa: where no lift was written down so high, there was none up to it
    """
    rounds = [
        Round.model_construct(
            weep=_value(seen, "weep", place),
            lift=_value(seen, "lift", place),
            reseat=_value(seen, "reseat", place),
            highest=_value(seen, "highest", place),
        )
        for place in ROUND_PLACES
        if any(place in seen.get(what, {}) for what in ("lift", "highest"))
    ]
    written = max((at for one in rounds for at in (one.lift, one.highest) if at is not None), default=0.0)
    if highest is not None and highest > written + _told(sheet, answer):  # it went up there, whatever was written
        rounds = [*rounds, Round.model_construct(weep=None, lift=None, reseat=None, highest=highest)]
    return ReliefSheet.model_construct(
        procedure="relief",
        medium=sheet.medium,
        set_pressure=sheet.relief_set,
        tolerance=sheet.relief_valve.tolerance if sheet.relief_valve else None,
        tolerance_paper=None,
        set_for=sheet.relief_valve.set_for if sheet.relief_valve else None,
        rating=rating_of(answer),
        used_at=None,
        gauge=sheet.gauge or Gauge.model_construct(range=answer.gauge_target * 2),
        rounds=rounds,
        by_hand=_word(seen, "hand"),
        after=_word(seen, "after"),
    )


def _told(sheet: VesselSheet, answer: DeriveAnswer) -> float:
    """What the gauge tells apart, Pa, twice: a reading that jumps by so much is no pressure."""
    gauge = sheet.gauge
    return 2 * ((gauge.readable or gauge.range / 100) if gauge else answer.gauge_target / 50)


def contradicts(seen: Mapping[str, Mapping[str, Observed]], what: str, place: str, value: float) -> Said | None:
    """Why a figure cannot be of that round, beside what was written of it; None where it can. Pa."""
    if value <= 0:
        return say("step.observed-figure")
    lift, reseat = _value(seen, "lift", place), _value(seen, "reseat", place)
    if what in ("reseat", "weep") and lift is not None and value > lift:
        return say(f"step.observed-{what}-over", value=value, lift=lift)
    if what == "lift" and reseat is not None and value < reseat:
        return say("step.observed-reseat-over", value=reseat, lift=value)
    return None


def judged(
    sheet: VesselSheet,
    answer: DeriveAnswer,
    seen: Mapping[str, Mapping[str, Observed]],
    highest: float | None = None,
) -> ReliefAnswer:
    """What the valve's rounds prove so far."""
    return judge_relief(relief_sheet(sheet, answer, seen, highest))


def _value(seen: Mapping[str, Mapping[str, Observed]], what: str, place: str) -> float | None:
    found = seen.get(what, {}).get(place)
    return found.value if found else None


def _word(seen: Mapping[str, Mapping[str, Observed]], what: str) -> str | None:
    found = seen.get(what, {}).get("1")
    return found.word if found else None

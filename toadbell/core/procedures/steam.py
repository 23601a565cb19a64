"""A boiler's first steam: raised on its own fire till its valve lifts, with what gauge, glass and feeds do.

It proves valve, gauge and feeds under heat, and no strength: the cold proof comes first. What it ends in is judged by
`toadbell.core.judge.steam`.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from toadbell.core.answers import DeriveAnswer
from toadbell.core.judge.steam import SteamAnswer, column, judge_steam
from toadbell.core.judge.witnesses import contradict, of_gauge, of_thermometer
from toadbell.core.phrases import Said, say
from toadbell.core.physics.outer_air import outer_air
from toadbell.core.procedures.procedure import Observation
from toadbell.core.procedures.proof import PROOF
from toadbell.core.run.observed import STEAM_FIGURES, Observed
from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.kit import Gauge
from toadbell.core.sheets.steam import Accumulation, Feed, Reading, SteamSheet

_WORDS = ("feed", "blown", "stands", "hot-look", "sits")

STEAM = replace(
    PROOF,
    id="steam",
    proves="steam",
    kinds=frozenset({"boiler"}),
    observes=(
        Observation("pressure", "pressure"),
        Observation("temperature", "temperature"),
        Observation("glass", "part", instrument="glass"),
        *(Observation(what, "words", instrument=what) for what in _WORDS),
        *(Observation(what, "pressure", instrument=what) for what in STEAM_FIGURES),
    ),
    has_hold=False,
    before={"boiler": ("ready-to-steam",)},
)

Seen = Mapping[str, Mapping[str, Observed]]


def steam_sheet(
    sheet: VesselSheet,
    answer: DeriveAnswer,
    seen: Seen,
    readings: Sequence[Reading] = (),
    leaking: bool = False,
) -> SteamSheet:
    """What was observed at a first steam, as its judge reads it.

    seen      by instrument and place, the last of each
    readings  of gauge and thermometer while the vent was shut
    leaking   a leak of the boiler or a fitting of it was found and not mended: it is not dry, whatever was written
    """
    lift, reseat, full = (_one(seen, what) for what in STEAM_FIGURES)
    highest = max(readings, key=lambda one: one.pressure, default=None)
    if lift is not None and lift.value is not None:
        at: Reading | None = Reading.model_construct(
            pressure=lift.value, temperature=lift.temperature, second=None, time=None
        )
    else:
        at = highest if highest is not None and _over(answer, highest.pressure) else None
    return SteamSheet.model_construct(
        procedure="steam",
        working_pressure=sheet.working_pressure,
        set_pressure=sheet.relief_set,
        tolerance=sheet.relief_valve.tolerance if sheet.relief_valve else None,
        tolerance_paper=None,
        set_by=_set_by(sheet),
        second_gauge=None,
        outer_air=None,
        altitude=sheet.altitude,
        gauge=sheet.gauge or Gauge.model_construct(range=answer.gauge_target * 2),
        thermometer=sheet.thermometer,
        sits=_word(seen, "sits"),
        gauge_height=max(0.0, sheet.gauge.height_above_top or 0.0) if sheet.gauge else 0.0,
        readings=list(readings),
        lift=at,
        lifted=lift is not None,
        reseat=reseat.value if reseat else None,
        feeds=[
            Feed.model_construct(name=say(f"steam.feed-{place}"), works=one.word)
            for place, one in sorted(seen.get("feed", {}).items())
        ],
        lowest_glass=min((one.value for one in _all(seen, "glass") if one.value is not None), default=None),
        blown_down=_word(seen, "blown"),
        accumulation=None
        if full is None or full.value is None
        else Accumulation.model_construct(
            highest=full.value, temperature=full.temperature, steady=_word(seen, "stands") == "stands"
        ),
        look="leaks" if leaking else _word(seen, "hot-look"),
    )


def _set_by(sheet: VesselSheet) -> str | None:
    """Whether the valve was set by the gauge that is read here; None where nobody said."""
    another = sheet.relief_valve.set_by_another(sheet.gauge) if sheet.relief_valve else None
    return None if another is None else "another gauge" if another else "this gauge"


def judged(
    sheet: VesselSheet,
    answer: DeriveAnswer,
    seen: Seen,
    readings: Sequence[Reading] = (),
    leaking: bool = False,
) -> SteamAnswer:
    """What the steaming proves so far; the arguments are those of `steam_sheet`."""
    return judge_steam(steam_sheet(sheet, answer, seen, readings, leaking))


def cannot_both_be(sheet: VesselSheet, pressure: float, temperature: float | None) -> bool:
    """Do gauge and thermometer contradict each other at a reading (Pa, K)?"""
    if sheet.gauge is None or temperature is None:
        return False
    above = column(max(0.0, sheet.gauge.height_above_top or 0.0))
    outer = outer_air(altitude=sheet.altitude)
    return contradict(
        of_gauge(sheet.gauge, pressure + above), of_thermometer(sheet.thermometer, temperature, None, outer)
    )


def contradicts(seen: Seen, what: str, value: float) -> Said | None:
    """Why a figure cannot be of this steaming, beside what was written of it; None where it can. Pa."""
    if value <= 0:
        return say("step.observed-figure")
    lift, reseat = _one(seen, "steam-lift"), _one(seen, "steam-reseat")
    if what == "steam-reseat" and lift is not None and lift.value is not None and value > lift.value:
        return say("step.observed-reseat-over", value=value, lift=lift.value)
    if what == "steam-lift" and reseat is not None and reseat.value is not None and value < reseat.value:
        return say("step.observed-reseat-over", value=reseat.value, lift=value)
    return None


def _over(answer: DeriveAnswer, pressure: float) -> bool:
    """Is it so high that the valve was to have come?"""
    limit = next((one.limit for one in answer.guards if one.code == "late-valve"), None)
    return limit is not None and pressure > limit


def _one(seen: Seen, what: str) -> Observed | None:
    return seen.get(what, {}).get("1")


def _all(seen: Seen, what: str) -> list[Observed]:
    return list(seen.get(what, {}).values())


def _word(seen: Seen, what: str) -> str | None:
    found = _one(seen, what)
    return found.word if found else None

"""The answers of the core, as they leave it: SI numbers under keys that name no unit; not known is null."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict

from toadbell.core.lines import Line
from toadbell.core.phrases import Sentence


class Answer(BaseModel):
    """What leaves the core; nothing changes it afterwards."""

    model_config = ConfigDict(frozen=True, defer_build=True)


StopCode = Literal[
    "above-ceiling",
    "above-plate",
    "above-allowable",
    "air-energy",
    "strength-under-air",
    "gauge-too-small",
    "fitting-too-weak",
    "too-cold",
    "past-retirement",
    "stage-above-test",
    "plastic-under-air",
    "too-hot",
    "factor-too-low",
    "flat-sides",
    "acceptance-unsuited",
    "baseline-unknown",
    "relief-class",
]
CautionCode = Literal[
    "wall-assumed",
    "give-unknown",
    "ceiling-unknown",
    "ends-unknown",
    "brittle",
    "above-allowable",
    "outside-pressure",
    "relief-above-wanted",
    "no-strength-proof",
    "basis-unusual",
    "reason-missing",
    "gauge-too-coarse",
    "gauge-not-calibrated",
    "gauge-class",
    "wrench-unsuited",
    "gas-holder",
    "barometer",
    "seal-blows",
    "burst-remote",
    "burst-unknown",
    "source-overshoot",
    "source-too-weak",
    "stroke-too-coarse",
    "fitting-unrated",
    "closure-unrated",
    "requalify",
    "no-pause-at-wanted",
    "no-early-look",
    "dezincification",
    "steam-energy",
    "heating-unknown",
    "trapped-air",
    "volume-differs",
    "blocked-in-heating",
    "temperature-unknown",
    "cool-steel",
    "no-thermometer",
    "thermometer-too-coarse",
    "chloride",
    "openings-missing",
    "opening-undecided",
    "must-not-see-test",
    "air-stays",
    "wall-wearing",
    "hot-strength-unknown",
    "creeps",
    "material-unknown",
    "plastic-under-air",
    "air-unstated",
    "head-unknown",
    "band-narrow",
    "acceptance-unsuited",
]


class Stop(Answer):
    """What forbids a test until it is answered: a stable code, and a sentence that says what to do."""

    code: StopCode
    says: Sentence


class Caution(Answer):
    """What must be read before a test: a stable code, and a sentence that says what to do."""

    code: CautionCode
    says: Sentence


GuardCode = Literal[
    "ceiling",
    "overshoot",
    "no-lift",
    "warming",
    "falling",
    "strokes",
    "air",
    "noise",
    "movement",
    "boundary-leak",
    "over-steam",
    "late-valve",
    "witnesses",
    "gauge-stuck",
    "low-water",
    "priming",
]


class Heating(Answer):
    """How a boiler comes up on its fire, at the soonest: nothing is lost to the room.

    water, metal  kg of water at half a glass, and the heat capacity of the metal, J/K, None where it is not known
    soonest       to the working pressure, s
    curve         pressure over time, s and Pa
    """

    water: float
    metal: float | None
    power: float
    soonest: float
    curve: list[ProfilePoint]


class Guard(Answer):
    """A rule that ends or stops a run.

    `does`: dump, stop and look, vent again, fire out; limit in SI, null where eyes and ears watch.
    """

    code: GuardCode
    watches: Sentence
    does: Literal["dump", "stop", "vent", "fire"]
    limit: float | None
    says: Sentence


class Limit(Answer):
    """A limiting pressure, Pa; `known` is false where something that could set it lower is not known."""

    pressure: float | None
    set_by: str
    known: bool


class BasisAnswer(Answer):
    """What one school of practice would ask of this vessel; whether it takes a factor of one's own, and a reason.

    Pressures in Pa.
    """

    id: str
    name: Sentence
    rule: Sentence
    factor: float | None
    test_pressure: float | None
    default: bool
    applies: bool
    strength: bool
    own_factor: bool = False
    own_pressure: bool = False
    asks_reason: bool = False
    why: Sentence
    disputed: Sentence = ""
    source: Sentence


class PartLimit(Answer):
    """A part of the vessel: the pressure it may work at, and the highest test it can bear, Pa."""

    name: str
    allowable: float | None
    test_limit: float | None


class StandOff(Answer):
    """The least distance, m, at which the blast of the air at test pressure has no worse effect than this one."""

    effect: str
    distance: float


class Energies(Answer):
    """Stored energy, J; TNT equivalent, kg; distance at which a burst under air does no harm, m.

    available  what the air at test pressure can do beyond pushing the atmosphere away, J
    """

    water: float | None
    trapped_air: float | None
    steam_at_working: float | None
    air_at_working: float | None
    air_at_test: float | None
    available: float | None = None
    tnt_kg: float | None
    stand_off: float | None
    stand_off_air: float | None = None
    stand_offs: list[StandOff] = []


class EndForce(Answer):
    """Force with which the test pressure throws out a plug, or pushes an end off its shell (a closure), N."""

    name: str
    force: float
    closure: bool = False


class Pumping(Answer):
    """Volume to pump in from zero to the test pressure, m³, and the strokes it takes."""

    volume: float | None
    strokes: float | None


class Stretch(Answer):
    """From when to when on the planned course, s."""

    begins: float
    ends: float


class StageAnswer(Answer):
    """A step of the raising, known by its id.

    Target Pa on the gauge, pause s, pumped m³ from zero; when it is paused at.
    """

    id: str
    name: str
    target: float
    pause: float
    zone: Literal["near", "line"]
    pumped: float | None
    strokes: float | None
    strokes_from_last: float | None
    look_at: Sentence
    level: Stretch | None = None


class ProfilePoint(Answer):
    """A corner of the planned course: minutes are for people, this is s and Pa."""

    time: float
    pressure: float


class Detectable(Answer):
    """The smallest leak that the kit can tell in a hold of so long: s, m³/s."""

    time: float
    leak: float


class Water(Answer):
    """The vessel full of water: masses kg, times s, area m²."""

    mass: float | None
    empty_mass: float | None
    full_mass: float | None
    inside_area: float | None
    fill_time: float | None
    drain_time: float | None


class OpeningAnswer(Answer):
    """An opening: height above the lowest point, m; the choice made for the test and the usual one; what that asks for;
    is it done.
    """

    name: str
    height: float | None
    choice: str | None
    suggested: str
    do: Sentence
    ready: bool


class Gather(Answer):
    """Something to bring to the bench, and for which opening."""

    what: Sentence
    use: Sentence


class Attitude(Answer):
    """A way to lie: tilt and roll, rad; the air that stays then, m³."""

    tilt: float
    roll: float
    air: float


class VentAnswer(Answer):
    """The opening that vents and its height, m; the air that stays above it, m³; a turn that frees it, where one
    does.
    """

    name: str
    height: float
    air: float
    remedy: Attitude | None


class WallAnswer(Answer):
    """The shell's wall: thinnest and the least that the wanted pressure asks for, m; loss m/s; time left, s.

    thinnest_reading  which of the sheet's readings is the thinnest; null where there is none
    """

    thinnest: float
    thinnest_reading: int | None = None
    least: float | None
    loss: float | None
    left: float | None


class Growth(Answer):
    """How the hoop stress compares with a proven design's at its pressure: +0.1 is a tenth more."""

    hoop_stress: float | None


class LowHoldsAnswer(Answer):
    """A low hold before the test hold and one after it: how long each, s; at which pressure, Pa on the gauge; the
    smallest leak that the hold tells with them, m³/s, and against its length.

    chosen  they are planned
    offer   why they are worth their time, where they would decide what the hold alone cannot
    """

    long: float
    pressure: float
    smallest_leak: float | None
    detect: list[Detectable]
    chosen: bool
    offer: Sentence | None


class HoldAnswer(Answer):
    """How long to hold and how often to read, s; where to look afterwards, Pa, and when; leaks m³/s; how long gas is
    left to settle before it, s.
    """

    minimum: float
    every: float
    look_pressure: float
    accepted_leak: float | None
    smallest_leak: float | None
    needed: float | None
    detect: list[Detectable]
    look: Stretch | None = None
    low: LowHoldsAnswer | None = None
    settle: float | None = None


class DeriveAnswer(Answer):
    """What a plan needs. Pressures Pa gauge; volumes m³; compliance m³/Pa; what is not known is null.

    expected_burst   of the shell, where it can be reckoned, Pa
    behind_the_line  when nobody is to be near, on the planned course: from the last stage that people may be near at to
                     the hold's end
    """

    kind: str
    medium: str = "water"
    procedure: str = "proof"
    expands: bool = False
    expected_burst: float | None = None
    basis: str
    factor: float | None
    base_pressure: float
    working_pressure: float
    plate_pressure: float | None
    relief_set: float | None
    gauge_range: float | None
    test_pressure: float
    gauge_target: float
    target_band: list[float]
    working_temperature: float | None = None
    bases: list[BasisAnswer]
    ceiling: Limit
    allowable: Limit
    parts: list[PartLimit]
    highest_provable: float | None
    offer: float | None = None
    stress_ratio: float | None = None
    gauge_error: float | None = None
    gauge_head: float | None = None
    volume: float | None
    height: float | None
    water: Water
    growth: Growth | None
    vent: VentAnswer | None = None
    wall: WallAnswer | None = None
    openings: list[OpeningAnswer] = []
    gather: list[Gather] = []
    best_gauge: str | None
    compliance: float | None
    pressure_per_kelvin: float | None
    warming_to_ceiling: float | None = None
    energy: Energies
    end_forces: list[EndForce]
    pump: Pumping
    approach_pressure: float
    guards: list[Guard] = []
    stages: list[StageAnswer]
    profile: list[ProfilePoint]
    behind_the_line: Stretch | None = None
    hold: HoldAnswer
    heating: Heating | None = None
    stops: list[Stop]
    cautions: list[Caution]
    lines: list[Line]

"""What goes over the wire at the bench."""

import datetime
from typing import Annotated, Any, Literal, Union
from uuid import UUID

from ninja import Field, Schema
from pydantic import create_model

from toadbell.core import units
from toadbell.core.answers import DeriveAnswer
from toadbell.core.bench.situations import Situation, Steaming, Valve
from toadbell.core.bench.stroke_answers import StrokesAnswer
from toadbell.core.judge.burst import BurstAnswer
from toadbell.core.judge.expansion import ExpansionAnswer
from toadbell.core.judge.relief import ReliefAnswer
from toadbell.core.judge.steam import SteamAnswer
from toadbell.core.judge.tightening import TighteningAnswer
from toadbell.core.phrases import Sentence
from toadbell.core.run.carried import VIEWS, HoldEnded, Nothing
from toadbell.core.run.now import Now
from toadbell.core.run.steps import STEPS, Step
from toadbell.core.vessel.drawing import Drawing
from toadbell.core.vessel.sections import Owner
from toadbell.shed.wire import Moment
from toadbell.trials.models import Source, State


class Clock(Schema):
    """The trial's time is trial_anchor + (now − wall_anchor) × speed; server_now sets a browser's clock right.

    off  by how many s the machine's clock was put forward (or back) while something is on the bench; runs go on
         steadily
    """

    server_now: datetime.datetime
    wall_anchor: datetime.datetime | None
    trial_anchor: datetime.datetime | None
    speed: float
    off: float = 0.0


class Point(Schema):
    """A reading. Pressure Pa, temperature K."""

    at: datetime.datetime
    pressure: float
    temperature: float | None


class Latest(Point):
    """The last reading, and who read it."""

    source: Source
    name: str


class LogLine(Schema):
    """A line of the log."""

    id: UUID
    at: datetime.datetime
    kind: str
    says: str
    by: str


class SightOut(Schema):
    """What is seen on looking at the simulated rig: which leak, whose, where, how it shows, and drops a minute."""

    number: int
    owner: str
    where: str
    how: str
    drops: float


class BoilerOut(Schema):
    """The simulated boiler: its fire as a part of the full one, its feeds, on or off, its outlet, the water in its
    glass as a part of it, and what the glass does when it is blown down.
    """

    fire: float
    feeding: list[bool]
    outlet_open: bool
    glass: float
    blown: Literal["comes back", "no"]


class RigOut(Schema):
    """The simulated rig's valves and strokes, and what is seen of it; `joints` that may be tightened, by their
    numbers; `boiler` where it is one on its burner; what went in since the vent was shut, and what came back, m³;
    of a gas holder what a barometer shows, Pa absolute, and its level, m; `heard`: it
    cracks; whole strokes of its own to the stage that comes next, and what is said of a stroke that goes past it.
    """

    to_go: int
    shut_in: bool
    vent_open: bool
    burst: bool
    lifted: bool
    sights: list[SightOut]
    joints: list[str] = []
    boiler: BoilerOut | None = None
    went_in: float | None = None
    came_back: float | None = None
    barometer: float | None = None
    level: float | None = None
    heard: bool = False
    to_stage: int | None = None
    stroke_says: Sentence | None = None


class ExpansionOut(Schema):
    """What is measured of a vessel's expansion.

    strokes, counted  of the raising, and the water that they moved, m³: offered as what went in
    marks             names of the places where the tape goes round
    jacket            how its jacket is read; null where there is none
    judged            what it proves so far; null where nothing was measured
    """

    judged: ExpansionAnswer | None
    strokes: int | None
    counted: float | None
    marks: list[str]
    jacket: Literal["burette", "level"] | None


class GuardOut(Schema):
    """A guard that tripped and was not answered."""

    id: UUID
    code: str
    does: str
    says: str
    at: datetime.datetime


class PinOut(Schema):
    """A place on a drawing of the vessel: from the front or behind, m along and across; from an end, m to the right and
    up from its middle. `seen` says so in words.
    """

    x: float
    v: float
    view: Literal[VIEWS]  # type: ignore[valid-type]
    seen: str


class RateOut(Schema):
    """What was counted of a leak, as a rate and between what it lies, m³/s."""

    rate: float
    low: float
    high: float


class ToldOut(Schema):
    """A line of a leak's story: in which trial, by its id and number, when, and what was seen or done."""

    id: UUID
    trial: int
    at: datetime.datetime
    says: str


class LeakOut(Schema):
    """A leak that was found, whose it is, where its pin is on the vessel (m along and across, or at an end m to the
    right and up) and from where it is seen, and what was done about it.

    found     how; pressure: it first showed at, Pa; rate: of what was counted
    until     what it was sealed with cures till then
    story     everything that was seen and done, in the trials before too
    """

    id: UUID
    at: datetime.datetime
    owner: str
    whose: str
    where: str
    shows: str
    pin: PinOut | None
    mend: str | None
    found: str = ""
    pressure: float | None = None
    rate: RateOut | None = None
    times_tightened: int = 0
    until: datetime.datetime | None = None
    story: list[ToldOut] = []


class HoldOut(Schema):
    """The hold as it goes: asked for so many s; down by so many Pa since shut-in, and what the temperature explains of
    it; the judge's view so far.

    more  further s until it can be told; None where it can be now, or where no hold would
    """

    began: datetime.datetime
    ended: datetime.datetime | None
    asked: float
    shut_in: float
    drop: float | None
    drop_from_temperature: float | None
    verdict: Literal["tight", "leaking", "cannot-tell"] | None
    more: float | None
    says: str | None


class HandOut(Schema):
    """Whose hand the run is in, and whether that is this browser's; who asks for it, and whether that is this one."""

    mine: bool
    name: str
    asked: str | None = None
    asking: bool = False


class OpeningTick(Schema):
    """An opening: what to do with it, is it done, is it undone again after."""

    name: str
    do: str
    ready: bool
    undone: bool


class SectionOut(Schema):
    """A section to be looked at: whose it is, and its place on the drawing from the front, m, where it has one."""

    id: str
    name: str
    owner: Owner
    x: float | None
    v: float | None


class ObservedOut(Schema):
    """What an instrument last showed at a place: a word or a figure (SI); Pa.

    leaks     it shows a leak
    unmended  and nothing was mended since: a mark of no leak there says why
    """

    what: str
    place: str
    word: str
    value: float | None
    at: datetime.datetime
    pressure: float | None
    leaks: bool
    unmended: bool


class LiftOut(Schema):
    """A lift that the readings show by their fall: s from the start, Pa; where it shut, once it has."""

    time: float
    lift: float
    reseat: float | None


class ValveOut(Schema):
    """A relief valve's trial so far: what its rounds prove, and the lifts that were found in the readings.

    too_quick  in words, where it rises too quickly near its set now
    """

    judged: ReliefAnswer
    too_quick: str | None
    lifts: list[LiftOut]


class SteamOut(Schema):
    """A first steam so far: what it proves, and by how much it is behind the soonest that its burner could bring it up,
    s; None where that is not known.
    """

    judged: SteamAnswer
    behind: float | None


class PlaceOut(Schema):
    """A place to look at next, and why it comes where it does."""

    name: str
    why: str


class CircuitSectionOut(Schema):
    """A section between valves: does the gauge sit on it, and see it now; its leak by the holds so far, and between
    what it lies, m³/s; None before there is any.

    told  it was told apart from the others
    """

    name: str
    gauged: bool
    open: bool
    leak: float | None
    low: float | None
    high: float | None
    told: bool


class CircuitValveOut(Schema):
    """A valve, the two sections that it parts, and is it shut."""

    name: str
    between: list[str]
    shut: bool


class SectionHoldOut(Schema):
    """A hold with some sections open: its leak and between what it lies, m³/s; else why that is not known."""

    began: datetime.datetime
    ended: datetime.datetime | None
    shut: list[str]
    open: list[str]
    leak: float | None
    low: float | None
    high: float | None
    why_not: str | None


class CircuitOut(Schema):
    """The sections of a rig, what was held with which of them open, and the valves to shut next; None once every
    section was held by itself. `says`: what that tells so far.
    """

    sections: list[CircuitSectionOut]
    valves: list[CircuitValveOut]
    holds: list[SectionHoldOut]
    next_shut: list[str] | None
    says: str | None


class LowOut(Schema):
    """A low hold that goes on: since when, till when it is asked for."""

    began: datetime.datetime
    until: datetime.datetime


class BenchLive(Schema):
    """What changes on the bench as the run goes.

    over_from    from when on the hold that runs ends without a reason
    course_from  when the planned course begins, s from the start
    needs        steps that are to be written down before anything is closed up
    low_offer    why a low hold now would help a hold that cannot be told
    reads        readings may be added: after a dump too, until zero was read
    """

    id: UUID
    vessel: str
    vessel_id: UUID
    number: int
    state: State
    source: Source
    clock: Clock
    started_at: datetime.datetime | None
    phase: str
    since: datetime.datetime
    until: datetime.datetime | None
    over_from: datetime.datetime | None
    reached: int
    round: int
    course_from: float
    strokes: int
    pumped: StrokesAnswer | None
    hold: HoldOut | None
    guards: list[GuardOut]
    leaks: list[LeakOut]
    hand: HandOut
    now: Now
    reads: bool
    allowed: list[str]
    latest: Latest | None
    readings: int
    log: list[LogLine]
    rig: RigOut | None
    openings: list[OpeningTick]
    observed: list[ObservedOut]
    needs: list[str]
    valve: ValveOut | None
    steam: SteamOut | None
    expansion: ExpansionOut | None = None
    gas_by_level: bool = False
    burst: BurstAnswer | None = None
    joint: TighteningAnswer | None = None
    look_next: list[PlaceOut] = []
    circuit: CircuitOut | None = None
    low: LowOut | None = None
    low_offer: str | None = None


class MendOut(Schema):
    """A way of mending: may it need a compound, and what it asks for, by whose leak it is."""

    id: str
    name: str
    seals: bool
    asks: dict[str, str]


class CompoundOut(Schema):
    """What leaks are sealed with, and how long it cures at the temperature here, s, null where it is too cold; who says
    so.
    """

    id: str
    name: str
    cures_in: float | None
    source: str


class EarlierLeak(Schema):
    """A leak of the vessel's earlier trials, that one found now may be."""

    id: UUID
    says: str


class AfterStep(Schema):
    """A step of the way down and out, as a list tells it."""

    kind: str
    says: str


class BenchOut(BenchLive):
    """Everything the bench shows: the frozen plan, the drawing and the way down and out too.

    seen    the mark of that plan, to be brought back at the start
    barred  why it may not begin on the real rig
    begin   what is seen to with one's hands before
    """

    seen: str
    answer: DeriveAnswer
    shape: Drawing
    after: list[AfterStep]
    mending: str
    instruments: list[str]
    sections: list[SectionOut]
    barred: str | None
    begin: list[Sentence]
    ways: list[MendOut]
    compounds: list[CompoundOut]
    earlier: list[EarlierLeak]
    at_the_pin: str | None


class Series(Schema):
    """The readings of one source: s from the start of the run, Pa, K; `left_out`: so many more, evenly in between."""

    id: str
    name: str
    left_out: int = 0
    time: list[float]
    pressure: list[float]
    temperature: list[float | None]


class Trace(Schema):
    """Readings to draw, each source by itself; with `cursor` only those stored since are asked for."""

    cursor: str
    series: list[Series]


class StartIn(Schema):
    """How to run: on the real rig, or on the simulated one in a situation, written as quantities."""

    seen: str = Field(max_length=40)
    source: Source = Source.DIAL
    speed: float = 1.0
    leak: str | None = None
    owner: Literal["boundary", "fitting", "rig"] = "boundary"
    where: str = Field(default="the lower seam", max_length=80)
    section: str = Field(default="", max_length=60)
    eased: float = Field(default=1.0, ge=0, le=1)
    air: str | None = None
    drift: str | None = Field(default=None, description="of the room, kelvin per hour, such as “-0.5 delta_degC”")
    washer: str | None = Field(default=None, description="a washer's maximum, such as “120 bar”")
    yields_at: str | None = None
    bursts_at: str | None = None
    relief_at: str | None = None
    sticking: str | None = None
    valve: Valve = "good"
    steam: Steaming = "good"
    hunt: bool = False
    seed: int = Field(default=1, ge=0, le=2**31)
    hand_name: str = Field(default="", max_length=60)

    def situation(self) -> Situation:
        """What the simulated rig is to meet; raises QuantityError."""
        return Situation(
            leak=_optional(self.leak, "leak") or 0.0,
            owner=self.owner,
            where=self.where,
            section=self.section.strip(),
            eased=self.eased,
            air=_optional(self.air, "volume"),
            drift=(_optional(self.drift, "temperature_difference") or 0.0) / 3600,
            washer=_optional(self.washer, "pressure"),
            yields_at=_optional(self.yields_at, "pressure"),
            bursts_at=_optional(self.bursts_at, "pressure"),
            relief_at=_optional(self.relief_at, "pressure"),
            sticking=_optional(self.sticking, "pressure") or 0.0,
            valve=self.valve,
            steam=self.steam,
            hunt=self.hunt,
            seed=self.seed,
        )


class ReadingIn(Schema):
    """A reading. The id comes from whoever read it, so that sending twice stores once."""

    id: UUID
    pressure: str = Field(max_length=60)
    temperature: str | None = Field(default=None, max_length=60)
    at: Moment | None = None


class ReadingsTaken(Schema):
    """The ids that are now on the disk; those that stood for another reading before, and what was kept of them, in
    words.
    """

    stored: list[UUID]
    differs: list[UUID] = []
    says: str | None = None


class StepSent(Schema):
    """A step of the run; its id makes sending it twice the same as once. `at` where it could not be sent at once."""

    id: UUID
    at: Moment | None = None


def _sent(step: Step) -> type[StepSent]:
    """A step as it is sent, with what it carries, by the table of steps."""
    shape = step.carries
    default: Any = shape() if shape in (Nothing, HoldEnded) else ...
    name = "".join(word.capitalize() for word in step.id.split("-"))
    fields: Any = {"kind": (Literal[step.id], ...), "data": (shape, default)}
    return create_model(f"{name}Sent", __base__=StepSent, __doc__=f"{step.label}.", **fields)


StepIn: Any = Annotated[Union[tuple(_sent(step) for step in STEPS.values())], Field(discriminator="kind")]  # noqa: UP007
"""Every step there is, told apart by its kind."""


class HandIn(Schema):
    """Who takes the run over, or asks for it: what the hand is called, such as “phone”.

    Who holds it gives it to whoever asks, or keeps it.
    """

    name: str = Field(default="", max_length=60)
    how: Literal["take", "ask", "give", "keep"] = "take"


class StopIn(Schema):
    """A call to stop, with an id of its own, and what was seen."""

    id: UUID
    text: str = Field(default="", max_length=200)


class RigIn(Schema):
    """A hand on the simulated rig."""

    action: Literal["pump", "stop", "shut", "open", "bleed", "tighten", "fire", "feed", "outlet"]
    strokes: int = 0
    which: int = 0
    part: float = Field(default=0.0, ge=0, le=1)


def _optional(text: str | None, kind: str) -> float | None:
    return units.read(text, kind).value if text and text.strip() else None

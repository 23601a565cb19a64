"""The stages of the raising, and the course of the whole trial over time."""

import math
import re
from collections.abc import Callable
from typing import NamedTuple

from toadbell.core.answers import ProfilePoint, StageAnswer, Stretch
from toadbell.core.judge.tightening import GRIP
from toadbell.core.phrases import say
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.sheets import EditedStage, SheetError

NEAR_WANTED = 0.05
"""A step this close to the wanted pressure, as a part of the test pressure, is moved onto it."""
DEFAULT_PAUSE = 180.0
SECONDS_PER_STROKE = 5.0
SHORTEST_RISE = 60.0
TO_THE_LOOK, LOOK, LETTING_GO = 120.0, 420.0, 120.0
"""Down to the look, the look, and from there to nothing, s."""

FRACTIONS = {
    "quarters": (0.25, 0.5, 0.75, 1.0),
    "half-then-tenths": (0.5, 0.6, 0.7, 0.8, 0.9, 1.0),
    "single": (1.0,),
    "steam": (0.5, 0.9, 1.0),
}
_NAMES = {0.5: ("half", "half"), 0.75: ("three-quarters", "three quarters"), 1.0: ("test", "test")}


class StageAim(NamedTuple):
    """A stage by its id, the name that people read, and its pressure on the gauge, Pa.

    What a stage is, its id says, never its name.
    """

    id: str
    name: str
    target: float


def stage_targets(raising: str, target: float, wanted: float, look_fraction: float) -> list[StageAim]:
    """The stages, ascending: the raising style's steps, always an early look, always the wanted pressure.

    target  on the gauge, Pa; wanted  working pressure on the gauge, Pa
    """
    steps = [
        StageAim(*_NAMES.get(f, (f"{100 * f:.0f}", f"{f:.0%}")), f * target)
        for f in FRACTIONS[raising]
        if f > look_fraction
    ]
    kept = [step for step in steps if step.id == "test" or abs(step.target - wanted) > NEAR_WANTED * target]
    return _with_look(kept, target, wanted, look_fraction)


MOST_STEPS = 40
"""A raising every so much has no more stages than that: a smaller step is one for every reading."""


def stepped_targets(by: float, target: float, wanted: float, look_fraction: float) -> list[StageAim]:
    """The stages of a raising every so much, `by` Pa, up to the test; always an early look, always the wanted pressure.

    Raises SheetError where that would be more than MOST_STEPS.
    """
    if by < target / MOST_STEPS:
        raise SheetError(f"that is more than {MOST_STEPS} stages: take a larger step", "raising_by")
    count = math.ceil(target / by - 1e-9) - 1
    steps = [StageAim(f"every-{n}", f"step {n}", n * by) for n in range(1, count + 1)]
    kept = [step for step in steps if abs(step.target - wanted) > NEAR_WANTED * target]
    kept = [step for step in kept if look_fraction * target < step.target < target - by / 4]
    return _with_look([*kept, StageAim("test", "test", target)], target, wanted, look_fraction)


def _with_look(kept: list[StageAim], target: float, wanted: float, look_fraction: float) -> list[StageAim]:
    """With an early look, and the wanted pressure where it is none of them."""
    look = look_fraction * target
    if wanted <= look and look - wanted <= NEAR_WANTED * target:
        look = wanted
    elif wanted < target * (1 - NEAR_WANTED):
        kept.append(StageAim("wanted", "wanted", wanted))
    return sorted([StageAim("look", "look", look), *kept], key=lambda step: step.target)


def gripping(steps: list[StageAim], head: float) -> list[StageAim]:
    """The stages with the one at which a joint has to grip before all others; head  gauge above the top, Pa."""
    higher = [step for step in steps if step.target > 1.1 * (GRIP + head)]
    return [StageAim("grip", "grip", GRIP + head), *higher] if higher else steps


def edited_targets(edited: list[EditedStage], target: float, wanted: float) -> list[StageAim]:
    """A person's own stages, the test itself put last where it is not there. Pressures on the gauge, Pa."""
    found = []
    for number, stage in enumerate((one for one in edited if one.target < target * (1 - 1e-9)), 1):
        there = abs(stage.target - wanted) < 1e3
        found.append(
            StageAim(
                "wanted" if there else f"own-{number}",
                _name(stage, target, there=there),
                stage.target,
            )
        )
    return [*found, StageAim("test", "test", target)]


EARLY = 0.26
"""Up to such a part of the test a look is an early one."""
_BY_PLACE = re.compile(r"look|wanted|test|half|three quarters|\d+ ?%|(step|stage) \d+")
"""Names that say where a stage stands: they go with it."""


def _name(stage: EditedStage, target: float, *, there: bool) -> str:
    """A stage as it is called: by the person's own name, or else by what it is after it was retyped."""
    own = (stage.name or "").strip()
    if own and not _BY_PLACE.fullmatch(own.lower()):
        return own
    part = stage.target / target
    if own.lower() == "look" and part <= EARLY:
        return own
    known = next((name for f, (_, name) in _NAMES.items() if abs(part - f) < 0.005), None)
    return "wanted" if there else known or f"{100 * part:.0f}%"


def plan_stages(
    targets: list[StageAim],
    content: Content | AirContent | None,
    stroke: float | None,
    pauses: list[float],
    approach: float,
) -> list[StageAnswer]:
    """Each stage with what has to be pumped for it.

    targets   the stages that are aimed at
    content   None where the volume is not known
    stroke    displacement of the pump, m³
    pauses    at each stage, s
    approach  pressure up to which people may be near, Pa
    """
    stages, last = [], 0.0
    for (id_, name, target), pause in zip(targets, pauses, strict=True):
        pumped = None if content is None else content.pumped(target)
        strokes = pumped / stroke if pumped is not None and stroke else None
        stages.append(
            StageAnswer(
                id=id_,
                name=name,
                target=target,
                pause=0.0 if id_ == "test" else pause,
                zone="near" if target <= approach * (1 + 1e-9) else "line",
                pumped=pumped,
                strokes=strokes,
                strokes_from_last=None if strokes is None else strokes - last,
                look_at=say(f"plan.look-at-{id_}" if id_ in LOOKED_AT else "plan.look-at"),
            )
        )
        last = strokes or 0.0
    return stages


LOOKED_AT = ("look", "wanted", "test")
"""Stages that have their own place to look at, by id."""


class Course(NamedTuple):
    """The planned course of pressure over time, s and Pa; on it the stages, the look after the hold, and when nobody is
    to be near.
    """

    profile: list[ProfilePoint]
    stages: list[StageAnswer]
    look: Stretch | None
    behind_the_line: Stretch | None


def course(
    stages: list[StageAnswer], hold: float, look_pressure: float, low_after: tuple[float, float] | None = None
) -> Course:
    """The planned course: rises by expected strokes, pauses, hold, look, release.

    stages         that are planned, the test last
    hold           s
    look_pressure  where it is looked at after the hold, Pa
    low_after      pressure (Pa) of a low hold on the way down, and how long it is, s
    """
    points, placed, now = [(0.0, 0.0)], [], 0.0
    for stage in stages:
        rise = (stage.strokes_from_last or 0.0) * SECONDS_PER_STROKE
        begins = now + max(SHORTEST_RISE, rise)
        now = begins + (hold if stage.id == "test" else stage.pause)
        points += [(begins, stage.target), (now, stage.target)]
        placed.append(stage.model_copy(update={"level": Stretch(begins=begins, ends=now)}))
    line = Stretch(begins=_near_until(placed), ends=now) if placed else None
    look = None
    if placed and look_pressure < placed[-1].target:
        look = Stretch(begins=now + TO_THE_LOOK, ends=now + TO_THE_LOOK + LOOK)
        points += [(look.begins, look_pressure), (look.ends, look_pressure)]
        now = look.ends
    if placed and low_after is not None:
        down = now + TO_THE_LOOK
        now = down + low_after[1]
        points += [(down, low_after[0]), (now, low_after[0])]
    points.append((now + LETTING_GO, 0.0))
    return Course([ProfilePoint(time=t, pressure=p) for t, p in points], placed, look, line)


def heated_course(
    stages: list[StageAnswer], steady: float, curve: list[ProfilePoint], when: Callable[[float], float]
) -> Course:
    """The course of a boiler on its fire: it rises by its heat, is at each stage when it comes to it, and stands where
    its valve blows.

    steady  for so long, s
    curve   pressure over time, to the last stage's
    when    it comes to a pressure (Pa), s
    """
    placed = [
        one.model_copy(update={"level": Stretch(begins=when(one.target), ends=when(one.target))}) for one in stages
    ]
    over = curve[-1].time + steady
    placed[-1] = placed[-1].model_copy(update={"level": Stretch(begins=curve[-1].time, ends=over)})
    return Course([*curve, ProfilePoint(time=over, pressure=curve[-1].pressure)], placed, None, None)


def _near_until(stages: list[StageAnswer]) -> float:
    """Until when people may be near, s."""
    return max((stage.level.ends for stage in stages if stage.zone == "near" and stage.level), default=0.0)

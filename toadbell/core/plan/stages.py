"""The stages of the raising, and the course of the whole trial over time."""

from toadbell.core.answers import ProfilePoint, StageAnswer
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.sheets import EditedStage

NEAR_WANTED = 0.05
"""A step this close to the wanted pressure, as a part of the test pressure, is moved onto it."""
DEFAULT_PAUSE = 180.0
SECONDS_PER_STROKE = 5.0
SHORTEST_RISE = 60.0

FRACTIONS = {
    "quarters": (0.25, 0.5, 0.75, 1.0),
    "half-then-tenths": (0.5, 0.6, 0.7, 0.8, 0.9, 1.0),
    "single": (1.0,),
}
_NAMES = {0.5: "half", 0.75: "three quarters", 1.0: "test"}


def stage_targets(raising: str, target: float, wanted: float, look_fraction: float) -> list[tuple[str, float]]:
    """Names and gauge targets (Pa), ascending: the raising style's steps, always an early look, always the wanted pressure.

    target  on the gauge, Pa; wanted  working pressure on the gauge, Pa
    """
    steps = [(_NAMES.get(f, f"{f:.0%}"), f * target) for f in FRACTIONS[raising] if f > look_fraction]
    kept = [s for s in steps if s[0] == "test" or abs(s[1] - wanted) > NEAR_WANTED * target]
    look = look_fraction * target
    if wanted <= look and look - wanted <= NEAR_WANTED * target:
        look = wanted
    elif wanted < target * (1 - NEAR_WANTED):
        kept.append(("wanted", wanted))
    return sorted([("look", look), *kept], key=lambda step: step[1])


def edited_targets(edited: list[EditedStage], target: float, wanted: float) -> list[tuple[str, float]]:
    """A person's own stages with names, the test itself put last where it is not there. Pressures on the gauge, Pa."""
    below = [stage for stage in edited if stage.target < target * (1 - 1e-9)]
    named = [
        (stage.name or ("wanted" if abs(stage.target - wanted) < 1e3 else f"stage {i}"), stage.target) for i, stage in enumerate(below, 1)
    ]
    return [*named, ("test", target)]


def plan_stages(
    targets: list[tuple[str, float]], content: Content | AirContent | None, stroke: float | None, pauses: list[float], approach: float
) -> list[StageAnswer]:
    """Each stage with what has to be pumped for it.

    targets   names and gauge pressures, Pa
    content   None where the volume is not known
    stroke    displacement of the pump, m³
    pauses    at each stage, s
    approach  pressure up to which people may be near, Pa
    """
    stages, last = [], 0.0
    for (name, target), pause in zip(targets, pauses, strict=True):
        pumped = None if content is None else content.pumped(target)
        strokes = pumped / stroke if pumped is not None and stroke else None
        stages.append(
            StageAnswer(
                name=name,
                target=target,
                pause=0.0 if name == "test" else pause,
                zone="near" if target <= approach * (1 + 1e-9) else "line",
                pumped=pumped,
                strokes=strokes,
                strokes_from_last=None if strokes is None else strokes - last,
                look_at=_LOOK_AT.get(name, "Listen, look from where you stand, read the gauge twice."),
            )
        )
        last = strokes or 0.0
    return stages


_LOOK_AT = {
    "look": "Go round the plugs, the hose and the gauge: first leaks are the rig's own.",
    "wanted": "Seams and fittings from where you stand; the needle must not creep.",
    "test": "Shut in. Nobody goes near.",
}


def course(stages: list[StageAnswer], hold: float, look_pressure: float) -> list[ProfilePoint]:
    """The planned course of pressure over time, s and Pa: rises by expected strokes, pauses, hold, look, release."""
    points, now, at = [(0.0, 0.0)], 0.0, 0.0
    for stage in stages:
        rise = (stage.strokes_from_last or 0.0) * SECONDS_PER_STROKE
        now += max(SHORTEST_RISE, rise)
        points.append((now, stage.target))
        now += hold if stage.name == "test" else stage.pause
        points.append((now, stage.target))
        at = stage.target
    if look_pressure < at:
        points += [(now + 120, look_pressure), (now + 120 + 420, look_pressure)]
        now += 540
    points.append((now + 120, 0.0))
    return [ProfilePoint(time=t, pressure=p) for t, p in points]

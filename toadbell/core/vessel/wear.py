"""Wall readings over the years: the thinnest, how fast it goes, and when the least wall is reached."""

import datetime
import itertools
from dataclasses import dataclass

from toadbell.core.physics.materials import figures_of, weakening
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel.parts import working_temperature
from toadbell.core.vessel.strength import cylinder_ends, shell_hoop, spherical

YEAR = 365.25 * 86_400.0
SHORTEST = 90 * 86_400.0
"""Surveys nearer to each other than this tell a gauge's error, not rust, s."""


@dataclass(frozen=True)
class Wear:
    """The shell's wall: thinnest and least for the wanted pressure, m; loss m/s and since when; time left, s.

    None is not known.

    thinnest_reading  which of the readings it is; None where none was read
    """

    thinnest: float
    least: float | None
    loss: float | None
    seen_since: str
    left: float | None
    thinnest_reading: int | None = None


def wear_of(sheet: VesselSheet) -> Wear | None:
    """What the wall readings say of the shell; None where no wall is known.

    The loss is the fastest seen between two surveys at one place, else between the surveys' thinnest, else from the
    nominal
    wall since it was made.
    """
    shell = sheet.shell
    if shell is None or shell.thinnest is None:
        return None
    least = least_wall(sheet)
    loss, since = _loss(sheet)
    left = None
    if least is not None and loss is not None and loss > 0:
        left = max(0.0, (shell.thinnest - least) / loss)
    walls = [reading.wall for reading in shell.wall_readings]
    return Wear(shell.thinnest, least, loss, since, left, walls.index(min(walls)) if walls else None)


def least_wall(sheet: VesselSheet) -> float | None:
    """The wall at which the shell may just work at the wanted pressure, corrosion allowance not counted, m; None where
    not known.

    By halving its forms: hoop and lengthwise of a cylinder, or the sphere's, thin or thick as they come.
    """
    shell = sheet.shell
    cold = figures_of(shell.material, shell).design_stress if shell else None
    weaker = weakening(shell.material, working_temperature(sheet)) if shell else None
    if shell is None or cold is None or weaker is None:
        return None
    design = cold * weaker
    R, E = shell.inside_diameter / 2, shell.joint_efficiency
    forms = (spherical,) if shell.form == "sphere" else (shell_hoop, cylinder_ends)

    def bears(wall: float) -> float:
        return min(form(design, E, wall, R) for form in forms)

    low, high = 0.0, R * 0.999
    if bears(high) < sheet.working_pressure:
        return None
    for _ in range(50):
        middle = (low + high) / 2
        low, high = (low, middle) if bears(middle) >= sheet.working_pressure else (middle, high)
    return high


def _loss(sheet: VesselSheet) -> tuple[float | None, str]:
    shell = sheet.shell
    assert shell is not None
    dated = [(reading, reading.date) for reading in shell.wall_readings if reading.date is not None]
    places: dict[tuple[float, float], list[tuple[datetime.date, float]]] = {}
    surveys: dict[datetime.date, float] = {}
    for reading, day in dated:
        if reading.along is not None:
            places.setdefault((round(reading.along, 3), round(reading.round, 2)), []).append((day, reading.wall))
        surveys[day] = min(reading.wall, surveys.get(day, reading.wall))
    at_one_place = [rate for seen in places.values() for rate in _rates(seen)]
    if at_one_place:
        return max(0.0, *at_one_place), "the fastest at one place between two surveys"
    between = _rates(list(surveys.items()))
    if between:
        return max(0.0, *between), "the thinnest of each survey"
    today = sheet.date or datetime.date.today()
    if shell.wall is not None and shell.wall_readings and sheet.made is not None and today.year > sheet.made:
        thinnest = min(reading.wall for reading in shell.wall_readings)
        return max(
            0.0, (shell.wall - thinnest) / ((today.year - sheet.made) * YEAR)
        ), f"from the nominal wall since {sheet.made}"
    return None, ""


def _rates(seen: list[tuple[datetime.date, float]]) -> list[float]:
    """Loss between walls (m) seen one after another, m/s; those too near in time are passed over."""
    found = []
    for (before, thick), (after, thin) in itertools.pairwise(sorted(seen)):
        between = (after - before).total_seconds()
        if between >= SHORTEST:
            found.append((thick - thin) / between)
    return found

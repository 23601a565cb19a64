"""Who listens, and of how high a pressure is spoken: which units sentences are said in."""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass

LOW_HEAD = 20_000.0
"""Test pressure under which a person who reads bar reads millibar, Pa."""


@dataclass(frozen=True)
class Habit:
    """The units a person reads pressures and lengths in."""

    pressure: str = "bar"
    length: str = "mm"

    @property
    def metric(self) -> bool:
        """Does it go by metres?"""
        return self.length in ("mm", "cm", "m")


_METRIC = Habit()
_listens: ContextVar[Habit] = ContextVar("listens", default=_METRIC)
_scale: ContextVar[float | None] = ContextVar("scale", default=None)


def habit_now() -> Habit:
    """The habit of whoever listens now."""
    return _listens.get()


def scale_now() -> float | None:
    """The test pressure of what is spoken of, Pa; None where it is no trial."""
    return _scale.get()


@contextmanager
def speaking(habit: Habit) -> Iterator[None]:
    """What is said meanwhile is said to a person of this habit."""
    token = _listens.set(habit)
    try:
        yield
    finally:
        _listens.reset(token)


@contextmanager
def of_scale(test_pressure: float | None) -> Iterator[None]:
    """What is said meanwhile is said of a trial of this test pressure, Pa."""
    token = _scale.set(test_pressure)
    try:
        yield
    finally:
        _scale.reset(token)


def unit_for(test_pressure: float | None, unit: str) -> str:
    """The unit in which a person whose pressure unit this is reads a trial of some test pressure (Pa): all of it in
    one.
    """
    return "mbar" if unit == "bar" and test_pressure is not None and test_pressure < LOW_HEAD else unit


def pressure_unit() -> str:
    """The unit of pressure that is spoken in now."""
    return unit_for(_scale.get(), _listens.get().pressure)

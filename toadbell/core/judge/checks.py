"""A thing that was tried and has to be so: met, not met, or not known; and a figure between two limits by its band."""

from typing import Literal

from toadbell.core.answers import Answer
from toadbell.core.phrases import Sentence

State = Literal["met", "not met", "not known"]


class Check(Answer):
    """One thing that has to be so, and whether it is."""

    code: str
    name: Sentence
    state: State
    says: Sentence


def state_of(met: bool | None) -> State:
    """In words."""
    return "not known" if met is None else "met" if met else "not met"


def between(low: float, high: float, least: float, most: float) -> bool | None:
    """Does a figure that lies between low and high lie between least and most? None where it may or may not."""
    if least <= low and high <= most:
        return True
    return False if high < least or low > most else None

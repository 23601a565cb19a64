"""What a vessel's relief valve and its pump's switch are set to after a proof."""

from toadbell.core.answers import Answer
from toadbell.core.phrases import Sentence, say

STANDARD_SETS = (
    0.5,
    0.7,
    1,
    1.5,
    2,
    2.5,
    3,
    3.5,
    4,
    4.5,
    5,
    5.5,
    6,
    7,
    8,
    8.5,
    9,
    10,
    11,
    12,
    13,
    14,
    15,
    16,
    18,
    20,
    25,
    30,
    40,
)
"""Set pressures that relief valves are sold at, bar."""
CUT_OUT, BAND = 0.85, 0.2
"""A switch cuts out at so much of the relief's set, under its reseat; and in again so much of that lower."""


class Settings(Answer):
    """What a vessel's relief valve and switch are set to after a proof, Pa; null where no valve is sold so low."""

    relief: float | None
    cut_out: float | None
    cut_in: float | None
    says: Sentence


def settings_under(proven: float, wanted: float) -> Settings:
    """Relief valve, cut-out and cut-in under what was proven and is wanted, Pa.

    The valve is the next that is sold at or under both; the switch cuts out under its reseat (90 % of its set), so that
    it never weeps at work.

    >>> found = settings_under(8.5e5, 8.5e5)
    >>> [round(x / 1e5, 2) for x in (found.relief, found.cut_out, found.cut_in)]
    [8.5, 7.22, 5.78]
    """
    most = min(proven, wanted) / 1e5
    relief = max((one for one in STANDARD_SETS if one <= most * (1 + 1e-9)), default=None)
    if relief is None:
        return Settings(relief=None, cut_out=None, cut_in=None, says=say("relief.settings-none", most=most * 1e5))
    cut_out = CUT_OUT * relief * 1e5
    cut_in = (1 - BAND) * cut_out
    says = say("relief.settings", relief=relief * 1e5, cut_out=cut_out, cut_in=cut_in)
    return Settings(relief=relief * 1e5, cut_out=cut_out, cut_in=cut_in, says=says)

"""What is said: sentences from a code and facts, in the reader's own units.

A sentence is made with `say`, from a template in this room and facts in SI. It is a string, in the units of whoever
listens
now, and remembers what it was made of: kept with `keep`, it is said anew to the next reader, in his.
"""

from toadbell.core.phrases.habit import LOW_HEAD, Habit, habit_now, of_scale, pressure_unit, speaking, unit_for
from toadbell.core.phrases.said import Said, Sentence, amount, is_known, joined, keep, put, read_kept, say

__all__ = [
    "LOW_HEAD",
    "Habit",
    "Said",
    "Sentence",
    "amount",
    "habit_now",
    "is_known",
    "joined",
    "keep",
    "of_scale",
    "pressure_unit",
    "put",
    "read_kept",
    "say",
    "speaking",
    "unit_for",
]

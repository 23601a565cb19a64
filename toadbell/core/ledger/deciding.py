"""A person's decision: what there is to choose after a test, what goes further than its evidence, and what is refused.

More cautious than the evidence is free; further than it asks for a reason, which stays. A relief valve's own test is
decided of the valve, and of its vessel at most that it is not fit.
"""

from typing import Literal

from toadbell.core.answers import Answer
from toadbell.core.judge.answers import Evidence, Fitness, FitnessAnswer
from toadbell.core.ledger.fitness import PRESSURELESS
from toadbell.core.phrases import Said, Sentence, say

Valve = Literal["good", "reset", "bad", "cannot-tell"]
"""What is decided of a relief valve after its own test; it says nothing about the vessel."""
ORDER: tuple[Fitness, ...] = ("not fit", "not proven", "tight", "limited", "fit")
VALVE_ORDER: tuple[Valve, ...] = ("bad", "reset", "cannot-tell", "good")
"""Both from the most cautious to the least."""


class Decidable(Answer):
    """One thing that can be decided.

    valve     what the valve is decided to be; "" where the choice is of the vessel
    says      the choice in a word or two, and what it means
    advised   the evidence says the same
    further   it goes further than the evidence, whatever pressure goes with it
    pressed   a pressure goes with it
    """

    fitness: Fitness
    valve: Valve | Literal[""]
    says: Sentence
    means: Sentence
    advised: bool
    further: bool
    pressed: bool


def choices(answer: FitnessAnswer, found: Valve | None) -> list[Decidable]:
    """What there is to choose, as it is laid before a person.

    answer  what the evidence adds up to
    found   what a relief valve's own test found; None after any other test
    """
    if found is None:
        return [_of_vessel(one, answer, say(f"fitness.means-{one.replace(' ', '-')}")) for one in reversed(ORDER)]
    spoiled = answer.answer == "not fit"
    of_valve = [
        Decidable(
            fitness="not proven",
            valve=one,
            says=decided("not proven", one),
            means=say(f"fitness.means-valve-{one}"),
            advised=one == found and not spoiled,
            further=spoiled or less_cautious_of_valve(one, found),
            pressed=False,
        )
        for one in reversed(VALVE_ORDER)
    ]
    vessel = _of_vessel("not fit", answer, say("fitness.means-vessel-not-fit"))
    return [*of_valve, vessel.model_copy(update={"says": say("fitness.vessel-not-fit")})]


def _of_vessel(fitness: Fitness, answer: FitnessAnswer, means: Said) -> Decidable:
    return Decidable(
        fitness=fitness,
        valve="",
        says=decided(fitness, ""),
        means=means,
        advised=fitness == answer.answer,
        further=less_cautious(fitness, None, answer),
        pressed=fitness not in PRESSURELESS,
    )


def decided(fitness: Fitness, valve: Valve | Literal[""]) -> Said:
    """What was decided, as a tag and a list say it."""
    return say(f"fitness.valve-{valve}") if valve else Said(fitness)


def refused(found: Valve | None, fitness: Fitness, valve: Valve | None) -> Said | None:
    """Why a test cannot be decided so, whatever the reason; None where it can.

    found  what a relief valve's own test found; None after any other test
    """
    if found is None:
        return None if valve is None else say("fitness.not-of-a-valve")
    if valve is None:
        return None if fitness == "not fit" else say("fitness.of-the-valve")
    return None if fitness == "not proven" else say("fitness.of-the-valve")


def goes_further(
    fitness: Fitness, pressure: float | None, valve: Valve | None, answer: FitnessAnswer, found: Valve | None
) -> bool:
    """Does a person's decision go further than what the test showed, of the vessel or of its valve?

    pressure  that it is decided for, Pa; found  what a relief valve's own test found, None after any other
    """
    of_valve = valve is not None and found is not None and less_cautious_of_valve(valve, found)
    return of_valve or less_cautious(fitness, pressure, answer)


def less_cautious(chosen: Fitness, chosen_pressure: float | None, answer: FitnessAnswer) -> bool:
    """Does a person's decision on a vessel go further than the tool's answer? Pressure in Pa."""
    if ORDER.index(chosen) > ORDER.index(answer.answer):
        return True
    return chosen_pressure is not None and (answer.pressure is None or chosen_pressure > answer.pressure * (1 + 1e-6))


def less_cautious_of_valve(chosen: Valve, found: Valve) -> bool:
    """Does a person's decision on a relief valve go further than what its own test found?"""
    return VALVE_ORDER.index(chosen) > VALVE_ORDER.index(found)


def in_the_way(answer: FitnessAnswer) -> list[Evidence]:
    """Lines that a decision which goes further than the evidence goes beyond: not met, or asked for and not known."""
    return [one for one in answer.evidence if one.state == "not met" or (one.asked and one.state == "not known")]

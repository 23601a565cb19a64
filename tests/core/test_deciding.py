"""What a person may decide after a test, of the vessel or of its relief valve."""

from dataclasses import replace

import pytest

from tests.core.test_fitness import SEEN
from toadbell.core.ledger.deciding import VALVE_ORDER, choices, goes_further, refused
from toadbell.core.ledger.fitness import fitness
from toadbell.core.phrases import say

PROOF = fitness(SEEN)
OF_VALVE = fitness(replace(SEEN, valve=say("relief.settle-class")))
LEAKS = fitness(replace(SEEN, boundary_leak="Seam"))


def test_every_choice_after_a_proof_is_of_the_vessel_and_one_of_them_is_the_evidence() -> None:
    found = choices(PROOF, None)
    assert [one.says for one in found] == ["fit", "limited", "tight", "not proven", "not fit"]
    assert [one.fitness for one in found if one.advised] == [PROOF.answer]
    assert [one.says for one in found if one.pressed] == ["fit", "limited", "tight"]
    assert not any(one.further for one in found)


@pytest.mark.parametrize("found", VALVE_ORDER)
def test_no_choice_after_a_valves_own_test_claims_anything_of_its_vessel(found: str) -> None:
    told = choices(OF_VALVE, found)  # type: ignore[arg-type]
    assert {one.fitness for one in told} == {"not proven", "not fit"}
    assert [one.valve for one in told if one.advised] == [found]
    assert [one.valve for one in told if one.further] == [
        one
        for one in reversed(VALVE_ORDER)
        if VALVE_ORDER.index(one) > VALVE_ORDER.index(found)  # type: ignore[arg-type]
    ]


def test_a_vessel_that_leaks_while_its_valve_is_tested_is_not_fit_and_all_else_goes_further() -> None:
    told = choices(LEAKS, "good")
    assert [one.says for one in told if one.advised] == ["vessel not fit"]
    assert [one.says for one in told if not one.further] == ["vessel not fit"]
    assert goes_further("not proven", None, "good", LEAKS, "good")


@pytest.mark.parametrize("found", [None, *VALVE_ORDER])
def test_what_is_offered_is_what_is_taken(found: str | None) -> None:
    answer = PROOF if found is None else OF_VALVE
    for one in choices(answer, found):  # type: ignore[arg-type]
        assert refused(found, one.fitness, one.valve or None) is None  # type: ignore[arg-type]
        if not one.pressed:
            assert one.further is goes_further(one.fitness, None, one.valve or None, answer, found)  # type: ignore[arg-type]

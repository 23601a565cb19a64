"""What is known of a vessel is told in words and in the reader's units, and nothing contradicts its neighbour."""

import re
from typing import Any

from tests.core.sheets import receiver, shell
from toadbell.core.phrases import Habit, speaking
from toadbell.core.sheets import read_vessel_sheet
from toadbell.core.vessel.facts import as_entered, facts_of


def told(sheet: dict[str, Any]) -> dict[str, str]:
    return {fact.code: str(fact.value) for fact in facts_of(read_vessel_sheet(sheet))}


def test_a_receiver_is_told_in_the_readers_units() -> None:
    sheet = receiver(shell=shell(wall="3.2 mm", wall_measured=True), relief_set=None)
    found = told(sheet)
    assert (found["kind"], found["wanted"], found["inside"]) == ("Air receiver", "8.5 bar", "366 mm × 800 mm")
    assert (found["wall"], found["relief"]) == ("3.2 mm, measured", "not known")
    assert found["ends"].startswith("both ellipsoidal, ")
    with speaking(Habit("psi", "in")):
        imperial = told(sheet)
    assert (imperial["wanted"], imperial["inside"]) == ("123.3 psi", "14.41 in × 31.5 in")
    assert imperial["volume"].endswith(" gal")
    assert not [value for value in found.values() if re.search(r"_|None|\b(sheet-tank|carbon-steel)\b", value)]


def test_of_a_sheet_that_cannot_be_read_what_was_entered_is_told_as_it_was() -> None:
    found = {
        str(fact.name): str(fact.value) for fact in as_entered({"kind": "receiver", "plate_pressure": "14 parsnips"})
    }
    assert found["plate"] == "14 parsnips"
    assert as_entered("no sheet at all")[0].value == "no sheet at all"

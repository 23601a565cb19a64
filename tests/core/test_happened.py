"""What is read from what was written down of a vessel."""

import pytest

from tests.core.test_ledger import HELD, happened
from toadbell.core.ledger.voiding import hurt_since, last_look, relief_lift


def test_looks_lifts_and_hurts_are_read_from_what_was_written_down() -> None:
    events = [
        happened("look inside", 1, "clean"),
        happened("relief tried", 2, "lifts at 8.4 bar; thrice"),
        happened("dropped", 3),
    ]
    assert last_look(events) == events[0]
    assert relief_lift(events) == (pytest.approx(8.4e5), events[1].on)
    assert relief_lift([*events, happened("relief-reset", 4)]) is None
    assert relief_lift([happened("relief tried", 1, "lifts at some bar")]) is None
    assert "Dropped" in (hurt_since(events, HELD) or "")
    assert hurt_since(events, events[2].at) is None

"""What is frozen, started or decided is what was seen: a look carries a mark of what it showed, and the act brings it
back.
"""

import hashlib
import json
from typing import Any

from toadbell.shed.errors import Stale
from toadbell.trials.models import Trial


def mark_of(*shown: Any) -> str:
    """A mark of what was shown: another one when anything of it is another."""
    return hashlib.sha256(json.dumps(shown, sort_keys=True, default=str).encode()).hexdigest()[:20]


def plan_mark(trial: Trial) -> str:
    """Of a plan as it stands, with the gauges on the board that it chooses from."""
    return mark_of(trial.version, trial.state, trial.with_board(trial.sheet))


def frozen_mark(trial: Trial) -> str:
    """Of a frozen plan."""
    return mark_of(trial.frozen)


def must_be_as_seen(now: str, seen: str, what: str) -> None:
    """Raise Stale where what stands now is not what was seen."""
    if now != seen:
        raise Stale(
            f"{what} was changed after you looked at it, in another window or by somebody else. Look at it as it is "
            "now, then do it again."
        )

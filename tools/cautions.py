"""Write docs/cautions.md: every stop and caution with when it is said, the sentence itself, and its source.

usage: .venv/bin/python tools/cautions.py [--check]    --check: fails where the page is stale
"""

import datetime
import sys
from pathlib import Path
from typing import Any

TOP = Path(__file__).parents[1]
sys.path.insert(0, str(TOP))

from tests.core.sheets import derived  # noqa: E402
from tests.core.test_bases import CAUTIONS as CAUTION_SHEETS  # noqa: E402
from tests.core.test_bases import STOPS as STOP_SHEETS  # noqa: E402
from toadbell.core.phrases import say  # noqa: E402
from toadbell.core.plan import codes  # noqa: E402

PAGE = TOP / "docs" / "cautions.md"


MAY = datetime.date(2026, 5, 14)
KNOCK = say("fitness.happened", what=say("happening.dropped"), on=MAY, text="")
TRIALS: tuple[tuple[str, str, dict[str, Any], str], ...] = (
    (
        "steam.one-hand",
        "gauge and valve alone speak, and one may have set the other",
        {"low": 3.9e5, "high": 4.1e5},
        "metrology",
    ),
    ("steam.set-unbelieved", "only a gauge says at what the valve lifted", {"middle": 4e5}, "metrology"),
    ("steam.unread", "there is a thermometer, unread at the lift", {}, "procedures, steam"),
    ("steam.outer-unsaid", "nobody said how high the workshop stands", {}, "ISO 2533"),
    ("steam.settle-ice", "a thermometer contradicts gauge and valve", {}, "its fixed points"),
    (
        "relief.passed-set",
        "a round went past set and tolerance without a lift",
        {"highest": 2.1e5, "most": 1.94e5},
        "UG-134",
    ),
    ("relief.end-says", "it was read past the gauge's end", {"highest": 2.6e5, "range": 2.5e5}, "EN 837-1"),
    ("relief.medium-unsaid", "a valve was tried on water", {}, "procedures, relief"),
    (
        "relief.weep-says",
        "it wept under what the vessel works at",
        {"weep": 1.4e5, "least": 1.62e5},
        "procedures, relief",
    ),
    ("expansion.air-says", "more went in than the wall can give", {"more": 2e-5}, "thin-shell theory"),
    (
        "expansion.reach-says",
        "measured below the pressure of its proof",
        {"pressure": 12e5, "asked": 15e5},
        "49 CFR 180.205",
    ),
    (
        "expansion.girth-coarse",
        "the tape tells less apart than may stay",
        {"place": "middle", "kept": 0.02, "grew": 0.087, "tape": 0.04},
        "reading errors",
    ),
    (
        "expansion.again-unsettled",
        "it kept a set before, and keeps one again",
        {"kept": 8e-6, "pressure": 13e5, "before": 9e-6, "was_at": 13e5, "number": 2},
        "shakedown",
    ),
    ("hold.makes-gas", "a digester that is fed stands level", {}, "procedures, gas-head"),
    ("hold.fed-unsaid", "nobody said whether it is fed", {}, "procedures, gas-head"),
    (
        "alike.fell",
        "a baseline fell by more than its gauge tells",
        {"by": 28_000.0, "step": 2_000.0},
        "procedures, baseline",
    ),
    ("evidence.soap-low", "soaped at less than half", {"all": 4, "least": 3e3, "asked": 8e4}, "procedures, tightness"),
    ("tightening.spent-says", "a joint came off under pressure", {"turn": "¼", "pressure": 3e5}, "makers of fittings"),
    ("tightening.dry-ungripped", "dry before it grips", {"turn": "0", "grip": "¼"}, "makers of fittings"),
    (
        "burst.modes-says",
        "articles failed in several ways",
        {"count": 1, "all": 3, "mode": "end off"},
        "tolerance limits",
    ),
    ("burst.departs", "an article is not of the design", {"name": "a3", "departs": "wall 2 mm"}, "procedures, burst"),
    ("design.unmeasured", "nobody measured its wall", {}, "procedures, burst"),
    (
        "hunt.too-cold",
        "colder than it cures at all",
        {"where": "union", "compound": say("hunt.epoxy")},
        "makers of resins",
    ),
    (
        "ledger.serves-less",
        "tried at less than is needed",
        {"number": 3, "on": MAY, "pressure": 2e4, "needs": 1e5},
        "procedures, the ledger",
    ),
    ("ledger.only-a-trial", "a note would put right what a trial found", {"happened": KNOCK}, "procedures, the ledger"),
    (
        "ledger.another-valve",
        "a plan names another valve than was tried",
        {
            "on": MAY,
            "number": 4,
            "was": say("ledger.valve-number", x="0417"),
            "now": say("ledger.valve-number", x="0418"),
        },
        "procedures, the ledger",
    ),
    ("ledger.refitted-asks", "a fitting was out that may be the valve", {}, "procedures, the ledger"),
    (
        "ledger.look-watch",
        "a look found something to watch",
        {"on": MAY, "text": "a pit", "months": 6},
        "procedures, the ledger",
    ),
    (
        "ledger.steam-less",
        "steamed at less than is wanted",
        {"on": MAY, "at": 5.5e5, "wanted": 8e5},
        "procedures, steam",
    ),
    ("evidence.relief-off", "the valve was off for the test", {}, "procedures, the ledger"),
    ("happening.yielded-asks", "it yielded in a trial before", {}, "procedures, the ledger"),
)
"""What the judges and the ledger say, with figures to show it by: code, when, facts, source."""


def page() -> str:
    """The whole page. Each sentence is the one that the core says of a sheet the tests hold it to."""
    parts = [
        "# Stops and cautions",
        "",
        "What Toad Bell says before a test, from the code (`make cautions`). A stop must be answered before the plan "
        "can be frozen;",
        "a caution must be read. The sentences are examples: their figures are those of the sheet that calls them up.",
    ]
    for title, told, sheets, kind in (
        ("Stops", codes.STOPS, STOP_SHEETS, "stops"),
        ("Cautions", codes.CAUTIONS, CAUTION_SHEETS, "cautions"),
    ):
        parts += ["", f"## {title}", "", "| code | when | what is said | source |", "| --- | --- | --- | --- |"]
        for code, (when, source) in told.items():
            parts.append(f"| `{code}` | {when} | {sentence(code, sheets, kind)} | {source} |")
    parts += [
        "",
        "## Of trials and of the ledger",
        "",
        "What keeps a trial, or a line of the ledger, from more than it shows.",
    ]
    parts += ["", "| code | when | what is said | source |", "| --- | --- | --- | --- |"]
    parts += [f"| `{code}` | {when} | {say(code, **facts)} | {source} |" for code, when, facts, source in TRIALS]
    return "\n".join([*parts, ""])


def sentence(code: str, sheets: list[tuple[str, dict]], kind: str) -> str:
    """What is said of the first sheet that calls it up."""
    changes = next(changes for name, changes in sheets if name == code)
    return next(one.says for one in getattr(derived(**changes), kind) if one.code == code)


def main() -> None:
    """Write it, or check it."""
    made = page()
    if "--check" in sys.argv:
        if not PAGE.exists() or PAGE.read_text() != made:
            raise SystemExit("docs/cautions.md is stale: make cautions")
        return
    PAGE.write_text(made)


if __name__ == "__main__":
    main()

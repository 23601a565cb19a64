"""Write docs/cautions.md: every stop and caution with when it is said, the sentence itself, and its source.

usage: .venv/bin/python tools/cautions.py [--check]    --check: fails where the page is stale
"""

import sys
from pathlib import Path

TOP = Path(__file__).parents[1]
sys.path.insert(0, str(TOP))

from tests.core.sheets import derived  # noqa: E402
from tests.core.test_bases import CAUTIONS as CAUTION_SHEETS  # noqa: E402
from tests.core.test_bases import STOPS as STOP_SHEETS  # noqa: E402
from toadbell.core.plan import codes  # noqa: E402

PAGE = TOP / "docs" / "cautions.md"


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

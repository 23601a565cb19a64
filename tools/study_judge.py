"""How often the judge is wrong, and how often it cannot tell, on thousands of random holds; written to
docs/judge-study.md.

usage: study_judge.py [HOLDS] [FIRST]    make study
"""

import sys
import time
from collections import defaultdict
from collections.abc import Iterable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import partial
from pathlib import Path

TOP = Path(__file__).parents[1]
sys.path.insert(0, str(TOP))

from toadbell.core.judge.hold import Asked, judge  # noqa: E402
from tools.random_holds import FACTORS, INSTRUMENTS, LENGTHS, RandomHold, Truth, random_hold  # noqa: E402
from tools.study_kinds import HEAD  # noqa: E402

PAGE = TOP / "docs" / "judge-study.md"
LOOKED_AT = 100
"""So many of the holds are looked at as they run too, at every minute of the first two hours and then at every tenth.
"""


@dataclass(frozen=True)
class Outcome:
    """What was so, and what the judge said at the end; what it first said when looked at again and again, None if not
    looked at.
    """

    truth: Truth
    verdict: str
    covered: bool
    first_said: str | None = None


def outcome(number: int, watched: int) -> Outcome | None:
    """One hold, judged; None where it was over before it could be read five times."""
    hold = random_hold(number)
    if len(hold.log.time) < 5:
        return None
    found = judge(hold.log, hold.sheet)
    covered = found.leak.low <= hold.truth.mean_leak <= found.leak.high
    return Outcome(hold.truth, found.verdict, covered, _first_said(hold) if number < watched else None)


def _first_said(hold: RandomHold) -> str:
    """The first verdict but “cannot tell” of someone who looks all the time, and stops when there is one."""
    length = hold.log.time[-1]
    looks = [m * 60.0 for m in [*range(5, 120), *range(120, 500, 10)] if m * 60.0 <= length]
    last = 0
    for moment in looks:
        log = hold.until(moment)
        if len(log.time) < 3 or len(log.time) == last:
            continue
        last = len(log.time)
        said = judge(log, hold.sheet, asked=Asked(so_far=True)).verdict
        if said != "cannot-tell":
            return said
    return judge(hold.log, hold.sheet).verdict


def want(truth: Truth) -> str:
    """What was really so."""
    return "tight" if truth.factor < 1 else "leaking"


def row(name: str, outcomes: Iterable[Outcome]) -> str:
    """A row of the table."""
    some = list(outcomes)
    wrong = sum(o.verdict not in (want(o.truth), "cannot-tell") for o in some)
    untold = sum(o.verdict == "cannot-tell" for o in some)
    n = max(1, len(some))
    return (
        f"| {name} | {len(some)} | {wrong} | {wrong / n:.1%} | {untold / n:.0%} | "
        f"{sum(o.covered for o in some) / n:.0%} |"
    )


def table(title: str, groups: dict[str, list[Outcome]]) -> list[str]:
    """A table with one row for each group."""
    return [
        "",
        f"| {title} | holds | wrong | wrong | cannot tell | band covers |",
        "| --- | --: | --: | --: | --: | --: |",
        *[row(name, some) for name, some in groups.items()],
    ]


def page(outcomes: list[Outcome], took: float) -> str:
    """The whole page."""
    by: dict[str, dict[str, list[Outcome]]] = {name: defaultdict(list) for name in ("kit", "length", "leak", "limit")}
    for o in sorted(
        outcomes, key=lambda o: (INSTRUMENTS.index(o.truth.instrument), LENGTHS.index(o.truth.minutes), o.truth.factor)
    ):
        by["kit"][o.truth.instrument].append(o)
        by["length"][f"{o.truth.instrument}, {o.truth.minutes} min"].append(o)
    for o in sorted(outcomes, key=lambda o: o.truth.factor):
        by["leak"][f"{o.truth.factor:g} × the limit"].append(o)
    for o in sorted(outcomes, key=lambda o: o.truth.limit_part):
        part = o.truth.limit_part
        by["limit"][
            "under 1 % of what was pumped in, an hour" if part < 0.01 else "1 to 3 %" if part < 0.03 else "over 3 %"
        ].append(o)
    watched = [o for o in outcomes if o.first_said]
    wrong = sum(o.first_said not in (want(o.truth), "cannot-tell") for o in watched)
    at_the_end = sum(o.verdict not in (want(o.truth), "cannot-tell") for o in watched)
    told = sum(o.first_said != "cannot-tell" for o in watched)
    return "\n".join(
        [
            "# How often the judge is wrong",
            "",
            f"{len(outcomes)} random holds on the simulated rig, wider than any one workshop "
            "(`tools/random_holds.py`): vessels of 1 to 300 L,",
            "3 to 40 bar, air left in or none, rooms that stand still, drift or swing, thermometers coarse, slow or on "
            "the wall, holds that settle",
            f"or do not, leaks of none to {max(FACTORS):g} times the limit. Made by `make study` in {took / 60:.0f} "
            "min. A verdict is wrong when a leak over",
            "the limit is called tight or one under it leaking; “cannot tell” is not wrong, but costs an evening. The "
            "band is the 95 % one.",
            *table("gauge and thermometer (T)", by["kit"]),
            *table("and length", by["length"]),
            *table("really leaking", by["leak"]),
            *table("limit", by["limit"]),
            "",
            "## Looked at while it runs",
            "",
            f"{len(watched)} of them were looked at every minute for two hours and every ten minutes after, stopping "
            "at the first answer, as one does",
            f"who watches the bench. While a hold runs the judge asks for 99.5 %. It said something of {told}, and was "
            f"wrong on {wrong}",
            f"({wrong / max(1, len(watched)):.1%} of all looked at); looked at only at the end, it was wrong on "
            f"{at_the_end} of the same.",
            "",
        ]
    )


def main() -> None:
    """Run it and write the page."""
    count, first = int(sys.argv[1]) if len(sys.argv) > 1 else 3000, int(sys.argv[2]) if len(sys.argv) > 2 else 0
    begun = time.time()
    with ProcessPoolExecutor(2) as pool:
        outcomes = list(
            pool.map(partial(outcome, watched=first + LOOKED_AT), range(first, first + count), chunksize=10)
        )
    kinds = "".join(PAGE.read_text().partition(HEAD)[1:])  # what make study-kinds wrote stays
    PAGE.write_text(page([o for o in outcomes if o is not None], time.time() - begun).rstrip() + f"\n\n{kinds}")
    print(PAGE.read_text())


if __name__ == "__main__":
    main()

"""How much low holds tell beside the test hold alone, on random runs; written to docs/judge-study-low-holds.md.

usage: study_low_holds.py [RUNS] [FIRST]    make study-low-holds
"""

import sys
import time
from collections import defaultdict
from collections.abc import Iterable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

TOP = Path(__file__).parents[1]
sys.path.insert(0, str(TOP))

from toadbell.core.judge.answers import JudgeAnswer  # noqa: E402
from toadbell.core.judge.hold import judge  # noqa: E402
from toadbell.core.judge.stretches import cut  # noqa: E402
from toadbell.core.sheets import SheetError  # noqa: E402
from tools.random_holds import INSTRUMENTS, LENGTHS, Truth, random_hold  # noqa: E402
from tools.study_judge import want  # noqa: E402

PAGE = TOP / "docs" / "judge-study-low-holds.md"
LONGEST = 240
"""Longer holds than so many minutes are cut off: low holds are for those who have no night to wait."""


@dataclass(frozen=True)
class Outcome:
    """What was so; verdict, and whether the band held the truth, by the test hold alone and with its low holds."""

    truth: Truth
    alone: str
    both: str
    alone_covers: bool
    both_cover: bool


def outcome(number: int) -> Outcome | None:
    """One run, judged both ways; None where its test hold was over before it could be read five times."""
    run = random_hold(number, LONGEST, low=True)
    try:
        test, _ = cut(run.log, run.sheet)
    except SheetError:
        return None
    if len(test.time) < 5:
        return None
    both = judge(run.log, run.sheet)
    alone = judge(test, run.sheet.model_copy(update={"holds": []}))
    return Outcome(run.truth, alone.verdict, both.verdict, _covers(alone, run.truth), _covers(both, run.truth))


def _covers(answer: JudgeAnswer, truth: Truth) -> bool:
    return answer.leak.low <= truth.mean_leak <= answer.leak.high


def row(name: str, outcomes: Iterable[Outcome]) -> str:
    """A row of the table."""
    some = list(outcomes)
    n = len(some)
    wrong = [sum(said not in (want(o.truth), "cannot-tell") for o, said in pairs) for pairs in _both(some)]
    untold = [sum(said == "cannot-tell" for _, said in pairs) / n for pairs in _both(some)]
    covers = sum(o.alone_covers for o in some) / n, sum(o.both_cover for o in some) / n
    return (
        f"| {name} | {n} | {wrong[0]} | {wrong[1]} | {wrong[1] / n:.1%} | {untold[0]:.0%} | {untold[1]:.0%} | "
        f"{covers[0]:.0%} | {covers[1]:.0%} |"
    )


def _both(some: list[Outcome]) -> tuple[list[tuple[Outcome, str]], list[tuple[Outcome, str]]]:
    return [(o, o.alone) for o in some], [(o, o.both) for o in some]


def table(title: str, groups: dict[str, list[Outcome]]) -> list[str]:
    """A table with one row for each group."""
    return [
        "",
        f"| {title} | runs | wrong alone | wrong with | wrong with | cannot tell alone | cannot tell with | "
        "band covers alone | band covers with |",
        "| --- | --: | --: | --: | --: | --: | --: | --: | --: |",
        *[row(name, some) for name, some in groups.items()],
    ]


def page(outcomes: list[Outcome], took: float) -> str:
    """The whole page."""
    kit: dict[str, list[Outcome]] = defaultdict(list)
    length: dict[str, list[Outcome]] = defaultdict(list)
    for o in sorted(outcomes, key=lambda o: (INSTRUMENTS.index(o.truth.instrument), LENGTHS.index(o.truth.minutes))):
        kit[o.truth.instrument].append(o)
        length[f"{o.truth.instrument}, {o.truth.minutes} min"].append(o)
    kit["all"] = outcomes
    return "\n".join(
        [
            "# What low holds tell",
            "",
            f"{len(outcomes)} random runs on the simulated rig (`tools/random_holds.py`, wider than any one workshop), "
            "each with a low",
            "hold of 10 to 15 min at 15 to 30 % of the test pressure before the test hold and one after it; judged by "
            "the test hold",
            f"alone, and as one run. Made by `make study-low-holds` in {took / 60:.0f} min. A verdict is wrong when a "
            "leak over the limit",
            "is called tight, or one under it leaking.",
            *table("kit", kit),
            *table("kit and length", length),
            "",
        ]
    )


def main() -> None:
    """So many runs, from a first one on."""
    runs, first = (int(sys.argv[n]) if len(sys.argv) > n else usual for n, usual in ((1, 800), (2, 80_000)))
    began = time.perf_counter()
    with ProcessPoolExecutor(2) as pool:
        outcomes = [found for found in pool.map(outcome, range(first, first + runs), chunksize=4) if found]
    PAGE.write_text(page(outcomes, time.perf_counter() - began))
    print(PAGE.read_text())


if __name__ == "__main__":
    main()

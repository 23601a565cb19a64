"""How often the judges of the other kinds are wrong on random trials, as a table at the end of docs/judge-study.md.

usage: study_kinds.py [EACH]    make study-kinds
"""

import sys
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

TOP = Path(__file__).parents[1]
sys.path.insert(0, str(TOP))

from tools.random_trials import KINDS, Tried  # noqa: E402

PAGE = TOP / "docs" / "judge-study.md"
HEAD = "## The other kinds of trial\n"


def tried(kind: str, seed: int) -> list[Tried]:
    """What came of one trial, or of each section of one."""
    found = KINDS[kind](seed)
    return found if isinstance(found, list) else [found]


def row(kind: str, all_of_it: list[Tried]) -> str:
    """A row of the table."""
    bad = [one for one in all_of_it if one.bad]
    sound = [one for one in all_of_it if not one.bad]
    banded = [one for one in all_of_it if one.covered is not None]
    open_ = sum(not one.good_said and not one.bad_said for one in sound)

    def part(count: int, of: int) -> str:
        return "–" if not of else f"{count} of {of}, {count / of:.1%}"

    return (
        f"| {kind} | {len(all_of_it)} | {part(sum(one.good_said for one in bad), len(bad))} | "
        f"{part(sum(one.bad_said for one in sound), len(sound))} | {part(open_, len(sound))} | "
        f"{part(sum(bool(one.covered) for one in banded), len(banded))} |"
    )


def section(each: int) -> str:
    """The whole section."""
    rows = []
    with ProcessPoolExecutor() as pool:
        for kind in KINDS:
            found = [one for some in pool.map(partial(tried, kind), range(each), chunksize=8) for one in some]
            rows.append(row(kind, found))
            print(rows[-1], flush=True)
    return TEXT.format(head=HEAD, each=each, rows="\n".join(rows))


TEXT = """{head}
{each} random trials of each kind (`tools/random_trials.py`), reckoned by other formulas than the judges': boiling by
Antoine's equation, gas and its vapour step by step, a shell as two stressed strips. Half of the gauges under steam lie,
half of the valves were set by them; air is said wrongly or not at all; sides give or do not; one valve of a loop in
four lets through; designs bear exactly what is asked, less a hair. Dangerous: called good of what is bad. Made by
`make study-kinds`.

| kind | trials | dangerous, of the bad | accused, of the sound | left open, of the sound | band holds the truth |
| --- | --: | --: | --: | --: | --: |
{rows}
"""


if __name__ == "__main__":
    told = section(int(sys.argv[1]) if len(sys.argv) > 1 else 400)
    before = PAGE.read_text().partition(HEAD)[0].rstrip()
    PAGE.write_text(f"{before}\n\n{told}")

"""Faults planted one at a time, in all rooms: each has to be caught by the tests that are named beside it.

usage: python tools/plant.py [WORDS…]      (all of them, or those whose name holds one of the words)

It works on a copy of the checkout's last commit, prints a line for each, and exits 1 where one is not caught. A suite
that was made quicker is held against this: what it proved before it proves still.
"""

import os
import subprocess
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path

TOP = Path(__file__).parents[1]


@dataclass(frozen=True)
class Fault:
    """What is put in whose place in which file, and who has to notice."""

    name: str
    file: str
    sound: str
    broken: str
    tests: tuple[str, ...]


CORE, SERVER, BROWSER = "toadbell/core/", "toadbell/", "web/src/"
SHOWN = "    this.show(this.items.filter((item) => item.id !== id))\n"
OFF_THE_SHELF = "    await this.shelf.drop(id).catch(() => undefined)\n"
FAULTS = (
    Fault(
        "a proof is taken at 1.4 times",
        CORE + "plan/bases.py",
        'Basis("proof-150", 1.5),',
        'Basis("proof-150", 1.4),',
        ("tests/core/test_handbook.py", "tests/core/test_bases.py"),
    ),
    Fault(
        "an end's force by half its area",
        CORE + "vessel/strength.py",
        "return pressure * math.pi * sealed_diameter**2 / 4",
        "return pressure * math.pi * sealed_diameter**2 / 8",
        ("tests/core/test_openings.py", "tests/core/test_handbook.py"),
    ),
    Fault(
        "everybody stands too near",
        CORE + "plan/energy.py",
        "return scaled_distance * math.cbrt(2 * tnt)",
        "return scaled_distance * math.cbrt(tnt)",
        ("tests/core/test_energy.py", "tests/core/test_handbook.py"),
    ),
    Fault(
        "nothing is watched past the ceiling",
        CORE + "run/guard.py",
        '*([] if ceiling is None else [_guard("ceiling", "dump", ceiling)]),',
        '*([] if True else [_guard("ceiling", "dump", ceiling)]),',
        ("tests/core/test_guard.py", "tests/core/test_stages.py"),
    ),
    Fault(
        "a verdict at three in four",
        CORE + "judge/verdict.py",
        "CONFIDENCE = 0.975",
        "CONFIDENCE = 0.75",
        ("tests/core/test_random_holds.py", "tests/core/test_judge.py"),
    ),
    Fault(
        "no thermometer ever goes its own way",
        CORE + "judge/posterior.py",
        "if seen.warmth is not None:",
        "if seen.warmth is not None and seen.warmth is None:",
        ("tests/core/test_judging_otherwise.py", "tests/core/test_level.py", "tests/core/test_random_holds.py"),
    ),
    Fault(
        "no leak ever shuts",
        CORE + "judge/laws.py",
        '1 - vessel.narrowest**at if law == "shuts" else np.zeros(count),',
        "np.zeros(count),",
        ("tests/core/test_level.py", "tests/core/test_judging_otherwise.py", "tests/core/test_steps_and_settling.py"),
    ),
    Fault(
        "settling is forgotten",
        CORE + "judge/model.py",
        "moved[:, own, k] = part.settles * settled[:, own, 0]",
        "moved[:, own, k] = 0.0",
        ("tests/core/test_steps_and_settling.py", "tests/core/test_judge.py", "tests/core/test_random_holds.py"),
    ),
    Fault(
        "the most that may be done is rounded up",
        CORE + "units.py",
        '"down": math.floor(scaled + slip)',
        '"down": math.ceil(scaled - slip)',
        ("tests/core/test_units.py", "tests/core/test_phrases.py"),
    ),
    Fault(
        "a seal has cured at once",
        CORE + "hunt/compounds.py",
        "return done + datetime.timedelta(seconds=wait) if wait > 0 else None",
        "return done if wait > 0 else None",
        ("tests/core/test_hunt.py", "tests/server/test_hunt.py"),
    ),
    Fault(
        "a stage is reached by a reading far under it",
        SERVER + "trials/bench/steps.py",
        "if highest < stage.target - reading_error(*step.plan):",
        "if highest < 0:",
        ("tests/server/test_bench.py",),
    ),
    Fault(
        "any hand takes the steps",
        SERVER + "trials/bench/tending.py",
        "if trial.hand and hand != trial.hand:",
        "if False:",
        ("tests/server/test_rounds_and_guards.py", "tests/server/test_bench.py", "tests/server/test_many.py"),
    ),
    Fault(
        "a sealed record takes steps",
        SERVER + "trials/bench/tending.py",
        "    if trial.sealed:\n        raise NotNow(trial.sealed)\n    carries",
        "    carries",
        ("tests/server/test_signatures.py",),
    ),
    Fault(
        "who watches may work",
        SERVER + "people/may.py",
        "if reads or EVERYBODYS.fullmatch(path):",
        "if True:",
        ("tests/server/test_people.py",),
    ),
    Fault(
        "a backup that was changed is put back",
        SERVER + "records/backup.py",
        "if archive.digest(name) != sums.get(name):",
        "if False:",
        ("tests/server/test_backup.py",),
    ),
    Fault(
        "a late reading is missed by the judge",
        SERVER + "trials/judge/hold.py",
        "if had and not _is_all_there_is(trial, since, had):",
        "if False:",
        ("tests/server/test_bench.py",),
    ),
    Fault(
        "a hold ends before its time without a reason",
        SERVER + "trials/bench/steps.py",
        "< over_from and not reason:",
        "< over_from and reason is None:",
        ("tests/server/test_bench.py",),
    ),
    Fault(
        "Enter held down takes step after step",
        BROWSER + "app/keys.ts",
        'if (event.repeat && event.key === "Enter") return event.preventDefault()',
        "",
        ("src/app/keys.test.tsx",),
    ),
    Fault(
        "what the server has still waits",
        BROWSER + "bench/outbox.ts",
        SHOWN + OFF_THE_SHELF,
        OFF_THE_SHELF + SHOWN,
        ("src/bench/outbox.test.ts",),
    ),
    Fault(
        "openings land on one spot",
        BROWSER + "parts/elevation/frame.ts",
        "const had = new Set(taken.map((place) => JSON.stringify(place)))",
        "const had = new Set<string>()",
        ("src/parts/parts.test.tsx",),
    ),
    Fault(
        "an old look undoes a step",
        BROWSER + "bench/queries.ts",
        "return now && now.answered !== had.answered ? now : ",
        "void now\n      return ",
        ("tests/browser/test_bench.py::test_a_look_that_was_asked_before_a_step_does_not_undo_it",),
    ),
)


def main() -> int:
    """Plant each, and say whether it was caught."""
    words = sys.argv[1:]
    missed = 0
    with tempfile.TemporaryDirectory(prefix="toadbell-plant-") as name:
        copy = Path(name) / "house"
        subprocess.run(["git", "clone", "-q", str(TOP), str(copy)], check=True)
        (copy / "web" / "node_modules").symlink_to(TOP / "web" / "node_modules")
        for fault in FAULTS:
            if words and not any(word in fault.name for word in words):
                continue
            caught = planted(copy, fault)
            missed += not caught
            print(f"{'caught' if caught else 'MISSED'}  {fault.name}", flush=True)
    return 1 if missed else 0


def planted(copy: Path, fault: Fault) -> bool:
    """Is it caught? The file is as it was afterwards. Raises SystemExit where the sound words are not there once."""
    path = copy / fault.file
    sound = path.read_text(encoding="utf-8")
    if sound.count(fault.sound) != 1:
        raise SystemExit(f"“{fault.name}”: {fault.file} has its words {sound.count(fault.sound)} times, not once")
    path.write_text(sound.replace(fault.sound, fault.broken), encoding="utf-8")
    try:
        return not passes(copy, fault.tests)
    finally:
        path.write_text(sound, encoding="utf-8")


def passes(copy: Path, tests: tuple[str, ...]) -> bool:
    """Do these pass on the copy?"""
    if tests[0].startswith("src/"):
        return subprocess.run(["npx", "vitest", "run", *tests], cwd=copy / "web", capture_output=True).returncode == 0
    if tests[0].startswith("tests/browser"):
        subprocess.run(["npm", "run", "--silent", "build"], cwd=copy / "web", check=True, capture_output=True)
    told = {**os.environ, "PYTHONPATH": str(copy), "TOADBELL_DATA": str(copy / "data")}
    command = [str(TOP / ".venv/bin/python"), "-m", "pytest", "-x", "-q", *tests]
    return subprocess.run(command, cwd=copy, env=told, capture_output=True).returncode == 0


if __name__ == "__main__":
    raise SystemExit(main())

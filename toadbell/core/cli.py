"""The command line of the core: `toadbell derive SHEET.json`, `toadbell judge HOLD.csv --sheet HOLD.json`,
`toadbell judge LOG.json`, `toadbell strokes RAISING.csv --sheet SHEET.json`.

Exit 0 with an answer, 2 with one line on standard error that names the field.
"""

import argparse
import json
import sys
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from toadbell import __version__
from toadbell.core import units
from toadbell.core.answers import DeriveAnswer
from toadbell.core.judge.answers import JudgeAnswer
from toadbell.core.phrases import Habit, speaking
from toadbell.core.sheets import (
    SheetError,
    load,
    read_burst_sheet,
    read_expansion_sheet,
    read_hold_sheet,
    read_relief_sheet,
    read_soap_sheet,
    read_steam_sheet,
    read_tightening_sheet,
    read_vessel_sheet,
)


def main(arguments: list[str] | None = None) -> int:
    """Run a command; gives the exit code."""
    parser = argparse.ArgumentParser(
        prog="toadbell",
        description="Hydrostatic testing of small pressure vessels.",
        epilog="`toadbell standin --help`: play a logger to a running server.",
    )
    parser.add_argument("--version", action="version", version=f"toadbell {__version__}")
    commands = parser.add_subparsers(dest="command", required=True, metavar="derive | judge | strokes")
    derive_command = commands.add_parser("derive", help="work out a test from a vessel sheet")
    derive_command.add_argument("sheet", type=Path, metavar="SHEET.json")
    judge_command = commands.add_parser("judge", help="judge a hold, a soap map, a relief valve, or a first steam")
    judge_command.add_argument("log", type=Path, metavar="HOLD.csv | LOG.json")
    judge_command.add_argument("--sheet", type=Path, metavar="HOLD.json", help="of a hold")
    strokes_command = commands.add_parser("strokes", help="tell air left in, compliance and yielding from a stroke log")
    strokes_command.add_argument("log", type=Path, metavar="RAISING.csv")
    strokes_command.add_argument("--sheet", type=Path, required=True, metavar="SHEET.json")
    for command in (derive_command, judge_command, strokes_command):
        command.add_argument("--json", action="store_true", help="print the whole answer as JSON")
    options = parser.parse_args(arguments)
    try:
        print({"derive": _derive, "judge": _judge, "strokes": _strokes}[options.command](options))
    except SheetError as problem:
        print(f"toadbell: {' '.join(str(problem).split())}", file=sys.stderr)
        return 2
    return 0


def _derive(options: argparse.Namespace) -> str:
    from toadbell.core.derive import derive

    data = load(options.sheet)
    sheet = read_vessel_sheet(data)
    with speaking(Habit(written_unit(data.get("working_pressure"), "pressure", "bar"))):
        answer = derive(sheet)
        return as_json(answer) if options.json else _plan_in_words(answer)


def _judge(options: argparse.Namespace) -> str:
    from toadbell.core.judge.hold import judge
    from toadbell.core.judge.log import read_log

    if options.sheet is None:
        return _judge_other(options)
    sheet = read_hold_sheet(load(options.sheet))
    answer = judge(read_log(options.log), sheet, baseline_folder=options.sheet.parent)
    return as_json(answer) if options.json else _verdict_in_words(answer)


def _judge_other(options: argparse.Namespace) -> str:
    """The log of a trial that is no hold: a soap map, a relief valve's rounds, a first steam, an expansion or a
    tightening trial, articles of a design taken to failure."""
    from toadbell.core.judge.burst import judge_burst
    from toadbell.core.judge.relief import judge_relief
    from toadbell.core.judge.steam import judge_steam
    from toadbell.core.judge.tightening import judge_tightening
    from toadbell.core.procedures.expansion import judge_log
    from toadbell.core.procedures.soap_log import judge_soap

    if options.log.suffix.lower() != ".json":
        raise SheetError("the log of a hold is judged by its sheet: give it, --sheet HOLD.json", "sheet")
    data = load(options.log)
    told = data if isinstance(data, dict) else {}
    if told.get("procedure") == "relief":
        with speaking(Habit(written_unit(told.get("rating"), "pressure", "bar"))):
            valve = judge_relief(read_relief_sheet(data))
        return as_json(valve) if options.json else "\n".join([valve.says, *valve.settle_it])
    if told.get("procedure") == "steam":
        with speaking(Habit(written_unit(told.get("working_pressure"), "pressure", "bar"))):
            steamed = judge_steam(read_steam_sheet(data))
        return as_json(steamed) if options.json else "\n".join([steamed.says, *steamed.settle_it])
    vessel = told.get("vessel")
    if told.get("procedure") == "burst":
        with speaking(Habit(written_unit(told.get("wanted"), "pressure", "bar"))):
            burst = judge_burst(read_burst_sheet(data))
        return as_json(burst) if options.json else "\n".join([burst.says, *burst.settle_it])
    if told.get("procedure") == "tightening":
        with speaking(Habit(written_unit(told.get("target"), "pressure", "bar"))):
            joint = judge_tightening(read_tightening_sheet(data))
        return as_json(joint) if options.json else "\n".join([joint.says, *joint.settle_it])
    if told.get("procedure") == "expansion":
        with speaking(Habit(written_unit(told.get("pressure"), "pressure", "bar"))):
            grown = judge_log(read_expansion_sheet(data))
        return as_json(grown) if options.json else "\n".join([grown.says, *grown.settle_it])
    written = vessel.get("working_pressure") if isinstance(vessel, dict) else None
    with speaking(Habit(written_unit(written, "pressure", "bar"))):
        answer = judge_soap(read_soap_sheet(data))
    return as_json(answer) if options.json else answer.says


def _strokes(options: argparse.Namespace) -> str:
    from toadbell.core.bench.stroke_log import read_stroke_log
    from toadbell.core.bench.strokes import judge_strokes

    data = load(options.sheet)
    sheet = read_vessel_sheet(data)
    with speaking(Habit(written_unit(data.get("working_pressure"), "pressure", "bar"))):
        answer = judge_strokes(read_stroke_log(options.log, sheet), sheet)
    return as_json(answer) if options.json else "\n".join([answer.says, *answer.settle_it])


def written_unit(text: Any, kind: str, otherwise: str) -> str:
    """The unit in which a person wrote a quantity, `otherwise` where it cannot be told."""
    try:
        unit = units.read(text, kind).unit
        units.from_si(0.0, unit, kind)
    except (units.QuantityError, ValueError, AttributeError):
        return otherwise
    return unit


def as_json(answer: BaseModel) -> str:
    """An answer in the open format."""
    data = answer.model_dump(mode="json")
    for line in data.get("lines", []):
        line["with"] = line.pop("numbers")
    return json.dumps(data, ensure_ascii=False, indent=1, allow_nan=False)


def _plan_in_words(answer: DeriveAnswer) -> str:
    rows = [
        f"{line.symbol} = {line.shown}    {line.formula}: {line.numbers}    [{line.source}]" for line in answer.lines
    ]
    rows += [f"STOP {s.code}: {s.says}" for s in answer.stops]
    rows += [f"caution {c.code}: {c.says}" for c in answer.cautions]
    return "\n".join([*rows, "Local codes, your club's inspector and the maker come first. Not a certificate."])


def _verdict_in_words(answer: JudgeAnswer) -> str:
    return "\n".join([answer.says, *answer.settle_it])


if __name__ == "__main__":
    sys.exit(main())

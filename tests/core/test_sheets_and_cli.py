"""The open formats at the command line: right sheets answered, wrong ones refused in one line that names the field."""

import json
from pathlib import Path
from typing import Any

import pytest

from tests.core.sheets import RECEIVER, receiver, shell
from toadbell.core.cli import main, written_unit
from toadbell.core.sheets import SheetError, read_hold_sheet, read_vessel_sheet

WRONG: list[tuple[str, dict[str, Any], str, str]] = [
    ("unknown key", {"colour": "green"}, "colour", "no such key"),
    ("unknown key inside", {"shell": shell(thickness="3 mm")}, "shell.thickness", "no such key"),
    ("missing kind", {"kind": None}, "kind", "needed"),
    ("missing pressure", {"working_pressure": None}, "working_pressure", "needed"),
    ("a kind that is none", {"kind": "teapot"}, "kind", "receiver"),
    ("wrong unit", {"working_pressure": "8.5 mm"}, "working_pressure", "8.3 bar"),
    ("missing unit", {"working_pressure": 8.5}, "working_pressure", "no unit"),
    ("missing unit in a text", {"working_pressure": "8.5"}, "working_pressure", "no unit"),
    ("negative wall", {"shell": shell(wall="-3 mm")}, "shell.wall", "more than 0"),
    ("wall thicker than the radius", {"shell": shell(wall="190 mm")}, "shell", "thicker than the inside radius"),
    ("length of zero", {"shell": shell(length="0 mm")}, "shell.length", "more than 0"),
    ("no length", {"shell": shell(length=None)}, "shell.length", "needs its length"),
    (
        "knuckle larger than crown",
        {"ends": [{"form": "torispherical", "crown": "20 mm", "knuckle": "300 mm"}]},
        "ends.0",
        "knuckle",
    ),
    (
        "a crown that does not reach",
        {"ends": [{"form": "torispherical", "crown": "100 mm"}]},
        "ends.0.crown",
        "does not reach",
    ),
    (
        "a knuckle wider than the shell",
        {"ends": [{"form": "torispherical", "crown": "366 mm", "knuckle": "200 mm"}]},
        "ends.0.knuckle",
        "no crown",
    ),
    ("an end thicker than the shell is wide", {"ends": [{"form": "flat", "wall": "400 mm"}]}, "ends.0.wall", "thicker"),
    ("ends on a sphere", {"shell": shell(form="sphere", length=None)}, "ends", "a sphere has none"),
    ("ends on nothing", {"shell": None, "volume": "9 L"}, "ends", "none is given"),
    (
        "a reading thicker than the radius",
        {"shell": shell(wall_readings=["3 mm", "190 mm"])},
        "shell",
        "thicker than the inside radius",
    ),
    ("stays without a pitch", {"ends": [{"form": "stayed", "wall": "3 mm"}]}, "ends.0", "pitch"),
    ("an end form that does not exist", {"ends": [{"form": "conical"}]}, "ends.0.form", "conical"),
    ("three ends", {"ends": [{"form": "flat"}] * 3}, "ends", "2"),
    ("a material that is none", {"shell": shell(material="unobtainium")}, "shell.material", "carbon-steel"),
    ("water that boils", {"water_temperature": "150 degC"}, "water_temperature", "0 and 100"),
    ("plate below zero", {"plate_pressure": "-1 bar"}, "plate_pressure", "more than 0"),
    ("joint efficiency over one", {"shell": shell(joint_efficiency=1.4)}, "shell.joint_efficiency", "1.4"),
    ("an own factor not given", {"basis": "own"}, "factor", "needs a factor"),
    ("a factor of nothing", {"basis": "own", "factor": 0}, "factor", "0"),
    ("an acceptance that is none", {"acceptance": {"max_fun": 3}}, "acceptance", ""),
    ("a date that is none", {"date": "tomorrow"}, "date", "tomorrow"),
]


@pytest.mark.parametrize(("changes", "field", "says"), [case[1:] for case in WRONG], ids=[case[0] for case in WRONG])
def test_a_wrong_sheet_is_refused_by_the_name_of_its_field(changes: dict, field: str, says: str) -> None:
    with pytest.raises(SheetError) as refusal:
        read_vessel_sheet(receiver(**changes))
    assert (refusal.value.field or "").startswith(field)
    assert says in str(refusal.value)
    assert "\n" not in refusal.value.says


@pytest.mark.parametrize("thing", [None, [], "sheet", 7])
def test_what_is_no_object_is_refused(thing: object) -> None:
    with pytest.raises(SheetError, match="JSON object"):
        read_vessel_sheet(thing)


def test_only_kind_and_working_pressure_are_required() -> None:
    sheet = read_vessel_sheet({"kind": "cask", "working_pressure": "0.2 bar"})
    assert sheet.gauge is None
    assert sheet.plate_pressure is None


def write(folder: Path, sheet: Any, name: str = "sheet.json") -> str:
    path = folder / name
    path.write_text(sheet if isinstance(sheet, str) else json.dumps(sheet))
    return str(path)


def test_derive_prints_the_whole_answer_as_json(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["derive", write(tmp_path, RECEIVER), "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["test_pressure"] == 1_275_000
    assert answer["lines"][0]["with"] == "1.5 × 8.5 bar"
    assert answer["stops"] == []
    for key in ("bases", "ceiling", "allowable", "parts", "energy", "end_forces", "pump", "stages", "hold", "cautions"):
        assert key in answer


def test_derive_in_words_has_every_line_and_what_comes_first(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["derive", write(tmp_path, receiver(working_pressure="15 bar"))]) == 0
    out = capsys.readouterr().out
    assert "P_t = 22.5 bar" in out
    assert "STOP above-plate" in out
    assert "Local codes" in out


@pytest.mark.parametrize(
    ("content", "says"),
    [
        ("{not json", "is not JSON"),
        ("[1, 2]", "JSON object"),
        ("[" * 100_000, "is not JSON"),
        (" " * 50_000_000, "larger than 1 MB"),
        (json.dumps({"kind": "receiver", "working_pressure": "8.5"}), "working_pressure: “8.5” has no unit"),
        (
            json.dumps({"kind": "receiver", "working_pressure": "1 bar", "basis": "guess"}),
            "basis: “guess” is not a basis",
        ),
    ],
)
def test_a_wrong_file_ends_with_2_and_one_line(
    content: str, says: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["derive", write(tmp_path, content)]) == 2
    told = capsys.readouterr()
    assert told.out == ""
    assert says in told.err
    assert told.err.count("\n") == 1


def test_a_file_that_is_not_there_is_said(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["derive", "/nowhere/sheet.json"]) == 2
    assert "/nowhere/sheet.json cannot be opened" in capsys.readouterr().err


HOLD = {
    "volume": "97 L",
    "compliance": "10 mL/bar",
    "acceptance": {"max_leak": "20 mL/h"},
    "gauge": {"range": "25 bar", "resolution": "1 kPa"},
}


def test_judge_reads_a_log_and_its_sheet(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    rows = "\n".join(f"{60 * i},{12.75 - 0.1 * i},16.0" for i in range(31))
    log = write(tmp_path, "elapsed [s],pressure [bar],water_temperature [degC]\n" + rows, "hold.csv")
    sheet = write(tmp_path, {**HOLD, "thermometer": {"resolution": "0.1 delta_degC"}}, "hold.json")
    assert main(["judge", log, "--sheet", sheet, "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["verdict"] == "leaking"
    assert answer["leak"]["estimate"] == pytest.approx(
        1e-6 / 60, rel=0.15
    )  # 1 mL a minute, a little more at the pressure it was shut in at
    assert main(["judge", log, "--sheet", sheet]) == 0
    assert capsys.readouterr().out.startswith("Leaking. At 12.75 bar about 6")


@pytest.mark.parametrize(
    ("log", "says"),
    [
        ("", "the log is empty"),
        ("elapsed [s],pressure [bar]\n", "0 readings"),
        ("elapsed [s],pressure [bar]\n0,12\n", "1 reading:"),
        ("elapsed,pressure [bar]\n0,12\n1,12\n", "column “elapsed” has no unit"),
        ("elapsed [s],pressure\n0,12\n1,12\n", "column “pressure” has no unit"),
        ("elapsed [s],pressure [furlong]\n0,12\n1,12\n", "“furlong” is no unit of pressure"),
        ("elapsed [s],temperature [degC]\n0,12\n1,12\n", "no column “pressure [bar]”"),
        ("pressure [bar]\n12\n12\n", "no column “elapsed [s]”"),
        ("elapsed [s],pressure [bar]\n0,12\n60,twelve\n", "line 3: “twelve” in column pressure"),
        ("elapsed [s],pressure [bar]\n0,12\n60\n", "line 3:"),
        ("elapsed [s],pressure [bar]\n0,12\n60,nan\n", "line 3:"),
        ("time,pressure [bar]\nyesterday,12\n2026-11-24T10:00:00Z,12\n", "line 2: “yesterday” in column time"),
    ],
)
def test_a_wrong_log_ends_with_2_and_names_the_line(
    log: str, says: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["judge", write(tmp_path, log, "hold.csv"), "--sheet", write(tmp_path, HOLD, "hold.json")]) == 2
    told = capsys.readouterr().err
    assert says in told
    assert told.count("\n") == 1


def test_a_log_that_is_not_text_is_said(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "hold.csv").write_bytes(b"\xff\xfe\x00elapsed")
    assert main(["judge", str(tmp_path / "hold.csv"), "--sheet", write(tmp_path, HOLD, "hold.json")]) == 2
    assert "not UTF-8" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("sheet", "says"),
    [
        ({"volume": "97 L"}, "acceptance: this is needed"),
        ({"acceptance": {"max_leak": "2 mL/h"}}, "volume: "),
        ({"volume": "97 L", "acceptance": {"max_leak": "2"}}, "no unit"),
        ({"volume": "97 L", "acceptance": {"max_leak": "2 mL/h"}, "weather": "fine"}, "weather: there is no such key"),
    ],
)
def test_a_wrong_hold_sheet_is_refused(sheet: dict, says: str) -> None:
    with pytest.raises(SheetError) as refusal:
        read_hold_sheet(sheet)
    assert says in str(refusal.value)


@pytest.mark.parametrize(("text", "unit"), [("120psi", "psi"), ("8.5 bar", "bar"), (None, "bar"), ("?", "bar")])
def test_the_working_takes_the_unit_that_was_written(text: str | None, unit: str) -> None:
    assert written_unit(text, "pressure", "bar") == unit

"""Low holds from the plan to the verdict: offered, walked at the bench, and judged with the test hold as one run."""

import json
from pathlib import Path
from typing import Any

import pytest

from tests.server.conftest import Workshop, rewind
from toadbell.core.cli import main

KIT: dict[str, Any] = {
    "thermometer": None,
    "trapped_air": "0 L",
    "gauge": {"range": "25 bar", "division": "0.1 bar", "resolution": "0.05 bar"},
    "acceptance": {"max_leak": "60 mL/h"},
    "hold": {"minimum": "30 min", "every": "3 min"},
}
COOLS = 12.0
"""The pressure falls by so much a second for the water cools, Pa; nothing leaks."""


def test_they_are_offered_where_they_decide_what_the_hold_alone_cannot(workshop: Workshop) -> None:
    plan = workshop.planned(**{**KIT, "acceptance": {"max_leak": "20 mL/h"}})
    low = plan["answer"]["hold"]["low"]
    assert low["smallest_leak"] < plan["answer"]["hold"]["accepted_leak"] < plan["answer"]["hold"]["smallest_leak"]
    assert "and the limit of 20 mL/h can be told" in low["offer"]
    body = {"sheet": {**plan["sheet"], "low_holds": "10 min"}, "version": plan["version"]}
    chosen = workshop.put(f"/trials/{plan['id']}/plan", body)["answer"]
    assert chosen["hold"]["low"]["chosen"]
    assert chosen["hold"]["low"]["offer"] is None
    assert chosen["stages"][0]["pause"] == 600


def test_under_air_none_are_offered(workshop: Workshop) -> None:
    air = {**KIT, "procedure": "tightness", "medium": "air", "basis": None, "tight_at": "0.3 bar"}
    assert workshop.planned(**air)["answer"]["hold"]["low"] is None


def read_for(workshop: Workshop, trial: str, top: float, minutes: int, every: int) -> float:
    """The dial read through so many minutes, cooling all the while; where it stands then, bar."""
    for minute in range(0, minutes + 1, every):
        shown = top - COOLS * 60 * minute / 1e5
        workshop.read(trial, f"{round(shown / 0.05) * 0.05:.2f} bar")
        if minute < minutes:
            rewind(trial, 60 * every)
    return top - COOLS * 60 * minutes / 1e5


def raised(workshop: Workshop, trial: str, first: bool) -> None:
    """Raised on a dial, through the first low hold or past it, and held; down to the look and looked at."""
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    stages = workshop.step(trial, "vent-shut")["answer"]["stages"]
    for number, stage in enumerate(stages):
        workshop.read(trial, f"{stage['target'] / 1e5 + 0.05:.2f} bar")
        bench = workshop.step(trial, "stage-reached")
        if number == 0:
            assert bench["now"]["says"] == "Shut in, and hold low."
            if first:
                bench = workshop.step(trial, "low-hold")
                assert bench["now"]["says"] == "Low hold. Hands off."
                assert bench["low"]["until"] > bench["low"]["began"]
                read_for(workshop, trial, 3.25, 10, 2)
            workshop.step(trial, "strokes", count=5)
            assert workshop.get(f"/trials/{trial}/bench")["now"]["step"] == "stage-reached"
        rewind(trial, stage["pause"] + 1)
    workshop.step(trial, "shut-in")
    read_for(workshop, trial, stages[-1]["target"] / 1e5, 30, 3)
    workshop.step(trial, "hold-ended", reason="")
    workshop.step(trial, "came-down")
    workshop.step(trial, "looked")


def second(workshop: Workshop, trial: str) -> Any:
    """Down, and the second low hold."""
    assert workshop.get(f"/trials/{trial}/bench")["now"]["says"] == "Down to 3.19 bar, shut, and hold low."
    workshop.read(trial, "8.5 bar")
    assert "is no low hold" in workshop.step(trial, "low-hold", status=409)["says"]
    workshop.read(trial, "3.2 bar")
    workshop.step(trial, "low-hold")
    read_for(workshop, trial, 3.2, 10, 2)
    return workshop.get(f"/trials/{trial}/bench")


def test_a_dial_without_a_thermometer_alone_cannot_tell_and_can_with_its_low_holds(workshop: Workshop) -> None:
    trial = workshop.ready(**{**KIT, "low_holds": "10 min"})
    raised(workshop, trial, first=True)
    bench = second(workshop, trial)
    assert bench["hold"]["verdict"] == "tight"
    workshop.step(trial, "released")
    judged = workshop.post(f"/trials/{trial}/judge")
    answer = judged["verdict"]
    assert answer["verdict"] == "tight"
    assert [one["role"] for one in judged["stretches"]] == ["low", "test", "low"]
    assert judged["stretches"][0]["time"][0] < 0 < judged["stretches"][2]["time"][0]
    assert all(low["drift"] < 0 for low in answer["low_holds"])  # it cooled
    assert len(answer["low_holds"]) == 2
    assert answer["smallest_leak_to_tell"] < 0.6 * answer["smallest_alone"]


def test_what_was_read_before_it_was_let_down_does_not_lose_a_low_hold(workshop: Workshop) -> None:
    trial = workshop.ready(**{**KIT, "low_holds": "10 min"})
    raised(workshop, trial, first=False)
    workshop.read(trial, "3.9 bar")
    workshop.step(trial, "low-hold")
    read_for(workshop, trial, 3.2, 10, 2)
    workshop.step(trial, "released")
    (low,) = workshop.post(f"/trials/{trial}/judge")["verdict"]["low_holds"]
    assert low["pressure"] == pytest.approx(3.2e5, rel=0.02)


def test_left_out_at_first_one_afterwards_is_offered_for_what_cannot_be_told(workshop: Workshop) -> None:
    trial = workshop.ready(**{**KIT, "low_holds": "10 min"})
    raised(workshop, trial, first=False)
    bench = workshop.get(f"/trials/{trial}/bench")
    assert bench["hold"]["verdict"] == "cannot-tell"
    assert "shows how the water drifts" in bench["low_offer"]
    bench = second(workshop, trial)
    assert bench["low_offer"] is None
    workshop.step(trial, "released")
    assert len(workshop.post(f"/trials/{trial}/judge")["verdict"]["low_holds"]) == 1


def test_the_open_files_of_such_a_run_are_judged_alike_by_the_command_line(
    workshop: Workshop, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    trial = workshop.ready(**{**KIT, "low_holds": "10 min"})
    raised(workshop, trial, first=True)
    second(workshop, trial)
    workshop.step(trial, "released")
    answer = workshop.post(f"/trials/{trial}/judge")["verdict"]
    csv, sheet = tmp_path / "hold.csv", tmp_path / "hold.json"
    csv.write_bytes(workshop.client.get(f"/api/trials/{trial}/hold.csv").content)
    sheet.write_bytes(workshop.client.get(f"/api/trials/{trial}/hold.json").content)
    assert [one["role"] for one in json.loads(sheet.read_text())["holds"]] == ["low", "test", "low"]
    assert main(["judge", str(csv), "--sheet", str(sheet), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["verdict"] == answer["verdict"]
    assert told["leak"]["high"] == pytest.approx(answer["leak"]["high"], rel=0.1)


def test_a_low_hold_that_was_hardly_read_shows_nothing(workshop: Workshop) -> None:
    trial = workshop.ready(**{**KIT, "low_holds": "10 min"})
    raised(workshop, trial, first=False)
    workshop.read(trial, "3.2 bar")
    workshop.step(trial, "low-hold")
    rewind(trial, 600)
    workshop.read(trial, "3.1 bar")
    workshop.step(trial, "released")
    assert "low_holds" not in workshop.post(f"/trials/{trial}/judge")["verdict"]


def test_what_is_let_down_before_it_is_written_is_no_drift(workshop: Workshop) -> None:
    """The bleed is opened first, the key pressed afterwards: that fall would pass for cooling, and excuse a leak."""
    trial = workshop.ready(**{**KIT, "low_holds": "10 min"})
    raised(workshop, trial, first=True)
    second(workshop, trial)
    for shown in ("3.1 bar", "2.4 bar", "1.8 bar", "1.2 bar", "0.8 bar"):
        rewind(trial, 4)
        workshop.read(trial, shown)
    workshop.step(trial, "released")
    lows = workshop.post(f"/trials/{trial}/judge")["verdict"]["low_holds"]
    assert len(lows) == 2
    assert all(low["fell"] < 0.15e5 for low in lows)

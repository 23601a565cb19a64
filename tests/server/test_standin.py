"""The stand-in plays a logger to a running server: a file, or the simulated rig, stored once though the server was
away.
"""

import json
import sqlite3
import threading
from pathlib import Path

import pytest

from tests.core.sheets import RECEIVER
from tests.server.test_durability import Caller, free_port, running_trial, serve
from toadbell.cli import main
from toadbell.standin import arguments, play_file, play_rig, send_all

LOG = "elapsed [s],pressure [bar],water_temperature [degC]\n" + "".join(
    f"{t},{3 + t / 1000:.3f},16.0\n" for t in range(0, 300, 10)
)


def test_a_file_is_played_to_a_running_server_and_goes_on_where_it_was_away(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    port = free_port()
    server = serve(tmp_path, port)
    try:
        caller = Caller(port)
        trial = running_trial(caller)
        device = caller.send("POST", "/api/devices", {"name": "stand-in"})
        caller.send("POST", f"/api/trials/{trial}/devices/{device['id']}", {"on": True})
        (tmp_path / "log.csv").write_text(LOG)
        command = [
            "standin",
            "--server",
            f"http://127.0.0.1:{port}",
            "--token",
            device["token"],
            "--file",
            str(tmp_path / "log.csv"),
            "--speed",
            "60",
        ]
        player = threading.Thread(target=main, args=(command,))
        server.kill()
        server.wait(10)
        player.start()
        server = serve(tmp_path, port)
        player.join(60)
        assert not player.is_alive()
        with sqlite3.connect(tmp_path / "toadbell.sqlite3") as database:
            kept = database.execute(
                "SELECT pressure, temperature FROM trials_reading WHERE source = 'device' ORDER BY at"
            ).fetchall()
        assert kept == [(pytest.approx(3e5 + t * 100), pytest.approx(289.15)) for t in range(0, 300, 10)]
        assert "30 readings taken" in capsys.readouterr().out
        assert main([*command[:4], "tb_wrong", *command[5:]]) == 2
        assert "token is not known" in capsys.readouterr().err
    finally:
        server.kill()
        server.wait(10)


def test_the_rig_of_a_sheet_is_pumped_up_held_and_let_go(tmp_path: Path) -> None:
    sheet = tmp_path / "sheet.json"
    sheet.write_text(json.dumps({**RECEIVER, "thermometer": {"resolution": "0.1 degC"}}))
    options = arguments().parse_args(["--token", "tb", "--rig", str(sheet), "--leak", "5 mL/h", "--every", "60"])
    played = list(play_rig(options))
    pressures = [float(one["pressure"].split()[0]) for _, one in played]
    assert max(pressures) >= 12.75
    assert pressures[-1] == 0
    assert [t for t, _ in played] == sorted(t for t, _ in played)
    assert played[-2][1]["strokes"] >= 14
    assert played[0][1]["temperature"] == "16.000 degC"
    assert [one["pressure"] for _, one in play_rig(options)] == [
        one["pressure"] for _, one in played
    ]  # the same seed, the same run


def test_readings_go_in_batches_of_a_second_at_the_speed_asked_for(tmp_path: Path) -> None:
    (tmp_path / "log.csv").write_text(LOG)
    batches: list[list[dict[str, str]]] = []
    slept: list[float] = []
    assert send_all(play_file(tmp_path / "log.csv"), batches.append, speed=20, sleep=slept.append) == 30
    assert [len(batch) for batch in batches] == [3] * 10
    assert max(slept) == pytest.approx(14.5, abs=0.2)
    assert len({one["id"] for batch in batches for one in batch}) == 30


@pytest.mark.parametrize(
    ("more", "says"),
    [
        (["--file", "nowhere.csv"], "cannot be opened"),
        (["--rig", "nowhere.json"], "cannot be opened"),
        (["--file", "x.csv", "--speed", "0"], "more than nothing"),
    ],
)
def test_what_cannot_be_played_is_said_in_a_line(
    more: list[str], says: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["standin", "--token", "tb", *more]) == 2
    error = capsys.readouterr().err
    assert says in error
    assert error.count("\n") == 1


def test_without_a_token_it_says_where_to_get_one(
    capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.delenv("TOADBELL_TOKEN", raising=False)
    assert main(["standin", "--file", "x.csv"]) == 2
    assert "make one at the bench" in capsys.readouterr().err

"""Write the demo workshop's readings: the simulated rig with fixed seeds, read by the hands its trials describe.

usage: .venv/bin/python tools/demo_readings.py
"""

import csv
import dataclasses
import json
from pathlib import Path

from toadbell.core.bench import rig as simulated
from toadbell.core.bench.compliance import content_of
from toadbell.core.bench.rig_parts import Dial, Leak, Probe, Room, Source
from toadbell.core.plan.derive import derive
from toadbell.core.sheets import read_vessel_sheet

DEMO = Path(__file__).parents[1] / "demo"


def main() -> None:
    """Every finished trial: the receiver's two, and the loop's, whose leak the sun hid, and which was held without a thermometer."""
    write_readings("wharf-receiver", 1, seed=11, drift_per_hour=0.0, leak=60e-6 / 3600)
    write_readings("wharf-receiver", 2, seed=12, drift_per_hour=-0.42, leak=0.1e-6 / 3600)
    write_readings("glasshouse-loop", 1, seed=13, drift_per_hour=1.25, leak=0.45e-6 / 3600, lag=750.0)
    write_readings("glasshouse-loop", 2, seed=14, drift_per_hour=-0.3, leak=0.05e-6 / 3600, lag=750.0)


def write_readings(vessel: str, number: int, seed: int, drift_per_hour: float, leak: float, lag: float = 5000.0) -> None:
    """Play a trial's events on the rig and write what the dial showed. leak m³/s; drift of the room K/h; lag of the water behind it s."""
    folder = DEMO / vessel
    trial = json.loads((folder / f"trial-{number}.json").read_text())
    sheet = read_vessel_sheet({**json.loads((folder / "vessel.json").read_text())["sheet"], **trial["plan"]})
    answer = derive(sheet)
    assert answer.volume is not None
    assert sheet.water_temperature is not None
    assert sheet.gauge is not None
    content = content_of(answer.volume, sheet.shell, sheet.trapped_air, sheet.water_temperature)
    step = sheet.gauge.readable or 1e4
    rig = simulated.rig_for(
        content, answer.test_pressure, source=Source(12e-6, 6e6), leaks=(Leak(leak, answer.test_pressure),), water=sheet.water_temperature,
        room=Room(sheet.water_temperature, drift_per_hour / 3600), gauge=Dial(step, step / 5), lag=lag,
        probe=Probe(sheet.thermometer.resolution) if sheet.thermometer else None, seed=seed,
    )  # fmt: skip
    with (folder / f"trial-{number}.csv").open("w", newline="") as file:
        rows = csv.writer(file, lineterminator="\n")
        rows.writerow(["elapsed [s]", "pressure [bar]", "water_temperature [degC]"])
        for elapsed, state in _course(rig, trial["events"], answer.target_band[0]):
            warm = simulated.read_thermometer(rig, state)
            rows.writerow(
                [f"{elapsed:.0f}", f"{simulated.read_gauge(rig, state) / 1e5:.3f}", "" if warm is None else f"{warm - 273.15:.2f}"]
            )


def _course(rig: simulated.Rig, events: list[dict], target: float):  # type: ignore[no-untyped-def, type-arg]
    """The rig at each time that somebody read the dial: every minute raising, every two in the hold."""
    state, elapsed = simulated.at_start(rig), 0.0
    yield elapsed, state
    for event in events:
        while elapsed < event["elapsed"]:
            elapsed = min(event["elapsed"], elapsed + (120 if state.shut_in else 30))
            state = simulated.advance(rig, state, elapsed)
            yield elapsed, state
        if event["kind"] == "vent-shut":
            state = simulated.close_vent(state)
        elif event["kind"] == "shut-in":
            state = simulated.set_shut_off(state, True)
        elif event["kind"] in ("dumped", "released"):
            state = simulated.dump(rig, state)
        elif event["kind"] == "strokes":
            wanted = next(e["data"]["pressure"] for e in events if e["kind"] == "stage-reached" and e["elapsed"] > event["elapsed"])
            state = dataclasses.replace(state, net=simulated.volume_at(rig, wanted, state.peak) - simulated.grown(rig, state))


if __name__ == "__main__":
    main()

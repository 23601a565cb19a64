"""A stand-in for a logger: it plays the simulated rig, or a logger's file, to any running server, through the door of
any device.

usage: toadbell standin --token tb_… (--file LOG.csv | --rig SHEET.json) [--server URL] [--speed N] [--every SECONDS]
"""

import argparse
import json
import os
import sys
import time
import urllib.error
import urllib.request
import uuid
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from toadbell.core import units
from toadbell.core.bench import rig as simulated
from toadbell.core.bench.situations import Situation, rig_from
from toadbell.core.derive import derive
from toadbell.core.judge.log import read_log
from toadbell.core.sheets import SheetError, load, read_vessel_sheet

RETRIES_AFTER = 2.0
"""A server that is away is asked again after so many s; nothing is given up."""
WAIT = 10.0
TOGETHER = 1.0
"""Readings within so many s of the clock go in one batch."""

Reading = dict[str, Any]
Played = Iterator[tuple[float, Reading]]


def arguments() -> argparse.ArgumentParser:
    """What may be said on the command line."""
    parser = argparse.ArgumentParser(
        prog="toadbell standin", description="Play a logger from the simulated rig or from a CSV file."
    )
    parser.add_argument("--server", default="http://127.0.0.1:8000", help="where Toad Bell runs")
    parser.add_argument(
        "--token", default=os.environ.get("TOADBELL_TOKEN"), help="the device's token; or in TOADBELL_TOKEN"
    )
    source = parser.add_mutually_exclusive_group(required=True)
    source.add_argument(
        "--file", type=Path, metavar="LOG.csv", help="play a log: elapsed [s], pressure [bar], water_temperature [degC]"
    )
    source.add_argument(
        "--rig", type=Path, metavar="SHEET.json", help="pump up the vessel of a sheet stage by stage, and hold"
    )
    parser.add_argument("--leak", default="0 mL/h", help="of the rig's vessel at the test pressure")
    parser.add_argument("--drift", default="0 delta_degC", help="of the room, in an hour")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--speed", type=float, default=1.0, help="so many times as fast as the clock")
    parser.add_argument("--every", type=float, default=10.0, help="s between the rig's readings")
    return parser


def main(command: list[str] | None = None) -> int:
    """Play until the end; gives the exit code: 0 when all was taken, 2 with a line on standard error when it cannot
    be.
    """
    options = arguments().parse_args(command)
    try:
        if not options.token:
            raise SheetError("a device's token is needed: make one at the bench (J), then --token tb_…")
        if options.speed <= 0 or options.every <= 0:
            raise SheetError("speed and interval must be more than nothing")
        played = play_file(options.file) if options.file else play_rig(options)
        count = send_all(played, lambda batch: post(options.server, options.token, batch), options.speed)
    except SheetError as problem:
        print(f"toadbell: {' '.join(str(problem).split())}", file=sys.stderr)
        return 2
    print(f"{count} readings taken by {options.server}")
    return 0


def play_file(path: Path) -> Played:
    """A log's readings, each with its time from the first, s. Raises SheetError where it cannot be read."""
    log = read_log(path)
    warm = log.water_temperature
    for i, elapsed in enumerate(log.time):
        yield (
            float(elapsed),
            reading(float(log.pressure[i]), None if warm is None or warm[i] != warm[i] else float(warm[i])),
        )


def play_rig(options: argparse.Namespace) -> Played:
    """The simulated rig of a sheet: pumped up with the plan's pauses, shut in, held, and let go."""
    sheet = read_vessel_sheet(load(options.rig))
    plan = derive(sheet)
    try:
        leak, drift = units.read(options.leak, "leak").value, units.read(options.drift, "temperature_difference").value
    except units.QuantityError as problem:
        raise SheetError(str(problem)) from None
    rig = rig_from(sheet, plan, Situation(leak=leak, drift=drift / 3600, seed=options.seed))
    state = simulated.close_vent(simulated.at_start(rig))
    for stage in plan.stages:
        while simulated.pressure(rig, state) < stage.target:
            state = simulated.advance(rig, simulated.pump(state, 1), state.time + 2)
            yield state.time, of_rig(rig, state)
        rest = state.time + (stage.pause or plan.hold.minimum)
        state = simulated.set_shut_off(state, stage is plan.stages[-1])
        while state.time < rest:
            state = simulated.advance(rig, state, state.time + options.every)
            yield state.time, of_rig(rig, state)
    state = simulated.dump(rig, state)
    yield state.time + 1, of_rig(rig, state)


def of_rig(rig: simulated.Rig, state: simulated.RigState) -> Reading:
    """What the rig's gauge, thermometer and counter show."""
    return reading(simulated.read_gauge(rig, state), simulated.read_thermometer(rig, state)) | {
        "strokes": state.strokes
    }


def reading(pressure: float, temperature: float | None) -> Reading:
    """A reading as a device sends it: quantities with their units. Pa, K."""
    found: Reading = {"id": str(uuid.uuid4()), "pressure": f"{pressure / 1e5:.5f} bar"}
    return found if temperature is None else found | {"temperature": f"{temperature - 273.15:.3f} degC"}


def send_all(
    played: Played, send: Callable[[list[Reading]], None], speed: float, sleep: Callable[[float], None] = time.sleep
) -> int:
    """Send what is played at its time, a second's readings together; gives how many.

    What a server that was away missed goes first.
    """
    begun, count = time.monotonic(), 0
    batch: list[tuple[float, Reading]] = []

    def hand_in() -> None:
        sleep(max(0.0, begun + batch[-1][0] - time.monotonic()))
        now = time.monotonic() - begun
        send([one | {"ago": f"{max(0.0, now - at):.2f} s"} for at, one in batch])

    for elapsed, one in played:
        at = elapsed / speed
        if batch and at > batch[0][0] + TOGETHER:
            hand_in()
            count, batch = count + len(batch), []
        batch.append((at, one))
    if batch:
        hand_in()
    return count + len(batch)


def post(server: str, token: str, batch: list[Reading]) -> None:
    """Hand a batch in, again and again while the server is away.

    Raises SheetError with the server's words where it refuses.
    """
    made = time.monotonic()
    while True:
        late = time.monotonic() - made
        sent = [one | {"ago": f"{float(one['ago'].split()[0]) + late:.2f} s"} for one in batch]
        request = urllib.request.Request(
            f"{server.rstrip('/')}/api/devices/readings",
            json.dumps({"readings": sent}).encode(),
            {"Content-Type": "application/json", "Authorization": f"Bearer {token}"},
        )
        try:
            with urllib.request.urlopen(request, timeout=WAIT):
                return
        except urllib.error.HTTPError as problem:
            if problem.code < 500:
                raise SheetError(_words(problem)) from None
        except (OSError, ValueError) as problem:
            if isinstance(problem, ValueError):
                raise SheetError(f"“{server}” is no address of a server: {problem}") from None
        print(f"{server} does not answer; asking again", file=sys.stderr)
        time.sleep(RETRIES_AFTER)


def _words(problem: urllib.error.HTTPError) -> str:
    try:
        return str(json.loads(problem.read())["says"])
    except (ValueError, KeyError, TypeError):
        return f"the server answered {problem.code}"

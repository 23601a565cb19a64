"""Write the demo workshop's past trials: the simulated rig with fixed seeds, worked and read by the hands its stories
describe.

usage: .venv/bin/python tools/demo_histories.py
"""

import csv
import dataclasses
import json
import sys
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

TOP = Path(__file__).parents[1]
sys.path.insert(0, str(TOP))
from toadbell.core.answers import DeriveAnswer  # noqa: E402
from toadbell.core.bench import boiler, either  # noqa: E402
from toadbell.core.bench import rig as simulated  # noqa: E402
from toadbell.core.bench.rig_parts import Leak, Room, Wall  # noqa: E402
from toadbell.core.bench.situations import Situation, rig_from  # noqa: E402
from toadbell.core.derive import derive  # noqa: E402
from toadbell.core.phrases import Said  # noqa: E402
from toadbell.core.procedures import PROCEDURES  # noqa: E402
from toadbell.core.run.phases import after_the_hold  # noqa: E402
from toadbell.core.sheets import VesselSheet, read_vessel_sheet  # noqa: E402
from toadbell.core.vessel.sections import sections_of  # noqa: E402
from tools.demo_stories import STORIES, Seeping, Story  # noqa: E402

DEMO = TOP / "demo"


def main() -> None:
    """Every story, written as a trial with its readings."""
    for story in STORIES:
        folder = DEMO / story.vessel
        sheet = {**json.loads((folder / "vessel.json").read_text())["sheet"], **story.plan}
        read = read_vessel_sheet(
            {key: value for key, value in sheet.items() if key != "acceptance" or "baseline" not in value}
        )
        run = Run(story, read, derive(read))
        run.play()
        trial = {
            "days_ago": story.days_ago,
            "at": story.at,
            "by": story.by,
            "readings": f"trial-{story.number}.csv",
            "plan": story.plan,
            "events": run.events,
            "photos": run.photos,
            "decision": story.decision,
        }
        (folder / f"trial-{story.number}.json").write_text(
            _compact({key: value for key, value in trial.items() if value})
        )
        with (folder / f"trial-{story.number}.csv").open("w", newline="") as file:
            rows = csv.writer(file, lineterminator="\n")
            rows.writerow(["elapsed [s]", "pressure [bar]", "water_temperature [degC]", "strokes"])
            rows.writerows(run.rows)
        print(f"{story.vessel} {story.number}: {len(run.rows)} readings, {len(run.events)} events")


def _compact(trial: dict[str, Any]) -> str:
    """JSON with an event to a line."""
    events = ",\n  ".join(json.dumps(event, ensure_ascii=False) for event in trial["events"])
    rest = {key: value for key, value in trial.items() if key != "events"}
    text = json.dumps(rest, ensure_ascii=False, indent=1)
    return f'{text[:-2]},\n "events": [\n  {events}\n ]\n}}\n'


@dataclass
class Run:
    """A run on the simulated rig, and what was written down of it."""

    story: Story
    sheet: VesselSheet
    answer: DeriveAnswer
    events: list[dict[str, Any]] = field(default_factory=list)
    photos: list[dict[str, Any]] = field(default_factory=list)
    rows: list[list[str]] = field(default_factory=list)
    strokes: int = 0
    leaks: dict[int, Seeping] = field(default_factory=dict)

    def play(self) -> None:
        """From the fill to the end of the story."""
        story, answer = self.story, self.answer
        if story.steam is not None:
            return self.steamed()
        leaks = tuple(
            Leak(one.rate, answer.test_pressure, one.owner, one.where, opens_at=one.opens_at) for one in story.leaks
        )
        drawn = rig_from(
            self.sheet,
            answer,
            Situation(
                seed=story.seed,
                drift=story.drift / 3600,
                relief_at=1e7 if story.valve else None,
                bursts_at=story.bursts,
            ),
        )
        room = Room(drawn.water, story.drift / 3600, story.swing)
        self.rig = dataclasses.replace(drawn, leaks=leaks, lag=story.lag, room=room)
        if story.gives is not None:
            wall = Wall(answer.test_pressure / 3, softening=story.gives)
            self.rig = dataclasses.replace(self.rig, wall=wall)
        self.state = simulated.at_start(self.rig)
        self.log("started", source="dial")
        self.read()
        for kind, data in story.before:
            self.log(kind, **data)
        self.wait(story.fill)
        self.state = simulated.close_vent(self.state)
        self.log("vent-shut", strokes=0, **self.under)
        self.read()
        for part, word, top in story.turns[:-1]:
            self.raise_to(top)
            self.log("observed", what="turn", place=str(part), word=word, value=None, pressure=self.gauge())
            self.wait(20)
            self.state = simulated.bleed_to(self.rig, self.state, 0.0)
            self.wait(5)
            self.log("gone-back", to=0, vent=False, why="let go, to turn the joint on", strokes=self.strokes)
            self.wait(60)
        for index, stage in enumerate(answer.stages):
            top = story.stops_at if story.stops_at and story.stops_at < stage.target else stage.target
            self.raise_to(top)
            if self.state.burst:
                return self.failed()
            if top < stage.target:
                return self.give_up()
            self.log("stage-reached", stage=index, name=stage.name, pressure=self.gauge())
            if index == story.leak_seen_at:
                return self.give_up()
            if index == 0:
                self.low()
            if index < len(answer.stages) - 1:
                self.wait(stage.pause + 20, every=60)
        if story.valve is not None:
            self.tried(*story.valve)
        else:
            self.hold()

    def failed(self) -> None:
        """It was heard on its way, then it split."""
        at = max(float(row[1]) for row in self.rows) * 1e5
        self.log("observed", what="noise", place="1", word="crack", value=None, pressure=0.8 * at)
        self.log("observed", what="failure", place="middle", word="hoop split", value=at, pressure=self.gauge())
        self.log("tried", fails=True)
        for kind in ("released", "vent-open", "emptied", "dried"):
            self.log(kind)
            self.wait(60)

    def steamed(self) -> None:
        """A first steam: lit, raised till the valve lifts, let cool; gauge and thermometer contradict each other."""
        self.rig, self.state = either.set_up(
            self.sheet, self.answer, Situation(seed=self.story.seed, steam=self.story.steam or "good")
        )
        self.log("started", source="dial")
        for kind, data in self.story.before:
            self.log(kind, **data)
        self.seen("glass", value=0.5)
        self.state = boiler.set_fire(self.state, 1.0)
        self.wait(660, every=120)
        self.state = either.close_vent(self.rig, self.state)
        self.log("vent-shut", strokes=0, medium="steam")
        while self.gauge() < 0.52e5:
            self.wait(10, every=10)
        self.log("guard", **self.guard("witnesses"))
        self.log(
            "note",
            text="Steam blew four minutes first: no air in it. On to the valve, slowly, from the side.",
        )
        number = len(self.events) - 2
        self.log(
            "guard-answered",
            guard=f"#{number}",
            code="witnesses",
            reason="the air was blown out; the valve is free and tells which",
        )
        for index, stage in enumerate(self.answer.stages[:2]):
            while self.gauge() < stage.target:
                self.wait(10, every=10)
            self.log("stage-reached", stage=index, name=stage.name, pressure=self.gauge())
        for place, word in (("1", "works"), ("2", "works")):
            self.seen("feed", place, word=word)
        self.seen("blown", word="comes back")
        self.seen("glass", value=0.45)
        self.state = boiler.set_fire(self.state, 0.5)
        while not self.state.lifted:
            self.wait(5, every=5)
        self.seen("steam-lift", value=self.gauge())
        self.state = boiler.fire_out(self.state)
        while self.state.lifted:
            self.wait(2, every=2)
        self.seen("steam-reseat", value=self.gauge())
        self.log("tried", medium="steam")
        while self.gauge() > 0.02e5:
            self.wait(600, every=600)
        for kind in ("released", "vent-open", "emptied", "dried"):
            self.log(kind, **({"medium": "steam"} if kind == "released" else {}))
            self.wait(60)

    def guard(self, code: str) -> dict[str, Any]:
        """A guard as it trips."""
        found = next(one for one in self.answer.guards if one.code == code)
        says = found.says.kept() if isinstance(found.says, Said) else found.says
        return {"code": code, "does": found.does, "says": says, "limit": None, "pressure": self.gauge()}

    def seen(self, what: str, place: str = "1", word: str = "", value: float | None = None) -> None:
        """What an instrument showed, with gauge and thermometer."""
        warm = either.read_thermometer(self.rig, self.state)
        self.log("observed", what=what, place=place, word=word, value=value, pressure=self.gauge(), temperature=warm)

    def raise_to(self, target: float) -> None:
        """Pump until the dial shows it, reading the dial at every stroke, or every few where there are many."""
        while self.gauge() < target and not self.state.burst:
            left = self._strokes_left(target)
            made = max(1, left // 6) if left > 8 else 1
            self.state = simulated.pump(self.state, made)
            self.strokes += made
            self.log("strokes", count=made)
            self.wait(3 + 2.5 * made)
            assert self.strokes < 3000, self.story

    def _strokes_left(self, target: float) -> int:
        stage = next((s for s in self.answer.stages if s.target >= target - 1), None)
        return 0 if stage is None or stage.strokes is None else int(stage.strokes) - self.strokes

    def give_up(self) -> None:
        """What was seen, and the pressure let go."""
        story = self.story
        self.wait(25)
        self.soap()
        self.found()
        if story.note:
            self.wait(60)
            self.log("note", text=story.note)
        self.state = simulated.dump(self.rig, self.state)
        self.log("dumped")
        self.wait(20)
        self.mended()

    def mended(self) -> None:
        """What was done about each leak, once there was no pressure."""
        for number, leak in self.leaks.items():
            for mend in leak.mends:
                self.wait(600, every=600)
                self.log("mended", leak=f"#{number}", where=leak.where, **mend)

    def soap(self) -> None:
        """Section by section, up to the one that leaks."""
        if "soap" not in PROCEDURES[self.answer.procedure].instruments:
            return
        leaky = {leak.section: leak.shows for leak in self.story.leaks if leak.section}
        for section in sections_of(self.sheet):
            self.wait(15)
            name = section.name.kept() if isinstance(section.name, Said) else section.name
            word = leaky.get(section.id, "dry")
            self.log("observed", what="soap", place=section.id, word=word, value=None, name=name, pressure=self.gauge())
            if section.id in leaky:
                return

    def found(self) -> None:
        """The leaks as they are found, each with its picture."""
        for leak in self.story.leaks:
            if leak.shows:
                number = len(self.events)
                self.log(
                    "leak",
                    owner=leak.owner,
                    where=leak.where,
                    shows=leak.shows,
                    **({"pin": leak.pin} if leak.pin else {}),
                    **leak.how,
                    pressure=self.gauge(),
                )
                self.leaks[number] = leak
                if leak.photo:
                    self.photos.append({"file": leak.photo, "text": leak.where, "event": f"#{number}"})

    def tried(self, lift: float, reseat: float) -> None:
        """Three rounds of a relief valve, then by hand, and the pressure let go."""
        for place in ("1", "2", "3"):
            for what, value in (("lift", lift), ("reseat", reseat)):
                self.wait(20)
                self.log("observed", what=what, place=place, word="", value=value)
        for what, word in (("hand", "free"), ("after", "dry")):
            self.wait(15)
            self.log("observed", what=what, place="1", word=word, value=None)
        self.log("tried")
        self.state = simulated.dump(self.rig, self.state)
        for kind, after in (("released", 60), ("vent-open", 30), ("emptied", 600), ("dried", 60)):
            if kind in after_the_hold(self.answer.medium):
                self.log(kind)
                self.wait(after)

    def hold(self) -> None:
        """Shut in, quiet, and everything after it."""
        story = self.story
        self.wait(self.answer.hold.settle or 30, every=600)
        if self.answer.hold.settle:
            self.raise_to(self.answer.gauge_target)
        for part, word, _ in story.turns[-1:]:
            self.log("observed", what="turn", place=str(part), word=word, value=None, pressure=self.gauge())
        self.log("shut-in", pressure=self.gauge())
        self.measured("water-in", self.state.pumped)
        self.state = simulated.set_shut_off(self.state, True)
        self.gas()
        for minute, text in sorted(story.notes.items()):
            self.wait(minute * 60 - story.held_so_far, every=story.every)
            story.held_so_far = minute * 60
            self.gas()
            self.log("note", text=text)
        self.wait(story.held - story.held_so_far, every=story.every)
        self.gas()
        self.log("hold-ended", reason="")
        self.wait(90)
        look = self.answer.hold.look_pressure
        self.state = simulated.bleed_to(self.rig, self.state, look)
        self.log("came-down", pressure=self.gauge())
        self.wait(120)
        self.soap()
        self.found()
        self.log("looked", **self.under)
        self.wait(60)
        self.state = simulated.bleed_to(self.rig, self.state, self.answer.stages[0].target)
        self.low()
        self.state = simulated.dump(self.rig, self.state)
        for kind, after in (("released", 60), ("vent-open", 30), ("emptied", 600), ("dried", 60)):
            if kind in after_the_hold(self.answer.medium):
                self.log(kind)
                if kind == "released":
                    self.measured("water-back", self.state.let_out)
                self.wait(after)
        self.mended()

    def measured(self, what: str, volume: float) -> None:
        """What a measure shows of water in or back, where the story measures it; m³."""
        kit = self.sheet.expansion
        if self.story.gives is None or kit is None or kit.measure is None:
            return
        warm = either.read_thermometer(self.rig, self.state)
        shown = round(round(volume / kit.measure) * kit.measure, 9)
        self.log("observed", what=what, place="1", word="", value=shown, pressure=self.gauge(), temperature=warm)

    def gas(self) -> None:
        """What a barometer shows, and a level, of a gas holder."""
        found = either.read_gas(self.rig, self.state)
        if found is not None:
            self.seen("barometer", value=found[0])
        if found is not None and found[1] is not None:
            self.seen("gas-level", value=found[1])

    def low(self) -> None:
        """A low hold, where the plan has them: shut, quiet, and read as the hold is."""
        planned = self.answer.hold.low
        if planned is None or not planned.chosen:
            return
        self.state = simulated.set_shut_off(self.state, True)
        self.wait(40)
        self.log("low-hold", pressure=self.gauge())
        self.wait(planned.long + 20, every=min(60.0, self.story.every))
        self.state = simulated.set_shut_off(self.state, False)

    @property
    def under(self) -> dict[str, str]:
        """What it is filled with, where that is not water."""
        return {} if self.answer.medium == "water" else {"medium": self.answer.medium}

    def wait(self, seconds: float, every: float | None = None) -> None:
        """Let time go by, reading the dial every so often, and at its end."""
        until = round(self.state.time + seconds)
        while self.state.time < until:
            self.state = either.advance(self.rig, self.state, min(until, round(self.state.time + (every or seconds))))
            self.read()

    def gauge(self) -> float:
        """What the dial shows."""
        return either.read_gauge(self.rig, self.state)

    def read(self) -> None:
        """Write a reading down."""
        warm = either.read_thermometer(self.rig, self.state)
        told = "" if warm is None else f"{warm - 273.15:.2f}"
        self.rows.append([f"{self.state.time:.0f}", f"{self.gauge() / 1e5:.5g}", told, str(self.strokes)])

    def log(self, kind: str, **data: Any) -> None:
        """Write an event down."""
        rounded = {key: round(value) if key == "pressure" else value for key, value in data.items()}
        self.events.append({"elapsed": round(self.state.time), "kind": kind, **({"data": rounded} if rounded else {})})


if __name__ == "__main__":
    main()

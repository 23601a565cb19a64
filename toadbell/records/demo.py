"""The demo workshop, hung up from open-format files. Loading it again changes nothing."""

import csv
import datetime
import json
import uuid
from pathlib import Path
from typing import Any

from django.db import transaction
from django.utils import timezone

from toadbell.core.judge.log import read_log
from toadbell.core.sheets import read_vessel_sheet
from toadbell.records import attachments
from toadbell.records.attachments import About
from toadbell.shed.models import Care, Kit, Maker, Vessel
from toadbell.shed.people import Role
from toadbell.trials.judge import judging
from toadbell.trials.models import Event, Finding, Reading, Source, State, Trial

_NAMES = uuid.UUID("8a1f8f2e-52a1-4a55-9d5b-7f5a60f0b3c1")


@transaction.atomic
def load(folder: Path) -> int:
    """Hang up what is not there yet; gives how many vessels are new."""
    workshop = json.loads((folder / "workshop.json").read_text())
    members = workshop["members"]
    makers = {key: _member(key, name) for key, name in members.items()}
    for key, (name, role) in workshop["visitors"].items():
        _member(key, name, role)
    if not Kit.objects.exists():
        for one in json.loads((folder / "kit.json").read_text()):
            Kit.hang_up(one["kind"], one["name"], one["sheet"])
    new = 0
    for path in sorted(
        folder.glob("*/vessel.json"), key=lambda p: _SHELF.index(p.parent.name) if p.parent.name in _SHELF else 99
    ):
        data = json.loads(path.read_text())
        vessel_id = uuid.uuid5(_NAMES, path.parent.name)
        if Vessel.objects.filter(pk=vessel_id).exists():
            continue
        read_vessel_sheet(data["sheet"])
        vessel = Vessel.objects.create(
            id=vessel_id, name=data["name"], notes=data["notes"], sheet=data["sheet"], hung_up_by=makers["owner"]
        )
        _around(vessel, path.parent, data, makers)
        for number, trial in enumerate(sorted(path.parent.glob("trial-*.json")), 1):
            _trial(vessel, number, trial, makers)
        new += 1
    return new


_SHELF = (
    "wharf-receiver",
    "bitterns-boiler",
    "coots-pot-boiler",
    "perry-tank",
    "paint-shop-bottle",
    "cider-keg",
    "skylark",
    "orchard-digester",
    "lamp-oil-tank",
    "glasshouse-loop",
    "vinegar-cask",
)


def _member(key: str, name: str, role: str = Role.MAKER) -> Maker:
    if key == "owner":
        return Maker.local_owner()
    maker = Maker.objects.filter(username=key).first()
    if maker is None:
        maker = Maker(username=key)
        maker.set_unusable_password()
        maker.describe(name, role)
    return maker


def _trial(vessel: Vessel, number: int, path: Path, makers: dict[str, Maker]) -> None:
    data = json.loads(path.read_text())
    maker = makers[data["by"]]
    day = timezone.localdate() - datetime.timedelta(days=data["days_ago"])
    start = datetime.datetime.combine(day, datetime.time.fromisoformat(data["at"]), tzinfo=datetime.UTC)
    plan = data["plan"]
    known = plan.get("acceptance", {}).get("baseline", "")
    if known.startswith("@"):
        plan = {**plan, "acceptance": {**plan["acceptance"], "baseline": str(_id_of(path.parent, known[1:]))}}
    trial = Trial.objects.create(
        id=_id_of(path.parent, path.stem),
        vessel=vessel,
        number=number,
        sheet={**vessel.sheet, **plan},
        planned_at=start - datetime.timedelta(minutes=40),
        planned_by=maker,
    )
    if not data.get("frozen") and not data.get("events"):
        return
    trial.wall_anchor, trial.trial_anchor, trial.speed = timezone.now(), start - datetime.timedelta(minutes=5), 0.0
    trial.freeze(maker, day)
    if data.get("events"):
        _run(trial, maker, data, start, path)
    else:
        trial.wall_anchor, trial.trial_anchor, trial.speed = None, None, 1.0
        trial.save()


def _id_of(folder: Path, stem: str) -> uuid.UUID:
    return uuid.uuid5(_NAMES, f"{folder.name}/{stem}")


def _around(vessel: Vessel, folder: Path, data: dict[str, Any], makers: dict[str, Maker]) -> None:
    """Pictures and papers that hang on the vessel itself, and what was done between its trials."""
    today = timezone.now()
    for one in data.get("photos", []):
        at = today - datetime.timedelta(days=one["days_ago"])
        photo_id = uuid.uuid5(vessel.id, one["file"])
        attachments.keep(
            About(vessel),
            makers[one["by"]],
            photo_id,
            (folder / one["file"]).read_bytes(),
            one["text"],
            one["file"],
            at,
        )
    for one in data.get("cares", []):
        on = timezone.localdate() - datetime.timedelta(days=one["days_ago"])
        Care.objects.create(
            id=uuid.uuid5(vessel.id, f"{one['what']} {on}"),
            vessel=vessel,
            what=one["what"],
            on=on,
            text=one["text"],
            by=makers[one["by"]],
            at=today - datetime.timedelta(days=one["days_ago"]),
            found=one.get("found", ""),
        )


def _run(trial: Trial, maker: Maker, data: dict[str, Any], start: datetime.datetime, path: Path) -> None:
    """Lay the readings and the events of a past run into the trial, then judge and decide it."""
    log = read_log(path.parent / data["readings"])
    warm = log.water_temperature
    with (path.parent / data["readings"]).open(newline="") as file:
        strokes = {float(row["elapsed [s]"]): int(row["strokes"]) for row in csv.DictReader(file) if row.get("strokes")}
    trial.take(
        Reading(
            id=uuid.uuid5(trial.id, f"reading {i}"),
            trial=trial,
            at=start + datetime.timedelta(seconds=float(log.time[i])),
            pressure=float(log.pressure[i]),
            source=Source.DIAL,
            strokes=strokes.get(float(log.time[i])),
            temperature=float(warm[i]) if warm is not None and warm[i] == warm[i] else None,
        )
        for i in range(len(log.time))
    )
    Event.objects.bulk_create(
        Event(
            id=uuid.uuid5(trial.id, f"event {i}"),
            trial=trial,
            at=start + datetime.timedelta(seconds=event["elapsed"]),
            kind=event["kind"],
            by=maker,
            data=_told(trial, event.get("data", {})),
        )
        for i, event in enumerate(data["events"])
    )
    Finding.from_log(trial)
    for photo in data.get("photos", []):
        _photo(trial, maker, path.parent, photo)
    kinds = {event["kind"] for event in data["events"]}
    trial.started_at, trial.trial_anchor = (
        start,
        start + datetime.timedelta(seconds=data["events"][-1]["elapsed"] + 600),
    )
    trial.state = State.HELD if kinds & {"hold-ended", "tried"} else State.ABORTED
    trial.save()
    if "hold-ended" in kinds:
        judging.judge(trial, maker)
    if "decision" in data:
        decision = data["decision"]
        said = decision["fitness"], decision.get("pressure"), decision["reason"]
        judging.decide(trial, maker, *said, valve=decision.get("valve"))


def _told(trial: Trial, data: dict[str, Any]) -> dict[str, Any]:
    """What came with an event; a guard that is answered, or a leak that was mended, is told by its place among the
    events; a leak that is one of an earlier trial by that trial's number.
    """
    found = dict(data)
    for key in ("guard", "leak"):
        if str(data.get(key, "")).startswith("#"):
            found[key] = str(uuid.uuid5(trial.id, f"event {data[key].removeprefix('#')}"))
    if "same" in data:
        before = Finding.objects.filter(trial__vessel=trial.vessel, trial__number=int(data["same"].split()[-1]))
        found["same"] = str(before.get().pk)
    return found


def _photo(trial: Trial, maker: Maker, folder: Path, photo: dict[str, str]) -> None:
    """A picture of something that happened, and its line in the log a little after it."""
    shown = Event.objects.get(pk=uuid.uuid5(trial.id, f"event {photo['event'].removeprefix('#')}"))
    photo_id, at = uuid.uuid5(trial.id, photo["file"]), shown.at + datetime.timedelta(seconds=20)
    Event.objects.create(
        id=photo_id, trial=trial, at=at, kind="photo", by=maker, data={"photo": str(photo_id), "text": photo["text"]}
    )
    about = About(trial.vessel, trial=trial, event=shown)
    attachments.keep(about, maker, photo_id, (folder / photo["file"]).read_bytes(), photo["text"], photo["file"], at)

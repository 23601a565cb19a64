"""Records carried away and brought back: the same to the last byte, once, whole or not at all, and never what was meant
as harm.
"""

import csv
import datetime
import gc
import io
import json
import uuid
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as some

from tests.once import once
from tests.server.conftest import FINE_PUMP, VESSEL, Logger, Workshop, held, rewind, running
from tests.server.test_attachments import paper, picture, post
from tests.server.test_expansion import MEASURED, let_go, measure
from toadbell.cli import main as command_line
from toadbell.core.sheets import SheetError
from toadbell.records import package, package_import
from toadbell.records.models import Attachment
from toadbell.records.zip_files import digest
from toadbell.shed.models import Care, Kit, Maker, Vessel
from toadbell.trials.models import Decision, Event, Finding, Reading, Trial, Verdict
from toadbell.trials.models.sources import Device, ImportedFile

LOGGED = "time,pressure (bar),temperature (degC)\n" + "".join(
    f"2026-05-01 10:00:{n:02d},{3 + n / 100},16.{n}\n" for n in range(20)
)


def carried(trial: str | None = None) -> dict[str, bytes]:
    """What a package holds, by path; the time of its export put aside."""
    out = io.BytesIO()
    package.write(out, Trial.objects.get(pk=trial) if trial else None, timezone.now())
    found = zipfile.ZipFile(out)
    files = {name: found.read(name) for name in found.namelist()}
    listed = json.loads(files[package.LIST])
    assert listed.pop("created")
    return {**files, package.LIST: json.dumps(listed).encode()}


def packed(files: dict[str, bytes], relist: bool = True, **entry: Any) -> io.BytesIO:
    """A package of such files, its list made anew where asked for."""
    files = dict(files)
    listed = {**json.loads(files.pop(package.LIST)), "created": "2026-11-25T10:00:00Z"}
    if relist:
        listed["resources"] = [
            {**one, "hash": digest(files[one["path"]]), "bytes": len(files[one["path"]])}
            for one in listed["resources"]
            if one["path"] in files
        ]
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as to:
        for path, data in {**files, package.LIST: json.dumps(listed).encode()}.items():
            to.writestr(path, data)
    return out


def wipe() -> None:
    """Nothing is left but the local owner of a new workshop."""
    Trial.objects.update(copied_from=None)
    for model in (
        Care,
        Attachment,
        Decision,
        Verdict,
        Finding,
        Event,
        Reading,
        ImportedFile,
        Device,
        Trial,
        Kit,
        Vessel,
        Maker,
    ):
        model.objects.all().delete()  # type: ignore[attr-defined]
    for file in Attachment.FOLDER.glob("*"):
        file.unlink()
    Maker.local_owner()


def counts() -> dict[str, int]:
    """How much there is of everything."""
    return {
        m.__name__: m.objects.count()
        for m in (Care, Attachment, Decision, Verdict, Event, Reading, Device, Trial, Kit, Vessel, Maker)
    }  # type: ignore[attr-defined]


def _full(workshop: Workshop) -> None:
    done = held(workshop, drop=0.1)
    workshop.post(f"/trials/{done}/judge")
    workshop.post(
        f"/trials/{done}/decision",
        {"fitness": "fit", "pressure": "8.5 bar", "reason": "Tight, “and” dry; 100 % seen, é."},
    )
    vessel = workshop.get(f"/trials/{done}/judge")["vessel_id"]
    workshop.planned({"id": vessel})
    workshop.ready()
    dumped = running(workshop)
    leak = str(uuid.uuid4())
    workshop.step(
        dumped,
        "leak",
        event=leak,
        owner="boundary",
        where="lower seam",
        shows="weep",
        pin={"x": 0.2, "v": -0.1, "view": "back"},
    )
    post(workshop, f"/trials/{dumped}/photos", "seam.jpg", picture((60, 40)), field="photo", leak=leak)
    workshop.step(dumped, "dumped")
    by_logger = running(workshop)
    logger = Logger(workshop, by_logger)
    workshop.step(by_logger, "vent-shut")
    logger.send(
        [
            {
                "id": f"b-{n}",
                "pressure": f"{1 + n / 7} bar",
                "temperature": "16.2 degC",
                "strokes": n,
                "ago": f"{9 - n} s",
            }
            for n in range(9)
        ]
    )
    from_file = running(workshop)
    seen = workshop.post(f"/trials/{from_file}/imports/preview", {"text": LOGGED, "zone": "UTC"})
    workshop.post(f"/trials/{from_file}/imports", {"name": "tank.csv", "text": LOGGED, "recipe": seen["recipe"]})
    simulated = workshop.ready(**FINE_PUMP)
    workshop.post(f"/trials/{simulated}/start", {"source": "rig", "leak": "3 mL/h"})
    workshop.step(simulated, "vent-shut")
    workshop.post(f"/trials/{simulated}/rig", {"action": "pump", "strokes": 3})
    rewind(simulated, 12)
    workshop.get(f"/trials/{simulated}/bench")
    workshop.post("/kit", {"kind": "gauge", "name": "Brass, 25", "sheet": {"range": "25 bar", "division": "0.5 bar"}})
    post(workshop, f"/vessels/{vessel}/attachments", "plate.pdf", paper(), text="Maker's paper")
    Care.objects.create(
        vessel_id=vessel,
        what="look inside",
        on=datetime.date(2026, 5, 1),
        text="rust along the bottom",
        by=Maker.local_owner(),
    )


@pytest.fixture
def full(workshop: Workshop) -> Workshop:
    """A workshop with a trial of every kind: decided, planned after it, ready, dumped, from a logger, from its file, on
    the simulated rig.
    """
    once("full", lambda: _full(workshop))
    return workshop


def test_carried_away_wiped_brought_back_and_carried_away_again_is_the_same(full: Workshop) -> None:
    before, much = carried(), counts()
    wipe()
    taken = package_import.take_in(packed(before), dry=False)
    assert carried() == before
    assert counts() == {**much, "Maker": much["Maker"] + 1}  # whose records they are, and who owns this workshop now
    assert {item.mark for item in taken.items} == {"new"}
    assert full.get("/trials")[0]["id"]


def test_what_was_measured_of_an_expansion_comes_back_with_what_it_proves(workshop: Workshop) -> None:
    trial = held(workshop, **MEASURED)
    measure(workshop, trial, "water-in", "1", "160 mL")
    let_go(workshop, trial)
    measure(workshop, trial, "water-back", "1", "157 mL")
    proves = workshop.get(f"/trials/{trial}/judge")["expansion"]
    files = carried()
    wipe()
    package_import.take_in(packed(files), dry=False)
    assert workshop.get(f"/trials/{trial}/judge")["expansion"] == proves
    assert proves["answer"] == "met"


def test_brought_back_again_it_changes_nothing(full: Workshop) -> None:
    before, much = carried(), counts()
    taken = package_import.take_in(packed(before), dry=False)
    assert not taken.changes
    assert {item.mark for item in taken.items} == {"here"}
    assert (carried(), counts()) == (before, much)


def test_the_list_describes_every_file_and_every_column(full: Workshop) -> None:
    files = carried()
    listed = {one["path"]: one for one in json.loads(files[package.LIST])["resources"]}
    assert set(listed) == set(files) - {package.LIST}
    assert all((one["hash"], one["bytes"]) == (digest(files[path]), len(files[path])) for path, one in listed.items())
    for path in (path for path in files if path.endswith(("readings.csv", "events.csv", "people.csv"))):
        head = next(csv.reader(io.StringIO(files[path].decode())))
        assert head == [field["name"] for field in listed[path]["schema"]["fields"]]
    assert len({one["name"] for one in listed.values()}) == len(listed)


def test_one_trial_comes_with_its_vessel_and_without_the_others(full: Workshop) -> None:
    done = str(Decision.objects.get().trial_id)
    files = carried(done)
    assert [path for path in files if path.endswith("trial.json")] == [f"trials/{done}/trial.json"]
    assert [path for path in files if path.endswith("vessel.json")] == [
        f"vessels/{Trial.objects.get(pk=done).vessel_id}/vessel.json"
    ]
    assert "kit.json" not in files
    assert package_import.take_in(packed(files), dry=True).changes is False
    wipe()
    package_import.take_in(packed(files), dry=False)
    assert full.get(f"/records/{done}")["judge"]["decision"]["reason"].startswith("Tight")
    assert carried() == carried(done) | {package.LIST: carried()[package.LIST]}


def test_a_hold_of_the_package_is_judged_from_the_command_line(full: Workshop, tmp_path: Path, capsys: Any) -> None:
    done = str(Decision.objects.get().trial_id)
    for name in ("hold.csv", "hold.json", "readings.csv"):
        (tmp_path / name).write_bytes(carried(done)[f"trials/{done}/{name}"])
    assert command_line(["judge", str(tmp_path / "hold.csv"), "--sheet", str(tmp_path / "hold.json"), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    kept = Verdict.objects.get(trial=done).answer
    assert told["verdict"] == kept["verdict"]
    assert told["leak"]["estimate"] == pytest.approx(kept["leak"]["estimate"], rel=0.05, abs=1e-12)
    assert (
        command_line(["judge", str(tmp_path / "readings.csv"), "--sheet", str(tmp_path / "hold.json"), "--json"]) == 0
    )


def test_what_is_here_already_and_differs_stays_as_it_is(full: Workshop) -> None:
    before = carried()
    vessel = Vessel.objects.first()
    assert vessel is not None
    vessel.change(Maker.local_owner(), "Painted green", vessel.sheet, vessel.notes, vessel.version)
    full.step(str(Device.objects.get().trial_id), "note", text="dry as a bone")
    taken = package_import.take_in(packed(before), dry=False)
    assert [(item.what, item.mark) for item in taken.items if item.mark != "here"] == [
        ("vessel", "differs"),
        ("trial", "differs"),
    ]
    vessel.refresh_from_db()
    assert vessel.name == "Painted green"


def test_a_trial_whose_number_is_taken_here_gets_the_next_one(workshop: Workshop) -> None:
    vessel = workshop.vessel()
    first = workshop.planned(vessel)
    files = carried()
    Trial.objects.all().delete()
    workshop.planned(vessel)
    (item,) = [item for item in package_import.take_in(packed(files), dry=False).items if item.what == "trial"]
    assert item.says == "becomes trial 2 here: number 1 is taken by another"
    assert Trial.objects.get(pk=first["id"]).number == 2


def test_the_people_of_a_record_stay_who_they_were(full: Workshop) -> None:
    full.put("/me", {"units": "metric", "name": "Maren Oddy"})
    files, done = carried(), str(Decision.objects.get().trial_id)
    wipe()
    full.put("/me", {"units": "metric", "name": "Tobit Lisk"})
    package_import.take_in(packed(files), dry=False)
    assert full.get(f"/records/{done}")["judge"]["decision"]["by"] == "Maren Oddy"


def test_a_preview_keeps_nothing_and_says_what_would_come(full: Workshop) -> None:
    files = carried()
    wipe()
    empty = counts()
    told = job_on(full, "preview", packed(files))["package"]
    assert (told["changes"], told["kept"], told["attachments"], told["cares"]) == (
        True,
        False,
        2,
        13,
    )  # one of each vessel's valve, one look inside each, and one more
    assert [item["mark"] for item in told["items"]].count("new") == len(told["items"])
    assert any("on the bench" in item["says"] for item in told["items"])
    assert counts() == empty
    assert not list(Attachment.FOLDER.glob("*"))
    assert job_on(full, "import", packed(files))["package"]["kept"] is True
    assert counts() != empty


def job_on(workshop: Workshop, what: str, data: io.BytesIO) -> Any:
    """What came of a job on a file."""
    data.seek(0)
    data.name = "records.zip"  # type: ignore[attr-defined]
    answer = workshop.client.post("/api/jobs/with-file", {"what": what, "file": data})
    assert answer.status_code == 202, answer.content
    return workshop.get(f"/jobs/{answer.json()['id']}")


# -- what was damaged, or meant as harm --------------------------------------------------------------------------------


def trial_path(files: dict[str, bytes], name: str = "trial.json") -> str:
    done = str(Decision.objects.get().trial_id)
    return next(path for path in files if path.endswith(f"{done}/{name}"))


def changed(
    path_end: str, change: Callable[[Any], None], whole: bool = True
) -> Callable[[dict[str, bytes]], io.BytesIO]:
    """A package with one JSON file changed; with its checksum put right, or not."""

    def make(files: dict[str, bytes]) -> io.BytesIO:
        path = (
            trial_path(files, path_end)
            if path_end.startswith("trial")
            else next(p for p in files if p.endswith(path_end))
        )
        data = json.loads(files[path])
        change(data)
        return packed({**files, path: json.dumps(data).encode()}, relist=whole)

    return make


def rewritten(path_end: str, before: str, after: str) -> Callable[[dict[str, bytes]], io.BytesIO]:
    """A package with the first of some words replaced in one file."""

    def make(files: dict[str, bytes]) -> io.BytesIO:
        path = trial_path(files, path_end)
        assert before.encode() in files[path]
        return packed({**files, path: files[path].replace(before.encode(), after.encode(), 1)})

    return make


def with_entry(
    name: str, data: bytes = b"{}", mode: int = 0, declared: int | None = None
) -> Callable[[dict[str, bytes]], io.BytesIO]:
    """A package with one more entry, of whatever name, mode and declared size."""

    def make(files: dict[str, bytes]) -> io.BytesIO:
        out = packed(files)
        with zipfile.ZipFile(out, "a", zipfile.ZIP_DEFLATED) as to:
            entry = zipfile.ZipInfo(name)
            entry.compress_type, entry.external_attr = zipfile.ZIP_DEFLATED, mode << 16
            to.writestr(entry, data)
            if declared:
                to.filelist[-1].file_size = declared
        return out

    return make


def with_picture(data: bytes, relist: bool = True) -> Callable[[dict[str, bytes]], io.BytesIO]:
    def make(files: dict[str, bytes]) -> io.BytesIO:
        path = next(path for path in files if path.endswith(".jpg"))
        return packed({**files, path: data}, relist)

    return make


HOSTILE: dict[str, tuple[Callable[[dict[str, bytes]], io.BytesIO], str]] = {
    "no zip": (lambda files: io.BytesIO(b"PK\x03\x04 and then nothing"), "no zip"),
    "empty": (lambda files: io.BytesIO(), "no zip"),
    "cut short": (lambda files: io.BytesIO(packed(files).getvalue()[:-400]), "cut short"),
    "another zip": (lambda files: _zip({"readme.txt": b"hello"}), "no datapackage.json"),
    "escape upwards": (with_entry("../../etc/cron.d/x"), "no name that belongs"),
    "escape from the root": (with_entry("/etc/passwd"), "no name that belongs"),
    "escape by a drive": (with_entry("c:\\windows\\x.dll"), "no name that belongs"),
    "name with a script": (with_entry("<img src=x onerror=alert(1)>.jpg"), "no name that belongs"),
    "name with controls": (with_entry("trials/a\x1b[2J.json"), "no name that belongs"),
    "symlink": (with_entry("attachments/a.jpg", b"/etc/passwd", mode=0o120777), "a link or a device"),
    "pipe": (with_entry("attachments/a.jpg", b"", mode=0o010644), "a link or a device"),
    "not listed": (with_entry("attachments/extra.jpg"), "not in its list"),
    "bomb": (with_entry("bomb.csv", bytes(50_000_000)), "would swell"),
    "10 GB declared": (with_entry("huge.csv", b"x", declared=10_000_000_000), "swell"),
    "longer than it says": (with_entry("attachments/a.jpg", b"x" * 40, declared=4), "Nothing was taken in"),
    "a file missing": (
        lambda files: packed({k: v for k, v in files.items() if not k.endswith("people.csv")}, relist=False),
        "is not there",
    ),
    "wrong checksum": (changed("trial.json", lambda d: d.update(speed=2.0), whole=False), "checksum"),
    "wrong picture checksum": (with_picture(picture((20, 20)), relist=False), "checksum"),
    "newer format": (
        lambda files: packed({**files, package.LIST: files[package.LIST].replace(b'"format": 1', b'"format": 9')}),
        "format 9",
    ),
    "a list that is none": (lambda files: _zip({package.LIST: b"[" * 100_000}), "datapackage.json"),
    "a script as SVG for a picture": (
        with_picture(b"<svg xmlns='http://www.w3.org/2000/svg' onload='alert(1)'/>"),
        "no picture",
    ),
    "a picture that is a page": (with_picture(b"<html><script>alert(1)</script>"), "no picture"),
    "a state that is none": (changed("trial.json", lambda d: d.update(state="proven")), "state"),
    "a key too many": (changed("trial.json", lambda d: d.update(admin=True)), "admin"),
    "a sheet that is wrong": (
        changed("trial.json", lambda d: d["sheet"].update(working_pressure="banana")),
        "working_pressure",
    ),
    "a frozen answer that is none": (
        changed("trial.json", lambda d: d["frozen"]["answer"].update(stages="none")),
        "stages",
    ),
    "past planning without a plan": (changed("trial.json", lambda d: d.update(frozen=None)), "no frozen plan"),
    "a verdict that is none": (
        changed("trial.json", lambda d: d["verdict"]["answer"].update(verdict="perhaps")),
        "verdict",
    ),
    "a decision that is none": (changed("trial.json", lambda d: d["decision"].update(fitness="splendid")), "fitness"),
    "nobody's decision": (
        changed("trial.json", lambda d: d["decision"].update(by=str(uuid.uuid4()))),
        "not among its people",
    ),
    "no vessel": (changed("trial.json", lambda d: d.update(vessel=str(uuid.uuid4()))), "neither in it nor here"),
    "an infinite pressure": (rewritten("trial/readings.csv"[6:], ",dial,", ",dial,,,x,y\n,"), "values where"),
    "a vessel of nothing": (changed("vessel.json", lambda d: d.update(sheet={})), "kind"),
    "an event without its data": (rewritten("events.csv", '""stage"": 0', '""stag"": 0'), "cannot be understood"),
    "a time without a zone": (rewritten("events.csv", "Z,vent-shut", ",vent-shut"), "cannot be read"),
    "a pressure that is none": (rewritten("readings.csv", ",dial,", ",teapot,"), "cannot be read"),
}


def _zip(files: dict[str, bytes]) -> io.BytesIO:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as to:
        for name, data in files.items():
            to.writestr(name, data)
    return out


def _decided(workshop: Workshop) -> None:
    done = held(workshop)
    workshop.post(f"/trials/{done}/judge")
    workshop.post(f"/trials/{done}/decision", {"fitness": "fit", "pressure": "8.5 bar", "reason": ""})
    post(
        workshop,
        f"/vessels/{workshop.get(f'/trials/{done}/judge')['vessel_id']}/attachments",
        "a.jpg",
        picture((60, 40)),
    )


@pytest.fixture
def decided(workshop: Workshop) -> Workshop:
    """One trial decided, with a picture."""
    once("decided", lambda: _decided(workshop))
    return workshop


@pytest.mark.parametrize("harm", HOSTILE)
def test_what_is_damaged_or_meant_as_harm_is_refused_in_words_and_leaves_nothing(decided: Workshop, harm: str) -> None:
    make, says = HOSTILE[harm]
    data = make(carried())
    wipe()
    before = counts()
    for what in ("preview", "import"):
        told = job_on(decided, what, data)
        assert (told["state"], told["status"]) == ("failed", 422)
        assert says in told["says"]
        assert told["says"].endswith("Nothing was taken in.")
    assert counts() == before
    assert not list(Attachment.FOLDER.glob("*"))


def test_a_picture_with_a_place_in_it_comes_in_without_it_and_that_is_said(decided: Workshop) -> None:
    files = carried()
    wipe()
    taken = package_import.take_in(with_picture(picture((60, 40)))(files), dry=False)
    assert "made anew" in taken.notes[0]
    assert b"Exif" not in Attachment.objects.get().path.read_bytes()


# -- any workshop --------------------------------------------------------------------------------

words = some.text(some.characters(exclude_categories=("Cs", "Cc")), min_size=1, max_size=30).filter(lambda t: t.strip())
quantity = some.floats(0.1, 9.0).map(lambda value: f"{value:.3f} bar")
times = some.datetimes(datetime.datetime(2020, 1, 1), datetime.datetime(2030, 1, 1), timezones=some.just(datetime.UTC))
reading = some.tuples(
    times, some.floats(-1e5, 1e8), some.none() | some.floats(270, 300), some.none() | some.integers(0, 999)
)
vessel = some.tuples(
    words,
    quantity,
    some.text(max_size=20).filter(lambda t: "\x00" not in t),
    some.lists(some.tuples(some.lists(reading, max_size=4), words), max_size=3),
)


@settings(max_examples=15, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(shelf=some.lists(vessel, max_size=4), kit=some.lists(words, max_size=2))
def test_any_workshop_comes_back_as_it_went(db: None, shelf: list[Any], kit: list[str]) -> None:
    wipe()
    owner = Maker.local_owner()
    for name in kit:
        Kit.hang_up("hose", name, {"rating": "160 bar"})
    for name, wanted, notes, trials in shelf:
        hung = Vessel.hang_up(owner, name, {**VESSEL, "working_pressure": wanted}, notes)
        for readings, note in trials:
            trial = Trial.plan_for(hung, owner)
            trial.take(
                Reading(
                    id=uuid.uuid4(),
                    trial=trial,
                    at=at,
                    pressure=pressure,
                    temperature=warm,
                    strokes=strokes,
                    source="dial",
                )
                for at, pressure, warm, strokes in readings
            )
            trial.log("note", owner, text=note)
    before, much = carried(), counts()
    wipe()
    package_import.take_in(packed(before), dry=False)
    assert carried() == before
    assert {**counts(), "Maker": 0} == {**much, "Maker": 0}


def test_nothing_is_left_half_done_where_the_disk_is_full(decided: Workshop, monkeypatch: Any) -> None:
    files = carried()
    wipe()
    before = counts()

    def full_disk(attachment: Attachment, clean: Any) -> None:
        raise OSError("no space left")

    monkeypatch.setattr(package_import.attachments, "lay_down", full_disk)
    with pytest.raises((OSError, SheetError)):
        package_import.take_in(packed(files), dry=False)
    assert counts() == before


def test_however_many_trials_it_holds_no_more_than_a_few_are_at_hand_and_few_questions_are_asked_of_each(
    workshop: Workshop,
) -> None:
    for _ in range(6):
        running(workshop)
    with CaptureQueriesContext(connection) as few:
        carried()
    for _ in range(6):
        running(workshop)
    with CaptureQueriesContext(connection) as more:
        files = carried()
    assert len(more) - len(few) <= 6 * 2
    wipe()
    at_hand: list[int] = []

    def tell(_: float | None, what: str) -> None:
        if what == "looking at trials":
            at_hand.append(sum(type(one) is Trial for one in gc.get_objects()))

    gc.collect()
    package_import.take_in(packed(files), dry=False, tell=tell)
    assert (len(at_hand), Trial.objects.count()) == (12, 12)
    assert max(at_hand) - at_hand[0] <= 2

"""Whatever is sent, nothing answers with an error of the server's own, and whatever was kept can be opened again in
every room.
"""

import json
import uuid
from typing import Any

import pytest
from django.core.management import call_command
from django.db import OperationalError
from django.test import Client
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as some

from tests.server.conftest import KIT, VESSEL, Workshop, held, running
from toadbell.shed.models import Kit, Vessel
from toadbell.trials.models import Reading, Trial

SLOW = [HealthCheck.function_scoped_fixture, HealthCheck.too_slow]
quantity = some.one_of(
    some.builds(
        lambda n, u: f"{n:g} {u}",
        some.floats(-1e3, 1e9),
        some.sampled_from(["bar", "psi", "mm", "m", "in", "L", "degC", "mL/h", "min", "h", "", "kPa"]),
    ),
    some.sampled_from(
        ["365 bar", "850000 psi", "1 bar**9**9**9", "1e300 bar", "−400 °C", '3/8"', "14 1/2 in", "0 bar", "", "9" * 59]
    ),
    some.integers(-5, 10**18),
    some.none(),
)
junk = some.recursive(
    some.none() | some.booleans() | some.integers(-(2**63), 2**63) | some.text(max_size=12) | quantity,
    lambda inner: some.lists(inner, max_size=3) | some.dictionaries(some.text(max_size=8), inner, max_size=3),
    max_leaves=6,
)
DAYS = [
    "2026-03-14",
    "2026-03-14T00:00:00",
    "2026-03-14T10:30:00Z",
    "9999-12-31",
    "0001-01-01",
    "2026-02-30",
    20260314,
    1.5e9,
]
PATHS = [
    ("working_pressure",),
    ("plate_pressure",),
    ("kind",),
    ("shell",),
    ("shell", "inside_diameter"),
    ("shell", "length"),
    ("shell", "wall"),
    ("shell", "material"),
    ("shell", "wall_readings"),
    ("ends",),
    ("fittings",),
    ("volume",),
    ("tubes",),
    ("gauge",),
    ("pump",),
    ("water_temperature",),
    ("design_temperature",),
    ("hold",),
    ("pause",),
    ("stages",),
    ("acceptance",),
    ("date",),
    ("retire",),
    ("relief_set",),
    ("trapped_air",),
    ("tilt",),
    ("factor",),
    ("medium",),
    ("position",),
    ("cask",),
    ("box",),
]


def changed(sheet: dict[str, Any], path: tuple[str, ...], value: Any) -> dict[str, Any]:
    """A sheet with one thing in it another."""
    head, *rest = path
    inner = sheet.get(head)
    return {**sheet, head: changed(inner if isinstance(inner, dict) else {}, tuple(rest), value) if rest else value}


near_right = some.lists(
    some.tuples(some.sampled_from(PATHS), quantity | junk | some.sampled_from(DAYS)), min_size=1, max_size=3
)


def sent(workshop: Workshop, method: str, path: str, body: Any) -> Any:
    """Send anything at all; gives the answer where it was taken. A refusal is in words."""
    answer = workshop.client.generic(method, f"/api{path}", json.dumps(body), content_type="application/json")
    assert answer.status_code < 500, (path, body, answer.content)
    if answer.status_code >= 400:
        assert answer.json()["says"]
        return None
    return answer.json()


def open_every_room(workshop: Workshop) -> None:
    """The lists, and every vessel, plan and record by itself."""
    for path in ("/shed", "/vessels", "/trials", "/kit", "/due", "/logbook", "/logbook?text=bar", "/backups"):
        workshop.get(path)
    for vessel in Vessel.objects.all():
        workshop.get(f"/vessels/{vessel.pk}")
    for trial in Trial.objects.all():
        workshop.get(f"/trials/{trial.pk}/plan")
        workshop.get(f"/trials/{trial.pk}/kit")


@settings(max_examples=40, suppress_health_check=SLOW)
@given(changes=near_right, notes=some.text(max_size=20))
def test_what_was_kept_of_any_vessel_can_be_opened(workshop: Workshop, changes: Any, notes: str) -> None:
    sheet: Any = VESSEL
    for path, value in changes:
        sheet = changed(sheet, path, value)
    kept = sent(workshop, "POST", "/vessels", {"name": "Tank", "sheet": sheet, "notes": notes})
    if kept:
        workshop.post(f"/vessels/{kept['id']}/trials")
        open_every_room(workshop)
        Trial.objects.all().delete()
        Vessel.objects.all().delete()


@settings(max_examples=40, suppress_health_check=SLOW)
@given(changes=near_right)
def test_what_was_kept_of_any_plan_can_be_opened(workshop: Workshop, changes: Any) -> None:
    vessel = Vessel.objects.first()
    plan = workshop.get(f"/trials/{Trial.objects.get(vessel=vessel).pk}/plan") if vessel else workshop.planned()
    sheet: Any = {**VESSEL, **KIT}
    for path, value in changes:
        sheet = changed(sheet, path, value)
    if sent(workshop, "PUT", f"/trials/{plan['id']}/plan", {"sheet": sheet, "version": plan["version"]}):
        open_every_room(workshop)


@settings(max_examples=40, suppress_health_check=SLOW)
@given(
    kind=some.sampled_from(["gauge", "pump", "hose", "thermometer", "relief-valve", "wrench", "spanner"]),
    fields=some.dictionaries(
        some.sampled_from(
            [
                "range",
                "division",
                "class",
                "calibrated",
                "proven",
                "rating",
                "stroke",
                "resolution",
                "set_pressure",
                "name",
            ]
        ),
        quantity | some.sampled_from(DAYS) | junk,
        max_size=4,
    ),
    name=some.text(max_size=12),
)
def test_what_was_kept_of_any_kit_can_be_opened_and_stops_no_plan(
    workshop: Workshop, kind: str, fields: Any, name: str
) -> None:
    if not Trial.objects.exists():
        workshop.planned()
    if sent(workshop, "POST", "/kit", {"kind": kind, "name": name, "sheet": fields, "notes": ""}):
        open_every_room(workshop)
        Kit.objects.all().delete()


@settings(max_examples=60, suppress_health_check=SLOW)
@given(
    kind=some.sampled_from(
        [
            "note",
            "leak",
            "opening",
            "odd",
            "strokes",
            "hold-set",
            "gone-back",
            "mended",
            "guard-answered",
            "stage-reached",
        ]
    ),
    data=some.dictionaries(
        some.sampled_from(
            [
                "name",
                "what",
                "done",
                "owner",
                "where",
                "pin",
                "shows",
                "count",
                "seconds",
                "to",
                "vent",
                "text",
                "leak",
                "guard",
            ]
        ),
        junk,
        max_size=4,
    ),
)
def test_no_step_of_a_run_breaks_its_bench(workshop: Workshop, kind: str, data: Any) -> None:
    trial = Trial.objects.first()
    on = str(trial.pk) if trial else running(workshop)
    sent(workshop, "POST", f"/trials/{on}/steps", {"id": str(uuid.uuid4()), "kind": kind, "data": data})
    workshop.get(f"/trials/{on}/bench")


def test_a_sheet_that_an_older_one_took_hangs_beside_the_others_and_says_how_it_is_mended(workshop: Workshop) -> None:
    good, bad = workshop.vessel("Good"), workshop.vessel("Bad")
    Vessel.objects.filter(pk=bad["id"]).update(sheet={"kind": "receiver", "working_pressure": "850000 psi"})
    rows = {row["name"]: row for row in workshop.get("/shed")["rows"]}
    assert rows["Good"]["problem"] is None
    assert "check the unit" in rows["Bad"]["problem"]
    page = workshop.get(f"/vessels/{bad['id']}")
    assert (page["answer"], page["shape"]["form"]) == (None, "unknown")
    mended = {"name": "Bad", "sheet": good["sheet"], "version": page["version"]}
    assert workshop.put(f"/vessels/{bad['id']}", mended)["problem"] is None


def test_kit_that_an_older_one_took_is_shown_to_be_mended_and_stops_no_plan(workshop: Workshop) -> None:
    plan = workshop.planned()
    hung = workshop.post("/kit", {"kind": "gauge", "name": "Sill gauge", "sheet": {"range": "25 bar"}})
    Kit.objects.filter(pk=hung["id"]).update(sheet={"range": "25 bar", "calibrated": "2026-01-01T10:30"})
    (shown,) = workshop.get("/kit")
    assert "such as 2026-03-14" in shown["problem"]
    assert workshop.get(f"/trials/{plan['id']}/plan")["answer"]["test_pressure"] > 0


@pytest.mark.parametrize(
    ("method", "path", "data", "kind", "status"),
    [
        ("POST", "/jobs/with-file", b"x", "multipart/form-data", 400),
        ("POST", "/vessels/{vessel}/attachments", b"--x", "multipart/form-data; boundary=", 400),
        ("POST", "/vessels", b'{"name": "T", "sheet": {}, "notes": "\\ud800"}', "application/json", 422),
        ("POST", "/vessels", b'{"name": "T\\u0000", "sheet": {}, "notes": ""}', "application/json", 422),
        ("POST", "/vessels", b'{"name": "   ", "sheet": {}}', "application/json", 422),
        ("POST", "/vessels", b"[" * 50_000, "application/json", 400),
        (
            "POST",
            "/trials/{trial}/readings",
            b'[{"id": "019f0000-0000-7000-8000-000000000001", "pressure": "3 bar", "at": "2026-03-14T09:30:00"}]',
            "application/json",
            422,
        ),
        (
            "POST",
            "/trials/{trial}/readings",
            b'[{"id": "019f0000-0000-7000-8000-000000000001", "pressure": "3 bar", "at": "0001-01-01T00:00:00+05:00"}]',
            "application/json",
            422,
        ),
        (
            "POST",
            "/trials/{trial}/steps",
            b'{"id": "019f0000-0000-7000-8000-000000000001", "kind": "note", "data": {"text": "x"},'
            b' "at": "9999-12-31T23:00:00-05:00"}',
            "application/json",
            422,
        ),
        (
            "POST",
            "/trials/{trial}/steps",
            b'{"id": "019f0000-0000-7000-8000-000000000001", "kind": "opening",'
            b' "data": {"name": [], "what": "ready", "done": true}}',
            "application/json",
            409,
        ),
        ("GET", "/trials/{trial}/trace?after=2026-03-14T09:30:00", b"", "application/json", 422),
        (
            "POST",
            "/vessels/{vessel}/happened",
            b'{"what": "look inside", "on": "9999-12-31T10:00:00"}',
            "application/json",
            422,
        ),
    ],
)
def test_what_no_page_sends_is_refused_in_words(
    workshop: Workshop, method: str, path: str, data: bytes, kind: str, status: int
) -> None:
    trial = running(workshop)
    vessel = Trial.objects.get(pk=trial).vessel_id
    answer = workshop.client.generic(method, f"/api{path.format(trial=trial, vessel=vessel)}", data, content_type=kind)
    assert (answer.status_code, bool(answer.json()["says"])) == (status, True), answer.content


@pytest.mark.parametrize(
    ("problem", "says"),
    [
        ("database or disk is full", "The disk is full"),
        ("attempt to write a readonly database", "cannot be written to"),
        ("database is locked", "busy"),
    ],
)
def test_a_disk_that_takes_nothing_more_is_said_in_words_and_nothing_is_acknowledged(
    workshop: Workshop, monkeypatch: pytest.MonkeyPatch, problem: str, says: str
) -> None:
    trial = running(workshop)

    def refuse(*args: Any, **more: Any) -> None:
        raise OperationalError(problem)

    monkeypatch.setattr(Reading.objects, "bulk_create", refuse)
    told = workshop.read(trial, "3 bar", status=507)
    assert says in told["says"]
    assert Reading.objects.count() == 0


def test_a_picture_whose_file_is_gone_is_told_as_such_and_the_rest_is_carried_away(workshop: Workshop) -> None:
    from tests.server.test_attachments import picture, post
    from tests.server.test_packages import carried
    from toadbell.records.models import Attachment

    hung = workshop.vessel()
    post(workshop, f"/vessels/{hung['id']}/attachments", "a.jpg", picture((60, 40)))
    post(workshop, f"/vessels/{hung['id']}/attachments", "b.jpg", picture((60, 40)))
    lost = Attachment.objects.first()
    assert lost is not None
    lost.path.unlink()
    lost.thumb.unlink()
    answer = workshop.client.get(f"/api/photos/{lost.pk}")
    assert (answer.status_code, "missing" in answer.json()["says"]) == (500, True)
    files = carried()
    assert json.loads(files["missing.json"])[0]["id"] == str(lost.pk)
    assert len([path for path in files if path.startswith("attachments/")]) == 1


def test_a_cell_that_a_spreadsheet_would_run_is_shielded_and_comes_back_as_it_was(workshop: Workshop) -> None:
    from tests.server.test_packages import carried, packed, wipe
    from toadbell.records import package_import
    from toadbell.trials.models import Event

    trial = running(workshop)
    text = '=HYPERLINK("http://tank.example")'
    workshop.step(trial, "note", text=text)
    workshop.put("/me", {"units": "metric", "name": "@Maren"})
    files = carried()
    assert b"'@Maren" in files["people.csv"]
    assert b"\n=" not in files[f"trials/{trial}/events.csv"]
    assert b",=" not in files[f"trials/{trial}/events.csv"]
    wipe()
    package_import.take_in(packed(files), dry=False)
    assert Event.objects.get(kind="note").data["text"] == text
    assert Event.objects.get(kind="note").by.first_name == "@Maren"


@pytest.mark.django_db
def test_the_schema_says_what_the_api_takes_and_no_call_that_follows_it_breaks_anything(workshop: Workshop) -> None:
    """A small share of what `make bench` tries at length: calls made up from the API's own schema, on a workshop with a
    run and a record.
    """
    from tools.by_schema import by_schema

    running(workshop)
    held(workshop)
    call_command("check")
    assert by_schema(Client(), calls=250, seed=7) == []

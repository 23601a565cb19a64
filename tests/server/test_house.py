"""Who gets in, what every answer carries, how errors speak, and how the database is kept."""

import json

import pytest
from django.conf import settings
from django.core.management import call_command
from django.db import connection
from django.test import Client

from tests.server.conftest import Workshop
from toadbell.shed.models import Maker


def test_the_local_owner_is_signed_in_by_itself_and_only_one_is_made(workshop: Workshop) -> None:
    assert workshop.get("/me")["name"] == "Owner"
    Workshop(Client()).get("/me")
    assert Maker.objects.filter(username="owner").count() == 1


@pytest.mark.django_db
def test_from_another_machine_nobody_is_the_owner() -> None:
    answer = Client(REMOTE_ADDR="192.0.2.7").get("/api/me")
    assert answer.status_code == 401
    assert "not signed in" in answer.json()["says"]


@pytest.mark.django_db
def test_a_host_name_that_is_not_this_machine_is_refused() -> None:
    assert Client().get("/api/me", headers={"host": "tank.example"}).status_code == 400
    assert Maker.objects.count() == 0


@pytest.mark.django_db
def test_a_write_without_the_pages_token_is_refused_and_with_it_taken() -> None:
    client = Client(enforce_csrf_checks=True)
    client.get("/api/me")
    body = json.dumps({"units": "imperial"})
    assert client.put("/api/me", body, content_type="application/json").status_code == 403
    token = client.cookies[settings.CSRF_COOKIE_NAME].value
    stale = client.put("/api/me", body, content_type="application/json", headers={"X-CSRFToken": token[::-1]})
    assert stale.status_code == 503, "somebody else came to this browser meanwhile: it is sent again, not refused"
    taken = client.put("/api/me", body, content_type="application/json", headers={"X-CSRFToken": token})
    assert taken.json()["units"] == "imperial"


def test_every_answer_carries_the_policy(workshop: Workshop) -> None:
    headers = workshop.client.get("/api/me").headers
    policy = headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "unsafe" not in policy
    assert headers["X-Frame-Options"] == "DENY"
    assert headers["X-Content-Type-Options"] == "nosniff"
    assert headers["Referrer-Policy"] == "same-origin"


@pytest.mark.parametrize("path", ["/", "/vessels/new", "/trials/7/bench", "/no/such/room"])
def test_every_room_is_the_same_page(path: str, workshop: Workshop) -> None:
    answer = workshop.client.get(path)
    assert answer.status_code == 200
    assert b'id="root"' in answer.content


def test_what_is_not_there_is_said_kindly(workshop: Workshop) -> None:
    says = workshop.get("/vessels/00000000-0000-0000-0000-000000000000", 404)["says"]
    assert says.startswith("There is nothing here")


@pytest.mark.parametrize(("body", "says"), [("{", "JSON"), ('{"name": ""}', "at least 1"), ('{"sheet": {}}', "needed")])
def test_what_cannot_be_read_is_said_with_its_field(body: str, says: str, workshop: Workshop) -> None:
    answer = workshop.client.post("/api/vessels", body, content_type="application/json")
    assert answer.status_code in (400, 422)
    assert says in answer.json()["says"]


def test_what_was_not_foreseen_shows_no_traceback(workshop: Workshop, monkeypatch: pytest.MonkeyPatch) -> None:
    hung = workshop.post("/vessels", {"name": "Tank", "sheet": {"kind": "cask", "working_pressure": "0.2 bar"}})
    monkeypatch.setattr("toadbell.shed.api.vessel_out", lambda *_: 1 / 0)
    answer = workshop.client.get(f"/api/vessels/{hung['id']}")
    assert answer.status_code == 500
    assert set(answer.json()) == {"says", "field"}
    assert "Traceback" not in answer.content.decode()


@pytest.mark.parametrize(
    ("pragma", "value"), [("journal_mode", "wal"), ("synchronous", 2), ("foreign_keys", 1), ("busy_timeout", 10_000)]
)
def test_the_database_is_kept_as_a_log_book_should_be(pragma: str, value: object, db: None) -> None:
    with connection.cursor() as cursor:
        cursor.execute(f"PRAGMA {pragma}")
        assert cursor.fetchone()[0] == value


def test_the_models_and_the_migrations_agree(db: None) -> None:
    call_command("makemigrations", check=True, dry_run=True, verbosity=0)


@pytest.mark.parametrize(
    ("text", "kind", "unit", "shown", "other"),
    [
        ("120psi", "pressure", "bar", "120 psi", "8.274 bar"),
        ("8,3 bar", "pressure", "psi", "8.3 bar", "120.4 psi"),
        ("14 1/2 in", "length", "mm", "14.5 in", "368.3 mm"),
        ('3/8"', "length", "mm", "0.375 in", "9.525 mm"),
        ("366", "length", "mm", "366 mm", "14.41 in"),
        ("830 kPa", "pressure", "bar", "830 kPa", "120.4 psi"),
        ("12 mL", "volume", "mL", "12 mL", "0.7323 in³"),
        ("16 °C", "temperature", "degC", "16 °C", "60.8 °F"),
        ("340", "length", "m", "340 m", "1115 ft"),
        ("1100 ft", "length", "m", "1100 ft", "335.3 m"),
    ],
)
def test_a_quantity_is_read_back_in_both_habits(
    text: str, kind: str, unit: str, shown: str, other: str, workshop: Workshop
) -> None:
    found = workshop.post("/quantities/read", {"text": text, "kind": kind, "default_unit": unit})
    assert found["shown"].replace('"', "in") in (shown, shown.replace(" in", " in"))
    assert found["other"] == other


def test_a_bare_number_is_handed_back_with_its_unit(workshop: Workshop) -> None:
    assert (
        workshop.post("/quantities/read", {"text": " 366 ", "kind": "length", "default_unit": "mm"})["text"] == "366 mm"
    )
    assert (
        workshop.post("/quantities/read", {"text": "14 in", "kind": "length", "default_unit": "mm"})["text"] == "14 in"
    )


@pytest.mark.parametrize(
    ("text", "kind"),
    [("1,200 psi", "pressure"), ("eight bar", "pressure"), ("8 mm", "pressure"), ("5-9 bar", "pressure")],
)
def test_nonsense_is_told_with_what_would_be_accepted(text: str, kind: str, workshop: Workshop) -> None:
    told = workshop.post("/quantities/read", {"text": text, "kind": kind})
    assert (told["value"], len(told["problem"]) > 30) == (None, True)
    workshop.post("/quantities/read", {"text": text, "kind": "colour"}, 422)


def test_the_habit_is_kept(workshop: Workshop) -> None:
    workshop.put("/me", {"units": "imperial", "name": "Odo"})
    me = workshop.get("/me")
    assert (me["units"], me["name"]) == ("imperial", "Odo")
    workshop.put("/me", {"units": "cubits"}, 422)

"""Loggers at their own door, and a logger's file taken in: stored once, said clearly, nothing of it lost."""

import datetime

import pytest
from django.test import Client

from tests.server.conftest import Logger, Workshop, running
from toadbell.trials.models import Reading, Trial


def test_a_batch_is_stored_once_however_often_it_is_sent(workshop: Workshop) -> None:
    logger = Logger(workshop, running(workshop))
    batch = [
        {"id": f"boot7-{n}", "pressure": f"{3 + n / 10} bar", "temperature": "16.2 degC", "ago": f"{10 - n} s"}
        for n in range(10)
    ]
    assert logger.send(batch)["stored"] == [one["id"] for one in batch]
    again = logger.send([*batch[5:], {"id": "boot7-10", "pressure": "60 psi"}])
    assert again["stored"] == ["boot7-10"]
    assert again["known"] == [one["id"] for one in batch[5:]]
    assert Reading.objects.count() == 11
    reading = Reading.objects.order_by("at").first()
    assert (reading.source, reading.device.name, reading.temperature) == (
        "device",
        "tank logger",
        pytest.approx(289.35),
    )  # type: ignore[union-attr]


def test_what_a_logger_reads_is_the_benchs_reading_and_the_guards(workshop: Workshop) -> None:
    trial = running(workshop)
    logger = Logger(workshop, trial)
    workshop.step(trial, "vent-shut")
    logger.send([{"id": "1", "pressure": "14 bar", "ago": "1 s"}, {"id": "2", "pressure": "12 bar"}])
    bench = workshop.get(f"/trials/{trial}/bench")
    assert bench["latest"]["name"] == "tank logger"
    assert bench["latest"]["pressure"] == 12e5
    assert [guard["code"] for guard in bench["guards"]] == ["overshoot"]
    assert [series["name"] for series in workshop.get(f"/trials/{trial}/trace")["series"]] == ["tank logger"]


def test_a_loggers_counter_and_strokes_counted_by_hand_tell_of_air_alike(workshop: Workshop) -> None:
    for by_hand in (True, False):
        trial = running(workshop)
        logger = Logger(workshop, trial, "by hand" if by_hand else "with a counter")
        workshop.step(trial, "vent-shut")
        logger.send([{"id": "start", "pressure": "0 bar"} | ({} if by_hand else {"strokes": 500})])
        for n in range(1, 9):
            pumped, pressure = 12.0 * n, 0.0
            while 9.7 * pressure + 60 * pressure / (pressure + 1.01325) < pumped:
                pressure += 0.002
            if by_hand:
                workshop.step(trial, "strokes", count=1)
            logger.send([{"id": str(n), "pressure": f"{pressure:.3f} bar"} | ({} if by_hand else {"strokes": 500 + n})])
        bench = workshop.get(f"/trials/{trial}/bench")
        assert bench["strokes"] == 8
        assert bench["pumped"]["air"]["estimate"] == pytest.approx(6e-5, rel=0.2)
        assert bench["guards"] == []


def test_a_wrong_or_withdrawn_token_opens_nothing(workshop: Workshop) -> None:
    logger = Logger(workshop, running(workshop))
    assert "not known here" in logger.send([{"id": "1", "pressure": "3 bar"}], 401, token="tb_wrong")["says"]
    workshop.send("DELETE", f"/devices/{logger.id}", status=200)
    assert "Make a new one" in logger.send([{"id": "1", "pressure": "3 bar"}], 401)["says"]
    assert Reading.objects.count() == 0


def test_a_token_is_no_key_to_anything_else(workshop: Workshop) -> None:
    logger = Logger(workshop, None)
    found = Client(REMOTE_ADDR="192.0.2.7").get("/api/devices", headers={"authorization": f"Bearer {logger.token}"})
    assert found.status_code == 401


def test_where_no_run_listens_the_readings_are_to_be_kept_and_sent_again(workshop: Workshop) -> None:
    logger = Logger(workshop, None)
    assert "send them again" in logger.send([{"id": "1", "pressure": "0.4 bar"}], 409)["says"]
    seen = workshop.get("/devices")[0]
    assert seen["seen_pressure"] == pytest.approx(4e4)  # the bench shows that it is alive, and what it reads
    trial = running(workshop)
    workshop.post(f"/trials/{trial}/devices/{logger.id}", {"on": True})
    assert logger.send([{"id": "1", "pressure": "0.4 bar"}])["stored"] == ["1"]


def test_a_clock_that_is_off_is_put_right_where_the_device_says_its_own_time(workshop: Workshop) -> None:
    logger = Logger(workshop, running(workshop))
    theirs = datetime.datetime.now(datetime.UTC) - datetime.timedelta(days=700)
    sent = logger.send([{"id": "1", "pressure": "3 bar", "at": theirs.isoformat()}], sent=theirs.isoformat())
    assert sent["clock_off"] == pytest.approx(700 * 86_400, abs=5)
    assert abs((Reading.objects.get().at - datetime.datetime.now(datetime.UTC)).total_seconds()) < 5


@pytest.mark.parametrize(("days", "says"), [(1, "ahead of this clock"), (-1, "before the run began")])
def test_without_it_a_time_that_cannot_be_is_refused_whole(workshop: Workshop, days: int, says: str) -> None:
    logger = Logger(workshop, running(workshop))
    off = (datetime.datetime.now(datetime.UTC) + datetime.timedelta(days=days)).isoformat()
    found = logger.send([{"id": "1", "pressure": "3 bar"}, {"id": "2", "pressure": "3 bar", "at": off}], 422)
    assert says in found["says"]
    assert found["field"] == "readings.2.at"
    assert Reading.objects.count() == 0


@pytest.mark.parametrize(
    ("reading", "field"),
    [
        ({"pressure": "3 mm"}, "pressure"),
        ({"pressure": "3"}, "pressure"),
        ({"pressure": "3 bar", "temperature": "16 bar"}, "temperature"),
        ({"pressure": "-3 bar"}, "pressure"),
        ({"pressure": "3 bar", "ago": "soon"}, "ago"),
    ],
)
def test_a_unit_that_is_none_names_the_reading_and_stores_nothing(
    workshop: Workshop, reading: dict[str, str], field: str
) -> None:
    logger = Logger(workshop, running(workshop))
    found = logger.send([{"id": "1", "pressure": "3 bar"}, {"id": "2", **reading}], 422)
    assert found["field"] == f"readings.2.{field}"
    assert Reading.objects.count() == 0


def test_a_million_readings_at_a_time_are_refused_in_words(workshop: Workshop) -> None:
    logger = Logger(workshop, running(workshop))
    many = [{"id": str(n), "pressure": "3 bar"} for n in range(5001)]
    assert "at most 5000" in logger.send(many, 409)["says"]
    huge = [{"id": str(n), "pressure": "3 bar", "temperature": "16 degC"} for n in range(200_000)]
    assert "smaller parts" in logger.send(huge, 413)["says"]
    assert Reading.objects.count() == 0


def test_a_logger_reads_for_one_run_at_a_time(workshop: Workshop) -> None:
    one, other = running(workshop), running(workshop)
    logger = Logger(workshop, one)
    assert "another run" in workshop.post(f"/trials/{other}/devices/{logger.id}", {"on": True}, 409)["says"]
    workshop.post(f"/trials/{one}/devices/{logger.id}", {"on": False})
    workshop.post(f"/trials/{other}/devices/{logger.id}", {"on": True})
    logger.send([{"id": "1", "pressure": "3 bar"}])
    assert str(Reading.objects.get().trial_id) == other
    workshop.step(other, "dumped")
    logger.send([{"id": "2", "pressure": "0 bar"}])  # till it is at zero
    assert "not on the bench" in logger.send([{"id": "3", "pressure": "3 bar"}], 409)["says"]
    assert "Begin a run" in workshop.post(f"/trials/{other}/devices/{logger.id}", {"on": True}, 409)["says"]


# -- a logger's file --------------------------------------------------------------------------------

FILE = "Serial;A-17\nDate;Time;Druck [bar];Temp [°C]\n" + "".join(
    f"24.11.2026;10:{m:02d}:00;{12.8 - m / 100:.2f};16,2\n".replace(".", ",", 0) for m in range(30)
)


def german(text: str) -> str:
    """Numbers with a comma."""
    return "\n".join(
        ";".join(
            cell.replace(".", ",") if i > 1 and cell[:1].isdigit() else cell for i, cell in enumerate(line.split(";"))
        )
        for line in text.split("\n")
    )


def test_a_file_is_previewed_put_right_and_taken_in_once_as_a_source_of_its_own(workshop: Workshop) -> None:
    trial = running(workshop)
    text = german(FILE) + "24.11.2026;10:31:00;broken;16,2\n"
    seen = workshop.post(f"/trials/{trial}/imports/preview", {"text": text, "zone": "Europe/Lisbon"})
    assert seen["missing"] == []
    assert (seen["rows_in_all"], seen["bad_in_all"]) == (30, 1)
    assert "broken" in seen["bad"][0]["says"]
    assert seen["rows"][0]["pressure"] == pytest.approx(12.8e5)
    assert Reading.objects.count() == 0
    recipe = {**seen["recipe"], "zone": "Asia/Tokyo"}
    bench = workshop.post(f"/trials/{trial}/imports", {"name": "tank.csv", "text": text, "recipe": recipe})
    assert bench["log"][0]["says"] == "file taken in: tank.csv, 30 readings"
    assert bench["latest"] is None  # a file is no live source
    assert Reading.objects.order_by("at").first().at.isoformat() == "2026-11-24T01:00:00+00:00"  # type: ignore[union-attr]
    assert [series["name"] for series in workshop.get(f"/trials/{trial}/trace")["series"]] == ["tank.csv"]
    assert (
        "already"
        in workshop.post(f"/trials/{trial}/imports", {"name": "again.csv", "text": text, "recipe": recipe}, 409)["says"]
    )
    assert Reading.objects.count() == 30


def test_a_file_that_counts_seconds_begins_with_the_run_or_when_it_is_said(workshop: Workshop) -> None:
    trial = running(workshop)
    text = "elapsed [s],pressure [psi]\n0,100\n60,99\n"
    recipe = workshop.post(f"/trials/{trial}/imports/preview", {"text": text})["recipe"]
    workshop.post(
        f"/trials/{trial}/imports", {"name": "a.csv", "text": text, "recipe": recipe, "begins": "2026-11-24T10:00:00Z"}
    )
    assert [r.at.isoformat() for r in Reading.objects.order_by("at")] == [
        "2026-11-24T10:00:00+00:00",
        "2026-11-24T10:01:00+00:00",
    ]


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "empty"),
        ("one\ntwo\n", "no table"),
        ("a,b\n1,2\n", "Which column"),
        ("time,pressure\n2026-11-24T10:00:00,3\n", "unit"),
    ],
)
def test_a_file_that_cannot_be_taken_in_says_why(workshop: Workshop, text: str, says: str) -> None:
    trial = running(workshop)
    answer = workshop.post(f"/trials/{trial}/imports/preview", {"text": text}, (200, 422))
    assert says in (answer["says"] if "says" in answer else " ".join(answer["missing"]))
    if "recipe" in answer:
        assert workshop.post(f"/trials/{trial}/imports", {"name": "x", "text": text, "recipe": answer["recipe"]}, 422)[
            "says"
        ]
    assert workshop.post(f"/trials/{trial}/imports", {"name": "x", "text": text, "recipe": {"delimiter": "#"}}, 422)[
        "field"
    ].startswith("recipe")


def test_the_file_and_the_logger_are_no_business_of_the_simulated_rig(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.post(f"/trials/{trial}/start", {"source": "rig"})
    logger = Logger(workshop, None)
    assert "real rig" in workshop.post(f"/trials/{trial}/devices/{logger.id}", {"on": True}, 409)["says"]
    text = "elapsed [s],pressure [bar]\n0,1\n1,1\n"
    recipe = workshop.post(f"/trials/{trial}/imports/preview", {"text": text})["recipe"]
    assert (
        "simulated rig"
        in workshop.post(f"/trials/{trial}/imports", {"name": "x", "text": text, "recipe": recipe}, 409)["says"]
    )
    assert Trial.objects.get(pk=trial).files.count() == 0

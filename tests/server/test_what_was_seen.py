"""What is frozen, started and decided is what was seen; an id stands for one thing, and what was kept of two is
said.
"""

import uuid
from typing import Any

import pytest

from tests.server.conftest import KIT, Logger, Workshop, held, running
from tests.server.test_attachments import post
from toadbell.trials.models import Event, Trial


def test_a_plan_that_somebody_else_changed_is_not_frozen_unseen(workshop: Workshop) -> None:
    plan = workshop.planned()
    workshop.put(
        f"/trials/{plan['id']}/plan",
        {"sheet": {**plan["sheet"], "working_pressure": "4 bar"}, "version": plan["version"]},
    )
    refused = workshop.post(f"/trials/{plan['id']}/freeze", {"seen": plan["seen"]}, 412)
    assert "was changed after you looked at it" in refused["says"]
    seen = workshop.get(f"/trials/{plan['id']}/plan")
    assert workshop.post(f"/trials/{plan['id']}/freeze", {"seen": seen["seen"]})["state"] == "ready"
    assert workshop.get(f"/trials/{plan['id']}/bench")["answer"]["test_pressure"] == pytest.approx(600_000)


def test_a_gauge_hung_up_meanwhile_makes_it_another_plan(workshop: Workshop) -> None:
    plan = workshop.planned()
    workshop.post("/kit", {"kind": "gauge", "name": "Sill gauge", "sheet": {"range": "25 bar", "division": "0.1 bar"}})
    workshop.post(f"/trials/{plan['id']}/freeze", {"seen": plan["seen"]}, 412)


def test_a_run_is_not_begun_on_a_plan_that_was_thawed_and_frozen_anew(workshop: Workshop) -> None:
    trial = workshop.ready()
    seen = workshop.get(f"/trials/{trial}/bench")["seen"]
    plan = workshop.post(f"/trials/{trial}/thaw")
    workshop.put(
        f"/trials/{trial}/plan", {"sheet": {**plan["sheet"], "working_pressure": "4 bar"}, "version": plan["version"]}
    )
    workshop.post(f"/trials/{trial}/freeze")
    workshop.post(f"/trials/{trial}/start", {"source": "dial", "seen": seen}, 412)
    assert Trial.objects.get(pk=trial).started_at is None


def test_nothing_is_decided_on_evidence_that_is_another_by_now(workshop: Workshop) -> None:
    trial = held(workshop)
    seen = workshop.post(f"/trials/{trial}/judge")["seen"]
    workshop.step(trial, "leak", owner="boundary", where="the lower seam", shows="weep")
    refused = workshop.post(
        f"/trials/{trial}/decision", {"fitness": "fit", "pressure": "8.5 bar", "reason": "", "seen": seen}, 412
    )
    assert "verdict or the evidence" in refused["says"]
    assert not hasattr(Trial.objects.get(pk=trial), "decision")


def test_a_step_whose_id_is_another_runs_is_not_acknowledged_and_a_dump_is_done_whatever_its_id(
    workshop: Workshop,
) -> None:
    one, other = running(workshop), running(workshop)
    event = str(uuid.uuid4())
    workshop.step(one, "note", event=event, text="dry")
    assert "is that of something else" in workshop.step(other, "note", 409, event=event, text="wet")["says"]
    assert "is that of something else" in workshop.step(one, "vent-shut", 409, event=event)["says"]
    assert workshop.step(one, "note", event=event, text="dry")["state"] == "running"  # the same again is the same
    assert workshop.step(other, "dumped", event=event)["state"] == "aborted"
    assert Event.objects.filter(trial=other, kind="dumped").count() == 1


def test_a_picture_whose_id_is_another_vessels_is_not_acknowledged(workshop: Workshop) -> None:
    first, second = workshop.vessel("One"), workshop.vessel("Two")
    from tests.server.test_attachments import picture

    (kept,) = post(workshop, f"/vessels/{first['id']}/attachments", "a.jpg", picture((60, 40)))
    told = post(workshop, f"/vessels/{second['id']}/attachments", "b.jpg", picture((60, 40)), 409, id=kept["id"])
    assert "is that of something else" in told["says"]


def test_of_two_readings_under_one_id_the_first_is_kept_and_that_is_said(workshop: Workshop) -> None:
    trial = running(workshop)
    one = str(uuid.uuid4())
    told = workshop.post(
        f"/trials/{trial}/readings", [{"id": one, "pressure": "3.2 bar"}, {"id": one, "pressure": "3.4 bar"}]
    )
    assert (told["stored"], told["differs"]) == ([one], [one])
    assert "3.2 bar" in told["says"]
    again = workshop.post(f"/trials/{trial}/readings", [{"id": one, "pressure": "3.3 bar"}])
    assert again["differs"] == [one]
    assert workshop.post(f"/trials/{trial}/readings", [{"id": one, "pressure": "3.2 bar"}])["differs"] == []
    bench = workshop.get(f"/trials/{trial}/bench")
    assert (bench["readings"], bench["latest"]["pressure"]) == (1, 320_000)


def test_a_logger_hears_which_reading_was_kept(workshop: Workshop) -> None:
    logger = Logger(workshop, running(workshop))
    told = logger.send([{"id": "1", "pressure": "3.2 bar"}, {"id": "1", "pressure": "3.4 bar"}])
    assert (told["stored"], told["differs"]) == (["1"], ["1"])
    assert "3.2 bar" in told["says"]


def test_a_counter_of_strokes_is_exact_however_its_readings_come(workshop: Workshop) -> None:
    trial = workshop.ready(**{**KIT, "pump": {"stroke": "2 mL", "maximum": "40 bar"}})
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    workshop.step(trial, "vent-shut")
    logger = Logger(workshop, trial)

    def sent(first: int, last: int, **more: Any) -> Any:
        rows = [
            {"id": f"{more}{n}", "pressure": f"{n / 100:.2f} bar", "strokes": n, "ago": f"{(last - n) / 100:.2f} s"}
            for n in range(first, last)
        ]
        return logger.send(rows)

    sent(1000, 1001)
    sent(1001, 1400)
    sent(1001, 1400)  # sent again: nothing counts twice
    for n in range(1400, 1420):
        sent(n, n + 1)
    logger.send([{"id": "begun anew", "pressure": "4 bar", "strokes": 3}])
    assert workshop.get(f"/trials/{trial}/bench")["strokes"] == 419 + 3
    lines = [line for line in workshop.get(f"/trials/{trial}/bench")["log"] if line["kind"] == "strokes"]
    assert 1 <= len(lines) <= 3  # the log is not flooded

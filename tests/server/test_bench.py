"""The run: one step after another, readings kept once, nothing done twice, the simulated rig in its own time."""

import datetime
import urllib.parse
import uuid

import pytest

from tests.server.conftest import Workshop, rewind
from toadbell.trials.bench.run_state import run_state
from toadbell.trials.judge import hold
from toadbell.trials.models import Event, Reading, Trial


def on_rig(workshop: Workshop, speed: float = 60, **faults: str) -> str:
    trial = workshop.ready()
    workshop.post(f"/trials/{trial}/start", {"source": "rig", "speed": speed, **faults})
    return trial


def test_the_bench_needs_a_frozen_plan(workshop: Workshop) -> None:
    plan = workshop.planned()
    assert "Freeze the plan first" in workshop.get(f"/trials/{plan['id']}/bench", 409)["says"]
    assert "Freeze the plan first" in workshop.post(f"/trials/{plan['id']}/start", {}, 409)["says"]


def test_a_run_goes_step_by_step_to_the_hold(workshop: Workshop) -> None:
    trial = workshop.ready()
    started = workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    assert started["now"]["says"] == "Fill, and shut the vent."
    assert workshop.step(trial, "vent-shut")["now"]["says"] == "Raise to 3.188 bar."
    workshop.read(trial, "3.2 bar")
    paused = workshop.step(trial, "stage-reached")
    assert paused["phase"] == "pausing"
    assert paused["until"] > paused["since"]
    for pressure in ("6.4", "8.5", "9.6", "12.8"):
        workshop.read(trial, pressure)
        state = workshop.step(trial, "stage-reached")
    assert state["now"]["says"] == "Shut in, and hold."
    held = workshop.step(trial, "shut-in")
    assert held["phase"] == "holding"
    assert held["hold"]["shut_in"] == pytest.approx(12.8e5)
    rewind(trial, 1900)
    workshop.read(trial, "12.75 bar")
    over = workshop.get(f"/trials/{trial}/bench")
    assert over["now"]["says"] == "The hold is over."
    assert workshop.step(trial, "hold-ended")["state"] == "held"
    assert [
        workshop.step(trial, kind)["phase"]
        for kind in ("came-down", "looked", "released", "vent-open", "emptied", "dried")
    ] == [
        "looking",
        "looked",
        "released",
        "vented",
        "emptied",
        "dried",
    ]
    assert workshop.get(f"/trials/{trial}/bench")["now"]["step"] == "judge"


@pytest.mark.parametrize("kind", ["stage-reached", "shut-in", "hold-ended", "released"])
def test_a_step_out_of_turn_is_refused_with_the_reason(kind: str, workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    assert workshop.step(trial, kind, 409)["says"].endswith(".")
    assert Event.objects.filter(kind=kind).count() == 0


def test_a_run_is_begun_once_however_often_the_key_is_hit(workshop: Workshop) -> None:
    trial = workshop.ready()
    begun = workshop.post(f"/trials/{trial}/start", {"source": "dial"})["started_at"]
    assert "started already" in workshop.post(f"/trials/{trial}/start", {"source": "rig", "speed": 60}, 409)["says"]
    bench_now = workshop.get(f"/trials/{trial}/bench")
    assert bench_now["started_at"] == begun
    assert bench_now["source"] == "dial"


def test_strokes_made_one_after_another_are_one_line_of_the_log(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    for _ in range(3):
        workshop.step(trial, "strokes", count=2)
    workshop.step(trial, "note", text="stiff now")
    bench_now = workshop.step(trial, "strokes", count=1)
    assert [line["says"] for line in bench_now["log"][:3]] == ["1 stroke", "stiff now", "6 strokes"]
    assert bench_now["strokes"] == 7


def test_a_stage_is_reached_when_the_gauge_says_so(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.raised(trial, to=1)
    workshop.read(trial, "5.0 bar")
    assert "the last reading is 5 bar" in workshop.step(trial, "stage-reached", 409)["says"]


def test_the_same_step_sent_twice_is_done_once(workshop: Workshop) -> None:
    trial, event = workshop.ready(), str(uuid.uuid4())
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    workshop.step(trial, "vent-shut", event=event)
    workshop.step(trial, "vent-shut", event=event)
    assert Event.objects.filter(kind="vent-shut").count() == 1


def test_the_same_reading_sent_twice_is_stored_once(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    batch = [{"id": str(uuid.uuid4()), "pressure": "3.2 bar"}, {"id": str(uuid.uuid4()), "pressure": "46 psi"}]
    first = workshop.post(f"/trials/{trial}/readings", batch)
    again = workshop.post(f"/trials/{trial}/readings", batch)
    assert first["stored"] == again["stored"] == [reading["id"] for reading in batch]
    assert Reading.objects.count() == 2


def test_a_reading_with_another_trials_id_is_not_acknowledged(workshop: Workshop) -> None:
    one, other = workshop.ready(), workshop.ready()
    reading = [{"id": str(uuid.uuid4()), "pressure": "3.2 bar"}]
    for trial in (one, other):
        workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    workshop.post(f"/trials/{one}/readings", reading)
    assert "another trial" in workshop.post(f"/trials/{other}/readings", reading, 409)["says"]
    assert Reading.objects.get().trial_id == uuid.UUID(one)


@pytest.mark.parametrize("pressure", ["three", "", "-1 bar", "3 mm", "1,200 psi"])
def test_a_mistyped_reading_is_refused_and_none_of_its_batch_is_stored(pressure: str, workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    batch = [{"id": str(uuid.uuid4()), "pressure": "3 bar"}, {"id": str(uuid.uuid4()), "pressure": pressure}]
    assert workshop.post(f"/trials/{trial}/readings", batch, 422)["says"]
    assert Reading.objects.count() == 0


def test_a_bare_reading_is_in_the_makers_own_unit(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    workshop.put("/me", {"units": "imperial"})
    workshop.read(trial, "46")
    assert Reading.objects.get().pressure == pytest.approx(317_159, rel=1e-4)


def test_notes_strokes_and_leaks_are_logged_and_empty_ones_refused(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    workshop.step(trial, "note", text="plug 2 dry")
    workshop.step(trial, "strokes", count=6)
    bench = workshop.step(trial, "leak", owner="rig", where="hose tail")
    assert [line["says"] for line in bench["log"][:3]] == [
        "leak on the test rig, weep: hose tail",
        "6 strokes",
        "plug 2 dry",
    ]
    assert bench["strokes"] == 6
    for kind, data in [
        ("note", {"text": " "}),
        ("strokes", {"count": "many"}),
        ("leak", {"owner": "cat", "where": "mat"}),
        ("dance", {}),
    ]:
        workshop.step(trial, kind, 422, **data)


def test_a_hold_ended_early_asks_for_the_reason_and_keeps_it(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.raised(trial)
    workshop.step(trial, "shut-in")
    assert "say why" in workshop.step(trial, "hold-ended", 409)["says"]
    bench = workshop.step(trial, "hold-ended", reason="rain")
    assert bench["state"] == "held"
    assert bench["log"][0]["says"] == "hold ended early: rain"


def test_dump_ends_the_run_and_can_be_taken_back_as_a_record(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.raised(trial, to=2)
    assert workshop.step(trial, "dumped")["state"] == "aborted"
    back = workshop.step(trial, "not-dumped")
    assert back["state"] == "running"
    assert back["reached"] == 2
    assert "dumped" not in [line["kind"] for line in back["log"]]
    assert Event.objects.filter(kind="dumped").count() == 1  # it stays in the record, named by the correction


def test_after_a_dump_it_is_read_until_zero_was_read_and_nobody_comes_near_before(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.raised(trial, to=2)
    bench = workshop.step(trial, "dumped")
    assert (bench["now"]["zone"], bench["reads"]) == ("line", True)
    workshop.read(trial, "3 bar")
    bench = workshop.get(f"/trials/{trial}/bench")
    assert (bench["now"]["zone"], bench["guards"]) == ("line", [])
    workshop.read(trial, "0 bar")
    bench = workshop.get(f"/trials/{trial}/bench")
    assert (bench["now"]["zone"], bench["reads"], "Zero was read" in bench["now"]["detail"]) == ("near", False, True)
    workshop.read(trial, "3 bar", status=409)


def test_what_falls_below_the_plan_is_held_for_a_reason_alone(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.raised(trial, to=2)
    assert "why a hold so low" in workshop.step(trial, "shut-in", 409)["says"]
    bench = workshop.step(trial, "shut-in", reason="the plug weeps above it")
    assert bench["log"][0]["says"].endswith("below what was planned: the plug weeps above it")


def test_the_rig_reads_by_itself_and_makes_up_for_the_time_away(workshop: Workshop) -> None:
    trial = on_rig(workshop, speed=1)
    rewind(trial, 605)
    bench = workshop.get(f"/trials/{trial}/bench")
    assert bench["readings"] == 60
    times = workshop.get(f"/trials/{trial}/trace")["series"][0]["time"]
    assert len(set(times)) == len(times) == Reading.objects.filter(trial_id=trial).count()


def test_the_rig_is_pumped_up_shut_in_and_dumped(workshop: Workshop) -> None:
    trial = on_rig(workshop)
    assert "vent is open" in workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": 3}, 409)["says"]
    workshop.step(trial, "vent-shut")
    workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": 6})
    rewind(trial, 1)
    bench = workshop.get(f"/trials/{trial}/bench")
    assert bench["strokes"] == 6
    assert bench["latest"]["pressure"] == pytest.approx(3.3e5, rel=0.1)
    assert bench["latest"]["temperature"] == pytest.approx(289.15, abs=0.05)
    shut = workshop.step(trial, "shut-in", reason="to try the pump")
    assert shut["rig"]["shut_in"] is True
    assert "shut off" in workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": 1}, 409)["says"]
    assert workshop.step(trial, "dumped")["state"] == "aborted"
    assert "water is gone" in workshop.step(trial, "not-dumped", 409)["says"]


def test_the_rigs_faults_are_written_as_quantities(workshop: Workshop) -> None:
    trial = on_rig(workshop, leak="60 mL/h", air="0.1 L", drift="-1 degC")
    setup = Trial.objects.get(pk=trial).rig["setup"]
    assert setup["leaks"][0]["rate"] == pytest.approx(60e-6 / 3600)
    assert setup["trapped_air"] == pytest.approx(1e-4)
    assert setup["room"]["drift"] == pytest.approx(-1 / 3600)
    other = workshop.ready()
    assert "mL/h" in workshop.post(f"/trials/{other}/start", {"source": "rig", "leak": "a bit"}, 422)["says"]
    assert Trial.objects.get(pk=other).state == "ready"


@pytest.mark.parametrize("speed", [0, 0.5, 601])
def test_the_rigs_clock_has_bounds(speed: float, workshop: Workshop) -> None:
    trial = workshop.ready()
    assert "1 to 600" in workshop.post(f"/trials/{trial}/start", {"source": "rig", "speed": speed}, 409)["says"]


def test_changing_the_speed_does_not_jump_the_time(workshop: Workshop) -> None:
    trial = on_rig(workshop, speed=600)
    rewind(trial, 2)
    before = Trial.objects.get(pk=trial).now()
    workshop.post(f"/trials/{trial}/speed?speed=1")
    after = Trial.objects.get(pk=trial)
    assert abs((after.now() - before).total_seconds()) < 600
    assert after.speed == 1
    dial = workshop.ready()
    workshop.post(f"/trials/{dial}/start", {"source": "dial"})
    workshop.post(f"/trials/{dial}/speed?speed=10", status=409)


def test_a_real_rig_cannot_be_worked_from_here_nor_the_simulated_one_be_typed_for(workshop: Workshop) -> None:
    dial = workshop.ready()
    workshop.post(f"/trials/{dial}/start", {"source": "dial"})
    assert "in your hands" in workshop.post(f"/trials/{dial}/rig", {"action": "pump", "strokes": 1}, 409)["says"]
    rig = on_rig(workshop)
    assert "by itself" in workshop.read(rig, "3 bar", status=409)["says"]


def test_the_trace_comes_whole_and_then_only_what_is_new(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    workshop.read(trial, "3 bar", "16.2")
    first = workshop.get(f"/trials/{trial}/trace")
    workshop.read(trial, "4 bar")
    new = workshop.get(f"/trials/{trial}/trace?after={urllib.parse.quote(first['cursor'])}")
    assert [series["name"] for series in first["series"]] == ["typed from the dial"]
    assert first["series"][0]["pressure"] == [3e5]
    assert first["series"][0]["temperature"] == [pytest.approx(289.35)]
    assert new["series"][0]["pressure"] == [4e5]
    empty = workshop.get(f"/trials/{trial}/trace?after={urllib.parse.quote(new['cursor'])}")
    assert (empty["series"], empty["cursor"]) == ([], new["cursor"])


OPENINGS = [
    {"name": "Outlet", "for_test": "vent", "ready": True},
    {"name": "Relief valve", "fitted": "relief-valve", "for_test": "take-off"},
]


def test_openings_are_ticked_off_before_and_put_back_after_each_in_the_log(workshop: Workshop) -> None:
    trial = workshop.ready(fittings=OPENINGS)
    before = workshop.get(f"/trials/{trial}/bench")["openings"]
    assert [(o["name"], o["ready"], o["undone"]) for o in before] == [
        ("Outlet", True, False),
        ("Relief valve", False, False),
    ]
    bench = workshop.step(trial, "opening", name="Relief valve", what="ready", done=True)
    assert [o["ready"] for o in bench["openings"]] == [True, True]
    assert bench["log"][0]["says"] == "Relief valve: ready for the test"
    bench = workshop.step(trial, "opening", name="Outlet", what="ready", done=False)
    assert [o["ready"] for o in bench["openings"]] == [False, True]
    assert bench["state"] == "ready"
    bench = workshop.step(trial, "opening", name="Relief valve", what="undone", done=True)
    assert [o["undone"] for o in bench["openings"]] == [False, True]


@pytest.mark.parametrize(
    ("data", "says"),
    [
        ({"name": "Chimney", "what": "ready", "done": True}, "no opening “Chimney”"),
        ({"name": "Outlet", "what": "lost", "done": True}, "“ready” or “undone”"),
        ({"name": "Outlet", "what": "ready"}, "done or is not"),
    ],
)
def test_a_tick_that_makes_no_sense_is_refused(workshop: Workshop, data: dict, says: str) -> None:
    assert says in workshop.step(workshop.ready(fittings=OPENINGS), "opening", status=(409, 422), **data)["says"]


def test_the_simulated_rig_of_a_plan_under_air_is_full_of_air(workshop: Workshop) -> None:
    drum = workshop.post(
        "/vessels",
        {
            "name": "Digester",
            "sheet": {
                "kind": "digester",
                "working_pressure": "22 mbar",
                "box": {"diameter": "570 mm", "height": "820 mm"},
            },
        },
    )
    plan = workshop.post(f"/vessels/{drum['id']}/trials")
    kit = {"gauge": {"range": "100 mbar", "division": "1 mbar"}, "pump": {"stroke": "0.5 L"}}
    workshop.put(f"/trials/{plan['id']}/plan", {"sheet": {**plan["sheet"], **kit}, "version": 1})
    trial = workshop.post(f"/trials/{plan['id']}/freeze")["id"]
    bench = workshop.post(f"/trials/{trial}/start", {"source": "rig", "speed": 1})
    assert bench["answer"]["stages"][-1]["strokes"] == pytest.approx(13.6, abs=0.1)
    setup = Trial.objects.get(pk=trial).rig["setup"]
    assert setup["stiffness"] == pytest.approx(bench["answer"]["volume"] / 101_325)
    assert setup["trapped_air"] == 0


def test_looking_changes_nothing_until_it_is_asked_what_has_become_of_it(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.post(f"/trials/{trial}/start", {"source": "rig"})
    workshop.step(trial, "vent-shut")
    rewind(trial, 60)
    before = (Reading.objects.count(), Event.objects.count(), Trial.objects.get(pk=trial).rig)
    for path in ("bench", "bench/live", "trace", "plan", "kit"):
        assert workshop.client.get(f"/api/trials/{trial}/{path}").status_code == 200
    assert (Reading.objects.count(), Event.objects.count(), Trial.objects.get(pk=trial).rig) == before
    assert workshop.post(f"/trials/{trial}/look")["readings"] > before[0]
    assert Reading.objects.count() > before[0]


def test_what_was_read_is_kept_from_look_to_look_and_judged_as_if_it_were_read_at_once(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.raised(trial)
    began = datetime.datetime.fromisoformat(workshop.step(trial, "shut-in")["since"])
    for minute in range(12):
        rewind(trial, 60)
        workshop.read(trial, f"{12.78 - 0.01 * minute:.2f} bar", "16.0")
        workshop.get(f"/trials/{trial}/bench")
    at = began + datetime.timedelta(minutes=3.5)
    late = {"id": str(uuid.uuid4()), "pressure": "12.75 bar", "at": at.isoformat()}
    workshop.post(f"/trials/{trial}/readings", [late])
    found = Trial.objects.get(pk=trial)
    inside = found.readings.filter(at__gte=began).order_by("at").values_list("at", flat=True)
    assert [one.at for one in hold.hold_readings(found)][-len(inside) :] == list(inside)
    hold._held.clear()
    looked = hold.hold_so_far(found, run_state(found))
    hold._read.clear()
    hold._held.clear()
    whole = hold.hold_so_far(found, run_state(found))
    assert looked is not None
    assert whole is not None
    assert looked.leak.estimate == pytest.approx(whole.leak.estimate, rel=1e-3)
    assert looked.leak.high == pytest.approx(whole.leak.high, rel=1e-3)
    assert (looked.verdict, looked.confidence) == (whole.verdict, pytest.approx(whole.confidence, rel=1e-3))


def held_for(workshop: Workshop, minutes: int, limit: str) -> str:
    """A trial in its hold, read each minute; it was planned to last half an hour."""
    trial = workshop.ready(acceptance={"max_leak": limit})
    workshop.raised(trial)
    workshop.step(trial, "shut-in")
    for minute in range(minutes + 1):
        workshop.read(trial, f"{12.79 - 0.0005 * minute:.4f} bar", "16.0")
        rewind(trial, 60)
    return trial


def test_once_the_hold_lasted_as_planned_the_bench_says_of_it_what_the_judge_will_say(workshop: Workshop) -> None:
    plain = hold.judgement(Trial.objects.get(pk=held_for(workshop, 30, "20 mL/h"))).answer
    limit = f"{1.05 * plain.leak.high * 3.6e9:.5g} mL/h"
    trial = held_for(workshop, 30, limit)
    judged = hold.judgement(Trial.objects.get(pk=trial)).answer
    assert 0.975 < judged.confidence < 0.995  # who looks again and again has to be surer
    assert judged.verdict == workshop.get(f"/trials/{trial}/bench")["hold"]["verdict"] == "tight"
    assert workshop.get(f"/trials/{trial}/bench")["hold"]["more"] is None
    early = held_for(workshop, 20, limit)
    assert workshop.get(f"/trials/{early}/bench")["hold"]["verdict"] == "cannot-tell"


def test_on_the_simulated_rig_a_little_is_let_out_and_a_stroke_that_is_too_much_is_said_before_it_is_made(
    workshop: Workshop,
) -> None:
    trial = workshop.ready(pump={"stroke": "150 mL", "maximum": "40 bar"})
    workshop.post(f"/trials/{trial}/start", {"source": "rig", "speed": 1})
    assert "nothing to let out" in workshop.post(f"/trials/{trial}/rig", {"action": "bleed"}, 409)["says"]
    bench = workshop.step(trial, "vent-shut")
    assert "past 3.188 bar" in bench["rig"]["stroke_says"]
    workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": 1})
    rewind(trial, 12)
    over = workshop.get(f"/trials/{trial}/bench")["latest"]["pressure"]
    workshop.post(f"/trials/{trial}/rig", {"action": "bleed"})
    rewind(trial, 12)
    after = workshop.get(f"/trials/{trial}/bench")
    assert 0.5 * over < after["latest"]["pressure"] < 0.99 * over
    assert after["rig"]["vent_open"] is False
    assert any("A little was let out" in line["says"] for line in after["log"])


def test_a_rig_of_whose_pump_the_plan_knows_nothing_says_how_many_strokes_it_needs(workshop: Workshop) -> None:
    trial = workshop.ready(pump=None)
    workshop.post(f"/trials/{trial}/start", {"source": "rig", "speed": 1})
    bench = workshop.step(trial, "vent-shut")
    assert bench["now"]["to_go"] is None
    strokes, target = bench["rig"]["to_stage"], bench["answer"]["stages"][0]["target"]
    workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": strokes})
    rewind(trial, 4 * strokes + 12)
    assert workshop.get(f"/trials/{trial}/bench")["latest"]["pressure"] == pytest.approx(target, rel=0.3)
    assert workshop.get(f"/trials/{trial}/bench")["rig"]["to_stage"] <= 2

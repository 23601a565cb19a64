"""An expansion trial from plan to decision: what is measured, what the strokes offer, what the evidence makes of it."""

from typing import Any

import pytest

from tests.server.conftest import Workshop, held, run

MEASURED: dict[str, Any] = {"procedure": "expansion", "expansion": {"measure": "0.5 mL", "tape": "0.2 mm"}}


def set_line(workshop: Workshop, trial: str) -> Any:
    """The line of the evidence that it kept no set, once the hold is judged."""
    advice = workshop.get(f"/trials/{trial}/judge")["advice"]
    return advice["answer"], next(line for line in advice["evidence"] if line["name"] == "No permanent set")


def measure(workshop: Workshop, trial: str, what: str, place: str, text: str, status: int = 201) -> Any:
    """Something is measured."""
    return workshop.step(trial, "measured", status, what=what, place=place, text=text)


def let_go(workshop: Workshop, trial: str) -> None:
    """Down, looked at, and let go."""
    for step in ("came-down", "looked", "released"):
        workshop.step(trial, step)


def test_what_went_in_and_came_back_decides_whether_it_kept_a_set(workshop: Workshop) -> None:
    trial = held(workshop, **MEASURED)
    assert workshop.get(f"/trials/{trial}/bench")["instruments"] == ["expansion"]
    measure(workshop, trial, "water-in", "1", "160 mL")
    let_go(workshop, trial)
    bench = measure(workshop, trial, "water-back", "1", "157 mL")
    assert bench["expansion"]["judged"]["answer"] == "met", str(bench["expansion"]["judged"])
    workshop.post(f"/trials/{trial}/judge")
    answer, line = set_line(workshop, trial)
    assert (answer, line["state"]) == ("fit", "met")
    assert any("157 mL came back" in entry["says"] for entry in bench["log"])


def test_a_set_of_a_quarter_is_never_fit(workshop: Workshop) -> None:
    trial = held(workshop, **MEASURED)
    measure(workshop, trial, "water-in", "1", "160 mL")
    let_go(workshop, trial)
    measure(workshop, trial, "water-back", "1", "135 mL")
    workshop.post(f"/trials/{trial}/judge")
    answer, line = set_line(workshop, trial)
    assert line["state"] == "not met"
    assert answer != "fit"
    assert "is let pass" in line["says"]


def test_an_expansion_trial_at_which_nothing_was_measured_is_not_fit(workshop: Workshop) -> None:
    trial = held(workshop, **MEASURED)
    let_go(workshop, trial)
    workshop.post(f"/trials/{trial}/judge")
    answer, line = set_line(workshop, trial)
    assert (line["state"], line["asked"]) == ("not known", True)
    assert answer != "fit"


def test_a_proofs_own_strokes_are_its_water_in(workshop: Workshop) -> None:
    trial = workshop.ready(pump={"stroke": "12 mL", "maximum": "40 bar"})
    assert workshop.get(f"/trials/{trial}/bench")["expansion"]["judged"] is None
    run(workshop, trial)
    workshop.step(trial, "strokes", count=14)
    let_go(workshop, trial)
    bench = measure(workshop, trial, "water-back", "1", "165 mL")
    told = bench["expansion"]
    assert told["counted"] == pytest.approx(told["strokes"] * 12e-6)
    assert told["judged"]["total"]["low"] < told["judged"]["total"]["estimate"]
    assert any("stroke is not known well enough" in way for way in told["judged"]["settle_it"])
    workshop.post(f"/trials/{trial}/judge")
    assert workshop.get(f"/trials/{trial}/judge")["expansion"]["answer"] == told["judged"]["answer"]


def test_what_was_measured_before_it_went_back_is_not_of_the_next_raising(workshop: Workshop) -> None:
    trial = workshop.ready(**MEASURED)
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    measure(workshop, trial, "girth", "1 before", "1170 mm")
    workshop.step(trial, "vent-shut")
    workshop.read(trial, "6 bar")
    measure(workshop, trial, "water-in", "1", "80 mL")
    workshop.step(trial, "gone-back", to=0, vent=False, why="a hose came off")
    workshop.read(trial, "6 bar")
    bench = measure(workshop, trial, "water-back", "1", "79 mL")
    assert bench["expansion"]["judged"]["ratio"] is None  # 80 mL were of the raising before
    assert bench["expansion"]["judged"]["answer"] == "cannot-tell"
    bench = measure(workshop, trial, "girth", "1 after", "1170 mm")
    assert bench["expansion"]["judged"]["girths"][0]["permanent"] == 0.0  # but the girth before it all stands


def test_girths_are_taken_at_marked_places_before_and_after(workshop: Workshop) -> None:
    marks = [{"name": "near the seam", "along": "100 mm"}, {"name": "middle"}]
    trial = workshop.ready(**{**MEASURED, "expansion": {"tape": "0.2 mm", "marks": marks}})
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    assert workshop.get(f"/trials/{trial}/bench")["expansion"]["marks"] == ["near the seam", "middle"]
    measure(workshop, trial, "girth", "1 before", "1170 mm")
    measure(workshop, trial, "girth", "2 before", "1170.4 mm")
    assert "no girth of the same place" in measure(workshop, trial, "girth", "1 after", "117 mm", 409)["says"]
    measure(workshop, trial, "girth", "1 after", "1170 mm")
    assert (
        workshop.get(f"/trials/{trial}/bench")["expansion"]["judged"]["answer"] == "cannot-tell"
    )  # nothing pumped yet
    workshop.step(trial, "vent-shut")
    workshop.read(trial, "6 bar")
    bench = measure(workshop, trial, "girth", "2 after", "1173.4 mm")
    assert bench["expansion"]["judged"]["answer"] == "not met"
    assert "“middle”" in bench["expansion"]["judged"]["says"]


@pytest.mark.parametrize(
    ("what", "place", "text", "says"),
    [
        ("water-in", "1", "-5 mL", "Say how much"),
        ("water-in", "1", "5 bar", "volume"),
        ("water-in", "2", "5 mL", "no place"),
        ("girth", "9 before", "1 m", "no place"),
        ("lift", "1", "5 bar", "no such instrument"),
        ("water-in", "1", "", "Say"),
    ],
)
def test_what_cannot_be_is_refused_and_nothing_is_lost(
    workshop: Workshop, what: str, place: str, text: str, says: str
) -> None:
    trial = held(workshop, **MEASURED)
    refusal = measure(workshop, trial, what, place, text, (409, 422))
    assert says in refusal["says"]
    assert workshop.get(f"/trials/{trial}/bench")["expansion"]["judged"]["answer"] == "cannot-tell"


def test_under_air_nothing_of_it_is_offered(workshop: Workshop) -> None:
    trial = workshop.ready(
        procedure="tightness",
        medium="air",
        basis=None,
        tight_at="20 mbar",
        acceptance={"max_drop": "2 mbar", "over": "30 min"},
    )
    bench = workshop.get(f"/trials/{trial}/bench")
    assert bench["expansion"] is None
    assert "expansion" not in bench["instruments"]


def test_two_proofs_that_each_keep_a_little_are_weighed_together(workshop: Workshop) -> None:
    """Of 160 mL it keeps 8 each time: less than a tenth by itself, and it goes on growing."""
    first = held(workshop, **MEASURED)
    measure(workshop, first, "water-in", "1", "160 mL")
    let_go(workshop, first)
    measure(workshop, first, "water-back", "1", "155 mL")
    workshop.post(f"/trials/{first}/judge")
    _, line = set_line(workshop, first)
    assert line["state"] != "not met", line
    closed = workshop.post(
        f"/trials/{first}/decision", {"fitness": "limited", "pressure": "4 bar", "reason": "as a trial"}
    )
    again = workshop.post(f"/vessels/{closed['vessel_id']}/trials", {"copy": first})
    second = workshop.post(f"/trials/{again['id']}/freeze")["id"]
    run(workshop, second)
    measure(workshop, second, "water-in", "1", "160 mL")
    let_go(workshop, second)
    bench = measure(workshop, second, "water-back", "1", "155 mL")
    assert bench["expansion"]["judged"]["answer"] == "not met"
    workshop.post(f"/trials/{second}/judge")
    answer, line = set_line(workshop, second)
    assert (answer, line["state"]) == ("not fit", "not met")
    assert f"in trial {closed['number']}" in line["says"]

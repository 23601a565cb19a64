"""A design, its articles taken to failure, a flight article that inherits it, and one that departs."""

from typing import Any

import pytest

from tests.server.conftest import Workshop, rewind

SHELL: dict[str, Any] = {
    "form": "cylinder",
    "inside_diameter": "54 mm",
    "length": "420 mm",
    "wall": "2.4 mm",
    "wall_measured": True,
    "material": "aluminium-6061",
    "welded": False,
}
CASE: dict[str, Any] = {
    "kind": "chamber",
    "working_pressure": "60 bar",
    "shell": SHELL,
    "ends": [{"form": "flat", "wall": "20 mm"}] * 2,
    "design": "Plover 54",
    "closure": "radial screws",
}
DESIGN = {
    "wanted": "60 bar",
    "asked": 2.0,
    "inside_diameter": "54 mm",
    "wall": "2.4 mm",
    "material": "aluminium-6061",
    "closure": "radial screws",
}
KIT: dict[str, Any] = {
    "basis": "burst",
    "water_temperature": "16 degC",
    "gauge": {"range": "600 bar", "division": "5 bar", "calibrated": "2026-06-01"},
    "pump": {"stroke": "0.3 mL", "maximum": "700 bar"},
    "pause": "0 s",
}


def hung(workshop: Workshop, name: str = "Plover 54") -> str:
    return str(workshop.post("/kit", {"kind": "design", "name": name, "sheet": DESIGN})["id"])


def chamber(workshop: Workshop, name: str, **changes: Any) -> str:
    shell = {**SHELL, **changes.pop("shell", {})}
    return str(workshop.post("/vessels", {"name": name, "sheet": {**CASE, "shell": shell, **changes}})["id"])


def begun(workshop: Workshop, vessel: str, source: str = "dial") -> str:
    plan = workshop.post(f"/vessels/{vessel}/trials", {"basis": "burst"})
    plan = workshop.put(f"/trials/{plan['id']}/plan", {"sheet": {**plan["sheet"], **KIT}, "version": plan["version"]})
    assert plan["answer"]["procedure"] == "burst"
    workshop.post(f"/trials/{plan['id']}/freeze")
    workshop.post(f"/trials/{plan['id']}/start", {"source": source})
    workshop.step(plan["id"], "vent-shut")
    return str(plan["id"])


def burst(workshop: Workshop, name: str, at: float) -> str:
    """An article raised till it split at so many bar, and decided."""
    vessel = chamber(workshop, name)
    trial = begun(workshop, vessel)
    for bar in (60, 150, at):
        rewind(trial, 60)
        workshop.read(trial, f"{bar} bar")
        if bar == 150:
            workshop.step(trial, "observed", what="noise", place="1", word="crack")
    workshop.step(trial, "observed", what="failure", place="middle", word="hoop split")
    workshop.step(trial, "tried")
    workshop.step(trial, "released")
    advice = workshop.get(f"/trials/{trial}/judge")["advice"]
    assert advice["answer"] == "not fit"
    workshop.post(f"/trials/{trial}/decision", {"fitness": "not fit", "reason": "split along its middle"})
    return trial


def design_line(workshop: Workshop, vessel: str) -> Any:
    return next(one for one in workshop.get(f"/vessels/{vessel}/ledger")["lines"] if one["code"] == "design")


def test_three_articles_prove_a_design_that_a_flight_article_inherits_and_one_that_departs_does_not(
    workshop: Workshop,
) -> None:
    kit = hung(workshop)
    flight = chamber(workshop, "Plover flight")
    assert design_line(workshop, flight)["state"] == "not known"
    trials = [burst(workshop, f"Article {n}", at) for n, at in enumerate((292, 288, 290), 1)]
    told = workshop.get(f"/kit/{kit}/proved")
    assert told["answer"] == "met"
    assert len(told["articles"]) == 3
    assert told["factor"] == pytest.approx(290 * (1 - 2.2313 * 0.06) / 60, rel=2e-3)
    judged = workshop.get(f"/trials/{trials[-1]}/judge")["burst"]
    assert [one["name"] for one in judged["articles"]] == [f"Article {n}" for n in (1, 2, 3)]
    assert judged["articles"][0]["mode"] == "hoop split"
    assert design_line(workshop, flight)["state"] == "met"
    changed = {"kind": "design", "name": "Plover 54", "sheet": {**DESIGN, "wall": "2.0 mm"}, "notes": "", "version": 1}
    version = next(one["version"] for one in workshop.get("/kit") if one["id"] == kit)
    refused = workshop.put(f"/kit/{kit}", {**changed, "version": version}, 422)
    assert "new version" in refused["says"], refused  # what was burst stays as it is
    wide = chamber(workshop, "Plover wide", shell={"inside_diameter": "70 mm"})
    line = design_line(workshop, wide)
    assert line["state"] == "voided"
    assert "+30%" in line["says"]


def test_an_article_that_was_burst_is_spent(workshop: Workshop) -> None:
    hung(workshop)
    trial = burst(workshop, "Article 1", 290)
    vessel = workshop.get(f"/trials/{trial}/judge")["vessel_id"]
    ledger = workshop.get(f"/vessels/{vessel}/ledger")
    assert ledger["answer"] == "not fit"
    assert ledger["pressure"] is None
    happened = workshop.get(f"/vessels/{vessel}/happened")
    assert any("to failure" in one["text"] for one in happened)


def test_what_was_heard_and_seen_stands_at_the_pressure_that_was_read(workshop: Workshop) -> None:
    hung(workshop)
    trial = begun(workshop, chamber(workshop, "Article 1"))
    assert "no pressure" in workshop.step(trial, "observed", (409, 422), what="noise", place="1", word="crack")["says"]
    workshop.read(trial, "180 bar")
    workshop.step(trial, "observed", what="noise", place="1", word="crack")
    workshop.step(trial, "observed", what="first-leak", place="1", word="weep")
    refused = workshop.step(
        trial, "observed", (409, 422), what="failure", place="middle", word="hoop split", text="9000 bar"
    )
    assert "Check the unit" in refused["says"]
    bench = workshop.step(trial, "observed", what="failure", place="closure", word="end off", text="182 bar")
    [own] = bench["burst"]["articles"]
    assert own["counts"] == pytest.approx(182e5)
    assert (own["mode"], own["place"]) == ("end off", "closure")
    assert "heard: crack" in [one["says"] for one in bench["log"]]
    seen = {one["what"]: one["pressure"] for one in bench["observed"] if one["what"] in ("noise", "first-leak")}
    assert seen == {"noise": pytest.approx(180e5), "first-leak": pytest.approx(180e5)}


def test_practice_proves_no_design(workshop: Workshop) -> None:
    kit = hung(workshop)
    trial = begun(workshop, chamber(workshop, "Article 1"), source="rig")
    for _ in range(60):
        workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": 5}, status=(200, 201, 409))
        rewind(trial, 60)
        bench = workshop.get(f"/trials/{trial}/bench")
        if bench["rig"]["burst"]:
            break
    assert bench["rig"]["burst"], "a simulated article bursts about where it is expected to"
    workshop.step(trial, "observed", what="failure", place="middle", word="hoop split")
    workshop.step(trial, "tried")
    assert workshop.get(f"/kit/{kit}/proved")["articles"] == []


def test_only_a_design_is_asked_what_it_proved(workshop: Workshop) -> None:
    gauge = workshop.post("/kit", {"kind": "gauge", "name": "Big", "sheet": {"range": "600 bar"}})
    assert "design" in workshop.get(f"/kit/{gauge['id']}/proved", status=409)["says"]


def test_a_vessel_of_a_design_that_does_not_hang_there_is_told_so(workshop: Workshop) -> None:
    line = design_line(workshop, chamber(workshop, "Lone case", design="Nowhere 54"))
    assert line["state"] == "not known"
    assert "Nowhere 54" in line["says"]

"""The report on paper: two pages or all of it, with every figure of the decision, its own type, and nothing that a
certificate would say.
"""

import datetime
import io
import re
from typing import Any

import pytest
from pypdf import PdfReader

from tests.server.conftest import Workshop, held, running
from tests.server.test_attachments import paper, picture, post
from toadbell.records.paper.charts import ticks
from toadbell.records.paper.style import SIGNS, marked
from toadbell.trials.models import Trial


def printed(workshop: Workshop, trial: str, how: str = "") -> PdfReader:
    answer = workshop.client.get(f"/api/records/{trial}/report.pdf{how}")
    assert answer.status_code == 200, answer.content
    assert answer["Content-Type"] == "application/pdf"
    return PdfReader(io.BytesIO(answer.content))


def words(pdf: PdfReader) -> str:
    return re.sub(r"\s+", " ", " ".join(page.extract_text() for page in pdf.pages))


def decided(workshop: Workshop, pressure: str = "8.5 bar", **more: Any) -> str:
    trial = held(workshop, drop=0.1, **more)
    workshop.post(f"/trials/{trial}/judge")
    workshop.post(
        f"/trials/{trial}/decision",
        {"fitness": "fit", "pressure": pressure, "reason": "Dry all round; <b>Maren</b> & I looked."},
    )
    return trial


@pytest.mark.parametrize(("paper_size", "wide", "tall"), [("A4", 595.3, 841.9), ("Letter", 612, 792)])
def test_the_short_form_is_two_pages_of_the_paper_asked_for(
    workshop: Workshop, paper_size: str, wide: float, tall: float
) -> None:
    pdf = printed(workshop, decided(workshop), f"?paper={paper_size}")
    assert len(pdf.pages) == 2
    assert (float(pdf.pages[0].mediabox.width), float(pdf.pages[0].mediabox.height)) == (
        pytest.approx(wide, abs=0.1),
        pytest.approx(tall, abs=0.1),
    )


def test_it_holds_every_figure_of_the_decision_and_says_what_it_is_not(workshop: Workshop) -> None:
    trial = decided(workshop)
    judged, text = workshop.get(f"/trials/{trial}/judge"), words(printed(workshop, trial))
    dates = [datetime.date.fromisoformat(one["on"]) for one in judged["advice"]["next_dates"] if one["on"]]
    wanted = [
        "fit, for no more than 8.5 bar",
        "set at no more than 8.5 bar",
        "Dry all round; <b>Maren</b> & I looked.",
        judged["verdict"]["says"],
        f"trial {trial}",
        "Owner",
        "12.75 bar",
        "0.1 bar",
        *(f"{day.day} {day.strftime('%B %Y')}" for day in dates),
    ]
    assert [one for one in wanted if one not in text] == []
    assert text.count("Own-use record. Not a certificate.") == 2
    assert all(line["name"] in text for line in judged["advice"]["evidence"])


def test_a_decision_that_goes_further_than_the_evidence_is_marked_on_paper(workshop: Workshop) -> None:
    trial = held(workshop, minutes=10)
    workshop.post(f"/trials/{trial}/judge")
    workshop.post(
        f"/trials/{trial}/decision", {"fitness": "fit", "pressure": "8 bar", "reason": "Proved last week at the club."}
    )
    assert "The decision goes further than the evidence." in words(printed(workshop, trial))


def test_the_full_form_adds_lines_openings_log_and_pictures(workshop: Workshop) -> None:
    trial = decided(workshop, fittings=[{"name": "Drain bush", "fitted": "drain", "for_test": "pump"}])
    vessel = workshop.get(f"/trials/{trial}/judge")["vessel_id"]
    post(workshop, f"/vessels/{vessel}/attachments", "plate.jpg", picture((80, 60)), text="The plate")
    post(workshop, f"/vessels/{vessel}/attachments", "paper.pdf", paper(), text="Maker's paper")
    pdf = printed(workshop, trial, "?full=true")
    text = words(pdf)
    for wanted in (
        "Lines of the plan",
        "Lines of the hold",
        "The log",
        "hold ended",
        "Drain bush",
        "The plate",
        "Maker's paper",
        "Cautions",
    ):
        assert wanted in text
    assert f"page {len(pdf.pages)} of {len(pdf.pages)}" in text


def test_its_type_is_in_it(workshop: Workshop) -> None:
    pdf = printed(workshop, decided(workshop), "?full=true")
    fonts = [font.get_object() for page in pdf.pages for font in page["/Resources"]["/Font"].values()]  # type: ignore[index,union-attr]
    used = {
        str(font["/BaseFont"]).split("+")[-1]: "/FontDescriptor" in font and "/FontFile2" in font["/FontDescriptor"]
        for font in fonts
    }
    assert len(used) >= 4
    assert [name for name, embedded in used.items() if not embedded and name != "/Helvetica"] == []


def test_its_figures_are_in_the_persons_units(workshop: Workshop) -> None:
    trial = decided(workshop)
    workshop.put("/me", {"units": "imperial"})
    assert "set at no more than 123.3 psi" in words(printed(workshop, trial))


def test_what_was_dumped_has_its_report_with_the_leak_and_no_hold(workshop: Workshop) -> None:
    trial = running(workshop)
    workshop.step(
        trial, "leak", owner="boundary", where="lower seam, “by” the foot", shows="weep", pin={"x": 0.2, "v": -0.1}
    )
    workshop.step(trial, "dumped")
    text = words(printed(workshop, trial))
    assert "lower seam, “by” the foot, of the vessel itself, weep" in text
    assert "No hold was judged" in text
    assert "No zero was read after that" in text
    assert "Not decided" in text


def test_a_very_long_reason_and_many_leaks_still_stand_on_two_pages(workshop: Workshop) -> None:
    trial = held(workshop)
    found = Trial.objects.get(pk=trial)
    for number in range(12):
        found.log(
            "leak", found.planned_by, owner="rig", where=f"union {number} " + "by the long wall " * 6, shows="weep"
        )
    workshop.post(f"/trials/{trial}/judge")
    workshop.post(f"/trials/{trial}/decision", {"fitness": "not fit", "reason": "It would not do. " * 120})
    pdf = printed(workshop, trial)
    assert len(pdf.pages) == 2
    assert words(pdf).count("It would not do.") == 120


@pytest.mark.parametrize("chart", ["run", "hold"])
def test_the_charts_go_out_as_drawings_without_scripts(workshop: Workshop, chart: str) -> None:
    answer = workshop.client.get(f"/api/records/{decided(workshop)}/{chart}.svg")
    assert answer["Content-Type"].startswith("image/svg+xml")
    text = answer.content.decode()
    assert "<script" not in text
    assert "bar" in text
    assert "polyline" in text.lower()


def test_a_low_head_is_drawn_in_millibar(workshop: Workshop) -> None:
    low = {
        "kind": "digester",
        "working_pressure": "22 mbar",
        "plate_pressure": None,
        "basis": "gas-head",
        "medium": "air",
        "shell": None,
        "ends": [],
        "box": {"diameter": "570 mm", "height": "820 mm"},
        "gauge": {"range": "100 mbar", "division": "2 mbar"},
        "acceptance": {"max_drop": "3 mbar", "over": "30 min"},
    }
    trial = workshop.ready(**low)
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    workshop.read(trial, "8 mbar")
    assert "mbar" in workshop.client.get(f"/api/records/{trial}/run.svg").content.decode()


def test_a_plan_that_is_not_frozen_has_no_report_and_says_so(workshop: Workshop) -> None:
    trial = workshop.planned()["id"]
    answer = workshop.client.get(f"/api/records/{trial}/report.pdf")
    assert (answer.status_code, "Freeze" in answer.json()["says"]) == (409, True)


def test_signs_that_the_face_lacks_are_set_in_one_that_has_them() -> None:
    assert (
        marked("P_t ≤ 12 & σ") == f'P<sub>t</sub> <font name="{SIGNS}">≤</font> 12 &amp; <font name="{SIGNS}">σ</font>'
    )


@pytest.mark.parametrize(
    ("low", "high", "about", "found"),
    [
        (0, 10, 5, [0, 2, 4, 6, 8, 10]),
        (12.4, 12.8, 4, [12.4, 12.5, 12.6, 12.7, 12.8]),
        (0, 0.022, 4, [0, 0.01, 0.02]),
        (3, 3, 4, [3]),
    ],
)
def test_level_lines_stand_at_round_figures(low: float, high: float, about: int, found: list[float]) -> None:
    assert ticks(low, high, about) == pytest.approx(found)

"""Soap over every seam and fitting: which sections there are, what each showed, and what that proves."""

import datetime
import json
import uuid
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.core.test_tightness import TIGHT
from toadbell.core.cli import main
from toadbell.core.ledger.fitness import fitness
from toadbell.core.procedures import PROCEDURES
from toadbell.core.run import carried
from toadbell.core.run.observed import observed
from toadbell.core.sheets import read_vessel_sheet
from toadbell.core.vessel.sections import Section, sections_of
from toadbell.core.vessel.soap import GRADES, LEAKS, SoapMap, soap_map

NOON = datetime.datetime(2026, 5, 2, 12, tzinfo=datetime.UTC)
LOW: dict[str, Any] = {"working_pressure": "50 mbar"}
FORMS: dict[str, dict[str, Any]] = {
    "cylinder": {
        "shell": {"form": "cylinder", "inside_diameter": "366 mm", "length": "800 mm", "wall": "3 mm"},
        "ends": [{"form": "ellipsoidal", "wall": "3 mm"}] * 2,
    },
    "sphere": {"shell": {"form": "sphere", "inside_diameter": "366 mm", "wall": "3 mm"}},
    "box": {"box": {"length": "400 mm", "width": "300 mm", "height": "200 mm"}},
    "drum": {"box": {"diameter": "570 mm", "height": "820 mm"}},
    "cask": {"cask": {"bilge": "400 mm", "head": "340 mm", "length": "520 mm"}},
    "unknown": {"volume": "3 L"},
}


@dataclass
class Entry:
    kind: str
    data: dict[str, Any]
    at: datetime.datetime = NOON
    id: uuid.UUID = field(default_factory=uuid.uuid4)


def soap(place: str, word: str, pressure: float | None = 3000.0) -> Entry:
    return Entry("observed", {"what": "soap", "place": place, "word": word, "pressure": pressure})


@pytest.mark.parametrize("form", FORMS)
def test_every_form_is_walked_from_the_rigs_own_joints_to_the_seams_each_at_its_place(form: str) -> None:
    sheet = read_vessel_sheet({"kind": "sheet-tank", **LOW, **FORMS[form]})
    found = sections_of(sheet)
    assert found[0].owner == "rig"
    assert found[-1].owner == "boundary"
    assert len({one.id for one in found}) == len({one.name for one in found}) == len(found) >= 2
    seams = [one for one in found if one.owner == "boundary"]
    assert all((one.x is None) == (form == "unknown") for one in seams)


def test_an_opening_is_the_rigs_where_it_is_closed_for_the_test_and_a_fittings_where_it_stays() -> None:
    place = {"on": "top", "along": "50 mm"}
    openings = [
        {"name": "Tap", "for_test": "keep", "place": place},
        {"name": "Breather", "for_test": "blank", "place": {"on": "side", "up": "30 mm"}},
    ]
    sheet = read_vessel_sheet({"kind": "sheet-tank", **LOW, **FORMS["box"], "fittings": openings})
    owners = {one.id: (one.owner, one.x is not None) for one in sections_of(sheet)}
    assert owners["opening Tap"] == ("fitting", True)
    assert owners["opening Breather"] == ("rig", True)


def test_what_leaked_at_more_pressure_is_not_dry_at_less() -> None:
    leaked = soap("a", "bubbles", 5000.0)
    for less in (soap("a", "dry", 1000.0), soap("a", "still foam", None)):
        assert observed([leaked, less], "soap")["a"].word == "bubbles"
    still = observed([leaked, soap("a", "drip", 1000.0), soap("a", "dry", 1000.0)], "soap")["a"]
    assert still.word == "drip", "that it is dry at 1000 Pa says nothing of 5000"
    assert observed([leaked, soap("a", "dry", 4900.0)], "soap")["a"].word == "dry"
    back = Entry("gone-back", {"to": 0, "vent": False})
    assert observed([leaked, back, soap("a", "dry", 1000.0)], "soap")["a"].word == "bubbles"


@pytest.mark.parametrize("pressure", [None, 0.0])
def test_a_section_found_dry_at_no_pressure_was_not_looked_at(pressure: float | None) -> None:
    sections = sections_of(read_vessel_sheet({"kind": "sheet-tank", **LOW, **FORMS["box"]}))
    marks = observed([soap(one.id, "dry", pressure if n == 0 else 5000.0) for n, one in enumerate(sections)], "soap")
    found = soap_map(sections, marks)
    assert found.unmarked == (str(sections[0].name),)
    assert found.least == 5000.0


def test_the_last_mark_of_a_section_counts_and_what_was_dry_is_looked_at_again_after_the_pressure_was_let_go() -> None:
    marks = observed([soap("a", "bubbles"), soap("a", "dry"), soap("b", "drip"), soap("c", "still foam")], "soap")
    assert {place: one.word for place, one in marks.items()} == {"a": "dry", "b": "drip", "c": "still foam"}
    back = Entry("gone-back", {"to": 0, "vent": False})
    assert set(observed([soap("a", "dry"), soap("b", "drip"), back], "soap")) == {"b"}
    down_a_stage = Entry("gone-back", {"to": 1, "vent": False})
    assert set(observed([soap("a", "dry"), soap("b", "drip"), down_a_stage], "soap")) == {"a", "b"}
    assert observed([soap("b", "drip"), back, soap("b", "dry")], "soap")["b"].word == "dry"


SECTIONS = [
    Section("rig", "Hose", "rig"),
    Section("tap", "Tap", "fitting"),
    Section("seam", "Bottom seam", "boundary"),
]


def seen(**words: str) -> SoapMap:
    return soap_map(SECTIONS, observed([soap(place, word, 8e4) for place, word in words.items()], "soap"))


@pytest.mark.parametrize(
    ("words", "state", "says"),
    [
        ({"rig": "dry", "tap": "still foam", "seam": "dry"}, "met", "3 sections, none leaks, at"),
        ({"rig": "dry"}, "not known", "1 of 3 sections marked; not: tap and bottom seam"),
        ({}, "not known", "no section was marked"),
        ({"rig": "dry", "seam": "growing foam"}, "not met", "Bottom seam, growing foam"),
    ],
)
def test_the_line_of_the_evidence_says_what_was_marked_and_what_was_not(words: dict, state: str, says: str) -> None:
    line = next(one for one in fitness(replace(TIGHT, soap=seen(**words))).evidence if one.code == "soap")
    assert line.state == state
    assert says in line.says


def test_a_tight_hold_that_was_not_soaped_all_round_says_so_beside_its_tag() -> None:
    found = fitness(replace(TIGHT, soap=seen(rig="dry")))
    assert found.answer == "tight"
    assert "Not soaped all round" in found.says
    whole = fitness(replace(TIGHT, soap=seen(rig="dry", tap="dry", seam="dry")))
    assert "Not soaped" not in whole.says
    low = soap_map(SECTIONS, observed([soap(place, "dry") for place in ("rig", "tap", "seam")], "soap"))
    soaped_low = fitness(replace(TIGHT, soap=low))  # at 30 mbar, and 0.8 bar is to be tight
    assert next(one.state for one in soaped_low.evidence if one.code == "soap") == "not known"
    assert "at 0.03 bar" in soaped_low.says


@given(st.dictionaries(st.sampled_from(["rig", "tap", "seam"]), st.sampled_from(GRADES)))
def test_foam_that_grows_is_whose_it_is_and_foam_that_stands_is_none(words: dict[str, str]) -> None:
    """On the boundary it fails the vessel; at a thread it fails the rig or the fitting (procedures, tightness)."""
    told = seen(**words)
    for place, owner in (("rig", "rig"), ("tap", "fitting"), ("seam", "boundary")):
        assert (told.leak_of(owner) is not None) == (words.get(place) in LEAKS)
    found = fitness(
        replace(
            TIGHT,
            soap=told,
            boundary_leak=told.leak_of("boundary"),
            fitting_leak=told.leak_of("fitting"),
            rig_leak=told.leak_of("rig"),
        )
    )
    leaks = {place for place, word in words.items() if word in LEAKS}
    assert found.answer == ("not fit" if "seam" in leaks else "not proven" if leaks else "tight")


@pytest.mark.parametrize(
    "data",
    [
        {"what": "thumb", "place": "rig", "word": "dry"},
        {"what": "soap", "place": "", "word": "dry"},
        {"what": "soap", "place": "rig", "word": "fine"},
        {"what": "soap", "place": "rig", "value": 3},
    ],
)
def test_what_no_instrument_shows_is_refused(data: dict) -> None:
    with pytest.raises(ValidationError):
        carried.ObservedAt.model_validate(data)


DEMO = Path(__file__).parents[2] / "demo" / "soap.json"


def test_the_command_line_judges_a_soap_map(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    assert main(["judge", str(DEMO)]) == 0
    assert capsys.readouterr().out.strip() == "Leaking: bottom seam, bubbles."
    told = json.loads(DEMO.read_text())
    mended = {**told, "soap": [*told["soap"], {"section": "bottom seam", "shows": "dry", "pressure": "50 mbar"}]}
    (tmp_path / "soap.json").write_text(json.dumps(mended))
    assert main(["judge", str(tmp_path / "soap.json"), "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert (answer["verdict"], answer["fails"], answer["unmarked"]) == ("cannot-tell", False, ["Top seam, lid"])
    whole = {**mended, "soap": [*mended["soap"], {"section": "top-seam", "shows": "dry", "pressure": "50 mbar"}]}
    (tmp_path / "soap.json").write_text(json.dumps(whole))
    assert main(["judge", str(tmp_path / "soap.json"), "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["verdict"] == "tight"


@pytest.mark.parametrize(
    ("mark", "says"),
    [
        ({"section": "handle", "shows": "dry"}, "no section of this vessel"),
        ({"section": "rig", "shows": "fine"}, "soap"),
        ({"section": "rig", "shows": "dry", "pressure": "0.3"}, "pressure"),
    ],
)
def test_a_soap_map_that_cannot_be_read_is_refused_by_name(
    mark: dict, says: str, capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    (tmp_path / "soap.json").write_text(json.dumps({**json.loads(DEMO.read_text()), "soap": [mark]}))
    assert main(["judge", str(tmp_path / "soap.json")]) == 2
    assert says in capsys.readouterr().err


def test_a_holds_log_without_its_sheet_is_asked_for_it(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    (tmp_path / "hold.csv").write_text("elapsed [s],pressure [bar]\n0,1\n")
    assert main(["judge", str(tmp_path / "hold.csv")]) == 2
    assert "--sheet" in capsys.readouterr().err


def test_soap_is_the_tightness_trials_instrument_and_a_tank_is_made_free_of_gas_before_it() -> None:
    assert PROCEDURES["tightness"].instruments == ["soap"]
    assert PROCEDURES["tightness"].before == {"sheet-tank": ("gas-free",), "cask": ("swelled",)}
    assert "soap" not in PROCEDURES["proof"].instruments

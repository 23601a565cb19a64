"""The records room: found again, held against each other, carried away and brought back, backed up, and kept on
time.
"""

import datetime
import io
import re
import zipfile
from pathlib import Path

import pytest
from django.conf import settings
from django.utils import timezone
from playwright.sync_api import Page, expect

from tests.browser.conftest import SHEET, Server
from tests.server.test_attachments import picture
from tests.server.test_packages import counts, wipe
from tests.wharf import hang_up_the_wharf
from toadbell.records import due, kept_answers, package
from toadbell.records.models import Attachment
from toadbell.shed.models import Care, Maker, Vessel
from toadbell.trials.models import Trial


@pytest.fixture
def wharf(shop: Page, server: Server) -> Page:
    """The demo workshop, in its logbook."""
    hang_up_the_wharf()
    shop.goto(f"{server.url}/records")
    expect(shop.get_by_role("list", name="Trials").get_by_role("listitem")).to_have_count(30)
    return shop


WHOLE_WORKSHOP = 90_000
"""A whole workshop is read, on a machine that is busy with other tests, ms."""


def test_a_trial_is_found_by_words_vessel_year_and_tag_and_the_address_keeps_it(wharf: Page) -> None:
    found = wharf.get_by_role("list", name="Trials").get_by_role("listitem")
    wharf.keyboard.press("/")
    wharf.keyboard.type("drain bush")
    expect(found).to_have_count(3)  # the leak itself, and two more trials of the vessel whose notes tell of it
    expect(found.filter(has_text="second")).to_contain_text("Drain bush leaked")
    wharf.get_by_label("Tag").select_option("not proven")
    expect(found).to_have_count(1)
    wharf.reload()
    expect(found).to_have_count(1)
    expect(wharf.get_by_label("Words in the record")).to_have_value("drain bush")
    wharf.get_by_label("Year").select_option("2023")
    expect(wharf.get_by_text("None of the 30 trials answers to all of that.")).to_be_visible()
    wharf.get_by_role("button", name="Show them all").click()
    expect(found).to_have_count(30)
    expect(wharf.get_by_label("Words in the record")).to_have_value("")
    wharf.get_by_label("Kind").select_option("cask")
    expect(found).to_have_count(2)


def test_two_trials_of_one_vessel_are_held_against_each_other_by_keys(wharf: Page) -> None:
    wharf.get_by_label("Compare Wharf receiver, third trial").focus()
    wharf.keyboard.press("Space")
    expect(wharf.get_by_label("Compare Perry tank, first trial")).to_be_disabled()
    wharf.get_by_label("Compare Wharf receiver, first trial").focus()
    wharf.keyboard.press("Space")
    wharf.get_by_role("heading", name="Logbook").click()
    wharf.keyboard.press("c")
    expect(wharf.get_by_test_id("trend")).to_contain_text(
        "It is getting worse. The thinnest wall went from 2.7 mm to 2.6 mm."
    )
    expect(wharf.get_by_role("img", name=re.compile("The hold over"))).to_contain_text("trial 1, laid over")
    expect(wharf.get_by_role("row", name=re.compile("Give under pressure"))).to_contain_text("mL/bar")
    second = wharf.get_by_label("Earlier").locator("option").nth(1).inner_text()
    wharf.get_by_label("Earlier").select_option(label=second)
    expect(wharf.get_by_text("The earlier trial has no judged hold to lay over it.")).to_be_visible()
    expect(wharf.get_by_test_id("trend")).not_to_contain_text("It is getting worse. The leak")


def test_records_go_out_and_come_back_into_an_empty_workshop_once(wharf: Page, server: Server, tmp_path: Path) -> None:
    wharf.get_by_role("link", name="Carry and keep").click()
    with wharf.expect_download() as download:
        wharf.get_by_role("button", name="All records as a zip").click()
    file = tmp_path / download.value.suggested_filename
    download.value.save_as(file)
    full = counts()
    wipe()
    wharf.goto(server.url)
    expect(wharf.get_by_role("heading", name="Hang up your first vessel")).to_be_visible()
    wharf.get_by_role("link", name="Bring them back").click()
    wharf.get_by_label("File to bring back").set_input_files(file)
    looked = wharf.get_by_test_id("package")
    expect(looked).to_contain_text("Wharf receiver, trial 3", timeout=WHOLE_WORKSHOP)
    assert counts()["Vessel"] == 0
    looked.get_by_role("button", name="Take it in").click()
    expect(looked.get_by_role("status")).to_contain_text("Taken in.", timeout=WHOLE_WORKSHOP)
    assert {name: many for name, many in counts().items() if name != "Maker"} == {
        name: many for name, many in full.items() if name != "Maker"
    }
    wharf.get_by_label("File to bring back").set_input_files([])
    wharf.get_by_label("File to bring back").set_input_files(file)
    expect(looked.get_by_role("status")).to_contain_text(
        "All of it is here already. Nothing would change.", timeout=WHOLE_WORKSHOP
    )
    wharf.get_by_role("link", name="Logbook").click()
    expect(wharf.get_by_role("list", name="Trials").get_by_role("listitem")).to_have_count(30)


def test_what_was_looked_at_is_still_there_when_the_server_comes_back(
    shop: Page, server: Server, tmp_path: Path
) -> None:
    Vessel.hang_up(Maker.local_owner(), "Wharf tank", SHEET)
    out = io.BytesIO()
    package.write(out, None, timezone.now())
    (tmp_path / "records.zip").write_bytes(out.getvalue())
    wipe()
    shop.goto(f"{server.url}/records/keep")
    shop.get_by_label("File to bring back").set_input_files(tmp_path / "records.zip")
    take = shop.get_by_role("button", name="Take it in")
    expect(take).to_be_visible()
    server.stop()
    take.click()
    expect(shop.get_by_role("alert")).to_contain_text("The server does not answer")
    server.start()
    take.click()
    expect(shop.get_by_test_id("package").get_by_role("status")).to_contain_text("Taken in.")
    assert Vessel.objects.get().name == "Wharf tank"


def test_a_file_that_means_harm_or_is_none_is_refused_in_words(shop: Page, server: Server, tmp_path: Path) -> None:
    shop.goto(f"{server.url}/records/keep")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as to:
        to.writestr("../../escape.json", "{}")
    for name, data, says in (
        ("records.zip", out.getvalue(), "is no name that belongs in it"),
        ("records.zip", b"not a zip", "it is no zip, or it was cut short"),
        ("tank.csv", b"time,pressure\n", "A logger's file belongs to a run"),
        ("sheet.json", b"{", "cannot be read as JSON"),
        ("sheet.json", b"[1]", "says no kind"),
        ("page.html", b"<script>", "Nothing here reads such a file"),
    ):
        (tmp_path / name).write_bytes(data)
        shop.get_by_label("File to bring back").set_input_files([])
        shop.get_by_label("File to bring back").set_input_files(tmp_path / name)
        expect(shop.get_by_role("alert")).to_contain_text(re.compile(re.escape(says), re.IGNORECASE))


def test_a_vessel_is_hung_up_from_its_sheet_and_a_wrong_one_says_why(
    shop: Page, server: Server, tmp_path: Path
) -> None:
    shop.goto(f"{server.url}/records/keep")
    sheet = (settings.BASE_DIR / "demo" / "skylark" / "vessel.json").read_text()
    (tmp_path / "wrong.json").write_text(sheet.replace('"54 mm"', '"54 apples"', 1))
    (tmp_path / "skylark.json").write_text(sheet)
    shop.get_by_label("File to bring back").set_input_files(tmp_path / "wrong.json")
    shop.get_by_role("button", name="Hang it up").click()
    expect(shop.get_by_role("alert")).to_contain_text("inside_diameter")
    shop.get_by_label("File to bring back").set_input_files(tmp_path / "skylark.json")
    shop.get_by_label(re.compile("Its name")).fill("Skylark the second")
    shop.get_by_role("button", name="Hang it up").click()
    expect(shop.get_by_role("heading", name="Skylark the second")).to_be_visible()


def test_the_workshop_is_backed_up_and_goes_back(shop: Page, server: Server) -> None:
    vessel = Vessel.hang_up(Maker.local_owner(), "Wharf tank", SHEET)
    shop.goto(f"{server.url}/records/keep")
    shop.get_by_role("button", name="Back up now").click()
    expect(shop.get_by_text("asked for")).to_be_visible()
    vessel.change(Maker.local_owner(), "Painted green", SHEET, "", 1)
    shop.get_by_role("button", name="go back to it").click()
    ask = shop.get_by_role("alertdialog", name="Go back")
    expect(ask).to_contain_text("How it is now is backed up first")
    ask.get_by_role("button", name="Leave it").click()
    expect(ask).to_be_hidden()
    shop.get_by_role("button", name="go back to it").click()
    ask.get_by_role("button", name="Go back to it").click()
    expect(shop.get_by_text("by itself, before going back")).to_be_visible(timeout=60_000)
    shop.get_by_role("link", name="Toad Bell, the shed").click()
    expect(shop.get_by_text("Wharf tank")).to_be_visible()


def test_while_a_trial_is_on_the_bench_nothing_goes_back(shop: Page, server: Server, frozen: str) -> None:
    Trial.objects.update(state="running", started_at=timezone.now())
    shop.goto(f"{server.url}/records/keep")
    shop.get_by_role("button", name="Back up now").click()
    shop.get_by_role("button", name="go back to it").click()
    expect(shop.get_by_text("A trial is on the bench: let it end first.")).to_be_visible()
    expect(shop.get_by_role("alertdialog").get_by_role("button", name="Go back to it")).to_be_disabled()


def test_what_is_overdue_stands_on_top_of_the_shed_and_is_ticked_off(wharf: Page, server: Server) -> None:
    vessel = Vessel.objects.get(name="Wharf receiver")
    vessel.sheet["shell"].pop("wall_readings")
    vessel.save()
    Care.objects.filter(vessel=vessel, what="look inside").update(on=datetime.date(2025, 2, 1))
    due.forget()
    kept_answers.forget()
    wharf.goto(server.url)
    strip = wharf.get_by_test_id("overdue")
    expect(strip).to_contain_text("Wharf receiver: look inside, 1 Feb 2026")
    strip.get_by_role("link", name="all that is due").click()
    line = wharf.get_by_role("listitem").filter(has_text="look inside").filter(has_text="Wharf receiver")
    line.get_by_role("button", name="Done").click()
    line.get_by_label("On").fill((timezone.localdate() + datetime.timedelta(days=3)).isoformat())
    line.get_by_role("button", name="Keep it").click()
    expect(line.get_by_role("alert")).to_contain_text("That day is still to come.")
    line.get_by_label("On").fill(timezone.localdate().isoformat())
    line.get_by_label("What was found").fill("A skin of rust")
    line.get_by_role("button", name="Keep it").click()
    expect(line).to_contain_text("last done")
    wharf.get_by_role("link", name="Toad Bell, the shed").click()
    expect(strip).not_to_contain_text("Wharf receiver")


def test_a_picture_hangs_on_an_opening_and_is_taken_down_and_back(shop: Page, server: Server, tmp_path: Path) -> None:
    openings = [{"name": "Drain bush", "fitted": "drain", "place": {"along": "400 mm", "round": "180 deg"}}]
    vessel = Vessel.hang_up(Maker.local_owner(), "Wharf tank", {**SHEET, "fittings": openings})
    (tmp_path / "bush.jpg").write_bytes(picture((300, 200)))
    (tmp_path / "bush.svg").write_text("<svg onload='alert(1)'/>")
    shop.goto(f"{server.url}/vessels/{vessel.pk}")
    kept = shop.get_by_role("region", name="Pictures and papers")
    kept.get_by_role("button", name="Add one").click()
    kept.get_by_label("JPEG, PNG, WebP, or a PDF").set_input_files(tmp_path / "bush.svg")
    kept.get_by_role("button", name="Keep it").click()
    expect(kept.get_by_role("alert")).to_contain_text("no picture that can be read here")
    kept.get_by_label("JPEG, PNG, WebP, or a PDF").set_input_files(tmp_path / "bush.jpg")
    kept.get_by_label("What it shows").fill("Thread, cleaned")
    kept.get_by_label("Of").select_option("Drain bush")
    kept.get_by_role("button", name="Keep it").click()
    shown = kept.get_by_role("img", name="Thread, cleaned")
    expect(shown).to_be_visible()
    assert shown.evaluate("image => image.decode().then(() => image.naturalWidth)") == 300
    assert Attachment.objects.get().opening == "Drain bush"
    kept.get_by_role("button", name="Take down Thread, cleaned").click()
    expect(shown).to_be_hidden()
    kept.get_by_role("button", name="Hang it up again").click()
    expect(shown).to_be_visible()


def test_the_record_shows_its_leaks_pins_and_pictures_and_leads_to_its_files(wharf: Page) -> None:
    wharf.get_by_role("listitem").filter(has_text="Drain bush leaked").get_by_role("link").click()
    record = wharf.get_by_test_id("record")
    mended = "on the test rig, drip. Mended: re-sealed, thread sealant; thread cleaned to the metal."
    expect(record.get_by_text(mended)).to_be_visible()
    expect(record.get_by_role("img", name=re.compile("drain bush weeps"))).to_be_visible()
    expect(record.get_by_text("Test gauge, 25, range 25 bar")).to_contain_text("calibrated 12 Mar 2026")
    for name, kind in (
        ("PDF, two pages", "application/pdf"),
        ("PDF, all of it", "application/pdf"),
        ("Carry it away", "application/zip"),
        ("run as SVG", "image/svg"),
    ):
        href = wharf.get_by_role("link", name=name).get_attribute("href")
        answer = wharf.request.get(f"{wharf.url.split('/records')[0]}{href}")
        assert answer.ok
        assert answer.headers["content-type"].startswith(kind)

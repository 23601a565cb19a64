"""At the bench: a logger that reads, a logger's file taken in, a photo, the bell and its reminders, and the chart by
keys and as a table.
"""

import datetime
import json
import re
import urllib.request
from pathlib import Path

from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.test_bench import at_the_hold, begin, log_reading
from tests.browser.test_vessel_and_kit import AXE
from tests.server.conftest import rewind
from toadbell.records.models import Attachment
from toadbell.trials.models import Finding, Reading, Trial
from toadbell.trials.models.sources import Device


def post(server: Server, token: str, readings: list[dict[str, str]]) -> None:
    """As a small board would."""
    body = json.dumps({"readings": readings}).encode()
    headers = {"Content-Type": "application/json", "Authorization": f"Bearer {token}"}
    with urllib.request.urlopen(urllib.request.Request(f"{server.url}/api/devices/readings", body, headers)) as answer:
        assert answer.status == 201


def test_a_logger_gets_its_token_reads_for_the_run_and_trips_the_guard(shop: Page, server: Server, frozen: str) -> None:
    begin(shop, frozen)
    expect(shop.get_by_test_id("now")).to_have_text(re.compile("Raise to"))
    shop.keyboard.press("j")
    sheet = shop.get_by_role("dialog")
    sheet.get_by_label("A new one is called").fill("tank logger")
    shop.keyboard.press("Enter")
    token = re.search(r"tb_[\w-]+", sheet.get_by_role("status").inner_text())
    assert token is not None
    sheet.get_by_role("button", name="Let it read for this run").click()
    expect(sheet.get_by_role("button", name="Reads for this run")).to_be_visible()
    shop.keyboard.press("Escape")
    post(server, token[0], [{"id": "1", "pressure": "3.25 bar", "temperature": "16.2 degC"}])
    expect(shop.get_by_test_id("pressure")).to_have_text("3.25")
    expect(
        shop.get_by_text("tank logger 0 s ago").or_(shop.get_by_text(re.compile(r"tank logger \d+ s ago")))
    ).to_be_visible()
    post(server, token[0], [{"id": "2", "pressure": "15 bar", "ago": "1 s"}, {"id": "3", "pressure": "12 bar"}])
    expect(shop.get_by_role("alert")).to_contain_text("Overshoot")
    expect(shop.get_by_test_id("pressure")).to_have_text("12.00")
    shop.keyboard.press("j")
    sheet.get_by_role("button", name="Withdraw its token").click()
    expect(sheet.get_by_text("No logger yet")).to_be_visible()
    assert Device.objects.get().taken_away_at is not None


def test_a_loggers_file_is_previewed_put_right_and_taken_in(shop: Page, frozen: str, tmp_path: Path) -> None:
    begin(shop, frozen)
    expect(shop.get_by_test_id("now")).to_have_text(re.compile("Raise to"))
    rows = "".join(f"03/04/2026 10:00:{s:02d};{3 + s / 100:.2f}\n".replace(".", ",") for s in range(40))
    file = tmp_path / "boathouse.csv"
    file.write_text(f"Logger;17\nTime;Druck\n{rows}03/04/2026 10:01:00;none\n")
    shop.keyboard.press("i")
    sheet = shop.get_by_role("dialog")
    sheet.get_by_label("A CSV file").set_input_files(file)
    expect(sheet.get_by_text("In which unit is “Druck”?")).to_be_visible()
    expect(sheet.get_by_text("Is it day or month first?")).to_be_visible()
    expect(sheet.get_by_role("button", name="Take it in")).to_be_disabled()
    sheet.get_by_label("“Druck” is in").select_option("bar")
    sheet.get_by_label("Times are written like").select_option("%d/%m/%Y %H:%M:%S")
    expect(sheet.get_by_text("1 row is left out")).to_be_visible()
    expect(sheet.get_by_text("“none” is no pressure")).to_be_visible()
    sheet.get_by_role("button", name="Take in 40 readings").click()
    expect(shop.get_by_test_id("log").get_by_text("file taken in: boathouse.csv, 40 readings")).to_be_visible()
    first = Reading.objects.order_by("at").first()
    assert first is not None
    assert (first.pressure, first.at.month) == (300_000, 4)


def test_a_photo_is_kept_in_the_log(shop: Page, frozen: str, tmp_path: Path) -> None:
    begin(shop, frozen)
    expect(shop.get_by_test_id("now")).to_have_text(re.compile("Raise to"))
    picture = tmp_path / "plug.png"
    Image.new("RGB", (640, 480), "teal").save(picture)
    shop.keyboard.press("f")
    sheet = shop.get_by_role("dialog")
    sheet.get_by_label("Take one, or choose one").set_input_files(picture)
    sheet.get_by_label("What it shows").fill("plug 2, dry")
    sheet.get_by_role("button", name="Keep it").click()
    shown = shop.get_by_role("img", name="photo: plug 2, dry")
    expect(shown).to_be_visible()
    assert shown.evaluate("async (img) => { await img.decode(); return img.naturalWidth }") == 640


def test_a_photo_of_a_leak_stays_with_that_leak(shop: Page, frozen: str, tmp_path: Path) -> None:
    Image.new("RGB", (60, 40), "teal").save(tmp_path / "leak.png")
    begin(shop, frozen)
    trial = Trial.objects.get()
    leak = trial.log("leak", trial.planned_by, owner="boundary", where="lower seam", shows="weep")
    Finding.from_event(leak)
    shop.reload()
    expect(shop.get_by_role("region", name="Leaks")).to_be_visible()
    shop.keyboard.press("f")
    shop.get_by_label("Take one, or choose one").set_input_files(tmp_path / "leak.png")
    shop.get_by_role("dialog").get_by_label(re.compile("^Of")).select_option(label="leak: lower seam")
    shop.get_by_role("button", name="Keep it").click()
    expect(shop.get_by_role("img", name="photo: lower seam")).to_be_visible()
    assert Attachment.objects.get().event_id == leak.pk


def test_in_a_hold_the_next_reading_is_asked_for_and_the_hold_made_longer(shop: Page, holding: str) -> None:
    at_the_hold(shop, holding)
    expect(shop.get_by_test_id("due")).to_contain_text("next reading in")
    rewind(str(Trial.objects.get().pk), 300)
    expect(shop.get_by_test_id("due")).to_have_text("Read the dial now (R).")
    log_reading(shop, "12.79")
    expect(shop.get_by_test_id("due")).to_contain_text("next reading in")
    expect(shop.get_by_test_id("drop")).to_contain_text("down 0.01 bar since shut-in")
    shop.keyboard.press("x")
    shop.get_by_label("Minutes in all").fill("45")
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("log").get_by_text("hold lengthened to 45 min")).to_be_visible()
    expect(shop.get_by_test_id("countdown")).to_have_text(re.compile(r"^(39|40):"))


def test_bell_and_call_outs_are_switched_and_stay_so(shop: Page, frozen: str) -> None:
    shop.add_init_script(
        "window.said = []; Object.defineProperty(window, 'speechSynthesis', { value: { cancel() {}, speak: (u) => "
        "window.said.push(u.text) } })"
    )
    begin(shop, frozen)
    expect(shop.get_by_test_id("now")).to_have_text(re.compile("Raise to"))
    shop.keyboard.press("c")
    log_reading(shop, "3.2")
    shop.wait_for_function("() => window.said.some((text) => text.includes('3.2 bar'))")
    shop.keyboard.press("q")
    shop.reload()
    expect(shop.get_by_test_id("pressure")).to_have_text("3.20")
    shop.keyboard.press("m")
    expect(shop.get_by_role("button", name="Bell on")).to_be_visible()
    expect(shop.get_by_role("button", name="Call-outs off")).to_be_visible()


def test_a_gap_of_an_hour_and_a_long_log_are_drawn_moved_by_keys_and_read_as_a_table(shop: Page, frozen: str) -> None:
    begin(shop, frozen)
    expect(shop.get_by_test_id("now")).to_have_text(re.compile("Raise to"))
    trial = Trial.objects.get()
    assert trial.started_at is not None
    start = trial.started_at
    rewind(str(trial.pk), 9 * 3600)
    Reading.objects.bulk_create(
        Reading(
            id=f"00000000-0000-7000-8000-{n:012d}",
            trial=trial,
            at=start + datetime.timedelta(seconds=n),
            pressure=3e5 + n,
            source="dial",
        )
        for n in range(28_800)
    )
    expect(shop.get_by_test_id("pressure")).to_have_text("3.29")
    chart = shop.get_by_role("group", name=re.compile("What was read over the planned course"))
    chart.focus()
    before = chart.screenshot()
    for key in ("+", "+", "ArrowRight"):
        shop.keyboard.press(key)
    expect(shop.get_by_role("button", name="show all")).to_be_visible()
    assert chart.screenshot() != before
    shop.keyboard.press("0")
    expect(shop.get_by_role("button", name="show all")).to_be_hidden()
    shop.get_by_role("button", name="as a table").click()
    table = shop.get_by_role("region", name=re.compile("What was read over the planned course"))
    expect(table.get_by_role("row").nth(1)).to_contain_text("7:59:59")
    expect(table).to_contain_text("The last 400 of 28800 readings")


def test_the_bench_is_free_of_what_keeps_people_out(shop: Page, holding: str) -> None:
    at_the_hold(shop, holding)
    shop.keyboard.press("o")
    shop.get_by_role("button", name="A noise").click()
    expect(shop.get_by_role("alert")).to_be_visible()
    expect(shop.get_by_role("dialog")).to_be_hidden()
    for key in ("", "l", "m", "j", "i"):
        if key:
            shop.keyboard.press(key)
            expect(shop.get_by_role("dialog")).to_be_visible()
        shop.evaluate(AXE())
        found = shop.evaluate("() => axe.run(document, { resultTypes: ['violations'] })")
        serious = [
            (one["id"], one["nodes"][0]["html"][:120])
            for one in found["violations"]
            if one["impact"] in ("serious", "critical")
        ]
        assert serious == [], key
        shop.keyboard.press("Escape")
        expect(shop.get_by_role("dialog")).to_be_hidden()

"""The bench under hard use: by keys alone, reloaded, watched from a second tab, with the server gone."""

import datetime
import re

import pytest
from playwright.sync_api import APIResponse, Browser, Page, Route, expect

from tests.browser.conftest import Server
from tests.server.conftest import rewind
from toadbell.trials import clock
from toadbell.trials.models import Event, Reading, Trial


def log_reading(page: Page, pressure: str) -> None:
    """Type what the dial shows, by keys alone."""
    page.keyboard.press("r")
    field = page.get_by_role("dialog").get_by_label("Pressure")
    expect(field).to_be_focused()
    page.keyboard.type(pressure)
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_be_hidden()


def begin(page: Page, bench: str) -> None:
    """Begin on a dial and shut the vent, by keys alone."""
    page.goto(bench)
    expect(page.get_by_role("heading", name="Before you begin")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("now")).to_have_text("Fill, and shut the vent.")
    page.keyboard.press("Enter")


def to_the_hold(page: Page, bench: str) -> None:
    """A dial run by keys alone up to shut in."""
    begin(page, bench)
    for stage, pressure in enumerate(("3.2", "6,4", "8.5", "9.6", "12.8"), 1):
        expect(page.get_by_test_id("now")).to_have_text(re.compile("Raise to"))
        log_reading(page, pressure)
        expect(page.get_by_test_id("pressure")).to_have_text(f"{float(pressure.replace(',', '.')):.2f}")
        page.keyboard.press("Enter")
        expect(page.get_by_test_id("log").get_by_text(f"stage {stage} reached")).to_be_visible()
    page.keyboard.press("h")
    expect(page.get_by_test_id("now")).to_have_text("Hands off.")


def at_the_hold(page: Page, bench: str) -> None:
    """Open the bench of a hold that has just begun."""
    page.goto(bench)
    expect(page.get_by_test_id("now")).to_have_text("Hands off.")
    expect(page.get_by_test_id("pressure")).to_have_text("12.80")


def down_and_out(page: Page) -> None:
    """After the hold, by keys alone: to the look, released, vented before drained, dried, to the judge."""
    for says in ("Look closely", "Release", "Open the vent", "Open the drain", "Dry it inside", "Done. Now judge it."):
        expect(page.get_by_role("dialog")).to_be_hidden()
        page.keyboard.press("Enter")
        expect(page.get_by_test_id("now")).to_have_text(re.compile(f"^{says}"))
    page.keyboard.press("Enter")


def seconds(clock: str) -> int:
    minutes, secs = clock.split(":")
    return int(minutes) * 60 + int(secs)


def test_a_run_by_keys_alone_reloaded_in_mid_hold_and_watched_from_a_second_tab(shop: Page, frozen: str) -> None:
    to_the_hold(shop, frozen)
    log_reading(shop, "12.75")
    countdown = seconds(shop.get_by_test_id("countdown").inner_text())
    assert 560 < countdown <= 600
    shop.reload()
    expect(shop.get_by_test_id("now")).to_have_text("Hands off.")
    expect(shop.get_by_test_id("pressure")).to_have_text("12.75")
    again = seconds(shop.get_by_test_id("countdown").inner_text())
    assert countdown - 30 < again <= countdown
    expect(shop.get_by_test_id("log").get_by_role("listitem")).to_have_count(9)
    second = shop.context.new_page()
    second.goto(frozen)
    expect(second.get_by_test_id("pressure")).to_have_text("12.75")
    expect(second.get_by_text("The run is in the hand of a laptop")).to_be_visible()
    second.keyboard.press("n")
    second.get_by_role("dialog").get_by_label("Note").fill("seen from the second tab")
    second.keyboard.press("Enter")
    expect(shop.get_by_test_id("log").get_by_text("seen from the second tab")).to_be_visible()
    assert Reading.objects.count() == 6


def test_the_server_stopped_half_way_loses_nothing_and_the_run_goes_on(
    shop: Page, server: Server, holding: str
) -> None:
    at_the_hold(shop, holding)
    server.stop()
    expect(shop.get_by_role("alert").filter(has_text="The server does not answer")).to_be_visible()
    log_reading(shop, "12.7")
    shop.keyboard.press("n")
    shop.get_by_role("dialog").get_by_label("Note").fill("lamp went out")
    shop.keyboard.press("Enter")
    waiting = shop.get_by_test_id("waiting")
    expect(waiting.get_by_role("listitem")).to_have_count(2)
    expect(shop.get_by_test_id("kept")).to_have_text("2 not yet kept")
    server.start()
    expect(shop.get_by_test_id("log").get_by_text("lamp went out")).to_be_visible(timeout=30_000)
    expect(waiting).to_be_hidden()
    expect(shop.get_by_test_id("kept")).to_have_text("all kept ✓")
    expect(shop.get_by_test_id("pressure")).to_have_text("12.70")
    expect(shop.get_by_test_id("now")).to_have_text("Hands off.")
    assert Reading.objects.filter(pressure=1_270_000).count() == 1
    assert Event.objects.filter(kind="shut-in").count() == 1


def test_what_waits_outlives_a_closed_page_and_arrives_once_with_its_own_time(
    shop: Page, server: Server, holding: str
) -> None:
    at_the_hold(shop, holding)
    server.stop()
    expect(shop.get_by_role("alert").filter(has_text="The server does not answer")).to_be_visible()
    log_reading(shop, "12.6")
    expect(shop.get_by_test_id("waiting").get_by_role("listitem")).to_have_count(1)
    typed = datetime.datetime.now(datetime.UTC)
    context = shop.context
    shop.close()
    server.start()
    again = context.new_page()
    again.goto(holding)
    expect(again.get_by_test_id("pressure")).to_have_text("12.60")
    reading = Reading.objects.get(pressure=1_260_000)
    assert abs((reading.at - typed).total_seconds()) < 10
    again.reload()
    expect(again.get_by_test_id("pressure")).to_have_text("12.60")
    assert Reading.objects.count() == 6


def test_a_network_cut_for_a_minute_in_mid_hold_loses_and_doubles_nothing(shop: Page, holding: str) -> None:
    at_the_hold(shop, holding)
    shop.clock.install()
    before = seconds(shop.get_by_test_id("countdown").inner_text())
    shop.context.set_offline(True)
    for pressure in ("12.78", "12.77", "12.76"):
        log_reading(shop, pressure)
        shop.clock.run_for(20_000)
    expect(shop.get_by_test_id("waiting").get_by_role("listitem")).to_have_count(3)
    expect(shop.get_by_test_id("countdown")).not_to_have_text(f"{before // 60}:{before % 60:02d}")
    assert Reading.objects.count() == 5
    shop.context.set_offline(False)
    shop.clock.run_for(3000)
    expect(shop.get_by_test_id("waiting")).to_be_hidden()
    expect(shop.get_by_test_id("pressure")).to_have_text(re.compile(r"12\.7[678]"))
    assert sorted(
        Reading.objects.filter(pressure__lt=12.79e5, pressure__gt=12.7e5).values_list("pressure", flat=True)
    ) == [
        1.276e6,
        1.277e6,
        1.278e6,
    ]
    assert Reading.objects.count() == 8


def test_what_the_server_refuses_afterwards_is_shown_with_the_reason_and_not_lost(shop: Page, holding: str) -> None:
    at_the_hold(shop, holding)
    shop.context.set_offline(True)
    log_reading(shop, "12.7 mm")
    shop.context.set_offline(False)
    waiting = shop.get_by_test_id("waiting")
    expect(waiting).to_contain_text("12.7 mm")
    expect(waiting).to_contain_text("is a length", timeout=20_000)
    waiting.get_by_role("button", name="Let it go").click()
    expect(waiting).to_be_hidden()


def test_the_run_is_taken_over_on_a_second_browser(shop: Page, browser: Browser, frozen: str) -> None:
    begin(shop, frozen)
    expect(shop.get_by_test_id("now")).to_have_text(re.compile("Raise to"))
    other = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True).new_page()
    other.goto(frozen)
    expect(other.get_by_test_id("now")).to_have_text(re.compile("Raise to"))
    expect(other.get_by_role("button", name="Reached")).to_be_disabled()
    log_reading(shop, "3.2")
    expect(other.get_by_test_id("pressure")).to_have_text("3.20", timeout=1500)  # watchers see it within a second or so
    other.get_by_role("button", name="Take it over").click()
    expect(other.get_by_role("button", name="Reached")).to_be_enabled()
    expect(shop.get_by_text("The run is in the hand of")).to_be_visible()
    expect(shop.get_by_role("button", name="Reached")).to_be_disabled()
    other.get_by_role("button", name="Reached").click()
    expect(shop.get_by_test_id("log").get_by_text("stage 1 reached")).to_be_visible()
    shop.keyboard.press("t")
    expect(other.get_by_text("The run is in the hand of")).to_be_visible()
    other.context.close()


def test_a_mistyped_reading_stays_in_its_field_with_the_reason(shop: Page, frozen: str) -> None:
    shop.goto(frozen)
    shop.get_by_role("button", name="Begin, reading from a dial").click()
    shop.get_by_role("button", name="Log reading").click()
    dialog = shop.get_by_role("dialog")
    for key in "3.22":
        dialog.get_by_role("button", name=key, exact=True).click()
    dialog.get_by_role("button", name="take the last back").click()
    dialog.get_by_label("Pressure").press_sequentially(" mm")
    dialog.get_by_role("button", name="Log it").click()
    expect(dialog.get_by_role("alert")).to_contain_text("Nothing was stored yet")
    expect(dialog.get_by_label("Pressure")).to_have_value("3.2 mm")
    dialog.get_by_label("Pressure").fill("46 psi")
    dialog.get_by_role("button", name="Log it").click()
    expect(shop.get_by_test_id("pressure")).to_have_text("3.17")
    assert Reading.objects.count() == 1


def test_overshoot_is_said_where_it_cannot_be_missed(shop: Page, frozen: str) -> None:
    begin(shop, frozen)
    expect(shop.get_by_test_id("now")).to_have_text(re.compile("Raise to"))
    log_reading(shop, "14")
    strip = shop.get_by_role("alert")
    expect(strip).to_contain_text("Overshoot: past 13.39 bar")
    shop.keyboard.press("Enter")
    expect(shop.get_by_text("An alarm stands. Answer it first (A).")).to_be_visible()
    shop.keyboard.press("a")
    shop.get_by_label("What was seen, and why is it safe").fill("let down again, all dry")
    shop.keyboard.press("Enter")
    expect(strip.filter(has_text="Overshoot")).to_have_count(0)
    expect(
        shop.get_by_test_id("log").get_by_text("gone on after the guard (overshoot): let down again, all dry")
    ).to_be_visible()


def test_strokes_are_tapped_or_typed_before_the_key(shop: Page, frozen: str) -> None:
    begin(shop, frozen)
    expect(shop.get_by_test_id("now")).to_have_text(re.compile("Raise to"))
    for key in "12s":
        shop.keyboard.press(key)
    expect(shop.get_by_test_id("strokes")).to_have_text("12")
    shop.keyboard.press("s")
    sheet = shop.get_by_role("dialog")
    for _ in range(2):
        sheet.get_by_role("button", name="One stroke").click()
    shop.keyboard.press("Escape")
    expect(shop.get_by_test_id("strokes")).to_have_text("14")
    expect(shop.get_by_test_id("log").get_by_text("14 strokes")).to_be_visible()


def test_a_look_that_was_asked_before_a_step_does_not_undo_it(shop: Page, frozen: str) -> None:
    shop.goto(frozen)
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    shop.keyboard.press("Enter")
    now = shop.get_by_test_id("now")
    expect(now).to_have_text("Fill, and shut the vent.")
    late: list[tuple[Route, APIResponse]] = []

    def hold(route: Route) -> None:
        if late:
            route.continue_()
        else:
            late.append((route, route.fetch()))

    with shop.expect_request("**/look"):
        shop.route("**/look", hold)
    shop.keyboard.press("Enter")
    expect(now).to_have_text(re.compile("Raise to"))
    shop.evaluate(
        """() => {
            const now = document.querySelector('[data-testid=now]')
            window.shown = []
            const look = () => window.shown.push(now.textContent)
            new MutationObserver(look).observe(now, { characterData: true, childList: true, subtree: true })
        }"""
    )
    while not late:  # it was asked; its answer is still on its way to the one that holds it back
        shop.wait_for_timeout(20)
    with shop.expect_response("**/look"), shop.expect_response("**/look"):
        late[0][0].fulfill(response=late[0][1])
    assert [text for text in shop.evaluate("window.shown") if "Raise to" not in text] == []


def test_dump_by_one_key_and_taken_back_as_a_record(shop: Page, frozen: str) -> None:
    begin(shop, frozen)
    expect(shop.get_by_test_id("now")).to_have_text(re.compile("Raise to"))
    shop.keyboard.press("d")
    expect(shop.get_by_test_id("now")).to_contain_text("Dumped")
    shop.get_by_role("button", name="It was not dumped").click()
    expect(shop.get_by_test_id("now")).to_have_text(re.compile("Raise to"))


def test_the_dump_waits_for_no_dialog_that_leads_to_it_and_the_keys_of_more_work(shop: Page, frozen: str) -> None:
    begin(shop, frozen)
    shop.keyboard.press("m")
    expect(shop.get_by_role("heading", name="More")).to_be_visible()
    shop.keyboard.press("o")
    expect(shop.get_by_role("heading", name="Something odd?")).to_be_visible()
    shop.keyboard.press("d")
    expect(shop.get_by_test_id("log")).to_contain_text("dumped")
    expect(shop.get_by_role("dialog")).to_be_hidden()


def test_a_leak_of_the_vessels_own_ends_in_not_fit(shop: Page, holding: str) -> None:
    at_the_hold(shop, holding)
    shop.keyboard.press("l")
    shop.get_by_role("radio", name=re.compile("The vessel itself")).check()
    shop.get_by_label("Where, and how fast").fill("lower seam, a drop a minute")
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("log").get_by_text("leak of the vessel itself")).to_be_visible()
    expect(shop.get_by_role("alert")).to_contain_text("The vessel itself leaks")
    log_reading(shop, "12.3")
    shop.keyboard.press("Enter")
    shop.get_by_label("Why? The reason stays on the record.").fill("it drips")
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("log")).to_contain_text("hold ended")
    for says in ("Dump. Keep clear", "Open the vent", "Open the drain", "Dry it inside", "Done. Now judge it."):
        expect(shop.get_by_test_id("now")).to_have_text(re.compile(f"^{says}"))  # nobody goes close to it
        shop.keyboard.press("Enter")
    shop.get_by_role("button", name="Judge the hold").click()
    expect(shop.get_by_test_id("tag")).to_contain_text("not fit")
    shop.get_by_role("button", name="Write the decision").click()
    shop.get_by_role("radio", name=re.compile("^fit")).check()
    dialog = shop.get_by_role("dialog")
    expect(dialog).to_contain_text("That goes further than the evidence.")
    expect(dialog.get_by_label(re.compile("No leak of the vessel itself: not met"))).to_be_visible()
    shop.get_by_role("button", name="Write it down").click()
    expect(dialog).to_be_visible()  # why, line by line, is asked first
    shop.get_by_role("radio", name=re.compile("^not fit")).check()
    shop.get_by_role("button", name="Write it down").click()
    expect(shop.get_by_test_id("record").get_by_text("lower seam, a drop a minute").first).to_be_visible()


def test_an_hour_with_the_lid_shut_shows_the_hold_as_over(shop: Page, holding: str) -> None:
    at_the_hold(shop, holding)
    rewind(str(Trial.objects.get().pk), 3600)
    expect(shop.get_by_test_id("now")).to_have_text("The hold is over.")
    expect(shop.get_by_test_id("countdown")).to_have_text("0:00")


def test_on_a_phone_nothing_runs_off_the_side_and_keys_are_large_enough(shop: Page, holding: str) -> None:
    shop.set_viewport_size({"width": 390, "height": 844})
    at_the_hold(shop, holding)
    assert shop.evaluate("document.documentElement.scrollWidth") <= 390
    for name in ("Log reading", "Note", "Leak", "More", "Dump"):
        box = shop.get_by_role("button", name=name).bounding_box()
        assert box is not None
        assert box["height"] >= 64
        assert 0 <= box["x"] < box["x"] + box["width"] <= 390
        assert box["y"] + box["height"] <= 844


def test_what_was_done_at_the_bench_goes_out_from_any_page(shop: Page, server: Server, holding: str) -> None:
    at_the_hold(shop, holding)
    server.stop()
    expect(shop.get_by_role("alert").filter(has_text="The server does not answer")).to_be_visible()
    log_reading(shop, "12.6")
    expect(shop.get_by_test_id("waiting").get_by_role("listitem")).to_have_count(1)
    shop.keyboard.press("g")
    shop.keyboard.press("k")  # off to the kit board, the reading not yet kept
    expect(shop.get_by_role("status").filter(has_text="1 thing done at the bench")).to_be_visible()
    expect(shop.get_by_role("heading", name="The server does not answer")).to_be_visible()
    server.start()
    expect(shop.get_by_role("heading", name="Kit", exact=False).first).to_be_visible(timeout=30_000)
    expect(shop.get_by_role("status").filter(has_text="done at the bench")).to_be_hidden(timeout=30_000)
    assert Reading.objects.filter(pressure=1_260_000).count() == 1


def test_a_clock_put_back_is_said_and_the_hold_goes_on_as_it_was(
    shop: Page, holding: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    at_the_hold(shop, holding)
    left = seconds(shop.get_by_test_id("countdown").inner_text())
    true = clock.wall
    monkeypatch.setattr(clock, "wall", lambda: true() - 3600)
    expect(shop.get_by_role("status").filter(has_text="clock was put back by 1:00:00")).to_be_visible()
    expect(shop.get_by_test_id("log").get_by_text("this machine's clock was put back by 60 min")).to_be_visible()
    assert 0 <= left - seconds(shop.get_by_test_id("countdown").inner_text()) < 30


BROKEN = {
    "a put that fails": "IDBObjectStore.prototype.put = () => { throw new DOMException('no', 'DataError') }",
    "an open that never answers": "IDBFactory.prototype.open = () => new EventTarget()",
    "no room at all": "IDBObjectStore.prototype.put = () => { throw new DOMException('full', 'QuotaExceededError') }",
    "none, as in a private window": "IDBFactory.prototype.open = () => { throw new DOMException('', 'SecurityError') }",
}


@pytest.mark.parametrize("how", BROKEN)
def test_a_reading_is_sent_whatever_becomes_of_the_browsers_own_database(shop: Page, holding: str, how: str) -> None:
    """Sent within a second or so; and where the server is away too, it is said that it is in this page alone."""
    shop.add_init_script(BROKEN[how])
    at_the_hold(shop, holding)
    before = Reading.objects.count()
    log_reading(shop, "12.69")
    expect(shop.get_by_test_id("pressure")).to_have_text("12.69")
    assert Reading.objects.count() == before + 1
    shop.context.set_offline(True)
    shop.keyboard.press("n")
    shop.keyboard.type("the needle trembles")
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("waiting")).to_contain_text("only in this page, not stored yet")
    with shop.expect_event("dialog") as leaving:
        shop.close(run_before_unload=True)
    assert leaving.value.type == "beforeunload"  # whoever leaves is asked first
    leaving.value.dismiss()
    shop.context.set_offline(False)
    expect(shop.get_by_test_id("log")).to_contain_text("the needle trembles")
    expect(shop.get_by_test_id("kept")).to_contain_text("all kept")

"""The plan board by hand: the glass, the course, the openings, what is offered, what is taken back, what outlives a
reload.
"""

import re
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, Request, expect

from tests.browser.conftest import KIT, SHEET, Server
from tests.browser.test_bench import log_reading
from toadbell.shed.models import Kit, Maker, Vessel
from toadbell.trials.models import Trial

OPENINGS = [
    {
        "name": "Outlet",
        "fitted": "outlet",
        "for_test": "vent",
        "rating": "40 bar",
        "sealed_diameter": "21 mm",
        "place": {"along": "60 mm"},
    },
    {"name": "Gauge boss", "fitted": "gauge", "for_test": "gauge", "rating": "40 bar", "place": {"along": "720 mm"}},
    {
        "name": "Drain",
        "fitted": "drain",
        "for_test": "pump",
        "rating": "40 bar",
        "place": {"along": "400 mm", "round": "180 deg"},
    },
]

Plan = Callable[..., Trial]


@pytest.fixture
def plan(server: Server) -> Plan:
    """A plan of the receiver with its kit and some changes; None takes a key out."""

    def make(**changes: Any) -> Trial:
        owner = Maker.local_owner()
        vessel = Vessel.hang_up(owner, "Wharf tank", {**SHEET, "fittings": OPENINGS})
        trial = Trial.plan_for(vessel, owner)
        sheet = {key: value for key, value in {**trial.sheet, **KIT, **changes}.items() if value is not None}
        trial.change_plan(sheet, 1)
        return trial

    return make


def board(page: Page, server: Server, trial: Trial) -> Page:
    page.goto(f"{server.url}/trials/{trial.id}/plan")
    expect(page.get_by_role("heading", name="Test pressure", exact=True)).to_be_visible()
    return page


def kept(trial: Trial) -> dict[str, Any]:
    trial.refresh_from_db()
    return trial.sheet


def freeze(page: Page) -> Locator:
    return page.get_by_role("button", name="Freeze and go to the bench")


def drag(page: Page, handle: Locator, up: float) -> None:
    box = handle.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - up, steps=6)
    page.mouse.up()


def test_dragging_the_wanted_pressure_on_the_glass_moves_the_test_the_stages_and_the_strokes(
    shop: Page, server: Server, plan: Plan
) -> None:
    trial = plan()
    board(shop, server, trial)
    expect(shop.get_by_text("14 strokes")).to_be_visible()
    drag(shop, shop.get_by_role("slider", name="wanted:"), -60)
    expect(shop.get_by_text("14 strokes")).to_be_hidden()
    expect(freeze(shop)).to_be_enabled()
    wanted = float(kept(trial)["working_pressure"].split()[0])
    assert wanted < 8
    assert trial.derived().test_pressure == pytest.approx(1.5e5 * wanted)
    expect(shop.get_by_role("slider", name="test:")).to_have_attribute(
        "aria-valuetext", f"{float(f'{1.5 * wanted:.4g}'):g} bar"
    )


def test_the_arrow_keys_move_a_mark_by_the_gauges_division_and_it_can_be_taken_back(
    shop: Page, server: Server, plan: Plan
) -> None:
    trial = plan()
    board(shop, server, trial)
    wanted = shop.get_by_role("slider", name="wanted:")
    wanted.focus()
    shop.keyboard.press("ArrowUp")
    expect(wanted).to_have_attribute("aria-valuetext", "8.6 bar")
    expect(shop.get_by_text("12.9 bar").first).to_be_visible()
    shop.keyboard.press("Control+z")
    expect(wanted).to_have_attribute("aria-valuetext", "8.5 bar")
    shop.keyboard.press("Control+Shift+Z")
    expect(wanted).to_have_attribute("aria-valuetext", "8.6 bar")
    expect(freeze(shop)).to_be_enabled()
    assert kept(trial)["working_pressure"] == "8.6 bar"


def test_moving_the_test_itself_takes_a_factor_of_ones_own(shop: Page, server: Server, plan: Plan) -> None:
    trial = plan()
    board(shop, server, trial)
    test = shop.get_by_role("slider", name="test:")
    test.focus()
    shop.keyboard.press("Shift+ArrowUp")
    expect(shop.get_by_role("radio", name="A factor of your own")).to_be_checked()
    expect(shop.get_by_text("Say why this factor and not a usual one")).to_be_visible()
    expect(freeze(shop)).to_be_enabled()
    assert (kept(trial)["basis"], kept(trial)["factor"]) == ("own", 1.56)


def test_stages_are_moved_lengthened_added_and_taken_out_where_they_are_drawn(
    shop: Page, server: Server, plan: Plan
) -> None:
    trial = plan()
    board(shop, server, trial)
    half = shop.get_by_role("slider", name=re.compile("^Stage 2, "))
    half.focus()
    shop.keyboard.press("ArrowDown")
    expect(half).to_have_attribute("aria-valuetext", re.compile(r"^6\.3 bar"))
    shop.keyboard.press("ArrowRight")
    expect(half).to_have_attribute("aria-valuetext", "6.3 bar, pause 1 min 2 s")
    shop.keyboard.press("Delete")
    expect(shop.get_by_role("heading", name="Raise in 4 stages")).to_be_visible()
    shop.get_by_role("button", name="Add a stage").first.click()
    expect(shop.get_by_role("heading", name="Raise in 5 stages")).to_be_visible()
    drag(shop, shop.get_by_role("slider", name=re.compile("Stage 1, look")), 25)
    expect(shop.get_by_text("The first stage is above a quarter of the test")).to_be_visible()
    expect(freeze(shop)).to_be_enabled()
    targets = [stage["target"] for stage in kept(trial)["stages"]]
    assert len(targets) == 4
    assert "6.3 bar" not in targets


def test_stages_are_typed_and_a_mistake_is_said(shop: Page, server: Server, plan: Plan) -> None:
    trial = plan()
    board(shop, server, trial)
    shop.get_by_role("tab", name="Stages").click()
    shop.get_by_label("Target of stage 1").fill("3")
    shop.get_by_label("Pause at stage 1").click()
    shop.get_by_label("Pause at stage 1").fill("10 min")
    shop.keyboard.press("Enter")
    expect(freeze(shop)).to_be_enabled()
    expect(shop.get_by_role("slider", name="Stage 1, look")).to_have_attribute("aria-valuetext", "3 bar, pause 10 min")
    shop.get_by_label("Target of stage 2").fill("1 bar")
    shop.keyboard.press("Enter")
    expect(shop.get_by_text("the stages must rise").first).to_be_visible()
    expect(freeze(shop)).to_be_disabled()
    shop.get_by_label("Raise", exact=True).select_option("single")
    expect(shop.get_by_role("heading", name="Raise in 3 stages")).to_be_visible()
    expect(freeze(shop)).to_be_enabled()
    assert kept(trial)["raising"] == "single"
    assert "stages" not in trial.sheet


def test_a_pressure_above_the_ceiling_is_answered_with_one_that_can_be_proven(
    shop: Page, server: Server, plan: Plan
) -> None:
    trial = plan(working_pressure="24 bar", plate_pressure=None, gauge={"range": "60 bar", "division": "1 bar"})
    board(shop, server, trial)
    expect(shop.get_by_role("alert").filter(has_text="above the ceiling")).to_contain_text(
        "The highest wanted pressure that can be proven is 21.2 bar"
    )
    expect(freeze(shop)).to_be_disabled()
    shop.get_by_role("button", name="Ask for 11.8 bar instead").click()
    expect(shop.get_by_role("alert")).to_have_count(0)
    expect(freeze(shop)).to_be_enabled()
    assert kept(trial)["working_pressure"] == "11.8 bar"


def test_a_gauge_that_is_too_coarse_is_swapped_for_one_off_the_board(shop: Page, server: Server, plan: Plan) -> None:
    Kit.hang_up("gauge", "Washer's dial", {"range": "250 bar", "division": "5 bar"})
    Kit.hang_up("gauge", "Test gauge", {"range": "25 bar", "division": "0.1 bar", "calibrated": "2026-05-01"})
    trial = plan(gauge={"name": "Washer's dial", "range": "250 bar", "division": "5 bar"})
    board(shop, server, trial)
    expect(shop.get_by_text("Of your own, Test gauge would serve.")).to_be_visible()
    shop.get_by_role("tab", name="Kit and water").click()
    choice = shop.get_by_label(re.compile("^Gauge(?! )"))
    expect(choice.locator("option", has_text="Washer")).to_have_text("✗ Washer's dial")
    choice.select_option(label="★ Test gauge")
    expect(shop.get_by_text("Of your own, Test gauge would serve.")).to_be_hidden()
    expect(shop.get_by_role("img", name=re.compile("Dial to 25 bar, divided in 0.1, test at 12.8"))).to_be_visible()
    expect(freeze(shop)).to_be_enabled()
    assert kept(trial)["gauge"]["name"] == "Test gauge"


def test_the_tilt_that_frees_the_air_is_offered_and_taken(shop: Page, server: Server, plan: Plan) -> None:
    on_end = [
        {
            "name": "End port",
            "fitted": "outlet",
            "for_test": "vent",
            "bore": "15 mm",
            "place": {"on": "end 2", "out": "150 mm"},
        }
    ]
    trial = plan(fittings=on_end, trapped_air=None)
    board(shop, server, trial)
    expect(shop.get_by_text("of air would stay above End port")).to_be_visible()
    shop.get_by_role("button", name=re.compile("^Tilt it to")).click()
    expect(shop.get_by_text("of air would stay above End port")).to_be_hidden()
    expect(shop.get_by_role("heading", name=re.compile(r"Full of water, lying, tilted \d+°"))).to_be_visible()
    expect(freeze(shop)).to_be_enabled()
    assert kept(trial)["tilt"].endswith("deg")
    assert trial.derived().vent.air < 1e-4


def test_openings_are_decided_ticked_and_gathered_for(shop: Page, server: Server, plan: Plan) -> None:
    trial = plan()
    board(shop, server, trial)
    expect(shop.get_by_text("3 openings still to prepare.")).to_be_visible()
    expect(shop.get_by_text("Outlet is the highest point: no air stays.")).to_be_visible()
    shop.get_by_label("Outlet is ready").check()
    expect(shop.get_by_text("2 openings still to prepare.")).to_be_visible()
    shop.get_by_label("What to do with Drain").select_option("keep")
    expect(shop.get_by_text("No opening is given to the pump.")).to_be_visible()
    shop.get_by_label("What to do with Drain").select_option("pump")
    expect(freeze(shop)).to_be_enabled()
    assert [o.get("ready") for o in kept(trial)["fittings"]] == [True, None, None]
    shop.get_by_role("button", name="Opening 3, Drain").click()
    shop.get_by_role("link", name="What to gather").click()
    expect(shop.get_by_text("adaptor its thread to the test gauge, rated 13.4 bar or more")).to_be_visible()
    expect(shop.get_by_text("thread tape or paste")).to_be_visible()


def test_openings_are_ticked_off_at_the_bench_and_put_back_after(shop: Page, server: Server, plan: Plan) -> None:
    trial = plan()
    board(shop, server, trial)
    shop.get_by_label("Outlet is ready").check()
    freeze(shop).click()  # at once: it waits until what was ticked is kept
    before = shop.get_by_role("region", name="Openings to prepare")
    expect(before.get_by_role("checkbox", name="Outlet")).to_be_checked()
    before.get_by_role("checkbox", name="Drain").click()
    expect(before.get_by_text("1 of 3 to do.")).to_be_visible()
    shop.reload()
    expect(before.get_by_role("checkbox", name="Drain")).to_be_checked()
    shop.get_by_role("button", name="Begin, reading from a dial").click()
    expect(shop.get_by_test_id("now")).to_have_text("Fill, and shut the vent.")
    shop.keyboard.press("d")
    expect(shop.get_by_text("Nothing is undone or put back before zero was read.")).to_be_visible()
    log_reading(shop, "0")
    after = shop.get_by_role("region", name="Openings to put back")
    expect(after.get_by_text("3 of 3 to do.")).to_be_visible()
    after.get_by_role("checkbox", name="Gauge boss").click()
    expect(shop.get_by_test_id("log").get_by_text("Gauge boss: as it was before")).to_be_visible()


def test_all_schools_stand_side_by_side_with_who_disputes_them(shop: Page, server: Server, plan: Plan) -> None:
    trial = plan()
    board(shop, server, trial)
    shop.get_by_role("button", name="all schools").click()
    table = shop.get_by_role("dialog", name="All schools of practice")
    expect(table.get_by_role("row")).to_have_count(17)
    expect(table.get_by_role("row", name=re.compile("First test of a boiler"))).to_contain_text(
        "Not for this kind of vessel"
    )
    expect(table.get_by_role("row", name=re.compile("^Workshop proof"))).to_contain_text("Newer codes ask for less")
    table.get_by_role("button", name="Take European rule").click()
    expect(shop.get_by_role("radio", name=re.compile("European rule"))).to_be_checked()
    expect(shop.get_by_text("12.15 bar").first).to_be_visible()
    expect(freeze(shop)).to_be_enabled()
    assert kept(trial)["basis"] == "code-143"


def test_a_hold_too_short_to_tell_is_lengthened_on_the_curve_or_by_what_is_needed(
    shop: Page, server: Server, plan: Plan
) -> None:
    trial = plan(acceptance={"max_leak": "1 mL/h"}, thermometer={"resolution": "0.05 °C"}, hold={"minimum": "15 min"})
    board(shop, server, trial)
    shop.get_by_role("tab", name="Hold").click()
    expect(shop.get_by_text("too little to judge by")).to_be_visible()
    shop.get_by_role("button", name=re.compile("and it can be told")).click()
    expect(shop.get_by_text("too little to judge by")).to_be_hidden()
    expect(freeze(shop)).to_be_enabled()
    assert float(kept(trial)["hold"]["minimum"].split()[0]) > 15
    shop.get_by_text("Hold for 4 h").locator("..").click(force=True)
    expect(shop.get_by_role("heading", name=re.compile("^Hold 4 h"))).to_be_visible()


def test_what_the_server_refuses_outlives_a_reload(shop: Page, server: Server, plan: Plan) -> None:
    trial = plan()
    board(shop, server, trial)
    shop.get_by_role("tab", name="Kit and water").click()
    shop.get_by_label("Gauge reads to").fill("forty")
    expect(shop.get_by_text("has no number").first).to_be_visible()
    shop.reload()
    shop.get_by_role("tab", name="Kit and water").click()
    expect(shop.get_by_label("Gauge reads to")).to_have_value("forty")
    expect(freeze(shop)).to_be_disabled()
    shop.get_by_label("Gauge reads to").fill("30 bar")
    expect(freeze(shop)).to_be_enabled()
    assert kept(trial)["gauge"]["range"] == "30 bar"


def test_what_was_typed_while_the_server_was_away_is_kept_when_it_is_back(
    shop: Page, server: Server, plan: Plan
) -> None:
    trial = plan()
    board(shop, server, trial)
    shop.get_by_role("tab", name="Kit and water").click()
    server.stop()
    shop.get_by_label("Gauge reads to").fill("30 bar")
    expect(shop.get_by_text("The server does not answer").first).to_be_visible()
    server.start()
    shop.reload()
    shop.get_by_role("tab", name="Kit and water").click()
    expect(shop.get_by_label("Gauge reads to")).to_have_value("30 bar")
    expect(freeze(shop)).to_be_enabled()
    assert kept(trial)["gauge"]["range"] == "30 bar"


@pytest.mark.parametrize(("choice", "wanted"), [("Keep mine", "7 bar"), ("Take the other", "6 bar")])
def test_two_windows_do_not_overwrite_each_other_silently(
    shop: Page, server: Server, plan: Plan, choice: str, wanted: str
) -> None:
    trial = plan()
    board(shop, server, trial)
    trial.change_plan({**trial.sheet, "working_pressure": "6 bar"}, trial.version)
    slider = shop.get_by_role("slider", name="wanted:")
    slider.focus()
    for _ in range(3):
        shop.keyboard.press("Shift+ArrowDown")
    expect(shop.get_by_role("alert").filter(has_text="another window")).to_be_visible()
    assert kept(trial)["working_pressure"] == "6 bar"
    shop.get_by_role("button", name=choice).click()
    expect(slider).to_have_attribute("aria-valuetext", wanted)
    expect(freeze(shop)).to_be_enabled()
    assert kept(trial)["working_pressure"] == wanted


def test_the_next_plan_says_what_changed_since_the_one_before(shop: Page, server: Server, plan: Plan) -> None:
    first = plan()
    vessel = first.vessel
    vessel.change(Maker.local_owner(), "Wharf tank", {**vessel.sheet, "plate_pressure": "11 bar"}, "", vessel.version)
    second = Trial.plan_for(vessel, Maker.local_owner())
    board(shop, server, second)
    strip = shop.get_by_role("region", name="Since the plan before")
    expect(strip).to_contain_text("Begun from the plan of trial 1.")
    expect(strip).to_contain_text("plate: 14 bar → 11 bar")
    strip.get_by_role("button", name="Seen").click()
    expect(strip).to_be_hidden()


def test_what_is_missing_is_led_to(shop: Page, server: Server, plan: Plan) -> None:
    trial = plan(gauge=None, water_temperature=None)
    board(shop, server, trial)
    shop.get_by_role("tab", name="Openings").click()
    missing = shop.locator(".strip", has_text="Which gauge will be read?")
    missing.get_by_role("button", name="Say it").click()
    expect(shop.get_by_label("Gauge reads to")).to_be_focused()
    shop.keyboard.type("25 bar")
    expect(missing).to_be_hidden()
    shop.get_by_label("Water at").fill("16 C")
    expect(freeze(shop)).to_be_enabled()


def test_a_frozen_sheet_is_a_file_that_hangs_up_a_vessel_again(
    shop: Page, server: Server, plan: Plan, tmp_path: Any
) -> None:
    trial = plan()
    board(shop, server, trial)
    freeze(shop).click()
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    shop.get_by_role("link", name="Plan").click()
    with shop.expect_download() as found:
        shop.get_by_role("link", name="Sheet as a file").click()
    path = tmp_path / found.value.suggested_filename
    found.value.save_as(path)
    shop.goto(f"{server.url}/vessels/new")
    shop.get_by_label("or load a sheet").set_input_files(path)
    expect(shop.get_by_label("Wanted pressure")).to_have_value("8.5 bar")
    shop.get_by_role("button", name="Hang it up").click()
    expect(shop.get_by_role("heading", name="Logbook")).to_be_visible()
    assert Vessel.objects.latest("hung_up").sheet["fittings"] == trial.sheet["fittings"]


def test_a_file_that_is_no_sheet_is_refused_in_words(shop: Page, server: Server, tmp_path: Any) -> None:
    wrong = tmp_path / "photo.json"
    wrong.write_text("not a sheet")
    shop.goto(f"{server.url}/vessels/new")
    shop.get_by_label("or load a sheet").set_input_files(wrong)
    expect(shop.get_by_role("alert")).to_contain_text("photo.json is no sheet")


def test_a_drag_asks_one_thing_at_a_time_and_ends_where_the_hand_does(shop: Page, server: Server, plan: Plan) -> None:
    trial = plan()
    board(shop, server, trial)
    asked: list[int] = []
    under_way = [0]

    def begun(request: Request) -> None:
        if "/look" in request.url:
            under_way[0] += 1
            asked.append(under_way[0])

    shop.on("request", begun)
    shop.on("requestfinished", lambda request: under_way.__setitem__(0, under_way[0] - ("/look" in request.url)))
    drag(shop, shop.get_by_role("slider", name="wanted:"), -40)
    expect(freeze(shop)).to_be_enabled()
    assert asked
    assert max(asked) == 1
    wanted = shop.get_by_role("slider", name="wanted:").get_attribute("aria-valuetext")
    assert wanted == kept(trial)["working_pressure"]

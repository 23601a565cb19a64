"""The vessel changed on its drawing, its wall over the years, the kit board; and the screens for those who don't see
them.
"""

import re

import pytest
from django.conf import settings
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import SHEET, Server
from tests.wharf import hang_up_the_wharf
from toadbell.shed.models import Kit, Maker, Vessel
from toadbell.trials.models import Trial


@pytest.fixture
def vessel(server: Server) -> Vessel:
    """A receiver on the shelf."""
    return Vessel.hang_up(Maker.local_owner(), "Wharf tank", SHEET)


def open_vessel(page: Page, server: Server, vessel: Vessel) -> None:
    page.goto(f"{server.url}/vessels/{vessel.id}")
    expect(page.get_by_role("heading", name="Logbook")).to_be_visible()


def keep(page: Page, vessel: Vessel) -> None:
    page.get_by_role("button", name="Keep the changes").click()
    expect(page.get_by_text("Changed on the drawing, not kept yet.")).to_be_hidden()
    vessel.refresh_from_db()


def test_a_part_is_changed_where_it_is_clicked(shop: Page, server: Server, vessel: Vessel) -> None:
    open_vessel(shop, server, vessel)
    shop.get_by_role("button", name="Change end 2").click()
    panel = shop.get_by_role("dialog", name="Change end 2")
    panel.get_by_label("Form").select_option("flat")
    panel.get_by_label("Wall").fill("12")
    expect(shop.get_by_text("Changed on the drawing, not kept yet.")).to_be_visible()
    keep(shop, vessel)
    assert [end["form"] for end in vessel.sheet["ends"]] == ["ellipsoidal", "flat"]
    assert vessel.sheet["ends"][1]["wall"] == "12 mm"
    expect(shop.get_by_text("6.01 bar", exact=True)).to_be_visible()  # the flat end now sets the ceiling


def test_a_mistake_in_a_part_is_said_there_and_can_be_left(shop: Page, server: Server, vessel: Vessel) -> None:
    open_vessel(shop, server, vessel)
    shop.get_by_role("button", name="Change the shell").press("Enter")
    panel = shop.get_by_role("dialog", name="Change shell")
    panel.get_by_label("Wall").fill("190 mm")
    expect(panel.get_by_role("alert")).to_contain_text("thicker than the inside radius")
    expect(shop.get_by_role("button", name="Keep the changes")).to_be_disabled()
    shop.reload()
    expect(shop.get_by_role("button", name="Keep the changes")).to_be_disabled()
    shop.get_by_role("button", name="Leave it as it was").click()
    expect(shop.get_by_role("button", name="Keep the changes")).to_be_hidden()
    vessel.refresh_from_db()
    assert vessel.sheet == SHEET


def test_an_opening_is_added_moved_by_keys_and_by_hand_and_named(shop: Page, server: Server, vessel: Vessel) -> None:
    open_vessel(shop, server, vessel)
    shop.keyboard.press("o")
    panel = shop.get_by_role("dialog", name="Change Opening 1")
    panel.get_by_label("Name").fill("Gauge boss")
    shop.get_by_label("In service").select_option("gauge")
    shop.get_by_label("Thread or flange").fill("¼ BSP")
    on_drawing = shop.get_by_role("button", name="Opening 1, Gauge boss")
    on_drawing.focus()
    shop.keyboard.press("ArrowRight")
    shop.keyboard.press("Shift+ArrowRight")
    expect(panel_of(shop).get_by_label("From the first seam")).to_have_value("460 mm")
    sheet = shop.get_by_role("group", name="The vessel, drawn to scale").bounding_box()
    assert sheet
    shop.wait_for_load_state("networkidle")  # the drawing has come to where the keys led
    on_drawing.hover()
    shop.mouse.down()
    shop.mouse.move(sheet["x"] + sheet["width"] * 0.6, sheet["y"] + sheet["height"] * 0.79, steps=5)
    shop.mouse.up()
    expect(panel_of(shop).get_by_label("Round from the top")).to_have_value("180 deg")
    keep(shop, vessel)
    opening = vessel.sheet["fittings"][0]
    assert (opening["name"], opening["fitted"], opening["thread"]) == ("Gauge boss", "gauge", "¼ BSP")
    assert opening["place"]["round"] == "180 deg"


def panel_of(shop: Page) -> Locator:
    return shop.get_by_role("dialog")


def test_openings_land_where_there_is_room_and_go_where_they_are_typed_to(
    shop: Page, server: Server, vessel: Vessel
) -> None:
    open_vessel(shop, server, vessel)
    for number in (1, 2, 3):
        shop.locator("h1").click()
        shop.keyboard.press("o")
        expect(panel_of(shop).get_by_label("Name")).to_have_value(f"Opening {number}")  # drawn it may not be yet
    drawing = shop.get_by_role("group", name="The vessel, drawn to scale").bounding_box()
    panel = panel_of(shop).bounding_box()
    assert drawing
    assert panel
    assert panel["y"] >= drawing["y"] + drawing["height"]  # the drawing stays in view
    panel_of(shop).get_by_label("It is on").select_option("end 2")
    panel_of(shop).get_by_label("From the axis").fill("2 in")
    keep(shop, vessel)
    first, second, third = (opening["place"] for opening in vessel.sheet["fittings"])
    assert first["along"] != second["along"]
    assert (third["on"], third["out"]) == ("end 2", "2 in")


@pytest.mark.usefixtures("at_the_shed")
def test_what_stops_a_new_vessel_is_led_to_and_said_at_its_field(shop: Page) -> None:
    shop.get_by_role("link", name="Hang up").first.click()
    hang = shop.get_by_role("button", name="Hang it up")
    hang.click()
    expect(shop.get_by_label("Name")).to_be_focused()
    expect(shop.get_by_text("This is needed.").first).to_be_visible()
    shop.get_by_label("Name").fill("Fire-tube boiler")
    shop.get_by_label("Wanted pressure").fill("5.5 bar")
    shop.get_by_label("Inside diameter").fill("150 mm")
    shop.get_by_label("Length, seam to seam").fill("300 mm")
    shop.get_by_text("More that may be known").click()
    shop.get_by_label("how many").fill("7")
    shop.get_by_label("Their outside diameter").fill("12 mm")
    shop.get_by_label("Name").focus()
    hang.click()
    wall = shop.get_by_label("Their wall")
    expect(wall).to_be_focused()
    expect(wall).to_be_in_viewport()
    wall.fill("1 mmm")
    shop.keyboard.press("Enter")
    expect(wall).to_be_focused()
    expect(wall).to_have_attribute("aria-invalid", "true")
    expect(hang).to_be_enabled()
    wall.fill("1 mm")
    # of what is known the tubes are the weakest, and nothing is known of the shell: a limit of theirs is none of it
    expect(shop.get_by_text(re.compile(r"not known, at most \d+ bar"))).to_have_count(2)
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("button", name="Plan a trial")).to_be_visible()
    assert Vessel.objects.get().sheet["tubes"][0]["wall"] == "1 mm"


def test_wall_readings_are_added_by_place_and_date_and_tell_how_long_it_will_last(
    shop: Page, server: Server, vessel: Vessel
) -> None:
    open_vessel(shop, server, vessel)
    shop.get_by_role("button", name="Add a reading").click()
    wall = shop.get_by_role("region", name="Wall readings")
    for thick, day in (("2.9", "2023-10-01"), ("2.6", "2026-10-01")):
        wall.get_by_label("Wall measured").fill(thick)
        wall.get_by_label("From the first seam").fill("400")
        wall.get_by_label("On", exact=True).fill(day)
        wall.get_by_role("button", name="Add", exact=True).click()
    expect(wall.get_by_text("0.1 mm")).to_be_visible()
    expect(wall.get_by_text("5.3 years")).to_be_visible()
    expect(wall.get_by_role("img", name="Wall readings: 2.9 mm at 400 mm, 2.6 mm at 400 mm")).to_be_visible()
    keep(shop, vessel)
    assert vessel.sheet["shell"]["wall_readings"][1] == {
        "wall": "2.6 mm",
        "along": "400 mm",
        "round": "180 deg",
        "date": "2026-10-01",
    }


def test_changing_the_kind_says_what_changes(shop: Page, server: Server, vessel: Vessel) -> None:
    open_vessel(shop, server, vessel)
    shop.get_by_role("button", name="Change C").click()
    shop.get_by_label("What it is").select_option("chamber")
    expect(shop.get_by_test_id("kind")).to_contain_text(
        "With this kind its next plan changes to: chamber proof, under water"
    )
    expect(shop.get_by_test_id("kind")).to_contain_text(
        "Every change of diameter, wall, lay-up or closure asks for a new proof"
    )


@pytest.mark.usefixtures("at_the_shed")
@pytest.mark.parametrize(
    ("kind", "fields"),
    [
        ("boiler", {"Inside diameter": "165 mm", "Length, seam to seam": "360 mm", "Pitch of the stays": "25 mm"}),
        ("fermenter", {"Inside diameter": "380 mm", "Length, seam to seam": "450 mm"}),
        ("digester", {"Inside diameter": "570 mm", "Height inside": "820 mm"}),
        ("sheet-tank", {"Length inside": "260 mm", "Width inside": "170 mm", "Height inside": "204 mm"}),
        (
            "cask",
            {
                "Inside diameter at the bilge": "318 mm",
                "Inside diameter at the heads": "268 mm",
                "Length inside": "398 mm",
            },
        ),
        ("pipework", {"Inside diameter": "20 mm", "Length, seam to seam": "31 m"}),
    ],
)
def test_each_kind_is_asked_for_its_own_sizes_and_drawn(shop: Page, kind: str, fields: dict[str, str]) -> None:
    shop.keyboard.press("n")
    shop.get_by_label("What it is").select_option(kind)
    shop.get_by_label("Name").fill("New one")
    shop.get_by_label("Wanted pressure").fill("0.1 bar")
    for label, text in fields.items():
        shop.get_by_label(label, exact=False).first.fill(text)
    expect(shop.get_by_text("Have at hand")).to_be_hidden()
    expect(shop.get_by_text("Volume", exact=True)).to_be_visible()
    shop.get_by_role("button", name="Hang it up").click()
    expect(shop.get_by_role("heading", name="Logbook")).to_be_visible()
    assert Vessel.objects.get().sheet["kind"] == kind


@pytest.mark.usefixtures("at_the_shed")
def test_kit_is_hung_up_changed_taken_down_and_hung_up_again(shop: Page, server: Server) -> None:
    shop.get_by_role("link", name="Kit").click()
    expect(shop.get_by_text("Nothing hangs here yet.")).to_be_visible()
    shop.keyboard.press("n")
    shop.get_by_label("Name").fill("Test gauge")
    shop.get_by_label("Reads to").fill("25")
    shop.get_by_label("Smallest division").fill("0.1 mm")
    shop.get_by_role("button", name="Hang it up").click()
    expect(shop.get_by_text("is a length").first).to_be_visible()
    shop.get_by_label("Smallest division").fill("0.1 bar")
    shop.get_by_label("Class, % of full scale").fill("0,6")
    shop.get_by_role("button", name="Hang it up").click()
    card = shop.get_by_role("button", name=re.compile("Test gauge"))
    expect(card).to_contain_text("25 bar by 0.1 bar, class 0.6")
    expect(card).to_contain_text("not calibrated")
    card.click()
    shop.get_by_label("Calibrated on").fill("2026-06-01")
    shop.get_by_role("button", name="Keep the changes").click()
    expect(card).to_contain_text("calibrated until 2 Jun 2027")
    card.click()
    shop.get_by_role("button", name="Take it down").click()
    expect(card).to_be_hidden()
    shop.get_by_role("button", name="Hang it up again").click()
    expect(card).to_be_visible()
    assert Kit.objects.get().sheet == {
        "range": "25 bar",
        "division": "0.1 bar",
        "class": 0.6,
        "calibrated": "2026-06-01",
    }


AXE = (settings.BASE_DIR / "web/node_modules/axe-core/axe.min.js").read_text


@pytest.mark.usefixtures("at_the_shed")
@pytest.mark.parametrize("theme", ["daylight", "lamp"])
def test_nothing_serious_stands_in_the_way_of_those_who_see_or_hear_otherwise(
    shop: Page, server: Server, theme: str
) -> None:
    hang_up_the_wharf()
    owner = Maker.local_owner()
    vessel = Vessel.objects.get(name="Wharf receiver")
    trial = Trial.objects.get(vessel=vessel, state="planned")
    past = Trial.objects.filter(vessel=vessel, started_at__isnull=False).order_by("number")
    low = Trial.plan_for(Vessel.objects.get(name="Orchard digester"), owner)
    screens = [
        "/",
        "/vessels/new",
        f"/vessels/{vessel.id}",
        "/kit",
        f"/trials/{trial.id}/plan",
        f"/trials/{low.id}/plan",
        f"/trials/{trial.id}/gather",
        "/records",
        "/records/due",
        "/records/keep",
        f"/records/{past[1].id}",
        f"/records/compare?one={past[0].id}&other={past[2].id}",
    ]
    shop.evaluate("theme => localStorage.setItem('toadbell-theme', theme)", theme)
    faults = []
    for path in screens:
        shop.goto(server.url + path, wait_until="networkidle")
        expect(shop.locator("html")).to_have_attribute("data-theme", theme)
        shop.evaluate(AXE())
        found = shop.evaluate("() => axe.run(document, { resultTypes: ['violations'] })")
        faults += [
            f"{path}: {fault['id']}: {fault['nodes'][0]['html'][:160]} "
            f"{fault['nodes'][0].get('failureSummary', '')[:200]}"
            for fault in found["violations"]
            if fault["impact"] in ("serious", "critical")
        ]
    assert not faults, "\n".join(faults)


def test_a_vessel_with_records_is_retired_and_hung_up_again(shop: Page, server: Server, vessel: Vessel) -> None:
    Trial.plan_for(vessel, Maker.local_owner())
    open_vessel(shop, server, vessel)
    shop.get_by_role("button", name="Retire it").click()
    expect(shop.get_by_text("off the shelf, its records stay")).to_be_visible()
    shop.get_by_role("link", name="Toad Bell, the shed").click()
    shop.get_by_role("button", name="1 retired").click()
    shop.get_by_role("link", name="Wharf tank").first.click()
    expect(shop.get_by_text("off the shelf, its records stay")).to_be_visible()
    expect(shop.get_by_role("button", name="Plan a trial")).to_be_disabled()
    shop.get_by_role("button", name="Hang it up again").click()
    expect(shop.get_by_role("button", name="Plan a trial")).to_be_enabled()
    vessel.refresh_from_db()
    assert vessel.retired_on is None


def test_taking_a_vessel_off_the_shelf_is_asked_first_and_undone_at_the_same_address(
    shop: Page, server: Server
) -> None:
    vessel = Vessel.hang_up(Maker.local_owner(), "Mistyped", SHEET)
    shop.goto(f"{server.url}/vessels/{vessel.pk}")
    shop.get_by_role("button", name="Take it off the shelf").click()
    dialog = shop.get_by_role("dialog", name="Take Mistyped off the shelf?")
    shop.keyboard.press("Escape")
    expect(dialog).to_be_hidden()
    assert Vessel.objects.filter(pk=vessel.pk).exists()
    shop.get_by_role("button", name="Take it off the shelf").click()
    dialog.get_by_role("button", name="Take it off").click()
    expect(shop.get_by_text("Mistyped was taken off the shelf.")).to_be_visible()
    assert not Vessel.objects.filter(pk=vessel.pk).exists()
    shop.get_by_role("button", name="Undo").click()
    expect(shop.get_by_role("heading", name="Mistyped")).to_be_visible()
    expect(shop).to_have_url(f"{server.url}/vessels/{vessel.pk}")

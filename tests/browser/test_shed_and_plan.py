"""Typing mistakes, units, two windows, keys, and rooms that are not there."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import KIT, SHEET, Server
from toadbell.shed.models import Maker, Vessel
from toadbell.trials.models import Trial


@pytest.fixture
def vessel(server: Server) -> Vessel:
    """A receiver on the shelf."""
    return Vessel.hang_up(Maker.local_owner(), "Wharf tank", SHEET)


@pytest.fixture
def planned(vessel: Vessel, server: Server) -> str:
    """The path of a plan with its kit."""
    owner = Maker.local_owner()
    trial = Trial.plan_for(vessel, owner)
    trial.change_plan({**trial.sheet, **KIT}, 1)
    return f"{server.url}/trials/{trial.id}/plan"


@pytest.mark.usefixtures("at_the_shed")
@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("eight bar", "has no number"),
        ("8.5 mm", "8.3 bar, 120 psi or 830 kPa"),
        ("1,200 psi", "could be 1.200 or 1200"),
        ("8 bara", "gauge pressure is wanted"),
    ],
)
def test_nonsense_is_refused_in_place_and_stays_as_typed(text: str, says: str, shop: Page) -> None:
    shop.get_by_role("link", name=re.compile("Hang up a vessel")).click()
    shop.get_by_label("Name").fill("Tank")
    field = shop.get_by_label("Wanted pressure")
    field.fill(text)
    expect(shop.get_by_text(says)).to_be_visible()
    expect(field).to_have_attribute("aria-invalid", "true")
    shop.get_by_role("button", name="Hang it up").click()
    expect(field).to_have_value(text)
    assert Vessel.objects.count() == 0


@pytest.mark.usefixtures("at_the_shed")
def test_what_was_typed_outlives_a_reload(shop: Page) -> None:
    shop.keyboard.press("n")
    shop.get_by_label("Name").fill("Half-entered")
    shop.get_by_label("Wanted pressure").fill("8,3 bar")
    shop.get_by_label("Inside diameter").fill("14 1/2 in")
    shop.reload()
    expect(shop.get_by_label("Name")).to_have_value("Half-entered")
    expect(shop.get_by_label("Wanted pressure")).to_have_value("8,3 bar")


@pytest.mark.usefixtures("at_the_shed")
def test_a_bare_number_takes_the_unit_of_the_habit(shop: Page) -> None:
    shop.keyboard.press("n")
    expect(shop.get_by_label("Wanted pressure")).to_be_visible()
    shop.get_by_role("button", name="bar, mm").click()
    expect(shop.get_by_role("button", name="psi, in")).to_be_visible()
    shop.get_by_label("Wanted pressure").fill("120")
    expect(shop.get_by_text("120 psi · 8.274 bar")).to_be_visible()
    shop.get_by_label("Wanted pressure").blur()
    expect(shop.get_by_label("Wanted pressure")).to_have_value("120 psi")


def test_a_vessel_is_changed_in_place_and_another_window_is_not_overwritten(
    shop: Page, server: Server, vessel: Vessel
) -> None:
    shop.goto(f"{server.url}/vessels/{vessel.id}")
    shop.get_by_role("button", name="Change C").click()
    Vessel.objects.filter(pk=vessel.pk).update(version=5)
    shop.get_by_label("Thinnest reading").fill("2.6 mm")
    shop.get_by_role("button", name="Keep the changes").click()
    expect(shop.get_by_role("alert")).to_contain_text("another window")
    expect(shop.get_by_label("Thinnest reading")).to_have_value("2.6 mm")
    Vessel.objects.filter(pk=vessel.pk).update(version=1)
    shop.get_by_role("button", name="Keep the changes").click()
    expect(shop.get_by_text("thinnest 2.6 mm", exact=True)).to_be_visible()


def test_a_plan_is_kept_as_it_is_typed_and_a_mistake_is_said_beside_it(shop: Page, planned: str) -> None:
    shop.goto(planned)
    shop.get_by_role("tab", name="Kit and water").click()
    shop.get_by_label("Gauge reads to").fill("30 bar")
    expect(shop.get_by_text("435.1 psi")).to_be_visible()
    expect(shop.get_by_role("group", name=re.compile("gauge ends 30"))).to_be_visible()
    shop.reload()
    shop.get_by_role("tab", name="Kit and water").click()
    expect(shop.get_by_label("Gauge reads to")).to_have_value("30 bar")
    shop.get_by_label("Gauge reads to").fill("forty")
    expect(shop.get_by_text("has no number").first).to_be_visible()
    expect(shop.get_by_role("button", name="Freeze and go to the bench")).to_be_disabled()


def test_a_gauge_too_small_stops_the_plan_until_it_is_changed(shop: Page, planned: str) -> None:
    shop.goto(planned)
    shop.get_by_role("tab", name="Kit and water").click()
    shop.get_by_label("Gauge reads to").fill("14 bar")
    expect(shop.get_by_role("alert")).to_contain_text("Fit one that reads to at least 19.1 bar")
    shop.get_by_label("Gauge reads to").fill("20 bar")
    expect(shop.get_by_role("alert")).to_have_count(0)
    expect(shop.get_by_role("button", name="Freeze and go to the bench")).to_be_enabled()


def test_an_own_factor_and_the_plate_as_base_change_the_test_pressure(shop: Page, planned: str) -> None:
    shop.goto(planned)
    shop.get_by_role("radio", name="A factor of your own").check()
    shop.get_by_label("Factor", exact=True).fill("1,4")
    expect(shop.get_by_text("11.9 bar").first).to_be_visible()
    shop.get_by_label("Whose rule, and why").fill("our inspector's")
    shop.get_by_role("radio", name=re.compile("Workshop proof")).check()
    shop.get_by_label("Base pressure").select_option("plate")
    expect(shop.get_by_text("21 bar").first).to_be_visible()


def test_the_plan_is_frozen_by_enter_and_opened_again(shop: Page, planned: str) -> None:
    shop.goto(planned)
    expect(shop.get_by_role("button", name="Freeze and go to the bench")).to_be_enabled()
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    shop.get_by_role("link", name="Plan").click()
    shop.get_by_role("tab", name="Kit and water").click()
    expect(shop.get_by_label("Gauge reads to")).to_be_disabled()
    shop.get_by_role("button", name="Open the plan again").click()
    expect(shop.get_by_role("button", name="Freeze and go to the bench")).to_be_visible()
    shop.get_by_role("tab", name="Kit and water").click()
    expect(shop.get_by_label("Gauge reads to")).to_be_enabled()


@pytest.mark.usefixtures("at_the_shed")
def test_the_keys_of_a_screen_are_shown_by_question_mark(shop: Page) -> None:
    shop.keyboard.press("?")
    overlay = shop.get_by_role("dialog", name="Keys of this screen")
    expect(overlay.get_by_text("hang up a vessel")).to_be_visible()
    shop.keyboard.press("Escape")
    expect(overlay).to_be_hidden()
    shop.keyboard.press("g")
    shop.keyboard.press("r")
    expect(shop.get_by_role("heading", name="Logbook")).to_be_visible()
    shop.keyboard.press("g")
    shop.keyboard.press("k")
    expect(shop.get_by_role("heading", name="Kit board")).to_be_visible()


@pytest.mark.astray
def test_rooms_that_are_not_there_lead_back(shop: Page, server: Server) -> None:
    for path in ("/no/such/room", "/vessels/00000000-0000-0000-0000-000000000000"):
        shop.goto(server.url + path)
        expect(shop.get_by_role("heading", name="Nothing hangs here")).to_be_visible()
        shop.get_by_role("link", name="Back to the shed").click()
        expect(shop.get_by_role("heading", name="Hang up your first vessel")).to_be_visible()


@pytest.mark.usefixtures("at_the_shed")
def test_the_light_follows_the_room_or_the_person(shop: Page, frozen: str) -> None:
    expect(shop.locator("html")).to_have_attribute("data-theme", "daylight")
    shop.goto(frozen)
    expect(shop.locator("html")).to_have_attribute("data-theme", "lamp")
    shop.get_by_role("button", name=re.compile("^Light")).click()
    expect(shop.locator("html")).to_have_attribute("data-theme", "daylight")


@pytest.mark.usefixtures("at_the_shed")
def test_the_fonts_are_the_applications_own(shop: Page) -> None:
    shop.evaluate("document.fonts.ready")
    for family in ("Bricolage Grotesque Variable", "Atkinson Hyperlegible Next Variable"):
        assert shop.evaluate('f => document.fonts.check(`16px "${f}"`)', family)

"""A boiler's first steam at the bench: a gauge that lies, told by a thermometer and not told without one; low water; a
boiler that may not be steamed; and all of it on a phone.
"""

import re

from django.test import Client
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.server.conftest import Workshop, rewind
from tests.server.test_steam import boiler, planned, proven
from toadbell.trials.models import Trial


def typed(page: Page, pressure: str, temperature: str = "") -> None:
    """What gauge and thermometer show."""
    page.keyboard.press("r")
    page.keyboard.type(pressure)
    if temperature:
        page.keyboard.press("Tab")
        page.keyboard.type(temperature)
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_be_hidden()
    expect(page.get_by_test_id("pressure")).to_have_text(re.compile(re.escape(pressure)))


def lit(shop: Page, server: Server, **kit: object) -> Trial:
    """Planned and frozen, begun from the dial by keys, lit, and its vent shut."""
    workshop = Workshop(Client())
    trial = Trial.objects.get(pk=planned(workshop, proven(workshop), **kit))
    shop.goto(f"{server.url}/trials/{trial.pk}/bench")
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    expect(shop.get_by_text("Somebody stays with it from the first flame")).to_be_visible()
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Make it ready to light.")
    shop.keyboard.press("Enter")
    for text in ("half a glass", "both deliver", "free"):
        shop.keyboard.type(text)
        shop.keyboard.press("Tab")
    shop.keyboard.type("Maren")
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("dialog")).to_be_hidden()
    expect(shop.get_by_test_id("now")).to_have_text("Light the fire, vent open.")
    rewind(str(trial.pk), 600)
    shop.get_by_role("button", name=re.compile("Air out, vent shut")).click()
    expect(shop.get_by_test_id("now")).to_have_text(re.compile("Let it come up"))
    return trial


def reached(shop: Page, trial: Trial, pressure: str, temperature: str = "") -> None:
    """Up to a stage, and its pause over."""
    typed(shop, pressure, temperature)
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Hold the fire here, and look.")
    rewind(str(trial.pk), 61)
    expect(shop.get_by_test_id("now")).to_have_text(re.compile("Let it come up|Raise it till"))


def told(shop: Page, name: str, word: str) -> None:
    """A word of an instrument, by a click."""
    shop.get_by_role("group", name=name, exact=True).get_by_role("button", name=word, exact=True).click()
    expect(
        shop.get_by_role("group", name=name, exact=True).get_by_role("button", name=word, exact=True)
    ).to_have_attribute("aria-pressed", "true")


def decided(shop: Page, server: Server, trial: Trial) -> None:
    """The judge's room, and the tool's own decision."""
    shop.goto(f"{server.url}/trials/{trial.pk}/judge")
    shop.get_by_role("button", name="Write the decision").click()
    shop.get_by_role("button", name="Write it down").click()
    expect(shop.get_by_test_id("record")).to_be_visible()


def test_a_first_steam_passes_and_stands_with_its_boiler(shop: Page, server: Server) -> None:
    trial = lit(shop, server)
    shop.keyboard.press("ArrowDown")
    expect(shop.get_by_role("slider", name="Water in the glass")).to_have_attribute("aria-valuenow", "45")
    for pressure, temperature in (("0.52", "112"), ("1.02", "120"), ("1.82", "132")):
        reached(shop, trial, pressure, temperature)
    for name, word in (("First feed", "works"), ("Second feed", "works"), ("Glass blown", "comes back")):
        told(shop, name, word)
    for pressure, what in (("2.02", "Valve lifts"), ("1.92", "It shuts"), ("2.04", "Full fire, highest")):
        typed(shop, pressure, "134")
        shop.keyboard.press("y")
        expect(shop.get_by_role("button", name=re.compile(rf"^{what} [–\d]"))).to_contain_text(pressure)
    told(shop, "Full fire", "stands")
    told(shop, "Hot look", "dry")
    panel = shop.get_by_test_id("steam")
    expect(panel).to_contain_text("Passed. It lifts at")
    expect(shop.get_by_test_id("witnesses").get_by_role("img").first).to_have_accessible_name(re.compile("agree"))
    shop.get_by_role("button", name=re.compile("^Fire is out")).click()
    expect(shop.get_by_test_id("now")).to_have_text("Let it cool. Nobody opens anything.")
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("alert")).to_contain_text("Nobody opens anything: let it cool")
    rewind(str(trial.pk), 3600)
    typed(shop, "0.000", "70")
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Open the vent.")
    decided(shop, server, trial)
    expect(shop.get_by_test_id("record")).to_contain_text("Record of a first steam")
    shop.goto(f"{server.url}/vessels/{trial.vessel_id}")
    steam = shop.get_by_test_id("ledger").get_by_role("listitem").filter(has_text="Steam trial")
    expect(steam).to_contain_text("passed in trial 2")


def test_a_gauge_that_lies_is_told_by_the_thermometer_once_the_valve_lifts(shop: Page, server: Server) -> None:
    trial = lit(shop, server)
    typed(shop, "0.62", "119")
    typed(shop, "0.64", "120")
    strip = shop.get_by_role("alert").filter(has_text="cannot both be right")
    expect(strip).to_contain_text("Fire out (D)")
    expect(shop.get_by_test_id("steam")).to_contain_text("nobody knows which is wrong")
    shop.keyboard.press("a")
    shop.keyboard.type("blown dry; to see the valve")
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("dialog")).to_be_hidden()
    typed(shop, "1.60", "134")
    shop.keyboard.press("y")
    expect(shop.get_by_test_id("steam")).to_contain_text("the gauge shows too little: 1.6 bar")
    shop.keyboard.press("d")
    expect(shop.get_by_test_id("now")).to_have_text("Fire out.")
    decided(shop, server, trial)
    shop.goto(f"{server.url}/vessels/{trial.vessel_id}")
    expect(shop.get_by_test_id("ledger-says")).to_contain_text("No steam in it but for another trial")


def test_without_a_thermometer_it_is_stopped_and_what_would_tell_is_said(shop: Page, server: Server) -> None:
    lit(shop, server, thermometer=None)
    typed(shop, "1.55")
    shop.keyboard.press("y")
    panel = shop.get_by_test_id("steam")
    expect(panel).to_contain_text("Stop: fire out")
    expect(panel).to_contain_text("nobody knows which is wrong")
    expect(panel).to_contain_text("A thermometer in the steam space tells which")


def test_low_water_in_mid_run_has_the_fire_out_first(shop: Page, server: Server) -> None:
    lit(shop, server)
    typed(shop, "0.52", "112")
    slider = shop.get_by_role("slider", name="Water in the glass")
    box = slider.locator("svg").bounding_box()
    assert box is not None
    shop.mouse.click(box["x"] + box["width"] / 2, box["y"] + 0.9 * box["height"])
    expect(shop.get_by_role("alert").first).to_contain_text("The water is out of sight, or nearly. Fire out first.")
    shop.keyboard.press("m")
    shop.get_by_role("dialog").get_by_role("button", name=re.compile("Something odd")).click()
    shop.get_by_role("button", name="The glass surges: it primes").click()
    expect(shop.get_by_test_id("log")).to_contain_text("It primes")
    expect(shop.get_by_role("alert").first).to_contain_text("Fire out first.")  # the gravest is the one that is shown
    expect(shop.get_by_role("alert").first).to_contain_text("And 1 more.")
    shop.keyboard.press("d")
    expect(shop.get_by_test_id("log")).to_contain_text("fire out, the run was ended")


def test_a_boiler_without_its_cold_proof_is_only_practised_on(shop: Page, server: Server) -> None:
    workshop = Workshop(Client())
    trial = planned(workshop, boiler(workshop)["id"])
    shop.goto(f"{server.url}/trials/{trial}/bench")
    expect(shop.get_by_test_id("barred")).to_contain_text("A cold proof comes first")
    expect(shop.get_by_role("button", name=re.compile("Begin, reading from a dial"))).to_be_disabled()
    shop.get_by_label("What is to be met").first.select_option("gauge-low")
    shop.keyboard.press("m")
    expect(shop.get_by_test_id("boiler-seen")).to_contain_text("water at 50 % of the glass")
    shop.keyboard.press("p")
    expect(shop.get_by_role("button", name="Fire full")).to_have_attribute("aria-pressed", "true")


def test_it_is_worked_from_a_phone(shop: Page, server: Server) -> None:
    lit(shop, server)
    shop.set_viewport_size({"width": 390, "height": 844})
    typed(shop, "0.52", "112")
    told(shop, "First feed", "works")
    wide = shop.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
    assert wide == 0
    panel = shop.get_by_test_id("steam")
    spill = panel.evaluate("one => one.scrollWidth - one.clientWidth")
    assert spill <= 0

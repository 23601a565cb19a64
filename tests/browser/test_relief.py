"""A relief valve tried three times on typed readings, from the plan to what the ledger says; and one that sticks."""

import datetime
import re
import uuid

from django.db.models import F
from django.test import Client
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, pause_over
from tests.server.conftest import Logger, Workshop
from toadbell.shed.models import Maker, Vessel
from toadbell.trials.models import Trial

KEG = {
    "kind": "fermenter",
    "working_pressure": "1.8 bar",
    "plate_pressure": "2 bar",
    "relief_set": "1.8 bar",
    "volume": "20 L",
}
KIT = {
    "gauge": {"range": "4 bar", "division": "0.02 bar", "resolution": "2 mbar", "class": 0.25},
    "pump": {"stroke": "5 mL", "maximum": "10 bar"},
    "water_temperature": "16 °C",
    "pause": "1 min",
}


def typed(page: Page, reading: str) -> None:
    page.keyboard.press("r")
    page.keyboard.type(reading)
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_be_hidden()


def at_its_set(shop: Page, server: Server) -> Trial:
    """Planned from the ledger's offers, frozen, and raised to where the valve is set."""
    vessel = Vessel.hang_up(Maker.local_owner(), "Cellar keg", KEG)
    shop.goto(f"{server.url}/vessels/{vessel.pk}")
    expect(shop.get_by_test_id("ledger-says")).to_be_visible()
    shop.keyboard.press("k")
    shop.get_by_role("dialog").get_by_role("button", name=re.compile("^Relief valve")).click()
    expect(shop.get_by_label("What is tried")).to_have_value("relief")
    trial = Trial.objects.get(vessel=vessel)
    trial.change_plan({**trial.sheet, **KIT}, trial.version)
    shop.reload()
    expect(shop.get_by_text("till it lifts, three rounds")).to_be_visible()
    shop.get_by_role("button", name=re.compile("Freeze")).click()
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("button", name=re.compile("All shut"))).to_be_visible()
    shop.keyboard.press("Enter")
    trial.refresh_from_db()
    *stages, last = trial.derived().stages
    for stage in stages:
        expect(shop.get_by_test_id("now")).to_have_text(re.compile("^Raise to"))
        typed(shop, f"{stage.target / 1e5 + 0.002:.3f} bar")
        shop.keyboard.press("Enter")
        pause_over(shop, trial, stage.pause)
    typed(shop, f"{last.target / 1e5 + 0.002:.3f} bar")
    expect(shop.get_by_test_id("now")).to_have_text("Raise slowly till it lifts.")
    expect(shop.get_by_test_id("relief")).to_be_visible()
    return trial


def round_of(shop: Page, number: int, lift: str, reseat: str) -> None:
    """A round typed by its two figures."""
    for what, text in (("Lifts", lift), ("Shuts", reseat)):
        shop.get_by_role("button", name=f"Round {number}: {what}").click()
        shop.keyboard.type(text)
        shop.keyboard.press("Enter")
        expect(shop.get_by_role("dialog")).to_be_hidden()
        expect(shop.get_by_role("button", name=f"Round {number}: {what}")).to_contain_text(re.compile(r"\d"))


def test_a_valve_is_tried_thrice_by_hand_and_stands_as_good(shop: Page, server: Server) -> None:
    trial = at_its_set(shop, server)
    typed(shop, "1.81 bar")
    shop.keyboard.press("y")  # it lifts now, at what the dial showed last
    expect(shop.get_by_role("button", name="Round 1: Lifts")).to_contain_text("1.81")
    typed(shop, "1.72 bar")
    shop.keyboard.press("y")  # and shuts
    expect(shop.get_by_role("button", name="Round 1: Shuts")).to_contain_text("1.72")
    shop.get_by_role("button", name="Round 2: Lifts").click()
    shop.keyboard.type("8 mm")
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("dialog").get_by_role("alert")).to_be_visible()  # no pressure
    shop.keyboard.press("Escape")
    round_of(shop, 2, "1.80", "1.72")
    round_of(shop, 3, "1.81", "1.71")
    panel = shop.get_by_test_id("relief")
    expect(panel).to_contain_text("not lifted by hand yet")
    panel.get_by_role("button", name="free").click()
    panel.get_by_role("button", name="dry").click()
    expect(panel).to_contain_text("Good. It lifts at 1.807 bar")
    shop.get_by_role("button", name=re.compile("^Tried")).click()
    expect(shop.get_by_test_id("now")).to_have_text("Release.")
    shop.get_by_role("button", name=re.compile("^Released")).click()
    shop.goto(f"{server.url}/trials/{trial.pk}/judge")
    expect(shop.get_by_test_id("verdict")).to_contain_text("Good.")
    shop.get_by_role("button", name="Write the decision").click()
    expect(shop.get_by_role("dialog").get_by_role("radio", checked=True)).to_have_accessible_name(
        re.compile("^valve good")
    )
    shop.get_by_role("button", name="Write it down").click()
    expect(shop.get_by_test_id("record")).to_be_visible()
    expect(shop.get_by_test_id("tag").first).to_contain_text("valve good")
    shop.goto(f"{server.url}/vessels/{trial.vessel_id}")
    relief = shop.get_by_test_id("ledger").get_by_role("listitem").filter(has_text="Relief valve tried")
    expect(relief).to_contain_text("lifts at 1.807 bar")
    expect(relief).to_contain_text("before each use")


def test_a_valve_that_sticks_calls_for_a_dump_and_is_bad(shop: Page, server: Server) -> None:
    trial = at_its_set(shop, server)
    typed(shop, "2.21 bar")
    expect(shop.get_by_role("alert").first).to_contain_text("no lift")
    shop.keyboard.press("d")
    expect(shop.get_by_test_id("now")).to_contain_text("Dumped")
    shop.goto(f"{server.url}/trials/{trial.pk}/judge")
    expect(shop.get_by_test_id("verdict")).to_contain_text("Bad: take it out of use.")


def test_three_lifts_that_a_logger_read_are_found_by_their_fall_and_taken_over_by_a_key(
    shop: Page, server: Server
) -> None:
    trial = at_its_set(shop, server)
    trial.readings.update(at=F("at") - datetime.timedelta(minutes=10))  # the pauses that were hurried through
    falls = (1.80, 1.81, 1.82, 1.74, 1.72, 1.72, 1.725, 1.73, 1.75)
    rounds = [p + shift for shift in (0.0, 0.002, -0.002) for p in falls]
    logger = Logger(Workshop(Client()), str(trial.pk))
    logger.send(
        [
            {
                "id": str(uuid.uuid4()),
                "pressure": f"{bar:.3f} bar",
                "ago": f"{(len(rounds) - n) / 4} s",
            }
            for n, bar in enumerate(rounds)
        ]
    )
    offer = shop.get_by_role("button", name=re.compile("3 seen in the readings"))
    expect(offer).to_be_visible()
    shop.keyboard.press("e")
    for number, lift in ((1, "1.82"), (2, "1.822"), (3, "1.818")):
        expect(shop.get_by_role("button", name=f"Round {number}: Lifts")).to_contain_text(lift)
        expect(shop.get_by_role("button", name=f"Round {number}: Shuts")).to_contain_text("1.7")
    round_of(shop, 2, "1.815", "1.72")  # the person moves one
    panel = shop.get_by_test_id("relief")
    panel.get_by_role("button", name="free").click()
    panel.get_by_role("button", name="dry").click()
    expect(panel).to_contain_text("Good. It lifts at 1.818 bar")

"""A tank's seam found by soap, soldered, dry, and tagged: from an empty workshop, by keys."""

import datetime
import re
import uuid

from django.test import Client
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, pause_over
from tests.server.conftest import Workshop, rewind
from toadbell.shed.models import Maker, Vessel
from toadbell.trials.models import Trial

TANK = {
    "kind": "sheet-tank",
    "working_pressure": "50 mbar",
    "box": {"length": "420 mm", "width": "300 mm", "height": "220 mm", "wall": "3 mm", "material": "carbon-steel"},
}
KIT = {
    "gauge": {"range": "100 mbar", "division": "2 mbar", "resolution": "0.2 mbar"},
    "pump": {"stroke": "30 mL", "maximum": "1 bar"},
    "thermometer": {"resolution": "0.1 °C"},
    "hold": {"minimum": "10 min"},
    "acceptance": {"max_drop": "5 mbar", "over": "10 min"},
}


def typed(page: Page, reading: str) -> None:
    """A reading of the dial."""
    page.keyboard.press("r")
    page.keyboard.type(reading)
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_be_hidden()
    expect(page.get_by_test_id("pressure")).to_have_text(re.compile(reading.split()[0]))


def raised(page: Page, trial: Trial) -> None:
    """Closed up, and pumped up through the stages."""
    expect(page.get_by_role("dialog")).to_be_hidden()
    page.get_by_role("button", name=re.compile("All shut")).click()
    stages = trial.derived().stages
    for stage in stages:
        expect(page.get_by_test_id("now")).to_have_text(re.compile("^Raise"))
        typed(page, f"{stage.target / 100 + 0.4:.1f} mbar")
        page.keyboard.press("Enter")
        pause_over(page, trial, stage.pause)
    expect(page.get_by_test_id("now")).to_have_text("Shut in, and hold.")


def walked(page: Page, leaky: str = "") -> None:
    """Every section marked by a key: dry, or bubbles where it leaks."""
    if not page.get_by_test_id("soap").is_visible():
        page.keyboard.press("u")
    expect(page.get_by_test_id("soap")).to_be_visible()
    rows = page.get_by_role("list", name="Sections").get_by_role("listitem")
    names = rows.all_inner_texts()
    section = page.get_by_test_id("section")
    for key, reached in (("ArrowDown", names[1]), ("ArrowUp", names[0])):
        page.keyboard.press(key)
        expect(section).to_have_text(reached.split("\n")[1].removesuffix(" test rig").removesuffix(" vessel"))
    upto = next((n for n, name in enumerate(names) if leaky and leaky in name), len(names))
    page.keyboard.type("1" * upto)  # as quick as the fingers go: each key is the next section's
    if upto < len(names):
        expect(section).to_have_text(leaky)
        page.keyboard.press("4")
        expect(rows.nth(upto)).to_contain_text("bubbles")
        after = names[upto + 1].split("\n")[1] if upto + 1 < len(names) else leaky
        expect(section).to_have_text(after.removesuffix(" test rig").removesuffix(" vessel"))
        page.get_by_role("button", name=re.compile(leaky)).first.click()
        page.keyboard.press("1")  # a key that slipped makes no wet seam dry
        expect(page.get_by_role("dialog")).to_contain_text("nothing was mended since")
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_be_hidden()
        expect(rows.nth(upto)).to_contain_text("bubbles")
    refused = (
        page.get_by_test_id("soap").get_by_role("alert").or_(page.get_by_text("Soap shows nothing without pressure"))
    )
    for n in range(upto):
        expect(rows.nth(n).get_by_text("dry").or_(refused)).to_be_visible()
    expect(refused).to_be_hidden()


def test_a_tanks_seam_is_found_by_soap_soldered_dry_and_tagged(shop: Page, server: Server) -> None:
    owner = Maker.local_owner()
    vessel = Vessel.hang_up(owner, "Motor tank", TANK)
    shop.goto(f"{server.url}/vessels/{vessel.pk}")
    expect(shop.get_by_test_id("ledger-says")).to_contain_text("Next: plan a tightness trial.")
    shop.keyboard.press("p")
    expect(shop.get_by_label("What is tried")).to_be_visible()
    trial = Trial.objects.get(vessel=vessel)
    trial.change_plan({**trial.sheet, **KIT, "water_temperature": "16 °C"}, trial.version)
    shop.reload()
    shop.get_by_role("button", name=re.compile("Freeze")).click()
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Make it free of gas first.")
    shop.keyboard.press("Enter")
    for text in ("washed out with soda", "two days, open", "meter at nought"):
        shop.keyboard.type(text)
        shop.keyboard.press("Tab")
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("button", name=re.compile("Write it down"))).to_be_disabled()  # by whom is not said
    shop.keyboard.type("Maren")
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Close it up.")
    trial.refresh_from_db()
    raised(shop, trial)
    walked(shop, leaky="Bottom seam")
    expect(shop.get_by_text("Bottom seam: a leak of the vessel itself.")).to_be_visible()
    shop.keyboard.press("l")  # the section, its owner, its grade and its place come with it
    expect(shop.get_by_role("radio", name=re.compile("The vessel itself"))).to_be_checked()
    expect(shop.get_by_label("Where, and how fast")).to_have_value("Bottom seam")
    shop.get_by_label("And now").select_option("0")
    shop.get_by_role("button", name="Write it down").click()
    expect(shop.get_by_role("dialog")).to_be_hidden()
    expect(shop.get_by_test_id("now")).to_contain_text("Then log the zero.")
    typed(shop, "0 mbar")
    shop.get_by_role("button", name="What was done about Bottom seam").click()
    shop.keyboard.type("soldered, bottom seam, 40 mm")
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("log")).to_contain_text("Bottom seam: soldered")
    for answered in shop.get_by_role("button", name=re.compile("Go on")).all():
        answered.click()
        shop.keyboard.type("released, soldered")
        shop.keyboard.press("Enter")
    Trial.objects.filter(pk=trial.pk).update(hand="")  # nobody holds the run
    workshop = Workshop(Client())
    stages = trial.derived().stages
    for stage in stages:  # the second round
        workshop.read(str(trial.pk), f"{stage.target / 100 + 0.4:.1f} mbar", "16.0")
        workshop.step(str(trial.pk), "stage-reached")
        rewind(str(trial.pk), stage.pause + 1)
    shop.reload()
    expect(shop.get_by_test_id("now")).to_have_text("Shut in, and hold.")
    walked(shop)
    bench = workshop.step(str(trial.pk), "shut-in")
    began, top = datetime.datetime.fromisoformat(bench["since"]), bench["hold"]["shut_in"] / 100
    rewind(str(trial.pk), 660)
    readings = [
        {
            "id": str(uuid.uuid4()),
            "pressure": f"{top:.2f} mbar",
            "temperature": "16.00",
            "at": (began + datetime.timedelta(minutes=minute)).isoformat(),
        }
        for minute in range(0, 11)
    ]
    workshop.post(f"/trials/{trial.pk}/readings", readings)
    for step in ("hold-ended", "looked", "released"):
        workshop.step(str(trial.pk), step)
    workshop.post(f"/trials/{trial.pk}/judge")
    shop.goto(f"{server.url}/trials/{trial.pk}/judge")
    expect(shop.get_by_test_id("verdict")).to_contain_text("Tight")
    soaped = shop.get_by_role("listitem").filter(has_text="Soaped all round")
    expect(soaped).to_contain_text("none leaks")
    shop.keyboard.press("Enter")
    shop.get_by_role("button", name="Write it down").click()
    expect(shop.get_by_test_id("record")).to_be_visible()
    shop.goto(f"{server.url}/vessels/{vessel.pk}")
    expect(shop.get_by_test_id("tag-line")).to_contain_text("Tight at 50 mbar; no strength is claimed.")
    expect(shop.get_by_test_id("ledger")).to_contain_text("tight at 50 mbar in trial 1")

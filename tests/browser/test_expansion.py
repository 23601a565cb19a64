"""An expansion trial of an air receiver that keeps six per cent, from the plan by keys to the record; and one at which
the simulated rig's measure is read.
"""

import re

from django.test import Client
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, pause_over
from tests.server.conftest import Workshop, rewind
from toadbell.trials.models import Trial

BOTTLE = {
    "working_pressure": "14 bar",
    "plate_pressure": "16 bar",
    "shell": {
        "form": "cylinder",
        "inside_diameter": "180 mm",
        "length": "420 mm",
        "wall": "2.4 mm",
        "wall_measured": True,
        "material": "carbon-steel",
    },
    "ends": [{"form": "ellipsoidal", "wall": "2.4 mm"}, {"form": "ellipsoidal", "wall": "2.4 mm"}],
}
FINE = {
    "trapped_air": "0.5 mL",
    "gauge": {"range": "40 bar", "division": "0.2 bar", "resolution": "0.05 bar"},
    "pump": {"stroke": "2 mL", "maximum": "60 bar"},
}


def planned(shop: Page, server: Server) -> str:
    """A proof's plan made one of expansion on the board, and frozen; gives the trial's id."""
    workshop = Workshop(Client())
    bottle = workshop.vessel("Moorhen bottle", **BOTTLE)
    trial = str(workshop.planned(bottle, **FINE)["id"])
    shop.goto(f"{server.url}/trials/{trial}/plan")
    shop.get_by_label("What is tried").select_option("expansion")
    shop.get_by_role("tab", name=re.compile("Kit and water")).click()
    shop.get_by_label("Measure reads to").fill("0.1 mL")
    shop.get_by_label("Tape reads to").fill("0.2 mm")
    shop.get_by_label("Tape reads to").press("Tab")
    shop.get_by_role("button", name=re.compile("Freeze")).click()
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    return trial


def written(page: Page, text: str, again: bool = False) -> None:
    """What is measured next, by its key."""
    page.keyboard.press("y")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.keyboard.type(text)
    page.keyboard.press("Enter")
    if not again:
        expect(page.get_by_role("dialog")).to_be_hidden()


def read(page: Page, pressure: str) -> None:
    page.keyboard.press("r")
    page.keyboard.type(pressure)
    page.keyboard.press("Tab")
    page.keyboard.type("16.00")
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_be_hidden()


def test_a_receiver_that_keeps_six_per_cent_is_told_from_plan_to_record(shop: Page, server: Server) -> None:
    trial = planned(shop, server)
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Fill, and shut the vent.")
    shop.keyboard.press("u")
    panel = shop.get_by_test_id("expansion")
    expect(panel.get_by_role("button", name="Girth at middle, before", exact=True)).to_be_enabled()
    written(shop, "117 bar", again=True)
    expect(shop.get_by_role("dialog")).to_contain_text("length")
    shop.get_by_label("mm where nothing else is said").fill("580.2")
    shop.keyboard.press("Enter")
    expect(panel.get_by_role("button", name="Girth at middle, before", exact=True)).to_have_text("580.2")
    shop.keyboard.press("Enter")
    run = Trial.objects.get(pk=trial)
    for stage in run.derived().stages:
        expect(shop.get_by_test_id("now")).to_have_text(re.compile("^Raise to"))
        read(shop, f"{stage.target / 1e5 + 0.03:.2f}")
        shop.keyboard.press("Enter")
        pause_over(shop, run, stage.pause)
    expect(shop.get_by_test_id("now")).to_have_text("Shut in, and hold.")
    shop.keyboard.press("h")
    expect(shop.get_by_test_id("now")).to_have_text("Hands off.")
    shop.keyboard.press("u")
    written(shop, "22.1")
    expect(panel.get_by_role("button", name="Water that went in")).to_have_text("22.1")
    rewind(trial, 1900)
    read(shop, "21.05")
    expect(shop.get_by_test_id("now")).to_have_text(re.compile("^(End|The hold)|Hands off"))
    for says in ("Come down", "Look closely", "Release", "Open the vent"):
        expect(shop.get_by_role("dialog")).to_be_hidden()
        shop.keyboard.press("Enter")
        expect(shop.get_by_test_id("now")).to_have_text(re.compile(f"^{says}"))
    if not panel.is_visible():
        shop.keyboard.press("u")
    written(shop, "21.5 mL")
    written(shop, "580.2")
    expect(panel).to_contain_text("of what it gave stayed, 10 % is let pass")
    expect(panel).to_contain_text("Mean wall by what it gave")
    shop.goto(f"{server.url}/trials/{trial}/judge")
    expect(shop.get_by_role("heading", name="The hold is over. Is it tight?")).to_be_visible()
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("expansion")).to_contain_text("It came back")
    line = shop.get_by_role("listitem").filter(has_text="No permanent set")
    expect(line).to_contain_text("It came back")
    shop.get_by_role("button", name="Write the decision").click()
    shop.get_by_role("button", name="Write it down").click()
    expect(shop.get_by_test_id("record")).to_contain_text("What it gave and kept")

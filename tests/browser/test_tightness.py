"""A tightness trial under air, from the plan board to the tag on the shelf."""

import re

from django.test import Client
from playwright.sync_api import Page, expect

from tests.browser.conftest import KIT, Server
from tests.server.conftest import Workshop, run
from toadbell.shed.models import Maker, Vessel
from toadbell.trials.models import Trial

COOLER = {"kind": "cooler", "working_pressure": "1 bar", "volume": "3 L"}


def test_a_cooler_is_tried_under_a_little_air_and_tagged_tight(shop: Page, server: Server) -> None:
    owner = Maker.local_owner()
    vessel = Vessel.hang_up(owner, "Oil cooler", COOLER)
    trial = Trial.plan_for(vessel, owner)
    kit = {**KIT, "basis": None, "gauge": {"range": "1 bar", "division": "0.01 bar"}, "hold": {"minimum": "10 min"}}
    trial.change_plan(
        {**trial.sheet, **kit, "medium": "water", "acceptance": {"max_drop": "0.05 bar", "over": "10 min"}}, 1
    )
    shop.goto(f"{server.url}/trials/{trial.pk}/plan")
    shop.get_by_label("What is tried").select_option("tightness")
    shop.get_by_label("Under", exact=True).select_option("air")
    held = shop.get_by_label("Held at")
    held.fill("1.2")
    expect(shop.get_by_text("at the wanted pressure or below it").first).to_be_visible()
    held.fill("0.3 bar")
    expect(shop.get_by_role("heading", name="Test pressure", exact=True).locator("..")).to_contain_text("0.3 bar")
    shop.get_by_role("button", name=re.compile("Freeze")).click()
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    trial.refresh_from_db()
    run(Workshop(Client()), str(trial.pk), to=9)
    shop.reload()
    expect(shop.get_by_test_id("log")).to_contain_text("closed up, all shut")
    expect(shop.get_by_role("list", name="After the hold")).not_to_contain_text("Drained")
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Soapy water over every seam and fitting.")
    shop.keyboard.press("l")
    expect(shop.get_by_role("radio", name="growing foam")).to_be_checked()
    shop.keyboard.press("Escape")
    expect(shop.get_by_role("dialog")).to_be_hidden()
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Release.")
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Done. Now judge it.")
    shop.keyboard.press("Enter")
    shop.get_by_role("button", name=re.compile("Judge")).click()
    expect(shop.get_by_test_id("verdict")).to_contain_text("Tight")
    expect(shop.get_by_text("in drops")).to_be_hidden()
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("radio", name=re.compile("tight"))).to_be_checked()
    expect(shop.get_by_label("Pressure it is tight at")).to_have_value("0.3 bar")
    shop.get_by_role("button", name="Write it down").click()
    expect(shop.get_by_test_id("record")).to_be_visible()
    shop.goto(server.url)
    tag = shop.get_by_role("listitem").filter(has_text="Oil cooler").get_by_test_id("tag")
    expect(tag).to_have_text(re.compile("tight.*0.3 bar|tight.*300 mbar"))

"""A baseline night and the night after: planned, refused till it is said how the rig is known tight, kept on the board,
chosen for the next hold with how alike both are, and told beside its verdict.
"""

import re

from django.test import Client
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.server.conftest import Workshop
from tests.server.test_baseline import KIT, held, loop
from toadbell.trials.models import Trial


def test_a_baseline_night_and_the_night_after(shop: Page, server: Server) -> None:
    workshop = Workshop(Client())
    first = loop(workshop)
    shop.goto(f"{server.url}/vessels/{first}")
    expect(shop.get_by_test_id("ledger")).to_contain_text("Baseline")
    shop.keyboard.press("k")
    shop.get_by_role("dialog").get_by_role("button", name=re.compile("^Baseline")).click()
    expect(shop.get_by_label("What is tried")).to_have_value("baseline")
    night = Trial.objects.get(vessel=first)
    night.change_plan({**night.sheet, **KIT, "tight_at": "3 bar"}, night.version)
    shop.reload()
    expect(shop.get_by_text("Say how this rig is known to be tight")).to_be_visible()
    shop.get_by_role("tab", name="Hold").click()
    expect(shop.get_by_role("textbox", name="Rig")).to_have_value("Blue hose rig")
    shop.get_by_label("Known tight by").fill("blanked at the manifold, soaped")
    expect(shop.get_by_text("Say how this rig is known to be tight")).to_be_hidden()
    expect(shop.get_by_role("button", name=re.compile("Freeze"))).to_be_enabled()
    held(workshop, str(night.pk))
    shop.goto(f"{server.url}/kit")
    shop.get_by_role("button", name=re.compile("^Blue hose rig")).click()
    expect(shop.get_by_role("region", name="What it did by itself")).to_contain_text("held at")
    second = loop(workshop, "Kitchen loop")
    plan = workshop.post(f"/vessels/{second}/trials", {"basis": "tight"})
    sheet = {**plan["sheet"], **KIT, "medium": "water", "tight_at": "3 bar", "place": "Kitchen"}
    workshop.put(f"/trials/{plan['id']}/plan", {"sheet": sheet, "version": plan["version"]})
    shop.goto(f"{server.url}/trials/{plan['id']}/plan")
    shop.get_by_role("tab", name="Hold").click()
    shop.get_by_label("Accepted up to").select_option("baseline")
    told = shop.get_by_test_id("alike")
    expect(told).to_contain_text("Not alike in place")
    shop.get_by_role("textbox", name="Place").fill("Glasshouse")
    expect(told).not_to_contain_text("Not alike")
    expect(told).to_contain_text("As far as is known it is alike")
    expect(shop.get_by_role("button", name=re.compile("Freeze"))).to_be_enabled()
    held(workshop, plan["id"])
    shop.goto(f"{server.url}/trials/{plan['id']}/judge")
    expect(shop.get_by_test_id("alike")).to_contain_text("may be held against it")

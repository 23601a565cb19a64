"""A dial without a thermometer: its hold alone cannot be told; with a low hold before and after it can, from the plan
to the record.
"""

import re

from django.test import Client
from playwright.sync_api import Page, expect

from tests.browser.conftest import SHEET, Server
from tests.server.conftest import Workshop, rewind
from tests.server.test_low_holds import KIT, read_for
from toadbell.shed.models import Maker, Vessel
from toadbell.trials.models import Trial

PLAN = {
    **KIT,
    "water_temperature": "16 degC",
    "pump": {"stroke": "12 mL", "maximum": "40 bar"},
    "pause": "1 min",
    "acceptance": {"max_leak": "80 mL/h"},
}


def test_low_holds_are_chosen_walked_and_decide_the_verdict(shop: Page, server: Server) -> None:
    owner = Maker.local_owner()
    trial = Trial.plan_for(Vessel.hang_up(owner, "Wharf tank", SHEET), owner)
    plan = {key: value for key, value in PLAN.items() if value is not None}
    trial.change_plan({**trial.sheet, **plan, "basis": "proof-150"}, 1)
    workshop, key = Workshop(Client()), str(trial.pk)
    shop.goto(f"{server.url}/trials/{key}/plan")
    low = shop.get_by_role("checkbox", name=re.compile("Low holds of 10 min"))
    expect(low).not_to_be_checked()
    shop.keyboard.press("l")
    expect(low).to_be_checked()
    freeze = shop.get_by_role("button", name="Freeze and go to the bench")
    expect(freeze).to_be_enabled()
    freeze.click()
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    stages = workshop.post(f"/trials/{key}/start", {"source": "dial"})["answer"]["stages"]
    workshop.step(key, "vent-shut")
    now = shop.get_by_test_id("now")
    for number, stage in enumerate(stages):
        workshop.read(key, f"{stage['target'] / 1e5 + 0.05:.2f} bar")
        workshop.step(key, "stage-reached")
        if number == 0:
            expect(now).to_have_text("Shut in, and hold low.")
            shop.get_by_role("button", name=re.compile("^Low hold")).click()
            expect(now).to_have_text("Low hold. Hands off.")
            expect(shop.get_by_text("low hold, to the bell")).to_be_visible()
            read_for(workshop, key, 3.25, 10, 2)
            workshop.step(key, "strokes", count=5)
        rewind(key, stage["pause"] + 1)
    workshop.step(key, "shut-in")
    read_for(workshop, key, stages[-1]["target"] / 1e5, 30, 3)
    workshop.step(key, "hold-ended", reason="")
    expect(now).to_have_text("Come down to 8.5 bar.")
    workshop.step(key, "came-down")
    workshop.step(key, "looked")
    expect(now).to_have_text("Down to 3.19 bar, shut, and hold low.")
    workshop.read(key, "3.2 bar")
    shop.get_by_role("button", name=re.compile("^Low hold")).click()
    expect(now).to_have_text("Low hold. Hands off.")
    read_for(workshop, key, 3.2, 10, 2)
    for kind in ("released", "vent-open", "emptied", "dried"):
        workshop.step(key, kind)
    workshop.post(f"/trials/{key}/judge")
    shop.goto(f"{server.url}/trials/{key}/judge")
    expect(shop.get_by_test_id("verdict")).to_contain_text("Tight")
    drawn = shop.get_by_test_id("stretches").get_by_role("img")
    expect(drawn).to_have_attribute("aria-label", re.compile("a low hold moved .*the hold moved .*a low hold moved"))
    shop.keyboard.press("Enter")
    shop.get_by_role("button", name="Write it down").click()
    record = shop.get_by_test_id("record")
    expect(record).to_contain_text("Tight")
    expect(record).to_contain_text("shut in for a low hold at 3.2")

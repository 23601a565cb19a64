"""A digester held over a night with its barometer, by keys: hung up in centimetres of water, told in litres a day."""

import re

from django.test import Client
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.server.conftest import Workshop, rewind
from tests.server.test_gas_head import DIGESTER, KIT, TARGET
from toadbell.trials.models import Trial


def typed(page: Page, key: str, text: str) -> None:
    page.keyboard.press(key)
    expect(page.get_by_role("dialog")).to_be_visible()
    page.keyboard.type(text)
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_be_hidden()


def test_a_digester_over_a_night(shop: Page, server: Server) -> None:
    workshop = Workshop(Client())
    shop.goto(f"{server.url}/vessels/new")
    shop.get_by_label("Name").first.fill("Yard digester")
    shop.get_by_label("What it is").select_option("digester")
    shop.get_by_label("Wanted pressure").fill("22")
    expect(shop.get_by_label("Wanted pressure")).to_have_value("22")
    expect(shop.get_by_text("21.57 mbar").first).to_be_visible()
    shop.get_by_label("Wanted pressure").fill("9 in")
    expect(shop.get_by_text("22.42 mbar").first).to_be_visible()
    digester = workshop.post("/vessels", {"name": "Yard digester", "sheet": DIGESTER})
    shop.goto(f"{server.url}/vessels/{digester['id']}")
    expect(shop.get_by_test_id("ledger")).to_contain_text("Gas head")
    shop.keyboard.press("p")
    expect(shop.get_by_label("What is tried")).to_have_value("gas-head")
    trial = Trial.objects.get(vessel=digester["id"])
    trial.change_plan({**trial.sheet, **KIT, "holder": None, "barometer": False}, trial.version)
    shop.reload()
    shop.get_by_role("tab", name="Kit and water").click()
    expect(shop.get_by_text("say how wide that pipe is")).to_be_visible()
    shop.get_by_label("Gas is held by").select_option("container")
    shop.get_by_label("Fed, or warm from it?").select_option("no")
    shop.get_by_label("It makes a day").fill("250")
    shop.get_by_label("Barometer").select_option("yes")
    expect(shop.get_by_text("say how wide that pipe is")).to_be_hidden()
    expect(shop.get_by_text("Read a barometer along")).to_be_hidden()
    shop.get_by_role("tab", name="Hold").click()
    expect(shop.get_by_text("it is left 45 min to settle")).to_be_visible()
    expect(shop.get_by_text(re.compile("this kit can tell .* L/day"))).to_be_visible()
    shop.get_by_role("button", name=re.compile("Freeze")).click()
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Close it up.")
    shop.keyboard.press("Enter")
    trial.refresh_from_db()
    for stage in trial.derived().stages:
        expect(shop.get_by_test_id("now")).to_have_text(re.compile("Raise to"))
        if stage.name == trial.derived().stages[0].name:
            shop.keyboard.press("h")  # a slip: the plan goes further
            expect(shop.get_by_role("dialog")).to_contain_text("A hold at less shows nothing above")
            shop.keyboard.press("Escape")
            expect(shop.get_by_role("dialog")).to_be_hidden()
        typed(shop, "r", f"{stage.target / 98.0665 + 0.2:.2f}")  # cm of water
        shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Let it settle for 45 min, then shut it in.")
    shop.keyboard.press("h")
    expect(shop.get_by_test_id("now")).to_have_text("Hands off.")
    shop.keyboard.press("z")
    panel, log = shop.get_by_test_id("gas"), shop.get_by_test_id("log")
    typed(shop, "y", "1013.4")
    expect(panel.get_by_role("button", name="Barometer")).to_contain_text("1013.4 hPa")
    expect(log).to_contain_text("the barometer: 1013.4 hPa")
    shop.keyboard.press("y")
    shop.keyboard.type("150")  # a slip: no such weather
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("dialog").get_by_role("alert")).to_contain_text("check the unit")
    shop.keyboard.press("Escape")
    expect(shop.get_by_role("dialog")).to_be_hidden()
    typed(shop, "y", "14.5")
    expect(panel.get_by_role("button", name="Outside")).to_contain_text("14.5 °C")
    Trial.objects.filter(pk=trial.pk).update(hand="")
    for half in range(21):
        workshop.read(str(trial.pk), f"{TARGET / 100 + 0.2 - half * 0.235:.2f} mbar", f"{15 - half / 20:.1f}")
        rewind(str(trial.pk), 1800)
    workshop.step(str(trial.pk), "observed", what="barometer", place="1", text="1013.2 hPa")
    for section in workshop.get(f"/trials/{trial.pk}/bench")["sections"]:
        workshop.step(str(trial.pk), "observed", what="soap", place=section["id"], word="dry")
    for step in ("hold-ended", "came-down", "looked", "released"):
        workshop.step(str(trial.pk), step)
    shop.goto(f"{server.url}/trials/{trial.pk}/judge")
    shop.get_by_role("button", name=re.compile("Judge the hold")).click()
    expect(shop.get_by_test_id("verdict")).to_contain_text("it loses less than")
    expect(shop.get_by_text("of what it makes")).to_be_visible()
    shop.get_by_role("button", name="Write the decision").click()
    shop.get_by_role("button", name="Write it down").click()
    expect(shop.get_by_test_id("record")).to_contain_text("L/day")
    shop.goto(f"{server.url}/vessels/{digester['id']}")
    line = shop.get_by_test_id("ledger").get_by_role("listitem").filter(has_text="Gas head")
    expect(line).not_to_contain_text("not known")

"""A design hung up, its third article taken to failure by keys, a flight article that inherits it, one that departs."""

import re

from django.test import Client
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.test_gas_head import typed
from tests.server.conftest import Workshop
from tests.server.test_burst import CASE, KIT, SHELL, burst, chamber
from toadbell.trials.models import Trial


def test_a_design_of_three_articles_a_flight_article_and_one_that_departs(shop: Page, server: Server) -> None:
    workshop = Workshop(Client())
    shop.goto(f"{server.url}/kit")
    shop.get_by_role("button", name=re.compile("^Hang up")).first.click()
    shop.get_by_label("What it is").select_option("design")
    for label, text in (
        ("Name", "Plover 54"),
        ("Wanted pressure", "60"),
        ("Inside diameter", "54"),
        ("Wall", "2.4"),
        ("Material", "aluminum"),
        ("Closure", "radial screws"),
    ):
        shop.get_by_label(label, exact=False).first.fill(text)
    shop.get_by_role("button", name=re.compile("^Hang it up")).click()
    expect(shop.get_by_text("is not a known material").first).to_be_visible()  # a slip, and what would do is said
    shop.get_by_label("Material").fill("aluminium-6061")
    shop.get_by_role("button", name=re.compile("^Hang it up")).click()
    expect(shop.get_by_role("button", name=re.compile("Plover 54"))).to_be_visible()
    for n, at in ((1, 292), (2, 288)):
        burst(workshop, f"Article {n}", at)
    article = chamber(workshop, "Article 3")
    shop.goto(f"{server.url}/vessels/{article}")
    expect(shop.get_by_test_id("ledger")).to_contain_text("Burst of its design")
    shop.keyboard.press("k")
    shop.get_by_role("dialog").get_by_role("button", name=re.compile("^Taken to failure")).click()
    expect(shop.get_by_label("What is tried")).to_have_value("burst")
    trial = Trial.objects.get(vessel=article)
    trial.change_plan({**trial.sheet, **KIT}, trial.version)
    shop.reload()
    expect(shop.get_by_text("frame its ends")).to_be_visible()
    shop.get_by_role("button", name=re.compile("Freeze")).click()
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Fill, and shut the vent.")
    shop.keyboard.press("Enter")
    panel, log = shop.get_by_test_id("burst"), shop.get_by_test_id("log")
    expect(panel).to_contain_text("whole so far")
    typed(shop, "r", "170")
    shop.keyboard.press("y")
    expect(log).to_contain_text("heard: crack")
    typed(shop, "r", "290")
    shop.keyboard.press("x")
    dialog = shop.get_by_role("dialog")
    dialog.get_by_label("Where").select_option("middle")
    dialog.get_by_label("At").fill("29000")
    dialog.get_by_role("button", name="Write it down").click()
    expect(dialog.get_by_role("alert")).to_contain_text("Nothing was stored yet")
    dialog.get_by_label("At").fill("")
    dialog.get_by_role("button", name="Write it down").click()
    expect(dialog).to_be_hidden()
    expect(panel).to_contain_text("290 bar, hoop split, middle")
    expect(panel).to_contain_text("It bears what is asked: by 3 articles")
    Trial.objects.filter(pk=trial.pk).update(hand="")
    for step in ("tried", "released"):
        workshop.step(str(trial.pk), step)
    shop.goto(f"{server.url}/trials/{trial.pk}/judge")
    expect(shop.get_by_test_id("burst-of-design")).to_contain_text("Article 3")
    shop.get_by_role("button", name="Write the decision").click()
    shop.get_by_role("button", name="Write it down").click()
    expect(shop.get_by_test_id("record")).to_contain_text("Taken to failure")
    flight = chamber(workshop, "Plover flight")
    shop.goto(f"{server.url}/vessels/{flight}")
    line = shop.get_by_test_id("ledger").get_by_role("listitem").filter(has_text="Burst of its design")
    expect(line).to_contain_text("It bears what is asked")
    wide = workshop.post(
        "/vessels", {"name": "Plover wide", "sheet": {**CASE, "shell": {**SHELL, "inside_diameter": "70 mm"}}}
    )
    shop.goto(f"{server.url}/vessels/{wide['id']}")
    line = shop.get_by_test_id("ledger").get_by_role("listitem").filter(has_text="Burst of its design")
    expect(line).to_contain_text("its hoop stress by +30%")

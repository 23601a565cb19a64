"""The judge's room as a maker meets it the evening after: what is said first, what it rests on, what if, and the
decision.
"""

import re

import pytest
from django.test import Client
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.server.conftest import Workshop
from tests.server.test_judge_and_record import held, knocked
from tests.wharf import hang_up_the_wharf
from toadbell.trials.models import Decision, Trial, Verdict


@pytest.fixture
def demo(shop: Page, server: Server) -> dict[tuple[str, int], str]:
    """The demo workshop's trials, by vessel and number: the path of each one's judge."""
    hang_up_the_wharf()
    return {
        (trial.vessel.name, trial.number): f"{server.url}/trials/{trial.pk}/judge"
        for trial in Trial.objects.select_related("vessel")
    }


def test_a_tight_hold_is_said_first_and_every_line_leads_to_what_it_rests_on(
    shop: Page, demo: dict[tuple[str, int], str]
) -> None:
    shop.goto(demo["Wharf receiver", 3])
    expect(shop.get_by_test_id("verdict")).to_contain_text("Tight.")
    expect(shop.get_by_text("Cooling accounts for all of that")).to_be_visible()
    expect(shop.get_by_text("limited", exact=True).first).to_be_visible()
    shop.get_by_text("how this was worked out").click()
    expect(shop.get_by_text("probability that the leak at shut-in is no more than the limit")).to_be_visible()
    shop.get_by_role("link", name="Kit suited and calibrated: see the kit").click()
    expect(shop).to_have_url(re.compile("/kit$"))


def test_a_leak_that_warming_hid_from_the_eye_is_told(shop: Page, demo: dict[tuple[str, int], str]) -> None:
    shop.goto(demo["Glasshouse loop", 1])
    expect(shop.get_by_test_id("verdict")).to_contain_text("Leaking.")
    expect(
        shop.get_by_text("By the gauge alone it would pass: the pressure did not fall. Warming held it up")
    ).to_be_visible()


def test_one_that_cannot_be_told_says_what_would_settle_it(shop: Page, demo: dict[tuple[str, int], str]) -> None:
    shop.goto(demo["Glasshouse loop", 2])
    expect(shop.get_by_test_id("verdict")).to_contain_text("Cannot tell.")
    expect(shop.get_by_test_id("settle")).to_contain_text("A thermometer that shows")
    expect(shop.get_by_test_id("settle")).to_contain_text(re.compile(r"A hold \d+ (min|h).* longer"))
    shop.keyboard.press("o")
    expect(shop.get_by_role("img", name=re.compile("The hold over"))).to_contain_text("trial 1, laid over")


def test_the_same_is_told_after_a_longer_hold(shop: Page, server: Server) -> None:
    workshop = Workshop(Client())
    blind = {"thermometer": None, "acceptance": {"max_leak": "4 mL/h"}}
    short, long = held(workshop, minutes=30, **blind), held(workshop, minutes=480, **blind)
    Trial.objects.get(pk=long).readings.update(temperature=None)
    Trial.objects.get(pk=short).readings.update(temperature=None)
    for trial, says in ((short, "Cannot tell."), (long, "Tight.")):
        shop.goto(f"{server.url}/trials/{trial}/judge")
        expect(shop.get_by_role("heading", name="The hold is over. Is it tight?")).to_be_visible()
        shop.keyboard.press("Enter")
        expect(shop.get_by_test_id("verdict")).to_contain_text(says)


def test_what_if_answers_at_once_by_keys_and_goes_back_to_the_record(
    shop: Page, demo: dict[tuple[str, int], str]
) -> None:
    shop.goto(demo["Wharf receiver", 3])
    verdict = shop.get_by_test_id("verdict")
    expect(verdict).to_contain_text("Tight.")
    shop.keyboard.press("t")
    expect(verdict).to_contain_text("Cannot tell.")
    expect(shop.get_by_text("What if. The record says: Tight.")).to_be_visible()
    shop.keyboard.press("Backspace")
    expect(verdict).to_contain_text("Tight.")
    limit = shop.get_by_label("What if the limit were")
    limit.focus()
    for _ in range(12):
        shop.keyboard.press("ArrowLeft")
    expect(limit).to_have_attribute("aria-valuetext", "0.25 mL/h")
    expect(verdict).to_contain_text("the limit is 0.25 mL/h")
    assert Verdict.objects.get(trial__vessel__name="Wharf receiver", trial__number=3).answer["verdict"] == "tight"


def test_a_step_is_named_and_put_back_by_hand(shop: Page, server: Server) -> None:
    shop.goto(f"{server.url}/trials/{knocked(Workshop(Client()))}/judge")
    shop.get_by_role("button", name="Judge the hold").click()
    verdict = shop.get_by_test_id("verdict")
    expect(verdict).to_contain_text("Tight.")
    expect(shop.get_by_label("Found in the log")).to_contain_text("it fell 0.5 bar at once")
    shop.get_by_role("button", name="Put it back").click()
    expect(verdict).not_to_contain_text("Tight.")
    shop.get_by_role("button", name="Cut it out").click()
    expect(verdict).to_contain_text("Tight.")


def test_a_less_cautious_decision_asks_for_a_reason_that_stays(shop: Page, demo: dict[tuple[str, int], str]) -> None:
    shop.goto(demo["Glasshouse loop", 2])
    expect(shop.get_by_test_id("verdict")).to_be_visible()
    shop.keyboard.press("Enter")
    sheet = shop.get_by_role("dialog")
    sheet.get_by_text("for the pressure wanted").click()
    sheet.get_by_label("Working pressure it is fit for").fill("3 bar")
    sheet.get_by_role("button", name="Write it down").click()
    expect(sheet.get_by_role("alert")).to_contain_text("goes further than the evidence")
    sheet.get_by_label("Why, in a sentence").fill("Held dry overnight with paper under every union.")
    sheet.get_by_role("button", name="Write it down").click()
    expect(shop.get_by_text("The decision goes further.")).to_be_visible()
    expect(shop.get_by_text("Held dry overnight with paper under every union.")).to_be_visible()
    assert Decision.objects.get(trial__vessel__name="Glasshouse loop", trial__number=2).less_cautious


def test_the_room_fits_a_phone(shop: Page, demo: dict[tuple[str, int], str]) -> None:
    shop.set_viewport_size({"width": 390, "height": 844})
    shop.goto(demo["Glasshouse loop", 1])
    expect(shop.get_by_test_id("verdict")).to_be_visible()
    assert shop.evaluate("document.documentElement.scrollWidth") <= 390


def test_a_plan_may_ask_for_no_more_than_an_earlier_hold(shop: Page, demo: dict[tuple[str, int], str]) -> None:
    shop.goto(demo["Glasshouse loop", 2].replace("/judge", "/plan"))
    expect(shop.get_by_role("heading", name="Glasshouse loop")).to_be_visible()
    planned = Workshop(Client()).post(
        f"/vessels/{Trial.objects.get(vessel__name='Glasshouse loop', number=1).vessel_id}/trials"
    )
    shop.goto(demo["Glasshouse loop", 2].rsplit("/", 2)[0] + f"/{planned['id']}/plan")
    shop.get_by_role("tab", name="Hold").click()
    shop.get_by_label("Accepted up to").select_option(label="k × an earlier hold")
    shop.get_by_label("The hold known tight").select_option(label="trial 1: leaking")
    expect(shop.get_by_label("Leak at most so many times its")).to_have_value("2")

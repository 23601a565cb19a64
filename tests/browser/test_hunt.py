"""A gauge glass that leaks: counted, released before it is touched, tightened twice, sealed, and waited for; its whole
story on a page of its own.
"""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.server.conftest import rewind
from toadbell.trials.models import Trial


def mended(shop: Page, act: str, words: str = "") -> None:
    """What was done, by its key and in words."""
    shop.get_by_role("button", name="What was done about gauge glass").click()
    dialog = shop.get_by_role("dialog")
    shop.keyboard.type(words)
    dialog.get_by_role("button", name=act, exact=True).click()


def kept(shop: Page) -> None:
    """Written down."""
    shop.get_by_role("dialog").get_by_role("button", name="Write it down").click()
    expect(shop.get_by_role("dialog")).to_be_hidden()


def test_a_gauge_glass_is_counted_tightened_twice_replaced_and_left_to_cure(
    shop: Page, server: Server, frozen: str
) -> None:
    shop.goto(frozen)
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Fill, and shut the vent.")
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text(re.compile("Raise to"))
    shop.keyboard.press("r")
    shop.keyboard.type("4")
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("dialog")).to_be_hidden()
    shop.keyboard.press("l")
    dialog = shop.get_by_role("dialog")
    dialog.get_by_role("radio", name=re.compile("A fitting of the vessel")).check()
    dialog.get_by_label("Where, and how fast").fill("gauge glass")
    dialog.get_by_role("radio", name="drip").check()
    dialog.get_by_label("drops counted").fill("10")
    dialog.get_by_label("Found by").select_option("dry paper")
    kept(shop)
    leaks = shop.get_by_role("region", name="Leaks")
    expect(leaks).to_contain_text("counted: 60, 27 to 120 mL/h")
    mended(shop, "tightened", "gland, an eighth")
    expect(dialog).to_contain_text("This fitting is soaped or held anew")
    dialog.get_by_role("button", name="Write it down").click()
    expect(dialog.get_by_role("alert")).to_contain_text("Release first: nothing is tightened under pressure")
    shop.keyboard.press("Escape")
    shop.keyboard.press("b")
    shop.get_by_label("To no pressure, and vent again").check()
    shop.get_by_label("Why?").fill("to tighten it")
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Fill, and shut the vent.")
    for words in ("gland, an eighth", "another eighth, it crossed its thread"):
        mended(shop, "tightened", words)
        kept(shop)
        expect(shop.get_by_test_id("log")).to_contain_text(words)
    mended(shop, "tightened")
    expect(dialog).to_contain_text("Tightened twice already. Take it apart")
    dialog.get_by_role("button", name="tightened", exact=True).click()
    dialog.get_by_role("button", name="re-sealed", exact=True).click()
    dialog.get_by_label("With").select_option("thread-sealant")
    kept(shop)
    expect(shop.get_by_test_id("now")).to_have_text("Wait till it has cured.")
    trial = Trial.objects.get()
    rewind(str(trial.pk), 40 * 3600)
    expect(shop.get_by_test_id("now")).to_have_text("Fill, and shut the vent.")
    shop.goto(f"{server.url}/vessels/{trial.vessel_id}")
    shop.get_by_role("link", name="Its leaks, and what was tried on them").click()
    story = shop.get_by_test_id("leak-story")
    expect(story).to_contain_text("first seen at 4 bar")
    expect(story.get_by_role("listitem")).to_have_count(4)
    expect(story.get_by_role("listitem").last).to_contain_text("re-sealed, with thread sealant")

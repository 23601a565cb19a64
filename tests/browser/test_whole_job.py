"""The whole job as a person does it: from an empty shed to the printed record, on the simulated rig at sixty times the
clock.
"""

import re
import time

import pytest
from playwright.sync_api import Page, expect

from tests.server.conftest import rewind
from toadbell.trials.models import Reading, Trial


def fill(page: Page, label: str, text: str) -> None:
    page.get_by_label(label, exact=False).first.fill(text)


@pytest.mark.usefixtures("at_the_shed")
def test_from_an_empty_shed_to_the_printed_record(shop: Page) -> None:
    expect(shop.get_by_role("heading", name="Hang up your first vessel")).to_be_visible()
    shop.keyboard.press("n")
    hang_up(shop)
    plan(shop)
    raise_in_stages(shop)
    hold(shop)
    judge_and_decide(shop)
    read_the_record(shop)


def hang_up(page: Page) -> None:
    fill(page, "Name", "Boathouse tank")
    fill(page, "Wanted pressure", "120psi")
    expect(page.get_by_text("120 psi · 8.274 bar")).to_be_visible()
    fill(page, "On the plate", "14 bar")
    fill(page, "Year made", "1996")
    fill(page, "Inside diameter", "14 1/2 in")
    expect(page.get_by_text("14.5 in · 368.3 mm")).to_be_visible()
    fill(page, "Length, seam to seam", "800")
    page.get_by_label("Wall", exact=True).fill('1/8"')
    page.get_by_label("The wall was measured").check()
    fill(page, "Wall of the ends", "3.5 mm")
    fill(page, "Allow for rust", "0.3 mm")
    expect(page.get_by_text("Ceiling of a test")).to_be_visible()
    page.get_by_role("button", name="Hang it up").click()
    expect(page.get_by_role("heading", name="Logbook")).to_be_visible()
    expect(page.get_by_role("heading", name="Boathouse tank")).to_be_visible()
    page.get_by_role("button", name="Plan a trial").click()


def plan(page: Page) -> None:
    expect(page.get_by_role("heading", name="Test pressure", exact=True)).to_be_visible()
    freeze = page.get_by_role("button", name="Freeze and go to the bench")
    expect(freeze).to_be_disabled()
    expect(page.get_by_text("Which gauge will be read?")).to_be_visible()
    fill(page, "Gauge reads to", "25 bar")
    fill(page, "Its division", "0.02 bar")
    fill(page, "Water at", "16 C")
    fill(page, "A pump stroke", "4 mL")
    fill(page, "Thermometer to", "0.01")
    fill(page, "Air still inside", "50 mL")
    page.get_by_role("tab", name="Hold").click()
    fill(page, "Pause at a stage", "1 min")
    page.get_by_role("radio", name=re.compile("Vessel code")).check()
    expect(page.get_by_text("10.76 bar").first).to_be_visible()
    page.get_by_role("radio", name=re.compile("Workshop proof")).check()
    expect(page.get_by_text("12.41 bar").first).to_be_visible()
    expect(page.get_by_role("group", name=re.compile("ceiling .* test 12.41"))).to_be_visible()
    page.get_by_text("why?").first.click()
    expect(page.get_by_text("1.5 × 8.274 bar")).to_be_visible()
    expect(freeze).to_be_enabled()
    freeze.click()


def raise_in_stages(page: Page) -> None:
    expect(page.get_by_role("heading", name="Before you begin")).to_be_visible()
    page.get_by_label("Its clock goes").select_option("60")
    page.get_by_role("button", name="Try it on the simulated rig").click()
    now = page.get_by_test_id("now")
    expect(now).to_have_text("Fill, and shut the vent.")
    page.get_by_role("button", name="Vent shut").click()
    rig = page.get_by_role("group", name="The simulated rig")
    for stage in range(5):
        expect(now).to_have_text(re.compile("Raise to"))
        target = float(re.search(r"Raise to ([\d.]+) bar", now.inner_text()).group(1))  # type: ignore[union-attr]
        rig.get_by_role("button", name=re.compile(r"^Pump \d+")).click()
        for _ in range(40):
            expect(rig.get_by_text("pump still")).to_be_visible()
            read = Reading.objects.order_by("-at").first()
            if read is not None and read.pressure >= target * 1e5:
                break
            rig.get_by_role("button", name="1 stroke").click()
            expect(rig.get_by_text("pumping")).to_be_hidden()
            read_again(page, after=Reading.objects.count())
        page.get_by_role("button", name="Reached").click()
        expect(page.get_by_test_id("log").get_by_text(f"stage {stage + 1} reached")).to_be_visible()


def read_again(page: Page, after: int) -> None:
    """Wait until the rig's logger has read once more."""
    deadline = time.monotonic() + 15
    while Reading.objects.count() <= after:
        assert time.monotonic() < deadline
        page.wait_for_timeout(100)


def hold(page: Page) -> None:
    expect(page.get_by_test_id("now")).to_have_text("Shut in, and hold.")
    page.keyboard.press("h")
    expect(page.get_by_test_id("now")).to_have_text("Hands off.")
    expect(page.get_by_test_id("countdown")).to_have_text(re.compile(r"2\d:\d\d"))
    trial = Trial.objects.get(state="running")
    rewind(str(trial.pk), 31 * 60 / trial.speed)
    expect(page.get_by_test_id("now")).to_have_text("The hold is over.")
    page.get_by_role("button", name="End hold").click()
    expect(page.get_by_test_id("now")).to_have_text(re.compile("Come down to"))
    for key in ("At the look", "Looked", "Released", "Vent open", "Empty", "Dry", "To the judge"):
        page.get_by_role("button", name=key, exact=False).last.click()


def judge_and_decide(page: Page) -> None:
    page.get_by_role("button", name="Judge the hold").click()
    expect(page.get_by_test_id("verdict")).to_have_text(re.compile(r"^Tight\."))
    expect(page.get_by_text(re.compile(r"^The needle (fell|rose|stood still)"))).to_be_visible()
    expect(page.get_by_text("It proves nothing here")).to_be_visible()
    page.get_by_role("button", name="Write the decision").click()
    page.get_by_role("radio", name=re.compile("^not proven")).check()
    page.get_by_label("Why, in a sentence").fill("Dry all round.")
    page.get_by_role("button", name="Write it down").click()


def read_the_record(page: Page) -> None:
    record = page.get_by_test_id("record")
    for words in (
        "Boathouse tank",
        "Workshop proof",
        "Tight.",
        "stage 5 reached",
        "Dry all round.",
        "Not a certificate",
        "P_t".replace("_", ""),
    ):
        expect(record.get_by_text(words).first).to_be_visible()
    for paper, width in (("A4", 210), ("Letter", 215.9)):
        page.get_by_label("Paper").select_option(paper)
        size = re.search(rb"/MediaBox ?\[0 0 ([\d.]+)", page.pdf(prefer_css_page_size=True))
        assert size is not None
        assert abs(float(size.group(1)) / 72 * 25.4 - width) < 1
    page.get_by_role("link", name="Toad Bell, the shed").click()
    expect(page.get_by_test_id("tag")).to_contain_text("practised only")  # the simulated rig proves nothing
    page.get_by_role("link", name="Records").click()
    expect(page.get_by_role("listitem").filter(has_text="Boathouse tank")).to_contain_text("practice")

"""What happens to a vessel changes its tag before one's eyes; practice hangs none; a low hold ends in a decision."""

import re
import uuid

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.wharf import hang_up_the_wharf
from toadbell.records import due
from toadbell.shed.models import Maker, Vessel
from toadbell.trials.bench import tending
from toadbell.trials.models import Reading, Trial


def to_the_wharf(shop: Page, server: Server, vessel: str) -> None:
    """The demo workshop, at a vessel's page."""
    hang_up_the_wharf()
    shop.goto(f"{server.url}/vessels/{Vessel.objects.get(name=vessel).pk}")
    expect(shop.get_by_role("heading", name=vessel)).to_be_visible()


def test_a_dropped_boiler_loses_its_tag_in_ten_seconds_by_keys_alone(shop: Page, server: Server) -> None:
    to_the_wharf(shop, server, "Wharf receiver")
    expect(shop.get_by_test_id("tag-line")).to_contain_text("8.5 bar")
    shop.keyboard.press("w")
    expect(shop.get_by_role("radio", name="Dropped or knocked")).to_be_focused()
    expect(shop.get_by_role("dialog")).to_contain_text("The tag falls to not proven")
    shop.keyboard.press("Tab")
    for _ in range(3):
        shop.keyboard.press("Tab")
    shop.get_by_label("A word on it").focus()
    shop.keyboard.type("off the trolley")
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("tag-line")).to_contain_text("not proven")
    expect(shop.get_by_test_id("tag-line")).to_contain_text("off the trolley. Look it over")
    expect(shop.get_by_role("region", name="What happened to it")).to_contain_text("Dropped or knocked")
    shop.get_by_role("link", name="Shed", exact=True).click()
    hung = shop.get_by_role("listitem").filter(has_text="Wharf receiver").filter(has=shop.get_by_test_id("tag"))
    expect(hung).to_contain_text("not proven")
    assert not [one for one in due.due() if one.vessel.name == "Wharf receiver" and one.what == "proof"]


def test_a_changed_wall_asks_what_happened_before_it_is_kept(shop: Page, server: Server) -> None:
    to_the_wharf(shop, server, "Perry tank")
    shop.get_by_role("button", name="Change C").click()
    shop.get_by_label("Wall", exact=True).fill("0.1 mm")
    shop.get_by_role("button", name="Keep the changes").click()
    ask = shop.get_by_role("dialog")
    expect(ask).to_contain_text("What happened to it?")
    shop.keyboard.press("Escape")
    expect(ask).to_be_hidden()
    assert Vessel.objects.get(name="Perry tank").version == 1  # nothing was kept, nothing lost
    expect(shop.get_by_label("Wall", exact=True)).to_have_value("0.1 mm")
    shop.get_by_role("button", name="Keep the changes").click()
    shop.get_by_role("radio", name="Nothing: the figures were wrong before").check()
    ask.get_by_role("button", name="Keep the changes").click()
    expect(shop.get_by_test_id("tag-line")).to_contain_text("limited")
    expect(shop.get_by_test_id("tag-line")).to_contain_text("allows no more than")


def test_a_run_on_the_simulated_rig_hangs_no_tag_anywhere(shop: Page, server: Server) -> None:
    hang_up_the_wharf()
    trial = Trial.objects.get(vessel__name="Wharf receiver", number=3)
    other = Vessel.hang_up(Maker.local_owner(), "Practice tank", trial.vessel.sheet)
    Trial.objects.filter(pk=trial.pk).update(source="rig", vessel=other, number=1)
    shop.goto(f"{server.url}/vessels/{other.pk}")
    expect(shop.get_by_text("practice on the simulated rig proves nothing")).to_be_visible()
    expect(shop.get_by_test_id("tag-line").get_by_test_id("tag")).to_have_text("not proven")
    expect(shop.get_by_test_id("tag").last).to_have_text(re.compile("practice"))
    shop.get_by_role("link", name="first trial").click()
    expect(shop.get_by_text("Practice on the simulated rig, it proves nothing.")).to_be_visible()
    shop.get_by_role("link", name="Judge", exact=True).click()
    expect(shop.get_by_text("It proves nothing here")).to_be_visible()
    shop.get_by_role("link", name="Toad Bell, the shed").click()
    hung = shop.get_by_role("listitem").filter(has_text="Practice tank").filter(has=shop.get_by_test_id("tag"))
    expect(hung).to_contain_text("practised only")


DRUM = {"kind": "digester", "working_pressure": "22 mbar", "box": {"diameter": "570 mm", "height": "820 mm"}}


def test_a_digesters_low_hold_is_offered_held_and_decided_to_the_end(shop: Page, server: Server) -> None:
    vessel = Vessel.hang_up(Maker.local_owner(), "Orchard drum", DRUM)
    shop.goto(f"{server.url}/vessels/{vessel.pk}")
    shop.get_by_role("button", name="Plan a trial").click()
    shop.get_by_label("Gauge reads to", exact=True).fill("100 mbar")
    shop.get_by_label("Its division", exact=True).fill("1 mbar")
    freeze = shop.get_by_role("button", name="Freeze and go to the bench")
    expect(freeze).to_be_enabled()
    freeze.click()
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    trial = Trial.objects.get()
    assert trial.frozen_sheet["acceptance"] == {"max_leak": "4.2 L/day"}
    shop.get_by_role("button", name=re.compile("Begin")).first.click()
    expect(shop.get_by_test_id("now")).to_be_visible()
    trial.refresh_from_db()
    stages = len(trial.frozen["answer"]["stages"])
    for kind in ("vent-shut", *("stage-reached",) * stages, "shut-in", "hold-ended"):
        Reading.objects.create(id=uuid.uuid4(), trial=trial, at=trial.now(), pressure=3300.0, source="dial")
        tending.act(
            trial,
            Maker.local_owner(),
            kind,
            uuid.uuid4(),
            {"reason": "rain"} if kind == "hold-ended" else {},
            hand=trial.hand,
        )
    shop.goto(f"{server.url}/trials/{trial.pk}/judge")
    decide = shop.get_by_role("button", name="Write the decision")
    if not decide.is_enabled():
        shop.get_by_role("button", name="Judge the hold").click()
    expect(decide).to_be_enabled()
    decide.click()
    shop.get_by_role("radio", name=re.compile("^not proven")).check()
    shop.get_by_role("button", name="Write it down").click()
    expect(shop.get_by_test_id("record")).to_be_visible()

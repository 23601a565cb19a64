"""A vessel's ledger as a maker meets it: what is asked, what stands, what falls, and the way to what comes next."""

import datetime
import re
import uuid

from django.test import Client
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.server.conftest import Workshop, rewind, run
from toadbell.trials.models import Trial

KEG = {"kind": "fermenter", "plate_pressure": "14 bar"}


def line(page: Page, name: str):  # type: ignore[no-untyped-def]
    """A line of the programme."""
    return page.get_by_test_id("ledger").get_by_role("listitem").filter(has_text=name)


def test_a_keg_dropped_after_its_proof_falls_at_once_and_stands_again_when_that_was_a_mistake(
    shop: Page, server: Server
) -> None:
    workshop = Workshop(Client())
    trial = run(workshop, workshop.ready(vessel=workshop.vessel("Yard keg", **KEG)))
    workshop.post(f"/trials/{trial}/judge")
    decided = workshop.post(f"/trials/{trial}/decision", {"fitness": "fit", "pressure": "8.5 bar", "reason": ""})
    shop.goto(f"{server.url}/vessels/{decided['vessel_id']}")
    tag = shop.get_by_test_id("tag-line")
    expect(tag).to_contain_text("May be used at up to 8.5 bar.")
    expect(tag).to_contain_text("Before each use: tightness and relief valve.")
    expect(line(shop, "Proof")).to_contain_text("until")
    line(shop, "Proof").locator("summary").click()
    expect(line(shop, "Proof").get_by_role("link", name="its record")).to_be_visible()
    shop.keyboard.press("w")  # ten seconds, by keys
    expect(shop.get_by_text("The tag falls to not proven.")).to_be_visible()
    shop.get_by_label("A word on it").focus()
    shop.keyboard.type("off the bench onto stone")
    shop.keyboard.press("Enter")
    expect(tag).to_contain_text("Not to be used under pressure yet.")
    expect(tag).to_contain_text("off the bench onto stone")
    expect(tag.get_by_test_id("tag")).to_have_text("not proven")
    for name in ("Proof", "Tightness", "Relief valve tried"):  # a knock may have hurt the valve as well
        expect(line(shop, name)).to_contain_text("voided")
    shop.get_by_role("button", name=re.compile("Take back: Dropped")).click()
    shop.get_by_role("button", name="It was a mistake").click()
    expect(tag.get_by_test_id("tag")).to_have_text(re.compile("fit"))
    expect(line(shop, "Relief valve tried")).not_to_contain_text("voided")
    expect(shop.get_by_role("region", name="What happened to it")).to_contain_text("taken back by Owner")


def test_what_is_asked_for_next_is_planned_by_a_key_and_another_kind_by_another(shop: Page, server: Server) -> None:
    vessel = Workshop(Client()).vessel("Yard tank", **KEG)["id"]
    shop.goto(f"{server.url}/vessels/{vessel}")
    expect(shop.get_by_test_id("ledger-says")).to_contain_text("Next: plan its proof.")
    shop.keyboard.press("k")
    offers = shop.get_by_role("dialog").get_by_role("listitem")
    expect(offers.filter(has_text="asked for next")).to_contain_text("Proof")
    offers.filter(has_text="Tightness").get_by_role("button").click()
    expect(shop.get_by_label("What is tried")).to_have_value("tightness")
    shop.goto(f"{server.url}/vessels/{vessel}")
    expect(shop.get_by_test_id("ledger-says")).to_be_visible()
    shop.keyboard.press("p")
    expect(shop.get_by_label("What is tried")).to_have_value("proof")


def test_a_look_inside_that_finds_it_not_sound_is_written_down_and_takes_it_out_of_use(
    shop: Page, server: Server
) -> None:
    vessel = Workshop(Client()).vessel("Yard tank")["id"]
    shop.goto(f"{server.url}/vessels/{vessel}")
    line(shop, "Looked inside").locator("summary").click()
    line(shop, "Looked inside").get_by_role("button", name="Write it down").click()
    dialog = shop.get_by_role("dialog")
    expect(dialog.get_by_role("radio", name="Looked inside")).to_be_checked()
    expect(dialog.get_by_role("radio", name="Steam trial passed")).to_have_count(0)  # a receiver raises none
    dialog.get_by_role("radio", name="Not sound").check()
    expect(dialog.get_by_role("button", name=re.compile("Write it down"))).to_be_disabled()  # what is not?
    dialog.get_by_label(re.compile("What was seen")).fill("pits by the drain, one deep")
    expect(dialog).to_contain_text("The tag falls to not fit")
    dialog.get_by_role("button", name=re.compile("Write it down")).click()
    expect(shop.get_by_test_id("tag-line")).to_contain_text("Do not use it.")
    expect(line(shop, "Looked inside")).to_contain_text("not met")


HOUSING = {"kind": "enclosure", "working_pressure": "12 mbar", "volume": "3.2 L"}
LOW_KIT = {
    "gauge": {"range": "25 mbar", "division": "0.2 mbar", "resolution": "0.05 mbar", "calibrated": "2026-06-01"},
    "thermometer": {"resolution": "0.01 °C"},
    "pump": {"stroke": "1 mL", "maximum": "1 bar"},
    "water_temperature": "16 °C",
    "hold": {"minimum": "10 min"},
    "acceptance": {"max_drop": "5 mbar", "over": "10 min"},
}


def test_a_fermenter_held_four_hours_at_its_gas_soaped_by_pointer_is_tagged_tight(shop: Page, server: Server) -> None:
    workshop = Workshop(Client())
    sheet = {"kind": "fermenter", "working_pressure": "1.6 bar", "volume": "19 L"}  # gas up to half of it, unproven
    vessel = workshop.post("/vessels", {"name": "Cellar keg", "sheet": sheet})["id"]
    shop.goto(f"{server.url}/vessels/{vessel}")
    shop.get_by_role("button", name=re.compile("Another kind")).click()
    shop.get_by_role("dialog").get_by_role("button", name=re.compile("^Tightness")).click()
    expect(shop.get_by_label("What is tried")).to_have_value("tightness")
    trial = Trial.objects.get(vessel=vessel)
    kit = {
        "gauge": {"range": "2 bar", "division": "0.02 bar", "resolution": "4 mbar", "calibrated": "2026-06-01"},
        "thermometer": {"resolution": "0.05 °C"},
        "water_temperature": "16 °C",
        "pause": "1 min",
        "hold": {"minimum": "4 h"},
        "acceptance": {"max_drop": "40 mbar", "over": "4 h"},
    }
    trial.change_plan(
        {**trial.sheet, **kit, "procedure": "tightness", "medium": "air", "tight_at": "0.8 bar"}, trial.version
    )
    workshop.post(f"/trials/{trial.pk}/freeze")
    workshop.post(f"/trials/{trial.pk}/start", {"source": "dial"})
    bench = workshop.step(str(trial.pk), "vent-shut")
    for stage in bench["answer"]["stages"]:
        workshop.read(str(trial.pk), f"{stage['target'] / 1e5 + 0.004:.3f} bar", "16.00")
        bench = workshop.step(str(trial.pk), "stage-reached")
        rewind(str(trial.pk), stage["pause"] + 1)
    shop.goto(f"{server.url}/trials/{trial.pk}/bench")
    shop.get_by_role("tab", name="Soap map").click()
    for section in bench["sections"]:
        row = shop.get_by_role("list", name="Sections").get_by_role("listitem").filter(has_text=section["name"])
        row.get_by_role("button").click()
        shop.get_by_role("group", name="How it shows").get_by_role("button", name=re.compile("^still foam")).click()
        expect(row).to_contain_text("still foam")
    began = datetime.datetime.fromisoformat(workshop.step(str(trial.pk), "shut-in")["since"])
    rewind(str(trial.pk), 4 * 3600 + 60)
    readings = [
        {
            "id": str(uuid.uuid4()),
            "pressure": "0.804 bar",
            "temperature": "16.00",
            "at": (began + datetime.timedelta(minutes=5 * n)).isoformat(),
        }
        for n in range(49)
    ]
    workshop.post(f"/trials/{trial.pk}/readings", readings)
    for step in ("hold-ended", "looked", "released"):
        workshop.step(str(trial.pk), step)
    workshop.post(f"/trials/{trial.pk}/judge")
    shop.goto(f"{server.url}/trials/{trial.pk}/judge")
    expect(shop.get_by_role("listitem").filter(has_text="Soaped all round")).to_contain_text("none leaks")
    shop.get_by_role("button", name="Write the decision").click()
    shop.get_by_role("button", name="Write it down").click()
    expect(shop.get_by_test_id("record")).to_be_visible()
    shop.goto(f"{server.url}/vessels/{vessel}")
    expect(shop.get_by_test_id("tag-line")).to_contain_text("Tight at 0.8 bar; no strength is claimed.")


def pressed(workshop: Workshop, vessel: str, fall: float) -> str:
    """A housing raised to 12 mbar and held ten minutes, falling by so many mbar a minute."""
    plan = workshop.post(f"/vessels/{vessel}/trials", {"basis": "tight"})
    sheet = {**plan["sheet"], **LOW_KIT, "tight_at": "12 mbar"}
    workshop.put(f"/trials/{plan['id']}/plan", {"sheet": sheet, "version": plan["version"]})
    trial = str(workshop.post(f"/trials/{plan['id']}/freeze")["id"])
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    bench = workshop.step(trial, "vent-shut")
    for stage in bench["answer"]["stages"]:
        workshop.read(trial, f"{stage['target'] / 100 + 0.1:.2f} mbar", "16.00")
        bench = workshop.step(trial, "stage-reached")
        rewind(trial, stage["pause"] + 1)
    for section in bench["sections"]:
        workshop.step(trial, "observed", what="soap", place=section["id"], word="dry")
    began = datetime.datetime.fromisoformat(workshop.step(trial, "shut-in")["since"])
    rewind(trial, 660)
    readings = [
        {
            "id": str(uuid.uuid4()),
            "pressure": f"{12.1 - fall * n / 2:.2f} mbar",
            "temperature": "16.00",
            "at": (began + datetime.timedelta(seconds=30 * n)).isoformat(),
        }
        for n in range(21)
    ]
    workshop.post(f"/trials/{trial}/readings", readings)
    for step in ("hold-ended", "looked", "released"):
        workshop.step(trial, step)
    return trial


def test_a_sealed_housing_that_loses_too_much_a_minute_is_sealed_anew_and_passes(shop: Page, server: Server) -> None:
    workshop = Workshop(Client())
    vessel = workshop.post("/vessels", {"name": "Yard lamp", "sheet": HOUSING})["id"]
    trial = pressed(workshop, vessel, fall=1.0)
    shop.goto(f"{server.url}/trials/{trial}/judge")
    expect(shop.get_by_role("heading", name="The hold is over. Is it tight?")).to_be_visible()
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("verdict")).to_contain_text("Leaking")
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("radio", name=re.compile("not proven"))).to_be_checked()
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("record")).to_be_visible()
    shop.goto(f"{server.url}/vessels/{vessel}")
    expect(line(shop, "Tightness")).to_contain_text("the hold of trial 1")
    expect(line(shop, "Tightness")).to_contain_text("leaks")
    workshop.happened(vessel, "refitted", "gland sealed anew")
    trial = pressed(workshop, vessel, fall=0.0)
    workshop.post(f"/trials/{trial}/judge")
    shop.goto(f"{server.url}/trials/{trial}/judge")
    ledger = shop.get_by_role("region", name="The vessel's ledger today")
    expect(ledger).to_contain_text("Not to be used under pressure yet.")
    shop.keyboard.press("Enter")
    shop.get_by_role("button", name="Write it down").click()
    expect(shop.get_by_test_id("record")).to_be_visible()
    shop.goto(server.url)
    hung = shop.get_by_role("listitem").filter(has_text="Yard lamp").get_by_test_id("tag")
    expect(hung).to_have_text(re.compile("tight.*12 mbar"))


def test_a_tightness_trial_on_the_simulated_rig_enters_no_ledger(shop: Page, server: Server) -> None:
    workshop = Workshop(Client())
    vessel = workshop.post("/vessels", {"name": "Yard lamp", "sheet": HOUSING})["id"]
    trial = pressed(workshop, vessel, fall=0.0)
    Trial.objects.filter(pk=trial).update(source="rig")
    workshop.post(f"/trials/{trial}/judge")
    workshop.post(f"/trials/{trial}/decision", {"fitness": "tight", "pressure": "12 mbar", "reason": "it taught me"})
    shop.goto(f"{server.url}/vessels/{vessel}")
    expect(shop.get_by_test_id("tag-line")).to_contain_text("Practice on the simulated rig proves nothing")
    expect(line(shop, "Tightness")).to_contain_text("no trial of it is on record")

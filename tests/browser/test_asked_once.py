"""What the judges ask beside the readings: how high the workshop stands, once; which gauge set the valve; what a
syringe of air did; whether a fitting that was out was the valve.
"""

import re

from django.test import Client
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.server.conftest import Workshop
from tests.server.test_gas_head import DIGESTER
from tests.server.test_steam import KIT, boiler
from toadbell.trials.models import Trial


def kept(trial: str, name: str) -> object:
    """A field of a plan as it is stored now."""
    return Trial.objects.get(pk=trial).sheet.get(name)


def test_height_and_the_valves_gauge_are_asked_where_steam_is_planned_and_the_height_once(
    shop: Page, server: Server
) -> None:
    workshop = Workshop(Client())
    plan = workshop.post(f"/vessels/{boiler(workshop)['id']}/trials", {"basis": "steam"})
    kit = {key: value for key, value in KIT.items() if key != "altitude"}
    sheet = {**plan["sheet"], **kit, "relief_valve": {"set_pressure": "2 bar"}}
    workshop.put(f"/trials/{plan['id']}/plan", {"sheet": sheet, "version": plan["version"]})
    shop.goto(f"{server.url}/trials/{plan['id']}/plan")
    shop.get_by_role("tab", name="Kit and water").click()
    shop.get_by_label("The valve was set by").select_option("another gauge")
    height = shop.get_by_label("Height above sea")
    height.fill("9000 m")
    height.press("Enter")
    expect(shop.get_by_text(re.compile("obody works lower"))).to_be_visible()
    height.fill("240")
    height.press("Tab")
    expect(shop.get_by_text(re.compile("obody works lower"))).to_be_hidden()
    shop.get_by_label("The valve was set by").select_option("")
    shop.get_by_label("The valve was set by").select_option("another gauge")
    shop.goto(f"{server.url}/kit")  # at once: what was changed last is kept on the way out
    expect(shop.get_by_label("Height above sea")).to_have_value("240 m")
    assert workshop.get("/workshop") == {"altitude": "240 m"}
    assert kept(plan["id"], "relief_valve") == {"set_pressure": "2 bar", "set_by": "another gauge"}
    shop.goto(f"{server.url}/trials/{plan['id']}/plan")
    expect(shop.get_by_role("tab", name="Kit and water")).to_be_visible()
    expect(shop.get_by_text("changed in another window")).to_be_hidden()


def test_a_syringe_of_air_is_taken_where_a_tank_is_tried_for_tightness(shop: Page, server: Server) -> None:
    workshop = Workshop(Client())
    tank = {"kind": "sheet-tank", "working_pressure": "50 mbar", "volume": "20 L"}
    hung = workshop.post("/vessels", {"name": "Oil tank", "sheet": tank})
    plan = workshop.post(f"/vessels/{hung['id']}/trials", {"basis": "tight"})
    shop.goto(f"{server.url}/trials/{plan['id']}/plan")
    shop.get_by_role("tab", name="Kit and water").click()
    shop.get_by_label("Syringe of air in").fill("50 mL")
    shop.get_by_label("…raised it by").fill("2 mbar")
    with shop.expect_response(lambda one: one.ok and '"wet"' in (one.request.post_data or "") and "plan" in one.url):
        shop.get_by_label("Inside it is").select_option("dry")
    shop.reload()
    shop.get_by_role("tab", name="Kit and water").click()
    expect(shop.get_by_label("…raised it by")).to_have_value("2 mbar")
    assert kept(plan["id"], "syringe") == {"volume": "50 mL", "rise": "2 mbar"}


def test_of_a_fitting_that_was_out_it_is_asked_whether_it_was_the_valve(shop: Page, server: Server) -> None:
    workshop = Workshop(Client())
    tank = workshop.vessel("Yard tank")
    shop.goto(f"{server.url}/vessels/{tank['id']}")
    expect(shop.get_by_test_id("ledger")).to_be_visible()
    shop.get_by_role("button", name=re.compile("Something happened")).first.click()
    dialog = shop.get_by_role("dialog")
    dialog.get_by_label("A fitting taken out or sealed anew").check()
    dialog.get_by_label("It was another").check()
    dialog.get_by_role("button", name="Write it down").click()
    expect(dialog).to_be_hidden()
    [told] = [one for one in workshop.get(f"/vessels/{tank['id']}/happened") if one["what"] == "refitted"]
    assert told["found"] == "other"


def test_gas_that_pushes_water_up_several_pipes_is_told_each_of_them(shop: Page, server: Server) -> None:
    workshop = Workshop(Client())
    hung = workshop.post("/vessels", {"name": "Yard digester", "sheet": DIGESTER})
    plan = workshop.post(f"/vessels/{hung['id']}/trials", {})
    shop.goto(f"{server.url}/trials/{plan['id']}/plan")
    shop.get_by_role("tab", name="Kit and water").click()
    shop.get_by_label("Gas is held by").select_option("water")
    expect(shop.get_by_label("Pipe 2's inside")).to_be_hidden()
    shop.get_by_label("That pipe's inside").fill("20 mm")
    shop.get_by_label("Pipe 2's inside").fill("15 mm")
    shop.get_by_label("Pipe 3's inside").fill("15 bar")  # a slip
    expect(shop.get_by_text(re.compile("length")).last).to_be_visible()
    with shop.expect_response(lambda one: one.ok and '"15 mm"]' in (one.request.post_data or "") and "plan" in one.url):
        shop.get_by_label("Pipe 3's inside").fill("")
    shop.reload()
    shop.get_by_role("tab", name="Kit and water").click()
    expect(shop.get_by_label("Pipe 2's inside")).to_have_value("15 mm")
    assert kept(plan["id"], "holder") == {"by": "water", "pipes": ["20 mm", "15 mm"]}
    shop.get_by_label("That pipe's inside").fill("")
    with shop.expect_response(lambda one: one.ok and '"across"' in (one.request.post_data or "") and "plan" in one.url):
        shop.get_by_label("That pipe's inside").press("Tab")

"""Whole jobs as somebody new does them: from an empty workshop, by the words on the screen, on the simulated rig, to
the record.
"""

from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Page

from tests.browser.conftest import Server
from tests.browser.newcomer import Newcomer


@pytest.fixture
def newcomer(shop: Page, server: Server, request: pytest.FixtureRequest) -> Iterator[Newcomer]:
    """In the empty shed; what the job took is written down where that is asked for."""
    shop.goto(server.url)
    found = Newcomer(shop)
    yield found
    found.counted(request.node.originalname.removeprefix("test_"))


RECEIVER = {
    "Wanted pressure": "8.5 bar",
    "On the plate": "14 bar",
    "Inside diameter": "366 mm",
    "Length, seam to seam": "800 mm",
    "Wall": "3.2 mm",
    "The wall was measured": "yes",
    "Wall of the ends": "3.5 mm",
}
DIAL = {"Gauge reads to": "25 bar", "Its division": "0.1 bar", "A pump stroke": "4 mL", "Water at": "16 C"}


def test_an_air_receiver_is_proven(newcomer: Newcomer) -> None:
    newcomer.hang_up("receiver", "Wharf receiver", RECEIVER)
    newcomer.plan(DIAL)
    newcomer.begin()
    newcomer.run()
    newcomer.decide("^(Tight|Cannot tell)")


CHAMBER = {
    "Wanted pressure": "28 bar",
    "Inside diameter": "54 mm",
    "Length, seam to seam": "420 mm",
    "Wall": "2.4 mm",
    "The wall was measured": "yes",
    "Wall of the ends": "12 mm",
    "Nothing on it is welded": "yes",
}
CHAMBER_KIT = {"Gauge reads to": "100 bar", "Its division": "0.5 bar", "Water at": "18 C", "A pump stroke": "0.2 mL"}


def box(length: str, width: str, height: str) -> dict[str, str]:
    """Sizes of one with flat sides."""
    return {"Length inside": length, "Width inside": width, "Height inside": height}


def soaped(newcomer: Newcomer) -> dict[str, Callable[[], None]]:
    """Every section that is shown is marked by its key, and then the line is followed on."""

    def soap() -> None:
        sections = newcomer.page.get_by_test_id("soap").get_by_role("listitem")
        for _ in range(sections.count()):
            newcomer.press("1")
        newcomer.go_on()

    return {"Soapy water": soap}


def test_a_launch_boiler_has_its_first_cold_proof(newcomer: Newcomer) -> None:
    newcomer.hang_up(
        "boiler",
        "Bittern's boiler",
        {
            "Wanted pressure": "5.5 bar",
            "Inside diameter": "165 mm",
            "Length, seam to seam": "360 mm",
            "Wall": "3.25 mm",
            "The wall was measured": "yes",
            "Pitch of the stays": "25 mm",
        },
    )
    newcomer.plan(
        {"Gauge reads to": "25 bar", "Its division": "0.2 bar", "A pump stroke": "0.3 mL", "Water at": "17 C"}
    )
    newcomer.begin()
    newcomer.run()
    newcomer.decide("^(Tight|Cannot tell)")


def test_a_lamp_oil_tank_is_made_free_of_gas_and_soaped(newcomer: Newcomer) -> None:
    newcomer.hang_up(
        "sheet-tank",
        "Lamp-oil tank",
        {"Wanted pressure": "0.1 bar", **box("260 mm", "170 mm", "204 mm")},
    )
    newcomer.plan({"Gauge reads to": "0.25 bar", "Its division": "2 mbar"})
    newcomer.begin()
    newcomer.run(
        {**soaped(newcomer), "Make it free": lambda: newcomer.told("washed out twice", "two days", "no smell", "Maren")}
    )
    newcomer.decide("^(Tight|Cannot tell)")


def test_a_lamp_housing_is_held_at_twelve_millibar(newcomer: Newcomer) -> None:
    newcomer.hang_up("enclosure", "Heron lamp", {"Wanted pressure": "12 mbar", **box("200 mm", "160 mm", "100 mm")})
    newcomer.plan({"Gauge reads to": "40 mbar", "Its division": "0.2 mbar"})
    newcomer.begin()
    newcomer.run(soaped(newcomer))
    newcomer.decide("^(Tight|Cannot tell)")


def test_an_oil_cooler_is_tried_under_a_little_air(newcomer: Newcomer) -> None:
    newcomer.hang_up("cooler", "Launch cooler", {"Wanted pressure": "0.3 bar", **box("250 mm", "200 mm", "60 mm")})
    newcomer.plan({"Gauge reads to": "1 bar", "Its division": "0.01 bar"})
    newcomer.begin()
    newcomer.run(soaped(newcomer))
    newcomer.decide("^(Tight|Cannot tell)")


def test_a_vinegar_cask_is_swelled_and_tried(newcomer: Newcomer) -> None:
    newcomer.hang_up(
        "cask",
        "Vinegar cask",
        {
            "Wanted pressure": "0.2 bar",
            "Inside diameter at the bilge": "318 mm",
            "Inside diameter at the heads": "268 mm",
            "Length inside": "398 mm",
        },
    )
    newcomer.plan({"Gauge reads to": "0.6 bar", "Its division": "5 mbar"})
    newcomer.begin()
    newcomer.run({**soaped(newcomer), "Rinse and swell": lambda: newcomer.told("three days, full", "2 L at 70 °C")})
    newcomer.decide("^(Tight|Cannot tell)")


def test_a_chamber_is_proven(newcomer: Newcomer) -> None:
    newcomer.hang_up("chamber", "Skylark", CHAMBER)
    newcomer.plan(CHAMBER_KIT)
    newcomer.begin()
    newcomer.run()
    newcomer.decide("^(Tight|Cannot tell)")


def test_a_receiver_is_measured_for_what_it_keeps(newcomer: Newcomer) -> None:
    newcomer.hang_up("receiver", "Moorhen bottle", RECEIVER)
    newcomer.plan({"What is tried": "expansion", **DIAL, "Measure reads to": "0.1 mL"})
    newcomer.begin()
    newcomer.run()
    newcomer.decide("^(Tight|Cannot tell)")

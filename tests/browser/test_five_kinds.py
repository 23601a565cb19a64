"""From nothing to a frozen plan for each of the five main kinds: the boiler by keys alone, the others by pointer."""

import re

import pytest
from playwright.sync_api import Page, expect

from toadbell.trials.models import State, Trial

POINTER = {
    "receiver": (
        {
            "Wanted pressure": "8.5 bar",
            "On the plate": "14 bar",
            "Inside diameter": "366 mm",
            "Length, seam to seam": "800 mm",
            "Wall": "3.2 mm",
            "Wall of the ends": "3.5 mm",
            "Allow for rust": "0.3 mm",
        },
        {"Gauge reads to": "25 bar", "Its division": "0.1 bar", "Water at": "16 C", "A pump stroke": "12 mL"},
        ("proof-150", 12.75e5),
    ),
    "fermenter": (
        {
            "Wanted pressure": "1.8 bar",
            "On the plate": "2 bar",
            "Relief valve set at": "1.8 bar",
            "Inside diameter": "380 mm",
            "Length, seam to seam": "450 mm",
            "Wall": "1.5 mm",
            "Wall of the ends": "1.5 mm",
        },
        {"Gauge reads to": "6 bar", "Its division": "0.1 bar", "Water at": "15 C"},
        ("proof-150", 2.7e5),
    ),
    "chamber": (
        {
            "Wanted pressure": "28 bar",
            "Inside diameter": "54 mm",
            "Length, seam to seam": "420 mm",
            "Wall": "2.4 mm",
            "Wall of the ends": "12 mm",
        },
        {"Gauge reads to": "100 bar", "Its division": "1 bar", "Water at": "18 C", "A pump stroke": "4 mL"},
        ("chamber", 42e5),
    ),
    "digester": (
        {"Wanted pressure": "22 mbar", "Inside diameter": "570 mm", "Height inside": "820 mm"},
        {"Gauge reads to": "100 mbar", "Its division": "2 mbar"},
        ("gas-head", 3300.0),
    ),
}


def frozen() -> Trial:
    trial = Trial.objects.get()
    assert trial.state == State.READY
    return trial


@pytest.mark.usefixtures("at_the_shed")
@pytest.mark.parametrize("kind", POINTER)
def test_a_vessel_of_each_kind_is_planned_from_nothing_by_pointer(shop: Page, kind: str) -> None:
    vessel, kit, (basis, pressure) = POINTER[kind]
    shop.get_by_role("link", name="Hang up a vessel").click()
    shop.get_by_label("What it is").select_option(kind)
    shop.get_by_label("Name").fill(f"The {kind}")
    for label, text in vessel.items():
        shop.get_by_label(re.compile(rf"^{re.escape(label)}( \*)?$")).fill(text)
    if kind != "digester":
        shop.get_by_label("The wall was measured").check()
    if kind == "chamber":
        shop.get_by_label("Nothing on it is welded").check()
    shop.get_by_role("button", name="Hang it up").click()
    shop.get_by_role("button", name="Plan a trial").click()
    freeze = shop.get_by_role("button", name="Freeze and go to the bench")
    expect(freeze).to_be_disabled()
    for label, text in kit.items():
        shop.get_by_label(label, exact=True).fill(text)
    expect(freeze).to_be_enabled()
    freeze.click()
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    answer = frozen().frozen["answer"]
    assert answer["basis"] == basis
    assert answer["test_pressure"] == pytest.approx(pressure)


def type_in(page: Page, *texts: str) -> None:
    """Type into one field after the other; an empty text passes a field over."""
    for text in texts:
        if text:
            page.keyboard.type(text)
        page.keyboard.press("Tab")


@pytest.mark.usefixtures("at_the_shed")
def test_a_boiler_is_planned_from_nothing_by_keys_alone(shop: Page) -> None:
    shop.keyboard.press("n")
    expect(shop.get_by_label("Name")).to_be_focused()
    type_in(shop, "Launch boiler", "st", "5.5 bar", "", "5.5 bar", "2026")
    assert shop.get_by_label("What it is").input_value() == "boiler"
    expect(shop.get_by_label("Shape")).to_be_focused()
    type_in(shop, "", "", "165 mm", "360 mm", "3.25 mm", "")
    shop.keyboard.press("Space")  # the wall was measured
    shop.keyboard.press("Tab")
    type_in(shop, "", "", "", "3.25 mm", "25 mm")
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("heading", name="Logbook")).to_be_visible()
    shop.keyboard.press("p")
    expect(shop.get_by_role("heading", name="Test pressure", exact=True)).to_be_visible()
    shop.keyboard.press("2")
    until_focused(shop, "Gauge reads to")
    type_in(shop, "25 bar", "0.5 bar")
    until_focused(shop, "A pump stroke")
    type_in(shop, "4 mL")
    until_focused(shop, "Water at")
    type_in(shop, "17 C")
    expect(shop.get_by_role("button", name="Freeze and go to the bench")).to_be_enabled()
    until_focused(shop, "Freeze and go to the bench")
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    answer = frozen().frozen["answer"]
    assert answer["basis"] == "first-200"
    assert answer["test_pressure"] == pytest.approx(11e5)


def until_focused(page: Page, label: str) -> None:
    """Tab until a field or a button has the focus, as a person does."""
    for _ in range(120):
        focused = page.evaluate(
            "document.activeElement?.labels?.[0]?.textContent ?? document.activeElement?.textContent ?? ''"
        )
        if focused.startswith(label):
            return
        page.keyboard.press("Tab")
    pytest.fail(f"{label} cannot be reached by Tab")

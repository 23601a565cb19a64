"""No label of a drawing lies over another or is cut at its edge, and no page runs off the side: on a laptop and on a
phone, in both habits, with the demo workshop's widest and smallest figures.
"""

from typing import Any

import pytest
from django.test import Client
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.once import once
from tests.server.conftest import Workshop, run
from tests.wharf import hang_up_the_wharf
from toadbell.shed.models import Maker, Vessel
from toadbell.trials.models import Trial

TOUCHING = """() => {
  const found = []
  for (const svg of document.querySelectorAll('svg')) {
    const frame = svg.getBoundingClientRect()
    const texts = [...svg.querySelectorAll('text')]
      .map((text) => [text.textContent.trim(), text.getBoundingClientRect()])
      .filter(([said, box]) => said && box.width > 0)
    texts.forEach(([said, box], i) => {
      if (box.left < frame.left - 2 || box.right > frame.right + 2) found.push(`${said} is cut`)
      for (const [other, at] of texts.slice(i + 1)) {
        const wide = Math.min(box.right, at.right) - Math.max(box.left, at.left)
        const tall = Math.min(box.bottom, at.bottom) - Math.max(box.top, at.top)
        if (wide > 2 && tall > 4) found.push(`${said} lies over ${other}`)
      }
    })
  }
  const main = document.querySelector('main')
  if (main.scrollWidth > main.clientWidth + 1) found.push('the page runs off the side')
  return found
}"""
PLANS = (("Skylark", 3), ("Orchard digester", 1), ("Glasshouse loop", 3), ("Perry tank", 3), ("Vinegar cask", 2))
HOLDS = (("Orchard digester", 1), ("Wharf receiver", 3), ("Glasshouse loop", 2))


def touching(page: Page, path: str, shown: str) -> list[str]:
    """What lies over something else on a page, once it is there."""
    page.goto(path)
    expect(page.locator(shown).first).to_be_visible()
    page.evaluate("document.fonts.ready")
    found: Any = page.evaluate(TOUCHING)
    return [f"{path}: {one}" for one in found]


@pytest.mark.parametrize("units", ["metric", "imperial"])
@pytest.mark.parametrize(("width", "height"), [(1280, 800), (390, 844)])
def test_nothing_lies_over_anything_else(server: Server, page: Page, units: str, width: int, height: int) -> None:
    hang_up_the_wharf()
    Maker.objects.update(units=units)
    page.set_viewport_size({"width": width, "height": height})

    def of(vessel: str, number: int) -> str:
        return f"{server.url}/trials/{Trial.objects.get(vessel__name=vessel, number=number).pk}"

    found = [one for trial in PLANS for one in touching(page, f"{of(*trial)}/plan", "text=Raise in")]
    found += [one for trial in HOLDS for one in touching(page, f"{of(*trial)}/judge", "[data-testid=verdict]")]
    for name in ("Wharf receiver", "Bittern's boiler"):
        vessel = Vessel.objects.get(name=name)
        found += touching(page, f"{server.url}/vessels/{vessel.pk}", f"text={name}")
    found += touching(page, server.url, "[data-testid=tag]")
    assert found == [], "\n".join(found)


NAME = "The long green receiver that stood behind the boathouse barn"
"""Sixty letters."""
SPILLING = """() => {
  const found = []
  const cells = 'td, th, time, dt, dd, li, [role=status], .truncate'
  const seen = `${cells}, button, label, figcaption, a, h1, h2, h3, p`
  for (const one of document.querySelectorAll(seen)) {
    if (!one.clientWidth || one.closest('[hidden], svg, .sr-only, details:not([open]) > :not(summary)')) continue
    const style = getComputedStyle(one)
    if (style.display === 'inline' || /auto|scroll/.test(style.overflowX)) continue
    const box = one.getBoundingClientRect()
    for (const said of one.childNodes) {
      if (said.nodeType !== Node.TEXT_NODE || !said.data.trim()) continue
      const words = document.createRange()
      words.selectNodeContents(said)
      if (words.getBoundingClientRect().right > box.right + 2) found.push(`“${said.data.trim().slice(0, 60)}” spills`)
    }
  }
  for (const one of document.querySelectorAll('input.figure')) {
    const name = one.getAttribute('aria-label') ?? one.labels?.[0]?.textContent
    if (one.clientWidth && one.scrollWidth > one.clientWidth + 1) found.push(`${name}: “${one.value}” is cut`)
  }
  return found
}"""


def hostile() -> dict[str, str]:
    """A workshop of the longest and the shortest: twenty openings, names of sixty letters, nine stages, a hold of 30
    hours, 10,000 psi; gives the rooms by name.
    """
    workshop = Workshop(Client())
    openings = [
        {
            "name": f"Opening {n} with a bush of its own",
            "place": {"on": "shell", "along": f"{20 + 40 * (n // 3)} mm", "round": f"{(0, 90, 180)[n % 3]} deg"},
            "fitted": ("relief-valve", "gauge", "plug", "drain")[n % 4],
            "for_test": ("take-off", "gauge", "keep", "pump", "vent")[n % 5],
            "thread": "1 1/2 BSP parallel",
            "rating": "9292 psi",
        }
        for n in range(20)
    ]
    stages = [{"target": f"{1.3 * n:.2f} bar", "pause": "90 s", "name": f"pause number {n}"} for n in range(1, 10)]
    gauge = {
        "range": "25 bar",
        "division": "0.1 bar",
        "name": "Long-necked test gauge from the shelf over the lathe, number 9",
    }
    vessel = workshop.vessel(NAME, fittings=openings)
    plan = workshop.planned(
        vessel,
        stages=stages,
        gauge=gauge,
        hold={"minimum": "30 h"},
        acceptance={"max_drop": "0.001 bar", "over": "30 h"},
    )
    trial = str(workshop.post(f"/trials/{plan['id']}/freeze")["id"])
    run(workshop, trial, drop=0.4, to=10, minutes=1800)
    for leak in range(3):
        pin = {"x": 0.2 + 0.01 * leak, "v": 0.1, "view": ("front", "back", "end 1")[leak]}
        workshop.step(trial, "leak", owner="fitting", where=f"{NAME}, bush {leak}", shows="bubbles", pin=pin)
    workshop.post(f"/trials/{trial}/judge")
    workshop.post(f"/trials/{trial}/decision", {"fitness": "not proven", "reason": NAME})
    tall = {"kind": "chamber", "working_pressure": "10000 psi", "volume": "0.2 L"}
    strong = workshop.post("/vessels", {"name": f"{NAME[:-5]} tube", "sheet": tall})
    tried = workshop.post(f"/vessels/{strong['id']}/trials")["id"]
    return {
        "vessel": f"/vessels/{vessel['id']}",
        "plan": f"/trials/{trial}/plan",
        "bench": f"/trials/{trial}/bench",
        "judge": f"/trials/{trial}/judge",
        "record": f"/records/{trial}",
        "gather": f"/trials/{trial}/gather",
        "strong plan": f"/trials/{tried}/plan",
        "strong": f"/vessels/{strong['id']}",
        "shed": "/",
        "kit": "/kit",
        "logbook": "/records",
        "due": "/records/due",
        "keep": "/records/keep",
        "hang up": "/vessels/new",
    }


@pytest.mark.parametrize(
    ("width", "height", "units", "theme"),
    [
        (1280, 800, "metric", "lamp"),
        (1280, 800, "imperial", "daylight"),
        (390, 844, "metric", "daylight"),
        (390, 844, "imperial", "lamp"),
    ],
)
def test_nothing_is_cut_or_covered_with_the_longest_and_the_shortest(
    server: Server, page: Page, theme: str, units: str, width: int, height: int
) -> None:
    rooms = once("the hostile workshop", hostile)
    Maker.objects.update(units=units)
    page.set_viewport_size({"width": width, "height": height})
    page.add_init_script(f"localStorage.setItem('toadbell-theme', '{theme}')")
    found = []
    for room, path in rooms.items():
        page.goto(server.url + path)
        expect(page.get_by_role("main")).to_be_visible()
        page.wait_for_load_state("networkidle")
        page.evaluate("document.fonts.ready")
        found += [f"{room}: {one}" for what in (TOUCHING, SPILLING) for one in page.evaluate(what)]
    assert found == [], "\n".join(found)

"""No label of a drawing lies over another or is cut at its edge, and no page runs off the side: on a laptop and on a
phone, in both habits, with the demo workshop's widest and smallest figures.
"""

from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
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
    assert found == []

"""How soon the demo workshop stands, and the browser shows something and follows a hand, in headless Chromium."""

import tempfile
import time
from pathlib import Path

from tools.serving import LAUNCH, demo_server

FOLLOW = """([key, before]) => new Promise((done) => {
  const begun = performance.now()
  const test = document.querySelector('[aria-label^="test:"]')
  const moved = () => test.getAttribute('aria-valuetext') !== before
  const look = () => moved() ? done(performance.now() - begun) : requestAnimationFrame(look)
  document.activeElement.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))
  look()
})"""


def page() -> dict[str, float]:
    """The demo's second start, s; the first paint of the shed and a mark moved on the glass until the test follows,
    medians, ms.
    """
    with tempfile.TemporaryDirectory() as name:
        with demo_server(Path(name)):
            pass
        begun = time.perf_counter()
        with demo_server(Path(name)) as url:
            second = time.perf_counter() - begun
            return {"second start of the demo": second, **_followed(url)}


def _followed(url: str) -> dict[str, float]:
    from playwright.sync_api import sync_playwright

    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(**LAUNCH)
        shown = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        paints = []
        for _ in range(5):
            shown.goto(url, wait_until="networkidle")
            paints.append(float(shown.evaluate("performance.getEntriesByName('first-contentful-paint')[0].startTime")))
        shown.get_by_role("link", name="fourth trial planned").click()
        wanted = shown.get_by_role("slider", name="wanted:")
        wanted.wait_for()
        shown.wait_for_load_state("networkidle")
        taken = []
        for key in ("ArrowUp", "ArrowDown") * 5:
            wanted.focus()
            before = shown.get_by_role("slider", name="test:").get_attribute("aria-valuetext")
            taken.append(float(shown.evaluate(FOLLOW, [key, before])))
            shown.wait_for_timeout(800)
        browser.close()
    return {
        "first paint of the shed": sorted(paints)[2],
        "a mark moved on the glass until the test follows": sorted(taken)[5],
    }

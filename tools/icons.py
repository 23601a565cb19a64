"""The icons of the installed application, drawn from its mark by Chromium: make icons."""

from pathlib import Path

from playwright.sync_api import sync_playwright

from tools.serving import LAUNCH

PUBLIC = Path(__file__).resolve().parents[1] / "web" / "public"
GROUND, PAPER = "#1E6153", "#FBFAF4"
STYLE = "html,body{{margin:0;background:{ground}}}svg{{display:block;margin:{margin}px;stroke:{ink}}}"
PAGE = f"<style>{STYLE}</style>{{mark}}"


def main() -> None:
    """Draw each at its size; the one that is cut to any shape has its mark well inside."""
    mark = (PUBLIC / "toad.svg").read_text().replace('stroke="#1E6153"', "")
    with sync_playwright() as chromium:
        browser = chromium.chromium.launch(**LAUNCH)
        for name, size, margin in (("icon-192", 192, 24), ("icon-512", 512, 64), ("icon-512-mask", 512, 118)):
            page = browser.new_page(viewport={"width": size, "height": size})
            inner = size - 2 * margin
            sized = mark.replace("<svg ", f'<svg width="{inner}" height="{inner}" ', 1)
            page.set_content(PAGE.format(ground=GROUND, ink=PAPER, margin=margin, mark=sized))
            page.screenshot(path=PUBLIC / f"{name}.png")
        browser.close()


if __name__ == "__main__":
    main()

"""Pictures of two at one run: the code to scan, people, phones that watch and hold, and a second signature."""

import re
from collections.abc import Callable

from playwright.sync_api import Browser, Page, expect

HERE = "127.0.0.2"
"""This machine's second loopback address stands for the workshop's network."""
Take = Callable[[Page, str], None]


def phone(browser: Browser) -> Page:
    """A phone, which goes on where it does not know the certificate."""
    made = browser.new_context(
        viewport={"width": 390, "height": 844},
        locale="en-GB",
        timezone_id="UTC",
        ignore_https_errors=True,
        has_touch=True,
        is_mobile=True,
        service_workers="block",
    )
    return made.new_page()


def let_in(desk: Page, page: Page, who: str, before: Callable[[], None] = lambda: None) -> None:
    """Let a phone in by the six words on the desk; `before` it comes, the desk may be looked at."""
    desk.keyboard.press("+")
    dialog = desk.get_by_role("dialog")
    expect(dialog.get_by_role("button", name=re.compile("Open it|Show the code"))).to_be_visible()
    if dialog.get_by_role("button", name="Open it").is_visible():
        dialog.get_by_text(HERE).click()
        dialog.get_by_role("button", name="Open it").click()
    dialog.get_by_label("Whose phone is it?").select_option(label=who)
    dialog.get_by_role("button", name="Show the code").click()
    words = dialog.get_by_role("list", name="Six words").inner_text().split()
    found = re.search(rf"https://{HERE}:\d+/join", dialog.inner_text())
    assert found is not None
    before()
    page.goto(f"{found[0]}#{'-'.join(words)}")
    page.get_by_label("What this is called").fill("a phone")
    page.get_by_role("button", name="Let me in").click()
    expect(page.get_by_text("You are in, ")).to_be_visible()
    expect(dialog.get_by_role("status")).to_contain_text("is let in")
    desk.keyboard.press("Escape")
    expect(dialog).to_be_hidden()


def at_the_bench(browser: Browser, desk: Page, take: Take) -> None:
    """A watcher and a maker come to the run that is on the desk; the maker is handed it, and gives it back."""
    watcher, mate = phone(browser), phone(browser)
    let_in(desk, watcher, "Nell Ash, watcher", lambda: take(desk, "bring-a-phone"))
    let_in(desk, mate, "Maren Oddy, maker")
    for page in (watcher, mate):
        page.get_by_role("link", name="To the bench").click()
        expect(page.get_by_text("The run is in the hand of")).to_be_visible()
    mate.get_by_role("button", name="Ask for it").click()
    expect(desk.get_by_role("alert").filter(has_text="asks for the run")).to_be_visible()
    desk.keyboard.press("y")
    expect(watcher.get_by_text("The run is in the hand of Maren Oddy")).to_be_visible()
    expect(mate.get_by_text("The run is in the hand of")).to_be_hidden()
    take(watcher, "phone-watching")
    take(mate, "phone-holding")
    desk.keyboard.press("t")
    expect(desk.get_by_text("The run is in the hand of")).to_be_hidden()


def signed(browser: Browser, desk: Page, url: str, record: str, take: Take) -> None:
    """An inspector signs a record on her own phone; a neighbour is still to sign on paper."""
    inspector = phone(browser)
    desk.goto(f"{url}/people")
    expect(desk.get_by_role("heading", name="People")).to_be_visible()
    let_in(desk, inspector, "Ines Quill, inspector")
    take(desk, "people")
    desk.goto(record)
    for role, who in (("inspector", "Ines Quill, inspector"), ("witness", "")):
        desk.get_by_role("button", name="Ask for a signature").click()
        dialog = desk.get_by_role("dialog")
        dialog.get_by_role("radio", name=re.compile(f"^{role}")).check()
        if who:
            dialog.get_by_label("Whom").select_option(label=who)
        else:
            dialog.get_by_label("Their name").fill("Bran Teal")
        dialog.get_by_role("button", name="Ask them").click()
        expect(dialog).to_be_hidden()
    inspector.goto(f"{inspector.url.split('/join')[0]}{record.removeprefix(url)}")
    inspector.get_by_role("button", name="Sign", exact=True).click()
    sheet = inspector.get_by_role("dialog")
    for box in sheet.get_by_role("checkbox").all()[-2:]:
        box.check()
    sheet.get_by_role("radio", name="approved", exact=True).check()
    sheet.get_by_label("Remarks").fill("Sound work, dry throughout; the bush is new.")
    sheet.get_by_role("button", name="Sign", exact=True).click()
    expect(inspector.get_by_text("by their own hand, on their own phone")).to_be_visible()
    desk.reload()
    part = desk.get_by_role("region", name="Second signatures")
    expect(part).to_contain_text("It stands here as it was signed.")
    part.scroll_into_view_if_needed()
    desk.keyboard.press("End")
    take(desk, "sign")

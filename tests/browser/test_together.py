"""Two at one run: a desk and phones that come through the door to the network, who signs, who is shut out; and the
application without the network.
"""

import re
import shutil
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings as site
from django.test import Client
from PIL import Image
from playwright.sync_api import Browser, BrowserContext, Page, Playwright, expect

from tests.browser.conftest import Server
from tests.browser.test_bench import log_reading
from tests.server.conftest import Workshop, rewind
from tests.server.test_attachments import picture, post
from tests.server.test_share import soon
from toadbell.people.models import SignedIn
from toadbell.records.models import Attachment
from toadbell.shed.people import Maker
from toadbell.site.door import Door
from toadbell.site.share.listener import SECOND_DOOR
from toadbell.trials.models import Event, Reading, Signature, Trial
from tools.serving import LAUNCH

HERE = "127.0.0.2"
PIN = "274913"
PHONE: dict[str, Any] = {
    "viewport": {"width": 390, "height": 844},
    "locale": "en-GB",
    "has_touch": True,
    "is_mobile": True,
}
KEPT = """() => new Promise((done) => {
  const open = indexedDB.open("toadbell-seen")
  open.onsuccess = () => {
    const db = open.result
    if (!db.objectStoreNames.contains("seen")) return done(false)
    const got = db.transaction("seen").objectStore("seen").getAll()
    got.onsuccess = () => done(String(got.result[0]).includes('"queryKey":["bench"'))
  }
})"""
"""Has the browser kept what it saw of a bench?"""
LEFT = """async () => {
  const found = [JSON.stringify(localStorage), JSON.stringify(sessionStorage)]
  for (const { name } of await indexedDB.databases()) {
    const db = await new Promise((done) => (indexedDB.open(name).onsuccess = (event) => done(event.target.result)))
    for (const store of db.objectStoreNames) {
      const all = db.transaction(store).objectStore(store).getAll()
      found.push(JSON.stringify(await new Promise((done) => (all.onsuccess = () => done(all.result)))))
    }
    db.close()
  }
  for (const name of await caches.keys()) {
    const held = await caches.open(name)
    for (const one of await held.keys()) found.push(one.url, await (await held.match(one)).text())
  }
  return found.join(" ")
}"""
"""Everything that the browser keeps of this address."""
LetIn = Callable[..., Page]


@pytest.fixture(autouse=True)
def on_one_machine(settings: Any, server: Server) -> Iterator[None]:
    """The network of these tests is this machine's second loopback address."""
    settings.SHARE_ON_LOOPBACK = True
    settings.PASSWORD_HASHERS = ["tests.server.test_people.QuickHash"]
    yield
    SECOND_DOOR.close()


@pytest.fixture
def let_in(shop: Page, browser: Browser) -> Iterator[LetIn]:
    """Let a phone in by what the desk shows, from the key to the room it comes to."""
    phones: list[BrowserContext] = []

    def come(name: str, role: str = "", scanned: bool = True, context: BrowserContext | None = None) -> Page:
        shop.keyboard.press("+")
        dialog = shop.get_by_role("dialog")
        expect(dialog.get_by_role("heading", name="Bring a phone")).to_be_visible()
        expect(dialog.get_by_role("button", name=re.compile("Open it|Show the code"))).to_be_visible()
        if dialog.get_by_role("button", name="Open it").is_visible():
            dialog.get_by_text(HERE).click()
            dialog.get_by_role("button", name="Open it").click()
        expect(dialog.get_by_label("Whose phone is it?")).to_be_visible()
        if role:
            dialog.get_by_label("Their name").fill(name)
            dialog.get_by_role("radio", name=re.compile(f"^{role}")).check()
        else:
            dialog.get_by_label("Whose phone is it?").select_option(label=name)
        dialog.get_by_role("button", name="Show the code").click()
        words = dialog.get_by_role("list", name="Six words").inner_text().split()
        assert len(words) == 6
        url = dialog.get_by_text(re.compile(rf"https://{HERE}:\d+/join")).inner_text()
        made = context or browser.new_context(**PHONE, ignore_https_errors=True, service_workers="block")
        phones.append(made)
        phone = made.new_page()
        found = re.search(rf"https://{HERE}:\d+/join", url)
        assert found is not None
        if scanned:
            phone.goto(f"{found[0]}#{'-'.join(words)}")
        else:
            phone.goto(found[0])
            phone.get_by_label("Six words").fill(" ".join(word[:4].upper() for word in words))
        phone.get_by_role("button", name="Let me in").click()
        expect(phone.get_by_role("heading", name=f"You are in, {name.split(',')[0]}")).to_be_visible()
        expect(dialog.get_by_role("status")).to_contain_text("is let in")
        shop.keyboard.press("Escape")
        expect(dialog).to_be_hidden()
        return phone

    yield come
    for one in phones:
        one.close()


def kept_by(page: Page) -> None:
    """Wait until the browser keeps the application, and comes to it by itself."""
    ready = "() => navigator.serviceWorker.getRegistration().then((one) => one?.active?.state === 'activated')"
    soon(lambda: bool(page.evaluate(ready)))
    page.reload()
    soon(lambda: bool(page.evaluate("() => navigator.serviceWorker.controller !== null")))


def person(name: str, role: str, pin: str = "") -> Maker:
    made = Maker.take_in(name, role)
    if pin:
        made.keep_secret(pin)
    return made


def test_a_desk_and_phones_run_a_whole_trial_together_and_an_inspector_signs(
    shop: Page, frozen: str, let_in: LetIn
) -> None:
    trial = str(Trial.objects.get().pk)
    shop.goto(frozen)
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    shop.keyboard.press("Enter")
    now = shop.get_by_test_id("now")
    expect(now).to_have_text("Fill, and shut the vent.")
    mate, watcher = let_in("Maren Oddy", "works here"), let_in("Nell Ash", "watches", scanned=False)
    for phone in (mate, watcher):
        phone.get_by_role("link", name="To the bench").click()
        expect(phone.get_by_text("The run is in the hand of a laptop")).to_be_visible()
        assert phone.evaluate(
            "() => isSecureContext && 'wakeLock' in navigator && navigator.mediaDevices !== undefined"
        )
    expect(watcher.get_by_role("button", name="Dump")).to_be_hidden()
    shop.keyboard.press("Enter")
    log_reading(shop, "3.2")
    expect(mate.get_by_test_id("pressure")).to_have_text("3.20")
    expect(watcher.get_by_test_id("pressure")).to_have_text("3.20")
    # the phone asks for the run, the desk hands it over, and only then the phone moves it on
    expect(mate.get_by_role("button", name="Reached")).to_be_disabled()
    mate.get_by_role("button", name="Ask for it").click()
    expect(shop.get_by_role("alert").filter(has_text="Maren Oddy on a phone asks for the run")).to_be_visible()
    shop.keyboard.press("y")
    mate.get_by_role("button", name="Reached").click()
    expect(shop.get_by_test_id("log").get_by_text("stage 1 reached")).to_be_visible()
    # stop is called from behind the wall: everybody sees who called, and nothing goes on before it is answered
    watcher.get_by_label("What you see").fill("it hisses at the bush")
    watcher.get_by_role("button", name="Call stop").click()
    for page in (shop, mate, watcher):
        stop = page.get_by_role("alert").filter(has_text="Stop! Called by Nell Ash: it hisses at the bush")
        expect(stop).to_be_visible()
    mate.get_by_role("button", name="Answer").click()
    mate.get_by_label("What was seen").fill("the kettle in the yard")
    mate.get_by_role("button", name="Go on", exact=True).click()
    expect(watcher.get_by_role("alert").filter(has_text="Stop!")).to_be_hidden()
    mate.get_by_role("button", name="Note").click()
    mate.get_by_role("dialog").get_by_label("Note").fill("seen from behind the wall")
    mate.get_by_role("button", name="Write it down").click()
    expect(shop.get_by_test_id("log").get_by_text("seen from behind the wall")).to_be_visible()
    with tempfile.TemporaryDirectory() as folder:
        bush = Path(folder) / "bush.jpg"
        Image.new("RGB", (640, 480), "#a97716").save(bush)
        mate.get_by_role("button", name="More").click()
        mate.get_by_role("button", name="Keep a photo").click()
        mate.locator("input[type=file]").set_input_files(bush)
        mate.get_by_role("dialog").get_by_role("button", name=re.compile("Keep")).click()
        expect(mate.get_by_role("dialog")).to_be_hidden()
    assert Attachment.objects.get().by.shown_name == "Maren Oddy"
    # back at the desk: up, held, and down
    shop.keyboard.press("t")
    expect(mate.get_by_text("The run is in the hand of a laptop")).to_be_visible()
    for stage, pressure in enumerate(("6.4", "8.5", "9.6", "12.8"), 2):
        expect(now).to_have_text(re.compile("Raise to"))
        log_reading(shop, pressure)
        shop.keyboard.press("Enter")
        expect(shop.get_by_test_id("log").get_by_text(f"stage {stage} reached")).to_be_visible()
    shop.keyboard.press("h")
    expect(watcher.get_by_test_id("now")).to_have_text("Hands off.")
    log_reading(shop, "12.8")
    rewind(trial, 300)
    log_reading(shop, "12.8")
    rewind(trial, 310)
    log_reading(shop, "12.8")
    shop.keyboard.press("Enter")
    expect(now).to_have_text(re.compile("Come down"))
    log_reading(shop, "8.5")
    for says in ("Look closely", "Release", "Open the vent", "Open the drain", "Dry it inside", "Done. Now judge it."):
        shop.keyboard.press("Enter")
        expect(now).to_have_text(re.compile(f"^{says}"))
    shop.keyboard.press("Enter")
    said = Event.objects.filter(kind__in=("note", "guard"))
    assert {event.by.shown_name for event in said} == {"Maren Oddy", "Nell Ash"}
    # the decision, and a second signature by the inspector's own hand
    found = Trial.objects.get(pk=trial)
    assert found.state in ("held", "judged")
    shop.get_by_role("button", name=re.compile("Judge")).first.click()
    expect(shop.get_by_test_id("verdict")).to_be_visible()


def decided(shop: Page, server: Server, trial: str) -> None:
    shop.goto(f"{server.url}/records/{trial}")
    expect(shop.get_by_test_id("record")).to_be_visible()


@pytest.fixture
def judged(holding: str) -> str:
    """A trial that was held, brought down and decided; its id."""
    from django.test import Client

    from tests.server.conftest import Workshop

    workshop, trial = Workshop(Client()), str(Trial.objects.get().pk)
    for minutes in (5, 5.5):
        rewind(trial, 60 * minutes)
        workshop.read(trial, "12.8 bar")
    Trial.objects.filter(pk=trial).update(hand="")
    for kind in ("hold-ended", "came-down", "looked", "released", "vent-open"):
        workshop.step(trial, kind)
    workshop.post(f"/trials/{trial}/judge")
    workshop.post(
        f"/trials/{trial}/decision", {"fitness": "not proven", "reason": "the relief valve is still to be tried"}
    )
    return trial


def test_an_inspector_signs_on_their_own_phone_what_they_saw_and_the_record_is_sealed(
    shop: Page, server: Server, judged: str, let_in: LetIn
) -> None:
    shop.goto(f"{server.url}/people")
    expect(shop.get_by_role("heading", name="People")).to_be_visible()
    phone = let_in("Ines Quill", "inspects")
    shop.goto(f"{server.url}/records/{judged}")
    shop.get_by_role("button", name="Ask for a signature").click()
    dialog = shop.get_by_role("dialog")
    dialog.get_by_role("radio", name=re.compile("^inspector")).check()
    dialog.get_by_label("Whom").select_option(label="Ines Quill, inspector")
    dialog.get_by_role("button", name="Ask them").click()
    expect(shop.get_by_text("Not signed.")).to_be_visible()
    phone.goto(f"{phone.url.split('/join')[0]}/records/{judged}")
    phone.get_by_role("button", name="Sign", exact=True).click()
    asked = phone.get_by_role("dialog")
    asked.get_by_label("the hold").check()
    expect(asked.get_by_role("button", name="Sign", exact=True)).to_be_disabled()
    asked.get_by_role("radio", name="approved", exact=True).check()
    asked.get_by_label("Remarks").fill("Sound work, dry throughout.")
    asked.get_by_role("button", name="Sign", exact=True).click()
    expect(phone.get_by_text("by their own hand, on their own phone")).to_be_visible()
    shop.reload()
    signed = shop.get_by_role("region", name="Second signatures")
    expect(signed).to_contain_text("saw the hold. “Sound work, dry throughout.”")
    expect(signed).to_contain_text("It stands here as it was signed.")
    assert Signature.objects.get().seal in re.sub(r"\s", "", signed.inner_text())
    signed.get_by_role("button", name="Write beside it").click()
    shop.get_by_label("What came later").fill("The bush was replaced in May.")
    shop.get_by_role("button", name="Write it beside").click()
    expect(signed).to_contain_text("The bush was replaced in May.")


@pytest.mark.stranger
def test_two_keys_make_it_somebody_elses_and_a_pin_is_asked_for_once(shop: Page, frozen: str) -> None:
    person("Tobit Lisk", "maker")
    person("Hanne Brill", "maker", PIN)
    shop.goto(frozen)
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Fill, and shut the vent.")

    def note(text: str) -> str:
        shop.keyboard.press("n")
        shop.get_by_role("dialog").get_by_label("Note").fill(text)
        shop.keyboard.press("Enter")
        expect(shop.get_by_test_id("log").get_by_text(text)).to_be_visible()
        return Event.objects.get(kind="note", data__text=text).by.shown_name

    shop.keyboard.press(".")
    expect(shop.get_by_role("dialog").get_by_text("Tobit Lisk")).to_be_visible()
    shop.keyboard.press("2")
    expect(shop.get_by_role("button", name="Tobit Lisk is here")).to_be_visible()
    expect(shop.get_by_role("dialog")).to_be_hidden()
    assert note("the vent spits") == "Tobit Lisk"
    shop.keyboard.press(".")
    expect(shop.get_by_role("dialog").get_by_text("Hanne Brill")).to_be_visible()
    shop.keyboard.press("3")
    field = shop.get_by_role("dialog").get_by_label("PIN or password")
    field.fill("111222")
    shop.keyboard.press("Enter")
    expect(shop.get_by_text("That is not Hanne Brill's PIN")).to_be_visible()
    field.fill(PIN)
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("button", name="Hanne Brill is here")).to_be_visible()
    expect(shop.get_by_role("dialog")).to_be_hidden()
    assert note("now it runs clear") == "Hanne Brill"


@pytest.mark.stranger
def test_an_owner_who_wants_to_be_asked_is_asked_by_name_and_pin(shop: Page, server: Server) -> None:
    shop.goto(f"{server.url}/people")
    shop.get_by_role("button", name="Give a PIN").click()
    dialog = shop.get_by_role("dialog")
    dialog.get_by_label("The new one").fill(PIN)
    dialog.get_by_label("Once more").fill("999")
    expect(dialog.get_by_text("The two differ.")).to_be_visible()
    dialog.get_by_label("Once more").fill(PIN)
    dialog.get_by_label("ask for it on this machine too").check()
    dialog.get_by_role("button", name="Keep it").click()
    expect(shop.get_by_role("heading", name="Who is at it?")).to_be_visible()
    shop.get_by_role("button", name="Owner").click()
    shop.get_by_label("PIN or password").fill(PIN)
    shop.keyboard.press("Enter")
    expect(shop.get_by_role("heading", name="People")).to_be_visible()


def test_a_phone_out_of_reach_keeps_what_is_done_and_one_that_is_shut_out_keeps_nothing(
    shop: Page, frozen: str, server: Server, let_in: LetIn
) -> None:
    shop.goto(frozen)
    expect(shop.get_by_role("heading", name="Before you begin")).to_be_visible()
    shop.keyboard.press("Enter")
    expect(shop.get_by_test_id("now")).to_have_text("Fill, and shut the vent.")
    shop.keyboard.press("Enter")
    phone = let_in("Maren Oddy", "works here")
    phone.get_by_role("link", name="To the bench").click()
    expect(phone.get_by_text("The run is in the hand of")).to_be_visible()

    def reads(pressure: str) -> None:
        phone.get_by_role("button", name="Log reading").click()
        phone.get_by_role("dialog").get_by_label("Pressure").fill(pressure)
        phone.get_by_role("dialog").get_by_label("Pressure").press("Enter")
        expect(phone.get_by_role("dialog")).to_be_hidden()

    phone.context.set_offline(True)
    expect(phone.get_by_role("alert").filter(has_text="The server does not answer")).to_be_visible()
    reads("3.2")
    assert Reading.objects.count() == 0
    phone.context.set_offline(False)
    expect(shop.get_by_test_id("pressure")).to_have_text("3.20")
    assert Reading.objects.count() == 1
    phone.context.set_offline(True)
    reads("3.3")
    SignedIn.objects.get(maker__first_name="Maren Oddy").end()
    phone.context.set_offline(False)
    expect(phone.get_by_role("heading", name="This browser is let in no longer")).to_be_visible()
    expect(phone.get_by_text("reading 3.3")).to_be_visible()  # what never arrived is told once more
    phone.reload()
    expect(phone.get_by_role("heading", name="This browser is not let in")).to_be_visible()
    left = phone.evaluate(LEFT)
    assert not any(word in left for word in ("Wharf", "Maren", "3.3", "reading"))
    assert Reading.objects.count() == 1


# -- without the network --------------------------------------------------------------------


@pytest.fixture
def installed(browser: Browser, server: Server) -> Iterator[Page]:
    """A browser that keeps the application, as a phone does that has it on its home screen."""
    context = browser.new_context(locale="en-GB", service_workers="allow")
    page = context.new_page()
    page.goto(server.url)
    kept_by(page)
    yield page
    context.close()


def test_it_opens_without_the_server_with_the_run_as_it_was_seen_and_goes_on(
    installed: Page, server: Server, holding: str
) -> None:
    Trial.objects.update(hand="")
    installed.goto(holding)
    expect(installed.get_by_test_id("pressure")).to_have_text("12.80")
    soon(lambda: bool(installed.evaluate(KEPT)))
    server.stop()
    installed.reload()
    expect(installed.get_by_test_id("now")).to_have_text("Hands off.")
    expect(installed.get_by_test_id("pressure")).to_have_text("12.80")
    expect(installed.get_by_role("alert").filter(has_text="The server does not answer")).to_be_visible()
    log_reading(installed, "12.75")
    expect(installed.get_by_test_id("waiting").get_by_role("listitem")).to_have_count(1)
    assert Reading.objects.count() == 5
    server.start()
    expect(installed.get_by_test_id("waiting")).to_be_hidden()
    expect(installed.get_by_test_id("pressure")).to_have_text("12.75")
    assert Reading.objects.count() == 6


def test_a_newer_application_asks_before_it_takes_over(
    browser: Browser, server: Server, tmp_path: Path, settings: Any
) -> None:
    settings.WHITENOISE_ROOT = shutil.copytree(site.WHITENOISE_ROOT, tmp_path / "dist")
    server.stop()
    server.answers = Door(None)
    server.start()
    context = browser.new_context(locale="en-GB", service_workers="allow")
    page = context.new_page()
    page.goto(server.url)
    kept_by(page)
    for old in (tmp_path / "dist").glob("sw.js*"):
        text = old.read_text() if old.suffix == ".js" else ""
        old.unlink()
        if text:
            old.write_text(f"{text}\n// newer\n")
    server.stop()
    server.answers = Door(None)
    server.start()
    page.evaluate("() => navigator.serviceWorker.getRegistration().then((one) => one.update())")
    strip = page.get_by_role("status").filter(has_text="A newer Toad Bell lies ready")
    expect(strip).to_be_visible()
    assert page.evaluate("() => navigator.serviceWorker.getRegistration().then((one) => one.waiting !== null)")
    with page.expect_navigation():
        strip.get_by_role("button", name="Take it over now").click()
    expect(strip).to_be_hidden()
    soon(lambda: not page.evaluate("() => navigator.serviceWorker.getRegistration().then((one) => !!one.waiting)"))
    context.close()


TAKEN_IN = """async () => {
  const found = await navigator.serviceWorker.register("/sw.js")
  const worker = found.installing ?? found.waiting ?? found.active
  while (!["activated", "redundant"].includes(worker.state)) await new Promise((done) => (worker.onstatechange = done))
  return worker.state
}"""
"""How it ended that the browser was to keep the application."""


def test_a_browser_keeps_of_the_application_what_was_built_and_nothing_that_was_put_in_its_place(
    browser: Browser, server: Server, tmp_path: Path, settings: Any
) -> None:
    settings.WHITENOISE_ROOT = shutil.copytree(site.WHITENOISE_ROOT, tmp_path / "dist")
    script = next((tmp_path / "dist" / "assets").glob("Bench-*.js"))
    for zipped in script.parent.glob(f"{script.name}.*"):
        zipped.unlink()
    script.write_text(script.read_text() + "\n;window.stranger = 1\n")
    server.stop()
    server.answers = Door(None)
    server.start()
    context = browser.new_context(locale="en-GB", service_workers="allow")
    page = context.new_page()
    page.goto(f"{server.url}/plain.css")
    assert page.evaluate(TAKEN_IN) == "redundant"
    assert "stranger" not in page.evaluate(LEFT)
    context.close()


@pytest.fixture
def trusting(shop: Page, server: Server, playwright: Playwright, tmp_path: Path) -> BrowserContext:
    """A phone that took the workshop's certificate in, and so keeps the application."""
    import base64

    from cryptography import x509
    from cryptography.hazmat.primitives import hashes, serialization

    from toadbell.site.share.certificate import certificate_for

    made = x509.load_pem_x509_certificate(certificate_for(site.DATA_DIR / "door", HERE).workshop.read_bytes())
    key = made.public_key().public_bytes(serialization.Encoding.DER, serialization.PublicFormat.SubjectPublicKeyInfo)
    digest = hashes.Hash(hashes.SHA256())
    digest.update(key)
    trusted = base64.b64encode(digest.finalize()).decode()
    return playwright.chromium.launch_persistent_context(
        str(tmp_path / "profile"),
        executable_path=LAUNCH["executable_path"],
        args=[*LAUNCH["args"], f"--ignore-certificate-errors-spki-list={trusted}"],
        service_workers="allow",
        **PHONE,
    )


def test_a_phone_that_took_the_workshops_certificate_in_keeps_the_application_too(
    shop: Page, server: Server, let_in: LetIn, trusting: BrowserContext
) -> None:
    shop.goto(f"{server.url}/people")
    expect(shop.get_by_role("heading", name="People")).to_be_visible()
    phone = let_in("Maren Oddy", "works here", context=trusting)
    phone.get_by_role("link", name="To the shed").click()
    kept_by(phone)
    SECOND_DOOR.close()
    phone.reload()
    expect(phone.get_by_role("heading", name="The server does not answer").first).to_be_visible()


def test_of_a_picture_that_a_phone_saw_nothing_is_left_when_it_is_shut_out(
    shop: Page, server: Server, let_in: LetIn, trusting: BrowserContext
) -> None:
    workshop = Workshop(Client())
    (seam,) = post(workshop, f"/vessels/{workshop.vessel()['id']}/attachments", "seam.jpg", picture())
    shop.goto(f"{server.url}/people")
    expect(shop.get_by_role("heading", name="People")).to_be_visible()
    phone = let_in("Maren Oddy", "works here", context=trusting)
    phone.get_by_role("link", name="To the shed").click()
    kept_by(phone)
    shown = f"/api/photos/{seam['id']}"
    assert phone.evaluate(f"() => fetch('{shown}').then((one) => one.status)") == 200
    SignedIn.objects.get(maker__first_name="Maren Oddy").end()
    phone.reload()
    expect(phone.get_by_role("heading", name="This browser is let in no longer")).to_be_visible()
    phone.wait_for_load_state("networkidle")  # it is asked to forget by every call that was refused
    soon(lambda: not phone.evaluate("() => navigator.serviceWorker.getRegistrations().then((all) => all.length)"))
    phone.reload()
    expect(phone.get_by_role("heading", name="This browser is not let in")).to_be_visible()
    assert not any(word in phone.evaluate(LEFT) for word in ("Tank", "Maren"))
    still = f"() => fetch('{shown}', {{ cache: 'only-if-cached', mode: 'same-origin' }}).then(() => true, () => false)"
    assert not phone.evaluate(still)

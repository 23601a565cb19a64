"""Somebody new at the screen, who does what it says: the keys that are printed, the fields and buttons by their names.

What they press, click and wait is counted: `docs/jobs.md` tells it of each job.
"""

import json
import os
import re
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from playwright.sync_api import Locator, Page, expect

CLOCK = "300"
"""So many times the clock goes the simulated rig's."""
PATIENCE = 40.0
"""A run that does not move on for so many s is stuck: the screen did not say what to do next."""


class Newcomer:
    """One person at one page."""

    def __init__(self, page: Page) -> None:
        self.page, self.keys, self.clicks, self.began = page, 0, 0, time.monotonic()

    # -- what hands do

    def press(self, *keys: str) -> None:
        """Keys, one after the other."""
        for key in keys:
            self.keys += 1
            self.page.keyboard.press(key)

    def type(self, text: str) -> None:
        """A text, where the focus is."""
        self.keys += len(text)
        self.page.keyboard.type(text)

    def click(self, name: str | re.Pattern[str], role: Any = "button", within: Locator | None = None) -> None:
        """What is called so."""
        self.clicks += 1
        (within or self.page).get_by_role(role, name=name).first.click()

    def fields(self, told: dict[str, str]) -> None:
        """Fields by their labels, each clicked and typed into; a choice is chosen, and “yes” ticks a box."""
        for label, text in told.items():
            self.clicks += 1
            if text == "yes":
                self.page.get_by_label(label).first.check()
                continue
            exact = self.page.get_by_label(re.compile(rf"^{re.escape(label)}( \*)?$"))
            field = (exact if exact.count() else self.page.get_by_label(label)).first
            if field.evaluate("one => one.tagName") == "SELECT":
                field.select_option(text)
            else:
                self.keys += len(text)
                field.fill(text)

    # -- the evening before

    def hang_up(self, kind: str, name: str, told: dict[str, str]) -> None:
        """A vessel, from the empty shed to its page."""
        expect(self.page.get_by_role("link", name="Toad Bell, the shed")).to_be_visible()
        self.press("n")
        self.fields({"What it is": kind, "Name": name, **told})
        self.click("Hang it up")
        expect(self.page.get_by_role("heading", name="Logbook")).to_be_visible()

    def plan(self, told: dict[str, str], what: str | None = None) -> None:
        """What the vessel's page leads to, or another kind of trial by its name; frozen as soon as it may be."""
        if what is None:
            self.click("Plan a trial")
        else:
            self.press("k")
            self.click(re.compile(f"^{what}"), within=self.page.get_by_role("dialog"))
        freeze = self.page.get_by_role("button", name="Freeze and go to the bench")
        expect(freeze).to_be_visible()
        self.fields(told)
        expect(freeze).to_be_enabled()
        self.click("Freeze and go to the bench")
        expect(self.page.get_by_role("heading", name="Before you begin")).to_be_visible()

    # -- at the bench

    @property
    def now(self) -> str:
        """The one line that says what is to be done; nothing where the bench was left."""
        found: list[str] = self.page.get_by_test_id("now").all_inner_texts()
        return found[0] if found else ""

    def begin(self) -> None:
        """On the simulated rig, as it is offered, by a quick clock."""
        self.fields({"Its clock goes": CLOCK})
        self.click("Try it on the simulated rig")
        expect(self.page.get_by_test_id("now")).to_be_visible()

    def run(self, otherwise: dict[str, Callable[[], None]] | None = None) -> None:
        """Do what the line says until it says that it is done; `otherwise` by the beginning of the line."""
        acts = {
            **(otherwise or {}),
            "Stop the pump": self._let_out,
            "Let a little out": self._let_out,
            "Stop. Let a little out": self._let_out,
            "Raise": self._pump,
            "Shut in, and hold.": lambda: self.press("h"),
            "Hands off": self._wait,
            "Wait": self._wait,
        }
        since, before = time.monotonic(), ""
        while now := self.now:
            if now != before:
                since, before = time.monotonic(), now
            assert time.monotonic() - since < PATIENCE, f"stuck at “{now}”: {self._said()}"
            next((act for says, act in acts.items() if now.startswith(says)), self.go_on)()

    def go_on(self) -> None:
        """Enter is the next step, where its key may be pressed."""
        line = self.now
        self.press("Enter")
        self._until(lambda: self.now != line)

    def told(self, *texts: str) -> None:
        """What is asked before a step goes on, one field after the other."""
        self.press("Enter")
        dialog = self.page.get_by_role("dialog")
        expect(dialog).to_be_visible()
        for n, text in enumerate(texts):
            self.type(text)
            self.press("Tab" if n < len(texts) - 1 else "Enter")
        expect(dialog).to_be_hidden()

    def _pump(self) -> None:
        """As many strokes as it says, or one, and look what the gauge shows then."""
        line, shown = self.now, self.page.get_by_test_id("pressure").inner_text()
        rig = self.page.get_by_role("group", name="The simulated rig")
        many = rig.get_by_role("button", name=re.compile(r"^Pump \d+"))
        if not many.is_enabled():
            return
        self.press("Shift+P" if int(re.findall(r"\d+", many.inner_text())[0]) > 1 else "p")
        self._until(lambda: self.now != line or self.page.get_by_test_id("pressure").inner_text() != shown)
        self._until(lambda: self.now != line or rig.get_by_text("pump still").is_visible(), PATIENCE)

    def _let_out(self) -> None:
        """A little out, and the alarm answered by what was seen."""
        self.press("Shift+V")
        self.page.wait_for_timeout(1000)
        if self.page.get_by_role("button", name=re.compile("^Answer")).is_visible():
            self.press("a")
            self.type("looked from the line, dry")
            self.press("Enter")
            expect(self.page.get_by_role("dialog")).to_be_hidden()

    def _wait(self) -> None:
        line = self.now
        self._until(lambda: self.now != line, PATIENCE)

    def _until(self, true: Callable[[], bool], within: float = 4.0) -> None:
        """Until it is so, or for so many s: what the line says then is done next."""
        end = time.monotonic() + within
        while not true() and time.monotonic() < end:
            self.page.wait_for_timeout(50)

    def _said(self) -> str:
        return " | ".join(self.page.get_by_role("alert").all_inner_texts())

    # -- the evening after

    def decide(self, says: str, decided: str | None = None) -> None:
        """From the judge's sentence to the record, by what the judge advises or by another choice with its reason."""
        judge = self.page.get_by_role("button", name=re.compile("^Judge"))
        verdict = self.page.get_by_test_id("verdict")
        expect(judge.or_(verdict).first).to_be_visible()
        if judge.is_visible():
            self.press("Enter")
        expect(verdict).to_have_text(re.compile(says))
        self.click("Write the decision")
        if decided is not None:
            self.click(re.compile(f"^{decided}"), role="radio")
        reason = self.page.get_by_label("Why, in a sentence")
        if reason.is_visible():
            self.keys += 20
            reason.fill("practised on the rig")
        self.click("Write it down")
        expect(self.page.get_by_test_id("record")).to_be_visible()

    def counted(self, job: str) -> None:
        """Write down what the job took, where a file for it is named."""
        to = os.environ.get("TOADBELL_JOBS")
        if to:
            with Path(to).open("a") as file:
                told = {
                    "job": job,
                    "keys": self.keys,
                    "clicks": self.clicks,
                    "seconds": round(time.monotonic() - self.began),
                }
                file.write(json.dumps(told) + "\n")

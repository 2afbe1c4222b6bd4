"""What the walks share: a live server with a real runner process, a browser, and small words for acting on it."""

from __future__ import annotations

import json
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.db import connection
from django.test import LiveServerTestCase, override_settings
from selenium.common.exceptions import (
    ElementClickInterceptedException,
    ElementNotInteractableException,
    StaleElementReferenceException,
    WebDriverException,
)
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from demo.people import PEOPLE
from demo.scenarios import project_file
from e2e.browser import PATIENCE, open_browser
from server.exchange.bring import import_file
from server.projects.models import Option, Project

ROOT = Path(__file__).resolve().parents[1]
AXE = (ROOT / "web/node_modules/axe-core/axe.min.js").read_text(encoding="utf-8")


class Lasting(WebElement):
    """An element that is looked for again where the page drew it anew, moved it or covered it between finding and use."""

    def __init__(self, found: WebElement, again: Callable[[], Any]) -> None:
        super().__init__(found.parent, found.id)
        self._again = again

    def _lasting(self, act: Callable[[], Any]) -> Any:
        end = time.monotonic() + PATIENCE
        while True:
            try:
                return act()
            except (
                StaleElementReferenceException,
                ElementClickInterceptedException,
                ElementNotInteractableException,
            ):
                if time.monotonic() > end:
                    raise
                time.sleep(0.05)
                self._found_again()

    def _found_again(self) -> None:
        try:
            answer = self._again()
        except WebDriverException:  # not there at the moment
            return
        if isinstance(answer, WebElement):
            self._id = answer.id

    def _execute(self, command: str, params: dict[str, Any] | None = None) -> Any:
        return self._lasting(lambda: super(Lasting, self)._execute(command, params))  # type: ignore[no-untyped-call]

    def get_attribute(self, name: str) -> str | None:
        return self._lasting(lambda: super(Lasting, self).get_attribute(name))

    def is_displayed(self) -> bool:
        return bool(self._lasting(lambda: super(Lasting, self).is_displayed()))


class Walk(LiveServerTestCase):
    """A browser on a live server; a runner works on the same database when `runner` is asked for."""

    def setUp(self) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="wendrick-walk-"))
        self.addCleanup(shutil.rmtree, self.folder, True)
        override = override_settings(
            RESULTS=self.folder / "runs",
            PHOTOS=self.folder / "photos",
            REPORTS=self.folder / "reports",
            DOCUMENTS=self.folder / "documents",
        )
        override.enable()
        self.addCleanup(override.disable)
        for username, first, last, password, _ in PEOPLE:
            User.objects.create_user(username, password=password, first_name=first, last_name=last)
        self.browser = open_browser(downloads=self.folder)
        self.addCleanup(lambda: self.browser.quit())

    def start_runner(self) -> None:
        env = {
            **os.environ,
            "WENDRICK_DATA": str(self.folder),
            "WENDRICK_DATABASE": str(connection.settings_dict["NAME"]),
            "WENDRICK_CACHE": str(settings.DATA / "cache"),
            "WENDRICK_WORKERS": "1",
        }
        runner = subprocess.Popen([sys.executable, "manage.py", "runner"], cwd=ROOT, env=env, start_new_session=True)

        def stop() -> None:
            os.killpg(runner.pid, signal.SIGTERM)
            runner.wait()

        self.addCleanup(stop)

    def demo_project(self) -> Project:
        """Corrie Halt for the first demo person, before it was decided: one scheme without phases, nothing rejected, and on its
        faces only what was drawn by hand. The walks decide."""
        username, _, _, _, files = PEOPLE[0]
        with project_file(files[0]) as stream:
            project = import_file(User.objects.get(username=username), stream, stream.seek(0, 2))
        project.schemes.exclude(position=0).delete()
        project.elements.filter(derived__only_after=True).delete()
        scheme = project.shown_scheme()
        scheme.phases.all().delete()
        scheme.choices.filter(element__name__startswith="Platform face").delete()
        scheme.choices.update(between=None)
        options = Option.objects.filter(element__project=project)
        options.filter(name="Inside, mineral fibre with a variable membrane").delete()
        options.update(rejected_reason="", rejected_by="", rejected_at=None)
        project.refresh_from_db()
        return project

    # --- looking ----------------------------------------------------------------------------------

    def until(self, what: Callable[[], Any], why: str, moving: Callable[[], Any] = lambda: None) -> Any:
        """The first true answer, an element as one that lasts; the page's text when nothing of `moving` changed in all of the patience."""
        end, before = time.monotonic() + PATIENCE, moving()
        while time.monotonic() < end:
            try:
                if (now := moving()) != before:
                    end, before = time.monotonic() + PATIENCE, now
                if answer := what():
                    return Lasting(answer, what) if isinstance(answer, WebElement) else answer
            except (StaleElementReferenceException, WebDriverException):
                pass
            time.sleep(0.05)
        self.browser.save_screenshot("/tmp/wendrick-walk.png")
        text = self.browser.find_element(By.TAG_NAME, "body").text
        raise AssertionError(f"{why} did not come; the page at {self.browser.current_url} says:\n{text[:2500]}")

    def one(self, where: str) -> WebElement:
        """The first that is shown, by a selector or, from // on, by an XPath."""
        by = By.XPATH if where.startswith("//") else By.CSS_SELECTOR
        return self.until(
            lambda: next((e for e in self.browser.find_elements(by, where) if e.is_displayed()), None),
            where,
        )

    def present(self, css: str) -> WebElement:
        """An element that need not be seen, such as the field behind a button for files."""
        return self.until(lambda: next(iter(self.browser.find_elements(By.CSS_SELECTOR, css)), None), css)

    def sees(self, text: str) -> None:
        self.until(lambda: text in self.browser.find_element(By.TAG_NAME, "body").text, f"“{text}”")

    def button(self, label: str, within: str = "body") -> WebElement:
        path = f".//*[self::button or self::a or self::label or self::li[@role='menuitem']][normalize-space()='{label}' or starts-with(normalize-space(), '{label} ')]"

        def found() -> WebElement | None:
            scope = self.browser.find_element(By.CSS_SELECTOR, within)
            return next((e for e in scope.find_elements(By.XPATH, path) if e.is_displayed() and e.is_enabled()), None)

        return self.until(found, f"button “{label}”")

    def press(self, label: str, within: str = "body") -> None:
        def act() -> bool:
            self.button(label, within).click()
            return True

        self.until(act, f"a press on “{label}”")

    # --- acting -----------------------------------------------------------------------------------

    def sign_in(self, index: int = 0) -> None:
        username, first, last, password, _ = PEOPLE[index]
        self.browser.get(f"{self.live_server_url}/login")
        self.one("input[name=username]").send_keys(username)
        self.one("input[name=password]").send_keys(password + Keys.ENTER)
        self.sees(f"{first} {last}")

    def go(self, path: str) -> None:
        self.browser.get(self.live_server_url + path)

    def field(self, label: str) -> WebElement:
        path = f"//*[contains(concat(' ', normalize-space(@class), ' '), ' field ')][.//label[starts-with(normalize-space(), '{label}')]]//*[self::input or self::textarea]"
        return self.until(
            lambda: next((e for e in self.browser.find_elements(By.XPATH, path) if e.is_displayed()), None),
            f"field “{label}”",
        )

    def fill(self, label: str, text: str) -> None:
        self.field(label).send_keys(Keys.CONTROL + "a" + Keys.NULL + text + Keys.TAB)

    def choose(self, label: str, text: str) -> None:
        """In the select of this name."""
        self.choose_in(f"[aria-label='{label}']", text)

    def choose_in(self, css: str, text: str) -> None:
        """Choose by its words, or how they begin, in the select that a selector finds or whose field it finds."""

        def act() -> bool:
            items = self.items_of(css)
            exact = [i for i in items if i.text.strip() == text] or [i for i in items if i.text.startswith(text)]
            if exact:
                exact[0].click()
            return bool(exact)

        self.until(act, f"“{text}” in {css}")

    def items_of(self, css: str) -> list[WebElement]:
        """The options of a select as they are shown; it is opened first where it is not."""
        found = self.browser.find_element(By.CSS_SELECTOR, css)
        field, box = self.browser.execute_script(
            "const at = arguments[0].closest('.el-select');"
            "return [at.querySelector('input'), at.querySelector('.el-select__wrapper')]",
            found,
        )
        if field.get_attribute("aria-expanded") != "true":
            box.click()
            time.sleep(0.3)  # it unfolds
        items = self.browser.find_elements(By.CSS_SELECTOR, f"[id='{field.get_attribute('aria-controls')}'] li")
        return [item for item in items if item.is_displayed()]

    def options_of(self, css: str) -> list[str]:
        """The words of a select's options; it is open afterwards."""
        return self.until(lambda: [item.text for item in self.items_of(css)], f"the options of {css}")

    def keys(self, *keys: str) -> None:
        ActionChains(self.browser).send_keys(*keys).perform()

    def chord(self, modifier: str, key: str, shift: bool = False) -> None:
        chain = ActionChains(self.browser).key_down(modifier)
        if shift:
            chain = chain.key_down(Keys.SHIFT)
        chain = chain.send_keys(key)
        if shift:
            chain = chain.key_up(Keys.SHIFT)
        chain.key_up(modifier).perform()

    def strips(self) -> list[WebElement]:
        return self.browser.find_elements(By.CSS_SELECTOR, ".strip")

    def layers(self, strip: int) -> list[str]:
        """Accessible names of the layers of a strip, outside to inside."""
        found = self.strips()[strip].find_elements(By.CSS_SELECTOR, "[role=option]")
        return [layer.get_attribute("aria-label") or "" for layer in found]

    def click_layer(self, strip: int, layer: int) -> None:
        def act() -> bool:
            target = self.strips()[strip].find_elements(By.CSS_SELECTOR, "[role=option] rect:last-of-type")[layer]
            ActionChains(self.browser).move_to_element(target).click().perform()
            return bool(self.browser.find_elements(By.CSS_SELECTOR, ".strip.here .bar"))

        self.until(act, f"layer {layer} of strip {strip}")

    def figure(self, strip: int, name: str) -> str:
        return self.strips()[strip].find_element(By.CSS_SELECTOR, f"[data-figure={name}]").text

    def download(self, pattern: str) -> Path:
        return self.until(lambda: next(iter(self.folder.glob(pattern)), None), f"download {pattern}")

    def axe(self, screen: str) -> None:
        """Nothing serious or critical on this screen, once nothing fades in or out any more."""
        self.until(
            lambda: self.browser.execute_script(
                "return !document.querySelector('[class*=-enter-active], [class*=-leave-active]')"
                " && document.getAnimations().every(one => one.playState !== 'running')"
            ),
            f"{screen} at rest",
        )
        self.browser.execute_script(AXE)
        result = self.browser.execute_async_script(
            "const done = arguments[0]; axe.run(document, {resultTypes: ['violations']}).then(r => done(JSON.stringify(r.violations)))"
        )
        serious = [v for v in json.loads(result) if v["impact"] in ("serious", "critical")]
        lines = [f"{v['id']}: {v['help']}: {[n['html'][:140] for n in v['nodes'][:3]]}" for v in serious]
        self.assertEqual(lines, [], f"axe on {screen}")

    def no_errors(self) -> None:
        """No script error, and nothing asked from another host."""
        bad = [
            e["message"]
            for e in self.browser.get_log("browser")  # type: ignore[no-untyped-call]
            if e["level"] == "SEVERE" and "422" not in e["message"] and "409" not in e["message"]
        ]
        self.assertEqual(bad, [])
        hosts = self.browser.execute_script(
            "return performance.getEntriesByType('resource').map(e => new URL(e.name).host)"
        )
        self.assertEqual({h for h in hosts if h} - {self.live_server_url.split("//")[1]}, set())

"""./run typing [PRESSES]: from a key stroke to the painted figure, in the browser, with 3 and with 8 options on the sheet; and the
first load with an empty cache. Never a test: machines differ.

A server of its own with the demo, nothing computed beside. A stroke counts from the keydown to the frame after the figure of the
strip in hand has changed.
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

import numpy as np
from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from demo.people import PEOPLE
from e2e.browser import open_browser
from e2e.kills import ROOT
from server.tests.processes import children

PORT, ADDRESS = 8079, "http://127.0.0.1:8079"
WALL = "Garden face"
MORE = (
    "from server.projects.models import Element\n"
    "e = Element.objects.get(name='Garden face')\n"
    "rows = list(e.options.filter(role='option').order_by('position'))\n"
    "[e.add_option(f'More {{n}}', rows[n % len(rows)].current) for n in range({more})]\n"
    "[o.delete() for o in rows[{most}:]]"
)
LISTEN = """
window.strokes = [];
let began = null;
addEventListener('keydown', () => { began = performance.now(); }, true);
new MutationObserver(() => {
  if (began === null) return;
  const from = began; began = null;
  requestAnimationFrame(() => { const port = new MessageChannel(); port.port1.onmessage = () => strokes.push(performance.now() - from); port.port2.postMessage(0); });
}).observe(document.querySelector('.strip.here .figures'), {subtree: true, characterData: true, childList: true});
"""  # fmt: skip
LOADED = """
const done = arguments[0];
const look = () => {
  if (!document.querySelector('.strip svg')) return void setTimeout(look, 10);
  requestAnimationFrame(() => {
    const scripts = performance.getEntriesByType('resource').filter(e => e.name.includes('.js'));
    done([performance.now(), scripts.reduce((sum, e) => sum + e.encodedBodySize, 0), scripts.length]);
  });
};
look();
"""


def manage(env: dict[str, str], *words: str) -> None:
    subprocess.run([sys.executable, "manage.py", *words], cwd=ROOT, env=env, check=True, stdout=subprocess.DEVNULL)


def wait_for(browser: WebDriver, css: str) -> Any:
    end = time.monotonic() + 60
    while time.monotonic() < end:
        found = [one for one in browser.find_elements(By.CSS_SELECTOR, css) if one.is_displayed()]
        if found:
            return found[0]
        time.sleep(0.05)
    raise TimeoutError(css)


def signed_in() -> WebDriver:
    browser = open_browser()
    username, _, _, password, _ = PEOPLE[0]
    browser.get(f"{ADDRESS}/login")
    wait_for(browser, "input[name=username]").send_keys(username)
    browser.find_element(By.NAME, "password").send_keys(password + Keys.ENTER)
    wait_for(browser, "a.name")
    return browser


def sheet_of(browser: WebDriver) -> str:
    """The address of the wall's options sheet."""
    code = f"const d=arguments[0];fetch('/api/projects').then(r=>r.json()).then(async p=>{{const x=await (await fetch('/api/projects/'+p[0].id)).json();d([p[0].id,x.elements.find(e=>e.name=='{WALL}').id])}})"
    project, element = browser.execute_async_script(code)
    return f"{ADDRESS}/p/{project}/options/{element}"


def strokes(browser: WebDriver, address: str, presses: int) -> np.ndarray:
    """Milliseconds of each press: digits typed, taken back and typed anew in the thickness of an insulation."""
    browser.get(address)
    wait_for(browser, ".strip svg")
    time.sleep(2)
    strip = browser.find_elements(By.CSS_SELECTOR, ".strip")[1]
    rows = strip.find_elements(By.CSS_SELECTOR, "[role=option]")
    at = next(i for i, row in enumerate(rows) if "wood-fibre" in (row.get_attribute("aria-label") or ""))
    ActionChains(browser).move_to_element(rows[at].find_element(By.CSS_SELECTOR, "rect:last-of-type")).click().perform()
    field = wait_for(browser, ".strip.here .bar [data-field=thickness]")
    field.send_keys(Keys.CONTROL + "a")
    field.send_keys("8")
    time.sleep(1)
    browser.execute_script(LISTEN)
    for number in range(presses):
        ActionChains(browser).send_keys(str(1 + number % 9) if number % 2 == 0 else Keys.BACKSPACE).perform()
        time.sleep(0.25)
    time.sleep(1)
    return np.array(browser.execute_script("return window.strokes"), float)


def told(name: str, milliseconds: np.ndarray, presses: int) -> None:
    print(f"{name:<26} {len(milliseconds):>3} of {presses} strokes painted, p50 {np.median(milliseconds):.0f} ms, "
          f"p95 {np.quantile(milliseconds, 0.95):.0f} ms, longest {milliseconds.max():.0f} ms")  # fmt: skip


def first_load(address: str, times: int = 5) -> None:
    took, size, count = [], 0.0, 0
    for _ in range(times):
        browser = signed_in()
        browser.execute_cdp_cmd("Network.clearBrowserCache", {})
        browser.get(address)
        seconds, size, count = browser.execute_async_script(LOADED)
        took.append(seconds / 1000.0)
        browser.quit()
    print(f"{'first load, empty cache':<26} strips painted after {np.median(took):.2f} s (longest {max(took):.2f} s), "
          f"{size / 1000:.0f} kB of compressed script in {count} files")  # fmt: skip


def main(presses: int) -> int:
    folder = Path(tempfile.mkdtemp(prefix="wendrick-typing-"))
    env = {**os.environ, "WENDRICK_DATA": str(folder), "WENDRICK_PORT": str(PORT)}
    manage(env, "migrate", "--verbosity", "0")
    manage(env, "load_demo", "--no-runs")
    program = subprocess.Popen(["./run", "serve"], cwd=ROOT, env=env, start_new_session=True)
    try:
        time.sleep(8)
        browser = signed_in()
        address = sheet_of(browser)
        for options, more in ((3, 0), (8, 5)):
            manage(env, "shell", "--verbosity", "0", "-c", MORE.format(more=more, most=3))
            measured = strokes(browser, address, presses)
            there = len(browser.find_elements(By.CSS_SELECTOR, ".strip")) - 1
            assert there == options, (there, options)
            told(f"{options} options on the sheet", measured, presses)
        browser.quit()
        first_load(address)
    finally:
        for pid in [*children(program.pid), program.pid]:
            try:
                os.kill(pid, signal.SIGKILL)
            except ProcessLookupError:
                continue
        program.wait()
    return 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 60))

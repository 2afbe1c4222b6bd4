"""python -m e2e.shots ADDRESS FOLDER: one picture of each main view, from the demo data of a running server."""

from __future__ import annotations

import sys
import time
import urllib.request
from pathlib import Path

import pypdfium2
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webdriver import WebDriver
from selenium.webdriver.support.ui import WebDriverWait

from demo.people import PEOPLE
from e2e.browser import open_browser

# What a sheet says while it waits for its figures.
UNDER_WAY = "//p[contains(@class, 'soft') and contains(., ' …')]"
TO_BE_RUN = "//*[@data-headline][contains(., 'still to be run') or contains(., 'found by their hourly years')]"
# What is pressed before the picture, and what shows that it is done.
PRESSED = {
    "wetting": ("Wet every option", "[data-batch][data-status=done]"),
    "study": ("Run the study", "[data-batch][data-status=done]"),
    "dossier": ("Make it", "[data-report=client][data-state=made]"),
}


def press_and_wait(browser: WebDriver, label: str, done: str) -> None:
    """Press a button and wait for what it brings; a study may take minutes."""
    button = f"//button[starts-with(normalize-space(), '{label}') and not(contains(., 'all'))]"
    WebDriverWait(browser, 60).until(lambda b: b.find_element(By.XPATH, button)).click()
    time.sleep(1.5)
    WebDriverWait(browser, 600).until(lambda b: b.find_elements(By.CSS_SELECTOR, done))
    time.sleep(1.0)


def first_page(browser: WebDriver, picture: Path) -> None:
    """The first page of the newest report in the dossier, as a picture."""
    link = browser.find_element(By.CSS_SELECTOR, "main a[href*='/api/reports/']").get_attribute("href") or ""
    cookies = "; ".join(f"{c['name']}={c['value']}" for c in browser.get_cookies())
    with urllib.request.urlopen(urllib.request.Request(link, headers={"Cookie": cookies}), timeout=60) as answer:
        document = pypdfium2.PdfDocument(answer.read())
    document[0].render(scale=1.3).to_pil().save(picture, optimize=True)


def take(address: str, folder: Path, only: set[str] | None = None) -> None:
    """Sign in as the first demo person and photograph every main view."""
    username, _, _, password, _ = PEOPLE[0]
    browser = open_browser()
    wait = WebDriverWait(browser, 30)
    browser.get(f"{address}/login")
    wait.until(lambda b: b.find_elements(By.NAME, "username"))
    browser.find_element(By.NAME, "username").send_keys(username)
    browser.find_element(By.NAME, "password").send_keys(password + "\n")
    wait.until(lambda b: "Corrie Halt" in b.page_source)
    link = browser.find_element(By.LINK_TEXT, "Corrie Halt").get_attribute("href") or ""
    project = link.split("/p/")[1].split("/")[0]
    browser.get(f"{address}/p/{project}/options")
    wait.until(lambda b: "/options/" in b.current_url and b.find_elements(By.CSS_SELECTOR, ".strip svg"))
    element = browser.current_url.rstrip("/").split("/")[-1]
    views = {
        "house": f"/p/{project}/house",
        "brief": f"/p/{project}/brief",
        "shape": f"/p/{project}/survey/shape",
        "exposure": f"/p/{project}/survey/exposure",
        "evidence": f"/p/{project}/survey/evidence?pin=corrie_joists",
        "readings": f"/p/{project}/survey/readings",
        "water": f"/p/{project}/water?element={element}",
        "options": f"/p/{project}/options/{element}",
        "proposals": f"/p/{project}/proposals/{element}",
        "year": f"/p/{project}/year/{element}",
        "compare": f"/p/{project}/compare/{element}",
        "air": f"/p/{project}/air",
        "rooms": f"/p/{project}/rooms",
        "balance": f"/p/{project}/balance",
        "schemes": f"/p/{project}/schemes",
        "dossier": f"/p/{project}/dossier",
        "wetting": f"/p/{project}/tests/{element}/wetting",
        "study": f"/p/{project}/tests/{element}/study",
    }
    for name, path in views.items():
        if only and name not in only:
            continue
        browser.get(address + path)
        time.sleep(0.5)
        wait.until(lambda b: not b.find_elements(By.XPATH, UNDER_WAY))
        time.sleep(3.0 if name == "year" else 1.6)
        if name in PRESSED:
            press_and_wait(browser, *PRESSED[name])
        if name == "proposals":  # with what its years say, the best first
            WebDriverWait(browser, 600).until(lambda b: not b.find_elements(By.XPATH, TO_BE_RUN))
        if name == "house":
            browser.find_element(By.XPATH, "//label[normalize-space()='Heat']").click()
            time.sleep(0.4)
        if name == "dossier":
            first_page(browser, folder / "report.png")
        browser.save_screenshot(str(folder / f"{name}.png"))
        for entry in browser.get_log("browser"):  # type: ignore[no-untyped-call]
            if entry["level"] == "SEVERE":
                print(name, entry["message"])
    browser.quit()


if __name__ == "__main__":
    take(sys.argv[1], Path(sys.argv[2]), set(sys.argv[3:]) or None)

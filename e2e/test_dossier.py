"""From the decision to the papers: a choice, the report made by the runner, its figures against the screen's, lists, print."""

from __future__ import annotations

import base64
import io
import re
import urllib.request
from typing import Any

from pypdf import PdfReader
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from e2e.base import Walk
from server.dossier.models import Report
from server.projects.models import Element, Option


def squeezed(text: str) -> str:
    return re.sub(r"\s+", "", text)


def text_of(raw: bytes) -> str:
    return squeezed(" ".join(page.extract_text() for page in PdfReader(io.BytesIO(raw)).pages))


class Papers(Walk):
    def setUp(self) -> None:
        super().setUp()
        self.project = self.demo_project()
        self.sign_in()

    def fetched(self, path: str) -> bytes:
        """A file as the signed-in browser would get it."""
        cookies = "; ".join(f"{c['name']}={c['value']}" for c in self.browser.get_cookies())
        request = urllib.request.Request(self.live_server_url + path, headers={"Cookie": cookies})
        with urllib.request.urlopen(request, timeout=60) as answer:
            return bytes(answer.read())

    def cells(self) -> list[str]:
        """Figures of the table of Heat as they stand on the screen, row by row."""
        self.one(".heat tbody tr")
        rows = self.browser.find_elements(By.CSS_SELECTOR, ".heat tbody tr, .heat tfoot tr")
        found = []
        for row in rows:
            figures = [cell.text for cell in row.find_elements(By.CSS_SELECTOR, "td")[2:]]
            found.append("".join([*figures[0:2], *figures[4:6]]))
        return [line for line in found if line]

    def make(self, kind: str) -> bytes:
        count = Report.objects.filter(kind=kind).count() + 1
        made = f"[data-report={kind}][data-state=made]"
        self.go(f"/p/{self.project.pk}/dossier")
        self.one(f"[data-make={kind}]").click()
        self.until(
            lambda: len(self.browser.find_elements(By.CSS_SELECTOR, made)) == count,
            f"the report {kind}",
            lambda: self.one(f"[data-report={kind}]").text,
        )
        return self.fetched(f"/api/reports/{Report.objects.filter(kind=kind)[0].pk}/file")

    def test_from_the_decision_to_the_reports(self) -> None:
        self.start_runner()
        element = Element.objects.get(name="Platform face, upper")
        self.go(f"/p/{self.project.pk}/compare/{element.pk}")
        option = element.options.filter(role=Option.UPGRADE)[0]
        self.until(lambda: len(self.browser.find_elements(By.CSS_SELECTOR, "input[type=radio]")) > 2, "the options")
        self.browser.execute_script(
            "[...document.querySelectorAll('main input[type=radio]')].find((r) => r.value === arguments[0]).click()",
            str(option.pk),
        )
        reason = self.one("main textarea")
        reason.send_keys("keeps the face as it is listed")
        self.press("Keep the choice")
        self.sees("The choice and its reason are kept")
        for system in ("mm, U", "in, R"):
            self.go(f"/p/{self.project.pk}/heat")
            label = f"//header//label[normalize-space()='{system}']"
            self.one(label).click()
            self.until(lambda s=system: ("W/K" in self.one(".heat").text) == (s == "mm, U"), system)  # type: ignore[misc]
            lines = self.cells()
            self.assertGreater(len(lines), 15)
            text = text_of(self.make("heating"))
            for line in lines:
                self.assertIn(squeezed(line), text)
        self.axe("dossier")
        text = text_of(self.make("client"))
        self.assertIn(squeezed("keeps the face as it is listed"), text)
        self.signed()
        self.moved_on()
        self.no_errors()

    def signed(self) -> None:
        row = "//tr[contains(., 'What was found')]"
        self.until(
            lambda: self.browser.find_element(By.XPATH, f"{row}//button[contains(., 'put a name')]"), "the report"
        ).click()
        self.sees("it is no certificate")
        self.press("Put the name under it")
        self.sees("A name is needed.")
        self.axe("a name under a report")
        self.fill("Name", "Isla Marr")
        self.press("Put the name under it")
        self.sees("Isla Marr, consultant")

    def moved_on(self) -> None:
        """A change of the project makes the reports out of date."""
        item = self.project.water_items.filter(state="open")[0]
        item.title = "Clear the gutter first"
        item.save()
        self.go(f"/p/{self.project.pk}/dossier")
        self.until(lambda: "out of date" in self.one("[data-report=client]").text, "out of date")

    def test_lists_on_the_screen_and_out(self) -> None:
        self.go(f"/p/{self.project.pk}/dossier")
        self.sees("signs without a confirmed cause")
        self.button("Lists").click()
        self.sees("Clear, repair or fit gutters")
        self.axe("lists")
        for label, words in (
            ("Openings", "it decides what the wall can do"),
            ("Pins", "not explained yet"),
            ("Heat", "Building"),
        ):
            self.one(f"//main//label[normalize-space()='{label}']").click()
            self.sees(words)
        link = self.button("CSV").get_attribute("href") or ""
        lines = self.fetched(link.removeprefix(self.live_server_url)).decode("utf-8-sig").splitlines()
        self.assertTrue(lines[0].startswith("Element,"))
        self.one("body").send_keys(Keys.ESCAPE)
        self.no_errors()

    def test_printed_there_is_no_frame_and_the_margin_stands_below(self) -> None:
        element = Element.objects.get(name="Garden face")
        for path, words, most in (
            (f"options/{element.pk}", "Outside, wood fibre", 3),
            ("heat", "Shed roof, tin", 2),
            ("water", "Make the roof covering", 3),
        ):
            self.go(f"/p/{self.project.pk}/{path}")
            self.sees(words)
            self.browser.execute_script("window.dispatchEvent(new Event('beforeprint'))")
            printed: dict[str, Any] = self.browser.execute_cdp_cmd(
                "Page.printToPDF", {"paperWidth": 8.27, "paperHeight": 11.69}
            )
            raw = base64.b64decode(printed["data"])
            text = text_of(raw)
            with self.subTest(path):
                self.assertIn(squeezed(words), text)
                self.assertIn("Caution", text) if path != "heat" else self.assertIn("Notinit", text)
                self.assertNotIn("Find/", text)
                self.assertLessEqual(len(PdfReader(io.BytesIO(raw)).pages), most)

"""What a consultant does, through the real interface: on the demo, on a project from nothing, and when things go wrong."""

from __future__ import annotations

import csv
import json
import time
import zipfile

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from e2e.base import Walk
from e2e.browser import open_browser
from server.exchange.write import document
from server.projects.models import Element, Option, Project
from server.runs.models import Run

SURVEY = tuple(
    f"survey/{view}" for view in ("shape", "elements", "make", "exposure", "evidence", "airtightness", "readings")
)


class DemoWalk(Walk):
    def test_from_options_to_heat_on_the_demo(self) -> None:
        project = self.demo_project()
        self.start_runner()
        self.sign_in()
        self.sees("Corrie Halt")
        self.axe("projects")
        element = project.elements.get(name="Platform face, upper")
        self.go(f"/p/{project.pk}/survey/elements")
        self.sees("Platform face, upper")
        self.sees("generated, not measured")
        self.axe("survey")
        self.go(f"/p/{project.pk}/options/{element.pk}")
        self.until(lambda: len(self.strips()) == 4, "four strips")
        self.sees("faces NW, surveyed exposure, 399 mm driven rain")
        self.sees("years not run")
        self.edit_by_mouse_and_keyboard()
        self.axe("options sheet")
        self.run_the_years(element)
        self.year_in_the_wall(project, element)
        self.compare_and_choose(project, element)
        self.heat(project)
        self.units_everywhere(project, element)
        self.export_and_import(project)
        self.no_errors()

    def edit_by_mouse_and_keyboard(self) -> None:
        """Strip 2 is mineral fibre with a variable membrane: type, step, move, insert, remove, undo, redo."""
        self.assertEqual(self.figure(2, "u"), "0.35 W/m²K")
        self.assertEqual(self.figure(2, "room"), "92 mm")
        self.click_layer(2, 3)
        began = time.monotonic()
        self.keys("1", "2", "0")
        self.until(lambda: self.figure(2, "room") == "132 mm", "room lost following the keys")
        self.assertLess(time.monotonic() - began, 5.0)
        self.keys(Keys.ENTER)
        self.until(
            lambda: Option.objects.get(name__startswith="Inside, mineral").current.layers[3].thickness_mm == 120,
            "the commit",
        )
        self.keys(Keys.ESCAPE)
        self.click_layer(2, 3)
        self.keys("3", " ", "i", "n", Keys.ENTER)
        self.until(lambda: self.figure(2, "room") == "89 mm", "inches typed into millimetres")
        self.browser.execute_script("document.activeElement.blur()")
        self.chord(Keys.CONTROL, "z")
        self.until(lambda: self.figure(2, "room") == "132 mm", "undo")
        self.chord(Keys.CONTROL, "z")
        self.until(lambda: self.figure(2, "room") == "92 mm", "undo to the start")
        self.chord(Keys.CONTROL, "z", shift=True)
        self.until(lambda: self.figure(2, "room") == "132 mm", "redo")
        self.chord(Keys.CONTROL, "z")
        self.until(lambda: self.figure(2, "room") == "92 mm", "undo again")
        self.keys("+")
        self.until(lambda: self.figure(2, "room") == "102 mm", "a step up")
        self.keys("-")
        self.until(lambda: self.figure(2, "room") == "92 mm", "a step down")
        before = self.layers(2)
        self.chord(Keys.ALT, Keys.ARROW_RIGHT)
        self.until(lambda: self.layers(2)[4].startswith("mineral fibre"), "the layer moved inward")
        self.chord(Keys.ALT, Keys.ARROW_LEFT)
        self.until(lambda: self.layers(2) == before, "and back")
        self.keys(Keys.INSERT)
        self.one(".el-dialog .query input").send_keys("cork")
        self.sees("cork board")
        self.until(lambda: len(self.browser.find_elements(By.CSS_SELECTOR, ".el-dialog li")) == 1, "one material found")
        self.one(".el-dialog .query input").send_keys(Keys.ENTER)
        self.until(lambda: len(self.layers(2)) == len(before) + 1, "the inserted layer")
        self.until(
            lambda: not self.browser.find_elements(By.CSS_SELECTOR, ".el-overlay:not([style*='none'])"),
            "the finder closed",
        )
        self.press("remove", ".bar")
        self.until(lambda: self.layers(2) == before, "the layer removed")
        self.bad_thickness()

    def bad_thickness(self) -> None:
        for text, words in (
            ("0", "thicker than 0"),
            ("-3", "thicker than 0"),
            ("abc", "is not a thickness"),
            ("3.2 m", "above 3 m"),
        ):
            self.keys(Keys.ESCAPE)
            self.click_layer(2, 3)
            entry = self.one("input[data-field=thickness]")
            entry.send_keys(Keys.CONTROL + "a")
            entry.send_keys(text)
            self.sees(words)
            mineral = Option.objects.get(name__startswith="Inside, mineral")
            self.assertEqual(mineral.current.layers[3].thickness_mm, 80, "nothing refused is committed")
            entry.send_keys(Keys.ESCAPE)
            self.until(lambda: self.figure(2, "room") == "92 mm", "the last good figures")
        self.keys(Keys.ESCAPE)

    def run_the_years(self, element: Element) -> None:
        self.browser.execute_script("document.activeElement.blur()")
        self.keys("r")
        self.sees("the runner is at work")
        self.until(lambda: "year 1" in self.browser.find_element(By.TAG_NAME, "main").text, "progress in words")
        # the interface is free meanwhile
        self.click_layer(1, 1)
        self.keys(Keys.ESCAPE)
        self.until(lambda: Run.objects.filter(status=Run.DONE).count() == 4, "four finished runs")
        self.until(
            lambda: " each " in self.strips()[0].text or "all year" in self.strips()[0].text, "as found in words"
        )
        self.until(lambda: "over a limit: wet wood fibre" in self.strips()[1].text, "the verdict of option 1")
        self.until(lambda: "over a limit: mould" in self.strips()[2].text, "the verdict of option 2")
        self.until(lambda: "within limits; at the bonded plane" in self.strips()[3].text, "the verdict of option 3")
        self.sees("399 mm driven rain, a rain face")
        self.sees("most is rain")
        self.sees("Not judged: decay")
        self.sees("metal (none stated)")
        self.out_of_date_and_back()
        self.cancel()
        self.assertEqual(Run.objects.filter(option__element=element, status=Run.DONE).count(), 4)

    def out_of_date_and_back(self) -> None:
        self.click_layer(3, 3)
        self.keys("4", "5", Keys.ENTER)
        self.until(lambda: "out of date" in self.strips()[3].text, "out of date")
        sheet = self.browser.current_url
        self.press("Year in the wall")
        self.choose_in("input[aria-label='Option shown']", "Inside, thin insulating lime plaster")
        self.sees("Out of date: the layers or the survey changed")
        self.browser.get(sheet)
        self.until(lambda: len(self.strips()) == 4 and "out of date" in self.strips()[3].text, "still out of date")
        self.click_layer(3, 3)
        self.keys("4", "0", Keys.ENTER)
        self.until(lambda: "within limits" in self.strips()[3].text, "current again when the edit is taken back")

    def cancel(self) -> None:
        self.click_layer(3, 3)
        self.keys("5", "5", Keys.ENTER)
        self.until(lambda: "out of date" in self.strips()[3].text, "out of date")
        self.press("Run the years")
        self.until(
            lambda: self.strips()[3].find_elements(By.XPATH, ".//button[normalize-space()='cancel']"), "a way to cancel"
        )
        self.press("cancel", ".strip:nth-of-type(4)")
        self.until(lambda: "cancelled" in self.strips()[3].text, "cancelled")
        self.browser.execute_script("document.activeElement.blur()")
        self.chord(Keys.CONTROL, "z")
        self.until(lambda: "within limits" in self.strips()[3].text, "current again")

    def year_in_the_wall(self, project: Project, element: Element) -> None:
        self.press("Year in the wall")
        self.until(
            lambda: len(self.browser.find_elements(By.CSS_SELECTOR, ".field canvas")) == 2, "as found above the option"
        )
        self.sees("At the pointer")
        self.sees("of the turnover")
        self.choose_in("input[aria-label='Option shown']", "Inside, mineral fibre, variable membrane")
        self.until(
            lambda: "Over a limit: mould" in self.browser.find_element(By.CSS_SELECTOR, "aside").text,
            "the margin of option 2",
        )
        self.until(lambda: self.painted(), "a painted field")
        first = self.one("[data-moment]").text
        canvas = self.browser.find_elements(By.CSS_SELECTOR, ".field canvas")[1]
        ActionChains(self.browser).move_to_element_with_offset(canvas, -200, 0).perform()
        self.until(lambda: self.one("[data-moment]").text != first, "the pointer's own hour")
        second = self.one("[data-moment]").text
        self.keys(Keys.ARROW_RIGHT)
        self.until(lambda: self.one("[data-moment]").text != second, "the next hour by key")
        for label in ("Mould index", "Total water", "Relative humidity"):
            self.press(label)
        self.press("Closer")
        self.axe("year in the wall")
        self.press("Hourly results, CSV", "aside")
        with open(self.download("run-*.csv")) as file:
            rows = list(csv.reader(file))
        self.assertEqual((len(rows) - 1) % 8760, 0)
        self.assertIn("hour of pass", rows[0])

    def painted(self) -> bool:
        return bool(
            self.browser.execute_script(
                "const c = document.querySelectorAll('.field canvas')[1]; const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;"
                "return new Set(Array.from({length: 400}, (_, i) => d[4 * Math.floor(i * d.length / 1600)])).size > 8"
            )
        )

    def compare_and_choose(self, project: Project, element: Element) -> None:
        self.press("Compare")
        self.sees("Drying left against as found")
        self.axe("compare")
        self.browser.find_elements(By.CSS_SELECTOR, ".compare .el-radio")[2].click()
        self.press("Keep the choice")
        self.sees("A choice needs its reason.")
        self.one("textarea[name=reason]").send_keys(
            "Keeps the stone drying to the room; the other two go over a limit."
        )
        self.press("Keep the choice")
        self.sees("The choice and its reason are kept.")
        element.refresh_from_db()
        assert element.chosen
        self.assertEqual(element.chosen.name, "Inside, thin insulating lime plaster")

    def heat(self, project: Project) -> None:
        self.press("Heat", "nav")
        self.sees("Heat loss before and after")
        self.sees("Loss, not need")
        row = next(
            r for r in self.browser.find_elements(By.CSS_SELECTOR, "tbody tr") if "Platform face, upper" in r.text
        )
        self.assertIn("47", row.text)
        self.press("Platform face, upper", "tbody")
        self.sees("23.0 m² × 2.046 W/m²K = 47.0 W/K")
        self.axe("heat")

    def units_everywhere(self, project: Project, element: Element) -> None:
        self.browser.execute_script("document.activeElement.blur()")
        self.keys("u")
        self.until(lambda: "Btu/h°F" in self.browser.find_element(By.TAG_NAME, "main").text, "Btu")
        for path in (
            "heat",
            f"options/{element.pk}",
            f"compare/{element.pk}",
            f"year/{element.pk}",
            *SURVEY,
            "house",
            "brief",
            "water",
        ):
            self.go(f"/p/{project.pk}/{path}")
            self.until(lambda: len(self.browser.find_element(By.TAG_NAME, "main").text) > 300, f"the page {path}")
            time.sleep(0.8)
            text = (
                self.browser.find_element(By.TAG_NAME, "main").text
                + self.browser.find_element(By.TAG_NAME, "aside").text
            )
            for metric in (" mm", "W/m²K", "kWh", "W/K", "°C", "kg/m²", "m²K/W", "m³", " m,", " m;"):
                self.assertNotIn(metric, text, f"{metric} left on {path}")
        self.go(f"/p/{project.pk}/options/{element.pk}")
        self.until(lambda: len(self.strips()) == 4, "strips")
        self.assertTrue(self.figure(2, "u").startswith("R "))
        self.click_layer(2, 3)
        self.keys("4", Keys.ENTER)
        self.until(
            lambda: Option.objects.get(name__startswith="Inside, mineral").current.layers[3].thickness_mm == 101.6,
            "4 is inches here",
        )
        self.browser.execute_script("document.activeElement.blur()")
        self.chord(Keys.CONTROL, "z")
        self.until(
            lambda: Option.objects.get(name__startswith="Inside, mineral").current.layers[3].thickness_mm == 80,
            "undone",
        )
        self.keys(Keys.ESCAPE)
        self.one("//label[normalize-space()='mm, U']").click()
        self.until(lambda: self.figure(2, "u") == "0.35 W/m²K", "metric again")

    def export_and_import(self, project: Project) -> None:
        self.go("/projects")
        self.press("Export")
        path = self.download("*.wendrick.zip")
        with zipfile.ZipFile(path) as archive:
            self.assertEqual(json.loads(archive.read("project.json"))["project"]["name"], "Corrie Halt")
        self.present(".filebutton input[type=file]").send_keys(str(path))
        self.until(lambda: "/house" in self.browser.current_url, "the imported project")
        copy = Project.objects.exclude(pk=project.pk).get(name="Corrie Halt")
        self.assertEqual(document(copy), document(Project.objects.get(pk=project.pk)))


class FromNothing(Walk):
    def test_a_project_made_from_nothing(self) -> None:
        self.start_runner()
        self.go("/")
        self.axe("sign in")
        self.sign_in(1)
        self.sees("No project yet")
        self.press("New project")
        self.one("input[name=project-name]").send_keys("Ford Cottage")
        self.press("Make it")
        self.sees("What may not change")
        self.press("Survey", "nav")
        self.press("Elements", ".views")
        self.sees("Nothing surveyed yet")
        self.fill("Heated volume", "240")
        self.fill("Floor area", "96")
        self.fill("n50 as found", "9.5")
        self.fill("n50 after", "3")
        self.fill("Set-point", "19")
        self.until(
            lambda: Project.objects.get().set_point_c == 19 and Project.objects.get().air_value == 9.5,
            "the building kept",
        )
        self.add_element(
            "Rain wall",
            "wall",
            "31.5",
            {"Faces": "W", "Driven rain": "sheltered"},
            {"May take of the room": "120", "Target U": "0.4"},
        )
        self.add_element(
            "Windows",
            "window",
            "6",
            {"Faces": "S"},
            {"U, frame and glass": "4.5", "g": "0.8", "U after, planned": "1.4"},
        )
        self.add_element("Floor", "floor", "48", {"Adjoins": "ground"}, {"Factor b": "0.6"})
        self.sees("ground, b 0.6 typed")
        self.draw_the_wall()
        self.heat_of_it()
        self.no_errors()
        self.privacy()

    def add_element(self, name: str, kind: str, area: str, picks: dict[str, str], figures: dict[str, str]) -> None:
        self.press("Add an element")
        self.one("input[name=element-name]").send_keys(name)
        self.choose_in("input[name=element-kind]", kind)
        self.fill("Area", area)
        for label, text in picks.items():
            self.choose(label, text)
        for label, text in figures.items():
            self.fill(label, text)
        self.press("Add it")
        self.until(lambda: Element.objects.filter(name=name).exists(), f"element {name}")
        self.until(lambda: not self.browser.find_elements(By.CSS_SELECTOR, ".el-dialog"), "the dialog closed")

    def draw_the_wall(self) -> None:
        self.press("Rain wall", "table")
        self.until(lambda: len(self.strips()) == 1, "as found")
        self.sees("Its layers are not stated")
        self.press("State the outermost layer")
        self.pick("sandstone rubble")
        self.sees("Only as found is drawn")
        self.click_layer(0, 0)
        self.keys("3", "3", "0", Keys.ENTER)
        self.until(lambda: self.found().current.layers[0].thickness_mm == 330, "thickness as found")
        self.choose_in("input[aria-label='known, how the layer is known']", "probed")
        self.until(lambda: self.found().current.layers[0].known == "probed", "how it is known")
        self.insert("lime plaster")
        self.browser.execute_script("document.activeElement.blur()")
        self.keys(Keys.ESCAPE, "d")
        self.until(lambda: len(self.strips()) == 2, "the first option")
        self.keys(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT)
        self.one(".strip.here .bar")
        self.insert("calcium silicate")
        self.until(lambda: self.figure(1, "room") == "50 mm", "room lost")
        self.sees("does not judge")
        self.browser.execute_script("document.activeElement.blur()")
        self.keys(Keys.ESCAPE, "r")
        self.until(lambda: Run.objects.filter(status=Run.DONE).count() == 2, "both years")
        self.until(
            lambda: any(w in self.strips()[1].text for w in ("within limits", "marginal", "over a limit")), "a verdict"
        )

    def found(self) -> Option:
        return Option.objects.get(element__name="Rain wall", role=Option.AS_FOUND)

    def insert(self, name: str) -> None:
        before = len(self.browser.find_elements(By.CSS_SELECTOR, ".strip.here [role=option]"))
        self.keys(Keys.INSERT)
        self.pick(name)
        self.until(
            lambda: len(self.browser.find_elements(By.CSS_SELECTOR, ".strip.here [role=option]")) == before + 1,
            f"{name} inserted",
        )

    def pick(self, name: str) -> None:
        """A material in the finder, by its name."""
        self.one(".el-dialog .query input").send_keys(name)
        self.until(lambda: self.browser.find_element(By.CSS_SELECTOR, ".el-dialog li").text.startswith(name), name)
        self.one(".el-dialog .query input").send_keys(Keys.ENTER)
        self.until(
            lambda: not any(d.is_displayed() for d in self.browser.find_elements(By.CSS_SELECTOR, ".el-overlay")),
            "the finder closed",
        )

    def heat_of_it(self) -> None:
        element = Element.objects.get(name="Rain wall")
        self.go(f"/p/{element.project_id}/compare/{element.pk}")
        self.until(lambda: self.browser.find_elements(By.CSS_SELECTOR, ".compare .el-radio"), "a choice")
        self.one(".compare .el-radio").click()
        self.one("textarea[name=reason]").send_keys("The only one that fits the room.")
        self.press("Keep the choice")
        self.sees("The choice and its reason are kept.")
        self.press("Heat", "nav")
        self.sees("less heat loss")
        self.sees("Floor: construction not stated")
        u = 1 / (0.17 + 0.33 / 1.6 + 0.02 / 0.8)
        after = 1 / (0.17 + 0.33 / 1.6 + 0.02 / 0.8 + 0.05 / 0.062)
        row = next(r for r in self.browser.find_elements(By.CSS_SELECTOR, "tbody tr") if "Rain wall" in r.text).text
        self.assertIn(f"{31.5 * u:.0f}", row)
        self.assertIn(f"{31.5 * after:.0f}", row)

    def privacy(self) -> None:
        mine = Project.objects.get().pk
        self.press("Tomas Berg")
        self.press("Sign out")
        self.one("input[name=username]")
        self.sign_in(0)
        self.assertNotIn("Ford Cottage", self.browser.page_source)
        self.go(f"/p/{mine}/heat")
        self.sees("it is not yours")


class WhenThingsGoWrong(Walk):
    def test_the_browser_closed_in_mid_edit_loses_at_most_a_second(self) -> None:
        project = self.demo_project()
        element = project.elements.get(name="Garden face")
        self.sign_in()
        self.go(f"/p/{project.pk}/options/{element.pk}")
        self.until(lambda: len(self.strips()) == 3, "strips")
        self.click_layer(2, 4)
        self.keys("7", "5")
        self.until(lambda: self.figure(2, "room") == "93 mm", "the typed figure")
        time.sleep(1.5)
        self.browser.quit()
        option = element.options.get(name__startswith="Inside")
        self.assertEqual(option.current.layers[4].thickness_mm, 60)
        self.browser = open_browser(downloads=self.folder)
        self.sign_in()
        self.go(f"/p/{project.pk}/options/{element.pk}")
        self.until(lambda: len(self.strips()) == 3 and self.figure(2, "room") == "93 mm", "the draft")
        self.sees("A draft, not committed.")
        self.press("Commit it")
        self.until(lambda: element.options.get(pk=option.pk).current.layers[4].thickness_mm == 75, "the commit")

    def test_two_windows_and_a_bad_file(self) -> None:
        project = self.demo_project()
        element = project.elements.get(name="Garden face")
        self.sign_in()
        self.go(f"/p/{project.pk}/options/{element.pk}")
        self.until(lambda: len(self.strips()) == 3, "strips")
        Option.objects.filter(element=element).update(revision=7)
        self.click_layer(2, 4)
        self.keys("7", "5", Keys.ENTER)
        self.sees("was changed in another window")
        self.press("Keep mine as a new option")
        self.until(lambda: element.options.count() == 4, "both are kept")
        bad = self.folder / "cut.zip"
        bad.write_bytes(b"PK\x03\x04 cut off")
        self.go("/projects")
        self.present(".filebutton input[type=file]").send_keys(str(bad))
        self.sees("cut off or damaged")
        self.sees("Nothing was changed.")
        self.press("Find")
        self.one(".el-dialog .query input").send_keys("library")
        self.keys(Keys.ENTER)
        self.sees("No product. Open a name")
        self.axe("library")
        self.go("/nowhere")
        self.sees("There is nothing at this address")

"""Three houses made from nothing, nothing like the demo: a frame house, a steel-framed storey, a wet cellar."""

from __future__ import annotations

import json
from typing import Any

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from e2e.base import Walk
from server.projects.models import Element, HistoryEntry, Option, Project
from server.runs.models import Run
from server.survey.models import Measurement

BODY: dict[str, Any] = {
    "id": "main",
    "name": "House",
    "outline": [[0, 0], [9, 0], [9, 6], [0, 6]],
    "storeys": [{"name": "ground floor", "height_m": 2.5}, {"name": "upper floor", "height_m": 2.4}],
    "wall_mm": 200,
}


class House(Walk):
    """The shape comes as the browser would send it; constructions, options and all else by hand."""

    name, climate = "", ""
    body: dict[str, Any] = BODY
    openings: list[dict[str, Any]] = []

    def setUp(self) -> None:
        super().setUp()
        self.start_runner()
        self.sign_in()
        made = self.ask("POST", "/api/projects", {"name": self.name, "climate": self.climate})
        self.project = Project.objects.get(pk=made["id"])
        shape = {"bodies": [self.body], "openings": self.openings}
        self.ask("PUT", f"/api/projects/{made['id']}/shape", {"revision": None, "shape": shape})

    def ask(self, method: str, path: str, body: Any) -> Any:
        """One request of the signed-in browser; its answer."""
        answer = self.browser.execute_async_script(
            "const [method, path, body, done] = arguments;"
            "fetch('/api/session').then(r => r.json()).then(me => fetch(path, {method, body, headers:"
            " {'Content-Type': 'application/json', 'X-CSRFToken': me.csrf_token}}))"
            ".then(r => r.text().then(text => done([r.status, text])))",
            method,
            path,
            json.dumps(body),
        )
        self.assertIn(answer[0], (200, 201, 204), answer[1][:400])
        return json.loads(answer[1]) if answer[1] else None

    def element(self, key: str) -> Element:
        return Element.objects.get(project=self.project, shape_key=key)

    def open_sheet(self, key: str) -> Element:
        element = self.element(key)
        self.go(f"/p/{self.project.pk}/options/{element.pk}")
        self.until(lambda: len(self.strips()) >= 1, "the sheet")
        return element

    def layers_of(self, element: Element, position: int = 0) -> list[str]:
        rows = sorted(element.options.all(), key=lambda o: (o.role != Option.AS_FOUND, o.position, o.pk))
        return [layer.material for layer in rows[position].current.layers]

    def pick(self, name: str) -> None:
        self.one(".el-dialog .query input").send_keys(name)
        self.until(lambda: self.browser.find_element(By.CSS_SELECTOR, ".el-dialog li").text.startswith(name), name)
        self.one(".el-dialog .query input").send_keys(Keys.ENTER)
        self.closed()

    def closed(self) -> None:
        self.until(
            lambda: not any(d.is_displayed() for d in self.browser.find_elements(By.CSS_SELECTOR, ".el-overlay")),
            "the dialog closed",
        )

    def state_layers(self, element: Element, names: list[str]) -> None:
        """As found from nothing, outside to inside, by the names a person would type."""
        self.press("State the outermost layer")
        self.pick(names[0])
        self.until(lambda: len(self.layers_of(element)) == 1, names[0])
        self.click_layer(0, 0)
        for count, name in enumerate(names[1:], 2):
            self.keys(Keys.INSERT)
            self.pick(name)
            self.until(lambda n=count: len(self.layers_of(element)) == n, name)  # type: ignore[misc]
            self.until(lambda m=name: m in self.one(".strip.here .bar").text, f"{name} in hand")  # type: ignore[misc]

    def run_years(self, element: Element) -> None:
        self.browser.execute_script("document.activeElement.blur()")
        self.keys(Keys.ESCAPE, "r")
        count = element.options.count()
        self.until(
            lambda: (
                Run.objects.filter(option__element=element, status=Run.DONE).values("option").distinct().count()
                == count
            ),
            "all years",
        )

    def verdict_of(self, strip: int) -> str:
        words = ("within limits", "marginal", "over a limit")
        return self.until(
            lambda: next((w for w in words if w in self.strips()[strip].text), ""), f"the verdict of strip {strip}"
        )

    def combo(self, label: str, text: str) -> None:
        """Choose in a select of Element Plus."""
        self.until(
            lambda: self.browser.execute_script(
                "const at = document.querySelector(`[aria-label='${arguments[0]}']`);"
                "const box = at && at.closest('.el-select').querySelector('.el-select__wrapper');"
                "if (box) box.click(); return !!box",
                label,
            ),
            label,
        )

        def item() -> WebElement | None:
            items = self.browser.find_elements(By.CSS_SELECTOR, ".el-select-dropdown__item")
            return next((i for i in items if i.is_displayed() and i.text.strip() == text), None)

        self.until(item, f"{text} in {label}").click()


class FrameHouse(House):
    name, climate = "Bryn frame", "ostmoor"
    openings = [
        {"id": "w", "name": "Windows", "body": "main", "face": "a", "count": 2, "width_m": 1.0, "height_m": 1.3},
        {"id": "d", "name": "Door", "kind": "door", "body": "main", "face": "a", "width_m": 1.0, "height_m": 2.1},
    ]

    def test_stated_once_given_to_the_others_and_insulated_outside(self) -> None:
        element = self.open_sheet("main/a")
        self.state_layers(
            element,
            ["larch boards", "building paper", "sarking boards", "mineral fibre quilt 040", "gypsum plasterboard"],
        )
        self.assertEqual(len(self.layers(0)), 5)
        self.sees("larch boards 22 mm · building paper · sarking boards, softwood")
        self.click_layer(0, 3)
        self.choose_in("input[aria-label='framing, its material']", "softwood")
        self.until(lambda: element.as_found.current.layers[3].framing is not None, "the studs")
        self.what_the_survey_states(element)
        self.give_it()
        self.sheet_of_options(element)
        self.removed_window(element)
        self.no_errors()

    def what_the_survey_states(self, element: Element) -> None:
        self.press("more", ".bar")
        self.combo("metal at the inner face", "plates")
        self.until(lambda: element.as_found.current.layers[3].metal is not None, "the plates")
        self.combo("gaps in the insulation", "through one layer")
        self.until(lambda: element.as_found.current.layers[3].gaps == 1, "the gaps")
        self.axe("what else is stated of a layer")
        self.combo("metal at the inner face", "none")
        self.until(lambda: element.as_found.current.layers[3].metal is None, "no metal again")

    def give_it(self) -> None:
        self.go(f"/p/{self.project.pk}/survey/make")
        wall = self.element("main/a")
        self.press("give it to others", f"#made-{wall.pk}")
        self.sees("given to")
        self.axe("give a construction")
        self.press("Give it to", ".el-dialog")
        self.closed()
        for key in ("main/b", "main/c", "main/d"):
            self.assertEqual(self.layers_of(self.element(key)), self.layers_of(wall), key)
        self.assertFalse(self.element("main/floor").as_found.current.is_stated)

    def sheet_of_options(self, element: Element) -> None:
        self.open_sheet("main/a")
        self.sees("Only as found is drawn")
        self.keys("d")
        self.until(lambda: len(self.strips()) == 2, "an option")
        self.click_layer(1, 0)
        self.press("larch boards", ".bar")
        self.pick("wood-fibre board")
        self.until(lambda: self.layers_of(element, 1)[0] == "wood_fibre_board", "the swap")
        self.run_years(element)
        self.assertEqual(self.verdict_of(1), "over a limit")
        self.sees("open to the weather")

    def removed_window(self, wall: Element) -> None:
        self.go(f"/p/{self.project.pk}/survey/elements")
        self.sees("Windows")
        before = self.element("main/a").area_m2
        row = next(r for r in self.browser.find_elements(By.CSS_SELECTOR, "tbody tr") if r.text.startswith("Windows"))
        next(b for b in row.find_elements(By.TAG_NAME, "button") if b.text == "remove").click()
        self.press("Remove it", ".el-dialog")
        self.until(lambda: not Element.objects.filter(shape_key="opening/w").exists(), "removed")
        self.assertAlmostEqual(self.element("main/a").area_m2, before + 2.6, places=2)

    def test_two_windows_edit_one_element(self) -> None:
        self.go(f"/p/{self.project.pk}/survey/elements")
        self.edit("House, face b")
        self.ask_other_window("main/b", area_m2=33.0)
        self.rename("Gable")
        self.press("Keep it", ".el-dialog")
        self.sees("was changed in another window")
        self.press("Take theirs", ".el-dialog")
        self.until(lambda: self.field("Area").get_attribute("value") == "33.0", "theirs")
        self.rename("Gable")
        self.ask_other_window("main/b", area_m2=34.0)
        self.press("Keep it", ".el-dialog")
        self.press("Write mine over it", ".el-dialog")
        self.until(lambda: self.element("main/b").name == "Gable", "written over")
        self.assertEqual(self.element("main/b").area_m2, 33.0)

    def rename(self, name: str) -> None:
        entry = self.one("input[name=element-name]")
        entry.send_keys(Keys.CONTROL + "a")
        entry.send_keys(name + Keys.TAB)

    def edit(self, name: str) -> None:
        self.sees(name)
        row = next(r for r in self.browser.find_elements(By.CSS_SELECTOR, "tbody tr") if r.text.startswith(name))
        next(b for b in row.find_elements(By.TAG_NAME, "button") if b.text == "edit").click()
        self.one("input[name=element-name]")

    def ask_other_window(self, key: str, **changed: Any) -> None:
        Element.objects.filter(pk=self.element(key).pk).update(**changed)


class SteelStorey(House):
    name, climate = "Steel mill", "millrace"
    body = {
        **BODY,
        "name": "Mill",
        "storeys": [
            {"name": "brick storey", "height_m": 3.0},
            {"name": "steel storey", "height_m": 3.0, "own_walls": True},
        ],
        "roof": {"form": "flat"},
    }

    def test_each_storey_has_its_walls_and_steel_studs_bridge_it(self) -> None:
        steel = self.open_sheet("main/a/1")
        self.state_layers(steel, ["steel sheet", "mineral fibre quilt 040", "gypsum plasterboard"])
        self.assertFalse(self.element("main/a/0").as_found.current.is_stated)
        self.run_years(steel)
        self.sees("wet each January")
        self.keys("d")
        self.until(lambda: len(self.strips()) == 2, "an option")
        self.click_layer(1, 1)
        self.press("mineral fibre quilt 040", ".bar")
        self.pick("sprayed foam, closed cell")
        self.until(lambda: self.layers_of(steel, 1)[1] == "spray_foam_closed", "the foam")
        self.run_years(steel)
        self.assertEqual(self.verdict_of(1), "within limits")
        self.click_layer(1, 1)
        before = self.figure(1, "u")
        self.choose_in("input[aria-label='framing, its material']", "light steel stud")
        self.until(lambda: self.framed_with(steel) == 0.6, "the studs")
        self.until(lambda: self.figure(1, "u") != before, "its U with them")
        self.no_errors()

    def framed_with(self, element: Element) -> float | None:
        """Thickness of the web of the studs in its option [mm]."""
        framing = element.options.get(role=Option.UPGRADE).current.layers[1].framing
        return framing.web_mm if framing is not None else None

    def test_heat_says_what_is_not_known(self) -> None:
        self.go(f"/p/{self.project.pk}/heat")
        self.sees("Mill, face a, steel storey: construction not stated")
        self.sees("Of the known parts only")
        self.go(f"/p/{self.project.pk}/house")
        self.sees("steel storey")
        self.axe("the house of a mill")


class WetCellar(House):
    name, climate = "Cellar house", "ostmoor"
    body = {**BODY, "level_m": 0.8, "below": "heated_cellar", "below_height_m": 2.2, "wall_mm": 450}

    def test_soil_drives_it_and_a_drained_sheet_keeps_it_out(self) -> None:
        wall = self.open_sheet("main/cellar/a/ground")
        Element.objects.filter(pk=wall.pk).update(ground="wet", occupancy="cellar")
        self.state_layers(wall, ["sandstone rubble"])
        self.keys(Keys.ESCAPE, "d")
        self.until(lambda: len(self.strips()) == 2, "a board")
        self.click_layer(1, 0)
        self.keys(Keys.INSERT)
        self.pick("calcium silicate")
        self.until(lambda: len(self.layers_of(wall, 1)) == 2, "the board")
        self.run_years(wall)
        self.assertEqual(self.verdict_of(1), "over a limit")
        self.sees("most is soil")
        self.assertNotIn("rain", self.strips()[1].text)

    def test_an_uptake_is_noted_and_taken_into_the_runs(self) -> None:
        wall = self.open_sheet("main/cellar/a/air")
        self.state_layers(wall, ["sandstone rubble", "lime plaster"])
        self.go(f"/p/{self.project.pk}/survey/readings")
        self.press("Add a water uptake")
        self.choose_in("input[name=reading-element]", "House, cellar wall a above ground")
        self.fill("Place", "third stone")
        self.sees("Type what was read.")
        self.assertFalse(self.one(".el-dialog button[type=submit]").is_enabled(), "no reading is made up")
        self.one("[aria-label='Minutes from the first wetting, reading 1']").send_keys("20", Keys.TAB)
        self.one("[aria-label='Millilitres taken up in all, reading 1']").send_keys("1", Keys.TAB)
        self.press("Keep it", ".el-dialog")
        self.closed()
        self.until(lambda: Measurement.objects.filter(kind="uptake").count() == 1, "the reading")
        self.axe("readings")
        self.press("take it into the runs")
        self.until(lambda: wall.as_found.current.layers[0].a_value_kg_m2s05 is not None, "in the runs")
        self.assertIsNone(wall.as_found.current.layers[1].a_value_kg_m2s05)
        self.assertTrue(HistoryEntry.objects.filter(project=self.project, action="take uptake").exists())
        self.open_sheet("main/cellar/a/air")
        self.click_layer(0, 0)
        self.press("more", ".bar")
        self.sees("measured (library")
        self.go(f"/p/{self.project.pk}/tests/{wall.pk}/study")
        self.until(lambda: len(self.browser.find_elements(By.CSS_SELECTOR, ".inputs tbody tr")) > 4, "the inputs")
        first = self.browser.find_elements(By.CSS_SELECTOR, ".inputs tbody tr")[0].text
        self.assertIn("A-value", first)
        self.assertIn("measured: sandstone rubble in lime", first)


class Owner(Walk):
    """What one edit of the outbox must not undo."""

    def test_written_removed_and_written_again_without_a_connection_keeps_the_order(self) -> None:
        project = self.demo_project()
        self.sign_in()
        self.go(f"/p/{project.pk}/survey/readings")
        self.sees("Wood moisture")
        uid = "order-of-the-outbox"
        path = f"/api/projects/{project.pk}/measurements/{uid}"
        body: dict[str, object] = {"kind": "moisture", "place": "one", "moisture": {"shown_percent": 15}}
        waiting: list[dict[str, object]] = [
            {"method": "PUT", "body": body},
            {"method": "DELETE"},
            {"method": "PUT", "body": {**body, "place": "two"}},
        ]
        entries = [
            {"project": project.pk, "path": path, "label": "x", "at": "2026-01-01T00:00:00Z", **one} for one in waiting
        ]
        self.browser.execute_async_script(
            "const [entries, done] = arguments; const open = indexedDB.open('wendrick-outbox');"
            "open.onsuccess = () => { const t = open.result.transaction('entries', 'readwrite');"
            "entries.forEach(e => t.objectStore('entries').add(e)); t.oncomplete = () => done(true) }",
            entries,
        )
        self.browser.refresh()
        self.until(lambda: Measurement.objects.filter(uid=uid, place="two").exists(), "the last word")

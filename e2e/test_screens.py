"""Smaller things on every screen: keys, finder, dialogs, refusals, narrow windows, empty and error states."""

from __future__ import annotations

import time

from django.contrib.auth.models import User
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from demo.people import PEOPLE
from e2e.base import Walk
from server.projects.models import Element, Option, Project
from server.runs.models import Run


class Screens(Walk):
    def setUp(self) -> None:
        super().setUp()
        self.project = self.demo_project()
        self.face = self.project.elements.get(name="Garden face")

    def open_sheet(self, element: Element | None = None) -> None:
        target = element or self.face
        self.go(f"/p/{self.project.pk}/options/{target.pk}")
        self.until(lambda: len(self.strips()) == target.options.count(), "the strips")

    def test_signing_in(self) -> None:
        username, first, last, password, _ = PEOPLE[0]
        self.go(f"/p/{self.project.pk}/heat")
        self.one("input[name=username]").send_keys(username)
        self.one("input[name=password]").send_keys("not this" + Keys.ENTER)
        self.sees("Name or password is not right.")
        entry = self.one("input[name=password]")
        entry.send_keys(Keys.CONTROL + "a")
        entry.send_keys(password + Keys.ENTER)
        self.sees("Heat loss before and after")
        self.sees(f"{first} {last}")
        self.press(f"{first} {last}")
        self.press("Library")
        self.sees("mean 7.1 °C")
        self.one("//summary[normalize-space()='softwood']").click()
        self.sees("common sorption curves of softwood")

    def test_keys_and_finder(self) -> None:
        self.sign_in()
        self.open_sheet()
        self.keys("?")
        self.sees("Single keys act")
        self.one(".el-dialog .el-checkbox").click()
        self.keys(Keys.ESCAPE)
        self.until(
            lambda: not any(d.is_displayed() for d in self.browser.find_elements(By.CSS_SELECTOR, ".el-overlay")),
            "closed",
        )
        before = Option.objects.count()
        self.browser.execute_script("document.activeElement.blur()")
        self.keys("d", "]", "u")
        time.sleep(0.6)
        self.assertEqual(Option.objects.count(), before, "single keys are off")
        self.press("Isla Marr")
        self.press("Keys", ".el-dropdown__popper")
        self.one(".el-dialog .el-checkbox").click()
        self.keys(Keys.ESCAPE)
        self.until(
            lambda: not any(d.is_displayed() for d in self.browser.find_elements(By.CSS_SELECTOR, ".el-overlay")),
            "closed",
        )
        self.browser.execute_script("document.activeElement.blur()")
        self.keys("]")
        self.sees("South-west gable")
        self.keys("[")
        self.until(lambda: "Garden face" in self.one("h1").text, "the element before")
        self.keys("/")
        self.one(".el-dialog .query input").send_keys("roof rain compare")
        self.until(lambda: "compare" in self.browser.find_element(By.CSS_SELECTOR, ".el-dialog li").text, "a hit")
        self.keys(Keys.ENTER)
        self.until(
            lambda: "/compare/" in self.browser.current_url and "Roof, rain side" in self.one("h1").text,
            "the roof's table",
        )
        self.sees("not run")

    def test_options_of_ones_own(self) -> None:
        self.sign_in()
        self.open_sheet()
        self.chord(Keys.ALT, "2")
        self.until(lambda: "here" in (self.strips()[2].get_attribute("class") or ""), "option 2 by Alt 2")
        name = self.one(".strip.here .rename input")
        name.send_keys(Keys.CONTROL + "a")
        name.send_keys("Inside, my way" + Keys.TAB)
        self.until(lambda: self.face.options.filter(name="Inside, my way").exists(), "the new name")
        self.click_layer(2, 4)
        self.press("wood-fibre board, capillary-active", ".bar")
        self.one(".el-dialog .query input").send_keys("hemp lime")
        self.until(lambda: len(self.browser.find_elements(By.CSS_SELECTOR, ".el-dialog li")) == 1, "one hit")
        self.keys(Keys.ENTER)
        option = self.face.options.get(name="Inside, my way")
        self.until(lambda: Option.objects.get(pk=option.pk).current.layers[4].material == "hemp_lime", "the swap")
        self.until(
            lambda: not any(d.is_displayed() for d in self.browser.find_elements(By.CSS_SELECTOR, ".el-overlay")),
            "closed",
        )
        self.choose_in("input[aria-label='framing, its material']", "softwood")
        self.until(lambda: Option.objects.get(pk=option.pk).current.layers[4].framing is not None, "framing")
        share = self.one("input[aria-label='Framing share in percent']")
        share.send_keys(Keys.CONTROL + "a")
        share.send_keys("8" + Keys.TAB)
        self.until(lambda: Option.objects.get(pk=option.pk).current.layers[4].framing.share == 0.08, "its share")  # type: ignore[union-attr]
        self.strips()[2].find_element(By.CSS_SELECTOR, ".asked").click()
        self.sees("parallel paths")
        self.sees("dry it by liquid too")
        self.press("remove option", ".strip.here")
        self.until(lambda: not Option.objects.filter(pk=option.pk).exists(), "removed")
        self.until(lambda: len(self.strips()) == 2, "two strips")
        self.press("Bring it back")
        self.until(lambda: len(self.strips()) == 3, "brought back")
        self.press("remove option", ".strip.here")
        self.until(lambda: len(self.strips()) == 2, "removed again")
        self.browser.execute_script("document.activeElement.blur()")
        self.chord(Keys.CONTROL, "z")
        self.until(lambda: len(self.strips()) == 3, "brought back by Ctrl Z")
        self.press("remove option", ".strip.here")
        self.until(lambda: len(self.strips()) == 2, "removed for good")
        self.axe("options sheet with origin open")

    def test_membranes_side_by_side_and_traps(self) -> None:
        self.sign_in()
        face = self.project.elements.get(name="Platform face, upper")
        self.open_sheet(face)
        self.chord(Keys.ALT, "2")
        self.press("Membranes side by side")
        self.until(lambda: len(self.strips()) == 8, "four more strips")
        names = list(face.options.order_by("position").values_list("name", flat=True))
        self.assertIn("Inside, mineral fibre, variable membrane: no membrane", names)
        self.assertIn("Inside, mineral fibre, variable membrane: vapour-tight sheet", names)
        roof = self.project.elements.get(name="Shed roof, tin")
        option = roof.options.get(name="Ventilated, batt below")
        option.build_up = {
            "layers": [
                {"id": "tin", "material": "steel_sheet", "thickness_mm": 1, "existing": True},
                {"id": "batt", "material": "mineral_fibre_035", "thickness_mm": 120},
                {"id": "foil", "material": "membrane_tight"},
                {"id": "board", "material": "gypsum_board", "thickness_mm": 12.5},
            ]
        }
        option.save()
        self.open_sheet(roof)
        self.sees("A trap: mineral fibre slab 035 between steel sheet, painted")
        self.axe("options sheet of a roof with a trap")

    def test_roofs_floors_and_cavities_wait_for_their_years(self) -> None:
        self.sign_in()
        for name, ends, words in (
            ("Roof, rain side", ("ABOVE", "BELOW"), "years not run"),
            ("Shed wall, garden side", ("OUTSIDE", "INSIDE"), "years not run"),
            ("Shed floor", ("BELOW", "ABOVE"), "years not run"),
        ):
            self.open_sheet(self.project.elements.get(name=name))
            self.sees(words)
            self.assertEqual([e.text for e in self.browser.find_elements(By.CSS_SELECTOR, ".end")], list(ends))
        self.sees("not for ground")
        self.go(f"/p/{self.project.pk}/year/{self.project.elements.get(name='Roof, rain side').pk}")
        self.sees("No hourly years of this element yet.")
        self.sees("Run them on the options sheet")

    def test_survey_dialogs(self) -> None:
        self.sign_in()
        self.go(f"/p/{self.project.pk}/survey/elements")
        self.press("Add an element")
        self.press("Add it")
        self.sees("An element needs a name.")
        self.one("input[name=element-name]").send_keys("North window")
        self.choose_in("input[name=element-kind]", "window")
        self.fill("Area", "abc")
        self.sees("is no number")
        self.fill("Area", "21.5 ft²")
        self.press("Add it")
        self.sees("needs its U-value")
        self.fill("U, frame and glass", "R 2")
        self.press("Leave it")
        self.until(
            lambda: not any(d.is_displayed() for d in self.browser.find_elements(By.CSS_SELECTOR, ".el-overlay")),
            "closed",
        )
        self.one("button[aria-label='Edit Front door']").click()
        self.fill("U after, planned", "1.2")
        self.press("Keep it")
        self.until(lambda: Element.objects.get(name="Front door").planned_u_w_m2k == 1.2, "the planned U")
        self.one("button[aria-label='Remove Front door']").click()
        self.sees("its options and their runs go with it")
        self.axe("survey dialog")
        self.press("Remove it")
        self.until(lambda: not Element.objects.filter(name="Front door").exists(), "removed")
        self.fill("Set-point", "99")
        self.sees("must lie in")
        self.assertEqual(Project.objects.get(pk=self.project.pk).set_point_c, 20)
        self.press("Delete this project")
        self.sees("Export it first")
        self.press("Delete it")
        self.sees("No project yet")

    def test_run_list_and_a_server_without_runner(self) -> None:
        self.sign_in()
        self.open_sheet()
        self.press("Run the years")
        self.until(lambda: Run.objects.count() == 3, "three waiting")
        self.sees("the runner is at work")
        self.go("/runs")
        self.sees("Garden face: As found")
        self.axe("runs")
        self.press("cancel")
        self.until(lambda: Run.objects.filter(status=Run.CANCELLED).count() == 1, "one cancelled")
        self.sees("cancelled")

    def test_heat_says_what_is_missing(self) -> None:
        owner = User.objects.get(username=PEOPLE[0][0])
        empty = Project.objects.create(owner=owner, name="Empty barn")
        self.sign_in()
        self.go(f"/p/{empty.pk}/heat")
        self.sees("state volume and air changes in Survey")
        self.go(f"/p/{empty.pk}/options")
        self.sees("No wall, roof or floor yet.")

    def test_narrow_windows(self) -> None:
        self.sign_in()
        pages = {
            **{
                view: f"survey/{view}" for view in ("shape", "elements", "make", "exposure", "evidence", "airtightness")
            },
            "readings": "survey/readings",
            "house": "house",
            "brief": "brief",
            "water": "water",
            "options": f"options/{self.face.pk}",
            "compare": f"compare/{self.face.pk}",
            "heat": "heat",
            "rooms": "rooms",
            "schemes": "schemes",
        }
        for width, height in ((1024, 768), (820, 1180), (2560, 1400)):
            self.browser.execute_cdp_cmd(
                "Emulation.setDeviceMetricsOverride",
                {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False},
            )
            for name, path in pages.items():
                with self.subTest(width=width, page=name):
                    self.go(f"/p/{self.project.pk}/{path}")
                    self.until(lambda: len(self.browser.find_element(By.TAG_NAME, "main").text) > 200, name)
                    over = self.browser.execute_script(
                        "const sheet = document.querySelector('main'); return Math.max("
                        "document.documentElement.scrollWidth - innerWidth, sheet.scrollWidth - sheet.clientWidth)"
                    )
                    self.assertLessEqual(over, 0, "what is cut off, page or sheet")

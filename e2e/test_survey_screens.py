"""The smaller things on the survey's screens: corners, parts, openings, moving and removing pins, items, readings, finding."""

from __future__ import annotations

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from e2e.test_survey import SurveyWalk
from server.projects.models import Element, Project
from server.survey.models import Evidence, Measurement, WaterItem

SHARES = "//*[contains(@class, 'el-form-item')][.//label[starts-with(., 'Share')]]//input"


class SurveyScreens(SurveyWalk):
    def setUp(self) -> None:
        super().setUp()
        self.project = self.demo_project()
        self.sign_in()

    def visit(self, view: str) -> None:
        self.go(f"/p/{self.project.pk}/{view}")

    def shape(self) -> dict[str, list[dict[str, object]]]:
        return Project.objects.get(pk=self.project.pk).shape

    def closed(self) -> None:
        self.until(
            lambda: not any(d.is_displayed() for d in self.browser.find_elements(By.CSS_SELECTOR, ".el-overlay")),
            "the dialog closed",
        )

    def test_shape_in_detail(self) -> None:
        self.visit("survey/shape")
        self.sees("21 elements follow from it")
        # parts of a face: shares that add up, and one make again
        self.one("g[aria-label^='c NW, face of House']").click()
        self.sees("This face is made in parts")
        shares = self.browser.find_elements(By.XPATH, SHARES)
        shares[0].send_keys(Keys.CONTROL + "a")
        shares[0].send_keys("30" + Keys.TAB)
        self.until(
            lambda: self.browser.find_elements(By.XPATH, SHARES)[1].get_attribute("value") == "70",
            "the other share follows",
        )
        # an opening is changed and another one removed
        self.one("button[aria-label='Edit Gable windows']").click()
        self.one("input[name=opening-name]")
        self.choose("Glazing", "double, low-e")
        self.choose("Secondary glazing", "single pane")
        self.press("Keep it")
        self.closed()
        self.one("button[aria-label='Remove Attic windows']").click()
        self.sees("1 no longer in it")
        self.press("Keep the shape")
        self.until(lambda: len(self.shape()["openings"]) == 7, "one opening less")
        self.sees("No longer in the shape")
        self.sees("Attic window")
        gable = Element.objects.get(name="Gable windows")
        self.assertLess(gable.u_w_m2k or 9, 1.6)
        upper = Element.objects.get(name="Platform face, upper")
        lower = Element.objects.get(name="Platform face, lower")
        self.assertAlmostEqual(upper.area_m2 / (upper.area_m2 + lower.area_m2), 0.7, places=3)
        # a corner makes of the rectangle an outline; what crosses itself is refused in words and nothing is kept
        self.press("Add a corner")
        self.sees("Corner 5, right")
        self.fill("Corner 5, right", "20")
        self.fill("Corner 5, up", "-9")
        self.sees("crosses itself")
        self.assertFalse(self.button_enabled("Keep the shape"))
        self.press("Back to what was kept")
        self.until(lambda: self.field("Width, face a").get_attribute("value") == "10.40", "the kept shape")
        # every roof form draws, in feet as in metres
        self.keys_off()
        for form in ("hip", "mansard", "flat", "gable"):
            self.choose_in("input[name=roof-form]", form)
            self.until(lambda: not self.browser.find_elements(By.CSS_SELECTOR, ".complaint"), form)
        self.one("//label[normalize-space()='in, R']").click()
        self.until(lambda: self.field("Width, face a").get_attribute("value") == "34.12", "feet")
        self.press("Back to what was kept")
        self.until(lambda: "Kept." in self.one(".keepbar").text, "the kept shape again")
        self.no_errors()

    def keys_off(self) -> None:
        self.browser.execute_script("document.activeElement.blur()")

    def button_enabled(self, label: str) -> bool:
        path = f"//button[normalize-space()='{label}']"
        return self.browser.find_element(By.XPATH, path).is_enabled()

    def test_two_windows_on_one_shape(self) -> None:
        self.visit("survey/shape")
        self.fill("Depth, face b", "7.5")
        Project.objects.update(shape_revision=60)
        self.press("Keep the shape")
        self.sees("changed in another window")
        self.assertEqual(self.shape()["bodies"][0]["outline"][2][1], 7.4)  # type: ignore[index]
        self.press("Write mine over it")
        self.until(lambda: self.shape()["bodies"][0]["outline"][2][1] == 7.5, "mine over theirs")  # type: ignore[index]

    def test_pins_on_plan_and_section_moved_changed_and_removed(self) -> None:
        self.visit("survey/evidence")
        before = Evidence.objects.count()
        self.press("Plan", ".faces")
        self.press_drawing("svg.plan", 0.5, 0.7)
        self.press("damp smell", ".pinform")
        self.press("Keep the pin")
        self.until(lambda: Evidence.objects.count() == before + 1, "a pin in the plan")
        plan = Evidence.objects.latest("pk")
        self.assertEqual(
            (plan.pin["place"]["view"], plan.element.name if plan.element else ""),
            ("plan", "Ground floor over the void"),
        )
        self.press("Section", ".faces")
        self.press_drawing("svg[aria-label=Section]", 0.75, 0.8)
        self.press("frost on nails or boards", ".pinform")
        self.press("readings", ".pinform")
        self.fill("Surface", "-1")
        self.fill("Air, °C", "18")
        self.fill("RH of the air", "60")
        self.press("Keep the pin")
        section = self.pin_of("frost")
        self.assertEqual(section.pin["readings"]["air_rh"], 0.6)
        assert section.element is not None
        self.assertEqual(section.element.kind, "roof")
        self.sees("at the surface 100 % RH")
        # changed: another kind and place, one revision more
        self.press("change the pin", "aside")
        self.press("mould", ".pinform")
        self.press_drawing("svg[aria-label=Section]", 0.7, 0.5)
        self.press("Keep the change")
        self.until(lambda: Evidence.objects.get(pk=section.pk).pin["kind"] == "mould", "the change")
        self.assertEqual(Evidence.objects.get(pk=section.pk).revision, 2)
        self.press("remove it", "aside")
        self.press("Remove it", ".el-message-box")
        self.until(lambda: not Evidence.objects.filter(pk=section.pk).exists(), "removed")
        # a draft that is left keeps nothing
        self.press_drawing("svg[aria-label=Section]", 0.5, 0.5)
        self.press("Leave it", ".pinform")
        self.assertEqual(Evidence.objects.count(), before + 1)
        # a confirmed cause is taken back, and its untouched items with it
        salts = Evidence.objects.get(uid="corrie_paint")
        self.visit("survey/evidence?pin=corrie_paint")
        self.press("take it back", "aside")
        self.until(lambda: Evidence.objects.get(pk=salts.pk).cause == "", "no cause")
        self.sees("What it points to")
        # the next look is asked for, entered, and taken back: the shares move and come back
        was = self.one("[data-share]").text
        self.sees("Next look")
        self.one(".outcomes button").click()
        self.until(lambda: Evidence.objects.get(pk=salts.pk).seen.looks, "what the look showed")
        self.sees("Looked at")
        self.until(lambda: self.one("[data-share]").text != was, "the shares moved")
        self.press("take it back", ".looked")
        self.until(lambda: not Evidence.objects.get(pk=salts.pk).seen.looks, "the look taken back")
        self.until(lambda: self.one("[data-share]").text == was, "the shares as was")
        self.axe("a pin with its next look")
        self.press("all 9")
        self.sees("All 9 pins")
        self.press("7. tide mark", "table")
        self.until(lambda: "tide mark" in self.one("aside h3").text, "the pin of the list")
        self.no_errors()

    def test_water_items_of_ones_own(self) -> None:
        shed = self.project.elements.get(name="Shed floor")
        self.visit(f"water?element={shed.pk}")
        self.press("add a water item", ".own")
        self.one("input[name=item-title]").send_keys("Lay a membrane under the earth floor")
        self.one("input[name=item-shown]").send_keys("photo of the laps")
        self.choose("Stage", "foundation and slab")
        self.press("Add it")
        item = self.until(lambda: WaterItem.objects.filter(elements=shed).first(), "the item")
        self.assertEqual((item.stage, item.shown_by), ("foundation", "photo of the laps"))
        self.one(f"[data-item='{item.uid}'] .title").click()
        self.fill("Who", "builder")
        self.until(lambda: WaterItem.objects.get(pk=item.pk).who == "builder", "who")
        self.press("Close it without a photo")
        self.until(lambda: WaterItem.objects.get(pk=item.pk).state == "closed", "closed")
        self.one(".check").click()
        self.until(lambda: self.browser.find_elements(By.CSS_SELECTOR, f"[data-item='{item.uid}']"), "shown again")
        if not self.browser.find_elements(By.CSS_SELECTOR, f"[data-item='{item.uid}'] .body"):
            self.one(f"[data-item='{item.uid}'] .title").click()
        self.press("open it again")
        self.until(lambda: WaterItem.objects.get(pk=item.pk).state == "open", "open again")
        roof = self.project.elements.get(name="Shed roof, tin")
        self.visit(f"water?element={roof.pk}")
        self.sees("Ready by override of Isla Marr")
        self.press("take it back", ".own")
        self.until(lambda: Element.objects.get(pk=roof.pk).override_reason == "", "the override taken back")
        self.no_errors()

    def test_measurements_by_hand_and_from_a_file(self) -> None:
        self.visit("survey/airtightness")
        self.press("New test")
        self.until(lambda: Measurement.objects.filter(kind="blower_door").count() == 2, "an empty test")
        self.sees("no readings yet")
        for pressure, flow in (("20", "2300"), ("35", "3300"), ("50", "4150")):
            count = len(self.browser.find_elements(By.CSS_SELECTOR, ".points tbody tr"))
            self.one("input[aria-label^='Pressure of the new reading']").send_keys(pressure)
            self.one("input[aria-label^='Flow of the new reading']").send_keys(flow + Keys.ENTER)
            self.until(
                lambda n=count: len(self.browser.find_elements(By.CSS_SELECTOR, ".points tbody tr")) == n + 1,  # type: ignore[misc]
                "one reading more",
            )
        self.sees("Not a valid test")
        self.press("Remove this test")
        self.until(lambda: Measurement.objects.filter(kind="blower_door").count() == 1, "removed")
        file = self.folder / "gauge.csv"
        file.write_text(
            "direction,pressure_pa,flow_m3_h\n" + "\n".join(f"up,{p},{100 * p**0.65:.0f}" for p in range(10, 70, 8))
        )
        self.present(".ways input[type=file]").send_keys(str(file))
        self.until(lambda: Measurement.objects.filter(kind="blower_door").count() == 2, "the file's test")
        self.sees("0.650")
        self.visit("survey/readings")
        self.one("button[aria-label='Edit the reading at kitchen']").click()
        self.one(".el-dialog .el-select")
        self.fill("Hours since sun", "20")
        self.fill("Hours of steady heating", "40")
        self.fill("Air outside", "2")
        self.press("Keep it")
        self.closed()
        self.until(lambda: "worth nothing" not in self.one("table").text, "a reading that is worth something")
        self.one("button[aria-label='Remove the reading at post foot']").click()
        self.until(lambda: Measurement.objects.filter(kind="moisture").count() == 2, "removed")
        self.no_errors()

    def test_the_house_leads_everywhere(self) -> None:
        self.visit("house")
        self.press("Damp", ".lenses")
        self.one("g.pin").send_keys(Keys.ENTER)
        self.until(lambda: "/survey/evidence" in self.browser.current_url, "the pin's own sheet")
        self.sees("Cause:")
        self.visit("house")
        self.press("Layers", ".lenses")
        self.press_gap()
        self.browser.execute_script("document.activeElement.blur()")
        self.keys("/")
        self.one(".el-dialog .query input").send_keys("blower")
        self.until(lambda: "Blower door" in self.browser.find_element(By.CSS_SELECTOR, ".el-dialog li").text, "a hit")
        self.keys(Keys.ENTER)
        self.sees("A valid test")
        self.visit("brief")
        self.one("button[aria-label='Remove limit 1']").click()
        self.press("Add a role")
        self.until(
            lambda: (
                len(Project.objects.get(pk=self.project.pk).current_brief.limits) == 3
                and len(Project.objects.get(pk=self.project.pk).current_brief.roles) == 7
            ),
            "the brief kept",
        )
        self.no_errors()

    def press_gap(self) -> None:
        """A break in the drawing marks its note in the margin, and the other way round."""
        gap = self.one("g.gap")
        number = gap.text
        gap.send_keys(Keys.ENTER)
        self.until(lambda: self.one(".gapnote.here .ring").text == number, "the note of the break")
        last = self.browser.find_elements(By.CSS_SELECTOR, ".gapnote")[-1]
        last.click()
        self.until(lambda: self.one("g.gap.here").text == last.find_element(By.CSS_SELECTOR, ".ring").text, "its place")

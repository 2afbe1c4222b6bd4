"""The line is moved and the totals follow; three blower-door stages; a ledger; airing that keeps an RH; a workbook that adds up."""

from __future__ import annotations

from typing import Any

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from e2e.base import Walk
from server.heat.figures import heat
from server.projects.models import Element, Project
from server.survey.models import Measurement


class TheBuilding(Walk):
    def setUp(self) -> None:
        super().setUp()
        self.project = self.demo_project()

    @property
    def path(self) -> str:
        return f"/p/{self.project.pk}"

    def now(self) -> Project:
        return Project.objects.get(pk=self.project.pk)

    def test_line_air_and_balance(self) -> None:
        self.sign_in()
        self.the_line()
        self.three_tests()
        self.the_ledger()
        self.what_the_walls_take()
        self.airing()
        self.the_rooms()
        self.the_balance()
        self.no_errors()

    def switch(self, words: str) -> Any:
        rows = self.browser.find_elements(By.CSS_SELECTOR, "[data-space]")
        return next((row.find_element(By.CSS_SELECTOR, ".el-switch") for row in rows if words in row.text), None)

    def the_line(self) -> None:
        before = heat(self.now()).total
        self.go(f"{self.path}/house")
        self.one(".lenses label:nth-child(3)").click()
        self.until(lambda: self.switch("Goods shed"), "the spaces").click()
        self.until(lambda: self.now().shown_scheme().changes, "the line is moved")
        self.sees("Goods shed: left out")
        self.axe("house, line")
        self.go(f"{self.path}/heat")
        self.sees("The heated line moves")
        self.sees("ike for like")
        after = heat(self.now())
        self.assertEqual(after.total.before_w_k, before.before_w_k)
        self.assertLess(after.total.after_w_k, before.after_w_k)
        self.sees(f"{after.total.after_w_k:.0f} W/K")
        shed = next(row for row in after.rows if row.name == "Shed roof, tin")
        self.assertEqual((shed.stands, shed.after_w_k), ("before", 0.0))
        self.go(f"{self.path}/survey/shape?scheme={self.now().shown_scheme().pk}")
        self.sees("What the scheme does to it")
        self.sees("before only")
        self.axe("shape of a scheme")
        self.go(f"{self.path}/house")
        self.until(lambda: self.switch("Goods shed"), "the spaces").click()
        self.until(lambda: not self.now().shown_scheme().changes, "taken in again")

    def three_tests(self) -> None:
        """As found there is; one more at half and one at the end, from the gauge, each with its stage."""
        self.go(f"{self.path}/survey/airtightness")
        for number, stage in ((2, "during the works"), (3, "at the end")):
            self.press("Read the simulated gauge")
            self.until(lambda n=number: self.doors().count() == n, "the test")  # type: ignore[misc]
            self.choose("Stage", stage)
            self.until(lambda s=stage: self.doors().filter(stage=s).exists(), f"its stage {stage}")  # type: ignore[misc]
        self.go(f"{self.path}/air")
        self.sees("during the works")
        self.sees("blower door at the end")
        rows = self.browser.find_elements(By.CSS_SELECTOR, ".tests tbody tr")
        self.assertEqual(len(rows), 3)
        self.doors().exclude(stage="as found").delete()

    def doors(self) -> Any:
        return Measurement.objects.filter(project=self.project, kind=Measurement.BLOWER_DOOR)

    def the_ledger(self) -> None:
        self.go(f"{self.path}/air")
        self.until(lambda: self.one("[data-tried]").text, "what it does")
        self.axe("air")
        total = sum(float(c) for c in self.column(2))
        self.press("Ground floor over the void", ".ledger")
        self.fill("At 50 Pa, as found", "900")
        self.until(lambda: any(one.q50_m3_h == 900 for one in self.now().current_air.ledger), "typed")
        self.until(lambda: "typed" in self.one(".ledger").text, "it says so")
        self.assertAlmostEqual(sum(float(c) for c in self.column(2)), total, delta=len(self.column(2)))
        self.fill("Left of it after the works, %", "5")
        self.until(
            lambda: any(one.left == 0.05 for one in self.now().shown_scheme().current_air.ledger), "what is left"
        )
        self.press("Add a leak that is no element: a flue, a hatch, a joint")
        self.fill("What leaks", "Hatch to the attic")
        self.fill("It lets through at 50 Pa", "150")
        self.press("Add it")
        self.until(lambda: "Hatch to the attic" in self.one(".ledger").text, "the hatch")
        slider = self.one(".try .el-slider__button-wrapper")
        slider.send_keys(Keys.ARROW_LEFT * 15)
        wanted = self.one(".try .slide b").text.split()[1]
        self.until(lambda: self.one("[data-tried]").get_attribute("data-tried") == wanted, "tried again")
        self.until(lambda: self.one(".try .slide button").is_enabled(), "to be aimed at")
        self.press("Aim at it")
        self.until(lambda: self.now().air_value_after not in (None, 4.0), "aimed at")
        self.sees("is aimed at")
        self.one(".order .el-checkbox").click()
        self.press("Close it in the scheme")
        self.until(
            lambda: any(one.left == 0.0 for one in self.now().shown_scheme().current_air.ledger), "one leak is closed"
        )
        self.sees("1 leak is closed in the scheme")
        self.until(lambda: "Roof, rain side" in self.one(".cut").text, "leaks on the section")
        self.one(".drawn label:nth-child(2)").click()
        self.until(lambda: self.browser.find_elements(By.CSS_SELECTOR, "svg.leaks"), "leaks by height")

    def column(self, at: int) -> list[str]:
        """Figures of one column, read in one go: the table may be drawn anew meanwhile."""
        script = "return [...document.querySelectorAll('.ledger .el-table__body tr.el-table__row')].map((r) => r.cells[arguments[0]].innerText)"
        return list(self.browser.execute_script(script, at))

    def what_the_walls_take(self) -> None:
        self.press("Take the leaks from the ledger")
        self.sees("build-ups take their leaks from the ledger now")
        face = Element.objects.get(project=self.project, name="Garden face")
        self.assertTrue(face.as_found.current.air_leak.from_ledger)
        self.press("Take the air of the cold spaces")
        floor = Element.objects.get(project=self.project, name="Ground floor over the void")
        self.until(lambda: Element.objects.get(pk=floor.pk).beside_after, "the air of the void")
        self.press("Take the air of the rooms, after")
        self.until(lambda: self.now().occupancy.startswith("own-"), "the rooms' air")

    def airing(self) -> None:
        self.fill("People", "9")
        self.fill("Loads of laundry dried inside, a week", "20")
        self.press("After the works", ".stated")
        self.fill("People", "9")
        self.fill("Loads of laundry dried inside, a week", "20")
        self.fill("Airing in winter, mean", "5")
        self.press("Keep it for the scheme")
        self.until(lambda: self.now().shown_scheme().current_air.use.people == 9, "kept")
        self.fill("At most, % RH in the coldest month", "38")
        self.press("Find it")
        self.until(lambda: "of airing in winter" in self.one("[data-within]").text, "the airing")
        self.press("Let the scheme air so")
        self.until(lambda: self.now().shown_scheme().current_air.ventilation.airing_m3_h > 5, "aired")

    def the_rooms(self) -> None:
        """Out of the shape, named, one split off: loads follow, and what lacks air is said."""
        project = self.now()
        project.rooms = {}
        project.save()
        self.go(f"{self.path}/rooms")
        self.sees("No room is stated yet")
        self.axe("no rooms yet")
        self.press("Take rooms by storey out of the shape")
        self.until(lambda: len(self.now().current_rooms.rooms) == 4, "the rooms")
        self.axe("rooms")
        self.press("House, bedrooms")
        self.fill("Name", "Bedrooms and bath")
        self.choose("Use", "bedroom")
        self.fill("People in it at once", "3")
        self.axe("a room")
        self.press("Keep the room")
        self.until(lambda: any(r.people == 3 and r.use == "bedroom" for r in self.now().current_rooms.rooms), "kept")
        self.until(lambda: "Bedrooms and bath" in self.one("[data-lacking]").text, "what lacks air")
        self.press("Split a part off")
        self.fill("Share of floor and faces for the new room, %", "20")
        self.press("Split it")
        self.until(lambda: len(self.now().current_rooms.rooms) == 5, "the part")
        rooms = {room.name: room.floor_m2 for room in self.now().current_rooms.rooms}
        self.assertAlmostEqual(rooms["Bedrooms and bath, part"] / rooms["Bedrooms and bath"], 0.25, delta=0.01)
        self.fill("Outside (empty: coldest day", "-15")
        self.until(lambda: self.now().current_rooms.design_c == -15, "another temperature outside")

    def the_balance(self) -> None:
        self.go(f"{self.path}/balance")
        self.sees("Where the heat goes, and what brings some")
        self.sees("Air of")
        self.axe("balance")
        self.one(".which .el-collapse-item__header").click()
        self.sees("Sum of the rooms")
        self.sees("to size by")
        self.axe("which figure is which")
        self.one(".summer summary").click()
        self.press("Run them")
        self.until(lambda: "Shutters outside" in self.one("[data-summer]").text, "what keeps it cooler")
        self.one(".footing summary").click()
        self.press("Take what is known of the foot")
        self.press("Follow the frost")
        self.until(lambda: len(self.browser.find_elements(By.CSS_SELECTOR, "[data-frost] tbody tr")) == 4, "the frost")
        self.axe("frost at the footing")
        self.go(f"{self.path}/lists/leaks")
        self.sees("The whole, as the test says")
        self.go(f"{self.path}/lists/balance")
        self.sees("heat that is brought")
        self.axe("list of the balance")

"""Climate import, wetting test, worst face, bad year, outboard share, a study stopped and resumed, verification, leaks."""

from __future__ import annotations

from typing import Any

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from core.buildup.model import BuildUp
from demo.station import weather_file
from e2e.base import Walk
from server.projects.models import ClimateFile, Element, Option, Project
from server.runs.models import Batch, Run


class Studies(Walk):
    def setUp(self) -> None:
        super().setUp()
        self.project = self.demo_project()
        self.element = self.project.elements.get(name="Garden face")
        self.thin_down()

    def thin_down(self) -> None:
        """A brick thick and one option, so that a batch of every option is short: what is tried here is the page."""
        keep = self.element.options.filter(role=Option.UPGRADE).first()
        assert keep is not None
        self.option = keep
        self.element.options.filter(role=Option.UPGRADE).exclude(pk=keep.pk).delete()
        brick: list[dict[str, Any]] = [
            {"id": "brick", "material": "brick_ordinary", "thickness_mm": 215, "existing": True},
            {"id": "plaster", "material": "lime_plaster", "thickness_mm": 15, "existing": True},
        ]
        board = {"id": "board", "material": "calcium_silicate", "thickness_mm": 30}
        for option, layers in ((self.element.as_found, brick), (keep, [*brick, board])):
            option.build_up = BuildUp.model_validate({"layers": layers}).model_dump(mode="json")
            option.save()

    def done(self) -> None:
        self.until(
            lambda: self.one("[data-batch]").get_attribute("data-status") == "done",
            "the end of the batch",
            lambda: Run.objects.filter(status=Run.DONE).count(),
        )

    def tests(self, view: str = "") -> None:
        self.go(f"/p/{self.project.pk}/tests/{self.element.pk}{view}")

    def test_wetting_facings_bad_year_and_outboard(self) -> None:
        self.start_runner()
        self.sign_in()
        self.go(f"/p/{self.project.pk}/options/{self.element.pk}")
        self.until(lambda: len(self.strips()) == 2, "two strips")
        self.keys("t")
        self.sees("Wet every option")
        self.choose_in("input[aria-label='Day of the wetting']", "1 October, the harsher")
        self.press("Wet every option")
        self.done()
        rows = self.browser.find_elements(By.CSS_SELECTOR, ".wetting tbody tr")
        self.assertEqual(len(rows), 2)
        self.assertIn("days", rows[0].text)
        batch = Batch.objects.get(kind=Batch.WETTING)
        self.assertEqual(batch.settings["on"], "10-01")
        for run in batch.runs.all():
            self.assertGreater((run.result or {})["dose_kg_m2"], 0.0)
        self.one("canvas")
        self.axe("wetting test")
        self.press("Worst face")
        self.press("Run the eight faces")
        self.done()
        self.assertEqual(len(self.browser.find_elements(By.CSS_SELECTOR, ".runs tbody tr")), 8)
        self.sees("Worst face")
        self.axe("worst face")
        self.press("Bad year")
        self.press("Run the bad year")
        self.done()
        self.sees("usual year")
        self.outboard()
        self.no_errors()

    def outboard(self) -> None:
        """Steady figures follow the keys; the hourly years at five thicknesses are asked for."""
        self.press("Outboard share")
        self.sees("by monthly means")
        self.choose_in("input[aria-label=Option]", "As found")
        self.sees("At least 0 mm")
        before = self.one("[data-outboard]").text
        limit = self.one("input[aria-label='Limit of RH, percent']")
        limit.send_keys(Keys.CONTROL + "a")
        limit.send_keys("55")
        self.until(lambda: self.one("[data-outboard]").text != before, "a new least thickness")
        limit.send_keys(Keys.CONTROL + "a")
        limit.send_keys("5")
        self.sees("between 30 and 100 %")
        limit.send_keys(Keys.CONTROL + "a")
        limit.send_keys("80")
        self.until(lambda: self.one("[data-outboard]").text == before, "the figure as it was")
        self.press("Run five thicknesses")
        self.done()
        self.assertEqual(Batch.objects.get(kind=Batch.OUTBOARD).runs.filter(status=Run.DONE).count(), 5)
        self.axe("outboard share")

    def test_a_study_is_stopped_and_resumed(self) -> None:
        self.start_runner()
        self.sign_in()
        self.tests("/study")
        self.sees("One run is one draw")
        runs = self.one("input[aria-label='Number of runs']")
        runs.send_keys(Keys.CONTROL + "a")
        runs.send_keys("5")
        low = self.one("input[aria-label='rain exposure, from']")
        low.send_keys(Keys.CONTROL + "a")
        low.send_keys("3")
        self.press("Run the study")
        self.sees("must rise within")
        low.send_keys(Keys.CONTROL + "a")
        low.send_keys("0,5")
        self.press("Run the study")
        self.until(lambda: Run.objects.filter(status=Run.DONE).count() >= 1, "a run of the study")
        self.press("cancel")
        self.until(lambda: self.one("[data-batch]").get_attribute("data-status") == "cancelled", "the stop")
        kept = {run.pk: run.finished_at for run in Run.objects.filter(status=Run.DONE)}
        self.assertLess(len(kept), 5)
        self.sees("runs are kept")
        self.one("[data-study]")
        self.press("resume")
        self.done()
        for run in Run.objects.filter(pk__in=kept):
            self.assertEqual(run.finished_at, kept[run.pk], "what was done is not done again")
        self.assertEqual(Run.objects.filter(status=Run.DONE).count(), 5)
        self.sees("draws from the ranges typed")
        self.axe("study")
        self.press("Run the study")
        self.until(lambda: Batch.objects.filter(kind=Batch.STUDY).count() == 2, "the same study asked again")
        self.done()
        self.no_errors()

    def test_leaks_are_stated_on_the_sheet_and_undone(self) -> None:
        self.sign_in()
        self.go(f"/p/{self.project.pk}/options/{self.element.pk}")
        self.until(lambda: len(self.strips()) == 2, "two strips")
        self.browser.execute_script("arguments[0].click()", self.strips()[1])
        self.choose_in("[data-leak=air]", "leaky")
        self.until(lambda: self.saved().air_leak.preset == "leaky", "the air leak")
        share = self.one("[data-leak=rain]")
        share.send_keys(Keys.CONTROL + "a")
        share.send_keys("1" + Keys.TAB)
        self.until(lambda: self.saved().rain_leak.share == 0.01, "the rain leak")
        self.sees("cools at inner face of")
        self.press("Undo")
        self.until(lambda: self.saved().rain_leak.share is None, "the rain leak taken back")
        self.assertEqual(self.saved().air_leak.preset, "leaky")
        self.axe("leaks")
        self.click_layer(1, 1)
        self.choose_in("input[aria-label='water built in, RH at the start']", "wet, 95 %")
        self.until(lambda: self.saved().layers[1].start_rh == 0.95, "the water built in")

    def saved(self) -> Any:
        return Option.objects.get(pk=self.option.pk).current


class Climates(Walk):
    def choose_file(self, name: str, raw: bytes) -> None:
        path = self.folder / name
        path.write_bytes(raw)
        self.present("[data-climate-file] input").send_keys(str(path))

    def place(self) -> None:
        for name, value in (("Latitude, °", "52"), ("Longitude, ° east", "-4"), ("Hours from UTC", "0")):
            self.fill(name, value)

    def test_a_station_is_imported_and_a_bad_file_says_where(self) -> None:
        project = self.demo_project()
        self.sign_in()
        self.go("/climates")
        self.sees("Nothing was imported yet")
        self.choose_file("words.txt", b"only words\nand no numbers\n")
        self.sees("no rows of numbers were found")
        self.choose_file("bad.csv", weather_file({500: "500;abc;80,0;10,0;200;0,0"}))
        self.sees("8760 rows, 6 columns between semicolons, decimal comma")
        self.axe("mapper")
        self.press("Import")
        self.sees("say where it was measured")
        self.place()
        self.press("Import")
        self.sees("“abc” is no number")
        self.sees("Meanings and units are guessed")
        self.assertEqual(ClimateFile.objects.count(), 0)
        self.choose_file("station.csv", weather_file({100: "100;;80,0;10,0;200;0,0"}))
        self.until(lambda: self.field("Name").get_attribute("value") == "station", "the new file")
        self.fill("Name", "Station on the hill")
        self.place()
        self.press("Import")
        self.sees("Imported: Station on the hill")
        self.sees("1 hour of temperature")
        self.choose_file("again.csv", weather_file())
        self.sees("Mapped as the last file of this make was")
        row = ClimateFile.objects.get()
        self.go(f"/p/{project.pk}/survey/elements")
        self.sees("Platform face, upper")
        self.choose("Climate", self.option_text("Climate", "Station on the hill"))
        self.until(lambda: Project.objects.get().climate == row.name, "the climate of the project")
        element = Element.objects.get(name="Platform face, upper")
        self.go(f"/p/{project.pk}/options/{element.pk}")
        self.sees("Station on the hill, imported from a file")

    def option_text(self, label: str, start: str) -> str:
        return next(words for words in self.options_of(f"[aria-label='{label}']") if words.startswith(start))

    def test_verification_is_computed_on_the_page(self) -> None:
        self.sign_in()
        self.go("/verification")
        self.sees("EN 15026 Annex A")
        self.press("Compute", "[data-case=en15026]")
        self.until(lambda: "none over their limit" in self.one("[data-case=en15026] [data-sum]").text, "the comparison")
        self.one("[data-case=en15026] [data-pictures] canvas")
        self.axe("verification")
        self.no_errors()

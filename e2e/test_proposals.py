"""From proposals to a decided scheme: a material of one's own, a proposal taken, layers copied, phases, a rejection and its ground."""

from __future__ import annotations

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from e2e.base import Walk
from server.library.models import Edition
from server.options.standing import STANDS, UNDER_WAY
from server.projects.models import Choice, Element, Option, Phase, Project, Scheme
from server.runs.models import Run
from server.schemes.models import Basis

PDF = b"%PDF-1.7\n1 0 obj <<>> endobj\ntrailer <<>>\n%%EOF\n"


class FromProposalsToAScheme(Walk):
    def setUp(self) -> None:
        super().setUp()
        self.project = self.demo_project()
        self.face = self.project.elements.get(name="Garden face")

    def sheet(self, view: str, element: Element | None = None) -> None:
        self.go(f"/p/{self.project.pk}/{view}/{(element or self.face).pk}")

    def test_a_scheme_is_decided(self) -> None:
        self.sign_in()
        self.proposal_taken()
        self.own_material()
        self.layers_copied()
        self.swapped()
        self.the_same_elsewhere()
        self.compared()
        self.schemes()
        self.no_errors()

    def proposal_taken(self) -> None:
        self.sheet("proposals")
        self.until(lambda: "found by their hourly years" in self.one("[data-headline]").text, "the headline")
        self.sees("What does not apply here")
        self.sees("It is for cladding on bare studs; here is none.")
        way = self.one("[data-way=inside_variable]")
        way.find_element(By.XPATH, ".//button[contains(., 'What it relies on')]").click()
        self.sees("tape round every joist")
        self.axe("proposals")
        self.press("Take as an option", "[data-way=inside_variable]")
        self.until(lambda: self.face.options.filter(name__startswith="Inside, mineral fibre").exists(), "the option")
        self.press("the outside may not be touched")
        self.until(lambda: Element.objects.get(pk=self.face.pk).outside_untouchable, "access kept")
        self.until(
            lambda: not self.browser.find_elements(By.CSS_SELECTOR, "[data-way=outside_render]"), "it is off the list"
        )
        self.press("the outside may not be touched")
        self.press("See it on the sheet", "[data-way=inside_variable]")
        self.until(lambda: len(self.strips()) == 4, "four strips")

    def test_a_window_that_closes_gives_the_years_up(self) -> None:
        self.sign_in()
        self.sheet("proposals", self.project.elements.get(name="South-west gable"))
        rows = Run.objects.filter(kind=STANDS, batch__element__name="South-west gable", project=self.project)
        under_way = rows.filter(status__in=UNDER_WAY, cancel_asked=False)
        self.until(under_way.exists, "its years are asked for")
        self.browser.get("about:blank")
        self.until(lambda: not under_way.exists(), "they are given up")

    def own_material(self) -> None:
        """In twenty seconds, from where it is missing; then its second edition."""
        self.chord(Keys.ALT, "3")
        self.click_layer(3, 2)
        self.press("lime plaster", ".strip.here .bar")
        self.one(".el-dialog .query input").send_keys("batt of ours")
        self.press("Not there? Enter it from its data sheet")
        self.until(lambda: self.field("Name").get_attribute("value") == "batt of ours", "its name is there already")
        self.sees("so that comes first")
        self.choose("What is it made of?", "mineral")
        self.choose("Kind", "fibrous insulation")
        self.fill("Thickness as sold", "100 mm")
        self.fill("λ, k or R", "R15")
        self.sees("rest: mould (its class)")
        self.sees("of the thickness as sold")
        self.fill("Density", "30")
        self.sees("filled from mineral fibre")
        self.axe("data sheet")
        self.press("Keep it", ".datasheet")
        edition = self.until(lambda: Edition.objects.first(), "the material")
        taken = self.face.options.get(name__startswith="Inside, mineral fibre")
        self.until(lambda: Option.objects.get(pk=taken.pk).current.layers[2].material == edition.key, "the swap")
        self.go("/library")
        self.one("details summary").click()
        self.press("Change it")
        self.fill("λ, k or R", "R14")
        self.press("Keep the new edition")
        self.until(lambda: Edition.objects.count() == 2, "its second edition")
        self.sheet("options")
        self.sees("stands on “batt of ours”, edition 1")
        self.press("Take edition 2")
        self.until(lambda: Option.objects.get(pk=taken.pk).current.layers[2].material != edition.key, "the newest")

    def layers_copied(self) -> None:
        option = self.face.options.filter(role=Option.UPGRADE).order_by("position")[0]
        count = len(option.current.layers)
        self.sheet("options")
        self.until(lambda: len(self.strips()) == 4, "four strips")
        self.click_layer(1, 0)
        self.keys(Keys.SHIFT + Keys.ARROW_RIGHT)
        self.chord(Keys.SHIFT, Keys.ARROW_RIGHT)
        self.sees("layers in hand")
        self.chord(Keys.CONTROL, "c")
        self.sees("layers copied.")
        self.keys(Keys.ESCAPE)
        self.chord(Keys.CONTROL, "v")
        self.until(lambda: len(Option.objects.get(pk=option.pk).current.layers) > count, "pasted")
        self.chord(Keys.CONTROL, "z")
        self.until(lambda: len(Option.objects.get(pk=option.pk).current.layers) == count, "undone")
        self.keys(Keys.ESCAPE)
        self.chord(Keys.CONTROL, "c")
        self.sees("with its leaks")
        gable = self.project.elements.get(name="South-west gable")
        before = gable.options.count()
        self.sheet("options", gable)
        self.until(lambda: len(self.strips()) == before, "the strips of the gable")
        self.chord(Keys.CONTROL, "v")
        self.until(lambda: gable.options.count() == before + 1, "the option is there too")
        self.sees("is an option here now")

    def swapped(self) -> None:
        """By what can be had: what moves is seen first."""
        self.sheet("options")
        self.until(lambda: len(self.strips()) == 4, "four strips")
        option = self.face.options.filter(role=Option.UPGRADE).order_by("position")[1]
        at = next(i for i, layer in enumerate(option.current.layers) if layer.material == "wood_fibre_board")
        self.click_layer(2, at)
        self.press("what can be had", ".strip.here .bar")
        self.sees("made up, no such shop")
        self.press("calcium silicate board", ".el-dialog")
        moved = self.until(lambda: self.one("[data-moves]").text, "what moves")
        self.assertIn("U effective", moved)
        self.assertIn("out of date", moved)
        self.assertIn("Run its years before accepting", moved)
        self.axe("what can be had")
        self.press("Swap it")
        self.until(
            lambda: Option.objects.get(pk=option.pk).current.layers[at].material == "calcium_silicate", "the swap"
        )

    def the_same_elsewhere(self) -> None:
        self.sheet("options")
        self.until(lambda: len(self.strips()) == 4, "four strips")
        self.chord(Keys.ALT, "2")
        self.press("The same elsewhere")
        self.press("North-east gable", ".el-dialog")
        gable = self.project.elements.get(name="North-east gable")
        before = gable.options.count()
        self.press("Put it there")
        self.until(lambda: gable.options.count() == before + 1, "on the other gable")
        self.axe("the same elsewhere")
        self.press("Good")

    def compared(self) -> None:
        self.sheet("compare")
        self.until(lambda: self.browser.find_elements(By.CSS_SELECTOR, ".compare .el-radio"), "the table")
        self.press("Add work, scaffold, waste")
        self.fill("What", "scaffold")
        self.fill("From", "40")
        self.fill("to", "60")
        self.axe("a price")
        self.press("Keep it", ".el-dialog")
        self.sees("scaffold")
        self.until(lambda: Option.objects.exclude(works=[]).exists(), "the work")
        # the row may lie under the heads that stay in sight
        self.browser.execute_script("arguments[0].scrollIntoView({block: 'center'})", self.button("reject it"))
        self.press("reject it")
        self.one(".reject input").send_keys("Takes too much of the room" + Keys.ENTER)
        self.until(lambda: self.face.options.exclude(rejected_reason="").exists(), "the rejection")
        self.sees("rejected: Takes too much of the room")
        self.press("Note what it rests on")
        self.fill("Asked of", "Maker of fixings")
        self.fill("What it was", "Pull-out in rubble")
        self.fill("What they answered", "Not in writing")
        self.press("Keep it", ".bases")
        basis = self.until(lambda: Basis.objects.first(), "the entry")
        self.sees("Not in writing")
        letter = self.folder / "letter.pdf"
        letter.write_bytes(PDF)
        self.present("[data-basis] input[type=file]").send_keys(str(letter))
        self.until(lambda: Basis.objects.get(pk=basis.pk).document == "letter.pdf", "the document")
        self.axe("compare with its grounds")

    def schemes(self) -> None:
        self.go(f"/p/{self.project.pk}/heat")
        self.press("Schemes and phases", "main")
        self.sees("As found")
        self.press("Add a phase")
        self.press("Add a phase")
        for field, name in zip(
            self.browser.find_elements(By.CSS_SELECTOR, ".phase .field input[maxlength]"),
            ("Roof", "Walls"),
            strict=True,
        ):
            field.send_keys(name)
        self.press("Keep the phases")
        self.until(lambda: Phase.objects.count() == 2, "two phases")
        self.choose_in("[aria-label='Phase of Garden face']", "Walls")
        self.until(lambda: Phase.objects.get(name="Walls").choices.count() == 1, "a choice in its phase")
        self.choose_in("[aria-label='Until then on Garden face']", "Inside, capillary-active wood fibre")
        self.until(lambda: Choice.objects.exclude(between=None).count() == 1, "what stands until then")
        self.sees("State how many years lie between the phases.")
        self.until(lambda: self.browser.find_elements(By.CSS_SELECTOR, "svg[aria-label^='Heat loss']"), "the stair")
        self.axe("schemes")
        self.fill("A new scheme", "Outside only")
        self.press("Make it")
        self.until(lambda: Scheme.objects.count() == 2, "two schemes")
        ActionChains(self.browser).move_to_element(self.one(".scheme")).click().perform()
        self.press("Outside only")
        self.until(lambda: Project.objects.get().shown_scheme().name == "Outside only", "it is shown")
        self.sees("Nothing is chosen in it yet")
        self.sheet("compare")
        self.sees("Not chosen yet")

"""A house from nothing to a decided scheme, by the keyboard alone: no pointer is moved, nothing is clicked."""

from __future__ import annotations

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from demo.people import PEOPLE
from e2e.base import Walk
from server.projects.models import Choice, Element, Option, Phase, Project

MOST_TABS = 160


class ByKeyboardAlone(Walk):
    def focused(self) -> tuple[str, str]:
        """(what a screen reader would call the focused thing, its role or tag)."""
        found = self.browser.execute_script(
            "const e = document.activeElement;"
            "const label = e.labels && e.labels[0] ? e.labels[0].innerText : '';"
            "return [(e.getAttribute('aria-label') || label || e.innerText || e.placeholder || '').trim(),"
            " e.getAttribute('role') || e.tagName.toLowerCase()]"
        )
        return found[0], found[1]

    def tab_to(self, name: str, role: str = "", back: bool = False) -> None:
        """Tab on until what has the focus is called so."""
        for _ in range(MOST_TABS):
            called, is_a = self.focused()
            if called.startswith(name) and (not role or is_a == role):
                return
            if back:
                self.chord(Keys.SHIFT, Keys.TAB)
            else:
                self.keys(Keys.TAB)
        raise AssertionError(f"“{name}” is not reached by Tab; the focus is on {self.focused()}")

    def press_on(self, name: str, key: str = Keys.ENTER) -> None:
        def act() -> bool:
            self.tab_to(name)
            self.keys(key)
            return True

        self.until(act, f"“{name}” by keyboard")

    def type_in(self, name: str, text: str) -> None:
        self.tab_to(name)
        self.chord(Keys.CONTROL, "a")
        self.keys(text)

    def leave(self) -> None:
        """Out of a field, where letters are typed and are no commands."""
        for _ in range(MOST_TABS):
            if self.browser.switch_to.active_element.tag_name not in ("input", "textarea"):
                return
            self.keys(Keys.TAB)
        raise AssertionError(f"no way out of the fields; the focus is on {self.focused()}")

    def find(self, text: str, note: str) -> None:
        """By “/”: what is called so, of that kind."""
        self.leave()
        self.keys("/")
        self.until(lambda: self.browser.switch_to.active_element.tag_name == "input", "the finder")
        self.keys(text)

        def places() -> list[int]:
            items = self.browser.find_elements(By.CSS_SELECTOR, ".el-dialog li button")
            shown = [item.text for item in items if item.is_displayed()]
            return [at for at, words in enumerate(shown) if text in words and note in words]

        index = self.until(places, f"{text}, {note}")[0]
        self.keys(*[Keys.ARROW_DOWN] * index, Keys.ENTER)

    def material(self, name: str) -> None:
        self.until(lambda: self.browser.switch_to.active_element.tag_name == "input", "the finder of materials")
        self.keys(name)
        self.until(
            lambda: any(
                e.is_displayed() and name in e.text
                for e in self.browser.find_elements(By.CSS_SELECTOR, ".el-dialog li button")
            ),
            name,
        )
        self.keys(Keys.ENTER)
        self.until(lambda: not self.shown(".el-dialog"), "the finder closes")

    def shown(self, css: str) -> bool:
        return any(e.is_displayed() for e in self.browser.find_elements(By.CSS_SELECTOR, css))

    def thickness(self, text: str) -> None:
        """Of the layer in hand: typed as on paper."""
        self.until(lambda: self.shown(".strip.here .bar"), "a layer in hand")
        self.keys(text)
        self.until(lambda: self.browser.switch_to.active_element.get_attribute("value") == text, text)
        self.keys(Keys.ENTER)

    def test_from_nothing_to_a_decided_scheme(self) -> None:
        self.start_runner()
        username, first, last, password, _ = PEOPLE[1]
        self.go("/login")
        self.until(lambda: self.shown("input[name=username]"), "the sign-in")
        self.until(lambda: self.focused()[1] == "input", "the first field has the focus")
        self.keys(username, Keys.TAB, password, Keys.ENTER)
        self.sees(f"{first} {last}")
        self.made()
        self.surveyed()
        self.drawn()
        self.decided()
        self.no_errors()

    def made(self) -> None:
        self.press_on("New project")
        self.until(lambda: self.focused()[0].startswith("Name of the building"), "the name")
        self.keys("Weir House", Keys.ENTER)
        self.until(lambda: Project.objects.filter(name="Weir House").exists(), "the project")
        self.sees("What may not change")

    def surveyed(self) -> None:
        self.find("Elements", "survey")
        self.sees("Nothing surveyed yet")
        self.press_on("Add an element")
        self.until(lambda: self.shown(".el-dialog input[name=element-name]"), "the form")
        self.type_in("Name", "River wall")
        self.type_in("Area", "24")
        self.type_in("May take of the room", "140")
        self.type_in("Target U", "0.5")
        self.keys(Keys.TAB)
        self.press_on("Add it")
        self.until(lambda: Element.objects.filter(name="River wall").exists(), "the element")

    def drawn(self) -> None:
        self.find("River wall", "options")
        self.sees("Its layers are not stated")
        self.press_on("State the outermost layer")
        self.material("sandstone rubble in lime")
        self.thickness("400")
        self.keys(Keys.INSERT)
        self.material("lime plaster")
        self.thickness("20")
        wall = Element.objects.get(name="River wall")
        self.until(
            lambda: [layer.thickness_mm for layer in wall.as_found.current.layers] == [400, 20], "the wall as found"
        )
        self.keys(Keys.ESCAPE)
        self.leave()
        self.keys("d")
        self.until(lambda: len(self.strips()) == 2, "an option")
        self.chord(Keys.ALT, "1")
        self.keys(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT)
        self.keys(Keys.INSERT)
        self.material("calcium silicate board")
        self.thickness("50")
        option = wall.options.get(role=Option.UPGRADE)
        self.until(
            lambda: Option.objects.get(pk=option.pk).current.layers[-1].material == "calcium_silicate", "the board"
        )
        self.keys(Keys.ESCAPE, Keys.ESCAPE)
        self.leave()
        self.keys("r")
        self.until(
            lambda: "Option 1: within limits" in self.page() or "Option 1: over a limit" in self.page() or "Option 1: marginal" in self.page(),
            "its verdict",
            moving=self.page,
        )  # fmt: skip

    def page(self) -> str:
        return self.browser.find_element(By.TAG_NAME, "body").text

    def decided(self) -> None:
        self.find("River wall", "compare")
        self.sees("Not chosen yet")
        self.tab_to("this one")
        self.keys(Keys.SPACE)
        self.tab_to("Why")
        self.keys("Bonded, it draws, and it can be taken off again")
        self.press_on("Keep the choice")
        self.until(lambda: Choice.objects.count() == 1, "the choice")
        self.find("Schemes and phases", "step")
        self.sees("1 of 1")
        self.press_on("Add a phase")
        self.tab_to("Name", back=True)
        self.keys("Walls, after the harvest")
        self.press_on("Keep the phases")
        self.until(lambda: Phase.objects.count() == 1, "the phase")
        self.tab_to("Phase of River wall")
        self.keys(Keys.ENTER)
        self.until(lambda: self.shown(".el-select-dropdown__item"), "the list")
        self.keys(Keys.ARROW_DOWN, Keys.ENTER)
        self.until(lambda: Phase.objects.get().choices.count() == 1, "the choice in its phase")
        self.sees("Walls, after the harvest")

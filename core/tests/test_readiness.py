"""The rules: facts of a place, remedies, readiness, progress, and the table they are read from."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import Any
from unittest import TestCase

from pydantic import ValidationError

from core.cases.pins import ONE
from core.proposals.rules import as_markdown as schools
from core.readiness.clues import table
from core.readiness.page import as_markdown
from core.readiness.progress import Facts, Step, steps
from core.readiness.reason import (
    ElementWater,
    Pin,
    PinPlace,
    Readings,
    Surroundings,
    facts_of,
    near,
    readiness,
    remedies,
    season_of,
    surface_humidity,
)
from core.readiness.rules import FACTS, Rules, rules

FACE = {"eaves_m": 5.6, "face_width_m": 10.0}
WINDOW = {"openings": ((4.0, 1.2, 1.0, 1.6),)}


def pin(kind: str, x: float = 7.0, z: float = 3.0, view: str = "elevation", **more: Any) -> Pin:
    return Pin(kind=kind, place=PinPlace(view=view, body="main", face="a", x_m=x, y_m=z), **more)  # type: ignore[arg-type]


class FactsOfAPlace(TestCase):
    def test_facts_from_places(self) -> None:
        around = Surroundings(rain_face=True, overhang_m=0.6, **FACE, **WINDOW)
        cases = [
            (pin("stain", z=0.3), "height", "foot"),
            (pin("stain", z=1.0), "height", "low"),
            (pin("stain", z=3.0), "height", "middle"),
            (pin("stain", z=5.0), "height", "top"),
            (pin("stain", x=9.7), "corner", "yes"),
            (pin("stain", x=9.0), "corner", "no"),
            (pin("stain", x=4.5, z=1.0), "opening", "under_sill"),
            (pin("stain", x=4.5, z=3.0), "opening", "head"),
            (pin("stain", x=5.4, z=2.0), "opening", "beside"),
            (pin("stain", x=8.0, z=2.0), "opening", "none"),
            (pin("stain", z=5.2), "eaves_shelter", "yes"),
            (pin("stain", z=4.0), "eaves_shelter", "no"),
        ]
        for seen, fact, value in cases:
            with self.subTest(fact=fact, value=value):
                self.assertEqual(facts_of(seen, around)[fact], [value])

    def test_surface_humidity_from_the_room(self) -> None:
        # 20 °C at 60 % holds 1402 Pa; saturation at 13 °C is 1497 Pa
        read = Readings(surface_c=13.0, air_c=20.0, air_rh=0.6)
        self.assertAlmostEqual(surface_humidity(read) or 0, 1402.0 / 1497.0, delta=0.01)
        self.assertEqual(facts_of(pin("mould", readings=read), Surroundings())["surface_rh"], ["high"])
        self.assertIsNone(surface_humidity(Readings(surface_c=13.0)))
        self.assertEqual(season_of(date(2026, 1, 1)), "winter")
        self.assertEqual(season_of(date(2026, 1, 1), latitude=-40.0), "summer")

    def test_neighbours(self) -> None:
        self.assertTrue(near(pin("stain", x=1), pin("mould", x=2.5)))
        self.assertFalse(near(pin("stain", x=1), pin("mould", x=4)))
        self.assertFalse(near(pin("stain", x=1), pin("mould", x=1, side="inside")), "another side is another place")
        other = Pin(kind="mould", place=PinPlace(body="main", face="b", x_m=1, y_m=3))
        self.assertFalse(near(pin("stain", x=1), other))


class RemediesAndReadiness(TestCase):
    def test_remedies_come_in_the_order_of_the_work(self) -> None:
        order = [stage.id for stage in rules().stages]
        for case in ONE:
            mechanism = case.causes[0]
            found = remedies(mechanism, facts_of(case.pinned(), case.surroundings()))
            self.assertTrue(found)
            places = [order.index(remedy.stage) for remedy in found]
            self.assertEqual(places, sorted(places))
            self.assertTrue(all(mechanism in remedy.mechanisms and remedy.shown_by and remedy.who for remedy in found))

    def test_a_blocked_gutter_is_cleared_before_the_wall_is_repointed(self) -> None:
        around = Surroundings(rain_face=True, gutters_faulty=True, **FACE)
        found = [remedy.id for remedy in remedies("rain", facts_of(pin("efflorescence"), around))]
        self.assertLess(found.index("gutters"), found.index("repoint"))
        sound = Surroundings(rain_face=True, **FACE)
        self.assertNotIn("gutters", [r.id for r in remedies("rain", facts_of(pin("efflorescence"), sound))])

    def test_a_mechanism_without_a_fitting_remedy_gets_all_of_its_own(self) -> None:
        found = remedies("plumbing", {"sprinklers": ["not known"]})
        self.assertEqual({r.id for r in found}, {"pipes", "sprinklers"})

    def test_states(self) -> None:
        cases = [
            (ElementWater(False, 0, 0, 0, 0), "not looked at", 1),
            (ElementWater(True, 0, 0, 0, 0), "ready", 0),
            (ElementWater(False, 2, 1, 0, 0), "open", 1),
            (ElementWater(True, 2, 1, 1, 3), "open", 3),
            (ElementWater(True, 2, 0, 1, 0), "open", 1),
            (ElementWater(False, 2, 0, 0, 0), "ready", 0),
            (ElementWater(False, 0, 0, 0, 0, "I. Marr: shed stays open"), "ready by override", 1),
        ]
        for water, state, reasons in cases:
            with self.subTest(state=state, water=water):
                found = readiness(water)
                self.assertEqual(found.state, state)
                self.assertEqual(len(found.reasons), reasons, found.reasons)
        self.assertIn("3 water items open", readiness(ElementWater(True, 2, 1, 1, 3)).reasons)


class TheTable(TestCase):
    def test_wrong_rules_are_refused(self) -> None:
        raw = rules().model_dump()
        with self.assertRaisesRegex(ValidationError, "no remedy for"):
            Rules.model_validate({**raw, "remedies": raw["remedies"][:3]})
        with self.assertRaisesRegex(ValidationError, "is never"):
            Rules.model_validate({**raw, "remedies": [{**raw["remedies"][0], "when": {"side": ["above"]}}]})

    def test_every_rule_stands_in_the_document(self) -> None:
        text = as_markdown() + schools()
        for clue in table().clues:
            for mechanism in clue.weights:
                if clue.weights[mechanism]:
                    self.assertIn(clue.says(mechanism), text)
        for look in table().looks:
            self.assertIn(look.does, text)
        for remedy in rules().remedies:
            self.assertIn(remedy.title_said.metric, text)
        for fact in FACTS:
            self.assertIn(f"| {fact} |", text)
        shipped = Path(__file__).resolve().parents[2] / "docs" / "rules.md"
        self.assertEqual(shipped.read_text(encoding="utf-8"), text, "docs/rules.md is stale: ./run format")


class Progress(TestCase):
    """How far each step is, by the one rule that every view shows."""

    NOTHING = Facts(
        bodies=0, brief_missing=("aims", "fans"), volume_stated=False, floor_area_stated=False, air_stated=False,
        elements=0, layered=0, not_stated=0, assumed=0, exposure_missing=False, unseen=0, blower_door=False,
        evidence=0, unexplained=0, ready=0, built=0, chosen=0,
    )  # fmt: skip

    def of(self, **changed: Any) -> dict[str, Step]:
        return {step.step: step for step in steps(replace(self.NOTHING, **changed))}

    def test_nothing_begun(self) -> None:
        found = self.of()
        self.assertEqual([step for step in found], ["house", "brief", "survey", "water", "options", "heat", "dossier"])
        self.assertEqual(found["survey"].missing.split(": ")[0], "missing")
        self.assertEqual(found["survey"].lacks[0], "shape")
        self.assertEqual((found["house"].done, found["water"].done, found["options"].done), (0.0, 0.0, 0.0))
        self.assertAlmostEqual(found["brief"].done, 12 / 14)
        self.assertEqual(
            (found["dossier"].lacks, found["dossier"].missing),
            (("an element with layers",), "missing: an element with layers"),
        )

    def test_all_of_it(self) -> None:
        found = self.of(
            bodies=1, brief_missing=(), volume_stated=True, floor_area_stated=True, air_stated=True, elements=4,
            layered=2, blower_door=True, evidence=3, ready=4, built=2, chosen=2,
        )  # fmt: skip
        self.assertEqual({step.done for step in found.values()}, {1.0})
        self.assertEqual((found["brief"].missing, found["heat"].missing), ("complete", ""))

    def test_pins_without_a_cause_and_elements_without_layers_hold_it_back(self) -> None:
        stated = {
            "bodies": 1,
            "volume_stated": True,
            "floor_area_stated": True,
            "air_stated": True,
            "blower_door": True,
        }
        found = self.of(**stated, elements=2, layered=2, not_stated=1, evidence=4, unexplained=4, built=2, chosen=2)
        self.assertAlmostEqual(found["survey"].done, (1 - 1 / 9) * 0.7)
        self.assertIn("the construction of 1 element; 4 of 4 pins", found["survey"].missing)
        self.assertEqual((found["heat"].done, found["heat"].missing), (0.5, "survey incomplete"))
        self.assertAlmostEqual(found["dossier"].done, (0.0 + 0.5 + 1.0) / 3)
        self.assertEqual(found["dossier"].lacks, ("4 of 4 signs not explained", "the construction of 1 element"))

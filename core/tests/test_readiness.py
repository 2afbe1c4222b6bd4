"""The rules: twenty written cases of evidence, remedies, readiness, and the table they are read from."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import Any
from unittest import TestCase

from pydantic import ValidationError

from core.measure.wood_moisture import MeterReading
from core.proposals.rules import as_markdown as schools
from core.readiness.progress import Facts, Step, steps
from core.readiness.reason import (
    ElementWater,
    Pin,
    PinPlace,
    Readings,
    Surroundings,
    facts_of,
    near,
    proposals,
    readiness,
    remedies,
    season_of,
    surface_humidity,
)
from core.readiness.rules import FACTS, Rules, as_markdown, rules

FACE = {"eaves_m": 5.6, "face_width_m": 10.0}
WINDOW = {"openings": ((4.0, 1.2, 1.0, 1.6),)}


def pin(kind: str, x: float = 7.0, z: float = 3.0, view: str = "elevation", **more: Any) -> Pin:
    return Pin(kind=kind, place=PinPlace(view=view, body="main", face="a", x_m=x, y_m=z), **more)  # type: ignore[arg-type]


# (what was seen, what is around it, the mechanism an expert names first)
CASES: list[tuple[str, Pin, Surroundings, str]] = [
    (
        "salts inside a rain-side wall at bedroom height",
        pin("efflorescence", side="inside", comes="after_rain"),
        Surroundings(rain_face=True, **FACE),
        "rain",
    ),
    (
        "spalling at the leading corner of the rain side",
        pin("spalling", x=0.3),
        Surroundings(rain_face=True, **FACE),
        "rain",
    ),
    ("streaks below a sill", pin("stain", x=4.5, z=0.9), Surroundings(**FACE, **WINDOW), "runoff"),
    (
        "stain under a blocked parapet gutter",
        pin("stain", z=5.2, extent="band", comes="after_rain"),
        Surroundings(rain_face=True, gutters_faulty=True, **FACE),
        "runoff",
    ),
    ("tide mark half a metre up", pin("tide_mark", z=0.7, extent="band"), Surroundings(**FACE), "ground"),
    (
        "salts in a low band on an inner wall face",
        pin("efflorescence", z=0.6, extent="band", side="inside", comes="always"),
        Surroundings(**FACE),
        "ground",
    ),
    (
        "paint lost at the foot beside paving",
        pin("peeling_paint", z=0.2, extent="band"),
        Surroundings(splash=True, **FACE),
        "runoff",
    ),
    (
        "damp smell of a floor over an earth void",
        pin("damp_smell", view="plan"),
        Surroundings(element="floor", adjoining="unheated"),
        "ground",
    ),
    (
        "stains on a cellar wall",
        pin("stain", z=-0.8, side="inside", comes="always"),
        Surroundings(adjoining="ground", **FACE),
        "ground",
    ),
    (
        "frost on nails under the slates",
        pin("frost", view="section", side="inside", seen_on=date(2026, 1, 20)),
        Surroundings(element="roof"),
        "air",
    ),
    (
        "mould on the sarking boards in winter",
        pin("mould", view="section", side="inside", comes="cold_spells"),
        Surroundings(element="roof"),
        "air",
    ),
    (
        "stain on a ceiling after rain",
        pin("stain", view="section", side="inside", comes="after_rain"),
        Surroundings(element="roof"),
        "rain",
    ),
    (
        "drops behind a plastic sheet in a cooled cellar in August",
        pin("condensation", side="inside", comes="humid_heat", extent="whole", seen_on=date(2026, 8, 3)),
        Surroundings(inner_sheet=True, **FACE),
        "diffusion",
    ),
    (
        "even dampness of the whole outer sheet late in winter",
        pin("condensation", extent="whole", comes="cold_spells", seen_on=date(2026, 3, 1)),
        Surroundings(**FACE),
        "diffusion",
    ),
    (
        "mould in the corner of a bedroom",
        pin("mould", x=0.2, z=2.6, side="inside", comes="cold_spells"),
        Surroundings(**FACE),
        "cold_surface",
    ),
    (
        "mould on a reveal",
        pin("mould", x=5.3, z=2.0, side="inside"),
        Surroundings(**FACE, **WINDOW),
        "cold_surface",
    ),
    ("drops on the glass", pin("condensation", side="inside"), Surroundings(element="window", **FACE), "cold_surface"),
    (
        "damp everywhere a year after plastering",
        pin("damp_smell", side="inside", extent="whole", wet_work=True),
        Surroundings(**FACE),
        "built_in",
    ),
    (
        "a patch below the bath that never dries",
        pin("stain", side="inside", comes="always", pipes_near=True),
        Surroundings(**FACE),
        "plumbing",
    ),
    ("droppings in the shed", pin("animals"), Surroundings(element="roof"), "entry"),
    (
        "soft joist ends in the rain-side wall",
        pin(
            "soft_timber",
            z=2.8,
            side="inside",
            readings=Readings(wood=MeterReading(shown_percent=27, wood_temperature_c=12, species="pine")),
        ),
        Surroundings(rain_face=True, **FACE),
        "rain",
    ),
    (
        "greyed sheathing beside a window",
        pin("swollen_sheet", x=5.4, z=1.4),
        Surroundings(rain_face=True, **FACE, **WINDOW),
        "runoff",
    ),
    ("a soft post foot", pin("soft_timber", z=0.1), Surroundings(**FACE), "ground"),
]


class Reasoner(TestCase):
    def test_each_case_has_the_expected_mechanism_first(self) -> None:
        self.assertGreaterEqual(len(CASES), 20)
        for words, seen, around, expected in CASES:
            with self.subTest(words):
                found = proposals(facts_of(seen, around))
                self.assertTrue(found, "nothing proposed")
                self.assertEqual(found[0].mechanism, expected, [(p.mechanism, p.score, p.reasons) for p in found])
                if len(found) > 1:
                    self.assertGreater(found[0].score, found[1].score, "a tie is no answer")

    def test_reasons_are_those_of_the_clues_that_fit_and_add_up(self) -> None:
        facts = facts_of(pin("tide_mark", z=0.7, extent="band"), Surroundings(**FACE))
        best = proposals(facts)[0]
        clues = [c for c in rules().clues if c.mechanism == "ground" and c.fits(facts)]
        self.assertEqual(best.score, sum(c.weight for c in clues))
        self.assertIn("a tide mark shows how high the wall draws water", best.reasons)
        self.assertEqual(best.words, "points to")

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
        self.assertTrue(near(pin("stain", x=1).place, pin("mould", x=2.5).place))
        self.assertFalse(near(pin("stain", x=1).place, pin("mould", x=4).place))
        other = PinPlace(body="main", face="b", x_m=1, y_m=3)
        self.assertFalse(near(pin("stain", x=1).place, other))


class RemediesAndReadiness(TestCase):
    def test_remedies_come_in_the_order_of_the_work(self) -> None:
        order = [stage.id for stage in rules().stages]
        for _, seen, around, mechanism in CASES:
            facts = facts_of(seen, around)
            found = remedies(mechanism, facts)
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
        wrong: list[tuple[str, Any]] = [
            ("no fact", {"clues": [{**raw["clues"][0], "when": {"weather": ["wet"]}}]}),
            ("is never", {"clues": [{**raw["clues"][0], "when": {"side": ["above"]}}]}),
            ("names no mechanism", {"clues": [{**raw["clues"][0], "mechanism": "ghosts"}]}),
            ("kinds that are none", {"clues": [{**raw["clues"][0], "when": {"kind": ["ghosts"]}}]}),
            ("no remedy for", {"remedies": raw["remedies"][:3]}),
        ]
        for words, change in wrong:
            with self.subTest(words), self.assertRaisesRegex(ValidationError, words):
                Rules.model_validate({**raw, **change})

    def test_every_rule_stands_in_the_document(self) -> None:
        text = as_markdown() + schools()
        for clue in rules().clues:
            self.assertIn(clue.because, text)
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
        evidence=0, unexplained=0, ready=0, chosen=0,
    )  # fmt: skip

    def of(self, **changed: Any) -> dict[str, Step]:
        return {step.step: step for step in steps(replace(self.NOTHING, **changed))}

    def test_nothing_begun(self) -> None:
        found = self.of()
        self.assertEqual([step for step in found], ["house", "brief", "survey", "water", "options", "heat", "dossier"])
        self.assertEqual(found["survey"].missing.split(": ")[0], "missing")
        self.assertEqual(found["survey"].lacks[0], "shape")
        self.assertEqual((found["house"].done, found["water"].done, found["options"].done), (0.0, 0.0, 0.0))
        self.assertAlmostEqual(found["brief"].done, 9 / 11)

    def test_all_of_it(self) -> None:
        found = self.of(
            bodies=1, brief_missing=(), volume_stated=True, floor_area_stated=True, air_stated=True, elements=4,
            layered=2, blower_door=True, evidence=3, ready=4, chosen=2,
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
        found = self.of(**stated, elements=2, layered=2, not_stated=1, evidence=4, unexplained=4, chosen=2)
        self.assertAlmostEqual(found["survey"].done, (1 - 1 / 9) * 0.7)
        self.assertIn("the construction of 1 element; 4 of 4 pins", found["survey"].missing)
        self.assertEqual((found["heat"].done, found["heat"].missing), (0.5, "survey incomplete"))
        self.assertAlmostEqual(found["dossier"].done, (0.0 + 0.5 + 1.0) / 3)
        self.assertEqual(found["dossier"].lacks, ("4 of 4 signs not explained", "the construction of 1 element"))

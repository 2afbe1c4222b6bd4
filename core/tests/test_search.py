"""The search: which layer grows, every thickness with every membrane, and the answer in words."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from pydantic import ValidationError

from core.buildup.model import BuildUp, BuildUpLayer, Limits
from core.errors import OutOfRange
from core.search import SearchSettings, Tried, answer, grown_layer, usual_thicknesses, variants


def of(*rows: tuple[Any, ...]) -> BuildUp:
    return BuildUp(layers=[BuildUpLayer(id=r[0], material=r[1], thickness_mm=r[2]) for r in rows])


FOUND = of(("s", "brick_old", 330), ("p", "lime_plaster", 20))
LINED = of(
    ("s", "brick_old", 330),
    ("p", "lime_plaster", 20),
    ("w", "mineral_fibre_035", 80),
    ("m", "membrane_variable_medium", None),
    ("b", "gypsum_board", 12.5),
)
BONDED = of(
    ("s", "brick_old", 330), ("g", "lime_adhesive", 8), ("w", "wood_fibre_board", 60), ("f", "lime_plaster", 10)
)


def tried(
    index: int, mm: float, u: float | None, within: bool = True, fits: bool = True, membrane: str = "no membrane"
) -> Tried:
    return Tried(index, mm, membrane, u, within, fits)


class Field(TestCase):
    def test_the_new_insulation_that_resists_most_grows(self) -> None:
        self.assertEqual(grown_layer(FOUND, LINED).id, "w")
        both = of(("o", "wood_fibre_board", 100), ("s", "brick_old", 330), ("w", "mineral_fibre_035", 60))
        self.assertEqual(grown_layer(FOUND, both).id, "o")
        with self.assertRaisesRegex(OutOfRange, "brings no insulation"):
            grown_layer(FOUND, FOUND)

    def test_usual_steps(self) -> None:
        self.assertEqual(usual_thicknesses(LINED.layers[2]), [40, 60, 80, 100, 120, 150])
        thin = LINED.layers[2].model_copy(update={"thickness_mm": 25})
        steps = usual_thicknesses(thin)
        self.assertTrue(all(a < b for a, b in zip(steps, steps[1:], strict=False)) and steps[0] > 0)

    def test_every_thickness_with_every_membrane(self) -> None:
        found = variants(FOUND, LINED, SearchSettings(thicknesses=[60, 100]))
        self.assertEqual(len(found), 2 * 5)
        self.assertEqual(
            {(one.thickness_mm, one.membrane) for one in found if "medium" in one.membrane},
            {(60, "variable membrane, medium"), (100, "variable membrane, medium")},
        )
        for one in found:
            layer = next(layer for layer in one.build_up.layers if layer.id == "w")
            self.assertEqual(layer.thickness_mm, one.thickness_mm)
            BuildUp.model_validate(one.build_up.model_dump())
        alone = variants(FOUND, BONDED, SearchSettings(thicknesses=[40, 60], membranes=False))
        self.assertEqual([one.thickness_mm for one in alone], [40, 60])

    def test_what_cannot_be_searched(self) -> None:
        with self.assertRaisesRegex(OutOfRange, "no insulation “x”"):
            variants(FOUND, LINED, SearchSettings(thicknesses=[60], layer="x"))
        many = SearchSettings(thicknesses=[60]).model_copy(update={"thicknesses": [float(n) for n in range(1, 14)]})
        with self.assertRaisesRegex(OutOfRange, "60 are the most"):
            variants(FOUND, LINED, many)
        for wrong in ([], [0], [700]):
            with self.assertRaises(ValidationError):
                SearchSettings(thicknesses=wrong)


class Answer(TestCase):
    LIMITS = Limits(target_u_w_m2k=0.35)

    def test_the_least_that_meets_and_stays_within(self) -> None:
        field = [tried(0, 60, 0.42), tried(1, 80, 0.34), tried(2, 100, 0.29), tried(3, 60, 0.34, within=False)]
        self.assertEqual(
            answer(field, self.LIMITS, 4).metric,
            "80 mm with no membrane is the least of those tried that meets the target and stays within every limit, in the usual year.",
        )
        self.assertIn("2 of 6 runs are still to come", answer(field, self.LIMITS, 6).metric)
        self.assertIn("3.15 in", answer(field, self.LIMITS, 4).inch)

    def test_without_a_target_the_least_within(self) -> None:
        self.assertIn("60 mm", answer([tried(0, 60, 0.42), tried(1, 40, 0.5, within=False)], Limits(), 2).metric)

    def test_what_is_nearest_where_none_does(self) -> None:
        field = [tried(0, 40, 0.6), tried(1, 60, 0.5), tried(2, 100, 0.33, within=False)]
        words = answer(field, self.LIMITS, 3).metric
        self.assertIn("None meets U 0.35", words)
        self.assertIn("60 mm with no membrane reaches U 0.50", words)

    def test_none_within_and_none_that_fits(self) -> None:
        self.assertIn("it is not the thickness", answer([tried(0, 60, 0.3, within=False)], self.LIMITS, 1).metric)
        self.assertIn("does not fit", answer([tried(0, 60, 0.3, fits=False)], self.LIMITS, 1).metric)
        self.assertIn("No run", answer([], self.LIMITS, 3).metric)

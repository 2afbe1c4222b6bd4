"""The ledger adds up to the test, before and after, whatever is typed."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

from core.air_flow.ledger import GUESS, LeakPlace, LedgerLine, guess_of, joints, ledger
from core.buildup.model import BuildUp
from core.errors import OutOfRange
from core.survey.shape import Shape

WALL = LeakPlace("wall", "Wall", "plastered masonry", 100.0, 2.5, 0.0, False, "outside")
CEILING = LeakPlace("ceiling", "Ceiling", "plaster ceiling", 50.0, 5.0, None, True, "main/attic", ("large",))
WINDOW = LeakPlace("window", "Window", "old window", 10.0, 2.0, 0.0, False, "outside")
PLACES = [WALL, CEILING, WINDOW]


def line(key: str, **more: float) -> LedgerLine:
    return LedgerLine.model_validate({"key": key, **more})


class TheLedger(TestCase):
    def test_shares_by_hand(self) -> None:
        """1.5 × 100, 3 × 50 and 12 × 10 of what the large leak (8 %) leaves of 1000 m³/h."""
        found = {row.key: row for row in ledger(PLACES, [], 1000.0).rows}
        self.assertAlmostEqual(found["wall"].q50_before, 920.0 * 150.0 / 420.0, places=9)
        self.assertAlmostEqual(found["ceiling"].q50_before, 920.0 * 150.0 / 420.0 + 80.0, places=9)
        self.assertAlmostEqual(found["window"].q50_before, 920.0 * 120.0 / 420.0, places=9)
        self.assertIn("1 leak found", found["ceiling"].words)

    def test_it_adds_up_whatever_is_typed(self) -> None:
        for lines in (
            [],
            [line("wall", q50_m3_h=700.0)],
            [line("wall", q50_m3_h=0.0), line("flue", q50_m3_h=120.0, height_m=4.0)],
            [line("window", q50_m3_h=300.0, left=0.1), line("ceiling", left=0.5)],
        ):
            made = ledger(PLACES, lines, 1000.0, 400.0)
            self.assertAlmostEqual(sum(row.q50_before for row in made.rows), 1000.0, places=6)
            self.assertAlmostEqual(made.total_after, 400.0, places=6)
            self.assertTrue(all(0.0 <= row.q50_after <= row.q50_before + 1e-9 for row in made.rows))
        self.assertEqual(
            [row.name for row in ledger(PLACES, [line("flue", q50_m3_h=120.0)], 1000.0).rows][-1], "a leak"
        )

    def test_targets_that_hands_cannot_meet_are_told(self) -> None:
        kept = ledger(PLACES, [line("wall", left=1.0), line("ceiling", left=1.0)], 1000.0, 100.0)
        self.assertIn("more than the 100 m³/h aimed at", kept.words[0].metric)
        closed = ledger(PLACES, [line("wall", left=0.0), line("ceiling", left=0.0)], 1000.0, 900.0)
        self.assertIn("below the 900 m³/h", closed.words[0].metric)
        self.assertEqual(ledger(PLACES, [], 1000.0).total_after, 1000.0)

    def test_what_cannot_add_up_is_refused(self) -> None:
        with self.assertRaisesRegex(OutOfRange, "more than the 1000"):
            ledger(PLACES, [line("wall", q50_m3_h=1200.0)], 1000.0)
        with self.assertRaisesRegex(OutOfRange, "every leak is typed"):
            ledger(PLACES, [line(p.key, q50_m3_h=100.0) for p in PLACES], 1000.0)
        with self.assertRaises(OutOfRange):
            ledger(PLACES, [], 0.0)

    def test_guesses_by_make(self) -> None:
        def of(*layers: str, barrier: bool = False) -> BuildUp:
            return BuildUp.model_validate(
                {
                    "layers": [
                        {"id": str(i), "material": m, "thickness_mm": 100, "air_barrier": barrier and i == 0}
                        for i, m in enumerate(layers)
                    ]
                }
            )

        stone = of("sandstone_rubble", "lime_plaster")
        self.assertEqual(guess_of(stone, "wall", "outside", False), "plastered masonry")
        self.assertEqual(guess_of(of("sandstone_rubble"), "wall", "outside", False), "bare masonry")
        self.assertEqual(guess_of(of("softwood"), "wall", "outside", False), "boards")
        self.assertEqual(guess_of(of("softwood", barrier=True), "wall", "outside", False), "tight layer")
        self.assertEqual(guess_of(None, "window", "outside", True), "new window")
        self.assertEqual(guess_of(of("softwood"), "floor", "unheated", False), "board floor")
        self.assertEqual(guess_of(of("softwood"), "floor", "ground", False), "ground")
        self.assertEqual(
            guess_of(of("sandstone_rubble"), "wall", "ground", False), "ground", "earth lets no air through"
        )
        self.assertTrue(all(value > 0.0 for value, _ in GUESS.values()))


class Joints(TestCase):
    def test_lengths_of_a_gabled_house_and_of_two_bodies(self) -> None:
        body: dict[str, Any] = {
            "id": "main", "name": "House", "outline": [(0, 0), (10, 0), (10, 8), (0, 8)], "level_m": 0.5,
            "storeys": [{"name": "ground floor", "height_m": 2.6}, {"name": "upper floor", "height_m": 2.4}],
            "roof": {"form": "gable", "pitch_deg": 40.0, "room": True},
        }  # fmt: skip
        found = {place.guess: place for place in joints(Shape.model_validate({"areas": "external", "bodies": [body]}))}
        self.assertEqual(set(found), {"foot", "floor ends", "eaves", "verge"})
        self.assertAlmostEqual(found["foot"].length_m, 36.0)
        self.assertAlmostEqual(found["floor ends"].height_m, 3.1)
        self.assertAlmostEqual(found["verge"].length_m, 4 * 4.0 / math.cos(math.radians(40.0)), places=6)
        self.assertAlmostEqual(found["eaves"].weight, 3.0 * 36.0)
        wing = {**body, "id": "wing", "name": "Wing", "outline": [(10, 0), (14, 0), (14, 8), (10, 8)]}
        wing["roof"] = {"form": "flat"}
        both = joints(Shape.model_validate({"areas": "external", "bodies": [body, wing]}))
        self.assertAlmostEqual(next(p for p in both if p.key == "joint:main/foot").length_m, 28.0, delta=0.2)
        cold = joints(Shape.model_validate({"areas": "external", "bodies": [body, {**wing, "heated": False}]}))
        self.assertEqual({p.key.split("/")[0] for p in cold}, {"joint:main"})

    def test_a_ledger_with_joints_adds_up_as_well(self) -> None:
        wall = LeakPlace("w", "Wall", "plastered masonry", 100.0, 1.5, 0.0, False, "outside")
        eaves = LeakPlace("joint:m/eaves", "Eaves", "eaves", 0.0, 5.0, None, True, "outside", length_m=50.0)
        made = ledger([wall, eaves], [], 600.0, None)
        self.assertEqual([round(row.q50_before) for row in made.rows], [300, 300])
        self.assertIsNone(made.rows[1].before and made.rows[1].before.area_m2)
        typed = ledger([wall, eaves], [LedgerLine(key="joint:m/eaves", q50_m3_h=100.0, left=0.1)], 600.0, None)
        self.assertEqual([row.q50_after for row in typed.rows], [500.0, 10.0])

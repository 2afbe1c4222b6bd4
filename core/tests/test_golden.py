"""Figures move only when something is counted up that calls kept results out of date."""

from __future__ import annotations

import json
from typing import Any
from unittest import TestCase

from core.criteria.registry import CRITERIA
from core.moisture.transient.outcome import SOLVER
from core.tests import golden
from core.tests.golden import KEPT, moved

ANEW = "and write them anew with python -m core.tests.golden; the changelog says what moved."


class Golden(TestCase):
    kept: dict[str, Any]

    @classmethod
    def setUpClass(cls) -> None:
        cls.kept = json.loads(KEPT.read_text(encoding="utf-8"))

    def test_walls(self) -> None:
        found = golden.walls()
        self.assertEqual(list(found), list(golden.WALLS))
        self.assertEqual(self.kept["solver"], SOLVER, f"The solver was counted up: look at what moved {ANEW}")
        for name, figures in found.items():
            before = self.kept["walls"][name]
            with self.subTest(wall=name):
                self.assertEqual(len(figures["years"]), 8)
                self.assertEqual(
                    moved(before["years"], figures["years"]),
                    [],
                    f"Count SOLVER up in core/moisture/transient/outcome.py {ANEW}",
                )
                self.assertEqual(
                    moved(before["judged"], figures["judged"]),
                    [],
                    f"Count up the version of each criterion that moved, in its file {ANEW}",
                )

    def test_criteria_as_they_were_counted(self) -> None:
        self.assertEqual(
            self.kept["criteria"],
            {row.key: row.version for row in CRITERIA},
            f"A criterion was counted up: look at what moved {ANEW}",
        )

    def test_building(self) -> None:
        self.assertEqual(
            moved(self.kept["building"], golden.building()), [], f"The hourly year of a building moved: say so {ANEW}"
        )

    def test_two_rooms(self) -> None:
        self.assertEqual(
            moved(self.kept["rooms"], golden.rooms()), [], f"The humidity of two rooms moved: say so {ANEW}"
        )

    def test_this_test_can_fail(self) -> None:
        """A figure that moves by a thousandth, one that is gone and one that is new are told."""
        kept = {"a": 10.0, "b": 1.0}
        self.assertEqual(moved(kept, {"a": 10.001, "b": 1.0}), [])
        self.assertEqual(len(moved(kept, {"a": 10.01, "b": 1.0})), 1)
        self.assertEqual(len(moved(kept, {"a": 10.0, "c": 1.0})), 2)

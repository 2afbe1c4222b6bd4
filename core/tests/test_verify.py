"""Every benchmark of `verify` must pass, and a failing row must be seen as one."""

from __future__ import annotations

import math
from unittest import TestCase

from core.cases.compared import Row
from core.cases.verify import run


class Benchmarks(TestCase):
    def check(self, name: str, least: int) -> None:
        rows = run([name])
        self.assertGreaterEqual(len(rows), least)
        for row in rows:
            with self.subTest(case=row.case, quantity=row.quantity):
                self.assertTrue(
                    row.passed, f"{row.computed} against {row.reference}, error {row.error}, limit {row.limit}"
                )

    def test_en15026(self) -> None:
        self.check("en15026", 12)

    def test_drying(self) -> None:
        self.check("drying", 4)

    def test_conduction(self) -> None:
        self.check("conduction", 9)

    def test_steady(self) -> None:
        self.check("steady", 12)

    def test_mould(self) -> None:
        self.check("mould", 14)

    def test_hand_worked(self) -> None:
        self.check("hand", 6)

    def test_closure(self) -> None:
        self.check("closure", 2)

    def test_a_wrong_or_missing_number_fails(self) -> None:
        self.assertFalse(Row("c", "q", "K", 1.0, 2.0, 1.0, 0.05, "s").passed)
        self.assertFalse(Row("c", "q", "K", math.nan, 2.0, math.nan, 0.05, "s").passed)

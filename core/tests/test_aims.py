"""The client's aims against what is computed: met, missed by how much, or not known."""

from __future__ import annotations

from unittest import TestCase

from core.aims import budget_aim, heat_aim, tightness_aim
from core.brief import Brief, Targets

BRIEF = Brief(budget=100_000, currency="GBP", targets=Targets(n50_1_h=3.0, heat_kwh_m2a=70.0))


class Aims(TestCase):
    def test_none_is_said_where_none_is_stated(self) -> None:
        empty = Brief()
        self.assertEqual(
            [tightness_aim(empty, 9, 2), heat_aim(empty, 300, 60), budget_aim(empty, 1, 2, "GBP", 0)], [None] * 3
        )

    def test_tightness(self) -> None:
        met, missed, open_ = (
            tightness_aim(BRIEF, 9.0, 2.4),
            tightness_aim(BRIEF, None, 4.5),
            tightness_aim(BRIEF, 9.0, None),
        )
        assert met and missed and open_
        self.assertEqual((met.met, missed.met, open_.met), (True, False, None))
        self.assertEqual(met.words.metric, "The Brief asks for n50 3.0 1/h: as found 9.0, after 2.4, met.")
        self.assertIn("missed by 1.5", missed.words.metric)

    def test_heat_in_both_systems(self) -> None:
        missed, open_ = heat_aim(BRIEF, 310.0, 125.0), heat_aim(BRIEF, None, None)
        assert missed and open_
        self.assertEqual((missed.met, open_.met), (False, None))
        self.assertIn("missed by 55 kWh/m²a", missed.words.metric)
        self.assertNotIn("kWh/m²a", missed.words.inch)

    def test_money(self) -> None:
        cases = (
            ((60_000, 90_000, "GBP", 0), True, "within it."),
            ((60_000, 90_000, "GBP", 2), None, "2 choices not wholly priced, within it so far"),
            ((80_000, 130_000, "GBP", 0), None, "over it at the upper end"),
            ((120_000, 130_000, "GBP", 1), False, "over it by 20\N{NARROW NO-BREAK SPACE}000 at least"),
            ((60_000, 90_000, "EUR", 0), None, "nothing is converted"),
            ((0, 0, "", 3), None, "nothing chosen is priced"),
        )
        for (low, high, money, unpriced), met, words in cases:
            aim = budget_aim(BRIEF, low, high, money, unpriced)
            assert aim is not None
            with self.subTest(words):
                self.assertEqual(aim.met, met)
                self.assertIn(words, aim.words.metric)

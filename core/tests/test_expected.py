"""What must be said of sixty walls, none of them of the demo: see core/cases/expected.py and expected_more.py."""

from __future__ import annotations

from unittest import TestCase

from core.cases.expected import ROWS, expected


def wrong(first: int, last: int) -> list[str]:
    """Every check that does not hold, with its wall and the words said of it."""
    rows = list(expected(set(range(first, last + 1))))
    assert len(rows) == last - first + 1
    assert all(len(row.words) > 5 for row in rows)
    return [f"{row.number} {row.wall}: {what}; it says: {row.words}" for row in rows for what in row.failed]


class Comparison(TestCase):
    def test_ten_statements(self) -> None:
        self.assertEqual(wrong(1, 10), [])


class Criteria(TestCase):
    def test_eight_statements(self) -> None:
        self.assertEqual(wrong(11, 18), [])


class LeaksTrapsGroundEvidence(TestCase):
    def test_twenty_two_statements(self) -> None:
        self.assertEqual(wrong(19, len(ROWS)), [])
        self.assertEqual(len(ROWS), 40)


class AnatomyWaysAndWords(TestCase):
    def test_twenty_statements_more(self) -> None:
        self.assertEqual(wrong(41, 60), [])

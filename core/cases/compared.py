"""What is computed beside what it must be: the rows and pictures of `verify`."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np


@dataclass(frozen=True)
class Row:
    """error and limit are in the quantity's unit, or relative where relative is True."""

    case: str
    quantity: str
    unit: str
    computed: float
    reference: float
    error: float
    limit: float
    source: str
    relative: bool = False

    @property
    def passed(self) -> bool:
        return bool(self.error <= self.limit)  # False for NaN


@dataclass(frozen=True)
class Picture:
    """Computed and reference points (x, y) of one comparison, for the page that draws them."""

    title: str
    x: str
    y: str
    computed: list[tuple[float, float]]
    reference: list[tuple[float, float]]


Found = Row | Picture


def picture(title: str, x: str, y: str, at: Any, computed: Any, reference: Any) -> Picture:
    places = [float(value) for value in at]
    pairs = [list(zip(places, (float(v) for v in values), strict=True)) for values in (computed, reference)]
    return Picture(title, x, y, pairs[0], pairs[1])


def row_of(
    case: str,
    quantity: str,
    unit: str,
    computed: float,
    reference: float,
    limit: float,
    source: str,
    relative: bool = False,
) -> Row:
    error = abs(computed - reference) / (abs(reference) if relative else 1.0)
    return Row(case, quantity, unit, float(computed), float(reference), float(error), limit, source, relative)


def worst(
    case: str, quantity: str, unit: str, computed: list[float], reference: list[float], limit: float, source: str
) -> Row:
    """The row of the point with the largest difference."""
    a, b = np.asarray(computed), np.asarray(reference)
    at = int(np.abs(a - b).argmax())
    return row_of(case, quantity, unit, a[at], b[at], limit, source)

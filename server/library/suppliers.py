"""A supplier's list that is attached: whoever brings one says what it is called and what is on it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class Article:
    """One thing that can be had. material: the generic material it acts as; thicknesses [mm]; width, length of a piece [mm]; pieces in a
    pack; price a square metre at the first thickness; lead time [weeks]."""

    name: str
    material: str
    thicknesses_mm: tuple[float, ...]
    width_mm: float
    length_mm: float
    pack: int
    price_m2: float
    currency: str
    lead_weeks: float


@dataclass(frozen=True)
class Supplier:
    """name: as the screen shows it; articles: what is on the list today."""

    name: str
    articles: Callable[[], list[Article]]


_attached: list[Supplier] = []


def attach(supplier: Supplier) -> None:
    """The one supplier's list there is; the demo brings a simulated one."""
    _attached[:] = [supplier]


def attached() -> Supplier | None:
    return _attached[0] if _attached else None

"""What the years say of a way, as it is kept and shown."""

from __future__ import annotations

from typing import Literal

from core.case import Strict
from core.say import Said

Standing = Literal["stands", "stands only if", "does not stand", "cannot be run"]


class Stands(Strict):
    """What the years say of one way. mm: the thickness it is proposed with; least, most: that meets the target and stands, and the most
    that stands, of those that fit (None where none does). condition: what has to be true; because: what decides, with its driver.
    usual, bad, rain: the verdict of each year in words. margin: the largest share of a limit in the usual year, for the order.
    """

    state: Standing
    mm: float | None
    least_mm: float | None = None
    most_mm: float | None = None
    condition: Said | None = None
    because: Said
    usual: Said | None = None
    bad: Said | None = None
    rain: Said | None = None
    margin: float = 0.0
    runs: int = 0

"""What several pins draw together: a line at one height, a ring round an opening, both sides of one place."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

LINE, LINE_M, HEIGHT_M = 3, 2.0, 0.3  # so many at one height, that far apart, within so much of it
OVER, OVER_M, OVER_HIGH_M = 4, 3.0, 1.5  # so many, over so much of the width and the height
THROUGH_M = 1.0  # inside and outside no further apart are one place
ROUND_M, ROUND = 0.7, 2  # reach of an opening; so many signs there
FACES = 3
NO_WATER = frozenset({"animals", "nothing_found", "ghosting", "dust_marks", "old_holes", "cracks"})


@dataclass(frozen=True)
class Sign:
    """A sign of water on an elevation: its side, body and face, its place on the face and its height above the ground [m]."""

    kind: str
    side: str
    body: str
    face: str
    x_m: float
    y_m: float
    above_m: float


def patterns(one: Sign, others: Iterable[Sign], openings: Sequence[tuple[float, float, float, float]]) -> list[str]:
    """What `one` and the other signs draw together: values of the fact *pattern*, none where they draw nothing.

    openings of its face: left, bottom, width, height [m]. The order of the others does not matter.
    """
    if one.kind in NO_WATER:
        return ["none"]
    wet = [other for other in others if other.kind not in NO_WATER and other.body == one.body]
    same = [one, *(other for other in wet if (other.face, other.side) == (one.face, one.side))]
    found = []
    level = [sign for sign in same if abs(sign.y_m - one.y_m) <= HEIGHT_M]
    if len(level) >= LINE and _reach([sign.x_m for sign in level]) >= LINE_M:
        found.append("line")
    for opening in openings:
        if _at(one, opening) and sum(_at(sign, opening) for sign in same) >= ROUND:
            found.append("round opening")
            break
    wide, high = _reach([sign.x_m for sign in same]), _reach([sign.y_m for sign in same])
    if len(same) >= OVER and wide >= OVER_M and high >= OVER_HIGH_M:
        found.append("all over")
    through = [other for other in wet if other.face == one.face and other.side != one.side]
    if any(math.hypot(other.x_m - one.x_m, other.y_m - one.y_m) <= THROUGH_M for other in through):
        found.append("both sides")
    faces = {one.face} | {other.face for other in wet if abs(other.above_m - one.above_m) <= HEIGHT_M}
    if len(faces) >= FACES:
        found.append("all round")
    return found or ["none"]


def _reach(values: list[float]) -> float:
    return max(values) - min(values)


def _at(sign: Sign, opening: tuple[float, float, float, float]) -> bool:
    left, bottom, width, height = opening
    across = left - ROUND_M <= sign.x_m <= left + width + ROUND_M
    return across and bottom - ROUND_M <= sign.y_m <= bottom + height + ROUND_M

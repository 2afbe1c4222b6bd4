"""The leak ledger: what a blower door measured, shared over elements, joints and leaks that were found, so that it adds up to the test.

The first shares are guesses by kind, of ours; only their ratios count, since the test gives the sum. What is typed stays, the rest is scaled.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

from pydantic import Field
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from core.buildup.model import BuildUp, is_wooden
from core.case import Strict
from core.errors import OutOfRange
from core.materials.library import Solid
from core.say import Said, air_flow, say
from core.survey.line import Stands
from core.survey.planes import edges_of, elevation, outline_of, roof_planes
from core.survey.shape import Body, Shape

LeakSize = Literal["small", "medium", "large"]
# m³/(h m²) at 50 Pa: between published ranges of components, which spread by ten; the words stand beside each row.
GUESS: dict[str, tuple[float, str]] = {
    "plastered masonry": (1.5, "masonry with wet plaster"),
    "bare masonry": (4.0, "masonry without wet plaster inside"),
    "boards": (6.0, "frame, boards or logs without a tight layer"),
    "tight layer": (0.8, "a layer declared or made to be the air barrier"),
    "plaster ceiling": (3.0, "plaster on laths or boards, with its pipes and lights"),
    "board floor": (8.0, "boards over a space"),
    "ground": (0.3, "against the earth"),
    "old window": (12.0, "an old window, its sashes and frame"),
    "new window": (2.0, "a window with seals"),
    "door": (12.0, "a door"),
}
# m³/(h m) at 50 Pa along joints, between published figures, which spread as far; ours.
JOINT_GUESS: dict[str, tuple[float, str]] = {
    "eaves": (3.0, "the eaves, where wall and roof or ceiling meet"),
    "verge": (2.0, "the gable, where wall and roof meet"),
    "foot": (1.5, "the foot of the walls, where they meet the floor"),
    "floor ends": (1.5, "a floor let into the walls, with its beam ends"),
}
SLICE_M, MOST_SLICES = 2.5, 6  # of the height of a wall, for the air through it
FOUND_SHARE: dict[LeakSize, float] = {"small": 0.01, "medium": 0.03, "large": 0.08}  # of the whole test, ours


class LedgerLine(Strict):
    """What somebody stated of one row: its leakage at 50 Pa as found, its height, the share of it that is left after the works. name: of a row that is no
    element (a flue, a hatch, a joint)."""

    key: Annotated[str, Field(min_length=1, max_length=130)]
    name: Annotated[str, Field(max_length=120)] = ""
    q50_m3_h: Annotated[float, Field(ge=0, le=1e5)] | None = None
    height_m: Annotated[float, Field(ge=-50, le=150)] | None = None
    left: Annotated[float, Field(ge=0, le=1)] | None = None
    facing_deg: Annotated[float, Field(ge=0, lt=360)] | None = None
    over: bool = True


@dataclass(frozen=True)
class LeakPlace:
    """Where a row leaks in one state: height above the shape's zero, the face, and what it leaks to (outside, or the id of a cold space).

    length_m: of a joint; spread_m: how far it reaches upward, its middle at height_m. new: it is built with the works, so that the house's own test says
    nothing of it.
    """

    key: str
    name: str
    guess: str
    area_m2: float
    height_m: float
    facing_deg: float | None
    over: bool
    to: str
    found: tuple[LeakSize, ...] = ()
    length_m: float = 0.0
    spread_m: float = 0.0
    new: bool = False

    @property
    def size(self) -> float:
        """What its leakage goes with: m of a joint, m² of a face."""
        return self.length_m if self.guess in JOINT_GUESS else self.area_m2

    @property
    def weight(self) -> float:
        """What it leaks by the guess of its kind [m³/h at 50 Pa]."""
        if self.guess in JOINT_GUESS:
            return JOINT_GUESS[self.guess][0] * self.length_m
        return GUESS[self.guess][0] * self.area_m2 if self.guess else 0.0

    @property
    def words(self) -> str:
        return JOINT_GUESS[self.guess][1] if self.guess in JOINT_GUESS else GUESS[self.guess][1] if self.guess else ""


@dataclass(frozen=True)
class LeakAt:
    """A row in one state: where it leaks, and how much at 50 Pa [m³/h]."""

    height_m: float
    spread_m: float
    facing_deg: float | None
    over: bool
    to: str
    area_m2: float | None
    q50_m3_h: float

    @property
    def slices(self) -> list[float]:
        """Heights of the parts it is followed in, so that a wall of several storeys draws air in below and lets it out above."""
        count = min(max(round(self.spread_m / SLICE_M), 1), MOST_SLICES)
        low = self.height_m - 0.5 * self.spread_m
        return [low + self.spread_m * (at + 0.5) / count for at in range(count)]


@dataclass(frozen=True)
class LedgerRow:
    """One row. before, after: in the heated line as found and after the works, None where it is not in it. open_m3_h: what it would let through after them with nothing
    closed; share: of the test as found. typed: stated by somebody; left_typed: the share that stays. words: where it comes from.
    """

    key: str
    name: str
    before: LeakAt | None
    after: LeakAt | None
    open_m3_h: float
    share: float
    typed: bool
    left_typed: float | None
    words: str

    def at(self, after: bool) -> LeakAt | None:
        return self.after if after else self.before

    @property
    def stands(self) -> Stands:
        return "both" if self.before and self.after else "before" if self.before else "after"

    @property
    def q50_before(self) -> float:
        return self.before.q50_m3_h if self.before is not None else 0.0

    @property
    def q50_after(self) -> float:
        return self.after.q50_m3_h if self.after is not None else 0.0

    def letting(self, q50_m3_h: float) -> LedgerRow:
        """The same with so much left after the works."""
        return self if self.after is None else replace(self, after=replace(self.after, q50_m3_h=q50_m3_h))


@dataclass(frozen=True)
class Ledger:
    """rows add up to the tests. total_open: after the works with nothing closed; words: where what is aimed at is not met by what is typed."""

    rows: list[LedgerRow]
    total_before: float
    total_open: float
    total_after: float
    words: list[Said]


def guess_of(build_up: BuildUp | None, kind: str, adjoining: str, new_glass: bool) -> str:
    """The row of GUESS for an element as found."""
    if kind == "window":
        return "new window" if new_glass else "old window"
    if kind == "door":
        return "door"
    if adjoining == "ground":
        return "ground"
    layers = build_up.layers if build_up is not None else []
    if any(layer.air_barrier for layer in layers):
        return "tight layer"
    wet = any(isinstance(layer.entry, Solid) and layer.entry.group == "plaster" for layer in layers[len(layers) // 2 :])
    if kind == "floor":
        return "board floor"
    if kind == "roof":
        return "plaster ceiling" if wet else "boards"
    stone = any(isinstance(layer.entry, Solid) and layer.entry.group == "masonry" for layer in layers)
    if stone:
        return "plastered masonry" if wet else "bare masonry"
    if any(is_wooden(layer) for layer in layers):
        return "boards"
    return "bare masonry"


def ledger(
    places: list[LeakPlace],
    lines: list[LedgerLine],
    total_m3_h: float,
    target_m3_h: float | None = None,
    later: list[LeakPlace] | None = None,
) -> Ledger:
    """Rows that add up to the test as found, and to the target after the works.

    later: where the line after the works leaks, None where it stays. What is in both goes with its size; what comes in leaks by the guess of its kind, as this house
    does by its test, or as it is guessed where it is built new. Raises OutOfRange where what is typed is more than the test, or nothing is left to share the rest over.
    """
    if total_m3_h <= 0.0:
        raise OutOfRange("the leakage of the whole building is above 0", "add a blower-door test, or type n50")
    stated = {line.key: line for line in lines}
    then = {place.key: place for place in (places if later is None else later)}
    known = {place.key for place in places}
    extra = [
        LeakPlace(line.key, line.name or "a leak", "", 0.0, line.height_m or 0.0, line.facing_deg, line.over, "outside")
        for line in lines
        if line.key not in known and line.key not in then and line.q50_m3_h is not None
    ]
    then |= {place.key: place for place in extra}
    weights: dict[str, float] = {}
    found_sum = sum(FOUND_SHARE[size] for place in places for size in place.found)
    scale = (
        min(1.0, 0.9 / found_sum) if found_sum else 1.0
    )  # what the found leaks take at most leaves a tenth to the rest
    bulk = sum(place.weight for place in places)
    for place in [*places, *extra]:
        base = place.weight / bulk * (1.0 - found_sum * scale) if bulk else 0.0
        weights[place.key] = base + sum(FOUND_SHARE[size] for size in place.found) * scale
    typed = {key: line.q50_m3_h for key, line in stated.items() if line.q50_m3_h is not None}
    typed_sum = sum(value for key, value in typed.items() if key in weights)
    rest = total_m3_h - typed_sum
    free = sum(weight for key, weight in weights.items() if key not in typed)
    if rest < -1e-9:
        raise OutOfRange(
            f"the leaks typed add up to {typed_sum:.0f} m³/h at 50 Pa, more than the {total_m3_h:.0f} m³/h of the test",
            "lower one of them",
        )
    if rest > 1e-6 and free <= 0.0:
        raise OutOfRange(
            f"every leak is typed, and they add up to {typed_sum:.0f} m³/h of {total_m3_h:.0f} m³/h", "leave one open"
        )
    as_tested = rest / free * (1.0 - found_sum * scale) / bulk if free > 0.0 and bulk > 0.0 else 1.0
    rows = []
    for place in [*places, *extra]:
        q50 = typed[place.key] if place.key in typed else rest * weights[place.key] / free
        after = then.pop(place.key, None)
        grown = after.size / place.size if after is not None and place.size > 0.0 else 1.0
        words = "typed" if place.key in typed else place.words
        if place.found and place.key not in typed:
            words += f"; {len(place.found)} leak{'s' if len(place.found) > 1 else ''} found there"
        rows.append(_row(place, after, q50, q50 * grown, total_m3_h, stated.get(place.key), words))
    for place in then.values():
        own = typed.get(place.key)
        q50 = own if own is not None else place.weight * (1.0 if place.new else as_tested)
        whence = "built new, by its kind alone" if place.new else "as this house leaks by its test"
        words = "typed" if own is not None else f"{place.words}; {whence}"
        rows.append(_row(None, place, 0.0, q50, total_m3_h, stated.get(place.key), words))
    return aimed_at(rows, total_m3_h, target_m3_h)


def _row(
    before: LeakPlace | None,
    after: LeakPlace | None,
    q50: float,
    q50_open: float,
    total: float,
    line: LedgerLine | None,
    words: str,
) -> LedgerRow:
    any_place = before or after
    assert any_place is not None
    return LedgerRow(
        any_place.key,
        any_place.name,
        _at(before, line, q50),
        _at(after, line, q50_open),
        q50_open if after is not None else 0.0,
        q50 / total,
        line is not None and line.q50_m3_h is not None,
        line.left if line is not None else None,
        words,
    )


def _at(place: LeakPlace | None, line: LedgerLine | None, q50: float) -> LeakAt | None:
    if place is None:
        return None
    height, spread = place.height_m, place.spread_m
    if line is not None and line.height_m is not None:
        height, spread = line.height_m, 0.0
    return LeakAt(height, spread, place.facing_deg, place.over, place.to, place.area_m2 or None, q50)


def aimed_at(rows: list[LedgerRow], total: float, target: float | None) -> Ledger:
    """What is left is typed, or so much of every other row that the whole meets the target."""
    fixed = sum(row.open_m3_h * row.left_typed for row in rows if row.left_typed is not None)
    free = sum(row.open_m3_h for row in rows if row.left_typed is None)
    words: list[Said] = []
    left = 1.0
    if target is not None and free > 0.0:
        left = (target - fixed) / free
        if left < 0.0:
            words.append(
                say(
                    "what stays by hand is {kept} at 50 Pa already, more than the {aim} aimed at; close more of it",
                    kept=air_flow(fixed),
                    aim=air_flow(target),
                )  # fmt: skip
            )
            left = 0.0
        elif left > 1.0:
            words.append(
                say(
                    "with nothing more closed than by hand it comes to {now} at 50 Pa, below the {aim} aimed at",
                    now=air_flow(fixed + free),
                    aim=air_flow(target),
                )  # fmt: skip
            )
            left = 1.0
    after = [row.letting(row.open_m3_h * (left if row.left_typed is None else row.left_typed)) for row in rows]
    return Ledger(
        after,
        total,
        sum(row.open_m3_h for row in rows),
        sum(row.q50_after for row in after),
        words,
    )


def joints(shape: Shape) -> list[LeakPlace]:
    """The joints of the heated parts that leak: eaves, gables, the foot of the walls, floors let into them; lengths of the outline outside of others."""
    found: list[LeakPlace] = []
    for body in (one for one in shape.bodies if one.heated):
        length = _outer_length(shape, body)
        if length < 0.1:
            continue
        level = body.level_m
        found.append(_joint(body, "foot", f"Foot of the walls, {body.name}", length, level, False))
        for storey in body.storeys[:-1]:
            level += storey.height_m
            name = f"Floor ends under {body.storeys[body.storeys.index(storey) + 1].name}, {body.name}"
            found.append(_joint(body, f"floor ends/{level:.2f}", name, length, level, False))
        warm_roof = body.roof.room and body.roof.form != "flat"
        found.append(_joint(body, "eaves", f"Eaves, {body.name}", length, body.eaves_m, True))
        if warm_roof:
            slopes = _verge_length(shape, body)
            if slopes > 0.1:
                found.append(
                    _joint(body, "verge", f"Gables at the roof, {body.name}", slopes, body.eaves_m + 1.5, True)
                )
    return found


def _joint(body: Body, kind: str, name: str, length: float, height: float, over: bool) -> LeakPlace:
    return LeakPlace(
        f"joint:{body.id}/{kind}", name, kind.split("/")[0], 0.0, round(height, 2), None, over, "outside", length_m=length
    )  # fmt: skip


def _outer_length(shape: Shape, body: Body) -> float:
    """Of the outline that no other heated body stands against [m]."""
    outline = Polygon(outline_of(shape, body, "external"))
    others = [
        Polygon(outline_of(shape, other, "external")).buffer(0.05)
        for other in shape.bodies
        if other is not body and other.heated
    ]
    edge: BaseGeometry = outline.exterior
    for other in others:
        edge = edge.difference(other)
    return float(edge.length)


def _verge_length(shape: Shape, body: Body) -> float:
    """Of roof edges that rise along gables [m]: what the elevations' tops are longer than their eaves."""
    outline = outline_of(shape, body, "external")
    planes = roof_planes(body, outline)
    total = 0.0
    for edge in edges_of(outline):
        top = elevation(edge, planes, body.eaves_m)
        if top.area > 0.05:
            total += top.length - edge.length
    return total

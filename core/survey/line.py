"""Where the heated line runs: as found, and in a scheme as changes of the shape as found.

A scheme keeps only what it changes, so that a correction of the survey goes through to it. What lies outside of the line as
found (roof slopes over a cold attic, the walls of a cellar) is an element that begins, or ends, with the works.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Annotated, Literal

from pydantic import Field, ValidationError

from core.case import Strict, describe_problems
from core.errors import CoreError, OutOfRange
from core.survey.geometry import Building, Derived, derive
from core.survey.shape import Below, Body, Id, Opening, Shape

Space = Literal["attic", "below", "body"]
Stands = Literal["both", "before", "after"]
INTO: dict[Below, Below] = {"void": "heated_cellar", "cellar": "heated_cellar"}


class Move(Strict):
    """One space taken into the heated line, or out of it: the attic, what lies below, or a whole body."""

    body: Id
    space: Space
    inside: bool


class Changes(Strict):
    """What a scheme changes of the shape as found.

    bodies: new ones, or one that is there, drawn differently; removed: bodies pulled down. openings: new ones, or one that is
    there, made differently; closed: those walled up.
    """

    moves: Annotated[list[Move], Field(max_length=40)] = []
    bodies: Annotated[list[Body], Field(max_length=12)] = []
    removed: Annotated[list[Id], Field(max_length=12)] = []
    openings: Annotated[list[Opening], Field(max_length=400)] = []
    closed: Annotated[list[Id], Field(max_length=400)] = []

    @property
    def nothing(self) -> bool:
        return not (self.moves or self.bodies or self.removed or self.openings or self.closed)


@dataclass(frozen=True)
class LineSpace:
    """One space that the line can take in or leave out, as it is in a shape. why_not: why it cannot be moved here; else ""."""

    body: str
    body_name: str
    space: Space
    name: str
    inside: bool
    why_not: str


def spaces(shape: Shape) -> list[LineSpace]:
    """Every space beside the rooms that are always heated, body by body."""
    found = []
    for body in shape.bodies:
        alone = sum(one.heated for one in shape.bodies) < 2
        why = "it is the only part that is heated" if body.heated and alone else ""
        found.append(LineSpace(body.id, body.name, "body", body.name, body.heated, why))
        cold = "" if body.heated else f"“{body.name}” is not heated"
        if body.roof.form != "flat":
            found.append(LineSpace(body.id, body.name, "attic", f"attic of {body.name}", body.roof.room, cold))
        if body.below in ("void", "cellar", "heated_cellar"):
            what = "void under" if body.below == "void" else "cellar of"
            found.append(
                LineSpace(body.id, body.name, "below", f"{what} {body.name}", body.below == "heated_cellar", cold)
            )
    return found


def _moved(body: Body, move: Move, found: Body) -> Body:
    if move.space == "body":
        return body.model_copy(update={"heated": move.inside})
    if move.space == "attic":
        if body.roof.form == "flat":
            raise OutOfRange(f"“{body.name}” has a flat roof and no attic", "moves")
        return body.model_copy(update={"roof": body.roof.model_copy(update={"room": move.inside})})
    if move.inside:
        return body.model_copy(update={"below": INTO.get(body.below, body.below)})
    return body.model_copy(update={"below": found.below if found.below in INTO else "cellar"})


def with_changes(shape: Shape, changes: Changes) -> tuple[Shape, list[str]]:
    """(the shape of a scheme, what of the changes has no place any more, in words). Raises OutOfRange where they do not fit."""
    if changes.nothing:
        return shape, []
    lost: list[str] = []
    found = {body.id: body for body in shape.bodies}
    bodies = {key: body for key, body in found.items() if key not in changes.removed}
    bodies |= {body.id: body for body in changes.bodies}
    for move in changes.moves:
        if move.body not in bodies:
            lost.append(f"the {move.space} of a part that is gone from the shape")
            continue
        body = bodies[move.body]
        bodies[move.body] = _moved(body, move, found.get(move.body, body))
    openings = {one.id: one for one in shape.openings if one.id not in changes.closed}
    openings |= {one.id: one for one in changes.openings}
    kept = []
    for opening in openings.values():
        if opening.body in bodies and opening.face in bodies[opening.body].faces:
            kept.append(opening)
        elif opening.body not in changes.removed:
            lost.append(f"“{opening.name}”: its wall is gone from the shape")
    parts = [one for one in shape.parts if one.body in bodies and one.face in bodies[one.body].faces]
    values = shape.model_dump()
    values |= {
        "bodies": [one.model_dump() for one in bodies.values()],
        "openings": [one.model_dump() for one in kept],
        "parts": [one.model_dump() for one in parts],
    }
    try:
        return Shape.model_validate(values), lost
    except ValidationError as error:
        raise OutOfRange(describe_problems(error), "changes") from error


def changes_between(found: Shape, drawn: Shape) -> Changes:
    """What a scheme changes, from its whole shape as somebody drew it; what is as found is left out."""
    before, after = ({body.id: body for body in one.bodies} for one in (found, drawn))
    moves: list[Move] = []
    bodies: list[Body] = []
    for key, body in after.items():
        was = before.get(key)
        if was is None:
            bodies.append(body)
            continue
        mine = [
            Move(body=key, space=one.space, inside=one.inside)
            for one in spaces(drawn)
            if one.body == key and any(o.space == one.space and o.body == key and o.inside != one.inside for o in spaces(found))
        ]  # fmt: skip
        same = was
        try:
            for move in mine:
                same = _moved(same, move, was)
        except OutOfRange:
            same = was
        if same == body:
            moves += mine
        else:
            bodies.append(body)
    opened = {one.id: one for one in found.openings}
    return Changes(
        moves=moves,
        bodies=bodies,
        removed=[key for key in before if key not in after],
        openings=[one for one in drawn.openings if opened.get(one.id) != one],
        closed=[key for key in opened if key not in {one.id for one in drawn.openings}],
    )


@dataclass(frozen=True)
class Geometries:
    """Both buildings. after: entries by key; one that borders on something else than it did as found has a key of its own."""

    found: Building
    after: Building
    lost: tuple[str, ...] = ()

    def stands(self, key: str) -> Stands | None:
        """Whether an element belongs to the heated line before, after, or both; None where neither has it."""
        before, after = key in self.before_by_key, key in self.after_by_key
        return "both" if before and after else "before" if before else "after" if after else None

    @property
    def before_by_key(self) -> dict[str, Derived]:
        return {entry.key: entry for entry in self.found.elements}

    def key_after(self, key: str) -> str:
        """The key of the element that stands at a place of the shape after the works."""
        after = self.after_by_key
        for adjoining in ("outside", "ground", "unheated", "heated"):
            if f"{key}/{adjoining}" in after and key in self.before_by_key:
                return f"{key}/{adjoining}"
        return key

    @property
    def after_by_key(self) -> dict[str, Derived]:
        return {entry.key: entry for entry in self.after.elements}


def _apart(found: Building, after: Building) -> Building:
    """The building after, with other keys for what shares its place with something that bordered on something else."""
    borders = {entry.key: entry.adjoining for entry in found.elements}
    named = [
        replace(entry, key=f"{entry.key}/{entry.adjoining}")
        if borders.get(entry.key, entry.adjoining) != entry.adjoining
        else entry
        for entry in after.elements
    ]
    return replace(after, elements=named)


@lru_cache(maxsize=64)
def _geometries(found_json: str, changes_json: str) -> Geometries:
    found = Shape.model_validate_json(found_json)
    shape, lost = with_changes(found, Changes.model_validate_json(changes_json))
    before = derive(found)
    return Geometries(before, before if shape is found else _apart(before, derive(shape)), tuple(lost))


def geometries(found: Shape, changes: Changes) -> Geometries:
    """Both geometries of a scheme. Raises CoreError where one of them does not close."""
    return _geometries(found.model_dump_json(), changes.model_dump_json())


def moved_words(found: Shape, changes: Changes) -> list[str]:
    """What a scheme changes of the line, in words."""
    try:
        after, _ = with_changes(found, changes)
    except CoreError as error:
        return [error.message]
    before = {(one.body, one.space): one for one in spaces(found)}
    words = []
    for one in spaces(after):
        was = before.get((one.body, one.space))
        if was is None:
            words += [f"{one.name}: new"] if one.space == "body" else []
        elif was.inside != one.inside:
            words.append(f"{was.name}: {'taken in' if one.inside else 'left out'}")
    here = {body.id for body in after.bodies}
    words += [f"{body.name}: pulled down" for body in found.bodies if body.id not in here]
    opened = {one.id: one for one in found.openings}
    words += [f"{one.name}: {'made differently' if one.id in opened else 'new'}" for one in changes.openings]
    words += [f"{opened[key].name}: closed" for key in changes.closed if key in opened]
    return words

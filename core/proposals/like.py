"""Which way of the rules an option is built like, so that what the rules know of it can be said beside it."""

from __future__ import annotations

from dataclasses import dataclass

from core.buildup.anatomy import Anatomy
from core.buildup.growth import growth
from core.buildup.make import Make
from core.buildup.model import BuildUp, Place, brought
from core.materials.library import AirLayer, entry_of
from core.proposals.rules import Way, rules
from core.say import Said, read_quantities

ALIKE = 0.45  # of the materials and families that either has; below it an option is like none
MOVED_M = 0.005


@dataclass(frozen=True)
class Built:
    """What the rules say of the way an option is built like."""

    way: str
    name: str
    reversible: Said
    takes: Said
    while_open: Said
    animals: Said
    later: Said


def built_like(as_found: BuildUp, option: BuildUp, place: Place) -> Built | None:
    """The way with most of the same materials on the same side, for this make; None where none is like it."""
    way = way_like(as_found, option, place)
    if way is None:
        return None
    words = {
        name: read_quantities(getattr(way, name)) for name in ("reversible", "takes", "while_open", "animals", "later")
    }
    return Built(way=way.id, name=way.name, **words)


def way_like(as_found: BuildUp, option: BuildUp, place: Place) -> Way | None:
    if not as_found.is_stated or not option.is_stated:
        return None
    new = {layer.material for layer in brought(as_found, option) if not isinstance(layer.entry, AirLayer)}
    if not new:
        return None
    out, room = growth(as_found, option, place)
    sides = {"outside": out > MOVED_M, "inside": room > MOVED_M}
    make = Make(Anatomy(as_found, place)).kind
    best: tuple[float, Way | None] = (ALIKE, None)
    for way in rules().ways:
        if way.never or make not in way.makes:
            continue
        if sides.get(way.side, True) or not any(sides.values()):
            score = _alike(new, _materials(way))
            if score > best[0]:
                best = score, way
    return best[1]


def _materials(way: Way) -> set[str]:
    layers = [*way.outside, *way.under_covering, *way.inside]
    found = {one.material for one in layers if not isinstance(entry_of(one.material), AirLayer)}
    return found | ({way.fill.material} if way.fill is not None else set())


def _alike(first: set[str], second: set[str]) -> float:
    """Half by material, half by family; 0 to 1."""
    families = [{entry_of(one).family for one in each} for each in (first, second)]
    return 0.5 * _share(first, second) + 0.5 * _share(*families)


def _share(first: set[str], second: set[str]) -> float:
    return len(first & second) / max(len(first | second), 1)

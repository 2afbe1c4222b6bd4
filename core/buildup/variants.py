"""One build-up with every choice of inner membrane, for a look side by side."""

from __future__ import annotations

from core.buildup.model import BuildUp, BuildUpLayer
from core.errors import OutOfRange
from core.materials.library import Sheet, entry_of

# From none through variable to tight, in the order they are shown.
MEMBRANES: tuple[str | None, ...] = (
    None,
    "membrane_variable_weak",
    "membrane_variable_medium",
    "membrane_variable_strong",
    "membrane_tight",
)


def membrane_variants(build_up: BuildUp) -> list[tuple[str, BuildUp]]:
    """(what is different, build-up) for every membrane but the one that is there.

    The membrane lies on the room side of the innermost insulation; one that is there is replaced.
    Raises OutOfRange without insulation, or where nothing closes it toward the room.
    """
    layers = list(build_up.layers)
    insulation = [index for index, layer in enumerate(layers) if layer.entry.group == "insulation"]
    if not insulation:
        raise OutOfRange("there is no insulation to put a membrane before", "add the insulation first")
    place = insulation[-1] + 1
    there: str | None = None
    if place < len(layers) and isinstance(layers[place].entry, Sheet) and place + 1 < len(layers):
        there = layers.pop(place).material
    if place >= len(layers):
        raise OutOfRange("nothing closes the insulation toward the room", "add a lining first")
    ids = {layer.id for layer in layers}
    own = next(f"membrane{n or ''}" for n in range(len(ids) + 1) if f"membrane{n or ''}" not in ids)
    found = []
    for material in MEMBRANES:
        if material == there:
            continue
        sheet = [] if material is None else [BuildUpLayer(id=own, material=material)]
        words = "no membrane" if material is None else entry_of(material).name
        found.append((words, build_up.model_copy(update={"layers": [*layers[:place], *sheet, *layers[place:]]})))
    return found

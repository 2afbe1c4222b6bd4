"""About which face an element grows: the datum, and what an option takes of the room and of the space outside."""

from __future__ import annotations

from core.buildup.anatomy import Anatomy
from core.buildup.model import BuildUp, BuildUpLayer, Place, bears, is_insulation
from core.materials.library import Solid
from core.say import Said, say


def datum_layer(as_found: BuildUp, place: Place) -> BuildUpLayer:
    """The layer whose inner face is the datum: the outermost existing one that bears or sheathes.

    Without one the outermost that sheds the weather; never an insulation, a sheet or a finish where anything else is
    there. A covering that is taken off and laid again is no datum while boards lie under it; battens bear nothing.
    """
    anatomy = Anatomy(as_found, place)
    solid = [layer for layer in as_found.layers if isinstance(layer.entry, Solid) or layer.framing is not None]
    existing = [layer for layer in solid if layer.existing] or solid or list(as_found.layers)
    for chosen in (
        [layer for layer in existing if anatomy.is_part_of_the_house(as_found.index(layer.id))],
        [layer for layer in existing if bears(layer) or layer.framing is not None],
        [layer for layer in existing if isinstance(layer.entry, Solid) and layer.entry.weather != "must be covered"],
        [layer for layer in existing if not is_insulation(layer)],
    ):
        if chosen:
            return chosen[0]
    return existing[0]


def growth(as_found: BuildUp, option: BuildUp, place: Place) -> tuple[float, float]:
    """(growth outside, room lost) of an option [m], both from the as-found finish.

    Negative when the option is thinner on that side. Measured about the datum layer when the option
    still has it (under its own id, or found again by `aligned`), else all of the difference counts to the room.
    """
    option = aligned(as_found, option)
    datum = datum_layer(as_found, place).id

    def split(build_up: BuildUp) -> tuple[float, float] | None:
        position = 0.0
        for layer in build_up.layers:
            position += layer.thickness
            if layer.id == datum:
                return position, build_up.thickness - position
        return None

    found, new = split(as_found), split(option)
    if found is None or new is None:
        return 0.0, option.thickness - as_found.thickness
    return new[0] - found[0], new[1] - found[1]


def _again(as_found: BuildUp, option: BuildUp) -> dict[str, str]:
    """Layers of an option that are there as found under another id: option's id → the id as found, by material and order.

    Between two layers that both have under one id, those that say they exist and are of the same material, in their order.
    """
    ids = {layer.id for layer in as_found.layers}
    left = [
        layer
        for layer in as_found.layers
        if all(o.id != layer.id or o.material != layer.material for o in option.layers)
    ]
    found: dict[str, str] = {}
    at = 0
    for layer in option.layers:
        if layer.id in ids or not layer.existing:
            continue
        for place in range(at, len(left)):
            if left[place].material == layer.material:
                found[layer.id] = left[place].id
                at = place + 1
                break
    return found


def aligned(as_found: BuildUp, option: BuildUp) -> BuildUp:
    """The option with every layer that stays under the id that it has as found, so that what stays is known as the same.

    An id is what growth, the start of the years and *new* go by; a file from elsewhere may name the same stone twice.
    """
    new_id = _again(as_found, option)
    if not new_id:
        return option
    taken = {layer.id for layer in option.layers} - set(new_id)
    new_id = {old: new for old, new in new_id.items() if new not in taken}
    layers = [layer.model_copy(update={"id": new_id.get(layer.id, layer.id)}) for layer in option.layers]
    leaks = {
        name: leak.model_copy(update={"after_layer": new_id.get(leak.after_layer or "", leak.after_layer)})
        for name, leak in (("air_leak", option.air_leak), ("rain_leak", option.rain_leak))
    }
    return option.model_copy(update={"layers": layers, **leaks})


def matched_words(as_found: BuildUp, option: BuildUp) -> list[Said]:
    """That layers were found again by material and order."""
    names = {layer.id: layer.entry.name for layer in as_found.layers}
    return [
        say("{name} has another id here than as found; it is taken for the same layer.", name=names[new]).capitalised()
        for new in _again(as_found, option).values()
    ]


def comes_off(as_found: BuildUp, build_up: BuildUp) -> list[BuildUpLayer]:
    """Layers as found that are not in an option: what is taken off or out, drawn as removed. A bay that is filled stays."""
    there = {layer.id for layer in build_up.layers}
    return [layer for layer in as_found.layers if layer.id not in there and layer.entry.group != "air"]

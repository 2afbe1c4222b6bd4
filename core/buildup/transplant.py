"""The same option on another element: its new layers on what was found there."""

from __future__ import annotations

from core.buildup.model import BuildUp, BuildUpLayer
from core.errors import OutOfRange


def transplant(found: BuildUp, option: BuildUp, other: BuildUp) -> BuildUp:
    """What the option does to `found`, done to `other`.

    Layers of the same materials in the same order are taken one for one, each with the thickness it has there. Otherwise the option must
    keep all that was found, so that what is new outside and inside can stand on another construction. Raises OutOfRange where neither is so.
    """
    if not other.is_stated:
        raise OutOfRange("its layers are not stated")
    alike = [layer.material for layer in found.layers] == [layer.material for layer in other.layers]
    new_id = {a.id: b.id for a, b in zip(found.layers, other.layers, strict=False)} if alike else {}
    layers = _one_for_one(found, option, other) if alike else _around(found, option, other)
    ids = [layer.id for layer in layers]
    if len(set(ids)) != len(ids):
        raise OutOfRange("two of its layers would have one name")

    def there(place: str | None) -> str | None:
        """Where a leak goes to; None where that layer is not there."""
        name = new_id.get(place or "", place)
        return name if name in ids else None

    air, rain = option.air_leak, option.rain_leak
    return BuildUp(
        layers=layers,
        air_leak=air.model_copy(update={"after_layer": there(air.after_layer)}),
        rain_leak=rain.model_copy(update={"after_layer": there(rain.after_layer)}),
    )


def _one_for_one(found: BuildUp, option: BuildUp, other: BuildUp) -> list[BuildUpLayer]:
    before = {layer.id: layer for layer in found.layers}
    there = {a.id: b for a, b in zip(found.layers, other.layers, strict=True)}
    taken = {layer.id for layer in other.layers}
    layers = []
    for layer in option.layers:
        old = before.get(layer.id)
        if old is None:
            layers.append(layer.model_copy(update={"id": _free(layer.id, taken)}))
        elif layer == old:
            layers.append(there[layer.id])  # untouched: as it is there
        else:
            kept = there[layer.id]
            mm = kept.thickness_mm if layer.thickness_mm == old.thickness_mm else layer.thickness_mm
            layers.append(layer.model_copy(update={"id": kept.id, "thickness_mm": mm}))
    return layers


def _around(found: BuildUp, option: BuildUp, other: BuildUp) -> list[BuildUpLayer]:
    old = {layer.id for layer in found.layers}
    places = [index for index, layer in enumerate(option.layers) if layer.id in old]
    kept = [option.layers[index] for index in places]
    if kept != found.layers or places != list(range(places[0], places[0] + len(places))):
        raise OutOfRange("it is made otherwise, and the option changes what was found")
    taken = {layer.id for layer in other.layers}
    new = [layer.model_copy(update={"id": _free(layer.id, taken)}) for layer in option.layers if layer.id not in old]
    return [*new[: places[0]], *other.layers, *new[places[0] :]]


def _free(layer_id: str, taken: set[str]) -> str:
    """An id that is not taken there, the same where it can be; it is taken from then on."""
    name = layer_id
    number = 2
    while name in taken:
        name, number = f"{layer_id[:36]}-{number}", number + 1
    taken.add(name)
    return name

"""What differs between two build-ups, and between two places, in sentences: what changed since a run."""

from __future__ import annotations

from core.buildup.model import INDOOR_WORDS, BuildUp, BuildUpLayer, Place
from core.climate.data import shipped
from core.say import Said, said, say, thickness

# Fields of a layer that are told by their words alone.
OTHERWISE = {
    "framing": "its members",
    "product": "how it is built in",
    "start_rh": "its water at the start",
    "frost_proof": "that its stone stands frost",
    "metal": "the metal in it",
    "sheds_water": "that it sheds the water",
    "uneven": "how flat it is",
    "meets": "what it meets",
    "air_barrier": "that it is the air barrier",
    "role": "what it is",
    "goes_round": "whether the room's air gets into it",
    "fixings": "its fixings",
    "gaps": "its gaps",
    "inverted": "the rain under it",
    "a_value_kg_m2s05": "its measured uptake",
    "absorptance": "its colour",
}
PLACE_WORDS = {
    "kind": "what it is",
    "adjoining": "what it adjoins",
    "facing_deg": "where it faces",
    "slope_deg": "its slope",
    "factor_b": "the factor b",
    "exposure": "the exposure to rain",
    "rain_factors": "the exposure to rain, as surveyed",
    "set_point_c": "the set-point",
    "start_rh": "the RH at the start",
    "bad_year": "the year taken",
    "extra_rh": "the humidity added",
    "rain_scale": "the share of the rain",
    "active_share": "the share of the leaking air",
    "absorptance": "the sun taken up",
    "strip": "the strip of the face",
    "ground": "the soil against it",
    "works_on": "the day of the works",
    "beside_found": "the air of the cold space, as found",
    "beside_after": "the air of the cold space, after the works",
}


def _named(layer: BuildUpLayer) -> Said:
    if not layer.thickness_mm:
        return said(layer.entry.name)
    return say("{name} {much}", name=layer.entry.name, much=thickness(layer.thickness))


def changes(before: BuildUp, after: BuildUp) -> list[Said]:
    """Layer by layer, by their ids, then the leaks. Empty where nothing differs that a run would feel."""
    old, new = {one.id: one for one in before.layers}, {one.id: one for one in after.layers}
    found = [say("{layer} is gone", layer=_named(layer)) for id, layer in old.items() if id not in new]
    for id, layer in new.items():
        was = old.get(id)
        if was is None:
            found.append(say("{layer} is new", layer=_named(layer)))
            continue
        if was.material != layer.material:
            found.append(say("{was} before, {now} now", was=_named(was), now=_named(layer)))
        elif was.thickness_mm != layer.thickness_mm:
            found.append(
                say("{name}: {was} before, {now} now", name=layer.entry.name, was=thickness(was.thickness), now=thickness(layer.thickness))
            )  # fmt: skip
        others = [words for field, words in OTHERWISE.items() if getattr(was, field) != getattr(layer, field)]
        if others:
            found.append(said(f"{layer.entry.name}: {', '.join(others)}"))
    kept = [id for id in old if id in new]
    if kept != [id for id in new if id in old]:
        found.append(said("the order of the layers"))
    if before.air_leak != after.air_leak:
        found.append(said("the leaks of air"))
    if before.rain_leak != after.rain_leak:
        found.append(said("the leaks of rain"))
    return found


def place_changes(before: Place, after: Place) -> list[Said]:
    """What differs of where it stands."""
    found = []
    if before.climate != after.climate:
        found.append(said(f"the climate, now {shipped(after.climate).label}"))
    if before.occupancy != after.occupancy:
        room = INDOOR_WORDS.get(after.occupancy) or "measured air"
        found.append(said(f"the room, now {room}"))
    differs = {words for field, words in PLACE_WORDS.items() if getattr(before, field) != getattr(after, field)}
    return [*found, *(said(words) for words in PLACE_WORDS.values() if words in differs)]

"""What is known of a build-up beside its run: the facts that the verdict looks at."""

from __future__ import annotations

from core.assembly.control import control_layers
from core.buildup.anatomy import Anatomy
from core.buildup.leaks import Leaks
from core.buildup.model import BuildUp, Place
from core.buildup.planes import faces_room, plane_in, sensitive_plane
from core.buildup.spent import wearing_coat
from core.climate.data import Climate
from core.criteria.judging import Stated
from core.materials.library import Sheet, Solid
from core.moisture.steady import drying_ability
from core.moisture.traps import traps
from core.say import Said


def open_to_weather(build_up: BuildUp, place: Place) -> str:
    """Name of an outermost layer that cannot stand the weather it lies in, or ""."""
    if place.adjoining != "outside":
        return ""
    for layer in build_up.layers:
        entry = layer.entry
        if isinstance(entry, Sheet) and entry.kind == "coating":
            continue  # a coat sheds or not; what it lies on must still stand the weather
        return entry.name if entry.weather == "must be covered" else ""
    return ""


def cracked_film(build_up: BuildUp, place: Place) -> str:
    """Name of an old film on the weather face, or "": it cracks, lets rain in and holds it behind."""
    entry = build_up.layers[0].entry if build_up.layers and place.adjoining == "outside" else None
    return entry.name if isinstance(entry, Sheet) and entry.cracked else ""


def nothing_sheds(build_up: BuildUp, place: Place) -> str:
    """Name of a cladding that lets rain through, with nothing behind it that sheds the water; "" where something does."""
    if control_layers(build_up, place).rain.why != "nothing sheds":
        return ""
    first = next(layer.entry for layer in build_up.layers if isinstance(layer.entry, Solid))
    gap = Anatomy(build_up, place).outermost_gap
    leaf = gap is not None and first.group == "masonry" and any(layer.entry is first for layer in build_up.layers[:gap])
    return first.name if first.lapped or leaf else ""


def stated(
    build_up: BuildUp,
    as_found: BuildUp,
    place: Place,
    climate: Climate,
    is_as_found: bool,
    sound_years: int = 0,
    read_wet: list[Said] | None = None,
) -> Stated:
    """The facts of one build-up of an element. read_wet: what the survey read or confirmed wet there."""
    leaks = Leaks(build_up, place)
    anatomy = leaks.of
    found_traps = traps(build_up, place)
    leak = build_up.air_leak.preset
    by_rule = leaks.air_leak_by_rule()
    plane, _ = plane_in(build_up, sensitive_plane(as_found, place))
    plane = plane or sensitive_plane(build_up, place)
    drying = (
        drying_ability(build_up, place, climate, plane)
        if plane is not None and place.adjoining != "ground" and not faces_room(build_up, plane)
        else None
    )
    masonry = anatomy.masonry
    lining = build_up.layers[masonry + 1 :] if masonry is not None else []
    coat = wearing_coat(build_up, place)
    declared = next((layer.entry.name for layer in build_up.layers if layer.air_barrier), "")
    return Stated(
        as_found=is_as_found,
        kind=place.kind,
        adjoining=place.adjoining,
        leak=by_rule if leak == "by rule" else leak,
        rests_on_no_leak=leak == "none" and by_rule != "none" and place.adjoining != "ground",
        rain_leak=leaks.rain_share if place.adjoining == "outside" else 0.0,
        rain_leak_by_rule=build_up.rain_leak.share is None and leaks.rain_share > 0.0,
        traps=[trap.sentence for trap in found_traps],
        in_trap=any(trap.tight for trap in found_traps),
        trap_holds_wood=any(trap.tight and trap.holds_wood for trap in found_traps),
        open_to_weather=open_to_weather(build_up, place),
        nothing_sheds=nothing_sheds(build_up, place),
        frost_proof=[layer.id for layer in build_up.layers if layer.frost_proof],
        metal_stated=any(layer.metal is not None for layer in build_up.layers),
        capillary_lining=any(isinstance(layer.entry, Solid) and is_capillary_lining(layer.entry) for layer in lining),
        sound_years=sound_years,
        declared_air_barrier=declared,
        cracked_film=cracked_film(build_up, place),
        read_wet=read_wet or [],
        wears_off=coat.entry.name if coat is not None else "",
        vapour_only=drying is not None and (bool(drying.outward.liquid) or bool(drying.inward.liquid)),
        drying_g_m2=drying.total_g_m2 if drying is not None else None,
    )


def is_capillary_lining(entry: Solid) -> bool:
    """A board or insulating plaster that moves liquid back to the room."""
    return entry.capillary_active and (entry.group in ("insulation", "plaster"))

"""References inside a case: materials by `like`, series by `ref`, climates by name.

A loop or a reference that points nowhere is refused with its path.
"""

from __future__ import annotations

from core.case.ends import GroundEnd, IndoorEnd, OpenEnd, UnheatedEnd, WeatherEnd
from core.case.layers import Layer
from core.case.material import Material
from core.case.series import ClimateColumns, Series, SeriesRef
from core.case.whole import Case
from core.errors import CaseRefused

MATERIAL_PARTS = ("retention", "liquid", "vapour", "heat")


def resolve_material(case: Case, name: str, trail: tuple[str, ...] = ()) -> Material:
    """The material with every part filled in from its `like` chain. Raises CaseRefused."""
    if name in trail:
        raise CaseRefused(f"materials refer to each other in a loop: {' → '.join((*trail, name))}", "materials")
    if name not in case.materials:
        where = f"materials.{trail[-1]}.like" if trail else "layers"
        raise CaseRefused(f"material “{name}” is not in the case; add it under materials", where)
    material = case.materials[name]
    if material.like is not None:
        base = resolve_material(case, material.like, (*trail, name))
        given = {part: getattr(material, part) or getattr(base, part) for part in MATERIAL_PARTS}
        material = Material(name=material.name or base.name, **given)
    if not trail:
        missing = [part for part in MATERIAL_PARTS if getattr(material, part) is None]
        if missing:
            raise CaseRefused(f"material “{name}” lacks {', '.join(missing)}", f"materials.{name}")
    return material


def resolve_series(case: Case, value: float | Series | SeriesRef, trail: tuple[str, ...] = ()) -> float | Series:
    """The number or series a value stands for. Raises CaseRefused on loops and dangling names."""
    if not isinstance(value, SeriesRef):
        return value
    if value.ref in trail:
        raise CaseRefused(f"series refer to each other in a loop: {' → '.join((*trail, value.ref))}", "series")
    if value.ref not in case.series:
        raise CaseRefused(f"series “{value.ref}” is not in the case; add it under series", "series")
    return resolve_series(case, case.series[value.ref], (*trail, value.ref))


def check_references(case: Case) -> None:
    """Follow every reference and cross-check what single fields cannot. Raises CaseRefused."""
    for name in case.materials:
        resolve_material(case, name)
    for name in case.series:
        resolve_series(case, SeriesRef(ref=name))
    _check_layers(case)
    for side, end in (("outside", case.outside), ("inside", case.inside)):
        for name in _climates_of(end):
            _check_climate(case, name, f"{side}.climate")
        if isinstance(end, WeatherEnd) and side == "inside":
            raise CaseRefused("the inner end cannot lie in the weather; use indoor or separate", side)
        _walk_series(case, end)
    _check_air(case)
    if case.time.repeat == "until_settled" and not case.output.planes:
        raise CaseRefused("until_settled needs at least one watch plane", "output.planes")


def _climates_of(end: object) -> list[str]:
    if isinstance(end, WeatherEnd | GroundEnd):
        return [end.climate]
    if isinstance(end, IndoorEnd):
        return [end.climate] + ([end.measured] if end.measured is not None else [])
    return _climates_of(end.indoor) if isinstance(end, UnheatedEnd) else []


def _check_climate(case: Case, name: str, where: str) -> None:
    if name not in case.climates:
        raise CaseRefused(f"climate “{name}” is not in the case", where)
    climate = case.climates[name]
    if isinstance(climate, ClimateColumns) and len(climate.temperature_c) % 24 != 0:
        raise CaseRefused("a climate must hold whole days of 24 hours", f"climates.{name}")


def _check_air(case: Case) -> None:
    """Cavities are layers with thickness, leaks have a plane inside, and air has a known state at both ends."""
    _walk_series(case, case.air)
    for kind in ("cavities", "leaks", "rain_leaks"):
        for index, part in enumerate(getattr(case.air, kind)):
            where = f"air.{kind}.{index}"
            _walk_series(case, part)
            entry = part.layer if kind == "cavities" else part.after_layer
            if entry >= len(case.layers):
                raise CaseRefused(f"there is no layer {entry}; the last is {len(case.layers) - 1}", where)
            if kind == "cavities" and not isinstance(case.layers[entry], Layer):
                raise CaseRefused("a cavity is a layer with thickness, not a membrane", where)
            if kind != "cavities" and entry == len(case.layers) - 1:
                raise CaseRefused("a leak goes to a plane inside the build-up, not to its inner face", where)
            method = getattr(part, "by_wind_and_sun", None) or getattr(part, "by_stack_and_wind", None)
            if method is not None:
                _check_climate(case, method.climate, where)
    rained = isinstance(case.outside, OpenEnd) and case.outside.rain_kg_m2s is not None
    for leak in case.air.rain_leaks:
        if not isinstance(case.outside, WeatherEnd) and not (rained and leak.of == "driven"):
            raise CaseRefused("a rain leak needs an outside in the weather, or one with rain", "air.rain_leaks")


def _check_layers(case: Case) -> None:
    solids = [index for index, layer in enumerate(case.layers) if isinstance(layer, Layer)]
    if not solids:
        raise CaseRefused("a case needs at least one layer with thickness", "layers")
    for index, layer in enumerate(case.layers):
        where = f"layers.{index}"
        if isinstance(layer, Layer):
            resolve_material(case, layer.material)
            if layer.source is not None:
                _walk_series(case, layer.source)
            if layer.thickness_m == "semi_infinite" and index not in (0, len(case.layers) - 1):
                raise CaseRefused("only the first or the last layer can be semi-infinite", where)
        elif index and not isinstance(case.layers[index - 1], Layer):
            raise CaseRefused("two membranes without a layer between; add up their sd", where)
    for index, plane in enumerate(case.output.planes):
        if plane.after_layer >= len(case.layers):
            raise CaseRefused(
                f"plane “{plane.name}” lies after layer {plane.after_layer}, but the last is {len(case.layers) - 1}",
                f"output.planes.{index}",
            )


def _walk_series(case: Case, part: object) -> None:
    for value in part.__dict__.values():
        if isinstance(value, SeriesRef):
            resolve_series(case, value)
        elif hasattr(value, "__pydantic_fields_set__"):
            _walk_series(case, value)

"""A material of one's own from a data sheet: what it states, the rest filled from the nearest generic one and marked so.

An own material is an ordinary entry whose id is the hash of its content: another value is another id, so that a finished run
stands on what it was computed with for good. Whoever keeps own materials is asked through `core.materials.library.attach_shelf`.
"""

from __future__ import annotations

import hashlib
import json
import math
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Annotated, Any, Literal, get_args

from pydantic import Field, TypeAdapter, ValidationError

from core.case import Strict
from core.errors import CaseRefused, OutOfRange
from core.materials.bounds import BOUNDS, outside_bounds
from core.materials.library import DATA_SHEET, AirLayer, AnyEntry, Sheet, Solid, Weather, case_material, library
from core.materials.stated import Property, Read, read_stated
from core.say import Said, said

Family = Literal[
    "stone", "brick", "hollow block", "concrete", "mortar and plaster", "thin render", "insulating plaster", "wood fibre",
    "fibrous insulation", "plant and animal fibre", "straw", "aerogel", "loose mineral fill", "mineral insulation", "cork", "foam", "faced foam",
    "cellular glass", "timber", "wood-based sheet", "gypsum board", "faced board", "cement board", "tiles", "lapped covering",
    "metal sheet", "glass", "earth wall", "soil", "sheet", "finish",
]  # fmt: skip
FAMILIES: tuple[Family, ...] = get_args(Family)
# What it is made of, asked before its kind: what is filled in (mould class, sorption, what the weather does to it) follows from it.
MADE_OF: dict[str, tuple[Family, ...]] = {
    "plant or animal": ("plant and animal fibre", "straw", "cork"),
    "wood": ("wood fibre", "timber", "wood-based sheet"),
    "mineral": (
        "fibrous insulation", "mineral insulation", "loose mineral fill", "aerogel", "cellular glass", "insulating plaster", "mortar and plaster",
        "thin render", "gypsum board", "cement board", "faced board", "brick", "stone", "hollow block", "concrete", "earth wall", "tiles",
        "lapped covering", "glass", "soil",
    ),
    "foam": ("foam", "faced foam"),
    "metal": ("metal sheet",),
    "a sheet or a coat": ("sheet", "finish"),
}  # fmt: skip
Typed = Annotated[str, Field(max_length=60)]
PROPERTIES: tuple[Property, ...] = get_args(Property)
# What nothing built has: below or above it the value is a slip, whatever the family.
IMPOSSIBLE: dict[str, tuple[float, float]] = {
    "conductivity_w_mk": (0.004, 420.0),
    "density_kg_m3": (1.0, 12000.0),
    "specific_heat_j_kgk": (300.0, 4200.0),
    "mu": (1.0, 1e7),
    "sd_m": (0.001, 10000.0),
    "w80_kg_m3": (0.0, 400.0),
    "free_saturation_kg_m3": (0.0, 1000.0),
    "a_value_kg_m2s05": (0.0, 5.0),
}
WORDS = {
    "conductivity_w_mk": "conductivity λ, W/(m K)",
    "density_kg_m3": "density, kg/m³",
    "specific_heat_j_kgk": "specific heat, J/(kg K)",
    "mu": "μ",
    "sd_m": "sd, m",
    "w80_kg_m3": "water at 80 % RH, kg/m³",
    "free_saturation_kg_m3": "free saturation, kg/m³",
    "a_value_kg_m2s05": "A-value, kg/(m²√s)",
}
# What stands behind a value that a sheet states, by the value of the library.
OF: dict[str, Property] = {
    "conductivity_w_mk": "conductivity",
    "density_kg_m3": "density",
    "specific_heat_j_kgk": "specific_heat",
    "mu": "vapour",
    "sd_m": "vapour",
    "w80_kg_m3": "water_80",
    "free_saturation_kg_m3": "free_water",
    "a_value_kg_m2s05": "uptake",
}
SOLID_DENSITY = 2700.0  # of most minerals; what is above it has no pores to speak of


class DataSheet(Strict):
    """What a person types from a data sheet: texts in the sheet's own units, "" where it says nothing.

    nearest: the generic material the rest is filled from; "" for the nearest by what is stated. source: who printed it.
    """

    name: Annotated[str, Field(min_length=1, max_length=80)]
    family: Family
    thickness: Typed = ""
    conductivity: Typed = ""
    density: Typed = ""
    specific_heat: Typed = ""
    vapour: Typed = ""
    water_80: Typed = ""
    free_water: Typed = ""
    uptake: Typed = ""
    emissivity: Typed = ""
    nearest: Annotated[str, Field(max_length=40)] = ""
    source: Annotated[str, Field(max_length=200)] = ""
    dated: date | None = None
    weather: Weather | None = None
    note: Annotated[str, Field(max_length=400)] = ""


# What the verdict reads from a value that a sheet did not state.
RESTS = {
    "mould_class": "mould (its class)",
    "sorption_rh_mass_percent": "how damp it is and its wood moisture (its sorption)",
    "w80_kg_m3": "how damp it is (its sorption)",
    "free_saturation_kg_m3": "how much water it holds (free saturation)",
    "a_value_kg_m2s05": "how rain and water spread in it (uptake)",
    "mu": "what dries through it (μ)",
    "sd": "what dries through it (sd)",
    "conductivity_w_mk": "U and heat (λ)",
}


def rests_on(filled: Mapping[str, str], near: str) -> Said:
    """Which verdicts rest on what was filled in, and from where; empty where nothing was."""
    words = [words for name, words in RESTS.items() if name in filled]
    if "sorption_rh_mass_percent" in filled:
        words = [one for one in words if one != RESTS["w80_kg_m3"]]
    if not words:
        return said("")
    return said(
        f"On what was filled from {near} rest: {', '.join(words)}. A better sheet, or a test of it, makes them its own."
    )


@dataclass(frozen=True)
class Made:
    """An entry from a data sheet. understood: how each stated value was read; filled: value → where it is from; odd: what to look at
    again; nearest: the generic material behind it."""

    entry: Solid | Sheet
    understood: dict[str, str]
    filled: dict[str, str]
    odd: list[Said]
    nearest: str


def material_from(sheet: DataSheet) -> Made:
    """The entry a data sheet makes. Raises OutOfRange with what cannot be."""
    read = {name: read_stated(name, text) for name in PROPERTIES if (text := str(getattr(sheet, name)).strip())}
    near = _nearest(sheet, read)
    stated = _sheet_values(read) if isinstance(near, Sheet) else _solid_values(near, read)
    for name, value in stated.items():
        low, high = IMPOSSIBLE.get(name, (-math.inf, math.inf))
        if isinstance(value, float) and not low <= value <= high:
            raise OutOfRange(f"{WORDS.get(name, name)}: {value:.4g} cannot be; it lies between {low:g} and {high:g}")
    where = ", ".join(part for part in (sheet.source.strip(), sheet.dated.isoformat() if sheet.dated else "") if part)
    values = near.model_dump()
    scaled = _scaled(near, stated) if isinstance(near, Solid) else {}
    values.update(scaled)
    values.update(stated)
    sources, filled = {}, {}
    for name in near.sources:
        known = name in stated or (name == "sd" and "sd_m" in stated)
        if known:
            sources[name] = f"{DATA_SHEET}: {where}" if where else f"{DATA_SHEET}, not named"
        else:
            words = f"filled from {near.name}" + (", by the density" if name in scaled else "")
            sources[name] = filled[name] = words
    values.update(name=sheet.name.strip(), note=sheet.note, sources=sources, ranges={}, id="")
    if sheet.weather is not None:
        values["weather"] = sheet.weather
    odd = outside_bounds(type(near).model_validate({**values, "id": "own"}))
    try:
        entry = sealed(values)
    except OutOfRange as error:
        if odd:
            raise OutOfRange(f"{odd[0]}, the usual of its family, and no material comes of it") from error
        raise
    return Made(
        entry=entry,
        understood={name: one.words for name, one in read.items()},
        filled=filled,
        odd=[said(f"Look again: {words}, the usual of its family.") for words in odd],
        nearest=near.id,
    )


def sealed(values: dict[str, Any]) -> Solid | Sheet:
    """An entry with the hash of its content as its id. Raises OutOfRange where the values make no material."""
    content = {name: value for name, value in values.items() if name != "id"}
    try:
        entry = TypeAdapter[Any](AnyEntry).validate_python({**content, "id": "own"})
    except ValidationError as error:
        first = error.errors()[0]
        raise OutOfRange(f"{'.'.join(str(at) for at in first['loc'][1:])}: {first['msg']}") from error
    if isinstance(entry, AirLayer):
        raise OutOfRange("air layers are the library's; state how a gap is open with one of them")
    if isinstance(entry, Solid):
        if not entry.free_saturation_kg_m3 > entry.w80_kg_m3:
            raise OutOfRange(
                f"free saturation {entry.free_saturation_kg_m3:g} kg/m³ must lie above the water at 80 % RH, {entry.w80_kg_m3:g}"
            )
        try:
            case_material(entry)
        except (CaseRefused, ValidationError) as error:
            raise OutOfRange(str(getattr(error, "message", error))) from error
    elif (entry.sd_m is None) == (entry.sd_by_rh is None):
        raise OutOfRange("a sheet has one sd, or one for each RH; not both and not none")
    return entry.model_copy(update={"id": own_id(entry)})


def own_id(entry: Solid | Sheet) -> str:
    """“own-” and the hash of everything but the id."""
    content = entry.model_dump(mode="json", exclude={"id"})
    for name in ("spent", "absorptance"):
        if content.get(name) is None:
            content.pop(name, None)  # came later: what says nothing of it keeps its id
    return "own-" + hashlib.sha256(json.dumps(content, sort_keys=True, ensure_ascii=False).encode()).hexdigest()[:16]


def _nearest(sheet: DataSheet, read: dict[Property, Read]) -> Solid | Sheet:
    """The generic material named, or the nearest of the family by what is stated, each by its logarithm."""
    if sheet.nearest:
        named = library().get(sheet.nearest)
        if named is None or isinstance(named, AirLayer) or named.family != sheet.family:
            raise OutOfRange(f"“{sheet.nearest}” is no material of the family {sheet.family} to fill from")
        return named
    family = [one for one in library().values() if not isinstance(one, AirLayer) and one.family == sheet.family]

    def far(one: Solid | Sheet) -> float:
        stated = _sheet_values(read) if isinstance(one, Sheet) else _solid_values(one, read, strict=False)
        distance = 0.0
        for name, value in stated.items():
            there = getattr(one, name, None)
            if isinstance(value, float) and value > 0.0:
                distance += math.log(value / there) ** 2 if there else 1.0
        return distance

    return min(family, key=far)


def _sheet_values(read: dict[Property, Read]) -> dict[str, Any]:
    vapour = read.get("vapour")
    values: dict[str, Any] = {}
    if vapour is not None:
        sd = vapour.value
        if vapour.of == "material":
            thickness = read.get("thickness")
            if thickness is None:
                raise OutOfRange("μ of a sheet needs its thickness; or state its sd or permeance")
            sd = vapour.value * thickness.value
        values.update(sd_m=sd, sd_by_rh=None)
    if "emissivity" in read:
        values["emissivity"] = read["emissivity"].value
    return values


def _solid_values(near: Solid, read: dict[Property, Read], strict: bool = True) -> dict[str, Any]:
    """Values of a solid that a sheet states. strict: what needs the thickness is refused without it."""
    values: dict[str, Any] = {}
    thickness = read["thickness"].value if "thickness" in read else None
    if thickness is not None:
        values["usual_thickness_mm"] = round(thickness * 1000.0, 3)

    def of_product(one: Read, what: str) -> bool:
        if one.of != "product":
            return False
        if thickness is None and strict:
            raise OutOfRange(f"{what} of a product needs its thickness as sold")
        return True

    heat = read.get("conductivity")
    if heat is not None:
        if of_product(heat, "R"):
            if thickness is not None:
                values["conductivity_w_mk"] = thickness / heat.value
        else:
            values["conductivity_w_mk"] = heat.value
    for name, prop in (
        ("density_kg_m3", "density"),
        ("specific_heat_j_kgk", "specific_heat"),
        ("emissivity", "emissivity"),
    ):
        if prop in read:
            values[name] = read[prop].value
    vapour = read.get("vapour")
    if vapour is not None:
        if of_product(vapour, "sd or a permeance"):
            if thickness is not None:
                values["mu"] = (
                    max(vapour.value / thickness, 1.0) if vapour.value / thickness > 0.95 else vapour.value / thickness
                )
        else:
            values["mu"] = vapour.value
        values["mu_wet"] = vapour.second
    density = float(values.get("density_kg_m3", near.density_kg_m3))
    for name, prop in (("w80_kg_m3", "water_80"), ("free_saturation_kg_m3", "free_water")):
        if prop in read:
            one = read[prop]
            values[name] = one.value * density if one.of == "dry mass" else one.value
    if "w80_kg_m3" in values and near.w50_kg_m3 is not None and near.w80_kg_m3 > 0.0:
        values["w50_kg_m3"] = near.w50_kg_m3 / near.w80_kg_m3 * values["w80_kg_m3"]
    if "uptake" in read:
        values["a_value_kg_m2s05"] = read["uptake"].value or None
    if near.sorption_rh_mass_percent is not None and (
        {"w80_kg_m3", "free_saturation_kg_m3", "density_kg_m3"} & set(values)
    ):
        values["sorption_rh_mass_percent"] = _curve(near, values, density)
        values["w80_kg_m3"] = dict(values["sorption_rh_mass_percent"])[0.8] / 100.0 * density
    return values


def _curve(near: Solid, values: dict[str, Any], density: float) -> list[tuple[float, float]]:
    """The sorption curve of the nearest, through the stated w80 and up to the free saturation, in mass-%."""
    assert near.sorption_rh_mass_percent is not None
    rows = dict(near.sorption_rh_mass_percent)
    by = values["w80_kg_m3"] / density * 100.0 / rows[0.8] if "w80_kg_m3" in values else 1.0
    top = float(values.get("free_saturation_kg_m3", _free_by_pores(near, density))) / density * 100.0
    curve = [(rh, percent * by) for rh, percent in near.sorption_rh_mass_percent if rh < 0.999]
    last = curve[-1][1]
    if not top > last:
        raise OutOfRange(
            f"free saturation {top * density / 100.0:.3g} kg/m³ lies below the water at 99.5 % RH, {last * density / 100:.3g}"
        )
    kept = [
        (rh, min(percent * by, last + 0.5 * (top - last)))
        for rh, percent in near.sorption_rh_mass_percent
        if 0.999 <= rh < 1.0
    ]
    return [*curve, *kept, (1.0, top)]


def _free_by_pores(near: Solid, density: float) -> float:
    """Free saturation of the nearest, by what is left of the volume where the stated one is denser or lighter."""
    grain = 1500.0 if near.timber is not None or near.wood_fibre or near.density_kg_m3 < 300.0 else SOLID_DENSITY
    pores, here = 1.0 - near.density_kg_m3 / grain, 1.0 - density / grain
    if pores <= 0.0 or here <= 0.0:
        return near.free_saturation_kg_m3
    return near.free_saturation_kg_m3 * here / pores


def _scaled(near: Solid, stated: dict[str, Any]) -> dict[str, Any]:
    """What follows the density where only that is stated: free saturation by the pores left, water at 80 and 50 % RH by the mass."""
    density = stated.get("density_kg_m3")
    if density is None:
        return {}
    found: dict[str, Any] = {"free_saturation_kg_m3": _free_by_pores(near, density)}
    if near.sorption_rh_mass_percent is None:
        by = density / near.density_kg_m3
        found["w80_kg_m3"] = near.w80_kg_m3 * by
        if near.w50_kg_m3 is not None:
            found["w50_kg_m3"] = near.w50_kg_m3 * by
    return found


assert {*BOUNDS, "sheet", "finish"} == set(FAMILIES)
assert sorted(family for row in MADE_OF.values() for family in row) == sorted(FAMILIES)

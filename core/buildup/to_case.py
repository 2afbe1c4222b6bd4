"""From a build-up in its place to the case of its hourly years, and the planes that are watched."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from core import case as c
from core.buildup.model import BuildUp, Place
from core.climate.data import shipped
from core.errors import CaseRefused, NotAvailableYet
from core.materials.library import AirLayer, MouldClass, Sheet, Solid, case_material, still_air_material
from core.thermal.iso6946 import air_layer_resistance, heat_flow

# A roof covering is taken as tight: its rain runs off. Leaks are evidence, not weather.
NO_RAIN = c.DrivenRain(method="none")
MOULD_RANK: list[MouldClass] = ["resistant", "medium_resistant", "sensitive", "very_sensitive"]
Role = Literal["face", "masonry", "inside", "room"]


@dataclass(frozen=True)
class WatchPoint:
    """A plane of the case and how mould is judged there. role: weathered face, inside masonry, inside, room face."""

    name: str
    role: Role
    mould_class: MouldClass
    judged: bool
    why_not: str
    after_layer_id: str


@dataclass(frozen=True)
class TimberLayer:
    """A wood-based layer: which entry of the case, and its dry density [kg/m³]."""

    entry: int
    layer_id: str
    name: str
    sheet: bool
    density: float


@dataclass(frozen=True)
class Model:
    """A case with what the criteria need to know about it."""

    case: c.Case
    watch_points: list[WatchPoint]
    timber: list[TimberLayer]
    layer_of_entry: list[str]


def why_no_transient(build_up: BuildUp, place: Place) -> str:
    """A sentence where the hourly years are not available, or ""."""
    if place.kind not in ("wall", "roof"):
        return "floors need the ground or the void: not available yet"
    if place.adjoining != "outside":
        return f"needs {'the ground' if place.adjoining == 'ground' else 'an unheated space'}: not available yet"
    entries = [layer.entry for layer in build_up.layers]
    if any(isinstance(entry, AirLayer) and entry.ventilated for entry in entries):
        return "needs a ventilated cavity: not available yet"
    if isinstance(entries[0], AirLayer) or isinstance(entries[-1], AirLayer):
        return "a still air layer lies on a face: close it with a layer"
    return ""


def model_of(build_up: BuildUp, place: Place, title: str = "") -> Model:
    """The case of a build-up. Raises NotAvailableYet for what this version does not compute.

    Framing is left out: the case is the clear path. Coatings on either face join the film there.
    """
    reason = why_no_transient(build_up, place)
    if reason:
        raise NotAvailableYet(reason)
    layers = list(build_up.layers)
    outer_sd, rain_factor, inner_sd = 0.0, 1.0, 0.0
    while isinstance(layers[0].entry, Sheet):
        sheet = layers.pop(0).entry
        assert isinstance(sheet, Sheet)
        outer_sd += _constant_sd(sheet)
        rain_factor *= sheet.rain_factor
    while isinstance(layers[-1].entry, Sheet):
        sheet = layers.pop().entry
        assert isinstance(sheet, Sheet)
        inner_sd += _constant_sd(sheet)

    entries: list[c.Layer | c.Membrane] = []
    layer_of_entry: list[str] = []
    timber: list[TimberLayer] = []
    materials: dict[str, c.Material] = {}
    for layer in layers:
        entry = layer.entry
        if isinstance(entry, Sheet):
            if entries and isinstance(entries[-1], c.Membrane):
                raise CaseRefused(
                    "two membranes lie on each other; put a layer between or keep one", f"layer {layer.id}"
                )
            entries.append(
                c.Membrane(kind="membrane", name=entry.name, sd_m=entry.sd_m, sd_by_rh=entry.sd_by_rh, rh_of="mean")
            )
        elif isinstance(entry, AirLayer):
            # one material for each thickness: conductivity and μ follow from it
            own = f"{layer.material}@{layer.thickness * 1000:g}mm"
            resistance = air_layer_resistance(layer.thickness, heat_flow(place.kind))
            materials[own] = still_air_material(entry.name, layer.thickness, resistance)
            entries.append(c.Layer(name=entry.name, material=own, thickness_m=layer.thickness))
        else:
            assert isinstance(entry, Solid)
            materials[layer.material] = case_material(entry)
            entries.append(c.Layer(name=entry.name, material=layer.material, thickness_m=layer.thickness))
            if entry.timber is not None:
                timber.append(
                    TimberLayer(len(entries) - 1, layer.id, entry.name, entry.timber == "sheet", entry.density_kg_m3)
                )
        layer_of_entry.append(layer.id)
    watch = _watch_points(layers, bool(inner_sd))
    planes = []
    for point, index, side in watch:
        planes.append(c.Plane(name=point.name, after_layer=index, side=side))
    climate = shipped(place.climate)
    case = c.Case(
        title=title,
        climates={place.climate: c.ShippedClimate(shipped=place.climate, sha256=climate.sha256)},
        materials=materials,
        initial=c.Initial(temperature_c=15.0, rh=place.start_rh),
        layers=entries,
        outside=c.WeatherEnd(
            type="weather",
            climate=place.climate,
            facing_deg=place.facing_deg,
            slope_deg=place.slope_deg,
            coating_sd_m=outer_sd,
            coating_rain_factor=rain_factor,
            rain=place.driven_rain if place.kind == "wall" else NO_RAIN,
        ),
        inside=c.IndoorFromOutdoor(
            type="en15026",
            climate=place.climate,
            occupancy=place.occupancy,
            coefficient_w_m2k=10.0 if place.kind == "roof" else 8.0,
            winter_set_point_c=place.set_point_c,
            summer_temperature_c=max(25.0, place.set_point_c),
            coating_sd_m=inner_sd,
        ),
        time=c.TimeControl(start="10-01", repeat="until_settled", least_passes=3, most_passes=8),
        output=c.Output(planes=planes),
    )
    return Model(case, [point for point, _, _ in watch], timber, layer_of_entry)


def _constant_sd(sheet: Sheet) -> float:
    if sheet.sd_m is None:
        raise CaseRefused(f"{sheet.name} lies on a face; a variable membrane needs a layer on both sides")
    return sheet.sd_m


def _watch_points(layers: list, painted_inside: bool) -> list[tuple[WatchPoint, int, Literal["outer", "inner"]]]:  # type: ignore[type-arg]
    """Every face between layers, both sides of a membrane, and the room face."""
    out: list[tuple[WatchPoint, int, Literal["outer", "inner"]]] = []
    first = layers[0].entry
    out.append(
        (
            WatchPoint(f"outer face of {first.name}", "face", first.mould_class, False, "a weathered face", ""),
            -1,
            "outer",
        )
    )
    names: dict[str, int] = {}

    def unique(name: str) -> str:
        names[name] = names.get(name, 0) + 1
        return name if names[name] == 1 else f"{name} ({names[name]})"

    for index in range(len(layers) - 1):
        here, beyond = layers[index].entry, layers[index + 1].entry
        if isinstance(here, Sheet):
            name = unique(f"room side of {here.name}")
        elif isinstance(beyond, Sheet):
            name = unique(f"outer side of {beyond.name}")
        else:
            name = unique(f"{here.name} / {beyond.name}")
        bonded = _bonded(here, beyond)
        why = "bonded in lime without air" if bonded else ""
        role: Role = "inside"
        if here.group == beyond.group == "masonry":
            role, bonded, why = "masonry", True, "inside the masonry"
        point = WatchPoint(name, role, _worse(here.mould_class, beyond.mould_class), not bonded, why, layers[index].id)
        out.append((point, index, "inner"))
    last = layers[-1].entry
    room = WatchPoint(f"room face of {last.name}", "room", last.mould_class, True, "", layers[-1].id)
    out.append((room, len(layers) - 1, "inner"))
    return out


def _worse(first: MouldClass, second: MouldClass) -> MouldClass:
    return max(first, second, key=MOULD_RANK.index)


def _bonded(here: Solid | Sheet | AirLayer, beyond: Solid | Sheet | AirLayer) -> bool:
    """Full contact in lime: one side lime-bound, the other mineral or a capillary-active board."""
    if not (isinstance(here, Solid) and isinstance(beyond, Solid)):
        return False
    pairs = ((here, beyond), (beyond, here))
    return any(a.lime_bound and (b.lime_bound or b.capillary_active) for a, b in pairs)

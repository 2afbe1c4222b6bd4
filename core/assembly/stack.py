"""The entries of a case, laid on one another from outside: each layer as the solver takes it, its material as it is built in, how it starts."""

from __future__ import annotations

import numpy as np

from core import case as c
from core.assembly.model import StartState, WoodLayer
from core.buildup.model import (
    BuildUpLayer,
    Place,
)
from core.materials.library import (
    DATA_SHEET,
    AirLayer,
    Sheet,
    Solid,
    case_material,
    coat_material,
    still_air_material,
)
from core.moisture.sorptivity import liquid_part
from core.thermal.air_layers import HeatFlow
from core.thermal.as_built import as_built_conductivity, as_built_density
from core.thermal.iso6946 import heat_flow

COAT_CELLS = 2
START_C, DELIVERED_RH = 15.0, 0.6  # new layers: in balance at 60 % RH, unless they are wet trades


def drawing_material(solid: Solid, measured_kg_m2s05: float | None = None) -> c.Material:
    """The solid as a case states it. An uptake that somebody measured, or a data sheet states, holds what arrives as vapour too: the liquid is the rest of it, as the
    library's own entries are."""
    drawn = measured_kg_m2s05
    if drawn is None and solid.sources.get("a_value_kg_m2s05", "").startswith(DATA_SHEET):
        drawn = solid.a_value_kg_m2s05
    if drawn is None:
        return case_material(solid)
    whole = case_material(solid, drawn)
    liquid = liquid_part(whole.model_dump_json(), drawn)
    return (
        case_material(solid, liquid) if liquid > 0.0 else whole.model_copy(update={"liquid": c.LiquidNone(form="none")})
    )


def _as_built(layer: BuildUpLayer, entry: Solid, flow: HeatFlow) -> Solid:
    """The solid as it is built in: squeezed, aged, settled; what it holds of water by its density then."""
    if layer.product is None:
        return entry
    conductivity, density = as_built_conductivity(layer, flow), as_built_density(layer)
    by = conductivity / entry.conductivity_w_mk
    rows = entry.conductivity_by_temperature_c
    return entry.model_copy(
        update={
            "conductivity_w_mk": conductivity,
            "conductivity_by_temperature_c": [(t, value * by) for t, value in rows] if rows else None,
            "density_kg_m3": density,
            "w80_kg_m3": entry.w80_kg_m3 * density / entry.density_kg_m3,
            "w50_kg_m3": None if entry.w50_kg_m3 is None else entry.w50_kg_m3 * density / entry.density_kg_m3,
        }
    )


class Stack:
    """The entries of a case as they are laid on one another, with what the criteria need of each."""

    def __init__(self, place: Place, start: StartState | None, new: bool) -> None:
        self.place, self.start, self.new = place, start, new
        self.entries: list[c.Layer | c.Membrane] = []
        self.layer_of_entry: list[str] = []
        self.entry_of: dict[str, int] = {}
        self.groups: list[str] = []
        self.wood: list[WoodLayer] = []
        self.materials: dict[str, c.Material] = {}

    def _add(self, layer: BuildUpLayer, entry: c.Layer | c.Membrane, group: str) -> None:
        self.entry_of[layer.id] = len(self.entries)
        self.entries.append(entry)
        self.layer_of_entry.append(layer.id)
        self.groups.append(group)

    def _initial(self, layer: BuildUpLayer) -> c.Initial | None:
        return _initial(layer, self.place, self.start, self.new, _reach(self.entries))

    def coat(self, layer: BuildUpLayer) -> None:
        """A mineral coat in the rain, as the thin capillary layer it is."""
        sheet = layer.entry
        assert isinstance(sheet, Sheet) and sheet.mineral is not None
        self.materials[layer.material] = coat_material(sheet.name, sheet.mineral)
        entry = c.Layer(
            name=sheet.name, material=layer.material, thickness_m=sheet.mineral.thickness_mm / 1000.0, cells=COAT_CELLS, stretch=1.0,
            initial=self._initial(layer),
        )  # fmt: skip
        self._add(layer, entry, "plaster")

    def sheet(self, layer: BuildUpLayer) -> None:
        """A membrane; one that lies on another is one with it, as thick to vapour as both."""
        sheet = layer.entry
        assert isinstance(sheet, Sheet)
        entry = c.Membrane(kind="membrane", name=sheet.name, sd_m=sheet.sd_m, sd_by_rh=sheet.sd_by_rh, rh_of="mean")
        if self.entries and isinstance(self.entries[-1], c.Membrane):
            self.entries[-1] = _together(self.entries[-1], entry)
            self.layer_of_entry[-1] = layer.id
            self.entry_of[layer.id] = len(self.entries) - 1
            return
        self._add(layer, entry, sheet.group)

    def air(self, layer: BuildUpLayer, resistance: float) -> None:
        """A cavity: one material for each layer, since conductivity and μ follow from thickness and faces."""
        entry = layer.entry
        assert isinstance(entry, AirLayer)
        own = f"{layer.material}@{layer.id}"
        still = resistance * (2.0 if 500.0 < entry.opening_mm2_m <= 1500.0 else 1.0)
        self.materials[own] = still_air_material(entry.name, layer.thickness, still)
        # Air stores next to nothing: three cells hold its straight line, and the one in the middle what moves.
        made = c.Layer(
            name=entry.name,
            material=own,
            thickness_m=layer.thickness,
            cells=3,
            stretch=1.0,
            initial=self._initial(layer),
        )
        self._add(layer, made, entry.group)

    def film(self) -> None:
        """A few millimetres of still air on a variable sheet that is a face itself: it needs the air it follows on both sides."""
        self.materials[FILM_NAME] = still_air_material("air at the face", FILM_M, FILM_R)
        self.entries.append(
            c.Layer(name="air at the face", material=FILM_NAME, thickness_m=FILM_M, cells=3, stretch=1.0)
        )
        self.layer_of_entry.append(FILM_NAME)
        self.groups.append("air")

    def solid(self, layer: BuildUpLayer, judged: bool) -> None:
        entry = layer.entry
        assert isinstance(entry, Solid)
        otherwise = layer.a_value_kg_m2s05 is not None or layer.product is not None
        own = f"{layer.material}@{layer.id}" if otherwise else layer.material
        self.materials[own] = drawing_material(
            _as_built(layer, entry, heat_flow(self.place.kind)), layer.a_value_kg_m2s05
        )
        made = c.Layer(name=entry.name, material=own, thickness_m=layer.thickness, initial=self._initial(layer))
        self._add(layer, made, entry.group)
        kind = "fibre" if entry.wood_fibre else entry.timber
        if kind is not None:
            self.wood.append(
                WoodLayer(
                    len(self.entries) - 1,
                    layer.id,
                    entry.name,
                    kind,
                    entry.density_kg_m3,
                    judged,
                    entry.durability_class,
                )
            )


FILM_NAME, FILM_M, FILM_R = (
    "air at the face",
    0.005,
    0.002,
)  # R as good as nothing: the film of the end is there already


def _together(outer: c.Membrane, inner: c.Membrane) -> c.Membrane:
    """Two sheets on each other: their sd added, at every RH where one of them follows it."""
    name = f"{outer.name} and {inner.name}"
    if outer.sd_m is not None and inner.sd_m is not None:
        return c.Membrane(kind="membrane", name=name, sd_m=outer.sd_m + inner.sd_m, sd_by_rh=None, rh_of="mean")

    def at(sheet: c.Membrane, rh: float) -> float:
        if sheet.sd_m is not None:
            return sheet.sd_m
        rows = sheet.sd_by_rh or []
        return float(np.interp(rh, [row[0] for row in rows], [row[1] for row in rows]))

    grid = sorted({row[0] for sheet in (outer, inner) for row in sheet.sd_by_rh or []})
    return c.Membrane(
        kind="membrane",
        name=name,
        sd_m=None,
        sd_by_rh=[(rh, at(outer, rh) + at(inner, rh)) for rh in grid],
        rh_of="mean",
    )


def is_variable(layer: BuildUpLayer) -> bool:
    return isinstance(layer.entry, Sheet) and layer.entry.sd_m is None


def _reach(entries: list[c.Layer | c.Membrane]) -> float:
    """Depth at which the next layer begins [m]: a case counts depths from the outer face of the wall."""
    total = 0.0
    for entry in entries:
        if isinstance(entry, c.Layer):
            assert isinstance(entry.thickness_m, float)
            total += entry.thickness_m
    return total


def _initial(layer: BuildUpLayer, place: Place, start: StartState | None, new: bool, begins: float) -> c.Initial | None:
    """How one layer starts: as typed; as it stands; as delivered; None for as the place says. begins: its depth [m]."""
    if layer.start_rh is not None:
        return c.Initial(temperature_c=START_C, rh=layer.start_rh)
    if start is not None and layer.id in start:
        state = start[layer.id]
        depth = layer.thickness or state.depth_m[-1]
        scale = depth / state.depth_m[-1] if state.depth_m[-1] > 0.0 else 1.0
        return c.Initial(
            temperature_c=[(begins + d * scale, t) for d, t in zip(state.depth_m, state.temperature_c, strict=True)],
            suction_pa=[
                (begins + d * scale, max(s, 0.0)) for d, s in zip(state.depth_m, state.suction_pa, strict=True)
            ],
        )
    if not new or (start is None and layer.existing):
        return None
    entry = layer.entry
    if isinstance(entry, Solid) and entry.fresh_water_kg_m3 is not None:
        return c.Initial(temperature_c=START_C, w_kg_m3=entry.fresh_water_kg_m3)
    return c.Initial(temperature_c=START_C, rh=DELIVERED_RH)

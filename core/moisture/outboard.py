"""The outboard share: how much insulation outside a plane keeps that plane dry, steady and by monthly means.

Two schools say what vapour reaches the plane: *room air*, all of it, as where air leaks to it; *diffusion*, what the sd
on both sides lets through. The share is R outside the plane over the whole (ISO 6946 resistances).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from core.buildup.model import BuildUp, BuildUpLayer, Place
from core.climate.data import Climate
from core.errors import OutOfRange
from core.materials.library import Sheet, Solid, entry_of
from core.moisture.steady import FORMULA, conditions, sd_of, steady_layers
from core.physics.constants import ZERO_CELSIUS
from core.physics.moist_air import saturation_pressure
from core.thermal.iso6946 import EXTERNAL_SURFACE, INTERNAL_SURFACE, heat_flow, resistances

School = Literal["room air", "diffusion"]
MOST_M, STEP_M = 0.6, 0.005
THIN_FINISH_M = 0.04
WINTER_RH = 0.6  # at which variable sheets are taken
Array = NDArray[np.float64]


@dataclass(frozen=True)
class Outboard:
    """thickness_m: the least of the material that keeps the plane at most_rh; None where MOST_M does not.

    share_now and share_needed: R outside the plane over the whole. month: 0 to 11, the one that decides.
    curve: (thickness [m], peak RH of the twelve months).
    """

    thickness_m: float | None
    share_now: float
    share_needed: float | None
    month: int
    peak_rh_now: float
    curve: list[tuple[float, float]]


def outboard(
    build_up: BuildUp,
    place: Place,
    climate: Climate,
    after_layer: str,
    material: str,
    most_rh: float = 0.8,
    school: School = "room air",
) -> Outboard:
    """The least thickness of a material outside the build-up that keeps the inner face of a layer dry.

    Raises OutOfRange for a layer or a material that does not fit the question.
    """
    layers = steady_layers(build_up)
    at = next((i for i, layer in enumerate(layers) if layer.id == after_layer), None)
    entry = entry_of(material)
    if at is None:
        raise OutOfRange(f"layer “{after_layer}” is not inside the ventilated cavity", "choose another plane")
    if not isinstance(entry, Solid):
        raise OutOfRange(f"{entry.name} has no thickness to solve for", "choose an insulation")
    flow = heat_flow(place.kind)
    resistance = np.array(resistances(layers, flow))
    sd = np.array([sd_of(layer, WINTER_RH) for layer in layers])
    r_out, r_in = EXTERNAL_SURFACE + resistance[: at + 1].sum(), resistance[at + 1 :].sum() + INTERNAL_SURFACE[flow]
    sd_out, sd_in = sd[: at + 1].sum(), sd[at + 1 :].sum()
    air = conditions(place, climate)

    def months(thickness: float) -> Array:
        outside = r_out + thickness / entry.conductivity_w_mk
        plane_c = air.outside_c + (air.inside_c - air.outside_c) * outside / (outside + r_in)
        pressure = air.inside_pa
        if school == "diffusion":
            through = sd_out + entry.mu * thickness
            pressure = air.outside_pa + (air.inside_pa - air.outside_pa) * through / max(through + sd_in, 1e-9)
        return np.asarray(pressure / saturation_pressure(plane_c + ZERO_CELSIUS, FORMULA))

    grid = np.arange(0.0, MOST_M + STEP_M / 2, STEP_M)
    peaks = np.array([months(d).max() for d in grid])
    fits = np.flatnonzero(peaks <= most_rh)
    thickness: float | None = None
    if len(fits):
        thickness = float(grid[fits[0]])
        low, high = max(thickness - STEP_M, 0.0), thickness
        while fits[0] > 0 and high - low > 1e-5:
            middle = (low + high) / 2.0
            low, high = (low, middle) if months(middle).max() <= most_rh else (middle, high)
        thickness = high
    needed = None
    if thickness is not None:
        outside = r_out + thickness / entry.conductivity_w_mk
        needed = float(outside / (outside + r_in))
    return Outboard(
        thickness_m=thickness,
        share_now=float(r_out / (r_out + r_in)),
        share_needed=needed,
        month=int(months(thickness if thickness is not None else MOST_M).argmax()),
        peak_rh_now=float(peaks[0]),
        curve=[(float(d), float(p)) for d, p in zip(grid, peaks, strict=True)],
    )


def with_outboard(build_up: BuildUp, after_layer: str, material: str, thickness_m: float) -> BuildUp:
    """The build-up with so much of a material outside a plane, for the hourly years.

    A layer of it that is there already outside the plane gets the thickness; else it goes outside the layer of the plane,
    within a thin outer finish (up to 40 mm) when there is one, and with lime render outside when there is none.
    """
    layers = list(build_up.layers)
    at = next((i for i, layer in enumerate(layers) if layer.id == after_layer), None)
    if at is None:
        raise OutOfRange(f"layer “{after_layer}” is not in the build-up", "choose another plane")
    if not isinstance(entry_of(material), Solid):
        raise OutOfRange(f"{entry_of(material).name} has no thickness to vary", "choose an insulation")
    there = next((i for i in range(at) if layers[i].material == material), None)
    millimetres = round(thickness_m * 1000.0, 3)
    if there is not None:
        changed = [layers[there].model_copy(update={"thickness_mm": millimetres})] if millimetres > 0.0 else []
        layers[there : there + 1] = changed
    elif millimetres > 0.0:
        new = BuildUpLayer(id="outboard", material=material, thickness_mm=millimetres)
        finish = next((i for i in range(at) if not isinstance(layers[i].entry, Sheet)), None)
        if finish is not None and layers[finish].thickness <= THIN_FINISH_M:
            layers.insert(finish + 1, new)
        else:
            render = BuildUpLayer(id="outboard_render", material="lime_render", thickness_mm=15)
            layers[0:0] = [render, new]
    return build_up.model_copy(update={"layers": layers})

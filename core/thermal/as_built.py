"""Insulation as it is built in and not as its label says: squeezed, settled, aged."""

from __future__ import annotations

import math

from core.buildup.model import BuildUpLayer
from core.materials.library import Solid
from core.thermal.air_layers import HeatFlow, air_layer_resistance

# λ of mineral fibre at 10 °C over its density ρ: λ = A + B ρ + C/ρ [W/(m K), kg/m³] (form of the published curves for glass and
# stone wool: conduction in the air, in the fibres, radiation between them). Coefficients are a fit to printed tables of squeezed glass-fibre batts
# (R-13 to R-38, down to two fifths of their thickness), within 4 %.
CURVE_A, CURVE_B, CURVE_C = 0.0275, 2.5e-5, 0.157
BEST_KG_M3 = math.sqrt(CURVE_C / CURVE_B)  # where it is lowest; a slab beyond it is squeezed for nothing
FIBRE = "fibrous insulation"
# Of the empty space over a fill that has settled in a wall: a still air layer across the wall (ISO 6946) [W/(m² K)].
VOID_CONDUCTANCE = 1.0 / 0.18


def density_curve(density_kg_m3: float) -> float:
    """λ of mineral fibre at a density [W/(m K)], by the curve above."""
    return CURVE_A + CURVE_B * density_kg_m3 + CURVE_C / density_kg_m3


def as_built_density(layer: BuildUpLayer) -> float:
    """Density [kg/m³] of a solid, squeezed where it is."""
    entry = layer.entry
    assert isinstance(entry, Solid)
    if layer.product is None or layer.product.labelled_mm is None or not layer.thickness_mm:
        return entry.density_kg_m3
    return entry.density_kg_m3 * layer.product.labelled_mm / layer.thickness_mm


def curve_density(conductivity_w_mk: float, density_kg_m3: float) -> float:
    """Density [kg/m³] at which the curve has the λ of a label: finer fibre reaches the same λ with less of it. A dense slab keeps its own."""
    above = conductivity_w_mk - CURVE_A
    root = above * above - 4.0 * CURVE_B * CURVE_C
    if density_kg_m3 >= BEST_KG_M3:
        return density_kg_m3
    return (above - math.sqrt(root)) / (2.0 * CURVE_B) if root > 0.0 and above > 0.0 else BEST_KG_M3


def compression_factor(layer: BuildUpLayer) -> float:
    """λ squeezed over λ of the label: mineral fibre by the density curve; other fibre keeps its λ (an estimate)."""
    entry = layer.entry
    if not isinstance(entry, Solid) or entry.family != FIBRE:
        return 1.0
    times = as_built_density(layer) / entry.density_kg_m3
    at = curve_density(entry.conductivity_w_mk, entry.density_kg_m3)
    return density_curve(at * times) / density_curve(at)


def as_built_conductivity(
    layer: BuildUpLayer, flow: HeatFlow = "horizontal", squeezed: bool = True, settled: bool = True, aged: bool = True
) -> float:
    """λ of a solid layer as it stands [W/(m K)]; with only some of what differs from its label.

    A fill that settles in a wall leaves a share s of the height empty: 1/R = (1 − s) λ/d + s/R_air, as if heat did not go sideways. In a
    floor, a ceiling or a slope it lies thinner by that share, with a gap over all of it: R = (1 − s) d/λ + R_air(s d).
    """
    entry = layer.entry
    assert isinstance(entry, Solid)
    conductivity, product = entry.conductivity_w_mk, layer.product
    if product is None:
        return conductivity
    if squeezed:
        conductivity *= compression_factor(layer)
    if aged:
        conductivity *= product.ageing
    if settled and product.settled:
        gone = product.settled
        if flow == "horizontal":
            return (1.0 - gone) * conductivity + gone * VOID_CONDUCTANCE * layer.thickness
        lies = (1.0 - gone) * layer.thickness / conductivity
        conductivity = layer.thickness / (lies + air_layer_resistance(gone * layer.thickness, flow))
    return conductivity

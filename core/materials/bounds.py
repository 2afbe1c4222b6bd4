"""Usual ranges of each family of materials: what a value must lie in to be believed.

One table for the library and for materials that people enter. Wide on purpose: outside it a value is a slip of the
pen or of a unit. Ranges are estimates from handbooks' tables as remembered.
"""

from __future__ import annotations

from dataclasses import dataclass

from core.materials.library import AirLayer, Sheet, Solid


@dataclass(frozen=True)
class Bounds:
    """density [kg/m³], λ [W/(m K)], μ dry, w80 [kg/m³], free saturation [kg/m³], A-value [kg/(m² s^0.5)] or none at all."""

    density: tuple[float, float]
    conductivity: tuple[float, float]
    mu: tuple[float, float]
    w80: tuple[float, float]
    free_saturation: tuple[float, float]
    uptake: tuple[float, float] | None


BOUNDS: dict[str, Bounds] = {
    "stone": Bounds((1400, 3000), (0.5, 3.5), (8, 20000), (0.5, 60), (3, 350), (0.0002, 0.5)),
    "brick": Bounds((1200, 2200), (0.35, 1.2), (5, 100), (2, 40), (60, 400), (0.01, 0.6)),
    "hollow block": Bounds((600, 1400), (0.12, 0.6), (4, 20), (1, 30), (60, 400), (0.01, 0.5)),
    "concrete": Bounds((400, 2600), (0.1, 2.5), (5, 200), (10, 110), (60, 500), (0.002, 0.15)),
    "mortar and plaster": Bounds((900, 2100), (0.2, 1.6), (4, 60), (2, 80), (120, 450), (0.002, 0.5)),
    "thin render": Bounds((1000, 2000), (0.4, 1.2), (20, 250), (2, 60), (60, 350), (0.0002, 0.02)),
    "insulating plaster": Bounds((150, 800), (0.025, 0.2), (3, 20), (2, 40), (100, 600), (0.002, 0.2)),
    "wood fibre": Bounds((30, 300), (0.035, 0.06), (1, 6), (3, 45), (100, 700), (0.0005, 0.05)),
    "fibrous insulation": Bounds((8, 200), (0.03, 0.05), (1, 3), (0.05, 2), (50, 600), None),
    "plant and animal fibre": Bounds((12, 90), (0.034, 0.05), (1, 3), (1, 15), (100, 600), (0.001, 0.2)),
    "straw": Bounds((70, 300), (0.045, 0.1), (1, 5), (5, 40), (100, 500), None),
    "aerogel": Bounds((90, 250), (0.012, 0.025), (2, 15), (0.2, 8), (20, 300), None),
    "loose mineral fill": Bounds((60, 700), (0.04, 0.2), (1, 8), (0, 8), (10, 400), None),
    "cellular glass": Bounds((90, 200), (0.036, 0.065), (1e4, 1e7), (0, 0.5), (0, 10), None),
    "mineral insulation": Bounds((90, 500), (0.04, 0.13), (2, 12), (1, 40), (150, 950), (0.005, 1.5)),
    "cork": Bounds((80, 200), (0.036, 0.06), (5, 30), (0.5, 12), (50, 400), (0.0005, 0.02)),
    "foam": Bounds((8, 60), (0.018, 0.045), (2, 300), (0.05, 3), (5, 100), None),
    "faced foam": Bounds((20, 60), (0.018, 0.035), (1e3, 1e6), (0.05, 3), (5, 60), None),
    "timber": Bounds((350, 800), (0.09, 0.2), (20, 250), (40, 140), (350, 800), (0.001, 0.03)),
    "wood-based sheet": Bounds((400, 1100), (0.09, 0.2), (8, 400), (40, 130), (300, 800), (0.0005, 0.02)),
    "gypsum board": Bounds((600, 1400), (0.16, 0.45), (4, 20), (2, 30), (200, 600), (0.005, 0.4)),
    "faced board": Bounds((600, 1400), (0.16, 0.45), (500, 1e6), (2, 30), (200, 600), None),
    "cement board": Bounds((800, 2000), (0.15, 0.7), (15, 400), (10, 150), (100, 500), (0.001, 0.05)),
    "tiles": Bounds((1500, 2600), (0.8, 2.0), (50, 1000), (0.2, 10), (5, 60), None),
    "lapped covering": Bounds((1500, 2900), (0.5, 2.6), (2, 60), (0.2, 10), (2, 200), None),
    "metal sheet": Bounds((2000, 9000), (15, 400), (1e5, 1e7), (0, 0.1), (0, 1), None),
    "glass": Bounds((2300, 2700), (0.8, 1.2), (1e4, 1e7), (0, 0.1), (0, 1), None),
    "earth wall": Bounds((1200, 2300), (0.3, 1.6), (4, 30), (5, 60), (100, 450), (0.005, 0.3)),
    "soil": Bounds((1200, 2200), (0.3, 2.5), (3, 80), (1, 120), (30, 500), (0.001, 0.2)),
}  # fmt: skip
SD_M = {"membrane": (0.01, 2000.0), "coating": (0.003, 60.0)}
SPECIFIC_HEAT = {"metal sheet": (300, 1000), "default": (700, 2300)}


def outside_bounds(entry: Solid | Sheet | AirLayer) -> list[str]:
    """Every value of an entry that lies outside the usual range of its family, in words."""
    if isinstance(entry, AirLayer):
        return []
    if isinstance(entry, Sheet):
        low, high = SD_M[entry.kind]
        values = [entry.sd_m] if entry.sd_m is not None else [sd for _, sd in entry.sd_by_rh or []]
        return [f"sd {value:g} m is outside {low:g} to {high:g}" for value in values if not low <= value <= high]
    bounds = BOUNDS[entry.family]
    rows: list[tuple[str, float, tuple[float, float]]] = [
        ("density", entry.density_kg_m3, bounds.density),
        ("conductivity", entry.conductivity_w_mk, bounds.conductivity),
        ("μ", entry.mu, bounds.mu),
        ("water at 80 % RH", entry.w80_kg_m3, bounds.w80),
        ("free saturation", entry.free_saturation_kg_m3, bounds.free_saturation),
        ("specific heat", entry.specific_heat_j_kgk, SPECIFIC_HEAT.get(entry.family, SPECIFIC_HEAT["default"])),
    ]
    if entry.a_value_kg_m2s05 is not None and bounds.uptake is None:
        rows.append(("uptake", entry.a_value_kg_m2s05, (0.0, 0.0)))
    elif entry.a_value_kg_m2s05 is not None and bounds.uptake is not None:
        rows.append(("uptake", entry.a_value_kg_m2s05, bounds.uptake))
    if entry.mu_wet is not None:
        rows.append(("μ wet", entry.mu_wet, (1.0, entry.mu)))
    if entry.w50_kg_m3 is not None:
        rows.append(("water at 50 % RH", entry.w50_kg_m3, (0.4 * entry.w80_kg_m3, 0.8 * entry.w80_kg_m3)))
    porosity = 1000.0 * max(1.0 - entry.density_kg_m3 / 1450.0, 0.0) if entry.density_kg_m3 < 300 else 1000.0
    rows.append(("free saturation against the pores there are", entry.free_saturation_kg_m3, (0.0, porosity)))
    return [
        f"{what} {value:g} is outside {low:g} to {high:g}"
        for what, value, (low, high) in rows
        if not low <= value <= high
    ]

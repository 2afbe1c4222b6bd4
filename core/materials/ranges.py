"""How far the values of a named kind may be off: what *How sure* varies. One table, by family and value.

A factor either way for the next stone, batch or maker of the same name; estimates from handbooks' spread as remembered. A single
entry may say its own (`ranges` in the library). No range leaves the bounds of its family.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from core.materials.bounds import BOUNDS, SD_M
from core.materials.library import AirLayer, Sheet, Solid

Ranged = Literal[
    "density_kg_m3",
    "conductivity_w_mk",
    "mu",
    "w80_kg_m3",
    "free_saturation_kg_m3",
    "a_value_kg_m2s05",
    "sd_m",
    "rain_factor",
]
RANGED: tuple[Ranged, ...] = (
    "density_kg_m3", "conductivity_w_mk", "mu", "w80_kg_m3", "free_saturation_kg_m3", "a_value_kg_m2s05", "sd_m", "rain_factor",
)  # fmt: skip


@dataclass(frozen=True)
class Spread:
    """Factors either way: density, λ, μ, w80, free saturation, A-value."""

    density: float
    conductivity: float
    mu: float
    w80: float
    free_saturation: float
    uptake: float


SPREADS: dict[str, Spread] = {
    "stone": Spread(1.1, 1.3, 1.6, 1.8, 1.4, 2.5),
    "brick": Spread(1.1, 1.2, 1.5, 1.8, 1.3, 2.0),
    "hollow block": Spread(1.15, 1.3, 1.4, 1.6, 1.4, 2.0),
    "concrete": Spread(1.08, 1.2, 1.6, 1.4, 1.3, 2.0),
    "mortar and plaster": Spread(1.1, 1.25, 1.5, 1.6, 1.3, 2.0),
    "thin render": Spread(1.1, 1.3, 1.8, 1.6, 1.4, 3.0),
    "insulating plaster": Spread(1.2, 1.15, 1.5, 1.6, 1.3, 2.5),
    "wood fibre": Spread(1.15, 1.06, 1.4, 1.25, 1.3, 2.0),
    "fibrous insulation": Spread(1.3, 1.06, 1.2, 1.6, 1.4, 2.0),
    "plant and animal fibre": Spread(1.2, 1.06, 1.3, 1.3, 1.3, 2.0),
    "straw": Spread(1.2, 1.25, 1.5, 1.3, 1.3, 2.0),
    "aerogel": Spread(1.2, 1.12, 1.5, 1.8, 1.5, 2.0),
    "loose mineral fill": Spread(1.25, 1.2, 1.4, 1.8, 1.5, 2.0),
    "cellular glass": Spread(1.15, 1.06, 2.0, 2.0, 2.0, 2.0),
    "mineral insulation": Spread(1.15, 1.1, 1.4, 1.6, 1.3, 2.0),
    "cork": Spread(1.15, 1.08, 1.8, 1.4, 1.4, 2.0),
    "foam": Spread(1.15, 1.06, 1.5, 1.6, 1.5, 2.0),
    "faced foam": Spread(1.15, 1.08, 3.0, 1.6, 1.5, 2.0),
    "timber": Spread(1.15, 1.12, 1.8, 1.15, 1.15, 2.0),
    "wood-based sheet": Spread(1.1, 1.12, 2.0, 1.2, 1.2, 2.0),
    "gypsum board": Spread(1.15, 1.12, 1.3, 1.5, 1.2, 2.0),
    "faced board": Spread(1.15, 1.12, 3.0, 1.5, 1.2, 2.0),
    "cement board": Spread(1.12, 1.2, 1.6, 1.4, 1.3, 2.0),
    "tiles": Spread(1.1, 1.2, 2.0, 2.0, 2.0, 2.0),
    "lapped covering": Spread(1.1, 1.2, 2.0, 2.0, 2.0, 2.0),
    "metal sheet": Spread(1.02, 1.1, 2.0, 1.0, 1.0, 1.0),
    "glass": Spread(1.02, 1.05, 2.0, 1.0, 1.0, 1.0),
    "earth wall": Spread(1.15, 1.5, 1.5, 1.8, 1.4, 2.5),
    "soil": Spread(1.15, 1.5, 1.8, 1.8, 1.4, 2.5),
}
SHEET_SPREAD = {"membrane": 1.4, "coating": 2.0}
CRACKED_SPREAD = 2.0  # of the rain an old film lets through
RAIN_SPREAD = 1.5


def range_of(entry: Solid | Sheet | AirLayer, name: Ranged) -> tuple[float, float] | None:
    """(low, high) of a value in its own unit; None where the entry has no such value (air layers, sheets that vary with RH)."""
    if isinstance(entry, AirLayer):
        return None
    value = getattr(entry, name, None)
    if value is None:
        return None
    if name in entry.ranges:
        return entry.ranges[name]
    if isinstance(entry, Sheet):
        factor = SHEET_SPREAD[entry.kind] if name == "sd_m" else CRACKED_SPREAD if entry.cracked else RAIN_SPREAD
        if name == "rain_factor" and value >= 1.0:
            return 1.0, 1.0  # a sheet that says nothing of rain
        bounds = SD_M[entry.kind] if name == "sd_m" else (0.0, 1.0)
    else:
        factor, bounds = _of_solid(entry, name)
    low, high = max(value / factor, bounds[0]), min(value * factor, bounds[1])
    return min(low, value), max(high, value)


def _of_solid(entry: Solid, name: Ranged) -> tuple[float, tuple[float, float]]:
    spread, bounds = SPREADS[entry.family], BOUNDS[entry.family]
    found: dict[str, tuple[float, tuple[float, float]]] = {
        "density_kg_m3": (spread.density, bounds.density),
        "conductivity_w_mk": (spread.conductivity, bounds.conductivity),
        "mu": (spread.mu, bounds.mu),
        "w80_kg_m3": (spread.w80, bounds.w80),
        "free_saturation_kg_m3": (spread.free_saturation, bounds.free_saturation),
        "a_value_kg_m2s05": (spread.uptake, bounds.uptake or (0.0, 0.0)),
    }
    return found[name]


def ranges(entry: Solid | Sheet | AirLayer) -> dict[str, tuple[float, float]]:
    """Every range of an entry, by the name of its value."""
    return {name: found for name in RANGED if (found := range_of(entry, name)) is not None}

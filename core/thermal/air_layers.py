"""Air layers that stand still, ISO 6946 Table 8."""

from __future__ import annotations

from typing import Literal

from core.errors import CaseRefused

HeatFlow = Literal["horizontal", "up", "down"]

# ISO 6946 Table 8: unventilated air layers with high-emissivity faces, thickness [mm] -> R.
AIR_LAYERS: dict[HeatFlow, list[tuple[float, float]]] = {
    "up": [(0, 0.0), (5, 0.11), (7, 0.13), (10, 0.15), (15, 0.16), (25, 0.16), (300, 0.16)],
    "horizontal": [(0, 0.0), (5, 0.11), (7, 0.13), (10, 0.15), (15, 0.17), (25, 0.18), (300, 0.18)],
    "down": [(0, 0.0), (5, 0.11), (7, 0.13), (10, 0.15), (15, 0.17), (25, 0.19), (50, 0.21), (100, 0.22), (300, 0.23)],
}  # fmt: skip


def air_layer_resistance(thickness: float, flow: HeatFlow) -> float:
    """R [m²K/W] of an unventilated air layer [m], linear between the rows of Table 8."""
    rows, mm = AIR_LAYERS[flow], thickness * 1000.0
    if mm > rows[-1][0]:
        raise CaseRefused(f"an air layer of {mm:g} mm is a room, not a layer: ISO 6946 covers up to 300 mm")
    for (x0, r0), (x1, r1) in zip(rows, rows[1:], strict=False):
        if mm <= x1:
            return r0 + (r1 - r0) * (mm - x0) / (x1 - x0)
    return rows[-1][1]

"""Layers that come as more than one thing, ready to be inserted: battens, studs, rafters with what lies between them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from core.buildup.model import BuildUpLayer, Framing


@dataclass(frozen=True)
class Kit:
    """layer: as it is inserted, under an id of its own."""

    key: str
    name: str
    layer: BuildUpLayer


def _members(width_mm: float, spacing_mm: float, plates: float = 0.0) -> Framing:
    return Framing.model_validate(
        {"material": "softwood", "share": 0.1, "width_mm": width_mm, "spacing_mm": spacing_mm, "plates": plates}
    )


STEEL = {"material": "steel_plate", "share": 0.001, "spacing_mm": 600, "flange_mm": 50, "web_mm": 0.6}
# (key, name, material between, depth mm, members)
ROWS: tuple[tuple[str, str, str, float, Framing], ...] = (
    ("battens", "battens 50 × 25 at 400, still air between", "air_unventilated", 25.0, _members(50, 400)),
    ("battens-vented", "battens 50 × 25 at 600, vented", "air_ventilated", 25.0, _members(50, 600)),
    ("counter-battens", "counter battens 50 × 50 at 600, vented", "air_ventilated", 50.0, _members(50, 600)),
    ("battens-drained", "battens 50 × 25 at 600, drained", "air_drained", 25.0, _members(50, 600)),
    ("service", "service battens 50 × 50 at 600, wood fibre between", "wood_fibre_batt", 50.0, _members(50, 600)),
    ("service-air", "service battens 50 × 50 at 600, still air between", "air_unventilated", 50.0, _members(50, 600)),
    ("studs", "studs 45 × 95 at 600, mineral fibre between", "mineral_fibre_038", 95.0, _members(45, 600, 0.04)),
    ("studs-deep", "studs 45 × 145 at 600, mineral fibre between", "mineral_fibre_038", 145.0, _members(45, 600, 0.04)),
    ("studs-dense", "studs 45 × 145 at 600, dense cellulose between", "cellulose_dense", 145.0, _members(45, 600, 0.04)),
    ("rafters", "rafters 75 × 150 at 450, still air between", "air_unventilated", 150.0, _members(75, 450)),
    ("joists", "joists 65 × 200 at 400, still air between", "air_unventilated", 200.0, _members(65, 400)),
    ("steel", "light steel studs 50 at 600, mineral fibre between", "mineral_fibre_038", 50.0, Framing.model_validate(STEEL)),
)  # fmt: skip


@lru_cache(maxsize=1)
def kits() -> list[Kit]:
    """Each validated as a layer of a build-up."""
    return [
        Kit(key, name, BuildUpLayer(id=key, material=material, thickness_mm=depth, framing=framing))
        for key, name, material, depth, framing in ROWS
    ]

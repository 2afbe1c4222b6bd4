"""A case with what the criteria need to know of it: watched planes, wood, metal; and how layers stand on the day of the works."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from core import case as c
from core.buildup.model import (
    Metal,
)
from core.materials.library import (
    MouldClass,
)

Role = Literal["face", "masonry", "inside", "cavity", "room"]


@dataclass(frozen=True)
class WatchPoint:
    """A plane of the case and how mould is judged there. role: weathered face, inside masonry, inside, a cavity toward
    the room, room face. bonded: in full contact in lime, reported and not judged."""

    name: str
    role: Role
    mould_class: MouldClass
    judged: bool
    why_not: str
    after_layer_id: str
    bonded: bool = False


@dataclass(frozen=True)
class WoodLayer:
    """A wood-based layer: which entry of the case, what kind of wood, its dry density [kg/m³], whether it is judged, its durability (EN 350)."""

    entry: int
    layer_id: str
    name: str
    kind: Literal["solid", "sheet", "fibre"]
    density: float
    judged: bool
    durability: int | None = None


@dataclass(frozen=True)
class MetalPlace:
    """Stated metal at a watch point."""

    plane: str
    layer_id: str
    metal: Metal


@dataclass(frozen=True)
class Model:
    """A case with what the criteria need to know about it."""

    case: c.Case
    watch_points: list[WatchPoint]
    wood: list[WoodLayer]
    layer_of_entry: list[str]
    groups: list[str]
    judged_from: int = 0
    frost_proof: frozenset[str] = frozenset()
    metal: tuple[MetalPlace, ...] = ()

    def masonry(self, entry: int) -> bool:
        """Whether an entry of the case is masonry or plaster in its place outside."""
        return self.groups[entry] in ("masonry", "plaster")

    @property
    def insulation(self) -> list[int]:
        """Entries of the case that insulate, inboard of the weather."""
        return [index for index, group in enumerate(self.groups) if group == "insulation" and index >= self.judged_from]


@dataclass(frozen=True)
class LayerState:
    """Depth from the layer's outer face [m], temperature [°C] and suction [Pa] of one layer at the day of the works."""

    depth_m: tuple[float, ...]
    temperature_c: tuple[float, ...]
    suction_pa: tuple[float, ...]


StartState = dict[str, LayerState]
"""By layer id: how the layers that are there already stand on the day of the works."""

"""What an element is called by how it is made: what bears it, what stands before it, and the kind that ways and rules name."""

from __future__ import annotations

from functools import cached_property
from typing import Literal

from core.buildup.anatomy import (
    BATTENS_M,
    THIN_BOARD_M,
    WIDE_BAY_M,
    Anatomy,
    drains,
    is_sheathing,
    is_soil,
    sheds,
)
from core.buildup.model import FIBROUS, LOAD_BEARING_M, BuildUpLayer, is_insulation, is_metal_framed
from core.materials.library import AirLayer, Solid

MakeKind = Literal[
    "not stated", "solid stone", "solid brick", "concrete wall", "large panel", "cavity masonry", "log", "bare cladding",
    "frame with boards", "steel frame", "cellar wall", "knee wall", "rafter roof", "flat roof", "thatched roof", "planted roof",
    "metal roof", "ceiling under attic", "floor over void", "floor over open air", "slab", "half-timbered",
]  # fmt: skip
Made = Literal["not stated", "masonry", "frame", "log", "concrete", "metal"]
Cladding = Literal["none", "boards", "leaf", "metal", "render"]
Gap = Literal["none", "drained", "ventilated"]
LOW_SLOPE_DEG = 10.0


class Make:
    """How one element is made, from its anatomy."""

    def __init__(self, anatomy: Anatomy) -> None:
        self.of = anatomy
        self.layers = self.of.layers

    @cached_property
    def bears(self) -> Made:
        """What bears it."""
        if not self.of.build_up.is_stated:
            return "not stated"
        inboard = [i for i in range(len(self.layers)) if i != self.of.skin or len(self.layers) == 1]
        stated = [i for i in inboard if self.layers[i].role == "structure"]
        for index in stated or inboard:
            layer = self.layers[index]
            entry = layer.entry
            if not stated and (layer.role == "lining" or self.of.is_ballast(index) or self.of.is_leaf(index)):
                continue
            if (
                layer.framing is None
                and entry.group == "masonry"
                and not is_soil(layer)
                and layer.thickness >= LOAD_BEARING_M
            ):
                return "concrete" if entry.family == "concrete" else "masonry"
            if layer.material == "logs" or (
                isinstance(entry, Solid) and entry.timber == "solid" and not entry.lapped and layer.thickness > THIN_BOARD_M
            ):  # fmt: skip
                return "log"
        for index in inboard:
            layer = self.layers[index]
            if layer.framing is not None and layer.thickness >= BATTENS_M and layer.role != "lining":
                return "metal" if is_metal_framed(layer) else "frame"
        sound = [self.layers[i] for i in inboard if self.layers[i].role != "lining"]
        if any(
            isinstance(o.entry, Solid) and o.entry.timber is not None and not self.is_lining_board(o) for o in sound
        ):
            return "frame"
        metal_skin = self.of.skin is not None and self.layers[self.of.skin].entry.family == "metal sheet"
        if metal_skin or any(o.entry.family == "metal sheet" for o in self.layers):
            return "metal"
        boards = [o for o in self.layers if isinstance(o.entry, Solid) and o.entry.timber is not None]
        return "frame" if boards or any(o.framing is not None for o in self.layers) else "not stated"

    def is_lining_board(self, layer: BuildUpLayer) -> bool:
        """Boards on the room's side of everything else."""
        index = self.of.build_up.index(layer.id)
        outer = [o for o in self.layers[:index] if isinstance(o.entry, Solid | AirLayer)]
        return bool(outer) and index >= self.of.lining_from

    @cached_property
    def cladding(self) -> Cladding:
        """What stands before what bears."""
        skin = self.layers[self.of.skin] if self.of.skin is not None else None
        if skin is not None and isinstance(skin.entry, Solid):
            assert self.of.skin is not None
            if self.of.is_leaf(self.of.skin):
                return "leaf"
            if skin.entry.family == "metal sheet":
                return "metal"
            if skin.entry.timber is not None:
                return "boards"
            return "none"
        solids = [layer for layer in self.layers if isinstance(layer.entry, Solid)]
        if len(solids) > 1 and solids[0].entry.group == "plaster" and is_insulation(solids[1]):
            return "render"
        return "metal" if solids and solids[0].entry.family == "metal sheet" else "none"

    @cached_property
    def gap(self) -> Gap:
        """The outermost gap that drains: whether it is open enough to be ventilated."""
        at = self.of.outermost_gap
        if at is None:
            return "none"
        entry = self.layers[at].entry
        return "ventilated" if isinstance(entry, AirLayer) and entry.ventilated else "drained"

    @cached_property
    def is_bare(self) -> bool:
        """Whether a cladding is nailed on bare members: no sheathing, no sheet that sheds and no gap that drains behind it.

        A lining inside changes nothing in that.
        """
        skin = self.of.skin
        if skin is None:
            solids = [layer for layer in self.layers if isinstance(layer.entry, Solid)]
            first = solids[0].entry if solids else None
            alone = len(solids) == 1 or all(self.layers.index(o) > 0 and o.role == "lining" for o in solids[1:])
            return (
                isinstance(first, Solid)
                and alone
                and (first.lapped or first.timber is not None)
                and first.timber != "sheet"
            )
        if self.of.is_leaf(skin) or not isinstance(self.layers[skin].entry, Solid):
            return False
        inboard = list(range(skin + 1, len(self.layers)))
        for place, index in enumerate(inboard):
            layer = self.layers[index]
            if (
                isinstance(layer.entry, AirLayer)
                and layer.framing is None
                and layer.thickness < WIDE_BAY_M
                and not drains(layer)
            ):
                continue
            if (
                layer.role == "sheathing"
                or (sheds(layer) and layer.entry.group != "finish")
                or (drains(layer) and not self.of.is_bay(index))
            ):
                # a sheet on the room's side of the fill is none behind the cladding
                return any(self.layers[i].framing is not None or is_insulation(self.layers[i]) for i in inboard[:place])
            if self.of.is_bay(index) or layer.framing is not None or layer.entry.family in (*FIBROUS, "straw"):
                return True
            if is_sheathing(layer) and any(
                self.of.is_bay(i) or self.layers[i].framing is not None or is_insulation(self.layers[i]) for i in inboard[place + 1 :]
            ):  # fmt: skip
                return False
        return True

    @cached_property
    def kind(self) -> MakeKind:
        """What kind of wall, roof or floor it is, as ways and rules name it."""
        place = self.of.place
        if not self.of.build_up.is_stated:
            return "not stated"
        if place.kind == "floor":
            found: dict[str, MakeKind] = {
                "ground": "slab",
                "unheated": "floor over void",
                "outside": "floor over open air",
            }
            return found[place.adjoining]
        if place.kind == "roof":
            return self._roof
        return self._wall

    @cached_property
    def _roof(self) -> MakeKind:
        if self.of.place.adjoining == "unheated":
            return "ceiling under attic"
        skin = self.layers[self.of.skin] if self.of.skin is not None else None
        if any(layer.material == "thatch" for layer in self.layers[: self.of.weather_side + 1]):
            return "thatched roof"
        if any(is_soil(o) and o.material != "gravel" for o in self.layers[: self.of.weather_side]):
            return "planted roof"
        if skin is not None and skin.entry.family == "metal sheet" and not self.of.timber_anywhere:
            return "metal roof"
        return "flat roof" if self.of.place.slope_deg < LOW_SLOPE_DEG else "rafter roof"

    @cached_property
    def _wall(self) -> MakeKind:
        made = self.bears
        if self.of.place.adjoining == "ground":
            return "cellar wall"
        if self.of.place.adjoining == "unheated" and made == "frame":
            return "knee wall"
        if made == "log":
            return "log"
        if self.of.half_timber is not None:
            return "half-timbered"
        if made == "metal":
            return "steel frame"
        if len(self.of.leaves) >= 2:
            return "cavity masonry"
        if made in ("masonry", "concrete"):
            bearing = next(
                o for o in self.layers
                if o.entry.group == "masonry" and o.role != "lining" and not is_soil(o) and (o.thickness >= LOAD_BEARING_M or o.role == "structure")
            )  # fmt: skip
            if bearing.material == "concrete_precast":
                return "large panel"
            if bearing.entry.family in ("brick", "hollow block"):
                return "solid brick"
            return "concrete wall" if bearing.entry.family == "concrete" else "solid stone"
        return "bare cladding" if self.is_bare else "frame with boards"

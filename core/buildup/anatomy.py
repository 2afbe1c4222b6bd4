"""What each layer of an element is: its roles, found once from layers, place and what is stated, with the reason.

Everything that asks what a layer is for (the make, the covering, what is judged, where leaks arrive, what could rot, what stays in a
proposal) reads it here. A role that somebody states of a layer goes before what its look suggests.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from core.buildup.model import (
    FIBROUS,
    LEAF_M,
    LOAD_BEARING_M,
    SHEATHING_M,
    BuildUp,
    BuildUpLayer,
    Place,
    bears,
    is_insulation,
    is_metal_framed,
    is_wooden,
)
from core.materials.library import AirLayer, Sheet, Solid

Role = Literal[
    "weather skin", "soil or ballast", "gap", "line that sheds water", "insulation outside", "sheathing", "structure",
    "fill of bays", "air line", "vapour line", "insulation inside", "lining", "finish", "ground", "drained space",
]  # fmt: skip
BATTENS_M = 0.06  # members less deep than this are battens: they carry a cladding or a lining, not the house
THIN_BOARD_M = 0.05  # boards up to this may be a cladding; thicker ones are planks that bear
THIN_LINING_M = 0.04  # a board or plaster on laths behind bays
THIN_RENDER_M = 0.03
WIDE_BAY_M = 0.04
GROUND_SHEET_SD_M = 10.0
INERT = ("foam", "faced foam", "cellular glass", "loose mineral fill")  # insulation that holds next to no water
DRAINED_SHEETS = ("dimpled_sheet",)
INFILL = ("stone", "brick", "hollow block", "concrete", "earth wall", "soil", "mortar and plaster")
MINERAL = ("masonry", "plaster")


@dataclass(frozen=True)
class LayerRoles:
    """What one layer is, each role with the reason; stated: somebody said so."""

    layer_id: str
    roles: dict[Role, str]
    stated: bool


def drains(layer: BuildUpLayer) -> bool:
    return isinstance(layer.entry, AirLayer) and layer.entry.drains


def _is_coat(layer: BuildUpLayer) -> bool:
    return isinstance(layer.entry, Sheet) and layer.entry.kind == "coating"


def is_membrane(layer: BuildUpLayer) -> bool:
    return isinstance(layer.entry, Sheet) and layer.entry.kind == "membrane"


def sheds(layer: BuildUpLayer) -> bool:
    """A sheet that leads water off where it lies behind something: any but one that follows the humidity, which is for the room side."""
    entry = layer.entry
    return isinstance(entry, Sheet) and entry.kind == "membrane" and not entry.sd_by_rh


def is_soil(layer: BuildUpLayer) -> bool:
    return layer.entry.family == "soil"


def is_sheathing(layer: BuildUpLayer) -> bool:
    """A board that can stand behind a cladding on a frame: of wood, gypsum, cement or wood fibre, or any stiff insulation."""
    entry = layer.entry
    if not isinstance(entry, Solid) or entry.lapped or layer.framing is not None or layer.role == "lining":
        return False
    if entry.group == "board" or entry.timber is not None:
        return layer.thickness >= SHEATHING_M
    return (
        entry.group == "insulation"
        and (entry.wood_fibre or entry.family in ("foam", "faced foam", "cork"))
        and entry.density_kg_m3 >= 15.0
    )


class Anatomy:
    """The parts of one build-up in its place. Places are indices of its layers; None where there is no such part."""

    def __init__(self, build_up: BuildUp, place: Place) -> None:
        self.build_up, self.place = build_up, place
        self.layers = build_up.layers

    # --- the weather's side ---------------------------------------------------------------------------

    @cached_property
    def _weather(self) -> tuple[int, int | None, int | None]:
        """(first layer inboard of the weather, skin, the line that ends it)."""
        end, skin, line, covered = 0, None, None, False
        for index, layer in enumerate(self.layers):
            entry = layer.entry
            if layer.role == "weather skin":
                end, skin, covered = index + 1, index, True
            elif layer.role in ("structure", "sheathing", "lining"):
                break
            elif _is_coat(layer):
                continue
            elif drains(layer):
                end, line = index + 1, None
            elif isinstance(entry, Sheet):
                if not sheds(layer):
                    break
                if skin is not None and (line is None and end == skin + 1 or self._under_soil(index)):
                    end, line = index + 1, index  # tight cladding, soil or ballast lies on it: it sheds
                    if not self._under_soil(index):
                        break
                elif end == index > 0 and drains(self.layers[index - 1]):
                    end, line = index + 1, index  # right behind the gap: its outer side is the weather's
                elif not covered and skin is None and self.place.adjoining == "outside":
                    skin = line = index  # a deck of felt, bitumen or rubber
                else:
                    continue
            elif isinstance(entry, AirLayer):
                break
            elif self.is_ballast(index):
                end, skin, covered = index + 1, index, True
            elif self._is_skin(index):
                end, skin, covered = (index + 1 if self._ends_at_itself(index) else end), index, True
            elif (
                entry.group == "insulation"
                or entry.timber is not None
                and (covered or not entry.lapped)
                or layer.framing is not None
                or not self._gap_follows(index)
            ):
                break
            else:
                covered = True
        if end >= len(self.layers):
            end = 0
        return end, skin, line

    def _under_soil(self, index: int) -> bool:
        return any(self.is_ballast(other) for other in range(index))

    def is_ballast(self, index: int) -> bool:
        """Soil or gravel that lies on a roof, or on what is roofed like one."""
        layer = self.layers[index]
        if self.place.adjoining != "outside":
            return False
        return layer.role == "soil or ballast" or (
            is_soil(layer) and all(is_soil(o) or isinstance(o.entry, Sheet | AirLayer) for o in self.layers[:index])
            and any(isinstance(o.entry, Solid) and not is_soil(o) for o in self.layers[index + 1 :])
        )  # fmt: skip

    def _gap_follows(self, index: int) -> bool:
        """Whether a gap that drains comes before anything that insulates, is wood, or is empty and still."""
        for layer in self.layers[index + 1 :]:
            entry = layer.entry
            if drains(layer):
                return True
            if isinstance(entry, AirLayer) or layer.framing is not None:
                return False
            if isinstance(entry, Solid) and (entry.group == "insulation" or entry.timber is not None):
                return False
        return False

    def _is_skin(self, index: int) -> bool:
        """Whether a solid is what meets the weather and is no part of the house: a lapped covering, metal, boards, a leaf."""
        layer = self.layers[index]
        entry = layer.entry
        if not isinstance(entry, Solid) or self.place.adjoining == "ground" or layer.framing is not None:
            return False
        first = not any(isinstance(other.entry, Solid) for other in self.layers[:index])
        if not first:
            return entry.lapped and not any(is_insulation(o) for o in self.layers[:index])
        inboard = any(isinstance(o.entry, Solid) or o.framing is not None for o in self.layers[index + 1 :])
        if (
            entry.lapped
            or (entry.family == "metal sheet" and (inboard or self.place.kind == "roof"))
            or entry.family == "glass"
            and inboard
        ):
            return True
        if self.is_leaf(index):
            return True
        if entry.group == "board" and entry.weather == "sheds" and inboard:
            return True
        thin = entry.timber == "solid" and layer.thickness <= THIN_BOARD_M and self.place.kind == "wall"
        if any(is_membrane(other) for other in self.layers[:index]):
            return False  # it carries a sheet that meets the weather
        return thin and self.place.adjoining == "outside" and any(
            bears(o) or o.framing is not None for o in self.layers[index + 1 :]
        )  # fmt: skip

    def _ends_at_itself(self, index: int) -> bool:
        """Whether the weather's side ends behind the skin without a gap or a sheet: where boards, masonry or sheathing lie right behind it.

        Cladding nailed on bare members is all there is between them and the rain: it is judged, with what lies against it.
        """
        for place in range(index + 1, len(self.layers)):
            layer = self.layers[place]
            if isinstance(layer.entry, Sheet):
                continue
            if layer.role == "lining" or layer.framing is not None:
                return False
            inboard = any(isinstance(o.entry, Solid | AirLayer) for o in self.layers[place + 1 :])
            return bears(layer) or layer.entry.group == "plaster" or (is_sheathing(layer) and inboard)
        return False

    @property
    def weather_side(self) -> int:
        """The first layer inboard of the weather: behind cladding, covering, ballast, and the gap or sheet that ends them."""
        return self._weather[0]

    @property
    def skin(self) -> int | None:
        """What meets the weather and is no part of the house: cladding, covering, leaf, ballast, or a sheet over a deck."""
        return self._weather[1]

    @property
    def line(self) -> int | None:
        """The sheet that ends the weather's side: behind tight cladding, under ballast, or over a deck."""
        return self._weather[2]

    @cached_property
    def outermost_gap(self) -> int | None:
        """The outermost gap that drains, or is vented."""
        return next((i for i, layer in enumerate(self.layers) if drains(layer)), None)

    @cached_property
    def vented_cladding(self) -> bool:
        """Whether what stands before the wall has moving air behind it."""
        return any(drains(layer) for layer in self.layers[: self.weather_side])

    @cached_property
    def coats(self) -> list[BuildUpLayer]:
        """Sheets and coats on the outer face, outermost first."""
        found = []
        for layer in self.layers:
            if not isinstance(layer.entry, Sheet):
                break
            found.append(layer)
        return found

    @cached_property
    def covering(self) -> int:
        """How many of the outer layers are covering, cladding with its paint and gap, and sheets under them."""
        count = 0
        for index, layer in enumerate(self.layers):
            entry = layer.entry
            sheds = isinstance(entry, Solid) and (self._is_skin(index) or self.is_ballast(index))
            if _is_coat(layer) and self.skin is not None and index < self.skin:
                continue
            behind = count > 0 and isinstance(entry, Sheet | AirLayer) and not self.is_bay(index)
            if not (sheds or behind):
                break
            count = index + 1
        return max(count, self.weather_side)

    @cached_property
    def thin_render(self) -> int | None:
        """Place of the innermost render of a thin coat on boards outside of the structure; None without one."""
        last = None
        for index, layer in enumerate(self.layers):
            if isinstance(layer.entry, Sheet):
                continue
            if layer.entry.group == "plaster" and layer.thickness <= THIN_RENDER_M and not is_insulation(layer):
                last = index
                continue
            structure = self.structure
            outside = last is not None and is_insulation(layer) and self.place.adjoining == "outside"
            return last if outside and structure is not None and structure > index else None
        return None

    # --- the ground's side ----------------------------------------------------------------------------

    @cached_property
    def earth_side(self) -> int:
        """The first layer that is judged against the ground; 0 elsewhere.

        Only masonry, concrete and soil that are there, what is foamed on their outer side, and what lies between them and a sheet that
        lies on them are the earth's; all that stands outside a drained space too. Insulation, wood and linings are always judged.
        """
        if self.place.adjoining != "ground":
            return 0
        behind = 0
        for index, layer in enumerate(self.layers):
            if layer.material in DRAINED_SHEETS or (drains(layer) and index > 0):
                behind = index + 1
        for index, layer in enumerate(self.layers):
            entry = layer.entry
            if isinstance(entry, Sheet):
                if entry.kind == "membrane" and entry.sd_most_open >= GROUND_SHEET_SD_M:
                    behind = max(behind, index + 1)
                continue
            if entry.group in MINERAL or drains(layer) or self._outside_masonry(index):
                continue
            break
        return behind if behind < len(self.layers) else 0

    def _outside_masonry(self, index: int) -> bool:
        """Foam, glass or gravel that lies on the earth's side of masonry."""
        layer = self.layers[index]
        inert = is_insulation(layer) and layer.entry.family in INERT
        return (
            inert
            and any(bears(o) and o.entry.group == "masonry" for o in self.layers[index + 1 :])
            and self.place.kind == "wall"
        )

    @property
    def judged_from(self) -> int:
        """The first layer that is judged and not only reported."""
        return max(self.weather_side, self.earth_side)

    # --- what bears -----------------------------------------------------------------------------------

    def is_leaf(self, index: int) -> bool:
        """Whether a layer is a leaf of brick or stone before a frame: outermost, thin, and a frame or boards behind it."""
        layer = self.layers[index]
        outermost = not any(isinstance(other.entry, Solid) for other in self.layers[:index])
        thin = outermost and layer.entry.group == "masonry" and layer.framing is None and layer.thickness <= LEAF_M
        if not thin or is_soil(layer) or layer.role == "structure":
            return False
        behind = [o for o in self.layers[index + 1 :] if o.role != "lining"]
        if any(o.entry.group == "masonry" and bears(o) for o in behind):
            return False
        return any(is_wooden(o) or is_metal_framed(o) for o in behind)

    def _bears(self, index: int) -> bool:
        layer = self.layers[index]
        if layer.role == "structure":
            return True
        if layer.role or self.is_leaf(index) or self.is_ballast(index):
            return False
        return bears(layer) or layer.framing is not None

    def is_part_of_the_house(self, index: int) -> bool:
        """Whether a layer bears or sheathes and is neither what meets the weather nor battens."""
        layer = self.layers[index]
        battens = layer.framing is not None and layer.thickness < BATTENS_M
        return index >= self.weather_side and not battens and (self._bears(index) or layer.role == "sheathing")

    @cached_property
    def structure(self) -> int | None:
        """The outermost layer that bears or sheathes, inboard of the weather: masonry, logs, boards, a frame."""
        for index in range(self.weather_side, len(self.layers)):
            if self._bears(index) or self.layers[index].role == "sheathing":
                return index
        return None

    @cached_property
    def masonry(self) -> int | None:
        """The innermost masonry that bears (80 mm or more, no leaf before a frame)."""
        found = None
        for index, layer in enumerate(self.layers):
            if layer.entry.group == "masonry" and self._bears(index) and (bears(layer) or layer.role == "structure"):
                found = index
        return found

    @cached_property
    def between_members(self) -> int | None:
        """The outermost insulation between members: framed, or fibrous."""
        framed = [i for i, layer in enumerate(self.layers) if layer.framing is not None and is_insulation(layer)]
        fibre = [
            i
            for i, layer in enumerate(self.layers)
            if isinstance(layer.entry, Solid) and layer.entry.family in FIBROUS and not layer.entry.capillary_active
        ]
        return min(framed or fibre, default=None)

    @cached_property
    def half_timber(self) -> int | None:
        """Masonry or earth between timbers."""
        for index, layer in enumerate(self.layers):
            if (
                layer.framing is not None
                and not is_metal_framed(layer)
                and layer.thickness >= LOAD_BEARING_M
                and layer.entry.family in INFILL
            ):
                return index
        return None

    @cached_property
    def leaves(self) -> list[int]:
        """Leaves of masonry (80 mm or more) with air or insulation between them; one or none without."""
        found: list[int] = []
        apart = False
        for index, layer in enumerate(self.layers):
            if isinstance(layer.entry, AirLayer) or is_insulation(layer):
                apart = True
            elif (
                layer.entry.group == "masonry"
                and not is_soil(layer)
                and layer.role != "lining"
                and layer.thickness >= LOAD_BEARING_M
            ):
                if found and not apart:
                    found[-1] = index
                else:
                    found.append(index)
                apart = False
        return found

    @cached_property
    def cavity(self) -> list[BuildUpLayer]:
        """What lies between two leaves."""
        return self.layers[self.leaves[0] + 1 : self.leaves[1]] if len(self.leaves) >= 2 else []

    def is_bay(self, index: int) -> bool:
        """Whether an air layer is the space between members: framed deeper than battens, or still."""
        layer = self.layers[index]
        return isinstance(layer.entry, AirLayer) and (
            (layer.framing is not None and (layer.thickness >= BATTENS_M or not layer.entry.drains)) or not layer.entry.drains
        )  # fmt: skip

    @cached_property
    def bay(self) -> int | None:
        """The empty bay: air between the deepest members, else the thickest still air of 40 mm or more that is no cavity of masonry."""
        found = [index for index in range(len(self.layers)) if self.is_bay(index)]
        between = {layer.id for layer in self.cavity}
        framed = [index for index in found if self.layers[index].framing is not None]
        wide = [i for i in found if self.layers[i].thickness >= WIDE_BAY_M and self.layers[i].id not in between]
        if framed:
            return max(framed, key=lambda index: (self.layers[index].thickness >= BATTENS_M, -index))
        return max(wide, key=lambda index: self.layers[index].thickness, default=None)

    @cached_property
    def members(self) -> BuildUpLayer | None:
        """The layer of the deepest members that are no battens; None where none are drawn."""
        framed = [layer for layer in self.layers if layer.framing is not None]
        deep = [layer for layer in framed if layer.thickness >= BATTENS_M]
        return max(deep, key=lambda layer: layer.thickness, default=None)

    @cached_property
    def solid_deck(self) -> bool:
        """A roof or floor that is a slab, a vault, solid planks or metal: nothing lies between members, for there are none."""
        if self.place.kind == "wall" or self.members is not None or self.bay is not None:
            return False
        outermost = next((i for i, o in enumerate(self.layers) if isinstance(o.entry, Solid)), 0)
        return any(
            (bears(o) and o.entry.group == "masonry")
            or (isinstance(o.entry, Solid) and o.entry.timber is not None and o.thickness >= BATTENS_M)
            or (o.entry.family == "metal sheet" and index > outermost and not self.timber_anywhere)
            for index, o in enumerate(self.layers)
        )  # fmt: skip

    @cached_property
    def timber_anywhere(self) -> bool:
        return any(
            (isinstance(o.entry, Solid) and o.entry.timber is not None and o.role != "lining")
            or (o.framing is not None and not is_metal_framed(o))
            for o in self.layers
        )  # fmt: skip

    # --- the room's side ------------------------------------------------------------------------------

    @cached_property
    def lining_from(self) -> int:
        """The first layer of the lining: what lies inboard of what bears, of the bays and of the insulation."""
        last = -1 if self.bay is None else self.bay
        heavy_only = self.masonry is not None
        for index, layer in enumerate(self.layers):
            entry = layer.entry
            if layer.role == "lining" or not (isinstance(entry, Solid) or layer.framing is not None):
                continue
            heavy = (
                isinstance(entry, Solid)
                and entry.group in ("masonry", "insulation")
                and layer.thickness >= THIN_LINING_M
            )
            wood = (
                isinstance(entry, Solid) and entry.timber is not None and not entry.lapped and self.bay is None and not heavy_only
            )  # fmt: skip
            battens = (
                layer.framing is not None and layer.thickness < BATTENS_M and isinstance(entry, AirLayer) and last >= 0
            )
            if (
                (layer.framing is not None and not battens)
                or heavy
                or wood
                or layer.material == "logs"
                or layer.role in ("structure", "sheathing")
            ):
                last = max(last, index)
        return last + 1

"""Where room air and rain that get in meet an element, and how much of them: as stated, or by rule from its anatomy."""

from __future__ import annotations

from functools import cached_property

from core.buildup.anatomy import MINERAL, Anatomy, is_membrane
from core.buildup.model import (
    FILL_CARRIES,
    LEAK_Q50,
    OPEN_COVERING_LEAK,
    OPEN_FACE_SD_M,
    BuildUp,
    LeakPreset,
    Place,
    is_insulation,
)
from core.materials.library import AirLayer, Sheet, Solid


class Leaks:
    """The leaks of one build-up in its place."""

    def __init__(self, build_up: BuildUp, place: Place) -> None:
        self.of = Anatomy(build_up, place)
        self.layers = self.of.layers

    @cached_property
    def open_covering(self) -> bool:
        """A lapped covering with no sheet that sheds water between it and the boards or insulation behind."""
        first = next((layer for layer in self.layers if not isinstance(layer.entry, Sheet)), None)
        if first is None or not (isinstance(first.entry, Solid) and first.entry.lapped):
            return False
        for layer in self.layers[self.of.build_up.index(first.id) + 1 :]:
            if is_membrane(layer):
                return False
            if isinstance(layer.entry, Solid):
                return True
        return False

    def air_leak_by_rule(self) -> LeakPreset:
        """Careful where room air can pass behind or through a lining: frames, fibre, air layers behind boards.

        Masonry stops it: what lies outside of it alone is not reached.
        """
        masonry = self.of.masonry
        inboard = range(self.of.weather_side if masonry is None else masonry + 1, len(self.layers))
        between = self.of.between_members
        if between is not None and (masonry is None or between > masonry):
            return "careful"
        for index in inboard:
            entry = self.layers[index].entry
            if self.layers[index].framing is not None:
                return "careful"
            if isinstance(entry, AirLayer) and not entry.drains and any(is_insulation(layer) for layer in self.layers):
                return "careful"
        structure = self.of.structure
        if masonry is None and structure is not None:
            return "careful" if any(is_insulation(layer) for layer in self.layers[:structure]) else "none"
        return "none"

    @property
    def q50(self) -> float:
        """Air through the element [m³/(h m²)] at 50 Pa: as stated, or by rule."""
        leak = self.of.build_up.air_leak
        if leak.q50_m3_m2h is not None:
            return leak.q50_m3_m2h
        return LEAK_Q50[self.air_leak_by_rule() if leak.preset == "by rule" else leak.preset]

    @property
    def rain_share(self) -> float:
        """Share of the rain that leaks in: as stated, or by rule."""
        if self.of.build_up.rain_leak.share is not None:
            return self.of.build_up.rain_leak.share
        if self.of.place.kind == "wall" and self.filled_cavity:
            return FILL_CARRIES
        return OPEN_COVERING_LEAK if self.of.place.kind == "roof" and self.open_covering else 0.0

    @cached_property
    def filled_cavity(self) -> bool:
        """Two leaves with nothing but insulation between them, the outer one in the rain."""
        full = bool(self.of.cavity) and all(is_insulation(layer) for layer in self.of.cavity)
        return full and self.of.weather_side == 0 and self.of.skin is None and self.of.place.adjoining == "outside"

    def air_leak_layer(self) -> str:
        """Id of the layer at whose inner face leaking room air cools: as stated, or by rule.

        Rule: the inner face of the first sheet or sheathing outside the insulation between members; the inner face of
        masonry that is lined inside; with insulation outside the structure only, the outer face of its sheathing.
        """
        if self.of.build_up.air_leak.after_layer is not None:
            return self.of.build_up.air_leak.after_layer
        between, masonry = self.of.between_members, self.of.masonry
        if masonry is not None and any(is_insulation(layer) for layer in self.layers[masonry + 1 :]):
            inner = masonry
            while inner + 1 < len(self.layers) and self.layers[inner + 1].entry.group in MINERAL:
                inner += 1
            return self.layers[inner].id
        if between is not None and between > 0:
            return self._behind_a_face(between - 1)
        structure = self.of.structure
        if structure is not None and structure > 0:
            return self._behind_a_face(structure - 1)
        return self.layers[self._outermost_solid].id

    def _behind_a_face(self, index: int) -> str:
        """Id of a layer, or of the first one with thickness behind it where it is a tight sheet on the cold face: what leaks
        stays under the boards it lies on. An open sheet there lets it out."""
        layer = self.layers[index]
        if (
            isinstance(layer.entry, Sheet)
            and index < self._outermost_solid
            and layer.entry.sd_most_open > OPEN_FACE_SD_M
        ):
            return self.layers[self._outermost_solid].id
        return layer.id

    def rain_leak_layer(self) -> str:
        """Id of the layer at whose inner face rain that gets in arrives: as stated, or by rule.

        Rule: the outer face of what is declared to shed water; else of the structure, behind outside boards and behind claddings; in masonry where its lining
        or insulation begins; in a roof the boards under the covering; across a filled cavity the inner leaf.
        """
        if self.of.build_up.rain_leak.after_layer is not None:
            return self.of.build_up.rain_leak.after_layer
        if self.filled_cavity:
            return self.of.cavity[-1].id
        declared = next((i for i, layer in enumerate(self.layers) if layer.sheds_water), 0)
        if declared > 0:
            return self.layers[declared - 1].id
        structure = self.of.structure
        if structure is not None and structure > 0:
            return self._behind_a_face(structure - 1)
        first = self._outermost_solid
        for index in range(first + 1, len(self.layers)):
            if is_insulation(self.layers[index]):
                return self.layers[index - 1].id
        return self.layers[first].id

    @cached_property
    def _outermost_solid(self) -> int:
        return next(i for i, layer in enumerate(self.layers) if not isinstance(layer.entry, Sheet))

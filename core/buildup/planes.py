"""The plane that tests, studies and the drying ability look at: the one that could rot, mould or freeze first."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from core.buildup.anatomy import Anatomy
from core.buildup.model import BuildUp, BuildUpLayer, Place, is_insulation, is_metal_framed, is_wooden
from core.materials.library import AirLayer, Sheet, Solid

Face = Literal["outer", "inner"]
SENSITIVE = ("very_sensitive", "sensitive")


@dataclass(frozen=True)
class SensitivePlane:
    """A face of a layer, and why it is looked at."""

    layer_id: str
    layer: str
    face: Face
    because: str

    @property
    def words(self) -> str:
        """“inner face of sandstone rubble in lime”."""
        return f"{self.face} face of {self.layer}"


def _sensitive(layer: BuildUpLayer) -> bool:
    entry = layer.entry
    if layer.framing is not None and not is_metal_framed(layer):
        return True
    return isinstance(entry, Solid) and (entry.timber is not None or entry.mould_class in SENSITIVE)


def sensitive_plane(as_found: BuildUp, place: Place) -> SensitivePlane | None:
    """The plane of an element, found in what is there, and the same material plane in every option.

    In solid masonry the inner face of the structure, where linings, joist ends and plates sit. Else the outermost
    wood-based or moisture-sensitive layer inboard of the outermost drained or vented gap, at its cold face; cladding is
    passed over where boards or a frame stand behind it; a layer that is itself the weathered face, at its inner one. None
    where nothing there could rot, mould or freeze.
    """
    if not as_found.is_stated:
        return None
    layers, anatomy = as_found.layers, Anatomy(as_found, place)
    first = anatomy.judged_from
    if first > 0 and layers[first - 1].framing is not None and not is_metal_framed(layers[first - 1]):
        joists = layers[first - 1]  # members in a vented space: nothing stands between their cold side and its air
        return SensitivePlane(joists.id, joists.entry.name, "outer", "the cold side of the members")
    masonry = anatomy.masonry
    if masonry is not None and masonry >= first:
        outboard = [layer for layer in layers[first:masonry] if _sensitive(layer) and not is_insulation(layer)]
        if not outboard:
            name = layers[masonry].entry.name
            return SensitivePlane(
                layers[masonry].id, name, "inner", "linings, joist ends and plates sit at the inner face of the masonry"
            )
    for index in range(first, len(layers)):
        layer = layers[index]
        if not _sensitive(layer):
            continue
        if index == anatomy.skin and any(is_wooden(other) for other in layers[index + 1 :]):
            continue  # boards that shed the weather are renewed; what stands behind them is what rots unseen
        outermost = not any(isinstance(other.entry, Solid | AirLayer) for other in layers[:index])
        face: Face = "inner" if outermost and layer.framing is None else "outer"
        because = (
            "it is the weathered face"
            if face == "inner"
            else "the cold face of the outermost layer that could rot or mould"
        )
        return SensitivePlane(layer.id, layer.entry.name, face, because)
    return None


def plane_in(option: BuildUp, plane: SensitivePlane | None) -> tuple[SensitivePlane | None, str]:
    """The same plane in an option, or None with the reason why it has none."""
    if plane is None:
        return None, "as found nothing is stated that could rot, mould or freeze"
    for layer in option.layers:
        if layer.id == plane.layer_id:
            return plane, ""
    return None, f"this option has no {plane.layer}: there is no plane to set against as found"


def faces_room(build_up: BuildUp, plane: SensitivePlane) -> bool:
    """Whether the plane is the room's own face here: nothing with thickness lies inboard of it, so nothing there can trap water."""
    inboard = build_up.layers[build_up.index(plane.layer_id) + 1 :]
    return plane.face == "inner" and not any(isinstance(layer.entry, Solid | AirLayer) for layer in inboard)


def opening_plane(build_up: BuildUp, as_found: BuildUp, place: Place) -> str:
    """Id of the layer at whose inner face tests and studies open: the first cold plane that could rot, mould or freeze.

    Where as found has none, or this build-up not that one, its own; where nothing could, the inner face of its outermost layer.
    """
    plane, _ = plane_in(build_up, sensitive_plane(as_found, place))
    plane = plane or sensitive_plane(build_up, place)
    if plane is None:
        return next(layer.id for layer in build_up.layers if not isinstance(layer.entry, Sheet))
    if plane.face == "inner":
        return plane.layer_id
    before = build_up.layers[: build_up.index(plane.layer_id)]
    solid = [layer for layer in before if not (isinstance(layer.entry, Sheet) and layer.entry.kind == "coating")]
    return solid[-1].id if solid else plane.layer_id

"""From the layers of a case to nodes and edges.

Every layer becomes cells between two faces. A face between two layers in full contact is one shared
node; a membrane or a contact resistance splits it in two with a resistance edge between.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core import case as c
from core.case.resolve import resolve_material
from core.errors import CaseRefused

Array = NDArray[np.float64]
Ints = NDArray[np.int64]

FIRST_CELL, LARGEST_SHARE, AUTOMATIC_STRETCH = 1.0e-3, 0.1, 1.45
PERFECT_HEAT_CONTACT = 1.0e-6
"""m²K/W of a face that is said to have none: 10 µK at 10 W/m²."""
TIGHT_SD = 1.0e9


@dataclass(frozen=True)
class Grid:
    """Nodes from outside to inside. Depths [m] from the outer face; volume 0 marks a face."""

    depth: Array
    volume: Array
    material_left: Ints
    material_right: Ints
    node_layer: Ints  # index among the layers with thickness
    edge_kind: Ints  # 0 inside a material, 1 resistance
    edge_length: Array
    edge_heat: Array
    edge_sd: Array
    edge_table: Ints
    edge_rh_of: Ints
    edge_liquid: Array
    membranes: list[list[tuple[float, float]]]
    entry_faces: list[tuple[int, int]]  # per entry of case.layers: its outer and inner face node
    solid_entries: list[int]

    @property
    def size(self) -> int:
        return len(self.depth)


def cell_sizes(layer: c.Layer, thickness: float, refine: int = 1) -> Array:
    """Cell widths [m] of a layer, small at both faces. refine: every cell cut in so many equal parts."""
    if layer.thickness_m == "semi_infinite":
        count, stretch = layer.cells or 160, layer.stretch or 1.06
        sizes = stretch ** np.arange(count)
        return _cut(sizes / sizes.sum() * thickness, refine)
    if layer.cells is not None:
        ratio = layer.stretch or 1.0
        half = np.minimum(np.arange(layer.cells), np.arange(layer.cells)[::-1])
        sizes = ratio**half
        return _cut(sizes / sizes.sum() * thickness, refine)
    return _cut(_automatic(thickness, layer.stretch or AUTOMATIC_STRETCH), refine)


def _automatic(thickness: float, ratio: float) -> Array:
    """Cells from about 1 mm at both faces to a tenth of the layer in its middle."""
    first = min(FIRST_CELL, thickness / 8.0)
    sizes: list[float] = []
    reached, size = 0.0, first
    while reached < thickness / 2.0:
        sizes.append(size)
        reached += size
        size = min(size * ratio, max(first, LARGEST_SHARE * thickness))
    both = np.array(sizes + sizes[::-1])
    return both / both.sum() * thickness


def _cut(sizes: Array, parts: int) -> Array:
    return np.repeat(sizes / parts, parts)


def semi_infinite_thickness(case: c.Case, material: c.Material) -> float:
    """How deep heat is felt in the time of the case: 8 √(a t) [m], at least 0.5 m."""
    assert material.heat
    diffusivity = material.heat.conductivity_w_mk / (material.heat.density_kg_m3 * material.heat.specific_heat_j_kgk)
    return max(0.5, 8.0 * float(np.sqrt(diffusivity * case.time.length_s)))


def build_grid(case: c.Case, materials: dict[str, int], refine: int = 1) -> Grid:
    """The grid of a case. materials: index of each material's tables."""
    depth: list[float] = []
    volume: list[float] = []
    left: list[int] = []
    right: list[int] = []
    node_layer: list[int] = []
    edges: list[tuple[int, float, float, float, int, int, float]] = []
    membranes: list[list[tuple[float, float]]] = []
    entry_faces: list[tuple[int, int]] = []
    solid_entries: list[int] = []
    position = 0.0
    pending: c.Membrane | None = None
    pending_entry = -1
    previous: c.Layer | None = None

    def face(at: float, material: int, solid: int) -> None:
        depth.append(at)
        volume.append(0.0)
        left.append(material)
        right.append(material)
        node_layer.append(solid)

    for entry, layer in enumerate(case.layers):
        if isinstance(layer, c.Membrane):
            pending, pending_entry = layer, entry
            entry_faces.append((-1, -1))
            continue
        m, solid = materials[layer.material], len(solid_entries)
        thickness = (
            semi_infinite_thickness(case, resolve_material(case, layer.material))
            if layer.thickness_m == "semi_infinite"
            else layer.thickness_m
        )
        sizes = cell_sizes(layer, thickness, refine)
        if layer.thickness_m == "semi_infinite" and entry == 0 and len(case.layers) > 1:
            sizes = sizes[::-1]
        contact = previous.contact if previous is not None else c.Contact()
        shared = previous is not None and pending is None and contact == c.Contact()
        if not shared and (previous is not None or pending is not None):
            if previous is None:  # a membrane as the outermost entry: its outer side is a face of its own
                face(position, m, solid)
            edges.append(_resistance(pending, contact, membranes))
            if pending is not None:
                entry_faces[pending_entry] = (len(depth) - 1, len(depth))
        if shared:
            right[-1] = m
        else:
            face(position, m, solid)
        outer_face = len(depth) - 1
        centres = position + np.cumsum(sizes) - 0.5 * sizes
        lengths = np.concatenate(([0.5 * sizes[0]], 0.5 * (sizes[1:] + sizes[:-1]), [0.5 * sizes[-1]]))
        for index, size in enumerate(sizes):
            edges.append((0, float(lengths[index]), 1.0, 1.0, -1, 0, 0.0))
            depth.append(float(centres[index]))
            volume.append(float(size))
            left.append(m)
            right.append(m)
            node_layer.append(solid)
        edges.append((0, float(lengths[-1]), 1.0, 1.0, -1, 0, 0.0))
        position += thickness
        face(position, m, solid)
        entry_faces.append((outer_face, len(depth) - 1))
        solid_entries.append(entry)
        previous, pending = layer, None
    if pending is not None and previous is not None:  # a membrane as the innermost entry
        edges.append(_resistance(pending, previous.contact, membranes))
        entry_faces[pending_entry] = (len(depth) - 1, len(depth))
        face(position, left[-1], node_layer[-1])
    columns = list(zip(*edges, strict=True))
    return Grid(
        depth=np.array(depth),
        volume=np.array(volume),
        material_left=np.array(left, np.int64),
        material_right=np.array(right, np.int64),
        node_layer=np.array(node_layer, np.int64),
        edge_kind=np.array(columns[0], np.int64),
        edge_length=np.array(columns[1]),
        edge_heat=np.array(columns[2]),
        edge_sd=np.array(columns[3]),
        edge_table=np.array(columns[4], np.int64),
        edge_rh_of=np.array(columns[5], np.int64),
        edge_liquid=np.array(columns[6]),
        membranes=membranes,
        entry_faces=entry_faces,
        solid_entries=solid_entries,
    )


def _resistance(
    membrane: c.Membrane | None, contact: c.Contact, membranes: list[list[tuple[float, float]]]
) -> tuple[int, float, float, float, int, int, float]:
    if membrane is not None:
        heat = (membrane.heat_m2k_w + contact.heat_m2k_w) or PERFECT_HEAT_CONTACT
        which = {"mean": 0, "outer": 1, "inner": 2}[membrane.rh_of]
        if membrane.sd_by_rh is not None:
            membranes.append([(phi, sd + contact.vapour_sd_m) for phi, sd in membrane.sd_by_rh])
            return 1, 1.0, heat, 1.0, len(membranes) - 1, which, 0.0
        assert membrane.sd_m is not None
        return 1, 1.0, heat, membrane.sd_m + contact.vapour_sd_m, -1, which, 0.0
    liquid = contact.liquid_pa_m2s_kg if contact.hydraulic else 0.0
    if contact.hydraulic and liquid == 0.0:
        liquid = c.LEAST_LIQUID_CONTACT  # a kPa at the heaviest rain, 10 Pa in ordinary redistribution
    heat = contact.heat_m2k_w or PERFECT_HEAT_CONTACT
    return 1, 1.0, heat, contact.vapour_sd_m or 1e-6, -1, 0, liquid


@dataclass(frozen=True)
class PlanePlace:
    """Where a plane lies: a node, and for a depth inside a layer the next one with its share of the value.

    inner: the water content is that of the material on the inner side of a face that two materials share.
    """

    node: int
    next_node: int
    share: float
    inner: bool


def plane_place(case: c.Case, grid: Grid, plane: c.Plane) -> PlanePlace:
    """The nodes whose values are the plane's. Raises CaseRefused for a depth that is not in its layer."""
    if plane.after_layer == -1:
        return PlanePlace(0, 0, 0.0, False)
    outer, inner = grid.entry_faces[plane.after_layer]
    layer = case.layers[plane.after_layer]
    if plane.depth_m is not None:
        if isinstance(layer, c.Membrane):
            raise CaseRefused(f"plane “{plane.name}” has a depth inside a membrane", "output.planes")
        wanted = grid.depth[outer] + plane.depth_m
        if wanted > grid.depth[inner] + 1e-12:
            raise CaseRefused(f"plane “{plane.name}” lies deeper than its layer is thick", "output.planes")
        after = min(max(outer + int(np.searchsorted(grid.depth[outer : inner + 1], wanted)), outer + 1), inner)
        share = (wanted - grid.depth[after - 1]) / (grid.depth[after] - grid.depth[after - 1])
        return PlanePlace(after - 1, after, float(min(max(share, 0.0), 1.0)), after - 1 == outer)
    if isinstance(layer, c.Membrane):
        node = outer if plane.side == "outer" else inner
        return PlanePlace(node, node, 0.0, False)
    return PlanePlace(inner, inner, 0.0, plane.side == "inner")

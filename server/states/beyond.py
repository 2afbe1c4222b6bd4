"""What lies beyond an element in one state: outside air, ground or a cold space, and so the U to the outside air of whatever stands there.

The sheet of options and the table of heat both read it here, so that they cannot differ.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from core.buildup.model import Place
from core.buildup.room import room_air
from core.climate.data import shipped
from core.heat_loss import degree_hours
from core.say import Said, length, resistance, said, say
from core.thermal.iso6946 import Transmittance
from core.thermal.iso13370 import EdgeInsulation, GroundPlace, below_ground
from core.zones.assemble import State
from core.zones.factors import SpaceLoss, part_u, space_losses
from server.projects.models import Element, Project
from server.states.state import Row, Shown, edge_of, ground_of, rows_of, shown_of, state_of


@lru_cache(maxsize=64)
def yearly_degree_hours(climate: str, set_point: float, occupancy: str) -> float:
    """K h a year: to the set-point, or by the hours of a room that is heated now and then, or was measured."""
    place = Place(climate=climate, set_point_c=set_point, occupancy=occupancy)
    if place.profile not in ("measured", "now_and_then"):
        return degree_hours(shipped(climate), set_point)
    return degree_hours(shipped(climate), set_point, room_air(place)[0])


@dataclass(frozen=True)
class Beyond:
    """b: typed, constant or 1 with its words; space: the cold space, and what else of the house loses heat to it [W/K]; ground: for ISO 13370."""

    kind: str
    area_m2: float
    b: float = 1.0
    words: Said = said("")
    ground: GroundPlace | None = None
    edge: EdgeInsulation | None = None
    space: SpaceLoss | None = None
    others_w_k: float = 0.0

    def of(self, made: Transmittance) -> tuple[float, float, Said]:
        """(U [W/m²K], b, words) of a construction: U effective with its b, or U to the outside air through the ground with b 1."""
        if self.ground is None:
            b, words = self.factor(made.u_effective)
            return made.u_effective, b, words
        layers = max(made.r_effective - made.internal_surface - made.external_surface, 0.0)
        u = below_ground(self.ground, self.kind, layers, self.area_m2, self.edge).steady / self.area_m2
        soil = self.ground.soil
        if self.kind == "wall":
            depth = length(self.ground.depth_m, 1)
            return u, 1.0, say("ISO 13370: soil {soil}, foot {depth} below ground", soil=soil, depth=depth)
        edge = say(
            ", {way} edge insulation, {reach}, {r}", way="vertical" if self.edge.upright else "horizontal",
            reach=length(self.edge.reach_m, 2), r=resistance(self.edge.thickness_m / self.edge.conductivity_w_mk),
        ) if self.edge is not None else said("")  # fmt: skip
        words = say(
            "ISO 13370: B′ {b}, soil {soil}{edge}", b=length(self.ground.characteristic_m, 1), soil=soil, edge=edge
        )
        return u, 1.0, words

    @property
    def is_not_air(self) -> bool:
        """Whether ground or a space lies between it and the outside air."""
        return self.ground is not None or self.space is not None or self.words.metric != ""

    def factor(self, u: float) -> tuple[float, Said]:
        """(b, words) where something of this U stands: of a cold space the better it is, the colder the space and the higher b."""
        if self.space is None:
            return self.b, self.words
        b = self.space.b_with(self.others_w_k + self.area_m2 * u)
        return b, said(f"b {b:.2f} of the {self.space.name} (ISO 13789)")


def beyond(shown: Shown, row: Row, state: State, spaces: dict[str, SpaceLoss], after: bool) -> Beyond:
    """Of a row of the heated line in one state."""
    element, area = row.element, max(row.area_m2, 1e-6)
    ground = ground_of(shown, element, after) if element.has_build_up else None
    if ground is not None:
        return Beyond(element.kind, area, ground=ground, edge=edge_of(state.stated, row.key, element.kind))
    if "factor_b" in element.typed or (not element.shape_key and element.factor_b != 1.0):
        return Beyond(element.kind, area, element.factor_b, said(f"b {element.factor_b:g} typed"))
    part = next((one for one in state.parts if one.key == row.key), None)
    side = part.side if part is not None else next((s.id for s in state.spaces if row.key in s.borders), "")
    if side in spaces:
        now = part_u(part) if part is not None else None
        others = spaces[side].inner_w_k - (part.area_m2 * now if part is not None and now is not None else 0.0)
        return Beyond(element.kind, area, space=spaces[side], others_w_k=max(others, 0.0))
    why = {
        "ground": "its exposed perimeter or depth is not stated",
        "unheated": "the space behind it is not in the shape",
    }.get(element.adjoining)
    words = said(f"a constant factor b of {element.factor_b:g}: {why}" if why else "")
    return Beyond(element.kind, area, element.factor_b, words)


def beyond_all(project: Project, after: bool) -> dict[int, Beyond]:
    """Of every element of the line in one state, by its id: where many are asked for at once."""
    shown = shown_of(project)
    state = state_of(shown, after)
    spaces = space_losses(state)
    return {row.element.pk: beyond(shown, row, state, spaces, after) for row in rows_of(shown, after)}


def beyond_of(element: Element, after: bool) -> Beyond:
    """Of one element, as found or after the works of the scheme that is shown; in the other state where it stands in that one only."""
    follows = element.shape_key and not element.project.shown_scheme().current_changes.nothing
    if element.adjoining == "outside" and not follows:
        return Beyond(element.kind, max(element.area_m2, 1e-6))
    shown = shown_of(element.project)
    for late in (after, not after):
        row = next((one for one in rows_of(shown, late) if one.element.pk == element.pk), None)
        if row is not None:
            state = state_of(shown, late)
            return beyond(shown, row, state, space_losses(state), late)
    words = said(f"b {element.factor_b:g}: it is not in the shape" if element.factor_b != 1.0 else "")
    return Beyond(element.kind, max(element.area_m2, 1e-6), element.factor_b, words)

"""Factor b of cold spaces, ISO 13789: b = H_ue / (H_iu + H_ue), from what borders on the house and what faces outside.

The earth below a space by ISO 13370. One figure for the heating season; the hourly year has the temperature of every hour.
"""

from __future__ import annotations

from dataclasses import dataclass

from core.errors import CaseRefused
from core.physics.constants import AIR_WH_M3K
from core.say import Said, said, say, u_value
from core.survey.cold import ColdSpace
from core.thermal.iso6946 import transmittance
from core.thermal.iso13370 import GroundPlace, below_ground
from core.zones.assemble import CHANGES_WORDS, SKIN, USUAL_CHANGES, Part, State, vent_changes
from core.zones.stated import SpaceStated


@dataclass(frozen=True)
class SpaceLoss:
    """b of one space, with H_iu and H_ue [W/K]; assumed: what nobody stated of it, in words."""

    id: str
    name: str
    kind: str
    b: float
    inner_w_k: float
    skins_w_k: float
    earth_w_k: float
    air_w_k: float
    air_changes: float
    assumed: list[Said]

    @property
    def outer_w_k(self) -> float:
        return self.skins_w_k + self.earth_w_k + self.air_w_k

    def b_with(self, inner_w_k: float) -> float:
        """b where another coefficient [W/K] lies between the rooms and it."""
        whole = inner_w_k + self.outer_w_k
        return self.outer_w_k / whole if whole > 0.0 else 1.0


def part_u(part: Part) -> float | None:
    """U effective of an element; None where it cannot be reckoned."""
    if part.build_up is None:
        return part.u_w_m2k
    try:
        return transmittance(part.build_up, part.kind).u_effective
    except CaseRefused:
        return None


def space_losses(state: State) -> dict[str, SpaceLoss]:
    """Of every cold space of a state, by id. Elements whose U is not known are left out of H_iu, as they are of the house."""
    inner: dict[str, float] = {}
    for part in state.parts:
        u = part_u(part)
        if u is not None:
            inner[part.side] = inner.get(part.side, 0.0) + part.area_m2 * u
    return {space.id: _loss(state, space, inner.get(space.id, 0.0)) for space in state.spaces}


def _loss(state: State, space: ColdSpace, inner: float) -> SpaceLoss:
    stated = state.stated.space(space.id)
    skins = earth = 0.0
    assumed: list[Said] = []
    for skin in space.skins:
        if skin.kind in ("earth floor", "earth wall"):
            place = GroundPlace(
                area_m2=max(space.floor_m2, 0.1), perimeter_m=max(space.perimeter_m, 0.1), wall_m=space.wall_m, soil=state.soil,
                depth_m=space.depth_m,
            )  # fmt: skip
            kind = "wall" if skin.kind == "earth wall" else "floor"
            earth += below_ground(place, kind, 0.0, skin.area_m2).steady * (
                skin.area_m2 / place.area_m2 if kind == "floor" else 1.0
            )
            continue
        u, words = _skin_u(state, skin.kind, skin.key, stated)
        skins += skin.area_m2 * u
        if words is not None and words not in assumed:
            assumed.append(words)
    changes = stated.air_changes
    if stated.vents_m2 is not None:
        changes = vent_changes(space, stated, state.wind_m_s, state.wind_factor)
    if changes is None:
        changes = USUAL_CHANGES[space.kind]
        assumed.append(said(f"{changes:g} air changes an hour: {CHANGES_WORDS[space.kind]} (ISO 13789)"))
    air = AIR_WH_M3K * changes * space.volume_m3
    outer = skins + earth + air
    b = outer / (inner + outer) if inner + outer > 0.0 else 1.0
    return SpaceLoss(space.id, space.name, space.kind, b, inner, skins, earth, air, changes, assumed)


def _skin_u(state: State, kind: str, key: str, stated: SpaceStated) -> tuple[float, Said | None]:
    typed = stated.roof_u_w_m2k if kind == "roof" else stated.wall_u_w_m2k
    if typed is not None:
        return typed, None
    build_up = state.skins.get(key)
    if build_up is not None and build_up.is_stated:
        try:
            return transmittance(build_up, kind).u_effective, None
        except CaseRefused:
            pass
    return SKIN[kind][0], say("{what}s with {u}, as their layers are not stated", what=kind, u=u_value(SKIN[kind][0]))

"""What the options sheet shows as one types: everything steady about one build-up, in a few milliseconds."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

from core.buildup.model import BuildUp, Limits, Place, datum_layer, growth
from core.buildup.to_case import Model, model_of, why_no_transient
from core.climate.data import Climate, shipped
from core.errors import CaseRefused, OutOfRange
from core.moisture.steady import (
    Condensation,
    DryingAbility,
    FreeDrying,
    ProfilePlane,
    condensation,
    drying_ability,
    free_drying,
    vapour_profile,
)
from core.moisture.traps import Trap, traps
from core.thermal.iso6946 import Transmittance, transmittance


@dataclass(frozen=True)
class Preview:
    """Steady figures of an option. `refused`: a sentence in place of U where ISO 6946 does not hold."""

    thermal: Transmittance | None
    refused: str
    thickness_m: float
    room_lost_m: float
    growth_outside_m: float
    over_limits: list[str]
    drying: DryingAbility | None
    drying_plane: str
    condensation: Condensation | None
    traps: list[Trap]
    profile: list[ProfilePlane]
    free_drying: FreeDrying | None
    leak_layer: str
    rain_leak_layer: str
    transient_refused: str
    case_hash: str

    def as_document(self) -> dict[str, Any]:
        """Plain data."""
        return asdict(self)


def preview(as_found: BuildUp, option: BuildUp, place: Place, limits: Limits) -> Preview:
    """The figures under a strip. A part that cannot be computed is None with the reason beside it."""
    climate = shipped(place.climate)
    outside, room = growth(as_found, option)
    thermal: Transmittance | None = None
    refused = ""
    try:
        thermal = transmittance(option, place.kind)
    except CaseRefused as error:
        refused = error.message
    datum = datum_layer(as_found).id
    plane = datum if any(layer.id == datum for layer in option.layers) else option.layers[0].id
    steady = place.adjoining != "ground"
    transient_refused, case_hash = case_state(option, place)
    return Preview(
        thermal=thermal,
        refused=refused,
        thickness_m=option.thickness,
        room_lost_m=room,
        growth_outside_m=outside,
        over_limits=over_limits(outside, room, limits),
        drying=drying_ability(option, place, climate, plane) if steady else None,
        drying_plane=plane,
        condensation=condensation(option, place, climate) if steady else None,
        traps=traps(option),
        profile=vapour_profile(option),
        free_drying=_free_drying(option, place, climate, plane) if steady else None,
        leak_layer=option.leak_layer(option.air_leak),
        rain_leak_layer=option.leak_layer(option.rain_leak),
        transient_refused=transient_refused,
        case_hash=case_hash,
    )


def _free_drying(option: BuildUp, place: Place, climate: Climate, layer_id: str) -> FreeDrying | None:
    try:
        return free_drying(option, place, climate, layer_id)
    except OutOfRange:
        return None  # the datum lies outside a ventilated cavity, where the steady check does not look


def over_limits(outside: float, room: float, limits: Limits) -> list[str]:
    """A sentence for each limit line that is passed."""
    found = []
    if limits.room_mm is not None and room * 1000.0 > limits.room_mm + 1e-9:
        found.append(f"takes {room * 1000:.0f} mm of the room; the limit is {limits.room_mm:.0f} mm")
    if limits.outside_mm is not None and outside * 1000.0 > limits.outside_mm + 1e-9:
        found.append(f"grows {outside * 1000:.0f} mm outside; the limit is {limits.outside_mm:.0f} mm")
    return found


def case_state(option: BuildUp, place: Place) -> tuple[str, str]:
    """(why the hourly years are not available or "", hash of the case or "")."""
    reason = why_no_transient(option, place)
    if reason:
        return reason, ""
    try:
        model: Model = model_of(option, place)
    except CaseRefused as error:
        return error.message, ""
    return "", model.case.hash

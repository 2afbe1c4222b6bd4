"""What the options sheet shows as one types: everything steady about one build-up, in a few milliseconds."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from core.assembly.roles import roles_of
from core.assembly.to_case import found_model, model_of, run_key, why_no_transient
from core.buildup.anatomy import LayerRoles
from core.buildup.background import background_words, foot_m
from core.buildup.growth import aligned, comes_off, datum_layer, growth, matched_words
from core.buildup.leaks import Leaks
from core.buildup.model import BuildUp, Limits, LimitSide, Place, at_fascia, mass
from core.buildup.planes import SensitivePlane, faces_room, opening_plane, plane_in, sensitive_plane
from core.climate.data import Climate, shipped
from core.errors import CaseRefused, OutOfRange
from core.moisture.steady import (
    Condensation,
    DryingAbility,
    DryingLeft,
    FreeDrying,
    ProfilePlane,
    condensation,
    drying_ability,
    drying_left,
    free_drying,
    vapour_profile,
)
from core.moisture.traps import Trap, traps
from core.say import Said, mass_per_area, say, thickness
from core.thermal.iso6946 import Transmittance, transmittance
from core.thermal.ladder import Ladder, ladder_or_why

LEAST_REVEAL_MM = 20.0  # of insulation that turns in at a reveal; less leaves the edge of the window cold. Ours
LEAST_COAT_M = 0.02  # from here what is put on a wall has to turn in


@dataclass(frozen=True)
class Preview:
    """Steady figures of an option. comes_off: layers of as found that are not in it any more. `refused`: a sentence in place of U where ISO 6946 does not hold."""

    thermal: Transmittance | None
    refused: str
    thickness_m: float
    room_lost_m: float
    growth_outside_m: float
    over_limits: list[OverLimit]
    added_kg_m2: float
    background: list[Said]
    matched: list[Said]
    comes_off: list[str]
    roles: list[LayerRoles]
    drying: DryingAbility | None
    drying_left: DryingLeft
    plane: SensitivePlane | None
    opening_plane: str
    condensation: Condensation | None
    traps: list[Trap]
    profile: list[ProfilePlane]
    free_drying: FreeDrying | None
    leak_preset: str
    leak_q50: float
    leak_layer: str
    rain_leak_share: float
    rain_leak_layer: str
    transient_refused: str
    case_hash: str
    ladder: Ladder | None


def preview(as_found: BuildUp, option: BuildUp, place: Place, limits: Limits, is_as_found: bool = False) -> Preview:
    """The figures under a strip. A part that cannot be computed is None with the reason beside it."""
    if not option.is_stated:
        return _nothing_stated(option, place)
    climate = shipped(place.climate)
    drawn, option = option, aligned(as_found, option)
    outside, room = taken(as_found, option, place) if as_found.is_stated else (0.0, 0.0)
    on_the_ground = place.adjoining == "ground" and place.kind == "floor"  # nothing bears it but the soil
    added = mass(option) - mass(as_found) if as_found.is_stated and not on_the_ground else 0.0
    thermal: Transmittance | None = None
    refused = ""
    try:
        thermal = transmittance(option, place.kind)
    except CaseRefused as error:
        refused = error.message
    steady = place.adjoining != "ground"
    found_plane = sensitive_plane(as_found, place)
    plane, no_plane = plane_in(option, found_plane)
    plane = plane or sensitive_plane(option, place)  # where as found has none, or it is gone, what is new gives its own
    drying, why_not = _drying(option, place, climate, plane, no_plane)
    before, why_before = _drying(as_found, place, climate, found_plane, why_not)
    why_not = why_not or no_plane or (f"as found {why_before}" if why_before else "")
    transient_refused, case_hash = case_state(option, place, None if is_as_found else as_found)
    leak, leaks = option.air_leak.preset, Leaks(option, place)
    return Preview(
        thermal=thermal,
        refused=refused,
        thickness_m=option.thickness,
        room_lost_m=room,
        growth_outside_m=outside,
        over_limits=over_limits(outside, room, added, limits, place),
        added_kg_m2=added,
        background=background_words(as_found, option, place) if as_found.is_stated else [],
        matched=matched_words(as_found, drawn),
        comes_off=[layer.id for layer in comes_off(as_found, option)],
        roles=roles_of(drawn, place),
        drying=drying,
        drying_left=drying_left(None if no_plane else drying, before, why_not),
        plane=plane,
        opening_plane=opening_plane(option, as_found, place),
        condensation=condensation(option, place, climate) if steady else None,
        traps=traps(option, place),
        profile=vapour_profile(option),
        free_drying=_free_drying(option, place, climate, plane or found_plane) if steady else None,
        leak_preset=leaks.air_leak_by_rule() if leak == "by rule" else leak,
        leak_q50=leaks.q50,
        leak_layer=leaks.air_leak_layer(),
        rain_leak_share=leaks.rain_share,
        rain_leak_layer=leaks.rain_leak_layer(),
        transient_refused=transient_refused,
        case_hash=case_hash,
        ladder=ladder_or_why(option, place)[0],
    )


def _drying(
    build_up: BuildUp, place: Place, climate: Climate, plane: SensitivePlane | None, why_not: str
) -> tuple[DryingAbility | None, str]:
    """Drying ability from a plane, or why there is none."""
    if place.adjoining == "ground":
        return None, "against the ground the soil decides"
    if plane is None:
        return None, why_not
    if faces_room(build_up, plane):
        return None, "the plane is the room's own face"
    return drying_ability(build_up, place, climate, plane), ""


def _nothing_stated(option: BuildUp, place: Place) -> Preview:
    """No figure without layers: nothing is made up."""
    words = why_no_transient(option, place)
    return Preview(
        thermal=None,
        refused=words,
        thickness_m=0.0,
        room_lost_m=0.0,
        growth_outside_m=0.0,
        over_limits=[],
        added_kg_m2=0.0,
        background=[],
        matched=[],
        comes_off=[],
        roles=[],
        drying=None,
        drying_left=DryingLeft(None, words),
        plane=None,
        opening_plane="",
        condensation=None,
        traps=[],
        profile=[],
        free_drying=None,
        leak_preset="none",
        leak_q50=0.0,
        leak_layer="",
        rain_leak_share=0.0,
        rain_leak_layer="",
        transient_refused=words,
        case_hash="",
        ladder=None,
    )


def _free_drying(option: BuildUp, place: Place, climate: Climate, plane: SensitivePlane | None) -> FreeDrying | None:
    layer_id = plane.layer_id if plane is not None else datum_layer(option, place).id
    try:
        return free_drying(option, place, climate, layer_id)
    except OutOfRange:
        return None  # the plane lies outside a ventilated cavity, where the steady check does not look


def taken(as_found: BuildUp, option: BuildUp, place: Place) -> tuple[float, float]:
    """(growth outside, room lost) [m], with what a proud foot adds to either."""
    outside, room = growth(as_found, option, place)
    plinth, foot = foot_m(as_found, option, place)
    return outside + plinth, room + foot


class OverLimit(Said):
    """A limit that is passed, and which: `edge` is of insulation that ends at a reveal."""

    side: LimitSide | Literal["edge"]


def _over(side: LimitSide | Literal["edge"], words: Said) -> OverLimit:
    return OverLimit(side=side, metric=words.metric, inch=words.inch)


def over_limits(outside: float, room: float, added_kg_m2: float, limits: Limits, place: Place) -> list[OverLimit]:
    """A sentence for each limit that is passed, by its name where it has one. outside, room [m]."""
    sides: tuple[tuple[LimitSide, str, float, float | None, Callable[[float], Said]], ...] = (
        ("room", "It takes {much} of the room", room * 1000.0, limits.room_mm, _millimetres),
        ("outside", "It grows {much} outside", outside * 1000.0, limits.outside_mm, _millimetres),
        ("weight", "It adds {much}", added_kg_m2, limits.weight_kg_m2, mass_per_area),
    )
    fascia = at_fascia(place.kind, place.slope_deg)
    found = []
    for side, words, much, tightest, show in sides:
        named = [one for one in limits.named if one.side == side]
        square = [one.most / (fascia if one.kind == "eaves" else 1.0) for one in named]
        for one, most in zip(named, square, strict=True):
            if much > most + 1e-9:
                here = much * one.most / most if most > 0.0 else much
                told = say(
                    words + "; at most {most}, for {name}.", much=show(here), name=one.words, most=show(one.most)
                )
                found.append(_over(side, told))
        if tightest is not None and much > tightest + 1e-9 and all(most > tightest + 1e-9 for most in square):
            found.append(_over(side, say(words + "; the limit is {most}.", much=show(much), most=show(tightest))))
    if limits.reveal_mm is not None and limits.reveal_mm < LEAST_REVEAL_MM:
        where = "outside" if outside >= LEAST_COAT_M else "inside" if room >= LEAST_COAT_M else ""
        if where:
            told = say(
                "Insulation {side} turns in at the reveals by {least} at least, or the edge of the window stays cold; {most} fits.",
                side=where,
                least=_millimetres(LEAST_REVEAL_MM),
                most=_millimetres(limits.reveal_mm),
            )
            found.append(_over("edge", told))
    return found


def _millimetres(much: float) -> Said:
    return thickness(much / 1000.0)


def case_state(option: BuildUp, place: Place, as_found: BuildUp | None = None) -> tuple[str, str]:
    """(why the hourly years are not available or "", identity of the run or "").

    as_found: from whose settled state the existing layers start; None for as found itself.
    """
    reason = why_no_transient(option, place)
    if reason:
        return reason, ""
    try:
        model = model_of(option, place, new=as_found is not None)
        found = found_model(as_found, place)
    except CaseRefused as error:
        return error.message, ""
    return "", run_key(model.case, None if found is None else found.case)

"""Proposals for an element: each way that applies, built to its thickness, ranked; each that does not, with the reason.

The thickness is the least that meets the target U within every limit, or else the most that is sound and fits. Inside masonry
*sound* is bounded by a rule of thumb (`sound_r_inside`) until the hourly years of the option have been run.
"""

from __future__ import annotations

from dataclasses import dataclass

from core.buildup.model import BuildUp, growth, is_insulation, mass
from core.errors import CaseRefused, OutOfRange
from core.moisture.traps import traps
from core.preview import over_limits
from core.proposals.build import build
from core.proposals.rules import Does, NewLayer, SoundR, Way, rules, school_of
from core.proposals.situation import MASONRY, Situation
from core.say import Said, join, read_quantities, resistance, say, thickness, u_value
from core.thermal.as_built import as_built_conductivity
from core.thermal.iso6946 import transmittance
from core.thermal.iso13370 import slab_transmittance


@dataclass(frozen=True)
class Offered:
    """A way that applies, as a complete build-up.

    u: U effective, None where ISO 6946 refuses (refused says why). grown_mm: of its grown layer, None without one; why: what set
    it. reached: the target is met. sound: nothing speaks against it but doubts. doubts, first: in words.
    """

    way: str
    school: str
    name: str
    build_up: BuildUp
    u: float | None
    refused: str
    grown_mm: float | None
    why: Said
    reached: bool
    sound: bool
    growth_m: float
    room_m: float
    over_limits: list[Said]
    says: Said
    relies_on: list[Said]
    fails_when: list[Said]
    doubts: list[Said]
    first: list[Said]
    does_to: dict[Does, Said]
    while_open: Said
    animals: Said
    later: Said
    objection: Said
    reversible: Said
    takes: Said


@dataclass(frozen=True)
class NotOffered:
    """A way, or a school, that does not apply, and why."""

    school: str
    name: str
    because: list[Said]


@dataclass(frozen=True)
class Proposals:
    """headline: what is soundly reachable here, and the first step. offered: best first."""

    make: str
    headline: Said
    offered: list[Offered]
    refused: list[NotOffered]
    note: str


@dataclass(frozen=True)
class _Tried:
    """One build-up of a way that was tried."""

    mm: float | None
    build_up: BuildUp
    u: float | None
    refused: str
    growth_m: float
    room_m: float
    over: list[Said]
    inside_r: float


def propose(at: Situation) -> Proposals:
    """Every way for this make of element, offered or refused."""
    offered: list[Offered] = []
    refused: list[NotOffered] = []
    for way in rules().ways:
        if at.make not in way.makes:
            continue
        school = school_of(way)
        because = [read_quantities(line.because) for line in way.not_where if at.holds(line.when)]
        if not because:
            try:
                offered.append(_offer(way, at))
                continue
            except (OutOfRange, CaseRefused) as error:
                because = [read_quantities(f"{error.message[:1].upper()}{error.message[1:]}.")]
        refused.append(NotOffered(school.name, way.name, because))
    offered.sort(key=_rank)
    return Proposals(at.called, _headline(at, offered), offered, refused, rules().note)


def _rank(one: Offered) -> tuple[bool, bool, int, float]:
    """Sound and to the target first; then fewer doubts; then the lower U."""
    return (not one.sound, not one.reached, len(one.doubts), one.u if one.u is not None else 9.0)


def _try(way: Way, at: Situation, mm: float | None) -> _Tried:
    build_up = build(way, at, mm)
    u, refused = None, ""
    try:
        u = _u(at, build_up)
    except CaseRefused as error:
        refused = error.message
    outside, room = growth(at.as_found, build_up)
    return _Tried(
        mm,
        build_up,
        u,
        refused,
        outside,
        room,
        over_limits(outside, room, mass(build_up) - mass(at.as_found), at.stand.limits),
        _inside_r(at, build_up),
    )


def _u(at: Situation, build_up: BuildUp) -> float:
    """U effective; of a slab to the outside air, where its perimeter is known (ISO 13370)."""
    thermal = transmittance(build_up, at.stand.place.kind)
    if at.stand.ground is None:
        return thermal.u_effective
    layers = thermal.r_effective - thermal.internal_surface - thermal.external_surface
    return slab_transmittance(at.stand.ground, max(layers, 0.0))


def _inside_r(at: Situation, build_up: BuildUp) -> float:
    """R of what insulates inboard of masonry [m² K/W]; 0 elsewhere."""
    place = build_up.masonry
    if at.make not in MASONRY or place is None:
        return 0.0
    inboard = [layer for layer in build_up.layers[place + 1 :] if is_insulation(layer)]
    return sum(layer.thickness / as_built_conductivity(layer) for layer in inboard)


def sound_r(at: Situation) -> SoundR:
    """The line of the rule that holds here."""
    return next(line for line in rules().sound_r_inside if at.holds(line.when))


def _offer(way: Way, at: Situation) -> Offered:
    limits = at.stand.limits
    target = limits.target_u_w_m2k
    grown = _grown(way)
    tried = [_try(way, at, mm) for mm in (grown.steps or [])] if grown is not None else [_try(way, at, None)]
    most = sound_r(at)
    fits = [one for one in tried if not one.over]
    sound = [one for one in fits if one.inside_r <= most.r + 0.05]
    meets = [one for one in sound if limits.reached_by(one.u)]
    if meets:
        chosen, why = meets[0], say("the least that meets {u}", u=u_value(target or 0.0))
    elif sound and target is None:
        chosen = sound[len(sound) // 2]
        why = say("no target is set: a usual thickness")
    elif sound:
        chosen = sound[-1]
        why = _what_bounds(chosen, tried, fits, most)
    else:
        chosen, why = (
            tried[0],
            (say("the least there is, and more than the limits give") if not fits else _by_rain(most)),
        )
    if grown is None:
        why = say("as deep as the place for it")
    closed = [trap.sentence for trap in traps(chosen.build_up) if trap.tight]
    doubts = [read_quantities(line.words) for line in way.doubts if at.holds(line.when)] + closed
    school = school_of(way)
    return Offered(
        way=way.id,
        school=school.name,
        name=way.name,
        build_up=chosen.build_up,
        u=chosen.u,
        refused=chosen.refused,
        grown_mm=chosen.mm,
        why=why,
        reached=limits.reached_by(chosen.u),
        sound=not closed and not chosen.over and chosen in sound and not chosen.refused,
        growth_m=chosen.growth_m,
        room_m=chosen.room_m,
        over_limits=chosen.over,
        says=read_quantities(school.says),
        relies_on=[read_quantities(words) for words in school.relies_on],
        fails_when=[read_quantities(words) for words in school.fails_when],
        doubts=doubts,
        first=[read_quantities(line.words) for line in way.first if at.holds(line.when)],
        does_to={name: read_quantities(words) for name, words in way.does_to.items()},
        while_open=read_quantities(way.while_open),
        animals=read_quantities(way.animals),
        later=read_quantities(way.later),
        objection=read_quantities(school.objection),
        reversible=read_quantities(way.reversible),
        takes=read_quantities(way.takes),
    )


def _grown(way: Way) -> NewLayer | None:
    return next((one for one in [*way.outside, *way.under_covering, *way.inside] if one.steps is not None), None)


def _what_bounds(chosen: _Tried, tried: list[_Tried], fits: list[_Tried], most: SoundR) -> Said:
    """Why it is no thicker."""
    after = [one for one in tried if (one.mm or 0.0) > (chosen.mm or 0.0)]
    if not after:
        return say("the thickest there is")
    if after[0] in fits:
        return _by_rain(most)
    return join([say("the most that fits:"), after[0].over[0].lowered()])


def _by_rain(most: SoundR) -> Said:
    return say(
        "{words} no more than R {r} inside is taken for sound, until its years say otherwise",
        words=most.words,
        r=resistance(most.r),
    )


def _headline(at: Situation, offered: list[Offered]) -> Said:
    target = at.stand.limits.target_u_w_m2k
    sound = [one for one in offered if one.sound and one.u is not None]
    rain = " First keep the rain off." if at.holds(["rain soaked"]) else ""
    if not offered:
        return say("Nothing that is known here can be done to it as it stands.")
    if target is None:
        return say("No target is set for it: state one in the Brief, and thickness follows it." + rain)
    reached = [one for one in sound if one.reached]
    if reached:
        ways = "one way" if len(reached) == 1 else f"{len(reached)} ways"
        return say(
            "{u} is reached soundly by {ways}, as far as rules can tell." + rain, u=u_value(target), ways=ways
        ).capitalised()
    if not sound and all(one.over_limits for one in offered):
        return join([say("What applies here does not fit:"), offered[0].over_limits[0].lowered()])
    if not sound:
        return say(
            "{u} is not soundly reachable here, and no way is sound as it stands; see what must be true first." + rain,
            u=u_value(target),
        )
    best = min(sound, key=lambda one: one.u or 9.0)
    return say(
        "{u} is not soundly reachable here; {other} is, by “{name}” with {mm}." + rain,
        u=u_value(target), other=u_value(best.u or 0.0), name=best.name,
        mm=thickness((best.grown_mm or 0.0) / 1000.0) if best.grown_mm else "the depth there is",
    )  # fmt: skip

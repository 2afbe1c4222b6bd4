"""Proposals for an element: each way that applies, built to a thickness, ranked; each that does not, with the reason.

Rules say what is possible, what each way relies on, how it fails and who objects. Whether it stands, and at what thickness, is found by its
hourly years (`core.proposals.computed`) and handed in here; until then a way is shown at the least thickness that meets the target.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache

from core.buildup.anatomy import Anatomy
from core.buildup.growth import comes_off
from core.buildup.model import BuildUp, BuildUpLayer, is_insulation, mass
from core.errors import CaseRefused, OutOfRange
from core.materials.library import Solid, library
from core.moisture.traps import traps
from core.preview import OverLimit, over_limits, taken
from core.proposals.build import build
from core.proposals.rules import Does, SoundR, Way, rules, school_of, way_of
from core.proposals.situation import MASONRY, Situation
from core.proposals.standing import Stands
from core.say import Said, join, read_quantities, resistance, said, say, thickness, u_value
from core.thermal.as_built import as_built_conductivity
from core.thermal.iso6946 import transmittance
from core.thermal.iso13370 import slab_transmittance

SAVES = 0.97  # of the U as found: a way that saves less than this is none
COMBUSTIBLE = (
    "timber",
    "wood-based sheet",
    "wood fibre",
    "foam",
    "faced foam",
    "straw",
    "plant and animal fibre",
    "cork",
)
ORDER = {"stands": 0, "stands only if": 1, "": 2, "cannot be run": 3, "does not stand": 4}
UNDONE = {"comes off": 0, "with the surface": 1, "not": 2}


@dataclass(frozen=True)
class Offered:
    """A way that applies, as a complete build-up.

    u: U effective, None where ISO 6946 refuses (refused says why). grown_mm: of its grown layer, None without one; why: what set
    it. reached: the target is met, or none is set. stands: what its years say, None while they are not run. practice: what practice says of the thickness.
    comes_off: what is taken out or off first, by layer of as found. doubts, first: in words.
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
    stands: Stands | None
    practice: Said | None
    comes_off: dict[str, Said]
    growth_m: float
    room_m: float
    over_limits: list[OverLimit]
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
    """headline: what stands here, and the first step. offered: best first. open: how many are not run yet."""

    make: str
    headline: Said
    offered: list[Offered]
    refused: list[NotOffered]
    note: str
    open: int


@dataclass(frozen=True)
class Tried:
    """One build-up of a way at one thickness."""

    mm: float | None
    build_up: BuildUp
    u: float | None
    refused: str
    growth_m: float
    room_m: float
    over: list[OverLimit]


def propose(at: Situation, known: Mapping[str, Stands] | None = None) -> Proposals:
    """Every way for this make of element, offered or refused. known: what the years say of ways, by their ids."""
    known = known or {}
    offered: list[Offered] = []
    refused: list[NotOffered] = []
    before = _u_or_none(at, at.as_found) if at.as_found.is_stated else None
    for way in rules().ways:
        if at.make not in way.makes:
            continue
        school = school_of(way)
        because = refusals(way, at)
        if not because:
            try:
                one = _offer(way, at, known.get(way.id))
                if before is None or one.u is None or one.u < SAVES * before:
                    offered.append(one)
                    continue
                because = [
                    say("It saves no heat: {u} against {before} as found.", u=u_value(one.u), before=u_value(before))
                ]
            except (OutOfRange, CaseRefused) as error:
                because = [read_quantities(f"{error.message[:1].upper()}{error.message[1:]}.")]
        refused.append(NotOffered(school.name, way.name, because))
    offered.sort(key=_rank)
    open_ways = sum(one.stands is None for one in offered)
    return Proposals(at.called, _headline(at, offered), offered, refused, rules().note, open_ways)


def refusals(way: Way, at: Situation) -> list[Said]:
    """Why the rules do not let a way be built here: its own, and the limits of the element as a whole; empty where they do."""
    return [read_quantities(line.because) for line in way.not_where if at.holds(line.when)] or _refused_anywhere(
        way, at
    )


def possible_ways(at: Situation) -> list[Way]:
    """Ways for this make of element that no rule refuses; whether they can be built and save heat is not looked at."""
    return [way for way in rules().ways if at.make in way.makes and not refusals(way, at)]


def _refused_anywhere(way: Way, at: Situation) -> list[Said]:
    """What no way may do here, whatever it is: limits of the element as a whole."""
    if way.never:
        return []
    found = []
    layers = [*way.outside, *way.under_covering, *way.inside]
    if at.holds(["inside is not touched"]) and (
        way.inside or way.drop_inside or (way.fill is not None and way.side != "outside" and way.school != "cavity")
    ):
        found.append(said("The inside is not touched."))
    if at.holds(["people stay"]) and way.empties:
        found.append(said("People stay in the house during the works; this needs it empty."))
    if at.holds(["escape route"]):
        burns = [one.material for one in layers if one.material in _burning()]
        outermost = way.outside[0].material if way.outside else ""
        if (way.inside and way.inside[-1].material in burns) or outermost in burns:
            found.append(said("It lies on an escape route: nothing that burns may face it."))
    return found


@cache
def _burning() -> frozenset[str]:
    return frozenset(
        key for key, entry in library().items() if isinstance(entry, Solid) and entry.family in COMBUSTIBLE
    )


def _rank(one: Offered) -> tuple[int, bool, float, float, float, int]:
    """What stands first; then what meets the target and saves heat; then the margin to its limits, the room it takes, how it is undone."""
    state = one.stands.state if one.stands is not None else ""
    margin = one.stands.margin if one.stands is not None else 0.0
    undone = way_of(one.way).undone
    u = one.u if one.u is not None else 9.0
    return ORDER[state], not one.reached, round(u, 2), round(margin, 2), max(one.room_m, 0.0), UNDONE[undone]


def _try(way: Way, at: Situation, mm: float | None) -> Tried:
    build_up = build(way, at, mm)
    u, refused = None, ""
    try:
        u = _u(at, build_up)
    except CaseRefused as error:
        refused = error.message
    outside, room = taken(at.as_found, build_up, at.stand.place)
    over = over_limits(outside, room, mass(build_up) - mass(at.as_found), at.stand.limits, at.stand.place)
    return Tried(mm, build_up, u, refused, outside, room, over)


def tries(way: Way, at: Situation) -> list[Tried]:
    """A way at each of its thicknesses, the least first. Raises OutOfRange and CaseRefused where it cannot be built."""
    grown = way.grown
    return [_try(way, at, mm) for mm in (grown.steps or [])] if grown is not None else [_try(way, at, None)]


def _u(at: Situation, build_up: BuildUp) -> float:
    """U effective; of a slab to the outside air, where its perimeter is known (ISO 13370)."""
    thermal = transmittance(build_up, at.stand.place.kind)
    if at.stand.ground is None:
        return thermal.u_effective
    layers = thermal.r_effective - thermal.internal_surface - thermal.external_surface
    return slab_transmittance(at.stand.ground, max(layers, 0.0))


def _u_or_none(at: Situation, build_up: BuildUp) -> float | None:
    try:
        return _u(at, build_up)
    except CaseRefused:
        return None


def inside_r(at: Situation, build_up: BuildUp) -> float:
    """R of what insulates inboard of masonry [m² K/W]; 0 elsewhere."""
    place = Anatomy(build_up, at.stand.place).masonry
    if at.make not in MASONRY or place is None:
        return 0.0
    inboard = [layer for layer in build_up.layers[place + 1 :] if is_insulation(layer)]
    return sum(layer.thickness / as_built_conductivity(layer) for layer in inboard)


def practice_r(at: Situation) -> SoundR:
    """The line of practice that holds here."""
    return next(line for line in rules().practice_r_inside if at.holds(line.when))


def _offer(way: Way, at: Situation, known: Stands | None) -> Offered:
    limits = at.stand.limits
    tried = tries(way, at)
    fits = [one for one in tried if not one.over]
    chosen, why = _chosen(tried, fits, at)
    if known is not None and known.mm is not None:
        chosen = next((one for one in tried if one.mm == known.mm), chosen)
        why = _why_by_years(known, chosen, at)
    if way.grown is None:
        why = say("as deep as the place for it")
    closed = [trap.sentence for trap in traps(chosen.build_up, at.stand.place) if trap.tight]
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
        reached=limits.target_u_w_m2k is None or limits.reached_by(chosen.u),
        stands=known,
        practice=_practice(at, tried, known),
        comes_off={layer.id: _named(layer) for layer in comes_off(at.as_found, chosen.build_up)},
        growth_m=chosen.growth_m,
        room_m=chosen.room_m,
        over_limits=chosen.over,
        says=read_quantities(school.says),
        relies_on=[read_quantities(words) for words in school.relies_on],
        fails_when=[read_quantities(words) for words in school.fails_when],
        doubts=[read_quantities(line.words) for line in way.doubts if at.holds(line.when)] + closed,
        first=[read_quantities(line.words) for line in way.first if at.holds(line.when)],
        does_to={name: read_quantities(words) for name, words in way.does_to.items()},
        while_open=read_quantities(way.while_open),
        animals=read_quantities(way.animals),
        later=read_quantities(way.later),
        objection=read_quantities(school.objection),
        reversible=read_quantities(way.reversible),
        takes=read_quantities(way.takes),
    )


def _named(layer: BuildUpLayer) -> Said:
    return (
        say("{name} {mm}", name=layer.entry.name, mm=thickness(layer.thickness))
        if layer.thickness
        else said(layer.entry.name)
    )


def _chosen(tried: list[Tried], fits: list[Tried], at: Situation) -> tuple[Tried, Said]:
    """The thickness it is shown at before its years are run, and why."""
    target = at.stand.limits.target_u_w_m2k
    if not fits:
        return tried[0], say("the least there is, and more than the limits give")
    if target is None:
        return fits[len(fits) // 2], say("no target is set: a usual thickness")
    meets = [one for one in fits if at.stand.limits.reached_by(one.u)]
    if meets:
        return meets[0], say("the least that meets {u}", u=u_value(target))
    after = tried[tried.index(fits[-1]) + 1 :]
    return fits[-1], join([say("the most that fits:"), after[0].over[0].lowered()]) if after else say(
        "the thickest there is"
    )


def _why_by_years(known: Stands, chosen: Tried, at: Situation) -> Said:
    """What set a thickness that was found by its years: the least that meets the target and stands, the most that stands; both are told."""
    target = at.stand.limits.target_u_w_m2k
    if known.state in ("does not stand", "cannot be run"):
        return say("tried at this thickness")
    least = (
        say("the least that meets {u} and stands in both years", u=u_value(target)) if target is not None and known.least_mm is not None
        else say("a usual thickness, since no target is set") if target is None
        else say("the most that stands in both years")
    )  # fmt: skip
    if known.most_mm is not None and known.most_mm > (known.mm or 0.0):
        return least + say("; the most that stands is {most}", most=thickness(known.most_mm / 1000.0))
    return least


def _practice(at: Situation, tried: list[Tried], known: Stands | None) -> Said | None:
    """What practice goes to inside of masonry, beside what the years say; None elsewhere."""
    if all(inside_r(at, one.build_up) <= 0.0 for one in tried) or tried[0].mm is None:
        return None
    rule = practice_r(at)
    within = [one for one in tried if inside_r(at, one.build_up) <= rule.r + 0.05]
    upto = say(" (here {mm})", mm=thickness((within[-1].mm or 0.0) / 1000.0)) if within else said(" (none of these)")
    words = say("Practice goes to R {r} {where}", r=resistance(rule.r), where=rule.words) + upto
    most = known.most_mm if known is not None else None
    if known is None or known.state == "cannot be run":
        return words + "."
    limit = (within[-1].mm or 0.0) if within else 0.0
    if most is None or most < limit:
        return (
            words
            + "; its years allow less here: they take in this climate, this face and this room, which a rule of practice cannot."
        )
    if most > limit:
        return (
            words
            + "; its years allow more. Practice keeps a reserve for what no run knows: uneven bedding, mortar and stone apart, joist ends."
        )
    return words + ", and so do its years."


def _headline(at: Situation, offered: list[Offered]) -> Said:
    """What stands here, counted; what is still being run; the first step."""
    target = at.stand.limits.target_u_w_m2k
    rain = " First keep the rain off." if at.holds(["rain soaked"]) else ""
    if not offered:
        return say("Nothing that is known here can be done to it as it stands.")
    if all(one.over_limits for one in offered):
        return join([say("What applies here does not fit:"), offered[0].over_limits[0].lowered()])
    by = {state: [o for o in offered if o.stands is not None and o.stands.state == state] for state in ORDER}
    left = sum(one.stands is None for one in offered)
    more = f" {_ways(left).capitalize()} {'is' if left == 1 else 'are'} still to be run." if left else ""
    if left == len(offered):
        aim = " No target is set for it: state one in the Brief, and thickness follows it." if target is None else ""
        could = "{ways} could be built here; whether they stand is found by their hourly years."
        return say(could + aim + rain, ways=_ways(left)).capitalised()
    reached = [o for o in by["stands"] if o.reached]
    only = f"; {_ways(len(by['stands only if']))} only under a condition" if by["stands only if"] else ""
    if target is None and by["stands"]:
        words = say("{ways} of {all} {stand} in {their} hourly years" + only + ". No target is set for it: state one in the Brief, and thickness follows it.", ways=_ways(len(by["stands"])), all=str(len(offered)), stand=_stand(len(by["stands"])), their=_their(len(by["stands"])))  # fmt: skip
    elif reached:
        words = say("{ways} of {all} {stand} in {their} hourly years and {reach} {u}" + only + ".", ways=_ways(len(reached)), all=str(len(offered)), stand=_stand(len(reached)), their=_their(len(reached)), reach="reaches" if len(reached) == 1 else "reach", u=u_value(target or 0.0))  # fmt: skip
    elif by["stands"]:
        best = min(by["stands"], key=lambda o: o.u if o.u is not None else 9.0)
        words = say("{u} does not stand here; {other} does, by “{name}”" + only + ".", u=u_value(target or 0.0), other=u_value(best.u or 0.0), name=best.name)  # fmt: skip
    elif by["stands only if"]:
        words = say(
            "Nothing stands here without a condition; {ways} would under one.", ways=_ways(len(by["stands only if"]))
        )
    else:
        words = say("No way that was run stands here; see what decides, and what would have to change first.")
    return words.capitalised() + more + rain


def _ways(count: int) -> str:
    return "one way" if count == 1 else f"{count} ways"


def _stand(count: int) -> str:
    return "stands" if count == 1 else "stand"


def _their(count: int) -> str:
    return "its" if count == 1 else "their"

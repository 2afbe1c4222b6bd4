"""The brief: aims, what may not change, targets, people and roles. Limits here are obeyed by every later view."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from core.buildup.model import Adjoining, Kind, Limits, at_fascia
from core.case import NonNegative, Positive, Strict
from core.say import Said, join, said, say, thickness

LimitKind = Literal["face", "eaves", "verge", "reveal", "room", "boundary"]
Role = Literal["client", "consultant", "structural engineer", "heating designer", "heritage officer", "builder"]
FACINGS = ("N", "NE", "E", "SE", "S", "SW", "W", "NW")
LimitField = Literal["room_mm", "outside_mm", "target_u_w_m2k", "reveal_mm"]
Text = Annotated[str, Field(max_length=4000)]

# Two sets to start from. They show the form of a target set; they belong to no code.
EXAMPLE_TARGETS: dict[str, dict[str, float]] = {
    "example, moderate": {"wall": 0.30, "roof": 0.18, "floor": 0.25, "window": 1.4, "door": 1.4},
    "example, deep": {"wall": 0.20, "roof": 0.13, "floor": 0.18, "window": 0.9, "door": 1.0},
}
EXAMPLE_NOTE = "example, not your code"


class BriefLimit(Strict):
    """Something that may not change, or only so far. body and facing empty: all of them."""

    kind: LimitKind
    body: Annotated[str, Field(max_length=30)] = ""
    facing: Literal["", "N", "NE", "E", "SE", "S", "SW", "W", "NW"] = ""
    most_mm: Annotated[float, Field(ge=0, le=3000)] = 0.0
    reason: Annotated[str, Field(max_length=300)] = ""


class LimitSaid(Strict):
    """Where a limit comes from that is not the element's own."""

    field: LimitField
    words: Said


class Targets(Strict):
    """U by element kind [W/(m² K)], airtightness and heat demand. `name` says whose set it is."""

    name: Annotated[str, Field(max_length=80)] = "own"
    u_w_m2k: dict[Kind, Positive] = {}
    n50_1_h: Positive | None = None
    heat_kwh_m2a: Positive | None = None


class RoleEntry(Strict):
    """Who answers for what; a name is not required."""

    role: Role
    name: Annotated[str, Field(max_length=120)] = ""
    answers_for: Annotated[str, Field(max_length=400)] = ""


class Brief(Strict):
    """Step 1 of the work. climate_agreed: the name of the climate that somebody said stands for the place. appliances: flues, stoves, boilers and their
    air; fans: what extracts; habits: airing, drying of clothes, temperatures."""

    aims: Text = ""
    place: Annotated[str, Field(max_length=200)] = ""
    altitude_m: Annotated[float, Field(ge=-430, le=6000)] | None = None
    climate_agreed: Annotated[str, Field(max_length=80)] = ""
    budget: NonNegative | None = None
    currency: Annotated[str, Field(max_length=8)] = ""
    people: Annotated[int, Field(ge=0, le=500)] | None = None
    use: Text = ""
    lived_in_during_works: bool | None = None
    built_year: Annotated[int, Field(ge=1000, le=2100)] | None = None
    appliances: Text = ""
    fans: Text = ""
    bills: Text = ""
    habits: Text = ""
    limits: Annotated[list[BriefLimit], Field(max_length=60)] = []
    targets: Targets = Targets()
    roles: Annotated[list[RoleEntry], Field(max_length=30)] = []


def facing_word(degrees: float) -> str:
    """N, NE … of a bearing."""
    return FACINGS[int(((degrees + 22.5) % 360.0) // 45.0)]


@dataclass(frozen=True)
class Where:
    """Where an element stands, for the limits. overhang_mm: of the eaves over it, as the shape knows; margins: of the frames in it [mm] by name, those that are known."""

    kind: Kind
    body: str
    facing_deg: float
    slope_deg: float = 90.0
    adjoining: Adjoining = "outside"
    overhang_mm: float | None = None
    margins: tuple[tuple[str, float], ...] = ()

    @property
    def fascia(self) -> float:
        """What a millimetre square to a slope is at its fascia."""
        return at_fascia(self.kind, self.slope_deg)


def _concerns(limit: BriefLimit, kind: Kind, at: Where) -> bool:
    """Eaves and verge limit roofs with the weather above them, room limits everything with layers, the rest limits walls in the weather; reveals limit windows."""
    kinds: dict[LimitKind, tuple[Kind, ...]] = {
        "face": ("wall",),
        "boundary": ("wall",),
        "eaves": ("roof",),
        "verge": ("roof",),
        "room": ("wall", "roof", "floor"),
        "reveal": ("window", "door"),
    }
    if kind not in kinds[limit.kind] or (limit.body and limit.body != at.body):
        return False
    if limit.kind in ("eaves", "verge") and at.adjoining != "outside":
        return False  # a ceiling under a cold attic
    return not limit.facing or kind == "floor" or facing_word(at.facing_deg) == limit.facing


WORDS: dict[LimitKind, str] = {
    "face": "the face may not change",
    "eaves": "the eaves line",
    "verge": "the verge",
    "reveal": "the reveal",
    "room": "room sizes",
    "boundary": "the boundary",
}


def limits_with_brief(own: Limits, brief: Brief, at: Where) -> tuple[Limits, list[LimitSaid]]:
    """The tightest of an element's own limits, those of the brief and what the shape knows; with the words of the ones that are not the element's own.

    outside_mm is square to the element: a limit at the fascia is less of it by the cosine of the slope. Targets: the element's own first, then the brief's for its kind.
    """
    room, outside, target, weight = own.room_mm, own.outside_mm, own.target_u_w_m2k, own.weight_kg_m2
    found: dict[LimitField, Said] = {}
    for named in own.named:
        words, most = said(named.words), named.most / (at.fascia if named.kind == "eaves" else 1.0)
        if named.side == "weight":
            weight = named.most if weight is None else min(weight, named.most)
        elif named.side == "room" and (room is None or named.most < room):
            room, found["room_mm"] = named.most, words
        elif named.side == "outside" and (outside is None or most < outside):
            outside, found["outside_mm"] = most, words
    overhang = at.overhang_mm if at.kind == "wall" and at.adjoining == "outside" else None
    if overhang and (outside is None or overhang < outside):
        outside = overhang
        found["outside_mm"] = say(
            "the overhang of the shape, {much}: more stands in the drip of the eaves",
            much=thickness(overhang / 1000.0),
        )
    for limit in brief.limits:
        if limit.kind == "reveal" or not _concerns(limit, at.kind, at):
            continue
        most = limit.most_mm / (at.fascia if limit.kind == "eaves" else 1.0)
        where = said("")
        if limit.kind in ("eaves", "verge"):
            where = say(
                ", {much} at the fascia" if limit.kind == "eaves" else ", {much} there",
                much=thickness(limit.most_mm / 1000.0),
            )
        words = join([said(f"brief, {WORDS[limit.kind]}") + where, said(limit.reason)], ": ")
        if limit.kind == "room":
            if room is None or limit.most_mm < room:
                room, found["room_mm"] = limit.most_mm, words
        elif outside is None or most < outside:
            outside, found["outside_mm"] = most, words
    reveal, words = reveal_limit(brief, at)
    if reveal is not None:
        found["reveal_mm"] = words
    if target is None and at.kind in brief.targets.u_w_m2k:
        target = brief.targets.u_w_m2k[at.kind]
        found["target_u_w_m2k"] = said(f"brief, {brief.targets.name} targets")
    rows = [LimitSaid(field=field, words=words) for field, words in found.items()]
    limits = {
        "room_mm": room,
        "outside_mm": outside,
        "target_u_w_m2k": target,
        "weight_kg_m2": weight,
        "reveal_mm": reveal,
    }
    return own.model_copy(update=limits), rows


def reveal_limit(brief: Brief, at: Where) -> tuple[float | None, Said]:
    """What fits on the reveals of a wall at most [mm], by the brief and by what is seen of the frames beside them; None where nothing says."""
    if at.kind != "wall":
        return None, said("")
    found: list[tuple[float, Said]] = [
        (one.most_mm, say("reveals: at most {much} on them{why}", much=thickness(one.most_mm / 1000.0), why=f": {one.reason}" if one.reason else ""))
        for one in brief.limits
        if one.kind == "reveal" and _concerns(one, "window", at)
    ] + [
        (most, say("reveals: at most {much} on them, what is seen of the frame of “{name}”", much=thickness(most / 1000.0), name=name))
        for name, most in at.margins
    ]  # fmt: skip
    return min(found, key=lambda one: one[0], default=(None, said("")))


def missing_in(brief: Brief, climate: str) -> list[str]:
    """What a careful colleague would still ask the client. climate: the one that is computed with."""
    gaps = [
        (not brief.aims.strip(), "aims"),
        (not brief.place.strip(), "place"),
        (brief.altitude_m is None, "altitude"),
        (brief.climate_agreed != climate, "whether the climate stands for the place"),
        (brief.budget is None, "budget"),
        (brief.people is None, "people"),
        (brief.lived_in_during_works is None, "whether they live there during the works"),
        (not brief.appliances.strip(), "flues and appliances"),
        (not brief.fans.strip(), "fans"),
        (not brief.bills.strip(), "bills"),
        (not brief.habits.strip(), "habits of airing and drying"),
        (not brief.limits, "what may not change"),
        (not brief.targets.u_w_m2k, "targets"),
        (
            not any(entry.role == "client" and entry.answers_for.strip() for entry in brief.roles),
            "who answers for what",
        ),
    ]
    return [word for gap, word in gaps if gap]

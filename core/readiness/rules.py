"""The rules as data: kinds of evidence, mechanisms, remedies and readiness, read from rules.json.

A rule fits when every fact it names has one of the values it lists. Nothing is hidden in code: what the facts mean is in `FACTS`.
"""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from pydantic import model_validator

from core.case import Strict
from core.say import Said, read_quantities

FILE = Path(__file__).with_name("rules.json")

# What each fact means and the values it may have; the first is taken when nothing is known.
FACTS: dict[str, tuple[str, tuple[str, ...]]] = {
    "kind": ("what was seen", ()),
    "element": ("kind of element", ("wall", "roof", "floor", "window", "door")),
    "adjoining": ("what the element adjoins", ("outside", "ground", "unheated")),
    "side": ("seen from outside or inside", ("outside", "inside")),
    "height": (
        "height: foot up to 0.5 m above the ground, low up to 1.2 m, top within 0.8 m of the eaves",
        ("middle", "foot", "low", "top"),
    ),
    "corner": ("within 0.6 m of the end of the face", ("no", "yes")),
    "opening": ("place at a window or door, within 0.7 m", ("none", "under_sill", "beside", "head")),
    "rain_face": ("the face takes 100 mm of driven rain a year or more, with its factors", ("no", "yes")),
    "eaves_shelter": ("under eaves deep enough to keep it dry", ("no", "yes")),
    "season": ("season of the day it was seen", ("not known", "winter", "spring", "summer", "autumn")),
    "comes": (
        "when it comes, as the people of the house say",
        (
            "not_known",
            "after_rain",
            "cold_spells",
            "humid_heat",
            "after_use",
            "always",
            "damp_weather",
            "dry_weather",
            "clear_nights",
            "after_thaw",
        ),
    ),
    "make": ("what bears it, as found", ("not stated", "masonry", "frame", "log", "concrete", "metal")),
    "cladding": ("what stands before it, as found", ("none", "boards", "leaf", "metal", "render")),
    "gap": ("gap behind the cladding", ("none", "drained", "ventilated")),
    "part": (
        "which part of the element",
        ("face", "joist end", "sill", "socket or pipe", "partition", "post or plate", "lap or seam", "tie or tray"),
    ),
    "joist_in": ("the wall that a joist end sits in", ("none", "rain wall", "other wall")),
    "salt_source": ("where salts may come from", ("none", "flue", "byre", "ground", "gypsum", "road")),
    "room": ("the space behind", ("heated", "unheated")),
    "over_floor": ("height above the floor inside: foot up to 0.5 m", ("not known", "foot", "middle")),
    "extent": ("how far it reaches", ("patch", "spot", "band", "whole")),
    "near": ("kinds of other evidence within 2 m on the same side of the same face", ()),
    "pattern": (
        "what several signs of water draw together: three or more at one height; two or more round one opening; four or more "
        "spread over a face; one inside and one outside of the same place; the same height on three faces or more",
        ("none", "line", "round opening", "all over", "both sides", "all round"),
    ),
    "gutters": ("gutters above", ("sound", "faulty")),
    "splash": ("ground that splashes", ("no", "yes")),
    "sprinklers": ("sprinklers reach the face", ("no", "yes")),
    "reservoir": ("cladding that holds water", ("no", "yes")),
    "inner_sheet": ("a vapour-tight layer (sd 10 m or more) on the room side as found", ("no", "yes")),
    "tight_coat": ("a film-forming coat or a covering that lets nothing out, as found", ("no", "yes")),
    "thin_render": ("a thin render on insulating boards outside, as found", ("no", "yes")),
    "leak_near": ("an air leak was found at this element", ("no", "yes")),
    "pipes": ("pipes, trays or tanks near", ("no", "yes")),
    "wet_work": ("wet work less than two years old", ("no", "yes")),
    "wood": ("corrected wood moisture above 20 %", ("not read", "dry", "wet")),
    "surface_rh": (
        "humidity at the surface from its temperature and the room's air: 80 % or more",
        ("not read", "low", "high"),
    ),
}
Facts = dict[str, list[str]]


class NamedRule(Strict):
    id: str
    name: str


class MechanismRule(Strict):
    id: str
    name: str
    how: str
    first_remedy: str


class When(Strict):
    """What fits when every fact it names has one of the values it lists."""

    when: dict[str, list[str]]

    @model_validator(mode="after")
    def _known_facts(self) -> When:
        for fact, values in self.when.items():
            if fact not in FACTS and fact not in READINESS_FACTS:
                raise ValueError(f"no fact “{fact}”")
            allowed = FACTS[fact][1] if fact in FACTS else ()
            if allowed and set(values) - set(allowed):
                raise ValueError(f"“{fact}” is never {', '.join(set(values) - set(allowed))}")
        return self

    def fits(self, facts: Facts) -> bool:
        return all(set(facts.get(fact, ())) & set(values) for fact, values in self.when.items())


class Remedy(When):
    id: str
    stage: str
    mechanisms: list[str]
    title: str
    shown_by: str
    who: str
    school: str = ""

    @property
    def title_said(self) -> Said:
        """In both unit systems."""
        return read_quantities(self.title)

    @property
    def shown_by_said(self) -> Said:
        return read_quantities(self.shown_by)


class ReadinessRule(When):
    state: str
    because: str


READINESS_FACTS: dict[str, str] = {
    "override": "an override with reason and name",
    "looked_at": "somebody noted that the element was looked at",
    "evidence": "pins at the element",
    "unexplained": "pins whose mechanism is not confirmed",
    "uncovered": "confirmed mechanisms without a water item",
    "items": "water items of the element",
    "overdue": "open items past their date",
    "unshown": "items closed without the photo that had to be shown",
    "readings": "wood readings of 20 % or more without a later dry one",
    "assumed": "layers as found that are only assumed",
    "construction": "whether its layers are stated",
}


class Rules(Strict):
    """All rules; references between them are checked when they are read."""

    kinds: list[NamedRule]
    mechanisms: list[MechanismRule]
    stages: list[NamedRule]
    remedies: list[Remedy]
    readiness: list[ReadinessRule]

    @model_validator(mode="after")
    def _references(self) -> Rules:
        mechanisms = {rule.id for rule in self.mechanisms}
        stages = {rule.id for rule in self.stages}
        for remedy in self.remedies:
            if set(remedy.mechanisms) - mechanisms or remedy.stage not in stages:
                raise ValueError(f"remedy {remedy.id} names an unknown mechanism or stage")
        covered = {m for remedy in self.remedies for m in remedy.mechanisms}
        if mechanisms - covered:
            raise ValueError(f"no remedy for {', '.join(sorted(mechanisms - covered))}")
        return self

    def kind_name(self, kind: str) -> str:
        return next(rule.name for rule in self.kinds if rule.id == kind)

    def mechanism_name(self, mechanism: str) -> str:
        return next(rule.name for rule in self.mechanisms if rule.id == mechanism)


@lru_cache(maxsize=1)
def rules() -> Rules:
    """The rules that ship with the program."""
    return Rules.model_validate_json(FILE.read_text(encoding="utf-8"))

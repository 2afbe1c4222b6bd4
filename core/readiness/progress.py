"""How far each step of the work is, and what it still lacks: one rule for every view that shows it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

StepName = Literal["house", "brief", "survey", "water", "options", "heat", "dossier"]
# How many things a careful colleague asks in each; the marks fill by them.
BRIEF_ASKS = 14
SURVEY_ASKS = 9
UNEXPLAINED_WEIGHT = 0.3  # a survey whose pins have no cause is that much less done


@dataclass(frozen=True)
class Facts:
    """What the steps rest on, counted. ready: elements ready for works; built: layered elements in the heated line after them; chosen: of those, with a chosen option."""

    bodies: int
    brief_missing: tuple[str, ...]
    volume_stated: bool
    floor_area_stated: bool
    air_stated: bool
    elements: int
    layered: int
    not_stated: int
    assumed: int
    exposure_missing: bool
    unseen: int
    blower_door: bool
    evidence: int
    unexplained: int
    ready: int
    built: int
    chosen: int


@dataclass(frozen=True)
class Step:
    """done: 0 to 1. lacks: each thing in words. missing: the same as one line."""

    step: StepName
    done: float
    lacks: tuple[str, ...]
    missing: str


def several(count: int, thing: str) -> str:
    """1 element, 2 elements."""
    return f"{count} {thing}{'' if count == 1 else 's'}"


def _listed(lacks: tuple[str, ...]) -> str:
    return f"missing: {', '.join(lacks)}" if lacks else "complete"


def unstated_figures(facts: Facts) -> tuple[str, ...]:
    """What heat cannot do without."""
    pairs = (
        (not facts.bodies, "shape"),
        (not facts.volume_stated, "volume"),
        (not facts.floor_area_stated, "floor area"),
        (not facts.air_stated, "air changes"),
    )
    return tuple(word for lacking, word in pairs if lacking)


def survey_lacks(facts: Facts) -> tuple[str, ...]:
    """What a careful colleague would still look at on site."""
    pairs = (
        (not facts.elements, "the shape, or elements by hand"),
        (facts.not_stated, f"the construction of {several(facts.not_stated, 'element')}"),
        (facts.assumed, f"layers only assumed in {several(facts.assumed, 'element')}"),
        (facts.exposure_missing, "the exposure of some walls, in steps"),
        (facts.unseen, f"a look at {several(facts.unseen, 'element')}"),
        (not facts.blower_door, "a blower-door test"),
    )
    return unstated_figures(facts) + tuple(word for lacking, word in pairs if lacking)


def dossier(facts: Facts) -> Step:
    """What would stand open in a report: signs, constructions and choices, each for a third."""
    pairs = (
        (facts.unexplained, facts.evidence, f"{facts.unexplained} of {facts.evidence} signs not explained"),
        (facts.not_stated, facts.layered, f"the construction of {several(facts.not_stated, 'element')}"),
        (facts.built - facts.chosen, facts.built, f"{facts.built - facts.chosen} of {facts.built} not chosen"),
    )
    lacks = tuple(words for lacking, _, words in pairs if lacking)
    if not facts.layered:
        lacks = ("an element with layers", *lacks)
    done = sum(1.0 - lacking / of for lacking, of, _ in pairs if of) / len(pairs) if facts.layered else 0.0
    return Step(
        "dossier", done + (0.0 if facts.evidence or not facts.layered else 1.0 / len(pairs)), lacks, _listed(lacks)
    )


def steps(facts: Facts) -> list[Step]:
    """Every step in the order of the work."""
    lacks = survey_lacks(facts)
    explained = 1.0 - UNEXPLAINED_WEIGHT * facts.unexplained / facts.evidence if facts.evidence else 1.0
    surveyed = max(0.0, 1.0 - len(lacks) / SURVEY_ASKS) * explained
    pins = f"{facts.unexplained} of {facts.evidence} pins without a cause" if facts.unexplained else ""
    chosen = facts.chosen / facts.built if facts.built else 0.0
    incomplete = bool(unstated_figures(facts)) or facts.not_stated > 0
    brief = facts.brief_missing
    return [
        Step("house", float(facts.bodies > 0), (), "drawn from the shape" if facts.bodies else "no shape yet"),
        Step("brief", max(0.0, 1.0 - len(brief) / BRIEF_ASKS), brief, _listed(brief)),
        Step("survey", surveyed, lacks, "; ".join(word for word in (_listed(lacks), pins) if word)),
        Step(
            "water",
            facts.ready / facts.elements if facts.elements else 0.0,
            (),
            f"{facts.elements - facts.ready} of {facts.elements} elements not ready",
        ),
        Step("options", chosen, (), f"{facts.built - facts.chosen} of {facts.built} not chosen"),
        Step("heat", 0.5 if incomplete else chosen, (), "survey incomplete" if incomplete else ""),
        dossier(facts),
    ]

"""Evidence weighed: a share for every mechanism and for something else, with reasons for and against, and the next look.

The weights of all clues that fit are added to the prior (a naive Bayes in binary logarithms) and sharpened by less than one, since
clues of one place are not independent. Shares sum up to one. A fact stated adds or takes away a bounded weight: it moves shares and
never takes a mechanism or a clue out.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from core.readiness.clues import OTHER, Look, table
from core.readiness.rules import Facts, NamedRule, rules

SHARPNESS = 0.8  # what is left of a weight, since clues of one place say partly the same
LISTED = 0.05  # mechanisms of a smaller share are not listed, but the first two always
CLOSE = 1.6  # a share that times this passes the first one's is too close to be told apart from it
FOR, AGAINST = 3, 2
APART = 0.2  # a look that tells two mechanisms apart by less is not worth the way


@dataclass(frozen=True)
class Proposal:
    """One mechanism with its share (0 to 1) and the weightiest reasons for and against it."""

    mechanism: str
    name: str
    share: float
    reasons: list[str]
    against: list[str]


@dataclass(frozen=True)
class NextLook:
    """What would tell the first two apart most, and what may come of it. between: their names."""

    id: str
    does: str
    between: list[str]
    outcomes: list[NamedRule]


@dataclass(frozen=True)
class LookTaken:
    """A look that was taken, and what came of it."""

    id: str
    does: str
    outcome: str


@dataclass(frozen=True)
class Weighed:
    """Mechanisms that fit, the best first; first: those of them too close to the best to be told apart, any of which may be confirmed.

    other: share of something else; look: None where nothing was found, or none is worth the way.
    """

    proposals: list[Proposal]
    first: list[str]
    other: float
    look: NextLook | None


def weights(facts: Facts, looks: Mapping[str, str] | None = None) -> dict[str, float]:
    """Mechanism (and something else) to the sum of its prior and of all weights that fit, in binary logarithms.

    looks: look to its outcome. A look weighs what it says against the mean over all mechanisms.
    """
    rows = table()
    sums = dict(rows.priors)
    for clue in rows.clues:
        if clue.fits(facts):
            for mechanism, weight in clue.weights.items():
                sums[mechanism] += weight
    for mechanism in sums:
        sums[mechanism] += sum(weight for _, weight in _looked(mechanism, looks or {}))
    return sums


def _looked(mechanism: str, looks: Mapping[str, str]) -> list[tuple[str, float]]:
    """What was looked at, in words, with its weight for this mechanism."""
    said = []
    for look, outcome in looks.items():
        row = table().look(look)
        if row is None:  # pins are refused with it; a table that loses a look forgets what it said
            continue
        index = [one.id for one in row.outcomes].index(outcome)
        everyone = [row.chance(one, index) for one in table().priors]
        mean = sum(math.log2(one) for one in everyone) / len(everyone)
        # what was looked at on purpose is no repetition of the other clues, so it counts in full
        said.append(
            (f"looked at: {row.name_of(outcome)}", (math.log2(row.chance(mechanism, index)) - mean) / SHARPNESS)
        )
    return said


def looked(looks: Mapping[str, str]) -> list[LookTaken]:
    """The looks that were taken, in words."""
    rows = [(table().look(look), outcome) for look, outcome in looks.items()]
    return [LookTaken(row.id, row.does, row.name_of(outcome)) for row, outcome in rows if row is not None]


def shares(sums: Mapping[str, float]) -> dict[str, float]:
    """Shares that sum up to 1."""
    most = max(sums.values())
    powers = {mechanism: 2.0 ** (SHARPNESS * (value - most)) for mechanism, value in sums.items()}
    total = sum(powers.values())
    return {mechanism: power / total for mechanism, power in powers.items()}


def weigh(facts: Facts, looks: Mapping[str, str] | None = None) -> Weighed:
    """What the evidence at a place points to. Nothing where nothing was found; else never silent."""
    if facts.get("kind") == ["nothing_found"]:
        return Weighed([], [], 1.0, None)
    share = shares(weights(facts, looks))
    other = share.pop(OTHER)
    order = sorted(share, key=lambda mechanism: -share[mechanism])
    listed = [one for number, one in enumerate(order) if number < 2 or share[one] >= LISTED]
    proposals = [
        Proposal(one, rules().mechanism_name(one), share[one], *_reasons(one, facts, looks or {})) for one in listed
    ]
    first = [one for one in listed if share[one] * CLOSE > share[order[0]]]
    return Weighed(proposals, first, other, _next_look(order[0], order[1], facts, looks or {}))


def _reasons(mechanism: str, facts: Facts, looks: Mapping[str, str]) -> tuple[list[str], list[str]]:
    said = [(clue.says(mechanism), clue.weights.get(mechanism, 0.0)) for clue in table().clues if clue.fits(facts)]
    said += _looked(mechanism, looks)
    said.sort(key=lambda one: -abs(one[1]))
    for_it = dict.fromkeys(words for words, weight in said if weight > 0.0)
    against = dict.fromkeys(words for words, weight in said if weight < 0.0)
    return list(for_it)[:FOR], list(against)[:AGAINST]


def _next_look(first: str, second: str, facts: Facts, looks: Mapping[str, str]) -> NextLook | None:
    """The look that tells these two apart most and was not taken yet; None where none is worth the way."""
    open_looks = [look for look in table().looks if look.fits(facts) and look.id not in looks]
    best: Look | None = max(open_looks, key=lambda look: look.apart(first, second), default=None)
    if best is None or best.apart(first, second) < APART:
        return None
    names = [rules().mechanism_name(one) for one in (first, second)]
    return NextLook(best.id, best.does, names, best.outcomes)

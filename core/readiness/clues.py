"""What each piece of evidence and each fact of its place says for or against every mechanism, and what to look at next.

Read from evidence.json, written out in docs/rules.md. A weight is the binary logarithm of a likelihood ratio: +1 says that the
sign is seen twice as often where this mechanism is at work than where another one is, -1 half as often. A mechanism that a clue does
not name has the weight 0: the clue says nothing about it. A clue of a kind of evidence names every mechanism. The weights are
estimates of practice, not a fit to counted cases.
"""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from pydantic import model_validator

from core.case import Strict
from core.readiness.rules import NamedRule, When, rules

FILE = Path(__file__).with_name("evidence.json")
OTHER = "else"  # what the table does not know: it has weight 0 for every clue


class Clue(When):
    """weights: mechanism to weight; own: mechanism to what the clue says of it in particular, in place of `because`."""

    id: str
    because: str
    weights: dict[str, float]
    own: dict[str, str] = {}

    def says(self, mechanism: str) -> str:
        return self.own.get(mechanism, self.because)


class Look(When):
    """A next look: what to do, what may come of it, and how often each comes under each mechanism [%]; `rest` for those not named."""

    id: str
    does: str
    outcomes: list[NamedRule]
    chances: dict[str, list[float]]
    rest: list[float]

    def chance(self, mechanism: str, outcome: int) -> float:
        return self.chances.get(mechanism, self.rest)[outcome] / 100.0

    def apart(self, first: str, second: str) -> float:
        """0 where both mechanisms give the same outcomes, 1 where they never give the same: their total variation."""
        both = range(len(self.outcomes))
        return sum(abs(self.chance(first, one) - self.chance(second, one)) for one in both) / 2.0

    def name_of(self, outcome: str) -> str:
        return next(one.name for one in self.outcomes if one.id == outcome)


class Table(Strict):
    """All of it; references are checked when it is read."""

    priors: dict[str, float]
    clues: list[Clue]
    looks: list[Look]

    @model_validator(mode="after")
    def _references(self) -> Table:
        mechanisms = {rule.id for rule in rules().mechanisms}
        kinds = {rule.id for rule in rules().kinds}
        if set(self.priors) != mechanisms | {OTHER}:
            raise ValueError(f"priors of {sorted(set(self.priors) ^ (mechanisms | {OTHER}))}")
        for clue in self.clues:
            if (set(clue.weights) | set(clue.own)) - mechanisms or set(clue.own) - set(clue.weights):
                raise ValueError(f"clue {clue.id} names no mechanism or one without a weight")
            for fact in ("kind", "near"):
                if set(clue.when.get(fact, [])) - kinds:
                    raise ValueError(f"clue {clue.id} names kinds that are none: {clue.when[fact]}")
        for kind in kinds - {"nothing_found"}:
            of_kind = [clue for clue in self.clues if clue.when == {"kind": [kind]}]
            if len(of_kind) != 1 or set(of_kind[0].weights) != mechanisms:
                raise ValueError(f"“{kind}” needs one clue that weighs every mechanism")
        for look in self.looks:
            wrong = [
                p
                for p in [*look.chances.values(), look.rest]
                if len(p) != len(look.outcomes) or min(p) <= 0.0 or sum(p) != 100.0
            ]
            if wrong or set(look.chances) - mechanisms:
                raise ValueError(
                    f"look {look.id}: chances above 0 that sum up to 100 for each outcome of known mechanisms"
                )
        return self

    def look(self, look: str) -> Look | None:
        return next((one for one in self.looks if one.id == look), None)


@lru_cache(maxsize=1)
def table() -> Table:
    """The table that ships with the program."""
    return Table.model_validate_json(FILE.read_text(encoding="utf-8"))

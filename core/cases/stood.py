"""`stood`: random proposals held to what is said of them.

Of those that *stand* none may be over a limit when it is run alone as its sheet runs it, in usual years until they repeat and in a bad one. Of those that *do not stand* each says what decides, and what it says is what its own run says. None that is offered cannot be run.
"""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from functools import partial
from multiprocessing import get_context
from typing import Any

import numpy as np

from core.buildup.growth import aligned
from core.buildup.model import BuildUp
from core.cases.alike import random_element
from core.climate.data import shipped
from core.criteria.judging import checked_limits
from core.criteria.registry import LIMITS
from core.criteria.stated import stated
from core.criteria.verdict import Verdict, verdict
from core.errors import CoreError
from core.proposals.computed import stands
from core.proposals.propose import propose, tries
from core.proposals.rules import way_of
from core.proposals.situation import Situation, situation
from core.proposals.standing import Stands
from core.runs import Found, bay_years, settle, still_moves, years_of
from core.study import PASSES

WAYS = 2  # of one element
HARSHER: tuple[dict[str, Any], ...] = (
    {},
    {"exposure": "severe", "climate": "corrie", "occupancy": "high"},
    {"exposure": "severe", "climate": "tarn", "occupancy": "iso13788_5"},
    {"exposure": "severe", "climate": "corrie", "occupancy": "iso13788_5"},
)  # so that enough of them do not stand
TAKEN = 8  # elements handed out at a time for each process


@dataclass(frozen=True)
class Stood:
    """One way of one element: what was said of it, and what does not hold of that (empty: it holds)."""

    number: int
    way: str
    said: Stands
    wrong: str


def tried(number: int, harsh: bool = False) -> list[Stood]:
    """Some ways of one random element, each said and then run alone. harsh: in a harsher place each time."""
    element = random_element(number)
    rng = np.random.default_rng(number)
    places = HARSHER[1:] if harsh else HARSHER
    place = element.stand.place.model_copy(update=places[int(rng.integers(len(places)))])
    at = situation(element.build_up, replace(element.stand, place=place))
    ways = [one.way for one in propose(at).offered]
    chosen = rng.permutation(len(ways))[:WAYS]
    found = settle(at.as_found, at.stand.place)
    limits = checked_limits(LIMITS, {})
    rows = []
    for index in chosen:
        said = stands(way_of(ways[index]), at, found, limits)
        rows.append(Stood(number, ways[index], said, _wrong(ways[index], at, found, said)))
    return rows


def _wrong(way: str, at: Situation, found: Found | None, said: Stands) -> str:
    if said.state == "stands":
        usual, bad = _alone(_built(way, at, said.mm), at, found)
        over = usual if usual.state == "over a limit" else bad if bad.state == "over a limit" else None
        if over is not None:
            return f"alone it is: {over.headline}. {over.worst.sentence if over.worst else ''}"
        return f"alone it is: {usual.headline}" if "drying in" in usual.headline.metric else ""
    if said.state == "does not stand":
        if not said.because.metric.strip():
            return "nothing is said of what decides"
        usual, bad = _alone(_built(way, at, said.mm), at, found)
        if "over a limit" not in (usual.state, bad.state):
            return f"alone it is: {usual.headline}"
        of_them = [one for one in (usual, bad) if one.state == "over a limit"]
        if not any(one.driver.metric and one.driver.metric in said.because.metric for one in of_them):
            return f"its driver is not said: {of_them[0].driver}"
    if said.state == "cannot be run":
        return f"it is offered: {said.because.metric}"
    return ""


def _built(way: str, at: Situation, mm: float | None) -> BuildUp:
    return next(one for one in tries(way_of(way), at) if one.mm == mm).build_up


def _alone(option: BuildUp, at: Situation, found: Found | None) -> tuple[Verdict, Verdict]:
    """(usual years, a bad year) of an option as its sheet runs them, from as found once settled."""
    place = at.stand.place
    limits = checked_limits(LIMITS, {})
    option = aligned(at.as_found, option)
    before = found.findings if found is not None else None
    facts = stated(option, at.as_found, place, shipped(place.climate), False)
    worse = place.model_copy(update={"bad_year": True})
    bad = bay_years(option, worse, found, PASSES)
    if still_moves(bad):  # as its tests run it
        bad = bay_years(option, worse, found, None)
    return verdict(years_of(option, place, found), before, facts, limits), verdict(bad, before, facts, limits)


def stood(count: int, first: int = 0, processes: int = 2, harsh: bool = False) -> Iterator[Stood]:
    """Ways of random elements from number `first` on, until so many stand and so many do not. harsh: in harsher places only, where more of them do not."""
    standing = falling = 0
    number = first
    with ProcessPoolExecutor(processes, mp_context=get_context("spawn")) as pool:
        while standing < count or falling < count:
            numbers = range(number, number + TAKEN * processes)
            number = numbers.stop
            for rows in pool.map(partial(_tried_or_refused, harsh=harsh), numbers):
                for row in rows:
                    standing += row.said.state == "stands"
                    falling += row.said.state == "does not stand"
                    yield row


def _tried_or_refused(number: int, harsh: bool) -> list[Stood]:
    try:
        return tried(number, harsh)
    except CoreError as error:
        at = random_element(number)
        raise RuntimeError(f"element {number}, {at.build_up}: {error.message}") from error

"""Whether a way stands: found by its hourly years, and with them the thickness at which it does.

Each way is run from as found's settled state with the leak its making usually has: a usual year, a bad one, and once with the rain that
gets in at its kind of element. It *stands* where no limit is passed in the usual and the bad year; it *stands only if* something is true
where the runs say of what; else it *does not stand*, with what decides. Thickness is searched by few runs, the usual year first.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from core.buildup.anatomy import Anatomy
from core.buildup.leaks import Leaks
from core.buildup.model import BAD_YEAR_WORDS, AirLeakage, BuildUp, Place, RainLeakage
from core.buildup.spent import YEARS
from core.climate.data import shipped
from core.criteria.judging import LimitValues
from core.criteria.run_findings import FOUND_WITH, RunFindings
from core.criteria.stated import stated
from core.criteria.verdict import Verdict, verdict
from core.errors import CaseRefused, OutOfRange
from core.moisture.transient.solve import Progress
from core.proposals.propose import Tried, tries
from core.proposals.rules import Way
from core.proposals.situation import Situation
from core.proposals.standing import Stands
from core.runs import Found, bay_years, stages_of, still_moves, years_of
from core.say import Said, percent, said, say

RAIN_BEHIND = (
    0.01  # of the driven rain, behind claddings and rendered boards: what openings and joints let in; an estimate
)
RAIN_MORE = 1.5  # times the rain on a face that drinks it: a gutter that fails
ROOF_LEAK = 0.001  # of the rain on a roof
ANSWERS = 9  # counted up when the same runs are judged otherwise: kept answers are asked for again
BRIEF_YEARS = (
    2  # from as found's settled state, while the thickness is searched; what stands is run until its year repeats
)
SETTLED = "usual year, settled"
COMFORTABLE = 0.9  # of a limit: what passes it in one stage an hour is run again as its sheet runs it


@dataclass
class _Bench:
    """Runs of one way, each once."""

    at: Situation
    found: Found | None
    limits: LimitValues
    progress: Progress
    cancelled: Callable[[], bool] | None
    expected: int
    done: dict[tuple[int, str], Verdict] = field(default_factory=dict)
    refused: str = ""

    def verdict(self, tried: list[Tried], index: int, year: str) -> Verdict:
        """The verdict of one thickness in one year; “usual year, settled”: as its sheet runs it. Raises CoreError for what cannot be run."""
        key = (index, year)
        if key not in self.done:
            share = min(len(self.done) / self.expected, 0.9)

            def tell(part: float, what: str) -> None:
                self.progress(min(share + part / self.expected, 0.99), f"{_named(tried[index])}, {year}")

            build_up, place = in_year(tried[index].build_up, self.at, year)
            if year == SETTLED:
                findings = years_of(build_up, place, self.found, tell, self.cancelled, stages=1)
            else:
                findings = bay_years(build_up, place, self.found, BRIEF_YEARS, tell, self.cancelled)
            facts = stated(build_up, self.at.as_found, place, shipped(place.climate), False)
            before = self.found.findings if self.found is not None else None
            said_of = verdict(findings, before, facts, self.limits)
            again: RunFindings | None = None
            if year == SETTLED:
                if any(one.share > COMFORTABLE for one in said_of.judgements) and stages_of(build_up, place) > 1:
                    again = years_of(build_up, place, self.found, tell, self.cancelled)
            elif still_moves(findings) > 0.0 or (still_moves(findings) < 0.0 and said_of.state == "over a limit"):
                again = bay_years(build_up, place, self.found, None, tell, self.cancelled)
            if again is not None:
                said_of = verdict(again, before, facts, self.limits)
            self.done[key] = said_of
        return self.done[key]

    def fine(self, tried: list[Tried], index: int, year: str) -> bool:
        return self.verdict(tried, index, year).state != "over a limit"

    def ok(self, tried: list[Tried], index: int) -> bool:
        """Whether a thickness passes no limit in the usual and in the bad year, the usual one first."""
        usual = SETTLED if (index, SETTLED) in self.done else "usual year"
        return self.fine(tried, index, usual) and self.fine(tried, index, "bad year")


def _named(tried: Tried) -> str:
    return f"{tried.mm:g} mm" if tried.mm is not None else "as it is built"


def in_year(build_up: BuildUp, at: Situation, year: str) -> tuple[BuildUp, Place]:
    """The build-up and its place in a usual or a bad year, with rain that gets in, or tested tight."""
    place = at.stand.place
    if year.startswith("bad year"):
        place = place.model_copy(update={"bad_year": True})
    elif year == "rain gets in":
        leaks = Leaks(build_up, place)
        if place.kind == "roof":
            share = max(ROOF_LEAK, leaks.rain_share)
            build_up = build_up.model_copy(
                update={"rain_leak": RainLeakage(share=share, after_layer=build_up.rain_leak.after_layer)}
            )
        elif drinks(build_up, at):
            place = place.model_copy(update={"rain_scale": place.rain_scale * RAIN_MORE})
        else:
            share = max(RAIN_BEHIND, leaks.rain_share)
            build_up = build_up.model_copy(
                update={"rain_leak": RainLeakage(share=share, after_layer=build_up.rain_leak.after_layer)}
            )
    if year.endswith("tested tight"):
        build_up = build_up.model_copy(
            update={"air_leak": AirLeakage(preset="tested tight", after_layer=build_up.air_leak.after_layer)}
        )
    return build_up, place


def drinks(build_up: BuildUp, at: Situation) -> bool:
    """Whether rain goes into the face itself, and not behind something that stands before it."""
    anatomy = Anatomy(build_up, at.stand.place)
    return anatomy.masonry is not None and anatomy.weather_side == 0 and anatomy.thin_render is None


def rained(at: Situation) -> bool:
    place = at.stand.place
    return place.adjoining == "outside" and place.kind != "floor"


def stands(
    way: Way,
    at: Situation,
    found: Found | None,
    limits: LimitValues,
    progress: Progress | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> Stands:
    """What the years say of a way at this element. found: as found once settled; None where it cannot be run, and the way is judged alone.

    Raises Cancelled; what cannot be built or run says so in words.
    """
    report = progress or (lambda share, what: None)
    try:
        tried = tries(way, at)
    except (OutOfRange, CaseRefused) as error:
        return Stands(state="cannot be run", mm=None, because=said(f"{error.message[:1].upper()}{error.message[1:]}."))
    fits = [one for one in tried if not one.over] or tried[:1]
    bench = _Bench(at, found, limits, report, cancelled, expected=6)
    try:
        return _searched(bench, fits, way, at)
    except CaseRefused as error:
        return Stands(
            state="cannot be run",
            mm=fits[0].mm,
            because=said(f"Its years are refused: {error.message}."),
            runs=len(bench.done),
        )


def _searched(bench: _Bench, fits: list[Tried], way: Way, at: Situation) -> Stands:
    target = at.stand.limits
    meets = [index for index, one in enumerate(fits) if target.reached_by(one.u)]
    usual_one = len(fits) // 2 if target.target_u_w_m2k is None else len(fits) - 1
    first = meets[0] if meets else usual_one
    chosen: int | None = None
    most: int | None = None
    if bench.fine(fits, first, SETTLED) and bench.fine(fits, first, "bad year"):
        chosen = first
        most = _most(bench, fits, first, len(fits) - 1)
    else:  # more of it keeps what stands inside of it warmer; more of it inside keeps what stands outside of it colder
        for search in (_up, _down) if _outward(way) else (_down, _up):
            chosen, most = search(bench, fits, first)
            if chosen is not None:
                break
    if chosen is None:
        return _not(bench, fits, first, way, at)
    usual = bench.verdict(fits, chosen, SETTLED)
    bad = bench.verdict(fits, chosen, "bad year")
    rain = bench.verdict(fits, chosen, "rain gets in") if rained(at) else None
    least = chosen if chosen in meets else None
    words = dict(usual=usual.headline, bad=bad.headline, rain=rain.headline if rain is not None else None)
    sizes = dict(
        mm=fits[chosen].mm,
        least_mm=None if least is None else fits[least].mm,
        most_mm=None if most is None else fits[most].mm,
    )
    margin = max((j.share for j in usual.judgements if j.phase == "for good"), default=0.0)
    if usual.only_while:
        return Stands(
            state="stands only if", condition=say("its coat is renewed in time, every {years} years or so (an estimate)", years=YEARS),
            because=say("Only while {words}.", words=usual.only_while), margin=margin, runs=len(bench.done), **sizes, **words,
        )  # fmt: skip
    if rain is not None and rain.state == "over a limit":
        return Stands(
            state="stands only if", condition=_dry_condition(fits[chosen], at), because=_why(rain), margin=margin, runs=len(bench.done), **sizes, **words,
        )  # fmt: skip
    lasting = {(j.criterion, j.path, j.place) for j in usual.judgements if j.phase == "for good" and j.share > 1.0}
    first_years = next(
        (
            j
            for j in usual.judgements
            if j.phase == "drying in" and j.state == "over a limit" and (j.criterion, j.path, j.place) not in lasting
        ),
        None,
    )
    if first_years is not None:
        return Stands(
            state="stands only if", condition=said("what it stands on is dry first, or the works fall in another season: too much for it is the drying in"),
            because=first_years.sentence, margin=margin, runs=len(bench.done), **sizes, **words,
        )  # fmt: skip
    too = any(j.phase == "for good" and j.share > 1.0 for year in (usual, bad) for j in year.judgements)
    no = "What is over its limit as found too gets no worse, and no other limit" if too else "No limit"
    return Stands(
        state="stands", because=said(f"{no} is passed in a usual year{', in a bad one or with rain that gets in' if rain else ' or in a bad one'}."),
        margin=margin, runs=len(bench.done), **sizes, **words,
    )  # fmt: skip


def _most(bench: _Bench, fits: list[Tried], good: int, last: int) -> int:
    """The most of those that stand, from one that does: the last first, then by halves."""
    if good == last or bench.ok(fits, last):
        return last
    low, high = good, last
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if bench.ok(fits, middle) else (low, middle)
    return low


def _outward(way: Way) -> bool:
    """Whether the layer whose thickness is found lies outside of what is there."""
    return any(one.steps is not None for one in [*way.outside, *way.under_covering])


def _down(bench: _Bench, fits: list[Tried], bad: int) -> tuple[int | None, int | None]:
    """(the most below one that does not stand, the same), settled too; None where none stands."""
    if bad == 0 or not bench.ok(fits, 0):
        return None, None
    low, high = 0, bad
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if bench.ok(fits, middle) else (low, middle)
    settled = next((index for index in range(low, -1, -1) if bench.fine(fits, index, SETTLED)), None)
    return settled, settled


def _up(bench: _Bench, fits: list[Tried], bad: int) -> tuple[int | None, int | None]:
    """(the least above one that does not stand, the most), settled too; None where none stands."""
    last = len(fits) - 1
    if bad == last or not bench.ok(fits, last):
        return None, None
    low, high = bad, last
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if bench.ok(fits, middle) else (middle, high)
    settled = next((index for index in range(high, last + 1) if bench.fine(fits, index, SETTLED)), None)
    return settled, last if settled is not None else None


def _not(bench: _Bench, fits: list[Tried], first: int, way: Way, at: Situation) -> Stands:
    """Nothing of it stands as it is usually made: whether it would if it were tested tight, or only the bad year decides; else what does."""
    kindest = len(fits) - 1 if _outward(way) else 0
    usual = bench.verdict(fits, kindest, SETTLED)
    bad = bench.verdict(fits, kindest, "bad year")
    common = dict(usual=usual.headline, bad=bad.headline, mm=fits[kindest].mm)
    if usual.state != "over a limit":
        return Stands(
            state="stands only if", because=_why(bad), runs=len(bench.done),
            condition=say("no year is worse than a usual one; too much for it is {bad}", bad=BAD_YEAR_WORDS), **common,
        )  # fmt: skip
    leaks = Leaks(fits[kindest].build_up, at.stand.place).q50 > 0.3 and at.stand.place.adjoining != "ground"
    if leaks and bench.fine(fits, kindest, "tested tight") and bench.fine(fits, kindest, "bad year, tested tight"):
        return Stands(
            state="stands only if", because=_why(usual), runs=len(bench.done),
            condition=said("it is tested tight before it is closed: 0.3 m³/(h m²) at 50 Pa, with smoke at every edge"), **common,
        )  # fmt: skip
    shown = bench.verdict(fits, first, SETTLED)
    if shown.state != "over a limit":
        return Stands(state="does not stand", because=_why(usual), runs=len(bench.done), **common)
    return Stands(
        state="does not stand",
        mm=fits[first].mm,
        because=_why(shown),
        usual=shown.headline,
        bad=bad.headline,
        runs=len(bench.done),
    )


def _why(one: Verdict) -> Said:
    """What decides: the figure with its place and day, and what wets it."""
    words = one.headline + ". "
    if one.worst is not None:
        words = words + one.worst.sentence + " "
    return words + one.driver


def _dry_condition(tried: Tried, at: Situation) -> Said:
    if at.stand.place.kind == "roof":
        return say(
            "its covering and flashings let no rain in: {share} of what falls on it is too much",
            share=percent(ROOF_LEAK, 1),
        )
    if drinks(tried.build_up, at):
        return said("gutters, sills and pointing are kept sound: half as much rain again on this face is too much")
    return say(
        "no rain gets in behind it at openings and joints: {share} of what is driven on it is too much",
        share=percent(RAIN_BEHIND),
    )


def standing_key(at: Situation, way: str, found_key: str, limits: LimitValues) -> str:
    """Identity of an answer: what is there, where, its limits, the way, and the versions of what finds it."""
    import hashlib
    import json

    from core.proposals.rules import way_of

    stand = at.stand
    what = {
        "as_found": at.as_found.model_dump(mode="json"), "place": stand.place.model_dump(mode="json"), "way": way_of(way).model_dump(mode="json"),
        "room": stand.limits.model_dump(mode="json"), "limits": dict(limits), "found": found_key, "with": [FOUND_WITH, ANSWERS],
        "rain": [RAIN_BEHIND, RAIN_MORE, ROOF_LEAK, BRIEF_YEARS],
        "ground": None if stand.ground is None else stand.ground.model_dump(mode="json"),
        "flags": sorted(at.flags),
    }  # fmt: skip
    return hashlib.sha256(json.dumps(what, sort_keys=True).encode()).hexdigest()

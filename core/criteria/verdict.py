"""The verdict: a pure function of findings, findings of as found, limits, what is stated of the build-up, and tests.

It is worked out when it is read and kept nowhere, so that it is the same whichever run ended first, and right again when as
found is run anew or a limit is edited. The word is that of *for good*, the settled cycle; where only *drying in* passes a
limit it is marginal, and says so.
"""

from __future__ import annotations

from core.buildup.spent import YEARS
from core.case import Strict
from core.criteria.accumulation import AccumulationFinding, trend
from core.criteria.findings import Finding, Phase, Point
from core.criteria.frost import FrostFinding, times
from core.criteria.judging import (
    SAME,
    AgainstFound,
    Judgement,
    LimitValues,
    State,
    Stated,
)
from core.criteria.mould import LIMIT_OF_ROLE
from core.criteria.registry import CRITERIA, LEFT_OUT
from core.criteria.run_findings import RunFindings
from core.moisture.account import GOES_ROUND
from core.moisture.attribution import OF_RAIN, Arriving
from core.say import Said, figure, join, percent, said, say, small_water, water

RAIN_REACHES = ("rain", "rain driven inward by the sun")
GETS_IN = ("leaking air", GOES_ROUND, "rain that leaks in", "vapour through the room face", "water from the soil")
BONDED_WET_RH, WET_MOULD = 0.95, 3.0
SOAKED_RH = 0.97
DAMP_RH = 0.8
OF_MEMBERS = ("timber", "mould", "sheet")  # what is judged through the members: their wood, and the faces they touch
WORTH_TELLING = 0.1  # of a limit, for what is told after the worst
LITTLE_WATER = 0.1  # kg/m²: less is not worth a word
NEXT_SHARE = 0.05  # of the first source, from which the second is told
MUCH_WORSE = 1.2  # times the share of the limit that it keeps for good
NAMES = {
    "timber": "wood moisture", "sheet": "sheet moisture", "wood fibre": "wet wood fibre", "weather": "open to the weather",
    "drying": "more wetting than drying",
}  # fmt: skip


class Tested(Strict):
    """What tests of this option say, as far as they are of what is drawn: empty where there is none.

    wetting_left: share of the dose that is left when the next heating season begins; wetting_passes: less than its limit.
    """

    bad_year: State | None = None
    wetting_left: float | None = None
    wetting_passes: bool = True
    study_over: int = 0
    study_runs: int = 0


class Verdict(Strict):
    """state: the word. driver: what wets the worst plane. judgements: of both stretches of time, the worst first.

    as_found_words: the line of the as-found strip, which has no badge. soaked: rain drowns every difference here.
    only_while: on what coat it relies against the rain; empty where it holds without it, or has none.
    """

    state: State
    headline: Said
    driver: Said
    worst: Judgement | None
    second: Judgement | None
    judgements: list[Judgement]
    points: list[Point]
    worst_point: Point
    as_found_words: Said
    drying_in: Said
    not_judged: list[Said]
    notes: list[Said]
    soaked: bool
    found_with_older: bool
    only_while: Said = said("")


def verdict(
    findings: RunFindings,
    as_found: RunFindings | None,
    stated: Stated,
    limits: LimitValues,
    tested: Tested | None = None,
) -> Verdict:
    """The verdict of one run. as_found: findings of the as-found run it is set against; None for as found itself."""
    tested = tested or Tested()
    judgements = [_against(j, as_found, stated, limits) for j in _judged(findings, as_found, stated, limits)]
    judgements += _by_rule(findings, stated)
    judgements.sort(key=_rank)
    settled = [j for j in judgements if j.phase == "for good"]
    first = [j for j in judgements if j.phase == "drying in"]
    worst = settled[0] if settled else None
    state: State = worst.state if worst is not None else "within limits"
    reasons: list[Said] = []
    only_drying_in = state == "within limits" and any(j.state == "over a limit" for j in first)
    if only_drying_in:
        state = "marginal"
        worst = next(j for j in first if j.state == "over a limit")
        reasons.append(say("drying in; {figure} in the first years only", figure=_figure(worst)))
    while_coat = _only_while(findings, as_found, stated, limits)
    cautions = _cautions(findings, as_found, stated, tested)
    if while_coat:
        cautions.append(say("only while {words}", words=while_coat))
    if state == "within limits" and cautions:
        state = "marginal"
    reasons += cautions
    worst_point = _worst_point(findings, worst)
    path = findings.member if worst is not None and worst.path == "member" and findings.member is not None else findings
    return Verdict(
        state=state,
        headline=_headline(state, worst, reasons, findings, stated, only_drying_in),
        driver=_driver(path, worst, _worst_point(path, worst)),
        worst=worst,
        second=next((j for j in judgements if _is_next(j, worst)), None),
        judgements=judgements,
        points=findings.points,
        worst_point=worst_point,
        as_found_words=_as_found_words(findings, worst, stated),
        drying_in=_drying_in(findings, first, settled),
        not_judged=_not_judged(findings, as_found, stated),
        notes=_notes(findings, stated),
        soaked=_soaked(findings),
        found_with_older=not findings.current,
        only_while=while_coat,
    )


def _is_next(judgement: Judgement, worst: Judgement | None) -> bool:
    """Whether it may be told after the worst: of another place, and not as good as nothing."""
    return (worst is None or judgement.place != worst.place) and judgement.share >= WORTH_TELLING


def _rank(judgement: Judgement) -> tuple[bool, int, bool, float]:
    """For good before drying in; over a limit before marginal; harm before the water that causes it; then by how far."""
    order = {"over a limit": 0, "marginal": 1, "within limits": 2}[judgement.state]
    return judgement.phase == "drying in", order, judgement.criterion == "condensate", -judgement.share


def _judged(
    findings: RunFindings, as_found: RunFindings | None, stated: Stated, limits: LimitValues
) -> list[Judgement]:
    found: list[Judgement] = []
    if findings.member is not None:
        beside = as_found.member or as_found if as_found is not None else None
        through = _judged(findings.member, beside, stated, limits)
        found += [_through(one) for one in through if one.criterion in OF_MEMBERS]
    for criterion in CRITERIA:
        for finding in findings.of(criterion.key):
            if not finding.judged:
                continue
            before = _same_place(finding, as_found)
            phases: tuple[Phase, ...] = ("for good", "drying in")
            for phase in phases:
                judgement = criterion.judge(finding, phase, before, limits, stated)
                if judgement is not None:
                    found.append(judgement)
    return found


def _covered_now(before: Finding, judgement: Judgement, as_found: RunFindings) -> bool:
    """Whether what was the room's own face lies behind something new: another place, to which as found is no excuse."""
    faces = {point.name for point in as_found.points if point.role == "room"}
    return before.place in faces and judgement.place not in faces


def _through(judgement: Judgement) -> Judgement:
    """A judgement of the path through the members, told as one."""
    return judgement.model_copy(
        update={"path": "member", "sentence": say("Through the member: {sentence}", sentence=judgement.sentence)}
    )


def _same_place(finding: Finding, as_found: RunFindings | None) -> Finding | None:
    """The finding of the same criterion at the same material plane as found."""
    if as_found is None:
        return None
    return next((row for row in as_found.of(finding.criterion) if row.layer_id == finding.layer_id), None)


def _against(judgement: Judgement, as_found: RunFindings | None, stated: Stated, limits: LimitValues) -> Judgement:
    """A limit that as found passes too: no worse is marginal and says so, worse is over a limit and says by how much."""
    if judgement.phase != "for good" or judgement.share <= 1.0 or as_found is None:
        return judgement
    there = as_found.member or as_found if judgement.path == "member" else as_found
    before = next((row for row in there.of(judgement.criterion) if row.layer_id == judgement.layer_id), None)
    if before is None or _covered_now(before, judgement, there):
        return judgement
    criterion = next(row for row in CRITERIA if row.key == judgement.criterion)
    found = criterion.judge(before, "for good", None, limits, stated)
    if found is None or found.share <= 1.0:
        return judgement
    ratio = _worse(judgement, found)
    against: AgainstFound = "worse" if ratio > SAME else "better" if ratio < 1.0 / SAME else "no change"
    if against == "better" and _figure(judgement) == _figure(found):
        against = "no change"  # nobody signs “3.5, as found 3.5: better”
    stood = (
        say(" The wall has stood up to it for some {years} years.", years=stated.sound_years)
        if stated.sound_years
        else said("")
    )
    words = {
        "worse": say(
            " As found is over too ({before}): worse{more}.",
            before=_figure(found),
            more=_more(judgement, found),
        ),
        "better": say(" As found is over too ({before}): better.", before=_figure(found)),
        "no change": say(" As found is over too ({before}): no change.", before=_figure(found)),
    }[against]
    state: State = "over a limit" if against == "worse" else "marginal"
    return judgement.model_copy(
        update={"against": against, "state": state, "sentence": judgement.sentence + words + stood}
    )


def _more(judgement: Judgement, found: Judgement) -> Said:
    """By how much the figure that is told stands above the same figure as found; nothing where that is another measure, or no more."""
    if (
        judgement.unit != found.unit
        or found.value <= 0.0
        or judgement.value <= found.value * SAME
        or judgement.value > 100.0 * found.value
    ):
        return said("")
    return say(" by {share}", share=percent(judgement.value / found.value - 1.0))


def _worse(judgement: Judgement, found: Judgement) -> float:
    """By how much the measures that are over their limit stand above the same measures as found."""
    now, before = judgement.shares or [judgement.share], found.shares or [found.share]
    return max(n / b if b > 0.0 else float("inf") for n, b in zip(now, before, strict=True) if n > 1.0)


def _by_rule(findings: RunFindings, stated: Stated) -> list[Judgement]:
    """What needs no run: an outermost layer that cannot stand the weather."""
    if not stated.open_to_weather or stated.as_found:
        return []
    worst = findings.of("accumulation")[0]
    assert isinstance(worst, AccumulationFinding)
    return [
        Judgement(
            criterion="weather", place=stated.open_to_weather, layer_id="", phase="for good", value=2.0, unit="", share=2.0,
            state="over a limit", on=worst.on,
            sentence=say(
                "{layer} lies open to the weather: rain, sun and wind take it apart. Cover it.",
                layer=said(stated.open_to_weather).capitalised(),
            ),
        )
    ]  # fmt: skip


def _cautions(findings: RunFindings, as_found: RunFindings | None, stated: Stated, tested: Tested) -> list[Said]:
    """What makes a verdict within limits only marginal."""
    found: list[Said] = []
    if stated.as_found:
        return found
    if stated.read_wet and _computed_dry(as_found or findings):
        found.append(say("computed dry, read wet ({what}): the run lacks something", what=join(stated.read_wet, ", ")))
    if stated.rests_on_no_leak:
        found.append(said("it relies on perfect airtightness"))
    if stated.in_trap and stated.trap_holds_wood:
        found.append(said("a moisture trap: water that gets in can hardly get out"))
    if not tested.wetting_passes and tested.wetting_left is not None:
        found.append(
            say(
                "{left} of the water of the wetting test is still there when the next heating season begins",
                left=percent(tested.wetting_left),
            )
        )
    if tested.bad_year == "over a limit":
        found.append(said("over a limit in the bad year"))
    if tested.study_over and tested.study_runs:
        share = tested.study_over / tested.study_runs
        found.append(say("over a limit in {over} of {runs} study runs", over=tested.study_over, runs=tested.study_runs))
        if share > 0.5:
            found[-1] = found[-1] + ", more than half"
    wetting = yearly_wetting(findings)
    if stated.drying_g_m2 is not None and not stated.vapour_only and wetting * 1000.0 > stated.drying_g_m2:
        found.append(
            say(
                "{wet} a year get in, more than can dry out in the drying season ({dry})",
                wet=small_water(wetting * 1000.0), dry=small_water(stated.drying_g_m2),
            )
        )  # fmt: skip
    return found


def _only_while(findings: RunFindings, as_found: RunFindings | None, stated: Stated, limits: LimitValues) -> Said:
    """On what coat an option relies against the rain, and what it is once that is spent; nothing where it holds without it."""
    if not stated.wears_off or stated.as_found:
        return said("")
    words = say("“{name}” keeps the rain off, some {years} years (an estimate)", name=stated.wears_off, years=YEARS)
    if findings.spent is None:
        return words
    rows = [_against(j, as_found, stated, limits) for j in _judged(findings.spent, as_found, stated, limits)]
    over = sorted((j for j in rows if j.phase == "for good" and j.state == "over a limit"), key=_rank)
    return (
        say("{words}: spent, it is over a limit: {figure}", words=words, figure=_figure(over[0])) if over else said("")
    )


def yearly_wetting(findings: RunFindings) -> float:
    """Water that gets in in the settled year [kg/m²]: by leaks, from the room and the soil, and of the rain on its face what reaches the
    plane it wets most. What the face takes up and gives back is left out."""
    inboard = {point.name for point in findings.points if point.judged or point.bonded}
    rain = [
        sum(one.kg_m2 for one in row.arriving if one.source in RAIN_REACHES)
        for row in findings.wetted_by
        if row.place in inboard
    ]
    return sum(row.gain_kg_m2 for row in findings.account.rows if row.name in GETS_IN) + max(rain, default=0.0)


def _headline(
    state: State, worst: Judgement | None, reasons: list[Said], findings: RunFindings, stated: Stated, drying_in: bool
) -> Said:
    if state == "over a limit":
        assert worst is not None
        words = say("Over a limit: {figure}", figure=_figure(worst))
        if worst.against == "worse":
            words = words + ", worse than as found"
    elif drying_in:
        words = say("Marginal: {reasons}", reasons=join(reasons, "; "))
    elif state == "marginal":
        parts: list[Said] = []
        if worst is not None and worst.state == "marginal":
            tail = f", over as found, {worst.against}" if worst.against else ""
            parts.append(say("{figure}{tail}", figure=_figure(worst), tail=tail))
        words = say("Marginal: {reasons}", reasons=join([*parts, *reasons], "; "))
    else:
        words = said("Within limits")
    if stated.in_trap and not (state == "marginal" and stated.trap_holds_wood):
        words = words + (", but in a trap" if state == "within limits" else "; in a trap")
    bonded = _wet_reported(findings)
    if not stated.as_found and bonded is not None:
        place = "bonded plane" if bonded.bonded else bonded.name
        words = words + say(
            "; at the {place} {rh} RH and mould index {mould}, reported, not judged",
            place=place, rh=percent(bonded.worst_month_rh), mould=figure(bonded.mould, 1),
        )  # fmt: skip
    return words


def _wet_reported(findings: RunFindings) -> Point | None:
    """The wettest plane inboard of the weather that is reported and not judged, where it is so wet or mouldy that the verdict must name it."""
    wet = [
        point
        for point in findings.points
        if (point.bonded or (not point.judged and point.role == "inside"))
        and (point.worst_month_rh > BONDED_WET_RH or point.mould > WET_MOULD)
    ]
    return max(wet, key=lambda point: (point.worst_month_rh, point.mould), default=None)


def _computed_dry(findings: RunFindings) -> bool:
    """Whether the run is dry all year wherever it is looked at, behind the weather."""
    inside = [p for p in findings.points if p.role in LIMIT_OF_ROLE] or findings.points
    return max(p.worst_month_rh for p in inside) < DAMP_RH


def _figure(judgement: Judgement) -> Said:
    """“mould 3.3”, “wood moisture 31 %”, “frost, 7 cycles”."""
    name = NAMES.get(judgement.criterion, judgement.criterion)
    if judgement.criterion == "weather":
        return said(f"{name}: {judgement.place}")
    if judgement.unit == "g/m²":
        return say("{name}, {value}", name=name, value=small_water(judgement.value))
    if judgement.unit in ("cycles", "hours", "days"):
        return said(f"{name}, {judgement.value:.0f} {judgement.unit}")
    if judgement.unit == "%":
        return said(f"{name} {figure(judgement.value, 0 if judgement.value >= 10 else 1)} %")
    return said(f"{name} {figure(judgement.value, 1)}")


def _worst_point(findings: RunFindings, worst: Judgement | None) -> Point:
    """Where one looks first: the place of the worst judgement when it is a plane, else the wettest judged one inside."""
    if worst is not None and worst.state != "within limits":
        for point in findings.points:
            if point.name == worst.place:
                return point
    inside = [p for p in findings.points if p.role in LIMIT_OF_ROLE] or findings.points
    return max(inside, key=lambda p: (p.judged or p.bonded, p.worst_month_rh))


# --- what wets it --------------------------------------------------------------------------------------


def _driver(findings: RunFindings, worst: Judgement | None, point: Point) -> Said:
    """What reaches the worst plane most, by source; where nothing much does, that."""
    place = worst.place if worst is not None and worst.state != "within limits" else point.name
    row = next((w for w in findings.wetted_by if w.place == place), None)
    row = row or next((w for w in findings.wetted_by if w.place == point.name), None)
    if row is None or not row.arriving:
        return said("Next to no water reaches it.")
    most = row.arriving[0]
    words = driver_words(row.place, row.arriving)
    if findings.rain_taken_kg_m2 > 1.0 and most.source not in ("rain", "rain driven inward by the sun"):
        words = words + say(" The face takes up {water} of rain a year.", water=water(findings.rain_taken_kg_m2))
    return words


def driver_words(place: str, arriving: list[Arriving]) -> Said:
    """What wets a place most, and what comes next where it counts. arriving: at least one, the most first."""
    most = arriving[0]
    words = say(
        "What wets {place} most is {source}: {water} a year reach it.",
        place=place,
        source=most.source,
        water=_amount(most),
    )
    if len(arriving) > 1 and arriving[1].kg_m2 > NEXT_SHARE * most.kg_m2:
        second = arriving[1]
        words = words + say(" Next is {source}, {water}.", source=second.source, water=_amount(second))
    return words


def _amount(row: Arriving) -> Said:
    return water(row.kg_m2) if row.kg_m2 >= 1.0 else small_water(row.kg_m2 * 1000.0)


def driven_by_rain(findings: RunFindings, place: str) -> bool:
    """Whether rain is what reaches a place most."""
    row = next((w for w in findings.wetted_by if w.place == place), None)
    return bool(row and row.arriving and row.arriving[0].source in OF_RAIN)


def _soaked(findings: RunFindings) -> bool:
    """The structure stays at the edge of saturation and rain is why: nothing inside it makes a difference then."""
    behind = [p for p in findings.points if p.role in LIMIT_OF_ROLE and p.role != "room"]
    if not behind or findings.rain_taken_kg_m2 < 20.0:
        return False
    wettest = max(behind, key=lambda p: p.worst_month_rh)
    return wettest.worst_month_rh >= SOAKED_RH and driven_by_rain(findings, wettest.name)


# --- words beside --------------------------------------------------------------------------------------


def _as_found_words(findings: RunFindings, worst: Judgement | None, stated: Stated) -> Said:
    """By its worst month and by what it passes: a limit first, then where and when it is wettest."""
    accumulation = findings.of("accumulation")[0]
    assert isinstance(accumulation, AccumulationFinding)
    if not accumulation.settled and accumulation.rise > 0.01 and accumulation.heads_for is None:
        return said("getting wetter each year")
    inside = [p for p in findings.points if p.role in LIMIT_OF_ROLE] or findings.points
    wettest = max(inside, key=lambda p: p.worst_month_rh)
    words = _wettest_words(wettest)
    if worst is not None and worst.state == "over a limit":
        if (
            wettest.worst_month_rh < DAMP_RH
        ):  # what passes its limit lies outside of every plane that is looked at inside
            words = said("dry all year further in")
        if stated.sound_years:  # what the survey found sound is not condemned by its run
            stood = "{words}; {figure} is over its limit, and it has stood up to it for some {years} years"
            return say(stood, words=words, figure=_figure(worst), years=stated.sound_years)
        return say("over a limit: {figure}; {words}", figure=_figure(worst), words=words)
    return words


def _wettest_words(point: Point) -> Said:
    if point.worst_month_rh < DAMP_RH:
        return said("dry all year")
    how = "wet" if point.worst_month_rh >= BONDED_WET_RH else "damp"
    if point.driest_month_rh >= DAMP_RH:
        return say("{how} all year, most in {month}", how=how, month=point.worst_month)
    return say("{how} each {month} at the {place}", how=how, month=point.worst_month, place=point.name)


def _drying_in(findings: RunFindings, first: list[Judgement], settled: list[Judgement]) -> Said:
    """What the works' own water does until the cycle repeats."""
    state = findings.drying_in
    extra = state.extra_kg_m2
    if abs(extra) < LITTLE_WATER:
        words = said("Drying out: next to nothing to dry.")
    else:
        sense = "above" if extra > 0 else "below"
        words = say("Drying out: it starts {water} {sense} its settled level", water=water(abs(extra)), sense=sense)
        if state.dry_by is None:
            words = words + say(", and has not reached it after {years} years.", years=findings.balances.passes)
        else:
            words = words + say(" and reaches it by {when}.", when=state.dry_by.in_phase("drying in"))
    if not first:
        return words
    return words + _on_the_way(first, settled, extra)


def _on_the_way(first: list[Judgement], settled: list[Judgement], extra: float) -> Said:
    """Which limit is passed while drying in, and what helps. What stays over its limit is no matter of drying in."""
    lasting = {(j.criterion, j.path, j.place): j.share for j in settled if j.share > 1.0}
    over = [j for j in first if j.state == "over a limit"]
    for judgement in over:
        if (judgement.criterion, judgement.path, judgement.place) not in lasting:
            advice = "Dry it first, or do" if extra >= LITTLE_WATER else "Do"
            return say(" On the way: {sentence} {advice} the works in another season.", sentence=judgement.sentence, advice=advice)  # fmt: skip
    for judgement in over:
        if judgement.share > MUCH_WORSE * lasting[judgement.criterion, judgement.path, judgement.place]:
            return say(
                " While drying out it is worse than it will be once settled: {sentence}", sentence=judgement.sentence
            )
    return said(
        " It is over the limit for good, and hardly further on the way." if over else " No limit is passed on the way."
    )


def _not_judged(findings: RunFindings, as_found: RunFindings | None, stated: Stated) -> list[Said]:
    words = [said(LEFT_OUT)]
    frost = [
        row for row in findings.of("frost") if isinstance(row, FrostFinding) and row.layer_id not in stated.frost_proof
    ]
    wet = max((row.wet for row in frost), default=0)
    if wet and not stated.as_found:
        words.append(say("frost resistance of a stone that is not known (wet frost {times} a year)", times=times(wet)))
    if not stated.metal_stated:
        words.append(said("metal (none stated)"))
    if as_found is None and not stated.as_found:
        words.append(said("comparison with as found (its years have not been run)"))
    if not stated.rain_leak and findings.driven_rain_kg_m2 > 0.0:
        words.append(said("rain leaks (none stated)"))
    return [*words, said("salts"), said("beam ends")]


def _notes(findings: RunFindings, stated: Stated) -> list[Said]:
    notes: list[Said] = []
    for point in findings.points:
        if not point.judged and (point.role == "inside" or point.bonded):
            notes.append(
                say(
                    "{name}: {why}, reported and not judged; {rh} RH in {month}, mould index {mould}.",
                    name=said(point.name).capitalised(), why=point.why_not, rh=percent(point.worst_month_rh),
                    month=point.worst_month, mould=figure(point.mould, 1),
                )
            )  # fmt: skip
    accumulation = findings.of("accumulation")[0]
    assert isinstance(accumulation, AccumulationFinding)
    if not accumulation.settled:
        notes.append(trend(accumulation))
    if stated.leak != "none":
        notes.append(
            say(
                "Air leakage: {leak}; one twentieth of it is taken to wet the cold plane (an estimate, good to a factor of ten).",
                leak=stated.leak,
            )
        )
    if stated.rain_leak_by_rule:
        notes.append(
            say(
                "Filled cavity: {share} of the driven rain is taken to cross the fill by ties and mortar (an estimate, good to a factor of ten)."
                if stated.kind == "wall"
                else "Covering without an underlay: {share} of the rain on the slope gets through (an estimate).",
                share=percent(stated.rain_leak, 1),
            )
        )
    if stated.wears_off and not stated.as_found and findings.spent is not None:
        notes.append(
            say("Run with its coat as it is put on, and once spent, some {years} years on (an estimate).", years=YEARS)
        )
    if stated.nothing_sheds and not stated.as_found:
        notes.append(say("Nothing sheds the water that gets behind {name}.", name=stated.nothing_sheds))
    if stated.read_wet and _computed_dry(findings):
        notes.append(
            say(
                "Read wet ({what}), computed dry. For it to be so wet something must reach it that the run has not: rain that leaks in, "
                "a wetter face, water from the ground or a pipe, damper rooms. State it, or close its cause and read again.",
                what=join(stated.read_wet, ", "),
            )
        )
    if stated.cracked_film:
        notes.append(
            say(
                "{name}: its cracks let rain in, and the film holds it behind.",
                name=said(stated.cracked_film).capitalised(),
            )
        )
    notes += stated.traps
    notes.append(
        said("One run, one weather year; the clear path without framing. Salts and beam ends are not modelled.")
    )
    return notes

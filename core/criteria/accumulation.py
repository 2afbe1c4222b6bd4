"""Whether a wall goes on gathering water, year after year."""

from __future__ import annotations

from typing import Literal

from core.criteria.findings import Day, Finding, Phase, Run
from core.criteria.judging import Criterion, Judgement, Limit, LimitValues, Stated, state_of
from core.say import Said, percent, say, water

SMALL_KG_M2 = 0.05  # a rise of less in a year is no rise, however little water there is


class AccumulationFinding(Finding):
    """Water at the end of the last year [kg/m²] and of those before; settled: the yearly cycle repeats."""

    criterion: Literal["accumulation"] = "accumulation"
    settled: bool
    years: int
    start_kg_m2: float
    year_ends_kg_m2: list[float]
    on: Day

    @property
    def rise(self) -> float:
        """Share by which the last year ends wetter than the one before."""
        ends = [self.start_kg_m2, *self.year_ends_kg_m2]
        if ends[-1] - ends[-2] < SMALL_KG_M2 and ends[-1] - ends[-2] > -SMALL_KG_M2 and ends[-2] < 1.0:
            return 0.0
        return (ends[-1] - ends[-2]) / max(ends[-2], 1e-9)

    @property
    def slowing(self) -> float | None:
        """Each year's rise over that of the year before, where both rise; below 1 it heads for an end."""
        ends = [self.start_kg_m2, *self.year_ends_kg_m2]
        if len(ends) < 4:
            return None
        last, before = ends[-1] - ends[-2], ends[-2] - ends[-3]
        return last / before if last > 0.0 and before > 0.0 else None

    @property
    def heads_for(self) -> float | None:
        """Where a rise that slows evenly ends [kg/m²]."""
        ratio = self.slowing
        if ratio is None or ratio >= 1.0:
            return None
        step = self.year_ends_kg_m2[-1] - (
            self.year_ends_kg_m2[-2] if len(self.year_ends_kg_m2) > 1 else self.start_kg_m2
        )
        return self.year_ends_kg_m2[-1] + step * ratio / (1.0 - ratio)


def find(run: Run) -> list[AccumulationFinding]:
    outcome = run.outcome
    n = outcome.records_per_pass
    return [
        AccumulationFinding(
            place="the whole build-up",
            layer_id="",
            settled=outcome.settled,
            years=outcome.passes,
            start_kg_m2=float(outcome.start_layer_water.sum()),
            year_ends_kg_m2=[float(outcome.layer_water[(i + 1) * n - 1].sum()) for i in range(outcome.passes)],
            on=run.day_of(len(outcome.z) - 1),
        )
    ]


LIMITS = (
    Limit(key="accumulation.share", name="rise of the water from year to year", default=1, unit="%", least=0.2, most=10,
          why="a wall that gathers water has no end of it"),
)  # fmt: skip


def trend(finding: AccumulationFinding) -> Said:
    """“The year repeats itself”, “still rises by 1.4 % a year, slowing”."""
    if finding.settled:
        return say("The yearly cycle repeats itself after {years} years.", years=finding.years)
    rise = finding.rise
    if abs(rise) < 0.0005:
        return say("After {years} years the cycle does not repeat to the last digit yet.", years=finding.years)
    verb = "rises" if rise > 0 else "falls"
    heads = finding.heads_for
    tail = say(", slowing, towards {end}", end=water(heads)) if heads is not None else ""
    return say(
        "After {years} years it still {verb} by {rise} a year{tail}.",
        years=finding.years, verb=verb, rise=percent(abs(rise), 1), tail=tail,
    )  # fmt: skip


def judge(
    finding: AccumulationFinding,
    phase: Phase,
    as_found: AccumulationFinding | None,
    limits: LimitValues,
    stated: Stated,
) -> Judgement | None:
    """A settled cycle gathers nothing. A rise that slows is at most marginal: it has an end, which the others judge."""
    if phase != "for good":
        return None
    limit = limits["accumulation.share"] / 100.0
    share = 0.0 if finding.settled else max(finding.rise, 0.0) / limit
    if finding.heads_for is not None:
        share = min(share, 0.99)
    sentence = say(
        "On {when} it holds {water} of water. {trend}",
        when=finding.on.words, water=water(finding.year_ends_kg_m2[-1]), trend=trend(finding),
    )  # fmt: skip
    return Judgement(
        criterion="accumulation", place=finding.place, layer_id="", phase=phase, value=100.0 * finding.rise, unit="%",
        share=share, state=state_of(share), on=finding.on, sentence=sentence,
    )  # fmt: skip


CRITERION = Criterion(
    "accumulation", 2, AccumulationFinding, find, judge, LIMITS,
    "Water at the end of a year against the year before. A wall that fills up from a dry start towards a cycle gathers nothing.",
)  # fmt: skip

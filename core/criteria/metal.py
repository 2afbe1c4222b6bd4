"""Metal where the survey states some: hours of wetness there, against as found."""

from __future__ import annotations

from typing import Literal

from core.buildup.model import MetalKind
from core.criteria.findings import Day, Finding, Phase, Run
from core.criteria.judging import MARGIN, Criterion, Judgement, Limit, LimitValues, Stated
from core.moisture.transient.outcome import Outcome
from core.say import percent, say, temperature

WET_RH, WET_C = 0.80, 0.0
CLASSES = ((10, "τ1"), (250, "τ2"), (2500, "τ3"), (5500, "τ4"), (8760, "τ5"))


def hours_of_wetness(outcome: Outcome, node: int) -> int:
    """Hours above 80 % RH and above 0 °C at a face in the settled year (time of wetness as in ISO 9223)."""
    wet = (outcome.rh(node, outcome.last_pass) > WET_RH) & (outcome.temperature_c(node, outcome.last_pass) > WET_C)
    return int(round(wet.sum() * outcome.record_step_s / 3600.0))


def wetness_class(hours: int) -> str:
    """Category of the time of wetness as in ISO 9223 (from memory)."""
    return next(name for most, name in CLASSES if hours <= most)


class MetalFinding(Finding):
    """Hours of wetness at stated metal in the settled year; `metal`: what is stated."""

    criterion: Literal["metal"] = "metal"
    metal: str
    kind: MetalKind | None = None
    hours: int
    on: Day


def find(run: Run) -> list[MetalFinding]:
    """At every plane where metal is stated in this build-up; nowhere else is anything claimed."""
    outcome = run.outcome
    last = run.day_of(len(outcome.z) - 1)
    return [
        MetalFinding(
            place=place.plane,
            layer_id=place.layer_id,
            kind=place.metal.kind,
            metal=f"{place.metal.part} of {place.metal.kind}",
            hours=hours_of_wetness(outcome, outcome.planes[place.plane]),
            on=last,
        )
        for place in run.model.metal
    ]


LIMITS = (
    Limit(key="metal.more_hours", name="hours of wetness a year more than as found", default=500, unit="h", least=0, most=5000,
          why="ours; within this corrosion is taken to go on as it has"),
)  # fmt: skip


def judge(
    finding: MetalFinding, phase: Phase, as_found: MetalFinding | None, limits: LimitValues, stated: Stated
) -> Judgement | None:
    """Told beside as found; marginal where stated metal is wet for longer. Stainless steel is told in the findings alone."""
    if phase != "for good" or as_found is None or finding.kind == "stainless steel":
        return None
    rise = (finding.hours - as_found.hours) / limits["metal.more_hours"] if limits["metal.more_hours"] else 0.0
    longer = finding.hours > as_found.hours + limits["metal.more_hours"]
    sentence = say(
        "{metal} at {place}: wet {hours} hours a year (class {after}), as found {before} ({found}); wet is above {rh} RH and "
        "above {cold}.",
        metal=finding.metal.capitalize(), place=finding.place, hours=finding.hours, after=wetness_class(finding.hours),
        before=as_found.hours, found=wetness_class(as_found.hours), rh=percent(WET_RH), cold=temperature(WET_C),
    )  # fmt: skip
    return Judgement(
        criterion="metal", place=finding.place, layer_id=finding.layer_id, phase=phase, value=float(finding.hours), unit="hours",
        share=0.98 if longer else min(max(rise, 0.0), 1.0) * MARGIN, state="marginal" if longer else "within limits", on=finding.on, sentence=sentence,
    )  # fmt: skip


CRITERION = Criterion(
    "metal", 2, MetalFinding, find, judge, LIMITS,
    "Hours above 80 % RH and above 0 °C (ISO 9223) at metal that is stated, against as found. Salts and coatings are not known.",
)  # fmt: skip

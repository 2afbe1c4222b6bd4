"""Free water held at faces that draw nothing in."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from core.criteria.findings import Finding, Peak, Phase, Run
from core.criteria.judging import Criterion, Judgement, Limit, LimitValues, Stated, state_of
from core.moisture.transient.kernel import DRAIN_FACE_PA, FILM_STORAGE
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.tables import SUCTION_UNIT
from core.say import say, small_water

DRY_G_M2, LEAST_TOLD_G_M2 = 1.0, 1.0
RUNS_OFF_G_M2 = 0.98 * 1000.0 * FILM_STORAGE * DRAIN_FACE_PA  # what the solver lets a face hold


def free_water(outcome: Outcome, node: int) -> NDArray[np.float64]:
    """Free water that a face holds beyond saturation [g/m²], by record."""
    suction = SUCTION_UNIT * np.sinh(np.asarray(outcome.z[:, node], float))
    return np.asarray(1000.0 * FILM_STORAGE * np.maximum(-suction, 0.0))


class CondensateFinding(Finding):
    """The most free water [g/m²] of each stretch; dries: the face is dry once in the settled year."""

    criterion: Literal["condensate"] = "condensate"
    for_good: Peak
    drying_in: Peak | None
    dries: bool


def find(run: Run) -> list[CondensateFinding]:
    """At every watch point inboard of the weathered face that ever holds a gram."""
    found = []
    for watch in run.model.watch_points:
        if watch.role == "face":
            continue
        water = free_water(run.outcome, run.outcome.planes[watch.name])
        if water.max() < LEAST_TOLD_G_M2:
            continue
        peaks: list[Peak | None] = []
        phases: tuple[Phase, ...] = ("for good", "drying in")
        for phase in phases:
            records = run.stretch(phase)
            part = water[records]
            if not len(part):
                peaks.append(None)
                continue
            top = int(part.argmax())
            peaks.append(Peak(value=float(part[top]), on=run.day_of(records.start + top)))
        assert peaks[0] is not None
        found.append(
            CondensateFinding(
                place=watch.name,
                layer_id=watch.after_layer_id,
                judged=watch.judged,
                why_not=watch.why_not,
                for_good=peaks[0],
                drying_in=peaks[1],
                dries=bool(water[run.stretch("for good")].min() < DRY_G_M2),
            )
        )
    return found


LIMITS = (
    Limit(key="condensate.most", name="free water on a face that draws nothing in", default=200, unit="g/m²", least=10, most=1000,
          why="ISO 13788 speaks of run-off from here; it must be dry once a year too"),
)  # fmt: skip


def judge(
    finding: CondensateFinding, phase: Phase, as_found: CondensateFinding | None, limits: LimitValues, stated: Stated
) -> Judgement | None:
    peak = finding.for_good if phase == "for good" else finding.drying_in
    if peak is None or peak.value < LEAST_TOLD_G_M2:
        return None
    limit = limits["condensate.most"]
    share = peak.value / limit
    never_dry = phase == "for good" and not finding.dries
    if never_dry:
        share = max(share, 1.01)
    sentence = say(
        "At {place} free water reaches {water}{off} ({when}); limit {limit}.{tail}",
        place=finding.place, water=small_water(peak.value), when=peak.on.in_phase(phase), limit=small_water(limit),
        off=" and runs off" if peak.value >= RUNS_OFF_G_M2 else "",
        tail=" It does not dry within the year." if never_dry else "",
    )  # fmt: skip
    return Judgement(
        criterion="condensate", place=finding.place, layer_id=finding.layer_id, phase=phase, value=peak.value, unit="g/m²",
        share=share, state=state_of(share), on=peak.on, sentence=sentence,
    )  # fmt: skip


CRITERION = Criterion(
    "condensate", 2, CondensateFinding, find, judge, LIMITS,
    "Free water held at a face that draws nothing in. Says nothing of drops that fall elsewhere.",
)  # fmt: skip

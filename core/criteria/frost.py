"""Frost in masonry: wet cycles of freezing and thawing at each depth, against as found."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from core.criteria.findings import Day, Finding, Phase, Run
from core.criteria.judging import Criterion, Judgement, Limit, LimitValues, Stated
from core.moisture.transient.outcome import Outcome
from core.say import percent, said, say, thickness

Array = NDArray[np.float64]
FREEZE_C, THAW_C = -2.0, 0.0
WET_DEGREE = 0.8  # of free saturation; a critical degree of the stone would refer to its open porosity


@dataclass(frozen=True)
class FrostCycles:
    """Of some records, at the depth with most wet cycles: all cycles, wet ones, depth from outside, worst degree."""

    entry: int
    cycles: int
    wet: int
    depth_mm: float
    degree: float
    hour: int


def falls(temperature_c: Array) -> list[NDArray[np.int64]]:
    """Records at which each column falls below −2 °C after having been above 0 °C. temperature_c: (records, nodes)."""
    state = np.where(temperature_c > THAW_C, 1, np.where(temperature_c < FREEZE_C, -1, 0))
    found = []
    for column in state.T:
        told = np.flatnonzero(column)
        turns = np.flatnonzero((column[told[:-1]] == 1) & (column[told[1:]] == -1)) if len(told) else told
        found.append(told[turns + 1] if len(turns) else np.zeros(0, np.int64))
    return found


def frost_cycles(outcome: Outcome, entry: int) -> FrostCycles:
    """Cycles of one layer of the case in its last year. degree: water over free saturation when it froze."""
    nodes = outcome.cells_of(entry)
    columns = falls(outcome.temperature_c(nodes, outcome.last_pass))
    best = FrostCycles(entry, 0, 0, 0.0, 0.0, 0)
    for node, records in zip(nodes, columns, strict=True):
        if not len(records):
            continue
        water = outcome.moisture_content(int(node), outcome.last_pass)[records]
        degree = water / outcome.free_saturation(int(node))
        wet = int((degree > WET_DEGREE).sum())
        if (wet, len(records)) > (best.wet, best.cycles):
            top = int(degree.argmax())
            depth = float(outcome.depth[node] * 1000.0)
            best = FrostCycles(entry, len(records), wet, depth, float(degree[top]), int(records[top]))
    return best


class FrostFinding(Finding):
    """Wet cycles in the settled year, at the depth with most of them."""

    criterion: Literal["frost"] = "frost"
    cycles: int
    wet: int
    depth_mm: float
    degree: float
    on: Day


def find(run: Run) -> list[FrostFinding]:
    """Of every capillary layer of masonry or plaster."""
    found = []
    outcome = run.outcome
    for entry in outcome.solid_entries:
        layer = outcome.case.layers[entry]
        if not run.model.masonry(entry) or outcome.case.materials[layer.material].liquid.form == "none":  # type: ignore[union-attr]
            continue
        cycles = frost_cycles(outcome, entry)
        found.append(
            FrostFinding(
                place=layer.name,
                layer_id=run.model.layer_of_entry[entry],
                cycles=cycles.cycles,
                wet=cycles.wet,
                depth_mm=cycles.depth_mm,
                degree=cycles.degree,
                on=run.day_of(outcome.last_pass.start + cycles.hour),
            )
        )
    return found


LIMITS = (
    Limit(key="frost.more_cycles", name="wet frost cycles a year more than as found", default=3, unit="cycles", least=0, most=50,
          why="within this the wall is taken to freeze as it always has"),
)  # fmt: skip


def judge(
    finding: FrostFinding, phase: Phase, as_found: FrostFinding | None, limits: LimitValues, stated: Stated
) -> Judgement | None:
    """Marginal where more wet cycles come than as found, unless the stone is known to stand them; nothing else is claimed."""
    if phase != "for good" or as_found is None or finding.layer_id in stated.frost_proof:
        return None
    most = as_found.wet + limits["frost.more_cycles"]
    if finding.wet <= most:
        return None
    sentence = say(
        "{name} freezes wet {times} a year {depth} from outside, as found {before}; wet is over {degree} of free saturation, "
        "a stone's own critical degree refers to its open porosity. Whether this stone stands it is not known.",
        name=said(finding.place).capitalised(), times=times(finding.wet), depth=thickness(finding.depth_mm / 1000.0),
        before=times(as_found.wet), degree=percent(WET_DEGREE),
    )  # fmt: skip
    return Judgement(
        criterion="frost", place=finding.place, layer_id=finding.layer_id, phase=phase, value=float(finding.wet),
        unit="cycles", share=0.99, state="marginal", on=finding.on, sentence=sentence,
    )  # fmt: skip


def times(count: int) -> str:
    """never, once, twice, 3 times."""
    return {0: "never", 1: "once", 2: "twice"}.get(count, f"{count} times")


CRITERION = Criterion(
    "frost", 2, FrostFinding, find, judge, LIMITS,
    "Cycles below −2 °C and above 0 °C, in masonry wet above 80 % of free saturation, against as found. Says nothing of a "
    "stone whose resistance is not known.",
)  # fmt: skip

"""What water takes of an insulation's R."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from core import case as c
from core.case.resolve import resolve_material
from core.criteria.findings import Day, Finding, Phase, Run
from core.criteria.judging import Criterion, Judgement, Limit, LimitValues, Stated, state_of
from core.moisture.transient.outcome import Outcome
from core.say import percent, said, say

Array = NDArray[np.float64]
LABEL_RH = 0.5


def conductivity_of(material: c.Material, water: Array) -> Array:
    """λ(w) [W/(m K)] of a case's material at 10 °C."""
    heat = material.heat
    assert heat is not None
    if heat.conductivity_by_w is not None:
        rows = heat.conductivity_by_w
        return np.interp(water, [row[0] for row in rows], [row[1] for row in rows])
    divisor = heat.density_kg_m3 / heat.conductivity_w_mk if heat.supplement_form == "relative_to_density" else 1.0
    return np.asarray(heat.conductivity_w_mk + heat.moisture_supplement * water / divisor)


def loss_of_resistance(outcome: Outcome, entry: int, records: slice) -> float:
    """Share of a layer's R that water takes, mean over records, against the layer at 50 % RH."""
    layer = outcome.case.layers[entry]
    assert isinstance(layer, c.Layer)
    material = resolve_material(outcome.case, layer.material)
    nodes = outcome.cells_of(entry)
    looked_at = list(range(records.start, records.stop, 24))
    water = np.stack([outcome.moisture_content(int(node), looked_at) for node in nodes], axis=1)
    widths = outcome.volume[nodes]
    wet = (widths / conductivity_of(material, water)).sum(axis=1).mean()
    label = widths.sum() / float(conductivity_of(material, np.array(outcome.water_at_rh(int(nodes[0]), LABEL_RH))))
    return float(1.0 - wet / label)


class WetInsulationFinding(Finding):
    """Share of R lost: mean of the settled year, and of the worst year before."""

    criterion: Literal["wet insulation"] = "wet insulation"
    for_good: float
    drying_in: float | None
    on: Day


def find(run: Run) -> list[WetInsulationFinding]:
    """Of every layer that insulates, inboard of the weather."""
    found = []
    outcome, model = run.outcome, run.model
    year = outcome.records_per_pass
    for entry in model.insulation:
        before = [
            loss_of_resistance(outcome, entry, slice(n * year, (n + 1) * year)) for n in range(outcome.passes - 1)
        ]
        found.append(
            WetInsulationFinding(
                place=outcome.case.layers[entry].name,
                layer_id=model.layer_of_entry[entry],
                for_good=loss_of_resistance(outcome, entry, run.stretch("for good")),
                drying_in=max(before, default=None),
                on=run.day_of(len(outcome.z) - 1),
            )
        )
    return found


LIMITS = (
    Limit(key="wet_insulation.share", name="share of R lost to water", default=5, unit="%", least=1, most=30,
          why="beyond it the heat saved is not what was promised"),
)  # fmt: skip


def judge(
    finding: WetInsulationFinding,
    phase: Phase,
    as_found: WetInsulationFinding | None,
    limits: LimitValues,
    stated: Stated,
) -> Judgement | None:
    value = finding.for_good if phase == "for good" else finding.drying_in
    if value is None:
        return None
    limit = limits["wet_insulation.share"] / 100.0
    share = max(value, 0.0) / limit
    sentence = say(
        "{name} loses {loss} of its R to water in {year}; limit {limit}.",
        name=said(finding.place).capitalised(), loss=percent(max(value, 0.0), 1),
        year="the mean of the settled year" if phase == "for good" else "the worst year of drying in", limit=percent(limit),
    )  # fmt: skip
    return Judgement(
        criterion="wet insulation", place=finding.place, layer_id=finding.layer_id, phase=phase, value=100.0 * value, unit="%",
        share=share, state=state_of(share), on=finding.on, sentence=sentence,
    )  # fmt: skip


CRITERION = Criterion(
    "wet insulation", 2, WetInsulationFinding, find, judge, LIMITS,
    "R lost to water against the layer at 50 % RH. Says nothing of settling, of gaps, nor of air that moves in it.",
)  # fmt: skip

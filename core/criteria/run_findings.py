"""All findings of one run, as they are kept: numbers, places and dates, under the case and the versions of what found them."""

from __future__ import annotations

from typing import Any

import numpy as np
from pydantic import SerializeAsAny, field_validator

from core.assembly.model import Model
from core.case import Strict
from core.climate.data import MONTHS
from core.criteria.findings import Day, Finding, Point, Run
from core.criteria.mould import MouldFinding
from core.criteria.registry import BY_KEY, CRITERIA, VERSIONS
from core.moisture.account import WaterAccount, water_account
from core.moisture.attribution import Arriving, arriving
from core.moisture.transient.columns import LIQUID, OUTSIDE, WATER_TURNED
from core.moisture.transient.outcome import SOLVER, Outcome

BACK_SHARE, BACK_KG_M2 = 0.05, 0.05
PATHS = 3  # counted up when another path through an element is found
FOUND_WITH = f"solver {SOLVER}; paths {PATHS}; {VERSIONS}"


class DryingIn(Strict):
    """From the works until the cycle repeats. extra_kg_m2: water on the first day above the settled cycle's.

    dry_by: the first day from which it stays within a twentieth of that; None where it took all of the run.
    """

    extra_kg_m2: float
    dry_by: Day | None


class PlaceWater(Strict):
    """What reaches one place in the settled year, by source."""

    place: str
    layer_id: str
    arriving: list[Arriving]


class Balances(Strict):
    """How exact a run was and what it took."""

    passes: int
    settled: bool
    cells: int
    steps: int
    refused_steps: int
    seconds: float
    water_closure: float
    energy_closure: float
    water_turnover_kg_m2: float


class RunFindings(Strict):
    """found_with: the solver's number and the criteria's versions. member: of the path through its members, where it has any.
    spent: of the same with the coat spent that keeps the rain off, where it has one."""

    found_with: str
    solver: int
    points: list[Point]
    findings: list[SerializeAsAny[Finding]]
    account: WaterAccount
    wetted_by: list[PlaceWater]
    drying_in: DryingIn
    driven_rain_kg_m2: float
    rain_taken_kg_m2: float
    balances: Balances
    member: RunFindings | None = None
    spent: RunFindings | None = None

    @field_validator("findings", mode="before")
    @classmethod
    def _by_criterion(cls, rows: list[Any]) -> list[Finding]:
        """Each row as the finding of its criterion; a criterion that is gone is left out."""
        found = []
        for row in rows:
            if isinstance(row, Finding):
                found.append(row)
            elif row.get("criterion") in BY_KEY:
                found.append(BY_KEY[row["criterion"]].finding.model_validate(row))
        return found

    @property
    def current(self) -> bool:
        """Found with the program as it is now."""
        return self.found_with == FOUND_WITH

    def of(self, criterion: str) -> list[Finding]:
        return [row for row in self.findings if row.criterion == criterion]


def find_all(
    model: Model, outcome: Outcome, member: RunFindings | None = None, spent: RunFindings | None = None
) -> RunFindings:
    """Every criterion's findings of a finished run, with what is reported of every plane. member: those of its other path; spent: those
    with its coat spent."""
    run = Run(model, outcome)
    findings: list[Finding] = [row for criterion in CRITERIA for row in criterion.find(run)]
    mould = {row.place: row.for_good.value for row in findings if isinstance(row, MouldFinding)}
    points = [_point(run, watch, mould[watch.name]) for watch in model.watch_points]
    last = outcome.last_pass
    taken = float(np.maximum(outcome.flux[last, OUTSIDE, LIQUID], 0.0).sum() * outcome.record_step_s)
    return RunFindings(
        found_with=FOUND_WITH,
        solver=outcome.solver,
        points=points,
        findings=findings,
        account=water_account(outcome),
        wetted_by=_wetted_by(model, outcome),
        drying_in=drying_in(run),
        driven_rain_kg_m2=outcome.driven_rain_kg_m2,
        rain_taken_kg_m2=taken,
        balances=Balances(
            passes=outcome.passes,
            settled=outcome.settled,
            cells=int((outcome.volume > 0).sum()),
            steps=outcome.steps,
            refused_steps=outcome.refused_steps,
            seconds=outcome.seconds,
            water_closure=outcome.water_balance_error,
            energy_closure=outcome.energy_balance_error,
            water_turnover_kg_m2=float(outcome.totals[WATER_TURNED]),
        ),
        member=member,
        spent=spent,
    )


def _point(run: Run, watch: Any, mould: float) -> Point:
    humidity = run.outcome.rh(run.outcome.planes[watch.name])
    means = run.months(np.minimum(humidity, 1.0))
    return Point(
        name=watch.name,
        role=watch.role,
        layer_id=watch.after_layer_id,
        judged=watch.judged,
        why_not=watch.why_not,
        bonded=watch.bonded,
        worst_month=MONTHS[int(means.argmax())],
        worst_month_rh=float(means.max()),
        driest_month_rh=float(means.min()),
        mould=mould,
    )


def _wetted_by(model: Model, outcome: Outcome) -> list[PlaceWater]:
    """Of every plane that is watched inboard of the face, and of every wooden layer."""
    found = []
    for watch in model.watch_points:
        if watch.role == "face":
            continue
        node = outcome.planes[watch.name]
        found.append(
            PlaceWater(place=watch.name, layer_id=watch.after_layer_id, arriving=arriving(outcome, node, node))
        )
    for layer in model.wood:
        first, last = outcome.entry_faces[layer.entry]
        found.append(PlaceWater(place=layer.name, layer_id=layer.layer_id, arriving=arriving(outcome, first, last)))
    return found


def drying_in(run: Run) -> DryingIn:
    """How long the water of the works, and of what was there, takes to leave: against the settled cycle day by day."""
    outcome = run.outcome
    per_day = run.per_day
    total = run.daily(outcome.layer_water.sum(axis=1))
    days = outcome.records_per_pass // per_day
    settled = total[-days:]
    start = float(outcome.start_layer_water.sum())
    extra = start - float(settled[-1])
    apart = np.abs(total - np.tile(settled, outcome.passes)[: len(total)])
    near = apart <= max(BACK_SHARE * abs(extra), BACK_KG_M2)
    late = np.flatnonzero(~near)
    first = int(late[-1]) + 1 if len(late) else 0
    dry_by = run.day_of(first * per_day) if first < len(total) - days or outcome.passes == 1 else None
    return DryingIn(extra_kg_m2=extra, dry_by=dry_by)

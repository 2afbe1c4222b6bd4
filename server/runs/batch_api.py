"""Batches over the API: ask, watch, cancel, resume; and the steady outboard share while one types."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Any, Literal, cast

from django.http import HttpRequest
from ninja import Router, Schema

from core.buildup.model import BAD_YEAR_WORDS, datum_layer
from core.climate.data import shipped
from core.moisture.outboard import outboard
from core.study import INPUTS, StudySummary
from server.projects.actions import visible_element, visible_option
from server.projects.schemas import Body
from server.runs import batches
from server.runs.models import Batch, Run

router = Router(tags=["batches"])


class AskBatch(Body):
    kind: batches.BatchKind
    option_id: int | None = None
    settings: dict[str, Any]


class BatchRun(Schema):
    """One run of a batch. result: of a brief run state, headline, nearness, daily_rh …; of a wetting test days, rh …"""

    id: int
    option_id: int
    label: str
    status: str
    progress: float
    error: str
    inputs: dict[str, Any]
    result: dict[str, Any] | None


class BatchOut(Schema):
    """status: waiting, running, done, cancelled (something is left to resume), failed."""

    id: int
    kind: batches.BatchKind
    option_id: int | None
    option_name: str
    settings: dict[str, Any]
    asked_by: str
    asked_at: datetime
    status: str
    out_of_date: bool
    total: int
    done: int
    failed: int
    runs: list[BatchRun]
    study: StudySummary | None


class StudyInput(Schema):
    name: str
    words: str
    unit: str
    low: float
    high: float


class StudyChoices(Schema):
    inputs: list[StudyInput]
    bad_year: str


class OutboardBody(Body):
    """plane: the layer at whose inner face one looks; absent: the datum."""

    plane: str | None = None
    material: str
    most_rh: float = 0.8
    school: Literal["room air", "diffusion"] = "room air"


class OutboardOut(Schema):
    thickness_mm: float | None
    share_now: float
    share_needed: float | None
    month: int
    peak_rh_now: float
    curve: list[tuple[float, float]]
    plane: str


def _status(runs: list[Run]) -> str:
    states = {run.status for run in runs}
    if Run.RUNNING in states:
        return "running"
    if Run.WAITING in states:
        return "running" if Run.DONE in states else "waiting"
    if Run.CANCELLED in states:
        return "cancelled"
    return "failed" if Run.FAILED in states else "done"


def _out(batch: Batch) -> BatchOut:
    runs = list(batch.runs.order_by("pk"))
    return BatchOut(
        id=batch.pk,
        kind=cast(batches.BatchKind, batch.kind),
        option_id=batch.option_id,
        option_name=batch.option.name if batch.option is not None else "",
        settings=batch.settings,
        asked_by=batch.asked_by,
        asked_at=batch.asked_at,
        status=_status(runs),
        out_of_date=batch.out_of_date,
        total=len(runs),
        done=sum(run.status == Run.DONE for run in runs),
        failed=sum(run.status == Run.FAILED for run in runs),
        runs=[
            BatchRun(
                id=run.pk,
                option_id=run.option_id,
                label=run.label,
                status=run.status,
                progress=run.progress,
                error=run.error,
                inputs=run.inputs,
                result=run.result,
            )  # fmt: skip
            for run in runs
        ],
        study=batches.study_summary(runs) if batch.kind == Batch.STUDY else None,
    )


@router.get("/study-choices", response=StudyChoices)
def study_choices(request: HttpRequest) -> StudyChoices:
    inputs = [
        StudyInput(name=name, words=kind.words, unit=kind.unit, low=kind.low, high=kind.high)
        for name, kind in INPUTS.items()
    ]
    return StudyChoices(inputs=inputs, bad_year=BAD_YEAR_WORDS)


@router.post("/elements/{element_id}/batches", response={202: BatchOut})
def ask_batch(request: HttpRequest, element_id: int, body: AskBatch) -> tuple[int, BatchOut]:
    return 202, _out(batches.ask_batch(request.user, element_id, body.kind, body.option_id, body.settings))


@router.get("/elements/{element_id}/batches", response=list[BatchOut])
def list_batches(request: HttpRequest, element_id: int) -> list[BatchOut]:
    """The newest batch of every kind and option of the element."""
    element = visible_element(request.user, element_id)
    newest: dict[tuple[str, int | None], Batch] = {}
    for batch in element.batches.select_related("option", "element__project"):
        newest.setdefault((batch.kind, batch.option_id), batch)
    return [_out(batch) for batch in newest.values()]


@router.get("/batches/{batch_id}", response=BatchOut)
def read_batch(request: HttpRequest, batch_id: int) -> BatchOut:
    return _out(batches.visible_batch(request.user, batch_id))


@router.post("/batches/{batch_id}/cancel", response=BatchOut)
def cancel_batch(request: HttpRequest, batch_id: int) -> BatchOut:
    return _out(batches.cancel_batch(request.user, batch_id))


@router.post("/batches/{batch_id}/resume", response=BatchOut)
def resume_batch(request: HttpRequest, batch_id: int) -> BatchOut:
    return _out(batches.resume_batch(request.user, batch_id))


@router.post("/options/{option_id}/outboard", response=OutboardOut)
def steady_outboard(request: HttpRequest, option_id: int, body: OutboardBody) -> OutboardOut:
    """The least thickness outside by monthly means, while one types."""
    option = visible_option(request.user, option_id)
    plane = body.plane or datum_layer(option.element.as_found.current).id
    place = option.element.place
    found = outboard(option.current, place, shipped(place.climate), plane, body.material, body.most_rh, body.school)
    return OutboardOut(
        plane=plane,
        thickness_mm=found.thickness_m * 1000.0 if found.thickness_m is not None else None,
        **{key: value for key, value in asdict(found).items() if key != "thickness_m"},
    )

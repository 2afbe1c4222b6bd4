"""Batches over the API: ask, watch, cancel, resume; and the steady outboard share while one types."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Literal, cast

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import BaseModel

from core.buildup.model import BAD_YEAR_WORDS, Place
from core.buildup.planes import opening_plane
from core.climate.data import shipped
from core.criteria.judging import State
from core.criteria.verdict import Verdict
from core.moisture.outboard import outboard
from core.say import Said
from core.search import SearchSettings, Tried, answer, grown_layer, usual_thicknesses
from core.study import INPUTS, InputName, StudySettings, StudySummary, summarise
from server.projects.permissions import viewable_element, viewable_option
from server.projects.schemas import Body
from server.runs import batches, verdicts
from server.runs.answers import BriefAnswer, WettingAnswer
from server.runs.models import Batch, Run

router = Router(tags=["batches"])


class AskBatch(Body):
    """settings of its kind; absent where the defaults will do."""

    kind: batches.BatchKind
    option_id: int | None = None
    study: StudySettings | None = None
    plane: batches.PlaneSettings | None = None
    outboard: batches.OutboardSettings | None = None
    wetting: batches.WettingSettings | None = None
    search: SearchSettings | None = None
    between: batches.BetweenSettings | None = None
    trial: batches.TrialSettings | None = None

    @property
    def settings(self) -> BaseModel:
        by_kind = {
            "study": self.study, "outboard": self.outboard, "wetting": self.wetting, "search": self.search,
            "in between": self.between, "trial": self.trial,
        }  # fmt: skip
        return by_kind.get(self.kind, self.plane) or batches.PlaneSettings()


class Drawn(Schema):
    """One uncertain input and the value a run has of it."""

    name: InputName
    value: float


class ShortRun(Schema):
    """What a short run says: the answer that is kept, and the verdict as it is now."""

    answer: BriefAnswer
    state: State
    headline: Said
    sentence: Said
    nearness: float


class BatchRun(Schema):
    """One run of a batch. brief: of short runs; wetting: of the wetting test. facing_deg, thickness_mm: what it varies.

    of a search: membrane, its U, the share of the drying ability as found that is left, whether it keeps the limits of space.
    """

    id: int
    option_id: int
    label: str
    status: str
    progress: float
    error: str
    draw: list[Drawn]
    plane: str
    facing_deg: float | None
    thickness_mm: float | None
    membrane: str
    u_w_m2k: float | None
    drying_left: float | None
    fits: bool
    brief: ShortRun | None
    wetting: WettingAnswer | None


class Between(Schema):
    """What stands before the option of a batch “in between”, and for how many years."""

    option_id: int
    name: str
    years: int


class BatchOut(Schema):
    """status: waiting, running, done, cancelled (something is left to resume), failed. answer: of a search, as far as it is."""

    id: int
    kind: batches.BatchKind
    option_id: int | None
    option_name: str
    study_settings: StudySettings | None
    plane: str
    asked_by: str
    asked_at: datetime
    status: str
    out_of_date: bool
    total: int
    done: int
    failed: int
    runs: list[BatchRun]
    study: StudySummary | None
    answer: Said | None
    between: Between | None


class StudyInput(Schema):
    name: InputName
    words: str
    unit: str
    low: float
    high: float


class StudyChoices(Schema):
    inputs: list[StudyInput]
    bad_year: Said


class TakenOut(Schema):
    option_id: int
    name: str


class StepsOut(Schema):
    layer_id: str
    layer: str
    thicknesses: list[float]


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


def _brief(run: Run, found: Verdict | None) -> ShortRun | None:
    if run.result is None or run.kind != Run.BRIEF or found is None:
        return None
    worst = found.worst
    return ShortRun(
        answer=BriefAnswer.model_validate(run.result),
        state=found.state,
        headline=found.headline,
        sentence=worst.sentence if worst is not None else found.headline,
        nearness=worst.share if worst is not None else 0.0,
    )


def batch_out(batch: Batch) -> BatchOut:
    runs = list(batch.runs.order_by("pk"))
    drawn = verdicts.Drawn(batch, runs)
    briefs = {run.pk: _brief(run, drawn.by_run.get(run.pk)) for run in runs}
    plane = next((str(run.inputs["plane"]) for run in runs if isinstance(run.inputs.get("plane"), str)), "")
    return BatchOut(
        id=batch.pk,
        kind=cast(batches.BatchKind, batch.kind),
        option_id=batch.option_id,
        option_name=batch.option.name if batch.option is not None else "",
        study_settings=StudySettings.model_validate(batch.settings) if batch.kind == Batch.STUDY else None,
        plane=plane,
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
                option_id=run.of_option.pk,
                label=run.label,
                status=run.status,
                progress=run.progress,
                error=run.error,
                draw=[Drawn(name=name, value=value) for name, value in run.inputs.get("draw", {}).items()],
                plane=plane,
                facing_deg=run.inputs.get("facing_deg"),
                thickness_mm=run.inputs.get("thickness_mm") if run.kind == Run.BRIEF else None,
                membrane=run.inputs.get("membrane", ""),
                u_w_m2k=run.inputs.get("u"),
                drying_left=run.inputs.get("drying_left"),
                fits=run.inputs.get("fits", True),
                brief=briefs[run.pk],
                wetting=WettingAnswer.model_validate(run.result) if run.result and run.kind == Run.WETTING else None,
            )
            for run in runs
        ],
        study=_study(runs, briefs) if batch.kind == Batch.STUDY else None,
        answer=_answer(batch, runs, briefs) if batch.kind == Batch.SEARCH else None,
        between=_between(batch, runs) if batch.kind == Batch.IN_BETWEEN else None,
    )


def _between(batch: Batch, runs: list[Run]) -> Between:
    return Between(
        option_id=batch.settings["option_id"],
        name=runs[0].of_option.name if runs else "",
        years=batch.settings["years"],
    )


def _answer(batch: Batch, runs: list[Run], briefs: dict[int, ShortRun | None]) -> Said:
    """What the finished runs of a search say together."""
    tried = [
        Tried(
            index=run.pk,
            thickness_mm=run.inputs["thickness_mm"],
            membrane=run.inputs["membrane"],
            u=run.inputs.get("u"),
            within=brief.state != verdicts.OVER,
            fits=run.inputs.get("fits", True),
        )
        for run in runs
        if (brief := briefs[run.pk]) is not None
    ]
    return answer(tried, batch.element.limits, len(runs))


def _study(runs: list[Run], briefs: dict[int, ShortRun | None]) -> StudySummary | None:
    """What the finished runs of a study say together; None before the first."""
    done = [(run, brief) for run in runs if (brief := briefs[run.pk]) is not None]
    if not done:
        return None
    return summarise(
        [run.inputs["draw"] for run, _ in done],
        [brief.state == verdicts.OVER for _, brief in done],
        [brief.nearness for _, brief in done],
        Place.model_validate(done[0][0].place),
    )


@router.get("/study-choices", response=StudyChoices)
def study_choices(request: HttpRequest) -> StudyChoices:
    inputs = [
        StudyInput(name=name, words=kind.words, unit=kind.unit, low=kind.low, high=kind.high)
        for name, kind in INPUTS.items()
    ]
    return StudyChoices(inputs=inputs, bad_year=BAD_YEAR_WORDS.capitalised())


@router.post("/elements/{element_id}/batches", response={202: BatchOut})
def ask_batch(request: HttpRequest, element_id: int, body: AskBatch) -> tuple[int, BatchOut]:
    return 202, batch_out(batches.ask_batch(request.user, element_id, body.kind, body.option_id, body.settings))


@router.get("/elements/{element_id}/batches", response=list[BatchOut])
def list_batches(request: HttpRequest, element_id: int) -> list[BatchOut]:
    """The newest batch of every kind and option of the element."""
    element = viewable_element(request.user, element_id)
    newest: dict[tuple[str, int | None], Batch] = {}
    for batch in element.batches.exclude(kind=Batch.PROPOSALS).select_related("option", "element__project"):
        newest.setdefault((batch.kind, batch.option_id), batch)
    return [batch_out(batch) for batch in newest.values()]


@router.get("/batches/{batch_id}", response=BatchOut)
def read_batch(request: HttpRequest, batch_id: int) -> BatchOut:
    return batch_out(batches.batch_among(Batch.objects.viewable_by(request.user), batch_id))


@router.post("/batches/{batch_id}/cancel", response=BatchOut)
def cancel_batch(request: HttpRequest, batch_id: int) -> BatchOut:
    return batch_out(batches.cancel_batch(request.user, batch_id))


@router.post("/batches/{batch_id}/resume", response=BatchOut)
def resume_batch(request: HttpRequest, batch_id: int) -> BatchOut:
    return batch_out(batches.resume_batch(request.user, batch_id))


@router.post("/batches/{batch_id}/take/{run_id}", response={201: TakenOut})
def take_run(request: HttpRequest, batch_id: int, run_id: int) -> tuple[int, TakenOut]:
    """A point of a search becomes an option."""
    option = batches.take_run(request.user, batch_id, run_id)
    return 201, TakenOut(option_id=option.pk, name=option.name)


@router.get("/options/{option_id}/search-steps", response=StepsOut)
def search_steps(request: HttpRequest, option_id: int) -> StepsOut:
    """Which layer of an option a search would grow, and by which steps; refused where there is none."""
    option = viewable_option(request.user, option_id)
    layer = grown_layer(option.element.as_found.current, option.current)
    return StepsOut(layer_id=layer.id, layer=layer.entry.name, thicknesses=usual_thicknesses(layer))


@router.post("/options/{option_id}/outboard", response=OutboardOut)
def steady_outboard(request: HttpRequest, option_id: int, body: OutboardBody) -> OutboardOut:
    """The least thickness outside by monthly means, while one types."""
    option = viewable_option(request.user, option_id)
    plane = body.plane or opening_plane(option.current, option.element.as_found.current, option.element.place)
    place = option.element.place
    found = outboard(option.current, place, shipped(place.climate), plane, body.material, body.most_rh, body.school)
    return OutboardOut(
        plane=plane,
        thickness_mm=found.thickness_m * 1000.0 if found.thickness_m is not None else None,
        **{key: value for key, value in asdict(found).items() if key != "thickness_m"},
    )

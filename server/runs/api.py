"""Runs: ask, watch, cancel; and what the Year in the wall draws."""

from __future__ import annotations

import shutil
from datetime import datetime

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from core.assembly.model import Model
from core.brief import facing_word
from core.buildup.model import Place
from core.climate.data import first_hour, shipped
from core.criteria.findings import Run as Finished
from core.moisture.account import WaterAccount, water_account
from core.moisture.transient.outcome import SOLVER, Outcome
from core.runs import asked, started_model
from server.problems import Problem
from server.projects.models import Option
from server.projects.permissions import viewable_option
from server.runs import actions
from server.runs.models import Run, folder_of, is_whole
from server.runs.schemas import RunState
from server.runs.states import Waiting, run_state, test_words
from server.runs.verdicts import Kept, limits_of
from server.runs.years import FIELD_ROWS, LayerEdge, Line, edges_of, field_of, lines_of, loaded

router = Router(tags=["runs"])


class RunOut(Schema):
    id: int
    option_id: int
    option_name: str
    element_id: int
    element_name: str
    project_name: str
    status: str
    progress: float
    doing: str
    error: str
    asked_at: datetime
    finished_at: datetime | None


class Year(Schema):
    """What the Year in the wall draws of one run."""

    run_id: int
    option_id: int
    option_name: str
    role: str
    state: RunState
    hours: int
    passes: int
    hours_per_pass: int
    start_hour_of_year: int
    edges: list[LayerEdge]
    planes: dict[str, float]
    lines: list[Line]
    every: int
    rows: int
    depth_mm: float
    account: WaterAccount


class AtPlane(Schema):
    rh: float
    temperature_c: float


class Moment(Schema):
    """Profile and weather of one hour."""

    hour: int
    date: str
    depth_mm: list[float]
    temperature_c: list[float]
    rh: list[float]
    w_kg_m3: list[float]
    planes: dict[str, AtPlane]
    outside_c: float
    outside_rh: float
    rain_mm: float
    wind_m_s: float
    wind_from: str
    driven_rain_mm: float


def _out(run: Run) -> RunOut:
    option = run.of_option
    element = option.element
    return RunOut(
        id=run.pk,
        option_id=option.pk,
        option_name=option.name,
        element_id=element.pk,
        element_name=element.name,
        project_name=element.project.name,
        status=run.status,
        progress=run.progress,
        doing=run.doing if not run.cancel_asked or run.status != Run.RUNNING else "stopping",
        error=run.error,
        asked_at=run.asked_at,
        finished_at=run.finished_at,
    )


@router.post("/options/{option_id}/runs", response={202: RunOut})
def ask_run(request: HttpRequest, option_id: int) -> tuple[int, RunOut]:
    return 202, _out(actions.ask_run(request.user, option_id))


class AskedAgain(Schema):
    asked: int


@router.post("/projects/{project_id}/runs/again", response={202: AskedAgain})
def run_again(request: HttpRequest, project_id: int) -> tuple[int, AskedAgain]:
    """Everything that an older solver computed, anew."""
    return 202, AskedAgain(asked=actions.ask_again(request.user, project_id))


@router.get("/runs", response=list[RunOut])
def list_runs(request: HttpRequest) -> list[RunOut]:
    """My runs, newest first."""
    found = Run.objects.viewable_by(request.user).of_options().select_related("option__element__project")
    return [_out(run) for run in found[:60]]


@router.get("/runs/{run_id}", response=RunOut)
def read_run(request: HttpRequest, run_id: int) -> RunOut:
    return _out(actions.run_among(Run.objects.viewable_by(request.user), run_id))


@router.post("/runs/{run_id}/cancel", response=RunOut)
def cancel_run(request: HttpRequest, run_id: int) -> RunOut:
    return _out(actions.cancel_run(request.user, run_id))


def _result(request: HttpRequest, run_id: int) -> tuple[Run, Outcome, Model]:
    run = actions.run_among(Run.objects.viewable_by(request.user), run_id)
    if run.status != Run.DONE:
        raise Problem(
            409, "no_result", f"This run is {run.status}; it has no result.", "Run the years of the option again."
        )
    if not run.arrays_there:
        raise Problem(
            410, "result_gone", "The arrays of this run are not on disk any more.", "Run the years of the option again."
        )
    try:
        outcome, model = loaded(str(run.folder), run.pk)
    except (TypeError, KeyError, ValueError, EOFError, OSError) as error:
        if run.solver == SOLVER:  # of no use to anybody: out of the way of the run that makes it anew
            shutil.rmtree(run.folder, ignore_errors=True)
        raise Problem(
            410,
            "result_gone",
            "The arrays of this run cannot be read: damaged, or of an older solver.",
            "Run the years of the option again.",
        ) from error
    return run, outcome, model


def _state(run: Run) -> RunState:
    """The verdict of this very run, with what the tests of its option say."""
    option = run.of_option
    element = option.element
    kept = Kept({run.case_hash, run.found_key})
    as_found = element.as_found.current
    tests = test_words(element, option, limits_of(element.project))
    return run_state(element, option, as_found, run.case_hash, "", [run], kept, tests, Waiting())


@router.get("/runs/{run_id}/year", response=Year)
def read_year(request: HttpRequest, run_id: int, every: int = 24) -> Year:
    """Edges, watch points and lines; the field comes apart, as bytes."""
    run, outcome, model = _result(request, run_id)
    every = max(1, min(every, 168))
    option = run.of_option
    return Year(
        run_id=run.pk,
        option_id=option.pk,
        option_name=option.name,
        role=option.role,
        state=_state(run),
        hours=len(outcome.z),
        passes=outcome.passes,
        hours_per_pass=outcome.records_per_pass,
        start_hour_of_year=first_hour(outcome.case.time.start),
        edges=edges_of(outcome, model),
        planes={name: float(outcome.depth[node] * 1000.0) for name, node in outcome.planes.items()},
        lines=lines_of(outcome, model, limits_of(option.element.project), every),
        every=every,
        rows=FIELD_ROWS,
        depth_mm=float(outcome.depth[-1] * 1000.0),
        account=water_account(outcome),
    )


@router.get("/runs/{run_id}/field")
def read_field(
    request: HttpRequest, run_id: int, from_hour: int = 0, to_hour: int = 0, columns: int = 1000
) -> HttpResponse:
    """RH over depth and time, two bytes a pixel, little-endian: 0 to 50000 for 0 to 100 %, column by column.

    Rows are even steps of depth from outside; X-Columns tells how many columns came.
    """
    _, outcome, _ = _result(request, run_id)
    hours = len(outcome.z)
    first, last = max(0, from_hour), min(to_hour or hours, hours)
    if last <= first:
        raise Problem(422, "no_hours", "The stretch of time is empty.", "Zoom out.")
    count = max(1, min(columns, 2000, last - first))
    records = np.unique(np.linspace(first, last - 1, count).astype(int))
    picture = field_of(outcome, records)
    response = HttpResponse(np.round(picture * 50000).astype("<u2").tobytes(), content_type="application/octet-stream")
    response["X-Columns"] = str(len(records))
    return response


@router.get("/runs/{run_id}/moment", response=Moment)
def read_moment(request: HttpRequest, run_id: int, hour: int) -> Moment:
    """The profile at an hour of the run, and that hour's weather."""
    run, outcome, model = _result(request, run_id)
    record = max(0, min(hour, len(outcome.z) - 1))
    profile = outcome.profile(record)
    place = Place.model_validate(run.place)
    climate = shipped(place.climate)
    at = (first_hour(outcome.case.time.start) + record % outcome.records_per_pass) % climate.hours
    return Moment(
        hour=record,
        date=f"{Finished(model, outcome).day_of(record).in_phase('drying in')}, {at % 24:02d}:00",
        depth_mm=[x * 1000.0 for x in profile["depth_m"]],
        temperature_c=profile["temperature_c"],
        rh=profile["rh"],
        w_kg_m3=profile["w_kg_m3"],
        planes={
            name: AtPlane(rh=float(outcome.rh(node, record)), temperature_c=float(outcome.temperature_c(node, record)))
            for name, node in outcome.planes.items()
        },
        outside_c=float(climate["temperature_c"][at]),
        outside_rh=float(climate["relative_humidity"][at]),
        rain_mm=float(climate["rain_mm"][at]),
        wind_m_s=float(climate["wind_speed_m_s"][at]),
        wind_from=facing_word(float(climate["wind_direction_deg"][at])),
        driven_rain_mm=float(outcome.flux[record, 0, 4] * 3600.0),
    )


@router.get("/runs/{run_id}/hourly.csv")
def hourly_csv(request: HttpRequest, run_id: int) -> HttpResponse:
    """Hourly results as CSV; units stand in the heading."""
    run, outcome, _ = _result(request, run_id)
    response = HttpResponse(outcome.as_csv(), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="run-{run.pk}.csv"'
    return response


@router.get("/options/{option_id}/case.json")
def case_file(request: HttpRequest, option_id: int) -> HttpResponse:
    """The case of an option as committed, every default written out: `python -m core simulate` reads it.

    Where as found was run, the start of its existing layers is written out too; else everything starts as it says.
    """
    option = viewable_option(request.user, option_id)
    element = option.element
    as_found = None if option.role == Option.AS_FOUND else element.as_found.current
    wanted = asked(option.current, element.place, as_found, f"{element.name}: {option.name}")
    folder = folder_of(wanted.found_key) if wanted.found_key else None
    found = Outcome.load(folder) if folder is not None and is_whole(folder) else None
    model = started_model(wanted, found)
    response = HttpResponse(model.case.model_dump_json(indent=1), content_type="application/json")
    response["Content-Disposition"] = f'attachment; filename="case-{option.pk}.json"'
    return response

"""Ask for runs together: a study, the eight facings, an outboard curve, a bad year, the wetting test."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
from django.db import transaction
from django.http import Http404
from pydantic import BaseModel, ConfigDict, Field

from core.buildup.model import BuildUp, Place, datum_layer
from core.buildup.to_case import model_of
from core.moisture.outboard import with_outboard
from core.study import StudySettings, StudySummary, drawn_model, draws, summarise
from server.problems import Problem
from server.projects.actions import User, visible_element
from server.projects.models import Element, HistoryEntry, Option
from server.runs.answers import answer_key, plane_of
from server.runs.models import Batch, Run

FACING_WORDS = ("N", "NE", "E", "SE", "S", "SW", "W", "NW")
OUTBOARD_STEPS = 5


class Settings(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class PlaneSettings(Settings):
    """plane: the layer at whose inner face one looks; absent: the datum of the as-found build-up."""

    plane: str | None = None


class OutboardSettings(Settings):
    plane: str | None = None
    material: str = "wood_fibre_board"
    most_mm: Annotated[float, Field(gt=0, le=600)] = 200.0


class WettingSettings(Settings):
    """1 kg/m² into the inner `thickness_mm` of a layer on a day (month-day)."""

    layer: str | None = None
    on: Annotated[str, Field(pattern=r"^\d{2}-\d{2}$")] = "04-01"
    thickness_mm: Annotated[float, Field(gt=0, le=100)] = 10.0
    dose_kg_m2: Annotated[float, Field(gt=0, le=10)] = 1.0


BatchKind = Literal["study", "facings", "outboard", "bad year", "wetting"]
SETTINGS: dict[str, type[BaseModel]] = {
    Batch.STUDY: StudySettings,
    Batch.FACINGS: PlaneSettings,
    Batch.BAD_YEAR: PlaneSettings,
    Batch.OUTBOARD: OutboardSettings,
    Batch.WETTING: WettingSettings,
}


def visible_batch(user: User, batch_id: int) -> Batch:
    """The batch, or 404 whether it is missing or somebody else's."""
    found = Batch.objects.visible_to(user).select_related("element__project", "option").filter(pk=batch_id).first()
    if found is None:
        raise Http404
    return found


@transaction.atomic
def ask_batch(user: User, element_id: int, kind: BatchKind, option_id: int | None, raw: dict[str, Any]) -> Batch:
    """A new batch with its runs waiting. Raises what the settings or the build-up refuse; nothing is kept then."""
    element = visible_element(user, element_id)
    if not element.has_build_up:
        raise Problem(422, "no_build_up", f"{element.name} has no build-up.", "Choose a wall, roof or floor.")
    settings = SETTINGS[kind].model_validate(raw)
    option = None
    if kind != Batch.WETTING:
        option = element.options.filter(pk=option_id or 0).first()
        if option is None:
            raise Problem(422, "no_option", "Say which option this is asked of.", "Choose an option of this element.")
    runs = _RUNS[kind](element, option, settings)
    batch = Batch.objects.create(
        element=element,
        option=option,
        kind=kind,
        settings=settings.model_dump(mode="json"),
        build_up=option.build_up if option is not None else None,
        place=element.place.model_dump(mode="json"),
        asked_by=user.get_username(),
    )
    for run in runs:
        run.batch = batch
    Run.objects.bulk_create(runs)
    what = f"of “{option.name}”" if option is not None else "of every option"
    HistoryEntry.write(element.project, user, f"ask {kind}", f"asked for {len(runs)} runs ({kind}) {what}")
    return batch


def _datum(element: Element) -> str:
    return datum_layer(element.as_found.current).id


def _brief(
    option: Option, place: Place, build_up: BuildUp, draw: dict[str, float], plane: str, label: str, **shown: Any
) -> Run:
    model = drawn_model(build_up, place, draw)
    plane_of(model, plane)  # raises where there is none
    return Run(
        option=option,
        kind=Run.BRIEF,
        label=label,
        inputs={"draw": draw, "plane": plane, **shown},
        case_hash=answer_key(model, Run.BRIEF, plane),
        build_up=build_up.model_dump(mode="json"),
        place=place.model_dump(mode="json"),
    )


def _study(element: Element, option: Option, settings: StudySettings) -> list[Run]:
    return [
        _brief(option, element.place, option.current, draw, settings.plane, f"run {number + 1}")
        for number, draw in enumerate(draws(settings))
    ]


def _facings(element: Element, option: Option, settings: PlaneSettings) -> list[Run]:
    plane = settings.plane or _datum(element)
    return [
        _brief(
            option,
            element.place.model_copy(update={"facing_deg": 45.0 * i}),
            option.current,
            {},
            plane,
            word,
            facing_deg=45.0 * i,
        )  # fmt: skip
        for i, word in enumerate(FACING_WORDS)
    ]


def _bad_year(element: Element, option: Option, settings: PlaneSettings) -> list[Run]:
    plane = settings.plane or _datum(element)
    return [
        _brief(option, element.place, option.current, {"weather year": year}, plane, label)
        for year, label in ((0.0, "usual year"), (1.0, "bad year"))
    ]


def _outboard(element: Element, option: Option, settings: OutboardSettings) -> list[Run]:
    plane = settings.plane or _datum(element)
    runs = []
    for thickness in np.linspace(0.0, settings.most_mm, OUTBOARD_STEPS):
        build_up = with_outboard(option.current, plane, settings.material, float(thickness) / 1000.0)
        label = f"{thickness:g} mm"
        runs.append(_brief(option, element.place, build_up, {}, plane, label, thickness_mm=float(thickness)))
    return runs


def _wetting(element: Element, option: None, settings: WettingSettings) -> list[Run]:
    layer = settings.layer or _datum(element)
    runs = []
    for each in element.options.all():
        build_up = each.current
        if not any(one.id == layer for one in build_up.layers):
            continue
        inputs = {**settings.model_dump(mode="json"), "layer": layer}
        looked_at = f"{layer}|{settings.on}|{settings.thickness_mm}|{settings.dose_kg_m2}"
        runs.append(
            Run(
                option=each,
                kind=Run.WETTING,
                label=each.name,
                inputs=inputs,
                case_hash=answer_key(model_of(build_up, element.place), Run.WETTING, looked_at),
                build_up=each.build_up,
                place=element.place.model_dump(mode="json"),
            )
        )
    if not runs:
        raise Problem(
            422, "no_layer", f"No option has the layer “{layer}”.", "Choose a layer of the as-found build-up."
        )
    return runs


_RUNS: dict[str, Any] = {
    Batch.STUDY: _study,
    Batch.FACINGS: _facings,
    Batch.BAD_YEAR: _bad_year,
    Batch.OUTBOARD: _outboard,
    Batch.WETTING: _wetting,
}


@transaction.atomic
def cancel_batch(user: User, batch_id: int) -> Batch:
    """Waiting runs stop at once, running ones within a block of time; what is done stays."""
    batch = visible_batch(user, batch_id)
    batch.runs.filter(status=Run.WAITING).update(status=Run.CANCELLED, doing="cancelled")
    batch.runs.filter(status=Run.RUNNING).update(cancel_asked=True)
    HistoryEntry.write(
        batch.element.project, user, f"cancel {batch.kind}", f"cancelled a batch of {batch.runs.count()} runs"
    )
    return batch


@transaction.atomic
def resume_batch(user: User, batch_id: int) -> Batch:
    """Cancelled and failed runs wait again; finished ones are kept."""
    batch = visible_batch(user, batch_id)
    again = list(batch.runs.filter(status__in=(Run.CANCELLED, Run.FAILED)))
    if not again:
        raise Problem(409, "nothing_to_resume", "Every run of this batch is done or under way.", "")
    for run in again:
        run.mark_waiting_again()
    HistoryEntry.write(batch.element.project, user, f"resume {batch.kind}", f"resumed {len(again)} runs")
    return batch


def study_summary(runs: list[Run]) -> StudySummary | None:
    """What the finished runs of a study say together; None before the first."""
    done = [run for run in runs if run.status == Run.DONE and run.result]
    if not done:
        return None
    results = [run.result or {} for run in done]
    return summarise(
        [run.inputs["draw"] for run in done],
        [result["state"] == "over a limit" for result in results],
        [result["nearness"] for result in results],
    )

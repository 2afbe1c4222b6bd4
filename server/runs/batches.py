"""Ask for runs together: a study, the eight facings, an outboard curve, a bad year, the wetting test."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any, Literal

import numpy as np
from django.db import transaction
from django.http import Http404
from pydantic import BaseModel, ConfigDict, Field

from core.assembly.to_case import model_of
from core.buildup.model import BuildUp, Place
from core.buildup.planes import SensitivePlane, opening_plane, plane_in, sensitive_plane
from core.moisture.outboard import with_outboard
from core.preview import preview
from core.runs import asked
from core.search import SearchSettings, check_size, variants
from core.study import PASSES, StudySettings, drawn_model, draws
from server.library.own import check_materials
from server.problems import Problem
from server.projects.models import Element, Guarded, HistoryEntry, Option
from server.projects.permissions import User, editable_element
from server.runs.actions import check_room
from server.runs.answers import answer_key, plane_of
from server.runs.models import Batch, Run

FACING_WORDS = ("N", "NE", "E", "SE", "S", "SW", "W", "NW")
OUTBOARD_STEPS = 5


RAIN_SCALES = (1.0, 0.5, 0.25, 0.1, 0.05, 0.0)
MOST_YEARS_BETWEEN = 15
RAIN_YEARS = 8  # a soaked wall takes years to dry when the rain is kept off


class Settings(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class PlaneSettings(Settings):
    """plane: the layer at whose inner face one looks; absent: the first cold plane that could rot, mould or freeze."""

    plane: str | None = None


class OutboardSettings(Settings):
    plane: str | None = None
    material: str = "wood_fibre_board"
    most_mm: Annotated[float, Field(gt=0, le=600)] = 200.0


class WettingSettings(Settings):
    """1 kg/m² into `thickness_mm` at a face of a layer on a day; absent: the plane that could rot, mould or freeze first."""

    layer: str | None = None
    face: Literal["outer", "inner"] = "inner"
    on: Literal["04-01", "10-01"] = "04-01"
    thickness_mm: Annotated[float, Field(gt=0, le=100)] = 10.0
    dose_kg_m2: Annotated[float, Field(gt=0, le=10)] = 1.0


class BetweenSettings(Settings):
    """option_id: the option of the same element that stands first; years: how long, whole ones."""

    option_id: int
    years: Annotated[int, Field(ge=1, le=MOST_YEARS_BETWEEN)]


class TrialSettings(Settings):
    """build_up: the option with something else in it, looked at before it is accepted."""

    build_up: BuildUp


BatchKind = Literal["study", "facings", "outboard", "bad year", "wetting", "less rain", "search", "in between", "trial"]
IN_NO_HURRY = (Batch.STUDY, Batch.SEARCH)  # behind what somebody sits and waits for
SETTINGS: dict[str, type[BaseModel]] = {
    Batch.STUDY: StudySettings,
    Batch.FACINGS: PlaneSettings,
    Batch.BAD_YEAR: PlaneSettings,
    Batch.OUTBOARD: OutboardSettings,
    Batch.WETTING: WettingSettings,
    Batch.LESS_RAIN: PlaneSettings,
    Batch.SEARCH: SearchSettings,
    Batch.IN_BETWEEN: BetweenSettings,
    Batch.TRIAL: TrialSettings,
}


def batch_among(rows: Guarded, batch_id: int) -> Batch:
    """The batch, or 404 whether it is missing or somebody else's."""
    found: Batch | None = rows.select_related("element__project", "option").filter(pk=batch_id).first()
    if found is None:
        raise Http404
    return found


@transaction.atomic
def ask_batch(user: User, element_id: int, kind: BatchKind, option_id: int | None, asked_settings: BaseModel) -> Batch:
    """A new batch with its runs waiting. Raises what the settings or the build-up refuse; nothing is kept then."""
    element = editable_element(user, element_id)
    if not element.has_build_up:
        raise Problem(422, "no_build_up", f"{element.name} has no build-up.", "Choose a wall, roof or floor.")
    settings = SETTINGS[kind].model_validate(asked_settings.model_dump())
    option = None
    if kind != Batch.WETTING:
        option = element.options.filter(pk=option_id or 0).first()
        if option is None or not option.current.is_stated:
            raise Problem(422, "no_option", "Say which option this is asked of.", "Choose an option of this element.")
    runs = _RUNS[kind](element, option, settings)
    check_room(user, len(runs))
    batch = Batch.objects.create(
        element=element,
        option=option,
        kind=kind,
        settings=settings.model_dump(mode="json"),
        build_up=option.build_up if option is not None else None,
        as_found=element.as_found.build_up,
        place=element.place.model_dump(mode="json"),
        asked_by=user.get_username(),
    )
    for run in runs:
        run.batch, run.looked_at = batch, kind not in IN_NO_HURRY
    Run.objects.bulk_create(runs)
    what = f"of “{option.name}”" if option is not None else "of every option"
    HistoryEntry.write(element.project, user, f"ask {kind}", f"asked for {len(runs)} runs ({kind}) {what}")
    return batch


def _plane(element: Element, option: Option, asked_for: str | None) -> str:
    return asked_for or opening_plane(option.current, element.as_found.current, element.place)


def _brief(
    option: Option,
    element: Element,
    build_up: BuildUp,
    draw: dict[str, float],
    plane: str,
    label: str,
    place: Place | None = None,
    years: int = PASSES,
    runs_on: bool = False,
    between: dict[str, Any] | None = None,
    **shown: Any,
) -> Run:
    """One short run, its existing layers starting from as found in the element's own place.

    runs_on: where its water still changes after so many years it is run until they repeat, so that what dries in is no limit passed.
    between: a build-up that stands first, and for how many years; what stays of it starts from the water it leaves.
    """
    where = place or element.place
    model = drawn_model(build_up, where, draw)
    plane_of(model, plane)  # raises where there is none
    as_found = None if option.role == Option.AS_FOUND else element.as_found.current
    found_key = ""
    if as_found is not None:
        found_key = asked(as_found, element.place, None).key
    looked_at = f"{plane}|{years}"
    if runs_on:
        looked_at, shown["runs_on"] = f"{looked_at}|on", True
    if between is not None:
        shown["between"] = between
        stands = model_of(BuildUp.model_validate(between["build_up"]), element.place, new=True).case.hash
        looked_at += f"|{stands}|{between['years']}"
    return Run(
        project=element.project,
        option=option,
        kind=Run.BRIEF,
        label=label,
        inputs={
            "draw": draw,
            "plane": plane,
            "years": years,
            "found_place": element.place.model_dump(mode="json"),
            **shown,
        },
        case_hash=answer_key(model, Run.BRIEF, looked_at, found_key),
        build_up=build_up.model_dump(mode="json"),
        place=where.model_dump(mode="json"),
        as_found=as_found.model_dump(mode="json") if as_found is not None else None,
        found_key=found_key,
    )


def _study(element: Element, option: Option, settings: StudySettings) -> list[Run]:
    return [
        _brief(option, element, option.current, draw, settings.plane, f"run {number + 1}")
        for number, draw in enumerate(draws(settings))
    ]


def _facings(element: Element, option: Option, settings: PlaneSettings) -> list[Run]:
    plane = _plane(element, option, settings.plane)
    runs = []
    for i, word in enumerate(FACING_WORDS):
        place = element.place.model_copy(update={"facing_deg": 45.0 * i})
        runs.append(_brief(option, element, option.current, {}, plane, word, place, facing_deg=45.0 * i))
    return runs


def _bad_year(element: Element, option: Option, settings: PlaneSettings) -> list[Run]:
    plane = _plane(element, option, settings.plane)
    return [
        _brief(option, element, option.current, {"weather year": year}, plane, label, runs_on=True)
        for year, label in ((0.0, "usual year"), (1.0, "bad year"))
    ]


def _less_rain(element: Element, option: Option, settings: PlaneSettings) -> list[Run]:
    """How much less rain would do: the same wall with a half of the rain, a quarter, a tenth … none."""
    plane = _plane(element, option, settings.plane)
    return [
        _brief(
            option, element, option.current, {"rain exposure": scale}, plane, f"{scale:g} of the rain", years=RAIN_YEARS
        )
        for scale in RAIN_SCALES
    ]


def _outboard(element: Element, option: Option, settings: OutboardSettings) -> list[Run]:
    plane = _plane(element, option, settings.plane)
    runs = []
    for thickness in np.linspace(0.0, settings.most_mm, OUTBOARD_STEPS):
        build_up = with_outboard(option.current, plane, settings.material, float(thickness) / 1000.0)
        label = f"{thickness:g} mm"
        runs.append(_brief(option, element, build_up, {}, plane, label, thickness_mm=float(thickness)))
    return runs


def _search(element: Element, option: Option, settings: SearchSettings) -> list[Run]:
    """Each thickness with each membrane; what is steady of it is worked out now, and kept beside the run."""
    as_found = element.as_found.current
    others = {row.pk: row for row in element.options.filter(role=Option.UPGRADE).exclude(pk=option.pk)}
    if set(settings.beside) - set(others):
        raise Problem(422, "no_option", "Beside it only other options of the element can be grown.", "Choose again.")
    field = [(option, one) for one in variants(as_found, option.current, settings)]
    alone = settings.model_copy(update={"layer": ""})
    for pk in dict.fromkeys(settings.beside):
        field += [(others[pk], one) for one in variants(as_found, others[pk].current, alone)]
    check_size(len(field))
    runs = []
    for number, (base, one) in enumerate(field):
        plane = opening_plane(one.build_up, as_found, element.place)
        shown = preview(as_found, one.build_up, element.place, element.limits)
        membrane = f"{base.name[:40]}: {one.membrane}" if settings.beside else one.membrane
        runs.append(
            _brief(
                base, element, one.build_up, {}, plane, f"{one.thickness_mm:g} mm, {membrane}"[:120], number=number,
                thickness_mm=one.thickness_mm, membrane=membrane, u=shown.thermal.u_effective if shown.thermal else None,
                drying_left=shown.drying_left.share, fits=not shown.over_limits,
            )
        )  # fmt: skip
    return runs


def _trial(element: Element, option: Option, settings: TrialSettings) -> list[Run]:
    """Three years of what would be drawn, beside three years of what is."""
    as_found = element.as_found
    check_materials(element.project, settings.build_up, option.build_up)
    rows = ((settings.build_up, "with it"), (option.current, "as it is"))
    return [
        _brief(option, element, made, {}, opening_plane(made, as_found.current, element.place), label)
        for made, label in rows
    ]


def _in_between(element: Element, option: Option, settings: BetweenSettings) -> list[Run]:
    """The state between two phases; the option after it, from the water it leaves; and the option at once, beside."""
    between = element.options.filter(pk=settings.option_id, role=Option.UPGRADE).first()
    if between is None or between.pk == option.pk or option.role == Option.AS_FOUND:
        raise Problem(
            422, "no_between", "The state in between is another option of this element.", "Choose one of the others."
        )
    as_found = element.as_found.current
    first = opening_plane(between.current, as_found, element.place)
    plane = opening_plane(option.current, as_found, element.place)
    stood = {"build_up": between.build_up, "years": settings.years}
    return [
        _brief(between, element, between.current, {}, first, f"in between: {between.name}"[:120], years=settings.years),
        _brief(option, element, option.current, {}, plane, f"after it: {option.name}"[:120], between=stood),
        _brief(option, element, option.current, {}, plane, "the same at once"),
    ]


@transaction.atomic
def take_run(user: User, batch_id: int, run_id: int) -> Option:
    """The build-up of a run of a search becomes an option."""
    batch = batch_among(Batch.objects.editable_by(user), batch_id)
    run = batch.runs.filter(pk=run_id).first()
    if run is None:
        raise Http404
    element = batch.element
    base = run.option or batch.option
    option = element.add_option(
        f"{base.name[:70] if base is not None else 'Searched'}: {run.label}"[:120],
        BuildUp.model_validate(run.build_up),
        base.school if base is not None else "",
    )
    HistoryEntry.write(element.project, user, "take from search", f"took “{option.name}” of “{element.name}”", option)
    return option


def _wetting(element: Element, option: None, settings: WettingSettings) -> list[Run]:
    as_found = element.as_found.current
    plane = sensitive_plane(as_found, element.place)
    if settings.layer is not None:
        layer = next((one for one in as_found.layers if one.id == settings.layer), None)
        if layer is None:
            raise Problem(
                422,
                "no_layer",
                f"As found has no layer “{settings.layer}”.",
                "Choose a layer of the as-found build-up.",
            )
        plane = SensitivePlane(layer.id, layer.entry.name, settings.face, "chosen here")
    if plane is None:
        raise Problem(422, "no_plane", "Nothing as found could rot, mould or freeze.", "Choose a layer to wet.")
    runs = []
    for each in element.options.all():
        build_up = each.current
        if plane_in(build_up, plane)[0] is None:
            continue
        inputs = {
            "on": settings.on,
            "thickness_mm": settings.thickness_mm,
            "dose_kg_m2": settings.dose_kg_m2,
            "plane": asdict(plane),
        }
        looked_at = f"{plane.layer_id}|{plane.face}|{settings.on}|{settings.thickness_mm}|{settings.dose_kg_m2}"
        runs.append(
            Run(
                project=element.project,
                option=each,
                kind=Run.WETTING,
                label=each.name,
                inputs=inputs,
                case_hash=answer_key(model_of(build_up, element.place), Run.WETTING, looked_at),
                build_up=each.build_up,
                place=element.place.model_dump(mode="json"),
            )
        )
    return runs


_RUNS: dict[str, Any] = {
    Batch.STUDY: _study,
    Batch.FACINGS: _facings,
    Batch.BAD_YEAR: _bad_year,
    Batch.OUTBOARD: _outboard,
    Batch.WETTING: _wetting,
    Batch.LESS_RAIN: _less_rain,
    Batch.SEARCH: _search,
    Batch.IN_BETWEEN: _in_between,
    Batch.TRIAL: _trial,
}


@transaction.atomic
def cancel_batch(user: User, batch_id: int) -> Batch:
    """Waiting runs stop at once, running ones within a block of time; what is done stays."""
    batch = batch_among(Batch.objects.editable_by(user), batch_id)
    batch.runs.filter(status=Run.WAITING).update(status=Run.CANCELLED, doing="cancelled")
    batch.runs.filter(status=Run.RUNNING).update(cancel_asked=True)
    HistoryEntry.write(
        batch.element.project, user, f"cancel {batch.kind}", f"cancelled a batch of {batch.runs.count()} runs"
    )
    return batch


@transaction.atomic
def resume_batch(user: User, batch_id: int) -> Batch:
    """Cancelled and failed runs wait again; finished ones are kept."""
    batch = batch_among(Batch.objects.editable_by(user), batch_id)
    again = list(batch.runs.filter(status__in=(Run.CANCELLED, Run.FAILED)))
    if not again:
        raise Problem(409, "nothing_to_resume", "Every run of this batch is done or under way.", "")
    check_room(user, len(again))
    for run in again:
        run.mark_waiting_again()
    HistoryEntry.write(batch.element.project, user, f"resume {batch.kind}", f"resumed {len(again)} runs")
    return batch

"""Projects, elements, options, figures, heat. Thin: actions and figures do the work."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Any, Literal

from django.db.models import Count
from django.http import HttpRequest
from ninja import File, Form, Router, Schema, UploadedFile

from core.buildup.levers import LeverKey
from core.buildup.model import INDOOR_WORDS, BuildUp
from core.climate import importer
from core.climate.data import shipped, shipped_names
from core.climate.importer import Mapping
from core.materials.library import APPROXIMATION, Solid, library
from core.quantities import parse_thickness
from server.problems import Problem
from server.projects import actions
from server.projects import climates as climates_of
from server.projects import figures as fig
from server.projects.models import ClimateFile, Option, Project
from server.projects.schemas import (
    Body,
    ChoiceBody,
    DraftBody,
    ElementBody,
    ElementOut,
    GiveBody,
    HeatOut,
    LimitsBody,
    LimitsOut,
    NewElement,
    NewOption,
    OptionBody,
    OptionOut,
    PreviewBody,
    PreviewOut,
    ProjectBody,
    ProjectFields,
    ProjectListed,
    ProjectOut,
    ProjectPage,
)
from server.projects.schemas import (
    Sheet as SheetOut,
)
from server.runs.actions import look_at

router = Router(tags=["projects"])


class MaterialOut(Schema):
    """A library entry; fields that do not apply are null."""

    id: str
    kind: str
    name: str
    group: str
    hatch: str
    note: str
    mould_class: str
    sources: dict[str, str]
    conductivity_w_mk: float | None = None
    density_kg_m3: float | None = None
    mu: float | None = None
    w80_kg_m3: float | None = None
    free_saturation_kg_m3: float | None = None
    a_value_kg_m2s05: float | None = None
    sd_m: float | None = None
    sd_by_rh: list[list[float]] | None = None
    usual_thickness_mm: float | None = None
    capillary_active: bool = False
    family: str = ""
    weather: str = ""
    mu_wet: float | None = None


class ClimateOut(Schema):
    name: str
    label: str
    origin: str
    mean_temperature_c: float | None
    rain_mm: float | None
    design_temperature_c: float | None


class IndoorOut(Schema):
    name: str
    label: str


class ClimateFileOut(Schema):
    """An imported file. report: hours filled by column, what was estimated, what was said, yearly figures."""

    id: int
    name: str
    kind: Literal["weather", "indoor"]
    label: str
    file_name: str
    imported_at: datetime
    report: importer.Report


class LookOut(Schema):
    delimiter: str
    decimal: str
    header_lines: int
    columns: list[importer.Guess]
    first_rows: list[list[str]]
    rows: int
    signature: str
    remembered: Mapping | None
    units: dict[str, dict[str, tuple[float, float]]]


class Given(Schema):
    """To how many elements."""

    given: int


class LeverBody(Body):
    key: LeverKey


class LibraryOut(Schema):
    materials: list[MaterialOut]
    climates: list[ClimateOut]
    indoor: list[IndoorOut]
    approximation: str


LOST = " (hours lost, import the file again)"


def _climate_out(name: str) -> ClimateOut:
    climate = shipped(name)
    return ClimateOut(
        name=name,
        label=climate.label,
        origin=climate.origin,
        mean_temperature_c=float(climate["temperature_c"].mean()),
        rain_mm=float(climate["rain_mm"].sum()),
        design_temperature_c=climate.design_temperature_c,
    )


def _lost(row: ClimateFile) -> ClimateOut:
    """A climate whose hours are not on disk any more: it keeps its name in the lists."""
    label = f"{row.label}{LOST}"
    return ClimateOut(
        name=row.name,
        label=label,
        origin="imported from a file",
        mean_temperature_c=None,
        rain_mm=None,
        design_temperature_c=None,
    )


@router.get("/library", response=LibraryOut)
def read_library(request: HttpRequest) -> LibraryOut:
    materials = []
    for entry in library().values():
        values: dict[str, Any] = {
            name: value for name, value in entry.model_dump().items() if name in MaterialOut.model_fields
        }
        materials.append(MaterialOut(**values))
    own = {row.name: row for row in ClimateFile.objects.visible_to(request.user)}
    indoor = [IndoorOut(name=word, label=label) for word, label in INDOOR_WORDS.items()]
    indoor += [
        IndoorOut(name=row.name, label=f"measured: {row.label}{'' if climates_of.there(row.name) else LOST}")
        for row in own.values()
        if row.kind == ClimateFile.INDOOR
    ]
    weather = [row for row in own.values() if row.kind == ClimateFile.WEATHER]
    climates = [_climate_out(name) for name in shipped_names()]
    climates += [_climate_out(row.name) for row in weather if climates_of.there(row.name)]
    climates += [_lost(row) for row in weather if not climates_of.there(row.name)]
    return LibraryOut(materials=materials, climates=climates, indoor=indoor, approximation=APPROXIMATION)


@router.get("/climates", response=list[ClimateFileOut])
def list_climates(request: HttpRequest) -> list[ClimateFile]:
    """Weather and indoor air that I imported, newest first."""
    return list(ClimateFile.objects.visible_to(request.user))


@router.post("/climates/look", response=LookOut)
def look_at_climate(request: HttpRequest, file: File[UploadedFile]) -> LookOut:
    """What a file looks like, and how one of its make was read before."""
    raw = climates_of.read_upload(file)
    seen = importer.look(raw)
    return LookOut(
        **asdict(seen), remembered=climates_of.remembered(request.user, seen.signature), units=importer.UNITS
    )


@router.post("/climates", response={201: ClimateFileOut})
def import_climate(request: HttpRequest, file: File[UploadedFile], mapping: Form[str]) -> tuple[int, ClimateFile]:
    """Read a file as mapped; refused with line and column where it does not fit, and nothing is kept then."""
    raw = climates_of.read_upload(file)
    return 201, climates_of.import_climate(request.user, raw, Mapping.model_validate_json(mapping), file.name or "")


@router.delete("/climates/{climate_id}", response={204: None})
def forget_climate(request: HttpRequest, climate_id: int) -> tuple[int, None]:
    climates_of.forget(request.user, climate_id)
    return 204, None


@router.get("/projects", response=list[ProjectListed])
def list_projects(request: HttpRequest) -> list[ProjectListed]:
    found: Any = Project.objects.visible_to(request.user).annotate(
        element_count=Count("elements"), chosen_count=Count("elements__chosen")
    )
    return [
        ProjectListed(
            id=p.pk,
            name=p.name,
            climate=p.climate,
            elements=p.element_count,
            chosen=p.chosen_count,
            changed_at=p.changed_at,
        )
        for p in found
    ]


@router.post("/projects", response={201: ProjectOut})
def create_project(request: HttpRequest, body: ProjectFields) -> tuple[int, Project]:
    return 201, actions.create_project(request.user, body)


@router.get("/projects/{project_id}", response=ProjectPage)
def read_project(request: HttpRequest, project_id: int) -> dict[str, Any]:
    project = actions.visible_project(request.user, project_id)
    return fig.project_page(project)


@router.put("/projects/{project_id}", response=ProjectOut)
def change_project(request: HttpRequest, project_id: int, body: ProjectBody) -> Project:
    return actions.change_project(request.user, project_id, body)


@router.delete("/projects/{project_id}", response={204: None})
def delete_project(request: HttpRequest, project_id: int) -> tuple[int, None]:
    actions.delete_project(request.user, project_id)
    return 204, None


@router.get("/projects/{project_id}/limits", response=LimitsOut)
def read_limits(request: HttpRequest, project_id: int) -> LimitsOut:
    """Every limit in force, as it is by default, and why."""
    return fig.limits_out(actions.visible_project(request.user, project_id))


@router.put("/projects/{project_id}/limits", response=LimitsOut)
def edit_limits(request: HttpRequest, project_id: int, body: LimitsBody) -> LimitsOut:
    return fig.limits_out(actions.edit_limits(request.user, project_id, body))


@router.post("/projects/{project_id}/constructions", response=Given)
def give_construction(request: HttpRequest, project_id: int, body: GiveBody) -> Given:
    """One construction to many elements at once."""
    return Given(given=actions.give_construction(request.user, project_id, body))


@router.get("/projects/{project_id}/heat", response=HeatOut)
def read_heat(request: HttpRequest, project_id: int) -> HeatOut:
    return fig.heat(actions.visible_project(request.user, project_id))


@router.post("/projects/{project_id}/elements", response={201: ElementOut})
def create_element(request: HttpRequest, project_id: int, body: NewElement) -> tuple[int, Any]:
    return 201, actions.create_element(request.user, project_id, body)


@router.put("/elements/{element_id}", response=ElementOut)
def change_element(request: HttpRequest, element_id: int, body: ElementBody) -> Any:
    return actions.change_element(request.user, element_id, body)


@router.delete("/elements/{element_id}", response={204: None})
def delete_element(request: HttpRequest, element_id: int) -> tuple[int, None]:
    actions.delete_element(request.user, element_id)
    return 204, None


@router.get("/elements/{element_id}/sheet", response=SheetOut)
def read_sheet(request: HttpRequest, element_id: int) -> SheetOut:
    element = _with_layers(request, element_id)
    look_at(request.user, element.pk)
    return fig.sheet(element)


def _with_layers(request: HttpRequest, element_id: int) -> Any:
    element = actions.visible_element(request.user, element_id)
    if not element.has_build_up:
        raise Problem(422, "no_build_up", f"A {element.kind} has no layers.", "State its U-value in Survey.")
    return element


@router.post("/elements/{element_id}/preview", response=PreviewOut)
def preview_build_up(request: HttpRequest, element_id: int, body: PreviewBody) -> PreviewOut:
    """Figures of a build-up that is not saved; `typing` is parsed and put into its layer first."""
    element = _with_layers(request, element_id)
    build_up = body.build_up
    if body.typing is not None:
        build_up = _typed(build_up, body.typing.layer_id, body.typing.text, body.typing.unit)
    found = element.as_found
    is_found = body.option_id == found.pk
    return fig.figures(element, build_up if is_found else found.current, build_up, is_found)


def _typed(build_up: BuildUp, layer_id: str, text: str, unit: str) -> BuildUp:
    layers = []
    for layer in build_up.layers:
        if layer.id == layer_id:
            entry = layer.entry
            conductivity = entry.conductivity_w_mk if isinstance(entry, Solid) else 0.0
            mm = round(parse_thickness(text, conductivity, unit) * 1000.0, 3)
            layer = layer.model_copy(update={"thickness_mm": mm})
        layers.append(layer)
    return BuildUp.model_validate({**build_up.model_dump(), "layers": [layer.model_dump() for layer in layers]})


@router.post("/elements/{element_id}/options", response={201: OptionOut})
def create_option(request: HttpRequest, element_id: int, body: NewOption) -> tuple[int, OptionOut]:
    return 201, _option_out(actions.create_option(request.user, element_id, body))


def _option_out(option: Option) -> OptionOut:
    element = option.element
    return fig.option_out(element, option, element.as_found.current, list(option.runs.years()))


@router.post("/options/{option_id}/membranes", response=SheetOut)
def compare_membranes(request: HttpRequest, option_id: int) -> SheetOut:
    """The same option with none, variable and tight membranes, beside it; the whole sheet comes back."""
    return fig.sheet(actions.compare_membranes(request.user, option_id))


@router.post("/options/{option_id}/lever", response=SheetOut)
def try_lever(request: HttpRequest, option_id: int, body: LeverBody) -> SheetOut:
    """The same option with a coat, a render or a cladding outside, beside it; the whole sheet comes back."""
    return fig.sheet(actions.try_lever(request.user, option_id, body.key))


@router.get("/options/{option_id}", response=OptionOut)
def read_option(request: HttpRequest, option_id: int) -> OptionOut:
    return _option_out(actions.visible_option(request.user, option_id))


@router.put("/options/{option_id}", response=OptionOut)
def commit_option(request: HttpRequest, option_id: int, body: OptionBody) -> OptionOut:
    return _option_out(actions.commit_option(request.user, option_id, body))


@router.put("/options/{option_id}/draft", response={204: None})
def keep_draft(request: HttpRequest, option_id: int, body: DraftBody) -> tuple[int, None]:
    actions.keep_draft(request.user, option_id, body.build_up)
    return 204, None


@router.delete("/options/{option_id}", response={204: None})
def delete_option(request: HttpRequest, option_id: int) -> tuple[int, None]:
    actions.delete_option(request.user, option_id)
    return 204, None


@router.put("/elements/{element_id}/choice", response=ElementOut)
def choose(request: HttpRequest, element_id: int, body: ChoiceBody) -> Any:
    return actions.choose_option(request.user, element_id, body.option_id, body.reason)

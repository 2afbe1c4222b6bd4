"""The options sheet, its previews, limits and the choice."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Router

from core.buildup.levers import LeverKey
from core.buildup.model import BuildUp
from core.materials.library import Solid
from core.proposals.propose import propose
from core.proposals.standing import Stands
from core.quantities import parse_thickness
from server.library.own import check_materials
from server.options.actions import choose_option as do_choose_option
from server.options.actions import commit_option as do_commit_option
from server.options.actions import compare_membranes as do_compare_membranes
from server.options.actions import create_option as do_create_option
from server.options.actions import delete_option as do_delete_option
from server.options.actions import edit_limits as do_edit_limits
from server.options.actions import keep_draft as do_keep_draft
from server.options.actions import spread_option as do_spread_option
from server.options.actions import try_lever as do_try_lever
from server.options.figures import figures as figures_of
from server.options.figures import limits_out, option_out, since
from server.options.figures import sheet as sheet_of
from server.options.proposals import set_access as do_set_access
from server.options.proposals import situation_of
from server.options.proposals import take_proposal as do_take_proposal
from server.options.schemas import (
    AccessBody,
    ChoiceBody,
    DraftBody,
    DrawnBody,
    LimitsBody,
    LimitsOut,
    NewOption,
    OptionBody,
    OptionOut,
    PreviewBody,
    PreviewOut,
    ProposalsOut,
    SinceOut,
    SpreadBody,
    SpreadOut,
    WayRun,
)
from server.options.schemas import Sheet as SheetOut
from server.options.standing import ask_standings, leave_standings, runs_of
from server.problems import Problem
from server.projects.models import Option
from server.projects.permissions import viewable_element, viewable_option, viewable_project
from server.projects.schemas import Body, ElementOut
from server.runs.actions import look_at
from server.runs.models import Run
from server.runs.states import Waiting

router = Router(tags=["options"])


class LeverBody(Body):
    key: LeverKey


@router.get("/projects/{project_id}/limits", response=LimitsOut)
def read_limits(request: HttpRequest, project_id: int) -> LimitsOut:
    """Every limit in force, as it is by default, and why."""
    return limits_out(viewable_project(request.user, project_id))


@router.put("/projects/{project_id}/limits", response=LimitsOut)
def edit_limits(request: HttpRequest, project_id: int, body: LimitsBody) -> LimitsOut:
    return limits_out(do_edit_limits(request.user, project_id, body))


@router.get("/elements/{element_id}/sheet", response=SheetOut)
def read_sheet(request: HttpRequest, element_id: int) -> SheetOut:
    element = _with_layers(request, element_id)
    look_at(request.user, element.pk)
    return sheet_of(element)


def _with_layers(request: HttpRequest, element_id: int) -> Any:
    element = viewable_element(request.user, element_id)
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
    check_materials(element.project, build_up, found.build_up)
    return figures_of(element, build_up if is_found else found.current, build_up, is_found)


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


@router.put("/elements/{element_id}/access", response=ElementOut)
def set_access(request: HttpRequest, element_id: int, body: AccessBody) -> Any:
    """What of it may be reached, and what lies open now."""
    return do_set_access(request.user, element_id, body)


@router.get("/elements/{element_id}/proposals", response=ProposalsOut)
def read_proposals(request: HttpRequest, element_id: int) -> ProposalsOut:
    """What could be done to it: each way that applies as a whole build-up, best first, with what its years say as far as they are run; and
    those that do not apply, with the reason."""
    return _proposals(_with_layers(request, element_id))


@router.post("/elements/{element_id}/proposals/years", response=ProposalsOut)
def run_proposals(request: HttpRequest, element_id: int) -> ProposalsOut:
    """Run the years of every way that are not there yet."""
    element = _with_layers(request, element_id)
    ask_standings(request.user, element_id, situation_of(element))
    return _proposals(element)


@router.post("/elements/{element_id}/proposals/leave", response={204: None})
def leave_proposals(request: HttpRequest, element_id: int) -> tuple[int, None]:
    """Nobody looks at them any more: what is not done is given up."""
    leave_standings(request.user, element_id)
    return 204, None


def _proposals(element: Any) -> ProposalsOut:
    at = situation_of(element)
    rows = runs_of(element, at)
    known = {way: Stands.model_validate(run.result) for way, run in rows.items() if run.status == Run.DONE}
    out = [
        WayRun(way=way, status=run.status, progress=run.progress, doing=run.doing, error=run.error)
        for way, run in rows.items()
    ]
    waits = any(run.status == Run.WAITING for run in rows.values())
    return ProposalsOut(proposals=propose(at, known), runs=out, trouble=Waiting().trouble if waits else "")


@router.post("/elements/{element_id}/proposals/{way}", response={201: OptionOut})
def take_proposal(request: HttpRequest, element_id: int, way: str) -> tuple[int, OptionOut]:
    return 201, _option_out(do_take_proposal(request.user, element_id, way))


@router.post("/elements/{element_id}/options", response={201: OptionOut})
def create_option(request: HttpRequest, element_id: int, body: NewOption) -> tuple[int, OptionOut]:
    return 201, _option_out(do_create_option(request.user, element_id, body))


def _option_out(option: Option) -> OptionOut:
    element = option.element
    return option_out(element, option, element.as_found.current, list(option.runs.years()))


@router.post("/options/{option_id}/since", response=SinceOut)
def since_last_run(request: HttpRequest, option_id: int, body: DrawnBody) -> SinceOut:
    """What changed since the last run of something else than what is drawn, and what it had said."""
    return since(viewable_option(request.user, option_id), body.build_up)


@router.post("/options/{option_id}/spread", response=list[SpreadOut])
def spread_option(request: HttpRequest, option_id: int, body: SpreadBody) -> list[SpreadOut]:
    """The same option on other elements, each with its own limits; what cannot have it says why."""
    found = []
    for element, option, refused in do_spread_option(request.user, option_id, body.elements):
        made = figures_of(element, element.as_found.current, option.current) if option is not None else None
        found.append(
            SpreadOut(
                element_id=element.pk,
                name=element.name,
                option_id=option.pk if option is not None else None,
                u_w_m2k=made.thermal.u_effective if made is not None and made.thermal is not None else None,
                over_limits=made.over_limits if made is not None else [],
                refused=refused,
            )
        )
    return found


@router.post("/options/{option_id}/membranes", response=SheetOut)
def compare_membranes(request: HttpRequest, option_id: int) -> SheetOut:
    """The same option with none, variable and tight membranes, beside it; the whole sheet comes back."""
    return sheet_of(do_compare_membranes(request.user, option_id))


@router.post("/options/{option_id}/lever", response=SheetOut)
def try_lever(request: HttpRequest, option_id: int, body: LeverBody) -> SheetOut:
    """The same option with a coat, a render or a cladding outside, beside it; the whole sheet comes back."""
    return sheet_of(do_try_lever(request.user, option_id, body.key))


@router.get("/options/{option_id}", response=OptionOut)
def read_option(request: HttpRequest, option_id: int) -> OptionOut:
    return _option_out(viewable_option(request.user, option_id))


@router.put("/options/{option_id}", response=OptionOut)
def commit_option(request: HttpRequest, option_id: int, body: OptionBody) -> OptionOut:
    return _option_out(do_commit_option(request.user, option_id, body))


@router.put("/options/{option_id}/draft", response={204: None})
def keep_draft(request: HttpRequest, option_id: int, body: DraftBody) -> tuple[int, None]:
    do_keep_draft(request.user, option_id, body.build_up)
    return 204, None


@router.delete("/options/{option_id}", response={204: None})
def delete_option(request: HttpRequest, option_id: int) -> tuple[int, None]:
    do_delete_option(request.user, option_id)
    return 204, None


@router.put("/elements/{element_id}/choice", response=ElementOut)
def choose(request: HttpRequest, element_id: int, body: ChoiceBody) -> Any:
    return do_choose_option(request.user, element_id, body.option_id, body.reason, body.seen)

"""From rows to core and back: figures of options, the sheet of an element, heat of the building."""

from __future__ import annotations

from dataclasses import asdict
from functools import lru_cache
from typing import Any

from django.db.models import Prefetch, Q

from core.brief import missing_in
from core.building.heat import (
    AIR_HEAT,
    N50_DIVISOR,
    AirLoss,
    ElementLoss,
    HeatLoss,
    degree_hours,
    natural_air_change,
)
from core.buildup.model import INDOOR_WORDS, BuildUp, Place, datum_layer
from core.case import DrivenRain
from core.climate.data import shipped
from core.climate.rain import driven_rain
from core.errors import CaseRefused
from core.preview import preview
from core.thermal.iso6946 import transmittance
from server.projects.models import Element, Option, Project
from server.projects.schemas import Conditions, HeatOut, HeatRow, OptionOut, PreviewOut, RunState, Sheet, TestWords
from server.runs.models import Batch, Run

OVER = "over a limit"
FACINGS = ("N", "NE", "E", "SE", "S", "SW", "W", "NW")


@lru_cache(maxsize=64)
def _degree_hours(climate: str, set_point: float) -> float:
    return degree_hours(shipped(climate), set_point)


@lru_cache(maxsize=512)
def yearly_driven_rain(climate: str, facing: float, factors: DrivenRain) -> float:
    """mm (kg/m²) of driven rain offered to a face in the climate's year."""
    return float(driven_rain(shipped(climate), facing, factors).sum())


def figures(element: Element, as_found: BuildUp, build_up: BuildUp) -> PreviewOut:
    """Everything steady about a build-up of this element."""
    place = element.place
    result = preview(as_found, build_up, place, element.limits)
    loss = None
    if result.thermal is not None:
        loss = result.thermal.u_effective * place.factor_b * _degree_hours(place.climate, place.set_point_c) / 1000.0
    return PreviewOut(
        build_up=build_up,
        thermal=result.thermal,
        refused=result.refused,
        thickness_mm=result.thickness_m * 1000.0,
        room_lost_mm=result.room_lost_m * 1000.0,
        growth_outside_mm=result.growth_outside_m * 1000.0,
        over_limits=result.over_limits,
        drying=result.drying,
        drying_plane=result.drying_plane,
        condensation=result.condensation,
        traps=result.traps,
        profile=result.profile,
        free_drying=result.free_drying,
        leak_layer=result.leak_layer,
        rain_leak_layer=result.rain_leak_layer,
        transient_refused=result.transient_refused,
        case_hash=result.case_hash,
        loss_kwh_m2a=loss,
    )


def run_state(option: Option, case_hash: str, refused: str, runs: list[Run]) -> RunState:
    """The state in words. runs: this option's, newest first. A result is current only for its own case."""
    if refused:
        return RunState(
            state="not available", run_id=None, progress=0.0, doing=refused, error="", verdict=None, summary=None
        )
    fitting = next((run for run in runs if run.case_hash == case_hash), None)
    done = next((run for run in runs if run.case_hash == case_hash and run.status == Run.DONE), None)
    older = next((run for run in runs if run.status == Run.DONE), None)
    state: Any = "not run"
    shown = done or fitting or older
    if fitting is not None and fitting.status in (Run.WAITING, Run.RUNNING):
        state, shown = fitting.status, fitting
    elif done is not None:
        state = "current"
    elif fitting is not None:
        state = fitting.status
    elif older is not None:
        state = "out of date"
    if shown is None:
        return RunState(state=state, run_id=None, progress=0.0, doing="", error="", verdict=None, summary=None)
    return RunState(
        state=state,
        run_id=shown.pk,
        progress=shown.progress,
        doing=shown.doing,
        error=shown.error,
        verdict=shown.verdict,
        summary=shown.summary,
    )


def facing_word(degrees: float) -> str:
    """N, NE … of a facing."""
    return FACINGS[int(((degrees + 22.5) % 360.0) // 45.0)]


def project_page(project: Project) -> dict[str, Any]:
    """The project with its elements, their readiness, and how far each step is."""
    from server.survey.figures import readiness_of

    causes = list(project.evidence.values_list("cause", flat=True))
    return {
        "project": project,
        "elements": list(project.elements.all()),
        "history": list(project.history.all()[:30]),
        "readiness": {pk: asdict(state) for pk, state in readiness_of(project).items()},
        "progress": {
            "brief_missing": missing_in(project.current_brief),
            "bodies": len(project.shape.get("bodies", [])),
            "evidence": len(causes),
            "unexplained": causes.count(""),
        },
    }


def indoor_words(occupancy: str) -> str:
    """The indoor profile in words."""
    return INDOOR_WORDS.get(occupancy) or f"measured indoors: {shipped(occupancy).label}"


def conditions(element: Element, place: Place) -> Conditions:
    climate = shipped(place.climate)
    return Conditions(
        climate_label=climate.label,
        climate_origin=climate.origin,
        facing=facing_word(place.facing_deg),
        driven_rain_mm=yearly_driven_rain(place.climate, place.facing_deg, place.driven_rain)
        if place.kind == "wall" and place.adjoining == "outside"
        else 0.0,
        exposure=place.exposure if place.rain_factors is None else "surveyed exposure",
        occupancy=indoor_words(place.occupancy),
        set_point_c=place.set_point_c,
        start_rh=place.start_rh,
        target_u_w_m2k=element.limits.target_u_w_m2k,
    )


def test_words(element: Element, option: Option) -> TestWords:
    """The newest wetting test, bad year and study of an option in a few words each. Reads single values, not the results."""
    words, stale = TestWords(), False
    mine = Batch.objects.filter(element=element).filter(Q(option=option) | Q(option=None)).select_related("option")
    place = element.place.model_dump(mode="json")
    seen: set[str] = set()
    for batch in mine:
        if batch.kind in seen:
            continue
        seen.add(batch.kind)
        done = batch.runs.filter(status=Run.DONE)
        fresh = batch.place == place and (batch.option is None or option.build_up == batch.build_up)
        if batch.kind == Batch.WETTING:
            row = done.filter(option=option).values_list("result__days", "build_up").first()
            if row is not None:
                fresh = fresh and row[1] == option.build_up
                words.wetting = "not within a year" if row[0] is None else f"{row[0]:.0f} days"
        elif batch.kind == Batch.BAD_YEAR:
            state = done.filter(label="bad year").values_list("result__state", flat=True).first()
            words.bad_year = state or ""
        elif batch.kind == Batch.STUDY:
            states = list(done.values_list("result__state", flat=True))
            if states:
                words.study = f"{sum(s != OVER for s in states)} of {len(states)} sound"
                if fresh and OVER in states:
                    words.caution = f"over a limit in {states.count(OVER)} of {len(states)} runs of the study"
        if fresh and batch.kind == Batch.BAD_YEAR and words.bad_year == OVER:
            words.caution = "over a limit in the bad year"
        stale = stale or not fresh
    words.stale = stale
    return words


def with_caution(state: RunState, caution: str) -> RunState:
    """A verdict within limits that a bad year or a study contradicts is marginal, and says why."""
    if caution and state.verdict is not None and state.verdict["state"] == "within limits":
        state.verdict = {**state.verdict, "state": "marginal", "headline": f"Marginal: {caution}"}
    return state


def option_out(element: Element, option: Option, as_found: BuildUp, runs: list[Run]) -> OptionOut:
    """An option with figures and run state of what is shown: the draft when there is one."""
    draft = BuildUp.model_validate(option.draft) if option.draft else None
    shown = draft or option.current
    found = as_found if option.role != Option.AS_FOUND else shown
    result = figures(element, found, shown)
    tests = test_words(element, option)
    return OptionOut(
        id=option.pk,
        role=option.role,
        position=option.position,
        name=option.name,
        school=option.school,
        revision=option.revision,
        build_up=option.current,
        draft=draft,
        figures=result,
        run=with_caution(run_state(option, result.case_hash, result.transient_refused, runs), tests.caution),
        tests=tests,
    )


def sheet(element: Element) -> Sheet:
    """The options sheet of an element: as found first, then the options in their order."""
    options = sorted(
        element.options.prefetch_related(Prefetch("runs", Run.objects.years())),
        key=lambda o: (o.role != Option.AS_FOUND, o.position, o.pk),
    )
    as_found = next(o for o in options if o.role == Option.AS_FOUND)
    found = BuildUp.model_validate(as_found.draft) if as_found.draft else as_found.current
    project: Any = element.project
    shown: Any = element
    limits, said = element.limits_said()
    return Sheet(
        limits=limits,
        limits_said=said,
        project=project,
        element=shown,
        siblings=[e.pk for e in element.project.elements.all() if e.has_build_up],
        conditions=conditions(element, element.place),
        datum_layer_id=datum_layer(found).id,
        options=[option_out(element, option, found, list(option.runs.all())) for option in options],
    )


# --- heat -----------------------------------------------------------------------------------------


def heat(project: Project) -> HeatOut:
    """Heat loss before and after the chosen options. What is missing is listed, never guessed."""
    climate = shipped(project.climate)
    missing: list[str] = []
    losses: list[ElementLoss] = []
    notes: list[tuple[int, str]] = []
    for element in project.elements.prefetch_related("options").select_related("chosen"):
        try:
            before, after, note = _element_u(element)
        except CaseRefused as error:
            missing.append(f"{element.name}: {error.message}")
            continue
        losses.append(ElementLoss(element.name, element.kind, element.area_m2, element.factor_b, before, after))
        notes.append((element.pk, note))
    if project.volume_m3 is None or project.air_value is None:
        missing.append("Air: state volume and air changes in Survey")
    air = AirLoss(
        project.volume_m3 or 0.0,
        natural_air_change(project.air_kind, project.air_value or 0.0),  # type: ignore[arg-type]
        natural_air_change(
            project.air_kind,  # type: ignore[arg-type]
            (project.air_value or 0.0) if project.air_value_after is None else project.air_value_after,
        ),
    )
    result = HeatLoss(
        losses,
        air,
        _degree_hours(project.climate, project.set_point_c),
        project.set_point_c,
        climate.design_temperature_c,
    )
    rows = [
        _heat_row(result, pk, loss.name, loss.kind, loss.before, loss.after, note, loss)
        for loss, (pk, note) in zip(losses, notes, strict=True)
    ]
    rows.append(_heat_row(result, None, "Air", "air", air.before, air.after, _air_note(project, air), None))
    total = _heat_row(result, None, "Building", "total", result.coefficient(False), result.coefficient(True), "", None)
    return HeatOut(
        rows=rows,
        total=total,
        degree_hours_kh=result.degree_hours / 1000.0,
        set_point_c=project.set_point_c,
        design_c=result.design_c,
        climate_label=climate.label,
        climate_origin=climate.origin,
        missing=missing,
        arithmetic=_arithmetic(result, climate.label),
    )


def _element_u(element: Element) -> tuple[float, float, str]:
    if not element.has_build_up:
        if element.u_w_m2k is None:
            raise CaseRefused("no U-value")
        after = element.planned_u_w_m2k or element.u_w_m2k
        return element.u_w_m2k, after, "planned U" if element.planned_u_w_m2k else "stays as found"
    as_found = next(o for o in element.options.all() if o.role == Option.AS_FOUND)
    before = transmittance(as_found.current, element.kind).u_effective
    if element.chosen is None:
        return before, before, "no option chosen: stays as found"
    return before, transmittance(element.chosen.current, element.kind).u_effective, element.chosen.name


def _air_note(project: Project, air: AirLoss) -> str:
    if project.air_kind == "n50":
        after = project.air_value if project.air_value_after is None else project.air_value_after
        return f"n50 {project.air_value or 0:g} → {after or 0:g} 1/h, divided by {N50_DIVISOR:g} (rule of thumb)"
    return f"natural air changes {air.rate_before:g} → {air.rate_after:g} 1/h"


def _heat_row(
    result: HeatLoss,
    pk: int | None,
    name: str,
    kind: str,
    before: float,
    after: float,
    note: str,
    loss: ElementLoss | None,
) -> HeatRow:
    return HeatRow(
        element_id=pk,
        name=name,
        kind=kind,
        area_m2=loss.area if loss else None,
        factor_b=loss.factor_b if loss else None,
        u_before=loss.u_before if loss else None,
        u_after=loss.u_after if loss else None,
        before_w_k=before,
        after_w_k=after,
        before_kwh=result.yearly_loss(before),
        after_kwh=result.yearly_loss(after),
        before_w=result.design_load(before),
        after_w=result.design_load(after),
        note=note,
    )


def _arithmetic(result: HeatLoss, label: str) -> list[str]:
    hours, air = result.degree_hours / 1000.0, result.air
    return [
        "Element: H = area × U effective (ISO 6946) × b. Joints are not in it yet.",
        f"Air: H = {AIR_HEAT:.4f} Wh/(m³K) × volume {air.volume:g} m³ × air changes {air.rate_before:.3g} → {air.rate_after:.3g} 1/h (ISO 13789).",
        f"Loss in a year: H × {hours:.1f} kKh, the sum over all hours of {label} of the degrees below {result.set_point_c:g} °C. "
        "Loss, not need: sun, people and appliances are not taken off.",
        f"Design load: H × the difference of {result.set_point_c:g} °C and {result.design_c:.1f} °C; the second is the coldest 24-hour mean of the climate. "
        "For the heating designer: no reheat, no margin.",
    ]

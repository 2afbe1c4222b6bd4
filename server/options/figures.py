"""From rows to core and back: figures of options, the sheet of an element."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from django.db.models import Prefetch

from core.brief import facing_word
from core.buildup.changes import changes, place_changes
from core.buildup.growth import datum_layer
from core.buildup.levers import LEVERS, with_lever
from core.buildup.model import INDOOR_WORDS, BuildUp, Place
from core.climate.data import shipped
from core.climate.rain import is_rain_face, yearly_driven_rain
from core.criteria.cautions import cautions
from core.criteria.registry import CRITERIA
from core.criteria.verdict import Tested
from core.errors import OutOfRange
from core.preview import case_state, preview
from core.say import said, say
from core.study import first_inputs
from server.options.schemas import (
    Conditions,
    CriterionOut,
    Drowned,
    Lever,
    LimitOut,
    LimitsOut,
    OptionOut,
    OutwardOut,
    PreviewOut,
    Sheet,
    SinceOut,
)
from server.projects.models import Element, Option, Project
from server.runs.models import Batch, Run
from server.runs.states import Waiting, run_state, test_words
from server.runs.verdicts import Kept, limits_of, verdict_of
from server.states.beyond import Beyond, beyond_of, yearly_degree_hours
from server.survey.figures import uptakes_of

ENOUGH_RH = 0.90  # of the structure's inner face in its wettest month: out of the edge of saturation


def figures(
    element: Element, as_found: BuildUp, build_up: BuildUp, is_as_found: bool = False, where: Beyond | None = None
) -> PreviewOut:
    """Everything steady about a build-up of this element. where: what lies beyond it in that state, where it is known already."""
    place = element.place
    result = preview(as_found, build_up, place, element.limits, is_as_found)
    loss, outward = None, None
    if result.thermal is not None:
        where = where or beyond_of(element, not is_as_found)
        u, b, words = where.of(result.thermal)
        loss = u * b * yearly_degree_hours(place.climate, place.set_point_c, place.occupancy) / 1000.0
        if where.is_not_air:
            outward = OutwardOut(u_w_m2k=u * b, words=words)
    shown = {field.name: getattr(result, field.name) for field in fields(result) if not field.name.endswith("_m")}
    return PreviewOut(
        build_up=build_up,
        thickness_mm=result.thickness_m * 1000.0,
        room_lost_mm=result.room_lost_m * 1000.0,
        growth_outside_mm=result.growth_outside_m * 1000.0,
        outward=outward,
        loss_kwh_m2a=loss,
        cautions=cautions(as_found, build_up, place, element.project.current_brief.built_year),
        **shown,
    )


def indoor_words(occupancy: str) -> str:
    """The indoor profile in words."""
    return INDOOR_WORDS.get(occupancy) or f"measured indoors: {shipped(occupancy).label}"


def conditions(element: Element, place: Place) -> Conditions:
    climate = shipped(place.climate)
    rained = place.kind == "wall" and place.adjoining == "outside"
    driven = yearly_driven_rain(place.climate, place.facing_deg, place.driven_rain) if rained else 0.0
    return Conditions(
        climate_label=climate.label,
        climate_origin=climate.origin,
        facing=facing_word(place.facing_deg),
        driven_rain_mm=driven,
        exposure=place.exposure if place.rain_factors is None else "surveyed exposure",
        occupancy=indoor_words(place.occupancy),
        set_point_c=place.set_point_c,
        start_rh=place.start_rh,
        works_on=place.works_on,
        strip=place.strip,
        rain_face=is_rain_face(driven),
        target_u_w_m2k=element.limits.target_u_w_m2k,
    )


def option_out(
    element: Element,
    option: Option,
    as_found: BuildUp,
    runs: list[Run],
    kept: Kept | None = None,
    queue: Waiting | None = None,
    uptakes: dict[str, list[float]] | None = None,
    where: Beyond | None = None,
) -> OptionOut:
    """An option with figures and run state of what is shown: the draft when there is one."""
    draft = BuildUp.model_validate(option.draft) if option.draft else None
    shown = draft or option.current
    is_as_found = option.role == Option.AS_FOUND
    found = shown if is_as_found else as_found
    result = figures(element, found, shown, is_as_found, where)
    tests = test_words(element, option, limits_of(element.project))
    kept = kept or Kept({run.case_hash for run in runs} | {run.found_key for run in runs})
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
        run=run_state(
            element,
            option,
            found,
            result.case_hash,
            result.transient_refused,
            runs,
            kept,
            tests,
            queue or Waiting(),
        ),
        tests=tests,
        rejected_by=option.rejected_by,
        rejected_reason=option.rejected_reason,
        rejected_at=option.rejected_at,
        study=first_inputs(
            shown,
            element.kind == "wall" and element.adjoining == "outside",
            uptakes_of(element) if uptakes is None else uptakes,
        ),
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
    limits, limits_said = element.limits_said()
    all_runs = [run for option in options for run in option.runs.all()]
    kept = Kept({run.case_hash for run in all_runs} | {run.found_key for run in all_runs})
    queue, uptakes = Waiting(), uptakes_of(element)
    sides = {True: beyond_of(element, False), False: beyond_of(element, True)}
    out = [
        option_out(element, o, found, list(o.runs.all()), kept, queue, uptakes, sides[o.role == Option.AS_FOUND])
        for o in options
    ]
    return Sheet(
        limits=limits,
        limits_said=limits_said,
        project=project,
        element=shown,
        siblings=[e.pk for e in element.project.here(list(element.project.elements.all())) if e.has_build_up],
        conditions=conditions(element, element.place),
        datum_layer_id=datum_layer(found, element.place).id if found.is_stated else "",
        drowned=drowned(element, found, out),
        options=out,
    )


def since(option: Option, drawn: BuildUp) -> SinceOut:
    """What changed since the newest finished run that is not of what is drawn, and its verdict."""
    element, place = option.element, option.element.place
    is_found = option.role == Option.AS_FOUND
    as_found = drawn if is_found else element.as_found.current
    _, key = case_state(drawn, place, None if is_found else as_found)
    run = option.runs.years().filter(status=Run.DONE).exclude(case_hash=key).first()
    if run is None or element.project.climate_gone:
        return SinceOut(changed=[], was=None, at=None)
    before = BuildUp.model_validate(run.build_up)
    changed = changes(before, drawn)
    if run.as_found and not is_found:
        found = changes(BuildUp.model_validate(run.as_found), as_found)
        changed += [say("as found, {what}", what=one) for one in found]
    changed += place_changes(Place.model_validate(run.place), place)
    started = BuildUp.model_validate(run.as_found) if run.as_found else as_found
    kept = Kept({run.case_hash, run.found_key})
    word = verdict_of(
        element, before, started, Place.model_validate(run.place), kept, run.case_hash, run.found_key, Tested()
    )
    return SinceOut(changed=changed, was=word.headline if word is not None else None, at=run.finished_at)


def drowned(element: Element, as_found: BuildUp, options: list[OptionOut]) -> Drowned | None:
    """Said once where rain drowns every option that was run: with how much less would do, and the levers there are."""
    verdicts = [o.run.verdict for o in options if o.run.verdict is not None and o.run.state == "current"]
    if not verdicts or not all(verdict.soaked for verdict in verdicts):
        return None
    batch = element.batches.filter(kind=Batch.LESS_RAIN).first()
    enough: float | None = None
    if batch is not None and not batch.out_of_date:
        runs = list(batch.runs.filter(status=Run.DONE))
        fine = [
            run.inputs["draw"]["rain exposure"]
            for run in runs
            if (run.result or {}).get("worst_month_rh", 1.0) < ENOUGH_RH
        ]
        enough = max(fine, default=None)
    alike = len({o.run.verdict.state for o in options if o.role != Option.AS_FOUND and o.run.verdict}) <= 1
    words = said(
        "Keep the rain out first: it holds this wall at the edge of saturation, and until then "
        + ("these options do not differ." if alike else "every one of these options stands in wet stone.")
    )
    if enough is not None:
        share = f"{enough:g} of it" if enough > 0.0 else "none at all"
        words = words + f" With less rain it would do: {share} (found by runs)."
    levers = []
    for key, name in LEVERS.items():
        try:
            with_lever(as_found, key)
        except OutOfRange:
            continue
        levers.append(Lever(key=key, words=name))
    return Drowned(words=words, enough=enough, asked=batch is not None, levers=levers)


def limits_out(project: Project) -> LimitsOut:
    values = limits_of(project)
    return LimitsOut(
        limits=[
            LimitOut(criterion=row.key, value=values[limit.key], **limit.model_dump())
            for row in CRITERIA
            for limit in row.limits
        ],
        criteria=[CriterionOut(key=row.key, covers_not=row.covers_not) for row in CRITERIA],
    )

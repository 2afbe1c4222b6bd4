"""From rows to core and back: figures of options, the sheet of an element, heat of the building."""

from __future__ import annotations

from dataclasses import asdict, fields
from functools import cached_property, lru_cache
from typing import Any

from django.conf import settings
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
from core.buildup.levers import LEVERS, with_lever
from core.buildup.model import INDOOR_WORDS, BuildUp, Place, datum_layer
from core.case import DrivenRain
from core.climate.data import shipped
from core.climate.rain import driven_rain, is_rain_face
from core.criteria.registry import CRITERIA
from core.criteria.verdict import Tested, yearly_wetting
from core.errors import CaseRefused, OutOfRange
from core.moisture.transient.outcome import SOLVER
from core.preview import preview
from core.say import Said, heat_of_air, join, length, said, say, temperature, volume
from core.say import degree_hours as degree_hours_said
from core.study import first_inputs
from core.thermal.iso6946 import Transmittance, transmittance
from core.thermal.iso13370 import slab_transmittance
from server.projects.models import Element, Option, Project
from server.projects.schemas import (
    Conditions,
    Credit,
    CriterionOut,
    Drowned,
    HeatOut,
    HeatRow,
    Lever,
    LimitOut,
    LimitsOut,
    OptionOut,
    PreviewOut,
    RunState,
    Sheet,
    TestWords,
    WettingWords,
)
from server.runs import heartbeat
from server.runs.answers import WettingAnswer
from server.runs.models import Batch, Run
from server.runs.verdicts import Drawn, Kept, counted, limits_of, verdict_of

ENOUGH_RH = 0.90  # of the structure's inner face in its wettest month: out of the edge of saturation
OVER = "over a limit"
FACINGS = ("N", "NE", "E", "SE", "S", "SW", "W", "NW")


@lru_cache(maxsize=64)
def _degree_hours(climate: str, set_point: float) -> float:
    return degree_hours(shipped(climate), set_point)


@lru_cache(maxsize=512)
def yearly_driven_rain(climate: str, facing: float, factors: DrivenRain) -> float:
    """mm (kg/m²) of driven rain offered to a face in the climate's year."""
    return float(driven_rain(shipped(climate), facing, factors).sum())


def figures(element: Element, as_found: BuildUp, build_up: BuildUp, is_as_found: bool = False) -> PreviewOut:
    """Everything steady about a build-up of this element."""
    place = element.place
    result = preview(as_found, build_up, place, element.limits, is_as_found)
    loss, ground = None, None
    if result.thermal is not None:
        u, _ = transmittance_to_outside(element, build_up, result.thermal)
        ground = u if element.ground_place is not None else None
        loss = u * _degree_hours(place.climate, place.set_point_c) / 1000.0
    shown = {field.name: getattr(result, field.name) for field in fields(result) if not field.name.endswith("_m")}
    return PreviewOut(
        build_up=build_up,
        thickness_mm=result.thickness_m * 1000.0,
        room_lost_mm=result.room_lost_m * 1000.0,
        growth_outside_mm=result.growth_outside_m * 1000.0,
        ground_u_w_m2k=ground,
        loss_kwh_m2a=loss,
        **shown,
    )


def transmittance_to_outside(element: Element, build_up: BuildUp, thermal: Transmittance) -> tuple[float, Said]:
    """(U to the outside air [W/m²K], where it comes from): U effective times b; of a floor on the ground by its size."""
    ground = element.ground_place
    if ground is None:
        words = said("")
        if element.adjoining == "ground":
            words = say("a constant factor b of {b}: its exposed perimeter is not stated", b=f"{element.factor_b:g}")
        return thermal.u_effective * element.factor_b, words
    layers = thermal.r_effective - thermal.internal_surface - thermal.external_surface
    words = say(
        "ISO 13370, simple: B′ {b}, soil {soil}", b=length(ground.characteristic_m, 1), soil=ground.soil
    )  # fmt: skip
    return slab_transmittance(ground, max(layers, 0.0)), words


class Waiting:
    """The queue as it stands: how many runs come before one, and about how long they take. Read once, asked often."""

    def __init__(self) -> None:
        self._order: dict[int, int] | None = None
        self._seconds = 0.0

    @cached_property
    def trouble(self) -> str:
        """Why nothing is computed at present; "" where a runner is at work."""
        runner = heartbeat.last()
        return (
            "waits: nothing is being computed on the server"
            if runner is None
            else runner.hindered and f"waits: {runner.hindered}"
        )

    def of(self, run: Run) -> tuple[int, float | None]:
        if self._order is None:
            self._order = {pk: place for place, pk in enumerate(Run.objects.in_turn())}
            recent = Run.objects.filter(status=Run.DONE, seconds__isnull=False).values_list("seconds", flat=True)[:20]
            seconds = [float(value) for value in recent if value is not None]
            self._seconds = sum(seconds) / len(seconds) if seconds else 0.0
        before = self._order.get(run.pk, 0)
        workers = max(settings.WORKERS, 1)
        return before, before * self._seconds / workers if self._seconds else None


def run_state(
    element: Element,
    option: Option,
    as_found: BuildUp,
    case_hash: str,
    refused: str,
    runs: list[Run],
    kept: Kept,
    tests: TestWords,
    queue: Waiting,
) -> RunState:
    """The state in words. runs: this option's, newest first. A result is current only for its own case."""
    if refused or element.project.climate_gone:
        return RunState(state="not available", doing=refused or element.project.climate_gone)
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
        return RunState(state=state)
    result = done or older
    out = RunState(state=state, run_id=shown.pk, progress=shown.progress, doing=shown.doing, error=shown.error)
    if shown.status == Run.WAITING:
        out.before, out.wait_s = queue.of(shown)
        out.doing = queue.trouble or out.doing
    if result is not None:
        tested = Tested()
        if not tests.stale and result is done:
            tested = Tested(bad_year=tests.bad_year, study_over=tests.study_over, study_runs=tests.study_runs)
        found = kept.of(result.case_hash)
        if found is not None and not element.project.climate_gone:
            out.verdict = verdict_of(
                element,
                BuildUp.model_validate(result.build_up),
                BuildUp.model_validate(result.as_found) if result.as_found else as_found,
                Place.model_validate(result.place),
                kept,
                result.case_hash,
                result.found_key,
                tested,
            )
            out.balances = found.balances
            out.wetting_kg_m2 = yearly_wetting(found)
            out.older = not found.current or result.solver != SOLVER
    return out


def facing_word(degrees: float) -> str:
    """N, NE … of a facing."""
    return FACINGS[int(((degrees + 22.5) % 360.0) // 45.0)]


def project_page(project: Project) -> dict[str, Any]:
    """The project with its elements, their readiness, and how far each step is."""
    from server.survey.figures import readiness_of

    causes = list(project.evidence.exclude(pin__kind="nothing_found").values_list("cause", flat=True))
    elements = list(project.elements.prefetch_related("options").select_related("chosen"))
    not_stated = [e for e in elements if e.has_build_up and not e.as_found.current.is_stated]
    return {
        "project": project,
        "climate_gone": project.climate_gone,
        "elements": elements,
        "history": list(project.history.all()[:30]),
        "readiness": {pk: asdict(state) for pk, state in readiness_of(project).items()},
        "progress": {
            "brief_missing": missing_in(project.current_brief),
            "survey_missing": survey_missing(project, elements, not_stated),
            "not_stated": len(not_stated),
            "bodies": len(project.current_shape.bodies),
            "evidence": len(causes),
            "unexplained": causes.count(""),
        },
    }


def survey_missing(project: Project, elements: list[Element], not_stated: list[Element]) -> list[str]:
    """What a careful colleague would still look at on site."""
    layered = [element for element in elements if element.has_build_up]
    assumed = sum(
        any(layer.known == "assumed" for layer in element.as_found.current.layers)
        for element in layered
        if element not in not_stated
    )
    walls = [element for element in elements if element.kind == "wall" and element.adjoining == "outside"]
    pinned = set(project.evidence.values_list("element_id", flat=True))
    unseen = [element for element in layered if not element.looked_at_by and element.pk not in pinned]
    gaps = [
        (not elements, "the shape, or elements by hand"),
        (bool(not_stated), f"the construction of {len(not_stated)} elements"),
        (bool(assumed), f"layers only assumed in {assumed} elements"),
        (any(element.rain is None for element in walls), "the exposure of some walls, in steps"),
        (bool(unseen), f"a look at {len(unseen)} elements"),
        (not project.measurements.filter(kind="blower_door").exists(), "a blower-door test"),
    ]
    return [word for gap, word in gaps if gap]


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


def test_words(element: Element, option: Option, limits: dict[str, float]) -> TestWords:
    """The newest wetting test, bad year and study of an option in a few words each. Reads single values, not the results."""
    words = TestWords()
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
            row = done.filter(option=option).values_list("result", "build_up").first()
            if row is not None and row[0] is not None:
                test = WettingAnswer.model_validate(row[0])
                words.wetting = WettingWords(
                    mean_stay_days=test.mean_stay_days,
                    half_left_after=test.half_left_after,
                    left_g=test.left_g,
                    at_heating=test.at_heating,
                    passes=test.at_heating < 0.5,
                    stale=not (batch.place == place and row[1] == option.build_up),
                )
            continue
        if batch.kind not in (Batch.BAD_YEAR, Batch.STUDY):
            continue
        fresh = fresh and batch.as_found == element.as_found.build_up
        if batch.kind == Batch.BAD_YEAR:
            drawn = Drawn(batch, list(done.filter(label="bad year")))
            words.bad_year = next((found.state for found in drawn.by_run.values()), None)
        else:
            words.study_over, words.study_runs = counted(batch.pk, done.count(), tuple(sorted(limits.items())))
        words.stale = words.stale or not fresh
    return words


def option_out(
    element: Element,
    option: Option,
    as_found: BuildUp,
    runs: list[Run],
    kept: Kept | None = None,
    queue: Waiting | None = None,
    uptakes: dict[str, list[float]] | None = None,
) -> OptionOut:
    """An option with figures and run state of what is shown: the draft when there is one."""
    from server.survey.figures import uptakes_of

    draft = BuildUp.model_validate(option.draft) if option.draft else None
    shown = draft or option.current
    is_as_found = option.role == Option.AS_FOUND
    found = shown if is_as_found else as_found
    result = figures(element, found, shown, is_as_found)
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
        study=first_inputs(
            shown,
            element.kind == "wall" and element.adjoining == "outside",
            uptakes_of(element) if uptakes is None else uptakes,
        ),
    )


def sheet(element: Element) -> Sheet:
    """The options sheet of an element: as found first, then the options in their order."""
    from server.survey.figures import uptakes_of

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
    out = [option_out(element, option, found, list(option.runs.all()), kept, queue, uptakes) for option in options]
    return Sheet(
        limits=limits,
        limits_said=limits_said,
        project=project,
        element=shown,
        siblings=[e.pk for e in element.project.elements.all() if e.has_build_up],
        conditions=conditions(element, element.place),
        datum_layer_id=datum_layer(found).id if found.is_stated else "",
        drowned=drowned(element, found, out),
        options=out,
    )


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


# --- heat -----------------------------------------------------------------------------------------


def heat(project: Project) -> HeatOut:
    """Heat loss before and after the chosen options. What is missing is listed, never guessed. Raises ClimateGone."""
    climate = shipped(project.climate)
    missing: list[str] = []
    losses: list[ElementLoss] = []
    notes: list[tuple[int, Said]] = []
    for element in project.elements.prefetch_related("options").select_related("chosen"):
        element.project = project
        if element.shape_key and not element.in_shape:
            missing.append(f"{element.name}: no longer in the shape, left out; draw it again, or remove it")
            continue
        try:
            before, after, factor, note = _element_u(element)
        except CaseRefused as error:
            missing.append(f"{element.name}: {error.message}")
            continue
        losses.append(ElementLoss(element.name, element.kind, element.area_m2, factor, before, after))
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
    whole = result.coefficient(False), result.coefficient(True)
    total = _heat_row(result, None, "Building", "total", *whole, said(""), None)
    chosen = sum(loss.before - loss.after for loss in losses)
    credits = [
        Credit(what=said("the chosen options and planned windows"), w_k=chosen, kwh=result.yearly_loss(chosen)),
        Credit(
            what=said("the air target, which no option gives by itself"),
            w_k=air.before - air.after,
            kwh=result.yearly_loss(air.before - air.after),
        ),
    ]
    return HeatOut(
        rows=rows,
        total=total,
        complete=not missing,
        credits=credits,
        degree_hours_kh=result.degree_hours / 1000.0,
        set_point_c=project.set_point_c,
        design_c=result.design_c,
        climate_label=climate.label,
        climate_origin=climate.origin,
        missing=missing,
        arithmetic=_arithmetic(result, climate.label),
    )


def _element_u(element: Element) -> tuple[float, float, float, Said]:
    """(U before, U after, factor b, words); of a floor on the ground U to the outside by its size, with b 1."""
    if not element.has_build_up:
        if element.u_w_m2k is None:
            raise CaseRefused("no U-value")
        after = element.planned_u_w_m2k or element.u_w_m2k
        return (
            element.u_w_m2k,
            after,
            element.factor_b,
            said("planned U" if element.planned_u_w_m2k else "stays as found"),
        )
    as_found = element.as_found.current
    if not as_found.is_stated:
        raise CaseRefused("construction not stated, so its loss is not known")
    found = transmittance(as_found, element.kind)
    chosen = element.chosen.current if element.chosen is not None else as_found
    upgraded = transmittance(chosen, element.kind)
    name = said(element.chosen.name if element.chosen is not None else "no option chosen: stays as found")
    ground = transmittance_to_outside(element, as_found, found)[1]
    words = join([name, ground], "; ")
    if element.ground_place is not None:
        before, after = (transmittance_to_outside(element, b, t)[0] for b, t in ((as_found, found), (chosen, upgraded)))
        return before, after, 1.0, words
    return found.u_effective, upgraded.u_effective, element.factor_b, words


def _air_note(project: Project, air: AirLoss) -> Said:
    if project.air_kind == "n50":
        after = project.air_value if project.air_value_after is None else project.air_value_after
        return said(f"n50 {project.air_value or 0:g} → {after or 0:g} 1/h, divided by {N50_DIVISOR:g} (rule of thumb)")
    return said(f"natural air changes {air.rate_before:g} → {air.rate_after:g} 1/h")


def _heat_row(
    result: HeatLoss,
    pk: int | None,
    name: str,
    kind: str,
    before: float,
    after: float,
    note: Said,
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


def _arithmetic(result: HeatLoss, label: str) -> list[Said]:
    hours, air = result.degree_hours, result.air
    return [
        said("Element: H = area × U effective (ISO 6946) × b. Joints are not in it yet."),
        said("Floor on the ground: U to the outside by its size, perimeter and soil (ISO 13370, simple form), b 1."),
        say(
            "Air: H = {heat} × volume {volume} × air changes {before} → {after} 1/h (ISO 13789).",
            heat=heat_of_air(AIR_HEAT), volume=volume(air.volume), before=f"{air.rate_before:.3g}", after=f"{air.rate_after:.3g}",
        ),
        say(
            "Loss in a year: H × {hours}, the sum over all hours of {label} of the degrees below {set}. Loss, not need: sun, people "
            "and appliances are not taken off.",
            hours=degree_hours_said(hours), label=label, set=temperature(result.set_point_c),
        ),
        say(
            "Design load: H × the difference of {set} and {design}; the second is the coldest 24-hour mean of the climate. "
            "For the heating designer: no reheat, no margin.",
            set=temperature(result.set_point_c), design=temperature(result.design_c, 1),
        ),
    ]  # fmt: skip

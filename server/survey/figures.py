"""From rows to the core and back: shape, evidence, water, measurements and the house section."""

from __future__ import annotations

from collections import Counter, defaultdict
from typing import Any, Literal

from core.brief import EXAMPLE_NOTE, EXAMPLE_TARGETS, facing_word, missing_in
from core.buildup.control import ControlLayers, control_layers
from core.buildup.model import BuildUp
from core.climate.rain import takes_more_than_the_mean
from core.errors import CoreError
from core.materials.library import Sheet
from core.measure.blower_door import BlowerDoorTest, airtightness
from core.measure.thermal import ThermalReading, estimated_u
from core.measure.wood_moisture import SPECIES, MeterReading, corrected_moisture
from core.moisture.steady import sd_of
from core.preview import case_state
from core.readiness.reason import (
    ElementWater,
    PinPlace,
    Readiness,
    Surroundings,
    facts_of,
    near,
    proposals,
    readiness,
    surface_humidity,
)
from core.readiness.rules import rules
from core.survey.drawings import Band, Elevation, Section, best_cut, elevations, section
from core.survey.exposure import FaceExposure
from core.survey.geometry import Building, derive
from core.survey.planes import outline_of
from core.survey.shape import Shape
from core.thermal.iso6946 import transmittance
from server.projects import figures as fig
from server.projects.models import Element, Option, Project
from server.survey.models import Evidence, Measurement, WaterItem
from server.survey.schemas import (
    Break,
    BriefOut,
    DerivedOut,
    Disagreement,
    ElementWaterOut,
    EvidenceOut,
    EvidencePage,
    FaceRain,
    HouseBand,
    HouseElement,
    HouseListed,
    HouseOut,
    HousePin,
    MadeElement,
    MadeLayer,
    MadePage,
    MeasurementOut,
    MeasurementPage,
    NamedOut,
    OpeningUp,
    ShapeOut,
    WaterItemOut,
    WaterPage,
)

TIGHT_SD_M = 10.0
DRY = 0.3


# --- brief and shape ------------------------------------------------------------------------------


def brief_out(project: Project) -> BriefOut:
    brief = project.current_brief
    affected = []
    for element in project.elements.all():
        if not element.has_build_up:
            continue
        _, said = element.limits_said()
        affected += [f"{element.name}: {words}" for key, words in said.items() if key != "target_u_w_m2k"]
    return BriefOut(
        revision=project.brief_revision,
        brief=brief,
        missing=missing_in(brief),
        example_targets=EXAMPLE_TARGETS,
        example_note=EXAMPLE_NOTE,
        affected=affected,
        bodies=[NamedOut(id=body.id, name=body.name) for body in project.current_shape.bodies],
    )


def shape_out(project: Project, shape: Shape | None = None) -> ShapeOut:
    """The shape and all that follows; a shape that cannot be derived says why, and keeps its outlines."""
    shown = shape or project.current_shape
    refused, drawn = "", []
    try:
        building = derive(shown)
        drawn = elevations(shown)
    except CoreError as error:
        building, refused = Building([], 0.0, 0.0, 0.0, 0.0), str(error)
    rows = {element.shape_key: element for element in project.elements.all() if element.shape_key}
    return ShapeOut(
        revision=project.shape_revision,
        shape=shown,
        derived=[
            DerivedOut(
                element=entry,
                net_area_m2=entry.net_area_m2,
                element_id=rows[entry.key].pk if entry.key in rows else None,
            )
            for entry in building.elements
        ],
        volume_m3=building.volume_m3,
        floor_area_m2=building.floor_area_m2,
        footprint_m2=building.footprint_m2,
        envelope_m2=building.envelope_m2,
        notes=building.notes,
        arithmetic=building.arithmetic,
        refused=refused,
        elevations=drawn,
        disagreements=_disagreements(project, rows, building),
        gone=[row.pk for row in rows.values() if row.derived.get("gone")],
    )


def _disagreements(project: Project, rows: dict[str, Element], building: Building) -> list[Disagreement]:
    """Hand-typed figures that differ from the shape's."""
    found = []
    by_key = {entry.key: entry for entry in building.elements}
    for key, row in rows.items():
        for name in row.corrected:
            if key not in by_key:
                continue
            says = by_key[key].net_area_m2 if name == "area_m2" else getattr(by_key[key], name, None)
            own = getattr(row, name)
            if isinstance(says, int | float) and isinstance(own, int | float) and abs(says - own) > 0.005:
                found.append(
                    Disagreement(element_id=row.pk, name=row.name, field=name, by_hand=own, shape_says=round(says, 3))
                )
    if building.elements:
        for name in project.corrected:
            own, says = getattr(project, name), getattr(building, name)
            if own is not None and abs(own - says) > 0.05:
                found.append(
                    Disagreement(element_id=None, name=project.name, field=name, by_hand=own, shape_says=round(says, 2))
                )
    return found


# --- exposure -------------------------------------------------------------------------------------


def faces_rain(project: Project) -> list[FaceRain]:
    """The driven-rain exposure of every outside wall, step by step."""
    shape = project.current_shape
    drawn = {(entry.body, entry.face): entry for entry in elevations(shape)} if shape.bodies else {}
    found = []
    for element in project.elements.all():
        element.project = project
        if element.kind != "wall" or element.adjoining != "outside":
            continue
        steps = element.exposure_steps
        found.append(
            FaceRain(
                element_id=element.pk,
                name=element.name,
                facing=facing_word(element.facing_deg),
                exposure=element.exposure,
                rain=None if element.rain is None else FaceExposure.model_validate(element.rain),
                suggested=suggested_exposure(shape, drawn, element),
                steps=steps,
                product=steps.product,
                driven_rain_mm=fig.yearly_driven_rain(project.climate, element.facing_deg, element.place.driven_rain),
                rain_face=takes_more_than_the_mean(project.climate, element.facing_deg),
            )
        )
    return found


def suggested_exposure(
    shape: Shape, elevation_by_face: dict[tuple[str, str], Elevation], element: Element
) -> FaceExposure:
    """Height, storeys, form and overhang as the shape has them; the rest is for the consultant."""
    body = next((body for body in shape.bodies if body.id == element.body), None)
    if body is None:
        return FaceExposure()
    face = str(element.derived.get("face", ""))
    form: Literal["gable", "eaves", "flat_roofed"] = "eaves"
    drawn = elevation_by_face.get((body.id, face))
    if body.roof.form == "flat":
        form = "flat_roofed"
    elif drawn is not None and max(z for _, z in drawn.outline) > drawn.eaves + 0.3:
        form = "gable"
    overhang = body.roof.verge_overhang_m if form == "gable" else body.roof.eaves_overhang_m
    return FaceExposure(
        wall_form=form,
        storeys=len(body.storeys),
        height_m=max(round(body.eaves_m - body.ground_m, 2), 1.0),
        overhang_m=overhang,
    )


# --- evidence -------------------------------------------------------------------------------------


class Survey:
    """What the survey says around each pin of a project; read once, asked often."""

    def __init__(self, project: Project) -> None:
        self.project = project
        self.elements = {element.pk: element for element in project.elements.prefetch_related("options")}
        for element in self.elements.values():
            element.project = project
        self.shape = project.current_shape
        self.bodies = {body.id: body for body in self.shape.bodies}
        try:
            self.elevations = {(e.body, e.face): e for e in elevations(self.shape)}
        except CoreError:
            self.elevations = {}
        self.rows: list[Evidence] = list(project.evidence.prefetch_related("water_items"))
        self.places = [(row.pk, PinPlace.model_validate(row.pin["place"]), row.pin["kind"]) for row in self.rows]
        self.leaky = {
            leak.get("element_id")
            for measurement in project.measurements.filter(kind=Measurement.BLOWER_DOOR)
            for leak in measurement.leaks
        }
        self._inner_sheet: dict[int, bool] = {}

    def of(self, row: Evidence) -> Surroundings:
        """The surroundings of a pin."""
        element = self.elements.get(row.element_id or -1)
        place = PinPlace.model_validate(row.pin["place"])
        drawn = self.elevations.get((place.body, place.face))
        body = self.bodies.get(place.body or (element.body if element else ""))
        rain = FaceExposure.model_validate(element.rain) if element is not None and element.rain else FaceExposure()
        neighbours = tuple(kind for pk, other, kind in self.places if pk != row.pk and near(place, other))
        return Surroundings(
            element=element.kind if element else "wall",
            adjoining=element.adjoining if element else "outside",
            ground_m=body.ground_m if body else 0.0,
            eaves_m=body.eaves_m if body else None,
            face_width_m=drawn.width if drawn else None,
            openings=tuple(opening.rect for opening in drawn.openings) if drawn else (),
            rain_face=element is not None
            and element.adjoining == "outside"
            and takes_more_than_the_mean(self.project.climate, element.facing_deg),
            overhang_m=body.roof.eaves_overhang_m if body else 0.0,
            gutters_faulty=rain.gutters != "sound",
            splash=rain.splash != "none",
            sprinklers=rain.sprinklers,
            reservoir=rain.reservoir_cladding,
            inner_sheet=element is not None and self._tight_inside(element),
            leak_near=element is not None and element.pk in self.leaky,
            neighbours=neighbours,
        )

    def _tight_inside(self, element: Element) -> bool:
        """A layer of sd 10 m or more on the room side of the middle, as found."""
        if element.pk not in self._inner_sheet:
            found = next((o for o in element.options.all() if o.role == Option.AS_FOUND), None)
            layers = found.current.layers if found else []
            inner = layers[len(layers) // 2 :]
            self._inner_sheet[element.pk] = any(
                isinstance(layer.entry, Sheet) and sd_of(layer, DRY) >= TIGHT_SD_M for layer in inner
            )
        return self._inner_sheet[element.pk]

    def out(self, row: Evidence) -> EvidenceOut:
        pin = row.seen
        return EvidenceOut(
            uid=row.uid,
            revision=row.revision,
            element_id=row.element_id,
            pin=pin,
            photos=row.photos,
            proposals=proposals(facts_of(pin, self.of(row))),
            surface_rh=surface_humidity(pin.readings),
            wood=corrected_moisture(pin.readings.wood) if pin.readings.wood else None,
            cause=row.cause,
            cause_reason=row.cause_reason,
            cause_by=row.cause_by,
            cause_at=row.cause_at,
            items=len(row.water_items.all()),
        )


surroundings_of = Survey


def species() -> list[NamedOut]:
    return [NamedOut(id=key, name=name) for key, (name, _) in SPECIES.items()]


def evidence_page(project: Project) -> EvidencePage:
    survey = Survey(project)
    photos: Any = list(project.photos.all())
    return EvidencePage(
        evidence=[survey.out(row) for row in survey.rows],
        photos=photos,
        kinds=[NamedOut(id=rule.id, name=rule.name) for rule in rules().kinds],
        mechanisms=[NamedOut(id=rule.id, name=rule.name) for rule in rules().mechanisms],
        species=species(),
        section_cut=best_cut(survey.shape) if survey.shape.bodies else None,
    )


# --- water ----------------------------------------------------------------------------------------


def waters(project: Project) -> dict[int, ElementWater]:
    """What readiness looks at, for every element, in four queries without rows made."""
    pins: Counter[int] = Counter()
    unexplained: Counter[int] = Counter()
    uncovered: Counter[int] = Counter()
    with_items = set(
        WaterItem.evidence.through.objects.filter(wateritem__project=project).values_list("evidence_id", flat=True)
    )
    for pk, element_id, cause in project.evidence.values_list("pk", "element_id", "cause"):
        if element_id is None:
            continue
        pins[element_id] += 1
        unexplained[element_id] += not cause
        uncovered[element_id] += bool(cause) and pk not in with_items
    links = WaterItem.elements.through.objects.filter(wateritem__project=project, wateritem__state=WaterItem.OPEN)
    open_items: Counter[int] = Counter(links.values_list("element_id", flat=True))
    return {
        e.pk: ElementWater(
            bool(e.looked_at_by),
            pins[e.pk],
            unexplained[e.pk],
            uncovered[e.pk],
            open_items[e.pk],
            f"ready by override of {e.override_by}: {e.override_reason}" if e.override_reason else "",
        )
        for e in project.elements.all()
    }


def readiness_of(project: Project) -> dict[int, Readiness]:
    """The state of every element with its reasons."""
    return {pk: readiness(water) for pk, water in waters(project).items()}


def item_out(item: WaterItem) -> WaterItemOut:
    return WaterItemOut(
        uid=item.uid,
        revision=item.revision,
        elements=[element.pk for element in item.elements.all()],
        evidence=[row.uid for row in item.evidence.all()],
        remedy=item.remedy,
        stage=item.stage,
        title=item.title,
        shown_by=item.shown_by,
        who=item.who,
        due=item.due,
        state=item.state,
        closed_by=item.closed_by,
        closed_on=item.closed_on,
        reason=item.reason,
        photos=item.photos,
    )


def water_page(project: Project) -> WaterPage:
    all_waters = waters(project)
    order = {stage.id: index for index, stage in enumerate(rules().stages)}
    items = sorted(
        project.water_items.prefetch_related("elements", "evidence"), key=lambda i: (order.get(i.stage, 99), i.pk)
    )
    rows = []
    for element in project.elements.all():
        water = all_waters[element.pk]
        state = readiness(water)
        rows.append(
            ElementWaterOut(
                element_id=element.pk,
                name=element.name,
                kind=element.kind,
                state=state.state,
                reasons=state.reasons,
                looked_at_by=element.looked_at_by,
                looked_at_on=element.looked_at_on,
                looked_at_note=element.looked_at_note,
                override_by=element.override_by,
                override_reason=element.override_reason,
                override_at=element.override_at,
                pins=water.pins,
                open_items=water.open_items,
            )
        )
    return WaterPage(
        elements=rows,
        items=[item_out(item) for item in items],
        stages=[NamedOut(id=stage.id, name=stage.name) for stage in rules().stages],
    )


# --- make -----------------------------------------------------------------------------------------


def made_page(project: Project) -> MadePage:
    """The as-found build-ups, and the list of what is still only assumed."""
    elements: list[MadeElement] = []
    opening: list[OpeningUp] = []
    for element in project.elements.prefetch_related("options"):
        found = next((o for o in element.options.all() if o.role == Option.AS_FOUND), None)
        if found is None:
            continue
        build_up = BuildUp.model_validate(found.draft) if found.draft else found.current
        layers = [
            MadeLayer(layer=layer, name=layer.entry.name, sd_m=sd_of(layer, DRY), tight=sd_of(layer, DRY) >= TIGHT_SD_M)
            for layer in build_up.layers
        ]
        last = build_up.layers[-1].entry
        elements.append(
            MadeElement(
                element_id=element.pk,
                option_id=found.pk,
                revision=found.revision,
                name=element.name,
                kind=element.kind,
                layers=layers,
                drafted=found.draft is not None,
                finish_stated=isinstance(last, Sheet) or last.group in ("plaster", "board", "timber"),
            )
        )
        thickest = max(build_up.layers, key=lambda layer: layer.thickness)
        for made in layers:
            if made.layer.known != "assumed":
                continue
            because = "it decides what the wall can do" if made.layer is thickest else "its share of U and drying"
            if made.layer is build_up.layers[-1] or made.layer.thickness_mm is None:
                because = "linings and paints decide the drying inward"
            if made.tight and made.layer.thickness < 0.03:
                because = "a vapour-tight layer decides everything behind it"
            opening.append(
                OpeningUp(
                    element_id=element.pk,
                    element=element.name,
                    layer_id=made.layer.id,
                    layer=made.name,
                    because=because,
                )
            )
    return MadePage(elements=elements, opening_up=opening)


# --- measurements ---------------------------------------------------------------------------------


def measurement_out(row: Measurement, volume: float | None, envelope: float | None, u: float | None) -> MeasurementOut:
    out: dict[str, Any] = {
        "airtightness": None,
        "estimated_u": None,
        "corrected": None,
        "refused": "",
        "blower_door": None,
        "thermal": None,
        "moisture": None,
    }
    try:
        if row.kind == Measurement.BLOWER_DOOR:
            test = out["blower_door"] = BlowerDoorTest.model_validate(row.data)
            out["airtightness"] = airtightness(test, volume, envelope)
        elif row.kind == Measurement.THERMAL:
            reading = out["thermal"] = ThermalReading.model_validate(row.data)
            out["estimated_u"] = estimated_u(reading, row.element.kind if row.element else "wall")
        else:
            meter = out["moisture"] = MeterReading.model_validate(row.data)
            out["corrected"] = corrected_moisture(meter)
    except CoreError as error:
        out["refused"] = str(error)
    return MeasurementOut(
        uid=row.uid,
        revision=row.revision,
        kind=row.kind,
        element_id=row.element_id,
        measured_on=row.measured_on,
        place=row.place,
        instrument=row.instrument,
        note=row.note,
        leaks=row.leaks,
        computed_u_w_m2k=u if row.kind == Measurement.THERMAL else None,
        **out,
    )


def measurement_page(project: Project) -> MeasurementPage:
    envelope = envelope_of(project)
    rows = list(project.measurements.select_related("element"))
    us = {row.element_id: _as_found_u(row.element) for row in rows if row.kind == Measurement.THERMAL and row.element}
    return MeasurementPage(
        measurements=[measurement_out(row, project.volume_m3, envelope, us.get(row.element_id)) for row in rows],
        volume_m3=project.volume_m3,
        envelope_m2=envelope,
        species=species(),
    )


def envelope_of(project: Project) -> float | None:
    """Sum of the areas of all elements [m²]; None without any."""
    areas = [element.area_m2 for element in project.elements.all()]
    return sum(areas) if areas else None


def _as_found_u(element: Element | None) -> float | None:
    if element is None or not element.has_build_up:
        return element.u_w_m2k if element else None
    try:
        return transmittance(element.as_found.current, element.kind).u_effective
    except CoreError:
        return None


# --- the house section ----------------------------------------------------------------------------


def _shown_build_up(element: Element) -> tuple[BuildUp | None, str]:
    """The chosen option's layers, else the as-found ones, and whose they are."""
    if not element.has_build_up:
        return None, ""
    if element.chosen is not None:
        return element.chosen.current, element.chosen.name
    found = next(o for o in element.options.all() if o.role == Option.AS_FOUND)
    return found.current, "as found"


def _depths(build_up: BuildUp, control: ControlLayers) -> dict[str, float]:
    """Where each control layer lies in the build-up: 0 at the outer face, 1 at the inner one; absent where none."""
    total = build_up.thickness or 1.0
    found: dict[str, float] = {}
    for name in ("rain", "air", "vapour", "heat"):
        wanted = getattr(control, name).layer_id
        position = 0.0
        for layer in build_up.layers:
            if layer.id == wanted:
                found[name] = (position + layer.thickness / 2.0) / total
            position += layer.thickness
    return found


def _house_element(element: Element, state: Readiness) -> HouseElement:
    found_words = chosen_name = verdict_words = worst = ""
    wet: float | None = None
    for option in sorted(element.options.all(), key=lambda o: o.role != Option.AS_FOUND):
        is_found = option.role == Option.AS_FOUND
        if not is_found and option.pk != element.chosen_id:
            continue
        refused, case_hash = case_state(option.current, element.place)
        run = fig.run_state(option, case_hash, refused, list(option.runs.all()))
        current = run.verdict if run.state == "current" else None
        words = "years not available yet" if run.state == "not available" else f"years {run.state}"
        if current is not None:
            point = current["worst_point"]
            wet = float(point["worst_month_rh"])
            worst = f"{point['name']}, {point['worst_month']}"
            words = str(current["as_found_words"] if is_found else current["headline"])
        if is_found:
            found_words = words
        else:
            chosen_name, verdict_words = option.name, words
    return HouseElement(
        element_id=element.pk,
        name=element.name,
        kind=element.kind,
        readiness=state,
        as_found=found_words,
        chosen=chosen_name,
        verdict=verdict_words,
        worst=worst,
        wet=wet,
    )


def house(project: Project, axis: Literal["x", "y"] | None, at: float | None) -> HouseOut:
    """The section with everything the three lenses show."""
    shape = project.current_shape
    elements = list(project.elements.select_related("chosen").prefetch_related("options__runs"))
    for element in elements:
        element.project = project
    by_key = {element.shape_key: element for element in elements if element.shape_key}
    states = readiness_of(project)
    heat = fig.heat(project)
    losses = {row.element_id: row for row in heat.rows if row.element_id is not None}
    shown = {element.pk: _shown_build_up(element) for element in elements}
    thickness = {
        key: build_up.thickness
        for key, element in by_key.items()
        for build_up, _ in (shown[element.pk],)
        if build_up is not None
    }
    refused = ""
    drawn = Section([], [], [], [], (0.0, 0.0, 1.0, 1.0), 270.0, 90.0)
    best_axis, best_at = best_cut(shape)
    axis = axis or best_axis
    at = best_at if at is None else at
    try:
        drawn = section(shape, axis, at, thickness)
    except CoreError as error:
        refused = str(error)
    bands: list[HouseBand] = []
    for band in drawn.bands:
        element_of_band = next((by_key[key] for key in band.keys if key in by_key), None)
        bands.append(_house_band(band, element_of_band, losses, shown))
    in_section = {band.element_id for band in bands} - {None}
    listed = [
        HouseListed(
            element_id=row.element_id,
            name=row.name,
            kind=row.kind,
            before_w_k=row.before_w_k,
            after_w_k=row.after_w_k,
        )
        for row in heat.rows
        if row.element_id not in in_section and (row.element_id is not None or row.before_w_k > 0)
    ]
    house_elements = [_house_element(element, states[element.pk]) for element in elements]
    outside = [e for e, row in zip(house_elements, elements, strict=True) if not row.in_shape]
    return HouseOut(
        axis=axis,
        at_m=at,
        range_m=_range(shape, axis),
        extent=drawn.extent,
        left=facing_word(drawn.left_bearing),
        right=facing_word(drawn.right_bearing),
        bands=bands,
        joints=drawn.joints,
        rooms=drawn.rooms,
        lines=drawn.lines,
        elements=house_elements,
        listed=listed,
        total_before_w_k=heat.total.before_w_k if heat.rows else None,
        total_after_w_k=heat.total.after_w_k if heat.rows else None,
        missing=heat.missing,
        pins=_pins(project, drawn, bands, axis, at),
        breaks=_breaks(drawn, bands),
        outlines=[(body.name, outline_of(shape, body, "external")) for body in shape.bodies],
        not_in_the_shape=outside,
        refused=refused,
    )


def _house_band(band: Band, element: Element | None, losses: dict[Any, Any], shown: dict[int, Any]) -> HouseBand:
    row = losses.get(element.pk) if element else None
    control: ControlLayers | None = None
    whose, hatch, depths = "", "", {}
    if element is not None and shown[element.pk][0] is not None:
        build_up, whose = shown[element.pk]
        control = control_layers(build_up, element.kind, element.adjoining == "outside")  # type: ignore[arg-type]
        depths = _depths(build_up, control)
        hatch = max(build_up.layers, key=lambda layer: layer.thickness).entry.hatch
    return HouseBand(
        id=band.id,
        kind=band.kind,
        body=band.body,
        polygon=band.polygon,
        outer=band.outer,
        inner=band.inner,
        normal=band.normal,
        element_id=element.pk if element else None,
        name=element.name if element else "",
        before_w_k=row.before_w_k if row else None,
        after_w_k=row.after_w_k if row else None,
        control=control,
        control_of=whose,
        hatch=hatch,
        depths=depths,
    )


def _range(shape: Shape, axis: str) -> tuple[float, float]:
    index = 1 if axis == "x" else 0
    values = [point[index] for body in shape.bodies for point in body.outline] or [0.0, 1.0]
    return min(values), max(values)


def _breaks(drawn: Section, bands: list[HouseBand]) -> list[Break]:
    """At every joint each control layer is followed: it stops where one side has none.

    Where both sides have it, it is not known to be carried across: that is drawn in Junctions.
    """
    by_id = {band.id: band for band in bands}
    found: list[Break] = []
    number = 0
    for joint in drawn.joints:
        first, second = by_id[joint.first], by_id[joint.second]
        if first.control is None or second.control is None:
            continue
        lacking: dict[str, list[str]] = defaultdict(list)
        for line in ("rain", "air", "vapour", "heat"):
            sides = [(band, getattr(band.control, line)) for band in (first, second)]
            none = [(band, control) for band, control in sides if control.layer_id is None]
            if line == "rain" and any(control.because == "not against rain" for _, control in none):
                continue
            if len(none) == 1:
                lacking[line].append(f"{none[0][0].name}: {none[0][1].because}")
        if lacking:
            number += 1
        for line, words in lacking.items():
            found.append(
                Break(number=number, joint=joint.name, at=joint.at, line=line, words="; ".join(words), stops=True)
            )
    return found


def _pins(project: Project, drawn: Section, bands: list[HouseBand], axis: str, at: float) -> list[HousePin]:
    """Pins with a place in the section: those set on it, and those of an element whose band is cut, at their height."""
    by_element = {band.element_id: band for band in bands if band.element_id is not None}
    found = []
    for row in project.evidence.all():
        place = PinPlace.model_validate(row.pin["place"])
        where: tuple[float, float] | None = None
        band = by_element.get(row.element_id)
        if place.view == "section":
            where = (place.x_m, place.y_m)
        elif band is not None:
            (x0, z0), (x1, z1) = band.inner if row.pin["side"] == "inside" else band.outer
            share = 0.5
            if band.kind == "wall" and place.view == "elevation" and abs(z1 - z0) > 0.01:
                share = min(max((place.y_m - z0) / (z1 - z0), 0.0), 1.0)
            where = (x0 + share * (x1 - x0), z0 + share * (z1 - z0))
        found.append(
            HousePin(uid=row.uid, kind=row.pin["kind"], element_id=row.element_id, at=where, explained=bool(row.cause))
        )
    return found

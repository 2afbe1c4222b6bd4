"""Pins with what the rest of the survey says round them, and what they point to."""

from __future__ import annotations

from typing import Any

from shapely import LineString, Point

from core.buildup.anatomy import Anatomy
from core.buildup.make import Make
from core.buildup.model import BuildUp, Place
from core.climate.rain import is_rain_face, yearly_driven_rain
from core.errors import CoreError
from core.materials.library import Sheet
from core.measure.wood_moisture import SPECIES, corrected_moisture
from core.moisture.steady import sd_of
from core.readiness.reason import (
    Pin,
    PinPlace,
    Surroundings,
    facts_of,
    near,
    sign_of,
    surface_humidity,
)
from core.readiness.rules import rules
from core.readiness.weigh import Weighed, looked, weigh
from core.survey.drawings import best_cut, elevations
from core.survey.exposure import FaceExposure
from core.survey.planes import edges_of, outline_of
from core.survey.shape import Body
from server.projects.models import Element, Option, Project
from server.survey.models import Evidence, Measurement
from server.survey.schemas import (
    EvidenceOut,
    EvidencePage,
    NamedOut,
)

TIGHT_SD_M = 10.0
TIGHT_COAT_SD_M = 0.4  # from here on a coat or covering holds back the water behind it
DRY = 0.3


class Survey:
    """What the survey says around each pin of a project; read once, asked often."""

    def __init__(self, project: Project) -> None:
        self.project = project
        self.elements = {element.pk: element for element in project.elements.prefetch_related("options")}
        for element in self.elements.values():
            element.project = project
        self.shape = project.current_shape
        self.climate_gone = bool(project.climate_gone)
        self.bodies = {body.id: body for body in self.shape.bodies}
        try:
            self.elevations = {(e.body, e.face): e for e in elevations(self.shape)}
        except CoreError:
            self.elevations = {}
        self.rows: list[Evidence] = list(project.evidence.prefetch_related("water_items"))
        self.pins = {row.pk: row.seen for row in self.rows}
        self.leaky = {
            leak.get("element_id")
            for measurement in project.measurements.filter(kind=Measurement.BLOWER_DOOR)
            for leak in measurement.leaks
        }
        self._inner_sheet: dict[int, bool] = {}
        self.outlines = {body.id: edges_of(outline_of(self.shape, body, "internal")) for body in self.shape.bodies}

    def of(self, row: Evidence) -> Surroundings:
        """The surroundings of a pin."""
        element = self.elements.get(row.element_id or -1)
        pin = row.seen
        place = pin.place
        drawn = self.elevations.get((place.body, place.face))
        body = self.bodies.get(place.body or (element.body if element else ""))
        rain = FaceExposure.model_validate(element.rain) if element is not None and element.rain else FaceExposure()
        found = element.as_found.current if element is not None and element.has_build_up else BuildUp(layers=[])
        anatomy = Anatomy(found, element.place if element is not None else Place())
        make = Make(anatomy)
        others = [other for pk, other in self.pins.items() if pk != row.pk]
        neighbours = tuple(other.kind for other in others if near(pin, other))
        return Surroundings(
            element=element.kind if element else "wall",
            adjoining=element.adjoining if element else "outside",
            ground_m=body.ground_m if body else 0.0,
            eaves_m=body.eaves_m if body else None,
            face_width_m=drawn.width if drawn else None,
            openings=tuple(opening.rect for opening in drawn.openings) if drawn else (),
            rain_face=element is not None and self._rained(element),
            overhang_m=body.roof.eaves_overhang_m if body else 0.0,
            gutters_faulty=rain.gutters != "sound",
            splash=rain.splash != "none",
            sprinklers=rain.sprinklers,
            reservoir=rain.reservoir_cladding,
            inner_sheet=element is not None and self._tight_inside(element),
            leak_near=element is not None and element.pk in self.leaky,
            neighbours=neighbours,
            floors_m=_floors(body) if body else (),
            heated=body.heated if body else True,
            joist_wall_rained=self._joist_wall(element, pin, place),
            made=make.bears,
            cladding=make.cladding,
            gap=make.gap,
            tight_coat=_tight_face(found, pin.side),
            thin_render=anatomy.thin_render is not None,
            signs=tuple(
                sign_of(other, self.bodies[other.place.body].ground_m if other.place.body in self.bodies else 0.0)
                for other in others
                if other.place.view == "elevation"
            ),
        )

    def _rained(self, element: Element) -> bool:
        """A wall outside that takes so much driven rain a year, with its factors."""
        if element.kind != "wall" or element.adjoining != "outside":
            return False
        if self.climate_gone:  # said on every page of the project
            return False
        where = element.place
        return is_rain_face(yearly_driven_rain(where.climate, where.facing_deg, where.driven_rain))

    def _joist_wall(self, element: Element | None, pin: Pin, place: PinPlace) -> bool | None:
        """Whether the wall that a joist end sits in takes the rain; None where the pin is no joist end.

        A pin on a floor in the plan belongs to the nearest face of its body, within a metre; elsewhere to its own element.
        """
        if pin.part != "joist end":
            return None
        if element is not None and element.kind == "wall":
            return self._rained(element)
        body = place.body or (element.body if element else "")
        edges = self.outlines.get(body, [])
        if place.view != "plan" or not edges:
            # not placed in the plan: as the worst of the body's walls, which is what must be opened first
            walls = [one for one in self.elements.values() if one.kind == "wall" and one.body == body]
            return any(self._rained(one) for one in walls)
        distance, index = min(
            (LineString([edge.start, edge.end]).distance(Point(place.x_m, place.y_m)), number)
            for number, edge in enumerate(edges)
        )
        if distance > JOIST_REACH_M:
            return None
        face = self.bodies[body].faces[index]
        walls = [
            one
            for one in self.elements.values()
            if one.kind == "wall" and one.body == body and one.from_shape is not None and one.from_shape.face == face
        ]
        return any(self._rained(one) for one in walls) if walls else None

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

    def weighed(self, row: Evidence) -> Weighed:
        """What the pin points to, with all that stands around it."""
        return weigh(facts_of(row.seen, self.of(row)), row.seen.looks)

    def out(self, row: Evidence) -> EvidenceOut:
        pin, said = row.seen, self.weighed(row)
        return EvidenceOut(
            uid=row.uid,
            revision=row.revision,
            element_id=row.element_id,
            pin=pin,
            photos=row.photos,
            proposals=said.proposals,
            first=said.first,
            other=said.other,
            next_look=said.look,
            looked=looked(pin.looks),
            surface_rh=surface_humidity(pin.readings),
            wood=corrected_moisture(pin.readings.wood) if pin.readings.wood else None,
            cause=row.cause,
            cause_reason=row.cause_reason,
            cause_by=row.cause_by,
            cause_at=row.cause_at,
            items=len(row.water_items.all()),
        )


JOIST_REACH_M = 1.0


def _tight_face(found: BuildUp, side: str) -> bool:
    """Whether the face on this side, as found, is a coat or covering that lets little out."""
    if not found.layers:
        return False
    face = found.layers[0 if side == "outside" else -1]
    return isinstance(face.entry, Sheet) and sd_of(face, DRY) >= TIGHT_COAT_SD_M


def _floors(body: Body) -> tuple[float, ...]:
    """Levels of the floors of a body [m]."""
    levels = [body.level_m]
    for storey in body.storeys:
        levels.append(levels[-1] + storey.height_m)
    if body.below != "slab":
        levels.insert(0, body.level_m - body.below_height_m)
    return tuple(levels)


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

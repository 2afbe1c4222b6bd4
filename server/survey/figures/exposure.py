"""The driven-rain exposure of every outside wall, step by step."""

from __future__ import annotations

from typing import Literal

from core.brief import facing_word
from core.climate.rain import RAIN_FACE_MM, is_rain_face, yearly_driven_rain
from core.errors import CoreError
from core.survey.drawings import Elevation, elevations
from core.survey.exposure import FaceExposure
from core.survey.shape import Shape
from server.projects.models import Element, Project
from server.survey.schemas import (
    FaceRain,
)


def faces_rain(project: Project) -> list[FaceRain]:
    """The driven-rain exposure of every outside wall, step by step."""
    shape = project.current_shape
    try:
        drawn = {(entry.body, entry.face): entry for entry in elevations(shape)} if shape.bodies else {}
    except CoreError:  # Shape says why it cannot be drawn; the steps are stated by hand then
        drawn = {}
    gone = project.climate_gone
    found = []
    for element in project.here(list(project.elements.all())):
        if element.kind != "wall" or element.adjoining != "outside":
            continue
        steps = element.exposure_steps
        driven = None
        if not gone:
            driven = yearly_driven_rain(project.climate, element.facing_deg, element.place.driven_rain)
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
                driven_rain_mm=driven,
                rain_face=driven is not None and is_rain_face(driven),
                rain_face_from_mm=RAIN_FACE_MM,
                strip=steps.worst_strip,
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
    face = element.from_shape.face if element.from_shape is not None else ""
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

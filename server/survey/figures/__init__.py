"""From rows to the core and back: one module for each sheet of Brief, Survey, Water and House."""

from server.survey.figures.evidence import Survey, evidence_page
from server.survey.figures.exposure import faces_rain
from server.survey.figures.make import made_page
from server.survey.figures.measurements import measurement_page, uptake_layer, uptakes_of
from server.survey.figures.shape import brief_out, scheme_shape_out, shape_out

__all__ = [
    "Survey",
    "brief_out",
    "evidence_page",
    "faces_rain",
    "made_page",
    "measurement_page",
    "scheme_shape_out",
    "shape_out",
    "uptake_layer",
    "uptakes_of",
]

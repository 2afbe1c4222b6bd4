"""Blower door, surface temperatures and wood moisture with what they are worth."""

from __future__ import annotations

from typing import Any

from core.errors import CoreError
from core.measure.blower_door import BlowerDoorTest, airtightness
from core.measure.thermal import ThermalReading, estimated_u
from core.measure.wood_moisture import MeterReading, corrected_moisture
from core.thermal.iso6946 import transmittance
from server.projects.models import Element, Project
from server.survey.figures.evidence import species
from server.survey.models import Measurement
from server.survey.schemas import (
    MeasurementOut,
    MeasurementPage,
)


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
    if not element.as_found.current.is_stated:
        return None
    try:
        return transmittance(element.as_found.current, element.kind).u_effective
    except CoreError:
        return None

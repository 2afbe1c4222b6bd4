"""Blower door, surface temperatures and wood moisture with what they are worth."""

from __future__ import annotations

from typing import Any

from core.buildup.model import BuildUpLayer
from core.errors import CoreError, OutOfRange
from core.materials.library import Solid
from core.measure.blower_door import BlowerDoorTest, airtightness
from core.measure.thermal import ThermalReading, estimated_u
from core.measure.uptake import UptakeReading, measured_uptake
from core.measure.wood_moisture import MeterReading, corrected_moisture
from core.thermal.iso6946 import transmittance
from server.projects.lines import MeasuredIn, line_after, measured_in
from server.projects.models import Element, Project
from server.survey.figures.evidence import species
from server.survey.models import Measurement
from server.survey.schemas import (
    MeasurementOut,
    MeasurementPage,
    UptakeLayer,
)


def measurement_out(row: Measurement, line: MeasuredIn, u: float | None) -> MeasurementOut:
    """line: the heated line it was measured in, for a blower door."""
    out: dict[str, Any] = {
        "airtightness": None,
        "estimated_u": None,
        "corrected": None,
        "measured": None,
        "layer": "",
        "in_runs_kg_m2s05": None,
        "refused": "",
        "blower_door": None,
        "thermal": None,
        "moisture": None,
        "uptake": None,
    }
    try:
        if row.kind == Measurement.BLOWER_DOOR:
            test = out["blower_door"] = BlowerDoorTest.model_validate(row.data)
            out["airtightness"] = airtightness(test, line.volume_m3, line.envelope_m2)
        elif row.kind == Measurement.THERMAL:
            reading = out["thermal"] = ThermalReading.model_validate(row.data)
            out["estimated_u"] = estimated_u(reading, row.element.kind if row.element else "wall")
        elif row.kind == Measurement.UPTAKE:
            drawn = out["uptake"] = UptakeReading.model_validate(row.data)
            layer, solid = uptake_layer(row.element, drawn.layer)
            out["layer"], out["in_runs_kg_m2s05"] = solid.name, layer.a_value_kg_m2s05 or solid.a_value_kg_m2s05
            out["measured"] = measured_uptake(drawn, solid.free_saturation_kg_m3)
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
        stage=row.stage,  # type: ignore[arg-type]
        note=row.note,
        leaks=row.leaks,
        volume_m3=line.volume_m3 if row.kind == Measurement.BLOWER_DOOR else None,
        computed_u_w_m2k=u if row.kind == Measurement.THERMAL else None,
        **out,
    )


def uptake_layer(element: Element | None, layer_id: str) -> tuple[BuildUpLayer, Solid]:
    """The layer as found that an uptake was measured on. Raises OutOfRange where it is not there or draws no water."""
    layers = element.as_found.current.layers if element is not None and element.has_build_up else []
    layer = next((one for one in layers if one.id == layer_id), None)
    if layer is None:
        raise OutOfRange("the layer it was measured on is no longer there; choose it again", "layer")
    entry = layer.entry
    if not isinstance(entry, Solid) or not entry.a_value_kg_m2s05:
        raise OutOfRange(f"{entry.name} draws no water; an uptake belongs to stone, brick, mortar or render", "layer")
    return layer, entry


def uptakes_of(element: Element) -> dict[str, list[float]]:
    """A-values measured on the element by the id of their layer, where they can be read."""
    found: dict[str, list[float]] = {}
    for row in element.measurements.filter(kind=Measurement.UPTAKE):
        reading = UptakeReading.model_validate(row.data)
        try:
            _, solid = uptake_layer(element, reading.layer)
            measured = measured_uptake(reading, solid.free_saturation_kg_m3)
        except CoreError:
            continue  # its own row says why it is worth nothing
        found.setdefault(reading.layer, []).append(measured.a_value_kg_m2s05)
    return found


def measurement_page(project: Project) -> MeasurementPage:
    lines = measured_in(project)
    rows = list(project.measurements.select_related("element"))
    us = {row.element_id: _as_found_u(row.element) for row in rows if row.kind == Measurement.THERMAL and row.element}
    return MeasurementPage(
        measurements=[
            measurement_out(row, lines[line_after(project, row.stage, row.measured_on)], us.get(row.element_id))
            for row in rows
        ],
        species=species(),
        layers=[one for element in project.elements.prefetch_related("options") for one in _drawing(element)],
    )


def _drawing(element: Element) -> list[UptakeLayer]:
    layers = element.as_found.current.layers if element.has_build_up else []
    return [
        UptakeLayer(element_id=element.pk, layer_id=one.id, name=one.entry.name)
        for one in layers
        if isinstance(one.entry, Solid) and one.entry.a_value_kg_m2s05
    ]


def _as_found_u(element: Element | None) -> float | None:
    if element is None or not element.has_build_up:
        return element.u_w_m2k if element else None
    if not element.as_found.current.is_stated:
        return None
    try:
        return transmittance(element.as_found.current, element.kind).u_effective
    except CoreError:
        return None

"""Measurements, and what of them enters the project and its runs."""

from __future__ import annotations

from django.db import transaction
from django.http import Http404

from core.errors import CoreError
from core.measure.blower_door import airtightness
from core.measure.uptake import UptakeReading, together
from core.say import uptake
from server.problems import Problem
from server.projects.lines import line_after, measured_in
from server.projects.models import Element, HistoryEntry, Project
from server.projects.permissions import User, editable_project
from server.survey.figures import uptake_layer, uptakes_of
from server.survey.models import Measurement
from server.survey.rows import element_of, row_of
from server.survey.schemas import MeasurementBody


@transaction.atomic
def keep_measurement(user: User, project_id: int, uid: str, body: MeasurementBody) -> Measurement:
    project = editable_project(user, project_id)
    data = {
        "blower_door": body.blower_door,
        "thermal": body.thermal,
        "moisture": body.moisture,
        "uptake": body.uptake,
    }[body.kind]
    if data is None:
        raise Problem(422, "no_data", f"There are no readings of kind “{body.kind}”.", "Add the readings.")
    for leak in body.leaks:
        element_of(project, leak.element_id)
    row: Measurement | None = row_of(Measurement.objects, project, uid, "This measurement", body.base_revision)
    fresh = row is None
    if row is None:
        row = Measurement(project=project, uid=uid)
    else:
        row.revision += 1
    row.kind, row.element = body.kind, element_of(project, body.element_id)
    row.measured_on, row.place, row.instrument, row.note = body.measured_on, body.place, body.instrument, body.note
    row.stage = body.stage
    row.data = data.model_dump(mode="json")
    row.leaks = [leak.model_dump() for leak in body.leaks]
    row.save()
    names = {
        "blower_door": "a blower-door test",
        "thermal": "a surface temperature",
        "moisture": "a wood moisture",
        "uptake": "a water uptake",
    }
    HistoryEntry.write(project, user, "add measurement" if fresh else "change measurement", f"noted {names[body.kind]}")
    return row


@transaction.atomic
def delete_measurement(user: User, project_id: int, uid: str) -> None:
    row = Measurement.objects.editable_by(user).filter(project_id=project_id, uid=uid).first()
    if row is None:
        raise Http404
    HistoryEntry.write(row.project, user, "delete measurement", "removed a measurement")
    row.delete()


@transaction.atomic
def take_n50(user: User, project_id: int, uid: str) -> Project:
    """The measured n50 becomes the project's air changes as found. Raises Problem where the volume is missing."""
    from core.measure.blower_door import BlowerDoorTest

    project = editable_project(user, project_id)
    row = Measurement.objects.filter(project=project, uid=uid, kind=Measurement.BLOWER_DOOR).first()
    if row is None:
        raise Http404
    line = measured_in(project)[line_after(project, row.stage, row.measured_on)]
    result = airtightness(BlowerDoorTest.model_validate(row.data), line.volume_m3, None)
    if result.n50 is None:
        raise Problem(422, "volume_missing", "n50 needs the heated volume.", "Draw the shape, or type the volume.")
    project.air_kind, project.air_value = "n50", round(result.n50.value, 2)
    project.save()
    HistoryEntry.write(project, user, "take n50", f"took n50 {project.air_value:g} 1/h from the blower door")
    return project


@transaction.atomic
def take_uptake(user: User, project_id: int, uid: str) -> Element:
    """What was measured on a layer enters its runs: as found and every option that keeps the layer.

    Several readings of one layer count together. Raises Problem where the reading says nothing of a layer that is there.
    """
    project = editable_project(user, project_id)
    row = project.measurements.filter(uid=uid, kind=Measurement.UPTAKE).select_related("element").first()
    if row is None:
        raise Http404
    try:
        layer, solid = uptake_layer(row.element, UptakeReading.model_validate(row.data).layer)
        found = uptakes_of(row.element).get(layer.id, [])
        a_value = float(f"{together(found):.4g}")
    except CoreError as error:
        raise Problem(422, "no_uptake", str(error), "Correct the reading.") from error
    for option in row.element.options.all():
        changed = False
        for body in (option.build_up, option.draft):
            for one in body["layers"] if body else []:
                if one["id"] == layer.id and one["material"] == layer.material:
                    one["a_value_kg_m2s05"] = a_value
                    changed = True
        if changed:
            option.revision += 1
            option.save()
    HistoryEntry.write(
        project,
        user,
        "take uptake",
        f"took A {uptake(a_value).metric} from {len(found)} reading{'' if len(found) == 1 else 's'} for {solid.name} of “{row.element.name}”",
    )
    project.save(update_fields=["changed_at"])
    return row.element

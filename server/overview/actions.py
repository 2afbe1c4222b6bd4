"""A project as a whole: made, changed, deleted."""

from __future__ import annotations

from django.db import transaction

from core.climate.data import shipped_names
from core.survey.geometry import derive
from core.survey.record import FOLLOWING_BUILDING
from server.overview.schemas import ProjectBody
from server.problems import Problem
from server.projects.models import ClimateFile, HistoryEntry, Project, signed_in
from server.projects.permissions import User, editable_project
from server.projects.schemas import ProjectFields
from server.survey.photo_rows import forget_photos

# Fields of a project as people call them.
PROJECT_WORDS = {
    "occupancy": "indoor air",
    "set_point_c": "set point",
    "start_rh": "start of the runs",
    "works_on": "day of the works",
    "volume_m3": "heated volume",
    "floor_area_m2": "floor area",
    "air_kind": "kind of air changes",
    "air_value": "air changes",
    "air_value_after": "air changes aimed at",
}


def check_climate(user: User, fields: ProjectFields, project: Project | None = None) -> None:
    """Climate and indoor series are shipped ones or of this person's own; what a project has already may stay."""
    if project is not None and (project.climate, project.occupancy) == (fields.climate, fields.occupancy):
        return
    own = ClimateFile.objects.viewable_by(user)
    if fields.occupancy.startswith("own-") and not own.filter(name=fields.occupancy, kind=ClimateFile.INDOOR).exists():
        raise Problem(422, "no_such_series", "This indoor series is not among your files.", "Import it under Climates.")
    if fields.climate not in shipped_names() and not own.filter(name=fields.climate, kind=ClimateFile.WEATHER).exists():
        raise Problem(
            422,
            "no_such_climate",
            f"There is no climate “{fields.climate}”.",
            f"Choose one of: {', '.join(shipped_names())}, or import your own under Climates.",
        )


@transaction.atomic
def create_project(user: User, fields: ProjectFields) -> Project:
    check_climate(user, fields)
    project = Project.objects.create(owner=signed_in(user), **fields.model_dump())
    HistoryEntry.write(project, user, "create project", f"made “{project.name}”")
    return project


@transaction.atomic
def change_project(user: User, project_id: int, fields: ProjectBody) -> Project:
    """What was changed since the edit began; 409 where another window changed one of the same fields to something else."""
    project = editable_project(user, project_id)
    kept = {name: getattr(project, name) for name in ProjectFields.model_fields}
    sent = fields.model_dump(include=set(ProjectFields.model_fields))
    began = kept if fields.began_from is None else fields.began_from.model_dump()
    mine = {name: value for name, value in sent.items() if fields.began_from is None or value != began[name]}
    for name, value in mine.items():
        if kept[name] not in (began[name], value):
            raise Problem(
                409,
                "changed_meanwhile",
                f"“{PROJECT_WORDS.get(name, name)}” was changed in another window since you began.",
                "Load the page anew to see theirs, then type yours again.",
            )
    check_climate(user, ProjectFields.model_validate({**kept, **mine}), project)
    changed = [name for name, value in mine.items() if kept[name] != value]
    typed = [name for name in FOLLOWING_BUILDING if name in changed and project.current_shape.bodies]
    project.corrected = sorted({*project.typed, *typed})
    for name in changed:
        setattr(project, name, mine[name])
    if project.current_shape.bodies:
        _give_back_to_the_shape(project)
    project.save()
    words = ", ".join(PROJECT_WORDS.get(name, name) for name in changed)
    after = {name: getattr(project, name) for name in kept}
    HistoryEntry.write(project, user, "change project", f"changed {words or 'nothing'}", project, kept, after)
    return project


def _give_back_to_the_shape(project: Project) -> None:
    """A figure of the building that was emptied, or typed as the shape has it, follows the shape again."""
    building = derive(project.current_shape)
    for name in project.typed:
        typed, says = getattr(project, name), round(getattr(building, name), 2)
        if typed is None or abs(typed - says) < 0.005:
            setattr(project, name, says)
            project.corrected = [other for other in project.typed if other != name]


@transaction.atomic
def delete_project(user: User, project_id: int) -> None:
    editable_project(user, project_id).delete()
    transaction.on_commit(lambda: forget_photos(project_id))

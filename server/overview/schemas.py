"""The project page and the list of projects."""

from __future__ import annotations

from datetime import datetime

from ninja import Schema

from core.readiness.progress import StepName
from server.projects.schemas import ElementOut, ProjectFields, ProjectOut
from server.water.schemas import ReadinessOut


class ProjectBody(ProjectFields):
    """began_from: the fields as they were when the edit began; then only those that differ from it are changed."""

    began_from: ProjectFields | None = None


class Progress(Schema):
    """How far a step is, 0 to 1; what it lacks, each and as one line."""

    step: StepName
    done: float
    lacks: list[str]
    missing: str


class HistoryOut(Schema):
    person: str
    action: str
    what: str
    at: datetime


class SchemeName(Schema):
    id: int
    name: str


class ProjectPage(Schema):
    """schemes: in their order; shown_scheme: the one that every view shows, None where there is none yet."""

    schemes: list[SchemeName]
    shown_scheme: int | None
    project: ProjectOut
    elements: list[ElementOut]
    history: list[HistoryOut]
    readiness: dict[int, ReadinessOut]
    progress: list[Progress]
    climate_gone: str


class ProjectListed(Schema):
    id: int
    name: str
    climate: str
    elements: int
    chosen: int
    changed_at: datetime

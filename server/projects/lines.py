"""Sizes of the two heated lines of a project, and in which of them something was measured."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass
from datetime import date

from core.errors import CoreError
from core.survey.line import Geometries
from server.projects.models import Project


@dataclass(frozen=True)
class MeasuredIn:
    """What a test of the whole building is set against: volume [m³] and envelope [m²] of the line it was measured in; None where not known."""

    volume_m3: float | None
    envelope_m2: float | None


def sizes(project: Project, both: Geometries | None, after: bool) -> tuple[float, float]:
    """(volume m³, floor m²) of one heated line. A typed figure as found goes with the shape's change; both: None where the shape does not close."""
    found = []
    for name in ("volume_m3", "floor_area_m2"):
        own = getattr(project, name) or 0.0
        if after and both is not None:
            before, then = getattr(both.found, name), getattr(both.after, name)
            own = own if before <= 0.0 else own * then / before if before != then else own
        found.append(own)
    return found[0], found[1]


def measured_in(project: Project) -> tuple[MeasuredIn, MeasuredIn]:
    """Of the line as found, and of the one after the works of the scheme that is shown."""
    both: Geometries | None = None
    with suppress(CoreError):  # Shape says why it does not close: everything is by hand then
        both = project.geometries()
    elements = project.here(list(project.elements.all()))
    found = []
    for after in (False, True):
        if after and both is not None:
            areas = [one.area_after(both) for one in elements if one.in_line in ("both", "after")]
        else:
            areas = [one.area_m2 for one in elements if one.in_line in ("both", "before")]
        found.append(MeasuredIn(sizes(project, both, after)[0] or None, sum(areas) or None))
    return found[0], found[1]


def line_after(project: Project, stage: str, on: date | None) -> bool:
    """Whether a test was measured in the line after the works: at the end, or once the phase began that moves it."""
    if stage != "during the works":
        return stage == "at the end"
    scheme = project.shown_scheme()
    phases = list(scheme.phases.all())
    moves = next((phase for phase in phases if phase.pk == scheme.line_phase_id), phases[-1] if phases else None)
    return bool(on and moves is not None and moves.starts_on and on >= moves.starts_on)

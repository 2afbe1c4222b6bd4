"""The project page: elements, readiness, and how far each step is."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from core.brief import missing_in
from core.readiness.progress import Facts, steps
from core.readiness.reason import Readiness
from server.projects.models import Element, Project
from server.projects.permissions import CHOICES
from server.water.figures import readiness_of


def project_page(project: Project) -> dict[str, Any]:
    """The project with its elements, their readiness, and how far each step is."""
    elements = project.here(list(project.elements.prefetch_related("options", *CHOICES)))
    known = {element.pk for element in elements}
    readiness = {pk: state for pk, state in readiness_of(project).items() if pk in known}
    return {
        "project": project,
        "schemes": list(project.schemes.all()),
        "shown_scheme": project.scheme_id or project.schemes.values_list("pk", flat=True).first(),
        "climate_gone": project.climate_gone,
        "elements": elements,
        "history": list(project.history.all()[:30]),
        "readiness": {pk: asdict(state) for pk, state in readiness.items()},
        "progress": [asdict(step) for step in steps(facts_of(project, elements, readiness))],
    }


def facts_of(project: Project, elements: list[Element], readiness: dict[int, Readiness]) -> Facts:
    """What the steps rest on, counted from the rows."""
    causes = list(project.evidence.exclude(pin__kind="nothing_found").values_list("cause", flat=True))
    layered = [element for element in elements if element.has_build_up]
    built = [element for element in layered if element.in_line != "before"]
    stated = [element for element in layered if element.as_found.current.is_stated]
    walls = [element for element in elements if element.kind == "wall" and element.adjoining == "outside"]
    pinned = set(project.evidence.values_list("element_id", flat=True))
    return Facts(
        bodies=len(project.current_shape.bodies),
        brief_missing=tuple(missing_in(project.current_brief, project.climate)),
        volume_stated=project.volume_m3 is not None,
        floor_area_stated=project.floor_area_m2 is not None,
        air_stated=project.air_value is not None,
        elements=len(elements),
        layered=len(layered),
        not_stated=len(layered) - len(stated),
        assumed=sum(any(layer.known == "assumed" for layer in e.as_found.current.layers) for e in stated),
        exposure_missing=any(element.rain is None for element in walls),
        unseen=sum(not element.looked_at_by and element.pk not in pinned for element in layered),
        blower_door=project.measurements.filter(kind="blower_door").exists(),
        evidence=len(causes),
        unexplained=causes.count(""),
        ready=sum(state.may_be_covered for state in readiness.values()),
        built=len(built),
        chosen=sum(element.chosen_id is not None for element in built),
    )

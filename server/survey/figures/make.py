"""The as-found build-ups, and what is still only assumed."""

from __future__ import annotations

from core.buildup.model import BuildUp
from core.materials.library import Sheet
from core.moisture.steady import sd_of
from server.projects.models import Element, Option, Project
from server.survey.schemas import (
    MadeElement,
    MadeLayer,
    MadePage,
    OpeningUp,
)

TIGHT_SD_M = 10.0
DRY = 0.3


def made_page(project: Project) -> MadePage:
    """The as-found build-ups, and the list of what is still only assumed."""
    elements: list[MadeElement] = []
    opening: list[OpeningUp] = []
    for element in project.here(list(project.elements.prefetch_related("options"))):
        found = next((o for o in element.options.all() if o.role == Option.AS_FOUND), None)
        if found is None:
            continue
        build_up = BuildUp.model_validate(found.draft) if found.draft else found.current
        layers = [
            MadeLayer(layer=layer, name=layer.entry.name, sd_m=sd_of(layer, DRY), tight=sd_of(layer, DRY) >= TIGHT_SD_M)
            for layer in build_up.layers
        ]
        if not build_up.is_stated:
            elements.append(
                MadeElement(
                    element_id=element.pk,
                    option_id=found.pk,
                    revision=found.revision,
                    name=element.name,
                    kind=element.kind,
                    layers=[],
                    drafted=found.draft is not None,
                    stated=False,
                    finish_stated=False,
                    alike=_alike(element),
                )
            )
            continue
        last = build_up.layers[-1].entry
        elements.append(
            MadeElement(
                element_id=element.pk,
                option_id=found.pk,
                revision=found.revision,
                name=element.name,
                kind=element.kind,
                layers=layers,
                drafted=found.draft is not None,
                stated=True,
                finish_stated=isinstance(last, Sheet) or last.group in ("plaster", "board", "timber"),
                alike=_alike(element),
            )
        )
        thickest = max(build_up.layers, key=lambda layer: layer.thickness)
        for made in layers:
            if made.layer.known != "assumed":
                continue
            because = "it decides what the wall can do" if made.layer is thickest else "its share of U and drying"
            if made.layer is build_up.layers[-1] or made.layer.thickness_mm is None:
                because = "linings and paints decide the drying inward"
            if made.tight and made.layer.thickness < 0.03:
                because = "a vapour-tight layer decides everything behind it"
            opening.append(
                OpeningUp(
                    element_id=element.pk,
                    element=element.name,
                    layer_id=made.layer.id,
                    layer=made.name,
                    because=because,
                )
            )
    return MadePage(elements=elements, opening_up=opening)


def _alike(element: Element) -> str:
    """What elements share that are most likely built alike: kind, what they adjoin, the part of the house and the storey or strip of it.

    The face does not count; an element by hand is like no other.
    """
    if not element.shape_key:
        return f"by hand {element.pk}"
    place = "/".join("*" if len(part) == 1 and part.isalpha() else part for part in element.shape_key.split("/"))
    return f"{element.kind} {element.adjoining} {place}"

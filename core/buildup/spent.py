"""What is left of a build-up when the coat that keeps the rain off it is spent."""

from __future__ import annotations

from core.buildup.model import BuildUp, BuildUpLayer, Place
from core.materials.library import Sheet

YEARS = 10  # a repellent or a coat of paint keeps the rain off for so long (an estimate)


def wearing_coat(build_up: BuildUp, place: Place) -> BuildUpLayer | None:
    """The outermost coat of a wall in the weather that keeps rain off for some years only; None where there is none."""
    if place.adjoining != "outside" or place.kind != "wall" or not build_up.layers:
        return None
    first = build_up.layers[0]
    return first if isinstance(first.entry, Sheet) and first.entry.spent is not None else None


def spent(build_up: BuildUp, place: Place) -> BuildUp | None:
    """The same with its coat as it is when it is spent. None without one."""
    coat = wearing_coat(build_up, place)
    if coat is None or not isinstance(coat.entry, Sheet) or coat.entry.spent is None:
        return None
    old = coat.model_copy(update={"material": coat.entry.spent})
    return build_up.model_copy(update={"layers": [old, *build_up.layers[1:]]})

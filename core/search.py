"""Search: one option with its insulation in several thicknesses and each inner membrane, and what the field of runs says together."""

from __future__ import annotations

import contextlib
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from core.buildup.model import BuildUp, BuildUpLayer, Limits, brought, is_insulation
from core.buildup.variants import membrane_variants
from core.case import Strict
from core.errors import OutOfRange
from core.materials.library import Sheet, entry_of
from core.say import Said, join, say, thickness, u_value
from core.thermal.as_built import as_built_conductivity

MOST_RUNS = 60
STEPS = 6


class SearchSettings(Strict):
    """thicknesses [mm] of the grown layer; membranes: each inner membrane as well, where one can stand. layer: which one grows.

    beside: numbers of other options of the element that are grown with it, such as one on the other side.
    """

    thicknesses: Annotated[list[Annotated[float, Field(gt=0, le=600)]], Field(min_length=1, max_length=12)]
    membranes: bool = True
    layer: Annotated[str, Field(max_length=40)] = ""
    beside: Annotated[list[int], Field(max_length=3)] = []


@dataclass(frozen=True)
class Variant:
    """One point of the field."""

    build_up: BuildUp
    thickness_mm: float
    membrane: str


@dataclass(frozen=True)
class Tried:
    """What is known of a variant after its run. within: every judged limit is kept; room, outside: its limits of space."""

    index: int
    thickness_mm: float
    membrane: str
    u: float | None
    within: bool
    fits: bool


def grown_layer(as_found: BuildUp, option: BuildUp) -> BuildUpLayer:
    """The new insulation that resists most. Raises OutOfRange where the option brings none."""
    new = [layer for layer in brought(as_found, option) if is_insulation(layer)]
    if not new:
        raise OutOfRange("the option brings no insulation whose thickness could be searched", "choose another option")
    return max(new, key=lambda layer: layer.thickness / as_built_conductivity(layer))


def usual_thicknesses(layer: BuildUpLayer) -> list[float]:
    """Six steps round what is drawn, from half to nearly twice, to the next 5 or 10 mm."""
    drawn = layer.thickness_mm or 100.0
    step = 5.0 if drawn < 60.0 else 10.0
    found = sorted({max(step, round(drawn * share / step) * step) for share in (0.5, 0.75, 1.0, 1.25, 1.5, 1.9)})
    return found[:STEPS]


def variants(as_found: BuildUp, option: BuildUp, settings: SearchSettings) -> list[Variant]:
    """Every thickness with every membrane. Raises OutOfRange for too many, or a layer that is not there."""
    layer = grown_layer(as_found, option)
    if settings.layer:
        named = next((one for one in option.layers if one.id == settings.layer and is_insulation(one)), None)
        if named is None:
            raise OutOfRange(f"the option has no insulation “{settings.layer}”", "choose one of its layers")
        layer = named
    bases = [(_membrane_now(option), option)]
    if settings.membranes:
        with contextlib.suppress(OutOfRange):  # no lining, no membrane: thickness alone
            bases += membrane_variants(option)
    check_size(len(bases) * len(settings.thicknesses))
    found = []
    for words, build_up in bases:
        for mm in sorted(set(settings.thicknesses)):
            layers = [
                one.model_copy(update={"thickness_mm": mm, "product": None}) if one.id == layer.id else one
                for one in build_up.layers
            ]
            found.append(Variant(build_up.model_copy(update={"layers": layers}), mm, words))
    return found


def check_size(runs: int) -> None:
    """Raises OutOfRange for a field that is too large."""
    if runs > MOST_RUNS:
        raise OutOfRange(f"{runs} runs; {MOST_RUNS} are the most", "name fewer thicknesses")


def _membrane_now(option: BuildUp) -> str:
    """The membrane on the room side of the innermost insulation, in words."""
    innermost = max((i for i, layer in enumerate(option.layers) if is_insulation(layer)), default=-1)
    after = option.layers[innermost + 1 : innermost + 2]
    if after and isinstance(after[0].entry, Sheet) and after[0].entry.kind == "membrane":
        return entry_of(after[0].material).name
    return "no membrane"


def answer(tried: list[Tried], limits: Limits, of: int) -> Said:
    """The least thickness that meets the target and stays within limits, or what is nearest to it."""
    if not tried:
        return say("No run of the search is done yet.")
    left = "" if len(tried) == of else f" {of - len(tried)} of {of} runs are still to come."
    target = limits.target_u_w_m2k
    good = [one for one in tried if one.within and one.fits]
    meets = [one for one in good if target is None or limits.reached_by(one.u)]
    if meets:
        best = min(meets, key=lambda one: (one.thickness_mm, one.u if one.u is not None else 9.0))
        what = "stays within every limit" if target is None else "meets the target and stays within every limit"
        return join(
            [_named(best), say(" is the least of those tried that {what}, in the usual year.", what=what), say(left)],
            "",
        )
    if not good:
        held = [one for one in tried if one.within]
        if held:
            return say("What stays within the limits of moisture does not fit: room or eaves have less to give." + left)
        return say(
            "None of them stays within limits: it is not the thickness or the membrane that decides here." + left
        )
    best = min(good, key=lambda one: one.u if one.u is not None else 9.0)
    return join(
        [
            say("None meets {target} within limits. ", target=u_value(target or 0.0)),
            _named(best),
            say(" reaches {u}, and is the best that does stay within.", u=u_value(best.u or 0.0)),
            say(left),
        ],
        "",
    )


def _named(one: Tried) -> Said:
    return say("{mm} with {membrane}", mm=thickness(one.thickness_mm / 1000.0), membrane=one.membrane).capitalised()

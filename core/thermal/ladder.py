"""From labelled to as built: what is left of the R on the label, step by step, each with its cause."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from core.buildup.background import gap_level
from core.buildup.model import BuildUp, BuildUpLayer, Place, Product, is_insulation
from core.climate.data import shipped
from core.errors import CaseRefused
from core.materials.library import Solid, entry_of
from core.materials.ranges import range_of
from core.say import Said, join, percent, say, temperature, thickness
from core.thermal.as_built import as_built_conductivity, compression_factor
from core.thermal.iso6946 import transmittance

LABEL_C = 10.0  # the mean temperature a label is of (ISO 10456)
# ISO 10456: λ₂ = λ₁ exp(f_T (T₂ − T₁)); coefficients f_T [1/K] by family, from memory of its tables, else an estimate.
BY_TEMPERATURE = {
    "fibrous insulation": 0.0045,
    "plant and animal fibre": 0.004,
    "wood fibre": 0.003,
    "straw": 0.003,
    "foam": 0.0035,
    "faced foam": 0.0035,
    "cork": 0.0027,
    "mineral insulation": 0.003,
    "loose mineral fill": 0.003,
    "cellular glass": 0.003,
    "insulating plaster": 0.001,
    "aerogel": 0.002,
}
WINTER_BELOW_C = 12.0  # hours colder than this are the heating season here
LEAST_STEP = 0.002  # of the R before: what changes less is no rung


@dataclass(frozen=True)
class Rung:
    """R_T after a step [m² K/W], and the share of the labelled R_T it is; cause: what the step is and of which layer."""

    name: str
    cause: Said
    r: float
    share: float


@dataclass(frozen=True)
class Ladder:
    """rungs: the label first, as built last. low, high: R_T of as built with every λ at the ends of its range, one worse, one better."""

    rungs: list[Rung]
    low: float
    high: float


def ladder(build_up: BuildUp, place: Place) -> Ladder | None:
    """The rungs of a build-up; None without insulation. Raises CaseRefused where ISO 6946 does not hold for it as it is built."""
    if not any(is_insulation(layer) for layer in build_up.layers):
        return None
    steps: list[tuple[str, Said, Callable[[BuildUpLayer], BuildUpLayer]]] = [
        ("labelled", say("R of the labels, at the thickness they were sold in, without members or fixings"), _labelled),
        ("squeezed", _squeezed_words(build_up), _squeezed),
        ("settled", _settled_words(build_up), _settled),
        ("aged", _aged_words(build_up), _aged),
        ("framed", _framed_words(build_up), _framed),
        ("fixed and fitted", _fitted_words(build_up), lambda layer: layer),
    ]
    outside = winter_mean(place.climate)
    rungs: list[Rung] = []
    first = 0.0
    for name, cause, turn in steps:
        now = build_up.model_copy(update={"layers": [turn(layer) for layer in build_up.layers]})
        first = _step(rungs, name, cause, transmittance(now, place.kind).r_effective, first)
    cold = _by_factor(build_up, _by_temperature, place, outside)
    words = say(
        "at {inside} inside and {outside} outside, the mean of the heating season, and not at the {label} of the label",
        inside=temperature(place.set_point_c), outside=temperature(outside), label=temperature(LABEL_C),
    )  # fmt: skip
    first = _step(rungs, "in winter", words, transmittance(cold, place.kind).r_effective, first)
    damp = _by_factor(cold, lambda layer, _: _by_water(layer), place, outside)
    _step(
        rungs,
        "with its water",
        say("with the water it holds at 80 % RH"),
        transmittance(damp, place.kind).r_effective,
        first,
    )
    low, high = (transmittance(_at_end(build_up, end), place.kind).r_effective for end in (1, 0))
    return Ladder(rungs, low, high)


def _step(rungs: list[Rung], name: str, cause: Said, r: float, first: float) -> float:
    """Add a rung where it changes something; R of the first one."""
    if not rungs:
        rungs.append(Rung(name, cause, r, 1.0))
        return r
    if abs(r / rungs[-1].r - 1.0) >= LEAST_STEP:
        rungs.append(Rung(name, cause, r, r / first))
    return first


def winter_mean(climate: str) -> float:
    """Mean outside air of the hours below 12 °C [°C]; of the whole year where there are none."""
    air = shipped(climate)["temperature_c"]
    cold = air[air < WINTER_BELOW_C]
    return float(np.mean(cold if cold.size else air))


def _plain(layer: BuildUpLayer) -> dict[str, object]:
    return {"framing": None, "fixings": None, "gaps": 0, "inverted": None, "uneven": None}


def _labelled(layer: BuildUpLayer) -> BuildUpLayer:
    labelled = layer.product.labelled_mm if layer.product is not None else None
    return layer.model_copy(update={**_plain(layer), "product": None, "thickness_mm": labelled or layer.thickness_mm})


def _squeezed(layer: BuildUpLayer) -> BuildUpLayer:
    product = None if layer.product is None else Product(labelled_mm=layer.product.labelled_mm)
    return layer.model_copy(update={**_plain(layer), "product": product})


def _settled(layer: BuildUpLayer) -> BuildUpLayer:
    product = None if layer.product is None else layer.product.model_copy(update={"ageing": 1.0})
    return layer.model_copy(update={**_plain(layer), "product": product})


def _aged(layer: BuildUpLayer) -> BuildUpLayer:
    return layer.model_copy(update=_plain(layer))


def _framed(layer: BuildUpLayer) -> BuildUpLayer:
    return layer.model_copy(update={"fixings": None, "gaps": 0, "inverted": None, "uneven": None})


def _products(build_up: BuildUp) -> list[tuple[BuildUpLayer, Product]]:
    return [(layer, layer.product) for layer in build_up.layers if layer.product is not None]


def _squeezed_words(build_up: BuildUp) -> Said:
    parts = [
        say(
            "{name} from {sold} into {now}: λ {by} by its density",
            name=layer.entry.name, sold=thickness(product.labelled_mm / 1000.0), now=thickness(layer.thickness),
            by=_change(compression_factor(layer)),
        )
        for layer, product in _products(build_up)
        if product.labelled_mm
    ]  # fmt: skip
    return join(parts, "; ")


def _change(factor: float) -> str:
    share = percent(abs(factor - 1.0))
    return f"{share} lower" if factor < 1.0 else f"{share} higher"


def _settled_words(build_up: BuildUp) -> Said:
    parts = [
        say("{name} has sunk by {share} of its height", name=layer.entry.name, share=percent(product.settled))
        for layer, product in _products(build_up)
        if product.settled
    ]
    return join(parts, "; ")


def _aged_words(build_up: BuildUp) -> Said:
    parts = [
        say("{name}: λ {by} once its gas is gone", name=layer.entry.name, by=_change(product.ageing))
        for layer, product in _products(build_up)
        if product.ageing > 1.0
    ]
    return join(parts, "; ")


def _framed_words(build_up: BuildUp) -> Said:
    parts = []
    for layer in build_up.layers:
        framing = layer.framing
        if framing is None:
            continue
        name = (
            Said(metric="steel studs", inch="steel studs")
            if framing.web_mm is not None
            else say(entry_of(framing.material).name)
        )
        if framing.spacing_mm is None:
            parts.append(say("{name}, {share} of the face", name=name, share=percent(framing.share, 1)))
        else:
            plates = f" and {percent(framing.plates, 1)} plates and headers" if framing.plates else ""
            wide = framing.web_mm if framing.web_mm is not None else framing.width_mm or 0.0
            parts.append(
                say(
                    "{name} {wide} wide every {every}{plates}: {share} of the face",
                    name=name, wide=thickness(wide / 1000.0), every=thickness(framing.spacing_mm / 1000.0), plates=plates,
                    share=percent(framing.share, 1),
                )
            )  # fmt: skip
    return join(parts, "; ")


def _fitted_words(build_up: BuildUp) -> Said:
    parts = []
    for layer in build_up.layers:
        if layer.fixings is not None:
            parts.append(
                say("{n} fixings a square metre through {name}", n=f"{layer.fixings.per_m2:g}", name=layer.entry.name)
            )
        level = gap_level(build_up, layer)
        if level > layer.gaps:
            where = "the gap" if any(one.goes_round for one in build_up.layers) else "hollows"
            parts.append(say("{where} behind {name}, with air that goes round", where=where, name=layer.entry.name))
        elif level:
            parts.append(say("gaps in {name}, level {level} of ISO 6946", name=layer.entry.name, level=str(level)))
        if layer.inverted is not None:
            parts.append(say("rain under {name}", name=layer.entry.name))
    return join(parts, "; ")


def _by_factor(
    build_up: BuildUp, factor: Callable[[BuildUpLayer, float], float], place: Place, outside_c: float
) -> BuildUp:
    """The build-up with λ of each insulation times a factor of the layer and its mean temperature."""
    found = transmittance(build_up, place.kind)
    inside = place.set_point_c
    total = found.r_total_clear
    passed = found.external_surface
    layers = []
    for layer in build_up.layers:
        r = found.layers.get(layer.id, 0.0)
        celsius = outside_c + (inside - outside_c) * min((passed + 0.5 * r) / total, 1.0)
        passed += r
        if not is_insulation(layer):
            layers.append(layer)
            continue
        by = factor(layer, celsius)
        product = layer.product or Product()
        # not validated: a factor below 1 is no ageing, and only the ladder takes it
        layers.append(layer.model_copy(update={"product": product.model_copy(update={"ageing": product.ageing * by})}))
    return build_up.model_copy(update={"layers": layers})


def _by_temperature(layer: BuildUpLayer, celsius: float) -> float:
    entry = layer.entry
    assert isinstance(entry, Solid)
    rows = entry.conductivity_by_temperature_c
    if rows:
        return float(np.interp(celsius, [t for t, _ in rows], [value for _, value in rows])) / entry.conductivity_w_mk
    return float(np.exp(BY_TEMPERATURE.get(entry.family, 0.0) * (celsius - LABEL_C)))


def _by_water(layer: BuildUpLayer) -> float:
    entry = layer.entry
    assert isinstance(entry, Solid)
    return 1.0 + entry.moisture_supplement * entry.w80_kg_m3 / as_built_conductivity(layer)


def _at_end(build_up: BuildUp, end: int) -> BuildUp:
    """Every insulation with λ at one end of its range: 0 the lower λ, 1 the higher."""
    layers = []
    for layer in build_up.layers:
        span = range_of(layer.entry, "conductivity_w_mk")
        if span is None or not is_insulation(layer) or not isinstance(layer.entry, Solid):
            layers.append(layer)
            continue
        product = layer.product or Product()
        by = span[end] / layer.entry.conductivity_w_mk
        layers.append(layer.model_copy(update={"product": product.model_copy(update={"ageing": product.ageing * by})}))
    return build_up.model_copy(update={"layers": layers})


def ladder_or_why(build_up: BuildUp, place: Place) -> tuple[Ladder | None, str]:
    """The ladder, or why there is none."""
    try:
        return ladder(build_up, place), ""
    except CaseRefused as error:
        return None, error.message

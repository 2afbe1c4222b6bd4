"""Certainty: many runs of one build-up with what is not known drawn by chance, and what they say together.

Latin hypercube by SciPy (McKay et al. 1979), or a full grid. A draw changes build-up, place or case and nothing else.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from itertools import product
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, model_validator

from core import case as c
from core.assembly.model import Model, StartState
from core.assembly.to_case import model_of
from core.buildup.model import ACTIVE_RANGE, AirLeakage, BuildUp, Place, RainLeakage
from core.buildup.room import room_air
from core.case import Strict
from core.climate.data import MONTHS, monthly_means, shipped
from core.errors import OutOfRange
from core.materials.library import Sheet, Solid
from core.materials.ranges import SHEET_SPREAD, range_of
from core.measure.uptake import together
from core.say import Said, air_permeability, figure, join, percent, said, say

InputName = Literal[
    "rain exposure", "rain leak", "A-value", "indoor moisture", "membrane", "start water", "air leakage",
    "moisture-active share", "weather year",
]  # fmt: skip
Draw = dict[str, float]
PASSES = 3


@dataclass(frozen=True)
class InputKind:
    """How an uncertain input is varied. logarithmic: drawn evenly by its logarithm. Bounds are what may be asked."""

    words: str
    unit: str
    low: float
    high: float
    least: float
    most: float
    logarithmic: bool


INPUTS: dict[InputName, InputKind] = {
    "rain exposure": InputKind("driven rain, times the stated exposure", "×", 0.5, 2.0, 0.0, 5.0, True),
    "rain leak": InputKind("share of the driven rain that gets in", "", 0.0, 0.01, 0.0, 0.2, False),
    "A-value": InputKind("water uptake of every capillary layer, times its value", "×", 0.5, 2.0, 0.05, 10.0, True),
    "indoor moisture": InputKind("added to the indoor RH: 0.1 is ten points", "", -0.1, 0.1, -0.2, 0.2, False),
    "membrane": InputKind("sd of every membrane, times its value", "×", 0.5, 2.0, 0.05, 20.0, True),
    "start water": InputKind("RH of the layers at the start, 0 to 1", "", 0.6, 0.95, 0.3, 0.99, False),
    "air leakage": InputKind("air through the element at 50 Pa", "m³/(h m²)", 0.1, 3.0, 0.01, 50.0, True),
    "moisture-active share": InputKind(
        "of the air that leaks, what wets the cold plane", "", *ACTIVE_RANGE, 0.0, 1.0, True
    ),
    "weather year": InputKind("a usual year, or the bad one", "", 0.0, 1.0, 0.0, 1.0, False),
}


class UncertainInput(Strict):
    """One input with its range; the weather year takes both years in equal parts."""

    name: InputName
    low: float
    high: float

    @model_validator(mode="after")
    def _within(self) -> UncertainInput:
        kind = INPUTS[self.name]
        if not kind.least <= self.low < self.high <= kind.most:
            raise ValueError(
                f"{self.name}: from {self.low:g} to {self.high:g} must rise within {kind.least:g} to {kind.most:g}"
            )
        return self


class StudySettings(Strict):
    """inputs varied, how many runs (Latin hypercube) or how many steps of each input (grid), and where one looks."""

    inputs: Annotated[list[UncertainInput], Field(min_length=1, max_length=8)]
    method: Literal["latin hypercube", "grid"] = "latin hypercube"
    runs: Annotated[int, Field(ge=5, le=500)] = 100
    steps: Annotated[int, Field(ge=2, le=20)] = 3
    seed: Annotated[int, Field(ge=0, le=10**6)] = 1
    plane: str

    @model_validator(mode="after")
    def _sizes(self) -> StudySettings:
        names = [one.name for one in self.inputs]
        if len(set(names)) != len(names):
            raise ValueError("an input stands twice in the study")
        if self.method == "grid" and self.steps ** len(names) > 500:
            raise ValueError(
                f"{self.steps} steps of {len(names)} inputs are {self.steps ** len(names)} runs; at most 500"
            )
        return self


MEASURED_RANGE = (0.7, 1.4)  # × what was measured at one place; the next stone differs by as much


def first_inputs(
    build_up: BuildUp, rained: bool, uptakes: dict[str, list[float]] | None = None
) -> list[UncertainInput]:
    """What is asked first: uptake and rain on a face that is rained on, air, membranes and leaks elsewhere.

    uptakes: A-values measured on the element, by layer. They narrow the range of the A-value to what those of one layer
    span, and never to less than one place differs from the next. Else the library's range of each entry is taken.
    """
    draws_water = any(isinstance(one.entry, Solid) and one.entry.a_value_kg_m2s05 for one in build_up.layers)
    names: list[InputName] = ["indoor moisture", "moisture-active share", "air leakage"]
    if any(isinstance(one.entry, Sheet) for one in build_up.layers):
        names.append("membrane")
    if rained:
        names = ["rain exposure", "indoor moisture", "moisture-active share"]
        if draws_water:
            names.insert(0, "A-value")
    found = []
    for name in names:
        low, high = INPUTS[name].low, INPUTS[name].high
        if name in ("A-value", "membrane"):
            low, high = _library_range(build_up, name)
        if name == "A-value" and any(one.a_value_kg_m2s05 is not None for one in build_up.layers):
            low, high = MEASURED_RANGE
            for found_there in (uptakes or {}).values():
                mean = together(found_there)
                low, high = min(low, min(found_there) / mean), max(high, max(found_there) / mean)
        least, most = INPUTS[name].least, INPUTS[name].most
        found.append(UncertainInput(name=name, low=round(max(low, least), 3), high=round(min(high, most), 3)))
    return found


def _library_range(build_up: BuildUp, name: InputName) -> tuple[float, float]:
    """Factors between which the layers' values may lie, by the library's range of each: the widest of them, since one factor moves all."""
    spans = []
    for layer in build_up.layers:
        entry = layer.entry
        if name == "A-value" and isinstance(entry, Solid) and entry.a_value_kg_m2s05:
            found = range_of(entry, "a_value_kg_m2s05")
            spans.append((found[0] / entry.a_value_kg_m2s05, found[1] / entry.a_value_kg_m2s05) if found else None)
        elif name == "membrane" and isinstance(entry, Sheet) and entry.kind == "membrane":
            found = range_of(entry, "sd_m")
            spread = SHEET_SPREAD["membrane"]
            spans.append(
                (found[0] / entry.sd_m, found[1] / entry.sd_m) if found and entry.sd_m else (1 / spread, spread)
            )
    known = [span for span in spans if span is not None]
    if not known:
        return INPUTS[name].low, INPUTS[name].high
    low, high = min(span[0] for span in known), max(span[1] for span in known)
    return (low, high) if high - low > 0.02 else (INPUTS[name].low, INPUTS[name].high)


def draws(settings: StudySettings) -> list[Draw]:
    """One value of every input for each run."""
    if settings.method == "grid":
        axes = [np.linspace(0.0, 1.0, 2 if one.name == "weather year" else settings.steps) for one in settings.inputs]
        unit = np.array(list(product(*axes)))
    else:
        from scipy.stats import qmc

        unit = qmc.LatinHypercube(len(settings.inputs), rng=np.random.default_rng(settings.seed)).random(settings.runs)
    found = []
    for row in unit:
        draw: Draw = {}
        for value, one in zip(row, settings.inputs, strict=True):
            draw[one.name] = _scaled(float(value), one)
        found.append(draw)
    return found


def _scaled(value: float, one: UncertainInput) -> float:
    if one.name == "weather year":
        return float(value >= 0.5)
    if INPUTS[one.name].logarithmic and one.low > 0.0:
        return float(np.exp(np.log(one.low) + value * np.log(one.high / one.low)))
    return one.low + value * (one.high - one.low)


def drawn_model(
    build_up: BuildUp, place: Place, draw: Draw, start: StartState | None = None, new: bool = False
) -> Model:
    """The case of a build-up with one draw of its uncertain inputs, three years long. Raises OutOfRange for unknown names.

    start: how the layers that are there stand on the day of the works; a draw of the start water takes its place.
    """
    unknown = set(draw) - set(INPUTS)
    if unknown:
        raise OutOfRange(f"“{sorted(unknown)[0]}” is no input of a study", "draw")
    if "rain leak" in draw:
        leak = RainLeakage(share=draw["rain leak"], after_layer=build_up.rain_leak.after_layer)
        build_up = build_up.model_copy(update={"rain_leak": leak})
    if "air leakage" in draw:
        air = AirLeakage(preset="q50", q50_m3_m2h=draw["air leakage"], after_layer=build_up.air_leak.after_layer)
        build_up = build_up.model_copy(update={"air_leak": air})
    fields = {
        "rain exposure": "rain_scale",
        "indoor moisture": "extra_rh",
        "start water": "start_rh",
        "moisture-active share": "active_share",
    }
    changes: dict[str, Any] = {field: draw[name] for name, field in fields.items() if name in draw}
    if "weather year" in draw:
        changes["bad_year"] = draw["weather year"] >= 0.5
    if "start water" in draw:
        start, new = None, False
    model = model_of(build_up, place.model_copy(update=changes), start=start, new=new)
    case = model.case
    if "A-value" in draw:
        case = case.model_copy(
            update={"materials": {n: _wetter(m, draw["A-value"]) for n, m in case.materials.items()}}
        )
    if "membrane" in draw:
        case = case.model_copy(update={"layers": [_scaled_membrane(entry, draw["membrane"]) for entry in case.layers]})
    time = case.time.model_copy(update={"repeat": "fixed", "fixed_passes": PASSES})
    return replace(model, case=case.model_copy(update={"time": time}))


def _wetter(material: c.Material, factor: float) -> c.Material:
    if not isinstance(material.liquid, c.LiquidKuenzel):
        return material
    a_value = material.liquid.a_value_kg_m2s05 * factor
    return material.model_copy(update={"liquid": material.liquid.model_copy(update={"a_value_kg_m2s05": a_value})})


def _scaled_membrane(entry: c.Layer | c.Membrane, factor: float) -> c.Layer | c.Membrane:
    if not isinstance(entry, c.Membrane):
        return entry
    if entry.sd_m is not None:
        return entry.model_copy(update={"sd_m": entry.sd_m * factor})
    return entry.model_copy(update={"sd_by_rh": [(rh, sd * factor) for rh, sd in entry.sd_by_rh or []]})


# --- what the runs say together -------------------------------------------------------------------


@dataclass(frozen=True)
class Influence:
    """Rank correlation (Spearman) of an input with how near the runs come to their limit; −1 to 1."""

    name: str
    correlation: float


@dataclass(frozen=True)
class Condition:
    """An end of an input's range within which every draw stood, whatever the others were: at most (or at least) the value.

    runs: draws there. It is what was seen, and no bound: the end was found from the same draws. tried: no draw failed at all, so
    that the value is only the end of what was tried. measure, unit: the value as it is measured later, proof: by what.
    """

    name: str
    at_most: bool
    value: float
    runs: int
    words: Said
    tried: bool
    measure: float
    unit: str
    proof: str


@dataclass(frozen=True)
class StudySummary:
    """over: draws that came out over a limit; sound: all others, marginal ones too. share: sound over runs, with the 95 %
    interval of the draws from the ranges typed (Wilson 1927), not of walls. influences: the strongest first. words: what
    may be said of it. conditions: what it stands on, where some draws failed and others did not.
    """

    runs: int
    over: int
    sound: int
    share: float
    low: float
    high: float
    influences: list[Influence]
    decided_by: str
    words: Said
    conditions: list[Condition]


def wilson(sound: int, runs: int) -> tuple[float, float]:
    """95 % interval of a share (Wilson 1927, by SciPy)."""
    from scipy.stats import binomtest

    interval = binomtest(sound, runs).proportion_ci(0.95, "wilson")
    return float(interval.low), float(interval.high)


FEW_RUNS = 20
NO_SPREAD = 0.01  # of the limit: runs that differ by less show no effect of anything


def summarise(inputs: list[Draw], over: list[bool], nearness: list[float], place: Place | None = None) -> StudySummary:
    """What finished runs say. nearness: value over limit of each run's worst criterion. place: whose room air is meant."""
    from scipy.stats import rankdata

    if not inputs:
        raise OutOfRange("no run of the study has finished", "study")
    sound = len(over) - sum(over)
    low, high = wilson(sound, len(over))
    found = []
    for name in inputs[0]:
        x, y = rankdata([draw[name] for draw in inputs]), rankdata(nearness)
        spread = float(x.std() * y.std())
        found.append(Influence(name, float(((x - x.mean()) * (y - y.mean())).mean()) / spread if spread > 0.0 else 0.0))
    found.sort(key=lambda one: -abs(one.correlation))
    flat = max(nearness) - min(nearness) < NO_SPREAD
    sure = abs(found[0].correlation) >= 2.0 / np.sqrt(max(len(over), 4)) and not flat
    decided = found[0].name if sure and len(over) >= FEW_RUNS else ""
    return StudySummary(
        len(over),
        sum(over),
        sound,
        sound / len(over),
        low,
        high,
        found,
        decided,
        _words(over, low, high, decided, flat),
        conditions(inputs, over, found if not flat else [], place),
    )


LEAST_WITHIN = 12  # draws in the end that stood; fewer say nothing
STANDS_WHILE: dict[str, tuple[str, float, int]] = {
    "rain exposure": ("the driven rain is {at} {value} times what is stated", 1.0, 2),
    "rain leak": ("{at} {value} % of the driven rain gets in", 100.0, 2),
    "A-value": ("the water uptake is {at} {value} times the one taken: measure it", 1.0, 2),
    "indoor moisture": ("the rooms are {at} {value} points of RH {side} their profile", 100.0, 1),
    "membrane": ("the membrane has {at} {value} times its sd", 1.0, 2),
    "start water": ("what is there is {at} {value} % RH when it is closed: measure it", 100.0, 0),
    "air leakage": ("air through the element is {at} {value} at 50 Pa: test it", 1.0, 2),
    "moisture-active share": ("{at} {value} % of the leaking air wets the cold plane", 100.0, 1),
}


class ConditionCheck(Strict):
    """A condition looked at on site or after the works: what was measured, in the terms of its condition, by what, when, by whom."""

    name: InputName
    measured: Annotated[float, Field(ge=-1000, le=1000)]
    proof: Annotated[str, Field(max_length=200)] = ""
    on: date | None = None
    note: Annotated[str, Field(max_length=1000)] = ""
    by: Annotated[str, Field(max_length=150)] = ""

    def words(self) -> Said:
        """What was measured, with its unit."""
        if self.name == "air leakage":
            return air_permeability(self.measured)
        return said(f"{self.measured:g} {INPUTS[self.name].unit or '%'}")

    def holds(self, condition: Condition) -> bool:
        """Whether what was measured keeps the condition, to the last digit that is shown."""
        slack = 0.005 * max(abs(condition.measure), 0.1)
        apart = self.measured - condition.measure
        return apart <= slack if condition.at_most else apart >= -slack


PROOFS: dict[str, str] = {
    "rain exposure": "seen on site: gutters, overhang, what stands before it",
    "rain leak": "spray test at the joint",
    "A-value": "tube or pad on the face",
    "indoor moisture": "logger in the room",
    "membrane": "what stands on the roll",
    "start water": "probe or meter in the layer",
    "air leakage": "blower door with this element apart",
    "moisture-active share": "smoke and infrared at the joints",
}


def coldest_month_rh(place: Place) -> tuple[str, float]:
    """(month, mean RH of the room in it) of the coldest month outside, 0 to 1."""
    climate = shipped(place.climate)
    _, humidity = room_air(place, place.extra_rh)
    month = int(monthly_means(climate["temperature_c"]).argmin())
    return MONTHS[month], float(monthly_means(humidity)[month])


def conditions(
    inputs: list[Draw], over: list[bool], influences: list[Influence] | None = None, place: Place | None = None
) -> list[Condition]:
    """The study turned round: from which value of each input on no draw failed. Empty where all failed, or there are too few.

    Where none failed: the ends that were tried, on the worse side of each input that has an effect (influences).
    """
    if len(over) < FEW_RUNS or all(over):
        return []
    if not any(over):
        sure = 2.0 / np.sqrt(len(over))
        return [
            _condition(one.name, one.correlation > 0.0, [draw[one.name] for draw in inputs], True, place)
            for one in influences or []
            if abs(one.correlation) >= sure and one.name in STANDS_WHILE
        ]
    found = []
    for name in inputs[0]:
        if name not in STANDS_WHILE:
            continue
        values = np.array([draw[name] for draw in inputs])
        failed = values[np.array(over)]
        below, above = values[values < failed.min()], values[values > failed.max()]
        at_most = below.size >= above.size
        stood = below if at_most else above
        if stood.size < LEAST_WITHIN:
            continue
        found.append(_condition(name, at_most, [float(one) for one in stood], False, place))
    return sorted(found, key=lambda one: -one.runs)


def _condition(name: str, at_most: bool, stood: list[float], tried: bool, place: Place | None) -> Condition:
    value = max(stood) if at_most else min(stood)
    measure, unit = value, INPUTS[name].unit or "%"  # type: ignore[index]
    if unit == "%":
        measure = value * 100.0
    if name == "indoor moisture" and place is not None:
        measure = (coldest_month_rh(place)[1] + value) * 100.0
    words = _stands(name, at_most, value, place)
    ends = f"(no draw of {len(stood)} failed; more was not tried)" if tried else f"(so in all {len(stood)} draws there)"
    if tried and not at_most:
        ends = f"(no draw of {len(stood)} failed; less was not tried)"
    return Condition(
        name, at_most, value, len(stood), join([words, said(ends)]), tried, round(measure, 4), unit, PROOFS[name]
    )


def _stands(name: str, at_most: bool, value: float, place: Place | None) -> Said:
    words, factor, digits = STANDS_WHILE[name]
    if name == "indoor moisture" and place is not None:
        month, usual = coldest_month_rh(place)
        at = "at most" if at_most else "at least"
        first = f"stands while the rooms are {at} {figure((usual + value) * 100.0, 0)} % RH on average in {month}"
        apart = f"{figure(abs(value) * 100.0, 1)} points {'below' if value < 0.0 else 'above'} their profile"
        return said(f"{first}, {apart}")
    amount = air_permeability(value) if name == "air leakage" else said(figure(value * factor, digits))
    below = name == "indoor moisture" and value < 0.0
    if below:
        amount, at_most = said(figure(-value * factor, digits)), not at_most
    at, side = "at most" if at_most else "at least", "below" if below else "above"
    return join([say("stands while"), say(words, at=at, value=amount, side=side)])


def _words(over: list[bool], low: float, high: float, decided: str, flat: bool) -> Said:
    """The draws, not walls; with few of them, or with no effect, that nothing can be said."""
    runs, wrong = len(over), sum(over)
    counted = (
        f"{wrong} of {runs} draws from the ranges typed are over a limit; of such draws {percent(1.0 - high)} to "
        f"{percent(1.0 - low)} would be (95 % interval). It says nothing of walls in general."
    )
    if runs < FEW_RUNS:
        return said(f"{counted} With {runs} draws nothing can be said of what decides.")
    if flat:
        return said(f"{counted} All draws come out alike: none of the inputs typed has an effect here.")
    if not decided:
        return said(f"{counted} No single input decides: nothing can be said of which matters most.")
    return said(f"{counted} What decides most: {decided} ({INPUTS[decided].words}).")  # type: ignore[index]

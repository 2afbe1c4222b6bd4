"""The verdict of an option in words: within limits, marginal, over a limit (named).

From mould, wood moisture, accumulation, condensate, wet insulation, and against as found frost and metal. What is not
judged is said beside it.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from core.buildup.to_case import Model
from core.climate.data import DAYS_IN_MONTHS, first_hour, month_of_hours
from core.criteria.frost import TOLERANCE, frost_cycles
from core.criteria.mould import mould_index
from core.criteria.timber import LONGEST_SPELL_DAYS, NEVER_ABOVE, timber_moisture
from core.criteria.water import (
    CONDENSATE_LIMIT_G_M2,
    METAL_TOLERANCE_H,
    R_LOSS_LIMIT,
    condensate,
    hours_of_wetness,
    loss_of_resistance,
)
from core.moisture.transient.outcome import GAINS, Outcome

Array = NDArray[np.float64]
State = Literal["within limits", "marginal", "over a limit"]
MOULD_LIMITS = {"inside": 3.0, "cavity": 2.0, "room": 1.0}
ACCUMULATION_LIMIT = 0.01
MARGIN = 0.8
LEFT_OUT = "decay (the coefficients of its published model are not certain here)"
MONTHS = (
    "January", "February", "March", "April", "May", "June",
    "July", "August", "September", "October", "November", "December",
)  # fmt: skip
REASONS = {
    "mould": "Mould growth index, Hukka & Viitanen 1999 and Ojanen et al. 2010 (coefficients from memory): "
    "3 inside a build-up, 1 on a face toward the room.",
    "wood moisture": "No spell over 8 weeks above 20 % (18 % for wood-based sheets), and never over 25 % while above 10 °C: "
    "below it decay fungi are not expected to grow.",
    "condensate": "Free water held at a face that draws nothing in: 200 g/m² (ISO 13788 speaks of run-off from there), and "
    "dry once a year. Says nothing of drops that fall elsewhere.",
    "wet insulation": "R lost to water in the mean of the settled year, against the layer at 50 % RH: 5 %. Says nothing of "
    "settling or of air that moves in it.",
    "frost": "Wet cycles below −2 °C and above 0 °C in masonry, wet above 80 % of free saturation (a stone's critical degree "
    "refers to its open porosity), against as found. Whether this stone stands them is not known: never within limits by this alone.",
    "metal": "Hours above 80 % RH and above 0 °C (ISO 9223) at the face behind the insulation, against as found: 500 more. The "
    "corrosion class of the fixing and salts are not known here.",
    "accumulation": "Water at the end of a settled year must not be over 1 % more than the year before.",
}


@dataclass(frozen=True)
class Judgement:
    """One criterion at one place. share: value over limit."""

    criterion: str
    place: str
    layer_id: str
    value: float
    limit: float
    unit: str
    share: float
    state: State
    when: str
    sentence: str


@dataclass(frozen=True)
class Point:
    """One watch point through the years: what is reported whether or not it is judged."""

    name: str
    role: str
    layer_id: str
    judged: bool
    why_not: str
    mould_class: str
    worst_month: str
    worst_month_rh: float
    driest_month_rh: float
    mould_first_year: float
    mould_settled: float


@dataclass(frozen=True)
class Verdict:
    """state and the two worst judgements; as_found_words for the as-found line, which has no badge."""

    state: State
    headline: str
    driver: str
    worst: Judgement
    second: Judgement | None
    judgements: list[Judgement]
    points: list[Point]
    worst_point: Point
    as_found_words: str
    not_judged: list[str] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    compared: dict[str, dict[str, int]] = field(default_factory=dict)

    def as_document(self) -> dict[str, Any]:
        """Plain data."""
        return {**asdict(self), "reasons": REASONS}


def date_of(outcome: Outcome, record: int) -> str:
    """“23 February, year 2” of a record."""
    number, within = divmod(record, outcome.records_per_pass)
    hour = (first_hour(outcome.case.time.start) + int(within * outcome.record_step_s // 3600)) % 8760
    day = hour // 24
    for month, length in enumerate(DAYS_IN_MONTHS):
        if day < length:
            return f"{day + 1} {MONTHS[month]}, year {number + 1}"
        day -= length
    raise AssertionError("a day beyond the year")


def _state(share: float) -> State:
    return "over a limit" if share > 1.0 else "marginal" if share >= MARGIN else "within limits"


def judge(model: Model, outcome: Outcome, as_found: dict[str, dict[str, int]] | None = None) -> Verdict:
    """The verdict of a finished run. Every judgement names place and date.

    as_found: what `compared` says of the as-found run of the same element; without it frost and metal are not judged.
    """
    judgements: list[Judgement] = []
    compared = _compared(model, outcome)
    points = []
    for watch in model.watch_points:
        node = outcome.planes[watch.name]
        temperature, humidity = outcome.temperature_c(node), outcome.rh(node)
        index = mould_index(temperature, humidity, watch.mould_class, outcome.record_step_s)
        points.append(_point(outcome, watch, humidity, index))
        if watch.judged:
            judgements.append(_mould(outcome, watch, index))
    for layer in model.timber:
        judgements.append(_timber(outcome, layer))
    if outcome.settled or outcome.case.time.repeat != "fixed":
        judgements.append(_accumulation(outcome))
    judgements += _condensates(model, outcome)
    judgements += _wet_insulation(model, outcome)
    if as_found is not None:
        judgements += _frost(model, outcome, compared, as_found)
        judgements += _metal(outcome, compared, as_found, model)
    judgements.sort(key=lambda j: -j.share)
    worst = judgements[0]
    inside = [p for p in points if p.role in ("inside", "cavity", "room")]
    worst_point = max(inside, key=lambda p: (p.judged or p.role == "inside", p.worst_month_rh))
    driver = _driver(outcome)
    if worst.state == "over a limit":
        headline = f"Over a limit: {_figure(worst)}"
    else:
        headline = "Marginal" if worst.state == "marginal" else "Within limits"
    return Verdict(
        state=worst.state,
        headline=headline,
        driver=driver,
        worst=worst,
        second=judgements[1] if len(judgements) > 1 else None,
        judgements=judgements,
        points=points,
        worst_point=worst_point,
        as_found_words=_as_found_words(inside, outcome),
        not_judged=_not_judged(model, outcome, compared, as_found),
        notes=_notes(model, outcome, points),
        compared=compared,
    )


def _compared(model: Model, outcome: Outcome) -> dict[str, dict[str, int]]:
    """What is judged against as found, by layer id: wet frost cycles of masonry, hours of wetness at inner faces."""
    frost = {}
    for entry in outcome.solid_entries:
        layer = outcome.case.layers[entry]
        if outcome.case.materials[layer.material].liquid.form != "none" and model.masonry(entry):  # type: ignore[union-attr]
            frost[model.layer_of_entry[entry]] = frost_cycles(outcome, entry).wet
    wet = {}
    for watch in model.watch_points:
        if watch.role in ("inside", "room", "cavity"):
            wet[watch.after_layer_id] = hours_of_wetness(outcome, outcome.planes[watch.name])
    return {"frost": frost, "metal": wet}


def _condensates(model: Model, outcome: Outcome) -> list[Judgement]:
    found = []
    for watch in model.watch_points:
        if watch.role == "face":
            continue
        water = condensate(outcome, outcome.planes[watch.name])
        if water.most_g_m2 < 1.0:
            continue
        share = water.most_g_m2 / CONDENSATE_LIMIT_G_M2
        if not water.dries:
            share = max(share, 1.01)
        when = date_of(outcome, water.record)
        tail = "" if water.dries else " It does not dry within the year."
        found.append(
            Judgement(
                "condensate",
                watch.name,
                watch.after_layer_id,
                water.most_g_m2,
                CONDENSATE_LIMIT_G_M2,
                "g/m²",
                share,
                _state(share),
                when,
                f"At {watch.name} free water reaches {water.most_g_m2:.0f} g/m² on {when}; limit 200 g/m².{tail}",
            )  # fmt: skip
        )
    return found


def _wet_insulation(model: Model, outcome: Outcome) -> list[Judgement]:
    found = []
    for entry in model.insulation:
        loss = loss_of_resistance(outcome, entry)
        name = outcome.case.layers[entry].name
        share = loss / R_LOSS_LIMIT
        found.append(
            Judgement(
                "wet insulation",
                name,
                model.layer_of_entry[entry],
                100.0 * loss,
                100.0 * R_LOSS_LIMIT,
                "%",
                share,
                _state(share),
                date_of(outcome, len(outcome.z) - 1),
                f"{name.capitalize()} loses {max(loss, 0.0) * 100:.1f} % of its R to water in the settled year; limit 5 %.",
            )  # fmt: skip
        )
    return found


def _frost(
    model: Model, outcome: Outcome, compared: dict[str, dict[str, int]], as_found: dict[str, dict[str, int]]
) -> list[Judgement]:
    found = []
    for entry in outcome.solid_entries:
        layer_id = model.layer_of_entry[entry]
        wet, before = compared["frost"].get(layer_id, 0), as_found["frost"].get(layer_id)
        if before is None or wet == 0 or wet - before <= TOLERANCE:
            continue  # no wet cycle, or as many as found: nothing is claimed of an unknown stone
        cycles = frost_cycles(outcome, entry)
        name = outcome.case.layers[entry].name
        when = date_of(outcome, outcome.last_pass.start + cycles.hour)
        found.append(
            Judgement(
                "frost",
                name,
                layer_id,
                float(wet),
                float(before + TOLERANCE),
                "cycles",
                0.99,
                "marginal",
                when,
                f"{name.capitalize()} freezes wet {_times(wet)} a year {cycles.depth_mm:.0f} mm from outside, as found "
                f"{_times(before)}; the stone's resistance is not known.",
            )  # fmt: skip
        )
    return found


def _times(count: int) -> str:
    return {0: "never", 1: "once", 2: "twice"}.get(count, f"{count} times")


def _metal(
    outcome: Outcome, compared: dict[str, dict[str, int]], as_found: dict[str, dict[str, int]], model: Model
) -> list[Judgement]:
    found = []
    for watch in model.watch_points:
        now, before = compared["metal"].get(watch.after_layer_id), as_found["metal"].get(watch.after_layer_id)
        if watch.role != "inside" or now is None or before is None or now - before <= METAL_TOLERANCE_H:
            continue
        found.append(
            Judgement(
                "metal",
                watch.name,
                watch.after_layer_id,
                float(now),
                float(before + METAL_TOLERANCE_H),
                "hours",
                0.98,
                "marginal",
                date_of(outcome, len(outcome.z) - 1),
                f"At {watch.name} metal is wet {now} hours a year, as found {before}; the fixings' corrosion class is not known.",
            )  # fmt: skip
        )
    return found


def _not_judged(
    model: Model, outcome: Outcome, compared: dict[str, dict[str, int]], as_found: dict[str, dict[str, int]] | None
) -> list[str]:
    words = [LEFT_OUT]
    wet = max(compared["frost"].values(), default=0)
    if as_found is None:
        words.append("frost and metal (against as found: run its years first)")
    elif wet:
        words.append(f"frost resistance ({wet} wet cycles a year; the stone is not known)")
    if not outcome.settled and outcome.case.time.repeat == "fixed":
        words.append(f"accumulation (the years do not repeat yet after {outcome.passes})")
    if not outcome.case.air.leaks:
        words.append("air leaks (none stated)")
    if not outcome.case.air.rain_leaks and outcome.driven_rain_kg_m2 > 0.0:
        words.append("rain leaks (none stated)")
    return [*words, "salts", "beam ends"]


def _figure(judgement: Judgement) -> str:
    """“mould 3.3”, “wood moisture 31 %”, “wood moisture, 71 days”."""
    if judgement.unit in ("cycles", "hours", "g/m²"):
        return f"{judgement.criterion}, {judgement.value:.0f} {judgement.unit}"
    if judgement.unit == "days":
        return f"{judgement.criterion}, {judgement.value:.0f} days"
    if judgement.unit == "%":
        return f"{judgement.criterion} {judgement.value:.0f} %"
    return f"{judgement.criterion} {judgement.value:.1f}"


def _point(outcome: Outcome, watch: Any, humidity: Array, index: Array) -> Point:
    months = np.roll(month_of_hours(), -first_hour(outcome.case.time.start))
    hours = outcome.records_per_pass
    last = humidity[outcome.last_pass]
    step = max(1, int(round(outcome.record_step_s / 3600.0)))
    means = np.array([last[months[::step][:hours] == month].mean() for month in range(12)])
    return Point(
        name=watch.name,
        role=watch.role,
        layer_id=watch.after_layer_id,
        judged=watch.judged,
        why_not=watch.why_not,
        mould_class=watch.mould_class,
        worst_month=MONTHS[int(means.argmax())],
        worst_month_rh=float(means.max()),
        driest_month_rh=float(means.min()),
        mould_first_year=float(index[outcome.first_pass].max()),
        mould_settled=float(index[outcome.last_pass].max()),
    )


def _mould(outcome: Outcome, watch: Any, index: Array) -> Judgement:
    limit = MOULD_LIMITS[watch.role]
    record = int(index.argmax())
    value = float(index[record])
    crossed = int(np.argmax(index > limit)) if value > limit else record
    when = date_of(outcome, crossed)
    verb = "passes" if value > limit else "reaches at most"
    figure = (
        f"{limit:g} on {when} and reaches {value:.1f}" if value > limit else f"{value:.1f} ({when}), limit {limit:g}"
    )
    return Judgement(
        "mould", watch.name, watch.after_layer_id, value, limit, "index", value / limit, _state(value / limit), when,
        f"At {watch.name} the mould index {verb} {figure}.",
    )  # fmt: skip


def _timber(outcome: Outcome, layer: Any) -> Judgement:
    moisture = timber_moisture(outcome, layer)
    by_rh = (
        f" By the RH limit of some codes (95 % at 0 °C to 86 % at 30 °C) it is over on {moisture.days_over_rh} days of the last year."
        if moisture.days_over_rh
        else ""
    )
    per_day = int(round(86400.0 / outcome.record_step_s))
    spell_share = moisture.longest_spell_days / LONGEST_SPELL_DAYS
    warm_share = moisture.warm_peak_percent / NEVER_ABOVE
    # 25 % while warm is near in any damp wood; it counts from 20 % of the way, like every limit.
    if warm_share > 1.0 or (warm_share > spell_share and warm_share >= MARGIN):
        when = date_of(outcome, moisture.warm_peak_day * per_day)
        sentence = f"{layer.name.capitalize()}: {moisture.warm_peak_percent:.0f} % water while above 10 °C on {when}; limit 25 %.{by_rh}"
        return Judgement(
            "wood moisture", layer.name, layer.layer_id, moisture.warm_peak_percent, NEVER_ABOVE, "%", warm_share,
            _state(warm_share), when, sentence,
        )  # fmt: skip
    when = date_of(outcome, moisture.spell_ends_day * per_day)
    if moisture.longest_spell_days:
        sentence = (
            f"{layer.name.capitalize()}: above {moisture.limit:.0f} % water for {moisture.longest_spell_days} days "
            f"(to {when}); limit {LONGEST_SPELL_DAYS} days.{by_rh}"
        )
    else:
        top = int(moisture.daily_percent.argmax())
        when = date_of(outcome, top * per_day)
        sentence = (
            f"{layer.name.capitalize()}: at most {moisture.daily_percent[top]:.0f} % water ({when}); "
            f"limit {moisture.limit:.0f} % for 8 weeks.{by_rh}"
        )
    return Judgement(
        "wood moisture", layer.name, layer.layer_id, float(moisture.longest_spell_days), float(LONGEST_SPELL_DAYS), "days",
        spell_share, _state(spell_share), when, sentence,
    )  # fmt: skip


def _accumulation(outcome: Outcome) -> Judgement:
    n, k = outcome.records_per_pass, outcome.passes
    ends = [float(outcome.layer_water[(i + 1) * n - 1].sum()) for i in range(k)]
    rise = (ends[-1] - ends[-2]) / max(ends[-2], 1e-9) if k > 1 else (ends[-1] / outcome.start_layer_water.sum() - 1.0)
    share = max(rise, 0.0) / ACCUMULATION_LIMIT
    when = date_of(outcome, k * n - 1)
    percent = round(abs(rise) * 100, 1)
    change = (
        f"{percent} % {'more' if rise > 0 else 'less'} than a year before" if percent else "as much as a year before"
    )
    tail = "" if outcome.settled else f" After {k} years the yearly cycle does not repeat yet."
    return Judgement(
        "accumulation", "the whole build-up", "", 100.0 * rise, 100.0 * ACCUMULATION_LIMIT, "%", share, _state(share), when,
        f"On {when} it holds {ends[-1]:.1f} kg/m² of water, {change}; limit 1 % more.{tail}",
    )  # fmt: skip


def _driver(outcome: Outcome) -> str:
    last = outcome.flux[outcome.last_pass]
    seconds = outcome.record_step_s
    taken = float(np.maximum(last[:, 0, 3], 0.0).sum() * seconds)
    from_room = float(np.maximum(last[:, 1, 2], 0.0).sum() * seconds)
    first_end = float(outcome.layer_water[outcome.records_per_pass - 1].sum())
    built_in = float(outcome.start_layer_water.sum()) - first_end
    rain = f"driven rain: {outcome.driven_rain_kg_m2:.0f} mm on the face in a year, {taken:.0f} kg/m² of it taken up"
    room = f"vapour from the room: {from_room * 1000:.0f} g/m² in a year"
    gained = np.maximum(outcome.gained[outcome.last_pass], 0.0).sum(axis=0) * seconds
    leaked, rained_in = float(gained[GAINS.index("air leak")]), float(gained[GAINS.index("rain leak")])
    rained = outcome.driven_rain_kg_m2 > 0.0  # a roof covering sheds all of it, a sheltered face gets none
    parts = [(taken, rain)] if rained else []
    if from_room > 5e-4 or not parts:
        parts.append((from_room, room))
    if leaked > 0.0:
        parts.append((leaked, f"room air through leaks: {leaked * 1000:.0f} g/m² in a year"))
    if rained_in > 0.0:
        parts.append((rained_in, f"rain that leaks in: {rained_in * 1000:.0f} g/m² in a year"))
    if built_in > max(taken, from_room):
        parts.append((built_in, f"water at the start: {built_in:.1f} kg/m² leave in the first year"))
    parts.sort(key=lambda part: -part[0])
    following = f" Next is {parts[1][1]}." if len(parts) > 1 else ""
    return f"Largest source of water is {parts[0][1]}.{following}"


def _as_found_words(points: list[Point], outcome: Outcome) -> str:
    accumulation = _accumulation(outcome)
    if accumulation.share > 1.0:
        return "getting wetter each year"
    wettest = max(points, key=lambda p: p.worst_month_rh)
    if wettest.worst_month_rh < 0.80:
        return "dry all year"
    if wettest.driest_month_rh < 0.80:
        return "damp, dries each summer"
    return "damp all year"


def _notes(model: Model, outcome: Outcome, points: list[Point]) -> list[str]:
    notes = []
    for point in points:
        if not point.judged and point.role == "inside":
            notes.append(
                f"{point.name}: {point.why_not}, reported and not judged; "
                f"{point.worst_month_rh * 100:.0f} % RH in {point.worst_month}, mould index {point.mould_settled:.1f}."
            )
    if not outcome.settled:
        notes.append(f"The yearly cycle had not settled after {outcome.passes} years.")
    notes.append("One run, one weather year; the clear path without framing. Salts and beam ends are not modelled.")
    return notes

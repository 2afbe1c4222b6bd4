"""The verdict of an option in words: within limits, marginal, over a limit (named).

In this version from mould, wood moisture and accumulation. What is not judged is said beside it.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from core.buildup.to_case import Model
from core.climate.data import DAYS_IN_MONTHS, first_hour, month_of_hours
from core.criteria.mould import mould_index
from core.criteria.timber import LONGEST_SPELL_DAYS, NEVER_ABOVE, timber_moisture
from core.moisture.transient.outcome import Outcome

Array = NDArray[np.float64]
State = Literal["within limits", "marginal", "over a limit"]
MOULD_LIMITS = {"inside": 3.0, "room": 1.0}
ACCUMULATION_LIMIT = 0.01
MARGIN = 0.8
NOT_JUDGED = ["frost", "condensate", "metal", "leaks", "air paths"]
MONTHS = (
    "January", "February", "March", "April", "May", "June",
    "July", "August", "September", "October", "November", "December",
)  # fmt: skip
REASONS = {
    "mould": "Mould growth index, Hukka & Viitanen 1999 and Ojanen et al. 2010 (coefficients from memory): "
    "3 inside a build-up, 1 on a face toward the room.",
    "wood moisture": "No spell over 8 weeks above 20 % (18 % for wood-based sheets), and never over 25 % while above 10 °C: "
    "below it decay fungi are not expected to grow.",
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
    not_judged: list[str] = field(default_factory=lambda: list(NOT_JUDGED))
    notes: list[str] = field(default_factory=list)

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


def judge(model: Model, outcome: Outcome) -> Verdict:
    """The verdict of a finished run. Every judgement names place and date."""
    judgements: list[Judgement] = []
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
    judgements.append(_accumulation(outcome))
    judgements.sort(key=lambda j: -j.share)
    worst = judgements[0]
    inside = [p for p in points if p.role in ("inside", "room")]
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
        notes=_notes(model, outcome, points),
    )


def _figure(judgement: Judgement) -> str:
    """“mould 3.3”, “wood moisture 31 %”, “wood moisture, 71 days”."""
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
    per_day = int(round(86400.0 / outcome.record_step_s))
    spell_share = moisture.longest_spell_days / LONGEST_SPELL_DAYS
    warm_share = moisture.warm_peak_percent / NEVER_ABOVE
    # 25 % while warm is near in any damp wood; it counts from 20 % of the way, like every limit.
    if warm_share > 1.0 or (warm_share > spell_share and warm_share >= MARGIN):
        when = date_of(outcome, moisture.warm_peak_day * per_day)
        sentence = f"{layer.name.capitalize()}: {moisture.warm_peak_percent:.0f} % water while above 10 °C on {when}; limit 25 %."
        return Judgement(
            "wood moisture", layer.name, layer.layer_id, moisture.warm_peak_percent, NEVER_ABOVE, "%", warm_share,
            _state(warm_share), when, sentence,
        )  # fmt: skip
    when = date_of(outcome, moisture.spell_ends_day * per_day)
    if moisture.longest_spell_days:
        sentence = (
            f"{layer.name.capitalize()}: above {moisture.limit:.0f} % water for {moisture.longest_spell_days} days "
            f"(to {when}); limit {LONGEST_SPELL_DAYS} days."
        )
    else:
        top = int(moisture.daily_percent.argmax())
        when = date_of(outcome, top * per_day)
        sentence = (
            f"{layer.name.capitalize()}: at most {moisture.daily_percent[top]:.0f} % water ({when}); "
            f"limit {moisture.limit:.0f} % for 8 weeks."
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
    rained = outcome.driven_rain_kg_m2 > 0.0  # a roof covering sheds all of it, a sheltered face gets none
    parts = [(taken, rain), (from_room, room)] if rained else [(from_room, room)]
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
    notes.append(
        "One run, one generated weather year; the clear path without framing. Salts and beam ends are not modelled."
    )
    return notes

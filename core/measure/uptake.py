"""Water uptake of a face from a tube or a wetted pad: volume, time and area, freed of what spreads sideways."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field, model_validator

from core.case import Positive, Strict
from core.errors import OutOfRange
from core.say import Said, said, uptake

SIDEWAYS = 0.75  # γ of Haverkamp et al. 1994: how much a small wet disc feeds the stone beside it; 0.6 to 0.8
MOST_A = 2.0  # kg/(m² √s): beyond what any stone or brick draws
SPREAD = 0.15  # share of the last reading by which readings may leave the root of time
SIDEWAYS_LARGE = 1.5  # a wet disc that drew so many times what its face alone would have


class UptakeReading(Strict):
    """Water taken up through `area_cm2` of a face: (minutes from the first wetting, ml in all), one row or several.

    layer: the id of the layer in the construction as found.
    """

    layer: Annotated[str, Field(min_length=1, max_length=40)]
    area_cm2: Annotated[float, Field(gt=0.5, le=20000)] = 5.7
    rows: Annotated[list[tuple[Positive, Positive]], Field(min_length=1, max_length=60)]

    @model_validator(mode="after")
    def _rise(self) -> UptakeReading:
        for before, after in zip(self.rows, self.rows[1:], strict=False):
            if after[0] <= before[0] or after[1] < before[1]:
                raise ValueError(
                    f"{after[0]:g} min with {after[1]:g} ml follows {before[0]:g} min with {before[1]:g} ml; "
                    "give minutes and millilitres from the first wetting, in their order"
                )
        if self.rows[-1][0] > 1440 or self.rows[-1][1] > 10000:
            raise ValueError("a reading ends within 1440 minutes and 10 000 ml")
        return self


@dataclass(frozen=True)
class MeasuredUptake:
    """a_value: along one direction [kg/(m² √s)]; as_read: without the water that spread sideways; notes on its worth."""

    a_value_kg_m2s05: float
    as_read_kg_m2s05: float
    notes: list[Said]


def measured_uptake(reading: UptakeReading, free_saturation_kg_m3: float) -> MeasuredUptake:
    """A by least squares of i = A √t + γ A² t / (R w_f), with R the radius of a disc of the wetted area.

    Source: Haverkamp, Ross, Smettem and Parlange 1994, three-dimensional infiltration from a disc, short to middle times.
    Raises OutOfRange where more was drawn than any stone takes, or free saturation is not positive.
    """
    from scipy.optimize import least_squares

    if free_saturation_kg_m3 <= 0.0:
        raise OutOfRange("a layer that holds no free water has no uptake", "layer")
    area = reading.area_cm2 * 1e-4
    radius = math.sqrt(area / math.pi)
    times = [60.0 * minutes for minutes, _ in reading.rows]
    drawn = [ml * 1e-3 / area for _, ml in reading.rows]
    side = SIDEWAYS / (radius * free_saturation_kg_m3)

    def model(a: float, t: float) -> float:
        return a * math.sqrt(t) + side * a * a * t

    as_read = sum(i * math.sqrt(t) for i, t in zip(drawn, times, strict=True)) / sum(times)
    fit = least_squares(
        lambda x: [model(float(x[0]), t) - i for i, t in zip(drawn, times, strict=True)],
        [as_read],
        bounds=(0.0, math.inf),
        x_scale=max(as_read, 1e-6),
    )
    a_value = float(fit.x[0])
    if a_value > MOST_A:
        raise OutOfRange(
            f"{uptake(a_value).metric} is more than any stone draws; check water, area and time, and the seal", "rows"
        )
    return MeasuredUptake(
        a_value, as_read, _notes(reading, drawn, [model(a_value, t) for t in times], as_read / a_value)
    )


def _notes(reading: UptakeReading, drawn: Sequence[float], fitted: Sequence[float], sideways: float) -> list[Said]:
    notes = []
    if len(drawn) == 1:
        notes.append(said("one reading: whether it follows the root of time is not known"))
    elif max(abs(a - b) for a, b in zip(drawn, fitted, strict=True)) > SPREAD * drawn[-1]:
        notes.append(
            said("the readings leave the root of time: a joint, a crack, a film that fills, or a leaking seal")
        )
    if sideways > SIDEWAYS_LARGE:
        notes.append(said("most of it spread sideways: a shorter time or a larger area says more"))
    if reading.area_cm2 < 20.0:
        notes.append(said("a spot: measure stones and joints apart, three of each"))
    return notes


def together(a_values: Sequence[float]) -> float:
    """One A for a face measured at several places: the geometric mean. Raises OutOfRange without any."""
    if not a_values or min(a_values) <= 0.0:
        raise OutOfRange("no uptake was measured", "uptake")
    return math.exp(sum(math.log(a) for a in a_values) / len(a_values))

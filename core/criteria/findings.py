"""What a run says in plain numbers: findings. They judge nothing; `verdict` does, from them and from the limits.

Two stretches of time are never mixed: *drying in*, from the day of the works until the cycle repeats, and *for good*, the
settled cycle (the last year of the run).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from core.assembly.model import Model
from core.case import Strict
from core.climate.data import DAYS_IN_MONTHS, MONTHS, first_hour, month_of_hours
from core.moisture.transient.outcome import Outcome

Array = NDArray[np.float64]
Phase = Literal["for good", "drying in"]


class Day(Strict):
    """A day of a run: its year, counted from the works, and its date."""

    year: int
    month: int
    day: int

    @property
    def words(self) -> str:
        """“23 February”."""
        return f"{self.day} {MONTHS[self.month]}"

    def in_phase(self, phase: Phase) -> str:
        """With its year while the wall dries in; the settled year is every year."""
        return self.words if phase == "for good" else f"{self.words} of year {self.year}"


class Peak(Strict):
    """The highest value of a stretch of time, and its day."""

    value: float
    on: Day


class Finding(Strict):
    """One criterion at one place of one run."""

    criterion: str
    place: str
    layer_id: str
    judged: bool = True
    why_not: str = ""


class Point(Strict):
    """One watch point in the settled year: what is reported whether or not it is judged."""

    name: str
    role: Literal["face", "masonry", "inside", "cavity", "room"]
    layer_id: str
    judged: bool
    why_not: str
    bonded: bool
    worst_month: str
    worst_month_rh: float
    driest_month_rh: float
    mould: float


@dataclass(frozen=True)
class Run:
    """A finished run as the criteria look at it."""

    model: Model
    outcome: Outcome

    def day_of(self, record: int) -> Day:
        """The day of a record."""
        outcome = self.outcome
        number, within = divmod(record, outcome.records_per_pass)
        hour = (first_hour(outcome.case.time.start) + int(within * outcome.record_step_s // 3600)) % 8760
        day = hour // 24
        for month, length in enumerate(DAYS_IN_MONTHS):
            if day < length:
                return Day(year=number + 1, month=month, day=day + 1)
            day -= length
        raise AssertionError("a day beyond the year")

    @cached_property
    def per_day(self) -> int:
        """Records a day."""
        return int(round(86400.0 / self.outcome.record_step_s))

    def stretch(self, phase: Phase) -> slice:
        """Records of a phase; drying in is empty in a run of one pass."""
        last = self.outcome.last_pass.start
        return slice(last, len(self.outcome.z)) if phase == "for good" else slice(0, last)

    def months(self, values: Array) -> Array:
        """Twelve means of the settled year."""
        start = first_hour(self.outcome.case.time.start)
        months = np.roll(month_of_hours(), -start)
        step = max(1, int(round(self.outcome.record_step_s / 3600.0)))
        last = values[self.outcome.last_pass]
        of_record = months[::step][: self.outcome.records_per_pass]
        return np.array([last[of_record == month].mean() for month in range(12)])

    def daily(self, values: Array) -> Array:
        """Means by day over the first axis."""
        days = len(values) // self.per_day
        return np.asarray(values[: days * self.per_day].reshape(days, self.per_day, *values.shape[1:]).mean(axis=1))


def longest_spell(above: NDArray[np.bool_], ring: bool = False) -> tuple[int, int]:
    """(length, last index) of the longest run of True; (0, 0) without one. ring: the year closes on itself."""
    if ring and above.all():
        return len(above), len(above) - 1
    twice = np.concatenate((above, above)) if ring else above
    longest = current = ends = 0
    for index, value in enumerate(twice):
        current = current + 1 if value else 0
        if current > longest:
            longest, ends = current, index % len(above)
    return longest, ends

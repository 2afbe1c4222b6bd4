"""Series with real dates, beside the ring year: what loggers and stations write, and how it is laid on a year."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np
from numpy.typing import NDArray

from core.climate.data import HOURS_PER_YEAR
from core.errors import CaseRefused

Array = NDArray[np.float64]
HOUR = timedelta(hours=1)


@dataclass(frozen=True)
class DatedSeries:
    """Hourly values, each of the hour that begins at `start` + its index; NaN where nothing was measured.

    values[column, hour]; start: in the standard time of the place, without summer time.
    """

    start: datetime
    values: Array

    @property
    def hours(self) -> int:
        return int(self.values.shape[1])

    def date_of(self, hour: int) -> datetime:
        return self.start + hour * HOUR

    def last_year(self) -> DatedSeries:
        """Its last 365 days, the leap day not counted. Raises CaseRefused where it is shorter."""
        first = self.hours
        left = HOURS_PER_YEAR
        while left and first:
            first -= 1
            left -= not _is_leap_day(self.date_of(first))
        if left:
            raise CaseRefused(
                f"the dates reach from {self.start:%d %b %Y} to {self.date_of(self.hours - 1):%d %b %Y}; a year is needed",
                "time",
            )
        return DatedSeries(self.date_of(first), self.values[:, first:])

    def on_the_ring(self) -> Array:
        """values[column, 8760] from 1 January, whatever hour it began with. Raises CaseRefused unless it is one year."""
        keep = np.array([not _is_leap_day(self.date_of(hour)) for hour in range(self.hours)])
        values = self.values[:, keep]
        if values.shape[1] != HOURS_PER_YEAR:
            raise CaseRefused(f"{values.shape[1]} hours are no year of {HOURS_PER_YEAR}", "time")
        return np.roll(values, hour_of_year(self.date_of(int(np.flatnonzero(keep)[0]))), axis=1)


def _is_leap_day(when: datetime) -> bool:
    return when.month == 2 and when.day == 29


def hour_of_year(when: datetime) -> int:
    """0 … 8759 from 1 January; the leap day has no hour of its own and is not asked for."""
    return int((when.replace(year=2001) - datetime(2001, 1, 1)) / HOUR)


def dated(times: list[datetime], values: Array) -> DatedSeries:
    """The series of rows [column, row] with their times: what is missing becomes NaN, what stands twice its mean.

    Raises CaseRefused where the rows are not hourly, or their times go back by more than an hour.
    """
    steps = np.array([(later - sooner).total_seconds() for sooner, later in zip(times, times[1:], strict=False)])
    usual = float(np.median(steps)) if len(steps) else 0.0
    if abs(usual - 3600.0) > 60.0:
        raise CaseRefused(
            f"the rows stand {usual / 60.0:.0f} min apart; make them hourly first (means, and sums of rain)", "time"
        )
    back = np.flatnonzero(steps < -3660.0)
    if len(back):
        at = int(back[0])
        raise CaseRefused(f"the times go back from {times[at]} to {times[at + 1]}", f"row {at + 2}")
    start = min(times).replace(minute=0, second=0, microsecond=0)
    at_hour = np.array([int((when - start + HOUR / 2) / HOUR) for when in times])
    count, columns = int(at_hour.max()) + 1, values.shape[0]
    sums, known = np.zeros((columns, count)), np.zeros((columns, count))
    for column in range(columns):
        there = np.isfinite(values[column])
        np.add.at(sums[column], at_hour[there], values[column][there])
        np.add.at(known[column], at_hour[there], 1.0)
    return DatedSeries(start, np.where(known > 0.0, sums / np.maximum(known, 1.0), np.nan))

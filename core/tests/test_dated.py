"""Series with real dates: laid on the ring year by their dates, whatever they begin with, lack or say twice."""

from __future__ import annotations

from datetime import datetime, timedelta
from unittest import TestCase

import numpy as np

from core.climate.data import HOURS_PER_YEAR, parse_climate
from core.climate.dated import DatedSeries, dated, hour_of_year
from core.climate.importer import Mapping, read
from core.errors import CaseRefused


def hours(start: datetime, count: int) -> list[datetime]:
    return [start + timedelta(hours=i) for i in range(count)]


def place(when: datetime) -> int:
    return -1 if (when.month, when.day) == (2, 29) else hour_of_year(when)


def rows(times: list[datetime], stamp: str = "%Y-%m-%d %H:%M") -> bytes:
    """A logger's file whose temperature is its hour of the year in hundredths, so that its place can be told."""
    return "\n".join(f"{when:{stamp}};{place(when) / 200.0:.3f};60" for when in times).encode()


MAPPING = Mapping.model_validate(
    {
        "kind": "indoor",
        "label": "logger",
        "delimiter": ";",
        "header_lines": 0,
        "columns": [
            {"column": 0, "meaning": "time", "unit": "text"},
            {"column": 1, "meaning": "temperature", "unit": "°C"},
            {"column": 2, "meaning": "relative humidity", "unit": "%"},
        ],
    }
)
RING = np.arange(HOURS_PER_YEAR) / 200.0


class OnTheRing(TestCase):
    def test_a_year_from_any_day_stands_from_january(self) -> None:
        for start in (datetime(2023, 1, 1), datetime(2023, 10, 3, 7), datetime(2023, 3, 1)):
            with self.subTest(start):
                times = hours(start, HOURS_PER_YEAR + (24 if start.month > 2 else 0))  # over 29 February 2024
                values = np.array([[float(place(t)) for t in times]])
                ring = DatedSeries(start, values).on_the_ring()
                np.testing.assert_array_equal(ring[0], np.arange(HOURS_PER_YEAR))

    def test_the_last_year_of_a_longer_series_without_its_leap_day(self) -> None:
        series = dated(hours(datetime(2022, 12, 24), 500 * 24), np.zeros((1, 500 * 24)))
        year = series.last_year()
        self.assertEqual((year.start, year.hours), (datetime(2023, 5, 7), 366 * 24))
        plain = dated(hours(datetime(2021, 3, 10), 400 * 24), np.zeros((1, 400 * 24))).last_year()
        self.assertEqual((plain.start, plain.hours), (datetime(2021, 4, 14), 365 * 24))

    def test_what_is_missing_is_open_and_what_stands_twice_is_its_mean(self) -> None:
        times = hours(datetime(2023, 1, 1), 6)
        del times[3]
        times.insert(2, times[1])
        series = dated(times, np.array([[0.0, 1.0, 3.0, 4.0, 5.0, 6.0]]))
        np.testing.assert_array_equal(series.values[0], [0.0, 2.0, 4.0, np.nan, 5.0, 6.0])

    def test_refused_with_what_is_wrong(self) -> None:
        ten = [datetime(2023, 1, 1) + timedelta(minutes=10 * i) for i in range(60)]
        back = hours(datetime(2023, 1, 2), 30) + hours(datetime(2023, 1, 1), 30)
        for times, words in ((ten, "stand 10 min apart"), (back, "go back from 2023-01-03 05:00:00")):
            with self.assertRaisesRegex(CaseRefused, words):
                dated(times, np.zeros((1, len(times))))
        with self.assertRaisesRegex(CaseRefused, "from 01 Jan 2023 to 01 Jul 2023"):
            dated(hours(datetime(2023, 1, 1), 181 * 24 + 1), np.zeros((1, 181 * 24 + 1))).last_year()


class Imported(TestCase):
    def test_a_loggers_file_with_more_than_a_year_and_lost_hours(self) -> None:
        times = hours(datetime(2023, 2, 11, 13), 430 * 24)
        lost = times[6000:6004] + times[9000:9001]
        for stamp in ("%Y-%m-%d %H:%M", "%d.%m.%Y %H:%M:%S", "%d/%m/%Y %H:%M"):
            with self.subTest(stamp):
                raw, report = read(rows([t for t in times if t not in lost], stamp), MAPPING)
                got = parse_climate("own-x", raw)["temperature_c"]
                np.testing.assert_allclose(got, RING, atol=0.02)
                self.assertEqual(report.filled["temperature"], 5)
                self.assertIn("the year from 16 Apr 2023 to 16 Apr 2024", report.said[0])

    def test_a_gap_that_is_too_long_or_a_year_without_dates_is_refused_as_before(self) -> None:
        times = hours(datetime(2023, 1, 1), 400 * 24)
        with self.assertRaisesRegex(CaseRefused, "missing for 30 hours"):
            read(rows(times[:5000] + times[5030:]), MAPPING)
        numbered = "\n".join(f"{i};5;60" for i in range(9000)).encode()
        with self.assertRaisesRegex(CaseRefused, "the file has 9000 rows"):
            read(numbered, MAPPING)

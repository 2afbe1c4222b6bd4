"""Importing hourly files: any delimiter, decimal sign and unit gives the same year back; and what is filled or estimated."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from core.climate.data import HOURS_PER_YEAR, derived, parse_climate, shipped
from core.climate.importer import UNITS, Mapping, decode, look, read
from core.errors import CaseRefused
from core.physics.constants import ZERO_CELSIUS
from core.physics.moist_air import saturation_pressure

SAMPLE = 48  # hours of the sample year repeated, so that a test file is quick to write


def year() -> dict[str, np.ndarray]:
    climate = shipped("millrace")
    names = ("temperature_c", "relative_humidity", "wind_speed_m_s", "wind_direction_deg", "rain_mm")
    return {name: np.resize(climate[name][4000 : 4000 + SAMPLE], HOURS_PER_YEAR) for name in names}


def text(columns: dict[str, np.ndarray], delimiter: str, decimal: str, header: str) -> bytes:
    table = np.stack(list(columns.values()), axis=1)
    lines = [delimiter.join(f"{value:.6g}" for value in row) for row in table]
    body = "\n".join(lines)
    return f"{header}{body}\n".replace("." if decimal == "," else "\0", decimal).encode()


def mapping(columns: list[tuple[str, str]], **changes: Any) -> Mapping:
    maps = [{"column": i, "meaning": meaning, "unit": unit} for i, (meaning, unit) in enumerate(columns)]
    place = {"latitude_deg": 50.0, "longitude_deg": 0.0, "utc_offset_h": 0.0}
    fields = {"label": "x", "delimiter": ";", "header_lines": 0, "columns": maps, **place, **changes}
    return Mapping.model_validate(fields)


def shown(values: np.ndarray, meaning: str, unit: str) -> np.ndarray:
    """Values of the core in the unit of a file."""
    factor, offset = UNITS[meaning][unit]
    return (values - offset) / factor


class RoundTrip(TestCase):
    @settings(deadline=None, max_examples=8)
    @given(
        st.sampled_from([(";", "."), (";", ","), ("\t", ","), (",", "."), ("|", "."), (" ", ".")]),
        st.sampled_from(list(UNITS["temperature"])),
        st.sampled_from(list(UNITS["relative humidity"])),
        st.sampled_from(list(UNITS["wind speed"])),
        st.sampled_from(list(UNITS["rain"])),
    )
    def test_the_same_year_comes_back(
        self, signs: tuple[str, str], temperature: str, humidity: str, wind: str, rain: str
    ) -> None:
        source = year()
        meanings = [
            ("temperature", temperature),
            ("relative humidity", humidity),
            ("wind speed", wind),
            ("wind direction", "°"),
            ("rain", rain),
        ]
        columns = {m: shown(values, m, unit) for (m, unit), values in zip(meanings, source.values(), strict=True)}
        raw = text(columns, *signs, header="")
        asked = mapping(meanings, delimiter=signs[0], decimal=signs[1])
        climate = parse_climate("own-x", read(raw, asked)[0])
        for name, values in source.items():
            np.testing.assert_allclose(climate[name], values, rtol=2e-4, atol=2e-3)

    def test_humidity_from_dew_point_and_from_vapour_pressure(self) -> None:
        source = year()
        pressure = source["relative_humidity"] * saturation_pressure(source["temperature_c"] + ZERO_CELSIUS)
        ratio = np.log(pressure / 610.5)
        dew = 237.3 * ratio / (17.269 - ratio)
        for meaning, unit, values in (("dew point", "°C", dew), ("vapour pressure", "hPa", pressure / 100.0)):
            with self.subTest(meaning):
                raw = text({"t": source["temperature_c"], "m": values}, ";", ".", "")
                climate_text, report = read(raw, mapping([("temperature", "°C"), (meaning, unit)]))
                found = parse_climate("own-x", climate_text)["relative_humidity"]
                np.testing.assert_allclose(found, source["relative_humidity"], atol=2e-3)
                self.assertTrue(any(meaning in words for words in report.estimated))

    def test_beam_and_diffuse_from_global(self) -> None:
        """Split by Erbs, what is put together again on the level is the global radiation of the file."""
        climate = shipped("millrace")
        cosine = np.maximum(np.cos(np.radians(climate["sun_zenith_deg"])), 0.0)
        whole = climate["beam_normal_w_m2"] * cosine + climate["diffuse_horizontal_w_m2"]
        columns = {"t": climate["temperature_c"], "rh": climate["relative_humidity"] * 100.0, "g": whole}
        asked = mapping(
            [("temperature", "°C"), ("relative humidity", "%"), ("global horizontal", "W/m²")],
            latitude_deg=climate.latitude,
            longitude_deg=climate.longitude,
            utc_offset_h=climate.utc_offset,
        )
        found = parse_climate("own-x", read(text(columns, ";", ".", ""), asked)[0])
        again = found["beam_normal_w_m2"] * cosine + found["diffuse_horizontal_w_m2"]
        high = climate["sun_zenith_deg"] < 80.0
        self.assertLess(float(np.abs(again - whole)[high].mean()), 3.0)


class Placed(TestCase):
    COLUMNS = [("temperature", "°C"), ("relative humidity", "%")]

    def test_weather_without_its_place_is_refused_and_says_why(self) -> None:
        for missing in ("latitude_deg", "longitude_deg", "utc_offset_h"):
            with self.subTest(missing), self.assertRaisesRegex(ValidationError, "say where it was measured"):
                mapping(self.COLUMNS, **{missing: None})

    def test_a_room_needs_no_place(self) -> None:
        room = mapping(self.COLUMNS, kind="indoor", latitude_deg=None, longitude_deg=None, utc_offset_h=None)
        self.assertEqual(room.place, (0.0, 0.0, 0.0))

    def test_the_place_decides_where_the_sun_stands(self) -> None:
        source = year()
        columns = {"t": source["temperature_c"], "rh": source["relative_humidity"] * 100.0}
        heights = []
        for latitude in (35.0, 60.0):
            found = read(text(columns, ";", ".", ""), mapping(self.COLUMNS, latitude_deg=latitude))[0]
            heights.append(90.0 - float(parse_climate("own-x", found)["sun_zenith_deg"].min()))
        self.assertAlmostEqual(heights[0] - heights[1], 25.0, delta=1.5)
        self.assertAlmostEqual(heights[0], 90.0 - 35.0 + 23.4, delta=2.0)


class Gaps(TestCase):
    def raw(self, holes: dict[str, range]) -> bytes:
        source = year()
        rows = []
        for hour in range(HOURS_PER_YEAR):
            cells = [
                "" if hour in holes.get(name, ()) else f"{source[name][hour]:.4f}"
                for name in ("temperature_c", "relative_humidity", "rain_mm")
            ]
            rows.append(";".join(cells))
        return "\n".join(rows).encode()

    COLUMNS = [("temperature", "°C"), ("relative humidity", "0 to 1"), ("rain", "mm")]

    def test_short_gaps_are_filled_and_told(self) -> None:
        holes = {"temperature_c": range(100, 104), "rain_mm": range(200, 206)}
        found, report = read(self.raw(holes), mapping(self.COLUMNS))
        self.assertEqual(report.filled, {"temperature": 4, "rain": 6})
        climate, source = parse_climate("own-x", found), year()
        line = np.interp([101], [99, 104], source["temperature_c"][[99, 104]])
        self.assertAlmostEqual(float(climate["temperature_c"][101]), float(line[0]), places=2)
        self.assertTrue(any("no wind" in words for words in report.said))

    def test_a_long_gap_is_refused_with_its_day(self) -> None:
        with self.assertRaisesRegex(CaseRefused, "7 hours from day 5, hour 4"):
            read(self.raw({"relative_humidity": range(100, 107)}), mapping(self.COLUMNS))

    def test_air_far_over_saturation_is_a_wrong_column(self) -> None:
        source = year()
        raw = text({"t": source["temperature_c"], "d": source["temperature_c"] + 2.0}, ";", ".", "")
        with self.assertRaisesRegex(CaseRefused, "check the columns"):
            read(raw, mapping([("temperature", "°C"), ("dew point", "°C")]))

    def test_a_leap_year_loses_its_leap_day(self) -> None:
        source = year()
        columns = {
            name: np.resize(source[name], HOURS_PER_YEAR + 24) for name in ("temperature_c", "relative_humidity")
        }
        found, report = read(text(columns, ";", ".", ""), mapping(self.COLUMNS[:2]))
        self.assertIn("the leap day was left out", report.said)
        self.assertEqual(parse_climate("own-x", found).hours, HOURS_PER_YEAR)

    def test_rain_and_wind_without_a_direction_are_refused(self) -> None:
        source = year()
        columns = {name: source[name] for name in ("temperature_c", "relative_humidity", "rain_mm", "wind_speed_m_s")}
        with self.assertRaisesRegex(CaseRefused, "without wind direction"):
            read(text(columns, ";", ".", ""), mapping([*self.COLUMNS, ("wind speed", "m/s")]))


class Looks(TestCase):
    def test_units_are_guessed_by_name_and_range(self) -> None:
        source = year()
        columns = {
            "Temperature F": source["temperature_c"] * 1.8 + 32.0,
            "RH": source["relative_humidity"],
            "Wind mph": source["wind_speed_m_s"] / 0.44704,
            "Direction": source["wind_direction_deg"],
            "Precip in": source["rain_mm"] / 25.4,
        }
        seen = look(text(columns, ",", ".", header=",".join(columns) + "\n"))
        self.assertEqual(
            [(one.meaning, one.unit) for one in seen.columns],
            [("temperature", "°F"), ("relative humidity", "0 to 1"), ("wind speed", "mph"), ("wind direction", "°"), ("rain", "in")],
        )  # fmt: skip
        self.assertEqual((seen.delimiter, seen.header_lines, seen.rows), (",", 1, HOURS_PER_YEAR))

    def test_bytes_that_are_no_text_are_refused(self) -> None:
        with self.assertRaises(CaseRefused):
            decode(b"PK\x03\x04\0\0\0")
        self.assertEqual(decode("Prüfung °C".encode("latin-1")), "Prüfung °C")
        self.assertEqual(decode("°C".encode("utf-16")), "°C")

    def test_a_file_of_this_program_that_was_cut_is_refused(self) -> None:
        for raw in (b"", b"# label: x\n1,2,3\n", b"\xff\xfe\x00"):
            with self.assertRaises(CaseRefused):
                parse_climate("own-x", raw)


class BadYears(TestCase):
    def test_the_derived_year_is_the_source_shifted(self) -> None:
        source = shipped("corrie")
        bad = derived(source, -1.5, 1.3)
        np.testing.assert_allclose(bad["temperature_c"], source["temperature_c"] - 1.5)
        np.testing.assert_allclose(bad["rain_mm"], source["rain_mm"] * 1.3)
        np.testing.assert_array_equal(bad["relative_humidity"], source["relative_humidity"])
        self.assertLess(float(bad.vapour_pressure.mean()), float(source.vapour_pressure.mean()))
        self.assertLess(float(bad["sky_longwave_w_m2"].mean()), float(source["sky_longwave_w_m2"].mean()))
        self.assertNotEqual(bad.sha256, source.sha256)
        self.assertIs(derived(source, 0.0, 1.0), source)

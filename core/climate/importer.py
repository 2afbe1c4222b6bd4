"""Measured weather or indoor air from any delimited hourly file: looked at, mapped, checked, and written as a climate.

Nothing is guessed in silence: what is guessed is offered, what is filled or estimated is listed in the report.
"""

from __future__ import annotations

import csv
import hashlib
import io
import re
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from core.case import Strict
from core.climate.data import HOURS_PER_YEAR
from core.climate.dated import dated
from core.errors import CaseRefused
from core.physics.constants import STEFAN_BOLTZMANN, ZERO_CELSIUS
from core.physics.moist_air import saturation_pressure

Array = NDArray[np.float64]
Kind = Literal["weather", "indoor"]
Meaning = Literal[
    "temperature",
    "relative humidity",
    "dew point",
    "vapour pressure",
    "global horizontal",
    "diffuse horizontal",
    "beam normal",
    "wind speed",
    "wind direction",
    "rain",
    "sky long-wave",
    "time",
    "leave out",
]
# Bytes that no text file has, whatever its encoding.
_CONTROL = re.compile(rb"[\x00-\x08\x0e-\x1a\x1c-\x1f]")
MOST_LINES, LONGEST_LINE = 120_000, 20_000  # a year in steps of five minutes; 500 columns
DELIMITERS = (";", "\t", ",", "|", " ")
LONGEST_GAP_H = 6
MOST_DATED_ROWS = 6 * (HOURS_PER_YEAR + 24)
LOOKED_AT = 2000  # rows from which columns are guessed
LEAP_DAY = (31 + 28) * 24
UNITS: dict[str, dict[str, tuple[float, float]]] = {
    # unit: factor and offset to °C, 1, Pa, W/m², m/s, degrees, mm
    "temperature": {"°C": (1.0, 0.0), "°F": (5.0 / 9.0, -160.0 / 9.0), "K": (1.0, -ZERO_CELSIUS)},
    "dew point": {"°C": (1.0, 0.0), "°F": (5.0 / 9.0, -160.0 / 9.0), "K": (1.0, -ZERO_CELSIUS)},
    "relative humidity": {"%": (0.01, 0.0), "0 to 1": (1.0, 0.0)},
    "vapour pressure": {"Pa": (1.0, 0.0), "hPa": (100.0, 0.0), "kPa": (1000.0, 0.0)},
    "global horizontal": {"W/m²": (1.0, 0.0), "kJ/m²h": (1.0 / 3.6, 0.0)},
    "diffuse horizontal": {"W/m²": (1.0, 0.0), "kJ/m²h": (1.0 / 3.6, 0.0)},
    "beam normal": {"W/m²": (1.0, 0.0), "kJ/m²h": (1.0 / 3.6, 0.0)},
    "wind speed": {"m/s": (1.0, 0.0), "km/h": (1.0 / 3.6, 0.0), "mph": (0.44704, 0.0), "kn": (0.514444, 0.0)},
    "wind direction": {"°": (1.0, 0.0)},
    "rain": {"mm": (1.0, 0.0), "in": (25.4, 0.0), "0.1 mm": (0.1, 0.0)},
    "sky long-wave": {"W/m²": (1.0, 0.0)},
    "time": {"text": (1.0, 0.0)},
    "leave out": {"": (1.0, 0.0)},
}
# What an hour may be [°C, 1, Pa, W/m², m/s, degrees, mm]; outside it a value is an error of the file.
RANGES: dict[str, tuple[float, float]] = {
    "temperature": (-60.0, 60.0),
    "dew point": (-80.0, 40.0),
    "relative humidity": (0.0, 1.05),
    "vapour pressure": (1.0, 8000.0),
    "global horizontal": (-10.0, 1500.0),
    "diffuse horizontal": (-10.0, 1000.0),
    "beam normal": (-10.0, 1300.0),
    "wind speed": (0.0, 75.0),
    "wind direction": (0.0, 360.0),
    "rain": (0.0, 200.0),
    "sky long-wave": (50.0, 600.0),
}
HINTS: list[tuple[str, Meaning]] = [
    (r"dew|taupunkt", "dew point"),
    (r"(rel.*hum|humid|^rh|rh$|feuchte|r\.?h\.?)", "relative humidity"),
    (r"vap|dampf", "vapour pressure"),
    (r"diff", "diffuse horizontal"),
    (r"beam|direct.*norm|dni", "beam normal"),
    (r"glob|ghi|solar|short|irrad", "global horizontal"),
    (r"long|infra|gegen|sky", "sky long-wave"),
    (r"(wind.*(dir|from|deg|°))|(^(wd|dir)\b)|direction", "wind direction"),
    (r"wind|speed|^ws\b|^ff", "wind speed"),
    (r"rain|precip|niederschlag", "rain"),
    (r"date|time|stamp|hour|day|month|year", "time"),
    (r"temp|^t\b|air|^tt|dry.?bulb|°c|°f", "temperature"),
]


class ColumnMap(Strict):
    """What a column holds, and in which unit."""

    column: Annotated[int, Field(ge=0, le=500)]
    meaning: Meaning
    unit: str

    @model_validator(mode="after")
    def _unit_fits(self) -> ColumnMap:
        if self.unit not in UNITS[self.meaning]:
            raise ValueError(f"{self.meaning} has no unit “{self.unit}”; choose {', '.join(UNITS[self.meaning])}")
        return self


class Mapping(Strict):
    """How a file is read. header_lines: lines before the first row of values; missing: the sign of a missing value."""

    kind: Kind = "weather"
    label: Annotated[str, Field(min_length=1, max_length=80)]
    delimiter: Literal[";", "\t", ",", "|", " "]
    decimal: Literal[".", ","] = "."
    header_lines: Annotated[int, Field(ge=0, le=200)]
    columns: Annotated[list[ColumnMap], Field(min_length=1, max_length=500)]
    missing: Annotated[str, Field(max_length=20)] = ""
    first_hour: Annotated[int, Field(ge=0, lt=HOURS_PER_YEAR)] = 0
    latitude_deg: Annotated[float, Field(ge=-90, le=90)] | None = None
    longitude_deg: Annotated[float, Field(ge=-180, le=180)] | None = None
    utc_offset_h: Annotated[float, Field(ge=-12, le=14)] | None = None

    @property
    def place(self) -> tuple[float, float, float]:
        """Latitude, longitude [°, east positive] and offset from UTC [h]; zeros for a room, which has no sun."""
        return self.latitude_deg or 0.0, self.longitude_deg or 0.0, self.utc_offset_h or 0.0

    @model_validator(mode="after")
    def _placed(self) -> Mapping:
        if self.kind == "weather" and None in (self.latitude_deg, self.longitude_deg, self.utc_offset_h):
            raise ValueError(
                "say where it was measured: latitude, longitude (east positive) and hours from UTC; "
                "where the sun stands is computed from them"
            )
        return self

    @model_validator(mode="after")
    def _once(self) -> Mapping:
        used = [one.meaning for one in self.columns if one.meaning not in ("leave out", "time")]
        for meaning in used:
            if used.count(meaning) > 1:
                raise ValueError(f"two columns are mapped to {meaning}; keep one")
        if "temperature" not in used:
            raise ValueError("no column is mapped to temperature")
        if not {"relative humidity", "dew point", "vapour pressure"} & set(used):
            raise ValueError("map a column to relative humidity, dew point or vapour pressure")
        return self


@dataclass(frozen=True)
class Guess:
    """One column as offered: name in the file, meaning, unit, and its range in the first rows."""

    column: int
    name: str
    meaning: Meaning
    unit: str
    least: float | None
    most: float | None


@dataclass(frozen=True)
class Look:
    """What a file looks like before it is mapped. signature: the same for files of one make."""

    delimiter: str
    decimal: str
    header_lines: int
    columns: list[Guess]
    first_rows: list[list[str]]
    rows: int
    signature: str


@dataclass
class Report:
    """What reading did: hours, gaps filled (hours by column), what was estimated, what was left out, yearly figures."""

    hours: int = 0
    filled: dict[str, int] = field(default_factory=dict)
    estimated: list[str] = field(default_factory=list)
    said: list[str] = field(default_factory=list)
    mean_temperature_c: float = 0.0
    mean_rh: float = 0.0
    rain_mm: float = 0.0
    sun_kwh_m2: float = 0.0


def decode(raw: bytes) -> str:
    """The text of a file. Raises CaseRefused for what is no text."""
    wide = raw.startswith((b"\xff\xfe", b"\xfe\xff"))
    if not wide and _CONTROL.search(raw[:65536]):
        raise CaseRefused("this is no text file: it holds bytes no text has; save it as CSV first", "file")
    for encoding in ("utf-8-sig", "utf-16" if wide else "utf-8", "latin-1"):
        try:
            return raw.decode(encoding)
        except UnicodeDecodeError:
            continue
    raise CaseRefused("the text of the file cannot be read; save it as UTF-8", "file")


def _split(line: str, delimiter: str) -> list[str]:
    if delimiter == " ":
        return line.split()
    try:
        return [cell.strip() for cell in next(csv.reader([line], delimiter=delimiter), [])]
    except csv.Error:
        return [cell.strip() for cell in line.split(delimiter)]


def _number(text: str, decimal: str) -> float | None:
    text = text.replace(",", ".") if decimal == "," else text
    try:
        value = float(text)
    except ValueError:
        return None
    return value if np.isfinite(value) else None


def lines_of(raw: bytes) -> list[str]:
    """The lines of a file that hold something. Raises CaseRefused for more or longer ones than a year has."""
    lines = [line for line in decode(raw).splitlines() if line.strip()]
    if len(lines) > MOST_LINES:
        raise CaseRefused(f"the file has {len(lines)} lines; a year by the hour has {HOURS_PER_YEAR}", "rows")
    longest = max(range(len(lines)), key=lambda i: len(lines[i]), default=0)
    if lines and len(lines[longest]) > LONGEST_LINE:
        raise CaseRefused(f"a line has {len(lines[longest])} characters; is this a table?", f"line {longest + 1}")
    return lines


def look(raw: bytes) -> Look:
    """Delimiter, header lines, columns with guesses, first rows. Raises CaseRefused for a file without rows of numbers."""
    lines = lines_of(raw)
    sample = lines[:60]
    best: tuple[int, int, str, str, int] | None = None
    for delimiter in DELIMITERS:
        for decimal in (".", ","):
            if decimal == delimiter:
                continue
            cells = [_split(line, delimiter) for line in sample]
            numbers = [sum(_number(cell, decimal) is not None for cell in row) for row in cells]
            header = next((i for i, count in enumerate(numbers) if count >= 1 and _steady(cells, numbers, i)), None)
            if header is None:
                continue
            score = (min(numbers[header:]), -len(cells[header]), delimiter, decimal, header)
            if best is None or score[:2] > best[:2]:
                best = score
    if best is None or best[0] < 1:
        raise CaseRefused("no rows of numbers were found; the file needs one row for every hour", "file")
    _, _, delimiter, decimal, header = best
    rows = [_split(line, delimiter) for line in lines[header : header + LOOKED_AT]]
    names = _names(lines[:header], delimiter, len(rows[0]))
    columns = [
        _guess(index, name, [row[index] for row in rows if index < len(row)], decimal)
        for index, name in enumerate(names)
    ]
    signature = hashlib.sha256(f"{delimiter}|{decimal}|{names}".encode()).hexdigest()
    return Look(delimiter, decimal, header, _only_once(columns), rows[:8], len(lines) - header, signature)


def _steady(cells: list[list[str]], numbers: list[int], first: int) -> bool:
    """From this row on every row has as many cells and about as many numbers."""
    after = range(first, min(first + 24, len(cells)))
    return all(len(cells[i]) == len(cells[first]) and numbers[i] >= max(1, numbers[first] - 2) for i in after)


def _names(header: list[str], delimiter: str, count: int) -> list[str]:
    for line in reversed(header):
        names = _split(line.lstrip("#"), delimiter)
        if len(names) == count:
            return names
    return [f"column {index + 1}" for index in range(count)]


def _guess(index: int, name: str, texts: list[str], decimal: str) -> Guess:
    numbers = [value for value in (_number(text, decimal) for text in texts) if value is not None and value > -900.0]
    least, most = (min(numbers), max(numbers)) if numbers else (None, None)
    lowered = name.lower()
    meaning: Meaning = "leave out"
    for pattern, meant in HINTS:
        if re.search(pattern, lowered):
            meaning = meant
            break
    if not numbers and meaning != "time":
        meaning = "leave out"
    unit = next(iter(UNITS[meaning]))
    if least is not None and most is not None:
        unit = _guess_unit(meaning, lowered, least, most)
    return Guess(index, name, meaning, unit, least, most)


def _guess_unit(meaning: Meaning, name: str, least: float, most: float) -> str:
    if meaning in ("temperature", "dew point"):
        return "K" if least > 150.0 else "°F" if "f" in re.findall(r"°?([a-z])\b", name) or most > 60.0 else "°C"
    if meaning == "relative humidity":
        return "%" if most > 1.5 else "0 to 1"
    if meaning == "vapour pressure":
        return "kPa" if most < 10.0 else "hPa" if most < 100.0 else "Pa"
    if meaning == "wind speed":
        return "km/h" if "km" in name else "mph" if "mph" in name else "kn" if "kn" in name else "m/s"
    if meaning == "rain":
        return "in" if re.search(r"\bin\b|inch", name) else "mm"
    if meaning in ("global horizontal", "diffuse horizontal", "beam normal"):
        return "kJ/m²h" if "kj" in name or most > 1600.0 else "W/m²"
    return next(iter(UNITS[meaning]))


def _only_once(columns: list[Guess]) -> list[Guess]:
    """A meaning is offered for the first column that looks like it."""
    seen: set[str] = set()
    out = []
    for guess in columns:
        if guess.meaning in seen and guess.meaning not in ("time", "leave out"):
            guess = Guess(guess.column, guess.name, "leave out", "", guess.least, guess.most)
        seen.add(guess.meaning)
        out.append(guess)
    return out


# --- reading --------------------------------------------------------------------------------------


def read(raw: bytes, mapping: Mapping) -> tuple[bytes, Report]:
    """The climate file of this program and a report. Raises CaseRefused naming column and line of what is wrong."""
    report = Report()
    columns = _columns(raw, mapping, report)
    temperature = columns["temperature"]
    humidity = _humidity(columns, report)
    if mapping.kind == "indoor":
        # An indoor series has no weather; the other columns are there and nothing.
        zeros = np.zeros(HOURS_PER_YEAR)
        weather = {name: zeros for name in ("beam_normal_w_m2", "diffuse_horizontal_w_m2", "wind_speed_m_s", "wind_direction_deg", "rain_mm")}  # fmt: skip
        weather["sky_longwave_w_m2"] = STEFAN_BOLTZMANN * (temperature + ZERO_CELSIUS) ** 4
        zenith = azimuth = zeros
    else:
        from core.climate.sun import solar_position

        zenith, azimuth = solar_position(*mapping.place, HOURS_PER_YEAR)
        weather = _weather(columns, temperature, humidity, zenith, report)
    report.hours = HOURS_PER_YEAR
    report.mean_temperature_c, report.mean_rh = float(temperature.mean()), float(humidity.mean())
    report.rain_mm = float(weather["rain_mm"].sum())
    cosine = np.maximum(np.cos(np.radians(zenith)), 0.0)
    report.sun_kwh_m2 = float(
        (weather["beam_normal_w_m2"] * cosine + weather["diffuse_horizontal_w_m2"]).sum() / 1000.0
    )
    table = {"temperature_c": temperature, "relative_humidity": humidity, **weather, "sun_zenith_deg": zenith, "sun_azimuth_deg": azimuth}  # fmt: skip
    out = io.StringIO()
    out.write(f"# label: {mapping.label}\n# origin: imported from a file\n")
    latitude, longitude, offset = mapping.place
    out.write(f"# latitude_deg: {latitude:g}\n# longitude_deg: {longitude:g}\n# utc_offset_h: {offset:g}\n")
    out.write(",".join(table) + "\n")
    np.savetxt(out, np.stack(list(table.values()), axis=1), delimiter=",", fmt="%.5g")
    return out.getvalue().encode(), report


def _columns(raw: bytes, mapping: Mapping, report: Report) -> dict[str, Array]:
    """Every mapped column in the core's units, 8760 hours from 1 January, short gaps filled.

    Rows that are no year are laid by the dates of the time column, where it has them: their last whole year.
    """
    lines = lines_of(raw)[mapping.header_lines :]
    wanted = [one for one in mapping.columns if one.meaning not in ("leave out", "time")]
    whole = len(lines) in (HOURS_PER_YEAR, HOURS_PER_YEAR + 24)
    times = None if whole else _times(lines, mapping)
    if not whole and times is None:
        raise CaseRefused(
            f"the file has {len(lines)} rows after {mapping.header_lines} header lines; a year has {HOURS_PER_YEAR} "
            f"hours, a leap year {HOURS_PER_YEAR + 24}.{_first_break(lines, mapping)} Check the header lines; fill or cut the "
            "file to one year",
            "rows",
        )
    values = np.full((len(wanted), len(lines)), np.nan)
    for number, line in enumerate(lines):
        cells = _split(line, mapping.delimiter)
        for index, one in enumerate(wanted):
            text = cells[one.column] if one.column < len(cells) else ""
            if text == "" or text == mapping.missing or text.lower() in ("nan", "na", "null", "-"):
                continue
            value = _number(text, mapping.decimal)
            if value is None:
                raise CaseRefused(
                    f"“{text[:40]}” is no number; say how a missing value is written, or correct the file",
                    f"line {number + 1 + mapping.header_lines}, {one.meaning}",
                )
            factor, offset = UNITS[one.meaning][one.unit]
            values[index, number] = value * factor + offset
    found: dict[str, Array] = {}
    for index, one in enumerate(wanted):
        _check_range(one, values[index], mapping)
    if times is not None:
        year = dated(times, values).last_year()
        report.said.append(
            f"laid by its dates: the year from {year.start:%d %b %Y} to {year.date_of(year.hours - 1):%d %b %Y}, "
            "times as standard time"
        )
        ring = year.on_the_ring()
        return {one.meaning: _filled(one.meaning, ring[index], report) for index, one in enumerate(wanted)}
    for index, one in enumerate(wanted):
        column = values[index]
        if len(column) > HOURS_PER_YEAR:
            column = np.delete(column, np.s_[LEAP_DAY : LEAP_DAY + 24]) if mapping.first_hour == 0 else column[:HOURS_PER_YEAR]  # fmt: skip
            note = "the leap day was left out" if mapping.first_hour == 0 else "the last day was left out"
            if note not in report.said:
                report.said.append(note)
        found[one.meaning] = np.roll(_filled(one.meaning, column, report), mapping.first_hour)
    return found


def _read_times(lines: list[str], mapping: Mapping) -> tuple[list[str], Any] | None:
    """(cells, pandas times) of the time column, NaT where a cell is none; None without such a column."""
    column = next((one.column for one in mapping.columns if one.meaning == "time"), None)
    if column is None:
        return None
    import pandas as pd

    cells = [(_split(line, mapping.delimiter) + [""] * (column + 1))[column] for line in lines]
    day_first = any(re.match(r"(1[3-9]|2\d|3[01])[./-]", cell) for cell in cells[: 24 * 31 : 24])
    dates = [cell if re.search(r"\d[./-]\d", cell) else "" for cell in cells]  # a bare number is no date
    times = pd.to_datetime(pd.Series(dates), errors="coerce", dayfirst=day_first)
    if times.isna().any():  # not all written alike
        times = pd.to_datetime(pd.Series(dates), errors="coerce", dayfirst=day_first, format="mixed")
    return cells, times


def _times(lines: list[str], mapping: Mapping) -> list[datetime] | None:
    """The time of every row where each has one with its date, and they reach over a year; else None."""
    found = _read_times(lines, mapping) if len(lines) <= MOST_DATED_ROWS else None
    if found is None or not len(lines) or found[1].isna().any() or found[1].dt.tz is not None:
        return None
    times: list[datetime] = [when.to_pydatetime() for when in found[1]]
    return times if max(times) - min(times) >= timedelta(hours=HOURS_PER_YEAR - 1) else None


def _first_break(lines: list[str], mapping: Mapping) -> str:
    """Where the hours of a time column do not follow each other, in words; "" without such a column or break."""
    found = _read_times(lines[: HOURS_PER_YEAR + 48], mapping)
    if found is None:
        return ""
    cells, times = found
    steps = times.diff().dt.total_seconds().to_numpy()
    broken = np.flatnonzero(np.isfinite(steps) & (np.abs(steps - 3600.0) > 60.0))
    if not len(broken):
        return ""
    at = int(broken[0])
    line = at + 1 + mapping.header_lines
    return f" The hours break {len(broken)} times, first before line {line}: “{cells[at - 1]}”, then “{cells[at]}”."


def _check_range(one: ColumnMap, column: Array, mapping: Mapping) -> None:
    least, most = RANGES[one.meaning]
    bad = np.flatnonzero((column < least) | (column > most))
    if len(bad):
        first = int(bad[0])
        factor, offset = UNITS[one.meaning][one.unit]
        raise CaseRefused(
            f"{len(bad)} values lie outside what {one.meaning} can be in {one.unit or 'this unit'}; the first is "
            f"{(column[first] - offset) / factor:g}. Check the unit, or the sign of a missing value",
            f"line {first + 1 + mapping.header_lines}, {one.meaning}",
        )


def _filled(meaning: str, column: Array, report: Report) -> Array:
    """Gaps up to LONGEST_GAP_H hours filled: rain with none, all else on a straight line. Longer ones are refused."""
    missing = np.isnan(column)
    if not missing.any():
        return column
    edges = np.flatnonzero(np.diff(np.concatenate(([False], missing, [False])).astype(int)))
    for first, last in zip(edges[::2], edges[1::2], strict=True):
        if last - first > LONGEST_GAP_H:
            day, hour = divmod(int(first), 24)
            raise CaseRefused(
                f"{meaning} is missing for {last - first} hours from day {day + 1}, hour {hour}; up to {LONGEST_GAP_H} are "
                "filled. Fill it in the file from a station near by",
                meaning,
            )
    known = np.flatnonzero(~missing)
    filled = np.where(missing, 0.0, column)
    if meaning != "rain":
        filled = np.interp(np.arange(len(column)), known, column[known])
    report.filled[meaning] = int(missing.sum())
    return filled


def _humidity(columns: dict[str, Array], report: Report) -> Array:
    full = saturation_pressure(columns["temperature"] + ZERO_CELSIUS)
    if "relative humidity" in columns:
        humidity = columns["relative humidity"]
    elif "dew point" in columns:
        humidity = saturation_pressure(columns["dew point"] + ZERO_CELSIUS) / full
        report.estimated.append("relative humidity from temperature and dew point, over water")
    else:
        humidity = columns["vapour pressure"] / full
        report.estimated.append("relative humidity from temperature and vapour pressure, over water")
    if humidity.max() > 1.05:
        raise CaseRefused(
            f"the air would be at {humidity.max() * 100:.0f} % RH; check the columns and their units", "humidity"
        )
    over, dry = int((humidity > 1.0).sum()), int((humidity < 0.01).sum())
    if over:
        report.said.append(f"{over} hours over 100 % RH (at most {humidity.max() * 100:.1f} %) are taken as 100 %")
    if dry:
        report.said.append(f"{dry} hours under 1 % RH are taken as 1 %")
    return np.clip(humidity, 0.01, 1.0)


def _weather(
    columns: dict[str, Array], temperature: Array, humidity: Array, zenith: Array, report: Report
) -> dict[str, Array]:
    """Sun split in beam and diffuse, wind, rain, the sky's long-wave; what is missing is estimated and said."""
    zeros = np.zeros(HOURS_PER_YEAR)
    cosine = np.maximum(np.cos(np.radians(zenith)), 0.0)
    diffuse, beam = columns.get("diffuse horizontal"), columns.get("beam normal")
    whole = columns.get("global horizontal")
    if beam is None and diffuse is not None and whole is not None:
        # Near the horizon a small difference over a small cosine is no beam.
        beam = np.where(cosine > 0.05, (whole - diffuse) / np.maximum(cosine, 0.05), 0.0)
        report.estimated.append("beam from global less diffuse, none with the sun under 3° above the horizon")
    elif diffuse is None and beam is not None and whole is not None:
        diffuse = whole - beam * cosine
        report.estimated.append("diffuse from global less beam")
    elif whole is not None and beam is None and diffuse is None:
        import pandas as pd
        import pvlib

        times = pd.date_range("2023-01-01 00:30", periods=HOURS_PER_YEAR, freq="h")
        parts = pvlib.irradiance.erbs(np.maximum(whole, 0.0), zenith, times)
        beam, diffuse = np.nan_to_num(np.asarray(parts["dni"])), np.nan_to_num(np.asarray(parts["dhi"]))
        report.estimated.append("beam and diffuse split from global by Erbs, Klein & Duffie 1982")
    if beam is None or diffuse is None:
        report.said.append("no sun in the file: the runs have none, faces dry too slowly")
        beam, diffuse = zeros, zeros
    speed = columns.get("wind speed")
    if speed is None:
        report.said.append("no wind in the file: 2 m/s is taken, and no rain is driven onto faces by it")
    rain = columns.get("rain")
    if rain is None:
        report.said.append("no rain in the file: the runs have none")
    direction = columns.get("wind direction")
    if direction is None and speed is not None and rain is not None:
        raise CaseRefused("rain and wind speed without wind direction: no face can be given its rain", "wind direction")
    if speed is None and rain is not None:
        rain = None
    sky = columns.get("sky long-wave")
    if sky is None:
        pressure = humidity * saturation_pressure(temperature + ZERO_CELSIUS) / 100.0
        clear = 0.52 + 0.065 * np.sqrt(pressure)
        sky = np.minimum(clear + 0.35 * (1.0 - clear) * 2.0, 1.0) * STEFAN_BOLTZMANN * (temperature + ZERO_CELSIUS) ** 4
        report.estimated.append(
            "the sky's long-wave from vapour pressure (Brunt 1932) under a half-clouded sky all year"
        )
    return {
        "beam_normal_w_m2": np.clip(beam, 0.0, 1300.0),
        "diffuse_horizontal_w_m2": np.maximum(diffuse, 0.0),
        "wind_speed_m_s": speed if speed is not None else np.full(HOURS_PER_YEAR, 2.0),
        "wind_direction_deg": direction if direction is not None else zeros,
        "rain_mm": rain if rain is not None else zeros,
        "sky_longwave_w_m2": sky,
    }

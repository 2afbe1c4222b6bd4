"""The ends of a case as series on one common step, with start and end value of every step.

Quantities by column: 0 T [K], 1 film h [W/m²K], 2 absorbed or given heat [W/m²], 3 vapour pressure [Pa]
or surface RH, 4 vapour film [s/m], 5 vapour flux given [kg/m²s], 6 rain [kg/m²s], 7 T of rain [K].
"""

from __future__ import annotations

from dataclasses import dataclass
from math import gcd
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core import case as c
from core.case.resolve import resolve_series
from core.climate.data import Climate, climate_of_case, first_hour
from core.climate.ground import earth_face_k, ground_temperature_c
from core.climate.indoor import indoor_air
from core.climate.rain import driven_rain
from core.climate.sun import radiation_on_face
from core.errors import CaseRefused, OutOfRange
from core.moisture.transient.columns import (
    BETA,
    CLOSED,
    FILM,
    G_GIVEN,
    GIVEN,
    H_FILM,
    PRESCRIBED,
    PV_ENV,
    Q_GIVEN,
    RAIN,
    T_ENV,
    T_RAIN,
)
from core.physics.constants import ROOM_VAPOUR_FILM, STEFAN_BOLTZMANN, STILL_AIR_PERMEABILITY, ZERO_CELSIUS
from core.physics.moist_air import air_permeability_terms, saturation_pressure

Array = NDArray[np.float64]
QUANTITIES = 8
SOIL_FILM = 1.0e-7
"""s/m: soil touches what it touches; a damp-proof sheet is what resists."""


@dataclass(frozen=True)
class Boundary:
    """kinds[end, heat|moisture], runoff_on[end], emission[end] [W/(m² K⁴)], series[step, end, quantity, start|end], step [s].

    emission: ε σ of a face in the weather. Its film carries the long-wave as if the face were at the air's temperature;
    the solver adds what the fourth power gives off beyond that.

    sources[step, layer, heat|water]. `driven_rain_kg_m2`: rain offered to the face in one pass.
    """

    step_s: float
    kinds: NDArray[np.int64]
    runoff_on: NDArray[np.bool_]
    emission: Array
    series: Array
    sources: Array
    driven_rain_kg_m2: float

    @property
    def steps(self) -> int:
        return len(self.series)


class _Assembler:
    """Collects the numbers and series of both ends, then lays them on the common step."""

    def __init__(self, case: c.Case) -> None:
        self.case = case
        self.parts: list[tuple[tuple[int, int], Any]] = []  # ((end, quantity), number | Series)
        self.kinds = np.full((2, 2), CLOSED, np.int64)
        self.runoff = np.zeros(2, bool)
        self.emission = np.zeros(2)
        self.climates: dict[str, Climate] = {}

    def climate(self, name: str) -> Climate:
        if name not in self.climates:
            self.climates[name] = climate_of_case(self.case, name)
        return self.climates[name]

    def hourly(self, values: Array) -> c.Series:
        """A climate column from the case's first day on, held by the hour."""
        rolled = np.roll(values, -first_hour(self.case.time.start))
        return c.Series.model_construct(step_s=3600.0, values=list(rolled), stamp="start", between="held")

    def put(self, end: int, quantity: int, value: Any) -> None:
        self.parts.append(((end, quantity), value))

    def value(self, value: c.SeriesValue) -> float | c.Series:
        return value_of(self.case, value)


def _map(value: float | c.Series, function: Any) -> float | c.Series:
    if isinstance(value, c.Series):
        return c.Series.model_construct(
            step_s=value.step_s, values=function(np.asarray(value.values)), stamp=value.stamp, between=value.between
        )
    return float(function(np.asarray(value)))


def _kelvin(value: float | c.Series) -> float | c.Series:
    return _map(value, lambda x: x + ZERO_CELSIUS)


def _check_humidity(value: float | c.Series, where: str) -> float | c.Series:
    values = np.asarray(value.values if isinstance(value, c.Series) else value)
    if np.any(values < c.RH_FLOOR) or np.any(values > 1.0):
        worst = float(values.max() if values.max() > 1.0 else values.min())
        raise OutOfRange(f"relative humidity {worst:g} is outside {c.RH_FLOOR:g} to 1", where)
    return value


def _weather(assembler: _Assembler, end: int, weather: c.WeatherEnd) -> float:
    climate = assembler.climate(weather.climate)
    constants = assembler.case.constants
    kelvin = climate["temperature_c"] + ZERO_CELSIUS
    convective = 4.0 + 4.0 * weather.wind_factor * climate["wind_speed_m_s"]
    radiative = 4.0 * weather.emissivity * STEFAN_BOLTZMANN * kelvin**3
    short_wave = radiation_on_face(climate, weather.facing_deg, weather.slope_deg, weather.ground_reflectance)
    sky_view = 0.5 * (1.0 + np.cos(np.radians(weather.slope_deg)))
    # The film carries the exchange with surroundings at air temperature; what the sky lacks is added.
    long_wave = weather.emissivity * sky_view * (climate["sky_longwave_w_m2"] - STEFAN_BOLTZMANN * kelvin**4)
    pressure = climate["relative_humidity"] * saturation_pressure(kelvin, constants.saturation_pressure)
    film = weather.lewis_s_k_m * convective
    if weather.coating_sd_m > 0.0:
        factor, power = air_permeability_terms(constants.air_permeability, constants.air_pressure_pa)
        film = 1.0 / (1.0 / film + weather.coating_sd_m / (factor * kelvin**power))
    offered = driven_rain(climate, weather.facing_deg, weather.rain)
    absorbed = offered * weather.rain.absorbed_share * weather.coating_rain_factor
    assembler.kinds[end] = FILM, FILM
    assembler.runoff[end] = True
    assembler.emission[end] = weather.emissivity * STEFAN_BOLTZMANN
    columns = (kelvin, convective + radiative, weather.absorptance * short_wave + long_wave, pressure, film)
    for quantity, column in enumerate(columns):
        assembler.put(end, quantity, assembler.hourly(column))
    assembler.put(end, RAIN, assembler.hourly(absorbed / 3600.0))
    assembler.put(end, T_RAIN, assembler.hourly(kelvin))
    return float(offered.sum())


def _with_coating(assembler: _Assembler, film: float, coating_sd_m: float) -> float:
    """A vapour film [s/m] with a coating in series, at 20 °C."""
    if coating_sd_m <= 0.0:
        return film
    constants = assembler.case.constants
    factor, power = air_permeability_terms(constants.air_permeability, constants.air_pressure_pa)
    return 1.0 / (1.0 / film + coating_sd_m / (factor * 293.15**power))


def _indoor_hours(assembler: _Assembler, indoor: c.IndoorEnd) -> tuple[Array, Array]:
    """T [K] and p_v [Pa] of the indoor air by the hour of the climate's year."""
    temperature_c, humidity = indoor_air(
        assembler.climate(indoor.climate),
        indoor.profile,
        indoor.winter_set_point_c,
        indoor.summer_temperature_c,
        indoor.extra_rh,
        assembler.climate(indoor.measured) if indoor.measured is not None else None,
    )
    kelvin = temperature_c + ZERO_CELSIUS
    return kelvin, humidity * saturation_pressure(kelvin, assembler.case.constants.saturation_pressure)


def _films(assembler: _Assembler, end: int, kelvin: Array, pressure: Array, part: c.IndoorEnd | c.UnheatedEnd) -> None:
    assembler.kinds[end] = FILM, FILM
    assembler.put(end, T_ENV, assembler.hourly(kelvin))
    assembler.put(end, H_FILM, part.coefficient_w_m2k)
    assembler.put(end, PV_ENV, assembler.hourly(pressure))
    assembler.put(end, BETA, _with_coating(assembler, part.vapour_film_s_m, part.coating_sd_m))


def _indoor(assembler: _Assembler, end: int, indoor: c.IndoorEnd) -> None:
    _films(assembler, end, *_indoor_hours(assembler, indoor), indoor)


def _unheated(assembler: _Assembler, end: int, space: c.UnheatedEnd) -> None:
    climate = assembler.climate(space.indoor.climate)
    inside_k, inside_pa = _indoor_hours(assembler, space.indoor)
    outside_k = climate["temperature_c"] + ZERO_CELSIUS
    constants = assembler.case.constants
    formula = constants.saturation_pressure
    outside_pa = climate["relative_humidity"] * saturation_pressure(outside_k, formula)
    kelvin = inside_k - space.factor_b * (inside_k - outside_k)
    pressure = inside_pa - space.factor_b * (inside_pa - outside_pa)
    full = saturation_pressure(kelvin, formula)
    if space.earth_sd_m is not None:
        earth = earth_face_k(climate, kelvin)
        gives = 1.0 / (1.0 / ROOM_VAPOUR_FILM + space.earth_sd_m / STILL_AIR_PERMEABILITY)
        takes = space.void_changes_per_h * space.void_height_m / 3600.0 / (constants.vapour_gas_constant * kelvin)
        pressure = (takes * outside_pa + gives * saturation_pressure(earth, formula)) / (takes + gives)
    # Air mixed from two states may pass saturation for an hour: it is fog then, and no more vapour.
    _films(assembler, end, kelvin, np.minimum(np.maximum(pressure, space.least_rh * full), full), space)


def _ground(assembler: _Assembler, end: int, ground: c.GroundEnd) -> None:
    climate = assembler.climate(ground.climate)
    kelvin = ground_temperature_c(climate, ground.depth_m, ground.soil_diffusivity_m2_s) + ZERO_CELSIUS
    assembler.put(end, T_ENV, assembler.hourly(kelvin))
    assembler.put(end, H_FILM, ground.soil_conductivity_w_mk / ground.soil_m)
    assembler.kinds[end, 0] = FILM
    if ground.coating_sd_m > 0.0:
        assembler.kinds[end, 1] = FILM
        pressure = ground.soil_rh * saturation_pressure(kelvin, assembler.case.constants.saturation_pressure)
        assembler.put(end, PV_ENV, assembler.hourly(pressure))
        assembler.put(end, BETA, _with_coating(assembler, SOIL_FILM, ground.coating_sd_m))
    else:
        assembler.kinds[end, 1] = PRESCRIBED
        assembler.put(end, PV_ENV, ground.soil_rh)


def _separate(assembler: _Assembler, end: int, open_end: c.OpenEnd, where: str) -> None:
    heat, moisture, value = open_end.heat, open_end.moisture, assembler.value
    air: float | c.Series | None = None
    if isinstance(heat, c.HeatSurface):
        assembler.kinds[end, 0] = PRESCRIBED
        air = value(heat.temperature_c)
        assembler.put(end, T_ENV, _kelvin(air))
    elif isinstance(heat, c.HeatFilm):
        assembler.kinds[end, 0] = FILM
        air = value(heat.air_temperature_c)
        assembler.put(end, T_ENV, _kelvin(air))
        assembler.put(end, H_FILM, value(heat.coefficient_w_m2k))
        assembler.put(end, Q_GIVEN, value(heat.absorbed_radiation_w_m2))
    elif isinstance(heat, c.HeatFlux):
        assembler.kinds[end, 0] = GIVEN
        assembler.put(end, Q_GIVEN, value(heat.into_wall_w_m2))
    if isinstance(moisture, c.MoistureSurface):
        assembler.kinds[end, 1] = PRESCRIBED
        assembler.put(end, PV_ENV, _check_humidity(value(moisture.rh), f"{where}.moisture.rh"))
    elif isinstance(moisture, c.MoistureFilm):
        assembler.kinds[end, 1] = FILM
        _moisture_film(assembler, end, moisture, air, where)
    elif isinstance(moisture, c.MoistureFlux):
        assembler.kinds[end, 1] = GIVEN
        assembler.put(end, G_GIVEN, value(moisture.into_wall_kg_m2s))
    if open_end.rain_kg_m2s is not None:
        assembler.runoff[end] = True
        assembler.put(end, RAIN, value(open_end.rain_kg_m2s))
        rain_at = value(open_end.rain_temperature_c) if open_end.rain_temperature_c is not None else air
        if rain_at is None:
            raise CaseRefused("rain on an end without an air temperature needs rain_temperature_c", where)
        assembler.put(end, T_RAIN, _kelvin(rain_at))


def _moisture_film(
    assembler: _Assembler, end: int, film: c.MoistureFilm, air: float | c.Series | None, where: str
) -> None:
    constants = assembler.case.constants
    coefficient = assembler.value(film.coefficient_s_m)
    if film.coating_sd_m > 0.0:
        factor, power = air_permeability_terms(constants.air_permeability, constants.air_pressure_pa)
        coating = film.coating_sd_m / (factor * 293.15**power)
        coefficient = _map(coefficient, lambda b: 1.0 / (1.0 / b + coating))
    assembler.put(end, BETA, coefficient)
    if film.air_vapour_pressure_pa is not None:
        assembler.put(end, PV_ENV, assembler.value(film.air_vapour_pressure_pa))
        return
    assert film.air_rh is not None
    humidity = _check_humidity(assembler.value(film.air_rh), f"{where}.moisture.air_rh")
    temperature = assembler.value(film.air_temperature_c) if film.air_temperature_c is not None else air
    if temperature is None:
        raise CaseRefused("air_rh needs air_temperature_c here, because the heat end has no air", where)
    if isinstance(humidity, c.Series) and isinstance(temperature, c.Series):
        same = humidity.step_s == temperature.step_s and len(humidity.values) == len(temperature.values)
        if not same or (humidity.stamp, humidity.between) != (temperature.stamp, temperature.between):
            raise CaseRefused("air_rh and its temperature must share step, length, stamp and reading", where)
    kelvin = _kelvin(temperature)
    k = np.asarray(kelvin.values if isinstance(kelvin, c.Series) else kelvin)
    h = np.asarray(humidity.values if isinstance(humidity, c.Series) else humidity)
    pressure = h * saturation_pressure(k, constants.saturation_pressure)
    template = next((x for x in (humidity, temperature) if isinstance(x, c.Series)), None)
    if template is None:
        assembler.put(end, PV_ENV, float(pressure))
    else:
        assembler.put(
            end,
            PV_ENV,
            c.Series.model_construct(
                step_s=template.step_s, values=pressure, stamp=template.stamp, between=template.between
            ),
        )


def build_boundary(case: c.Case) -> Boundary:
    """All series of a case on one step. Raises CaseRefused when they do not fit each other or the time."""
    assembler = _Assembler(case)
    offered = 0.0
    for end, part, where in ((0, case.outside, "outside"), (1, case.inside, "inside")):
        if isinstance(part, c.WeatherEnd):
            offered = _weather(assembler, end, part)
        elif isinstance(part, c.IndoorEnd):
            _indoor(assembler, end, part)
        elif isinstance(part, c.UnheatedEnd):
            _unheated(assembler, end, part)
        elif isinstance(part, c.GroundEnd):
            _ground(assembler, end, part)
        else:
            _separate(assembler, end, part, where)
    layers = [layer for layer in case.layers if isinstance(layer, c.Layer)]
    source_parts = [
        ((index, quantity), assembler.value(value))
        for index, layer in enumerate(layers)
        if layer.source is not None
        for quantity, value in ((0, layer.source.heat_w_m3), (1, layer.source.water_kg_m3s))
    ]
    everything = [value for _, value in (*assembler.parts, *source_parts)]
    everything += [assembler.value(value) for value in _air_values(case.air)]
    step = _common_step(everything, case.time.length_s)
    count = int(round(case.time.length_s / step))
    if abs(count * step - case.time.length_s) > 1e-6 * step:
        raise CaseRefused(
            f"the length of {case.time.length_s:g} s is not a whole number of steps of {step:g} s", "time.length_s"
        )
    repeats = case.time.repeat != "once"
    series = np.zeros((count, 2, QUANTITIES, 2))
    series[:, :, T_ENV] = series[:, :, T_RAIN] = 293.15
    for (end, quantity), value in assembler.parts:
        series[:, end, quantity] = lay(value, step, count, repeats, held=quantity == RAIN)
    sources = np.zeros((count, len(layers), 2))
    for (index, quantity), value in source_parts:
        sources[:, index, quantity] = lay(value, step, count, repeats, held=True)[:, 0]
    if series[:, :, T_ENV].min() < 213.15 or series[:, :, T_ENV].max() > 373.15:
        raise OutOfRange("a boundary temperature lies outside −60 to 100 °C", "outside, inside")
    if series[:, :, RAIN].min() < 0.0:
        raise OutOfRange("rain below 0", "rain_kg_m2s")
    return Boundary(step, assembler.kinds, assembler.runoff, assembler.emission, series, sources, offered)


def _air_values(air: c.Air) -> list[c.SeriesValue]:
    """The series that the air part states, for the common step."""
    changes = [cavity.changes_per_h for cavity in air.cavities if cavity.changes_per_h is not None]
    flows = [leak.flow_kg_m2s for leak in air.leaks if leak.flow_kg_m2s is not None]
    return [air.through_kg_m2s, *changes, *flows]


def value_of(case: c.Case, value: c.SeriesValue) -> float | c.Series:
    """The number or series that a value of the case stands for."""
    return resolve_series(case, value)


def _common_step(values: list[Any], length: float) -> float:
    """The largest step that fits every series: the greatest common divisor, halved for mid-step stamps."""
    milliseconds = 0
    for value in values:
        if isinstance(value, c.Series):
            one = int(round(value.step_s * 1000))
            if value.stamp == "middle" and value.between == "linear":
                one //= 2
            milliseconds = gcd(milliseconds, one)
    if milliseconds == 0:
        whole_hours = length >= 3600.0 and abs(length / 3600.0 - round(length / 3600.0)) < 1e-9
        return 3600.0 if whole_hours else length
    return milliseconds / 1000.0


def lay(value: float | c.Series, step: float, count: int, repeats: bool, held: bool) -> Array:
    """(count, 2): start and end value in every common step."""
    if not isinstance(value, c.Series):
        return np.full((count, 2), float(value))
    values = np.asarray(value.values, float)
    length = count * step
    if not repeats and len(values) * value.step_s < length * (1 - 1e-9):
        raise CaseRefused(
            f"a series of {len(values) * value.step_s / 3600:g} h is shorter than the run of {length / 3600:g} h",
            "series",
        )
    if repeats and length % (len(values) * value.step_s) > 1e-6:
        raise CaseRefused("a repeating run needs series whose length divides it", "series")
    starts = np.arange(count) * step
    if value.between == "held" or held:
        index = np.floor(starts / value.step_s + 1e-9).astype(int) % len(values)
        return np.stack([values[index], values[index]], axis=1)
    shift = {"start": 0.0, "middle": 0.5, "end": 1.0}[value.stamp]
    ends = np.stack([starts, starts + step], axis=1) / value.step_s - shift
    low = np.floor(ends + 1e-9).astype(int)
    part = ends - low
    last = len(values) - 1
    if repeats:
        first, second = values[low % len(values)], values[(low + 1) % len(values)]
    else:  # before the first and after the last stamp the end value holds
        first, second = values[np.clip(low, 0, last)], values[np.clip(low + 1, 0, last)]
    return first + (second - first) * part

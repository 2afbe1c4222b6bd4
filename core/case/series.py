"""What changes over time: series of values, and climates shipped, imported or given in the case."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from core.case.parts import Celsius, Humidity, NonNegative, Positive, Strict


class Series(Strict):
    """Values one step apart. `stamp`: where in its step each value is exact when read linearly."""

    step_s: Positive = 3600.0
    values: Annotated[list[float], Field(min_length=1)]
    stamp: Literal["start", "middle", "end"] = "start"
    between: Literal["held", "linear"] = "held"


class SeriesRef(Strict):
    ref: str


SeriesValue = float | Series | SeriesRef


class ShippedClimate(Strict):
    """A climate the program holds (shipped or imported), by name and by the hash of its data.

    temperature_shift_k and rain_factor make another year of it: every hour colder or warmer at the same RH (the sky's
    long-wave with it), every rain heavier or lighter.
    """

    shipped: str
    sha256: str
    temperature_shift_k: Annotated[float, Field(ge=-10, le=10)] = 0.0
    rain_factor: Annotated[float, Field(ge=0, le=3)] = 1.0


class ClimateColumns(Strict):
    """Hourly weather in the case itself; every column has one value for each hour."""

    label: str = "climate given in the case"
    latitude_deg: Annotated[float, Field(ge=-66, le=66)]
    longitude_deg: Annotated[float, Field(ge=-180, le=180)]
    utc_offset_h: float = 0.0
    temperature_c: list[Celsius]
    relative_humidity: list[Humidity]
    beam_normal_w_m2: list[NonNegative]
    diffuse_horizontal_w_m2: list[NonNegative]
    wind_speed_m_s: list[NonNegative]
    wind_direction_deg: list[Annotated[float, Field(ge=0, le=360)]]
    rain_mm: list[NonNegative]
    sky_longwave_w_m2: list[NonNegative]

    @model_validator(mode="after")
    def _equal_lengths(self) -> ClimateColumns:
        lengths = {name: len(getattr(self, name)) for name in CLIMATE_COLUMNS}
        if len(set(lengths.values())) != 1 or not lengths["temperature_c"]:
            raise ValueError(f"climate columns differ in length or are empty: {lengths}")
        return self


CLIMATE_COLUMNS = (
    "temperature_c",
    "relative_humidity",
    "beam_normal_w_m2",
    "diffuse_horizontal_w_m2",
    "wind_speed_m_s",
    "wind_direction_deg",
    "rain_mm",
    "sky_longwave_w_m2",
)

"""The two ends of a wall: weather with driven rain, a room, the ground, an unheated space, or heat and moisture apart."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from core.case.parts import Celsius, Humidity, NonNegative, Positive, Strict
from core.case.series import SeriesValue


class HeatSurface(Strict):
    type: Literal["surface"]
    temperature_c: SeriesValue


class HeatFilm(Strict):
    """Film coefficient with air (or equivalent) temperature; absorbed radiation when given."""

    type: Literal["film"]
    coefficient_w_m2k: SeriesValue
    air_temperature_c: SeriesValue
    absorbed_radiation_w_m2: SeriesValue = 0.0


class HeatFlux(Strict):
    type: Literal["flux"]
    into_wall_w_m2: SeriesValue


class Adiabatic(Strict):
    type: Literal["adiabatic"]


class MoistureSurface(Strict):
    type: Literal["surface"]
    rh: SeriesValue


class MoistureFilm(Strict):
    """Vapour film [s/m, i.e. kg/(m² s Pa)] with the air's RH or vapour pressure; a coating in series."""

    type: Literal["film"]
    coefficient_s_m: SeriesValue
    air_rh: SeriesValue | None = None
    air_vapour_pressure_pa: SeriesValue | None = None
    air_temperature_c: SeriesValue | None = Field(default=None, description="for air_rh; absent: the heat end's")
    coating_sd_m: NonNegative = 0.0

    @model_validator(mode="after")
    def _one(self) -> MoistureFilm:
        if (self.air_rh is None) == (self.air_vapour_pressure_pa is None):
            raise ValueError("give exactly one of air_rh, air_vapour_pressure_pa")
        return self


class MoistureFlux(Strict):
    type: Literal["flux"]
    into_wall_kg_m2s: SeriesValue


class VapourTight(Strict):
    type: Literal["tight"]


HeatEnd = Annotated[HeatSurface | HeatFilm | HeatFlux | Adiabatic, Field(discriminator="type")]
MoistureEnd = Annotated[MoistureSurface | MoistureFilm | MoistureFlux | VapourTight, Field(discriminator="type")]


class DrivenRain(Strict):
    """How rain on the ground becomes rain on the face.

    iso15927_3: hourly 2/9 v r^(8/9) cos, times terrain, topography, obstruction and wall factors.
    rate_wind: r v cos × coefficient [s/m] × exposure × deposition. none: no rain on the face.
    absorbed_share: what does not splash off; the surface's own capacity is applied in the solver.
    """

    method: Literal["iso15927_3", "rate_wind", "none"] = "iso15927_3"
    terrain_factor: NonNegative = 1.0
    topography_factor: NonNegative = 1.0
    obstruction_factor: NonNegative = 1.0
    wall_factor: NonNegative = 0.4
    coefficient_s_m: NonNegative = 0.2
    exposure_factor: NonNegative = 1.0
    deposition_factor: NonNegative = 0.5
    absorbed_share: Annotated[float, Field(ge=0, le=1)] = 0.7


class WeatherEnd(Strict):
    """An end in the weather: air, sun, long-wave, wind and rain from a climate.

    h_c = 4 + 4 v (ISO 6946 Annex C) with v = wind_factor × wind; the vapour film is lewis × h_c.
    """

    type: Literal["weather"]
    climate: str
    facing_deg: Annotated[float, Field(ge=0, lt=360)]
    slope_deg: Annotated[float, Field(ge=0, le=180)] = 90.0
    absorptance: Annotated[float, Field(ge=0, le=1)] = 0.6
    emissivity: Annotated[float, Field(ge=0, le=1)] = 0.9
    ground_reflectance: Annotated[float, Field(ge=0, le=1)] = 0.2
    wind_factor: NonNegative = 0.5
    lewis_s_k_m: Positive = 7.0e-9
    coating_sd_m: NonNegative = 0.0
    coating_rain_factor: Annotated[float, Field(ge=0, le=1)] = 1.0
    rain: DrivenRain = DrivenRain()


IndoorProfile = Literal[
    "en15026_normal",
    "en15026_high",
    "iso13788_1",
    "iso13788_2",
    "iso13788_3",
    "iso13788_4",
    "iso13788_5",
    "cooled",
    "bath",
    "now_and_then",
    "measured",
]


class IndoorEnd(Strict):
    """Indoor air by the hour, from the outdoor air's running daily mean or as measured (core.climate.indoor).

    measured: the climate entry whose temperature and RH columns are the indoor air, for the profile of that name.
    extra_rh: added to the RH of every hour (a more humid household).
    """

    type: Literal["indoor"]
    climate: str
    profile: IndoorProfile = "en15026_normal"
    measured: str | None = None
    extra_rh: Annotated[float, Field(ge=-0.3, le=0.3)] = 0.0
    coefficient_w_m2k: Positive = 8.0
    vapour_film_s_m: Positive = 2.5e-8
    winter_set_point_c: Celsius = 20.0
    summer_temperature_c: Celsius = 25.0
    coating_sd_m: NonNegative = 0.0

    @model_validator(mode="after")
    def _measured_named(self) -> IndoorEnd:
        if (self.profile == "measured") != (self.measured is not None):
            raise ValueError("name the climate entry in `measured` for the profile “measured”, and only there")
        return self


class GroundEnd(Strict):
    """Soil against the element: its undisturbed temperature at a depth (Kusuda & Achenbach 1965) through some soil.

    soil_m: soil between the element and that depth, which carries heat with soil_conductivity_w_mk. Moisture: soil at
    soil_rh touches the face; with a coating (a damp-proof sheet) vapour alone crosses it.
    """

    type: Literal["ground"]
    climate: str
    depth_m: NonNegative = 1.5
    soil_m: Positive = 1.0
    soil_conductivity_w_mk: Positive = 2.0
    soil_diffusivity_m2_s: Positive = 1.0e-6
    soil_rh: Humidity = 0.99
    coating_sd_m: NonNegative = 0.0


class UnheatedEnd(Strict):
    """An unheated space: T between inside and outside by factor b (ISO 13789), vapour pressure in the same share.

    earth_sd_m: of what lies on the bare earth of a void, which gives off vapour at the temperature of its own face and loses it with the air that the
    void changes (height and changes an hour); None where no earth lies open. least_rh: it is never drier than this.
    """

    type: Literal["unheated"]
    indoor: IndoorEnd
    factor_b: Annotated[float, Field(ge=0, le=1)]
    earth_sd_m: NonNegative | None = None
    void_height_m: Positive = 0.5
    void_changes_per_h: NonNegative = 1.5
    least_rh: Annotated[float, Field(ge=0, le=1)] = 0.0
    coefficient_w_m2k: Positive = 8.0
    vapour_film_s_m: Positive = 2.5e-8
    coating_sd_m: NonNegative = 0.0


class OpenEnd(Strict):
    """Heat and moisture apart, each with its own kind of boundary; rain as a flux when given."""

    type: Literal["separate"]
    heat: HeatEnd
    moisture: MoistureEnd
    rain_kg_m2s: SeriesValue | None = None
    rain_temperature_c: SeriesValue | None = None


End = Annotated[WeatherEnd | IndoorEnd | GroundEnd | UnheatedEnd | OpenEnd, Field(discriminator="type")]

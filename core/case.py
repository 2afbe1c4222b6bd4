"""`Case`: one transient computation, described completely, frozen and hashable.

Everything the solver uses is in here or is a default written out here. A case is one JSON file;
`Case.model_json_schema()` is its published schema. Names carry their unit. Cross-checks that need
more than one field (references, loops) are in `resolve`.
"""

from __future__ import annotations

import hashlib
import json
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from core.air import PermeabilityFormula, SaturationFormula
from core.errors import CaseRefused

RH_FLOOR = 0.001
LEAST_LIQUID_CONTACT = 1.0e6
"""Pa m² s/kg: a smaller contact resistance drowns in rounding; 0 means full contact."""
Positive = Annotated[float, Field(gt=0)]
NonNegative = Annotated[float, Field(ge=0)]
Humidity = Annotated[float, Field(ge=RH_FLOOR, le=1.0)]
Celsius = Annotated[float, Field(ge=-60.0, le=100.0)]


class Strict(BaseModel):
    """Unknown fields, NaN and infinity are refused; instances are frozen."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


class Constants(Strict):
    """Physical constants. R_v may be given as it is, or as R and M_w (then those two win)."""

    water_density_kg_m3: Positive = 1000.0
    gas_constant_vapour_j_kgk: Positive = 461.5
    gas_constant_j_molk: Positive | None = None
    molar_mass_water_kg_mol: Positive | None = None
    water_heat_j_kgk: Positive = 4187.0
    vapour_heat_j_kgk: Positive = 1840.0
    latent_heat_j_kg: Positive = 2.501e6
    latent_heat_form: Literal["constant", "by_temperature"] = "by_temperature"
    fusion_heat_j_kg: Positive = 3.335e5
    saturation_pressure: SaturationFormula = "magnus_en15026"
    air_permeability: PermeabilityFormula = "kuenzel1994"
    air_pressure_pa: Positive = 101325.0

    @model_validator(mode="after")
    def _both_or_none(self) -> Constants:
        if (self.gas_constant_j_molk is None) != (self.molar_mass_water_kg_mol is None):
            raise ValueError("give gas_constant_j_molk and molar_mass_water_kg_mol together, or neither")
        return self

    @property
    def vapour_gas_constant(self) -> float:
        """R_v [J/(kg K)]."""
        if self.gas_constant_j_molk is not None and self.molar_mass_water_kg_mol is not None:
            return self.gas_constant_j_molk / self.molar_mass_water_kg_mol
        return self.gas_constant_vapour_j_kgk


# --- material functions ---------------------------------------------------------------------------

RetentionArgument = Literal["suction_pa", "suction_head_m", "log10_suction_pa", "log10_suction_head_m", "rh"]


def _increasing(values: list[float], what: str) -> None:
    for first, second in zip(values, values[1:], strict=False):
        if second <= first:
            raise ValueError(f"{what} must rise from row to row without overlap; {second:g} follows {first:g}")


def _falling_or_level(values: list[float], what: str, rising: bool) -> None:
    for first, second in zip(values, values[1:], strict=False):
        if (second < first) if rising else (second > first):
            raise ValueError(f"{what} is not monotone: {second:g} follows {first:g}")


class RetentionBase(Strict):
    """held_with_temperature: which of w(suction), w(RH) stays the same curve when T changes."""

    argument: RetentionArgument = "rh"
    head_density_kg_m3: Positive = 1000.0
    head_gravity_m_s2: Positive = 9.81
    held_with_temperature: Literal["suction", "rh"] = "suction"
    reference_temperature_c: Celsius = 20.0
    kelvin_temperature_c: Celsius | None = Field(
        default=None, description="fixed T in Kelvin's equation; absent: the actual T"
    )


class RetentionTable(RetentionBase):
    form: Literal["table"]
    rows: Annotated[list[tuple[float, NonNegative]], Field(min_length=2)]

    @model_validator(mode="after")
    def _monotone(self) -> RetentionTable:
        arguments = [row[0] for row in self.rows]
        _increasing(arguments, "retention argument")
        _falling_or_level([row[1] for row in self.rows], "retention w", rising=self.argument == "rh")
        if self.argument == "rh" and (arguments[0] < 0 or arguments[-1] > 1.0):
            raise ValueError(f"retention RH runs {arguments[0]:g} to {arguments[-1]:g}; it must lie in 0 to 1")
        if self.argument == "rh" and arguments[-1] < 1.0:
            raise ValueError("a retention table over RH must reach RH 1")
        return self


class VanGenuchtenTerm(Strict):
    """share · (1 + (a s)^n)^(−m); m free, or absent for m = 1 − 1/n."""

    share: Positive
    a: Positive = Field(description="per unit of the argument (1/Pa or 1/m)")
    n: Positive
    m: Positive | None = None

    @model_validator(mode="after")
    def _exponent(self) -> VanGenuchtenTerm:
        if self.m is None and self.n <= 1.0:
            raise ValueError("m = 1 − 1/n needs n above 1; give m")
        return self


class RetentionVanGenuchten(RetentionBase):
    form: Literal["van_genuchten"]
    argument: Literal["suction_pa", "suction_head_m"] = "suction_pa"
    saturated_kg_m3: Positive
    terms: Annotated[list[VanGenuchtenTerm], Field(min_length=1)]

    @model_validator(mode="after")
    def _shares(self) -> RetentionVanGenuchten:
        total = sum(term.share for term in self.terms)
        if abs(total - 1.0) > 1e-6:
            raise ValueError(f"the shares of the van Genuchten terms add up to {total:g}, not 1")
        return self


class RetentionKuenzel(RetentionBase):
    """Künzel 1994: w = w_f (b − 1) φ / (b − φ), b from w80 and w_f."""

    form: Literal["kuenzel"]
    argument: Literal["rh"] = "rh"
    w80_kg_m3: Positive
    free_saturation_kg_m3: Positive

    @model_validator(mode="after")
    def _order(self) -> RetentionKuenzel:
        if self.w80_kg_m3 >= 0.8 * self.free_saturation_kg_m3:
            raise ValueError("w80 must be below 0.8 of free saturation")
        return self


Retention = Annotated[RetentionTable | RetentionVanGenuchten | RetentionKuenzel, Field(discriminator="form")]


class LiquidNone(Strict):
    form: Literal["none"]


class LiquidDiffusivity(Strict):
    """D_w(w) [m²/s]: constant; d0·exp(b w); or a table of (w, D)."""

    form: Literal["diffusivity"]
    constant_m2_s: Positive | None = None
    exponential: tuple[Positive, float] | None = Field(default=None, description="(d0, b): d0 exp(b w)")
    rows: list[tuple[NonNegative, Positive]] | None = None
    outside: Literal["error", "hold"] = "error"

    @model_validator(mode="after")
    def _one(self) -> LiquidDiffusivity:
        if sum(x is not None for x in (self.constant_m2_s, self.exponential, self.rows)) != 1:
            raise ValueError("give exactly one of constant_m2_s, exponential, rows")
        if self.rows is not None:
            _increasing([row[0] for row in self.rows], "diffusivity w")
        return self


LiquidVariable = Literal["w", "saturation", "suction_pa", "log10_suction_pa"]


class LiquidConductivityTable(Strict):
    """K [s] of the suction gradient by w, w/w_sat, suction or its log10."""

    form: Literal["conductivity_table"]
    variable: LiquidVariable
    output: Literal["k_s", "ln_k", "log10_k"] = "log10_k"
    rows: Annotated[list[tuple[float, float]], Field(min_length=2)]
    outside: Literal["error", "hold"] = "error"

    @model_validator(mode="after")
    def _sorted(self) -> LiquidConductivityTable:
        _increasing([row[0] for row in self.rows], "conductivity argument")
        if self.output == "k_s" and any(row[1] < 0 for row in self.rows):
            raise ValueError("conductivity below 0")
        return self


class LiquidConductivityPolynomial(Strict):
    """ln or log10 of K = Σ coefficient_i ((x − shift)/scale)^i, ascending."""

    form: Literal["conductivity_polynomial"]
    variable: LiquidVariable
    output: Literal["ln_k", "log10_k"]
    shift: float = 0.0
    scale: float = 1.0
    coefficients: Annotated[list[float], Field(min_length=1)]
    valid_from: float
    valid_to: float
    outside: Literal["error", "hold"] = "error"

    @model_validator(mode="after")
    def _range(self) -> LiquidConductivityPolynomial:
        if self.valid_to <= self.valid_from:
            raise ValueError("valid_to must lie above valid_from")
        if self.scale == 0.0:
            raise ValueError("scale must not be 0")
        return self


class LiquidKuenzel(Strict):
    """Künzel 1994 approximation from the A-value: D_w = 3.8 (A/w_f)² 1000^(w/w_f − 1)."""

    form: Literal["kuenzel"]
    a_value_kg_m2s05: Positive
    free_saturation_kg_m3: Positive


Liquid = Annotated[
    LiquidNone | LiquidDiffusivity | LiquidConductivityTable | LiquidConductivityPolynomial | LiquidKuenzel,
    Field(discriminator="form"),
]


class PoreReduction(Strict):
    """δ = δ_dry · u / ((1 − p) u² + p) with u = 1 − w/w_max, the form of EN 15026 Annex A."""

    formula: Literal["en15026_annex_a"] = "en15026_annex_a"
    p: float = Field(default=0.497, ge=0, lt=1)
    w_max_kg_m3: Positive


class Vapour(Strict):
    """Vapour permeability: δ constant, δ by T, or μ with the still-air formula of the constants.

    At most one reduction with moisture: a formula, or factors by RH (multiplying δ).
    """

    permeability_kg_mspa: Positive | None = None
    permeability_by_temperature_c: list[tuple[Celsius, Positive]] | None = None
    mu: Annotated[float, Field(ge=1)] | None = None
    reduction: PoreReduction | None = None
    factor_by_rh: list[tuple[Annotated[float, Field(ge=0, le=1)], Positive]] | None = None

    @model_validator(mode="after")
    def _one(self) -> Vapour:
        given = (self.permeability_kg_mspa, self.permeability_by_temperature_c, self.mu)
        if sum(x is not None for x in given) != 1:
            raise ValueError("give exactly one of permeability_kg_mspa, permeability_by_temperature_c, mu")
        if self.reduction is not None and self.factor_by_rh is not None:
            raise ValueError("give reduction or factor_by_rh, not both")
        for rows, what in ((self.permeability_by_temperature_c, "temperature"), (self.factor_by_rh, "RH")):
            if rows is not None:
                _increasing([row[0] for row in rows], f"vapour table {what}")
        return self


class Heat(Strict):
    """λ(w, T): λ0 + b w, or λ0 (1 + b w/ρ), or a table by w; times a factor by T when given."""

    density_kg_m3: Positive
    specific_heat_j_kgk: Positive
    conductivity_w_mk: Positive
    moisture_supplement: float = Field(default=0.0, ge=0)
    supplement_form: Literal["per_kg_m3", "relative_to_density"] = "per_kg_m3"
    conductivity_by_w: list[tuple[NonNegative, Positive]] | None = None
    factor_by_temperature_c: list[tuple[Celsius, Positive]] | None = None

    @model_validator(mode="after")
    def _sorted(self) -> Heat:
        for rows, what in ((self.conductivity_by_w, "w"), (self.factor_by_temperature_c, "temperature")):
            if rows is not None:
                _increasing([row[0] for row in rows], f"conductivity table {what}")
        return self


class Material(Strict):
    """One material. `like` copies every part that is not given here from another material."""

    name: str = ""
    like: str | None = None
    retention: Retention | None = None
    liquid: Liquid | None = None
    vapour: Vapour | None = None
    heat: Heat | None = None


# --- series and climates --------------------------------------------------------------------------


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


# --- layers ---------------------------------------------------------------------------------------


class Initial(Strict):
    """Start state: T with one of RH, w, suction; each constant or by depth from the outer face of the wall."""

    temperature_c: Celsius | list[tuple[NonNegative, Celsius]] = 20.0
    rh: Humidity | list[tuple[NonNegative, Humidity]] | None = None
    w_kg_m3: NonNegative | list[tuple[NonNegative, NonNegative]] | None = None
    suction_pa: NonNegative | list[tuple[NonNegative, NonNegative]] | None = None

    @model_validator(mode="after")
    def _one(self) -> Initial:
        if sum(x is not None for x in (self.rh, self.w_kg_m3, self.suction_pa)) != 1:
            raise ValueError("give exactly one of rh, w_kg_m3, suction_pa")
        return self


class Source(Strict):
    """Heat [W/m³] or water [kg/(m³ s)] set free in the whole layer over time."""

    heat_w_m3: SeriesValue = 0.0
    water_kg_m3s: SeriesValue = 0.0


class Contact(Strict):
    """What lies between this layer and the next. `hydraulic` false: no liquid crosses.

    Resistances: heat m²K/W, vapour as sd [m], liquid Pa m² s/kg.
    """

    hydraulic: bool = True
    heat_m2k_w: NonNegative = 0.0
    vapour_sd_m: NonNegative = 0.0
    liquid_pa_m2s_kg: NonNegative = 0.0

    @model_validator(mode="after")
    def _resolvable(self) -> Contact:
        if 0.0 < self.liquid_pa_m2s_kg < LEAST_LIQUID_CONTACT:
            raise ValueError(f"a liquid contact resistance is 0 or at least {LEAST_LIQUID_CONTACT:g} Pa m² s/kg")
        return self


class Layer(Strict):
    kind: Literal["layer"] = "layer"
    name: str = ""
    material: str
    thickness_m: Positive | Literal["semi_infinite"]
    cells: Annotated[int, Field(ge=2, le=2000)] | None = None
    stretch: Annotated[float, Field(ge=1.0, le=2.0)] | None = Field(
        default=None, description="ratio of neighbouring cells, growing from both faces; absent: automatic"
    )
    initial: Initial | None = None
    source: Source | None = None
    contact: Contact = Contact()


class Membrane(Strict):
    """A face without volume; liquid does not cross. sd [m]: constant or by RH. As the first or last entry: a coating."""

    kind: Literal["membrane"]
    name: str = ""
    sd_m: Positive | None = None
    sd_by_rh: list[tuple[Annotated[float, Field(ge=0, le=1)], Positive]] | None = None
    rh_of: Literal["mean", "outer", "inner"] = "mean"
    heat_m2k_w: NonNegative = 0.0

    @model_validator(mode="after")
    def _one(self) -> Membrane:
        if (self.sd_m is None) == (self.sd_by_rh is None):
            raise ValueError("give exactly one of sd_m, sd_by_rh")
        if self.sd_by_rh is not None:
            _increasing([row[0] for row in self.sd_by_rh], "membrane RH")
        return self


LayerOrMembrane = Annotated[Layer | Membrane, Field(discriminator="kind")]


# --- ends -----------------------------------------------------------------------------------------


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

    least_rh: a void over bare soil is never drier than this.
    """

    type: Literal["unheated"]
    indoor: IndoorEnd
    factor_b: Annotated[float, Field(ge=0, le=1)]
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


# --- air and leaks --------------------------------------------------------------------------------


class WindAndSun(Strict):
    """Air through a cavity with openings at top and bottom, from wind and from the warmth of the sun.

    V = A √(2 (ΔC_p ρ v²/2 + ρ g H ΔT/T) / (ρ Σζ)) per metre of width, with ΔT half of what the sun warms the cladding.
    """

    climate: str
    facing_deg: Annotated[float, Field(ge=0, lt=360)]
    slope_deg: Annotated[float, Field(ge=0, le=180)] = 90.0
    height_m: Positive = 2.6
    opening_mm2_m: Positive = 5000.0
    pressure_coefficient: NonNegative = 0.1
    wind_factor: NonNegative = 0.5
    loss_coefficient: Positive = 3.0
    absorptance: Annotated[float, Field(ge=0, le=1)] = 0.6


class CavityAir(Strict):
    """Outside air exchanged with an air layer: changes an hour as given, or by wind and sun."""

    layer: Annotated[int, Field(ge=0)]
    changes_per_h: SeriesValue | None = None
    by_wind_and_sun: WindAndSun | None = None

    @model_validator(mode="after")
    def _one(self) -> CavityAir:
        if (self.changes_per_h is None) == (self.by_wind_and_sun is None):
            raise ValueError("give exactly one of changes_per_h, by_wind_and_sun")
        return self


class StackAndWind(Strict):
    """Air through leaks: flow = q50 (Δp / 50 Pa)^n; Δp from stack above the neutral plane and from wind on the face."""

    climate: str
    facing_deg: Annotated[float, Field(ge=0, lt=360)]
    q50_m3_m2h: NonNegative
    exponent: Annotated[float, Field(ge=0.5, le=1)] = 0.65
    above_neutral_m: float = 2.0
    windward_coefficient: float = 0.25
    leeward_coefficient: float = -0.25
    wind_factor: NonNegative = 0.5


class AirLeak(Strict):
    """Air that leaks to a plane and leaves it in equilibrium: the room's when it flows outward, outside air inward.

    flow_kg_m2s is positive from the room. Water and warmth that the air gives off at the plane are in the balances.
    """

    after_layer: Annotated[int, Field(ge=0)]
    flow_kg_m2s: SeriesValue | None = None
    by_stack_and_wind: StackAndWind | None = None

    @model_validator(mode="after")
    def _one(self) -> AirLeak:
        if (self.flow_kg_m2s is None) == (self.by_stack_and_wind is None):
            raise ValueError("give exactly one of flow_kg_m2s, by_stack_and_wind")
        return self


class RainLeak(Strict):
    """A share of the rain that gets in to a plane, on top of what the face takes up.

    of: “driven”, the rain driven onto the face (at a `separate` end its rain series); “falling”, what falls on the slope
    of a roof, whatever the end says of driven rain.
    """

    of: Literal["driven", "falling"] = "driven"
    after_layer: Annotated[int, Field(ge=0)]
    share: Annotated[float, Field(gt=0, le=1)]


class Air(Strict):
    """Flow of air through everything [kg/m²s, positive inward], air in cavities, leaks of air and of rain."""

    through_kg_m2s: SeriesValue = 0.0
    cavities: list[CavityAir] = []
    leaks: list[AirLeak] = []
    rain_leaks: list[RainLeak] = []


class Switches(Strict):
    heat: bool = True
    liquid: bool = True
    latent_heat: bool = True
    enthalpy_carried_by_flow: bool = True
    freezing: bool = False


class TimeControl(Strict):
    """length_s: one pass. repeat: pass after pass until settled, or a fixed number of passes."""

    start: str = Field(default="10-01", pattern=r"^\d{2}-\d{2}$", description="month-day of the first hour")
    length_s: Positive = 31536000.0
    repeat: Literal["once", "until_settled", "fixed"] = "once"
    fixed_passes: Annotated[int, Field(ge=1, le=50)] = 1
    most_passes: Annotated[int, Field(ge=2, le=50)] = 10
    least_passes: Annotated[int, Field(ge=1, le=50)] = 3
    settled_rh: Positive = 0.002
    settled_water_share: Positive = 0.01
    largest_step_s: Positive = 3600.0
    smallest_step_s: Positive = 1e-4
    mass_tolerance_kg_m2: Positive = 1e-7
    energy_tolerance_j_m2: Positive = 1e-2


class Plane(Strict):
    """A reconstructed face: `after_layer` n is the inner face of entry n (0-based); −1 the outer face.

    side: of a membrane its outer or inner face; where two materials meet, whose water content is given.
    With `depth_m` the plane lies inside layer `after_layer`, that far from its outer face, interpolated between nodes.
    """

    name: str
    after_layer: Annotated[int, Field(ge=-1)]
    side: Literal["outer", "inner"] = "outer"
    depth_m: NonNegative | None = None


class Output(Strict):
    step_s: Positive = 3600.0
    planes: list[Plane] = []
    profile_times_s: list[NonNegative] = []
    profile_depths_m: list[NonNegative] | None = None


class Case(Strict):
    """One transient computation. Lists run from outside to inside."""

    format: Literal["wendrick-case"] = "wendrick-case"
    version: Literal[1] = 1
    title: str = ""
    constants: Constants = Constants()
    series: dict[str, Series | SeriesRef] = {}
    climates: dict[str, ShippedClimate | ClimateColumns] = {}
    materials: dict[str, Material]
    initial: Initial = Initial(rh=0.8)
    layers: Annotated[list[LayerOrMembrane], Field(min_length=1, max_length=60)]
    outside: End
    inside: End
    air: Air = Air()
    switches: Switches = Switches()
    time: TimeControl = TimeControl()
    output: Output = Output()

    @property
    def hash(self) -> str:
        """SHA-256 over the canonical JSON of everything but the title."""
        content = self.model_dump(mode="json", exclude={"title"})
        return hashlib.sha256(json.dumps(content, sort_keys=True, separators=(",", ":")).encode()).hexdigest()


def read_case(text: str | bytes) -> Case:
    """A case from JSON text. Raises CaseRefused with every problem and its place."""
    try:
        raw = json.loads(text, parse_constant=_refuse_constant)
    except (ValueError, RecursionError) as error:
        raise CaseRefused(f"the file is not complete JSON: {error}") from error
    return case_from_dict(raw)


def case_from_dict(raw: Any) -> Case:
    """A case from plain data, references checked. Raises CaseRefused."""
    from core.resolve import check_references

    try:
        case = Case.model_validate(raw)
    except ValidationError as error:
        raise CaseRefused(describe_problems(error)) from error
    check_references(case)
    return case


def describe_problems(error: ValidationError) -> str:
    """Pydantic's findings as lines “place: what is wrong”."""
    lines = []
    for problem in error.errors(include_url=False)[:12]:
        place = ".".join(str(part) for part in problem["loc"]) or "whole file"
        got = problem.get("input")
        shown = f" (got {got!r})" if isinstance(got, int | float | str) and len(repr(got)) < 60 else ""
        lines.append(f"{place}: {problem['msg'].removeprefix('Value error, ')}{shown}")
    return "\n".join(lines)


def _refuse_constant(name: str) -> float:
    raise ValueError(f"{name} is not a number a case may hold")

"""Physical constants and what a material does: retention, liquid, vapour, heat."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from core.case.parts import Celsius, NonNegative, Positive, Strict, increasing, monotone
from core.physics.constants import EVAPORATION, GAS_CONSTANT_VAPOUR, GRAVITY, STANDARD_PRESSURE, WATER_HEAT
from core.physics.moist_air import PermeabilityFormula, SaturationFormula


class Constants(Strict):
    """Physical constants. R_v may be given as it is, or as R and M_w (then those two win)."""

    water_density_kg_m3: Positive = 1000.0
    gas_constant_vapour_j_kgk: Positive = GAS_CONSTANT_VAPOUR
    gas_constant_j_molk: Positive | None = None
    molar_mass_water_kg_mol: Positive | None = None
    water_heat_j_kgk: Positive = WATER_HEAT
    vapour_heat_j_kgk: Positive = 1840.0
    latent_heat_j_kg: Positive = EVAPORATION
    latent_heat_form: Literal["constant", "by_temperature"] = "by_temperature"
    fusion_heat_j_kg: Positive = 3.335e5
    saturation_pressure: SaturationFormula = "magnus_en15026"
    air_permeability: PermeabilityFormula = "kuenzel1994"
    air_pressure_pa: Positive = STANDARD_PRESSURE

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


RetentionArgument = Literal["suction_pa", "suction_head_m", "log10_suction_pa", "log10_suction_head_m", "rh"]


class RetentionBase(Strict):
    """held_with_temperature: which of w(suction), w(RH) stays the same curve when T changes."""

    argument: RetentionArgument = "rh"
    head_density_kg_m3: Positive = 1000.0
    head_gravity_m_s2: Positive = GRAVITY
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
        increasing(arguments, "retention argument")
        monotone([row[1] for row in self.rows], "retention w", rising=self.argument == "rh")
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
            increasing([row[0] for row in self.rows], "diffusivity w")
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
        increasing([row[0] for row in self.rows], "conductivity argument")
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
                increasing([row[0] for row in rows], f"vapour table {what}")
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
                increasing([row[0] for row in rows], f"conductivity table {what}")
        return self


class Material(Strict):
    """One material. `like` copies every part that is not given here from another material."""

    name: str = ""
    like: str | None = None
    retention: Retention | None = None
    liquid: Liquid | None = None
    vapour: Vapour | None = None
    heat: Heat | None = None

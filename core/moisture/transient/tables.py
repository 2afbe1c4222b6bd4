"""Material functions as monotone cubic tables, uniform in z = asinh(p_suc / 1 kPa).

One row of `MaterialTables.by_z` holds the cubic coefficients of w, Θ, the vapour factor and λ for one
interval, so that one index serves all four. Θ(z) = ∫ K dp_suc from p_suc(z) to dryness is the Kirchhoff
potential of the liquid: inside one material g_l = −dΘ/dx exactly.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core import case as c
from core.errors import CaseRefused, OutOfRange
from core.moisture.transient.table_grid import PHI_INTERVALS, T_INTERVALS, T_MAX, T_MIN, Z_INTERVALS, Z_MAX, Z_MIN
from core.physics.constants import ZERO_CELSIUS
from core.physics.moist_air import air_permeability_terms, saturation_pressure

Array = NDArray[np.float64]

SUCTION_UNIT = 1000.0
LEAST_WHEN_FULL = (
    0.1  # of its highest: where the liquid conductivity of a full material is less, it is held at the highest
)
OVER_SATURATION_STORAGE = 1.0e-4
"""kg/(m³ Pa): water a cell takes beyond w_sat under pressure; keeps the balance solvable when full."""

Z_GRID: Array = np.linspace(Z_MIN, Z_MAX, Z_INTERVALS + 1)
_FINE = 8
_FINE_Z: Array = np.linspace(Z_MIN, Z_MAX, Z_INTERVALS * _FINE + 1)
_FINE_Z[np.argmin(np.abs(_FINE_Z))] = 0.0


def suction_from_z(z: Any) -> Any:
    """p_suc [Pa] of z = asinh(p_suc / 1 kPa)."""
    return SUCTION_UNIT * np.sinh(z)


def z_from_suction(suction: Any) -> Any:
    """z of a suction [Pa]."""
    return np.arcsinh(np.asarray(suction) / SUCTION_UNIT)


def suction_from_rh(rh: Any, temperature: Any, constants: c.Constants) -> Any:
    """Kelvin: p_suc = −ρ_w R_v T ln φ [Pa]."""
    return -constants.water_density_kg_m3 * constants.vapour_gas_constant * temperature * np.log(rh)


@dataclass(frozen=True)
class MaterialTables:
    """Tables of one material for the kernel, with its scalars."""

    name: str
    by_z: Array  # (Z_INTERVALS, 16): four cubics
    by_phi: Array  # (PHI_INTERVALS, 4): vapour factor by RH, or ones
    by_temperature: Array  # (T_INTERVALS, 8): vapour permeability [kg/(m s Pa)] and λ factor
    volumetric_heat: float
    held_rh: bool
    factor_by_phi: bool
    reference_temperature: float
    kelvin_temperature: float  # 0: the actual temperature
    capillary: bool
    valid_z: tuple[float, float]  # outside it a run is refused (liquid function with outside = error)
    moisture_content: Callable[[Any], Any]  # w(suction) at the reference temperature, vectorised


def monotone_slopes(x: Array, y: Array) -> Array:
    """Slopes at the points that keep a cubic monotone: weighted harmonic means, Fritsch & Butland 1984.

    Written out here because importing SciPy's own costs a new worker process three quarters of a second;
    a test compares the two.
    """
    h, delta = np.diff(x), np.diff(y) / np.diff(x)
    if len(x) == 2:
        return np.array([delta[0], delta[0]])
    slope = np.zeros_like(y)
    same = delta[:-1] * delta[1:] > 0.0
    w1, w2 = 2.0 * h[1:] + h[:-1], h[1:] + 2.0 * h[:-1]
    safe = np.where(same, delta[:-1], 1.0), np.where(same, delta[1:], 1.0)
    slope[1:-1] = np.where(same, (w1 + w2) / (w1 / safe[0] + w2 / safe[1]), 0.0)
    for end, (h0, h1, d0, d1) in ((0, (h[0], h[1], delta[0], delta[1])), (-1, (h[-1], h[-2], delta[-1], delta[-2]))):
        one_sided = ((2.0 * h0 + h1) * d0 - h0 * d1) / (h0 + h1)
        if one_sided * d0 <= 0.0:
            one_sided = 0.0
        elif d0 * d1 < 0.0 and abs(one_sided) > 3.0 * abs(d0):
            one_sided = 3.0 * d0
        slope[end] = one_sided
    return slope


def monotone_curve(rows: list[tuple[float, float]]) -> Callable[[Any], Array]:
    """A monotone cubic through rows (x, y); beyond the ends the end value holds."""
    x, y = np.array([row[0] for row in rows], float), np.array([row[1] for row in rows], float)
    coefficients = _coefficients(x, y)

    def curve(points: Any) -> Array:
        inside = np.clip(np.asarray(points, float), x[0], x[-1])
        index = np.clip(np.searchsorted(x, inside, side="right") - 1, 0, len(x) - 2)
        t = (inside - x[index]) / (x[index + 1] - x[index])
        a, b, c2, d = np.moveaxis(coefficients[index], -1, 0)
        return np.asarray(a + t * (b + t * (c2 + t * d)))

    return curve


def _coefficients(x: Array, y: Array, slope: Array | None = None) -> Array:
    """Cubic coefficients by interval, ascending in (x − x_i)/h. Monotone: PCHIP, or limited Hermite."""
    if slope is None:
        slope = monotone_slopes(x, y)
    h = np.diff(x)
    delta = np.diff(y) / h
    # Fritsch & Carlson 1980: a slope above three times the secant could break monotonicity.
    limit = 3.0 * np.abs(
        np.concatenate(
            ([delta[0]], np.where(np.abs(delta[:-1]) < np.abs(delta[1:]), delta[:-1], delta[1:]), [delta[-1]])
        )
    )
    slope = np.sign(slope) * np.minimum(np.abs(slope), limit)
    d0, d1 = slope[:-1] * h, slope[1:] * h
    y0, dy = y[:-1], np.diff(y)
    return np.stack([y0, d0, 3 * dy - 2 * d0 - d1, d0 + d1 - 2 * dy], axis=1)


# --- retention ------------------------------------------------------------------------------------


def _argument(retention: Any, suction: Array, constants: c.Constants) -> Array:
    """The retention's own argument for suctions ≥ 0 [Pa]."""
    kind = retention.argument
    if kind == "rh":
        reference = retention.reference_temperature_c + ZERO_CELSIUS
        return np.exp(-suction / (constants.water_density_kg_m3 * constants.vapour_gas_constant * reference))
    head = retention.head_density_kg_m3 * retention.head_gravity_m_s2
    values = suction / head if "head" in kind else suction
    return np.log10(np.maximum(values, 1e-30)) if kind.startswith("log10") else values


def moisture_content_function(retention: c.Retention, constants: c.Constants) -> Callable[[Any], Array]:
    """w [kg/m³] as a function of suction ≥ 0 [Pa] at the reference temperature."""
    if isinstance(retention, c.RetentionVanGenuchten):

        def van_genuchten(suction: Any) -> Array:
            x = _argument(retention, np.asarray(suction, float), constants)
            total = np.zeros_like(x)
            for term in retention.terms:
                m = term.m if term.m is not None else 1.0 - 1.0 / term.n
                total = total + term.share * (1.0 + (term.a * x) ** term.n) ** (-m)
            return retention.saturated_kg_m3 * total

        return van_genuchten
    if isinstance(retention, c.RetentionKuenzel):
        w_f, ratio = retention.free_saturation_kg_m3, retention.w80_kg_m3 / retention.free_saturation_kg_m3
        b = 0.8 * (1.0 - ratio) / (0.8 - ratio)

        def kuenzel(suction: Any) -> Array:
            phi = _argument(retention, np.asarray(suction, float), constants)
            return w_f * (b - 1.0) * phi / (b - phi)

        return kuenzel
    rows = list(retention.rows)
    if retention.argument == "rh" and rows[0][0] > 0.0:
        rows.insert(0, (0.0, 0.0))
    curve = monotone_curve(rows)

    def table(suction: Any) -> Array:
        # Beyond the table's ends a retention is level: full below the smallest suction, dry above the largest.
        return curve(_argument(retention, np.asarray(suction, float), constants))

    return table


# --- liquid ---------------------------------------------------------------------------------------


def _interpolate_rows(rows: list[tuple[float, float]], x: Array) -> Array:
    return np.interp(x, [row[0] for row in rows], [row[1] for row in rows])


def _diffusivity(liquid: c.LiquidDiffusivity | c.LiquidKuenzel, w: Array) -> Array:
    if isinstance(liquid, c.LiquidKuenzel):
        w_f = liquid.free_saturation_kg_m3
        return 3.8 * (liquid.a_value_kg_m2s05 / w_f) ** 2 * 1000.0 ** (np.minimum(w, w_f) / w_f - 1.0)
    if liquid.constant_m2_s is not None:
        return np.full_like(w, liquid.constant_m2_s)
    if liquid.exponential is not None:
        return liquid.exponential[0] * np.exp(liquid.exponential[1] * w)
    assert liquid.rows is not None
    return np.exp(np.interp(w, [row[0] for row in liquid.rows], np.log([row[1] for row in liquid.rows])))


def liquid_increments(liquid: c.Liquid, w: Array, suction: Array) -> Array:
    """∫ K ds between one suction and the next [kg/(m s)], from wet to dry, of a liquid that is stated as D(w); 0 of none.

    The formula of the A-value gives D(w) whatever the retention: where that levels out towards saturation, K = D |dw/ds| falls by orders there, which no pore
    does. K stays at its highest from there on, all of it less by as much as leaves the uptake what it is (sorptivity after Parlange 1971).
    """
    if not isinstance(liquid, c.LiquidDiffusivity | c.LiquidKuenzel):
        return np.zeros(len(w) - 1)
    diffusivity = _diffusivity(liquid, w)
    # Θ = ∫ D dw from dry to w: the water content itself is the integration variable.
    stated: Array = 0.5 * (diffusivity[1:] + diffusivity[:-1]) * -np.diff(w)
    if not isinstance(liquid, c.LiquidKuenzel):
        return stated
    steps = np.diff(suction)
    conductivity = stated / steps
    highest = int(np.argmax(conductivity))
    if conductivity[0] > LEAST_WHEN_FULL * conductivity[highest]:
        return stated  # it rises to the end, but for the corners of a table
    held: Array = np.where(np.arange(len(steps)) < highest, conductivity[highest] * steps, stated)
    weight = w[0] + 0.5 * (w[1:] + w[:-1])
    drawn = float(np.sum(weight * held))
    return held * float(np.sum(weight * stated)) / drawn


def _conductivity_variable(variable: str, w: Array, w_sat: float, suction: Array) -> Array:
    if variable == "w":
        return w
    if variable == "saturation":
        return w / w_sat
    return suction if variable == "suction_pa" else np.log10(np.maximum(suction, 1e-3))


def _conductivity(
    liquid: c.LiquidConductivityTable | c.LiquidConductivityPolynomial, x: Array
) -> tuple[Array, NDArray[np.bool_]]:
    """K [s] and which points lie inside the valid range; outside it the end value is held."""
    if isinstance(liquid, c.LiquidConductivityTable):
        low, high = liquid.rows[0][0], liquid.rows[-1][0]
        value = _interpolate_rows(liquid.rows, x)
    else:
        low, high = liquid.valid_from, liquid.valid_to
        scaled = (np.clip(x, low, high) - liquid.shift) / liquid.scale
        value = np.asarray(np.polynomial.polynomial.polyval(scaled, liquid.coefficients), float)
    inside = (x >= low - 1e-9 * abs(low)) & (x <= high + 1e-9 * abs(high))
    if liquid.output == "k_s":
        return value, inside
    return np.exp(value if liquid.output == "ln_k" else value * np.log(10.0)), inside


def _liquid_potential(
    liquid: c.Liquid, w_of_suction: Callable[[Any], Array]
) -> tuple[Array, Array | None, tuple[float, float]]:
    """Θ on Z_GRID [kg/(m s)], its slope by z when known exactly, and the valid range of z."""
    everywhere = (-np.inf, np.inf)
    if isinstance(liquid, c.LiquidNone):
        return np.zeros_like(Z_GRID), None, everywhere
    wet = _FINE_Z >= 0.0
    suction = suction_from_z(_FINE_Z[wet])
    w = w_of_suction(suction)
    if isinstance(liquid, c.LiquidDiffusivity | c.LiquidKuenzel):
        increments = liquid_increments(liquid, w, suction)
        inside = np.ones_like(w, bool)
        if isinstance(liquid, c.LiquidDiffusivity) and liquid.rows is not None and liquid.outside == "error":
            inside = (w >= liquid.rows[0][0]) & (w <= liquid.rows[-1][0])
        first = max(1, int(np.argmax(suction > 100.0)))
        k_saturated = float(np.sum(increments[:first]) / (suction[first] - suction[0]))
        slope_fine = None
    else:
        x = _conductivity_variable(liquid.variable, w, float(w[0]), suction)
        k, inside = _conductivity(liquid, x)
        slope_fine = -k * SUCTION_UNIT * np.cosh(_FINE_Z[wet])
        increments = -0.5 * (slope_fine[1:] + slope_fine[:-1]) * np.diff(_FINE_Z[wet])
        k_saturated = float(k[0])
        if liquid.outside == "hold":
            inside = np.ones_like(w, bool)
    potential = np.concatenate((np.cumsum(increments[::-1])[::-1], [0.0]))
    theta = np.interp(Z_GRID, _FINE_Z[wet], potential)
    over = Z_GRID < 0.0
    theta[over] = potential[0] - k_saturated * suction_from_z(Z_GRID[over])
    slope = None
    if slope_fine is not None:
        slope = np.interp(Z_GRID, _FINE_Z[wet], slope_fine)
        slope[over] = -k_saturated * SUCTION_UNIT * np.cosh(Z_GRID[over])
    z_wet = _FINE_Z[wet]
    if not inside.any():
        raise CaseRefused("the liquid function's valid range holds no water content of this material")
    low = -np.inf if inside[0] else float(z_wet[np.argmax(inside)])
    high = np.inf if inside[-1] else float(z_wet[len(inside) - 1 - np.argmax(inside[::-1])])
    return theta, slope, (low, high)


# --- assembly -------------------------------------------------------------------------------------


def build_tables(name: str, material: c.Material, constants: c.Constants, liquid_on: bool) -> MaterialTables:
    """Tables of one material whose parts are all given. Raises CaseRefused with the material's name."""
    assert material.retention and material.liquid and material.vapour and material.heat
    retention, vapour, heat = material.retention, material.vapour, material.heat
    w_of_suction = moisture_content_function(retention, constants)
    suction = suction_from_z(Z_GRID)
    w = w_of_suction(np.maximum(suction, 0.0))
    if np.any(np.diff(w) > 1e-9 * max(1.0, float(w[0]))) or np.any(w < 0.0):
        raise CaseRefused("w must not rise with suction", f"materials.{name}.retention")
    w = w + OVER_SATURATION_STORAGE * np.maximum(-suction, 0.0)
    try:
        theta, theta_slope, valid_z = _liquid_potential(
            material.liquid if liquid_on else c.LiquidNone(form="none"), w_of_suction
        )
    except CaseRefused as error:
        raise CaseRefused(error.message, f"materials.{name}.liquid") from error
    factor = np.ones_like(Z_GRID)
    if vapour.reduction is not None:
        u = 1.0 - np.minimum(w, vapour.reduction.w_max_kg_m3) / vapour.reduction.w_max_kg_m3
        factor = u / ((1.0 - vapour.reduction.p) * u * u + vapour.reduction.p)
    if heat.conductivity_by_w is not None:
        conductivity = _interpolate_rows(heat.conductivity_by_w, w)
    else:
        divisor = heat.density_kg_m3 / heat.conductivity_w_mk if heat.supplement_form == "relative_to_density" else 1.0
        conductivity = heat.conductivity_w_mk + heat.moisture_supplement * w / divisor
    # w rises without bound under over-saturation only by the tiny storage; λ follows w as given.
    columns = [
        _coefficients(Z_GRID, w),
        _coefficients(Z_GRID, theta, theta_slope),
        _coefficients(Z_GRID, factor),
        _coefficients(Z_GRID, conductivity),
    ]
    return MaterialTables(
        name=name,
        by_z=np.ascontiguousarray(np.concatenate(columns, axis=1)),
        by_phi=phi_table(vapour.factor_by_rh) if vapour.factor_by_rh else phi_table([(0.0, 1.0)]),
        by_temperature=_temperature_table(vapour, heat, constants),
        volumetric_heat=heat.density_kg_m3 * heat.specific_heat_j_kgk,
        held_rh=retention.held_with_temperature == "rh",
        factor_by_phi=vapour.factor_by_rh is not None,
        reference_temperature=retention.reference_temperature_c + ZERO_CELSIUS,
        kelvin_temperature=0.0
        if retention.kelvin_temperature_c is None
        else retention.kelvin_temperature_c + ZERO_CELSIUS,
        capillary=bool(theta[0] > 0.0),
        valid_z=valid_z,
        moisture_content=w_of_suction,
    )


def phi_table(rows: list[tuple[float, float]]) -> Array:
    """Cubic table over RH 0 to 1 through rows (RH, value); monotone pieces, level beyond the ends."""
    phi = np.linspace(0.0, 1.0, PHI_INTERVALS + 1)
    if len(rows) == 1:
        return _coefficients(phi, np.full_like(phi, rows[0][1]), np.zeros_like(phi))
    return _coefficients(phi, monotone_curve(rows)(phi))


def _temperature_table(vapour: c.Vapour, heat: c.Heat, constants: c.Constants) -> Array:
    temperature = np.linspace(T_MIN, T_MAX, T_INTERVALS + 1)
    if vapour.mu is not None:
        factor, power = air_permeability_terms(constants.air_permeability, constants.air_pressure_pa)
        permeability = factor * temperature**power / vapour.mu
    elif vapour.permeability_kg_mspa is not None:
        permeability = np.full_like(temperature, vapour.permeability_kg_mspa)
    else:
        assert vapour.permeability_by_temperature_c is not None
        permeability = _interpolate_rows(vapour.permeability_by_temperature_c, temperature - ZERO_CELSIUS)
    ratio = np.ones_like(temperature)
    if heat.factor_by_temperature_c is not None:
        ratio = _interpolate_rows(heat.factor_by_temperature_c, temperature - ZERO_CELSIUS)
    return np.ascontiguousarray(
        np.concatenate([_coefficients(temperature, permeability), _coefficients(temperature, ratio)], axis=1)
    )


def air_table(constants: c.Constants) -> Array:
    """(T_INTERVALS, 8): saturation pressure and still-air permeability over T, as cubics."""
    temperature = np.linspace(T_MIN, T_MAX, T_INTERVALS + 1)
    pressure = np.asarray(saturation_pressure(temperature, constants.saturation_pressure))
    factor, power = air_permeability_terms(constants.air_permeability, constants.air_pressure_pa)
    slope = np.gradient(pressure, temperature, edge_order=2)
    return np.ascontiguousarray(
        np.concatenate(
            [_coefficients(temperature, pressure, slope), _coefficients(temperature, factor * temperature**power)],
            axis=1,
        )
    )


def check_valid(tables: MaterialTables, z_low: float, z_high: float, place: str) -> None:
    """Raises OutOfRange when the state left the range in which the liquid function is known."""
    if z_low < tables.valid_z[0] or z_high > tables.valid_z[1]:
        raise OutOfRange(
            f"material “{tables.name}” was driven outside the valid range of its liquid function; "
            "extend the function, or set outside to hold",
            place,
        )

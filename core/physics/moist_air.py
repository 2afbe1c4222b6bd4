"""Moist air: saturation pressure, vapour permeability of still air, dew point, density, what air holds of vapour.

Every formula has a name, because a case file must be able to say which one its author used.
Temperatures in K, pressures in Pa. Arrays or floats.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal

import numpy as np

from core.errors import OutOfRange
from core.physics.constants import (
    GAS_CONSTANT_AIR,
    GAS_CONSTANT_VAPOUR,
    RATIO_OF_MASSES,
    STANDARD_PRESSURE,
    STILL_AIR_PERMEABILITY,
    ZERO_CELSIUS,
)

SaturationFormula = Literal["magnus_en15026", "iso13788_ice", "buck1981_water"]
PermeabilityFormula = Literal["kuenzel1994", "schirmer1938", "en15026_annex_a", "constant_2e-10"]


def _magnus_en15026(temperature: Any) -> Any:
    """EN 15026 Annex A: 610.5 exp(17.269 θ / (237.3 + θ)), over water at every temperature."""
    theta = temperature - ZERO_CELSIUS
    return 610.5 * np.exp(17.269 * theta / (237.3 + theta))


def _iso13788_ice(temperature: Any) -> Any:
    """ISO 13788 Annex E: over water from 0 °C up, 610.5 exp(21.875 θ / (265.5 + θ)) below."""
    theta = np.asarray(temperature) - ZERO_CELSIUS
    over_ice = 610.5 * np.exp(21.875 * theta / (265.5 + theta))
    return np.where(theta < 0.0, over_ice, _magnus_en15026(temperature))


def _buck1981_water(temperature: Any) -> Any:
    """Buck 1981, over water: 611.21 exp((18.678 − θ/234.5) θ / (257.14 + θ))."""
    theta = temperature - ZERO_CELSIUS
    return 611.21 * np.exp((18.678 - theta / 234.5) * theta / (257.14 + theta))


SATURATION_FORMULAS: dict[str, Callable[[Any], Any]] = {
    "magnus_en15026": _magnus_en15026,
    "iso13788_ice": _iso13788_ice,
    "buck1981_water": _buck1981_water,
}


def saturation_pressure(temperature: Any, formula: SaturationFormula = "magnus_en15026") -> Any:
    """Saturation vapour pressure [Pa] at a temperature [K], valid 213.15 to 373.15 K.

    formula: one of SATURATION_FORMULAS; the source of each is in its own docstring.
    Raises OutOfRange outside the valid range.
    """
    values = np.asarray(temperature)
    if not np.all((values >= 213.15) & (values <= 373.15)):
        raise OutOfRange("temperature for saturation pressure is outside -60 to 100 °C")
    return SATURATION_FORMULAS[formula](temperature)


def saturation_pressure_over_ice(temperature: Any) -> Any:
    """Saturation pressure [Pa] over water, and below 0 °C over ice (ISO 13788, annex E), of a temperature [K]: where frost settles."""
    return saturation_pressure(temperature, "iso13788_ice")


def air_permeability_terms(formula: PermeabilityFormula, air_pressure: float) -> tuple[float, float]:
    """Still-air vapour permeability as C·T^n: returns (C, n), δ_air in kg/(m s Pa), T in K.

    kuenzel1994: 2e-7 T^0.81 / P (Künzel 1994). schirmer1938: 2.306e-5 P0/(R_v T P) (T/273.15)^1.81
    (Schirmer 1938). en15026_annex_a: M_w/(R T) 26.1e-6 (EN 15026 Annex A). constant_2e-10: ISO 13788.
    """
    if formula == "kuenzel1994":
        return 2.0e-7 / air_pressure, 0.81
    if formula == "schirmer1938":
        return 2.306e-5 * STANDARD_PRESSURE / (GAS_CONSTANT_VAPOUR * air_pressure) / ZERO_CELSIUS**1.81, 0.81
    if formula == "en15026_annex_a":
        return 0.018 / 8.314 * 26.1e-6, -1.0
    return STILL_AIR_PERMEABILITY, 0.0


def dew_point_from_vapour_pressure(vapour_pressure: Any) -> Any:
    """Dew point [K] of a vapour pressure [Pa]: the inverse of magnus_en15026 (EN 15026 Annex A)."""
    ratio = np.log(np.asarray(vapour_pressure) / 610.5)
    return ZERO_CELSIUS + 237.3 * ratio / (17.269 - ratio)


def dry_air_density(celsius: Any) -> Any:
    """Dry air at standard pressure [kg/m³], of a temperature [°C]."""
    return STANDARD_PRESSURE / (GAS_CONSTANT_AIR * (np.asarray(celsius) + ZERO_CELSIUS))


def humidity_ratio(vapour_pressure: Any) -> Any:
    """kg of vapour with each kg of dry air at standard pressure, of a vapour pressure [Pa]."""
    return RATIO_OF_MASSES * vapour_pressure / (STANDARD_PRESSURE - vapour_pressure)


def vapour_by_air(air_pressure: float) -> float:
    """kg of vapour that a kg of air carries for each Pa of vapour pressure, at an air pressure [Pa]: 0.622 / p, of dilute vapour."""
    return RATIO_OF_MASSES / air_pressure

"""Steps of the tables that the solver reads: by z (arsinh of the suction in kPa), by relative humidity, by temperature. Builder and reader share them."""

from __future__ import annotations

Z_MIN, Z_MAX, Z_INTERVALS = -8.0, 15.0, 2300
PHI_INTERVALS = 500
T_MIN, T_MAX, T_INTERVALS = 213.15, 373.15, 2560  # K
Z_STEP_INVERSE, T_STEP_INVERSE = Z_INTERVALS / (Z_MAX - Z_MIN), T_INTERVALS / (T_MAX - T_MIN)

"""The criteria, one row each. A new one is a file beside this and a row here."""

from __future__ import annotations

from core.criteria import accumulation, condensate, frost, metal, mould, timber, wet_insulation
from core.criteria.judging import Criterion, Limit

CRITERIA: tuple[Criterion, ...] = (
    mould.CRITERION,
    timber.TIMBER,
    timber.SHEET,
    timber.FIBRE,
    condensate.CRITERION,
    wet_insulation.CRITERION,
    frost.CRITERION,
    metal.CRITERION,
    accumulation.CRITERION,
)
BY_KEY = {row.key: row for row in CRITERIA}
LIMITS: tuple[Limit, ...] = tuple(limit for row in CRITERIA for limit in row.limits)
VERSIONS = ", ".join(f"{row.key} {row.version}" for row in CRITERIA)
LEFT_OUT = "decay (the coefficients of its published model are not certain here)"

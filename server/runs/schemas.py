"""States of runs and tests as they are answered."""

from __future__ import annotations

from typing import Literal

from ninja import Schema

from core.criteria.judging import State
from core.criteria.run_findings import Balances
from core.criteria.verdict import Verdict


class RunState(Schema):
    """The hourly years of an option: state in words, and what the newest result that fits, or used to, says.

    older: computed with an older solver or older criteria; run it again. before, wait_s: while it waits, how many runs come
    first, and about how long that takes.
    """

    state: Literal["not run", "waiting", "running", "current", "out of date", "failed", "cancelled", "not available"]
    run_id: int | None = None
    progress: float = 0.0
    doing: str = ""
    error: str = ""
    verdict: Verdict | None = None
    balances: Balances | None = None
    wetting_kg_m2: float | None = None
    older: bool = False
    before: int = 0
    wait_s: float | None = None


class WettingWords(Schema):
    """The newest wetting test of an option, in what ranks."""

    mean_stay_days: float
    half_left_after: float | None
    left_g: float
    at_heating: float
    passes: bool
    stale: bool


class TestWords(Schema):
    """What the newest tests say of an option; stale where something changed since."""

    wetting: WettingWords | None = None
    bad_year: State | None = None
    study_over: int = 0
    study_runs: int = 0
    stale: bool = False

"""Mould growth index M, Hukka & Viitanen 1999 with the classes and decline of Ojanen et al. 2010.

Coefficients from memory of those papers, cross-checked; core/cases/reference/mould.md lists them.
"""

from __future__ import annotations

from typing import Literal

import numpy as np
from numba import njit
from numpy.typing import NDArray

from core.criteria.findings import Finding, Peak, Phase, Run
from core.criteria.judging import Criterion, Judgement, Limit, LimitValues, Stated, state_of
from core.materials.library import MouldClass
from core.say import figure, say

Array = NDArray[np.float64]

# class: k1 below M = 1, k1 from M = 1, A, B, C, RH_min, decline factor C_mat
CLASSES: dict[MouldClass, tuple[float, ...]] = {
    "very_sensitive": (1.0, 2.0, 1.0, 7.0, 2.0, 80.0, 1.0),
    "sensitive": (0.578, 0.386, 0.3, 6.0, 1.0, 80.0, 0.5),
    "medium_resistant": (0.072, 0.097, 0.0, 5.0, 1.5, 85.0, 0.25),
    "resistant": (0.033, 0.014, 0.0, 3.0, 1.0, 85.0, 0.1),
}


@njit(cache=True)
def _index(temperature, humidity, hours, start, k_low, k_high, a, b, c, rh_min, decline):
    n = temperature.shape[0]
    out = np.empty(n)
    m = start
    unfavourable = 0.0
    days = hours / 24.0
    for i in range(n):
        t = temperature[i]
        rh = min(humidity[i], 100.0)
        critical = rh_min
        if t <= 20.0:
            critical = max(rh_min, -0.00267 * t**3 + 0.160 * t**2 - 3.13 * t + 100.0)
        if rh > critical and 0.0 < t <= 50.0:
            unfavourable = 0.0
            weeks = np.exp(-0.68 * np.log(t) - 13.9 * np.log(rh) + 66.02)
            r = (critical - rh) / (critical - 100.0)
            largest = max(0.0, a + b * r - c * r * r)
            # M rises over the step by the exact solution of dM/dt = k (1 − exp(2.3 (M − M_max))):
            # split where k1 changes at M = 1.
            left = days
            while left > 1e-12 and m < largest:
                k = (k_low if m < 1.0 else k_high) / (7.0 * weeks)
                target = _grow(m, largest, k, left)
                if m < 1.0 and target > 1.0 and largest > 1.0:
                    need = _time_to(m, 1.0, largest, k)
                    m = 1.0
                    left -= min(need, left)
                else:
                    m = target
                    left = 0.0
        else:
            before = unfavourable
            unfavourable += hours
            # −0.032 a day for the first 6 h, none to 24 h, −0.016 a day after; only the part in each span.
            first = max(0.0, min(unfavourable, 6.0) - before)
            late = max(0.0, unfavourable - max(before, 24.0))
            m = max(0.0, m - decline * (0.032 * first + 0.016 * late) / 24.0)
        out[i] = m
    return out


@njit(cache=True)
def _grow(m, largest, k, days):
    """M after so many days: u = exp(2.3 (M − M_max)) obeys u' = 2.3 k u (1 − u)."""
    u = np.exp(2.3 * (m - largest))
    if u >= 1.0:
        return m
    ratio = u / (1.0 - u) * np.exp(min(2.3 * k * days, 500.0))
    return largest + np.log(ratio / (1.0 + ratio)) / 2.3


@njit(cache=True)
def _time_to(m, target, largest, k):
    u0, u1 = np.exp(2.3 * (m - largest)), np.exp(2.3 * (target - largest))
    return (np.log(u1 / (1.0 - u1)) - np.log(u0 / (1.0 - u0))) / (2.3 * k)


def mould_index(
    temperature_c: Array,
    relative_humidity: Array,
    mould_class: MouldClass,
    step_s: float = 3600.0,
    start: float = 0.0,
) -> Array:
    """M after every step. temperature [°C], RH 0 to 1 (over 1 counts as 1), from M `start`."""
    coefficients = CLASSES[mould_class]
    return np.asarray(
        _index(
            np.ascontiguousarray(temperature_c, float),
            100.0 * np.ascontiguousarray(relative_humidity, float),
            step_s / 3600.0,
            start,
            *coefficients,
        )
    )


def growth_1999(temperature_c: float, relative_humidity: float, days: float) -> float:
    """M of sawn pine under constant conditions, the 1999 form (for verification only).

    k1 = 1 below M = 1, then 2/(t_v/t_m − 1); M_max from A, B, C = 1, 7, 2; RH_min 80.
    """
    t, rh = temperature_c, 100.0 * relative_humidity
    critical = 80.0 if t > 20 else max(80.0, -0.00267 * t**3 + 0.160 * t**2 - 3.13 * t + 100.0)
    t_m = np.exp(-0.68 * np.log(t) - 13.9 * np.log(rh) + 66.02)
    t_v = np.exp(-0.74 * np.log(t) - 12.72 * np.log(rh) + 61.50)
    r = (critical - rh) / (critical - 100.0)
    largest = 1.0 + 7.0 * r - 2.0 * r * r
    k_low, k_high = 1.0 / (7.0 * t_m), 2.0 / (t_v / t_m - 1.0) / (7.0 * t_m)
    to_one = float(_time_to(0.0, 1.0, largest, k_low))
    if days <= to_one:
        return float(_grow(0.0, largest, k_low, days))
    return float(_grow(1.0, largest, k_high, days - to_one))


# --- the criterion ------------------------------------------------------------------------------------

MOST_REPEATS = 10


class MouldFinding(Finding):
    """for_good: of the settled year lived again and again from nothing until it repeats, ten years at most."""

    criterion: Literal["mould"] = "mould"
    role: Literal["face", "masonry", "inside", "cavity", "room"]
    mould_class: MouldClass
    for_good: Peak
    drying_in: Peak | None


def find(run: Run) -> list[MouldFinding]:
    """Of every watch point, judged or not."""
    found = []
    outcome = run.outcome
    for watch in run.model.watch_points:
        node = outcome.planes[watch.name]
        temperature, humidity = outcome.temperature_c(node), outcome.rh(node)
        index = mould_index(temperature, humidity, watch.mould_class, outcome.record_step_s)
        last, before = run.stretch("for good"), run.stretch("drying in")
        settled = repeated_index(temperature[last], humidity[last], watch.mould_class, outcome.record_step_s)
        top = int(settled.argmax())
        drying_in = None
        if before.stop > before.start:
            first = int(index[before].argmax())
            drying_in = Peak(value=float(index[before][first]), on=run.day_of(first))
        found.append(
            MouldFinding(
                place=watch.name,
                layer_id=watch.after_layer_id,
                judged=watch.judged,
                why_not=watch.why_not,
                role=watch.role,
                mould_class=watch.mould_class,
                for_good=Peak(value=float(settled[top]), on=run.day_of(last.start + top)),
                drying_in=drying_in,
            )
        )
    return found


def repeated_index(temperature_c: Array, relative_humidity: Array, mould_class: MouldClass, step_s: float) -> Array:
    """M through the last of so many equal years, from M 0 until the year's highest value repeats to 0.01."""
    start, before = 0.0, -1.0
    index = np.zeros(len(temperature_c))
    for _ in range(MOST_REPEATS):
        index = mould_index(temperature_c, relative_humidity, mould_class, step_s, start)
        if abs(float(index.max()) - before) < 0.01:
            break
        before, start = float(index.max()), float(index[-1])
    return index


LIMITS = (
    Limit(key="mould.inside", name="mould index inside a build-up", default=3.0, unit="", least=0.5, most=6.0,
          why="growth that the eye begins to see; inside, where nobody breathes it"),
    Limit(key="mould.cavity", name="mould index where cavity air reaches the room", default=2.0, unit="", least=0.5, most=6.0,
          why="air of the cavity gets into the room"),
    Limit(key="mould.room", name="mould index on a face toward the room", default=1.0, unit="", least=0.3, most=6.0,
          why="first growth under the microscope; the room's own air"),
)  # fmt: skip
NOTHING_GROWS = 0.05  # would be told as 0.0, with the first day as its date
LIMIT_OF_ROLE = {"inside": "mould.inside", "cavity": "mould.cavity", "room": "mould.room"}


def judge(
    finding: MouldFinding, phase: Phase, as_found: MouldFinding | None, limits: LimitValues, stated: Stated
) -> Judgement | None:
    peak = finding.for_good if phase == "for good" else finding.drying_in
    if peak is None or finding.role not in LIMIT_OF_ROLE:
        return None
    limit = limits[LIMIT_OF_ROLE[finding.role]]
    share = peak.value / limit
    when = peak.on.in_phase(phase)
    if peak.value < NOTHING_GROWS:
        sentence = say("At {place} the mould index stays at 0; limit {limit}.", place=finding.place, limit=f"{limit:g}")
    else:
        verb = "reaches" if share > 1.0 else "reaches at most"
        sentence = say(
            "At {place} the mould index {verb} {value} ({when}); limit {limit}.",
            place=finding.place, verb=verb, value=figure(peak.value, 1), when=when, limit=f"{limit:g}",
        )  # fmt: skip
    return Judgement(
        criterion="mould", place=finding.place, layer_id=finding.layer_id, phase=phase, value=peak.value, unit="index",
        share=share, state=state_of(share), on=peak.on, sentence=sentence,
    )  # fmt: skip


CRITERION = Criterion(
    "mould", 2, MouldFinding, find, judge, LIMITS,
    "Mould growth index after Hukka & Viitanen 1999 and Ojanen et al. 2010, coefficients from memory. Says nothing of "
    "spores already there, nor of planes bonded in lime, which are reported.",
)  # fmt: skip

"""The wetting test: water put into a plane over an hour, against a twin run without it. How long until it is gone?

Source: definition of the project's own (physics of the runs, no standard): 1 kg/m² into 10 mm, the plane back within
two points of RH of its twin.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date

import numpy as np
from numpy.typing import NDArray

from core import case as c
from core.buildup.model import BuildUp, Place
from core.buildup.to_case import model_of
from core.climate.data import HOURS_PER_YEAR
from core.criteria.verdict import MONTHS
from core.errors import OutOfRange
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.solve import Progress, simulate
from core.moisture.transient.tables import moisture_content_function
from core.resolve import resolve_material

DOSE_KG_M2, THICKNESS_M, BACK_RH = 1.0, 0.010, 0.02
LOOK_AFTER_DAYS = (30, 90, 365)
HEATING_SEASON = (10, 1)
WET_BEFORE_RH = 0.97  # so near to saturation two points of RH hold most of the water there is
Array = NDArray[np.float64]


@dataclass(frozen=True)
class WettingTest:
    """What became of the water. `days` is None when the plane is not back within a year.

    left_g_m2: more water in the whole build-up than in the twin, after so many days. rh and rh_twin: daily means at the
    plane for a year from the day of the wetting; before_rh: at the plane when the water came. drained: what did not fit into the wetted thickness [kg/m²].
    """

    layer_id: str
    on: str
    dose_kg_m2: float
    drained_kg_m2: float
    days: float | None
    back_before_heating: bool
    left_g_m2: dict[int, float]
    most_rh: float
    before_rh: float
    rh: Array
    rh_twin: Array

    @property
    def _day(self) -> str:
        month, day = (int(part) for part in self.on.split("-"))
        return f"{day} {MONTHS[month - 1]}"

    @property
    def sentence(self) -> str:
        """One sentence for the margin."""
        wet = self.before_rh > WET_BEFORE_RH
        caution = (
            f" The plane stood at {self.before_rh * 100:.0f} % RH without it: being back says little here."
            if wet
            else ""
        )
        spilled = f" ({self.drained_kg_m2:.2f} kg/m² did not fit and drained)" if self.drained_kg_m2 > 0.005 else ""
        gone = "is not back within a year" if self.days is None else f"is back after {self.days:.0f} days"
        rest = ", ".join(f"{grams:.0f} g/m² after {days} days" for days, grams in self.left_g_m2.items())
        return (
            f"{self.dose_kg_m2:.2f} kg/m² put in on {self._day}{spilled}: the plane {gone}; still in: {rest}.{caution}"
        )


def wetting_test(
    build_up: BuildUp,
    place: Place,
    layer_id: str,
    on: str = "04-01",
    thickness_m: float = THICKNESS_M,
    dose_kg_m2: float = DOSE_KG_M2,
    years_before: int = 2,
    progress: Progress | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> WettingTest:
    """Wet the inner `thickness_m` of a layer on a day (month-day) after some years, and follow it for a year.

    Raises OutOfRange when the layer is no solid of this build-up; NotAvailableYet as `model_of`.
    """
    case, entry = _sliced(build_up, place, layer_id, thickness_m)
    hours = (years_before + 1) * HOURS_PER_YEAR
    time = c.TimeControl(start=on, length_s=hours * 3600.0, repeat="fixed", fixed_passes=1)
    twin_case = case.model_copy(update={"time": time})
    report = progress or (lambda share, what: None)
    twin = simulate(twin_case, lambda share, what: report(0.5 * share, "the twin without water"), cancelled)
    at = years_before * HOURS_PER_YEAR
    slice_layer = case.layers[entry]
    assert isinstance(slice_layer, c.Layer) and isinstance(slice_layer.thickness_m, float)
    room = _room_left(twin, entry, slice_layer.thickness_m, at)
    dose = min(dose_kg_m2, room)
    if dose <= 0.0:
        raise OutOfRange("the plane is full of water already", "choose another plane or day")
    rate = np.zeros(hours)
    rate[at] = dose / (slice_layer.thickness_m * 3600.0)
    source = c.Source(water_kg_m3s=c.Series(values=rate.tolist()))
    layers = list(twin_case.layers)
    layers[entry] = slice_layer.model_copy(update={"source": source})
    wet = simulate(
        twin_case.model_copy(update={"layers": layers}),
        lambda share, what: report(0.5 + 0.5 * share, "the wetted wall"),
        cancelled,
    )
    return _compare(wet, twin, layer_id, on, dose, dose_kg_m2 - dose, at)


def _sliced(build_up: BuildUp, place: Place, layer_id: str, thickness_m: float) -> tuple[c.Case, int]:
    """The case with the wetted thickness as an entry of its own, and the index of that entry."""
    model = model_of(build_up, place)
    layers = list(model.case.layers)
    entry = next((i for i, own in enumerate(model.layer_of_entry) if own == layer_id), None)
    whole = layers[entry] if entry is not None else None
    if entry is None or not isinstance(whole, c.Layer) or not isinstance(whole.thickness_m, float):
        raise OutOfRange(f"layer “{layer_id}” cannot be wetted", "choose a layer with thickness")
    if whole.thickness_m > thickness_m * 1.2:
        outer = whole.model_copy(update={"thickness_m": whole.thickness_m - thickness_m})
        inner = whole.model_copy(update={"thickness_m": thickness_m, "name": f"{whole.name}, wetted"})
        layers[entry : entry + 1] = [outer, inner]
        entry += 1
    output = c.Output(planes=[c.Plane(name="wetted plane", after_layer=entry, side="outer")])
    return model.case.model_copy(update={"layers": layers, "output": output}), entry


def _room_left(twin: Outcome, entry: int, thickness: float, hour: int) -> float:
    """Water that still fits into the wetted thickness [kg/m²]."""
    layer = twin.case.layers[entry]
    assert isinstance(layer, c.Layer)
    retention = resolve_material(twin.case, layer.material).retention
    assert retention is not None
    full = float(moisture_content_function(retention, twin.case.constants)(np.array(0.0)))
    inside = float(twin.layer_water[hour - 1, twin.solid_entries.index(entry)])
    return max(full * thickness - inside, 0.0)


def _compare(wet: Outcome, twin: Outcome, layer_id: str, on: str, dose: float, drained: float, at: int) -> WettingTest:
    node = wet.planes["wetted plane"]
    year = slice(at, at + HOURS_PER_YEAR)
    rh, rh_twin = wet.rh(node, year), twin.rh(node, year)
    more = (wet.layer_water[year].sum(axis=1) - twin.layer_water[year].sum(axis=1)) * 1000.0
    apart = np.flatnonzero(np.abs(rh - rh_twin) > BACK_RH)
    last = int(apart[-1]) + 1 if len(apart) else 0
    days = None if last >= HOURS_PER_YEAR else last / 24.0
    month, day = (int(part) for part in on.split("-"))
    begins, wetted = date(2001, *HEATING_SEASON).toordinal(), date(2001, month, day).toordinal()
    left_until_heating = (begins - wetted) % 365 or 365
    return WettingTest(
        layer_id=layer_id,
        on=on,
        dose_kg_m2=dose,
        drained_kg_m2=drained,
        days=days,
        back_before_heating=days is not None and days <= left_until_heating,
        left_g_m2={n: float(more[min(n * 24, HOURS_PER_YEAR) - 1]) for n in LOOK_AFTER_DAYS},
        most_rh=float(rh.max()),
        before_rh=float(rh_twin[0]),
        rh=rh.reshape(-1, 24).mean(axis=1),
        rh_twin=rh_twin.reshape(-1, 24).mean(axis=1),
    )

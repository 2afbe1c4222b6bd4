"""The wetting test: water put into a plane within an hour, against a twin run without it. Where is it, and for how long?

Definition of the project's own, no standard. Twin runs of one year from 80 % RH and 15 °C, without driven rain or leaks,
else in the real weather and the room's air; e(t) is what the wetted build-up holds more than its twin, over the dose. It
depends on how the build-up dries, not on how wet the real wall is: that stands beside it as *before*.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date

import numpy as np
from numpy.typing import NDArray

from core import case as c
from core.assembly.to_case import model_of
from core.buildup.model import BuildUp, Place
from core.buildup.planes import SensitivePlane
from core.case.resolve import resolve_material
from core.climate.data import HOURS_PER_YEAR, MONTHS
from core.errors import OutOfRange
from core.moisture.transient.columns import LIQUID, VAPOUR
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.solve import Progress, simulate
from core.moisture.transient.tables import moisture_content_function
from core.say import Said, percent, say, water

DOSE_KG_M2, THICKNESS_M = 1.0, 0.010
START_RH = 0.8
FULL_SHARE = 0.8  # of the room that is left in the wetted thickness: a fuller plane spills
HALF, TENTH = 0.5, 0.1
HEATING_SEASON = (10, 1)
PLANE = "wetted plane"
Array = NDArray[np.float64]


@dataclass(frozen=True)
class WettingTest:
    """What became of the water. mean_stay_days: integral of e over the year; it ranks.

    half_left_after: days until half has left for good, None when not within a year. plane_dry_after: days until nine
    tenths have left the wetted thickness. left_g: of 1,000 g, after a year. at_heating: share left when the next heating
    season begins. outward_g, inward_g, spread_g: of 1,000 g, where it went; spread: still in, elsewhere.
    e: daily means of the share that is left.
    """

    plane: str
    layer_id: str
    on: str
    dose_kg_m2: float
    mean_stay_days: float
    half_left_after: float | None
    plane_dry_after: float | None
    left_g: float
    at_heating: float
    outward_g: float
    inward_g: float
    e: Array
    rh: Array
    rh_twin: Array

    @property
    def passes(self) -> bool:
        """Less than half is left when the next heating season begins."""
        return self.at_heating < HALF

    @property
    def sentence(self) -> Said:
        """One sentence for the margin."""
        month, day = (int(part) for part in self.on.split("-"))
        gone = (
            "half of it has not left within a year"
            if self.half_left_after is None
            else f"half of it has left after {self.half_left_after:.0f} days"
        )
        return say(
            "{dose} put at the {plane} on {when}: it stays {stay} days on average, {gone}; {left} of it is left after a "
            "year, {out} went outward, {into} inward.",
            dose=water(self.dose_kg_m2, 2), plane=self.plane, when=f"{day} {MONTHS[month - 1]}",
            stay=f"{self.mean_stay_days:.0f}", gone=gone, left=percent(self.left_g / 1000.0),
            out=percent(self.outward_g / 1000.0), into=percent(self.inward_g / 1000.0),
        )  # fmt: skip


def wetting_test(
    build_up: BuildUp,
    place: Place,
    plane: SensitivePlane,
    on: str = "04-01",
    dose_kg_m2: float = DOSE_KG_M2,
    thickness_m: float = THICKNESS_M,
    progress: Progress | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> WettingTest:
    """Wet the thickness at a plane on a day (month-day), and follow it for a year.

    Where the dose does not fit, as much is put in as does; what is reported is over the dose.
    Raises OutOfRange when the layer is no solid of this build-up; NotAvailableYet as `model_of`.
    """
    case, entry = sliced(build_up, place, plane, thickness_m)
    time = case.time.model_copy(update={"start": on, "repeat": "once"})
    twin_case = case.model_copy(update={"time": time})
    report = progress or (lambda share, what: None)
    twin = simulate(twin_case, lambda share, what: report(0.5 * share, "the twin without water"), cancelled)
    slice_layer = case.layers[entry]
    assert isinstance(slice_layer, c.Layer) and isinstance(slice_layer.thickness_m, float)
    dose = min(dose_kg_m2, FULL_SHARE * _room_left(twin, entry, slice_layer.thickness_m))
    if dose < 0.05:
        raise OutOfRange(f"hardly any water fits into {slice_layer.name}", "choose another plane")
    rate = np.zeros(HOURS_PER_YEAR)
    rate[0] = dose / (slice_layer.thickness_m * 3600.0)
    source = c.Source(water_kg_m3s=c.Series(values=rate.tolist()))
    layers = list(twin_case.layers)
    layers[entry] = slice_layer.model_copy(update={"source": source})
    wet = simulate(
        twin_case.model_copy(update={"layers": layers}),
        lambda share, what: report(0.5 + 0.5 * share, "the wetted wall"),
        cancelled,
    )
    return _compare(wet, twin, plane, on, dose, entry)


def sliced(build_up: BuildUp, place: Place, plane: SensitivePlane, thickness_m: float) -> tuple[c.Case, int]:
    """The case without rain or leaks, from 80 % RH, with the wetted thickness as an entry of its own, and its index."""
    dry_place = place.model_copy(update={"start_rh": START_RH, "rain_scale": 0.0})
    bare = build_up.model_copy(
        update={"layers": [layer.model_copy(update={"start_rh": None}) for layer in build_up.layers]}
    )
    model = model_of(bare, dry_place)
    case = model.case
    if isinstance(case.outside, c.WeatherEnd):
        case = case.model_copy(
            update={"outside": case.outside.model_copy(update={"rain": c.DrivenRain(method="none")})}
        )
    case = case.model_copy(update={"air": case.air.model_copy(update={"leaks": [], "rain_leaks": []})})
    layers = list(case.layers)
    entry = next((i for i, own in enumerate(model.layer_of_entry) if own == plane.layer_id), None)
    whole = layers[entry] if entry is not None else None
    if entry is None or not isinstance(whole, c.Layer) or not isinstance(whole.thickness_m, float):
        raise OutOfRange(f"layer “{plane.layer_id}” cannot be wetted", "choose a layer with thickness")
    if whole.thickness_m > thickness_m * 1.2:
        rest = whole.model_copy(update={"thickness_m": whole.thickness_m - thickness_m, "cells": None, "stretch": None})
        wetted = whole.model_copy(
            update={"thickness_m": thickness_m, "name": f"{whole.name}, wetted", "cells": None, "stretch": None}
        )
        layers[entry : entry + 1] = [rest, wetted] if plane.face == "inner" else [wetted, rest]
        later = entry
        entry += plane.face == "inner"
        cavities = [
            cavity.model_copy(update={"layer": cavity.layer + (cavity.layer > later)}) for cavity in case.air.cavities
        ]
        case = case.model_copy(update={"air": case.air.model_copy(update={"cavities": cavities})})
    after = entry if plane.face == "inner" else entry - 1
    output = c.Output(planes=[c.Plane(name=PLANE, after_layer=after, side="inner")])
    return case.model_copy(update={"layers": layers, "output": output}), entry


def _room_left(twin: Outcome, entry: int, thickness: float) -> float:
    """Water that still fits into the wetted thickness at the start [kg/m²]."""
    layer = twin.case.layers[entry]
    assert isinstance(layer, c.Layer)
    retention = resolve_material(twin.case, layer.material).retention
    assert retention is not None
    full = float(moisture_content_function(retention, twin.case.constants)(np.array(0.0)))
    inside = float(twin.start_layer_water[twin.solid_entries.index(entry)])
    return max(full * thickness - inside, 0.0)


def _compare(wet: Outcome, twin: Outcome, plane: SensitivePlane, on: str, dose: float, entry: int) -> WettingTest:
    node = wet.planes[PLANE]
    share = (wet.layer_water.sum(axis=1) - twin.layer_water.sum(axis=1)) / dose
    at = wet.solid_entries.index(entry)
    in_plane = (wet.layer_water[:, at] - twin.layer_water[:, at]) / dose
    step = wet.record_step_s
    out, into = (
        -float((wet.flux[:, end, VAPOUR : LIQUID + 1] - twin.flux[:, end, VAPOUR : LIQUID + 1]).sum() * step)
        / dose
        * 1000.0
        for end in (0, 1)
    )
    # what a vented gap carries off goes outward too, and so does what drained away
    out += -float((wet.gained - twin.gained).sum() * step) / dose * 1000.0
    daily = share.reshape(-1, 24).mean(axis=1)
    month, day = (int(part) for part in on.split("-"))
    begins, wetted = date(2001, *HEATING_SEASON).toordinal(), date(2001, month, day).toordinal()
    heating = (begins - wetted) % 365 or 364
    return WettingTest(
        plane=plane.words,
        layer_id=plane.layer_id,
        on=on,
        dose_kg_m2=dose,
        mean_stay_days=float(share.sum() * step / 86400.0),
        half_left_after=_last_above(share, HALF, step),
        plane_dry_after=_last_above(in_plane, TENTH, step),
        left_g=float(daily[-1] * 1000.0),
        at_heating=float(daily[min(heating, len(daily) - 1)]),
        outward_g=out,
        inward_g=into,
        e=daily,
        rh=np.minimum(wet.rh(node), 1.0).reshape(-1, 24).mean(axis=1),
        rh_twin=np.minimum(twin.rh(node), 1.0).reshape(-1, 24).mean(axis=1),
    )


def _last_above(share: Array, limit: float, step_s: float) -> float | None:
    """Days until a share stays at or below a limit; None when it ends above it."""
    above = np.flatnonzero(share > limit)
    last = int(above[-1]) + 1 if len(above) else 0
    return None if last >= len(share) else last * step_s / 86400.0

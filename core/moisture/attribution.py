"""Where the water at a plane comes from: what reaches it in the settled year, by side, by phase and by source.

The fluxes across the two edges beside the plane are worked out again from the recorded state; by the day, so that an hour's
to and fro does not count, and no side counts for more than its own end took in over the year: what the plane gave it and
gets back is no source. They add up to the plane's turnover, not to a tracer: rain that was taken up a metre away counts
as rain when it arrives as liquid, and as *sun driving it inward* when it arrives as vapour from a part that rain wets.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray

from core import case as c
from core.case import Strict
from core.case.resolve import resolve_material
from core.moisture.transient.airflow import PortKind
from core.moisture.transient.columns import INSIDE, LIQUID, OUTSIDE, VAPOUR
from core.moisture.transient.grid import Grid, build_grid
from core.moisture.transient.outcome import GAINS, Outcome
from core.moisture.transient.table_grid import PHI_INTERVALS
from core.moisture.transient.tables import Z_GRID, MaterialTables, build_tables, phi_table
from core.physics.constants import ZERO_CELSIUS
from core.physics.moist_air import air_permeability_terms, saturation_pressure

Array = NDArray[np.float64]
RAINED_KG_M2 = 1.0  # taken up by the face in a year: less is no rained wall
Source = Literal[
    "rain",
    "rain that leaks in",
    "rain driven inward by the sun",
    "room air",
    "room air through leaks",
    "air of the gap",
    "soil",
    "outside air",
    "air of the unheated space",
]
SOURCES: tuple[Source, ...] = get_args(Source)
OF_RAIN: tuple[Source, ...] = ("rain", "rain that leaks in", "rain driven inward by the sun")
PORT_SOURCES: tuple[tuple[PortKind, Source], ...] = (
    ("air leak", "room air through leaks"),
    ("rain leak", "rain that leaks in"),
)


class Arriving(Strict):
    """One source and what of it reaches the plane in the settled year [kg/m²]."""

    source: Source
    kg_m2: float


@dataclass(frozen=True)
class _Fluxes:
    """Of one edge over records [kg/m²s], positive inward: vapour, liquid."""

    vapour: Array
    liquid: Array


class EdgeFluxes:
    """Vapour and liquid across single edges of a finished run."""

    def __init__(self, outcome: Outcome) -> None:
        self.outcome = outcome
        case = outcome.case
        names = sorted({layer.material for layer in case.layers if isinstance(layer, c.Layer)})
        self.tables: list[MaterialTables] = [
            build_tables(name, resolve_material(case, name), case.constants, case.switches.liquid) for name in names
        ]
        self.grid: Grid = build_grid(case, {table.name: i for i, table in enumerate(self.tables)})

    def _cubic(self, rows: Array, column: int, z: Array) -> Array:
        x = (z - Z_GRID[0]) * 100.0
        index = np.clip(x.astype(int), 0, len(rows) - 1)
        t = x - index
        a, b, d, e = (rows[index, column + k] for k in range(4))
        return np.asarray(a + t * (b + t * (d + t * e)))

    def _state(self, node: int, inner: bool, records: slice) -> tuple[Array, Array, Array, Array, Array]:
        """p_v, δ, Θ, φ, T at a node as the material on its outer or inner side."""
        outcome, constants = self.outcome, self.outcome.case.constants
        z = np.asarray(outcome.z[records, node], float)
        kelvin = np.asarray(outcome.temperature[records, node], float)
        material = self.grid.material_right[node] if inner else self.grid.material_left[node]
        table = self.tables[material]
        phi = outcome.rh(node, records)
        pressure = phi * np.asarray(saturation_pressure(kelvin, constants.saturation_pressure))
        dry = np.interp(kelvin, np.linspace(213.15, 373.15, 2561)[:-1], table.by_temperature[:, 0])
        if table.factor_by_phi:
            factor = table.by_phi[np.minimum((np.minimum(phi, 1.0) * PHI_INTERVALS).astype(int), PHI_INTERVALS - 1), 0]
        else:
            factor = self._cubic(table.by_z, 8, z)
        theta = self._cubic(table.by_z, 4, z) * (kelvin >= ZERO_CELSIUS)
        return pressure, dry * factor, theta, phi, kelvin

    def across(self, edge: int, records: slice) -> _Fluxes:
        """Fluxes between node `edge` and the next one."""
        grid, case = self.grid, self.outcome.case
        p_a, d_a, theta_a, phi_a, t_a = self._state(edge, True, records)
        p_b, d_b, theta_b, phi_b, t_b = self._state(edge + 1, False, records)
        if grid.edge_kind[edge] == 0:
            length = grid.edge_length[edge]
            both_thawed = (t_a >= ZERO_CELSIUS) & (t_b >= ZERO_CELSIUS)
            return _Fluxes(0.5 * (d_a + d_b) / length * (p_a - p_b), (theta_a - theta_b) / length * both_thawed)
        factor, power = air_permeability_terms(case.constants.air_permeability, case.constants.air_pressure_pa)
        air = factor * (0.5 * (t_a + t_b)) ** power
        sd = np.full_like(p_a, grid.edge_sd[edge])
        if grid.edge_table[edge] >= 0:
            phi = {0: 0.5 * (phi_a + phi_b), 1: phi_a, 2: phi_b}[int(grid.edge_rh_of[edge])]
            rows = phi_table(grid.membranes[grid.edge_table[edge]])
            sd = rows[np.minimum((np.minimum(phi, 1.0) * PHI_INTERVALS).astype(int), PHI_INTERVALS - 1), 0]
        return _Fluxes(air / sd * (p_a - p_b), np.zeros_like(p_a))


def arriving(outcome: Outcome, first: int, last: int) -> list[Arriving]:
    """What reaches the nodes first … last from outside them in the settled year, the largest first.

    first, last: a face alone, or the faces of a layer.
    """
    records = outcome.last_pass
    step = outcome.record_step_s
    per_day = int(round(86400.0 / step))
    fluxes = EdgeFluxes(outcome)

    def gain(values: Array) -> float:
        days = len(values) // per_day
        daily = values[: days * per_day].reshape(days, per_day).mean(axis=1)
        return float(np.maximum(daily, 0.0).sum() * 86400.0)

    found: dict[Source, float] = {}

    def add(source: Source, kilograms: float) -> None:
        if kilograms > 0.0:
            found[source] = found.get(source, 0.0) + kilograms

    outside = outcome.case.outside
    taken = float(np.maximum(outcome.flux[records, OUTSIDE, LIQUID], 0.0).sum() * step)
    rained = taken > RAINED_KG_M2
    wet_source: Source = "soil" if outside.type == "ground" else "rain"
    beyond: dict[str, Source] = {"ground": "soil", "unheated": "air of the unheated space"}
    air_source = beyond.get(outside.type, "outside air")
    gaps = outcome.case.air.cavities
    nearest = max(
        (gap for gap in gaps if outcome.entry_faces[gap.layer][1] <= first), key=lambda gap: gap.layer, default=None
    )
    if first > 0:
        edge = fluxes.across(first - 1, records)
        wet, damp = gain(edge.liquid), gain(edge.vapour)
        # the air of a gap takes away what the cladding gives off, and brings the outside's
        brought: Source = "rain driven inward by the sun" if rained else air_source
        if nearest is not None:
            brought = "air of the gap" if nearest.of == "outside" else "room air"
        share = _share(wet + damp, _supplied(outcome, 0, lambda node: node < first, gain))
    else:
        wet, damp, share = (
            gain(outcome.flux[records, OUTSIDE, LIQUID]),
            gain(outcome.flux[records, OUTSIDE, VAPOUR]),
            1.0,
        )
        brought = air_source
    add(wet_source, wet * share)
    add(brought, damp * share)
    if last < len(outcome.depth) - 1:
        edge = fluxes.across(last, records)
        came = gain(-edge.vapour) + gain(-edge.liquid)
        add("room air", came * _share(came, _supplied(outcome, 1, lambda node: node > last, gain)))
    else:
        add("room air", gain(outcome.flux[records, INSIDE, VAPOUR]) + gain(outcome.flux[records, INSIDE, LIQUID]))
    for kind, source in PORT_SOURCES:
        if any(first <= node <= last for node in _ports(outcome, kind)):
            add(source, gain(outcome.gained[records, GAINS.index(kind)]))
    rows = [Arriving(source=source, kg_m2=kilograms) for source, kilograms in found.items()]
    return sorted(rows, key=lambda row: -row.kg_m2)


def _share(arrived: float, supplied: float) -> float:
    """No side brings more than its end took in: the rest is water that went there from the plane, and comes back."""
    return min(1.0, supplied / arrived) if arrived > 0.0 else 0.0


def _supplied(outcome: Outcome, end: int, beyond: Callable[[int], bool], gain: Callable[[Array], float]) -> float:
    """Water that one side took in over the settled year [kg/m²]: at its end, and from gaps and leaks that open into it."""
    records = outcome.last_pass
    found = gain(outcome.flux[records, end, VAPOUR]) + gain(outcome.flux[records, end, LIQUID])
    for kind in ("cavity", "air leak", "rain leak"):
        if any(beyond(node) for node in _ports(outcome, kind)):
            found += gain(outcome.gained[records, GAINS.index(kind)])
    return found


def _ports(outcome: Outcome, kind: str) -> list[int]:
    """Nodes at which cavities, leaks of air or leaks of rain open into the wall."""
    air = outcome.case.air
    opened = {
        "cavity": [cavity.layer for cavity in air.cavities],
        "air leak": [leak.after_layer for leak in air.leaks],
        "rain leak": [leak.after_layer for leak in air.rain_leaks],
    }[kind]
    return [outcome.entry_faces[entry][1] for entry in opened]

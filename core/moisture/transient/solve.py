"""`simulate`: a case in, an outcome out. Blocks of time, so that a caller sees progress and can cancel."""

from __future__ import annotations

import time
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from core import case as c
from core.case.resolve import resolve_material
from core.errors import Cancelled, CaseRefused, NotConverged, OutOfRange
from core.moisture.transient import kernel
from core.moisture.transient.airflow import Ports, build_ports
from core.moisture.transient.boundary import Boundary, build_boundary
from core.moisture.transient.columns import Q_GIVEN, T_ENV
from core.moisture.transient.grid import Grid, build_grid, plane_place
from core.moisture.transient.outcome import GAINS, Outcome
from core.moisture.transient.table_grid import T_MIN
from core.moisture.transient.tables import (
    SUCTION_UNIT,
    MaterialTables,
    air_table,
    build_tables,
    check_valid,
    phi_table,
    suction_from_rh,
    z_from_suction,
)
from core.physics.constants import ZERO_CELSIUS
from core.physics.moist_air import vapour_by_air

Array = NDArray[np.float64]
Single = NDArray[np.float32]
Pass = tuple[Single, Single, Array, Array, Array]
Progress = Callable[[float, str], None]
BLOCK_S = 5.0 * 86400.0


def simulate(
    case: c.Case,
    progress: Progress | None = None,
    cancelled: Callable[[], bool] | None = None,
    refine: int = 1,
) -> Outcome:
    """Compute a case whose references have been checked.

    progress(share 0 to 1, what is being done) is called between blocks of five days; cancelled()
    is asked there too. refine: every cell cut in so many parts (for refinement studies).
    Raises CaseRefused, OutOfRange, NotConverged (with place and time), Cancelled.
    """
    began = time.perf_counter()
    report = progress or (lambda share, what: None)
    report(0.0, "preparing")
    run = runner_of(case, refine)
    grid, boundary, state, record_every = run.grid, run.boundary, run.state, run.record_every
    start_water = _stored_water(grid, run.tables, state)
    places = {plane.name: plane_place(case, grid, plane) for plane in case.output.planes}
    watched = sorted({place.node for place in places.values()}) or list(range(grid.size))
    passes_wanted, most = _passes(case)

    recorded: list[Pass] = []
    changes: list[tuple[float, float]] = []
    settled = False
    for number in range(most):
        recorded.append(
            run.one_pass(
                lambda share, n=number: _between(report, cancelled, share, n, passes_wanted, case)  # type: ignore[misc]
            )
        )
        if number > 0:
            changes.append(_change(recorded[-2], recorded[-1], watched, case))
            humid, water = changes[-1]
            settled = humid < case.time.settled_rh and water < case.time.settled_water_share
        if case.time.repeat == "until_settled" and settled and number + 1 >= case.time.least_passes:
            break
        if case.time.repeat != "until_settled" and number + 1 >= passes_wanted:
            break
    report(1.0, "done")
    return Outcome(
        case=case,
        depth=grid.depth,
        volume=grid.volume,
        node_layer=grid.node_layer,
        node_material=grid.material_left,
        entry_faces=grid.entry_faces,
        solid_entries=grid.solid_entries,
        places=places,
        record_step_s=boundary.step_s * record_every,
        passes=len(recorded),
        records_per_pass=len(recorded[0][0]),
        z=np.concatenate([part[0] for part in recorded]),
        temperature=np.concatenate([part[1] for part in recorded]),
        layer_water=np.concatenate([part[2] for part in recorded]),
        flux=np.concatenate([part[3] for part in recorded]),
        gained=np.concatenate([part[4] for part in recorded]),
        start_layer_water=start_water,
        driven_rain_kg_m2=boundary.driven_rain_kg_m2,
        settled=settled,
        changes=changes,
        totals=state.totals.copy(),
        steps=int(state.stats[kernel.STEPS]),
        iterations=int(state.stats[kernel.ITERATIONS]),
        refused_steps=int(state.stats[kernel.REFUSED]),
        seconds=time.perf_counter() - began,
    )


def _passes(case: c.Case) -> tuple[int, int]:
    if case.time.repeat == "once":
        return 1, 1
    if case.time.repeat == "fixed":
        return case.time.fixed_passes, case.time.fixed_passes
    return case.time.least_passes, max(case.time.most_passes, case.time.least_passes)


def _between(
    report: Progress, cancelled: Callable[[], bool] | None, share: float, number: int, wanted: int, case: c.Case
) -> None:
    if cancelled is not None and cancelled():
        raise Cancelled
    expected = max(wanted, number + 1)
    what = f"year {number + 1}" if case.time.repeat != "once" else "the run"
    tail = ", until the years repeat" if case.time.repeat == "until_settled" else ""
    report(min(0.99, (number + share) / expected), f"{what}{tail}")


def _change(before: Pass, after: Pass, nodes: list[int], case: c.Case) -> tuple[float, float]:
    """Largest rms change of RH at the watch points (anywhere, without any), and the relative change of the water."""
    first, second = (
        relative_humidity(part[0][:, nodes], part[1][:, nodes], case.constants) for part in (before, after)
    )
    humid = float(np.sqrt(np.mean((first - second) ** 2, axis=0)).max())
    w0, w1 = before[2][-1].sum(), after[2][-1].sum()
    return humid, float(abs(w1 - w0) / max(w0, 1e-9))


def relative_humidity(z: Array | Single, temperature: Array | Single, constants: c.Constants) -> Array:
    """φ from z and T by Kelvin; may pass 1 slightly where a face holds free water."""
    suction = SUCTION_UNIT * np.sinh(np.asarray(z, float))
    return np.asarray(np.exp(-suction / (constants.water_density_kg_m3 * constants.vapour_gas_constant * temperature)))


# --- start state ----------------------------------------------------------------------------------


def _by_depth(value: object, depth: Array) -> Array:
    if isinstance(value, list):
        return np.interp(depth, [row[0] for row in value], [row[1] for row in value])
    assert isinstance(value, float | int)
    return np.full_like(depth, float(value))


def start_state(case: c.Case, grid: Grid, tables: list[MaterialTables]) -> kernel.State:
    n = grid.size
    z, temperature = np.empty(n), np.empty(n)
    for solid, entry in enumerate(grid.solid_entries):
        layer = case.layers[entry]
        assert isinstance(layer, c.Layer)
        nodes = np.flatnonzero(grid.node_layer == solid)
        initial = layer.initial or case.initial
        depth = grid.depth[nodes]
        temperature[nodes] = _by_depth(initial.temperature_c, depth) + ZERO_CELSIUS
        table = tables[grid.material_left[nodes[-1]]]
        if initial.rh is not None:
            kelvin = table.kelvin_temperature or temperature[nodes]
            suction = suction_from_rh(_by_depth(initial.rh, depth), kelvin, case.constants)
        elif initial.suction_pa is not None:
            suction = _by_depth(initial.suction_pa, depth)
        else:
            suction = _suction_of_water(table, _by_depth(initial.w_kg_m3, depth), f"layers.{entry}.initial")
        z[nodes] = z_from_suction(suction)
    return kernel.State(
        z, temperature, np.zeros(n), np.zeros(n), np.stack([z, z], axis=1), np.array([60.0, 0.0]), np.zeros(8), np.zeros(8)
    )  # fmt: skip


def _suction_of_water(table: MaterialTables, wanted: Array, where: str) -> Array:
    suction = np.concatenate(([0.0], np.logspace(1, 9.2, 4000)))
    w = table.moisture_content(suction)
    if np.any(wanted > w[0]) or np.any(wanted < w[-1]):
        raise OutOfRange(f"start water must lie in {w[-1]:g} to {w[0]:g} kg/m³ for {table.name}", where)
    return np.interp(-wanted, -w, suction)


def _stored_water(grid: Grid, tables: list[MaterialTables], state: kernel.State) -> Array:
    """kg/m² per layer at the start."""
    totals = np.zeros(len(grid.solid_entries))
    suction = np.maximum(SUCTION_UNIT * np.sinh(state.z), 0.0)
    for node in np.flatnonzero(grid.volume > 0.0):
        table = tables[grid.material_left[node]]
        scale = table.reference_temperature / state.T[node] if table.held_rh else 1.0
        totals[grid.node_layer[node]] += float(table.moisture_content(suction[node] * scale)) * grid.volume[node]
    return totals


def _scalars(table: MaterialTables) -> list[float]:
    """In the columns that the kernel names."""
    row = [0.0] * 6
    row[kernel.HEAT_CAPACITY] = float(table.volumetric_heat)
    row[kernel.HOLDS_RH] = float(table.held_rh)
    row[kernel.FACTOR_BY_PHI] = float(table.factor_by_phi)
    row[kernel.REFERENCE_T] = float(table.reference_temperature)
    row[kernel.KELVIN_T] = float(table.kelvin_temperature)
    row[kernel.CAPILLARY] = float(table.capillary)
    return row


# --- the loop -------------------------------------------------------------------------------------


def runner_of(case: c.Case, refine: int = 1) -> Runner:
    """What the kernel needs of a case, at its start. Raises CaseRefused, OutOfRange."""
    tables = [
        build_tables(name, resolve_material(case, name), case.constants, case.switches.liquid)
        for name in sorted({layer.material for layer in case.layers if isinstance(layer, c.Layer)})
    ]
    grid = build_grid(case, {table.name: i for i, table in enumerate(tables)}, refine)
    boundary = build_boundary(case)
    ports = build_ports(case, grid, boundary)
    return Runner(case, grid, boundary, ports, tables, start_state(case, grid, tables))


class Runner:
    """Holds what the kernel needs and runs one pass of the boundary series at a time."""

    def __init__(
        self,
        case: c.Case,
        grid: Grid,
        boundary: Boundary,
        ports: Ports,
        tables: list[MaterialTables],
        state: kernel.State,
    ) -> None:
        self.case, self.grid, self.boundary, self.tables, self.state = case, grid, boundary, tables, state
        self.ports = ports
        record_every = self.record_every = max(1, int(round(case.output.step_s / boundary.step_s)))
        constants = case.constants
        rows = grid.membranes or [[(0.0, 1.0)]]
        self.materials = kernel.Materials(
            by_z=np.stack([table.by_z for table in tables]),
            by_phi=np.stack([table.by_phi for table in tables]),
            by_t=np.stack([table.by_temperature for table in tables]),
            scalars=np.array([_scalars(table) for table in tables]),
            membranes=np.stack([phi_table(table) for table in rows]),
            air=air_table(constants),
        )
        carried = case.switches.enthalpy_carried_by_flow
        latent = constants.latent_heat_j_kg if case.switches.latent_heat else 0.0
        # With flow carried: h_l = c_w (T − T0); h_v = L0 + c_v (T − T0), or L + h_l for a constant L.
        by_temperature = constants.latent_heat_form == "by_temperature" and case.switches.latent_heat
        slope = constants.vapour_heat_j_kgk if by_temperature else constants.water_heat_j_kgk
        self.constants = kernel.Constants(
            rho_rv=constants.water_density_kg_m3 * constants.vapour_gas_constant,
            c_w=constants.water_heat_j_kgk,
            hv0=latent,
            hv1=slope if carried else 0.0,
            hl1=constants.water_heat_j_kgk if carried else 0.0,
            carried=carried,
            heat_on=case.switches.heat,
            air_vapour=vapour_by_air(constants.air_pressure_pa),
            fusion=constants.fusion_heat_j_kg if case.switches.freezing and case.switches.heat else 0.0,
        )
        self.nodes = kernel.Grid(
            grid.volume, grid.material_left, grid.material_right, grid.edge_kind, grid.edge_length, grid.edge_heat,
            grid.edge_sd, grid.edge_table, grid.edge_rh_of, grid.edge_liquid, grid.node_layer, len(grid.solid_entries),
        )  # fmt: skip
        self.ends = kernel.Boundary(
            boundary.kinds, boundary.runoff_on, boundary.emission, boundary.series, boundary.sources
        )
        self.openings = kernel.Ports(ports.node, ports.series, ports.through)
        time = case.time
        self.time = kernel.Steps(
            boundary.step_s, time.largest_step_s, time.smallest_step_s, time.mass_tolerance_kg_m2,
            time.energy_tolerance_j_m2, record_every, time.stages,
        )  # fmt: skip
        if record_every * boundary.step_s - case.output.step_s > 1e-6:
            raise CaseRefused("the output step must be a multiple of the series' step", "output.step_s")

    def one_pass(self, between: Callable[[float], None]) -> Pass:
        """z, T, water by layer (last: films on faces), fluxes and gains by account of one pass, at every record."""
        steps, n = self.boundary.steps, self.grid.size
        records = steps // self.record_every
        layers = len(self.grid.solid_entries)
        records_of = kernel.Records(
            z=np.zeros((records, n), np.float32),
            T=np.zeros((records, n), np.float32),
            water=np.zeros((records, layers + 1)),
            flux=np.zeros((records, 2, 6)),
            port=np.zeros((records, len(self.ports.node) + 1, 2)),
        )
        block = max(self.record_every, int(BLOCK_S / self.boundary.step_s) // self.record_every * self.record_every)
        # a short first block: the caller hears early that the run is under way
        starts = [
            0,
            *range(
                max(1, int(86400 / self.boundary.step_s)) // self.record_every * self.record_every or block,
                steps,
                block,
            ),
        ]
        for first, last in zip(starts, [*starts[1:], steps], strict=True):
            at, status = first, kernel.PAUSED
            while status == kernel.PAUSED:  # a hard stretch comes back early, so that a cancel is heard
                between(at / steps)
                status = int(
                    kernel.advance(
                        at, last, at // self.record_every, self.nodes, self.materials, self.constants, self.ends,
                        self.openings, self.time, self.state, records_of, self._begin(),
                    )
                )  # fmt: skip
                at = int(self.state.control[kernel.GO_ON_FROM])
            self._check(status)
        return records_of.z, records_of.T, records_of.water, records_of.flux, self._by_account(records_of.port)

    def _why_beyond(self, at: float, cold: bool) -> str:
        """What makes a face so cold or so hot, with the figures of its hour."""
        weather = np.flatnonzero(self.boundary.emission > 0.0)
        if not len(weather):
            return "check the heat sources" if not cold else "check what is given at its faces"
        hour = min(int(at / self.boundary.step_s), self.boundary.steps - 1)
        air, given = (float(self.boundary.series[hour, weather[0], column, 0]) for column in (T_ENV, Q_GIVEN))
        if cold:
            return (
                f"the air outside is {air - ZERO_CELSIUS:.0f} °C then, and the sky takes {-given:.0f} W/m² from the face. "
                "Check that hour of the climate; a thin covering apart from the wall may be left out"
            )
        return f"sun and sky give it {given:.0f} W/m² in air of {air - ZERO_CELSIUS:.0f} °C. Check its colour, the wind and the heat sources"

    def _begin(self) -> kernel.Work:
        return kernel.begin(self.nodes, self.materials, self.constants, self.openings, self.state)

    def _by_account(self, rec_port: Array) -> Array:
        """Gains summed over the ports of each kind, in the order of GAINS."""
        sums = np.zeros((len(rec_port), len(GAINS)))
        for port, kind in enumerate([*self.ports.kind, "drained"]):
            sums[:, GAINS.index(kind)] += rec_port[:, port].sum(axis=1)
        return sums

    def _check(self, status: int) -> None:
        if status != kernel.OK:
            node = int(self.state.stats[kernel.FAILED_NODE])
            entry = self.grid.solid_entries[self.grid.node_layer[node]]
            layer = self.case.layers[entry]
            place = f"{self.grid.depth[node] * 1000:.1f} mm from outside, in {layer.name or f'layer {entry}'}"
            at, kelvin = float(self.state.stats[kernel.FAILED_AT]), float(self.state.stats[kernel.BEYOND_TABLES])
            if kelvin > 0.0:
                raise OutOfRange(
                    f"at hour {at / 3600:.1f} it would be {kelvin - ZERO_CELSIUS:.0f} °C there; the computation holds from "
                    f"−60 to 100 °C: {self._why_beyond(at, kelvin < T_MIN)}".replace("-", "−"),
                    place,
                )
            raise NotConverged(at, place, float(self.state.stats[kernel.FAILED_RESIDUAL]))
        for i, table in enumerate(self.tables):
            if table.valid_z == (-np.inf, np.inf):
                continue
            nodes = np.flatnonzero((self.grid.material_left == i) & (self.grid.volume > 0.0))
            low, high = self.state.seen[nodes, 0].min(), self.state.seen[nodes, 1].max()
            check_valid(
                table,
                float(low),
                float(high),
                f"before hour {self.state.control[kernel.GO_ON_FROM] * self.boundary.step_s / 3600.0:.0f}",
            )

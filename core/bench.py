"""`bench`: the table of speeds, measured here and now. Never a test: machines differ."""

from __future__ import annotations

import json
import subprocess
import sys
import time
from concurrent.futures import ProcessPoolExecutor
from functools import cache
from multiprocessing import get_context
from typing import Any

import numpy as np

from core.assembly.to_case import model_of
from core.buildup.model import BuildUp, BuildUpLayer, Limits, Place
from core.case import Case, Layer
from core.cases.examples import rained_wall
from core.cases.practice import BOARD, STONE, Rows, build_up
from core.cases.vode import vode_month
from core.criteria.judging import checked_limits
from core.criteria.registry import LIMITS
from core.moisture.transient.grid import build_grid
from core.moisture.transient.solve import simulate
from core.preview import preview
from core.proposals.computed import stands
from core.proposals.propose import propose
from core.proposals.rules import way_of
from core.proposals.situation import Situation, Stand, situation
from core.runs import Found, settle
from core.zones.hourly import zone_year
from core.zones.model import AirFlow, Buffer, Building, Chain, Zone

MONTH_S = 30 * 86400.0
SLATES: Rows = (("slate", "slate", 8), ("deck", "sarking_boards", 25), ("fill", "cellulose_dense", 240), BOARD)
PLAIN: Rows = (*STONE, ("fibre", "wood_fibre_board", 80), ("skim", "lime_plaster", 10))


def one_year() -> Case:
    """The rained wall for one year, on 90 stated cells: the size the targets speak of."""
    case = rained_wall()
    cells = iter((40, 12, 24, 14))
    layers = [
        layer.model_copy(update={"cells": next(cells), "stretch": 1.2}) if isinstance(layer, Layer) else layer
        for layer in case.layers
    ]
    case = case.model_copy(update={"layers": layers})
    return case.model_copy(update={"time": case.time.model_copy(update={"repeat": "once"})})


def _wall_year(_: int) -> float:
    return simulate(one_year()).seconds


def _first_step() -> float:
    """Seconds from the start of a new process to its first solver step."""
    code = (
        "import time; began = time.time(); from core.cases.examples import rained_wall; "
        "from core.moisture.transient.solve import simulate\n"
        "seen = []\n"
        "def tick(share, what):\n"
        "    seen.append(time.time())\n"
        "simulate(rained_wall(), progress=tick)\n"
        "print(seen[2] - began)"
    )
    # seen[2] is the report after the first simulated day: later than the first step, never earlier
    out = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    return float(out.stdout.strip())


def _preview_times() -> np.ndarray:
    base = [
        BuildUpLayer(id="stone", material="sandstone_rubble", thickness_mm=500, existing=True),
        BuildUpLayer(id="plaster", material="lime_plaster", thickness_mm=20, existing=True),
    ]
    times = []
    for i in range(200):
        layers = [
            *base,
            BuildUpLayer(id="fibre", material="mineral_fibre_035", thickness_mm=60 + i % 90),
            BuildUpLayer(id="membrane", material="membrane_variable_medium"),
            BuildUpLayer(id="board", material="gypsum_board", thickness_mm=12.5),
        ]
        began = time.perf_counter()
        preview(BuildUp(layers=base), BuildUp(layers=layers), Place(facing_deg=315), Limits())
        times.append(time.perf_counter() - began)
    return np.array(times[10:])


def _building_year() -> float:
    """Seconds of one year of a made-up building: 56 massive elements of eight nodes, four windows, a house and four cold spaces."""
    hours = np.arange(8760)
    outside = 8.0 - 8.0 * np.cos(2.0 * np.pi * hours / 8760) + 4.0 * np.sin(2.0 * np.pi * hours / 24)
    inner = (0.04 + 0.05, *[0.1] * 7, 0.05 + 0.13)
    chains = [
        Chain(f"e{i}", 20.0, i % 5, inner, (60e3,) * 8, -1 if i % 3 or i % 5 == 0 else 0, outside) for i in range(56)
    ]
    chains += [Chain(f"w{i}", 3.0, 0, (0.4,), (), -1, outside) for i in range(4)]
    zones = [Zone("house", 400.0, np.full(8760, 20.0), vapour_kg_h=np.full(8760, 0.3), buffers=(Buffer(300.0),))]
    zones += [Zone(f"space {i}", 60.0, buffers=(Buffer(60.0),)) for i in range(4)]
    flows = [AirFlow(f"f{i}", -1, i, np.full(8760, 100.0)) for i in range(5)]
    building = Building(zones, chains, flows, outside, np.full(8760, 0.8))
    zone_year(building)
    began = time.perf_counter()
    zone_year(building)
    return time.perf_counter() - began


def _year_of(place: Place, layers: Rows) -> Case:
    case = model_of(build_up(*layers), place).case
    return case.model_copy(update={"time": case.time.model_copy(update={"repeat": "once"})})


def _covers() -> tuple[float, float, float]:
    """Seconds of one year of a roof under slates and of a plain wall, the shortest of five in turns; their ratio for each node."""
    cases = (_year_of(Place(kind="roof", slope_deg=40), SLATES), _year_of(Place(), PLAIN))
    outcomes = [[simulate(case) for case in cases] for _ in range(6)]
    thin, plain = (min(pair[k].seconds for pair in outcomes) for k in range(2))
    nodes = [len(outcome.depth) for outcome in outcomes[0]]
    return thin, plain, (thin / nodes[0]) / (plain / nodes[1])


def _situation() -> Situation:
    """A brick wall with everything open to it."""
    made = build_up(("brick", "brick_ordinary", 330), ("plaster", "lime_plaster", 15))
    found = BuildUp(layers=[layer.model_copy(update={"existing": True}) for layer in made.layers])
    return situation(
        found, Stand(Place(climate="ostmoor", facing_deg=200), Limits(target_u_w_m2k=0.3, room_mm=150, outside_mm=250))
    )


@cache
def _found() -> Found | None:
    """As found settled, once a process, as a server keeps it."""
    at = _situation()
    return settle(at.as_found, at.stand.place)


def _stand(way: str) -> str:
    return stands(way_of(way), _situation(), _found(), checked_limits(LIMITS, {})).state


def _proposals() -> tuple[float, float, int]:
    """(seconds to the first words, seconds until every way is answered on two cores, ways), each with its thickness."""
    began = time.perf_counter()
    ways = [one.way for one in propose(_situation()).offered]
    first = time.perf_counter() - began
    with ProcessPoolExecutor(2, mp_context=get_context("spawn")) as pool:
        list(pool.map(_wall_year, range(2)))
        began = time.perf_counter()
        list(pool.map(_stand, ways))
    return first, time.perf_counter() - began, len(ways)


def rows() -> list[dict[str, Any]]:
    """Every row: what, measured, unit, target (None where there is none)."""
    simulate(one_year())
    single = [simulate(one_year()) for _ in range(5)]
    seconds = float(np.median([outcome.seconds for outcome in single]))
    outcome = single[0]
    cells = int((outcome.volume > 0).sum())
    table: list[dict[str, Any]] = []

    def add(what: str, measured: float, unit: str, target: float | None) -> None:
        table.append({"what": what, "measured": measured, "unit": unit, "target": target})

    add(f"one wall-year, rained rubble, {cells} cells, {len(outcome.depth)} nodes (median of 5)", seconds, "s", 1.0)
    fine = build_grid(one_year(), {name: i for i, name in enumerate(sorted(one_year().materials))})
    add("Newton iterations per step", outcome.iterations / outcome.steps, "–", None)
    add("time per Newton iteration", 1e6 * seconds / outcome.iterations, "µs", None)
    add("time per node and iteration", 1e9 * seconds / outcome.iterations / fine.size, "ns", None)
    thin, plain, ratio = _covers()
    add("one year of a roof under slates, in two stages an hour", thin, "s", None)
    add("one year of a plain wall, in turns", plain, "s", None)
    add("a thin cover against a plain wall, for each node", ratio, "times", 2.0)
    began = time.perf_counter()
    with ProcessPoolExecutor(2, mp_context=get_context("spawn")) as pool:
        list(pool.map(_wall_year, range(2)))
        began = time.perf_counter()
        list(pool.map(_wall_year, range(100)))
    add("100 wall-years on two cores", time.perf_counter() - began, "s", 50.0)
    add("new process, warm compile cache, to the end of the first day", min(_first_step() for _ in range(3)), "s", 1.5)
    add("preview, 95th percentile, in the core", 1000.0 * float(np.quantile(_preview_times(), 0.95)), "ms", 50.0)
    add("balance closure of the wall-year", outcome.water_balance_error, "of turnover", 1e-6)
    add("a building of 60 elements and 5 zones, a year by the hour", _building_year(), "s", 2.0)
    first, all_ways, count = _proposals()
    add("proposals of a brick wall, first words", first, "s", 2.0)
    add(f"proposals of a brick wall, {count} ways with their thicknesses, on two cores", all_ways, "s", 60.0)
    table += vode_month(one_year(), MONTH_S)
    return table


def main(as_json: bool) -> int:
    """Print the table; returns 0."""
    table = rows()
    if as_json:
        print(json.dumps(table, indent=1))
        return 0
    print(f"{'what':<78} {'measured':>10} {'unit':<12} {'target':>8}")
    for row in table:
        target = "" if row["target"] is None else f"≤ {row['target']:g}"
        print(f"{row['what']:<78} {row['measured']:>10.3g} {row['unit']:<12} {target:>8}")
    return 0

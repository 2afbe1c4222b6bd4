"""What a simulation gives back: the field by hour, water and fluxes, balances, statistics."""

from __future__ import annotations

import csv
import io
import json
from dataclasses import asdict, dataclass
from functools import cached_property
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from core import case as c
from core.case.resolve import resolve_material
from core.errors import CaseRefused
from core.moisture.transient.columns import (
    ENERGY_IN,
    ENERGY_STORED,
    ENERGY_TURNED,
    WATER_IN,
    WATER_STORED,
    WATER_TURNED,
)
from core.moisture.transient.grid import PlanePlace
from core.moisture.transient.tables import SUCTION_UNIT, moisture_content_function
from core.physics.constants import ZERO_CELSIUS

Array = NDArray[np.float64]
ARRAYS = ("z", "temperature", "layer_water", "flux", "gained")
# Counted up whenever the same case gives another outcome; a result keeps the number it was computed with.
SOLVER = 6
GAINS = ("cavity", "air leak", "rain leak", "drained")
FLUX_NAMES = ("heat_film", "radiation", "vapour", "liquid", "rain", "run_off")


@dataclass(frozen=True)
class Outcome:
    """Arrays over records (hours, all passes one after another) and nodes (outside to inside).

    temperature [K]; z = asinh(p_suc/1 kPa); layer_water [kg/m²], last column films on faces;
    flux[record, end, FLUX_NAMES] [W/m², kg/(m² s)], positive into the wall.
    gained[record, GAINS]: water gained from cavity air, air leaks and rain leaks, and drained away (negative) [kg/m²s].
    totals: water in, energy in, water turnover, energy turnover, water stored, energy stored.
    """

    case: c.Case
    depth: Array
    volume: Array
    node_layer: NDArray[np.int64]
    node_material: NDArray[np.int64]
    entry_faces: list[tuple[int, int]]
    solid_entries: list[int]
    places: dict[str, PlanePlace]
    record_step_s: float
    passes: int
    records_per_pass: int
    z: Array
    temperature: Array
    layer_water: Array
    flux: Array
    gained: Array
    start_layer_water: Array
    driven_rain_kg_m2: float
    settled: bool
    changes: list[tuple[float, float]]
    totals: Array
    steps: int
    iterations: int
    refused_steps: int
    seconds: float
    solver: int = SOLVER

    # --- values -----------------------------------------------------------------------------------

    @cached_property
    def planes(self) -> dict[str, int]:
        """The node nearest to every plane; the plane itself but for one at a depth inside a layer."""
        return {name: at.next_node if at.share > 0.5 else at.node for name, at in self.places.items()}

    def plane_series(self, name: str, records: Any = slice(None)) -> tuple[Array, Array, Array]:
        """T [°C], φ and w [kg/m³] at a plane, between its nodes where it lies inside a layer."""
        at = self.places[name]
        first, second = (
            (self.temperature_c(node, records), self.rh(node, records), self.moisture_content(node, records, inner))
            for node, inner in ((at.node, at.inner), (at.next_node, at.inner and at.next_node == at.node))
        )
        t, rh, w = (a + (b - a) * at.share for a, b in zip(first, second, strict=True))
        return t, rh, w

    @property
    def last_pass(self) -> slice:
        """Records of the last (settled) pass."""
        return slice((self.passes - 1) * self.records_per_pass, None)

    @property
    def first_pass(self) -> slice:
        return slice(0, self.records_per_pass)

    def rh(self, nodes: Any, records: Any = slice(None)) -> Array:
        """φ at nodes over records."""
        z = np.asarray(self.z[records][..., nodes], float)
        kelvin = np.asarray(self.temperature[records][..., nodes], float)
        constants = self.case.constants
        suction = SUCTION_UNIT * np.sinh(z)
        return np.asarray(np.exp(-suction / (constants.water_density_kg_m3 * constants.vapour_gas_constant * kelvin)))

    def temperature_c(self, nodes: Any, records: Any = slice(None)) -> Array:
        return np.asarray(self.temperature[records][..., nodes], float) - ZERO_CELSIUS

    @cached_property
    def _retention(self) -> list[tuple[Any, c.Retention]]:
        names = sorted({layer.material for layer in self.case.layers if isinstance(layer, c.Layer)})
        pairs = []
        for name in names:
            retention = resolve_material(self.case, name).retention
            assert retention is not None
            pairs.append((moisture_content_function(retention, self.case.constants), retention))
        return pairs

    def moisture_content(self, node: int, records: Any = slice(None), inner: bool = False) -> Array:
        """w [kg/m³] at a node, from the retention of the material on its outer (or inner) side."""
        material = self.node_material[node]
        if inner and self.volume[node] == 0.0 and node + 1 < len(self.depth) and self.volume[node + 1] > 0.0:
            material = self.node_material[node + 1]
        function, retention = self._retention[material]
        suction = np.maximum(SUCTION_UNIT * np.sinh(np.asarray(self.z[records][..., node], float)), 0.0)
        if retention.held_with_temperature == "rh":
            reference = retention.reference_temperature_c + ZERO_CELSIUS
            suction = suction * reference / np.asarray(self.temperature[records][..., node], float)
        return np.asarray(function(suction))

    def free_saturation(self, node: int) -> float:
        """w [kg/m³] at no suction of the material at a node."""
        return float(self._retention[self.node_material[node]][0](np.array(0.0)))

    def water_at_rh(self, node: int, rh: float) -> float:
        """w [kg/m³] of the material at a node at an RH and 20 °C."""
        constants = self.case.constants
        suction = -constants.water_density_kg_m3 * constants.vapour_gas_constant * 293.15 * np.log(rh)
        return float(self._retention[self.node_material[node]][0](np.array(suction)))

    def cells_of(self, entry: int) -> NDArray[np.int64]:
        """Nodes with volume of one layer of the case."""
        solid = self.solid_entries.index(entry)
        return np.flatnonzero((self.node_layer == solid) & (self.volume > 0.0))

    @property
    def water_balance_error(self) -> float:
        """|stored − in| over the turnover; with next to none, over 1 kg/m²."""
        return float(abs(self.totals[WATER_STORED] - self.totals[WATER_IN]) / max(self.totals[WATER_TURNED], 1.0))

    @property
    def energy_balance_error(self) -> float:
        """|stored − in| over the turnover; with next to none, over 1 MJ/m²."""
        if not self.case.switches.heat:
            return 0.0
        return float(abs(self.totals[ENERGY_STORED] - self.totals[ENERGY_IN]) / max(self.totals[ENERGY_TURNED], 1.0e6))

    # --- records ----------------------------------------------------------------------------------

    def summary(self) -> dict[str, Any]:
        """Statistics and balances, plain data."""
        last = self.flux[self.last_pass]
        seconds = self.record_step_s
        return {
            "case_sha256": self.case.hash,
            "cells": int((self.volume > 0).sum()),
            "passes": self.passes,
            "settled": self.settled,
            "changes_between_passes": [{"rh": h, "water_share": w} for h, w in self.changes],
            "steps": self.steps,
            "newton_iterations": self.iterations,
            "refused_steps": self.refused_steps,
            "seconds": self.seconds,
            "balances": {
                "water_in_kg_m2": float(self.totals[WATER_IN]),
                "water_stored_kg_m2": float(self.totals[WATER_STORED]),
                "water_turnover_kg_m2": float(self.totals[WATER_TURNED]),
                "water_closure": self.water_balance_error,
                "energy_in_j_m2": float(self.totals[ENERGY_IN]),
                "energy_stored_j_m2": float(self.totals[ENERGY_STORED]),
                "energy_turnover_j_m2": float(self.totals[ENERGY_TURNED]),
                "energy_closure": self.energy_balance_error,
            },
            "last_pass_sums": {
                side: {
                    "heat_in_kwh_m2": float((last[:, end, 0] + last[:, end, 1]).sum() * seconds / 3.6e6),
                    "vapour_in_kg_m2": float(last[:, end, 2].sum() * seconds),
                    "liquid_in_kg_m2": float(last[:, end, 3].sum() * seconds),
                    "rain_offered_kg_m2": float(last[:, end, 4].sum() * seconds),
                    "run_off_kg_m2": float(last[:, end, 5].sum() * seconds),
                }
                for end, side in ((0, "outside"), (1, "inside"))
            },
        }

    def profile(self, record: int) -> dict[str, list[float]]:
        """T, RH, w and suction by depth at one record. A face between two materials stands twice, once for each side."""
        nodes: list[int] = []
        water: list[float] = []
        for node in range(len(self.depth)):
            nodes.append(node)
            water.append(float(self.moisture_content(node, record)))
            between = self.volume[node] == 0.0 and 0 < node < len(self.depth) - 1
            if between and self.volume[node - 1] > 0.0 and self.volume[node + 1] > 0.0:
                nodes.append(node)
                water.append(float(self.moisture_content(node, record, inner=True)))
        return {
            "depth_m": self.depth[nodes].tolist(),
            "temperature_c": self.temperature_c(nodes, record).tolist(),
            "rh": self.rh(nodes, record).tolist(),
            "w_kg_m3": water,
            "suction_pa": (SUCTION_UNIT * np.sinh(np.asarray(self.z[record][nodes], float))).tolist(),
        }

    def profile_at(self, record: int, depths: list[float]) -> dict[str, list[float]]:
        """The profile at asked depths [m], each between the nodes of its own layer; at a face, that of the outer layer."""
        profile = self.profile(record)
        known = np.array(profile["depth_m"])
        after = np.clip(np.searchsorted(known, np.array(depths), side="left"), 1, len(known) - 1)
        span = known[after] - known[after - 1]
        part = np.where(span > 0.0, (np.array(depths) - known[after - 1]) / np.where(span > 0.0, span, 1.0), 0.0)
        part = np.clip(part, 0.0, 1.0)
        found = {}
        for key, values in profile.items():
            row = np.array(values)
            found[key] = (row[after - 1] + (row[after] - row[after - 1]) * part).tolist()
        return found

    def as_document(self) -> dict[str, Any]:
        """The result file of the command line: case with every default, sums, series, profiles."""
        hours = (np.arange(len(self.z)) + 1) * self.record_step_s
        series = {name: self.plane_series(name) for name in self.places}
        profiles = []
        for when in self.case.output.profile_times_s:
            record = int(round(when / self.record_step_s)) - 1
            if not 0 <= record < len(self.z):
                raise CaseRefused(f"profile time {when:g} s lies outside the run", "output.profile_times_s")
            wanted = self.case.output.profile_depths_m
            profile = self.profile(record) if wanted is None else self.profile_at(record, wanted)
            profiles.append({"time_s": when, **profile})
        solid_names = [self.case.layers[entry].name or str(entry) for entry in self.solid_entries]
        return {
            "format": "wendrick-result",
            "version": 1,
            "case": self.case.model_dump(mode="json"),
            "summary": self.summary(),
            "time_s": hours.tolist(),
            "planes": {
                name: {
                    "temperature_c": np.round(temperature, 4).tolist(),
                    "rh": np.round(humidity, 6).tolist(),
                    "w_kg_m3": np.round(water, 4).tolist(),
                }
                for name, (temperature, humidity, water) in series.items()
            },
            "layer_water_kg_m2": {
                name: np.round(self.layer_water[:, i], 6).tolist()
                for i, name in enumerate([*solid_names, "free water on faces"])
            },
            "fluxes": {
                side: {name: self.flux[:, end, i].tolist() for i, name in enumerate(FLUX_NAMES)}
                for end, side in ((0, "outside"), (1, "inside"))
            },
            "profiles": profiles,
        }

    def as_csv(self) -> str:
        """Hourly results: planes, water by layer, fluxes at both faces. Units in the heading."""
        out = io.StringIO()
        writer = csv.writer(out)
        solid_names = [self.case.layers[entry].name or f"layer {entry}" for entry in self.solid_entries]
        head = ["pass", "hour of pass"]
        columns: list[Array] = []
        for name in self.places:
            temperature, humidity, _ = self.plane_series(name)
            head += [f"{name}: T [°C]", f"{name}: RH [%]"]
            columns += [np.round(temperature, 3), np.round(100.0 * humidity, 3)]
        for i, name in enumerate([*solid_names, "free water on faces"]):
            head.append(f"{name}: water [kg/m²]")
            columns.append(np.round(self.layer_water[:, i], 5))
        for end, side in ((0, "outside"), (1, "inside")):
            for i, name in enumerate(FLUX_NAMES):
                unit = "W/m²" if i < 2 else "kg/m²h"
                head.append(f"{side} {name.replace('_', ' ')} [{unit}]")
                columns.append(np.round(self.flux[:, end, i] * (1.0 if i < 2 else 3600.0), 7))
        writer.writerow(head)
        step = self.record_step_s / 3600.0
        for record, row in enumerate(zip(*columns, strict=True)):
            number, within = divmod(record, self.records_per_pass)
            writer.writerow([number + 1, f"{(within + 1) * step:g}", *(f"{value:g}" for value in row)])
        return out.getvalue()

    # --- storage ----------------------------------------------------------------------------------

    def save(self, folder: Path) -> None:
        """Write the arrays (one .npy each, to be mapped into memory) and the rest as JSON."""
        folder.mkdir(parents=True, exist_ok=True)
        for name in ARRAYS:
            values = getattr(self, name)
            np.save(folder / f"{name}.npy", values.astype(np.float32) if name in ("z", "temperature") else values)
        rest = {
            "case": self.case.model_dump(mode="json"),
            "depth": self.depth.tolist(),
            "volume": self.volume.tolist(),
            "node_layer": self.node_layer.tolist(),
            "node_material": self.node_material.tolist(),
            "entry_faces": self.entry_faces,
            "solid_entries": self.solid_entries,
            "places": {name: asdict(place) for name, place in self.places.items()},
            "solver": self.solver,
            "record_step_s": self.record_step_s,
            "passes": self.passes,
            "records_per_pass": self.records_per_pass,
            "start_layer_water": self.start_layer_water.tolist(),
            "driven_rain_kg_m2": self.driven_rain_kg_m2,
            "settled": self.settled,
            "changes": self.changes,
            "totals": self.totals.tolist(),
            "steps": self.steps,
            "iterations": self.iterations,
            "refused_steps": self.refused_steps,
            "seconds": self.seconds,
        }
        (folder / "outcome.json").write_text(json.dumps(rest))

    @staticmethod
    def load(folder: Path) -> Outcome:
        """The outcome written by `save`, its large arrays mapped, not read."""
        rest = json.loads((folder / "outcome.json").read_text())
        arrays = {name: np.load(folder / f"{name}.npy", mmap_mode="r") for name in ARRAYS}
        for name in ("depth", "volume", "start_layer_water", "totals"):
            rest[name] = np.array(rest[name])
        for name in ("node_layer", "node_material"):
            rest[name] = np.array(rest[name], np.int64)
        rest["case"] = c.Case.model_validate(rest["case"])
        rest["places"] = {name: PlanePlace(**place) for name, place in rest["places"].items()}
        rest["entry_faces"] = [tuple(pair) for pair in rest["entry_faces"]]
        return Outcome(**rest, **arrays)

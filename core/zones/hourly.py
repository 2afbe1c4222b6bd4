"""The air of every space of a building, hour by hour: temperature, vapour, the heat and cold it needs.

In the manner of the hourly method of ISO 52016-1: each element is a chain of capacities between its two sides, each zone one node of air, all
solved together, fully implicit, an hour a step. Two things differ from its printed form and are said wherever figures stand: a zone has one
node with the combined surface resistances of ISO 6946 (so that a steady hour agrees with the U-values of the tables), and the nodes of an element
follow its real layers (not five by class of mass). Vapour: one balance of a zone with hygroscopic surfaces of two depths (after Woods, Winkler and
Christensen 2013), its cold surfaces, wet sources, and the air that flows between zones.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from core.errors import OutOfRange
from core.physics.constants import (
    AIR_DENSITY,
    AIR_HEAT,
    GAS_CONSTANT_VAPOUR,
    ROOM_K,
    ROOM_VAPOUR_FILM,
    STANDARD_PRESSURE,
    STILL_AIR_PERMEABILITY,
    ZERO_CELSIUS,
)
from core.physics.moist_air import saturation_pressure, saturation_pressure_over_ice, vapour_by_air

Array = NDArray[np.float64]
HOUR = 3600.0
VAPOUR_FILM, DELTA_AIR = ROOM_VAPOUR_FILM, STILL_AIR_PERMEABILITY
R_SI = 0.13  # the film at an inner face [m²K/W], for its temperature
OUTSIDE = -1
Whole = NDArray[np.int64]
Layers = tuple[float, float]


@dataclass(frozen=True)
class Chain:
    """One element. side: its other side, OUTSIDE or a zone; zone: its inner side. resistances [m²K/W]: from the outer to the inner air, one more than
    capacities [J/(m² K)]; outer_c: what it borders on where it is no zone (sol-air, soil), hourly [°C]; film: of its inner face, for its temperature."""

    key: str
    area_m2: float
    zone: int
    resistances: tuple[float, ...]
    capacities: tuple[float, ...] = ()
    side: int = OUTSIDE
    outer_c: Array | None = None
    film: float = R_SI

    @property
    def u(self) -> float:
        return 1.0 / sum(self.resistances)


@dataclass(frozen=True)
class AirFlow:
    """Dry air from one zone to another (or outside), hourly [kg/h]. recovered: shares of heat and of moisture given back on the way in."""

    key: str
    source: int
    target: int
    kg_h: Array
    heat_recovered: float = 0.0
    moisture_recovered: float = 0.0


@dataclass(frozen=True)
class Buffer:
    """Hygroscopic surfaces of a zone: area, μ, slope of the sorption curve [kg/m³ per 1 of RH]; a layer as deep as a wave of hours goes, another behind it."""

    area_m2: float
    mu: float = 9.0
    slope_kg_m3: float = 25.0


@dataclass(frozen=True)
class WetSource:
    """A wet surface: the inner face of a chain, which is as warm as it, with its area and the sd of what lies on it [m]."""

    key: str
    area_m2: float
    chain: str
    sd_m: float = 0.0


@dataclass(frozen=True)
class ColdSurface:
    """Where vapour condenses: a chain's inner face, over ice below 0 °C. keeps: what condenses stays and dries again (a deck); else it runs off (a pane)."""

    chain: str
    keeps: bool


@dataclass(frozen=True)
class Zone:
    """heat_to_c, cool_to_c: what is held, None where it is not. gains_w: into the air, hourly; vapour_kg_h: given off, hourly. furniture_j_k: light
    mass in it. dry_to: RH that cooling keeps below, None where it does not dry."""

    name: str
    volume_m3: float
    heat_to_c: Array | None = None
    cool_to_c: Array | None = None
    gains_w: Array | None = None
    vapour_kg_h: Array | None = None
    furniture_j_k: float = 0.0
    buffers: tuple[Buffer, ...] = ()
    sources: tuple[WetSource, ...] = ()
    cold: tuple[ColdSurface, ...] = ()
    dry_to: float | None = None


@dataclass(frozen=True)
class Building:
    zones: list[Zone]
    chains: list[Chain]
    flows: list[AirFlow]
    outside_c: Array
    outside_rh: Array


@dataclass(frozen=True)
class ZoneYear:
    """Hourly of each zone: celsius, rh, heating [W], cooling [W], drying [kg/h]; condensed [kg] now on the cold surface; losses [W] by chain and flow
    into the zone (positive: the zone gains). closure: heat and water that a year does not account for, over their turnover."""

    celsius: Array
    rh: Array
    heating_w: Array
    cooling_w: Array
    drying_kg_h: Array
    condensed_kg: Array
    ran_off_kg: Array
    by_chain_w: Array
    by_flow_w: Array
    inner_face_c: Array
    wet_kg_h: Array
    heat_closure: float
    water_closure: float


def _chain_matrix(chain: Chain, seconds: float) -> tuple[Array, Array, Array]:
    """(inverse of the chain's step matrix, its pull from the outer side, from the inner side) for one step."""
    count = len(chain.capacities)
    g = 1.0 / np.array(chain.resistances)
    matrix = np.zeros((count, count))
    for i in range(count):
        matrix[i, i] = chain.capacities[i] / seconds + g[i] + g[i + 1]
        if i:
            matrix[i, i - 1] = matrix[i - 1, i] = -g[i]
    inverse = np.linalg.inv(matrix)
    return np.asarray(inverse, float), np.asarray(inverse[:, 0] * g[0]), np.asarray(inverse[:, -1] * g[-1])


@numba.njit(cache=True)
def _gauss(a, b):  # type: ignore[no-untyped-def]
    """Solve a small dense system in place, with pivots."""
    n = len(b)
    for i in range(n):
        pivot = i
        for j in range(i + 1, n):
            if abs(a[j, i]) > abs(a[pivot, i]):
                pivot = j
        if pivot != i:
            for k in range(n):
                a[i, k], a[pivot, k] = a[pivot, k], a[i, k]
            b[i], b[pivot] = b[pivot], b[i]
        for j in range(i + 1, n):
            f = a[j, i] / a[i, i]
            for k in range(i, n):
                a[j, k] -= f * a[i, k]
            b[j] -= f * b[i]
    for i in range(n - 1, -1, -1):
        for k in range(i + 1, n):
            b[i] -= a[i, k] * b[k]
        b[i] /= a[i, i]
    return b


class Spaces(NamedTuple):
    """Zones as the heat loop takes them: capacity [J/K]; heat_to, cool_to [°C] and gains [W] of [zone, step]."""

    capacity: Array
    heat_to: Array
    cool_to: Array
    gains: Array


class Chains(NamedTuple):
    """Chains side by side: area [m²], the zone each is of, its other side (−1: outer[chain, step] °C), how many nodes and where the first of them lies; of each the
    inverse of its step, its pulls from both sides, capacities [J/(m² K)], conductances of its ends and the film at its inner face."""

    area: Array
    zone: Whole
    side: Whole
    counts: Whole
    starts: Whole
    inverse: Array
    pull_out: Array
    pull_in: Array
    caps: Array
    g_out: Array
    g_in: Array
    film: Array
    outer: Array


class Drawn(NamedTuple):
    """Air from `source` to `target` (−1: outside): amount[flow, step], kg/h for heat and kg/(s Pa) for vapour, and the share given back on the way in."""

    source: Whole
    target: Whole
    amount: Array
    recovered: Array


class HeatYear(NamedTuple):
    """Of a run over the steps: temperatures [°C], heating, cooling [W] by zone; into the zone by chain and by air, out of the chain on its other side [W]; inner
    faces [°C]."""

    celsius: Array
    heating: Array
    cooling: Array
    by_chain: Array
    by_flow: Array
    beyond: Array
    face: Array


class Damp(NamedTuple):
    """Vapour of the zones: holds [kg/Pa]; dry: the pressure that cooling keeps below, saturation [Pa], and what is given off [kg/s], of [zone, step]."""

    holds: Array
    dry: Array
    psat: Array
    gives: Array


class ColdFaces(NamedTuple):
    """Where vapour condenses: its zone, film [kg/(s Pa)], whether it keeps what condenses, saturation at it [Pa]."""

    zone: Whole
    film: Array
    keeps: NDArray[np.bool_]
    psat: Array


class Buffers(NamedTuple):
    """Two layers of each hygroscopic surface: its zone, what each holds [kg for 1 of RH], what passes to the first and to the second [kg/(s Pa)]."""

    zone: Whole
    holds: Array
    passes: Array


class Wet(NamedTuple):
    """Wet surfaces: zone, conductance [kg/(s Pa)], vapour pressure at each [Pa]."""

    zone: Whole
    conductance: Array
    pressure: Array


class WaterYear(NamedTuple):
    """Of a run over the steps: vapour pressure of the zones [Pa], condensed now [kg], dried by cooling, run off, given off by wet surfaces [kg/s]."""

    pressure: Array
    condensed: Array
    dried: Array
    off: Array
    wet: Array


@numba.njit(cache=True)
def _heat_year(steps, seconds, spaces, all_chains, drawn, outside, t, nodes):  # type: ignore[no-untyped-def]
    """HeatYear of one run over the steps from zones at t and chains at nodes, which are carried on. spaces: Spaces; all_chains: Chains; drawn: Drawn in kg/h."""
    capacity, heat_to, cool_to, gains = spaces
    area, zone, side, counts, starts, inverse, pull_out, pull_in, caps, g_out, g_in, film, outer = all_chains
    flow_from, flow_to, flow, recovered = drawn
    zones, chains, flows = len(capacity), len(area), len(flow_from)
    temp = np.zeros((zones, steps))
    heating, cooling = np.zeros((zones, steps)), np.zeros((zones, steps))
    by_chain, by_flow = np.zeros((chains, steps)), np.zeros((flows, steps))
    beyond = np.zeros((chains, steps))
    fresh = np.zeros(inverse.shape[1])
    face = np.zeros((chains, steps))
    base, rest = np.zeros((zones, zones)), np.zeros(zones)
    inner_base, outer_base = np.zeros(chains), np.zeros(chains)
    fixed = np.zeros(zones, np.int64)
    for h in range(steps):
        base[:] = 0.0
        for z in range(zones):
            base[z, z] = capacity[z] / seconds
            rest[z] = capacity[z] / seconds * t[z] + gains[z, h]
        for c in range(chains):
            n, s = counts[c], starts[c]
            z, o = zone[c], side[c]
            if n == 0:
                u = g_in[c]  # of the whole chain, where nothing is stored
                base[z, z] += area[c] * u
                if o >= 0:
                    base[z, o] -= area[c] * u
                    base[o, o] += area[c] * u
                    base[o, z] -= area[c] * u
                else:
                    rest[z] += area[c] * u * outer[c, h]
                continue
            # nodes = inverse (C/dt old) + pull_out T_out + pull_in T_in
            last, begin = 0.0, 0.0
            for i in range(n):
                last += inverse[c, n - 1, i] * caps[c, i] / seconds * nodes[s + i]
                begin += inverse[c, 0, i] * caps[c, i] / seconds * nodes[s + i]
            inner_base[c], outer_base[c] = last, begin
            a = area[c] * g_in[c]
            base[z, z] += a * (1.0 - pull_in[c, n - 1])
            rest[z] += a * last
            if o >= 0:
                base[z, o] -= a * pull_out[c, n - 1]
                b = area[c] * g_out[c]
                base[o, o] += b * (1.0 - pull_out[c, 0])
                base[o, z] -= b * pull_in[c, 0]
                rest[o] += b * begin
            else:
                rest[z] += a * pull_out[c, n - 1] * outer[c, h]
        for f in range(flows):
            z, o = flow_to[f], flow_from[f]
            m = flow[f, h] / 3600.0 * AIR_HEAT * (1.0 - recovered[f])
            if z < 0:
                continue
            base[z, z] += m
            if o >= 0:
                base[z, o] -= m
            else:
                rest[z] += m * outside[h]
        # what is held: the set-points that would be passed are fixed, until none is passed any more
        fixed[:] = 0
        for _ in range(4 * zones + 2):
            a, b = base.copy(), rest.copy()
            for z in range(zones):
                if fixed[z] != 0:
                    a[z, :] = 0.0
                    a[z, z] = 1.0
                    b[z] = heat_to[z, h] if fixed[z] > 0 else cool_to[z, h]
            new = _gauss(a, b)
            changed = False
            for z in range(zones):
                if fixed[z] == 0:
                    if new[z] < heat_to[z, h] - 1e-9:
                        fixed[z] = 1
                        changed = True
                    elif new[z] > cool_to[z, h] + 1e-9:
                        fixed[z] = -1
                        changed = True
                else:
                    need = -rest[z]
                    for k in range(zones):
                        need += base[z, k] * new[k]
                    if (fixed[z] > 0 and need < -1e-9) or (fixed[z] < 0 and need > 1e-9):
                        fixed[z] = 0
                        changed = True
            if not changed:
                break
        for z in range(zones):
            need = -rest[z]
            for k in range(zones):
                need += base[z, k] * new[k]
            if fixed[z] > 0:
                heating[z, h] = need
            elif fixed[z] < 0:
                cooling[z, h] = -need
            temp[z, h] = new[z]
        for c in range(chains):
            n, s = counts[c], starts[c]
            z, o = zone[c], side[c]
            t_out = outer[c, h] if o < 0 else new[o]
            if n == 0:
                by_chain[c, h] = area[c] * g_in[c] * (t_out - new[z])
                beyond[c, h] = -by_chain[c, h]
                face[c, h] = new[z] - film[c] * g_in[c] * (new[z] - t_out)
                continue
            last = inner_base[c] + pull_out[c, n - 1] * t_out + pull_in[c, n - 1] * new[z]
            by_chain[c, h] = area[c] * g_in[c] * (last - new[z])
            beyond[c, h] = (
                area[c] * g_out[c] * (outer_base[c] + pull_out[c, 0] * t_out + pull_in[c, 0] * new[z] - t_out)
            )
            face[c, h] = new[z] - film[c] * g_in[c] * (new[z] - last)
            for i in range(n):
                b = 0.0
                for k in range(n):
                    b += inverse[c, i, k] * caps[c, k] / seconds * nodes[s + k]
                fresh[i] = b + pull_out[c, i] * t_out + pull_in[c, i] * new[z]
            for i in range(n):
                nodes[s + i] = fresh[i]
        for f in range(flows):
            z, o = flow_to[f], flow_from[f]
            if z >= 0:
                t_from = outside[h] if o < 0 else new[o]
                by_flow[f, h] = flow[f, h] / 3600.0 * AIR_HEAT * (1.0 - recovered[f]) * (t_from - new[z])
        for z in range(zones):
            t[z] = new[z]
    return HeatYear(temp, heating, cooling, by_chain, by_flow, beyond, face)


@numba.njit(cache=True)
def _water_year(steps, seconds, damp, faces, drawn, outside_p, two_layers, wet_ones, p, phi, stored):  # type: ignore[no-untyped-def]
    """WaterYear over the steps, from p, phi (RH of the two layers of each buffer) and stored (kg on the cold surfaces), which are carried on.

    damp: Damp; faces: ColdFaces; drawn: Drawn in kg/(s Pa); two_layers: Buffers; wet_ones: Wet.
    """
    holds, dry, psat, gives = damp
    cold_zone, film_k, keeps, cold_psat = faces
    flow_from, flow_to, ratio, recovered = drawn
    buf_zone, buf_s, buf_k = two_layers
    src_zone, src_k, src_p = wet_ones
    zones, flows, buffers, sources, colds = len(holds), len(flow_from), len(buf_zone), len(src_zone), len(cold_zone)
    pressure, condensed = np.zeros((zones, steps)), np.zeros((zones, steps))
    dried, off, wet = np.zeros((zones, steps)), np.zeros((zones, steps)), np.zeros((sources, steps))
    base, rest = np.zeros((zones, zones)), np.zeros(zones)
    mode, capped = np.zeros(colds, np.int64), np.zeros(zones, np.int64)
    below, had = np.zeros(buffers), np.zeros(buffers)
    for h in range(steps):
        base[:] = 0.0
        for z in range(zones):
            base[z, z] = holds[z] / seconds
            rest[z] = holds[z] / seconds * p[z] + gives[z, h]
        for f in range(flows):
            z, o = flow_to[f], flow_from[f]
            if z < 0:
                continue
            m = ratio[f, h] * (1.0 - recovered[f])
            base[z, z] += m
            if o >= 0:
                base[z, o] -= m
            else:
                rest[z] += m * outside_p[h]
        for b in range(buffers):
            # the deep layer is taken out of the step: it holds the first one with this much
            z = buf_zone[b]
            deep = buf_s[b, 1] / seconds
            held = buf_k[b, 1] * psat[z, h] * deep / (deep + buf_k[b, 1] * psat[z, h])
            below[b] = buf_s[b, 0] / seconds + buf_k[b, 0] * psat[z, h] + held
            had[b] = buf_s[b, 0] / seconds * phi[b, 0] + held * phi[b, 1]
            base[z, z] += buf_k[b, 0] * (1.0 - buf_k[b, 0] * psat[z, h] / below[b])
            rest[z] += buf_k[b, 0] * psat[z, h] * had[b] / below[b]
        for s in range(sources):
            base[src_zone[s], src_zone[s]] += src_k[s]
            rest[src_zone[s]] += src_k[s] * src_p[s, h]
        # 0: the cold surface is dry; 1: it exchanges; 2: it gives off the last of what it holds
        for s in range(colds):
            mode[s] = 1 if stored[s] > 0.0 else 0
        capped[:] = 0
        for _ in range(6 * (zones + colds) + 4):
            a, r = base.copy(), rest.copy()
            for s in range(colds):
                z = cold_zone[s]
                if mode[s] == 1:
                    a[z, z] += film_k[s]
                    r[z] += film_k[s] * cold_psat[s, h]
                elif mode[s] == 2:
                    r[z] += stored[s] / seconds
            for z in range(zones):
                if capped[z] == 1:
                    a[z, :] = 0.0
                    a[z, z] = 1.0
                    r[z] = min(dry[z, h], psat[z, h])
            new = _gauss(a, r)
            changed = False
            for s in range(colds):
                z = cold_zone[s]
                if mode[s] == 0 and film_k[s] > 0.0 and new[z] > cold_psat[s, h] * (1.0 + 1e-12):
                    mode[s] = 1
                    changed = True
                elif mode[s] == 1:
                    rate = film_k[s] * (new[z] - cold_psat[s, h])
                    if rate < 0.0 and not keeps[s]:
                        mode[s] = 0
                        changed = True
                    elif rate < 0.0 and stored[s] + rate * seconds < -1e-15:
                        mode[s] = 2
                        changed = True
            for z in range(zones):
                if capped[z] == 0 and new[z] > min(dry[z, h], psat[z, h]) * (1.0 + 1e-12):
                    capped[z] = 1
                    changed = True
            if not changed:
                break
        for z in range(zones):
            taken = 0.0
            for s in range(colds):
                if cold_zone[s] != z:
                    continue
                rate = 0.0
                if mode[s] == 1:
                    rate = film_k[s] * (new[z] - cold_psat[s, h])
                elif mode[s] == 2:
                    rate = -stored[s] / seconds
                taken += rate
                if keeps[s]:
                    stored[s] = max(stored[s] + rate * seconds, 0.0)
                    condensed[z, h] += stored[s]
                else:
                    off[z, h] += rate
            if capped[z] == 1:
                out = rest[z] - taken
                for k in range(zones):
                    out -= base[z, k] * new[k]
                if dry[z, h] < psat[z, h]:
                    dried[z, h] = out
                else:
                    off[z, h] += out
            pressure[z, h] = new[z]
            p[z] = new[z]
        for b in range(buffers):
            z = buf_zone[b]
            deep = buf_s[b, 1] / seconds
            phi[b, 0] = (had[b] + buf_k[b, 0] * new[z]) / below[b]
            phi[b, 1] = (deep * phi[b, 1] + buf_k[b, 1] * psat[z, h] * phi[b, 0]) / (deep + buf_k[b, 1] * psat[z, h])
        for s in range(sources):
            wet[s, h] = src_k[s] * (src_p[s, h] - new[src_zone[s]])
    return WaterYear(pressure, condensed, dried, off, wet)


def _held(zone: Zone, which: str, hours: int) -> Array:
    value = zone.heat_to_c if which == "heat" else zone.cool_to_c
    if value is None:
        return np.full(hours, -1e9 if which == "heat" else 1e9)
    return np.broadcast_to(np.asarray(value, float), (hours,)).copy()


def _given(value: Array | None, hours: int) -> Array:
    return np.zeros(hours) if value is None else np.broadcast_to(np.asarray(value, float), (hours,)).copy()


def _check(building: Building) -> None:
    hours = len(building.outside_c)
    zones = len(building.zones)
    if not zones:
        raise OutOfRange("a building needs a zone")
    for chain in building.chains:
        if min(chain.resistances) <= 0.0 or chain.area_m2 <= 0.0 or any(c <= 0.0 for c in chain.capacities):
            raise OutOfRange("area, resistances and capacities are above 0", chain.key)
        if len(chain.resistances) != len(chain.capacities) + 1:
            raise OutOfRange("a chain has one resistance more than it has capacities", chain.key)
        if not (0 <= chain.zone < zones and -1 <= chain.side < zones and chain.side != chain.zone):
            raise OutOfRange("a chain lies between a zone and another, or the outside", chain.key)
        if chain.side == OUTSIDE and (chain.outer_c is None or len(chain.outer_c) != hours):
            raise OutOfRange("what it borders on is given for every hour", chain.key)
    for flow in building.flows:
        if not (-1 <= flow.source < zones and -1 <= flow.target < zones) or float(flow.kg_h.min()) < 0.0:
            raise OutOfRange("air flows from one place to another, and not backward", flow.key)
    for zone in building.zones:
        if zone.volume_m3 <= 0.0:
            raise OutOfRange("a zone has a volume above 0", zone.name)
        if float((_held(zone, "cool", hours) - _held(zone, "heat", hours)).min()) < 0.0:
            raise OutOfRange("it would be heated above what it is cooled to", zone.name)


class _Arrays:
    """The building as the loops take it."""

    def __init__(self, building: Building, seconds: float, steps: int) -> None:
        b = building
        hours, self.steps, self.seconds = len(b.outside_c), steps, seconds
        self.repeat = round(HOUR / seconds)
        self.outside = self.fine(b.outside_c)
        self.spaces = Spaces(
            capacity=np.array([z.volume_m3 * AIR_DENSITY * AIR_HEAT + z.furniture_j_k for z in b.zones]),
            heat_to=np.array([self.fine(_held(z, "heat", hours)) for z in b.zones]),
            cool_to=np.array([self.fine(_held(z, "cool", hours)) for z in b.zones]),
            gains=np.array([self.fine(_given(z.gains_w, hours)) for z in b.zones]),
        )
        self.chains = self._chains(b.chains, hours)
        self.air = Drawn(
            source=np.array([f.source for f in b.flows], np.int64),
            target=np.array([f.target for f in b.flows], np.int64),
            amount=np.array([self.fine(f.kg_h) for f in b.flows]).reshape(len(b.flows), steps),
            recovered=np.array([f.heat_recovered for f in b.flows]),
        )

    @property
    def zones(self) -> int:
        return len(self.spaces.capacity)

    def fine(self, values: Array) -> Array:
        """Hourly values on the steps."""
        return np.repeat(np.asarray(values, float), self.repeat)[: self.steps]

    def _chains(self, chains: list[Chain], hours: int) -> Chains:
        number, most = len(chains), max([len(c.capacities) for c in chains] + [1])
        inverse = np.zeros((number, most, most))
        pull_out, pull_in, caps = (np.zeros((number, most)) for _ in range(3))
        for index, chain in enumerate(chains):
            n = len(chain.capacities)
            if n:
                inverse[index, :n, :n], pull_out[index, :n], pull_in[index, :n] = _chain_matrix(chain, self.seconds)
                caps[index, :n] = chain.capacities
        counts = np.array([len(c.capacities) for c in chains], np.int64)
        zero = np.zeros(hours)
        outer = [self.fine(zero if c.outer_c is None else c.outer_c) for c in chains]
        return Chains(
            area=np.array([c.area_m2 for c in chains]),
            zone=np.array([c.zone for c in chains], np.int64),
            side=np.array([c.side for c in chains], np.int64),
            counts=counts,
            starts=np.array([0, *np.cumsum(counts)[:-1]] if number else [], np.int64),
            inverse=inverse,
            pull_out=pull_out,
            pull_in=pull_in,
            caps=caps,
            g_out=np.array([1.0 / c.resistances[0] for c in chains]),
            g_in=np.array([c.u if not c.capacities else 1.0 / c.resistances[-1] for c in chains]),
            film=np.array([min(c.film, c.resistances[-1] if c.capacities else 1.0 / c.u) for c in chains]),
            outer=np.array(outer).reshape(number, self.steps),
        )


def zone_year(building: Building, steps_an_hour: int = 1, years: int = 2) -> ZoneYear:
    """The last of some years of a building, each begun where the one before ended. Raises OutOfRange for what cannot be.

    steps_an_hour: shorter steps, for refinement; hours are answered all the same.
    """
    _check(building)
    hours = len(building.outside_c)
    seconds, steps = HOUR / steps_an_hour, hours * steps_an_hour
    arrays = _Arrays(building, seconds, steps)
    heat, heat_closure = _heat(arrays, years)
    water, water_closure, psat = _water(building, arrays, heat, years)

    def hourly(values: Array) -> Array:
        return np.asarray(values.reshape(len(values), hours, steps_an_hour).mean(axis=2))

    return ZoneYear(
        celsius=hourly(heat.celsius),
        rh=hourly(water.pressure / psat),
        heating_w=hourly(heat.heating),
        cooling_w=hourly(heat.cooling),
        drying_kg_h=hourly(water.dried) * HOUR,
        condensed_kg=water.condensed.reshape(arrays.zones, hours, steps_an_hour)[:, :, -1],
        ran_off_kg=hourly(water.off) * HOUR,
        by_chain_w=hourly(heat.by_chain),
        by_flow_w=hourly(heat.by_flow),
        inner_face_c=hourly(heat.face),
        wet_kg_h=hourly(water.wet) * HOUR,
        heat_closure=heat_closure,
        water_closure=water_closure,
    )


def _heat(a: _Arrays, years: int) -> tuple[HeatYear, float]:
    """(the last year, heat that it does not account for over its turnover)."""
    spaces, chains = a.spaces, a.chains
    start = [
        float(spaces.heat_to[z, 0]) if spaces.heat_to[z, 0] > -1e8 else float(a.outside.mean()) for z in range(a.zones)
    ]
    t = np.array(start)
    nodes = np.zeros(max(int(chains.counts.sum()), 1))
    for c, (n, s) in enumerate(zip(chains.counts, chains.starts, strict=True)):
        outer = float(chains.outer[c].mean()) if chains.side[c] < 0 else t[chains.side[c]]
        for i in range(n):
            nodes[s + i] = outer + (t[chains.zone[c]] - outer) * (i + 1) / (n + 1)
    for _ in range(max(years, 1)):
        t_before, nodes_before = t.copy(), nodes.copy()
        found: HeatYear = _heat_year(a.steps, a.seconds, spaces, chains, a.air, a.outside, t, nodes)
    between = chains.side >= 0
    brought = (spaces.gains + found.heating - found.cooling).sum() + found.by_chain.sum() + found.by_flow.sum()
    brought += found.beyond[between].sum()
    stored = float((spaces.capacity * (t - t_before)).sum()) / a.seconds
    in_chains = 0.0
    for c, (n, s) in enumerate(zip(chains.counts, chains.starts, strict=True)):
        held = chains.caps[c, :n] * chains.area[c]
        in_chains += float((held * (nodes[s : s + n] - nodes_before[s : s + n])).sum()) / a.seconds
    massive = chains.counts > 0
    chains_gap = abs(in_chains + found.by_chain[massive].sum() + found.beyond[massive].sum())
    moved = np.abs(spaces.gains).sum() + found.heating.sum() + found.cooling.sum()
    moved += np.abs(found.by_chain).sum() + np.abs(found.by_flow).sum()
    return found, (abs(brought - stored) + chains_gap) / max(float(moved), 1e-9)


def _water(building: Building, a: _Arrays, heat: HeatYear, years: int) -> tuple[WaterYear, float, Array]:
    """(the last year, water that it does not account for over its turnover, saturation of the zones [Pa])."""
    psat = np.asarray(saturation_pressure(heat.celsius + ZERO_CELSIUS))
    outside_p = a.fine(building.outside_rh) * np.asarray(saturation_pressure(a.outside + ZERO_CELSIUS))
    hours = len(building.outside_c)
    index = {chain.key: number for number, chain in enumerate(building.chains)}
    colds = [(z, index[cold.chain], cold.keeps) for z, zone in enumerate(building.zones) for cold in zone.cold]
    over_ice = [saturation_pressure_over_ice(heat.face[c] + ZERO_CELSIUS) for _, c, _ in colds]
    faces = ColdFaces(
        zone=np.array([z for z, _, _ in colds], np.int64),
        film=np.array([building.chains[c].area_m2 * VAPOUR_FILM for _, c, _ in colds]),
        keeps=np.array([kept for _, _, kept in colds], np.bool_),
        psat=np.array(over_ice).reshape(len(colds), a.steps),
    )
    dry = np.full((a.zones, a.steps), 1e9)
    surfaces: list[tuple[int, Layers, Layers]] = []
    sources: list[tuple[int, WetSource]] = []
    for z, zone in enumerate(building.zones):
        if zone.dry_to is not None:
            dry[z] = np.where(heat.cooling[z] > 0.0, zone.dry_to * psat[z], 1e9)
        for buffer in zone.buffers:
            holds, passes = buffer_of(buffer, float(psat[z].mean()))
            surfaces.append((z, holds, passes))
        sources += [(z, source) for source in zone.sources]
    damp = Damp(
        holds=np.array([z.volume_m3 / (GAS_CONSTANT_VAPOUR * ROOM_K) for z in building.zones]),
        dry=dry,
        psat=psat,
        gives=np.array([a.fine(_given(z.vapour_kg_h, hours)) / HOUR for z in building.zones]),
    )
    drawn = a.air._replace(
        amount=a.air.amount / HOUR * vapour_by_air(STANDARD_PRESSURE),
        recovered=np.array([f.moisture_recovered for f in building.flows]),
    )
    two_layers = Buffers(
        zone=np.array([z for z, _, _ in surfaces], np.int64),
        holds=np.array([holds for _, holds, _ in surfaces], float).reshape(-1, 2),
        passes=np.array([passes for _, _, passes in surfaces], float).reshape(-1, 2),
    )
    at_source = [saturation_pressure(heat.face[index[s.chain]] + ZERO_CELSIUS) for _, s in sources]
    wet_ones = Wet(
        zone=np.array([z for z, _ in sources], np.int64),
        conductance=np.array([s.area_m2 / (1.0 / VAPOUR_FILM + s.sd_m / DELTA_AIR) for _, s in sources]),
        pressure=np.array(at_source).reshape(len(sources), a.steps),
    )
    p = np.full(a.zones, float(outside_p.mean()))
    start = [2 * [min(float(outside_p.mean()) / float(psat[z].mean()), 0.9)] for z, _, _ in surfaces]
    phi = np.array(start).reshape(-1, 2)
    stored = np.zeros(len(colds))
    for _ in range(max(years, 1)):
        before = (p.copy(), phi.copy(), stored.copy())
        found: WaterYear = _water_year(
            a.steps, a.seconds, damp, faces, drawn, outside_p, two_layers, wet_ones, p, phi, stored
        )
    inflow, turned = 0.0, 0.0
    for f, flow in enumerate(building.flows):
        if flow.target < 0:
            continue
        source = outside_p if flow.source < 0 else found.pressure[flow.source]
        moved = drawn.amount[f] * (1.0 - drawn.recovered[f]) * (source - found.pressure[flow.target])
        inflow += float(moved.sum())
        turned += float(np.abs(moved).sum())
    change = float((damp.holds * (p - before[0])).sum() + (two_layers.holds * (phi - before[1])).sum())
    change = (change + float((stored - before[2]).sum())) / a.seconds
    brought = inflow + float(damp.gives.sum() + found.wet.sum() - found.dried.sum() - found.off.sum())
    turned = max(turned + float(damp.gives.sum() + np.abs(found.wet).sum()), 1e-12)
    return found, abs(brought - change) / turned, psat


WAVE_S = (
    6.0 * HOUR,
    240.0 * HOUR,
)  # periods whose depths bound the two layers: chosen against fine differences, see docs/verification.md


def buffer_of(buffer: Buffer, saturation_pa: float) -> tuple[Layers, Layers]:
    """(kg that each of its two layers takes for 1 of RH, kg/(s Pa) between the air and the first, the first and the second).

    Depth of a wave d = √(δ p_s τ / (ξ π)), storage d ξ: Woods, Winkler and Christensen 2013, who take two depths for short and for long
    changes. Between a layer's face and its mean a third of it resists, two thirds up to its back: those of a parabola.
    """
    permeability = DELTA_AIR / buffer.mu
    first, both = (math.sqrt(permeability * saturation_pa * wave / (buffer.slope_kg_m3 * math.pi)) for wave in WAVE_S)
    second = both - first
    outer = 1.0 / VAPOUR_FILM + first / 3.0 / permeability
    inner = (2.0 * first / 3.0 + second / 3.0) / permeability
    holds = buffer.area_m2 * buffer.slope_kg_m3
    return (holds * first, holds * second), (buffer.area_m2 / outer, buffer.area_m2 / inner)

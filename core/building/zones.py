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


@numba.njit(cache=True)
def _heat_year(  # type: ignore[no-untyped-def]
    steps, seconds, capacity, heat_to, cool_to, gains, area, zone, side, counts, starts, inverse, pull_out, pull_in, caps,
    g_out, g_in, film, outer, flow_from, flow_to, flow, recovered, outside, t, nodes,
):  # fmt: skip
    """One run over the steps from zones at t and chains at nodes, which are carried on. Returns temperatures, heating, cooling, flows into the
    zone by chain and by air, out of the chain on its other side, inner faces."""
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
    return temp, heating, cooling, by_chain, by_flow, beyond, face


@numba.njit(cache=True)
def _water_year(  # type: ignore[no-untyped-def]
    steps, seconds, holds, cold_zone, film_k, keeps, cold_psat, dry, gives, psat, flow_from, flow_to, ratio, recovered, outside_p,
    buf_zone, buf_s, buf_k, src_zone, src_k, src_p, p, phi, stored,
):  # fmt: skip
    """Vapour pressure of each zone over the steps, from p, phi (RH of the two layers of each buffer) and stored (kg on the cold surfaces), which are carried on.

    holds: vapour of a zone for each Pa [kg/Pa]; film_k: of a cold surface [kg/(s Pa)]; dry[zone, step]: pressure that cooling keeps below.
    """
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
    return pressure, condensed, dried, off, wet


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
    """The building as the kernels want it."""

    def __init__(self, building: Building, seconds: float, steps: int) -> None:
        b = building
        self.zones = len(b.zones)
        repeat = round(HOUR / seconds)

        def fine(values: Array) -> Array:
            return np.repeat(np.asarray(values, float), repeat)[:steps]

        self.fine = fine
        self.outside = fine(b.outside_c)
        hours = len(b.outside_c)
        self.capacity = np.array([z.volume_m3 * AIR_DENSITY * AIR_HEAT + z.furniture_j_k for z in b.zones])
        self.heat_to = np.array([fine(_held(z, "heat", hours)) for z in b.zones])
        self.cool_to = np.array([fine(_held(z, "cool", hours)) for z in b.zones])
        self.gains = np.array([fine(_given(z.gains_w, hours)) for z in b.zones])
        count = max([len(c.capacities) for c in b.chains] + [1])
        number = len(b.chains)
        self.inverse = np.zeros((number, count, count))
        self.pull_out, self.pull_in, self.caps = (np.zeros((number, count)) for _ in range(3))
        for index, chain in enumerate(b.chains):
            n = len(chain.capacities)
            if n:
                inverse, outward, inward = _chain_matrix(chain, seconds)
                self.inverse[index, :n, :n], self.pull_out[index, :n], self.pull_in[index, :n] = (
                    inverse,
                    outward,
                    inward,
                )
                self.caps[index, :n] = chain.capacities
        self.counts = np.array([len(c.capacities) for c in b.chains], np.int64)
        self.starts = np.array([0, *np.cumsum(self.counts)[:-1]] if number else [], np.int64)
        self.area = np.array([c.area_m2 for c in b.chains])
        self.zone = np.array([c.zone for c in b.chains], np.int64)
        self.side = np.array([c.side for c in b.chains], np.int64)
        whole = [c.u if not c.capacities else 1.0 / c.resistances[-1] for c in b.chains]
        self.g_in = np.array(whole)
        self.g_out = np.array([1.0 / c.resistances[0] for c in b.chains])
        self.film = np.array([min(c.film, c.resistances[-1] if c.capacities else 1.0 / c.u) for c in b.chains])
        zero = np.zeros(hours)
        self.outer = np.array([fine(zero if c.outer_c is None else c.outer_c) for c in b.chains]).reshape(number, steps)
        self.flow_from = np.array([f.source for f in b.flows], np.int64)
        self.flow_to = np.array([f.target for f in b.flows], np.int64)
        self.flow = np.array([fine(f.kg_h) for f in b.flows]).reshape(len(b.flows), steps)


def zone_year(building: Building, steps_an_hour: int = 1, years: int = 2) -> ZoneYear:
    """The last of some years of a building, each begun where the one before ended. Raises OutOfRange for what cannot be.

    steps_an_hour: shorter steps, for refinement; hours are answered all the same.
    """
    _check(building)
    hours = len(building.outside_c)
    seconds, steps = HOUR / steps_an_hour, hours * steps_an_hour
    arrays = _Arrays(building, seconds, steps)
    heat, heat_closure = _heat(building, arrays, steps, seconds, years)
    celsius = heat[0]
    water, water_closure, psat = _water(building, arrays, heat, steps, seconds, years)

    def hourly(values: Array) -> Array:
        return np.asarray(values.reshape(len(values), hours, steps_an_hour).mean(axis=2))

    last = water[1].reshape(arrays.zones, hours, steps_an_hour)[:, :, -1]
    return ZoneYear(
        hourly(celsius), hourly(water[0] / psat), hourly(heat[1]), hourly(heat[2]), hourly(water[2]) * HOUR, last, hourly(water[3]) * HOUR,
        hourly(heat[3]), hourly(heat[4]), hourly(heat[6]), hourly(water[4]) * HOUR, heat_closure, water_closure,
    )  # fmt: skip


def _heat(building: Building, a: _Arrays, steps: int, seconds: float, years: int) -> tuple[list[Array], float]:
    t = np.array(
        [float(a.heat_to[z, 0]) if a.heat_to[z, 0] > -1e8 else float(a.outside.mean()) for z in range(a.zones)]
    )
    nodes = np.zeros(max(int(a.counts.sum()), 1))
    for c in range(len(a.counts)):
        outer = float(a.outer[c].mean()) if a.side[c] < 0 else t[a.side[c]]
        for i in range(a.counts[c]):
            nodes[a.starts[c] + i] = outer + (t[a.zone[c]] - outer) * (i + 1) / (a.counts[c] + 1)
    recovered = np.array([f.heat_recovered for f in building.flows])
    found: list[Array] = []
    before = (t.copy(), nodes.copy())
    for _ in range(max(years, 1)):
        before = (t.copy(), nodes.copy())
        found = list(
            _heat_year(
                steps, seconds, a.capacity, a.heat_to, a.cool_to, a.gains, a.area, a.zone, a.side, a.counts, a.starts, a.inverse,
                a.pull_out, a.pull_in, a.caps, a.g_out, a.g_in, a.film, a.outer, a.flow_from, a.flow_to, a.flow, recovered, a.outside, t, nodes,
            )
        )  # fmt: skip
    _, heating, cooling, by_chain, by_flow, beyond, _ = found
    across = np.array([beyond[c] if a.side[c] >= 0 else np.zeros(steps) for c in range(len(a.area))]).reshape(
        beyond.shape
    )
    brought = (a.gains + heating - cooling).sum() + by_chain.sum() + across.sum() + by_flow.sum()
    per_chain = [a.caps[c, : a.counts[c]] * a.area[c] for c in range(len(a.counts))]
    stored = float((a.capacity * (t - before[0])).sum()) / seconds
    in_chains = (
        sum(
            float((caps * (nodes[s : s + n] - before[1][s : s + n])).sum())
            for caps, s, n in zip(per_chain, a.starts, a.counts, strict=True)
        )
        / seconds
    )
    massive = a.counts > 0
    chains_gap = abs(in_chains + by_chain[massive].sum() + beyond[massive].sum())
    turnover = max(
        float(np.abs(a.gains).sum() + heating.sum() + cooling.sum() + np.abs(by_chain).sum() + np.abs(by_flow).sum()),
        1e-9,
    )
    return found, (abs(brought - stored) + chains_gap) / turnover


def _water(
    building: Building, a: _Arrays, heat: list[Array], steps: int, seconds: float, years: int
) -> tuple[list[Array], float, Array]:
    celsius, cooling, face = heat[0], heat[2], heat[6]
    psat = np.asarray(saturation_pressure(celsius + ZERO_CELSIUS))
    outside_p = a.fine(building.outside_rh) * np.asarray(saturation_pressure(a.outside + ZERO_CELSIUS))
    hours = len(building.outside_c)
    index = {chain.key: number for number, chain in enumerate(building.chains)}
    holds = np.array([z.volume_m3 / (GAS_CONSTANT_VAPOUR * ROOM_K) for z in building.zones])
    colds = [(z, index[cold.chain], cold.keeps) for z, zone in enumerate(building.zones) for cold in zone.cold]
    cold_zone = np.array([z for z, _, _ in colds], np.int64)
    film_k = np.array([building.chains[c].area_m2 * VAPOUR_FILM for _, c, _ in colds])
    keeps = np.array([kept for _, _, kept in colds], np.bool_)
    cold = np.array([saturation_pressure_over_ice(face[c] + ZERO_CELSIUS) for _, c, _ in colds]).reshape(
        len(colds), steps
    )
    dry = np.full((a.zones, steps), 1e9)
    buffers: list[tuple[int, Layers, Layers]] = []
    sources: list[tuple[int, WetSource]] = []
    for z, zone in enumerate(building.zones):
        if zone.dry_to is not None:
            dry[z] = np.where(cooling[z] > 0.0, zone.dry_to * psat[z], 1e9)
        for buffer in zone.buffers:
            s, k = buffer_of(buffer, float(psat[z].mean()))
            buffers.append((z, s, k))
        sources += [(z, source) for source in zone.sources]
    ratio = a.flow / HOUR * vapour_by_air(STANDARD_PRESSURE)
    recovered = np.array([f.moisture_recovered for f in building.flows])
    src_k = np.array([s.area_m2 / (1.0 / VAPOUR_FILM + s.sd_m / DELTA_AIR) for _, s in sources])
    src_p = np.array([saturation_pressure(face[index[s.chain]] + ZERO_CELSIUS) for _, s in sources])
    src_p = src_p.reshape(len(sources), steps)
    gives = np.array([a.fine(_given(z.vapour_kg_h, hours)) / HOUR for z in building.zones])
    p = np.full(a.zones, float(outside_p.mean()))
    phi = np.array([2 * [min(float(outside_p.mean()) / float(psat[z].mean()), 0.9)] for z, _, _ in buffers]).reshape(
        -1, 2
    )
    stored = np.zeros(len(colds))
    zone_of = np.array([z for z, _, _ in buffers], np.int64)
    buf_s = np.array([s for _, s, _ in buffers], float).reshape(-1, 2)
    buf_k = np.array([k for _, _, k in buffers], float).reshape(-1, 2)
    src_zone = np.array([z for z, _ in sources], np.int64)
    found: list[Array] = []
    before = (p.copy(), phi.copy(), stored.copy())
    for _ in range(max(years, 1)):
        before = (p.copy(), phi.copy(), stored.copy())
        found = list(
            _water_year(
                steps, seconds, holds, cold_zone, film_k, keeps, cold, dry, gives, psat, a.flow_from, a.flow_to, ratio, recovered, outside_p,
                zone_of, buf_s, buf_k, src_zone, src_k, src_p, p, phi, stored,
            )
        )  # fmt: skip
    pressure, _, dried, off, wet = found
    inflow = np.zeros(steps)
    turned = 0.0
    for f, flow in enumerate(building.flows):
        if flow.target < 0:
            continue
        source = outside_p if flow.source < 0 else pressure[flow.source]
        moved = ratio[f] * (1.0 - recovered[f]) * (source - pressure[flow.target])
        inflow += moved
        turned += float(np.abs(moved).sum())
    change = (
        float((holds * (p - before[0])).sum() + (buf_s * (phi - before[1])).sum() + (stored - before[2]).sum())
        / seconds
    )
    brought = float(inflow.sum() + gives.sum() + wet.sum() - dried.sum() - off.sum())
    turned = max(turned + float(gives.sum() + np.abs(wet).sum()), 1e-12)
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

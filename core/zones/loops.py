"""The two compiled loops over the hours of a house, heat before vapour, with the arrays that each takes and gives."""

from __future__ import annotations

from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from core.physics.constants import (
    AIR_HEAT,
)
from core.zones.model import Array

Whole = NDArray[np.int64]


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
def heat_year(steps, seconds, spaces, all_chains, drawn, outside, t, nodes):  # type: ignore[no-untyped-def]
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
def water_year(steps, seconds, damp, faces, drawn, outside_p, two_layers, wet_ones, p, phi, stored):  # type: ignore[no-untyped-def]
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

"""The air of every space of a building, hour by hour: temperature, vapour, the heat and cold it needs.

In the manner of the hourly method of ISO 52016-1: each element is a chain of capacities between its two sides, each zone one node of air, all
solved together, fully implicit, an hour a step. Two things differ from its printed form and are said wherever figures stand: a zone has one
node with the combined surface resistances of ISO 6946 (so that a steady hour agrees with the U-values of the tables), and the nodes of an element
follow its real layers (not five by class of mass). Vapour: one balance of a zone with hygroscopic surfaces of two depths (after Woods, Winkler and
Christensen 2013), its cold surfaces, wet sources, and the air that flows between zones.
"""

from __future__ import annotations

import math

import numpy as np

from core.errors import OutOfRange
from core.physics.constants import (
    AIR_DENSITY,
    AIR_HEAT,
    GAS_CONSTANT_VAPOUR,
    ROOM_K,
    STANDARD_PRESSURE,
    ZERO_CELSIUS,
)
from core.physics.moist_air import saturation_pressure, saturation_pressure_over_ice, vapour_by_air
from core.zones.loops import (
    Buffers,
    Chains,
    ColdFaces,
    Damp,
    Drawn,
    HeatYear,
    Spaces,
    WaterYear,
    Wet,
    heat_year,
    water_year,
)
from core.zones.model import (
    DELTA_AIR,
    HOUR,
    OUTSIDE,
    VAPOUR_FILM,
    Array,
    Buffer,
    Building,
    Chain,
    WetSource,
    Zone,
    ZoneYear,
)

Layers = tuple[float, float]


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
        found: HeatYear = heat_year(a.steps, a.seconds, spaces, chains, a.air, a.outside, t, nodes)
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
        found: WaterYear = water_year(
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

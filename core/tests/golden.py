"""Golden figures: a dozen walls, a building and two rooms, eight figures each, kept in golden.json. `python -m core.tests.golden` writes them anew.

They are no truth (docs/verification.md holds the computation to that); they are memory: when one moves, kept results would be called current that are not.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np

from core.assembly.to_case import model_of
from core.cases.practice import PRACTICE, build_up
from core.climate.data import shipped
from core.criteria.judging import checked_limits
from core.criteria.registry import CRITERIA, LIMITS
from core.criteria.run_findings import find_all
from core.criteria.stated import stated
from core.criteria.verdict import verdict
from core.moisture.transient.columns import ABSORBED, BY_FILM, INSIDE, LIQUID, OUTSIDE, VAPOUR
from core.moisture.transient.outcome import SOLVER, Outcome
from core.moisture.transient.solve import simulate
from core.tests.test_whole import state
from core.zones.assemble import HOUSE, building_year
from core.zones.hourly import zone_year
from core.zones.model import AirFlow, Buffer, Building, Chain, ColdSurface, WetSource, Zone

KEPT = Path(__file__).with_name("golden.json")
CLOSE = 2e-4  # relative: more than machines differ by their order of adding up, less than any change of a formula
TINY = 1e-6
WALLS = (
    "log wall, wood fibre outside behind boards",
    "brick, foam outside with render",
    "rubble, mineral fibre behind slates on battens",
    "brick on a dry face, calcium silicate inside",
    "brick on a dry face, 50 fibre with variable membrane",
    "frame behind a drained and vented brick leaf, felt on boards",
    "cold attic, cellulose on the ceiling with a retarder, vented",
    "slab: membrane, foam, concrete",
    "floor over a vented void, batts held by an open net",
    "cellar wall, foam outside below ground",
    "rain-soaked rubble, 140 fibre and plastic sheet inside",
    "closed foam under leaky slates, between rafters",
)


def wall_figures(outcome: Outcome) -> dict[str, float]:
    """Eight of a run's last year [kg/m², kWh/m², °C, share]."""
    last, step = outcome.last_pass, outcome.record_step_s
    flux = outcome.flux[last]
    place = max(outcome.planes.values(), key=lambda one: float(outcome.rh(one, last).mean()))
    water = outcome.layer_water[last].sum(axis=1)
    heat = float((flux[:, INSIDE, BY_FILM] + flux[:, INSIDE, ABSORBED]).sum() * step / 3.6e6)
    return {
        "water at the end": float(water[-1]),
        "water, mean": float(water.mean()),
        "liquid at the outer face": float(flux[:, OUTSIDE, LIQUID].sum() * step),
        "vapour at the room face": float(flux[:, INSIDE, VAPOUR].sum() * step),
        "heat at the room face": heat,
        "let in by air and rain": float(np.maximum(outcome.gained[last], 0.0).sum() * step),
        "RH at the wettest plane": float(outcome.rh(place, last).mean()),
        "coldest at the wettest plane": float(outcome.temperature_c(place, last).min()),
    }


def walls() -> dict[str, dict[str, dict[str, float]]]:
    """Of each wall what its year gives, and by criterion the largest share of a limit."""
    found: dict[str, dict[str, dict[str, float]]] = {}
    rows = {row.name: row for row in PRACTICE}
    for name in WALLS:
        row = rows[name]
        option, as_found = build_up(*row.option), build_up(*row.found)
        model = model_of(option, row.place, name)
        outcome = simulate(model.case)
        facts = stated(option, as_found, row.place, shipped(row.place.climate), False)
        told = verdict(find_all(model, outcome), None, facts, checked_limits(LIMITS, {}))
        shares: dict[str, float] = {}
        for one in told.judgements:
            shares[one.criterion] = max(shares.get(one.criterion, 0.0), one.share)
        found[name] = {"years": wall_figures(outcome), "judged": shares}
    return found


def building() -> dict[str, float]:
    """Eight of a house's hourly year."""
    made = building_year(state(use={"people": 3.0, "cool_to_c": 22.0}), shipped("corrie"))
    year = made.year
    return {
        "heating [kWh]": made.heating_kwh,
        "cooling [kWh]": made.cooling_kwh,
        "peak of heating [W]": made.heating_peak_w,
        "sun through glass [kWh]": float(made.solar_w.sum() / 1000.0),
        "outside air [m³/h]": float(made.fresh_m3_h().mean()),
        "RH of the rooms": float(year.rh[HOUSE].mean()),
        "temperature of the void [°C]": float(year.celsius[1].mean()),
        "RH of the void": float(year.rh[1].mean()),
    }


def rooms() -> dict[str, float]:
    """Eight of two rooms' humidity: one heated and lived in, one cold beside it with a wet floor and a cold pane."""
    climate = shipped("tarn")
    hours = climate.hours
    flat = np.ones(hours)
    outside = climate["temperature_c"]
    lived = Zone(
        "lived in", 120.0, heat_to_c=20.0 * flat, gains_w=200.0 * flat, vapour_kg_h=0.15 * flat, buffers=(Buffer(90.0),)
    )
    beside = Zone(
        "beside",
        60.0,
        buffers=(Buffer(30.0),),
        sources=(WetSource("floor", 12.0, "floor"),),
        cold=(ColdSurface("pane", False),),
    )
    chains = [
        Chain("wall", 60.0, 0, (0.13, 2.0, 0.13), (2e5, 5e4), outer_c=outside),
        Chain("between", 15.0, 0, (0.13, 0.3, 0.13), (1e5, 1e5), side=1),
        Chain("floor", 20.0, 1, (0.5, 0.17), (3e5,), outer_c=8.0 * flat),
        Chain("pane", 4.0, 1, (0.2,), outer_c=outside),
    ]
    flows = [
        AirFlow("in", -1, 0, 40.0 * flat),
        AirFlow("across", 0, 1, 10.0 * flat),
        AirFlow("cold", -1, 1, 15.0 * flat),
        AirFlow("out", 1, -1, 25.0 * flat),
    ]
    year = zone_year(Building([lived, beside], chains, flows, outside, climate["relative_humidity"]))
    return {
        "heating [kWh]": float(year.heating_w[0].sum() / 1000.0),
        "RH lived in": float(year.rh[0].mean()),
        "most RH lived in": float(year.rh[0].max()),
        "RH beside": float(year.rh[1].mean()),
        "most RH beside": float(year.rh[1].max()),
        "temperature beside [°C]": float(year.celsius[1].mean()),
        "given off by the floor [kg]": float(year.wet_kg_h.sum()),
        "ran off the pane [kg]": float(year.ran_off_kg.sum()),
    }


def now() -> dict[str, Any]:
    return {
        "solver": SOLVER,
        "criteria": {row.key: row.version for row in CRITERIA},
        "walls": walls(),
        "building": building(),
        "rooms": rooms(),
    }


def moved(kept: dict[str, float], found: dict[str, float]) -> list[str]:
    """Figures that are not what they were, each in words."""
    words = []
    for key in sorted(kept.keys() | found.keys()):
        before, after = kept.get(key), found.get(key)
        if before is None or after is None or abs(after - before) > CLOSE * abs(before) + TINY:
            words.append(f"{key}: {before} → {after}")
    return words


if __name__ == "__main__":
    KEPT.write_text(json.dumps(now(), indent=1, ensure_ascii=False, sort_keys=True) + "\n", encoding="utf-8")

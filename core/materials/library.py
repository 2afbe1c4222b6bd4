"""The library: generic materials read from library.json, and their translation into a case.

Where only w80, free saturation and an A-value are known, Künzel 1994 fills the gap; the entry says so.
"""

from __future__ import annotations

import json
from functools import lru_cache
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter

from core import case as c
from core.errors import CaseRefused

LIBRARY = Path(__file__).parent / "library.json"
MouldClass = Literal["very_sensitive", "sensitive", "medium_resistant", "resistant"]
APPROXIMATION = "Künzel 1994 approximation from w80, free saturation and A-value"


class Entry(c.Strict):
    id: str
    name: str
    group: str
    hatch: str
    mould_class: MouldClass
    note: str = ""
    sources: dict[str, str]


class Solid(Entry):
    kind: Literal["solid"]
    density_kg_m3: float
    specific_heat_j_kgk: float
    conductivity_w_mk: float
    conductivity_by_temperature_c: list[tuple[float, float]] | None = None
    mu: float
    w80_kg_m3: float
    free_saturation_kg_m3: float
    a_value_kg_m2s05: float | None
    moisture_supplement: float
    timber: Literal["solid", "sheet"] | None
    sorption_rh_mass_percent: list[tuple[float, float]] | None = None
    capillary_active: bool
    lime_bound: bool
    usual_thickness_mm: float


class Sheet(Entry):
    """A membrane inside, or a coating on a face: sd without thickness."""

    kind: Literal["membrane", "coating"]
    sd_m: float | None
    sd_by_rh: list[tuple[float, float]] | None
    rain_factor: float
    emissivity: float = 0.9

    @property
    def sd_most_open(self) -> float:
        """The smallest sd [m] it can take."""
        return self.sd_m if self.sd_m is not None else min(sd for _, sd in self.sd_by_rh or [])

    def sd_at(self, rh: float) -> float:
        """sd [m] at an RH."""
        if self.sd_m is not None:
            return self.sd_m
        rows = self.sd_by_rh or []
        from numpy import interp

        return float(interp(rh, [row[0] for row in rows], [row[1] for row in rows]))


class AirLayer(Entry):
    """opening_mm2_m: free opening to outside at top and at bottom for each metre of width; 0 for a still layer.

    ventilated: so open that ISO 6946 leaves out what lies outside it (over 1500 mm²/m).
    """

    kind: Literal["air"]
    ventilated: bool
    opening_mm2_m: float
    usual_thickness_mm: float


AnyEntry = Annotated[Solid | Sheet | AirLayer, Field(discriminator="kind")]


@lru_cache(maxsize=1)
def library() -> dict[str, Solid | Sheet | AirLayer]:
    """All entries by id."""
    raw = json.loads(LIBRARY.read_text(encoding="utf-8"))
    entries = TypeAdapter(list[AnyEntry]).validate_python(raw["materials"])
    return {entry.id: entry for entry in entries}


def entry_of(material_id: str) -> Solid | Sheet | AirLayer:
    """One entry. Raises CaseRefused when the library has none of that id."""
    try:
        return library()[material_id]
    except KeyError:
        raise CaseRefused(f"material “{material_id}” is not in the library", "layers") from None


# Still air [kg/m³, J/(kg K)], its equivalent air layer whatever its thickness [m], and what it holds: vapour at 80 % RH
# and 20 °C, and the whole space when it fills with water.
AIR_DENSITY, AIR_HEAT, STILL_AIR_SD, AIR_W80, AIR_FULL = 1.2, 1006.0, 0.01, 0.0138, 1000.0
AIR_PERMEABILITY = 1.9e-10  # δ of still air at 10 °C [kg/(m s Pa)]


def still_air_material(name: str, thickness_m: float, resistance_m2k_w: float) -> c.Material:
    """A still air layer as a case states it: R of ISO 6946 as a conductivity, sd 0.01 m, the vapour that air holds.

    Convection and radiation are in R, which is that of winter; water that condenses stays where it is and dries again.
    """
    return c.Material(
        name=name,
        retention=c.RetentionKuenzel(form="kuenzel", w80_kg_m3=AIR_W80, free_saturation_kg_m3=AIR_FULL),
        liquid=c.LiquidNone(form="none"),
        vapour=c.Vapour(permeability_kg_mspa=AIR_PERMEABILITY * thickness_m / STILL_AIR_SD),
        heat=c.Heat(
            density_kg_m3=AIR_DENSITY,
            specific_heat_j_kgk=AIR_HEAT,
            conductivity_w_mk=thickness_m / resistance_m2k_w,
            moisture_supplement=0.0,
        ),
    )


def case_material(solid: Solid) -> c.Material:
    """The solid as a case states it: retention (Künzel, or the sorption curve given), Künzel liquid, μ, λ(w)."""
    liquid: Any = c.LiquidNone(form="none")
    if solid.a_value_kg_m2s05 is not None:
        liquid = c.LiquidKuenzel(
            form="kuenzel",
            a_value_kg_m2s05=solid.a_value_kg_m2s05,
            free_saturation_kg_m3=solid.free_saturation_kg_m3,
        )
    retention: Any = c.RetentionKuenzel(
        form="kuenzel", w80_kg_m3=solid.w80_kg_m3, free_saturation_kg_m3=solid.free_saturation_kg_m3
    )
    if solid.sorption_rh_mass_percent is not None:
        # Künzel's two-parameter curve gives wood twice its sorption at 95 %: a curve is given instead.
        rows = [(rh, percent / 100.0 * solid.density_kg_m3) for rh, percent in solid.sorption_rh_mass_percent]
        retention = c.RetentionTable(form="table", argument="rh", rows=rows)
    return c.Material(
        name=solid.name,
        retention=retention,
        liquid=liquid,
        vapour=c.Vapour(mu=solid.mu),
        heat=c.Heat(
            density_kg_m3=solid.density_kg_m3,
            specific_heat_j_kgk=solid.specific_heat_j_kgk,
            conductivity_w_mk=solid.conductivity_w_mk,
            moisture_supplement=solid.moisture_supplement,
            factor_by_temperature_c=[
                (t, value / solid.conductivity_w_mk) for t, value in solid.conductivity_by_temperature_c
            ]
            if solid.conductivity_by_temperature_c
            else None,
        ),
    )

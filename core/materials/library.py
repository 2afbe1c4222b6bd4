"""The library: generic materials read from library.json, and their translation into a case.

Where only w80, free saturation and an A-value are known, Künzel 1994 fills the gap; stones, bricks, mortars and plasters
carry a second, capillary term of the retention, an estimate; the entry says so.
"""

from __future__ import annotations

import json
import math
import re
from collections.abc import Callable
from functools import cache, lru_cache
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter

from core import case as c
from core.errors import CaseRefused, OutOfRange
from core.physics.constants import AIR_DENSITY, AIR_HEAT, GAS_CONSTANT_VAPOUR, ROOM_K

LIBRARY = Path(__file__).parent / "library.json"
MouldClass = Literal["very_sensitive", "sensitive", "medium_resistant", "resistant"]
APPROXIMATION = "Künzel 1994 approximation from w80, free saturation and A-value"


Weather = Literal["sheds", "soaks and dries", "must be covered"]
DATA_SHEET = "data sheet"  # what the source of a value begins with that a sheet states
HYGROSCOPIC_SHARE = 2.0  # of w80: what the fine pores hold when full; an estimate


class Entry(c.Strict):
    """family: whose usual ranges hold (core.materials.bounds). weather: what it does as the outermost layer. absorptance: of the sun, in its usual colour;
    None where it is no face in the weather, or has no colour of its own."""

    id: str
    name: str
    group: str
    family: str
    weather: Weather = "sheds"
    hatch: str
    mould_class: MouldClass
    note: str = ""
    sources: dict[str, str]
    absorptance: Annotated[float, Field(ge=0, le=1)] | None = None
    ranges: dict[str, tuple[float, float]] = {}  # of single values, where the family's usual spread does not hold


class Solid(Entry):
    """mu: dry cup; mu_wet: wet cup, where it is known to differ. w50: sorption at 50 % RH.

    capillary_suction_pa, capillary_n: the larger pores as a second term of the retention: the suction at which half of
    them are empty, and how sharply. fresh_water_kg_m3: water of a wet trade on the day it is put up. lapped: a covering
    or cladding with joints; its values are those of the covering. emissivity: of faces with a foil. durability_class:
    of EN 350, 1 very durable to 5 not at all.
    """

    kind: Literal["solid"]
    density_kg_m3: float
    specific_heat_j_kgk: float
    conductivity_w_mk: float
    conductivity_by_temperature_c: list[tuple[float, float]] | None = None
    mu: float
    mu_wet: float | None = None
    w80_kg_m3: float
    w50_kg_m3: float | None = None
    capillary_suction_pa: float | None = None
    capillary_n: float | None = None
    fresh_water_kg_m3: float | None = None
    wood_fibre: bool = False
    lapped: bool = False
    free_saturation_kg_m3: float
    a_value_kg_m2s05: float | None
    moisture_supplement: float
    timber: Literal["solid", "sheet"] | None
    sorption_rh_mass_percent: list[tuple[float, float]] | None = None
    capillary_active: bool
    lime_bound: bool
    usual_thickness_mm: float
    emissivity: float = 0.9
    durability_class: Literal[1, 2, 3, 4, 5] | None = None


class MineralCoat(c.Strict):
    """A coat of lime or silicate as what it is: a thin capillary layer, which slows the uptake and dries at its face."""

    thickness_mm: float
    density_kg_m3: float
    mu: float
    w80_kg_m3: float
    free_saturation_kg_m3: float
    a_value_kg_m2s05: float
    capillary_suction_pa: float
    capillary_n: float


class Sheet(Entry):
    """A membrane inside, or a coating on a face: sd without thickness.

    rain_factor: share of the rain that a film-forming coat lets through, cracks included. cracked: an old film, which
    holds behind it what its cracks let in. spent: the coat that is left of it once it no longer keeps the rain off.
    """

    kind: Literal["membrane", "coating"]
    sd_m: float | None
    sd_by_rh: list[tuple[float, float]] | None
    rain_factor: float
    emissivity: float = 0.9
    mineral: MineralCoat | None = None
    cracked: bool = False
    spent: str | None = None

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

    @property
    def drains(self) -> bool:
        """Water that gets into it runs out: drained, vented or ventilated."""
        return self.opening_mm2_m > 0.0


AnyEntry = Annotated[Solid | Sheet | AirLayer, Field(discriminator="kind")]


@lru_cache(maxsize=1)
def library() -> dict[str, Solid | Sheet | AirLayer]:
    """All entries by id."""
    raw = json.loads(LIBRARY.read_text(encoding="utf-8"))
    entries = TypeAdapter(list[AnyEntry]).validate_python(raw["materials"])
    return {entry.id: entry for entry in entries}


MOST_KNOWN = 5000
OWN_ID = re.compile(r"^own-[0-9a-f]{16}$")
_own: dict[str, Solid | Sheet] = {}  # by the hash of their content: what is known stays what it is
_shelf: list[Callable[[str], Solid | Sheet | None]] = []  # one, once it is attached


def attach_shelf(find: Callable[[str], Solid | Sheet | None]) -> None:
    """Whoever keeps materials of people's own says how one is found by its id."""
    _shelf[:] = [find]


def is_own(material_id: str) -> bool:
    """Whether an id is that of a material of somebody's own (the hash of its content)."""
    return OWN_ID.match(material_id) is not None


def know(entry: Solid | Sheet) -> None:
    """An own material that is at hand, of a file for example, before it is kept anywhere."""
    if len(_own) >= MOST_KNOWN:
        _own.clear()  # the shelf has what is kept
    _own[entry.id] = entry


def entry_of(material_id: str) -> Solid | Sheet | AirLayer:
    """One entry, generic or of somebody's own. Raises CaseRefused when there is none of that id."""
    found = library().get(material_id) or _own.get(material_id)
    if found is None and is_own(material_id):
        found = _shelf[0](material_id) if _shelf else None
        if found is not None:
            know(found)
    if found is None:
        raise CaseRefused(f"material “{material_id[:60]}” is not in the library", "layers")
    return found


# Still air [kg/m³, J/(kg K)], its equivalent air layer whatever its thickness [m], and what it holds: vapour at 80 % RH
# and 20 °C, and the whole space when it fills with water.
STILL_AIR_SD, AIR_W80, AIR_FULL = 0.01, 0.0138, 1000.0
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


@cache
def sorption_exponent(ratio: float) -> float:
    """n of the hygroscopic term for a ratio of w at 50 % to w at 80 % RH, with twice w80 in it when full. By bisection."""
    low, high = 1.05, 6.0
    for _ in range(60):
        n = 0.5 * (low + high)
        m = 1.0 - 1.0 / n
        at_80 = HYGROSCOPIC_SHARE ** (1.0 / m) - 1.0  # (a p80)^n
        at_50 = (math.log(0.5) / math.log(0.8)) ** n * at_80
        low, high = (n, high) if HYGROSCOPIC_SHARE * (1.0 + at_50) ** -m > ratio else (low, n)
    return 0.5 * (low + high)


def two_pore_retention(
    w80: float, w50: float | None, free_saturation: float, suction_pa: float, n_capillary: float
) -> c.RetentionVanGenuchten:
    """Fine pores that follow sorption, and larger ones that hold the rest in capillaries, as two van Genuchten terms.

    The two-parameter form (Künzel 1994) empties half of a stone's free water by 97 % RH, where next to none leaves:
    pores of a micrometre hold theirs up to 99.9 %. Both terms are estimates where no retention was measured. What the
    capillaries still hold at 80 and 50 % RH is part of w80 and w50, and the fine pores have the rest.
    Raises OutOfRange where the capillaries alone hold more than that.
    """
    p80, p50 = (-math.log(rh) * 1000.0 * GAS_CONSTANT_VAPOUR * ROOM_K for rh in (0.8, 0.5))
    left80, left50 = ((1.0 + (p / suction_pa) ** n_capillary) ** (1.0 / n_capillary - 1.0) for p in (p80, p50))
    fine = n = a = 0.0
    for _ in range(8):  # the share of the fine pores and what the others hold settle within a few rounds
        coarse = (1.0 - fine) * free_saturation
        fine80, fine50 = w80 - coarse * left80, (w50 or 0.56 * w80) - coarse * left50
        if not 0.0 < fine50 < fine80:
            raise OutOfRange(
                f"capillaries of n {n_capillary:g} hold more at 80 % RH than w80 {w80:g} leaves", "retention"
            )
        n = sorption_exponent(fine50 / fine80)
        a = (HYGROSCOPIC_SHARE ** (n / (n - 1.0)) - 1.0) ** (1.0 / n) / p80
        fine = min(HYGROSCOPIC_SHARE * fine80 / free_saturation, 0.95)
    terms = [
        c.VanGenuchtenTerm(share=fine, a=a, n=n),
        c.VanGenuchtenTerm(share=1.0 - fine, a=1.0 / suction_pa, n=n_capillary),
    ]
    return c.RetentionVanGenuchten(form="van_genuchten", saturated_kg_m3=free_saturation, terms=terms)


def coat_material(name: str, coat: MineralCoat) -> c.Material:
    """A mineral coat as a case states it."""
    return c.Material(
        name=name,
        retention=two_pore_retention(
            coat.w80_kg_m3, None, coat.free_saturation_kg_m3, coat.capillary_suction_pa, coat.capillary_n
        ),
        liquid=c.LiquidKuenzel(
            form="kuenzel",
            a_value_kg_m2s05=coat.a_value_kg_m2s05,
            free_saturation_kg_m3=coat.free_saturation_kg_m3,
        ),
        vapour=c.Vapour(mu=coat.mu),
        heat=c.Heat(
            density_kg_m3=coat.density_kg_m3,
            specific_heat_j_kgk=1000.0,
            conductivity_w_mk=0.8,
            moisture_supplement=0.004,
        ),
    )


def case_material(solid: Solid, a_value_kg_m2s05: float | None = None) -> c.Material:
    """The solid as a case states it: retention, Künzel liquid, μ (falling from dry to wet cup), λ(w).

    a_value_kg_m2s05: a measured uptake in place of the library's. Wood carries a sorption curve, stones two terms of
    pores, the rest Künzel's two parameters. μ by RH is used where liquid hardly moves in the hygroscopic range (wood),
    so that nothing is counted twice.
    """
    uptake = a_value_kg_m2s05 if a_value_kg_m2s05 is not None else solid.a_value_kg_m2s05
    liquid: Any = c.LiquidNone(form="none")
    if uptake is not None:
        liquid = c.LiquidKuenzel(
            form="kuenzel", a_value_kg_m2s05=uptake, free_saturation_kg_m3=solid.free_saturation_kg_m3
        )
    retention: Any
    if solid.sorption_rh_mass_percent is not None:
        # Künzel's two-parameter curve gives wood twice its sorption at 95 %: a curve is given instead.
        rows = [(rh, percent / 100.0 * solid.density_kg_m3) for rh, percent in solid.sorption_rh_mass_percent]
        retention = c.RetentionTable(form="table", argument="rh", rows=rows)
    elif solid.capillary_suction_pa is not None and solid.capillary_n is not None:
        retention = two_pore_retention(
            solid.w80_kg_m3,
            solid.w50_kg_m3,
            solid.free_saturation_kg_m3,
            solid.capillary_suction_pa,
            solid.capillary_n,
        )
    else:
        retention = c.RetentionKuenzel(
            form="kuenzel", w80_kg_m3=solid.w80_kg_m3, free_saturation_kg_m3=solid.free_saturation_kg_m3
        )
    vapour = c.Vapour(mu=solid.mu)
    if solid.mu_wet is not None:  # dry cup: 0 to 50 % RH, 25 % in the mean; wet cup: 50 to 93 %, about 72 %
        vapour = c.Vapour(mu=solid.mu, factor_by_rh=[(0.0, 1.0), (0.25, 1.0), (0.72, solid.mu / solid.mu_wet)])
    return c.Material(
        name=solid.name,
        retention=retention,
        liquid=liquid,
        vapour=vapour,
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

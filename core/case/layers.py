"""What the wall is made of, from outside to inside: layers with their start, sources and contacts; membranes."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from core.case.parts import Celsius, Humidity, NonNegative, Positive, Strict, increasing
from core.case.series import SeriesValue

LEAST_LIQUID_CONTACT = 1.0e6
"""Pa m² s/kg: a smaller contact resistance drowns in rounding; 0 means full contact."""


class Initial(Strict):
    """Start state: T with one of RH, w, suction; each constant or by depth from the outer face of the wall."""

    temperature_c: Celsius | list[tuple[NonNegative, Celsius]] = 20.0
    rh: Humidity | list[tuple[NonNegative, Humidity]] | None = None
    w_kg_m3: NonNegative | list[tuple[NonNegative, NonNegative]] | None = None
    suction_pa: NonNegative | list[tuple[NonNegative, NonNegative]] | None = None

    @model_validator(mode="after")
    def _one(self) -> Initial:
        if sum(x is not None for x in (self.rh, self.w_kg_m3, self.suction_pa)) != 1:
            raise ValueError("give exactly one of rh, w_kg_m3, suction_pa")
        return self


class Source(Strict):
    """Heat [W/m³] or water [kg/(m³ s)] set free in the whole layer over time."""

    heat_w_m3: SeriesValue = 0.0
    water_kg_m3s: SeriesValue = 0.0


class Contact(Strict):
    """What lies between this layer and the next. `hydraulic` false: no liquid crosses.

    Resistances: heat m²K/W, vapour as sd [m], liquid Pa m² s/kg.
    """

    hydraulic: bool = True
    heat_m2k_w: NonNegative = 0.0
    vapour_sd_m: NonNegative = 0.0
    liquid_pa_m2s_kg: NonNegative = 0.0

    @model_validator(mode="after")
    def _resolvable(self) -> Contact:
        if 0.0 < self.liquid_pa_m2s_kg < LEAST_LIQUID_CONTACT:
            raise ValueError(f"a liquid contact resistance is 0 or at least {LEAST_LIQUID_CONTACT:g} Pa m² s/kg")
        return self


class Layer(Strict):
    kind: Literal["layer"] = "layer"
    name: str = ""
    material: str
    thickness_m: Positive | Literal["semi_infinite"]
    cells: Annotated[int, Field(ge=2, le=2000)] | None = None
    stretch: Annotated[float, Field(ge=1.0, le=2.0)] | None = Field(
        default=None, description="ratio of neighbouring cells, growing from both faces; absent: automatic"
    )
    initial: Initial | None = None
    source: Source | None = None
    contact: Contact = Contact()


class Membrane(Strict):
    """A face without volume; liquid does not cross. sd [m]: constant or by RH. As the first or last entry: a coating."""

    kind: Literal["membrane"]
    name: str = ""
    sd_m: Positive | None = None
    sd_by_rh: list[tuple[Annotated[float, Field(ge=0, le=1)], Positive]] | None = None
    rh_of: Literal["mean", "outer", "inner"] = "mean"
    heat_m2k_w: NonNegative = 0.0

    @model_validator(mode="after")
    def _one(self) -> Membrane:
        if (self.sd_m is None) == (self.sd_by_rh is None):
            raise ValueError("give exactly one of sd_m, sd_by_rh")
        if self.sd_by_rh is not None:
            increasing([row[0] for row in self.sd_by_rh], "membrane RH")
        return self


LayerOrMembrane = Annotated[Layer | Membrane, Field(discriminator="kind")]

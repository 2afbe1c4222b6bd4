"""`Case`, the whole of it: switches, time, output, its hash; and how one is read."""

from __future__ import annotations

import hashlib
import json
from typing import Annotated, Literal

from pydantic import Field

from core.case.air import Air
from core.case.ends import End
from core.case.layers import Initial, LayerOrMembrane
from core.case.material import Constants, Material
from core.case.parts import NonNegative, Positive, Strict
from core.case.series import ClimateColumns, Series, SeriesRef, ShippedClimate


class Switches(Strict):
    heat: bool = True
    liquid: bool = True
    latent_heat: bool = True
    enthalpy_carried_by_flow: bool = True
    freezing: bool = False


class TimeControl(Strict):
    """length_s: one pass. repeat: pass after pass until settled, or a fixed number of passes.

    stages: of a time step. Two follow an outer layer that answers within minutes, at the price of two short steps.
    """

    start: str = Field(default="10-01", pattern=r"^\d{2}-\d{2}$", description="month-day of the first hour")
    length_s: Positive = 31536000.0
    repeat: Literal["once", "until_settled", "fixed"] = "once"
    fixed_passes: Annotated[int, Field(ge=1, le=50)] = 1
    most_passes: Annotated[int, Field(ge=2, le=50)] = 10
    least_passes: Annotated[int, Field(ge=1, le=50)] = 3
    settled_rh: Positive = 0.002
    settled_water_share: Positive = 0.01
    largest_step_s: Positive = 3600.0
    smallest_step_s: Positive = 1e-4
    stages: Literal[1, 2] = 1
    mass_tolerance_kg_m2: Positive = 1e-7
    energy_tolerance_j_m2: Positive = 1e-2


class Plane(Strict):
    """A reconstructed face: `after_layer` n is the inner face of entry n (0-based); −1 the outer face.

    side: of a membrane its outer or inner face; where two materials meet, whose water content is given.
    With `depth_m` the plane lies inside layer `after_layer`, that far from its outer face, interpolated between nodes.
    """

    name: str
    after_layer: Annotated[int, Field(ge=-1)]
    side: Literal["outer", "inner"] = "outer"
    depth_m: NonNegative | None = None


class Output(Strict):
    step_s: Positive = 3600.0
    planes: list[Plane] = []
    profile_times_s: list[NonNegative] = []
    profile_depths_m: list[NonNegative] | None = None


class Case(Strict):
    """One transient computation. Lists run from outside to inside."""

    format: Literal["wendrick-case"] = "wendrick-case"
    version: Literal[1] = 1
    title: str = ""
    constants: Constants = Constants()
    series: dict[str, Series | SeriesRef] = {}
    climates: dict[str, ShippedClimate | ClimateColumns] = {}
    materials: dict[str, Material]
    initial: Initial = Initial(rh=0.8)
    layers: Annotated[list[LayerOrMembrane], Field(min_length=1, max_length=60)]
    outside: End
    inside: End
    air: Air = Air()
    switches: Switches = Switches()
    time: TimeControl = TimeControl()
    output: Output = Output()

    @property
    def hash(self) -> str:
        """SHA-256 over the canonical JSON of everything but the title."""
        content = self.model_dump(mode="json", exclude={"title"})
        return hashlib.sha256(json.dumps(content, sort_keys=True, separators=(",", ":")).encode()).hexdigest()

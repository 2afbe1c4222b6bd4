"""What an element keeps of the shape it came from: the fields that follow the shape, and the arithmetic behind them.

The fields that may follow a shape, or be typed over it, stand here once. Whatever names one is checked against this list.
"""

from __future__ import annotations

from typing import Annotated, Literal, get_args

from pydantic import Field

from core.buildup.model import Adjoining
from core.case import Strict

FollowingField = Literal["name", "area_m2", "facing_deg", "slope_deg", "adjoining", "factor_b", "u_w_m2k", "g_value"]
FOLLOWING: tuple[FollowingField, ...] = get_args(FollowingField)
BuildingField = Literal["volume_m3", "floor_area_m2"]
FOLLOWING_BUILDING: tuple[BuildingField, ...] = get_args(BuildingField)

Area = Annotated[float, Field(ge=0, lt=1e7)]
Length = Annotated[float, Field(ge=0, lt=1e5)]


class FromShape(Strict):
    """What the shape says of one element, as it was derived last. gone: the shape has it no more; only_after: only that of a scheme has it."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    area_m2: Annotated[float, Field(gt=0, lt=1e7)]
    facing_deg: Annotated[float, Field(ge=0, lt=360)] = 0.0
    slope_deg: Annotated[float, Field(ge=0, le=180)] = 90.0
    adjoining: Adjoining = "outside"
    factor_b: Annotated[float, Field(ge=0, le=1)] = 1.0
    u_w_m2k: Annotated[float, Field(gt=0, lt=1e7)] | None = None
    g_value: Annotated[float, Field(ge=0, le=1)] | None = None
    body: Annotated[str, Field(max_length=30)] = ""
    face: Annotated[str, Field(max_length=30)] = ""
    gross_area_m2: Area = 0.0
    openings_m2: Area = 0.0
    perimeter_m: Length | None = None
    height_m: Length | None = None
    arithmetic: Annotated[str, Field(max_length=2000)] = ""
    gone: bool = False
    only_after: bool = False

    def value(self, field: FollowingField) -> str | float | None:
        """What the shape says of one field that may follow it."""
        said: dict[FollowingField, str | float | None] = {
            "name": self.name,
            "area_m2": self.area_m2,
            "facing_deg": self.facing_deg,
            "slope_deg": self.slope_deg,
            "adjoining": self.adjoining,
            "factor_b": self.factor_b,
            "u_w_m2k": self.u_w_m2k,
            "g_value": self.g_value,
        }
        return said[field]


def following(names: object) -> list[FollowingField]:
    """Of some names those that may follow a shape, in the order of the list; anything else is left out."""
    known = set(names) if isinstance(names, list) and all(isinstance(name, str) for name in names) else set()
    return [field for field in FOLLOWING if field in known]

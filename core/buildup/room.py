"""The air of the room at an element, by the hour: of its profile, or as it was measured."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from core.buildup.model import Place
from core.case import IndoorProfile
from core.climate.data import shipped
from core.climate.indoor import indoor_air

Array = NDArray[np.float64]


def room_air(place: Place, extra_rh: float = 0.0) -> tuple[Array, Array]:
    """Hourly T [°C] and RH (0 to 1) of the year. Raises ClimateGone where its series is not there any more, OutOfRange as `indoor_air`."""
    return _air(place.climate, place.profile, place.occupancy, place.set_point_c, extra_rh)


@lru_cache(maxsize=64)
def _air(
    climate: str, profile: IndoorProfile, occupancy: str, set_point_c: float, extra_rh: float
) -> tuple[Array, Array]:
    measured = shipped(occupancy) if profile == "measured" else None
    found = indoor_air(shipped(climate), profile, set_point_c, max(25.0, set_point_c), extra_rh, measured)
    for series in found:
        series.setflags(write=False)
    return found

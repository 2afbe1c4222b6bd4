"""A blower-door gauge that is attached: whoever brings one says what it is called and how it is read."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from core.measure.blower_door import BlowerDoorTest
from server.problems import Problem


@dataclass(frozen=True)
class Gauge:
    """read(heated volume [m³], n50 as stated [1/h] or None, a number of the project) gives one whole test."""

    name: str
    read: Callable[[float, float | None, int], BlowerDoorTest]


_attached: list[Gauge] = []


def attach(gauge: Gauge) -> None:
    """From now on this one is read."""
    _attached[:] = [gauge]


def attached() -> Gauge:
    if not _attached:
        raise Problem(409, "no_gauge", "No gauge is attached.", "Type or paste the readings.")
    return _attached[0]

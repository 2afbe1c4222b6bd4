"""The soil at a footing through the year, before and after: a section across the wall, two-dimensional conduction, finite volumes, a day a step.

What it leaves out is on the safe side or said: the heat that freezing water gives off (left out: real frost goes less deep), ground water, corners
of the building (colder: a third deeper is usual), the warmth of a room below zero.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import Field
from scipy.sparse import coo_matrix
from scipy.sparse.linalg import splu

from core.case import Strict
from core.climate.data import Climate
from core.thermal.iso13370 import R_SE, R_SI_FLOOR, R_SI_WALL, SOIL_CONDUCTIVITY, SOIL_HEAT_J_M3K, Soil

Array = NDArray[np.float64]
DAY = 86400.0
WIDE_M, DEEP_M = 8.0, 10.0
YEARS = 4
SNOW_R = 1.5  # 0.3 m of settled snow at 0.2 W/(m K), while it lies: the days of months colder than −2 °C
SNOW_BELOW_C = -2.0
WALL_CONDUCTIVITY, WALL_HEAT = 2.0, 2.0e6


class Footing(Strict):
    """A wall on its footing. founding_m: its foot below the ground outside; floor_m: the floor inside below that ground (0: at it); wall_r, floor_r: of what
    lies inside of the stone and on the floor, without films; skirt_m, skirt_r: insulation laid flat outside, 0.3 m deep."""

    founding_m: Annotated[float, Field(gt=0.1, le=4)]
    floor_m: Annotated[float, Field(ge=0, le=4)] = 0.0
    wall_m: Annotated[float, Field(gt=0.1, le=2)] = 0.5
    wall_r: Annotated[float, Field(ge=0, le=20)] = 0.0
    floor_r: Annotated[float, Field(ge=0, le=20)] = 0.0
    inside_c: Annotated[float, Field(ge=-30, le=40)] = 18.0
    skirt_m: Annotated[float, Field(ge=0, le=4)] = 0.0
    skirt_r: Annotated[float, Field(ge=0, le=20)] = 0.0
    soil: Soil = "sand or gravel"


@dataclass(frozen=True)
class FootingYear:
    """coldest_c: of the soil under the outer edge of the foot; day: of the year when it is so; frost_m: how deep 0 °C reaches at the wall's face."""

    coldest_c: float
    day: int
    frost_m: float
    daily_c: Array


def _edges(stops: list[float], fine: float, coarse: float) -> Array:
    """Cell edges through all stops, fine near them, coarser away."""
    found = [stops[0]]
    for a, b in zip(stops, stops[1:], strict=False):
        length = b - a
        size = fine if length < 2.5 else coarse
        count = max(int(np.ceil(length / size)), 2)
        found += list(a + length * (np.arange(1, count + 1) / count))
    return np.array(found)


class _Section:
    """Cells of the section: x outward from the inner face of the wall, z downward from the ground outside."""

    def __init__(self, footing: Footing) -> None:
        f = footing
        skirt_z = 0.3
        xs = sorted({-WIDE_M, -2.0, 0.0, f.wall_m, f.wall_m + max(f.skirt_m, 0.6), f.wall_m + 2.5, f.wall_m + WIDE_M})
        zs = sorted({0.0, skirt_z, f.floor_m, f.founding_m, f.founding_m + 0.3, f.founding_m + 2.0, DEEP_M})
        self.x, self.z = _edges(xs, 0.12, 0.7), _edges(zs, 0.1, 0.7)
        self.dx, self.dz = np.diff(self.x), np.diff(self.z)
        self.cx, self.cz = 0.5 * (self.x[1:] + self.x[:-1]), 0.5 * (self.z[1:] + self.z[:-1])
        self.nx, self.nz = len(self.dx), len(self.dz)
        room = (self.cx[:, None] < 0.0) & (self.cz[None, :] < f.floor_m)
        stone = (self.cx[:, None] > 0.0) & (self.cx[:, None] < f.wall_m) & (self.cz[None, :] < f.founding_m)
        self.room = room
        self.k = np.where(stone, WALL_CONDUCTIVITY, SOIL_CONDUCTIVITY[f.soil])
        self.c = np.where(stone, WALL_HEAT, SOIL_HEAT_J_M3K[f.soil])
        self.f, self.skirt_z = f, skirt_z

    def matrix(self, snow: float) -> tuple[object, Array, Array, Array]:
        """(factorised step matrix, storage, couplings to outside and to the room) [W/K]."""
        f = self.f
        number = np.arange(self.nx * self.nz).reshape(self.nx, self.nz)
        rows: list[int] = []
        columns: list[int] = []
        values: list[float] = []
        diagonal = np.zeros(self.nx * self.nz)
        out, inn = np.zeros_like(diagonal), np.zeros_like(diagonal)
        volume = (self.dx[:, None] * self.dz[None, :] * self.c / DAY).ravel()

        def couple(a: int, b: int, g: float) -> None:
            rows.extend((a, b))
            columns.extend((b, a))
            values.extend((-g, -g))
            diagonal[a] += g
            diagonal[b] += g

        for i in range(self.nx):
            for j in range(self.nz):
                me = number[i, j]
                if self.room[i, j]:
                    continue
                if j == 0:
                    if self.cx[i] > f.wall_m:  # the ground outside
                        g = self.dx[i] / (R_SE + snow + 0.5 * self.dz[0] / self.k[i, 0])
                        out[me] += g
                    elif self.cx[i] < 0.0:  # a floor at ground level
                        inn[me] += self.dx[i] / (R_SI_FLOOR + f.floor_r + 0.5 * self.dz[0] / self.k[i, 0])
                    # the wall goes on above: no flow along it is counted
                for other_i, other_j in ((i + 1, j), (i, j + 1)):
                    if other_i >= self.nx or other_j >= self.nz:
                        continue
                    if self.room[other_i, other_j]:
                        continue
                    if other_i != i:
                        r = 0.5 * self.dx[i] / self.k[i, j] + 0.5 * self.dx[other_i] / self.k[other_i, other_j]
                        g = self.dz[j] / r
                    else:
                        r = 0.5 * self.dz[j] / self.k[i, j] + 0.5 * self.dz[other_j] / self.k[other_i, other_j]
                        at_skirt = abs(self.z[other_j] - self.skirt_z) < 1e-9 and f.skirt_m > 0.0
                        if at_skirt and f.wall_m < self.cx[i] < f.wall_m + f.skirt_m:
                            r += f.skirt_r
                        g = self.dx[i] / r
                    couple(me, number[other_i, other_j], g)
                if i > 0 and self.room[i - 1, j]:  # the inner face of the wall
                    inn[me] += self.dz[j] / (R_SI_WALL + f.wall_r + 0.5 * self.dx[i] / self.k[i, j])
                if j > 0 and self.room[i, j - 1]:  # the floor below ground
                    inn[me] += self.dx[i] / (R_SI_FLOOR + f.floor_r + 0.5 * self.dz[j] / self.k[i, j])
        diagonal += out + inn + volume
        size = self.nx * self.nz
        rows.extend(range(size))
        columns.extend(range(size))
        values.extend(diagonal)
        return splu(coo_matrix((values, (rows, columns)), shape=(size, size)).tocsc()), volume, out, inn


def footing_year(footing: Footing, climate: Climate, snow: bool) -> FootingYear:
    """The settled year. snow: it lies in the days of months colder than −2 °C outside."""
    section = _Section(footing)
    days = climate["temperature_c"].reshape(-1, 24).mean(axis=1)
    month = np.minimum(np.arange(365) * 12 // 365, 11)
    means = np.array([days[month == m].mean() for m in range(12)])
    white = (means < SNOW_BELOW_C)[month] if snow else np.zeros(365, bool)
    bare = section.matrix(0.0)
    covered = section.matrix(SNOW_R) if white.any() else bare
    t = np.full(section.nx * section.nz, float(days.mean()))
    i = int(
        np.argmin(
            np.abs(
                section.cx - (footing.wall_m - 0.5 * min(section.dx[np.abs(section.cx - footing.wall_m).argmin()], 0.2))
            )
        )
    )
    j = int(np.searchsorted(section.z, footing.founding_m + 1e-9))
    beside = int(np.searchsorted(section.x, footing.wall_m + 1e-9)) - 1
    under = np.zeros(365)
    frost = 0.0
    for year in range(YEARS):
        for day in range(365):
            solver, volume, out, inn = covered if white[day] else bare
            t = solver.solve(volume * t + out * days[day] + inn * footing.inside_c)  # type: ignore[attr-defined]
            if year == YEARS - 1:
                field = t.reshape(section.nx, section.nz)
                under[day] = 0.5 * (field[i, min(j - 1, section.nz - 1)] + field[i, min(j, section.nz - 1)])
                column = field[min(beside, section.nx - 1)]
                below = np.flatnonzero(column < 0.0)
                if len(below):
                    k = int(below[-1])
                    deep = section.cz[k]
                    if k + 1 < section.nz and column[k + 1] > 0.0:
                        deep += (section.cz[k + 1] - section.cz[k]) * (-column[k]) / (column[k + 1] - column[k])
                    frost = max(frost, float(deep))
    return FootingYear(float(under.min()), int(under.argmin()), frost, under)

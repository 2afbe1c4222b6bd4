"""Driven-rain exposure of a face, step by step after ISO 15927-3, each factor with the reason it has.

I_WA = I_A · C_R · C_T · O · W, with I_A from hourly rain and wind (core.climate.rain). The standard's text is not at
hand: the tables below are the ones commonly printed from it, and what is ours is marked so.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from core.buildup.model import EXPOSURE_FACTORS, Exposure, Strip
from core.case import Strict
from core.say import Said, length, said, say, speed, thickness
from core.survey.shape import Site, Terrain

WallForm = Literal["gable", "eaves", "flat_roofed"]
Splash = Literal["none", "gravel", "grass", "paved"]
Gutters = Literal["sound", "none", "leaking", "blocked", "parapet_blocked"]

# (K_R, z0 [m], z_min [m]) of the terrain categories.
TERRAIN: dict[Terrain, tuple[float, float, float, str]] = {
    "I": (0.17, 0.01, 2.0, "rough open sea, lake shore or smooth flat country without obstacles"),
    "II": (0.19, 0.05, 4.0, "farmland with hedges, occasional small farm buildings, houses or trees"),
    "III": (0.22, 0.3, 8.0, "suburban or industrial areas, permanent woods"),
    "IV": (0.24, 1.0, 16.0, "towns with at least 15 % of the ground built on, higher than 15 m on average"),
}
# Spacing of obstructions before the wall [m] → O.
OBSTRUCTION: tuple[tuple[float, float], ...] = (
    (8.0, 0.2),
    (15.0, 0.3),
    (25.0, 0.4),
    (40.0, 0.5),
    (60.0, 0.6),
    (80.0, 0.7),
    (100.0, 0.8),
    (120.0, 0.9),
)
# W by form and storeys: two-storey gable 0.4, three-storey gable 0.3; eaves walls 0.3 and 0.4; under a flat roof 0.4.
WALL: dict[WallForm, tuple[float, float]] = {"gable": (0.4, 0.3), "eaves": (0.3, 0.4), "flat_roofed": (0.4, 0.4)}
# s of the topography coefficient at four positions: our reading, not taken from the standard's figure.
TOPOGRAPHY_S: dict[str, float] = {"level": 0.0, "foot": 0.0, "slope": 0.4, "crest": 0.8}
# Fall speed of the rain drops that matter on walls [m/s], for what an overhang shelters (after Best 1950).
DROP_SPEED = 4.5
FUNNEL_FACTOR = 1.25


class FaceExposure(Strict):
    """What the survey notes of one face. Wind, overhang and height change the rain of the runs; the rest is evidence."""

    obstruction_m: Annotated[float, Field(ge=0, le=1000)] | None = None
    wall_form: WallForm = "eaves"
    storeys: Annotated[int, Field(ge=1, le=12)] = 2
    height_m: Annotated[float, Field(gt=0, le=100)] = 5.0
    overhang_m: Annotated[float, Field(ge=0, le=10)] = 0.0
    wind_funnel: bool = False
    splash: Splash = "none"
    gutters: Gutters = "sound"
    sprinklers: bool = False
    reservoir_cladding: bool = False
    typed_factor: Annotated[float, Field(ge=0, le=3)] | None = None


@dataclass(frozen=True)
class Step:
    """One factor with the reason it has."""

    name: str
    value: float
    because: Said
    ours: bool = False


@dataclass(frozen=True)
class StripFactor:
    """A third of the height and the share of the face's rain that reaches it."""

    strip: Strip
    factor: float


@dataclass(frozen=True)
class ExposureSteps:
    """The factors as the runs take them, and how they came about. wall_factor is that of the worst strip."""

    terrain_factor: float
    topography_factor: float
    obstruction_factor: float
    wall_factor: float
    steps: list[Step]
    not_in_the_runs: list[Said]
    strips: list[StripFactor]

    @property
    def worst_strip(self) -> Strip:
        """The strip that takes most rain: the foot under an overhang, the whole face without one."""
        if not self.strips:
            return "whole"
        return max(reversed(self.strips), key=lambda strip: strip.factor).strip

    @property
    def product(self) -> float:
        return self.terrain_factor * self.topography_factor * self.obstruction_factor * self.wall_factor


def roughness_coefficient(terrain: Terrain, height_m: float) -> float:
    """C_R(z) = K_R ln(z / z0), not below z_min. Source: ISO 15927-3, terrain categories I to IV."""
    k_r, z0, z_min, _ = TERRAIN[terrain]
    return k_r * math.log(max(height_m, z_min) / z0)


def topography_coefficient(upwind_slope: float, s: float) -> float:
    """C_T: 1 below a slope of 0.05, 1 + 2 s Φ up to 0.3, 1 + 0.6 s above. Source: ISO 15927-3."""
    if upwind_slope < 0.05:
        return 1.0
    return 1.0 + (2.0 * s * upwind_slope if upwind_slope <= 0.3 else 0.6 * s)


def obstruction_factor(distance_m: float | None) -> float:
    """O for the nearest row of obstacles as high as the wall; 1 when there is none within 120 m."""
    if distance_m is None:
        return 1.0
    return next((factor for limit, factor in OBSTRUCTION if distance_m <= limit), 1.0)


def overhang_share(overhang_m: float, height_m: float, wind_m_s: float) -> float:
    """Share of the face that an overhang keeps dry: overhang × fall speed / wind, of the height. Ours, an estimate.

    Straight drop paths; wind that is turned up or down by the wall is left out. At most 0.9.
    """
    sheltered = overhang_m * DROP_SPEED / max(wind_m_s, 0.5)
    return min(sheltered / height_m, 0.9)


def strip_factors(overhang_m: float, height_m: float, wind_m_s: float) -> list[StripFactor]:
    """Share of the rain that reaches the top, middle and foot third under an overhang, which shelters from the top down."""
    if overhang_m <= 0.0:
        return []
    dry = overhang_share(overhang_m, height_m, wind_m_s) * height_m
    third = height_m / 3.0
    found: list[StripFactor] = []
    strips: tuple[Strip, ...] = ("top", "middle", "foot")
    for index, strip in enumerate(strips):
        sheltered = min(max(dry - index * third, 0.0), third) / third
        found.append(StripFactor(strip, 1.0 - sheltered))
    return found


def exposure_steps(site: Site, face: FaceExposure, wind_m_s: float) -> ExposureSteps:
    """The factors of one face. wind_m_s: mean wind onto the face weighted by its driven rain.

    An overhang keeps the top dry and the foot takes the rain: the runs are of the worst third.
    """
    c_r = roughness_coefficient(site.terrain, face.height_m)
    k_r, z0, z_min, words = TERRAIN[site.terrain]
    s = TOPOGRAPHY_S[site.position]
    c_t = topography_coefficient(site.upwind_slope, s)
    o = obstruction_factor(face.obstruction_m)
    w = WALL[face.wall_form][0 if face.storeys <= 2 else 1]
    form = {"gable": "gable", "eaves": "eaves wall under a pitched roof", "flat_roofed": "wall under a flat roof"}
    steps = [
        Step(
            "terrain C_R",
            c_r,
            say(
                "category {site}, {words}; {k} × ln({height} / {z0})",
                site=site.terrain, words=words, k=f"{k_r:g}", height=length(max(face.height_m, z_min), 1), z0=length(z0),
            ),
        ),
        Step(
            "topography C_T",
            c_t,
            said("level ground" if c_t == 1.0 else f"upwind slope {site.upwind_slope:.2f}, {site.position} (s {s:g})"),
            ours=c_t != 1.0,
        ),
        Step(
            "obstruction O",
            o,
            say("nothing as high within {far}", far=length(120.0))
            if o == 1.0
            else say("nearest obstacle as high as the wall at {far}", far=length(face.obstruction_m or 0.0, 0)),
        ),
        Step("wall W", w, said(f"{form[face.wall_form]}, {face.storeys} storey{'s' if face.storeys > 1 else ''}")),
    ]  # fmt: skip
    strips = strip_factors(face.overhang_m, face.height_m, wind_m_s)
    share = overhang_share(face.overhang_m, face.height_m, wind_m_s)
    worst = max((strip.factor for strip in strips), default=1.0)
    if share > 0:
        words_of = ", ".join(f"{strip.strip} third {strip.factor:.2f}" for strip in strips)
        steps.append(
            Step(
                "overhang",
                worst,
                say(
                    "{much} keep the upper {dry} dry in wind of {wind}: {words}; the runs are of the {strip}",
                    much=thickness(face.overhang_m), dry=length(share * face.height_m, 1), wind=speed(wind_m_s),
                    words=words_of, strip=max(reversed(strips), key=lambda one: one.factor).strip,
                ),
                ours=True,
            )
        )  # fmt: skip
    if face.wind_funnel:
        steps.append(Step("wind funnel", FUNNEL_FACTOR, said("a gap or passage speeds the wind up"), ours=True))
        c_t *= FUNNEL_FACTOR
    wall = w * worst
    if face.typed_factor is not None:
        product = c_r * c_t * o * wall
        steps.append(
            Step("typed", face.typed_factor / max(product, 1e-9), said(f"the product was typed: {face.typed_factor:g}"))
        )
        wall *= face.typed_factor / max(product, 1e-9)
    return ExposureSteps(c_r, c_t, o, wall, steps, _not_in_the_runs(face), strips)


def _not_in_the_runs(face: FaceExposure) -> list[Said]:
    found = []
    if face.splash != "none":
        ground = {"gravel": "gravel", "grass": "grass", "paved": "paving"}[face.splash]
        height = {"gravel": 0.2, "grass": 0.2, "paved": 0.5}[face.splash]
        found.append(say("splash from {ground}, up to about {height} above it", ground=ground, height=length(height)))
    if face.gutters != "sound":
        words = {"none": "no gutter", "leaking": "a leaking gutter", "blocked": "a blocked gutter"}
        found.append(said(f"run-off from {words.get(face.gutters, 'a blocked parapet gutter')}"))
    if face.sprinklers:
        found.append(said("sprinklers that reach the wall"))
    if face.reservoir_cladding:
        found.append(said("cladding that soaks and holds rain, driven inward by the sun"))
    return found


def word_steps(word: Exposure) -> ExposureSteps:
    """The factors behind one of the four words, where the face was not surveyed in steps."""
    terrain, obstruction, wall = EXPOSURE_FACTORS[word]
    steps = [
        Step("terrain C_R", terrain, said(f"“{word}”, not surveyed in steps"), ours=True),
        Step("topography C_T", 1.0, said("taken as level")),
        Step("obstruction O", obstruction, said(f"“{word}”"), ours=True),
        Step("wall W", wall, said(f"“{word}”"), ours=True),
    ]
    return ExposureSteps(terrain, 1.0, obstruction, wall, steps, [], [])

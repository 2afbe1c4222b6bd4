"""Thermal resistance and transmittance of a build-up, ISO 6946 (combined method for framing)."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import product
from typing import Literal

from core.buildup.background import gap_level
from core.buildup.model import BuildUp, BuildUpLayer
from core.errors import CaseRefused
from core.materials.library import AirLayer, Sheet, Solid, entry_of
from core.physics.constants import STEFAN_BOLTZMANN
from core.thermal.air_layers import HeatFlow, air_layer_resistance
from core.thermal.as_built import as_built_conductivity

# ISO 6946 Table 7: surface resistances [m²K/W] by direction of heat flow.
INTERNAL_SURFACE: dict[HeatFlow, float] = {"up": 0.10, "horizontal": 0.13, "down": 0.17}
EXTERNAL_SURFACE = 0.04
MOST_FRAMED = 5  # the upper limit runs over every path through members and fields: 2 to the power of the layers
LIMIT_RATIO = 1.5
METAL_CONDUCTIVITY = 10.0
INSULATION_CONDUCTIVITY = 0.1
SLIGHTLY_VENTILATED = 500.0  # mm² of opening for each metre


@dataclass(frozen=True)
class Correction:
    """One ΔU [W/(m² K)] of ISO 6946 Annex F, of one layer."""

    layer_id: str
    cause: Literal["fixings", "air gaps", "inverted roof"]
    delta_u: float


@dataclass(frozen=True)
class Transmittance:
    """Resistances in m²K/W, transmittances in W/(m² K). U effective is of the combined method."""

    r_insulation: float  # of the layers that insulate, as labelled
    r_total_clear: float  # R_T of the clear path with surface resistances
    upper_limit: float
    lower_limit: float
    r_effective: float
    u_effective: float
    u_clear: float
    u_parallel_paths: float
    u_isothermal_planes: float
    corrections: list[Correction]  # ΔU for fixings, air gaps, inverted roofs; in U effective
    layers: dict[str, float]  # R of the clear path by layer id
    internal_surface: float
    external_surface: float


def heat_flow(kind: str) -> HeatFlow:
    """Direction of winter heat flow through an element."""
    return {"roof": "up", "floor": "down"}.get(kind, "horizontal")  # type: ignore[return-value]


# ISO 6946 Annex D: convection in an air layer 1.25 (horizontal flow), 1.95 (up), 0.12 d^-0.44 (down), or 0.025 / d.
def faced_air_layer_resistance(thickness: float, flow: HeatFlow, emissivities: tuple[float, float]) -> float:
    """R [m²K/W] of an unventilated air layer [m] between faces of given emissivity at 10 °C mean (ISO 6946 Annex D)."""
    convective = {"horizontal": 1.25, "up": 1.95, "down": 0.12 * thickness**-0.44}[flow]
    between = 1.0 / (1.0 / emissivities[0] + 1.0 / emissivities[1] - 1.0)
    radiative = between * 4.0 * STEFAN_BOLTZMANN * 283.15**3
    return 1.0 / (max(convective, 0.025 / thickness) + radiative)


def layer_resistance(layer: BuildUpLayer, flow: HeatFlow) -> float:
    """R of a layer's main material alone [m²K/W]; 0 for membranes and coatings. See `resistances` for faced air."""
    entry = entry_of(layer.material)
    if isinstance(entry, Sheet):
        return 0.0
    if isinstance(entry, AirLayer):
        return air_layer_resistance(layer.thickness, flow)
    return layer.thickness / as_built_conductivity(layer, flow)


def resistances(layers: list[BuildUpLayer], flow: HeatFlow) -> list[float]:
    """R of every layer [m²K/W]: an air layer beside a reflective face by Annex D, slightly ventilated ones halved.

    ISO 6946, 6.9.3: a vented cavity (500 to 1500 mm²/m) has half the R of a still one.
    """
    found = []
    for index, layer in enumerate(layers):
        entry, value = layer.entry, layer_resistance(layer, flow)
        if isinstance(entry, AirLayer):
            faces = [
                0.9 if isinstance(beside_it := layers[beside].entry, AirLayer) else beside_it.emissivity
                for beside in (index - 1, index + 1)
                if 0 <= beside < len(layers)
            ]
            if len(faces) == 2 and min(faces) < 0.5:
                value = faced_air_layer_resistance(layer.thickness, flow, (faces[0], faces[1]))
            if entry.opening_mm2_m > SLIGHTLY_VENTILATED and not entry.ventilated:
                value *= 0.5
        found.append(value)
    return found


def _framing_resistance(layer: BuildUpLayer) -> float:
    assert layer.framing is not None
    entry = entry_of(layer.framing.material)
    assert isinstance(entry, Solid)
    if entry.conductivity_w_mk > METAL_CONDUCTIVITY and layer.framing.web_mm is None:
        raise CaseRefused(
            f"{entry.name} bridges {layer.entry.name}: ISO 6946's combined method does not hold for metal "
            "through insulation; state the spacing, flange and web of a light steel stud, or use a two-dimensional calculation",
            f"layer {layer.id}",
        )
    return layer.thickness / entry.conductivity_w_mk


def _no_ribs_through(layers: list[BuildUpLayer]) -> None:
    """Refuses a profiled metal sheet that lies between two insulations: its webs carry heat round the one in its ribs."""
    thick = [layer for layer in layers if isinstance(layer.entry, Solid | AirLayer)]
    for outer, layer, inner in zip(thick, thick[1:], thick[2:], strict=False):
        beside = [one.entry for one in (outer, inner)]
        if layer.material == PROFILED and all(
            isinstance(entry, Solid) and entry.conductivity_w_mk <= INSULATION_CONDUCTIVITY for entry in beside
        ):
            raise CaseRefused(
                f"{layer.entry.name} lies between two insulations: its webs carry heat through the one in its ribs, and "
                "ISO 6946 has no method for that. Leave out the insulation in the ribs, which is on the safe side; or state "
                "a liner tray as light steel studs (spacing, flange, web); or use a two-dimensional calculation",
                f"layer {layer.id}",
            )


# Light steel frames, the method of BRE Digest 465 (2002), from memory: R_T = p R_max + (1 − p) R_min, with
# p = 0.8 R_min/R_max + 0.44 − 0.1 w/40 − 0.2 · 600/s − 0.04 d/100 (flange w, spacing s, depth d in mm).
# It runs up to a half above published tables of deep studs: bounded by what one stud carries round the insulation, from the effective R of
# stud layers that ASHRAE 90.1 prints in its appendix A (89 to 203 mm, 406 and 610 mm apart, webs of 1.1 mm): 0.206 to 0.223 W/(m K) each. The
# resistance of such a stud is taken as that of its web and the rest at its flanges, which those tables give down to 203 mm.
STUD_MK_W, STUD_WEB_M, STEEL_W_MK, LEAST_FLANGE_MK_W = 1.0 / 0.21, 0.0011, 50.0, 0.9
STEEL_FLANGE_MM, STEEL_SPACING_MM, STEEL_WEB_MM = (20.0, 60.0), (300.0, 1250.0), 3.2


def _light_steel(
    layers: list[BuildUpLayer], clear_path: list[float], upper: float, lower: float, films: float
) -> float | None:
    """R_T by the method for light steel; None where no member is metal. Raises CaseRefused outside of its range.

    clear_path: R of every layer between members; films: both surface resistances [m²K/W].
    """
    metal = [layer for layer in layers if layer.framing is not None and layer.framing.web_mm is not None]
    if not metal:
        return None
    framing = metal[0].framing
    assert framing is not None and framing.flange_mm is not None and framing.web_mm is not None and framing.spacing_mm
    within = (
        STEEL_FLANGE_MM[0] <= framing.flange_mm <= STEEL_FLANGE_MM[1]
        and STEEL_SPACING_MM[0] <= framing.spacing_mm <= STEEL_SPACING_MM[1]
        and framing.web_mm <= STEEL_WEB_MM
    )
    if len(metal) > 1 or not within:
        raise CaseRefused(
            "the method for light steel takes one layer of studs with flanges of 20 to 60 mm at 300 to 1250 mm and webs up to "
            f"{STEEL_WEB_MM:g} mm; use a two-dimensional calculation",
            f"layer {metal[0].id}",
        )
    p = (
        0.8 * lower / upper + 0.44 - 0.1 * framing.flange_mm / 40.0 - 0.2 * 600.0 / framing.spacing_mm
        - 0.04 * metal[0].thickness * 1000.0 / 100.0
    )  # fmt: skip
    clear = clear_path[layers.index(metal[0])]
    others = films + sum(clear_path) - clear
    p = min(max(p, 0.0), 1.0)  # a mean of the two limits, and nothing beyond them
    bound = others + stud_layer_resistance(clear, metal[0].thickness, framing.spacing_mm, framing.web_mm)
    return min(p * upper + (1.0 - p) * lower, bound)


def stud_layer_resistance(cavity: float, depth_m: float, spacing_mm: float, web_mm: float) -> float:
    """Most that a layer of light steel studs resists [m²K/W]: 1/R = 1/R_cavity + 1/(s R_stud), R_stud [mK/W] of its flanges and its web."""
    flanges = max(STUD_MK_W - depth_m / (STEEL_W_MK * STUD_WEB_M), LEAST_FLANGE_MK_W)
    stud = flanges + depth_m / (STEEL_W_MK * web_mm / 1000.0)
    return 1.0 / (1.0 / cavity + 1.0 / (stud * spacing_mm / 1000.0))


# ISO 6946 Annex F: ΔU'' of air gaps by level [W/(m² K)], and α of fixings all through.
PROFILED = "profiled_sheet"
GAP_DELTA_U = (0.0, 0.01, 0.04)
FIXING_ALPHA = 0.8


def _corrections(build_up: BuildUp, layers: list[BuildUpLayer], clear: list[float], total: float) -> list[Correction]:
    """ΔU of fixings, air gaps and inverted roofs (ISO 6946 Annex F, as commonly printed).

    Fixings: α λ_f A_f n_f / d₀ · (R₁/R_T)², α = 0.8 × share of the layer's thickness d₀ that they go through; gaps:
    ΔU'' (R₁/R_T)²; inverted: p f x (R₁/R_T)², p mm a day.
    """
    found = []
    for layer, resistance in zip(layers, clear, strict=True):
        share = (resistance / total) ** 2
        if layer.fixings is not None:
            f = layer.fixings
            alpha = FIXING_ALPHA * f.depth_share
            conducts = f.conductivity_w_mk * f.section_mm2 * 1e-6 * f.per_m2 / layer.thickness
            found.append(Correction(layer.id, "fixings", alpha * conducts * share))
        level = gap_level(build_up, layer)
        if level:
            found.append(Correction(layer.id, "air gaps", GAP_DELTA_U[level] * share))
        if layer.inverted is not None:
            found.append(
                Correction(layer.id, "inverted roof", layer.inverted.rain_mm_day * layer.inverted.factor * share)
            )
    return found


def transmittance(build_up: BuildUp, kind: str) -> Transmittance:
    """ISO 6946:2017, 6.7.2: R_T = (R'_T + R''_T)/2 from the upper and the lower limit.

    A well-ventilated cavity ends the build-up: it and all outside it are left out and the outer surface
    resistance becomes the inner one (6.9.4). Raises CaseRefused where the limits lie further apart
    than 1.5 or metal bridges insulation. Corrections of Annex F are in U effective.
    """
    flow = heat_flow(kind)
    inner, outer = INTERNAL_SURFACE[flow], EXTERNAL_SURFACE
    layers = list(build_up.layers)
    for index in range(len(layers) - 1, -1, -1):
        entry = layers[index].entry
        if isinstance(entry, AirLayer) and entry.ventilated:
            layers, outer = layers[index + 1 :], inner
            break
    if not layers:
        raise CaseRefused("nothing is left inside the ventilated cavity")
    _no_ribs_through(layers)
    clear = resistances(layers, flow)
    r_clear = inner + sum(clear) + outer

    framed = [index for index, layer in enumerate(layers) if layer.framing is not None]
    if len(framed) > MOST_FRAMED:
        raise CaseRefused(
            f"{len(framed)} layers between members: ISO 6946's upper limit is taken for at most {MOST_FRAMED}; "
            "state battens that hardly count without framing, or use a two-dimensional calculation"
        )
    upper_u = 0.0
    for choice in product((False, True), repeat=len(framed)):
        share, resistance = 1.0, r_clear
        for index, is_frame in zip(framed, choice, strict=True):
            framing = layers[index].framing
            assert framing is not None
            share *= framing.share if is_frame else 1.0 - framing.share
            if is_frame:
                resistance += _framing_resistance(layers[index]) - clear[index]
        upper_u += share / resistance
    lower = inner + outer
    for index, layer in enumerate(layers):
        if layer.framing is None:
            lower += clear[index]
        else:
            share = layer.framing.share
            lower += 1.0 / ((1.0 - share) / clear[index] + share / _framing_resistance(layer))
    upper = 1.0 / upper_u
    steel = _light_steel(layers, clear, upper, lower, inner + outer)
    if steel is None and upper / lower > LIMIT_RATIO:
        raise CaseRefused(
            f"the upper limit {upper:.2f} and the lower limit {lower:.2f} m²K/W lie further apart than "
            f"{LIMIT_RATIO}: ISO 6946's combined method does not hold; use a two-dimensional calculation"
        )
    corrections = _corrections(build_up, layers, clear, r_clear)
    before = steel if steel is not None else 0.5 * (upper + lower)
    effective = 1.0 / (1.0 / before + sum(one.delta_u for one in corrections))
    insulation = sum(
        (layer.product.labelled_mm / 1000.0 if layer.product and layer.product.labelled_mm else layer.thickness)
        / layer.entry.conductivity_w_mk
        for layer in layers
        if isinstance(layer.entry, Solid) and layer.entry.conductivity_w_mk <= INSULATION_CONDUCTIVITY
    )
    return Transmittance(
        r_insulation=insulation,
        r_total_clear=r_clear,
        upper_limit=upper,
        lower_limit=lower,
        r_effective=effective,
        u_effective=1.0 / effective,
        u_clear=1.0 / r_clear,
        u_parallel_paths=upper_u,
        u_isothermal_planes=1.0 / lower,
        corrections=corrections,
        layers={layer.id: r for layer, r in zip(layers, clear, strict=True)},
        internal_surface=inner,
        external_surface=outer,
    )

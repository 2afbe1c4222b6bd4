"""Thermal resistance and transmittance of a build-up, ISO 6946 (combined method for framing)."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import product
from typing import Literal

from core.air import STEFAN_BOLTZMANN
from core.buildup.background import gap_level
from core.buildup.model import BuildUp, BuildUpLayer
from core.errors import CaseRefused
from core.materials.library import AirLayer, Sheet, Solid, entry_of
from core.thermal.as_built import as_built_conductivity

HeatFlow = Literal["horizontal", "up", "down"]

# ISO 6946 Table 7: surface resistances [m²K/W] by direction of heat flow.
INTERNAL_SURFACE: dict[HeatFlow, float] = {"up": 0.10, "horizontal": 0.13, "down": 0.17}
EXTERNAL_SURFACE = 0.04
# ISO 6946 Table 8: unventilated air layers with high-emissivity faces, thickness [mm] -> R.
AIR_LAYERS: dict[HeatFlow, list[tuple[float, float]]] = {
    "up": [(0, 0.0), (5, 0.11), (7, 0.13), (10, 0.15), (15, 0.16), (25, 0.16), (300, 0.16)],
    "horizontal": [(0, 0.0), (5, 0.11), (7, 0.13), (10, 0.15), (15, 0.17), (25, 0.18), (300, 0.18)],
    "down": [(0, 0.0), (5, 0.11), (7, 0.13), (10, 0.15), (15, 0.17), (25, 0.19), (50, 0.21), (100, 0.22), (300, 0.23)],
}  # fmt: skip
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


def air_layer_resistance(thickness: float, flow: HeatFlow) -> float:
    """R [m²K/W] of an unventilated air layer [m], linear between the rows of Table 8."""
    rows, mm = AIR_LAYERS[flow], thickness * 1000.0
    if mm > rows[-1][0]:
        raise CaseRefused(f"an air layer of {mm:g} mm is a room, not a layer: ISO 6946 covers up to 300 mm")
    for (x0, r0), (x1, r1) in zip(rows, rows[1:], strict=False):
        if mm <= x1:
            return r0 + (r1 - r0) * (mm - x0) / (x1 - x0)
    return rows[-1][1]


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
    return layer.thickness / as_built_conductivity(layer)


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
STEEL_FLANGE_MM, STEEL_SPACING_MM, STEEL_WEB_MM = (20.0, 60.0), (300.0, 1250.0), 3.2


def _light_steel(layers: list[BuildUpLayer], upper: float, lower: float) -> float | None:
    """R_T by the method for light steel; None where no member is metal. Raises CaseRefused outside of its range."""
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
    p = min(max(p, 0.0), 1.0)  # a mean of the two limits, and nothing beyond them
    return p * upper + (1.0 - p) * lower


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
    steel = _light_steel(layers, upper, lower)
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

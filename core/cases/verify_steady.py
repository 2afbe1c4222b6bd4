"""`verify`: U, drying, ground, sky and batts by hand and against printed tables."""

from __future__ import annotations

import math
from collections.abc import Iterator

from core.buildup.model import BuildUp, BuildUpLayer, Fixings, Framing, InvertedRoof, Place, Product
from core.buildup.planes import SensitivePlane
from core.cases.compared import Found, Row, row_of
from core.climate.data import shipped
from core.climate.sun import Shade, seen_from_pane
from core.moisture.steady import drying_ability
from core.physics.moist_air import saturation_pressure
from core.thermal.as_built import curve_density, density_curve
from core.thermal.iso6946 import stud_layer_resistance, transmittance
from core.thermal.iso13370 import (
    EdgeInsulation,
    GroundPlace,
    Void,
    cellar_wall_transmittance,
    edge_psi,
    heated_cellar,
    over_unheated_cellar,
    over_void,
    slab_heat,
    slab_transmittance,
)

# R printed on a batt, its thickness [in], what it is squeezed into [in], and R then.
SQUEEZED_BATTS = ((19, 6.25, 3.5, 13.0), (19, 6.25, 2.5, 10.0), (30, 9.5, 5.5, 21.0), (38, 12.0, 5.5, 22.0), (13, 3.5, 1.5, 6.3), (15, 3.5, 1.5, 7.0))  # fmt: skip
INCH_M, R_IP = 0.0254, 5.678  # of printed tables: an inch; ft² h °F/Btu for each m²K/W


def _layer(name: str, material: str, mm: float | None, framing: Framing | None = None) -> BuildUpLayer:
    return BuildUpLayer(id=name, material=material, thickness_mm=mm, framing=framing)


def hand_worked() -> Iterator[Row]:
    """U and drying worked by hand; the arithmetic stands in docs/verification.md."""
    source = "worked here, not from the standard (docs/verification.md)"
    solid = transmittance(BuildUp(layers=[_layer("b", "brick_old", 215), _layer("p", "lime_plaster", 20)]), "wall")
    yield row_of("ISO 6946, brick and plaster", "U", "W/m²K", solid.u_effective, 1 / (0.04 + 0.215 / 0.72 + 0.020 / 0.80 + 0.13), 0.001, source, True)  # fmt: skip
    framed = transmittance(
        BuildUp(
            layers=[
                _layer("o", "osb", 15),
                _layer("s", "mineral_fibre_035", 140, Framing(material="softwood", share=0.15)),
                _layer("g", "gypsum_board", 12.5),
            ]
        ),
        "wall",
    )
    # by hand: 0.04 + 0.015/0.13 + 0.0125/0.23 + 0.13 = 0.339732; stud bay 0.140/0.035 = 4, stud 0.140/0.12 = 1.166667
    # upper 1/(0.85/4.339732 + 0.15/1.506399); lower 0.339732 + 1/(0.85/4 + 0.15/1.166667); U = 2/(upper + lower)
    yield row_of("ISO 6946, stud wall", "upper limit", "m²K/W", framed.upper_limit, 3.384777, 0.001, source, True)
    yield row_of("ISO 6946, stud wall", "lower limit", "m²K/W", framed.lower_limit, 3.271672, 0.001, source, True)
    yield row_of("ISO 6946, stud wall", "U combined", "W/m²K", framed.u_effective, 0.300460, 0.001, source, True)
    # drying: one month checked by hand is enough to fix the formula; sd 0.008 + 8·0.02 inward
    ability = drying_ability(
        BuildUp(layers=[_layer("b", "brick_old", 215), _layer("p", "lime_plaster", 20)]),
        Place(),
        shipped("corrie"),
        SensitivePlane("b", "brick", "inner", ""),
    )
    yield row_of("Drying ability", "sd inward", "m", ability.inward.sd_m, 0.168, 0.001, source, True)
    yield row_of("Drying ability", "sd outward", "m", ability.outward.sd_m, 0.008 + 12 * 0.215, 0.001, source, True)
    # corrections: 80 mm of 0.035 on 215 mm of brick: R 0.04 + 0.298611 + 2.285714 + 0.13 = 2.754325, (R1/RT)² = 0.688680
    # 6 fixings of 20 mm² steel (50): 0.8 · 50 · 20e-6 · 6 / 0.080 = 0.060; level 1 gaps 0.01; U = 1/2.754325 + 0.07 · 0.688680
    fixed = _layer("i", "mineral_fibre_035", 80).model_copy(
        update={"fixings": Fixings(per_m2=6, section_mm2=20, conductivity_w_mk=50), "gaps": 1}
    )
    wall = transmittance(BuildUp(layers=[_layer("b", "brick_old", 215), fixed]), "wall")
    yield row_of("ISO 6946, fixings and gaps", "U", "W/m²K", wall.u_effective, 0.411274, 0.001, source, True)
    # inverted roof: 100 mm of 0.034 above a sheet on 150 mm of concrete (1.9): R 0.04 + 2.941176 + 0.078947 + 0.10 = 3.160124
    # 2.5 mm a day · 0.04 · (2.941176/3.160124)² = 0.086623; U = 0.316443 + 0.086623
    above = _layer("x", "xps_034", 100).model_copy(update={"inverted": InvertedRoof(rain_mm_day=2.5)})
    roof = transmittance(BuildUp(layers=[above, _layer("k", "concrete", 150)]), "roof")
    yield row_of("ISO 6946, inverted roof", "U", "W/m²K", roof.u_effective, 0.403066, 0.001, source, True)


def as_it_is() -> Iterator[Row]:
    """Deep light steel studs against printed tables; a fill that settled lying down by hand."""
    source = "ASHRAE 90.1, appendix A, R-15 to R-25 in 89 to 203 mm"
    for depth, cavity, rows in ((89, 2.64, (1.127, 1.374)), (152, 3.70, (1.303, 1.585)), (203, 4.40, (1.374, 1.691))):
        for spacing, printed in zip((406.0, 610.0), rows, strict=True):
            yield row_of(
                f"Light steel studs {depth} mm, {spacing:g} mm apart", "R of the layer", "m²K/W",
                stud_layer_resistance(cavity, depth / 1000.0, spacing, 1.1), printed, 0.04, source, True,
            )  # fmt: skip
    source = "printed tables of squeezed glass-fibre batts, as remembered"
    for label, sold, now, printed in SQUEEZED_BATTS:
        conductivity = sold * INCH_M / (label / R_IP)
        at = curve_density(conductivity, 12.0)
        squeezed = now * INCH_M / (conductivity * density_curve(at * sold / now) / density_curve(at))
        yield row_of(f"Batt R-{label} of {sold:g} in squeezed into {now:g}", "R", "m²K/W", squeezed, printed / R_IP, 0.05, source, True)  # fmt: skip
    sunk = BuildUpLayer(id="c", material="cellulose_loose", thickness_mm=200, product=Product(settled=0.1))
    ceiling = transmittance(BuildUp(layers=[sunk]), "roof")
    # 0.18/0.039 + 0.16 + 0.14 = 4.915385
    source = "worked here, not from the standard (docs/verification.md)"
    yield row_of("Settled fill of a ceiling", "U", "W/m²K", ceiling.u_effective, 0.203443, 0.001, source, True)


def sky_seen() -> Iterator[Row]:
    """Sky that a pane sees past an overhang, reveals and a row of houses, against crossed strings (Hottel)."""
    source = "crossed strings (Hottel 1954), long strips"
    wide, h, d = 400.0, 1.3, 0.6
    under, _ = seen_from_pane(Shade(wide, h, overhang_m=d))
    lost = (h + d - math.hypot(h, d)) / (2.0 * h)
    yield row_of("Sky under a long overhang", "share", "-", under, (0.5 - lost) / 0.5, 0.005, source, True)
    w, r = 0.8, 0.3
    between, _ = seen_from_pane(Shade(w, 400.0, recess_m=r))
    yield row_of("Sky between tall reveals", "share", "-", between, (math.hypot(w, r) - r) / w, 0.01, source, True)
    row, _ = seen_from_pane(Shade(wide, h, horizon_deg=25.0))
    yield row_of(
        "Sky over a long row opposite", "share", "-", row, 1.0 - math.sin(math.radians(25.0)), 0.01, source, True
    )


def ground() -> Iterator[Found]:
    """Slab and cellar wall by the simple form of ISO 13370, worked by hand; saturation over ice in ISO 13788."""
    source = "worked here, not from the standard"
    # 12 × 8 m: A 96, P 40, B′ = 96/20 = 4.8; bare: d_t = 0.4 + 2 (0.17 + 0 + 0.04) = 0.82
    # U = 4/(π 4.8 + 0.82) · ln(π 4.8/0.82 + 1) = 4/15.899645 · ln(19.389811) = 0.251578 · 2.964748
    slab = GroundPlace(area_m2=96.0, perimeter_m=40.0)
    yield row_of(
        "ISO 13370, slab 12 × 8 m", "U bare", "W/m²K", slab_transmittance(slab, 0.0), 0.745865, 0.001, source, True
    )
    # 80 mm of 0.035: R 2.285714, d_t = 0.4 + 2 · 2.495714 = 5.391429 > B′: U = 2/(0.457 · 4.8 + 5.391429)
    insulated = slab_transmittance(slab, 0.08 / 0.035)
    yield row_of("ISO 13370, slab 12 × 8 m", "U with 80 mm", "W/m²K", insulated, 0.263677, 0.001, source, True)
    # cellar wall 2 m deep, R 0.5: d_w = 2 · 0.67 = 1.34, d_t = 0.82; U = 4/(2π) (1 + 0.41/2.82) ln(2/1.34 + 1)
    deep = GroundPlace(area_m2=96.0, perimeter_m=40.0, depth_m=2.0)
    yield row_of(
        "ISO 13370, cellar wall", "U", "W/m²K", cellar_wall_transmittance(deep, 0.5), 0.665959, 0.001, source, True
    )
    # edge insulation, flat, 1.0 m of 100 mm of 0.035 round the bare slab: R' = 2.857143 − 0.05, d' = 5.614286
    # Ψ = −2/π (ln(1/0.82 + 1) − ln(1/(0.82 + 5.614286) + 1)) = −0.636620 (0.797288 − 0.144461)
    strip = EdgeInsulation(reach_m=1.0, thickness_m=0.1, conductivity_w_mk=0.035)
    yield row_of("ISO 13370, edge insulation", "Ψ", "W/mK", edge_psi(slab, 0.0, strip), -0.415602, 0.001, source, True)
    # swing: δ = √(3.15e7 · 2/(π 2e6)) = 3.166506; H_pe = 0.37 · 40 · 2 ln(3.166506/0.82 + 1) = 29.6 · 1.581366
    swing = slab_heat(slab, 0.0)
    yield row_of("ISO 13370, slab 12 × 8 m", "H_pe", "W/K", swing.periodic_outside, 46.808434, 0.001, source, True)
    # H_pi = 96 · 2/0.82 √(2/((1 + 3.861593)² + 1)) = 234.146 · √(2/24.634960)
    yield row_of("ISO 13370, slab 12 × 8 m", "H_pi", "W/K", swing.periodic_inside, 66.71561, 0.001, source, True)
    # heated cellar 2 m deep, floor bare, wall R 0.5: d_t + z/2 = 1.82: U_bf = 4/(15.079645 + 1.82) ln(15.079645/1.82 + 1) = 0.236692 · 2.228406
    both = heated_cellar(deep, 0.0, 0.5)
    yield row_of(
        "ISO 13370, heated cellar", "H", "W/K", both.steady, 96 * 0.527446 + 2 * 40 * 0.665959, 0.001, source, True
    )
    # over a void: U_g = 0.745865 (bare earth, the same d), U_x = 2 · 0.5 · 1.7/4.8 + 1450 · 0.0015 · 4 · 0.05/4.8 = 0.354167 + 0.090625
    # 1/U = 1/1.5 + 1/(0.745865 + 0.444792)
    yield row_of(
        "ISO 13370, floor over a void", "U", "W/m²K", over_void(slab, 1.5, Void()), 0.663765, 0.001, source, True
    )
    # over an unheated cellar 2 m deep, 0.5 m above ground, 240 m³ at 0.3 changes: below 96 · 0.527446 + 80 · 0.665959 + 20 · 1.7 + 0.335333 · 72 = 162.0555
    # 1/U = 1/1.5 + 96/162.0555 = 0.666667 + 0.592390
    cold = over_unheated_cellar(deep, 1.5, 0.0, 0.5, 1.7, 0.5, 240.0, 0.3)
    yield row_of("ISO 13370, floor over a cold cellar", "U", "W/m²K", cold, 0.794246, 0.001, source, True)
    # ISO 13788 over ice at −5 °C: 610.5 exp(21.875 · −5/(265.5 − 5)) = 610.5 · exp(−0.419866)
    ice = float(saturation_pressure(268.15, "iso13788_ice"))
    yield row_of("ISO 13788, saturation over ice", "p at −5 °C", "Pa", ice, 401.18, 0.001, source, True)

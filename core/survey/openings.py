"""U and g of a window from what can be seen of it: glazing, frame, secondary glazing. Estimates until typed."""

from __future__ import annotations

from dataclasses import dataclass

from core.say import Said, say, u_value
from core.survey.shape import Opening

# Centre-pane U [W/(m² K)] and g, and edge ψ [W/(m K)] of common glazing; rounded, from ISO 10077-1 style tables.
GLAZING: dict[str, tuple[float, float, float, str]] = {
    "single": (5.7, 0.85, 0.0, "single glass"),
    "double_old": (2.8, 0.76, 0.05, "old double glass"),
    "double_low_e": (1.2, 0.60, 0.06, "double low-emissivity glass"),
    "triple": (0.7, 0.50, 0.06, "triple glass"),
    "boards": (3.0, 0.0, 0.0, "boards"),
}
FRAME: dict[str, tuple[float, str]] = {
    "timber": (2.0, "timber frame"),
    "metal": (5.9, "metal frame without a break"),
    "metal_broken": (3.0, "metal frame with a thermal break"),
    "plastic": (1.8, "plastic frame"),
}
FRAME_SHARE = 0.3
# ISO 10077-1, 6.4.3 (coupled and double windows): U = 1/(1/U1 − Rsi + Rs − Rse + 1/U2); Rs of a still gap.
R_SI, R_SE, R_GAP = 0.13, 0.04, 0.17
SECONDARY: dict[str, tuple[float, float]] = {"single": (5.0, 0.85), "double_low_e": (1.6, 0.65)}
SHADING: dict[str, float] = {
    "none": 1.0,
    "reveal": 0.9,
    "trees": 0.7,
    "buildings": 0.6,
    "shutters": 1.0,
}  # of the sun at all hours; shutters by the hour


@dataclass(frozen=True)
class WindowValues:
    """U [W/(m² K)], g of the glass with its shading left out, and how they came about."""

    u_w_m2k: float
    g_value: float
    words: Said


def window_values(opening: Opening) -> WindowValues:
    """U = (A_g U_g + A_f U_f + l_g ψ_g) / A (ISO 10077-1, 6.4.1) with a frame of 30 % of the window.

    Typed values win. Uncertainty of the estimate about ± 15 %.
    """
    u_glass, g, psi, glass = GLAZING[opening.glazing]
    u_frame, frame = FRAME[opening.frame]
    if opening.kind == "door" and opening.glazing == "boards":
        u = u_glass
        words = "boarded door, estimated"
    else:
        area = opening.width_m * opening.height_m
        shrink = (1.0 - FRAME_SHARE) ** 0.5
        edge = 2.0 * (opening.width_m + opening.height_m) * shrink
        u = (1.0 - FRAME_SHARE) * u_glass + FRAME_SHARE * u_frame + edge * psi / area
        words = f"{glass}, {frame}, estimated ± 15 %"
    if opening.secondary != "none":
        u_second, g_second = SECONDARY[opening.secondary]
        u = 1.0 / (1.0 / u - R_SI + R_GAP - R_SE + 1.0 / u_second)
        g *= g_second
        words += ", with secondary glazing"
    if opening.u_w_m2k is not None:
        u, words = opening.u_w_m2k, "U typed"
    return WindowValues(
        u, g if opening.g_value is None else opening.g_value, say("{words}: {u}", words=words, u=u_value(u))
    )

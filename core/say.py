"""Sentences that carry quantities: worded once, shown in metric units or in inches, feet and pounds.

`say("At {place} free water reaches {water}.", place="the foil", water=small_water(212))` gives both readings. A text kept
as data writes its quantities in braces, “a drip {30 mm} clear of the face”, and `read_quantities` gives both.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

R_PER_M2K_W = 5.678263


class Said(BaseModel):
    """One sentence in two unit systems."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    metric: Annotated[str, Field(max_length=4000)]
    inch: Annotated[str, Field(max_length=4000)]

    def __add__(self, other: Said | str) -> Said:
        more = said(other)
        return Said(metric=self.metric + more.metric, inch=self.inch + more.inch)

    def __bool__(self) -> bool:
        return bool(self.metric)

    def capitalised(self) -> Said:
        """With a capital first letter."""
        return Said(metric=_capital(self.metric), inch=_capital(self.inch))

    def lowered(self) -> Said:
        """With a small first letter."""
        return Said(metric=_small(self.metric), inch=_small(self.inch))


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _small(text: str) -> str:
    return text[:1].lower() + text[1:]


def said(text: Said | str) -> Said:
    """Words without a quantity are the same in both."""
    return text if isinstance(text, Said) else Said(metric=text, inch=text)


def say(template: str, **values: Said | str | int) -> Said:
    """The template with its values in both systems. Raises KeyError for a value that is missing."""
    metric = {name: value.metric if isinstance(value, Said) else value for name, value in values.items()}
    inch = {name: value.inch if isinstance(value, Said) else value for name, value in values.items()}
    return Said(metric=template.format(**metric), inch=template.format(**inch))


def join(parts: Iterable[Said | str], between: str = " ") -> Said:
    """Parts one after another; empty ones are left out."""
    kept = [said(part) for part in parts if part]
    return Said(metric=between.join(p.metric for p in kept), inch=between.join(p.inch for p in kept))


# --- quantities: each takes SI as the core has it ---------------------------------------------------


def figure(value: float, digits: int) -> str:
    """A number as it is printed: a true minus sign, and no minus before nothing."""
    text = f"{value:.{digits}f}"
    return (f"{0:.{digits}f}" if float(text) == 0.0 else text).replace("-", "−")


def _short(value: float, digits: int) -> str:
    """Without the zeros at its end: 80, 12.5."""
    text = figure(value, digits)
    return text.rstrip("0").rstrip(".") if "." in text else text


def _pair(metric: str, inch: str) -> Said:
    return Said(metric=metric, inch=inch)


def thickness(metres: float) -> Said:
    """mm, or inches."""
    return _pair(f"{_short(metres * 1000.0, 1)} mm", f"{_short(metres / 0.0254, 2)} in")


def length(metres: float, digits: int = 2) -> Said:
    """m, or feet."""
    return _pair(f"{_short(metres, digits)} m", f"{_short(metres / 0.3048, 1)} ft")


def vapour_length(metres: float) -> Said:
    """sd: m, or feet of air."""
    digits = 0 if metres >= 10.0 else 1 if metres >= 1.0 else 2
    return _pair(f"{_short(metres, digits)} m", f"{_short(metres / 0.3048, 0 if metres >= 3 else 1)} ft")


def area(square_metres: float, digits: int = 1) -> Said:
    return _pair(f"{_short(square_metres, digits)} m²", f"{figure(square_metres * 10.76391, 0)} ft²")


def volume(cubic_metres: float) -> Said:
    return _pair(f"{figure(cubic_metres, 0)} m³", f"{figure(cubic_metres * 35.31467, 0)} ft³")


def water(kg_m2: float, digits: int | None = None) -> Said:
    """Water on an area."""
    places = digits if digits is not None else (0 if abs(kg_m2) >= 100 else 1 if abs(kg_m2) >= 1.0 else 2)
    return _pair(f"{figure(kg_m2, places)} kg/m²", f"{figure(kg_m2 * 0.204816, places + (places < 2))} lb/ft²")


def mass_per_area(kg_m2: float) -> Said:
    """What a build-up weighs."""
    return _pair(f"{figure(kg_m2, 0)} kg/m²", f"{figure(kg_m2 * 0.204816, 1)} lb/ft²")


def small_water(g_m2: float) -> Said:
    """A little water on an area."""
    places = 1 if abs(g_m2) < 10 else 0
    return _pair(f"{figure(g_m2, places)} g/m²", f"{figure(g_m2 * 0.00327706, 2)} oz/ft²")


def rain(millimetres: float) -> Said:
    return _pair(f"{figure(millimetres, 0)} mm", f"{figure(millimetres / 25.4, 1)} in")


def transmittance(u_w_m2k: float) -> Said:
    """U in W/m²K, or the R of the whole."""
    return _pair(f"{figure(u_w_m2k, 2)} W/m²K", f"R {figure(R_PER_M2K_W / u_w_m2k, 1)}")


def u_value(u_w_m2k: float) -> Said:
    """“U 0.35 W/m²K”, or “R 16.2”: with its letter, because each system has its own."""
    return _pair(f"U {figure(u_w_m2k, 2)} W/m²K", f"R {figure(R_PER_M2K_W / u_w_m2k, 1)}")


def resistance(m2k_w: float) -> Said:
    return _pair(f"{figure(m2k_w, 2)} m²K/W", f"R {figure(m2k_w * R_PER_M2K_W, 1)}")


def coefficient(w_k: float) -> Said:
    return _pair(f"{figure(w_k, 0)} W/K", f"{figure(w_k * 1.895634, 0)} Btu/h°F")


def energy(kwh: float) -> Said:
    return _pair(f"{figure(kwh, 0)} kWh", f"{figure(kwh * 3.412142, 0)} kBtu")


def temperature(celsius: float, digits: int = 0) -> Said:
    return _pair(f"{figure(celsius, digits)} °C", f"{figure(celsius * 1.8 + 32.0, 0)} °F")


def difference(kelvin: float, digits: int = 1) -> Said:
    """A difference of temperatures."""
    return _pair(f"{figure(kelvin, digits)} K", f"{figure(kelvin * 1.8, digits)} °F")


def degree_hours(kelvin_hours: float) -> Said:
    return _pair(f"{figure(kelvin_hours / 1000.0, 1)} kKh", f"{figure(kelvin_hours * 1.8 / 1000.0, 1)} k°Fh")


def air_flow(m3_h: float) -> Said:
    return _pair(f"{figure(m3_h, 0)} m³/h", f"{figure(m3_h * 0.588578, 0)} cfm")


def air_permeability(m3_m2h: float) -> Said:
    """Air through an area at 50 Pa."""
    return _pair(f"{_short(m3_m2h, 2)} m³/(h m²)", f"{figure(m3_m2h * 0.0546807, 3)} cfm/ft²")


def speed(metres_s: float) -> Said:
    return _pair(f"{figure(metres_s, 1)} m/s", f"{figure(metres_s * 2.236936, 0)} mph")


def uptake(kg_m2_s05: float) -> Said:
    """A-value: kg/(m² √h), as it is tabulated; left as it is in both."""
    return said(f"{figure(kg_m2_s05 * 60.0, 1)} kg/(m²√h)")


def conductivity(w_mk: float) -> Said:
    return _pair(f"{figure(w_mk, 3)} W/mK", f"R {figure(0.144228 / w_mk, 2)} per inch")


def heat_of_air(wh_m3k: float) -> Said:
    return _pair(f"{figure(wh_m3k, 4)} Wh/(m³K)", f"{figure(wh_m3k * 0.0536782, 4)} Btu/(ft³°F)")


def percent(share: float, digits: int = 0) -> str:
    """A share of 0 to 1."""
    return f"{figure(share * 100.0, digits)} %"


# --- quantities inside texts that are data ----------------------------------------------------------

_UNITS: dict[str, Callable[[float], Said]] = {
    "mm": lambda x: thickness(x / 1000.0),
    "m": length,
    "m²": area,
    "g/m²": small_water,
    "kg/m²": water,
    "°C": temperature,
    "K": difference,
    "mm rain": rain,
    "m/s": speed,
    "W/m²K": transmittance,
    "m³/(h m²)": air_permeability,
    "m³/h": air_flow,
    "m³": volume,
}
_IN_BRACES = re.compile(r"\{([−-]?\d+(?:\.\d+)?) ([^{}]+)\}")


def read_quantities(text: str) -> Said:
    """A text whose quantities stand in braces: as written in metric, turned for the other. Unknown units are left alone."""

    def reading(inch: bool) -> str:
        def one(match: re.Match[str]) -> str:
            unit = _UNITS.get(match[2])
            if unit is None:
                return match[0]
            if not inch:
                return f"{match[1].replace('-', '−')} {match[2].removesuffix(' rain')}"
            return unit(float(match[1].replace("−", "-"))).inch

        return _IN_BRACES.sub(one, text)

    return Said(metric=reading(False), inch=reading(True))

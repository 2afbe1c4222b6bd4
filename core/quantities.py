"""Units at the edge: what people type becomes SI, by pint. Inside the core everything is SI."""

from __future__ import annotations

import re
from functools import lru_cache
from typing import Any

from core.errors import OutOfRange

MAX_THICKNESS = 3.0


@lru_cache(maxsize=1)
def _registry() -> Any:
    import pint

    return pint.UnitRegistry(cache_folder=None)


_NUMBER = re.compile(r"^\s*([+-]?(?:\d{1,9}(?:[.,]\d{0,9})?|[.,]\d{1,9}))(?:\s+(\d{1,3})\s*/\s*(\d{1,3}))?\s*(.*?)\s*$")
# Only these words reach the unit library, which would reckon out whatever stands there (“9**9**9” for minutes).
_LENGTH_WORDS = {
    "mm": "millimetre", "millimetre": "millimetre", "millimetres": "millimetre", "millimeter": "millimetre",
    "millimeters": "millimetre", "cm": "centimetre", "centimetre": "centimetre", "centimetres": "centimetre",
    "centimeter": "centimetre", "centimeters": "centimetre", "dm": "decimetre", "m": "metre", "metre": "metre",
    "metres": "metre", "meter": "metre", "meters": "metre", '"': "inch", "″": "inch", "”": "inch", "in": "inch",
    "in.": "inch", "inch": "inch", "inches": "inch", "'": "foot", "′": "foot", "’": "foot", "ft": "foot",
    "ft.": "foot", "foot": "foot", "feet": "foot", "mil": "thou", "mils": "thou", "thou": "thou",
    "µm": "micrometre", "μm": "micrometre", "um": "micrometre", "micron": "micrometre", "microns": "micrometre",
}  # fmt: skip
LONGEST_TEXT = 40
_R_VALUE = re.compile(r"^\s*[rR]\s*-?\s*(\d{1,4}(?:[.,]\d{0,6})?)\s*$")


def parse_length(text: str, default_unit: str = "mm") -> float:
    """A typed thickness ("80", "80 mm", "3 in", '2 1/2"', "0,5 m") in metres.

    default_unit: the unit of a bare number, "mm" or "in".
    Raises OutOfRange with what to type when it is not a length, not above 0, or above 3 m.
    """
    shown = text.strip()[:LONGEST_TEXT]
    match = _NUMBER.match(text) if len(text) <= LONGEST_TEXT else None
    if match is None:
        raise OutOfRange(f"“{shown}” is not a thickness; type for example 80, 80 mm or 3 in")
    number = float(match.group(1).replace(",", "."))
    if match.group(2):
        if int(match.group(3)) == 0:
            raise OutOfRange(f"“{shown}” has a fraction with 0 below the line")
        number += int(match.group(2)) / int(match.group(3))
    unit = _LENGTH_WORDS.get((match.group(4) or default_unit).lower())
    if unit is None:
        raise OutOfRange(f"“{match.group(4)}” is not a unit of length; use mm, cm, m or in")
    return check_thickness(float(_registry().Quantity(number, unit).to("metre").magnitude))


def check_thickness(metres: float) -> float:
    """The thickness itself when it lies above 0 and up to 3 m; raises OutOfRange otherwise."""
    if not metres > 0.0:
        raise OutOfRange(f"thickness {metres * 1000:g} mm: a layer must be thicker than 0")
    if metres > MAX_THICKNESS:
        raise OutOfRange(f"thickness {metres * 1000:g} mm is above 3 m; check the unit")
    return metres


def parse_thickness(text: str, conductivity: float, default_unit: str = "mm") -> float:
    """A typed thickness or R-value ("R13", h·ft²·°F/Btu) in metres, for a conductivity [W/(m K)]."""
    match = _R_VALUE.match(text)
    if match is None:
        return parse_length(text, default_unit)
    resistance = _registry().Quantity(float(match.group(1).replace(",", ".")), "hour*foot**2*delta_degF/Btu")
    return check_thickness(float(resistance.to("m**2*K/W").magnitude) * conductivity)

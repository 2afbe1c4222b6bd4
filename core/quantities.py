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


_NUMBER = re.compile(r"^\s*([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+))(?:\s+(\d+)\s*/\s*(\d+))?\s*(.*?)\s*$")
_LENGTH_WORDS = {'"': "inch", "″": "inch", "in": "inch", "'": "foot", "′": "foot"}
_R_VALUE = re.compile(r"^\s*[rR]\s*-?\s*(\d+(?:[.,]\d*)?)\s*$")


def parse_length(text: str, default_unit: str = "mm") -> float:
    """A typed thickness ("80", "80 mm", "3 in", '2 1/2"', "0,5 m") in metres.

    default_unit: the unit of a bare number, "mm" or "in".
    Raises OutOfRange with what to type when it is not a length, not above 0, or above 3 m.
    """
    match = _NUMBER.match(text)
    if match is None:
        raise OutOfRange(f"“{text.strip()}” is not a thickness; type for example 80, 80 mm or 3 in")
    number = float(match.group(1).replace(",", "."))
    if match.group(2):
        if int(match.group(3)) == 0:
            raise OutOfRange(f"“{text.strip()}” has a fraction with 0 below the line")
        number += int(match.group(2)) / int(match.group(3))
    unit = match.group(4) or default_unit
    unit = _LENGTH_WORDS.get(unit, unit)
    try:
        metres = float(_registry().Quantity(number, unit).to("metre").magnitude)
    except Exception as error:  # pint raises several unrelated types for an unknown or wrong unit
        raise OutOfRange(f"“{match.group(4)}” is not a unit of length; use mm, cm, m or in") from error
    return check_thickness(metres)


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

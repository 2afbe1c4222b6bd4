"""Readings from pasted text or a gauge's CSV: tolerant of separators, strict about what a figure means."""

from __future__ import annotations

from core.errors import OutOfRange
from core.measure.blower_door import Direction, FlowPoint

_UP = ("up", "press", "pressurise", "pressurize", "pressurisation", "pressurization", "+")
_DOWN = ("down", "depress", "depressurise", "depressurize", "depressurisation", "depressurization", "-")


def parse_flow_points(text: str, flow_unit: str = "m3/h") -> list[FlowPoint]:
    """Rows of "pressure flow" or "direction pressure flow"; a negative pressure means depressurising.

    flow_unit: "m3/h", "l/s" or "cfm". Separators: comma, semicolon, tab or spaces; a decimal comma where the
    separator is none. Lines that begin with # and one heading line are skipped.
    Raises OutOfRange naming the row and what it said.
    """
    factor = {"m3/h": 1.0, "l/s": 3.6, "cfm": 1.699011}[flow_unit]
    points: list[FlowPoint] = []
    heading_seen = False
    for number, raw in enumerate(text.splitlines(), start=1):
        line = raw.strip()
        if not line or line.startswith("#"):
            continue
        cells = _cells(line)
        figures = [_figure(cell) for cell in cells]
        numbers = [value for value in figures if value is not None]
        words = [cell for cell, value in zip(cells, figures, strict=True) if value is None]
        if not numbers and not points and not heading_seen:
            heading_seen = True
            continue
        if len(numbers) != 2 or len(words) > 1:
            raise OutOfRange(f"row {number} “{line}” is not a pressure and a flow", "write for example: -50; 2310")
        direction = _direction(words[0] if words else "", numbers[0], number)
        pressure, flow = abs(numbers[0]), abs(numbers[1]) * factor
        if not 0 < pressure <= 500:
            raise OutOfRange(
                f"row {number}: {numbers[0]:g} Pa is outside 0 to 500 Pa", "check the unit of the pressure"
            )
        if not 0 < flow <= 1e6:
            raise OutOfRange(f"row {number}: a flow of {numbers[1]:g} {flow_unit} cannot be", "check the flow")
        points.append(FlowPoint(direction=direction, pressure_pa=pressure, flow_m3_h=flow))
    if not points:
        raise OutOfRange("there are no readings in the text", "paste rows of pressure and flow")
    return points


def _cells(line: str) -> list[str]:
    for separator in (";", "\t"):
        if separator in line:
            return [cell.strip() for cell in line.split(separator) if cell.strip()]
    tokens = line.split()
    if "," in line and (len(tokens) < 2 or any(token.endswith(",") for token in tokens)):
        return [cell.strip() for cell in line.split(",") if cell.strip()]
    return tokens


def _figure(cell: str) -> float | None:
    try:
        return float(cell.replace("−", "-").replace(",", "."))
    except ValueError:
        return None


def _direction(word: str, pressure: float, number: int) -> Direction:
    lower = word.strip().lower()
    if not lower:
        return "pressurise" if pressure > 0 else "depressurise"
    if lower in _UP:
        return "pressurise"
    if lower in _DOWN:
        return "depressurise"
    raise OutOfRange(f"row {number}: “{word}” is no direction", "write up or down")

"""Correction of a resistance moisture meter for wood temperature and species."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from pydantic import Field, field_validator

from core.case import Strict
from core.errors import OutOfRange
from core.say import figure

# Points of moisture added to the corrected reading; a stand-in for the meter maker's table, which comes first.
# Estimates: tables differ between meters by one to two points, which is the uncertainty stated.
SPECIES: dict[str, tuple[str, float]] = {
    "softwood": ("softwood, not named", 0.0),
    "spruce": ("spruce", 0.0),
    "pine": ("pine", 0.5),
    "larch": ("larch", 0.5),
    "oak": ("oak", -0.5),
    "chestnut": ("sweet chestnut", -0.5),
    "elm": ("elm", 0.0),
    "plywood": ("plywood and boards (glue disturbs)", 0.0),
}
SPECIES_UNCERTAINTY = 2.0
FIBRE_SATURATION = 28.0


class MeterReading(Strict):
    """What the meter showed [mass-%], with the wood's temperature. offset: from the meter maker's table, wins."""

    shown_percent: Annotated[float, Field(ge=0, le=200)]
    wood_temperature_c: Annotated[float, Field(ge=-20, le=60)] = 20.0
    species: str = "softwood"
    offset_percent: Annotated[float, Field(ge=-20, le=20)] | None = None
    salty_or_treated: bool = False

    @field_validator("species")
    @classmethod
    def _known(cls, species: str) -> str:
        if species not in SPECIES:
            raise ValueError(f"no species “{species}”; choose one of: {', '.join(SPECIES)}")
        return species


@dataclass(frozen=True)
class CorrectedMoisture:
    """Moisture content [mass-%] with its uncertainty, and notes on what it is worth."""

    percent: float
    uncertainty: float
    notes: list[str]


def temperature_corrected(shown_percent: float, wood_temperature_c: float) -> float:
    """Reading corrected for wood temperature.

    M = (R + 0.567 − 0.0260 t + 0.000051 t²) / (0.881 · 1.0056^t), t in °C, for a meter calibrated near 22 °C.
    Source: Pfaff and Garrahan 1986, for softwoods from −20 to 60 °C. Raises OutOfRange outside it.
    """
    t = wood_temperature_c
    if not -20.0 <= t <= 60.0:
        raise OutOfRange(f"wood at {t:g} °C is outside −20 to 60 °C, where meters can be corrected")
    return (shown_percent + 0.567 - 0.0260 * t + 0.000051 * t * t) / (0.881 * 1.0056**t)


def corrected_moisture(reading: MeterReading) -> CorrectedMoisture:
    """The corrected moisture content with its uncertainty and notes."""
    name, offset = SPECIES[reading.species]
    notes = []
    if reading.offset_percent is not None:
        offset = reading.offset_percent
        uncertainty = 1.0
    else:
        uncertainty = SPECIES_UNCERTAINTY
        notes.append(
            f"{name}: {'+' if offset > 0.0 else ''}{figure(offset, 1)} points, an estimate; take the meter maker's table where you have it"
        )
    percent = max(temperature_corrected(reading.shown_percent, reading.wood_temperature_c) + offset, 0.0)
    if percent > FIBRE_SATURATION:
        notes.append("above fibre saturation a meter only says wet")
        uncertainty = max(uncertainty, 10.0)
    if reading.shown_percent < 7.0:
        notes.append("below 7 % a resistance meter is past its range")
    if reading.salty_or_treated:
        notes.append("salts or preservative raise the reading: the wood may be drier")
        uncertainty = max(uncertainty, 5.0)
    return CorrectedMoisture(percent, uncertainty, notes)

"""Materials, climates and indoor air to choose from."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from core.buildup.model import INDOOR_WORDS
from core.climate.data import shipped, shipped_names
from core.materials.library import APPROXIMATION, library
from server.climates import files as climates_of
from server.projects.models import ClimateFile

router = Router(tags=["library"])


class MaterialOut(Schema):
    """A library entry; fields that do not apply are null."""

    id: str
    kind: str
    name: str
    group: str
    hatch: str
    note: str
    mould_class: str
    sources: dict[str, str]
    conductivity_w_mk: float | None = None
    density_kg_m3: float | None = None
    mu: float | None = None
    w80_kg_m3: float | None = None
    free_saturation_kg_m3: float | None = None
    a_value_kg_m2s05: float | None = None
    sd_m: float | None = None
    sd_by_rh: list[list[float]] | None = None
    usual_thickness_mm: float | None = None
    capillary_active: bool = False
    family: str = ""
    weather: str = ""
    mu_wet: float | None = None


class ClimateOut(Schema):
    name: str
    label: str
    origin: str
    mean_temperature_c: float | None
    rain_mm: float | None
    design_temperature_c: float | None


class IndoorOut(Schema):
    name: str
    label: str


class LibraryOut(Schema):
    materials: list[MaterialOut]
    climates: list[ClimateOut]
    indoor: list[IndoorOut]
    approximation: str


LOST = " (hours lost, import the file again)"


def _climate_out(name: str) -> ClimateOut:
    climate = shipped(name)
    return ClimateOut(
        name=name,
        label=climate.label,
        origin=climate.origin,
        mean_temperature_c=float(climate["temperature_c"].mean()),
        rain_mm=float(climate["rain_mm"].sum()),
        design_temperature_c=climate.design_temperature_c,
    )


def _lost(row: ClimateFile) -> ClimateOut:
    """A climate whose hours are not on disk any more: it keeps its name in the lists."""
    label = f"{row.label}{LOST}"
    return ClimateOut(
        name=row.name,
        label=label,
        origin="imported from a file",
        mean_temperature_c=None,
        rain_mm=None,
        design_temperature_c=None,
    )


@router.get("/library", response=LibraryOut)
def read_library(request: HttpRequest) -> LibraryOut:
    materials = []
    for entry in library().values():
        values: dict[str, Any] = {
            name: value for name, value in entry.model_dump().items() if name in MaterialOut.model_fields
        }
        materials.append(MaterialOut(**values))
    own = {row.name: row for row in ClimateFile.objects.viewable_by(request.user)}
    indoor = [IndoorOut(name=word, label=label) for word, label in INDOOR_WORDS.items()]
    indoor += [
        IndoorOut(name=row.name, label=f"measured: {row.label}{'' if climates_of.there(row.name) else LOST}")
        for row in own.values()
        if row.kind == ClimateFile.INDOOR
    ]
    weather = [row for row in own.values() if row.kind == ClimateFile.WEATHER]
    climates = [_climate_out(name) for name in shipped_names()]
    climates += [_climate_out(row.name) for row in weather if climates_of.there(row.name)]
    climates += [_lost(row) for row in weather if not climates_of.there(row.name)]
    return LibraryOut(materials=materials, climates=climates, indoor=indoor, approximation=APPROXIMATION)

"""Weather and indoor air from files."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Literal

from django.http import HttpRequest
from ninja import File, Form, Router, Schema, UploadedFile

from core.climate import importer
from core.climate.importer import Mapping
from server.climates import files as climates_of
from server.projects.models import ClimateFile

router = Router(tags=["climates"])


class ClimateFileOut(Schema):
    """An imported file. report: hours filled by column, what was estimated, what was said, yearly figures."""

    id: int
    name: str
    kind: Literal["weather", "indoor"]
    label: str
    file_name: str
    imported_at: datetime
    report: importer.Report


class LookOut(Schema):
    delimiter: str
    decimal: str
    header_lines: int
    columns: list[importer.Guess]
    first_rows: list[list[str]]
    rows: int
    signature: str
    remembered: Mapping | None
    units: dict[str, dict[str, tuple[float, float]]]


@router.get("/climates", response=list[ClimateFileOut])
def list_climates(request: HttpRequest) -> list[ClimateFile]:
    """Weather and indoor air that I imported, newest first."""
    return list(ClimateFile.objects.viewable_by(request.user))


@router.post("/climates/look", response=LookOut)
def look_at_climate(request: HttpRequest, file: File[UploadedFile]) -> LookOut:
    """What a file looks like, and how one of its make was read before."""
    raw = climates_of.read_upload(file)
    seen = importer.look(raw)
    return LookOut(
        **asdict(seen), remembered=climates_of.remembered(request.user, seen.signature), units=importer.UNITS
    )


@router.post("/climates", response={201: ClimateFileOut})
def import_climate(request: HttpRequest, file: File[UploadedFile], mapping: Form[str]) -> tuple[int, ClimateFile]:
    """Read a file as mapped; refused with line and column where it does not fit, and nothing is kept then."""
    raw = climates_of.read_upload(file)
    return 201, climates_of.import_climate(request.user, raw, Mapping.model_validate_json(mapping), file.name or "")


@router.delete("/climates/{climate_id}", response={204: None})
def forget_climate(request: HttpRequest, climate_id: int) -> tuple[int, None]:
    climates_of.forget(request.user, climate_id)
    return 204, None

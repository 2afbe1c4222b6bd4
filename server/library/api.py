"""Materials, climates and indoor air to choose from."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Any, Literal

from django.http import Http404, HttpRequest, HttpResponse
from ninja import File, Router, Schema, UploadedFile

from core.buildup.kits import Kit, kits
from core.buildup.model import INDOOR_WORDS
from core.climate.data import shipped, shipped_names
from core.materials.library import APPROXIMATION, AirLayer, Sheet, Solid, entry_of, library
from core.materials.own import MADE_OF, DataSheet, rests_on
from core.materials.ranges import ranges
from core.moisture.curves import Curves, curves
from core.say import Said
from server.climates import files as climates_of
from server.library import own, suppliers
from server.library.models import Edition
from server.problems import Problem
from server.projects.models import ClimateFile
from server.projects.schemas import Body

router = Router(tags=["library"])
LARGEST_FILE = 1024 * 1024


class OwnOut(Schema):
    """That a material is my own: which one, its edition, whether a newer one is there and which, whether it is still offered."""

    material_id: int
    edition: int
    newest: str
    newest_edition: int
    retired: bool
    sheet: DataSheet | None
    filled: dict[str, str]
    by: str
    made_at: datetime


class MaterialOut(Schema):
    """A library entry; fields that do not apply are null. ranges: how far each value may be off. opening_mm2_m: of a gap, 0 for a still one."""

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
    durability_class: int | None = None
    absorptance: float | None = None
    rain_factor: float | None = None
    opening_mm2_m: float | None = None
    ranges: dict[str, list[float]] = {}
    own: OwnOut | None = None


class FamilyOut(Schema):
    """A kind of material, and what it is made of."""

    name: str
    made_of: str


class MadeOut(Schema):
    """What a data sheet comes to: the values, how each was understood, what was filled from where, which verdicts rest on that, what to
    look at again."""

    material: MaterialOut
    understood: dict[str, str]
    filled: dict[str, str]
    rests: Said
    odd: list[Said]
    nearest: str
    curves: Curves


class NewEdition(Body):
    """base_edition: the edition the change began from."""

    sheet: DataSheet
    base_edition: int


class Retired(Body):
    retired: bool


class UsedOut(Schema):
    places: list[str]


class BroughtOut(Schema):
    made: int
    known: int


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


class ArticleOut(Schema):
    """One thing that can be had, and the generic material it acts as."""

    name: str
    material: str
    thicknesses_mm: list[float]
    width_mm: float
    length_mm: float
    pack: int
    price_m2: float
    currency: str
    lead_weeks: float


class SupplierOut(Schema):
    name: str
    articles: list[ArticleOut]


class LibraryOut(Schema):
    """families: of materials one may enter, each with the generic ones that fill what is not stated."""

    materials: list[MaterialOut]
    families: list[FamilyOut]
    climates: list[ClimateOut]
    indoor: list[IndoorOut]
    approximation: str
    kits: list[Kit]


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


def material_out(entry: Solid | Sheet | AirLayer, own: OwnOut | None = None) -> MaterialOut:
    """An entry as the interface takes it, with the range of each value."""
    values: dict[str, Any] = {
        name: value
        for name, value in entry.model_dump(exclude={"ranges"}).items()
        if name in MaterialOut.model_fields and value is not None
    }
    return MaterialOut(**values, ranges={name: list(ends) for name, ends in ranges(entry).items()}, own=own)


def _own(request: HttpRequest) -> list[MaterialOut]:
    """Every edition of my materials: build-ups have older ones too."""
    rows = list(Edition.objects.viewable_by(request.user).select_related("material"))
    last = {row.material_id: row for row in rows}
    found: dict[str, MaterialOut] = {}
    for row in rows:
        newest = last[row.material_id]
        mine = OwnOut(
            material_id=row.material_id,
            edition=row.number,
            newest=newest.key,
            newest_edition=newest.number,
            retired=row.material.retired,
            sheet=DataSheet.model_validate(row.sheet) if row.sheet is not None else None,
            filled=row.filled,
            by=row.by,
            made_at=row.made_at,
        )
        found[row.key] = material_out(entry_of(row.key), mine)
    return list(found.values())


@router.get("/library", response=LibraryOut)
def read_library(request: HttpRequest) -> LibraryOut:
    materials = [material_out(entry) for entry in library().values()] + _own(request)
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
    return LibraryOut(
        materials=materials, families=[FamilyOut(name=family, made_of=made_of) for made_of, row in MADE_OF.items() for family in row], climates=climates, indoor=indoor, approximation=APPROXIMATION,
        kits=kits(),
    )  # fmt: skip


@router.get("/library/suppliers", response=list[SupplierOut])
def list_suppliers(request: HttpRequest) -> list[SupplierOut]:
    """What can be had, where a supplier's list is attached."""
    one = suppliers.attached()
    if one is None:
        return []
    return [SupplierOut(name=one.name, articles=[ArticleOut(**asdict(article)) for article in one.articles()])]


@router.get("/library/curves/{material_key}", response=Curves)
def read_curves(request: HttpRequest, material_key: str) -> Curves:
    """What a material does by RH, with the span of its family; generic, or my own."""
    mine = Edition.objects.viewable_by(request.user).filter(key=material_key).exists()
    entry = entry_of(material_key) if mine else library().get(material_key)
    if entry is None or isinstance(entry, AirLayer):
        raise Http404
    return curves(entry)


@router.post("/library/look", response=MadeOut)
def look_at_sheet(request: HttpRequest, body: DataSheet) -> MadeOut:
    """What a data sheet would come to; nothing is kept."""
    made = own.understood(body)
    return MadeOut(
        material=material_out(made.entry),
        understood=made.understood,
        filled=made.filled,
        rests=rests_on(made.filled, entry_of(made.nearest).name),
        odd=made.odd,
        nearest=made.nearest,
        curves=curves(made.entry),
    )


@router.post("/library/materials", response={201: MaterialOut})
def create_material(request: HttpRequest, body: DataSheet) -> tuple[int, MaterialOut]:
    return 201, _out(request, own.make(request.user, body))


@router.put("/library/materials/{material_id}", response=MaterialOut)
def change_material(request: HttpRequest, material_id: int, body: NewEdition) -> MaterialOut:
    """A new edition. What was computed stands on the one it was computed with."""
    return _out(request, own.change(request.user, material_id, body.base_edition, body.sheet))


@router.put("/library/materials/{material_id}/listed", response={204: None})
def retire_material(request: HttpRequest, material_id: int, body: Retired) -> tuple[int, None]:
    """Off the list that is offered, or on it again; build-ups that have it keep it."""
    own.retire(request.user, material_id, back=not body.retired)
    return 204, None


@router.get("/library/materials/{material_id}/used", response=UsedOut)
def material_used(request: HttpRequest, material_id: int) -> UsedOut:
    rows = Edition.objects.viewable_by(request.user).filter(material_id=material_id)
    if not rows:
        raise Http404
    return UsedOut(places=own.where_used(request.user, [row.key for row in rows]))


@router.post("/library/bring", response=BroughtOut)
def bring_materials(request: HttpRequest, file: File[UploadedFile]) -> BroughtOut:
    """Data sheets out of a CSV, or what this program exported as JSON; all of them or none."""
    if (file.size or 0) > LARGEST_FILE:
        raise Problem(413, "file_too_large", "The file is larger than 1 MB.", "Split it.")
    brought = own.bring(request.user, file.read())
    return BroughtOut(made=brought.made, known=brought.known)


@router.get("/library/export")
def export_materials(request: HttpRequest, form: Literal["csv", "json"] = "csv") -> HttpResponse:
    text = own.as_csv(request.user) if form == "csv" else own.as_json(request.user)
    response = HttpResponse(text, content_type="text/csv; charset=utf-8" if form == "csv" else "application/json")
    response["Content-Disposition"] = f'attachment; filename="my-materials.{form}"'
    return response


def _out(request: HttpRequest, edition: Edition) -> MaterialOut:
    return next(one for one in _own(request) if one.id == edition.key)

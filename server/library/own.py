"""Materials of one's own: found for the core, made, changed into a new edition, taken off the list, carried in and out."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import Q
from django.http import Http404
from pydantic import ValidationError

from core.buildup.model import BuildUp
from core.case import describe_problems
from core.errors import OutOfRange
from core.materials.library import Sheet, Solid, is_own, know
from core.materials.own import PROPERTIES, DataSheet, Made, material_from, sealed
from server.library.models import Edition, OwnMaterial
from server.problems import Problem
from server.projects.models import Option, Project, name_of, signed_in
from server.projects.permissions import User

MOST_MATERIALS = 500  # of one person
COLUMNS = ("name", "family", "thickness", "conductivity", "density", "specific_heat", "vapour", "water_80", "free_water",
           "uptake", "emissivity", "nearest", "source", "dated", "weather", "note")  # fmt: skip


def find(key: str) -> Solid | Sheet | None:
    """For the core: the entry of an id, whoever's it is. Who may name it is asked where a build-up comes in."""
    row = Edition.objects.filter(key=key).first()
    if row is None:
        return None
    entry = sealed(row.entry)
    return entry if entry.id == key else None


def named_by(build_up: dict[str, Any] | BuildUp | None) -> set[str]:
    """Ids of own materials that the layers and their framing name."""
    if build_up is None:
        return set()
    raw = build_up.model_dump(mode="json") if isinstance(build_up, BuildUp) else build_up
    found = set()
    for layer in raw.get("layers", []):
        names = (layer.get("material"), (layer.get("framing") or {}).get("material"))
        found |= {name for name in names if isinstance(name, str) and is_own(name)}
    return found


def check_materials(project: Project, build_up: BuildUp, before: dict[str, Any] | BuildUp | None = None) -> None:
    """Own materials that a build-up names are its owner's; what stood there before may stay."""
    check_mine(project.owner, named_by(build_up) - named_by(before))


def check_mine(owner: User, named: set[str]) -> None:
    """Every one of these own materials is this person's."""
    if named - set(
        Edition.objects.viewable_by(owner).filter(key__in=named).values_list("key", flat=True) if named else ()
    ):
        raise Problem(422, "no_such_material", "A material is named that is not in the library.", "Choose another one.")


def understood(sheet: DataSheet) -> Made:
    """A data sheet as a material. Raises Problem with what cannot be."""
    try:
        return material_from(sheet)
    except OutOfRange as error:
        raise Problem(
            422, "no_material", f"{error.message[:1].upper()}{error.message[1:]}.", "Correct that value."
        ) from error


def make(user: User, sheet: DataSheet) -> Edition:
    """A material more."""
    made = understood(sheet)
    with transaction.atomic():
        return _add(user, made, sheet)


def _add(user: User, made: Made, sheet: DataSheet) -> Edition:
    if OwnMaterial.objects.editable_by(user).count() >= MOST_MATERIALS:
        raise Problem(
            422, "too_many", f"{MOST_MATERIALS} materials of your own are the most.", "Take some off the list."
        )
    return _write(OwnMaterial.objects.create(owner=signed_in(user)), 1, made, sheet, user)


@transaction.atomic
def change(user: User, material_id: int, base_number: int, sheet: DataSheet) -> Edition:
    """A new edition; build-ups keep the one they have. Nothing changed: the edition there is."""
    made = understood(sheet)
    material = _mine(user, material_id)
    last = material.editions.last()
    assert last is not None
    if last.number != base_number:
        raise Problem(
            409,
            "changed_meanwhile",
            f"“{last.entry['name']}” has an edition {last.number} since you began.",
            "Look at it first.",
        )
    if last.key == made.entry.id:
        return last
    return _write(material, last.number + 1, made, sheet, user)


def _write(material: OwnMaterial, number: int, made: Made, sheet: DataSheet | None, user: User) -> Edition:
    know(made.entry)
    return Edition.objects.create(
        material=material,
        number=number,
        key=made.entry.id,
        entry=made.entry.model_dump(mode="json"),
        sheet=sheet.model_dump(mode="json") if sheet is not None else None,
        filled=made.filled,
        by=name_of(user),
    )


def _mine(user: User, material_id: int) -> OwnMaterial:
    row = OwnMaterial.objects.editable_by(user).select_for_update().filter(pk=material_id).first()
    if row is None:
        raise Http404
    return row


def where_used(user: User, keys: Iterable[str]) -> list[str]:
    """“Option of element, project” for each of this person's options that has one of these, at most twenty."""
    wanted, found = set(keys), []
    rows = Option.objects.viewable_by(user).select_related("element__project")
    for key in wanted:
        rows_of = rows.filter(Q(build_up__icontains=key) | Q(draft__icontains=key))
        for row in rows_of[:20]:
            found.append(f"“{row.name}” of {row.element.name}, {row.element.project.name}")
    return sorted(set(found))[:20]


@transaction.atomic
def retire(user: User, material_id: int, back: bool = False) -> OwnMaterial:
    """Off the list, or on it again. Build-ups that have it keep it."""
    material = _mine(user, material_id)
    material.retired = not back
    material.save(update_fields=["retired"])
    return material


# --- in and out -----------------------------------------------------------------------------------


@dataclass(frozen=True)
class Brought:
    """What an import made: how many are new, and how many were there already."""

    made: int
    known: int


def as_json(user: User) -> str:
    """My materials as they were typed, newest editions, with their values."""
    rows = [{"sheet": row.sheet, "entry": row.entry, "edition": row.number} for row in newest(user)]
    return json.dumps(
        {"format": "wendrick-own-materials", "version": 1, "materials": rows}, indent=1, ensure_ascii=False
    )


def as_csv(user: User) -> str:
    """My materials as data sheets, one a row; those that came with a project file have their values in SI."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS)
    writer.writeheader()
    for row in newest(user):
        writer.writerow({name: guarded(value) for name, value in sheet_of(row).items()})
    return out.getvalue()


def guarded(value: Any) -> Any:
    """A text that a spreadsheet would reckon out is written behind an apostrophe."""
    return f"'{value}" if isinstance(value, str) and value[:1] in "=+-@\t\r" else "" if value is None else value


def sheet_of(row: Edition) -> dict[str, Any]:
    """What was typed; from the values where nothing was."""
    if row.sheet is not None:
        return {name: row.sheet.get(name) for name in COLUMNS}
    entry = sealed(row.entry)
    found: dict[str, Any] = {"name": entry.name, "family": entry.family, "note": entry.note, "weather": entry.weather}
    if isinstance(entry, Solid):
        found.update(
            thickness=f"{entry.usual_thickness_mm:g} mm",
            conductivity=f"{entry.conductivity_w_mk:.6g} W/mK",
            density=f"{entry.density_kg_m3:.6g} kg/m³",
            specific_heat=f"{entry.specific_heat_j_kgk:g} J/kgK",
            vapour=f"μ {entry.mu:.6g}" + (f"/{entry.mu_wet:.6g}" if entry.mu_wet else ""),
            water_80=f"{entry.w80_kg_m3:.6g} kg/m³",
            free_water=f"{entry.free_saturation_kg_m3:.6g} kg/m³",
            uptake=f"{entry.a_value_kg_m2s05:.6g} kg/m²√s" if entry.a_value_kg_m2s05 else "none",
        )
    elif entry.sd_m is not None:
        found["vapour"] = f"sd {entry.sd_m:.6g} m"
    return {name: found.get(name) for name in COLUMNS}


def newest(user: User) -> list[Edition]:
    """The last edition of each of my materials that is on the list."""
    found = {}
    for row in Edition.objects.viewable_by(user).filter(material__retired=False).select_related("material"):
        found[row.material_id] = row
    return list(found.values())


def bring(user: User, raw: bytes) -> Brought:
    """Materials out of a CSV of data sheets or a JSON of this program; all of them or none, each fault with its row.

    All is read and worked out before anything is written, so that nobody waits for the database meanwhile.
    """
    text = _text(raw)
    rows = _from_json(text) if text.lstrip().startswith(("{", "[")) else _from_csv(text)
    found: dict[str, tuple[DataSheet, Made]] = {}
    known = 0
    there = set(Edition.objects.viewable_by(user).values_list("key", flat=True))
    for where, sheet in rows:
        try:
            made = understood(sheet)
        except Problem as problem:
            raise Problem(
                422, "file_refused", f"{where}: {problem.message}", "Correct it; nothing was changed."
            ) from problem
        if made.entry.id in there or made.entry.id in found:
            known += 1
        else:
            found[made.entry.id] = (sheet, made)
    with transaction.atomic():
        for sheet, made in found.values():
            _add(user, made, sheet)
    return Brought(len(found), known)


def _text(raw: bytes) -> str:
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise Problem(422, "file_refused", "The file is no text in UTF-8.", "Save it as CSV in UTF-8.") from error


def _from_csv(text: str) -> list[tuple[str, DataSheet]]:
    head = text.partition("\n")[0]
    rows = list(csv.DictReader(io.StringIO(text), delimiter=";" if head.count(";") > head.count(",") else ","))
    if not rows or "name" not in rows[0] or "family" not in rows[0]:
        raise Problem(
            422,
            "file_refused",
            "A row of heads with “name” and “family” is missing.",
            f"Heads are: {', '.join(COLUMNS)}.",
        )
    if len(rows) > MOST_MATERIALS:
        raise Problem(422, "file_refused", f"The file has {len(rows)} rows.", f"{MOST_MATERIALS} are the most.")
    found = []
    for number, row in enumerate(rows, 2):
        values = {name: (row.get(name) or "").strip().removeprefix("'") for name in COLUMNS}
        values["dated"], values["weather"] = values["dated"] or None, values["weather"] or None
        found.append((f"Row {number}", _sheet(values, f"Row {number}")))
    return found


def _from_json(text: str) -> list[tuple[str, DataSheet]]:
    try:
        raw = json.loads(text)
        rows = raw["materials"]
        sheets = [row["sheet"] for row in rows]
    except (ValueError, KeyError, TypeError, RecursionError) as error:
        raise Problem(
            422, "file_refused", "The file is no list of materials of this program.", "Export it again."
        ) from error
    if len(sheets) > MOST_MATERIALS:
        raise Problem(422, "file_refused", f"The file has {len(sheets)} materials.", f"{MOST_MATERIALS} are the most.")
    return [(f"Material {n}", _sheet(sheet, f"Material {n}")) for n, sheet in enumerate(sheets, 1) if sheet is not None]


def _sheet(values: Any, where: str) -> DataSheet:
    try:
        return DataSheet.model_validate(values)
    except ValidationError as error:
        raise Problem(
            422, "file_refused", f"{where}: {describe_problems(error)}", "Correct it; nothing was changed."
        ) from error


def carried(project: Project) -> list[dict[str, Any]]:
    """Own materials that the build-ups of a project have, for its file."""
    keys: set[str] = set()
    for option in Option.objects.filter(element__project=project):
        keys |= named_by(option.build_up) | named_by(option.draft)
    found: dict[str, Edition] = {}
    rows = Edition.objects.filter(key__in=keys).order_by("pk").select_related("material")
    for row in rows:  # my own row before somebody else's of the same content
        if row.key not in found or row.material.owner_id == project.owner_id:
            found[row.key] = row
    return [{"entry": row.entry, "sheet": row.sheet, "filled": row.filled} for _, row in sorted(found.items())]


def keep_carried(user: User, rows: list[tuple[Solid | Sheet, DataSheet | None, dict[str, str]]]) -> None:
    """Materials out of a project file that this person has not yet."""
    there = set(Edition.objects.viewable_by(user).values_list("key", flat=True))
    for entry, sheet, filled in rows:
        if entry.id in there:
            continue
        material = OwnMaterial.objects.create(owner=signed_in(user))
        _write(material, 1, Made(entry, {}, filled, [], ""), sheet, user)


assert set(PROPERTIES) < set(COLUMNS)

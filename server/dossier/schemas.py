"""What the dossier asks and answers."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from core.brief import RoleEntry
from core.say import Said
from server.dossier.asked import Kind
from server.dossier.lists import ListKey
from server.dossier.paper.page import Sheet, System
from server.projects.schemas import Body


class ReportBody(Body):
    kind: Kind
    system: System = "metric"
    sheet: Sheet = "a4"


class SignatureBody(Body):
    name: Annotated[str, Field(min_length=1, max_length=150)]
    role: Annotated[str, Field(min_length=1, max_length=120)]
    on: date


class SignatureOut(Schema):
    id: int
    name: str
    role: str
    on: date
    by: str
    sha256: str
    holds: bool  # the file is still the one that was signed


class ReportOut(Schema):
    """state: waiting, making, made, failed, cancelled, lost (its file is gone). current: nothing changed since."""

    id: int
    kind: Kind
    title: str
    system: System
    sheet: Sheet
    asked_by: str
    asked_at: datetime
    made_at: datetime | None
    state: Literal["waiting", "making", "made", "failed", "cancelled", "lost"]
    progress: float
    doing: str
    error: str
    current: bool
    hash: str
    sha256: str
    pages: int
    size: int
    signatures: list[SignatureOut]


class Content(Schema):
    """A part of the dossier and how much of it there is."""

    name: str
    words: str


class KindOut(Schema):
    kind: Kind
    title: str


class DossierOut(Schema):
    hash: str
    contents: list[Content]
    missing: list[str]
    roles: list[RoleEntry]
    kinds: list[KindOut]


class ListColumn(Schema):
    head: Said
    figure: bool
    wide: float


class ListOut(Schema):
    """rows and totals as a table shows them, in both unit systems."""

    key: ListKey
    name: str
    columns: list[ListColumn]
    rows: list[list[Said]]
    elements: list[int | None]
    totals: list[Said]
    note: str
    empty: str

"""The verification page: each case computed on demand, computed against reference."""

from __future__ import annotations

from dataclasses import asdict

from django.http import Http404, HttpRequest
from ninja import Router, Schema

router = Router(tags=["verification"])


class VerifyRow(Schema):
    """error and limit in the unit of the quantity, or relative."""

    case: str
    quantity: str
    unit: str
    computed: float
    reference: float
    error: float
    limit: float
    source: str
    relative: bool
    passed: bool


class Picture(Schema):
    title: str
    x: str
    y: str
    computed: list[tuple[float, float]]
    reference: list[tuple[float, float]]


class VerifyAnswer(Schema):
    """Comparisons, and the points that can be drawn."""

    rows: list[VerifyRow]
    pictures: list[Picture]


class VerifyCase(Schema):
    name: str
    title: str
    about: str


@router.get("/verification", response=list[VerifyCase])
def list_cases(request: HttpRequest) -> list[VerifyCase]:
    from core.cases.verify import TITLES

    return [VerifyCase(name=name, title=title, about=about) for name, (title, about) in TITLES.items()]


@router.post("/verification/{name}", response=VerifyAnswer)
def run_case(request: HttpRequest, name: str) -> VerifyAnswer:
    """Compute a case now; a few seconds at most."""
    from core.cases.verify import CASES

    if name not in CASES:
        raise Http404
    from core.cases.compared import Row

    found = list(CASES[name]())
    return VerifyAnswer(
        rows=[VerifyRow(**asdict(row), passed=row.passed) for row in found if isinstance(row, Row)],
        pictures=[Picture(**asdict(picture)) for picture in found if not isinstance(picture, Row)],
    )

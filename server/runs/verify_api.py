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


class VerifyCase(Schema):
    name: str
    title: str
    about: str


@router.get("/verification", response=list[VerifyCase])
def list_cases(request: HttpRequest) -> list[VerifyCase]:
    from core.cases.verify import TITLES

    return [VerifyCase(name=name, title=title, about=about) for name, (title, about) in TITLES.items()]


@router.post("/verification/{name}", response=list[VerifyRow])
def run_case(request: HttpRequest, name: str) -> list[VerifyRow]:
    """Compute a case now; a few seconds at most."""
    from core.cases.verify import CASES

    if name not in CASES:
        raise Http404
    return [VerifyRow(**asdict(row), passed=row.passed) for row in CASES[name]()]

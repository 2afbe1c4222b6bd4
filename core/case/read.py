"""A case from text or plain data: every problem told with its place, every reference followed."""

from __future__ import annotations

import json
from typing import Any

from pydantic import ValidationError

from core.case.parts import describe_problems
from core.case.resolve import check_references
from core.case.whole import Case
from core.errors import CaseRefused


def read_case(text: str | bytes) -> Case:
    """A case from JSON text, taken at its word: `true` is no thickness, and `"no"` no switch. Raises CaseRefused with every problem and its place."""
    try:
        json.loads(text, parse_constant=_refuse_constant)
    except (ValueError, RecursionError) as error:
        raise CaseRefused(f"the file is not complete JSON: {error}") from error
    try:
        case = Case.model_validate_json(text, strict=True)
    except ValidationError as error:
        raise CaseRefused(describe_problems(error)) from error
    check_references(case)
    return case


def case_from_dict(raw: Any) -> Case:
    """A case from plain data, references checked. Raises CaseRefused."""
    try:
        case = Case.model_validate(raw)
    except ValidationError as error:
        raise CaseRefused(describe_problems(error)) from error
    check_references(case)
    return case


def _refuse_constant(name: str) -> float:
    raise ValueError(f"{name} is not a number a case may hold")

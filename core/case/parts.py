"""What every part of a case is made of: strict frozen models, bounded numbers, and how their problems are told."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, ValidationError
from pydantic_core import ErrorDetails

RH_FLOOR = 0.001
Positive = Annotated[float, Field(gt=0)]
NonNegative = Annotated[float, Field(ge=0)]
Humidity = Annotated[float, Field(ge=RH_FLOOR, le=1.0)]
Celsius = Annotated[float, Field(ge=-60.0, le=100.0)]


class Strict(BaseModel):
    """Unknown fields, NaN and infinity are refused; instances are frozen."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


def increasing(values: list[float], what: str) -> None:
    for first, second in zip(values, values[1:], strict=False):
        if second <= first:
            raise ValueError(f"{what} must rise from row to row without overlap; {second:g} follows {first:g}")


def monotone(values: list[float], what: str, rising: bool) -> None:
    for first, second in zip(values, values[1:], strict=False):
        if (second < first) if rising else (second > first):
            raise ValueError(f"{what} is not monotone: {second:g} follows {first:g}")


NOT_AS_WRITTEN = frozenset({"float_type", "int_type", "bool_type", "string_type"})


def not_as_written(model: type[BaseModel], text: str | bytes) -> str:
    """What a file says in another kind than is meant, as lines “place: what is wrong”: `true` is no thickness, `"0.08"` no number, `"no"` no switch. Empty where
    nothing does; dates and lists in a file are text and lists, and stay so."""
    try:
        model.model_validate_json(text, strict=True)
    except ValidationError as error:
        return _lines([one for one in error.errors(include_url=False) if one["type"] in NOT_AS_WRITTEN])
    return ""


def describe_problems(error: ValidationError) -> str:
    """Pydantic's findings as lines “place: what is wrong”."""
    return _lines(error.errors(include_url=False))


def _lines(problems: list[ErrorDetails]) -> str:
    lines = []
    for problem in problems[:12]:
        place = ".".join(str(part) for part in problem["loc"]) or "whole file"
        got = problem.get("input")
        shown = f" (got {got!r})" if isinstance(got, int | float | str) and len(repr(got)) < 60 else ""
        lines.append(f"{place}: {problem['msg'].removeprefix('Value error, ')}{shown}")
    return "\n".join(lines)

"""What every part of a case is made of: strict frozen models, bounded numbers, and how their problems are told."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, ValidationError

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


def describe_problems(error: ValidationError) -> str:
    """Pydantic's findings as lines “place: what is wrong”."""
    lines = []
    for problem in error.errors(include_url=False)[:12]:
        place = ".".join(str(part) for part in problem["loc"]) or "whole file"
        got = problem.get("input")
        shown = f" (got {got!r})" if isinstance(got, int | float | str) and len(repr(got)) < 60 else ""
        lines.append(f"{place}: {problem['msg'].removeprefix('Value error, ')}{shown}")
    return "\n".join(lines)

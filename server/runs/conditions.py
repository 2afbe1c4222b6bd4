"""The conditions that options stand on, from their newest studies, and what was measured of them since."""

from __future__ import annotations

from datetime import date
from functools import lru_cache

from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import TypeAdapter, ValidationError

from core.study import Condition, ConditionCheck, InputName, StudySummary
from server.problems import Problem
from server.projects.models import Element, HistoryEntry, Option, name_of
from server.projects.permissions import User, editable_option, viewable_element
from server.projects.schemas import Body
from server.runs.batch_api import batch_out
from server.runs.models import Batch, Run
from server.runs.verdicts import limits_of

router = Router(tags=["conditions"])
_CHECKS = TypeAdapter(list[ConditionCheck])


class StandsOn(Schema):
    """One condition of an option. holds: whether what was measured keeps it; None while nothing was."""

    condition: Condition
    check: ConditionCheck | None
    holds: bool | None


class OptionStands(Schema):
    """runs: draws of the study; over: those over a limit. out_of_date: the option, as found or its place changed since."""

    option_id: int
    option: str
    runs: int
    over: int
    out_of_date: bool
    stands: list[StandsOn]


class CheckBody(Body):
    measured: float
    proof: str = ""
    on: date | None = None
    note: str = ""


def checks_of(option: Option) -> dict[str, ConditionCheck]:
    """What was measured, by condition; what is kept and cannot be read is left out."""
    try:
        return {check.name: check for check in _CHECKS.validate_python(option.checks)}
    except ValidationError:
        return {}


@lru_cache(maxsize=256)
def _study(batch_id: int, done: int, limits: tuple[tuple[str, float], ...]) -> StudySummary | None:
    """Again only when a run has ended or a limit has moved."""
    return batch_out(Batch.objects.select_related("element__project", "option").get(pk=batch_id)).study


def conditions_of(element: Element) -> list[OptionStands]:
    """Of each option that has a study; the newest counts."""
    limits = tuple(sorted(limits_of(element.project).items()))
    found: dict[int, OptionStands] = {}
    for batch in element.batches.filter(kind=Batch.STUDY).select_related("option", "element__project"):
        option = batch.option
        if option is None or option.pk in found:
            continue
        study = _study(batch.pk, batch.runs.filter(status=Run.DONE).count(), limits)
        checks = checks_of(option)
        stands = [
            StandsOn(
                condition=one,
                check=(check := checks.get(one.name)),
                holds=None if check is None else check.holds(one),
            )
            for one in (study.conditions if study is not None else [])
        ]
        found[option.pk] = OptionStands(
            option_id=option.pk,
            option=option.name,
            runs=study.runs if study is not None else 0,
            over=study.over if study is not None else 0,
            out_of_date=batch.out_of_date,
            stands=stands,
        )
    return sorted(found.values(), key=lambda one: one.option_id)


@transaction.atomic
def write_check(user: User, option_id: int, name: InputName, body: CheckBody | None) -> Option:
    """What was measured of a condition, in place of what was before; None takes it back."""
    option = editable_option(user, option_id)
    checks = checks_of(option)
    before = checks.pop(name, None)
    if body is not None:
        try:
            checks[name] = ConditionCheck.model_validate({**body.model_dump(), "name": name, "by": name_of(user)})
        except ValidationError as error:
            first = error.errors()[0]
            raise Problem(422, "invalid", f"{first['loc'][0]}: {first['msg']}.", "Correct it and try again.") from error
    option.checks = [check.model_dump(mode="json") for check in checks.values()]
    option.save(update_fields=["checks"])
    now = checks.get(name)
    words = f"{name} of “{option.name}”: " + (f"{now.words().metric} measured" if now is not None else "taken back")
    HistoryEntry.write(
        option.element.project, user, "check condition", words, option,
        {"measured": before.measured if before else None}, {"measured": now.measured if now else None},
    )  # fmt: skip
    return option


@router.get("/elements/{element_id}/conditions", response=list[OptionStands])
def read_conditions(request: HttpRequest, element_id: int) -> list[OptionStands]:
    """What each studied option stands on, and what was measured of it since."""
    return conditions_of(viewable_element(request.user, element_id))


@router.put("/options/{option_id}/conditions/{name}", response=list[OptionStands])
def check_condition(request: HttpRequest, option_id: int, name: InputName, body: CheckBody) -> list[OptionStands]:
    return conditions_of(write_check(request.user, option_id, name, body).element)


@router.delete("/options/{option_id}/conditions/{name}", response=list[OptionStands])
def take_check_back(request: HttpRequest, option_id: int, name: InputName) -> list[OptionStands]:
    return conditions_of(write_check(request.user, option_id, name, None).element)

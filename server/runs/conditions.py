"""The conditions that options stand on, from their newest studies, and what was measured of them since."""

from __future__ import annotations

from datetime import date
from functools import lru_cache

from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import TypeAdapter, ValidationError

from core.errors import CoreError
from core.measure.blower_door import BlowerDoorTest, airtightness
from core.measure.uptake import UptakeReading, measured_uptake
from core.say import uptake
from core.study import Condition, ConditionCheck, InputName, StudySummary, coldest_month_rh
from server.problems import Problem
from server.projects.lines import line_after, measured_in
from server.projects.models import Element, HistoryEntry, Option, name_of
from server.projects.permissions import User, editable_option, viewable_element
from server.projects.schemas import Body
from server.runs.batch_api import batch_out
from server.runs.models import Batch, Run
from server.runs.verdicts import limits_of
from server.survey.figures import uptake_layer
from server.survey.models import Measurement

router = Router(tags=["conditions"])
_CHECKS = TypeAdapter(list[ConditionCheck])


class Offer(Schema):
    """A reading of the survey in the terms of a condition: what it measured, by what, when; note: what it is of."""

    measured: float
    proof: str
    on: date | None
    note: str


class StandsOn(Schema):
    """One condition of an option. holds: whether what was measured keeps it; None while nothing was. offers: newest first."""

    condition: Condition
    check: ConditionCheck | None
    holds: bool | None
    offers: list[Offer] = []


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


def _offers(element: Element) -> dict[str, list[Offer]]:
    """The readings there are that speak of a condition, by its name."""
    found: dict[str, list[Offer]] = {}
    rows = element.project.measurements.filter(kind__in=(Measurement.BLOWER_DOOR, Measurement.UPTAKE))
    read = list(reversed(rows.select_related("element")))
    lines = measured_in(element.project) if any(row.kind == Measurement.BLOWER_DOOR for row in read) else ()
    for row in read:
        try:
            if row.kind == Measurement.BLOWER_DOOR:
                line = lines[line_after(element.project, row.stage, row.measured_on)]
                test = BlowerDoorTest.model_validate(row.data)
                shell = airtightness(test, line.volume_m3, line.envelope_m2).q_envelope_50
                if shell is not None:
                    offer = Offer(
                        measured=float(f"{shell.value:.3g}"),
                        proof="blower door",
                        on=row.measured_on,
                        note="mean of the whole shell; this element alone was not measured",
                    )
                    found.setdefault("air leakage", []).append(offer)
            elif row.element_id == element.pk:
                reading = UptakeReading.model_validate(row.data)
                layer, solid = uptake_layer(element, reading.layer)
                measured = measured_uptake(reading, solid.free_saturation_kg_m3).a_value_kg_m2s05
                taken = layer.a_value_kg_m2s05 or solid.a_value_kg_m2s05 or measured
                offer = Offer(
                    measured=float(f"{measured / taken:.3g}"),
                    proof=f"water uptake of {solid.name}",
                    on=row.measured_on,
                    note=f"of this layer, against A {uptake(taken).metric} in the runs",
                )
                found.setdefault("A-value", []).append(offer)
        except (CoreError, ValidationError):
            continue  # its own row says why it is worth nothing
    if element.place.profile == "measured":
        month, humidity = coldest_month_rh(element.place)
        offer = Offer(
            measured=float(f"{humidity * 100.0:.3g}"),
            proof="logger in the room",
            on=None,
            note=f"mean of {month}, of the series the runs take",
        )
        found["indoor moisture"] = [offer]
    return found


@lru_cache(maxsize=256)
def _study(batch_id: int, done: int, limits: tuple[tuple[str, float], ...]) -> StudySummary | None:
    """Again only when a run has ended or a limit has moved."""
    return batch_out(Batch.objects.select_related("element__project", "option").get(pk=batch_id)).study


def conditions_of(element: Element) -> list[OptionStands]:
    """Of each option that has a study; the newest counts."""
    limits = tuple(sorted(limits_of(element.project).items()))
    offers = _offers(element)
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
                offers=offers.get(one.name, []),
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

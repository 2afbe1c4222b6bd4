"""One action per use case of the options sheet: checks permission, changes in one transaction, writes one history entry."""

from __future__ import annotations

import json
from typing import Any

from django.db import transaction
from django.http import Http404
from django.utils import timezone
from pydantic import ValidationError

from core.buildup.levers import LEVERS, LeverKey, with_lever
from core.buildup.model import BuildUp
from core.buildup.transplant import transplant
from core.buildup.variants import membrane_variants
from core.criteria.judging import checked_limits
from core.criteria.registry import LIMITS
from core.errors import OutOfRange
from server.library.own import check_materials
from server.options.schemas import ChoiceSeen, LimitsBody, NewOption, OptionBody
from server.problems import Problem
from server.projects.models import Element, HistoryEntry, Option, Project, name_of
from server.projects.permissions import User, editable_element, editable_option, editable_project
from server.projects.photos_named import check_photos, layer_photos


@transaction.atomic
def edit_limits(user: User, project_id: int, body: LimitsBody) -> Project:
    """Limits that differ from their defaults; verdicts follow at once, without a run."""
    project = editable_project(user, project_id)
    edited = {limit.key: limit.value for limit in body.limits}
    values = checked_limits(LIMITS, edited)  # refuses what is no limit, or out of its range
    defaults = checked_limits(LIMITS, {})
    project.limits = {key: value for key, value in values.items() if value != defaults[key]}
    project.save(update_fields=["limits", "changed_at"])
    HistoryEntry.write(project, user, "edit limits", f"{len(project.limits)} limits differ from their defaults")
    return project


@transaction.atomic
def try_lever(user: User, option_id: int, key: LeverKey) -> Element:
    """A new option: this one with something outside that keeps the rain out."""
    option = editable_option(user, option_id)
    element = option.element
    build_up = with_lever(option.current, key)
    name = f"{option.name[:70]}, with {LEVERS[key].split(',')[0]}"
    element.add_option(name[:120], build_up, option.school)
    HistoryEntry.write(element.project, user, "try lever", f"added “{name[:120]}” to “{element.name}”")
    return element


def _check_stated(build_up: BuildUp) -> None:
    """Only what was found may be unknown; an option is drawn."""
    if not build_up.is_stated:
        raise Problem(422, "no_layers", "An option without layers is no option.", "Draw its layers.")


@transaction.atomic
def create_option(user: User, element_id: int, fields: NewOption) -> Option:
    element = editable_element(user, element_id)
    _check_stated(fields.build_up)
    if not element.has_build_up:
        raise Problem(422, "no_build_up", f"A {element.kind} has no layers.", "State its U-value in Survey.")
    check_photos(element.project, layer_photos(fields.build_up), layer_photos(element.as_found.build_up))
    check_materials(element.project, fields.build_up, element.as_found.build_up)
    option = element.add_option(fields.name, fields.build_up, fields.school)
    HistoryEntry.write(element.project, user, "add option", f"added “{option.name}” to “{element.name}”")
    return option


@transaction.atomic
def spread_option(user: User, option_id: int, element_ids: list[int]) -> list[tuple[Element, Option | None, str]]:
    """The same on other elements of the project: each gets the option on its own construction, or the reason why not."""
    source = editable_option(user, option_id)
    if source.role == Option.AS_FOUND:
        raise Problem(422, "as_found", "As found is given by Construction.", "Choose one of the options.")
    project = source.element.project
    found: list[tuple[Element, Option | None, str]] = []
    rows = project.elements.filter(pk__in=set(element_ids) - {source.element_id}).prefetch_related("options")
    for element in rows:
        if not element.has_build_up:
            found.append((element, None, f"a {element.kind} has no layers"))
            continue
        try:
            build_up = transplant(source.element.as_found.current, source.current, element.as_found.current)
        except (OutOfRange, ValidationError) as error:
            found.append((element, None, getattr(error, "message", str(error))))
            continue
        found.append((element, element.add_option(source.name, build_up, source.school), ""))
    made = [element.name for element, option, _ in found if option is not None]
    if made:
        HistoryEntry.write(project, user, "spread option", f"put “{source.name}” on {', '.join(made)}"[:300], source)
    return found


@transaction.atomic
def compare_membranes(user: User, option_id: int) -> Element:
    """Beside an option, the same with every other inner membrane. What is there already is not made twice."""
    option = editable_option(user, option_id)
    element = option.element
    rows = list(element.options.all())
    known = [[layer.material for layer in row.current.layers] for row in rows]
    made = 0
    for words, build_up in membrane_variants(option.current):
        if [layer.material for layer in build_up.layers] in known:
            continue
        made += 1
        element.add_option(f"{option.name[: 118 - len(words)]}: {words}", build_up, option.school)
    if made:
        words = f"set {made} membranes beside “{option.name}” of “{element.name}”"
        HistoryEntry.write(element.project, user, "compare membranes", words)
    return element


@transaction.atomic
def commit_option(user: User, option_id: int, body: OptionBody) -> Option:
    """The edit becomes the option. Refused with 409 when somebody committed in the meantime."""
    option = editable_option(user, option_id)
    if option.revision != body.revision:
        raise Problem(
            409,
            "changed_meanwhile",
            f"“{option.name}” was changed in another window since you began.",
            "Your edit is kept here. Take theirs, or keep yours as a new option.",
            revision=option.revision,
        )
    if option.role != Option.AS_FOUND:
        _check_stated(body.build_up)
    check_photos(option.element.project, layer_photos(body.build_up), layer_photos(option.build_up))
    check_materials(option.element.project, body.build_up, option.build_up)
    # a body that says nothing of leaks leaves them as they are
    unsaid = {"air_leak", "rain_leak"} - body.build_up.model_fields_set
    kept = {name: option.build_up[name] for name in unsaid if name in option.build_up}
    before = {"name": option.name, "build_up": option.build_up}
    option.build_up = BuildUp.model_validate({**body.build_up.model_dump(mode="json"), **kept}).model_dump(mode="json")
    option.draft = None
    option.name = body.name or option.name
    option.school = option.school if body.school is None else body.school
    option.revision += 1
    option.save()
    after = {"name": option.name, "build_up": option.build_up}
    words = f"changed “{option.name}” of “{option.element.name}”"
    HistoryEntry.write(option.element.project, user, "change option", words, option, before, after)
    option.element.project.save(update_fields=["changed_at"])
    return option


@transaction.atomic
def keep_draft(user: User, option_id: int, build_up: BuildUp) -> None:
    """What was typed so far; no history entry, because nothing is decided yet."""
    option = editable_option(user, option_id)
    check_photos(option.element.project, layer_photos(build_up), layer_photos(option.build_up))
    check_materials(option.element.project, build_up, option.build_up)
    option.draft = build_up.model_dump(mode="json")
    option.save(update_fields=["draft"])


@transaction.atomic
def delete_option(user: User, option_id: int) -> None:
    option = editable_option(user, option_id)
    if option.role == Option.AS_FOUND:
        raise Problem(422, "as_found", "The as-found build-up cannot be removed.", "Remove the element in Survey.")
    before = {"option": json.loads(json.dumps(option_values(option), default=str))}
    words = f"removed “{option.name}” of “{option.element.name}”"
    HistoryEntry.write(option.element.project, user, "delete option", words, option.element, before, {"option": None})
    option.delete()


def _as_seen(element: Element, seen: ChoiceSeen) -> None:
    scheme = element.project.shown_scheme()
    kept = "What you typed is kept here."
    if seen.scheme not in (None, scheme.pk):
        words = f"Another window shows the scheme “{scheme.name}” since; a choice would go into that."
        raise Problem(409, "another_scheme", words, f"{kept} Keep it again to choose in “{scheme.name}”.")
    now = (element.chosen_id, element.chosen_reason)
    if now == (seen.option_id, seen.reason):
        return
    chosen = element.options.filter(pk=element.chosen_id or 0).first()
    words = (
        f"{element.chosen_by} chose “{chosen.name}” since you began: {element.chosen_reason}"
        if chosen is not None
        else "The choice was taken back since you began."
    )
    raise Problem(409, "changed_meanwhile", words, f"{kept} Keep it again to write yours over it.")


@transaction.atomic
def choose_option(
    user: User, element_id: int, option_id: int | None, reason: str, seen: ChoiceSeen | None = None
) -> Element:
    """Choose an option with the reason, or none again. Refused with 409 where somebody chose since it was seen."""
    element = editable_element(user, element_id)
    if seen is not None:
        _as_seen(element, seen)
    option: Option | None = None
    if option_id is not None:
        option = element.options.filter(pk=option_id, role=Option.UPGRADE).first()
        if option is None:
            raise Http404
        if not reason.strip():
            raise Problem(422, "reason_missing", "A choice needs its reason.", "Write why this option was chosen.")
    before = {"option": element.chosen_id, "reason": element.chosen_reason}
    if option:
        element.choose(option, reason.strip(), name_of(user), timezone.now())
    else:
        element.choose(None, "", "", None)
    what = (
        f"chose “{option.name}” for “{element.name}”: {reason}"
        if option
        else f"took back the choice for “{element.name}”"
    )
    after = {"option": element.chosen_id, "reason": element.chosen_reason, "scheme": element.project.shown_scheme().pk}
    HistoryEntry.write(element.project, user, "choose option", what, element, before, after)
    element.project.save(update_fields=["changed_at"])
    return element


def option_values(option: Option) -> dict[str, Any]:
    """Name, role and layers of an option, for the project file."""
    return {
        "role": option.role,
        "name": option.name,
        "school": option.school,
        "build_up": option.build_up,
        "draft": option.draft,
        "rejected": {"reason": option.rejected_reason, "by": option.rejected_by, "at": option.rejected_at}
        if option.rejected_reason
        else None,
        "checks": option.checks,
        "works": option.works,
    }

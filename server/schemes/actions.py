"""Schemes made, copied, shown and put in phases; options rejected; what decisions rest on. One history entry each."""

from __future__ import annotations

import hashlib
from typing import IO

from django.conf import settings
from django.db import transaction
from django.http import Http404
from django.utils import timezone

from server.files import write_whole
from server.problems import Problem
from server.projects.models import Choice, HistoryEntry, Option, Phase, Project, Scheme, name_of
from server.projects.permissions import User, editable_element, editable_option, editable_project, editable_scheme
from server.projects.photos_named import check_photos
from server.schemes.models import Basis, document_path
from server.schemes.schemas import MOST_SCHEMES, BasisBody, BetweenBody, NewScheme, PhasesBody, SchemeBody
from server.survey.rows import element_of, row_of
from server.survey.shape import follow_schemes

MOST_BASES = 2000
PDF = b"%PDF-"


@transaction.atomic
def make_scheme(user: User, project_id: int, body: NewScheme) -> Scheme:
    """A scheme more, empty or with what another has."""
    project = editable_project(user, project_id)
    project.shown_scheme()  # there is a first one
    if project.schemes.count() >= MOST_SCHEMES:
        raise Problem(422, "too_many", f"{MOST_SCHEMES} schemes are the most.", "Remove one first.")
    source = project.schemes.filter(pk=body.copy_of).first() if body.copy_of is not None else None
    if body.copy_of is not None and source is None:
        raise Http404
    position = max(project.schemes.values_list("position", flat=True)) + 1
    scheme = Scheme.objects.create(project=project, position=position, name=body.name)
    if source is not None:
        scheme.note, scheme.changes, scheme.air = source.note, source.changes, source.air
        scheme.save(update_fields=["note", "changes", "air"])
        phases = {}
        for phase in source.phases.all():
            phases[phase.pk] = Phase.objects.create(
                scheme=scheme,
                position=phase.position,
                name=phase.name,
                starts_on=phase.starts_on,
                years_after=phase.years_after,
            )
        if source.line_phase_id in phases:
            scheme.line_phase = phases[source.line_phase_id]
            scheme.save(update_fields=["line_phase"])
        for choice in source.choices.all():
            Choice.objects.create(
                scheme=scheme, element_id=choice.element_id, option_id=choice.option_id, reason=choice.reason, by=choice.by,
                at=choice.at, layers=choice.layers, phase=phases.get(choice.phase_id or -1),
                between_id=choice.between_id, between_phase=phases.get(choice.between_phase_id or -1),
            )  # fmt: skip
    what = f"made the scheme “{scheme.name}”" + (f" after “{source.name}”" if source is not None else "")
    HistoryEntry.write(project, user, "make scheme", what, scheme)
    project.save(update_fields=["changed_at"])
    return scheme


@transaction.atomic
def change_scheme(user: User, scheme_id: int, body: SchemeBody) -> Scheme:
    scheme = editable_scheme(user, scheme_id)
    before = {"name": scheme.name, "note": scheme.note}
    scheme.name, scheme.note = body.name, body.note
    scheme.save(update_fields=["name", "note"])
    after = {"name": scheme.name, "note": scheme.note}
    if before != after:
        HistoryEntry.write(
            scheme.project, user, "change scheme", f"changed the scheme “{scheme.name}”", scheme, before, after
        )
    return scheme


@transaction.atomic
def remove_scheme(user: User, scheme_id: int) -> Project:
    """It and its choices. The last one stays."""
    scheme = editable_scheme(user, scheme_id)
    project = scheme.project
    if project.schemes.count() < 2:
        raise Problem(422, "last_scheme", "The last scheme stays.", "Make another one first.")
    before = {
        choice.element.name: choice.option.name if choice.option else ""
        for choice in scheme.choices.select_related("element", "option")
    }
    HistoryEntry.write(project, user, "remove scheme", f"removed the scheme “{scheme.name}”", scheme, before, {})
    scheme.delete()
    for position, row in enumerate(project.schemes.all()):
        if row.position != position:
            row.position = position
            row.save(update_fields=["position"])
    follow_schemes(project)
    project.refresh_from_db()
    return project


@transaction.atomic
def show_scheme(user: User, project_id: int, scheme_id: int) -> Project:
    """Every view shows this one from now on."""
    project = editable_project(user, project_id)
    scheme = project.schemes.filter(pk=scheme_id).first()
    if scheme is None:
        raise Http404
    if project.scheme_id != scheme.pk:
        project.scheme = scheme
        project.save(update_fields=["scheme", "changed_at"])
        HistoryEntry.write(project, user, "show scheme", f"shows the scheme “{scheme.name}”", scheme)
    return project


@transaction.atomic
def put_line_in_phase(user: User, scheme_id: int, phase_id: int | None) -> Scheme:
    """The phase in which the heated line is moved; None: the last."""
    scheme = editable_scheme(user, scheme_id)
    phase = scheme.phases.filter(pk=phase_id).first() if phase_id is not None else None
    if phase_id is not None and phase is None:
        raise Http404
    scheme.line_phase = phase
    scheme.save(update_fields=["line_phase"])
    where = f"“{phase.name}”" if phase is not None else "the last phase"
    HistoryEntry.write(
        scheme.project, user, "line in phase", f"the heated line of “{scheme.name}” moves in {where}", scheme
    )
    return scheme


@transaction.atomic
def set_phases(user: User, scheme_id: int, body: PhasesBody) -> Scheme:
    """All phases of a scheme in their order. Refused with 409 when somebody changed them meanwhile."""
    scheme = editable_scheme(user, scheme_id)
    if scheme.revision != body.revision:
        raise Problem(
            409, "changed_meanwhile", f"The phases of “{scheme.name}” were changed in another window since you began.",
            "What you typed is kept here. Take theirs, or write yours over it.", revision=scheme.revision,
        )  # fmt: skip
    there = {phase.pk: phase for phase in scheme.phases.all()}
    named = [phase.id for phase in body.phases if phase.id is not None]
    if set(named) - set(there) or len(set(named)) != len(named):
        raise Problem(422, "no_such_phase", "A phase is named that is not in this scheme.", "Load the page anew.")
    before = {"phases": [phase.name for phase in there.values()]}
    for pk in set(there) - set(named):
        there[pk].delete()
    for position, phase in enumerate(body.phases):
        values = {
            "position": position,
            "name": phase.name,
            "starts_on": phase.starts_on,
            "years_after": phase.years_after,
        }
        if phase.id is None:
            Phase.objects.create(scheme=scheme, **values)
        else:
            scheme.phases.filter(pk=phase.id).update(**values)
    scheme.revision += 1
    scheme.save(update_fields=["revision"])
    after = {"phases": [phase.name for phase in body.phases]}
    HistoryEntry.write(scheme.project, user, "set phases", f"phases of “{scheme.name}”", scheme, before, after)
    return scheme


@transaction.atomic
def put_in_phase(user: User, element_id: int, phase_id: int | None) -> Project:
    """The choice of an element in the shown scheme belongs to a phase of it."""
    element = editable_element(user, element_id)
    choice = element.choice
    if choice is None:
        raise Problem(
            422, "not_chosen", f"Nothing is chosen for “{element.name}” in this scheme.", "Choose an option first."
        )
    phase = choice.scheme.phases.filter(pk=phase_id).first() if phase_id is not None else None
    if phase_id is not None and phase is None:
        raise Problem(422, "no_such_phase", "The phase is not one of the shown scheme.", "Load the page anew.")
    before, choice.phase = {"phase": choice.phase.name if choice.phase else ""}, phase
    choice.save(update_fields=["phase"])
    words = f"“{element.name}” in {f'“{phase.name}”' if phase else 'no phase'}"
    HistoryEntry.write(
        element.project, user, "put in phase", words, element, before, {"phase": phase.name if phase else ""}
    )
    return element.project


@transaction.atomic
def put_between(user: User, element_id: int, body: BetweenBody) -> Project:
    """What stands until the choice of the shown scheme is built; nothing: as found does."""
    element = editable_element(user, element_id)
    choice = element.choice
    if choice is None or choice.option_id is None:
        raise Problem(
            422, "not_chosen", f"Nothing is chosen for “{element.name}” in this scheme.", "Choose an option first."
        )
    option, phase = None, None
    if body.option_id is not None:
        option = element.options.filter(pk=body.option_id, role=Option.UPGRADE).exclude(pk=choice.option_id).first()
        if option is None:
            raise Problem(422, "no_between", "The state in between is another option of this element.", "Choose one.")
        phase = choice.scheme.phases.filter(pk=body.phase_id or 0).first()
        if body.phase_id is not None and phase is None:
            raise Problem(422, "no_such_phase", "The phase is not one of the shown scheme.", "Load the page anew.")
    before = {"between": choice.between.name if choice.between else ""}
    choice.between, choice.between_phase = option, phase
    choice.save(update_fields=["between", "between_phase"])
    words = (
        f"until then “{option.name}” on “{element.name}”" if option else f"until then “{element.name}” stays as found"
    )
    after = {"between": option.name if option else ""}
    HistoryEntry.write(element.project, user, "put between", words, element, before, after)
    return element.project


@transaction.atomic
def reject_option(user: User, option_id: int, reason: str) -> Option:
    """An option is turned down, with its own reason; or the rejection is taken back. A chosen one cannot be."""
    option = editable_option(user, option_id)
    if option.role == Option.AS_FOUND:
        raise Problem(422, "as_found", "As found is no option that could be rejected.", "Reject one of the options.")
    reason = reason.strip()
    if reason and (option.choices.exists() or option.between_of.exists()):
        raise Problem(422, "chosen", f"“{option.name}” is chosen in a scheme.", "Take the choice back first.")
    before = {"rejected": option.rejected_reason}
    option.rejected_reason = reason
    option.rejected_by, option.rejected_at = (name_of(user), timezone.now()) if reason else ("", None)
    option.save(update_fields=["rejected_reason", "rejected_by", "rejected_at"])
    words = (
        f"rejected “{option.name}” of “{option.element.name}”: {reason}"
        if reason
        else f"took back the rejection of “{option.name}”"
    )
    HistoryEntry.write(option.element.project, user, "reject option", words, option, before, {"rejected": reason})
    return option


@transaction.atomic
def write_basis(user: User, project_id: int, uid: str, body: BasisBody) -> Basis:
    """What a decision rests on; sent twice it is one."""
    project = editable_project(user, project_id)
    row = row_of(Basis.objects, project, uid, "This entry", body.base_revision)
    element = element_of(project, body.element_id)
    option = None
    if body.option_id is not None:
        option = Option.objects.filter(pk=body.option_id, element__project=project).first()
        if option is None or (element is not None and option.element_id != element.pk):
            raise Problem(422, "no_such_option", "The option is not one of this element.", "Choose another option.")
    check_photos(project, body.photos, row.photos if row is not None else ())
    if row is None:
        if project.bases.count() >= MOST_BASES:
            raise Problem(422, "too_many", f"{MOST_BASES} entries are the most.", "Remove some first.")
        row = Basis(project=project, uid=uid, by=name_of(user), revision=0)
    fields = ("kind", "who", "on", "text", "answer", "answered_on", "photos")
    before = {name: str(getattr(row, name)) for name in fields}
    for name in fields:
        setattr(row, name, getattr(body, name))
    row.element, row.option, row.revision = element, option, row.revision + 1
    row.save()
    words = f"{row.kind}: {row.who or row.text}"[:280]
    HistoryEntry.write(
        project, user, "write basis", words, row, before, {name: str(getattr(row, name)) for name in fields}
    )
    return row


@transaction.atomic
def attach_document(user: User, project_id: int, uid: str, stream: IO[bytes], size: int, name: str) -> Basis:
    """A PDF with an entry, in place of the one before. The file first, then the row."""
    row = _basis(user, project_id, uid)
    if size > settings.LARGEST_DOCUMENT:
        raise Problem(
            413,
            "file_too_large",
            f"The document is larger than {settings.LARGEST_DOCUMENT // 1024**2} MB.",
            "Attach a smaller one.",
        )
    raw = stream.read()
    check_pdf(raw)
    write_whole(document_path(project_id, uid), raw)
    row.document, row.size, row.sha256 = (name or "document.pdf")[:200], len(raw), hashlib.sha256(raw).hexdigest()
    row.revision += 1
    row.save()
    HistoryEntry.write(
        row.project, user, "attach document", f"attached “{row.document}”", row, {}, {"sha256": row.sha256}
    )
    return row


def check_pdf(raw: bytes) -> None:
    """Only what begins as a PDF and ends as one is kept. Raises Problem."""
    if not raw.startswith(PDF) or b"%%EOF" not in raw[-2048:]:
        raise Problem(
            422, "no_pdf", "The file is no PDF, or it is cut off.", "Attach a PDF; photos go with the entry's photos."
        )


@transaction.atomic
def remove_basis(user: User, project_id: int, uid: str) -> None:
    row = _basis(user, project_id, uid)
    before = {"kind": row.kind, "who": row.who, "text": row.text, "answer": row.answer, "document": row.document}
    HistoryEntry.write(
        row.project, user, "remove basis", f"removed {row.kind}: {row.who or row.text}"[:280], row, before, {}
    )
    row.delete()


def _basis(user: User, project_id: int, uid: str) -> Basis:
    row: Basis | None = (
        Basis.objects.editable_by(user).select_related("project").filter(project_id=project_id, uid=uid).first()
    )
    if row is None:
        raise Http404
    return row

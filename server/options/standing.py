"""The hourly years of proposals: asked for when somebody looks, kept under what they are of, given up when nobody does."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from django.db import transaction

from core.assembly.to_case import found_model
from core.buildup.model import BuildUp, Limits, Place
from core.proposals.computed import standing_key, stands
from core.proposals.propose import possible_ways, propose
from core.proposals.rules import way_of
from core.proposals.situation import Situation, Stand, situation
from core.proposals.standing import Stands
from core.thermal.iso13370 import GroundPlace
from server.projects.models import Element, HistoryEntry
from server.projects.permissions import User, editable_element
from server.runs.actions import check_room
from server.runs.kinds import Watch
from server.runs.models import Batch, Run
from server.runs.verdicts import limits_of

STANDS = "stands"
UNDER_WAY = (Run.WAITING, Run.RUNNING)


def keys_of(element: Element, at: Situation) -> dict[str, str]:
    """By way that no rule refuses: the identity of what its years say, as the element stands now; none without layers or climate."""
    if not at.as_found.is_stated or element.project.climate_gone:
        return {}
    found = found_model(at.as_found, at.stand.place)
    key = found.case.hash if found is not None else ""  # a way is judged alone where as found cannot be run
    limits = limits_of(element.project)
    return {way.id: standing_key(at, way.id, key, limits) for way in possible_ways(at)}


def known_of(element: Element, at: Situation) -> dict[str, Stands]:
    """What the years said of each way, of those that are done."""
    by_key = {key: way for way, key in keys_of(element, at).items()}
    rows = Run.objects.filter(kind=STANDS, case_hash__in=by_key, status=Run.DONE).values_list("case_hash", "result")
    return {by_key[key]: Stands.model_validate(result) for key, result in rows}


def runs_of(element: Element, at: Situation) -> dict[str, Run]:
    """By way: its newest row, done or not."""
    by_key = {key: way for way, key in keys_of(element, at).items()}
    found: dict[str, Run] = {}
    for run in Run.objects.filter(kind=STANDS, case_hash__in=by_key).order_by("pk"):
        way = by_key[run.case_hash]
        if way not in found or found[way].status != Run.DONE:
            found[way] = run
    return found


@transaction.atomic
def ask_standings(user: User, element_id: int, at: Situation) -> None:
    """The years of every way that are neither there nor under way; nothing where all are."""
    element = editable_element(user, element_id)
    known = runs_of(element, at)
    keys = keys_of(element, at)
    offered = [one.way for one in propose(at).offered] if keys else []
    open_ways = [way for way in offered if way not in known or known[way].status not in (*UNDER_WAY, Run.DONE)]
    Run.objects.filter(pk__in=[run.pk for run in known.values() if run.status == Run.RUNNING]).update(
        cancel_asked=False
    )
    if not open_ways:
        return
    check_room(user, len(open_ways))
    place, as_found = element.place.model_dump(mode="json"), element.as_found.build_up
    batch = Batch.objects.create(
        element=element, kind=Batch.PROPOSALS, settings={}, as_found=as_found, place=place, asked_by=user.get_username()
    )
    inputs = {"stand": _kept(at.stand), "criteria": limits_of(element.project)}
    Run.objects.bulk_create(
        Run(
            project=element.project, batch=batch, kind=STANDS, label=way_of(way).name[:120], inputs={**inputs, "way": way},
            case_hash=keys[way], as_found=as_found, place=place, looked_at=True,
        )
        for way in open_ways
    )  # fmt: skip
    words = f"asked for the years of {len(open_ways)} proposals of “{element.name}”"
    HistoryEntry.write(element.project, user, "run proposals", words, element)


@transaction.atomic
def leave_standings(user: User, element_id: int) -> None:
    """Nobody looks any more: what waits is given up, what runs stops within a block of time. What is done stays."""
    element = editable_element(user, element_id)
    rows = Run.objects.filter(kind=STANDS, batch__element=element)
    rows.filter(status=Run.WAITING).update(status=Run.CANCELLED, doing="cancelled")
    rows.filter(status=Run.RUNNING).update(cancel_asked=True)


def _kept(stand: Stand) -> dict[str, Any]:
    """What is known of the element beside its layers, as plain data."""
    values = {
        field.name: getattr(stand, field.name)
        for field in fields(stand)
        if field.name not in ("place", "limits", "ground")
    }
    plain = {name: sorted(value) if isinstance(value, frozenset) else value for name, value in values.items()}
    ground = None if stand.ground is None else stand.ground.model_dump(mode="json")
    return {**plain, "limits": stand.limits.model_dump(mode="json"), "ground": ground}


def _stand_of(kept: dict[str, Any], place: Place) -> Stand:
    ground = None if kept["ground"] is None else GroundPlace.model_validate(kept["ground"])
    return Stand(
        place=place,
        limits=Limits.model_validate(kept["limits"]),
        causes=frozenset(kept["causes"]),
        seen=frozenset(kept["seen"]),
        parts=frozenset(kept["parts"]),
        unexplained=kept["unexplained"],
        ready=kept["ready"],
        ground=ground,
        outside_untouchable=kept["outside_untouchable"],
        plaster_off=kept["plaster_off"],
        inside_untouchable=kept["inside_untouchable"],
        people_stay=kept["people_stay"],
        escape_route=kept["escape_route"],
    )


def find(run: Run, watch: Watch) -> dict[str, Any]:
    """What a worker does with one of these runs."""
    from server.runs.worker import found_of

    place = Place.model_validate(run.place)
    at = situation(BuildUp.model_validate(run.as_found), _stand_of(run.inputs["stand"], place))
    found = found_of(at.as_found, place, watch, share=0.15)
    tell = lambda share, what: watch.progress(0.15 + 0.85 * share, what)  # noqa: E731
    said = stands(way_of(run.inputs["way"]), at, found, run.inputs["criteria"], tell, watch.cancelled)
    return said.model_dump(mode="json")

"""What could be done to an element: its situation from the survey, the proposals of the core, and one of them taken as an option."""

from __future__ import annotations

from django.db import transaction
from django.http import Http404

from core.proposals.propose import Proposals, propose
from core.proposals.situation import Situation, Stand, situation
from server.options.schemas import AccessBody
from server.options.standing import known_of
from server.problems import Problem
from server.projects.models import Element, HistoryEntry, Option
from server.projects.permissions import User, editable_element
from server.states.beyond import beyond_of
from server.water.figures import readiness_of

READY = ("ready", "ready by override")


def situation_of(element: Element) -> Situation:
    """Make, flags and limits of an element as they stand now."""
    evidence = list(element.evidence.values_list("cause", "pin__kind", "pin__part"))
    found = [row for row in evidence if row[1] != "nothing_found"]
    stand = Stand(
        place=element.place,
        limits=element.limits,
        causes=frozenset(cause for cause, _, _ in found if cause),
        seen=frozenset(str(kind) for _, kind, _ in found),
        parts=frozenset(str(part) for _, _, part in found if part),
        unexplained=any(not cause for cause, _, _ in found),
        ready=readiness_of(element.project)[element.pk].state in READY,
        ground=beyond_of(element, True).ground if element.kind == "floor" else None,
        outside_untouchable=element.outside_untouchable,
        plaster_off=element.plaster_off,
        inside_untouchable=element.inside_untouchable,
        people_stay=bool(element.project.current_brief.lived_in_during_works),
        escape_route=element.escape_route,
    )
    return situation(element.as_found.current, stand)


def proposals_of(element: Element) -> Proposals:
    """With what the years said of each way so far."""
    at = situation_of(element)
    return propose(at, known_of(element, at))


@transaction.atomic
def set_access(user: User, element_id: int, body: AccessBody) -> Element:
    """What of an element may be reached, and what lies open now; one history entry where it changes."""
    element = editable_element(user, element_id)
    before = {name: getattr(element, name) for name in AccessBody.model_fields}
    after = body.model_dump()
    if before != after:
        for name, value in after.items():
            setattr(element, name, value)
        element.save(update_fields=list(after))
        HistoryEntry.write(element.project, user, "set access", f"access to “{element.name}”", element, before, after)
    return element


@transaction.atomic
def take_proposal(user: User, element_id: int, way: str) -> Option:
    """A proposal becomes an option, as it is worked out now."""
    element = editable_element(user, element_id)
    if not element.has_build_up:
        raise Http404
    chosen = next((one for one in proposals_of(element).offered if one.way == way), None)
    if chosen is None:
        raise Problem(
            422, "not_offered", "This is not proposed for the element as it stands now.", "Look at the proposals again."
        )
    option = element.add_option(chosen.name, chosen.build_up, chosen.school[:60])
    HistoryEntry.write(
        element.project, user, "take proposal", f"took “{chosen.name}” as an option of “{element.name}”", option
    )
    return option

"""From kept findings to verdicts, worked out whenever they are read: the same whichever run ended first."""

from __future__ import annotations

from functools import lru_cache

from django.utils import timezone

from core.buildup.model import BuildUp, Place
from core.climate.data import shipped
from core.criteria.judging import checked_limits
from core.criteria.registry import LIMITS
from core.criteria.run_findings import FOUND_WITH, RunFindings
from core.criteria.stated import stated
from core.criteria.verdict import Tested, Verdict, verdict
from core.say import Said, say
from server.projects.models import Element, Project
from server.runs.models import Batch, Findings, Run

OVER = "over a limit"


@lru_cache(maxsize=1024)
def _parsed(key: str, found_with: str) -> RunFindings:
    """By what they are of, never by the number of a row: a row's number may be given again."""
    return RunFindings.model_validate(Findings.objects.get(key=key, found_with=found_with).document)


class Kept:
    """Findings of many runs at once: one query, each parsed once in this process."""

    def __init__(self, keys: set[str]) -> None:
        self.rows: dict[str, str] = {}
        self._wet: dict[int, list[Said]] = {}
        found = Findings.objects.filter(key__in=keys - {""}).order_by("pk").values_list("key", "found_with")
        for key, found_with in found:
            if self.rows.get(key) != FOUND_WITH:
                self.rows[key] = found_with

    def of(self, key: str) -> RunFindings | None:
        """The findings of a run as the program is now, else those of an older one; None when there are none."""
        found_with = self.rows.get(key)
        return _parsed(key, found_with) if found_with is not None else None

    def wet(self, element: Element) -> list[Said]:
        """What was read or confirmed wet at an element; read once."""
        if element.pk not in self._wet:
            self._wet[element.pk] = read_wet(element)
        return self._wet[element.pk]


def limits_of(project: Project) -> dict[str, float]:
    """The limits in force in a project."""
    return checked_limits(LIMITS, project.limits)


def sound_years(element: Element) -> int:
    """For how long the element has stood, where the survey looked and found nothing wrong; 0 when that is not known."""
    built = element.project.current_brief.built_year
    if not built or not element.looked_at_by or element.evidence.exclude(pin__kind="nothing_found").exists():
        return 0
    return max(timezone.localdate().year - built, 0)


READ_WET_PERCENT = 20.0  # the usual caution
RAIN_CAUSES = ("rain", "runoff", "entry")


def read_wet(element: Element) -> list[Said]:
    """What was read in its wood at the caution or above, and whether rain was confirmed as a cause there."""
    highest, rained = 0.0, False
    for cause, pin in element.evidence.values_list("cause", "pin"):
        rained = rained or cause in RAIN_CAUSES
        wood = (pin.get("readings") or {}).get("wood") or {}
        highest = max(highest, float(wood.get("shown_percent") or 0.0))
    found = [say("{value} % read in the wood", value=f"{highest:.0f}")] if highest >= READ_WET_PERCENT else []
    return [*found, say("rain confirmed as a cause")] if rained else found


def verdict_of(
    element: Element,
    build_up: BuildUp,
    as_found: BuildUp,
    place: Place,
    kept: Kept,
    key: str,
    found_key: str,
    tested: Tested,
) -> Verdict | None:
    """The verdict of a run of this element; found_key: of the as-found run it starts from, "" for as found itself."""
    findings = kept.of(key)
    if findings is None:
        return None
    is_found = not found_key and build_up == as_found
    facts = stated(build_up, as_found, place, shipped(place.climate), is_found, sound_years(element), kept.wet(element))
    return verdict(findings, kept.of(found_key), facts, limits_of(element.project), tested)


class Drawn:
    """Verdicts of the done runs of a batch, in their order."""

    def __init__(self, batch: Batch, runs: list[Run]) -> None:
        self.by_run: dict[int, Verdict] = {}
        kept = Kept({run.case_hash for run in runs} | {run.found_key for run in runs})
        for run in runs:
            if run.status != Run.DONE or run.kind != Run.BRIEF:
                continue
            as_found = BuildUp.model_validate(run.as_found or run.build_up)
            found = verdict_of(
                batch.element,
                BuildUp.model_validate(run.build_up),
                as_found,
                Place.model_validate(run.place),
                kept,
                run.case_hash,
                run.found_key,
                Tested(),
            )
            if found is not None:
                self.by_run[run.pk] = found

    @property
    def over(self) -> int:
        return sum(found.state == OVER for found in self.by_run.values())


@lru_cache(maxsize=256)
def counted(batch_id: int, done: int, limits: tuple[tuple[str, float], ...]) -> tuple[int, int]:
    """(over a limit, judged) of the runs of a study; again only when a run has ended or a limit has moved."""
    batch = Batch.objects.select_related("element__project", "option").get(pk=batch_id)
    drawn = Drawn(batch, list(batch.runs.filter(status=Run.DONE).order_by("pk")))
    return drawn.over, len(drawn.by_run)

"""What is known of an option's years and tests, in words."""

from __future__ import annotations

from functools import cached_property
from typing import Any

from django.conf import settings
from django.db.models import Q

from core.buildup.model import BuildUp, Place
from core.criteria.verdict import Tested, yearly_wetting
from core.moisture.transient.outcome import SOLVER
from server.projects.models import Element, Option
from server.runs import heartbeat
from server.runs.answers import WettingAnswer
from server.runs.models import Batch, Run
from server.runs.schemas import RunState, TestWords, WettingWords
from server.runs.verdicts import Drawn, Kept, counted, verdict_of


class Waiting:
    """The queue as it stands: how many runs come before one, and about how long they take. Read once, asked often."""

    def __init__(self) -> None:
        self._order: dict[int, int] | None = None
        self._seconds = 0.0

    @cached_property
    def trouble(self) -> str:
        """Why nothing is computed at present; "" where a runner is at work."""
        runner = heartbeat.last()
        return (
            "waits: nothing is being computed on the server"
            if runner is None
            else runner.hindered and f"waits: {runner.hindered}"
        )

    def of(self, run: Run) -> tuple[int, float | None]:
        if self._order is None:
            self._order = {pk: place for place, pk in enumerate(Run.objects.in_turn())}
            recent = Run.objects.filter(status=Run.DONE, seconds__isnull=False).values_list("seconds", flat=True)[:20]
            seconds = [float(value) for value in recent if value is not None]
            self._seconds = sum(seconds) / len(seconds) if seconds else 0.0
        before = self._order.get(run.pk, 0)
        workers = max(settings.WORKERS, 1)
        return before, before * self._seconds / workers if self._seconds else None


def run_state(
    element: Element,
    option: Option,
    as_found: BuildUp,
    case_hash: str,
    refused: str,
    runs: list[Run],
    kept: Kept,
    tests: TestWords,
    queue: Waiting,
) -> RunState:
    """The state in words. runs: this option's, newest first. A result is current only for its own case."""
    if refused or element.project.climate_gone:
        return RunState(state="not available", doing=refused or element.project.climate_gone)
    fitting = next((run for run in runs if run.case_hash == case_hash), None)
    done = next((run for run in runs if run.case_hash == case_hash and run.status == Run.DONE), None)
    older = next((run for run in runs if run.status == Run.DONE), None)
    state: Any = "not run"
    shown = done or fitting or older
    if fitting is not None and fitting.status in (Run.WAITING, Run.RUNNING):
        state, shown = fitting.status, fitting
    elif done is not None:
        state = "current"
    elif fitting is not None:
        state = fitting.status
    elif older is not None:
        state = "out of date"
    if shown is None:
        return RunState(state=state)
    result = done or older
    out = RunState(state=state, run_id=shown.pk, progress=shown.progress, doing=shown.doing, error=shown.error)
    if shown.status == Run.WAITING:
        out.before, out.wait_s = queue.of(shown)
        out.doing = queue.trouble or out.doing
    if result is not None:
        tested = Tested()
        if not tests.stale and result is done:
            tested = Tested(bad_year=tests.bad_year, study_over=tests.study_over, study_runs=tests.study_runs)
        if tests.wetting is not None and not tests.wetting.stale and result is done:
            left, passes = tests.wetting.at_heating, tests.wetting.passes
            tested = tested.model_copy(update={"wetting_left": left, "wetting_passes": passes})
        found = kept.of(result.case_hash)
        if found is not None and not element.project.climate_gone:
            out.verdict = verdict_of(
                element,
                BuildUp.model_validate(result.build_up),
                _set_against(option, result, as_found),
                Place.model_validate(result.place),
                kept,
                result.case_hash,
                result.found_key,
                tested,
            )
            out.balances = found.balances
            out.wetting_kg_m2 = yearly_wetting(found)
            out.older = not found.current or result.solver != SOLVER
    return out


def _set_against(option: Option, result: Run, as_found: BuildUp) -> BuildUp:
    """What a run is set against: as found itself against itself; an option against what its run started from, or what is there now."""
    if option.role == Option.AS_FOUND:
        return BuildUp.model_validate(result.build_up)
    return BuildUp.model_validate(result.as_found) if result.as_found else as_found


def test_words(element: Element, option: Option, limits: dict[str, float]) -> TestWords:
    """The newest wetting test, bad year and study of an option in a few words each. Reads single values, not the results."""
    words = TestWords()
    mine = Batch.objects.filter(element=element).filter(Q(option=option) | Q(option=None)).select_related("option")
    place = element.place.model_dump(mode="json")
    seen: set[str] = set()
    for batch in mine:
        if batch.kind in seen:
            continue
        seen.add(batch.kind)
        done = batch.runs.filter(status=Run.DONE)
        fresh = batch.place == place and (batch.option is None or option.build_up == batch.build_up)
        if batch.kind == Batch.WETTING:
            row = done.filter(option=option).values_list("result", "build_up").first()
            if row is not None and row[0] is not None:
                test = WettingAnswer.model_validate(row[0])
                words.wetting = WettingWords(
                    mean_stay_days=test.mean_stay_days,
                    half_left_after=test.half_left_after,
                    left_g=test.left_g,
                    at_heating=test.at_heating,
                    passes=test.at_heating < 0.5,
                    stale=not (batch.place == place and row[1] == option.build_up),
                )
            continue
        if batch.kind not in (Batch.BAD_YEAR, Batch.STUDY):
            continue
        fresh = fresh and batch.as_found == element.as_found.build_up
        if batch.kind == Batch.BAD_YEAR:
            drawn = Drawn(batch, list(done.filter(label="bad year")))
            words.bad_year = next((found.state for found in drawn.by_run.values()), None)
        else:
            words.study_over, words.study_runs = counted(batch.pk, done.count(), tuple(sorted(limits.items())))
        words.stale = words.stale or not fresh
    return words

"""What a worker process does with one run. It opens no transaction while it computes."""

from __future__ import annotations

import errno
import os
import tempfile
import time
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from core.assembly.model import Model, StartState
    from core.buildup.model import BuildUp, Place
    from core.moisture.transient.outcome import Outcome
    from core.runs import Found
    from server.runs.kinds import Watch
    from server.runs.models import Run

REPORT_EVERY_S = 0.4
INTERRUPTED = "interrupted"  # a full disk, a locked database: it waits again, and nothing is held against it


def start_worker(parent: int | None = None) -> None:
    """Set Django up in a worker process and remember whose child it is; a worker of an outside cluster is nobody's."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
    if parent is not None:
        os.environ["WENDRICK_RUNNER_PID"] = str(parent)
    import django

    django.setup()
    import core.moisture.transient.solve  # noqa: F401  (numba is loaded before the first run)


def execute(run_id: int) -> str:
    """Compute one claimed run and mark it. Returns its final status, or INTERRUPTED where the machine gave out."""
    if not django_ready():
        start_worker()
    from django.db import OperationalError

    from core.errors import Cancelled, CoreError
    from server.problems import of_the_machine
    from server.runs.kinds import work_of
    from server.runs.models import Run

    run = Run.objects.select_related("option__element__project", "project").get(pk=run_id)
    try:
        Run.objects.filter(pk=run_id).update(begun=True)
        if run.kind == Run.YEARS:
            seconds = _compute(run)
        elif run.kind in (Run.BRIEF, Run.WETTING):
            result = _answer(run)
        else:
            result = work_of(run.kind)(run, _Watch(run))
    except Cancelled:
        run.refresh_from_db()
        run.mark_cancelled()
    except CoreError as error:
        run.refresh_from_db()
        run.mark_failed(str(error))
    except Exception as error:
        if of_the_machine(error) is not None:
            return INTERRUPTED
        run.refresh_from_db()
        run.mark_failed(f"the program failed: {type(error).__name__}: {error}")
        raise
    try:
        run.refresh_from_db()
        if run.status == Run.RUNNING:
            run.mark_done(seconds) if run.kind == Run.YEARS else run.mark_answered(result)
    except OperationalError:
        return INTERRUPTED
    return run.status


def django_ready() -> bool:
    """Whether this process has set Django up; a worker of an outside cluster has not."""
    from django.apps import apps

    return apps.ready


class _Watch:
    """Reports a run's progress now and then, and hears of a cancel or of a runner that is gone."""

    def __init__(self, run: Run) -> None:
        self.run, self.asked, self.last = run, False, 0.0
        self.parent = int(os.environ.get("WENDRICK_RUNNER_PID", "0"))

    def progress(self, share: float, what: str) -> None:
        from django.db import OperationalError

        now = time.monotonic()
        if now - self.last > REPORT_EVERY_S or share >= 1.0:
            self.last = now
            with suppress(OperationalError):  # locked or full: the next report says it
                self.asked = self.run.report(share, what)
        if self.parent and os.getppid() != self.parent:
            os._exit(3)  # the runner is gone: its rows are taken up by the next one

    def cancelled(self) -> bool:
        return self.asked


def _answer(run: Run) -> dict[str, Any]:
    """The small answer of a run in a batch; taken from another run of the same case where there is one."""
    from core.buildup.model import BuildUp, Place
    from core.moisture.transient.outcome import SOLVER
    from core.runs import after_years_between
    from server.runs.answers import brief_answer, wetting_answer
    from server.runs.models import Findings, Run

    same = Run.objects.filter(
        case_hash=run.case_hash, kind=run.kind, status=Run.DONE, result__isnull=False, solver=SOLVER
    ).first()
    if same is not None and (run.kind == Run.WETTING or Findings.objects.newest_of(run.case_hash) is not None):
        return dict(same.result or {})
    build_up, place = BuildUp.model_validate(run.build_up), Place.model_validate(run.place)
    watch = _Watch(run)
    if run.kind == Run.WETTING:
        return wetting_answer(build_up, place, run.inputs, watch.progress, watch.cancelled)
    start = _found_start(run, watch) if run.as_found is not None else None
    if run.inputs.get("between") and start is not None:
        stood = run.inputs["between"]
        tell = lambda share, what: watch.progress(0.5 * share, f"in between first: {what}")  # noqa: E731
        start = after_years_between(
            BuildUp.model_validate(stood["build_up"]), place, start, stood["years"], build_up, tell, watch.cancelled
        )
    found, answer = brief_answer(build_up, place, run.inputs, start, watch.progress, watch.cancelled)
    Findings.keep(run.case_hash, found)
    return answer


def _compute(run: Run) -> float:
    """Run the years where their arrays are not there yet, find what the criteria look for; the seconds it took."""
    from core.buildup.model import BuildUp, Place
    from core.criteria.run_findings import find_all
    from core.moisture.transient.outcome import Outcome
    from core.moisture.transient.solve import simulate
    from core.runs import asked, beside_findings, started_model
    from server.projects.models import Option
    from server.runs.models import Findings, folder_of, is_whole

    as_found = BuildUp.model_validate(run.as_found) if run.as_found is not None else None
    wanted = asked(BuildUp.model_validate(run.build_up), Place.model_validate(run.place), as_found)
    folder = folder_of(wanted.key)
    watch = _Watch(run)
    found = None
    if wanted.found_model is not None and wanted.found_key is not None:
        found = _outcome_of(wanted.found_model, wanted.found_key, watch, share=0.5)
    model = started_model(wanted, found)
    if not is_whole(folder):
        begins = 0.5 if found is not None else 0.0
        report = lambda share, what: watch.progress(begins + (1.0 - begins) * share, what)  # noqa: E731
        keep_outcome(simulate(model.case, report, watch.cancelled), folder)
    outcome = Outcome.load(folder)
    if run.of_option.role == Option.AS_FOUND:  # what its options start from is the same
        found_of(wanted.build_up, wanted.place, watch, 0.0)
        return outcome.seconds
    beside = found_of(wanted.as_found, wanted.place, watch, 0.0) if wanted.as_found is not None else None
    tell = lambda share, what: watch.progress(0.99, what)  # noqa: E731
    others = beside_findings(wanted.build_up, wanted.place, beside, tell, watch.cancelled)
    Findings.keep(wanted.key, find_all(model, outcome, *others))
    return outcome.seconds


def _outcome_of(model: Model, key: str, watch: Watch, share: float) -> Outcome:
    """The outcome of as found: from disk, or computed here first."""
    from core.moisture.transient.outcome import Outcome
    from core.moisture.transient.solve import simulate
    from server.runs.models import folder_of, is_whole

    folder = folder_of(key)
    if not is_whole(folder):
        tell = lambda part, what: watch.progress(share * part, f"as found first: {what}")  # noqa: E731
        keep_outcome(simulate(model.case, tell, watch.cancelled), folder)
    return Outcome.load(folder)


def found_of(as_found: BuildUp, place: Place, watch: Watch, share: float) -> Found | None:
    """As found once it has settled, through the bay and through its members, from disk or computed here; None where it cannot be run."""
    from core.assembly.to_case import found_model
    from core.buildup.members import member_path
    from core.criteria.run_findings import FOUND_WITH, RunFindings, find_all
    from core.runs import Found, start_from
    from server.runs.models import Findings

    model = found_model(as_found, place)
    if model is None:
        return None
    other = member_path(as_found)
    beside = found_model(other, place) if other is not None else None
    each = share if beside is None else 0.5 * share
    outcome = _outcome_of(model, model.case.hash, watch, each)
    through = None if beside is None else _outcome_of(beside, beside.case.hash, watch, each)
    key = model.case.hash
    known = Findings.objects.filter(key=key, found_with=FOUND_WITH).first()
    if known is not None:
        findings = RunFindings.model_validate(known.document)
    else:  # kept with it, so that nothing waits for its own run
        member = None if beside is None or through is None else find_all(beside, through)
        findings = find_all(model, outcome, member)
        Findings.keep(key, findings)
    start = None if beside is None or through is None else start_from(beside, through)
    return Found(findings, start_from(model, outcome), start)


def _found_start(run: Run, watch: _Watch) -> StartState:
    """How the existing layers stand on the day of the works, from the as-found run of the element as it is."""
    from core.buildup.model import BuildUp, Place
    from core.runs import asked, start_from

    place = Place.model_validate(run.inputs.get("found_place") or run.place)
    wanted = asked(BuildUp.model_validate(run.as_found), place, None)
    return start_from(wanted.model, _outcome_of(wanted.model, wanted.key, watch, share=0.3))


def keep_outcome(outcome: Outcome, folder: Path) -> None:
    """Written beside and then renamed, so that there is all of it or nothing.

    Two workers may have computed the same case at once; what they found is the same, and whoever comes first stays.
    """
    from server.runs.models import is_whole

    folder.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(prefix=f"{folder.name}.", suffix=".tmp", dir=folder.parent) as beside:
        written = Path(beside) / "outcome"
        outcome.save(written)
        while not is_whole(folder):
            try:
                written.rename(folder)
            except OSError as error:
                if error.errno not in (errno.ENOTEMPTY, errno.EEXIST):
                    raise
                if not is_whole(folder):  # half a result: out of the way, unless another moved it
                    with suppress(FileNotFoundError):
                        folder.rename(Path(tempfile.mkdtemp(dir=beside)) / "half")

"""What a worker process does with one run. It opens no transaction while it computes."""

from __future__ import annotations

import os
import shutil
import time
from pathlib import Path

REPORT_EVERY_S = 0.4


def start_worker(parent: int | None = None) -> None:
    """Set Django up in a worker process and remember whose child it is; a worker of an outside cluster is nobody's."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
    if parent is not None:
        os.environ["WENDRICK_RUNNER_PID"] = str(parent)
    import django

    django.setup()
    import core.moisture.transient.solve  # noqa: F401  (numba is loaded before the first run)


def execute(run_id: int) -> str:
    """Compute one claimed run and mark it. Returns its final status."""
    if not django_ready():
        start_worker()
    from core.errors import Cancelled, CoreError
    from server.runs.models import Run

    run = Run.objects.select_related("option__element__project").get(pk=run_id)
    try:
        if run.kind == Run.YEARS:
            verdict, summary = _compute(run)
        else:
            result = _answer(run)
    except Cancelled:
        run.refresh_from_db()
        run.mark_cancelled()
    except CoreError as error:
        run.refresh_from_db()
        run.mark_failed(str(error))
    except Exception as error:
        run.refresh_from_db()
        run.mark_failed(f"the program failed: {type(error).__name__}: {error}")
        raise
    else:
        run.refresh_from_db()
        if run.kind == Run.YEARS:
            run.mark_done(verdict, summary)
        else:
            run.mark_answered(result)
    return run.status


def django_ready() -> bool:
    """Whether this process has set Django up; a worker of an outside cluster has not."""
    from django.apps import apps

    return apps.ready


class _Watch:
    """Reports a run's progress now and then, and hears of a cancel or of a runner that is gone."""

    def __init__(self, run) -> None:  # type: ignore[no-untyped-def]
        self.run, self.asked, self.last = run, False, 0.0
        self.parent = int(os.environ.get("WENDRICK_RUNNER_PID", "0"))

    def progress(self, share: float, what: str) -> None:
        now = time.monotonic()
        if now - self.last > REPORT_EVERY_S or share >= 1.0:
            self.last = now
            self.asked = self.run.report(share, what)
        if self.parent and os.getppid() != self.parent:
            os._exit(3)  # the runner is gone: its rows are taken up by the next one

    def cancelled(self) -> bool:
        return self.asked


def _answer(run) -> dict:  # type: ignore[no-untyped-def, type-arg]
    """The small answer of a run in a batch; taken from another run of the same case where there is one."""
    from core.buildup.model import BuildUp, Place
    from server.runs.answers import brief_answer, wetting_answer
    from server.runs.models import Run

    same = Run.objects.filter(case_hash=run.case_hash, kind=run.kind, status=Run.DONE, result__isnull=False).first()
    if same is not None:
        return dict(same.result or {})
    build_up, place = BuildUp.model_validate(run.build_up), Place.model_validate(run.place)
    watch = _Watch(run)
    answer = wetting_answer if run.kind == Run.WETTING else brief_answer
    return answer(build_up, place, run.inputs, watch.progress, watch.cancelled)


def _compute(run) -> tuple[dict, dict]:  # type: ignore[no-untyped-def, type-arg]
    from core.buildup.model import BuildUp, Place
    from core.buildup.to_case import model_of
    from core.criteria.verdict import judge
    from core.moisture.transient.outcome import Outcome
    from core.moisture.transient.solve import simulate

    model = model_of(BuildUp.model_validate(run.build_up), Place.model_validate(run.place))
    folder = run.folder
    if not (folder / "outcome.json").exists():
        watch = _Watch(run)
        outcome = simulate(model.case, watch.progress, watch.cancelled)
        temporary = Path(f"{folder}.{os.getpid()}.tmp")
        shutil.rmtree(temporary, ignore_errors=True)
        outcome.save(temporary)
        shutil.rmtree(folder, ignore_errors=True)
        folder.parent.mkdir(parents=True, exist_ok=True)
        temporary.replace(folder)
    outcome = Outcome.load(folder)
    return judge(model, outcome, _as_found(run)).as_document(), outcome.summary()


def _as_found(run) -> dict | None:  # type: ignore[no-untyped-def, type-arg]
    """What the as-found run of the element says for comparison; None for as found itself, or when it has not run."""
    from server.projects.models import Option
    from server.runs.models import Run

    if run.option.role == Option.AS_FOUND:
        return None
    found = Run.objects.years().filter(
        option__element=run.option.element, option__role=Option.AS_FOUND, status=Run.DONE
    )
    newest = found.first()
    return (newest.verdict or {}).get("compared") if newest is not None else None

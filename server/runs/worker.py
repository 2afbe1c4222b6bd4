"""What a worker process does with one run. It opens no transaction while it computes."""

from __future__ import annotations

import os
import shutil
import time
from pathlib import Path

REPORT_EVERY_S = 0.4


def start_worker(parent: int) -> None:
    """Set Django up in a spawned process and remember whose child it is."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
    os.environ["WENDRICK_RUNNER_PID"] = str(parent)
    import django

    django.setup()
    import core.moisture.transient.solve  # noqa: F401  (numba is loaded before the first run)


def execute(run_id: int) -> str:
    """Compute one claimed run and mark it. Returns its final status."""
    from core.errors import Cancelled, CoreError
    from server.runs.models import Run

    run = Run.objects.select_related("option__element__project").get(pk=run_id)
    try:
        verdict, summary = _compute(run)
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
        run.mark_done(verdict, summary)
    return run.status


def _compute(run) -> tuple[dict, dict]:  # type: ignore[no-untyped-def, type-arg]
    from core.buildup.model import BuildUp, Place
    from core.buildup.to_case import model_of
    from core.criteria.verdict import judge
    from core.moisture.transient.outcome import Outcome
    from core.moisture.transient.solve import simulate

    model = model_of(BuildUp.model_validate(run.build_up), Place.model_validate(run.place))
    folder = run.folder
    if not (folder / "outcome.json").exists():
        cancelled = {"asked": False, "last": 0.0}
        parent = int(os.environ.get("WENDRICK_RUNNER_PID", "0"))

        def progress(share: float, what: str) -> None:
            now = time.monotonic()
            if now - cancelled["last"] > REPORT_EVERY_S or share >= 1.0:
                cancelled["last"] = now
                cancelled["asked"] = run.report(share, what)
            if parent and os.getppid() != parent:
                os._exit(3)  # the runner is gone: its rows are taken up by the next one

        outcome = simulate(model.case, progress, lambda: bool(cancelled["asked"]))
        temporary = Path(f"{folder}.{os.getpid()}.tmp")
        shutil.rmtree(temporary, ignore_errors=True)
        outcome.save(temporary)
        shutil.rmtree(folder, ignore_errors=True)
        folder.parent.mkdir(parents=True, exist_ok=True)
        temporary.replace(folder)
    outcome = Outcome.load(folder)
    return judge(model, outcome).as_document(), outcome.summary()

"""The job engine: one runner claims rows and gives them to spawned worker processes.

The interface is submit, progress (on the row), cancel (on the row). A killed worker's run is done again; a killed
runner's runs are taken up by the next.
"""

from __future__ import annotations

import logging
import os
import time
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from multiprocessing import get_context

from django.conf import settings
from django.db import close_old_connections

from server.runs.models import Run
from server.runs.worker import execute, start_worker

log = logging.getLogger(__name__)
POLL_S = 0.15


class Engine:
    """Keeps as many runs under way as there are workers. One thread of computation each."""

    def __init__(self, workers: int | None = None) -> None:
        self.workers = workers or settings.WORKERS
        self.under_way: dict[int, Future[str]] = {}
        self.pool = self._new_pool()

    def _new_pool(self) -> ProcessPoolExecutor:
        for name in ("OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS", "NUMBA_NUM_THREADS"):
            os.environ.setdefault(name, "1")
        return ProcessPoolExecutor(
            self.workers, mp_context=get_context("spawn"), initializer=start_worker, initargs=(os.getpid(),)
        )

    def submit(self, run: Run) -> None:
        self.under_way[run.pk] = self.pool.submit(execute, run.pk)

    def step(self) -> None:
        """Collect what has ended, then claim as much as there is room for."""
        broken = False
        for run_id, future in list(self.under_way.items()):
            if future.done():
                del self.under_way[run_id]
                error = future.exception()
                broken = broken or isinstance(error, BrokenProcessPool)
                if error is not None:
                    log.error("run %s: %s", run_id, error)
        if broken:
            self.under_way.clear()
            self.pool.shutdown(wait=False, cancel_futures=True)
            self.pool = self._new_pool()
            Run.objects.release_orphans(everything=True)
        while len(self.under_way) < self.workers:
            run = Run.objects.claim_next()
            if run is None:
                break
            try:
                self.submit(run)
            except BrokenProcessPool:
                self.pool = self._new_pool()
                self.submit(run)

    def forever(self) -> None:
        """Run until the process is stopped. Rows left by an earlier runner are taken up first."""
        Run.objects.release_orphans(everything=True)
        while True:
            close_old_connections()
            self.step()
            time.sleep(POLL_S)

    def close(self) -> None:
        self.pool.shutdown(wait=False, cancel_futures=True)
        for process in list((self.pool._processes or {}).values()):
            process.terminate()

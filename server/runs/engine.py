"""The job engine: one runner claims rows and gives them to Dask workers, one thread of computation each.

The interface is submit, progress (on the row), cancel (on the row). By default a local cluster of processes; an existing
one when WENDRICK_SCHEDULER names its scheduler. A killed worker's run is done again by Dask on another; a killed runner's
runs are taken up by the next. Workers of an existing cluster need this program and its data at the same paths; whoever
reaches its scheduler owns the data, so it is spoken to by TLS (docs/operating.md).
"""

from __future__ import annotations

import logging
import os
import time
from typing import Any

from django.conf import settings
from django.db import close_old_connections

from server.runs.models import Run
from server.runs.worker import execute, start_worker

log = logging.getLogger(__name__)
POLL_S = 0.1
ROOM_S = 2.0  # how long the number of workers is believed
AHEAD = 1  # runs handed over beyond the workers there are, so that none waits for the next look at the queue


class Engine:
    """Keeps as many runs under way as there are workers, and a few ready behind them."""

    def __init__(self, workers: int | None = None, scheduler: str | None = None) -> None:
        self.scheduler = scheduler if scheduler is not None else settings.SCHEDULER
        self.under_way: dict[int, Any] = {}
        self.cluster: Any = None
        self.client: Any = self._connect(workers or settings.WORKERS)
        self._room = (0.0, 0)

    def _connect(self, workers: int) -> Any:
        """A client of the cluster named, or of a local one made here."""
        import dask

        # read when distributed is imported: it would tell every coming and going of its workers
        dask.config.set({"logging": {"distributed": "error"}})
        from distributed import Client, LocalCluster
        from distributed.security import Security

        for name in ("OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS", "NUMBA_NUM_THREADS"):
            os.environ.setdefault(name, "1")
        dask.config.set({"distributed.admin.tick.limit": "1h", "distributed.scheduler.allowed-failures": 2})
        # no pages of the cluster's own: what it does is seen under Runs
        dask.config.set({"distributed.scheduler.http.routes": [], "distributed.worker.http.routes": []})
        make_client: Any = Client
        make_cluster: Any = LocalCluster
        make_security: Any = Security
        if self.scheduler:
            tls = settings.SCHEDULER_TLS
            names = {"tls_ca_file": tls["ca"], "tls_client_cert": tls["cert"], "tls_client_key": tls["key"]}
            security = make_security(**names, require_encryption=True) if all(tls.values()) else None
            return make_client(self.scheduler, timeout=10, set_as_default=False, security=security)
        os.environ["WENDRICK_RUNNER_PID"] = str(os.getpid())  # a worker made anew is this process's child too
        self.cluster = make_cluster(
            n_workers=workers,
            threads_per_worker=1,
            processes=True,
            host="127.0.0.1",
            dashboard_address=None,
            # keys that live as long as this process: whoever reaches a worker could run code as the server
            security=make_security.temporary(),
            local_directory=str(settings.DATA / "dask"),
            silence_logs=logging.CRITICAL,
        )
        client = make_client(self.cluster, set_as_default=False)
        client.run(start_worker, os.getpid())
        return client

    @property
    def room(self) -> int:
        """How many runs may be under way: threads of the cluster's workers, and a few ahead."""
        asked, threads = self._room
        if time.monotonic() - asked > ROOM_S or not threads:
            threads = sum(self.client.nthreads().values())
            self._room = time.monotonic(), threads
        return threads + AHEAD if threads else 0

    def submit(self, run: Run) -> None:
        # pure=False: the same row may be computed again; no retries by Dask beyond lost workers
        self.under_way[run.pk] = self.client.submit(execute, run.pk, pure=False, key=f"run-{run.pk}-{run.attempts}")

    def step(self) -> None:
        """Collect what has ended, then claim as much as there is room for."""
        for run_id, future in list(self.under_way.items()):
            if future.done():
                del self.under_way[run_id]
                if future.status != "finished":
                    log.error("run %s: %s", run_id, future.exception() if future.status == "error" else future.status)
                    self._lost(run_id)
        while len(self.under_way) < self.room:
            run = Run.objects.claim_next()
            if run is None:
                break
            self.submit(run)

    def _lost(self, run_id: int) -> None:
        """A run whose worker was lost too often, or that Dask gave up: it waits again, or fails after too many attempts."""
        Run.objects.filter(pk=run_id).release_orphans(everything=True)

    def forever(self) -> None:
        """Run until the process is stopped. Rows left by an earlier runner are taken up first."""
        Run.objects.release_orphans(everything=True)
        while True:
            close_old_connections()
            self.step()
            time.sleep(POLL_S)

    def close(self) -> None:
        self.client.close()
        if self.cluster is not None:
            self.cluster.close(timeout=5)

"""The job engine: one runner claims rows and gives them to Dask workers, one thread of computation each.

The interface is submit, progress (on the row), cancel (on the row). By default a local cluster of processes; an existing
one when WENDRICK_SCHEDULER names its scheduler. A killed worker's run waits again, and fails when that
happens too often; a killed runner's runs are taken up by the next and nothing is held against them. Workers of an existing cluster need this program and its data at the same paths; whoever
reaches its scheduler owns the data, so it is spoken to by TLS (docs/operating.md).
"""

from __future__ import annotations

import logging
import os
import time
from typing import Any

from django.conf import settings
from django.db import OperationalError, close_old_connections, connection

from server.problems import of_the_machine
from server.runs.heartbeat import EVERY_S, beat
from server.runs.keeping import keep_within
from server.runs.models import Run
from server.runs.worker import INTERRUPTED, execute, start_worker

log = logging.getLogger(__name__)
POLL_S, LOOK_S = 0.1, 0.2  # between looks, with runs under way and at rest
REST_S = 5.0  # how long nothing new is begun after the disk was full or the database locked
KEEP_EVERY_S = 600.0
# What is said of a runner that a full disk, read-only data or a busy database hinders, by the code of the problem.
HINDERED = {
    "no_room": "the disk of the server is full, or fails",
    "read_only": "the data of the server cannot be written",
    "busy": "the server is busy with something large",
}
ROOM_S = 2.0  # how long the number of workers is believed
# What the cluster would otherwise do a hundred times a second, and ten times: its tasks are runs of seconds, and its memory is the machine's.
AT_REST = {
    "distributed.worker.profile.enabled": False,
    "distributed.worker.profile.interval": "1h",
    "distributed.worker.profile.cycle": "1h",
    "distributed.admin.system-monitor.interval": "30s",
    "distributed.admin.tick.interval": "10s",
    "distributed.scheduler.active-memory-manager.start": False,
    "distributed.scheduler.work-stealing": False,
    "distributed.scheduler.worker-saturation": "inf",
    "distributed.worker.memory.target": False,
    "distributed.worker.memory.spill": False,
    "distributed.worker.memory.pause": False,
    "distributed.worker.memory.terminate": False,
    "distributed.worker.memory.recent-to-old-time": "1h",
}
HEARTBEAT_S = 5.0
QUIET_S = 5.0  # how often the queue is looked at, where nothing was written to the database since
AHEAD = 1  # runs handed over beyond the workers there are, so that none waits for the next look at the queue


class Engine:
    """Keeps as many runs under way as there are workers, and a few ready behind them."""

    def __init__(self, workers: int | None = None, scheduler: str | None = None) -> None:
        self.scheduler = scheduler if scheduler is not None else settings.SCHEDULER
        self.under_way: dict[int, Any] = {}
        self.asked = 0
        self.rests_until = 0.0
        self.seen, self.looked = -1, 0.0
        self.workers = workers or settings.WORKERS
        self.cluster: Any = None
        self.client: Any = self._connect(self.workers)
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
        dask.config.set({"distributed.admin.tick.limit": "1h", "distributed.scheduler.allowed-failures": 0})
        dask.config.set({"distributed.deploy.lost-worker-timeout": "5s"})
        # at rest it rests: nothing is sampled for a profile, nor the machine looked at more often than once in a while
        dask.config.set(AT_REST)
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
        from distributed import scheduler as of_cluster

        # workers of a small cluster would tell twice a second that they live; that one died is told by its connection
        setattr(of_cluster, "heartbeat_interval", lambda workers: HEARTBEAT_S)  # noqa: B010
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
        # pure=False: the same row may be computed again; a run whose worker died comes back to the queue, not to Dask
        self.asked += 1
        self.under_way[run.pk] = self.client.submit(execute, run.pk, pure=False, key=f"run-{run.pk}-{self.asked}")

    def _something_to_do(self) -> bool:
        """Whether a step may find anything: a run is under way, somebody wrote to the database since the last look, or that look was a while ago. The counter of
        SQLite tells of others' writes without reading a page."""
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA data_version")
            version = cursor.fetchone()[0]
        now = time.monotonic()
        if self.under_way or version != self.seen or now - self.looked > QUIET_S:
            self.seen, self.looked = version, now
            return True
        return False

    def step(self) -> None:
        """Collect what has ended, then claim as much as there is room for."""
        for run_id, future in list(self.under_way.items()):
            if future.done():
                self._collect(run_id, future)
        while time.monotonic() > self.rests_until and len(self.under_way) < self.room:
            run = Run.objects.claim_next()
            if run is None:
                break
            self.submit(run)

    def _collect(self, run_id: int, future: Any) -> None:
        """What became of a run. Its row is put right before it is forgotten here, so that a full disk loses none."""
        row = Run.objects.filter(pk=run_id)
        if future.status == "finished":
            if future.result() == INTERRUPTED:
                self.rests_until = time.monotonic() + REST_S
                row.wait_again()
        else:
            error = future.exception() if future.status == "error" else future.status
            if type(error).__name__ != "KilledWorker":  # the class cannot be imported before the logging is set
                log.error("run %s: %s", run_id, error)
            row.lost_their_worker()
        del self.under_way[run_id]

    def heal(self) -> int:
        """A worker that died while it started is given up by Dask: another in its place. Answers how many threads there are."""
        threads = sum(self.client.nthreads().values())
        if self.cluster is not None and threads < self.workers:
            self.cluster.scale(self.workers)
        return threads

    def forever(self) -> None:
        """Run until the process is stopped. Rows left by an earlier runner are taken up first; trouble is waited out."""
        first, beaten, kept_at, trouble = True, 0.0, time.monotonic(), ""
        while True:
            try:
                if first:
                    Run.objects.all().wait_again()
                    first = False
                if self._something_to_do():
                    self.step()
                if time.monotonic() - kept_at > KEEP_EVERY_S:
                    kept_at = time.monotonic()
                    keep_within(settings.RESULTS_LIMIT)
                trouble = ""
            except (OperationalError, OSError) as error:
                known = of_the_machine(error)
                if known is None:
                    raise
                if HINDERED[known.code] != trouble:
                    log.warning("%s", error)
                trouble = HINDERED[known.code]
                close_old_connections()
                connection.close()
                time.sleep(REST_S / 5)
            if time.monotonic() - beaten > EVERY_S:
                beaten = time.monotonic()
                beat(self.heal(), trouble)
            time.sleep(POLL_S if self.under_way else LOOK_S)

    def close(self) -> None:
        self.client.close()
        if self.cluster is not None:
            self.cluster.close(timeout=5)

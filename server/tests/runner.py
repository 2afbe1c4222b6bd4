"""Django's test runner: files of runs and photos in folders of their own, several processes side by side."""

from __future__ import annotations

import multiprocessing
import os
import resource
import shutil
import tempfile
import time
import traceback
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import connection
from django.test import override_settings
from django.test.runner import (  # type: ignore[attr-defined]
    DiscoverRunner,
    ParallelTestSuite,
    RemoteTestResult,
    RemoteTestRunner,
    _init_worker,
)

# A password of a test is made hundreds of times, two thirds of a second each with the hasher of the program.
QUICK_HASHER = "django.contrib.auth.hashers.MD5PasswordHasher"
FEW = 12  # failures that are told again
TOLD = 1500  # characters of a failure that are told again at the end
LONGEST = 20  # classes of tests whose time is told at the end


def _init(*args: Any, **kwargs: Any) -> None:
    """Beside Django's own: no two processes share files, and what is tested may start processes."""
    _init_worker(*args, **kwargs)
    one = Path(settings.RESULTS).parent / multiprocessing.current_process().name
    settings.RESULTS, settings.PHOTOS, settings.REPORTS = one / "runs", one / "photos", one / "reports"
    settings.DOCUMENTS = one / "documents"
    multiprocessing.current_process()._config["daemon"] = False  # type: ignore[attr-defined]


class Told(RemoteTestResult):
    """Failures as text, because not every exception and no test with a client goes from one process to another."""

    def _tell(self, event: str, test: Any, err: Any, where: str = "") -> None:
        text = where + "".join(traceback.format_exception(*err))
        self.events.append((event, self.test_index, (AssertionError, AssertionError(text), None)))

    def addError(self, test: Any, err: Any) -> None:  # noqa: N802
        self._tell("addError", test, err)

    def addFailure(self, test: Any, err: Any) -> None:  # noqa: N802
        self._tell("addFailure", test, err)

    def addSubTest(self, test: Any, subtest: Any, err: Any) -> None:  # noqa: N802
        if err is not None:
            self._tell("addFailure", test, err, f"{subtest._subDescription()}\n")


def _of_a_core() -> float:
    """Seconds of work of this process and of those it started and saw end: on a busy machine they say more than the clock."""
    own, started = (resource.getrusage(who) for who in (resource.RUSAGE_SELF, resource.RUSAGE_CHILDREN))
    return own.ru_utime + own.ru_stime + started.ru_utime + started.ru_stime


class TellingRunner(RemoteTestRunner):
    """One class of tests in one process; how long it took is written down for the end."""

    resultclass = Told

    def run(self, test: Any) -> Any:
        first, began, worked = type(next(iter(test), None)), time.monotonic(), _of_a_core()
        try:
            return super().run(test)
        finally:
            took, work = time.monotonic() - began, _of_a_core() - worked
            with Path(settings.RESULTS).parent.with_suffix(".took").open("a") as out:
                out.write(f"{took:.0f} s, {work:.0f} s of a core: {first.__module__}.{first.__name__}\n")


ROOMS = ["e2e", "server", "core"]


class SideBySide(ParallelTestSuite):
    """The walks through the interface first, because they are the longest: nobody waits for one of them at the end."""

    init_worker = _init
    runner_class = TellingRunner

    def __init__(self, subsuites: list[Any], *args: Any, **kwargs: Any) -> None:
        def late(subsuite: Any) -> int:
            first = next(iter(subsuite), None)
            room = type(first).__module__.partition(".")[0] if first else ""
            return ROOMS.index(room) if room in ROOMS else 0  # what could not be imported fails first

        super().__init__(sorted(subsuites, key=late), *args, **kwargs)


class Runner(DiscoverRunner):
    parallel_test_suite = SideBySide

    def setup_databases(self, **kwargs: Any) -> Any:
        """The database that is copied for each process is closed first, so that nothing of it is still in its log."""
        creation = connection.creation
        copy = creation._clone_test_db

        def closed_and_copied(*args: Any, **more: Any) -> None:
            connection.close()
            copy(*args, **more)

        creation._clone_test_db = closed_and_copied
        return super().setup_databases(**kwargs)

    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> int:
        """What failed is told once more at the end, where whoever sees only the last lines looks."""
        self.failing = [f"{test}: {text.rstrip()[-TOLD:]}" for test, text in result.failures + result.errors]
        return super().suite_result(suite, result, **kwargs)

    def run_tests(self, *args: Any, **kwargs: Any) -> int:
        folder = Path(tempfile.mkdtemp(prefix="wendrick-tests-"))
        try:
            os.environ["WENDRICK_TEST_FOLDER"] = str(folder)  # of what the processes of tests share
            files = {"RESULTS": folder / "runs", "PHOTOS": folder / "photos", "REPORTS": folder / "reports"}
            files["DOCUMENTS"] = folder / "documents"
            with override_settings(**files, PASSWORD_HASHERS=[QUICK_HASHER]):
                failed: int = super().run_tests(*args, **kwargs)
            took = [line for file in sorted(folder.glob("*.took")) for line in file.read_text().splitlines()]
            longest = sorted(took, key=lambda line: -int(line.split()[0]))[:LONGEST]
            work = sum(int(line.split()[2]) for line in took)
            print("\n".join([f"{work} s of a core; the longest:", *longest]) if longest else "", flush=True)
            print("\n\n".join(["", *(f"FAILED {one}" for one in self.failing[:FEW])]) if failed else "", flush=True)
            return failed
        finally:
            shutil.rmtree(folder, ignore_errors=True)

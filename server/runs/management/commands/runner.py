"""manage.py runner: compute what waits in the queue until stopped. One runner at a time."""

import fcntl
import signal
import sys
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from server.runs.engine import Engine


class Command(BaseCommand):
    help = "Compute waiting runs until stopped."

    def handle(self, *args: Any, **options: Any) -> None:
        lock = open(settings.DATA / "runner.lock", "w")  # noqa: SIM115  (held for the life of the process)
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            raise CommandError("another runner is at work on this data") from error
        signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
        engine = Engine()
        try:
            engine.forever()
        except KeyboardInterrupt:
            pass
        finally:
            engine.close()

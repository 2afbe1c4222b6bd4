"""Django's test runner with the files of runs and photos in a folder of its own."""

from __future__ import annotations

import shutil
import tempfile
from pathlib import Path
from typing import Any

from django.test import override_settings
from django.test.runner import DiscoverRunner


class Runner(DiscoverRunner):
    def run_tests(self, *args: Any, **kwargs: Any) -> int:
        folder = Path(tempfile.mkdtemp(prefix="wendrick-tests-"))
        try:
            with override_settings(RESULTS=folder / "runs", PHOTOS=folder / "photos"):
                return super().run_tests(*args, **kwargs)
        finally:
            shutil.rmtree(folder, ignore_errors=True)

"""The logic of the web, tested by Vitest: each of its tests is one here, under its own name and with its own message."""

from __future__ import annotations

import json
import subprocess
import tempfile
import unittest
from functools import lru_cache
from pathlib import Path
from typing import Any

WEB = Path(__file__).resolve().parents[2] / "web"


def _vitest(*words: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(["npx", "vitest", *words], cwd=WEB, capture_output=True, text=True, timeout=600)


def named() -> list[str]:
    """“file: describe > test” of every test there is."""
    done = _vitest("list", "--json")
    if done.returncode != 0:
        raise RuntimeError(f"Vitest could not list its tests:\n{done.stdout[-2000:]}\n{done.stderr[-2000:]}")
    start = done.stdout.index("[")
    return [f"{Path(one['file']).name}: {one['name']}" for one in json.loads(done.stdout[start:])]


@lru_cache(maxsize=1)
def outcomes() -> dict[str, tuple[str, str]]:
    """(status, message) by name; run once, when the first is asked for."""
    with tempfile.NamedTemporaryFile(suffix=".json") as report:
        done = _vitest("run", "--reporter=json", f"--outputFile={report.name}")
        try:
            files = json.loads(Path(report.name).read_text())["testResults"]
        except (json.JSONDecodeError, KeyError) as error:
            raise RuntimeError(f"Vitest did not run:\n{done.stdout[-2000:]}\n{done.stderr[-2000:]}") from error
    found = {}
    for file in files:
        for one in file["assertionResults"]:
            name = f"{Path(file['name']).name}: {' > '.join([*one['ancestorTitles'], one['title']])}"
            found[name] = (one["status"], "\n".join(one["failureMessages"]))
        if not file["assertionResults"]:
            found[Path(file["name"]).name] = (file["status"], file.get("message", ""))
    return found


class WebLogic(unittest.TestCase):
    """One test of the web, or that no file of them was left out."""

    def __init__(self, name: str = "", method: str = "outcome") -> None:
        super().__init__(method)
        self.name = name

    def outcome(self) -> None:
        status, message = outcomes().get(self.name, ("missing", "Vitest did not report this test"))
        self.assertEqual(status, "passed", f"{self.name}\n{message}")

    def every_file(self) -> None:
        listed = {name.split(":")[0] for name in outcomes()}
        self.assertEqual(listed, {path.name for path in (WEB / "tests").glob("*.test.ts")})

    def __eq__(self, other: object) -> bool:
        return isinstance(other, WebLogic) and other.name == self.name

    def __hash__(self) -> int:
        return hash(self.name)

    def id(self) -> str:
        return f"{type(self).__module__}.{self.name}"

    def __str__(self) -> str:
        return self.name

    def shortDescription(self) -> str | None:
        return self.name


def load_tests(loader: Any, tests: Any, pattern: str | None) -> unittest.TestSuite:
    return unittest.TestSuite([*map(WebLogic, named()), WebLogic("no file of tests was left out", "every_file")])

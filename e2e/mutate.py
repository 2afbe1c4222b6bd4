"""`./run mutate [COUNT] [ROOM] [--seed N]`: one small change to the program at a time, each run against the tests that ought to see it.

A change is drawn at random from the syntax trees of a room (`core`, `server`, or a path in them): a comparison, an operator, a constant, and/or, not, min/max.
It is written into a copy of the house, and the test modules that reach the file run there, the nearest first, until one fails: the change is *killed*. What
survives every one of them is told with its place, for docs/testing.md. Left out: tests, tables of data, annotations, the compiled kernel (each change would
be a minute of compiling; its own tests hold its Jacobian and its balances), and the tools under core/cases.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import Queue

import grimp

ROOT = Path(__file__).resolve().parents[1]
LEFT_OUT = (
    "/tests/",
    "/migrations/",
    "core/cases/",
    "transient/kernel.py",
    "core/bench.py",
    "__main__.py",
    "server/settings.py",
    "server/gunicorn",
)
MOST_MODULES = 8  # of tests for one change: a change that eight modules do not see is told as one that survives
TIME_OUT_S = 240.0
TIMES = 1.2  # what a figure with a point is multiplied by
COMPARISONS: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq, ast.In: ast.NotIn, ast.NotIn: ast.In,
    ast.Is: ast.IsNot, ast.IsNot: ast.Is,
}  # fmt: skip
OPERATORS: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.Pow: ast.Mult,
}  # fmt: skip
SWAPPED = {"min": "max", "max": "min", "minimum": "maximum", "maximum": "minimum", "any": "all", "all": "any"}


@dataclass(frozen=True)
class Site:
    """One change: the file, its line, the number of the node in its tree, and the change in words."""

    path: str
    line: int
    node: int
    words: str


@dataclass(frozen=True)
class Tried:
    site: Site
    state: str  # killed, survived, not decided
    by: str
    seconds: float


def changed(node: ast.AST) -> str:
    """Changes a node in place. Returns the change in words, empty where there is none to make."""
    if isinstance(node, ast.Compare) and type(node.ops[0]) in COMPARISONS:
        before, after = type(node.ops[0]), COMPARISONS[type(node.ops[0])]
        node.ops[0] = after()
        return f"{before.__name__} → {after.__name__}"
    if isinstance(node, ast.BinOp) and type(node.op) in OPERATORS and not _of_text(node) and not _of_types(node):
        was, now = type(node.op), OPERATORS[type(node.op)]
        node.op = now()
        return f"{was.__name__} → {now.__name__}"
    if isinstance(node, ast.BoolOp):
        had = type(node.op)
        node.op = ast.And() if had is ast.Or else ast.Or()
        return f"{had.__name__} → {type(node.op).__name__}"
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
        node.op = ast.UAdd()
        inner = node.operand
        node.operand = ast.Call(func=ast.Name(id="bool", ctx=ast.Load()), args=[inner], keywords=[])
        return "not taken away"
    if isinstance(node, ast.Constant):
        value = node.value
        if isinstance(value, bool) or not isinstance(value, int | float):
            return ""
        node.value = value * TIMES if isinstance(value, float) and value else value + 1
        return f"{value} → {node.value}"
    if isinstance(node, ast.Call):
        name = node.func
        if isinstance(name, ast.Name) and name.id in SWAPPED:
            old, name.id = name.id, SWAPPED[name.id]
            return f"{old} → {name.id}"
        if isinstance(name, ast.Attribute) and name.attr in SWAPPED:
            old, name.attr = name.attr, SWAPPED[name.attr]
            return f"{old} → {name.attr}"
    return ""


def _of_text(node: ast.BinOp) -> bool:
    return any(
        isinstance(one, ast.JoinedStr) or (isinstance(one, ast.Constant) and isinstance(one.value, str))
        for one in (node.left, node.right)
    )


def _of_types(node: ast.BinOp) -> bool:
    return isinstance(node.op, ast.BitOr)


def numbered(tree: ast.Module) -> Iterator[tuple[int, ast.AST]]:
    """The nodes inside functions, each with its number in the walk: no data tables, no annotations, no defaults."""
    wanted: set[int] = set()
    for function in ast.walk(tree):
        if isinstance(function, ast.FunctionDef):
            for statement in function.body:
                wanted |= {id(node) for node in ast.walk(statement)}
    for number, node in enumerate(ast.walk(tree)):
        if id(node) in wanted:
            yield number, node


def sites_of(room: str) -> list[Site]:
    found = []
    for path in sorted((ROOT / room).rglob("*.py") if (ROOT / room).is_dir() else [ROOT / room]):
        name = path.relative_to(ROOT).as_posix()
        if any(part in name for part in LEFT_OUT):
            continue
        for number, node in numbered(ast.parse(path.read_text(encoding="utf-8"))):
            line = getattr(node, "lineno", 0)
            words = changed(node)
            if words:
                found.append(Site(name, line, number, words))
    return found


def mutant(site: Site) -> str:
    """The file with the change in it."""
    tree = ast.parse((ROOT / site.path).read_text(encoding="utf-8"))
    node = next(node for number, node in numbered(tree) if number == site.node)
    changed(node)
    return ast.unparse(ast.fix_missing_locations(tree))


class Nearest:
    """Test modules by how near they are to a module: by the shortest chain of imports, those that are named like it first."""

    def __init__(self) -> None:
        self.graph = grimp.build_graph("core", "server", "demo", cache_dir=None)
        self.tests = [
            one
            for one in sorted(self.graph.modules)
            if ".tests.test_" in one and not one.endswith(("test_web_logic", "test_fuzz"))
        ]
        self.rank: dict[str, list[str]] = {}

    def of(self, path: str) -> list[str]:
        module = path.removesuffix(".py").replace("/", ".").removesuffix(".__init__")
        if module not in self.rank:
            near = []
            for test in self.tests:
                chain = self.graph.find_shortest_chain(test, module)
                if chain is not None:
                    alike = module.rsplit(".", 1)[-1].rstrip("s") in test.rsplit(".", 1)[-1]
                    near.append((not alike, len(chain), test.startswith("server") and path.startswith("core"), test))
            self.rank[module] = [test for *_, test in sorted(near)][:MOST_MODULES]
        return self.rank[module]


def copied(to: Path) -> Path:
    """The house without what it makes."""
    for name in ("core", "server", "demo", "e2e", "docs"):
        shutil.copytree(ROOT / name, to / name, ignore=shutil.ignore_patterns("screenshots"))
    (to / "web").mkdir()
    for name in ("dist", "src", "package.json"):
        source = ROOT / "web" / name
        if source.is_dir():
            shutil.copytree(source, to / "web" / name)
        elif source.exists():
            shutil.copy(source, to / "web" / name)
    for name in ("manage.py", "pyproject.toml", "requirements.txt", "run", "README.md", "CHANGELOG.md"):
        if (ROOT / name).exists():
            shutil.copy(ROOT / name, to / name)
    (to / "var").mkdir()
    return to


def tried(site: Site, at: Path, tests: list[str]) -> Tried:
    """One change, against its tests, in a copy that is put right afterwards."""
    began = time.monotonic()
    file = at / site.path
    whole = file.read_text(encoding="utf-8")
    file.write_text(mutant(site), encoding="utf-8")
    try:
        for test in tests:
            left = TIME_OUT_S - (time.monotonic() - began)
            if left <= 0.0:
                return Tried(site, "not decided", test, time.monotonic() - began)
            command = [sys.executable, "manage.py", "test", test, "--failfast", "--noinput", "--verbosity", "0"]
            try:
                done = subprocess.run(
                    command, cwd=at, capture_output=True, timeout=left, env={**os.environ, "PYTHONPATH": str(at)}
                )
            except subprocess.TimeoutExpired:
                return Tried(site, "not decided", test, time.monotonic() - began)
            if done.returncode:
                return Tried(site, "killed", test, time.monotonic() - began)
    finally:
        file.write_text(whole, encoding="utf-8")
    return Tried(site, "survived", ", ".join(one.rsplit(".", 1)[-1] for one in tests), time.monotonic() - began)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("count", nargs="?", type=int, default=200)
    parser.add_argument("room", nargs="?", default="core")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--processes", type=int, default=max(os.cpu_count() or 1, 1))
    asked = parser.parse_args()
    every = sites_of(asked.room)
    sites = random.Random(asked.seed).sample(every, min(asked.count, len(every)))
    print(f"{len(sites)} of {len(every)} changes in {asked.room}", flush=True)
    nearest = Nearest()
    states: dict[str, int] = {}
    with tempfile.TemporaryDirectory() as folder:
        free: Queue[Path] = Queue()
        for number in range(asked.processes):
            free.put(copied(Path(folder) / str(number)))

        def one(site: Site) -> Tried:
            at = free.get()
            try:
                return tried(site, at, nearest.of(site.path))
            finally:
                free.put(at)

        with ThreadPoolExecutor(asked.processes) as pool:
            for row in pool.map(one, sites):
                states[row.state] = states.get(row.state, 0) + 1
                print(
                    f"{row.state}: {row.site.path}:{row.site.line} {row.site.words} ({row.by}, {row.seconds:.0f} s)",
                    flush=True,
                )
    decided = states.get("killed", 0) + states.get("survived", 0)
    share = states.get("killed", 0) / decided if decided else 0.0
    print(
        f"{', '.join(f'{count} {state}' for state, count in sorted(states.items()))}; {share:.0%} killed of those decided"
    )
    return 0


if __name__ == "__main__":
    sys.exit(main())

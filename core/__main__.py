"""python -m core simulate|preview|verify|bench

simulate CASE.json [--out RESULT.json] [--csv HOURLY.csv]   compute a case
preview  FILE.json                                          steady figures of a build-up in its place
verify   [--json] [NAME …]                                  every benchmark; exit 1 when one fails
expected [NUMBER …]                                         what must be said of sixty walls; exit 1 where it is not
pins                                                        written pins with what the evidence points to; exit 1 where not
alike    [COUNT]                                            what must stay the same and never get bolder; exit 1 where not
stood    [COUNT] [--first NUMBER] [--harsh]                 random proposals held to what is said of them; exit 1 where not
practice                                                    constructions called sound or unsound, with their verdicts
stress   [COUNT] [--first SEED]                             random cases; exit 1 when one is aborted or does not close
refine   FILE.json …                                        walls of project files at double cells and quarter step
bench    [--json]                                           the table of speeds
compile                                                     the solver, once, so that nobody waits for it later
schema                                                      the JSON Schema of a case
"""

from __future__ import annotations

import argparse
import json
import sys
from dataclasses import asdict
from pathlib import Path

from core.case import Case, read_case
from core.errors import CoreError

LARGEST_CASE = 50 * 1024 * 1024


def _read(path: Path) -> Case:
    from core.errors import CaseRefused

    if not path.exists():
        raise CaseRefused("there is no such file", str(path))
    if path.stat().st_size > LARGEST_CASE:
        raise CaseRefused(f"the file is larger than {LARGEST_CASE // 1024**2} MB", str(path))
    return read_case(path.read_bytes())


def simulate_command(arguments: argparse.Namespace) -> int:
    from core.moisture.transient.solve import simulate

    case = _read(arguments.case)

    def tell(share: float, what: str) -> None:
        if sys.stderr.isatty():
            print(f"\r{share * 100:3.0f} % {what:<40}", end="", file=sys.stderr)

    outcome = simulate(case, progress=tell)
    if arguments.out:
        arguments.out.write_text(json.dumps(outcome.as_document()), encoding="utf-8")
    if arguments.csv:
        arguments.csv.write_text(outcome.as_csv(), encoding="utf-8")
    print(json.dumps(outcome.summary(), indent=1))
    return 0


def preview_command(arguments: argparse.Namespace) -> int:
    from pydantic import TypeAdapter

    from core.buildup.model import BuildUp, Limits, Place
    from core.preview import Preview, preview

    raw = json.loads(arguments.file.read_text(encoding="utf-8"))
    found = BuildUp.model_validate(raw["as_found"])
    option = BuildUp.model_validate(raw.get("option", raw["as_found"]))
    place, limits = Place.model_validate(raw.get("place", {})), Limits.model_validate(raw.get("limits", {}))
    shown = TypeAdapter(Preview).dump_python(preview(found, option, place, limits), mode="json")
    print(json.dumps(shown, indent=1))
    return 0


def verify_command(arguments: argparse.Namespace) -> int:
    from core.cases.verify import run

    rows = run(arguments.names or None)
    if arguments.json:
        print(json.dumps([{**asdict(row), "passed": row.passed} for row in rows], indent=1))
    else:
        for row in rows:
            unit = "relative" if row.relative else row.unit
            print(
                f"{'ok  ' if row.passed else 'FAIL'} {row.case:<46} {row.quantity:<36} computed {row.computed:<12.6g} "
                f"reference {row.reference:<12.6g} error {row.error:<10.2e} limit {row.limit:g} {unit}"
            )
        failed = sum(not row.passed for row in rows)
        print(f"{len(rows)} comparisons, {failed} failed")
    return 0 if all(row.passed for row in rows) else 1


def stress_command(arguments: argparse.Namespace) -> int:
    from core.cases.stress import StressResult, report, stress

    def tell(result: StressResult) -> None:
        if sys.stderr.isatty():
            print(f"\rseed {result.seed}", end="", file=sys.stderr)

    results = stress(arguments.count, tell, arguments.first)
    print(report(results))
    sound = all(not r.failure and r.water_closure < 1e-6 and r.energy_closure < 1e-6 for r in results)
    return 0 if sound else 1


def expected_command(arguments: argparse.Namespace) -> int:
    from core.cases.expected import expected

    failed = 0
    for row in expected(set(arguments.numbers)):
        failed += bool(row.failed)
        print(f"{'FAIL' if row.failed else 'ok  '} {row.number:2d} {row.wall}\n        {row.words}", flush=True)
        for what in row.failed:
            print(f"        does not hold: {what}")
    print(f"{failed} of the statements failed")
    return 1 if failed else 0


def practice_command(arguments: argparse.Namespace) -> int:
    from core.cases.practice import practice, wetted

    print("| construction | practice | verdict |\n|---|---|---|")
    wrong = 0
    for said in practice():
        wrong += said.wrong
        called = f"{'sound' if said.row.sound else 'unsound'}: {said.row.because}"
        print(
            f"| {'**' if said.wrong else ''}{said.row.name}, {said.row.place.climate}{'**' if said.wrong else ''} | {called} | {said.headline}. {said.sentence} |",
            flush=True,
        )
    print(f"\n{wrong} on the wrong side")
    print("\n| build-up | plane | mean stay at 0.5, 1, 2 kg/m², days | drying out, in, g/m² |\n|---|---|---|---|")
    for stay in wetted():
        days = ", ".join(f"{value:.0f}" for value in stay.days)
        dry = "none: the room's own face"
        if stay.drying is not None:
            out, into = stay.drying.outward, stay.drying.inward
            dry = f"{out.g_m2:.0f}, {into.g_m2:.0f}{' (vapour only)' if out.liquid or into.liquid else ''}"
        print(f"| {stay.name} | {stay.plane} | {days} | {dry} |", flush=True)
    return 0


def pins_command() -> int:
    from core.cases.pins import calibration, held

    wrong = 0
    for one in held():
        wrong += bool(one.wrong)
        shares = ", ".join(f"{p.name} {p.share:.0%}" for p in one.said.proposals[:3])
        print(f"{'FAIL' if one.wrong else 'ok  '} {one.case.words}: {shares}{f'  ({one.wrong})' if one.wrong else ''}")
    print(f"{wrong} otherwise")
    for low, high in ((0.5, 0.7), (0.7, 0.9), (0.9, 1.0)):
        number, mean, right = calibration(low, high)
        print(f"shares of {low:.0%} to {high:.0%}: {number} answers, {mean:.0%} on average, {right:.0%} right")
    return 1 if wrong else 0


def alike_command(count: int) -> int:
    import os
    import tempfile

    from core.cases.alike import alike, measured_in

    with tempfile.TemporaryDirectory() as folder:
        os.environ["WENDRICK_CLIMATES"] = folder
        found = 0
        for one in alike(count, measured_in(Path(folder))):
            found += 1
            print(f"element {one.number}, {one.what}: {one.words}", flush=True)
    print(f"{count} elements, {found} otherwise")
    return 1 if found else 0


def stood_command(arguments: argparse.Namespace) -> int:
    from core.cases.stood import stood

    states: dict[str, int] = {}
    wrong = 0
    for one in stood(arguments.count, arguments.first, harsh=arguments.harsh):
        states[one.said.state] = states.get(one.said.state, 0) + 1
        wrong += bool(one.wrong)
        size = "" if one.said.mm is None else f" {one.said.mm:g} mm"
        mark = f"WRONG: {one.wrong}" if one.wrong else (one.said.condition or one.said.because).metric
        print(f"element {one.number}, {one.way}{size}: {one.said.state}. {mark}", flush=True)
    print(f"{', '.join(f'{count} {state}' for state, count in sorted(states.items()))}; {wrong} otherwise")
    return 1 if wrong else 0


def refine_command(arguments: argparse.Namespace) -> int:
    from core.cases.refine import LIMIT_POINTS, refine_project

    worst = 0.0
    for path in arguments.files:
        for row in refine_project(json.loads(path.read_text(encoding="utf-8"))):
            worst = max(worst, row.points)
            mark = "ok  " if row.points < LIMIT_POINTS else "FAIL"
            print(f"{mark} {row.element}, {row.option}: {row.points:.2f} points of RH (rms) at {row.plane}", flush=True)
    print(f"worst {worst:.2f} points, limit {LIMIT_POINTS:g}")
    return 0 if worst < LIMIT_POINTS else 1


def compile_command() -> int:
    """A day of a wall: the compiled solver is then kept beside its source."""
    from core.cases.examples import rained_wall
    from core.moisture.transient.solve import simulate

    case = rained_wall()
    day = case.time.model_copy(update={"length_s": 86400.0, "repeat": "once"})
    simulate(case.model_copy(update={"time": day}))
    return 0


def main(argv: list[str] | None = None) -> int:
    parser = argparse.ArgumentParser(
        prog="python -m core", description=__doc__, formatter_class=argparse.RawTextHelpFormatter
    )
    commands = parser.add_subparsers(dest="command", required=True)
    one = commands.add_parser("simulate")
    one.add_argument("case", type=Path)
    one.add_argument("--out", type=Path)
    one.add_argument("--csv", type=Path)
    two = commands.add_parser("preview")
    two.add_argument("file", type=Path)
    three = commands.add_parser("verify")
    three.add_argument("--json", action="store_true")
    three.add_argument("names", nargs="*")
    four = commands.add_parser("bench")
    four.add_argument("--json", action="store_true")
    commands.add_parser("practice")
    commands.add_parser("pins")
    same = commands.add_parser("alike", help="what must stay the same, and never get bolder, on random elements")
    same.add_argument("count", nargs="?", type=int, default=2000)
    held = commands.add_parser("stood", help="random proposals held to what is said of them")
    held.add_argument("count", nargs="?", type=int, default=200)
    held.add_argument("--first", type=int, default=0)
    held.add_argument("--harsh", action="store_true", help="in harsher places only, where more do not stand")
    commands.add_parser("compile")
    forty = commands.add_parser("expected")
    forty.add_argument("numbers", type=int, nargs="*")
    five = commands.add_parser("stress")
    five.add_argument("count", type=int, nargs="?", default=1000)
    five.add_argument("--first", type=int, default=0)
    six = commands.add_parser("refine")
    six.add_argument("files", type=Path, nargs="+")
    commands.add_parser("schema")
    arguments = parser.parse_args(argv)
    try:
        if arguments.command == "simulate":
            return simulate_command(arguments)
        if arguments.command == "preview":
            return preview_command(arguments)
        if arguments.command == "verify":
            return verify_command(arguments)
        if arguments.command == "bench":
            from core.bench import main as bench

            return bench(arguments.json)
        if arguments.command == "compile":
            return compile_command()
        if arguments.command == "alike":
            return alike_command(arguments.count)
        if arguments.command == "stood":
            return stood_command(arguments)
        if arguments.command == "practice":
            return practice_command(arguments)
        if arguments.command == "pins":
            return pins_command()
        if arguments.command == "expected":
            return expected_command(arguments)
        if arguments.command == "stress":
            return stress_command(arguments)
        if arguments.command == "refine":
            return refine_command(arguments)
        print(json.dumps(Case.model_json_schema(), indent=1))
        return 0
    except CoreError as error:
        print(f"refused: {error}", file=sys.stderr)
        return 2


if __name__ == "__main__":
    sys.exit(main())

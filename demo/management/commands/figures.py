"""manage.py figures FILE: every figure of the demo, written as JSON; --against FILE: compared with what was written before.

Nothing is kept: the demo is loaded, read and rolled back. With --years the findings of every hourly run are among them.
"""

from __future__ import annotations

import json
import math
from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.core.management.base import BaseCommand, CommandError
from django.db import transaction

from core.criteria.run_findings import find_all
from core.errors import CoreError
from core.moisture.transient.solve import simulate
from core.runs import asked, started_model
from demo.people import PEOPLE
from demo.scenarios import project_file
from server.exchange.bring import import_file
from server.heat.figures import heat as heat_of
from server.house.figures import house as house_of
from server.options.figures import figures as figures_of
from server.projects.models import Element, Project
from server.survey import figures as survey

TOLERANCE = 1e-12
UNNAMED = {"id", "element_id", "option_id", "uid", "run_id", "case_hash", "key"}


class Undo(Exception):
    """Ends the transaction without keeping anything."""


class Command(BaseCommand):
    help = "Write every figure of the demo, or compare with a file written before."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--against", type=Path)
        parser.add_argument("--years", action="store_true", help="with the hourly years of every option (minutes)")

    def handle(self, *args: Any, **options: Any) -> None:
        found: dict[str, Any] = {}
        try:
            with transaction.atomic():
                user = User.objects.create_user("figures-of-the-demo")
                for _, _, _, _, files in PEOPLE:
                    for name in files:
                        with project_file(name) as stream:
                            found[name] = of_project(import_file(user, stream, stream.seek(0, 2)), options["years"])
                raise Undo
        except Undo:
            pass
        options["file"].write_text(json.dumps(found, indent=1, sort_keys=True))
        count = sum(1 for _ in leaves(found))
        self.stdout.write(f"{count} figures and words written to {options['file']}")
        if options["against"] is not None:
            differ = list(differences(json.loads(options["against"].read_text()), json.loads(json.dumps(found))))
            for line in differ[:60]:
                self.stdout.write(line)
            if differ:
                raise CommandError(f"{len(differ)} figures differ by more than {TOLERANCE:g}")
            self.stdout.write("all equal")


def of_project(project: Project, years: bool) -> dict[str, Any]:
    """Heat, house, exposure, and each option's figures, without the numbers that rows happen to have."""
    elements = list(project.elements.prefetch_related("options"))
    found: dict[str, Any] = {
        "heat": named(heat_of(project).model_dump(mode="json")),
        "shape": named(survey.shape_out(project).model_dump(mode="json")),
        "rain": named([face.model_dump(mode="json") for face in survey.faces_rain(project)]),
        "house": named(house_of(project, None, None).model_dump(mode="json")),
        "options": {},
    }
    for element in elements:
        element.project = project
        for option in element.options.all() if element.has_build_up else ():
            is_found = option.pk == element.as_found.pk
            shown = figures_of(element, element.as_found.current, option.current, is_found)
            entry = named(shown.model_dump(mode="json"))
            if years and not entry["transient_refused"]:
                entry["years"] = _years(element, option.current, is_found)
            found["options"][f"{element.position} {element.name} / {option.position} {option.name}"] = entry
    return found


def _years(element: Element, build_up: Any, is_found: bool) -> Any:
    as_found = None if is_found else element.as_found.current
    wanted = asked(build_up, element.place, as_found)
    try:
        found = simulate(wanted.found_model.case) if wanted.found_model is not None else None
        model = started_model(wanted, found)
        return find_all(model, simulate(model.case)).model_dump(mode="json")
    except CoreError as error:
        return str(error)


def named(value: Any) -> Any:
    """Without what depends on when and beside what a row was made."""
    if isinstance(value, dict):
        return {key: named(inner) for key, inner in value.items() if key not in UNNAMED}
    return [named(inner) for inner in value] if isinstance(value, list) else value


def leaves(value: Any) -> Any:
    """Every figure and word."""
    if isinstance(value, dict | list):
        for inner in value.values() if isinstance(value, dict) else value:
            yield from leaves(inner)
    else:
        yield value


def differences(before: Any, after: Any, where: str = "") -> Any:
    """Lines that say where two documents differ; numbers by more than TOLERANCE of their size."""
    if isinstance(before, dict) and isinstance(after, dict):
        for key in sorted({*before, *after}):
            yield from differences(before.get(key), after.get(key), f"{where}/{key}")
    elif isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
        for index, (one, other) in enumerate(zip(before, after, strict=True)):
            yield from differences(one, other, f"{where}/{index}")
    elif isinstance(before, float | int) and isinstance(after, float | int) and not isinstance(before, bool):
        if not math.isclose(before, after, rel_tol=TOLERANCE, abs_tol=TOLERANCE):
            yield f"{where}: {before!r} before, {after!r} now"
    elif before != after:
        yield f"{where}: {before!r:.80} before, {after!r:.80} now"

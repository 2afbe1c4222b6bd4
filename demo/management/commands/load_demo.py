"""manage.py load_demo: two made-up people, the demo projects, and their hourly years in the queue."""

from typing import Any

from django.contrib.auth.models import User
from django.core.management.base import BaseCommand

from core.errors import CoreError
from demo.people import PEOPLE
from demo.scenarios import project_file
from server.exchange.bring import import_file
from server.projects.models import Option, Project
from server.runs.actions import ask_run


class Command(BaseCommand):
    help = "Load the demo people and projects when they are not there yet."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("--no-runs", action="store_true", help="do not queue the hourly years")

    def handle(self, *args: Any, **options: Any) -> None:
        first = True
        for username, first_name, last_name, password, files in PEOPLE:
            person, new = User.objects.get_or_create(
                username=username, defaults={"first_name": first_name, "last_name": last_name}
            )
            if new:
                person.set_password(password)
                person.save()
            if not Project.objects.viewable_by(person).exists():
                for file in files:
                    with project_file(file) as stream:
                        project = import_file(person, stream, stream.seek(0, 2))
                    if not options["no_runs"]:
                        _queue(person, project, first)
                    first = False


def _queue(person: User, project: Project, first: bool) -> None:
    """The years of a project. Of the first one as found and what is chosen at once; everything else behind it."""
    rows = Option.objects.filter(element__project=project).select_related("element")
    for option in rows.order_by("element__position", "position"):
        needed = option.role == Option.AS_FOUND or option.element.chosen_id == option.pk
        try:
            ask_run(person, option.pk, looked_at=False, behind=not (first and needed))
        except CoreError:
            continue  # roofs, floors and cavities: the sheet says why

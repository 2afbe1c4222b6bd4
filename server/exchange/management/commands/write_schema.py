"""manage.py write_schema PATH: the JSON Schema of the project file."""

import json
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand

from server.exchange.schemas import ProjectFile


class Command(BaseCommand):
    help = "Write the JSON Schema of the project file."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("path", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        options["path"].write_text(json.dumps(ProjectFile.model_json_schema(), indent=1) + "\n", encoding="utf-8")

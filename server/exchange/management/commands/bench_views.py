"""manage.py bench_views: every view of a project with 60 elements, 200 pins and 300 photos, in a database thrown away."""

from __future__ import annotations

import io
import json
import random
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.core.management.base import BaseCommand
from django.db import transaction
from django.test import Client, override_settings
from PIL import Image

from core.readiness.rules import rules
from core.survey.shape import Shape
from server.exchange.bring import import_file
from server.exchange.write import document, write
from server.projects.models import Project
from server.survey.evidence import confirm_cause as do_confirm_cause
from server.survey.evidence import keep_evidence as do_keep_evidence
from server.survey.photo_rows import keep_photo as do_keep_photo
from server.survey.schemas import CauseBody, EvidenceBody, ShapeBody
from server.survey.shape import change_shape as do_change_shape

PINS, PHOTOS, ELEMENTS = 200, 300, 60


class Undo(Exception):
    """Ends the transaction without keeping anything."""


def large_shape() -> Shape:
    """A terrace of nine bodies with windows in every face: more than sixty elements."""
    bodies: list[dict[str, Any]] = []
    openings: list[dict[str, Any]] = []
    for i in range(9):
        x = 9.0 * i
        bodies.append(
            {
                "id": f"house{i}",
                "name": f"House {i}",
                "outline": [(x, 0), (x + 9, 0), (x + 9, 8), (x, 8)],
                "storeys": [{"name": "ground floor", "height_m": 2.8}, {"name": "upper floor", "height_m": 2.6}],
                "roof": {"form": "gable", "pitch_deg": 40, "room": True},
                "wall_mm": 400,
                "below": "void",
            }
        )
        for face in "ac":
            openings.append(
                {"id": f"w{i}{face}", "name": f"Windows {i}{face}", "body": f"house{i}", "face": face, "count": 3,
                 "width_m": 1.0, "height_m": 1.4}
            )  # fmt: skip
    return Shape.model_validate({"bodies": bodies, "openings": openings})


def fill(user: User) -> Project:
    """The project, by the same actions as the interface."""
    project = Project.objects.create(owner=user, name="Bench terrace", air_kind="n50", air_value=9.0)
    do_change_shape(user, project.pk, ShapeBody(revision=None, shape=large_shape()))
    rng = random.Random(1)
    picture = io.BytesIO()
    Image.effect_noise((1600, 1200), 12).convert("RGB").save(picture, "JPEG", quality=82)
    raw = picture.getvalue()
    for i in range(PHOTOS):
        do_keep_photo(user, project.pk, f"photo-{i:05d}", io.BytesIO(raw), len(raw), f"photo {i}", None)
    walls = [
        element for element in project.elements.all() if element.from_shape is not None and element.from_shape.face
    ]
    kinds = [kind.id for kind in rules().kinds]
    for i in range(PINS):
        element = rng.choice(walls)
        uid = f"pin-{i:05d}"
        pin = {
            "kind": rng.choice(kinds),
            "comes": rng.choice(["after_rain", "always", "cold_spells"]),
            "place": {
                "body": element.body,
                "face": element.from_shape.face if element.from_shape is not None else "",
                "x_m": rng.uniform(0, 9),
                "y_m": rng.uniform(0, 5),
            },
        }
        body = EvidenceBody.model_validate(
            {"element_id": element.pk, "pin": pin, "photos": [f"photo-{i:05d}", f"photo-{(i + 100) % PHOTOS:05d}"]}
        )
        do_keep_evidence(user, project.pk, uid, body)
        if i % 3:
            do_confirm_cause(user, project.pk, uid, CauseBody(mechanism="rain", reason="seen in rain"))
    return project


class Command(BaseCommand):
    help = "Measure every view of a large project; nothing is kept."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("--json", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        rows: list[tuple[str, float, str]] = []
        with tempfile.TemporaryDirectory() as folder, override_settings(PHOTOS=Path(folder), ALLOWED_HOSTS=["*"]):
            try:
                with transaction.atomic():
                    rows = self._measure()
                    raise Undo
            except Undo:
                pass
        if options["json"]:
            self.stdout.write(
                json.dumps([{"what": w, "seconds": round(s, 3), "size": z} for w, s, z in rows], indent=1)
            )
            return
        self.stdout.write(
            f"{ELEMENTS}+ elements, {PINS} pins, {PHOTOS} photos: server time of every view, best of three"
        )
        for what, seconds, size in rows:
            self.stdout.write(f"  {what:<34}{seconds * 1000:8.0f} ms   {size}")

    def _measure(self) -> list[tuple[str, float, str]]:
        user = User.objects.create_user("bench-of-views", password=None)
        project = fill(user)
        client = Client()
        client.force_login(user)
        base = f"/api/projects/{project.pk}"
        wall = project.elements.filter(kind="wall").first()
        assert wall is not None and project.elements.count() >= ELEMENTS

        def timed(what: str, act: Callable[[], Any], times: int = 3) -> tuple[str, float, str]:
            best, size = float("inf"), ""
            for _ in range(times):
                began = time.perf_counter()
                answer = act()
                best = min(best, time.perf_counter() - began)
                content = getattr(answer, "content", b"")
                size = f"{len(content) / 1024:.0f} kB" if content else ""
                assert getattr(answer, "status_code", 200) == 200, content[:300]
            return what, best, size

        views = ["", "/house", "/brief", "/shape", "/made", "/rain", "/evidence", "/measurements", "/water", "/heat"]
        rows = [timed(f"GET …{view}" if view else "GET project", lambda v=view: client.get(base + v)) for view in views]  # type: ignore[misc]
        rows.append(timed("GET element sheet", lambda: client.get(f"/api/elements/{wall.pk}/sheet")))
        rows.append(timed("GET small photo", lambda: client.get(f"{base}/photos/photo-00001?small=true")))
        began = time.perf_counter()
        with write(project) as file:
            size = file.seek(0, 2)
            rows.append(("export, whole", time.perf_counter() - began, f"{size / 1024 / 1024:.0f} MB"))
            began = time.perf_counter()
            copy = import_file(user, file, size)
            rows.append(("import, whole", time.perf_counter() - began, ""))
        assert document(copy) == document(project), "the copy is not equal"
        return rows

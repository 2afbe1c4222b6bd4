"""The project file: out and in again equal; every bad file a clear refusal and nothing changed."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase, override_settings

from server.exchange.schemas import ProjectFile
from server.exchange.write import document
from server.front import FORM_OVERHEAD
from server.projects.models import HistoryEntry, Project
from server.tests.helpers import DEMO, client_of, corrie, person

SCHEMA = Path(__file__).resolve().parents[2] / "docs" / "project.schema.json"


def without_photos(content: dict[str, Any]) -> dict[str, Any]:
    """The same project as a bare project.json can carry it: no photos, and nothing that names one."""
    for row in (*content["evidence"], *content["water"]):
        row["photos"] = []
    layers = [
        layer
        for element in content["elements"]
        for option in element["options"]
        for build_up in (option["build_up"], option["draft"])
        for layer in (build_up or {}).get("layers", [])
    ]
    for layer in layers:
        layer["photo"] = ""
    return {**content, "photos": []}


class Exchange(TestCase):
    def setUp(self) -> None:
        self.user = person("owner")
        self.project = corrie(self.user)
        self.client = client_of(self.user)

    def exported(self) -> bytes:
        answer = self.client.get(f"/api/projects/{self.project.pk}/export")
        return b"".join(answer.streaming_content)  # type: ignore[attr-defined]

    def bring(self, raw: bytes, name: str = "p.zip") -> tuple[int, dict[str, str]]:
        answer = self.client.post("/api/projects/import", {"file": SimpleUploadedFile(name, raw)})
        return answer.status_code, answer.json()

    def test_export_and_import_are_equal(self) -> None:
        raw = self.exported()
        status, made = self.bring(raw)
        self.assertEqual(status, 201)
        copy = Project.objects.get(pk=made["id"])
        self.assertNotEqual(copy.pk, self.project.pk)
        self.assertEqual(document(copy), document(self.project))
        entry = HistoryEntry.objects.filter(project=copy).get()
        self.assertEqual(entry.action, "import project")

    def test_a_bare_project_json_is_read(self) -> None:
        content = without_photos(document(self.project))
        status, made = self.bring(json.dumps(content).encode(), "project.json")
        self.assertEqual(status, 201)
        self.assertEqual(document(Project.objects.get(pk=made["id"])), content)

    def test_version_1_without_a_survey_is_read(self) -> None:
        old = Path(DEMO).with_name("millrace-workshop.json").read_bytes()
        self.assertEqual(json.loads(old)["version"], 1)
        status, made = self.bring(old, "project.json")
        self.assertEqual(status, 201)
        self.assertEqual(Project.objects.get(pk=made["id"]).evidence.count(), 0)

    def test_photos_come_back_byte_for_byte(self) -> None:
        raw = self.exported()
        _, made = self.bring(raw)
        copy = Project.objects.get(pk=made["id"])
        self.assertEqual(copy.photos.count(), 9)
        for ours, theirs in zip(self.project.photos.all(), copy.photos.all(), strict=True):
            self.assertEqual((ours.uid, ours.width, ours.height), (theirs.uid, theirs.width, theirs.height))
            self.assertEqual(ours.path().read_bytes(), theirs.path().read_bytes())
            self.assertEqual(ours.path(small=True).read_bytes(), theirs.path(small=True).read_bytes())
        with zipfile.ZipFile(io.BytesIO(raw)) as archive:
            uid = self.project.photos.all()[0].uid
            self.assertEqual(archive.read(f"photos/{uid}.jpg"), self.project.photos.all()[0].path().read_bytes())

    def test_photos_that_are_missing_or_no_pictures(self) -> None:
        content = document(self.project)
        raw = json.dumps(content).encode()
        self.refused(raw, "photos but holds none")
        self.refused(self.zipped({"project.json": raw}), "is not in the zip")
        named = {f"photos/{photo['uid']}.jpg": b"no picture" for photo in content["photos"]}
        before = sorted(settings.PHOTOS.iterdir())
        self.refused(self.zipped({"project.json": raw, **named}), "Photo")
        self.assertEqual(sorted(settings.PHOTOS.iterdir()), before, "no files are left behind")

    def test_references_of_the_survey_are_checked(self) -> None:
        def changed(change: Callable[[Any], None]) -> bytes:
            content = without_photos(document(self.project))
            change(content)
            return json.dumps(content).encode()

        self.refused(changed(lambda c: c["evidence"][0].update(element=99)), "points to element 99")
        self.refused(changed(lambda c: c["evidence"][0]["cause"].update(mechanism="magic")), "no mechanism")
        self.refused(changed(lambda c: c["evidence"][1].update(uid=c["evidence"][0]["uid"])), "share one uid")
        self.refused(changed(lambda c: c["water"][0].update(stage="moon")), "the stage “moon”")
        self.refused(
            changed(lambda c: c["measurements"][0].update(thermal=None, moisture=None, blower_door=None)), "no readings"
        )

    def refused(self, raw: bytes, word: str) -> None:
        before = Project.objects.count()
        status, problem = self.bring(raw)
        self.assertEqual((status, problem["code"]), (422, "file_refused"))
        self.assertIn(word, problem["message"])
        self.assertIn("Nothing was changed.", problem["remedy"])
        self.assertEqual(Project.objects.count(), before)

    def test_truncated_files(self) -> None:
        raw = self.exported()
        self.refused(raw[: len(raw) // 2], "cut off or damaged")
        self.refused(DEMO.read_bytes()[:4000], "schema")
        self.refused(b"", "schema")

    def zipped(self, members: dict[str, bytes]) -> bytes:
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
            for name, data in members.items():
                archive.writestr(name, data)
        return out.getvalue()

    def test_a_zip_bomb(self) -> None:
        self.refused(self.zipped({"project.json": b" " * (60 * 1024 * 1024)}), "unpacks to more than")

    def test_a_zip_with_the_wrong_things(self) -> None:
        self.refused(self.zipped({"other.json": b"{}"}), "no project.json")
        self.refused(self.zipped({"project.json": b"{}", "../../etc/passwd": b"x"}), "does not belong there")

    def test_size_limits(self) -> None:
        with override_settings(LARGEST_IMPORT=1000 - FORM_OVERHEAD):
            self.assertEqual(self.bring(self.exported())[0], 413, "not even read")
        with override_settings(LARGEST_PROJECT_JSON=1000):
            self.refused(self.exported(), "holds more than")

    def test_wrong_content_names_the_place(self) -> None:
        content = json.loads(DEMO.read_text())
        content["elements"][0]["options"][0]["build_up"]["layers"][0]["material"] = "moonstone"
        self.refused(json.dumps(content).encode(), "elements.0.options.0.build_up.layers.0")
        content = json.loads(DEMO.read_text())
        content["elements"][2]["choice"]["option"] = 50
        self.refused(json.dumps(content).encode(), "points to no option")
        content = json.loads(DEMO.read_text())
        content["elements"][0]["options"][0]["role"] = "option"
        self.refused(json.dumps(content).encode(), "as-found")

    def test_a_file_is_taken_at_its_word(self) -> None:
        """`true` is no thickness, a figure in quotes no figure, `"no"` no switch; an integer is a figure."""
        layers = document(self.project)["elements"][0]["options"][0]["build_up"]["layers"]
        thick = next(index for index, one in enumerate(layers) if one["thickness_mm"])
        layer = ("elements", 0, "options", 0, "build_up", "layers", thick)
        for field, value, fine in (
            ("thickness_mm", True, False),
            ("thickness_mm", "80", False),
            ("existing", "no", False),
            ("thickness_mm", 80, True),
        ):
            content = without_photos(document(self.project))
            at: Any = content
            for key in layer:
                at = at[key]
            at[field] = value
            with self.subTest(field=field, value=value):
                if fine:
                    status, answer = self.bring(json.dumps(content).encode(), "p.json")
                    self.assertEqual((status, answer if status != 201 else ""), (201, ""))
                else:
                    self.refused(json.dumps(content).encode(), f"layers.{thick}.{field}")

    def test_the_published_schema_is_current(self) -> None:
        self.assertEqual(json.loads(SCHEMA.read_text()), ProjectFile.model_json_schema(), "run ./run format")

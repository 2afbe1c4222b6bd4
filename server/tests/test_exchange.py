"""The project file: out and in again equal; every bad file a clear refusal and nothing changed."""

from __future__ import annotations

import io
import json
import zipfile
from pathlib import Path

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase, override_settings

from server.projects import exchange
from server.projects.models import HistoryEntry, Project
from server.tests.helpers import DEMO, client_of, corrie, person

SCHEMA = Path(__file__).resolve().parents[2] / "docs" / "project.schema.json"


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
        self.assertEqual(exchange.document(copy), exchange.document(self.project))
        entry = HistoryEntry.objects.filter(project=copy).get()
        self.assertEqual(entry.action, "import project")

    def test_a_bare_project_json_is_read(self) -> None:
        status, made = self.bring(DEMO.read_bytes(), "project.json")
        self.assertEqual(status, 201)
        self.assertEqual(exchange.document(Project.objects.get(pk=made["id"])), exchange.document(self.project))

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
        with override_settings(LARGEST_IMPORT=1000):
            self.refused(self.exported(), "larger than")
        with override_settings(LARGEST_PROJECT_JSON=1000):
            self.refused(self.exported(), "holds more than")

    def test_wrong_content_names_the_place(self) -> None:
        content = json.loads(DEMO.read_text())
        content["elements"][0]["options"][0]["build_up"]["layers"][0]["material"] = "moonstone"
        self.refused(json.dumps(content).encode(), "elements.0.options.0.build_up.layers.0")
        content = json.loads(DEMO.read_text())
        content["elements"][2]["choice"]["option"] = 99
        self.refused(json.dumps(content).encode(), "points to no option")
        content = json.loads(DEMO.read_text())
        content["elements"][0]["options"][0]["role"] = "option"
        self.refused(json.dumps(content).encode(), "as-found")

    def test_the_published_schema_is_current(self) -> None:
        self.assertEqual(json.loads(SCHEMA.read_text()), exchange.ProjectFile.model_json_schema(), "run ./run format")

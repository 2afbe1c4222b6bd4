"""Doors: what comes from outside names no attribute, leads nowhere foreign, and is refused in few words, little time and memory."""

from __future__ import annotations

import io
import json
import os
import subprocess
import sys
import tempfile
import time
import zipfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any
from unittest.mock import patch

import numpy as np
from django.apps import apps
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client, TestCase, TransactionTestCase, override_settings
from PIL import Image
from pydantic import ValidationError

from core.climate.data import FOLDER
from core.survey.record import FOLLOWING, FOLLOWING_BUILDING
from server.climates import files as climates
from server.exchange.schemas import FileElement, FileProject
from server.exchange.write import document
from server.front import largest_body
from server.policy import CONTENT_POLICY, with_policy
from server.projects.models import Element, Option, Project
from server.runs import worker
from server.runs.models import Run
from server.survey.models import Evidence, Photo
from server.tests.helpers import client_of, corrie, person, send

ROOT = Path(__file__).resolve().parents[2]
WALL = {"name": "W", "kind": "wall", "area_m2": 9}
STONE = {"layers": [{"id": "a", "material": "sandstone_rubble", "thickness_mm": 300, "existing": True}]}
PIN = {"element_id": None, "pin": {"kind": "stain"}}
SHAPE = json.loads((ROOT / "demo" / "corrie-halt.json").read_text())["shape"]
LARGEST_REFUSAL = 2000


def picture(kind: str, width: int = 40, height: int = 30) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), (90, 80, 70)).save(out, kind)
    return out.getvalue()


class Doors(TestCase):
    def setUp(self) -> None:
        self.data = tempfile.TemporaryDirectory()
        self.addCleanup(self.data.cleanup)
        here = override_settings(PHOTOS=Path(self.data.name) / "photos", CLIMATES=Path(self.data.name) / "climates")
        here.enable()
        self.addCleanup(here.disable)
        self.owner, self.other = person("owner"), person("other")
        self.client, self.stranger = client_of(self.owner), client_of(self.other)
        self.project = self.made("POST", "/api/projects", {"name": "House", "volume_m3": 200})["id"]
        self.element = self.made("POST", f"/api/projects/{self.project}/elements", {**WALL, "build_up": STONE})["id"]

    def made(self, method: str, path: str, body: Any) -> Any:
        answer = send(self.client, method, path, body)
        self.assertLess(answer.status_code, 300, answer.content)
        return answer.json()

    def refused(self, answer: Any, *codes: str) -> dict[str, Any]:
        """A refusal of a few words: never 500, never an echo of what was sent."""
        self.assertIn(answer.status_code, range(400, 500), answer.content[:300])
        self.assertEqual(answer["Content-Type"], "application/problem+json")
        self.assertLess(len(answer.content), LARGEST_REFUSAL)
        body: dict[str, Any] = answer.json()
        if codes:
            self.assertIn(body["code"], codes)
        return body

    def photo(self, uid: str, client: Client | None = None, project: int | None = None) -> Any:
        file = SimpleUploadedFile("a.jpg", picture("JPEG"))
        path = f"/api/projects/{project or self.project}/photos/{uid}"
        return (client or self.client).post(path, {"file": file, "caption": "c"})

    def imported(self, content: dict[str, Any]) -> Any:
        file = SimpleUploadedFile("p.json", json.dumps(content).encode("utf-8", "surrogatepass"))
        return self.client.post("/api/projects/import", {"file": file})

    def written(self) -> dict[str, Any]:
        return document(Project.objects.get(pk=self.project))


class Attributes(Doors):
    def test_no_attribute_of_any_model_can_be_named_from_outside(self) -> None:
        names = {name for model in apps.get_models() for name in dir(model)} | {"__class__", "project_id", "pk"}
        self.assertGreater(len(names), 300)
        element = Element.objects.get(pk=self.element)
        before = Element.objects.filter(pk=self.element).values().get()
        for name in sorted(names):
            with self.subTest(name=name):
                if name not in FOLLOWING:
                    with self.assertRaises(ValidationError):
                        FileElement.model_validate({**WALL, "corrected": [name]})
                    self.refused(send(self.client, "POST", f"/api/elements/{self.element}/follow/{name}"))
                    with self.assertRaises(ValueError):
                        element.give(name, 1)  # type: ignore[arg-type]
                if name not in FileElement.model_fields["derived"].annotation.__args__[0].model_fields:  # type: ignore[union-attr]
                    with self.assertRaises(ValidationError):
                        FileElement.model_validate({**WALL, "derived": {"name": "W", "area_m2": 1, name: 1}})
                if name not in FOLLOWING_BUILDING:
                    with self.assertRaises(ValidationError):
                        FileProject.model_validate({"name": "P", "corrected": [name]})
        self.assertEqual(Element.objects.filter(pk=self.element).values().get(), before)

    def test_rows_that_were_crafted_before_are_read_without_what_they_named(self) -> None:
        Element.objects.filter(pk=self.element).update(
            corrected=["project_id", "area_m2", 7], derived={"project_id": 1, "area_m2": 4}, shape_key="main/a"
        )
        Project.objects.filter(pk=self.project).update(corrected=["owner_id", "volume_m3"])
        page = self.client.get(f"/api/projects/{self.project}").json()
        self.assertEqual(page["project"]["typed"], ["volume_m3"])
        self.assertEqual((page["elements"][0]["typed"], page["elements"][0]["from_shape"]), ([], None))
        self.refused(send(self.client, "POST", f"/api/elements/{self.element}/follow/area_m2"), "not_typed")


class References(Doors):
    def test_photos_and_evidence_that_are_not_there_or_not_ones_own_are_refused(self) -> None:
        theirs = send(self.stranger, "POST", "/api/projects", {"name": "Theirs"}).json()["id"]
        self.assertEqual(self.photo("theirs-photo", self.stranger, theirs).status_code, 200)
        self.assertEqual(self.photo("own-photo").status_code, 200)
        pin, item = f"/api/projects/{self.project}/evidence/pin-0001", f"/api/projects/{self.project}/water/item-0001"
        water = {"elements": [self.element], "stage": "rain", "title": "Gutter"}
        water["stage"] = self.client.get(f"/api/projects/{self.project}/water").json()["stages"][0]["id"]
        for uid in ("theirs-photo", "nowhere-photo"):
            self.refused(send(self.client, "PUT", pin, {**PIN, "photos": [uid]}), "no_such_photo")
            self.refused(send(self.client, "PUT", item, {**water, "photos": [uid]}), "no_such_photo")
            layers = [{**STONE["layers"][0], "photo": uid}]
            option = Option.objects.get(element=self.element)
            body = {"revision": 1, "build_up": {"layers": layers}}
            self.refused(send(self.client, "PUT", f"/api/options/{option.pk}", body), "no_such_photo")
        self.refused(send(self.client, "PUT", item, {**water, "evidence": ["nowhere-pin"]}), "no_such_evidence")
        self.made("PUT", pin, {**PIN, "photos": ["own-photo"]})
        self.made("PUT", item, {**water, "photos": ["own-photo"], "evidence": ["pin-0001"]})

    def test_a_removed_photo_is_named_nowhere_any_more(self) -> None:
        self.photo("own-photo")
        self.made("PUT", f"/api/projects/{self.project}/evidence/pin-0001", {**PIN, "photos": ["own-photo"]})
        option = Option.objects.get(element=self.element)
        layers = [{**STONE["layers"][0], "photo": "own-photo"}]
        self.made("PUT", f"/api/options/{option.pk}", {"revision": 1, "build_up": {"layers": layers}})
        self.client.delete(f"/api/projects/{self.project}/photos/own-photo")
        self.assertEqual(Evidence.objects.get(uid="pin-0001").photos, [])
        option.refresh_from_db()
        self.assertEqual(option.build_up["layers"][0]["photo"], "")

    def test_a_file_whose_references_lead_nowhere_is_refused(self) -> None:
        good = self.written()
        pin = {"uid": "pin-0001", "pin": {"kind": "stain"}}
        item = {"uid": "item-001", "elements": [0], "stage": "rain", "title": "t"}
        for part, row in (
            ("evidence", {**pin, "photos": ["nowhere-photo"]}),
            ("evidence", {**pin, "element": 4}),
            ("evidence", {**pin, "cause": {"mechanism": "magic"}}),
            ("water", {**item, "evidence": ["nowhere-pin"]}),
            ("water", {**item, "photos": ["nowhere-photo"]}),
            ("water", {**item, "stage": "nowhere"}),
        ):
            with self.subTest(part=part, row=row):
                self.refused(self.imported({**good, part: [row]}), "file_refused")
        self.assertEqual(Project.objects.count(), 1)

    def test_another_persons_climate_or_indoor_series_is_refused_by_its_hash(self) -> None:
        foreign = "own-0123456789ab"
        for fields in ({"climate": foreign}, {"occupancy": foreign}):
            with self.subTest(fields=fields):
                self.refused(send(self.client, "POST", "/api/projects", {"name": "P", **fields}))
                self.refused(send(self.client, "PUT", f"/api/projects/{self.project}", {"name": "P", **fields}))
                content = self.written()
                content["project"].update(fields)
                self.refused(self.imported(content), "file_refused")
        self.refused(send(self.client, "PUT", f"/api/elements/{self.element}", {**WALL, "occupancy": foreign}))


class Hostile(Doors):
    """Everything here had answered 500, hung, or sent megabytes back."""

    def test_numbers_that_are_none_in_a_project_file(self) -> None:
        text = json.dumps(self.written())
        for word in ("NaN", "Infinity", "-Infinity", "1e999"):
            for field in ('"area_m2": 9.0', '"set_point_c": 20.0', '"thickness_mm": 300.0'):
                with self.subTest(word=word, field=field):
                    self.assertIn(field, text)
                    raw = text.replace(field, f"{field.split(':')[0]}: {word}")
                    file = SimpleUploadedFile("p.json", raw.encode())
                    self.refused(self.client.post("/api/projects/import", {"file": file}), "file_refused")

    def test_half_a_surrogate_in_any_text(self) -> None:
        half = '"\\ud800"'
        texts = [
            ("POST", "/api/projects", '{"name": %s}'),
            ("PUT", f"/api/projects/{self.project}/evidence/pin-0001", '{"pin": {"kind": "stain", "note": %s}}'),
            ("PUT", f"/api/elements/{self.element}/choice", '{"option_id": null, "reason": %s}'),
            ("PUT", f"/api/elements/{self.element}/override", '{"reason": %s, "name": "x"}'),
        ]
        for method, path, body in texts:
            with self.subTest(path=path):
                self.refused(self.client.generic(method, path, body % half, content_type="application/json"))
        login = Client().generic("POST", "/api/session", f'{{"username": {half}, "password": "x"}}', content_type="application/json")  # fmt: skip
        self.refused(login)
        content = json.dumps(self.written()).replace('"House"', half)
        file = SimpleUploadedFile("p.json", content.encode())
        self.refused(self.client.post("/api/projects/import", {"file": file}), "file_refused")

    def test_numbers_beyond_64_bits(self) -> None:
        big = 10**30
        for method, path, body in (
            ("GET", f"/api/projects/{big}", None),
            ("GET", f"/api/elements/{big}/sheet", None),
            ("GET", f"/api/runs/{big}/year", None),
            ("GET", f"/api/projects/{self.project}/house?at={'9' * 400}", None),
            ("GET", f"/api/projects/{self.project}/house?at=nan", None),
            ("PUT", f"/api/elements/{self.element}/choice", {"option_id": big, "reason": "r"}),
            ("PUT", f"/api/projects/{self.project}/evidence/pin-0001", {**PIN, "element_id": big}),
            ("POST", f"/api/projects/{self.project}/constructions", {"from_element": big, "to_elements": [big]}),
            ("PUT", f"/api/projects/{self.project}/brief", {"revision": big, "brief": {}}),
        ):
            with self.subTest(path=path[:60]):
                self.refused(send(self.client, method, path, body))

    def test_a_wrong_or_missing_form(self) -> None:
        for path in ("/api/projects/import", f"/api/projects/{self.project}/photos/photo-001", "/api/climates/look"):
            for kind in (
                "application/json",
                "text/plain",
                "multipart/form-data",
                "multipart/form-data; boundary=x",
                "",
            ):
                with self.subTest(path=path, kind=kind):
                    self.refused(self.client.generic("POST", path, b"--x\r\nnonsense", content_type=kind))

    def test_shapes_out_of_all_measure(self) -> None:
        for size in (1e9, 1e154, 1e308):
            shape = json.loads(json.dumps(SHAPE))
            body = shape["bodies"][0]
            body["outline"] = [[x * size, y * size] for x, y in body["outline"]]
            with self.subTest(size=size):
                path = f"/api/projects/{self.project}/shape"
                self.refused(send(self.client, "PUT", path, {"revision": None, "shape": shape}))
                self.refused(send(self.client, "POST", f"{path}/preview", {"shape": shape}))
        tower = json.loads(json.dumps(SHAPE))
        tower["bodies"][0]["storeys"] = [{"name": str(i), "height_m": 30} for i in range(12)]
        self.refused(
            send(self.client, "PUT", f"/api/projects/{self.project}/shape", {"revision": None, "shape": tower})
        )

    def test_a_shape_kept_before_there_were_bounds_breaks_no_page_and_is_said(self) -> None:
        wild = json.loads(json.dumps(SHAPE))
        wild["bodies"][0]["outline"] = [[x * 1e150, y * 1e150] for x, y in wild["bodies"][0]["outline"]]
        Project.objects.filter(pk=self.project).update(shape=wild)
        for page in ("", "/shape", "/house", "/rain", "/heat", "/evidence", "/brief", "/water", "/made"):
            with self.subTest(page=page):
                self.assertEqual(self.client.get(f"/api/projects/{self.project}{page}").status_code, 200)
        self.assertIn("draw it anew", self.client.get(f"/api/projects/{self.project}/shape").json()["refused"])
        self.made("PUT", f"/api/projects/{self.project}/shape", {"revision": None, "shape": SHAPE})

    def test_a_wetting_test_on_a_day_that_is_none(self) -> None:
        for day in ("99-99", "02-30", "0", "04-01x"):
            body = {"kind": "wetting", "wetting": {"on": day}}
            self.refused(send(self.client, "POST", f"/api/elements/{self.element}/batches", body))
        for day in ("99-99", "13-01"):
            self.refused(send(self.client, "POST", "/api/projects", {"name": "P", "works_on": day}))

    def test_a_binary_file_without_zero_bytes_is_no_weather(self) -> None:
        rng = np.random.default_rng(4)
        raw = rng.integers(1, 256, 400_000, dtype=np.uint8).tobytes()
        body = self.refused(self.client.post("/api/climates/look", {"file": SimpleUploadedFile("w.csv", raw)}))
        self.assertIn("no text", body["message"])

    def test_only_jpeg_png_and_webp_are_opened(self) -> None:
        for kind, taken in (("JPEG", True), ("PNG", True), ("WEBP", True), ("GIF", False), ("TIFF", False), ("BMP", False), ("PPM", False), ("TGA", False)):  # fmt: skip
            with self.subTest(kind=kind):
                file = SimpleUploadedFile("a.jpg", picture(kind))
                path = f"/api/projects/{self.project}/photos/photo-{kind}"
                answer = self.client.post(path, {"file": file})
                if taken:
                    self.assertEqual(answer.status_code, 200)
                else:
                    self.refused(answer, "no_photo")

    def test_refusals_never_echo_what_was_sent(self) -> None:
        long = "x" * 900_000
        for method, path, body in (
            ("POST", "/api/projects", {"name": long}),
            ("POST", "/api/projects", {long: 1}),
            (
                "POST",
                f"/api/elements/{self.element}/preview",
                {"build_up": {"layers": [{"id": "a", "material": long, "thickness_mm": 10}]}},
            ),  # fmt: skip
            ("POST", "/api/measure/flow-points", {"text": long[:99_000]}),
            ("PUT", f"/api/projects/{self.project}/limits", {"limits": [{"key": "y" * 40, "value": 1}]}),
        ):
            with self.subTest(path=path):
                self.refused(send(self.client, method, path, body))

    def test_more_than_five_framed_layers_are_refused_at_once(self) -> None:
        framed = {
            "material": "mineral_fibre_035",
            "thickness_mm": 40,
            "framing": {"material": "softwood", "share": 0.1},
        }
        layers = [{**framed, "id": f"f{i}"} for i in range(25)]
        began = time.monotonic()
        answer = send(self.client, "POST", f"/api/elements/{self.element}/preview", {"build_up": {"layers": layers}})
        self.assertLess(time.monotonic() - began, 5.0)
        self.assertEqual(answer.status_code, 200, answer.content[:400])
        self.assertIn("at most 5", answer.json()["refused"])

    def test_what_is_typed_as_a_thickness_is_reckoned_by_nobody(self) -> None:
        for text in ("1e999999 mm", "9**9**9", "1 9**9**9", "1 mm**9999999", "9" * 40, "1/0 mm", "1 mm*1e308"):
            body = {"build_up": STONE, "typing": {"layer_id": "a", "text": text, "unit": "mm"}}
            began = time.monotonic()
            with self.subTest(text=text):
                self.refused(send(self.client, "POST", f"/api/elements/{self.element}/preview", body), "out_of_range")
                self.assertLess(time.monotonic() - began, 2.0)

    def test_large_bodies_and_strangers_are_sent_away_before_anything_is_read(self) -> None:
        stranger = Client()
        for path in ("/api/projects/import", "/api/climates", f"/api/projects/{self.project}/photos/photo-001"):
            with self.subTest(path=path):
                unread = _Unread()
                answer = stranger.generic("POST", path, "x", content_type="multipart/form-data; boundary=x", **{"wsgi.input": unread})  # fmt: skip
                self.assertEqual(answer.status_code, 401)
                self.assertFalse(unread.read_from)
                answer = self.client.generic("POST", path, "x", content_type="multipart/form-data; boundary=x", CONTENT_LENGTH=str(10**10), **{"wsgi.input": unread})  # fmt: skip
                self.assertEqual(answer.status_code, 413)
                self.assertFalse(unread.read_from)
        self.assertEqual(stranger.generic("POST", "/api/session", "x", CONTENT_LENGTH="99999").status_code, 413)

    def test_nothing_of_a_body_is_read_outside_of_the_api(self) -> None:
        for path in ("/", "/projects/1/house", "/index.html", "/health", "/assets/none.js", "/api"):
            for method in ("POST", "PUT", "PATCH", "DELETE"):
                for client in (Client(), self.client):
                    unread = _Unread()
                    answer = client.generic(
                        method, path, "x", content_type="multipart/form-data; boundary=x", CONTENT_LENGTH=str(10**9), **{"wsgi.input": unread}
                    )  # fmt: skip
                    with self.subTest(path=path, method=method):
                        self.assertEqual(answer.status_code, 405)
                        self.assertFalse(unread.read_from)

    def test_a_document_of_20_mb_may_be_attached_to_a_decision(self) -> None:
        self.assertGreaterEqual(largest_body("/api/projects/3/bases/basis-0001/document"), settings.LARGEST_DOCUMENT)
        self.assertEqual(largest_body("/api/projects/3/bases"), settings.LARGEST_BODY)

    def test_the_document_of_the_api_is_for_people_signed_in(self) -> None:
        self.assertEqual(Client().get("/api/openapi.json").status_code, 401)
        self.assertIn("paths", self.client.get("/api/openapi.json").json())

    def test_the_built_page_has_its_policy_by_both_names(self) -> None:
        headers: dict[str, str] = {}
        with_policy(headers, "/srv/dist/index.html", "/index.html")
        self.assertEqual(headers["Content-Security-Policy"], CONTENT_POLICY)
        with_policy(other := {}, "/srv/dist/assets/a.js", "/assets/a.js")
        self.assertEqual(other, {})
        self.assertIs(settings.WHITENOISE_ADD_HEADERS_FUNCTION, with_policy)

    def test_answers_are_kept_by_no_cache_and_refusals_are_problems(self) -> None:
        for path in ("/api/projects", f"/api/projects/{self.project}", "/api/session", "/api/nowhere"):
            self.assertEqual(self.client.get(path)["Cache-Control"], "no-store", path)
        for method, path in (("GET", "/api/nowhere"), ("PATCH", "/api/projects"), ("GET", "/api/elements/x/sheet")):
            self.refused(self.client.generic(method, path))

    def test_a_failure_of_the_program_is_a_problem_too(self) -> None:
        with (
            self.assertLogs("server.problems", "ERROR"),
            self.assertLogs("django.request", "ERROR"),
            patch("server.heat.api.heat_of", side_effect=RuntimeError("x")),
        ):
            answer = self.client.get(f"/api/projects/{self.project}/heat")
        self.assertEqual((answer.status_code, answer["Content-Type"]), (500, "application/problem+json"))
        self.assertEqual(answer.json()["code"], "fault")


class _Unread(io.RawIOBase):
    """A body that tells whether anybody looked into it."""

    read_from = False

    def read(self, size: int | None = -1) -> bytes:
        self.read_from = True
        return b""


class Bounded(Doors):
    """Files that unpack, decode or parse to far more than they are: refused or taken in bounded time and memory."""

    def measured(self, code: str, path: Path) -> tuple[float, float]:
        """(seconds, MB beyond what the program takes itself) of reading a file in a process of its own."""
        script = f"""
import os, resource, sys, time, django
os.environ["DJANGO_SETTINGS_MODULE"] = "server.settings"
django.setup()
from pathlib import Path
from core.errors import CoreError
from server.problems import Problem
from server.exchange.bring import read, check
from server.survey.photos import shrink
from core.climate.importer import look
base, began = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss, time.monotonic()
path = Path(sys.argv[1])
try:
    {code}
except (Problem, CoreError) as error:
    print("refused", error, file=sys.stderr)
print(time.monotonic() - began, (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - base) / 1024)
"""
        done = subprocess.run([sys.executable, "-c", script, str(path)], cwd=ROOT, capture_output=True, text=True, timeout=120)  # fmt: skip
        self.assertEqual(done.returncode, 0, done.stderr[-800:])
        seconds, megabytes = done.stdout.split()
        return float(seconds), float(megabytes)

    def assert_bounded(self, name: str, raw: bytes, code: str, seconds: float, megabytes: float) -> None:
        path = Path(self.data.name) / name
        path.write_bytes(raw)
        took, more = self.measured(code, path)
        self.assertLess(more, megabytes, f"{name} took {more:.0f} MB")
        self.assertLess(took, seconds, f"{name} took {took:.1f} s")

    def test_files_that_unfold(self) -> None:
        reading = "check(read(path.open('rb'), path.stat().st_size))"
        bomb = io.BytesIO()
        with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("project.json", b'{"elements": [' + b"[]," * 30_000_000)
        self.assert_bounded("bomb.zip", bomb.getvalue(), reading, 20, 150)
        many = json.dumps({**self.written(), "elements": [WALL] * 200_000}).encode()[: 10 * 1024**2]
        self.assert_bounded("many.json", many, reading, 20, 700)
        self.assert_bounded("nested.json", b'{"project": ' + b"[" * 5_000_000, reading, 20, 150)
        pixels = picture("WEBP", 16000, 8000)
        self.assertLess(len(pixels), 300_000)
        self.assert_bounded("large.webp", pixels, "shrink(path.open('rb'), 1, path.parent, 'p')", 20, 150)
        self.assert_bounded(
            "large.png", picture("PNG", 5000, 3900), "shrink(path.open('rb'), 1, path.parent, 'p')", 20, 400
        )
        hours = ("1.5;80;" * 60 + "\n").encode() * 20_000
        self.assert_bounded("hours.csv", hours[: 8 * 1024**2], "look(path.read_bytes())", 20, 300)
        self.assert_bounded("lines.csv", b"1;2\n" * 2_000_000, "look(path.read_bytes())", 20, 400)


class Together(TransactionTestCase):
    """Two at once."""

    def setUp(self) -> None:
        self.data = tempfile.TemporaryDirectory()
        self.addCleanup(self.data.cleanup)
        here = override_settings(PHOTOS=Path(self.data.name))
        here.enable()
        self.addCleanup(here.disable)
        self.owner = person("owner")
        self.project = send(client_of(self.owner), "POST", "/api/projects", {"name": "House"}).json()["id"]

    def test_the_same_photo_sent_twice_at_once_is_one(self) -> None:
        clients = [client_of(self.owner) for _ in range(6)]

        def once(client: Client) -> int:
            try:
                file = SimpleUploadedFile("a.jpg", picture("JPEG", 900, 700))
                path = f"/api/projects/{self.project}/photos/photo-0001"
                return int(client.post(path, {"file": file, "caption": "c"}).status_code)
            finally:
                connection.close()

        with ThreadPoolExecutor(6) as pool:
            self.assertEqual(set(pool.map(once, clients)), {200})
        self.assertEqual(Photo.objects.count(), 1)
        self.assertEqual(len(list(Path(self.data.name).rglob("*.part"))), 0)

    def test_an_import_does_not_hold_the_database_while_it_decodes(self) -> None:
        from server.survey import photos

        project, client, seen = corrie(self.owner), client_of(self.owner), []
        whole = io.BytesIO(client.get(f"/api/projects/{project.pk}/export").getvalue())
        shrink = photos.shrink

        def slow(*args: Any) -> Any:
            body = {"name": "Edited meanwhile"}
            with ThreadPoolExecutor(1) as pool:
                seen.append(pool.submit(self._edit, body).result(timeout=5))
            return shrink(*args)

        with patch("server.survey.photos.shrink", slow):
            answer = client.post("/api/projects/import", {"file": SimpleUploadedFile("p.zip", whole.getvalue())})
        self.assertEqual(answer.status_code, 201, answer.content[:300])
        self.assertGreater(len(seen), 0)
        self.assertEqual(set(seen), {200})

    def _edit(self, body: dict[str, Any]) -> int:
        try:
            return int(send(client_of(self.owner), "PUT", f"/api/projects/{self.project}", body).status_code)
        finally:
            connection.close()


class Lost(Doors):
    """Files that are gone: said where they are needed, in the way of nothing else, and a result comes back by one press."""

    def test_a_lost_climate_is_said_on_every_page_and_breaks_none_that_can_do_without(self) -> None:
        here = patch.dict(os.environ, WENDRICK_CLIMATES=str(Path(self.data.name) / "climates"))
        here.start()
        self.addCleanup(here.stop)
        hours = climates.checked((FOLDER / "corrie.csv").read_bytes(), "weather")
        climates.keep_row(self.owner, hours)
        fields = {"name": "House", "volume_m3": 200, "climate": hours.name}
        self.made("PUT", f"/api/projects/{self.project}", fields)
        self.made("PUT", f"/api/elements/{self.element}/rain", {"rain": {"height_m": 6}})
        pages = ["", "/shape", "/house", "/rain", "/evidence", "/brief", "/water", "/made", "/measurements", "/limits"]
        for gone in (False, True):
            if gone:
                climates.path_of(hours.name).unlink()
            for page in pages:
                with self.subTest(page=page, gone=gone):
                    answer = self.client.get(f"/api/projects/{self.project}{page}")
                    self.assertEqual(answer.status_code, 200, answer.content[:300])
            self.assertEqual(self.client.get("/api/library").status_code, 200)
        said = self.client.get(f"/api/projects/{self.project}").json()["climate_gone"]
        self.assertIn("import the file again", said)
        listed = {one["name"]: one["label"] for one in self.client.get("/api/library").json()["climates"]}
        self.assertIn("hours lost", listed[hours.name])
        self.assertEqual(self.client.get(f"/api/projects/{self.project}/house").json()["missing"], [said])
        for page in (f"/api/projects/{self.project}/heat", f"/api/elements/{self.element}/sheet"):
            self.refused(self.client.get(page), "climate_gone")
        self.refused(self.client.get(f"/api/projects/{self.project}/export"), "climate_gone")
        option = Option.objects.get(element=self.element)
        self.refused(send(self.client, "POST", f"/api/options/{option.pk}/runs"), "climate_gone")
        self.made("PUT", f"/api/projects/{self.project}", {**fields, "climate": "corrie"})
        self.assertEqual(self.client.get(f"/api/projects/{self.project}/heat").status_code, 200)

    def test_a_lost_result_is_computed_again_by_one_press(self) -> None:
        with override_settings(RESULTS=Path(self.data.name) / "runs"):
            option = Option.objects.get(element=self.element)
            ask = f"/api/options/{option.pk}/runs"
            first = self.made("POST", ask, None)["id"]
            run = Run.objects.claim_next()
            assert run is not None
            self.assertEqual(worker.execute(run.pk), Run.DONE)
            self.assertEqual(self.made("POST", ask, None)["id"], first, "it is there")
            (run.folder / "z.npy").write_bytes(b"damaged")
            self.refused(self.client.get(f"/api/runs/{first}/year"), "result_gone")
            self.refused(self.client.get(f"/api/runs/{first}/year"), "result_gone")
            again = self.made("POST", ask, None)["id"]
            self.assertNotEqual(again, first)
            taken = Run.objects.claim_next()
            assert taken is not None
            self.assertEqual(worker.execute(taken.pk), Run.DONE)
            self.assertEqual(self.client.get(f"/api/runs/{again}/year").status_code, 200)

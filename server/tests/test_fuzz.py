"""Requests to every operation of the API document that nobody would send: refused in few words, never a failure.

Bodies and queries are drawn from the document by Schemathesis, half of them broken at one place. `./run fuzz 20000` sends more.
"""

from __future__ import annotations

import json
import os
import tempfile
import warnings
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any

import schemathesis
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.test import Client, TestCase, override_settings
from hypothesis import HealthCheck, Phase, given, seed, settings
from hypothesis import strategies as st

from core.materials.own import DataSheet
from server.api import api
from server.dossier.models import Report
from server.library.own import make
from server.runs.models import Batch, Run
from server.survey.models import Photo
from server.tests.helpers import client_of, corrie, person

REQUESTS = int(os.environ.get("WENDRICK_FUZZ", "1000"))
SEED = int(os.environ.get("WENDRICK_FUZZ_SEED", "10"))
LARGEST_REFUSAL = 2000
HOSTILE = st.sampled_from(
    [None, "", "x" * 5000, "\x00", "\ud800", "../../x", 0, -1, 10**30, -(10**30), 1e308, -1e308, 5e-324, True, [], {},
     [[]] * 50, {"__class__": 1}, "NaN", "1e999", "own-0123456789ab", "99-99", "9999-99-99", "0001-01-01", "9**9**9"]
)  # fmt: skip
RAW = st.sampled_from(
    [b"", b"{", b"null", b"[]", b'"\\ud800"', b"NaN", b'{"name": NaN}', b'{"name": 1e999}', b"\xff\xfe", b"[" * 5000]
)


def _places(value: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Every place in a body."""
    found = [path] if path else []
    if isinstance(value, dict):
        for key, inner in value.items():
            found += _places(inner, (*path, key))
    elif isinstance(value, list):
        for index, inner in enumerate(value[:6]):
            found += _places(inner, (*path, index))
    return found


def _put(value: Any, path: tuple[Any, ...], what: Any) -> Any:
    if not path:
        return what
    copy = dict(value) if isinstance(value, dict) else list(value)
    copy[path[0]] = _put(copy[path[0]], path[1:], what)
    return copy


class Fuzz(TestCase):
    """State is taken back after each request, so that all meet the same project."""

    @classmethod
    def setUpTestData(cls) -> None:
        cls.owner = person("owner")

    def setUp(self) -> None:
        self.data = tempfile.TemporaryDirectory()
        self.addCleanup(self.data.cleanup)
        root = Path(self.data.name)
        here = override_settings(
            PHOTOS=root / "photos", RESULTS=root / "runs", REPORTS=root / "reports", DOCUMENTS=root / "documents"
        )
        here.enable()
        self.addCleanup(here.disable)
        project = corrie(self.owner)
        self.leave_one_of_each(project)
        wall = next(element for element in project.elements.all() if element.kind == "wall")
        option = wall.options.get(role="option") if wall.options.count() == 2 else wall.options.filter(role="option")[0]
        batch = Batch.objects.create(element=wall, option=option, kind="study", settings={}, asked_by="x")
        run = Run.objects.create(
            project=option.element.project,
            option=option,
            case_hash="x",
            build_up=option.build_up,
            place={},
            status=Run.FAILED,
        )
        self.ids: dict[str, Any] = {
            "project_id": project.pk,
            "element_id": wall.pk,
            "option_id": option.pk,
            "batch_id": batch.pk,
            "run_id": run.pk,
            "climate_id": 1,
            "scheme_id": project.shown_scheme().pk,
            "material_id": make(self.owner, DataSheet(name="x", family="foam")).material_id,
            "material_key": "eps_035",
            "report_id": Report.objects.create(project=project, kind="client", asked_by="x").pk,
            "signature_id": 1,
            "way": "inside_lime",
            "list_key": "heat",
            "uid": Photo.objects.all()[0].uid,
            "field": "area_m2",
            "key": "0123456789abcdef",
        }
        self.signed_in, self.stranger = client_of(self.owner), Client()
        self.cookies = self.signed_in.cookies.copy()
        self.seen: Counter[int] = Counter()

    def leave_one_of_each(self, project: Any) -> None:
        """The first element of each kind and place: as many ways to answer, in a third of the time."""
        met = set()
        for element in project.elements.order_by("position"):
            what = (element.kind, element.adjoining)
            if what in met:
                element.delete()
            met.add(what)

    def send(self, case: Any, draw: Callable[[Any], Any]) -> Any:
        """One drawn case as a request: mostly at things that are there, mostly with one place broken."""
        path = case.path
        for name, drawn in (case.path_parameters or {}).items():
            value = self.ids.get(name, drawn) if draw(st.integers(0, 9)) else draw(st.sampled_from([drawn, 10**30, "x", 0, -1]))  # fmt: skip
            path = path.replace(f"{{{name}}}", str(value))
        client = self.signed_in if draw(st.integers(0, 9)) else self.stranger
        client.cookies.clear()  # an earlier request may have signed out
        client.cookies.update(self.cookies if client is self.signed_in else {})
        query = {key: value for key, value in (case.query or {}).items()}
        body, kind = case.body, case.media_type or "application/json"
        if kind == "multipart/form-data":
            fields = (
                {key: value for key, value in body.items() if isinstance(value, str)} if isinstance(body, dict) else {}
            )
            files = {"file": SimpleUploadedFile("f", draw(st.binary(max_size=300)))} if draw(st.booleans()) else {}
            safe = {key: value.encode("utf-8", "replace").decode() for key, value in fields.items()}
            return client.post(path, {**safe, **files}, query_params=query)
        if draw(st.integers(0, 19)) == 0:
            raw = draw(RAW)
        else:
            value = {} if body is None or repr(body) == "<NOT_SET>" else body
            places = _places(value)
            if places and draw(st.booleans()):
                value = _put(value, draw(st.sampled_from(places)), draw(HOSTILE))
            try:
                raw = json.dumps(value).encode()
            except (TypeError, ValueError):
                raw = b"{}"
        return client.generic(case.method.upper(), path, raw, content_type="application/json", query_params=query)

    def judge(self, case: Any, answer: Any) -> None:
        what = f"{case.method.upper()} {case.path}: {answer.status_code}"
        self.seen[answer.status_code] += 1
        self.assertNotEqual(
            answer.status_code, 500, f"{what} {getattr(answer, 'content', b'')[:400]!r} {case.body!r:.600}"
        )
        if answer.status_code >= 400:
            self.assertEqual(answer["Content-Type"], "application/problem+json", what)
            self.assertLess(len(answer.content), LARGEST_REFUSAL, what)
        if answer.status_code != 204 and not answer.streaming and answer["Content-Type"].startswith("application/json"):
            json.loads(answer.content, parse_constant=self.fail)

    def test_every_operation_withstands_what_nobody_would_send(self) -> None:
        schema = schemathesis.openapi.from_dict(json.loads(json.dumps(api.get_openapi_schema(), default=str)))
        operations = [found.ok() for found in schema.get_all_operations()]
        self.assertGreater(len(operations), 60)
        each = max(1, REQUESTS // len(operations))
        for number, operation in enumerate(operations):

            @seed(SEED + number)
            @settings(
                max_examples=each, database=None, deadline=None, phases=[Phase.generate],
                suppress_health_check=list(HealthCheck),
            )  # fmt: skip
            @given(case=operation.as_strategy(), data=st.data())
            def one(case: Any, data: Any) -> None:
                with transaction.atomic():
                    answer = self.send(case, data.draw)
                    self.judge(case, answer)
                    transaction.set_rollback(True)

            with self.subTest(operation=operation.label), warnings.catch_warnings():
                warnings.simplefilter("ignore")
                one()
        self.assertGreater(sum(self.seen.values()), 0.5 * REQUESTS)
        self.assertGreater(sum(count for status, count in self.seen.items() if status < 300), 0.1 * REQUESTS, self.seen)

"""Importing weather and indoor air: looked at, mapped, refused with line and column, used, exported, remembered."""

from __future__ import annotations

import hashlib
import io
import tempfile
import zipfile
from dataclasses import replace
from pathlib import Path
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase, override_settings

from core.climate.data import FOLDER, shipped
from demo.station import weather_file
from server.climates.files import checked, keep_row, path_of
from server.problems import Problem
from server.projects.models import ClimateFile, Project
from server.tests.helpers import client_of, person, send


class ImportedClimates(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        override = override_settings(CLIMATES=Path(folder.name))
        override.enable()
        self.addCleanup(override.disable)
        import os
        from unittest.mock import patch

        environment = patch.dict(os.environ, {"WENDRICK_CLIMATES": folder.name})
        environment.start()
        self.addCleanup(environment.stop)
        self.user = person("owner")
        self.client = client_of(self.user)

    def post(self, path: str, raw: bytes, **fields: str) -> Any:
        token = self.client.get("/api/session").json()["csrf_token"]
        body = {"file": SimpleUploadedFile("station.csv", raw), **fields}
        return self.client.post(path, body, headers={"X-CSRFToken": token})

    def mapping(self, raw: bytes, **changes: Any) -> str:
        import json

        seen = self.post("/api/climates/look", raw).json()
        columns = [{key: one[key] for key in ("column", "meaning", "unit")} for one in seen["columns"]]
        fields = {name: seen[name] for name in ("delimiter", "decimal", "header_lines")}
        return json.dumps(
            {
                "label": "Corrie again",
                "columns": columns,
                "latitude_deg": 56.0,
                "longitude_deg": -4.0,
                "utc_offset_h": 0.0,
                **fields,
                **changes,
            }
        )

    def test_the_look_guesses_what_a_person_would(self) -> None:
        seen = self.post("/api/climates/look", weather_file()).json()
        self.assertEqual((seen["delimiter"], seen["decimal"], seen["header_lines"], seen["rows"]), (";", ",", 2, 8760))
        guessed = [(one["meaning"], one["unit"]) for one in seen["columns"]]
        self.assertEqual(
            guessed,
            [("time", "text"), ("temperature", "°C"), ("relative humidity", "%"), ("wind speed", "km/h"), ("wind direction", "°"), ("rain", "mm")],
        )  # fmt: skip
        self.assertIsNone(seen["remembered"])

    def test_an_imported_year_is_the_same_year_and_a_project_uses_it(self) -> None:
        raw = weather_file({100: "100;;80,0;10,0;200;0,0"})
        answer = self.post("/api/climates", raw, mapping=self.mapping(raw))
        self.assertEqual(answer.status_code, 201, answer.content)
        report = answer.json()["report"]
        self.assertEqual(report["filled"], {"temperature": 1})
        self.assertAlmostEqual(report["rain_mm"], float(shipped("corrie")["rain_mm"].sum()), places=0)
        self.assertTrue(any("long-wave" in words for words in report["estimated"]))
        self.assertTrue(any("no sun" in words for words in report["said"]))
        name = answer.json()["name"]
        library = self.client.get("/api/library").json()
        self.assertIn(name, [climate["name"] for climate in library["climates"]])
        fields = {"name": "Byre", "climate": name, "volume_m3": 300}
        project = send(self.client, "POST", "/api/projects", fields)
        self.assertEqual(project.status_code, 201, project.content)
        in_use = send(self.client, "DELETE", f"/api/climates/{answer.json()['id']}")
        self.assertEqual(in_use.json()["code"], "climate_in_use")
        self.assertEqual(self.post("/api/climates/look", raw).json()["remembered"]["label"], "Corrie again")
        self.check_exchange(project.json()["id"], name)

    def check_exchange(self, project: int, name: str) -> None:
        """The project file carries the climate to somebody who does not have it."""
        packed = b"".join(self.client.get(f"/api/projects/{project}/export").streaming_content)
        self.assertIn(f"climates/{name}.csv", zipfile.ZipFile(io.BytesIO(packed)).namelist())
        other = client_of(person("other"))
        token = other.get("/api/session").json()["csrf_token"]
        body = {"file": SimpleUploadedFile("p.zip", packed)}
        answer = other.post("/api/projects/import", body, headers={"X-CSRFToken": token})
        self.assertIn(answer.status_code, (200, 201), answer.content)
        self.assertEqual(ClimateFile.objects.filter(owner__username="other", name=name).count(), 1)
        self.assertEqual(Project.objects.filter(owner__username="other").get().climate, name)

    def test_bad_files_say_line_and_column_and_leave_nothing(self) -> None:
        good = self.mapping(weather_file())
        for raw, words in (
            (weather_file({500: "500;abc;80,0;10,0;200;0,0"}), ("“abc” is no number", "line 503, temperature")),
            (weather_file({500: "500;-99,9;80,0;10,0;200;0,0"}), ("-99.9", "line 503, temperature")),
            (weather_file(hours=8000), ("8000 rows", "a year has 8760")),
            (weather_file({i: f"{i};;80,0;10,0;200;0,0" for i in range(48, 72)}), ("24 hours from day 3",)),
        ):
            with self.subTest(words=words):
                answer = self.post("/api/climates", raw, mapping=good)
                self.assertEqual(answer.status_code, 422)
                said = answer.json()["message"] + answer.json().get("where", "")
                for word in words:
                    self.assertIn(word, said)
        self.assertEqual(self.post("/api/climates/look", b"\0\1\2binary").status_code, 422)
        self.assertEqual(self.post("/api/climates/look", b"only words\nand no numbers\n").status_code, 422)
        self.assertEqual(self.post("/api/climates/look", b" ").json()["code"], "file_empty")
        self.assertEqual(ClimateFile.objects.count(), 0)

    def test_a_mapping_that_cannot_be_is_refused(self) -> None:
        raw = weather_file()
        time = {"column": 0, "meaning": "time", "unit": "text"}
        for columns, words in (
            ([time], "no column is mapped to temperature"),
            ([{"column": 1, "meaning": "temperature", "unit": "mm"}], "has no unit"),
            ([{"column": 1, "meaning": "temperature", "unit": "°C"}], "relative humidity, dew point"),
            ([{"column": i, "meaning": "temperature", "unit": "°C"} for i in (1, 2)], "two columns"),
        ):
            with self.subTest(words):
                answer = self.post("/api/climates", raw, mapping=self.mapping(raw, columns=columns))
                self.assertEqual(answer.status_code, 422)
                self.assertIn(words, answer.json()["message"])

    def test_a_measured_indoor_series_is_what_the_room_has(self) -> None:
        raw = weather_file()
        answer = self.post("/api/climates", raw, mapping=self.mapping(raw, kind="indoor"))
        name = answer.json()["name"]
        project = send(self.client, "POST", "/api/projects", {"name": "Byre", "volume_m3": 300, "occupancy": name})
        self.assertEqual(project.status_code, 201, project.content)
        wall = {"layers": [{"id": "stone", "material": "sandstone_rubble", "thickness_mm": 300, "existing": True}]}
        element = {"name": "W", "kind": "wall", "area_m2": 9, "build_up": wall}
        made = send(self.client, "POST", f"/api/projects/{project.json()['id']}/elements", element).json()
        from core.assembly.to_case import model_of
        from core.moisture.transient.boundary import build_boundary
        from server.projects.models import Element

        row = Element.objects.get(pk=made["id"])
        boundary = build_boundary(model_of(row.as_found.current, row.place).case)
        inside = boundary.series[:, 1, 0, 0] - 273.15
        self.assertAlmostEqual(float(inside.mean()), float(shipped("corrie")["temperature_c"].mean()), places=1)

    def test_somebody_elses_file_is_not_to_be_had(self) -> None:
        raw = weather_file()
        made = self.post("/api/climates", raw, mapping=self.mapping(raw)).json()
        stranger = client_of(person("stranger"))
        self.assertEqual(send(stranger, "DELETE", f"/api/climates/{made['id']}").status_code, 404)
        fields = {"name": "Byre", "climate": made["name"], "volume_m3": 300}
        self.assertEqual(send(stranger, "POST", "/api/projects", fields).json()["code"], "no_such_climate")


class Breaks(TestCase):
    def test_hours_that_are_missing_are_named_by_the_time_column(self) -> None:
        from core.climate.importer import Mapping, read
        from core.errors import CaseRefused

        stamp = (f"{2023}-{1 + i // 672:02d}-{1 + i % 672 // 24:02d} {i % 24:02d}:00" for i in range(672))
        rows = [f"{when},5.0,80" for when in stamp]
        del rows[100:103]
        columns = [
            {"column": 0, "meaning": "time", "unit": "text"},
            {"column": 1, "meaning": "temperature", "unit": "°C"},
            {"column": 2, "meaning": "relative humidity", "unit": "%"},
        ]
        mapping = Mapping.model_validate(
            {"label": "x", "delimiter": ",", "header_lines": 0, "columns": columns, "kind": "indoor"}
        )
        with self.assertRaisesRegex(CaseRefused, "first before line 101: “2023-01-05 03:00”, then “2023-01-05 07:00”"):
            read("\n".join(rows).encode(), mapping)


class NamesOfHours(TestCase):
    """The name of a file is the whole hash of its hours, and what lies on the disk is never written over."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        override = override_settings(CLIMATES=Path(folder.name))
        override.enable()
        self.addCleanup(override.disable)
        self.user = person("owner")
        self.mine = shipped_text("corrie")
        self.theirs = shipped_text("tarn")

    def test_the_whole_hash(self) -> None:
        made = keep_row(self.user, checked(self.mine, "weather"), file_name="", report={})
        self.assertEqual(made.name, f"own-{hashlib.sha256(self.mine).hexdigest()}")
        self.assertEqual(path_of(made.name).read_bytes(), self.mine)

    def test_other_hours_of_one_name_are_refused_and_nothing_is_lost(self) -> None:
        """A short name of before, met by other hours: the first stay."""
        short = f"own-{hashlib.sha256(self.mine).hexdigest()[:12]}"
        keep_row(self.user, checked(self.mine, "weather", short), file_name="", report={})
        forged = replace(checked(self.theirs, "weather"), name=short)
        with self.assertRaises(Problem) as refused:
            keep_row(person("other"), forged, file_name="", report={})
        self.assertEqual((refused.exception.status, refused.exception.code), (409, "climate_name_taken"))
        self.assertEqual(path_of(short).read_bytes(), self.mine)
        self.assertEqual(ClimateFile.objects.count(), 1)

    def test_a_name_is_that_of_its_hours(self) -> None:
        for name in (f"own-{hashlib.sha256(self.theirs).hexdigest()}", "own-0123456789ab", "own-"):
            with self.subTest(name=name), self.assertRaises(Problem):
                checked(self.mine, "weather", name)


def shipped_text(name: str) -> bytes:
    return (FOLDER / f"{name}.csv").read_bytes()

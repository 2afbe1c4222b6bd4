"""Reports read back, lists recalculated, jobs killed and cancelled, names under files, the open package."""

from __future__ import annotations

import io
import json
import re
import tempfile
import zipfile
from contextlib import closing, redirect_stderr
from pathlib import Path
from typing import Any
from unittest import TestCase as Plain
from unittest.mock import patch

import formulas
import openpyxl
import pypdfium2 as pdfium
from django.core.management import CommandError, call_command
from django.test import TestCase, override_settings
from django.utils import timezone
from pypdf import PdfReader

from core.physics.constants import AIR_WH_M3K
from core.shown import INCH, METRIC, bare
from demo.scenarios import project_file
from server.dossier import documents, lists
from server.dossier.actions import ask_report
from server.dossier.asked import Asked
from server.dossier.documents import DOCUMENTS, write
from server.dossier.gather import Gathered, hash_of
from server.dossier.models import Report
from server.dossier.paper import fonts
from server.dossier.paper.page import Column, Paper
from server.dossier.schemas import ReportBody
from server.exchange.bring import import_file
from server.exchange.read import read as read_project_file
from server.projects.models import Element, Option, Project, Scheme
from server.runs.models import Run
from server.runs.worker import execute
from server.schemes.models import Basis
from server.tests.helpers import client_of, corrie, person, send

UNITS_TS = Path(__file__).resolve().parents[2] / "web/src/shared/units.ts"
LONG = {
    "Cyrillic": "Ж" * 20 + " дом у старой станции " * 5,
    "Greek": "Οικία " * 20,
    "Arabic": "بيت " * 30,
    "Japanese": "古い家" * 40,
    "markup": "<b>House</b> & <img src=x onerror=1> <para>{0} %s </font>",
}


def report_of(project: Project | Gathered, kind: str, system: str = "metric", sheet: str = "a4") -> PdfReader:
    """What is gathered already can be written more than once: nothing of it changes by that."""
    gathered = project if isinstance(project, Gathered) else Gathered(project)
    project = gathered.project
    out = io.BytesIO()
    asked = Asked(kind, system, sheet, "Isla Marr", timezone.now(), hash_of(project))  # type: ignore[arg-type]
    write(gathered, asked, out)
    return PdfReader(io.BytesIO(out.getvalue()))


def text_of(pdf: PdfReader) -> str:
    """Words one space apart, whatever lines they were broken into."""
    assert isinstance(pdf.stream, io.BytesIO)
    with closing(pdfium.PdfDocument(pdf.stream.getvalue())) as document:
        return " ".join(" ".join(page.get_textpage().get_text_range() for page in document).split())


def squeezed(text: str) -> str:
    return re.sub(r"\s+", "", text)


class Figures(Plain):
    def test_the_air_has_one_heat_capacity_on_the_screen_too(self) -> None:
        self.assertIn(f"AIR_WH_M3K = {AIR_WH_M3K:.4f}", UNITS_TS.read_text())

    def test_units_digits_and_factors_are_those_of_the_screen(self) -> None:
        source = UNITS_TS.read_text()
        for name, table in (("METRIC", METRIC), ("IMPERIAL", INCH)):
            body = source.split(f"const {name}: Record<Quantity, Unit> = {{")[1].split("\n}")[0]
            seen = 0
            for key, unit, digits, factor in re.findall(r"(\w+): times\('([^']*)', (\d+), ([^)]+)\)", body):
                if key not in table:
                    continue
                seen += 1
                value = {"R": 5.678263}.get(factor) or eval(factor)  # noqa: S307  (numbers of our own source)
                with self.subTest(f"{name} {key}"):
                    self.assertEqual((table[key].unit, table[key].digits), (unit, int(digits)))
                    self.assertAlmostEqual(table[key].to(3.0), 3.0 * value, places=12)
            self.assertGreater(seen, 16)
        self.assertAlmostEqual(INCH["transmittance"].to(0.35), 5.678263 / 0.35)
        self.assertAlmostEqual(INCH["conductivity"].to(0.04), 0.144228 / 0.04)
        self.assertAlmostEqual(INCH["temperature"].to(20.0), 68.0)

    def test_rounding_is_that_of_the_browser(self) -> None:
        for value, digits, expected in (
            (2.5, 0, "3"),
            (-2.5, 0, "−3"),
            (1.005, 2, "1.00"),
            (0.125, 2, "0.13"),
            (-0.04, 1, "0.0"),
        ):
            self.assertEqual(bare(value, "area", digits).metric, expected)
        self.assertEqual(bare(None, "area").metric, "–")
        self.assertEqual(bare(float("nan"), "area").inch, "–")


class ReadBack(TestCase):
    """Every report of every demo project in both unit systems, read back."""

    @classmethod
    def setUpTestData(cls) -> None:
        owner = person("owner")
        cls.projects = [corrie(owner)]
        for name in ("millrace-granary.json", "tarn-lodge.json"):
            with project_file(name) as stream:
                cls.projects.append(import_file(owner, stream, stream.seek(0, 2)))

    def test_the_figures_of_heat_stand_in_the_heating_report_as_on_the_screen(self) -> None:
        for project in self.projects:
            gathered = Gathered(project)
            heat = gathered.heat
            assert heat is not None
            for system in ("metric", "inch"):
                with self.subTest(project.name, system=system):
                    text = squeezed(text_of(report_of(gathered, "heating", system)))
                    for row in [*heat.rows, heat.total]:
                        figures = [
                            bare(row.before_w_k, "coefficient"), bare(row.after_w_k, "coefficient"),
                            bare(row.before_w, "power", 2), bare(row.after_w, "power", 2),
                        ]  # fmt: skip
                        line = "".join(figure.inch if system == "inch" else figure.metric for figure in figures)
                        self.assertIn(line, text, row.name)

    def test_every_row_of_every_list_stands_in_the_whole_report(self) -> None:
        for project in self.projects:
            g = Gathered(project)
            for system in ("metric", "inch"):
                pdf = report_of(g, "whole", system, "letter" if system == "inch" else "a4")
                text = squeezed(text_of(pdf))
                for key in ("water", "opening", "readings"):
                    one = lists.list_of(g, key)  # type: ignore[arg-type]
                    for row in one.rows:
                        for column, value in zip(one.columns, row, strict=True):
                            said = column.words(value)
                            words = said.inch if system == "inch" else said.metric
                            with self.subTest(project.name, list=key, column=column.head):
                                self.assertIn(squeezed(words), text)
                for page in g.layered:
                    for option in page.sheet.options if page.sheet is not None else []:
                        if option.figures.thermal is None:
                            continue
                        u = bare(option.figures.thermal.u_effective, "transmittance")
                        shown = f"R{u.inch}" if system == "inch" else f"{u.metric}W/m²K"
                        with self.subTest(project.name, option=option.name, system=system):
                            self.assertIn(f"{'R' if system == 'inch' else 'U'}effective{shown}", text)
                            self.assertIn(squeezed(option.name), text)

    def test_every_report_is_tagged_searchable_and_has_its_faces_in_it(self) -> None:
        gathered = Gathered(self.projects[0])
        for kind in DOCUMENTS:
            with self.subTest(kind):
                pdf = report_of(gathered, kind)
                root = pdf.trailer["/Root"]
                self.assertEqual(str(root["/MarkInfo"]["/Marked"]), "True")
                self.assertEqual(root["/Lang"], "en-GB")
                roles = list(self.roles(root["/StructTreeRoot"]["/K"][0].get_object()))
                self.assertTrue({"/H1", "/P", "/Table", "/TR", "/TH", "/TD"} <= set(roles), set(roles))
                if kind != "builder":
                    self.assertIn("/Figure", roles)
                self.assertTrue(pdf.outline)
                for page in pdf.pages:
                    self.assertIn("/StructParents", page)
                    for font in page["/Resources"]["/Font"].values():
                        face = font.get_object()
                        if face["/BaseFont"] != "/Helvetica":  # named by the library in every page, used in none
                            self.assertIn("/FontFile2", face["/FontDescriptor"].get_object())
                self.assertIn("page 1", text_of(pdf))
                self.assertIn("computes, does not certify", text_of(pdf))

    def roles(self, element: Any) -> Any:
        yield element["/S"]
        for kid in element.get("/K", []) if isinstance(element.get("/K", []), list) else []:
            yield from self.roles(kid.get_object())

    def test_a_long_table_carries_its_head_and_says_it_once(self) -> None:
        paper = Paper("metric", "a4")
        paper.table([Column("Thing"), Column("Size", figure=True)], [[f"row {i}", str(i)] for i in range(150)])
        out = io.BytesIO()
        self.assertGreater(paper.write(out, "t", "a", "f"), 2)
        pdf = PdfReader(out)
        for page in pdf.pages:
            self.assertIn("Thing", page.extract_text())
        roles = list(self.roles(pdf.trailer["/Root"]["/StructTreeRoot"]["/K"][0].get_object()))
        self.assertEqual((roles.count("/Table"), roles.count("/TH"), roles.count("/TD")), (1, 2, 300))


class OddProjects(TestCase):
    def test_long_names_in_any_script_and_mark_up_are_drawn_or_said(self) -> None:
        owner = person("owner")
        for what, name in LONG.items():
            project = Project.objects.create(owner=owner, name=name[:120])
            element = Element.objects.create(project=project, name=name[:120], kind="wall", area_m2=12.0)
            layers = [{"id": "a", "material": "brick_old", "thickness_mm": 220, "existing": True}]
            Option.objects.create(element=element, role=Option.AS_FOUND, name="As found", build_up={"layers": layers})
            for kind in DOCUMENTS:
                with self.subTest(what, kind=kind):
                    text = text_of(report_of(project, kind))
                    if what in ("Arabic", "Japanese"):
                        self.assertRegex(text, "letters? of (Arabic|Han|kana)")
                    else:
                        self.assertIn(squeezed(name[:120])[:40], squeezed(text))

    def test_one_bare_element_and_nothing_at_all(self) -> None:
        owner = person("owner")
        empty = Project.objects.create(owner=owner, name="Empty")
        bare_one = Project.objects.create(owner=owner, name="Bare")
        element = Element.objects.create(project=bare_one, name="Wall", kind="wall", area_m2=10)
        Option.objects.create(element=element, role=Option.AS_FOUND, name="As found", build_up={"layers": []})
        for project in (empty, bare_one):
            for kind in DOCUMENTS:
                with self.subTest(project.name, kind=kind):
                    self.assertGreaterEqual(len(report_of(project, kind).pages), 1)
        self.assertIn("Nothing is chosen yet", text_of(report_of(bare_one, "client")))
        self.assertIn("construction not stated: Wall", text_of(report_of(bare_one, "client")))

    def test_rejections_and_what_a_decision_rests_on_stand_in_the_whole(self) -> None:
        owner = person("owner")
        project = Project.objects.create(owner=owner, name="Barn")
        element = Element.objects.create(project=project, name="Wall", kind="wall", area_m2=10)
        layers = [{"id": "a", "material": "brick_old", "thickness_mm": 220, "existing": True}]
        Option.objects.create(element=element, role=Option.AS_FOUND, name="As found", build_up={"layers": layers})
        lined = [*layers, {"id": "b", "material": "calcium_silicate", "thickness_mm": 30}]
        Option.objects.create(
            element=element, name="Lined", build_up={"layers": lined}, rejected_reason="too dear", rejected_by="Ann"
        )
        Basis.objects.create(
            project=project,
            element=element,
            uid="basis-0001",
            kind="specification",
            who="A maker",
            text="screws in brick",
        )
        Scheme.objects.create(project=project, position=0, name="One")
        Scheme.objects.create(project=project, position=1, name="Two")
        text = text_of(report_of(project, "whole"))
        for words in (
            "Rejected: “Lined” by Ann: too dear",
            "specification asked of A maker: screws in brick Answer: none yet",
            "Scheme: One.",
        ):
            self.assertIn(words, text)

    def test_what_no_face_draws_is_said_and_controls_are_left_out(self) -> None:
        self.assertEqual(fonts.markup("a\x00b\u200f"), "ab")
        self.assertEqual(fonts.markup("日本 <"), "‹2 letters of Han› &lt;")
        self.assertTrue(fonts.all_drawn("Ж αβγ → √ ≤ ½ ẞ č"))
        self.assertFalse(fonts.all_drawn("語"))


class Tables(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.owner = person("owner")
        cls.project = corrie(cls.owner)

    def test_the_workbook_recalculated_has_the_totals_of_the_screen(self) -> None:
        g = Gathered(self.project)
        assert g.heat is not None and g.air is not None and g.balance is not None and g.balance.before is not None
        items = g.balance.before.items
        rest = sum(item.kwh for item in items) + g.balance.before.heating_kwh - g.balance.before.cooling_kwh
        whole = sum(row.q50_before for row in g.air.rows)
        assert g.rooms is not None and g.rooms.after is not None
        load = (g.rooms.after.loads.watts + sum(one.watts for one in g.rooms.after.left)) / 1000.0
        for key, column, total, factor in (
            ("heat", "H", g.heat.total.before_w_k, 1.895634),
            ("leaks", "C", whole, 0.588578),
            ("rooms", "E", load, 0.00341214 * 1000.0),
            ("balance", "B", rest, 3.412142),
        ):
            listed = lists.list_of(g, key)  # type: ignore[arg-type]
            for system, times in (("metric", 1.0), ("inch", factor)):
                with (
                    self.subTest(key, system=system),
                    tempfile.TemporaryDirectory() as folder,
                    redirect_stderr(io.StringIO()),  # the library draws its progress
                ):
                    path = Path(folder) / "lists.xlsx"
                    path.write_bytes(lists.as_xlsx([listed], system))  # type: ignore[arg-type]
                    sheet = openpyxl.load_workbook(path).active
                    assert sheet is not None
                    last = len(listed.rows) + 2
                    self.assertEqual(sheet[f"{column}{last}"].value, f"=SUM({column}2:{column}{last - 1})")
                    solved = formulas.ExcelModel().loads(str(path)).finish().calculate()
                    cell = next(k for k in solved if k.upper().endswith(f"!{column}{last}"))
                    self.assertAlmostEqual(float(solved[cell].value[0, 0]), total * times, places=4)

    def test_no_cell_is_a_formula_that_somebody_typed(self) -> None:
        item = self.project.water_items.first()
        assert item is not None
        item.title, item.remedy, item.who = '=HYPERLINK("http://x")', "", "@SUM(1)"
        item.save()
        one = lists.list_of(Gathered(self.project), "water")
        lines = lists.as_csv(one, "metric").decode("utf-8-sig")
        self.assertIn("\"'=HYPERLINK(", lines)
        self.assertIn("'@SUM(1)", lines)
        book = openpyxl.load_workbook(io.BytesIO(lists.as_xlsx([one], "metric")))
        assert book.active is not None
        cells = [cell for row in book.active.iter_rows() for cell in row if cell.value]
        self.assertIn('=HYPERLINK("http://x")', [cell.value for cell in cells])
        self.assertEqual({cell.data_type for cell in cells if str(cell.value).startswith("=")}, {"s"})

    def test_every_list_over_the_api_as_table_csv_and_workbook(self) -> None:
        client = client_of(self.owner)
        base = f"/api/projects/{self.project.pk}"
        for key in lists.LISTS:
            with self.subTest(key):
                answer = client.get(f"{base}/lists/{key}").json()
                rows = client.get(f"{base}/lists/{key}/csv?system=inch").content.decode("utf-8-sig").splitlines()
                self.assertTrue(answer["rows"], key)
                self.assertEqual(len(answer["rows"][0]), len(answer["columns"]))
                self.assertGreaterEqual(len(rows), len(answer["rows"]) + 1)
        book = openpyxl.load_workbook(io.BytesIO(client.get(f"{base}/workbook").content))
        self.assertEqual(len(book.sheetnames), len(lists.LISTS))
        self.assertEqual(client.get(f"{base}/lists/nothing").status_code, 422)


class Jobs(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.owner = person("owner")
        cls.project = corrie(cls.owner)

    def setUp(self) -> None:
        here = override_settings(REPORTS=self.folder())
        here.enable()
        self.addCleanup(here.disable)

    def ask(self, kind: str = "client") -> Report:
        return ask_report(self.owner, self.project.pk, ReportBody(kind=kind))  # type: ignore[arg-type]

    def done(self, report: Report) -> Report:
        assert report.run is not None
        Run.objects.filter(pk=report.run.pk).update(status=Run.RUNNING)
        execute(report.run.pk)
        report.refresh_from_db()
        return report

    def state(self, report: Report) -> dict[str, Any]:
        answer: dict[str, Any] = client_of(self.owner).get(f"/api/reports/{report.pk}").json()
        return answer

    def test_made_current_then_out_of_date_then_what_changed_is_said(self) -> None:
        report = self.ask()
        self.assertEqual(self.ask().pk, report.pk, "the same one that waits")
        self.assertEqual(self.state(report)["state"], "waiting")
        self.done(report)
        state = self.state(report)
        self.assertEqual((state["state"], state["current"], state["hash"]), ("made", True, hash_of(self.project)))
        raw = client_of(self.owner).get(f"/api/reports/{report.pk}/file")
        self.assertEqual(b"".join(raw.streaming_content)[:5], b"%PDF-")
        fields = {"name": "Corrie Halt, again", "climate": "corrie", "volume_m3": 500}
        self.assertEqual(
            send(client_of(self.owner), "PUT", f"/api/projects/{self.project.pk}", fields).status_code, 200
        )
        self.assertFalse(self.state(report)["current"])
        again = self.done(self.ask("builder"))
        self.assertIsNone(again.since)
        condition = self.done(self.ask("condition"))
        self.project.history.create(person="Isla", action="x", what="changed the gutter")
        second = self.done(self.ask("condition"))
        self.assertEqual(second.since, condition.made_at)
        self.assertIn("changed the gutter", text_of(PdfReader(second.path)))

    def test_killed_or_cancelled_there_is_no_half_file(self) -> None:
        report = self.ask()
        with (
            patch.object(documents.Paper, "write", side_effect=RuntimeError("killed")),
            self.assertRaises(RuntimeError),
        ):
            self.done(report)
        report.refresh_from_db()
        state = self.state(report)
        self.assertEqual(state["state"], "failed")
        self.assertIn("killed", state["error"])
        self.assertEqual(list(report.path.parent.glob(f"{report.pk}*")), [])
        other = self.ask("heating")
        Run.objects.filter(pk=other.run_id).update(status=Run.RUNNING, cancel_asked=True)
        execute(other.run_id)
        self.assertEqual(self.state(other)["state"], "cancelled")
        self.assertFalse(other.path.exists())
        waiting = self.ask("builder")
        send(client_of(self.owner), "POST", f"/api/reports/{waiting.pk}/cancel")
        self.assertEqual(self.state(waiting)["state"], "cancelled")
        self.assertEqual(client_of(self.owner).get(f"/api/reports/{waiting.pk}/file").status_code, 404)

    def test_a_name_stands_over_the_hash_of_the_file(self) -> None:
        report = self.ask()
        body = {"name": "Isla Marr", "role": "consultant", "on": "2026-11-20"}
        client = client_of(self.owner)
        self.assertEqual(send(client, "POST", f"/api/reports/{report.pk}/signatures", body).json()["code"], "not_made")
        self.done(report)
        state = send(client, "POST", f"/api/reports/{report.pk}/signatures", body).json()
        self.assertTrue(state["signatures"][0]["holds"])
        self.assertEqual(state["signatures"][0]["sha256"], report.sha256)
        self.assertEqual(send(client, "DELETE", f"/api/reports/{report.pk}").json()["code"], "signed")
        send(client, "DELETE", f"/api/signatures/{state['signatures'][0]['id']}")
        path = report.path
        with self.captureOnCommitCallbacks(execute=True):
            self.assertEqual(send(client, "DELETE", f"/api/reports/{report.pk}").status_code, 204)
        self.assertFalse(path.exists())

    def test_what_is_missing_is_said_and_the_package_holds_everything(self) -> None:
        client = client_of(self.owner)
        self.done(self.ask())
        answer = client.get(f"/api/projects/{self.project.pk}/dossier").json()
        said = "; ".join(answer["missing"])
        for words in ("signs without a confirmed cause", "no option chosen", "layers only assumed", "water items open"):
            self.assertIn(words, said)
        self.assertEqual({kind["kind"] for kind in answer["kinds"]}, set(DOCUMENTS))
        raw = b"".join(client.get(f"/api/projects/{self.project.pk}/package").streaming_content)
        with zipfile.ZipFile(io.BytesIO(raw)) as archive:
            names = archive.namelist()
            inner = io.BytesIO(archive.read("project.wendrick.zip"))
            self.assertEqual(read_project_file(inner, len(inner.getvalue())).project.name, "Corrie Halt")
            for part, least in (("cases/", 20), ("results/", 20), ("lists/", 8), ("reports/", 2)):
                self.assertGreaterEqual(sum(name.startswith(part) for name in names), least, part)
            case = json.loads(archive.read(next(n for n in names if n.startswith("cases/") and n.endswith(".json"))))
            self.assertIn("layers", case)

    def test_by_command_and_refused_for_a_name_that_is_not_there(self) -> None:
        out = self.folder() / "report.pdf"
        call_command("report", "Corrie Halt", kind="heating", units="inch", out=out, stdout=io.StringIO())
        self.assertIn("Btu/h°F", text_of(PdfReader(out)))
        with self.assertRaisesMessage(CommandError, "0 projects are called “Nowhere”"):
            call_command("report", "Nowhere", out=out)
        with self.assertRaisesMessage(CommandError, "cannot be written"):
            call_command("report", "Corrie Halt", kind="builder", out=out.parent / "no folder" / "x.pdf")

    def folder(self) -> Path:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        return Path(folder.name)

"""The open package: everything of a project in one zip, in open formats."""

from __future__ import annotations

import json
import shutil
import tempfile
import zipfile
from typing import IO

from core.errors import CoreError
from core.runs import asked
from server.dossier.gather import Gathered, hash_of
from server.dossier.lists import LISTS, as_csv, as_xlsx, list_of
from server.dossier.models import Report
from server.dossier.paper.page import System
from server.exchange.write import write as write_project
from server.files import slug
from server.projects.models import Option, Project

CHUNK = 1 << 20
README = """What this folder holds, in open formats.

project.wendrick.zip    the project file with its photos and climates: it can be imported again
cases/                  one computation each as JSON, every input and default written out
results/                what was found of each option that was run: verdict and figures as JSON
lists/                  the lists as CSV, and as one XLSX
reports/                the reports that were made, as PDF, with the names under them (signed.json: a name over a hash, no certificate)

It computes, it does not certify. Hash of the data: {hash}
"""


def _name(number: int, words: str) -> str:
    return f"{number:03d}-{slug(words, 'x')[:60]}"


def package(project: Project, system: System) -> IO[bytes]:
    """A temporary file holding the zip, at its start; the caller closes it. Raises Problem where a photo's file is gone."""
    g = Gathered(project)
    out = tempfile.TemporaryFile()  # noqa: SIM115  (the caller closes it)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("README.txt", README.format(hash=hash_of(project)))
        with write_project(project) as stream, archive.open("project.wendrick.zip", "w") as member:
            shutil.copyfileobj(stream, member, CHUNK)
        number = 0
        for one in g.layered:
            found = one.row.as_found.current
            rows = {option.pk: option for option in one.row.options.all()}
            for option in one.sheet.options if one.sheet is not None else []:
                number += 1
                name = _name(number, f"{one.row.name} {option.name}")
                row = rows[option.id]
                try:
                    wanted = asked(row.current, one.row.place, None if row.role == Option.AS_FOUND else found)
                    archive.writestr(f"cases/{name}.json", wanted.model.case.model_dump_json(indent=1))
                except CoreError as error:
                    archive.writestr(f"cases/{name}.txt", f"no hourly case: {error.message}\n")
                content = {"element": one.row.name, "option": option.name, "figures": option.figures.model_dump(mode="json"), "run": option.run.model_dump(mode="json")}  # fmt: skip
                archive.writestr(f"results/{name}.json", json.dumps(content, indent=1, ensure_ascii=False))
        lists = [list_of(g, key) for key in LISTS]
        for one_list in lists:
            archive.writestr(f"lists/{one_list.key}.csv", as_csv(one_list, system))
        archive.writestr("lists/lists.xlsx", as_xlsx(lists, system))
        signed = []
        for report in Report.objects.filter(project=project).prefetch_related("signatures"):
            if not report.is_made:
                continue
            archive.write(report.path, f"reports/{report.kind}-{report.system}-{report.pk}.pdf")
            signed += [
                {"report": report.pk, "name": s.name, "role": s.role, "on": s.on.isoformat(), "sha256": s.sha256}
                for s in report.signatures.all()
            ]
        archive.writestr("reports/signed.json", json.dumps(signed, indent=1, ensure_ascii=False))
    out.seek(0)
    return out

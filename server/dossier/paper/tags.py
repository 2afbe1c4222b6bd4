"""A canvas that tags what it draws, so that a report can be read aloud and searched in its order (PDF 1.7, 14.8)."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from reportlab.pdfbase import pdfdoc
from reportlab.pdfgen.canvas import Canvas

# What ReportLab leaves out of a page unless it is named here.
if "StructParents" not in pdfdoc.PDFPage.__NoDefault__:
    pdfdoc.PDFPage.__NoDefault__ = [*pdfdoc.PDFPage.__NoDefault__, "StructParents", "Tabs"]


@dataclass
class Mark:
    """One stretch of content: its role, page and number there; row: the table and row it is a cell of."""

    role: str
    page: int
    number: int
    alt: str = ""
    row: tuple[int, int] | None = None


class TaggedCanvas(Canvas):
    """Canvas with `tagged` and `artifact`; the structure tree is written when the document is saved."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        kwargs["pdfVersion"] = (1, 7)
        super().__init__(*args, **kwargs)
        self.marks: list[Mark] = []
        self._numbers = 0
        self._open = 0
        self.pages_done = 0

    @contextmanager
    def tagged(self, role: str, alt: str = "", row: tuple[int, int] | None = None) -> Iterator[None]:
        """Everything drawn within belongs to one element of the structure. Nested, the outer one holds."""
        if self._open:
            yield
            return
        self.marks.append(Mark(role, self.pages_done, self._numbers, alt, row))
        self._code.append(f"/{role} <</MCID {self._numbers}>> BDC")
        self._numbers += 1
        with self._marked():
            yield

    @contextmanager
    def artifact(self) -> Iterator[None]:
        """What is no content: rules, grounds, heads and feet of pages."""
        if self._open:
            yield
            return
        self._code.append("/Artifact BMC")
        with self._marked():
            yield

    @contextmanager
    def _marked(self) -> Iterator[None]:
        self._open += 1
        try:
            yield
        finally:
            self._open -= 1
            self._code.append("EMC")

    def showPage(self) -> None:  # noqa: N802
        super().showPage()
        page = self._doc.Pages.pages[-1]
        page.StructParents = self.pages_done
        page.Tabs = pdfdoc.PDFName("S")
        self.pages_done += 1
        self._numbers = 0

    def save(self) -> None:
        if len(self._code):
            self.showPage()
        self._write_structure()
        super().save()

    def _write_structure(self) -> None:
        document = self._doc
        pages = document.Pages.pages
        parents: list[list[Any]] = [[] for _ in range(self.pages_done)]
        root = pdfdoc.PDFDictionary({"Type": pdfdoc.PDFName("StructTreeRoot")})
        root_ref = document.Reference(root)
        top = pdfdoc.PDFDictionary(
            {"Type": pdfdoc.PDFName("StructElem"), "S": pdfdoc.PDFName("Document"), "P": root_ref}
        )
        top_ref = document.Reference(top)

        def element(role: str, parent: Any, alt: str = "") -> tuple[Any, Any]:
            entry = pdfdoc.PDFDictionary(
                {"Type": pdfdoc.PDFName("StructElem"), "S": pdfdoc.PDFName(role), "P": parent, "K": pdfdoc.PDFArray([])}
            )
            if alt:
                entry.dict["Alt"] = pdfdoc.PDFString(alt)
            return entry, document.Reference(entry)

        top.dict["K"] = pdfdoc.PDFArray([])
        tables: dict[int, tuple[Any, Any]] = {}
        rows: dict[tuple[int, int], tuple[Any, Any]] = {}
        for mark in self.marks:
            holder, holder_ref = top, top_ref
            if mark.row is not None:
                table, _ = mark.row
                if table not in tables:
                    tables[table] = element("Table", top_ref)
                    top.dict["K"].sequence.append(tables[table][1])
                if mark.row not in rows:
                    rows[mark.row] = element("TR", tables[table][1])
                    tables[table][0].dict["K"].sequence.append(rows[mark.row][1])
                holder, holder_ref = rows[mark.row]
            entry, reference = element(mark.role, holder_ref, mark.alt)
            entry.dict["Pg"] = document.Reference(pages[mark.page])
            entry.dict["K"] = mark.number
            holder.dict["K"].sequence.append(reference)
            parents[mark.page].append(reference)
        numbers: list[Any] = []
        for page, references in enumerate(parents):
            numbers += [page, document.Reference(pdfdoc.PDFArray(references))]
        root.dict["K"] = pdfdoc.PDFArray([top_ref])
        root.dict["ParentTree"] = document.Reference(pdfdoc.PDFDictionary({"Nums": pdfdoc.PDFArray(numbers)}))
        root.dict["ParentTreeNextKey"] = self.pages_done
        document.Catalog.StructTreeRoot = root_ref
        document.Catalog.MarkInfo = pdfdoc.PDFDictionary({"Marked": pdfdoc.PDFtrue})
        document.Catalog.Lang = pdfdoc.PDFString("en-GB")

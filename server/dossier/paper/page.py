"""Reports on paper: styles, headings that make contents and bookmarks, tables that carry their heads, figures, pictures."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

from reportlab.graphics.shapes import Drawing
from reportlab.lib.colors import HexColor
from reportlab.lib.enums import TA_RIGHT
from reportlab.lib.pagesizes import A4, letter
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import (
    BaseDocTemplate,
    CondPageBreak,
    Flowable,
    Frame,
    Image,
    KeepTogether,
    LongTable,
    PageBreak,
    PageTemplate,
    Paragraph,
    Spacer,
)
from reportlab.platypus.tableofcontents import TableOfContents

from core.say import Said
from server.dossier.paper import fonts
from server.dossier.paper.tags import TaggedCanvas

System = Literal["metric", "inch"]
Sheet = Literal["a4", "letter"]
Words = Said | str
INK, SOFT, RULE, PAPER = HexColor("#1D2B36"), HexColor("#4E5962"), HexColor("#B9B09B"), HexColor("#F5F1E8")
HEAT, WATER = HexColor("#A9482A"), HexColor("#1F6A70")
STATES = {"within limits": ("○", HexColor("#4A6224")), "marginal": ("◐", HexColor("#7A5207")), "over a limit": ("×", HexColor("#8A2A2A"))}  # fmt: skip
MARGIN = 20 * mm
_tables = itertools.count(1)


def _style(name: str, face: str, size: float, lead: float, **more: Any) -> ParagraphStyle:
    settings = {"textColor": INK, "splitLongWords": 1, **more}
    return ParagraphStyle(name, fontName=face, fontSize=size, leading=lead, **settings)


STYLES = {
    "title": _style("title", fonts.SERIF_BOLD, 24, 29, spaceAfter=4),
    "h1": _style("h1", fonts.SERIF_BOLD, 16, 20, spaceBefore=4, spaceAfter=5),
    "h2": _style("h2", fonts.SERIF_BOLD, 12, 15, spaceBefore=9, spaceAfter=3),
    "h3": _style("h3", fonts.BOLD, 9.5, 12.5, spaceBefore=6, spaceAfter=2),
    "lead": _style("lead", fonts.SERIF, 11, 15, spaceAfter=5),
    "verdict": _style("verdict", fonts.SERIF_BOLD, 10.5, 14, spaceAfter=3),
    "p": _style("p", fonts.SANS, 9.5, 13, spaceAfter=4),
    "small": _style("small", fonts.SANS, 8, 10.5, textColor=SOFT, spaceAfter=3),
    "item": _style(
        "item",
        fonts.SANS,
        9.5,
        13,
        leftIndent=11,
        bulletIndent=0,
        spaceAfter=2,
        bulletFontName=fonts.SANS,
        bulletFontSize=9.5,
    ),
    "head": _style("head", fonts.BOLD, 8, 10),
    "headr": _style("headr", fonts.BOLD, 8, 10, alignment=TA_RIGHT),
    "cell": _style("cell", fonts.SANS, 8.5, 11),
    "cellr": _style("cellr", fonts.SANS, 8.5, 11, alignment=TA_RIGHT),
    "sum": _style("sum", fonts.BOLD, 8.5, 11),
    "sumr": _style("sumr", fonts.BOLD, 8.5, 11, alignment=TA_RIGHT),
    "toc1": _style("toc1", fonts.BOLD, 9.5, 14),
    "toc2": _style("toc2", fonts.SANS, 9, 12.5, leftIndent=12),
}
TALL_ROW = 160 * mm  # a row that is no higher is kept whole
ROLES = {"title": "H1", "h1": "H1", "h2": "H2", "h3": "H3"}


class Text(Paragraph):
    """A paragraph that is tagged. row: the table and row it is a cell of."""

    role = "P"
    row: tuple[int, int] | None = None
    heading: tuple[int, str] | None = None
    seen_on: TaggedCanvas | None = None

    def draw(self) -> None:
        repeated = self.role == "TH" and self.seen_on is self.canv  # the head of a table that goes on is said once
        self.seen_on = self.canv
        with self.canv.artifact() if repeated else self.canv.tagged(self.role, row=self.row):
            super().draw()

    def split(self, *args: Any) -> list[Flowable]:
        parts: list[Flowable] = super().split(*args)
        for part in parts:
            part.role, part.row = self.role, self.row
        return parts


class Ruled(LongTable):
    """A table whose grounds and rules are no content. A row is only torn where it is higher than most of a page."""

    def split(self, width: float, height: float) -> list[Flowable]:
        """In rows; where not even the first of them fits, none, so that the table begins on the next page."""
        self._calc(width, height)
        heads = self.repeatRows
        begins = sum(self._rowHeights[: heads + 1])
        if height < begins < TALL_ROW:
            return []
        return list(super().split(width, height))

    def _drawBkgrnd(self) -> None:  # noqa: N802
        with self.canv.artifact():
            super()._drawBkgrnd()

    def _drawLines(self) -> None:  # noqa: N802
        with self.canv.artifact():
            super()._drawLines()


class Figure(Flowable):
    """A drawing or picture with the words that stand for it."""

    def __init__(self, inner: Drawing | Image, alt: str) -> None:
        super().__init__()
        self.inner, self.alt = inner, alt
        self.spaceBefore, self.spaceAfter = 4, 3

    def wrap(self, width: float, height: float) -> tuple[float, float]:
        size: tuple[float, float] = self.inner.wrap(width, height)
        return size

    def draw(self) -> None:
        with self.canv.tagged("Figure", self.alt):
            self.inner.drawOn(self.canv, 0, 0)


class Template(BaseDocTemplate):
    """Head and foot of every page; headings go into contents and bookmarks."""

    def __init__(self, target: Any, sheet: Sheet, title: str, author: str, foot: str, **more: Any) -> None:
        size = A4 if sheet == "a4" else letter
        super().__init__(
            target, pagesize=size, leftMargin=MARGIN, rightMargin=MARGIN, topMargin=18 * mm, bottomMargin=20 * mm,
            title=title, author=author, creator="Wendrick", lang="en-GB", **more,
        )  # fmt: skip
        self.foot, self.headings, self.outlined = foot, 0, -1
        frame = Frame(self.leftMargin, self.bottomMargin, self.width, self.height, 0, 0, 0, 0)
        self.addPageTemplates([PageTemplate(id="page", frames=[frame], onPage=self._page)])

    def _page(self, canvas: TaggedCanvas, _: Any) -> None:
        with canvas.artifact():
            canvas.saveState()
            canvas.setStrokeColor(RULE)
            canvas.setLineWidth(0.5)
            y = self.bottomMargin - 5 * mm
            canvas.line(self.leftMargin, y, self.leftMargin + self.width, y)
            canvas.setFillColor(SOFT)
            x = self.leftMargin
            for face, piece in fonts.pieces(self.foot):
                canvas.setFont(face, 8)
                canvas.drawString(x, y - 10, piece)
                x += canvas.stringWidth(piece, face, 8)
            canvas.setFont(fonts.SANS, 8)
            canvas.drawRightString(self.leftMargin + self.width, y - 10, f"page {canvas.getPageNumber()}")
            canvas.restoreState()

    def beforeDocument(self) -> None:  # noqa: N802
        self.headings, self.outlined = 0, -1

    def afterFlowable(self, flowable: Flowable) -> None:  # noqa: N802
        heading = getattr(flowable, "heading", None)
        if heading is None:
            return
        level, words = heading
        self.headings += 1
        key = f"heading {self.headings}"
        self.canv.bookmarkPage(key)
        self.outlined = min(level, self.outlined + 1)  # a short report begins with headings of the second level
        self.canv.addOutlineEntry(words, key, self.outlined, closed=self.outlined > 0)
        self.notify("TOCEntry", (level, fonts.markup(words), self.page, key))


@dataclass(frozen=True)
class Column:
    """share: of the width. figure: right-aligned."""

    head: Words
    share: float = 1.0
    figure: bool = False


class Paper:
    """What a report is written on: words in one unit system, collected in order."""

    def __init__(self, system: System, sheet: Sheet) -> None:
        fonts.register()
        self.system, self.sheet = system, sheet
        self.width = (A4 if sheet == "a4" else letter)[0] - 2 * MARGIN
        self.story: list[Flowable] = []

    def words(self, text: Words) -> str:
        return text if isinstance(text, str) else text.inch if self.system == "inch" else text.metric

    # --- text -------------------------------------------------------------------------------------

    def text(self, words: Words, style: str = "p", bullet: str | None = None, bold: str = "") -> Text:
        """bold: said first, in bold."""
        face = STYLES[style].fontName
        before = f"<b>{fonts.markup(bold, fonts.BOLD)}</b> " if bold else ""
        made = Text(before + fonts.markup(self.words(words), face), STYLES[style], bulletText=bullet)
        made.role = ROLES.get(style, "P")
        return made

    def p(self, words: Words, style: str = "p", bold: str = "") -> None:
        if words or bold:
            self.story.append(self.text(words, style, bold=bold))

    def items(self, words: Sequence[Words], style: str = "item") -> None:
        for each in words:
            self.story.append(self.text(each, style, bullet="–"))

    def heading(self, words: Words, level: int = 1, listed: bool = True, room_mm: float | None = None) -> None:
        """level 1 to 3; 1 and 2 stand in the contents. room_mm: what must have room under it, else a page begins."""
        made = self.text(words, f"h{level}")
        if listed and level < 3:
            made.heading = (level - 1, self.words(words))
        self.story.append(CondPageBreak((room_mm or (60 if level == 1 else 38)) * mm))
        self.story.append(made)

    def contents(self) -> None:
        self.story.append(self.text("Contents", "h2"))
        toc = TableOfContents(dotsMinLevel=7, levelStyles=[STYLES["toc1"], STYLES["toc2"]])
        self.story.append(toc)

    def gap(self, height_mm: float = 3.0) -> None:
        self.story.append(Spacer(1, height_mm * mm))

    def new_page(self) -> None:
        self.story.append(PageBreak())

    # --- tables -----------------------------------------------------------------------------------

    def table(self, columns: Sequence[Column], rows: Sequence[Sequence[Words | Flowable]], sums: int = 0) -> None:
        """sums: how many rows at the end are sums. An empty table is not drawn."""
        if not rows:
            return
        number = next(_tables)
        whole = sum(column.share for column in columns)
        widths = [column.share / whole * self.width for column in columns]
        cells: list[list[Flowable]] = []
        head = []
        for column in columns:
            made = self.text(column.head, "headr" if column.figure else "head")
            made.role, made.row = "TH", (number, 0)
            head.append(made)
        cells.append(head)
        for at, row in enumerate(rows, 1):
            line = []
            for column, value in zip(columns, row, strict=True):
                if isinstance(value, Flowable):
                    line.append(value)
                    continue
                style = ("sum" if at > len(rows) - sums else "cell") + ("r" if column.figure else "")
                made = self.text(value, style)
                made.role, made.row = "TD", (number, at)
                line.append(made)
            cells.append(line)
        ruling: list[tuple[Any, ...]] = [
            ("VALIGN", (0, 0), (-1, -1), "TOP"),
            ("LEFTPADDING", (0, 0), (-1, -1), 0),
            ("RIGHTPADDING", (0, 0), (-1, -1), 5),
            ("TOPPADDING", (0, 0), (-1, -1), 2),
            ("BOTTOMPADDING", (0, 0), (-1, -1), 2.5),
            ("LINEBELOW", (0, 0), (-1, 0), 0.8, INK),
            ("LINEBELOW", (0, 1), (-1, -1), 0.3, RULE),
        ]
        if sums:
            ruling.append(("LINEABOVE", (0, -sums), (-1, -sums), 0.8, INK))
        self.story.append(
            Ruled(cells, colWidths=widths, repeatRows=1, style=ruling, hAlign="LEFT", splitInRow=1, spaceAfter=6)
        )

    def pairs(self, rows: Sequence[tuple[str, Words]]) -> None:
        """Names and what they are, without a head."""
        number = next(_tables)
        cells = []
        for at, (name, value) in enumerate(rows):
            left, right = self.text(name, "head"), self.text(value, "cell")
            left.role, right.role = "TH", "TD"
            left.row = right.row = (number, at)
            cells.append([left, right])
        if cells:
            style = [
                ("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("TOPPADDING", (0, 0), (-1, -1), 1.5), ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
                ("LINEBELOW", (0, 0), (-1, -1), 0.3, RULE),
            ]  # fmt: skip
            self.story.append(
                Ruled(cells, colWidths=[0.24 * self.width, 0.76 * self.width], style=style, splitInRow=1, spaceAfter=6)
            )

    # --- figures ----------------------------------------------------------------------------------

    def figure(self, drawing: Drawing, alt: Words, caption: Words = "") -> None:
        parts: list[Flowable] = [Figure(drawing, self.words(alt))]
        if caption:
            parts.append(self.text(caption, "small"))
        self.story.append(KeepTogether(parts))

    def photo(self, path: Path, caption: str, width: float, height: float) -> Flowable | None:
        """A photo within a box; None where its file is gone."""
        if not path.exists():
            return None
        return Figure(Image(str(path), width, height, kind="proportional", lazy=2), caption or "photo")

    def photos(self, pictures: Sequence[tuple[Path, str]], across: int = 3) -> None:
        """Photos beside each other with what they show; a file that is gone is said."""
        cells: list[list[Flowable]] = []
        width = self.width / across - 6
        for path, caption in pictures:
            made = self.photo(path, caption, width, width * 0.75)
            words = self.text(caption or "photo", "small")
            missing = self.text("The photo’s file is gone.", "small")
            cells.append([made if made is not None else missing, words])
        rows = [cells[at : at + across] for at in range(0, len(cells), across)]
        for row in rows:
            row += [[]] * (across - len(row))
        if rows:
            plain = [("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0)]
            self.story.append(Ruled(rows, colWidths=[self.width / across] * across, style=plain, spaceAfter=4))

    # --- the document -----------------------------------------------------------------------------

    def write(
        self,
        target: Any,
        title: str,
        author: str,
        foot: str,
        tell: Callable[[float], None] = lambda share: None,
        contents: bool = False,
    ) -> int:
        """Lay it out and write it; how many pages. tell: hears how far it is, and may raise to stop it."""
        document = Template(target, self.sheet, title, author, foot)
        size = [1, 0]

        def heard(kind: str, value: Any) -> None:
            if kind == "SIZE_EST":
                size[0] = max(int(value), 1)
            elif kind == "PROGRESS":
                tell(min(value / size[0], 1.0))

        document.setProgressCallBack(heard)
        if contents:
            document.multiBuild(self.story, canvasmaker=TaggedCanvas, maxPasses=4)
        else:
            document.build(self.story, canvasmaker=TaggedCanvas)
        return int(document.page)

"""The lists of a project: one definition for the screen, for paper, and for CSV and XLSX."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date
from typing import Literal, get_args

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.styles import Alignment, Border, Font, Side
from openpyxl.utils import get_column_letter

from core.errors import CoreError
from core.materials.library import entry_of
from core.say import Said, join, said
from core.shown import INCH, METRIC, bare, shown, unit_of
from server.dossier.gather import Gathered
from server.dossier.paper.page import System
from server.options.schemas import OptionOut
from server.survey.schemas import EvidenceOut, MeasurementOut

ListKey = Literal[
    "water", "opening", "pins", "readings", "constructions", "options", "heat", "leaks", "rooms", "balance"
]
Value = str | Said | float | int | date | None


@dataclass(frozen=True)
class Column:
    """quantity: of figures, in the units of `core.shown`; digits: other than usual; sum: a total stands under it."""

    head: str
    quantity: str = ""
    digits: int | None = None
    sum: bool = False
    wide: float = 1.0

    @property
    def figure(self) -> bool:
        return bool(self.quantity)

    def unit(self, system: System) -> str:
        if not self.quantity or self.quantity == "count":
            return ""
        unit = unit_of(self.quantity)
        return unit.inch if system == "inch" else unit.metric

    def headed(self, system: System) -> str:
        """The head with its unit; a U is an R in the other system, and named so."""
        unit = self.unit(system)
        if self.quantity == "transmittance" and system == "inch":
            return f"R{self.head.removeprefix('U')}"
        return f"{self.head}, {unit}" if unit else self.head

    @property
    def heads(self) -> Said:
        return Said(metric=self.headed("metric"), inch=self.headed("inch"))

    def converted(self, value: Value, system: System) -> Value:
        """A figure in the units shown, not rounded."""
        if not isinstance(value, (int, float)) or not self.quantity or self.quantity == "count":
            return value
        return float((INCH if system == "inch" else METRIC)[self.quantity].to(float(value)))

    def places(self, system: System) -> int:
        if self.quantity == "count":
            return 0
        return self.digits if self.digits is not None else (INCH if system == "inch" else METRIC)[self.quantity].digits

    def words(self, value: Value) -> Said:
        """As a table shows it."""
        if value is None:
            return said("–" if self.quantity else "")
        if isinstance(value, Said):
            return value
        if isinstance(value, date):
            return said(f"{value:%d %b %Y}".lstrip("0").replace(" ", "\u00a0"))
        if isinstance(value, (int, float)) and self.quantity == "thickness":
            return layer_thickness(float(value), unit=False)
        if isinstance(value, (int, float)) and self.quantity and self.quantity != "count":
            return bare(float(value), self.quantity, self.digits)
        return said(str(value))


@dataclass(frozen=True)
class Listed:
    """total: the words before the sums, where any column has one. note: what is said under the list."""

    key: ListKey
    name: str
    columns: list[Column]
    rows: list[list[Value]]
    total: str = ""
    note: str = ""
    empty: str = "Nothing yet."
    elements: list[int | None] = field(default_factory=list)  # of each row, where it is of one


def layer_thickness(millimetres: float | None, unit: bool = True) -> Said:
    """Of a layer: 500, 12.5 mm, or inches to a hundredth."""
    if millimetres is None:
        return said("–")
    write = shown if unit else bare
    return Said(
        metric=write(millimetres, "thickness", 1 if round(millimetres, 1) % 1 else 0).metric,
        inch=write(millimetres, "thickness").inch,
    )


def _names(g: Gathered, ids: list[int]) -> str:
    return ", ".join(g.names[pk] for pk in ids if pk in g.names)


def water(g: Gathered) -> Listed:
    """What must be dry, tight or drained first, in the order of the stages."""
    stages = {stage.id: stage.name for stage in g.water.stages}
    columns = [
        Column("Stage", wide=1.2), Column("What", wide=3), Column("Shown by", wide=2.2), Column("Elements", wide=1.8),
        Column("Who", wide=1.35), Column("Due", wide=0.8), Column("State", wide=1.3),
    ]  # fmt: skip
    rows: list[list[Value]] = []
    for item in g.water.items:
        state = item.state
        if item.state != "open":
            by = f", {item.closed_by}" if item.closed_by else ""
            on = f", {item.closed_on:%d %b %Y}" if item.closed_on else ""
            state = f"{item.state}{by}{on}{': ' + item.reason if item.reason else ''}"
        rows.append([stages.get(item.stage, item.stage), item.title_said, item.shown_by_said, _names(g, item.elements), item.who, item.due, state])  # fmt: skip
    return Listed("water", "Water items", columns, rows, empty="No item stands before the works.")


def opening(g: Gathered) -> Listed:
    """Layers that are only assumed: where to open, and what hangs on it."""
    columns = [Column("Element", wide=1.4), Column("Layer", wide=1.4), Column("Why it is opened", wide=3)]
    rows: list[list[Value]] = [[one.element, one.layer, one.because] for one in g.made.opening_up]
    return Listed("opening", "Openings to make", columns, rows, empty="No layer is only assumed.", elements=[one.element_id for one in g.made.opening_up])  # fmt: skip


def place_words(pin: EvidenceOut) -> Said:
    place = pin.pin.place
    at = {"elevation": f"face {place.face}", "plan": "plan", "section": "section"}[place.view]
    height = shown(place.y_m, "length") if place.view != "plan" else said("")
    where = said(f"{at}, {pin.pin.side}")
    return where + Said(metric=f", {height.metric} up", inch=f", {height.inch} up") if height else where


def cause_words(g: Gathered, pin: EvidenceOut) -> str:
    """The confirmed cause with who and why; else what the evidence points to."""
    if pin.pin.kind == "nothing_found":
        return "looked at, nothing found"
    if pin.cause:
        over = "" if pin.cause in pin.first or not pin.proposals else f", over “{pin.proposals[0].name}”"
        reason = f": {pin.cause_reason}" if pin.cause_reason else ""
        return f"{g.mechanisms.get(pin.cause, pin.cause)}, confirmed by {pin.cause_by}{over}{reason}"
    if not pin.proposals:
        return "not explained yet"
    close = [one for one in pin.proposals if one.mechanism in pin.first]
    names = " or ".join(f"{one.name} ({one.share:.0%})" for one in close).replace("%", "\N{NO-BREAK SPACE}%")
    look = f"; next look: {pin.next_look.does}" if pin.next_look else ""
    return f"not explained yet; {'hard to tell apart: ' if len(close) > 1 else ''}{names}{look}"


def reading_words(pin: EvidenceOut) -> Said:
    r = pin.pin.readings
    parts: list[Said] = []
    for value, name in ((r.surface_c, "surface"), (r.air_c, "air")):
        if value is not None:
            shown_as = shown(value, "temperature")
            parts.append(Said(metric=f"{name} {shown_as.metric}", inch=f"{name} {shown_as.inch}"))
    for share, name in ((pin.surface_rh, "RH at the surface"), (r.air_rh, "RH of the air")):
        if share is not None:
            parts.append(said(f"{name} {share * 100:.0f} %"))
    if pin.wood is not None:
        parts.append(said(f"wood {pin.wood.percent:.1f} mass-%"))
    return Said(metric=", ".join(p.metric for p in parts), inch=", ".join(p.inch for p in parts))


def pins(g: Gathered) -> Listed:
    """Every sign that was seen, numbered as on the faces."""
    columns = [
        Column("No.", "count", wide=0.45), Column("Seen", wide=1.3), Column("Element", wide=1.3), Column("Place", wide=1.2),
        Column("It comes", wide=0.9), Column("Readings", wide=1.3), Column("Cause", wide=2.6), Column("Note", wide=1.8),
        Column("Seen on", wide=0.9), Column("Photos", "count", wide=0.6),
    ]  # fmt: skip
    rows: list[list[Value]] = [
        [
            number, g.kinds.get(pin.pin.kind, pin.pin.kind), g.names.get(pin.element_id or -1, ""), place_words(pin),
            pin.pin.comes.replace("_", " "), reading_words(pin), cause_words(g, pin), pin.pin.note, pin.pin.seen_on, len(pin.photos),
        ]
        for number, pin in g.pins
    ]  # fmt: skip
    return Listed("pins", "Pins", columns, rows, empty="No evidence was taken in.")


KIND_WORDS = {
    "blower_door": "blower door",
    "thermal": "U from temperatures",
    "moisture": "moisture meter",
    "uptake": "water uptake",
}


def measured_words(one: MeasurementOut) -> Said:
    """What a reading comes to, with its interval where it has one."""
    if one.refused:
        return said(f"refused: {one.refused}")
    if one.airtightness is not None and one.airtightness.n50 is not None:
        n50 = one.airtightness.n50
        return said(f"n50 {n50.value:.2f} 1/h ({n50.low:.2f} to {n50.high:.2f})")
    if one.estimated_u is not None:
        u = one.estimated_u
        low, high, value = (shown(x, "transmittance") for x in (u.low, u.high, u.u_w_m2k))
        return Said(
            metric=f"{value.metric} ({low.metric} to {high.metric})", inch=f"{value.inch} ({high.inch} to {low.inch})"
        )
    if one.corrected is not None:
        return said(f"{one.corrected.percent:.1f} mass-%")
    if one.measured is not None:
        return shown(one.measured.a_value_kg_m2s05, "uptake")
    return said("")


def readings(g: Gathered) -> Listed:
    """Measurements of the survey with what they come to."""
    columns = [Column("What", wide=1.2), Column("Element", wide=1.3), Column("Place", wide=1.3), Column("On", wide=0.9), Column("Result", wide=1.8), Column("Instrument", wide=1.2), Column("Note", wide=1.6)]  # fmt: skip
    rows: list[list[Value]] = [
        [
            KIND_WORDS[one.kind], g.names.get(one.element_id or -1, one.layer), one.place, one.measured_on, measured_words(one),
            one.instrument, one.note,
        ]
        for one in g.measurements.measurements
    ]  # fmt: skip
    return Listed("readings", "Readings", columns, rows, empty="Nothing was measured.")


def layer_known(option: OptionOut, at: int) -> str:
    layer = option.build_up.layers[at]
    return layer.known if layer.existing else "new"


def constructions(g: Gathered) -> Listed:
    """Every element as found and as chosen, layer by layer from outside; the volume is net of nothing but the area."""
    columns = [
        Column("Element", wide=1.4), Column("Build-up", wide=1.4), Column("No.", "count", wide=0.4), Column("Layer, from outside", wide=2),
        Column("Thickness", "thickness", wide=0.8), Column("Known", wide=0.8), Column("Framing", wide=1.2), Column("Area", "area", wide=0.7),
    ]  # fmt: skip
    rows: list[list[Value]] = []
    elements: list[int | None] = []
    for one in g.layered:
        chosen = one.chosen if one.row.in_line != "before" else None
        for option in (o for o in (one.found, chosen) if o is not None):
            area = one.row.area_m2 if option is one.found else one.row.area_built_m2
            for number, layer in enumerate(option.build_up.layers, 1):
                frame = ""
                if layer.framing is not None:
                    frame = f"{layer.framing.share * 100:.0f} % {entry_of(layer.framing.material).name}"
                rows.append([one.row.name, option.name, number, layer.entry.name, layer.thickness_mm, layer_known(option, number - 1), frame, area])  # fmt: skip
                elements.append(one.row.pk)
    return Listed(
        "constructions", "Constructions and areas", columns, rows, empty="No construction is stated.", elements=elements
    )


def verdict_words(option: OptionOut) -> Said:
    """The line of an option's strip: its verdict where the years belong to it, else how the run stands."""
    run = option.run
    if run.state == "current" and run.verdict is not None:
        return run.verdict.as_found_words if option.role == "as_found" else run.verdict.headline
    if option.figures.transient_refused:
        return said(option.figures.transient_refused)
    return said("years not run" if run.state == "not run" else f"years {run.state}")


def state_word(option: OptionOut) -> str:
    run = option.run
    if run.state != "current" or run.verdict is None or option.role == "as_found":
        return ""
    return run.verdict.state


def options(g: Gathered) -> Listed:
    """Every option with what ranks it."""
    columns = [
        Column("Element", wide=1.3), Column("Option", wide=1.6), Column("Chosen", wide=0.7), Column("U effective", "transmittance", wide=0.8),
        Column("Loss", "energyPerArea", wide=0.8), Column("Room lost", "thickness", wide=0.7), Column("Grows outside", "thickness", wide=0.7),
        Column("Dries inward", "smallWater", wide=0.8), Column("outward", "smallWater", wide=0.8), Column("Hourly years", wide=3),
    ]  # fmt: skip
    rows: list[list[Value]] = []
    elements: list[int | None] = []
    for one in g.layered:
        for option in one.sheet.options if one.sheet is not None else []:
            f = option.figures
            found = option.role == "as_found"
            rows.append([
                one.row.name, option.name, "chosen" if option.id == one.row.chosen_id else "",
                f.thermal.u_effective if f.thermal is not None else None, f.loss_kwh_m2a,
                None if found else f.room_lost_mm, None if found else f.growth_outside_mm,
                f.drying.inward.g_m2 if f.drying is not None else None, f.drying.outward.g_m2 if f.drying is not None else None,
                verdict_words(option),
            ])  # fmt: skip
            elements.append(one.row.pk)
    return Listed("options", "Options", columns, rows, empty="No option is drawn.", elements=elements)


def heat(g: Gathered) -> Listed:
    """Loss before and after, element by element; the total is of the known parts."""
    columns = [
        Column("Element", wide=1.8), Column("Area", "area", wide=0.8), Column("Area after", "area", wide=0.8), Column("b", wide=0.4), Column("b after", wide=0.4), Column("U before", "transmittance", wide=0.8),
        Column("U after", "transmittance", wide=0.8), Column("H before", "coefficient", sum=True, wide=0.8), Column("H after", "coefficient", sum=True, wide=0.8),
        Column("Loss before", "energy", sum=True, wide=0.9), Column("Loss after", "energy", sum=True, wide=0.9),
        Column("Design load before", "power", 2, sum=True, wide=0.9), Column("Design load after", "power", 2, sum=True, wide=0.9),
    ]  # fmt: skip
    if g.heat is None:
        return Listed("heat", "Heat before and after", columns, [], empty=g.project.climate_gone)
    rows: list[list[Value]] = [
        [r.name, r.area_m2, r.area_after_m2, _b(r.factor_b), _b(r.factor_after), r.u_before, r.u_after, r.before_w_k, r.after_w_k, r.before_kwh, r.after_kwh, r.before_w, r.after_w]
        for r in g.heat.rows
    ]  # fmt: skip
    total = "Building" if g.heat.complete else "Building, known parts only"
    note = "Loss, not need: sun, people and appliances are not taken off; joints are not in it."
    return Listed(
        "heat", "Heat before and after", columns, rows, total, note, elements=[r.element_id for r in g.heat.rows]
    )


def _b(value: float | None) -> str | None:
    return f"{value:.2g}" if value is not None else None


def _here(stands: str, value: float, when: str) -> float | None:
    """A figure of one line; nothing where it does not stand in that one."""
    return value if stands in ("both", when) else None


def _moved(stands: str, words: str) -> str:
    said_of = {"before": "; not in the line after the works", "after": "; new in the line"}
    return words + said_of.get(stands, "")


def leaks(g: Gathered) -> Listed:
    """The leak ledger: it adds up to the test as found, and to what is aimed at."""
    columns = [
        Column("Leak", wide=1.8), Column("Height", "length", 1, wide=0.7), Column("At 50 Pa", "flow", sum=True, wide=0.8), Column("after", "flow", sum=True, wide=0.8),
        Column("Drawn in", "flow", 1, sum=True, wide=0.8), Column("after", "flow", 1, sum=True, wide=0.8), Column("Going out", "flow", 1, sum=True, wide=0.8),
        Column("after", "flow", 1, sum=True, wide=0.8), Column("Taken from", wide=1.6),
    ]  # fmt: skip
    if g.air is None:
        return Listed("leaks", "Leak ledger", columns, [], empty=g.project.climate_gone)
    rows: list[list[Value]] = [
        [
            r.name,
            r.height_m,
            _here(r.stands, r.q50_before, "before"),
            _here(r.stands, r.q50_after, "after"),
            r.in_before,
            r.in_after,
            r.out_before,
            r.out_after,
            _moved(r.stands, r.words),
        ]
        for r in g.air.rows
    ]
    return Listed(
        "leaks",
        "Leak ledger",
        columns,
        rows,
        "The whole, as the test says",
        g.air.whence,
        empty=g.air.refused,
        elements=[r.element_id for r in g.air.rows],
    )


def rooms(g: Gathered) -> Listed:
    """Heat load and fresh air of each room; what no room names stands under them."""
    columns = [
        Column("Room", wide=1.6), Column("Floor", "area", sum=True, wide=0.7), Column("Heated to", "temperature", 1, wide=0.7),
        Column("Load before", "power", 2, sum=True, wide=0.8), Column("after", "power", 2, sum=True, wide=0.8), Column("Fresh air before", "flow", wide=0.8),
        Column("after", "flow", wide=0.7), Column("needed", "flow", wide=0.7), Column("Cooling, after", "power", 2, sum=True, wide=0.7),
        Column("Missing after the works", wide=2.2),
    ]  # fmt: skip
    made = g.rooms
    if made is None or made.before is None or made.after is None:
        empty = made.refused if made is not None else g.project.climate_gone
        return Listed("rooms", "Rooms", columns, [], empty=empty)
    stated = made.stated.rooms.rooms
    sides = [{load.id: load for load in side.loads.rooms} for side in (made.before, made.after)]
    rows: list[list[Value]] = []
    for room in stated:
        was, then = sides[0].get(room.id), sides[1].get(room.id)
        one = then or was
        assert one is not None
        rows.append([
            room.name, room.floor_m2, one.set_c, was.watts if was else None, then.watts if then else None,
            was.fresh_m3_h if was else None, then.fresh_m3_h if then else None, one.needed_m3_h or None, then.cooling_w if then else None,
            join([*(then.lacking if then else []), *(then.unknown if then else [])], "; "),
        ])  # fmt: skip
    rows += (
        [[left.words, None, None, None, left.watts, None, None, None, None, None] for left in made.after.left]
        if stated
        else []
    )
    note = "After EN 12831-1, as far as it is certain: no heat between rooms, no joints, no reheat, no margin."
    return Listed("rooms", "Rooms", columns, rows, "All rooms", note, "No room is stated.")


def balance(g: Gathered) -> Listed:
    """What the rooms gain and lose over a year by the hour; what is missing to nothing is the heat that has to be brought."""
    columns = [
        Column("Into the rooms", wide=2.2), Column("as found", "energy", sum=True), Column("after", "energy", sum=True),
    ]  # fmt: skip
    made = g.balance
    if made is None or made.before is None or made.after is None:
        return Listed(
            "balance",
            "Balance over a year",
            columns,
            [],
            empty=made.refused if made is not None else g.project.climate_gone,
        )
    names = list(dict.fromkeys((i.key or i.name, i.name) for one in (made.before, made.after) for i in one.items))
    sides = [{i.key or i.name: i.kwh for i in one.items} for one in (made.before, made.after)]
    rows: list[list[Value]] = [[name, sides[0].get(key), sides[1].get(key)] for key, name in names]
    rows.append(["heat that is brought", made.before.heating_kwh, made.after.heating_kwh])
    rows.append(["taken away by cooling", -made.before.cooling_kwh, -made.after.cooling_kwh])
    return Listed("balance", "Balance over a year", columns, rows, "Stored, or to and from cold spaces", made.method)


LISTS: dict[ListKey, Callable[[Gathered], Listed]] = {
    "water": water, "opening": opening, "pins": pins, "readings": readings, "constructions": constructions, "options": options, "heat": heat, "leaks": leaks, "rooms": rooms, "balance": balance,
}  # fmt: skip
assert set(LISTS) == set(get_args(ListKey))


def sums(one: Listed) -> list[float | None]:
    """The total of each column that has one, in metric units."""
    return [
        sum((float(value) for value in (row[at] for row in one.rows) if isinstance(value, (int, float))), 0.0)
        if column.sum
        else None
        for at, column in enumerate(one.columns)
    ]


def _plain(value: Value, system: System) -> str | float | date | None:
    if isinstance(value, Said):
        return value.inch if system == "inch" else value.metric
    return value


def _safe(text: str) -> str:
    """A cell that a spreadsheet would take as a formula begins with an apostrophe."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text


def as_csv(one: Listed, system: System) -> bytes:
    """UTF-8 with a mark, so that spreadsheets read it; figures with a point, not rounded to what tables show."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow([column.headed(system) for column in one.columns])
    for row in one.rows:
        cells = []
        for column, value in zip(one.columns, row, strict=True):
            plain = _plain(column.converted(value, system), system)
            if isinstance(plain, str):
                plain = _safe(plain)
            elif isinstance(plain, float):
                plain = float(f"{plain:.6g}")
            cells.append("" if plain is None else plain)
        writer.writerow(cells)
    return b"\xef\xbb\xbf" + out.getvalue().encode()


def as_xlsx(lists: list[Listed], system: System) -> bytes:
    """One sheet a list, its head fixed, figures as figures, totals as live formulas."""
    book = Workbook(write_only=True)
    for one in lists:
        page = book.create_sheet(one.name[:31])
        page.freeze_panes = "A2"
        for at, column in enumerate(one.columns, 1):
            page.column_dimensions[get_column_letter(at)].width = 9 + 9 * column.wide
        head = []
        for column in one.columns:
            cell = WriteOnlyCell(page, column.headed(system))
            cell.font, cell.border = Font(bold=True), Border(bottom=Side(style="thin"))
            cell.alignment = Alignment(wrap_text=True, vertical="top", horizontal="right" if column.figure else "left")
            head.append(cell)
        page.append(head)
        for row in one.rows:
            page.append([_cell(page, column, value, system) for column, value in zip(one.columns, row, strict=True)])
        if one.total and one.rows:
            last = len(one.rows) + 1
            foot = []
            for at, column in enumerate(one.columns, 1):
                letter = get_column_letter(at)
                text = one.total if at == 1 else f"=SUM({letter}2:{letter}{last})" if column.sum else None
                cell = WriteOnlyCell(page, text)
                cell.font, cell.border = Font(bold=True), Border(top=Side(style="thin"))
                if column.sum:
                    cell.number_format = _format(column, system)
                foot.append(cell)
            page.append(foot)
        if one.note:
            page.append([])
            page.append([one.note])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _format(column: Column, system: System) -> str:
    if column.quantity == "thickness":
        return "0.##"
    places = column.places(system)
    return "0" + ("." + "0" * places if places else "")


def _cell(page: object, column: Column, value: Value, system: System) -> WriteOnlyCell:
    plain = _plain(column.converted(value, system), system)
    cell = WriteOnlyCell(page, None)
    if isinstance(plain, str):
        cell.value = "".join(ch for ch in plain if ch >= " " or ch in "\n\t")
        cell.data_type = "s"  # never a formula
        cell.alignment = Alignment(wrap_text=True, vertical="top")
    else:
        cell.value = plain
        if isinstance(plain, (int, float)):
            cell.number_format = _format(column, system)
        cell.alignment = Alignment(vertical="top")
    return cell


def list_of(g: Gathered, key: ListKey) -> Listed:
    """One list. What cannot be read is said as the list's own words."""
    try:
        return LISTS[key](g)
    except CoreError as error:
        return Listed(key, key, [Column("")], [], empty=error.message)

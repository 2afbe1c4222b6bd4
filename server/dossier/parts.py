"""The parts of which reports are made. Words and figures come from the rooms that show them; here they are put in order."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress

import numpy as np

from core.climate.data import first_hour
from core.criteria.afterwards import afterwards
from core.errors import CoreError
from core.materials.library import Sheet as Foil
from core.materials.library import Solid
from core.say import Said, join, said, say, transmittance
from core.shown import bare, number, shown, unit_of
from server.dossier.gather import ElementPage, Gathered
from server.dossier.lists import (
    Listed,
    cause_words,
    layer_known,
    layer_thickness,
    measured_words,
    place_words,
    reading_words,
    state_word,
    sums,
    verdict_words,
)
from server.dossier.paper import charts
from server.dossier.paper.drawings import FacePin, Lens, StripRow, face, section, strips
from server.dossier.paper.page import STATES, Column, Paper, Words
from server.options.schemas import OptionOut
from server.runs.batch_api import batch_out
from server.runs.models import Batch, Run
from server.runs.schemas import TestWords
from server.runs.years import edges_of, field_of, read_years
from server.survey.models import photos_of
from server.survey.photos import file_name

CAUTION = (
    "It computes, it does not certify. Local code, listing and consent rule over every figure here; structure, flues, gas and "
    "electricity belong to those who are licensed for them."
)
EFFECTIVE = Said(metric="U effective", inch="R effective")
ENDS = {"roof": ("ABOVE", "BELOW"), "floor": ("BELOW", "ABOVE")}
LENS_WORDS: dict[Lens, str] = {
    "heat": "Heat: arrows as wide as the loss; outline as found, solid with what is chosen.",
    "damp": "the darker, the wetter in the wettest month at the worst point; white was not run.",
    "layers": "Control layers: rain (line), air (dashes), vapour (dots), heat (dash and dot); numbers in black are breaks.",
}


def caution(p: Paper, g: Gathered) -> None:
    """What stands under every report."""
    p.p(CAUTION, "small")
    p.p(f"Climate: {g.climate_words}. Indoor air: {g.indoor_words}.", "small")


def listing(p: Paper, one: Listed, only: Sequence[str] | None = None) -> None:
    """A list as a table of the report, with its sums; only: heads of the columns that are shown."""
    keep = [at for at, column in enumerate(one.columns) if only is None or column.head in only]
    columns = []
    for at in keep:
        column = one.columns[at]
        columns.append(Column(column.heads, column.wide, column.figure))
    rows: list[list[Words]] = [[one.columns[at].words(row[at]) for at in keep] for row in one.rows]
    if not rows:
        p.p(one.empty, "small")
        return
    count = 0
    if one.total:
        totals = sums(one)
        foot: list[Words] = []
        for at in keep:
            total = totals[at]
            foot.append(one.total if at == keep[0] else one.columns[at].words(total) if total is not None else "")
        rows.append(foot)
        count = 1
    p.table(columns, rows, count)
    if one.note:
        p.p(one.note, "small")


# --- the house ------------------------------------------------------------------------------------


def house_facts(p: Paper, g: Gathered) -> None:
    project, brief = g.project, g.brief.brief
    air = f"{project.air_kind} {project.air_value:g} 1/h" if project.air_value is not None else "not stated"
    p.pairs(
        [
            ("Built", str(brief.built_year) if brief.built_year else "not stated"),
            *g.sizes,
            ("Elements", f"{len(g.elements)}, of them {len(g.layered)} with layers"),
            ("Air changes", air),
            ("Climate", g.climate_words),
            ("Indoor air", join([g.indoor_words, shown(project.set_point_c, "temperature", 0)], ", ")),
        ]
    )


def house_section(
    p: Paper, g: Gathered, lens: Lens, high: float = 230.0, table: bool = True, as_found: bool = False
) -> None:
    """The section with one lens and, under it, what each number is. as_found: damp of what is there, whatever is chosen."""
    house = g.house
    if not house.bands:
        p.p(house.refused or "No shape is drawn; the elements stand in the lists.", "small")
        return
    worst = {one.element_id: (one.wet, one.worst or one.as_found) for one in house.elements}
    if as_found:
        worst = {one.row.pk: found_damp(one) for one in g.layered}
    wet = {pk: value for pk, (value, _) in worst.items()}
    drawing = section(house, lens, g.numbers, wet, p.width, p.words, high)
    words = LENS_WORDS[lens]
    if lens == "damp":
        words = f"{'As found' if as_found else 'With what is chosen, elsewhere as found'}: {words}"
    p.figure(drawing, f"Section through the house, {lens}", words)
    if not table:
        return
    if lens == "heat":
        rows: list[list[Words]] = []
        for one in g.elements:
            row = g.heat_rows.get(one.row.pk)
            if row is not None:
                figures = [bare(row.before_w_k, "coefficient"), bare(row.after_w_k, "coefficient")]
                rows.append([str(g.numbers[one.row.pk]), one.row.name, *figures])
        unit = unit_of("coefficient")
        head = join(["before", unit], ", ")
        p.table([Column("No.", 0.4), Column("Element", 3), Column(head, 1, True), Column("after", 1, True)], rows)
    elif lens == "damp":
        rows = []
        for each in house.elements:
            if each.kind in ("window", "door"):
                continue
            value, where = worst.get(each.element_id, (None, ""))
            shown_wet = "–" if value is None else f"{min(value, 1.0) * 100:.0f} %"
            number_ = str(g.numbers[each.element_id])
            rows.append([number_, each.name, shown_wet, where, each.readiness.state])
        columns = [Column("No.", 0.4), Column("Element", 2), Column("RH", 0.6, True), Column("Worst point, month", 3)]
        p.table([*columns, Column("Ready", 1)], rows)
    else:
        breaks: dict[int, list[Words]] = {}
        for one_break in house.breaks:
            line = breaks.setdefault(one_break.number, [str(one_break.number), one_break.joint, said("")])
            line[2] = join([line[2], said(f"{one_break.line}: ") + one_break.words], "; ")
        p.table([Column("No.", 0.4), Column("Joint", 1), Column("What stops", 4)], list(breaks.values()))


def found_damp(one: ElementPage) -> tuple[float | None, str]:
    """RH of the wettest month at the worst point as found, and where and when; without current years why there is none."""
    found = one.found
    if found is None or not found.build_up.layers:
        return None, "construction not stated"
    verdict_ = found.run.verdict if found.run.state == "current" else None
    if verdict_ is None:
        return None, f"years {found.run.state}"
    point = verdict_.worst_point
    return point.worst_month_rh, f"{point.name}, {point.worst_month}; {verdict_.as_found_words.metric}"


def legend(p: Paper, g: Gathered) -> None:
    """What the numbers in the section are, in a line."""
    cut = {band.element_id for band in g.house.bands}
    p.p("; ".join(f"{g.numbers[one.row.pk]} {one.row.name}" for one in g.elements if one.row.pk in cut), "small")


# --- brief, survey ---------------------------------------------------------------------------------


def brief(p: Paper, g: Gathered) -> None:
    b = g.brief.brief
    lived = {None: "not asked yet", True: "lived in during the works", False: "empty during the works"}[
        b.lived_in_during_works
    ]
    budget = f"{b.budget:g} {b.currency}".strip() if b.budget is not None else ""
    place: Words = b.place
    if b.altitude_m is not None:
        place = join([b.place, join([shown(b.altitude_m, "length", 0), "above the sea"])], ", ")
    rows = [
        ("Aims", b.aims), ("Place", place), ("People and use", " ".join(x for x in (f"{b.people} people." if b.people else "", b.use) if x)),
        ("Budget", budget), ("During the works", lived), ("Flues and appliances", b.appliances), ("Fans", b.fans), ("Bills", b.bills),
        ("Habits", b.habits),
    ]  # fmt: skip
    p.pairs([(name, value) for name, value in rows if value])
    if b.limits:
        p.heading("What may not change", 3)
        p.items(g.brief.affected or [said("limits are stated, no element is concerned")])
    targets = b.targets
    parts: list[Words] = [join([kind, shown(u, "transmittance")]) for kind, u in targets.u_w_m2k.items()]
    if targets.n50_1_h:
        parts.append(f"n50 {targets.n50_1_h:g} 1/h")
    if targets.heat_kwh_m2a:
        parts.append(join(["heat", shown(targets.heat_kwh_m2a, "energyPerArea")]))
    if parts:
        p.heading(f"Targets: {targets.name}", 3)
        p.p(join(parts, ", "))
    roles(p, g)


def roles(p: Paper, g: Gathered) -> None:
    rows: list[list[Words]] = [[r.role, r.name or "not named", r.answers_for] for r in g.brief.brief.roles]
    if rows:
        p.heading("Who answers for what", 3)
        p.table([Column("Role", 1), Column("Name", 1.4), Column("Answers for", 3)], rows)


def exposure(p: Paper, g: Gathered) -> None:
    rows: list[list[Words]] = []
    for one in g.rain:
        how = "by steps" if one.rain is not None else f"by word: {one.exposure}"
        driven = shown(one.driven_rain_mm, "rain")
        rows.append([one.name, one.facing, how, number(one.product, 2), driven, "rain face" if one.rain_face else ""])
    columns = [
        Column("Wall", 2),
        Column("Faces", 0.6),
        Column("How", 1.2),
        Column("Factors", 0.8, True),
        Column("Driven rain a year", 1.2, True),
        Column("", 0.8),
    ]
    p.table(columns, rows)


def shape(p: Paper, g: Gathered) -> None:
    for words in g.shape.arithmetic:
        p.p(words, "small")
    rows: list[list[Words]] = [
        [d.element.name, bare(d.element.gross_area_m2, "area"), bare(d.net_area_m2, "area"), d.element.arithmetic]
        for d in g.shape.derived
    ]
    gross = join(["Gross", unit_of("area")], ", ")
    p.table([Column("Element", 1.6), Column(gross, 0.7, True), Column("Net", 0.6, True), Column("How", 3)], rows)
    if g.shape.disagreements:
        p.p("Typed by hand and kept against the shape:", "small")
        p.items([f"{d.name}: {d.field.replace('_', ' ')} {d.by_hand:g}, the shape says {d.shape_says:g}" for d in g.shape.disagreements])  # fmt: skip


# --- evidence --------------------------------------------------------------------------------------


def faces(p: Paper, g: Gathered, bare_ones: bool = False) -> None:
    """Every face with its pins; bare_ones: those without pins too."""
    names = {body.id: body.name for body in g.shape.shape.bodies}
    for elevation in g.shape.elevations:
        placed = [
            FacePin(number_, pin.pin.place.x_m, pin.pin.place.y_m, bool(pin.cause))
            for number_, pin in g.pins
            if pin.pin.place.view == "elevation"
            and (pin.pin.place.body, pin.pin.place.face) == (elevation.body, elevation.face)
        ]
        if not placed and not bare_ones:
            continue
        words = f"Face {elevation.face} of {names.get(elevation.body, elevation.body)} from outside"
        count = f"{len(placed)} {'pin' if len(placed) == 1 else 'pins'}" if placed else "no pins"
        p.figure(
            face(elevation, placed, p.width, p.words),
            f"{words}, {count}",
            f"{words}; {count}. Black: its cause is confirmed.",
        )


def pin_pages(p: Paper, g: Gathered, pictures: bool = True) -> None:
    """Each sign with where, when, readings, cause, and its photos."""
    for number_, pin in g.pins:
        name = g.kinds.get(pin.pin.kind, pin.pin.kind)
        element = g.names.get(pin.element_id or -1, "")
        p.heading(f"{number_}  {name[:1].upper()}{name[1:]}{', ' + element if element else ''}", 3)
        facts: list[Words] = [place_words(pin)]
        if pin.pin.comes != "not_known":
            facts.append(f"comes {pin.pin.comes.replace('_', ' ')}")
        if pin.pin.seen_on:
            facts.append(f"seen on {pin.pin.seen_on:%d %b %Y}".replace(" 0", " "))
        if pin.pin.size_m2:
            facts.append(shown(pin.pin.size_m2, "area"))
        p.p(join(facts, "; ") + ".")
        read = reading_words(pin)
        if read:
            p.p(said("Readings: ") + read + ".")
        cause = cause_words(g, pin)
        p.p(f"{cause[:1].upper()}{cause[1:]}.", bold="Cause:" if pin.cause else "")
        if pin.pin.note:
            p.p(pin.pin.note, "small")
        if pictures:
            folder = photos_of(g.project.pk)
            p.photos(
                [(folder / file_name(uid, True), g.captions.get(uid, "")) for uid in pin.photos if uid in g.captions]
            )


def causes(g: Gathered) -> list[Words]:
    """Confirmed causes, each once with where it is at work; then how much is not explained."""
    by_cause: dict[str, list[str]] = {}
    for _, pin in g.pins:
        if pin.cause:
            by_cause.setdefault(pin.cause, []).append(g.names.get(pin.element_id or -1, "no element"))
    found: list[Words] = []
    for cause, where in by_cause.items():
        name = g.mechanisms.get(cause, cause)
        places = list(dict.fromkeys(where))
        found.append(f"{name[:1].upper()}{name[1:]}: {', '.join(places)}")
    signs = [pin for _, pin in g.pins if pin.pin.kind != "nothing_found"]
    open_ones = sum(not pin.cause for pin in signs)
    if open_ones:
        found.append(f"{open_ones} of {len(signs)} signs {'is' if open_ones == 1 else 'are'} not explained yet")
    return found


def readings(p: Paper, g: Gathered) -> None:
    for one in g.measurements.measurements:
        words = measured_words(one)
        checks = (
            [check.words for check in one.airtightness.checks if not check.met] if one.airtightness is not None else []
        )
        if checks:
            p.p(join([g.names.get(one.element_id or -1, "Blower door") + ":", words, *checks], " "), "small")


# --- elements and options --------------------------------------------------------------------------


def layers(p: Paper, option: OptionOut, numbers: bool = True) -> None:
    """The layers of a build-up from outside, with how each is known."""
    rows: list[list[Words]] = []
    for at, layer in enumerate(option.build_up.layers):
        entry = layer.entry
        thick: Words = layer_thickness(layer.thickness_mm)
        value: Words = shown(entry.conductivity_w_mk, "conductivity") if isinstance(entry, Solid) else "–"
        sd: Words = shown(entry.sd_most_open, "sd") if isinstance(entry, Foil) else "–"
        more = []
        if layer.framing is not None:
            more.append(f"framing {layer.framing.share * 100:.0f} %")
        if layer.air_barrier:
            more.append("declared air barrier")
        if layer.metal is not None:
            more.append(f"metal at its inner face: {layer.metal}")
        rows.append(
            [str(at + 1) if numbers else "", entry.name, thick, value, sd, layer_known(option, at), ", ".join(more)]
        )
    columns = [
        Column("No.", 0.4), Column("Layer, from outside", 2.4), Column("Thickness", 0.9, True), Column("λ", 1, True),
        Column("sd, from", 0.8, True), Column("Known", 0.8), Column("", 1.6),
    ]  # fmt: skip
    p.table(columns, rows)


def strip_figure(p: Paper, one: ElementPage, shown_options: Sequence[OptionOut], numbers: bool = True) -> None:
    sheet = one.sheet
    rows = [StripRow(o.name, o.build_up, numbers) for o in shown_options if o.build_up.layers]
    if sheet is None or not rows:
        return
    limits = (sheet.limits.room_mm, sheet.limits.outside_mm)
    drawing = strips(
        rows, sheet.datum_layer_id, p.width, p.words, ENDS.get(one.row.kind, ("OUTSIDE", "INSIDE")), limits
    )
    names = " and ".join(row.name for row in rows)
    p.figure(
        drawing,
        f"{one.row.name}: {names}, in section to scale",
        "Dotted: the datum. Dashed: a limit. Membranes and coats are not to scale.",
    )


def verdict(p: Paper, option: OptionOut) -> None:
    """The word with its sign, the sentence, what drives it, what lies behind."""
    state = state_word(option)
    sign, _ = STATES.get(state, ("", None))
    words = verdict_words(option)
    p.p(join([said(sign), words], "  ") if sign else words.capitalised(), "verdict")
    current = option.run.verdict if option.run.state == "current" else None
    if current is None:
        return
    if current.driver:
        p.p(current.driver)
    if current.drying_in:
        p.p(current.drying_in)
    p.items([judgement.sentence for judgement in current.judgements[:6]])
    p.items(current.notes, "item")


def figures_of(p: Paper, option: OptionOut) -> list[tuple[str, Words]]:
    """Steady figures of an option as pairs."""
    f = option.figures
    rows: list[tuple[str, Words]] = []
    if f.thermal is not None:
        rows.append((p.words(EFFECTIVE), shown(f.thermal.u_effective, "transmittance")))
        if f.thermal.corrections:
            rows.append(
                (
                    "Corrections in it",
                    ", ".join(c.cause for c in f.thermal.corrections),
                )
            )
    elif f.refused:
        rows.append((p.words(EFFECTIVE), f"refused: {f.refused}"))
    if f.outward is not None:
        told = say("{u}: {how}", u=transmittance(f.outward.u_w_m2k), how=f.outward.words)
        rows.append(("To the outside air", p.words(told)))
    rows.append(("Loss in a year", shown(f.loss_kwh_m2a, "energyPerArea")))
    if option.role != "as_found":
        rows.append(
            (
                "Room lost, growth outside",
                join([shown(f.room_lost_mm, "thickness"), shown(f.growth_outside_mm, "thickness")], ", "),
            )
        )
    if f.drying is not None:
        sides = []
        for name, side in (("inward", f.drying.inward), ("outward", f.drying.outward)):
            liquid = ", vapour only" if side.liquid else ""
            sides.append(join([name, shown(side.g_m2, "smallWater"), f"to {side.to}{liquid}"]))
        rows.append(("Drying ability", join(sides, "; ")))
        if option.role != "as_found":
            left = f.drying_left
            rows.append(("Drying left", f"{left.share * 100:.{1 if left.share < 0.1 else 0}f} %" if left.share is not None else f"no figure: {left.why_not}"))  # fmt: skip
    rows.append(("Wetting test", wetting_words(option.tests)))
    rows.append(
        (
            "Bad year",
            f"{option.tests.bad_year}{', out of date' if option.tests.stale else ''}"
            if option.tests.bad_year
            else "not run",
        )
    )
    if option.tests.study_runs:
        rows.append(
            (
                "Study",
                f"{option.tests.study_over} of {option.tests.study_runs} draws over a limit{', out of date' if option.tests.stale else ''}",
            )
        )
    if f.over_limits:
        rows.append(("Limits passed", join(f.over_limits)))
    return rows


def wetting_words(tests: TestWords) -> str:
    w = tests.wetting
    if w is None:
        return "not run"
    stale = ", out of date" if w.stale else ""
    return f"mean stay {w.mean_stay_days:.0f} days, {round(w.left_g / 10)} % left after a year{stale}"


def conditions(one: ElementPage) -> Said:
    """Under what the element is computed, in one line."""
    sheet = one.sheet
    if sheet is None:
        return said(one.refused)
    c = sheet.conditions
    parts: list[Words] = [f"{c.climate_label}, {c.climate_origin}"]
    if one.row.kind == "wall" and one.row.adjoining == "outside":
        strip = "" if c.strip == "whole" else f", {c.strip} third"
        rain = shown(c.driven_rain_mm, "rain")
        face_words = ", a rain face" if c.rain_face else ""
        parts.append(join([f"faces {c.facing}, {c.exposure}{strip},", rain, f"driven rain{face_words}"]))
    elif one.row.adjoining != "outside":
        parts.append(f"adjoins {one.row.adjoining}, b {one.row.factor_b:g}")
    parts += [c.occupancy, shown(c.set_point_c, "temperature", 0)]
    if c.target_u_w_m2k:
        parts.append(join(["target", shown(c.target_u_w_m2k, "transmittance")]))
    return join(parts, " · ")


def year(p: Paper, one: ElementPage) -> None:
    """The last year of as found and of the chosen option: the field over depth, and RH at the worst point. Nothing where not run."""
    drawn = []
    for option in (o for o in (one.found, one.chosen) if o is not None):
        if option.run.run_id is None or option.run.state != "current":
            continue
        run = Run.objects.filter(pk=option.run.run_id).first()
        if run is None or not run.arrays_there:
            continue
        with suppress(TypeError, KeyError, ValueError, EOFError, OSError, CoreError):  # damaged: its own page says so
            outcome, model = read_years(str(run.folder), run.pk)
            drawn.append((option, outcome, model))
    lines = []
    for option, outcome, model in drawn:
        hours = len(outcome.z)
        last = max(0, hours - outcome.records_per_pass)
        records = np.unique(np.linspace(last, hours - 1, 365).astype(int))
        edges = [(edge.name, edge.from_mm, edge.to_mm) for edge in edges_of(outcome, model)]
        start = float(first_hour(outcome.case.time.start))
        picture = charts.field(field_of(outcome, records), edges, float(outcome.depth[-1] * 1000.0), start, p.width)
        p.figure(
            picture,
            f"Relative humidity in {option.name} over depth and one year",
            f"{option.name}: the settled year, outside above; the darker, the wetter.",
        )
        verdict_ = option.run.verdict
        if verdict_ is not None:
            node = outcome.planes.get(verdict_.worst_point.name)
            if node is not None:
                hourly = np.minimum(outcome.rh(node, slice(last, None)), 1.0) * 100.0
                values = hourly[: len(hourly) // 24 * 24].reshape(-1, 24).mean(axis=1)
                lines.append(
                    (
                        charts.Series(
                            f"{option.name}: {verdict_.worst_point.name}",
                            np.arange(12.0, 24.0 * len(values), 24.0),
                            values,
                            option.role == "as_found",
                        ),
                        start,
                    )
                )
    if lines:
        chart = charts.lines([one_line for one_line, _ in lines], p.width, "RH, %", most=100.0, months_from=lines[0][1])
        p.figure(
            chart,
            "Relative humidity at the worst point over the settled year",
            "Daily means at the worst point; dashed: as found.",
        )


def tests(p: Paper, one: ElementPage) -> None:
    """The wetting test as curves, a study in its words."""
    batch = one.row.batches.filter(kind=Batch.WETTING).first()
    if batch is None:
        return
    series = []
    for run in batch.runs.filter(status=Run.DONE).order_by("pk"):
        left = (run.result or {}).get("e") or []
        if left:
            values = np.array(left, float) * 100.0
            series.append(
                charts.Series(
                    run.label, np.arange(0.0, 24.0 * len(values), 24.0), values, run.of_option.role == "as_found"
                )
            )
    if series:
        stale = " Out of date." if batch.out_of_date else ""
        chart = charts.lines(series[:4], p.width, "left, %", least=0.0)
        p.figure(
            chart,
            "Wetting test: share of the water that is left by the day",
            f"Wetting test, 1 kg/m² put in: what is left over a year.{stale}",
        )


def studies(p: Paper, one: ElementPage) -> None:
    """The newest study of each option: all its draws, what they say together, what moves them."""
    seen: set[int | None] = set()
    for batch in one.row.batches.filter(kind=Batch.STUDY).select_related("option", "element__project"):
        if batch.option_id in seen:
            continue
        seen.add(batch.option_id)
        out = batch_out(batch)
        if out.study is None:
            continue
        draws = [
            (np.array(run.brief.answer.daily_rh, float), run.brief.state == "over a limit")
            for run in out.runs
            if run.brief is not None and run.brief.answer.daily_rh
        ]
        stale = " Out of date." if out.out_of_date else ""
        p.heading(f"Study of {out.option_name}", 3, room_mm=70)
        p.p(out.study.words + stale)
        if out.study.conditions:
            p.items([one.words.capitalised() for one in out.study.conditions])
        if draws:
            plane = out.runs[0].brief.answer.plane if out.runs[0].brief is not None else "the plane"
            p.figure(
                charts.bundle(draws, p.width, "RH, %"),
                f"Relative humidity of {len(draws)} draws at {plane}",
                f"{len(draws)} draws at {plane}, the last year of each.",
            )
        moved = [f"{each.name} {number(each.correlation, 2)}" for each in out.study.influences]
        if moved:
            p.p(f"Rank correlation with how near a draw comes to its limit: {', '.join(moved)}.", "small")


def not_judged(g: Gathered) -> list[Words]:
    """What no verdict covers, each once."""
    found: dict[str, Said] = {}
    for one in g.layered:
        for option in (o for o in (one.found, one.chosen) if o is not None):
            if option.run.state == "current" and option.run.verdict is not None:
                for words in option.run.verdict.not_judged:
                    found.setdefault(words.metric, words)
    return list(found.values())


def after_works(g: Gathered) -> list[tuple[Said, list[str]]]:
    """What the chosen build-ups must not meet, each sentence once with the elements it holds for."""
    found: dict[str, tuple[Said, list[str]]] = {}
    for one in g.built:
        chosen = one.chosen
        if chosen is None:
            continue
        for words in afterwards(chosen.build_up, one.row.place, chosen.figures.drying):
            found.setdefault(words.metric, (words, []))[1].append(one.row.name)
    return list(found.values())


def materials(p: Paper, g: Gathered) -> None:
    """Every material that is drawn, with its values and where they come from."""
    entries = {}
    for one in g.layered:
        for option in one.sheet.options if one.sheet is not None else []:
            for layer in option.build_up.layers:
                entries[layer.material] = layer.entry
    rows: list[list[Words]] = []
    for entry in sorted(entries.values(), key=lambda e: (e.group, e.name)):
        sources = "; ".join(dict.fromkeys(entry.sources.values()))
        if isinstance(entry, Solid):
            values: Words = join([shown(entry.conductivity_w_mk, "conductivity"), f"{entry.density_kg_m3:g} kg/m³, μ {entry.mu:g}", "A " + number((entry.a_value_kg_m2s05 or 0.0) * 60, 1) + " kg/(m²√h)" if entry.a_value_kg_m2s05 else ""], ", ")  # fmt: skip
        elif isinstance(entry, Foil):
            values = join(["sd from", shown(entry.sd_most_open, "sd")])
        else:
            values = "air layer"
        rows.append([entry.name, values, sources, entry.note])
    p.table([Column("Material", 1.4), Column("Values", 1.8), Column("Sources", 2), Column("Note", 1.6)], rows)

"""The reports for those who build: the heating designer and the builder."""

from __future__ import annotations

from core.materials.library import Sheet as Foil
from core.materials.library import entry_of
from core.readiness.reason import MAY_BE_COVERED
from core.say import Said, join, percent, said
from core.shown import number, shown
from server.dossier import lists, parts
from server.dossier.asked import Asked, opening, since
from server.dossier.gather import ElementPage, Gathered
from server.dossier.paper.page import Column, Paper, Words


def heating(p: Paper, g: Gathered, asked: Asked) -> None:
    opening(p, g, asked)
    parts.roles(p, g)
    p.heading("Design conditions", 2)
    heat = g.heat
    if heat is None:
        p.p(g.project.climate_gone)
        return
    p.pairs(
        [
            ("Climate", f"{heat.climate_label}, {heat.climate_origin}"),
            ("Outside, coldest 24-hour mean", shown(heat.design_c, "temperature")),
            ("Inside, set point", shown(heat.set_point_c, "temperature", 0)),
            ("Degree hours", shown(heat.degree_hours_kh, "degreeHours")),
            *g.sizes,
        ]
    )
    p.heading("Element by element", 2)
    parts.listing(
        p,
        lists.heat(g),
        (
            "Element",
            "Area",
            "b",
            "U before",
            "U after",
            "H before",
            "H after",
            "Design load before",
            "Design load after",
        ),
    )
    parts.house_section(p, g, "heat", 210.0, table=False)
    _rooms(p, g)
    _need(p, g)
    _which(p, g)
    p.heading("What each figure is", 2)
    notes: list[list[Words]] = [[row.name, row.note] for row in heat.rows if row.note]
    p.table([Column("Element", 1.4), Column("After the works", 4)], notes)
    p.heading("The arithmetic", 2)
    p.items(heat.arithmetic)
    p.heading("What is not known", 2)
    words: list[Words] = [*heat.missing]
    words += [f"{one.element}: {one.layer}, {one.because}" for one in g.made.opening_up[:12]]
    words += [
        "junctions are not in it",
        "no reheat, no margin, no hot water",
        "heat between rooms of different temperature"
        if g.project.current_rooms.rooms
        else "one heated zone: no rooms are stated",
    ]
    p.items(words)
    b = g.brief.brief
    rows = [
        (name, value)
        for name, value in (
            ("Flues and appliances", b.appliances),
            ("Fans", b.fans),
            ("Bills", b.bills),
            ("Habits", b.habits),
        )
        if value
    ]
    if rows:
        p.heading("From the brief", 2)
        p.pairs(rows)
    since(p, g, asked)
    parts.caution(p, g)


def _rooms(p: Paper, g: Gathered) -> None:
    """Rooms one by one, where somebody stated them."""
    if not g.project.current_rooms.rooms or g.rooms is None or g.rooms.after is None:
        return
    p.heading("Room by room", 2)
    p.p(join(["Outside ", shown(g.rooms.after.loads.design_c, "temperature"), "."], ""), "small")
    parts.listing(p, lists.rooms(g))
    unknown = {words.metric: words for load in g.rooms.after.loads.rooms for words in load.unknown}
    if unknown:
        p.items(list(unknown.values()))


def _which(p: Paper, g: Gathered) -> None:
    """Peaks and yearly figures beside each other, the one to size by first named."""
    if not g.which:
        return
    p.heading("Which figure is which", 2)
    rows: list[list[Words]] = []
    for one in g.which:
        figures = [
            shown(value, "power", 1) if one.kind == "peak" else shown(value, "energy")
            for value in (one.before, one.after)
        ]
        rows.append([one.name + (", to size by" if one.sizes else ""), *figures, one.why])
    p.table([Column("", 1.3), Column("as found", 0.9), Column("after", 0.9), Column("What it is", 3.6)], rows)


def _need(p: Paper, g: Gathered) -> None:
    """Need and peak of the hourly year, the air behind them, and what to look at before any sealing."""
    made = g.balance
    if made is None or made.before is None or made.after is None:
        return
    p.heading("Need and peak, by the hour", 2)
    both = made.before, made.after
    p.table(
        [Column("", 2), Column("as found", 1.4), Column("after", 1.4)],
        [
            ["Heat needed in a year", *(shown(one.heating_kwh, "energy") for one in both)],
            ["Most heat at once", *(shown(one.heating_peak_w, "power", 1) for one in both)],
            ["on", *(one.peak_day for one in both)],
            ["Cooling in a year", *(shown(one.cooling_kwh, "energy") for one in both)],
            ["Most cooling at once", *(shown(one.cooling_peak_w, "power", 1) for one in both)],
            ["Fresh air, heating season", *(shown(one.fresh_m3_h, "flow") for one in both)],
            ["needed for the people", *(shown(one.needed_m3_h, "flow") for one in both)],
            ["Rooms, mean RH of the coldest month", *(percent(one.coldest_rh) for one in both)],
        ],
    )
    p.p(made.method, "small")
    if made.warnings:
        p.heading("Before any sealing", 2)
        p.items(made.warnings)
    if g.air is not None and g.air.rows:
        p.heading("Leaks", 2)
        parts.listing(p, lists.leaks(g))


def builder(p: Paper, g: Gathered, asked: Asked) -> None:
    opening(p, g, asked)
    p.p("Read together with drawings and specification; figures here are net, without waste, laps or fixings.", "lead")
    p.heading("Before anything is covered", 1)
    open_ones = lists.water(g)
    parts.listing(p, open_ones, ("Stage", "What", "Shown by", "Elements", "Who", "State"))
    if g.made.opening_up:
        p.heading("To be opened first", 2)
        parts.listing(p, lists.opening(g))
    p.heading("What is built", 1)
    nothing = True
    for one in g.built:
        if one.chosen is None or one.found is None:
            continue
        nothing = False
        _built(p, g, one)
    if nothing:
        p.p("Nothing is chosen yet.")
    if g.left_out:
        names = ", ".join(one.row.name for one in g.left_out)
        p.p(f"Not round the heated rooms any more; nothing is built there: {names}.", "small")
    after = parts.after_works(g)
    if after:
        p.heading("What it must not meet", 1)
        p.items([words for words, _ in after])
    since(p, g, asked)
    parts.caution(p, g)


def _built(p: Paper, g: Gathered, one: ElementPage) -> None:
    """One element to be built: drawn to scale, every layer with area and net quantity, what is shown before it is covered."""
    chosen, found = one.chosen, one.found
    assert chosen is not None and found is not None
    p.heading(f"{g.numbers[one.row.pk]}  {one.row.name}: {chosen.name}", 2, room_mm=85)
    state = next((each for each in g.water.elements if each.element_id == one.row.pk), None)
    if state is not None and state.state not in MAY_BE_COVERED:
        p.p(f"Not ready to be covered: {'; '.join(state.reasons) or state.state}.", bold="Stop.")
    elif state is not None and state.state != "ready":
        p.p(f"{state.state}: {state.override_reason}", bold="Take note:")
    for limit in one.sheet.limits_said if one.sheet is not None else []:
        p.p(limit.words, "small")
    parts.strip_figure(p, one, [chosen])
    rows: list[list[Words]] = []
    for at, layer in enumerate(chosen.build_up.layers):
        framed = layer.framing.share if layer.framing is not None else 0.0
        area = one.row.area_built_m2 * (1.0 - framed)
        quantity: Words = shown(area, "area")
        if not isinstance(layer.entry, Foil) and layer.thickness_mm:
            volume = area * layer.thickness
            quantity = Said(
                metric=f"{shown(area, 'area').metric}, {number(volume, 2)} m³",
                inch=f"{shown(area, 'area').inch}, {number(volume * 35.31467, 0)} ft³",
            )
        stays = layer.existing
        more = []
        if layer.framing is not None:
            more.append(f"framing {framed * 100:.0f} %: {entry_of(layer.framing.material).name}")
        if layer.air_barrier:
            more.append("air barrier: joints and edges sealed, tested before it is covered")
        rows.append([
            str(at + 1), layer.entry.name, lists.layer_thickness(layer.thickness_mm),
            "stays" if stays else "new", "–" if stays else quantity, "; ".join(more),
        ])  # fmt: skip
    p.table(
        [
            Column("No.", 0.4),
            Column("Layer, from outside", 2),
            Column("Thickness", 0.8, True),
            Column("", 0.5),
            Column("Net quantity", 1.3, True),
            Column("", 2),
        ],
        rows,
    )
    taken = [
        layer.entry.name for layer in found.build_up.layers if layer.id not in {x.id for x in chosen.build_up.layers}
    ]
    if taken:
        p.p(f"Taken off: {', '.join(taken)}.")
    p.p(lists.verdict_words(chosen), bold="Moisture:")
    shows = [item for item in g.water.items if one.row.pk in item.elements and item.state == "open"]
    if shows:
        p.p("Shown before it is covered:", "small")
        p.items(
            [
                item.title_said + (join([said(": "), item.shown_by_said], "") if item.shown_by_said else said(""))
                for item in shows
            ]
        )

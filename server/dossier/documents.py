"""The five reports, each for its reader: what stands in it, in which order."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import IO, Literal, get_args

from core.criteria.registry import CRITERIA, LEFT_OUT
from core.criteria.run_findings import FOUND_WITH
from core.materials.library import Sheet as Foil
from core.materials.library import entry_of
from core.say import Said, join, percent, said, say
from core.shown import bare, number, shown, unit_of
from server.dossier import lists, parts
from server.dossier.gather import PROGRAM, ElementPage, Gathered
from server.dossier.paper.page import Column, Paper, Sheet, System, Words

Kind = Literal["client", "whole", "condition", "heating", "builder"]
GLOSSARY = (
    ("As found", "before any work."),
    ("U effective", "heat through a square metre for each degree, framing counted (ISO 6946); R is its inverse."),
    (
        "Loss",
        "heat that leaves through the envelope in a year; not the need of the heating, from which sun and people are to be taken off.",
    ),
    ("Drying ability", "vapour that leaves a wet plane between April and September, outward and inward."),
    ("Within limits, marginal, over a limit", "the word for the settled years under the limits stated here."),
    ("Drying in, for good", "the first years after the works; the settled year."),
    ("Mould index", "0 to 6; from 1 growth begins, from 3 it is seen."),
    ("Rain face", "a wall that takes so much driven rain that it must be looked at by itself."),
    ("Ready by override", "somebody took it on themselves, with a name and a reason."),
    ("n50", "air changes in an hour at a pressure of 50 Pa."),
)


@dataclass(frozen=True)
class Asked:
    """How a report is asked for. since: history entries after the one made before, where there was one."""

    kind: Kind
    system: System = "metric"
    sheet: Sheet = "a4"
    by: str = ""
    at: datetime | None = None
    hash: str = ""
    since: datetime | None = None


TITLES: dict[Kind, str] = {
    "client": "What was found and what is proposed",
    "whole": "The whole report",
    "condition": "Condition report",
    "heating": "For the heating designer",
    "builder": "For the builder",
}


def date_words(at: datetime | None) -> str:
    return f"{at:%d %B %Y}".lstrip("0") if at is not None else ""


def _opening(p: Paper, g: Gathered, asked: Asked) -> None:
    """Name, kind, date, who made it, and the hash of what it was made from."""
    p.story.append(p.text(g.project.name, "title"))
    p.p(TITLES[asked.kind], "lead")
    made = f"{date_words(asked.at)}{', by ' + asked.by if asked.by else ''}. Made from the data {asked.hash[:12]}."
    units = "inches, feet, R" if asked.system == "inch" else "metric units"
    scheme = f" Scheme: {g.scheme_name}." if g.scheme_name else ""
    p.p(f"{made} In {units}.{scheme}", "small")


# --- for the client --------------------------------------------------------------------------------


def client(p: Paper, g: Gathered, asked: Asked) -> None:
    _opening(p, g, asked)
    parts.house_section(p, g, "heat", 190.0, table=False)
    parts.legend(p, g)
    known = [words for _, words in g.sizes if words.metric != "–"]
    built = f"Built {g.brief.brief.built_year}" if g.brief.brief.built_year else "Year of building not known"
    p.p(join([said(built), *known], ", ") + f". Computed for {g.climate_words}; indoors {g.indoor_words}.")
    p.heading("What was found", 2)
    found = parts.causes(g)
    if found:
        p.items(found)
    else:
        p.p("No signs of damp were taken in.")
    assumed = len({one.element_id for one in g.made.opening_up})
    if assumed:
        p.p(
            f"Layers of {assumed} {'element' if assumed == 1 else 'elements'} are only assumed; they are opened before the works."
        )
    _proposed(p, g)
    _first(p, g)
    _saves(p, g)
    after = parts.after_works(g)
    if after:
        p.heading("What it must not meet afterwards", 2)
        p.items([words + (f" ({', '.join(where)})" if len(where) < len(g.built) else "") for words, where in after])
    _how_sure(p, g)
    p.heading("What comes next", 2)
    p.items(missing(g)[:8] or ["The proposal is complete; works and checks on site follow."])
    _since(p, g, asked, level=2, most=10)
    parts.caution(p, g)


def _proposed(p: Paper, g: Gathered) -> None:
    p.heading("What is proposed, and why", 2)
    rows: list[list[Words]] = []
    unchosen = []
    for one in g.built:
        chosen = one.chosen
        if chosen is None:
            unchosen.append(one.row.name)
            continue
        row = g.heat_rows.get(one.row.pk)
        change: Words = "–"
        if row is not None:
            change = join([bare(row.u_before, "transmittance"), bare(row.u_after, "transmittance")], " → ")
        rows.append([one.row.name, chosen.name, change, lists.verdict_words(chosen), one.row.chosen_reason])
    if rows:
        unit = unit_of("transmittance")
        head = Said(metric=f"U, {unit.metric}", inch="R")
        p.table(
            [
                Column("Element", 1.3),
                Column("Proposed", 1.5),
                Column(head, 0.9),
                Column("Moisture", 2.4),
                Column("Why", 2),
            ],
            rows,
        )
    else:
        p.p("Nothing is chosen yet.")
    if unchosen and rows:
        p.p(f"Stays as found so far: {', '.join(unchosen)}.", "small")
    if g.heat is not None and g.heat.line.moved:
        p.p(f"The heated line moves: {'; '.join(g.heat.line.moved)}.", "small")
    if g.left_out:
        p.p(f"No longer round the heated rooms: {', '.join(one.row.name for one in g.left_out)}.", "small")


def _first(p: Paper, g: Gathered) -> None:
    open_ones = [item for item in g.water.items if item.state == "open"]
    if not open_ones:
        return
    p.heading("What comes first: keep the water out", 2)
    p.items([item.title_said for item in open_ones[:6]])
    if len(open_ones) > 6:
        p.p(f"And {len(open_ones) - 6} more, in the list of water items.", "small")


def _saves(p: Paper, g: Gathered) -> None:
    p.heading("What it saves", 2)
    heat = g.heat
    if heat is None or not heat.rows or heat.total.before_w_k <= 0.0:
        p.p(g.project.climate_gone or "No loss can be told before constructions and areas are stated.")
        return
    total = heat.total
    known = "" if heat.complete else "Of the known parts only: "
    like = heat.line.like_for_like_w_k
    if heat.line.moved:
        if like is None:
            p.p("Like for like is not known while an element’s loss is not.", "lead")
        elif like > 0.0:
            p.p(
                say(
                    "{known}like for like, {change}: the rooms heated after the works would lose {like} with walls, roof and air as they are, and will lose {after}.",
                    known=known, change=change_words(like, total.after_w_k), like=shown(like, "coefficient"), after=shown(total.after_w_k, "coefficient"),
                ).capitalised(),
                "lead",
            )  # fmt: skip
        p.p(
            say(
                "The house as it is heated today, {floor}, loses {before}; after the works {more} are heated, and {after} are lost. In a year {kwh_before} → {kwh_after}.",
                floor=shown(heat.line.floor_before_m2, "area", 0), before=shown(total.before_w_k, "coefficient"),
                more=shown(heat.line.floor_after_m2, "area", 0), after=shown(total.after_w_k, "coefficient"),
                kwh_before=bare(total.before_kwh, "energy"), kwh_after=shown(total.after_kwh, "energy"),
            )
        )  # fmt: skip
    else:
        p.p(
            say(
                "{known}heat loss {before} → {after}, {change}; in a year {kwh_before} → {kwh_after}.",
                known=known, before=bare(total.before_w_k, "coefficient"), after=shown(total.after_w_k, "coefficient"),
                change=change_words(total.before_w_k, total.after_w_k),
                kwh_before=bare(total.before_kwh, "energy"), kwh_after=shown(total.after_kwh, "energy"),
            ).capitalised(),
            "lead",
        )  # fmt: skip
    p.items(
        [join([credit.what, shown(credit.w_k, "coefficient")], ": ") for credit in heat.credits if credit.w_k > 0.005]
    )
    p.p("Loss, not the bill: sun, people and how the house is heated are not in it.", "small")


def _how_sure(p: Paper, g: Gathered) -> None:
    p.heading("How sure this is", 2)
    words: list[Words] = []
    states: dict[str, int] = {}
    for one in g.built:
        if one.chosen is not None:
            state = lists.state_word(one.chosen) or f"years {one.chosen.run.state}"
            states[state] = states.get(state, 0) + 1
    if states:
        told = ", ".join(f"{count} {state}" for state, count in states.items())
        words.append(f"Of what is proposed, by hourly years: {told}.")
    if "generated" in g.climate_words:
        words.append("The weather is generated for the region, not measured at the house.")
    stale = [one.row.name for one in g.built if one.chosen is not None and one.chosen.run.state == "out of date"]
    if stale:
        words.append(f"Out of date, to be run again: {', '.join(stale)}.")
    judged_not = parts.not_judged(g)
    if judged_not:
        words.append(join(["Not judged:", join(judged_not[:4], ", ")], " ") + ".")
    p.items(words or ["Nothing was run hour by hour yet: the figures are steady ones."])


def change_words(before: float, after: float) -> str:
    """How much less, or more, in whole percent."""
    share = round((1.0 - after / before) * 100)
    return f"{share} % less" if share > 0 else f"{-share} % more" if share < 0 else "no change"


def missing(g: Gathered) -> list[str]:
    """What a dossier of this project still lacks, the weightiest first."""
    found = []
    signs = [pin for _, pin in g.pins if pin.pin.kind != "nothing_found"]
    unexplained = sum(not pin.cause for pin in signs)
    if unexplained:
        found.append(f"{unexplained} of {len(signs)} signs without a confirmed cause")
    stated = [one for one in g.layered if one.found is not None and one.found.build_up.layers]
    proposed = [one for one in stated if one in g.built]
    seen = {pk: one.looked_at or one.pins > 0 for pk, one in g.waters.items()}
    wet = {pk: one.wet_readings for pk, one in g.waters.items()}
    for what, names in (
        ("construction not stated", [one.row.name for one in g.layered if one not in stated]),
        ("no option chosen", [one.row.name for one in proposed if one.chosen is None]),
        ("chosen, years not current", [one.row.name for one in proposed if one.chosen is not None and one.chosen.run.state != "current"]),
        ("chosen over a limit", [one.row.name for one in proposed if one.chosen is not None and lists.state_word(one.chosen) == "over a limit"]),
        ("chosen and not looked at", [one.row.name for one in proposed if one.chosen is not None and not seen.get(one.row.pk, True)]),
        ("read wet, with no later dry reading", [one.row.name for one in g.layered if wet.get(one.row.pk, 0)]),
        ("chosen without a reason", [one.row.name for one in proposed if one.chosen is not None and not one.row.chosen_reason.strip()]),
        ("the choice was of something else", [one.row.name for one in g.layered if one.row.choice_was]),
    ):  # fmt: skip
        if names:
            found.append(f"{what}: {', '.join(names)}")
    if g.made.opening_up:
        count = len(g.made.opening_up)
        found.append(f"{count} {'layer' if count == 1 else 'layers'} only assumed, to be opened")
    open_items = sum(item.state == "open" for item in g.water.items)
    if open_items:
        found.append(f"{open_items} water {'item' if open_items == 1 else 'items'} open")
    invalid = [test.on or "without a date" for test in g.tests if not test.valid]
    if invalid:
        found.append(f"blower-door test not valid: {', '.join(invalid)}")
    for one in g.water.elements:
        if one.override_by and not one.override_reason.strip():
            found.append(f"{one.name}: override without a reason")
    if g.heat is not None:
        found += g.heat.missing
    elif g.project.climate_gone:
        found.append(g.project.climate_gone)
    found += [f"brief: {word}" for word in g.brief.missing]
    return found


# --- whole -----------------------------------------------------------------------------------------


def whole(p: Paper, g: Gathered, asked: Asked) -> None:
    _opening(p, g, asked)
    p.pairs(
        [
            ("Hash of the data", asked.hash),
            ("Version", f"report {PROGRAM}, {FOUND_WITH}"),
            ("Climate", g.climate_words),
            ("Computes, does not certify", parts.CAUTION),
        ]
    )
    p.contents()
    p.new_page()
    p.heading("The house", 1)
    parts.house_facts(p, g)
    for lens in ("heat", "damp", "layers"):
        p.heading({"heat": "Heat", "damp": "Damp", "layers": "Control layers"}[lens], 2, room_mm=110)
        parts.house_section(p, g, lens)
    p.heading("Brief", 1)
    parts.brief(p, g)
    p.heading("Survey", 1)
    p.heading("Shape and areas", 2)
    parts.shape(p, g)
    p.heading("Exposure to driven rain", 2)
    parts.exposure(p, g)
    p.heading("Evidence", 1)
    parts.faces(p, g)
    parts.listing(p, lists.pins(g), ("No.", "Seen", "Element", "It comes", "Readings", "Cause"))
    parts.pin_pages(p, g)
    p.heading("Readings", 2)
    parts.listing(p, lists.readings(g))
    parts.readings(p, g)
    p.heading("Openings to make", 2)
    parts.listing(p, lists.opening(g))
    p.heading("Water", 1)
    parts.listing(p, lists.water(g))
    _overrides(p, g)
    for one in g.layered:
        _element(p, g, one)
    p.heading("Heat before and after", 1)
    parts.listing(
        p,
        lists.heat(g),
        ("Element", "Area", "b", "U before", "U after", "H before", "H after", "Loss before", "Loss after"),
    )
    if g.heat is not None:
        p.items(g.heat.missing)
        p.heading("The arithmetic", 2)
        p.items(g.heat.arithmetic)
        p.items([join([credit.what, shown(credit.w_k, "coefficient")], ": ") for credit in g.heat.credits])
    p.heading("What is not judged and not modelled", 1)
    p.items(parts.not_judged(g))
    p.items([f"{row.key.replace('_', ' ')}: {row.covers_not}" for row in CRITERIA if row.covers_not])
    p.items([LEFT_OUT, "junctions and thermal bridges", "moisture in two dimensions", "structure, fire, sound"])
    p.heading("What is still missing", 1)
    p.items(missing(g) or ["Nothing that this program asks for."])
    p.heading("Materials and their sources", 1)
    parts.materials(p, g)
    p.heading("Words", 1)
    p.pairs([(name, words) for name, words in GLOSSARY])
    _since(p, g, asked)
    p.heading("Cautions", 1)
    parts.caution(p, g)
    _overrides(p, g)


def _overrides(p: Paper, g: Gathered) -> None:
    rows: list[list[Words]] = [
        [one.name, one.override_by, f"{one.override_at:%d %b %Y}" if one.override_at else "", one.override_reason]
        for one in g.water.elements
        if one.override_by
    ]
    if rows:
        p.p("Ready by override, on somebody’s own responsibility:", "small")
        p.table([Column("Element", 1.5), Column("By", 1), Column("On", 0.8), Column("Reason", 3)], rows)


def _since(p: Paper, g: Gathered, asked: Asked, level: int = 1, most: int = 400) -> None:
    """What was done since this kind of report was made before; the newest `most` of it."""
    if asked.since is None:
        return
    p.heading(f"What changed since {date_words(asked.since)}", level)
    newest = list(g.project.history.filter(at__gt=asked.since).order_by("-at")[: most + 1])
    if len(newest) > most:
        p.p(f"The newest {most} changes; the whole report has more.", "small")
    entries = newest[:most][::-1]
    rows: list[list[Words]] = [[f"{one.at:%d %b %Y, %H:%M}", one.person, one.what] for one in entries]
    if rows:
        p.table([Column("When", 1), Column("Who", 1), Column("What", 4)], rows)
    else:
        p.p("Nothing.")


def _element(p: Paper, g: Gathered, one: ElementPage) -> None:
    """An element with as found, options, verdicts, tests; what was chosen and what not, by whom and why."""
    strips = len(one.sheet.options) if one.sheet is not None else 0
    p.heading(f"{g.numbers[one.row.pk]}  {one.row.name}", 1, room_mm=min(45.0 + 28.0 * strips, 215.0))
    p.p(parts.conditions(one), "small")
    if one.sheet is None or one.found is None:
        return
    if one.sheet.drowned is not None:
        p.p(one.sheet.drowned.words, "lead")
    for limit in one.sheet.limits_said:
        p.p(limit.words, "small")
    if not one.found.build_up.layers:
        p.p("Its construction is not stated: no figure is made up for it.")
        return
    shown_options = [one.found, *([one.chosen] if one.chosen is not None else []), *one.rejected]
    parts.strip_figure(p, one, shown_options)
    for option in shown_options:
        role = "as found" if option.role == "as_found" else "chosen" if option.id == one.row.chosen_id else "not chosen"
        p.heading(option.name if option.role == "as_found" else f"{option.name}, {role}", 2, listed=False)
        parts.layers(p, option)
        p.pairs(parts.figures_of(p, option))
        parts.verdict(p, option)
    if one.chosen is not None:
        when = f", {one.row.chosen_at:%d %b %Y}" if one.row.chosen_at else ""
        reason = one.row.chosen_reason or "no reason written"
        p.p(f"“{one.chosen.name}” by {one.row.chosen_by}{when}: {reason}", bold="Chosen:")
        if one.rejected:
            p.p(f"Not chosen: {', '.join(o.name for o in one.rejected)}.", "small")
    elif one.rejected:
        p.p("No option is chosen.", "small")
    for option in one.rejected:
        if option.rejected_reason:
            p.p(f"“{option.name}” by {option.rejected_by}: {option.rejected_reason}", bold="Rejected:")
    stands = g.stands_of(one.row, one.chosen) if one.chosen is not None else []
    if stands:
        p.heading("The conditions it stands on", 2, listed=False)
        p.items(stands)
    bases = g.bases_of(one.row.pk)
    if bases:
        p.heading("What it rests on", 2, listed=False)
        p.items(bases)
    parts.year(p, one)
    parts.tests(p, one)
    parts.studies(p, one)


# --- condition ----------------------------------------------------------------------------------------


def condition(p: Paper, g: Gathered, asked: Asked) -> None:
    _opening(p, g, asked)
    p.heading("The house", 2)
    parts.house_facts(p, g)
    parts.house_section(p, g, "damp", 200.0, as_found=True)
    p.heading("What is at work", 2)
    found = parts.causes(g)
    if found:
        p.items(found)
    else:
        p.p("No signs of damp were taken in.")
    p.heading("Faces with pins", 1)
    parts.faces(p, g, bare_ones=True)
    p.heading("Evidence, one by one", 1)
    if not g.pins:
        p.p("No evidence was taken in.")
    parts.pin_pages(p, g)
    p.heading("Readings", 1)
    parts.listing(p, lists.readings(g))
    parts.readings(p, g)
    p.heading("Exposure to driven rain", 2)
    parts.exposure(p, g)
    p.heading("Openings to make", 1)
    parts.listing(p, lists.opening(g))
    p.heading("Water items", 1)
    parts.listing(p, lists.water(g))
    _overrides(p, g)
    _since(p, g, asked)
    parts.caution(p, g)


# --- for the heating designer ---------------------------------------------------------------------


def heating(p: Paper, g: Gathered, asked: Asked) -> None:
    _opening(p, g, asked)
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
    _since(p, g, asked)
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


# --- for the builder ------------------------------------------------------------------------------


def builder(p: Paper, g: Gathered, asked: Asked) -> None:
    _opening(p, g, asked)
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
    _since(p, g, asked)
    parts.caution(p, g)


def _built(p: Paper, g: Gathered, one: ElementPage) -> None:
    """One element to be built: drawn to scale, every layer with area and net quantity, what is shown before it is covered."""
    chosen, found = one.chosen, one.found
    assert chosen is not None and found is not None
    p.heading(f"{g.numbers[one.row.pk]}  {one.row.name}: {chosen.name}", 2, room_mm=85)
    state = next((each for each in g.water.elements if each.element_id == one.row.pk), None)
    if state is not None and not state.state.startswith("ready"):
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


DOCUMENTS: dict[Kind, Callable[[Paper, Gathered, Asked], None]] = {
    "client": client, "whole": whole, "condition": condition, "heating": heating, "builder": builder,
}  # fmt: skip
assert set(DOCUMENTS) == set(get_args(Kind))


def write(
    g: Gathered, asked: Asked, target: IO[bytes] | Path, tell: Callable[[float, str], None] = lambda share, what: None
) -> int:
    """Lay a report out and write it as PDF; how many pages. tell: hears how far it is, and may raise to stop it."""
    paper = Paper(asked.system, asked.sheet)
    tell(0.05, "reading the project")
    DOCUMENTS[asked.kind](paper, g, asked)
    tell(0.5, "laying out")
    title = f"{g.project.name}, {TITLES[asked.kind].lower()}"
    foot = f"{g.project.name} · {date_words(asked.at)} · computes, does not certify"
    where = str(target) if isinstance(target, Path) else target
    return paper.write(
        where, title, asked.by, foot, lambda share: tell(0.5 + 0.5 * share, "laying out"), asked.kind == "whole"
    )

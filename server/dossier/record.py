"""The reports that hold all of it: the whole one, and the condition of the house."""

from __future__ import annotations

from core.criteria.registry import CRITERIA, LEFT_OUT
from core.criteria.run_findings import FOUND_WITH
from core.say import join
from core.shown import shown
from server.dossier import lists, parts
from server.dossier.asked import Asked, opening, overrides, since
from server.dossier.gather import PROGRAM, ElementPage, Gathered
from server.dossier.lacks import missing
from server.dossier.paper.page import Paper

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


def whole(p: Paper, g: Gathered, asked: Asked) -> None:
    opening(p, g, asked)
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
    overrides(p, g)
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
    since(p, g, asked)
    p.heading("Cautions", 1)
    parts.caution(p, g)
    overrides(p, g)


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


def condition(p: Paper, g: Gathered, asked: Asked) -> None:
    opening(p, g, asked)
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
    overrides(p, g)
    since(p, g, asked)
    parts.caution(p, g)

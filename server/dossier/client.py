"""The report for the client: what was found, what is proposed and why, what comes first, what it saves, how sure it is."""

from __future__ import annotations

from core.say import Said, join, said, say
from core.shown import bare, shown, unit_of
from server.dossier import lists, parts
from server.dossier.asked import Asked, opening, since
from server.dossier.gather import Gathered
from server.dossier.lacks import missing
from server.dossier.paper.page import Column, Paper, Words


def client(p: Paper, g: Gathered, asked: Asked) -> None:
    opening(p, g, asked)
    parts.house_section(p, g, "heat", 190.0, table=False)
    parts.legend(p, g)
    known = [words for _, words in g.known_sizes]
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
    since(p, g, asked, level=2, most=10)
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
    if g.climate_generated:
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

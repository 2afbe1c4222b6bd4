"""How a report is asked for, and what every one begins and ends with."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from server.dossier.gather import Gathered
from server.dossier.paper.page import Column, Paper, Sheet, System, Words

Kind = Literal["client", "whole", "condition", "heating", "builder"]


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


def opening(p: Paper, g: Gathered, asked: Asked) -> None:
    """Name, kind, date, who made it, and the hash of what it was made from."""
    p.story.append(p.text(g.project.name, "title"))
    p.p(TITLES[asked.kind], "lead")
    made = f"{date_words(asked.at)}{', by ' + asked.by if asked.by else ''}. Made from the data {asked.hash[:12]}."
    units = "inches, feet, R" if asked.system == "inch" else "metric units"
    scheme = f" Scheme: {g.scheme_name}." if g.scheme_name else ""
    p.p(f"{made} In {units}.{scheme}", "small")


def overrides(p: Paper, g: Gathered) -> None:
    rows: list[list[Words]] = [
        [one.name, one.override_by, f"{one.override_at:%d %b %Y}" if one.override_at else "", one.override_reason]
        for one in g.water.elements
        if one.override_by
    ]
    if rows:
        p.p("Ready by override, on somebody’s own responsibility:", "small")
        p.table([Column("Element", 1.5), Column("By", 1), Column("On", 0.8), Column("Reason", 3)], rows)


def since(p: Paper, g: Gathered, asked: Asked, level: int = 1, most: int = 400) -> None:
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

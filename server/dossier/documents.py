"""The five reports, each for its reader, and how one is written."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import IO, get_args

from server.dossier.asked import TITLES, Asked, Kind, date_words
from server.dossier.client import client
from server.dossier.gather import Gathered
from server.dossier.paper.page import Paper
from server.dossier.record import condition, whole
from server.dossier.trades import builder, heating

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

"""What a dossier still lacks."""

from __future__ import annotations

from server.dossier import lists
from server.dossier.gather import Gathered


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

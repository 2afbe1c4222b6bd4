"""`verify`: every benchmark computed and compared. A row fails when its error passes its limit."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from core.cases.compared import Found, Row
from core.cases.verify_building import buffers, building
from core.cases.verify_steady import as_it_is, ground, hand_worked, sky_seen
from core.cases.verify_walls import air_flow, closure, conduction, drawn_water, drying, en15026, ice, mould, steady

CASES: dict[str, Callable[[], Iterator[Found]]] = {
    "en15026": en15026,
    "drying": drying,
    "conduction": conduction,
    "steady": steady,
    "mould": mould,
    "hand": hand_worked,
    "ground": ground,
    "as_it_is": as_it_is,
    "drawn_water": drawn_water,
    "sky_seen": sky_seen,
    "building": building,
    "buffers": buffers,
    "air_flow": air_flow,
    "ice": ice,
    "closure": closure,
}
# What each case is, for the page that runs them.
TITLES: dict[str, tuple[str, str]] = {
    "en15026": (
        "EN 15026 Annex A",
        "A half space at 20 °C and 50 % RH meets 30 °C and 95 %: T and water by depth after 7, 30, 365 days.",
    ),
    "drying": (
        "Isothermal drying",
        "200 mm with constant diffusivity dry to both sides: water by depth after 100, 300 and 1000 hours.",
    ),
    "conduction": ("Transient conduction", "A step and a daily wave of temperature against their closed forms."),
    "steady": ("Steady heat and vapour", "Layers in series, with and without a variable membrane."),
    "mould": ("Mould growth index", "Constant and alternating conditions against the equations solved apart."),
    "hand": (
        "ISO 6946 and drying by hand",
        "A stud wall and a drying ability with the arithmetic of docs/verification.md.",
    ),
    "ground": ("Ground", "Slabs, cellars, floors over voids, worked by hand; saturation over ice."),
    "building": (
        "Air and zones of a building",
        "Stack and wind through leaks, a zone after steps of heat and vapour, a cold space beside it, in closed form.",
    ),
    "as_it_is": (
        "Deep steel studs, squeezed batts, settled fills",
        "The stud layer of light steel and squeezed batts against printed tables; a fill that settled in a ceiling by hand.",
    ),
    "drawn_water": (
        "Water that a face draws",
        "Free uptake by the run against a similarity solution of liquid and vapour together; a typed A-value given back.",
    ),
    "sky_seen": (
        "Sky past overhang and reveals",
        "The sky that a pane sees, by rays, against the closed form of long strips.",
    ),
    "buffers": (
        "Surfaces that even a room's humidity",
        "Two layers of a hygroscopic surface against sixty cells: an hour's burst, two hours, a damp weekend.",
    ),
    "air_flow": ("Draught through a layer", "Heat and vapour carried by air against the closed form."),
    "ice": (
        "Ice in a wet layer",
        "A closed layer loses heat: its temperature by hand, with the latent heat of its ice.",
    ),
    "closure": (
        "Balances of a rained wall",
        "Water and energy of a rained wall with a variable membrane until its years repeat.",
    ),
}


def run(names: list[str] | None = None) -> list[Row]:
    """All rows of the named cases, or of every case."""
    return [row for name in (names or list(CASES)) for row in CASES[name]() if isinstance(row, Row)]

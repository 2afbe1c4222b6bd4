"""Schools and ways of building them as data, read from rules.json and written out in docs/rules.md.

A way is a school made for elements of some make. Its lists say where it is not to be had, what speaks against it, what must be true
first; each line names flags of the situation (core.proposals.situation), all of which must hold; none: always.
"""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path
from typing import Annotated, Literal

from pydantic import Field, model_validator

from core.buildup.make import MakeKind
from core.case import Strict
from core.materials.library import AirLayer, Sheet, Solid, entry_of
from core.proposals.situation import FLAGS, Flag

FILE = Path(__file__).with_name("rules.json")
Side = Literal["outside", "inside", "between", "both"]
Does = Literal["reveals", "eaves", "stairs", "sockets", "doors"]
MOST_WAYS = 120


class Line(Strict):
    """Words that hold where all the flags do."""

    when: list[Flag] = []
    words: str


class Refusal(Strict):
    when: list[Flag] = []
    because: str


class Members(Strict):
    """Members between which a layer stands: their material, and their share of the face."""

    material: str
    share: Annotated[float, Field(gt=0, lt=1)]


class NewLayer(Strict):
    """A layer that a way brings. steps [mm]: the thicknesses it is sold or built in; the way finds which. at_datum: it takes the place
    of the layer that growth is measured about, such as a slab that is laid anew at the old height."""

    material: str
    mm: float | None = None
    steps: list[float] | None = None
    framing: Members | None = None
    air_barrier: bool = False
    at_datum: bool = False

    @model_validator(mode="after")
    def _fits(self) -> NewLayer:
        thick = not isinstance(entry_of(self.material), Sheet)
        if thick != (self.mm is not None or self.steps is not None) or (self.mm is not None and self.steps is not None):
            raise ValueError(f"{self.material}: a thickness, or the steps of one, and neither for a sheet")
        return self


class Fill(Strict):
    """What empty bays or a cavity are filled with. when_none: bays are built where there are none, mm deep; vent_mm: kept open
    under the deck; below_boards: the new bays lie on the
    cold side of the boards that were found: below a floor, above a ceiling. coat: what goes on the cold side of the bay first, coat_mm thick."""

    material: str
    framing: Members | None = None
    mm: float = 100.0
    when_none: bool = False
    vent_mm: float = 0.0
    below_boards: bool = False
    coat: str = ""
    coat_mm: float = 0.0


class School(Strict):
    """One school: what it says, relies on, how it fails, what another one objects."""

    id: str
    name: str
    says: str
    relies_on: list[str]
    fails_when: list[str]
    objection: str


class Way(Strict):
    """A school built for some makes of element. keep: what stays of it as found; drop_*: what goes on that side.
    undone: how it can be taken back, for the order of ways; empties: the rooms are empty while it is done.
    while_open: what weather may do meanwhile; animals, later: what those and a later owner can do to it."""

    id: str
    school: str
    name: str
    makes: list[MakeKind]
    side: Side
    outside: list[NewLayer] = []
    under_covering: list[NewLayer] = []
    fill: Fill | None = None
    inside: list[NewLayer] = []
    keep: Literal["all", "cladding", "nothing"] = "all"
    drop_outside: Literal["", "coats", "cladding", "sheets", "covering"] = ""
    drop_inside: Literal["", "paints", "paints and gypsum", "plaster", "lining", "finish"] = ""
    not_where: list[Refusal] = []
    doubts: list[Line] = []
    first: list[Line] = []
    does_to: dict[Does, str] = {}
    while_open: str = ""
    reversible: str = ""
    undone: Literal["comes off", "with the surface", "not"] = "comes off"
    empties: bool = False
    takes: str = ""
    animals: str = ""
    later: str = ""

    @property
    def grown(self) -> NewLayer | None:
        """The layer whose thickness is found."""
        return next((one for one in [*self.outside, *self.under_covering, *self.inside] if one.steps is not None), None)

    @property
    def never(self) -> bool:
        """It is listed to be refused."""
        return any(not refusal.when for refusal in self.not_where)

    @model_validator(mode="after")
    def _whole(self) -> Way:
        layers = [*self.outside, *self.under_covering, *self.inside]
        if not self.never and not layers and self.fill is None:
            raise ValueError(f"way {self.id} brings no layer and refuses nothing")
        if not self.never and (
            len(self.does_to) < 5
            or not self.while_open
            or not self.reversible
            or not self.takes
            or not self.animals
            or not self.later
        ):
            raise ValueError(f"way {self.id} does not say what it does to the house")
        if sum(layer.steps is not None for layer in layers) > 1:
            raise ValueError(f"way {self.id}: only one layer can be grown")
        return self


class SoundR(Strict):
    """How much insulation inside of masonry practice goes to [m² K/W], said beside what its hourly years say."""

    when: list[Flag] = []
    r: float
    words: str


class Rules(Strict):
    format: Literal["wendrick-proposals"]
    version: Literal[1]
    note: str
    practice_r_inside: list[SoundR]
    schools: list[School]
    ways: Annotated[list[Way], Field(max_length=MOST_WAYS)]

    @model_validator(mode="after")
    def _known(self) -> Rules:
        schools = {school.id for school in self.schools}
        for way in self.ways:
            if way.school not in schools:
                raise ValueError(f"way {way.id} names the school {way.school}, which is not there")
            for layer in [*way.outside, *way.under_covering, *way.inside]:
                if layer.framing is not None and isinstance(entry_of(layer.framing.material), Sheet | AirLayer):
                    raise ValueError(f"way {way.id}: {layer.framing.material} cannot be framing")
            if way.fill is not None and not isinstance(entry_of(way.fill.material), Solid):
                raise ValueError(f"way {way.id}: {way.fill.material} cannot fill a bay")
        if len({way.id for way in self.ways}) != len(self.ways):
            raise ValueError("two ways share one id")
        return self


@lru_cache(maxsize=1)
def rules() -> Rules:
    return Rules.model_validate_json(FILE.read_text(encoding="utf-8"))


def way_of(way_id: str) -> Way:
    """Raises KeyError for a way that is not in the table."""
    for way in rules().ways:
        if way.id == way_id:
            return way
    raise KeyError(way_id)


def school_of(way: Way) -> School:
    return next(school for school in rules().schools if school.id == way.school)


def as_markdown() -> str:
    """The part of docs/rules.md on proposals: flags, schools, ways."""
    out = ["", "## Proposals", "", rules().note, "", "Flags of a situation:", ""]
    out += [f"- *{flag}*: {meaning}" for flag, meaning in FLAGS.items()]
    out += [
        "",
        "How much insulation inside of masonry practice goes to, said beside the hourly years; the first line whose flags hold:",
        "",
    ]
    out += [f"- {', '.join(one.when) or 'else'}: R {one.r:g} m²K/W" for one in rules().practice_r_inside]
    for school in rules().schools:
        out += ["", f"### {school.name}", "", school.says, "", f"Relies on: {'; '.join(school.relies_on)}."]
        out += ["", f"Fails when: {'; '.join(school.fails_when)}.", "", school.objection]
        for way in rules().ways:
            if way.school == school.id:
                out += ["", f"**{way.name}** ({', '.join(way.makes)})", ""]
                out += [f"- not {_when(one.when)}: {one.because}" for one in way.not_where]
                out += [f"- doubt {_when(one.when)}: {one.words}" for one in way.doubts]
                out += [f"- first {_when(one.when)}: {one.words}" for one in way.first]
                if not way.never:
                    out += [f"- animals: {way.animals}", f"- a later owner: {way.later}"]
    return "\n".join(out) + "\n"


def _when(flags: list[Flag]) -> str:
    return f"where *{'* and *'.join(flags)}*" if flags else "anywhere"

"""Cautions that belong to the materials and the work of one option, and to nothing else: what the hazard is, the usual precaution, who decides.

Never a certificate. Each is asked of the build-up as found and of the option; of as found alone what lies in the wall already is said.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from core.buildup.anatomy import Anatomy
from core.buildup.model import FIBROUS, BuildUp, BuildUpLayer, Place, brought, is_insulation, mass
from core.materials.library import Solid
from core.say import Said, read_quantities

LEAD_UNTIL = 1980
# Until when each kind may have held asbestos when it was put in; estimates, later than most bans. A house that is older got many of
# them later, so that its year of building only clears what was built after.
ASBESTOS_UNTIL: dict[str, int] = {
    "fibre_cement": 2005, "fibre_cement_slates": 2005, "cement_chipboard": 2005, "magnesium_board": 2000, "vermiculite_loose": 1995,
    "felt": 1992, "asphalt_felt": 1992, "bitumen_sheet": 1992, "bitumen_paint": 1992, "vinyl_wallcovering": 1990, "gypsum_board": 1985,
    "lath_plaster": 1985, "gypsum_plaster": 1985,
}  # fmt: skip
OLD_PAINTS = ("oil_paint", "linseed_paint")
FIBRES = (*FIBROUS, "aerogel")
HEAVY_KG_M2 = 60.0  # added to what is there, from which the engineer is asked
COVER_M = 0.0125  # of board or plaster before foam


@dataclass(frozen=True)
class Work:
    """An option against what was found. built: the year of the house, None where the brief does not say."""

    found: BuildUp
    option: BuildUp
    place: Place
    built: int | None

    @property
    def new(self) -> list[BuildUpLayer]:
        """Layers that the option brings."""
        return brought(self.found, self.option)

    @property
    def gone(self) -> list[BuildUpLayer]:
        """Layers that the option takes out."""
        return brought(self.option, self.found)

    @property
    def touched(self) -> list[BuildUpLayer]:
        """What is taken out, and the faces that new layers lie on."""
        ids = {layer.id for layer in self.new}
        beside = []
        for index, layer in enumerate(self.option.layers):
            near = self.option.layers[max(index - 1, 0) : index + 2]
            if layer.id not in ids and any(other.id in ids for other in near):
                beside.append(layer)
        return [*self.gone, *beside]


@dataclass(frozen=True)
class Caution:
    """key: its name; applies: whether it belongs to this work; words, with quantities in braces."""

    key: str
    words: str
    applies: Callable[[Work], bool]


def _family(layer: BuildUpLayer, *names: str) -> bool:
    return layer.entry.family in names


def _old(work: Work, until: int) -> bool:
    """Built before then, or not known when."""
    return work.built is None or work.built <= until


def _between(build_up: BuildUp) -> list[tuple[tuple[str, float], float]]:
    """Depth [m] between the same members, run by run: ((their material, share), depth)."""
    found: list[tuple[tuple[str, float], float]] = []
    last = -2
    for index, layer in enumerate(build_up.layers):
        if layer.framing is None:
            continue
        members = layer.framing.material, round(layer.framing.share, 3)
        if found and found[-1][0] == members and last == index - 1:
            found[-1] = members, found[-1][1] + layer.thickness
        else:
            found.append((members, layer.thickness))
        last = index
    return found


def _deeper(work: Work) -> bool:
    """Between the members that stand there more is put than they are deep."""
    deep = dict(_between(work.found))
    return any(members in deep and depth > deep[members] + 0.001 for members, depth in _between(work.option))


def _two_grounds(work: Work) -> bool:
    """Something rigid is put on a face in which two backgrounds meet, or timbers stand in masonry."""
    stays = [layer for layer in work.option.layers if layer.existing]
    meet = any(layer.meets or (layer.framing is not None and layer.entry.group == "masonry") for layer in stays)
    rigid = [
        x for x in work.new if x.entry.group in ("plaster", "board") or (is_insulation(x) and not _family(x, *FIBROUS))
    ]
    return meet and bool(rigid)


def _bare_foam(work: Work) -> bool:
    """Foam that faces the room, or stands behind less than a board."""
    cover = 0.0
    for layer in reversed(work.option.layers):
        if _family(layer, "foam", "faced foam"):
            return cover < COVER_M - 1e-9
        if isinstance(layer.entry, Solid):
            cover += layer.thickness if not is_insulation(layer) else 0.0
    return False


def _burns_outside(work: Work) -> bool:
    outer = work.option.layers[: Anatomy(work.option, work.place).weather_side or 1]
    wooden = any(isinstance(layer.entry, Solid) and layer.entry.timber for layer in outer)
    foam = any(_family(layer, "foam", "faced foam") for layer in work.new) and work.place.kind == "wall"
    return work.place.kind == "wall" and ((wooden and any(layer in work.new for layer in outer)) or foam)


CAUTIONS: tuple[Caution, ...] = (
    Caution("carries", "A layer that braces or carries is taken out or cut: the engineer's, before it is touched.",
            lambda w: any(layer.carries for layer in w.gone)),
    Caution("braces", "Boards come off that may brace the frame: the engineer's, and props or diagonals before they do.",
            lambda w: any(isinstance(x.entry, Solid) and x.entry.timber and not x.entry.lapped and x.thickness < 0.05 and not x.carries for x in w.gone)),
    Caution("weight", "It adds more than {60 kg/m²} to what stands there: the engineer's.",
            lambda w: not (w.place.kind == "floor" and w.place.adjoining == "ground") and mass(w.option) - mass(w.found) > HEAVY_KG_M2),
    Caution("depth", "More is put between the members than they are deep: they are furred out, and every fixing, sill and socket with them.", _deeper),
    Caution("lead", "Old paint is worked on, which may hold lead: test it, no dry sanding or burning off, mask and sheets, children away.",
            lambda w: _old(w, LEAD_UNTIL) and any(x.material in OLD_PAINTS for x in w.touched)),
    Caution("asbestos", "Fibre cement, felt, bitumen, loose vermiculite, textured plaster or old boards of that age may hold asbestos: have it looked at before it is cut, drilled or taken off.",
            lambda w: any(x.material in ASBESTOS_UNTIL and _old(w, ASBESTOS_UNTIL[x.material]) for x in w.touched if x.existing or x in w.gone)),
    Caution("foam", "Sprayed foam: full-face respirator, gloves and eyes for the crew, nobody else in the house until it may be entered again; lifts no thicker than the maker says, or they scorch; licensed crews.",
            lambda w: any(x.material.startswith("spray_foam") for x in w.new)),
    Caution("fire cover", "Foam faces the room: it needs a cover against fire, which local code names.", _bare_foam),
    Caution("cladding", "It can burn on the outside: cladding rules, cavity barriers at openings, storeys and neighbours are for who is licensed.", _burns_outside),
    Caution("fibres", "Fibres and dust: mask, gloves, sleeves; cut outside, damp down, vacuum and do not sweep.",
            lambda w: any(_family(x, *FIBRES) for x in w.new) or any(_family(x, *FIBRES) for x in w.gone)),
    Caution("silica", "Cutting and chasing masonry, plaster or render throws fine quartz dust: extraction at the tool and a mask.",
            lambda w: any(x.entry.group in ("masonry", "plaster") for x in w.gone)),
    Caution("movement", "Two backgrounds meet here: carry a movement joint, or mesh over both, through render, plaster and boards, or they crack along it and take rain.", _two_grounds),
    Caution("lime", "Wet lime and cement burn eyes and skin: goggles, gloves, water at hand.",
            lambda w: any(isinstance(x.entry, Solid) and x.entry.group == "plaster" for x in w.new)),
    Caution("confined", "Work below a floor or behind a knee wall is in a confined space: air, light, a second person, a way out; droppings and nests first.",
            lambda w: w.place.adjoining == "unheated" and bool(w.new)),
    Caution("ground", "Digging beside footings and below the water table is the engineer's; the sump needs a back-up supply, and radon is asked about.",
            lambda w: w.place.adjoining == "ground" and bool(w.new)),
    Caution("lamps", "Lamps, boxes and cables in or behind insulation get hot: derated, boxed or moved by a licensed electrician.",
            lambda w: w.place.kind == "roof" and any(is_insulation(x) for x in w.new)),
    Caution("height", "Scaffold, roof edge and ladders: by who is trained; sheets ready for the night the roof is open.",
            lambda w: (w.place.kind == "roof" and any(x in w.new for x in w.option.layers[:3])) or (w.place.kind == "wall" and w.place.adjoining == "outside" and bool(w.new) and w.option.layers[0] in w.new)),
    Caution("bats", "Bats, birds and their nests behind claddings and in roofs are protected: look in season, before anything is closed.",
            lambda w: bool(w.gone or w.new) and any(isinstance(x.entry, Solid) and x.entry.lapped for x in w.found.layers)),
    Caution("salts", "A water-repellent treatment cannot be taken back and traps what gets behind it: trial panel first.",
            lambda w: any(x.material.startswith("repellent") for x in w.new)),
)  # fmt: skip


def cautions(found: BuildUp, option: BuildUp, place: Place, built: int | None) -> list[Said]:
    """Those that belong to this option. Without layers there is no work, and nothing to say."""
    if not option.is_stated:
        return []
    work = Work(found, option, place, built)
    return [read_quantities(one.words) for one in CAUTIONS if one.applies(work)]

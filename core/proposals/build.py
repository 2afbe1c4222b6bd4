"""One way built on what was found: layers kept, dropped, filled and added; the grown one at a given thickness."""

from __future__ import annotations

from core.buildup.anatomy import Anatomy
from core.buildup.growth import datum_layer
from core.buildup.model import FIBROUS, BuildUp, BuildUpLayer, Framing
from core.errors import OutOfRange
from core.materials.library import AirLayer, Sheet, Solid, entry_of
from core.proposals.rules import NewLayer, Way
from core.proposals.situation import MASONRY, Situation

THIN_LINING_M = 0.04  # a board or plaster on laths behind bays
HEAVY = (*MASONRY, "cellar wall", "slab")


def build(way: Way, at: Situation, grown_mm: float | None) -> BuildUp:
    """The complete build-up of a way. grown_mm: thickness of its grown layer. Raises OutOfRange where it cannot be built."""
    cover, core, lining = _kept(way, at)
    filled = _filled(way, at, core)
    inner = way.inside if way.fill is None or filled is not core else _without_fill(way.inside)
    core = filled
    new = _Named(way.id, datum_layer(at.as_found, at.stand.place).id)
    outside = [new.layer(one, grown_mm) for one in way.outside]
    under = [new.layer(one, grown_mm) for one in way.under_covering]
    inside = [new.layer(one, grown_mm) for one in inner]
    if under and not any(isinstance(layer.entry, Solid) for layer in cover):
        cover, core = _covered_anew(way, core, under)
    layers = [*outside, *cover, *under, *core, *lining, *inside]
    if not any(layer.thickness for layer in layers):
        raise OutOfRange("nothing with thickness is left")
    return BuildUp(
        layers=layers, rain_leak=at.as_found.rain_leak if _still(at, layers) else BuildUp(layers=layers).rain_leak
    )


def _without_fill(inside: list[NewLayer]) -> list[NewLayer]:
    """What lines a deck with no bays to fill: the sheet that was to lie on the warm side of a fill would lie on the cold side of the board
    below it, and a service void has nothing to protect."""
    at = next((i for i, one in enumerate(inside) if one.steps is not None), None)
    return (
        []
        if at is None
        else [one for i, one in enumerate(inside) if i >= at or not isinstance(entry_of(one.material), Sheet)]
    )


def _covered_anew(
    way: Way, core: list[BuildUpLayer], under: list[BuildUpLayer]
) -> tuple[list[BuildUpLayer], list[BuildUpLayer]]:
    """(covering, core) of a roof that is covered by a sheet on its boards: the sheet comes off and is laid anew on boards above what
    is new, with a vented space below them."""
    sheets = [layer.material for layer in core[: len(core) - len(_without_leading_sheets(core))]] or ["bitumen_sheet"]
    cover = [BuildUpLayer(id=f"{way.id}-cover-{n}", material=material) for n, material in enumerate(sheets)]
    cover.append(BuildUpLayer(id=f"{way.id}-boards", material="sarking_boards", thickness_mm=25))
    if not isinstance(under[0].entry, AirLayer):
        cover.append(BuildUpLayer(id=f"{way.id}-vented", material="air_ventilated", thickness_mm=40))
    return cover, _without_leading_sheets(core)


def _still(at: Situation, layers: list[BuildUpLayer]) -> bool:
    """Whether the layer that the rain leak was stated to is still there."""
    wanted = at.as_found.rain_leak.after_layer
    return wanted is None or any(layer.id == wanted for layer in layers)


def _kept(way: Way, at: Situation) -> tuple[list[BuildUpLayer], list[BuildUpLayer], list[BuildUpLayer]]:
    """(covering, core, lining) of what was found that stay."""
    if way.keep == "nothing":
        return [], [], []
    anatomy = at.anatomy
    if way.drop_outside == "coats" and anatomy.vented_cladding:
        anatomy = Anatomy(BuildUp(layers=at.as_found.layers[anatomy.weather_side :]), at.stand.place)
    layers = list(anatomy.layers)
    split = anatomy.covering
    if at.make in HEAVY or at.make == "log":
        split = 0
    cover, rest = layers[:split], layers[split:]
    if way.keep == "cladding":
        return [layer for layer in cover if not isinstance(layer.entry, AirLayer)] or cover, [], []
    at_lining = max(anatomy.lining_from - split, 0)
    core, lining = rest[:at_lining], rest[at_lining:]
    if way.drop_outside in ("cladding", "covering"):
        cover = []
        if way.drop_outside == "covering":
            core = _without_leading_sheets(core)
    elif way.drop_outside in ("coats", "sheets"):
        cover = _without_leading_sheets(cover)
        if not cover:
            core = _without_leading_sheets(core)
    if way.drop_inside == "lining":
        lining = []
    elif way.drop_inside == "paints":
        lining = _without_trailing_coats(lining)
    elif way.drop_inside == "paints and gypsum":
        lining = _without_trailing_gypsum(lining)
    elif way.drop_inside == "plaster":
        lining = [layer for layer in lining if layer.entry.group != "plaster" and not isinstance(layer.entry, Sheet)]
        core = core if lining else _without_trailing_plaster(core)
    elif way.drop_inside == "finish":
        lining = [layer for layer in lining if layer.thickness > THIN_LINING_M and not _soft(layer)]
        core = [layer for layer in core if not _soft(layer)]
    return cover, core, lining


def _soft(layer: BuildUpLayer) -> bool:
    """Fibre between no members: nothing is laid on it, and damp it is not covered."""
    return layer.entry.family in FIBROUS and layer.framing is None


def _without_leading_sheets(layers: list[BuildUpLayer]) -> list[BuildUpLayer]:
    while layers and isinstance(layers[0].entry, Sheet):
        layers = layers[1:]
    return layers


def _without_trailing_coats(layers: list[BuildUpLayer]) -> list[BuildUpLayer]:
    while layers and isinstance(layers[-1].entry, Sheet) and layers[-1].entry.kind == "coating":
        layers = layers[:-1]
    return layers


def _without_trailing_gypsum(layers: list[BuildUpLayer]) -> list[BuildUpLayer]:
    layers = _without_trailing_coats(layers)
    while layers and layers[-1].material == "gypsum_plaster":
        layers = _without_trailing_coats(layers[:-1])
    return layers


def _without_trailing_plaster(layers: list[BuildUpLayer]) -> list[BuildUpLayer]:
    layers = _without_trailing_coats(layers)
    while len(layers) > 1 and layers[-1].entry.group == "plaster":
        layers = layers[:-1]
    return layers


def _filled(way: Way, at: Situation, core: list[BuildUpLayer]) -> list[BuildUpLayer]:
    """The core with its bay or cavity filled, or with bays built where there are none."""
    fill = way.fill
    if fill is None:
        return core
    if at.make == "cavity masonry" and way.school == "cavity":
        between = {layer.id for layer in at.anatomy.cavity}
        return [
            layer.model_copy(
                update={"id": f"{way.id}-fill", "material": fill.material, "existing": False, "goes_round": False}
            )
            if layer.id in between and isinstance(layer.entry, AirLayer)
            else layer
            for layer in core
        ]
    place = at.anatomy.bay
    bay_id = at.as_found.layers[place].id if place is not None else None
    if bay_id is None or all(layer.id != bay_id for layer in core):
        if at.anatomy.solid_deck and (way.outside or way.inside or way.under_covering) and way.grown is not None:
            return core
        if not fill.when_none or at.anatomy.solid_deck:
            raise OutOfRange("there is no empty bay to fill")
        new = BuildUpLayer(
            id=f"{way.id}-fill", material=fill.material, thickness_mm=fill.mm, framing=_framing(fill.framing)
        )
        coat = (
            [
                BuildUpLayer(
                    id=f"{way.id}-coat", material=fill.coat, thickness_mm=fill.coat_mm, framing=_framing(fill.framing)
                )
            ]
            if fill.coat
            else []
        )
        return [*coat, new, *core] if fill.below_boards else [*core, *coat, new]
    out: list[BuildUpLayer] = []
    for layer in core:
        if layer.id != bay_id:
            out.append(layer)
            continue
        framing = layer.framing or _framing(fill.framing)
        deep = (layer.thickness_mm or 0.0) - fill.vent_mm
        if deep < THIN_LINING_M * 1000.0:
            raise OutOfRange("the bays are too shallow for an air path and a batt")
        if fill.vent_mm:
            out.append(BuildUpLayer(id=f"{way.id}-vent", material="air_ventilated", thickness_mm=fill.vent_mm))
        if fill.coat and deep - fill.coat_mm < THIN_LINING_M * 1000.0:
            raise OutOfRange("the bays are too shallow for the foam and a batt")
        if fill.coat:
            deep -= fill.coat_mm
            out.append(
                BuildUpLayer(id=f"{way.id}-coat", material=fill.coat, thickness_mm=fill.coat_mm, framing=framing)
            )
        # under the id of the bay: its members are still there, and growth is measured about them
        out.append(BuildUpLayer(id=layer.id, material=fill.material, thickness_mm=deep, framing=framing))
    return out


def _framing(members: object) -> Framing | None:
    return None if members is None else Framing.model_validate(members.model_dump())  # type: ignore[attr-defined]


class _Named:
    """New layers under ids of their own."""

    def __init__(self, way: str, datum: str) -> None:
        self.way, self.datum, self.count = way, datum, 0

    def layer(self, one: NewLayer, grown_mm: float | None) -> BuildUpLayer:
        self.count += 1
        return BuildUpLayer(
            id=self.datum if one.at_datum else f"{self.way}-{self.count}",
            material=one.material,
            thickness_mm=grown_mm if one.steps is not None else one.mm,
            framing=_framing(one.framing),
            air_barrier=one.air_barrier,
        )

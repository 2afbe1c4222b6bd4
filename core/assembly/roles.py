"""What each layer is, in words: the roles of its anatomy with the lines of air and vapour, as they are shown when somebody asks."""

from __future__ import annotations

from core.assembly.control import ControlLayers, control_layers
from core.buildup.anatomy import DRAINED_SHEETS, Anatomy, LayerRoles, Role
from core.buildup.make import Make
from core.buildup.model import BuildUp, Place, is_insulation
from core.materials.library import AirLayer, Sheet, Solid


def roles_of(build_up: BuildUp, place: Place) -> list[LayerRoles]:
    """Every layer with its roles and the reason of each, outermost first; empty where nothing is stated."""
    if not build_up.is_stated or not any(isinstance(layer.entry, Solid) for layer in build_up.layers):
        return []
    anatomy, control = Anatomy(build_up, place), control_layers(build_up, place)
    return [
        LayerRoles(
            layer.id, _roles(anatomy, control, index), bool(layer.role or layer.sheds_water or layer.air_barrier)
        )
        for index, layer in enumerate(build_up.layers)
    ]


def _roles(anatomy: Anatomy, control: ControlLayers, index: int) -> dict[Role, str]:
    layer = anatomy.layers[index]
    found: dict[Role, str] = {}
    if layer.role:
        found[layer.role] = "stated"
    for role, line in (
        ("line that sheds water", control.rain),
        ("air line", control.air),
        ("vapour line", control.vapour),
    ):
        if line.layer_id == layer.id:
            found[role] = line.because.metric  # type: ignore[index]
    if layer.role:
        return found
    found.update({role: why for role, why in _by_place(anatomy, index).items() if role not in found})
    return found


def _by_place(anatomy: Anatomy, index: int) -> dict[Role, str]:
    """From where it lies and what it is made of."""
    layer, entry = anatomy.layers[index], anatomy.layers[index].entry
    if anatomy.place.adjoining == "ground" and index < anatomy.earth_side:
        if layer.material in DRAINED_SHEETS or isinstance(entry, AirLayer):
            return {"drained space": "what stands outside it is reported and not judged"}
        return {"ground": "on the earth's side: reported and not judged"}
    if isinstance(entry, AirLayer):
        if anatomy.bay == index or layer.framing is not None:
            return (
                {"gap": _vents(entry), "structure": "its members bear"}
                if _bears(anatomy, index)
                else {"gap": _vents(entry)}
            )
        return {"gap": _vents(entry)}
    if index < anatomy.weather_side:
        if entry.family == "soil":
            return {"soil or ballast": "it lies on the sheet that sheds the water"}
        if isinstance(entry, Sheet):
            return {"finish": "on the weather's face"} if entry.kind == "coating" else {}
        return {"weather skin": f"it meets the weather, and {_ends(anatomy)} behind it ends the weather's side"}
    if anatomy.skin == index:
        return {"weather skin": "it meets the weather"}
    return _inboard(anatomy, index)


def _inboard(anatomy: Anatomy, index: int) -> dict[Role, str]:
    layer, entry = anatomy.layers[index], anatomy.layers[index].entry
    structure = anatomy.structure
    if isinstance(entry, Sheet):
        return {"finish": "a coat on a face"} if entry.kind == "coating" else {}
    if layer.framing is not None and _bears(anatomy, index):
        return (
            {"structure": "its members bear", "fill of bays": "between its members"}
            if is_insulation(layer)
            else {"structure": "members in it"}
        )
    if is_insulation(layer):
        if layer.framing is not None or anatomy.between_members == index:
            return {"fill of bays": "between members, or fibre where members stand"}
        if structure is not None and index < structure:
            return {"insulation outside": f"outside of {anatomy.layers[structure].entry.name}"}
        return (
            {"insulation inside": "inboard of what bears"}
            if structure is not None
            else {"insulation outside": "nothing that bears is stated"}
        )
    if index >= anatomy.lining_from:
        last = index == len(anatomy.layers) - 1
        return {"finish" if last else "lining": "inboard of what bears, of bays and insulation"}
    if anatomy.masonry is not None and entry.group == "masonry":
        return {"structure": "masonry that bears"} if _bears(anatomy, index) else {}
    if _bears(anatomy, index):
        return (
            {"structure": "it bears"}
            if Make(anatomy).bears == "log"
            else {"sheathing": "boards on the outer side of what bears"}
        )
    if entry.group == "board":
        return {"sheathing": "boards on the outer side of what bears"}
    if structure is not None and index < structure:
        return {"weather skin": "a render or lining of the outer face"} if entry.group == "plaster" else {}
    return {}


def _bears(anatomy: Anatomy, index: int) -> bool:
    return anatomy.is_part_of_the_house(index)


def _ends(anatomy: Anatomy) -> str:
    line = anatomy.line
    if line is not None and line < anatomy.weather_side:
        return anatomy.layers[line].entry.name
    gap = anatomy.outermost_gap
    return "the gap" if gap is not None and gap < anatomy.weather_side else "what is boarded"


def _vents(entry: AirLayer) -> str:
    if not entry.drains:
        return "still: no opening to outside"
    return "ventilated" if entry.ventilated else f"drained and vented by {entry.opening_mm2_m:.0f} mm² a metre"

"""Statements 41 to 60: what a layer is, which ways are there, and what the years must say in words. Elements of our own."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from typing import Any

from core.assembly.control import control_layers
from core.assembly.to_case import model_of
from core.buildup.anatomy import Anatomy
from core.buildup.make import Make
from core.buildup.model import BuildUp, Framing, Limits, Place
from core.buildup.planes import sensitive_plane
from core.cases.practice import build_up
from core.climate.data import shipped
from core.criteria.judging import checked_limits
from core.criteria.registry import LIMITS
from core.criteria.stated import stated
from core.criteria.verdict import Verdict, verdict
from core.moisture.traps import traps
from core.proposals.computed import stands
from core.proposals.propose import Proposals, propose
from core.proposals.rules import way_of
from core.proposals.situation import Stand, situation
from core.proposals.standing import Stands
from core.runs import Found, settle, years_of
from core.say import said

Check = tuple[str, bool]
Row = tuple[str, str, list[Check]]
OSTMOOR, FLAT = Place(climate="ostmoor"), Place(kind="roof", slope_deg=2.0, climate="ostmoor")
STEEL = Framing.model_validate(
    {"material": "steel_plate", "share": 0.001, "spacing_mm": 600, "flange_mm": 50, "web_mm": 0.6}
)


def _of(*rows: tuple[Any, ...]) -> BuildUp:
    """(material, mm, framing share), all found there."""
    made = build_up(*((f"l{i}", *row) for i, row in enumerate(rows)))
    return BuildUp(layers=[layer.model_copy(update={"existing": True}) for layer in made.layers])


def _ways(found: BuildUp, place: Place, limits: Limits | None = None, **more: Any) -> Proposals:
    return propose(situation(found, Stand(place, limits or Limits(target_u_w_m2k=0.3), **more)))


@cache
def _settled(found: str, place: str) -> Found | None:
    return settle(BuildUp.model_validate_json(found), Place.model_validate_json(place))


def _verdict(option: BuildUp, found: BuildUp, place: Place, **facts: Any) -> Verdict:
    before = _settled(found.model_dump_json(), place.model_dump_json())
    what = stated(option, found, place, shipped(place.climate), option == found).model_copy(update=facts)
    if option == found:
        assert before is not None
        return verdict(before.findings, None, what, checked_limits(LIMITS, {}))
    return verdict(
        years_of(option, place, before), before.findings if before else None, what, checked_limits(LIMITS, {})
    )


def _stands(way: str, found: BuildUp, place: Place, limits: Limits) -> Stands:
    at = situation(found, Stand(place, limits))
    return stands(
        way_of(way), at, _settled(found.model_dump_json(), place.model_dump_json()), checked_limits(LIMITS, {})
    )


# --- anatomy -------------------------------------------------------------------------------------------


def _41() -> Row:
    lined = _of(("weatherboards", 20), ("air_unventilated", 100, 0.15), ("gypsum_board", 12.5))
    make = Make(Anatomy(lined, OSTMOOR)).kind
    return "boards nailed on studs, lined", make, [("the lining changes nothing", make == "bare cladding")]


def _42() -> Row:
    make = Make(Anatomy(_of(("concrete_precast", 160), ("gypsum_plaster", 8)), OSTMOOR)).kind
    return "load-bearing panels of concrete", make, [("no steel frame", make == "large panel")]


def _43() -> Row:
    found = _of(("profiled_sheet", 1), ("mineral_fibre_038", 100), ("gypsum_board", 12.5))
    found = found.model_copy(
        update={"layers": [found.layers[0], found.layers[1].model_copy(update={"framing": STEEL}), found.layers[2]]}
    )
    plane, make = sensitive_plane(found, OSTMOOR), Make(Anatomy(found, OSTMOOR)).kind
    return (
        "steel skin on steel studs",
        f"{make}; {plane.words if plane else 'no plane'}",
        [("a steel frame", make == "steel frame"), ("studs do not rot", plane is None or plane.layer_id != "l1")],
    )


def _44() -> Row:
    found = _of(
        ("weatherboards", 20),
        ("felt",),
        ("sarking_boards", 20),
        ("air_unventilated", 100, 0.15),
        ("gypsum_board", 12.5),
    )
    rain = control_layers(found, OSTMOOR).rain
    wood = {row.layer_id: row.judged for row in model_of(found, OSTMOOR).wood}
    return (
        "weatherboards tight on felt",
        rain.because.metric,
        [
            ("the felt sheds", rain.layer_id == "l1"),
            ("boards behind are judged, the cladding reported", wood == {"l0": False, "l2": True}),
        ],
    )


def _45() -> Row:
    found = _of(("rubber_sheet",), ("sarking_boards", 24), ("air_unventilated", 180, 0.1), ("gypsum_board", 12.5))
    rain = control_layers(found, FLAT).rain
    return "flat roof under rubber", rain.because.metric, [("the rubber sheds", rain.layer_id == "l0")]


def _46() -> Row:
    found = _of(
        ("earth", 100),
        ("dimpled_sheet",),
        ("bitumen_sheet",),
        ("pir_fleece", 140),
        ("self_adhered_tight",),
        ("concrete", 180),
    )
    words = " ".join(trap.sentence.metric for trap in traps(found, FLAT)) or "no trap"
    return (
        "planted roof",
        words,
        [
            ("soil is in no trap", "earth" not in words),
            ("a planted roof", Make(Anatomy(found, FLAT)).kind == "planted roof"),
        ],
    )


def _47() -> Row:
    tight = [("osb", 15), ("mineral_fibre_035", 140, 0.1), ("membrane_tight",), ("gypsum_board", 12.5)]
    barely, open_gap = (
        _of(("profiled_sheet", 1), (gap, 25), ("self_adhered_tight",), *tight)
        for gap in ("air_drained", "air_ventilated")
    )
    words = " ".join(trap.sentence.metric for trap in traps(barely, OSTMOOR))
    return (
        "tight sheets behind a gap",
        words,
        [
            (
                "a trap, whatever the gap",
                any(t.tight for t in traps(barely, OSTMOOR)) and any(t.tight for t in traps(open_gap, OSTMOOR)),
            )
        ],
    )


def _48() -> Row:
    found = _of(("concrete", 200), ("bitumen_sheet",))
    roof = BuildUp(layers=list(reversed(found.layers)))
    offered = [one.way for one in _ways(roof, FLAT).offered]
    return (
        "flat roof of concrete",
        ", ".join(offered),
        [
            ("nothing between joists that are not there", "flat_between" not in offered and "roof_foam" not in offered),
            ("a warm roof", "flat_warm" in offered),
        ],
    )


# --- ways ----------------------------------------------------------------------------------------------


def _49() -> Row:
    cavity = _of(("brick_ordinary", 102), ("air_unventilated", 60), ("brick_ordinary", 102), ("gypsum_plaster", 13))
    one = next(o for o in _ways(cavity, Place(climate="karrental", facing_deg=90)).offered if o.way == "outside_render")
    words = "; ".join(line.metric for line in one.first)
    return "still cavity, boards outside", words, [("it is closed, and no circle", "close the cavity" in words)]


def _50() -> Row:
    cavity = _of(("brick_old", 102), ("air_unventilated", 60), ("brick_old", 102), ("lime_plaster", 15))
    offered = [one.way for one in _ways(cavity, Place(climate="corrie", facing_deg=290, exposure="severe")).offered]
    return "cavity in driving rain", ", ".join(offered), [("filled and clad is one way", "cavity_fill_coat" in offered)]


def _51() -> Row:
    frame = _of(
        ("weatherboards", 20),
        ("building_paper",),
        ("sarking_boards", 20),
        ("air_unventilated", 100, 0.15),
        ("gypsum_board", 12.5),
    )
    said_of = _ways(frame, OSTMOOR, inside_untouchable=True)
    refused = " ".join(line.metric for row in said_of.refused for line in row.because)
    return (
        "frame whose inside is not touched",
        refused,
        [
            (
                "only from outside",
                {o.way for o in said_of.offered}
                <= {"outside_clad", "frame_out_fibre", "frame_out_mineral", "frame_out_foam"},
            ),
            ("said why", "The inside is not touched." in refused),
        ],
    )


def _52() -> Row:
    offered = {one.way for one in _ways(_of(("brick_old", 330)), OSTMOOR, escape_route=True).offered}
    return (
        "brick on an escape route",
        ", ".join(sorted(offered)),
        [
            ("no cladding that burns", "outside_clad" not in offered),
            ("mineral slabs", "outside_mineral_render" in offered),
        ],
    )


def _53() -> Row:
    brick, pool = _of(("brick_old", 330)), OSTMOOR.model_copy(update={"occupancy": "iso13788_5"})
    offered = {one.way: one for one in _ways(brick, pool).offered}
    doubts = " ".join(line.metric for line in offered["inside_variable"].doubts)
    return (
        "pool behind brick",
        doubts,
        [("a way of its own", "wet_room" in offered), ("the membrane is doubted", "A pool or wet room" in doubts)],
    )


def _54() -> Row:
    good = _of(
        ("larch_boards", 22), ("air_ventilated", 30), ("membrane_open",), ("wood_fibre_board", 200), ("logs", 180)
    )
    offered = _ways(good, OSTMOOR).offered
    return (
        "logs insulated already",
        ", ".join(f"{o.way} {o.u:.2f}" for o in offered if o.u),
        [("nothing that loses more heat", all((o.u or 0.0) < 0.19 for o in offered))],
    )


# --- years in words ------------------------------------------------------------------------------------

WET_CELLAR = Place(adjoining="ground", ground="wet", climate="corrie", factor_b=0.6)
RUBBLE = (("sandstone_rubble", 500), ("lime_plaster", 20))


def _55() -> Row:
    found = _of(*RUBBLE)
    option = _of(*RUBBLE, ("mineral_fibre_035", 90), ("membrane_tight",), ("gypsum_board", 12.5))
    one = _verdict(option, found, WET_CELLAR)
    return "wet cellar, batts and plastic", one.headline.metric, [("over a limit", one.state == "over a limit")]


def _56() -> Row:
    found = _of(("brick_old", 250), ("lime_plaster", 15))
    place = Place(climate="sollera", facing_deg=45, exposure="sheltered")
    option = _of(
        ("brick_old", 250), ("lime_plaster", 15), ("lime_adhesive", 8), ("calcium_silicate", 30), ("lime_plaster", 6)
    )
    wet = _verdict(option, found, place, read_wet=[said("25 % read in the wood")])
    return (
        "computed dry, read wet",
        wet.headline.metric,
        [
            (
                "said, and no more than marginal",
                "computed dry, read wet" in wet.headline.metric and wet.state != "within limits",
            ),
            ("what would have to be true", any("something must reach it" in note.metric for note in wet.notes)),
        ],
    )


def _57() -> Row:
    found = _of(("oak_floor", 22))
    place = Place(kind="floor", adjoining="unheated", factor_b=0.8, slope_deg=0.0, climate="millrace")
    option = _of(("spray_foam_closed", 90, 0.13), ("oak_floor", 22))
    one = _verdict(option, found, place)
    through = [j for j in one.judgements if j.path == "member"]
    words = through[0].sentence.metric if through else "no path through the joists"
    return (
        "foam under a floor",
        words,
        [("the joists are judged too", bool(through) and words.startswith("Through the member"))],
    )


def _58() -> Row:
    found = _of(("brick_old", 330), ("mineral_fibre_035", 80), ("membrane_tight",), ("gypsum_board", 12.5))
    place = Place(climate="millrace", facing_deg=180, exposure="exposed", occupancy="cooled")
    words = _verdict(found, found, place).as_found_words.metric
    return (
        "as found, wet in summer",
        words,
        [
            ("never: dries each summer", "dries each summer" not in words),
            ("where and when, or which limit", " each " in words or "over a limit" in words or "all year" in words),
        ],
    )


def _59() -> Row:
    place = Place(climate="corrie", facing_deg=290, exposure="severe")
    one = _stands(
        "inside_variable",
        _of(("sandstone_soft", 400), ("lime_plaster", 20)),
        place,
        Limits(target_u_w_m2k=0.35, outside_mm=0.0),
    )
    return (
        "soaked stone, fibre inside",
        f"{one.state}: {one.because.metric}",
        [("it does not stand, and why", one.state != "stands" and len(one.because.metric) > 20)],
    )


def _60() -> Row:
    place = Place(climate="sollera", facing_deg=45, exposure="sheltered")
    one = _stands(
        "inside_calcium_silicate",
        _of(("brick_old", 250), ("lime_plaster", 15)),
        place,
        Limits(target_u_w_m2k=0.9, room_mm=90.0),
    )
    return (
        "dry brick, a capillary board",
        f"{one.state}, {one.mm} mm, most {one.most_mm}",
        [
            (
                "it stands, with the least and the most",
                one.state == "stands" and one.least_mm is not None and one.most_mm is not None,
            )
        ],
    )


MORE_ROWS: tuple[Callable[[], Row], ...] = (
    _41, _42, _43, _44, _45, _46, _47, _48, _49, _50, _51, _52, _53, _54, _55, _56, _57, _58, _59, _60,
)  # fmt: skip

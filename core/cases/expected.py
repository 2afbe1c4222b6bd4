"""`expected`: forty walls, and what must be said of each, tried on the program's own words. None of them is of the demo.

Each statement builds its wall, asks the program as the interface does, and checks the meaning of what it says. A row fails
when a check does; the words are printed either way.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import date
from functools import cache
from typing import Any

from core.assembly.control import control_layers
from core.buildup.leaks import Leaks
from core.buildup.model import AirLeakage, BuildUp, BuildUpLayer, Framing, Limits, Metal, Place, RainLeakage
from core.buildup.planes import sensitive_plane
from core.climate.data import shipped
from core.criteria.judging import checked_limits
from core.criteria.registry import LIMITS
from core.criteria.run_findings import RunFindings, find_all
from core.criteria.stated import stated
from core.criteria.verdict import Verdict, verdict, yearly_wetting
from core.criteria.wetting import WettingTest, wetting_test
from core.moisture.outboard import outboard
from core.moisture.steady import condensation
from core.moisture.traps import traps
from core.preview import Preview, preview
from core.readiness.reason import Pin, PinPlace, Surroundings, facts_of, remedies
from core.readiness.weigh import weigh
from core.runs import asked, run_years
from core.say import say, small_water
from core.study import summarise
from core.survey.exposure import FaceExposure, exposure_steps
from core.survey.shape import Site
from core.thermal.iso13370 import GroundPlace, slab_transmittance

Check = tuple[str, bool]
MORE_OR_LESS = 1.3  # “close to” is within this factor


@dataclass(frozen=True)
class Statement:
    """One row: what the program says of a wall, and every check that does not hold."""

    number: int
    wall: str
    words: str
    failed: list[str]


def _layer(id: str, material: str, mm: Any = None, **more: Any) -> BuildUpLayer:
    return BuildUpLayer(id=id, material=material, thickness_mm=mm, **more)


def _of(*rows: tuple[Any, ...], **more: Any) -> BuildUp:
    """Rows of (id, material, mm, framing share of softwood); with leaks."""
    layers = [
        _layer(
            id, material, *rest[:1], **({"framing": Framing(material="softwood", share=rest[1])} if rest[1:] else {})
        )
        for id, material, *rest in rows
    ]
    return BuildUp(layers=layers, **more)


def _plus(build_up: BuildUp, *rows: tuple[Any, ...]) -> BuildUp:
    """With layers at the room side."""
    return BuildUp(layers=[*build_up.layers, *_of(*rows).layers])


@cache
def _years(build_up: str, place: str, as_found: str) -> tuple[RunFindings, str]:
    found = BuildUp.model_validate_json(as_found) if as_found else None
    one = asked(BuildUp.model_validate_json(build_up), Place.model_validate_json(place), found)
    model, outcome, _ = run_years(one)
    return find_all(model, outcome), one.key


def _findings(build_up: BuildUp, place: Place, as_found: BuildUp | None = None) -> RunFindings:
    other = as_found.model_dump_json() if as_found else ""
    return _years(build_up.model_dump_json(), place.model_dump_json(), other)[0]


def _verdict(build_up: BuildUp, place: Place, as_found: BuildUp, sound_years: int = 0) -> Verdict:
    facts = stated(build_up, as_found, place, shipped(place.climate), False, sound_years)
    option, found = _findings(build_up, place, as_found), _findings(as_found, place)
    return verdict(option, found, facts, checked_limits(LIMITS, {}))


def _told(found: Verdict, criterion: str) -> list[str]:
    return [j.sentence.metric for j in found.judgements if j.criterion == criterion and j.phase == "for good"]


def _preview(option: BuildUp, as_found: BuildUp, place: Place) -> Preview:
    return preview(as_found, option, place, Limits())


@cache
def _wetted(build_up: str, place: str, as_found: str) -> WettingTest:
    plane = sensitive_plane(BuildUp.model_validate_json(as_found), Place.model_validate_json(place))
    assert plane is not None
    return wetting_test(BuildUp.model_validate_json(build_up), Place.model_validate_json(place), plane)


def _wet(build_up: BuildUp, place: Place, as_found: BuildUp) -> WettingTest:
    return _wetted(build_up.model_dump_json(), place.model_dump_json(), as_found.model_dump_json())


# --- the walls -----------------------------------------------------------------------------------------

RAINED = Place(facing_deg=290, exposure="exposed", climate="corrie")
DRY_CORRIE = Place(facing_deg=45, exposure="sheltered", climate="corrie")
DRY = Place(facing_deg=45, exposure="sheltered", climate="ostmoor")
RUBBLE = _of(("stone", "sandstone_rubble", 500), ("plaster", "lime_plaster", 20))
BRICK = _of(("brick", "brick_old", 330), ("plaster", "lime_plaster", 15))
OUTSIDE = BuildUp(
    layers=[*_of(("paint", "silicate_paint"), ("render", "lime_render", 12), ("fibre", "wood_fibre_board", 100)).layers, *RUBBLE.layers]
)  # fmt: skip


def _lined(mm: float) -> BuildUp:
    return _plus(RUBBLE, ("wool", "mineral_fibre_035", mm), ("sheet", "membrane_variable_medium"), ("board", "gypsum_board", 12.5))  # fmt: skip


def _frame(
    *outside: tuple[Any, ...], fill: str = "mineral_fibre_035", mm: float = 140, inner: str = "", **more: Any
) -> BuildUp:
    sheet = [("inner", inner)] if inner else []
    return _of(*outside, ("fill", fill, mm, 0.1), *sheet, ("lining", "gypsum_board", 12.5), **more)


CLAD = (("larch", "larch_boards", 22), ("gap", "air_ventilated", 30))


# --- comparison ----------------------------------------------------------------------------------------


def _01() -> tuple[str, str, list[Check]]:
    bare = _wet(RUBBLE, RAINED, RUBBLE)
    linings = {
        "fibre and variable membrane": _lined(80),
        "wood fibre in lime": _plus(RUBBLE, ("bed", "lime_adhesive", 8), ("fibre", "wood_fibre_board", 60)),
        "rigid foam": _plus(RUBBLE, ("foam", "pur_foam", 60), ("board", "gypsum_board", 12.5)),
    }
    tests = {name: _wet(option, RAINED, RUBBLE) for name, option in linings.items()}
    words = "; ".join(
        f"{name}: {100 * test.e[89]:.0f} % left after 90 days" for name, test in {"bare": bare, **tests}.items()
    )
    checks = [(f"{name} keeps more than the bare wall", test.e[89] > bare.e[89]) for name, test in tests.items()]
    checks.append(("never 0 days", all(test.mean_stay_days > 1.0 for test in [bare, *tests.values()])))
    return "bare rubble on the rain face, and linings inside", words, checks


def _02() -> tuple[str, str, list[Check]]:
    stays = [_wet(_lined(mm), RAINED, RUBBLE).mean_stay_days for mm in (40, 80, 160)]
    words = "; ".join(f"{mm} mm: stays {stay:.0f} days" for mm, stay in zip((40, 80, 160), stays, strict=True))
    return (
        "the same with 40, 80 and 160 of fibre",
        words,
        [("more is left with more insulation", stays == sorted(stays))],
    )


def _03() -> tuple[str, str, list[Check]]:
    bare, outside = _wet(RUBBLE, RAINED, RUBBLE), _wet(OUTSIDE, RAINED, RUBBLE)
    close = 1 / MORE_OR_LESS < outside.mean_stay_days / bare.mean_stay_days < MORE_OR_LESS
    return "the same with wood fibre outside, rendered open", outside.sentence.metric, [("close to bare", close)]


def _04() -> tuple[str, str, list[Check]]:
    boards = (("larch", "larch_boards", 22), ("gap", "air_drained", 25), ("boards", "sarking_boards", 22))
    found = _of(*boards, ("fill", "air_unventilated", 90, 0.1), ("lining", "gypsum_board", 12.5))
    option = _of(*boards, ("fill", "wood_fibre_batt", 90, 0.1), ("lining", "gypsum_board", 12.5))
    one = _preview(option, found, DRY)
    share = one.drying_left.share
    words = f"{one.plane and one.plane.words}: {share and round(100 * share)} % of its drying left"
    return (
        "frame with boards behind a drained gap, a batt put in",
        words,
        [
            ("the plane is at the boards", one.plane is not None and one.plane.layer_id == "boards"),
            ("below 100 %", share is not None and share < 1.0),
        ],
    )


def _05() -> tuple[str, str, list[Check]]:
    found = _of(*CLAD, ("open", "membrane_open"), ("boards", "sarking_boards", 22), ("fill", "cellulose_dense", 300, 0.1), ("osb", "osb", 15), ("lining", "gypsum_board", 12.5))  # fmt: skip
    one = _preview(found, found, DRY)
    assert one.drying is not None
    out = one.drying.outward
    words = say("{plane}: outward {dry} to {to}", plane=one.drying.plane, dry=small_water(out.g_m2), to=out.to).metric
    return (
        "double frame of 300, open outside",
        words,
        [
            ("the plane is the outer sheathing", one.plane is not None and one.plane.layer_id == "boards"),
            ("outward drying is given", out.g_m2 > 0.0),
        ],
    )


def _06() -> tuple[str, str, list[Check]]:
    active = _plus(RUBBLE, ("bed", "lime_adhesive", 8), ("board", "calcium_silicate", 62))
    foam = _plus(RUBBLE, ("board", "pur_foam", 25), ("lining", "gypsum_board", 12.5))
    one, other = _preview(active, RUBBLE, RAINED), _preview(foam, RUBBLE, RAINED)
    assert one.drying is not None
    words = f"board: liquid too, by {', '.join(one.drying.inward.liquid)}; foam: no share, {other.drying_left.why_not}"
    return "stone with a capillary-active board against foam of the same R", words, [
        ("liquid drying of the board is said", bool(one.drying.inward.liquid)),
        ("the foam is not set against it by vapour alone", other.drying_left.share is None and "liquid" in other.drying_left.why_not),
    ]  # fmt: skip


def _07() -> tuple[str, str, list[Check]]:
    place = Place(kind="floor", adjoining="unheated", factor_b=0.8, climate="corrie", slope_deg=0)
    found = _of(("joists", "air_vented", 150, 0.12), ("floor", "oak_floor", 22))
    option = _of(("sheet", "membrane_open"), ("joists", "wood_fibre_batt", 150, 0.12), ("floor", "oak_floor", 22))
    one = _preview(option, found, place)
    share = one.drying_left.share
    left = one.drying_left.why_not if share is None else f"{round(100 * share)} % of its drying left"
    words = f"{one.plane and one.plane.because}: {left}"
    return "joisted floor over a void, batts put in", words, [
        ("the plane is the joists' cold side", one.plane is not None and one.plane.layer_id == "joists" and one.plane.face == "outer"),
        ("not more than as found, or no share at all, with the reason", share <= 1.0 if share is not None else "only a film" in left),
    ]  # fmt: skip


def _08() -> tuple[str, str, list[Check]]:
    option = _lined(80)
    one = _preview(option, RUBBLE, RAINED)
    assert one.drying is not None
    wet, before = (yearly_wetting(_findings(b, RAINED, f)) for b, f in ((option, RUBBLE), (RUBBLE, None)))
    words = say(
        "gets in {wet} a year, as found {before}; can dry {dry} by vapour. {driver}",
        wet=small_water(1000 * wet), before=small_water(1000 * before), dry=small_water(one.drying.total_g_m2),
        driver=_verdict(option, RAINED, RUBBLE).driver,
    ).metric  # fmt: skip
    return "any option: wetting by source beside drying", words, [("a source is named", "most is" in words)]


def _09() -> tuple[str, str, list[Check]]:
    one = _verdict(_lined(80), RAINED, RUBBLE)
    _findings(RUBBLE, RAINED)
    again = _verdict(_lined(80), RAINED, RUBBLE)
    words = " ".join(s.metric for s in again.not_judged)
    return (
        "two runs that end in either order",
        again.headline.metric,
        [
            ("the same verdict", one == again),
            ("never: run its years first", "not run" not in words),
        ],
    )


def _10() -> tuple[str, str, list[Check]]:
    changed = _of(("stone", "sandstone_rubble", 400), ("plaster", "lime_plaster", 20))
    keys = [asked(_lined(80), RAINED, found).key for found in (RUBBLE, changed)]
    return "as found changed after an option was run", "the option's run is out of date", [("another run is asked for", keys[0] != keys[1])]  # fmt: skip


# --- criteria ------------------------------------------------------------------------------------------

BRICK_LINED = _plus(BRICK, ("wool", "mineral_fibre_035", 60), ("sheet", "membrane_variable_medium"), ("board", "gypsum_board", 12.5))  # fmt: skip


def _11() -> tuple[str, str, list[Check]]:
    found = _verdict(BRICK_LINED, DRY_CORRIE, BRICK)
    words = "; ".join(s.metric for s in found.not_judged)
    return (
        "lining on a dry face, no metal stated",
        words,
        [
            ("no metal is said to be stated", "metal (none stated)" in words),
            ("metal is not judged", not _told(found, "metal")),
        ],
    )


def _12() -> tuple[str, str, list[Check]]:
    iron = {"metal": Metal(part="cramps", kind="iron")}
    found = BuildUp(layers=[BRICK.layers[0].model_copy(update=iron), *BRICK.layers[1:]])
    option = BuildUp(layers=[found.layers[0], *BRICK_LINED.layers[1:]])
    words = " ".join(_told(_verdict(option, DRY_CORRIE, found), "metal"))
    return (
        "the same with cramps of iron at the face of the masonry",
        words,
        [("hours of wetness against as found", "hours a year" in words and "as found" in words)],
    )


def _13() -> tuple[str, str, list[Check]]:
    place = Place(kind="roof", slope_deg=40, facing_deg=0, climate="corrie")
    found = _of(("slate", "slate", 8), ("sarking", "sarking_boards", 22), ("space", "air_vented", 150), ("ceiling", "lime_plaster", 20))  # fmt: skip
    found = BuildUp(layers=[layer.model_copy(update={"existing": True}) for layer in found.layers])
    one = _verdict(found, place, found, sound_years=120)
    words = " ".join(_told(one, "timber"))
    over = [j for j in one.judgements if j.state == "over a limit" and j.phase == "for good"]
    return (
        "softwood sarking under slates, as found and sound",
        f"{one.headline.metric}. {words}",
        [
            ("the caution of 20 % is told", "caution is 20 %" in words),
            ("not over a limit as it stands", not over),
        ],
    )


def _14() -> tuple[str, str, list[Check]]:
    place = Place(facing_deg=0, exposure="sheltered", climate="ostmoor")
    found = _of(*CLAD, ("osb", "osb", 18), ("fill", "air_unventilated", 140, 0.1), ("lining", "gypsum_board", 12.5))
    one = _verdict(_frame(*CLAD, ("osb", "osb", 18)), place, found)
    words = f"{one.headline.metric}. {' '.join(_told(one, 'sheet'))}"
    return (
        "OSB outside 140 of fibre without a retarder, cold continental, north",
        words,
        [
            ("over a limit", one.state == "over a limit"),
            ("sheet moisture is named", "sheet moisture" in one.headline.metric),
        ],
    )


def _15() -> tuple[str, str, list[Check]]:
    option = _plus(
        BRICK, ("bed", "lime_adhesive", 8), ("fibre", "wood_fibre_board", 60), ("finish", "lime_plaster", 10)
    )
    one = _verdict(option, DRY, BRICK)
    of_fibre = {j.criterion for j in one.judgements if j.layer_id == "fibre"}
    return (
        "wood-fibre insulation inside on a dry face",
        f"judged by {', '.join(sorted(of_fibre))}: {one.headline.metric}",
        [
            ("by lost R and wet fibre", {"wet insulation", "wood fibre"} <= of_fibre),
            ("not as a load-bearing sheet", not {"sheet", "timber"} & of_fibre),
        ],
    )


def _16() -> tuple[str, str, list[Check]]:
    place = Place(facing_deg=290, exposure="severe", climate="corrie")
    found = _of(("logs", "logs", 60), ("lining", "sarking_boards", 15))
    one = _verdict(found, place, found)
    return (
        "as found over a limit, the option the same",
        one.headline.metric,
        [
            ("marginal", one.state == "marginal"),
            ("no change", "no change" in one.headline.metric),
        ],
    )


def _17() -> tuple[str, str, list[Check]]:
    place = Place(facing_deg=225, exposure="severe", climate="corrie")
    proof = {"frost_proof": True}
    lined = _plus(BRICK, ("foam", "pur_foam", 100), ("board", "gypsum_board", 12.5))
    unknown = _verdict(lined, place, BRICK)
    known = BuildUp(layers=[layer.model_copy(update=proof) for layer in lined.layers])
    found = BuildUp(layers=[layer.model_copy(update=proof) for layer in BRICK.layers])
    one = _verdict(known, place, found)
    words = f"unknown: {' '.join(_told(unknown, 'frost')) or 'not judged'}; stated frost-proof: {one.headline.metric}"
    return "frost-proof brick stated", words, [("frost is one where it is not known", bool(_told(unknown, "frost"))), ("frost is no reason", not _told(one, "frost") and "frost" not in one.headline.metric)]  # fmt: skip


def _18() -> tuple[str, str, list[Check]]:
    draws = [{"rain exposure": 1.0 + i / 100.0} for i in range(100)]
    found = summarise(draws, [i >= 97 for i in range(100)], [0.5 + i / 200.0 for i in range(100)])
    words = found.words.metric
    return (
        "a study with 3 of 100 draws over",
        words,
        [
            ("of the draws from the ranges typed", "3 of 100 draws from the ranges typed" in words),
            ("with its interval", "95 % interval" in words),
            ("not of walls", "such walls" not in words),
        ],
    )


# --- leaks, rain, roles --------------------------------------------------------------------------------


def _19() -> tuple[str, str, list[Check]]:
    place = Place(facing_deg=0, exposure="sheltered", climate="ostmoor")
    outside = (("render", "cement_render", 15), ("foam", "eps_035", 25), ("osb", "osb", 12))
    one = _frame(*outside, air_leak=AirLeakage(preset="leaky"))
    share = outboard(one, place, shipped("ostmoor"), "osb", "eps_035")
    words = f"room air cools at the inner face of {Leaks(one, Place()).air_leak_layer()}; month {share.month + 1}, {100 * share.peak_rh_now:.0f} % there; share outside {100 * share.share_now:.0f} %, {100 * (share.share_needed or 0):.0f} % needed"  # fmt: skip
    return (
        "frame with 25 of foam outside, leaky",
        words,
        [
            ("at the inner face of the sheathing", Leaks(one, Place()).air_leak_layer() == "osb"),
            ("the thin share fails, in January", share.month == 0 and share.peak_rh_now > 0.8),
        ],
    )


def _20() -> tuple[str, str, list[Check]]:
    one = _frame(("render", "lime_render", 15), ("board", "wood_fibre_board", 60), ("osb", "osb", 12), rain_leak=RainLeakage(share=0.01))  # fmt: skip
    return (
        "rendered board on sheathing, rain leak at a window",
        f"rain arrives at the inner face of {Leaks(one, Place()).rain_leak_layer()}",
        [("behind the board, on the structure", Leaks(one, Place()).rain_leak_layer() == "board")],
    )


def _21() -> tuple[str, str, list[Check]]:
    one = _frame(
        ("leaf", "brick_hard", 100), ("gap", "air_drained", 25), ("felt", "felt"), ("boards", "sarking_boards", 22)
    )
    rain = control_layers(one, Place()).rain
    return (
        "brick leaf, gap, felt on boards, frame",
        rain.because.metric,
        [("the felt sheds the rain", rain.layer_id == "felt")],
    )


def _22() -> tuple[str, str, list[Check]]:
    one = _frame(*CLAD, ("underlay", "membrane_open"), ("boards", "sarking_boards", 22))
    found = control_layers(one, Place())
    return (
        "larch on open battens, underlay",
        f"air: {found.air.because.metric}; vapour: {found.vapour.because.metric}",
        [
            ("the underlay, when taped", found.air.layer_id == "underlay" and "taped" in found.air.because.metric),
            ("larch is no vapour control", found.vapour.layer_id != "larch"),
        ],
    )


def _23() -> tuple[str, str, list[Check]]:
    one = _of(("slate", "slate", 8), ("boards", "sarking_boards", 22), ("fill", "mineral_fibre_035", 150, 0.1), ("lining", "gypsum_board", 12.5))  # fmt: skip
    found = control_layers(one, Place(kind="roof", slope_deg=40.0)).vapour
    return "slate on boards", found.because.metric, [("slate is no vapour control", found.layer_id != "slate")]


def _24() -> tuple[str, str, list[Check]]:
    board = _layer("lining", "gypsum_board", 12.5, air_barrier=True)
    one = BuildUp(layers=[*_frame(*CLAD, ("boards", "sarking_boards", 22)).layers[:-1], board])
    words = control_layers(one, Place()).air.because.metric
    return (
        "plasterboard declared the air barrier",
        words,
        [
            (
                "declared, not tested, what proves it",
                "declared" in words and "not tested" in words and "blower door" in words,
            ),
            ("not: boards let air through", "let air through" not in words),
        ],
    )


def _25() -> tuple[str, str, list[Check]]:
    found = exposure_steps(Site(), FaceExposure(overhang_m=0.6, height_m=6.0), 5.0)
    shares = {strip.strip: strip.factor for strip in found.strips}
    words = f"{', '.join(f'{name} {share:.2f}' for name, share in shares.items())}; worst: {found.worst_strip}"
    return (
        "overhang of 600 over a wall 6 m high",
        words,
        [
            ("the top drier, the foot full", shares["top"] < 0.8 and shares["foot"] == 1.0),
            ("the worst strip is named", found.worst_strip == "foot"),
        ],
    )


def _26() -> tuple[str, str, list[Check]]:
    found = _of(("paint", "oil_paint"), ("boards", "larch_boards", 20), ("paper", "building_paper"), ("fill", "air_unventilated", 90, 0.1), ("lining", "gypsum_board", 12.5))  # fmt: skip
    words = next((s.metric for s in _verdict(found, RAINED, found).notes if "oil paint" in s.metric.lower()), "")
    return "old oil paint on weatherboards", words, [("cracks let rain in, the film holds it", "cracks" in words and "holds it behind" in words)]  # fmt: skip


# --- traps, ground, places -----------------------------------------------------------------------------


def _27() -> tuple[str, str, list[Check]]:
    found = traps(
        _frame(("render", "cement_render", 12), ("foam", "xps_034", 120), ("osb", "osb", 12), inner="membrane_tight"),
        Place(climate="ostmoor"),
    )
    words = " ".join(trap.sentence.metric for trap in found)
    return (
        "foam outside, plastic sheet inside, OSB between",
        words,
        [
            ("a trap", any(trap.tight for trap in found)),
            ("its planes are named", any((trap.outer, trap.inner) == ("foam", "inner") for trap in found)),
        ],
    )


def _28() -> tuple[str, str, list[Check]]:
    deck = (("bitumen", "bitumen_sheet"), ("boards", "sarking_boards", 22))
    closed, variable = (
        traps(_frame(*deck, inner=inner), Place(kind="roof", slope_deg=2.0, climate="ostmoor"))
        for inner in ("membrane_tight", "membrane_variable_strong")
    )
    words = f"{' '.join(t.sentence.metric for t in closed)} With a variable membrane: {' '.join(t.sentence.metric for t in variable) or 'none'}"  # fmt: skip
    return (
        "bitumen above, plastic below, boards between",
        words,
        [
            ("a trap", any(trap.tight for trap in closed)),
            ("a variable membrane loosens it", not any(trap.tight for trap in variable)),
        ],
    )


def _29() -> tuple[str, str, list[Check]]:
    place = Place(kind="roof", slope_deg=40, climate="ostmoor")
    one = _of(("tiles", "clay_tiles", 15), ("gap", "air_ventilated", 50), ("open", "membrane_open"), ("over", "wood_fibre_board", 60), ("fill", "wood_fibre_batt", 200, 0.1), ("sheet", "membrane_variable_medium"), ("lining", "gypsum_board", 12.5))  # fmt: skip
    found = condensation(one, place, shipped("ostmoor"))
    words = f"judged: most {found.peak_g_m2:.0f} g/m², dries each year: {found.dries_each_year}"
    return (
        "over-rafter wood fibre on a roof",
        words if found.judged else found.why_not,
        [("the monthly check applies", found.judged)],
    )


def _30() -> tuple[str, str, list[Check]]:
    slab = GroundPlace(area_m2=96.0, perimeter_m=40.0)
    before, after = slab_transmittance(slab, 0.1), slab_transmittance(slab, 0.1 + 0.08 / 0.034)
    small = slab_transmittance(GroundPlace(area_m2=20.0, perimeter_m=18.0), 0.1)
    words = f"U {before:.2f} → {after:.2f} W/m²K, saves {100 * (1 - after / before):.0f} %; a floor of 20 m² has {small:.2f}"
    return (
        "slab of 12 × 8 m, 80 of insulation",
        words,
        [
            ("by the size of the floor", small > 1.3 * before),
            ("the saving on that", 0.3 < 1.0 - after / before < 0.7),
        ],
    )


def _31() -> tuple[str, str, list[Check]]:
    place = Place(facing_deg=180, climate="millrace", occupancy="cooled")  # the part above the ground
    found = _of(("wall", "brick_hard", 300))
    option = _plus(
        found, ("wool", "mineral_fibre_035", 80, 0.1), ("sheet", "membrane_tight"), ("board", "gypsum_board", 12.5)
    )
    one = _verdict(option, place, found)
    point = next(p for p in one.points if p.layer_id == "wool")
    return "cellar wall above the ground, cooled humid summer, plastic inside", f"{one.headline.metric}. {point.name}: {100 * point.worst_month_rh:.0f} % in {point.worst_month}", [  # fmt: skip
        ("wet at the sheet's outer face in summer", point.worst_month_rh > 0.95 and point.worst_month in ("June", "July", "August")),
        ("not fine", one.state != "within limits"),
    ]  # fmt: skip


def _32() -> tuple[str, str, list[Check]]:
    bath, living = (Place(facing_deg=0, climate="ostmoor", occupancy=room) for room in ("bath", "normal"))
    needed = [condensation(BRICK, place, shipped("ostmoor")).surface_factor_needed for place in (bath, living)]
    assert needed[0] is not None and needed[1] is not None
    words = f"f_Rsi needed: {needed[0]:.2f} in the bath, {needed[1]:.2f} in the living room"
    return "bath over a cold wall", words, [("the bath's own air judges it", needed[0] > needed[1] + 0.05)]


def _first(kind: str, around: Surroundings, view: str = "elevation", x: float = 3.0, y: float = 2.5, **more: Any) -> tuple[str, list[str]]:  # fmt: skip
    """(id of the mechanism that comes first, titles of its remedies)."""
    pin = Pin(kind=kind, place=PinPlace(view=view, body="main", face="a", x_m=x, y_m=y), **more)
    facts = facts_of(pin, around)
    found = weigh(facts).proposals
    first = found[0].mechanism if found else ""
    return first, [remedy.title_said.metric for remedy in remedies(first, facts)] if first else []


def _words(first: str, titles: list[str]) -> str:
    return f"{first}: {'; '.join(titles)}"


def _33() -> tuple[str, str, list[Check]]:
    void = Surroundings(element="floor", adjoining="unheated", heated=False)
    first, titles = _first("condensation", void, view="section", y=0.1, comes="humid_heat")
    words = _words(first, titles)
    return (
        "vented crawl space in a humid summer",
        words,
        [
            ("outside air condenses on what the ground cools", first == "summer"),
            ("close, sheet, warm as one school", "Close the void" in words),
            ("not: ventilate", "ventilate" not in words and "keep its vents open" not in words),
        ],
    )


def _34() -> tuple[str, str, list[Check]]:
    slab = Surroundings(element="floor", adjoining="ground")
    first, titles = _first(
        "condensation", slab, view="plan", side="inside", comes="humid_heat", seen_on=date(2026, 6, 20)
    )
    words = _words(first, titles)
    return (
        "basement slab that sweats in June",
        words,
        [
            ("summer condensation of outside air", first == "summer"),
            ("insulate the surface, dry the air", "Insulate or warm" in words and "dry its air" in words),
            ("not: ventilate, a winter log", "ventilate" not in words and "winter" not in words),
        ],
    )


# --- evidence ------------------------------------------------------------------------------------------


def _35() -> tuple[str, str, list[Check]]:
    byre = Surroundings(made="masonry", rain_face=True, eaves_m=4.0, face_width_m=8.0, floors_m=(0.0,))
    first, titles = _first("spalling", byre, y=0.4, side="inside", comes="dry_weather", salt_source="byre")
    return "flaking stone inside in a byre turned kitchen", _words(first, titles), [("salts", first == "salts")]


def _36() -> tuple[str, str, list[Check]]:
    flue = Surroundings(made="masonry", rain_face=True, eaves_m=5.0, face_width_m=8.0, floors_m=(0.0, 2.6))
    first, titles = _first("stain", flue, side="inside", comes="damp_weather", salt_source="flue", y=2.0)
    return (
        "brown stain round a disused flue, in damp weather",
        _words(first, titles),
        [("salts of the flue", first == "salts")],
    )


def _37() -> tuple[str, str, list[Check]]:
    floor = Surroundings(element="floor", adjoining="unheated", joist_wall_rained=True, made="masonry")
    first, titles = _first("soft_timber", floor, view="plan", side="inside", part="joist end")
    return (
        "soft joist end in the wall that takes the rain",
        _words(first, titles),
        [("rain through masonry", first == "rain")],
    )


def _38() -> tuple[str, str, list[Check]]:
    shed = Surroundings(element="roof", heated=False, made="metal", cladding="metal")
    first, titles = _first("condensation", shed, view="section", y=4.0, side="inside", comes="clear_nights")
    return (
        "drops under a metal roof on clear nights, open shed",
        _words(first, titles),
        [("night-sky cooling", first == "night_sky")],
    )


def _39() -> tuple[str, str, list[Check]]:
    door = Surroundings(
        made="frame", cladding="boards", openings=((2.5, 0.0, 1.0, 2.1),), eaves_m=5.0, face_width_m=8.0
    )
    first, titles = _first("insects", door, x=3.0, y=0.0)
    words = _words(first, titles)
    return (
        "ants in a sill under a door",
        words,
        [
            ("water first: sill and flashing", first == "runoff" and "Sill pan" in words),
            ("then the ants", titles.index(next(t for t in titles if "Sill pan" in t)) < len(titles)),
        ],
    )


def _40() -> tuple[str, str, list[Check]]:
    veneer = Surroundings(
        made="frame", cladding="leaf", gap="none", rain_face=True, reservoir=True, eaves_m=5.0, face_width_m=8.0
    )
    first, titles = _first("swollen_sheet", veneer, side="outside")
    words = _words(first, titles)
    return (
        "greyed sheathing behind stone veneer, no gap",
        words,
        [
            ("the soaked cladding drives water in", first == "rain"),
            ("new sheet behind a drained, vented gap", "New shedding sheet" in words),
            ("not: repoint in lime", "Repoint" not in words),
        ],
    )


ROWS: tuple[Callable[[], tuple[str, str, list[Check]]], ...] = (
    _01, _02, _03, _04, _05, _06, _07, _08, _09, _10, _11, _12, _13, _14, _15, _16, _17, _18, _19, _20,
    _21, _22, _23, _24, _25, _26, _27, _28, _29, _30, _31, _32, _33, _34, _35, _36, _37, _38, _39, _40,
)  # fmt: skip


def expected(numbers: set[int] | None = None) -> Iterator[Statement]:
    """Every statement, or those of the numbers, in order."""
    from core.cases.expected_more import MORE_ROWS

    for number, row in enumerate((*ROWS, *MORE_ROWS), start=1):
        if numbers and number not in numbers:
            continue
        wall, words, checks = row()
        yield Statement(number, wall, words, [what for what, holds in checks if not holds])

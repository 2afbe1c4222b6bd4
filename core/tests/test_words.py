"""Every sentence that the core can write, in both unit systems: nothing metric is left in inches, no sign stands twice."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from typing import Any
from unittest import TestCase

from pydantic import BaseModel

from core.assembly.control import control_layers
from core.brief import Brief, Where, limits_with_brief
from core.buildup.model import BuildUp, BuildUpLayer, Limits, Metal, Place
from core.buildup.planes import sensitive_plane
from core.climate.data import shipped
from core.criteria.judging import Stated, checked_limits
from core.criteria.registry import LIMITS
from core.criteria.run_findings import find_all
from core.criteria.stated import stated
from core.criteria.verdict import verdict
from core.criteria.wetting import wetting_test
from core.moisture.transient.solve import simulate
from core.preview import preview
from core.readiness.rules import rules
from core.runs import asked, fixed_years
from core.say import Said
from core.survey.exposure import FaceExposure, exposure_steps, word_steps
from core.survey.shape import Site

METRIC = re.compile(
    r"\d\s?(mm|cm|m|m²|m³|g|kg|°C|K|Pa|kPa|W|kW|kWh|l)(/|²|³|\b)|W/\(?m|kg/m|g/m²|m²K|°C|kWh/m"
)  # a number with a metric unit, or a metric unit alone
INCH = re.compile(r"\d\s?(in(?! \d)|ft|°F|lb|perm|psf|BTU)\b|\bR [\d.]+(?! m²K)(?![\d.])|ft²|°F")
TWICE = re.compile(r"R R|[–−-] ?[–−-]|\+ ?[−-]|°C ?°|\.\.(?!\.)|  |, ,|;;|\( | \)")


def layer(id: str, material: str, mm: float | None = None, **more: Any) -> BuildUpLayer:
    return BuildUpLayer(id=id, material=material, thickness_mm=mm, **more)


def sentences(thing: Any) -> Iterator[Said]:
    """Every pair of readings inside anything the core returns."""
    if isinstance(thing, Said):
        yield thing
    elif isinstance(thing, BaseModel):
        for name in type(thing).model_fields:
            yield from sentences(getattr(thing, name))
    elif is_dataclass(thing) and not isinstance(thing, type):
        for field in fields(thing):
            yield from sentences(getattr(thing, field.name))
    elif isinstance(thing, dict):
        for value in thing.values():
            yield from sentences(value)
    elif isinstance(thing, list | tuple):
        for value in thing:
            yield from sentences(value)


WALLS: list[tuple[str, Place, list[BuildUpLayer], list[BuildUpLayer]]] = [
    (
        "rained rubble, lined",
        Place(facing_deg=290, exposure="severe", climate="corrie"),
        [layer("stone", "sandstone_rubble", 300, metal=Metal(part="cramps", kind="iron")), layer("in", "lime_plaster", 20)],
        [layer("wool", "mineral_fibre_035", 80), layer("sheet", "membrane_tight"), layer("board", "gypsum_board", 12.5)],
    ),
    (
        "old paint on boards, frame",
        Place(facing_deg=0, climate="ostmoor"),
        [
            layer("paint", "oil_paint"),
            layer("boards", "larch_boards", 20),
            layer("osb", "osb", 12),
            layer("fill", "mineral_fibre_035", 140),
        ],
        [layer("sheet", "membrane_tight"), layer("board", "gypsum_board", 12.5)],
    ),
    (
        "foam outside, cooled house",
        Place(facing_deg=180, climate="millrace", occupancy="cooled"),
        [layer("render", "cement_render", 12), layer("foam", "xps_034", 120), layer("osb", "osb", 12)],
        [layer("fill", "wood_fibre_batt", 140), layer("sheet", "membrane_tight"), layer("board", "gypsum_board", 12.5)],
    ),
]  # fmt: skip


def of_walls() -> Iterator[Said]:
    limits = checked_limits(LIMITS, {})
    for _, place, found, more in WALLS:
        as_found, option = BuildUp(layers=found), BuildUp(layers=[*found, *more])
        findings = []
        for build_up in (as_found, option):
            model = fixed_years(asked(build_up, place, None).model, 2)
            findings.append(find_all(model, simulate(model.case)))
        facts = stated(option, as_found, place, shipped(place.climate), False, 150)
        yield from sentences(verdict(findings[0], None, facts.model_copy(update={"as_found": True}), limits))
        yield from sentences(verdict(findings[1], findings[0], facts, limits))
        everything = Stated(
            as_found=False, leak="leaky", rests_on_no_leak=True, rain_leak=0.01, rain_leak_by_rule=True,
            open_to_weather="fibre", nothing_sheds="boards", cracked_film="paint", capillary_lining=True, drying_g_m2=1.0,
        )  # fmt: skip
        low = {limit.key: limit.least for limit in LIMITS}
        yield from sentences(verdict(findings[1], findings[0], everything, low))
        yield from sentences(preview(as_found, option, place, Limits(room_mm=10, outside_mm=0)))
        for kind in ("wall", "roof", "floor"):
            yield from sentences(control_layers(option, place.model_copy(update={"kind": kind})))


def of_the_survey() -> Iterator[Said]:
    for remedy in rules().remedies:
        yield remedy.title_said
        yield remedy.shown_by_said
    for height in (3.0, 9.0):
        face = FaceExposure(
            obstruction_m=20, height_m=height, overhang_m=0.6, wind_funnel=True, splash="paved", gutters="blocked",
            sprinklers=True, reservoir_cladding=True,
        )  # fmt: skip
        yield from sentences(exposure_steps(Site(position="crest", upwind_slope=0.2), face, 5.0))
    yield from sentences(word_steps("exposed"))
    brief = Brief.model_validate(
        {
            "limits": [
                {"kind": kind, "most_mm": 40, "reason": "listed"} for kind in ("eaves", "room", "reveal", "boundary")
            ]
        }
    )
    yield from sentences(limits_with_brief(Limits(), brief, Where("wall", "", 0, overhang_mm=150.0)))


class Words(TestCase):
    def check(self, found: list[Said], least: int) -> None:
        self.assertGreater(len(found), least)
        wrong = []
        for pair in found:
            if METRIC.search(pair.inch):
                wrong.append(f"metric left: {pair.inch}")
            if INCH.search(pair.metric):
                wrong.append(f"inches in metric: {pair.metric}")
            wrong += [f"twice: {text}" for text in (pair.metric, pair.inch) if TWICE.search(text)]
            wrong += [f"a brace: {text}" for text in (pair.metric, pair.inch) if "{" in text or "None" in text]
        self.assertEqual(wrong, [])
        self.assertTrue(any(pair.metric != pair.inch for pair in found), "some carry quantities")

    def test_sentences_of_walls(self) -> None:
        self.check(list(of_walls()), 150)

    def test_sentences_of_the_survey(self) -> None:
        self.check(list(of_the_survey()), 60)

    def test_the_sentence_of_a_wetting_test(self) -> None:
        _, place, found, _ = WALLS[0]
        build_up = BuildUp(layers=found)
        plane = sensitive_plane(build_up, Place())
        assert plane is not None
        pair = wetting_test(build_up, place, plane).sentence
        self.assertNotRegex(pair.inch, METRIC)
        self.assertIn("lb", pair.inch)

    def test_this_test_can_fail(self) -> None:
        """The patterns find what they are for."""
        for text in ("12 mm", "at 10 °C", "0.3 W/m²K", "2 kg/m² a year", "sd 5 m outward"):
            self.assertRegex(text, METRIC)
        for text in ("R 13", "at 50 °F", "2 in of it"):
            self.assertRegex(text, INCH)
        self.assertRegex("R R 13.1", TWICE)

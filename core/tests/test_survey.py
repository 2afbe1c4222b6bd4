"""Geometry against areas worked by hand for ten shapes; section, elevations, exposure, brief, control layers."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

from pydantic import ValidationError
from shapely import Polygon

from core.assembly.control import control_layers
from core.brief import Brief, Where, limits_with_brief, missing_in, reveal_limit
from core.buildup.model import BuildUp, Limits, Place
from core.errors import OutOfRange
from core.readiness.progress import BRIEF_ASKS
from core.survey.drawings import best_cut, drawn, elevation_of, elevations, section
from core.survey.exposure import (
    FaceExposure,
    exposure_steps,
    obstruction_factor,
    overhang_share,
    roughness_coefficient,
    topography_coefficient,
    word_steps,
)
from core.survey.geometry import Building, derive
from core.survey.planes import bearing, offset
from core.survey.shape import Shape, Site

RECTANGLE = [(0, 0), (10, 0), (10, 8), (0, 8)]


def body(**more: Any) -> dict[str, Any]:
    return {
        "id": "main",
        "name": "House",
        "outline": RECTANGLE,
        "storeys": [{"name": "ground", "height_m": 3.0}],
        "wall_mm": 500,
        "roof": {"form": "flat", "pitch_deg": 0},
        **more,
    }


def shape(*bodies: dict[str, Any], **more: Any) -> Shape:
    return Shape.model_validate({"areas": "external", "bodies": list(bodies), **more})


def gross(building: Building) -> dict[str, float]:
    return {element.key: element.gross_area_m2 for element in building.elements}


class TenShapes(TestCase):
    def same(self, building: Building, expected: dict[str, float], volume: float, floor: float) -> None:
        found = gross(building)
        self.assertEqual(set(found), set(expected))
        for key, area in expected.items():
            self.assertAlmostEqual(found[key], area, places=6, msg=key)
        self.assertAlmostEqual(building.volume_m3, volume, places=6)
        self.assertAlmostEqual(building.floor_area_m2, floor, places=6)

    def test_1_box_under_a_flat_roof(self) -> None:
        self.same(
            derive(shape(body())),
            {"main/a": 30, "main/b": 24, "main/c": 30, "main/d": 24, "main/roof": 80, "main/floor": 80},
            240,
            80,
        )

    def test_2_the_same_in_internal_dimensions(self) -> None:
        # walls of 0.5 m leave 9 × 7 m
        self.same(
            derive(Shape.model_validate({"bodies": [body()]})),
            {"main/a": 27, "main/b": 21, "main/c": 27, "main/d": 21, "main/roof": 63, "main/floor": 63},
            189,
            63,
        )

    def test_3_gable_with_an_attic_room(self) -> None:
        # 45°: rise 4 m over half of 8 m; gables 8 × 4 / 2 = 16; slopes 10 × 4 / cos 45°; prism 10 × 16 = 160
        slope = 10 * 4 * math.sqrt(2)
        found = derive(shape(body(roof={"form": "gable", "pitch_deg": 45, "room": True})))
        self.same(
            found,
            {
                "main/a": 30,
                "main/b": 24 + 16,
                "main/c": 30,
                "main/d": 24 + 16,
                "main/roof/a": slope,
                "main/roof/c": slope,
                "main/floor": 80,
            },
            240 + 160,
            80 + 10 * (8 - 2 * 1.5),
        )

    def test_4_gable_over_a_cold_attic(self) -> None:
        found = derive(shape(body(roof={"form": "gable", "pitch_deg": 45}, below="void")))
        self.same(
            found,
            {"main/a": 30, "main/b": 24, "main/c": 30, "main/d": 24, "main/ceiling": 80, "main/floor": 80},
            240,
            80,
        )
        floor = next(e for e in found.elements if e.key == "main/floor")
        self.assertEqual((floor.adjoining, floor.perimeter_m), ("unheated", 36.0))

    def test_5_hip(self) -> None:
        # 45°: ridge 2 m long, 4 m high; long slopes (10 + 2) / 2 × 4 = 24 in plan, ends 8 × 4 / 2 = 16
        found = derive(shape(body(roof={"form": "hip", "pitch_deg": 45, "room": True})))
        root = math.sqrt(2)
        self.same(
            found,
            {
                "main/a": 30,
                "main/b": 24,
                "main/c": 30,
                "main/d": 24,
                "main/roof/a": 24 * root,
                "main/roof/c": 24 * root,
                "main/roof/b": 16 * root,
                "main/roof/d": 16 * root,
                "main/floor": 80,
            },
            # hip roof: b h (3 L − b) / 6 with b = 8, L = 10, h = 4
            240 + 8 * 4 * (3 * 10 - 8) / 6,
            80 + (10 - 3) * (8 - 3),
        )

    def test_6_lean_to(self) -> None:
        # rises 8 × tan 30° from face a to face c
        rise = 8 * math.tan(math.radians(30))
        found = derive(shape(body(roof={"form": "lean_to", "pitch_deg": 30, "low_side": "a", "room": True})))
        self.same(
            found,
            {
                "main/a": 30,
                "main/b": 8 * (3 + rise / 2),
                "main/c": 10 * (3 + rise),
                "main/d": 8 * (3 + rise / 2),
                "main/roof/a": 80 / math.cos(math.radians(30)),
                "main/floor": 80,
            },
            240 + 10 * 8 * rise / 2,
            80 + 10 * (8 - 1.5 / math.tan(math.radians(30))),
        )

    def test_7_mansard(self) -> None:
        # 60° up to 2 m: run 2 / tan 60°; then 30° over the rest of the half span
        run = 2 / math.tan(math.radians(60))
        top = (4 - run) * math.tan(math.radians(30))
        gable = 8 * 2 - 2 * run + (4 - run) * top
        roof = {"form": "mansard", "pitch_deg": 60, "break_height_m": 2, "upper_pitch_deg": 30, "room": True}
        found = derive(shape(body(roof=roof)))
        self.same(
            found,
            {
                "main/a": 30,
                "main/b": 24 + gable,
                "main/c": 30,
                "main/d": 24 + gable,
                "main/roof/a/lower": 10 * run / math.cos(math.radians(60)),
                "main/roof/c/lower": 10 * run / math.cos(math.radians(60)),
                "main/roof/a/upper": 10 * (4 - run) / math.cos(math.radians(30)),
                "main/roof/c/upper": 10 * (4 - run) / math.cos(math.radians(30)),
                "main/floor": 80,
            },
            240 + 10 * gable,
            80 + 10 * (8 - 2 * 1.5 / math.tan(math.radians(60))),
        )

    def test_8_an_l_under_a_flat_roof_typed_clockwise(self) -> None:
        outline = [(0, 0), (0, 8), (4, 8), (4, 4), (10, 4), (10, 0)]
        found = derive(shape(body(outline=outline, storeys=[{"name": "g", "height_m": 2.5}] * 2)))
        area = 10 * 4 + 4 * 4
        lengths = [8, 4, 4, 6, 4, 10]
        expected = {f"main/{letter}": 5.0 * length for letter, length in zip("abcdef", lengths, strict=True)}
        self.same(found, {**expected, "main/roof": area, "main/floor": area}, area * 5, area * 2)
        facings = {e.face: e.facing_deg for e in found.elements if e.kind == "wall"}
        self.assertEqual(facings, {"a": 270, "b": 0, "c": 90, "d": 0, "e": 90, "f": 180})

    def test_9_two_wings_one_of_them_not_heated(self) -> None:
        # wing 4 × 3 m, 2.5 m high, against face b; shed 5 × 2 m, 2 m high, against face d
        wing = body(id="wing", name="Wing", outline=[(10, 2), (14, 2), (14, 5), (10, 5)], level_m=0.3)
        wing["storeys"] = [{"name": "g", "height_m": 2.5}]
        shed = body(id="shed", name="Shed", outline=[(-2, 0), (0, 0), (0, 5), (-2, 5)], heated=False)
        shed["storeys"] = [{"name": "g", "height_m": 2.0}]
        found = derive(shape(body(), wing, shed))
        self.same(
            found,
            {
                "main/a": 30,
                "main/b": 24 - 3 * 2.5,
                "main/c": 30,
                "main/d": 24 - 5 * 2,
                "main/d/to_shed": 10,
                "main/roof": 80,
                "main/floor": 80,
                "wing/a": 10,
                "wing/b": 7.5,
                "wing/c": 10,
                "wing/roof": 12,
                "wing/floor": 12,
            },
            240 + 12 * 2.5,
            92,
        )
        floors = {e.key: e.perimeter_m for e in found.elements if e.kind == "floor"}
        self.assertEqual(floors, {"main/floor": 33.0, "wing/floor": 11.0})
        self.assertTrue(any("not heated" in note.metric for note in found.notes))

    def test_10_split_level_with_a_heated_cellar_and_a_storey_of_its_own(self) -> None:
        # lower half: floor at 0.5 m, cellar 2 m deep, ground at 0; upper half stands 1.5 m higher
        lower = body(
            outline=[(0, 0), (5, 0), (5, 8), (0, 8)],
            level_m=0.5,
            below="heated_cellar",
            below_height_m=2.0,
            storeys=[{"name": "stone", "height_m": 3.0}, {"name": "timber", "height_m": 2.5, "own_walls": True}],
        )
        upper = body(id="upper", name="Upper", outline=[(5, 0), (10, 0), (10, 8), (5, 8)], level_m=2.0, ground_m=1.5)
        found = derive(shape(lower, upper))
        self.same(
            found,
            {
                **{f"main/{k}/0": 5.0 * 3 for k in "ac"},
                **{f"main/{k}/1": 5.0 * 2.5 for k in "ac"},
                "main/d/0": 24,
                "main/d/1": 20,
                # the upper half covers 2.0 to 5.0 m of face b
                "main/b/0": 8 * 1.5,
                "main/b/1": 8 * 1.0,
                **{f"main/cellar/{k}/ground": a * 1.5 for k, a in (("a", 5), ("b", 8), ("c", 5), ("d", 8))},
                **{f"main/cellar/{k}/air": a * 0.5 for k, a in (("a", 5), ("b", 8), ("c", 5), ("d", 8))},
                "main/roof": 40,
                "main/floor": 40,
                "upper/a": 15,
                "upper/b": 24,
                "upper/c": 15,
                "upper/roof": 40,
                "upper/floor": 40,
            },
            40 * 5.5 + 40 * 2 + 40 * 3,
            40 * 3 + 40,
        )


class SharesAndOpenings(TestCase):
    def test_shares_of_a_face_and_openings(self) -> None:
        parts = [
            {
                "body": "main",
                "face": "a",
                "parts": [
                    {"id": "filled", "name": "filled", "share": 0.7},
                    {"id": "empty", "name": "empty", "share": 0.3},
                ],
            }
        ]
        window = {"id": "w", "name": "Sash", "body": "main", "face": "a", "width_m": 1.0, "height_m": 1.5, "count": 2}
        found = derive(shape(body(), parts=parts, openings=[window]))
        by_key = {e.key: e for e in found.elements}
        self.assertAlmostEqual(by_key["main/a/filled"].net_area_m2, 0.7 * 27)
        self.assertAlmostEqual(by_key["main/a/empty"].net_area_m2, 0.3 * 27)
        self.assertAlmostEqual(by_key["opening/w"].gross_area_m2, 3.0)
        self.assertEqual(by_key["opening/w"].facing_deg, 180.0)
        # single glass in timber: 0.7 × 5.7 + 0.3 × 2.0
        self.assertAlmostEqual(by_key["opening/w"].u_w_m2k or 0, 0.7 * 5.7 + 0.3 * 2.0, places=3)
        self.assertIn("2.10 m² of openings", by_key["main/a/filled"].arithmetic.metric)

    def test_secondary_glazing_by_the_sum_of_resistances(self) -> None:
        window = {"id": "w", "name": "Sash", "body": "main", "face": "a", "width_m": 1, "height_m": 1.5, "u_w_m2k": 4.0}
        found = derive(shape(body(), openings=[{**window, "secondary": "single"}]))
        u = next(e.u_w_m2k for e in found.elements if e.kind == "window")
        self.assertAlmostEqual(u or 0, 4.0, msg="a typed U stays")
        del window["u_w_m2k"]
        single = 0.7 * 5.7 + 0.3 * 2.0
        both = derive(shape(body(), openings=[{**window, "secondary": "single"}]))
        u = next(e.u_w_m2k for e in both.elements if e.kind == "window")
        self.assertAlmostEqual(u or 0, 1 / (1 / single - 0.13 + 0.17 - 0.04 + 1 / 5.0), places=3)

    def test_what_does_not_fit_is_refused_with_its_name(self) -> None:
        window = {"id": "w", "name": "Sash", "body": "main", "face": "a", "width_m": 10, "height_m": 3, "count": 2}
        with self.assertRaisesRegex(OutOfRange, "openings of House, face a are larger"):
            derive(shape(body(), openings=[window]))
        with self.assertRaisesRegex(OutOfRange, "without inner corners"):
            derive(
                shape(
                    body(
                        outline=[(0, 0), (10, 0), (10, 4), (4, 4), (4, 8), (0, 8)],
                        roof={"form": "hip", "pitch_deg": 40, "room": True},
                    )
                )
            )
        with self.assertRaisesRegex(OutOfRange, "break of the mansard"):
            derive(
                shape(
                    body(
                        roof={
                            "form": "mansard",
                            "pitch_deg": 45,
                            "break_height_m": 5,
                            "upper_pitch_deg": 20,
                            "room": True,
                        }
                    )
                )
            )
        with self.assertRaisesRegex(OutOfRange, "leave no room inside"):
            derive(Shape.model_validate({"bodies": [body(outline=[(0, 0), (1, 0), (1, 1), (0, 1)], wall_mm=600)]}))
        for words, wrong in (
            ("crosses itself", shape_of(outline=[(0, 0), (10, 8), (10, 0), (0, 8)])),
            ("low side", shape_of(roof={"form": "lean_to", "pitch_deg": 20})),
            ("add up to", {"bodies": [body()], "parts": [_parts(0.5, 0.4)]}),
            ("overlap in the plan", {"bodies": [body(), body(id="b2", name="Second")]}),
            ("no body", {"bodies": [body()], "openings": [{**window, "body": "barn"}]}),
            ("no face", {"bodies": [body()], "openings": [{**window, "face": "z"}]}),
        ):
            with self.subTest(words), self.assertRaisesRegex(ValidationError, words):
                Shape.model_validate(wrong)

    def test_bearings_and_offsets(self) -> None:
        self.assertEqual(bearing(0, 1, 315), 315)
        self.assertEqual(bearing(1, 0, 315), 45)
        moved = offset([(0, 0), (0, 8), (10, 8), (10, 0)], -1)
        self.assertAlmostEqual(Polygon(moved).area, 12 * 10)
        self.assertEqual(offset(offset([(0, 0), (6, 0), (3, 5)], 0.5), 0), offset([(0, 0), (6, 0), (3, 5)], 0.5))


def shape_of(**more: Any) -> dict[str, Any]:
    return {"bodies": [body(**more)]}


def _parts(*shares: float) -> dict[str, Any]:
    return {
        "body": "main",
        "face": "a",
        "parts": [{"id": f"p{i}", "name": f"part {i}", "share": share} for i, share in enumerate(shares)],
    }


GABLE = {"form": "gable", "pitch_deg": 45, "room": True, "eaves_overhang_m": 0.3}


class Drawings(TestCase):
    def test_section_of_a_gabled_house(self) -> None:
        house = shape(body(roof=GABLE, below="void", below_height_m=0.7), areas="internal")
        self.assertEqual(best_cut(house), ("y", 5.0))
        found = section(house, "y", 5.0, {"main/a": 0.5})
        kinds = [band.kind for band in found.bands]
        self.assertEqual(sorted(kinds), ["floor", "roof", "roof", "wall", "wall"])
        wall = next(band for band in found.bands if band.keys == ["main/a"])
        self.assertEqual(wall.normal, (-1.0, 0.0))
        width = max(x for x, _ in wall.polygon) - min(x for x, _ in wall.polygon)
        self.assertAlmostEqual(width, drawn(0.5))
        ridge = next(joint for joint in found.joints if joint.name == "ridge")
        self.assertAlmostEqual(ridge.at[0], 4.0)
        self.assertAlmostEqual(ridge.at[1], 0.3 + 3.0 + 4.0, places=6)
        self.assertEqual(
            sorted(joint.name for joint in found.joints),
            ["eaves", "eaves", "foot of the wall", "foot of the wall", "ridge"],
        )
        below = next(line for line in found.lines if line.kind == "below")
        self.assertAlmostEqual(min(z for _, z in below.points), 0.3 - 0.7)
        eaves = min(z for band in found.bands if band.kind == "roof" for _, z in band.polygon)
        self.assertAlmostEqual(eaves, 3.3 - 0.3, places=6, msg="the overhang runs on below the eaves")
        self.assertEqual({room.name for room in found.rooms}, {"ground", "attic room"})

    def test_a_lean_to_against_the_house_hides_that_wall(self) -> None:
        lean_to = body(
            id="shed",
            name="Shed",
            outline=[(3, 8), (7, 8), (7, 11), (3, 11)],
            storeys=[{"name": "shed", "height_m": 2.0}],
            roof={"form": "lean_to", "pitch_deg": 10, "low_side": "c", "room": True},
            wall_mm=100,
        )
        both = shape(body(roof=GABLE), lean_to)
        axis, at = best_cut(both)
        found = section(both, axis, at)
        self.assertEqual(set(found.bodies), {"main", "shed"})
        against = next(band for band in found.bands if band.keys == ["main/c"])
        self.assertAlmostEqual(min(z for _, z in against.polygon), 2.3 + 3 * math.tan(math.radians(10)), places=6)
        self.assertIn("inner wall", {line.kind for line in found.lines})
        self.assertIn("roof meets wall", {joint.name for joint in found.joints})
        self.assertFalse([band for band in found.bands if band.keys == ["shed/a"]])

    def test_odd_ones_draw_with_every_band_an_element(self) -> None:
        mansard = {"form": "mansard", "pitch_deg": 65, "break_height_m": 2, "upper_pitch_deg": 25, "room": True}
        wings = [
            body(
                id="w1",
                name="Left",
                outline=[(-4, 1), (0, 1), (0, 7), (-4, 7)],
                storeys=[{"name": "l", "height_m": 2.2}],
            ),
            body(id="w2", name="Right", outline=[(10, 1), (14, 1), (14, 7), (10, 7)], level_m=1.2, ground_m=1.0),
        ]
        cases = {
            "mansard": shape(body(roof=mansard, below="heated_cellar", below_height_m=2.1)),
            "two wings, split level": shape(body(roof=GABLE), *wings),
            "cold attic": shape(body(roof={"form": "hip", "pitch_deg": 35}, below="cellar", below_height_m=2.0)),
            "flat": shape(body()),
            "parts": shape(body(), parts=[_parts(0.7, 0.3)]),
            "storeys": shape(
                body(storeys=[{"name": "s", "height_m": 3}, {"name": "t", "height_m": 2.5, "own_walls": True}])
            ),
            "l-shaped": shape(body(outline=[(0, 0), (10, 0), (10, 4), (4, 4), (4, 8), (0, 8)])),
        }
        for words, building in cases.items():
            keys = {e.key for e in derive(building).elements}
            for axis in ("x", "y"):
                for at in (2.0, 3.0, 6.0):
                    with self.subTest(words, axis=axis, at=at):
                        found = section(building, axis, at)  # type: ignore[arg-type]
                        self.assertTrue(found.bands)
                        for band in found.bands:
                            self.assertTrue(Polygon(band.polygon).is_valid)
                            self.assertIn(band.keys[0], keys)
                        ids = {band.id for band in found.bands}
                        self.assertEqual(len(ids), len(found.bands))
                        self.assertTrue(all({j.first, j.second} <= ids for j in found.joints))
                        joint_keys = [j.key for j in found.joints]
                        self.assertEqual(len(set(joint_keys)), len(joint_keys))
        self.assertEqual(section(shape(), "x", 0.0).bands, [])

    def test_a_joint_keeps_its_key_when_thickness_height_or_cut_change(self) -> None:
        house = shape(body(roof=GABLE))
        keys = {joint.key for joint in section(house, "y", 3.0).joints}
        self.assertIn("ridge: main/roof/a + main/roof/c", keys)
        taller = shape(body(roof=GABLE, storeys=[{"name": "s", "height_m": 4.1}], wall_mm=620))
        for other in (section(taller, "y", 3.0), section(house, "y", 5.5), section(house, "y", 3.0, {"main/a": 0.9})):
            self.assertEqual({joint.key for joint in other.joints}, keys)

    def test_elevation_is_seen_from_outside(self) -> None:
        window = {"id": "w", "name": "Sash", "body": "main", "face": "b", "width_m": 1, "height_m": 1.5, "at_m": 1.0}
        house = shape(body(roof=GABLE), openings=[window])
        east = elevation_of(house, "main", "b")
        self.assertEqual(east.width, 8.0)
        self.assertAlmostEqual(max(z for _, z in east.outline), 7.3, places=6)
        self.assertEqual(east.openings[0].rect, (1.0, 0.3 + 0.9, 1.0, 1.5))
        # a face typed the other way round still has its left end on the left
        lean = {"form": "lean_to", "pitch_deg": 45, "low_side": "a", "room": True}
        for outline in (RECTANGLE, [(0, 8), (10, 8), (10, 0), (0, 0)]):
            low = "a" if outline is RECTANGLE else "c"
            house = shape(body(outline=outline, roof={**lean, "low_side": low}))
            east = elevation_of(house, "main", "b")  # x = 10: from outside, y runs from left (0) to right (8)
            tops = {
                round(x, 6): round(max(z for u, z in east.outline if abs(u - x) < 1e-6), 6) for x, _ in east.outline
            }
            self.assertEqual((tops[0.0], tops[8.0]), (3.3, 11.3))
        self.assertEqual(len(elevations(house)), 4)


class Exposure(TestCase):
    def test_tables_and_formulas(self) -> None:
        # K_R ln(z / z0): 0.19 ln(10 / 0.05)
        self.assertAlmostEqual(roughness_coefficient("II", 10.0), 0.19 * math.log(200.0))
        self.assertAlmostEqual(roughness_coefficient("III", 5.0), 0.22 * math.log(8.0 / 0.3), msg="not below z_min")
        self.assertGreater(roughness_coefficient("I", 5.0), roughness_coefficient("IV", 5.0))
        self.assertEqual(
            [obstruction_factor(d) for d in (5, 8, 9, 30, 119, 121, None)], [0.2, 0.2, 0.3, 0.5, 0.9, 1.0, 1.0]
        )
        self.assertEqual(topography_coefficient(0.04, 0.8), 1.0)
        self.assertAlmostEqual(topography_coefficient(0.2, 0.8), 1.32)
        self.assertAlmostEqual(topography_coefficient(0.5, 0.8), 1.48)
        self.assertAlmostEqual(overhang_share(0.6, 5.0, 6.0), 0.6 * 4.5 / 6.0 / 5.0)

    def test_steps_multiply_to_the_factor_and_say_why(self) -> None:
        site = Site(terrain="II", position="crest", upwind_slope=0.2)
        face = FaceExposure(obstruction_m=20, wall_form="gable", height_m=8, overhang_m=0.4, wind_funnel=True)
        found = exposure_steps(site, face, 6.0)
        product = math.prod(step.value for step in found.steps)
        self.assertAlmostEqual(found.product, product)
        self.assertTrue(all(step.because for step in found.steps))
        self.assertEqual([s.name for s in found.steps if s.ours], ["topography C_T", "overhang", "wind funnel"])
        typed = exposure_steps(site, face.model_copy(update={"typed_factor": 0.25}), 6.0)
        self.assertAlmostEqual(typed.product, 0.25)
        self.assertAlmostEqual(math.prod(step.value for step in typed.steps), 0.25)
        wet = FaceExposure(splash="paved", gutters="blocked", sprinklers=True, reservoir_cladding=True)
        self.assertEqual(len(exposure_steps(site, wet, 6.0).not_in_the_runs), 4)
        self.assertAlmostEqual(word_steps("exposed").product, 0.9 * 0.6 * 0.4)


class BriefLimits(TestCase):
    BRIEF = Brief.model_validate(
        {
            "limits": [
                {"kind": "face", "facing": "NW", "reason": "listed"},
                {"kind": "eaves", "most_mm": 40},
                {"kind": "room", "body": "main", "most_mm": 80},
                {"kind": "reveal", "most_mm": 30},
                {"kind": "boundary", "facing": "NE", "most_mm": 60},
            ],
            "targets": {"name": "own", "u_w_m2k": {"wall": 0.3}},
        }
    )

    def test_the_tighter_limit_wins_and_says_where_it_is_from(self) -> None:
        own = Limits(room_mm=100, outside_mm=50)
        found, said = limits_with_brief(own, self.BRIEF, Where("wall", "main", 315))
        self.assertEqual((found.room_mm, found.outside_mm, found.target_u_w_m2k), (80, 0, 0.3))
        self.assertIn("listed", next(row for row in said if row.field == "outside_mm").words.metric)
        found, said = limits_with_brief(own, self.BRIEF, Where("wall", "shed", 45))
        self.assertEqual((found.room_mm, found.outside_mm), (100, 50))
        self.assertNotIn("outside_mm", {row.field for row in said})
        found, said = limits_with_brief(Limits(), self.BRIEF, Where("roof", "shed", 180))
        self.assertEqual((found.room_mm, found.outside_mm, found.target_u_w_m2k), (None, 40, None))
        found, _ = limits_with_brief(Limits(target_u_w_m2k=0.2), self.BRIEF, Where("wall", "main", 90))
        self.assertEqual(found.target_u_w_m2k, 0.2)
        self.assertEqual(reveal_limit(self.BRIEF, Where("wall", "main", 10))[0], 30)

    def test_what_is_missing(self) -> None:
        self.assertEqual(len(missing_in(Brief(), "corrie")), BRIEF_ASKS)
        self.assertEqual(
            set(missing_in(Brief(), "corrie")) - set(missing_in(self.BRIEF, "corrie")),
            {"what may not change", "targets"},
        )


class Control(TestCase):
    def layers(self, *names: tuple[str, float | None]) -> BuildUp:
        return BuildUp.model_validate(
            {"layers": [{"id": f"l{i}", "material": m, "thickness_mm": t} for i, (m, t) in enumerate(names)]}
        )

    def test_masonry_with_fibre_and_membrane(self) -> None:
        wall = self.layers(
            ("lime_render", 20),
            ("brick_old", 330),
            ("mineral_fibre_035", 80),
            ("membrane_tight", None),
            ("gypsum_board", 13),
        )
        found = control_layers(wall, Place(kind="wall"))
        ids = (found.rain.layer_id, found.air.layer_id, found.vapour.layer_id, found.heat.layer_id)
        self.assertEqual(ids, ("l0", "l3", "l3", "l2"))
        self.assertIn("taped", found.air.because.metric)

    def test_what_is_not_there_is_said(self) -> None:
        shed = control_layers(self.layers(("larch_boards", 22)), Place(kind="wall"))
        self.assertIsNone(shed.air.layer_id)
        self.assertIsNone(shed.heat.layer_id)
        self.assertIsNone(shed.rain.layer_id)
        self.assertIn("gets behind larch boards", shed.rain.because.metric)
        floor = control_layers(self.layers(("oak_floor", 22)), Place(kind="floor"))
        self.assertIsNone(floor.rain.layer_id)
        bare = control_layers(self.layers(("mineral_fibre_035", 100), ("gypsum_board", 13)), Place(kind="wall"))
        self.assertIn("nothing outside sheds rain", bare.rain.because.metric)
        open_wall = control_layers(
            self.layers(("lime_render", 20), ("hemp_lime", 200), ("lime_plaster", 15)), Place(kind="wall")
        )
        self.assertEqual(open_wall.air.layer_id, "l2")

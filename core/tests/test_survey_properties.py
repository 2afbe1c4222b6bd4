"""Shapes drawn by chance: areas and volumes against sums and integrals, sections and elevations against the outlines."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

import numpy as np
from shapely import Polygon

from core.survey.drawings import best_cut, elevations, section
from core.survey.geometry import derive
from core.survey.planes import outline_of, regions, roof_planes, roof_z
from core.survey.shape import Shape

FORMS = ("gable", "hip", "lean_to", "flat", "mansard")


def random_roof(rng: np.random.Generator) -> dict[str, Any]:
    form = str(rng.choice(FORMS))
    roof: dict[str, Any] = {
        "form": form,
        "pitch_deg": float(rng.uniform(15, 55)),
        "ridge": str(rng.choice(["along", "across"])),
        "room": bool(rng.random() < 0.6),
        "eaves_overhang_m": float(rng.uniform(0, 0.8)),
    }
    if form == "lean_to":
        roof |= {"low_side": str(rng.choice(list("abcd"))), "pitch_deg": float(rng.uniform(5, 25))}
    if form == "mansard":
        roof |= {
            "pitch_deg": 68.0,
            "break_height_m": float(rng.uniform(1.0, 2.2)),
            "upper_pitch_deg": 24.0,
            "room": True,
        }
    return roof


def random_shape(seed: int, measured: str = "external") -> Shape:
    """One rectangle with one to three storeys, any roof, anything below."""
    rng = np.random.default_rng(seed)
    width, depth = (float(v) for v in rng.uniform(5, 14, 2))
    x, y = (float(v) for v in rng.uniform(-20, 20, 2))
    below = str(rng.choice(["slab", "void", "cellar", "heated_cellar"]))
    storeys = [
        {"name": f"storey {i}", "height_m": float(rng.uniform(2.2, 3.4)), "own_walls": bool(i and rng.random() < 0.4)}
        for i in range(int(rng.integers(1, 4)))
    ]
    body = {
        "id": "main",
        "name": "House",
        "outline": [(x, y), (x + width, y), (x + width, y + depth), (x, y + depth)],
        "storeys": storeys,
        "roof": random_roof(rng),
        "wall_mm": float(rng.uniform(120, 700)),
        "level_m": float(rng.uniform(0.1, 1.2)),
        "below": below,
        "below_height_m": float(rng.uniform(1.8, 2.6)),
    }
    return Shape.model_validate({"areas": measured, "up_bearing_deg": float(rng.uniform(0, 359)), "bodies": [body]})


class RandomShapes(TestCase):
    SEEDS = range(40)

    def each(self) -> list[tuple[int, Shape]]:
        return [(seed, random_shape(seed, "internal" if seed % 2 else "external")) for seed in self.SEEDS]

    def test_the_volume_is_the_integral_of_the_heights(self) -> None:
        for seed, shape in self.each():
            with self.subTest(seed):
                body = shape.bodies[0]
                outline = outline_of(shape, body, shape.areas)
                (x0, y0), (x1, y1) = outline[0], outline[2]
                planes = roof_planes(body, outline)
                under_roof = body.roof.room or body.roof.form == "flat"
                n = 160
                xs = x0 + (np.arange(n) + 0.5) / n * (x1 - x0)
                ys = y0 + (np.arange(n) + 0.5) / n * (y1 - y0)
                tops = (
                    [[roof_z(planes, (float(a), float(b))) for b in ys] for a in xs] if under_roof else [[body.eaves_m]]
                )
                expected = (float(np.mean(tops)) - body.level_m) * (x1 - x0) * (y1 - y0)
                if body.below == "heated_cellar":
                    expected += body.below_height_m * (x1 - x0) * (y1 - y0)
                self.assertAlmostEqual(derive(shape).volume_m3 / expected, 1.0, delta=2e-3)

    def test_roof_regions_cover_the_plan_once(self) -> None:
        for seed, shape in self.each():
            with self.subTest(seed):
                body = shape.bodies[0]
                outline = outline_of(shape, body, "external")
                parts = regions(roof_planes(body, outline), outline)
                self.assertAlmostEqual(sum(region.area for _, region in parts), Polygon(outline).area, places=6)
                for i, (_, first) in enumerate(parts):
                    for _, second in parts[i + 1 :]:
                        self.assertLess(first.intersection(second).area, 1e-6)

    def test_sloped_areas_are_the_plan_over_the_cosine_and_face_outward(self) -> None:
        for seed, shape in self.each():
            body = shape.bodies[0]
            if not body.roof.room:
                continue
            with self.subTest(seed):
                roofs = [e for e in derive(shape).elements if e.kind == "roof"]
                plan = sum(e.gross_area_m2 * math.cos(math.radians(e.slope_deg)) for e in roofs)
                self.assertAlmostEqual(plan, Polygon(outline_of(shape, body, shape.areas)).area, places=5)
                walls = {
                    e.face: e.facing_deg
                    for e in derive(shape).elements
                    if e.kind == "wall" and e.adjoining == "outside"
                }
                for roof in roofs:
                    if roof.face:
                        apart = abs((roof.facing_deg - walls[roof.face] + 180) % 360 - 180)
                        self.assertLess(apart, 1e-6, f"{roof.key} does not fall toward its face")

    def test_turning_or_moving_the_plan_changes_no_area(self) -> None:
        for seed in range(12):
            shape = random_shape(seed)
            body = shape.bodies[0]
            moved = body.model_copy(update={"outline": [(x + 31.0, y - 17.0) for x, y in body.outline]})
            turned = shape.model_copy(update={"bodies": [moved], "up_bearing_deg": (shape.up_bearing_deg + 90.0) % 360})
            with self.subTest(seed):
                before = {e.key: (e.gross_area_m2, e.facing_deg) for e in derive(shape).elements}
                after = {e.key: (e.gross_area_m2, e.facing_deg) for e in derive(turned).elements}
                self.assertEqual(set(before), set(after))
                for key, (area, facing) in before.items():
                    self.assertAlmostEqual(after[key][0], area, places=6)
                    if derive(shape).elements and "/floor" not in key and "/ceiling" not in key and key != "main/roof":
                        self.assertAlmostEqual((after[key][1] - facing) % 360, 90.0, places=6, msg=key)

    def test_outside_walls_add_up_to_the_elevations(self) -> None:
        """External dimensions, no cellar: the walls of a face are its elevation above the floor."""
        for seed, shape in self.each():
            body = shape.bodies[0]
            if shape.areas != "external" or body.below == "heated_cellar":
                continue
            with self.subTest(seed):
                elements = derive(shape).elements
                for face in elevations(shape):
                    wall = Polygon(face.outline)
                    box_below = (body.level_m - min(body.level_m, body.ground_m)) * face.width
                    own = sum(e.gross_area_m2 for e in elements if e.kind == "wall" and e.face == face.face)
                    shown = wall.area - box_below
                    if not (body.roof.room or body.roof.form == "flat"):
                        shown = (body.eaves_m - body.level_m) * face.width  # the cold gable is no element
                    self.assertAlmostEqual(own, shown, places=5)

    def test_sections_hold_together_wherever_the_cut_goes(self) -> None:
        for seed, shape in self.each():
            body = shape.bodies[0]
            xs, ys = [p[0] for p in body.outline], [p[1] for p in body.outline]
            keys = {e.key for e in derive(shape).elements}
            for axis, low, high in (("x", min(ys), max(ys)), ("y", min(xs), max(xs))):
                for share in (0.05, 0.31, 0.5, 0.93):
                    at = low + share * (high - low)
                    with self.subTest(seed, axis=axis, share=share):
                        found = section(shape, axis, at)  # type: ignore[arg-type]
                        self.assertTrue({band.keys[0] for band in found.bands} <= keys)
                        x0, z0, x1, z1 = found.extent
                        for band in found.bands:
                            for x, z in band.polygon:
                                self.assertTrue(x0 - 1e-9 <= x <= x1 + 1e-9 and z0 - 1e-9 <= z <= z1 + 1e-9)
                            self.assertAlmostEqual(math.hypot(*band.normal), 1.0, places=6)
                        self.assertAlmostEqual((found.right_bearing - found.left_bearing) % 360, 180.0)
                        self.assertEqual({b.kind for b in found.bands} & {"wall", "floor"}, {"wall", "floor"})
            axis, at = best_cut(shape)
            self.assertTrue(section(shape, axis, at).bands)

    def test_openings_are_taken_off_the_wall_they_stand_in(self) -> None:
        for seed in range(10):
            shape = random_shape(seed)
            window = {"id": "w", "name": "W", "body": "main", "face": "b", "count": 2, "width_m": 0.9, "height_m": 1.2}
            with_window = Shape.model_validate({**shape.model_dump(), "openings": [window]})
            with self.subTest(seed):
                bare = {e.key: e.net_area_m2 for e in derive(shape).elements}
                cut = {e.key: e.net_area_m2 for e in derive(with_window).elements}
                changed = {key for key in bare if abs(bare[key] - cut[key]) > 1e-9}
                self.assertEqual(len(changed), 1)
                self.assertTrue(next(iter(changed)).startswith("main/b"))
                self.assertAlmostEqual(sum(bare.values()), sum(cut.values()), places=9)

"""The wetting test: the water adds up, and the sensitive plane is found the same in every option."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from core.buildup.model import BuildUp, BuildUpLayer, Place
from core.buildup.planes import SensitivePlane, opening_plane, plane_in, sensitive_plane
from core.criteria.wetting import START_RH, WettingTest, wetting_test
from core.errors import OutOfRange

PLACE = Place(facing_deg=45, climate="corrie", exposure="sheltered", start_rh=0.75)


def layer(id: str, material: str, mm: float | None = None) -> BuildUpLayer:
    return BuildUpLayer(id=id, material=material, thickness_mm=mm)


STONE = [layer("stone", "sandstone_rubble", 500), layer("plaster", "lime_plaster", 20)]
PLANE = sensitive_plane(BuildUp(layers=STONE), Place())


def lined(insulation_mm: float, membrane: str = "membrane_variable_medium") -> BuildUp:
    if not insulation_mm:
        return BuildUp(layers=STONE)
    inside = [
        layer("slab", "mineral_fibre_035", insulation_mm),
        layer("m", membrane),
        layer("board", "gypsum_board", 12.5),
    ]
    return BuildUp(layers=[*STONE, *inside])


def tested(build_up: BuildUp, place: Place = PLACE, dose_kg_m2: float = 1.0) -> WettingTest:
    assert PLANE is not None
    return wetting_test(build_up, place, PLANE, dose_kg_m2=dose_kg_m2)


class Wetting(TestCase):
    def test_all_of_the_water_is_told_and_inside_insulation_keeps_it(self) -> None:
        bare, lining, tight = tested(lined(0)), tested(lined(80)), tested(lined(80, "membrane_tight"))
        for found in (bare, lining, tight):
            self.assertAlmostEqual(found.left_g + found.outward_g + found.inward_g, 1000.0, delta=12.0)
            self.assertTrue(0.8 < found.e[0] <= 1.0 and found.e.shape == (365,))
            self.assertGreater(found.rh[0], found.rh_twin[0] + 0.05)
        self.assertLess(bare.mean_stay_days, 60.0)
        self.assertGreater(lining.mean_stay_days, 3 * bare.mean_stay_days)
        self.assertGreater(tight.mean_stay_days, lining.mean_stay_days)
        self.assertGreater(bare.inward_g, 500.0)
        self.assertLess(tight.inward_g, 20.0)
        self.assertTrue(bare.passes and not tight.passes)
        self.assertIn("has not left within a year", tight.sentence.metric)
        self.assertNotIn("kg", tight.sentence.inch)

    def test_it_does_not_depend_on_rain_nor_much_on_the_dose(self) -> None:
        exposed = PLACE.model_copy(update={"facing_deg": 290, "exposure": "severe", "start_rh": 0.95})
        sheltered_south, severe_south = (
            tested(lined(0), place) for place in (PLACE.model_copy(update={"facing_deg": 290}), exposed)
        )
        self.assertAlmostEqual(severe_south.mean_stay_days, sheltered_south.mean_stay_days, delta=2.0)
        half = tested(lined(0), dose_kg_m2=0.5)
        self.assertTrue(0.5 < half.mean_stay_days / tested(lined(0)).mean_stay_days < 1.5)

    def test_no_more_is_put_in_than_fits(self) -> None:
        found = tested(lined(0), dose_kg_m2=20.0)
        self.assertLess(found.dose_kg_m2, 3.0)
        self.assertTrue(np.isfinite(found.rh).all())
        self.assertTrue(0.6 < START_RH < 0.95)

    def test_what_cannot_be_wetted_is_refused(self) -> None:
        for layer_id in ("m", "nowhere"):
            with self.assertRaises(OutOfRange):
                wetting_test(lined(60), PLACE, SensitivePlane(layer_id, layer_id, "inner", ""))


class Planes(TestCase):
    def test_solid_masonry_looks_at_its_inner_face(self) -> None:
        assert PLANE is not None
        self.assertEqual((PLANE.layer_id, PLANE.face), ("stone", "inner"))
        outside = BuildUp(layers=[layer("r", "lime_render", 15), layer("w", "wood_fibre_board", 100), *STONE])
        for option in (lined(80), outside):
            self.assertEqual(plane_in(option, PLANE), (PLANE, ""))
            self.assertEqual(opening_plane(option, BuildUp(layers=STONE), Place()), "stone")

    def test_a_frame_behind_a_drained_gap_looks_at_its_sheathing_and_not_at_the_brick(self) -> None:
        frame = BuildUp(
            layers=[
                layer("brick", "brick_hard", 100),
                layer("gap", "air_drained", 25),
                layer("osb", "osb", 12),
                layer("wool", "mineral_fibre_035", 90),
                layer("board", "gypsum_board", 12.5),
            ]
        )
        found = sensitive_plane(frame, Place())
        assert found is not None
        self.assertEqual((found.layer_id, found.face), ("osb", "outer"))
        without, why = plane_in(BuildUp(layers=[frame.layers[0]]), found)
        self.assertIsNone(without)
        self.assertIn("no plane to set against as found", why)

    def test_bare_cladding_is_passed_over_where_boards_or_a_frame_stand_behind_it(self) -> None:
        studs = BuildUpLayer.model_validate(
            {
                "id": "fill",
                "material": "mineral_fibre_040",
                "thickness_mm": 90,
                "framing": {"share": 0.15, "material": "softwood"},
            }
        )
        cases = {
            "boards": ([layer("paint", "oil_paint"), layer("clad", "larch_boards", 22), layer("sheet", "building_paper"), layer("boards", "sarking_boards", 22), studs], "boards"),
            "frame": ([layer("clad", "larch_boards", 22), studs, layer("gb", "gypsum_board", 12.5)], "fill"),
            "nothing but plasterboard": ([layer("clad", "larch_boards", 22), layer("wool", "mineral_fibre_035", 90), layer("gb", "gypsum_board", 12.5)], "clad"),
            "under a sheet": ([layer("bitumen", "bitumen_sheet"), layer("deck", "sarking_boards", 24), studs], "deck"),
            "logs": ([layer("logs", "logs", 180), layer("lining", "softwood", 18)], "logs"),
        }  # fmt: skip
        for name, (layers, expected) in cases.items():
            with self.subTest(name):
                plane = sensitive_plane(BuildUp(layers=layers), Place())
                assert plane is not None
                self.assertEqual(plane.layer_id, expected)

    def test_logs_are_their_own_face_and_steel_has_none(self) -> None:
        logs = sensitive_plane(BuildUp(layers=[layer("logs", "logs", 180)]), Place())
        assert logs is not None
        self.assertEqual((logs.layer_id, logs.face, logs.because), ("logs", "inner", "it is the weathered face"))
        steel = BuildUp(layers=[layer("steel", "steel_plate", 2)])
        self.assertIsNone(sensitive_plane(steel, Place()))
        self.assertIsNone(plane_in(steel, None)[0])

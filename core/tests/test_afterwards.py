"""What a build-up must not meet afterwards, on walls, roofs and floors that are nothing like each other."""

from __future__ import annotations

from unittest import TestCase

from core.buildup.model import BuildUp, BuildUpLayer, Limits, Place
from core.criteria.afterwards import afterwards
from core.preview import preview


def said(layers: list[tuple[str, float | None]], barrier: str = "", **place: object) -> str:
    made = [
        BuildUpLayer(id=f"l{i}", material=material, thickness_mm=mm, existing=i < 2, air_barrier=material == barrier)
        for i, (material, mm) in enumerate(layers)
    ]
    where = Place.model_validate(place)
    build_up = BuildUp(layers=made)
    drying = preview(build_up, build_up, where, Limits(), True).drying
    return " ".join(words.metric for words in afterwards(build_up, where, drying))


class Afterwards(TestCase):
    def test_a_capillary_wall_lined_open_keeps_both_its_faces(self) -> None:
        words = said([("sandstone_rubble", 500), ("lime_plaster", 20), ("wood_fibre_board", 60), ("lime_plaster", 10)])
        self.assertIn("Outside, sandstone rubble in lime: no film-forming paint", words)
        self.assertIn("Room face: no vinyl paper", words)
        self.assertIn("Gutters, downpipes", words)
        self.assertNotIn("not pierced", words)

    def test_a_tight_sheet_inside_is_not_pierced_and_leaves_the_room_face_free(self) -> None:
        words = said([("brick_old", 330), ("mineral_fibre_035", 80), ("membrane_tight", None), ("gypsum_board", 12.5)])
        self.assertIn("not pierced", words)
        self.assertNotIn("Room face", words)
        self.assertIn("pointing and repairs in lime", words)

    def test_a_declared_barrier_of_boards_is_named(self) -> None:
        layers = [("larch_boards", 22.0), ("wood_fibre_batt", 140.0), ("osb", 15.0), ("gypsum_board", 12.5)]
        words = said(layers, barrier="osb")
        self.assertRegex(words, "Oriented strand board: not pierced")
        self.assertNotIn("in lime", words, "boards are no masonry")

    def test_an_outer_membrane_is_no_inner_one(self) -> None:
        words = said(
            [
                ("larch_boards", 22),
                ("air_ventilated", 40),
                ("membrane_open", None),
                ("wood_fibre_batt", 140),
                ("gypsum_board", 12.5),
            ]
        )
        self.assertNotIn("not pierced", words)
        self.assertIn("stay free at foot and head", words)

    def test_a_roof_a_floor_on_the_ground_and_a_wall_to_a_cold_room(self) -> None:
        roof = said([("slate", 8), ("air_ventilated", 40), ("sarking_boards", 22), ("mineral_fibre_040", 150), ("membrane_variable_medium", None), ("gypsum_board", 12.5)], kind="roof", slope_deg=40)  # fmt: skip
        self.assertIn("a leak is not in the figures", roof)
        self.assertIn("not pierced", roof)
        floor = said([("earth", 200), ("screed", 60)], kind="floor", adjoining="ground")
        self.assertIn("Ground and paving stay below the floor", floor)
        self.assertNotIn("Gutters", floor)
        inner = said([("brick_old", 110), ("lime_plaster", 15)], adjoining="unheated")
        self.assertNotIn("film-forming", inner)
        self.assertNotIn("Gutters", inner)

    def test_render_on_insulation_concrete_earth_and_logs_each_in_their_own_words(self) -> None:
        render = said([("cement_render", 10), ("eps_035", 160), ("concrete", 180), ("gypsum_plaster", 10)])
        self.assertIn("cement render on insulation: paint stays open", render)
        self.assertNotIn("in lime", render)
        concrete = said([("concrete", 180), ("mineral_fibre_040", 80), ("gypsum_board", 12.5)])
        self.assertNotIn("in lime", concrete)
        earth = said([("earth", 600), ("clay_plaster", 20)])
        self.assertIn("pointing and repairs in lime", earth)
        self.assertIn("Room face: no vinyl paper", earth)
        logs = said(
            [("logs", 180), ("cellulose_dense", 120), ("membrane_variable_strong", None), ("gypsum_board", 12.5)]
        )
        self.assertIn("Outside, squared logs, softwood: no film-forming paint", logs)
        tiled = said([("concrete", 150), ("ceramic_tiles", 10)], kind="floor", adjoining="ground")
        self.assertNotIn("no vinyl", tiled)

    def test_nothing_is_said_of_what_is_not_stated(self) -> None:
        self.assertEqual(afterwards(BuildUp(layers=[]), Place(), None), [])

"""A ground that is not flat: hollow, levelled, filled; a foot that stands proud; two backgrounds; the line that sheds water."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from pydantic import ValidationError

from core.assembly.control import control_layers
from core.assembly.to_case import model_of
from core.buildup.background import background_words, foot_m, gap_level, ground_of
from core.buildup.kits import kits
from core.buildup.leaks import Leaks
from core.buildup.model import BuildUp, BuildUpLayer, Limits, Place, Uneven
from core.cases.practice import build_up as of
from core.criteria.cautions import CAUTIONS, Work
from core.criteria.verdict import yearly_wetting
from core.preview import preview
from core.runs import bay_years
from core.thermal.iso6946 import GAP_DELTA_U, transmittance
from core.thermal.ladder import ladder_or_why


def stone(**more: Any) -> BuildUpLayer:
    return BuildUpLayer(id="stone", material="sandstone_rubble", thickness_mm=500, existing=True, uneven=Uneven(**more))


FOUND = BuildUp(layers=[stone(hollow_mm=40, share=0.5)])
BOARD = of(("board", "calcium_silicate", 50), ("coat", "lime_plaster", 5)).layers
BOARDED = BuildUp(layers=[*FOUND.layers, *BOARD])
PARGE = BuildUpLayer(id="parge", material="parge_coat", thickness_mm=20)


class Kits(TestCase):
    def test_each_is_a_layer_with_its_share_and_can_be_computed(self) -> None:
        names = [kit.name for kit in kits()]
        self.assertEqual(len(names), len(set(names)))
        for kit in kits():
            with self.subTest(kit.key):
                framing = kit.layer.framing
                assert framing is not None
                width = framing.web_mm or framing.width_mm or 0.0
                self.assertAlmostEqual(framing.share, width / (framing.spacing_mm or 1.0) + framing.plates)
                cladding = of(("clad", "larch_boards", 20)).layers if kit.layer.entry.group == "air" else []
                boards = of(("osb", "osb", 12), ("lining", "gypsum_board", 12.5)).layers
                wall = BuildUp(layers=[*cladding, kit.layer, *boards])
                self.assertGreater(transmittance(wall, "wall").u_effective, 0.2)


class Grounds(TestCase):
    def test_a_board_on_hollows_is_told_and_loses_what_the_standard_says(self) -> None:
        ground = ground_of(BOARDED)
        assert ground is not None and ground.on_it is not None
        self.assertEqual((ground.state, ground.on_it.id), ("hollow", "board"))
        flat = BuildUp(layers=[BOARDED.layers[0].model_copy(update={"uneven": None}), *BOARD])
        u, plain = transmittance(BOARDED, "wall"), transmittance(flat, "wall")
        r = 0.05 / BOARD[0].entry.conductivity_w_mk  # type: ignore[union-attr]
        self.assertAlmostEqual(u.u_effective - plain.u_effective, GAP_DELTA_U[2] * (r / plain.r_total_clear) ** 2, places=6)  # fmt: skip
        [said] = background_words(FOUND, BOARDED, Place())
        self.assertIn("stands back by 40 mm over 50 % of the face", said.metric)
        self.assertIn("Level it with 20 mm of parge", said.metric)
        self.assertNotIn("mm", said.inch)
        rungs, _ = ladder_or_why(BOARDED, Place())
        assert rungs is not None
        self.assertIn("hollows behind calcium silicate", " ".join(rung.cause.metric for rung in rungs.rungs))

    def test_the_rooms_air_behind_boards_goes_into_u_and_into_the_run(self) -> None:
        """On dabs: ΔU″ of the highest level, and as much air in the gap as carries 0.04 W/m²K; a gap to the weather is none such."""
        brick, gap, *boards = of(("brick", "brick_old", 330), ("gap", "air_unventilated", 25), ("foam", "pur_foam", 40), ("board", "gypsum_board", 12.5)).layers  # fmt: skip
        still = BuildUp(layers=[brick, gap, *boards])
        dabs = BuildUp(layers=[brick, gap.model_copy(update={"goes_round": True}), *boards])
        plain = transmittance(still, "wall")
        r = 0.04 / boards[0].entry.conductivity_w_mk  # type: ignore[union-attr]
        more = transmittance(dabs, "wall").u_effective - plain.u_effective
        self.assertAlmostEqual(more, GAP_DELTA_U[2] * (r / plain.r_total_clear) ** 2, places=6)
        self.assertEqual(gap_level(still, boards[0]), 0)
        place = Place(climate="ostmoor", facing_deg=45, exposure="sheltered")
        [air] = model_of(dabs, place).case.air.cavities
        self.assertEqual(air.of, "inside")
        self.assertAlmostEqual(float(air.changes_per_h) * 0.025 / 3600.0 * 1.2 * 1006.0, 0.04, places=5)  # type: ignore[arg-type]
        self.assertEqual(model_of(still, place).case.air.cavities, [])
        wet, dry = (bay_years(one, place, None, 1) for one in (dabs, still))
        rh = {id(found): max(p.worst_month_rh for p in found.points if p.layer_id == "brick") for found in (wet, dry)}
        self.assertGreater(rh[id(wet)], rh[id(dry)] + 0.02, "the room's air wets the cold face")
        self.assertGreater(yearly_wetting(wet), yearly_wetting(dry) + 0.3)
        with self.assertRaises(ValidationError):
            BuildUpLayer(id="g", material="air_vented", thickness_mm=25, goes_round=True)

    def test_levelled_it_is_flat(self) -> None:
        levelled = BuildUp(layers=[*FOUND.layers, PARGE, *BOARD])
        ground = ground_of(levelled)
        assert ground is not None
        self.assertEqual((ground.state, background_words(FOUND, levelled, Place())), ("levelled", []))
        self.assertEqual(gap_level(levelled, levelled.layers[2]), 0)
        thin = BuildUp(layers=[*FOUND.layers, PARGE.model_copy(update={"thickness_mm": 8.0}), *BOARD])
        self.assertEqual(ground_of(thin).state, "hollow")  # type: ignore[union-attr]

    def test_a_soft_batt_goes_in_a_stiff_one_does_not(self) -> None:
        for material, state in (("mineral_fibre_038", "filled"), ("wood_fibre_board", "hollow"), ("eps_035", "hollow")):
            lined = BuildUp(layers=[*FOUND.layers, BuildUpLayer(id="x", material=material, thickness_mm=80), BOARD[1]])
            self.assertEqual(ground_of(lined).state, state, material)  # type: ignore[union-attr]
        self.assertEqual(ground_of(FOUND).state, "open")  # type: ignore[union-attr]
        self.assertIsNone(ground_of(of(("stone", "sandstone_rubble", 500))))

    def test_a_proud_foot_takes_room_unless_the_lining_follows(self) -> None:
        found = BuildUp(layers=[stone(proud_mm=60)])
        lined = BuildUp(layers=[*found.layers, *BOARD])
        self.assertEqual(foot_m(found, lined, Place()), (0.0, 0.06))
        self.assertEqual(foot_m(found, found, Place()), (0.0, 0.0))
        shown = preview(found, lined, Place(), Limits(room_mm=100))
        self.assertAlmostEqual(shown.room_lost_m, 0.055 + 0.06)
        self.assertTrue(shown.over_limits)
        self.assertIn("60 mm proud", shown.background[0].metric)
        followed = BuildUp(layers=[stone(proud_mm=60, chamfered=True), *BOARD])
        self.assertAlmostEqual(preview(found, followed, Place(), Limits()).room_lost_m, 0.055)

    def test_only_masonry_and_plaster_are_grounds(self) -> None:
        with self.assertRaises(ValidationError):
            BuildUpLayer(id="x", material="mineral_fibre_035", thickness_mm=80, uneven=Uneven(hollow_mm=10, share=0.2))

    def test_two_backgrounds_ask_for_a_movement_joint(self) -> None:
        caution = next(one for one in CAUTIONS if one.key == "movement")
        meets = BuildUp(layers=[stone().model_copy(update={"meets": "brick", "uneven": None})])
        for found, more, asks in ((meets, BOARD, True), (meets, of(("wool", "mineral_fibre_035", 80)).layers, False), (FOUND, BOARD, False)):  # fmt: skip
            option = BuildUp(layers=[*found.layers, *more])
            self.assertEqual(caution.applies(Work(found, option, Place(), 1900)), asks)

    def test_the_declared_line_that_sheds_water_overrules_the_reading(self) -> None:
        clad = of(("boards", "larch_boards", 20), ("gap", "air_drained", 25), ("sheet", "membrane_open"), ("sheathing", "osb", 12), ("fibre", "mineral_fibre_035", 140), ("lining", "gypsum_board", 12.5))  # fmt: skip
        self.assertEqual(control_layers(clad, Place(kind="wall")).rain.layer_id, "sheet")
        self.assertEqual(Leaks(clad, Place()).rain_leak_layer(), "sheet")
        boards = clad.layers[0].model_copy(update={"sheds_water": True})
        declared = clad.model_copy(update={"layers": [boards, *clad.layers[1:]]})
        rain = control_layers(declared, Place(kind="wall")).rain
        self.assertEqual(rain.layer_id, "boards")
        self.assertIn("declared to be the line that sheds water", rain.because.metric)
        self.assertEqual(Leaks(declared, Place()).rain_leak_layer(), "sheet", "nothing outside of it for rain to reach")
        sheathing = clad.layers[3].model_copy(update={"sheds_water": True})
        behind = clad.model_copy(update={"layers": [*clad.layers[:3], sheathing, *clad.layers[4:]]})
        self.assertEqual(Leaks(behind, Place()).rain_leak_layer(), "sheet")

"""What the program takes a build-up to be: weather side, structure, leaks by rule, make, plane, levers, what is stated."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any
from unittest import TestCase

from pydantic import ValidationError

from core.assembly.control import control_layers
from core.assembly.to_case import model_of, why_no_transient
from core.buildup.anatomy import Anatomy
from core.buildup.leaks import Leaks
from core.buildup.levers import LEVERS, with_lever
from core.buildup.make import Make
from core.buildup.model import (
    AirLeakage,
    BuildUp,
    BuildUpLayer,
    Fixings,
    Framing,
    InvertedRoof,
    Kind,
    Metal,
    Place,
    RainLeakage,
    absorptance_of,
    bears,
    is_insulation,
)
from core.buildup.planes import faces_room, sensitive_plane
from core.cases.practice import build_up as of
from core.climate.data import shipped
from core.criteria.stated import cracked_film, nothing_sheds, open_to_weather, stated
from core.errors import CaseRefused, OutOfRange
from core.thermal.iso6946 import transmittance
from core.thermal.iso13370 import GroundPlace, cellar_wall_transmittance, slab_transmittance


@dataclass(frozen=True)
class Wall:
    """What must be said of one build-up, by ids of its layers."""

    name: str
    build_up: BuildUp
    weather: str
    structure: str | None
    masonry: str | None
    leak: str
    air_to: str
    rain_to: str
    made: tuple[str, str, str]
    plane: tuple[str, str] | None
    sheds: str = ""


BOARD = ("board", "gypsum_board", 12.5)
STUD = ("fill", "mineral_fibre_035", 140, 0.1)
PLASTER = ("plaster", "lime_plaster", 20)
STONE = ("stone", "sandstone_rubble", 500)
BRICK = ("brick", "brick_old", 330)
CLAD = (("clad", "larch_boards", 22), ("gap", "air_ventilated", 30))
LARCH, SLATE, TILES = "larch boards", "slate, lapped", "clay tiles, lapped"

# fmt: off
WALLS = [
    Wall("bare rubble", of(STONE, PLASTER),
         "stone", "stone", "stone", "none", "stone", "stone", ("masonry", "none", "none"), ("stone", "inner")),
    Wall("limewashed rubble", of(("wash", "limewash"), STONE, PLASTER),
         "wash", "stone", "stone", "none", "wash", "wash", ("masonry", "none", "none"), ("stone", "inner")),
    Wall("rubble lined with fibre", of(STONE, PLASTER, ("wool", "mineral_fibre_035", 80), ("sheet", "membrane_tight"), BOARD),
         "stone", "stone", "stone", "careful", "plaster", "plaster", ("masonry", "none", "none"), ("stone", "inner")),
    Wall("brick with a capillary board bonded on", of(BRICK, ("bed", "lime_adhesive", 8), ("casi", "calcium_silicate", 50)),
         "brick", "brick", "brick", "none", "bed", "bed", ("masonry", "none", "none"), ("brick", "inner")),
    Wall("brick, mineral fibre and render outside", of(("render", "lime_render", 12), ("fibre", "mineral_fibre_035", 160), BRICK, PLASTER),
         "render", "brick", "brick", "none", "render", "fibre", ("masonry", "render", "none"), ("brick", "inner")),
    Wall("concrete behind a vented cladding", of(*CLAD, ("under", "membrane_open"), ("fibre", "mineral_fibre_035", 160), ("wall", "concrete", 180)),
         "fibre", "wall", "wall", "none", "under", "fibre", ("concrete", "boards", "ventilated"), ("wall", "inner")),
    Wall("cavity wall of two leaves of brick", of(("outer", "brick_hard", 102), ("gap", "air_drained", 50), ("inner", "brick_old", 102), PLASTER),
         "inner", "inner", "inner", "none", "gap", "gap", ("masonry", "none", "drained"), ("inner", "inner"), "")
,
    Wall("brick leaf before a frame, felt on boards", of(("leaf", "brick_hard", 100), ("gap", "air_vented", 40), ("felt", "building_paper"), ("boards", "sarking_boards", 22), STUD, BOARD),
         "boards", "boards", None, "careful", "boards", "felt", ("frame", "leaf", "drained"), ("boards", "outer")),
    Wall("brick leaf tight on sheathing", of(("leaf", "brick_old", 100), ("paper", "building_paper"), ("osb", "osb", 15), STUD, BOARD),
         "osb", "osb", None, "careful", "osb", "paper", ("frame", "leaf", "none"), ("osb", "outer")),
    Wall("frame behind boards, underlay on sheathing", of(*CLAD, ("under", "membrane_open"), ("boards", "sarking_boards", 22), STUD, BOARD),
         "boards", "boards", None, "careful", "boards", "under", ("frame", "boards", "ventilated"), ("boards", "outer")),
    Wall("frame behind boards without an underlay", of(*CLAD, ("osb", "osb", 15), STUD, BOARD),
         "osb", "osb", None, "careful", "osb", "gap", ("frame", "boards", "ventilated"), ("osb", "outer"), LARCH),
    Wall("rendered foam on a frame", of(("render", "cement_render", 12), ("foam", "eps_035", 60), ("osb", "osb", 15), STUD, BOARD),
         "render", "osb", None, "careful", "osb", "foam", ("frame", "render", "none"), ("osb", "outer")),
    Wall("bare logs", of(("logs", "logs", 180)),
         "logs", "logs", None, "none", "logs", "logs", ("log", "none", "none"), ("logs", "inner")),
    Wall("logs lined inside", of(("logs", "logs", 180), ("wool", "mineral_fibre_035", 80, 0.08), BOARD),
         "logs", "logs", None, "careful", "logs", "logs", ("log", "none", "none"), ("logs", "inner")),
    Wall("logs insulated outside", of(*CLAD, ("under", "membrane_open"), ("fibre", "wood_fibre_board", 120), ("logs", "logs", 180)),
         "fibre", "logs", None, "careful", "fibre", "fibre", ("log", "boards", "ventilated"), ("fibre", "outer")),
    Wall("steel sheet", of(("steel", "steel_plate", 2), BOARD),
         "steel", None, None, "none", "steel", "steel", ("metal", "metal", "none"), ("board", "outer")),
    Wall("slates on boards", of(("slate", "slate", 8), ("deck", "sarking_boards", 22), ("rafters", "air_unventilated", 150, 0.1), BOARD),
         "deck", "deck", None, "careful", "slate", "slate", ("frame", "none", "none"), ("deck", "outer"), SLATE),
    Wall("slates on an underlay over boards", of(("slate", "slate", 8), ("under", "felt"), ("deck", "sarking_boards", 22), STUD, BOARD),
         "deck", "deck", None, "careful", "deck", "under", ("frame", "none", "none"), ("deck", "outer")),
    Wall("tiles on battens over wood fibre", of(("tiles", "clay_tiles", 15), ("gap", "air_ventilated", 50), ("open", "membrane_open"), ("over", "wood_fibre_board", 60), STUD, BOARD),
         "over", "fill", None, "careful", "over", "over", ("frame", "none", "ventilated"), ("over", "outer")),
    Wall("bitumen on a deck, fibre below", of(("bitumen", "bitumen_sheet"), ("deck", "sarking_boards", 24), STUD, ("sheet", "membrane_tight"), BOARD),
         "bitumen", "deck", None, "careful", "deck", "deck", ("frame", "none", "none"), ("deck", "inner")),
    Wall("slab on the ground", of(("earth", "earth", 300), ("sheet", "membrane_tight"), ("foam", "xps_034", 100), ("slab", "concrete", 100)),
         "foam", "slab", "slab", "none", "foam", "foam", ("concrete", "none", "none"), ("slab", "inner")),
    Wall("wooden floor on a slab on the ground", of(("earth", "earth", 300), ("slab", "concrete", 80), ("floor", "oak_floor", 22)),
         "slab", "slab", "slab", "none", "earth", "earth", ("concrete", "none", "none"), ("slab", "inner")),
    Wall("batts in an open net over a void", of(("net", "membrane_open"), ("batt", "wood_fibre_batt", 150, 0.1), ("floor", "oak_floor", 22)),
         "net", "batt", None, "careful", "net", "net", ("frame", "none", "none"), ("batt", "outer")),
    Wall("joists in a vented void", of(("joists", "air_vented", 150, 0.12), ("floor", "oak_floor", 22)),
         "floor", "floor", None, "none", "joists", "joists", ("frame", "none", "drained"), ("joists", "outer")),
]
# fmt: on


ROOF = Place(kind="roof", slope_deg=40.0)


def made(build_up: BuildUp) -> tuple[str, str, str]:
    anatomy = Anatomy(build_up, Place())
    make = Make(anatomy)
    return make.bears, make.cladding, make.gap


class TakenFor(TestCase):
    def test_what_each_wall_is(self) -> None:
        for wall in WALLS:
            b = wall.build_up

            def id_of(index: int | None, b: BuildUp = b) -> str | None:
                return None if index is None else b.layers[index].id

            with self.subTest(wall.name, what="weather side"):
                self.assertEqual(id_of(Anatomy(b, Place()).weather_side), wall.weather)
            with self.subTest(wall.name, what="structure"):
                self.assertEqual(id_of(Anatomy(b, Place()).structure), wall.structure)
            with self.subTest(wall.name, what="masonry"):
                self.assertEqual(id_of(Anatomy(b, Place()).masonry), wall.masonry)
            with self.subTest(wall.name, what="make"):
                self.assertEqual(made(b), wall.made)

    def test_where_leaks_go_by_rule(self) -> None:
        for wall in WALLS:
            with self.subTest(wall.name, what="how much"):
                self.assertEqual(Leaks(wall.build_up, Place()).air_leak_by_rule(), wall.leak)
            with self.subTest(wall.name, what="air"):
                self.assertEqual(Leaks(wall.build_up, Place()).air_leak_layer(), wall.air_to)
            with self.subTest(wall.name, what="rain"):
                self.assertEqual(Leaks(wall.build_up, Place()).rain_leak_layer(), wall.rain_to)

    def test_the_plane_that_is_looked_at(self) -> None:
        for wall in WALLS:
            plane = sensitive_plane(wall.build_up, Place())
            with self.subTest(wall.name):
                self.assertEqual(plane and (plane.layer_id, plane.face), wall.plane)
                self.assertTrue(plane is None or plane.because)

    def test_nothing_sheds_only_behind_what_lets_water_through(self) -> None:
        for wall in WALLS:
            kind: Kind = "roof" if wall.sheds in (SLATE, TILES) else "wall"
            with self.subTest(wall.name):
                self.assertEqual(nothing_sheds(wall.build_up, Place(kind=kind)), wall.sheds)

    def test_a_control_layer_is_one_of_its_layers_or_none_with_a_reason(self) -> None:
        for wall in WALLS:
            ids = {layer.id for layer in wall.build_up.layers}
            found = control_layers(wall.build_up, Place())
            for control in (found.rain, found.air, found.vapour, found.heat):
                with self.subTest(wall.name, because=control.because.metric):
                    self.assertTrue(control.layer_id is None or control.layer_id in ids)
                    self.assertGreater(len(control.because.metric), 8)

    def test_a_lapped_covering_is_no_vapour_control_and_cladding_no_rain_line(self) -> None:
        for wall in WALLS:
            found = control_layers(wall.build_up, Place())
            outer = wall.build_up.layers[0]
            with self.subTest(wall.name):
                if getattr(outer.entry, "lapped", False):
                    self.assertNotEqual(found.vapour.layer_id, outer.id)
                if wall.made[1] in ("boards", "leaf") and wall.made[2] != "none":
                    self.assertNotEqual(found.rain.layer_id, outer.id)


class LeaksAsStated(TestCase):
    FRAME = of(*CLAD, ("under", "membrane_open"), ("boards", "sarking_boards", 22), STUD, BOARD)

    def leaking(self, **more: Any) -> BuildUp:
        return self.FRAME.model_copy(update=more)

    def test_what_is_stated_wins_over_the_rule(self) -> None:
        stated_leak = self.leaking(air_leak=AirLeakage(preset="leaky", after_layer="fill"))
        self.assertEqual(Leaks(stated_leak, Place()).air_leak_layer(), "fill")
        self.assertEqual(Leaks(stated_leak, Place()).q50, 3.0)
        self.assertEqual(Leaks(self.leaking(air_leak=AirLeakage(preset="q50", q50_m3_m2h=0.7)), Place()).q50, 0.7)
        self.assertEqual(Leaks(self.FRAME, Place()).q50, 1.0)
        self.assertEqual(Leaks(self.leaking(air_leak=AirLeakage(preset="none")), Place()).q50, 0.0)

    def test_rain_by_rule_and_as_stated(self) -> None:
        self.assertEqual(Leaks(self.FRAME, Place()).rain_share, 0.0)
        self.assertEqual(Leaks(self.leaking(rain_leak=RainLeakage(share=0.01)), Place()).rain_share, 0.01)
        slates = of(("slate", "slate", 8), ("deck", "sarking_boards", 22), STUD, BOARD)
        under = of(("slate", "slate", 8), ("felt", "felt"), ("deck", "sarking_boards", 22), STUD, BOARD)
        self.assertGreater(Leaks(slates, ROOF).rain_share, 0.0)
        self.assertEqual(Leaks(slates, Place()).rain_share, 0.0)
        self.assertEqual(Leaks(under, ROOF).rain_share, 0.0)
        self.assertEqual(Leaks(slates.model_copy(update={"rain_leak": RainLeakage(share=0.0)}), ROOF).rain_share, 0.0)

    def test_leaks_that_make_no_sense_are_refused(self) -> None:
        with self.assertRaisesRegex(ValidationError, "with the preset"):
            AirLeakage(preset="q50")
        with self.assertRaisesRegex(ValidationError, "with the preset"):
            AirLeakage(preset="leaky", q50_m3_m2h=1.0)
        with self.assertRaisesRegex(ValidationError, "not in the build-up"):
            BuildUp(layers=self.FRAME.layers, air_leak=AirLeakage(after_layer="nowhere"))
        with self.assertRaises(ValidationError):
            RainLeakage(share=0.5)

    def test_a_leak_enters_the_case_with_its_plane_and_its_twentieth(self) -> None:
        place = Place(facing_deg=290, climate="corrie")
        case = model_of(
            self.leaking(air_leak=AirLeakage(preset="leaky"), rain_leak=RainLeakage(share=0.01)), place
        ).case
        (air,), (rain,) = case.air.leaks, case.air.rain_leaks
        assert air.by_stack_and_wind is not None
        self.assertAlmostEqual(air.by_stack_and_wind.q50_m3_m2h, 3.0 * place.active_share)
        self.assertEqual((rain.share, rain.of), (0.01, "driven"))
        dry = place.model_copy(update={"rain_scale": 0.0})
        self.assertEqual(model_of(self.leaking(rain_leak=RainLeakage(share=0.01)), dry).case.air.rain_leaks, [])

    def test_an_open_sheet_on_the_cold_face_lets_the_air_out_and_a_tight_one_does_not(self) -> None:
        void = Place(kind="floor", adjoining="unheated", factor_b=0.8, slope_deg=0)
        net = of(("net", "membrane_open"), ("batt", "wood_fibre_batt", 150, 0.1), ("floor", "oak_floor", 22))
        self.assertEqual(model_of(net, void).case.air.leaks, [])
        tight = of(
            ("foil", "membrane_tight"), ("deck", "sarking_boards", 22), ("batt", "wood_fibre_batt", 150, 0.1), BOARD
        )
        (leak,) = model_of(tight, void).case.air.leaks
        self.assertEqual(Leaks(tight, void).air_leak_layer(), "deck")
        self.assertEqual(leak.after_layer, 0)
        stated_leak = net.model_copy(update={"air_leak": AirLeakage(preset="leaky", after_layer="net")})
        with self.assertRaisesRegex(CaseRefused, "coating on a face"):
            model_of(stated_leak, void)

    def test_the_ground_takes_no_leak_of_air(self) -> None:
        cellar = Place(adjoining="ground", factor_b=0.6)
        lined = of(("wall", "concrete", 250), ("wool", "mineral_fibre_035", 80, 0.1), BOARD)
        self.assertEqual(Leaks(lined, cellar).air_leak_by_rule(), "careful")
        self.assertEqual(model_of(lined, cellar).case.air.leaks, [])


class WhatIsStated(TestCase):
    def facts(self, build_up: BuildUp, **more: Any) -> Any:
        place = Place(facing_deg=0, **more)
        return stated(build_up, build_up, place, shipped(place.climate), False)

    def test_what_lies_open_to_the_weather(self) -> None:
        for material, open_ in (
            ("wood_fibre_board", True),
            ("mineral_fibre_035", True),
            ("brick_old", False),
            ("larch_boards", False),
        ):
            b = of(("out", material, 60), BRICK)
            with self.subTest(material):
                self.assertEqual(bool(open_to_weather(b, Place())), open_)
        covered = of(("paint", "silicate_paint"), ("fibre", "wood_fibre_board", 60), BRICK)
        self.assertTrue(open_to_weather(covered, Place()), "a coat of paint is no cover")
        self.assertEqual(open_to_weather(of(("fibre", "wood_fibre_board", 60), BRICK), Place(adjoining="unheated")), "")

    def test_an_old_film_is_told_where_weather_reaches_it(self) -> None:
        painted = of(("paint", "oil_paint"), ("boards", "larch_boards", 22))
        self.assertTrue(cracked_film(painted, Place()))
        self.assertEqual(cracked_film(painted, Place(adjoining="unheated")), "")
        self.assertEqual(cracked_film(of(("wash", "limewash"), STONE), Place()), "")

    def test_no_leak_chosen_is_said_where_the_element_could_leak(self) -> None:
        frame = of(*CLAD, ("under", "membrane_open"), ("boards", "sarking_boards", 22), STUD, BOARD)
        none = frame.model_copy(update={"air_leak": AirLeakage(preset="none")})
        self.assertFalse(self.facts(frame).rests_on_no_leak)
        self.assertTrue(self.facts(none).rests_on_no_leak)
        masonry = of(STONE, PLASTER).model_copy(update={"air_leak": AirLeakage(preset="none")})
        self.assertFalse(self.facts(masonry).rests_on_no_leak, "stone does not leak by rule")

    def test_traps_and_what_they_hold(self) -> None:
        closed = of(
            ("render", "cement_render", 12),
            ("foam", "xps_034", 120),
            ("osb", "osb", 15),
            STUD,
            ("sheet", "membrane_tight"),
            BOARD,
        )
        facts = self.facts(closed)
        self.assertTrue(facts.in_trap and facts.trap_holds_wood and facts.traps)
        open_ = of(
            *CLAD,
            ("under", "membrane_open"),
            ("boards", "sarking_boards", 22),
            STUD,
            ("sheet", "membrane_variable_medium"),
            BOARD,
        )
        self.assertFalse(self.facts(open_).in_trap)

    def test_a_throttled_wall_is_told_and_is_no_trap(self) -> None:
        logs = of(
            ("logs", "logs", 180),
            ("wool", "mineral_fibre_035", 80, 0.08),
            ("sheet", "membrane_retarder"),
            ("lining", "softwood", 18),
        )
        facts = self.facts(logs)
        self.assertFalse(facts.in_trap)

    def test_stainless_frost_proof_and_capillary_are_facts(self) -> None:
        brick = BuildUpLayer(
            id="b", material="brick_old", thickness_mm=330, frost_proof=True, metal=Metal(kind="stainless steel")
        )
        lined = BuildUp(layers=[brick, BuildUpLayer(id="c", material="calcium_silicate", thickness_mm=50)])
        facts = self.facts(lined)
        self.assertEqual(facts.frost_proof, ["b"])
        self.assertTrue(facts.metal_stated and facts.capillary_lining)
        self.assertFalse(self.facts(of(BRICK, PLASTER)).capillary_lining)

    def test_no_drying_figure_at_the_rooms_own_face(self) -> None:
        bare, plastered = of(BRICK), of(BRICK, PLASTER)
        for b, room in ((bare, True), (plastered, False)):
            plane = sensitive_plane(b, Place())
            assert plane is not None
            self.assertEqual(faces_room(b, plane), room)
            self.assertEqual(self.facts(b).drying_g_m2 is None, room)


class Levers(TestCase):
    def test_each_lever_goes_outside_and_keeps_the_wall(self) -> None:
        wall = of(("wash", "limewash"), STONE, PLASTER)
        for key in LEVERS:
            with self.subTest(key):
                levered = with_lever(wall, key)
                ids = [layer.id for layer in levered.layers]
                self.assertEqual(ids[-2:], ["stone", "plaster"])
                self.assertNotIn("wash", ids, "a coat on the face comes off first")
                self.assertTrue(all(i.startswith("lever-") for i in ids[:-2]))
                self.assertEqual(why_no_transient(levered, Place(facing_deg=290)), "")

    def test_what_has_a_lever_or_no_stone_is_refused(self) -> None:
        levered = with_lever(of(STONE), "render")
        with self.assertRaisesRegex(OutOfRange, "keeps the rain out already"):
            with_lever(levered, "coat")
        for b in (of(("logs", "logs", 180)), of(("fibre", "wood_fibre_board", 60), BRICK)):
            with self.assertRaisesRegex(OutOfRange, "no masonry or render"):
                with_lever(b, "coat")


class Corrections(TestCase):
    """ISO 6946 Annex F, worked here: α λ A n / d · (R₁/R_T)²; ΔU'' (R₁/R_T)²; p f x (R₁/R_T)²."""

    def of(self, **more: Any) -> BuildUp:
        wool = BuildUpLayer(id="wool", material="mineral_fibre_035", thickness_mm=140, **more)
        return BuildUp(layers=[BuildUpLayer(id="brick", material="brick_old", thickness_mm=215), wool])

    R1 = 0.140 / 0.035
    TOTAL = 0.04 + 0.215 / 0.72 + R1 + 0.13

    def test_fixings(self) -> None:
        fixings = Fixings(per_m2=5, conductivity_w_mk=50, section_mm2=20)
        wanted = 0.8 * 50 * 20e-6 * 5 / 0.140 * (self.R1 / self.TOTAL) ** 2
        found = transmittance(self.of(fixings=fixings), "wall")
        self.assertAlmostEqual(found.corrections[0].delta_u, wanted, places=9)
        self.assertAlmostEqual(found.u_effective, 1.0 / self.TOTAL + wanted, places=9)
        recessed = transmittance(self.of(fixings=fixings.model_copy(update={"depth_share": 0.5})), "wall")
        self.assertAlmostEqual(recessed.corrections[0].delta_u, 0.5 * wanted, places=9)

    def test_gaps(self) -> None:
        for level, delta in ((1, 0.01), (2, 0.04)):
            found = transmittance(self.of(gaps=level), "wall")
            self.assertAlmostEqual(found.corrections[0].delta_u, delta * (self.R1 / self.TOTAL) ** 2, places=9)
        self.assertEqual(transmittance(self.of(), "wall").corrections, [])

    def test_an_inverted_roof(self) -> None:
        foam = BuildUpLayer(id="foam", material="xps_034", thickness_mm=160, inverted=InvertedRoof(rain_mm_day=2.5))
        roof = BuildUp(layers=[foam, BuildUpLayer(id="deck", material="concrete", thickness_mm=180)])
        found = transmittance(roof, "roof")
        first = 0.160 / 0.034
        total = 0.04 + first + found.layers["deck"] + 0.10
        self.assertAlmostEqual(found.corrections[0].delta_u, 2.5 * 0.04 * (first / total) ** 2, places=6)

    def test_what_is_no_insulation_takes_none(self) -> None:
        for more in ({"gaps": 1}, {"fixings": Fixings(per_m2=4)}, {"inverted": InvertedRoof(rain_mm_day=1)}):
            with self.assertRaisesRegex(ValidationError, "is no insulation"):
                BuildUpLayer(id="b", material="brick_old", thickness_mm=100, **more)


class Ground(TestCase):
    """ISO 13370, simple form, worked here."""

    def test_u_falls_with_size_insulation_and_dry_rock_conducts(self) -> None:
        big, small = GroundPlace(area_m2=400, perimeter_m=80), GroundPlace(area_m2=25, perimeter_m=20)
        self.assertLess(slab_transmittance(big, 0.5), slab_transmittance(small, 0.5))
        values = [slab_transmittance(big, r) for r in (0.0, 0.5, 1.0, 2.0, 4.0, 8.0)]
        self.assertEqual(values, sorted(values, reverse=True))
        soils = [
            slab_transmittance(big.model_copy(update={"soil": s}), 0.5)
            for s in ("clay or silt", "sand or gravel", "rock")
        ]
        self.assertEqual(soils, sorted(soils))

    def test_the_two_branches_meet(self) -> None:
        """Where d_t reaches B′ the two formulas give nearly the same: no jump of more than a twentieth."""
        slab = GroundPlace(area_m2=100, perimeter_m=40)
        edge = (slab.characteristic_m - slab.wall_m) / 2.0 - 0.21
        below, above = slab_transmittance(slab, edge - 1e-6), slab_transmittance(slab, edge + 1e-6)
        self.assertAlmostEqual(below / above, 1.0, delta=0.05)

    def test_a_strip_against_the_closed_form(self) -> None:
        """B′ 4.0, w 0.3, clay: bare d_t = 0.3 + 1.5 · 0.21 = 0.615; U = 3/(4π + 0.615) ln(4π/0.615 + 1)."""
        strip = GroundPlace(area_m2=80, perimeter_m=40, wall_m=0.3, soil="clay or silt")
        self.assertAlmostEqual(strip.characteristic_m, 4.0)
        self.assertAlmostEqual(slab_transmittance(strip, 0.0), 3.0 / 13.18137 * 3.064655, places=3)

    def test_a_deeper_cellar_wall_loses_less(self) -> None:
        values = [
            cellar_wall_transmittance(GroundPlace(area_m2=96, perimeter_m=40, depth_m=z), 0.5)
            for z in (0.5, 1.0, 2.0, 3.0)
        ]
        self.assertEqual(values, sorted(values, reverse=True))

    def test_nonsense_is_refused(self) -> None:
        with self.assertRaises(OutOfRange):
            slab_transmittance(GroundPlace(area_m2=96, perimeter_m=40), -0.1)
        with self.assertRaisesRegex(OutOfRange, "depth"):
            cellar_wall_transmittance(GroundPlace(area_m2=96, perimeter_m=40), 0.5)
        for bad in (
            {"area_m2": 0, "perimeter_m": 4},
            {"area_m2": 4, "perimeter_m": -1},
            {"area_m2": 4, "perimeter_m": 4, "depth_m": 20},
        ):
            with self.assertRaises(ValidationError):
                GroundPlace.model_validate(bad)


class Parts(TestCase):
    def test_what_bears_and_what_insulates(self) -> None:
        for material, mm, bearing, insulating in (
            ("brick_old", 215, True, False),
            ("brick_old", 50, False, False),
            ("earth", 300, False, False),
            ("logs", 180, True, False),
            ("osb", 15, True, False),
            ("larch_boards", 22, False, False),
            ("slate", 8, False, False),
            ("wood_fibre_board", 100, False, True),
            ("gypsum_board", 12.5, False, False),
        ):
            layer = BuildUpLayer(id="a", material=material, thickness_mm=mm)
            with self.subTest(material, mm=mm):
                self.assertEqual((bears(layer), is_insulation(layer)), (bearing, insulating))

    def test_a_half_brick_wall_with_boards_inside_is_a_leaf_and_a_whole_one_is_not(self) -> None:
        for mm, leaf in ((102, True), (215, False)):
            b = of(("b", "brick_old", mm), ("boards", "sarking_boards", 22))
            self.assertEqual(Anatomy(b, Place()).is_leaf(0), leaf)
        self.assertFalse(Anatomy(of(("b", "brick_old", 102), PLASTER), Place()).is_leaf(0), "no wood behind it")
        second = of(("a", "lime_render", 15), ("b", "brick_old", 102), ("boards", "sarking_boards", 22))
        self.assertFalse(Anatomy(second, Place()).is_leaf(1), "not the outermost")

    def test_members_are_framing_in_any_layer(self) -> None:
        layer = BuildUpLayer(
            id="a", material="air_unventilated", thickness_mm=90, framing=Framing(material="softwood", share=0.1)
        )
        frame = BuildUp(
            layers=[
                BuildUpLayer(id="b", material="osb", thickness_mm=12),
                layer,
                BuildUpLayer(id="c", material="osb", thickness_mm=12),
            ]
        )
        self.assertEqual(made(frame)[0], "frame")
        self.assertIsNone(Anatomy(frame, Place()).between_members, "air between members is no insulation")


class Colours(TestCase):
    """The sun is taken up by the outermost layer, in its colour."""

    PLACE = Place(climate="corrie", absorptance=0.6)

    def of(self, *layers: dict[str, Any], new: bool = True) -> float:
        return absorptance_of(BuildUp.model_validate({"layers": list(layers)}), self.PLACE, new)

    def test_what_stands_there_has_the_colour_of_the_place_and_what_comes_its_own(self) -> None:
        stone = {"id": "s", "material": "sandstone_rubble", "thickness_mm": 500, "existing": True}
        slates = {"id": "c", "material": "slate", "thickness_mm": 10}
        wash, oil = {"id": "w", "material": "limewash"}, {"id": "o", "material": "wood_oil"}
        boards = {"id": "b", "material": "larch_boards", "thickness_mm": 22}
        self.assertEqual(self.of(stone), 0.6)
        self.assertEqual(self.of({**stone, "absorptance": 0.35}), 0.35)
        self.assertEqual(self.of(slates, stone), 0.85)
        self.assertEqual(self.of(slates, stone, new=False), 0.6, "as found the place says it")
        self.assertEqual(self.of(wash, stone), 0.3)
        self.assertEqual(self.of(oil, boards, stone), 0.7, "an oil shows its boards")
        self.assertEqual(self.of(oil, {**boards, "existing": True}, stone), 0.6)
        self.assertEqual(self.of({"id": "f", "material": "mineral_fibre_035", "thickness_mm": 80}, stone), 0.6)

    def test_the_year_of_an_option_runs_with_it(self) -> None:
        render = {"id": "r", "material": "lime_render", "thickness_mm": 20}
        stone = {"id": "s", "material": "sandstone_rubble", "thickness_mm": 500, "existing": True}
        option = BuildUp.model_validate({"layers": [render, stone]})
        for new, taken_up in ((True, 0.4), (False, 0.6)):
            outside = model_of(option, self.PLACE, new=new).case.outside
            self.assertEqual(getattr(outside, "absorptance", None), taken_up)

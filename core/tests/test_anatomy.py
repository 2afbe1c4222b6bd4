"""One anatomy of an element: what each layer is taken for, and what follows from it, on build-ups that once were read wrongly."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from core.assembly.control import control_layers
from core.assembly.roles import roles_of
from core.assembly.to_case import model_of, open_faces
from core.buildup.anatomy import Anatomy
from core.buildup.background import ground_of
from core.buildup.growth import aligned, growth, matched_words
from core.buildup.leaks import Leaks
from core.buildup.make import Make
from core.buildup.members import member_path
from core.buildup.model import BuildUp, BuildUpLayer, Framing, Limits, Place, Uneven
from core.buildup.planes import sensitive_plane
from core.cases.alike import alike
from core.cases.practice import build_up
from core.climate.data import shipped
from core.criteria.cautions import cautions
from core.moisture.gaps import gap_sd
from core.moisture.steady import condensation, conditions
from core.moisture.traps import traps
from core.preview import preview
from core.proposals.situation import Stand, situation

STEEL = Framing.model_validate(
    {"material": "steel_plate", "share": 0.001, "spacing_mm": 600, "flange_mm": 50, "web_mm": 0.6}
)
WALL = Place(climate="ostmoor")
FLAT = Place(kind="roof", slope_deg=2.0, climate="ostmoor")
CELLAR = Place(adjoining="ground", climate="corrie", ground="wet")


def of(*rows: tuple[Any, ...], **more: dict[str, Any]) -> BuildUp:
    """(material, mm, share of framing); more: fields of the layer of that number, as l0, l1 …"""
    layers = []
    for number, row in enumerate(rows):
        framing = Framing(material="softwood", share=row[2]) if len(row) > 2 else None
        made: dict[str, Any] = {
            "id": f"l{number}",
            "material": row[0],
            "thickness_mm": row[1] if len(row) > 1 else None,
            "framing": framing,
            "existing": True,
        }
        layers.append(BuildUpLayer(**{**made, **more.get(f"l{number}", {})}))
    return BuildUp(layers=layers)


class Makes(TestCase):
    def test_a_lining_changes_no_make(self) -> None:
        for cladding in ("weatherboards", "larch_boards", "cedar_shingles", "profiled_sheet"):
            for bay in (("air_unventilated", 100, 0.15), ("mineral_fibre_040", 95, 0.12), ("air_unventilated", 100)):
                for lining in (
                    (),
                    (("gypsum_board", 12.5),),
                    (("membrane_tight",), ("gypsum_board", 12.5)),
                    (("lath_plaster", 22),),
                    (("wood_panelling", 15),),
                ):
                    found = of((cladding, 20), bay, *lining)
                    with self.subTest(cladding, bay=bay, lining=lining):
                        expected = "bare cladding" if cladding != "profiled_sheet" or len(bay) > 2 else "steel frame"
                        if cladding == "profiled_sheet" and lining == (("wood_panelling", 15),):
                            continue  # wood inside says nothing of what bears a sheet of steel
                        self.assertEqual(Make(Anatomy(found, WALL)).kind, expected)

    def test_what_bears_is_told_by_what_is_there(self) -> None:
        for name, found, place, make in (
            ("panels", of(("concrete_precast", 160), ("gypsum_plaster", 8)), WALL, "large panel"),
            (
                "steel on steel studs",
                of(("profiled_sheet", 1), ("mineral_fibre_038", 100), ("gypsum_board", 12.5), l1={"framing": STEEL}),
                WALL,
                "steel frame",
            ),
            (
                "sheathed frame",
                of(("weatherboards", 20), ("osb", 12), ("air_unventilated", 140, 0.1), ("gypsum_board", 12.5)),
                WALL,
                "frame with boards",
            ),
            (
                "boards over felt",
                of(("weatherboards", 20), ("building_paper",), ("air_unventilated", 140, 0.1), ("gypsum_board", 12.5)),
                WALL,
                "frame with boards",
            ),
            (
                "stone lined on studs",
                of(("granite", 500), ("air_unventilated", 50, 0.1), ("gypsum_board", 12.5)),
                WALL,
                "solid stone",
            ),
            (
                "planks",
                of(
                    ("softwood", 60),
                ),
                WALL,
                "log",
            ),
            (
                "planted",
                of(
                    ("earth", 100),
                    ("dimpled_sheet",),
                    ("bitumen_sheet",),
                    ("sarking_boards", 24),
                    ("air_unventilated", 180, 0.1),
                ),
                FLAT,
                "planted roof",
            ),
            (
                "steel deck",
                of(
                    ("profiled_sheet", 1),
                ),
                FLAT,
                "metal roof",
            ),
            ("sandwich", of(("profiled_sheet", 1), ("air_drained", 25), ("steel_plate", 1)), FLAT, "metal roof"),
            (
                "thatch",
                of(("thatch", 300), ("air_unventilated", 120, 0.1)),
                Place(kind="roof", slope_deg=50),
                "thatched roof",
            ),
        ):
            with self.subTest(name):
                self.assertEqual(Make(Anatomy(found, place)).kind, make)

    def test_somebody_may_say_what_a_layer_is(self) -> None:
        looks = of(("brick_ordinary", 102), ("air_unventilated", 40), ("wood_panelling", 20))
        self.assertTrue(Anatomy(looks, WALL).is_leaf(0), "a leaf before boards")
        said = of(("brick_ordinary", 102), ("air_unventilated", 40), ("wood_panelling", 20), l2={"role": "lining"})
        self.assertEqual((Make(Anatomy(said, WALL)).kind, Anatomy(said, WALL).masonry), ("solid brick", 0))
        roles = {row.layer_id: (set(row.roles), row.stated) for row in roles_of(said, WALL)}
        self.assertEqual(roles["l2"], ({"lining"}, True))
        self.assertIn("structure", roles["l0"][0])

    def test_every_layer_of_a_wall_has_its_roles_with_the_reason(self) -> None:
        found = of(
            ("larch_boards", 22),
            ("air_ventilated", 30),
            ("membrane_open",),
            ("sarking_boards", 22),
            ("wood_fibre_batt", 140, 0.1),
            ("membrane_variable_medium",),
            ("gypsum_board", 12.5),
        )
        roles = [set(row.roles) for row in roles_of(found, WALL)]
        self.assertEqual(roles[0], {"weather skin"})
        self.assertEqual(roles[1], {"gap"})
        self.assertIn("line that sheds water", roles[2])
        self.assertEqual(roles[3], {"sheathing"})
        self.assertEqual(roles[4], {"structure", "fill of bays"})
        self.assertEqual(roles[5], {"air line", "vapour line"})
        self.assertTrue(all(why for row in roles_of(found, WALL) for why in row.roles.values()))


class Weather(TestCase):
    def judged(self, found: BuildUp, place: Place) -> list[str]:
        """Names of the planes that are judged."""
        return [point.name for point in model_of(found, place).watch_points if point.judged]

    def test_cladding_tight_on_felt_is_reported_and_what_is_behind_judged(self) -> None:
        found = of(
            ("weatherboards", 20),
            ("building_paper",),
            ("sarking_boards", 20),
            ("air_unventilated", 100, 0.15),
            ("gypsum_board", 12.5),
        )
        self.assertEqual(Anatomy(found, WALL).judged_from, 2)
        wood = {row.layer_id: row.judged for row in model_of(found, WALL).wood}
        self.assertEqual(wood, {"l0": False, "l2": True})

    def test_a_cladding_on_bare_members_is_judged(self) -> None:
        found = of(("weatherboards", 20), ("mineral_fibre_040", 100, 0.15), ("gypsum_board", 12.5))
        self.assertEqual(Anatomy(found, WALL).judged_from, 0)

    def test_between_a_thin_render_and_its_boards_is_reported(self) -> None:
        found = of(
            ("silicone_render", 8),
            ("eps_035", 100),
            ("osb", 15),
            ("mineral_fibre_035", 140, 0.1),
            ("gypsum_board", 12.5),
        )
        points = {point.after_layer_id: point for point in model_of(found, WALL).watch_points}
        self.assertFalse(points["l0"].judged)
        self.assertIn("algae", points["l0"].why_not)
        self.assertTrue(points["l1"].judged)

    def test_a_coat_of_paint_goes_with_the_boards_it_is_on(self) -> None:
        painted = of(
            ("oil_paint",),
            ("weatherboards", 20),
            ("building_paper",),
            ("sarking_boards", 20),
            ("air_unventilated", 100, 0.15),
        )
        self.assertEqual(Anatomy(painted, WALL).covering, 3)

    def test_decks_of_felt_bitumen_and_rubber_shed(self) -> None:
        for sheet in ("bitumen_sheet", "rubber_sheet", "asphalt_felt"):
            found = of((sheet,), ("sarking_boards", 24), ("air_unventilated", 180, 0.1), ("gypsum_board", 12.5))
            rain = control_layers(found, FLAT).rain
            self.assertEqual((rain.layer_id, rain.why), ("l0", ""), sheet)

    def test_soil_on_a_roof_is_no_trap_and_no_line(self) -> None:
        found = of(
            ("earth", 100),
            ("dimpled_sheet",),
            ("bitumen_sheet",),
            ("pir_fleece", 140),
            ("self_adhered_tight",),
            ("concrete", 180),
        )
        names = " ".join(trap.sentence.metric for trap in traps(found, FLAT))
        self.assertNotIn("earth", names)
        self.assertEqual(roles_of(found, FLAT)[0].roles.keys(), {"soil or ballast"})

    def test_a_gap_is_as_open_as_the_air_it_changes(self) -> None:
        layer = {
            name: of((name, 30)).layers[0]
            for name in ("air_drained", "air_vented", "air_ventilated", "air_unventilated")
        }
        sd = {name: gap_sd(one, WALL) for name, one in layer.items()}
        self.assertLess(sd["air_ventilated"], sd["air_vented"])
        self.assertLess(sd["air_vented"], sd["air_drained"])
        self.assertGreater(sd["air_unventilated"], 1000.0)
        flat, steep = (
            gap_sd(layer["air_vented"], Place(kind="roof", slope_deg=slope, climate="ostmoor")) for slope in (2.0, 45.0)
        )
        self.assertGreater(flat, steep, "a slope drives its air")

    def test_a_filled_cavity_carries_rain_across(self) -> None:
        leaves = (("brick_ordinary", 102), ("mineral_fibre_035", 60), ("brick_ordinary", 102))
        bare, clad = of(*leaves), of(("larch_boards", 22), ("air_ventilated", 30), ("membrane_open",), *leaves)
        self.assertEqual((Leaks(bare, WALL).rain_share, Leaks(bare, WALL).rain_leak_layer()), (0.005, "l1"))
        self.assertEqual(Leaks(clad, WALL).rain_share, 0.0)
        (leak,) = model_of(bare, WALL).case.air.rain_leaks
        self.assertEqual((leak.after_layer, leak.share), (1, 0.005))

    def test_metal_studs_do_not_rot(self) -> None:
        found = of(("profiled_sheet", 1), ("mineral_fibre_038", 100), ("gypsum_board", 12.5), l1={"framing": STEEL})
        plane = sensitive_plane(found, WALL)
        self.assertTrue(plane is None or plane.layer_id != "l1")
        self.assertIsNone(member_path(found))


class Ground(TestCase):
    def test_only_masonry_and_what_lies_on_it_is_the_earths(self) -> None:
        batts = of(
            ("sandstone_rubble", 500),
            ("lime_plaster", 20),
            ("mineral_fibre_035", 90, 0.1),
            ("membrane_tight",),
            ("gypsum_board", 12.5),
        )
        self.assertEqual(Anatomy(batts, CELLAR).judged_from, 0)
        judged = {point.after_layer_id for point in model_of(batts, CELLAR).watch_points if point.judged}
        self.assertLessEqual({"l1", "l2", "l3"}, judged)
        tanked = of(("concrete", 250), ("liquid_waterproof",), ("xps_034", 80), ("gypsum_board", 12.5))
        self.assertEqual(Anatomy(tanked, CELLAR).judged_from, 2)
        drained = of(("concrete", 250), ("dimpled_sheet",), ("mineral_fibre_035", 80), ("gypsum_board", 12.5))
        self.assertEqual(Anatomy(drained, CELLAR).judged_from, 2)
        self.assertEqual(Anatomy(tanked, WALL).earth_side, 0)


class Open(TestCase):
    def test_open_bays_and_sheets_on_faces_are_run(self) -> None:
        for name, found in (
            ("a bay open to the room", of(("larch_boards", 22), ("air_unventilated", 140, 0.1))),
            ("a batt as the face", of(("brick_old", 330), ("mineral_fibre_035", 100))),
            (
                "a variable membrane as the face",
                of(("brick_old", 330), ("mineral_fibre_035", 100), ("membrane_variable_medium",)),
            ),
            ("stripped to the weather", of(("air_ventilated", 100, 0.15), ("lath_plaster", 22))),
            (
                "two sheets on each other",
                of(
                    ("brick_old", 330),
                    ("mineral_fibre_035", 100),
                    ("membrane_variable_medium",),
                    ("membrane_tight",),
                    ("gypsum_board", 12.5),
                ),
            ),
        ):
            with self.subTest(name):
                model = model_of(found, WALL)
                self.assertEqual(len({point.name for point in model.watch_points}), len(model.case.output.planes))
        self.assertEqual(
            [layer.id for layer in open_faces(of(("larch_boards", 22), ("air_unventilated", 140, 0.1)))[1]], ["l1"]
        )

    def test_through_the_members(self) -> None:
        floor = of(("spray_foam_closed", 90, 0.13), ("oak_floor", 22))
        through = member_path(floor)
        assert through is not None
        self.assertEqual([layer.material for layer in through.layers], ["softwood", "oak_floor"])
        self.assertEqual([layer.id for layer in through.layers], ["l0", "l1"])
        self.assertIsNone(member_path(of(("brick_old", 330))))


class Same(TestCase):
    def test_what_stays_is_known_under_another_id(self) -> None:
        found = of(("sandstone_rubble", 500), ("lime_plaster", 20))
        renamed = BuildUp(
            layers=[
                BuildUpLayer(id="new", material="wood_fibre_board", thickness_mm=100),
                *(layer.model_copy(update={"id": f"x{layer.id}"}) for layer in found.layers),
            ]
        )
        self.assertEqual([round(x * 1000) for x in growth(found, renamed, WALL)], [100, 0])
        self.assertEqual([layer.id for layer in aligned(found, renamed).layers], ["new", "l0", "l1"])
        self.assertEqual(len(matched_words(found, renamed)), 2)
        self.assertEqual(matched_words(found, found), [])

    def test_foam_fills_rough_stone(self) -> None:
        uneven = Uneven(hollow_mm=40, share=0.4)
        for material, state in (
            ("spray_foam_closed", "filled"),
            ("expanded_clay", "filled"),
            ("eps_035", "hollow"),
            ("mineral_fibre_040", "filled"),
        ):
            found = of(("sandstone_rubble", 500), (material, 100), ("gypsum_board", 12.5), l0={"uneven": uneven})
            ground = ground_of(found)
            assert ground is not None
            self.assertEqual(ground.state, state, material)

    def test_nothing_gets_bolder_and_the_same_stays_the_same(self) -> None:
        self.assertEqual([f"{one.number} {one.what}: {one.words}" for one in alike(40)], [])

    def test_humidity_is_read_from_the_hours(self) -> None:
        found = of(("brick_old", 330))
        flags = {
            room: situation(found, Stand(Place(climate="ostmoor", occupancy=room), Limits())).flags
            for room in ("normal", "high", "iso13788_5", "cooled")
        }
        self.assertNotIn("humid room", flags["normal"])
        self.assertIn("humid room", flags["high"])
        self.assertIn("wet room", flags["iso13788_5"])
        self.assertIn("inward drive", flags["cooled"])

    def test_a_room_that_is_never_warmer_needs_no_factor(self) -> None:
        place = Place(climate="sollera", set_point_c=5.0)
        air = conditions(place, shipped("sollera"))
        found = condensation(of(("brick_old", 330)), place, shipped("sollera"))
        never = not (air.inside_c - air.outside_c > 1.0).any()
        self.assertEqual(found.surface_factor_needed is None, never)

    def test_asbestos_by_kind_and_year(self) -> None:
        felt = of(("felt",), ("sarking_boards", 22), ("air_unventilated", 140, 0.1))
        bare = BuildUp(layers=felt.layers[1:])
        asked = {
            year: any("asbestos" in words.metric for words in cautions(felt, bare, FLAT, year))
            for year in (None, 1965, 1999)
        }
        self.assertEqual(asked, {None: True, 1965: True, 1999: False})


class NewPlanes(TestCase):
    def test_where_as_found_has_no_plane_a_new_sheathing_gives_its_own(self) -> None:
        """Bare metal over studs has nothing that could rot: the boards of an option do, and its drying is told without a share."""
        found = build_up(("skin", "profiled_sheet", 1))
        boards = (
            ("gap", "air_ventilated", 25),
            ("sheet", "membrane_open"),
            ("osb", "osb", 15),
            ("fill", "mineral_fibre_035", 140, 0.1),
            ("board", "gypsum_board", 12.5),
        )
        option = BuildUp(layers=[*found.layers, *build_up(*boards).layers])
        shown = preview(found, option, Place(climate="ostmoor"), Limits())
        assert shown.plane is not None and shown.drying is not None
        self.assertEqual(shown.plane.layer_id, "osb")
        self.assertIsNone(shown.drying_left.share)
        self.assertTrue(shown.drying_left.why_not)

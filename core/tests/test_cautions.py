"""Cautions: each belongs to the work that calls for it, and to nothing else."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from core.buildup.model import BuildUp, BuildUpLayer, Place
from core.criteria.cautions import CAUTIONS, Work, cautions

Row = tuple[str, float | None]


def of(*rows: tuple[Any, ...]) -> BuildUp:
    """(id, material, mm, more)."""
    return BuildUp(
        layers=[
            BuildUpLayer.model_validate(
                {"id": r[0], "material": r[1], "thickness_mm": r[2], **(r[3] if len(r) > 3 else {})}
            )
            for r in rows
        ]
    )


STONE = ("stone", "sandstone_rubble", 500)
FOUND = of(STONE, ("plaster", "lime_plaster", 20))


def keys(found: BuildUp, option: BuildUp, built: int | None = 1900, **place: Any) -> set[str]:
    work = Work(found, option, Place.model_validate(place), built)
    return {one.key for one in CAUTIONS if one.applies(work)}


class Cautions(TestCase):
    def test_as_found_there_is_no_work(self) -> None:
        self.assertEqual(keys(FOUND, FOUND), set())
        self.assertEqual(cautions(FOUND, BuildUp(layers=[]), Place(), 1900), [])

    def test_lead_only_where_there_is_old_paint_and_the_house_is_old(self) -> None:
        painted = of(("paint", "oil_paint", None), STONE, ("plaster", "lime_plaster", 20))
        over = of(
            ("board", "wood_fibre_board", 60), ("paint", "oil_paint", None), STONE, ("plaster", "lime_plaster", 20)
        )
        self.assertIn("lead", keys(painted, over))
        self.assertIn("lead", keys(painted, over, built=None), "nobody knows when")
        self.assertNotIn("lead", keys(painted, over, built=2001))
        self.assertNotIn(
            "lead",
            keys(
                FOUND,
                of(("board", "wood_fibre_board", 60), *[(x.id, x.material, x.thickness_mm) for x in FOUND.layers]),
            ),
        )

    def test_asbestos_by_kind_and_age(self) -> None:
        slates = of(("slates", "fibre_cement_slates", 10), ("deck", "sarking_boards", 22))
        new = of(("tiles", "clay_tiles", 20), ("deck", "sarking_boards", 22))
        self.assertIn("asbestos", keys(slates, new, built=1970, kind="roof", slope_deg=40))
        self.assertNotIn("asbestos", keys(slates, new, built=2015, kind="roof", slope_deg=40))
        self.assertNotIn("asbestos", keys(of(("s", "slate", 10)), new, built=1970, kind="roof", slope_deg=40))

    def test_foam_its_chemistry_and_its_cover(self) -> None:
        bare = of(STONE, ("foam", "spray_foam_closed", 75))
        covered = of(STONE, ("foam", "spray_foam_closed", 75), ("lining", "gypsum_board", 12.5))
        self.assertLessEqual({"foam", "fire cover"}, keys(FOUND, bare))
        self.assertIn("foam", keys(FOUND, covered))
        self.assertNotIn("fire cover", keys(FOUND, covered))
        self.assertNotIn(
            "foam", keys(FOUND, of(STONE, ("wool", "mineral_fibre_035", 80), ("lining", "gypsum_board", 12.5)))
        )

    def test_what_braces_or_carries(self) -> None:
        frame = of(("boards", "larch_boards", 22), ("deck", "sarking_boards", 22, {"carries": True}))
        thin = of(("boards", "larch_boards", 22), ("deck", "sarking_boards", 22))
        bare = of(
            ("boards", "larch_boards", 22),
        )
        self.assertIn("carries", keys(frame, bare))
        self.assertIn("braces", keys(thin, bare))
        self.assertNotIn("carries", keys(frame, frame))

    def test_more_between_the_members_than_they_are_deep(self) -> None:
        def rafters(mm: float, more: float = 0.0, share: float = 0.12) -> BuildUp:
            frame = {"framing": {"material": "softwood", "share": 0.12}}
            rows = [("slate", "slate", 8), ("fill", "mineral_fibre_035", mm, frame)]
            if more:
                rows.append(("more", "mineral_fibre_035", more, {"framing": {"material": "softwood", "share": share}}))
            return of(*rows, ("board", "gypsum_board", 12.5))

        self.assertIn("depth", keys(rafters(150), rafters(180), kind="roof"))
        self.assertIn("depth", keys(rafters(150), rafters(150, 60), kind="roof"))
        self.assertNotIn("depth", keys(rafters(150), rafters(150), kind="roof"))
        self.assertNotIn("depth", keys(rafters(150), rafters(150, 60, share=0.08), kind="roof"), "battens across")
        self.assertNotIn("depth", keys(FOUND, rafters(150)), "a frame of its own before a wall")

    def test_weight_dust_ground_and_the_rest(self) -> None:
        screed = of(("earth", "earth", 300), ("s", "concrete", 100), ("foam", "eps_035", 80), ("screed", "screed", 60))
        slab = of(("earth", "earth", 300), ("s", "concrete", 100))
        self.assertIn("ground", keys(slab, screed, kind="floor", adjoining="ground"))
        self.assertNotIn("weight", keys(slab, screed, kind="floor", adjoining="ground"), "the soil bears it")
        self.assertIn("weight", keys(slab, screed, kind="floor", adjoining="unheated"))
        clad = of(
            ("b", "larch_boards", 22),
            ("gap", "air_ventilated", 30),
            ("w", "facade_slab_036", 100),
            *[(x.id, x.material, x.thickness_mm) for x in FOUND.layers],
        )
        self.assertLessEqual({"cladding", "fibres", "height"}, keys(FOUND, clad))
        self.assertIn("silica", keys(FOUND, of(STONE, ("lime", "insulating_lime_plaster", 40))))
        self.assertIn("salts", keys(FOUND, of(("r", "repellent_new", None), STONE, ("plaster", "lime_plaster", 20))))
        void = of(("floor", "oak_floor", 22))
        self.assertIn(
            "confined",
            keys(
                void, of(("w", "wood_fibre_batt", 100), ("floor", "oak_floor", 22)), kind="floor", adjoining="unheated"
            ),
        )
        roof = of(("slate", "slate", 10), ("deck", "sarking_boards", 22))
        self.assertLessEqual(
            {"lamps", "bats"},
            keys(
                roof,
                of(("slate", "slate", 10), ("deck", "sarking_boards", 22), ("w", "wood_fibre_batt", 150)),
                kind="roof",
                slope_deg=40,
            ),
        )

    def test_every_one_of_them_is_reached_here_and_reads_in_both_systems(self) -> None:
        here = {
            "carries",
            "braces",
            "weight",
            "depth",
            "movement",
            "lead",
            "asbestos",
            "foam",
            "fire cover",
            "cladding",
            "fibres",
            "silica",
        }
        more = {"lime", "confined", "ground", "lamps", "height", "bats", "salts"}
        self.assertEqual({one.key for one in CAUTIONS}, here | more)
        self.assertIn("lime", keys(FOUND, of(STONE, ("new", "insulating_lime_plaster", 40))))
        for words in cautions(
            FOUND, of(STONE, ("lime", "insulating_lime_plaster", 120), ("screed", "screed", 60)), Place(), 1900
        ):
            self.assertTrue(words.metric and words.inch and "{" not in words.inch)

"""The heated line: spaces taken in and left out, parts added and pulled down, openings made and closed."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

from core.errors import OutOfRange
from core.survey.geometry import derive
from core.survey.line import Changes, Move, changes_between, geometries, moved_words, spaces, with_changes
from core.survey.shape import Shape

BOX: dict[str, Any] = {
    "id": "main",
    "name": "House",
    "outline": [(0, 0), (10, 0), (10, 8), (0, 8)],
    "storeys": [{"name": "ground floor", "height_m": 2.5}],
    "roof": {"form": "gable", "pitch_deg": 45.0},
    "level_m": 0.5,
    "below": "void",
    "below_height_m": 0.5,
}
SHED: dict[str, Any] = {
    **BOX, "id": "shed", "name": "Shed", "outline": [(10, 0), (14, 0), (14, 5), (10, 5)], "heated": False, "below": "slab",
    "roof": {"form": "flat", "pitch_deg": 0},
}  # fmt: skip


def shape(*bodies: dict[str, Any], **more: Any) -> Shape:
    return Shape.model_validate({"areas": "external", "bodies": list(bodies), **more})


def moves(*which: tuple[str, str, bool]) -> Changes:
    return Changes(moves=[Move.model_validate({"body": b, "space": s, "inside": i}) for b, s, i in which])


class TheLine(TestCase):
    def test_the_attic_taken_in_by_hand(self) -> None:
        """10 × 8 m, 45°: two slopes of 10 × 4 √2, gables of 8 × 4 / 2 more, 10 × 8 × 4 / 2 m³ more, no ceiling."""
        found = shape(BOX)
        both = geometries(found, moves(("main", "attic", True)))
        after = both.after_by_key
        self.assertEqual(
            (both.stands("main/ceiling"), both.stands("main/roof/a"), both.stands("main/a")),
            ("before", "after", "both"),
        )
        for key in ("main/roof/a", "main/roof/c"):
            self.assertAlmostEqual(after[key].net_area_m2, 10 * 4 * math.sqrt(2), places=6)
        gables = [both.after_by_key[k].net_area_m2 - both.before_by_key[k].net_area_m2 for k in ("main/b", "main/d")]
        self.assertAlmostEqual(gables[0], 16.0, places=6)
        self.assertAlmostEqual(gables[1], 16.0, places=6)
        self.assertAlmostEqual(both.after.volume_m3 - both.found.volume_m3, 160.0, places=6)
        self.assertAlmostEqual(both.after.floor_area_m2 - both.found.floor_area_m2, 10.0 * (8 - 2 * 1.5), places=6)

    def test_the_void_taken_in_has_walls_and_a_bottom_of_its_own(self) -> None:
        both = geometries(shape(BOX), moves(("main", "below", True)))
        self.assertEqual(both.stands("main/floor"), "before")
        bottom = both.after_by_key["main/floor/ground"]
        self.assertEqual((bottom.adjoining, bottom.net_area_m2), ("ground", 80.0))
        walls = [e for k, e in both.after_by_key.items() if "/cellar/" in k]
        self.assertAlmostEqual(sum(e.net_area_m2 for e in walls), 36.0 * 0.5, places=6)
        self.assertAlmostEqual(both.after.volume_m3 - both.found.volume_m3, 40.0, places=6)
        self.assertEqual(both.after.floor_area_m2, both.found.floor_area_m2, "a low void is no floor")

    def test_a_wing_taken_in_loses_the_wall_between(self) -> None:
        both = geometries(shape(BOX, SHED), moves(("shed", "body", True)))
        self.assertEqual(both.stands("main/b/to_shed"), "before")
        self.assertEqual(both.stands("shed/b"), "after")
        self.assertNotIn("main/b/to_shed", both.after_by_key)
        self.assertAlmostEqual(both.after.volume_m3 - both.found.volume_m3, 4 * 5 * 2.5, places=6)

    def test_out_again_is_as_found(self) -> None:
        found = shape({**BOX, "below": "heated_cellar", "below_height_m": 2.0, "roof": {**BOX["roof"], "room": True}})
        both = geometries(found, moves(("main", "below", False), ("main", "attic", False)))
        self.assertEqual(both.stands("main/ceiling"), "after")
        self.assertEqual(both.after_by_key["main/floor/unheated"].adjoining, "unheated")
        again = geometries(found, moves(("main", "below", False), ("main", "below", True)))
        self.assertEqual(set(again.after_by_key), set(again.before_by_key))

    def test_an_extension_and_openings(self) -> None:
        window = {"id": "w", "name": "Window", "body": "main", "face": "a", "width_m": 1.0, "height_m": 1.2}
        light = {
            "id": "light",
            "name": "Rooflight",
            "body": "main",
            "face": "c",
            "width_m": 0.8,
            "height_m": 1.0,
            "in_roof": True,
        }
        found = shape(BOX, openings=[window])
        wing = {**SHED, "id": "wing", "name": "Wing", "heated": True, "below": "open", "level_m": 0.6}
        drawn = shape({**BOX, "roof": {**BOX["roof"], "room": True}}, wing, openings=[light])
        changes = changes_between(found, drawn)
        self.assertEqual(
            (changes.closed, [m.space for m in changes.moves], [b.id for b in changes.bodies]),
            (["w"], ["attic"], ["wing"]),
        )
        both = geometries(found, changes)
        self.assertEqual(both.after, derive(with_changes(found, changes)[0]))
        after = both.after_by_key
        self.assertEqual((both.stands("opening/w"), both.stands("opening/light")), ("before", "after"))
        self.assertAlmostEqual(after["main/roof/c"].net_area_m2, 40 * math.sqrt(2) - 0.8, places=6)
        self.assertEqual(
            (after["opening/light"].slope_deg, after["opening/light"].facing_deg), (45.0, after["main/c"].facing_deg)
        )
        self.assertEqual((after["wing/floor"].adjoining, after["wing/floor"].factor_b), ("outside", 1.0))
        words = moved_words(found, changes)
        self.assertEqual(words, ["attic of House: taken in", "Wing: new", "Rooflight: new", "Window: closed"])

    def test_corrections_of_the_survey_go_through_and_what_has_no_place_is_told(self) -> None:
        changes = moves(("main", "attic", True), ("gone", "body", True))
        larger = shape({**BOX, "outline": [(0, 0), (12, 0), (12, 8), (0, 8)]})
        both = geometries(larger, changes)
        self.assertAlmostEqual(both.after_by_key["main/roof/a"].net_area_m2, 12 * 4 * math.sqrt(2), places=6)
        self.assertEqual(len(both.lost), 1)

    def test_what_does_not_fit_is_refused(self) -> None:
        flat = shape({**BOX, "roof": {"form": "flat", "pitch_deg": 0}})
        with self.assertRaisesRegex(OutOfRange, "no attic"):
            geometries(flat, moves(("main", "attic", True)))
        light = {
            "id": "l",
            "name": "Light",
            "body": "main",
            "face": "a",
            "width_m": 1.0,
            "height_m": 1.0,
            "in_roof": True,
        }
        with self.assertRaisesRegex(OutOfRange, "take the attic in"):
            geometries(shape(BOX), Changes.model_validate({"openings": [light]}))
        with self.assertRaisesRegex(OutOfRange, "no part of the roof falls toward face b"):
            derive(shape({**BOX, "roof": {**BOX["roof"], "room": True}}, openings=[{**light, "face": "b"}]))
        with self.assertRaises(ValueError):
            shape(BOX, openings=[{**light, "kind": "door"}])

    def test_the_spaces_are_named(self) -> None:
        found = {(one.body, one.space): one for one in spaces(shape(BOX, SHED))}
        self.assertEqual(set(found), {("main", "body"), ("main", "attic"), ("main", "below"), ("shed", "body")})
        self.assertIn("only part", found[("main", "body")].why_not)
        self.assertEqual(found[("main", "below")].name, "void under House")

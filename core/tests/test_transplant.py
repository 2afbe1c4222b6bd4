"""The same option on another element: one for one, around what was found there, or refused with the reason."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from core.buildup.model import AirLeakage, BuildUp, BuildUpLayer
from core.buildup.transplant import transplant
from core.errors import OutOfRange


def of(*rows: tuple[Any, ...], **more: Any) -> BuildUp:
    return BuildUp(layers=[BuildUpLayer(id=r[0], material=r[1], thickness_mm=r[2]) for r in rows], **more)


STONE = of(("s", "sandstone_rubble", 500), ("p", "lime_plaster", 20))
INSIDE = of(
    ("s", "sandstone_rubble", 500),
    ("p", "lime_plaster", 20),
    ("g", "lime_adhesive", 8),
    ("b", "wood_fibre_board", 60),
    ("f", "lime_plaster", 10),
)


class Transplant(TestCase):
    def test_alike_takes_the_thickness_it_has_there(self) -> None:
        other = of(("x", "sandstone_rubble", 620), ("y", "lime_plaster", 30))
        found = transplant(STONE, INSIDE, other)
        self.assertEqual(
            [(layer.id, layer.thickness_mm) for layer in found.layers],
            [("x", 620), ("y", 30), ("g", 8), ("b", 60), ("f", 10)],
        )

    def test_what_was_taken_out_or_made_thicker_is_so_there_too(self) -> None:
        other = of(("x", "sandstone_rubble", 620), ("y", "lime_plaster", 30))
        thin = of(("s", "sandstone_rubble", 500), ("i", "insulating_lime_plaster", 40))
        self.assertEqual([layer.id for layer in transplant(STONE, thin, other).layers], ["x", "i"])
        thicker = of(("s", "sandstone_rubble", 500), ("p", "lime_plaster", 45))
        self.assertEqual(transplant(STONE, thicker, other).layers[1].thickness_mm, 45)

    def test_another_construction_gets_what_is_new_around_it(self) -> None:
        brick = of(("b", "brick_old", 330), ("g", "gypsum_plaster", 15))
        found = transplant(STONE, INSIDE, brick)
        self.assertEqual(
            [layer.material for layer in found.layers],
            ["brick_old", "gypsum_plaster", "lime_adhesive", "wood_fibre_board", "lime_plaster"],
        )
        self.assertEqual(len({layer.id for layer in found.layers}), 5, "names that are taken there are changed")
        outside = of(
            ("r", "lime_render", 12),
            ("w", "wood_fibre_board", 100),
            *[(x.id, x.material, x.thickness_mm) for x in STONE.layers],
        )
        self.assertEqual(
            [layer.material for layer in transplant(STONE, outside, brick).layers][:3],
            ["lime_render", "wood_fibre_board", "brick_old"],
        )

    def test_what_cannot_be_done_is_refused(self) -> None:
        thin = of(("s", "sandstone_rubble", 500), ("i", "insulating_lime_plaster", 40))
        with self.assertRaisesRegex(OutOfRange, "made otherwise"):
            transplant(STONE, thin, of(("b", "brick_old", 330), ("g", "gypsum_plaster", 15)))
        with self.assertRaisesRegex(OutOfRange, "not stated"):
            transplant(STONE, INSIDE, BuildUp(layers=[]))

    def test_leaks_go_with_their_layer(self) -> None:
        leaky = INSIDE.model_copy(update={"air_leak": AirLeakage(preset="leaky", after_layer="s")})
        other = of(("x", "sandstone_rubble", 620), ("y", "lime_plaster", 30))
        self.assertEqual(transplant(STONE, leaky, other).air_leak, AirLeakage(preset="leaky", after_layer="x"))
        brick = of(
            ("b", "brick_old", 330),
        )
        self.assertIsNone(transplant(STONE, leaky, brick).air_leak.after_layer)

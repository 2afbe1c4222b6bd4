"""Rooms: a load by hand, air by the direction of leaks, what no room names, rooms out of a shape."""

from __future__ import annotations

from dataclasses import replace
from typing import Any
from unittest import TestCase

import numpy as np
from pydantic import ValidationError

from core.air_flow.ledger import LeakAt, Ledger, LedgerRow
from core.climate.data import shipped
from core.physics.constants import AIR_WH_M3K
from core.rooms import (
    GROUND_SWING,
    RoomFace,
    Rooms,
    RoomStated,
    coldest_day,
    proposed,
    room_loads,
    set_point,
    words_of_left,
)
from core.survey.geometry import derive
from core.survey.shape import Shape
from core.tests.test_whole import SHAPE, layers, state
from core.thermal.iso6946 import transmittance
from core.thermal.iso13370 import GroundPlace, slab_heat
from core.zones.assemble import Part, State, infiltration
from core.zones.stated import AirStated, RoomAir, Ventilation

WALL = layers(("sandstone_rubble", 500), ("lime_plaster", 20))
SLAB = layers(("concrete", 150))
CORRIE = shipped("corrie")


def plain(stated: AirStated | None = None) -> State:
    """Two walls, a window and a slab, without spaces and without a ledger."""
    place = GroundPlace(area_m2=80.0, perimeter_m=36.0)
    parts = [
        Part("n", "North wall", "wall", "outside", 30.0, 0.0, 90.0, WALL),
        Part("w", "Window", "window", "outside", 4.0, 0.0, 90.0, u_w_m2k=2.0),
        Part("f", "Slab", "floor", "ground", 80.0, 0.0, 0.0, SLAB, ground=place),
    ]
    return State(parts, [], None, False, stated or AirStated(), 200.0, 80.0, 20.0, "sand or gravel")


def room(**over: Any) -> RoomStated:
    faces = over.pop("faces", {"n": 12.0, "w": 2.0, "f": 20.0})
    base: dict[str, Any] = {"id": "r", "name": "Room", "use": "living", "floor_m2": 20.0, "height_m": 2.5}
    return RoomStated.model_validate(
        {**base, **over, "faces": [{"key": key, "area_m2": size} for key, size in faces.items()]}
    )


def loads(rooms: list[RoomStated], made: State, design: float | None = -10.0, **more: Any) -> Any:
    here = {part.key: part.name for part in made.parts}
    before = {part.key: part.area_m2 for part in made.parts}
    stated = Rooms(rooms=rooms, design_c=design)
    return room_loads(stated, made, CORRIE, more.get("year"), more.get("before", before), more.get("here", here))


class Load(TestCase):
    def test_by_hand(self) -> None:
        made = loads([room()], plain())
        mean = float(CORRIE["temperature_c"].mean())
        u = transmittance(WALL, "wall").u_effective
        thermal = transmittance(SLAB, "floor")
        resistance = thermal.r_effective - thermal.internal_surface - thermal.external_surface
        ground = slab_heat(GroundPlace(area_m2=80.0, perimeter_m=36.0), resistance).steady / 80.0
        through = (12.0 * u + 2.0 * 2.0) * 30.0 + 20.0 * ground * GROUND_SWING * (20.0 - mean)
        one = made.rooms[0]
        self.assertAlmostEqual(one.through_w, through, places=9)
        aired = Ventilation().airing_m3_h  # the only room has all of it
        self.assertEqual(aired, 20.0)
        self.assertAlmostEqual(one.air_w, AIR_WH_M3K * 25.0 * 30.0, places=9, msg="half a change of 50 m³ is more")
        self.assertAlmostEqual(one.watts, one.through_w + one.air_w, places=9)
        self.assertIn("hygienic minimum", one.air_words.metric)
        self.assertIn("no leak ledger", one.unknown[0].metric)

    def test_what_no_room_names_and_what_two_name(self) -> None:
        made = loads([room(), room(id="s", faces={"n": 20.0, "w": 2.0, "f": 60.0})], plain())
        self.assertEqual([left.key for left in made.left], ["n"])
        self.assertAlmostEqual(made.left[0].area_m2, -2.0)
        self.assertIn("more than there is", words_of_left(made.left[0]).metric)
        alone = loads([room()], plain())
        self.assertAlmostEqual(
            sum(left.watts for left in alone.left) + alone.watts - alone.rooms[0].air_w,
            loads([room(faces={"n": 30.0, "w": 4.0, "f": 80.0})], plain()).rooms[0].through_w,
            places=9,
        )

    def test_temperatures_of_use_and_typed_ones(self) -> None:
        self.assertEqual(set_point(room(use="bath"), 20.0), 24.0)
        self.assertEqual(set_point(room(use="bath", set_c=21.0), 20.0), 21.0)
        self.assertEqual(set_point(room(), 19.0), 19.0)
        cold = loads([room(use="store", set_c=10.0)], plain()).rooms[0]
        self.assertEqual((cold.set_c, cold.needed_m3_h, cold.lacking), (10.0, 0.0, []))
        self.assertAlmostEqual(cold.air_w, AIR_WH_M3K * 20.0 * 20.0, places=9, msg="no minimum where nobody stays")

    def test_supply_that_comes_warm_counts_for_the_minimum(self) -> None:
        stated = AirStated(
            ventilation=Ventilation(airing_m3_h=0.0, balanced_m3_h=40.0, heat_recovered=0.75),
            rooms=[RoomAir(id="r", supply_m3_h=40.0)],
        )
        made = loads([room()], plain(stated))
        self.assertAlmostEqual(made.rooms[0].air_m3_h, 10.0)
        self.assertEqual((made.supplied_m3_h, made.unit_m3_h), (40.0, 40.0))

    def test_the_climates_coldest_day_where_no_temperature_is_typed(self) -> None:
        made = loads([room()], plain(), design=None)
        day = coldest_day(CORRIE)
        self.assertAlmostEqual(made.design_c, CORRIE.design_temperature_c)
        self.assertAlmostEqual(float(CORRIE["temperature_c"][day].mean()), CORRIE.design_temperature_c, delta=1.0)

    def test_an_element_that_grows_takes_its_rooms_along(self) -> None:
        grown = plain()
        grown = replace(grown, parts=[replace(grown.parts[0], area_m2=45.0), *grown.parts[1:]])
        made = loads([room()], grown, before={"n": 30.0, "w": 4.0, "f": 80.0})
        self.assertAlmostEqual(made.rooms[0].faces[0].area_m2, 18.0)

    def test_unknown_and_gone_elements_are_said(self) -> None:
        wanted = room(faces={"n": 12.0, "x": 5.0, "y": 5.0})
        made = loads([wanted], plain(), here={"n": "North wall", "x": "Unstated wall"})
        words = [one.metric for one in made.rooms[0].unknown]
        self.assertIn("Unstated wall: its U is not known", words)
        self.assertTrue(any("“y” is not there any more" in one for one in words))


class FreshAir(TestCase):
    def test_leaks_count_where_they_bring_air_in(self) -> None:
        """The windows are low and the ceiling is high: in the season one lets air in, the other out."""
        made = state()
        year = infiltration(made, CORRIE)
        assert year is not None
        low = room(id="low", people=2, faces={"opening/w": 6.24})
        high = room(id="high", people=2, use="bedroom", faces={"main/ceiling": 20.0})
        quiet = replace(made, stated=AirStated(ventilation=Ventilation(airing_m3_h=0.0)))
        found = loads([low, high], quiet, year=year)
        first, second = found.rooms
        self.assertGreater(first.fresh_m3_h, 1.0)
        self.assertEqual(second.fresh_m3_h, 0.0, "what comes down from a cold attic is no fresh air")
        self.assertGreater(second.leaks_out, 1.0)
        self.assertIn("its leaks let used air out", second.lacking[0].metric)
        season = CORRIE["temperature_c"] < 12.0
        flow = next(f for leak, f in zip(year.leaks, year.flows, strict=True) if leak.key == "opening/w")
        self.assertAlmostEqual(first.leaks_in, float(np.maximum(flow[season], 0.0).mean()) / 1.2, places=9)

    def test_rooms_of_a_tall_wall_get_the_air_of_their_own_height(self) -> None:
        """A shaft of 15 m leaks alike all over: below it draws in, above it lets out; one mean height would say neither."""
        at = LeakAt(7.5, 15.0, 0.0, False, "outside", 100.0, 2000.0)
        there = replace(at, facing_deg=180.0)
        tall = LedgerRow("t", "Wall", at, at, 2000.0, 1.0, False, None, "")
        other = replace(tall, key="o", before=there, after=there)
        self.assertEqual(at.slices, [1.25, 3.75, 6.25, 8.75, 11.25, 13.75])
        low = replace(at, spread_m=0.0)
        over = replace(low, facing_deg=180.0)
        flat = replace(tall, before=low, after=low)
        made = Ledger([tall, other], 4000.0, 4000.0, 4000.0, [])
        parts = [Part(key, "Wall", "wall", "outside", 100.0, 0.0, 90.0, WALL) for key in ("t", "o")]
        base = replace(plain(), parts=parts, ledger=made)
        year = infiltration(base, CORRIE)
        assert year is not None
        rooms = [room(id=f"r{at}", level_m=at * 5.0, height_m=5.0, faces={"t": 33.3, "o": 33.3}) for at in range(3)]
        low, middle, high = loads(rooms, base, year=year).rooms
        self.assertGreater(low.leaks_in, 3.0 * low.leaks_out)
        self.assertGreater(high.leaks_out, 3.0 * high.leaks_in)
        self.assertGreater(low.leaks_in, middle.leaks_in)
        whole = year.outward_m3_h("t")
        level = infiltration(
            replace(
                base, ledger=Ledger([flat, replace(flat, key="o", before=over, after=over)], 4000.0, 4000.0, 4000.0, [])
            ),
            CORRIE,
        )
        assert level is not None
        self.assertGreater(whole[1], level.outward_m3_h("t")[1], "the stack within the wall itself")
        anywhere = loads([room(id="r", level_m=None, faces={"t": 100.0})], base, year=year).rooms[0]
        season = CORRIE["temperature_c"] < 12.0
        expected = float(np.maximum(year.parts_of("t")[:, season], 0.0).sum(axis=0).mean()) / 1.2
        self.assertAlmostEqual(anywhere.leaks_in, expected, places=9)

    def test_wet_rooms_want_their_air_taken_out(self) -> None:
        stated = AirStated(rooms=[RoomAir(id="r", extract_m3_h=60.0)])
        self.assertEqual(loads([room(use="bath")], plain(stated)).rooms[0].lacking, [])
        words = loads([room(use="bath")], plain()).rooms[0].lacking[0].metric
        self.assertIn("nothing takes it out, 54 m³/h usual", words)


class OutOfAShape(TestCase):
    def test_every_area_is_shared_once(self) -> None:
        shape = SHAPE.model_dump()
        body = shape["bodies"][0]
        body |= {"below": "heated_cellar", "below_height_m": 2.2}
        body["storeys"] = [
            {"name": "ground floor", "height_m": 2.6}, {"name": "upper floor", "height_m": 2.4, "own_walls": True},
        ]  # fmt: skip
        body["roof"] = {"form": "gable", "pitch_deg": 45.0, "room": True}
        made = Shape.model_validate(shape)
        geometry = derive(made)
        rooms = proposed(made, geometry)
        self.assertEqual(
            [r.name for r in rooms], [f"House, {n}" for n in ("cellar", "ground floor", "upper floor", "attic")]
        )
        for entry in geometry.elements:
            total = sum(face.area_m2 for r in rooms for face in r.faces if face.key == entry.key)
            self.assertAlmostEqual(total, entry.net_area_m2, delta=0.02, msg=entry.key)
        keys = {r.name: {face.key for face in r.faces} for r in rooms}
        self.assertIn("main/roof/a", keys["House, attic"])
        self.assertIn("main/floor", keys["House, cellar"])
        self.assertIn("opening/w", keys["House, ground floor"])

    def test_a_loft_without_headroom_is_no_room(self) -> None:
        shape = SHAPE.model_dump()
        shape["bodies"][0]["roof"] = {"form": "gable", "pitch_deg": 12.0, "room": True}
        made = Shape.model_validate(shape)
        rooms = proposed(made, derive(made))
        self.assertEqual([r.name for r in rooms], ["House, ground floor"])
        self.assertTrue(any(face.key.startswith("main/roof") for face in rooms[0].faces))

    def test_two_rooms_of_one_id_and_an_element_named_twice_are_refused(self) -> None:
        with self.assertRaises(ValidationError):
            Rooms(rooms=[room(), room()])
        with self.assertRaises(ValidationError):
            Rooms(rooms=[room().model_copy(update={"faces": [RoomFace(key="n", area_m2=1.0)] * 2})])

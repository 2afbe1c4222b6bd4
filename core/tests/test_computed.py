"""Ways that are run: what stands, what does not and why, and the thickness that is found."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from core.assembly.to_case import model_of
from core.buildup.members import member_path
from core.buildup.model import BuildUp, Limits, Place
from core.cases.alike import random_element
from core.cases.practice import build_up
from core.climate.data import shipped
from core.criteria.judging import checked_limits
from core.criteria.registry import LIMITS
from core.criteria.stated import stated
from core.criteria.verdict import verdict
from core.proposals.computed import in_year, standing_key, stands
from core.proposals.propose import propose, tries
from core.proposals.rules import way_of
from core.proposals.situation import Situation, Stand, situation
from core.runs import Found, settle, years_of

IN_FORCE = checked_limits(LIMITS, {})


def found_of(*rows: tuple[Any, ...]) -> BuildUp:
    made = build_up(*((f"l{i}", *row) for i, row in enumerate(rows)))
    return BuildUp(layers=[layer.model_copy(update={"existing": True}) for layer in made.layers])


class Years(TestCase):
    """One brick wall on a dry face, and one in the rain."""

    dry: Situation
    found: Found

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        brick = found_of(("brick_old", 250), ("lime_plaster", 15))
        place = Place(climate="sollera", facing_deg=45, exposure="sheltered")
        cls.dry = situation(brick, Stand(place, Limits(target_u_w_m2k=0.6, room_mm=120)))
        settled = settle(brick, place)
        assert settled is not None
        cls.found = settled

    def test_what_stands_is_within_its_limits_alone(self) -> None:
        said = stands(way_of("inside_calcium_silicate"), self.dry, self.found, IN_FORCE)
        self.assertEqual(said.state, "stands", said.because.metric)
        assert said.mm is not None and said.most_mm is not None
        self.assertGreaterEqual(said.most_mm, said.mm)
        tried = next(one for one in tries(way_of("inside_calcium_silicate"), self.dry) if one.mm == said.mm)
        place = self.dry.stand.place
        facts = stated(tried.build_up, self.dry.as_found, place, shipped(place.climate), False)
        alone = verdict(years_of(tried.build_up, place, self.found), self.found.findings, facts, IN_FORCE)
        self.assertNotEqual(alone.state, "over a limit")
        self.assertEqual(alone.headline, said.usual)
        offered = next(
            one
            for one in propose(self.dry, {"inside_calcium_silicate": said}).offered
            if one.way == "inside_calcium_silicate"
        )
        self.assertEqual((offered.grown_mm, offered.stands), (said.mm, said))

    def test_more_outside_is_searched_for_where_the_least_that_meets_the_target_is_too_little(self) -> None:
        """Boards under a metal sheet with fibre below them: 60 mm above it meet the target and leave the boards cold, more keep them warm."""
        deck = found_of(("zinc_seamed", 1), ("sarking_boards", 24), ("mineral_fibre_040", 150, 0.1))
        place = Place(kind="roof", slope_deg=3, climate="tarn", facing_deg=325, exposure="sheltered")
        at = situation(deck, Stand(place, Limits(target_u_w_m2k=0.25, outside_mm=300)))
        met = next(one.mm for one in tries(way_of("flat_warm"), at) if at.stand.limits.reached_by(one.u))
        said = stands(way_of("flat_warm"), at, settle(deck, place), IN_FORCE)
        self.assertEqual(said.state, "stands only if", said.because.metric)
        assert said.condition is not None
        self.assertIn("dry first", said.condition.metric, "its boards start soaked")
        assert said.mm is not None and met is not None
        self.assertGreater(said.mm, met)
        self.assertEqual(said.least_mm, said.mm)

    def test_a_wall_that_is_still_filling_up_after_two_years_is_run_on(self) -> None:
        """Water that rises from a dry start is no limit passed: the bad year is run until it repeats before that decides."""
        deck = found_of(("slate", 8), ("concrete", 180), ("lime_plaster", 20))
        place = Place(kind="roof", slope_deg=40, climate="karrental", facing_deg=57, exposure="sheltered")
        at = situation(deck, Stand(place, Limits(room_mm=200, outside_mm=300)))
        said = stands(way_of("roof_below"), at, settle(deck, place), IN_FORCE)
        self.assertNotIn("accumulation", said.because.metric)

    def test_what_dries_in_is_no_limit_passed_in_a_bad_year(self) -> None:
        """A cellar wall closed from outside starts soaked: two bad years are not enough to tell what stays, and it stands."""
        wall = found_of(("sandstone_rubble", 500))
        place = Place(climate="karrental", adjoining="ground", ground="wet", factor_b=0.6)
        at = situation(wall, Stand(place, Limits(target_u_w_m2k=0.3)))
        said = stands(way_of("cellar_outside"), at, settle(wall, place), IN_FORCE)
        self.assertEqual((said.state, said.mm), ("stands only if", 100.0), said.because.metric)
        assert said.condition is not None and said.usual is not None
        self.assertIn("dry first", said.condition.metric)
        self.assertIn("drying in", said.usual.metric)

    def test_soft_fibre_is_not_left_under_a_screed(self) -> None:
        slab = found_of(("earth", 300), ("concrete", 100), ("mineral_fibre_035", 60), ("gypsum_board", 12.5))
        at = situation(slab, Stand(Place(kind="floor", slope_deg=0, adjoining="ground", factor_b=0.5), Limits()))
        [over] = [one for one in propose(at).offered if one.way == "slab_over"]
        self.assertEqual(list(over.comes_off), ["l2", "l3"])

    def test_under_a_deck_with_no_bays_no_sheet_lies_on_the_cold_side(self) -> None:
        deck = found_of(("slate", 8), ("concrete", 180), ("lime_plaster", 20))
        at = situation(deck, Stand(Place(kind="roof", slope_deg=40, climate="karrental"), Limits()))
        for way in ("roof_below", "roof_flow"):
            for one in tries(way_of(way), at):
                new = [layer.material for layer in one.build_up.layers if not layer.existing]
                self.assertFalse([material for material in new if material.startswith("membrane_variable")], way)

    def test_what_does_not_says_what_decides(self) -> None:
        wet = found_of(("sandstone_soft", 400), ("lime_plaster", 20))
        place = Place(climate="corrie", facing_deg=290, exposure="severe")
        at = situation(wet, Stand(place, Limits(target_u_w_m2k=0.4, outside_mm=0.0)))
        said = stands(way_of("inside_variable"), at, settle(wet, place), IN_FORCE)
        self.assertEqual(said.state, "does not stand")
        self.assertIn("Over a limit", said.because.metric)
        self.assertIn("What wets", said.because.metric)
        headline = propose(at, {way.way: said for way in propose(at).offered}).headline.metric
        self.assertIn("No way that was run stands here", headline)

    def test_the_answer_is_kept_under_all_that_it_depends_on(self) -> None:
        one = standing_key(self.dry, "inside_lime", "key", IN_FORCE)
        self.assertEqual(one, standing_key(self.dry, "inside_lime", "key", IN_FORCE))
        other = situation(self.dry.as_found, Stand(self.dry.stand.place, Limits(target_u_w_m2k=0.5)))
        for again in (
            standing_key(self.dry, "inside_variable", "key", IN_FORCE),
            standing_key(self.dry, "inside_lime", "other", IN_FORCE),
            standing_key(other, "inside_lime", "key", IN_FORCE),
            standing_key(self.dry, "inside_lime", "key", {**IN_FORCE, "mould.inside": 2.5}),
        ):
            self.assertNotEqual(one, again)


class WhatIsOffered(TestCase):
    """A property of every way at every element: what is offered can be run in every year it is asked about, through bay and member."""

    def test_every_way_can_be_run_in_every_year(self) -> None:
        paths = 0
        for number in (*range(300, 330), 91000):
            element = random_element(number)
            at = situation(element.build_up, element.stand)
            for way in propose(at).offered:
                for tried in tries(way_of(way.way), at):
                    for year in ("usual year", "bad year", "rain gets in", "bad year, tested tight"):
                        built, place = in_year(tried.build_up, at, year)
                        for path in (built, member_path(built)):
                            if path is not None:
                                with self.subTest(element=number, way=way.way, mm=tried.mm, year=year):
                                    self.assertGreater(len(model_of(path, place, "of a way").case.layers), 0)
                                paths += 1
        self.assertGreater(paths, 1000)

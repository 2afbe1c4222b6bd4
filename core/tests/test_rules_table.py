"""The table of evidence as a whole: nothing in it is out of reach, and what it says holds for all."""

from __future__ import annotations

import random
from dataclasses import replace
from itertools import product
from unittest import TestCase

from pydantic import ValidationError

from core.cases.pins import CLOSE, ONE, UNUSUAL, Case, calibration, held
from core.readiness.clues import OTHER, Table, table
from core.readiness.patterns import Sign, patterns
from core.readiness.reason import EvidenceKind, Pin, PinPlace, Surroundings, facts_of, remedies
from core.readiness.rules import FACTS, Facts, rules
from core.readiness.weigh import SHARPNESS, shares, weigh, weights


def facts(**said: str | list[str]) -> Facts:
    """Facts with the first value of each where nothing is said."""
    base: Facts = {fact: [values[0]] for fact, (_, values) in FACTS.items() if values}
    return base | {fact: value if isinstance(value, list) else [value] for fact, value in said.items()}


class WrittenPins(TestCase):
    """`./run pins`: what a practitioner names first, and the look that tells two close ones apart."""

    def test_the_first_cause_and_the_next_look_of_each(self) -> None:
        self.assertGreaterEqual((len(ONE), len(CLOSE)), (120, 30))
        for one in held():
            with self.subTest(one.case.words):
                self.assertEqual(one.wrong, "", [(p.mechanism, round(p.share, 2)) for p in one.said.proposals])

    def test_each_has_reasons_and_a_look(self) -> None:
        for one in held():
            with self.subTest(one.case.words):
                first = one.said.proposals[0]
                self.assertTrue(1 <= len(first.reasons) <= 3 and len(first.against) <= 2)
                self.assertTrue(one.said.look is not None)
                total = sum(p.share for p in one.said.proposals) + one.said.other
                self.assertTrue(0.7 < total <= 1.0 + 1e-9)

    def test_shares_of_seventy_to_ninety_percent_are_right_as_often(self) -> None:
        number, mean, right = calibration()
        self.assertGreater(number, 50)
        self.assertLess(abs(mean - right), 0.08)

    def test_the_outcome_that_the_cause_would_give_raises_it(self) -> None:
        """A look whose likeliest outcome under a mechanism is entered raises that mechanism against the other one."""
        for case in CLOSE:
            before = case.weighed()
            assert before.look is not None
            row = table().look(before.look.id)
            assert row is not None
            first, second = (one.mechanism for one in before.proposals[:2])
            gains = [row.chance(first, i) / row.chance(second, i) for i in range(len(row.outcomes))]
            for index, more in ((gains.index(max(gains)), True), (gains.index(min(gains)), False)):
                pin = case.pinned()
                seen = facts_of(pin, case.surroundings())
                after = shares(weights(seen, {row.id: row.outcomes[index].id}))
                ratio = after[first] / after[second]
                with self.subTest(case.words, outcome=row.outcomes[index].name):
                    self.assertEqual(ratio > before.proposals[0].share / before.proposals[1].share, more)
                told = weigh(seen, {row.id: row.outcomes[index].id})
                self.assertNotEqual(told.look and told.look.id, row.id, "a look taken is not asked for again")


class WhatHolds(TestCase):
    """Properties of the weighing, on every written pin."""

    def each(self) -> tuple[Case, ...]:
        return (*ONE, *CLOSE, *UNUSUAL)

    def test_stating_more_never_removes_the_true_cause(self) -> None:
        """A fact that belongs to another cause moves shares; the cause stays in the list."""
        more: tuple[dict[str, object], ...] = (
            {"leak_near": True}, {"inner_sheet": True}, {"tight_coat": True}, {"reservoir": True},
            {"gutters_faulty": True}, {"splash": True}, {"rain_face": True},
        )  # fmt: skip
        pinned: tuple[dict[str, object], ...] = ({"pipes_near": True}, {"wet_work": True}, {"salt_source": "ground"})
        for case in ONE:
            pin, around = case.pinned(), case.surroundings()
            stated = [(pin, replace(around, **one)) for one in more]  # type: ignore[arg-type]
            stated += [(pin.model_copy(update=one), around) for one in pinned]
            for changed, place in stated:
                told = weigh(facts_of(changed, place))
                with self.subTest(case.words, said=[p.mechanism for p in told.proposals]):
                    self.assertIn(case.causes[0], [p.mechanism for p in told.proposals])

    def test_a_fact_never_erases_a_clue(self) -> None:
        """Every clue of a kind fits whatever else is stated: what was seen always counts."""
        for kind in {kind.id for kind in rules().kinds} - {"nothing_found"}:
            own = next(clue for clue in table().clues if clue.when == {"kind": [kind]})
            for fact, (_, values) in FACTS.items():
                for value in values if fact != "kind" else ():
                    self.assertTrue(own.fits(facts(**{"kind": kind, fact: value})))

    def test_inside_and_outside_differ_as_they_should(self) -> None:
        for case in self.each():
            around = case.surroundings()
            if around.element not in ("wall", "window", "door"):
                continue
            pin = case.pinned()
            inside, outside = (
                shares(weights(facts_of(pin.model_copy(update={"side": side}), around)))
                for side in ("inside", "outside")
            )
            with self.subTest(case.words):
                self.assertGreater(inside["cold_surface"], outside["cold_surface"])
                if not around.thin_render:
                    self.assertGreater(inside["air"] / inside["runoff"], outside["air"] / outside["runoff"])

    def test_the_order_of_pins_does_not_matter(self) -> None:
        rng = random.Random(3)
        signs = [
            Sign(kind, side, "main", face, rng.uniform(0, 9), z, z)
            for kind in ("stain", "damp", "mould")
            for side in ("inside", "outside")
            for face in "abc"
            for z in (0.3, 0.4, 2.8)
        ]
        opening = ((3.0, 1.0, 1.2, 1.4),)
        seen: set[str] = set()
        for sign in signs:
            others = [other for other in signs if other is not sign]
            told = patterns(sign, others, opening)
            seen |= set(told)
            for _ in range(5):
                rng.shuffle(others)
                self.assertEqual(patterns(sign, others, opening), told)
        self.assertEqual(seen, set(FACTS["pattern"][1]) - {"none"}, "every pattern is drawn somewhere")

    def test_more_evidence_of_the_same_raises_it(self) -> None:
        """Rain stated raises rain, pipes raise plumbing, and so on, whatever the pin is; nothing else rises against it."""
        raised: tuple[tuple[str, str, str], ...] = (
            ("comes", "after_rain", "rain"), ("pipes", "yes", "plumbing"), ("wet_work", "yes", "built_in"),
            ("comes", "clear_nights", "night_sky"), ("comes", "after_thaw", "ice"), ("comes", "humid_heat", "summer"),
            ("part", "tie or tray", "cavity"), ("tight_coat", "yes", "trapped"), ("leak_near", "yes", "air"),
            ("surface_rh", "high", "cold_surface"), ("salt_source", "byre", "salts"), ("adjoining", "ground", "ground"),
        )  # fmt: skip
        for kind, (fact, value, mechanism) in product((k.id for k in rules().kinds), raised):
            if kind == "nothing_found":
                continue
            base = facts(kind=kind, side="inside", near=[])
            before, after = shares(weights(base)), shares(weights(base | {fact: [value]}))
            with self.subTest(kind=kind, fact=fact):
                if fact == "surface_rh":  # it says nothing of some kinds
                    self.assertGreaterEqual(after[mechanism], before[mechanism])
                    continue
                self.assertGreater(after[mechanism], before[mechanism])

    def test_shares_sum_up_and_are_the_weights(self) -> None:
        for kind, element, comes in product(
            (k.id for k in rules().kinds), ("wall", "roof", "floor", "window"), ("not_known", "after_rain", "always")
        ):
            said = facts(kind=kind, element=element, comes=comes, near=[])
            sums, share = weights(said), shares(weights(said))
            self.assertAlmostEqual(sum(share.values()), 1.0, places=12)
            one, two = "rain", "ground"
            self.assertAlmostEqual(share[one] / share[two], 2 ** (SHARPNESS * (sums[one] - sums[two])), places=9)
            told = weigh(said)
            if kind == "nothing_found":
                self.assertEqual((told.proposals, told.other), ([], 1.0))
                continue
            self.assertGreaterEqual(len(told.proposals), 2, "never silent")
            self.assertEqual([p.share for p in told.proposals], sorted((p.share for p in told.proposals), reverse=True))
            self.assertTrue(all(p.reasons or p.share < 0.3 for p in told.proposals[:1]))


class TheTable(TestCase):
    def test_every_kind_that_can_be_pinned_has_a_name_and_a_clue(self) -> None:
        kinds = {kind.id for kind in rules().kinds}
        self.assertEqual(kinds, set(EvidenceKind.__args__))  # type: ignore[attr-defined]
        told = {kind for clue in table().clues for kind in clue.when.get("kind", [])}
        self.assertEqual(kinds - told, {"nothing_found"}, "kinds that no clue speaks of")

    def test_wrong_tables_are_refused(self) -> None:
        raw = table().model_dump()
        clue, look = raw["clues"][0], raw["looks"][0]
        wrong = [
            ("no fact", {"clues": [{**clue, "when": {"weather": ["wet"]}}]}),
            ("is never", {"clues": [{**clue, "when": {"side": ["above"]}}]}),
            ("names no mechanism", {"clues": [{**clue, "weights": {"ghosts": 2}}]}),
            ("kinds that are none", {"clues": [{**clue, "when": {"kind": ["ghosts"]}}]}),
            ("needs one clue that weighs every mechanism", {"clues": raw["clues"][1:]}),
            ("priors of", {"priors": {"rain": 0}}),
            ("sum up to 100", {"looks": [{**look, "rest": [50, 40, 20]}]}),
            ("sum up to 100", {"looks": [{**look, "rest": [100, 0, 0]}]}),
        ]
        for words, change in wrong:
            with self.subTest(words), self.assertRaisesRegex(ValidationError, words):
                Table.model_validate({**raw, **change})

    def test_a_pin_names_only_looks_that_there_are(self) -> None:
        self.assertEqual(Pin(kind="stain", looks={"meter": "moves"}).looks, {"meter": "moves"})
        for looks in ({"meter": "rises"}, {"divining": "moves"}):
            with self.assertRaisesRegex(ValidationError, "no look"):
                Pin(kind="stain", looks=looks)

    def test_every_clue_can_fit_and_says_why(self) -> None:
        ids = [clue.id for clue in table().clues]
        self.assertEqual(len(ids), len(set(ids)))
        for clue in table().clues:
            with self.subTest(clue.id):
                said = {fact: values[0] for fact, values in clue.when.items()}
                self.assertTrue(clue.fits(facts(**said)))
                self.assertGreater(len(clue.because), 12)
                self.assertTrue(any(clue.weights.values()))
                self.assertTrue(all(abs(weight) <= 7.0 for weight in clue.weights.values()), "bounded")

    def test_every_clue_is_told_by_some_written_pin(self) -> None:
        """A clue that no written pin meets is held by nothing."""
        met: set[str] = set()
        for case in (*ONE, *CLOSE, *UNUSUAL):
            said = facts_of(case.pinned(), case.surroundings())
            met |= {clue.id for clue in table().clues if clue.fits(said)}
        self.assertEqual({clue.id for clue in table().clues} - met, set())

    def test_every_mechanism_and_something_else_can_come_first(self) -> None:
        firsts = {case.weighed().proposals[0].mechanism for case in ONE}
        self.assertEqual(firsts, {mechanism.id for mechanism in rules().mechanisms})
        strange = shares(weights(facts(kind="efflorescence", comes="clear_nights", near=[])))
        self.assertEqual(max(strange, key=lambda one: strange[one]), OTHER, "salts after clear nights")

    def test_every_look_is_asked_for_somewhere(self) -> None:
        asked: set[str] = set()
        for case in (*ONE, *CLOSE, *UNUSUAL):
            pin, around = case.pinned(), case.surroundings()
            taken: dict[str, str] = {}
            for _ in range(8):
                told = weigh(facts_of(pin, around), taken)
                if told.look is None:
                    break
                asked.add(told.look.id)
                taken[told.look.id] = told.look.outcomes[-1].id
        self.assertEqual({look.id for look in table().looks} - asked, set())

    def test_every_remedy_can_be_reached_and_says_what_must_be_shown(self) -> None:
        reached: set[str] = set()
        for mechanism in rules().mechanisms:
            for remedy in rules().remedies:
                if mechanism.id in remedy.mechanisms:
                    said = {fact: values[0] for fact, values in remedy.when.items()}
                    got = {r.id for r in remedies(mechanism.id, facts(**said))}
                    self.assertIn(remedy.id, got)
                    reached |= got
        self.assertEqual(reached, {remedy.id for remedy in rules().remedies})
        for remedy in rules().remedies:
            self.assertTrue(remedy.shown_by and remedy.who, remedy.id)

    def test_names_are_told_once(self) -> None:
        for rows in (rules().kinds, rules().mechanisms, rules().stages, rules().remedies):
            ids = [row.id for row in rows]
            self.assertEqual(len(ids), len(set(ids)))

    def test_a_pin_gives_every_fact_a_value_that_is_allowed(self) -> None:
        around = Surroundings(eaves_m=5.0, face_width_m=9.0, openings=((2.0, 1.0, 1.0, 1.4),), overhang_m=0.4)
        for kind, x, z, view in product(
            ("stain", "mould"), (0.2, 2.5, 7.0), (0.1, 0.9, 2.6, 4.8), ("elevation", "plan", "section")
        ):
            place = PinPlace(view=view, body="main", face="a", x_m=x, y_m=z)  # type: ignore[arg-type]
            found = facts_of(Pin(kind=kind, place=place), around)  # type: ignore[arg-type]
            for fact, values in found.items():
                allowed = FACTS[fact][1]
                with self.subTest(fact=fact, place=place):
                    self.assertTrue(not allowed or set(values) <= set(allowed), values)

"""The table of rules as a whole: nothing in it is out of reach, and nothing depends on the order of the clues."""

from __future__ import annotations

from itertools import product
from unittest import TestCase

from core.readiness.reason import EvidenceKind, Pin, PinPlace, Surroundings, facts_of, proposals, remedies
from core.readiness.rules import FACTS, POSSIBLE, Facts, rules


def facts(**said: str | list[str]) -> Facts:
    """Facts with the first value of each where nothing is said."""
    base: Facts = {fact: [values[0]] for fact, (_, values) in FACTS.items() if values}
    return base | {fact: value if isinstance(value, list) else [value] for fact, value in said.items()}


class TheTable(TestCase):
    def test_every_kind_that_can_be_pinned_has_a_name_and_a_clue(self) -> None:
        kinds = {kind.id for kind in rules().kinds}
        self.assertEqual(kinds, set(EvidenceKind.__args__))  # type: ignore[attr-defined]
        told = {kind for clue in rules().clues for kind in clue.when.get("kind", [])}
        self.assertEqual(kinds - told, {"nothing_found"}, "kinds that no clue speaks of")

    def test_every_clue_can_fit_and_says_why(self) -> None:
        for clue in rules().clues:
            with self.subTest(clue.because):
                said = {fact: values[0] for fact, values in clue.when.items()}
                self.assertTrue(clue.fits(facts(**said)))
                self.assertGreater(len(clue.because), 15)
                self.assertNotEqual(clue.weight, 0)

    def test_every_mechanism_can_come_first(self) -> None:
        """Somewhere among the kinds, elements, heights and habits there is a place where each mechanism leads."""
        firsts: set[str] = set()
        kinds = [kind.id for kind in rules().kinds]
        for kind, element, height, comes in product(
            kinds,
            ("wall", "roof", "floor"),
            ("middle", "foot", "top"),
            ("not_known", "after_rain", "cold_spells", "humid_heat"),
        ):
            for more in (
                {},
                {"pipes": "yes"},
                {"wet_work": "yes"},
                {"inner_sheet": "yes"},
                {"leak_near": "yes"},
                {"comes": "clear_nights"},
                {"comes": "dry_weather", "salt_source": "byre"},
                {"rain_face": "yes"},
                {"side": "inside", "surface_rh": "high", "corner": "yes"},
            ):
                said = facts(**{"kind": kind, "element": element, "height": height, "comes": comes, "near": [], **more})
                found = proposals(said)
                if found:
                    firsts.add(found[0].mechanism)
        self.assertEqual(firsts, {mechanism.id for mechanism in rules().mechanisms})

    def test_the_new_mechanisms_by_three_cases_each(self) -> None:
        cases: list[tuple[str, dict[str, str]]] = [
            ("salts", {"kind": "stain", "side": "inside", "comes": "damp_weather", "salt_source": "flue"}),
            ("salts", {"kind": "spalling", "side": "inside", "comes": "dry_weather", "salt_source": "byre"}),
            ("salts", {"kind": "efflorescence", "side": "inside", "comes": "dry_weather", "salt_source": "gypsum"}),
            (
                "summer",
                {
                    "kind": "condensation",
                    "element": "floor",
                    "adjoining": "ground",
                    "comes": "humid_heat",
                    "season": "summer",
                },
            ),
            (
                "summer",
                {
                    "kind": "mould",
                    "element": "floor",
                    "adjoining": "unheated",
                    "comes": "humid_heat",
                    "room": "unheated",
                },
            ),
            (
                "summer",
                {
                    "kind": "condensation",
                    "adjoining": "ground",
                    "side": "inside",
                    "comes": "humid_heat",
                    "season": "summer",
                },
            ),
            (
                "night_sky",
                {
                    "kind": "condensation",
                    "element": "roof",
                    "comes": "clear_nights",
                    "room": "unheated",
                    "make": "metal",
                },
            ),
            ("night_sky", {"kind": "frost", "element": "roof", "comes": "clear_nights", "room": "unheated"}),
            ("night_sky", {"kind": "condensation", "element": "roof", "comes": "clear_nights", "room": "unheated"}),
            ("entry", {"kind": "animals", "element": "roof"}),
            ("entry", {"kind": "animals", "element": "wall"}),
            ("entry", {"kind": "animals", "element": "floor"}),
        ]
        for mechanism, said in cases:
            with self.subTest(mechanism=mechanism, **said):
                found = proposals(facts(**{"near": [], **said}))
                self.assertEqual(found[0].mechanism, mechanism, [(p.mechanism, p.score) for p in found])

    def test_equal_scores_are_told_as_ties(self) -> None:
        seen = 0
        for kind, comes, height, rain, element in product(
            [k.id for k in rules().kinds],
            ("not_known", "after_rain", "cold_spells", "always"),
            ("foot", "middle", "top"),
            ("no", "yes"),
            ("wall", "roof", "floor"),
        ):
            found = proposals(facts(kind=kind, comes=comes, height=height, rain_face=rain, element=element, near=[]))
            if len(found) > 1 and found[0].score == found[1].score:
                seen += 1
                self.assertTrue(found[0].tied and found[1].tied)
            elif found:
                self.assertFalse(any(proposal.tied for proposal in found))
        self.assertGreater(seen, 0)

    def test_scores_are_sums_and_the_list_is_in_their_order(self) -> None:
        for kind in (rule.id for rule in rules().kinds):
            said = facts(kind=kind, element="wall", comes="after_rain", rain_face="yes", near=[])
            found = proposals(said)
            with self.subTest(kind):
                self.assertEqual([p.score for p in found], sorted((p.score for p in found), reverse=True))
                for proposal in found:
                    weights = [c.weight for c in rules().clues if c.mechanism == proposal.mechanism and c.fits(said)]
                    self.assertEqual(proposal.score, sum(weights))
                    self.assertGreaterEqual(proposal.score, POSSIBLE)

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

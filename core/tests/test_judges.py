"""Each criterion's judgement from findings set by hand: at, under and over its limit, in both stretches of time, in words."""

from __future__ import annotations

import inspect
from pathlib import Path
from typing import Any
from unittest import TestCase

import numpy as np

from core.buildup.model import MetalKind
from core.criteria import accumulation, condensate, frost, metal, mould, timber, wet_insulation
from core.criteria.findings import Day, Finding, Peak, longest_spell
from core.criteria.judging import Judgement, Stated, checked_limits, state_of
from core.criteria.page import TOLD, as_markdown
from core.criteria.registry import BY_KEY, CRITERIA, LIMITS, VERSIONS
from core.errors import OutOfRange

DAY, EARLIER = Day(year=4, month=1, day=3), Day(year=1, month=6, day=30)
DEFAULTS = checked_limits(LIMITS, {})
NOTHING = Stated(as_found=False)
AT = {"place": "stone / fibre", "layer_id": "stone"}


def peak(value: float, on: Day = DAY) -> Peak:
    return Peak(value=value, on=on)


def judged(finding: Finding, phase: str = "for good", before: Finding | None = None, **more: Any) -> Judgement | None:
    limits = {**DEFAULTS, **more.pop("limits", {})}
    stated = more.pop("stated", NOTHING)
    return BY_KEY[finding.criterion].judge(finding, phase, before, limits, stated)  # type: ignore[arg-type]


def must(finding: Finding, phase: str = "for good", before: Finding | None = None, **more: Any) -> Judgement:
    found = judged(finding, phase, before, **more)
    assert found is not None
    return found


class TheRegistry(TestCase):
    def test_every_criterion_has_a_row_a_version_and_says_what_it_leaves_out(self) -> None:
        self.assertEqual(len(BY_KEY), len(CRITERIA))
        for row in CRITERIA:
            with self.subTest(row.key):
                self.assertEqual(row.finding.model_fields["criterion"].default, row.key)
                self.assertGreaterEqual(row.version, 1)
                self.assertIn(f"{row.key} {row.version}", VERSIONS)
                self.assertGreater(len(row.covers_not), 30)

    def test_every_limit_has_a_reason_and_its_default_in_its_range(self) -> None:
        self.assertEqual(len({limit.key for limit in LIMITS}), len(LIMITS))
        for limit in LIMITS:
            with self.subTest(limit.key):
                self.assertTrue(limit.least <= limit.default <= limit.most)
                self.assertGreater(len(limit.why), 10)

    def test_edited_limits_are_checked_and_the_rest_stay(self) -> None:
        values = checked_limits(LIMITS, {"mould.inside": 2.0})
        self.assertEqual(values["mould.inside"], 2.0)
        self.assertEqual({k: v for k, v in values.items() if k != "mould.inside"}, {k: v for k, v in DEFAULTS.items() if k != "mould.inside"})  # fmt: skip
        for key, value, words in (
            ("mould.attic", 2.0, "there is no limit"),
            ("mould.inside", 0.1, "is outside"),
            ("mould.inside", 7.0, "is outside"),
            ("mould.inside", float("nan"), "is outside"),
        ):
            with self.subTest(key, value=value), self.assertRaisesRegex(OutOfRange, words):
                checked_limits(LIMITS, {key: value})

    def test_every_criterion_has_a_test_of_its_judgement(self) -> None:
        """A class here says which it judges, and holds it to at least two of the three words, or to claiming nothing."""
        judged: dict[str, str] = {}
        for case in (Mould, Wood, Condensate, WetInsulation, Frost, MetalThere, Accumulation):
            for key in case.criteria:
                judged[key] = inspect.getsource(case)
        self.assertEqual(judged.keys(), BY_KEY.keys(), "write a test of its judgement here, and name it in `criteria`")
        for key, source in judged.items():
            with self.subTest(key):
                self.assertGreaterEqual(
                    sum(word in source for word in ("within limits", "marginal", "over a limit", "assertIsNone")), 2
                )

    def test_the_page_of_criteria_is_current(self) -> None:
        self.assertEqual(TOLD.keys(), BY_KEY.keys())
        page = Path(__file__).resolve().parents[2] / "docs" / "criteria.md"
        self.assertEqual(page.read_text(encoding="utf-8"), as_markdown(), "run ./run format")

    def test_the_three_words(self) -> None:
        for share, word in ((0.0, "within limits"), (0.79, "within limits"), (0.8, "marginal"), (1.0, "marginal"), (1.01, "over a limit")):  # fmt: skip
            self.assertEqual(state_of(share), word)


class Mould(TestCase):
    criteria = ("mould",)

    def finding(self, value: float, role: str = "inside", drying_in: float | None = None) -> mould.MouldFinding:
        before = None if drying_in is None else peak(drying_in, EARLIER)
        return mould.MouldFinding(role=role, mould_class="sensitive", for_good=peak(value), drying_in=before, **AT)  # type: ignore[arg-type]

    def test_the_limit_is_that_of_the_role(self) -> None:
        for role, limit in (("inside", 3.0), ("cavity", 2.0), ("room", 1.0)):
            for value, state in (
                (0.5 * limit, "within limits"),
                (0.9 * limit, "marginal"),
                (1.1 * limit, "over a limit"),
            ):
                with self.subTest(role, value=value):
                    found = must(self.finding(value, role))
                    self.assertEqual((found.state, found.value), (state, value))
                    self.assertAlmostEqual(found.share, value / limit)
                    self.assertIn(f"limit {limit:g}", found.sentence.metric)

    def test_the_weathered_face_and_masonry_are_not_judged(self) -> None:
        for role in ("face", "masonry"):
            self.assertIsNone(judged(self.finding(5.0, role)))

    def test_each_stretch_has_its_own_day(self) -> None:
        finding = self.finding(0.5, "inside", 3.6)
        first = must(finding, "drying in")
        self.assertEqual((first.state, first.on, first.phase), ("over a limit", EARLIER, "drying in"))
        self.assertIn("30 July of year 1", first.sentence.metric)
        self.assertNotIn("of year", must(finding).sentence.metric, "the settled year is every year")
        self.assertIsNone(judged(self.finding(0.5), "drying in"))

    def test_repeated_years_grow_to_what_repeats(self) -> None:
        """One humid season a year: the index after many equal years is not below that of the first, and then repeats."""
        year = np.full(8760, 0.6)
        year[:2400] = 0.97
        warmth = np.full(8760, 15.0)
        once = mould.mould_index(warmth, year, "sensitive", 3600.0)
        many = mould.repeated_index(warmth, year, "sensitive", 3600.0)
        self.assertGreaterEqual(float(many.max()), float(once.max()) - 1e-9)
        again = mould.mould_index(warmth, year, "sensitive", 3600.0, float(many[-1]))
        self.assertAlmostEqual(float(again.max()), float(many.max()), delta=0.02)
        self.assertEqual(float(mould.repeated_index(warmth, np.full(8760, 0.5), "sensitive", 3600.0).max()), 0.0)


class Wood(TestCase):
    criteria = ("timber", "sheet", "wood fibre")

    def stretch(self, spell: int = 0, percent: float = 15.0, warm: float = 12.0, **more: Any) -> timber.WoodStretch:
        return timber.WoodStretch(
            days_over_rh=spell, over_rh_spell=spell, over_rh_ends=DAY, spells_percent=more.get("percents", [0] * 12),
            spells_rh=more.get("rhs", [0] * 12), spell_ends=DAY, highest=peak(percent), warm=peak(warm),
        )  # fmt: skip

    def solid(self, **more: Any) -> timber.TimberFinding:
        return timber.TimberFinding(for_good=self.stretch(**more), drying_in=None, **AT)

    def sheet(self, **more: Any) -> timber.SheetFinding:
        return timber.SheetFinding(for_good=self.stretch(**more), drying_in=None, **AT)

    def fibre(self, **more: Any) -> timber.FibreFinding:
        return timber.FibreFinding(for_good=self.stretch(**more), drying_in=None, **AT)

    def test_timber_by_its_spell(self) -> None:
        for spell, state in ((0, "within limits"), (30, "within limits"), (50, "marginal"), (57, "over a limit")):
            found = must(self.solid(spell=spell))
            with self.subTest(spell=spell):
                self.assertEqual((found.state, found.unit), (state, "days"))
                self.assertAlmostEqual(found.share, spell / 56)

    def test_timber_while_warm(self) -> None:
        found = must(self.solid(percent=27.0, warm=26.0))
        self.assertEqual((found.state, found.unit, found.value), ("over a limit", "%", 26.0))
        self.assertIn("26 % water while above 10 °C", found.sentence.metric)
        self.assertIn("50 °F", found.sentence.inch)
        near = must(self.solid(percent=22.0, warm=21.0))
        self.assertEqual(near.state, "marginal")

    def test_twenty_per_cent_is_a_caution_and_no_limit(self) -> None:
        told = must(self.solid(percent=21.0))
        self.assertEqual(told.state, "within limits")
        self.assertIn("the usual caution is 20 %", told.sentence.metric)
        self.assertNotIn("caution", must(self.solid(percent=19.0)).sentence.metric)
        edited = must(self.solid(percent=19.0), limits={"timber.caution_percent": 18.0})
        self.assertIn("the usual caution is 18 %", edited.sentence.metric)

    def test_the_limit_is_one_for_all_species_and_how_soon_each_rots_is_told_where_it_is_passed(self) -> None:
        for durability, words in ((None, ""), (2, "durable (EN 350, class 2)"), (5, "among the first to rot")):
            finding = self.solid(spell=57).model_copy(update={"durability": durability})
            found = must(finding)
            with self.subTest(durability=durability):
                self.assertEqual((found.state, found.share), ("over a limit", 57 / 56))
                self.assertEqual("EN 350" in found.sentence.metric, durability is not None)
                self.assertIn(words, found.sentence.metric)
                below = must(self.solid(spell=50).model_copy(update={"durability": durability}))
                self.assertNotIn("EN 350", below.sentence.metric)

    def test_both_measures_go_along(self) -> None:
        found = must(self.solid(spell=28, warm=20.0))
        self.assertEqual([round(share, 3) for share in found.shares], [0.5, 0.8])

    def test_a_sheet_by_days_over_eighteen_per_cent_and_while_warm(self) -> None:
        over = [0] * 12
        over[4] = 60  # 18 %
        self.assertEqual(must(self.sheet(percents=over)).state, "over a limit")
        self.assertIn("above 18 % water for 60 days on end", must(self.sheet(percents=over)).sentence.metric)
        self.assertEqual(must(self.sheet(percents=over), limits={"sheet.percent": 19.0}).state, "within limits")
        self.assertEqual(must(self.sheet(warm=23.0)).state, "over a limit")
        self.assertEqual(must(self.sheet()).state, "within limits")

    def test_wood_fibre_is_judged_by_long_wetness_alone(self) -> None:
        wet = [0] * 12
        wet[7] = 70  # 95 % RH
        found = must(self.fibre(rhs=wet, percent=40.0, warm=40.0))
        self.assertEqual((found.state, found.value), ("over a limit", 70.0))
        self.assertIn("an estimate", found.sentence.metric)
        dry = must(self.fibre(percent=40.0, warm=40.0))
        self.assertEqual(dry.state, "within limits", "its mass-% is not that of a load-bearing sheet")

    def test_without_a_drying_in_nothing_is_said_of_it(self) -> None:
        for finding in (self.solid(spell=90), self.sheet(), self.fibre()):
            self.assertIsNone(judged(finding, "drying in"))

    def test_spells_that_pass_the_turn_of_the_year_are_one(self) -> None:
        wet = np.zeros(365, bool)
        wet[:20] = wet[-25:] = True
        self.assertEqual(longest_spell(wet)[0], 25)
        self.assertEqual(longest_spell(wet, ring=True)[0], 45)
        self.assertEqual(longest_spell(np.ones(365, bool), ring=True)[0], 365)


class Condensate(TestCase):
    criteria = ("condensate",)

    def finding(self, value: float, dries: bool = True, drying_in: float | None = None) -> condensate.CondensateFinding:
        before = None if drying_in is None else peak(drying_in, EARLIER)
        return condensate.CondensateFinding(for_good=peak(value), drying_in=before, dries=dries, **AT)

    def test_by_how_much(self) -> None:
        for value, state in ((50, "within limits"), (170, "marginal"), (210, "over a limit")):
            self.assertEqual(must(self.finding(value)).state, state)

    def test_what_never_dries_is_over_however_little(self) -> None:
        found = must(self.finding(40, dries=False))
        self.assertEqual(found.state, "over a limit")
        self.assertIn("does not dry within the year", found.sentence.metric)
        first = must(self.finding(40, dries=False, drying_in=40), "drying in")
        self.assertEqual(first.state, "within limits", "while it dries in that is no fault")

    def test_at_the_most_a_face_holds_it_runs_off(self) -> None:
        self.assertIn("500 g/m² and runs off", must(self.finding(500)).sentence.metric)
        self.assertNotIn("runs off", must(self.finding(300)).sentence.metric)
        self.assertAlmostEqual(condensate.RUNS_OFF_G_M2, 490.0)

    def test_less_than_a_gram_is_nothing(self) -> None:
        self.assertIsNone(judged(self.finding(0.5)))


class WetInsulation(TestCase):
    criteria = ("wet insulation",)

    def finding(self, share: float, drying_in: float | None = None) -> wet_insulation.WetInsulationFinding:
        return wet_insulation.WetInsulationFinding(for_good=share, drying_in=drying_in, on=DAY, **AT)

    def test_by_share(self) -> None:
        for share, state in ((0.0, "within limits"), (0.045, "marginal"), (0.06, "over a limit")):
            self.assertEqual(must(self.finding(share)).state, state)

    def test_drier_than_the_label_loses_nothing(self) -> None:
        found = must(self.finding(-0.01))
        self.assertEqual(found.share, 0.0)
        self.assertIn("loses 0.0 %", found.sentence.metric)

    def test_the_worst_year_of_drying_in_has_its_words(self) -> None:
        self.assertIn("worst year of drying in", must(self.finding(0.01, 0.08), "drying in").sentence.metric)
        self.assertIsNone(judged(self.finding(0.01), "drying in"))


class Frost(TestCase):
    criteria = ("frost",)

    def finding(self, wet: int) -> frost.FrostFinding:
        return frost.FrostFinding(cycles=wet + 20, wet=wet, depth_mm=5.3, degree=0.93, on=DAY, **AT)

    def test_only_more_than_as_found_and_never_over(self) -> None:
        before = self.finding(4)
        self.assertIsNone(judged(self.finding(7), before=before), "within three more")
        found = must(self.finding(8), before=before)
        self.assertEqual(found.state, "marginal")
        self.assertIn("8 times a year 5.3 mm from outside, as found 4 times", found.sentence.metric)
        self.assertEqual(must(self.finding(400), before=before).state, "marginal")

    def test_nothing_is_claimed_without_as_found_or_of_a_proof_stone(self) -> None:
        self.assertIsNone(judged(self.finding(40)))
        self.assertIsNone(judged(self.finding(40), "drying in", self.finding(0)))
        proof = NOTHING.model_copy(update={"frost_proof": ["stone"]})
        self.assertIsNone(judged(self.finding(40), before=self.finding(0), stated=proof))

    def test_counts_in_words(self) -> None:
        self.assertEqual([frost.times(n) for n in (0, 1, 2, 3, 12)], ["never", "once", "twice", "3 times", "12 times"])

    def test_falls_are_turns_from_thawed_to_frozen(self) -> None:
        """5, −1 (neither), −3, −1, −4 (still frozen), 1, −3: two falls."""
        series = np.array([[5.0], [-1.0], [-3.0], [-1.0], [-4.0], [1.0], [-3.0]])
        self.assertEqual([list(f) for f in frost.falls(series)], [[2, 6]])
        self.assertEqual([list(f) for f in frost.falls(np.full((5, 1), -9.0))], [[]])


class MetalThere(TestCase):
    criteria = ("metal",)

    def finding(self, hours: int, kind: MetalKind = "iron") -> metal.MetalFinding:
        return metal.MetalFinding(metal=f"cramps of {kind}", kind=kind, hours=hours, on=DAY, **AT)

    def test_told_beside_as_found_and_marginal_when_wetter(self) -> None:
        same = must(self.finding(2000), before=self.finding(1900))
        self.assertEqual(same.state, "within limits")
        self.assertIn("wet 2000 hours a year (class τ3), as found 1900 (τ3)", same.sentence.metric)
        wetter = must(self.finding(5000), before=self.finding(1900))
        self.assertEqual(wetter.state, "marginal")
        self.assertLess(wetter.share, 1.0, "never over")

    def test_the_tolerance_is_what_it_says(self) -> None:
        before = self.finding(1000)
        self.assertEqual(must(self.finding(1500), before=before).state, "within limits")
        self.assertEqual(must(self.finding(1501), before=before).state, "marginal")
        self.assertEqual(
            must(self.finding(1501), before=before, limits={"metal.more_hours": 600}).state, "within limits"
        )
        none = must(self.finding(1001), before=before, limits={"metal.more_hours": 0})
        self.assertEqual(none.state, "marginal")

    def test_stainless_and_without_as_found_nothing_is_claimed(self) -> None:
        self.assertIsNone(judged(self.finding(8000, "stainless steel"), before=self.finding(0)))
        self.assertIsNone(judged(self.finding(8000)))

    def test_classes_of_iso_9223(self) -> None:
        self.assertEqual([metal.wetness_class(h) for h in (0, 10, 11, 250, 2500, 5500, 8760)], ["τ1", "τ1", "τ2", "τ2", "τ3", "τ4", "τ5"])  # fmt: skip


class Accumulation(TestCase):
    criteria = ("accumulation",)

    def finding(self, *ends: float, settled: bool = False, start: float = 10.0) -> accumulation.AccumulationFinding:
        return accumulation.AccumulationFinding(
            place="the whole build-up", layer_id="", settled=settled, years=len(ends), start_kg_m2=start,
            year_ends_kg_m2=list(ends), on=DAY,
        )  # fmt: skip

    def test_a_settled_year_gathers_nothing(self) -> None:
        found = must(self.finding(11.0, 11.1, settled=True))
        self.assertEqual((found.share, found.state), (0.0, "within limits"))
        self.assertIn("repeats itself after 2 years", found.sentence.metric)

    def test_a_steady_rise_is_over(self) -> None:
        finding = self.finding(10.5, 11.0, 11.5)
        self.assertIsNone(finding.heads_for)
        found = must(finding)
        self.assertEqual(found.state, "over a limit")
        self.assertIn("still rises by 4.5 % a year", found.sentence.metric)

    def test_a_rise_that_slows_has_an_end_and_is_at_most_marginal(self) -> None:
        """10, 12, 13, 13.5: each rise half of the last; it heads for 14."""
        finding = self.finding(12.0, 13.0, 13.5)
        assert finding.heads_for is not None and finding.slowing is not None
        self.assertAlmostEqual(finding.slowing, 0.5)
        self.assertAlmostEqual(finding.heads_for, 14.0)
        found = must(finding)
        self.assertEqual(found.state, "marginal")
        self.assertIn("slowing, towards 14.0 kg/m²", found.sentence.metric)

    def test_a_fall_is_no_fault(self) -> None:
        found = must(self.finding(9.0, 8.0, 7.5))
        self.assertEqual(found.share, 0.0)
        self.assertIn("still falls", found.sentence.metric)

    def test_next_to_no_water_does_not_rise(self) -> None:
        self.assertEqual(self.finding(0.02, 0.05, start=0.01).rise, 0.0)
        self.assertIsNone(judged(self.finding(11.0, 12.0), "drying in"))

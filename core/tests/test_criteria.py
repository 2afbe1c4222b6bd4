"""Condensate, wet insulation, wood, hours of wetness and frost against hand figures; and what a verdict makes of findings."""

from __future__ import annotations

from dataclasses import replace
from typing import Any
from unittest import TestCase

import numpy as np

from core.assembly.model import Model
from core.buildup.model import BuildUp, BuildUpLayer, Metal, Place
from core.cases.practice import BRICK, STONE, Rows, build_up
from core.climate.data import shipped
from core.criteria import condensate, frost, metal
from core.criteria.findings import Run
from core.criteria.judging import Judgement, Stated, checked_limits
from core.criteria.registry import LIMITS
from core.criteria.run_findings import FOUND_WITH, RunFindings, find_all
from core.criteria.stated import stated
from core.criteria.timber import WoodFinding, wettest_window
from core.criteria.verdict import Tested, Verdict, verdict, yearly_wetting
from core.criteria.wet_insulation import conductivity_of, loss_of_resistance
from core.errors import OutOfRange
from core.materials.library import Sheet, entry_of, library
from core.moisture.attribution import Arriving
from core.moisture.transient.kernel import FILM_STORAGE
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.solve import simulate
from core.runs import asked, bay_years, fixed_years, settle, years_of

HOURS = 8760
DEFAULTS = checked_limits(LIMITS, {})
METAL_PLANE = "sandstone rubble in lime / "


def layer(id: str, material: str, mm: float | None = None, **more: Any) -> BuildUpLayer:
    return BuildUpLayer(id=id, material=material, thickness_mm=mm, **more)


def suction_of(rh: float, kelvin: float = 293.15) -> float:
    """The solver's variable at an RH."""
    return float(np.arcsinh(-1000.0 * 461.5 * kelvin * np.log(rh) / 1000.0))


class OfOneWall(TestCase):
    """Rained stone with a fibre lining, two years; single nodes are then set to states whose figures are known."""

    model: Model
    outcome: Outcome

    @classmethod
    def setUpClass(cls) -> None:
        layers = [
            layer("stone", "sandstone_rubble", 300, metal=Metal(part="cramps", kind="iron")),
            layer("wool", "mineral_fibre_035", 80),
            layer("sheet", "membrane_tight"),
            layer("batten", "softwood", 24),
            layer("board", "gypsum_board", 12.5),
        ]
        place = Place(facing_deg=290, climate="karrental", start_rh=0.9, works_on="10-01")
        cls.model = fixed_years(asked(BuildUp(layers=layers), place, None).model, 2)
        cls.outcome = simulate(cls.model.case)

    def with_node(self, node: int, suction_pa: np.ndarray | float, kelvin: np.ndarray | float) -> Outcome:
        """The outcome with one node at given suctions and temperatures."""
        z, temperature = np.array(self.outcome.z), np.array(self.outcome.temperature)
        z[:, node] = np.arcsinh(np.asarray(suction_pa) / 1000.0)
        temperature[:, node] = kelvin
        return replace(self.outcome, z=z, temperature=temperature)

    def with_layer(self, entry: int, rh: float, kelvin: float) -> Outcome:
        """The outcome with a whole layer at one state."""
        z, temperature = np.array(self.outcome.z), np.array(self.outcome.temperature)
        z[:, self.outcome.cells_of(entry)] = suction_of(rh, kelvin)
        temperature[:, self.outcome.cells_of(entry)] = kelvin
        return replace(self.outcome, z=z, temperature=temperature)

    def plane(self, start: str) -> int:
        return next(node for name, node in self.outcome.planes.items() if name.startswith(start))

    def test_free_water_is_the_film_of_the_kernel(self) -> None:
        """2000 Pa over saturation for a week: 2000 · 1e-4 kg/m²; the face dries before and after."""
        node = self.plane(METAL_PLANE)
        suction = np.full(2 * HOURS, 1.0e6)
        suction[9000 : 9000 + 168] = -2000.0
        of_week = replace(self.outcome, z=self.with_node(node, suction, 285.0).z)
        water = condensate.free_water(of_week, node)
        self.assertAlmostEqual(water.max(), 2000.0 * FILM_STORAGE * 1000.0, delta=0.1)
        found = {row.place: row for row in condensate.find(Run(self.model, of_week))}
        mine = next(row for name, row in found.items() if name.startswith(METAL_PLANE))
        self.assertTrue(mine.dries)
        self.assertAlmostEqual(mine.for_good.value, 200.0, delta=0.1)
        assert mine.drying_in is not None
        self.assertEqual(mine.drying_in.value, 0.0)
        always = condensate.find(Run(self.model, self.with_node(node, -2000.0, 285.0)))
        self.assertFalse(next(row for row in always if row.place.startswith(METAL_PLANE)).dries)

    def test_wetness_counts_hours_that_are_humid_and_above_zero(self) -> None:
        node = self.plane(METAL_PLANE)
        suction = np.full(2 * HOURS, 1.0e8)  # about 48 % RH
        suction[HOURS : HOURS + 500] = 1.0e6  # over 99 %
        kelvin = np.full(2 * HOURS, 283.15)
        kelvin[HOURS : HOURS + 100] = 268.15
        self.assertEqual(metal.hours_of_wetness(self.with_node(node, suction, kelvin), node), 400)

    def test_the_loss_of_r_is_that_of_its_conductivity(self) -> None:
        """At 50 % RH throughout nothing is lost; wetter, the share is 1 − λ(50 %)/λ(w) of the material."""
        material = self.model.case.materials["mineral_fibre_035"]
        cell = int(self.outcome.cells_of(1)[0])
        for rh in (0.5, 0.97):
            changed = self.with_layer(1, rh, 293.15)
            dry, wet = (self.outcome.water_at_rh(cell, value) for value in (0.5, rh))
            ratio = float(conductivity_of(material, np.array(dry))) / float(conductivity_of(material, np.array(wet)))
            self.assertAlmostEqual(
                loss_of_resistance(changed, 1, Run(self.model, changed).stretch("for good")), 1.0 - ratio, places=5
            )

    def test_wet_frost_cycles_are_counted_where_the_stone_is_wet(self) -> None:
        cells = self.outcome.cells_of(0)
        z, temperature = np.array(self.outcome.z), np.array(self.outcome.temperature)
        z[:, cells], temperature[:, cells] = np.arcsinh(1.0e5), 283.15  # dry and mild everywhere
        wet = cells[3]
        z[:, wet] = np.arcsinh(1.0e-3)  # at free saturation
        for start in (9000, 9500, 10000):
            temperature[start : start + 24, wet] = 268.15
        temperature[9700:9724, wet] = 272.15  # not cold enough
        found = frost.frost_cycles(replace(self.outcome, z=z, temperature=temperature), 0)
        self.assertEqual((found.cycles, found.wet), (3, 3))
        self.assertAlmostEqual(found.depth_mm, float(self.outcome.depth[wet] * 1000.0), places=3)
        self.assertAlmostEqual(found.degree, 1.0, places=3)
        z[:, wet] = np.arcsinh(1.0e5)
        dry = frost.frost_cycles(replace(self.outcome, z=z, temperature=temperature), 0)
        self.assertEqual((dry.cycles, dry.wet), (3, 0))

    def test_the_rh_limit_of_wood_falls_with_warmth(self) -> None:
        """94 % is under the limit at 0 °C (95 %) and over it at 20 °C (89 %)."""
        entry = next(wood.entry for wood in self.model.wood)
        for kelvin, wanted in ((273.15, 0), (293.15, 365)):
            run = Run(self.model, self.with_layer(entry, 0.94, kelvin))
            days = wettest_window(run, self.model.wood[0])
            self.assertEqual(len(days.percent), 730)
            self.assertTrue(np.allclose(days.rh, 0.94, atol=1e-6))
            findings = find_all(self.model, run.outcome)
            timber = next(row for row in findings.of("timber") if isinstance(row, WoodFinding))
            self.assertEqual(timber.for_good.days_over_rh, wanted)

    def test_metal_is_told_only_where_it_is_stated(self) -> None:
        found = metal.find(Run(self.model, self.outcome))
        self.assertEqual([row.metal for row in found], ["cramps of iron"])
        self.assertEqual(metal.find(Run(replace(self.model, metal=[]), self.outcome)), [])

    def test_findings_survive_being_written_and_read(self) -> None:
        found = find_all(self.model, self.outcome)
        again = RunFindings.model_validate_json(found.model_dump_json())
        self.assertEqual(again, found)
        self.assertEqual({type(row) for row in again.findings}, {type(row) for row in found.findings})
        self.assertEqual(found.found_with, FOUND_WITH)


class OfFindings(TestCase):
    """Verdicts from findings that are set by hand: no run is made."""

    findings: RunFindings

    @classmethod
    def setUpClass(cls) -> None:
        layers = [
            layer("stone", "sandstone_rubble", 300, existing=True),
            layer("plaster", "lime_plaster", 20, existing=True),
            layer("wool", "mineral_fibre_035", 80),
            layer("sheet", "membrane_tight"),
            layer("batten", "softwood", 24),
            layer("board", "gypsum_board", 12.5),
        ]
        place = Place(facing_deg=45, climate="karrental", exposure="sheltered", start_rh=0.8)
        model = fixed_years(asked(BuildUp(layers=layers), place, None).model, 2)
        cls.findings = find_all(model, simulate(model.case))

    def of(self, **rows: dict[str, Any]) -> RunFindings:
        """The findings with fields of all rows of a criterion changed."""
        changed = [row.model_copy(update=rows.get(row.criterion, {})) for row in self.findings.findings]
        return self.findings.model_copy(update={"findings": changed})

    def wettest(self, phase: str, value: float) -> RunFindings:
        """Mould of every plane at a value in a stretch of time, and none in the other."""
        from core.criteria.findings import Day, Peak

        day, none = Day(year=1, month=1, day=3), Day(year=2, month=1, day=3)
        peaks = {"for_good": Peak(value=0.0, on=none), "drying_in": Peak(value=0.0, on=day)}
        peaks[phase] = Peak(value=value, on=day)
        return self.of(mould=peaks)

    def told(self, findings: RunFindings, as_found: RunFindings | None = None, **more: Any) -> Verdict:
        stated = Stated(**{"as_found": False, **more.pop("stated", {})})
        return verdict(findings, as_found, stated, {**DEFAULTS, **more.pop("limits", {})}, more.pop("tested", None))

    def mould(self, found: Verdict) -> Judgement:
        return max(
            (j for j in found.judgements if j.criterion == "mould"), key=lambda j: (j.phase == "for good", j.share)
        )

    def test_over_for_good_is_over_and_over_while_drying_in_is_marginal(self) -> None:
        self.assertEqual(self.told(self.wettest("for_good", 4.0)).state, "over a limit")
        first = self.told(self.wettest("drying_in", 4.0))
        self.assertEqual(first.state, "marginal")
        self.assertIn("drying in", first.headline.metric)
        self.assertIn("Dry it first", first.drying_in.metric)
        self.assertEqual(self.told(self.wettest("for_good", 0.0)).state, "within limits")

    def test_through_the_member_it_is_the_members_water(self) -> None:
        """A member over its limit tells what wets the member, and both paths stand among the judgements."""
        member = self.wettest("for_good", 4.0)
        wetted = [row.model_copy(update={"arriving": [Arriving(source="soil", kg_m2=2.0)]}) for row in member.wetted_by]
        member = member.model_copy(update={"wetted_by": wetted})
        now = self.wettest("for_good", 0.0).model_copy(update={"member": member})
        found = self.told(now)
        assert found.worst is not None
        self.assertEqual((found.worst.path, found.state), ("member", "over a limit"))
        self.assertTrue(found.worst.sentence.metric.startswith("Through the member: At "))
        self.assertIn("soil", found.driver.metric)
        self.assertEqual({j.path for j in found.judgements}, {"bay", "member"})
        self.assertNotIn("soil", self.told(self.wettest("for_good", 4.0)).driver.metric)

    def test_as_found_is_not_said_to_be_dry_beside_a_limit_that_it_passes(self) -> None:
        """What is over lies outside of the planes that are looked at inside: they are dry *further in*."""
        now = self.wettest("for_good", 4.0)
        for rh, words in (
            (0.6, "over a limit: mould 4.0; dry all year further in"),
            (0.85, "over a limit: mould 4.0; damp "),
        ):
            points = [p.model_copy(update={"worst_month_rh": rh, "driest_month_rh": rh - 0.1}) for p in now.points]
            found = self.told(now.model_copy(update={"points": points}), stated={"as_found": True})
            with self.subTest(rh=rh):
                self.assertTrue(found.as_found_words.metric.startswith(words), found.as_found_words.metric)

    def test_what_gets_in_counts_the_rain_that_reaches_a_plane(self) -> None:
        """Of the rain on the face only what reaches a plane inboard counts, of the plane that has most of it."""
        now = self.of()
        dry = [row.model_copy(update={"arriving": []}) for row in now.wetted_by]
        by_leaks = yearly_wetting(now.model_copy(update={"wetted_by": dry}))
        inboard = {p.name for p in now.points if p.judged or p.bonded}
        place = next(n for n, row in enumerate(now.wetted_by) if row.place in inboard)
        rain = [Arriving(source="rain", kg_m2=2.0), Arriving(source="rain driven inward by the sun", kg_m2=0.5)]
        air = Arriving(source="room air", kg_m2=9.0)
        wet = [row.model_copy(update={"arriving": [*rain, air]}) if n == place else row for n, row in enumerate(dry)]
        self.assertAlmostEqual(yearly_wetting(now.model_copy(update={"wetted_by": wet})), by_leaks + 2.5)

    def test_a_room_face_that_is_covered_is_no_excuse(self) -> None:
        """The same layer over as found at the room's face, and over now behind a lining: over a limit, not “better”."""
        now = self.wettest("for_good", 3.5)
        behind = next(row for row in now.of("mould") if row.layer_id == "plaster")
        faces = [
            p.model_copy(update={"name": "room face of plaster", "role": "room"})
            for p in now.points
            if p.layer_id == "plaster"
        ]
        rows = [
            row.model_copy(update={"place": "room face of plaster"}) if row is behind else row for row in now.findings
        ]
        before = now.model_copy(update={"findings": rows, "points": faces})
        found = next(
            j
            for j in self.told(now, before).judgements
            if j.criterion == "mould" and j.layer_id == "plaster" and j.phase == "for good"
        )
        self.assertEqual((found.state, found.against), ("over a limit", ""))
        same = next(
            j
            for j in self.told(now, now).judgements
            if j.criterion == "mould" and j.layer_id == "plaster" and j.phase == "for good"
        )
        self.assertEqual((same.state, same.against), ("marginal", "no change"))

    def test_what_is_as_good_as_nothing_is_not_told_after_the_worst(self) -> None:
        none, some = self.told(self.wettest("for_good", 0.02)), self.told(self.wettest("for_good", 2.0))
        self.assertTrue(none.second is None or none.second.share >= 0.1)
        assert some.worst is not None and some.second is not None
        self.assertNotEqual(some.second.place, some.worst.place)
        self.assertGreaterEqual(some.second.share, 0.1)

    def test_what_stays_over_is_no_matter_of_drying_in(self) -> None:
        """Nobody is told to dry first what will be over its limit for good, or a wall that starts drier than it will be."""
        from core.criteria.findings import Day, Peak

        day, later = Day(year=1, month=1, day=3), Day(year=2, month=1, day=3)

        def both(first: float, settled: float) -> str:
            peaks = {"drying_in": Peak(value=first, on=day), "for_good": Peak(value=settled, on=later)}
            return self.told(self.of(mould=peaks)).drying_in.metric

        self.assertIn("It is over the limit for good, and hardly further on the way", both(4.0, 4.0))
        self.assertNotIn("Dry it first", both(4.0, 4.0))
        self.assertIn("While drying out it is worse than it will be once settled: ", both(5.5, 3.5))
        self.assertIn("the mould index reaches", both(5.5, 3.5))
        self.assertIn("No limit is passed on the way", both(1.0, 1.0))
        self.assertIn(
            "the mould index stays at 0; limit", self.mould(self.told(self.wettest("for_good", 0.04))).sentence.metric
        )
        self.assertIn("reaches at most 0.1 (", self.mould(self.told(self.wettest("for_good", 0.06))).sentence.metric)
        damp = self.wettest("drying_in", 4.0)
        for extra, advice in ((2.0, "Dry it first, or do"), (-2.0, "limit 1. Do the works in another season.")):
            state = damp.drying_in.model_copy(update={"extra_kg_m2": extra})
            self.assertIn(advice, self.told(damp.model_copy(update={"drying_in": state})).drying_in.metric)

    def test_against_as_found(self) -> None:
        """Over where as found is over too: no worse is marginal, worse is over a limit and says by how much."""
        now = self.wettest("for_good", 4.0)
        for before, against, state in (
            (4.0, "no change", "marginal"),
            (4.6, "better", "marginal"),
            (3.5, "worse", "over a limit"),
        ):
            found = self.told(now, self.wettest("for_good", before))
            with self.subTest(before=before):
                self.assertEqual((self.mould(found).against, found.state), (against, state))
                self.assertIn("As found is over too", self.mould(found).sentence.metric)
        stood = self.told(now, self.wettest("for_good", 4.0), stated={"sound_years": 120})
        self.assertIn("has stood up to it for some 120 years", self.mould(stood).sentence.metric)
        sound = self.told(now, self.wettest("for_good", 1.0))
        self.assertEqual((self.mould(sound).against, sound.state), ("", "over a limit"))

    def test_the_same_measure_is_set_against_as_found(self) -> None:
        """Wood at 24 % for 200 days against 51 % all year is better, although days stand against percents."""
        from core.criteria.findings import Day, Peak
        from core.criteria.timber import WoodStretch

        day = Day(year=2, month=6, day=1)

        def wood(spell: int, percent: float) -> dict[str, Any]:
            peak = Peak(value=percent, on=day)
            stretch = WoodStretch(
                days_over_rh=spell, over_rh_spell=spell, over_rh_ends=day, spells_percent=[0] * 12, spells_rh=[0] * 12,
                spell_ends=day, highest=peak, warm=peak,
            )  # fmt: skip
            return {"for_good": stretch, "drying_in": None, "layer_id": "batten"}

        now, before = self.of(timber=wood(202, 24.0)), self.of(timber=wood(365, 51.0))
        found = next(j for j in self.told(now, before).judgements if j.criterion == "timber")
        self.assertEqual((found.against, found.state), ("better", "marginal"))
        self.assertIn("wood moisture 51 %", found.sentence.metric)

    def test_a_limit_that_is_edited_changes_the_verdict_without_a_run(self) -> None:
        found = self.wettest("for_good", 2.5)
        key = next(
            limit.key
            for limit in LIMITS
            if limit.key.startswith("mould")
            and self.mould(self.told(found)).value / limit.default == self.mould(self.told(found)).share
        )
        self.assertEqual(self.told(found, limits={key: 2.0}).state, "over a limit")
        self.assertNotEqual(self.told(found, limits={key: 3.5}).state, "over a limit")
        for bad in ({"no.such": 1.0}, {key: 99.0}):
            with self.assertRaises(OutOfRange):
                checked_limits(LIMITS, bad)

    def test_cautions_make_it_marginal_and_are_in_its_words(self) -> None:
        dry = self.wettest("for_good", 0.0)
        cases: list[tuple[dict[str, Any], str]] = [
            ({"stated": {"rests_on_no_leak": True}}, "perfect airtightness"),
            ({"tested": Tested(bad_year="over a limit")}, "bad year"),
            ({"tested": Tested(study_over=6, study_runs=10)}, "6 of 10 study runs, more than half"),
            ({"stated": {"drying_g_m2": -1.0}}, "more than can dry out"),
        ]
        for more, words in cases:
            with self.subTest(words):
                found = self.told(dry, **more)
                self.assertEqual(found.state, "marginal")
                self.assertIn(words, found.headline.metric)

    def test_open_to_the_weather_is_over_whatever_the_run_says(self) -> None:
        found = self.told(self.wettest("for_good", 0.0), stated={"open_to_weather": "wood-fibre board"})
        self.assertEqual(found.state, "over a limit")
        self.assertIn("Cover it", found.judgements[0].sentence.metric)

    def test_frost_of_an_unknown_stone_is_marginal_and_never_over(self) -> None:
        now, before = self.of(frost={"wet": 9}), self.of(frost={"wet": 2})
        judged = [j for j in self.told(now, before).judgements if j.criterion == "frost"]
        self.assertTrue(judged and {j.state for j in judged} == {"marginal"})
        proof = self.told(now, before, stated={"frost_proof": ["stone", "plaster"]})
        self.assertFalse([j for j in proof.judgements if j.criterion == "frost"])
        as_many = self.told(now, now)
        self.assertFalse([j for j in as_many.judgements if j.criterion == "frost"])
        self.assertTrue(any("frost resistance" in words.metric for words in as_many.not_judged))
        alone = self.told(now)
        self.assertFalse([j for j in alone.judgements if j.criterion == "frost"])
        self.assertTrue(any("its years have not been run" in words.metric for words in alone.not_judged))

    def test_every_judgement_names_place_and_day_and_the_worst_stands_first(self) -> None:
        found = self.told(self.wettest("for_good", 2.6))
        for judgement in found.judgements:
            with self.subTest(judgement.criterion):
                self.assertTrue(judgement.place and judgement.sentence.metric.endswith("."))
                self.assertTrue(1 <= judgement.on.day <= 31)
        for phase in ("for good", "drying in"):
            order = {"over a limit": 0, "marginal": 1, "within limits": 2}
            ranks = [
                (order[j.state], j.criterion == "condensate", -j.share) for j in found.judgements if j.phase == phase
            ]
            self.assertEqual(ranks, sorted(ranks))

    def test_the_same_findings_give_the_same_verdict_in_any_order(self) -> None:
        """Nothing is kept between two readings, so it does not matter which of the runs ended first."""
        now, before = self.wettest("for_good", 4.0), self.wettest("for_good", 3.5)
        one = self.told(now, before)
        self.told(before)
        self.told(now)
        backwards = now.model_copy(update={"findings": now.findings[::-1]})
        self.assertEqual(one, self.told(now, before))
        other = self.told(backwards, before)
        self.assertEqual((one.state, one.headline, one.driver), (other.state, other.headline, other.driver))

    def test_findings_of_an_older_program_are_marked(self) -> None:
        self.assertFalse(self.told(self.findings).found_with_older)
        self.assertTrue(self.told(self.findings.model_copy(update={"found_with": "solver 1"})).found_with_older)


class CoatsThatWear(TestCase):
    """A repellent is run new and spent: the word follows what is left when it is."""

    def told(self, place: Place, found: Rows, option: Rows) -> Verdict:
        as_found, made = build_up(*found), build_up(*option)
        before = bay_years(as_found, place, None, 2)
        start = settle(as_found, place)
        facts = stated(made, as_found, place, shipped(place.climate), False)
        return verdict(years_of(made, place, start), before, facts, DEFAULTS)

    def test_in_the_rain_it_stands_only_while_it_is_renewed(self) -> None:
        fibre = (("bed", "lime_adhesive", 8), ("fibre", "wood_fibre_board", 60), ("finish", "lime_plaster", 10))
        found = self.told(
            Place(climate="corrie", facing_deg=290, exposure="exposed"),
            STONE,
            (("coat", "repellent_new"), *STONE, *fibre),
        )
        self.assertEqual(found.state, "marginal")
        self.assertIn("spent, it is over a limit: wet wood fibre", found.only_while.metric)
        self.assertIn("only while “water-repellent treatment, new” keeps the rain off", found.headline.metric)

    def test_where_it_holds_without_it_nothing_is_held_against_it(self) -> None:
        boards = (("bed", "lime_adhesive", 8), ("casi", "calcium_silicate", 50))
        found = self.told(Place(climate="ostmoor", facing_deg=45), BRICK, (("paint", "masonry_paint"), *BRICK, *boards))
        self.assertEqual((found.state, found.only_while.metric), ("within limits", ""))
        self.assertTrue(any("once spent" in note.metric for note in found.notes))

    def test_what_a_coat_becomes_is_a_coat_that_keeps_off_less(self) -> None:
        for entry in library().values():
            if isinstance(entry, Sheet) and entry.spent is not None:
                old = entry_of(entry.spent)
                assert isinstance(old, Sheet)
                with self.subTest(entry.id):
                    self.assertEqual((old.kind, old.spent), ("coating", None))
                    self.assertGreater(old.rain_factor, entry.rain_factor)

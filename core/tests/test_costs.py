"""Costs and carbon by hand: what is priced, what is not, whose money, members by their share."""

from __future__ import annotations

from unittest import TestCase

from pydantic import ValidationError

from core.buildup.model import BuildUp, BuildUpLayer, Framing
from core.cases.practice import build_up as of
from core.costs import Price, Priced, Work, carbon_table, cost
from core.materials.library import AirLayer, Sheet, entry_of, library

FOUND = of(("stone", "sandstone_rubble", 400), ("plaster", "lime_plaster", 20))
FIBRE = BuildUpLayer(id="fibre", material="mineral_fibre_035", thickness_mm=100, framing=Framing(material="softwood", share=0.1))  # fmt: skip
LINED = BuildUp(layers=[*FOUND.layers, FIBRE, *of(("sheet", "membrane_tight"), ("board", "gypsum_board", 12.5)).layers])


def own(material: str, low: float, high: float | None = None, currency: str = "EUR", **more: object) -> list[Priced]:
    values = {"material": material, "low": low, "high": low if high is None else high, "currency": currency, **more}
    return [Priced(Price.model_validate(values), "own")]


PRICES = {
    "mineral_fibre_035": own("mineral_fibre_035", 9.0, 12.0, mm=60),
    "softwood": own("softwood", 500, 700, per="m³"),
    "membrane_tight": own("membrane_tight", 1.2),
    "gypsum_board": own("gypsum_board", 0.4, per="kg"),
}


class Costs(TestCase):
    def test_by_hand(self) -> None:
        """9 to 12 for 60 mm over 0.9 of the face, 500 to 700 a cubic metre over 0.1, 1.20, and 0.40 a kilogram of 10 kg."""
        found = cost(FOUND, LINED, PRICES, [Work(what="scaffold", low=8, high=15, currency="EUR")])
        board = 0.4 * entry_of("gypsum_board").density_kg_m3 * 0.0125  # type: ignore[union-attr]
        self.assertAlmostEqual(found.low, 9 * 100 / 60 * 0.9 + 500 * 0.1 * 0.1 + 1.2 + board + 8)
        self.assertAlmostEqual(found.high, 12 * 100 / 60 * 0.9 + 700 * 0.1 * 0.1 + 1.2 + board + 15)
        self.assertEqual((found.currency, found.unpriced, found.foreign), ("EUR", [], []))
        self.assertEqual([line.name for line in found.lines][-1], "scaffold")
        self.assertIn("90 % of the face", found.lines[0].amount.metric)

    def test_what_nobody_priced_is_named_and_never_made_up(self) -> None:
        found = cost(FOUND, LINED, {"membrane_tight": PRICES["membrane_tight"]}, [])
        self.assertAlmostEqual(found.low, 1.2)
        self.assertEqual(found.unpriced, sorted(entry_of(one).name for one in ("mineral_fibre_035", "softwood", "gypsum_board")))  # fmt: skip
        nothing = cost(FOUND, FOUND, PRICES, [])
        self.assertEqual((nothing.low, nothing.lines, nothing.carbon_high), (0.0, [], 0.0))
        by_volume = cost(FOUND, LINED, {"membrane_tight": own("membrane_tight", 5, per="m³")}, [])
        self.assertIn(entry_of("membrane_tight").name, by_volume.unpriced, "a sheet has no volume")

    def test_other_money_is_named_and_left_out(self) -> None:
        prices = {**PRICES, "membrane_tight": own("membrane_tight", 1.2, currency="CHF")}
        found = cost(FOUND, LINED, prices, [], "EUR")
        self.assertEqual(found.foreign, [entry_of("membrane_tight").name])
        self.assertAlmostEqual(found.low, cost(FOUND, LINED, PRICES, []).low - 1.2)

    def test_two_prices_of_one_thing_stay_both(self) -> None:
        """The sum goes from the least to the most of them; one in other money is named, and the other counts."""
        both = own("membrane_tight", 1.2, source="North Yard") + own("membrane_tight", 1.7, source="South Yard")
        found = cost(FOUND, LINED, {**PRICES, "membrane_tight": both}, [])
        once = cost(FOUND, LINED, PRICES, [])
        self.assertAlmostEqual(found.low, once.low)
        self.assertAlmostEqual(found.high - once.high, 0.5)
        line = next(one for one in found.lines if one.name == entry_of("membrane_tight").name)
        self.assertEqual([one.price.source for one in line.prices], ["North Yard", "South Yard"])
        mixed = both[:1] + own("membrane_tight", 0.5, currency="CHF")
        foreign = cost(FOUND, LINED, {**PRICES, "membrane_tight": mixed}, [], "EUR")
        self.assertAlmostEqual(foreign.low, once.low)
        self.assertEqual((foreign.foreign, foreign.unpriced), ([line.name], []))

    def test_only_what_a_layer_gained_is_bought(self) -> None:
        thicker = [one.model_copy(update={"thickness_mm": 130.0}) if one.id == "fibre" else one for one in LINED.layers]
        found = cost(LINED, BuildUp(layers=thicker), PRICES, [])
        self.assertAlmostEqual(found.low, 9 * 30 / 60 * 0.9 + 500 * 0.03 * 0.1)

    def test_members_that_stand_there_are_not_bought_again(self) -> None:
        rafters = Framing(material="softwood", share=0.12)
        bay = BuildUpLayer(id="bay", material="air_unventilated", thickness_mm=150, framing=rafters, existing=True)
        filled = bay.model_copy(update={"material": "wood_fibre_batt", "existing": False})
        found = cost(BuildUp(layers=[bay, *FOUND.layers]), BuildUp(layers=[filled, *FOUND.layers]), {}, [])
        self.assertEqual([line.name for line in found.lines], [entry_of("wood_fibre_batt").name])
        new = cost(FOUND, BuildUp(layers=[*FOUND.layers, filled]), {}, [])
        self.assertEqual(len(new.lines), 2, "members that are new are")

    def test_carbon_by_hand(self) -> None:
        found = cost(FOUND, LINED, {}, [])
        per_kg, per_m2, note = carbon_table()
        self.assertIn("rough ranges of ours", note)
        kilos = {"mineral_fibre_035": 0.9 * 0.1, "softwood": 0.1 * 0.1, "gypsum_board": 0.0125}
        low = sum(entry_of(m).density_kg_m3 * d * per_kg[entry_of(m).family][0] for m, d in kilos.items())  # type: ignore[union-attr]
        self.assertAlmostEqual(found.carbon_low, low + per_m2["sheet"][0])
        wood = entry_of("softwood").density_kg_m3 * 0.01  # type: ignore[union-attr]
        self.assertAlmostEqual(found.stored, wood * per_kg["timber"][2])

    def test_every_material_of_the_library_has_its_carbon(self) -> None:
        per_kg, per_m2, _ = carbon_table()
        for entry in library().values():
            if isinstance(entry, AirLayer):
                continue
            table = per_m2 if isinstance(entry, Sheet) else per_kg
            low, high = table[entry.family][:2]  # type: ignore[index]
            self.assertLess(0.0, low)
            self.assertLess(low, high, entry.id)

    def test_a_price_that_falls_is_refused(self) -> None:
        for make in (lambda: own("softwood", 5, 4), lambda: Work(what="x", low=2, high=1), lambda: own("softwood", -1)):
            with self.assertRaises(ValidationError):
                make()

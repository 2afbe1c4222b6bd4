"""Quantities and sentences in both unit systems, against hand-worked values."""

from __future__ import annotations

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core import say as s
from core.say import Said, join, read_quantities, said, say

# (quantity, metric, inches, feet and pounds)
PAIRS: list[tuple[Said, str, str]] = [
    (s.thickness(0.08), "80 mm", "3.15 in"),
    (s.thickness(0.0125), "12.5 mm", "0.49 in"),
    (s.length(2.4), "2.4 m", "7.9 ft"),
    (s.vapour_length(0.05), "0.05 m", "0.2 ft"),
    (s.vapour_length(5.0), "5 m", "16 ft"),
    (s.vapour_length(100.0), "100 m", "328 ft"),
    (s.area(9.3), "9.3 m²", "100 ft²"),
    (s.volume(300.0), "300 m³", "10594 ft³"),
    (s.water(1.0), "1.0 kg/m²", "0.20 lb/ft²"),
    (s.water(0.25), "0.25 kg/m²", "0.05 lb/ft²"),
    (s.water(120.0), "120 kg/m²", "24.6 lb/ft²"),
    (s.small_water(200.0), "200 g/m²", "0.66 oz/ft²"),
    (s.small_water(3.2), "3.2 g/m²", "0.01 oz/ft²"),
    (s.rain(399.0), "399 mm", "15.7 in"),
    (s.transmittance(0.35), "0.35 W/m²K", "R 16.2"),
    (s.u_value(0.35), "U 0.35 W/m²K", "R 16.2"),
    (s.resistance(2.31), "2.31 m²K/W", "R 13.1"),
    (s.coefficient(144.0), "144 W/K", "273 Btu/h°F"),
    (s.energy(8211.0), "8211 kWh", "28017 kBtu"),
    (s.temperature(20.0), "20 °C", "68 °F"),
    (s.temperature(-4.5, 1), "−4.5 °C", "24 °F"),
    (s.difference(10.0), "10.0 K", "18.0 °F"),
    (s.degree_hours(104600.0), "104.6 kKh", "188.3 k°Fh"),
    (s.air_flow(6600.0), "6600 m³/h", "3885 cfm"),
    (s.air_permeability(1.0), "1 m³/(h m²)", "0.055 cfm/ft²"),
    (s.speed(5.0), "5.0 m/s", "11 mph"),
    (s.conductivity(0.035), "0.035 W/mK", "R 4.12 per inch"),
    (s.heat_of_air(0.3333), "0.3333 Wh/(m³K)", "0.0179 Btu/(ft³°F)"),
]


class Quantities(TestCase):
    def test_each_in_both_systems(self) -> None:
        for pair, metric, inch in PAIRS:
            with self.subTest(metric):
                self.assertEqual((pair.metric, pair.inch), (metric, inch))

    def test_minus_is_a_minus_and_nothing_has_none(self) -> None:
        self.assertEqual(s.figure(-3.14159, 2), "−3.14")
        self.assertEqual(s.figure(-0.0004, 2), "0.00")
        self.assertEqual(s.percent(0.125, 1), "12.5 %")
        self.assertEqual(s.percent(-0.002), "0 %")

    @given(st.floats(min_value=-1e6, max_value=1e6), st.integers(min_value=0, max_value=4))
    def test_no_figure_has_two_signs_or_a_hyphen(self, value: float, digits: int) -> None:
        text = s.figure(value, digits)
        self.assertNotIn("-", text)
        self.assertLessEqual(text.count("−"), 1)
        self.assertAlmostEqual(float(text.replace("−", "-")), value, delta=0.5 * 10.0**-digits + 1e-9)

    @given(st.floats(min_value=0.05, max_value=6.0))
    def test_u_and_r_are_the_same_thing(self, u: float) -> None:
        r = float(s.transmittance(u).inch.removeprefix("R "))
        self.assertAlmostEqual(5.678263 / u, r, delta=0.051)

    def test_an_uptake_is_told_as_it_is_tabulated(self) -> None:
        pair = s.uptake(0.05)
        self.assertEqual(pair.metric, pair.inch)
        self.assertEqual(pair.metric, "3.0 kg/(m²√h)")


class Sentences(TestCase):
    def test_a_sentence_carries_its_quantities(self) -> None:
        pair = say("At {place} {water} in {n} days.", place="the foil", water=s.small_water(212), n=3)
        self.assertEqual(pair.metric, "At the foil 212 g/m² in 3 days.")
        self.assertEqual(pair.inch, "At the foil 0.69 oz/ft² in 3 days.")

    def test_a_value_that_is_missing_is_a_fault(self) -> None:
        with self.assertRaises(KeyError):
            say("At {place} {water}.", place="the foil")

    def test_sentences_add_up(self) -> None:
        pair = s.thickness(0.01) + " and " + s.thickness(0.02)
        self.assertEqual((pair.metric, pair.inch), ("10 mm and 20 mm", "0.39 in and 0.79 in"))
        self.assertEqual(join([said("a"), "", said(""), "b"], "; "), said("a; b"))
        self.assertEqual(join([]), said(""))
        self.assertFalse(said(""))
        self.assertTrue(said("a"))

    def test_the_first_letter_alone_changes(self) -> None:
        self.assertEqual(said("lime plaster on OSB").capitalised().metric, "Lime plaster on OSB")
        self.assertEqual(said("Within limits; OSB").lowered().inch, "within limits; OSB")
        self.assertEqual(said("").capitalised(), said(""))

    def test_texts_that_are_data_carry_theirs_in_braces(self) -> None:
        for text, metric, inch in (
            ("a drip {30 mm} clear of the face", "a drip 30 mm clear of the face", "a drip 1.18 in clear of the face"),
            ("below {−5 °C}", "below −5 °C", "below 23 °F"),
            ("{1.5 m} apart, {10 K} warmer", "1.5 m apart, 10 K warmer", "4.9 ft apart, 18.0 °F warmer"),
            ("{100 mm rain} a year", "100 mm a year", "3.9 in a year"),
            ("{2 kg/m²} of water", "2 kg/m² of water", "0.41 lb/ft² of water"),
            ("nothing to turn", "nothing to turn", "nothing to turn"),
            ("{4 parsecs} off", "{4 parsecs} off", "{4 parsecs} off"),
        ):
            with self.subTest(text):
                self.assertEqual(read_quantities(text), Said(metric=metric, inch=inch))

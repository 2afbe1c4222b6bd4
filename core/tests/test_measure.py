"""Measurements: ISO 9972 against an example worked here and against known C and n; surface temperatures; wood meters."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np

from core.errors import OutOfRange
from core.measure.blower_door import BlowerDoorTest, FlowPoint, air_density, airtightness, fit_direction
from core.measure.paste import parse_flow_points
from core.measure.thermal import ThermalReading, estimated_u
from core.measure.wood_moisture import MeterReading, corrected_moisture, temperature_corrected

PRESSURES = (10.0, 18.0, 26.0, 34.0, 42.0, 50.0, 58.0, 66.0)


def exact(coefficient: float, exponent: float, direction: str = "pressurise") -> list[FlowPoint]:
    return [
        FlowPoint(direction=direction, pressure_pa=dp, flow_m3_h=coefficient * dp**exponent)  # type: ignore[arg-type]
        for dp in PRESSURES
    ]


class BlowerDoor(TestCase):
    def test_an_example_worked_here_not_from_the_standard(self) -> None:
        # three points, so that every sum can be followed: ln 10, ln 20, ln 40 against ln 100, ln 160, ln 250
        test = BlowerDoorTest(
            points=[
                FlowPoint(direction="pressurise", pressure_pa=dp, flow_m3_h=q)
                for dp, q in ((10.0, 100.0), (20.0, 160.0), (40.0, 250.0))
            ],
            inside_c=20.0,
            outside_c=20.0,
        )
        fit = fit_direction(test, "pressurise")
        # x̄ = ln 20, s_xx = 2 (ln 2)², s_xy = ln 2 (ln 250 − ln 100) → n = ln 2.5 / (2 ln 2)
        n = math.log(2.5) / (2.0 * math.log(2.0))
        self.assertAlmostEqual(fit.exponent.value, n, places=9)
        y_mean = (math.log(100) + math.log(160) + math.log(250)) / 3
        c = math.exp(y_mean - n * math.log(20))
        self.assertAlmostEqual(fit.coefficient.value, c, places=6)
        self.assertAlmostEqual(fit.q50.value, c * 50**n, places=6)
        # one degree of freedom, t = 12.7062; the residuals are (1, −2, 1) times (ln 100 + ln 250 − 2 ln 160) / 6
        r = (math.log(100) + math.log(250) - 2 * math.log(160)) / 6
        s_n = math.sqrt(6 * r * r / (2 * math.log(2) ** 2))
        self.assertAlmostEqual(fit.exponent.high - n, 12.7062047 * s_n, places=5)

    def test_known_c_and_n_come_back_exactly(self) -> None:
        test = BlowerDoorTest(
            points=exact(210.0, 0.63) + exact(190.0, 0.66, "depressurise"), inside_c=20.0, outside_c=20.0
        )
        found = airtightness(test, 612.0, 480.0)
        up, down = found.fits
        self.assertAlmostEqual(up.coefficient.value, 210.0, places=6)
        self.assertAlmostEqual(down.exponent.value, 0.66, places=9)
        q50 = (210.0 * 50**0.63 + 190.0 * 50**0.66) / 2
        self.assertAlmostEqual(found.q50.value, q50, places=6)
        self.assertAlmostEqual(found.n50.value if found.n50 else 0, q50 / 612.0, places=9)
        self.assertAlmostEqual(found.q_envelope_50.value if found.q_envelope_50 else 0, q50 / 480.0, places=9)
        self.assertTrue(found.valid, [c for c in found.checks if not c.met])
        # area of a sharp-edged hole: q / sqrt(2 Δp / ρ), in cm²
        area = q50 / 3600 * math.sqrt(1.2041 / 100) * 1e4
        self.assertAlmostEqual(found.leakage_area_50pa_cm2, area, delta=area * 1e-4)
        self.assertIsNone(airtightness(test, None, None).n50)

    def test_corrections_for_zero_pressure_and_density(self) -> None:
        # a chimney effect of +2 Pa: the true pressures are 2 Pa lower going up, 2 Pa higher going down
        shifted = [p.model_copy(update={"pressure_pa": p.pressure_pa + 2.0}) for p in exact(200.0, 0.65)]
        lower = [p.model_copy(update={"pressure_pa": p.pressure_pa - 2.0}) for p in exact(200.0, 0.65, "depressurise")]
        test = BlowerDoorTest(
            points=shifted + lower, inside_c=20.0, outside_c=20.0, zero_before_pa=1.5, zero_after_pa=2.5
        )
        for fit in airtightness(test, 1.0, None).fits:
            self.assertAlmostEqual(fit.exponent.value, 0.65, places=9)
            self.assertAlmostEqual(fit.coefficient.value, 200.0, places=6)
        cold = BlowerDoorTest(points=exact(200.0, 0.5), inside_c=20.0, outside_c=0.0)
        fit = fit_direction(cold, "pressurise")
        # the fan draws in cold air, warm air leaks out: more volume leaves; standard density is that of the inside air
        self.assertAlmostEqual(fit.coefficient.value, 200.0 * 293.15 / 273.15, places=3)
        self.assertAlmostEqual(air_density(20.0, 101325.0), 1.2041, delta=2e-4)

    def test_confidence_interval_holds_the_truth_95_times_in_100(self) -> None:
        generator = np.random.default_rng(9972)
        inside_n = inside_c = inside_q = 0
        runs = 1000
        for _ in range(runs):
            noise = np.exp(generator.normal(0.0, 0.03, len(PRESSURES)))
            points = [
                p.model_copy(update={"flow_m3_h": p.flow_m3_h * float(f)})
                for p, f in zip(exact(200.0, 0.65), noise, strict=True)
            ]
            fit = fit_direction(BlowerDoorTest(points=points, inside_c=20.0, outside_c=20.0), "pressurise")
            inside_n += fit.exponent.low <= 0.65 <= fit.exponent.high
            inside_c += fit.coefficient.low <= 200.0 <= fit.coefficient.high
            inside_q += fit.q50.low <= 200.0 * 50**0.65 <= fit.q50.high
        # three standard deviations of a binomial share at 0.95 are 0.021
        for count in (inside_n, inside_c, inside_q):
            self.assertAlmostEqual(count / runs, 0.95, delta=0.021)

    def test_checks_name_what_is_wrong(self) -> None:
        points = [
            FlowPoint(direction="pressurise", pressure_pa=dp, flow_m3_h=q)
            for dp, q in ((15.0, 400.0), (20.0, 900.0), (45.0, 700.0))
        ]
        test = BlowerDoorTest(
            points=points, zero_before_pa=7.0, zero_after_pa=6.0, wind_m_s=9.0, height_m=12.0, inside_c=21, outside_c=-5
        )
        failed = {check.name for check in airtightness(test, 100.0, None).checks if not check.met}
        expected = {"points up", "range up", "spacing up", "fit up", "exponent up", "both directions"}
        self.assertEqual(failed, expected | {"zero-flow pressure", "height × temperature", "wind"})
        with self.assertRaisesRegex(OutOfRange, "no readings yet"):
            airtightness(BlowerDoorTest(points=[]), None, None)
        with self.assertRaisesRegex(OutOfRange, "three or more pressures"):
            fit_direction(BlowerDoorTest(points=points[:2]), "pressurise")


class Pasting(TestCase):
    def test_the_same_readings_in_many_dresses(self) -> None:
        texts = [
            "direction,pressure_pa,flow_m3_h\nup,50,2310.5\ndown,-26,1480",
            "# simulated gauge\nup;50;2310,5\ndown;26;1480",
            "50\t2310.5\n−26\t1480",
            "50 2310,5\n-26 1480",
            "Pa  m³/h\n50   2310.5\n\n-26   1480",
        ]
        for text in texts:
            with self.subTest(text):
                points = parse_flow_points(text)
                self.assertEqual([p.direction for p in points], ["pressurise", "depressurise"])
                self.assertEqual([(p.pressure_pa, p.flow_m3_h) for p in points], [(50.0, 2310.5), (26.0, 1480.0)])
        self.assertAlmostEqual(parse_flow_points("50 100", "l/s")[0].flow_m3_h, 360.0)
        self.assertAlmostEqual(parse_flow_points("50 100", "cfm")[0].flow_m3_h, 169.9011)

    def test_wrong_rows_are_named(self) -> None:
        for text, words in (
            ("50 2310\n26", "row 2 “26”"),
            ("50 2310\nsideways 26 14", "row 2: “sideways”"),
            ("0 2310", "row 1: 0 Pa"),
            ("50 0", "row 1: a flow of 0"),
            ("5000 12", "outside 0 to 500"),
            ("pressure flow", "no readings"),
            ("50 12 13", "row 1"),
            ("50 2310\nlast reading bad", "row 2"),
        ):
            with self.subTest(text), self.assertRaisesRegex(OutOfRange, words):
                parse_flow_points(text)


class Surfaces(TestCase):
    def test_u_from_a_surface_temperature(self) -> None:
        # 20 − 16.1 over 0.13 × 20 → 1.5 W/m²K
        found = estimated_u(ThermalReading(inside_air_c=20, outside_air_c=0, surface_c=16.1))
        self.assertAlmostEqual(found.u_w_m2k or 0, 3.9 / 2.6)
        self.assertEqual(found.worth_nothing, [])
        self.assertAlmostEqual(found.f_rsi or 0, 0.805)
        relative = math.sqrt((0.03 / 0.13) ** 2 + (math.hypot(0.5, 0.5) / 3.9) ** 2 + (math.hypot(0.5, 0.5) / 20) ** 2)
        self.assertAlmostEqual(found.high or 0, 1.5 * (1 + 2 * relative), places=6)
        self.assertLess(found.low or 9, 1.5)

    def test_a_well_insulated_wall_cannot_be_told_apart(self) -> None:
        found = estimated_u(ThermalReading(inside_air_c=20, outside_air_c=5, surface_c=19.6))
        self.assertEqual(found.low, 0.0)

    def test_when_it_is_worth_nothing(self) -> None:
        bad = ThermalReading(
            inside_air_c=20,
            outside_air_c=14,
            surface_c=19,
            hours_since_sun=3,
            steady_hours=5,
            wet_or_raining=True,
            shiny=True,
            near_heater=True,
        )
        self.assertEqual(len(estimated_u(bad).worth_nothing), 6)
        crossed = estimated_u(ThermalReading(inside_air_c=20, outside_air_c=0, surface_c=21))
        self.assertIsNone(crossed.u_w_m2k)
        self.assertIn("check the readings", crossed.worth_nothing[0].metric)


class WoodMeters(TestCase):
    def test_temperature_correction(self) -> None:
        # (20 + 0.567 − 0.026 t + 0.000051 t²) / (0.881 × 1.0056^t): at 0 °C 20.567 / 0.881
        self.assertAlmostEqual(temperature_corrected(20.0, 0.0), 20.567 / 0.881)
        # near its calibration temperature the reading stands
        self.assertAlmostEqual(temperature_corrected(15.0, 22.5), 15.0, delta=0.1)
        self.assertGreater(temperature_corrected(20.0, 5.0), 20.0)
        self.assertLess(temperature_corrected(20.0, 40.0), 20.0)
        with self.assertRaisesRegex(OutOfRange, "outside −20 to 60"):
            temperature_corrected(20.0, 70.0)

    def test_species_and_notes(self) -> None:
        plain = corrected_moisture(MeterReading(shown_percent=18, wood_temperature_c=10, species="spruce"))
        pine = corrected_moisture(MeterReading(shown_percent=18, wood_temperature_c=10, species="pine"))
        self.assertAlmostEqual(pine.percent - plain.percent, 0.5)
        self.assertIn("estimate", pine.notes[0])
        own = corrected_moisture(
            MeterReading(shown_percent=18, wood_temperature_c=10, species="oak", offset_percent=1.2)
        )
        self.assertAlmostEqual(own.percent - plain.percent, 1.2)
        self.assertEqual((own.uncertainty, own.notes), (1.0, []))
        wet = corrected_moisture(MeterReading(shown_percent=45, salty_or_treated=True))
        self.assertTrue(any("only says wet" in note for note in wet.notes))
        self.assertTrue(any("salts" in note for note in wet.notes))
        self.assertTrue(any("past its range" in n for n in corrected_moisture(MeterReading(shown_percent=5)).notes))
        # what cannot be corrected is refused when it is written down, so that no page fails on it later
        with self.assertRaisesRegex(ValueError, "no species"):
            MeterReading(shown_percent=18, species="bog oak")
        for cold in (-21.0, 61.0):
            with self.assertRaises(ValueError):
                MeterReading(shown_percent=18, wood_temperature_c=cold)

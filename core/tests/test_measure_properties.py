"""Measurements drawn by chance: what is put in comes back, in whatever dress it is written."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from core.errors import OutOfRange
from core.measure.blower_door import BlowerDoorTest, FlowPoint, airtightness
from core.measure.paste import parse_flow_points
from core.measure.thermal import ThermalReading, estimated_u
from core.measure.wood_moisture import SPECIES, MeterReading, corrected_moisture, temperature_corrected
from core.survey.openings import FRAME, GLAZING, SECONDARY, window_values
from core.survey.shape import Opening

PRESSURES = (11.0, 19.0, 27.0, 35.0, 43.0, 51.0, 60.0)


def points(coefficient: float, exponent: float, direction: str = "pressurise") -> list[FlowPoint]:
    return [
        FlowPoint(direction=direction, pressure_pa=p, flow_m3_h=coefficient * p**exponent)  # type: ignore[arg-type]
        for p in PRESSURES
    ]


class BlowerDoors(TestCase):
    def test_known_lines_come_back_whatever_they_are(self) -> None:
        rng = np.random.default_rng(1)
        for _ in range(60):
            c, n = float(10 ** rng.uniform(1, 3)), float(rng.uniform(0.5, 0.95))
            volume = float(rng.uniform(80, 3000))
            test = BlowerDoorTest(points=[*points(c, n), *points(c, n, "depressurise")], inside_c=20.0, outside_c=20.0)
            found = airtightness(test, volume, 2.0 * volume)
            with self.subTest(c=c, n=n):
                for fit in found.fits:
                    self.assertAlmostEqual(fit.exponent.value, n, places=9)
                assert found.n50 is not None and found.q_envelope_50 is not None
                self.assertAlmostEqual(found.n50.value, found.q50.value / volume, places=9)
                self.assertAlmostEqual(found.q_envelope_50.value, found.n50.value / 2.0, places=9)
                self.assertLess(found.leakage_area_4pa_cm2, found.leakage_area_50pa_cm2 + 1e-9)
                self.assertAlmostEqual(
                    found.leakage_area_50pa_cm2 / found.leakage_area_4pa_cm2, (50.0 / 4.0) ** (n - 0.5), places=6
                )

    def test_without_a_volume_there_is_no_n50(self) -> None:
        found = airtightness(BlowerDoorTest(points=points(100, 0.6)), None, None)
        self.assertIsNone(found.n50)
        self.assertIsNone(found.q_envelope_50)
        self.assertGreater(found.q50.value, 0)

    def test_a_steady_zero_pressure_moves_up_and_down_apart(self) -> None:
        both = [*points(200, 0.65), *points(200, 0.65, "depressurise")]
        shifted = BlowerDoorTest(points=both, zero_before_pa=2.0, zero_after_pa=2.0, inside_c=20, outside_c=20)
        up, down = airtightness(shifted, 500, None).fits
        self.assertGreater(up.q50.value, down.q50.value)

    def test_the_same_readings_in_three_units_and_four_dresses(self) -> None:
        rows = [(p, 120.0 * p**0.62) for p in PRESSURES]
        factor = {"m3/h": 1.0, "l/s": 3.6, "cfm": 1.699011}
        for unit, times in factor.items():
            for text in (
                "\n".join(f"{p:.2f};{q / times:.6f}" for p, q in rows),
                "\n".join(f"up\t{p:.2f}\t{q / times:.6f}" for p, q in rows),
                "direction,pressure,flow\n" + "\n".join(f"up,{p:.2f},{q / times:.6f}" for p, q in rows),
                "# made up\n\n" + "\n".join(f"  {p:.2f}   {q / times:.6f}  " for p, q in rows),
            ):
                with self.subTest(unit=unit, text=text[:20]):
                    found = parse_flow_points(text, unit)
                    self.assertEqual(len(found), len(rows))
                    for point, (p, q) in zip(found, rows, strict=True):
                        self.assertEqual((point.direction, point.pressure_pa), ("pressurise", p))
                        self.assertAlmostEqual(point.flow_m3_h, q, places=3)

    def test_rubbish_is_refused_with_its_row(self) -> None:
        rng = np.random.default_rng(3)
        letters = list("abcxyz;,. \t-0123456789\n")
        refused = 0
        for _ in range(300):
            text = "".join(rng.choice(letters, size=int(rng.integers(1, 40))))
            try:
                for point in parse_flow_points(text):
                    self.assertTrue(0 < point.pressure_pa <= 500 and 0 < point.flow_m3_h <= 1e6)
            except OutOfRange as error:
                refused += 1
                self.assertTrue("row" in str(error) or "no readings" in str(error), str(error))
        self.assertGreater(refused, 200)


class Temperatures(TestCase):
    def test_a_made_up_wall_gives_its_u_back_within_the_range_told(self) -> None:
        rng = np.random.default_rng(4)
        inside = 0
        for _ in range(400):
            u = float(rng.uniform(0.6, 3.0))
            ti, te = float(rng.uniform(17, 23)), float(rng.uniform(-12, 4))
            r_si = float(rng.normal(0.13, 0.03))
            surface = ti - u * r_si * (ti - te)
            told = [float(rng.normal(value, 0.5)) for value in (ti, te, surface)]
            found = estimated_u(ThermalReading(inside_air_c=told[0], outside_air_c=told[1], surface_c=told[2]))
            assert found.low is not None and found.high is not None
            inside += found.low <= u <= found.high
        self.assertGreater(inside / 400, 0.9)

    def test_the_range_narrows_with_the_cold(self) -> None:
        def width(outside: float) -> float:
            reading = ThermalReading(inside_air_c=20, outside_air_c=outside, surface_c=20 - 1.5 * 0.13 * (20 - outside))
            found = estimated_u(reading)
            assert found.low is not None and found.high is not None
            return found.high - found.low

        widths = [width(outside) for outside in (8.0, 0.0, -10.0, -25.0)]
        self.assertEqual(widths, sorted(widths, reverse=True))


class Wood(TestCase):
    def test_colder_wood_holds_more_than_it_shows_and_more_shown_is_more(self) -> None:
        for shown in (8.0, 14.0, 20.0, 26.0):
            by_temperature = [temperature_corrected(shown, t) for t in (-15.0, 0.0, 10.0, 22.0, 40.0)]
            self.assertEqual(by_temperature, sorted(by_temperature, reverse=True))
        for temperature in (-15.0, 5.0, 30.0):
            by_reading = [temperature_corrected(shown, temperature) for shown in (6.0, 12.0, 18.0, 30.0)]
            self.assertEqual(by_reading, sorted(by_reading))

    def test_every_species_has_its_note_and_no_reading_is_below_nothing(self) -> None:
        for species in SPECIES:
            for shown in (0.0, 10.0, 25.0, 60.0):
                found = corrected_moisture(MeterReading(shown_percent=shown, species=species, wood_temperature_c=12.0))
                with self.subTest(species=species, shown=shown):
                    self.assertGreaterEqual(found.percent, 0.0)
                    self.assertGreaterEqual(found.uncertainty, 1.0)
                    self.assertIn("estimate", found.notes[0])


class Windows(TestCase):
    def values(self, **more: object) -> float:
        opening = {"id": "w", "name": "W", "body": "b", "face": "a", "width_m": 1.0, "height_m": 1.3, **more}
        return window_values(Opening.model_validate(opening)).u_w_m2k

    def test_better_glass_and_a_second_window_lose_less_in_every_frame(self) -> None:
        for frame in FRAME:
            row = [
                self.values(frame=frame, glazing=glass) for glass in ("single", "double_old", "double_low_e", "triple")
            ]
            self.assertEqual(row, sorted(row, reverse=True))
            for glass in GLAZING:
                bare = self.values(frame=frame, glazing=glass)
                for second in SECONDARY:
                    with self.subTest(frame=frame, glass=glass, second=second):
                        self.assertLess(self.values(frame=frame, glazing=glass, secondary=second), bare)

    def test_what_is_typed_wins(self) -> None:
        self.assertEqual(self.values(u_w_m2k=1.23, glazing="single", secondary="single"), 1.23)

"""The outboard share against its closed form, and as it must behave."""

from __future__ import annotations

from unittest import TestCase

from scipy.optimize import brentq

from core.buildup.model import BuildUp, BuildUpLayer, Place
from core.climate.data import shipped
from core.errors import OutOfRange
from core.moisture.outboard import Outboard, outboard
from core.moisture.steady import conditions
from core.physics.constants import ZERO_CELSIUS
from core.physics.moist_air import saturation_pressure


def layer(id: str, material: str, mm: float | None = None) -> BuildUpLayer:
    return BuildUpLayer(id=id, material=material, thickness_mm=mm)


def frame(inside_mm: float, *lining: BuildUpLayer) -> BuildUp:
    return BuildUp(
        layers=[
            layer("osb", "osb", 15),
            layer("fill", "mineral_fibre_035", inside_mm),
            *lining,
            layer("in", "gypsum_board", 12.5),
        ]
    )


def solved(build_up: BuildUp, climate: str = "tarn", **options: object) -> Outboard:
    place = Place(climate=climate, **options.pop("place", {}))  # type: ignore[arg-type]
    return outboard(build_up, place, shipped(climate), "osb", "mineral_fibre_035", **options)  # type: ignore[arg-type]


class OutboardShare(TestCase):
    def test_the_closed_form_of_room_air(self) -> None:
        """R outside over all ≥ (T at which the room's vapour gives the limit − Te) / (Ti − Te), worst month."""
        air = conditions(Place(climate="tarn"), shipped("tarn"))
        share = 0.0
        for te, ti, pressure in zip(air.outside_c, air.inside_c, air.inside_pa, strict=True):
            warm = brentq(lambda t, p=pressure: float(p / saturation_pressure(t + ZERO_CELSIUS)) - 0.8, -40.0, 40.0)  # type: ignore[misc]
            if ti - te > 0.5:
                share = max(share, (warm - te) / (ti - te))
        inside = 0.1 / 0.035 + 0.0125 / 0.23 + 0.13
        thickness = (share / (1 - share) * inside - 0.04 - 0.015 / 0.13) * 0.035
        found = solved(frame(100))
        assert found.thickness_m is not None and found.share_needed is not None
        self.assertAlmostEqual(found.share_needed, share, places=3)
        self.assertAlmostEqual(found.thickness_m, thickness, delta=0.0005)
        self.assertEqual(found.month, 0)
        self.assertAlmostEqual(found.share_now, (0.04 + 0.015 / 0.13) / (0.04 + 0.015 / 0.13 + inside), places=9)
        self.assertGreater(found.peak_rh_now, 1.0)

    def test_more_inside_colder_outside_and_damper_rooms_want_more(self) -> None:
        base = solved(frame(100)).thickness_m or 0.0
        self.assertGreater(solved(frame(150)).thickness_m or 0.0, base)
        self.assertLess(solved(frame(100), "corrie").thickness_m or 0.0, base)
        self.assertGreater(solved(frame(100), place={"occupancy": "high"}).thickness_m or 0.0, base)
        self.assertGreater(solved(frame(100), most_rh=0.7).thickness_m or 0.0, base)

    def test_where_only_diffusion_reaches_the_plane_a_tight_sheet_leaves_little_to_do(self) -> None:
        tight = frame(100, layer("m", "membrane_tight"))
        self.assertLess(solved(tight, school="diffusion").thickness_m or 0.0, (solved(tight).thickness_m or 0.0) / 2)

    def test_the_curve_falls_and_ends_where_it_must(self) -> None:
        found = solved(frame(100))
        peaks = [peak for _, peak in found.curve]
        self.assertEqual(peaks, sorted(peaks, reverse=True))
        self.assertIsNone(solved(frame(300), most_rh=0.35).thickness_m)
        self.assertEqual(solved(frame(100), most_rh=9.0).thickness_m, 0.0)

    def test_questions_that_do_not_fit(self) -> None:
        for after, material in (("nowhere", "mineral_fibre_035"), ("osb", "membrane_tight")):
            with self.assertRaises(OutOfRange):
                outboard(frame(100), Place(climate="tarn"), shipped("tarn"), after, material)

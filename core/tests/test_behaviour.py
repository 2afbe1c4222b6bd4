"""Known behaviours of walls, as comparisons: physics decides, not a wish. What does not come out stands in docs/verification.md."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from core.assembly.to_case import model_of
from core.buildup.model import BuildUp, BuildUpLayer, Place
from core.case import Membrane
from core.moisture.transient.columns import INSIDE, VAPOUR
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.solve import simulate

HOURS = 8760


def layer(id: str, material: str, mm: float | None = None) -> BuildUpLayer:
    return BuildUpLayer(id=id, material=material, thickness_mm=mm)


def years(layers: list[BuildUpLayer], place: Place, count: int) -> Outcome:
    case = model_of(BuildUp(layers=layers), place.model_copy(update={"works_on": "10-01"})).case
    return simulate(
        case.model_copy(update={"time": case.time.model_copy(update={"repeat": "fixed", "fixed_passes": count})})
    )


def month(outcome: Outcome, plane: str, number: int) -> float:
    """Mean RH of a month (1 to 12) of the last year at a plane; a year begins on 1 October."""
    rh = outcome.rh(outcome.planes[plane])[-HOURS:]
    start = (number - 10) % 12 * 730
    return float(np.mean(rh[start : start + 730]))


STONE = [layer("stone", "sandstone_rubble", 500), layer("plaster", "lime_plaster", 20)]
DRY = (0.0, 0.0, 0.0, 0.0)


class HumidSummer(TestCase):
    def test_an_inner_sheet_gets_wet_on_its_outer_face_in_summer_and_not_in_winter(self) -> None:
        """The rained brick gives its water off inward under the sun; the sheet stops it where the cooled room begins."""
        place = Place(facing_deg=180, climate="millrace", exposure="moderate", start_rh=0.7)

        def inside(membrane: str) -> Outcome:
            lining = [
                layer("slab", "mineral_fibre_035", 100),
                layer("m", membrane),
                layer("board", "gypsum_board", 12.5),
            ]
            return years([layer("brick", "brick_old", 380), *lining], place, 2)

        tight, variable = inside("membrane_tight"), inside("membrane_variable_medium")
        plane = "outer side of vapour-tight sheet"
        self.assertGreater(month(tight, plane, 7), 0.93)
        self.assertLess(month(tight, plane, 1), 0.5)
        gained = month(tight, plane, 7) - month(variable, "outer side of variable membrane, medium", 7)
        self.assertGreater(gained, 0.05)


class VariableMembrane(TestCase):
    """Open when both sides are humid (summer, water coming from the brick), tight when they are dry (winter, the room)."""

    def half_years(self, membrane: str, sd: float | None = None) -> tuple[float, float]:
        """(vapour taken in from the room October to March, let out to it April to September) [kg/m²]."""
        lining = [layer("slab", "mineral_fibre_035", 100), layer("m", membrane), layer("board", "gypsum_board", 12.5)]
        place = Place(facing_deg=180, climate="millrace", start_rh=0.7, works_on="10-01")
        case = model_of(BuildUp(layers=[layer("brick", "brick_old", 380), *lining]), place).case
        if sd is not None:
            changed = [x.model_copy(update={"sd_m": sd}) if isinstance(x, Membrane) else x for x in case.layers]
            case = case.model_copy(update={"layers": changed})
        time = case.time.model_copy(update={"repeat": "fixed", "fixed_passes": 2})
        outcome = simulate(case.model_copy(update={"time": time}))
        vapour = outcome.flux[outcome.last_pass, INSIDE, VAPOUR] * 3600.0
        winter, summer = vapour[: HOURS // 2], vapour[HOURS // 2 :]
        return float(np.maximum(winter, 0.0).sum()), float(np.maximum(-summer, 0.0).sum())

    def test_it_lets_out_more_in_summer_for_what_it_lets_in_in_winter_than_any_constant_sheet(self) -> None:
        scanned = [self.half_years("membrane_retarder", float(sd)) for sd in np.geomspace(0.05, 50.0, 7)]
        taken, let_out = (np.array(values)[::-1] for values in zip(*scanned, strict=True))
        self.assertTrue(np.all(np.diff(taken) > 0.0), "a tighter sheet takes less in")
        for strength in ("weak", "medium", "strong"):
            with self.subTest(strength):
                winter, summer = self.half_years(f"membrane_variable_{strength}")
                self.assertGreater(summer, 1.4 * float(np.interp(winter, taken, let_out)))


class InsideInsulation(TestCase):
    def test_capillary_active_keeps_rained_stone_drier_than_an_impermeable_board_of_the_same_r(self) -> None:
        place = Place(facing_deg=315, climate="corrie", exposure="exposed", start_rh=0.75)
        plaster = layer("finish", "lime_plaster", 10)
        active = [*STONE, layer("bed", "lime_adhesive", 8), layer("board", "calcium_silicate", 60), plaster]
        foam = [*STONE, layer("board", "eps_035", 60 * 0.035 / 0.062), plaster]
        water = [float(years(layers, place, 3).layer_water[-HOURS:, 0].mean()) for layers in (active, foam)]
        self.assertLess(water[0], 0.9 * water[1])


class Facings(TestCase):
    def test_north_is_wetter_without_rain_and_the_rain_side_with_it(self) -> None:
        def stone(facing: float, rain: tuple[float, float, float, float] | None) -> float:
            place = Place(facing_deg=facing, climate="corrie", exposure="exposed", start_rh=0.75, rain_factors=rain)
            return float(years(STONE, place, 2).layer_water[-HOURS:, 0].mean())

        self.assertGreater(stone(0, DRY), stone(180, DRY))
        wet = stone(290, None)
        self.assertGreater(wet, stone(0, None))
        self.assertGreater(wet, stone(180, None))

"""What air, leaks and ice do to walls and roofs, as comparisons: physics decides. Each test says why."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from core.assembly.to_case import model_of
from core.buildup.model import AirLeakage, BuildUp, BuildUpLayer, LeakPreset, Place, RainLeakage
from core.case import Case
from core.moisture.account import water_account
from core.moisture.transient.columns import INSIDE, VAPOUR
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.solve import simulate
from core.study import StudySettings, UncertainInput, drawn_model, draws


def layer(id: str, material: str, mm: float | None = None) -> BuildUpLayer:
    return BuildUpLayer(id=id, material=material, thickness_mm=mm)


def years(build_up: BuildUp, place: Place, count: int = 2) -> Outcome:
    case = model_of(build_up, place.model_copy(update={"works_on": "10-01"})).case
    time = case.time.model_copy(update={"repeat": "fixed", "fixed_passes": count})
    return simulate(case.model_copy(update={"time": time}))


def wettest_month(outcome: Outcome, plane: str) -> float:
    """The wettest monthly mean of RH at a plane in the last year."""
    daily = outcome.rh(outcome.planes[plane], outcome.last_pass).reshape(-1, 24).mean(axis=1)
    return float(max(part.mean() for part in np.array_split(daily, 12)))


def double_frame(
    leak: LeakPreset, sheathing: str = "wood_fibre_board", sheet: str = "membrane_variable_medium"
) -> BuildUp:
    """A frame filled with cellulose behind a ventilated cladding; a tight sheet, when asked for, lies outside."""
    outside = (
        [layer("sheathing", sheathing, 22)]
        if sheathing != "tight"
        else [layer("board", "osb", 15), layer("tight", "membrane_tight"), layer("inner", "osb", 12)]
    )
    layers = [
        layer("clad", "larch_boards", 22),
        layer("gap", "air_ventilated", 40),
        *outside,
        layer("fill", "cellulose_dense", 280),
        layer("sheet", sheet),
        layer("lining", "gypsum_board", 12.5),
    ]
    return BuildUp(layers=layers, air_leak=AirLeakage(preset=leak))


COLD = Place(facing_deg=0, climate="tarn", start_rh=0.6)


class DoubleFrame(TestCase):
    def plane(self, outcome: Outcome) -> str:
        """The outer face of the fill, where leaking air cools."""
        return next(name for name in outcome.planes if "cellulose" in name.split(" / ")[-1])

    def test_drier_with_a_tested_tight_air_barrier_than_with_a_leaky_one(self) -> None:
        """Room air cools at the outer face of the fill and leaves its water there; ten times the air, more water."""
        tight, leaky = (years(double_frame(leak), COLD) for leak in ("tested tight", "leaky"))
        plane = self.plane(tight)
        self.assertGreater(wettest_month(leaky, plane), wettest_month(tight, plane) + 0.01)
        gained = [float(o.gained[o.last_pass, 1].sum() * 3600.0) for o in (tight, leaky)]
        self.assertGreater(gained[1], gained[0])

    def test_drier_with_a_vapour_open_sheathing_than_with_a_tight_sheet(self) -> None:
        open_, tight = years(double_frame("careful"), COLD), years(double_frame("careful", "tight"), COLD)
        self.assertGreater(wettest_month(tight, self.plane(tight)), wettest_month(open_, self.plane(open_)) + 0.02)

    def test_the_indoor_humidity_at_which_the_tight_sheet_fails_is_found_by_a_study(self) -> None:
        """A grid over the indoor RH alone: dry rooms keep the outer face of the fill under 88 %, humid ones do not."""
        settings = StudySettings(
            inputs=[UncertainInput(name="indoor moisture", low=-0.2, high=0.2)], method="grid", steps=4, plane="inner"
        )
        wet = []
        for draw in draws(settings):
            model = drawn_model(double_frame("tested tight", "tight"), Place(facing_deg=0, start_rh=0.5), draw)
            outcome = simulate(model.case)
            wet.append(wettest_month(outcome, self.plane(outcome)))
        self.assertEqual(wet, sorted(wet))
        self.assertLess(wet[1], 0.88)
        self.assertGreater(wet[2], 0.88)


class ColdRoof(TestCase):
    def roof(self, insulation_mm: float) -> Outcome:
        layers = [
            layer("slate", "slate", 8),
            layer("deck", "sarking_boards", 22),
            layer("space", "air_ventilated", 150),
            layer("wool", "mineral_fibre_040", insulation_mm),
            layer("ceiling", "gypsum_board", 12.5),
        ]
        leak = AirLeakage(preset="careful", after_layer="deck")
        place = Place(kind="roof", slope_deg=35, facing_deg=0, climate="corrie", start_rh=0.7)
        return years(BuildUp(layers=layers, air_leak=leak), place)

    def test_air_through_the_ceiling_wets_the_deck_more_the_better_the_ceiling_is_insulated(self) -> None:
        """The same leaking air meets a deck that less heat from the room keeps warm. Where the deck is at 100 % all winter
        (Tarn) it does not come out: see docs/verification.md."""
        wet = [wettest_month(self.roof(mm), "sarking boards, softwood / ventilated cavity") for mm in (30, 100, 300)]
        self.assertEqual(wet, sorted(wet))
        self.assertGreater(wet[-1], wet[0] + 0.03)


class ReservoirCladding(TestCase):
    def driven(self, gap: str | None) -> float:
        """What the rain adds to the vapour through the room face in a summer [kg/m²]: brick leaf, frame open to the room."""
        return self.inward(gap, 1.0) - self.inward(gap, 0.0)

    def inward(self, gap: str | None, rain: float) -> float:
        between = [layer("gap", gap, 40)] if gap else []
        layers = [
            layer("brick", "brick_old", 100),
            *between,
            layer("board", "wood_fibre_board", 22),
            layer("wool", "mineral_fibre_035", 140),
            layer("lining", "gypsum_board", 12.5),
        ]
        place = Place(
            facing_deg=225, climate="ostmoor", exposure="exposed", occupancy="cooled", start_rh=0.8, rain_scale=rain
        )
        outcome = years(BuildUp(layers=layers), place)
        year = outcome.flux[outcome.last_pass, INSIDE, VAPOUR] * 3600.0
        summer = np.roll(year, 9 * 730)[5 * 730 : 8 * 730]
        return float(np.maximum(-summer, 0.0).sum())

    def test_sun_drives_the_rain_inward_and_a_vented_gap_stops_most(self) -> None:
        """A warm wet leaf has a vapour pressure far above the cooled room's; air behind it carries the vapour away."""
        solid, ventilated = self.driven(None), self.driven("air_ventilated")
        self.assertGreater(solid, 0.5)
        self.assertLess(ventilated, 0.3 * solid)


class Accounts(TestCase):
    def wall(self, **leaks: object) -> BuildUp:
        layers = [
            layer("brick", "brick_old", 220),
            layer("wool", "mineral_fibre_035", 100),
            layer("sheet", "membrane_tight"),
            layer("board", "gypsum_board", 12.5),
        ]
        return BuildUp.model_validate({"layers": [one.model_dump() for one in layers], **leaks})

    def test_the_water_account_adds_up_with_every_leak(self) -> None:
        leaks = {
            "air_leak": AirLeakage(preset="leaky").model_dump(),
            "rain_leak": RainLeakage(share=0.01).model_dump(),
        }
        outcome = years(self.wall(**leaks), Place(facing_deg=225, exposure="exposed"))
        account = water_account(outcome)
        names = {row.name for row in account.rows}
        self.assertTrue({"rain taken up by the outer face", "rain that leaks in", "leaking air"} <= names)
        self.assertLess(abs(account.gap_kg_m2), 1e-4)
        rain = next(row for row in account.rows if row.name == "rain that leaks in").gain_kg_m2
        self.assertAlmostEqual(rain, 0.01 * outcome.driven_rain_kg_m2, places=6)

    def test_a_rain_leak_wets_the_plane_it_goes_to(self) -> None:
        place = Place(facing_deg=225, exposure="exposed")
        dry, wet = years(self.wall(), place), years(self.wall(rain_leak={"share": 0.01}), place)
        self.assertGreater(wet.layer_water[-8760:].sum(axis=1).mean(), dry.layer_water[-8760:].sum(axis=1).mean())


class Frost(TestCase):
    def test_latent_heat_slows_the_cooling_of_wet_masonry(self) -> None:
        """A wet wall with ice stays nearer to 0 °C in a cold spell than the same wall whose water never freezes."""
        stone = BuildUp(layers=[layer("stone", "sandstone_rubble", 400)])
        case = model_of(stone, Place(facing_deg=0, climate="tarn", start_rh=0.99)).case
        time = case.time.model_copy(update={"repeat": "once", "start": "12-01", "length_s": 60 * 86400.0})

        def coldest(freezing: bool) -> Outcome:
            switches = case.switches.model_copy(update={"freezing": freezing})
            return simulate(case.model_copy(update={"time": time, "switches": switches}))

        iced, plain = coldest(True), coldest(False)
        middle = int(np.argmin(np.abs(iced.depth - 0.1)))
        swing = [float(np.abs(np.diff(o.temperature_c(middle))).mean()) for o in (iced, plain)]
        self.assertLess(swing[0], swing[1])


class Draughts(TestCase):
    def test_air_needs_a_known_state_at_both_ends(self) -> None:
        from core.cases.examples import isothermal_drying
        from core.errors import CaseRefused

        raw = isothermal_drying().model_dump(mode="json")
        raw["layers"] = [{**raw["layers"][0], "thickness_m": 0.1}] * 2
        raw["outside"] = {"type": "separate", "heat": {"type": "adiabatic"}, "moisture": {"type": "tight"}}
        raw["air"] = {"leaks": [{"after_layer": 0, "flow_kg_m2s": 1e-4}]}
        with self.assertRaisesRegex(CaseRefused, "air with a film"):
            simulate(Case.model_validate(raw))

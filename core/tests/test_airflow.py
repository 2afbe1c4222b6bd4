"""Air through cavities and leaks by hand: the power law, stack and wind, openings; and ports that keep their accounts."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from core import case as c
from core.assembly.to_case import model_of
from core.buildup.model import AirLeakage, BuildUp, BuildUpLayer, Place
from core.climate.data import shipped
from core.moisture.account import water_account
from core.moisture.transient.airflow import cavity_changes_per_h, leak_flow, vapour_by_air
from core.moisture.transient.columns import INSIDE, PV_ENV, VAPOUR
from core.moisture.transient.solve import simulate

ONE = np.ones(1)


def leak(q50: float, **changes: float) -> c.StackAndWind:
    return c.StackAndWind(climate="corrie", facing_deg=0.0, q50_m3_m2h=q50, **changes)  # type: ignore[arg-type]


class Leaks(TestCase):
    def test_stack_alone_by_hand(self) -> None:
        """1.2922 over 1.2041 kg/m³, 2 m: 9.81 · 2 · 0.08817 = 1.7298 Pa; (1.7298/50)^0.65 of 3 m³/h, times 1.2041 kg/m³."""
        flow = leak_flow(leak(3.0), 293.15 * ONE, 273.15 * ONE, 0.0 * ONE, 0.0 * ONE)
        self.assertAlmostEqual(float(flow[0]), 1.2041 * 3.0 / 3600.0 * (1.7298 / 50.0) ** 0.65, delta=1e-7)

    def test_wind_on_the_face_drives_outside_air_in(self) -> None:
        """No stack, 10 m/s on the face: C_p 0.25, half of the wind: 0.25 · 0.60205 · 25 = 3.763 Pa inward."""
        flow = leak_flow(leak(1.0), 293.15 * ONE, 293.15 * ONE, 10.0 * ONE, 0.0 * ONE)
        self.assertAlmostEqual(float(flow[0]), -1.2041 / 3600.0 * (3.7628 / 50.0) ** 0.65, delta=1e-8)
        lee = leak_flow(leak(1.0), 293.15 * ONE, 293.15 * ONE, 10.0 * ONE, 180.0 * ONE)
        self.assertAlmostEqual(float(lee[0]), -float(flow[0]), delta=1e-12)

    @settings(deadline=None, max_examples=50)
    @given(st.floats(0.1, 10), st.floats(-20, 15), st.floats(0, 20), st.floats(0, 360))
    def test_twice_the_leak_is_twice_the_flow(self, q50: float, outside_c: float, wind: float, from_deg: float) -> None:
        state = (293.15 * ONE, (outside_c + 273.15) * ONE, wind * ONE, from_deg * ONE)
        self.assertAlmostEqual(
            2.0 * float(leak_flow(leak(q50), *state)[0]), float(leak_flow(leak(2.0 * q50), *state)[0]), places=12
        )


class Cavities(TestCase):
    def changes(self, **fields: float) -> np.ndarray:
        wind_sun = c.WindAndSun(climate="corrie", **{"facing_deg": 180.0, **fields})  # type: ignore[arg-type]
        return cavity_changes_per_h(shipped("corrie"), wind_sun, 0.03)

    def test_wind_alone_at_night_by_hand(self) -> None:
        """Without sun: V = A v √(ΔC_p/Σζ) = 0.005 · v/2 · √(0.1/3); over 2.6 · 0.03 m³ for a metre of width."""
        climate = shipped("corrie")
        night = climate["beam_normal_w_m2"] + climate["diffuse_horizontal_w_m2"] == 0.0
        speed = 0.5 * climate["wind_speed_m_s"] * np.sqrt(0.1 / 3.0)
        expected = 3600.0 * 0.005 * speed / (2.6 * 0.03)
        np.testing.assert_allclose(self.changes()[night], expected[night], rtol=1e-9)

    def test_more_opening_more_sun_and_more_height_move_more_air(self) -> None:
        base = self.changes()
        np.testing.assert_allclose(self.changes(opening_mm2_m=10000.0), 2.0 * base)
        self.assertTrue(np.all(self.changes(absorptance=0.9) >= base - 1e-12))
        level = self.changes(slope_deg=0.0)
        self.assertLess(level.mean(), base.mean(), "a level cavity has no stack")

    def test_a_cavity_open_enough_is_outside_air(self) -> None:
        """With enormous air changes the middle of the cavity has the outside air's temperature and vapour pressure."""
        layers = [
            BuildUpLayer(id="clad", material="larch_boards", thickness_mm=22),
            BuildUpLayer(id="gap", material="air_ventilated", thickness_mm=40),
            BuildUpLayer(id="board", material="wood_fibre_board", thickness_mm=40),
        ]
        case = model_of(BuildUp(layers=layers), Place(facing_deg=180, works_on="10-01")).case
        air = case.air.model_copy(update={"cavities": [c.CavityAir(layer=1, changes_per_h=50000.0)]})
        time = case.time.model_copy(update={"repeat": "once", "length_s": 10 * 86400.0})
        outcome = simulate(case.model_copy(update={"air": air, "time": time}))
        outer, inner = outcome.entry_faces[1]
        middle = outer + (inner - outer) // 2
        hours = slice(24, 240)
        outside = np.roll(shipped("corrie")["temperature_c"], -273 * 24)[hours]
        self.assertLess(float(np.abs(outcome.temperature_c(middle)[hours] - outside).max()), 0.3)
        self.assertLess(outcome.water_balance_error, 1e-6)


class Accounts(TestCase):
    def test_a_leak_of_given_flow_brings_what_its_air_holds_beyond_the_plane(self) -> None:
        """Every hour: flow · 0.622/p · (p_room − p_plane), summed over a month; the port's account says the same."""
        layers = [
            BuildUpLayer(id="osb", material="osb", thickness_mm=18),
            BuildUpLayer(id="wool", material="mineral_fibre_035", thickness_mm=160),
            BuildUpLayer(id="board", material="gypsum_board", thickness_mm=12.5),
        ]
        build_up = BuildUp(layers=layers, air_leak=AirLeakage(preset="leaky"))
        case = model_of(build_up, Place(facing_deg=0, climate="millrace")).case
        flow = 2.0e-5
        air = c.Air(leaks=[c.AirLeak(after_layer=0, flow_kg_m2s=flow)])
        time = case.time.model_copy(
            update={"repeat": "once", "start": "01-01", "length_s": 31 * 86400.0, "largest_step_s": 300.0}
        )
        outcome = simulate(case.model_copy(update={"air": air, "time": time}))
        gained = float(outcome.gained[:, 1].sum() * 3600.0)
        node = outcome.entry_faces[0][1]
        from core.moisture.transient.boundary import build_boundary
        from core.physics.moist_air import saturation_pressure

        room = build_boundary(outcome.case).series[:, INSIDE, PV_ENV, 0]
        plane = outcome.rh(node) * saturation_pressure(outcome.temperature_c(node) + 273.15)
        wanted = float((flow * vapour_by_air(101325.0) * (room - plane)).sum() * 3600.0)
        self.assertGreater(gained, 0.0)
        self.assertAlmostEqual(gained / wanted, 1.0, delta=0.02)
        account = water_account(outcome)
        self.assertLess(abs(account.gap_kg_m2), 1e-4)

    def test_a_draught_that_leaves_takes_the_rooms_vapour_along(self) -> None:
        layers = [BuildUpLayer(id="wool", material="mineral_fibre_035", thickness_mm=160)]
        case = model_of(BuildUp(layers=layers), Place(facing_deg=0)).case
        time = case.time.model_copy(update={"repeat": "once", "length_s": 5 * 86400.0})
        outcome = simulate(case.model_copy(update={"air": c.Air(through_kg_m2s=-1e-4), "time": time}))
        self.assertGreater(float(outcome.flux[24:, INSIDE, VAPOUR].mean()), 0.0, "vapour enters from the room")
        self.assertLess(outcome.water_balance_error, 1e-6)
        self.assertLess(outcome.energy_balance_error, 1e-6)

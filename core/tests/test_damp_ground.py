"""What evidence and the Brief change of the building's year: wet ground, another plant, what is asked and taken."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

import numpy as np

from core.assembly.to_case import model_of
from core.brief import Brief
from core.buildup.model import BuildUp, BuildUpLayer, Place
from core.climate.data import first_hour, shipped
from core.climate.ground import BARE_EARTH_SD_M, ground_temperature_c
from core.moisture.transient.boundary import build_boundary
from core.physics.constants import ZERO_CELSIUS
from core.physics.moist_air import saturation_pressure
from core.survey.cold import cold_spaces
from core.survey.geometry import derive
from core.survey.shape import Shape
from core.tests.test_whole import SHAPE, state
from core.zones.assemble import DampGround, State, building_year
from core.zones.balance import brief_asks, monthly, taken_of_spaces
from core.zones.factors import space_losses
from core.zones.model import DELTA_AIR, VAPOUR_FILM
from core.zones.stated import AirStated, Energy


def cellar() -> State:
    """The house of the other tests over a cellar in place of its void."""
    shape = SHAPE.model_dump()
    shape["bodies"][0] |= {"below": "cellar", "below_height_m": 2.2}
    spaces = cold_spaces(Shape.model_validate(shape), derive(Shape.model_validate(shape)))
    return replace(state(), spaces=spaces)


class WetGround(TestCase):
    def rh(self, state: State, space: str) -> np.ndarray:
        made = building_year(state, shipped("corrie"))
        self.assertLess(made.year.water_closure, 1e-6)
        return made.year.rh[made.ids.index(space)]

    def test_a_tide_mark_or_standing_water_makes_the_cellar_damp(self) -> None:
        dry = cellar()
        tide = replace(dry, damp=(DampGround("main/below", "", 0.0, "tide mark"),))
        water = replace(dry, damp=(DampGround("main/below", "", 6.0, "standing water"),))
        means = [float(self.rh(one, "main/below").mean()) for one in (dry, tide, water)]
        self.assertGreater(means[1], means[0] + 0.08)
        self.assertGreater(means[2], means[1] + 0.02)

    def test_a_sheet_that_is_stated_keeps_the_floor_but_not_the_walls(self) -> None:
        damp = (DampGround("main/below", "", 0.0, "tide mark"),)
        open_floor = replace(cellar(), damp=damp)
        sheeted = replace(
            open_floor, stated=AirStated.model_validate({"spaces": [{"id": "main/below", "sheet": True}]})
        )
        dry = float(self.rh(cellar(), "main/below").mean())
        self.assertGreater(
            float(self.rh(open_floor, "main/below").mean()), float(self.rh(sheeted, "main/below").mean())
        )
        self.assertGreater(float(self.rh(sheeted, "main/below").mean()), dry)

    def test_bare_earth_gives_off_at_its_own_face(self) -> None:
        """Every hour: area times (saturation at the face less the air's vapour), over film and crust."""
        made = building_year(state(), shipped("corrie"))
        void = made.ids.index("main/below")
        earth = next(i for i, key in enumerate(made.chain_keys) if key.startswith("main/below:earth floor"))
        year = made.year
        face = np.asarray(saturation_pressure(year.inner_face_c[earth] + ZERO_CELSIUS))
        air = year.rh[void] * np.asarray(saturation_pressure(year.celsius[void] + ZERO_CELSIUS))
        area = made.state.spaces[made.ids[1:].index("main/below")].area("earth floor")
        by_hand = 3600.0 * area / (1.0 / VAPOUR_FILM + BARE_EARTH_SD_M / DELTA_AIR) * (face - air)
        np.testing.assert_allclose(year.wet_kg_h[0], by_hand, rtol=1e-9, atol=1e-9)
        self.assertGreater(float(year.wet_kg_h[0].sum()), 100.0)

    def test_a_floors_own_end_has_the_air_that_the_balance_gives_its_void(self) -> None:
        """One rule: bare earth at its own face against the air that is changed. By the month within 15 points of the building's year, whose void has skins and leaks of
        its own, and of the same season; by the hour by hand."""
        house = state()
        for name in ("corrie", "tarn", "millrace"):
            climate = shipped(name)
            made = building_year(house, climate)
            number = made.ids.index("main/below")
            b = space_losses(house)["main/below"].b
            floor = Place(kind="floor", adjoining="unheated", factor_b=b, slope_deg=0, climate=name)
            case = model_of(BuildUp(layers=[BuildUpLayer(id="b", material="oak_floor", thickness_mm=22)]), floor).case
            begins = first_hour(case.time.start)
            series = np.roll(build_boundary(case).series[: climate.hours, 0, :, 0], begins, axis=0)
            kelvin, pressure = series[:, 0], series[:, 3]
            rh = pressure / np.asarray(saturation_pressure(kelvin))
            by_month = zip(monthly(rh), monthly(made.year.rh[number]), strict=True)
            with self.subTest(name):
                self.assertLess(max(abs(a - b) for a, b in by_month), 0.15)
        out = climate["relative_humidity"] * np.asarray(saturation_pressure(climate["temperature_c"] + ZERO_CELSIUS))
        soil = ground_temperature_c(climate, 1.0, 7e-7) + ZERO_CELSIUS
        face = (kelvin / 0.17 + soil * 2.0) / (1.0 / 0.17 + 2.0)
        gives, takes = 1.0 / (1.0 / VAPOUR_FILM + 0.3 / DELTA_AIR), 1.5 * 0.5 / 3600.0 / (461.5 * kelvin)
        by_hand = (takes * out + gives * np.asarray(saturation_pressure(face))) / (takes + gives)
        np.testing.assert_allclose(pressure, np.minimum(by_hand, np.asarray(saturation_pressure(kelvin))), rtol=2e-3)

    def test_an_attic_may_frost_on_every_slope(self) -> None:
        made = building_year(state(), shipped("tarn"))
        roofs = [key for key in made.chain_keys if key.startswith("main/attic:roof")]
        self.assertEqual(len(roofs), 2)
        self.assertLess(made.year.water_closure, 1e-6)


class AskedAndTaken(TestCase):
    def test_what_the_brief_names_is_asked_until_it_is_stated(self) -> None:
        brief = Brief(appliances="wood stove in the hall", fans="hood over the range")
        asked = [one.metric for one in brief_asks(brief, AirStated())]
        self.assertEqual(len(asked), 2)
        self.assertIn("wood stove in the hall", asked[0])
        stated = AirStated.model_validate({"ventilation": {"open_flue": True, "kitchen_fan_m3_h": 200}})
        self.assertEqual(brief_asks(brief, stated), [])
        self.assertEqual(brief_asks(Brief(), AirStated()), [])
        self.assertEqual(
            brief_asks(Brief(appliances="None.", fans="none"), AirStated()), [], "asked, and there is none"
        )

    def test_what_is_taken_of_the_earth_is_said(self) -> None:
        void, below = (taken_of_spaces(one) for one in (state(), cellar()))
        self.assertIn("bare earth, no sheet on it, no ground water", void[0].metric)
        self.assertIn("a slab or sheet on its earth", below[0].metric)
        damp = taken_of_spaces(replace(cellar(), damp=(DampGround("main/below", "", 1.0, "standing water"),)))
        self.assertNotIn("ground water", damp[0].metric)
        sheet = AirStated.model_validate({"spaces": [{"id": "main/below", "sheet": True}]})
        self.assertNotIn("earth", taken_of_spaces(replace(state(), stated=sheet))[0].metric)

    def test_another_plant_is_priced_by_what_it_runs_on(self) -> None:
        same = Energy(carrier="oil", price_kwh=0.1, carbon_kg_kwh=0.27)
        self.assertEqual((same.another_plant, same.price_after, same.carbon_after), (False, 0.1, 0.27))
        pump = same.model_copy(update={"efficiency_after": 2.8})
        self.assertEqual((pump.another_plant, pump.price_after, pump.carbon_after), (True, None, None))
        named = pump.model_copy(
            update={"carrier_after": "electricity", "price_after_kwh": 0.26, "carbon_after_kg_kwh": 0.16}
        )
        self.assertEqual((named.price_after, named.carbon_after), (0.26, 0.16))
        wood = same.model_copy(update={"carrier_after": "wood"})
        self.assertEqual((wood.another_plant, wood.price_after), (True, None))

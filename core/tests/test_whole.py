"""A building put together: needs against hand arithmetic, balances, and what sealing, glass, roofs and warmer rooms do."""

from __future__ import annotations

from dataclasses import replace
from typing import Any
from unittest import TestCase

import numpy as np

from core.air_flow.ledger import LeakPlace, ledger
from core.buildup.model import BuildUp
from core.climate.data import shipped
from core.errors import OutOfRange
from core.survey.cold import cold_spaces
from core.survey.geometry import derive
from core.survey.shape import Shape
from core.thermal.iso13370 import GroundPlace, slab_heat
from core.zones.assemble import (
    HOUSE,
    Part,
    State,
    building_year,
    vent_changes,
    vent_flow,
    virtual_ground_c,
    with_airing,
)
from core.zones.monthly import capacity, monthly_need, utilisation
from core.zones.stated import AirStated, SpaceStated, vapour_kg_day

SHAPE = Shape.model_validate(
    {
        "areas": "external",
        "bodies": [
            {
                "id": "main",
                "name": "House",
                "outline": [(0, 0), (10, 0), (10, 8), (0, 8)],
                "level_m": 0.5,
                "below": "void",
                "below_height_m": 0.5,
                "storeys": [{"name": "ground floor", "height_m": 2.6}],
                "roof": {"form": "gable", "pitch_deg": 40.0},
            }
        ],
        "openings": [
            {"id": "w", "name": "Windows", "body": "main", "face": "a", "count": 4, "width_m": 1.2, "height_m": 1.3}
        ],
    }  # fmt: skip
)


def layers(*rows: tuple[str, float]) -> BuildUp:
    return BuildUp.model_validate(
        {"layers": [{"id": str(i), "material": m, "thickness_mm": t} for i, (m, t) in enumerate(rows)]}
    )


STONE = layers(("sandstone_rubble", 500), ("lime_plaster", 20))
CEILING = layers(("softwood", 25), ("lath_plaster", 20))
FLOOR = layers(("softwood", 25))
INSULATED = layers(("mineral_fibre_035", 300), ("softwood", 25), ("lath_plaster", 20))


def state(
    after: bool = False, target: float | None = None, ceiling: BuildUp = CEILING, glass: float = 5.0, **stated: Any
) -> State:
    building = derive(SHAPE)
    spaces = cold_spaces(SHAPE, building)
    of = {key: space.id for space in spaces for key in space.borders}
    made = {"main/ceiling": ceiling, "main/floor": FLOOR}
    parts, places = [], []
    for entry in building.elements:
        side = of.get(entry.key, entry.adjoining)
        glazed = entry.kind == "window"
        parts.append(
            Part(
                entry.key,
                entry.name,
                entry.kind,
                side,
                entry.net_area_m2,
                entry.facing_deg,
                entry.slope_deg,
                None if glazed else made.get(entry.key, STONE),
                glass if glazed else None,
                0.6 if glazed else None,
            )  # fmt: skip
        )
        guess = {"window": "old window", "roof": "plaster ceiling", "floor": "board floor"}.get(
            entry.kind, "plastered masonry"
        )
        height = {"main/ceiling": 3.1, "main/floor": 0.5}.get(entry.key, 1.8)
        facing = None if entry.kind in ("roof", "floor") else entry.facing_deg
        places.append(
            LeakPlace(entry.key, entry.name, guess, entry.net_area_m2, height, facing, entry.kind == "roof", side)
        )
    total = 10.0 * building.volume_m3
    made_ledger = ledger(places, [], total, total if target is None else target * building.volume_m3)
    return State(
        parts, spaces, made_ledger, after, AirStated.model_validate(stated), building.volume_m3, building.floor_area_m2, 20.0, "sand or gravel",
    )  # fmt: skip


class Whole(TestCase):
    def test_gains_and_losses_add_up_to_the_need(self) -> None:
        made = building_year(state(), shipped("corrie"))
        year = made.year
        self.assertLess(year.heat_closure, 1e-6)
        self.assertLess(year.water_closure, 1e-6)
        house = [i for i, chain in enumerate(made.chain_keys) if ":" not in chain]
        into = year.by_chain_w[house].sum() + sum(
            year.by_flow_w[i].sum()
            for i, key in enumerate(made.flow_keys)
            if key in ("leaks", "airing", "balanced") or key.endswith(":down")
        )
        need = -(into + made.solar_w.sum() + made.inner_w.sum())
        self.assertAlmostEqual(
            year.heating_w[HOUSE].sum() / need, 1.0, delta=2e-3, msg="what is stored over a year is next to nothing"
        )
        self.assertEqual(made.ids, ["house", "main/attic", "main/below"])
        self.assertTrue(10_000 < made.heating_kwh < 60_000, made.heating_kwh)

    def test_the_ground_gives_the_flow_of_iso_13370_in_each_month(self) -> None:
        climate = shipped("corrie")
        place = GroundPlace(area_m2=80.0, perimeter_m=36.0)
        heat = slab_heat(place, 1.0)
        outer = virtual_ground_c(climate, heat, 20.0)
        mean = float(climate["temperature_c"].mean())
        self.assertAlmostEqual(
            heat.steady * (20.0 - outer.mean()), heat.steady * (20.0 - mean), delta=0.01 * heat.steady * (20.0 - mean)
        )
        self.assertLess(outer[:1400].mean(), outer[4300:5700].mean())

    def test_sealing_lowers_the_need_and_raises_the_humidity(self) -> None:
        climate = shipped("corrie")
        before, after = (building_year(state(after=True, target=target), climate) for target in (10.0, 1.5))
        self.assertLess(after.heating_kwh, before.heating_kwh - 1000.0)
        winter = slice(0, 59 * 24)
        self.assertGreater(after.year.rh[HOUSE, winter].mean(), before.year.rh[HOUSE, winter].mean() + 0.05)
        more = building_year(with_airing(state(after=True, target=1.5), 80.0), climate)
        self.assertLess(more.year.rh[HOUSE, winter].mean(), after.year.rh[HOUSE, winter].mean())
        self.assertGreater(more.heating_kwh, after.heating_kwh)

    def test_an_insulated_leaky_ceiling_cools_the_attic_and_wets_its_deck(self) -> None:
        climate = shipped("tarn")
        before, after = building_year(state(), climate), building_year(state(ceiling=INSULATED), climate)
        attic = before.ids.index("main/attic")
        winter = slice(0, 59 * 24)
        self.assertLess(after.year.celsius[attic, winter].mean(), before.year.celsius[attic, winter].mean())
        self.assertGreater(after.year.rh[attic, winter].mean(), before.year.rh[attic, winter].mean())
        self.assertLess(after.heating_kwh, before.heating_kwh)

    def test_warmer_rooms_take_back_some_and_a_unit_gives_it_back(self) -> None:
        climate = shipped("corrie")
        usual = building_year(state(), climate)
        warmer = building_year(state(use={"heat_to_c": 21.5}), climate)
        self.assertTrue(1.03 < warmer.heating_kwh / usual.heating_kwh < 1.25)
        aired = building_year(state(ventilation={"airing_m3_h": 120.0}), climate)
        unit = building_year(state(ventilation={"airing_m3_h": 20.0, "balanced_m3_h": 100.0}), climate)
        self.assertLess(unit.heating_kwh, aired.heating_kwh)
        self.assertAlmostEqual(
            float(unit.fresh_m3_h().mean()),
            float(aired.fresh_m3_h().mean()),
            delta=0.15 * float(aired.fresh_m3_h().mean()),
        )

    def test_a_dark_bare_roof_over_a_room_sets_the_cooling_peak(self) -> None:
        climate = shipped("millrace")
        stated = {"use": {"cool_to_c": 24.0}, "ventilation": {"summer_airing_m3_h": 20.0}}
        base = state(**stated)
        roof = [
            Part(
                f"roof{f}",
                "roof",
                "roof",
                "outside",
                50.0,
                float(f),
                35.0,
                layers(("softwood", 25), *rows),
                absorptance=0.9,
            )
            for f in (90, 270)
            for rows in ((),)
        ]
        better = [replace(p, build_up=layers(("softwood", 25), ("mineral_fibre_035", 200))) for p in roof]
        others = [p for p in base.parts if p.key != "main/ceiling"]
        bare, insulated = (building_year(replace(base, parts=[*others, *slopes]), climate) for slopes in (roof, better))
        self.assertGreater(bare.cooling_peak_w, 1.3 * insulated.cooling_peak_w)
        self.assertGreater(insulated.cooling_kwh, 0.0)
        self.assertGreaterEqual(insulated.latent_kwh, 0.0)

    def test_what_gives_off_vapour_is_told_piece_by_piece(self) -> None:
        rows = vapour_kg_day(AirStated().use)
        self.assertAlmostEqual(
            sum(kg for _, kg in rows), 3 * 15 * 0.05 + 1.5 + 3 * 0.35 + 3 * 2.0 / 7 + 5 * 0.08, places=9
        )
        made = building_year(state(), shipped("corrie"))
        self.assertTrue(np.all(made.year.rh <= 1.0 + 1e-9) and np.all(made.year.rh > 0.0))


class ByMonths(TestCase):
    def test_utilisation_factor(self) -> None:
        self.assertAlmostEqual(utilisation(0.5, 3.0), 0.875 / 0.9375, places=12)
        self.assertEqual(utilisation(0.0, 3.0), 1.0)
        self.assertAlmostEqual(utilisation(1.0 + 1e-7, 2.0), 2.0 / 3.0, places=6)
        self.assertLess(utilisation(1e4, 5.0) * 1e4, 1.0 + 1e-9, "never more gained than is lost")
        self.assertAlmostEqual(utilisation(1e250, 9.0) * 1e250, 1.0, places=9, msg="where hardly anything is lost")
        with self.assertRaises(OutOfRange):
            utilisation(-0.1, 3.0)

    def test_mass_of_the_rooms_side_ends_at_insulation(self) -> None:
        self.assertAlmostEqual(capacity(STONE), capacity(layers(("sandstone_rubble", 80), ("lime_plaster", 20))))
        lined = layers(("sandstone_rubble", 500), ("mineral_fibre_035", 100), ("lime_plaster", 20))
        self.assertAlmostEqual(capacity(lined), capacity(layers(("lime_plaster", 20))))

    def test_months_agree_with_hours_where_nothing_needs_hours(self) -> None:
        """The two share weather, air and gains; the monthly one leaves out the sun on what is opaque."""
        climate = shipped("corrie")
        for made in (state(), state(after=True, target=200.0, ceiling=INSULATED, glass=1.0)):
            hourly = building_year(made, climate)
            monthly = monthly_need(hourly, climate)
            self.assertLess(abs(monthly.heating_kwh / hourly.heating_kwh - 1.0), 0.12)
            for gains, losses, eta, need in zip(
                monthly.gains_kwh, monthly.losses_kwh, monthly.eta, monthly.need_kwh, strict=True
            ):
                self.assertAlmostEqual(need, max(losses - eta * gains, 0.0) if losses > 0.0 else 0.0, places=9)


class Vents(TestCase):
    def test_flow_by_openings_near_iso_13370_and_by_the_stack(self) -> None:
        climate = shipped("corrie")
        void = next(space for space in state().spaces if space.kind == "void")
        area = 0.0015 * void.perimeter_m
        stated = SpaceStated(id=void.id, vents_m2=area)
        outside = climate["temperature_c"]
        flow = vent_flow(void, stated, climate, outside, 0.5) / 1.2
        wind = float(climate["wind_speed_m_s"].mean())
        iso = 1450.0 * area * wind * 0.05 / (0.33 * 2.0)  # 1450 ε v f_w / B′ on the floor, as a flow of outside air
        self.assertLess(abs(float(flow.mean()) / iso - 1.0), 0.35)
        season = vent_changes(void, stated, wind, 0.5) * void.volume_m3
        self.assertLess(abs(float(flow.mean()) / season - 1.0), 0.15)
        high = SpaceStated(id=void.id, vents_m2=area, vents_apart_m=4.0)
        warm = vent_flow(void, high, climate, outside + 10.0, 0.5)
        self.assertGreater(float(warm.mean()), float(vent_flow(void, stated, climate, outside + 10.0, 0.5).mean()))
        self.assertEqual(
            float(vent_flow(void, SpaceStated(id=void.id, vents_m2=0.0), climate, outside, 0.5).max()), 0.0
        )

    def test_more_vents_bring_a_void_nearer_to_outside(self) -> None:
        climate = shipped("corrie")

        def winter(vents: float) -> float:
            made = state()
            void = next(space for space in made.spaces if space.kind == "void")
            stated = made.stated.model_copy(update={"spaces": [SpaceStated(id=void.id, vents_m2=vents)]})
            year = building_year(replace(made, stated=stated), climate)
            return float(year.year.celsius[year.ids.index(void.id)][: 31 * 24].mean())

        closed, usual, wide = (winter(vents) for vents in (0.0, 0.05, 1.0))
        self.assertGreater(closed, usual)
        self.assertGreater(usual, wide)
        self.assertGreater(wide, float(climate["temperature_c"][: 31 * 24].mean()) - 0.5)

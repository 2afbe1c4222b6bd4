"""The balance of a building and its rooms: at the API, as a window asks for them."""

from __future__ import annotations

import csv
import io
import json
from typing import Any

from core.climate.data import shipped
from core.climate.sun import radiation_on_face
from core.physics.constants import AIR_WH_M3K
from core.readiness.reason import Pin
from server.projects.models import Element, HistoryEntry, Project, Scheme
from server.survey.models import Evidence
from server.tests.test_building import Built, carried


class BalanceOfABuilding(Built):
    def test_needs_spaces_and_warnings(self) -> None:
        vent = {"open_flue": True, "kitchen_fan_m3_h": 400, "radon": True, "airing_m3_h": 0}
        self.ask("PUT", f"{self.path}/air", {"after": True, "air": {"ventilation": vent, "use": {"people": 5}}})
        out = self.ask("GET", f"{self.path}/balance")
        before, after = out["before"], out["after"]
        self.assertLess(after["heating_kwh"], before["heating_kwh"])
        self.assertEqual([z["id"] for z in after["zones"]], ["house", "main/attic", "main/below"])
        for side in (before, after):
            self.assertLess(max(side["closure"], side["water_closure"]), 1e-6)
            need = -sum(item["kwh"] for item in side["items"])
            self.assertAlmostEqual(side["heating_kwh"] - side["cooling_kwh"], need, delta=0.01 * side["heating_kwh"])
        words = " ".join(w["metric"] for w in out["warnings"])
        for part in ("Too little fresh air", "open-flued appliance", "It may spill its gases", "Radon"):
            self.assertIn(part, words)

    def test_bills_are_set_against_the_need_and_never_tuned(self) -> None:
        need = self.ask("GET", f"{self.path}/balance")["before"]["heating_kwh"]
        days = [900, 760, 640, 420, 220, 90, 30, 60, 190, 420, 640, 860]
        share = need / 0.8 / sum(days)
        bills = [
            {"month": m + 1, "kwh": 200 + share * d * (1.0 + 0.01 * (-1) ** m), "degree_days": d}
            for m, d in enumerate(days)
        ]
        energy = {"efficiency_before": 0.8, "price_kwh": 0.1, "currency": "GBP", "bills": bills, "carbon_kg_kwh": 0.25}
        out = self.ask("PUT", f"{self.path}/energy", {"energy": energy})
        fit = out["fit"]
        self.assertAlmostEqual(fit["slope_kwh_kd"] / share, 1.0, delta=0.03)
        self.assertAlmostEqual(fit["base_kwh_month"], 200, delta=60)
        self.assertTrue(fit["low_kwh"] < fit["heating_kwh"] < fit["high_kwh"])
        self.assertEqual(out["before"]["heating_kwh"], need)
        self.assertAlmostEqual(out["running"]["cost_before"], need / 0.8 * 0.1, places=4)
        few = self.ask("PUT", f"{self.path}/energy", {"energy": {**energy, "bills": bills[:2]}})
        self.assertEqual((few["fit"], "four or more" in few["no_fit"]), (None, True))

    def test_another_plant_has_its_own_price(self) -> None:
        energy = {"carrier": "oil", "efficiency_before": 0.8, "efficiency_after": 3.0, "price_kwh": 0.1}
        out = self.ask("PUT", f"{self.path}/energy", {"energy": energy})["running"]
        self.assertEqual((out["another_plant"], out["cost_after"]), (True, None))
        named = {**energy, "carrier_after": "electricity", "price_after_kwh": 0.3}
        out = self.ask("PUT", f"{self.path}/energy", {"energy": named})["running"]
        self.assertAlmostEqual(out["cost_after"], out["fuel_after_kwh"] * 0.3)

    def test_standing_water_makes_the_space_below_damp_until_it_is_closed(self) -> None:
        def below() -> tuple[float, float, list[str]]:
            out = self.ask("GET", f"{self.path}/balance")
            found, after = (
                next(z for z in out[side]["zones"] if z["id"] == "main/below") for side in ("before", "after")
            )
            return sum(found["rh"]) / 12, sum(after["rh"]) / 12, [w["metric"] for w in out["warnings"]]

        dry, _, words = below()
        self.assertFalse(any("standing water" in one.lower() for one in words))
        floor = self.project.elements.get(shape_key="main/floor")
        pin = {"kind": "standing_water", "side": "inside", "size_m2": 20, "place": {"view": "plan", "body": "main"}}
        row = Evidence.objects.create(
            project=self.project, element=floor, uid="water1234", pin=Pin.model_validate(pin).model_dump(mode="json")
        )
        wet, after, words = below()
        self.assertGreater(wet, dry + 0.03)
        self.assertTrue(any(one.startswith("Standing water in void under") for one in words), words)
        item = row.water_items.create(project=self.project, uid="drain1234", stage="ground", title="Drain")
        self.assertAlmostEqual(below()[1], after, places=9, msg="an open item changes nothing")
        item.close("I. Marr", None)
        item.save()
        found, closed, words = below()
        self.assertAlmostEqual(found, wet, places=9)
        self.assertLess(closed, after - 0.02)
        self.assertTrue(any("its water items are closed" in one for one in words))
        row.confirm("plumbing", "a pipe", "I. Marr")
        row.save()
        self.assertAlmostEqual(below()[0], dry, places=9, msg="another cause than the ground")

    def test_frost_at_the_footing_as_found_and_after(self) -> None:
        known = self.ask("GET", f"{self.path}/footing")
        self.assertAlmostEqual(known["before"]["wall_m"], 0.3)
        self.assertLess(known["after"]["inside_c"], 20, "behind it lies the void")
        after = {**known["after"], "inside_c": 2.0, "skirt_m": 0}
        out = self.ask(
            "POST", f"{self.path}/footing", {"before": {**known["before"], "inside_c": 12.0}, "after": after}
        )
        rows = {row["name"]: row for row in out["rows"]}
        self.assertLess(rows["after, no snow"]["coldest_c"], rows["as found, no snow"]["coldest_c"])
        self.assertGreater(rows["after, snow lies"]["coldest_c"], rows["after, no snow"]["coldest_c"])
        skirted = self.ask(
            "POST", f"{self.path}/footing", {"before": after, "after": {**after, "skirt_m": 1.2, "skirt_r": 2.5}}
        )
        self.assertGreater(skirted["rows"][2]["coldest_c"], skirted["rows"][0]["coldest_c"] + 0.3)
        self.assertIn("undisturbed ground stays frozen here", skirted["note"]["metric"])

    def test_nothing_to_reckon_with_is_said(self) -> None:
        other = self.ask("POST", "/api/projects", {"name": "Empty"}, 201)["id"]
        out = self.ask("GET", f"/api/projects/{other}/balance")
        self.assertIsNone(out["before"])
        self.assertIn("State shape or volume", out["refused"])
        self.ask("POST", f"/api/projects/{other}/air/within", {"most_rh": 0.5}, 422)

    def test_lists_of_leaks_and_balance_add_up(self) -> None:
        for key, column, total in (("leaks", 2, 9 * self.project.volume_m3), ("balance", 1, None)):  # type: ignore[operator]
            answer = self.client.get(f"{self.path}/lists/{key}/csv")
            self.assertEqual(answer.status_code, 200, answer.content[:300])
            rows = list(csv.reader(io.StringIO(answer.content.decode("utf-8-sig"))))
            figures = [float(row[column]) for row in rows[1:] if row[column]]
            if total is not None:
                self.assertTrue(any(abs(sum(figures[:k]) - total) < 1.0 for k in range(1, len(figures) + 1)))


class RoomByRoom(Built):
    def test_rooms_out_of_the_shape_and_back(self) -> None:
        found = self.ask("GET", f"{self.path}/rooms/proposal")
        self.assertEqual([room["name"] for room in found["rooms"]], ["House, ground floor"])
        began = self.ask("GET", f"{self.path}/rooms")["stated"]
        room = {**found["rooms"][0], "use": "bedroom", "people": 2}
        stated = {
            "rooms": {"rooms": [room], "design_c": -12},
            "air_found": [],
            "air_after": [{"id": room["id"], "supply_m3_h": 60}],
        }
        made = self.ask("PUT", f"{self.path}/rooms", {"stated": stated, "began": began})
        before, after = made["before"], made["after"]
        self.assertEqual((before["left"], before["loads"]["design_c"]), ([], -12))
        self.assertLess(after["loads"]["watts"], before["loads"]["watts"])
        self.assertEqual(after["loads"]["supplied_m3_h"], 60)
        self.assertEqual(self.project.current_air.rooms, [], "as found there is no unit")
        self.assertEqual(self.scheme.current_air.rooms[0].supply_m3_h, 60)
        loads = after["loads"]["rooms"][0]
        self.assertGreater(loads["fresh_m3_h"], before["loads"]["rooms"][0]["fresh_m3_h"])
        self.ask("PUT", f"{self.path}/rooms", {"stated": stated, "began": began}, 409)
        other = Scheme.objects.create(project=self.project, name="other", position=9)
        self.ask("PUT", f"{self.path}/shown-scheme", {"scheme_id": other.pk})
        fan = {"id": room["id"], "extract_m3_h": 40}
        self.ask("PUT", f"{self.path}/rooms", {"stated": {**stated, "air_found": [fan], "air_after": []}})
        self.assertEqual(self.project.current_air.rooms[0].extract_m3_h, 40)
        self.assertEqual(self.scheme.current_air.rooms, [], "after the works there is no fan any more")
        twice = {**stated, "rooms": {"rooms": [room, room]}}
        self.ask("PUT", f"{self.path}/rooms", {"stated": twice}, 422)
        self.assertTrue(HistoryEntry.objects.filter(action="change rooms").exists())
        copy = carried(self.owner, self.project)
        self.assertEqual(copy.current_rooms, self.project.current_rooms)
        listed = self.client.get(f"{self.path}/lists/rooms")
        self.assertEqual(listed.status_code, 200, listed.content[:300])
        self.assertIn("House, ground floor", listed.content.decode())

    def test_an_attic_taken_in_is_a_room_after_the_works_only(self) -> None:
        self.move("attic", True)
        self.state_all()
        found = self.ask("GET", f"{self.path}/rooms/proposal")["rooms"]
        self.assertEqual(
            [(room["name"], room["stands"]) for room in found],
            [("House, ground floor", "both"), ("House, attic", "after")],
        )
        made = self.ask("PUT", f"{self.path}/rooms", {"stated": {"rooms": {"rooms": found}}})
        self.assertEqual(len(made["before"]["loads"]["rooms"]), 1)
        self.assertEqual(len(made["after"]["loads"]["rooms"]), 2)
        self.assertEqual([load["unknown"] for load in made["after"]["loads"]["rooms"]], [[], []])
        self.assertTrue(made["moved"])


class Cooled(Built):
    """*Cooled in summer* is one statement of walls and building, with a room table and its cost."""

    def setUp(self) -> None:
        super().setUp()
        Project.objects.filter(pk=self.pk).update(climate="millrace")
        glass = {
            "name": "South windows", "kind": "window", "area_m2": 6.0, "facing_deg": 180.0, "u_w_m2k": 1.3, "g_value": 0.5,
        }  # fmt: skip
        self.ask("POST", f"{self.path}/elements", glass, 201)

    def state(self, after: bool = True, **use: Any) -> Any:
        return self.ask("PUT", f"{self.path}/air", {"after": after, "air": {"use": use}})

    def test_the_air_of_the_building_and_the_years_of_its_walls_say_the_same(self) -> None:
        self.assertEqual(self.project.occupancy, "normal")
        self.assertEqual(self.ask("GET", f"{self.path}/balance")["before"]["cooling_kwh"], 0.0)
        self.state(cool_to_c=25.0)
        self.assertEqual(self.project.occupancy, "cooled")
        wall = Element.objects.get(project_id=self.pk, shape_key="main/a")
        self.assertEqual(wall.place.occupancy, "cooled")
        entry = HistoryEntry.objects.filter(action="change air").latest("at")
        self.assertIn("the walls run cooled in summer", entry.what)
        balance = self.ask("GET", f"{self.path}/balance")
        self.assertGreater(balance["after"]["cooling_kwh"], 50.0)
        self.assertGreater(balance["before"]["cooling_kwh"], 50.0, "one statement: the rooms are cooled")
        self.state()
        self.assertEqual(self.project.occupancy, "normal")

    def test_what_the_survey_says_of_the_walls_cools_the_building_too(self) -> None:
        Project.objects.filter(pk=self.pk).update(occupancy="cooled")
        balance = self.ask("GET", f"{self.path}/balance")
        self.assertGreater(balance["after"]["cooling_kwh"], 50.0)
        self.assertIn("cooled to 23 °C, as the walls run", balance["assumed"][0]["metric"])
        self.state(cool_to_c=26.0)
        warmer = self.ask("GET", f"{self.path}/balance")
        self.assertLess(warmer["after"]["cooling_kwh"], balance["after"]["cooling_kwh"])
        self.assertNotIn("as the walls run", json.dumps(warmer["assumed"]))

    def test_another_air_that_somebody_chose_for_the_walls_stays(self) -> None:
        Project.objects.filter(pk=self.pk).update(occupancy="high")
        self.state(cool_to_c=25.0)
        self.assertEqual(self.project.occupancy, "high")

    def test_it_costs_what_its_electricity_costs(self) -> None:
        self.state(cool_to_c=25.0)
        energy = {"cooling_efficiency": 2.5, "cooling_price_kwh": 0.3, "cooling_carbon_kg_kwh": 0.2, "currency": "EUR"}
        made = self.ask("PUT", f"{self.path}/energy", {"energy": energy})
        cooling, after = made["running"]["cooling"], made["after"]
        self.assertAlmostEqual(cooling["after_kwh"], (after["cooling_kwh"] + after["latent_kwh"]) / 2.5)
        self.assertAlmostEqual(cooling["cost_after"], 0.3 * cooling["after_kwh"])
        self.assertAlmostEqual(cooling["carbon_after_kg"], 0.2 * cooling["after_kwh"])
        self.state()
        self.assertIsNone(self.ask("GET", f"{self.path}/balance")["running"]["cooling"])

    def test_each_room_has_its_cooling(self) -> None:
        """By hand for one room with one window: sun, warmth through it, appliances, people; the most of the year."""
        rows = self.ask("GET", f"{self.path}/air")["rows"]
        window = next(row["key"] for row in rows if row["name"] == "South windows")
        room = {
            "id": "sun",
            "name": "Sun room",
            "floor_m2": 12.0,
            "people": 2.0,
            "faces": [{"key": window, "area_m2": 6.0}],
        }
        made = self.ask("PUT", f"{self.path}/rooms", {"stated": {"rooms": {"rooms": [room]}}})
        self.assertIsNone(made["after"]["loads"]["rooms"][0]["cooling_w"])
        self.state(cool_to_c=25.0)
        load = self.ask("GET", f"{self.path}/rooms")["after"]["loads"]["rooms"][0]
        climate = shipped("millrace")
        warmer = climate["temperature_c"] - 25.0
        sun = radiation_on_face(climate, 180.0, 90.0, 0.2)
        air = AIR_WH_M3K * (load["leaks_in"] + 20.0) * warmer  # all of the usual airing is of the one room
        by_hand = 2 * 80.0 + 2.4 * 12.0 + 6.0 * (0.7 * 0.5 * 0.9 * sun + 1.3 * warmer) + air
        self.assertAlmostEqual(load["cooling_w"], float(by_hand.max()), delta=0.1)


class WhichIsWhich(Built):
    def test_each_peak_and_each_year_is_the_one_of_its_sheet(self) -> None:
        self.ask("PUT", f"{self.path}/rooms", {"stated": {"rooms": self.ask("GET", f"{self.path}/rooms/proposal")}})
        rows = {row["name"]: row for row in self.ask("GET", f"{self.path}/which-figures")}
        heat, balance = self.ask("GET", f"{self.path}/heat"), self.ask("GET", f"{self.path}/balance")
        rooms = self.ask("GET", f"{self.path}/rooms")
        summed = rooms["after"]["loads"]["watts"] + sum(one["watts"] for one in rooms["after"]["left"])
        for name, after in (
            ("Design load", heat["total"]["after_w"]),
            ("Sum of the rooms", summed),
            ("Most heat in one hour", balance["after"]["heating_peak_w"]),
            ("Loss in a year", heat["total"]["after_kwh"]),
            ("Heat needed in a year", balance["after"]["heating_kwh"]),
            ("Fuel in a year", balance["running"]["fuel_after_kwh"]),
        ):
            with self.subTest(name):
                self.assertAlmostEqual(rows[name]["after"], after)
                self.assertTrue(rows[name]["why"]["metric"])
        self.assertEqual([name for name, row in rows.items() if row["sizes"]], ["Sum of the rooms"])
        self.ask("PUT", f"{self.path}/rooms", {"stated": {"rooms": {"rooms": []}}})
        without = {row["name"]: row for row in self.ask("GET", f"{self.path}/which-figures")}
        self.assertIsNone(without["Sum of the rooms"]["after"])

"""The heated line, the air, the ledger, joints and stages: at the API, as a window asks for them."""

from __future__ import annotations

from typing import Any
from unittest.mock import patch

import numpy as np
from django.contrib.auth.models import User
from django.test import TestCase

from core.assembly.to_case import model_of
from core.climate.data import shipped
from core.moisture.transient.airflow import leak_flow
from core.say import said
from core.study import Condition
from server.exchange.bring import import_file
from server.exchange.write import write
from server.heat.figures import air_of, heat, states
from server.projects.models import ClimateFile, Element, HistoryEntry, Option, Project, Scheme
from server.runs.conditions import OptionStands, StandsOn
from server.runs.models import Batch
from server.states.state import shown_of
from server.survey.models import Measurement
from server.tests.helpers import client_of, corrie, person, send

BODY: dict[str, Any] = {
    "id": "main", "name": "House", "outline": [[0, 0], [10, 0], [10, 8], [0, 8]], "level_m": 0.5, "below": "void", "below_height_m": 0.5,
    "storeys": [{"name": "ground floor", "height_m": 2.6}], "roof": {"form": "gable", "pitch_deg": 40.0},
}  # fmt: skip
SHAPE: dict[str, Any] = {"areas": "external", "bodies": [BODY]}
STONE = [
    {"id": "a", "material": "sandstone_rubble", "thickness_mm": 500, "existing": True},
    {"id": "b", "material": "lime_plaster", "thickness_mm": 20, "existing": True},
]
BOARDS = [{"id": "a", "material": "softwood", "thickness_mm": 25, "existing": True}]


def carried(owner: User, project: Project) -> Project:
    """The project out of its own file."""
    with write(project) as stream:
        return import_file(owner, stream, stream.seek(0, 2))


class Built(TestCase):
    """A project made from nothing: a shape, layers by kind, n50 typed."""

    def setUp(self) -> None:
        self.owner = person("owner")
        self.client = client_of(self.owner)
        body = {"name": "Byre", "climate": "tarn", "air_kind": "n50", "air_value": 9, "air_value_after": 2}
        self.pk = self.ask("POST", "/api/projects", body, 201)["id"]
        self.ask("PUT", f"{self.path}/shape", {"revision": None, "shape": SHAPE})
        self.state_all()

    @property
    def path(self) -> str:
        return f"/api/projects/{self.pk}"

    @property
    def project(self) -> Project:
        return Project.objects.get(pk=self.pk)

    @property
    def scheme(self) -> Scheme:
        return self.project.shown_scheme()

    def ask(self, method: str, path: str, body: Any = None, status: int = 200) -> Any:
        answer = self.client.get(path) if method == "GET" else send(self.client, method, path, body)
        self.assertEqual(answer.status_code, status, answer.content[:600])
        return answer.json()

    def state_all(self) -> None:
        for element in Element.objects.filter(project_id=self.pk):
            if element.has_build_up and not element.as_found.current.is_stated:
                layers = STONE if element.kind == "wall" else BOARDS
                Option.objects.filter(pk=element.as_found.pk).update(build_up={"layers": layers})

    def move(self, space: str, inside: bool, status: int = 200) -> Any:
        move = {"move": {"body": "main", "space": space, "inside": inside}}
        return self.ask("POST", f"/api/schemes/{self.scheme.pk}/line", move, status)


class Line(Built):
    def test_the_attic_taken_in_makes_elements_that_begin_with_the_works(self) -> None:
        before = self.ask("GET", f"{self.path}/heat")
        self.assertEqual((before["missing"], before["line"]["moved"]), ([], []))
        found = self.move("attic", True)
        self.assertEqual(found["moved"], ["attic of House: taken in"])
        stands = {d["element"]["key"]: d["stands"] for d in found["derived"]}
        self.assertEqual((stands["main/ceiling"], stands["main/roof/a"], stands["main/b"]), ("before", "after", "both"))
        roof = Element.objects.get(project_id=self.pk, shape_key="main/roof/a")
        self.assertTrue(roof.from_shape is not None and roof.from_shape.only_after)
        moved = self.ask("GET", f"{self.path}/heat")
        self.assertEqual(len(moved["missing"]), 2, "the slopes are not stated yet")
        self.assertIsNone(moved["line"]["like_for_like_w_k"])
        self.assertEqual(moved["total"]["before_w_k"], before["total"]["before_w_k"])
        self.state_all()
        after = self.ask("GET", f"{self.path}/heat")
        rows = {row["name"]: row for row in after["rows"]}
        ceiling = next(row for name, row in rows.items() if "ceiling" in name)
        self.assertEqual((ceiling["stands"], ceiling["after_w_k"]), ("before", 0.0))
        was = next(r for r in before["rows"] if "ceiling" in r["name"])
        self.assertLess(
            abs(ceiling["before_w_k"] / was["before_w_k"] - 1.0), 0.1, "the attic under slopes that are stated now"
        )
        gable = next(
            row
            for row in after["rows"]
            if row["element_id"] == Element.objects.get(project_id=self.pk, shape_key="main/b").pk
        )
        self.assertAlmostEqual(gable["area_after_m2"] - gable["area_m2"], 8 * 4 * 0.8390996 / 2, places=4)
        line = after["line"]
        self.assertGreater(line["volume_after_m3"], line["volume_before_m3"])
        like = sum(
            r["area_after_m2"] * r["u_before"] * r["factor_after"] for r in after["rows"] if r["area_m2"] is not None
        )
        air = next(row for row in after["rows"] if row["kind"] == "air")
        self.assertAlmostEqual(
            line["like_for_like_w_k"],
            like + air["before_w_k"] * line["volume_after_m3"] / line["volume_before_m3"],
            places=5,
        )
        self.assertAlmostEqual(sum(row["after_w_k"] for row in after["rows"]), after["total"]["after_w_k"], places=6)
        self.assertTrue(
            HistoryEntry.objects.filter(action="move line", what__contains="attic of House: taken in").exists()
        )

    def test_the_sheet_of_options_loses_what_heat_says(self) -> None:
        slab = {**BODY, "id": "wing", "name": "Wing", "outline": [[10, 0], [16, 0], [16, 5], [10, 5]], "below": "slab"}
        now = self.ask("GET", f"{self.path}/shape")
        shape = {**SHAPE, "bodies": [BODY, slab]}
        self.ask("PUT", f"{self.path}/shape", {"revision": now["revision"], "shape": shape})
        self.state_all()
        keys = ("main/floor", "main/ceiling", "wing/floor", "main/b")
        for key in keys:
            element = Element.objects.get(project_id=self.pk, shape_key=key)
            warm = {"id": "w", "material": "wood_fibre_batt", "thickness_mm": 100, "existing": False}
            built = element.as_found.build_up
            option = Option.objects.create(
                element=element,
                role=Option.UPGRADE,
                name="warm",
                position=1,
                build_up={"layers": [*built["layers"], warm]},
            )
            self.ask("PUT", f"/api/elements/{element.pk}/choice", {"option_id": option.pk, "reason": "warm enough"})
        rows = {row["element_id"]: row for row in self.ask("GET", f"{self.path}/heat")["rows"]}
        for key in keys:
            element = Element.objects.get(project_id=self.pk, shape_key=key)
            row = rows[element.pk]
            found, option = self.ask("GET", f"/api/elements/{element.pk}/sheet")["options"]
            for shown, when in ((found, "before"), (option, "after")):
                loss = row[f"{when}_kwh"] / row["area_m2"]
                self.assertAlmostEqual(shown["figures"]["loss_kwh_m2a"], loss, places=6, msg=f"{key}, {when}")
                self.assertEqual(shown["figures"]["outward"] is None, key == "main/b")
        self.assertGreater(
            rows[Element.objects.get(shape_key="main/ceiling").pk]["factor_after"],
            rows[Element.objects.get(shape_key="main/ceiling").pk]["factor_b"],
            "the warmer the ceiling, the colder the attic",
        )

    def test_a_strip_along_the_edge_of_a_slab_is_of_the_state_it_is_stated_in(self) -> None:
        now = self.ask("GET", f"{self.path}/shape")
        shape = {**SHAPE, "bodies": [{**BODY, "below": "slab"}]}
        self.ask("PUT", f"{self.path}/shape", {"revision": now["revision"], "shape": shape})
        self.state_all()
        floor = Element.objects.get(project_id=self.pk, shape_key="main/floor")
        air = self.ask("GET", f"{self.path}/air")
        self.assertEqual([f["key"] for f in air["floors"]], ["main/floor"])
        before = self.ask("GET", f"{self.path}/balance")
        strip = {"upright": True, "reach_m": 0.8, "thickness_m": 0.1, "conductivity_w_mk": 0.036}
        stated = {**air["after"]["stated"], "edges": [{"key": "main/floor", "strip": strip}]}
        self.ask("PUT", f"{self.path}/air", {"after": True, "air": stated, "began": air["after"]["stated"]})
        row = next(r for r in self.ask("GET", f"{self.path}/heat")["rows"] if r["element_id"] == floor.pk)
        self.assertLess(row["u_after"], row["u_before"] - 0.02)
        self.assertIn("vertical edge insulation", row["note"]["metric"])
        after = self.ask("GET", f"{self.path}/balance")
        self.assertEqual(after["before"]["heating_kwh"], before["before"]["heating_kwh"])
        self.assertLess(after["after"]["heating_kwh"], before["after"]["heating_kwh"] - 50.0)
        twice = {**stated, "edges": stated["edges"] * 2}
        self.ask("PUT", f"{self.path}/air", {"after": True, "air": twice, "began": None}, 422)

    def test_left_out_again_nothing_is_kept_and_empty_elements_go(self) -> None:
        self.move("attic", True)
        self.assertTrue(Element.objects.filter(shape_key="main/roof/a").exists())
        self.move("attic", False)
        self.assertEqual(self.scheme.changes, {})
        self.assertFalse(Element.objects.filter(shape_key="main/roof/a").exists())

    def test_the_shape_of_a_scheme_is_drawn_and_told_when_somebody_was_faster(self) -> None:
        path = f"/api/schemes/{self.scheme.pk}/shape"
        seen = self.ask("GET", path)
        wing = {**BODY, "id": "wing", "name": "Wing", "outline": [[10, 0], [14, 0], [14, 5], [10, 5]], "below": "slab"}
        drawn = {**seen["shape"], "bodies": [BODY, wing]}
        preview = self.ask("POST", f"{path}/preview", {"shape": drawn})
        self.assertEqual(preview["moved"], ["Wing: new"])
        self.assertEqual(self.scheme.changes, {})
        self.ask("PUT", path, {"revision": seen["revision"], "shape": drawn})
        late = self.ask("PUT", path, {"revision": seen["revision"], "shape": seen["shape"]}, 409)
        self.assertEqual(late["code"], "changed_meanwhile")
        self.assertEqual(self.scheme.current_changes.bodies[0].id, "wing")
        self.move("below", True)
        self.assertEqual(Element.objects.get(project_id=self.pk, shape_key="main/floor/ground").adjoining, "ground")

    def test_a_correction_of_the_survey_goes_through_and_another_scheme_is_as_found(self) -> None:
        self.move("attic", True)
        larger = {**BODY, "outline": [[0, 0], [12, 0], [12, 8], [0, 8]]}
        self.ask("PUT", f"{self.path}/shape", {"revision": None, "shape": {**SHAPE, "bodies": [larger]}})
        roof = Element.objects.get(project_id=self.pk, shape_key="main/roof/a")
        self.assertAlmostEqual(roof.area_m2, 12 * 4 / 0.7660444, places=3)
        other = self.ask("POST", f"{self.path}/schemes", {"name": "Deep"}, 201)["schemes"][-1]["id"]
        self.ask("PUT", f"{self.path}/shown-scheme", {"scheme_id": other})
        self.assertEqual(self.ask("GET", f"{self.path}/heat")["line"]["moved"], [])

    def test_what_does_not_fit_is_refused_and_changes_nothing(self) -> None:
        flat = {**BODY, "roof": {"form": "flat", "pitch_deg": 0}}
        self.ask("PUT", f"{self.path}/shape", {"revision": None, "shape": {**SHAPE, "bodies": [flat]}})
        self.assertIn("no attic", self.move("attic", True, 422)["message"])
        self.assertEqual(self.scheme.changes, {})

    def test_the_house_draws_both_lines(self) -> None:
        self.move("attic", True)
        found = self.ask("GET", f"{self.path}/house?after=true")
        names = {(s["space"], s["inside"], s["inside_before"]) for s in found["line"]["spaces"]}
        self.assertIn(("attic", True, False), names)
        self.assertTrue(any("roof" in b["kind"] for b in found["bands"]))
        self.assertNotEqual(found["line"]["before"], found["line"]["after"])
        as_found = self.ask("GET", f"{self.path}/house")
        self.assertFalse(any(b["kind"] == "roof" for b in as_found["bands"]))

    def test_the_stair_moves_the_line_in_its_phase(self) -> None:
        self.move("attic", True)
        self.state_all()
        phases = {"revision": self.scheme.revision, "phases": [{"name": "one"}, {"name": "two"}]}
        made = self.ask("PUT", f"/api/schemes/{self.scheme.pk}/phases", phases)["schemes"][0]["phases"]
        last = made[1]["w_k"]
        early = self.ask("PUT", f"/api/schemes/{self.scheme.pk}/line-phase", {"phase_id": made[0]["id"]})
        stair = early["schemes"][0]["phases"]
        self.assertIn("attic of House: taken in", stair[0]["elements"])
        self.assertAlmostEqual(stair[1]["w_k"], last, places=6)
        self.assertNotAlmostEqual(stair[0]["w_k"], made[0]["w_k"], places=1)


class Air(Built):
    def air(self) -> Any:
        return self.ask("GET", f"{self.path}/air")

    def change(self, after: bool = False, status: int = 200, **parts: Any) -> Any:
        return self.ask("PUT", f"{self.path}/air", {"after": after, "air": parts}, status)

    def test_the_ledger_adds_up_and_every_leak_has_its_height_and_side(self) -> None:
        air = self.air()
        total = 9 * self.project.volume_m3  # type: ignore[operator]
        self.assertAlmostEqual(sum(row["q50_before"] for row in air["rows"]), total, places=3)
        self.assertAlmostEqual(sum(row["q50_after"] for row in air["rows"]), 2 * total / 9, places=3)
        rows = {row["key"]: row for row in air["rows"]}
        self.assertEqual(
            (rows["main/ceiling"]["to"], rows["main/floor"]["to"], rows["main/a"]["to"]),
            ("main/attic", "main/below", "outside"),
        )
        self.assertGreater(rows["main/ceiling"]["height_m"], rows["main/a"]["height_m"])
        self.assertGreater(rows["main/ceiling"]["out_before"], rows["main/ceiling"]["in_before"])
        self.assertGreater(rows["main/floor"]["in_before"], rows["main/floor"]["out_before"])
        moved_in = sum(row["in_before"] for row in air["rows"])
        self.assertAlmostEqual(moved_in, sum(row["out_before"] for row in air["rows"]), delta=0.01 * moved_in)

    def test_what_is_typed_stays_and_what_cannot_add_up_is_refused(self) -> None:
        rows = {row["key"]: row for row in self.change(ledger=[{"key": "main/ceiling", "q50_m3_h": 500}])["rows"]}
        self.assertEqual((rows["main/ceiling"]["q50_before"], rows["main/ceiling"]["typed"]), (500, True))
        refused = self.change(ledger=[{"key": "main/ceiling", "q50_m3_h": 50000}], status=422)
        self.assertIn("more than", refused["message"])
        self.assertEqual(self.project.current_air.ledger[0].q50_m3_h, 500, "what was refused changed nothing")
        left = {
            row["key"]: row for row in self.change(after=True, ledger=[{"key": "main/ceiling", "left": 0.05}])["rows"]
        }
        self.assertAlmostEqual(left["main/ceiling"]["q50_after"], 25.0)
        late = {"after": False, "air": {}, "began": {"use": {"people": 9}}}
        self.assertEqual(self.ask("PUT", f"{self.path}/air", late, 409)["code"], "changed_meanwhile")

    def test_three_tests_in_a_line(self) -> None:
        test = self.ask("GET", f"{self.path}/gauge")["test"]
        for number, (stage, scale) in enumerate((("as found", 1.0), ("during the works", 0.5), ("at the end", 0.2))):
            points = [{**p, "flow_m3_h": p["flow_m3_h"] * scale} for p in test["points"]]
            body = {
                "kind": "blower_door",
                "stage": stage,
                "measured_on": f"2026-0{number + 3}-01",
                "blower_door": {**test, "points": points},
            }
            self.ask("PUT", f"{self.path}/measurements/door-000{number}", body)
        air = self.air()
        self.assertEqual([t["stage"] for t in air["tests"]], ["as found", "during the works", "at the end"])
        self.assertAlmostEqual(sum(r["q50_before"] for r in air["rows"]), air["tests"][0]["q50_m3_h"], places=3)
        self.assertAlmostEqual(sum(r["q50_after"] for r in air["rows"]), air["tests"][2]["q50_m3_h"], places=3)
        self.assertIn("blower door at the end", air["whence"])

    def test_the_walls_take_their_share_and_what_was_chosen_by_hand_stays(self) -> None:
        wall = Element.objects.get(project_id=self.pk, shape_key="main/a")
        hand = Element.objects.get(project_id=self.pk, shape_key="main/b").as_found
        hand.build_up = {**hand.build_up, "air_leak": {"preset": "leaky"}}
        hand.save()
        made = self.ask(
            "POST", f"/api/elements/{wall.pk}/options", {"name": "Same", "build_up": {"layers": STONE}}, 201
        )
        changed = self.ask("POST", f"{self.path}/air/take-leaks")["changed"]
        self.assertGreater(changed, 3)
        row = next(r for r in self.air()["rows"] if r["key"] == "main/a")
        found, option = wall.as_found.current.air_leak, Option.objects.get(pk=made["id"]).current.air_leak
        self.assertAlmostEqual(found.q50_m3_m2h or 0.0, row["q50_before"] / row["area_m2"], delta=0.01)
        self.assertAlmostEqual(option.q50_m3_m2h or 0.0, row["q50_after"] / row["area_m2"], delta=0.01)
        self.assertTrue(found.from_ledger and found.above_neutral_m is not None)
        self.assertEqual(Option.objects.get(pk=hand.pk).current.air_leak.preset, "leaky")
        self.check_one_physics(wall, row["q50_before"])
        self.assertEqual(self.ask("POST", f"{self.path}/air/take-leaks")["changed"], 0, "taken twice nothing changes")

    def test_a_leak_that_is_closed_for_good_is_taken_too(self) -> None:
        """Nothing is left of it after the works: its options leak nothing, as found it has its share."""
        wall = Element.objects.get(project_id=self.pk, shape_key="main/a")
        body = {"name": "Same", "build_up": {"layers": STONE}}
        made = self.ask("POST", f"/api/elements/{wall.pk}/options", body, 201)
        self.change(after=True, ledger=[{"key": "main/a", "left": 0.0}])
        self.assertGreater(self.ask("POST", f"{self.path}/air/take-leaks")["changed"], 3)
        self.assertEqual(Option.objects.get(pk=made["id"]).current.air_leak.preset, "none")
        self.assertTrue(Element.objects.get(pk=wall.pk).as_found.current.air_leak.from_ledger)

    def check_one_physics(self, wall: Element, q50: float) -> None:
        """What the wall's case lets out in the cold is what the ledger's year has at its highest part, for each m²."""
        state = states(shown_of(self.project))[0]
        year = air_of(state, self.project.climate)
        assert year is not None
        index = max(
            (i for i, leak in enumerate(year.leaks) if leak.key == "main/a"), key=lambda i: year.leaks[i].height_m
        )
        climate = shipped(self.project.climate)
        cold = climate["temperature_c"] < 10.0
        case = model_of(wall.as_found.current, wall.place, "as found").case
        leak = case.air.leaks[0].by_stack_and_wind
        assert leak is not None
        flow = leak_flow(
            leak, np.full(climate.hours, state.heat_to_c + 273.15), climate["temperature_c"] + 273.15, climate["wind_speed_m_s"], climate["wind_direction_deg"]
        )  # fmt: skip
        stated = np.maximum(-year.flows[index], 0.0)[cold].mean() / year.leaks[index].q50_m3_h
        made = 3600.0 * np.maximum(flow, 0.0)[cold].mean() / leak.q50_m3_m2h
        self.assertAlmostEqual(made / stated, 1.0, delta=0.01)
        self.assertEqual(leak.wind_factor, state.wind_factor)

    def test_the_rooms_air_becomes_what_the_walls_run_with(self) -> None:
        self.ask("POST", f"{self.path}/air/take-house-air", {"after": True})
        series = shipped(self.project.occupancy)
        self.assertIn("computed", series.origin)
        self.assertEqual(series.hours, 8760)
        self.assertEqual(Element.objects.filter(project_id=self.pk)[0].place.profile, "measured")
        again = carried(self.owner, self.project)
        self.assertEqual(again.occupancy, self.project.occupancy)

    def test_elements_run_with_the_air_of_the_space_they_face(self) -> None:
        ceiling = Element.objects.get(project_id=self.pk, shape_key="main/ceiling")
        wall = Element.objects.get(project_id=self.pk, shape_key="main/a")
        layers = [*BOARDS, {"id": "q", "material": "mineral_fibre_035", "thickness_mm": 200}]
        made = self.ask(
            "POST", f"/api/elements/{ceiling.pk}/options", {"name": "Quilt", "build_up": {"layers": layers}}, 201
        )
        keys = {
            o["id"]: o["figures"]["case_hash"] for o in self.ask("GET", f"/api/elements/{ceiling.pk}/sheet")["options"]
        }
        self.assertEqual(self.ask("POST", f"{self.path}/air/take-space-air")["changed"], 2)
        ceiling.refresh_from_db()
        self.assertNotEqual(ceiling.beside_found, ceiling.beside_after)
        now = {
            o["id"]: o["figures"]["case_hash"] for o in self.ask("GET", f"/api/elements/{ceiling.pk}/sheet")["options"]
        }
        self.assertTrue(all(now[pk] != key for pk, key in keys.items()), "their years are out of date")
        self.assertEqual(Element.objects.get(pk=wall.pk).beside_found, "")
        sides = [
            getattr(model_of(option.current, ceiling.place, new=new).case.outside, "measured", None)
            for option, new in ((ceiling.as_found, False), (Option.objects.get(pk=made["id"]), True))
        ]
        self.assertEqual(sides, [ceiling.beside_found, ceiling.beside_after])
        colder, before = (
            shipped(name)["temperature_c"][:1400].mean() for name in (ceiling.beside_after, ceiling.beside_found)
        )
        self.assertLess(colder, before + 0.5)
        again = carried(self.owner, self.project)
        self.assertEqual(again.elements.get(shape_key="main/ceiling").beside_after, ceiling.beside_after)
        row = ClimateFile.objects.get(name=ceiling.beside_after)
        self.ask("DELETE", f"/api/climates/{row.pk}", None, 409)

    def test_airing_that_keeps_an_rh_is_the_least(self) -> None:
        self.change(after=True, use={"people": 6, "laundry_week": 14}, ventilation={"airing_m3_h": 5})
        found = self.ask("POST", f"{self.path}/air/within", {"most_rh": 0.45})
        self.assertGreater(found["airing_m3_h"], 5)
        self.assertLessEqual(found["rh"], 0.45 + 1e-9)
        self.assertGreater(found["more_kwh"], 0)
        for airing, keeps in ((found["airing_m3_h"], True), (found["airing_m3_h"] - 3, False)):
            self.change(after=True, use={"people": 6, "laundry_week": 14}, ventilation={"airing_m3_h": airing})
            rh = self.ask("GET", f"{self.path}/balance")["after"]["coldest_rh"]
            self.assertEqual(rh <= 0.45 + 1e-6, keeps, (airing, rh))
        self.change(after=True, use={"people": 6, "other_kg_day": 400})
        refused = self.ask("POST", f"{self.path}/air/within", {"most_rh": 0.3}, 422)
        self.assertIn("no airing up to", refused["message"])

    def test_a_tightness_is_tried_and_nothing_kept(self) -> None:
        before = self.project.changed_at
        loose, tight = (self.ask("POST", f"{self.path}/air/try", {"n50": n}) for n in (6, 1))
        self.assertLess(tight["heating_kwh"], loose["heating_kwh"])
        self.assertGreater(tight["rh"], loose["rh"])
        self.assertLess(tight["fresh_m3_h"], loose["fresh_m3_h"])
        self.assertEqual(self.project.changed_at, before)
        order = [step["key"] for step in tight["order"]]
        self.assertLess(
            order.index("main/ceiling"), order.index("main/floor"), "the top first: it wets and dries nothing"
        )
        self.assertTrue(any(step["waits"] for step in tight["order"]), "nobody looked at the water of the floor yet")

    def test_without_a_test_the_air_says_what_is_missing(self) -> None:
        Project.objects.filter(pk=self.pk).update(air_value=None)
        air = self.air()
        self.assertEqual(air["rows"], [])
        self.assertIn("add a blower-door test", air["refused"])
        self.assertIn("Air: state volume and air changes in Survey", self.ask("GET", f"{self.path}/heat")["missing"])
        self.ask("POST", f"{self.path}/air/try", {"n50": 3}, 422)


class InTheFile(TestCase):
    def test_line_air_energy_and_stages_are_carried(self) -> None:
        owner = person("owner")
        project = corrie(owner)
        scheme = project.shown_scheme()
        client = client_of(owner)
        move = {"move": {"body": project.current_shape.bodies[0].id, "space": "below", "inside": True}}
        self.assertEqual(send(client, "POST", f"/api/schemes/{scheme.pk}/line", move).status_code, 200)
        path = f"/api/projects/{project.pk}"
        send(client, "PUT", f"{path}/air", {"after": False, "air": {"use": {"people": 7}}})
        send(client, "PUT", f"{path}/air", {"after": True, "air": {"ventilation": {"balanced_m3_h": 90}}})
        send(client, "PUT", f"{path}/energy", {"energy": {"carrier": "oil"}})
        Measurement.objects.filter(project=project, kind="blower_door").update(stage="at the end")
        again = carried(owner, Project.objects.get(pk=project.pk))
        self.assertEqual(again.shown_scheme().current_changes, Scheme.objects.get(pk=scheme.pk).current_changes)
        self.assertEqual(
            (again.current_air.use.people, again.shown_scheme().current_air.ventilation.balanced_m3_h), (7, 90)
        )
        self.assertEqual(again.current_energy.carrier, "oil")
        self.assertEqual({m.stage for m in again.measurements.filter(kind="blower_door")}, {"at the end"})
        first, second = heat(Project.objects.get(pk=project.pk)), heat(again)
        self.assertAlmostEqual(first.total.after_w_k, second.total.after_w_k, places=6)


class JointsAndLimits(Built):
    def test_the_ledger_is_shared_over_joints_when_asked(self) -> None:
        air = self.ask("GET", f"{self.path}/air")
        self.assertFalse(any(row["key"].startswith("joint:") for row in air["rows"]))
        began = air["before"]["stated"]
        made = self.ask("PUT", f"{self.path}/air", {"after": False, "air": {**began, "joints": True}, "began": began})
        joints = {row["key"]: row for row in made["rows"] if row["key"].startswith("joint:")}
        self.assertEqual(set(joints), {"joint:main/foot", "joint:main/eaves"})
        self.assertAlmostEqual(
            sum(row["q50_before"] for row in made["rows"]), sum(row["q50_before"] for row in air["rows"]), places=6
        )
        self.assertIsNone(joints["joint:main/eaves"]["element_id"])
        line = {"key": "joint:main/eaves", "left": 0.1}
        stated = {**made["after"]["stated"], "ledger": [line]}
        after = self.ask("PUT", f"{self.path}/air", {"after": True, "air": stated, "began": None})
        row = next(row for row in after["rows"] if row["key"] == "joint:main/eaves")
        self.assertAlmostEqual(row["q50_after"], 0.1 * row["q50_before"])

    def test_what_a_chosen_wall_stands_to_is_held_against_the_rooms(self) -> None:
        """A study of which some draws failed: the end within which all stood is the limit of the rooms."""
        wall = Element.objects.get(project_id=self.pk, shape_key="main/a")
        option = Option.objects.create(
            element=wall, role=Option.UPGRADE, name="lined", position=1, build_up=wall.as_found.build_up
        )
        self.ask("PUT", f"/api/elements/{wall.pk}/choice", {"option_id": option.pk, "reason": "x"})
        self.assertEqual(self.ask("GET", f"{self.path}/air")["limits"], [])
        stands = Condition("indoor moisture", True, 0.02, 12, said("stands"), False, 47.0, "%", "logger")
        tight = Condition("air leakage", True, 1.5, 12, said("stands"), True, 1.5, "m³/(h m²)", "blower door")
        low = Condition("indoor moisture", False, 0.02, 12, said("stands"), False, 30.0, "%", "logger")
        known = [
            OptionStands(
                option_id=pk, option="", runs=20, over=8, out_of_date=False,
                stands=[StandsOn(condition=one, check=None, holds=None) for one in (stands, tight, low)],
            )
            for pk in (option.pk, option.pk + 1)
        ]  # fmt: skip
        Batch.objects.create(element=wall, option=option, kind=Batch.STUDY, settings={})
        with patch("server.heat.air.conditions_of", return_value=known):
            made = self.ask("GET", f"{self.path}/air")
        self.assertEqual(
            [(one["what"], one["most"], one["tried"]) for one in made["limits"]],
            [("rooms", 47.0, False), ("leakage", 1.5, True)],
        )
        row = next(row for row in made["rows"] if row["key"] == "main/a")
        self.assertAlmostEqual(made["limits"][1]["now"], row["q50_after"] / row["area_m2"])
        self.assertTrue(10.0 < made["limits"][0]["now"] < 90.0)


class BetweenPhases(Built):
    def test_the_last_stage_is_the_building_after_the_works_and_leaks_go_with_their_elements(self) -> None:
        phases = [
            {"name": "Roof", "starts_on": "2027-05-01", "years_after": 2},
            {"name": "Walls", "starts_on": "2029-05-01"},
        ]
        made = self.ask(
            "PUT", f"/api/schemes/{self.scheme.pk}/phases", {"revision": self.scheme.revision, "phases": phases}
        )
        ids = [phase["id"] for phase in next(s for s in made["schemes"] if s["id"] == self.scheme.pk)["phases"]]
        for key, phase in (("main/ceiling", ids[0]), ("main/a", ids[1]), ("main/c", ids[1])):
            element = Element.objects.get(project_id=self.pk, shape_key=key)
            warm = {"id": "w", "material": "wood_fibre_batt", "thickness_mm": 150, "existing": False}
            layers = [*element.as_found.build_up["layers"], warm]
            option = Option.objects.create(
                element=element, role=Option.UPGRADE, name="warm", position=1, build_up={"layers": layers}
            )
            self.ask("PUT", f"/api/elements/{element.pk}/choice", {"option_id": option.pk, "reason": "warm"})
            self.ask("PUT", f"/api/elements/{element.pk}/phase", {"phase_id": phase})
        found, roof, walls = self.ask("GET", f"{self.path}/stages")["stages"]
        whole = self.ask("GET", f"{self.path}/balance")
        self.assertAlmostEqual(found["heating_kwh"], whole["before"]["heating_kwh"], places=6)
        self.assertAlmostEqual(walls["heating_kwh"], whole["after"]["heating_kwh"], places=6)
        self.assertGreater(found["heating_kwh"] - roof["heating_kwh"], 500)
        self.assertGreater(roof["heating_kwh"] - walls["heating_kwh"], 500)
        rows = {row["key"]: row for row in self.ask("GET", f"{self.path}/air")["rows"]}
        volume = self.ask("GET", f"{self.path}/air")["before"]["volume_m3"]
        ceiling = rows["main/ceiling"]
        saved = ceiling["q50_before"] - ceiling["q50_after"]
        self.assertAlmostEqual(found["n50"] - roof["n50"], saved / volume, places=6)
        self.assertAlmostEqual(walls["n50"], 2.0, places=6)
        self.assertEqual([stage["measured_n50"] for stage in (found, roof, walls)], [None] * 3)

    def test_the_line_moves_in_its_phase(self) -> None:
        phases = [{"name": "Attic", "starts_on": "2027-05-01"}, {"name": "Walls", "starts_on": "2029-05-01"}]
        made = self.ask(
            "PUT", f"/api/schemes/{self.scheme.pk}/phases", {"revision": self.scheme.revision, "phases": phases}
        )
        first = next(s for s in made["schemes"] if s["id"] == self.scheme.pk)["phases"][0]["id"]
        self.move("attic", True)
        self.state_all()
        self.ask("PUT", f"/api/schemes/{self.scheme.pk}/line-phase", {"phase_id": first})
        found, attic, walls = self.ask("GET", f"{self.path}/stages")["stages"]
        self.assertNotAlmostEqual(found["heating_kwh"], attic["heating_kwh"], delta=50)
        whole = self.ask("GET", f"{self.path}/balance")
        self.assertAlmostEqual(walls["heating_kwh"], whole["after"]["heating_kwh"], places=6)

"""A house whose attic, void and an added part come into the heated line: every view, list and report follows it."""

from __future__ import annotations

import copy
import io
import json
from typing import Any

from pypdf import PdfReader

from server.api import api
from server.dossier import lists
from server.dossier.asked import Asked, Kind
from server.dossier.documents import DOCUMENTS, write
from server.dossier.gather import Gathered
from server.dossier.lacks import missing
from server.projects.models import Element, Option
from server.survey.models import Measurement
from server.tests.test_building import BODY, Built

WING = {
    **BODY,
    "id": "wing",
    "name": "Wing",
    "outline": [[10, 0], [15, 0], [15, 6], [10, 6]],
    "below": "slab",
    "roof": {"form": "flat"},
}
PORCH = {
    **BODY,
    "id": "porch",
    "name": "Porch",
    "outline": [[0, 8], [4, 8], [4, 11], [0, 11]],
    "below": "slab",
    "roof": {"form": "flat"},
}
WARM = {"id": "w", "material": "wood_fibre_batt", "thickness_mm": 120, "existing": False}
NOT_OF_THE_SCHEME = ("/schemes", "/shape", "/history", "/file")  # tell of every scheme, or of the building as found


def words_of(kind: Kind, g: Gathered) -> str:
    out = io.BytesIO()
    write(g, Asked(kind), out)
    return " ".join(" ".join(page.extract_text().split()) for page in PdfReader(out).pages)


class TheLineMoved(Built):
    def setUp(self) -> None:
        super().setUp()
        mine = self.scheme.pk
        other = self.ask("POST", f"{self.path}/schemes", {"name": "Porch only"}, 201)["schemes"][-1]["id"]
        self.ask("PUT", f"{self.path}/shown-scheme", {"scheme_id": other})
        self.draw(other, [BODY, PORCH])
        self.ask("PUT", f"{self.path}/shown-scheme", {"scheme_id": mine})
        self.draw(mine, [BODY, WING])
        for space in ("attic", "below"):
            self.move(space, True)
        self.state_all()
        for key in ("main/a", "main/roof/a", "main/ceiling", "main/floor", "wing/c"):
            self.choose(key)

    def draw(self, scheme: int, bodies: list[dict[str, Any]]) -> None:
        path = f"/api/schemes/{scheme}/shape"
        seen = self.ask("GET", path)
        self.ask("PUT", path, {"revision": seen["revision"], "shape": {**seen["shape"], "bodies": bodies}})

    def element(self, key: str) -> Element:
        return Element.objects.get(project_id=self.pk, shape_key=key)

    def choose(self, key: str) -> None:
        element = self.element(key)
        layers = [*copy.deepcopy(element.as_found.build_up["layers"]), WARM]
        option = Option.objects.create(
            element=element, role=Option.UPGRADE, name="warm", position=1, build_up={"layers": layers}
        )
        self.ask("PUT", f"/api/elements/{element.pk}/choice", {"option_id": option.pk, "reason": "warm enough"})

    def of(self, after: bool) -> set[str]:
        """Names of the elements of one line."""
        left = "before" if after else "after"
        rows = self.project.here(list(self.project.elements.all()))
        return {row.name for row in rows if row.in_line not in (None, left)}

    def test_what_another_scheme_brings_is_in_no_view(self) -> None:
        porch = [row.name for row in self.project.elements.all() if row.shape_key.startswith("porch/")]
        self.assertGreaterEqual(len(porch), 5)
        looked_at = 0
        for path, methods in api.get_openapi_schema()["paths"].items():
            if "get" not in methods or path.count("{") != 1 or "{project_id}" not in path:
                continue
            if any(path.endswith(end) for end in NOT_OF_THE_SCHEME):
                continue
            answer = self.client.get(path.replace("{project_id}", str(self.pk)))
            if answer.get("Content-Type", "").split(";")[0] != "application/json":
                continue
            looked_at += answer.status_code == 200
            told = json.dumps({**answer.json(), "history": []} if isinstance(answer.json(), dict) else answer.json())
            self.assertNotIn("Porch, ", told, path)
            for name in porch:
                self.assertNotIn(json.dumps(name), told, path)
        self.assertGreaterEqual(looked_at, 14)
        g = Gathered(self.project)
        for key in lists.LISTS:
            for row in lists.list_of(g, key).rows:
                self.assertFalse({str(cell) for cell in row} & set(porch), key)

    def test_losses_and_leaks_are_of_the_elements_of_each_line_and_of_no_other(self) -> None:
        heat, air = self.ask("GET", f"{self.path}/heat"), self.ask("GET", f"{self.path}/air")
        self.assertEqual(heat["missing"], [])
        for after, when in ((False, "before"), (True, "after")):
            told = {row["name"] for row in heat["rows"] if row["element_id"] and row[f"{when}_w_k"] > 0.0}
            self.assertEqual(told, self.of(after))
            leaking = {row["name"] for row in air["rows"] if row[f"q50_{when}"] > 0.0}
            self.assertEqual(leaking, self.of(after))
            self.assertAlmostEqual(
                sum(row[f"{when}_w_k"] for row in heat["rows"]), heat["total"][f"{when}_w_k"], places=6
            )
            flows = [sum(row[f"{way}_{when}"] for row in air["rows"]) for way in ("in", "out")]
            self.assertAlmostEqual(flows[0], flows[1], delta=0.02 * flows[0], msg=when)

    def test_the_sums_are_of_the_volume_of_their_line(self) -> None:
        air, heat = self.ask("GET", f"{self.path}/air"), self.ask("GET", f"{self.path}/heat")
        line = heat["line"]
        self.assertGreater(line["volume_after_m3"], 1.4 * line["volume_before_m3"])
        for when, n50 in (("before", 9.0), ("after", 2.0)):
            volume = line[f"volume_{when}_m3"]
            self.assertAlmostEqual(air[when]["volume_m3"], volume)
            self.assertAlmostEqual(air[when]["n50"], n50)
            self.assertAlmostEqual(sum(row[f"q50_{when}"] for row in air["rows"]), n50 * volume, places=4)
        rows = {row["name"]: row for row in self.ask("GET", f"{self.path}/rooms")["bounds"]}
        self.assertTrue(self.of(True) <= set(rows))
        balance = self.ask("GET", f"{self.path}/balance")
        self.assertEqual(
            (balance["floor_before_m2"], balance["floor_after_m2"]), (line["floor_before_m2"], line["floor_after_m2"])
        )
        self.assertEqual(balance["left_out"], [])

    def test_the_air_moves_with_the_line_between_higher_and_lower_leaks(self) -> None:
        air = self.ask("GET", f"{self.path}/air")
        rows = {row["key"]: row for row in air["rows"]}
        self.assertEqual({rows[key]["stands"] for key in ("main/ceiling", "main/floor")}, {"before"})
        self.assertEqual({rows[key]["stands"] for key in ("main/roof/a", "wing/c", "main/floor/ground")}, {"after"})
        self.assertEqual(rows["main/a"]["stands"], "both")
        self.assertEqual(rows["main/roof/a"]["to"], "outside")
        self.assertGreater(rows["main/roof/a"]["height_m"], rows["main/a"]["height_m"] + 2.0)
        self.assertGreater(rows["main/roof/a"]["out_after"], rows["main/roof/a"]["in_after"])
        self.assertEqual((rows["main/ceiling"]["in_after"], rows["main/ceiling"]["out_after"]), (0.0, 0.0))
        self.assertNotAlmostEqual(air["before"]["neutral_m"], air["after"]["neutral_m"], places=1)
        order = {step["key"] for step in self.ask("POST", f"{self.path}/air/try", {"n50": 3.0, "left": []})["order"]}
        self.assertIn("main/roof/a", order)
        self.assertFalse(order & {"main/ceiling", "main/floor"}, "what is gone is not sealed")

    def test_the_rules_of_a_new_row(self) -> None:
        """What comes in leaks as the house does by its test where it stands already, by its kind alone where it is built new."""
        rows = {row["key"]: row for row in self.ask("GET", f"{self.path}/air")["rows"]}
        self.assertAlmostEqual(rows["wing/c"]["q50_open"] / rows["wing/c"]["area_m2"], 1.5)
        as_tested = rows["main/b"]["q50_before"] / rows["main/b"]["area_before_m2"] / 1.5
        slope = rows["main/roof/a"]
        self.assertAlmostEqual(slope["q50_open"] / slope["area_m2"], 6.0 * as_tested)
        grown = rows["main/b"]["area_m2"] / rows["main/b"]["area_before_m2"]
        self.assertAlmostEqual(rows["main/b"]["q50_open"], grown * rows["main/b"]["q50_before"])
        self.assertNotAlmostEqual(grown, 1.0, places=1)

    def test_walls_take_the_leak_of_the_line_they_stand_in(self) -> None:
        self.ask("POST", f"{self.path}/air/take-leaks")
        rows = {row["key"]: row for row in self.ask("GET", f"{self.path}/air")["rows"]}
        slope, ceiling = self.element("main/roof/a"), self.element("main/ceiling")
        option = slope.options.get(role=Option.UPGRADE).current.air_leak
        row = rows["main/roof/a"]
        self.assertAlmostEqual(option.q50_m3_m2h or 0.0, row["q50_after"] / row["area_m2"], delta=0.01)
        self.assertGreater(slope.as_found.current.air_leak.q50_m3_m2h or 0.0, option.q50_m3_m2h or 0.0)
        gone = ceiling.options.get(role=Option.UPGRADE).current.air_leak
        was = rows["main/ceiling"]
        self.assertAlmostEqual(gone.q50_m3_m2h or 0.0, was["q50_before"] / was["area_before_m2"], delta=0.01)

    def test_a_test_is_set_against_the_line_it_was_measured_in(self) -> None:
        points = [
            {"pressure_pa": p, "flow_m3_h": 40.0 * p**0.65, "direction": "depressurise"} for p in (20, 30, 40, 50, 60)
        ]
        rows = []
        for number, stage in enumerate(("as found", "at the end")):
            body = {
                "kind": "blower_door",
                "stage": stage,
                "measured_on": "2026-05-01",
                "blower_door": {"points": points},
            }
            self.ask("PUT", f"{self.path}/measurements/door-000{number}", body)
        page = self.ask("GET", f"{self.path}/measurements")["measurements"]
        rows = {row["stage"]: row for row in page}
        line = self.ask("GET", f"{self.path}/heat")["line"]
        for stage, when in (("as found", "before"), ("at the end", "after")):
            self.assertAlmostEqual(rows[stage]["volume_m3"], line[f"volume_{when}_m3"])
            result = rows[stage]["airtightness"]
            self.assertAlmostEqual(result["n50"]["value"], result["q50"]["value"] / line[f"volume_{when}_m3"])
        here = {row.name: row for row in self.project.here(list(self.project.elements.all()))}
        envelope = sum(here[name].area_built_m2 for name in self.of(True))
        at_the_end = rows["at the end"]["airtightness"]
        self.assertAlmostEqual(at_the_end["q_envelope_50"]["value"], at_the_end["q50"]["value"] / envelope, places=6)
        tests = {test["stage"]: test["n50"] for test in self.ask("GET", f"{self.path}/air")["tests"]}
        self.assertAlmostEqual(tests["at the end"], at_the_end["n50"]["value"])
        self.assertEqual(Measurement.objects.count(), 2)

    def test_schemes_and_house_tell_like_for_like_first(self) -> None:
        heat = self.ask("GET", f"{self.path}/heat")
        like, after = heat["line"]["like_for_like_w_k"], heat["total"]["after_w_k"]
        self.assertGreater(like, after)
        house = self.ask("GET", f"{self.path}/house")
        self.assertEqual((house["like_for_like_w_k"], house["chosen"]), (like, 3))
        mine, other = self.ask("GET", f"{self.path}/schemes")["schemes"]
        self.assertEqual((mine["like_for_like_w_k"], mine["moved"]), (like, True))
        self.assertEqual(mine["chosen"], 3, "ceiling and floor are chosen for, and are no longer in the line")
        self.assertEqual(mine["of"], sum(self.named(name).has_build_up for name in self.of(True)))
        self.assertEqual((other["moved"], other["chosen"]), (True, 0))
        client = words_of("client", Gathered(self.project))
        self.assertIn(f"ike for like, {round((1 - after / like) * 100)} % less", client)
        self.assertIn("The heated line moves: attic of House: taken in", client)
        self.assertNotIn("% more", client)
        self.assertNotRegex(client.split("What it saves")[1].split("Loss, not the bill")[0], r"[-−–]\s?\d")
        credits = sum(credit["w_k"] for credit in heat["credits"])
        self.assertAlmostEqual(credits, like - after, places=6)

    def named(self, name: str) -> Element:
        return Element.objects.get(project_id=self.pk, name=name)

    def test_each_report_has_the_elements_of_the_line_it_is_for(self) -> None:
        g = Gathered(self.project)
        ceiling, floor = self.element("main/ceiling").name, self.element("main/floor").name
        slope = self.element("main/roof/a").name
        builder = words_of("builder", g)
        built = builder.split("What is built")[1].split("Not round the heated rooms")[0]
        self.assertIn(slope, built)
        self.assertFalse({name for name in (ceiling, floor) if f"{name}: warm" in built})
        self.assertIn("nothing is built there", builder)
        heating = words_of("heating", g)
        sizes = self.ask("GET", f"{self.path}/heat")["line"]
        self.assertIn(f"{sizes['floor_before_m2']:.0f} → {sizes['floor_after_m2']:.0f}", heating)
        for kind in DOCUMENTS:
            text = words_of(kind, g)
            self.assertNotIn("Porch", text, kind)
        told = " ".join(missing(g))
        self.assertNotIn(f"no option chosen: {ceiling}", told)
        constructions = lists.list_of(g, "constructions")
        chosen = {row[0] for row in constructions.rows if row[1] == "warm"}
        self.assertEqual(
            chosen,
            {
                self.element(key).name
                for key in ("main/a", "main/roof/a", "wing/c", "main/floor/ground")
                if self.element(key).chosen_id
            },
        )

    def test_areas_to_be_built_are_those_after_the_works(self) -> None:
        self.choose("main/b")
        gable = self.element("main/b")
        row = next(r for r in self.ask("GET", f"{self.path}/heat")["rows"] if r["element_id"] == gable.pk)
        self.assertAlmostEqual(gable.area_built_m2, row["area_after_m2"])
        listed = lists.list_of(Gathered(self.project), "constructions")
        areas = {cells[1]: cells[-1] for cells in listed.rows if cells[0] == gable.name}
        self.assertAlmostEqual(areas["As found"], row["area_m2"])  # type: ignore[arg-type]
        self.assertAlmostEqual(areas["warm"], row["area_after_m2"])  # type: ignore[arg-type]

    def test_the_stair_of_phases_leads_from_one_line_to_the_other(self) -> None:
        phases = [{"name": "Walls", "starts_on": "2027-05-01"}, {"name": "Attic", "starts_on": "2029-05-01"}]
        made = self.ask(
            "PUT", f"/api/schemes/{self.scheme.pk}/phases", {"revision": self.scheme.revision, "phases": phases}
        )
        ids = [phase["id"] for phase in made["schemes"][0]["phases"]]
        self.ask("PUT", f"/api/elements/{self.element('main/a').pk}/phase", {"phase_id": ids[0]})
        found, walls, attic = self.ask("GET", f"{self.path}/stages")["stages"]
        self.assertAlmostEqual(found["n50"], 9.0)
        self.assertAlmostEqual(attic["n50"], 2.0)
        rows = {row["key"]: row for row in self.ask("GET", f"{self.path}/air")["rows"]}
        wall, volume = rows["main/a"], self.ask("GET", f"{self.path}/air")["before"]["volume_m3"]
        closed = wall["q50_before"] * (1.0 - wall["q50_after"] / wall["q50_open"])
        self.assertAlmostEqual(found["n50"] - walls["n50"], closed / volume, places=6)
        whole = self.ask("GET", f"{self.path}/balance")
        self.assertAlmostEqual(attic["heating_kwh"], whole["after"]["heating_kwh"], places=6)
        self.assertLess(walls["heating_kwh"], found["heating_kwh"])

    def test_rooms_offered_name_what_bounds_them_in_either_line(self) -> None:
        rooms = self.ask("GET", f"{self.path}/rooms/proposal")["rooms"]
        named = {face["key"] for room in rooms for face in room["faces"]}
        known = {element.shape_key for element in self.project.here(list(self.project.elements.all()))}
        self.assertEqual(named, known)

    def test_readiness_asks_only_of_what_is_here(self) -> None:
        water = {row["name"] for row in self.ask("GET", f"{self.path}/water")["elements"]}
        self.assertEqual(water, self.of(True) | self.of(False))
        sheet = self.ask("GET", f"/api/elements/{self.element('main/a').pk}/sheet")
        self.assertEqual(len(sheet["siblings"]), len(water) - len([n for n in water if not self.named(n).has_build_up]))

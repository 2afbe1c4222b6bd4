"""Limits, levers, choices, constructions, what is missing, heat credited apart: as the interface asks for them."""

from __future__ import annotations

from typing import Any

from django.test import TestCase

from core.criteria.registry import LIMITS
from server.exchange.write import document
from server.options import figures
from server.projects.models import Choice, Element, HistoryEntry, Option, Project, Scheme
from server.tests.helpers import client_of, corrie, person, send

STONE = {"id": "stone", "material": "sandstone_rubble", "thickness_mm": 500, "existing": True, "known": "seen"}
PLASTER = {"id": "plaster", "material": "lime_plaster", "thickness_mm": 20, "existing": True, "known": "seen"}
WALL = {"layers": [STONE, PLASTER]}
LINED = {
    "layers": [
        STONE,
        PLASTER,
        {"id": "wool", "material": "mineral_fibre_035", "thickness_mm": 60},
        {"id": "sheet", "material": "membrane_variable_medium"},
        {"id": "board", "material": "gypsum_board", "thickness_mm": 12.5},
    ]
}


class Made(TestCase):
    """A project made from nothing with one wall."""

    def setUp(self) -> None:
        self.user = person("owner")
        self.client = client_of(self.user)
        project = {"name": "Byre", "volume_m3": 300, "air_value": 8, "air_value_after": 3}
        self.project = send(self.client, "POST", "/api/projects", project).json()["id"]
        self.element = self.add("Rain wall", build_up=WALL)

    def add(self, name: str, **more: Any) -> int:
        body = {"name": name, "kind": "wall", "area_m2": 20, "facing_deg": 290, **more}
        made = send(self.client, "POST", f"/api/projects/{self.project}/elements", body)
        self.assertEqual(made.status_code, 201, made.content)
        return int(made.json()["id"])

    def option(self, name: str = "Lined", build_up: Any = LINED) -> int:
        made = send(self.client, "POST", f"/api/elements/{self.element}/options", {"name": name, "build_up": build_up})
        self.assertEqual(made.status_code, 201, made.content)
        return int(made.json()["id"])

    def sheet(self, element: int | None = None) -> Any:
        return self.client.get(f"/api/elements/{element or self.element}/sheet").json()

    def page(self) -> Any:
        return self.client.get(f"/api/projects/{self.project}").json()

    def lacks(self, step: str) -> list[str]:
        return next(row["lacks"] for row in self.page()["progress"] if row["step"] == step)

    def choose(self, option: int | None, reason: str = "It dries inward.") -> Any:
        body = {"option_id": option, "reason": reason}
        return send(self.client, "PUT", f"/api/elements/{self.element}/choice", body)


class Limits(Made):
    def limits(self) -> Any:
        return self.client.get(f"/api/projects/{self.project}/limits").json()

    def edit(self, **values: float) -> Any:
        rows = [{"key": key.replace("__", "."), "value": value} for key, value in values.items()]
        return send(self.client, "PUT", f"/api/projects/{self.project}/limits", {"limits": rows})

    def test_every_limit_is_shown_with_its_default_and_reason(self) -> None:
        shown = self.limits()
        self.assertEqual({row["key"] for row in shown["limits"]}, {limit.key for limit in LIMITS})
        for row in shown["limits"]:
            self.assertEqual(row["value"], row["default"])
            self.assertTrue(row["why"] and row["least"] <= row["value"] <= row["most"])
        self.assertEqual(len(shown["criteria"]), 9)
        self.assertTrue(all(row["covers_not"] for row in shown["criteria"]))

    def test_an_edit_is_kept_told_once_and_taken_back(self) -> None:
        before = HistoryEntry.objects.count()
        answer = self.edit(mould__inside=2.0).json()
        row = next(r for r in answer["limits"] if r["key"] == "mould.inside")
        self.assertEqual((row["value"], row["default"]), (2.0, 3.0))
        self.assertEqual(HistoryEntry.objects.count(), before + 1)
        self.assertEqual(self.limits(), answer)
        self.assertEqual(self.edit().status_code, 200)
        self.assertTrue(all(r["value"] == r["default"] for r in self.limits()["limits"]))

    def test_what_is_no_limit_or_outside_its_range_changes_nothing(self) -> None:
        self.edit(mould__inside=2.0)
        for bad in ({"mould__attic": 2.0}, {"mould__inside": 60.0}, {"mould__inside": -1.0}):
            answer = self.edit(**bad)
            self.assertIn(answer.status_code, (400, 422), answer.content)
        row = next(r for r in self.limits()["limits"] if r["key"] == "mould.inside")
        self.assertEqual(row["value"], 2.0)

    def test_limits_travel_with_the_project_file(self) -> None:
        self.edit(mould__inside=2.5)
        content = document(Project.objects.get(pk=self.project))
        self.assertEqual(content["project"]["limits"], [{"key": "mould.inside", "value": 2.5}])


class Levers(Made):
    def test_a_lever_is_a_new_option_and_the_old_one_stays(self) -> None:
        option = self.option()
        for key, first in (("coat", "lime_shelter_coat"), ("render", "lime_render"), ("cladding", "larch_boards")):
            sheet = send(self.client, "POST", f"/api/options/{option}/lever", {"key": key}).json()
            newest = sheet["options"][-1]
            with self.subTest(key):
                self.assertEqual(newest["build_up"]["layers"][0]["material"], first)
                self.assertIn("with", newest["name"])
        self.assertEqual(len(self.sheet()["options"]), 5)
        old = next(o for o in self.sheet()["options"] if o["id"] == option)
        self.assertEqual(len(old["build_up"]["layers"]), 5)

    def test_a_lever_on_a_lever_and_an_unknown_one_are_refused(self) -> None:
        sheet = send(self.client, "POST", f"/api/options/{self.option()}/lever", {"key": "render"}).json()
        again = send(self.client, "POST", f"/api/options/{sheet['options'][-1]['id']}/lever", {"key": "coat"})
        self.assertEqual(again.status_code, 422)
        self.assertIn("keeps the rain out already", again.json()["message"])
        self.assertEqual(
            send(self.client, "POST", f"/api/options/{self.option()}/lever", {"key": "prayer"}).status_code, 422
        )


class Choices(Made):
    def was(self) -> str:
        return str(self.sheet()["element"]["choice_was"])

    def test_a_choice_of_what_is_there_says_nothing(self) -> None:
        self.assertEqual(self.was(), "")
        self.choose(self.option())
        self.assertEqual(self.was(), "")
        self.assertEqual(self.sheet()["element"]["chosen_by"], "Owner")

    def test_what_was_decided_stands_in_the_history_before_and_after(self) -> None:
        option = self.option()
        self.choose(option, "It dries inward.")
        self.choose(option, "It dries inward, and is thinner.")
        self.choose(None)
        last, second, first = HistoryEntry.objects.filter(action="choose option")[:3]
        self.assertEqual((first.kind, first.row), ("element", self.element))
        shown = Element.objects.get(pk=self.element).project.shown_scheme().pk
        self.assertEqual(first.before, {"option": None, "reason": "", "scheme": None})
        self.assertEqual(second.before, {"reason": "It dries inward.", "scheme": None})
        self.assertEqual(second.after, {"reason": "It dries inward, and is thinner.", "scheme": shown})
        self.assertEqual(last.after, {"option": None, "reason": "", "scheme": shown})
        self.assertEqual(Choice.objects.count(), 0)

    def test_a_choice_is_not_written_over_another_that_was_not_seen(self) -> None:
        option, other = self.option(), self.option("Lined again")
        here = f"/api/elements/{self.element}/choice"
        nothing = {"scheme": None, "option_id": None, "reason": ""}
        mine = {"option_id": option, "reason": "It dries inward.", "seen": nothing}
        self.assertEqual(send(self.client, "PUT", here, mine).status_code, 200)
        late = send(self.client, "PUT", here, {"option_id": other, "reason": "It is cheap.", "seen": nothing})
        self.assertEqual((late.status_code, late.json()["code"]), (409, "changed_meanwhile"))
        self.assertIn("Owner chose “Lined” since you began: It dries inward.", late.json()["message"])
        project = Element.objects.get(pk=self.element).project
        shown = project.shown_scheme()
        seen = {"scheme": shown.pk, "option_id": option, "reason": "It dries inward."}
        over = {"option_id": other, "reason": "It is cheap.", "seen": seen}
        self.assertEqual(send(self.client, "PUT", here, over).status_code, 200)
        self.choose(None)
        gone = send(self.client, "PUT", here, {**over, "seen": {**seen, "option_id": other, "reason": "It is cheap."}})
        self.assertIn("taken back since", gone.json()["message"])
        project.scheme = Scheme.objects.create(project=project, position=1, name="Deep")
        project.save()
        elsewhere = send(self.client, "PUT", here, {**over, "seen": {**nothing, "scheme": shown.pk}})
        self.assertEqual((elsewhere.status_code, elsewhere.json()["code"]), (409, "another_scheme"))
        self.assertIn("“Deep”", elsewhere.json()["message"])
        self.assertEqual(Choice.objects.count(), 0)

    def test_another_scheme_chooses_for_itself(self) -> None:
        option = self.option()
        self.choose(option)
        element = Element.objects.get(pk=self.element)
        other = Scheme.objects.create(project=element.project, position=1, name="Deep")
        Choice.objects.create(scheme=other, element=element, option=None, reason="later")
        self.assertEqual(element.chosen_id, option)
        self.assertEqual(self.client.get("/api/projects").json()[0]["chosen"], 1)

    def test_an_edit_after_the_choice_says_so_until_it_is_taken_back(self) -> None:
        option = self.option()
        self.choose(option)
        thicker = [*LINED["layers"][:2], {**LINED["layers"][2], "thickness_mm": 100}, *LINED["layers"][3:]]
        revision = 1
        for layers, was in ((thicker, "changed"), (LINED["layers"], "")):
            body = {"revision": revision, "build_up": {"layers": layers}}
            changed = send(self.client, "PUT", f"/api/options/{option}", body)
            self.assertEqual(changed.status_code, 200, changed.content)
            revision = changed.json()["revision"]
            self.assertEqual(self.was(), was)

    def test_a_removed_option_leaves_its_choice_told(self) -> None:
        option = self.option()
        self.choose(option, "It was the thinnest.")
        self.assertEqual(self.client.delete(f"/api/options/{option}").status_code, 204)
        element = self.sheet()["element"]
        self.assertEqual((element["choice_was"], element["chosen_id"]), ("removed", None))
        self.assertEqual(element["chosen_reason"], "It was the thinnest.")
        self.choose(None, "")
        self.assertEqual(self.was(), "")

    def test_choosing_again_is_of_what_is_there_now(self) -> None:
        option = self.option()
        self.choose(option)
        row = Option.objects.get(pk=option)
        row.build_up = {"layers": LINED["layers"][:2]}
        row.save()
        self.assertEqual(self.was(), "changed")
        self.choose(option, "Still.")
        self.assertEqual(self.was(), "")

    def test_a_choice_travels_with_the_project_file(self) -> None:
        self.choose(self.option())
        content = document(Project.objects.get(pk=self.project))
        self.assertEqual(content["elements"][0]["choice"]["by"], "Owner")


class NotStated(Made):
    def test_an_element_nobody_stated_has_no_figure_anywhere(self) -> None:
        bare = self.add("Attic wall")
        option = self.sheet(bare)["options"][0]
        self.assertEqual(option["build_up"]["layers"], [])
        self.assertIsNone(option["figures"]["thermal"])
        self.assertIn("not stated", option["figures"]["refused"])
        heat = self.client.get(f"/api/projects/{self.project}/heat").json()
        self.assertFalse(heat["complete"])
        self.assertTrue(any("Attic wall" in words and "not stated" in words for words in heat["missing"]))
        self.assertIn("the construction of 1 element", self.lacks("survey"))
        run = send(self.client, "POST", f"/api/options/{option['id']}/runs")
        self.assertEqual(run.status_code, 422, run.content)

    def test_an_option_cannot_be_drawn_of_nothing(self) -> None:
        answer = send(
            self.client, "POST", f"/api/elements/{self.element}/options", {"name": "x", "build_up": {"layers": []}}
        )
        self.assertEqual(answer.status_code, 422)

    def test_stating_it_gives_it_figures(self) -> None:
        bare = self.add("Attic wall")
        found = self.sheet(bare)["options"][0]
        body = {"revision": found["revision"], "build_up": WALL}
        self.assertEqual(send(self.client, "PUT", f"/api/options/{found['id']}", body).status_code, 200)
        self.assertGreater(self.sheet(bare)["options"][0]["figures"]["thermal"]["u_effective"], 1.0)
        self.assertFalse(any("construction" in words for words in self.lacks("survey")))

    def test_what_a_careful_colleague_would_still_look_at(self) -> None:
        missing = self.lacks("survey")
        self.assertIn("a blower-door test", missing)
        self.assertIn("a look at 1 element", missing)
        self.assertIn("the exposure of some walls, in steps", missing)
        self.assertFalse(any("assumed" in words for words in missing))
        assumed = self.add("Lean-to wall", build_up={"layers": [{**STONE, "known": "assumed"}]})
        self.assertIn("layers only assumed in 1 element", self.lacks("survey"))
        Element.objects.filter(pk=assumed).update(looked_at_by="Owner")
        self.assertIn("a look at 1 element", self.lacks("survey"))

    def test_a_brief_that_says_nothing_lacks_everything(self) -> None:
        missing = self.lacks("brief")
        for word in ("people", "flues and appliances", "fans", "bills", "habits of airing and drying"):
            self.assertIn(word, missing)


class HeatCredits(Made):
    def test_options_and_the_air_target_are_credited_apart(self) -> None:
        self.choose(self.option())
        heat = self.client.get(f"/api/projects/{self.project}/heat").json()
        options, air = heat["credits"]
        rows = {row["kind"]: row for row in heat["rows"]}
        self.assertAlmostEqual(options["w_k"], rows["wall"]["before_w_k"] - rows["wall"]["after_w_k"], places=6)
        self.assertAlmostEqual(air["w_k"], rows["air"]["before_w_k"] - rows["air"]["after_w_k"], places=6)
        self.assertIn("chosen options", options["what"]["metric"])
        self.assertIn("air target", air["what"]["metric"])
        saved = heat["total"]["before_w_k"] - heat["total"]["after_w_k"]
        self.assertAlmostEqual(options["w_k"] + air["w_k"], saved, places=6)

    def test_a_slab_is_by_its_size_and_not_by_half(self) -> None:
        slab = {
            "layers": [
                {"id": "e", "material": "earth", "thickness_mm": 300},
                {"id": "s", "material": "concrete", "thickness_mm": 100},
            ]
        }
        sizes = {}
        for name, area, perimeter in (("small", 20, 18), ("large", 400, 80)):
            self.add(
                name, kind="floor", adjoining="ground", area_m2=area, perimeter_m=perimeter, build_up=slab, factor_b=0.5
            )
        heat = self.client.get(f"/api/projects/{self.project}/heat").json()
        for row in heat["rows"]:
            if row["kind"] == "floor":
                sizes[row["name"]] = row["before_w_k"] / (20 if row["name"] == "small" else 400)
        self.assertGreater(sizes["small"], 1.5 * sizes["large"])

    def test_rooms_and_set_points_of_their_own(self) -> None:
        bath = self.add("Bath wall", build_up=WALL, occupancy="bath", set_point_c=24)
        shown = self.sheet(bath)["conditions"]
        self.assertEqual((shown["set_point_c"], shown["occupancy"]), (24, "a room with a bath"))
        self.assertNotEqual(shown["occupancy"], self.sheet()["conditions"]["occupancy"])


class DemoPages(TestCase):
    def test_nothing_is_drowned_before_it_is_run_and_every_page_is_whole(self) -> None:
        user = person("owner")
        project = corrie(user)
        for element in project.elements.all():
            if element.has_build_up:
                sheet = figures.sheet(element)
                with self.subTest(element.name):
                    self.assertIsNone(sheet.drowned)
                    self.assertTrue(all(option.run.state in ("not run", "not available") for option in sheet.options))

    def test_the_project_page_asks_the_same_for_three_elements_as_for_twenty(self) -> None:
        """Its queries do not grow with the elements: it is read on every step."""
        user = person("owner")
        project = corrie(user)
        client = client_of(user)
        path = f"/api/projects/{project.pk}"
        client.get(path)
        with self.assertNumQueriesAtMost(40):
            client.get(path)

    def assertNumQueriesAtMost(self, most: int) -> Any:  # noqa: N802
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        case = self

        class Most(CaptureQueriesContext):
            def __exit__(self, *raised: Any) -> None:
                super().__exit__(*raised)
                if raised[0] is None:
                    case.assertLessEqual(len(self), most, [q["sql"][:90] for q in self.captured_queries])

        return Most(connection)


class Drowned(TestCase):
    """The sentence above the options claims no more than the verdicts do."""

    def said(self, *states: str) -> str:
        from types import SimpleNamespace as Of

        from server.options.figures import drowned

        owner = person("owner")
        project = Project.objects.create(owner=owner, name="Byre")
        element = Element.objects.create(project=project, name="W", kind="wall", area_m2=10)
        body = {"layers": [{"id": "a", "material": "sandstone_rubble", "thickness_mm": 500, "existing": True}]}
        found = Option.objects.create(element=element, role=Option.AS_FOUND, name="As found", build_up=body)
        roles = [Option.AS_FOUND, *[Option.UPGRADE] * len(states)]
        options = [
            Of(role=role, run=Of(state="current", verdict=Of(soaked=True, state=state)))
            for role, state in zip(roles, ("over a limit", *states), strict=True)
        ]
        told = drowned(element, found.current, options)  # type: ignore[arg-type]
        assert told is not None
        return told.words.metric

    def test_options_that_all_fail_do_not_differ(self) -> None:
        self.assertIn("these options do not differ", self.said("over a limit", "over a limit"))

    def test_options_that_differ_are_not_called_alike(self) -> None:
        words = self.said("marginal", "over a limit")
        self.assertNotIn("do not differ", words)
        self.assertIn("stands in wet stone", words)


class Spread(TestCase):
    def test_the_same_option_on_other_elements_each_with_its_own(self) -> None:
        user = person("owner")
        client, project = client_of(user), corrie(user)
        face, gable = (project.elements.get(name=name) for name in ("Garden face", "South-west gable"))
        platform, floor = (
            project.elements.get(name="Platform face, upper"),
            project.elements.get(kind="floor", adjoining="unheated"),
        )
        option = next(o for o in face.options.filter(role=Option.UPGRADE) if "Inside" in o.name)
        before = Option.objects.count()
        wanted = [gable.pk, platform.pk, floor.pk, face.pk, project.elements.filter(kind="window")[0].pk]
        answer = send(client, "POST", f"/api/options/{option.pk}/spread", {"elements": wanted}).json()
        by = {row["name"]: row for row in answer}
        self.assertEqual(
            set(by), {gable.name, platform.name, floor.name, project.elements.filter(kind="window")[0].name}
        )
        made = Option.objects.get(pk=by[gable.name]["option_id"])
        self.assertEqual([x.material for x in made.current.layers], [x.material for x in option.current.layers])
        self.assertEqual(
            by[gable.name]["over_limits"], client.get(f"/api/options/{made.pk}").json()["figures"]["over_limits"]
        )
        around = Option.objects.get(pk=by[platform.name]["option_id"]).current
        self.assertEqual(around.layers[0].material, "sandstone_dressed")
        self.assertIn(
            "has no layers",
            next(row["refused"] for row in answer if row["name"] not in (gable.name, platform.name, floor.name)),
        )
        self.assertEqual(Option.objects.count(), before + sum(row["option_id"] is not None for row in answer))
        refused = send(client, "POST", f"/api/options/{face.as_found.pk}/spread", {"elements": [gable.pk]})
        self.assertEqual(refused.json()["code"], "as_found")

    def test_proposals_are_read_and_taken(self) -> None:
        user = person("owner")
        client, project = client_of(user), corrie(user)
        face = project.elements.get(name="Platform face, upper")
        said = client.get(f"/api/elements/{face.pk}/proposals").json()["proposals"]
        self.assertEqual(said["make"], "solid stone")
        self.assertIn("First keep the rain off", said["headline"]["metric"])
        self.assertIn("open water items", " ".join(words["metric"] for words in said["offered"][0]["first"]))
        option = send(client, "POST", f"/api/elements/{face.pk}/proposals/inside_lime").json()
        self.assertEqual(option["name"], "Inside, thin insulating lime plaster")
        shown = next(one for one in said["offered"] if one["way"] == "inside_lime")
        self.assertEqual((option["build_up"], shown["stands"]), (shown["build_up"], None))
        refused = send(client, "POST", f"/api/elements/{face.pk}/proposals/outside_clad")
        self.assertEqual(refused.json()["code"], "not_offered")
        off = {"outside_untouchable": True, "plaster_off": True, "inside_untouchable": False, "escape_route": False}
        self.assertEqual(send(client, "PUT", f"/api/elements/{face.pk}/access", off).json()["plaster_off"], True)
        garden = project.elements.get(name="Garden face")
        send(client, "PUT", f"/api/elements/{garden.pk}/access", off)
        offered = [
            one["way"] for one in client.get(f"/api/elements/{garden.pk}/proposals").json()["proposals"]["offered"]
        ]
        self.assertNotIn("outside_render", offered)
        self.assertIn("inside_wood_fibre", offered)

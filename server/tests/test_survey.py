"""Brief, shape, evidence, water, measurements, house: allowed, refused, the effect, one history entry each."""

from __future__ import annotations

import io
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase, override_settings
from PIL import Image

from core.measure.blower_door import airtightness
from demo.gauge import read as simulated
from server.exchange.bring import import_file
from server.exchange.write import document
from server.front import FORM_OVERHEAD
from server.projects.models import Element, HistoryEntry, Project
from server.projects.schemas import ElementFields
from server.survey.models import Evidence, Measurement, Photo, WaterItem
from server.tests.helpers import client_of, corrie, person, send

BODY: dict[str, Any] = {
    "id": "main",
    "name": "House",
    "outline": [[0, 0], [10, 0], [10, 7], [0, 7]],
    "storeys": [{"name": "ground floor", "height_m": 2.6}],
    "wall_mm": 500,
}
SHAPE: dict[str, Any] = {"bodies": [BODY]}


def jpeg(size: tuple[int, int] = (2400, 1800)) -> bytes:
    out = io.BytesIO()
    exif = Image.Exif()
    exif[0x010F] = "somebody's camera"
    Image.new("RGB", size, "#778899").save(out, "JPEG", exif=exif)
    return out.getvalue()


class Base(TestCase):
    def setUp(self) -> None:
        self.owner = person("owner")
        self.client = client_of(self.owner)
        self.project = Project.objects.create(owner=self.owner, name="Byre")
        self.path = f"/api/projects/{self.project.pk}"

    def put(self, path: str, body: Any, status: int = 200) -> Any:
        answer = send(self.client, "PUT", path, body)
        self.assertEqual(answer.status_code, status, answer.content[:400])
        return answer.json()

    def one_entry(self, path: str, body: Any) -> Any:
        """A change that is taken, and told once."""
        before = HistoryEntry.objects.count()
        answer = self.put(path, body)
        self.assertEqual(HistoryEntry.objects.count(), before + 1, path)
        return answer

    def shaped(self, **shape: Any) -> Any:
        return self.put(f"{self.path}/shape", {"revision": None, "shape": {**SHAPE, **shape}})

    def element(self, key: str) -> Element:
        return Element.objects.get(project=self.project.pk, shape_key=key)


class BriefTests(Base):
    def test_it_is_kept_and_told_once_and_two_windows_are_told(self) -> None:
        answer = self.one_entry(f"{self.path}/brief", {"revision": 1, "brief": {"aims": "dry"}})
        self.assertNotIn("aims", answer["missing"])
        self.assertIn("budget", answer["missing"])
        problem = self.put(f"{self.path}/brief", {"revision": 1, "brief": {"aims": "else"}}, 409)
        self.assertEqual(problem["code"], "changed_meanwhile")
        self.assertEqual(Project.objects.get().current_brief.aims, "dry")
        self.put(f"{self.path}/brief", {"revision": None, "brief": {"aims": "else"}})

    def test_limits_and_targets_are_obeyed_by_the_sheet_and_the_options(self) -> None:
        self.shaped(up_bearing_deg=180)
        wall = self.element("main/a")  # faces north when up in the plan is south
        self.assertEqual(wall.facing_deg, 0)
        brief = {
            "limits": [
                {"kind": "face", "facing": "N", "most_mm": 0, "reason": "listed"},
                {"kind": "room", "most_mm": 40},
            ],
            "targets": {"name": "own", "u_w_m2k": {"wall": 0.3}},
        }
        page = self.put(f"{self.path}/brief", {"revision": None, "brief": brief})
        self.assertTrue(any("listed" in words["metric"] for words in page["affected"]))
        sheet = self.client.get(f"/api/elements/{wall.pk}/sheet").json()
        self.assertEqual(
            sheet["limits"],
            {
                "room_mm": 40, "outside_mm": 0, "target_u_w_m2k": 0.3, "weight_kg_m2": None, "reveal_mm": None,
                "named": [],
            },
        )  # fmt: skip
        said = {row["field"]: row["words"]["metric"] for row in sheet["limits_said"]}
        self.assertIn("listed", said["outside_mm"])
        found = sheet["options"][0]
        self.assertEqual(found["build_up"]["layers"], [], "a shape says nothing of what a wall is made of")
        stone = {"layers": [{"id": "s", "material": "sandstone_rubble", "thickness_mm": 300, "existing": True}]}
        body = {"revision": found["revision"], "build_up": stone}
        self.assertEqual(send(self.client, "PUT", f"/api/options/{found['id']}", body).status_code, 200)
        thick = {"layers": [*stone["layers"], {"id": "w", "material": "wood_fibre_board", "thickness_mm": 60}]}
        over = send(self.client, "POST", f"/api/elements/{wall.pk}/preview", {"build_up": thick}).json()["over_limits"]
        self.assertTrue(any("of the room" in words["metric"] for words in over), over)
        other = self.element("main/c")
        sheet = self.client.get(f"/api/elements/{other.pk}/sheet").json()
        self.assertEqual(sheet["limits"]["outside_mm"], 300.0)
        self.assertIn("overhang of the shape", sheet["limits_said"][0]["words"]["metric"])

    def test_a_limit_by_its_name_binds_and_is_carried(self) -> None:
        project = corrie(User.objects.get())
        wall = project.elements.get(name="Platform face, upper")
        body = ElementFields.model_validate(wall, from_attributes=True).model_dump(mode="json")
        body["named_limits"] = [{"kind": "stair", "most": 60, "note": "a flight"}, {"kind": "weight", "most": 20}]
        path = f"/api/elements/{wall.pk}"
        self.assertEqual(send(self.client, "PUT", path, body).status_code, 200)
        page = self.client.get(f"{path}/sheet").json()
        self.assertEqual((page["limits"]["room_mm"], page["limits"]["weight_kg_m2"]), (60, 20))
        self.assertIn("the stair (a flight)", [row["words"]["metric"] for row in page["limits_said"]])
        over = [one["metric"] for option in page["options"] for one in option["figures"]["over_limits"]]
        self.assertTrue(any("at most 60 mm, for the stair" in words for words in over), over)
        self.assertTrue(any("at most 20 kg/m²" in words for words in over), over)
        kept = next(e for e in document(Project.objects.get(pk=project.pk))["elements"] if e["name"] == wall.name)
        self.assertEqual([one["kind"] for one in kept["named_limits"]], ["stair", "weight"])
        body["named_limits"] = [{"kind": "gutter", "most": 1}]
        self.assertEqual(send(self.client, "PUT", path, body).status_code, 422)

    def test_wrong_limits_are_named(self) -> None:
        problem = self.put(
            f"{self.path}/brief", {"revision": None, "brief": {"limits": [{"kind": "face", "most_mm": -1}]}}, 422
        )
        self.assertIn("limits", problem["message"])


class ShapeTests(Base):
    def test_elements_follow_and_hand_typed_figures_stay(self) -> None:
        answer = self.one_entry(f"{self.path}/shape", {"revision": 1, "shape": SHAPE})
        self.assertEqual(len(answer["derived"]), 6)
        self.project.refresh_from_db()
        self.assertAlmostEqual(self.project.volume_m3 or 0, 9 * 6 * 2.6, places=2)
        wall = self.element("main/a")
        self.assertAlmostEqual(wall.area_m2, 9 * 2.6, places=3)
        values = {"name": wall.name, "kind": "wall", "area_m2": 20.5, "facing_deg": wall.facing_deg}
        self.put(f"/api/elements/{wall.pk}", values)
        higher = {**BODY, "storeys": [{"name": "ground floor", "height_m": 3.0}]}
        answer = self.shaped(bodies=[higher])
        self.assertEqual(self.element("main/a").area_m2, 20.5)
        self.assertAlmostEqual(self.element("main/b").area_m2, 6 * 3.0, places=3)
        (told,) = answer["disagreements"]
        self.assertEqual((told["field"], told["by_hand"], told["shape_says"]), ("area_m2", 20.5, 27.0))
        before = HistoryEntry.objects.count()
        again = send(self.client, "POST", f"/api/elements/{wall.pk}/follow/area_m2")
        self.assertEqual(again.json()["area_m2"], 27.0)
        self.assertEqual(HistoryEntry.objects.count(), before + 1)
        refused = send(self.client, "POST", f"/api/elements/{wall.pk}/follow/area_m2")
        self.assertEqual((refused.status_code, refused.json()["code"]), (422, "not_typed"))

    def test_what_leaves_the_shape_with_work_on_it_is_kept_and_comes_back(self) -> None:
        wing = {
            **BODY,
            "id": "wing",
            "name": "Wing",
            "outline": [[10, 1], [13, 1], [13, 5], [10, 5]],
            "roof": {"form": "flat"},
        }
        self.shaped(bodies=[BODY, wing])
        count = self.project.elements.count()
        kept = self.element("wing/b")
        kept.looked_at_by = "Owner"
        kept.save()
        answer = self.shaped()
        self.assertEqual(answer["gone"], [kept.pk])
        self.assertEqual([e.pk for e in self.project.elements.filter(shape_key__startswith="wing/")], [kept.pk])
        answer = self.shaped(bodies=[BODY, wing])
        self.assertEqual((answer["gone"], self.project.elements.count()), ([], count))
        self.assertEqual(self.element("wing/b").pk, kept.pk)

    def test_a_preview_keeps_nothing(self) -> None:
        answer = send(self.client, "POST", f"{self.path}/shape/preview", {"shape": SHAPE}).json()
        self.assertEqual(len(answer["derived"]), 6)
        self.assertEqual((Element.objects.count(), HistoryEntry.objects.count()), (0, 0))

    def test_shapes_that_cannot_be_are_named_and_change_nothing(self) -> None:
        crossed = {**BODY, "outline": [[0, 0], [10, 7], [10, 0], [0, 7]]}
        self.assertIn(
            "crosses itself",
            self.put(f"{self.path}/shape", {"revision": None, "shape": {"bodies": [crossed]}}, 422)["message"],
        )
        window = {"id": "w", "name": "Glass", "body": "main", "face": "a", "width_m": 12, "height_m": 4}
        problem = self.put(f"{self.path}/shape", {"revision": None, "shape": {**SHAPE, "openings": [window]}}, 422)
        self.assertIn("larger", problem["message"])
        self.assertEqual(Element.objects.count(), 0)

    def test_exposure_in_steps_reaches_the_runs(self) -> None:
        self.shaped(site={"terrain": "II"})
        wall = self.element("main/d")
        before = wall.place.driven_rain
        faces = self.one_entry(f"/api/elements/{wall.pk}/rain", {"rain": {"obstruction_m": 20, "overhang_m": 0.4}})
        face = next(f for f in faces if f["element_id"] == wall.pk)
        after = self.element("main/d").place.driven_rain
        self.assertNotEqual(before, after)
        product = after.terrain_factor * after.topography_factor * after.obstruction_factor * after.wall_factor
        self.assertAlmostEqual(face["product"], product, places=9)
        self.assertTrue(all(step["because"] for step in face["steps"]["steps"]))


class EvidenceTests(Base):
    def setUp(self) -> None:
        super().setUp()
        self.shaped()
        self.wall = self.element("main/d")
        self.body = {
            "element_id": self.wall.pk,
            "pin": {
                "kind": "tide_mark",
                "comes": "always",
                "extent": "band",
                "place": {"body": "main", "face": "d", "x_m": 3, "y_m": 0.4},
            },
        }

    def pin(self, uid: str = "pin-00001", **body: Any) -> Any:
        return self.put(f"{self.path}/evidence/{uid}", {**self.body, **body})

    def states(self) -> dict[int, str]:
        page = self.client.get(f"{self.path}/water").json()
        return {row["element_id"]: row["state"] for row in page["elements"]}

    def test_sent_twice_it_is_one_pin_and_one_entry(self) -> None:
        before = HistoryEntry.objects.count()
        first = self.pin()
        second = self.pin()
        self.assertEqual((first["revision"], second["revision"], Evidence.objects.count()), (1, 1, 1))
        self.assertEqual(HistoryEntry.objects.count(), before + 1)
        changed = self.pin(base_revision=1, pin={**self.body["pin"], "extent": "patch"})
        self.assertEqual(changed["revision"], 2)
        problem = self.put(f"{self.path}/evidence/pin-00001", {**self.body, "base_revision": 1}, 409)
        self.assertEqual(problem["revision"], 2)

    def test_from_not_looked_at_to_ready_and_by_override(self) -> None:
        self.assertEqual(self.states()[self.wall.pk], "not looked at")
        self.pin()
        self.assertEqual(self.states()[self.wall.pk], "open")
        confirmed = self.one_entry(f"{self.path}/evidence/pin-00001/cause", {"mechanism": "ground"})
        self.assertEqual((confirmed["cause"], confirmed["cause_by"]), ("ground", "Owner"))
        items = list(WaterItem.objects.all())
        self.assertEqual(confirmed["items"], len(items))
        self.assertEqual(self.states()[self.wall.pk], "open")
        for item in items:
            body = {
                "elements": [self.wall.pk],
                "evidence": ["pin-00001"],
                "stage": item.stage,
                "title": item.title,
                "shown_by": item.shown_by,
                "state": "closed",
            }
            self.one_entry(f"{self.path}/water/{item.uid}", body)
        self.put(f"/api/elements/{self.wall.pk}/looked-at", {"looked_at": True})
        self.assertEqual(self.states()[self.wall.pk], "open", "closed without what had to be shown, layers not stated")
        stone = {"id": "s", "material": "sandstone_rubble", "thickness_mm": 300, "existing": True, "known": "seen"}
        found = self.wall.as_found
        found.build_up = {"layers": [stone]}
        found.save()
        WaterItem.objects.update(photos=["photo-0001"])
        self.assertEqual(self.states()[self.wall.pk], "ready")
        found.build_up = {"layers": [{**stone, "known": "assumed"}]}
        found.save()
        self.assertEqual(self.states()[self.wall.pk], "open", "a layer that is only assumed")
        found.build_up = {"layers": [stone]}
        found.save()
        other = self.element("main/a")
        problem = self.put(f"/api/elements/{other.pk}/override", {"reason": "demolished", "name": " "}, 422)
        self.assertEqual(problem["code"], "override_incomplete")
        self.one_entry(f"/api/elements/{other.pk}/override", {"reason": "demolished", "name": "I. Marr"})
        self.assertEqual(self.states()[other.pk], "ready by override")
        page = self.client.get(self.path).json()
        self.assertIn("I. Marr: demolished", page["readiness"][str(other.pk)]["reasons"][0])

    def test_overruling_needs_a_reason_and_taking_back_takes_the_items(self) -> None:
        self.pin()
        path = f"{self.path}/evidence/pin-00001/cause"
        problem = self.put(path, {"mechanism": "plumbing"}, 422)
        self.assertEqual(problem["code"], "reason_missing")
        self.put(path, {"mechanism": "plumbing", "reason": "wet pipe above"})
        self.assertTrue(WaterItem.objects.filter(remedy="pipes").exists())
        self.put(path, {"mechanism": ""})
        self.assertEqual((WaterItem.objects.count(), Evidence.objects.get().cause), (0, ""))
        self.assertEqual(self.put(path, {"mechanism": "witchcraft", "reason": "x"}, 422)["code"], "no_such_mechanism")

    def test_water_items_strike_out_with_a_reason_only(self) -> None:
        body = {"elements": [self.wall.pk], "stage": "site", "title": "Clear the gutter"}
        self.one_entry(f"{self.path}/water/item-0001", body)
        problem = self.put(f"{self.path}/water/item-0001", {**body, "state": "not needed", "reason": " "}, 422)
        self.assertEqual(problem["code"], "reason_missing")
        self.assertEqual(WaterItem.objects.get().state, "open")
        self.put(f"{self.path}/water/item-0001", {**body, "state": "not needed", "reason": "no gutter here"})
        self.assertEqual(WaterItem.objects.get().closed_by, "Owner")
        self.assertEqual(self.put(f"{self.path}/water/item-0002", {**body, "elements": []}, 422)["code"], "no_element")
        self.assertEqual(self.put(f"{self.path}/water/item-0002", {**body, "stage": "x"}, 422)["code"], "no_such_stage")

    def test_an_element_of_another_project_is_refused(self) -> None:
        stranger = corrie(person("other")).elements.first()
        assert stranger
        problem = self.put(f"{self.path}/evidence/pin-00009", {**self.body, "element_id": stranger.pk}, 422)
        self.assertEqual(problem["code"], "no_such_element")
        item = {"elements": [stranger.pk], "stage": "site", "title": "x"}
        self.assertEqual(self.put(f"{self.path}/water/item-0009", item, 422)["code"], "no_such_element")

    def test_a_uid_that_is_none(self) -> None:
        self.put(f"{self.path}/evidence/short", self.body, 422)
        self.put(f"{self.path}/water/a%20b%20c%20d%20e", {"elements": [1], "stage": "site", "title": "x"}, 422)


class PhotoTests(Base):
    def send_photo(self, raw: bytes, uid: str = "photo-0001") -> Any:
        return self.client.post(
            f"{self.path}/photos/{uid}", {"file": SimpleUploadedFile("p.jpg", raw), "caption": "wall"}
        )

    def test_shrunk_stripped_and_once(self) -> None:
        answer = self.send_photo(jpeg())
        self.assertEqual((answer.json()["width"], answer.json()["height"]), (1600, 1200))
        photo = Photo.objects.get()
        with Image.open(photo.path()) as kept:
            self.assertEqual((kept.size, dict(kept.getexif())), ((1600, 1200), {}))
        self.assertEqual(self.send_photo(jpeg()).json()["uid"], "photo-0001")
        self.assertEqual(Photo.objects.count(), 1)
        small = self.client.get(f"{self.path}/photos/photo-0001?small=true")
        with Image.open(io.BytesIO(b"".join(small.streaming_content))) as shown:  # type: ignore[attr-defined]
            self.assertEqual(max(shown.size), 320)
        with self.captureOnCommitCallbacks(execute=True):
            self.assertEqual(self.client.delete(f"{self.path}/photos/photo-0001").status_code, 204)
        self.assertFalse(photo.path().exists())

    def files(self) -> list[str]:
        return sorted(str(path) for path in settings.PHOTOS.rglob("*.jpg"))

    def test_what_is_no_photo_is_refused(self) -> None:
        before = self.files()
        self.assertEqual(self.send_photo(b"not a picture").json()["code"], "no_photo")
        self.assertEqual(self.send_photo(jpeg()[:500]).json()["code"], "no_photo")
        with override_settings(LARGEST_PHOTO=-FORM_OVERHEAD):
            self.assertEqual(self.send_photo(jpeg()).json()["code"], "too_large")
        self.assertEqual(Photo.objects.count(), 0)
        self.assertEqual(self.files(), before)


class MeasurementTests(Base):
    def test_the_simulated_gauge_reads_a_valid_test_for_any_project(self) -> None:
        # a stand-in that fails its own norm for every tenth project is no help to anybody
        for seed in range(300):
            result = airtightness(simulated(244.0, 9.1, seed), 244.0, 250.0)
            self.assertEqual([c.name for c in result.checks if not c.met], [], seed)

    def test_a_test_is_fitted_refused_with_reason_and_taken(self) -> None:
        self.shaped()
        test = self.client.get(f"{self.path}/gauge").json()["test"]
        path = f"{self.path}/measurements/test-0001"
        answer = self.one_entry(path, {"kind": "blower_door", "blower_door": test})
        n50 = answer["airtightness"]["n50"]
        self.assertTrue(n50["low"] < n50["value"] < n50["high"])
        self.assertAlmostEqual(n50["value"], 9.0, delta=0.5)
        taken = send(self.client, "POST", f"{path}/take-n50").json()
        self.assertEqual(taken["air_value"], round(n50["value"], 2))
        few = {**test, "points": test["points"][:2]}
        answer = self.put(path, {"kind": "blower_door", "blower_door": few, "base_revision": 1})
        self.assertIsNone(answer["airtightness"])
        self.assertIn("a line needs three", answer["refused"])
        Project.objects.update(volume_m3=None)
        self.put(path, {"kind": "blower_door", "blower_door": test, "base_revision": 2})
        refused = send(self.client, "POST", f"{path}/take-n50")
        self.assertEqual(refused.json()["code"], "volume_missing")

    def test_pasted_readings_name_the_bad_row(self) -> None:
        good = send(self.client, "POST", "/api/measure/flow-points", {"text": "-50; 2310\n60; 2600"}).json()
        self.assertEqual([p["direction"] for p in good], ["depressurise", "pressurise"])
        bad = send(self.client, "POST", "/api/measure/flow-points", {"text": "-50; 2310\n60; two"})
        self.assertEqual(bad.status_code, 422)
        self.assertIn("row 2", bad.json()["message"])

    def test_readings_without_data_are_refused(self) -> None:
        problem = self.put(f"{self.path}/measurements/read-0001", {"kind": "thermal"}, 422)
        self.assertEqual(problem["code"], "no_data")
        self.assertEqual(Measurement.objects.count(), 0)


class HouseTests(TestCase):
    def setUp(self) -> None:
        self.owner = person("owner")
        self.project = corrie(self.owner)
        self.client = client_of(self.owner)

    def house(self, query: str = "") -> Any:
        return self.client.get(f"/api/projects/{self.project.pk}/house{query}").json()

    def test_the_bands_carry_heat_layers_and_readiness(self) -> None:
        house = self.house()
        bands = {band["name"]: band for band in house["bands"]}
        for name in ("Platform face, upper", "Roof, rain side", "Ground floor over the void", "Shed roof, tin"):
            self.assertIn(name, bands)
        heat = self.client.get(f"/api/projects/{self.project.pk}/heat").json()
        face = next(row for row in heat["rows"] if row["name"] == "Platform face, upper")
        self.assertEqual(bands["Platform face, upper"]["before_w_k"], face["before_w_k"])
        self.assertAlmostEqual(house["total_before_w_k"], heat["total"]["before_w_k"])
        in_bands = {band["element_id"]: band["before_w_k"] for band in house["bands"] if band["element_id"]}
        listed = sum(row["before_w_k"] for row in house["listed"])
        self.assertAlmostEqual(sum(in_bands.values()) + listed, heat["total"]["before_w_k"], places=6)
        self.assertGreater(len(house["breaks"]), 0)
        states = {e["name"]: e["readiness"]["state"] for e in house["elements"]}
        self.assertEqual((states["Garden face"], states["Shed roof, tin"]), ("ready", "ready by override"))

    def test_joints_of_an_element_with_other_layers(self) -> None:
        """Nothing that insulates, and heat stops at its joints where the neighbour has it; with it, it does not."""
        wall = self.project.elements.get(name="Garden face")
        path = f"/api/elements/{wall.pk}/joints"

        def stops(build_up: Any) -> str:
            rows = send(self.client, "POST", path, {"build_up": build_up}).json()
            self.assertGreater(len(rows), 1)
            return " ".join(f"{row['other']}: {words['metric']}" for row in rows for words in row["stops"])

        chosen = wall.chosen
        assert chosen is not None
        bare, insulated = stops(wall.as_found.build_up), stops(chosen.build_up)
        self.assertIn("heat stops: Garden face", bare)
        self.assertNotIn("heat stops: Garden face", insulated)
        elsewhere = send(self.client, "POST", f"/api/projects/{self.project.pk}/elements", {"name": "X", "kind": "wall", "area_m2": 3}).json()["id"]  # fmt: skip
        answer = send(self.client, "POST", f"/api/elements/{elsewhere}/joints", {"build_up": chosen.build_up})
        self.assertEqual(answer.json(), [], "not in the shape")

    def test_another_cut(self) -> None:
        across = self.house("?axis=x&at=3.7")
        self.assertEqual((across["axis"], across["at_m"], across["left"], across["right"]), ("x", 3.7, "SW", "NE"))
        self.assertEqual({b["body"] for b in across["bands"]}, {"main"})
        beside = self.house("?axis=x&at=90")
        self.assertEqual(beside["bands"], [])

    def test_an_opening_up_list(self) -> None:
        page = self.client.get(f"/api/projects/{self.project.pk}/made").json()
        self.assertEqual(
            {(row["element"], row["layer"]) for row in page["opening_up"]},
            {("North-east gable", "sandstone rubble in lime"), ("Shed floor", "trodden earth")},
        )

    def test_the_other_two_demo_buildings_load_whole(self) -> None:
        from demo.scenarios import project_file

        for name in ("millrace-granary.json", "tarn-lodge.json"):
            with self.subTest(name), project_file(name) as stream:
                project = import_file(self.owner, stream, stream.seek(0, 2))
                house = self.client.get(f"/api/projects/{project.pk}/house").json()
                self.assertGreaterEqual(len([b for b in house["bands"] if b["element_id"]]), 6)
                self.assertEqual(house["refused"], "")
                shape = self.client.get(f"/api/projects/{project.pk}/shape").json()
                self.assertEqual((shape["disagreements"], shape["gone"], shape["refused"]), ([], [], ""))
                states = {
                    row["state"] for row in self.client.get(f"/api/projects/{project.pk}/water").json()["elements"]
                }
                self.assertEqual(states, {"ready", "open", "not looked at", "ready by override"})

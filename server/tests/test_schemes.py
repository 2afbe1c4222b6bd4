"""Schemes, phases, rejections, what decisions rest on: made, shown everywhere at once, refused, carried in the project file."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from core.buildup.growth import growth
from server.exchange.bring import import_file
from server.exchange.write import document, write
from server.projects.models import Choice, Element, HistoryEntry, Option, Project, Scheme
from server.schemes.models import Basis
from server.tests.helpers import client_of, corrie, person, send

PDF = b"%PDF-1.7\n1 0 obj <<>> endobj\ntrailer <<>>\n%%EOF\n"


class Schemes(TestCase):
    def setUp(self) -> None:
        self.user = person("anna")
        self.client = client_of(self.user)  # type: ignore[assignment]
        self.project = corrie(self.user)
        # one scheme, without phases, and nothing rejected: each test makes what it needs
        self.project.schemes.exclude(position=0).delete()
        self.project.shown_scheme().phases.all().delete()
        Option.objects.update(rejected_reason="", rejected_by="", rejected_at=None)
        self.path = f"/api/projects/{self.project.pk}"
        self.face = self.project.elements.get(name="Garden face")

    def schemes(self) -> dict[str, Any]:
        return {one["name"]: one for one in self.client.get(f"{self.path}/schemes").json()["schemes"]}

    def made(self, name: str, copy_of: int | None = None) -> int:
        answer = send(self.client, "POST", f"{self.path}/schemes", {"name": name, "copy_of": copy_of})
        self.assertEqual(answer.status_code, 201, answer.content)
        return Scheme.objects.get(project=self.project, name=name).pk

    def heat(self) -> Any:
        return self.client.get(f"{self.path}/heat").json()["total"]

    def show(self, scheme: int) -> None:
        self.assertEqual(send(self.client, "PUT", f"{self.path}/shown-scheme", {"scheme_id": scheme}).status_code, 200)

    def test_another_scheme_is_shown_by_every_view_at_once(self) -> None:
        first = Scheme.objects.get(project=self.project, position=0)
        before = self.heat()
        chosen = self.face.chosen
        empty = self.made("Roof alone")
        self.assertEqual(self.heat(), before, "making one shows nothing")
        self.show(empty)
        self.face.refresh_from_db()
        self.assertIsNone(Element.objects.get(pk=self.face.pk).chosen)
        after = self.heat()
        self.assertGreater(after["after_w_k"], before["after_w_k"])
        self.assertEqual(after["before_w_k"], before["before_w_k"])
        page = self.client.get(self.path).json()
        self.assertEqual((page["shown_scheme"], len(page["schemes"])), (empty, 2))
        self.assertTrue(all(e["chosen_id"] is None for e in page["elements"]))
        listed = next(p for p in self.client.get("/api/projects").json() if p["id"] == self.project.pk)
        self.assertEqual(listed["chosen"], 0)
        option = self.face.options.filter(role=Option.UPGRADE).last()
        assert option is not None
        send(self.client, "PUT", f"/api/elements/{self.face.pk}/choice", {"option_id": option.pk, "reason": "cheap"})
        self.assertEqual(Choice.objects.get(scheme=empty, element=self.face).option, option)
        self.show(first.pk)
        self.assertEqual(Element.objects.get(pk=self.face.pk).chosen, chosen)
        self.assertEqual(self.heat(), before)

    def test_figures_of_a_scheme_are_those_it_has_when_shown(self) -> None:
        first = Scheme.objects.get(project=self.project, position=0)
        copy = self.made("Copy", first.pk)
        empty = self.made("Nothing")
        rows = self.schemes()
        self.assertEqual(rows["Copy"]["w_k"], rows[first.name]["w_k"])
        self.assertEqual(rows["Copy"]["chosen"], Choice.objects.filter(scheme=first).count())
        self.assertEqual(rows["Nothing"]["chosen"], 0)
        for name, pk in (("Copy", copy), ("Nothing", empty)):
            self.show(pk)
            self.assertAlmostEqual(self.heat()["after_w_k"], rows[name]["w_k"])
        inside = next(o for o in self.face.options.filter(role=Option.UPGRADE) if "Inside" in o.name)
        self.show(empty)
        send(self.client, "PUT", f"/api/elements/{self.face.pk}/choice", {"option_id": inside.pk, "reason": "x"})
        _, room = growth(self.face.as_found.current, inside.current, self.face.place)
        self.assertAlmostEqual(self.schemes()["Nothing"]["floor_lost_m2"], room * self.face.area_m2 / 2.5)
        send(self.client, "PUT", f"/api/elements/{self.face.pk}/choice", {"option_id": None})
        self.assertEqual(rows["Copy"]["not_run"], rows["Copy"]["chosen"], "no year of it was run here")

    def test_phases_make_a_heat_stair(self) -> None:
        scheme = Scheme.objects.get(project=self.project, position=0)
        path = f"/api/schemes/{scheme.pk}/phases"
        phases = [{"name": "roof", "years_after": 3}, {"name": "walls"}, {"name": "the rest"}]
        answer = send(self.client, "PUT", path, {"revision": 1, "phases": phases}).json()
        made = answer["schemes"][0]["phases"]
        self.assertEqual([p["name"] for p in made], ["roof", "walls", "the rest"])
        late = send(self.client, "PUT", path, {"revision": 1, "phases": []})
        self.assertEqual(late.status_code, 409)
        walls = [e for e in self.project.elements.filter(kind="wall") if e.chosen is not None]
        for element in walls:
            answer = send(self.client, "PUT", f"/api/elements/{element.pk}/phase", {"phase_id": made[1]["id"]}).json()
        stair = answer["schemes"][0]["phases"]
        self.assertEqual(set(stair[1]["elements"]), {e.name for e in walls})
        losses = [answer["before_w_k"], *(p["w_k"] for p in stair)]
        self.assertEqual(losses, sorted(losses, reverse=True))
        self.assertAlmostEqual(stair[-1]["w_k"], answer["schemes"][0]["w_k"])
        heat = self.client.get(f"{self.path}/heat").json()
        saved = sum(r["before_w_k"] - r["after_w_k"] for r in heat["rows"] if r["element_id"] in {e.pk for e in walls})
        self.assertAlmostEqual(stair[0]["w_k"] - stair[1]["w_k"], saved)
        wrong = send(self.client, "PUT", f"/api/elements/{walls[0].pk}/phase", {"phase_id": 10**6})
        self.assertEqual(wrong.status_code, 422)
        kept = [{"id": made[2]["id"], "name": "last"}, {"id": made[1]["id"], "name": "walls"}]
        answer = send(self.client, "PUT", path, {"revision": 2, "phases": kept}).json()
        self.assertEqual([p["name"] for p in answer["schemes"][0]["phases"]], ["last", "walls"])
        foreign = send(self.client, "PUT", path, {"revision": 3, "phases": [{"id": 10**6, "name": "x"}]})
        self.assertEqual(foreign.json()["code"], "no_such_phase")

    def test_what_stands_until_the_choice_is_built(self) -> None:
        scheme = self.project.shown_scheme()
        path = f"/api/schemes/{scheme.pk}/phases"
        phases = [{"name": "shell", "years_after": 2.5}, {"name": "walls", "years_after": 1}, {"name": "last"}]
        made = send(self.client, "PUT", path, {"revision": scheme.revision, "phases": phases}).json()
        ids = [phase["id"] for phase in made["schemes"][0]["phases"]]
        here = f"/api/elements/{self.face.pk}"
        chosen = self.face.chosen
        assert chosen is not None
        other = self.face.options.filter(role=Option.UPGRADE).exclude(pk=chosen.pk).first()
        assert other is not None

        def put(option: int | None, phase: int | None = None) -> Any:
            return send(self.client, "PUT", f"{here}/between", {"option_id": option, "phase_id": phase})

        def row(answer: Any) -> Any:
            return next(one for one in answer["choices"] if one["element_id"] == self.face.pk)

        def losses(answer: Any) -> list[float]:
            return [phase["w_k"] for phase in answer["schemes"][0]["phases"]]

        self.assertEqual(put(chosen.pk).json()["code"], "no_between")
        self.assertEqual(put(self.face.as_found.pk).json()["code"], "no_between")
        self.assertEqual(put(other.pk, 10**6).json()["code"], "no_such_phase")
        send(self.client, "PUT", f"{here}/phase", {"phase_id": ids[0]})
        self.assertEqual(row(put(other.pk, ids[0]).json())["between_state"], "not before it")
        answer = send(self.client, "PUT", f"{here}/phase", {"phase_id": ids[2]}).json()
        found = row(answer)
        self.assertEqual(
            (found["between_id"], found["between_state"], found["years_between"]), (other.pk, "not run", 4)
        )
        self.assertNotIn(chosen.pk, [one["id"] for one in found["others"]])
        with_it = losses(answer)
        heat = self.client.get(f"{self.path}/heat").json()
        after = next(one for one in heat["rows"] if one["element_id"] == self.face.pk)
        without = losses(put(None).json())
        u = self.client.get(f"{here}/sheet").json()["options"]
        stands = next(one for one in u if one["id"] == other.pk)["figures"]["thermal"]["u_effective"]
        self.assertAlmostEqual(without[0] - with_it[0], (after["u_before"] - stands) * after["area_m2"], places=6)
        self.assertAlmostEqual(without[0] - with_it[0], without[1] - with_it[1])
        self.assertAlmostEqual(without[2], with_it[2], msg="once it is built nothing else stands")
        put(other.pk, ids[0])
        refused = send(self.client, "PUT", f"/api/options/{other.pk}/rejection", {"reason": "no"})
        self.assertEqual(refused.json()["code"], "chosen")
        with write(Project.objects.get(pk=self.project.pk)) as stream:
            raw = stream.read()
        copied = import_file(person("bert"), io.BytesIO(raw), len(raw))
        choice = copied.elements.get(name=self.face.name).choice
        assert choice is not None and choice.between is not None and choice.between_phase is not None
        self.assertEqual((choice.between.name, choice.between_phase.name), (other.name, "shell"))
        send(self.client, "PUT", f"{here}/choice", {"option_id": other.pk, "reason": "it stays"})
        self.assertIsNone(Choice.objects.get(scheme=scheme, element=self.face).between)

    def test_the_last_scheme_stays_and_the_others_go(self) -> None:
        first = Scheme.objects.get(project=self.project, position=0)
        self.assertEqual(self.client.delete(f"/api/schemes/{first.pk}").status_code, 422)
        other = self.made("Other", first.pk)
        self.show(other)
        self.assertEqual(self.client.delete(f"/api/schemes/{first.pk}").status_code, 200)
        left = Scheme.objects.get(project=self.project)
        self.assertEqual((left.pk, left.position), (other, 0))
        self.assertIsNotNone(Element.objects.get(pk=self.face.pk).chosen)
        self.assertEqual(HistoryEntry.objects.filter(project=self.project, action="remove scheme").count(), 1)

    def test_an_option_is_rejected_with_its_own_reason(self) -> None:
        chosen = self.face.chosen
        assert chosen is not None
        other = self.face.options.filter(role=Option.UPGRADE).exclude(pk=chosen.pk).first()
        assert other is not None
        refused = send(self.client, "PUT", f"/api/options/{chosen.pk}/rejection", {"reason": "ugly"})
        self.assertEqual(refused.json()["code"], "chosen")
        found = send(self.client, "PUT", f"/api/options/{self.face.as_found.pk}/rejection", {"reason": "ugly"})
        self.assertEqual(found.json()["code"], "as_found")
        self.assertEqual(
            send(self.client, "PUT", f"/api/options/{other.pk}/rejection", {"reason": "takes the room"}).status_code,
            204,
        )
        row = next(
            o for o in self.client.get(f"/api/elements/{self.face.pk}/sheet").json()["options"] if o["id"] == other.pk
        )
        self.assertEqual((row["rejected_reason"], row["rejected_by"]), ("takes the room", "Anna"))
        send(self.client, "PUT", f"/api/options/{other.pk}/rejection", {"reason": " "})
        other.refresh_from_db()
        self.assertEqual((other.rejected_reason, other.rejected_at), ("", None))

    def test_what_was_decided_is_kept_and_put_back(self) -> None:
        chosen = self.face.chosen
        assert chosen is not None
        other = self.face.options.filter(role=Option.UPGRADE).exclude(pk=chosen.pk).first()
        assert other is not None
        here = f"/api/elements/{self.face.pk}"

        def decisions() -> list[dict[str, Any]]:
            return self.client.get(f"{here}/decisions").json()

        def back(entry: int, status: int = 200) -> Any:
            answer = send(self.client, "POST", f"{here}/decisions/{entry}/back")
            self.assertEqual(answer.status_code, status, answer.content)
            return answer.json()

        self.assertEqual(decisions(), [])
        send(self.client, "PUT", f"{here}/choice", {"option_id": other.pk, "reason": "cheaper"})
        [first] = decisions()
        self.assertTrue(first["was"].startswith(chosen.name), first)
        self.assertEqual(first["now"], f"{other.name}: cheaper")
        back(first["id"])
        again = Element.objects.get(pk=self.face.pk)
        self.assertEqual((again.chosen, again.chosen_reason), (chosen, self.face.chosen_reason))
        empty = self.made("Another")
        self.show(empty)
        self.assertEqual(back(first["id"], 409)["code"], "another_scheme", "never into the scheme that is shown now")
        row = next(one for one in decisions() if one["id"] == first["id"])
        self.assertEqual((row["back"], row["scheme"]), ("", self.project.schemes.get(position=0).name))
        self.show(self.project.schemes.get(position=0).pk)
        old = HistoryEntry.objects.get(pk=first["id"])
        kept = old.after
        HistoryEntry.objects.filter(pk=old.pk).update(after={"option": other.pk})
        row = next(one for one in decisions() if one["id"] == old.pk)
        self.assertEqual((row["back"], row["scheme"]), ("", "a scheme that is not known any more"))
        self.assertEqual(back(old.pk, 409)["code"], "another_scheme", "of two it could be either")
        HistoryEntry.objects.filter(pk=old.pk).update(after=kept)
        send(self.client, "PUT", f"/api/options/{other.pk}/rejection", {"reason": "takes the room"})
        rejected = decisions()[0]
        self.assertEqual((rejected["was"], rejected["now"]), ("not rejected", "takes the room"))
        back(rejected["id"])
        other.refresh_from_db()
        self.assertEqual(other.rejected_reason, "")
        send(self.client, "PUT", f"/api/options/{other.pk}/rejection", {"reason": "takes the room"})
        self.client.delete(f"/api/options/{other.pk}")
        removed = decisions()[0]
        self.assertEqual((removed["was"], removed["back"]), (other.name, "Bring it back"))
        self.assertEqual([row["back"] for row in back(removed["id"])][:1], [""], "it is there again")
        restored = self.face.options.get(name=other.name)
        self.assertEqual((restored.current, restored.rejected_reason), (other.current, "takes the room"))
        self.assertEqual(back(removed["id"], 409)["code"], "cannot_be_put_back")
        undone = next(row for row in decisions() if row["was"].startswith("an option that is gone"))
        self.assertEqual(undone["back"], "")
        self.assertEqual(back(undone["id"], 409)["code"], "cannot_be_put_back")
        self.assertEqual(send(self.client, "POST", f"{here}/decisions/{10**6}/back").status_code, 404)

    def test_what_a_decision_rests_on_with_its_document(self) -> None:
        option = self.face.options.filter(role=Option.UPGRADE).first()
        assert option is not None
        path = f"{self.path}/bases/basis-0001"
        body = {"element_id": self.face.pk, "option_id": option.pk, "kind": "specification", "who": "Fixings maker", "on": "2026-03-01",
                "text": "pull-out of a screw in rubble"}  # fmt: skip
        row = send(self.client, "PUT", path, body).json()
        self.assertEqual((row["revision"], row["kind"]), (1, "specification"))
        answered = {**body, "answer": "will not put it in writing", "answered_on": "2026-03-20", "base_revision": 1}
        self.assertEqual(send(self.client, "PUT", path, answered).json()["revision"], 2)
        self.assertEqual(send(self.client, "PUT", path, {**answered, "base_revision": 1}).status_code, 409)
        for raw, code in ((b"not a pdf", "no_pdf"), (b"%PDF-1.7 cut off", "no_pdf")):
            wrong = self.client.post(f"{path}/document", {"file": SimpleUploadedFile("x.pdf", raw)})
            self.assertEqual(wrong.json()["code"], code)
        kept = self.client.post(f"{path}/document", {"file": SimpleUploadedFile("letter.pdf", PDF)}).json()
        self.assertEqual((kept["document"], kept["size"]), ("letter.pdf", len(PDF)))
        back = self.client.get(f"{path}/document")
        self.assertEqual(b"".join(back.streaming_content), PDF)  # type: ignore[attr-defined]
        self.assertIn("attachment", back["Content-Disposition"])
        for change, code in (
            ({"option_id": 10**6}, "no_such_option"),
            ({"photos": ["no-such-photo"]}, "no_such_photo"),
            ({"element_id": 10**6}, "no_such_element"),
        ):
            self.assertEqual(
                send(self.client, "PUT", f"{self.path}/bases/basis-0002", {**body, **change}).json()["code"], code
            )
        file = Basis.objects.get().path
        self.assertTrue(file.exists())
        with self.captureOnCommitCallbacks(execute=True):
            self.assertEqual(self.client.delete(path).status_code, 204)
        self.assertFalse(file.exists())

    def whole(self) -> None:
        """Two schemes, phases, a rejection and a document."""
        first = Scheme.objects.get(project=self.project, position=0)
        send(
            self.client,
            "PUT",
            f"/api/schemes/{first.pk}/phases",
            {"revision": 1, "phases": [{"name": "roof", "years_after": 2}, {"name": "walls"}]},
        )
        send(self.client, "PUT", f"/api/elements/{self.face.pk}/phase", {"phase_id": first.phases.last().pk})  # type: ignore[union-attr]
        self.show(self.made("Outside only", first.pk))
        other = self.face.options.filter(role=Option.UPGRADE).last()
        assert other is not None
        send(
            self.client, "PUT", f"/api/elements/{self.face.pk}/choice", {"option_id": other.pk, "reason": "another way"}
        )
        loser = Option.objects.filter(element__project=self.project, role=Option.UPGRADE, choices=None).first()
        assert loser is not None
        send(self.client, "PUT", f"/api/options/{loser.pk}/rejection", {"reason": "no"})
        path = f"{self.path}/bases/basis-0001"
        send(
            self.client,
            "PUT",
            path,
            {"element_id": self.face.pk, "option_id": other.pk, "kind": "pull test", "who": "Site", "text": "1.2 kN"},
        )
        self.client.post(f"{path}/document", {"file": SimpleUploadedFile("test.pdf", PDF)})

    def test_the_project_file_carries_all_of_it(self) -> None:
        self.whole()
        with write(Project.objects.get(pk=self.project.pk)) as stream:
            raw = stream.read()
        copy = import_file(person("bert"), io.BytesIO(raw), len(raw))
        self.assertEqual(document(Project.objects.get(pk=copy.pk)), document(Project.objects.get(pk=self.project.pk)))
        self.assertEqual(Basis.objects.get(project=copy).path.read_bytes(), PDF)
        self.assertEqual(copy.shown_scheme().name, "Outside only")

    def test_a_file_whose_schemes_lead_nowhere_is_refused(self) -> None:
        self.whole()
        with write(Project.objects.get(pk=self.project.pk)) as stream:
            raw = stream.read()
        with zipfile.ZipFile(io.BytesIO(raw)) as archive:
            members = {name: archive.read(name) for name in archive.namelist()}
        good = json.loads(members["project.json"])

        def with_change(change: Any, without: str = "") -> Any:
            content = json.loads(json.dumps(good))
            change(content)
            out = io.BytesIO()
            with zipfile.ZipFile(out, "w") as archive:
                for name, value in members.items():
                    if not without or without not in name:
                        archive.writestr(name, json.dumps(content) if name == "project.json" else value)
            return self.client.post("/api/projects/import", {"file": SimpleUploadedFile("p.zip", out.getvalue())})

        count = Project.objects.count()
        changes: list[tuple[Any, str]] = [
            (lambda c: c["schemes"][1]["choices"][0].update(option=0), "points to no option"),
            (lambda c: c["schemes"][1]["choices"][0].update(phase=9), "points to no phase"),
            (lambda c: c["schemes"][1]["choices"][0].update(between=0), "points to no option"),
            (lambda c: c["schemes"][1]["choices"][0].update(between_phase=9), "points to no phase"),
            (lambda c: c["schemes"][1]["choices"].append(c["schemes"][1]["choices"][0]), "chooses twice"),
            (lambda c: c["schemes"][0].update(shown=True), "Two schemes"),
            (lambda c: c["schemes"][0].update(choices=c["schemes"][1]["choices"]), "stand with the elements"),
            (lambda c: c["bases"][0].update(option=50), "points to no option"),
            (lambda c: c["bases"][0].update(element=900), "which is not there"),
        ]
        for change, words in changes:
            with self.subTest(words):
                answer = with_change(change)
                self.assertEqual(answer.status_code, 422)
                self.assertIn(words, answer.json()["message"])
        self.assertIn("is not in the zip", with_change(lambda c: None, "documents/").json()["message"])
        members["documents/basis-0001.pdf"] = b"<html>"
        self.assertIn("is no PDF", with_change(lambda c: None).json()["message"])
        self.assertEqual(Project.objects.count(), count)

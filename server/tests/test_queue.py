"""The queue: people take turns, who looks comes first, studies last, as found before its options; what is said of it."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.test import TestCase

from server.projects.models import Element, Option, Project
from server.runs import kinds
from server.runs.actions import look_at
from server.runs.models import Batch, Run
from server.runs.states import Waiting
from server.tests.helpers import client_of, person

LAYERS = {"layers": [{"id": "a", "material": "brick_old", "thickness_mm": 220, "existing": True}]}


class Queue(TestCase):
    def setUp(self) -> None:
        self.count = 0

    def wall(self, owner: User) -> Option:
        project = Project.objects.create(owner=owner, name="House")
        element = Element.objects.create(project=project, name="W", kind="wall", area_m2=10)
        Option.objects.create(element=element, role=Option.AS_FOUND, name="As found", build_up=LAYERS)
        return Option.objects.create(element=element, name="Lined", build_up=LAYERS)

    def put(self, option: Option, status: str = Run.WAITING, **more: Any) -> int:
        self.count += 1
        kind = Run.BRIEF if "batch" in more else Run.YEARS
        row = Run.objects.create(
            project=option.element.project,
            option=option,
            kind=kind,
            status=status,
            case_hash=f"case {self.count}",
            build_up=LAYERS,
            place={},
            **more,
        )
        return row.pk

    def batch(self, option: Option, kind: str) -> Batch:
        return Batch.objects.create(element=option.element, option=option, kind=kind, settings={}, asked_by="x")

    def test_one_run_does_not_wait_behind_a_hundred_of_somebody_else(self) -> None:
        busy, guest = self.wall(person("busy")), self.wall(person("guest"))
        theirs = [self.put(busy) for _ in range(20)]
        mine = self.put(guest)
        order = Run.objects.in_turn()
        self.assertLessEqual(order.index(mine), 1)
        self.assertEqual([pk for pk in order if pk != mine], theirs)

    def test_who_has_fewest_under_way_comes_first(self) -> None:
        busy, guest = self.wall(person("busy")), self.wall(person("guest"))
        for _ in range(2):
            self.put(busy, Run.RUNNING)
        first = self.put(busy)
        mine = self.put(guest)
        self.assertEqual(Run.objects.in_turn(), [mine, first])

    def test_a_kind_of_another_room_waits_belongs_to_a_project_and_is_seen_by_nobody_else(self) -> None:
        option = self.wall(person("first"))
        years = self.put(option)
        project = option.element.project
        own = Run.objects.create(project=project, kind="made up", case_hash="of no option")
        self.assertEqual(Run.objects.in_turn(), [own.pk, years])
        self.assertEqual(list(Run.objects.viewable_by(person("second"))), [])
        self.assertEqual(set(Run.objects.viewable_by(project.owner)), {own, Run.objects.get(pk=years)})
        with self.assertRaises(ValueError):
            _ = own.of_option
        with self.assertRaises(ValueError):
            kinds.work_of("made up")

    def test_people_take_turns(self) -> None:
        options = [self.wall(person(name)) for name in ("a", "b", "c")]
        rows = {option.pk: [self.put(option) for _ in range(3)] for option in options}
        order = Run.objects.in_turn()
        for turn in range(3):
            with self.subTest(turn=turn):
                self.assertEqual(set(order[3 * turn : 3 * turn + 3]), {rows[option.pk][turn] for option in options})

    def test_within_a_person_batches_then_as_found_then_options_then_studies(self) -> None:
        option = self.wall(person("a"))
        found = option.element.as_found
        study = self.put(option, batch=self.batch(option, Batch.STUDY))
        years = self.put(option)
        as_found = self.put(found)
        wetting = self.put(option, batch=self.batch(option, Batch.WETTING))
        self.assertEqual(Run.objects.in_turn(), [wetting, as_found, years, study])

    def test_what_somebody_looks_at_comes_before_their_other_runs(self) -> None:
        option = self.wall(person("a"))
        others = [self.put(option) for _ in range(4)]
        looked = others[-1]
        Run.objects.filter(pk=looked).update(looked_at=True)
        self.assertEqual(Run.objects.in_turn()[0], looked)

    def test_what_stands_behind_comes_after_everything_of_everybody_until_it_is_asked_for(self) -> None:
        first, second = self.wall(person("first")), self.wall(person("second"))
        behind = [self.put(first, behind=True), self.put(second, behind=True)]
        asked = [self.put(first), self.put(second), self.put(second)]
        order = Run.objects.in_turn()
        self.assertEqual((set(order[:3]), set(order[3:])), (set(asked), set(behind)))
        look_at(second.element.project.owner, second.element_id)
        self.assertEqual(Run.objects.in_turn()[-1], behind[0])

    def test_a_run_says_how_many_come_before_and_about_how_long(self) -> None:
        option = self.wall(person("a"))
        for seconds in (4.0, 8.0):
            self.put(option, Run.DONE, seconds=seconds)
        rows = [self.put(option) for _ in range(5)]
        queue = Waiting()
        before = [queue.of(Run.objects.get(pk=pk)) for pk in rows]
        self.assertEqual([count for count, _ in before], [0, 1, 2, 3, 4])
        waits = [wait for _, wait in before]
        self.assertEqual(waits[0], 0.0)
        self.assertGreater(waits[4] or 0.0, waits[1] or 0.0)

    def test_without_a_finished_run_no_time_is_promised(self) -> None:
        option = self.wall(person("a"))
        pk = self.put(option)
        self.assertEqual(Waiting().of(Run.objects.get(pk=pk)), (0, None))

    def test_the_next_one_taken_is_the_first_in_turn(self) -> None:
        busy, guest = self.wall(person("busy")), self.wall(person("guest"))
        for _ in range(5):
            self.put(busy)
        self.put(guest)
        expected = Run.objects.in_turn()[0]
        taken = Run.objects.claim_next()
        assert taken is not None
        self.assertEqual(taken.pk, expected)
        self.assertEqual(taken.status, Run.RUNNING)
        self.assertNotIn(taken.pk, Run.objects.in_turn())

    def test_what_starts_from_an_as_found_run_under_way_waits_for_it(self) -> None:
        option = self.wall(person("a"))
        running = self.put(option.element.as_found, Run.RUNNING)
        key = Run.objects.get(pk=running).case_hash
        self.put(option, found_key=key)
        self.assertIsNone(Run.objects.claim_next())
        Run.objects.filter(pk=running).update(status=Run.DONE)
        self.assertIsNotNone(Run.objects.claim_next())

    def test_a_stranger_sees_only_their_own(self) -> None:
        mine, theirs = person("mine"), person("theirs")
        self.put(self.wall(mine))
        other = self.put(self.wall(theirs))
        rows = client_of(mine).get("/api/runs").json()
        self.assertEqual(len(rows), 1)
        self.assertNotIn(other, [row["id"] for row in rows])

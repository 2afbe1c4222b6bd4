"""Results on disk: written whole or not at all, whoever writes them and however many at once."""

from __future__ import annotations

import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from unittest import TestCase

from server.runs.worker import keep_outcome


class _Outcome:
    """Two files written one after the other, as an outcome's are; the last says that it is whole."""

    def save(self, folder: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        (folder / "water.npy").write_bytes(b"0" * 4096)
        (folder / "outcome.json").write_text("{}")


class Kept(TestCase):
    def setUp(self) -> None:
        root = tempfile.TemporaryDirectory()
        self.addCleanup(root.cleanup)
        self.folder = Path(root.name) / "8a" / "8aa2"

    def assert_whole(self) -> None:
        self.assertEqual(sorted(path.name for path in self.folder.iterdir()), ["outcome.json", "water.npy"])
        self.assertEqual(list(self.folder.parent.glob("*.tmp")), [])

    def test_many_workers_keep_the_same_case_at_once(self) -> None:
        with ThreadPoolExecutor(16) as pool:
            for done in [pool.submit(keep_outcome, _Outcome(), self.folder) for _ in range(200)]:
                done.result()  # type: ignore[arg-type]
        self.assert_whole()

    def test_half_a_result_gives_way_to_a_whole_one(self) -> None:
        self.folder.mkdir(parents=True)
        (self.folder / "water.npy").write_bytes(b"half")
        keep_outcome(_Outcome(), self.folder)  # type: ignore[arg-type]
        self.assert_whole()
        self.assertEqual((self.folder / "water.npy").stat().st_size, 4096)

    def test_a_result_that_is_there_stays_for_those_who_read_it(self) -> None:
        keep_outcome(_Outcome(), self.folder)  # type: ignore[arg-type]
        before = (self.folder / "water.npy").stat().st_ino
        keep_outcome(_Outcome(), self.folder)  # type: ignore[arg-type]
        self.assertEqual((self.folder / "water.npy").stat().st_ino, before)

"""A case says everything, and what it may not say is refused with place and reason."""

from __future__ import annotations

import json
from typing import Any
from unittest import TestCase

from core.case import Case, case_from_dict, read_case
from core.cases.examples import EXAMPLES, example_path, example_text
from core.errors import CaseRefused, OutOfRange
from core.moisture.transient.boundary import build_boundary
from core.tests.helpers import STONE, case, film, small


class Refusals(TestCase):
    def refused(self, raw: dict[str, Any], *words: str, error: type[Exception] = CaseRefused) -> None:
        with self.assertRaises(error) as caught:
            build_boundary(case_from_dict(raw))
        for word in words:
            self.assertIn(word, str(caught.exception))

    def test_humidity_over_one(self) -> None:
        self.refused(small(initial={"temperature_c": 12, "rh": 1.3}), "initial.rh", "1.3")
        self.refused(small(outside=film(3, 1.3)), "1.3", "outside.moisture.air_rh", error=OutOfRange)

    def test_a_file_is_taken_at_its_word(self) -> None:
        """`true` is no metre, a figure in quotes no figure, `"no"` no switch."""
        for change, place in (
            (lambda raw: raw["layers"][0].update(thickness_m=True), "layers.0"),
            (lambda raw: raw["layers"][0].update(thickness_m="0.08"), "layers.0"),
            (lambda raw: raw.update(switches={"heat": "no"}), "switches.heat"),
            (lambda raw: raw.update(title=7), "title"),
        ):
            raw = small()
            read_case(json.dumps(raw))
            change(raw)
            with self.subTest(place=place), self.assertRaises(CaseRefused) as caught:
                read_case(json.dumps(raw))
            self.assertIn(place, str(caught.exception))

    def test_humidity_zero_and_the_floor(self) -> None:
        self.refused(small(initial={"temperature_c": 12, "rh": 0.0}), "initial.rh", "0.001")

    def test_missing_material(self) -> None:
        raw = small()
        raw["layers"][0]["material"] = "granite"
        self.refused(raw, "granite", "not in the case")

    def test_materials_in_a_loop(self) -> None:
        raw = small()
        raw["materials"] = {"stone": {"like": "other"}, "other": {"like": "stone"}, "fibre": STONE}
        self.refused(raw, "loop", "stone → other → stone")

    def test_series_in_a_loop_and_pointing_nowhere(self) -> None:
        raw = small(series={"a": {"ref": "b"}, "b": {"ref": "a"}})
        self.refused(raw, "loop", "a → b → a")
        self.refused(small(outside=film({"ref": "weather"}, 0.8)), "weather", "not in the case")

    def test_climate_pointing_nowhere(self) -> None:
        self.refused(
            small(outside={"type": "weather", "climate": "corrie", "facing_deg": 0}), "corrie", "outside.climate"
        )

    def test_unsorted_and_overlapping_tables(self) -> None:
        for rows in ([[0, 0], [0.8, 16], [0.5, 20], [1, 100]], [[0, 0], [0.5, 9], [0.5, 10], [1, 100]]):
            raw = small()
            raw["materials"]["stone"] = {**STONE, "retention": {"form": "table", "argument": "rh", "rows": rows}}
            self.refused(raw, "materials.stone.retention", "must rise")

    def test_retention_that_is_not_monotone(self) -> None:
        raw = small()
        rows = [[0, 0], [0.5, 30], [0.8, 20], [1, 100]]
        raw["materials"]["stone"] = {**STONE, "retention": {"form": "table", "argument": "rh", "rows": rows}}
        self.refused(raw, "not monotone")

    def test_unknown_field_nan_and_truncated_text(self) -> None:
        self.refused(small(colour="red"), "colour")
        text = json.dumps(small())
        for broken in (text[: len(text) // 2], text.replace("0.7", "NaN", 1), "[" * 100000):
            with self.assertRaises(CaseRefused):
                read_case(broken)

    def test_air_that_has_no_place_is_refused(self) -> None:
        leak = {"after_layer": 0, "share": 0.01}
        self.refused(small(air={"rain_leaks": [leak]}), "in the weather")
        self.refused(small(air={"cavities": [{"layer": 7, "changes_per_h": 1.0}]}), "no layer 7")
        self.refused(small(air={"cavities": [{"layer": 0}]}), "exactly one")
        self.refused(small(air={"leak": 1}), "air")

    def test_two_membranes_need_a_layer_between(self) -> None:
        raw = small()
        raw["layers"][1:1] = [{"kind": "membrane", "sd_m": 2}, {"kind": "membrane", "sd_m": 3}]
        self.refused(raw, "two membranes")

    def test_semi_infinite_only_at_an_end(self) -> None:
        raw = small()
        raw["layers"].insert(1, {"kind": "layer", "material": "stone", "thickness_m": "semi_infinite"})
        self.refused(raw, "semi-infinite")

    def test_series_shorter_than_the_run(self) -> None:
        self.refused(small(outside=film({"values": [1.0] * 24}, 0.8)), "shorter than the run")

    def test_valid_range_of_a_function(self) -> None:
        from core.moisture.transient.solve import simulate

        raw = small()
        raw["materials"]["stone"] = {
            **STONE,
            "liquid": {
                "form": "conductivity_table",
                "variable": "w",
                "rows": [[8, -13], [12, -12]],
                "output": "log10_k",
            },
        }
        with self.assertRaises(OutOfRange) as caught:
            simulate(case_from_dict(raw))
        self.assertIn("valid range", str(caught.exception))
        raw["materials"]["stone"]["liquid"]["outside"] = "hold"
        self.assertTrue(simulate(case_from_dict(raw)).water_balance_error < 1e-6)


class Identity(TestCase):
    def test_hash_knows_content_not_title(self) -> None:
        self.assertEqual(case().hash, case(title="named").hash)
        self.assertNotEqual(case().hash, case(initial={"temperature_c": 12, "rh": 0.71}).hash)

    def test_defaults_are_written_out(self) -> None:
        document = case().model_dump(mode="json")
        self.assertEqual(document["constants"]["water_density_kg_m3"], 1000.0)
        self.assertEqual(case_from_dict(document), case())

    def test_schema_is_published(self) -> None:
        self.assertIn("layers", Case.model_json_schema()["properties"])

    def test_example_files_are_what_the_code_builds(self) -> None:
        for name in EXAMPLES:
            with self.subTest(name):
                self.assertEqual(example_path(name).read_text(encoding="utf-8"), example_text(name), "run ./run format")
                read_case(example_path(name).read_bytes())

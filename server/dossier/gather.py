"""Everything a report is made from, read once from the rooms that show it: the same findings, verdicts and sentences as the screen."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from functools import cached_property

from core.buildup.model import INDOOR_WORDS
from core.climate.data import GENERATED, shipped
from core.criteria.run_findings import FOUND_WITH
from core.errors import CoreError
from core.moisture.transient.outcome import SOLVER
from core.readiness.reason import ElementWater
from core.say import Said, join, said
from core.shown import bare, shown
from core.which_figure import WhichFigure
from server.exchange.schemas import ProjectFile
from server.exchange.write import document
from server.heat.air import air_of_project
from server.heat.balance import balance_of
from server.heat.figures import heat as heat_of
from server.heat.rooms import rooms_of
from server.heat.schemas import AirOut, BalanceOut, HeatOut, HeatRow, RoomsOut
from server.heat.which import from_sheets
from server.house.figures import house as house_of
from server.house.schemas import HouseOut
from server.options.figures import sheet as sheet_of
from server.options.schemas import OptionOut, Sheet
from server.projects.models import Element, Option, Project
from server.projects.permissions import CHOICES
from server.runs.conditions import conditions_of
from server.runs.models import Run
from server.states.state import Tested, shown_of, tests_of
from server.survey.figures.evidence import evidence_page
from server.survey.figures.exposure import faces_rain
from server.survey.figures.make import made_page
from server.survey.figures.measurements import measurement_page
from server.survey.figures.shape import brief_out, shape_out
from server.survey.schemas import BriefOut, EvidenceOut, EvidencePage, FaceRain, MadePage, MeasurementPage, ShapeOut
from server.water.figures import water_page, waters
from server.water.schemas import WaterPage

PROGRAM = "1"


def hash_of(project: Project) -> str:
    """SHA-256 of what a report of the project is made from: its rows, the runs that are done, and the versions that judge."""
    rows = ProjectFile.model_validate(document(project)).model_dump(mode="json")
    runs = sorted(
        project.runs.filter(status=Run.DONE).exclude(option=None).values_list("case_hash", "kind", "solver").distinct()
    )
    content = {"rows": rows, "runs": runs, "solver": SOLVER, "found_with": FOUND_WITH, "program": PROGRAM}
    return hashlib.sha256(json.dumps(content, sort_keys=True).encode()).hexdigest()


@dataclass(frozen=True)
class ElementPage:
    """An element with its sheet; sheet None for windows and doors, and where the climate is gone."""

    row: Element
    sheet: Sheet | None
    refused: str = ""

    @property
    def found(self) -> OptionOut | None:
        return self.sheet.options[0] if self.sheet is not None else None

    @property
    def chosen(self) -> OptionOut | None:
        if self.sheet is None:
            return None
        return next((o for o in self.sheet.options if o.id == self.row.chosen_id), None)

    @property
    def rejected(self) -> list[OptionOut]:
        if self.sheet is None:
            return []
        return [o for o in self.sheet.options if o.role != Option.AS_FOUND and o.id != self.row.chosen_id]


class Gathered:
    """One project as its screens show it, each part read when a report asks for it and then kept."""

    def __init__(self, project: Project) -> None:
        self.project = project

    @cached_property
    def elements(self) -> list[ElementPage]:
        found = []
        for row in self.project.here(list(self.project.elements.prefetch_related("options", *CHOICES))):
            if not row.has_build_up:
                found.append(ElementPage(row, None))
                continue
            try:
                found.append(ElementPage(row, sheet_of(row)))
            except CoreError as error:
                found.append(ElementPage(row, None, error.message))
        return found

    @cached_property
    def layered(self) -> list[ElementPage]:
        return [one for one in self.elements if one.row.has_build_up]

    @cached_property
    def built(self) -> list[ElementPage]:
        """Those with layers that are in the heated line after the works: what is proposed, and what is built, is of them."""
        return [one for one in self.layered if one.row.in_line != "before"]

    @cached_property
    def left_out(self) -> list[ElementPage]:
        """Those with layers that the line after the works leaves."""
        return [one for one in self.layered if one.row.in_line == "before"]

    @cached_property
    def sizes(self) -> list[tuple[str, Said]]:
        """Heated volume and floor, as found and, where the line moves, after the works."""
        found: list[tuple[str, Said]] = []
        line = self.heat.line if self.heat is not None else None
        for name, own, quantity, digits, pair in (
            ("Heated volume", self.project.volume_m3, "volume", None, line and (line.volume_before_m3, line.volume_after_m3)),
            ("Floor area", self.project.floor_area_m2, "area", 0, line and (line.floor_before_m2, line.floor_after_m2)),
        ):  # fmt: skip
            words = shown(own, quantity, digits)
            if pair and abs(pair[0] - pair[1]) > 0.05:
                words = join([bare(pair[0], quantity, digits), shown(pair[1], quantity, digits)], " → ")
            found.append((name, words))
        return found

    @cached_property
    def known_sizes(self) -> list[tuple[str, Said]]:
        known = {"Heated volume": self.project.volume_m3, "Floor area": self.project.floor_area_m2}
        return [(name, words) for name, words in self.sizes if known[name] is not None]

    @cached_property
    def air(self) -> AirOut | None:
        """None where the hours of the climate are gone."""
        return None if self.project.climate_gone else air_of_project(self.project)

    @cached_property
    def rooms(self) -> RoomsOut | None:
        return None if self.project.climate_gone else rooms_of(self.project)

    @cached_property
    def balance(self) -> BalanceOut | None:
        return None if self.project.climate_gone else balance_of(self.project)

    @cached_property
    def which(self) -> list[WhichFigure]:
        """Peaks and yearly figures of all sheets of heat; empty where one cannot be reckoned."""
        if self.heat is None or self.rooms is None or self.balance is None:
            return []
        return from_sheets(self.heat, self.rooms, self.balance)

    @cached_property
    def numbers(self) -> dict[int, int]:
        """A number for every element, the same in every drawing and table of a report."""
        return {one.row.pk: number for number, one in enumerate(self.elements, 1)}

    @cached_property
    def names(self) -> dict[int, str]:
        return {one.row.pk: one.row.name for one in self.elements}

    @cached_property
    def scheme_name(self) -> str:
        """The scheme that is shown, where there is more than one to be told apart."""
        return self.project.shown_scheme().name if self.project.schemes.count() > 1 else ""

    def bases_of(self, element_id: int) -> list[str]:
        """What the decision on an element rests on, a line each; who was asked for a specification and what they answered."""
        found = []
        for row in self.project.bases.filter(element_id=element_id).select_related("option").order_by("on", "pk"):
            asked = (
                "specification asked of " if row.kind == "specification" else f"{row.kind}, " if row.who else row.kind
            )
            on = f", {row.on:%d %b %Y}" if row.on else ""
            of = f", for “{row.option.name}”" if row.option is not None else ""
            words = f"{asked}{row.who}{on}{of}: {row.text or 'no words'}"
            if row.kind == "specification":
                words += f" Answer: {row.answer or 'none yet'}"
            found.append(words + (f" (document {row.document}, {row.sha256[:12]})" if row.document else ""))
        return found

    def stands_of(self, element: Element, option: OptionOut) -> list[Said]:
        """The conditions an option stands on, each with what was measured of it since."""
        mine = next((one for one in conditions_of(element) if one.option_id == option.id), None)
        found = []
        for row in mine.stands if mine is not None else []:
            words = row.condition.words.capitalised() + "."
            if row.check is not None:
                on = f" on {row.check.on:%d %b %Y}" if row.check.on else ""
                by = f", {row.check.proof}" if row.check.proof else ""
                held = "it holds" if row.holds else "it does not hold"
                words = words + f" Looked at{on}{by}: " + row.check.words() + f", {held}."
            else:
                words = words + f" Not looked at yet; by {row.condition.proof}."
            found.append(words)
        if mine is not None and mine.out_of_date and found:
            found.append(said("The study is out of date: the option or its place changed since."))
        return found

    @cached_property
    def heat(self) -> HeatOut | None:
        """None where the climate is gone."""
        return None if self.project.climate_gone else heat_of(self.project)

    @cached_property
    def heat_rows(self) -> dict[int, HeatRow]:
        rows = self.heat.rows if self.heat is not None else []
        return {row.element_id: row for row in rows if row.element_id is not None}

    @cached_property
    def house(self) -> HouseOut:
        return house_of(self.project, None, None)

    @cached_property
    def brief(self) -> BriefOut:
        return brief_out(self.project)

    @cached_property
    def shape(self) -> ShapeOut:
        return shape_out(self.project)

    @cached_property
    def made(self) -> MadePage:
        return made_page(self.project)

    @cached_property
    def rain(self) -> list[FaceRain]:
        return faces_rain(self.project)

    @cached_property
    def evidence(self) -> EvidencePage:
        return evidence_page(self.project)

    @cached_property
    def pins(self) -> list[tuple[int, EvidenceOut]]:
        """Pins with their numbers: signs of damp first to last, as the list and the faces number them."""
        return list(enumerate(self.evidence.evidence, 1))

    @cached_property
    def measurements(self) -> MeasurementPage:
        return measurement_page(self.project)

    @cached_property
    def water(self) -> WaterPage:
        return water_page(self.project)

    @cached_property
    def waters(self) -> dict[int, ElementWater]:
        """What readiness looks at, by element."""
        return waters(self.project)

    @cached_property
    def tests(self) -> list[Tested]:
        return tests_of(shown_of(self.project))

    @cached_property
    def mechanisms(self) -> dict[str, str]:
        return {one.id: one.name for one in self.evidence.mechanisms}

    @cached_property
    def kinds(self) -> dict[str, str]:
        return {one.id: one.name for one in self.evidence.kinds}

    @cached_property
    def captions(self) -> dict[str, str]:
        return {photo.uid: photo.caption for photo in self.evidence.photos}

    @cached_property
    def climate_words(self) -> str:
        """Label and origin of the climate: *generated, not measured* where it is so."""
        if self.project.climate_gone:
            return self.project.climate_gone
        climate = shipped(self.project.climate)
        return f"{climate.label}, {climate.origin}"

    @cached_property
    def climate_generated(self) -> bool:
        """Whether the weather is made for a region and was measured nowhere."""
        return not self.project.climate_gone and shipped(self.project.climate).origin == GENERATED

    @cached_property
    def indoor_words(self) -> str:
        words = INDOOR_WORDS.get(self.project.occupancy)
        if words:
            return words
        try:
            return f"measured indoors: {shipped(self.project.occupancy).label}"
        except CoreError as error:
            return error.message

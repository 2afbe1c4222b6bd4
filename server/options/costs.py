"""What options cost and emit, with whose prices: the project's own first, then those of the person's other projects, then a supplier's."""

from __future__ import annotations

from typing import Annotated

from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field, TypeAdapter, ValidationError

from core.costs import Cost, Price, Priced, Work, carbon_table, cost
from core.materials.library import AirLayer, entry_of
from core.proposals.like import Built, built_like
from server.library.suppliers import attached
from server.problems import Problem
from server.projects.models import Element, HistoryEntry, Option, Project
from server.projects.permissions import User, editable_option, editable_project, viewable_element
from server.projects.schemas import Body

MOST_PRICES, MOST_WORKS = 400, 20
router = Router(tags=["costs"])
_PRICES, _WORKS = TypeAdapter(list[Price]), TypeAdapter(list[Work])


class OptionCosts(Schema):
    """A square metre of the element; area_m2 times that is the whole. built: what the rules say of the way it is built like."""

    option_id: int
    cost: Cost
    works: list[Work]
    built: Built | None


class ElementCosts(Schema):
    area_m2: float
    currency: str
    carbon_note: str
    options: list[OptionCosts]


class PriceBody(Body):
    """in_place_of: the source of the price that this one replaces, or with price null the one that is taken back; null with price null
    takes back every price of the material. Prices of other sources stay."""

    price: Price | None
    in_place_of: Annotated[str, Field(max_length=200)] | None = None


class WorksBody(Body):
    works: Annotated[list[Work], Field(max_length=MOST_WORKS)]


def _read(adapter: TypeAdapter[list[Price]], raw: object) -> list[Price]:
    """What is kept and cannot be read any more is left out."""
    try:
        return adapter.validate_python(raw)
    except ValidationError:
        return []


def works_of(option: Option) -> list[Work]:
    try:
        return _WORKS.validate_python(option.works)
    except ValidationError:
        return []


def prices_of(project: Project) -> dict[str, list[Priced]]:
    """By material: all of its own, else the newest of the person's other projects, else all that the attached supplier's list has."""
    listed: dict[str, list[Priced]] = {}
    supplier = attached()
    for article in supplier.articles() if supplier is not None else []:
        mm = article.thicknesses_mm[0] if article.thicknesses_mm else None
        price = Price(
            material=article.material, mm=mm, low=article.price_m2, high=article.price_m2, currency=article.currency,
            source=article.name,
        )  # fmt: skip
        listed.setdefault(article.material, []).append(Priced(price, supplier.name if supplier is not None else ""))
    newest: dict[str, list[Priced]] = {}
    others = Project.objects.filter(owner_id=project.owner_id).exclude(pk=project.pk).exclude(prices=[])
    for name, raw in others.order_by("changed_at").values_list("name", "prices"):
        for price in _read(_PRICES, raw):
            known = newest.get(price.material)
            before = known[0].price.on if known else None
            if before is None or (price.on is not None and price.on >= before):
                newest[price.material] = [Priced(price, f"of {name}")]
    own: dict[str, list[Priced]] = {}
    for price in _read(_PRICES, project.prices):
        own.setdefault(price.material, []).append(Priced(price, "own"))
    return listed | newest | own


def money_of(project: Project) -> str:
    """The one money in which a project adds up: the brief's, else that of its own prices; what is in another is left out and named."""
    own = _read(_PRICES, project.prices)
    return project.current_brief.currency or next((price.currency for price in own if price.currency), "")


def cost_of(element: Element, option: Option, prices: dict[str, list[Priced]], money: str) -> Cost:
    return cost(element.as_found.current, option.current, prices, works_of(option), money)


def costs_of(element: Element) -> ElementCosts:
    prices, money = prices_of(element.project), money_of(element.project)
    found = element.as_found.current
    rows = sorted(element.options.all(), key=lambda o: (o.position, o.pk))
    return ElementCosts(
        area_m2=element.area_m2,
        currency=money,
        carbon_note=carbon_table()[2],
        options=[
            OptionCosts(
                option_id=option.pk,
                cost=cost_of(element, option, prices, money),
                works=works_of(option),
                built=built_like(found, option.current, element.place),
            )
            for option in rows
            if option.role == Option.UPGRADE
        ],
    )


@transaction.atomic
def set_price(user: User, project_id: int, material: str, price: Price | None, in_place_of: str | None) -> Project:
    """One of the project's own prices of a material: each source keeps its own, so that two merchants' stand side by side."""
    project = editable_project(user, project_id)
    entry = entry_of(material)
    if isinstance(entry, AirLayer) or (price is not None and price.material != material):
        raise Problem(422, "no_price", f"{entry.name} has no price.", "Price a material that is bought.")
    known = _read(_PRICES, project.prices)
    sources = [in_place_of, price.source if price is not None else None]
    every = price is None and in_place_of is None
    gone = [one for one in known if one.material == material and (every or one.source in sources)]
    rows = [one for one in known if one not in gone]
    if price is not None:
        rows.append(price)
    if len(rows) > MOST_PRICES:
        raise Problem(422, "too_many", f"{MOST_PRICES} prices are the most.", "Take some back first.")
    project.prices = [one.model_dump(mode="json") for one in rows]
    project.save(update_fields=["prices", "changed_at"])
    words = f"price of {entry.name}: " + (
        f"{price.low:g} to {price.high:g} {price.currency}{f', {price.source}' if price.source else ''}"
        if price
        else "taken back"
    )
    values = [{"price": one.model_dump(mode="json") if one else None} for one in (gone[0] if gone else None, price)]
    HistoryEntry.write(project, user, "set price", words, project, *values)
    return project


@transaction.atomic
def set_works(user: User, option_id: int, works: list[Work]) -> Option:
    """What building an option costs beside its layers; all of it at once."""
    option = editable_option(user, option_id)
    if option.role == Option.AS_FOUND:
        raise Problem(422, "as_found", "As found costs nothing.", "Choose one of the options.")
    before = {"works": option.works}
    option.works = [one.model_dump(mode="json") for one in works]
    option.save(update_fields=["works"])
    words = f"works of “{option.name}” of “{option.element.name}”"
    HistoryEntry.write(option.element.project, user, "set works", words, option, before, {"works": option.works})
    return option


@router.get("/elements/{element_id}/costs", response=ElementCosts)
def read_costs(request: HttpRequest, element_id: int) -> ElementCosts:
    """What each option costs and emits, and how it is built."""
    element = viewable_element(request.user, element_id)
    if not element.has_build_up:
        raise Problem(422, "no_build_up", f"A {element.kind} has no layers.", "Choose a wall, roof or floor.")
    return costs_of(element)


@router.put("/projects/{project_id}/prices/{material}", response={204: None})
def write_price(request: HttpRequest, project_id: int, material: str, body: PriceBody) -> tuple[int, None]:
    set_price(request.user, project_id, material, body.price, body.in_place_of)
    return 204, None


@router.put("/options/{option_id}/works", response=ElementCosts)
def write_works(request: HttpRequest, option_id: int, body: WorksBody) -> ElementCosts:
    return costs_of(set_works(request.user, option_id, body.works).element)

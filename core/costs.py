"""What an option costs and emits by its new layers, a square metre, with ranges: prices that somebody states, carbon by family.

A price that nobody states is not made up: the layer is named as not priced, and the sum is *at least*.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from pathlib import Path
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from core.buildup.model import BuildUp, BuildUpLayer, brought
from core.case import Strict
from core.materials.library import AirLayer, Sheet, Solid, entry_of
from core.say import Said, said

Money = Annotated[float, Field(ge=0, le=1e6)]
Per = Literal["m²", "m³", "kg"]
Text = Annotated[str, Field(max_length=200)]


class Quoted(Strict):
    """Money from low to high, with its day and its source."""

    low: Money
    high: Money
    currency: Annotated[str, Field(max_length=8)] = ""
    on: date | None = None
    source: Text = ""

    @model_validator(mode="after")
    def _rises(self) -> Self:
        if self.low > self.high:
            raise ValueError(f"a price from {self.low:g} to {self.high:g} falls; give the lower one first")
        return self


class Price(Quoted):
    """Of a material, a square metre, a cubic metre or a kilogram.

    mm: the thickness a square metre has at that price; another thickness costs in proportion. Absent: a layer of it, as built in.
    """

    material: Annotated[str, Field(max_length=60)]
    per: Per = "m²"
    mm: Annotated[float, Field(gt=0, le=1000)] | None = None


class Work(Quoted):
    """Work, scaffold or waste of an option, a square metre of the element."""

    what: Annotated[str, Field(min_length=1, max_length=120)]


@dataclass(frozen=True)
class Priced:
    """A price and whose it is: “own”, of another project, or the supplier's name."""

    price: Price
    whose: str


@dataclass(frozen=True)
class CostLine:
    """A new layer, or a work: its amount in words, every price of it, and what it comes to a square metre, from the least to the most of
    them in the money of the sum; None where nobody priced it in that."""

    key: str
    name: str
    amount: Said
    prices: list[Priced]
    low: float | None
    high: float | None
    carbon_low: float
    carbon_high: float
    stored: float


@dataclass(frozen=True)
class Cost:
    """A square metre of the element. unpriced: what nobody priced, so that the sum is at least that; foreign: priced in other money.

    carbon_low, carbon_high: fossil, of making the new layers [kg CO2e]; stored: held by what grew [kg CO2], told apart.
    """

    low: float
    high: float
    currency: str
    lines: list[CostLine]
    unpriced: list[str]
    foreign: list[str]
    carbon_low: float
    carbon_high: float
    stored: float


@lru_cache(maxsize=1)
def carbon_table() -> tuple[dict[str, tuple[float, float, float]], dict[str, tuple[float, float]], str]:
    """(by family [kg CO2e/kg low, high, kg CO2/kg held], by family of sheets [kg CO2e/m² low, high], its note)."""
    raw = json.loads((Path(__file__).parent / "materials" / "carbon.json").read_text(encoding="utf-8"))
    per_kg = {family: (low, high, held) for family, (low, high, held) in raw["per_kg"].items()}
    return per_kg, {family: (low, high) for family, (low, high) in raw["per_m2"].items()}, raw["note"]


def _parts(layer: BuildUpLayer) -> list[tuple[str, float]]:
    """(material, share of the face) of a layer: what fills it, and its members."""
    if layer.framing is None:
        return [(layer.material, 1.0)]
    return [(layer.material, 1.0 - layer.framing.share), (layer.framing.material, layer.framing.share)]


def _carbon(material: str, share: float, thickness: float) -> tuple[float, float, float]:
    """kg CO2e a square metre, low and high, and kg CO2 held."""
    entry = entry_of(material)
    per_kg, per_m2, _ = carbon_table()
    if isinstance(entry, AirLayer):
        return 0.0, 0.0, 0.0
    if isinstance(entry, Sheet):
        low, high = per_m2[entry.family]
        return low * share, high * share, 0.0
    kilograms = entry.density_kg_m3 * thickness * share
    low, high, held = per_kg[entry.family]
    return low * kilograms, high * kilograms, held * kilograms


def cost(
    as_found: BuildUp, option: BuildUp, prices: Mapping[str, list[Priced]], works: list[Work], currency: str = ""
) -> Cost:
    """Of what the option brings. prices: all there are, by material. currency: that of the sum; money of another kind is named and left out."""
    there = {layer.id: layer for layer in as_found.layers}
    wanted: list[tuple[str, str, float, float]] = []
    for layer in brought(as_found, option):
        was = there.get(layer.id)
        for number, (material, share) in enumerate(_parts(layer)):
            if number and was is not None and was.framing is not None and was.framing.material == material:
                continue  # the members stand there already; only what is between them is new
            wanted.append((layer.id, material, share, layer.thickness))
    for layer in option.layers:  # thicker than it was, of the same material
        was = there.get(layer.id)
        if was is not None and was.material == layer.material and layer.thickness > was.thickness + 1e-6:
            wanted += [
                (layer.id, material, share, layer.thickness - was.thickness) for material, share in _parts(layer)
            ]
    bought = [one for one in wanted if not isinstance(entry_of(one[1]), AirLayer)]
    of_layers = [one.price for _, material, _, _ in bought for one in prices.get(material, [])]
    money = currency or next((one.currency for one in [*of_layers, *works]), "")
    lines = [_line(*one, prices.get(one[1], []), money) for one in bought]
    for work in works:
        price = Price(material="", low=work.low, high=work.high, currency=work.currency, on=work.on, source=work.source)
        counts = _counts(work, money)
        low, high = (work.low, work.high) if counts else (None, None)
        lines.append(CostLine("", work.what, said("1 m²"), [Priced(price, "own")], low, high, 0.0, 0.0, 0.0))
    foreign = {one.name for one in lines if any(not _counts(row.price, money) for row in one.prices)}
    return Cost(
        low=sum(one.low or 0.0 for one in lines),
        high=sum(one.high or 0.0 for one in lines),
        currency=money,
        lines=lines,
        unpriced=sorted({one.name for one in lines if one.low is None and one.name not in foreign}),
        foreign=sorted(foreign),
        carbon_low=sum(one.carbon_low for one in lines),
        carbon_high=sum(one.carbon_high for one in lines),
        stored=sum(one.stored for one in lines),
    )


def _counts(quoted: Quoted, money: str) -> bool:
    """Whether it is in the money of the sum."""
    return quoted.currency in ("", money)


def _line(layer_id: str, material: str, share: float, thickness: float, prices: list[Priced], money: str) -> CostLine:
    entry = entry_of(material)
    low_c, high_c, stored = _carbon(material, share, thickness)
    sums = [
        (one.price.low * factor, one.price.high * factor)
        for one in prices
        if _counts(one.price, money) and (factor := _times(one.price, entry, share, thickness)) is not None
    ]
    low, high = (min(row[0] for row in sums), max(row[1] for row in sums)) if sums else (None, None)
    return CostLine(layer_id, entry.name, _amount(share, thickness), prices, low, high, low_c, high_c, stored)


def _times(price: Price, entry: Solid | Sheet | AirLayer, share: float, thickness: float) -> float | None:
    """What a price is times, for a square metre of the element; None where it cannot be."""
    if price.per == "m²":
        return share * (thickness * 1000.0 / price.mm if price.mm and thickness > 0.0 else 1.0)
    if thickness <= 0.0:
        return None  # a sheet has no volume
    if price.per == "m³":
        return thickness * share
    return entry.density_kg_m3 * thickness * share if isinstance(entry, Solid) else None


def _amount(share: float, thickness: float) -> Said:
    """Of a square metre of the element, as it is bought."""
    from core.say import thickness as shown

    part = "" if share > 0.995 else f", {share * 100:.0f} % of the face"
    return (shown(thickness) if thickness > 0.0 else said("1 layer")) + part

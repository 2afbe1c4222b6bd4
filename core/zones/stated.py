"""What is stated of a building's air and use, as found and in a scheme. What nobody stated has a usual value that is said."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from core.air_flow.ledger import LedgerLine
from core.case import Strict
from core.thermal.iso13370 import EdgeInsulation

Flow = Annotated[float, Field(ge=0, le=20000)]
Share = Annotated[float, Field(ge=0, le=1)]


class Use(Strict):
    """Who lives there and what gives off vapour and warmth. Ranges beside each are ours, after common tables.

    laundry_week: loads dried inside a week; plants: large ones; appliances_w_m2: mean of the floor; cool_to_c: summer set-point, None where not cooled; warm_c: above it hours count as too warm.
    """

    people: Annotated[float, Field(ge=0, le=500)] = 3.0
    hours_home: Annotated[float, Field(ge=0, le=24)] = 15.0
    cooking_kg_day: Annotated[float, Field(ge=0, le=100)] = 1.5
    baths_day: Annotated[float, Field(ge=0, le=100)] = 3.0
    laundry_week: Annotated[float, Field(ge=0, le=200)] = 3.0
    plants: Annotated[float, Field(ge=0, le=500)] = 5.0
    other_kg_day: Annotated[float, Field(ge=0, le=500)] = 0.0
    appliances_w_m2: Annotated[float, Field(ge=0, le=100)] = 2.4
    cool_to_c: Annotated[float, Field(ge=15, le=35)] | None = None
    heat_to_c: Annotated[float, Field(ge=5, le=30)] | None = None
    warm_c: Annotated[float, Field(ge=20, le=40)] = 26.0


class Ventilation(Strict):
    """Air that people or machines bring in, beside the leaks [m³/h]. airing: through windows, as a mean; summer_airing: windows open on warm days.

    extract: fans that only take out; balanced: a unit that brings in as much as it takes, with what it gives back. open_flue: an appliance that
    draws its air from the room; kitchen_fan_m3_h: the largest fan, for what it does to the flue.
    """

    airing_m3_h: Flow = 20.0
    summer_airing_m3_h: Flow = 200.0
    extract_m3_h: Flow = 0.0
    balanced_m3_h: Flow = 0.0
    heat_recovered: Share = 0.8
    moisture_recovered: Share = 0.0
    open_flue: bool = False
    kitchen_fan_m3_h: Flow = 0.0
    radon: bool = False


class SpaceStated(Strict):
    """One cold space: id as the shape names it. air_changes: with the outside, mean of the year [1/h]; vents_m2: free area of its
    vents, which say more than air_changes, half on each of two opposite sides, half of it vents_apart_m higher than the other; sheet: on its bare earth; stored_kg_day: vapour
    of what lies in it; roof_u, wall_u: of its skins where their layers are not stated."""

    id: Annotated[str, Field(min_length=1, max_length=60)]
    air_changes: Annotated[float, Field(ge=0, le=60)] | None = None
    vents_m2: Annotated[float, Field(ge=0, le=100)] | None = None
    vents_apart_m: Annotated[float, Field(ge=0, le=40)] = 0.0
    sheet: bool | None = None
    stored_kg_day: Annotated[float, Field(ge=0, le=100)] = 0.0
    roof_u_w_m2k: Annotated[float, Field(gt=0, le=10)] | None = None
    wall_u_w_m2k: Annotated[float, Field(gt=0, le=10)] | None = None


class Edge(Strict):
    """Insulation along the edge of one slab on the ground, by the key of its element."""

    key: Annotated[str, Field(min_length=1, max_length=130)]
    strip: EdgeInsulation


class RoomAir(Strict):
    """Air of one room [m³/h]: from the unit, taken out while a fan runs, through its window in winter as a
    mean, None for its share of the house's by floor."""

    id: Annotated[str, Field(min_length=1, max_length=40)]
    supply_m3_h: Flow = 0.0
    extract_m3_h: Flow = 0.0
    airing_m3_h: Flow | None = None


class AirStated(Strict):
    """Of the building as found, or of a scheme after the works. joints: the ledger as found is shared over joints too."""

    use: Use = Use()
    ventilation: Ventilation = Ventilation()
    spaces: Annotated[list[SpaceStated], Field(max_length=40)] = []
    ledger: Annotated[list[LedgerLine], Field(max_length=600)] = []
    edges: Annotated[list[Edge], Field(max_length=40)] = []
    rooms: Annotated[list[RoomAir], Field(max_length=120)] = []
    joints: bool = False

    @model_validator(mode="after")
    def _once(self) -> AirStated:
        for what, keys in (
            ("space", [s.id for s in self.spaces]),
            ("leak", [line.key for line in self.ledger]),
            ("edge", [edge.key for edge in self.edges]),
            ("room", [room.id for room in self.rooms]),
        ):
            if len(set(keys)) != len(keys):
                raise ValueError(f"one {what} is stated twice")
        return self

    def space(self, space_id: str) -> SpaceStated:
        return next((one for one in self.spaces if one.id == space_id), SpaceStated(id=space_id))


# Vapour [kg] and heat, of what people do; between published figures, ours.
PERSON_KG_H, PERSON_W = 0.05, 80.0
BATH_KG, LAUNDRY_KG, PLANT_KG_DAY = 0.35, 2.0, 0.08
# Fresh air for a person [m³/h]: 7 l/s, what EN 16798-1 asks for in its middle class, as remembered.
FRESH_M3_H = 25.0


def vapour_kg_day(use: Use) -> list[tuple[str, float]]:
    """What gives off vapour, each with its kg a day."""
    return [
        (f"{use.people:g} people, {use.hours_home:g} h a day at home", use.people * use.hours_home * PERSON_KG_H),
        ("cooking and washing up", use.cooking_kg_day),
        (f"{use.baths_day:g} baths or showers a day", use.baths_day * BATH_KG),
        (f"{use.laundry_week:g} loads of laundry dried inside a week", use.laundry_week * LAUNDRY_KG / 7.0),
        (f"{use.plants:g} large plants", use.plants * PLANT_KG_DAY),
        ("what else gives off vapour", use.other_kg_day),
    ]


class Bill(Strict):
    """Fuel of one month, as metered [kWh of fuel]; degree_days: of it, for the place where it was metered, None for the climate's."""

    month: Annotated[int, Field(ge=1, le=12)]
    kwh: Annotated[float, Field(ge=0, le=1e7)]
    degree_days: Annotated[float, Field(ge=0, le=2000)] | None = None


PUMP_FROM = 1.2  # heat for a kWh from which it is a heat pump and no boiler


class Energy(Strict):
    """What heats the building, and what a kWh of it costs and emits, with date and source. efficiency: heat for each kWh of fuel, as found and after.

    carrier_after: what heats it after the works, "" where it is the same; then price and carbon are of that. cooling_*: of what cools it, where it is cooled:
    heat taken out for each kWh of electricity, its price and carbon.
    """

    carrier: Annotated[str, Field(max_length=60)] = ""
    efficiency_before: Annotated[float, Field(ge=0.2, le=6)] = 0.85
    efficiency_after: Annotated[float, Field(ge=0.2, le=6)] = 0.85
    price_kwh: Annotated[float, Field(ge=0, le=100)] | None = None
    currency: Annotated[str, Field(max_length=8)] = ""
    price_on: Annotated[str, Field(max_length=10)] = ""
    price_source: Annotated[str, Field(max_length=200)] = ""
    carbon_kg_kwh: Annotated[float, Field(ge=0, le=5)] | None = None
    carbon_source: Annotated[str, Field(max_length=200)] = ""
    carrier_after: Annotated[str, Field(max_length=60)] = ""
    price_after_kwh: Annotated[float, Field(ge=0, le=100)] | None = None
    carbon_after_kg_kwh: Annotated[float, Field(ge=0, le=5)] | None = None
    cooling_efficiency: Annotated[float, Field(ge=0.5, le=10)] = 3.0
    cooling_price_kwh: Annotated[float, Field(ge=0, le=100)] | None = None
    cooling_carbon_kg_kwh: Annotated[float, Field(ge=0, le=5)] | None = None
    base_c: Annotated[float, Field(ge=5, le=22)] = 15.5
    bills: Annotated[list[Bill], Field(max_length=60)] = []

    @property
    def another_plant(self) -> bool:
        """Whether something else heats it after the works: it is named, or gives more heat than it takes where nothing did before."""
        named = bool(self.carrier_after.strip()) and self.carrier_after.strip() != self.carrier.strip()
        return named or (self.efficiency_before <= PUMP_FROM < self.efficiency_after)

    @property
    def price_after(self) -> float | None:
        """Of a kWh after the works; None where another plant has no price yet."""
        return self.price_after_kwh if self.another_plant else self.price_kwh

    @property
    def carbon_after(self) -> float | None:
        return self.carbon_after_kg_kwh if self.another_plant else self.carbon_kg_kwh

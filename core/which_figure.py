"""The peaks and the yearly figures of a building beside each other: which one each is, and why they differ."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from core.say import Said, said, say, temperature

Sheet = Literal["heat", "rooms", "balance"]


@dataclass(frozen=True)
class WhichFigure:
    """One figure as found and after the works, None where it is not known: a peak [W] or a year's heat [kWh]. sheet: where it is reckoned; sizes: the plant is sized by it."""

    kind: Literal["peak", "year"]
    sheet: Sheet
    name: str
    before: float | None
    after: float | None
    why: Said
    sizes: bool = False


@dataclass(frozen=True)
class Known:
    """What the sheets say, as found and after. rooms_w, need, peak, fuel: None where the sheet has nothing yet."""

    set_c: float
    design_c: float
    loss_w: tuple[float, float]
    loss_kwh: tuple[float, float]
    rooms_w: tuple[float, float] | None
    peak_w: tuple[float, float] | None
    need_kwh: tuple[float, float] | None
    fuel_kwh: tuple[float, float] | None


def which_figures(known: Known) -> list[WhichFigure]:
    """Peaks first, then years."""
    loss = say(
        "Loss of the whole at {set} inside and {design} outside: leaks as the mean of the heating season, one temperature, no sun, no people, nothing stored. "
        "For a first look.",
        set=temperature(known.set_c), design=temperature(known.design_c, 1),
    )  # fmt: skip
    return [
        _figure("peak", "heat", "Design load", known.loss_w, loss),
        _figure(
            "peak", "rooms", "Sum of the rooms", known.rooms_w,
            said(
                "Each room at its own set-point, with the air of the coldest day or the hygienic minimum, and the ground’s own swing. The plant is sized by this "
                "one, room by room, by whoever answers for it."
            ),
            sizes=True,
        ),
        _figure(
            "peak", "balance", "Most heat in one hour", known.peak_w,
            said(
                "The worst hour of the year with sun, people and what the walls store, the rooms held at one temperature: what it draws, and no margin to heat "
                "up again."
            ),
        ),
        _figure(
            "year", "heat", "Loss in a year", known.loss_kwh,
            said("All that leaves while it is colder outside than the set-point; sun, people and appliances are not taken off."),
        ),
        _figure(
            "year", "balance", "Heat needed in a year", known.need_kwh,
            said("What the heating gives, hour by hour: sun, people and appliances taken off, airing and fans in it, what is stored carried over."),
        ),
        _figure(
            "year", "balance", "Fuel in a year", known.fuel_kwh,
            said("The heat needed over the efficiency of what heats it then: what a bill is set against."),
        ),
    ]  # fmt: skip


def _figure(
    kind: Literal["peak", "year"],
    sheet: Sheet,
    name: str,
    pair: tuple[float, float] | None,
    why: Said,
    sizes: bool = False,
) -> WhichFigure:
    before, after = pair or (None, None)
    return WhichFigure(kind, sheet, name, before, after, why, sizes)

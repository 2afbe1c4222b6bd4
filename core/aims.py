"""The client's aims set against what is computed: tightness, heat, money. Words, and whether each is met."""

from __future__ import annotations

from core.brief import Brief
from core.case import Strict
from core.say import Said, said, say
from core.shown import shown


class Aim(Strict):
    """One aim of the Brief. met: None where nothing says yet."""

    words: Said
    met: bool | None


def tightness_aim(brief: Brief, found_1_h: float | None, after_1_h: float | None) -> Aim | None:
    """n50 [1/h]; None where the Brief states none."""
    aim = brief.targets.n50_1_h
    if aim is None:
        return None
    if after_1_h is None:
        return Aim(words=said(f"The Brief asks for n50 {aim:.1f} 1/h; nothing says how tight it will be."), met=None)
    was = f"as found {found_1_h:.1f}, " if found_1_h is not None else ""
    met = after_1_h <= aim
    end = "met" if met else f"missed by {after_1_h - aim:.1f}"
    return Aim(words=said(f"The Brief asks for n50 {aim:.1f} 1/h: {was}after {after_1_h:.1f}, {end}."), met=met)


def heat_aim(brief: Brief, found_kwh_m2: float | None, after_kwh_m2: float | None) -> Aim | None:
    """Heat needed in a year for each square metre of floor [kWh/m²]; None where the Brief states none."""
    aim = brief.targets.heat_kwh_m2a
    if aim is None:
        return None
    if after_kwh_m2 is None:
        return Aim(
            words=say("The Brief asks for {aim} of heat; the floor area or the need is not known.", aim=_heat(aim)),
            met=None,
        )
    met = after_kwh_m2 <= aim
    end = said("met") if met else say("missed by {more}", more=_heat(after_kwh_m2 - aim))
    was = say("as found {found}, ", found=_heat(found_kwh_m2)) if found_kwh_m2 is not None else said("")
    return Aim(
        words=say("The Brief asks for {aim} of heat: {was}after {after}, {end}.", aim=_heat(aim), was=was, after=_heat(after_kwh_m2), end=end),
        met=met,
    )  # fmt: skip


def budget_aim(brief: Brief, low: float, high: float, currency: str, unpriced: int) -> Aim | None:
    """Cost of the chosen options over their areas against the budget; None where the Brief states none."""
    if brief.budget is None:
        return None
    asks = f"The budget is {_money(brief.budget)} {brief.currency}".rstrip()
    if high <= 0.0:
        return Aim(words=said(f"{asks}; nothing chosen is priced."), met=None)
    if brief.currency and currency and brief.currency != currency:
        return Aim(words=said(f"{asks}; prices are in {currency}, and nothing is converted."), met=None)
    costs = f"{_money(low)} to {_money(high)}" if high - low > 0.5 else _money(high)
    left = f", with {unpriced} {'choice' if unpriced == 1 else 'choices'} not wholly priced" if unpriced else ""
    if low > brief.budget:
        return Aim(words=said(f"{asks}: {costs}{left}, over it by {_money(low - brief.budget)} at least."), met=False)
    if high > brief.budget:
        return Aim(words=said(f"{asks}: {costs}{left}, over it at the upper end."), met=None)
    within = "within it so far" if unpriced else "within it"
    return Aim(words=said(f"{asks}: {costs}{left}, {within}."), met=None if unpriced else True)


def _heat(kwh_m2: float) -> Said:
    return shown(kwh_m2, "energyPerArea")


def _money(value: float) -> str:
    return f"{value:,.0f}".replace(",", "\N{NARROW NO-BREAK SPACE}")

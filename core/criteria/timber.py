"""Wood: solid timber by the RH in its pores, wood-based sheets by mass-%, wood-fibre insulation as what it is.

Daily means of the wettest 10 mm. Solid timber against the limit that falls from 95 % RH at 0 °C to 86 % at 30 °C, as some
codes put it (from memory; the texts are not at hand); load-bearing and sheathing sheets against 18 and 22 mass-%.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from core.assembly.model import WoodLayer
from core.case import Strict
from core.criteria.findings import Day, Finding, Peak, Phase, Run, longest_spell
from core.criteria.judging import Criterion, Judgement, Limit, LimitValues, Stated, state_of
from core.moisture.transient.outcome import Outcome
from core.say import Said, figure, percent, said, say, temperature

Array = NDArray[np.float64]
WINDOW = 0.010
WARM_C, FIBRE_WARM_C = 10.0, 5.0
SHEET_PERCENTS = tuple(range(14, 26))
FIBRE_RHS = tuple(range(88, 100))
RH_LINE = ((0.0, 0.95), (30.0, 0.86))


@dataclass(frozen=True)
class WoodDays:
    """By day over all passes, of the wettest 10 mm of a layer: mass-%, °C, RH in the pores."""

    percent: Array
    temperature_c: Array
    rh: Array


def wettest_window(run: Run, layer: WoodLayer) -> WoodDays:
    """Daily means of the wettest 10 mm. A layer thinner than that is taken whole."""
    outcome: Outcome = run.outcome
    nodes = outcome.cells_of(layer.entry)
    water = np.stack([outcome.moisture_content(int(node)) for node in nodes], axis=1)
    percents = run.daily(100.0 / layer.density * water)
    warmth = run.daily(outcome.temperature_c(nodes))
    humidity = run.daily(outcome.rh(nodes))
    widths = outcome.volume[nodes]
    days = len(percents)
    best, temperature_c, rh = np.full(days, -np.inf), np.zeros(days), np.zeros(days)
    for first in range(len(nodes)):
        share = np.clip(WINDOW - np.concatenate(([0.0], np.cumsum(widths[first:])[:-1])), 0.0, widths[first:])
        if share.sum() < WINDOW * 0.999 and first > 0:
            break
        weights = share / share.sum()
        mean = percents[:, first:] @ weights
        wetter = mean > best
        temperature_c = np.where(wetter, warmth[:, first:] @ weights, temperature_c)
        rh = np.where(wetter, humidity[:, first:] @ weights, rh)
        best = np.maximum(best, mean)
    return WoodDays(best, temperature_c, np.minimum(rh, 1.0))


class WoodStretch(Strict):
    """One stretch of time of a layer. over_rh: days of the longest spell over the RH line, and its last day.

    spells_percent: longest spell in days above each mass-% of SHEET_PERCENTS; spells_rh: above each RH of FIBRE_RHS while
    above 5 °C. warm: the most mass-% on a day above 10 °C.
    """

    days_over_rh: int
    over_rh_spell: int
    over_rh_ends: Day
    spells_percent: list[int]
    spells_rh: list[int]
    spell_ends: Day
    highest: Peak
    warm: Peak


class WoodFinding(Finding):
    """criterion: “timber”, “sheet” or “wood fibre”, by what the wood is. durability: class of EN 350, where it is known."""

    for_good: WoodStretch
    drying_in: WoodStretch | None
    durability: int | None = None


class TimberFinding(WoodFinding):
    criterion: Literal["timber"] = "timber"


class SheetFinding(WoodFinding):
    criterion: Literal["sheet"] = "sheet"


class FibreFinding(WoodFinding):
    criterion: Literal["wood fibre"] = "wood fibre"


def _stretch(run: Run, days: WoodDays, phase: Phase) -> WoodStretch | None:
    records = run.stretch(phase)
    first, last = records.start // run.per_day, records.stop // run.per_day
    if last <= first:
        return None
    ring = phase == "for good"
    percents, warmth, rh = days.percent[first:last], days.temperature_c[first:last], days.rh[first:last]

    def day(index: int) -> Day:
        return run.day_of((first + index) * run.per_day)

    line = np.interp(warmth, [point[0] for point in RH_LINE], [point[1] for point in RH_LINE])
    over = rh > line
    spell, ends = longest_spell(over, ring)
    warm = np.where(warmth > WARM_C, percents, -np.inf)
    top, hottest = int(percents.argmax()), int(warm.argmax())
    wet_end = longest_spell(percents > SHEET_PERCENTS[4], ring)[1]
    return WoodStretch(
        days_over_rh=int(over.sum()),
        over_rh_spell=spell,
        over_rh_ends=day(ends),
        spells_percent=[longest_spell(percents > value, ring)[0] for value in SHEET_PERCENTS],
        spells_rh=[longest_spell((rh > value / 100.0) & (warmth > FIBRE_WARM_C), ring)[0] for value in FIBRE_RHS],
        spell_ends=day(wet_end),
        highest=Peak(value=float(percents[top]), on=day(top)),
        warm=Peak(value=float(max(warm[hottest], 0.0)), on=day(hottest)),
    )


def _find(run: Run, kind: str, finding: type[WoodFinding]) -> list[WoodFinding]:
    found = []
    for layer in run.model.wood:
        if layer.kind != kind:
            continue
        days = wettest_window(run, layer)
        settled = _stretch(run, days, "for good")
        assert settled is not None
        found.append(
            finding(
                criterion=finding.model_fields["criterion"].default,
                place=layer.name,
                layer_id=layer.layer_id,
                judged=layer.judged,
                why_not="" if layer.judged else "outside what is judged",
                for_good=settled,
                drying_in=_stretch(run, days, "drying in"),
                durability=layer.durability,
            )
        )
    return found


def _judgement(
    finding: WoodFinding,
    phase: Phase,
    value: float,
    unit: str,
    share: float,
    on: Day,
    sentence: Said,
    shares: list[float],
) -> Judgement:
    return Judgement(
        criterion=finding.criterion, place=finding.place, layer_id=finding.layer_id, phase=phase, value=value, unit=unit,
        share=share, state=state_of(share), on=on, sentence=sentence + decay_of(finding, share), shares=shares,
    )  # fmt: skip


DECAY = {
    1: "Its heartwood is very durable (EN 350, class 1) and has more time; sapwood has none.",
    2: "Its heartwood is durable (EN 350, class 2) and has more time; sapwood has none.",
    3: "It is moderately durable (EN 350, class 3): some more time for the heartwood, none for sapwood.",
    4: "It is slightly durable (EN 350, class 4): once decay begins it goes fast.",
    5: "It is not durable (EN 350, class 5): it is among the first to rot.",
}


def decay_of(finding: WoodFinding, share: float) -> str:
    """How soon this wood rots, where it passes its limit and its class is known; the limit is the same for all."""
    return f" {DECAY[finding.durability]}" if share > 1.0 and finding.durability is not None else ""


def _of(finding: WoodFinding, phase: Phase) -> WoodStretch | None:
    return finding.for_good if phase == "for good" else finding.drying_in


# --- solid timber --------------------------------------------------------------------------------------

TIMBER_LIMITS = (
    Limit(key="timber.spell_days", name="days solid timber may stay over its RH limit", default=56, unit="days", least=7, most=365,
          why="decay fungi need weeks; 95 % RH at 0 °C falling to 86 % at 30 °C, as some codes put it"),
    Limit(key="timber.warm_percent", name="mass-% of solid timber while above 10 °C", default=25, unit="%", least=18, most=30,
          why="near fibre saturation decay has what it needs"),
    Limit(key="timber.caution_percent", name="mass-% of solid timber that is told", default=20, unit="%", least=15, most=25,
          why="the usual caution on site"),
)  # fmt: skip


def judge_timber(
    finding: TimberFinding, phase: Phase, as_found: TimberFinding | None, limits: LimitValues, stated: Stated
) -> Judgement | None:
    of = _of(finding, phase)
    if of is None:
        return None
    most_days, warm_limit, caution = (limits[limit.key] for limit in TIMBER_LIMITS)
    by_spell, by_warmth = of.over_rh_spell / most_days, of.warm.value / warm_limit
    highest = figure(of.highest.value, 0)
    told = (
        f"; at most {highest} % water ({of.highest.on.in_phase(phase)}), the usual caution is {caution:g} %"
        if of.highest.value > caution
        else f"; at most {highest} % water"
    )
    name = said(finding.place).capitalised()
    if by_warmth > 1.0 or (by_warmth > by_spell and by_warmth >= 0.8):
        when = of.warm.on.in_phase(phase)
        sentence = say(
            "{name}: {percent} % water while above {warm} ({when}); limit {limit} %.",
            name=name, percent=figure(of.warm.value, 0), warm=temperature(WARM_C), when=when, limit=f"{warm_limit:g}",
        )  # fmt: skip
        return _judgement(finding, phase, of.warm.value, "%", by_warmth, of.warm.on, sentence, [by_spell, by_warmth])
    if of.over_rh_spell:
        sentence = say(
            "{name}: over the RH limit of its temperature for {days} days on end (to {when}); limit {limit} days{told}.",
            name=name, days=of.over_rh_spell, when=of.over_rh_ends.in_phase(phase), limit=f"{most_days:g}", told=told,
        )  # fmt: skip
    else:
        sentence = say("{name}: never over the RH limit of its temperature{told}.", name=name, told=told)
    return _judgement(
        finding,
        phase,
        float(of.over_rh_spell),
        "days",
        by_spell,
        of.over_rh_ends if of.over_rh_spell else of.highest.on,
        sentence,
        [by_spell, by_warmth],
    )


# --- wood-based sheets ---------------------------------------------------------------------------------

SHEET_LIMITS = (
    Limit(key="sheet.percent", name="mass-% a wood-based sheet may not stay over", default=18, unit="%", least=14, most=25,
          why="sheathing swells and loses strength; moulds from about here"),
    Limit(key="sheet.spell_days", name="days a sheet may stay over it", default=56, unit="days", least=7, most=365,
          why="decay and swelling need weeks"),
    Limit(key="sheet.warm_percent", name="mass-% of a sheet while above 10 °C", default=22, unit="%", least=16, most=28,
          why="sheets decay earlier than solid timber"),
)  # fmt: skip


def judge_sheet(
    finding: SheetFinding, phase: Phase, as_found: SheetFinding | None, limits: LimitValues, stated: Stated
) -> Judgement | None:
    of = _of(finding, phase)
    if of is None:
        return None
    level, most_days, warm_limit = (limits[limit.key] for limit in SHEET_LIMITS)
    # between whole percents: the spell over the lower one, which is never shorter
    spell = of.spells_percent[int(level) - SHEET_PERCENTS[0]]
    by_spell, by_warmth = spell / most_days, of.warm.value / warm_limit
    name = said(finding.place).capitalised()
    if by_warmth > 1.0 or (by_warmth > by_spell and by_warmth >= 0.8):
        sentence = say(
            "{name}: {percent} % water while above {warm} ({when}); limit {limit} %.",
            name=name, percent=figure(of.warm.value, 0), warm=temperature(WARM_C),
            when=of.warm.on.in_phase(phase), limit=f"{warm_limit:g}",
        )  # fmt: skip
        return _judgement(finding, phase, of.warm.value, "%", by_warmth, of.warm.on, sentence, [by_spell, by_warmth])
    if spell:
        sentence = say(
            "{name}: above {level} % water for {days} days on end (to {when}); limit {limit} days.",
            name=name, level=f"{level:g}", days=spell, when=of.spell_ends.in_phase(phase), limit=f"{most_days:g}",
        )  # fmt: skip
    else:
        sentence = say(
            "{name}: at most {percent} % water ({when}); limit {level} % for {limit} days.",
            name=name, percent=figure(of.highest.value, 0), when=of.highest.on.in_phase(phase),
            level=f"{level:g}", limit=f"{most_days:g}",
        )  # fmt: skip
    return _judgement(
        finding,
        phase,
        float(spell),
        "days",
        by_spell,
        of.spell_ends if spell else of.highest.on,
        sentence,
        [by_spell, by_warmth],
    )


# --- wood-fibre insulation -----------------------------------------------------------------------------

FIBRE_LIMITS = (
    Limit(key="fibre.rh_percent", name="RH wood-fibre insulation may not stay over", default=95, unit="%", least=88, most=99,
          why="an estimate: fibre that is wet for weeks in warmth decays and loses its hold"),
    Limit(key="fibre.spell_days", name="days it may stay over it while above 5 °C", default=56, unit="days", least=7, most=365,
          why="an estimate, as for timber"),
)  # fmt: skip


def judge_fibre(
    finding: FibreFinding, phase: Phase, as_found: FibreFinding | None, limits: LimitValues, stated: Stated
) -> Judgement | None:
    of = _of(finding, phase)
    if of is None:
        return None
    level, most_days = (limits[limit.key] for limit in FIBRE_LIMITS)
    spell = of.spells_rh[int(level) - FIBRE_RHS[0]]
    share = spell / most_days
    words = (
        "over {level} RH while above {warm} for {days} days on end; limit {limit} days (an estimate)"
        if spell
        else "never over {level} RH while above {warm}"
    )
    sentence = say(
        "{name}: " + words + ".",
        name=said(finding.place).capitalised(), level=percent(level / 100.0), warm=temperature(FIBRE_WARM_C),
        days=spell, limit=f"{most_days:g}",
    )  # fmt: skip
    return _judgement(finding, phase, float(spell), "days", share, of.highest.on, sentence, [share])


TIMBER = Criterion(
    "timber", 3, TimberFinding, lambda run: _find(run, "solid", TimberFinding), judge_timber, TIMBER_LIMITS,
    "Solid timber in the clear path. Says nothing of beam ends, end grain, framing or insects. The limit is one for all species; how soon each rots is told beside it.",
)  # fmt: skip
SHEET = Criterion(
    "sheet", 1, SheetFinding, lambda run: _find(run, "sheet", SheetFinding), judge_sheet, SHEET_LIMITS,
    "Load-bearing and sheathing sheets. Says nothing of glue, nor of what the edges take up.",
)  # fmt: skip
FIBRE = Criterion(
    "wood fibre", 1, FibreFinding, lambda run: _find(run, "fibre", FibreFinding), judge_fibre, FIBRE_LIMITS,
    "Wood-fibre insulation is no load-bearing sheet: judged by mould, by lost R, and here by long wetness; an estimate.",
)  # fmt: skip

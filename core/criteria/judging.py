"""What turns findings into judgements: limits with their reasons, what is stated of the build-up, one criterion's row."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from core.case import Strict
from core.criteria.findings import Day, Finding, Phase, Run
from core.errors import OutOfRange
from core.say import Said

State = Literal["within limits", "marginal", "over a limit"]
AgainstFound = Literal["", "better", "no change", "worse"]
MARGIN = 0.8
SAME = 1.02  # a value up to two hundredths above that of as found is no change


class Limit(Strict):
    """One limit: its default, its unit, why it is what it is, and the range in which it may be edited."""

    key: str
    name: str
    default: float
    unit: str
    why: str
    least: float
    most: float


LimitValues = Mapping[str, float]


class Judgement(Strict):
    """One criterion at one place in one stretch of time. share: value over limit; 1 is the limit.

    against: how it stands against as found, where as found passes its limit too. shares: of each of the criterion's
    measures, where it has several; share is the one that decides. path: through the bay, or through the members.
    """

    criterion: str
    place: str
    layer_id: str
    phase: Phase
    value: float
    unit: str
    share: float
    state: State
    on: Day
    sentence: Said
    against: AgainstFound = ""
    shares: list[float] = []
    path: Literal["bay", "member"] = "bay"


class Stated(Strict):
    """What is known of the build-up and its place beside the run: plain facts, from rules and from the survey.

    open_to_weather: name of an outermost layer that must be covered. cracked_film: name of an old film on the weather face. sound_years: for how long the wall has stood, where
    the survey found nothing wrong; 0 when that is not known. leak: the preset in force. rests_on_no_leak: “none” was chosen
    for an element that could leak. traps: their sentences, throttled ones too. read_wet: what the survey read or
    confirmed wet there. wears_off: a coat that sheds for some years only. in_trap: one of them is tight.
    """

    as_found: bool
    kind: str = "wall"
    adjoining: str = "outside"
    leak: str = "none"
    rests_on_no_leak: bool = False
    rain_leak: float = 0.0
    rain_leak_by_rule: bool = False
    traps: list[Said] = []
    in_trap: bool = False
    trap_holds_wood: bool = False
    open_to_weather: str = ""
    nothing_sheds: str = ""
    frost_proof: list[str] = []
    metal_stated: bool = False
    capillary_lining: bool = False
    sound_years: int = 0
    declared_air_barrier: str = ""
    cracked_film: str = ""
    vapour_only: bool = False
    drying_g_m2: float | None = None
    read_wet: list[Said] = []
    wears_off: str = ""


@dataclass(frozen=True)
class Criterion:
    """One row of the registry. version: counted up when the findings of the same run change.

    judge: a finding of a phase, the same finding of as found (None where there is none), limits, what is stated; None
    where it claims nothing.
    """

    key: str
    version: int
    finding: type[Finding]
    find: Callable[[Run], list[Any]]
    judge: Callable[[Any, Phase, Any, LimitValues, Stated], Judgement | None]
    limits: tuple[Limit, ...]
    covers_not: str


def state_of(share: float) -> State:
    """By value over limit: over it, within a fifth of it, or within limits."""
    return "over a limit" if share > 1.0 else "marginal" if share >= MARGIN else "within limits"


def checked_limits(limits: tuple[Limit, ...], edited: Mapping[str, float]) -> dict[str, float]:
    """Every limit in force: the edited ones in their range, the defaults. Raises OutOfRange for others."""
    known = {limit.key: limit for limit in limits}
    values = {key: limit.default for key, limit in known.items()}
    for key, value in edited.items():
        limit = known.get(key)
        if limit is None:
            raise OutOfRange(f"there is no limit “{key}”", "limits")
        if not limit.least <= value <= limit.most:
            raise OutOfRange(
                f"{limit.name}: {value:g} is outside {limit.least:g} to {limit.most:g} {limit.unit}".rstrip(), "limits"
            )
        values[key] = value
    return values

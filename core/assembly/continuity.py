"""The four control layers across a joint: each is carried on, or stops where one side has none."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

from core.assembly.control import Control, ControlLayers
from core.say import Said, join, say

ControlLine = Literal["rain", "air", "vapour", "heat"]
LINES: tuple[ControlLine, ...] = get_args(ControlLine)


@dataclass(frozen=True)
class JointSide:
    """What meets at a joint: an element by its name, with its control layers."""

    name: str
    control: ControlLayers


@dataclass(frozen=True)
class Stop:
    """A control layer that one side of a joint has and the other lacks, with why."""

    line: ControlLine
    words: Said


def stops(first: JointSide, second: JointSide) -> list[Stop]:
    """Where lines stop between two sides. Where both have one it is not known to be carried across: a detail shows it, not a build-up. Rain is followed
    only where both face it."""
    found = []
    for line in LINES:
        lacking = [(side, of_line(side.control, line)) for side in (first, second)]
        none = [(side, control) for side, control in lacking if control.layer_id is None]
        if line == "rain" and any(control.why == "not against rain" for _, control in none):
            continue
        if len(none) == 1:
            side, control = none[0]
            found.append(Stop(line, join([say("{name}: {because}", name=side.name, because=control.because)], "; ")))
    return found


def of_line(control: ControlLayers, line: ControlLine) -> Control:
    """The control layer of one line."""
    return {"rain": control.rain, "air": control.air, "vapour": control.vapour, "heat": control.heat}[line]

"""A simulated blower-door gauge: says so, and speaks the CSV that a real one would."""

from __future__ import annotations

import sys

import numpy as np

from core.measure.blower_door import BlowerDoorTest
from core.measure.paste import parse_flow_points

PRESSURES = (11.0, 18.0, 26.0, 34.0, 42.0, 50.0, 58.0, 66.0)
NOISE = 0.012


def csv(volume_m3: float, n50: float | None, seed: int) -> str:
    """Readings up and down with a little scatter, as text. n50 [1/h]; 9 where none is known."""
    rng = np.random.default_rng(seed)
    exponent = 0.64
    coefficient = (n50 or 9.0) * volume_m3 / 50.0**exponent
    lines = ["# simulated gauge: these readings are made up", "direction,pressure_pa,flow_m3_h"]
    for direction, bias in (("up", 1.03), ("down", 0.97)):
        for pressure in PRESSURES:
            shown = pressure + float(rng.normal(0.0, 0.2))
            flow = coefficient * bias * pressure**exponent * float(np.exp(rng.normal(0.0, NOISE)))
            lines.append(f"{direction},{shown:.1f},{flow:.0f}")
    return "\n".join(lines) + "\n"


def read(volume_m3: float, n50: float | None, seed: int) -> BlowerDoorTest:
    """A whole test: the gauge's CSV through the same reader as a real one's, with conditions."""
    return BlowerDoorTest(
        points=parse_flow_points(csv(volume_m3, n50, seed)),
        inside_c=19.0,
        outside_c=8.0,
        zero_before_pa=0.6,
        zero_after_pa=0.9,
        wind_m_s=2.4,
        height_m=7.5,
    )


if __name__ == "__main__":
    print(csv(float(sys.argv[1]) if len(sys.argv) > 1 else 500.0, None, 1), end="")

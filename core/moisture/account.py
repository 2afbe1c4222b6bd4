"""The water account of a year: what comes in and goes out, by source and by face, and what the build-up keeps."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from core.moisture.transient.columns import ABSORBED, BY_FILM, INSIDE, LIQUID, OUTSIDE, VAPOUR
from core.moisture.transient.outcome import GAINS, Outcome

WORDS = {
    "cavity": "air of cavities",
    "air leak": "leaking air",
    "rain leak": "rain that leaks in",
    "drained": "drained away",
}
GOES_ROUND = "room air behind the boards"


@dataclass(frozen=True)
class AccountRow:
    """One way of water in the settled year [kg/m²]; gain and loss are both positive."""

    name: str
    gain_kg_m2: float
    loss_kg_m2: float


@dataclass(frozen=True)
class WaterAccount:
    """rows add up: gains − losses = kept, but for what one record's rounding leaves (`gap_kg_m2`).

    heat_kwh_m2: heat through the room face in the year, outward positive.
    """

    rows: list[AccountRow]
    kept_kg_m2: float
    gap_kg_m2: float
    heat_kwh_m2: float


def water_account(outcome: Outcome) -> WaterAccount:
    """The last pass of a run. Gain and loss are summed by the hour, so that an hour counts on one side only."""
    year, seconds = outcome.last_pass, outcome.record_step_s
    flux, gained = outcome.flux[year], outcome.gained[year]

    def row(name: str, values: np.ndarray) -> AccountRow:
        kilograms = values * seconds
        return AccountRow(name, float(np.maximum(kilograms, 0.0).sum()), float(np.maximum(-kilograms, 0.0).sum()))

    soil = outcome.case.outside.type == "ground"
    gaps = outcome.case.air.cavities
    words = WORDS | ({"cavity": GOES_ROUND} if gaps and all(gap.of == "inside" for gap in gaps) else {})
    rows = [
        row("water from the soil" if soil else "rain taken up by the outer face", flux[:, OUTSIDE, LIQUID]),
        row("vapour from and to the soil" if soil else "vapour through the outer face", flux[:, OUTSIDE, VAPOUR]),
        *(row(words[kind], gained[:, index]) for index, kind in enumerate(GAINS)),
        row("vapour through the room face", flux[:, INSIDE, VAPOUR]),
        row("liquid through the room face", flux[:, INSIDE, LIQUID]),
    ]
    before = outcome.layer_water[year.start - 1].sum() if outcome.passes > 1 else outcome.start_layer_water.sum()
    kept = float(outcome.layer_water[-1].sum() - before)
    balance = sum(r.gain_kg_m2 - r.loss_kg_m2 for r in rows)
    heat = float((flux[:, INSIDE, BY_FILM] + flux[:, INSIDE, ABSORBED]).sum() * seconds / 3.6e6)
    shown = [r for r in rows if r.gain_kg_m2 > 1e-6 or r.loss_kg_m2 > 1e-6]
    return WaterAccount(shown, kept, float(balance - kept), heat)

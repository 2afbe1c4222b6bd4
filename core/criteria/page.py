"""docs/criteria.md, from the registry: what each criterion finds and how, its limits and why, where it is from, what it leaves out. Written by `./run format`."""

from __future__ import annotations

from dataclasses import dataclass

from core.criteria.judging import MARGIN, Limit
from core.criteria.registry import CRITERIA, LEFT_OUT


@dataclass(frozen=True)
class Told:
    """What a reader asks of a criterion beside its row."""

    title: str
    finds: str
    judges: str
    source: str


TOLD: dict[str, Told] = {
    "mould": Told(
        "Mould index",
        "At every face between layers, both sides of a sheet and the room face, hour by hour: where RH > RH_crit and 0 < T ≤ 50 °C, dM/dt = k₁ k₂ / (7 t_m) per day with "
        "t_m = exp(−0.68 ln T − 13.9 ln RH + 66.02) weeks, k₂ = max(0, 1 − exp(2.3 (M − M_max))), M_max = A + B r − C r², r = (RH_crit − RH)/(RH_crit − 100), RH_crit = "
        "max(RH_min, −0.00267 T³ + 0.160 T² − 3.13 T + 100) up to 20 °C and RH_min above. Elsewhere M falls: 0.032 a day for 6 h, not at all until 24 h, 0.016 a day after, times the class's share. "
        "*For good* is the settled year lived again from M = 0 until its peak repeats to 0.01, ten years at most; *drying in* is what lies before.",
        "Its highest value over the limit of its place: room face, cavity, inside of the build-up. Faces in the weather or on the earth's side, inside masonry, and bonded in lime without air are told and not judged.",
        "Hukka and Viitanen 1999; classes and decline Ojanen et al. 2010. Coefficients from memory of these, cross-checked: core/cases/reference/mould.md.",
    ),
    "timber": Told(
        "Solid timber",
        "Daily means of the wettest 10 mm of each layer of solid timber: the longest spell over the line from 95 % RH at 0 °C to 86 % at 30 °C, and the most mass-% on a day above 10 °C.",
        "The spell over its limit in days, or the mass-% over its own, whichever is more. Over the limit the durability class (EN 350) tells how soon it rots.",
        "The line as some codes put it, from memory; the texts are not at hand.",
    ),
    "sheet": Told(
        "Wood-based sheets",
        "Daily means of the wettest 10 mm: the longest spell above so many mass-%, in whole percents, and the most on a day above 10 °C.",
        "The spell over its limit in days, or the mass-% over its own.",
        "Practice; 18 and 22 mass-% are usual in codes.",
    ),
    "wood fibre": Told(
        "Wood-fibre insulation",
        "The longest spell above so much RH while above 5 °C, of the wettest 10 mm by the day.",
        "The spell over its limit in days.",
        "An estimate of ours: it is no load-bearing sheet.",
    ),
    "condensate": Told(
        "Condensate",
        "Free water that a face inboard of the weather holds beyond saturation, in g/m², and whether it is dry (below 1 g/m²) once in the settled year. The solver lets a face hold 490 g/m²; more runs off.",
        "The most of it over the limit; what does not dry within the year is over.",
        "The limit after ISO 13788.",
    ),
    "wet insulation": Told(
        "Wet insulation",
        "1 − R(w)/R(50 % RH) of each insulating layer inboard of the weather, with λ(w) of the material, the mean of a year.",
        "The share of R lost over the limit.",
        "A definition.",
    ),
    "frost": Told(
        "Frost in masonry",
        "Falls below −2 °C after having been above 0 °C, in each cell of capillary masonry and plaster; wet where water is over 80 % of free saturation. The depth with most wet ones.",
        "At most *marginal*: more wet cycles than as found and the limit, unless the stone is stated to stand frost.",
        "Counting as is usual; a critical degree of a stone is not known.",
    ),
    "metal": Told(
        "Metal",
        "Hours a year at stated metal with RH above 80 % above 0 °C (time of wetness), with the class τ1 to τ5.",
        "At most *marginal*: wetter by more hours than as found and the limit. Stainless steel is told only.",
        "ISO 9223, time of wetness.",
    ),
    "accumulation": Told(
        "Accumulation",
        "Water of the whole build-up at the end of each year; whether the year repeats itself (to 0.3 % of the water and 0.2 points of RH).",
        "The rise of the last year over the one before, over the limit; a rise that slows towards an end is at most *marginal*.",
        "A definition.",
    ),
}


def as_markdown() -> str:
    """The page. Raises KeyError for a criterion that TOLD lacks."""
    lines = [
        "# Criteria",
        "",
        "Written by `./run format` from `core/criteria`. Each criterion has its finding (kept with the run), its limits (edited by project), and its judgement. A value up to "
        f"{MARGIN:.0%} of its limit is *within limits*, up to it *marginal*, beyond it *over a limit*. *For good* is the settled year; *drying in* what lies before it.",
        f"Left out: {LEFT_OUT}.",
    ]
    for row in CRITERIA:
        told = TOLD[row.key]
        lines += [
            "",
            f"## {told.title}",
            "",
            f"`{row.key}`, version {row.version}",
            "",
            f"**Finds.** {told.finds}",
            "",
            f"**Judges.** {told.judges}",
            "",
        ]
        lines += ["| Limit | Default | From | To | Why |", "|---|---|---|---|---|", *map(_limit, row.limits), ""]
        lines += [f"**Leaves out.** {row.covers_not}", "", f"**Source.** {told.source}"]
    return "\n".join(lines) + "\n"


def _limit(limit: Limit) -> str:
    return f"| {limit.name} | {limit.default:g} {limit.unit} | {limit.least:g} | {limit.most:g} | {limit.why} |"

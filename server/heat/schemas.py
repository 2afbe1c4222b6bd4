"""Heat as it is answered."""

from __future__ import annotations

from ninja import Schema

from core.say import Said


class HeatRow(Schema):
    element_id: int | None
    name: str
    kind: str
    area_m2: float | None
    factor_b: float | None
    u_before: float | None
    u_after: float | None
    before_w_k: float
    after_w_k: float
    before_kwh: float
    after_kwh: float
    before_w: float
    after_w: float
    note: Said


class Credit(Schema):
    """What one thing takes off the building's loss."""

    what: Said
    w_k: float
    kwh: float


class HeatOut(Schema):
    """missing: what no figure is known for; the total is then of the known parts only. credits: options and air apart."""

    rows: list[HeatRow]
    total: HeatRow
    complete: bool
    credits: list[Credit]
    degree_hours_kh: float
    set_point_c: float
    design_c: float
    climate_label: str
    climate_origin: str
    missing: list[str]
    arithmetic: list[Said]

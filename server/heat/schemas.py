"""Heat as it is answered."""

from __future__ import annotations

from ninja import Schema

from core.building.factors import SpaceLoss
from core.say import Said


class LineOut(Schema):
    """Both heated lines. after_on_floor_before: the loss after on the floor that was heated before; like_for_like: what the rooms heated after would
    have lost with the fabric and air as found, None where the line stays."""

    moved: list[str]
    lost: list[str]
    volume_before_m3: float
    volume_after_m3: float
    floor_before_m2: float
    floor_after_m2: float
    before_w_m2k: float | None
    after_w_m2k: float | None
    after_on_floor_before_w_m2k: float | None
    like_for_like_w_k: float | None


class HeatRow(Schema):
    """stands: in the heated line before the works, after them, or both; its area is 0 where it is not."""

    element_id: int | None
    name: str
    kind: str
    stands: str
    area_m2: float | None
    area_after_m2: float | None
    factor_b: float | None
    factor_after: float | None
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
    line: LineOut
    spaces_before: list[SpaceLoss]
    spaces_after: list[SpaceLoss]

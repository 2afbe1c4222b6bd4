"""The peaks and the yearly figures of every sheet of heat in one list."""

from __future__ import annotations

from core.which_figure import Known, WhichFigure, which_figures
from server.heat.balance import balance_of
from server.heat.figures import heat
from server.heat.rooms import rooms_of
from server.heat.schemas import BalanceOut, HeatOut, RoomsOut
from server.projects.models import Project


def which_of(project: Project) -> list[WhichFigure]:
    """Of the scheme that is shown. Raises ClimateGone."""
    return from_sheets(heat(project), rooms_of(project), balance_of(project))


def from_sheets(loss: HeatOut, rooms: RoomsOut, year: BalanceOut) -> list[WhichFigure]:
    """The same of sheets that are at hand."""
    total = loss.total
    sides = [side for side in (rooms.before, rooms.after) if side is not None and side.loads.rooms]
    summed = [side.loads.watts + sum(one.watts for one in side.left) for side in sides]
    both = (year.before, year.after) if year.before is not None and year.after is not None else None
    return which_figures(
        Known(
            loss.set_point_c,
            loss.design_c,
            (total.before_w, total.after_w),
            (total.before_kwh, total.after_kwh),
            (summed[0], summed[1]) if len(summed) == 2 else None,
            (both[0].heating_peak_w, both[1].heating_peak_w) if both else None,
            (both[0].heating_kwh, both[1].heating_kwh) if both else None,
            (year.running.fuel_before_kwh, year.running.fuel_after_kwh) if year.running is not None else None,
        )
    )

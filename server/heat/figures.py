"""Heat loss of the building before and after the chosen options: both heated lines, each space and the ground as they are."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from core.air_flow.leaks import AirYear, Leak, air_year
from core.air_flow.ledger import Ledger
from core.air_flow.order import changes_in_the_cold
from core.climate.data import Climate, shipped
from core.errors import CaseRefused, CoreError
from core.heat_loss import AirLoss, ElementLoss, HeatLoss
from core.physics.constants import AIR_DENSITY, AIR_WH_M3K
from core.say import Said, coefficient, heat_of_air, join, said, say, temperature, volume
from core.say import degree_hours as degree_hours_said
from core.survey.line import moved_words
from core.thermal.iso6946 import transmittance
from core.zones.assemble import State, leaks_of
from core.zones.factors import SpaceLoss, space_losses
from server.heat.schemas import Credit, HeatOut, HeatRow, LineOut
from server.projects.models import Project
from server.states.beyond import beyond, yearly_degree_hours
from server.states.state import Row, Shown, ledger_of, rows_of, shown_of, sizes, state_of

N50_DIVISOR = 20.0


@dataclass(frozen=True)
class Air:
    """Infiltration of one state: mean air changes of the heating season [1/h], and whence."""

    rate: float
    words: Said


@dataclass(frozen=True)
class Known:
    """U and factor b of an element in one state, with words; u None: not known, and why."""

    area: float
    u: float | None
    b: float
    words: Said
    why: str = ""


def states(shown: Shown, between: bool = False) -> tuple[State, State, Ledger | None, str, str]:
    """(as found, after, the ledger, whence its sums, why there is none)."""
    made, whence = None, ""
    refused = ""
    try:
        made, before, after = ledger_of(shown)
        whence = f"{before}; {after}"
    except CoreError as error:
        refused = error.message
    if made is None and not refused:
        refused = before
    return state_of(shown, False, made), state_of(shown, True, made, between), made, whence, refused


def heat(project: Project, between: bool = False) -> HeatOut:
    """Heat loss before and after the chosen options. What is missing is listed, never guessed. Raises ClimateGone.

    between: what stands between the phases in place of the choice, where something does.
    """
    climate = shipped(project.climate)
    shown = shown_of(project)
    found, after, _, whence, refused = states(shown, between)
    factors = space_losses(found), space_losses(after)
    missing: list[str] = []
    losses: list[ElementLoss] = []
    notes: list[tuple[int, str, Said]] = []
    rows = {row.element.pk: row for row in rows_of(shown, False)}
    later = {row.element.pk: row for row in rows_of(shown, True, between)}
    for element in shown.elements:
        if element.pk not in rows and element.pk not in later:
            if element.in_shape:
                continue  # another scheme brings it
            missing.append(f"{element.name}: no longer in the shape, left out; draw it again, or remove it")
            continue
        before = _known(shown, rows.get(element.pk), found, factors[0], False)
        then = _known(shown, later.get(element.pk), after, factors[1], True)
        lacking = next((one.why for one in (before, then) if one is not None and one.u is None), "")
        if lacking:
            missing.append(f"{element.name}: {lacking}")
            continue
        a, b = before or then, then or before
        assert a is not None and b is not None and a.u is not None and b.u is not None
        losses.append(
            ElementLoss(
                element.name,
                element.kind,
                before.area if before else 0.0,
                a.b,
                a.u,
                b.u,
                then.area if then else 0.0,
                b.b,
            )  # fmt: skip
        )
        stands = "both" if before and then else "before" if before else "after"
        words = {
            "before": said("not in the heated line any more"),
            "after": join([said("new in the heated line"), b.words], "; "),
        }
        notes.append((element.pk, stands, words.get(stands, b.words)))
    n50 = _typed_n50(project, False), _typed_n50(project, True)
    airs = (
        season_air(found, climate, whence, refused, n50[0]),
        season_air(after, climate, whence, refused, n50[1]),
    )
    if project.volume_m3 is None or not (found.ledger is not None or found.natural_1_h or n50[0]):
        missing.append("Air: state volume and air changes in Survey")
    air = AirLoss(found.volume_m3, airs[0].rate, airs[1].rate, after.volume_m3)
    result = HeatLoss(
        losses,
        air,
        yearly_degree_hours(project.climate, project.set_point_c, project.occupancy),
        project.set_point_c,
        climate.design_temperature_c,
    )
    made = [
        _heat_row(result, pk, loss.name, loss.kind, loss.before, loss.after, note, loss, stands)
        for loss, (pk, stands, note) in zip(losses, notes, strict=True)
    ]
    made.append(_heat_row(result, None, "Air", "air", air.before, air.after, airs[1].words, None, "both"))
    whole = result.coefficient(False), result.coefficient(True)
    total = _heat_row(result, None, "Building", "total", *whole, said(""), None, "both")
    moved = any(stands != "both" for _, stands, _ in notes) or shown.found != shown.after
    # where the line moves, of what is heated after the works: like for like
    chosen = sum(loss.like_for_like - loss.after for loss in losses)
    tighter = air.like_for_like - air.after
    credits = [
        Credit(what=said("the chosen options and planned windows"), w_k=chosen, kwh=result.yearly_loss(chosen)),
        Credit(
            what=said("the air target, which no option gives by itself"), w_k=tighter, kwh=result.yearly_loss(tighter)
        ),
    ]
    return HeatOut(
        rows=made,
        total=total,
        complete=not missing,
        credits=credits,
        degree_hours_kh=result.degree_hours / 1000.0,
        set_point_c=project.set_point_c,
        design_c=result.design_c,
        climate_label=climate.label,
        climate_origin=climate.origin,
        missing=missing,
        arithmetic=_arithmetic(result, climate.label, factors),
        line=_line(shown, result, losses, moved and not missing),
        spaces_before=list(factors[0].values()),
        spaces_after=list(factors[1].values()),
    )


def _line(shown: Shown, result: HeatLoss, losses: list[ElementLoss], moved: bool) -> LineOut:
    """Both lines and what is comparable: per m² of each floor, and what the rooms after would have lost with the fabric as found."""
    scheme = shown.project.shown_scheme()
    (v0, f0), (v1, f1) = sizes(shown, False), sizes(shown, True)
    words = moved_words(shown.found, scheme.current_changes)
    like = None
    if moved:
        like = result.like_for_like
    before, after = result.coefficient(False), result.coefficient(True)
    return LineOut(
        moved=words,
        lost=list(shown.both.lost),
        volume_before_m3=v0,
        volume_after_m3=v1,
        floor_before_m2=f0,
        floor_after_m2=f1,
        before_w_m2k=before / f0 if f0 else None,
        after_w_m2k=after / f1 if f1 else None,
        after_on_floor_before_w_m2k=after / f0 if f0 else None,
        like_for_like_w_k=like,
    )


def _known(shown: Shown, row: Row | None, state: State, spaces: dict[str, SpaceLoss], after: bool) -> Known | None:
    """U, b and words of an element in one state; None where it is not in the line."""
    if row is None:
        return None
    element = row.element
    where = beyond(shown, row, state, spaces, after)
    name = said(row.option.name if row.option is not None else "no option chosen: stays as found")
    if not element.has_build_up:
        planned = element.planned_u_w_m2k if after else None
        if element.u_w_m2k is None:
            return Known(row.area_m2, None, 1.0, said(""), "no U-value")
        b, words = where.factor(planned or element.u_w_m2k)
        told = join([said("planned U" if planned else "stays as found"), words], "; ")
        return Known(row.area_m2, planned or element.u_w_m2k, b, told)
    assert row.build_up is not None
    if not row.build_up.is_stated:
        return Known(row.area_m2, None, 1.0, name, "construction not stated, so its loss is not known")
    try:
        made = transmittance(row.build_up, element.kind)
    except CaseRefused as error:
        return Known(row.area_m2, None, 1.0, name, error.message)
    u, b, words = where.of(made)
    return Known(row.area_m2, u, b, join([name, words], "; "))


def _typed_n50(project: Project, after: bool) -> float:
    if project.air_kind != "n50":
        return 0.0
    aimed = project.air_value_after if after else None
    return (project.air_value if aimed is None else aimed) or 0.0


def season_air(state: State, climate: Climate, whence: str, refused: str, typed_n50: float = 0.0) -> Air:
    """typed_n50: where there is nothing that leaks to share it over. Air changes by leaks, the mean over the hours weighted by how far they lie below the set-point, so that H × degree hours is the loss."""
    if state.ledger is None and typed_n50:
        rate = typed_n50 / N50_DIVISOR
        return Air(rate, said(f"n50 {typed_n50:g} 1/h, divided by {N50_DIVISOR:g}, a rule of thumb: {refused}"))
    if state.ledger is None:
        rate = state.natural_1_h
        return Air(rate, said(f"natural air changes {rate:g} 1/h typed" if rate else refused))
    year = air_of(state, climate.name)
    if year is None:
        return Air(0.0, said(refused))
    rate = changes_in_the_cold(year, climate, state.heat_to_c)
    q50 = state.ledger.total_after if state.after else state.ledger.total_before
    n50 = q50 / state.volume_m3 if state.volume_m3 else 0.0
    ratio = f", n50 / {n50 / rate:.0f}" if rate > 0.0 else ""
    return Air(
        rate,
        said(f"n50 {n50:.2g} 1/h through the leaks of the ledger by stack and wind: {rate:.2g} 1/h{ratio} ({whence})"),
    )


@lru_cache(maxsize=64)
def _air_year(
    climate: str, leaks: tuple[Leak, ...], inside_c: float, volume_m3: float, fan_kg_h: float, wind: float
) -> AirYear:
    return air_year(list(leaks), shipped(climate), inside_c, volume_m3, fan_kg_h, wind)


def air_of(state: State, climate: str) -> AirYear | None:
    """Air through the leaks of a state, kept by what it depends on; None without a ledger."""
    if state.ledger is None or state.volume_m3 <= 0.0:
        return None
    leaks = tuple(leaks_of(state.ledger.rows, state.after))
    fan = -AIR_DENSITY * state.stated.ventilation.extract_m3_h
    return _air_year(climate, leaks, state.heat_to_c, state.volume_m3, fan, state.wind_factor) if leaks else None


def _heat_row(
    result: HeatLoss,
    pk: int | None,
    name: str,
    kind: str,
    before: float,
    after: float,
    note: Said,
    loss: ElementLoss | None,
    stands: str,
) -> HeatRow:
    return HeatRow(
        element_id=pk,
        name=name,
        kind=kind,
        stands=stands,
        area_m2=loss.area if loss else None,
        area_after_m2=loss.area_after if loss else None,
        factor_b=loss.factor_b if loss else None,
        factor_after=loss.factor_after if loss else None,
        u_before=loss.u_before if loss else None,
        u_after=loss.u_after if loss else None,
        before_w_k=before,
        after_w_k=after,
        before_kwh=result.yearly_loss(before),
        after_kwh=result.yearly_loss(after),
        before_w=result.design_load(before),
        after_w=result.design_load(after),
        note=note,
    )


def _arithmetic(result: HeatLoss, label: str, factors: tuple[dict[str, SpaceLoss], dict[str, SpaceLoss]]) -> list[Said]:
    hours, air = result.degree_hours, result.air
    lines = [
        said("Element: H = area × U effective (ISO 6946) × b. Joints are not in it yet."),
        said("On the ground: U to the outside by size, perimeter, depth and soil (ISO 13370), b 1."),
    ]
    for when, spaces in (("as found", factors[0]), ("after", factors[1])):
        for space in spaces.values():
            lines.append(
                say(
                    "{name}, {when}: b = {outer} / ({inner} + {outer}) = {b}; its skins {skins}, the earth {earth}, air {air}{assumed}.",
                    name=space.name[0].upper() + space.name[1:],
                    when=when,
                    outer=coefficient(space.outer_w_k),
                    inner=coefficient(space.inner_w_k),
                    b=f"{space.b:.2f}",
                    skins=coefficient(space.skins_w_k),
                    earth=coefficient(space.earth_w_k),
                    air=coefficient(space.air_w_k),
                    assumed=join([said("; taken: "), join(space.assumed, ", ")], "") if space.assumed else "",
                )  # fmt: skip
            )
    return [
        *lines,
        say(
            "Air: H = {heat} × volume {volume} × air changes {before} → {after} 1/h (ISO 13789).",
            heat=heat_of_air(AIR_WH_M3K), volume=volume(air.volume), before=f"{air.rate_before:.3g}", after=f"{air.rate_after:.3g}",
        ),
        say(
            "Loss in a year: H × {hours}, the sum over all hours of {label} of the degrees below {set}. Loss, not need: sun, people "
            "and appliances are not taken off.",
            hours=degree_hours_said(hours), label=label, set=temperature(result.set_point_c),
        ),
        say(
            "Design load: H × the difference of {set} and {design}; the second is the coldest 24-hour mean of the climate. "
            "For the heating designer: no reheat, no margin.",
            set=temperature(result.set_point_c), design=temperature(result.design_c, 1),
        ),
    ]  # fmt: skip

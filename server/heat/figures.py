"""Heat loss of the building before and after the chosen options."""

from __future__ import annotations

from core.building.heat import AIR_HEAT, N50_DIVISOR, AirLoss, ElementLoss, HeatLoss, natural_air_change
from core.climate.data import shipped
from core.errors import CaseRefused
from core.say import Said, heat_of_air, join, said, say, temperature, volume
from core.say import degree_hours as degree_hours_said
from core.thermal.iso6946 import transmittance
from server.heat.schemas import Credit, HeatOut, HeatRow
from server.options.figures import transmittance_to_outside, yearly_degree_hours
from server.projects.models import Element, Project
from server.projects.permissions import CHOICES


def heat(project: Project, between: bool = False) -> HeatOut:
    """Heat loss before and after the chosen options. What is missing is listed, never guessed. Raises ClimateGone.

    between: what stands between the phases in place of the choice, where something does.
    """
    climate = shipped(project.climate)
    missing: list[str] = []
    losses: list[ElementLoss] = []
    notes: list[tuple[int, Said]] = []
    read = (*CHOICES, "choices__between") if between else CHOICES
    for element in project.elements.prefetch_related("options", *read):
        element.project = project
        if element.shape_key and not element.in_shape:
            missing.append(f"{element.name}: no longer in the shape, left out; draw it again, or remove it")
            continue
        try:
            before, after, factor, note = _element_u(element, between)
        except CaseRefused as error:
            missing.append(f"{element.name}: {error.message}")
            continue
        losses.append(ElementLoss(element.name, element.kind, element.area_m2, factor, before, after))
        notes.append((element.pk, note))
    if project.volume_m3 is None or project.air_value is None:
        missing.append("Air: state volume and air changes in Survey")
    air = AirLoss(
        project.volume_m3 or 0.0,
        natural_air_change(project.air_kind, project.air_value or 0.0),  # type: ignore[arg-type]
        natural_air_change(
            project.air_kind,  # type: ignore[arg-type]
            (project.air_value or 0.0) if project.air_value_after is None else project.air_value_after,
        ),
    )
    result = HeatLoss(
        losses,
        air,
        yearly_degree_hours(project.climate, project.set_point_c),
        project.set_point_c,
        climate.design_temperature_c,
    )
    rows = [
        _heat_row(result, pk, loss.name, loss.kind, loss.before, loss.after, note, loss)
        for loss, (pk, note) in zip(losses, notes, strict=True)
    ]
    rows.append(_heat_row(result, None, "Air", "air", air.before, air.after, _air_note(project, air), None))
    whole = result.coefficient(False), result.coefficient(True)
    total = _heat_row(result, None, "Building", "total", *whole, said(""), None)
    chosen = sum(loss.before - loss.after for loss in losses)
    credits = [
        Credit(what=said("the chosen options and planned windows"), w_k=chosen, kwh=result.yearly_loss(chosen)),
        Credit(
            what=said("the air target, which no option gives by itself"),
            w_k=air.before - air.after,
            kwh=result.yearly_loss(air.before - air.after),
        ),
    ]
    return HeatOut(
        rows=rows,
        total=total,
        complete=not missing,
        credits=credits,
        degree_hours_kh=result.degree_hours / 1000.0,
        set_point_c=project.set_point_c,
        design_c=result.design_c,
        climate_label=climate.label,
        climate_origin=climate.origin,
        missing=missing,
        arithmetic=_arithmetic(result, climate.label),
    )


def _element_u(element: Element, between: bool) -> tuple[float, float, float, Said]:
    """(U before, U after, factor b, words); of a floor on the ground U to the outside by its size, with b 1."""
    if not element.has_build_up:
        if element.u_w_m2k is None:
            raise CaseRefused("no U-value")
        after = element.planned_u_w_m2k or element.u_w_m2k
        return (
            element.u_w_m2k,
            after,
            element.factor_b,
            said("planned U" if element.planned_u_w_m2k else "stays as found"),
        )
    as_found = element.as_found.current
    if not as_found.is_stated:
        raise CaseRefused("construction not stated, so its loss is not known")
    found = transmittance(as_found, element.kind)
    option = element.chosen
    if between and element.choice is not None and element.choice.between is not None:
        option = element.choice.between
    chosen = option.current if option is not None else as_found
    upgraded = transmittance(chosen, element.kind)
    name = said(option.name if option is not None else "no option chosen: stays as found")
    ground = transmittance_to_outside(element, as_found, found)[1]
    words = join([name, ground], "; ")
    if element.ground_place is not None:
        before, after = (transmittance_to_outside(element, b, t)[0] for b, t in ((as_found, found), (chosen, upgraded)))
        return before, after, 1.0, words
    return found.u_effective, upgraded.u_effective, element.factor_b, words


def _air_note(project: Project, air: AirLoss) -> Said:
    if project.air_kind == "n50":
        after = project.air_value if project.air_value_after is None else project.air_value_after
        return said(f"n50 {project.air_value or 0:g} → {after or 0:g} 1/h, divided by {N50_DIVISOR:g} (rule of thumb)")
    return said(f"natural air changes {air.rate_before:g} → {air.rate_after:g} 1/h")


def _heat_row(
    result: HeatLoss,
    pk: int | None,
    name: str,
    kind: str,
    before: float,
    after: float,
    note: Said,
    loss: ElementLoss | None,
) -> HeatRow:
    return HeatRow(
        element_id=pk,
        name=name,
        kind=kind,
        area_m2=loss.area if loss else None,
        factor_b=loss.factor_b if loss else None,
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


def _arithmetic(result: HeatLoss, label: str) -> list[Said]:
    hours, air = result.degree_hours, result.air
    return [
        said("Element: H = area × U effective (ISO 6946) × b. Joints are not in it yet."),
        said("Floor on the ground: U to the outside by its size, perimeter and soil (ISO 13370, simple form), b 1."),
        say(
            "Air: H = {heat} × volume {volume} × air changes {before} → {after} 1/h (ISO 13789).",
            heat=heat_of_air(AIR_HEAT), volume=volume(air.volume), before=f"{air.rate_before:.3g}", after=f"{air.rate_after:.3g}",
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

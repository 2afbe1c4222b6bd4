"""Projects, their elements, and the options of each element. Build-ups are stored as core data."""

from __future__ import annotations

from datetime import datetime
from functools import cached_property
from typing import TYPE_CHECKING, Any, Self

from django.contrib.auth.models import AbstractBaseUser, AnonymousUser, User
from django.db import models
from django.db.models import Q
from pydantic import ValidationError

from core.brief import Brief, LimitSaid, Where, limits_with_brief
from core.buildup.model import BuildUp, Limits, Place
from core.case import describe_problems
from core.climate.data import shipped
from core.errors import ClimateGone, CoreError
from core.rooms import Rooms
from core.survey.exposure import ExposureSteps, FaceExposure, exposure_steps, word_steps
from core.survey.line import Changes, Geometries, Stands, geometries
from core.survey.record import FOLLOWING, FOLLOWING_BUILDING, BuildingField, FollowingField, FromShape, following
from core.survey.shape import Shape
from core.zones.stated import AirStated, Energy

if TYPE_CHECKING:
    from django.db.models.fields.related_descriptors import RelatedManager


USUAL_ABSORPTANCE = 0.6
USUAL_RAIN_WIND_M_S = 5.0


def stated_air(raw: Any) -> AirStated:
    try:
        return AirStated.model_validate(raw)
    except ValidationError:
        return AirStated()


def signed_in(user: AbstractBaseUser | AnonymousUser | None) -> User:
    if not isinstance(user, User):
        raise ValueError("a permission was asked for without a signed-in person")
    return user


def name_of(user: AbstractBaseUser | AnonymousUser | None) -> str:
    """A person's full name, as it stands beside what they did."""
    person = signed_in(user)
    return person.get_full_name() or person.get_username()


class Guarded(models.QuerySet[Any]):
    """Who may see rows and who may change them: today the owner, for both. The one place where that is decided."""

    owner = "owner"  # the way from a row to the person

    def viewable_by(self, user: AbstractBaseUser | AnonymousUser | None) -> Self:
        return self.filter(**{self.owner: signed_in(user)})

    def editable_by(self, user: AbstractBaseUser | AnonymousUser | None) -> Self:
        return self.viewable_by(user)


class GuardedRow(models.Model):
    """The same asked of one row."""

    class Meta:
        abstract = True

    def viewable_by(self, user: AbstractBaseUser | AnonymousUser | None) -> bool:
        return bool(type(self).objects.viewable_by(user).filter(pk=self.pk).exists())  # type: ignore[attr-defined]

    def editable_by(self, user: AbstractBaseUser | AnonymousUser | None) -> bool:
        return bool(type(self).objects.editable_by(user).filter(pk=self.pk).exists())  # type: ignore[attr-defined]


class Project(GuardedRow):
    """A building under study."""

    owner = models.ForeignKey(User, on_delete=models.CASCADE, related_name="projects")
    name = models.CharField(max_length=120)
    climate = models.CharField(max_length=80, default="corrie")
    occupancy = models.CharField(max_length=80, default="normal")
    set_point_c = models.FloatField(default=20.0)
    start_rh = models.FloatField(default=0.8)
    volume_m3 = models.FloatField(null=True)
    floor_area_m2 = models.FloatField(null=True)
    air_kind = models.CharField(max_length=10, default="n50")
    air_value = models.FloatField(null=True)
    air_value_after = models.FloatField(null=True)
    works_on = models.CharField(max_length=5, default="05-01")
    soil = models.CharField(max_length=16, default="sand or gravel")
    limits = models.JSONField(default=dict)  # edited limits of the criteria by key; the others are the defaults
    air = models.JSONField(default=dict)  # core `AirStated` of the building as found
    energy = models.JSONField(default=dict)  # core `Energy`
    rooms = models.JSONField(default=dict)  # core `Rooms`
    prices = models.JSONField(default=list)  # core `Price`s, each of another material or source
    brief = models.JSONField(default=dict)
    brief_revision = models.PositiveIntegerField(default=1)
    shape = models.JSONField(default=dict)
    shape_revision = models.PositiveIntegerField(default=1)
    corrected = models.JSONField(default=list)  # figures of the whole building that were typed and stay
    scheme = models.ForeignKey(
        "Scheme", on_delete=models.SET_NULL, null=True, related_name="+"
    )  # the one every view shows; null: the first
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)

    objects = Guarded.as_manager()
    elements: RelatedManager[Element]

    class Meta:
        ordering = ["-changed_at"]

    @property
    def current_shape(self) -> Shape:
        """The shape; an empty one where what is kept is not a shape any more (`shape_refused` says why)."""
        try:
            return Shape.model_validate(self.shape)
        except ValidationError:
            return Shape()

    def shown_scheme(self) -> Scheme:
        """The scheme that every view shows; the first is made where there is none."""
        return self.scheme or Scheme.objects.get_or_create(project=self, position=0)[0]

    @property
    def current_air(self) -> AirStated:
        """What is stated of its air and use as found; usual values where nothing is, or what is kept cannot be read any more."""
        return stated_air(self.air)

    @property
    def current_energy(self) -> Energy:
        try:
            return Energy.model_validate(self.energy)
        except ValidationError:
            return Energy()

    @property
    def current_rooms(self) -> Rooms:
        try:
            return Rooms.model_validate(self.rooms)
        except ValidationError:
            return Rooms()

    def geometries(self) -> Geometries:
        """The building as found and in the scheme that is shown. Where the scheme's does not close, as found twice, which is told as lost.

        Raises CoreError where the shape as found does not close.
        """
        shape = self.current_shape
        try:
            return geometries(shape, self.shown_scheme().current_changes)
        except CoreError as error:
            as_found = geometries(shape, Changes())
            return Geometries(as_found.found, as_found.found, (error.message,))

    def here(self, elements: list[Element]) -> list[Element]:
        """Of some elements those that the building as found or the scheme that is shown has, each told where it stands; what only another scheme brings is left out."""
        try:
            both = self.geometries()
        except CoreError:
            both = None
        found = []
        for one in elements:
            one.project = self
            one.in_line = one.stands(both) if both is not None else "both"
            brought = one.from_shape is not None and one.from_shape.only_after
            if one.in_line is not None or not brought:
                found.append(one)
        return found

    @property
    def shape_refused(self) -> str:
        """Why the kept shape cannot be read (it was kept before its dimensions had bounds); "" where it can."""
        try:
            Shape.model_validate(self.shape)
        except ValidationError as error:
            return f"The shape that was kept cannot be read; draw it anew. {describe_problems(error)}"
        return ""

    @property
    def climate_gone(self) -> str:
        """What is said where the hours of its weather or measured indoor air are not on disk any more; else ""."""
        try:
            for name in (self.climate, self.occupancy):
                if name.startswith("own-"):
                    shipped(name)
        except ClimateGone as error:
            return error.message
        return ""

    @property
    def typed(self) -> list[BuildingField]:
        """Figures of the building that were typed over the shape's."""
        return [name for name in FOLLOWING_BUILDING if name in self.corrected]

    @property
    def current_brief(self) -> Brief:
        return Brief.model_validate(self.brief)

    def __str__(self) -> str:
        return self.name


class ClimateFile(GuardedRow):
    """Weather or indoor air that somebody imported; the hours lie in CLIMATES under its name, which is their hash."""

    WEATHER, INDOOR = "weather", "indoor"

    owner = models.ForeignKey(User, on_delete=models.CASCADE, related_name="climate_files")
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=8)
    label = models.CharField(max_length=80)
    file_name = models.CharField(max_length=200, default="", blank=True)
    signature = models.CharField(max_length=64, default="", blank=True)  # files of one make share it
    mapping = models.JSONField(null=True)  # as it was read, offered again for the next file of the make
    report = models.JSONField(default=dict)
    imported_at = models.DateTimeField(auto_now_add=True)

    objects = Guarded.as_manager()

    class Meta:
        ordering = ["-pk"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="one_climate_file_a_person")]


class OfProject(Guarded):
    owner = "project__owner"


class Element(GuardedRow):
    """A wall face, roof slope, floor, window or door. Windows and doors have U and g, no build-up."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="elements")
    position = models.PositiveIntegerField(default=0)
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=10)
    area_m2 = models.FloatField()
    facing_deg = models.FloatField(default=0.0)
    slope_deg = models.FloatField(default=90.0)
    adjoining = models.CharField(max_length=10, default="outside")
    factor_b = models.FloatField(default=1.0)
    exposure = models.CharField(max_length=10, default="moderate")
    occupancy = models.CharField(max_length=80, default="", blank=True)  # of the room behind it; empty: the project's
    set_point_c = models.FloatField(null=True)
    absorptance = models.FloatField(null=True)
    ground = models.CharField(max_length=6, default="moist")
    beside_found = models.CharField(
        max_length=80, default="", blank=True
    )  # series of the air of the cold space it faces
    beside_after = models.CharField(max_length=80, default="", blank=True)
    outside_untouchable = models.BooleanField(default=False)  # by the neighbour, the protection, the scaffold
    plaster_off = models.BooleanField(default=False)  # the inner face lies open now
    inside_untouchable = models.BooleanField(default=False)  # panelling, paintings, a tenant
    escape_route = models.BooleanField(default=False)  # nothing that burns may face it
    perimeter_m = models.FloatField(null=True)
    depth_m = models.FloatField(null=True)
    room_limit_mm = models.FloatField(null=True)
    named_limits = models.JSONField(default=list)  # core `NamedLimit`s
    outside_limit_mm = models.FloatField(null=True)
    target_u_w_m2k = models.FloatField(null=True)
    u_w_m2k = models.FloatField(null=True)
    g_value = models.FloatField(null=True)
    planned_u_w_m2k = models.FloatField(null=True)
    planned_g_value = models.FloatField(null=True)
    shape_key = models.CharField(max_length=120, default="", blank=True)
    derived = models.JSONField(default=dict)  # core `FromShape`, read as `from_shape`; empty: not from the shape
    corrected = models.JSONField(
        default=list
    )  # fields typed by hand, which the shape no longer changes: read as `typed`
    rain = models.JSONField(null=True)  # FaceExposure; null: the word in `exposure` holds
    looked_at_by = models.CharField(max_length=150, default="", blank=True)
    looked_at_on = models.DateField(null=True)
    looked_at_note = models.TextField(default="", blank=True)
    override_by = models.CharField(max_length=150, default="", blank=True)
    override_reason = models.TextField(default="", blank=True)
    override_at = models.DateTimeField(null=True)

    objects = OfProject.as_manager()
    options: RelatedManager[Option]
    choices: RelatedManager[Choice]

    class Meta:
        ordering = ["position", "pk"]

    @property
    def choice(self) -> Choice | None:
        """What is chosen for it in the scheme that is shown. Prefetch `choices__option` and `choices__scheme` for many."""
        shown = self.project.scheme_id
        return next(
            (c for c in self.choices.all() if (c.scheme_id == shown if shown else c.scheme.position == 0)), None
        )

    @property
    def chosen(self) -> Option | None:
        return self.choice.option if self.choice is not None else None

    @property
    def chosen_id(self) -> int | None:
        return self.choice.option_id if self.choice is not None else None

    @property
    def chosen_reason(self) -> str:
        return self.choice.reason if self.choice is not None else ""

    @property
    def chosen_by(self) -> str:
        return self.choice.by if self.choice is not None else ""

    @property
    def chosen_at(self) -> datetime | None:
        return self.choice.at if self.choice is not None else None

    def choose(self, option: Option | None, reason: str, by: str, at: datetime | None) -> None:
        """Keep a choice in the scheme that is shown with the build-up it was of, or take it back."""
        scheme = self.project.shown_scheme()
        if option is None:
            self.choices.filter(scheme=scheme).delete()
        else:
            layers = option.current.model_dump(mode="json")
            values = {"option": option, "reason": reason, "by": by, "at": at, "layers": layers}
            choice, _ = Choice.objects.update_or_create(scheme=scheme, element=self, defaults=values)
            if choice.between_id == option.pk:  # what stood until then is the choice now
                Choice.objects.filter(pk=choice.pk).update(between=None, between_phase=None)
        getattr(self, "_prefetched_objects_cache", {}).pop("choices", None)

    @property
    def from_shape(self) -> FromShape | None:
        """What the shape said of it last; None where it does not come from the shape, or nothing sensible is kept."""
        try:
            return FromShape.model_validate(self.derived) if self.derived else None
        except ValidationError:
            return None

    @property
    def typed(self) -> list[FollowingField]:
        """Fields that were typed over the shape's."""
        return following(self.corrected)

    def give(self, field: FollowingField, value: Any) -> None:
        """Set one field that may follow the shape; any other name raises."""
        if field not in FOLLOWING:
            raise ValueError(f"“{field}” never follows the shape")
        setattr(self, field, value)

    @property
    def choice_was(self) -> str:
        """“changed” or “removed” where the choice was of something else than what is there now; else ""."""
        choice = self.choice
        if choice is None or choice.layers is None:
            return ""
        if choice.option is None:
            return "removed"
        return "" if choice.option.current == BuildUp.model_validate(choice.layers) else "changed"

    @property
    def has_build_up(self) -> bool:
        return self.kind not in ("window", "door")

    @property
    def place(self) -> Place:
        """What the core needs to know of where it stands."""
        project = self.project
        return Place.model_validate(
            {
                "kind": self.kind,
                "adjoining": self.adjoining,
                "facing_deg": self.facing_deg,
                "slope_deg": self.slope_deg,
                "factor_b": self.factor_b,
                "exposure": self.exposure,
                "rain_factors": self._rain_factors,
                "climate": project.climate,
                "occupancy": self.occupancy or project.occupancy,
                "set_point_c": self.set_point_c or project.set_point_c,
                "start_rh": project.start_rh,
                "absorptance": USUAL_ABSORPTANCE if self.absorptance is None else self.absorptance,
                "ground": self.ground,
                "strip": self.exposure_steps.worst_strip if self.rain is not None else "whole",
                "works_on": project.works_on,
                "beside_found": self.beside_found,
                "beside_after": self.beside_after,
            }
        )

    @property
    def _rain_factors(self) -> tuple[float, float, float, float] | None:
        if self.rain is None or self.kind != "wall" or self.adjoining != "outside":
            return None
        found = self.exposure_steps
        return found.terrain_factor, found.topography_factor, found.obstruction_factor, found.wall_factor

    @property
    def body(self) -> str:
        """Id of the body of the shape it belongs to, or ""."""
        if self.shape_key.startswith("opening/"):
            return self.from_shape.body if self.from_shape is not None else ""
        return self.shape_key.split("/")[0] if self.shape_key else ""

    @property
    def rain_surveyed(self) -> bool:
        """Its exposure was surveyed in steps; else the word is taken."""
        return self.rain is not None

    def stands(self, both: Geometries) -> Stands | None:
        """Whether it is in the heated line before, after, or both; None where the shape has it no more. By hand: both."""
        return both.stands(self.shape_key) if self.shape_key else "both"

    @cached_property
    def in_line(self) -> Stands | None:
        """Where it stands in the scheme that is shown; both where the shape does not close."""
        try:
            return self.stands(self.project.geometries())
        except CoreError:
            return "both"

    @property
    def area_built_m2(self) -> float:
        """Its area after the works [m²], 0 where it is not in the line then."""
        try:
            return self.area_after(self.project.geometries())
        except CoreError:
            return self.area_m2

    def area_after(self, both: Geometries) -> float:
        """Its area after the works [m²]; 0 where it is not there then. A typed area keeps its share of the shape's."""
        stands = self.stands(both)
        if stands == "both" and self.shape_key:
            before, after = both.before_by_key[self.shape_key], both.after_by_key[self.shape_key]
            return self.area_m2 * after.net_area_m2 / before.net_area_m2 if before != after else self.area_m2
        return self.area_m2 if stands in ("both", "after") else 0.0

    @property
    def in_shape(self) -> bool:
        """It follows from the shape, as found or in a scheme, and is still there."""
        return bool(self.shape_key) and not (self.from_shape is not None and self.from_shape.gone)

    @property
    def carries_work(self) -> bool:
        """Somebody stated, chose, looked at or measured something here that would go with it."""
        stated = (
            self.typed,
            self.looked_at_by,
            self.override_by,
            self.chosen_id,
            self.rain,
            self.planned_u_w_m2k,
            self.planned_g_value,
        )
        options = list(self.options.all())
        return (
            any(stated)
            or len(options) > 1
            or any(option.draft or option.current.is_stated for option in options)
            or self.evidence.exists()
            or self.measurements.exists()
            or self.water_items.exists()
        )

    @property
    def exposure_steps(self) -> ExposureSteps:
        """The driven-rain factors: in steps where the face was surveyed so, else those of the word."""
        if self.rain is None:
            return word_steps(self.exposure)  # type: ignore[arg-type]
        from core.climate.rain import rain_weighted_wind

        try:
            wind = rain_weighted_wind(self.project.climate, self.facing_deg)
        except ClimateGone:  # nothing is computed without the climate; the steps of the survey are still shown
            wind = USUAL_RAIN_WIND_M_S
        return exposure_steps(self.project.current_shape.site, FaceExposure.model_validate(self.rain), wind)

    def limits_said(self) -> tuple[Limits, list[LimitSaid]]:
        """The limits and target in force, and the words of those that are not its own."""
        own = Limits.model_validate(
            {
                "room_mm": self.room_limit_mm,
                "outside_mm": self.outside_limit_mm,
                "target_u_w_m2k": self.target_u_w_m2k,
                "named": self.named_limits,
            }
        )
        shape = self.project.current_shape
        body = next((one for one in shape.bodies if one.id == self.body), None)
        face = self.from_shape.face if self.from_shape is not None else ""
        here = Where(
            self.kind,  # type: ignore[arg-type]
            self.body,
            self.facing_deg,
            self.slope_deg,
            self.adjoining,  # type: ignore[arg-type]
            body.roof.eaves_overhang_m * 1000.0 or None if body is not None else None,
            tuple(
                (one.name, one.margin_mm)
                for one in shape.openings
                if one.margin_mm and face and (one.body, one.face) == (self.body, face) and not one.in_roof
            ),
        )
        return limits_with_brief(own, self.project.current_brief, here)

    @property
    def limits(self) -> Limits:
        return self.limits_said()[0]

    @property
    def as_found(self) -> Option:
        """The as-found build-up; the one read with its element where that was so. Raises for windows and doors."""
        known = getattr(self, "_prefetched_objects_cache", {}).get("options")
        if known is not None:
            return next(option for option in known if option.role == Option.AS_FOUND)
        return self.options.get(role=Option.AS_FOUND)

    def add_option(self, name: str, build_up: BuildUp, school: str = "") -> Option:
        """An option more, after those that are there."""
        position = max(self.options.values_list("position", flat=True), default=0) + 1
        return Option.objects.create(
            element=self, position=position, name=name, school=school, build_up=build_up.model_dump(mode="json")
        )

    def __str__(self) -> str:
        return self.name


class OfElement(Guarded):
    owner = "element__project__owner"


class Option(GuardedRow):
    """A build-up of an element: as found, or a way to upgrade it. A draft is what was typed, not yet committed."""

    choices: RelatedManager[Choice]
    between_of: RelatedManager[Choice]

    AS_FOUND, UPGRADE = "as_found", "option"

    element = models.ForeignKey(Element, on_delete=models.CASCADE, related_name="options")
    role = models.CharField(max_length=10, default=UPGRADE)
    position = models.PositiveIntegerField(default=0)
    name = models.CharField(max_length=120)
    school = models.CharField(max_length=60, default="", blank=True)
    build_up = models.JSONField()
    draft = models.JSONField(null=True)
    revision = models.PositiveIntegerField(default=1)
    rejected_by = models.CharField(max_length=150, default="", blank=True)
    rejected_reason = models.TextField(default="", blank=True)
    rejected_at = models.DateTimeField(null=True)
    works = models.JSONField(default=list)  # core `Work`s: what building it costs beside its layers
    checks = models.JSONField(default=list)  # core `ConditionCheck`s: what was measured of the conditions it stands on

    objects = OfElement.as_manager()

    class Meta:
        ordering = ["position", "pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["element"], condition=Q(role="as_found"), name="one_as_found_build_up_an_element"
            )
        ]

    @property
    def current(self) -> BuildUp:
        """The committed build-up."""
        return BuildUp.model_validate(self.build_up)

    def __str__(self) -> str:
        return self.name


class Scheme(GuardedRow):
    """One way through the whole building, in phases. revision: counted up by each change of its phases."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="schemes")
    position = models.PositiveIntegerField(default=0)
    name = models.CharField(max_length=120, default="Proposal")
    note = models.TextField(default="", blank=True)
    revision = models.PositiveIntegerField(default=1)
    changes = models.JSONField(default=dict)  # core `Changes` of the shape as found; empty: none
    changes_revision = models.PositiveIntegerField(default=1)
    air = models.JSONField(default=dict)  # core `AirStated` after the works; empty: as found
    line_phase = models.ForeignKey(
        "Phase", on_delete=models.SET_NULL, null=True, related_name="+"
    )  # in which the line is moved; null: the last
    choices: RelatedManager[Choice]
    phases: RelatedManager[Phase]

    objects = OfProject.as_manager()

    class Meta:
        ordering = ["position", "pk"]
        constraints = [models.UniqueConstraint(fields=["project", "position"], name="one_scheme_a_position")]

    @property
    def current_air(self) -> AirStated:
        """What is stated of its air and use after the works; as found where nothing is."""
        return stated_air(self.air) if self.air else self.project.current_air

    @property
    def current_changes(self) -> Changes:
        """What it changes of the shape; nothing where what is kept cannot be read any more."""
        try:
            return Changes.model_validate(self.changes)
        except ValidationError:
            return Changes()


class OfScheme(Guarded):
    owner = "scheme__project__owner"


class Phase(GuardedRow):
    """A part of a scheme that is built in one go. years_after: how long the state after it lasts until the next."""

    scheme = models.ForeignKey(Scheme, on_delete=models.CASCADE, related_name="phases")
    position = models.PositiveIntegerField(default=0)
    name = models.CharField(max_length=120)
    starts_on = models.DateField(null=True)
    years_after = models.FloatField(null=True)

    objects = OfScheme.as_manager()

    class Meta:
        ordering = ["position", "pk"]


class Choice(GuardedRow):
    """What is chosen for an element in a scheme, by whom and why. layers: the build-up as it was then; the option may go.

    between: the option that stands from its own phase (between_phase) until the choice is built.
    """

    scheme = models.ForeignKey(Scheme, on_delete=models.CASCADE, related_name="choices")
    element = models.ForeignKey(Element, on_delete=models.CASCADE, related_name="choices")
    option = models.ForeignKey(Option, on_delete=models.SET_NULL, null=True, related_name="choices")
    reason = models.TextField(default="", blank=True)
    by = models.CharField(max_length=150, default="", blank=True)
    at = models.DateTimeField(null=True)
    layers = models.JSONField(null=True)
    phase = models.ForeignKey(Phase, on_delete=models.SET_NULL, null=True, related_name="choices")
    between = models.ForeignKey(Option, on_delete=models.SET_NULL, null=True, related_name="between_of")
    between_phase = models.ForeignKey(Phase, on_delete=models.SET_NULL, null=True, related_name="betweens")

    objects = OfElement.as_manager()

    class Meta:
        ordering = ["scheme__position", "pk"]
        constraints = [models.UniqueConstraint(fields=["scheme", "element"], name="one_choice_an_element")]

    def stages(self) -> tuple[int | None, int]:
        """(place of the phase in which the state between is built, None without one; place of its own phase, the first where none is put).

        A state between that would not come before the choice is none.
        """
        places = {phase.pk: index for index, phase in enumerate(self.scheme.phases.all())}
        last = places.get(self.phase_id or 0, 0)
        first = places.get(self.between_phase_id or 0, 0) if self.between_id is not None else last
        return (first, last) if first < last else (None, last)

    def years_between(self) -> int | None:
        """Whole years that the state between stands, at least one; None without one, or where they are not stated."""
        first, last = self.stages()
        if first is None:
            return None
        years = [phase.years_after for phase in list(self.scheme.phases.all())[first:last]]
        return None if any(one is None for one in years) else max(1, round(sum(one or 0.0 for one in years)))


class HistoryEntry(models.Model):
    """Who changed what and when; one for each action. Of what row, and its values before and after, where it was one."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="history")
    person = models.CharField(max_length=150)
    action = models.CharField(max_length=40)
    what = models.CharField(max_length=300)
    at = models.DateTimeField(auto_now_add=True)
    kind = models.CharField(max_length=30, default="", blank=True)  # of the row: element, option, …
    row = models.PositiveBigIntegerField(null=True)
    before = models.JSONField(null=True)
    after = models.JSONField(null=True)

    class Meta:
        ordering = ["-at", "-pk"]

    @staticmethod
    def write(
        project: Project,
        user: Any,
        action: str,
        what: str,
        of: models.Model | None = None,
        before: dict[str, Any] | None = None,
        after: dict[str, Any] | None = None,
    ) -> HistoryEntry:
        """before and after: values by name; only those that differ are kept."""
        differs = [name for name in {**(before or {}), **(after or {})} if (before or {}).get(name) != (after or {}).get(name)]  # fmt: skip
        return HistoryEntry.objects.create(
            project=project,
            person=name_of(user),
            action=action,
            what=what[:300],
            kind=of._meta.model_name or "" if of is not None else "",
            row=of.pk if of is not None else None,
            before=None if before is None else {name: before.get(name) for name in differs},
            after=None if after is None else {name: after.get(name) for name in differs},
        )


NOT_STATED: dict[str, Any] = {"layers": []}  # nobody has said what it is made of; nothing is made up

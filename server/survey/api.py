"""Brief, shape, exposure, evidence, measurements, water, house section. Thin: actions and figures do the work."""

from __future__ import annotations

from datetime import date
from typing import IO, Annotated, Any, Literal, cast

from django.http import FileResponse, Http404, HttpRequest
from ninja import File, Form, Path, Router, UploadedFile
from pydantic import Field

from core.measure.blower_door import BlowerDoorTest, FlowPoint
from core.measure.paste import parse_flow_points
from core.survey.record import FollowingField
from server.projects.actions import visible_project
from server.projects.schemas import ElementOut, ProjectOut
from server.survey import actions
from server.survey import figures as fig
from server.survey.models import Photo
from server.survey.schemas import (
    BriefBody,
    BriefOut,
    CauseBody,
    EvidenceBody,
    EvidenceOut,
    EvidencePage,
    FaceRain,
    HouseOut,
    LookedAtBody,
    MadePage,
    MeasurementBody,
    MeasurementOut,
    MeasurementPage,
    OverrideBody,
    PasteBody,
    PhotoOut,
    RainBody,
    ShapeBody,
    ShapeOut,
    ShapePreviewBody,
    Uid,
    WaterItemBody,
    WaterItemOut,
    WaterPage,
)

router = Router(tags=["survey"])
Level = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False)]


@router.get("/projects/{project_id}/brief", response=BriefOut)
def read_brief(request: HttpRequest, project_id: int) -> BriefOut:
    return fig.brief_out(visible_project(request.user, project_id))


@router.put("/projects/{project_id}/brief", response=BriefOut)
def change_brief(request: HttpRequest, project_id: int, body: BriefBody) -> BriefOut:
    return fig.brief_out(actions.change_brief(request.user, project_id, body))


@router.get("/projects/{project_id}/shape", response=ShapeOut)
def read_shape(request: HttpRequest, project_id: int) -> ShapeOut:
    return fig.shape_out(visible_project(request.user, project_id))


@router.post("/projects/{project_id}/shape/preview", response=ShapeOut)
def preview_shape(request: HttpRequest, project_id: int, body: ShapePreviewBody) -> ShapeOut:
    """What would follow from a shape; nothing is kept."""
    return fig.shape_out(visible_project(request.user, project_id), body.shape)


@router.put("/projects/{project_id}/shape", response=ShapeOut)
def change_shape(request: HttpRequest, project_id: int, body: ShapeBody) -> ShapeOut:
    return fig.shape_out(actions.change_shape(request.user, project_id, body))


@router.post("/elements/{element_id}/follow/{field}", response=ElementOut)
def follow_again(request: HttpRequest, element_id: int, field: FollowingField) -> Any:
    return actions.follow_again(request.user, element_id, field)


@router.get("/projects/{project_id}/house", response=HouseOut)
def read_house(
    request: HttpRequest, project_id: int, axis: Literal["x", "y"] | None = None, at: Level | None = None
) -> HouseOut:
    return fig.house(visible_project(request.user, project_id), axis, at)


@router.get("/projects/{project_id}/rain", response=list[FaceRain])
def read_rain(request: HttpRequest, project_id: int) -> list[FaceRain]:
    return fig.faces_rain(visible_project(request.user, project_id))


@router.put("/elements/{element_id}/rain", response=list[FaceRain])
def state_rain(request: HttpRequest, element_id: int, body: RainBody) -> list[FaceRain]:
    return fig.faces_rain(actions.state_rain(request.user, element_id, body).project)


@router.get("/projects/{project_id}/made", response=MadePage)
def read_made(request: HttpRequest, project_id: int) -> MadePage:
    return fig.made_page(visible_project(request.user, project_id))


# --- photos ---------------------------------------------------------------------------------------


@router.post("/projects/{project_id}/photos/{uid}", response=PhotoOut)
def keep_photo(
    request: HttpRequest,
    project_id: int,
    uid: Path[Uid],
    file: File[UploadedFile],
    caption: Form[str] = "",
    taken_on: Form[date | None] = None,
) -> Any:
    return actions.keep_photo(
        request.user, project_id, uid, cast(IO[bytes], file.file), file.size or 0, caption[:300], taken_on
    )


@router.get("/projects/{project_id}/photos/{uid}")
def read_photo(request: HttpRequest, project_id: int, uid: Path[Uid], small: bool = False) -> FileResponse:
    photo = Photo.objects.visible_to(request.user).filter(project_id=project_id, uid=uid).first()
    if photo is None or not photo.path(small).exists():
        raise Http404
    return FileResponse(open(photo.path(small), "rb"), content_type="image/jpeg")  # closed by the response


@router.delete("/projects/{project_id}/photos/{uid}", response={204: None})
def delete_photo(request: HttpRequest, project_id: int, uid: Path[Uid]) -> tuple[int, None]:
    actions.delete_photo(request.user, project_id, uid)
    return 204, None


# --- evidence -------------------------------------------------------------------------------------


@router.get("/projects/{project_id}/evidence", response=EvidencePage)
def read_evidence(request: HttpRequest, project_id: int) -> EvidencePage:
    return fig.evidence_page(visible_project(request.user, project_id))


@router.put("/projects/{project_id}/evidence/{uid}", response=EvidenceOut)
def keep_evidence(request: HttpRequest, project_id: int, uid: Path[Uid], body: EvidenceBody) -> EvidenceOut:
    row = actions.keep_evidence(request.user, project_id, uid, body)
    return fig.Survey(row.project).out(row)


@router.delete("/projects/{project_id}/evidence/{uid}", response={204: None})
def delete_evidence(request: HttpRequest, project_id: int, uid: Path[Uid]) -> tuple[int, None]:
    actions.delete_evidence(request.user, project_id, uid)
    return 204, None


@router.put("/projects/{project_id}/evidence/{uid}/cause", response=EvidenceOut)
def confirm_cause(request: HttpRequest, project_id: int, uid: Path[Uid], body: CauseBody) -> EvidenceOut:
    row = actions.confirm_cause(request.user, project_id, uid, body)
    return fig.Survey(row.project).out(row)


# --- water ----------------------------------------------------------------------------------------


@router.get("/projects/{project_id}/water", response=WaterPage)
def read_water(request: HttpRequest, project_id: int) -> WaterPage:
    return fig.water_page(visible_project(request.user, project_id))


@router.put("/projects/{project_id}/water/{uid}", response=WaterItemOut)
def keep_water_item(request: HttpRequest, project_id: int, uid: Path[Uid], body: WaterItemBody) -> WaterItemOut:
    return fig.item_out(actions.keep_water_item(request.user, project_id, uid, body))


@router.delete("/projects/{project_id}/water/{uid}", response={204: None})
def delete_water_item(request: HttpRequest, project_id: int, uid: Path[Uid]) -> tuple[int, None]:
    actions.delete_water_item(request.user, project_id, uid)
    return 204, None


@router.put("/elements/{element_id}/looked-at", response=WaterPage)
def note_looked_at(request: HttpRequest, element_id: int, body: LookedAtBody) -> WaterPage:
    return fig.water_page(actions.note_looked_at(request.user, element_id, body).project)


@router.put("/elements/{element_id}/override", response=WaterPage)
def override_readiness(request: HttpRequest, element_id: int, body: OverrideBody) -> WaterPage:
    return fig.water_page(actions.override_readiness(request.user, element_id, body).project)


# --- measurements ---------------------------------------------------------------------------------


@router.get("/projects/{project_id}/measurements", response=MeasurementPage)
def read_measurements(request: HttpRequest, project_id: int) -> MeasurementPage:
    return fig.measurement_page(visible_project(request.user, project_id))


@router.put("/projects/{project_id}/measurements/{uid}", response=MeasurementOut)
def keep_measurement(request: HttpRequest, project_id: int, uid: Path[Uid], body: MeasurementBody) -> MeasurementOut:
    row = actions.keep_measurement(request.user, project_id, uid, body)
    page = fig.measurement_page(row.project)
    return next(out for out in page.measurements if out.uid == uid)


@router.delete("/projects/{project_id}/measurements/{uid}", response={204: None})
def delete_measurement(request: HttpRequest, project_id: int, uid: Path[Uid]) -> tuple[int, None]:
    actions.delete_measurement(request.user, project_id, uid)
    return 204, None


@router.post("/projects/{project_id}/measurements/{uid}/take-n50", response=ProjectOut)
def take_n50(request: HttpRequest, project_id: int, uid: Path[Uid]) -> Any:
    return actions.take_n50(request.user, project_id, uid)


@router.post("/projects/{project_id}/measurements/{uid}/take-uptake", response=MeasurementPage)
def take_uptake(request: HttpRequest, project_id: int, uid: Path[Uid]) -> MeasurementPage:
    actions.take_uptake(request.user, project_id, uid)
    return fig.measurement_page(visible_project(request.user, project_id))


@router.post("/measure/flow-points", response=list[FlowPoint])
def paste_flow_points(request: HttpRequest, body: PasteBody) -> list[FlowPoint]:
    """Readings from pasted text or a gauge's file; nothing is kept."""
    return parse_flow_points(body.text, body.flow_unit)


@router.get("/projects/{project_id}/simulated-gauge", response=BlowerDoorTest)
def read_gauge(request: HttpRequest, project_id: int) -> BlowerDoorTest:
    """Readings of the simulated gauge that ships: made up for this building, through the CSV a real one would send."""
    from demo.gauge import read

    project = visible_project(request.user, project_id)
    return read(project.volume_m3 or 500.0, project.air_value if project.air_kind == "n50" else None, project.pk)

"""Brief, shape, exposure, evidence, measurements, water, house section. Thin: actions and figures do the work."""

from __future__ import annotations

from datetime import date
from typing import IO, Any, cast

from django.http import FileResponse, Http404, HttpRequest
from ninja import File, Form, Path, Router, UploadedFile

from core.measure.blower_door import FlowPoint
from core.measure.paste import parse_flow_points
from core.survey.record import FollowingField
from server.projects.permissions import viewable_project, viewable_scheme
from server.projects.schemas import ElementOut, ProjectOut
from server.survey import figures as fig
from server.survey.evidence import confirm_cause as do_confirm_cause
from server.survey.evidence import delete_evidence as do_delete_evidence
from server.survey.evidence import keep_evidence as do_keep_evidence
from server.survey.gauges import attached
from server.survey.measurements import delete_measurement as do_delete_measurement
from server.survey.measurements import keep_measurement as do_keep_measurement
from server.survey.measurements import take_n50 as do_take_n50
from server.survey.measurements import take_uptake as do_take_uptake
from server.survey.models import Photo
from server.survey.photo_rows import delete_photo as do_delete_photo
from server.survey.photo_rows import keep_photo as do_keep_photo
from server.survey.schemas import (
    BriefBody,
    BriefOut,
    CauseBody,
    EvidenceBody,
    EvidenceOut,
    EvidencePage,
    FaceRain,
    GaugeOut,
    LineBody,
    MadePage,
    MeasurementBody,
    MeasurementOut,
    MeasurementPage,
    PasteBody,
    PhotoOut,
    RainBody,
    ShapeBody,
    ShapeOut,
    ShapePreviewBody,
    Uid,
)
from server.survey.shape import change_brief as do_change_brief
from server.survey.shape import change_shape as do_change_shape
from server.survey.shape import draw_line as do_draw_line
from server.survey.shape import follow_again as do_follow_again
from server.survey.shape import move_line as do_move_line
from server.survey.shape import state_rain as do_state_rain

router = Router(tags=["survey"])


@router.get("/projects/{project_id}/brief", response=BriefOut)
def read_brief(request: HttpRequest, project_id: int) -> BriefOut:
    return fig.brief_out(viewable_project(request.user, project_id))


@router.put("/projects/{project_id}/brief", response=BriefOut)
def change_brief(request: HttpRequest, project_id: int, body: BriefBody) -> BriefOut:
    return fig.brief_out(do_change_brief(request.user, project_id, body))


@router.get("/projects/{project_id}/shape", response=ShapeOut)
def read_shape(request: HttpRequest, project_id: int) -> ShapeOut:
    return fig.shape_out(viewable_project(request.user, project_id))


@router.post("/projects/{project_id}/shape/preview", response=ShapeOut)
def preview_shape(request: HttpRequest, project_id: int, body: ShapePreviewBody) -> ShapeOut:
    """What would follow from a shape; nothing is kept."""
    return fig.shape_out(viewable_project(request.user, project_id), body.shape)


@router.put("/projects/{project_id}/shape", response=ShapeOut)
def change_shape(request: HttpRequest, project_id: int, body: ShapeBody) -> ShapeOut:
    return fig.shape_out(do_change_shape(request.user, project_id, body))


@router.get("/schemes/{scheme_id}/shape", response=ShapeOut)
def read_scheme_shape(request: HttpRequest, scheme_id: int) -> ShapeOut:
    """The shape of a scheme beside the building as found."""
    return fig.scheme_shape_out(viewable_scheme(request.user, scheme_id))


@router.post("/schemes/{scheme_id}/shape/preview", response=ShapeOut)
def preview_scheme_shape(request: HttpRequest, scheme_id: int, body: ShapePreviewBody) -> ShapeOut:
    return fig.scheme_shape_out(viewable_scheme(request.user, scheme_id), body.shape)


@router.put("/schemes/{scheme_id}/shape", response=ShapeOut)
def draw_line(request: HttpRequest, scheme_id: int, body: ShapeBody) -> ShapeOut:
    """What differs from as found is kept; the survey's corrections go through it."""
    return fig.scheme_shape_out(do_draw_line(request.user, scheme_id, body.shape, body.revision))


@router.post("/schemes/{scheme_id}/line", response=ShapeOut)
def move_line(request: HttpRequest, scheme_id: int, body: LineBody) -> ShapeOut:
    """Take one space into the heated line of a scheme, or out of it."""
    return fig.scheme_shape_out(do_move_line(request.user, scheme_id, body.move))


@router.post("/elements/{element_id}/follow/{field}", response=ElementOut)
def follow_again(request: HttpRequest, element_id: int, field: FollowingField) -> Any:
    return do_follow_again(request.user, element_id, field)


@router.get("/projects/{project_id}/rain", response=list[FaceRain])
def read_rain(request: HttpRequest, project_id: int) -> list[FaceRain]:
    return fig.faces_rain(viewable_project(request.user, project_id))


@router.put("/elements/{element_id}/rain", response=list[FaceRain])
def state_rain(request: HttpRequest, element_id: int, body: RainBody) -> list[FaceRain]:
    return fig.faces_rain(do_state_rain(request.user, element_id, body).project)


@router.get("/projects/{project_id}/made", response=MadePage)
def read_made(request: HttpRequest, project_id: int) -> MadePage:
    return fig.made_page(viewable_project(request.user, project_id))


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
    return do_keep_photo(
        request.user, project_id, uid, cast(IO[bytes], file.file), file.size or 0, caption[:300], taken_on
    )


@router.get("/projects/{project_id}/photos/{uid}")
def read_photo(request: HttpRequest, project_id: int, uid: Path[Uid], small: bool = False) -> FileResponse:
    photo = Photo.objects.viewable_by(request.user).filter(project_id=project_id, uid=uid).first()
    if photo is None or not photo.path(small).exists():
        raise Http404
    return FileResponse(open(photo.path(small), "rb"), content_type="image/jpeg")  # closed by the response


@router.delete("/projects/{project_id}/photos/{uid}", response={204: None})
def delete_photo(request: HttpRequest, project_id: int, uid: Path[Uid]) -> tuple[int, None]:
    do_delete_photo(request.user, project_id, uid)
    return 204, None


# --- evidence -------------------------------------------------------------------------------------


@router.get("/projects/{project_id}/evidence", response=EvidencePage)
def read_evidence(request: HttpRequest, project_id: int) -> EvidencePage:
    return fig.evidence_page(viewable_project(request.user, project_id))


@router.put("/projects/{project_id}/evidence/{uid}", response=EvidenceOut)
def keep_evidence(request: HttpRequest, project_id: int, uid: Path[Uid], body: EvidenceBody) -> EvidenceOut:
    row = do_keep_evidence(request.user, project_id, uid, body)
    return fig.Survey(row.project).out(row)


@router.delete("/projects/{project_id}/evidence/{uid}", response={204: None})
def delete_evidence(request: HttpRequest, project_id: int, uid: Path[Uid]) -> tuple[int, None]:
    do_delete_evidence(request.user, project_id, uid)
    return 204, None


@router.put("/projects/{project_id}/evidence/{uid}/cause", response=EvidenceOut)
def confirm_cause(request: HttpRequest, project_id: int, uid: Path[Uid], body: CauseBody) -> EvidenceOut:
    row = do_confirm_cause(request.user, project_id, uid, body)
    return fig.Survey(row.project).out(row)


# --- water ----------------------------------------------------------------------------------------


# --- measurements ---------------------------------------------------------------------------------


@router.get("/projects/{project_id}/measurements", response=MeasurementPage)
def read_measurements(request: HttpRequest, project_id: int) -> MeasurementPage:
    return fig.measurement_page(viewable_project(request.user, project_id))


@router.put("/projects/{project_id}/measurements/{uid}", response=MeasurementOut)
def keep_measurement(request: HttpRequest, project_id: int, uid: Path[Uid], body: MeasurementBody) -> MeasurementOut:
    row = do_keep_measurement(request.user, project_id, uid, body)
    page = fig.measurement_page(row.project)
    return next(out for out in page.measurements if out.uid == uid)


@router.delete("/projects/{project_id}/measurements/{uid}", response={204: None})
def delete_measurement(request: HttpRequest, project_id: int, uid: Path[Uid]) -> tuple[int, None]:
    do_delete_measurement(request.user, project_id, uid)
    return 204, None


@router.post("/projects/{project_id}/measurements/{uid}/take-n50", response=ProjectOut)
def take_n50(request: HttpRequest, project_id: int, uid: Path[Uid]) -> Any:
    return do_take_n50(request.user, project_id, uid)


@router.post("/projects/{project_id}/measurements/{uid}/take-uptake", response=MeasurementPage)
def take_uptake(request: HttpRequest, project_id: int, uid: Path[Uid]) -> MeasurementPage:
    do_take_uptake(request.user, project_id, uid)
    return fig.measurement_page(viewable_project(request.user, project_id))


@router.post("/measure/flow-points", response=list[FlowPoint])
def paste_flow_points(request: HttpRequest, body: PasteBody) -> list[FlowPoint]:
    """Readings from pasted text or a gauge's file; nothing is kept."""
    return parse_flow_points(body.text, body.flow_unit)


@router.get("/projects/{project_id}/gauge", response=GaugeOut)
def read_gauge(request: HttpRequest, project_id: int) -> GaugeOut:
    """One whole test from the gauge that is attached; nothing is kept."""
    project = viewable_project(request.user, project_id)
    gauge = attached()
    n50 = project.air_value if project.air_kind == "n50" else None
    return GaugeOut(name=gauge.name, test=gauge.read(project.volume_m3 or 500.0, n50, project.pk))

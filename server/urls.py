"""Routes: the API, and the one page of the interface for everything else."""

from django.conf import settings
from django.http import FileResponse, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.urls import path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie

from server.api import api
from server.health import health
from server.policy import CONTENT_POLICY


@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponseBase:
    """The built interface. Its own router reads the address."""
    index = settings.WEB_DIST / "index.html"
    if not index.exists():
        return HttpResponse("The interface is not built; run ./run setup.", status=503, content_type="text/plain")
    response = FileResponse(open(index, "rb"), content_type="text/html; charset=utf-8")  # noqa: SIM115  (closed by the response)
    response["Cache-Control"] = "no-cache"
    response["Content-Security-Policy"] = CONTENT_POLICY
    return response


handler500 = "server.problems.failed"
urlpatterns = [
    path("api/", api.urls),
    path("health", health),
    re_path(r"^(?!api/|assets/).*$", page),
]

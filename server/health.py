"""/health: whether the database answers, the runner is at work and with how many workers. 503 where the database does not."""

from __future__ import annotations

from django.conf import settings
from django.db import DatabaseError, connection
from django.http import HttpRequest, JsonResponse

from server.runs import heartbeat


def health(request: HttpRequest) -> JsonResponse:
    """Told to anybody: no names, no paths."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1 FROM django_migrations LIMIT 1")
        database = "ok"
    except DatabaseError:
        database = "does not answer"
    runner = heartbeat.last()
    answer = {
        "web": "ok",
        "database": database,
        "runner": "not at work" if runner is None else "hindered" if runner.hindered else "ok",
        "hindered": runner.hindered if runner is not None else "",
        "workers": runner.workers if runner is not None else 0,
        "workers_wanted": settings.WORKERS,
    }
    response = JsonResponse(answer, status=200 if database == "ok" else 503)
    response["Cache-Control"] = "no-store"
    return response

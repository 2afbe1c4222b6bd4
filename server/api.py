"""The API under /api. Session cookies, CSRF checked on everything that changes something."""

from __future__ import annotations

import json
from functools import lru_cache

from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.renderers import JSONRenderer
from ninja.security import django_auth

from server import problems
from server.accounts.api import router as accounts
from server.climates.api import router as climates
from server.dossier.api import router as dossier
from server.exchange.api import router as exchange
from server.heat.api import router as heat
from server.house.api import router as house
from server.library.api import router as library
from server.options.api import router as options
from server.options.costs import router as costs
from server.overview.api import router as overview
from server.runs.api import router as runs
from server.runs.batch_api import router as batches
from server.runs.conditions import router as conditions
from server.runs.verify_api import router as verification
from server.schemes.api import router as schemes
from server.schemes.history import router as decisions
from server.survey.api import router as survey
from server.survey.elements_api import router as elements
from server.water.api import router as water


class Numbers(JSONRenderer):
    """Answers without NaN and infinity: no JSON has them, and one that came out is a fault to be told."""

    json_dumps_params = {"allow_nan": False}


api = NinjaAPI(
    title="Wendrick",
    version="1",
    auth=django_auth,
    docs_url=None,
    openapi_url=None,
    renderer=Numbers(),
)
problems.install(api)
# exchange before overview: /projects/import is no project's number
for router in (
    accounts, library, climates, exchange, overview, survey, elements, water, options, costs, heat, schemes, decisions, house, runs, batches, conditions, verification, dossier,
):  # fmt: skip
    api.add_router("", router)


@lru_cache(maxsize=1)
def _document() -> bytes:
    return json.dumps(api.get_openapi_schema(), ensure_ascii=False).encode()


@api.get("/openapi.json", include_in_schema=False)
def openapi(request: HttpRequest) -> HttpResponse:
    """What the API takes and gives, for people signed in; made once."""
    return HttpResponse(_document(), content_type="application/json")

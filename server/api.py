"""The API under /api. Session cookies, CSRF checked on everything that changes something."""

from __future__ import annotations

from ninja import NinjaAPI
from ninja.renderers import JSONRenderer
from ninja.security import django_auth

from server import problems
from server.accounts.api import router as accounts
from server.exchange.api import router as exchange
from server.projects.api import router as projects
from server.runs.api import router as runs
from server.runs.batch_api import router as batches
from server.runs.verify_api import router as verification
from server.survey.api import router as survey


class Numbers(JSONRenderer):
    """Answers without NaN and infinity: no JSON has them, and one that came out is a fault to be told."""

    json_dumps_params = {"allow_nan": False}


api = NinjaAPI(title="Wendrick", version="1", auth=django_auth, docs_url=None, renderer=Numbers())
problems.install(api)
api.add_router("", accounts)
api.add_router("", exchange)
api.add_router("", projects)
api.add_router("", runs)
api.add_router("", batches)
api.add_router("", verification)
api.add_router("", survey)

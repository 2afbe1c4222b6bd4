"""People, projects and a signed-in client for tests."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.test import Client

from demo.scenarios import project_file
from server.exchange.bring import import_file
from server.projects.models import Project

DEMO = Path(__file__).resolve().parents[2] / "demo" / "corrie-halt.json"
PASSWORD = "a-long-password-1"


def person(name: str) -> User:
    return User.objects.create_user(name, password=PASSWORD, first_name=name.title())


def client_of(user: User, csrf: bool = False) -> Client:
    client = Client(enforce_csrf_checks=csrf)
    client.force_login(user)
    return client


def corrie(user: User) -> Project:
    """The demo project, without its runs."""
    with project_file(DEMO.name) as stream:
        return import_file(user, stream, stream.seek(0, 2))


def send(client: Client, method: str, path: str, body: Any = None, **extra: Any) -> Any:
    """A JSON request; returns the response."""
    return client.generic(
        method, path, json.dumps(body) if body is not None else "", content_type="application/json", **extra
    )

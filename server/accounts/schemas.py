"""What sign-ins ask and answer."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from ninja import Schema
from pydantic import Field

from server.projects.schemas import Body


class LoginBody(Body):
    username: Annotated[str, Field(max_length=150)]
    password: Annotated[str, Field(max_length=500)]


class Person(Schema):
    username: str
    name: str


class Session(Schema):
    """stand_ins: the made-up gauge and price list that ship are attached."""

    person: Person | None
    csrf_token: str
    stand_ins: bool


class SignedIn(Schema):
    """One sign-in that still holds. key: names it without being the secret of its cookie."""

    key: str
    device: str
    address: str
    since: datetime | None
    seen: datetime
    here: bool

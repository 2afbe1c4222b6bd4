"""Kinds of run that other rooms bring: what a worker does for them. A room registers its own when the program starts."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any, Protocol

if TYPE_CHECKING:
    from server.runs.models import Run


class Watch(Protocol):
    """What the work tells of itself, and hears."""

    def progress(self, share: float, what: str) -> None: ...

    def cancelled(self) -> bool: ...


Work = Callable[["Run", Watch], dict[str, Any]]
_KINDS: dict[str, Work] = {}


def register(kind: str, work: Work) -> None:
    """work: does a claimed run and gives its small answer; raises Cancelled when it is asked to stop."""
    if kind in _KINDS and _KINDS[kind] is not work:
        raise ValueError(f"runs of kind “{kind}” are registered twice")
    _KINDS[kind] = work


def work_of(kind: str) -> Work:
    """ValueError for a kind that nobody brings."""
    try:
        return _KINDS[kind]
    except KeyError:
        raise ValueError(f"no room brings runs of kind “{kind}”") from None

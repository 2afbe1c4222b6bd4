"""What pages of the interface may load: themselves and nothing else."""

from __future__ import annotations

from collections.abc import MutableMapping

CONTENT_POLICY = "default-src 'self'; style-src 'self'; img-src 'self' data: blob:; font-src 'self' data:; object-src 'none'; base-uri 'self'; frame-ancestors 'none'"


def with_policy(headers: MutableMapping[str, str], path: str, url: str) -> None:
    """A page of the built interface has the content policy by whichever name it is asked for."""
    if path.endswith(".html"):
        headers["Content-Security-Policy"] = CONTENT_POLICY

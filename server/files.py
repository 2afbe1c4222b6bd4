"""Files of the data folder: written whole or not at all. Names of files that are handed out."""

from __future__ import annotations

import os
import threading
from pathlib import Path


def write_whole(path: Path, content: bytes) -> None:
    """Beside it first, then in its place; nothing is left behind where the disk is full."""
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_name(f"{path.name}.{os.getpid()}.{threading.get_ident()}.part")
    try:
        part.write_bytes(content)
        part.replace(path)
    finally:
        part.unlink(missing_ok=True)


def slug(words: str, otherwise: str = "project") -> str:
    """Words as part of a file's name: letters and figures in small, all else a dash."""
    return "".join(ch if ch.isalnum() else "-" for ch in words.lower()).strip("-") or otherwise

"""The demo projects as open project files: dates moved to the day they are loaded, photos drawn on the way."""

from __future__ import annotations

import io
import json
import re
import zipfile
from datetime import date, timedelta
from pathlib import Path
from typing import IO, Any

from demo.photos import jpeg

FOLDER = Path(__file__).resolve().parent
DAY = re.compile(r"^\d{4}-\d{2}-\d{2}(?=$|T)")
# The files are written as if they were loaded on this day.
WRITTEN_FOR = date(2026, 1, 1)


def _moved(value: Any, by: timedelta) -> Any:
    if isinstance(value, dict):
        return {key: _moved(entry, by) for key, entry in value.items()}
    if isinstance(value, list):
        return [_moved(entry, by) for entry in value]
    if isinstance(value, str) and (found := DAY.match(value)):
        return (date.fromisoformat(found.group()) + by).isoformat() + value[10:]
    return value


def project_file(name: str, today: date | None = None) -> IO[bytes]:
    """The whole zip of a scenario, at its start."""
    content = json.loads((FOLDER / name).read_text(encoding="utf-8"))
    content = _moved(content, (today or date.today()) - WRITTEN_FOR)
    kinds = {uid: entry["pin"]["kind"] for entry in content.get("evidence", []) for uid in entry["photos"]}
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("project.json", json.dumps(content))
        for photo in content.get("photos", []):
            archive.writestr(
                f"photos/{photo['uid']}.jpg", jpeg(photo["uid"], kinds.get(photo["uid"], ""), photo["caption"])
            )
    out.seek(0)
    return out

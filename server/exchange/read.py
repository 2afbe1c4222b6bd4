"""Reading a project file in bounded memory: what is too large, cut off, bomb-like or wrong is refused with the reason."""

from __future__ import annotations

import struct
import zipfile
import zlib
from typing import IO

from django.conf import settings
from pydantic import ValidationError

from core.case import describe_problems, not_as_written
from server.exchange.schemas import ProjectFile
from server.problems import Problem

LARGEST_RATIO = 200
MOST_MEMBERS = 6000
END_RECORD = 22 + 65535  # with the longest comment
LARGEST_DIRECTORY = 2 * 1024 * 1024
CHUNK = 1024 * 1024


def refuse(message: str, remedy: str) -> Problem:
    """A file that is not taken, with the reason; nothing was written."""
    return Problem(422, "file_refused", message, f"{remedy} Nothing was changed.")


def read_limited(stream: IO[bytes], limit: int, what: str) -> bytes:
    """All of a stream, or a Problem as soon as it holds more than `limit` bytes."""
    parts, total = [], 0
    while chunk := stream.read(CHUNK):
        total += len(chunk)
        if total > limit:
            raise refuse(f"{what} holds more than {limit // CHUNK} MB.", "Export the project again, or split it.")
        parts.append(chunk)
    return b"".join(parts)


def read(stream: IO[bytes], size: int) -> ProjectFile:
    """A checked project file. Raises Problem for a truncated, oversized, bomb-like or wrong file."""
    if size > settings.LARGEST_IMPORT:
        raise refuse(
            f"The file is larger than {settings.LARGEST_IMPORT // CHUNK} MB.", "Remove photos or split the project."
        )
    stream.seek(0)
    head = stream.read(4)
    stream.seek(0)
    if head[:2] == b"PK":
        raw = _read_zip(stream)
    else:
        raw = read_limited(stream, settings.LARGEST_PROJECT_JSON, "project.json")
    try:
        project = ProjectFile.model_validate_json(raw)
        wrong = not_as_written(ProjectFile, raw)
        if wrong:
            raise refuse(f"The project file does not fit its schema:\n{wrong}", "Correct the place named.")
        return project
    except ValidationError as error:
        raise refuse(
            f"The project file does not fit its schema:\n{describe_problems(error)}", "Correct the place named."
        ) from error


def _check_directory(stream: IO[bytes]) -> None:
    """The directory of a zip is read into memory whole: no longer than the files of a project need.

    Source: the end-of-central-directory record of the ZIP specification (APPNOTE 4.3.16), offset 12: size in bytes.
    """
    length = stream.seek(0, 2)
    stream.seek(max(0, length - END_RECORD))
    tail = stream.read()
    stream.seek(0)
    at = tail.rfind(b"PK\x05\x06")
    if at < 0 or len(tail) < at + 22:
        raise zipfile.BadZipFile("no end record")
    if struct.unpack_from("<L", tail, at + 12)[0] > LARGEST_DIRECTORY:
        raise refuse("The zip holds too many files.", "Export the project again.")


def _read_zip(stream: IO[bytes]) -> bytes:
    try:
        _check_directory(stream)
        with zipfile.ZipFile(stream) as archive:
            members = archive.infolist()
            names = archive.namelist()
            if "project.json" not in names:
                raise refuse("The zip holds no project.json.", "Choose a file that Wendrick exported.")
            if len(members) > MOST_MEMBERS or len(set(names)) != len(names):
                raise refuse("The zip holds too many files, or two of one name.", "Export the project again.")
            for info in members:
                if info.file_size > LARGEST_RATIO * max(info.compress_size, 1):
                    raise refuse(
                        f"“{info.filename[:80]}” unpacks to more than {LARGEST_RATIO} times its size.",
                        "Such a file is not opened; export the project again.",
                    )
                if info.filename != "project.json" and not info.filename.startswith(
                    ("photos/", "climates/", "documents/")
                ):
                    raise refuse(
                        f"The zip holds “{info.filename[:80]}”, which does not belong there.",
                        "Choose a file that Wendrick exported.",
                    )
            with archive.open("project.json") as member:
                return read_limited(member, settings.LARGEST_PROJECT_JSON, "project.json")
    # RuntimeError: a password, or a compression that zipfile does not know
    except (zipfile.BadZipFile, EOFError, OSError, RuntimeError, ValueError, struct.error, zlib.error) as error:
        raise refuse("The file is cut off or damaged; it cannot be unpacked.", "Export or copy it again.") from error

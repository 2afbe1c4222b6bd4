"""Photos: shrunk and stripped on the way in, kept as files beside the database."""

from __future__ import annotations

import io
import struct
import threading
import warnings
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from django.conf import settings
from PIL import Image, ImageOps, UnidentifiedImageError

from server.files import write_whole
from server.problems import Problem

LARGEST_SIDE, SMALL_SIDE, QUALITY = 1600, 320, 82
# A JPEG is decoded at a part of its size; the others only whole, into memory.
READ = {"JPEG": 50_000_000, "MPO": 50_000_000, "PNG": 20_000_000, "WEBP": 20_000_000}
# What a JPEG may carry beside the picture; a photo with any of it is written anew.
CARRIED = {"exif", "icc_profile", "comment", "xmp", "photoshop", "mp"}
_ONE_AT_A_TIME = threading.BoundedSemaphore(1)  # decoding takes the memory of the whole picture


@dataclass(frozen=True)
class Picture:
    """A photo as it is kept: pixels, and bytes on disk."""

    width: int
    height: int
    size: int

    @property
    def sizes(self) -> dict[str, int]:
        return {"width": self.width, "height": self.height, "size": self.size}


def shrink(stream: IO[bytes], size: int, folder: Path, uid: str) -> Picture:
    """Write a photo and its small copy into a folder, as JPEG without EXIF. Raises Problem for anything that is no picture.

    A JPEG that is small enough and bare already is kept byte for byte, so that a project file can go round and round.
    """
    if size > settings.LARGEST_PHOTO:
        raise Problem(
            413,
            "photo_too_large",
            f"The photo is larger than {settings.LARGEST_PHOTO // 1024 // 1024} MB.",
            "Take it in a smaller size.",
        )
    try:
        with _ONE_AT_A_TIME, warnings.catch_warnings():
            warnings.simplefilter("ignore")  # of the library, about what it leaves out
            large, small, width, height = _shrunk(stream)
    except (
        UnidentifiedImageError,
        ValueError,
        SyntaxError,
        struct.error,
        EOFError,
        Image.DecompressionBombError,
    ) as error:
        raise _no_photo() from error
    except OSError as error:
        if error.errno is not None:
            raise  # of the disk, not of the picture
        raise _no_photo() from error
    write_whole(folder / file_name(uid), large)
    write_whole(folder / file_name(uid, small=True), small)
    return Picture(width, height, len(large))


def file_name(uid: str, small: bool = False) -> str:
    """What a photo, or its small copy, is called in the folder of its project."""
    return f"{uid}{'.small.jpg' if small else '.jpg'}"


def _no_photo() -> Problem:
    return Problem(422, "no_photo", "The file is no photo that can be read.", "Send a JPEG, PNG or WebP picture.")


def _shrunk(stream: IO[bytes]) -> tuple[bytes, bytes, int, int]:
    """(photo, small photo, width, height) as JPEG."""
    with Image.open(stream, formats=("JPEG", "PNG", "WEBP")) as opened:
        if opened.width * opened.height > READ.get(opened.format or "", 0):
            raise Problem(
                422,
                "photo_too_large",
                f"The photo has {opened.width} × {opened.height} pixels.",
                "Send a smaller one.",
            )
        bare = opened.format == "JPEG" and max(opened.size) <= LARGEST_SIDE and not opened.info.keys() & CARRIED
        width, height = opened.size
        # a JPEG can be decoded at a half, a quarter or an eighth: as large as what is made of it needs
        side = SMALL_SIDE if bare else LARGEST_SIDE * 2
        opened.draft("RGB", (side, side))
        picture = ImageOps.exif_transpose(opened).convert("RGB")
    if bare:
        stream.seek(0)
        large = stream.read()
    else:
        picture.thumbnail((LARGEST_SIDE, LARGEST_SIDE), Image.Resampling.LANCZOS)
        large, (width, height) = _jpeg(picture), picture.size
    picture.thumbnail((SMALL_SIDE, SMALL_SIDE), Image.Resampling.LANCZOS)
    return large, _jpeg(picture), width, height


def _jpeg(picture: Image.Image) -> bytes:
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=QUALITY, optimize=True)
    return out.getvalue()

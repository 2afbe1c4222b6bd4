"""Photos: shrunk and stripped on the way in, kept as files beside the database."""

from __future__ import annotations

import io
import os
from pathlib import Path
from typing import IO

from django.conf import settings
from PIL import Image, ImageOps, UnidentifiedImageError

from server.problems import Problem

LARGEST_SIDE, SMALL_SIDE, QUALITY = 1600, 320, 82
LARGEST_PIXELS = 80_000_000
# What a JPEG may carry beside the picture; a photo with any of it is written anew.
CARRIED = {"exif", "icc_profile", "comment", "xmp", "photoshop", "mp"}


def shrink(stream: IO[bytes], size: int) -> tuple[bytes, bytes, int, int]:
    """(photo, small photo, width, height) as JPEG without EXIF. Raises Problem for anything that is no picture.

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
        with Image.open(stream) as opened:
            if opened.width * opened.height > LARGEST_PIXELS:
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
    except (UnidentifiedImageError, OSError, ValueError, Image.DecompressionBombError) as error:
        raise Problem(
            422, "no_photo", "The file is no photo that can be read.", "Send a JPEG, PNG or WebP picture."
        ) from error
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


def keep(path: Path, content: bytes) -> None:
    """Write a file whole or not at all."""
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_suffix(f".{os.getpid()}.part")
    part.write_bytes(content)
    part.replace(path)

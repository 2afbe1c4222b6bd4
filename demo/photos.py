"""Photos for the demo: plain drawings that say so, one for each kind of evidence. No camera took them."""

from __future__ import annotations

import hashlib
import io
import random

from PIL import Image, ImageDraw, ImageFont

WIDE, HIGH = 1200, 900
PAPER, INK, SOFT = "#f5f1e8", "#1d2b36", "#8d8572"
STONE, WET, SALT, WOOD, MOULD, RUST = "#d8cfba", "#7f9a94", "#fffdf6", "#cda86e", "#4b5a45", "#9c5a36"


def jpeg(uid: str, kind: str, caption: str) -> bytes:
    """A drawing of the kind of evidence, or of a work done, with its caption; the same for the same uid."""
    rng = random.Random(hashlib.sha256(uid.encode()).digest())
    picture = Image.new("RGB", (WIDE, HIGH), PAPER)
    pen = ImageDraw.Draw(picture)
    frame = (40, 40, WIDE - 40, HIGH - 130)
    _boards(pen, frame) if kind in ("soft_timber", "animals", "swollen_sheet") else _stones(pen, frame, rng)
    _DRAW.get(kind, _closed)(pen, frame, rng)
    pen.rectangle(frame, outline=INK, width=4)
    pen.text((40, HIGH - 118), caption, fill=INK, font=ImageFont.load_default(34))
    pen.text(
        (40, HIGH - 66), "a drawing made by the demo, not a photo", fill="#5b6770", font=ImageFont.load_default(26)
    )
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=80)
    return out.getvalue()


Box = tuple[int, int, int, int]


def _stones(pen: ImageDraw.ImageDraw, box: Box, rng: random.Random) -> None:
    x0, y0, x1, y1 = box
    y = y0
    while y < y1:
        high = rng.randint(60, 110)
        x = x0 - rng.randint(0, 120)
        while x < x1:
            wide = rng.randint(110, 230)
            if x + wide > x0:
                right, low = min(x + wide, x1), min(y + high, y1)
                pen.rectangle((max(x, x0), y, right, low), fill=STONE, outline=SOFT, width=3)
            x += wide
        y += high


def _boards(pen: ImageDraw.ImageDraw, box: Box) -> None:
    x0, y0, x1, y1 = box
    for x in range(x0, x1, 140):
        pen.rectangle((x, y0, min(x + 140, x1), y1), fill=WOOD, outline=SOFT, width=3)


def _spots(pen: ImageDraw.ImageDraw, area: Box, rng: random.Random, colour: str, count: int, size: int) -> None:
    for _ in range(count):
        x, y = rng.randint(area[0], area[2]), rng.randint(area[1], area[3])
        r = rng.randint(max(size // 3, 2), size)
        pen.ellipse((x - r, y - r, x + r, y + r), fill=colour)


def _foot(pen: ImageDraw.ImageDraw, box: Box, rng: random.Random, colour: str) -> None:
    top = [(x, box[3] - 220 - rng.randint(0, 70)) for x in range(box[0], box[2] + 1, 80)]
    pen.polygon([(box[0], box[3]), *top, (box[2], box[3])], fill=colour, outline=INK)


def _tide(pen: ImageDraw.ImageDraw, box: Box, rng: random.Random) -> None:
    _foot(pen, box, rng, WET)


def _salts(pen: ImageDraw.ImageDraw, box: Box, rng: random.Random) -> None:
    _spots(pen, (box[0] + 120, box[1] + 160, box[2] - 160, box[3] - 120), rng, SALT, 260, 13)


def _spall(pen: ImageDraw.ImageDraw, box: Box, rng: random.Random) -> None:
    for _ in range(7):
        x, y = rng.randint(box[0] + 60, box[2] - 260), rng.randint(box[1] + 60, box[3] - 180)
        corners = [(x + rng.randint(0, 60), y), (x + 200, y + rng.randint(0, 40)), (x + 170, y + 120), (x, y + 90)]
        pen.polygon(corners, fill="#b79c78", outline=INK)


def _peel(pen: ImageDraw.ImageDraw, box: Box, rng: random.Random) -> None:
    pen.rectangle(box, fill="#e9e2d2")
    for _ in range(16):
        x, y = rng.randint(box[0], box[2] - 150), rng.randint(box[1], box[3] - 110)
        pen.polygon([(x, y), (x + 120, y + 24), (x + 90, y + 100), (x + 20, y + 80)], fill=STONE, outline=INK)


def _stain(pen: ImageDraw.ImageDraw, box: Box, rng: random.Random) -> None:
    for x in range(box[0] + 260, box[2] - 240, 70):
        pen.line((x, box[1] + 6, x + rng.randint(-20, 20), box[3] - rng.randint(90, 420)), fill=WET, width=38)


def _mould(pen: ImageDraw.ImageDraw, box: Box, rng: random.Random) -> None:
    pen.rectangle(box, fill="#ece7da")
    pen.line((box[0] + 420, box[1], box[0] + 420, box[3]), fill=SOFT, width=4)
    _spots(pen, (box[0] + 260, box[1] + 40, box[0] + 640, box[1] + 380), rng, MOULD, 170, 15)


def _soft(pen: ImageDraw.ImageDraw, box: Box, rng: random.Random) -> None:
    _foot(pen, box, rng, "#6d5433")
    pen.line((box[0] + 300, box[3] - 330, box[0] + 520, box[3] - 90), fill=INK, width=10)


def _rust(pen: ImageDraw.ImageDraw, box: Box, rng: random.Random) -> None:
    for _ in range(9):
        x, y = rng.randint(box[0] + 80, box[2] - 80), rng.randint(box[1] + 40, box[3] - 260)
        pen.ellipse((x - 12, y - 12, x + 12, y + 12), fill=INK)
        pen.line((x, y + 12, x, y + rng.randint(90, 240)), fill=RUST, width=16)


def _frost(pen: ImageDraw.ImageDraw, box: Box, rng: random.Random) -> None:
    _spots(pen, box, rng, "#ffffff", 420, 7)


def _drops(pen: ImageDraw.ImageDraw, box: Box, rng: random.Random) -> None:
    pen.rectangle((box[0] + 200, box[1] + 60, box[2] - 200, box[3] - 60), fill="#c9d6d6", outline=INK, width=6)
    _spots(pen, (box[0] + 220, box[1] + 90, box[2] - 220, box[3] - 90), rng, "#5f8a8d", 150, 9)


def _animals(pen: ImageDraw.ImageDraw, box: Box, rng: random.Random) -> None:
    _spots(pen, (box[0] + 100, box[3] - 240, box[2] - 100, box[3] - 30), rng, INK, 120, 9)
    pen.ellipse((box[0] + 760, box[1] + 120, box[0] + 880, box[1] + 240), fill=INK)


def _closed(pen: ImageDraw.ImageDraw, box: Box, rng: random.Random) -> None:
    """A work done: a gutter and its pipe."""
    pen.rectangle((box[0] + 80, box[1] + 90, box[2] - 80, box[1] + 150), fill="#b9bfc2", outline=INK, width=5)
    pen.rectangle((box[2] - 220, box[1] + 150, box[2] - 160, box[3]), fill="#b9bfc2", outline=INK, width=5)


_DRAW = {
    "efflorescence": _salts,
    "spalling": _spall,
    "tide_mark": _tide,
    "peeling_paint": _peel,
    "stain": _stain,
    "damp_smell": _tide,
    "mould": _mould,
    "soft_timber": _soft,
    "swollen_sheet": _soft,
    "rust": _rust,
    "frost": _frost,
    "condensation": _drops,
    "animals": _animals,
}

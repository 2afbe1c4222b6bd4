"""The typefaces of paper. What none of them can draw is said in words, never drawn as a box."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator
from functools import lru_cache
from itertools import groupby
from pathlib import Path
from xml.sax.saxutils import escape

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

FOLDER = Path(__file__).parent / "fonts"
SANS, BOLD, SERIF, SERIF_BOLD = (
    "WendrickSans-Regular",
    "WendrickSans-Bold",
    "WendrickSerif-Regular",
    "WendrickSerif-Bold",
)
SIGNS = "DejaVuSans-Signs"
SCRIPTS = {"CJK": "Han", "HIRAGANA": "kana", "KATAKANA": "kana", "HANGUL": "Hangul"}


@lru_cache(maxsize=1)
def register() -> None:
    """Once in a process, before anything is laid out."""
    for name in (SANS, BOLD, SERIF, SERIF_BOLD, SIGNS):
        pdfmetrics.registerFont(TTFont(name, str(FOLDER / f"{name}.ttf")))
    for plain, bold in ((SANS, BOLD), (SERIF, SERIF_BOLD)):
        pdfmetrics.registerFontFamily(plain, normal=plain, bold=bold, italic=plain, boldItalic=bold)


@lru_cache(maxsize=8)
def _letters(face: str) -> frozenset[int]:
    register()
    return frozenset(pdfmetrics.getFont(face).face.charToGlyph)


@lru_cache(maxsize=8192)
def _kind(letter: str, face: str) -> str:
    """own: the face has it; signs: the other face has it; "": left out; else the name of its script."""
    if letter in "\n\t":
        return "own"
    code = ord(letter)
    if code in _letters(face):
        return "own"
    if code in _letters(SIGNS):
        return "signs"
    category = unicodedata.category(letter)
    if category in ("Cc", "Cf", "Mn", "Me", "Cs", "Zl", "Zp"):
        return ""
    word = unicodedata.name(letter, "unknown").split()[0].split("-")[0]
    return SCRIPTS.get(word, word.capitalize())


def runs(text: str, face: str) -> Iterator[tuple[str, str]]:
    """(kind, text) of a text in pieces: what the face draws, what the signs draw, what is said."""
    for kind, letters in groupby(text, key=lambda letter: _kind(letter, face)):
        piece = "".join(letters)
        if kind in ("own", "signs"):
            yield kind, piece
        elif kind:
            yield "said", f"‹{len(piece)} {'letter' if len(piece) == 1 else 'letters'} of {kind}›"


def pieces(text: str, face: str = SANS) -> list[tuple[str, str]]:
    """(face, text) of a text in pieces, for drawings."""
    return [(SIGNS if kind == "signs" else face, piece) for kind, piece in runs(text, face)]


def markup(text: str, face: str = SANS) -> str:
    """The same as the mark-up of a paragraph: nothing of the text is taken as mark-up itself."""
    out = []
    for kind, piece in runs(unicodedata.normalize("NFC", text), face):
        safe = escape(piece).replace("\n", "<br/>")
        out.append(f'<font name="{SIGNS}">{safe}</font>' if kind == "signs" else safe)
    return "".join(out)


def all_drawn(text: str, face: str = SANS) -> bool:
    return all(kind != "said" for kind, _ in runs(text, face))

"""Letters on paper: those the first typeface lacks are set in the second, those that neither has are named."""

from __future__ import annotations

import itertools
from functools import cache
from xml.sax.saxutils import escape

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

from nonna import fonts

PLAIN, STRONG = "Nonna", "Nonna-Bold"
_MORE = {PLAIN: "Nonna-More", STRONG: "Nonna-More-Bold"}
MISSING = "\u25a1"  #: stands where no typeface has a letter


def ready() -> None:
    """Register the typefaces, once."""
    files = {PLAIN: fonts.REGULAR, STRONG: fonts.BOLD, _MORE[PLAIN]: fonts.MORE, _MORE[STRONG]: fonts.MORE_BOLD}
    for name, file in files.items():
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, str(file)))


def set_in(words: str, font: str = PLAIN) -> str:
    """Return words for a paragraph in a typeface, escaped; letters it lacks are set in the other one."""
    made = []
    for own, letters in itertools.groupby(words, key=lambda letter: _has(font, letter)):
        part = "".join(letters)
        if own:
            made.append(escape(part))
            continue
        other = _MORE[font]
        shown = "".join(letter if _has(other, letter) else MISSING for letter in part)
        made.append(f'<font name="{other}">{escape(shown)}</font>')
    return "".join(made)


def is_plain(words: str, font: str = PLAIN) -> bool:
    """Whether a typeface has all letters of some words."""
    return all(_has(font, letter) for letter in words)


def unprintable(words: str) -> tuple[str, ...]:
    """Return the letters that cannot be printed, each once."""
    ready()
    return tuple(
        dict.fromkeys(x for x in words if not x.isspace() and not _has(PLAIN, x) and not _has(_MORE[PLAIN], x))
    )


def _has(font: str, letter: str) -> bool:
    return letter.isspace() or ord(letter) in _letters(font)


@cache
def _letters(font: str) -> frozenset[int]:
    return frozenset(pdfmetrics.getFont(font).face.charToGlyph)

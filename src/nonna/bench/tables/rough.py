"""A tool's length as people write it: known, rough ("about 80"), or not at all."""

from __future__ import annotations

import re
from dataclasses import dataclass

from nonna.errors import NonnaError

ROUGH_SHARE, ROUGH_LEAST_MM = 0.05, 5.0  #: how far off a rough length may be
_ROUGH = re.compile(r"\A\s*(?:about|approx\.?|circa|ca\.?|c\.|~|≈)\s*|\s*(?:\?|or so|ish)\s*\Z", re.IGNORECASE)
_UNKNOWN = ("", "?", "-", "–", "unknown", "none", "n/a", "not known")


@dataclass(frozen=True, slots=True)
class Length:
    """What was written of a length."""

    value_mm: float | None
    doubt_mm: float | None = None  #: None: nothing was said of it


def read_length(text: str, decimal_comma: bool = False, factor: float = 1.0) -> Length:
    """Read a length; ``factor`` turns what is written into millimetres.

    Raises: NonnaError ``not-a-number`` or ``out-of-range``.
    """
    plain = text.strip().lower()
    if plain in _UNKNOWN:
        return Length(None)
    bare = _ROUGH.sub("", plain)
    rough = bare != plain
    doubt = None
    if "±" in bare:
        bare, _, after = bare.partition("±")
        doubt = _number(after, decimal_comma) * factor
        if not 0.0 <= doubt <= 1e6:
            raise NonnaError("out-of-range", "{value!r} is no doubt of a length.", value=after.strip()[:30])
    value = _number(bare.strip(), decimal_comma) * factor
    if not 0.0 < value <= 1e6:
        raise NonnaError("out-of-range", "a length above 0 is wanted, not {value!r}.", value=text.strip()[:30])
    if rough and doubt is None:
        doubt = max(ROUGH_LEAST_MM, ROUGH_SHARE * value)
    return Length(value, doubt)


def _number(text: str, decimal_comma: bool) -> float:
    plain = text.strip().removesuffix("mm").strip()
    try:
        return float(plain.replace(",", ".") if decimal_comma else plain)
    except ValueError:
        raise NonnaError(
            "not-a-number", "{value!r} is no length. Write 80.2, about 80, or leave it empty.", value=text.strip()[:30]
        ) from None

"""A tool's holder as one text, such as ``63 x 20, 40 x 15``: diameter by length of its parts from the gauge line down,
mm.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

from nonna.errors import NonnaError
from nonna.shop.cards.machine import HolderPart
from nonna.shop.texts.given import Plain

_NUMBER = r"\d{1,7}(?:\.\d{1,30})?(?:e-?\d{1,3})?"
_PART = re.compile(rf"\s*({_NUMBER})\s*[x×*]\s*({_NUMBER})\s*\Z", re.IGNORECASE)


def is_holder(text: str) -> bool:
    """Say whether a text reads as a holder; an empty one does."""
    return not text.strip() or all(_PART.match(part) for part in re.split("[,;]", text))


def holder_text(parts: Sequence[HolderPart]) -> str:
    """Return a holder as one text, exactly."""
    return ", ".join(f"{part.diameter_mm!r} x {part.length_mm!r}" for part in parts)


def holder_from(text: str) -> list[dict[str, Plain]]:
    """Return a holder's parts as a file has them. Raises: NonnaError (it does not read as one)."""
    if not is_holder(text):
        words = (
            "{value!r} is no holder. Write diameter x length of its parts from the gauge line down, such as "
            "63 x 20, 40 x 15."
        )
        raise NonnaError("wrong-format", words, "holder", value=text.strip()[:30])
    found = (_PART.match(part) for part in re.split("[,;]", text) if part.strip())
    return [{"diameter_mm": float(m[1]), "length_mm": float(m[2])} for m in found if m]

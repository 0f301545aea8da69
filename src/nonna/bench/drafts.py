"""Unsigned sheets that were left: what they are called."""

from __future__ import annotations

from nonna.bench.ports import ShopFiles
from nonna.errors import NonnaError
from nonna.procedures.listing import PROCEDURES
from nonna.shop.subjects import Subject


def left_behind(shop: ShopFiles) -> tuple[str, ...]:
    """Return what the unsigned sheets of a shop are called, such as "setter calibration, Setter"; not those in hand."""
    names = []
    for name, draft in shop.drafts_left():
        try:
            if shop.book.record_of_draft(str(draft.get("id", ""))) is None:
                subject = Subject.of(str(draft["subject"])).words
                names.append(f"{PROCEDURES[draft['procedure']].title.lower()}, {subject}")
        except (NonnaError, KeyError, TypeError, AttributeError):
            names.append(f"{name}, which cannot be read")
    return tuple(names)

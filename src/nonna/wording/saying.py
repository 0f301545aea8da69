"""From a code and its facts to a sentence: the one look-up.

A code's first part names the table it stands in (``loop.overdue``). Templates name facts with how they are said:
``{days:days}``, ``{at:day}``, ``{event:lower}``.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import datetime
from string import Formatter
from typing import Any

from nonna.wording import loop, tray
from nonna.wording.lengths import Units, length, small

_TABLES: Mapping[str, Mapping[str, str]] = {"loop": loop.SENTENCES, "tray": tray.SENTENCES}


def say(code: str, facts: Mapping[str, object] | None = None, units: Units = Units.MM) -> str:
    """Return the sentence of a code, with its facts in the unit wanted. Raises: KeyError (no such code, a fact
    missing).
    """
    return tell(template_of(code), facts or {}, units)


def template_of(code: str) -> str:
    """Return the sentence of a code with its facts still to be filled in. Raises: KeyError."""
    table, _, name = code.partition(".")
    return _TABLES[table][name]


def tell(template: str, facts: Mapping[str, object], units: Units = Units.MM) -> str:
    """Return a sentence with its facts in it. A template reaches nothing but them. Raises: KeyError (one is
    missing).
    """
    return _Saying(units).vformat(template, (), dict(facts))


def count(days: int) -> str:
    """Return ``1 day`` or ``3 days``."""
    return f"{days} day" + ("" if days == 1 else "s")


def _day(at: datetime, days: int) -> str:
    if days <= 0:
        return f"today {at:%H:%M}"
    return f"{at:%a}" if days < 7 else f"{at:%d %b}"


class _Saying(Formatter):
    """Puts facts into a template; a template can reach nothing but its facts."""

    def __init__(self, units: Units) -> None:
        self._units = units
        self._facts: Mapping[str, Any] = {}

    def vformat(self, format_string: str, args: Any, kwargs: Mapping[str, object]) -> str:
        self._facts = kwargs
        return super().vformat(format_string, args, kwargs)

    def get_field(self, field_name: str, args: object, kwargs: Mapping[str, object]) -> object:
        return kwargs[field_name], field_name  # no attributes, no items

    def format_field(self, value: Any, format_spec: str) -> str:
        forms: dict[str, Callable[[], str]] = {
            "": lambda: str(value),
            "lower": lambda: str(value).lower(),
            "days": lambda: count(int(value)),
            "day": lambda: _day(value, int(self._facts["days"])),
            "date": lambda: f"{value:%d %b %Y}",
            "1f": lambda: f"{float(value):.1f}",
            "2f": lambda: f"{float(value):.2f}",
            "0f": lambda: f"{float(value):.0f}",
            "list": lambda: ", ".join(map(str, value)),
            "length": lambda: length(float(value), self._units),
            "small": lambda: small(float(value), self._units),
            "signed": lambda: small(float(value), self._units, sign=True),
        }
        return forms[format_spec]()

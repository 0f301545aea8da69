"""Lines that a machine's card gives words for: what stores into its tables, and what prints."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import NamedTuple

from nonna.programs.language.errors import ProgramError
from nonna.programs.language.expressions import Parameters, Scanner, Value, resolve
from nonna.shop.cards.control_card import HOLE

WORK = "work"  #: what a line stores that is a work offset
VALUES = ("value", "radius", "negative")  #: holes for what is stored: itself, half of it, with its sign turned
NUMBERS = ("tool", "offset", "index")


class Store(NamedTuple):
    """A line that stores into a table of the control."""

    what: str
    tool: Value | None
    offset: Value | None
    axis: str  #: of a work offset, "" else
    value: Value  #: as it goes into the table


class Print(NamedTuple):
    """A line that leaves the control: words, and parameters whose values stand between them."""

    parts: tuple[str | int, ...]

    def said(self, parameters: Parameters, decimals: int) -> str:
        """Return the line as it leaves."""
        return "".join(
            part if isinstance(part, str) else number_words(parameters.get(part, 0.0), decimals) for part in self.parts
        )


def axis_of(what: str) -> str:
    """Return the axis of what stands in a table, "" where it has none (or a work offset's own)."""
    if what == "length":
        return "z"
    return what[-1] if what[-2:-1] == "-" else ""


def number_words(value: float, decimals: int) -> str:
    """Return a number as a control takes and prints it: with a decimal point, never with an exponent."""
    words = f"{value:.{decimals}f}"
    words = words if "." in words else f"{words}."
    return words[1:] if words.startswith("-") and not words.strip("-0.") else words


def filled(pattern: str, **holes: float | str) -> str:
    """Return a line of a card with its holes filled. Raises: KeyError (a hole that nothing is given for)."""

    def put(found: re.Match[str]) -> str:
        name, _, form = found.group(1).partition(":")
        given = holes[name]
        return f"{int(given):{form}d}" if form and not isinstance(given, str) else f"{given}"

    return HOLE.sub(put, pattern)


@dataclass(frozen=True, slots=True)
class StorePattern:
    """A line of the card that stores: how it is recognised, and what of it is the value."""

    what: str
    line: re.Pattern[str]
    hole: str  #: which of `VALUES`
    around: str  #: the expression that the value stands in, "{}" where it stands alone
    parameter: str  #: which parameter takes it, where the line only sets one; "" where it does not

    def raw(self, given: float) -> float:
        """Return what goes into the table where this is put into the hole. Raises: ProgramError."""
        return resolve(_value(self.around.replace("{}", f"{given!r}"), 0), {})

    @property
    def gain(self) -> float:
        """What goes into the table for each unit of what is meant: -1 where the sign is turned, 0.5 for a radius."""
        return self.raw(1.0) * {"value": 1.0, "radius": 0.5, "negative": -1.0}[self.hole]


@dataclass(frozen=True, slots=True)
class Phrases:
    """The lines of one card."""

    stores: tuple[StorePattern, ...] = ()
    prints: re.Pattern[str] | None = None
    parameter: re.Pattern[str] | None = None

    def read(self, raw: str, line: int) -> Store | Print | None:
        """Read one line, None where it is none of them, and where it only sets a parameter."""
        if self.prints is not None:
            printed = self.prints.fullmatch(raw.strip())
            if printed is not None:
                return Print(tuple(self._parts(printed["text"])))
        if self.stores:
            words = " ".join(re.sub(r"\([^()]*\)", " ", raw.split(";", 1)[0]).lower().split())
            for pattern in self.stores:
                found = None if pattern.parameter else pattern.line.fullmatch(words)  # a parameter is set as any other
                if found is not None:
                    return _store(pattern, found.groupdict(), line)
        return None

    def gain(self, what: str) -> float:
        """What goes into the table for each unit of what is meant, 1 where the card does not say how it is stored."""
        return next((each.gain for each in self.stores if each.what == what), 1.0)

    def _parts(self, text: str) -> list[str | int]:
        if self.parameter is None:
            return [text]
        parts: list[str | int] = []
        at = 0
        for found in self.parameter.finditer(text):
            parts += [text[at : found.start()], int(found["parameter"])]
            at = found.end()
        return [*parts, text[at:]]


def _store(pattern: StorePattern, found: Mapping[str, str | None], line: int) -> Store | None:
    """Return what a line stores, None where it only looks like it."""
    try:
        value = _value(pattern.around.replace("{}", found[pattern.hole] or ""), line)
        tool, offset = (
            _value(words, line) if (words := found.get(name)) is not None else None for name in ("tool", "offset")
        )
    except ProgramError:
        return None  # the common reading of the line says what is wrong with it
    axis = found.get("axis") or found.get("index") or ""
    axis = "xyz"[int(axis)] if axis in ("0", "1", "2") else axis
    if pattern.what == WORK:
        return Store(pattern.what, tool, offset, axis, value)
    return Store(pattern.what, tool, offset, "", value) if axis in ("", axis_of(pattern.what)) else None


def _value(words: str, line: int) -> Value:
    scanner = Scanner(words.lower(), line)
    value = scanner.value()
    if scanner.skip():
        raise scanner.fail("a number is wanted here")
    return value

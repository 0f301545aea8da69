"""What a line of text means, by a pattern a person writes: literal words with holes, matched without ever running away.

``{tool}`` is a whole number, ``{axis}`` is X, Y or Z, ``{x}``, ``{z}`` and ``{value}`` are numbers, ``{unit}`` is a
unit, ``{skip}`` is anything; blanks stand for any blanks, capitals do not matter. The text and the pattern are
strangers': the work on a line is bounded.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

from nonna.errors import NonnaError

LONGEST_LINE, LONGEST_PATTERN, MOST_HOLES, MOST_SKIPPED = 500, 300, 20, 80
MOST_STEPS = 3_000_000  #: of matching in one file, beyond what any plain line takes
FREE_STEPS, FREE_STEPS_A_CHARACTER = 400, 4  #: what a plain line takes
_HOLE = re.compile(r"\{(\w+)\}")
_HOLES = {
    "tool": re.compile(r"\d{1,7}"),
    **dict.fromkeys(("x", "z", "value"), re.compile(r"[+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)")),
    "axis": re.compile(r"[xyz]", re.IGNORECASE),
    "unit": re.compile(r"mm|um|µm|inch|in|\"|thou", re.IGNORECASE),
}
_BLANKS = re.compile(r"\s*")


@dataclass(frozen=True, slots=True)
class LinePattern:
    """A pattern ready to be matched: literal texts and holes in turn."""

    parts: tuple[tuple[str, str], ...]  #: ("text", words), ("blank", ""), ("hole", name) or ("skip", "")

    def match(self, line: str, budget: Budget | None = None) -> Mapping[str, str] | None:
        """Return what stands in the holes, from the first place of the line that fits; None where none does.

        Raises: NonnaError ``too-large`` (the file is more work than any log is worth).
        """
        text = line[:LONGEST_LINE]
        failed: set[tuple[int, int]] = set()
        budget = budget or Budget()
        budget.begin(len(text))
        for start in range(len(text) + 1):
            found = self._at(text, start, 0, failed, budget)
            if found is not None:
                return dict(found)
        return None

    def _at(
        self, text: str, at: int, part: int, failed: set[tuple[int, int]], budget: Budget
    ) -> tuple[tuple[str, str], ...] | None:
        """Match from one place on; what failed once from a place is not tried again, so the work is bounded."""
        if part == len(self.parts):
            return ()
        budget.spend()
        if (at, part) in failed:
            return None
        kind, words = self.parts[part]
        if kind == "skip":
            for length in range(min(MOST_SKIPPED, len(text) - at) + 1):
                rest = self._at(text, at + length, part + 1, failed, budget)
                if rest is not None:
                    return rest
        else:
            end = _end(text, at, kind, words)
            rest = None if end is None else self._at(text, end, part + 1, failed, budget)
            if rest is not None and end is not None:
                return ((words, text[at:end]), *rest) if kind == "hole" else rest
        failed.add((at, part))
        return None


class Budget:
    """How much matching one file may cost."""

    def __init__(self, steps: int = MOST_STEPS) -> None:
        self._left, self._free = steps, 0

    def begin(self, characters: int) -> None:
        """Begin a line: what a plain one of this length takes costs nothing, so that long logs are read to the end."""
        self._free = FREE_STEPS + FREE_STEPS_A_CHARACTER * characters

    def spend(self) -> None:
        """Count one step. Raises: NonnaError ``too-large``."""
        if self._free > 0:
            self._free -= 1
            return
        self._left -= 1
        if self._left < 0:
            raise NonnaError(
                "too-large", "This pattern fits in too many ways to be worked out: make it more exact.", "pattern"
            )


def line_pattern(pattern: str, needed: tuple[str, ...]) -> LinePattern:
    """Read a pattern.

    Parameters: needed, the holes it must have, once each.
    Raises: NonnaError ``wrong-format`` (a hole is missing, unknown or there twice, or it is far too long).
    """
    names = _HOLE.findall(pattern)
    words = " and ".join(f"{{{name}}}" for name in needed)
    if len(pattern) > LONGEST_PATTERN or len(names) > MOST_HOLES:
        raise NonnaError("wrong-format", "This pattern is longer than any line of a log.", "pattern")
    if any(name not in names for name in needed):
        raise NonnaError("wrong-format", "The pattern needs {words}.", "pattern", words=words)
    unknown = [name for name in names if name not in _HOLES and name != "skip"]
    if unknown:
        raise NonnaError(
            "wrong-format",
            "{{{value}}} means nothing here; there are {words}, {{axis}}, {{tool}}, {{unit}} and {{skip}}.",
            "pattern",
            value=unknown[0],
            words=words,
        )
    kept = [name for name in names if name != "skip"]
    if len(kept) != len(set(kept)):
        raise NonnaError("wrong-format", "{words} stand once each in the pattern.", "pattern", words=words)
    parts: list[tuple[str, str]] = []
    for i, piece in enumerate(_HOLE.split(pattern)):
        if i % 2:
            parts.append(("skip", "") if piece == "skip" else ("hole", piece))
            continue
        for j, word in enumerate(re.split(r"\s+", piece)):
            if j:
                parts.append(("blank", ""))
            if word:
                parts.append(("text", word.lower()))
    return LinePattern(tuple(parts))


def number_of(text: str) -> float:
    """Return the number that stood in a hole."""
    return float(text.replace(",", "."))


def _end(text: str, at: int, kind: str, words: str) -> int | None:
    if kind == "text":
        return at + len(words) if text[at : at + len(words)].lower() == words else None
    found = (_BLANKS if kind == "blank" else _HOLES[words]).match(text, at)
    return found.end() if found else None

"""The card of a machine's control: what it can do and how it says it, as lines with holes (``control`` of a
machine).
"""

from __future__ import annotations

import re
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from nonna.shop.texts.strict_model import Strict

HOLES = frozenset(("tool", "offset", "axis", "value", "radius", "negative", "text", "index", "parameter"))
LONGEST = 200
HOLE = re.compile(r"\{([^{}]*)\}")
_TWO_SIGNS = re.compile(r"[+-]\s*\{(?:value|radius|negative)\}")
_IN_BRACKETS = re.compile(r"\[[^\[\]]*\]")
LOWEST, HIGHEST = 100, 5000  #: parameters a program of ours may write: what is above holds positions and offsets


def _line(pattern: str) -> str:
    """Take a line with holes. Raises: ValueError (a hole that is not known, two signs, a letter no control reads)."""
    if not pattern.strip() or len(pattern) > LONGEST or "\n" in pattern or "\r" in pattern:
        raise ValueError(f"a line of at most {LONGEST} characters is wanted")
    if not (pattern.isascii() and pattern.isprintable()):
        raise ValueError("plain letters alone: a control reads no others")
    for hole in HOLE.findall(pattern):
        name, _, form = hole.partition(":")
        if name not in HOLES or (form and not (name in ("tool", "offset", "index") and re.fullmatch(r"0?[1-9]", form))):
            raise ValueError(f"there is no hole {{{hole}}}; there are {', '.join(sorted(HOLES))}")
    if "{" in HOLE.sub("", pattern) or "}" in HOLE.sub("", pattern):
        raise ValueError("a brace that is not closed")
    if _TWO_SIGNS.search(_IN_BRACKETS.sub("", pattern)):
        raise ValueError("a sign before a hole for a value: it would have two; write {negative} or [0 - {value}]")
    return pattern


Line = Annotated[str, AfterValidator(_line)]
Range = Annotated[list[Annotated[int, Field(ge=1, le=99_999)]], Field(min_length=2, max_length=2)]
Stored = Literal[
    "length", "diameter", "length-wear", "diameter-wear", "offset-x", "offset-z", "wear-x", "wear-z", "work",
    "pocket-x", "pocket-y", "pocket-z",
]  # fmt: skip
Word = Literal[
    "stop", "ask", "spindle-stopped", "sensor-on", "sensor-off", "sensor-free", "sensor-made", "no-look-ahead", "call",
]  # fmt: skip


class Parameters(Strict):
    """Which parameters programs of ours may write, first and last."""

    results: Range | None = None
    scratch: Range | None = None

    @model_validator(mode="after")
    def _in_order(self) -> Parameters:
        for name in ("results", "scratch"):
            span = getattr(self, name)
            if span is not None and span[0] > span[1]:
                raise ValueError(f"{name}: the first parameter comes before the last")
        a, b = self.results, self.scratch
        if a is not None and b is not None and a[0] <= b[1] and b[0] <= a[1]:
            raise ValueError("results and scratch share parameters")
        return self


class ControlCard(Strict):
    """What a control can do; what is absent is not used."""

    units: Literal["mm", "inch"] = "mm"
    decimals: int | None = Field(None, ge=0, le=6)
    wear: Literal["added", "apart"] = "added"
    dialect: str = Field("rs274", max_length=40)
    tool_call: Line | None = None
    length_on: Line | None = None
    length_off: Line | None = None
    stores: dict[Stored, Line] = {}
    reads: dict[Stored, Line] = {}
    prints: Line | None = None
    prints_value: Line | None = None
    parameters: Parameters | None = None
    words: dict[Word, Line] = {}

    @property
    def m_words(self) -> frozenset[int]:
        """M words that stand in its lines: this machine has them."""
        lines = [*self.words.values(), *self.stores.values()]
        found = (re.findall(r"(?<![A-Za-z])[Mm]\s*([0-9]{1,3})(?![0-9.])", line.split("(")[0]) for line in lines)
        return frozenset(int(number) for each in found for number in each)

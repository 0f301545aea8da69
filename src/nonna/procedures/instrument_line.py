"""What a line that an instrument sends means, in millimetres, with the axis and the tool it names."""

from __future__ import annotations

import re

from nonna.shop.texts.line_pattern import LinePattern, line_pattern, number_of
from nonna.wording.lengths import MM_PER_INCH

_NUMBER = re.compile(r"[+-]?\d+(?:[.,]\d+)?")
_TO_MM = {
    "mm": 1.0,
    "um": 1e-3,
    "µm": 1e-3,
    "in": MM_PER_INCH,
    "inch": MM_PER_INCH,
    '"': MM_PER_INCH,
    "thou": MM_PER_INCH / 1e3,
}
_UNIT = re.compile(r"(?<![a-z])(inch|in|\"|mm|um|µm|thou)(?![a-z])", re.IGNORECASE)


class LineReading(float):
    """Millimetres that a line means, with the axis and the tool it names, "" where it names none."""

    axis: str = ""
    tool: str = ""


def parse_line(line: str, pattern: LinePattern | None = None) -> LineReading | None:
    """Return the millimetres a line of an instrument means, or None for a line that does not tell.

    By its pattern where its card has one. Without: the only number of the line, or the only one that has a sign or a
    decimal point; a line in which two numbers could be meant is no reading.
    """
    if pattern is not None:
        found = pattern.match(line)
        if found is None:
            return None
        reading = LineReading(number_of(found["value"]) * _TO_MM[found.get("unit", "mm").lower()])
        reading.axis, reading.tool = found.get("axis", "").lower(), found.get("tool", "")
        return reading
    numbers = _NUMBER.findall(line)
    if len(numbers) > 1:
        numbers = [text for text in numbers if text[0] in "+-" or "." in text or "," in text]
    if len(numbers) != 1:
        return None
    unit = _UNIT.search(line.replace(numbers[0], " ", 1))
    return LineReading(number_of(numbers[0]) * (_TO_MM[unit.group().lower()] if unit else 1.0))


def read_as(line: str, pattern: str) -> str:
    """Say what a line means by a pattern ("" for none), for somebody who tries it. Raises: NonnaError (no such
    pattern).
    """
    found = parse_line(line, line_pattern(pattern, ("value",)) if pattern else None)
    if found is None:
        return "This line gives no number by this pattern." if pattern else "Which number is it? Write a pattern."
    more = [f"axis {found.axis.upper()}"] if found.axis else []
    more += [f"T{int(found.tool)}"] if found.tool else []
    return ", ".join([f"{float(found):.10g} mm", *more])

"""Results and readings in words: one wording for screen and certificate."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from nonna.procedures.evaluation import Check, Quantity
from nonna.wording.lengths import Units, length, number, small, small_decimals

LONG_MM = 0.1  # below this a length is a deviation and reads in micrometres


CHOICE_WORDS: Mapping[str, str] = {
    "master-tool": "Master tool", "ring": "Ring", "block": "Block", "spindle-face": "Bare spindle face", "part": "Part, measured by micrometer", "contact": "Contact setter",
    "beam": "Beam setter", "mill": "Mill", "router": "Router", "lathe": "Lathe", "disc": "Round pad", "square": "Square pad",
    "absolute": "Known master: lengths true to the world", "relative": "Constant master: lengths agree with each other only",
    "internal": "In the ring", "external": "Round the pin", "length": "Length", "diameter": "Diameter", "right": "Right-hand",
    "left": "Left-hand", "carbide": "Carbide", "hss": "High-speed steel", "drill": "Drill", "spot-drill": "Spot drill", "tap": "Tap",
    "reamer": "Reamer", "end-mill": "End mill", "ball-mill": "Ball-nose mill", "bull-mill": "Bull-nose mill",
    "face-mill": "Face mill", "chamfer-mill": "Chamfer mill", "slitting-saw": "Slitting saw", "t-slot": "T-slot cutter",
    "dovetail": "Dovetail cutter", "thread-mill": "Thread mill", "boring-bar": "Boring bar", "turning-tool": "Turning tool", "probe": "Probe", "master": "Master",
    "collet": "Collet", "nut": "Nut", "clip": "Clip of the rack", "battery": "Battery of the probe", "stylus": "Stylus",
    "lf": "a line feed, or both", "cr": "a carriage return alone", "none": "None", "even": "Even", "odd": "Odd",
    "minus": "Down or left (position falls)", "plus": "Up or right (position rises)", "guarded": "The limit must hold with the doubt", "simple": "The value alone counts",
}  # fmt: skip
"""What a person calls the words of the files."""


def choice_words(word: str) -> str:
    """Return what hands call a word of a file."""
    return CHOICE_WORDS.get(word, word.replace("-", " "))


def value_words(value: float, unit: str, units: Units) -> str:
    """Return a result's value with its unit; deviations in the small unit."""
    if unit == "deg":
        turn = value % 360.0
        decimals = 0 if 10.0 <= turn <= 359.9 else 1
        return f"{number(round(turn, decimals) % 360.0, decimals)}°"
    if unit == "s":
        return f"{number(value * 1000.0, 2)} ms"
    if unit == "ppm":
        return f"{number(value, 1)} ppm"
    if unit == "1":
        return number(value, small_decimals(value)) if abs(value) >= 1e-3 or value == 0.0 else f"{value:.1e}"
    return small(value, units) if abs(value) < LONG_MM else length(value, units)


def doubt_words(quantity: Quantity, units: Units) -> str:
    """Return ``± U`` of a result, "" for one without an uncertainty."""
    if quantity.estimate is None:
        return ""
    expanded = quantity.estimate.expanded
    if quantity.unit == "deg":
        decimals = 0 if expanded >= 10 else 1 if expanded >= 0.1 else 3  # never "± 0.0"
        return f"± {number(min(expanded, 180.0), decimals)}°"
    return f"± {value_words(expanded, quantity.unit, units)}"


def check_words(check: Check, units: Units) -> str:
    """Return ``limit 5.0 µm`` of a check."""
    return f"limit {value_words(check.limit, check.unit, units)}"


def reading_words(values: Mapping[str, Any], fields: Sequence[str], units: Units) -> tuple[str, ...]:
    """Return the typed values of a reading, one text each."""
    return tuple(length(float(values[name]), units, unit=False) for name in fields if name in values)


def reading_name(values: Mapping[str, Any], fields: Sequence[str], index: int) -> str:
    """Return what a reading is called by what stands beside its values ("top", "A", "45°"), or its number."""
    words = []
    for name, value in values.items():
        if name in fields or name == "t_s":
            continue
        if name.endswith("_deg"):
            words.append(f"{value:g}°")
        elif name.endswith("_mm"):
            words.append(f"{name[0].upper()}{value:g}")
        else:
            words.append(str(value))
    return " ".join(words) or str(index)

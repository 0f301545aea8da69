"""Results and readings in words: one wording for screen and certificate."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from nonna.procedures.evaluation import Check, Quantity
from nonna.shop.texts.given import Document, as_number
from nonna.wording.lengths import Units, length, number, small, small_decimals

LONG_MM = 0.1  # below this a length is a deviation and reads in micrometres


CHOICE_WORDS: Mapping[str, str] = {
    "master-tool": "Master tool", "ring": "Ring", "block": "Block", "spindle-face": "Bare spindle face",
    "part": "Part, measured by micrometer", "contact": "Contact setter",
    "beam": "Beam setter", "mill": "Mill", "router": "Router", "lathe": "Lathe", "disc": "Round pad",
    "square": "Square pad",
    "absolute": "True to the world", "relative": "Among each other only",
    "internal": "In the ring", "external": "Round the pin", "length": "Length", "diameter": "Diameter",
    "right": "Right-hand",
    "left": "Left-hand", "carbide": "Carbide", "hss": "High-speed steel", "drill": "Drill", "spot-drill": "Spot drill",
    "tap": "Tap",
    "reamer": "Reamer", "end-mill": "End mill", "ball-mill": "Ball-nose mill", "bull-mill": "Bull-nose mill",
    "face-mill": "Face mill", "chamfer-mill": "Chamfer mill", "slitting-saw": "Slitting saw", "t-slot": "T-slot cutter",
    "dovetail": "Dovetail cutter", "thread-mill": "Thread mill", "boring-bar": "Boring bar",
    "turning-tool": "Turning tool", "probe": "Probe", "master": "Master",
    "collet": "Collet", "nut": "Nut", "clip": "Clip of the rack", "battery": "Battery of the probe", "stylus": "Stylus",
    "lf": "a line feed, or both", "cr": "a carriage return alone", "none": "None", "even": "Even", "odd": "Odd",
    "minus": "Down or left (position falls)", "plus": "Up or right (position rises)",
    "guarded": "The limit must hold with the doubt", "simple": "The value alone counts",
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
    if quantity.unit == "mm":
        return f"± {small(expanded, units)}"  # as beside the main number: one unit for doubts
    return f"± {value_words(expanded, quantity.unit, units)}"


def result_words(quantity: Quantity, units: Units) -> str:
    """Return ``value ± U unit``: U to two digits, the value to the same place, one unit for both.

    Source: JCGM 100, 7.2.6. Without an uncertainty the value alone.
    """
    if quantity.estimate is None:
        return value_words(quantity.value, quantity.unit, units)
    expanded, value = quantity.estimate.expanded, quantity.value
    scale, symbol = _scale(quantity.unit, max(abs(value), expanded), units)
    space = "" if symbol in ("°", "") else " "
    return (
        f"{_to_place(value * scale, expanded * scale)} ± {_to_place(expanded * scale, expanded * scale)}{space}{symbol}"
    )


def u_words(u: float, unit: str, units: Units) -> str:
    """Return a standard uncertainty to two digits in the unit its result has, lengths in the small one."""
    scale, symbol = (units.small_scale, units.small_symbol) if unit == "mm" else _scale(unit, u, units)
    return f"{_to_place(u * scale, u * scale)}{'' if symbol in ('°', '') else ' '}{symbol}"


def _scale(unit: str, size: float, units: Units) -> tuple[float, str]:
    if unit == "mm":
        return (units.small_scale, units.small_symbol) if size < LONG_MM else (units.scale, units.symbol)
    return {"deg": (1.0, "°"), "s": (1e3, "ms"), "1": (1.0, "")}.get(unit, (1.0, unit))


def _to_place(value: float, expanded: float) -> str:
    """Return a number rounded to where the second digit of an uncertainty stands."""
    if not expanded > 0.0:
        return number(value, 4)
    place = 1 - math.floor(math.log10(float(f"{expanded:.1e}")))
    return number(round(value, place), max(0, min(place, 9)))


def check_words(check: Check, units: Units) -> str:
    """Return ``limit 5.0 µm`` of a check."""
    return f"limit {value_words(check.limit, check.unit, units)}"


def reading_words(values: Document, fields: Sequence[str], units: Units) -> tuple[str, ...]:
    """Return the typed values of a reading, one text each."""
    return tuple(length(as_number(values[name]), units, unit=False) for name in fields if name in values)


def reading_name(values: Mapping[str, object], fields: Sequence[str], index: int) -> str:
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

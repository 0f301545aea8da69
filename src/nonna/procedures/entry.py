"""What a person types: a number, perhaps with a unit, perhaps in the wrong one."""

from __future__ import annotations

import re
from functools import cache
from typing import Any

from nonna.errors import NonnaError
from nonna.wording.lengths import MINUS, Units

_ENTRY = re.compile(r"([+-]?(?:\d+\.?\d*|\.\d+))\s*([a-zµμ\"]*)\Z", re.IGNORECASE)
_UNITS = "mm, in, inch, thou, um, cm"
_NAMES = frozenset(
    [
        "m",
        "meter",
        "mm",
        "millimeter",
        "cm",
        "um",
        "µm",
        "μm",
        "in",
        "inch",
        "inches",
        "thou",
        "mil",
        "th",
        "uin",
        "µin",
    ]
)
LARGEST_MM = 1e6
MOST_KEY_DEG = 3600.0  #: no adjusting screw is turned further in one go


@cache
def _registry() -> Any:
    """Return pint with the few lengths a shop uses; its full list takes long to read."""
    from pint import UnitRegistry

    registry: Any = UnitRegistry(None)
    for line in (
        "meter = [length] = m", "mm = 1e-3 m = millimeter", "cm = 1e-2 m", "um = 1e-6 m = µm = μm",
        "inch = 25.4 mm = in = inches", "thou = 1e-3 inch = mil = th", "uin = 1e-6 inch = µin",
    ):  # fmt: skip
        registry.define(line)
    return registry


def warm_up() -> None:
    """Read the unit definitions before they are needed."""
    _registry()


def parse_length(text: str, units: Units) -> float:
    """Return the millimetres that a typed length means; without a unit it is in ``units``.

    Raises: NonnaError ``not-a-number`` or ``out-of-range``, saying what could be typed instead.
    """
    plain = text.strip().replace(MINUS, "-").replace('"', "in")
    if plain.count(",") == 1 and "." not in plain:
        plain = plain.replace(",", ".")
    match = _ENTRY.match(plain)
    if not match:
        raise NonnaError(
            "not-a-number",
            "{value!r} is not a length. Try 12.345, 0.2in, 3 thou or 5um.",
            "entry",
            value=text.strip()[:30],
        )
    number, unit = float(match.group(1)), match.group(2)
    if not unit:
        value = number / units.scale
    else:
        if unit not in _NAMES:  # by name: what is typed is never read as an expression
            raise NonnaError(
                "not-a-number",
                "{value!r} is no unit known here; there are {units}.",
                "entry",
                value=unit[:20],
                units=_UNITS,
            )
        value = float(_registry().Quantity(number, unit).to("mm").magnitude)
    if abs(value) > LARGEST_MM:
        raise NonnaError("out-of-range", "That is over a kilometre; no machine is that long.", "entry")
    return value


def parse_turn(text: str) -> float:
    """Return the degrees a key was turned, without a sign. Raises: NonnaError (no number, or more than any screw
    takes).
    """
    try:
        degrees = abs(parse_number(text.strip().rstrip("°"), "", "turn"))
    except NonnaError as error:
        words = "A number of degrees is wanted, such as 40. Enter alone: not noted."
        raise NonnaError(error.code, words, "turn") from error
    if degrees > MOST_KEY_DEG:
        raise NonnaError(
            "out-of-range",
            "{degrees:g}° is more than ten turns of the key. Is a digit too many?",
            "turn",
            degrees=degrees,
        )
    return degrees


def parse_number(text: str, title: str, where: str) -> float:
    """Return a typed number without a unit, with a decimal point or comma.

    Raises: NonnaError ``not-a-number`` or ``out-of-range``, with the field's title in words (or "") and ``where``.
    """
    lead, shown = f"{title}: " if title else "", text.strip()[:30]
    try:
        value = float(text.strip().replace(MINUS, "-").replace(",", "."))
    except ValueError:
        raise NonnaError(
            "not-a-number", "{lead}a number is wanted, not {shown!r}.", where, lead=lead, shown=shown
        ) from None
    if not abs(value) <= LARGEST_MM:
        raise NonnaError("out-of-range", "{lead}{shown} is more than any machine has.", where, lead=lead, shown=shown)
    return value

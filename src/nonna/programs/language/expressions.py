"""Numbers, parameters and expressions of RS-274/NGC (NIST IR 6556, section 3.3.2)."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from typing import TypeAlias

from nonna.programs.language.errors import ProgramError

Parameters: TypeAlias = Mapping[int, float]
Value: TypeAlias = float | Callable[[Parameters], float]  #: a plain number, or what must wait for the run

_NUMBER = re.compile(r"[+-]?(?:[0-9]+\.?[0-9]*|\.[0-9]+)")
_WORD = re.compile(r"[a-z]+|\*\*|[*/+\-\[\]#]")
_LEVELS: tuple[dict[str, Callable[[float, float], float]], ...] = (
    {
        "and": lambda a, b: float(a != 0 and b != 0),
        "or": lambda a, b: float(a != 0 or b != 0),
        "xor": lambda a, b: float((a != 0) != (b != 0)),
        "+": lambda a, b: a + b,
        "-": lambda a, b: a - b,
    },
    {"*": lambda a, b: a * b, "/": lambda a, b: a / b, "mod": lambda a, b: a - b * math.floor(a / b)},
    {"**": lambda a, b: a**b},
)
_FUNCTIONS: dict[str, Callable[[float], float]] = {
    "abs": abs,
    "acos": lambda x: math.degrees(math.acos(x)),
    "asin": lambda x: math.degrees(math.asin(x)),
    "cos": lambda x: math.cos(math.radians(x)),
    "exp": math.exp,
    "fix": lambda x: float(math.floor(x)),
    "fup": lambda x: float(math.ceil(x)),
    "ln": math.log,
    "round": lambda x: float(math.floor(x + 0.5)),
    "sin": lambda x: math.sin(math.radians(x)),
    "sqrt": math.sqrt,
    "tan": lambda x: math.tan(math.radians(x)),
}
MAX_NESTING = 40
MOST_PARAMETERS = 99_999  #: the published language has 5,399; controls have more


class Scanner:
    """Walks over one line (lower case, comments blanked out) and reads values off it."""

    def __init__(self, text: str, line: int) -> None:
        self.text, self.line, self.at = text, line, 0
        self._depth = 0

    def fail(self, message: str) -> ProgramError:
        """Return a syntax error at the place reached."""
        return ProgramError("syntax", message, self.line, self.at + 1)

    def skip(self) -> bool:
        """Step over blanks; say whether anything is left."""
        while self.at < len(self.text) and self.text[self.at] in " \t":
            self.at += 1
        return self.at < len(self.text)

    def value(self) -> Value:
        """Read a number, ``#n``, ``[...]`` or a function. Raises: ProgramError."""
        if not self.skip():
            raise self.fail("a number is missing here")
        number = _NUMBER.match(self.text, self.at)
        if number:
            self.at = number.end()
            return float(number.group())
        sign = 1.0
        if self.text[self.at] in "+-":
            sign = -1.0 if self.text[self.at] == "-" else 1.0
            self.at += 1
        mark = self._word()
        self._depth += 1
        if self._depth > MAX_NESTING:
            raise self.fail(f"nested over {MAX_NESTING} deep")
        if mark == "#":
            result = _parameter(self.value(), self.line, self.at + 1)
        elif mark == "[":
            result = self._expression(0)
            self._close()
        elif mark == "atan":
            result = self._atan()
        elif mark in _FUNCTIONS:
            self._open()
            result = _applied(_FUNCTIONS[mark], self._expression(0), self.line, self.at + 1)
            self._close()
        else:
            raise self.fail(f"{mark!r} is not a number")
        self._depth -= 1
        return result if sign > 0 else _applied(lambda x: -x, result, self.line, self.at + 1)

    def _word(self) -> str:
        word = _WORD.match(self.text, self.at) if self.skip() else None
        if not word:
            shown = self.text[self.at : self.at + 1] or "end of line"
            raise self.fail(f"{shown!r} does not belong here")
        self.at = word.end()
        return word.group()

    def _open(self) -> None:
        if self._word() != "[":
            raise self.fail("'[' is missing here")

    def _close(self) -> None:
        if not self.skip() or self.text[self.at] != "]":
            raise self.fail("']' is missing here")
        self.at += 1

    def _atan(self) -> Value:
        parts: list[Value] = []
        for i in range(2):
            if i and self._word() != "/":
                raise self.fail("atan is written atan[y]/[x]")
            self._open()
            parts.append(self._expression(0))
            self._close()
        return _combined(lambda y, x: math.degrees(math.atan2(y, x)), parts[0], parts[1], self.line, self.at + 1)

    def _expression(self, level: int) -> Value:
        if level == len(_LEVELS):
            return self.value()
        left = self._expression(level + 1)
        while self.skip():
            word = _WORD.match(self.text, self.at)
            if not word or word.group() not in _LEVELS[level]:
                break
            self.at = word.end()
            left = _combined(_LEVELS[level][word.group()], left, self._expression(level + 1), self.line, self.at + 1)
        return left


def resolve(value: Value, parameters: Parameters) -> float:
    """Return the number a value stands for now. Raises: ProgramError."""
    return value if isinstance(value, float) else value(parameters)


def _parameter(which: Value, line: int, column: int) -> Value:
    def read(parameters: Parameters) -> float:
        return parameters.get(parameter_number(resolve(which, parameters), line, column), 0.0)

    return read


def parameter_number(value: float, line: int, column: int) -> int:
    """Return a parameter's number. Raises: ProgramError (not a whole number from 1 to 99,999)."""
    number = round(value)
    if abs(value - number) > 1e-4 or not 1 <= number <= MOST_PARAMETERS:
        raise ProgramError("syntax", "there is no parameter #{value:g}", line, column, value=value)
    return number


def _applied(function: Callable[[float], float], value: Value, line: int, column: int) -> Value:
    return _combined(lambda x, _: function(x), value, 0.0, line, column)


def _combined(function: Callable[[float, float], float], a: Value, b: Value, line: int, column: int) -> Value:
    def work(parameters: Parameters) -> float:
        x, y = resolve(a, parameters), resolve(b, parameters)
        try:
            result = function(x, y)
        except (ValueError, ZeroDivisionError, OverflowError) as error:
            raise ProgramError("syntax", "this cannot be worked out: {error}", line, column, error=error) from error
        if isinstance(result, complex) or not math.isfinite(result):
            raise ProgramError("syntax", "this cannot be worked out", line, column)
        return float(result)

    if isinstance(a, float) and isinstance(b, float):
        return work({})
    return work

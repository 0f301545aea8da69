"""Jumps of the branching dialect: ``IF [a LT b] GOTO n`` and ``GOTO n``."""

from __future__ import annotations

import operator
import re
from collections.abc import Callable
from dataclasses import dataclass

from nonna.programs.language.errors import ProgramError
from nonna.programs.language.expressions import Parameters, Scanner, Value, resolve

_JUMP = re.compile(r"\s*(?:n\s*[0-9]+\s*)?(if\s*\[(?P<test>.*)\]\s*)?goto\s*(?P<to>[0-9]+)\s*\Z")
_WORDS: dict[str, Callable[[float, float], bool]] = {
    "eq": operator.eq, "ne": operator.ne, "gt": operator.gt, "ge": operator.ge, "lt": operator.lt, "le": operator.le,
}  # fmt: skip
MOST_JUMPS = 100_000  #: beyond this a program is taken to loop for ever


@dataclass(frozen=True, slots=True)
class Jump:
    """Where to go on, and on what condition (none: always)."""

    label: int
    left: Value = 0.0
    relation: str = ""
    right: Value = 0.0

    def taken(self, parameters: Parameters) -> bool:
        """Say whether the jump is made as the parameters stand."""
        if not self.relation:
            return True
        return _WORDS[self.relation](resolve(self.left, parameters), resolve(self.right, parameters))


def read_jump(text: str, number: int) -> Jump | None:
    """Read a jump off a line (lower case, without comments); None when it is none.

    Raises: ProgramError (it begins like one and cannot be read).
    """
    found = _JUMP.match(text)
    if found is None:
        if re.match(r"\s*(?:n\s*[0-9]+\s*)?(if\b|goto|while\b|do\b|end\b)", text):
            raise ProgramError("syntax", "a jump reads IF [a LT b] GOTO n, or GOTO n", number)
        return None
    label, test = int(found["to"]), found["test"]
    if test is None:
        return Jump(label)
    depth = 0
    for match in re.finditer(r"[\[\]]|(?<![a-z])(?:eq|ne|gt|ge|lt|le)(?![a-z])", test):
        if match.group() in "[]":
            depth += 1 if match.group() == "[" else -1
        elif depth == 0:
            left, right = test[: match.start()], test[match.end() :]
            return Jump(label, _side(left, number), match.group(), _side(right, number))
    raise ProgramError("syntax", "a condition compares two values: EQ NE GT GE LT LE", number)


def _side(text: str, number: int) -> Value:
    scanner = Scanner(f"[{text}]", number)
    value = scanner.value()
    if scanner.skip():
        raise scanner.fail("this does not belong in a condition")
    return value

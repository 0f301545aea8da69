"""What is wrong with a program, and in which block."""

from __future__ import annotations

from nonna.errors import NonnaError


class ProgramError(NonnaError):
    """A block that cannot be read or run; ``code`` is a problem code of the rehearsal."""

    def __init__(self, code: str, template: str, line: int, column: int = 1, **facts: object) -> None:
        super().__init__(code, template, f"line {line}, column {column}", **facts)
        self.line = line
        self.column = column

"""Turns of the adjusting keys, asked for one screw after another."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import ClassVar

from nonna.procedures.entry import parse_turn


@dataclass(frozen=True, slots=True)
class TurnedKeys:
    """What hands said they turned, and the screws still asked for."""

    asked: tuple[str, ...] = ()
    degrees: dict[str, float] = field(default_factory=dict)  #: by screw; one that was not noted is not among them

    expected: ClassVar[str] = "Enter: not noted"
    todo: ClassVar[str] = ""

    @property
    def prompt(self) -> str:
        """What is asked next."""
        return f"Key turned at {self.asked[0]}, degrees"

    def noted(self, text: str) -> TurnedKeys:
        """Take an answer, "" for a turn that nobody noted. Raises: NonnaError (it is no angle)."""
        now = {self.asked[0]: parse_turn(text)} if text else {}
        return TurnedKeys(self.asked[1:], {**self.degrees, **now})

"""Lines that leave a control while a program of ours runs: what each says, and how the card has it printed."""

from __future__ import annotations

from dataclasses import dataclass

from nonna.programs.language.phrases import filled
from nonna.shop.cards.control_card import ControlCard

MARK = "nonna"  #: begins every line of ours


@dataclass(slots=True)
class Printing:
    """Makes the printed lines of one run, numbered in order."""

    card: ControlCard
    run: str
    count: int = 0

    @classmethod
    def of(cls, card: ControlCard | None, run: str) -> Printing:
        """Return that of a control; without a card nothing is printed."""
        return cls(card or ControlCard(), run)

    @property
    def works(self) -> bool:
        """Whether the card says how a line and a value are printed."""
        return self.card.prints is not None and self.card.prints_value is not None

    def value(self, tool: int, what: str, axis: str, parameter: int) -> str:
        """Return the block that prints a parameter's value. Raises: ValueError (nothing is printed here)."""
        if self.card.prints is None or self.card.prints_value is None:
            raise ValueError("the card does not say how anything is printed")
        self.count += 1
        value = filled(self.card.prints_value, parameter=parameter)
        words = f"{MARK} {self.run} {self.count} tool={tool} what={what} axis={axis} value={value}"
        return filled(self.card.prints, text=words)

    def end(self) -> str:
        """Return the block that prints how many lines there were. Raises: ValueError (nothing is printed here)."""
        if self.card.prints is None:
            raise ValueError("the card does not say how anything is printed")
        return filled(self.card.prints, text=f"{MARK} {self.run} end {self.count}")

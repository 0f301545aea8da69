"""What a control understands beside the common words: how it searches, whether it compares and jumps."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from nonna.programs.language.grammar import PROBE, SKIP
from nonna.programs.language.motion import TRIP


@dataclass(frozen=True, slots=True)
class Dialect:
    """One dialect of the language."""

    key: str  #: as the command line and the control's card name it
    words: str  #: what a person chooses it by
    templates: Path  #: folder of the macros that the program templates ask of it
    search: float = PROBE  #: the G word that moves until the sensor triggers
    jumps: bool = False  #: whether a program can compare two values and go on elsewhere
    trigger_at: int = TRIP  #: parameter that takes X of where a search triggered, Y and Z behind it

    @property
    def skips(self) -> bool:
        """Whether a search that finds nothing goes on, so that the program itself has to look."""
        return self.search == SKIP

    @property
    def skip_at(self) -> int:
        """The parameter that takes X of a skip move's position; 0: there are no skip moves."""
        return self.trigger_at if self.skips else 0

    @property
    def search_word(self) -> str:
        """The search as a program has it."""
        return f"G{self.search:g}"

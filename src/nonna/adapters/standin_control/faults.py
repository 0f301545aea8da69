"""Faults to order: what a cable, a disk and an old control do to what is printed and kept."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from random import Random

from nonna.errors import NonnaError
from nonna.shop.cards.control_tables import ControlTablesFile
from nonna.wording.lengths import MM_PER_INCH

NAMES = ("double", "shuffle", "drop", "cut", "die", "forget", "old-table", "inch-table")
OFTEN = 0.25  #: of the lines that a fault of the cable meets
HELD_BACK = 4  #: lines that change their places
DIES_WITHIN = 400  #: steps of the machine
FORGETS_WITHIN = 40  #: numbers stored, of which some are not kept


@dataclass(slots=True)
class Faults:
    """Which faults there are, thrown by dice of their own."""

    names: frozenset[str]
    dice: Random
    _waiting: list[str] = field(default_factory=list)
    _dies_in: int = 0

    @classmethod
    def of(cls, names: str, seed: int) -> Faults:
        """Return faults by their names, with commas. Raises: NonnaError (one that there is not)."""
        wanted = [name.strip() for name in names.split(",") if name.strip()]
        for name in wanted:
            if name not in NAMES:
                words = "--faults: {names} are known, not {name!r}."
                raise NonnaError("out-of-range", words, "faults", names=", ".join(NAMES), name=name[:40])
        dice = Random(f"faults {seed}")
        return cls(frozenset(wanted), dice, _dies_in=dice.randint(1, DIES_WITHIN))

    def forgets(self) -> frozenset[int]:
        """Return which of the numbers stored are not kept, by their order."""
        if "forget" not in self.names:
            return frozenset()
        return frozenset(n for n in range(1, FORGETS_WITHIN + 1) if self.dice.random() < OFTEN) or frozenset((1,))

    def dies_now(self) -> bool:
        """Say whether the control goes dark at this step."""
        self._dies_in -= 1
        return "die" in self.names and self._dies_in <= 0

    def on_the_cable(self, line: str) -> Iterator[bytes]:
        """Yield what of a line arrives, and when: at once, twice, later, in part or not at all."""
        for each in self._in_some_order(line):
            if "drop" in self.names and self.dice.random() < OFTEN:
                continue
            whole = f"{each}\n".encode("ascii", "replace")
            if "cut" in self.names and self.dice.random() < OFTEN:
                yield whole[: self.dice.randrange(len(whole))]
                continue
            yield whole
            if "double" in self.names and self.dice.random() < OFTEN:
                yield whole

    def last_ones(self) -> Iterator[bytes]:
        """Yield what is still on its way when a program ends."""
        waiting, self._waiting = self._waiting, []
        self.dice.shuffle(waiting)
        yield from (f"{each}\n".encode("ascii", "replace") for each in waiting)

    def _in_some_order(self, line: str) -> Iterator[str]:
        if "shuffle" not in self.names:
            yield line
            return
        self._waiting.append(line)
        if len(self._waiting) >= HELD_BACK:
            yield self._waiting.pop(self.dice.randrange(len(self._waiting)))

    def begun_with(self, tables: ControlTablesFile) -> ControlTablesFile:
        """Return the tables that a program finds: in the other unit, where that is the fault."""
        if "inch-table" not in self.names:
            return tables
        other = "inch" if tables.units == "mm" else "mm"
        factor = 1.0 / MM_PER_INCH if other == "inch" else MM_PER_INCH
        rows = {
            name: [
                {key: value if key == "number" or value is None else value * factor for key, value in row.items()}
                for row in tables.model_dump()[name]
            ]
            for name in ("tools", "work_offsets", "pockets")
        }
        return ControlTablesFile.model_validate({**tables.model_dump(), **rows, "units": other})

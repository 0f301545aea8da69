"""Whether the numbers a piece of a program rests on are still the book's: its header names them."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from nonna.bench.book.results_that_hold import HeldResults
from nonna.procedures import offers
from nonna.shop.cards.machine import Machine, Tool
from nonna.standin.contact import Problem

ALIKE_MM = 0.00051  #: a number as the header has it, and what a display makes of the same one
_RESTS_ON = re.compile(
    r"\(RESTS ON: T(\d{1,7}) (-?\d{1,7}\.\d{1,6}|NOT KNOWN), TRIGGER PLANE (-?\d{1,7}\.\d{1,6})\)", re.IGNORECASE
)


def older_numbers(text: str, machine: Machine, tools: Sequence[Tool], results: HeldResults) -> tuple[Problem, ...]:
    """Return a warning for each piece in a program that rests on other numbers than the newest that hold.

    Parameters: machine, as it was calibrated last. Raises: NonnaError (a record that would be used is damaged).
    """
    found = []
    for line, block in enumerate(text.splitlines(), 1):
        if (said := _RESTS_ON.search(block)) is not None:
            number = int(said[1])
            tool = next((t for t in tools if t.number == number), None)
            words = " ".join(_differing(said, machine, tool, results))
            if words:
                message = f"{words} The piece was written before that: write it anew."
                found.append(Problem("older-numbers", "warn", line, number, message))
    return tuple(found)


def _differing(said: re.Match[str], machine: Machine, tool: Tool | None, results: HeldResults) -> Iterator[str]:
    if tool is None:
        yield f"T{said[1]} is not in the table."
        return
    newest = results.value_offered(offers.TOOL_LENGTH, tool.subject)
    known = newest if newest is not None else tool.length_mm
    then = None if said[2].upper() == "NOT KNOWN" else float(said[2])
    if known is not None and (then is None or abs(then - known) > ALIKE_MM):
        was = "an unknown length" if then is None else f"{then:.4f}"
        yield f"It takes T{tool.number} for {was}, and by now it is {known:.4f}."
    if machine.setter is not None and abs(float(said[3]) - machine.setter.trigger_plane_mm) > ALIKE_MM:
        yield (
            f"It has the trigger plane at {float(said[3]):.4f}, and by now it is {machine.setter.trigger_plane_mm:.4f}."
        )

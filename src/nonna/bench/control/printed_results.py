"""A run's printed lines as readings files, one for each sheet that takes some."""

from __future__ import annotations

from nonna.errors import NonnaError
from nonna.procedures.listing import PROCEDURES
from nonna.programs.writing.printed import must_be_whole, program_of, read_printout, readings_of
from nonna.shop.texts.given import Plain


def readings_files(printed: str, program: str) -> list[dict[str, Plain]]:
    """Return what a control printed while a program ran, as readings files in the order of the program.

    Raises: NonnaError (the program prints nothing that goes to a sheet, the run is not complete, or its lines
    contradict each other).
    """
    ours = program_of(program)
    found = read_printout(printed, ours)
    must_be_whole(found, ours)
    made: list[dict[str, Plain]] = []
    for sheet, rows in readings_of(found, ours):
        if sheet.procedure not in PROCEDURES:
            words = "The program names a sheet {name!r}, and there is none of that name."
            raise NonnaError("unknown-procedure", words, "program", name=sheet.procedure)
        setup: dict[str, Plain] = {k: int(v) if k == "flutes" else v for k, v in sheet.setup.items()}
        made.append(
            {
                "format": "nonna-readings/1", "procedure": sheet.procedure, "tool": sheet.tool, "setup": setup,
                "readings": rows,
            }
        )  # fmt: skip
    return made

"""Coordinates shifted by a program: G10 L2 (work offsets) and G92 (axis offsets), as NIST IR 6556 has them (3.5.5,
3.5.18).
"""

from __future__ import annotations

from collections.abc import Mapping, MutableMapping

from nonna.programs.language.drive import Position
from nonna.programs.language.errors import ProgramError

CODES = {10.0, 92.0, 92.1, 92.2, 92.3}
AXIS_OFFSETS = 5211  #: parameter of the X axis offset, Y and Z behind it
WORK_OFFSETS = 5221  #: of G54 X; the others follow in steps of 20
SYSTEMS = 9


def shift(
    codes: set[float], values: Mapping[str, float], parameters: MutableMapping[int, float], here: Position, line: int
) -> None:
    """Carry a shifting word out: what it changes stands in the parameters.

    Parameters: here, the present place in the program's own coordinates and units, axis offsets included.
    Raises: ProgramError (a word that is missing or no system's number).
    """
    if 10.0 in codes:
        system = values.get("p", 0.0)
        if values.get("l") != 2.0:
            raise ProgramError("unsupported", "of G10 only L2, a work offset, is known here", line)
        if system != int(system) or not 1 <= system <= SYSTEMS:
            raise ProgramError(
                "syntax",
                "there is no coordinate system {system:g}: P1 to P{systems}",
                line,
                system=system,
                systems=SYSTEMS,
            )
        first = WORK_OFFSETS + 20 * (int(system) - 1)
        parameters.update({first + i: values[axis] for i, axis in enumerate("xyz") if axis in values})
    elif 92.0 in codes:
        if not any(axis in values for axis in "xyz"):
            raise ProgramError("syntax", "G92 without an axis", line)
        for i, axis in enumerate("xyz"):
            if axis in values:
                before = parameters.get(AXIS_OFFSETS + i, 0.0)
                parameters[AXIS_OFFSETS + i] = before + here[i] - values[axis]
    elif 92.1 in codes or 92.2 in codes:
        parameters.update({AXIS_OFFSETS + i: 0.0 for i in range(3)})
    else:
        raise ProgramError("unsupported", "G92.3 would bring back what another program left", line)


def left(parameters: Mapping[int, float], *, tables: bool = False) -> list[str]:
    """Say which shifts a program leaves behind on a machine that had none.

    Parameters: tables, whether work offsets are kept account of elsewhere.
    """
    made = []
    if any(parameters.get(AXIS_OFFSETS + i, 0.0) for i in range(3)):
        made.append("an axis offset (G92) is left on")
    for system in range(0 if tables else SYSTEMS):
        if any(parameters.get(WORK_OFFSETS + 20 * system + i, 0.0) for i in range(3)):
            name = f"G{54 + system}" if system < 6 else f"G59.{system - 5}"
            made.append(f"the work offset {name} was changed")
    return made

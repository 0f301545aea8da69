"""Which words may stand together in a block, and which words a block's codes use (NIST IR 6556, 3.4, 3.5 and 3.6)."""

from __future__ import annotations

from collections.abc import Collection, Iterable

from nonna.programs.language.blocks import Word
from nonna.programs.language.canned import CYCLES
from nonna.programs.language.errors import ProgramError
from nonna.programs.language.shifts import CODES as SHIFTS

SKIP, PROBE = 31.0, 38.2
ARCS = {2.0, 3.0}
MOTION = {0.0, 1.0, SKIP, PROBE, 80.0} | ARCS | CYCLES
HOMES = {28.0: 5161, 30.0: 5181}  #: parameter of the home's X, Y and Z behind it
ANGLES = ("r", "p")  #: words that give an orientation's angle beside M19
ORIENT = 19
ENDS, PAUSES = {2, 30}, {0, 1}
WORK = {54.0 + i: i + 1 for i in range(6)} | {59.1: 7, 59.2: 8, 59.3: 9}
_ELSEWHERE = {  # known, but not run: said in words that help
    41.0: "cutter compensation is not followed here", 42.0: "cutter compensation is not followed here",
    33.0: "threads are not followed here", 73.0: "this drilling cycle is not followed here",
    87.0: "boring from below is not followed here", 88.0: "a bore that stops for the hand is not followed here",
    93.0: "inverse time feed is not followed here", 95.0: "feed a turn is not followed here",
}  # fmt: skip
_GROUPS: dict[float, str] = (
    dict.fromkeys(MOTION, "motion")
    | dict.fromkeys(WORK, "work offset")
    | dict.fromkeys((4.0, 53.0, *SHIFTS, *HOMES), "one-off")
    | dict.fromkeys((17.0, 18.0, 19.0), "plane")
    | dict.fromkeys((98.0, 99.0), "retract")
    | dict.fromkeys((20.0, 21.0), "units")
    | dict.fromkeys((90.0, 91.0), "distance")
    | dict.fromkeys((43.0, 49.0), "length offset")
    | dict.fromkeys((61.0, 64.0), "path")
    | {40.0: "cutter compensation", 94.0: "feed mode"}
)
_M_GROUPS: dict[int, str] = (
    dict.fromkeys((0, 1, 2, 30), "stop")
    | dict.fromkeys((3, 4, 5, ORIENT), "spindle")
    | dict.fromkeys((48, 49), "override")
    | {6: "tool change", 7: "mist", 8: "flood", 9: "coolant off"}
)
_USE_AXES = SHIFTS | HOMES.keys()
_ALWAYS = frozenset("nxyzfst")
PLAIN = frozenset("nxyzfst")  #: all that a straight move takes


def whole(value: float, letter: str, line: int, column: int) -> int:
    """Return a word's number. Raises: ProgramError ``syntax`` (no whole number)."""
    number = round(value)
    if abs(value - number) > 1e-6:
        raise ProgramError("syntax", "there is no {upper}{value:g}", line, column, upper=letter.upper(), value=value)
    return number


def g_code(value: float, line: int, column: int) -> float:
    """Return a G word's number, to its one decimal. Raises: ProgramError ``unsupported`` (more than one decimal)."""
    code = round(value, 1)
    if abs(value - code) > 1e-6:
        raise ProgramError("unsupported", "G{value:g}: it is not known here", line, column, value=value)
    return code


def supported(code: float, line: int, column: int, *, skips: bool) -> None:
    """Let a G code pass that this language has. Raises: ProgramError ``unsupported``."""
    if code not in _GROUPS or (code == SKIP and not skips):
        why = _ELSEWHERE.get(code, "it is not known here")
        raise ProgramError("unsupported", "G{named:g}: {why}", line, column, named=code, why=why)


def apart(gs: Iterable[tuple[float, Word]], ms: Iterable[tuple[int, Word]], line: int) -> None:
    """Check that no two words of a block fight over one mode.

    Raises: ProgramError ``modal-conflict`` (two words of one modal group, or two that both use the axis words).
    """
    seen: set[str] = set()
    codes = set()
    for code, word in gs:
        codes.add(code)
        _once(_GROUPS.get(code, f"G{code:g}") if code != 53.0 else "G53", seen, line, word)
        if code in _USE_AXES and codes & (MOTION - {80.0}):
            raise ProgramError(
                "modal-conflict", "two words of one block use its axes: G{named:g} and a motion", line, word.column,
                named=code
            )  # fmt: skip
        if code in MOTION - {80.0} and codes & _USE_AXES:
            raise ProgramError(
                "modal-conflict", "two words of one block use its axes: G{named:g} and a one-off", line, word.column,
                named=code
            )  # fmt: skip
    for m, word in ms:
        group = _M_GROUPS.get(m, f"M{m}")
        _once(group, seen, line, word)
    if "coolant off" in seen and seen & {"mist", "flood"}:
        raise ProgramError("modal-conflict", "coolant is switched on and off in one block", line)


def _once(group: str, seen: set[str], line: int, word: Word) -> None:
    if group in seen:
        raise ProgramError(
            "modal-conflict", "two words of one kind ({group}) in one block", line, word.column, group=group
        )
    seen.add(group)


def used(
    letters: Iterable[str], codes: Collection[float], ms: Collection[int], motion: float, *, moves: bool, line: int
) -> None:
    """Check that every word of a block is one that its codes carry out: nothing is passed over in silence.

    Parameters: motion, the motion mode that holds; moves, whether this block moves by it.
    Raises: ProgramError ``ignored-word``.
    """
    allowed = set(_ALWAYS)
    if moves and motion in ARCS:
        allowed |= {"i", "j", "k", "r"}  # the arc itself refuses K
    if moves and motion in CYCLES:
        allowed |= {"r", "l", "p", "q"}
    if 4.0 in codes:
        allowed.add("p")
    if 10.0 in codes:
        allowed |= {"l", "p"}
    if 43.0 in codes:
        allowed.add("h")
    if ORIENT in ms:
        allowed |= set(ANGLES)
    for letter in letters:
        if letter not in allowed:
            raise ProgramError(
                "ignored-word", "nothing in this block takes the word {upper}", line, upper=letter.upper()
            )

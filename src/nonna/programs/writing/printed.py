"""Lines that a control printed while a program of ours ran: found among others, held against the program."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from nonna.errors import NonnaError, TooFewReadingsError
from nonna.programs.writing.printing import MARK
from nonna.programs.writing.units import INCH, MM
from nonna.shop.texts.given import Plain, Row

_RUN = r"(?P<run>[A-Za-z0-9]{4,12})"
_TOUCH = re.compile(
    rf"{MARK} {_RUN} (?P<index>[0-9]{{1,6}}) tool=(?P<tool>[0-9]{{1,7}}) what=(?P<what>[a-z0-9+-]{{1,40}}) "
    r"axis=(?P<axis>[a-z]?) value="
)
_END = re.compile(rf"{MARK} {_RUN} end (?P<count>[0-9]{{1,6}})\s*\Z")
_VALUE = re.compile(r"\s*([+-]?(?:[0-9]+\.[0-9]*|\.[0-9]+))\s*")
_SHEET = re.compile(
    r"\(sheet: T(?P<tool>[0-9]{1,7}) (?P<procedure>[a-z0-9-]+) takes=(?P<takes>[a-z]+)(?P<fields>( [a-z0-9_]+=\S+)*)\)"
)


LARGE = 99  #: decimals that no number has


@dataclass(frozen=True, slots=True)
class Expected:
    """A touch that a program prints."""

    index: int
    tool: int
    what: str
    axis: str


@dataclass(frozen=True, slots=True)
class Sheet:
    """A sheet that takes what is printed of a tool."""

    tool: int
    procedure: str
    takes: str  #: which touches: ``length``, ``face``, ``tooth``, ``tip``
    setup: Mapping[str, float]


@dataclass(frozen=True, slots=True)
class Program:
    """What a program prints, read off its text."""

    run: str
    touches: Mapping[int, Expected]
    sheets: tuple[Sheet, ...]
    unit_mm: float


@dataclass(frozen=True, slots=True)
class Printout:
    """What a control printed of one run."""

    values: Mapping[int, float]  #: by index, in the control's units
    ended: int | None  #: the count of its end line, None where it has not come
    passed_over: int  #: lines that are none of this run
    doubles: int  #: lines that came again, with the same value
    spoilt: int = 0  #: lines whose value is no number

    def missing(self, program: Program) -> tuple[Expected, ...]:
        """Return the touches that have not come."""
        return tuple(each for index, each in sorted(program.touches.items()) if index not in self.values)


def sheet_line(tool: int, procedure: str, takes: str, setup: Mapping[str, Plain]) -> str:
    """Return a header's line: a sheet, which touches it takes, and the fields of its setup that are numbers."""
    fields = "".join(f" {name}={value!r}" for name, value in setup.items() if isinstance(value, int | float))
    return f"sheet: T{tool} {procedure} takes={takes}{fields}"


def program_of(text: str) -> Program:
    """Read off a program what it prints. Raises: NonnaError (it prints nothing of ours, or of two runs)."""
    touches: dict[int, Expected] = {}
    runs: set[str] = set()
    for found in _TOUCH.finditer(text):
        runs.add(found["run"])
        index = int(found["index"])
        if index in touches:
            words = "The program prints touch {index} twice: it is none of ours as it was written."
            raise NonnaError("wrong-format", words, "program", index=index)
        touches[index] = Expected(index, int(found["tool"]), found["what"], found["axis"])
    if len(runs) != 1:
        words = "This program prints nothing that could be read back." if not runs else "This program prints two runs."
        raise NonnaError("wrong-format", words, "program")
    inch = re.search(r"(?im)^(?:n[0-9]+ )?\s*G20\b", text) is not None
    return Program(runs.pop(), touches, tuple(_sheets(text)), INCH.mm if inch else MM.mm)


def _sheets(text: str) -> Iterator[Sheet]:
    for line in text.splitlines():
        found = _SHEET.fullmatch(line.strip())
        if found is not None:
            fields = dict(pair.split("=", 1) for pair in found["fields"].split())
            setup = {name: float(value) for name, value in fields.items()}
            yield Sheet(int(found["tool"]), found["procedure"], found["takes"], setup)


def has_lines_of(text: str, run: str = "") -> bool:
    """Say whether a text has lines of a run, of any where none is named."""
    return any(not run or found["run"] == run for found in _TOUCH.finditer(text))


def read_printout(text: str, program: Program) -> Printout:
    """Find a run's lines among others, in any order.

    The value of a last line that nothing ends is taken only where it has as many decimals as the others: it may be cut.

    A value that is no number makes no touch. Raises: NonnaError (a touch printed twice with two values, one that the
    program does not make, two ends).
    """
    lines = text.splitlines()
    if lines and not text.endswith(("\n", "\r")) and _is_cut(lines):
        lines.pop()
    values: dict[int, float] = {}
    passed_over = doubles = spoilt = 0
    ended: int | None = None
    for line in lines:
        found, end = _TOUCH.search(line), _END.search(line)
        if end is not None and end["run"] == program.run:
            if ended is not None and ended != int(end["count"]):
                raise NonnaError("wrong-format", "The run ends twice, with two counts.", "end")
            doubles, ended = doubles + (ended is not None), int(end["count"])
        elif found is not None and found["run"] == program.run:
            index, value = int(found["index"]), _value(line[found.end() :])
            expected = program.touches.get(index)
            if expected != Expected(index, int(found["tool"]), found["what"], found["axis"]):
                words = "Line {index} (T{tool} {what}) is none that the program prints."
                raise NonnaError("wrong-format", words, f"touch {index}", index=index, tool=found["tool"],
                                 what=found["what"])  # fmt: skip
            if value is None:
                spoilt += 1  # torn on the way: the touch is missing, unless its line comes again
                continue
            if values.get(index, value) != value:
                words = (
                    "Touch {index} came twice with two values, {one} and {other}: was the program run twice? Write it "
                    "anew (Ctrl+E), each written program has a run of its own."
                )
                raise NonnaError("wrong-format", words, f"touch {index}", index=index, one=values[index], other=value)
            doubles += index in values
            values[index] = value
        else:
            passed_over += bool(line.strip())
    return Printout(values, ended, passed_over, doubles, spoilt)


def must_be_whole(printed: Printout, program: Program) -> None:
    """Raise TooFewReadingsError naming what is missing, where a run is not complete."""
    gone = printed.missing(program)
    if gone:
        names = ", ".join(f"{each.index} (T{each.tool} {each.what})" for each in gone[:8])
        words = "The run is not complete, {count} of {of} touches are missing: {names}{more}."
        raise TooFewReadingsError(
            words, count=len(gone), of=len(program.touches), names=names, more=" ..." if len(gone) > 8 else ""
        )
    if printed.ended is None:
        raise TooFewReadingsError("The run is not complete: its end line has not come.")
    if printed.ended != len(program.touches):
        words = "The run ended after {ended} lines, and its program prints {of}."
        raise TooFewReadingsError(words, ended=printed.ended, of=len(program.touches))


def readings_of(printed: Printout, program: Program) -> Iterator[tuple[Sheet, list[Row]]]:
    """Yield what each sheet takes, in the order in which it was touched; positions in mm."""
    for sheet in program.sheets:
        rows = [
            row
            for index, each in sorted(program.touches.items())
            if each.tool == sheet.tool and (row := _row(each, printed.values[index] * program.unit_mm, sheet.takes))
        ]
        if rows:
            yield sheet, rows


def _row(touch: Expected, value: float, takes: str) -> Row:
    """Return a touch as a reading of a sheet, an empty one where the sheet takes none of that kind."""
    kind = re.match("[a-z]+", touch.what)
    if kind is None or kind.group() != takes:
        return {}
    more = touch.what[kind.end() :]
    row: Row = {"position_mm": round(value, 9)}
    if takes == "face":
        row["face"] = more
    elif takes == "tooth":
        row["tooth"] = int(more.removeprefix("-"))
    elif takes == "tip":
        row["axis"] = touch.axis
    return row


def _is_cut(lines: Sequence[str]) -> bool:
    """Say whether a last line that nothing ends may have lost digits."""
    digits = [len(line.rpartition(".")[2].rstrip()) for line in lines if _TOUCH.search(line)]
    return _TOUCH.search(lines[-1]) is not None and digits[-1] < max(digits[:-1], default=LARGE)


def _value(words: str) -> float | None:
    """Return a printed number, None for one that was torn or is none."""
    found = _VALUE.fullmatch(words)
    value = float(found[1]) if found is not None else math.inf
    return value if math.isfinite(value) else None

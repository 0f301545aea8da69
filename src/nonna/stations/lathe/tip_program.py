"""Programs that set tips on the arm, in every dialect: confirmed before and after, back along the way that was free."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from secrets import token_hex

from nonna.errors import NonnaError
from nonna.procedures.shown import as_shown, real_per_shown
from nonna.programs.dialects.listing import USUAL, stopping
from nonna.programs.language.dialect import Dialect
from nonna.programs.language.phrases import filled
from nonna.programs.language.tables import clear_of_tables
from nonna.programs.language.tool_calls import USUAL as USUAL_CALL
from nonna.programs.writing.printed import sheet_line
from nonna.programs.writing.printing import Printing
from nonna.programs.writing.rendering import render
from nonna.programs.writing.results import LeftIn
from nonna.programs.writing.units import Unit, unit_of
from nonna.shop.cards.machine import ArmSpec, Machine, Tool
from nonna.shop.texts.given import Plain
from nonna.stations.lathe.loop import LOOP
from nonna.stations.lathe.ways import WAYS

TEMPLATE = Path(__file__).with_name("tips.j2")
STAND_OFF_MM, PAST_MM = 4.0, 3.0  #: before a face, diagonal; behind it, to where a search gives up
FAR_MM = 40.0  #: from the stylus, where Z comes in for a bar
NEAR_MM = 25.0  #: from the stand-off: no rapid moves beyond that
FAST_MM_MIN, SLOW_MM_MIN, GUARDED_MM_MIN = 200.0, 20.0, 500.0
EARLY_MM = 0.05  #: short of where a guarded move should end: something was touched
FIRST_RESULT, MOST_RESULTS, SCRATCH = 100, 900, (91, 93)  #: parameters, where the card names no others
_LENGTHS = ("to", "feed", "expected", "within")
LEAST_MM, MOST_MM = 0.003, 0.5  #: what an insert's wear or break is told by
SLIPS = (
    (25.4, "in inches"), (1.0 / 25.4, "in millimetres for inches"), (0.1, "with the point one place on"),
    (10.0, "with the point one place back"), (0.001, "in micrometres"),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class TipProgram:
    """A program and where it leaves what it measured."""

    text: str
    spots: tuple[LeftIn, ...]


def sheet_of_tips() -> str:
    """Return the sheet that a tip's touches go to."""
    return LOOP.each.procedure if LOOP.each is not None else ""


def tip_check(machine: Machine, tool: Tool, tolerance_mm: float) -> TipProgram:
    """Write a piece for a part program that stops it where a tip is further from its table than a tolerance (real mm).

    It goes before or after a line of a program in a dialect that can stop by itself. Raises: NonnaError as
    `tip_program`, or for a tolerance that no insert has.
    """
    if not LEAST_MM <= tolerance_mm <= MOST_MM:
        raise NonnaError("out-of-range", _slip(tolerance_mm), "tolerance")
    return _written(machine, [tool], dialect=stopping(), check=tolerance_mm)


def _slip(tolerance: float) -> str:
    """Say that a tolerance cannot be, and what slip would explain it."""
    said = f"A tip is not checked to within {tolerance:g} mm: {LEAST_MM:g} to {MOST_MM:g} mm."
    for factor, words in SLIPS:
        if LEAST_MM <= tolerance * factor <= MOST_MM:
            return f"{said} Was it typed {words}, {tolerance * factor:.4g} mm?"
    return said


def tip_program(machine: Machine, tools: Sequence[Tool], *, dialect: Dialect = USUAL, rounds: int = 1) -> TipProgram:
    """Write the program that touches each tip on the faces its edges look at, the arm swung in and out between rounds.

    Near the arm nothing moves at rapid; where the dialect has a skip move each approach is one, so that a tip that
    reaches further than its table says stops there. Results are machine coordinates whatever work offset is active.
    Raises: NonnaError (the machine has no arm on file; a tip's way or offsets are not known, or it cannot get there).
    """
    return _written(machine, tools, dialect=dialect, rounds=rounds)


def _written(
    machine: Machine, tools: Sequence[Tool], *, dialect: Dialect, rounds: int = 1, check: float | None = None
) -> TipProgram:
    if machine.lathe is None or machine.lathe.arm is None:
        raise NonnaError("missing-field", "{name} has no arm on file.", "machine.lathe.arm", name=machine.name)
    arm, results, unit = machine.lathe.arm, list[LeftIn](), unit_of(machine.control)
    printing = Printing.of(machine.control if check is None else None, token_hex(4).upper())
    call = (machine.control.tool_call if machine.control is not None else None) or USUAL_CALL
    first, scratch = _parameters(machine)
    tips = []
    for tool in tools:
        way = replace(_Way.of(machine, arm, tool), first=first)
        each = [[_in_units(m, unit, printing, tool) for m in way.moves(results, check)] for _ in range(rounds)]
        tips.append({
            "number": tool.number, "words": WAYS[tool.edge].words.upper(), "rounds": each,
            "call": filled(call, tool=tool.number, offset=tool.number),
        })  # fmt: skip
    clear_of_tables(machine.control, first, len(results), machine.name)
    if len(results) > _most(machine):
        words = "{count} touches are more than one program keeps: mark fewer tips, or ask for fewer touches each."
        raise NonnaError("out-of-range", words, "tools", count=len(results))
    guard = "NEAR THE ARM ONLY AT FEED" + (
        ", EACH APPROACH STOPS AT A TOUCH" if dialect.skips else ": STAND BY, IT WOULD NOT STOP"
    )
    context = {
        "title": f"TIPS OF {len(tips)} TOOLS ON THE ARM" if check is None else "CHECK OF A TIP FOR BREAK OR WEAR",
        "branching": dialect.skips, "tips": tips, "check": check is not None, "piece": check is not None,
        "notes": [
            f"X IS SHOWN AS A {machine.x_shows.upper()}", guard,
            "FIRST RUN WITH RAPID TURNED DOWN, DOORS SHUT, A FINGER ON FEED HOLD",
            *(sheet_line(tool.number, sheet_of_tips(), "tip", {}) for tool in tools if printing.works),
            *((f"LEAVES {unit.word} G90 G94: SET YOUR OWN MODES AGAIN BEHIND IT",) if check is not None else ()),
        ],
        "modes": f"{unit.word} G90 G94", "home_x": unit.of(machine.travel_mm.x[1]),
        "home_z": unit.of(machine.travel_mm.z[1]), "form": unit.place, "near": unit.near,
        "print_end": printing.end() if printing.count else "",
        "out_m": arm.out_m, "in_m": arm.in_m, "search": dialect.search_word, "guarded": unit.of(GUARDED_MM_MIN),
        "early": unit.of(EARLY_MM), "offset": {"X": scratch[0], "Z": scratch[1]},
        "trip": {"X": dialect.trigger_at, "Z": dialect.trigger_at + 2},
    }  # fmt: skip
    (text,) = render({"tips": TEMPLATE.read_text("utf-8")}, "tips", [context])
    return TipProgram("\n".join(line for line in text.splitlines() if line.strip()) + "\n", tuple(results))


def _parameters(machine: Machine) -> tuple[int, tuple[int, int]]:
    """Return the first parameter for results, and two to work with, as the card says or ours.

    Raises: NonnaError (the card leaves fewer than two to work with).
    """
    ranges = machine.control.parameters if machine.control is not None else None
    first = ranges.results[0] if ranges is not None and ranges.results is not None else FIRST_RESULT
    if ranges is None or ranges.scratch is None:
        return first, SCRATCH
    if ranges.scratch[1] <= ranges.scratch[0]:
        words = "Two parameters are needed to work with; the card of {name} has one."
        raise NonnaError("out-of-range", words, "machine.control.parameters.scratch", name=machine.name)
    return first, (ranges.scratch[0], ranges.scratch[0] + 1)


def _most(machine: Machine) -> int:
    """Return how many results a program may keep."""
    ranges = machine.control.parameters if machine.control is not None else None
    span = ranges.results if ranges is not None else None
    return span[1] - span[0] + 1 if span is not None else MOST_RESULTS


def _in_units(move: dict[str, Plain], unit: Unit, printing: Printing, tool: Tool) -> dict[str, Plain]:
    """Return a move in the control's units, with the line that prints what it finds."""
    made = {name: unit.of(value) if name in _LENGTHS and isinstance(value, float) else value
            for name, value in move.items()}  # fmt: skip
    result, axis = move.get("result"), str(move["axis"]).lower()
    prints = printing.works and isinstance(result, int) and result > 0
    return {**made, "print": printing.value(tool.number, "tip", axis, int(str(result))) if prints else ""}


@dataclass(slots=True)
class _Way:
    """The way of one tip round the arm; places are real, moves as the machine shows them."""

    machine: Machine
    arm: ArmSpec
    tool: Tool
    first: int = FIRST_RESULT  #: parameter for results
    _at: dict[str, float] = field(default_factory=dict)  #: where the tip is, as far as a guarded move has to know

    @classmethod
    def of(cls, machine: Machine, arm: ArmSpec, tool: Tool) -> _Way:
        """Return it. Raises: NonnaError (a program may not go there with this tip)."""
        if tool.edge not in WAYS:
            words = "T{number}: say first which way it cuts (E edits the tool)."
            raise NonnaError("missing-field", words, "tools.edge", number=tool.number)
        way = WAYS[tool.edge]
        if way.from_inside and way.behind:
            words = "T{number}: a bar cannot come to the chuck's side of the arm. Touch it by hand."
            raise NonnaError("out-of-range", words, "tools.edge", number=tool.number)
        if way.turns:
            words = (
                "T{number} turns in its holder: a tooth is turned to the face by hand. Touch it on its sheet (F3, H)."
            )
            raise NonnaError("out-of-range", words, "tools.edge", number=tool.number)
        if tool.offset_x_mm is None or tool.offset_z_mm is None:
            words = (
                "T{number}: about its offsets have to be known before a program may go near the arm with it (E "
                "edits the tool)."
            )
            raise NonnaError("missing-field", words, "tools.offset_x_mm", number=tool.number)
        return cls(machine, arm, tool)

    def moves(self, results: list[LeftIn], check: float | None) -> Iterator[dict[str, Plain]]:
        """Yield the moves of one round, from home and back there; where what is touched lies goes into ``results``."""
        arm, half = self.arm, self.arm.width_mm / 2.0
        middle = {"x": arm.x_mm, "z": arm.z_mm}
        way = WAYS[self.tool.edge]
        under = way.from_inside
        corner = {
            "x": arm.x_mm + (-1 if under else 1) * (half + STAND_OFF_MM),
            "z": arm.z_mm + (-1 if way.behind else 1) * (half + STAND_OFF_MM),
        }
        self._at = {}
        if under:  # bars come in along the axis, from the tailstock's side
            yield self._move("rapid", "z", arm.z_mm + half + FAR_MM)
            yield self._move("rapid", "x", corner["x"])
            yield from self._guarded("z", corner["z"])
        else:
            yield self._move("rapid", "z", corner["z"])
            home = (self.machine.travel_mm.x[1] + (self.tool.offset_x_mm or 0.0)) * self._factor("x")
            if home > corner["x"] + NEAR_MM:
                yield self._move("rapid", "x", corner["x"] + NEAR_MM)
            yield from self._guarded("x", corner["x"])
        for face in way.faces:
            axis = face[1]
            other = "z" if axis == "x" else "x"
            sign = 1 if face[0] == "+" else -1
            stand, past = (middle[axis] + sign * (half + off) for off in (STAND_OFF_MM, -PAST_MM))
            yield from self._guarded(other, middle[other])
            yield self._move("search", axis, past, feed=FAST_MM_MIN, result=0)
            yield self._move("feed", axis, stand)
            result = self.first + len(results)
            name = f"T{self.tool.number} {face}"
            results.append(LeftIn(self.tool.number, axis, result, 1, name, unit_of(self.machine.control).mm))
            yield self._move("search", axis, past, feed=SLOW_MM_MIN, result=result, name=self._name(axis, face),
                             expected=self._shown(axis, middle[axis] + sign * half),
                             within=(check or 0.0) / self._factor(axis))  # fmt: skip
            yield self._move("feed", axis, stand)
            yield self._move("feed", other, corner[other])
        if under:
            yield self._move("rapid", "z", arm.z_mm + half + FAR_MM)
        yield {"way": "rapid", "axis": "X", "to": self.machine.travel_mm.x[1]}
        yield {"way": "rapid", "axis": "Z", "to": self.machine.travel_mm.z[1]}

    def _guarded(self, axis: str, real: float) -> Iterator[dict[str, Plain]]:
        """Yield an approach that stops at a touch, none where the tip is there already."""
        if abs(self._at.get(axis, float("inf")) - real) > 1e-9:
            yield self._move("guarded", axis, real)

    def _move(self, way: str, axis: str, real: float, **more: Plain) -> dict[str, Plain]:
        self._at[axis] = real
        return {"way": way, "axis": axis.upper(), "to": self._shown(axis, real), **more}

    def _shown(self, axis: str, real: float) -> float:
        offset = self.tool.offset_x_mm if axis == "x" else self.tool.offset_z_mm
        return real / self._factor(axis) - (offset or 0.0)

    def _factor(self, axis: str) -> float:
        return real_per_shown(axis, self.machine.x_shows)

    def _name(self, axis: str, face: str) -> str:
        return f"{as_shown(axis, self.machine.x_shows)} ON {face}".replace("⌀", "DIAMETER").upper()

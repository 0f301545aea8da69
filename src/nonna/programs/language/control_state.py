"""The modes of a machine as a program has set them, and the places it counts in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import NamedTuple

from nonna.programs.language.canned import Cycle
from nonna.programs.language.drive import Position
from nonna.programs.language.shifts import AXIS_OFFSETS
from nonna.programs.language.tables import ControlTables
from nonna.programs.language.tool_calls import ToolCalls

ACTIVE = 5220  #: the work offset that is active, 1 to 9


class SkipMove(NamedTuple):
    """A skip move that was just made; places are machine coordinates."""

    line: int
    began: Position
    target: Position
    trip: Position | None  #: where the sensor triggered, None: it did not


@dataclass(slots=True)
class ControlState:
    """The modes of the machine as the program has set them."""

    parameters: dict[int, float] = field(default_factory=lambda: {ACTIVE: 1.0})
    scale: float = 1.0  #: millimetres a program unit
    unit_factor: float = 1.0
    home_unit: float = 1.0  #: millimetres a unit of the control, as a program begins
    skip: int = 0
    missed: list[int] = field(default_factory=list)  #: lines of skip moves that never triggered and should have
    unguarded: list[int] = field(default_factory=list)  #: lines of skip moves whose other outcome nothing catches
    caught: list[int] = field(
        default_factory=list
    )  #: lines of approaches that touched something: the program stopped there
    skipped: SkipMove | None = None  #: the last block's, where it was one
    absolute: bool = True
    motion: float = 80.0
    feed: float = 0.0  #: mm a minute
    rpm: float = 0.0
    turning: int = 0
    tool_wanted: int = 0
    tool: int = 0
    length_offset: float = 0.0
    compensated: int = 0  #: the tool whose length is taken off, 0 for none
    uses_length: bool = False  #: whether the program takes lengths off anywhere
    uncompensated: int = 0  #: first line that goes to a height without the length of the tool in the spindle
    plane: float = 17.0
    cycle: Cycle = field(default_factory=Cycle)
    frame: Position | None = None  #: work offset with the length offset, kept from one plain move to the next
    calls: ToolCalls = field(default_factory=ToolCalls)
    tables: ControlTables | None = None  #: of a control that has any of its own
    printed: list[str] = field(default_factory=list)  #: lines that left the control
    overrides: bool = True  #: whether the hand may turn feed and speed down (M48)
    ended: bool = False

    def begin(self, unit_factor: float, skip: int) -> None:
        """Be as a program finds it; see `interpreter.run`."""
        self.unit_factor, self.scale, self.skip = unit_factor, self.home_unit * unit_factor, skip

    def use(self, tables: ControlTables, parameters: Mapping[int, float]) -> None:
        """Be the state of a control with its tables, and with what stands in its parameters."""
        self.tables, self.home_unit = tables, tables.unit_mm
        self.parameters.update(tables.parameters())
        self.parameters.update(parameters)

    @property
    def origin(self) -> Position:
        """Work offset of the active coordinate system, mm."""
        p, scale = self.parameters, self.scale
        base = 5201 + 20 * int(p[ACTIVE])
        x, y, z = p.get(base, 0.0), p.get(base + 1, 0.0), p.get(base + 2, 0.0)
        if AXIS_OFFSETS in p or AXIS_OFFSETS + 1 in p or AXIS_OFFSETS + 2 in p:
            x, y, z = (v + p.get(AXIS_OFFSETS + i, 0.0) for i, v in enumerate((x, y, z)))
        return (x * scale, y * scale, z * scale)

    def copied(self) -> ControlState:
        """Return the same modes, to go on from another way."""
        cycle = replace(self.cycle, words=dict(self.cycle.words))
        return replace(
            self, parameters=dict(self.parameters), missed=[], unguarded=[], caught=[], skipped=None, cycle=cycle,
            tables=self.tables.copied() if self.tables is not None else None, printed=[],
        )  # fmt: skip

    def counted(self, at: Position) -> Position:
        """Return a machine place in the program's own coordinates and units."""
        (x, y, z), scale = self.origin, self.scale
        return (at[0] - x) / scale, (at[1] - y) / scale, (at[2] - z - self.length_offset) / scale

    def store_trip(self, at: Position, first: int) -> None:
        """Leave a trigger's place in three parameters, in the program's own coordinates and units."""
        self.frame = None
        for i, value in enumerate(self.counted(at)):
            self.parameters[first + i] = value

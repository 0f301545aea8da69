"""A tips' program run on the stand-in lathe: exactly its text, and what its arm really finds."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.random import Generator

from nonna.errors import NonnaError
from nonna.metrology.shapes.boxes import Box
from nonna.programs.language.blocks import Block, parse
from nonna.programs.language.card_phrases import phrases_of
from nonna.programs.language.dialect import Dialect
from nonna.programs.language.drive import Position, Trip
from nonna.programs.language.errors import ProgramError
from nonna.programs.language.guarding import run_guarded
from nonna.programs.language.tool_calls import calls_of
from nonna.programs.writing.results import LeftIn
from nonna.shop.cards.machine import LatheSpec, Machine, Tool, Tools
from nonna.standin.rehearsal import state_for
from nonna.standin.wishes import MachineStoppedError, Watch
from nonna.standin.world import World
from nonna.stations.lathe.standin import RESOLUTION_MM, LatheTruth, tip_offsets
from nonna.stations.lathe.turret import Lathe

Readings = Mapping[int, Sequence[Mapping[str, float | str]]]  #: by tool, as its sheet takes them
NOT_TRIGGERED = (
    "the arm was not triggered. In this order: does it cut the way its table says, is the arm out, is the insert "
    "there and whole, "
    "are its offsets about right? Back it off by hand, arm in, then look."
)


class TrueLathe(Lathe):
    """The lathe as it really is: tips with their true offsets, an arm that never seats quite the same."""

    def __init__(self, machine: Machine, spec: LatheSpec, tools: Tools, world: World, dice: Generator) -> None:
        super().__init__(machine, spec, tools)
        self._truth, self._world, self._dice = LatheTruth.of(world.seed), world, dice
        self._seat = {"x": 0.0, "z": 0.0}

    def auxiliary(self, word: int, line: int) -> bool:
        """Swing the arm; out, it comes to rest a little elsewhere each time."""
        known = super().auxiliary(word, line)
        if known and self.arm_out:
            self._seat = {axis: float(self._dice.normal(0.0, self._truth.seating)) for axis in "xz"}
        return known

    def probe(self, target: Position, feed_mm_min: float, line: int) -> Trip | None:
        """Move until the arm triggers; what it then shows scatters, and has so many digits."""
        moved = next((i for i in (0, 2) if abs(target[i] - self.position[i]) > 1e-9), 0)
        trip = super().probe(target, feed_mm_min, line)
        if trip is None:
            return None
        shown = list(trip.at)
        real = float(self._dice.normal(0.0, self._truth.touch))
        shown[moved] += real / (self._factor if moved == 0 else 1.0)
        shown[moved] = round(round(shown[moved] / RESOLUTION_MM) * RESOLUTION_MM, 6)
        return Trip((shown[0], shown[1], shown[2]), trip.stopped)

    def _tip(self, at: Position) -> Position:
        tool = self._tools.get(self.tool)
        if tool is None:
            return super()._tip(at)
        own = tip_offsets(tool, self._truth, self._world)
        return (at[0] * self._factor + own["x"], at[1], at[2] + own["z"])

    def _stylus(self) -> Box:
        planes, seat = self._truth.planes, self._seat
        low, high = ((planes[f"{sign}x"] + seat["x"], planes[f"{sign}z"] + seat["z"]) for sign in "-+")
        half = self._spec.arm.width_mm / 2.0 if self._spec.arm is not None else 0.0
        return Box((low[0], -half, low[1]), (high[0], half, high[1]))


def run_tips(
    text: str, spots: Sequence[LeftIn], machine: Machine, tools: Sequence[Tool], world: World,
    number: int,
    *, dialect: Dialect, watch: Watch | None = None,
) -> tuple[Readings, dict[int, str]]:  # fmt: skip
    """Run a tips' program on the stand-in: each tip's readings, by the parameters it left them in, and what stopped it.

    Parameters: spots, where the program leaves what it touched; number, of the run.
    Returns: readings of the tips that were touched on all their faces; by tool why it stopped there, at one at most.
    Raises: NonnaError (nothing stands in the lathe's file); whatever ``watch`` raises.
    """
    if machine.lathe is None:
        raise NonnaError("missing-field", "Nothing stands in this lathe.", "machine.lathe")
    whole = Tools(format="nonna-tools/1", tools=list(tools))
    lathe = TrueLathe(machine, machine.lathe, whole, world, np.random.default_rng([world.seed, number, 55]))
    blocks = parse(text, jumps=dialect.jumps, phrases=phrases_of(machine.control))

    def progress(block: Block) -> None:
        if lathe.problems:
            raise MachineStoppedError(lathe.problems[0])
        if watch is not None:
            watch(block.line, len(blocks), lathe.clock_s)

    state, stopped = state_for(blocks, calls_of(machine.control, turret=True), machine), dict[int, str]()
    state.uses_length = False
    skip = dialect.skip_at
    try:
        run_guarded(blocks, lathe, progress, skip=skip, state=state, lifts=False)
        if lathe.problems:
            raise MachineStoppedError(lathe.problems[0])
        if state.missed:
            raise ProgramError("no-trigger", NOT_TRIGGERED, state.missed[0])
    except ProgramError as error:
        stopped[lathe.tool] = NOT_TRIGGERED if error.code == "no-trigger" else error.message
    except MachineStoppedError as error:
        stopped[lathe.tool] = error.message
    found: dict[int, list[dict[str, float | str]]] = {}
    for spot in spots:
        if spot.first in state.parameters:
            value = round(state.parameters[spot.first] * spot.unit_mm, 6)
            found.setdefault(spot.tool, []).append({"axis": spot.axis, "position_mm": value})
    return {tool: rows for tool, rows in found.items() if tool not in stopped}, stopped

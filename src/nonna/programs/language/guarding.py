"""Skip moves judged by both of their outcomes: what the program would do had the sensor triggered, and had it not.

A search is guarded where a miss stops the program, an approach where a touch does; on the way to that stop nothing may
move but away, back along the way that was free.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Literal

from nonna.programs.language.blocks import Block
from nonna.programs.language.control_state import ControlState, SkipMove
from nonna.programs.language.drive import Drive, Position, Trip
from nonna.programs.language.errors import ProgramError
from nonna.programs.language.interpreter import Labels, Progress, go_on, labels_of

FIRST = 0.02  #: an early touch is tried after this share of the way, half of it,
NEAR_END_MM = 0.3  #: ... and so far before its end
STRAIGHT = 1e-6  #: of a move's length it may stray from the way back
MOST_BLOCKS = 10_000  #: looked at behind a move; a program that neither stops nor moves by then goes on

Outcome = Literal["pauses", "ends", "goes-on"]


class _DecidedError(Exception):
    """What comes behind a move is known."""

    def __init__(self, outcome: Outcome) -> None:
        super().__init__(outcome)
        self.outcome = outcome


@dataclass(slots=True)
class _Ghost:
    """A machine without metal, for a way that is only thought of; it ends at the first thing that decides."""

    position: Position
    back: Position  #: which way leads back from the move before it
    lifts: bool  #: whether straight up is a free way, too
    away_line: int = 0  #: where something moved that did not go away
    backed: bool = False  #: whether it went away first
    patient: bool = False  #: whether it looks beyond a pause, at what comes when the person goes on
    lines: list[int] = field(default_factory=list)

    @property
    def clock_s(self) -> float:
        return 0.0

    def move(self, target: Position, feed_mm_min: float | None, line: int) -> None:
        """Follow a move away; any other is going on."""
        way = [b - a for a, b in zip(self.position, target, strict=True)]
        size = max(abs(each) for each in way)
        if size == 0.0:
            return
        up = self.lifts and way[2] > 0.0 and max(abs(way[0]), abs(way[1])) <= STRAIGHT * size
        along = sum(a * b for a, b in zip(way, self.back, strict=True))
        off = max(abs(w - along * b) for w, b in zip(way, self.back, strict=True))
        if not up and not (along > 0.0 and off <= STRAIGHT * size):
            self.away_line = line
            raise _DecidedError("goes-on")
        self.position, self.backed = target, True

    def probe(self, target: Position, feed_mm_min: float, line: int) -> Trip | None:
        """Another search is going on."""
        raise _DecidedError("goes-on")

    def change_tool(self, number: int, line: int) -> None:
        """Another tool is going on."""
        raise _DecidedError("goes-on")

    def dwell(self, seconds: float, line: int) -> None:
        """Wait."""

    def spindle(self, direction: int, rpm: float, line: int) -> None:
        """Turn the spindle or stop it."""

    def orient(self, degrees: float, line: int) -> None:
        """Turn the spindle to an angle."""

    def pause(self, line: int) -> None:
        """Wait for a person; a patient one goes on."""
        if not self.patient:
            raise _DecidedError("pauses")

    def end(self, line: int) -> None:
        """Come to an end."""
        raise _DecidedError("ends")

    def auxiliary(self, word: int, line: int) -> bool:
        """Carry out whatever the real one would."""
        return True

    def tool_length(self, number: int, line: int) -> float:
        """Return what the real one holds."""
        return 0.0


@dataclass(frozen=True, slots=True)
class _Way:
    """What would come behind a move with one outcome."""

    outcome: Outcome
    then: Outcome  #: what it comes to in the end, where a person goes on at each pause
    lines: tuple[int, ...]
    keeps: bool  #: whether a parameter was set: a result is kept
    moved: int  #: line of a move that was not away, 0 for none
    backs_off: bool  #: whether it went back first, as one does behind a search

    def stops(self, other: _Way) -> bool:
        """Whether it comes to a stop that the other outcome does not come to."""
        if self.outcome == "pauses":  # of two that pause, the one that goes on is no alarm
            return other.outcome != "pauses" or (self.lines != other.lines and self.then == "ends")
        return self.outcome == "ends" and not self.keeps and self.lines != other.lines


def run_guarded(
    blocks: Iterable[Block], drive: Drive, progress: Progress | None = None, unit_factor: float = 1.0, skip: int = 0,
    state: ControlState | None = None, *, slashed: bool = False, lifts: bool = True,
) -> ControlState:  # fmt: skip
    """Run a program as `interpreter.run` does, each skip move judged by both of its outcomes.

    ``missed`` of the state then holds the lines of searches that found nothing, ``unguarded`` of those whose miss the
    program would not notice, ``caught`` of approaches that something stopped. ``lifts``: straight up is a free way, as
    on a mill. Raises: as `interpreter.run`.
    """
    state = ControlState() if state is None else state
    state.begin(unit_factor, skip)
    rows = list(blocks)

    def judge(rows: Sequence[Block], at: int, labels: Labels, now: ControlState, move: SkipMove) -> None:
        _judge(rows, at, labels, now, move, drive, slashed=slashed, lifts=lifts)

    go_on(rows, 0, labels_of(rows), drive, state, progress, slashed=slashed, on_skip=judge)
    return state


def _judge(
    rows: Sequence[Block], at: int, labels: Labels, state: ControlState, move: SkipMove, drive: Drive,
    *, slashed: bool, lifts: bool,
) -> None:  # fmt: skip
    def way(found: Position, stands: Position) -> _Way:
        return _follow(rows, at, labels, state, move, found, stands, slashed=slashed, lifts=lifts)

    missed = way(move.target, move.target)
    if move.trip is not None:
        touched = way(move.trip, drive.position)
        if missed.stops(touched):
            return
        if touched.stops(missed) and not missed.backs_off:
            state.caught.append(move.line)  # an approach that was not to touch anything
        else:
            state.unguarded.append(missed.moved or move.line)
        return
    early = [way(place, place) for place in _early(move)]
    if missed.outcome == "pauses" or not early or not all(each.stops(missed) for each in early):
        state.missed.append(move.line)


def _early(move: SkipMove) -> list[Position]:
    """Return places on the way where something could be touched that should not be there."""
    way = [b - a for a, b in zip(move.began, move.target, strict=True)]
    long = sum(each * each for each in way) ** 0.5
    shares = [FIRST, 0.5, *([1.0 - NEAR_END_MM / long] if long > 2.0 * NEAR_END_MM else [])]
    return [
        (move.began[0] + way[0] * s, move.began[1] + way[1] * s, move.began[2] + way[2] * s) for s in shares if long
    ]


def _follow(
    rows: Sequence[Block], at: int, labels: Labels, state: ControlState, move: SkipMove,
    found: Position, stands: Position, *, slashed: bool, lifts: bool,
) -> _Way:  # fmt: skip
    """Follow the program from behind a move, until it is plain what it does.

    Parameters: found, the place its parameters tell of; stands, where the machine then is.
    """
    way = [a - b for a, b in zip(move.began, move.target, strict=True)]
    long = sum(each * each for each in way) ** 0.5 or 1.0
    back = (way[0] / long, way[1] / long, way[2] / long)

    def followed(ghost: _Ghost) -> tuple[Outcome, bool]:
        """Return what it comes to, and whether a result is kept."""
        fork = state.copied()
        fork.store_trip(found, fork.skip)
        keeps = False

        def watch(block: Block) -> None:
            nonlocal keeps
            ghost.lines.append(block.line)
            keeps = keeps or bool(block.settings)
            if len(ghost.lines) > MOST_BLOCKS:
                raise _DecidedError("goes-on")

        try:
            go_on(rows, at, labels, ghost, fork, watch, slashed=slashed)
        except _DecidedError as decided:
            return decided.outcome, keeps
        except ProgramError:
            return "goes-on", keeps  # it cannot be read on: nothing stops it in time
        return "goes-on", keeps  # the text runs out

    ghost = _Ghost(stands, back, lifts)
    outcome, keeps = followed(ghost)
    then = followed(_Ghost(stands, back, lifts, patient=True))[0] if outcome == "pauses" else outcome
    return _Way(outcome, then, tuple(ghost.lines), keeps, ghost.away_line, ghost.backed)

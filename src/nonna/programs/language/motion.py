"""Blocks that move: straight, round, drilling, searching, home (NIST IR 6556, 3.5)."""

from __future__ import annotations

import math

from nonna.programs.language.arcs import arc
from nonna.programs.language.blocks import Block
from nonna.programs.language.canned import CYCLES, Frame, drill
from nonna.programs.language.control_state import ControlState, SkipMove
from nonna.programs.language.drive import Drive, Position
from nonna.programs.language.errors import ProgramError
from nonna.programs.language.grammar import ARCS, MOTION, PROBE, SKIP

TRIP = 5061  #: X of a straight probe's position, Y and Z behind it
LEAST_SEARCH_MM = 0.254  #: of a straight probe (NIST IR 6556, 3.5.9)
STRAIGHT = frozenset((0.0, 1.0))
AXES = frozenset("xyz")
ROUND = AXES | {"i", "j", "r"}


def move(codes: set[float], values: dict[str, float], state: ControlState, drive: Drive, block: Block) -> None:
    """Carry out what a block moves, by the mode that holds or by the code that changes it. Raises: ProgramError."""
    if codes:
        for code in codes & MOTION:
            if code != state.motion:
                state.cycle.leave()
            state.motion = code
    if state.motion in ARCS and (codes & ARCS or values.keys() & ROUND):
        if 53.0 in codes:
            raise ProgramError("syntax", "G53 goes with G0 or G1 in G90 only", block.line)
        _round(values, state, drive, block)
        return
    if not ("x" in values or "y" in values or "z" in values):
        if PROBE in codes or codes & CYCLES:
            raise ProgramError("syntax", "G{motion:g} without an axis", block.line, motion=state.motion)
        return
    axes = values
    if state.motion in CYCLES:
        _cycle(values, state, drive, block)
        return
    if state.motion == 80.0:
        raise ProgramError("syntax", "axis words without a motion", block.line)
    if 53.0 in codes and (state.motion in (SKIP, PROBE) or not state.absolute):
        raise ProgramError("syntax", "G53 goes with G0 or G1 in G90 only", block.line)
    if state.motion in STRAIGHT and "z" in axes and state.absolute and 53.0 not in codes:
        _compensation(state, block.line)
    target = _target(axes, 53.0 in codes, state, drive)
    if state.motion == 0.0:
        drive.move(target, None, block.line)
        return
    if state.feed <= 0.0:
        raise ProgramError("syntax", "no feed was set", block.line)
    if state.motion == 1.0:
        drive.move(target, state.feed, block.line)
        return
    here = drive.position
    if state.motion == PROBE and 0.0 < math.dist(here, target) < LEAST_SEARCH_MM:
        raise ProgramError("syntax", "a search is {least:g} mm long at least", block.line, least=LEAST_SEARCH_MM)
    trip = drive.probe(target, state.feed, block.line)
    if state.motion == SKIP:
        state.skipped = SkipMove(block.line, here, target, trip.at if trip else None)
        state.store_trip(trip.at if trip else drive.position, state.skip)
        return
    if trip is None:
        raise ProgramError("no-trigger", "the sensor never triggered on this move", block.line)
    state.store_trip(trip.at, TRIP)


def _round(values: dict[str, float], state: ControlState, drive: Drive, block: Block) -> None:
    """Follow an arc."""
    if state.plane != 17.0:
        raise ProgramError("unsupported", "arcs are followed in the XY plane (G17) alone", block.line)
    if state.feed <= 0.0:
        raise ProgramError("syntax", "no feed was set", block.line)
    if "z" in values and state.absolute:
        _compensation(state, block.line)
    end = _target(values, False, state, drive)
    for place in arc(drive.position, end, values, state.scale, state.motion == 2.0, block.line):
        drive.move(place, state.feed, block.line)


def _cycle(values: dict[str, float], state: ControlState, drive: Drive, block: Block) -> None:
    """Carry out one block of a drilling cycle."""
    if state.plane != 17.0:
        raise ProgramError("unsupported", "drilling cycles are followed in the XY plane (G17) alone", block.line)
    if state.feed <= 0.0:
        raise ProgramError("syntax", "no feed was set", block.line)
    if state.absolute:
        _compensation(state, block.line)
    x, y, z = state.origin
    frame = Frame(
        (x, y, z + state.length_offset), state.scale, state.absolute, state.feed, state.turning, state.rpm
    )  # fmt: skip
    drill(state.motion, values, state.cycle, frame, drive, block.line)


def go_home(first: int, values: dict[str, float], state: ControlState, drive: Drive, block: Block) -> None:
    """Go home by way of the place programmed: all axes, at rapid (NIST IR 6556, 3.5.8)."""
    if values.keys() & AXES:
        drive.move(_target(values, False, state, drive), None, block.line)
    x, y, z = (state.parameters.get(first + i, 0.0) * state.scale for i in range(3))
    drive.move((x, y, z), None, block.line)


def _compensation(state: ControlState, line: int) -> None:
    """Note a height gone to without the length of what is in the spindle, where the program counts with lengths or
    cuts.
    """
    if state.compensated != state.tool and not state.uncompensated and (state.uses_length or state.turning > 0):
        state.uncompensated = line


def straight(code: float, values: dict[str, float], state: ControlState, drive: Drive, block: Block) -> None:
    """Move straight, at rapid or at feed."""
    if code != state.motion:
        state.cycle.leave()
        state.motion = code
    if code == 1.0 and state.feed <= 0.0:
        raise ProgramError("syntax", "no feed was set", block.line)
    if state.absolute:
        if state.frame is None:
            x, y, z = state.origin
            state.frame = (x, y, z + state.length_offset)
        if "z" in values and state.compensated != state.tool:
            _compensation(state, block.line)
        here, scale, frame = drive.position, state.scale, state.frame
        target = (
            values["x"] * scale + frame[0] if "x" in values else here[0],
            values["y"] * scale + frame[1] if "y" in values else here[1],
            values["z"] * scale + frame[2] if "z" in values else here[2],
        )
    else:
        target = _target(values, False, state, drive)
    drive.move(target, None if code == 0.0 else state.feed, block.line)


def _target(axes: dict[str, float], machine: bool, state: ControlState, drive: Drive) -> Position:
    here, scale = drive.position, state.scale
    if not state.absolute:
        x, y, z = (here[i] + axes.get(axis, 0.0) * scale for i, axis in enumerate("xyz"))
        return (x, y, z)
    shift = (0.0, 0.0, 0.0) if machine else state.origin
    extra = 0.0 if machine else state.length_offset
    return (
        axes["x"] * scale + shift[0] if "x" in axes else here[0],
        axes["y"] * scale + shift[1] if "y" in axes else here[1],
        axes["z"] * scale + shift[2] + extra if "z" in axes else here[2],
    )

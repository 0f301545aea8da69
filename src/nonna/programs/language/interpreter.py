"""Runs blocks on a machine: the RS-274/NGC subset that measuring programs need (NIST IR 6556)."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence

from nonna.programs.language import grammar
from nonna.programs.language.blocks import Block, Word
from nonna.programs.language.control_state import ACTIVE, ControlState, SkipMove
from nonna.programs.language.drive import Drive
from nonna.programs.language.errors import ProgramError
from nonna.programs.language.expressions import parameter_number, resolve
from nonna.programs.language.grammar import ANGLES, ENDS, HOMES, MOTION, ORIENT, PAUSES, PLAIN, WORK
from nonna.programs.language.jumps import MOST_JUMPS
from nonna.programs.language.motion import AXES, ROUND, STRAIGHT, go_home, move, straight
from nonna.programs.language.phrases import Print, Store
from nonna.programs.language.shifts import CODES, WORK_OFFSETS, shift
from nonna.wording.lengths import MM_PER_INCH

_PLANES = {17.0, 18.0, 19.0}
_M_ACCEPTED = {7, 8, 9, 48, 49}
_NO_CODES = set[float]()

Progress = Callable[[Block], None]
Labels = Mapping[int, int]  #: where each label stands; -1: more than once
OnSkip = Callable[[Sequence[Block], int, Labels, ControlState, SkipMove], None]  #: blocks, the one behind the move


def run(
    blocks: Iterable[Block],
    drive: Drive,
    progress: Progress | None = None,
    unit_factor: float = 1.0,
    skip: int = 0,
    state: ControlState | None = None,
    *,
    slashed: bool = False,
    on_skip: OnSkip | None = None,
) -> ControlState:
    """Run a program to its end and return the state it leaves, parameters included.

    ``progress`` is called before each block; what it raises stops the run. ``unit_factor`` reads every length so many
    times as long, to try whether a program was written in the other unit. ``skip`` is the parameter that takes X of a
    skip move's (G31) position, Y and Z behind it; 0: there is none. ``state`` to be worked on and looked at where the
    run was stopped. ``slashed`` runs the blocks behind a slash, too; ``on_skip`` is told each skip move. Raises:
    ProgramError (a block that cannot be run, or a touch that never came: ``no-trigger``).
    """
    state = ControlState() if state is None else state
    state.begin(unit_factor, skip)
    rows = list(blocks)
    go_on(rows, 0, labels_of(rows), drive, state, progress, slashed=slashed, on_skip=on_skip)
    return state


def labels_of(rows: Sequence[Block]) -> dict[int, int]:
    """Return where each label stands, -1 for one that stands more than once."""
    found: dict[int, int] = {}
    for i, block in enumerate(rows):
        if block.label is not None:
            found[block.label] = -1 if block.label in found else i
    return found


def go_on(
    rows: Sequence[Block],
    at: int,
    labels: Labels,
    drive: Drive,
    state: ControlState,
    progress: Progress | None = None,
    *,
    slashed: bool = False,
    on_skip: OnSkip | None = None,
) -> None:
    """Run a program on from a block, its state as it is. Raises: as `run`."""
    jumps = 0
    while at < len(rows):
        block = rows[at]
        at += 1
        if (block.deleted and not slashed) or not (block.words or block.settings or block.jump or block.phrase):
            continue
        if progress is not None:
            progress(block)
        if block.jump is not None:
            jumps += 1
            if jumps > MOST_JUMPS:
                raise ProgramError("unsupported", "it jumps for ever", block.line)
            if block.jump.taken(state.parameters):
                at = _landing(block.jump.label, labels, block.line)
            continue
        if block.phrase is not None:
            _carry_out(block.phrase, state, block.line)
            continue
        _run_block(block, state, drive)
        if state.skipped is not None:
            made, state.skipped = state.skipped, None
            if on_skip is not None:
                on_skip(rows, at, labels, state, made)
            elif made.trip is None:
                state.missed.append(made.line)
        if state.ended:
            break


def _carry_out(phrase: Store | Print, state: ControlState, line: int) -> None:
    """Store or print, as the control's card says it."""
    tables = state.tables
    if tables is None:
        raise ProgramError("unsupported", "this control has no tables here", line)
    if isinstance(phrase, Print):
        state.printed.append(phrase.said(state.parameters, tables.decimals))
        return
    state.frame = None
    tables.store(phrase, state.parameters, state.scale / tables.unit_mm, line)


def _landing(label: int, labels: Labels, line: int) -> int:
    found = labels.get(label)
    if found is None:
        raise ProgramError("syntax", "there is no block N{label} to go to", line, label=label)
    if found < 0:
        raise ProgramError("syntax", "N{label} stands twice: nobody knows where this goes on", line, label=label)
    return found


def _run_block(block: Block, state: ControlState, drive: Drive) -> None:
    values: dict[str, float] = {}
    gs: list[tuple[float, Word]] = []
    ms: list[tuple[int, Word]] = []
    for word in block.words:
        letter, raw, column = word
        value = raw if isinstance(raw, float) else resolve(raw, state.parameters)
        if letter == "g":
            gs.append((grammar.g_code(value, block.line, column), word))
        elif letter == "m":
            ms.append((grammar.whole(value, letter, block.line, column), word))
        elif letter in values:
            raise ProgramError("syntax", "{upper} stands twice", block.line, column, upper=letter.upper())
        else:
            values[letter] = value
    if not ms and not block.settings and (not gs or (len(gs) == 1 and gs[0][0] in STRAIGHT)):
        code = gs[0][0] if gs else state.motion
        if "t" in values and not state.calls.ahead:
            code = -1.0  # not a plain move
        if code in STRAIGHT and ("x" in values or "y" in values or "z" in values) and values.keys() <= PLAIN:
            if "f" in values or "s" in values or "t" in values:
                _units_and_feeds(_NO_CODES, values, state, block)
                if "s" in values and state.turning:
                    drive.spindle(state.turning, state.rpm, block.line)
            straight(code, values, state, drive, block)
            return  # a plain move, as most blocks are
    state.frame = None
    for code, word in gs:
        grammar.supported(code, block.line, word.column, skips=bool(state.skip))
    grammar.apart(gs, ms, block.line)
    codes, m_codes = {code for code, _ in gs}, {m for m, _ in ms}
    motion = next((code for code in codes if code in MOTION), state.motion)
    moves = bool(codes & MOTION or values.keys() & ROUND) and not codes & (CODES | HOMES.keys())
    grammar.used(values, codes, m_codes, motion, moves=moves, line=block.line)
    if 53.0 in codes and (motion not in STRAIGHT or not values.keys() & AXES):
        raise ProgramError("syntax", "G53 goes with G0 or G1 in G90 only", block.line)
    new = [
        (
            parameter_number(resolve(s.parameter, state.parameters), block.line, s.column),
            resolve(s.value, state.parameters),
        )
        for s in block.settings
    ]
    if any(number == ACTIVE for number, _ in new):
        raise ProgramError("unsupported", "#{active}: a work offset is chosen by its G word", block.line, active=ACTIVE)
    _units_and_feeds(codes, values, state, block)
    _spindle_and_tools(ms, values, state, drive, block)
    _modes(codes, values, state, drive, block)
    if codes & CODES:
        origin = state.origin
        extra = (0.0, 0.0, state.length_offset)
        at = [(drive.position[i] - origin[i] - extra[i]) / state.scale for i in range(3)]
        shift(codes, values, state.parameters, (at[0], at[1], at[2]), block.line)
        if 10.0 in codes and state.tables is not None:
            first = WORK_OFFSETS + 20 * (int(values["p"]) - 1)
            state.tables.noticed(
                [(first + i, values[axis]) for i, axis in enumerate("xyz") if axis in values], block.line
            )
    else:
        _one_off(codes, values, state, drive, block)
        move(codes, {} if codes & HOMES.keys() else values, state, drive, block)
    state.parameters.update(new)
    if new and state.tables is not None:
        state.tables.noticed(new, block.line)
    if m_codes & PAUSES:
        drive.pause(block.line)
    if m_codes & ENDS:
        state.ended = True
        drive.end(block.line)


def _one_off(codes: set[float], values: dict[str, float], state: ControlState, drive: Drive, block: Block) -> None:
    """Wait (G4) or go home (G28, G30)."""
    if 4.0 in codes:
        if values.get("p", -1.0) < 0.0:
            raise ProgramError("syntax", "G4 takes P, seconds that are not below 0", block.line)
        drive.dwell(values["p"], block.line)
    for code in codes & HOMES.keys():
        go_home(HOMES[code], values, state, drive, block)


def _units_and_feeds(codes: set[float], values: dict[str, float], state: ControlState, block: Block) -> None:
    if 20.0 in codes:
        state.scale = MM_PER_INCH * state.unit_factor
    if 21.0 in codes:
        state.scale = state.unit_factor
    if "f" in values:
        if values["f"] <= 0.0:
            raise ProgramError("syntax", "a feed must be above 0", block.line)
        state.feed = values["f"] * state.scale
    if "s" in values:
        if values["s"] < 0.0:
            raise ProgramError("syntax", "a speed must not be below 0", block.line)
        state.rpm = values["s"]
    if "t" in values:
        if values["t"] < 0 or values["t"] != int(values["t"]):
            raise ProgramError("syntax", "there is no tool {t:g}", block.line, t=values["t"])
        state.tool_wanted = state.calls.tool(int(values["t"]))


def _tool_by_t_alone(
    ms: list[tuple[int, Word]], values: dict[str, float], state: ControlState, drive: Drive, block: Block
) -> None:
    """A T word without M6 calls its tool, asks for it ahead, or is no call on this machine, as its card says."""
    calls, by_m6 = state.calls, any(m == 6 for m, _ in ms)
    if by_m6 and not calls.by_m6:
        raise ProgramError("unsupported", "M6: this machine calls a tool by {call}", block.line, call=calls.line)
    if "t" not in values or by_m6 or calls.ahead:
        return
    number = int(values["t"])
    if calls.by_m6:
        raise ProgramError(
            "unsupported", "T{number} alone: this machine calls a tool by {call}", block.line, number=number,
            call=calls.line
        )  # fmt: skip
    tool = calls.tool(number)
    if calls.offset(number) not in (0, tool):
        words = "the offset of T{offset} would be used for T{tool}"
        raise ProgramError("wrong-tool", words, block.line, offset=calls.offset(number), tool=tool)
    drive.change_tool(tool, block.line)
    state.tool = tool


def _spindle_and_tools(
    ms: list[tuple[int, Word]], values: dict[str, float], state: ControlState, drive: Drive, block: Block
) -> None:
    _tool_by_t_alone(ms, values, state, drive, block)
    for m, word in sorted(ms, key=lambda each: each[0] != 6):  # a tool is changed before its spindle starts
        if m == 6:
            drive.change_tool(state.tool_wanted, block.line)
            state.tool, state.turning = state.tool_wanted, 0
        elif m in (3, 4, 5):
            state.turning = {3: 1, 4: -1, 5: 0}[m]
            drive.spindle(state.turning, state.rpm if state.turning else 0.0, block.line)
        elif m == ORIENT:
            angle = next((values[letter] for letter in ANGLES if letter in values), 0.0)
            state.turning = 0
            drive.orient(angle, block.line)
        elif m in (48, 49):
            state.overrides = m == 48
        elif m not in PAUSES | ENDS | _M_ACCEPTED and not drive.auxiliary(m, block.line):
            raise ProgramError("unsupported", "M{m} is not known here", block.line, word.column, m=m)
    if "s" in values and state.turning and not any(m in (3, 4, 5, ORIENT) for m, _ in ms):
        drive.spindle(state.turning, state.rpm, block.line)


def _modes(codes: set[float], values: dict[str, float], state: ControlState, drive: Drive, block: Block) -> None:
    if 43.0 in codes:
        state.compensated = grammar.whole(values.pop("h", state.tool), "h", block.line, 1)
        state.length_offset = drive.tool_length(state.compensated, block.line)
        kept = state.tables.length_mm(state.compensated) if state.tables is not None else None
        if kept is not None:
            state.length_offset = kept * state.unit_factor
    if 49.0 in codes:
        state.length_offset, state.compensated = 0.0, 0
    for code in codes & WORK.keys():
        state.parameters[ACTIVE] = float(WORK[code])
    for code in codes & _PLANES:
        state.plane = code
    if codes & {98.0, 99.0}:
        state.cycle.clear_to_start = 98.0 in codes
    if 90.0 in codes:
        state.absolute = True
    if 91.0 in codes:
        state.absolute = False

"""What a sheet looks like at one moment: words and tones made from its state, without Qt."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from nonna.errors import NonnaError
from nonna.figures.figure import Figure
from nonna.procedures.doubt import Question
from nonna.procedures.evaluation import FLAG_WORDS, Check, Evaluation, Move, Quantity, Verdict
from nonna.procedures.session import Session, TapeRow
from nonna.procedures.sheet import Procedure
from nonna.procedures.telling import words_of
from nonna.procedures.wording import LONG_MM, doubt_words, value_words
from nonna.wording.lengths import Units, length, small

LONG_SHEET, PACE_AFTER = 5, 5  #: readings left that are worth a word, readings after which the pace is known
Tone = Literal["plain", "good", "due", "bad"]
StepState = Literal["done", "now", "later"]
TONES: dict[Verdict, Tone] = {
    Verdict.PASS: "good",
    Verdict.FAIL: "bad",
    Verdict.UNDECIDED: "due",
    Verdict.NONE: "plain",
}


@dataclass(frozen=True, slots=True)
class NumberLine:
    """A result in words."""

    title: str
    value: str
    doubt: str


@dataclass(frozen=True, slots=True)
class Tile:
    """One reading on the tape."""

    label: str
    values: tuple[str, ...]  #: one, or two over each other
    foot: str
    struck: bool


@dataclass(frozen=True, slots=True)
class SheetPicture:
    """Everything the sheet paints."""

    steps: tuple[tuple[str, StepState], ...]
    caution: tuple[str, str]
    figure: Figure
    prompt: str
    expected: str
    main: NumberLine
    lines: tuple[NumberLine, ...]
    check: Check | None
    rule: str
    tone: Tone
    headline: str
    todo: str
    advice: tuple[str, ...]
    tiles: tuple[Tile, ...]
    tape_note: str
    wanted: str  #: label of the tile that comes next, "" when all are there
    can_sign: bool
    again: bool  #: Enter begins the next pass instead of signing
    enter_does: str = ""  #: what Enter does on an empty line once all readings are there
    can_run: bool = True
    rehearsed: bool = False  #: the stand-in's readings in a real shop: nobody signs those


def picture(
    session: Session, units: Units, question: Question | None, signed: str, rehearsed: bool = False
) -> SheetPicture:
    """Work out what to show of a sheet; ``signed`` is the receipt in words once it was signed."""
    found = session.procedure
    result = session.evaluate()
    evaluation = result if isinstance(result, Evaluation) else None
    slot = session.next_slot
    live = len(session.live)
    complete = slot is None
    tone, headline, todo = _verdict(found, result, live, complete, units)
    moves = found.next_moves(session.facts, session.passes, evaluation) if evaluation else ()
    again = complete and bool(moves) and not signed
    if again:
        todo = words_of(moves[0].words, units) + _stop_at(session, moves[0], units)
    if signed:
        headline, todo = signed, "Enter goes on."
    if question is not None:
        tone, headline, todo = "due", question.words, _choices(question, units)
    advice = (
        ()
        if evaluation is None
        else tuple(FLAG_WORDS.get(f, f) for f in evaluation.flags) + _advised(session, evaluation, moves, units)
    )
    about, prompt, left = _within_reach(session), session.prompt, session.slots_left
    return SheetPicture(
        steps=_steps(session, bool(signed), again),
        caution=(found.caution.title, found.caution.words),
        figure=found.figure(session.facts, session.live, evaluation, units),
        prompt=prompt or ("Signed" if signed else "All readings taken"),
        expected=f"next about {length(about, units)}" if about is not None and slot else "",
        main=_main(session, evaluation, units),
        lines=_lines(session, evaluation, units),
        check=evaluation.checks[0] if evaluation and evaluation.checks else None,
        rule=session.rule or session.facts.rule,
        tone=tone,
        headline=_unbroken(headline),
        todo=_unbroken(todo),
        advice=tuple(map(_unbroken, advice)) if not question else (),
        tiles=_tiles(session.rows, found.model.value_fields, units),
        tape_note=_tape_note(session, left),
        wanted=slot.label if slot and not session.first else "",
        can_sign=evaluation is not None and not signed,
        rehearsed=rehearsed,
        again=again,
        enter_does="Enter goes on" if signed else "Enter: yes" if session.first else "",
    )


def _within_reach(session: Session) -> float | None:
    """Return about where the next reading is, None where the machine or the dial does not get there at all."""
    about, axis = session.expected_mm(), session.procedure.axis_of(session.next_field, session.next_slot)
    reach = session.facts.reach.get(axis)
    return about if about is None or reach is None or reach[0] <= about <= reach[1] else None


def _stop_at(session: Session, move: Move, units: Units) -> str:
    """Say at which reading of the dial to stop, where one was taken under that screw."""
    for values in session.live:
        angle = values.get("angle_deg")
        if angle is not None and f"{angle:g}°" == move.screw:
            lever = math.radians(session.facts.setup.part("indicator").number("lever_deg", 0.0))
            stop = values.needed("value_mm") - move.amount_mm / math.cos(lever)
            return f" Stop at {length(stop, units)}."
    return ""


def _advised(session: Session, evaluation: Evaluation, moves: Sequence[Move], units: Units) -> tuple[str, ...]:
    """The evaluation's advice, its turns replaced by what earlier passes taught, and how many more passes."""
    static = [move.words for move in evaluation.moves]
    texts = [*(move.words for move in moves[1:]), *(text for text in evaluation.advice if text not in static)]
    outlook = session.procedure.outlook(session.passes, evaluation)
    said = [words_of(each, units) for each in ([*texts, outlook] if outlook else texts)]
    return (*said, *_side_by_side(session, evaluation, units))


def _side_by_side(session: Session, evaluation: Evaluation, units: Units) -> list[str]:
    """Say what the same thing came to when done other ways, and whether this agrees with it."""
    main = next((q.estimate for q in evaluation.quantities if q.name == session.procedure.main[0]), None)
    rows: list[str] = []
    for other in session.facts.beside if main is not None and session.procedure.compares else ():
        apart = main.value - other.value_mm if main else 0.0
        agrees = abs(apart) <= math.hypot(main.expanded if main else 0.0, other.expanded_mm)
        rows.append(
            f"{other.way}, record {other.record}: {length(other.value_mm, units)} ± {small(other.expanded_mm, units)}; "
            f"this is {small(apart, units, sign=True)} from it: "
            f"{'they agree' if agrees else session.procedure.differ_words}."
        )
    return rows


def _unbroken(words: str) -> str:
    """Keep a number with its unit and its sign on one line."""
    return re.sub(r"(?<=[±\d]) (?=[\dµm]|in\b)", "\u00a0", words)


def _choices(question: Question, units: Units) -> str:
    if question.suggestion_mm is not None:
        return (
            f"Enter takes {length(question.suggestion_mm, units)}. Ctrl+Enter takes it as typed. Esc lets you "
            "correct it."
        )
    return "Esc lets you correct it. Ctrl+Enter takes it all the same."


def _asked_for(found: Procedure, where: str) -> str:
    info = found.setup_model.model_fields.get(where.removeprefix("setup."))
    return (info.title if info else None) or where


def _verdict(
    found: Procedure, result: Evaluation | NonnaError, live: int, complete: bool, units: Units
) -> tuple[Tone, str, str]:
    if isinstance(result, NonnaError):
        if live == 0:
            return (
                "plain",
                "Nothing is measured yet.",
                _how_to_begin(found),
            )
        if result.code == "missing-field" and result.where.startswith("setup."):
            return (
                "due",
                f"{_asked_for(found, result.where)} is still to be given.",
                "F9 opens what this sheet starts from.",
            )
        return "plain", result.message, "Go on with the next reading."
    todo = words_of(result.todo, units) if complete and result.todo is not None else "Go on with the next reading."
    return TONES[result.verdict], words_of(result.headline, units), todo


def _how_to_begin(found: Procedure) -> str:
    """Say how the first reading gets here."""
    if "dial" in found.reads.values():
        return "Type what the dial shows and press Enter; F12 reads it live, F7 takes the stand-in's, F8 a file."
    what = "position" if found.model.value_fields == ("position_mm",) else "value"
    return f"Type the first {what} and press Enter, or F7 for the stand-in, F8 for a file."


def _tape_note(session: Session, left: int) -> str:
    """Say how many readings there are of how many that are wanted."""
    live, wanted = len(session.live), session.wanted
    more = live - (wanted - left)
    return f"{wanted - left} of {wanted} taken" + (f", {more} more" if more > 0 else "") + _time_left(session, left)


def _time_left(session: Session, left: int) -> str:
    """Say about how long the rest of a long sheet takes at the pace so far, from the times on its tape; "" where
    nothing tells.
    """
    at = [datetime.fromisoformat(row.at) for row in session.rows if not row.struck]
    if left < LONG_SHEET or len(at) < PACE_AFTER:
        return ""
    seconds = (at[-1] - at[0]).total_seconds() / (len(at) - 1) * left
    return f", about {max(1, round(seconds / 60.0))} min left" if seconds > 0.0 else ""


def _steps(session: Session, signed: bool, again: bool) -> tuple[tuple[str, StepState], ...]:
    """Steps before the readings are done once one is taken; those with readings follow the slots."""
    steps = session.procedure.steps(session.facts)
    slot = session.next_slot
    rows: list[tuple[str, StepState]] = []
    reached = False
    for step in steps:
        if signed:
            state: StepState = "done"
        elif reached:
            state = "later"
        elif step.slots:
            state = "now" if slot is not None and slot.group == step.slots else "done"
        elif slot is None:
            state = "now" if step is steps[-2 if again else -1] else "later" if step is steps[-1] else "done"
        else:
            state = "done" if session.rows else "now"
        if state == "now" and step.slots:
            reached = True
        rows.append((step.words, state))
    if not session.rows and not signed:  # nothing touched yet: what the hands do first is now, the rest later
        rows = [(words, "now" if i == 0 else "later") for i, (words, _) in enumerate(rows)]
    return tuple(rows)


def _main(session: Session, evaluation: Evaluation | None, units: Units) -> NumberLine:
    name = session.procedure.main[0]
    found = next((q for q in evaluation.quantities if q.name == name), None) if evaluation else None
    if found is None:
        title = session.procedure.main_title
        return NumberLine(title, "–", "")
    if found.estimate is None or abs(found.value) < LONG_MM:
        return NumberLine(found.title, small(found.value, units), doubt_words(found, units))
    return NumberLine(
        found.title,
        length(found.value, units, unit=False),
        f"{units.symbol}  ± {small(found.estimate.expanded, units)}",
    )


def _lines(session: Session, evaluation: Evaluation | None, units: Units) -> tuple[NumberLine, ...]:
    if evaluation is None:
        return ()
    elsewhere = (session.procedure.main[0], *session.procedure.beside)
    rest = [q for q in evaluation.quantities if q.name not in elsewhere]
    return tuple(_line(q, units) for q in rest)


def _line(q: Quantity, units: Units) -> NumberLine:
    if q.unit == "mm" and q.estimate is not None and abs(q.value) >= LONG_MM:
        return NumberLine(q.title, length(q.value, units, unit=False), doubt_words(q, units))
    return NumberLine(q.title, value_words(q.value, q.unit, units), doubt_words(q, units))


def _tiles(rows: Sequence[TapeRow], keys: Sequence[str], units: Units) -> tuple[Tile, ...]:
    numbers = [[row.values.needed(name) for name in keys if name in row.values] for row in rows]
    words = [tuple(length(number, units, unit=False) for number in each) for each in numbers]
    return tuple(
        Tile(row.label, shown, row.struck or f"{row.at[11:16]} {row.source}{_insisted(row)}", bool(row.struck))
        for row, shown in zip(rows, words, strict=True)
    )


def _insisted(row: TapeRow) -> str:
    return " · insisted" if row.doubted else ""

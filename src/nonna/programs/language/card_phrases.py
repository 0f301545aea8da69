"""A card's lines made ready to be recognised; one that would do something else beside is refused."""

from __future__ import annotations

import re
from functools import cache

from nonna.errors import NonnaError
from nonna.programs.language.blocks import Block, parse_line
from nonna.programs.language.errors import ProgramError
from nonna.programs.language.grammar import HOMES, MOTION, ORIENT
from nonna.programs.language.phrases import NUMBERS, VALUES, WORK, Phrases, StorePattern, filled
from nonna.shop.cards.control_card import HOLE, ControlCard

_ASSIGNED = re.compile(r"\s*(#[^=]*[^=\s])\s*=[^=]")
_EXPRESSION = r"[-+*/#.\[\] 0-9a-z]+?"
_ELSEWHERE = (MOTION - {80.0}) | HOMES.keys() | {53.0, 92.0, 92.1, 92.2, 92.3}  #: G words that no line for a table has
_TURNS = {0, 1, 2, 3, 4, 6, ORIENT, 30}
_SAMPLE: dict[str, float | str] = {
    "tool": 1,
    "offset": 54,
    "index": 0,
    "axis": "Z",
    "value": "1.0",
    "radius": "1.0",
    "negative": "-1.0",
}
SHIFT = 10.0


def phrases_of(card: ControlCard | None) -> Phrases:
    """Return the lines that a card gives words for; none where there is no card.

    Raises: NonnaError ``wrong-format`` naming the line (it moves, sets something else, or says not what it stores for).
    """
    return _made(card.model_dump_json()) if card is not None else Phrases()


@cache
def _made(card_text: str) -> Phrases:
    card = ControlCard.model_validate_json(card_text)
    stores = tuple(_pattern(what, line) for what, line in card.stores.items())
    _apart(card)
    if card.prints is None or card.prints_value is None:
        return Phrases(stores)
    for name, line, hole in (("prints", card.prints, "text"), ("prints_value", card.prints_value, "parameter")):
        if line.count(f"{{{hole}}}") != 1:
            raise _refused(name, f"it has {{{hole}}} once")
    block = _read(filled(card.prints, text=""))
    if block is not None and (block.words or block.settings or block.jump):
        raise _refused("prints", "it would do something else beside")
    prints = re.compile(_around(card.prints, "text", "(?P<text>.*)"), re.IGNORECASE)
    parameter = _around(card.prints_value, "parameter", "0*(?P<parameter>[0-9]{1,6})(?![0-9])")
    return Phrases(stores, prints, re.compile(parameter, re.IGNORECASE))


def _refused(name: str, words: str) -> NonnaError:
    return NonnaError("wrong-format", "control.{name}: {words}.", f"control.{name}", name=name, words=words)


def _read(line: str) -> Block | None:
    """Return a line as the language has it, None where it is not of the language: the control's own word."""
    try:
        return parse_line(line, 0)
    except ProgramError:
        return None


def _around(pattern: str, hole: str, form: str) -> str:
    return form.join(re.escape(part) for part in pattern.split(f"{{{hole}}}"))


def _pattern(what: str, line: str) -> StorePattern:
    name = f"stores.{what}"
    holes = {m.group(1).partition(":")[0] for m in HOLE.finditer(line)}
    values = [m for m in HOLE.finditer(line) if m.group(1) in VALUES]
    if len(values) != 1:
        raise _refused(name, "one hole is wanted for what is stored: {value}, {radius} or {negative}")
    if what == WORK and not ("offset" in holes and holes & {"axis", "index"}):
        raise _refused(name, "it says which offset and which axis: {offset}, and {axis} or {index}")
    if what != WORK and not holes & {"tool", "offset"}:
        raise _refused(name, "it says for what it stores: {tool} or {offset}")
    if values[0].group(1) == "radius" and what != "diameter":
        raise _refused(name, "only a diameter is stored as a radius")
    if holes - {*NUMBERS, "axis", *VALUES}:
        raise _refused(name, f"it has no use for {', '.join(sorted(holes - {*NUMBERS, 'axis', *VALUES}))}")
    _does_nothing_else(name, what, line)
    value = values[0]
    assigned = _ASSIGNED.match(line)
    start, end = (assigned.end() - 1, len(line)) if assigned else _outermost(line, value.start(), value.end())
    if re.search(r"[A-Za-z]{2,}\s*$", line[:start]):
        raise _refused(name, "what stands round the value may turn its sign or take a share of it, no more")
    parts, at, seen = [], 0, set[str]()
    for found in HOLE.finditer(line):
        hole = found.group(1).partition(":")[0]
        parts.append(_loose(line[at : found.start()]))
        at = found.end()
        form = "[a-z]" if hole == "axis" else _EXPRESSION
        parts.append(f"(?P={hole})" if hole in seen else f"(?P<{hole}>{form})")
        seen.add(hole)
    parts.append(_loose(line[at:]))
    around = f"{line[start : value.start()]}{{}}{line[value.end() : end]}"
    made = StorePattern(what, re.compile("".join(parts)), value.group(1), around, assigned[1] if assigned else "")
    try:
        straight = made.raw(0.0) == 0.0 and made.raw(2.0) == 2.0 * made.raw(1.0) != 0.0
    except ProgramError as error:
        raise _refused(name, f"{around.format('{value}')} cannot be worked out: {error.message}") from error
    if not straight:
        raise _refused(name, "what stands round the value may turn its sign or take a share of it, no more")
    return made


def _apart(card: ControlCard) -> None:
    """No line stores two things: nobody could tell which was meant. Raises: NonnaError."""
    seen: dict[str, str] = {}
    for what, line in card.stores.items():
        filling = filled(line, **_SAMPLE).replace(" ", "").upper()
        if filling in seen:
            raise _refused(f"stores.{what}", f"the same line stores {seen[filling]}")
        seen[filling] = what


def _does_nothing_else(name: str, what: str, line: str) -> None:
    block = _read(filled(line, **_SAMPLE))
    if block is None:
        return
    codes = {word.value for word in block.words if word.letter == "g"}
    turns = {word.value for word in block.words if word.letter == "m"}
    if codes & _ELSEWHERE or turns & _TURNS or any(word.letter == "t" for word in block.words) or block.jump:
        raise _refused(name, "it would do something else beside")
    if len(block.settings) > 1 or (block.settings and any(word.letter != "n" for word in block.words)):
        raise _refused(name, "it would set something else beside")
    shifts = any(word.letter == "l" and word.value == 2.0 for word in block.words)
    if SHIFT in codes and shifts and what != WORK:
        raise _refused(name, "it would change a work offset")


def _outermost(line: str, start: int, end: int) -> tuple[int, int]:
    """Return the outermost brackets round a place, the place itself where there are none."""
    depth, first = 0, start
    for i in range(start - 1, -1, -1):
        depth += {"]": 1, "[": -1}.get(line[i], 0)
        if depth < 0:
            first, depth = i, 0
    depth, last = 0, end
    for i in range(end, len(line)):
        depth += {"[": 1, "]": -1}.get(line[i], 0)
        if depth < 0:
            last, depth = i + 1, 0
    return first, last


def _loose(text: str) -> str:
    """Return words as they may be written: any case, blanks anywhere between."""
    return "".join(r"\s*" if c.isspace() else rf"\s*{re.escape(c.lower())}\s*" for c in text)

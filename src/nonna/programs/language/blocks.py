"""A program's text as blocks: words in order, parameter settings, comments."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import NamedTuple

from nonna.programs.language.errors import ProgramError
from nonna.programs.language.expressions import Scanner, Value
from nonna.programs.language.jumps import Jump, read_jump
from nonna.programs.language.phrases import Phrases, Print, Store

_SIMPLE = re.compile(r"(?:[a-z][ \t]*[+-]?(?:[0-9]+\.?[0-9]*|\.[0-9]+)[ \t]*)*\Z")
_SIMPLE_WORD = re.compile(r"([a-z])[ \t]*([+-]?(?:[0-9]+\.?[0-9]*|\.[0-9]+))")
_LINES = re.compile(r"\r\n|\r|\n")  # what other characters a text may break at, no control breaks at
_COMMENT = re.compile(r"\([^()]*\)")
LETTERS = frozenset("fghijklmnpqrstxyz")
MAX_LINE = 256


class Word(NamedTuple):
    """One word of a block; a tuple, for programs have many."""

    letter: str
    value: Value
    column: int


@dataclass(frozen=True, slots=True)
class Setting:
    """A parameter setting such as ``#101 = #5063``."""

    parameter: Value
    value: Value
    column: int


@dataclass(frozen=True, slots=True)
class Block:
    """One line of a program."""

    line: int
    words: tuple[Word, ...]
    settings: tuple[Setting, ...] = ()
    deleted: bool = False  #: starts with a slash
    jump: Jump | None = None
    phrase: Store | Print | None = None  #: what the card has words of its own for

    @property
    def label(self) -> int | None:
        """The block's number, where a jump may land."""
        first = self.words[0] if self.words and self.words[0].letter == "n" else None
        return int(first.value) if first is not None and isinstance(first.value, float) else None


def parse(text: str, *, jumps: bool = False, phrases: Phrases | None = None) -> tuple[Block, ...]:
    """Read a whole program; ``jumps`` also takes IF and GOTO, ``phrases`` lines that the control's card gives.

    Raises: ProgramError at the first line and column that is not of the language; nothing is ignored.
    """
    blocks = []
    percents = 0
    lines = _LINES.split(text)
    for number, raw in enumerate(lines if lines[-1] else lines[:-1], 1):
        if raw.strip() == "%":
            percents += 1
            if percents == 2:
                break
            continue
        blocks.append(parse_line(raw, number, jumps=jumps, phrases=phrases))
    return tuple(blocks)


def parse_line(raw: str, number: int, *, jumps: bool = False, phrases: Phrases | None = None) -> Block:
    """Read one block. Raises: ProgramError."""
    if len(raw) > MAX_LINE:
        raise ProgramError(
            "syntax", "a block has at most {max_line} characters", number, MAX_LINE + 1, max_line=MAX_LINE
        )
    phrase = phrases.read(raw, number) if phrases is not None else None
    if phrase is not None:
        return Block(number, (), phrase=phrase)
    text = _without_comments(raw, number)
    simple = text.strip()
    deleted = simple.startswith("/")
    if not deleted and _SIMPLE.match(simple):
        lead = len(text) - len(text.lstrip())
        words = tuple([Word(m[1], float(m[2]), lead + m.start() + 1) for m in _SIMPLE_WORD.finditer(simple)])
        _known(words, number)
        return Block(number, words)
    if deleted:
        text = text.replace("/", " ", 1)
    if jumps:
        jump = read_jump(text, number)
        if jump is not None:
            label = re.match(r"\s*n\s*([0-9]+)", text)
            words = (Word("n", float(label.group(1)), 1),) if label else ()
            return Block(number, words, deleted=deleted, jump=jump)
    scanner = Scanner(text, number)
    return _scanned(scanner, number, deleted)


def _scanned(scanner: Scanner, number: int, deleted: bool) -> Block:
    words: list[Word] = []
    settings: list[Setting] = []
    while scanner.skip():
        column = scanner.at + 1
        letter = scanner.text[scanner.at]
        scanner.at += 1
        if letter == "#":
            parameter = scanner.value()
            if not scanner.skip() or scanner.text[scanner.at] != "=":
                raise scanner.fail("'=' is missing here")
            scanner.at += 1
            settings.append(Setting(parameter, scanner.value(), column))
        elif letter.isascii() and letter.isalpha():
            words.append(Word(letter, scanner.value(), column))
        else:
            raise ProgramError("syntax", "{letter!r} does not belong here", number, column, letter=letter)
    _known(words, number)
    return Block(number, tuple(words), tuple(settings), deleted)


def _known(words: tuple[Word, ...] | list[Word], number: int) -> None:
    for i, word in enumerate(words):
        if i and word[0] == "n":
            raise ProgramError("syntax", "a block's number stands at its beginning", number, word.column)
        if word[0] not in LETTERS:
            raise ProgramError(
                "unsupported", "there is no word {upper} here", number, word.column, upper=word.letter.upper()
            )


def _without_comments(raw: str, number: int) -> str:
    text = raw.split(";", 1)[0] if ";" in raw and "(" not in raw else raw
    if "(" in text or ")" in text:
        text = _COMMENT.sub(lambda m: " " * len(m.group()), text)
        for mark in "()":
            if mark in text:
                raise ProgramError("syntax", "a comment that is not closed", number, text.index(mark) + 1)
    if not text.isascii():  # other alphabets have letters and digits that look alike, and lower to these
        column, letter = next((i, c) for i, c in enumerate(text, 1) if not c.isascii())
        raise ProgramError("syntax", "{letter!r} does not belong here", number, column, letter=letter)
    return text.lower()

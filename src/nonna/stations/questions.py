"""What a kind of station asks of a person who sets one up: one number a question, and where it is found."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Literal, TypeAlias

from nonna.errors import NonnaError
from nonna.shop.texts.given import Document, Given
from nonna.wording.lengths import Units

Sort = Literal["length", "feed", "acceleration", "speed", "count", "seconds", "choice", "yes", "text", "date"]
Answer: TypeAlias = float | str | bool  #: lengths and what is made of them in mm

UNIT: Mapping[str, str] = {
    "length": "mm", "feed": "mm/min", "acceleration": "mm/s²", "speed": "rpm", "seconds": "s",
}  # fmt: skip
SCALED = frozenset({"length", "feed", "acceleration"})  #: what is typed in inches in an inch shop


@dataclass(frozen=True, slots=True)
class SetUpQuestion:
    """One question of a station's set-up."""

    key: str
    words: str
    where: str  #: where the answer is found, standing at the machine
    why: str  #: what it is used for
    sort: Sort = "length"
    usual: Answer | None = None  #: what is taken as long as nobody knows; None: nothing is
    least: float = 0.0  #: a number below this is a slip (mm, mm/min ...)
    most: float = 1e6
    choices: tuple[str, ...] = ()
    sides: bool = False  #: whether two readings, one from each side, may be typed for the middle between them
    needed: bool = False  #: whether the first tool length cannot do without it
    doubt: Callable[[str, Answer | None, Mapping[str, Answer | None], Units], str] | None = None
    """Says what is strange about an answer as it was typed, beside the others (mm); "" for nothing."""


@dataclass(frozen=True, slots=True)
class Founded:
    """What the answers make: the station's own file and its cards of gear."""

    machine: Document
    gear: Mapping[str, tuple[Document, ...]] = field(default_factory=dict)
    open: tuple[str, ...] = ()  #: keys of questions that nobody could answer and that have no usual value


def answered(questions: tuple[SetUpQuestion, ...], answers: Mapping[str, Answer | None]) -> Given:
    """Return as `known`. Raises: NonnaError naming the question whose answer is needed and missing."""
    for question in questions:
        if question.needed and answers.get(question.key) is None:
            words = "{words} {place}"
            raise NonnaError("missing-field", words, question.key, words=question.words, place=question.where)
    return Given(known(questions, answers))


def known(questions: tuple[SetUpQuestion, ...], answers: Mapping[str, Answer | None]) -> dict[str, Answer]:
    """Return the answers, with usual values where there are none; what is neither is left out."""
    found = {q.key: q.usual if answers.get(q.key) is None else answers[q.key] for q in questions}
    return {key: value for key, value in found.items() if value is not None}

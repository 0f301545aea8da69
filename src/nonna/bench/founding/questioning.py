"""One question after the other: what is asked next, what was said, what follows."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Self

from nonna.bench.founding.founding import understood
from nonna.errors import NonnaError
from nonna.stations.kind import StationKind
from nonna.stations.questions import UNIT, Answer, SetUpQuestion
from nonna.wording.lengths import Units


@dataclass(frozen=True, slots=True)
class Questioning:
    """What was asked and answered so far; each step is a new one, so that going back loses nothing."""

    said: Mapping[str, str] = field(default_factory=dict)  #: as it was typed; "" for what nobody knows yet
    at: int = 0

    @property
    def units(self) -> Units:
        """What lengths are typed in."""
        raise NotImplementedError

    @property
    def kind(self) -> StationKind:
        """The kind of station that is asked about."""
        raise NotImplementedError

    @property
    def questions(self) -> tuple[SetUpQuestion, ...]:
        """All questions, as far as the answers so far tell."""
        raise NotImplementedError

    @property
    def question(self) -> SetUpQuestion | None:
        """What is asked now, None at the end."""
        asked = self.questions
        return asked[self.at] if self.at < len(asked) else None

    @property
    def typed(self) -> str:
        """What was said to this question before, "" for nothing."""
        return self.said.get(self.question.key, "") if self.question else ""

    @property
    def answers(self) -> dict[str, Answer | None]:
        """What was answered so far, in mm; None where nobody knows."""
        return {q.key: understood(q, self.said[q.key], self.units) for q in self.questions if q.key in self.said}

    @property
    def drawn_from(self) -> Mapping[str, Answer | None]:
        """What is known beside the answers, for the drawing."""
        return {}

    def answered(self, text: str) -> Self:
        """Take an answer; an empty one is "I don't know yet", for which the usual value is taken until somebody does.

        Raises: NonnaError naming the question: it cannot be, with the slip that would explain it; or nothing goes on
        without it.
        """
        question = self.question
        if question is None:
            return self
        text = text.strip()
        if not text and question.needed:
            raise NonnaError("missing-field", "Nothing goes on without it. {place}", question.key, place=question.where)
        understood(question, text, self.units)
        following = replace(self, said={**self.said, question.key: text}, at=self.at + 1)
        following._must_fit(question)
        return following

    def doubt(self, text: str, today: date) -> str:
        """Say what is strange about an answer that could still be meant, "" for nothing: asked once, then taken."""
        question = self.question
        if question is None or not text.strip():
            return ""
        answer = understood(question, text.strip(), self.units)
        if question.sort == "date" and (past := (today - date.fromisoformat(str(answer))).days) > 0:
            return f"That was {past} days ago: what is measured with it would not hold. Is the year right?"
        return question.doubt(text, answer, self.answers, self.units) if question.doubt is not None else ""

    def tried(self, text: str) -> dict[str, Answer | None]:
        """Return the answers with one that was refused, as far as it can be read: so that it can be seen what is
        wrong.
        """
        question = self.question
        if question is None:
            return self.answers
        try:
            return {**self.answers, question.key: understood(question, text.strip(), self.units)}
        except NonnaError:
            return self.answers

    def back(self) -> Self:
        """Go back to the question before; what was said to it stands there."""
        return replace(self, at=max(0, self.at - 1))

    def usual(self, question: SetUpQuestion) -> str:
        """Return what is taken where nobody knows, in the units typed; "" for nothing."""
        value = question.usual
        if value is None:
            return ""
        if isinstance(value, bool):
            return "yes" if value else "no"
        if isinstance(value, str):
            return value
        return f"{value * self.scale(question):.6g} {self.unit(question)}".strip()

    def unit(self, question: SetUpQuestion) -> str:
        """Return the unit an answer is read in."""
        unit = UNIT.get(question.sort, "")
        return unit if self.units.metric else unit.replace("mm", "in")

    def scale(self, question: SetUpQuestion) -> float:
        """Return what a value in mm is multiplied with to be shown."""
        return self.units.scale if "mm" in UNIT.get(question.sort, "") else 1.0

    def _must_fit(self, question: SetUpQuestion) -> None:
        """Raises: NonnaError (an answer does not fit those before it: the setter outside the travel)."""

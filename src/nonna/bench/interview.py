"""Set up a shop by answering one question after the other: what is asked next, what was said, what follows."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from nonna.bench.founding import Founding, found, understood
from nonna.errors import NonnaError
from nonna.shop.kinds import station_kinds
from nonna.stations.kind import StationKind, kind_of
from nonna.stations.questions import UNIT, Answer, SetUpQuestion
from nonna.wording.lengths import Units

CERTIFIED, OWN, NONE = "with a certificate", "our own, without one", "none yet"
STEEL_PER_K, STEEL_U_PER_K = 11.5e-6, 1.0e-6
FIRST = (
    SetUpQuestion("units", "Millimetres or inches?", "As your drawings have it.", "Everything you type is read so.", "choice", "mm", choices=("mm", "inch"), needed=True),
    SetUpQuestion("shop", "What is the shop called?", "As on its door.", "Certificates carry the name.", "text", needed=True),
    SetUpQuestion("operator", "Who signs the records?", "Your name, as others know it.", "A record without a name is none.", "text", needed=True),
    SetUpQuestion("kind", "What are we setting up?", "More stations can follow on the shelf.", "Each kind asks its own questions.", "choice", "mill", needed=True),
    SetUpQuestion("name", "What is this machine called here?", "The name people shout across the hall.", "Records, programs and certificates say it.", "text", needed=True),
)  # fmt: skip
LAST = (
    SetUpQuestion("master", "Is there a master: a tool or pin of known length?", "In a box, with a paper from a laboratory. Any solid pin that never changes will do to begin with.", "Every length goes back to it.", "choice", CERTIFIED, choices=(CERTIFIED, OWN, NONE)),
    SetUpQuestion("master_name", "What is it called?", "What is engraved on it.", "So that the right one is fetched.", "text", "Master tool"),
    SetUpQuestion("certified_length", "How long is it?", "Its certificate, from the gauge line to the tip; else as well as you can measure it.", "The trigger plane follows from it.", least=1.0, most=1_000.0, needed=True),
    SetUpQuestion("U", "What doubt does its certificate give for the length?", "Behind the ±, often called U.", "Without it lengths agree with each other, not with the world.", least=1e-6, most=0.1),
    SetUpQuestion("k", "With which k?", "Near the U, mostly 2.", "U means nothing without it.", "count", 2.0, 1.0, 5.0),
    SetUpQuestion("diameter", "How thick is it?", "Its certificate, or a micrometer.", "The setter's middle and width follow from it.", least=0.5, most=100.0),
    SetUpQuestion("steel", "Is it of steel?", "A magnet tells.", "How it grows when it is warm.", "yes", True),
    SetUpQuestion("due", "When is it due for calibration?", "On its certificate or its sticker: year-month-day.", "It is said in good time; without a date it is never due.", "date"),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Interview:
    """What was asked and answered so far; each step is a new one, so that going back loses nothing."""

    said: Mapping[str, str] = field(default_factory=dict)  #: as it was typed; "" for what nobody knows yet
    at: int = 0

    @property
    def units(self) -> Units:
        """What lengths are typed in."""
        return Units.INCH if self.said.get("units") == "inch" else Units.MM

    @property
    def kind(self) -> StationKind:
        """The kind of station that is set up."""
        return kind_of(self.said.get("kind") or "mill")

    @property
    def questions(self) -> tuple[SetUpQuestion, ...]:
        """All questions, as far as the answers so far tell."""
        first = tuple(replace(q, choices=_kinds()) if q.key == "kind" else q for q in FIRST)
        master = self.said.get("master") or CERTIFIED
        last = (
            LAST[:1]
            if master == NONE
            else tuple(q for q in LAST if master == CERTIFIED or q.key not in ("U", "k", "due"))
        )
        return (*first, *self.kind.questions, *last)

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

    def answered(self, text: str) -> Interview:
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

    def tried(self, text: str) -> dict[str, Answer | None]:
        """Return the answers with one that was refused, as far as it can be read: so that it can be seen what is wrong."""
        question = self.question
        if question is None:
            return self.answers
        try:
            return {**self.answers, question.key: understood(question, text.strip(), self.units)}
        except NonnaError:
            return self.answers

    def back(self) -> Interview:
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
        return unit.replace("mm", "in") if self.units is Units.INCH else unit

    def scale(self, question: SetUpQuestion) -> float:
        """Return what a value in mm is multiplied with to be shown."""
        return self.units.scale if "mm" in UNIT.get(question.sort, "") else 1.0

    def document(self) -> dict[str, Any]:
        """Return the answers as ``nonna-answers/1``, lengths in mm."""
        known = self.answers
        own = {q.key for q in self.kind.questions}
        return {
            "format": "nonna-answers/1", "shop": known["shop"], "operators": [known["operator"]], "units": "mm",
            "stations": [{
                "name": known["name"], "kind": self.kind.key, "answers": {k: v for k, v in known.items() if k in own}, "tools": [],
            }],
            "masters": self._masters(known),
        }  # fmt: skip

    def found(self) -> Founding:
        """Return the shop's files and what is still open. Raises: NonnaError (the answers do not fit each other)."""
        return found(self.document())

    def _masters(self, known: Mapping[str, Answer | None]) -> list[dict[str, Any]]:
        face = {"name": "Spindle face", "kind": "spindle-face", "length_mm": 0.0, "traceable": False}
        always = [] if self.kind.drawn is None else [face]  #: a machine has a spindle to touch the setter with
        if known.get("master") == NONE:
            return always
        card: dict[str, Any] = {"name": known.get("master_name") or "Master tool", "kind": "master-tool"}
        for name, key in (
            ("length_mm", "certified_length"),
            ("U_length_mm", "U"),
            ("k", "k"),
            ("diameter_mm", "diameter"),
            ("due", "due"),
        ):
            if known.get(key) is not None:
                card[name] = known[key]
        if known.get("steel") is not False:
            card |= {"cte_per_k": STEEL_PER_K, "cte_u_per_k": STEEL_U_PER_K}
        return [card, *always]

    def _must_fit(self, question: SetUpQuestion) -> None:
        """Raises: NonnaError (an answer does not fit those before it: the setter outside the travel)."""
        kind = self.kind
        own = {q.key: q for q in kind.questions}
        if question.key not in own or kind.founded is None:
            return
        known = {key: value for key, value in self.answers.items() if key in own}
        if any(q.needed and known.get(q.key) is None for q in kind.questions):
            return
        kind.founded(kind.key, self.said.get("name", ""), known)


def _kinds() -> tuple[str, ...]:
    """Return the kinds of station that bring questions along, the usual one first."""
    return tuple(
        sorted((key for key in station_kinds() if kind_of(key).questions), key=lambda key: (key != "mill", key))
    )

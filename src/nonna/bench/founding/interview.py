"""Set up a shop by answering one question after the other."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from nonna.bench.founding.founding import Founding, found
from nonna.bench.founding.questioning import Questioning
from nonna.errors import NonnaError
from nonna.procedures import offers
from nonna.procedures.listing import one_offering
from nonna.shop.cards.kinds import station_kinds
from nonna.shop.texts.given import Plain
from nonna.stations.kind import StationKind, kind_of
from nonna.stations.questions import Answer, Founded, SetUpQuestion
from nonna.wording.lengths import Units

CERTIFIED, OWN, NONE = "with a certificate", "our own, without one", "none yet"
STEEL_PER_K, STEEL_U_PER_K = 11.5e-6, 1.0e-6
FIRST = (
    SetUpQuestion("units", "Millimetres or inches?", "As your drawings have it.", "Everything you type is read so.",
        "choice", "mm", choices=("mm", "inch"), needed=True),
    SetUpQuestion("shop", "What is the shop called?", "As on its door.", "Certificates carry the name.", "text",
        needed=True),
    SetUpQuestion("operator", "Who signs the records?", "Your name, as others know it.",
        "A record without a name is none.", "text", needed=True),
    SetUpQuestion("kind", "What are we setting up?", "More stations can follow on the shelf.",
        "Each kind asks its own questions.", "choice", "mill", needed=True),
    SetUpQuestion("name", "What is this machine called here?", "The name people shout across the hall.",
        "Records, programs and certificates say it.", "text", needed=True),
)  # fmt: skip
LAST = (
    SetUpQuestion("master", "Is there a master: a tool or pin of known length?",
        "In a box, with a paper from a laboratory. Any solid pin that never changes will do to begin with.",
        "Every length goes back to it.", "choice", CERTIFIED, choices=(CERTIFIED, OWN, NONE)),
    SetUpQuestion("master_name", "What is it called?", "What is engraved on it.", "So that the right one is fetched.",
        "text", "Master tool"),
    SetUpQuestion("certified_length", "How long is it?",
        "Its certificate, from the gauge line to the tip; else as well as you can measure it.",
        "The trigger plane follows from it.", least=1.0, most=1_000.0, needed=True),
    SetUpQuestion("U", "What doubt does its certificate give for the length?", "Behind the ±, often called U.",
        "Without it lengths agree with each other, not with the world.", least=1e-6, most=0.1),
    SetUpQuestion("k", "With which k?", "Near the U, mostly 2.", "U means nothing without it.", "count", 2.0, 1.0, 5.0),
    SetUpQuestion("diameter", "How thick is it?", "Its certificate, or a micrometer.",
        "The setter's middle and width follow from it.", least=0.5, most=100.0),
    SetUpQuestion("steel", "Is it of steel?", "A magnet tells.", "How it grows when it is warm.", "yes", True),
    SetUpQuestion("due", "When is it due for calibration?", "On its certificate or its sticker: year-month-day.",
        "It is said in good time; without a date it is never due.", "date"),
)  # fmt: skip
RING_LAST = (
    SetUpQuestion("master", "Is there a ring of known diameter for the probe?",
        "In a box, with a paper from a laboratory. A part that was measured by micrometer will do to begin with.",
        "The probe's ball is measured in it, and every part with that.", "choice", CERTIFIED,
        choices=(CERTIFIED, OWN, NONE)),
    replace(LAST[1], usual="Ring"),
    SetUpQuestion("diameter", "How wide is it inside?", "Its certificate; else as well as you can measure it.",
        "The ball's effective diameter follows from it.", least=1.0, most=500.0, needed=True),
    replace(LAST[3], words="What doubt does its certificate give for the diameter?",
        why="Without it sizes agree with each other, not with the world."),
    LAST[4],
    *LAST[6:],
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Interview(Questioning):
    """The questions of a whole new shop."""

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
        if self._by_ring and self.said.get("probe", "no") in ("", "no"):
            return (*first, *self.kind.questions)  # without a probe nothing goes into a ring
        last = (
            self._last[:1]
            if master == NONE
            else tuple(q for q in self._last if master == CERTIFIED or q.key not in ("U", "k", "due"))
        )
        return (*first, *self.kind.questions, *last)

    @property
    def _by_ring(self) -> bool:
        """Whether a ring is the only master that the loop of such a station rests on."""
        kinds = {link.master_kind for link in self.kind.loop.links}
        return "ring" in kinds and "master-tool" not in kinds

    @property
    def _last(self) -> tuple[SetUpQuestion, ...]:
        return RING_LAST if self._by_ring else LAST

    def document(self) -> dict[str, Plain]:
        """Return the answers as ``nonna-answers/1``, lengths in mm."""
        known = self.answers
        own = {q.key for q in self.kind.questions}
        return {
            "format": "nonna-answers/1", "shop": known["shop"], "operators": [known["operator"]], "units": "mm",
            "stations": [{
                "name": known["name"], "kind": self.kind.key, "answers": {k: v for k, v in known.items() if k in own},
                "tools": [],
            }],
            "masters": self._masters(known),
        }  # fmt: skip

    def found(self) -> Founding:
        """Return the shop's files and what is still open. Raises: NonnaError (the answers do not fit each other)."""
        return found(self.document())

    def _masters(self, known: Mapping[str, Answer | None]) -> list[dict[str, Plain]]:
        face: dict[str, Plain] = {"name": "Spindle face", "kind": "spindle-face", "length_mm": 0.0, "traceable": False}
        touches = any(one_offering(offers.TRIGGER_PLANE) in link.procedures for link in self.kind.loop.links)
        always = [face] if touches else []  #: its spindle may touch the setter
        if known.get("master") == NONE or not any(q.key == "master" for q in self.questions):
            return always
        ring = self._by_ring
        card: dict[str, Plain] = {
            "name": known.get("master_name") or self._last[1].usual, "kind": "ring" if ring else "master-tool",
        }  # fmt: skip
        for name, key in (
            ("length_mm", "certified_length"),
            ("U_diameter_mm" if ring else "U_length_mm", "U"),
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
        _station_must_fit(self, question)


@dataclass(frozen=True, slots=True, kw_only=True)
class StationInterview(Questioning):
    """The questions of one more station of a shop that is there: the same ones as those of the first."""

    typed_in: Units
    taken: tuple[str, ...]  #: names of the stations there are

    @property
    def units(self) -> Units:
        """What lengths are typed in."""
        return self.typed_in

    @property
    def kind(self) -> StationKind:
        """The kind of station that is set up."""
        return kind_of(self.said.get("kind") or "mill")

    @property
    def questions(self) -> tuple[SetUpQuestion, ...]:
        """All questions, as far as the answers so far tell."""
        first = (replace(q, choices=_kinds()) if q.key == "kind" else q for q in FIRST if q.key in ("kind", "name"))
        return (*first, *self.kind.questions)

    def founded(self) -> Founded:
        """Return the station's files. Raises: NonnaError (the answers do not fit each other)."""
        kind, known = self.kind, self.answers
        assert kind.founded is not None
        own = {q.key for q in kind.questions}
        return kind.founded(kind.key, str(known["name"]), {k: v for k, v in known.items() if k in own})

    def _must_fit(self, question: SetUpQuestion) -> None:
        name = self.said.get("name", "").strip()
        if question.key == "name" and name.casefold() in {each.casefold() for each in self.taken}:
            raise NonnaError(
                "out-of-range", "{name} is here already: give this one a name of its own.", "name", name=name
            )
        _station_must_fit(self, question)


def _station_must_fit(said: Questioning, question: SetUpQuestion) -> None:
    """Raises: NonnaError (an answer does not fit the others of its station)."""
    kind = said.kind
    own = {q.key for q in kind.questions}
    if question.key not in own or kind.founded is None:
        return
    known = {key: value for key, value in said.answers.items() if key in own}
    if any(q.needed and known.get(q.key) is None for q in kind.questions):
        return
    kind.founded(kind.key, said.said.get("name", ""), known)


def _kinds() -> tuple[str, ...]:
    """Return the kinds of station that bring questions along, the usual one first."""
    return tuple(
        sorted((key for key in station_kinds() if kind_of(key).questions), key=lambda key: (key != "mill", key))
    )

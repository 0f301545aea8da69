"""What a machine is asked when a plan first needs it: where its setter stands, figures that were only assumed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from nonna.bench.book.writing import Signature
from nonna.bench.founding.questioning import Questioning
from nonna.bench.ports import ShopFiles
from nonna.bench.shelf.card_signing import signed_change
from nonna.errors import NonnaError
from nonna.shop.cards.machine import Machine
from nonna.shop.texts.given import Document, Given, Plain
from nonna.shop.texts.strict_model import checked
from nonna.stations.kind import StationKind, kind_of
from nonna.stations.questions import Answer, SetUpQuestion
from nonna.wording.lengths import Units


@dataclass(frozen=True, slots=True, kw_only=True)
class StillAsked(Questioning):
    """The questions of one machine that nobody could answer when it was set up."""

    machine: Given  #: its file, as it stands
    key: str  #: name of its file
    typed_in: Units = field(default_factory=lambda: Units.MM)

    @classmethod
    def of(cls, folder: ShopFiles, key: str, units: Units) -> StillAsked:
        """Return what a machine is asked. Raises: NonnaError (its file cannot be read)."""
        return cls(machine=folder.document("machines", f"{key}.json"), key=key, typed_in=units.fine)

    @property
    def units(self) -> Units:
        """What lengths are typed in."""
        return self.typed_in

    @property
    def kind(self) -> StationKind:
        """The machine's kind."""
        return kind_of(str(self.machine.get("kind", "")))

    @property
    def questions(self) -> tuple[SetUpQuestion, ...]:
        """What nobody could answer yet, what cannot be planned without first."""
        return questions_of(self.machine)

    @property
    def drawn_from(self) -> Mapping[str, Answer | None]:
        """What is known of the machine, for its drawing."""
        known = self.kind.answers_of
        return known(self.machine) if known else {}

    def document(self) -> dict[str, Plain]:
        """Return the machine's file with what was answered. Raises: NonnaError (an answer does not fit the machine)."""
        teach = self.kind.taught
        return dict(self.machine) if teach is None else dict(teach(self.machine, self.answers))

    def _must_fit(self, question: SetUpQuestion) -> None:
        self.document()


def questions_of(machine: Document) -> tuple[SetUpQuestion, ...]:
    """Return what a machine (its file) is still asked, nothing where its kind asks nothing later."""
    asks = kind_of(str(machine.get("kind", ""))).open_questions
    return () if asks is None else asks(Given(machine))


def keep(folder: ShopFiles, asked: StillAsked, signature: Signature) -> tuple[str, ...]:
    """Write what was answered into the machine's file, sign that, and return what is still asked.

    Raises: NonnaError (an answer does not fit; somebody changed the file meanwhile; it cannot be signed): nothing is
    written then.
    """
    new = asked.document()
    checked(Machine, new)

    def made(old: Plain) -> dict[str, Plain]:
        if old != asked.machine:
            words = "{name} was changed in another window meanwhile. Look at it again, then answer."
            raise NonnaError("out-of-range", words, "machine", name=str(new["name"]))
        return new

    signed_change(folder, signature, lambda f: f.change(("machines", f"{asked.key}.json"), made))
    return tuple(q.key for q in questions_of(new))

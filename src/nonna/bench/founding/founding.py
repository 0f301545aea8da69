"""Set up a shop of one's own: from a person's answers to the files of a shop, and what is still open."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from pydantic import BaseModel

from nonna.bench.shelf.shelving import new_id
from nonna.errors import NonnaError
from nonna.procedures.entry import parse_length, parse_number
from nonna.shop.cards.answers import Answers, StationAnswers
from nonna.shop.cards.gear import Gear
from nonna.shop.cards.machine import Machine, Tools
from nonna.shop.cards.masters import MasterCard, Shelf, Shop
from nonna.shop.texts.given import Document, Plain
from nonna.shop.texts.strict_model import checked
from nonna.stations.kind import StationKind, kind_of
from nonna.stations.questions import SCALED, UNIT, Answer, Founded, SetUpQuestion
from nonna.wording.lengths import MM_PER_INCH, Units, number

LONGEST, SIDES = 60, 2  #: letters of a name; readings that make a middle
POINT = (
    (10.0, "with the decimal point one place on"),
    (0.1, "with the decimal point one place back"),
)
METRES = (1000.0, "in metres a minute")
IN_INCHES = (MM_PER_INCH, "in inches")  #: read so, and typed as millimetres
IN_MILLIMETRES = (1.0 / MM_PER_INCH, "in millimetres")  #: the other way round
FINE_MM = 0.5  #: an answer never larger than this is a doubt or a step, and papers have those in micrometres


@dataclass(frozen=True, slots=True)
class Founding:
    """A shop that is not written yet."""

    documents: Mapping[tuple[str, ...], Mapping[str, Plain]]  #: by their place in the folder
    report: Document  #: what is assumed, open, and follows from what is missing


def found(document: Plain) -> Founding:
    """Return what a shop's folder will hold.

    Parameters: document, as ``nonna-answers/1``. Raises: NonnaError naming the answer that is wrong or missing.
    """
    answers = checked(Answers, document)
    units = Units.MM if answers.units == "mm" else Units.INCH
    keys: list[str] = []
    documents: dict[tuple[str, ...], Mapping[str, Plain]] = {}
    gear: dict[str, list[dict[str, Plain]]] = {"indicators": [dict(card) for card in answers.indicators]}
    stations = []
    for i, station in enumerate(answers.stations):
        made = _station(station, units, f"stations[{i}]")
        if any(station.name == other.name for other in answers.stations[:i]):
            raise NonnaError(
                "out-of-range", "{name}: there are two stations of that name.", f"stations[{i}].name", name=station.name
            )
        key = new_id(station.name, keys)
        keys.append(key)
        documents["machines", f"{key}.json"] = _whole(Machine, made.machine, f"stations[{i}]")
        tools: dict[str, Plain] = {"format": "nonna-tools/1", "tools": [tool.model_dump() for tool in station.tools]}
        documents["tools", f"{key}.json"] = _whole(Tools, tools, f"stations[{i}].tools")
        for group, cards in made.gear.items():
            gear.setdefault(group, []).extend(dict(card) for card in cards)
        stations.append(
            {
                "name": station.name,
                "kind": station.kind,
                "assumed": made.machine.get("assumed", []),
                "open": list(made.open),
            }
        )
    masters = [_as_far_as_known(card) for card in _named(answers.masters, "masters")]
    documents["masters.json",] = _whole(Shelf, {"format": "nonna-masters/1", "masters": masters}, "")
    documents["gear.json",] = _whole(
        Gear, {"format": "nonna-gear/1", **{group: _named(cards, group) for group, cards in gear.items()}}, ""
    )
    shop: dict[str, Plain] = {
        "format": "nonna-shop/1", "name": answers.shop, "operators": answers.operators, "machines": keys,
        "temperature_c": answers.temperature_c, "temperature_u_c": answers.temperature_u_c,
    }  # fmt: skip
    documents["shop.json",] = _whole(Shop, shop, "")  # last: a folder without it is no shop yet
    certified = [MasterCard.model_validate(card) for card in masters]
    return Founding(
        documents, {"shop": answers.shop, "stations": stations, "masters": [_follows(each) for each in certified]}
    )


def questions(kind: str) -> list[dict[str, Plain]]:
    """Return what a kind of station asks, as data. Raises: NonnaError (it asks nothing yet)."""
    return [
        {
            "key": q.key, "question": q.words, "where": q.where, "why": q.why, "sort": q.sort,
            "unit": UNIT.get(q.sort, ""),
            "usual": q.usual, "needed": q.needed, "choices": list(q.choices),
        }
        for q in _asking(kind, "kind").questions
    ]  # fmt: skip


def understood(question: SetUpQuestion, said: Answer | None, units: Units) -> Answer | None:
    """Return an answer as numbers in mm, None for "I don't know yet".

    Raises: NonnaError ``not-a-number`` or ``out-of-range`` with the question's key; a likely slip is named.
    """
    if said is None or said == "":
        return None
    if question.sort in ("text", "date"):
        return _words(question, str(said))
    if question.sort == "yes":
        words = {"yes": True, "no": False, "true": True, "false": False}
        answer = words.get(said.strip().lower()) if isinstance(said, str) else said
        if not isinstance(answer, bool):
            raise NonnaError("not-a-number", "{words} Yes or no.", question.key, words=question.words)
        return answer
    if question.sort == "choice":
        if said not in question.choices:
            raise NonnaError(
                "out-of-range",
                "{words} One of: {names}.",
                question.key,
                words=question.words,
                names=", ".join(question.choices),
            )
        return str(said)
    if isinstance(said, bool):
        raise NonnaError("not-a-number", "{words} A number is wanted.", question.key, words=question.words)
    value = _number(question, said, units)
    if not question.least <= value <= question.most:
        raise NonnaError("out-of-range", _doubt(question, value, units), question.key)
    return value


def _words(question: SetUpQuestion, said: str) -> str:
    text = " ".join(said.split())
    if not text or len(text) > LONGEST or not text.isprintable():
        raise NonnaError(
            "out-of-range", "{words} 1 to {most} letters.", question.key, words=question.words, most=LONGEST
        )
    if question.sort == "date":
        try:
            return date.fromisoformat(text).isoformat()
        except ValueError as error:
            raise NonnaError(
                "wrong-format", "{words} As year-month-day, 2027-05-30.", question.key, words=question.words
            ) from error
    return text


def _number(question: SetUpQuestion, said: float | str, units: Units) -> float:
    text = said if isinstance(said, str) else repr(float(said))
    try:
        if question.sort == "length":
            parts = text.split(";") if question.sides else [text]
            if len(parts) > SIDES:
                words = "One reading over the middle, or two from its sides."
                raise NonnaError("not-a-number", words, question.key)
            return sum(parse_length(part, units) for part in parts) / len(parts)
        plain = parse_number(text, "", question.key)
    except NonnaError as error:
        raise NonnaError(
            error.code, "{words} {words_2}", question.key, words=question.words, words_2=error.message
        ) from error
    return plain / units.scale if question.sort in SCALED else plain


def _doubt(question: SetUpQuestion, value: float, units: Units) -> str:
    """Say that an answer cannot be, and what slip would explain it."""
    scale, unit = (
        (units.scale, UNIT.get(question.sort, "")) if question.sort in SCALED else (1.0, UNIT.get(question.sort, ""))
    )
    if not units.metric:
        unit = unit.replace("mm", "in")

    def shown(x: float) -> str:
        text = number(x * scale, 3).rstrip("0").rstrip(".") if abs(x * scale) >= 0.1 else f"{x * scale:.4g}"
        return f"{text} {unit}".strip()

    said = f"{question.words} {shown(value)} cannot be: {shown(question.least)} to {shown(question.most)}."
    likely = [
        f"{words}, {shown(value * factor)}"
        for factor, words in _slips(question, units)
        if question.least <= value * factor <= question.most
    ]
    return f"{said} Was it read {', or '.join(likely)}?" if likely else said


def _slips(question: SetUpQuestion, units: Units) -> Iterator[tuple[float, str]]:
    """Return the slips an answer can be explained by: what to multiply it with, and how it was read."""
    if question.sort == "feed":
        yield METRES
    if question.sort in SCALED:
        yield IN_INCHES if units.metric else IN_MILLIMETRES
    if question.sort == "length" and question.most <= FINE_MM:
        yield 1e-3 if units.metric else 1e-3 / MM_PER_INCH, "in micrometres"
        return  # a point elsewhere would explain as much, and is less likely
    yield from POINT


def _station(station: StationAnswers, units: Units, where: str) -> Founded:
    kind = _asking(station.kind, f"{where}.kind")
    by_key = {q.key: q for q in kind.questions}
    for key in station.answers:
        if key not in by_key:
            raise NonnaError(
                "unknown-field",
                "{name}: nothing called {value!r} is asked.",
                f"{where}.answers.{key[:40]}",
                name=station.name,
                value=key[:40],
            )
    try:
        answers = {key: understood(by_key[key], said, units) for key, said in station.answers.items()}
        assert kind.founded is not None
        return kind.founded(station.kind, station.name, answers)
    except NonnaError as error:
        raise NonnaError(
            error.code, "{name}: {words}", f"{where}.answers.{error.where}", name=station.name, words=error.message
        ) from error


def _asking(key: str, where: str) -> StationKind:
    kind = kind_of(key)
    if kind.key != key or not kind.questions or kind.founded is None:
        raise NonnaError(
            "out-of-range", "A station of kind {value!r} cannot be set up by questions yet.", where, value=key[:40]
        )
    return kind


def _named(cards: Sequence[Mapping[str, Plain]], where: str) -> list[dict[str, Plain]]:
    """Give each card its id. Raises: NonnaError (a card without a name)."""
    made: list[dict[str, Plain]] = []
    for i, card in enumerate(cards):
        name = str(card.get("name", "")).strip()
        if not name:
            raise NonnaError("missing-field", "Give it a name that people here will know.", f"{where}[{i}].name")
        made.append({**card, "id": str(card.get("id") or new_id(name, [row["id"] for row in made]))})
    return made


def _whole(model: type[BaseModel], document: Document, where: str) -> Document:
    try:
        checked(model, dict(document))
    except NonnaError as error:
        raise NonnaError(error.code, error.message, ".".join(part for part in (where, error.where) if part)) from error
    return document


def _as_far_as_known(card: dict[str, Plain]) -> dict[str, Plain]:
    """A master without any U is a constant, not a standard: nobody may take it for traceable by an oversight."""
    stated = card.get("U_length_mm") or card.get("U_diameter_mm")
    return card if stated or "traceable" in card else {**card, "traceable": False}


def _follows(card: MasterCard) -> dict[str, Plain]:
    """Say what follows from what a master's card leaves out."""
    notes = []
    if not (card.U_length_mm or card.U_diameter_mm):
        notes.append("no U: lengths will agree with each other only (relative school)")
    if not card.due:
        notes.append("no date: never due")
    if not card.cte_per_k:
        notes.append("no expansion: taken as if always at its reference temperature")
    return {"name": card.name, "follows": notes}

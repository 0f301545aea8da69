"""What a shop decides for itself: its limits and rules, how long its links hold. What decides verdicts is signed."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from nonna.bench.book.chain import Receipt
from nonna.bench.book.writing import Signature, event
from nonna.bench.form_fields import asked_in
from nonna.bench.ports import ShopFiles
from nonna.bench.shelf.card_signing import signed_change
from nonna.errors import NonnaError
from nonna.procedures.catalogue import procedure
from nonna.procedures.listing import PROCEDURES
from nonna.shop.cards.masters import Shop
from nonna.shop.cards.rules import Rules
from nonna.shop.records.values import CardChange, Event
from nonna.shop.texts.given import Document, Given, Plain
from nonna.shop.texts.strict_model import checked
from nonna.wording.lengths import Units, small

FILE, EVENT = "rules.json", "rules-changed"
_FRESH = {"format": "nonna-rules/1"}


@dataclass(frozen=True, slots=True)
class LimitRow:
    """One limit that a shop may decide."""

    procedure: str
    field: str
    title: str
    unit: str
    usual: float | None  #: what the sheet offers where the shop said nothing; None: no limit
    own: float | None
    decided: bool  #: whether the shop said anything (None then means: no limit)

    @property
    def value(self) -> float | None:
        """What counts."""
        return self.own if self.decided else self.usual


def with_limits(name: str, setup: Mapping[str, Plain], own: Mapping[str, float | None]) -> dict[str, Plain]:
    """Return what a procedure offers with the shop's own limits; None takes a limit away.

    Raises: NonnaError ``unknown-field`` (the file names what is no limit of that procedure).
    """
    _known({name: own})
    merged = {**setup, **own}
    return {name: value for name, value in merged.items() if value is not None or name not in own}


def limits_of(rules: Rules, kind: str) -> Iterator[LimitRow]:
    """Yield every limit of the sheets that a kind of station has, by title of the sheet."""
    for name in sorted(PROCEDURES, key=lambda n: PROCEDURES[n].title):
        if PROCEDURES[name].kind not in ("", kind):
            continue
        found, own = procedure(name), rules.limits.get(name, {})
        for asked in asked_in(found.setup_model):
            if asked.name.startswith("limit"):
                usual = Given(found.offered).number(asked.name)
                yield LimitRow(
                    name, asked.name, asked.title, asked.unit or "mm", usual, own.get(asked.name), asked.name in own
                )


def decide(
    folder: ShopFiles, limits: Mapping[str, Mapping[str, float | None]], rule: Mapping[str, str], signature: Signature,
    base: Rules | None = None,
) -> Receipt | None:  # fmt: skip
    """Take limits and rules over, by procedure, and sign what changed into the book; None where nothing did.

    Parameters: base, the rules as they were shown: what others changed since is not written over.
    Raises: NonnaError naming the field (``limits.PROCEDURE.FIELD``), or saying why it could not be written or signed;
    the rules are then as they were.
    """

    def made(old: Given) -> Document:
        _as_shown(old, base)
        all_limits = Given({**old.part("limits"), **limits})
        kept = {name: all_limits.part(name) for name, rows in all_limits.items() if rows}
        _known(kept)
        merged = {**old, "limits": kept, "rule": {**old.part("rule"), **rule}}
        return checked(Rules, merged).model_dump(mode="json")

    before = folder.rules()

    def said(after: Rules, changes: Sequence[CardChange]) -> Event | None:
        note = "; ".join(_differences(before, after))
        return event(EVENT, signature, note, changes) if note else None

    return signed_change(folder, signature, lambda f: checked(Rules, f.change((FILE,), made, _FRESH)), said)[1]


def may_sign(folder: ShopFiles, names: Sequence[str], signature: Signature) -> Receipt | None:
    """Take over who may sign, and sign that into the book; None where it is as it was.

    Raises: NonnaError ``operators`` (nobody would be left), or saying why it could not be written or signed.
    """
    wanted = list(dict.fromkeys(name.strip() for name in names if name.strip()))
    if not wanted:
        raise NonnaError("missing-field", "Somebody has to sign: name one at least.", "operators")
    before = folder.shop().operators
    if wanted == before:
        return None

    def made(old: Given) -> Document:
        new = {**old, "operators": wanted}
        checked(Shop, new)
        return new

    words = f"Who may sign: {', '.join(before)} → {', '.join(wanted)}"
    return signed_change(
        folder,
        signature,
        lambda f: f.change(("shop.json",), made),
        lambda _, changes: event(EVENT, signature, words, changes),
    )[1]


def keep(
    folder: ShopFiles, station: str, links: Mapping[str, Mapping[str, Plain]], signature: Signature,
    base: Rules | None = None
) -> Receipt | None:  # fmt: skip
    """Take over what a shop changes of a station's links, and sign it; what is empty there is as its kind has it again.

    Parameters: base, as in `decide`.
    Raises: NonnaError naming the field (``links.STATION.LINK.FIELD``), or saying why it cannot be written or signed.
    """

    def made(old: Given) -> Document:
        _as_shown(old, base)
        rows = {key: {n: v for n, v in row.items() if v not in (None, "", [])} for key, row in links.items()}
        there = {**old.part("links"), station: {key: row for key, row in rows.items() if row}}
        return checked(Rules, {**old, "links": there}).model_dump(mode="json")

    return signed_change(folder, signature, lambda f: f.change((FILE,), made, _FRESH))[1]


def _as_shown(old: Plain, base: Rules | None) -> None:
    if base is not None and checked(Rules, old) != base:
        words = "The rules were changed in another window meanwhile. Close the settings and look at them again."
        raise NonnaError("out-of-range", words, "rules")


def _known(limits: Mapping[str, Mapping[str, Plain]]) -> None:
    for name, rows in limits.items():
        fields = procedure(name).setup_model.model_fields if name in PROCEDURES else {}
        for field in rows:
            if field not in fields or not field.startswith("limit"):
                words = "rules.json: {name} has no limit called {field}."
                raise NonnaError("unknown-field", words, f"limits.{name}.{field}", name=name[:60], field=field[:60])


def _differences(before: Rules, after: Rules) -> Iterator[str]:
    for name in sorted({*before.limits, *after.limits}):
        old, new = before.limits.get(name, {}), after.limits.get(name, {})
        found = procedure(name)
        for field in sorted({*old, *new}):
            usual = Given(found.offered).number(field)
            was, now = (rows.get(field, usual) for rows in (old, new))
            if was != now:
                yield (
                    f"{found.title}, {found.setup_model.model_fields[field].title}: {_words(field, was)} → "
                    f"{_words(field, now)}"
                )
    for name in sorted({*before.rule, *after.rule}):
        was_rule, now_rule = before.rule.get(name, "guarded"), after.rule.get(name, "guarded")
        if was_rule != now_rule:
            yield f"{procedure(name).title}: {was_rule} → {now_rule}"


def _words(field: str, value: float | None) -> str:
    if value is None:
        return "no limit"
    return small(value, Units.MM) if field.endswith("_mm") else f"{value:g}"

"""What a shop's cards were when somebody last signed them, and what was changed in the files since."""

from __future__ import annotations

import copy
from collections.abc import Sequence
from typing import TYPE_CHECKING, TypeAlias, cast

from nonna.bench.book.book import Book
from nonna.bench.ports import ShopFiles
from nonna.errors import NonnaError
from nonna.shop.records.values import CARD, CardChange, CardsChanged, Event
from nonna.shop.texts.given import Document, Plain

if TYPE_CHECKING:
    from pydantic import JsonValue

ALSO_CHANGE = ("rules-changed",)  #: events that say with old and new what they changed of the cards
_OF_THE_SHOP = ("masters.json", "gear.json", "rules.json", "shop.json")
_READ_DAILY = ("format", "temperature_c", "temperature_u_c", "temperature_at")  #: readings, not what a card says

Fields: TypeAlias = "dict[str, JsonValue]"  #: values of one file by their path, such as ``masters.ring-50.diameter_mm``


def flat(document: Plain) -> Fields:
    """Return what a file says, field by field; what is empty says nothing. Lists of cards go by the cards' ids."""
    found: Fields = {}
    _flatten(document, "", found)
    return found


def _flatten(value: Plain, path: str, found: Fields) -> None:
    if isinstance(value, dict):
        for name, each in value.items():
            if path or name not in _READ_DAILY:
                _flatten(each, f"{path}.{name}" if path else name, found)
    elif isinstance(value, list) and value and all(isinstance(each, dict) and "id" in each for each in value):
        for each in value:
            _flatten({name: v for name, v in each.items() if name != "id"}, f"{path}.{each['id']}", found)
    elif value not in (None, "", [], {}):
        found[path] = cast("JsonValue", value)


def differences(file: str, old: Fields, new: Fields) -> tuple[CardChange, ...]:
    """Return what is not alike in two states of a file, by field."""
    return tuple(
        CardChange(file=file, field=field, old=old.get(field), new=new.get(field))
        for field in sorted({*old, *new})
        if not _alike(old.get(field), new.get(field))
    )


def _alike(old: Plain, new: Plain) -> bool:
    return bool(old == new) and isinstance(old, bool) == isinstance(new, bool)  # True is no 1 on a card


def as_they_stand(folder: ShopFiles) -> dict[str, Fields]:
    """Return what every card file of a shop says now. Raises: NonnaError naming a file that cannot be read."""
    return {file: flat(folder.document(*file.split("/"))) for file in _files(folder)}


def _files(folder: ShopFiles) -> list[str]:
    keys = folder.shop().machines
    return [f for f in (*_OF_THE_SHOP, *(f"machines/{key}.json" for key in keys)) if folder.has(*f.split("/"))]


def as_signed(book: Book) -> dict[str, Fields]:
    """Return what the cards were when somebody last signed them; nothing where nobody ever did. Raises: NonnaError."""
    found: dict[str, Fields] = {}
    read = None
    for entry in book.entries():
        if entry.kind == CARD or entry.name in ALSO_CHANGE:
            read = read or book.reader()
            record = read(entry.number)
            for change in record.cards if isinstance(record, (CardsChanged, Event)) else ():
                fields = found.setdefault(change.file, {})
                fields.pop(change.field, None)
                if change.new is not None:
                    fields[change.field] = change.new
    return found


def is_begun(book: Book) -> bool:
    """Whether the cards of this shop were ever signed. Raises: NonnaError."""
    return any(entry.kind == CARD for entry in book.entries())


def changed_outside(folder: ShopFiles) -> tuple[CardChange, ...]:
    """Return what stands in the files otherwise than it was signed last (old: signed, new: now). Raises: NonnaError."""
    if not folder.has_files or not is_begun(folder.book):
        return ()
    signed = as_signed(folder.book)
    found: list[CardChange] = []
    for file in sorted({*signed, *_files(folder)}):
        parts = file.split("/")
        try:
            now = flat(folder.document(*parts)) if folder.has(*parts) else {}
        except NonnaError as error:
            found.append(CardChange(file=file, field="", old=None, new=error.message))
        else:
            found += differences(file, signed.get(file, {}), now)
    return tuple(found)


def with_values(document: Document, values: Document) -> Document:
    """Return a file's content with some fields, by their path, as they are given; None takes a field out.

    Raises: NonnaError (there is no such place in the file any more).
    """
    made = cast("dict[str, JsonValue]", copy.deepcopy(dict(document)))
    for path, value in values.items():
        _put(made, path, cast("JsonValue", value))
    if any(flat(made).get(path) != value for path, value in values.items()):
        raise NonnaError("unreadable", "That cannot be put back by itself. Fetch the file from a copy.", "cards")
    return made


def _put(at: JsonValue, path: str, value: JsonValue) -> None:
    """Put a value where a path leads, through objects and through lists of cards by their ids."""
    if isinstance(at, list):
        names = [str(each.get("id")) if isinstance(each, dict) else "" for each in at]
        name, left = _step(names, path)
        if name not in names:
            at.append({"id": name})
            names.append(name)
        _put(at[names.index(name)], left, value)
    elif isinstance(at, dict):
        name, left = _step(list(at), path)
        if left:
            _put(at.setdefault(name, {}), left, value)
        elif value is None:
            at.pop(name, None)
        else:
            at[name] = value


def _step(names: Sequence[str], path: str) -> tuple[str, str]:
    """Return the next of some names on a path, and the path left; names of stations may hold dots."""
    whole = [name for name in names if path == name or path.startswith(f"{name}.")]
    name = max(whole, key=len, default=path.partition(".")[0])
    return name, path[len(name) + 1 :]

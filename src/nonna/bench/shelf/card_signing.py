"""Change a shop's cards so that the book knows: each change is signed with old and new, or the files are as they
were.
"""

from __future__ import annotations

import copy
from collections.abc import Callable, Mapping, Sequence
from typing import TypeVar, cast

from nonna.bench.book.chain import Receipt
from nonna.bench.book.writing import Signature, card_change
from nonna.bench.ports import ShopFiles
from nonna.bench.shelf.card_trail import (
    Fields,
    as_they_stand,
    changed_outside,
    differences,
    flat,
    is_begun,
    with_values,
)
from nonna.errors import NonnaError
from nonna.shop.records.values import CardChange, CardsChanged, Record
from nonna.shop.texts.given import Document, Given

BEGUN, CHANGED, TAKEN_OVER, PUT_BACK = "cards-begun", "card-changed", "card-taken-over", "card-put-back"
NEW_FROM = 2  #: fields of which none was there before, before a card is called new
LONGEST_NOTE = 900  #: letters; the record itself holds every field
T = TypeVar("T")


class _Watched:
    """A shop's files; what is changed through them is remembered as it was and as it became."""

    def __init__(self, folder: ShopFiles) -> None:
        self._folder = folder
        self.seen: list[tuple[tuple[str, ...], Given, Given]] = []

    def __getattr__(self, name: str) -> object:
        return getattr(self._folder, name)

    def change(self, parts: tuple[str, ...], make: Callable[[Given], Document], fresh: Document | None = None) -> Given:
        """Change a file as its folder does, and remember that."""
        held: list[Given] = []

        def made(old: Given) -> Document:
            held.append(copy.deepcopy(old))
            return make(old)

        new = self._folder.change(parts, made, fresh)
        self.seen.append((parts, held[-1], copy.deepcopy(new)))
        return new

    def changes(self) -> tuple[CardChange, ...]:
        """Return what the cards say otherwise now; tables of tools are no cards."""
        return tuple(
            change
            for parts, old, new in self.seen
            if parts[0] != "tools"
            for change in differences("/".join(parts), flat(old), flat(new))
        )

    def put_back(self) -> None:
        """Make the files what they were, where nobody else changed them since."""
        for parts, old, new in reversed(self.seen):
            if old:  # a file that was not there stays: nothing names it any more
                self._folder.change(parts, lambda now, old=old, new=new: old if now == new else now)  # type: ignore[misc]


def signed_change(
    folder: ShopFiles,
    signature: Signature,
    act: Callable[[ShopFiles], T],
    made: Callable[[T, Sequence[CardChange]], Record | None] = lambda found, changes: None,
) -> tuple[T, Receipt | None]:
    """Change cards and sign what changed; return what ``act`` returns and the receipt, None where nothing changed.

    Parameters: act, changes files of the folder it is given; made, the record of what ``act`` returned and the changes,
    where it is a special one (an event).
    Raises: NonnaError (whatever ``act`` raises; or it could not be signed: the files are then as they were).
    """
    standing = {} if is_begun(folder.book) else as_they_stand(folder)
    watched = _Watched(folder)
    try:
        found = act(cast("ShopFiles", watched))
        changes = watched.changes()
        record = made(found, changes)
        if record is None and not changes:
            return found, None
        record = record or card_change(CHANGED, signature, in_words(changes), changes)
        records = [begun(standing, signature), record] if standing else [record]
        return found, folder.book.sign(records)[-1]
    except NonnaError:
        watched.put_back()
        raise


def begun(standing: Mapping[str, Fields], signature: Signature) -> CardsChanged:
    """Return the record of how the cards stood when the book began to keep them."""
    changes = [change for file, fields in standing.items() for change in differences(file, {}, fields)]
    words = f"The cards as they stood: {', '.join(standing)}."
    return card_change(BEGUN, signature, words, changes)


def take_over(folder: ShopFiles, changes: Sequence[CardChange], signature: Signature) -> Receipt:
    """Sign what was changed outside, just as it was shown, as it stands now.

    Raises: NonnaError (it is not as it was shown any more, or cannot be signed).
    """
    _as_shown(folder, changes)
    (receipt,) = folder.book.sign([card_change(TAKEN_OVER, signature, in_words(changes), changes)])
    return receipt


def put_back(folder: ShopFiles, changes: Sequence[CardChange], signature: Signature) -> Receipt | None:
    """Write what was changed outside back as it was signed last, and sign that too.

    Raises: NonnaError (it is not as it was shown any more, has no place in its file, or cannot be signed).
    """
    _as_shown(folder, changes)

    def act(watched: ShopFiles) -> None:
        for file in dict.fromkeys(change.file for change in changes):
            values = {change.field: change.old for change in changes if change.file == file}
            watched.change(tuple(file.split("/")), lambda now, values=values: with_values(now, values))  # type: ignore[misc]

    words = in_words([c.model_copy(update={"old": c.new, "new": c.old}) for c in changes])
    return signed_change(folder, signature, act, lambda _, made: card_change(PUT_BACK, signature, words, made))[1]


def _as_shown(folder: ShopFiles, changes: Sequence[CardChange]) -> None:
    if tuple(changes) != changed_outside(folder):
        words = "The files were changed once more meanwhile. Look at it again."
        raise NonnaError("out-of-range", words, "cards")
    unread = next((change for change in changes if not change.field), None)
    if unread is not None:
        raise NonnaError("unreadable", "{words} Fetch the file from a copy first.", "cards", words=unread.words)


def in_words(changes: Sequence[CardChange]) -> str:
    """Return changes as one line for the book; what is new as a whole is named as a whole."""
    by_card: dict[tuple[str, str], list[CardChange]] = {}
    for change in changes:
        by_card.setdefault((change.file, change.card), []).append(change)
    said: list[str] = []
    for (file, card), those in by_card.items():
        new = len(those) > NEW_FROM and all(change.old is None for change in those)
        said += [f"{file}{', ' if card else ''}{card}: new"] if new else [change.words for change in those]
    words = "; ".join(said)
    return words if len(words) <= LONGEST_NOTE else f"{words[:LONGEST_NOTE].rpartition('; ')[0]}; and more"

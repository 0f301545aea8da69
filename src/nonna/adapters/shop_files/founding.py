"""Write a new shop's folder: whole or not at all."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path

from nonna.adapters.files.safe_folder import is_taken, made_whole
from nonna.adapters.files.safe_write import write_text
from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.errors import NonnaError
from nonna.shop.texts.given import Plain


def write_shop(target: Path, documents: Mapping[tuple[str, ...], Mapping[str, Plain]]) -> ShopFolder:
    """Write a shop's files beside the folder and move them in, ``shop.json`` last.

    Parameters: target, a folder that is missing or empty. Raises: NonnaError ``unreadable`` (it holds something, or
    cannot be written; nothing is left then).
    """
    with new_folder(target) as beside:
        for parts, document in documents.items():
            path = beside.joinpath(*parts)
            path.parent.mkdir(parents=True, exist_ok=True)
            write_text(path, json.dumps(document, ensure_ascii=False, indent=1) + "\n")
    return ShopFolder(target)


@contextmanager
def new_folder(target: Path) -> Iterator[Path]:
    """Give a folder to be filled that becomes a new shop's, whole or not at all.

    Parameters: target, missing or empty. Raises: NonnaError ``unreadable`` (it holds something, or cannot be written).
    """
    words = f"{target.name[:60]!r}"
    try:
        if is_taken(target):
            raise NonnaError(
                "unreadable", "{words} is not empty: a new shop wants a folder of its own.", "shop", words=words
            )
        target.parent.mkdir(parents=True, exist_ok=True)
        with made_whole(target) as beside:
            yield beside
    except OSError as error:
        raise NonnaError(
            "unreadable", "{words} was not set up: {value}.", "shop", words=words, value=error.strerror or error
        ) from error

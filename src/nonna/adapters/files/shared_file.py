"""Change a shop's JSON file that others may change too: read, change, write, with nobody in between."""

from __future__ import annotations

import fcntl
import json
import os
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING

from nonna.adapters.files.safe_write import write_text
from nonna.errors import NonnaError
from nonna.shop.texts.given import Document, Given

if TYPE_CHECKING:
    from nonna.bench.ports import ShopFiles

LOCK = ".lock"


def change(
    folder: ShopFiles, parts: tuple[str, ...], make: Callable[[Given], Document], fresh: Document | None = None
) -> Given:
    """Replace a file by what ``make`` makes of what it holds now, and return that; equal content is not written.

    Parameters: parts, of the path within the shop; fresh, what a file that is not there holds; None: it must be there.
    Raises: NonnaError (it cannot be read or written; whatever ``make`` raises leaves the file as it is).
    """
    path = folder.root.joinpath(*parts)
    with _alone(folder):
        there = path.exists()
        old = folder.document(*parts) if there or fresh is None else Given(fresh)
        new = Given(make(old))
        if new != old or not there:
            try:
                path.parent.mkdir(exist_ok=True)
            except OSError as error:
                raise NonnaError(
                    "unreadable", "{name}: {strerror}.", "shop", name=path.parent.name, strerror=error.strerror
                ) from error
            write_text(path, json.dumps(new, ensure_ascii=False, indent=1) + "\n")
    return new


@contextmanager
def _alone(folder: ShopFiles) -> Iterator[None]:
    """Hold the shop's lock; other windows and processes wait."""
    try:
        handle = os.open(folder.root / LOCK, os.O_CREAT | os.O_RDWR, 0o666)
    except OSError as error:
        raise NonnaError(
            "unreadable", "The shop's folder cannot be written: {strerror}.", "shop", strerror=error.strerror
        ) from error
    try:
        fcntl.flock(handle, fcntl.LOCK_EX)
        yield
    finally:
        os.close(handle)

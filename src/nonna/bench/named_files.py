"""What the desk keeps in a shop's folder by a name: one object a file."""

from __future__ import annotations

from typing import TypeVar

from pydantic import BaseModel

from nonna.bench.ports import ShopFiles
from nonna.errors import NonnaError
from nonna.shop.texts.given import Given
from nonna.shop.texts.strict_model import checked

M = TypeVar("M", bound=BaseModel)


def named_file(folder: ShopFiles, name: str) -> Given:
    """Return what a file holds, nothing where it is not there. Raises: NonnaError naming the file."""
    if not folder.has(name):
        return Given({})
    return folder.document(name)


def checked_in(name: str, model: type[M], row: object) -> M:
    """Check what a file keeps against a model. Raises: NonnaError naming the file and the place in the row."""
    try:
        return checked(model, row)
    except NonnaError as error:
        raise NonnaError(error.code, "{name}: {words}", error.where, name=name, words=error.message) from error

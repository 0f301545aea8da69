"""Which dialects there are: each folder here is one."""

from __future__ import annotations

from nonna.errors import NonnaError
from nonna.folders import brought_by, folders_of
from nonna.programs.language.dialect import Dialect

HOME = "nonna.programs.dialects"
_FIRST = "rs274"  #: the published language comes first


def dialects() -> tuple[Dialect, ...]:
    """Return all of them, the usual one first."""
    keys = sorted((folder.name for folder in folders_of(HOME)), key=lambda key: (key != _FIRST, key))
    return tuple(brought_by(HOME, key, "DIALECT", Dialect) for key in keys)


def dialect_of(key: str) -> Dialect:
    """Return a dialect by its name. Raises: NonnaError ``out-of-range`` (there is none of that name)."""
    for each in dialects():
        if each.key == key:
            return each
    names = ", ".join(each.key for each in dialects())
    raise NonnaError("out-of-range", "dialect: {names} are known, not {key!r}.", "dialect", names=names, key=key[:40])


def dialect_for(text: str, asked: Dialect) -> Dialect:
    """Return what a strange program is read in: the dialect asked for, or one that searches by a word found in it."""
    if asked.skips:
        return asked
    upper = text.upper()
    return next((each for each in dialects() if each.skips and each.search_word in upper), asked)


def stopping() -> Dialect:
    """Return a dialect in which a program looks for itself and stops. Raises: NonnaError (there is none)."""
    for each in dialects():
        if each.skips and each.jumps:
            return each
    raise NonnaError("unsupported", "No dialect here can compare: a check cannot stop a program by itself.", "dialect")


USUAL = dialects()[0]  #: where nobody chose one

"""Things that are a folder each: found where they lie, and named in no list."""

from __future__ import annotations

from functools import cache
from importlib import import_module
from importlib.util import find_spec
from pathlib import Path
from typing import TypeVar

T = TypeVar("T")


def folders_of(package: str) -> tuple[Path, ...]:
    """Return the folders of a package that are packages themselves, by name. None of them is imported."""
    spec = find_spec(package)
    return _folders_in(tuple(spec.submodule_search_locations or ()) if spec else ())


@cache  # asked for with every look at a station
def _folders_in(places: tuple[str, ...]) -> tuple[Path, ...]:
    return tuple(file.parent for place in places for file in sorted(Path(place).glob("*/__init__.py")))


def brought_by(package: str, folder: str, name: str, kind: type[T]) -> T:
    """Return what a folder brings along under a name. Raises: TypeError (it is something else)."""
    found = getattr(import_module(f"{package}.{folder}"), name)
    if not isinstance(found, kind):
        raise TypeError(f"{package}.{folder}: {name} is no {kind.__name__}")
    return found

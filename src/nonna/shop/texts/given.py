"""What a JSON object gives, by field: plain values, each asked for as what it should be."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TypeAlias, overload

Plain: TypeAlias = "bool | int | float | str | Sequence[Plain] | Mapping[str, Plain] | None"
Document: TypeAlias = "Mapping[str, Plain]"  #: a JSON object
Row: TypeAlias = "dict[str, Plain]"  #: values that stand beside each other, a reading as a machine gives it


def as_number(value: Plain) -> float:
    """Return a number that must stand there. Raises: TypeError, ValueError."""
    if not isinstance(value, (int, float, str)):
        raise TypeError(f"{value!r} is no number")
    return float(value)


def _object(name: str, value: Plain) -> Given:
    if not isinstance(value, Mapping):
        raise TypeError(f"{name}: {value!r} is no object")
    return Given(value)


class Given(dict[str, "Plain"]):
    """A JSON object that was checked elsewhere, or is still to be; a field that is absent or null gives what is usual.

    Each accessor raises TypeError or ValueError where something else stands there. Nobody changes one.
    """

    __slots__ = ()

    @overload
    def number(self, name: str) -> float | None: ...
    @overload
    def number(self, name: str, usual: float) -> float: ...
    def number(self, name: str, usual: float | None = None) -> float | None:
        """Return a number."""
        value = self.get(name)
        return usual if value is None else as_number(value)

    def needed(self, name: str) -> float:
        """Return a number that must be there. Raises: KeyError too."""
        return as_number(self[name])

    def text(self, name: str) -> str:
        """Return a text that must be there. Raises: KeyError."""
        return str(self[name])

    def objects(self, name: str) -> tuple[Given, ...]:
        """Return the objects of a list that must be there. Raises: KeyError too."""
        if (there := self[name]) is None:
            raise TypeError(f"{name} is no list")
        return tuple(_object(name, row) for row in self._list(name, there))

    def word(self, name: str, usual: str = "") -> str:
        """Return a text."""
        value = self.get(name)
        return usual if value is None else str(value)

    def flag(self, name: str, usual: bool = False) -> bool:
        """Return yes or no."""
        value = self.get(name)
        return usual if value is None else bool(value)

    def part(self, name: str) -> Given:
        """Return an object inside, empty where there is none."""
        value = self.get(name)
        if value is None:
            return Given({})
        return _object(name, value)

    def rows(self, name: str) -> tuple[Given, ...]:
        """Return the objects of a list."""
        return self.objects(name) if self.get(name) is not None else ()

    def numbers(self, name: str) -> tuple[float, ...]:
        """Return a list of numbers."""
        return tuple(as_number(value) for value in self._list(name, self.get(name)))

    def words(self, name: str) -> tuple[str, ...]:
        """Return a list of texts."""
        return tuple(str(value) for value in self._list(name, self.get(name)))

    def _list(self, name: str, value: Plain) -> Sequence[Plain]:
        if value is None:
            return ()
        if isinstance(value, str) or not isinstance(value, Sequence):
            raise TypeError(f"{name} is no list")
        return value

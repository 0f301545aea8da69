"""What a JSON object gives, by field: plain values, each asked for as what it should be."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import TypeAlias, overload

Plain: TypeAlias = "bool | int | float | str | Sequence[Plain] | Mapping[str, Plain] | None"
Row: TypeAlias = "dict[str, Plain]"  #: values that stand beside each other, a reading as a machine gives it


def as_number(value: Plain) -> float:
    """Return a number that must stand there. Raises: TypeError, ValueError."""
    if not isinstance(value, (int, float, str)):
        raise TypeError(f"{value!r} is no number")
    return float(value)


class Given(Mapping[str, "Plain"]):
    """A JSON object that was checked elsewhere, or is still to be; a field that is absent or null gives what is usual.

    Each accessor raises TypeError or ValueError where something else stands there.
    """

    __slots__ = ("_values",)

    def __init__(self, values: Mapping[str, Plain]) -> None:
        self._values = dict(values)

    def __getitem__(self, name: str) -> Plain:
        """Return a field as it stands."""
        return self._values[name]

    def __iter__(self) -> Iterator[str]:
        """Go through the fields' names."""
        return iter(self._values)

    def __len__(self) -> int:
        """Count the fields."""
        return len(self._values)

    def __eq__(self, other: object) -> bool:
        """Whether another mapping gives the same."""
        return isinstance(other, Mapping) and self._values == dict(other)

    __hash__ = None  # type: ignore[assignment]  # what stands inside can be a list

    def __repr__(self) -> str:
        """Show the object."""
        return f"Given({self._values!r})"

    @overload
    def number(self, name: str) -> float | None: ...
    @overload
    def number(self, name: str, usual: float) -> float: ...
    def number(self, name: str, usual: float | None = None) -> float | None:
        """Return a number."""
        value = self._values.get(name)
        return usual if value is None else as_number(value)

    def word(self, name: str, usual: str = "") -> str:
        """Return a text."""
        value = self._values.get(name)
        return usual if value is None else str(value)

    def flag(self, name: str, usual: bool = False) -> bool:
        """Return yes or no."""
        value = self._values.get(name)
        return usual if value is None else bool(value)

    def part(self, name: str) -> Given:
        """Return an object inside, empty where there is none."""
        value = self._values.get(name)
        if value is None:
            return Given({})
        if not isinstance(value, Mapping):
            raise TypeError(f"{name} is no object")
        return Given(value)

    def rows(self, name: str) -> tuple[Given, ...]:
        """Return the objects of a list."""
        return tuple(Given(row) for row in self._list(name) if isinstance(row, Mapping))

    def numbers(self, name: str) -> tuple[float, ...]:
        """Return a list of numbers."""
        return tuple(float(value) for value in self._list(name) if isinstance(value, (int, float)))

    def words(self, name: str) -> tuple[str, ...]:
        """Return a list of texts."""
        return tuple(str(value) for value in self._list(name))

    def _list(self, name: str) -> Sequence[Plain]:
        value = self._values.get(name)
        if value is None:
            return ()
        if isinstance(value, str) or not isinstance(value, Sequence):
            raise TypeError(f"{name} is no list")
        return value

"""Coordinates as a machine or presetter shows them: X as a diameter or as a radius."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

from nonna.metrology.doubt.scatter import TouchScatter, touch_scatter
from nonna.procedures.inputs import Setup, asked

XShows = Literal["diameter", "radius"]


def x_shows() -> XShows:
    """Declare which of the two the display shows."""
    shown: XShows = asked("X shows", "", "What the display of the X axis means.", "diameter")
    return shown


def real_per_shown(axis: str, shows: XShows) -> float:
    """Return what turns a shown difference into a real one: 1/2 for an X shown on diameter, else 1."""
    return 0.5 if axis == "x" and shows == "diameter" else 1.0


def as_shown(axis: str, shows: str) -> str:
    """Return an axis with what its display means beside it: ``X ⌀``, ``X radius``, ``Z``."""
    if axis != "x":
        return axis.upper()
    return "X radius" if shows == "radius" else "X ⌀"


def shown_scatter(groups: Mapping[str, Sequence[float]], axis: str, shows: XShows, setup: Setup) -> TouchScatter:
    """Return how much one shown reading of an axis scatters, pooled within groups.

    A known repeatability is in real mm: where X is shown on diameter a reading scatters twice as much. The
    resolution is as shown. Raises: NoRepeatabilityError.
    """
    known = setup.history()
    known["history"] /= real_per_shown(axis, shows)
    return touch_scatter(list(groups.values()), **known)

"""Means of touches in groups, as uncertain numbers that share one estimate of scatter."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from nonna.metrology.doubt.scatter import AxisScatter, TouchScatter
from nonna.metrology.doubt.uncertain import Influences, Uncertain

TOUCH = "touch repeatability"  #: name of the source in every budget that rests on repeated touches


def enter_means(
    groups: Mapping[str, Sequence[float]], touch: TouchScatter, influences: Influences, source: str = TOUCH
) -> dict[str, Uncertain]:
    """Enter the mean of each group; those that rest on the same pooled scatter share its freedom.

    Parameters: groups, readings in mm by name, none empty. Raises: ValueError (scatter not finite).
    """
    by_dof: dict[float, list[tuple[str, float, float]]] = {}
    for name, values in groups.items():
        u, dof = touch.mean_u(len(values))
        by_dof.setdefault(dof, []).append((name, sum(values) / len(values), u))
    means: dict[str, Uncertain] = {}
    for dof, rows in by_dof.items():
        numbers = influences.add_together(source, [r[1] for r in rows], [r[2] for r in rows], dof)
        means.update({row[0]: number for row, number in zip(rows, numbers, strict=True)})
    return means


def enter_by_axis(
    groups: Mapping[str, Mapping[str, Sequence[float]]], scatter: AxisScatter, influences: Influences
) -> dict[str, Uncertain]:
    """Enter the mean of each group, those of an axis with the scatter of that axis.

    Parameters: groups, by axis the readings by name (mm), none empty. What rests on one history, or is borrowed, counts
    as one source; else each axis is its own, named after it where there are several. Raises: ValueError.
    """
    apart = {
        axis for axis, touch in scatter.by_axis.items()
        if len(groups) > 1 and not touch.from_history and axis not in scatter.borrowed
    }  # fmt: skip
    means: dict[str, Uncertain] = {}
    for axis in apart:
        means |= enter_means(groups[axis], scatter.by_axis[axis], influences, f"{TOUCH} in {axis.upper()}")
    together = {name: values for axis, rows in groups.items() if axis not in apart for name, values in rows.items()}
    if together:
        axis = next(a for a in groups if a not in apart)
        means |= enter_means(together, scatter.by_axis[axis], influences)
    return means


def axis_of_face(face: str) -> str:
    """Return the axis along which a face is touched: ``top`` is Z."""
    return "z" if face == "top" else face[-1]


def by_axis(groups: Mapping[str, Sequence[float]]) -> dict[str, dict[str, Sequence[float]]]:
    """Return groups of touches, named by their face or axis, by axis."""
    found: dict[str, dict[str, Sequence[float]]] = {}
    for face, values in groups.items():
        found.setdefault(axis_of_face(face), {})[face] = values
    return found

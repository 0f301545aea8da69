"""Means of touches in groups, as uncertain numbers that share one estimate of scatter."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from nonna.metrology.scatter import TouchScatter
from nonna.metrology.uncertain import Influences, Uncertain

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

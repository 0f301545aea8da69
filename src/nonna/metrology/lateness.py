"""How late a trigger is: the same plane touched at several feeds, and the line through what they show."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from nonna.errors import DegenerateGeometryError, NoRepeatabilityError, TooFewReadingsError
from nonna.metrology.doubt.scatter import touch_scatter
from nonna.metrology.doubt.uncertain import Estimate, Influences, Uncertain

LEAST_FEEDS, LEAST_TOUCHES = 3, 3
NOT_STRAIGHT = 1.2  #: a mean is off the line beyond so many of its U: of three straight ones 1 in 40 is doubted


@dataclass(frozen=True, slots=True)
class Lateness:
    """What touches at several feeds tell of a trigger."""

    late: Estimate  #: from contact to latched position, s; negative would be a contradiction
    plane: Estimate  #: where the plane would be found at no speed at all, mm
    jitter_s: float  #: standard deviation of the lateness, as far as faster touches scatter more; 0: they do not
    off_line: tuple[tuple[float, Estimate], ...]  #: by feed (mm/min): its mean minus the line, mm
    above_history: bool = False  #: at the slowest feed touches scatter more than the history allows

    @property
    def straight(self) -> bool:
        """Whether the means stand on one line, as one constant lateness would have them."""
        return all(abs(off.value) <= NOT_STRAIGHT * off.expanded for _, off in self.off_line)


def fit_lateness(
    touches: Mapping[float, Sequence[float]],
    *,
    towards: int = -1,
    resolution: float = 0.0,
    history: float = 0.0,
    history_dof: float = math.inf,
) -> Lateness:
    """Fit ``position = plane + towards * latency * feed`` through the means at each feed.

    Parameters: touches by feed (mm/min), positions in mm latched by the control; towards, +1 or -1, the sign of the
    motion along the axis; resolution of the display, mm; history and its degrees of freedom, what one touch is known to
    scatter by (mm) at the slowest feed: faster ones are judged by their own scatter alone, jitter makes it larger.
    Each feed has its own scatter, since jitter grows with speed: the line is that of plain least squares, its doubt is
    carried from each mean with its own degrees of freedom (B. L. Welch, Biometrika 34 (1947) 28-35). Feeds are exact.
    Raises: TooFewReadingsError, DegenerateGeometryError (feeds alike), NoRepeatabilityError.
    """
    if len(touches) < LEAST_FEEDS:
        raise TooFewReadingsError(
            "Lateness needs touches at {least_feeds} feeds or more, not {count}.",
            least_feeds=LEAST_FEEDS,
            count=len(touches),
        )
    few = [feed for feed, values in touches.items() if len(values) < LEAST_TOUCHES]
    if few:
        raise TooFewReadingsError(
            "At {value:g} mm/min there are too few touches: {least_touches} or more are needed.",
            value=few[0],
            least_touches=LEAST_TOUCHES,
        )
    speeds = [feed / 60.0 for feed in touches]
    middle = math.fsum(speeds) / len(speeds)
    s_xx = math.fsum((v - middle) ** 2 for v in speeds)
    if not s_xx > (1e-6 * max(speeds)) ** 2:
        raise DegenerateGeometryError("The feeds are all alike: touch at feeds that differ.")
    influences = Influences()
    means: list[Uncertain] = []
    spreads: list[float] = []
    slowest, above = min(touches), False
    for feed, values in touches.items():
        known = {"history": history, "history_dof": history_dof} if feed == slowest else {}
        scatter = touch_scatter([values], resolution=resolution, **known)
        above = above or scatter.above_history
        u, dof = scatter.mean_u(len(values))
        if not u > 0.0:
            raise NoRepeatabilityError()
        means.append(influences.add(f"scatter at {feed:g} mm/min", math.fsum(values) / len(values), u, dof))
        spreads.append(scatter.s)
    slope = sum((((v - middle) / s_xx) * mean for v, mean in zip(speeds, means, strict=True)), 0.0)
    level = sum((mean / len(means) for mean in means), 0.0)
    return Lateness(
        influences.estimate(slope * towards),
        influences.estimate(level - slope * middle),
        _jitter(speeds, spreads),
        tuple(
            (feed, influences.estimate(mean - (level + slope * (v - middle))))
            for feed, v, mean in zip(touches, speeds, means, strict=True)
        ),
        above,
    )


def _jitter(speeds: Sequence[float], spreads: Sequence[float]) -> float:
    """The share of the scatter that grows with speed, from the slowest and the fastest: ``s² = s0² + (j v)²``."""
    low, high = min(range(len(speeds)), key=speeds.__getitem__), max(range(len(speeds)), key=speeds.__getitem__)
    more = spreads[high] ** 2 - spreads[low] ** 2
    return math.sqrt(max(0.0, more) / (speeds[high] ** 2 - speeds[low] ** 2))

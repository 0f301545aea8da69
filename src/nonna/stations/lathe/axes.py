"""What the lathe's procedures share: axes as the machine shows them, scatter each axis apart, carried values."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from nonna.errors import NonnaError
from nonna.metrology.doubt.means import enter_means
from nonna.metrology.doubt.scatter import TouchScatter
from nonna.metrology.doubt.uncertain import Influences, Uncertain
from nonna.procedures.evaluation import Quantity
from nonna.procedures.inputs import Setup, asked, require
from nonna.procedures.shown import XShows, real_per_shown, shown_scatter
from nonna.shop.texts.strict_model import NotNegative

Groups = Mapping[str, Sequence[float]]
AIR_MM = 0.5  #: that the stem keeps from the shoulder


@dataclass(frozen=True, slots=True)
class Shown:
    """Means of readings as the machine shows them, by group, and whether they scatter more than history allows."""

    means: Mapping[str, Uncertain]
    above_history: bool

    @property
    def flags(self) -> tuple[str, ...]:
        """What has to be said of the scatter."""
        return ("scatter-above-history",) if self.above_history else ()


class Deep(Setup):
    """Setup of a probe that goes in somewhere."""

    depth_mm: NotNegative = asked(
        "How deep it touches", help="Below the edge of the bore or shoulder; 0 where all is open.", default=0.0
    )
    reach_mm: NotNegative = asked(
        "Reach of the stylus", help="How far the ball stands out of the stem; 0 where nobody said.", default=0.0
    )

    def must_reach(self) -> None:
        """Raises: NonnaError (the stem would touch the shoulder before the ball is where it is wanted)."""
        if self.reach_mm and self.depth_mm > self.reach_mm - AIR_MM:
            words = (
                "The stem would touch the shoulder: the ball stands out {reach:g} mm and is wanted {depth:g} "
                "mm deep. A longer stylus, or touch less deep."
            )
            raise NonnaError("out-of-range", words, "setup.depth_mm", reach=self.reach_mm, depth=self.depth_mm)


def enter_shown(groups: Mapping[str, Groups], shows: XShows, setup: Setup, influences: Influences) -> Shown:
    """Enter the means of groups of readings, their scatter pooled and tested each axis apart.

    Parameters: groups, by axis the readings by name (mm, as shown), none empty. Raises: NoRepeatabilityError.
    """
    means: dict[str, Uncertain] = {}
    above = False
    for axis, own in groups.items():
        touch: TouchScatter = shown_scatter(own, axis, shows, setup)
        above = above or touch.above_history
        means.update(enter_means(own, touch, influences, f"touch repeatability in {axis.upper()}"))
    return Shown(means, above)


def carried_value(setup: Setup, influences: Influences, name: str, source: str) -> Uncertain:
    """Enter a value of the setup that a touched axis needs. Raises: NonnaError ``missing-field``."""
    require(getattr(setup, f"{name}_mm"), f"setup.{name}_mm")
    return setup.enter(influences, name, source)


def plain_or_uncertain(name: str, title: str, number: Uncertain, influences: Influences) -> Quantity:
    """Return a result with its doubt; a number made of nothing uncertain is plain."""
    if not hasattr(number, "u_component"):
        return Quantity(name, title, float(number))
    return Quantity.of(name, title, influences.estimate(number))


def across(
    axis: str, shows: XShows, plus: Uncertain | None, minus: Uncertain | None, centre: Uncertain | None
) -> Uncertain:
    """Return the real distance between two sides touched, or twice that of one side to the centre.

    Raises: ValueError (neither both sides nor one with a centre).
    """
    factor = real_per_shown(axis, shows)
    if plus is not None and minus is not None:
        return factor * (plus - minus)
    if centre is None:
        raise ValueError("one side alone tells nothing without a centre")
    reach = plus - centre if plus is not None else centre - minus
    return 2.0 * factor * reach

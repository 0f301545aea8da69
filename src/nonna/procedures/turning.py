"""What the procedures that touch a turning tool share: the feed a turn, the edges, how late they are therefore
touched.
"""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field

from nonna.errors import NonnaError
from nonna.metrology.doubt.uncertain import Influences, Uncertain
from nonna.metrology.turning import Lateness, lateness, lateness_of_edges
from nonna.procedures.inputs import Setup, asked
from nonna.shop.texts.strict_model import NotNegative

LATE = "which edge is met first"  #: name of the source in a budget
MOST_EDGES = 1000


class TurningSetup(Setup):
    """Setup of a tool that may turn while it is touched."""

    feed_per_rev_mm: NotNegative = asked("Feed a turn", help="0 when the spindle stands still.", default=0.0)
    flutes: Annotated[int, Field(ge=0, le=MOST_EDGES)] = asked(
        "Edges", "", "How many edges pass the sensor; 0: not known, 1: one stands out by the feed or more.", 1
    )
    edges_back_mm: list[NotNegative] = Field(
        [], max_length=MOST_EDGES, title="Edges stand back by",
        description="From its tooth run-out: each edge in turn, the longest 0. Then their number follows from it.",
    )  # fmt: skip

    def lateness(self) -> Lateness:
        """Return how late the touches are. Raises: NonnaError (none of the edges is the longest)."""
        if not self.edges_back_mm:
            return lateness(self.feed_per_rev_mm, self.flutes)
        if min(self.edges_back_mm) > 0.0:
            words = "{place}: the longest edge stands back by 0."
            raise NonnaError("out-of-range", words, "setup.edges_back_mm", place="setup.edges_back_mm")
        return lateness_of_edges(self.feed_per_rev_mm, self.edges_back_mm)


def enter_late(late: Lateness, influences: Influences) -> Uncertain:
    """Enter by how much a touch comes late: one doubt for all touches of the tool, never averaged (JCGM 100 4.3.7)."""
    return influences.add(LATE, late.late, late.half_width / math.sqrt(3.0), shape="rectangular")

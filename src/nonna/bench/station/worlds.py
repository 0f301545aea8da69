"""The stand-in machines of the shops that were opened: what hands change on one lasts as long as the program runs."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from nonna.bench.station.site import Site
    from nonna.standin.world import World

USUAL_PROBE_MM, USUAL_BALL_MM = 121.5, 6.0  #: of a probe that nobody described


class Worlds:
    """Makes each world when it is first wanted."""

    def __init__(self) -> None:
        self._made: dict[tuple[Path, str], World] = {}

    def of(self, site: Site) -> World:
        """Return the world of a station."""
        from nonna.standin.world import World

        place = (site.folder.root, site.machine.name)
        if place not in self._made:
            probe = site.gear.probe(site.machine.name)
            long, ball = (probe.length_mm, probe.ball_mm) if probe else (USUAL_PROBE_MM, USUAL_BALL_MM)
            self._made[place] = World.from_seed(site.shop.standin_seed, long, ball)
        return self._made[place]

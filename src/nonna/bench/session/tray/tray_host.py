"""What the tray needs of the session it belongs to."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

if TYPE_CHECKING:
    from nonna.bench.session.front import Front
    from nonna.bench.session.machine_tables import MachineTables
    from nonna.bench.station.site import Site
    from nonna.bench.station.state import ShopState
    from nonna.standin.world import World


class TrayHost(Protocol):
    """What works with one machine."""

    state: ShopState | None
    tables: MachineTables

    @property
    def front(self) -> Front:
        """What stands in front of it."""

    @property
    def site(self) -> Site | None:
        """The machine shown, with its tools as hands left them; None while loading."""

    @property
    def operator(self) -> str:
        """Who signs."""

    def world(self) -> World:
        """Return the stand-in machine."""

    def look_again(self) -> None:
        """Read it afresh, behind, where something changed."""

"""What the tray needs of the window it stands in."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

if TYPE_CHECKING:
    from nonna.bench.station.site import Site
    from nonna.bench.station.state import ShopState
    from nonna.desk.shop.machine_tables import MachineTables
    from nonna.standin.world import World


class TrayHost(Protocol):
    """A window that shows one machine."""

    state: ShopState | None
    tables: MachineTables

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

"""What open sheets ask of whoever shows them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

if TYPE_CHECKING:
    from nonna.bench.session.front import Front
    from nonna.bench.session.sheet.open_sheet import OpenSheet
    from nonna.bench.station.site import Site
    from nonna.bench.station.state import ShopState
    from nonna.standin.world import World
    from nonna.wording.lengths import Units


class SheetStage(Protocol):
    """A window with places and a shop."""

    @property
    def home(self) -> str:
        """The place that everything begins at."""

    @property
    def state(self) -> ShopState | None:
        """The machine shown at this moment; None while loading."""

    @property
    def site(self) -> Site | None:
        """The machine shown, with its tools as hands left them; None while loading."""

    @property
    def units(self) -> Units:
        """What lengths are shown in."""

    @property
    def operator(self) -> str:
        """Who signs."""

    @property
    def machine_name(self) -> str:
        """The machine shown."""

    def world(self) -> World:
        """Return the stand-in machine."""

    def look_again(self) -> None:
        """Read the shop afresh, behind, where something changed."""

    def tell(self, words: str, tone: str) -> None:
        """Say something that concerns the whole shop."""

    def go(self, place: str) -> None:
        """Show a place."""

    def come_to(self, place: str) -> None:
        """Bring a place up to date, and show it a turn later."""

    def front_of_sheet(self) -> Front:
        """Return what will stand in front of a sheet that is about to be presented."""

    def present(self, sheet: OpenSheet) -> None:
        """Have a page for a sheet, behind what is seen."""

    def bring(self, sheet: OpenSheet, place: str) -> None:
        """Show a sheet, as one that belongs to a place, and give it the keyboard."""

    def put_away(self, sheet: OpenSheet) -> None:
        """Take a sheet from the pages; it may be taken back."""

    def take_back(self, sheet: OpenSheet) -> None:
        """Have a sheet among the pages again."""

    def let_go(self, sheet: OpenSheet) -> None:
        """Show a sheet no more."""

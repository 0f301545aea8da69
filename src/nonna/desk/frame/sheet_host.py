"""What open sheets need of the window they stand in."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

from PySide6.QtWidgets import QWidget

if TYPE_CHECKING:
    from nonna.bench.station.site import Site
    from nonna.bench.station.state import ShopState
    from nonna.desk.frame.settings import DeskSettings
    from nonna.standin.world import World
    from nonna.wording.lengths import Units


class SheetHost(Protocol):
    """A window with places and a shop."""

    state: ShopState | None
    settings: DeskSettings
    units: Units

    @property
    def site(self) -> Site | None:
        """The machine shown, with its tools as hands left them; None while loading."""

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

    def shows(self, page: QWidget) -> bool:
        """Whether a page is what is seen."""

    def add_page(self, page: QWidget) -> None:
        """Take a page among those that can be shown."""

    def remove_page(self, page: QWidget) -> None:
        """Take a page out again."""

    def show_page(self, page: QWidget, place: str) -> None:
        """Show a page that belongs to a place."""

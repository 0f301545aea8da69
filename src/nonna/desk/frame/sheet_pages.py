"""The pages of open sheets: a view is lent to one sheet after another."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from nonna.bench.session.sheet.open_sheet import OpenSheet
    from nonna.desk.frame.front import QtFront
    from nonna.desk.frame.places import Places
    from nonna.desk.pages.sheet.view import SheetView
    from nonna.wording.lengths import Units

MOST_SPARES = 2


class SheetPages:
    """Which view shows which sheet."""

    def __init__(self, places: Places, make: Callable[[], SheetView]) -> None:
        self._places, self._make = places, make
        self._views: dict[OpenSheet, SheetView] = {}
        self._spares: list[SheetView] = []  #: views that show no sheet at present

    def of(self, sheet: OpenSheet | None) -> SheetView | None:
        """Return the view of a sheet, None for none."""
        return self._views.get(sheet) if sheet is not None else None

    @property
    def all(self) -> tuple[SheetView, ...]:
        """The views of all open sheets, and of one that was thrown away."""
        return tuple(self._views.values())

    def present(self, sheet: OpenSheet, front: QtFront) -> SheetView:
        """Have a page for a sheet, behind what is seen; return it."""
        view = self._views[sheet] = self._view()
        view.take(sheet, front)
        return view

    def put_away(self, sheet: OpenSheet) -> None:
        """Take a sheet from the pages."""
        self._places.remove(self._views[sheet])

    def take_back(self, sheet: OpenSheet) -> None:
        """Have a sheet among the pages again."""
        self._places.add(self._views[sheet])

    def let_go(self, sheet: OpenSheet) -> None:
        """Show a sheet no more; its view waits for the next one."""
        view = self._views.pop(sheet)
        view.let_go()
        if len(self._spares) < MOST_SPARES:
            self._spares.append(view)
        else:
            self._places.remove(view)
            view.deleteLater()

    def show_units(self, units: Units) -> None:
        """Change the unit of every sheet."""
        for view in self._views.values():
            view.show_units(units)

    def _view(self) -> SheetView:
        """Return a view that shows no sheet: one that was let go (a new one takes 60 ms more), or a new one."""
        view = self._spares.pop() if self._spares else self._make()
        self._places.add(view)  # one that was thrown away is no longer there
        return view

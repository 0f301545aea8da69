"""Imports what is slow and checks the shop's files, while the first picture already stands."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nonna.shop.folder import ShopFolder

if TYPE_CHECKING:
    from nonna.records.site import Site


def warm_up(folder: ShopFolder, station: str = "") -> Site:
    """Load everything a sheet needs and return the shop, checked whole. Raises: NonnaError."""
    from nonna.procedures.catalogue import procedure
    from nonna.procedures.entry import warm_up as read_units
    from nonna.procedures.listing import PROCEDURES
    from nonna.records.site import Site

    for name in PROCEDURES:
        procedure(name)
    read_units()
    return Site.load(folder, station)
